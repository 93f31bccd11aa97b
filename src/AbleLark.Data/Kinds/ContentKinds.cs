using AbleLark.Core.Categories;
using AbleLark.Core.Links;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Data.Kinds;

/// <summary>What is to be sent.</summary>
internal static class ContentKinds
{
    public static IReadOnlyList<StoredKind> All { get; } =
    [
        new StoredKind<Post>(
            Logged.As("post", UndoRules.Post),
            Told.Under(Topic.Posts, Plan.Always),
            e =>
            {
                e.HasKey(p => new { p.WorkspaceId, p.Id });
                e.Property(p => p.Stage).HasConversion<string>().HasField("_stage");
                e.Ignore(p => p.AllCategories);
                e.Property(p => p.Lifespan).HasConversion<string>();
                e.Property(p => p.Version).IsConcurrencyToken();
                e.HasIndex(p => p.SearchText).HasMethod("gin").HasOperators("gin_trgm_ops");
                e.HasIndex(p => new { p.WorkspaceId, p.OutsideId }).IsUnique().HasFilter("outside_id is not null and removed_at is null");
                e.Property(p => p.FurtherCategories).AsDocument();
                e.Property(p => p.Channels).AsDocument();
                e.Property(p => p.Content).AsDocument();
                e.Property(p => p.Fits).AsDocument(FitsDocument.Read);
                e.Property(p => p.Hashes).AsDocument();
                e.PrimitiveCollection(p => p.FileIds).ElementType(f => f.HasConversion<IdConverter<MediaFile>>());
                e.HasIndex(p => p.FileIds).HasMethod("gin");
                e.HasOne<Category>().WithMany().HasForeignKey(p => new { p.WorkspaceId, p.CategoryId }).OnDelete(DeleteBehavior.Restrict);
            }
        )
        {
            Check = p => p.GapDays is < 1 or > MostGapDays ? ("gap_days", "it is no number of days that counts") : null,
        },
        new StoredKind<PostVersion>(
            Logged.Not("written once and never changed: the history itself"),
            Told.Not("its post is told"),
            e =>
            {
                e.HasActor();
                e.HasKey(v => new
                {
                    v.WorkspaceId,
                    v.PostId,
                    v.Number,
                });
                e.Property(v => v.Content).AsDocument();
                e.HasOne<Post>().WithMany().HasForeignKey(v => new { v.WorkspaceId, v.PostId });
            }
        ),
        new StoredKind<DeskVisit>(
            Logged.Not("who has a post open is nothing to undo"),
            Told.Not("told by the desk itself, when somebody comes, goes, or begins to write"),
            e =>
            {
                e.HasKey(v => new
                {
                    v.WorkspaceId,
                    v.PostId,
                    v.PersonId,
                });
                e.HasOne<Post>().WithMany().HasForeignKey(v => new { v.WorkspaceId, v.PostId }).OnDelete(DeleteBehavior.Cascade);
                e.HasOne<Person>().WithMany().HasForeignKey(v => v.PersonId).OnDelete(DeleteBehavior.Cascade);
            }
        ),
        new StoredKind<Approval>(
            Logged.As("approval", UndoRules.Approval),
            Told.Not("its post is told"),
            e =>
            {
                e.HasActor();
                e.HasKey(a => new { a.WorkspaceId, a.Id });
                e.HasIndex(a => new { a.WorkspaceId, a.PostId });
                e.Property(a => a.Hashes).AsDocument();
                e.HasOne<Post>().WithMany().HasForeignKey(a => new { a.WorkspaceId, a.PostId });
            }
        ),
        new StoredKind<MediaFile>(
            Logged.As("media", UndoRules.Media),
            Told.Under(Topic.Media),
            e =>
            {
                e.ToTable("media");
                e.HasKey(m => new { m.WorkspaceId, m.Id });
                e.HasIndex(m => new { m.WorkspaceId, m.Hash });
                e.HasIndex(m => new
                    {
                        m.WorkspaceId,
                        m.AddedAt,
                        m.Id,
                    })
                    .IsDescending(false, true, true);
                e.Ignore(m => m.Shape);
                e.HasOne<Workspace>().WithMany().HasForeignKey(m => m.WorkspaceId);
            }
        ),
        new StoredKind<LinkCard>(
            Logged.Not("read from the page, by nobody's act"),
            Told.Not("only whoever writes a post with the link looks at it"),
            e =>
            {
                e.HasKey(c => new { c.WorkspaceId, c.Address });
                e.Property(c => c.Pictures).AsDocument();
                e.HasOne<Workspace>().WithMany().HasForeignKey(c => c.WorkspaceId);
            }
        ),
    ];

    /// <summary>The longest gap between repeats that anybody could mean, of a post or a category.</summary>
    internal const int MostGapDays = 3_660;
}
