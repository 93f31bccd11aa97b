using System.Text.Json;
using AbleLark.Core.Acts;
using AbleLark.Core.Rotas;
using AbleLark.Data.Kinds;
using AbleLark.Data.People;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace AbleLark.Data;

/// <summary>How the types lie in tables: each as its <see cref="StoredKind"/> says.</summary>
internal static class LarkModel
{
    public static void Build(ModelBuilder builder)
    {
        builder.HasPostgresExtension("pg_trgm");
        builder.Entity<Person>().ToTable("people");
        builder.Entity<IdentityUserClaim<Guid>>().ToTable("person_claims");
        builder.Entity<IdentityUserLogin<Guid>>().ToTable("person_logins");
        builder.Entity<IdentityUserToken<Guid>>().ToTable("person_tokens");
        builder.Entity<IdentityUserPasskey<Guid>>().ToTable("person_passkeys");
        foreach (StoredKind kind in StoredKinds.All)
            kind.Map(builder);
    }

    /// <summary>Maps who did it by its parts, so that they can be asked for.</summary>
    public static void HasActor<T>(this EntityTypeBuilder<T> entity)
        where T : HasActor => entity.Ignore(e => e.By);

    /// <summary>Maps an origin by its parts, so that they can be indexed and asked for.</summary>
    public static void HasOrigin<T>(this EntityTypeBuilder<T> entity)
        where T : HasOrigin
    {
        entity.Ignore(e => e.Origin);
        entity.Property(e => e.OriginKind).HasConversion<string>();
    }

    /// <summary>Keeps a value as one jsonb document; two values are the same when their documents are.</summary>
    /// <param name="read">Reads the document; null: as any JSON is read.</param>
    public static void AsDocument<T>(this PropertyBuilder<T> property, Func<string, T>? read = null)
    {
        read ??= text => JsonSerializer.Deserialize<T>(text, LarkJson.Options)!;
        property
            .HasColumnType("jsonb")
            .HasConversion(
                value => JsonSerializer.Serialize(value, LarkJson.Options),
                text => read(text),
                new ValueComparer<T>(
                    (a, b) => JsonSerializer.Serialize(a, LarkJson.Options) == JsonSerializer.Serialize(b, LarkJson.Options),
                    value => JsonSerializer.Serialize(value, LarkJson.Options).GetHashCode(StringComparison.Ordinal),
                    value => JsonSerializer.Deserialize<T>(JsonSerializer.Serialize(value, LarkJson.Options), LarkJson.Options)!
                )
            );
    }
}
