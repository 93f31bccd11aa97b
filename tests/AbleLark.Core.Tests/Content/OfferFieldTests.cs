using AbleLark.Core.Content;
using AbleLark.Core.Findings;
using AbleLark.Core.Networks;

namespace AbleLark.Core.Tests.Content;

/// <summary>Button and dates of what is offered or held.</summary>
public sealed class OfferFieldTests
{
    private static readonly NetworkRules Doorstep = Repository.Networks["doorstep"];
    private static readonly PostContent Offer = PostContent.Empty.With(ContentFields.Text, "Dawn walk");
    private const string Page = "https://marram.example.org/walks";

    private static FindingCode[] Codes(PostContent content) =>
        [.. ContentCheck.Check(content, Doorstep, ContentSources.None).Findings.Select(f => f.Code)];

    [Fact]
    public void A_button_has_a_verb_and_leads_somewhere_of_its_own_or_to_the_post_s_link()
    {
        PostContent verb = Offer.With(ContentFields.ButtonVerb, "Book a place");
        Assert.Equal([FindingCode.ButtonLeadsNowhere], Codes(verb));
        Assert.Empty(Codes(verb.With(ContentFields.Link, Page)));
        Assert.Empty(Codes(verb.With(ContentFields.ButtonTarget, "+353 1 555 0100")));
        Assert.Equal([FindingCode.ButtonWithoutVerb], Codes(Offer.With(ContentFields.ButtonTarget, Page)));
        Assert.Equal([FindingCode.LinkNeedsButton], Codes(Offer.With(ContentFields.Link, Page)));
        Assert.Equal(
            [FindingCode.FieldTooLong],
            Codes(verb.With(ContentFields.ButtonVerb, "Book a place at dawn!").With(ContentFields.Link, Page))
        );
    }

    [Theory]
    [InlineData("https://marram.example.org", true)]
    [InlineData("+353 1 555 0100", true)]
    [InlineData("+44-20-7946-0000", true)]
    [InlineData("01 555 0100", false)]
    [InlineData("javascript:alert(1)", false)]
    [InlineData("+1", false)]
    public void A_button_leads_to_a_web_address_or_a_telephone_number(string target, bool isTaken)
    {
        PostContent content = Offer.With(ContentFields.ButtonTarget, target);
        if (isTaken)
            Assert.Equal(target, content.Tidied().Common.Get(ContentFields.ButtonTarget));
        else
            Assert.Throws<FormatException>(() => content.Tidied());
    }

    [Theory]
    [InlineData(null, null, null)]
    [InlineData("2026-12-01", "2026-12-01", null)]
    [InlineData("2026-12-01", "2027-12-01", null)]
    [InlineData("2026-12-01", null, FindingCode.DatesHalf)]
    [InlineData(null, "2026-12-01", FindingCode.DatesHalf)]
    [InlineData("2026-12-02", "2026-12-01", FindingCode.DatesBackwards)]
    [InlineData("2026-12-01", "2027-12-02", FindingCode.DatesFarApart)]
    public void Dates_come_in_twos_the_right_way_round_and_a_year_apart_at_most(string? from, string? until, FindingCode? expected)
    {
        PostContent content = Offer.With(ContentFields.OfferedFrom, from).With(ContentFields.OfferedUntil, until);
        Assert.Equal(expected is { } code ? [code] : [], Codes(content));
    }

    [Theory]
    [InlineData("2026-02-30")]
    [InlineData("1/2/26")]
    [InlineData("soon")]
    public void What_is_no_date_is_refused_in_words(string date)
    {
        FormatException e = Assert.Throws<FormatException>(() => Offer.With(ContentFields.OfferedFrom, date).Tidied());
        Assert.EndsWith("is not a date. Write it as 2026-03-25.", e.Message, StringComparison.Ordinal);
        Assert.Equal(FindingCode.RowDateImpossible, ContentFields.OfferedFrom.FromCell(date, _ => null).Trouble!.Code);
    }

    [Fact]
    public void Hashtags_are_advised_against_where_they_do_nothing() =>
        Assert.Equal([FindingCode.HashtagsAdvised], Codes(Offer.With(ContentFields.Text, "Dawn walk #walks")));
}
