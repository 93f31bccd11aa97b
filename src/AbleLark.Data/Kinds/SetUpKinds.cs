using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Contacts;
using AbleLark.Core.LineUps;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Kinds;

/// <summary>What a workspace is set up with.</summary>
internal static class SetUpKinds
{
    /// <summary>What of a channel the line-up minds; its name it doesn't.</summary>
    private static readonly string[] FillingSettings =
    [
        nameof(Channel.Spacing),
        nameof(Channel.DailyLimit),
        nameof(Channel.Zone),
        nameof(Channel.Figures),
        nameof(Channel.Connection),
    ];

    public static IReadOnlyList<StoredKind> All { get; } =
    [
        new StoredKind<Workspace>(
            Logged.As("workspace", UndoRules.Workspace),
            Told.Under(
                Topic.Workspace,
                e => e.Property(nameof(Workspace.ScheduleAhead)).IsModified || e.Property(nameof(Workspace.Zone)).IsModified
            ),
            e =>
            {
                e.HasKey(w => w.Id);
                e.HasIndex(w => w.Slug).IsUnique();
                e.Property(w => w.ButtonVerbs).AsDocument();
            }
        )
        {
            // All of it with it, and none of the others.
            AsideBy = AsideKey<Workspace>.Of(w => w.Id),
        },
        new StoredKind<Channel>(
            Logged.As("channel", UndoRules.Channel),
            Told.Under(Topic.Channels, e => e.State != EntityState.Modified || FillingSettings.Any(p => e.Property(p).IsModified)),
            e =>
            {
                e.HasKey(c => new { c.WorkspaceId, c.Id });
                e.HasIndex(c => new
                    {
                        c.WorkspaceId,
                        c.Network,
                        c.Account,
                    })
                    .IsUnique();
                e.Property(c => c.Connection).HasConversion<string>();
                e.Property(c => c.Figures).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
            }
        ),
        new StoredKind<Contact>(
            Logged.As("contact", UndoRules.Contact),
            Told.Under(Topic.Posts),
            e =>
            {
                e.HasKey(c => new { c.WorkspaceId, c.Id });
                e.HasIndex(c => new { c.WorkspaceId, c.Key }).IsUnique();
                e.Property(c => c.Kind).HasConversion<string>();
                e.Property(c => c.Handles).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
            }
        ),
        new StoredKind<ChannelGroup>(
            Logged.As("channelGroup", UndoRule.Deleted),
            Told.Under(Topic.Channels),
            e =>
            {
                e.HasKey(g => new { g.WorkspaceId, g.Id });
                e.HasIndex(g => new { g.WorkspaceId, g.Name }).IsUnique();
                e.Property(g => g.Channels).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(g => g.WorkspaceId);
            }
        ),
        new StoredKind<ChannelSecret>(
            Logged.Not("tokens of channels are kept encrypted and once"),
            Told.Not("its channel is told"),
            e =>
            {
                e.HasKey(s => new { s.WorkspaceId, s.ChannelId });
                e.HasOne<Channel>().WithOne().HasForeignKey<ChannelSecret>(s => new { s.WorkspaceId, s.ChannelId });
            }
        ),
        new StoredKind<ChannelAudience>(
            Logged.Not("read from the network, by nobody's act"),
            Told.Not("looked at with the rota, which asks for it when it is opened"),
            e =>
            {
                e.HasKey(a => new { a.WorkspaceId, a.ChannelId });
                e.Property(a => a.Online).AsDocument();
                e.HasOne<Channel>().WithOne().HasForeignKey<ChannelAudience>(a => new { a.WorkspaceId, a.ChannelId });
            }
        ),
        new StoredKind<Category>(
            Logged.As("category", UndoRules.Category),
            Told.Under(Topic.Categories, Plan.Always),
            e =>
            {
                e.HasKey(c => new { c.WorkspaceId, c.Id });
                e.HasIndex(c => new { c.WorkspaceId, c.Name }).IsUnique();
                e.Property(c => c.UsualChannels).AsDocument();
                e.Property(c => c.Order).AsDocument();
                e.Property(c => c.Hashtags).AsDocument();
                e.Property(c => c.Lifespan).HasConversion<string>();
                e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
            }
        )
        {
            Check = c => c.GapDays is < 1 or > ContentKinds.MostGapDays ? ("gap_days", "it is no number of days that counts") : null,
        },
        new StoredKind<Rota>(
            Logged.As("rota", UndoRules.Rota),
            Told.Under(Topic.Rota, Plan.Always),
            e =>
            {
                e.HasKey(r => new { r.WorkspaceId, r.Id });
                e.Property(r => r.Version).IsConcurrencyToken();
                e.HasOne<Workspace>().WithMany().HasForeignKey(r => r.WorkspaceId);
                e.HasOne<Rota>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.Replaces }).OnDelete(DeleteBehavior.Restrict);
            }
        ),
        new StoredKind<Slot>(
            Logged.As("slot", UndoRules.Slot),
            Told.Under(Topic.Rota, Plan.Always),
            e =>
            {
                e.HasKey(s => new { s.WorkspaceId, s.Id });
                e.Property(s => s.Days).AsDocument();
                e.Property(s => s.Channels).AsDocument();
                e.Ignore(s => s.Source);
                e.Property(s => s.Categories).AsDocument();
                e.Property(s => s.Order).AsDocument();
                e.Property(s => s.Rhythm).HasConversion<string>();
                e.HasOne<Rota>().WithMany(r => r.Slots).HasForeignKey(s => new { s.WorkspaceId, s.RotaId });
            }
        )
        {
            Check = s =>
                (s.Days.Count == 0 && s.Rhythm == Rhythm.Weeks) || s.Days.Contains(IsoDayOfWeek.None)
                    ? ("days", "they are no days of a week")
                : s.Every is < 1 or > 1_000 ? ("every", "it comes round by no number that counts")
                : null,
        },
        new StoredKind<Decision>(
            Logged.As("decision", MovedPlaces.Rule),
            Told.Under(Topic.Rota, Plan.Always),
            e =>
            {
                e.HasKey(d => new { d.WorkspaceId, d.Id });
                e.HasOrigin();
                e.HasIndex(d => new
                    {
                        d.WorkspaceId,
                        d.OriginKind,
                        d.OriginId,
                        d.OriginDate,
                        d.OriginTime,
                    })
                    .IsUnique()
                    .AreNullsDistinct(false);
                e.Property(d => d.Posts).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(d => d.WorkspaceId);
            }
        ),
        new StoredKind<Pause>(
            Logged.As("pause", UndoRule.Deleted),
            Told.Under(Topic.Rota, Plan.Always),
            e =>
            {
                e.HasKey(p => new { p.WorkspaceId, p.Id });
                e.Property(p => p.What).HasConversion<string>();
                e.HasOne<Workspace>().WithMany().HasForeignKey(p => p.WorkspaceId);
            }
        ),
        new StoredKind<LineMove>(
            Logged.As("lineMove", UndoRule.Deleted),
            Told.Under(Topic.Rota, Plan.Always),
            e =>
            {
                e.HasKey(m => new { m.WorkspaceId, m.Id });
                e.HasIndex(m => new
                    {
                        m.WorkspaceId,
                        m.PostId,
                        m.ChannelId,
                    })
                    .IsUnique();
                e.Property(m => m.Side).HasConversion<string>();
                e.HasOne<Post>().WithMany().HasForeignKey(m => new { m.WorkspaceId, m.PostId });
                e.HasOne<Channel>().WithMany().HasForeignKey(m => new { m.WorkspaceId, m.ChannelId });
            }
        ),
        new StoredKind<PassedPlace>(
            Logged.As("passedPlace", UndoRule.Deleted),
            Told.Under(Topic.Deliveries),
            e =>
            {
                e.HasKey(p => new { p.WorkspaceId, p.Id });
                e.Property(p => p.Why).AsDocument();
                e.HasOrigin();
                e.HasIndex(p => new
                    {
                        p.WorkspaceId,
                        p.OriginKind,
                        p.OriginId,
                        p.OriginDate,
                        p.OriginTime,
                    })
                    .IsUnique()
                    .AreNullsDistinct(false);
                e.HasIndex(p => new { p.WorkspaceId, p.At });
                e.Property(p => p.Channels).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(p => p.WorkspaceId);
            }
        ),
        new StoredKind<ApiToken>(
            Logged.Not("its making and its end are acts in words; what it is must not be brought back by undo"),
            Told.Not("only whoever makes them looks at them"),
            e =>
            {
                e.HasKey(t => new { t.WorkspaceId, t.Id });
                e.HasIndex(t => t.Digest).IsUnique();
                e.Property(t => t.Rights).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(t => t.WorkspaceId);
                e.HasOne<Person>().WithMany().HasForeignKey(t => t.PersonId);
            }
        ),
    ];
}
