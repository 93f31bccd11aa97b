using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Rotation;

/// <summary>
/// All turns, kept per post and channel: sent, planned, and those that the projection hands out. Instants are ticks
/// (100 ns), dates are days since the year 2000; both so that a thousand posts are weighed in microseconds.
/// </summary>
internal sealed class TurnHistory
{
    public const long Never = long.MinValue;
    private const int NoDay = TextDays.NoDay;
    private static readonly LocalDate Epoch = new(2000, 1, 1);

    private readonly BankIndex _bank;
    private readonly DateTimeZone _zone;
    private readonly int _posts;

    /// <summary>What is asked of a line again and again, side by side in memory.</summary>
    private struct LineTurns
    {
        public long Last;
        public int LastDay;
        public byte Marks;
    }

    // By line: channel × posts + post. A line with a turn still to come has all its turns listed; the others need only the last.
    private readonly LineTurns[] _lines;
    private readonly Dictionary<int, List<long>> _listed = [];
    private readonly Dictionary<int, long> _fronts = [];
    private readonly Dictionary<int, long> _backs = [];
    private readonly Dictionary<(int Line, int Wording), long> _wordings = [];

    private readonly int[] _versions;
    private readonly long[] _firstOfPost;
    private readonly long[] _lastOfPost;
    private readonly TextTurns _texts;
    private readonly ChannelDiary[] _diaries;

    private const byte OpenFailure = 1;
    private const byte Listed = 2;
    private const byte HasFront = 4;
    private const byte HasBack = 8;
    private const byte Scheduled = 16;

    public TurnHistory(LineUpInput input, BankIndex bank, Instant from, IReadOnlyList<GivenTurn> given)
    {
        _bank = bank;
        _zone = input.Zone;
        _posts = bank.Posts.Length;
        _lines = Filled(_posts * bank.Channels.Length, new LineTurns { Last = Never, LastDay = NoDay });
        (_firstOfPost, _lastOfPost) = (Filled(_posts, long.MaxValue), Filled(_posts, Never));
        _versions = new int[_posts];
        _texts = new(bank);
        _diaries = [.. bank.Channels.Select(c => new ChannelDiary(c, input))];
        foreach (LineUpDelivery d in input.Deliveries.Where(d => d.At >= from && d.State.IsTurn()))
            List(bank.ChannelNumber(d.ChannelId), d.PostId);
        foreach (GivenTurn turn in given)
            List(turn.Channel, bank.Posts[turn.Post].Id);
        foreach (OlderTurns older in input.Older.Turns)
            Take(older);
        foreach (OlderFailures older in input.Older.Failures)
            Take(older);
        foreach (LineUpDelivery d in input.Deliveries)
            Take(d);
        foreach (GivenTurn turn in given)
            Add(turn.Channel, turn.Post, turn.At, turn.Wording);
        foreach (LineMove move in input.Moves)
            Take(move);

        void List(int? channel, Id<Post> post)
        {
            if (channel is not { } c || !bank.Numbers.TryGetValue(post, out int p))
                return;
            _lines[LineOf(c, p)].Marks |= Listed;
            _listed.TryAdd(LineOf(c, p), []);
        }
    }

    /// <summary>True when a planner moved anything to the back of a line.</summary>
    public bool AnyBack { get; private set; }

    public int LineOf(int channel, int post) => (channel * _posts) + post;

    public static int DayOf(LocalDate date) => Period.DaysBetween(Epoch, date);

    public static LocalDate DateOf(int day) => Epoch.PlusDays(day);

    /// <summary>The latest turn of the line, planned ones included; <see cref="Never"/>: the post is new there.</summary>
    public long Last(int line) => _lines[line].Last;

    public bool HasTurn(int line) => _lines[line].Last != Never;

    public bool HasOpenFailure(int line) => (_lines[line].Marks & OpenFailure) != 0;

    /// <summary>Grows when anything is written down that may change what the rules say of the post.</summary>
    public int Version(int post) => _versions[post];

    /// <summary>True when a planner, or a failure, moved it in the line.</summary>
    public bool IsMoved(int line) => (_lines[line].Marks & (HasFront | HasBack)) != 0;

    /// <summary>The first day on which turns and texts written down so far may say something else of the line than on this one, its gap
    /// apart; 0: on none is that sure.</summary>
    public int HoldsUntil(int line, int channel, int post, int day)
    {
        if ((_lines[line].Marks & Listed) != 0)
            return 0;
        return _bank.HasWordings && _bank.Wordings(channel, post) is not null ? 0 : _texts.HoldsUntil(channel, post, day);
    }

    /// <summary>True when a delivery of the post is scheduled on the channel and hasn't gone yet.</summary>
    public bool IsScheduled(int line) => (_lines[line].Marks & Scheduled) != 0;

    /// <summary>Writes down that what the projection gave here is scheduled now.</summary>
    public void Schedule(int channel, int post) => _lines[LineOf(channel, post)].Marks |= Scheduled;

    /// <summary>True when the post has a turn, on any channel, at another instant than this one.</summary>
    public bool HasTurnApartFrom(int post, long at) => _lastOfPost[post] != Never && (_lastOfPost[post] != at || _firstOfPost[post] != at);

    /// <summary>True when a turn of the line lies fewer days than the gap from this day, before or after.</summary>
    public bool IsInsideGap(int line, int day, int gap)
    {
        if ((_lines[line].Marks & Listed) == 0)
            return day - _lines[line].LastDay < gap;
        foreach (long turn in _listed[line])
        {
            if (Math.Abs(DayOf(turn) - day) < gap)
                return true;
        }
        return false;
    }

    /// <summary>The first day on which a line that is inside its gap is so no more; turns ahead may close it again before it
    /// opens.</summary>
    public int OpensOn(int line, int day, int gap)
    {
        if ((_lines[line].Marks & Listed) == 0)
            return _lines[line].LastDay + gap;
        int opens = day;
        foreach (int turn in _listed[line].Select(DayOf).Order())
        {
            if (Math.Abs(turn - opens) < gap)
                opens = turn + gap;
        }
        return opens;
    }

    /// <summary>When it was put to the front, if that still holds at this instant.</summary>
    public long Front(int line, long at) =>
        (_lines[line].Marks & HasFront) != 0 && _fronts[line] is var front && !HadTurnSince(line, front, at) ? front : Never;

    /// <summary>When it was put to the back, if it had no turn since; whether that still holds depends on the other candidates.</summary>
    public long Back(int line, long at) =>
        (_lines[line].Marks & HasBack) != 0 && _backs[line] is var back && !HadTurnSince(line, back, at) ? back : Never;

    /// <summary>True when the line had a turn from one instant on, up to the present one: what it gets at this very instant
    /// counts.</summary>
    public bool HadTurnSince(int line, long from, long now) =>
        (_lines[line].Marks & Listed) == 0 ? _lines[line].Last >= from : _listed[line].Exists(t => t >= from && t <= now);

    /// <summary>The wording to use: of those that may go, the one used longest ago on this line; -1 when the network would refuse
    /// each.</summary>
    /// <param name="here">Texts that go out in this very occurrence, though they aren't written down yet.</param>
    public int Wording(int channel, int post, int day, List<int>? here = null)
    {
        IReadOnlyList<WordingFit>? wordings = _bank.HasWordings ? _bank.Wordings(channel, post) : null;
        if (wordings is null)
            return _texts.Minds(channel) && IsTooSoon(channel, _bank.Text(channel, post), day, here) ? -1 : 0;
        int best = -1;
        long rested = long.MaxValue;
        for (int i = 0; i <= wordings.Count; i++)
        {
            string? fingerprint = _bank.Fingerprint(channel, post, i);
            long used = _wordings.GetValueOrDefault((LineOf(channel, post), i), Never);
            if (
                fingerprint is null
                || used >= rested
                || (_texts.Minds(channel) && IsTooSoon(channel, _bank.Text(channel, fingerprint), day, here))
            )
                continue;
            (best, rested) = (i, used);
        }
        return best;
    }

    private bool IsTooSoon(int channel, int text, int day, List<int>? here) =>
        here?.Contains(text) == true || _texts.IsNear(channel, text, day);

    /// <summary>Number of a wording's text on the channel's network; null where the network doesn't mind identical text.</summary>
    public int? TextOf(int channel, int post, int wording) =>
        _texts.Minds(channel) && _bank.Fingerprint(channel, post, wording) is { } fingerprint ? _bank.Text(channel, fingerprint) : null;

    public ChannelDiary Diary(int channel) => _diaries[channel];

    /// <summary>Writes down a turn.</summary>
    /// <param name="isSubstitute">True: it only goes in place of another, which is counted on the channel already.</param>
    public void Add(int channel, int post, Instant at, int wording, bool isSubstitute = false) =>
        Note(channel, post, at, _bank.Fingerprint(channel, post, wording), wording, isSubstitute);

    private void Take(LineUpDelivery d)
    {
        if (_bank.ChannelNumber(d.ChannelId) is not { } channel)
            return;
        if (d.State.IsTurn())
            TakeTurn(channel, d.PostId, d.Wording, d.TextFingerprint, d.TurnAt, d.State == DeliveryState.Substitute);
        if (!_bank.Numbers.TryGetValue(d.PostId, out int post))
            return;
        int line = LineOf(channel, post);
        if (d.State.IsToCome())
            _lines[line].Marks |= Scheduled;
        if (d.HoldsBack)
            _lines[line].Marks |= OpenFailure;
        else if (d.PutsToFront)
            PutFront(line, d.At);
    }

    private void Take(OlderTurns older)
    {
        if (_bank.ChannelNumber(older.ChannelId) is not { } channel)
            return;
        TakeTurn(channel, older.PostId, older.Wording, older.TextFingerprint, older.Last, isSubstitute: false);
        if (_bank.Numbers.TryGetValue(older.PostId, out int post))
            _firstOfPost[post] = Math.Min(_firstOfPost[post], older.First.ToUnixTimeTicks());
    }

    private void Take(OlderFailures older)
    {
        if (_bank.ChannelNumber(older.ChannelId) is not { } channel || !_bank.Numbers.TryGetValue(older.PostId, out int post))
            return;
        int line = LineOf(channel, post);
        if (older.IsOpen)
            _lines[line].Marks |= OpenFailure;
        if (older.Front is { } front)
            PutFront(line, front);
    }

    private void TakeTurn(int channel, Id<Post> id, int wording, string? fingerprint, Instant at, bool isSubstitute)
    {
        if (_bank.Numbers.TryGetValue(id, out int post))
            Note(channel, post, at, fingerprint ?? _bank.PlannedFingerprint(channel, post, wording), wording, isSubstitute);
        else
            // A post that is no longer in the bank keeps others off its channel and its words all the same.
            NoteOnChannel(channel, at, fingerprint, isSubstitute);
    }

    private void Take(LineMove move)
    {
        if (_bank.ChannelNumber(move.ChannelId) is not { } channel || !_bank.Numbers.TryGetValue(move.PostId, out int post))
            return;
        int line = LineOf(channel, post);
        if (move.Side == Side.Front)
        {
            PutFront(line, move.At);
            return;
        }
        long at = move.At.ToUnixTimeTicks();
        // The back undoes a front that came before it.
        if (_fronts.GetValueOrDefault(line, Never) <= at)
            _lines[line].Marks &= unchecked((byte)~HasFront);
        _backs[line] = at;
        _lines[line].Marks |= HasBack;
        AnyBack = true;
    }

    /// <summary>Puts it to the front, unless it was put there later already.</summary>
    private void PutFront(int line, Instant when)
    {
        long at = when.ToUnixTimeTicks();
        if (at <= _fronts.GetValueOrDefault(line, Never))
            return;
        _fronts[line] = at;
        _lines[line].Marks |= HasFront;
    }

    private void Note(int channel, int post, Instant at, string? fingerprint, int wording, bool isSubstitute)
    {
        int line = LineOf(channel, post);
        long ticks = at.ToUnixTimeTicks();
        _versions[post]++;
        if ((_lines[line].Marks & Listed) != 0)
            _listed[line].Add(ticks);
        else
            _lines[line].LastDay = Math.Max(_lines[line].LastDay, DayOf(ticks));
        _lines[line].Last = Math.Max(_lines[line].Last, ticks);
        _firstOfPost[post] = Math.Min(_firstOfPost[post], ticks);
        _lastOfPost[post] = Math.Max(_lastOfPost[post], ticks);
        if (_bank.Wordings(channel, post) is not null)
            _wordings[(line, wording)] = Math.Max(ticks, _wordings.GetValueOrDefault((line, wording), Never));
        NoteOnChannel(channel, at, fingerprint, isSubstitute);
    }

    private void NoteOnChannel(int channel, Instant at, string? fingerprint, bool isSubstitute)
    {
        if (!isSubstitute)
            _diaries[channel].Add(at);
        if (fingerprint is null || !_texts.Minds(channel))
            return;
        int text = _bank.Text(channel, fingerprint);
        if (_bank.OwnerOf(text) is >= 0 and var owner)
            _versions[owner]++;
        foreach (int post in _bank.Sharing(text))
            _versions[post]++;
        _texts.Add(text, DayOf(at.ToUnixTimeTicks()));
    }

    private int DayOf(long ticks) => DayOf(Instant.FromUnixTimeTicks(ticks).InZone(_zone).Date);

    private static T[] Filled<T>(int count, T value)
    {
        T[] all = new T[count];
        Array.Fill(all, value);
        return all;
    }
}
