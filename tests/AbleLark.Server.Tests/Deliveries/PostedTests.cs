using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Deliveries;

/// <summary>What a network takes from a person only.</summary>
public sealed class PostedTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task What_is_theirs_to_post_waits_for_a_person_however_late_and_its_figures_are_read()
    {
        (Guid delivery, string account) = await DueAsync("Upright at the slip", late: Duration.FromHours(5));
        await installation.PassAsync();
        JsonElement need = (await _ada.GetAsync("needs")).EnumerateArray().Single(n => n.Id("deliveryId") == delivery);
        Assert.Equal("postItYourself", need.Text("state"));
        await installation.MoveOnAsync(Duration.FromHours(30));
        await installation.PassAsync();
        Assert.Equal("postItYourself", await _ada.StateAsync(delivery));
        Assert.Empty(await installation.PostedAsync(account));

        string handle = account["jig-".Length..];
        (string Address, string Words)[] wrong =
        [
            ("nowhere", "Give the post's own address on the network, beginning with http:// or https://."),
            ("https://example.org/jig/x/1", "That is not an address on Jig. Open the post there and copy its address."),
            ($"{installation.NetworksAddress}/jot/{handle}/1", "That is not an address on Jig. Open the post there and copy its address."),
        ];
        foreach ((string given, string words) in wrong)
            Assert.Equal((HttpStatusCode.BadRequest, words), await SayAsync(delivery, given));

        string address = await installation.PostByHandAsync("jig", handle, "Upright at the slip");
        await _ada.PostAsync($"deliveries/{delivery}/posted", new { address });
        JsonElement sent = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(("sent", address, "Upright at the slip"), (sent.Text("state"), sent.Text("address"), Said(sent)));
        await installation.MoveOnAsync(Duration.FromHours(30));
        await installation.PassAsync();
        JsonElement figures = (await _ada.GetAsync($"deliveries/{delivery}")).GetProperty("figures");
        Assert.True(figures.TryGetProperty("likes", out _), figures.ToString());
        Assert.Equal(HttpStatusCode.Conflict, (await SayAsync(delivery, address)).Status);
        (Guid other, _) = await DueAsync("Another");
        await installation.PassAsync();
        Assert.Equal(HttpStatusCode.OK, (await SayAsync(other, $"{installation.NetworksAddress}/jig/elsewhere/9")).Status);
    }

    [Fact]
    public async Task Not_this_time_cancels_it_and_can_be_taken_back()
    {
        (Guid delivery, _) = await DueAsync("Not today");
        await installation.PassAsync();
        Guid act = (await _ada.PostAsync($"deliveries/{delivery}/cancel")).Id("changeSetId");
        Assert.Equal("cancelled", await _ada.StateAsync(delivery));
        await _ada.PostAsync($"changes/{act}/undo");
        Assert.Equal("postItYourself", await _ada.StateAsync(delivery));
    }

    [Fact]
    public async Task A_story_is_theirs_to_post_and_a_picture_of_the_same_channel_goes_by_itself()
    {
        Guid upright = (await _ada.UploadAsync("media", HttpMethod.Post, ("file", "up.png", TestData.Png(450, 800)))).Id();
        object pictures = new[] { new { media = upright } };
        (Guid story, _) = await installation.DueAsync(
            new
            {
                common = new
                {
                    text = "Up",
                    pictures,
                    format = "story",
                },
            },
            "glimmer"
        );
        (Guid plain, string account) = await installation.DueAsync(
            new { common = new { text = "Down", pictures = new[] { new { media = await _ada.PictureAsync() } } } },
            "glimmer"
        );
        await installation.PassAsync();
        Assert.Equal(("postItYourself", "sent"), (await _ada.StateAsync(story), await _ada.StateAsync(plain)));
        Assert.Equal(["Down"], await installation.PostedAsync(account));
    }

    [Fact]
    public async Task A_business_account_s_videos_go_by_themselves_once_that_is_said_of_it()
    {
        (Guid delivery, _) = await DueAsync("By itself", figures: new Dictionary<string, string> { ["/formats/0/byPerson"] = "false" });
        await installation.PassAsync();
        // The network knows better: this account is none.
        JsonElement refused = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(("refused", "Programs may post for business accounts only."), (refused.Text("state"), refused.Text("trouble")));
        Guid channel = refused.Id("channelId");
        JsonElement figure = (await _ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == channel).List("figures").Single();
        Assert.Equal(("true", "false"), (figure.Text("usual"), figure.Text("own")));
        foreach (string value in new[] { "maybe", "7", "{}" })
            Assert.Equal(
                HttpStatusCode.BadRequest,
                (
                    await _ada.TroubleAsync(
                        HttpMethod.Put,
                        $"channels/{channel}",
                        new { figures = new Dictionary<string, string> { ["/formats/0/byPerson"] = value } }
                    )
                ).Status
            );
    }

    private async Task<(Guid Delivery, string Account)> DueAsync(
        string text,
        Duration? late = null,
        IReadOnlyDictionary<string, string>? figures = null
    ) => await installation.DueAsync(new { common = new { text, video = await _ada.VideoAsync() } }, "jig", late, figures);

    private Task<(HttpStatusCode Status, string Words)> SayAsync(Guid delivery, string address) =>
        _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/posted", new { address });

    private static string Said(JsonElement delivery) => delivery.GetProperty("look").GetProperty("fields").Text("text");
}
