using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Categories;
using AbleLark.Server.Changes;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Channels;

public sealed record ChannelGroupView(Id<ChannelGroup> Id, string Name, IReadOnlyList<Id<Channel>> Channels);

public sealed record ChannelGroupEdit([Named("the group")] string Name, IReadOnlyList<Id<Channel>> Channels);

/// <summary>Channels that are chosen together.</summary>
public static class ChannelGroupEndpoints
{
    private const int Most = 50;

    public static void MapChannelGroups(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/channel-groups", ListAsync).Needs(Right.View);
        workspace.MapPost("/channel-groups", AddAsync).Needs(Right.SetUp).InTurn();
        workspace.MapPut("/channel-groups/{id}", EditAsync).Needs(Right.SetUp);
        workspace.MapDelete("/channel-groups/{id}", RemoveAsync).Needs(Right.SetUp);
    }

    private static Task<List<ChannelGroupView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .ChannelGroups.Where(g => g.WorkspaceId == workspaceId)
            .OrderBy(g => g.Name)
            .Select(g => new ChannelGroupView(g.Id, g.Name, g.Channels))
            .ToListAsync(cancellation);

    private static async Task<ChannelGroupView> AddAsync(
        Id<Workspace> workspaceId,
        ChannelGroupEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Inputs.Room(await db.ChannelGroups.CountAsync(g => g.WorkspaceId == workspaceId, cancellation), 1, Most, "channel groups");
        ChannelGroup group = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<ChannelGroup>.New(),
            Name = "",
        };
        await TakeAsync(group, edit, db, cancellation);
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.GroupAdded, group.Name));
        db.ChannelGroups.Add(group);
        await db.SaveChangesAsync(cancellation);
        return View(group);
    }

    private static async Task<ChannelGroupView> EditAsync(
        Id<Workspace> workspaceId,
        Id<ChannelGroup> id,
        ChannelGroupEdit edit,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        ChannelGroup group = await FindAsync(workspaceId, id, db, cancellation);
        await TakeAsync(group, edit, db, cancellation);
        db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.GroupChanged, group.Name));
        await db.SaveChangesAsync(cancellation);
        return View(group);
    }

    private static async Task<ActDone> RemoveAsync(
        Id<Workspace> workspaceId,
        Id<ChannelGroup> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        ChannelGroup group = await FindAsync(workspaceId, id, db, cancellation);
        var act = db.BeginAct(workspaceId, http.Actor(), await clock.NowAsync(cancellation), new(ActCode.GroupRemoved, group.Name));
        db.ChannelGroups.Remove(group);
        await db.SaveChangesAsync(cancellation);
        return new(act.Id.Value);
    }

    private static async Task TakeAsync(ChannelGroup group, ChannelGroupEdit edit, LarkDb db, CancellationToken cancellation)
    {
        string name = edit.Name.Trim();
        List<string> others = await db
            .ChannelGroups.Where(g => g.WorkspaceId == group.WorkspaceId && g.Id != group.Id)
            .Select(g => g.Name)
            .ToListAsync(cancellation);
        if (others.Contains(name, StringComparer.OrdinalIgnoreCase))
            throw ProblemException.BadInput($"There is a group “{name}” already. Give this one another name.");
        List<Id<Channel>> channels = await db.KnownChannelsAsync(group.WorkspaceId, edit.Channels, cancellation);
        if (channels.Count == 0)
            throw ProblemException.BadInput("Choose at least one channel for the group.");
        (group.Name, group.Channels) = (name, channels);
    }

    private static async Task<ChannelGroup> FindAsync(
        Id<Workspace> workspace,
        Id<ChannelGroup> id,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        await db.ChannelGroups.SingleOrDefaultAsync(g => g.WorkspaceId == workspace && g.Id == id, cancellation)
        ?? throw ProblemException.NotFound("This group");

    private static ChannelGroupView View(ChannelGroup group) => new(group.Id, group.Name, group.Channels);
}
