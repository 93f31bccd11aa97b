using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.Posts;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What is done with several deliveries and places at once. What can't be done with one of them is said, and the rest is done;
/// the caller saves.</summary>
public sealed class PlanActs(LarkDb db, LineUpReader reader, PlanWriter writer)
{
    private Dictionary<Id<Post>, Post> _posts = [];
    private Workspace _workspace = null!;
    private Instant _now;
    private PlanActNotes _notes = null!;

    public IReadOnlyList<string> LeftOut => _notes.LeftOut;

    /// <summary>What is otherwise than one might think, though it was done.</summary>
    public IReadOnlyList<string> Remarks => _notes.Remarks;

    /// <returns>How many deliveries and places it was done with.</returns>
    public async Task<int> DoAsync(Workspace workspace, PlanActRequest request, Instant now, CancellationToken cancellation)
    {
        (_workspace, _now) = (workspace, now);
        _notes = new(workspace, await db.Channels.Where(c => c.WorkspaceId == workspace.Id).ToDictionaryAsync(c => c.Id, cancellation));
        List<Delivery> deliveries = await DeliveriesAsync(request, cancellation);
        List<LineUpPlace> places = await PlacesAsync(request, cancellation);
        List<Id<Post>> ids =
        [
            .. deliveries.Select(d => d.PostId).Concat(places.SelectMany(p => p.Picks).Select(p => p.PostId).OfType<Id<Post>>()).Distinct(),
        ];
        _posts = await db.Posts.Where(p => p.WorkspaceId == workspace.Id && ids.Contains(p.Id)).ToDictionaryAsync(p => p.Id, cancellation);
        return request.Act switch
        {
            ManyAct.Shift => await DoAsync(
                new PlanAct.Move([.. deliveries.Select(d => new MoveWish(d, request.From(d.Time.Local)))]),
                cancellation
            ) + await ShiftAsync(places, request, cancellation),
            ManyAct.Copy => await CopyAsync(deliveries, places, request, cancellation),
            ManyAct.Cancel => await DoAsync(new PlanAct.Cancel(deliveries), cancellation) + await SkipAsync(places, cancellation),
            ManyAct.AskForApproval => await AskAsync(cancellation),
            var other => throw new ArgumentOutOfRangeException(nameof(request), other, "An act that nobody wrote."),
        };
    }

    private async Task<List<Delivery>> DeliveriesAsync(PlanActRequest request, CancellationToken cancellation)
    {
        Dictionary<Id<Delivery>, int> wanted = request.Deliveries.GroupBy(t => t.Id).ToDictionary(g => g.Key, g => g.First().Revision);
        List<Id<Delivery>> ids = [.. wanted.Keys];
        List<Delivery> found = await db
            .Deliveries.Where(d => d.WorkspaceId == _workspace.Id && ids.Contains(d.Id))
            .OrderBy(d => d.At)
            .ToListAsync(cancellation);
        if (found.Count < ids.Count)
            throw ProblemException.NotFound("One of these deliveries");
        foreach (Delivery d in found.Where(d => wanted[d.Id] != d.Revision))
            _notes.LeaveOut($"{_notes.Where(d)}: somebody else changed it since you looked; it is {PlanWords.Of(d.State)} now.");
        return [.. found.Where(d => wanted[d.Id] == d.Revision)];
    }

    /// <summary>The occurrences as the line-up would fill them now.</summary>
    private async Task<List<LineUpPlace>> PlacesAsync(PlanActRequest request, CancellationToken cancellation)
    {
        if (request.Places.Count == 0)
            return [];
        LineUpInput input = await reader.ReadAsync(_workspace, cancellation);
        // A moved occurrence may stand elsewhere than its date says: so far as anything can be looked up.
        LocalDate last = request.Places.Max(p => p.Date).PlusDays(WorkspaceLimits.LineUpDays);
        Dictionary<Origin, ChosenPlace> wanted = request
            .Places.GroupBy(p => Origin.Place(p.SlotId, p.Date))
            .ToDictionary(g => g.Key, g => g.First());
        List<LineUpPlace> found =
        [
            .. LineUp.Project(input, _now, _workspace.StartOf(last)).Where(p => wanted.ContainsKey(p.Occurrence.Origin)),
        ];
        foreach (LineUpPlace place in found.Where(p => p.IsScheduled))
            _notes.LeaveOut($"{_notes.Where(place)}: it is scheduled already, so choose its deliveries.");
        foreach (LineUpPlace place in found.Where(p => !p.IsScheduled && !IsAsSeen(p)))
            _notes.LeaveOut($"{_notes.Where(place)}: somebody else decided about it since you looked.");
        int gone = wanted.Count - found.Count;
        if (gone > 0)
            _notes.LeaveOut(
                gone == 1 ? "One place has passed, or is no longer there." : $"{gone} places have passed, or are no longer there."
            );
        return [.. found.Where(p => !p.IsScheduled && IsAsSeen(p))];

        bool IsAsSeen(LineUpPlace place) => wanted[place.Occurrence.Origin].IsAsSeen(place.Occurrence);
    }

    private async Task<int> DoAsync(PlanAct act, CancellationToken cancellation)
    {
        PlanChange change = await writer.DoAsync(_workspace, act, _now, cancellation);
        _notes.Take(change, _posts);
        return change.Done;
    }

    /// <summary>A place that may still change moves as an occurrence, on all its channels, and their posts are picked for it.</summary>
    private async Task<int> ShiftAsync(List<LineUpPlace> places, PlanActRequest request, CancellationToken cancellation)
    {
        int done = 0;
        foreach (LineUpPlace place in places)
        {
            if (!May(place, EntryAct.MoveThisOne))
                continue;
            LocalDateTime local = place.Occurrence.At.InZone(place.Occurrence.Rota.Zone).LocalDateTime;
            LocalDateTime to = request.From(local);
            if (Occurrences.InstantOf(to.Date, to.TimeOfDay, place.Occurrence.Rota.Zone) is not { } at || at <= _now)
            {
                _notes.LeaveOut($"{_notes.Where(place)}: {to.InWords()} has passed.");
                continue;
            }
            Decision decision = await db.OpenDecisionAsync(_workspace.Id, place.Occurrence.Origin, cancellation);
            decision.PickAsProjected(place);
            decision.MovedTo = to;
            done++;
        }
        return done;
    }

    /// <summary>Each post once more, at an exact time.</summary>
    private Task<int> CopyAsync(List<Delivery> deliveries, List<LineUpPlace> places, PlanActRequest request, CancellationToken cancellation)
    {
        IEnumerable<CopyWish> wishes =
        [
            .. deliveries.Select(d => Wish(d.PostId, d.ChannelId, d.Wording, d.Time.Local)),
            .. from place in places
            from pick in place.Picks
            where pick.PostId is not null
            select Wish(pick.PostId!.Value, pick.ChannelId, null, place.Occurrence.At.InZone(_workspace.Zone).LocalDateTime),
        ];
        return DoAsync(new PlanAct.Copy([.. wishes]), cancellation);

        CopyWish Wish(Id<Post> post, Id<Channel> channel, int? wording, LocalDateTime from) =>
            new(post, channel, wording, from, request.From(from));
    }

    private async Task<int> SkipAsync(List<LineUpPlace> places, CancellationToken cancellation)
    {
        int done = 0;
        foreach (LineUpPlace place in places)
        {
            if (!May(place, EntryAct.SkipThisOne))
                continue;
            Decision decision = await db.OpenDecisionAsync(_workspace.Id, place.Occurrence.Origin, cancellation);
            decision.IsSkipped = true;
            done++;
        }
        return done;
    }

    /// <summary>The posts wait for approval from now on, wherever they go.</summary>
    private async Task<int> AskAsync(CancellationToken cancellation)
    {
        List<Post> asked = [.. _posts.Values.Where(p => p is { Stage: Stage.Ready, RemovedAt: null })];
        foreach (Post post in asked)
            post.AskForApproval();
        await db.ReconsiderAsync(_workspace.Id, asked, _now, cancellation);
        foreach (Post post in _posts.Values.Where(p => p.Stage != Stage.WaitingForApproval).OrderBy(p => p.Title))
            _notes.LeaveOut(
                asked.Contains(post)
                    ? $"“{post.Title}” has approval already for all that it says."
                    : $"“{post.Title}” is not ready, so there is nothing to approve yet."
            );
        return asked.Count(p => p.Stage == Stage.WaitingForApproval);
    }

    private bool May(LineUpPlace place, EntryAct act)
    {
        if (place.Picks.Any(p => EntryActs.Of(place, p).Contains(act)))
            return true;
        _notes.LeaveOut($"{_notes.Where(place)}: it is {place.State.ToString().ToLowerInvariant()}.");
        return false;
    }
}
