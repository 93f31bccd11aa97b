using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Kinds;

/// <summary>What was done, and bookkeeping.</summary>
internal static class HistoryKinds
{
    public static IReadOnlyList<StoredKind> All { get; } =
    [
        new StoredKind<Restore>(
            Logged.Not("nobody may undo it"),
            Told.Not("written while no server runs"),
            e =>
            {
                e.HasKey(r => r.Id);
            }
        ),
        new StoredKind<DamagedRow>(
            Logged.Not("found by looking, and over once it is mended"),
            Told.Under(Topic.Workspace),
            e =>
            {
                e.HasKey(d => new
                {
                    d.WorkspaceId,
                    d.Kind,
                    d.RowId,
                });
                e.HasOne<Workspace>().WithMany().HasForeignKey(d => d.WorkspaceId);
            }
        ),
        new StoredKind<WorkFailure>(
            Logged.Not("bookkeeping of the background work"),
            Told.Not("Today asks for it as it is opened"),
            e =>
            {
                e.HasKey(f => new
                {
                    f.WorkspaceId,
                    f.Work,
                    f.Subject,
                });
                e.Property(f => f.Work).HasConversion<string>();
                e.HasOne<Workspace>().WithMany().HasForeignKey(f => f.WorkspaceId);
            }
        ),
        new StoredKind<ChangeSet>(
            Logged.Not("the log itself"),
            Told.Under(Topic.Changes),
            e =>
            {
                // Two who take the same act back at once: the second is told.
                e.Property(c => c.UndoneAt).IsConcurrencyToken();
                e.HasKey(c => new { c.WorkspaceId, c.Id });
                e.Property(c => c.Rights).AsDocument();
                e.Property(c => c.Act).AsDocument();
                e.HasActor();
                e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
                e.HasIndex(c => new { c.WorkspaceId, c.At });
            }
        ),
        new StoredKind<Change>(
            Logged.Not("the log itself"),
            Told.Not("its change set is told"),
            e =>
            {
                e.HasKey(c => new
                {
                    c.WorkspaceId,
                    c.ChangeSetId,
                    c.Number,
                });
                e.Property(c => c.Kind).HasConversion<string>();
                e.Property(c => c.Before).AsDocument();
                e.Property(c => c.After).AsDocument();
                e.HasOne<ChangeSet>().WithMany(s => s.Changes).HasForeignKey(c => new { c.WorkspaceId, c.ChangeSetId });
                e.HasIndex(c => new { c.WorkspaceId, c.EntityId });
            }
        ),
        new StoredKind<ImportRun>(
            Logged.Not("written with the posts of its act, which are logged"),
            Told.Under(Topic.Imports),
            e =>
            {
                e.HasKey(i => new { i.WorkspaceId, i.Id });
                e.Property(i => i.State).HasConversion<string>();
                e.Property(i => i.Plan).AsDocument();
                e.HasActor();
                e.HasIndex(i => new { i.WorkspaceId, i.StartedAt });
                e.HasOne<Workspace>().WithMany().HasForeignKey(i => i.WorkspaceId);
                e.HasOne<ChangeSet>().WithMany().HasForeignKey(i => new { i.WorkspaceId, i.ChangeSetId });
            }
        ),
        new StoredKind<ImportEdit>(
            Logged.Not("nothing of it is in the bank yet"),
            Told.Not("its import is told"),
            e =>
            {
                e.HasKey(r => new
                {
                    r.WorkspaceId,
                    r.ImportId,
                    r.Row,
                });
                e.Property(r => r.Edit).AsDocument();
                e.HasOne<ImportRun>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.ImportId }).OnDelete(DeleteBehavior.Cascade);
            }
        ),
        new StoredKind<ImportedRow>(
            Logged.Not("the report of an act, which is logged"),
            Told.Not("its import is told"),
            e =>
            {
                e.HasKey(r => new
                {
                    r.WorkspaceId,
                    r.ImportId,
                    r.Row,
                });
                e.Property(r => r.End).HasConversion<string>();
                e.HasOne<ImportRun>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.ImportId }).OnDelete(DeleteBehavior.Cascade);
                e.HasOne<Post>().WithMany().HasForeignKey(r => new { r.WorkspaceId, r.PostId });
            }
        ),
        new StoredKind<BusinessTime>(
            Logged.Not("the demo's clock only goes forward"),
            Told.Not("the clock has a line of its own"),
            e =>
            {
                e.HasKey(t => t.Id);
                e.Property(t => t.Id).ValueGeneratedNever();
            }
        ),
    ];
}
