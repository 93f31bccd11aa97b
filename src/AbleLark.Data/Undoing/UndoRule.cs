using AbleLark.Data.Rows;

namespace AbleLark.Data.Undoing;

/// <summary>How acts on a kind of row are taken back; said with the kind.</summary>
public sealed record UndoRule
{
    private UndoRule(Func<UndoScope, object, CancellationToken, Task> takeAway) => TakeAway = takeAway;

    /// <summary>Takes away one that the act added, or says what stands against that.</summary>
    internal Func<UndoScope, object, CancellationToken, Task> TakeAway { get; }

    /// <summary>Why what the act did to one stays as it is, in words; null: it needn't. Asked before anything is done to it; the row is
    /// null where it is gone.</summary>
    internal Func<UndoScope, object?, Change, CancellationToken, Task<string?>> WhyStays { get; init; } =
        (_, _, _, _) => Task.FromResult<string?>(null);

    /// <summary>Why one that was removed doesn't come back; null: it does.</summary>
    public string? StaysRemoved { get; init; }

    /// <summary>Properties that stay as they are while the others come back, and the words for it.</summary>
    public IReadOnlyDictionary<string, string> Staying { get; init; } = new Dictionary<string, string>();

    /// <summary>What goes with it where properties are as before.</summary>
    internal Func<UndoScope, object, IReadOnlyCollection<string>, CancellationToken, Task> Afterwards { get; init; } =
        (_, _, _, _) => Task.CompletedTask;

    /// <summary>Properties after whose change posts may stand otherwise with the networks though they say the same; null: none, and empty:
    /// all of them.</summary>
    public IReadOnlyList<string>? PostsRestOn { get; init; }

    /// <summary>One that was added is deleted: nothing can stand against that.</summary>
    internal static UndoRule Deleted { get; } =
        new(
            (undo, row, _) =>
            {
                undo.Db.Remove(row);
                undo.Count();
                return Task.CompletedTask;
            }
        );

    /// <summary>One that was added stays, as the words say.</summary>
    internal static UndoRule Stays(string words) =>
        new(
            (undo, _, _) =>
            {
                undo.Keep(words);
                return Task.CompletedTask;
            }
        );

    /// <summary>One that was added is taken away by what is given.</summary>
    internal static UndoRule Of<T>(Func<UndoScope, T, CancellationToken, Task> takeAway)
        where T : class => new((undo, row, cancellation) => takeAway(undo, (T)row, cancellation));
}
