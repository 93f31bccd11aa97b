using AbleLark.Core.Networks;

namespace AbleLark.Core.Content;

/// <summary>What a post is on a network: what somebody asked for, or else what its content makes it.</summary>
public static class Formats
{
    /// <summary>As it is written in content and networks' files.</summary>
    public static string WordOf(PostFormat format) => System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(format.ToString());

    /// <summary>The format of that name; null where the network offers none.</summary>
    public static FormatRules? Asked(string? word, NetworkRules rules) =>
        word is null ? null : rules.Formats.FirstOrDefault(f => WordOf(f.Format) == word);

    /// <summary>The format in which content goes to a network.</summary>
    public static FormatRules Of(FieldValues fields, NetworkRules rules)
    {
        if (Asked(fields.Get(ContentFields.Format), rules) is { } asked)
            return asked;
        FormatRules[] usual = [.. rules.Formats.Where(f => !f.IsAskedFor)];
        bool hasPictures = fields.Get(ContentFields.Pictures) is not null;
        return (fields.Get(ContentFields.Video) is null ? null : Array.Find(usual, f => f.Video is not null))
            ?? (fields.Get(ContentFields.Document) is null ? null : Array.Find(usual, f => f.Document is not null))
            ?? (hasPictures ? Array.Find(usual, f => f.Pictures is not null) : null)
            ?? usual.FirstOrDefault()
            ?? rules.Formats[0];
    }

    /// <summary>What the network minds about pictures in that content; null: it takes none.</summary>
    public static PictureRules? PicturesOf(FieldValues fields, NetworkRules rules) =>
        Of(fields, rules).Pictures ?? rules.Formats.FirstOrDefault(f => f.Pictures is not null && !f.IsAskedFor)?.Pictures;

    /// <summary>Whoever asks for a format asks for what it carries: the rest stays behind.</summary>
    internal static FieldValues Carried(FieldValues fields, NetworkRules rules)
    {
        if (Asked(fields.Get(ContentFields.Format), rules) is not { } asked)
            return fields;
        if (asked.Pictures is null)
            fields = fields.Without(ContentFields.Pictures);
        if (asked.Video is null)
            fields = fields.Without(ContentFields.Video);
        return asked.Document is null ? fields.Without(ContentFields.Document) : fields;
    }
}
