using System.Text.Json;
using System.Text.Json.Serialization;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;

namespace AbleLark.Core.Content;

/// <summary>The point of a picture that matters most.</summary>
/// <param name="X">Share of the width from the left, 0 to 1.</param>
/// <param name="Y">Share of the height from the top, 0 to 1.</param>
public sealed record FocalPoint(double X, double Y)
{
    public static FocalPoint Centre { get; } = new(0.5, 0.5);

    [JsonIgnore]
    public bool IsValid => X is >= 0 and <= 1 && Y is >= 0 and <= 1;
}

/// <summary>The part of a picture that is sent, in its pixels.</summary>
public sealed record Crop(int X, int Y, int Width, int Height)
{
    /// <summary>The largest part of that shape, as near round a point as the picture's edges let it be.</summary>
    /// <param name="ratio">Width ÷ height.</param>
    public static Crop ToRatio(int width, int height, double ratio, FocalPoint around)
    {
        bool isTooWide = (double)width / height > ratio;
        int across = isTooWide ? Math.Max(1, (int)Math.Round(height * ratio)) : width;
        int down = isTooWide ? height : Math.Max(1, (int)Math.Round(width / ratio));
        return new(Start(width, across, around.X), Start(height, down, around.Y), across, down);

        static int Start(int whole, int part, double at) => Math.Clamp((int)Math.Round((whole * at) - (part / 2.0)), 0, whole - part);
    }

    /// <summary>A little smaller where rounding to whole pixels left it outside of what is taken.</summary>
    internal Crop Within(double? least, double? most)
    {
        Crop crop = this;
        while ((double)crop.Width / crop.Height < (least ?? 0) && crop.Height > 1)
            crop = crop with { Height = crop.Height - 1 };
        while ((double)crop.Width / crop.Height > (most ?? double.MaxValue) && crop.Width > 1)
            crop = crop with { Width = crop.Width - 1 };
        return crop;
    }

    /// <summary>The same part of another file: as it is where it fits, in proportion where the other is the same picture in another
    /// size; null where neither goes.</summary>
    internal Crop? In(MediaFile other, MediaFile own)
    {
        double scale = (double)other.Width / Math.Max(1, own.Width);
        bool isSameShape = Math.Abs((own.Height * scale) - other.Height) <= SameWithin * other.Height;
        if (isSameShape && scale != 1)
        {
            (int width, int height) = (Scaled(Width, other.Width), Scaled(Height, other.Height));
            return new(
                Math.Clamp((int)Math.Round(X * scale), 0, other.Width - width),
                Math.Clamp((int)Math.Round(Y * scale), 0, other.Height - height),
                width,
                height
            );
        }
        return FitsIn(other) ? this : null;

        int Scaled(int side, int most) => Math.Clamp((int)Math.Round(side * scale), 1, Math.Max(1, most));
    }

    /// <summary>A shape that differs by less than this share is the same.</summary>
    private const double SameWithin = 0.01;

    /// <summary>True when it lies within the picture.</summary>
    public bool FitsIn(MediaFile file) =>
        X >= 0 && Y >= 0 && Width > 0 && Height > 0 && X <= file.Width - Width && Y <= file.Height - Height;
}

/// <summary>A chosen picture.</summary>
/// <param name="AltText">The picture in words, where the post says otherwise than the file; null: as the file.</param>
/// <param name="Focus">What matters most in it, where the post says otherwise than the file; null: as the file.</param>
/// <param name="Crop">The part of it that is sent; null: all.</param>
public sealed record Picture(
    [property: JsonPropertyName("media")] Id<MediaFile> MediaId,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? AltText = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] FocalPoint? Focus = null,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] Crop? Crop = null
)
{
    /// <summary>Most UTF-16 units of the picture in words.</summary>
    public const int MostAltText = 2_000;

    /// <summary>As readers get it in words.</summary>
    public string AltTextOr(MediaFile? file) => AltText ?? file?.AltText ?? "";

    internal Picture Tidied()
    {
        if (AltText?.Length > MostAltText)
            throw new FormatException($"Alt text: longer than {MostAltText:N0} characters, which no network takes. Shorten it.");
        if (Focus is { IsValid: false })
            throw new FormatException("A picture's focus is given by two shares of its width and height, each from 0 to 1.");
        if (Crop is { } crop && (crop.X < 0 || crop.Y < 0 || crop.Width <= 0 || crop.Height <= 0))
            throw new FormatException("A picture's crop lies within it: x and y from 0 on, width and height from 1 on, in pixels.");
        return string.IsNullOrWhiteSpace(AltText) ? this with { AltText = null } : this;
    }

    /// <summary>What stands for it in a hash: its file, the part of it that is sent, and its words, whoever said them.</summary>
    internal string Form(ContentSources sources)
    {
        string file = ChosenFile.FormOf(MediaId, sources);
        string words = AltTextOr(sources.Media(MediaId));
        return words.Length == 0 && Crop is null ? file : $"{file} {Crop?.ToString() ?? ""} {words}";
    }
}

/// <summary>Pictures in their order.</summary>
[JsonConverter(typeof(Json))]
public sealed record Pictures(params IReadOnlyList<Picture> All)
{
    /// <summary>Most that a post takes.</summary>
    public const int Most = 10;

    public static Pictures Of(Id<MediaFile> media) => new(new Picture(media));

    public bool Equals(Pictures? other) => other is not null && All.SequenceEqual(other.All);

    public override int GetHashCode() => All.Aggregate(0, HashCode.Combine);

    /// <summary>Written as a list.</summary>
    private sealed class Json : JsonConverter<Pictures>
    {
        public override Pictures Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            JsonSerializer.Deserialize<List<Picture>>(ref reader, options) is { } all && !all.Contains(null!)
                ? new(all)
                : throw new UnreadableException("Pictures are a list of objects, each with the identity of a file under “media”.");

        public override void Write(Utf8JsonWriter writer, Pictures value, JsonSerializerOptions options) =>
            JsonSerializer.Serialize(writer, value.All, options);
    }
}

/// <summary>A chosen file that is not a picture among others.</summary>
[JsonConverter(typeof(Json))]
public sealed record ChosenFile(Id<MediaFile> MediaId)
{
    /// <summary>Its bytes; a file that isn't there is like no other.</summary>
    internal static string FormOf(Id<MediaFile> id, ContentSources sources) => sources.Media(id)?.Hash ?? $"missing {id}";

    /// <summary>Written as the file's identity alone.</summary>
    private sealed class Json : JsonConverter<ChosenFile>
    {
        public override ChosenFile Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.String && reader.TryGetGuid(out Guid id)
                ? new(new Id<MediaFile>(id))
                : throw new UnreadableException("A file is given by the identity of a file of the workspace.");

        public override void Write(Utf8JsonWriter writer, ChosenFile value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.MediaId.Value);
    }
}

/// <summary>Pictures of the workspace, by the rules that each network has for their number, kind, size and shape.</summary>
internal sealed class PicturesField(string key, string name) : Field<Pictures>(key, name, FieldKind.Pictures)
{
    /// <summary>As it was when a post had one picture: what was approved then still is.</summary>
    public override string HashKey => "picture";

    internal override IEnumerable<Id<MediaFile>> Files(object? value) => value is Pictures all ? all.All.Select(p => p.MediaId) : [];

    protected override Pictures? Tidied(Pictures value) =>
        value.All.Count > Pictures.Most
            ? throw new FormatException($"{Name}: {value.All.Count}; {Pictures.Most} is the most. Leave some out.")
        : value.All.Count == 0 ? null
        : new([.. value.All.Select(p => p.Tidied())]);

    protected override string Shown(Pictures value, ContentSources sources) =>
        string.Join(", ", value.All.Select(p => sources.Media(p.MediaId)?.FileName ?? "a picture"))
        + string.Concat(value.All.Select(p => p.AltText).OfType<string>().Select(t => $" “{t}”"));

    protected override string? Formed(Pictures value, ContentSources sources) => string.Join('\n', value.All.Select(p => p.Form(sources)));

    protected override string? Searched(Pictures value) => string.Join('\n', value.All.Select(p => p.AltText).OfType<string>());

    /// <summary>File names, with semicolons between.</summary>
    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed)
    {
        List<Picture> found = [];
        foreach (string name in cell.Split([';', '\n'], StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (fileNamed(name) is not { } file)
                return (null, new(FindingCode.RowPictureUnknown, Severity.Blocks, Key, name));
            found.Add(new(file.Id));
        }
        return (new Pictures(found), null);
    }

    internal override void Check(FieldCheck check) => MediaChecks.Pictures(check, this, check.Content.Pictures);
}

/// <summary>One file of the workspace: a video, a document, the picture of a card.</summary>
/// <param name="checks">What a network minds about it; null: that it is a picture.</param>
public sealed class FileField(string key, string name, Action<FieldCheck, FileField>? checks = null)
    : Field<ChosenFile>(key, name, FieldKind.File)
{
    internal override IEnumerable<Id<MediaFile>> Files(object? value) => value is ChosenFile file ? [file.MediaId] : [];

    protected override ChosenFile? Tidied(ChosenFile value) => value;

    protected override string Shown(ChosenFile value, ContentSources sources) => sources.Media(value.MediaId)?.FileName ?? "a file";

    protected override string? Formed(ChosenFile value, ContentSources sources) => ChosenFile.FormOf(value.MediaId, sources);

    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed) =>
        fileNamed(cell) is { } file
            ? (new ChosenFile(file.Id), null)
            : (null, new(FindingCode.RowPictureUnknown, Severity.Blocks, Key, cell));

    internal override void Check(FieldCheck check) => (checks ?? MediaChecks.AnyPicture)(check, this);
}

/// <summary>What the post is on that network, where somebody says so.</summary>
internal sealed class FormatField(string key, string name) : TextField(key, name, most: 20, FieldKind.Choice)
{
    internal override void Check(FieldCheck check)
    {
        if (check.Content.Fields.Get(this) is { Length: > 0 } asked && Formats.Asked(asked, check.Rules) is null)
            check.Block(
                FindingCode.FieldValueUnknown,
                this,
                Name,
                asked,
                check.Rules.Name,
                string.Join(", ", check.Rules.Formats.Select(f => Formats.WordOf(f.Format)))
            );
    }
}
