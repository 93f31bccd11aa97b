using System.Globalization;
using NodaTime;

namespace AbleLark.Core;

/// <summary>Dates and times as sentences say them, in every part alike: 4 Mar 2027, 09:30.</summary>
public static class DateWords
{
    public static string InWords(this LocalDate date) => date.ToString("d MMM yyyy", CultureInfo.InvariantCulture);

    public static string InWords(this LocalDateTime local) => local.ToString("d MMM yyyy, HH:mm", CultureInfo.InvariantCulture);
}
