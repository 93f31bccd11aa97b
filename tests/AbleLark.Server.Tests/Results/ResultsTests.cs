using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Sheets;
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

    [Fact]
    public async Task Every_figure_opens_the_deliveries_behind_it_in_groups_lists_and_sheets()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "behind", followers: 30_000);
        Guid category = await _ada.CategoryAsync("Behind it", channel);
        for (int i = 0; i < 3; i++)
            await _ada.PlanAsync(installation, (await _ada.PostAsync(category, $"=Behind {i} #tagged")).Id(), 5 + i, channel);
        await installation.MoveOnAsync(Duration.FromMinutes(10));
        await installation.PassAsync();
        LocalDate day = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        await installation.MoveOnAsync(Duration.FromHours(30));
        await installation.PassAsync();
        string asked = $"from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&age=latest&channel={channel}";

        JsonElement list = await _ada.GetAsync($"results/deliveries?{asked}&category={category}&sort=most&take=2");
        Assert.Equal((3, 2), (list.Whole("total"), list.List("rows").Length));
        double[] values = [.. list.List("rows").Select(r => r.GetProperty("value").GetDouble())];
        Assert.Equal(values.OrderDescending(), values);
        double total = (await _ada.GetAsync($"results?{asked}")).GetProperty("total").GetDouble();
        foreach (
            (string by, int rows) in new[]
            {
                ("channel", 1),
                ("daypart", 1),
                ("post", 3),
                ("wording", 0),
                ("hashtag", 1),
                ("anyCategory", 1),
            }
        )
        {
            JsonElement[] groups = (await _ada.GetAsync($"results/groups?{asked}&by={by}")).List("rows");
            Assert.Equal(rows, groups.Length);
            if (rows > 0)
                Assert.Equal(total, groups.Sum(g => g.GetProperty("total").GetDouble()), 6);
            // The worst first is the same, the other way round; what nothing can be said of comes last in both.
            Assert.Equal(
                Ratios(groups).Where(r => r is not null).Reverse().Concat(Ratios(groups).Where(r => r is null)),
                Ratios((await _ada.GetAsync($"results/groups?{asked}&by={by}&order=worst")).List("rows"))
            );
            foreach (JsonElement group in groups)
            {
                string key = Uri.EscapeDataString(group.Text("key")!);
                Assert.Equal(
                    group.Whole("deliveries"),
                    (await _ada.GetAsync($"results/deliveries?{asked}&by={by}&key={key}")).Whole("total")
                );
            }
        }
        await SumsAreTheSameAsync(day);
        // One with which no category was kept, and one with which nothing that can be read was, count under their posts'.
        JsonElement[] under = [.. (await _ada.GetAsync($"results?{asked}")).List("categories")];
        await installation.WriteAsync($"update deliveries set facts = facts - 'categoryId' where id = {list.List("rows")[0].Id()}");
        await installation.WriteAsync(
            $"update deliveries set facts = facts || '{{\"categoryId\": \"none\"}}' where id = {list.List("rows")[1].Id()}"
        );
        await SumsAreTheSameAsync(day);
        Assert.Equal(
            under.Select(c => (c.Id("categoryId"), c.Whole("deliveries"))),
            (await _ada.GetAsync($"results?{asked}")).List("categories").Select(c => (c.Id("categoryId"), c.Whole("deliveries")))
        );
        JsonElement curve = await _ada.GetAsync($"deliveries/{list.List("rows")[0].Id()}/figures");
        double[] grown = [.. curve.List("points").Select(p => p.GetProperty("value").GetDouble())];
        Assert.Equal(grown.Order(), grown);
        Assert.True(grown[^1] > 0);

        JsonElement activity = (await _ada.GetAsync($"results/activity?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}"))
            .EnumerateArray()
            .Single(a => a.Id("channelId") == channel);
        Assert.Equal((3, 3), (activity.GetProperty("sent").Whole("successes"), activity.GetProperty("sent").Whole("of")));
        Assert.Equal(0, activity.Whole("missed"));

        JsonElement followers = (await _ada.GetAsync($"results/followers?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}"))
            .EnumerateArray()
            .Single(f => f.Id("channelId") == channel);
        Assert.Equal(30_000, followers.List("points").Single(p => p.Text("date") == $"{day:uuuu-MM-dd}").Whole("followers"));
        // Nothing is surely more or less: nothing is advised.
        Assert.Equal(0, (await _ada.GetAsync($"results/mix?{asked}")).GetArrayLength());

        foreach (
            string table in new[] { "category", "channel", "daypart", "post", "wording", "hashtag", "anyCategory", "delivery", "activity" }
        )
        {
            byte[] csv = await _ada.GetBytesAsync($"results/table?{asked}&table={table}");
            byte[] workbook = await _ada.GetBytesAsync($"results/table?{asked}&table={table}&format=xlsx");
            string[][] read = [.. TextSheets.Read(csv, new()).Sheet.Rows];
            string[][] other = [.. Workbooks.Read(new MemoryStream(workbook), new()).Sheet.Rows];
            Assert.Equal(read.Length, other.Length);
            Assert.Equal(read[0], other[0]);
        }
        // What a spreadsheet would take for a formula is words.
        string posts = Encoding.UTF8.GetString(await _ada.GetBytesAsync($"results/table?{asked}&table=post"));
        Assert.Contains("'=Behind 0", posts, StringComparison.Ordinal);
    }

    private static double?[] Ratios(JsonElement[] rows) =>
        [
            .. rows.Select(r =>
                new[] { ("makes", "value"), ("besideUsual", "ratio") }
                    .Where(f => r.GetProperty(f.Item1).ValueKind == JsonValueKind.Object)
                    .Select(f => (double?)r.GetProperty(f.Item1).GetProperty(f.Item2).GetDouble())
                    .FirstOrDefault()
            ),
        ];

    private static double Index(JsonElement row) =>
        row.GetProperty("index") is { ValueKind: JsonValueKind.Number } index ? index.GetDouble() : -1;

    [Fact]
    public async Task Figures_written_down_by_hand_count_and_wrong_ones_are_told()
    {
        Guid channel = await installation.ConnectAsync(_ben, "hearth", "byhand", followers: 900);
        Guid category = await _ben.CategoryAsync("By hand" + Guid.NewGuid().ToString("n")[..5], channel);
        Guid post = (await _ben.PostAsync(category, "Counted by a person")).Id();
        Guid delivery = (await _ben.PlanAsync(installation, post, 5, channel))[0];
        string path = $"deliveries/{delivery}/figures";
        Assert.Equal(
            "It isn't sent yet, so it has earned nothing.",
            (await _ben.TroubleAsync(HttpMethod.Post, path, new { figures = new { likes = 3 } })).Words
        );
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.SendDueAsync();
        LocalDate day = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        await installation.MoveOnAsync(Duration.FromDays(8));
        object figures = new
        {
            reach = 1_000,
            impressions = 1_500,
            likes = 100,
            comments = 20,
            shares = 8,
            linkClicks = 0,
        };
        JsonElement curve = await _ben.PostAsync(path, new { figures });
        JsonElement point = Assert.Single(curve.List("points"));
        Assert.Equal((128, true), (point.GetProperty("value").GetDouble(), point.GetProperty("byHand").GetBoolean()));
        // A day after the seventh: near enough to tell what it was then.
        Assert.Equal(112, await TotalAsync(), 0.1);
        // Written down once more: the later one counts.
        await _ben.PostAsync(
            path,
            new
            {
                figures = new
                {
                    likes = 200,
                    comments = 40,
                    shares = 16,
                    linkClicks = 0,
                },
            }
        );
        Assert.Equal(2, (await _ben.GetAsync(path)).List("points").Length);
        Assert.Equal(
            256,
            (await _ben.GetAsync($"results?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&age=latest&channel={channel}"))
                .GetProperty("total")
                .GetDouble()
        );

        // One figure alone, weeks later: it counts at its own age and takes nothing from the others; followers are those of the sending.
        await installation.MoveOnAsync(Duration.FromDays(22));
        await installation.WriteAsync($"update deliveries set facts = facts || '{{\"followers\": 1000}}' where channel_id = {channel}");
        await _ben.PostAsync(path, new { figures = new { likes = 300 } });
        Assert.Equal(356, await TotalAsync("&age=latest"));
        Assert.Equal(112, await TotalAsync(), 0.1);
        Assert.Equal(0.356, await RateAsync("&age=latest"), 1e-9);
        Assert.Equal(0.112, await RateAsync(), 1e-4);

        foreach (object wrong in new object[] { new { }, new { likes = -1 }, new { likes = 1e12 } })
            Assert.Equal(HttpStatusCode.BadRequest, (await _ben.TroubleAsync(HttpMethod.Post, path, new { figures = wrong })).Status);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await _ben.TroubleAsync(HttpMethod.Post, path, new { figures = new { likes = "many" } })).Status
        );
        Assert.Equal(3, (await _ben.GetAsync(path)).List("points").Length);

        async Task<double> TotalAsync(string how = "") =>
            (await _ben.GetAsync($"results?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&channel={channel}{how}"))
                .GetProperty("total")
                .GetDouble();

        async Task<double> RateAsync(string how = "") =>
            (
                await _ben.GetAsync(
                    $"results?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&channel={channel}&measure=engagementRateByFollowers{how}"
                )
            )
                .List("categories")
                .Single()
                .GetProperty("rate")
                .GetDouble();
    }

    [Theory]
    [InlineData("results?from=2026-03-02&to=2026-03-01", "lies before the first")]
    [InlineData("results?from=1990-01-01&to=2026-03-01", "Ten years are the most")]
    [InlineData("results?from=2026-03-01&to=2026-03-32", "")]
    [InlineData("results?from=2026-03-01&to=2026-03-02&measure=luck", "")]
    [InlineData("results/groups?from=2026-03-01&to=2026-03-02&by=moon", "")]
    [InlineData("results/groups?from=2026-03-01&to=2026-03-02", "")]
    [InlineData("results/table?from=2026-03-01&to=2026-03-02&table=moon", "")]
    [InlineData("results/deliveries?from=2026-03-01&to=2026-03-02&category=no", "")]
    [InlineData("results/deliveries?from=2026-03-01&to=2026-03-02&by=post", "Say both by what and which")]
    [InlineData("results/activity?from=2026-03-02&to=2026-03-01", "lies before the first")]
    [InlineData("results/followers?from=2026-03-02&to=2026-03-01", "lies before the first")]
    [InlineData("results/followers?from=2026-03-02", "")]
    [InlineData("results/mix?from=2026-03-02&to=2026-03-01", "lies before the first")]
    public async Task What_is_asked_wrongly_is_told(string path, string words)
    {
        (HttpStatusCode status, string said) = await _ada.TroubleAsync(HttpMethod.Get, path);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(words, said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_period_without_deliveries_is_an_answer()
    {
        string asked = "from=2001-01-01&to=2001-12-31";
        JsonElement view = await _ben.GetAsync($"results?{asked}");
        Assert.Empty(view.List("categories"));
        Assert.Equal(0, view.Whole("deliveries"));
        Assert.Empty((await _ben.GetAsync($"results/groups?{asked}&by=hashtag")).List("rows"));
        Assert.Empty((await _ben.GetAsync($"results/deliveries?{asked}&skip=-5&take=100000")).List("rows"));
        Assert.Equal(HttpStatusCode.NotFound, (await _ben.TroubleAsync(HttpMethod.Get, $"deliveries/{Guid.NewGuid()}/figures")).Status);
    }

    private Task<JsonElement> ResultsAsync(LocalDate day, string age, string more = "") =>
        _ada.GetAsync($"results?from={day:uuuu-MM-dd}&to={day.PlusDays(1):uuuu-MM-dd}&age={age}{more}");

    /// <summary>Summed by the database it is the same, of counts and rates, at an age or as last read.</summary>
    private async Task SumsAreTheSameAsync(LocalDate day)
    {
        string all = $"from={day.PlusDays(-400):uuuu-MM-dd}&to={day:uuuu-MM-dd}";
        foreach (
            string more in new[] { "&age=latest", "&age=day", "&age=day&measure=engagementRateByReach", "&age=week&measure=timesSeen" }
        )
        {
            JsonElement[] sums = [.. (await _ada.GetAsync($"results/totals?{all}{more}")).EnumerateArray()];
            JsonElement view = await _ada.GetAsync($"results?{all}{more}");
            Assert.Equal(view.GetProperty("total").GetDouble(), sums.Sum(s => s.GetProperty("total").GetDouble()), 6);
            Assert.Equal(view.Whole("deliveries"), sums.Sum(s => s.Whole("deliveries")));
            Assert.Equal(view.Whole("leftOut"), sums.Sum(s => s.Whole("leftOut")));
            foreach (JsonElement row in view.List("categories"))
                Assert.Equal(Index(row), Index(sums.Single(s => s.Id("categoryId") == row.Id("categoryId"))), 9);
        }
    }
}
