using AbleLark.Core.Channels;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <param name="ShareOfRepeats">Of all that goes out there in the look-ahead: 0 to 1.</param>
public sealed record StaleChannel(Id<Channel> ChannelId, double ShareOfRepeats);

/// <summary>What is worth a warning before it happens.</summary>
/// <param name="Dry">Categories that have nothing to send soon.</param>
/// <param name="Stale">Channels where nearly all is repeats.</param>
public sealed record Shortages(IReadOnlyList<Runway> Dry, IReadOnlyList<StaleChannel> Stale)
{
    /// <summary>Fewer sendings than this tell nothing of a channel.</summary>
    private const int FewestSendings = 4;

    /// <param name="soon">Last date on which an empty place is near enough.</param>
    /// <param name="staleAbove">Share of repeats above which a channel looks stale.</param>
    public static Shortages Of(IReadOnlyList<Runway> runways, LocalDate soon, double staleAbove) => new(
        [.. runways.Where(r => r.ChannelId is null && r.FirstEmpty <= soon)],
        [
            .. from channel in runways.Select(r => r.ChannelId).OfType<Id<Channel>>().Distinct()
               let there = Runways.On(channel, runways)
               where there.Sendings >= FewestSendings
               let share = there.ShareOfRepeats ?? 0
               where share > staleAbove
               select new StaleChannel(channel, share),
        ]);
}
