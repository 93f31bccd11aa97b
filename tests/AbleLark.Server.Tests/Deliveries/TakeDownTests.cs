using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Deliveries;

/// <summary>What is taken down and sent again corrected, and channels kept by hand.</summary>
public sealed class TakeDownTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task What_is_out_is_taken_down_with_all_its_parts_and_goes_again_corrected_once()
    {
        (Guid delivery, string account) = await installation.DueAsync(
            new { common = new { text = "The slip is opne", firstComment = "Bring boots" } },
            "hearth"
        );
        Assert.Equal(HttpStatusCode.Conflict, (await DownAsync(delivery, byHand: false)).Status);
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.NotEmpty(await installation.PostedAsync(account));
        await installation.MoveOnAsync(Duration.FromHours(26));
        await installation.PassAsync();
        JsonElement read = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.True(read.GetProperty("takesDown").GetBoolean());
        Assert.Equal("Nothing was changed: take it down first, or readers would see both.", (await CorrectAsync(delivery)).Words);

        // An answer that is lost may mean either; asked again, it is down.
        await installation.OrderAsync("error", 1, account);
        (HttpStatusCode lost, string lostWords) = await DownAsync(delivery, byHand: false);
        Assert.True(lost is HttpStatusCode.Conflict or HttpStatusCode.OK, lostWords);
        if (lost == HttpStatusCode.Conflict)
            Assert.Equal(HttpStatusCode.OK, (await DownAsync(delivery, byHand: false)).Status);
        Assert.Empty(await installation.PostedAsync(account));
        JsonElement down = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal("sent", down.Text("state"));
        Assert.NotEqual(JsonValueKind.Null, down.GetProperty("takenDownAt").ValueKind);
        Assert.Equal(read.GetProperty("figures").ToString(), down.GetProperty("figures").ToString());
        Assert.Equal("It was taken down already.", (await DownAsync(delivery, byHand: true)).Words);
        await installation.MoveOnAsync(Duration.FromHours(30));
        await installation.PassAsync();
        // No more is read of what isn't there.
        Assert.Equal(
            down.GetProperty("figuresAt").ToString(),
            (await _ada.GetAsync($"deliveries/{delivery}")).GetProperty("figuresAt").ToString()
        );

        JsonElement act = (await _ada.GetAsync("changes")).EnumerateArray().First(c => c.Text("act") == "Took down a delivery");
        JsonElement undone = await _ada.PostAsync($"changes/{act.Id()}/undo");
        Assert.Contains("What was taken down stays down.", undone.ToString(), StringComparison.Ordinal);
        Assert.NotEqual(JsonValueKind.Null, (await _ada.GetAsync($"deliveries/{delivery}")).GetProperty("takenDownAt").ValueKind);

        Assert.EndsWith(
            "says what it said then. Correct it first, then send it again.",
            (await CorrectAsync(delivery)).Words,
            StringComparison.Ordinal
        );
        JsonElement post = await _ada.GetAsync($"posts/{down.Id("postId")}");
        await _ada.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(post.Id("categoryId"), "The slip is open"));
        (HttpStatusCode Status, string Words)[] twice = await Task.WhenAll(CorrectAsync(delivery), CorrectAsync(delivery));
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], twice.Select(t => t.Status).Order());
        await installation.MoveOnAsync(Duration.FromSeconds(20));
        for (int i = 0; i < 100 && (await installation.PostedAsync(account)).Count == 0; i++)
            await installation.PassAsync();
        Assert.Contains("The slip is open", await installation.PostedAsync(account));
    }

    [Fact]
    public async Task Where_programs_may_not_take_down_a_person_says_that_they_have()
    {
        (Guid delivery, _) = await installation.DueAsync("Down by hand", "glimmer", picture: true);
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.False((await _ada.GetAsync($"deliveries/{delivery}")).GetProperty("takesDown").GetBoolean());
        Assert.StartsWith("The network doesn’t let programs", (await DownAsync(delivery, byHand: false)).Words, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await DownAsync(delivery, byHand: true)).Status);
    }

    [Fact]
    public async Task A_channel_kept_by_hand_is_planned_on_posted_by_a_person_and_counted_where_figures_are_typed_in()
    {
        JsonElement kept = await _ada.PostAsync("channels/kept", new { name = " Journal ", handle = "newsletter" });
        Assert.Equal(("Journal", "keptByHand"), (kept.Text("name"), kept.Text("connection")));
        Guid category = await _ada.CategoryAsync("Letters", kept.Id());
        Guid post = (await _ada.PostAsync(category, "The autumn letter")).Id();
        Guid[] planned = await _ada.PlanAsync(installation, post, 5, kept.Id());
        await installation.MoveOnAsync(Duration.FromHours(9));
        await installation.PassAsync();
        Assert.Equal("postItYourself", await _ada.StateAsync(planned[0]));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{planned[0]}/posted", new { address = "nowhere" })).Status
        );
        await _ada.PostAsync($"deliveries/{planned[0]}/posted", new { address = "https://letters.example.org/autumn" });
        JsonElement sent = await _ada.GetAsync($"deliveries/{planned[0]}");
        Assert.Equal(("sent", "https://letters.example.org/autumn"), (sent.Text("state"), sent.Text("address")));
        await _ada.PostAsync($"deliveries/{planned[0]}/figures", new { figures = new { impressions = 400, linkClicks = 31 } });
        Assert.Equal(31, (await _ada.GetAsync($"deliveries/{planned[0]}")).GetProperty("figures").Whole("linkClicks"));

        // What has no address is done without one.
        Guid[] second = await _ada.PlanAsync(installation, post, 5, kept.Id());
        await installation.MoveOnAsync(Duration.FromHours(1));
        await installation.PassAsync();
        await _ada.PostAsync($"deliveries/{second[0]}/posted", new { address = "" });
        Assert.Equal("sent", await _ada.StateAsync(second[0]));
        // None of the loops has tried to connect to it.
        await installation.MoveOnAsync(Duration.FromHours(30));
        await installation.PassAsync();
        Assert.Equal("keptByHand", await ConnectionAsync());

        await _ada.DeleteAsync($"channels/{kept.Id()}/connection");
        Assert.Equal("disconnected", await ConnectionAsync());
        await _ada.PutAsync($"channels/{kept.Id()}/kept", new { name = "Letters", handle = "" });
        Assert.Equal("keptByHand", await ConnectionAsync());
        Guid real = await installation.ConnectAsync(_ada, "hearth", "not kept");
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await _ada.TroubleAsync(HttpMethod.Put, $"channels/{real}/kept", new { name = "x", handle = "" })).Status
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "There is no such network."),
            await _ada.TroubleAsync(HttpMethod.Post, "channels/connect", new { network = "kept" })
        );

        async Task<string> ConnectionAsync() =>
            (await _ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == kept.Id()).Text("connection");
    }

    private Task<(HttpStatusCode Status, string Words)> DownAsync(Guid delivery, bool byHand) =>
        _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/take-down", new { byHand });

    private Task<(HttpStatusCode Status, string Words)> CorrectAsync(Guid delivery) =>
        _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/correct", new { date = (string?)null, time = (string?)null });
}
