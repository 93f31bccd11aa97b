using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>Works out what the rota will send: which post, on which channels, and why.</summary>
public sealed class LineUp
{
    private readonly LineUpInput _input;
    private readonly BankIndex _bank;
    private readonly ActivePauses _pauses;
    private readonly Lines _lines;
    private readonly GivenPosts _given;
    private readonly Choosing _choosing;
    private readonly ILookup<Origin, LineUpDelivery> _scheduled;
    private readonly Dictionary<Id<Slot>, int[]> _channels = [];
    private readonly RotationFilling _rotation;

    private LineUp(LineUpInput input, Instant from, bool withSubstitutes)
    {
        _input = input;
        _bank = new(input);
        _scheduled = ScheduledOf(input);
        _pauses = new(input);
        _lines = new(_bank, _pauses);
        _given = new(input, _bank, _pauses, _scheduled);
        TurnHistory turns = new(input, _bank, from, [.. _given.TurnsFrom(from)]);
        LineStates states = new(input, _bank);
        Screening screening = new(_bank, _pauses, turns);
        _choosing = new(screening, new(input, _bank, turns, states), turns);
        _rotation = new(input, _bank, _lines, turns, states, screening, _choosing, withSubstitutes);
    }

    /// <summary>The places with <paramref name="from"/> ≤ instant &lt; <paramref name="until"/>, in order.</summary>
    /// <param name="withSubstitutes">True to reserve a substitute for each post that waits, as scheduling does.</param>
    /// <remarks>A longer look-ahead never changes a shorter one. Start it at the present: what went before is in the deliveries.</remarks>
    public static IReadOnlyList<LineUpPlace> Project(LineUpInput input, Instant from, Instant until, bool withSubstitutes = false)
    {
        LineUp lineUp = new(input, from, withSubstitutes);
        return [.. Occurrences.Between(input.Rotas, from, until, input.Decisions).Select(lineUp.Fill)];
    }

    /// <summary>One occurrence as the line-up fills it, whenever it is; null when it isn't there or its time has passed.</summary>
    public static LineUpPlace? PlaceOf(LineUpInput input, Instant from, Origin origin) =>
        At(input, from, origin, (lineUp, occurrence) => lineUp.Fill(occurrence));

    /// <summary>Every post of the line whose turn it is at one occurrence, as they would go, and those that can't go with the rule that
    /// keeps them out.</summary>
    /// <returns>Null when the occurrence isn't there.</returns>
    public static IReadOnlyList<(LineUpPost Post, Rule? ExcludedBy)>? CandidatesFor(LineUpInput input, Instant from, Origin origin) =>
        At(input, from, origin, (lineUp, occurrence) => lineUp.Rank(occurrence));

    /// <summary>Fills what comes before an occurrence, then does something with it.</summary>
    private static T? At<T>(LineUpInput input, Instant from, Origin origin, Func<LineUp, Occurrence, T> what)
        where T : class
    {
        if (
            input.Rotas.SelectMany(r => r.Slots.Select(s => (r, s))).FirstOrDefault(x => x.s.Id == origin.SlotId)
            is not { s: { } slot, r: { } rota }
        )
            return null;
        if (Occurrences.Of(rota, slot, origin.Date, input.Decisions.FirstOrDefault(d => d.Origin == origin)) is not { } at || at < from)
            return null;
        LineUp lineUp = new(input, from, withSubstitutes: false);
        foreach (Occurrence occurrence in Occurrences.Between(input.Rotas, from, at + Duration.FromTicks(1), input.Decisions))
        {
            if (occurrence.Origin == origin)
                return what(lineUp, occurrence);
            lineUp.Fill(occurrence);
        }
        return null;
    }

    /// <summary>What has become of scheduled occurrences; a substitute is only there for another.</summary>
    internal static ILookup<Origin, LineUpDelivery> ScheduledOf(LineUpInput input) =>
        input.Deliveries.Where(d => d.Origin.SlotId is not null && d.State != DeliveryState.Substitute).ToLookup(d => d.Origin);

    private LineUpPlace Fill(Occurrence occurrence)
    {
        if (_scheduled.Contains(occurrence.Origin))
            return Scheduled(occurrence, [.. _scheduled[occurrence.Origin]]);
        if (occurrence.ReplacedBy is { } other)
            return Empty(occurrence, new(ReasonCode.Replaced) { Other = other.Name }, PlaceState.Replaced);
        if (occurrence.Decision?.IsSkipped == true)
            return Empty(occurrence, new(ReasonCode.Skipped), PlaceState.Skipped);
        LocalDate date = occurrence.At.InZone(_input.Zone).Date;
        if (_pauses.Of(occurrence.Slot, date) is { } rest)
            return Empty(occurrence, new(rest), PlaceState.Paused);
        int[] channels = ChannelsOf(occurrence.Slot);
        if (channels.Length == 0)
            return Empty(occurrence, new(ReasonCode.NoChannel));

        Pick?[] picks = new Pick?[channels.Length];
        ChannelSet wanted = ChannelSet.All(channels.Length);
        foreach (GivenPost given in occurrence.Decision?.Posts ?? [])
        {
            int place = _bank.ChannelNumber(given.ChannelId) is { } number ? Array.IndexOf(channels, number) : -1;
            if (place < 0)
                continue;
            wanted -= ChannelSet.Of(place);
            picks[place] = _given.PickFor(given, date);
            if (picks[place]!.PostId is { } post)
                _rotation.NoteGiven(channels[place], _bank.Numbers[post]);
        }
        Reason? reason = wanted.IsEmpty ? null : _rotation.Fill(occurrence, channels, date, wanted, picks);
        Pick[] all = [.. picks.Select((p, i) => p ?? new Pick(_bank.Channels[channels[i]].Id, null, null, reason!))];
        return new(occurrence, all, reason ?? all[0].Reason);
    }

    private List<(LineUpPost Post, Rule? ExcludedBy)> Rank(Occurrence occurrence)
    {
        int[] channels = ChannelsOf(occurrence.Slot);
        LocalDate date = occurrence.At.InZone(_input.Zone).Date;
        ChannelSet wanted = ChannelSet.All(channels.Length);
        // What somebody has given to this very place closes its channel to nobody who is to take it.
        ChannelSet filled = ChannelSet.None;
        foreach (GivenPost given in occurrence.Decision?.Posts ?? [])
        {
            if (_bank.ChannelNumber(given.ChannelId) is { } number && Array.IndexOf(channels, number) is >= 0 and var place)
                filled |= _given.PickFor(given, date).PostId is null ? ChannelSet.None : ChannelSet.Of(place);
        }
        HashSet<int> seen = [];
        List<(LineUpPost, Rule?)> all = [];
        foreach (Line line in _lines.Of(occurrence, channels, date))
        {
            Request request = new(line.CandidateSet, line.Rule, wanted, occurrence.At, date, Filled: filled);
            foreach ((int post, Rule? excluded) in _choosing.Rank(request))
            {
                if (seen.Add(post))
                    all.Add((_bank.Posts[post], excluded));
            }
        }
        return all;
    }

    private int[] ChannelsOf(Slot slot) =>
        _channels.TryGetValue(slot.Id, out int[]? known)
            ? known
            : _channels[slot.Id] = [.. slot.Channels.Select(_bank.ChannelNumber).OfType<int>()];

    private static LineUpPlace Scheduled(Occurrence occurrence, LineUpDelivery[] deliveries)
    {
        Pick[] picks =
        [
            .. deliveries.Select(d =>
                d.State == DeliveryState.Cancelled
                    ? new Pick(d.ChannelId, null, d, new(ReasonCode.TakenOut))
                    : new Pick(d.ChannelId, d.PostId, d, new(ReasonCode.Scheduled))
            ),
        ];
        return new(occurrence, picks, picks[0].Reason);
    }

    private static LineUpPlace Empty(Occurrence occurrence, Reason reason, PlaceState state = PlaceState.Open) =>
        new(occurrence, [.. occurrence.Slot.Channels.Select(c => new Pick(c, null, null, reason))], reason, state);
}
