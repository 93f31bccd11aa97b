using System.Text.RegularExpressions;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>One row of a sheet as it was read.</summary>
/// <param name="Number">Row in the file, from 1.</param>
/// <param name="Title">As the row gives it; empty: it doesn't.</param>
/// <param name="Networks">Those that it names; empty: none.</param>
/// <param name="Channels">Where it goes, as it says itself; null: as its category says.</param>
/// <param name="GapDays">Its own; null: as its category says.</param>
/// <param name="Lifespan">Null: as its category says.</param>
/// <param name="Date">In the workspace's zone; null: none, or none that can be read.</param>
/// <param name="Findings">Each names the target in which it lies.</param>
/// <param name="IsSummary">A sum or the like below the posts: it is left out unless somebody says otherwise.</param>
public sealed partial record ImportRow(
    int Number,
    string Title,
    Id<Category>? CategoryId,
    IReadOnlyList<Id<Category>> FurtherCategories,
    IReadOnlyList<string> Networks,
    IReadOnlyList<Id<Channel>>? Channels,
    Lifespan? Lifespan,
    int? GapDays,
    LocalDate? From,
    LocalDate? To,
    LocalDate? Date,
    LocalTime? Time,
    string Notes,
    string? OutsideId,
    string? SendingId,
    PostContent Content,
    IReadOnlyList<Finding> Findings,
    bool IsSummary
)
{
    /// <summary>Exact local time to send it at; null leaves it to the rotation.</summary>
    public LocalDateTime? When => Date is { } date && Time is { } time ? date + time : null;

    private TextSketch? _sketch;

    /// <summary>Of its <see cref="Text"/>.</summary>
    public TextSketch Sketch => _sketch ??= TextSketch.Of(Text);

    private TextSketch? _sketchOfWords;

    /// <summary>Of its <see cref="Text"/> without its hashtags, which differ from network to network.</summary>
    public TextSketch SketchOfWords => _sketchOfWords ??= TextSketch.Of(Hashtags().Replace(Text, " "));

    [GeneratedRegex(@"[#＃][\p{L}\p{M}\p{N}_]+")]
    private static partial Regex Hashtags();

    public string Text =>
        Content.Common.Get(ContentFields.Text)
        ?? Content.AllLayers().Select(l => l.Get(ContentFields.Text)).FirstOrDefault(t => t is not null)
        ?? "";
}
