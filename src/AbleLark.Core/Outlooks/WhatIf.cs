using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Outlooks;

/// <summary>A change tried before it is saved.</summary>
/// <param name="FirstChange">First date on which anything would be other than it is; null: nothing changes.</param>
public sealed record WhatIf(Outlook Before, Outlook After, LocalDate? FirstChange, int PlacesThatChange)
{
    /// <summary>Both states over the same time, from the present on.</summary>
    public static WhatIf Try(SharedLineUp before, LineUpInput after, Instant from, int days)
    {
        (LookAhead was, LookAhead would) = (null!, null!);
        // Somebody is dragging and waits: each state on a core of its own, and what is known of the present one isn't worked out again.
        Parallel.Invoke(
            () => was = before.Look(from, days),
            () => would = LookAhead.Of(after, LineUp.Project(after, from, LookAhead.End(from, days)), from, days)
        );
        List<Instant> changed =
        [
            .. was.Going.Except(would.Going).Concat(would.Going.Except(was.Going)).Select(s => s.At).Distinct().Order(),
        ];
        return new(was.Outlook, would.Outlook, changed.Count == 0 ? null : changed[0].InZone(before.Input.Zone).Date, changed.Count);
    }
}

/// <summary>What one state sends within a look-ahead, and its sums.</summary>
/// <param name="Going">What its open places send; null: nothing.</param>
public sealed record LookAhead(IReadOnlySet<(Instant At, Id<Channel> Channel, Id<Post>? Post)> Going, Outlook Outlook)
{
    public static Instant End(Instant from, int days) => from + Duration.FromDays(days);

    /// <param name="places">The places from <paramref name="from"/> to <see cref="End"/>.</param>
    public static LookAhead Of(LineUpInput input, IReadOnlyList<LineUpPlace> places, Instant from, int days) =>
        new(
            places
                .Where(p => p.State == PlaceState.Open)
                .SelectMany(p => p.Picks.Select(k => (p.Occurrence.At, k.ChannelId, k.PostId)))
                .ToHashSet(),
            OutlookSums.Of(input, places, from, days)
        );
}
