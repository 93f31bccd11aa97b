using System.Globalization;
using AbleLark.Core.Channels;
using AbleLark.Core.Findings;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>Looks at the times of a whole import, beside what goes out already.</summary>
public static class DraftTimes
{
    private readonly record struct Going(Instant At, int? Row);

    /// <summary>What comes too soon after another on its channel, or where a day is too full.</summary>
    /// <returns>By the number of the row that gives the time.</returns>
    public static ILookup<int, Finding> Check(IEnumerable<ImportDraft> drafts, ImportContext context)
    {
        Dictionary<Id<Channel>, List<Going>> all = [];
        foreach (DraftTime time in drafts.SelectMany(d => d.Times))
        {
            if (Occurrences.InstantOf(time.Local.Date, time.Local.TimeOfDay, context.Zone) is not { } at)
                continue;
            foreach (Id<Channel> channel in time.Channels)
                (all.TryGetValue(channel, out List<Going>? on) ? on : all[channel] = []).Add(new(at, time.Row));
        }
        List<(int Row, Finding Finding)> found = [];
        foreach (Channel channel in context.Channels)
        {
            if (!all.TryGetValue(channel.Id, out List<Going>? on))
                continue;
            on.AddRange(context.Going.GetValueOrDefault(channel.Id, []).Select(at => new Going(at, null)));
            on.Sort((a, b) => a.At.CompareTo(b.At));
            Check(channel, on, context, found);
        }
        return found.ToLookup(f => f.Row, f => f.Finding);
    }

    private static void Check(Channel channel, List<Going> on, ImportContext context, List<(int, Finding)> found)
    {
        string name = context.Targets.NameOf(channel),
            key = ImportTargets.KeyOf(RowField.Time);
        if (channel.Spacing is { } spacing)
            foreach ((Going before, Going after) in on.Zip(on.Skip(1)))
            {
                if (after.At - before.At < spacing && (after.Row ?? before.Row) is { } row)
                    found.Add(
                        (
                            row,
                            new(
                                FindingCode.RowTooClose,
                                Severity.Advice,
                                key,
                                name,
                                Whole((after.At - before.At).TotalMinutes),
                                Whole(spacing.TotalMinutes)
                            )
                        )
                    );
            }
        if (channel.DailyLimit is not { } limit)
            return;
        foreach (var day in on.GroupBy(g => g.At.InZone(channel.Zone ?? context.Zone).Date).Where(g => g.Count() > limit))
        {
            // Those that come last are too many.
            foreach (int row in day.Skip(limit).Select(g => g.Row).OfType<int>())
                found.Add(
                    (
                        row,
                        new(
                            FindingCode.RowDayFull,
                            Severity.Advice,
                            ImportTargets.KeyOf(RowField.Date),
                            name,
                            Whole(day.Count()),
                            day.Key.InWords(),
                            Whole(limit)
                        )
                    )
                );
        }
    }

    private static string Whole(double n) => n.ToString("0", CultureInfo.InvariantCulture);
}
