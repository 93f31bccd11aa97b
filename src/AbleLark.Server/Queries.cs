using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server;

/// <summary>A date in an address, as in `?from=2026-03-25`; of the years 1970 to 2199, within which every zone has its rules.</summary>
public readonly record struct QueryDate(LocalDate Value)
{
    public static bool TryParse(string? text, out QueryDate date)
    {
        ParseResult<LocalDate> read = LocalDatePattern.Iso.Parse(text ?? "");
        bool ok = read.Success && read.Value.Year is >= 1970 and < 2200;
        date = ok ? new(read.Value) : default;
        return ok;
    }
}

/// <summary>One of a few words in an address, as in `?stage=ready`; written as in the JSON, read in any letter case.</summary>
public readonly record struct QueryWord<T>(T Value)
    where T : struct, Enum
{
    public static bool TryParse(string? text, out QueryWord<T> word)
    {
        bool read = Enum.TryParse(text, ignoreCase: true, out T value) && Enum.IsDefined(value) && !char.IsDigit(text![0]);
        word = new(value);
        return read;
    }
}

/// <summary>One of several in an address by its identity, or `none` for what has none of them.</summary>
/// <param name="Value">Null: none.</param>
public readonly record struct QueryIdOrNone(Guid? Value)
{
    public static bool TryParse(string? text, out QueryIdOrNone choice)
    {
        bool isNone = string.Equals(text, "none", StringComparison.OrdinalIgnoreCase);
        bool isId = Guid.TryParse(text, out Guid id);
        choice = new(isId ? id : null);
        return isId || isNone;
    }
}
