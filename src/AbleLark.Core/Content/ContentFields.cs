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

    public static Field<Pictures> Pictures { get; } = new PicturesField("pictures", "Pictures") { IsEverywhere = true };

    public static Field<ChosenFile> Video { get; } = new FileField("video", "Video", MediaChecks.Video) { IsEverywhere = true };

    public static Field<ChosenFile> Document { get; } = new FileField("document", "Document", MediaChecks.Document) { IsEverywhere = true };

    public static Field<string> Format { get; } = new FormatField("format", "Format") { IsEverywhere = true };

    public static Field<PostThread> Thread { get; } = new ThreadField("thread", "Further parts") { IsEverywhere = true };

    public static Field<string> CardTitle { get; } = new TextField("cardTitle", "The card's title", most: 500);

    public static Field<string> CardText { get; } = new TextField("cardText", "The card's text", most: 2_000);

    public static Field<ChosenFile> CardPicture { get; } = new FileField("cardPicture", "The card's picture");

    public static Field<string> Title { get; } = new TextField("title", "Title on the network", most: 500);

    public static Field<string> Wall { get; } = new TextField("wall", "Wall", most: 200);

    public static Field<string> FirstComment { get; } = new CommentField("firstComment", "First comment", most: 20_000);

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
        CardTitle,
        CardText,
        CardPicture,
        Pictures,
        Video,
        Document,
        Format,
        Thread,
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
        if (string.IsNullOrWhiteSpace(check.Content.Text) && !check.Content.HasMedia)
            check.Block(FindingCode.NothingToSend, this, rules.Name);
        if (count.OverflowAt is { } overflow)
            check.Mark(
                FindingCode.TextTooLong,
                Severity.Blocks,
                this,
                [new(overflow, TextCounter.Normalise(check.Content.Text).Length - overflow)],
                FieldCheck.Whole(count.Units),
                FieldCheck.Whole(count.Limit),
                rules.Name,
                FieldCheck.Whole(count.Units - count.Limit)
            );
        Mentions.Check(check, this, check.Written.Get(ContentFields.Text) ?? "");
        if (rules.Text.FoldAfter is { } fold && count.Units > fold)
            check.Advise(FindingCode.TextFolds, this, FieldCheck.Whole(fold), rules.Name);
        // What stands in the first comment counts with the text.
        TextPart[] ofText = [.. count.Parts.Where(p => p.Kind == TextPartKind.Hashtag)];
        int hashtags = ofText.Length + TextParts.Find(check.Content.FirstComment ?? "").Count(p => p.Kind == TextPartKind.Hashtag);
        if (rules.Hashtags.Most is { } most && hashtags > most)
            Surplus(FindingCode.TooManyHashtags, Severity.Blocks, most);
        else if (rules.Hashtags.Advised is { } advised && hashtags > advised)
            Surplus(FindingCode.HashtagsAdvised, Severity.Advice, advised);

        void Surplus(FindingCode code, Severity severity, int upTo) =>
            check.Mark(
                code,
                severity,
                this,
                [.. ofText.Skip(upTo).Select(p => new TextSpan(p.Start, p.Length))],
                FieldCheck.Whole(hashtags),
                FieldCheck.Whole(upTo),
                rules.Name
            );
    }
}

/// <summary>What is said under the post at once.</summary>
internal sealed class CommentField(string key, string name, int most) : TextField(key, name, most, FieldKind.Text)
{
    internal override void Check(FieldCheck check)
    {
        base.Check(check);
        if (check.Content.FirstComment is not null)
            Mentions.Check(check, this, check.Written.Get(this) ?? "");
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
            check.Mark(
                FindingCode.LinkNotClickable,
                Severity.Advice,
                ContentFields.Text,
                [.. check.Count.Parts.Where(p => p.Kind == TextPartKind.Link).Select(p => new TextSpan(p.Start, p.Length))],
                check.Rules.Name
            );
        if (check.Rules.LinkNeeded && check.Content.CardLink is null)
            check.Block(FindingCode.LinkMissing, this, check.Rules.Name);
    }
}
