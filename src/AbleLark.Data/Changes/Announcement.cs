using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Deliveries;
using AbleLark.Data.Imports;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace AbleLark.Data.Changes;

/// <summary>Tells every server process, with the commit, which views have something new to fetch.</summary>
internal sealed class Announcement
{
    /// <summary>Name of the PostgreSQL channel on which it is told: `workspace topic topic …`.</summary>
    public const string Channel = "lark";

    private static readonly Dictionary<Type, string> Topics = new()
    {
        [typeof(Workspace)] = "workspace",
        [typeof(Channel)] = "channels",
        [typeof(Category)] = "categories",
        [typeof(Rota)] = "rota",
        [typeof(Slot)] = "rota",
        [typeof(Decision)] = "rota",
        [typeof(Pause)] = "rota",
        [typeof(LineMove)] = "rota",
        [typeof(PassedPlace)] = "deliveries",
        [typeof(Post)] = "posts",
        [typeof(Delivery)] = "deliveries",
        [typeof(Reading)] = "results",
        [typeof(ImportRun)] = "imports",
        [typeof(ChangeSet)] = "changes",
    };

    /// <summary>What of a channel the line-up minds; its name it doesn't.</summary>
    private static readonly string[] FillingSettings = [nameof(Core.Channels.Channel.Spacing), nameof(Core.Channels.Channel.DailyLimit), nameof(Core.Channels.Channel.Zone), nameof(Core.Channels.Channel.Connection)];

    private readonly Dictionary<Id<Workspace>, HashSet<string>> _topics = [];
    private readonly HashSet<Id<Workspace>> _planChanged = [];

    public bool IsEmpty => _topics.Count == 0;

    public static Announcement Of(ChangeTracker tracker)
    {
        Announcement announcement = new();
        foreach (EntityEntry entry in tracker.Entries())
        {
            if (entry.State is not (EntityState.Added or EntityState.Modified or EntityState.Deleted)) continue;
            if (!Topics.TryGetValue(entry.Metadata.ClrType, out string? topic)) continue;
            Id<Workspace> workspace = (Id<Workspace>)entry.Property(entry.Entity is Workspace ? "Id" : "WorkspaceId").CurrentValue!;
            if (!announcement._topics.TryGetValue(workspace, out HashSet<string>? topics)) announcement._topics[workspace] = topics = [];
            topics.Add(topic);
            if (ChangesThePlan(entry)) announcement._planChanged.Add(workspace);
        }
        return announcement;
    }

    public async Task SendAsync(LarkDb db, CancellationToken cancellation)
    {
        if (_planChanged.Count > 0)
        {
            Guid[] ids = [.. _planChanged.Select(w => w.Value)];
            await db.Database.ExecuteSqlAsync($"update workspaces set plan_stamp = plan_stamp + 1 where id = any({ids})", cancellation);
        }
        foreach ((Id<Workspace> workspace, HashSet<string> topics) in _topics)
        {
            string payload = $"{workspace} {string.Join(' ', topics)}";
            await db.Database.ExecuteSqlAsync($"select pg_notify({Channel}, {payload})", cancellation);
        }
    }

    private static bool ChangesThePlan(EntityEntry entry) => entry.Entity switch
    {
        // A sending that goes well leaves the line-up as it was: its turn was counted when it was planned.
        Delivery d => entry.State == EntityState.Added || !(d.State.IsTurn() && d.State != DeliveryState.Planned),
        Post or Slot or Rota or Decision or Pause or LineMove or Category => true,
        Channel => entry.State != EntityState.Modified || FillingSettings.Any(p => entry.Property(p).IsModified),
        Workspace => entry.Property(nameof(Workspace.ScheduleAhead)).IsModified || entry.Property(nameof(Workspace.Zone)).IsModified,
        _ => false,
    };
}
