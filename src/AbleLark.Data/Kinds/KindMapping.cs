using System.Text.Json;
using AbleLark.Core.Acts;
using AbleLark.Core.Rotas;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace AbleLark.Data.Kinds;

/// <summary>How values lie in columns.</summary>
internal static class KindMapping
{
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
