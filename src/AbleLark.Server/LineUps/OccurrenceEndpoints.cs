using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.History;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What a person decides about one occurrence; what isn't named stays as it is.</summary>
/// <param name="IsFreed">True: back to the rotation first, with only its note kept.</param>
/// <param name="MovedTo">Local date and time in the rota's zone. What its channels would send is fixed to it.</param>
/// <param name="Note">Empty takes it away.</param>
/// <param name="Picks">Posts that these channels shall send; nothing but a person changes them.</param>
public sealed record OccurrenceEdit(
    bool IsFreed = false,
    bool? IsSkipped = null,
    LocalDateTime? MovedTo = null,
    [MostCharacters(500, "The note")] string? Note = null,
    IReadOnlyList<PickedPost>? Picks = null
);

public sealed record PickedPost(Id<Channel> ChannelId, Id<Post> PostId);

/// <param name="Why">What keeps it out; null: it can go.</param>
public sealed record CandidateView(Id<Post> PostId, string Title, bool CanGo, string? Why);

/// <param name="Side">Null: back into the order.</param>
public sealed record LineMoveRequest(Id<Post> PostId, IReadOnlyList<Id<Channel>> Channels, Side? Side);

/// <summary>Two occurrences that exchange what they would send.</summary>
public sealed record SwapRequest(ChosenPlace One, ChosenPlace Other);

/// <summary>What was decided about one occurrence.</summary>
/// <param name="Revision">Give it back in If-Match when you decide. Nought: nothing was decided.</param>
public sealed record OccurrenceView(int Revision, bool IsSkipped, LocalDateTime? MovedTo, string? Note);

/// <summary>Decisions about single occurrences, and about a post's place in its lines.</summary>
public static class OccurrenceEndpoints
{
    public static void MapOccurrences(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/line-up/occurrences/{slotId}/{date}", ShowAsync).Needs(Right.Schedule);
        workspace.MapPatch("/line-up/occurrences/{slotId}/{date}", DecideAsync).Needs(Right.Schedule).InTurn();
        workspace.MapGet("/line-up/occurrences/{slotId}/{date}/candidates", CandidatesAsync).Needs(Right.Schedule);
        workspace.MapPost("/line-up/swap", SwapAsync).Needs(Right.Schedule).InTurn();
        workspace.MapPost("/line-up/moves", MoveAsync).Needs(Right.Schedule);
    }

    private static async Task<OccurrenceView> ShowAsync(
        Id<Workspace> workspaceId,
        Id<Slot> slotId,
        QueryDate date,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        await FindAsync(workspaceId, slotId, date.Value, db, cancellation);
        Decision? decision = await db.DecisionAsync(workspaceId, Origin.Place(slotId, date.Value), cancellation);
        return new(decision?.Revision ?? 0, decision?.IsSkipped == true, decision?.MovedTo, decision?.Note);
    }

    /// <param name="ifMatch">The revision that the person looked at.</param>
    private static async Task<ActDone> DecideAsync(
        Id<Workspace> workspaceId,
        Id<Slot> slotId,
        QueryDate date,
        OccurrenceEdit edit,
        [FromHeader(Name = "If-Match")] string? ifMatch,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        LineUpReader reader,
        CancellationToken cancellation
    )
    {
        (Rota rota, Slot slot) = await FindAsync(workspaceId, slotId, date.Value, db, cancellation);
        Origin origin = Origin.Place(slotId, date.Value);
        Instant now = await clock.NowAsync(cancellation);
        if (edit.MovedTo is { } to && !(Occurrences.InstantOf(to.Date, to.TimeOfDay, rota.Zone) > now))
            throw ProblemException.BadInput("That time has passed. Choose one to come.");
        IReadOnlyList<PickedPost> picks = edit.Picks ?? [];
        if (picks.Any(f => !slot.Channels.Contains(f.ChannelId)))
            throw ProblemException.BadInput("One of the channels isn't in this slot.");
        if (picks.DistinctBy(f => f.ChannelId).Count() < picks.Count)
            throw ProblemException.BadInput("A channel is named twice. Name one post for each.");
        List<Id<Post>> ids = [.. picks.Select(f => f.PostId).Distinct()];
        if (
            await db.Posts.CountAsync(p => p.WorkspaceId == workspaceId && ids.Contains(p.Id) && p.RemovedAt == null, cancellation)
            < ids.Count
        )
            throw ProblemException.BadInput("One of the posts isn't in the bank. Choose another.");
        ChangeSet act = db.BeginAct(
            workspaceId,
            http.PersonId(),
            now,
            $"{Words(edit)} {date.Value.ToString("ddd d MMM", CultureInfo.InvariantCulture)} {slot.Time:HH:mm}"
        );
        Decision decision = await db.OpenDecisionAsync(workspaceId, origin, cancellation);
        if (!int.TryParse(ifMatch?.Trim('"'), out int revision))
            throw ProblemException.BadInput("Say in If-Match which revision of the place you looked at; nought, where nothing is decided.");
        if (revision != decision.Revision)
            throw ProblemException.Outdated("Somebody else decided about this place since you looked. Look again, then decide.");
        if (edit.IsFreed)
            (decision.IsSkipped, decision.MovedTo, decision.Posts) = (false, null, []);
        decision.Pick(picks.Select(f => (f.ChannelId, f.PostId)));
        if (edit.IsSkipped is { } skipped)
            decision.IsSkipped = skipped;
        if (edit.Note is { } note)
            decision.Note = string.IsNullOrWhiteSpace(note) ? null : note.Trim();
        if (edit.MovedTo is { } moved)
        {
            if (await PlaceAsync(workspaceId, origin, now, reader, db, cancellation) is { } place)
                decision.PickAsProjected(place);
            decision.MovedTo = moved;
        }
        if (decision.IsEmpty)
            db.Decisions.Remove(decision);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>An occurrence as the line-up would fill it; null when its time has passed.</summary>
    private static async Task<LineUpPlace?> PlaceAsync(
        Id<Workspace> workspaceId,
        Origin origin,
        Instant now,
        LineUpReader reader,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        return LineUp.PlaceOf(input, now, origin);
    }

    private static async Task<List<CandidateView>> CandidatesAsync(
        Id<Workspace> workspaceId,
        Id<Slot> slotId,
        QueryDate date,
        LarkDb db,
        BusinessClock clock,
        LineUpReader reader,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        var ranked =
            LineUp.CandidatesFor(input, await clock.NowAsync(cancellation), Origin.Place(slotId, date.Value))
            ?? throw ProblemException.NotFound("This occurrence");
        return
        [
            .. ranked.Select(c => new CandidateView(
                c.Post.Id,
                c.Post.Title,
                c.ExcludedBy is null,
                c.ExcludedBy is { } rule ? ReasonWords.Why(rule) : null
            )),
        ];
    }

    /// <summary>Each takes what the other would send, on the channels that both have; both are fixed so.</summary>
    private static async Task<ActDone> SwapAsync(
        Id<Workspace> workspaceId,
        SwapRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        LineUpReader reader,
        CancellationToken cancellation
    )
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        LineUpPlace one = await PlaceOfAsync(request.One);
        LineUpPlace other = await PlaceOfAsync(request.Other);
        if (one.IsScheduled || other.IsScheduled)
            throw ProblemException.Conflict("One of the two is scheduled already: move its delivery instead.");
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, "Swapped two places of the line-up");
        foreach ((LineUpPlace to, LineUpPlace from) in new[] { (one, other), (other, one) })
        {
            Decision decision = await db.OpenDecisionAsync(workspaceId, to.Occurrence.Origin, cancellation);
            decision.Pick(
                from.Picks.Where(f => f.PostId is not null && to.Occurrence.Slot.Channels.Contains(f.ChannelId))
                    .Select(f => (f.ChannelId, f.PostId!.Value))
            );
            if (decision.IsEmpty)
                db.Decisions.Remove(decision);
        }
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);

        async Task<LineUpPlace> PlaceOfAsync(ChosenPlace chosen)
        {
            await FindAsync(workspaceId, chosen.SlotId, chosen.Date, db, cancellation);
            LineUpPlace place =
                LineUp.PlaceOf(input, now, Origin.Place(chosen.SlotId, chosen.Date)) ?? throw ProblemException.NotFound("This occurrence");
            return chosen.IsAsSeen(place.Occurrence)
                ? place
                : throw ProblemException.Outdated(
                    "Somebody else decided about one of the two since you looked. Look again, then swap them."
                );
        }
    }

    /// <summary>Moves a post to the front or the back of its lines on some channels.</summary>
    private static async Task<ActDone> MoveAsync(
        Id<Workspace> workspaceId,
        LineMoveRequest request,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Post post =
            await db.Posts.SingleOrDefaultAsync(
                p => p.WorkspaceId == workspaceId && p.Id == request.PostId && p.RemovedAt == null,
                cancellation
            ) ?? throw ProblemException.NotFound("This post");
        List<Id<Channel>> channels = await db.KnownChannelsAsync(workspaceId, request.Channels, cancellation);
        if (channels.Count == 0)
            throw ProblemException.BadInput("Say on which channels the post is moved.");
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(
            workspaceId,
            http.PersonId(),
            now,
            request.Side is { } s
                ? $"Moved “{post.Title}” to the {s.ToString().ToLowerInvariant()}"
                : $"Put “{post.Title}” back into the order"
        );
        await db.MoveInLinesAsync(workspaceId, post.Id, channels, request.Side, now, cancellation);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<(Rota Rota, Slot Slot)> FindAsync(
        Id<Workspace> workspace,
        Id<Slot> id,
        LocalDate date,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        Slot slot =
            await db
                .Slots.AsNoTracking()
                .SingleOrDefaultAsync(s => s.WorkspaceId == workspace && s.Id == id && s.RemovedAt == null, cancellation)
            ?? throw ProblemException.NotFound("This slot");
        Rota rota = await db.Rotas.AsNoTracking().SingleAsync(r => r.WorkspaceId == workspace && r.Id == slot.RotaId, cancellation);
        if (Occurrences.Of(rota, slot, date, null) is null)
            throw ProblemException.NotFound("This occurrence");
        if (
            await db.Deliveries.AnyAsync(
                d => d.WorkspaceId == workspace && d.OriginKind == OriginKind.Place && d.OriginId == id.Value && d.OriginDate == date,
                cancellation
            )
        )
            throw ProblemException.Conflict("This occurrence is scheduled: change its deliveries instead.");
        return (rota, slot);
    }

    private static string Words(OccurrenceEdit edit) =>
        edit.IsFreed ? "Freed"
        : edit.IsSkipped == true ? "Skipped"
        : edit.MovedTo is not null ? "Moved"
        : edit.Picks is { Count: > 0 } ? "Fixed"
        : edit.Note is not null ? "Wrote a note on"
        : "Changed";
}
