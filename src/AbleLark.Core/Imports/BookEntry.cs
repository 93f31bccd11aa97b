using System.Globalization;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;

namespace AbleLark.Core.Imports;

/// <summary>How a row stands.</summary>
public enum RowStatus
{
    /// <summary>It stays out until somebody has decided or mended something.</summary>
    NeedsYou,

    /// <summary>It can be imported; something about it is worth knowing.</summary>
    Advice,
    Fine,
    LeftOut,
}

/// <summary>How a post stands with the networks, as it would be kept.</summary>
public sealed record EntryChecks(
    PostContent Content,
    IReadOnlyDictionary<string, Fit> Fits,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Hashes,
    string Rules,
    IReadOnlyList<FixDone> Fixed
)
{
    public static EntryChecks Of(PostContent content, IReadOnlyList<string> fitted, ImportContext context)
    {
        List<FixDone> done = [];
        foreach (string network in fitted.Where(context.Networks.Has))
        {
            FittedContent fit = Fitting.Fit(content, context.Networks[network], context.Sources);
            content = fit.Content;
            done.AddRange(fit.Done);
        }
        PostChecks checks = PostChecks.Of(content, context.Networks, context.Channels, context.Sources);
        // Most networks get the same words: what is equal is kept once.
        Dictionary<string, string> kept = [];
        return new(
            content,
            checks.Fits().ToDictionary(f => f.Key, f => f.Value with { TextFingerprint = Once(f.Value.TextFingerprint) }),
            checks.Hashes().ToDictionary(h => h.Key, IReadOnlyList<string> (h) => [.. h.Value.Select(Once)]),
            checks.Rules,
            done
        );

        string Once(string text) => kept.TryGetValue(text, out string? same) ? same : kept[text] = text;
    }
}

/// <summary>A post as the import would make it, with all that was found and decided about it.</summary>
public sealed class BookEntry(RowGroup group, ImportDraft draft, RowEdit edit, bool asksToJoin, bool leftOut)
{
    /// <summary>The rows that are, or may be, this post.</summary>
    public RowGroup Group { get; } = group;

    public ImportDraft Draft { get; } = draft;

    /// <summary>What was decided in its first row.</summary>
    public RowEdit Edit { get; } = edit;

    /// <summary>True: somebody has to say whether its rows are one post.</summary>
    public bool AsksToJoin { get; } = asksToJoin;

    /// <summary>Null: not looked for yet, or none.</summary>
    public DoubleOf? Twice { get; internal set; }

    /// <summary>What is done with it where it is there already; null: somebody has to say.</summary>
    public DoubleChoice? Choice =>
        IsOfSendings ? DoubleChoice.Update
        : Twice is null ? DoubleChoice.Anyway
        : Edit.IfThere ?? Twice.Proposed;

    /// <summary>True: its rows are sendings of a post of the bank, from a planning sheet.</summary>
    public bool IsOfSendings { get; internal init; }

    /// <summary>Sendings that get another time.</summary>
    public IReadOnlyList<SheetMove> Moves { get; internal init; } = [];

    /// <summary>What the post of the bank becomes; null: none is changed.</summary>
    public PostUpdate? Update { get; internal set; }

    /// <summary>What differs in it, in words.</summary>
    public IReadOnlyList<string> Differences { get; internal set; } = [];

    /// <summary>About its times, beside all others.</summary>
    public IReadOnlyList<Finding> Times { get; internal set; } = [];

    /// <summary>That its outside id stands in an earlier row; null: it doesn't.</summary>
    internal Finding? IdTwice { get; set; }

    /// <summary>Null: not checked yet.</summary>
    public EntryChecks? Checks { get; internal set; }

    /// <summary>True: it was taken out by hand, or is no post.</summary>
    public bool IsTakenOut { get; } = leftOut;

    public bool IsLeftOut => IsTakenOut || Choice == DoubleChoice.LeaveOut;

    /// <summary>The content that is checked and kept.</summary>
    public PostContent Content => Update?.Content ?? Draft.Content;

    /// <summary>True: a post of the bank takes it over, and nothing in it changes.</summary>
    public bool IsUnchanged => Update is not null && Differences.Count == 0 && Moves.Count == 0 && Choice == DoubleChoice.Update;

    public RowStatus Status =>
        IsLeftOut ? RowStatus.LeftOut
        : Findings.Any(f => f.Blocks) ? RowStatus.NeedsYou
        : Findings.Any() || NetworkFindings.Any() ? RowStatus.Advice
        : RowStatus.Fine;

    /// <summary>All but those of single networks.</summary>
    public IEnumerable<Finding> Findings
    {
        get
        {
            // Of what is taken out nobody wants to hear.
            if (IsTakenOut)
            {
                if (Draft.First.IsSummary)
                    yield return new(FindingCode.RowSummary, Severity.Advice, "row");
                yield break;
            }
            foreach (Finding finding in Draft.AllFindings)
                yield return finding;
            foreach (Finding finding in Times)
                yield return finding;
            if (Belonging(Draft.Number) is { } belonging)
                yield return belonging;
            if (IdTwice is not null)
                yield return IdTwice;
            if (Double is { } twice)
                yield return twice;
            if (IsNowhere)
                yield return new(FindingCode.RowNowhere, Severity.Blocks, ContentFields.Text.Key);
        }
    }

    /// <summary>That somebody has to say whether a row is one post with the others; null: nobody has.</summary>
    public Finding? Belonging(int row) =>
        AsksToJoin ? new(FindingCode.RowBelongs, Severity.Blocks, "row", Group.Others(row), Group.ByWords) : null;

    /// <summary>Of the networks and channels that it goes to, by their keys in <see cref="Post.Fits"/>.</summary>
    public IEnumerable<(string Key, IReadOnlyList<Finding> Findings)> NetworkFindings =>
        Checks is null
            ? []
            : Checks.Fits.Where(f => GoesTo.Contains(f.Key)).Select(f => (f.Key, f.Value.Findings)).Where(f => f.Findings.Count > 0);

    /// <summary>Keys, as in <see cref="Post.Fits"/>, of where it goes.</summary>
    internal IReadOnlySet<string> GoesTo { get; set; } = new HashSet<string>();

    private bool IsNowhere =>
        Checks is not null
        && GoesTo.Count > 0
        && Checks.Fits.Where(f => GoesTo.Contains(f.Key)) is var there
        && there.Any()
        && there.All(f => !f.Value.Fits);

    private Finding? Double
    {
        get
        {
            if (Twice is not { } twice)
                return null;
            Severity severity = Choice is null ? Severity.Blocks : Severity.Advice;
            string percent = Whole((int)Math.Round(twice.Likeness * 100));
            return twice switch
            {
                { ById: true } => new(
                    IsUnchanged ? FindingCode.RowUnchanged : FindingCode.RowKnownById,
                    severity,
                    ImportTargets.KeyOf(RowField.OutsideId),
                    twice.Known!.Title
                ),
                { Known: { } known, IsSame: true } => new(FindingCode.RowKnown, severity, ContentFields.Text.Key, known.Title),
                { Known: { } known } => new(FindingCode.RowNearKnown, severity, ContentFields.Text.Key, known.Title, percent),
                { IsSame: true } => new(FindingCode.RowTwice, severity, ContentFields.Text.Key, Whole(twice.Row!.Value)),
                _ => new(FindingCode.RowNearRow, severity, ContentFields.Text.Key, Whole(twice.Row!.Value), percent),
            };
        }
    }

    /// <summary>Keys of what channels get.</summary>
    internal static HashSet<string> KeysOf(IEnumerable<Channel> channels, EntryChecks checks) =>
        [.. channels.Select(c => checks.Fits.ContainsKey(c.FitKey) ? c.FitKey : c.Network)];

    private static string Whole(int n) => n.ToString(CultureInfo.InvariantCulture);
}
