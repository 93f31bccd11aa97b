namespace AbleLark.Core.Imports;

/// <summary>How dates of one column are read.</summary>
/// <param name="Numbers">Order of day, month and year; null: not decided.</param>
/// <param name="Days">Epoch of counted days; null: not decided.</param>
/// <param name="Language">Language of its months; null: not decided.</param>
public sealed record DateOrders(DateOrder? Numbers = null, DateOrder? Days = null, DateOrder? Language = null)
{
    internal DateOrder? For(DateCell cell) => cell.Question is { } kind ? For(kind) : null;

    public DateOrder? For(DateQuestionKind kind) =>
        kind switch
        {
            DateQuestionKind.Days => Days,
            DateQuestionKind.Language => Language,
            _ => Numbers,
        };
}

/// <summary>What was decided about a sheet as a whole.</summary>
/// <param name="HeaderRow">From 1; 0: no row names the columns.</param>
/// <param name="Targets">By column; null: it is left out.</param>
/// <param name="Orders">By target, for columns of dates: what a person chose.</param>
/// <param name="Joins">Rows of one post, a network each: true joins all that are proposed, false none; null: each is asked about.</param>
/// <param name="Hidden">Rows and columns that the workbook hides: true takes them in, false leaves them out; null: it is asked.</param>
public sealed record ImportPlan(
    int HeaderRow,
    IReadOnlyList<string?> Targets,
    IReadOnlyDictionary<string, DateOrders> Orders,
    bool? Joins = null,
    bool? Hidden = null
);

/// <summary>What is done with a post that is there already.</summary>
public enum DoubleChoice
{
    LeaveOut,

    /// <summary>Its text becomes another wording of that post.</summary>
    Wording,

    /// <summary>That post takes over what the row says.</summary>
    Update,

    /// <summary>It is a post of its own all the same.</summary>
    Anyway,
}

/// <summary>What a person changed in a row.</summary>
/// <param name="Values">Cells by target, in place of those of the sheet.</param>
/// <param name="LeftOut">Null: as the import proposes.</param>
/// <param name="Fitted">Networks that its post is made to fit, as far as that needs no decision; null: none.</param>
/// <param name="Joined">Whether the rows that it heads are one post; null: not decided.</param>
/// <param name="With">Number of the row whose post it is part of; its own: it is a post by itself. Null: as it is recognised.</param>
public sealed record RowEdit(
    IReadOnlyDictionary<string, string> Values,
    bool? LeftOut = null,
    bool? Joined = null,
    DoubleChoice? IfThere = null,
    IReadOnlyList<string>? Fitted = null,
    int? With = null
)
{
    public static RowEdit None { get; } = new(new Dictionary<string, string>());

    public bool IsNone => Values.Count == 0 && LeftOut is null && Joined is null && IfThere is null && Fitted is null && With is null;
}
