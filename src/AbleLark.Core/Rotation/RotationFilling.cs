using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>Fills by rotation what people have left free of an occurrence.</summary>
internal sealed class RotationFilling(
    LineUpInput input,
    BankIndex bank,
    Lines lines,
    TurnHistory turns,
    LineStates states,
    Screening screening,
    Choosing choosing,
    bool withSubstitutes
)
{
    private readonly Accounts _accounts = new(bank, turns);

    /// <summary>An occurrence while it is being filled.</summary>
    /// <param name="Channels">Numbers in the bank, in the slot's order.</param>
    /// <param name="Lines">Beginning with the one whose turn it is.</param>
    /// <param name="Picks">By place in the slot; what people gave stands there already.</param>
    private sealed record Filled(Occurrence Occurrence, int[] Channels, LocalDate Date, List<Line> Lines, Pick?[] Picks)
    {
        /// <summary>See <see cref="Request.Gone"/>.</summary>
        public List<(int Post, ChannelSet Places)> Gone { get; } = [];
    }

    /// <summary>Fills the wanted channels; returns the reason that stands for the whole occurrence.</summary>
    public Reason Fill(Occurrence occurrence, int[] channels, LocalDate date, ChannelSet wanted, Pick?[] picks)
    {
        if (occurrence.Slot.Source.IsNone)
            return new(ReasonCode.KeptFree);
        Filled filled = new(occurrence, channels, date, lines.Of(occurrence, channels, date), picks);
        if (filled.Lines.Count == 0)
            return new(ReasonCode.CategoryPaused);
        for (int place = 0; place < picks.Length; place++)
        {
            if (picks[place]?.PostId is { } given)
                KeepFromOtherAccounts(filled, bank.Numbers[given], place);
        }
        Reason? first = null;
        while (!wanted.IsEmpty)
        {
            (Choice choice, Line line, Reason reason) = Next(filled, wanted);
            if (choice.IsEmpty)
            {
                Explain(filled, wanted, first is null ? reason : null);
                return first ?? reason;
            }
            first ??= reason;
            bool isLast = !occurrence.Slot.FillsEveryChannel;
            if (isLast)
                LeaveOut(filled, line, choice, wanted);
            wanted -= Take(filled, line, choice, reason, isLast);
            if (isLast)
                break;
        }
        return first!;
    }

    /// <summary>The first line that has a candidate; past the gap, where that is set, only when none has one inside the rules.</summary>
    private (Choice Choice, Line Line, Reason Reason) Next(Filled filled, ChannelSet wanted)
    {
        Choice? empty = null;
        foreach (bool pastGap in new[] { false, true })
        {
            List<string> tried = [];
            foreach (Line line in filled.Lines)
            {
                if (pastGap && !line.Rule.PastGap)
                    continue;
                Request request = RequestFor(filled, line, wanted) with { PastGap = pastGap };
                Choice choice = choosing.Choose(request);
                if (!choice.IsEmpty)
                    return (choice, pastGap ? line with { IsPastGap = true } : line, ReasonFor(request, choice, tried));
                empty ??= choice;
                tried.Add(line.Name);
            }
        }
        return (empty!, filled.Lines[0], new(ReasonCode.NoCandidate, empty!.Base, Counts(empty.ExcludedBy)) { OpensOn = empty.OpensOn });
    }

    private static Request RequestFor(Filled filled, Line line, ChannelSet wanted) =>
        new(
            line.CandidateSet,
            line.Rule,
            wanted,
            filled.Occurrence.At,
            filled.Date,
            line.IsPastGap,
            Filled: ChannelSet.Where(filled.Picks, pick => pick?.PostId is not null),
            Gone: filled.Gone
        );

    private Reason ReasonFor(in Request request, Choice choice, List<string> tried)
    {
        LineUpPost? next = choice.Next < 0 ? null : bank.Posts[choice.Next];
        RankKey rankKey = choice.RankKey;
        ReasonCode code = rankKey.Tier switch
        {
            RankKey.Front => ReasonCode.Front,
            RankKey.Back => ReasonCode.Back,
            _ when request.PastGap => ReasonCode.PastGap,
            _ => request.Rule.Order switch
            {
                Order.OldestFirst => ReasonCode.NextInRing,
                Order.Shuffled => ReasonCode.NextInRound,
                Order.NewestFirst when rankKey.IsNew => ReasonCode.NewestFirst,
                Order.BetterOnesMoreOften when !rankKey.IsNew => ReasonCode.LargestWeight,
                _ => rankKey.IsNew ? ReasonCode.NewOnesFirst : ReasonCode.EarliestTurn,
            },
        };
        return new(
            code,
            choice.Base,
            Counts(choice.ExcludedBy),
            rankKey.IsNew ? null : Instant.FromUnixTimeTicks(rankKey.LastTurn).InZone(input.Zone).Date,
            next?.Id,
            next?.Title
        )
        {
            OpensOn = choice.OpensOn,
            TriedFirst = tried,
            Round = request.Rule.Order == Order.Shuffled ? states.Of(request.CandidateSet.Line, rankKey.Channel).Round + rankKey.Sub : null,
        };
    }

    /// <summary>Gives the chosen post to the channels that can take it; returns which of them are scheduled by that.</summary>
    /// <param name="isLast">True: a channel that the post passes on, but that can't have it as well, stays empty and says so.</param>
    private ChannelSet Take(Filled filled, Line line, Choice choice, Reason reason, bool isLast)
    {
        ChannelSet taking = _accounts.Each(choice.Passing, filled.Channels);
        if (isLast)
            Say(filled, choice.Passing - taking, new(ReasonCode.OneAccount));
        Pick?[] taken = PicksFor(filled, line, choice, reason, taking, out ChannelSet alike);
        if (isLast)
            Say(filled, alike, new(ReasonCode.PostNotForChannel, ExcludedBy: Rule.IdenticalText));
        taking -= alike;
        // A substitute is chosen as if the post that waits weren't there: before that is written down.
        if (withSubstitutes)
            Reserve(filled, choice.Post, taken);
        // Only now: one turn must not strike the post on the next of its channels.
        for (int place = 0; place < taken.Length; place++)
        {
            if (taken[place] is not { } pick)
                continue;
            filled.Picks[place] = pick;
            Write(filled, choice.Post, place, pick);
            if (pick.DrawnBy is { } by)
                states.Give(by, filled.Channels[place], choice.Post, filled.Occurrence.At);
            KeepFromOtherAccounts(filled, choice.Post, place);
            if (pick.Substitute?.PostId is { } substitute)
                KeepFromOtherAccounts(filled, bank.Numbers[substitute], place);
        }
        return taking;
    }

    /// <summary>What each of the channels gets of a chosen post, by place in the slot.</summary>
    /// <param name="alike">Channels left without, because every wording that could go there goes to another account of their network in
    /// this occurrence.</param>
    private Pick?[] PicksFor(Filled filled, Line line, Choice choice, Reason reason, ChannelSet places, out ChannelSet alike)
    {
        Pick?[] picks = new Pick?[filled.Channels.Length];
        List<int> here = [];
        alike = ChannelSet.None;
        bool isByOrder = !line.IsPastGap && (line.Rule.Order != Order.OldestFirst || choice.IsRings);
        foreach (int place in places)
        {
            int channel = filled.Channels[place];
            int wording = turns.Wording(channel, choice.Post, TurnHistory.DayOf(filled.Date), here);
            if (wording < 0)
            {
                alike |= ChannelSet.Of(place);
                continue;
            }
            if (turns.TextOf(channel, choice.Post, wording) is { } text)
                here.Add(text);
            int? round =
                line.Rule.Order == Order.Shuffled
                    ? states.Of(line.CandidateSet.Line, channel).Round + (channel == choice.RankKey.Channel ? choice.RankKey.Sub : 0)
                    : null;
            picks[place] = new(bank.Channels[channel].Id, bank.Posts[choice.Post].Id, null, reason)
            {
                DrawnBy = isByOrder ? new(line.CandidateSet.Line, line.Rule.Order, round) : null,
                Wording = wording,
                IsWaiting = bank.Waits(channel, choice.Post, wording),
                CategoryId = line.Category,
            };
        }
        return picks;
    }

    /// <summary>Chooses and writes down who goes if the post that waits has no approval in time: one post for all its channels, further
    /// ones only where every channel is to be filled.</summary>
    private void Reserve(Filled filled, int waiting, Pick?[] taken)
    {
        ChannelSet places = ChannelSet.None;
        for (int place = 0; place < taken.Length; place++)
        {
            if (taken[place]?.IsWaiting == true)
                places |= ChannelSet.Of(place);
        }
        while (!places.IsEmpty)
        {
            if (SubstituteFor(filled, waiting, places) is not var (choice, line, reason))
                return;
            Pick?[] picks = PicksFor(filled, line, choice, reason, choice.Passing, out _);
            for (int place = 0; place < picks.Length; place++)
            {
                if (picks[place] is not { } pick)
                    continue;
                taken[place] = taken[place]! with { Substitute = pick };
                Write(filled, choice.Post, place, pick, isSubstitute: true);
                places -= ChannelSet.Of(place);
            }
            if (!filled.Occurrence.Slot.FillsEveryChannel)
                return;
        }
    }

    private (Choice Choice, Line Line, Reason Reason)? SubstituteFor(Filled filled, int waiting, ChannelSet places)
    {
        List<string> tried = [];
        foreach (Line line in filled.Lines)
        {
            Request request = RequestFor(filled, line, places) with { Without = waiting, AsSubstitute = true };
            Choice choice = choosing.Choose(request);
            if (!choice.IsEmpty)
                return (choice, line, ReasonFor(request, choice, tried));
            tried.Add(line.Name);
        }
        return null;
    }

    /// <summary>A post that a person gave is scheduled with its place, as those of the rotation are: it is no substitute on that slot's
    /// channels then.</summary>
    public void NoteGiven(int channel, int post)
    {
        if (withSubstitutes)
            turns.Schedule(channel, post);
    }

    private void Write(Filled filled, int post, int place, Pick pick, bool isSubstitute = false)
    {
        turns.Add(filled.Channels[place], post, filled.Occurrence.At, pick.Wording, isSubstitute);
        if (withSubstitutes)
            turns.Schedule(filled.Channels[place], post);
    }

    private void KeepFromOtherAccounts(Filled filled, int post, int place)
    {
        if (_accounts.Others(filled.Channels, place) is { IsEmpty: false } others)
            filled.Gone.Add((post, others));
    }

    /// <summary>Says why channels stay empty for which nobody is left.</summary>
    private void Explain(Filled filled, ChannelSet wanted, Reason? whole)
    {
        foreach (int place in wanted)
        {
            Say(
                filled,
                ChannelSet.Of(place),
                screening.Closed(filled.Channels[place], filled.Occurrence.At, filled.Date) is { } closed
                    ? new(closed)
                    : whole ?? Next(filled, ChannelSet.Of(place)).Reason
            );
        }
    }

    /// <summary>Says why channels stay empty that the chosen post can't go to; asked before its turn is written down.</summary>
    private void LeaveOut(Filled filled, Line line, Choice choice, ChannelSet wanted)
    {
        Request request = RequestFor(filled, line, wanted);
        foreach (int place in wanted - choice.Passing)
        {
            Say(
                filled,
                ChannelSet.Of(place),
                screening.Closed(filled.Channels[place], filled.Occurrence.At, filled.Date) is { } closed
                    ? new(closed)
                    : new(ReasonCode.PostNotForChannel, ExcludedBy: screening.RuleFor(request, choice.Post, place))
            );
        }
    }

    private void Say(Filled filled, ChannelSet places, Reason reason)
    {
        foreach (int place in places)
        {
            filled.Picks[place] = new(bank.Channels[filled.Channels[place]].Id, null, null, reason);
        }
    }

    private static RuleCount[] Counts(int[] excluded) =>
        [.. excluded.Select((n, rule) => new RuleCount((Rule)rule, n)).Where(c => c.Posts > 0)];
}
