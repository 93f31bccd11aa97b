namespace AbleLark.Core.LineUps;

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
