using System.Numerics;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>Works out what the rota will send: which post, on which channels, and why.</summary>
public sealed class LineUp
{
    private readonly LineUpInput _input;
    private readonly Stock _stock;
    private readonly Rests _rests;
    private readonly Lines _lines;
    private readonly GivenPosts _given;
    private readonly TurnBook _turns;
    private readonly LineStates _states;
    private readonly Choosing _choosing;
    private readonly ILookup<OccurrenceKey, Delivery> _settled;
    private readonly Dictionary<Id<Slot>, int[]> _channels = [];
    private readonly bool _withStandBys;

    private LineUp(LineUpInput input, Instant from, bool withStandBys)
    {
        _input = input;
        _withStandBys = withStandBys;
        _stock = new(input);
        _settled = SettledOf(input);
        _rests = new(input);
        _lines = new(_stock, _rests);
        _given = new(input, _stock, _rests, _settled);
        _turns = new(input, _stock, from, [.. _given.TurnsFrom(from)]);
        _states = new(input, _stock);
        _choosing = new(input, _stock, _rests, _turns, _states);
    }

    /// <summary>The places with <paramref name="from"/> ≤ instant &lt; <paramref name="until"/>, in order.</summary>
    /// <param name="withStandBys">True to reserve a stand-by for each held post, as settling does.</param>
    /// <remarks>A longer look-ahead never changes a shorter one. Start it at the present: what went before is in the deliveries.</remarks>
    public static IReadOnlyList<Place> Project(LineUpInput input, Instant from, Instant until, bool withStandBys = false)
    {
        LineUp lineUp = new(input, from, withStandBys);
        return [.. Occurrences.Between(input.Rotas, from, until, input.Decisions).Select(lineUp.Fill)];
    }

    /// <summary>One occurrence as the line-up fills it, whenever it is; null when it isn't there or its time has passed.</summary>
    public static Place? PlaceOf(LineUpInput input, Instant from, OccurrenceKey key) => At(input, from, key, (lineUp, occurrence) => lineUp.Fill(occurrence));

    /// <summary>Every post of the line whose turn it is at one occurrence, as they would go, and those that can't go with the rule that keeps them out.</summary>
    /// <returns>Null when the occurrence isn't there.</returns>
    public static IReadOnlyList<(Post Post, Rule? Struck)>? CandidatesFor(LineUpInput input, Instant from, OccurrenceKey key) => At(input, from, key, (lineUp, occurrence) => lineUp.Rank(occurrence));

    /// <summary>Fills what comes before an occurrence, then does something with it.</summary>
    private static T? At<T>(LineUpInput input, Instant from, OccurrenceKey key, Func<LineUp, Occurrence, T> what)
        where T : class
    {
        if (input.Rotas.SelectMany(r => r.Slots.Select(s => (r, s))).FirstOrDefault(x => x.s.Id == key.SlotId) is not { s: { } slot, r: { } rota }) return null;
        if (Occurrences.Of(rota, slot, key.Date, input.Decisions.FirstOrDefault(d => d.Key == key)) is not { } at || at < from) return null;
        LineUp lineUp = new(input, from, withStandBys: false);
        foreach (Occurrence occurrence in Occurrences.Between(input.Rotas, from, at + Duration.FromTicks(1), input.Decisions))
        {
            if (occurrence.Key == key) return what(lineUp, occurrence);
            lineUp.Fill(occurrence);
        }
        return null;
    }

    /// <summary>What has become of settled occurrences; a stand-by is only there for another.</summary>
    internal static ILookup<OccurrenceKey, Delivery> SettledOf(LineUpInput input) =>
        input.Deliveries.Where(d => d.Key is not null && d.State != DeliveryState.StandBy).ToLookup(d => d.Key!.Value);

    private Place Fill(Occurrence occurrence)
    {
        if (_settled.Contains(occurrence.Key)) return Settled(occurrence, [.. _settled[occurrence.Key]]);
        if (occurrence.ReplacedBy is { } other) return Empty(occurrence, new(ReasonCode.Replaced) { Other = other.Name }, PlaceState.Replaced);
        if (occurrence.Decision?.IsSkipped == true) return Empty(occurrence, new(ReasonCode.Skipped), PlaceState.Skipped);
        LocalDate date = occurrence.At.InZone(_input.Zone).Date;
        if (_rests.Of(occurrence.Slot, date) is { } rest) return Empty(occurrence, new(rest), PlaceState.Paused);
        int[] channels = ChannelsOf(occurrence.Slot);
        if (channels.Length == 0) return Empty(occurrence, new(ReasonCode.NoChannel));

        Pick?[] picks = new Pick?[channels.Length];
        ulong wanted = channels.Length == 64 ? ulong.MaxValue : (1ul << channels.Length) - 1;
        foreach (GivenPost given in occurrence.Decision?.Posts ?? [])
        {
            int place = _stock.ChannelNumber(given.ChannelId) is { } number ? Array.IndexOf(channels, number) : -1;
            if (place < 0) continue;
            wanted &= ~(1ul << place);
            picks[place] = _given.PickFor(given, date);
        }
        Reason? reason = wanted == 0 ? null : FillByRotation(occurrence, channels, date, wanted, picks);
        Pick[] all = [.. picks.Select((p, i) => p ?? new Pick(_stock.Channels[channels[i]].Id, null, null, reason!))];
        return new(occurrence, all, reason ?? all[0].Reason);
    }

    /// <summary>Fills the wanted channels; returns the reason that stands for the whole occurrence.</summary>
    private Reason FillByRotation(Occurrence occurrence, int[] channels, LocalDate date, ulong wanted, Pick?[] picks)
    {
        Slot slot = occurrence.Slot;
        if (slot.Categories.Count == 0) return new(ReasonCode.KeptFree);
        List<Line> lines = _lines.Of(occurrence, channels, date);
        if (lines.Count == 0) return new(ReasonCode.CategoryPaused);
        Reason? first = null;
        while (wanted != 0)
        {
            (Choice choice, Line line, Reason reason) = Next(occurrence, lines, date, wanted);
            if (choice.IsEmpty)
            {
                Explain(occurrence, channels, date, wanted, first is null ? reason : null, picks);
                return first ?? reason;
            }
            first ??= reason;
            ulong taken = Take(occurrence, line, choice, reason, channels, picks);
            wanted &= ~taken;
            if (slot.FillsEveryChannel) continue;
            LeaveOut(occurrence, line, choice, channels, date, wanted, picks);
            break;
        }
        return first!;
    }

    /// <summary>The first line that has a candidate; past the gap, where that is set, only when none has one inside the rules.</summary>
    private (Choice Choice, Line Line, Reason Reason) Next(Occurrence occurrence, List<Line> lines, LocalDate date, ulong wanted)
    {
        Choice? empty = null;
        foreach (bool pastGap in new[] { false, true })
        {
            List<string> tried = [];
            foreach (Line line in lines)
            {
                if (pastGap && !line.Rule.PastGap) continue;
                Request request = new(line.Shelf, line.Rule, wanted, occurrence.At, date, pastGap);
                Choice choice = _choosing.Choose(request);
                if (!choice.IsEmpty) return (choice, pastGap ? line with { IsPastGap = true } : line, ReasonFor(request, choice, tried));
                empty ??= choice;
                tried.Add(line.Name);
            }
        }
        return (empty!, lines[0], new(ReasonCode.NoCandidate, empty!.Base, Counts(empty.Struck)) { OpensOn = empty.OpensOn });
    }

    private Reason ReasonFor(in Request request, Choice choice, List<string> tried)
    {
        Post? next = choice.Next < 0 ? null : _stock.Posts[choice.Next];
        Standing standing = choice.Standing;
        ReasonCode code = standing.Tier switch
        {
            Standing.Front => ReasonCode.Front,
            Standing.Back => ReasonCode.Back,
            _ when request.PastGap => ReasonCode.PastGap,
            _ => request.Rule.Order switch
            {
                Order.OldestFirst => ReasonCode.NextInRing,
                Order.Shuffled => ReasonCode.NextInRound,
                Order.NewestFirst when standing.IsNew => ReasonCode.NewestFirst,
                Order.GoodOnesOftener when !standing.IsNew => ReasonCode.StrongestRest,
                _ => standing.IsNew ? ReasonCode.NewOnesFirst : ReasonCode.EarliestTurn,
            },
        };
        return new(code, choice.Base, Counts(choice.Struck), standing.IsNew ? null : Instant.FromUnixTimeTicks(standing.LastTurn).InZone(_input.Zone).Date, next?.Id, next?.Title)
        {
            OpensOn = choice.OpensOn,
            TriedFirst = tried,
            Round = request.Rule.Order == Order.Shuffled ? _states.Of(request.Shelf.Line, standing.Channel).Round + standing.Sub : null,
        };
    }

    /// <summary>Gives the chosen post to the channels that can take it; returns which.</summary>
    private ulong Take(Occurrence occurrence, Line line, Choice choice, Reason reason, int[] channels, Pick?[] picks)
    {
        Post post = _stock.Posts[choice.Post];
        ulong taking = OneAccountEach(choice.Passing, channels);
        int reading = choice.Standing.Channel;
        for (ulong rest = taking; rest != 0; rest &= rest - 1)
        {
            int place = BitOperations.TrailingZeroCount(rest);
            int channel = channels[place];
            int wording = _turns.Wording(channel, choice.Post, TurnBook.DayOf(occurrence.At.InZone(_input.Zone).Date));
            // The ring is moved only by what it gave itself, and nobody gave what went past its gap.
            bool isByOrder = !line.IsPastGap && (line.Rule.Order != Order.OldestFirst || choice.Standing.Tier == Standing.InOrder);
            int? round = line.Rule.Order == Order.Shuffled ? _states.Of(line.Shelf.Line, channel).Round + (channel == reading ? choice.Standing.Sub : 0) : null;
            Pick pick = new(_stock.Channels[channel].Id, post.Id, null, reason)
            {
                GivenBy = isByOrder ? new(line.Shelf.Line, line.Rule.Order, round) : null,
                Alternate = Math.Max(0, wording),
                IsHeld = post.Stage == Stage.AwaitingYes,
                CategoryId = line.Category,
            };
            if (pick.IsHeld && _withStandBys) pick = pick with { StandBy = StandByFor(occurrence, line, choice.Post, channels, place) };
            picks[place] = pick;
        }
        // Only now: one turn must not strike the post on the next of its channels.
        for (ulong rest = taking; rest != 0; rest &= rest - 1)
        {
            int place = BitOperations.TrailingZeroCount(rest);
            Pick pick = picks[place]!;
            _turns.Add(channels[place], choice.Post, occurrence.At, pick.Alternate);
            if (pick.GivenBy is { } by) _states.Give(by.Line, channels[place], choice.Post, by.Order, by.Round);
        }
        return taking;
    }

    private Pick? StandByFor(Occurrence occurrence, Line line, int held, int[] channels, int place)
    {
        Request request = new(line.Shelf, line.Rule, 1ul << place, occurrence.At, occurrence.At.InZone(_input.Zone).Date, Without: held, AsStandBy: true);
        Choice choice = _choosing.Choose(request);
        if (choice.IsEmpty) return null;
        _turns.Add(channels[place], choice.Post, occurrence.At, 0);
        return new(_stock.Channels[channels[place]].Id, _stock.Posts[choice.Post].Id, null, ReasonFor(request, choice, []))
        {
            GivenBy = new(line.Shelf.Line, line.Rule.Order, null),
            CategoryId = line.Category,
        };
    }

    /// <summary>Where a network takes an occurrence on one account only: the one that has rested longest, the slot's first of equals.</summary>
    private ulong OneAccountEach(ulong passing, int[] channels)
    {
        ulong taking = passing;
        for (ulong rest = passing; rest != 0; rest &= rest - 1)
        {
            int place = BitOperations.TrailingZeroCount(rest);
            if (!_stock.Networks[channels[place]].OneAccountPerOccurrence) continue;
            for (ulong others = passing & ~(1ul << place); others != 0; others &= others - 1)
            {
                int other = BitOperations.TrailingZeroCount(others);
                if (_stock.Channels[channels[other]].Network != _stock.Channels[channels[place]].Network) continue;
                int order = _turns.Diary(channels[other]).Last.CompareTo(_turns.Diary(channels[place]).Last);
                if (order < 0 || (order == 0 && other < place)) taking &= ~(1ul << place);
            }
        }
        return taking;
    }

    /// <summary>Says why channels stay empty for which nobody is left.</summary>
    private void Explain(Occurrence occurrence, int[] channels, LocalDate date, ulong wanted, Reason? whole, Pick?[] picks)
    {
        for (; wanted != 0; wanted &= wanted - 1)
        {
            int place = BitOperations.TrailingZeroCount(wanted);
            Reason reason = _choosing.Closed(channels[place], occurrence.At, date) is { } closed ? new(closed)
                : whole ?? Next(occurrence, _lines.Of(occurrence, channels, date), date, 1ul << place).Reason;
            picks[place] = new(_stock.Channels[channels[place]].Id, null, null, reason);
        }
    }

    /// <summary>Says why channels stay empty that the chosen post doesn't go to.</summary>
    private void LeaveOut(Occurrence occurrence, Line line, Choice choice, int[] channels, LocalDate date, ulong wanted, Pick?[] picks)
    {
        Request request = new(line.Shelf, line.Rule, wanted, occurrence.At, date);
        for (; wanted != 0; wanted &= wanted - 1)
        {
            int place = BitOperations.TrailingZeroCount(wanted);
            Reason reason = (choice.Passing & (1ul << place)) != 0 ? new(ReasonCode.OneAccount)
                : _choosing.Closed(channels[place], occurrence.At, date) is { } closed ? new(closed)
                : new(ReasonCode.PostNotForChannel, Struck: _choosing.RuleFor(request, choice.Post, place) ?? Rule.Gap);
            picks[place] = new(_stock.Channels[channels[place]].Id, null, null, reason);
        }
    }

    private List<(Post Post, Rule? Struck)> Rank(Occurrence occurrence)
    {
        int[] channels = ChannelsOf(occurrence.Slot);
        LocalDate date = occurrence.At.InZone(_input.Zone).Date;
        ulong wanted = channels.Length == 64 ? ulong.MaxValue : (1ul << channels.Length) - 1;
        HashSet<int> seen = [];
        List<(Post, Rule?)> all = [];
        foreach (Line line in _lines.Of(occurrence, channels, date))
        {
            foreach ((int post, Rule? struck) in _choosing.Rank(new(line.Shelf, line.Rule, wanted, occurrence.At, date)))
            {
                if (seen.Add(post)) all.Add((_stock.Posts[post], struck));
            }
        }
        return all;
    }

    private int[] ChannelsOf(Slot slot) => _channels.TryGetValue(slot.Id, out int[]? known) ? known : _channels[slot.Id] = [.. slot.Channels.Select(_stock.ChannelNumber).OfType<int>()];

    private static Place Settled(Occurrence occurrence, Delivery[] deliveries)
    {
        Pick[] picks =
        [
            .. deliveries.Select(d => d.State == DeliveryState.Cancelled
                ? new Pick(d.ChannelId, null, d, new(ReasonCode.TakenOut))
                : new Pick(d.ChannelId, d.PostId, d, new(ReasonCode.Settled))),
        ];
        return new(occurrence, picks, picks[0].Reason);
    }

    private static Place Empty(Occurrence occurrence, Reason reason, PlaceState state = PlaceState.Open) =>
        new(occurrence, [.. occurrence.Slot.Channels.Select(c => new Pick(c, null, null, reason))], reason, state);

    private static RuleCount[] Counts(int[] struck) =>
        [.. struck.Select((n, rule) => new RuleCount((Rule)rule, n)).Where(c => c.Posts > 0)];
}
