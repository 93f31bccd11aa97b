using System.Security.Cryptography;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Data.Changes;
using AbleLark.Data.Damage;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Storage;

namespace AbleLark.Data;

/// <summary>The database: how its rows lie in tables, and what is recorded and told of each saving.</summary>
public sealed class LarkDatabase(DbContextOptions<LarkDatabase> options) : LarkDb(options)
{
    /// <summary>What of a delivery makes it another one for whoever looked at it before.</summary>
    private static readonly string[] Revised =
    [
        nameof(Delivery.State),
        nameof(Delivery.At),
        nameof(Delivery.PostId),
        nameof(Delivery.DealtWith),
        nameof(Delivery.TakenDownAt),
    ];

    private readonly DamagedRows? _damaged = Damage.DamagedRows.Of(options);

    internal override List<Id<TOwner>> Aside<T, TOwner>() => _damaged?.Of<T, TOwner>() ?? [];

    public override async Task<int> SaveChangesAsync(bool acceptAllChangesOnSuccess, CancellationToken cancellationToken = default)
    {
        ChangeNotification notification = WorkOut();
        if (notification.IsEmpty)
            return await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);

        IDbContextTransaction? own = Database.CurrentTransaction is null ? await Database.BeginTransactionAsync(cancellationToken) : null;
        await using (own)
        {
            int saved = await base.SaveChangesAsync(acceptAllChangesOnSuccess, cancellationToken);
            await notification.SendAsync(this, cancellationToken);
            if (own is not null)
                await own.CommitAsync(cancellationToken);
            return saved;
        }
    }

    /// <summary>Completes what follows from the changes; returns what is told of them.</summary>
    private ChangeNotification WorkOut()
    {
        // One look for changes, not one for each loop: thousands of rows may be written at once.
        ChangeTracker.DetectChanges();
        bool detects = ChangeTracker.AutoDetectChangesEnabled;
        ChangeTracker.AutoDetectChangesEnabled = false;
        try
        {
            foreach (
                EntityEntry<Post> entry in ChangeTracker
                    .Entries<Post>()
                    .Where(e => e.State is not (EntityState.Unchanged or EntityState.Deleted) || e.Entity.SearchText.Length == 0)
            )
            {
                entry.Property(p => p.SearchText).CurrentValue = PostSearch.TextOf(entry.Entity.Title, entry.Entity.Content);
                entry.Property(p => p.FileIds).CurrentValue = [.. entry.Entity.Content.AllFiles().Order()];
            }
            foreach (
                EntityEntry<Delivery> entry in ChangeTracker
                    .Entries<Delivery>()
                    .Where(e => e.State == EntityState.Added || (e.State == EntityState.Modified && e.Property(d => d.Sent).IsModified))
            )
                entry.Property(d => d.FileIds).CurrentValue = [.. (entry.Entity.Sent?.AllFiles() ?? []).Order()];
            foreach (
                EntityEntry<Delivery> entry in ChangeTracker
                    .Entries<Delivery>()
                    .Where(e => e.State == EntityState.Modified && Revised.Any(p => e.Property(p).IsModified))
            )
                entry.Property(d => d.Revision).CurrentValue++;
            foreach (
                EntityEntry<Decision> entry in ChangeTracker
                    .Entries<Decision>()
                    .Where(e => e.State is EntityState.Added or EntityState.Modified)
            )
                // Drawn rather than counted: one that was taken away and made anew must not look like the one that was seen.
                entry.Property(d => d.Revision).CurrentValue = RandomNumberGenerator.GetInt32(1, int.MaxValue);
            ChangeNotification notification = ChangeNotification.Of(ChangeTracker);
            if (Act is not null)
                ChangeRecorder.Record(Act, ChangeTracker, FirstChange);
            return notification;
        }
        finally
        {
            ChangeTracker.AutoDetectChangesEnabled = detects;
        }
    }

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        foreach (StoredKind kind in StoredKinds.All)
            configurationBuilder
                .Properties(typeof(Id<>).MakeGenericType(kind.Type))
                .HaveConversion(typeof(IdConverter<>).MakeGenericType(kind.Type));
    }

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.HasPostgresExtension("pg_trgm");
        builder.Entity<Person>().ToTable("people");
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("person_claims");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("person_logins");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("person_tokens");
        builder.Entity<IdentityUserPasskey<Guid>>().ToTable("person_passkeys");
        foreach (StoredKind kind in StoredKinds.All)
            kind.Map(builder);
        foreach (StoredKind kind in StoredKinds.PutAside)
            kind.Narrow(builder, this);
    }
}
