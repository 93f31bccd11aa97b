using System.Text;

namespace AbleLark.Core.Calendars;

/// <summary>A line of a calendar file, as RFC 5545, 3.1 writes it: a name, parameters and a value.</summary>
/// <param name="Name">In capitals.</param>
/// <param name="Parameters">By their names in capitals; the first value of each, without its quotes.</param>
/// <param name="Value">As it stands; see <see cref="Text"/>.</param>
public sealed record ContentLine(string Name, IReadOnlyDictionary<string, string> Parameters, string Value)
{
    /// <summary>Most octets of a line before it is folded, without its end.</summary>
    private const int MostOctets = 75;

    private static readonly IReadOnlyDictionary<string, string> None = new Dictionary<string, string>();

    /// <summary>The value as a text, with what was escaped in it.</summary>
    public string Text
    {
        get
        {
            if (!Value.Contains('\\', StringComparison.Ordinal))
                return Value;
            StringBuilder text = new(Value.Length);
            for (int i = 0; i < Value.Length; i++)
            {
                if (Value[i] != '\\' || i + 1 == Value.Length)
                    text.Append(Value[i]);
                else
                    text.Append(Value[++i] is 'n' or 'N' ? '\n' : Value[i]);
            }
            return text.ToString();
        }
    }

    /// <summary>A text as a value; control characters, which no value may hold, are left out.</summary>
    public static string Escaped(string text) =>
        string.Concat(text.ReplaceLineEndings("\n").Where(c => c == '\n' || !char.IsControl(c)))
            .Replace(@"\", @"\\", StringComparison.Ordinal)
            .Replace(";", @"\;", StringComparison.Ordinal)
            .Replace(",", @"\,", StringComparison.Ordinal)
            .Replace("\n", @"\n", StringComparison.Ordinal);

    /// <summary>A file without its folds: some programs fold within a letter, and only the whole is UTF-8 (RFC 5545, 3.1).</summary>
    public static byte[] Unfolded(ReadOnlySpan<byte> file)
    {
        byte[] unfolded = new byte[file.Length];
        int length = 0;
        for (int i = 0; i < file.Length; i++)
        {
            int end =
                file[i] == '\r' && i + 1 < file.Length && file[i + 1] == '\n' ? i + 2
                : file[i] is (byte)'\r' or (byte)'\n' ? i + 1
                : 0;
            if (end > 0 && end < file.Length && file[end] is (byte)' ' or (byte)'\t')
                i = end;
            else
                unfolded[length++] = file[i];
        }
        return unfolded[..length];
    }

    /// <summary>The lines of a file, unfolded. What is no line of a calendar is passed over.</summary>
    public static IEnumerable<ContentLine> Read(string file)
    {
        StringBuilder unfolded = new();
        foreach (ReadOnlyMemory<char> line in Lines(file))
        {
            if (line.Length > 0 && line.Span[0] is ' ' or '\t')
            {
                unfolded.Append(line.Span[1..]);
                continue;
            }
            if (unfolded.Length > 0 && Parse(unfolded.ToString()) is { } parsed)
                yield return parsed;
            unfolded.Clear().Append(line.Span);
        }
        if (unfolded.Length > 0 && Parse(unfolded.ToString()) is { } last)
            yield return last;
    }

    private static IEnumerable<ReadOnlyMemory<char>> Lines(string file)
    {
        int start = 0;
        while (start < file.Length)
        {
            int end = file.AsSpan(start).IndexOfAny('\r', '\n');
            end = end < 0 ? file.Length : start + end;
            yield return file.AsMemory(start, end - start);
            start = end + 1 < file.Length && file[end] == '\r' && file[end + 1] == '\n' ? end + 2 : end + 1;
        }
    }

    private static ContentLine? Parse(string line)
    {
        int at = line.AsSpan().IndexOfAny(';', ':');
        if (at <= 0)
            return null;
        string name = line[..at].ToUpperInvariant();
        Dictionary<string, string>? parameters = null;
        while (at < line.Length && line[at] == ';')
        {
            int equals = line.IndexOf('=', at);
            if (equals < 0)
                return null;
            int end = EndOfValues(line, equals + 1);
            string values = line[(equals + 1)..end];
            parameters ??= [];
            parameters.TryAdd(
                line[(at + 1)..equals].ToUpperInvariant(),
                values.StartsWith('"') ? values[1..].Split('"')[0] : values.Split(',')[0]
            );
            at = end;
        }
        return at < line.Length && line[at] == ':' ? new(name, parameters ?? None, line[(at + 1)..]) : null;
    }

    /// <summary>Where a parameter's values end: at what stands outside of quotes.</summary>
    private static int EndOfValues(string line, int from)
    {
        bool isQuoted = false;
        for (int i = from; i < line.Length; i++)
        {
            if (line[i] == '"')
                isQuoted = !isQuoted;
            else if (!isQuoted && line[i] is ';' or ':')
                return i;
        }
        return line.Length;
    }

    /// <summary>Writes a line, folded where it is long: never within a character.</summary>
    public static void Write(StringBuilder file, string name, string value)
    {
        int octets = 0;
        foreach (Rune rune in $"{name}:{value}".EnumerateRunes())
        {
            if (octets + rune.Utf8SequenceLength > MostOctets)
            {
                file.Append("\r\n ");
                octets = 1;
            }
            file.Append(rune.ToString());
            octets += rune.Utf8SequenceLength;
        }
        file.Append("\r\n");
    }
}
