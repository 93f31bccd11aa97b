using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;

namespace AbleLark.Data.Kinds;

/// <summary>What goes out, and what became of it.</summary>
internal static class DeliveryKinds
{
    public static IReadOnlyList<StoredKind> All { get; } =
    [
        new StoredKind<Delivery>(
            Logged.As("delivery", DeliveryUndoing.Rule),
            Told.Under(Topic.Deliveries, MovesPlan),
            e =>
            {
                e.HasKey(d => new { d.WorkspaceId, d.Id });
                e.Property(d => d.State).HasConversion<string>();
                e.Property(d => d.DrawnInOrder).HasConversion<string>();
                e.HasOrigin();
                e.Property(d => d.Why).AsDocument();
                e.Ignore(d => d.Time);
                e.Ignore(d => d.ShownAddress);
                e.Ignore(d => d.LacksRest);
                e.Property(d => d.Sent).AsDocument();
                e.Property(d => d.Facts).AsDocument();
                e.PrimitiveCollection(d => d.FileIds).ElementType(f => f.HasConversion<IdConverter<MediaFile>>());
                e.HasIndex(d => d.FileIds).HasMethod("gin");
                // Nothing can be planned twice. Of what a restored backup only looks up, a substitute may stand beside its post.
                e.HasIndex(d => new
                    {
                        d.WorkspaceId,
                        d.OriginKind,
                        d.OriginId,
                        d.OriginDate,
                        d.OriginTime,
                        d.ChannelId,
                    })
                    .IsUnique()
                    .AreNullsDistinct(false)
                    .HasFilter("state not in ('Substitute', 'Missed', 'Cancelled') and not look_up_only");
                e.HasIndex(d => new
                {
                    d.WorkspaceId,
                    d.PostId,
                    d.ChannelId,
                    d.At,
                });
                // A delivery has at most one other in its place that may still go or went.
                e.HasIndex(d => new { d.WorkspaceId, d.InsteadOf })
                    .IsUnique()
                    .HasFilter("instead_of is not null and state <> 'Cancelled'");
                e.Property(d => d.Lease).IsConcurrencyToken();
                e.Property(d => d.Revision).IsConcurrencyToken();
                e.HasIndex(d => new
                {
                    d.WorkspaceId,
                    d.ChannelId,
                    d.State,
                    d.At,
                });
                e.HasIndex(d => new { d.State, d.At });
                e.HasIndex(d => d.NextReadingAt);
                // What needs somebody: few of many, counted for whoever looks at all their workspaces.
                e.HasIndex(d => d.WorkspaceId)
                    .HasFilter(
                        "not dealt_with and (state in ('Refused', 'Missed', 'MayHaveGoneOut', 'PostItYourself')"
                            + " or (state = 'Sent' and trouble is not null))"
                    );
                e.HasIndex(d => new { d.WorkspaceId, d.At });
                // What was sent of places that are still to come; see OlderDeliveries.
                e.HasIndex(d => new { d.WorkspaceId, d.OriginDate });
                e.HasIndex(d => new { d.WorkspaceId, d.SentAt }).HasFilter("sent_at is not null");
                e.HasOne<Post>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.PostId }).OnDelete(DeleteBehavior.Restrict);
                e.HasOne<Channel>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.ChannelId }).OnDelete(DeleteBehavior.Restrict);
                e.HasOne<Delivery>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.InsteadOf }).OnDelete(DeleteBehavior.Restrict);
            }
        ),
        new StoredKind<DeliveryAttempt>(
            Logged.Not("the record of what was sent can't be undone"),
            Told.Not("its delivery is told"),
            e =>
            {
                e.HasKey(a => new { a.WorkspaceId, a.Id });
                e.Property(a => a.End).HasConversion<string>();
                e.Ignore(a => a.IsOpen);
                e.HasOne<Delivery>().WithMany().HasForeignKey(a => new { a.WorkspaceId, a.DeliveryId });
            }
        ),
        new StoredKind<Reading>(
            Logged.Not("read from the network, by nobody's act"),
            Told.Under(Topic.Results),
            e =>
            {
                e.HasKey(r => new
                {
                    r.WorkspaceId,
                    r.DeliveryId,
                    r.At,
                });
                e.HasActor();
                e.Property(r => r.Figures).AsDocument();
                e.Property(r => r.Doubt).HasConversion<string>();
                e.HasOne<Delivery>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.DeliveryId });
            }
        )
        {
            // Figures of many deliveries are worked out together: those of one are put aside, and its own figures alone are missing.
            AsideBy = AsideKey<Reading>.Of(r => r.DeliveryId),
            Suspects = $$$"""
                select distinct r.delivery_id as "Value" from readings r
                where r.workspace_id = {0} and (jsonb_typeof(r.figures) <> 'object' or r.at in ('-infinity', 'infinity')
                    or r.doubt not in ({{{string.Join(", ", Enum.GetNames<FigureDoubt>().Select(n => $"'{n}'"))}}})
                    or exists (select 1 from jsonb_each(case jsonb_typeof(r.figures) when 'object' then r.figures else '{{}}' end) f
                        where jsonb_typeof(f.value) not in ('number', 'null')))
                """,
        },
        new StoredKind<AgeFigures>(
            Logged.Not("worked out from readings"),
            Told.Not("its reading is told"),
            e =>
            {
                e.HasKey(r => new
                {
                    r.WorkspaceId,
                    r.DeliveryId,
                    r.AgeHours,
                });
                // By number, so that sums over many rows stay plain SQL.
                e.Property(r => r.Figures)
                    .HasColumnType("double precision[]")
                    .HasConversion(
                        figures => figures.ByNumber(),
                        values => FigureSet.FromNumbers(values),
                        new ValueComparer<FigureSet>((a, b) => Equals(a, b), figures => figures.GetHashCode(), figures => figures)
                    );
                e.HasOne<Delivery>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.DeliveryId });
            }
        ),
        new StoredKind<OutsidePost>(
            Logged.Not("found on the network, by nobody's act"),
            Told.Under(Topic.Results, e => e.State == EntityState.Added),
            e =>
            {
                e.HasKey(o => new { o.WorkspaceId, o.Id });
                e.HasIndex(o => new
                    {
                        o.WorkspaceId,
                        o.ChannelId,
                        o.RemoteId,
                    })
                    .IsUnique();
                e.HasIndex(o => new { o.WorkspaceId, o.PostedAt });
                e.Property(o => o.Readings).AsDocument();
                e.Property(o => o.Media).AsDocument();
                e.HasOne<Channel>().WithMany().HasForeignKey(o => new { o.WorkspaceId, o.ChannelId });
            }
        ),
    ];

    /// <summary>A sending that goes well leaves the line-up as it was: its turn was counted when it was planned.</summary>
    private static bool MovesPlan(EntityEntry entry) =>
        entry.Entity is Delivery d && (entry.State == EntityState.Added || !(d.State.IsTurn() && d.State != DeliveryState.Planned));
}
