using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;

namespace AbleLark.Data.Kinds;

/// <summary>Who belongs to a workspace.</summary>
internal static class PeopleKinds
{
    public static IReadOnlyList<StoredKind> All { get; } =
    [
        new StoredKind<Membership>(
            Logged.Not("given by whoever runs the server, so far"),
            Told.Not("asked at every request"),
            e =>
            {
                e.HasKey(m => new { m.WorkspaceId, m.PersonId });
                e.Property(m => m.Role).HasConversion<string>();
                e.HasOne<Workspace>().WithMany().HasForeignKey(m => m.WorkspaceId);
                e.HasOne<Person>().WithMany().HasForeignKey(m => m.PersonId);
            }
        ),
        new StoredKind<Session>(
            Logged.Not("signing in and out is no act in a workspace"),
            Told.Not("asked at every request"),
            e =>
            {
                e.HasKey(s => s.Digest);
                e.HasOne<Person>().WithMany().HasForeignKey(s => s.PersonId);
                e.HasIndex(s => s.EndsAt);
            }
        ),
        new StoredKind<TryCount>(
            Logged.Not("kept for minutes"),
            Told.Not("nobody looks at it"),
            e =>
            {
                e.HasKey(t => t.Key);
                e.HasIndex(t => t.UsedUntil);
            }
        ),
    ];
}
