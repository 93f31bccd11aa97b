using System.ComponentModel.DataAnnotations;
using System.Globalization;

namespace AbleLark.Server;

/// <summary>A name that people give: not blank, and at most <see cref="Longest"/> characters.</summary>
/// <param name="what">What is named, as in "the category".</param>
public sealed class NamedAttribute(string what) : StringLengthAttribute(Longest)
{
    public const int Longest = 120;

    protected override ValidationResult? IsValid(object? value, ValidationContext validationContext)
    {
        string name = ((string?)value ?? "").Trim();
        return name.Length switch
        {
            0 => new($"Give {what} a name."),
            > Longest => new(
                string.Create(CultureInfo.InvariantCulture, $"The name of {what} has {name.Length} characters; {Longest} is the most.")
            ),
            _ => ValidationResult.Success,
        };
    }
}

/// <summary>A text of at most so many characters.</summary>
/// <param name="what">As in "The note".</param>
public sealed class MostCharactersAttribute(int most, string what) : StringLengthAttribute(most)
{
    protected override ValidationResult? IsValid(object? value, ValidationContext validationContext)
    {
        int length = ((string?)value ?? "").Trim().Length;
        return length <= MaximumLength
            ? ValidationResult.Success
            : new(string.Create(CultureInfo.InvariantCulture, $"{what} has {length} characters; {MaximumLength} is the most."));
    }
}

/// <summary>Weekdays by number.</summary>
public sealed class WeekdaysAttribute : ValidationAttribute
{
    protected override ValidationResult? IsValid(object? value, ValidationContext validationContext) =>
        value is IEnumerable<int> days && days.Any(d => d is < 1 or > 7)
            ? new("Weekdays run from 1 (Monday) to 7 (Sunday).")
            : ValidationResult.Success;
}
