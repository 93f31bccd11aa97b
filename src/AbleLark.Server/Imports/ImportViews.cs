using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Imports;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Data.Rows;
using AbleLark.Server.Posts;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <param name="Changed">Posts that were there and took something over.</param>
/// <param name="StartedBy">Whoever began it; null: somebody who is no longer there.</param>
public sealed record ImportLine(
    Guid Id,
    string FileName,
    ImportState State,
    Instant StartedAt,
    string? StartedBy,
    Instant? At,
    int Posts,
    int Changed,
    int Deliveries,
    Guid? ChangeSetId
);

/// <summary>What a column may become.</summary>
/// <param name="Group">Under which it is offered.</param>
public sealed record TargetView(string Key, string Name, string Group);

public sealed record ColumnView(
    int Place,
    string Letters,
    string Header,
    string? Target,
    MatchBasis Basis,
    IReadOnlyList<string> Witnesses,
    int Filled
);

/// <summary>What three rows of a column of dates would mean.</summary>
/// <param name="Dates">For each reading of the question, in its order; null: no date so.</param>
public sealed record DateWitness(int Row, string Cell, string? Weekday, IReadOnlyList<LocalDate?> Dates);

/// <param name="Target">Of the column.</param>
/// <param name="Chosen">What a person said; null: nobody did.</param>
public sealed record DateQuestionView(
    string Target,
    DateQuestionKind Kind,
    IReadOnlyList<DateReading> Readings,
    DateOrder? Decided,
    DateOrder? Chosen,
    DateDoubt? Doubt,
    IReadOnlyList<DateWitness> Witnesses
);

/// <param name="Encodings">Those that can be chosen; empty: the file is no text.</param>
/// <param name="Sheets">Those of the workbook; empty: it is none.</param>
/// <param name="OtherSheets">Those that hold anything and aren't read.</param>
/// <param name="Hidden">Null: nothing of it is hidden.</param>
public sealed record SourceView(
    string? Encoding,
    string? Delimiter,
    string? Sheet,
    IReadOnlyList<string> Sheets,
    IReadOnlyList<string> Encodings,
    IReadOnlyList<string> Delimiters,
    int Rows,
    IReadOnlyList<string> Doubts,
    int HeaderRow,
    IReadOnlyList<IReadOnlyList<string>> Top,
    IReadOnlyList<OtherSheet> OtherSheets,
    HiddenParts? Hidden
);

/// <param name="Rows">The last of its rows in which anything stands.</param>
public sealed record OtherSheet(string Name, int Rows);

/// <summary>What a workbook hides of the sheet that was read, as far as anything stands there.</summary>
/// <param name="Columns">Their letters.</param>
/// <param name="TakenIn">Null: somebody has to say before anything is imported.</param>
public sealed record HiddenParts(int Rows, IReadOnlyList<string> Columns, bool? TakenIn);

/// <summary>How many rows stand how.</summary>
/// <param name="Joins">Groups of rows about which somebody has to say whether they are one post.</param>
/// <param name="Doubles">Posts that are there already or nearly so, about which somebody has to say something.</param>
/// <param name="Offered">Rows for which a time is offered.</param>
/// <param name="Moved">Sendings that get another time.</param>
public sealed record ImportCounts(
    int Rows,
    int NeedsYou,
    int Advice,
    int Fine,
    int LeftOut,
    int Posts,
    int Changed,
    int Unchanged,
    int Deliveries,
    int Joins,
    int Doubles,
    int Offered,
    int Moved
);

/// <param name="IsOurs">True for a sheet of a known kind, whose columns nobody has to look at.</param>
/// <param name="Commit">How far the importing has come; null: it isn't under way.</param>
/// <param name="Trouble">Why the last importing came to nothing; null: it didn't.</param>
public sealed record ImportView(
    ImportLine Line,
    int Revision,
    SourceView Source,
    bool IsOurs,
    IReadOnlyList<ColumnView> Columns,
    IReadOnlyList<DateQuestionView> Questions,
    bool? Joins,
    ImportProgress Progress,
    ImportCounts Counts,
    CommitProgress? Commit,
    string? Trouble
);

/// <summary>What a post is like that is there already.</summary>
/// <param name="PostId">Null: it is a row.</param>
public sealed record DoubleView(
    Guid? PostId,
    string? Title,
    int? Row,
    double Likeness,
    bool IsSame,
    bool ById,
    DoubleChoice? Choice,
    IReadOnlyList<string> Differences
);

/// <param name="First">Number of its first row, which stands for all.</param>
/// <param name="Joined">Null: somebody has to say.</param>
public sealed record GroupView(int First, IReadOnlyList<int> Rows, string By, bool? Joined);

/// <param name="Value">What the cell would hold.</param>
public sealed record RowMend(string Target, string Value, string Words);

public sealed record NetworkFindings(string Network, Guid? ChannelId, IReadOnlyList<FindingView> Findings);

/// <param name="Cells">By target: each that a column holds or a person filled in.</param>
/// <param name="Edited">Targets whose cells a person changed.</param>
/// <param name="IsFirst">True: decisions about its post are taken here.</param>
/// <param name="Channels">Where it goes.</param>
/// <param name="Differences">What changes, of a row that came back from a planning sheet.</param>
/// <param name="Mends">What would mend a cell, one press each.</param>
public sealed record ImportRowView(
    int Number,
    RowStatus Status,
    string Title,
    Guid? CategoryId,
    LocalDateTime? When,
    IReadOnlyList<Guid> Channels,
    IReadOnlyDictionary<string, string> Cells,
    IReadOnlyList<string> Edited,
    IReadOnlyList<FindingView> Findings,
    IReadOnlyList<NetworkFindings> Networks,
    IReadOnlyList<RowMend> Mends,
    GroupView? Group,
    DoubleView? Twice,
    bool IsFirst,
    bool IsChecked,
    IReadOnlyList<string> Fitted,
    IReadOnlyList<string> Differences
);

public sealed record ImportRows(int Total, int Revision, IReadOnlyList<ImportRowView> Rows);

/// <param name="Encoding">Null: as it is recognised.</param>
/// <param name="HeaderRow">From 1; 0: none; null: as it is recognised.</param>
/// <param name="Hidden">Whether what the workbook hides is taken in; null: it is asked.</param>
public sealed record SourceEdit(
    [MaxLength(40)] string? Encoding,
    [MaxLength(1)] string? Delimiter,
    [MaxLength(100)] string? Sheet,
    [Range(0, 100, ErrorMessage = "The row that names the columns is one of the first 100, or none.")] int? HeaderRow,
    bool? Hidden = null
);

/// <param name="Targets">By column; null: it is left out.</param>
/// <param name="Orders">By target: how dates are written there, as far as somebody said.</param>
public sealed record ColumnsEdit(
    [MaxLength(200)] IReadOnlyList<ColumnChoice> Columns,
    IReadOnlyDictionary<string, DateOrders> Orders,
    bool? Joins
);

public sealed record ColumnChoice(int Place, [MaxLength(100)] string? Target);

/// <summary>Which rows: those that are named, or all that match.</summary>
/// <param name="Rows">Null: all that match the rest.</param>
public sealed record RowChoice(
    [MaxLength(25_000)] IReadOnlyList<int>? Rows,
    RowStatus? Status = null,
    [MaxLength(200)] string? Search = null,
    RowQuestion? About = null
);

/// <summary>What rows may be asked about all at once.</summary>
public enum RowQuestion
{
    Joins,
    Doubles,
    Offered,
}

/// <summary>What is changed in rows; what is null stays.</summary>
/// <param name="Values">Cells by target.</param>
/// <param name="TakeOffered">True: each takes the time that is offered.</param>
/// <param name="Fit">Networks that their posts are made to fit; none of them: they are again as they were.</param>
/// <param name="With">Number of the row whose post they are part of; 0: each is a post by itself; null: as it was.</param>
/// <param name="Reset">True: they are again as the sheet has them, before the rest is done.</param>
public sealed record RowsEdit(
    RowChoice Which,
    IReadOnlyDictionary<string, string>? Values,
    bool? LeftOut,
    bool? Joined,
    DoubleChoice? IfThere,
    bool TakeOffered,
    [MaxLength(50)] IReadOnlyList<string>? Fit,
    bool Reset,
    int? With = null
);

/// <param name="Target">In whose cells; matching minds the letter case.</param>
public sealed record ReplaceEdit(
    RowChoice Which,
    [MaxLength(100)] string Target,
    [MinLength(1, ErrorMessage = "Say what is to be found."), MaxLength(1_000)] string Find,
    [MaxLength(1_000)] string With
);

/// <param name="Changed">Numbers of the rows that are otherwise now, as far as they are few.</param>
public sealed record RowsChanged(int Count, int Revision, IReadOnlyList<int> Changed);
