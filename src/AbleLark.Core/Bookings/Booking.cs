using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Bookings;

/// <summary>Which place a post gets instead of waiting for its turn.</summary>
public enum BookingKind
{
    /// <summary>The earliest that is neither scheduled nor booked nor picked; what rotation would send there moves on.</summary>
    FirstFree,

    /// <summary>The very next that is neither scheduled nor picked; bookings there move on one place each.</summary>
    VeryNext,
}

public sealed record BookedPlace(Origin Origin, Instant At);

/// <summary>A post that gets another place on a channel.</summary>
/// <param name="From">Where it was booked before, and is no longer; null: it had no place there, or keeps it.</param>
/// <param name="To">Null: no place is left for it, so it goes to the front of its line.</param>
public sealed record BookingMove(Id<Post> PostId, Id<Channel> ChannelId, BookedPlace? From, BookedPlace? To);

/// <summary>What speaks against a place that a post would get by hand: it goes there all the same, if a person says so.</summary>
/// <param name="Rule">What would keep rotation from it.</param>
/// <param name="Closed">With <see cref="Rule.ChannelClosed"/>: what closes the channel.</param>
public sealed record BookingWarning(Id<Channel> ChannelId, Rule Rule, ReasonCode? Closed = null);

/// <summary>A channel on which the post gets no place.</summary>
/// <param name="ExcludedBy">The rule that keeps it out; null: it could go, but no place for it comes in the look-ahead.</param>
public sealed record NoBooking(Id<Channel> ChannelId, Rule? ExcludedBy);

/// <summary>What booking a post would do, before anything is done.</summary>
/// <param name="Moves">First the post itself on each of its channels, then whom it displaces, in order.</param>
/// <param name="Left">Places that the post itself was promised on a channel before, open or not, and leaves: it has at most one
/// there.</param>
/// <param name="Warnings">About the places that the post itself would get.</param>
/// <param name="Sooner">Scheduled places that come before those it would get: a person may take one.</param>
public sealed record BookingPlan(
    IReadOnlyList<BookingMove> Moves,
    IReadOnlyList<NoBooking> Without,
    IReadOnlyList<(Origin Origin, Id<Channel> Channel)> Left,
    IReadOnlyList<BookingWarning> Warnings,
    IReadOnlyList<LineUpDelivery> Sooner
);

/// <summary>Finds places for a post by hand: what a person books, rotation leaves alone.</summary>
public sealed class Booking
{
    /// <summary>How far ahead a place is looked for, in weeks.</summary>
    public const int Weeks = 26;

    private readonly LineUpInput _input;
    private readonly Instant _from;
    private readonly BankIndex _bank;
    private readonly ActivePauses _pauses;
    private readonly GivenPosts _given;
    private readonly List<Occurrence> _open;
    private readonly Dictionary<Id<Slot>, Slot> _slots;

    public Booking(LineUpInput input, Instant from)
    {
        (_input, _from) = (input, from);
        ILookup<Origin, LineUpDelivery> scheduled = LineUp.ScheduledOf(input);
        _bank = new(input);
        _pauses = new(input);
        _given = new(input, _bank, _pauses, scheduled);
        _slots = input.Rotas.SelectMany(r => r.Slots).ToDictionary(s => s.Id);
        _open =
        [
            .. Occurrences
                .Between(input.Rotas, from, from + Duration.FromDays(7 * Weeks), input.Decisions)
                .Where(o =>
                    !scheduled.Contains(o.Origin)
                    && o.ReplacedBy is null
                    && o.Decision?.IsSkipped != true
                    && _pauses.Of(o.Slot, DateOf(o)) is null
                ),
        ];
    }

    /// <param name="post">Of the bank; on each of its channels it gets one place.</param>
    /// <param name="kind">Which.</param>
    public BookingPlan Plan(LineUpPost post, BookingKind kind)
    {
        List<BookingMove> moves = [];
        List<NoBooking> without = [];
        List<LineUpDelivery> sooner = [];
        foreach (Id<Channel> channel in ChannelsOf(post))
        {
            if (_given.CantGo(new(channel, post.Id, IsPicked: false)) is { } rule)
            {
                without.Add(new(channel, rule));
                continue;
            }
            List<BookingMove> chain = Chain(post, channel, kind);
            if (chain.Count == 0)
                without.Add(new(channel, null));
            moves.AddRange(chain);
            if (SoonerScheduled(post, channel, chain.FirstOrDefault()?.To?.At ?? Instant.MaxValue) is { } scheduled)
                sooner.Add(scheduled);
        }
        var left =
            from own in moves
            where own.PostId == post.Id && own.To is not null
            from decision in _input.Decisions
            where
                decision.Origin != own.To!.Origin
                && decision.Posts.Any(p => p.ChannelId == own.ChannelId && p.PostId == post.Id && !p.IsPicked)
            select (decision.Origin, own.ChannelId);
        return new(
            [.. moves.OrderBy(m => m.PostId != post.Id)],
            without,
            [.. left],
            WarningsAbout(post, [.. moves.Where(m => m.PostId == post.Id && m.To is not null)]),
            [.. sooner.OrderBy(d => d.At)]
        );
    }

    /// <summary>What rotation would have against these places of a post, were they not given by hand.</summary>
    private List<BookingWarning> WarningsAbout(LineUpPost post, IReadOnlyList<BookingMove> own)
    {
        int number = _bank.Numbers[post.Id];
        // What it leaves doesn't speak against where it goes.
        bool isLeft(GivenTurn turn) => turn.Post == number && own.Any(m => _bank.ChannelNumber(m.ChannelId) == turn.Channel);
        TurnHistory turns = new(_input, _bank, _from, [.. _given.TurnsFrom(_from).Where(t => !isLeft(t))]);
        List<BookingWarning> warnings = [];
        foreach (BookingMove move in own)
        {
            int channel = _bank.ChannelNumber(move.ChannelId)!.Value;
            int line = turns.LineOf(channel, number);
            LocalDate date = move.To!.At.InZone(_input.Zone).Date;
            int day = TurnHistory.DayOf(date);
            if (date < post.From || date > post.To)
                warnings.Add(new(move.ChannelId, Rule.Lifespan));
            if (turns.HasTurn(line) && post.Lifespan != Lifespan.Evergreen)
                warnings.Add(new(move.ChannelId, Rule.Once));
            else if (turns.HasTurn(line) && turns.IsInsideGap(line, day, _bank.Gaps[number]))
                warnings.Add(new(move.ChannelId, Rule.Gap));
            if (turns.Wording(channel, number, day) < 0)
                warnings.Add(new(move.ChannelId, Rule.IdenticalText));
            if (turns.Diary(channel).Breaks(move.To.At) is { } closed)
                warnings.Add(new(move.ChannelId, Rule.ChannelClosed, closed));
        }
        return warnings;
    }

    /// <summary>The earliest scheduled place on a channel that the post could take from another, before an instant and outside its gap;
    /// null when there is none.</summary>
    public LineUpDelivery? SoonerScheduled(LineUpPost post, Id<Channel> channel, Instant before)
    {
        if (_given.CantGo(new(channel, post.Id, IsPicked: false)) is not null)
            return null;
        List<LineUpDelivery> turns = [.. _input.Deliveries.Where(d => d.ChannelId == channel && d.PostId == post.Id && d.State.IsTurn())];
        LocalDate[] dates =
        [
            .. turns.Select(t => t.LocalDate),
            .. _input.Older.Turns.Where(t => t.ChannelId == channel && t.PostId == post.Id).Select(t => t.LastDate),
        ];
        int gap = _bank.Gaps[_bank.Numbers[post.Id]];
        return _input
            .Deliveries.Where(d =>
                d.ChannelId == channel
                && d.PostId != post.Id
                && d.At > _from
                && d.At < before
                && d.State is DeliveryState.Planned or DeliveryState.WaitingForApproval
            )
            .Where(d => d.Origin.SlotId is { } slot && _slots.TryGetValue(slot, out Slot? of) && Carries(of, post))
            // A post that has a turn of its own before then needs none from another.
            .Where(d =>
                !turns.Exists(t => t.At >= _from && t.At <= d.At)
                && !Array.Exists(dates, date => Math.Abs(Period.DaysBetween(date, d.LocalDate)) < gap)
            )
            .MinBy(d => d.At);
    }

    /// <summary>Channels chosen for a post that are there.</summary>
    public IReadOnlyList<Id<Channel>> ChannelsOf(LineUpPost post)
    {
        IReadOnlyList<Id<Channel>> chosen = _bank.HasCategory(post.CategoryId)
            ? post.ChannelsOr(_bank.Category(post.CategoryId))
            : post.Channels ?? [];
        return [.. _bank.Channels.Select(c => c.Id).Where(chosen.Contains)];
    }

    /// <summary>The post's place on one channel and, one after another, those of whom it displaces.</summary>
    private List<BookingMove> Chain(LineUpPost post, Id<Channel> channel, BookingKind kind)
    {
        List<BookingMove> chain = [];
        LineUpPost moving = post;
        // Booking again moves the booking: a post has at most one place promised on a channel, and what it leaves is free.
        BookedPlace? from = BookedAt(post, channel);
        Origin? left = from?.Origin;
        foreach (Occurrence occurrence in _open)
        {
            if (!MayTake(moving, occurrence, channel))
                continue;
            GivenPost? there = occurrence.Decision?.Posts.FirstOrDefault(p => p.ChannelId == channel);
            if (there?.PostId == post.Id && occurrence.Origin == left)
            {
                // Where it is already, nothing comes before it; whoever it displaces may have what it leaves.
                if (moving.Id == post.Id)
                    return [new(post.Id, channel, null, new(occurrence.Origin, occurrence.At))];
                there = null;
            }
            if (there is { IsPicked: true } || (there is not null && kind == BookingKind.FirstFree && there.PostId != moving.Id))
                continue;
            BookedPlace place = new(occurrence.Origin, occurrence.At);
            chain.Add(new(moving.Id, channel, from, place));
            if (there is null || there.PostId == moving.Id || !_bank.Numbers.TryGetValue(there.PostId, out int number))
                return chain;
            (moving, from) = (_bank.Posts[number], place);
        }
        // Whoever is displaced and finds no place goes to the front; the post itself keeps what it has.
        if (moving.Id != post.Id)
            chain.Add(new(moving.Id, channel, from, null));
        return chain;
    }

    /// <summary>The place that is booked for a post on a channel; null when none is. What a person picked is another matter.</summary>
    private BookedPlace? BookedAt(LineUpPost post, Id<Channel> channel) =>
        _open
            .Where(o => o.Decision?.Posts.Any(p => p.ChannelId == channel && p.PostId == post.Id && !p.IsPicked) == true)
            .Select(o => new BookedPlace(o.Origin, o.At))
            .FirstOrDefault();

    private bool MayTake(LineUpPost post, Occurrence occurrence, Id<Channel> channel) =>
        occurrence.Slot.Channels.Contains(channel)
        && Carries(occurrence.Slot, post)
        && _pauses.OfChannel(channel, DateOf(occurrence)) is null
        && _given.CantGo(new(channel, post.Id, IsPicked: false)) is null;

    private static bool Carries(Slot slot, LineUpPost post) => slot.Source.Takes(post.HasCategory);

    private LocalDate DateOf(Occurrence occurrence) => occurrence.At.InZone(_input.Zone).Date;
}
