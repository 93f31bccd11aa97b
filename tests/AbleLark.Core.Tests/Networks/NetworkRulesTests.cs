using AbleLark.Core.Networks;

namespace AbleLark.Core.Tests.Networks;

public sealed class NetworkRulesTests
{
    private const string Least = """
        {"key":"k","name":"K","kind":"x","holdsFrom":"2026-01-01","mark":"M0 0","text":{"measure":"graphemes","limit":5},
        "link":"card","hashtags":{},"pictures":{"fewest":0,"most":1,"kinds":[]},
        "sending":{"honoursKeys":false,"appearsWithinSeconds":90,"readsBack":40,"atOnce":2},"figures":[],"timesSeen":"impressions"}
        """;

    [Fact]
    public void The_shipped_networks_are_read_with_their_figures()
    {
        NetworkRules jot = Repository.Networks["jot"];
        Assert.Equal((280, 23, 30, true), (jot.Text.Limit, jot.Text.LinkUnits, jot.IdenticalTextDays, jot.OneAccountPerOccurrence));
        Assert.Equal(60000, Repository.Networks["hearth"].Text.Limit);
        NetworkRules glimmer = Repository.Networks["glimmer"];
        Assert.Equal((2000, 120, 30, 1), (glimmer.Text.Limit, glimmer.Text.FoldAfter, glimmer.Hashtags.Most, glimmer.Pictures.Fewest));
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
    [InlineData("\"honoursKeys\":false,", "")]
    public void A_slip_in_a_data_file_is_told_and_not_passed_over(string right, string wrong)
    {
        Assert.Throws<FormatException>(() => NetworkRules.Parse(Least.Replace(right, wrong, StringComparison.Ordinal)));
    }
}
