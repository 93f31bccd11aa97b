using AbleLark.Core.Categories;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>Asks the rules which posts of a line may go to an occurrence, and on which of its channels.</summary>
internal sealed class Screening(BankIndex bank, ActivePauses pauses, TurnHistory turns)
{
    /// <summary>The first rule that keeps a post from one channel of a slot; null when none does.</summary>
    public Rule? RuleFor(in Request request, int post, int place)
    {
        int index = Array.BinarySearch(request.CandidateSet.Posts, post);
        if (index < 0)
            return Rule.Category;
        (int opens, int until) = (0, 0);
        Request one = request with { Wanted = ChannelSet.Of(place) };
        return RuleOn(one, index, TurnHistory.DayOf(request.Date), OpenChannels(one), ref opens, ref until, out _);
    }

    /// <summary>Channels of the slot that are neither paused nor full at that instant, whatever this occurrence has given them.</summary>
    public ChannelSet OpenChannels(in Request request)
    {
        ChannelSet open = ChannelSet.None;
        for (int place = 0; place < request.CandidateSet.Channels.Length; place++)
        {
            if (Closed(request.CandidateSet.Channels[place], request.At, request.Date, request.Filled.Contains(place) ? 1 : 0) is null)
                open |= ChannelSet.Of(place);
        }
        return open;
    }

    /// <summary>Why nothing by rotation goes to a channel at an instant; null when something may.</summary>
    /// <param name="own">See <see cref="ChannelDiary.Breaks"/>.</param>
    public ReasonCode? Closed(int channel, Instant at, LocalDate date, int own = 0) =>
        pauses.OfChannel(bank.Channels[channel].Id, date) ?? turns.Diary(channel).Breaks(at, own);

    /// <summary>Null while a channel stays open to the post; else the rule that strikes the last of them, which is the one that
    /// counts.</summary>
    /// <param name="index">The post's place on the set.</param>
    /// <param name="opens">Lowered to the first day on which the gap ends, where the gap is what counts.</param>
    /// <param name="until">Lowered to the first day on which the answer may be another without anything having been sent.</param>
    public Rule? RuleOn(in Request request, int index, int day, ChannelSet open, ref int opens, ref int until, out ChannelSet passing)
    {
        passing = ChannelSet.None;
        int post = request.CandidateSet.Posts[index];
        SetPost fit = request.CandidateSet.Open[index];
        if (post == request.Without)
            return Rule.LeftOut;
        if (request.AsSubstitute && bank.Posts[post].Stage != Stage.Ready)
            return Rule.Stage;
        if (fit.ExcludedBy is { } always)
            return always;
        Lifespan lifespan = Lifespan.Evergreen;
        if (!bank.IsPlain[post])
        {
            LineUpPost whole = bank.Posts[post];
            until = 0;
            if (request.Date < whole.From || request.Date > whole.To)
                return Rule.Lifespan;
            lifespan = whole.Lifespan;
        }
        if ((fit.Chosen & request.Wanted).IsEmpty)
            return Rule.ChannelChosen;
        ChannelSet able = fit.Open & request.Wanted;
        if (able.IsEmpty)
            return Rule.Fit;
        able &= open;
        if (able.IsEmpty)
            return Rule.ChannelClosed;
        if (lifespan == Lifespan.OnceAltogether && turns.HasTurnApartFrom(post, request.At.ToUnixTimeTicks()))
            return Rule.Once;
        if (request.AsSubstitute && IsScheduledInSlot(request.CandidateSet, post))
            return Rule.Gap;
        ChannelSet gone = Gone(request, post);
        int gap = request.PastGap ? 1 : bank.Gaps[post];
        int reopens = int.MaxValue;
        Rule last = Rule.Once;
        foreach (int place in able)
        {
            int channel = request.CandidateSet.Channels[place];
            until = Math.Min(until, turns.HoldsUntil(turns.LineOf(channel, post), channel, post, day));
            if (RuleOnChannel(channel, post, day, gap, lifespan, gone.Contains(place), ref reopens) is not { } rule)
                passing |= ChannelSet.Of(place);
            else if (rule > last)
                last = rule;
        }
        until = Math.Min(until, reopens);
        if (!passing.IsEmpty)
            return null;
        if (last == Rule.Gap)
            opens = Math.Min(opens, reopens);
        return last;
    }

    /// <summary>The first rule of turns that keeps a post from one open channel; null when none does.</summary>
    /// <param name="isGone">It went to another account of the channel's network in this very occurrence.</param>
    /// <param name="reopens">Lowered to the day on which the gap ends, where that is the rule.</param>
    private Rule? RuleOnChannel(int channel, int post, int day, int gap, Lifespan lifespan, bool isGone, ref int reopens)
    {
        int line = turns.LineOf(channel, post);
        if (turns.HasTurn(line) && lifespan != Lifespan.Evergreen)
            return Rule.Once;
        if (turns.HasTurn(line) && turns.IsInsideGap(line, day, gap))
        {
            reopens = Math.Min(reopens, turns.OpensOn(line, day, gap));
            return Rule.Gap;
        }
        if (isGone || turns.Wording(channel, post, day) < 0)
            return Rule.IdenticalText;
        return turns.HasOpenFailure(line) ? Rule.FailedDelivery : null;
    }

    private bool IsScheduledInSlot(CandidateSet set, int post)
    {
        foreach (int channel in set.Channels)
        {
            if (turns.IsScheduled(turns.LineOf(channel, post)))
                return true;
        }
        return false;
    }

    private static ChannelSet Gone(in Request request, int post)
    {
        ChannelSet places = ChannelSet.None;
        foreach ((int gone, ChannelSet others) in request.Gone ?? [])
        {
            if (gone == post)
                places |= others;
        }
        return places;
    }
}
