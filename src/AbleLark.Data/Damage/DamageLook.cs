using System.Collections;
using System.Reflection;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using NodaTime;
using Npgsql;

namespace AbleLark.Data.Damage;

/// <summary>Looks through a workspace's rows for those that can't be read, and for those of which nothing can be worked out.</summary>
public static class DamageLook
{
    /// <summary>Rows that are read at once, as long as none of them fails.</summary>
    private const int AtOnce = 1_000;

    private static readonly Instant Earliest = Instant.FromUtc(1900, 1, 1, 0, 0);
    private static readonly Instant Latest = Instant.FromUtc(2300, 1, 1, 0, 0);

    /// <summary>Finds the damaged rows of one kind.</summary>
    /// <param name="key">By what they are put aside.</param>
    /// <param name="suspects">SQL for the ids that are looked at; null: all.</param>
    /// <param name="check">Says what is wrong with a row that was read, by the field; null: nothing.</param>
    internal static async Task<List<DamagedRow>> FindAsync<T, TOwner>(
        LarkDb db,
        Id<Workspace> workspace,
        AsideKey<T, TOwner> key,
        string? suspects,
        Func<T, (string Field, string Words)?>? check,
        Instant now,
        CancellationToken cancellation
    )
        where T : class
        where TOwner : class
    {
        IEntityType type = db.Model.FindEntityType(typeof(T))!;
        string whose = typeof(T) == typeof(Workspace) ? nameof(Workspace.Id) : nameof(DamagedRow.WorkspaceId);
        IQueryable<T> all = db.Set<T>().IgnoreQueryFilters().AsNoTracking().Where(e => EF.Property<Id<Workspace>>(e, whose) == workspace);
        List<Id<TOwner>> ids = suspects is null
            ? await all.Select(key.Key).Distinct().OrderBy(i => i).ToListAsync(cancellation)
            :
            [
                .. (await db.Database.SqlQueryRaw<Guid>(suspects, workspace.Value).ToListAsync(cancellation)).Select(i => new Id<TOwner>(
                    i
                )),
            ];
        List<DamagedRow> found = [];
        Stack<ArraySegment<Id<TOwner>>> left = new(ids.Chunk(AtOnce).Select(c => new ArraySegment<Id<TOwner>>(c)));
        while (left.TryPop(out ArraySegment<Id<TOwner>> some))
        {
            cancellation.ThrowIfCancellationRequested();
            List<Id<TOwner>> these = [.. some];
            IQueryable<T> rows = all.Where(key.With(id => these.Contains(id)));
            try
            {
                foreach (T row in await rows.ToListAsync(cancellation))
                {
                    if ((Nonsense(type, row) ?? check?.Invoke(row)) is { } wrong && found.TrueForAll(f => f.RowId != key.Of(row).Value))
                        found.Add(Row(key.Of(row), wrong.Field, wrong.Words));
                }
            }
            catch (Exception e) when (IsOfReading(e))
            {
                if (some.Count > 1)
                {
                    left.Push(some[..(some.Count / 2)]);
                    left.Push(some[(some.Count / 2)..]);
                    continue;
                }
                (string field, string words) = await FieldAsync(rows, type, cancellation);
                found.Add(Row(these[0], field, words.Length > 0 ? words : WordsOf(e)));
            }
        }
        return found;

        DamagedRow Row(Id<TOwner> id, string field, string words) =>
            new()
            {
                WorkspaceId = workspace,
                Kind = typeof(T).Name,
                RowId = id.Value,
                Table = type.GetTableName()!,
                Field = field,
                Words = words.Length > 300 ? words[..300] : words,
                FoundAt = now,
            };
    }

    /// <summary>True for what a value that can't be read leads to; not for a database that is away, or refuses a question.</summary>
    private static bool IsOfReading(Exception e) =>
        e is not OperationCanceledException && e.GetBaseException() is not NpgsqlException && !DatabaseTrouble.IsAway(e);

    /// <summary>What is wrong, in words that name no type of the code.</summary>
    private static string WordsOf(Exception e) =>
        e.GetBaseException() is JsonException broken ? $"it can't be read at {broken.Path ?? "$"}" : e.GetBaseException().Message;

    /// <summary>Which column of a single row can't be read.</summary>
    private static async Task<(string Field, string Words)> FieldAsync<T>(
        IQueryable<T> row,
        IEntityType type,
        CancellationToken cancellation
    )
        where T : class
    {
        MethodInfo read = typeof(DamageLook).GetMethod(nameof(ReadAsync), BindingFlags.NonPublic | BindingFlags.Static)!;
        foreach (IProperty property in type.GetProperties())
        {
            try
            {
                await (Task)read.MakeGenericMethod(typeof(T), property.ClrType).Invoke(null, [row, property.Name, cancellation])!;
            }
            catch (Exception e) when (IsOfReading(e))
            {
                return (property.GetColumnName(), WordsOf(e));
            }
        }
        return ("", "");
    }

    private static Task<List<TValue>> ReadAsync<T, TValue>(IQueryable<T> row, string property, CancellationToken cancellation)
        where T : class => row.Select(e => EF.Property<TValue>(e, property)).ToListAsync(cancellation);

    /// <summary>What no value of its type may be: no time, no name of its kind, nothing where something has to be.</summary>
    private static (string Field, string Words)? Nonsense(IEntityType type, object row)
    {
        foreach (IProperty property in type.GetProperties())
        {
            if (property.PropertyInfo is not { } info)
                continue;
            object? value = info.GetValue(row);
            string? words = value switch
            {
                null => property.IsNullable ? null : "nothing stands there",
                Instant i when i < Earliest || i > Latest => "it is no time to plan with",
                LocalDate d when d.Year is < 1900 or > 2300 => "it is no date to plan with",
                LocalDateTime t when t.Year is < 1900 or > 2300 => "it is no time to plan with",
                Enum e when !Enum.IsDefined(e.GetType(), e) => $"{e} is nothing that it can be",
                IEnumerable list and not string when Any(list, v => v is null) => "something in it is missing",
                IEnumerable list and not string when Any(list, v => v is Enum e && !Enum.IsDefined(e.GetType(), e)) =>
                    "something in it is nothing that it can be",
                _ => null,
            };
            if (words is not null)
                return (property.GetColumnName(), words);
        }
        return null;

        static bool Any(IEnumerable list, Func<object?, bool> is_)
        {
            foreach (object? value in list)
            {
                if (is_(value))
                    return true;
            }
            return false;
        }
    }

    /// <summary>The workspaces whose own rows can't be read.</summary>
    internal static async Task<List<Id<Workspace>>> WorkspacesAsync(LarkDb db, CancellationToken cancellation)
    {
        List<Id<Workspace>> found = [];
        IQueryable<Workspace> all = db.Workspaces.IgnoreQueryFilters().AsNoTracking();
        foreach (Id<Workspace> id in await all.Select(w => w.Id).ToListAsync(cancellation))
        {
            try
            {
                await all.SingleOrDefaultAsync(w => w.Id == id, cancellation);
            }
            catch (Exception e) when (IsOfReading(e))
            {
                found.Add(id);
            }
        }
        return found;
    }

    /// <summary>Rows that belong to damaged ones by a key: nothing can be worked out from them either.</summary>
    internal static async Task<List<DamagedRow>> BelongingAsync<T>(
        LarkDb db,
        Id<Workspace> workspace,
        IReadOnlyCollection<DamagedRow> damaged,
        Instant now,
        CancellationToken cancellation
    )
        where T : class
    {
        IEntityType type = db.Model.FindEntityType(typeof(T))!;
        List<DamagedRow> found = [];
        foreach (IForeignKey key in type.GetForeignKeys())
        {
            string principal = key.PrincipalEntityType.ClrType.Name;
            IProperty column = key.Properties[^1];
            List<Guid> ids = [.. damaged.Where(d => d.Kind == principal).Select(d => d.RowId)];
            if (ids.Count == 0 || principal == nameof(Workspace))
                continue;
            string table = type.GetTableName()!;
            // Names of the model's own, and nothing that anybody gave.
            string sql =
                "select id as \"Value\" from \"" + table + "\" where workspace_id = {0} and \"" + column.GetColumnName() + "\" = any({1})";
            List<Guid> rows = await db.Database.SqlQueryRaw<Guid>(sql, workspace.Value, ids.ToArray()).ToListAsync(cancellation);
            found.AddRange(
                rows.Select(id => new DamagedRow
                {
                    WorkspaceId = workspace,
                    Kind = typeof(T).Name,
                    RowId = id,
                    Table = table,
                    Field = column.GetColumnName(),
                    Words = $"it belongs to a row of {key.PrincipalEntityType.GetTableName()} that can't be read",
                    FoundAt = now,
                })
            );
        }
        return found;
    }
}
