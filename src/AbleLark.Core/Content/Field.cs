using System.Text.Json;
using AbleLark.Core.Contacts;
using AbleLark.Core.Findings;
using AbleLark.Core.Media;

namespace AbleLark.Core.Content;

/// <summary>How a field is written down and drawn.</summary>
public enum FieldKind
{
    /// <summary>Text of many lines.</summary>
    Text,

    /// <summary>Text of one line.</summary>
    Line,
    Link,

    /// <summary>Pictures in their order.</summary>
    Pictures,

    /// <summary>A file of the workspace, by its identity.</summary>
    File,

    /// <summary>Further parts, each with text and pictures.</summary>
    Thread,

    /// <summary>One of the values that the network's file lists.</summary>
    Choice,

    /// <summary>A local date (ISO 8601).</summary>
    Date,
}

/// <summary>What a field's value rests on outside of the content.</summary>
/// <param name="Media">The file of that identity; null when it isn't there.</param>
public sealed record ContentSources(Func<Id<MediaFile>, MediaFile?> Media)
{
    public static ContentSources None { get; } = new(_ => null);

    /// <summary>The workspace's address book.</summary>
    public IReadOnlyCollection<Contact> Contacts { get; init; } = [];

    /// <summary>What the workspace has buttons say; empty: anything.</summary>
    public IReadOnlyList<string> ButtonVerbs { get; init; } = [];

    /// <summary>Whom a mention means; null: nobody.</summary>
    public Contact? Contact(string key) => Contacts.FirstOrDefault(c => c.Key.Equals(key, StringComparison.OrdinalIgnoreCase));
}

/// <summary>
/// The declaration of a content field. What stores, checks, compares, hashes, searches, imports and describes content goes through the
/// declarations (<see cref="ContentFields.All"/>) and knows no field by name, but for the few rules that networks have for text, link and
/// files.
/// </summary>
public abstract class Field
{
    private protected Field(string key, string name, FieldKind kind, int? most) => (Key, Name, Kind, Most) = (key, name, kind, most);

    /// <summary>Its name in stored content, the API, networks' files and column headers; never changed.</summary>
    public string Key { get; }

    /// <summary>Its name on screens.</summary>
    public string Name { get; }

    public FieldKind Kind { get; }

    /// <summary>Longest value that is taken in, in UTF-16 units; null: any. What a network takes is the network's file's to say.</summary>
    public int? Most { get; }

    /// <summary>What it is called in a <see cref="ContentHash"/>: the name that it had first.</summary>
    public virtual string HashKey => Key;

    /// <summary>True: every network has rules of its own for it. False: only networks that list it under `fields` get it.</summary>
    public bool IsEverywhere { get; init; }

    internal abstract object? Read(ref Utf8JsonReader reader, JsonSerializerOptions options);

    internal abstract void Write(Utf8JsonWriter writer, object? value, JsonSerializerOptions options);

    /// <summary>The value as it is kept: trimmed where that makes no difference. Null: nothing.</summary>
    /// <exception cref="FormatException">It can't be taken in; the message says what to do.</exception>
    public abstract object? Tidy(object? value);

    /// <summary>The value in words, for differences and lists; empty: nothing.</summary>
    public abstract string Show(object? value, ContentSources sources);

    /// <summary>What stands for the value in a <see cref="ContentHash"/>; null: nothing that readers would miss.</summary>
    public abstract string? Form(object? value, ContentSources sources);

    /// <summary>The files that a value names.</summary>
    internal virtual IEnumerable<Id<MediaFile>> Files(object? value) => [];

    /// <summary>The words of it that a search looks through; null: none.</summary>
    public abstract string? Searched(object? value);

    /// <summary>The value that a cell of a sheet stands for; null where it can't be read, with the finding about it.</summary>
    public abstract (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed);

    /// <summary>What a network minds about its value.</summary>
    internal abstract void Check(FieldCheck check);

    public override string ToString() => Key;
}

/// <summary>The declaration of a content field whose values are of one type.</summary>
public abstract class Field<T>(string key, string name, FieldKind kind, int? most = null) : Field(key, name, kind, most)
    where T : class
{
    internal sealed override object? Read(ref Utf8JsonReader reader, JsonSerializerOptions options) =>
        JsonSerializer.Deserialize<T>(ref reader, options);

    internal sealed override void Write(Utf8JsonWriter writer, object? value, JsonSerializerOptions options) =>
        JsonSerializer.Serialize(writer, (T?)value, options);

    public sealed override object? Tidy(object? value) => value is T given ? Tidied(given) : null;

    public sealed override string Show(object? value, ContentSources sources) => value is T given ? Shown(given, sources) : "";

    public sealed override string? Form(object? value, ContentSources sources) => value is T given ? Formed(given, sources) : null;

    public sealed override string? Searched(object? value) => value is T given ? Searched(given) : null;

    /// <inheritdoc cref="Field.Tidy"/>
    protected abstract T? Tidied(T value);

    /// <inheritdoc cref="Field.Show"/>
    protected abstract string Shown(T value, ContentSources sources);

    /// <inheritdoc cref="Field.Form"/>
    protected virtual string? Formed(T value, ContentSources sources) => Shown(value, sources);

    /// <inheritdoc cref="Field.Searched(object)"/>
    protected virtual string? Searched(T value) => null;
}

/// <summary>A field of words, perhaps of chosen ones.</summary>
/// <param name="most">Longest value that is taken in, in UTF-16 units.</param>
public class TextField(string key, string name, int most, FieldKind kind = FieldKind.Line) : Field<string>(key, name, kind, most)
{
    protected override string? Tidied(string value)
    {
        return value.Length <= Most
            ? value
            : throw new FormatException($"{Name}: longer than {Most:N0} characters, which no network takes. Shorten it.");
    }

    protected override string Shown(string value, ContentSources sources) => value;

    protected override string? Searched(string value) => value;

    public override (object? Value, Finding? Trouble) FromCell(string cell, Func<string, MediaFile?> fileNamed) => (cell, null);

    /// <summary>By the network's `fields`: needed or not, how long, which values.</summary>
    internal override void Check(FieldCheck check)
    {
        if (check.Rules.RulesOf(Key) is not { } rules)
            return;
        string value = check.Content.Fields.Get(this) ?? "";
        if (string.IsNullOrWhiteSpace(value))
        {
            if (rules.IsNeeded)
                check.Block(FindingCode.FieldMissing, this, Name, check.Rules.Name);
            return;
        }
        check.Long(rules, this, value);
        if (rules.Values is { } values && !values.Contains(value))
            check.Block(FindingCode.FieldValueUnknown, this, Name, value, check.Rules.Name, string.Join(", ", values));
    }
}
