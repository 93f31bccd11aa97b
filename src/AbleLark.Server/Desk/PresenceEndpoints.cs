using AbleLark.Core;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Server.Access;
using AbleLark.Server.Posts;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Desk;

/// <param name="IsWriting">True while they have typed what isn't saved yet.</param>
public sealed record PresenceRequest(bool IsWriting);

/// <summary>Somebody else who has the post open.</summary>
public sealed record PresentPerson(Guid PersonId, string Name, bool IsWriting);

/// <summary>Who has a post open on the desk: each page says so again and again while it is looked at, and hears who else does.</summary>
public static class PresenceEndpoints
{
    /// <summary>Whoever hasn't said so for as long has gone; pages say it every ten seconds.</summary>
    private static readonly Duration Gone = Duration.FromSeconds(25);

    public static void MapPresence(this RouteGroupBuilder workspace)
    {
        workspace.MapPost("/posts/{id}/presence", ComeAsync).Needs(Right.Write);
        workspace.MapDelete("/posts/{id}/presence", GoAsync).Needs(Right.Write);
    }

    private static async Task<List<PresentPerson>> ComeAsync(
        Id<Workspace> workspaceId,
        Id<Post> id,
        PresenceRequest request,
        HttpContext http,
        LarkDb db,
        IClock machine,
        CancellationToken cancellation
    )
    {
        await PostEndpoints.FindAsync(workspaceId, id, db, cancellation);
        (Instant now, Guid me) = (machine.GetCurrentInstant(), http.PersonId());
        Instant gone = now - Gone;
        int left = await db.DeskVisits.Where(v => v.WorkspaceId == workspaceId && v.SeenAt < gone).ExecuteDeleteAsync(cancellation);
        // One statement: two pages of one person may say it at once.
        int told = await db.Database.ExecuteSqlAsync(
            $"""
            insert into desk_visits (workspace_id, post_id, person_id, seen_at, is_writing)
            values ({workspaceId.Value}, {id.Value}, {me}, {now}, {request.IsWriting})
            on conflict (workspace_id, post_id, person_id) do nothing
            """,
            cancellation
        );
        if (told == 0)
        {
            told = await db
                .DeskVisits.Where(v =>
                    v.WorkspaceId == workspaceId && v.PostId == id && v.PersonId == me && v.IsWriting != request.IsWriting
                )
                .ExecuteUpdateAsync(v => v.SetProperty(d => d.IsWriting, request.IsWriting).SetProperty(d => d.SeenAt, now), cancellation);
            await db
                .DeskVisits.Where(v => v.WorkspaceId == workspaceId && v.PostId == id && v.PersonId == me)
                .ExecuteUpdateAsync(v => v.SetProperty(d => d.SeenAt, now), cancellation);
        }
        if (told + left > 0)
            await ChangeNotification.TellAsync(db, workspaceId, Topic.Desk, cancellation);
        return await (
            from visit in db.DeskVisits
            join person in db.Users on visit.PersonId equals person.Id
            where visit.WorkspaceId == workspaceId && visit.PostId == id && visit.PersonId != me
            orderby person.Name, person.Id
            select new PresentPerson(person.Id, person.Name, visit.IsWriting)
        ).ToListAsync(cancellation);
    }

    private static async Task GoAsync(Id<Workspace> workspaceId, Id<Post> id, HttpContext http, LarkDb db, CancellationToken cancellation)
    {
        Guid me = http.PersonId();
        int left = await db
            .DeskVisits.Where(v => v.WorkspaceId == workspaceId && v.PostId == id && v.PersonId == me)
            .ExecuteDeleteAsync(cancellation);
        if (left > 0)
            await ChangeNotification.TellAsync(db, workspaceId, Topic.Desk, cancellation);
    }
}
