namespace AbleLark.Core.Rotation;

/// <summary>The days on which a text goes to accounts of its network.</summary>
internal sealed class TextDays
{
    /// <summary>Before any day.</summary>
    public const int NoDay = int.MinValue / 2;

    private readonly List<int> _days = [];
    private int _latest = NoDay;

    public void Add(int day)
    {
        _days.Add(day);
        _latest = Math.Max(_latest, day);
    }

    /// <summary>The first day on which <see cref="AnyWithin"/> may answer otherwise; 0 while one of them is still to come.</summary>
    public int HoldsUntil(int days, int day) =>
        _latest > day ? 0
        : day - _latest < days ? _latest + days
        : int.MaxValue;

    public bool AnyWithin(int days, int day)
    {
        if (day - _latest >= days)
            return false;
        foreach (int other in _days)
        {
            if (Math.Abs(other - day) < days)
                return true;
        }
        return false;
    }
}

/// <summary>When texts go to networks that mind identical ones.</summary>
internal sealed class TextTurns(BankIndex bank)
{
    private readonly int[] _days = [.. bank.Networks.Select(n => n.IdenticalTextDays ?? 0)];

    /// <summary>By number of the text; one never written down went nowhere yet.</summary>
    private readonly List<TextDays?> _texts = [.. new TextDays?[bank.Texts]];

    /// <summary>True when the channel's network minds.</summary>
    public bool Minds(int channel) => _days[channel] > 0;

    public void Add(int text, int day)
    {
        while (_texts.Count <= text)
            _texts.Add(null);
        (_texts[text] ??= new()).Add(day);
    }

    /// <summary>True when the text went, or will go, to an account of the channel's network within the network's days, before or
    /// after.</summary>
    public bool IsNear(int channel, int text, int day) => text < _texts.Count && _texts[text]?.AnyWithin(_days[channel], day) == true;

    /// <summary>The first day on which what is written down so far may say something else of the post's own wording than on this
    /// one.</summary>
    public int HoldsUntil(int channel, int post, int day)
    {
        if (!Minds(channel) || bank.Text(channel, post) is var text && (text >= _texts.Count || _texts[text] is null))
            return int.MaxValue;
        return _texts[text]!.HoldsUntil(_days[channel], day);
    }
}
