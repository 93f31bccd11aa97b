using AbleLark.Core.Networks;

namespace AbleLark.Core.Tests.Networks;

public sealed class NetworkRulesTests
{
    private const string Least = """
        {"key":"k","name":"K","kind":"x","holdsFrom":"2026-01-01","mark":"M0 0","text":{"measure":"graphemes","limit":5},
        "link":"card","hashtags":{},"formats":[{"format":"text"}],
        "sending":{"honoursKeys":false,"appearsWithinSeconds":90,"readsBack":40,"atOnce":2},"figures":[],"timesSeen":"impressions"}
        """;

    [Fact]
    public void The_shipped_networks_are_read_with_their_figures()
    {
        NetworkRules jot = Repository.Networks["jot"];
        Assert.Equal((280, 23, 30, true), (jot.Text.Limit, jot.Text.LinkUnits, jot.IdenticalTextDays, jot.OneAccountPerOccurrence));
        Assert.Equal(8, Repository.Networks.All.Count(n => !n.KeptByHand));
        Assert.All(Repository.Networks["kept"].Formats, f => Assert.True(f.ByPerson));
        Assert.Equal(60000, Repository.Networks["hearth"].Text.Limit);
        NetworkRules glimmer = Repository.Networks["glimmer"];
        Assert.Equal(
            (2000, 120, 30, 1),
            (glimmer.Text.Limit, glimmer.Text.FoldAfter, glimmer.Hashtags.Most, glimmer.Formats[0].Pictures!.Fewest)
        );
    }

    [Fact]
    public void A_network_is_added_by_a_data_file_alone()
    {
        NetworkRules read = NetworkRules.Parse(Least);
        Assert.Equal(5, read.Text.Limit);
        Assert.Equal(new SendingRules(HonoursKeys: false, AppearsWithinSeconds: 90, ReadsBack: 40, AtOnce: 2), read.Sending);
    }

    [Theory]
    [InlineData("\"limit\":5", "\"limit\":\"five\"")]
    [InlineData("\"measure\":\"graphemes\"", "\"measure\":\"letters\"")]
    [InlineData("\"kind\":\"x\"", "\"kind\":\"x\",\"colour\":\"red\"")]
    [InlineData("\"name\":\"K\",", "")]
    [InlineData("{\"key\"", "[\"key\"")]
    [InlineData("\"appearsWithinSeconds\":90", "\"appearsWithinSeconds\":-1")]
    [InlineData("\"atOnce\":2", "\"atOnce\":0")]
    [InlineData("[{\"format\":\"text\"}]", "[]")]
    [InlineData("\"hashtags\":{}", "\"hashtags\":{},\"changes\":[{\"holdsFrom\":\"soon\",\"rules\":{}}]")]
    [InlineData("\"hashtags\":{}", "\"hashtags\":{},\"changes\":[{\"holdsFrom\":\"2027-01-01\",\"rules\":{\"text\":{\"limit\":0}}}]")]
    [InlineData("\"honoursKeys\":false,", "")]
    public void A_slip_in_a_data_file_is_told_and_not_passed_over(string right, string wrong)
    {
        Assert.Throws<FormatException>(() => NetworkRules.Parse(Least.Replace(right, wrong, StringComparison.Ordinal)));
    }

    [Fact]
    public void Rules_change_on_the_day_from_which_they_hold()
    {
        const string Changes = """
            "hashtags":{},"changes":[{"holdsFrom":"2027-01-01","rules":{"text":{"limit":9}}},
            {"holdsFrom":"2027-06-01","rules":{"text":{"foldAfter":3},"link":"inText"}}]
            """;
        NetworkRules rules = NetworkRules.Parse(Least.Replace("\"hashtags\":{}", Changes, StringComparison.Ordinal));
        NetworkBook book = new([rules]);
        string before = book.Version;
        Assert.False(book.TurnTo(new(2026, 12, 31)));
        Assert.Equal((5, null), (book["k"].Text.Limit, book["k"].Text.FoldAfter));
        Assert.True(book.TurnTo(new(2027, 1, 1)));
        Assert.Equal((9, LinkShown.Card), (book["k"].Text.Limit, book["k"].Link));
        Assert.True(book.TurnTo(new(2028, 1, 1)));
        Assert.Equal((9, 3, LinkShown.InText), (book["k"].Text.Limit, book["k"].Text.FoldAfter, book["k"].Link));
        Assert.NotEqual(before, book.Version);
    }

    [Fact]
    public void An_account_s_own_figures_stand_for_it_alone()
    {
        NetworkRules rules = NetworkRules.Parse(
            Least.Replace(
                "\"hashtags\":{}",
                "\"hashtags\":{},\"perChannel\":[{\"figure\":\"/text/limit\",\"name\":\"Longest text\"}]",
                StringComparison.Ordinal
            )
        );
        Assert.Equal((5, 7), (rules.Text.Limit, rules.With(new Dictionary<string, string> { ["/text/limit"] = "7" }).Text.Limit));
        Assert.Equal("5", rules.UsualOf(rules.PerChannel[0]));
        foreach (
            (string figure, string value) in new[]
            {
                ("/text/limit", "many"),
                ("/text/limit", "true"),
                ("/text/limit", "0"),
                ("/link", "1"),
            }
        )
            Assert.Throws<FormatException>(() => rules.With(new Dictionary<string, string> { [figure] = value }));
    }
}
