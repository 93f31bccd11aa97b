using System.Diagnostics.CodeAnalysis;

namespace AbleLark.Core;

/// <summary>The identity of a <typeparamref name="T"/>: a UUID that can't be mistaken for the identity of something else.</summary>
public readonly record struct Id<T>(Guid Value) : IParsable<Id<T>>, IComparable<Id<T>>
{
    /// <summary>A new identity; later ones sort after earlier ones (UUID version 7).</summary>
    public static Id<T> New() => new(Guid.CreateVersion7());

    public static Id<T> Parse(string s, IFormatProvider? provider) => new(Guid.Parse(s, provider));

    public static bool TryParse([NotNullWhen(true)] string? s, IFormatProvider? provider, out Id<T> result)
    {
        bool ok = Guid.TryParse(s, provider, out Guid value);
        result = new(value);
        return ok;
    }

    public int CompareTo(Id<T> other) => Value.CompareTo(other.Value);

    public static bool operator <(Id<T> left, Id<T> right) => left.CompareTo(right) < 0;

    public static bool operator >(Id<T> left, Id<T> right) => left.CompareTo(right) > 0;

    public static bool operator <=(Id<T> left, Id<T> right) => left.CompareTo(right) <= 0;

    public static bool operator >=(Id<T> left, Id<T> right) => left.CompareTo(right) >= 0;

    public override string ToString() => Value.ToString();
}
