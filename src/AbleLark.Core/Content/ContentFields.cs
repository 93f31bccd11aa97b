using System.Text.Json;
using System.Text.Json.Serialization;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>The content fields that there are. One more is one more declaration here, and a line under `fields` in the file of each
/// network that takes it.</summary>
public static class ContentFields
{
    public static Field<string> Text { get; } = new PostText("text", "Text", most: 100_000, FieldKind.Text) { IsEverywhere = true };

    public static Field<string> Link { get; } = new LinkField("link", "Link") { IsEverywhere = true };

    public static Field<Picture> Picture { get; } = new PictureField("picture", "Picture") { IsEverywhere = true };

    public static Field<string> AltText { get; } = new AltTextField("altText", "Alt text", most: 2_000);

    public static Field<string> Title { get; } = new TextField("title", "Title on the network", most: 500);

    public static Field<string> Wall { get; } = new TextField("wall", "Wall", most: 200);

    public static Field<string> FirstComment { get; } = new TextField("firstComment", "First comment", most: 20_000, FieldKind.Text);

    public static Field<string> Location { get; } = new TextField("location", "Location", most: 300);

    public static Field<string> ContentWarning { get; } = new TextField("contentWarning", "Content warning", most: 1_000);

    public static Field<string> Visibility { get; } = new TextField("visibility", "Visibility", most: 40, FieldKind.Choice);

    public static Field<string> ButtonVerb { get; } = new ButtonVerbField("buttonVerb", "Button", most: 100);

    public static Field<string> ButtonTarget { get; } = new ButtonTargetField("buttonTarget", "The button leads to");

    private static readonly DateTextField From = new("offeredFrom", "Offered or held from");

    public static Field<string> OfferedFrom => From;

    public static Field<string> OfferedUntil { get; } = new UntilField("offeredUntil", "Offered or held until", From);

    /// <summary>In the order in which they are shown.</summary>
    public static IReadOnlyList<Field> All { get; } =
    [
        Text,
        Link,
        Picture,
        AltText,
        Title,
        Wall,
        FirstComment,
        Location,
        ContentWarning,
        Visibility,
        ButtonVerb,
        ButtonTarget,
        OfferedFrom,
        OfferedUntil,
    ];
}

/// <summary>The words of a post. Each network has rules for its length and its hashtags.</summary>
internal sealed class PostText(string key, string name, int most, FieldKind kind) : TextField(key, name, most, kind)
{
    internal override void Check(FieldCheck check)
    {
        (TextCount count, NetworkRules rules) = (check.Count, check.Rules);
        if (string.IsNullOrWhiteSpace(check.Content.Text) && check.Content.PictureId is null)
            check.Block(FindingCode.NothingToSend, this, rules.Name);
        if (!count.Fits)
            check.Block(
                FindingCode.TextTooLong,
                this,
                FieldCheck.Whole(count.Units),
                FieldCheck.Whole(count.Limit),
                rules.Name,
                FieldCheck.Whole(count.Units - count.Limit)
            );
        if (rules.Text.FoldAfter is { } fold && count.Units > fold)
            check.Advise(FindingCode.TextFolds, this, FieldCheck.Whole(fold), rules.Name);
        // What stands in the first comment counts with the text.
        int hashtags = count.Hashtags + TextParts.Find(check.Content.FirstComment ?? "").Count(p => p.Kind == TextPartKind.Hashtag);
        if (rules.Hashtags.Most is { } most && hashtags > most)
            check.Block(FindingCode.TooManyHashtags, this, FieldCheck.Whole(hashtags), FieldCheck.Whole(most), rules.Name);
        else if (rules.Hashtags.Advised is { } advised && hashtags > advised)
            check.Advise(FindingCode.HashtagsAdvised, this, FieldCheck.Whole(hashtags), FieldCheck.Whole(advised), rules.Name);
    }
}

/// <summary>A web address.</summary>
internal sealed class LinkField(string key, string name) : TextField(key, name, WebAddress.Longest, FieldKind.Link)
{
    protected override string? Tidied(string value)
    {
        string link = value.Trim();
        if (link.Length == 0)
            return null;
        return WebAddress.IsValid(link)
            ? link
            : throw new FormatException(
                $"“{(link.Length > 80 ? link[..80] + "…" : link)}” is not a web address. It should start with https://."
            );
    }

    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed) =>
        WebAddress.IsValid(cell) ? (cell, null) : (null, new(FindingCode.RowLinkBroken, Severity.Blocks, Key, cell));

    internal override void Check(FieldCheck check)
    {
        if (check.Rules.Link == LinkShown.NotClickable && check.Count.Links > 0)
            check.Advise(FindingCode.LinkNotClickable, this, check.Rules.Name);
        if (check.Rules.LinkNeeded && check.Content.CardLink is null)
            check.Block(FindingCode.LinkMissing, this, check.Rules.Name);
    }
}

/// <summary>The picture in words, where a post says otherwise than the file itself.</summary>
internal sealed class AltTextField(string key, string name, int most) : TextField(key, name, most)
{
    /// <summary>Needed only where there is a picture that has none of its own.</summary>
    internal override void Check(FieldCheck check)
    {
        if (check.Rules.RulesOf(Key) is not { } rules)
            return;
        string? own = check.Content.Fields.Get(this);
        if (!string.IsNullOrWhiteSpace(own))
            check.Long(rules, this, own);
        else if (rules.IsNeeded && check.Content.PictureId is { } id && check.Sources.Media(id) is { AltText.Length: 0 })
            check.Block(FindingCode.AltTextMissing, this, check.Rules.Name);
    }
}

/// <summary>A chosen picture.</summary>
[JsonConverter(typeof(Json))]
public sealed record Picture(Id<MediaFile> MediaId)
{
    /// <summary>Written as the file's identity alone.</summary>
    private sealed class Json : JsonConverter<Picture>
    {
        public override Picture Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.String && reader.TryGetGuid(out Guid id)
                ? new(new Id<MediaFile>(id))
                : throw new UnreadableException("A picture is given by the identity of a file of the workspace.");

        public override void Write(Utf8JsonWriter writer, Picture value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.MediaId.Value);
    }
}

/// <summary>A picture of the workspace, by the rules that each network has for its kind, size and shape.</summary>
internal sealed class PictureField(string key, string name) : Field<Picture>(key, name, FieldKind.Picture)
{
    /// <summary>A shape that differs by less than this share from the best one is as good.</summary>
    private const double BestWithin = 0.05;

    protected override Picture? Tidied(Picture value) => value;

    protected override string Shown(Picture value, ContentSources sources) => sources.Media(value.MediaId)?.FileName ?? "a picture";

    /// <summary>Its bytes; a file that isn't there is like no other.</summary>
    protected override string? Formed(Picture value, ContentSources sources) =>
        sources.Media(value.MediaId)?.Hash ?? $"missing {value.MediaId}";

    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed) =>
        fileNamed(cell) is { } file ? (new Picture(file.Id), null) : (null, new(FindingCode.RowPictureUnknown, Severity.Blocks, Key, cell));

    internal override void Check(FieldCheck check)
    {
        (PictureRules allowed, string network) = (check.Rules.Pictures, check.Rules.Name);
        if (check.Content.PictureId is not { } id || check.Sources.Media(id) is not { } picture)
        {
            if (allowed.Fewest > 0)
                check.Block(FindingCode.PictureMissing, this, network);
            return;
        }
        if (!allowed.Kinds.Contains(picture.Kind))
            check.Block(FindingCode.PictureKind, this, picture.Kind, network);
        if (allowed.MostBytes is { } most && picture.Bytes > most)
            check.Block(FindingCode.PictureTooHeavy, this, FieldCheck.Megabytes(picture.Bytes), FieldCheck.Megabytes(most), network);
        if (allowed.MinWidth is { } least && picture.Width < least)
            check.Block(FindingCode.PictureTooNarrow, this, FieldCheck.Whole(picture.Width), FieldCheck.Whole(least), network);
        if (allowed.MinHeight is { } lowest && picture.Height < lowest)
            check.Block(FindingCode.PictureTooLow, this, FieldCheck.Whole(picture.Height), FieldCheck.Whole(lowest), network);
        double ratio = (double)picture.Width / picture.Height;
        if (ratio < (allowed.MinRatio ?? 0) || ratio > (allowed.MaxRatio ?? double.MaxValue))
            check.Block(
                FindingCode.PictureRatio,
                this,
                FieldCheck.Ratio(ratio),
                FieldCheck.Ratio(allowed.MinRatio ?? 0),
                FieldCheck.Ratio(allowed.MaxRatio ?? 0),
                network
            );
        else if (allowed.BestRatio is { } best && Math.Abs(ratio - best) > best * BestWithin)
            check.Advise(FindingCode.PictureRatioAdvised, this, FieldCheck.Ratio(ratio), FieldCheck.Ratio(best), network);
    }
}
