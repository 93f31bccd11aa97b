using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Kinds;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace AbleLark.Data.Changes;

/// <summary>Tells every server process, with the commit, which views have something new to fetch.</summary>
public sealed class ChangeNotification
{
    /// <summary>Name of the PostgreSQL channel on which it is told: `workspace topic topic …`.</summary>
    public const string Channel = "lark";

    private readonly Dictionary<Id<Workspace>, HashSet<string>> _topics = [];
    private readonly HashSet<Id<Workspace>> _planChanged = [];

    public bool IsEmpty => _topics.Count == 0;

    public static ChangeNotification Of(ChangeTracker tracker)
    {
        ChangeNotification notification = new();
        foreach (EntityEntry entry in tracker.Entries())
        {
            if (entry.State is not (EntityState.Added or EntityState.Modified or EntityState.Deleted))
                continue;
            if (StoredKinds.Of(entry.Metadata.ClrType)?.Told is not { Topic: { } topic } told)
                continue;
            Id<Workspace> workspace = (Id<Workspace>)entry.Property(entry.Entity is Workspace ? "Id" : "WorkspaceId").CurrentValue!;
            if (!notification._topics.TryGetValue(workspace, out HashSet<string>? topics))
                notification._topics[workspace] = topics = [];
            topics.Add(WordOf(topic));
            if (told.ChangesPlan(entry))
                notification._planChanged.Add(workspace);
        }
        return notification;
    }

    public async Task SendAsync(LarkDb db, CancellationToken cancellation)
    {
        if (_planChanged.Count > 0)
        {
            await PlanChangedAsync(db, _planChanged, cancellation);
        }
        foreach ((Id<Workspace> workspace, HashSet<string> topics) in _topics)
        {
            await TellAsync(db, workspace, string.Join(' ', topics), cancellation);
        }
    }

    /// <summary>What was kept of these workspaces' plans was worked out from other rows.</summary>
    public static Task PlanChangedAsync(LarkDb db, IEnumerable<Id<Workspace>> workspaces, CancellationToken cancellation)
    {
        Guid[] ids = [.. workspaces.Select(w => w.Value)];
        return db.Database.ExecuteSqlAsync($"update workspaces set plan_stamp = plan_stamp + 1 where id = any({ids})", cancellation);
    }

    /// <summary>Tells of something that is no row of its own to follow.</summary>
    public static Task TellAsync(LarkDb db, Id<Workspace> workspace, Topic topic, CancellationToken cancellation) =>
        TellAsync(db, workspace, WordOf(topic), cancellation);

    private static async Task TellAsync(LarkDb db, Id<Workspace> workspace, string topics, CancellationToken cancellation)
    {
        string payload = $"{workspace} {topics}";
        await db.Database.ExecuteSqlAsync($"select pg_notify({Channel}, {payload})", cancellation);
    }

    /// <summary>Tells all workspaces that the demo's clock was moved.</summary>
    public static Task TellClockAsync(LarkDb db, CancellationToken cancellation) =>
        db.Database.ExecuteSqlAsync($"select pg_notify({Channel}, '* clock')", cancellation);

    /// <summary>A topic as it is told.</summary>
    public static string WordOf(Topic topic) => JsonNamingPolicy.CamelCase.ConvertName(topic.ToString());
}
