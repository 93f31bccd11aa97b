using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>
/// How other languages than English write months and weekdays: whole, and as they are cut short. From memory of everyday use (common
/// practice, no source); letters are compared without their marks.
/// </summary>
public static partial class DateLanguages
{
    private sealed record Words(DateOrder Language, string[][] Months, string[][] Weekdays);

    /// <summary>January first; Monday first. Of each the whole word first, and what it is cut to.</summary>
    private static readonly Words[] All =
    [
        Of(
            DateOrder.German,
            "januar jan jaenner janner|februar feb|marz maerz mrz mar|april apr|mai|juni jun|juli jul|august aug|september sept sep"
                + "|oktober okt|november nov|dezember dez",
            "montag mo|dienstag di|mittwoch mi|donnerstag do|freitag fr|samstag sonnabend sa|sonntag so"
        ),
        Of(
            DateOrder.French,
            "janvier janv jan|fevrier fevr fev|mars|avril avr|mai|juin|juillet juil|aout|septembre sept sep|octobre oct|novembre nov"
                + "|decembre dec",
            "lundi lun lu|mardi mar ma|mercredi mer me|jeudi jeu je|vendredi ven ve|samedi sam sa|dimanche dim di"
        ),
        Of(
            DateOrder.Spanish,
            "enero ene|febrero feb|marzo mar|abril abr|mayo may|junio jun|julio jul|agosto ago|septiembre setiembre sept sep|octubre oct"
                + "|noviembre nov|diciembre dic",
            "lunes lun lu|martes mar ma|miercoles mie mi|jueves jue ju|viernes vie vi|sabado sab sa|domingo dom do"
        ),
        Of(
            DateOrder.Italian,
            "gennaio gen|febbraio feb|marzo mar|aprile apr|maggio mag|giugno giu|luglio lug|agosto ago|settembre sett set|ottobre ott"
                + "|novembre nov|dicembre dic",
            "lunedi lun lu|martedi mar ma|mercoledi mer me|giovedi gio gi|venerdi ven ve|sabato sab sa|domenica dom do"
        ),
        Of(
            DateOrder.Dutch,
            "januari jan|februari feb|maart mrt|april apr|mei|juni jun|juli jul|augustus aug|september sept sep|oktober okt|november nov"
                + "|december dec",
            "maandag maa ma|dinsdag din di|woensdag woe wo|donderdag don do|vrijdag vri vr|zaterdag zat za|zondag zon zo"
        ),
        Of(
            DateOrder.Portuguese,
            "janeiro jan|fevereiro fev|marco mar|abril abr|maio mai|junho jun|julho jul|agosto ago|setembro set|outubro out|novembro nov"
                + "|dezembro dez",
            "segunda segunda-feira seg|terca terca-feira ter|quarta quarta-feira qua|quinta quinta-feira qui|sexta sexta-feira sex"
                + "|sabado sab|domingo dom"
        ),
    ];

    private static Words Of(DateOrder language, string months, string weekdays) => new(language, Parted(months), Parted(weekdays));

    private static string[][] Parted(string words) => [.. words.Split('|').Select(w => w.Split(' '))];

    /// <summary>A date with a month's name in a text.</summary>
    /// <param name="Stretch">Where in the text it stands.</param>
    /// <param name="Months">By each language that knows the word, the month, from 1.</param>
    /// <param name="Year">Null: it says none.</param>
    internal sealed record Found(Match Stretch, int Day, IReadOnlyDictionary<DateOrder, int> Months, string? Year);

    /// <returns>Null: no language knows a month there.</returns>
    internal static Found? Find(string text)
    {
        foreach (Match match in Pattern().Matches(text))
        {
            string word = Folded(match.Groups["month"].Value);
            Dictionary<DateOrder, int> months = [];
            foreach (Words words in All)
            {
                if (Array.FindIndex(words.Months, m => m.Contains(word)) is >= 0 and var month)
                    months[words.Language] = month + 1;
            }
            if (months.Count > 0)
                return new(
                    match,
                    int.Parse(match.Groups["day"].ValueSpan, CultureInfo.InvariantCulture),
                    months,
                    match.Groups["year"] is { Success: true, Value: var year } ? year : null
                );
        }
        return null;
    }

    /// <summary>The weekdays that a word means in one language or another.</summary>
    internal static IEnumerable<IsoDayOfWeek> Weekdays(string word)
    {
        string folded = Folded(word.Trim().TrimEnd('.'));
        return All.Select(w => (IsoDayOfWeek)(1 + Array.FindIndex(w.Weekdays, d => d.Contains(folded)))).Where(d => d > 0).Distinct();
    }

    /// <summary>In lower case, and without what stands above or below letters.</summary>
    internal static string Folded(string text)
    {
        StringBuilder folded = new();
        foreach (char c in text.Normalize(NormalizationForm.FormD))
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark)
                folded.Append(char.ToLowerInvariant(c));
        }
        return folded.ToString();
    }

    [GeneratedRegex(
        @"(?<![\d:\p{L}])(?<day>\d{1,2})(?:\.|er|[º°ª])?[\s\-/]*(?:d[ei]\s+)?(?<month>\p{L}{3,})\.?"
            + @"(?:[\s,\-/]*(?:del?\s+)?(?<year>\d{4}|\d\d)(?![\d:]))?",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Pattern();
}
