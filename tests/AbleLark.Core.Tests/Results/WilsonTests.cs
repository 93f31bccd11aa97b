using AbleLark.Core.Results;
using CsCheck;

namespace AbleLark.Core.Tests.Results;

public sealed class WilsonTests
{
    /// <summary>Newcombe 1998, Statistics in Medicine 17, table I, method of Wilson without correction; values from memory.</summary>
    [Theory]
    [InlineData(81, 263, 0.2553, 0.3662)]
    [InlineData(15, 148, 0.0624, 0.1605)]
    [InlineData(0, 20, 0.0000, 0.1611)]
    [InlineData(1, 29, 0.0061, 0.1718)]
    public void The_interval_is_that_of_the_published_table(int successes, int of, double low, double high)
    {
        Wilson interval = Wilson.Interval(successes, of);
        Assert.Equal(low, interval.Low!.Value, 0.00005);
        Assert.Equal(high, interval.High!.Value, 0.00005);
    }

    [Fact]
    public void Of_nothing_nothing_is_told_and_otherwise_it_lies_about_the_share_within_nought_and_one()
    {
        Assert.Null(Wilson.Interval(0, 0).Share);
        Gen.Int[1, 5_000]
            .SelectMany(of => Gen.Int[0, of].Select(s => (s, of)))
            .Sample(x =>
            {
                Wilson interval = Wilson.Interval(x.s, x.of);
                return interval.Low >= 0 && interval.Low <= interval.Share && interval.Share <= interval.High && interval.High <= 1;
            });
    }
}
