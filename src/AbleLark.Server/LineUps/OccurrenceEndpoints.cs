using System.Globalization;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Server.Categories;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What a person decides about one occurrence; all of it at once, as it shall be.</summary>
/// <param name="MovedTo">Local date and time in the rota's zone; null: it stays where its slot puts it.</param>
/// <param name="Posts">Posts given to its channels; channels that aren't named are filled by rotation.</param>
public sealed record OccurrenceEdit(bool IsSkipped = false, LocalDateTime? MovedTo = null, string? Note = null, IReadOnlyList<GivenPost>? Posts = null);

/// <param name="Why">What keeps it out; null: it can go.</param>
public sealed record CandidateView(Id<Post> PostId, string Title, bool CanGo, string? Why);

/// <param name="Side">Null: back into the order.</param>
public sealed record LineMoveRequest(Id<Post> PostId, IReadOnlyList<Id<Channel>> Channels, Side? Side);

/// <summary>Two occurrences that exchange what they would send.</summary>
public sealed record SwapRequest(Id<Slot> OneSlot, LocalDate OneDate, Id<Slot> OtherSlot, LocalDate OtherDate);

/// <summary>Decisions about single occurrences, and about a post's place in its lines.</summary>
public static class OccurrenceEndpoints
{
    private const int LongestNote = 500;

    public static void MapOccurrences(this RouteGroupBuilder workspace)
    {
        workspace.MapPut("/line-up/occurrences/{slotId}/{date}", DecideAsync);
        workspace.MapGet("/line-up/occurrences/{slotId}/{date}/candidates", CandidatesAsync);
        workspace.MapPost("/line-up/swap", SwapAsync);
        workspace.MapPost("/line-up/moves", MoveAsync);
    }

    private static async Task<ActDone> DecideAsync(
        Id<Workspace> workspaceId, Id<Slot> slotId, QueryDate date, OccurrenceEdit edit, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        (Rota rota, Slot slot) = await FindAsync(workspaceId, slotId, date.Value, db, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        if (edit.Note?.Length > LongestNote) throw ProblemException.BadInput($"The note has {edit.Note.Length} characters; {LongestNote} is the most.");
        if (edit.MovedTo is { } to && !(Occurrences.InstantOf(to.Date, to.TimeOfDay, rota.Zone) > now)) throw ProblemException.BadInput("That time has passed. Choose one to come.");
        List<GivenPost> given = [.. (edit.Posts ?? []).DistinctBy(p => p.ChannelId)];
        if (given.Any(g => !slot.Channels.Contains(g.ChannelId))) throw ProblemException.BadInput("One of the channels isn't in this slot.");
        List<Id<Post>> ids = [.. given.Select(g => g.PostId).Distinct()];
        if (await db.Posts.CountAsync(p => p.WorkspaceId == workspaceId && ids.Contains(p.Id) && p.RemovedAt == null, cancellation) < ids.Count) throw ProblemException.BadInput("One of the posts isn't in the bank. Choose another.");
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, $"{Words(edit)} {date.Value.ToString("ddd d MMM", CultureInfo.InvariantCulture)} {slot.Time:HH:mm}");
        Decision decision = await OpenAsync(workspaceId, slotId, date.Value, db, cancellation);
        (decision.IsSkipped, decision.MovedTo, decision.Note, decision.Posts) = (edit.IsSkipped, edit.MovedTo, string.IsNullOrWhiteSpace(edit.Note) ? null : edit.Note.Trim(), given);
        if (decision.IsEmpty) db.Decisions.Remove(decision);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<List<CandidateView>> CandidatesAsync(
        Id<Workspace> workspaceId, Id<Slot> slotId, QueryDate date, LarkDb db, BusinessClock clock, LineUpReader reader, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        LineUpInput input = await reader.ReadAsync(workspace, cancellation);
        var ranked = LineUp.CandidatesFor(input, await clock.NowAsync(cancellation), new(slotId, date.Value)) ?? throw ProblemException.NotFound("This occurrence");
        return [.. ranked.Select(c => new CandidateView(c.Post.Id, c.Post.Title, c.Struck is null, c.Struck is { } rule ? ReasonWords.Why(rule) : null))];
    }

    /// <summary>Each takes what the other would send, on the channels that both have; both are fixed so.</summary>
    private static async Task<ActDone> SwapAsync(
        Id<Workspace> workspaceId, SwapRequest request, HttpContext http, LarkDb db, BusinessClock clock, LineUpReader reader, CancellationToken cancellation)
    {
        await FindAsync(workspaceId, request.OneSlot, request.OneDate, db, cancellation);
        await FindAsync(workspaceId, request.OtherSlot, request.OtherDate, db, cancellation);
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        LocalDate last = LocalDate.Max(request.OneDate, request.OtherDate).PlusDays(8);
        IReadOnlyList<Place> places = LineUp.Project(await reader.ReadAsync(workspace, cancellation), now, workspace.StartOf(last));
        Place one = places.FirstOrDefault(p => p.Occurrence.Key == new OccurrenceKey(request.OneSlot, request.OneDate)) ?? throw ProblemException.NotFound("This occurrence");
        Place other = places.FirstOrDefault(p => p.Occurrence.Key == new OccurrenceKey(request.OtherSlot, request.OtherDate)) ?? throw ProblemException.NotFound("The other occurrence");
        if (one.IsSettled || other.IsSettled) throw ProblemException.Conflict("One of the two is settled already: move its delivery instead.");
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, "Swapped two places of the line-up");
        foreach ((Place to, Place from) in new[] { (one, other), (other, one) })
        {
            Decision decision = await OpenAsync(workspaceId, to.Occurrence.Key.SlotId, to.Occurrence.Key.Date, db, cancellation);
            decision.Posts = [.. to.Picks.Select(p => from.Picks.FirstOrDefault(f => f.ChannelId == p.ChannelId && f.PostId is not null)?.PostId is { } post ? new GivenPost(p.ChannelId, post, true) : null).OfType<GivenPost>()];
            if (decision.IsEmpty) db.Decisions.Remove(decision);
        }
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    /// <summary>Moves a post to the front or the back of its lines on some channels.</summary>
    private static async Task<ActDone> MoveAsync(Id<Workspace> workspaceId, LineMoveRequest request, HttpContext http, LarkDb db, BusinessClock clock, CancellationToken cancellation)
    {
        Post post = await db.Posts.SingleOrDefaultAsync(p => p.WorkspaceId == workspaceId && p.Id == request.PostId && p.RemovedAt == null, cancellation) ?? throw ProblemException.NotFound("This post");
        List<Id<Channel>> channels = await db.KnownChannelsAsync(workspaceId, request.Channels, cancellation);
        if (channels.Count == 0) throw ProblemException.BadInput("Say on which channels the post is moved.");
        Instant now = await clock.NowAsync(cancellation);
        ChangeSet act = db.BeginAct(workspaceId, http.PersonId(), now, request.Side is { } s ? $"Moved “{post.Title}” to the {s.ToString().ToLowerInvariant()}" : $"Put “{post.Title}” back into the order");
        db.LineMoves.RemoveRange(await db.LineMoves.Where(m => m.WorkspaceId == workspaceId && m.PostId == post.Id && channels.Contains(m.ChannelId)).ToListAsync(cancellation));
        if (request.Side is { } side)
            db.LineMoves.AddRange(channels.Select(c => new LineMove { WorkspaceId = workspaceId, Id = Id<LineMove>.New(), PostId = post.Id, ChannelId = c, Side = side, At = now }));
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task<(Rota Rota, Slot Slot)> FindAsync(Id<Workspace> workspace, Id<Slot> id, LocalDate date, LarkDb db, CancellationToken cancellation)
    {
        Slot slot = await db.Slots.AsNoTracking().SingleOrDefaultAsync(s => s.WorkspaceId == workspace && s.Id == id && s.RemovedAt == null, cancellation) ?? throw ProblemException.NotFound("This slot");
        Rota rota = await db.Rotas.AsNoTracking().SingleAsync(r => r.WorkspaceId == workspace && r.Id == slot.RotaId, cancellation);
        if (Occurrences.Of(rota, slot, date, null) is null) throw ProblemException.NotFound("This occurrence");
        if (await db.Deliveries.AnyAsync(d => d.WorkspaceId == workspace && d.SlotId == id && d.SlotDate == date, cancellation)) throw ProblemException.Conflict("This occurrence is settled: change its deliveries instead.");
        return (rota, slot);
    }

    private static async Task<Decision> OpenAsync(Id<Workspace> workspace, Id<Slot> slot, LocalDate date, LarkDb db, CancellationToken cancellation)
    {
        Decision? decision = await db.Decisions.SingleOrDefaultAsync(d => d.WorkspaceId == workspace && d.SlotId == slot && d.Date == date, cancellation);
        if (decision is null) db.Decisions.Add(decision = new() { WorkspaceId = workspace, Id = Id<Decision>.New(), SlotId = slot, Date = date });
        return decision;
    }

    private static string Words(OccurrenceEdit edit) => edit.IsSkipped ? "Skipped" : edit.MovedTo is not null ? "Moved" : edit.Posts is { Count: > 0 } ? "Fixed" : "Freed";
}
