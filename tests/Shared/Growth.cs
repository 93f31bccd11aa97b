using System.Diagnostics;

namespace AbleLark.Tests.Shared;

/// <summary>How long reading takes as what is read grows.</summary>
internal static class Growth
{
    private const int Times = 8;

    /// <summary>Between what linear growth takes and what grows by the square, which takes eight times as long again. A machine that others
    /// use as well stands still in each long reading, and in few short ones.</summary>
    private const double MostTimes = 5.0 * Times;

    /// <summary>What grows by the square is slow in each of them.</summary>
    private const int MostRounds = 20;

    /// <summary>What is quicker is measured too badly to say how it grows.</summary>
    private const double LeastMilliseconds = 4;

    /// <summary>Fails where so many times as much takes more than about so many times as long.</summary>
    /// <param name="size">Of what is made little.</param>
    public static void IsEven<T>(int size, Func<int, T> make, Action<T> read)
    {
        (T little, T much) = (make(size), make(size * Times));
        (double one, double more) = (double.MaxValue, double.MaxValue);
        read(little);
        // The quickest of each, until that of much is quick enough: what else the machine does makes some of them slower, and none quicker.
        for (int round = 0; round < MostRounds; round++)
        {
            one = Math.Min(one, Milliseconds(little));
            more = Math.Min(more, Milliseconds(much));
            if (more < MostTimes * Math.Max(LeastMilliseconds, one))
                return;
        }
        Assert.Fail(FormattableString.Invariant($"{size}: {one:0.0} ms; {Times} times as much: {more:0.0} ms"));

        double Milliseconds(T what)
        {
            long began = Stopwatch.GetTimestamp();
            read(what);
            return Stopwatch.GetElapsedTime(began).TotalMilliseconds;
        }
    }
}
