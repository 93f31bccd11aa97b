using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Results;

/// <summary>What people post on a channel itself is found, and counts once somebody has said of which category it is.</summary>
public sealed class OutsidePostTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task What_is_posted_on_the_network_itself_is_found_once_read_and_counts_under_the_category_it_is_given()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "outside-counts", followers: 20_000);
        Guid category = await _ada.CategoryAsync("Openings", channel);
        await _ada.PlanAsync(installation, (await _ada.PostAsync(category, "From here")).Id(), 5, channel);
        string address = await installation.PostByHandAsync("hearth", "outside-counts", "Open day at the hide\nCome along.");
        LocalDate day = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        await PassAfterAsync(Duration.FromMinutes(6));
        for (int i = 0; i < 3; i++)
            await PassAfterAsync(Duration.FromDays(4));

        JsonElement found = Assert.Single(await ListAsync(channel));
        Assert.Equal((address, "Open day at the hide\nCome along."), (found.Text("address"), found.Text("text")));
        Assert.True(found.GetProperty("engagements").GetDouble() > 0);
        Assert.Equal(1, (await ResultsAsync(day, channel)).Whole("deliveries"));

        await _ada.PostAsync($"outside/{found.Id()}/count", new { categoryId = category, postId = (Guid?)null });
        JsonElement results = await ResultsAsync(day, channel);
        Assert.Equal((2, 0), (results.Whole("deliveries"), results.Whole("leftOut")));
        JsonElement counted = Assert.Single(await ListAsync(channel));
        JsonElement delivery = await _ada.GetAsync($"deliveries/{counted.Text("deliveryId")}");
        Assert.Equal(("sent", address), (delivery.Text("state"), delivery.Text("address")));
        Assert.Equal("Posted on Hearth itself, and found there.", delivery.Text("why"));
        JsonElement post = await _ada.GetAsync($"posts/{counted.Text("postId")}");
        Assert.Equal(("Open day at the hide", "once"), (post.Text("title"), post.Text("lifespan")));
        // From then on it is read as any other.
        await PassAfterAsync(Duration.FromDays(20));
        Assert.True((await _ada.GetAsync($"deliveries/{delivery.Id()}/figures")).List("points").Length >= 4);
        Assert.Equal(HttpStatusCode.Conflict, await CountAsync(found.Id(), category, null));
    }

    [Fact]
    public async Task The_words_of_a_post_that_went_out_are_known_again_and_it_is_that_post_s_turn()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "outside-same");
        Guid category = await _ada.CategoryAsync("Sames", channel);
        Guid post = (await _ada.PostAsync(category, "Said before")).Id();
        await _ada.PlanAsync(installation, post, 5, channel);
        await PassAfterAsync(Duration.FromMinutes(6));
        await installation.PostByHandAsync("hearth", "outside-same", "Said before");
        await PassAfterAsync(Duration.FromHours(2));
        JsonElement found = Assert.Single(await ListAsync(channel));
        Assert.Equal((post, "Said before"), (found.Id("samePostId"), found.Text("samePostTitle")));
        Assert.Equal(HttpStatusCode.BadRequest, await CountAsync(found.Id(), null, null));
        Assert.Equal(HttpStatusCode.BadRequest, await CountAsync(found.Id(), category, post));
        Assert.Equal(HttpStatusCode.BadRequest, await CountAsync(found.Id(), Guid.NewGuid(), null));
        Assert.Equal(HttpStatusCode.NotFound, await CountAsync(found.Id(), null, Guid.NewGuid()));
        HttpStatusCode[] both = await Task.WhenAll(CountAsync(found.Id(), null, post), CountAsync(found.Id(), null, post));
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], both.Order());
        Assert.Equal(post, Assert.Single(await ListAsync(channel)).Id("postId"));
    }

    [Fact]
    public async Task What_needn_t_count_is_left_out_and_what_was_ours_to_post_is_no_find()
    {
        Guid video = await _ada.VideoAsync();
        (Guid delivery, string account) = await installation.DueAsync(new { common = new { text = "Theirs", video } }, "jig");
        Guid channel = (await _ada.GetAsync($"deliveries/{delivery}")).Id("channelId");
        string handle = account["jig-".Length..];
        string address = await installation.PostByHandAsync("jig", handle, "Theirs");
        await installation.PostByHandAsync("jig", handle, "A private joke");
        await PassAfterAsync(Duration.FromHours(2));
        JsonElement[] found = await ListAsync(channel);
        Assert.Equal(["A private joke", "Theirs"], found.Select(f => f.Text("text")).Order());
        Guid joke = found.Single(f => f.Text("text") != "Theirs").Id();
        await _ada.PostAsync($"deliveries/{delivery}/posted", new { address });
        Assert.Equal(joke, Assert.Single(await ListAsync(channel)).Id());
        foreach (bool leftOut in new[] { true, false })
        {
            await _ada.PutAsync($"outside/{joke}/left-out", new { leftOut });
            Assert.Equal(leftOut, Assert.Single(await ListAsync(channel)).GetProperty("leftOut").GetBoolean());
        }
    }

    private async Task PassAfterAsync(Duration duration)
    {
        await installation.MoveOnAsync(duration);
        await installation.PassAsync();
    }

    private async Task<JsonElement[]> ListAsync(Guid channel) =>
        [.. (await _ada.GetAsync("outside")).EnumerateArray().Where(o => o.Id("channelId") == channel)];

    private Task<JsonElement> ResultsAsync(LocalDate day, Guid channel) =>
        _ada.GetAsync($"results?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&age=week&channel={channel}");

    private async Task<HttpStatusCode> CountAsync(Guid id, Guid? category, Guid? post) =>
        (await _ada.TroubleAsync(HttpMethod.Post, $"outside/{id}/count", new { categoryId = category, postId = post })).Status;
}
