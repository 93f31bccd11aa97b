using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Bookings;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Changes;
using AbleLark.Server.LineUps;
using AbleLark.Server.Planning;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using NodaTime;

namespace AbleLark.Server.Places;

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
/// <param name="Revision">Give it back in If-Match when you take it.</param>
/// <param name="Title">The post that has it now.</param>
public sealed record ScheduledPlaceView(Id<Delivery> DeliveryId, int Revision, string Title, Id<Channel> ChannelId, LocalDateTime At)
{
    public static ScheduledPlaceView Of(LineUpDelivery delivery, LineUpInput input) =>
        new(
            delivery.Id,
            delivery.Revision,
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

/// <param name="PlanStamp">Of what was shown.</param>
/// <param name="Shown">The moves that were shown: booked as long as they are the same, whatever else of the plan has changed since. Null:
/// only while nothing of the plan has.</param>
public sealed record BookingRequest(BookingKind Kind, long PlanStamp, IReadOnlyList<ShownMove>? Shown = null);

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
            move.PostId == id ? [.. plan.Warnings.Where(w => w.ChannelId == move.ChannelId).Select(BookingWords.Of)] : [];

        LocalDateTime? Local(BookedPlace? place) => place?.At.InZone(workspace.Zone).LocalDateTime;
    }

    private static async Task<ActDone> BookAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        BookingRequest request,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (workspace, _) =>
            {
                if (request.Shown is null && request.PlanStamp != workspace.PlanStamp)
                    throw ProblemException.Outdated(
                        "The plan has changed since these places were found. Look at them once more; nothing was booked."
                    );
                Post post = await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
                return new(new PlanAct.Book(post.Id, request.Kind, request.Shown), new(ActCode.PostBooked, post.Title));
            },
            cancellation
        );
        return new(act);
    }

    /// <summary>Gives a scheduled place to another post; the one that had it goes to the front of its line, its substitute is let
    /// go.</summary>
    private static async Task<ActDone> TakeAsync(
        Id<Workspace> workspaceId,
        Id<Delivery> id,
        TakeRequest request,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        PlanActScope acts,
        CancellationToken cancellation
    )
    {
        (_, Guid act) = await acts.DoAsync(
            workspaceId,
            http,
            async (_, _) =>
            {
                Delivery delivery = await db.DeliveryToActAsync(workspaceId, id, ifMatch, cancellation);
                Post post = await PostEndpoints.FindAsync(workspaceId, request.PostId, db, cancellation);
                return new(new PlanAct.Take(delivery, post.Id), new(ActCode.PlaceGiven, post.Title));
            },
            cancellation
        );
        return new(act);
    }

    private static BookingPlan Plan(LineUpInput input, Id<Post> id, BookingKind kind, Instant now)
    {
        LineUpPost post = input.Bank.FirstOrDefault(p => p.Id == id) ?? throw ProblemException.NotFound("This post");
        if (post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
            throw ProblemException.Conflict($"“{post.Title}” is not ready. Mark it as ready, then give it a place.");
        return new Booking(input, now).Plan(post, kind);
    }
}
