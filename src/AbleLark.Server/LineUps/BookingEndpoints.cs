using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.History;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <param name="From">Where it was booked before, in the workspace's zone; null: it had no place there.</param>
/// <param name="To">Null: no place is left, so it goes to the front of its line.</param>
/// <param name="Warnings">What speaks against it; it goes there all the same.</param>
public sealed record BookingMoveView(
    Id<Post> PostId,
    string Title,
    Id<Channel> ChannelId,
    LocalDateTime? From,
    LocalDateTime? To,
    IReadOnlyList<string> Warnings
);

public sealed record NoBookingView(Id<Channel> ChannelId, string Why);

/// <summary>A scheduled place that comes sooner; see <see cref="BookingEndpoints"/> for taking it.</summary>
/// <param name="Title">The post that has it now.</param>
public sealed record ScheduledPlaceView(Id<Delivery> DeliveryId, string Title, Id<Channel> ChannelId, LocalDateTime At)
{
    public static ScheduledPlaceView Of(LineUpDelivery delivery, LineUpInput input) =>
        new(
            delivery.Id,
            input.Bank.FirstOrDefault(p => p.Id == delivery.PostId)?.Title ?? "a post taken out of the bank",
            delivery.ChannelId,
            delivery.At.InZone(input.Zone).LocalDateTime
        );
}

/// <summary>What booking would do.</summary>
/// <param name="PlanStamp">Give it back when booking: refused when the plan has changed since.</param>
/// <param name="Without">Channels on which the post gets no place.</param>
/// <param name="Sooner">Scheduled places that come before those it would get.</param>
public sealed record BookingView(
    long PlanStamp,
    IReadOnlyList<BookingMoveView> Moves,
    IReadOnlyList<NoBookingView> Without,
    IReadOnlyList<ScheduledPlaceView> Sooner
);

public sealed record BookingRequest(BookingKind Kind, long PlanStamp);

/// <param name="PostId">The post that gets the place.</param>
public sealed record TakeRequest(Id<Post> PostId);

/// <summary>Giving a post a place of the rota instead of waiting for its turn: shown first, done and undone as a whole.</summary>
public static class BookingEndpoints
{
    public static void MapBooking(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/posts/{id}/booking", ShowAsync).Needs(Right.View);
        workspace.MapPost("/posts/{id}/booking", BookAsync).Needs(Right.Schedule);
        workspace.MapPost("/deliveries/{id}/take", TakeAsync).Needs(Right.Schedule);
    }

    private static async Task<BookingView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        QueryWord<BookingKind> kind,
        BusinessClock clock,
        LineUpCache cache,
        CancellationToken cancellation
    )
    {
        (Workspace workspace, SharedLineUp lineUp) = await cache.GetAsync(workspaceId, cancellation);
        // What is still being written is shown its place as if it were ready.
        LineUpInput input = lineUp.Input with
        {
            Bank = [.. lineUp.Input.Bank.Select(p => p.Id == id ? p with { Stage = Stage.Ready } : p)],
        };
        BookingPlan plan = Plan(input, id, kind.Value, await clock.NowAsync(cancellation));
        Dictionary<Id<Post>, string> titles = input.Bank.ToDictionary(p => p.Id, p => p.Title);
        return new(
            workspace.PlanStamp,
            [
                .. plan.Moves.Select(m => new BookingMoveView(
                    m.PostId,
                    titles[m.PostId],
                    m.ChannelId,
                    Local(m.From),
                    Local(m.To),
                    Warnings(m)
                )),
            ],
            [
                .. plan.Without.Select(w => new NoBookingView(
                    w.ChannelId,
                    w.ExcludedBy is { } rule
                        ? $"It can't go there: {ReasonWords.Why(rule)}."
                        : $"No place for it comes in {Booking.Weeks} weeks."
                )),
            ],
            [.. plan.Sooner.Select(d => ScheduledPlaceView.Of(d, input))]
        );

        List<string> Warnings(BookingMove move) =>
            move.PostId == id ? [.. plan.Warnings.Where(w => w.ChannelId == move.ChannelId).Select(ReasonWords.Of)] : [];

        LocalDateTime? Local(BookedPlace? place) => place?.At.InZone(workspace.Zone).LocalDateTime;
    }

    private static async Task<ActDone> BookAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        BookingRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        LineUpReader reader,
        CancellationToken cancellation
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        // Scheduling waits meanwhile: a place must not be scheduled while it is booked.
        Workspace workspace = await db.LockWorkspaceAsync(workspaceId, cancellation);
        if (request.PlanStamp != workspace.PlanStamp)
            throw ProblemException.Outdated(
                "The plan has changed since these places were found. Look at them once more; nothing was booked."
            );
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        BookingPlan plan = Plan(input, id, request.Kind, now);
        if (plan.Moves.Count == 0)
            throw ProblemException.Conflict("There is no place for this post on any of its channels. Set date and time instead.");
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Booked “{input.Bank.Single(p => p.Id == id).Title}”");
        foreach ((Origin origin, Id<Channel> channel) in plan.Left)
        {
            Decision left = await db.OpenDecisionAsync(workspaceId, origin, cancellation);
            left.Posts = [.. left.Posts.Where(p => p.ChannelId != channel || p.PostId != id || p.IsPicked)];
        }
        foreach (BookingMove move in plan.Moves)
        {
            if (move.To is { } to)
            {
                Decision decision = await db.OpenDecisionAsync(workspaceId, to.Origin, cancellation);
                decision.Posts =
                [
                    .. decision.Posts.Where(p => p.ChannelId != move.ChannelId),
                    new(move.ChannelId, move.PostId, IsPicked: false),
                ];
            }
            else
            {
                await db.MoveInLinesAsync(workspaceId, move.PostId, [move.ChannelId], Side.Front, now, cancellation);
            }
        }
        foreach (Decision empty in db.Decisions.Local.Where(d => d.IsEmpty).ToList())
            db.Decisions.Remove(empty);
        await db.SaveChangesAsync(cancellation);
        await transaction.CommitAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Gives a scheduled place to another post; the one that had it goes to the front of its line, its substitute is let
    /// go.</summary>
    private static async Task<ActDone> TakeAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        TakeRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Delivery delivery =
            await db.Deliveries.FindAsync([workspaceId, id], cancellation) ?? throw ProblemException.NotFound("This delivery");
        Post post = await PostEndpoints.FindAsync(workspaceId, request.PostId, db, cancellation);
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspaceId && c.Id == delivery.ChannelId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        if (!delivery.MayBeTaken(now))
            throw ProblemException.Conflict("This place can't be taken any more: it isn't a scheduled place to come.");
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready first.");
        if (post.FitOn(channel) is not { Fits: true })
            throw ProblemException.Conflict(
                $"“{post.Title}” can't go to {channel.Name}: " + $"{post.FitOn(channel)?.Block?.Words ?? "it was never checked for it"}"
            );
        if (delivery.PostId == post.Id)
            throw ProblemException.Conflict("The post has this place already.");
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"Gave a scheduled place to “{post.Title}”");
        await db.MoveInLinesAsync(workspaceId, delivery.PostId, [delivery.ChannelId], Side.Front, now, cancellation);
        foreach (
            Delivery substitute in await db
                .Deliveries.Where(d =>
                    d.WorkspaceId == workspaceId
                    && d.OriginKind == OriginKind.Place
                    && d.OriginId == delivery.OriginId
                    && d.OriginDate == delivery.OriginDate
                    && d.ChannelId == delivery.ChannelId
                    && d.State == DeliveryState.Substitute
                )
                .ToListAsync(cancellation)
        )
            substitute.Become(DeliveryState.Cancelled);
        delivery.GiveTo(post, channel, "Took this scheduled place.");
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static BookingPlan Plan(LineUpInput input, Id<Post> id, BookingKind kind, Instant now)
    {
        LineUpPost post = input.Bank.FirstOrDefault(p => p.Id == id) ?? throw ProblemException.NotFound("This post");
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready, then give it a place.");
        return new Booking(input, now).Plan(post, kind);
    }
}
