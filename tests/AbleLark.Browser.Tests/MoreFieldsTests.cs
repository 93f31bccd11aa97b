using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Browser.Tests;

/// <summary>What some networks take besides text, link and picture, at the desk and on Today.</summary>
public sealed class MoreFieldsTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task Fields_of_the_networks_that_a_post_goes_to_are_said_in_common_and_otherwise_for_one()
    {
        Guid meadow = await _installation.ConnectAsync(_installation.Ada, "meadow", "fields-m");
        Guid door = await _installation.ConnectAsync(_installation.Ada, "doorstep", "fields-d");
        Guid category = await _installation.Ada.CategoryAsync("Fields", meadow, door);
        Guid post = (await _installation.Ada.PostAsync(category, "Many fields")).Id();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{post}");
        page.Press("content warning");
        page.See("For Meadow.");
        foreach (string field in new[] { "visibility", "button", "the button leads to" })
            page.Press(field);
        Assert.DoesNotContain("First comment", page.Text(), StringComparison.Ordinal);
        page.Fill("Content warning", "Wet feet");
        page.Choose("Visibility", "Followers");
        page.Fill("Button", "Book a place");
        page.See("The button on Doorstep leads nowhere");
        page.Fill("The button leads to", "+353 1 555 0100");
        page.SeeNoMore("The button on Doorstep leads nowhere");
        // The driver leaves what lies under the page's head where it is: by hand one would scroll.
        page.Run("scrollTo(0, 0)");
        page.PressCss("[data-network=meadow] button[aria-expanded]");
        page.PressCss("[aria-label='Say otherwise: content warning for Meadow']");
        page.Fill("Content warning for Meadow", "Very wet feet");
        page.See("Very wet feet");
        await UntilAsync(async () =>
            (await ContentAsync(post)).GetProperty("networks").TryGetProperty("meadow", out JsonElement own)
            && own.Text("contentWarning") == "Very wet feet"
        );
        JsonElement common = (await ContentAsync(post)).GetProperty("common");
        Assert.Equal(
            ("Wet feet", "followers", "Book a place", "+353 1 555 0100"),
            (common.Text("contentWarning"), common.Text("visibility"), common.Text("buttonVerb"), common.Text("buttonTarget"))
        );
    }

    [Fact]
    public async Task A_refused_comment_waits_on_Today_and_is_said_otherwise()
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", "rest-page");
        Guid category = await _installation.Ada.CategoryAsync("Rest", channel);
        JsonElement post = await _installation.Ada.WriteAsync(
            category,
            new { common = new { text = "Half of it", firstComment = "Refused words" } },
            "Half of it"
        );
        Guid delivery = (await _installation.Ada.PlanAsync(_installation, post.Id(), 5, channel))[0];
        await _installation.OrderAsync("loseAnswer", 1, "hearth-rest-page");
        await _installation.OrderAsync("refuse", 1, "hearth-rest-page");
        await _installation.MoveOnAsync(Duration.FromMinutes(6));
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/today");
        page.See("not all of it sent");
        page.See("The post is out, but not all of it.");
        page.Press("Change the comment …");
        page.Fill("First comment", "Better words");
        page.Press("Send it");
        page.See("The rest is tried again.");
        page.SeeNoMore("not all of it sent");
        await UntilAsync(async () => await _installation.Ada.StateAsync(delivery) == "sent");
        Assert.Equal(["Better words", "Half of it"], (await _installation.PostedAsync("hearth-rest-page")).Order());
    }

    [Fact]
    public async Task What_is_theirs_to_post_is_copied_posted_and_noted_from_Today()
    {
        (Guid delivery, string account) = await _installation.DueAsync(
            new { common = new { text = "Upright at the slip", video = await _installation.Ada.VideoAsync() } },
            "jig"
        );
        await UntilAsync(async () => await _installation.Ada.StateAsync(delivery) == "postItYourself");
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/today");
        page.See("post it yourself");
        page.PressCss($"[data-need='{delivery}'] summary");
        page.See("Upright at the slip");
        page.See("Save clip.mp4");
        page.Fill("Once it is posted, its address there", "https://example.org/elsewhere");
        page.Press("Done, it is posted");
        page.See("That is not an address on Jig.");
        page.Fill("Once it is posted, its address there", $"{_installation.NetworksAddress}/jig/{account["jig-".Length..]}/1");
        page.Press("Done, it is posted");
        page.See("Noted as posted.");
        Assert.Equal("sent", await _installation.Ada.StateAsync(delivery));
    }

    private async Task<JsonElement> ContentAsync(Guid post) => (await _installation.Ada.GetAsync($"posts/{post}")).GetProperty("content");

    private static async Task UntilAsync(Func<Task<bool>> condition)
    {
        for (int i = 0; i < 100; i++)
        {
            if (await condition())
                return;
            await Task.Delay(100);
        }
        Assert.Fail("Not within 10 s.");
    }
}
