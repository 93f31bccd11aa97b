using AbleLark.Core.Calendars;
using AbleLark.Core.Deliveries;
using AbleLark.Core.KeyDates;
using AbleLark.Core.Recurrences;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Kinds;

/// <summary>What stands on the calendar beside what goes out.</summary>
internal static class CalendarKinds
{
    public static IReadOnlyList<StoredKind> All { get; } =
    [
        new StoredKind<SavedFilter>(
            Logged.As("savedFilter", UndoRule.Deleted),
            Told.Under(Topic.Calendar),
            e =>
            {
                e.HasKey(f => new { f.WorkspaceId, f.Id });
                e.HasIndex(f => new { f.WorkspaceId, f.Name }).IsUnique();
                e.HasOne<Workspace>().WithMany().HasForeignKey(f => f.WorkspaceId);
            }
        ),
        new StoredKind<CalendarNote>(
            Logged.As("calendarNote", UndoRule.Deleted),
            Told.Under(Topic.Calendar),
            e =>
            {
                e.HasKey(n => new { n.WorkspaceId, n.Id });
                e.Property(n => n.Span).HasConversion<string>();
                e.Ignore(n => n.Last);
                e.HasIndex(n => new
                    {
                        n.WorkspaceId,
                        n.Date,
                        n.Span,
                    })
                    .IsUnique();
                e.HasOne<Workspace>().WithMany().HasForeignKey(n => n.WorkspaceId);
            }
        ),
        new StoredKind<KeyDateKind>(
            Logged.As("keyDateKind", UndoRules.KeyDateKind),
            Told.Under(Topic.Calendar),
            e =>
            {
                e.HasKey(k => new { k.WorkspaceId, k.Id });
                e.HasIndex(k => new { k.WorkspaceId, k.Name }).IsUnique();
                e.HasOne<Workspace>().WithMany().HasForeignKey(k => k.WorkspaceId);
            }
        ),
        new StoredKind<CalendarSource>(
            Logged.As("calendarSource", UndoRules.CalendarSource),
            Told.Under(Topic.Calendar),
            e =>
            {
                e.HasKey(s => new { s.WorkspaceId, s.Id });
                e.HasIndex(s => s.NextAt);
                e.Property(s => s.LeftOut).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(s => s.WorkspaceId);
                e.HasOne<KeyDateKind>().WithMany().HasForeignKey(s => new { s.WorkspaceId, s.KindId }).OnDelete(DeleteBehavior.Restrict);
            }
        ),
        new StoredKind<KeyDate>(
            Logged.As("keyDate", UndoRules.KeyDate),
            Told.Under(Topic.Calendar),
            e =>
            {
                e.HasKey(d => new { d.WorkspaceId, d.Id });
                e.HasIndex(d => new
                    {
                        d.WorkspaceId,
                        d.SourceId,
                        d.OutsideId,
                    })
                    .IsUnique();
                e.Property(d => d.Skipped).AsDocument();
                e.Property(d => d.Moved).AsDocument();
                e.Property(d => d.Done).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(d => d.WorkspaceId);
                e.HasOne<KeyDateKind>().WithMany().HasForeignKey(d => new { d.WorkspaceId, d.KindId }).OnDelete(DeleteBehavior.Restrict);
                e.HasOne<CalendarSource>()
                    .WithMany()
                    .HasForeignKey(d => new { d.WorkspaceId, d.SourceId })
                    .OnDelete(DeleteBehavior.Restrict);
            }
        )
        {
            Check = d => d.Days is < 1 or > KeyDate.MostDays ? ("days", "it lasts no number of days that counts") : RuleOf(d),
        },
        new StoredKind<KeyDateTie>(
            Logged.As("keyDateTie", UndoRule.Deleted),
            Told.Under(Topic.Calendar),
            e =>
            {
                e.HasKey(t => new { t.WorkspaceId, t.Id });
                e.HasOne<Delivery>().WithOne().HasForeignKey<KeyDateTie>(t => new { t.WorkspaceId, t.DeliveryId });
                e.HasOne<KeyDate>().WithMany().HasForeignKey(t => new { t.WorkspaceId, t.KeyDateId });
            }
        ),
        new StoredKind<CalendarFeed>(
            Logged.Not("its making and its end are acts in words; what it is must not be brought back by undo"),
            Told.Not("only whoever makes them looks at them"),
            e =>
            {
                e.HasKey(f => new { f.WorkspaceId, f.Id });
                e.HasIndex(f => f.Digest).IsUnique();
                e.HasOne<Workspace>().WithMany().HasForeignKey(f => f.WorkspaceId);
                e.HasOne<Person>().WithMany().HasForeignKey(f => f.PersonId);
            }
        ),
    ];

    private static (string Field, string Words)? RuleOf(KeyDate keyDate)
    {
        try
        {
            if (keyDate.Rule is { } rule)
                Recurrence.Parse(rule, keyDate.Zone ?? DateTimeZone.Utc, keyDate.Time);
            return null;
        }
        catch (NotKeptException e)
        {
            return ("rule", e.Message);
        }
    }
}
