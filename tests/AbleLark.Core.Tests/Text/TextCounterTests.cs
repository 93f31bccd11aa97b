using AbleLark.Core.Text;
using CsCheck;

namespace AbleLark.Core.Tests.Text;

public sealed class TextCounterTests
{
    [Fact]
    public void The_overflow_is_told_by_its_place_in_the_text()
    {
        TextCount count = TextCounter.Count("abcdefgh", TextMeasure.Utf16Units, 5);
        Assert.Equal((8, 5), (count.Units, count.OverflowAt));
        Assert.False(count.Fits);
    }

    [Fact]
    public void A_text_that_just_fits_has_no_overflow()
    {
        Assert.True(TextCounter.Count("abcde", TextMeasure.Utf16Units, 5).Fits);
    }

    [Fact]
    public void The_overflow_never_falls_inside_an_emoji()
    {
        TextCount count = TextCounter.Count("ab👩‍👩‍👧‍👦", TextMeasure.Utf16Units, 5);
        Assert.Equal(2, count.OverflowAt);
    }

    [Fact]
    public void A_link_takes_its_picked_units_whatever_its_length()
    {
        string longLink = "https://example.org/" + new string('a', 200);
        Assert.Equal(23, TextCounter.Count(longLink, TextMeasure.Weighted, 280, linkUnits: 23).Units);
        Assert.Equal(longLink.Length, TextCounter.Count(longLink, TextMeasure.Utf16Units, 280).Units);
    }

    // A listed deviation: the reference's emoji list ends before these, and it counts their parts.
    [Theory]
    [InlineData("❤️‍🔥")]
    [InlineData("🧑🏿‍🚀")]
    public void An_emoji_newer_than_the_reference_weighs_two(string emoji)
    {
        Assert.Equal(2, TextCounter.Count(emoji, TextMeasure.Weighted, 280).Units);
    }

    [Fact]
    public void Code_points_count_a_surrogate_pair_once()
    {
        Assert.Equal(3, TextCounter.Count("a𝒳b", TextMeasure.CodePoints, 10).Units);
    }

    [Fact]
    public void A_lone_surrogate_is_counted_and_not_thrown_at()
    {
        Assert.Equal(2, TextCounter.Count("a\uD83D", TextMeasure.CodePoints, 10).Units);
    }

    [Fact]
    public void The_overflow_is_there_exactly_when_the_units_exceed_the_limit()
    {
        Gen.Select(Gen.Int[0, 599].Select(i => Corpus.Texts[i]), Gen.Int[1, 60], Gen.Enum<TextMeasure>())
            .Sample(
                (text, limit, measure) =>
                {
                    TextCount count = TextCounter.Count(text, measure, limit);
                    return count.Fits == (count.Units <= limit)
                        && (
                            count.OverflowAt is not { } at
                            || TextCounter.Count(TextCounter.Normalise(text)[..at], measure, limit).Units <= limit
                        );
                }
            );
    }

    [Theory]
    [InlineData("Dawn walk  on\nSunday", "Dawn walk on Sunday")]
    [InlineData("café", "cafe\u0301")]
    [InlineData("See https://Example.org/walks/", "See example.org/walks?utm_source=jot")]
    public void Texts_that_a_network_takes_for_the_same_have_the_same_print(string one, string other)
    {
        Assert.Equal(IdenticalText.Fingerprint(one), IdenticalText.Fingerprint(other));
    }

    [Theory]
    [InlineData("Dawn walk on Sunday", "Dawn walk on Monday")]
    [InlineData("See example.org/walks", "See example.org/stays")]
    public void Different_texts_have_different_prints(string one, string other)
    {
        Assert.NotEqual(IdenticalText.Fingerprint(one), IdenticalText.Fingerprint(other));
    }
}
