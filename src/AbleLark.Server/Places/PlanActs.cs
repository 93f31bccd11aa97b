using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.LineUps;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Places;

/// <summary>What is done with several deliveries and places at once. What can't be done with one of them is said, and the rest is done;
/// the caller saves.</summary>
public sealed class PlanActs(LarkDb db, LineUpReader reader, PlanWriter writer)
{
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
        _notes = new(await db.Channels.Where(c => c.WorkspaceId == workspace.Id).ToDictionaryAsync(c => c.Id, cancellation));
        List<Delivery> deliveries = await DeliveriesAsync(request, cancellation);
        List<SeenPlace> places = [.. request.Places.Select(p => p.Seen).DistinctBy(p => p.Place)];
        return request.Act switch
        {
            ManyAct.Shift => await DoAsync(new PlanAct.Shift(deliveries, places, request.By), cancellation),
            ManyAct.Copy => await DoAsync(new PlanAct.CopyBy(deliveries, places, request.By), cancellation),
            ManyAct.Cancel => await DoAsync(new PlanAct.Cancel(deliveries, places), cancellation),
            ManyAct.AskForApproval => await AskAsync(deliveries, places, cancellation),
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

    private async Task<int> DoAsync(PlanAct act, CancellationToken cancellation)
    {
        PlanChange change = await writer.DoAsync(_workspace, act, _now, cancellation);
        _notes.Take(change, await writer.TitlesAsync(_workspace.Id, change, cancellation));
        return change.Done;
    }

    /// <summary>The posts wait for approval from now on, wherever they go.</summary>
    private async Task<int> AskAsync(List<Delivery> deliveries, List<SeenPlace> places, CancellationToken cancellation)
    {
        (IReadOnlyList<Id<Post>> ids, IReadOnlyList<PlanStay> stays) =
            places.Count == 0
                ? ([.. deliveries.Select(d => d.PostId)], [])
                : PlanDoor.PostsOf(await reader.ReadAsync(_workspace, cancellation), _workspace, _now, deliveries, places);
        _notes.Take(stays, new Dictionary<Id<Post>, string>());
        List<Post> posts = await db.Posts.Where(p => p.WorkspaceId == _workspace.Id && ids.Contains(p.Id)).ToListAsync(cancellation);
        List<Post> asked = [.. posts.Where(p => p is { Stage: Stage.Ready, RemovedAt: null })];
        foreach (Post post in asked)
            post.AskForApproval();
        await db.ReconsiderAsync(_workspace.Id, asked, _now, cancellation);
        foreach (Post post in posts.Where(p => p.Stage != Stage.WaitingForApproval).OrderBy(p => p.Title))
            _notes.LeaveOut(
                asked.Contains(post)
                    ? $"“{post.Title}” has approval already for all that it says."
                    : $"“{post.Title}” is not ready, so there is nothing to approve yet."
            );
        return asked.Count(p => p.Stage == Stage.WaitingForApproval);
    }
}
