using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <param name="ShareOfRepeats">Of all that goes out there in the look-ahead: 0 to 1.</param>
public sealed record TooManyRepeats(Id<Channel> ChannelId, double ShareOfRepeats);

/// <summary>What is worth a warning before it happens.</summary>
/// <param name="Dry">Categories that have nothing to send soon.</param>
/// <param name="Repeating">Channels where nearly all is repeats.</param>
public sealed record Shortages(IReadOnlyList<Runway> Dry, IReadOnlyList<TooManyRepeats> Repeating)
{
    /// <summary>Fewer deliveries than this tell nothing of a channel.</summary>
    private const int FewestDeliveries = 4;

    /// <summary>So many days ahead an empty place is near enough.</summary>
    private const int SoonDays = 21;

    /// <summary>How far posts last over some weeks, and what of it runs short soon.</summary>
    public static (IReadOnlyList<Runway> Runways, Shortages Shortages) Within(
        int weeks,
        Workspace workspace,
        SharedLineUp lineUp,
        Instant now
    )
    {
        IReadOnlyList<LineUpPlace> places = lineUp.Project(now, now + Duration.FromDays(7 * weeks));
        IReadOnlyList<Runway> runways = Runways.Of(lineUp.Input, places, 7 * weeks);
        return (runways, Of(runways, workspace.DateOf(now).PlusDays(SoonDays), workspace.WarnAboveRepeats));
    }

    /// <param name="soon">Last date on which an empty place is near enough.</param>
    /// <param name="warnAboveRepeats">Share of repeats above which a channel has too many repeats.</param>
    public static Shortages Of(IReadOnlyList<Runway> runways, LocalDate soon, double warnAboveRepeats) =>
        new(
            [.. runways.Where(r => r.ChannelId is null && r.FirstEmpty <= soon)],
            [
                .. from channel in runways.Select(r => r.ChannelId).OfType<Id<Channel>>().Distinct()
                let there = Runways.On(channel, runways)
                where there.Deliveries >= FewestDeliveries
                let share = there.ShareOfRepeats ?? 0
                where share > warnAboveRepeats
                select new TooManyRepeats(channel, share),
            ]
        );
}
