using AbleLark.Core.Findings;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Text;

namespace AbleLark.Core.Content;

/// <summary>Mends one content for one target, fix by fix.</summary>
internal sealed class Fitter(PostContent content, Target target, ContentSources sources)
{
    private readonly List<FixDone> _done = [];
    private Fix _fix;
    private int _wording;
    private FieldValues _written = FieldValues.Empty;

    public PostContent Content { get; private set; } = content;
    public IReadOnlyList<FixDone> Done => _done;

    private string Text => _written.Get(ContentFields.Text) ?? "";
    private string Comment => _written.Get(ContentFields.FirstComment) ?? "";
    private bool HasMedia => new ResolvedContent(_written).HasMedia;
    private NetworkRules Rules => target.Rules;

    /// <param name="findings">Those that it may mend.</param>
    public void Apply(Fix fix, IReadOnlyList<Finding> findings, int wording)
    {
        (_fix, _wording, _written) = (fix, wording, Content.Written(target, wording));
        switch (fix)
        {
            case Fix.UseHandle:
                Say(ContentFields.Text, Mentions.WithOwn(Text, Rules, sources));
                Say(ContentFields.FirstComment, Mentions.WithOwn(Comment, Rules, sources));
                if (_written.Get(ContentFields.Thread) is { } said)
                    Say(
                        ContentFields.Thread,
                        said with
                        {
                            Parts = [.. said.Parts.Select(p => p with { Text = Mentions.WithOwn(p.Text, Rules, sources) })],
                        }
                    );
                break;
            case Fix.MoveLinkToComment:
                MoveLinkToComment();
                break;
            case Fix.TakeLinkOut:
                TakeLinkOut();
                break;
            case Fix.DropHashtags:
                DropHashtags();
                break;
            case Fix.LeaveDocumentOut when findings.Any(f => f.Field == ContentFields.Document.Key) && MayLose(ContentFields.Document):
                Say(ContentFields.Document, null);
                break;
            case Fix.LeaveVideoOut when findings.Any(f => f.Field == ContentFields.Video.Key) && MayLose(ContentFields.Video):
                Say(ContentFields.Video, null);
                break;
            case Fix.CropToRatio:
                EachPicture(findings, Cropped);
                break;
            case Fix.LeavePictureOut:
                LeavePicturesOut(findings);
                break;
            case Fix.MoveHashtagsToComment:
                MoveHashtagsToComment();
                break;
            case Fix.SplitIntoThread:
                ThreadFitting.Split(Text, _written, Rules, sources, out string first, out PostThread? rest, out bool isLinkSaid);
                Say(ContentFields.Text, first);
                Say(ContentFields.Thread, rest);
                if (isLinkSaid)
                    Say(ContentFields.Link, null);
                break;
            case Fix.CutAtAWord:
                Say(ContentFields.Text, TextFitting.Cut(Text, Fits));
                break;
        }
    }

    private void Say<T>(Field<T> field, T? value)
        where T : class
    {
        T? before = _written.Get(field);
        if (Equals(before, value) || (before is null && value is ""))
            return;
        _done.Add(new(_fix, _wording, field.Key, field.Show(before, sources), field.Show(value, sources)));
        Content = Content.Saying(target, _wording, field, value);
        _written = _written.With(field, value);
    }

    private bool Fits(string text) => ThreadFitting.Fits(_written.With(ContentFields.Text, text), Rules, sources);

    private bool FitsComment(string comment) =>
        Rules.RulesOf(ContentFields.FirstComment.Key) is { } rules
        && (rules.Limit is not { } limit || TextCounter.Count(comment, rules.Measure, limit).Fits);

    private static TextPart[] PartsOf(string text, TextPartKind kind) => [.. TextParts.Find(text).Where(p => p.Kind == kind)];

    private void TakeLinkOut()
    {
        string unlinked = TextFitting.Without(Text, PartsOf(Text, TextPartKind.Link));
        // Nothing would be left: a link that nobody can click is better than that.
        if (string.IsNullOrWhiteSpace(unlinked) && !HasMedia)
            return;
        Say(ContentFields.Text, unlinked);
        Say(ContentFields.Link, null);
    }

    private void MoveLinkToComment()
    {
        TextPart[] inText = PartsOf(Text, TextPartKind.Link);
        string[] links =
        [
            .. inText.Select(p => Text.Substring(p.Start, p.Length)),
            .. _written.Get(ContentFields.Link) is { } own ? [own] : Array.Empty<string>(),
        ];
        string comment = string.Join('\n', links.Distinct().Where(l => !Comment.Contains(l, StringComparison.Ordinal)).Prepend(Comment))
            .Trim();
        string unlinked = TextFitting.Without(Text, inText);
        if ((string.IsNullOrWhiteSpace(unlinked) && !HasMedia) || !FitsComment(comment))
            return;
        Say(ContentFields.FirstComment, comment);
        Say(ContentFields.Text, unlinked);
        Say(ContentFields.Link, null);
    }

    private void DropHashtags()
    {
        int most = Rules.Hashtags.Advised ?? Rules.Hashtags.Most ?? int.MaxValue;
        TextPart[] ofText = PartsOf(Text, TextPartKind.Hashtag);
        TextPart[] ofComment = PartsOf(Comment, TextPartKind.Hashtag);
        int surplus = ofText.Length + ofComment.Length - most;
        // The last go first: those of the comment, then those of the text.
        int fromComment = Math.Clamp(surplus, 0, ofComment.Length);
        int fromText = Math.Clamp(surplus - fromComment, 0, ofText.Length);
        string lighter = TextFitting.Without(Text, ofText[^fromText..]);
        if (string.IsNullOrWhiteSpace(lighter) && !HasMedia)
            return;
        Say(ContentFields.FirstComment, TextFitting.Without(Comment, ofComment[^fromComment..]));
        Say(ContentFields.Text, lighter);
    }

    /// <summary>Only where that is enough: hashtags in two places help nobody.</summary>
    private void MoveHashtagsToComment()
    {
        TextPart[] tags = PartsOf(Text, TextPartKind.Hashtag);
        if (tags.Length == 0)
            return;
        string lighter = TextFitting.Without(Text, tags);
        string moved = string.Join(' ', tags.Select(t => Text.Substring(t.Start, t.Length)));
        string comment = Comment.Length == 0 ? moved : $"{Comment}\n{moved}";
        if (!Fits(lighter) || !FitsComment(comment) || (string.IsNullOrWhiteSpace(lighter) && !HasMedia))
            return;
        Say(ContentFields.FirstComment, comment);
        Say(ContentFields.Text, lighter);
    }

    /// <summary>True when the network takes the rest without it.</summary>
    private bool MayLose(Field field)
    {
        ResolvedContent rest = new(_written.Without(field));
        return (!string.IsNullOrWhiteSpace(Text) || rest.HasMedia)
            && ContentCheck
                .Check(Content.Saying(target, _wording, field, null), target, sources, _wording)
                .Findings.All(f => f.Code is not (FindingCode.VideoMissing or FindingCode.DocumentMissing or FindingCode.PictureMissing));
    }

    private void EachPicture(IReadOnlyList<Finding> findings, Func<Picture, Picture?> made)
    {
        if (findings.Any(f => f.Field == ContentFields.Pictures.Key) && _written.Get(ContentFields.Pictures) is { } own)
            Say(ContentFields.Pictures, Mended(own, made));
        if (findings.Any(f => f.Field == ContentFields.Thread.Key) && _written.Get(ContentFields.Thread) is { } thread)
            Say(
                ContentFields.Thread,
                thread with
                {
                    Parts = [.. thread.Parts.Select(p => p with { Pictures = p.Pictures is { } all ? Mended(all, made) : null })],
                }
            );
    }

    private static Pictures? Mended(Pictures all, Func<Picture, Picture?> made) =>
        all.All.Select(made).OfType<Picture>().ToList() is { Count: > 0 } left ? new(left) : null;

    private PictureRules? Allowed => Formats.PicturesOf(Formats.Carried(_written, Rules), Rules);

    /// <summary>The part of it that has the shape that is taken, or the best one; as it is where that would be too small.</summary>
    private Picture Cropped(Picture picture)
    {
        if (sources.Media(picture.MediaId) is not { } file || Allowed is not { } allowed || file.Width == 0 || file.Height == 0)
            return picture;
        Picture whole = picture with { Crop = picture.Crop is { } own && own.FitsIn(file) ? own : null };
        (int width, int height) = whole.Crop is { } part ? (part.Width, part.Height) : (file.Width, file.Height);
        return CropChoice.Suggest(allowed, file, (double)width / height, picture.Focus) is { } crop ? picture with { Crop = crop } : whole;
    }

    private void LeavePicturesOut(IReadOnlyList<Finding> findings)
    {
        Finding[] ofOwn = [.. findings.Where(f => f.Field == ContentFields.Pictures.Key)];
        if (Array.Exists(ofOwn, f => f.Code is FindingCode.PicturesNotTaken or FindingCode.OneKindOfMedia))
        {
            if (MayLose(ContentFields.Pictures))
                Say(ContentFields.Pictures, null);
        }
        else if (ofOwn.Length > 0 && Allowed is { } allowed)
            LeaveOwnPicturesOut(allowed);
        if (findings.Any(f => f.Field == ContentFields.Thread.Key) && _written.Get(ContentFields.Thread) is { } thread)
            Say(ContentFields.Thread, thread with { Parts = [.. thread.Parts.Select(p => p with { Pictures = Taken(p.Pictures) })] });
    }

    private Pictures? Taken(Pictures? all) =>
        all is not null
        && Allowed is { } allowed
        && all.All.Where(p => IsTaken(p, allowed)).Take(allowed.Most).ToList() is { Count: > 0 } some
            ? new(some)
            : null;

    private void LeaveOwnPicturesOut(PictureRules allowed)
    {
        Picture[] own = [.. _written.Get(ContentFields.Pictures)?.All ?? []];
        Picture[] left = [.. own.Where(p => IsTaken(p, allowed)).Take(allowed.Most)];
        if (left.Length < own.Length && (left.Length == 0 ? MayLose(ContentFields.Pictures) : left.Length >= allowed.Fewest))
            Say(ContentFields.Pictures, left.Length == 0 ? null : new Pictures(left));
    }

    /// <summary>True when nothing keeps that picture out but what can be written.</summary>
    private bool IsTaken(Picture picture, PictureRules allowed)
    {
        PostContent alone = PostContent.Empty.With(ContentFields.Pictures, new Pictures(picture));
        FieldValues fields = alone.Common;
        FieldCheck check = new(fields, new(fields), TextCounter.Count("", Rules.Text.Measure, Rules.Text.Limit), Rules, sources);
        MediaChecks.Each(check, ContentFields.Pictures, [picture], allowed);
        return check.Findings.All(f => !f.Blocks || f.Code is FindingCode.AltTextMissing or FindingCode.FieldTooLong);
    }
}
