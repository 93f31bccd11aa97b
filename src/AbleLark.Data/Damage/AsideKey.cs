using System.Linq.Expressions;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Damage;

/// <summary>By what rows of a kind are put aside: by an id of their own, or by that of the row that they belong to, all of one
/// together.</summary>
internal abstract class AsideKey<T>
    where T : class
{
    /// <summary>By the kind's own id; null: it has none, or no workspace.</summary>
    public static AsideKey<T>? Own { get; } = OfItself();

    public static AsideKey<T> Of<TOwner>(Expression<Func<T, Id<TOwner>>> key)
        where TOwner : class => new AsideKey<T, TOwner>(key);

    /// <summary>Lets every query leave out what is put aside.</summary>
    public abstract void Narrow(ModelBuilder builder, LarkDb db);

    /// <summary>Finds what of a workspace can't be read.</summary>
    /// <param name="suspects">See <see cref="Kinds.StoredKind{T}.Suspects"/>.</param>
    /// <param name="check">See <see cref="Kinds.StoredKind{T}.Check"/>.</param>
    public abstract Task<List<DamagedRow>> FindAsync(
        LarkDb db,
        Id<Workspace> workspace,
        string? suspects,
        Func<T, (string Field, string Words)?>? check,
        Instant now,
        CancellationToken cancellation
    );

    private static AsideKey<T, T>? OfItself()
    {
        if (typeof(T).GetProperty("Id")?.PropertyType != typeof(Id<T>) || typeof(T).GetProperty("WorkspaceId") is null)
            return null;
        ParameterExpression row = Expression.Parameter(typeof(T), "row");
        return new AsideKey<T, T>(Expression.Lambda<Func<T, Id<T>>>(Expression.Property(row, "Id"), row));
    }
}

/// <inheritdoc/>
internal sealed class AsideKey<T, TOwner>(Expression<Func<T, Id<TOwner>>> key) : AsideKey<T>
    where T : class
    where TOwner : class
{
    public override void Narrow(ModelBuilder builder, LarkDb db) =>
        builder.Entity<T>().HasQueryFilter(With(id => !db.Aside<T, TOwner>().Contains(id)));

    public override Task<List<DamagedRow>> FindAsync(
        LarkDb db,
        Id<Workspace> workspace,
        string? suspects,
        Func<T, (string Field, string Words)?>? check,
        Instant now,
        CancellationToken cancellation
    ) => DamageLook.FindAsync(db, workspace, this, suspects, check, now, cancellation);

    /// <summary>The ids of rows.</summary>
    public Expression<Func<T, Id<TOwner>>> Key => key;

    public Func<T, Id<TOwner>> Of { get; } = key.Compile();

    /// <summary>Rows for whose id something holds.</summary>
    public Expression<Func<T, bool>> With(Expression<Func<Id<TOwner>, bool>> holds) =>
        Expression.Lambda<Func<T, bool>>(
            Microsoft.EntityFrameworkCore.Query.ReplacingExpressionVisitor.Replace(holds.Parameters[0], key.Body, holds.Body),
            key.Parameters
        );
}
