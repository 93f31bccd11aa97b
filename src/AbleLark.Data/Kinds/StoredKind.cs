using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Data.Undoing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using NodaTime;

namespace AbleLark.Data.Kinds;

/// <summary>What a change is told under; the page knows which of its views each makes old.</summary>
public enum Topic
{
    Workspace,
    Channels,
    Calendar,
    Categories,
    Rota,
    Posts,
    Media,
    Deliveries,
    Results,
    Imports,
    Changes,
    Desk,
}

/// <summary>Whether acts on a kind stand in the change log, and so can be undone.</summary>
/// <param name="Name">The kind's name in the log, which stays whatever the type is called; null: it isn't logged.</param>
/// <param name="WhyNot">Why it isn't.</param>
/// <param name="Undo">How acts on it are taken back; null: it isn't logged.</param>
public sealed record Logged(string? Name, string? WhyNot, UndoRule? Undo)
{
    public static Logged As(string name, UndoRule undo) => new(name, null, undo);

    public static Logged Not(string why) => new(null, why, null);
}

/// <summary>Whether changes of a kind are told to open pages, and whether they change what the rota will send.</summary>
/// <param name="Topic">Null: not told.</param>
/// <param name="WhyNot">Why it isn't.</param>
/// <param name="ChangesPlan">True for a changed row after which the line-up may be another.</param>
public sealed record Told(Topic? Topic, string? WhyNot, Func<EntityEntry, bool> ChangesPlan)
{
    public static Told Under(Topic topic, Func<EntityEntry, bool>? changesPlan = null) => new(topic, null, changesPlan ?? Plan.Never);

    public static Told Not(string why) => new(null, why, Plan.Never);
}

public static class Plan
{
    public static bool Always(EntityEntry entry) => true;

    public static bool Never(EntityEntry entry) => false;
}

/// <summary>Everything that is said once about a kind of row: its table, its name in the change log, what its changes are told
/// under.</summary>
public abstract record StoredKind(Type Type, Logged Log, Told Told)
{
    internal abstract void Map(ModelBuilder builder);

    /// <summary>True where a damaged row can be put aside without the others. What can't be touches nothing but the row that it belongs
    /// to.</summary>
    internal abstract bool CanBePutAside { get; }

    /// <summary>True where it is put aside by an id of its own.</summary>
    internal abstract bool HasOwnId { get; }

    /// <summary>Reads rows at once, by identity; those that are gone are left out.</summary>
    internal abstract Task LoadAsync(LarkDb db, Id<Workspace> workspace, IReadOnlyList<Guid> ids, CancellationToken cancellation);

    /// <summary>Lets every query leave out what is put aside.</summary>
    internal abstract void Narrow(ModelBuilder builder, LarkDb db);

    internal abstract Task<List<DamagedRow>> DamagedAsync(LarkDb db, Id<Workspace> workspace, Instant now, CancellationToken cancellation);

    internal abstract Task<List<DamagedRow>> BelongingAsync(
        LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyCollection<DamagedRow> damaged,
        Instant now,
        CancellationToken cancellation
    );
}

/// <param name="Mapping">Keys begin with the workspace, so that no reference can cross from one to another.</param>
internal sealed record StoredKind<T>(Logged Log, Told Told, Action<EntityTypeBuilder<T>> Mapping) : StoredKind(typeof(T), Log, Told)
    where T : class
{
    /// <summary>What is wrong with a row that can be read, by the field; null: nothing. It may throw, which is wrong as well.</summary>
    public Func<T, (string Field, string Words)?>? Check { get; init; }

    /// <summary>By what damaged rows are put aside; null: they can't be.</summary>
    public AsideKey<T>? AsideBy { get; init; } = AsideKey<T>.Own;

    /// <summary>SQL (with the workspace as its one parameter) for what may be damaged, where there are too many rows to look at each; null:
    /// any may be.</summary>
    public string? Suspects { get; init; }

    internal override bool CanBePutAside => AsideBy is not null;

    internal override bool HasOwnId => AsideKey<T>.Own is not null;

    internal override void Map(ModelBuilder builder) => builder.Entity(Mapping);

    internal override Task LoadAsync(LarkDb db, Id<Workspace> workspace, IReadOnlyList<Guid> ids, CancellationToken cancellation)
    {
        List<Id<T>> typed = [.. ids.Select(i => new Id<T>(i))];
        IQueryable<T> rows = db.Set<T>().Where(r => typed.Contains(EF.Property<Id<T>>(r, "Id")));
        return (
            typeof(T) == typeof(Workspace) ? rows : rows.Where(r => EF.Property<Id<Workspace>>(r, "WorkspaceId") == workspace)
        ).LoadAsync(cancellation);
    }

    internal override void Narrow(ModelBuilder builder, LarkDb db) => AsideBy!.Narrow(builder, db);

    internal override Task<List<DamagedRow>> DamagedAsync(
        LarkDb db,
        Id<Workspace> workspace,
        Instant now,
        CancellationToken cancellation
    ) => AsideBy!.FindAsync(db, workspace, Suspects, Check, now, cancellation);

    internal override Task<List<DamagedRow>> BelongingAsync(
        LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyCollection<DamagedRow> damaged,
        Instant now,
        CancellationToken cancellation
    ) => DamageLook.BelongingAsync<T>(db, workspace, damaged, now, cancellation);
}

/// <summary>Every kind of row but the tables of the sign-in library.</summary>
public static class StoredKinds
{
    /// <summary>Kinds of which single rows can be put aside.</summary>
    public static IReadOnlyList<StoredKind> PutAside => [.. All.Where(k => k.CanBePutAside)];

    public static IReadOnlyList<StoredKind> All { get; } =
    [.. PeopleKinds.All, .. SetUpKinds.All, .. CalendarKinds.All, .. ContentKinds.All, .. DeliveryKinds.All, .. HistoryKinds.All];

    private static readonly Dictionary<Type, StoredKind> ByType = All.ToDictionary(k => k.Type);

    private static readonly Dictionary<string, StoredKind> ByLogName = All.Where(k => k.Log.Name is not null)
        .ToDictionary(k => k.Log.Name!, StringComparer.Ordinal);

    /// <summary>The kind of a type; null for a table of the sign-in library.</summary>
    public static StoredKind? Of(Type type) => ByType.GetValueOrDefault(type);

    /// <summary>The kind that the change log calls so.</summary>
    /// <exception cref="KeyNotFoundException">The log knows no such kind: a migration has to rename what it holds.</exception>
    public static StoredKind Logged(string name) => ByLogName[name];
}
