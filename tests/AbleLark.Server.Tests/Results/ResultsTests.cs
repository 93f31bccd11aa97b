using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Results;

public sealed class ResultsTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;
    private readonly ApiClient _ben = installation.Ben;

    [Fact]
    public async Task Figures_are_pulled_as_a_post_ages_and_compared_by_category()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "results", followers: 20_000);
        Guid first = await _ada.CategoryAsync("Firsts", channel);
        Guid second = await _ada.CategoryAsync("Seconds", channel);
        Guid[] posts =
        [
            (await _ada.PostAsync(first, "One")).Id(),
            (await _ada.PostAsync(first, "Two")).Id(),
            (await _ada.PostAsync(second, "Three")).Id(),
        ];
        for (int i = 0; i < posts.Length; i++)
            await _ada.PlanAsync(installation, posts[i], 5 + i, channel);
        await installation.MoveOnAsync(Duration.FromMinutes(10));
        await installation.PassAsync();
        LocalDate day = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;

        Assert.Equal(3, (await ResultsAsync(day, "latest")).Whole("leftOut"));
        foreach (int hours in new[] { 2, 7, 25, 80, 170 })
        {
            await installation.MoveToAsync(
                day.AtStartOfDayInZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).ToInstant() + Duration.FromHours(24 + hours)
            );
            await installation.PassAsync();
        }
        JsonElement latest = await ResultsAsync(day, "latest");
        JsonElement[] rows = latest.List("categories");
        Assert.Equal((3, 0), (latest.Whole("deliveries"), latest.Whole("leftOut")));
        Assert.Equal(1, rows.Sum(r => r.GetProperty("shareOfTotal").GetDouble()), 9);
        JsonElement row = rows.Single(r => r.Id("categoryId") == first);
        Assert.Equal(2, row.Whole("deliveries"));
        Assert.Equal(
            row.GetProperty("shareOfTotal").GetDouble() / row.GetProperty("shareOfDeliveries").GetDouble(),
            row.GetProperty("index").GetDouble(),
            9
        );
        JsonElement rate = (await ResultsAsync(day, "latest", "&measure=engagementRateByReach"))
            .List("categories")
            .Single(r => r.Id("categoryId") == first);
        JsonElement reach = (await ResultsAsync(day, "latest", "&measure=reach"))
            .List("categories")
            .Single(r => r.Id("categoryId") == first);
        Assert.Equal(
            row.GetProperty("total").GetDouble() / reach.GetProperty("total").GetDouble(),
            rate.GetProperty("rate").GetDouble(),
            9
        );
        Assert.All(rows, r => Assert.Equal("tooFew", r.Text("verdict")));
        Assert.Equal(["saves"], latest.List("lacks").Select(f => f.GetString()));

        double afterADay = (await ResultsAsync(day, "day")).GetProperty("total").GetDouble();
        double afterAWeek = (await ResultsAsync(day, "week")).GetProperty("total").GetDouble();
        Assert.True(afterADay > 0 && afterADay < afterAWeek, $"{afterADay} after a day, {afterAWeek} after a week");
        Assert.Equal(3, (await ResultsAsync(day, "fourWeeks")).Whole("leftOut"));
    }

    [Fact]
    public async Task What_the_table_says_is_what_the_network_says()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "honest", followers: 50_000);
        Guid category = await _ada.CategoryAsync("Honest", channel);
        Guid post = (await _ada.PostAsync(category, "Count me")).Id();
        Guid delivery = (await _ada.PlanAsync(installation, post, 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromHours(30));
        await installation.PassAsync();
        JsonElement view = await _ada.GetAsync($"deliveries/{delivery}");
        using HttpClient client = new();
        string page = await client.GetStringAsync(view.Text("address"));
        int likes = int.Parse(System.Text.RegularExpressions.Regex.Match(page, @"(\d+) likes").Groups[1].Value);
        int pulled = (int)view.GetProperty("figures").GetProperty("likes").GetDouble();
        Assert.InRange(pulled, likes - 1, likes);
        Assert.True(pulled > 0);
    }

    [Fact]
    public async Task Moving_a_post_to_another_category_does_not_rewrite_what_it_earned_and_counting_it_there_is_an_act()
    {
        Guid channel = await installation.ConnectAsync(_ben, "hearth", "moved", followers: 4321);
        Guid before = await _ben.CategoryAsync("Before" + Guid.NewGuid().ToString("n")[..5], channel),
            after = await _ben.CategoryAsync("After" + Guid.NewGuid().ToString("n")[..5], channel);
        JsonElement post = await _ben.PostAsync(before, "Moved later");
        Guid delivery = (await _ben.PlanAsync(installation, post.Id(), 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        await _ben.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(after, "Moved later"));
        LocalDate day = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        async Task<bool> CountsUnderAsync(Guid category) =>
            (await _ben.GetAsync($"results?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&age=latest"))
                .List("categories")
                .Any(c => c.Id("categoryId") == category);
        Assert.True(await CountsUnderAsync(before));
        Assert.False(await CountsUnderAsync(after));
        JsonElement facts = (await _ben.GetAsync($"deliveries/{delivery}")).GetProperty("facts");
        Assert.Equal(
            (before, 4321, 0, false),
            (facts.Id("categoryId"), facts.Whole("followers"), facts.Whole("wording"), facts.GetProperty("isReconstructed").GetBoolean())
        );
        Assert.Equal($"{day:uuuu-MM-dd}", facts.Text("date"));

        JsonElement act = await _ben.PostAsync($"deliveries/{delivery}/category", new { categoryId = after });
        Assert.True(await CountsUnderAsync(after));
        await _ben.PostAsync($"changes/{act.Id("changeSetId")}/undo");
        Assert.True(await CountsUnderAsync(before));
        Assert.Equal("sent", await _ben.StateAsync(delivery));
        Assert.Equal(
            "This category isn't in the workspace. Choose another.",
            (await _ben.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/category", new { categoryId = Guid.NewGuid() })).Words
        );
        Guid planned = (await _ben.PlanAsync(installation, post.Id(), 600, channel))[0];
        Assert.Equal(
            "Only what was sent counts under a category; this delivery is planned.",
            (await _ben.TroubleAsync(HttpMethod.Post, $"deliveries/{planned}/category", new { categoryId = after })).Words
        );
    }

    private Task<JsonElement> ResultsAsync(LocalDate day, string age, string more = "") =>
        _ada.GetAsync($"results?from={day:uuuu-MM-dd}&to={day.PlusDays(1):uuuu-MM-dd}&age={age}{more}");
}
