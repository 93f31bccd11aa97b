using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Deliveries;

/// <summary>A first comment, and what is done about one that was refused.</summary>
public sealed class RestTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_first_comment_stands_under_the_post_and_on_networks_that_take_none_nowhere()
    {
        (Guid delivery, string account) = await DueAsync("Tide at nine", "Wellingtons advised.");
        await installation.PassAsync();
        JsonElement sent = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal("sent", sent.Text("state"));
        Assert.Equal(["post", "comment"], sent.List("attempts").Select(a => a.Text("step")));
        Assert.Equal(["Wellingtons advised.", "Tide at nine"], (await installation.PostedAsync(account)).Order().Reverse());
        using HttpClient browser = new();
        Assert.Contains("Wellingtons advised.", await browser.GetStringAsync(sent.Text("address")), StringComparison.Ordinal);

        (Guid plain, string jot) = await DueAsync("Tide at ten", "Unsaid.", "jot");
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(plain));
        Assert.Equal(["Tide at ten"], await installation.PostedAsync(jot));
    }

    [Fact]
    public async Task A_refused_comment_leaves_the_post_sent_and_is_tried_again_said_otherwise_or_let_be()
    {
        (Guid delivery, string account) = await RefusedAsync("Half out");
        JsonElement need = (await _ada.GetAsync("needs")).EnumerateArray().Single(n => n.Id("deliveryId") == delivery);
        Assert.Equal("sent", need.Text("state"));
        Assert.StartsWith("The post is out, but not all of it.", need.Text("trouble"), StringComparison.Ordinal);

        // Refused once more: nothing is lost, nothing doubled.
        await installation.OrderAsync("refuse", 1, account);
        await _ada.PostAsync($"deliveries/{delivery}/rest");
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.Equal(["Half out"], await installation.PostedAsync(account));
        string address = (await _ada.GetAsync($"deliveries/{delivery}")).Text("address");

        await _ada.PostAsync($"deliveries/{delivery}/rest", new { words = "Say that" });
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.Equal(["Half out", "Say that"], (await installation.PostedAsync(account)).Order());
        JsonElement whole = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal((address, JsonValueKind.Null), (whole.Text("address"), whole.GetProperty("trouble").ValueKind));
        Assert.Equal("Say that", whole.GetProperty("look").GetProperty("fields").Text("firstComment"));
        Assert.DoesNotContain((await _ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == delivery);

        (Guid other, _) = await RefusedAsync("Let be");
        await _ada.PostAsync($"deliveries/{other}/dismiss");
        Assert.DoesNotContain((await _ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == other);
        Assert.Equal("sent", await _ada.StateAsync(other));
    }

    [Fact]
    public async Task Nothing_but_what_is_lacking_is_tried_again()
    {
        (Guid delivery, string account) = await DueAsync("All out", "With this");
        await installation.PassAsync();
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/rest", new { });
        Assert.Equal((HttpStatusCode.Conflict, "Nothing of this delivery is lacking: it is sent."), (status, words));
        (Guid half, _) = await RefusedAsync("Half again");
        foreach (object body in new object[] { new { words = "  " }, new { words = new string('x', 20_001) } })
            Assert.Equal(HttpStatusCode.BadRequest, (await _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{half}/rest", body)).Status);
        Assert.Equal(2, (await installation.PostedAsync(account)).Count);
    }

    [Fact]
    public async Task A_comment_that_nobody_approved_does_not_go_out_in_place_of_one_that_was()
    {
        (Guid delivery, string account) = await RefusedAsync("Approved as it is");
        Guid post = (await _ada.GetAsync($"deliveries/{delivery}")).Id("postId");
        await installation.WriteAsync($"update posts set asks_for_approval = true where id = {post}");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"deliveries/{delivery}/rest",
            new { words = "Unread words" }
        );
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.StartsWith("What this post says needs approval", words, StringComparison.Ordinal);
        // The same words were read: they may be tried again.
        await _ada.PostAsync($"deliveries/{delivery}/rest");
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.Equal(["Approved as it is", "Say this"], (await installation.PostedAsync(account)).Order());
    }

    /// <summary>A delivery whose comment is refused: the post's own answer is lost first, so that the refusal meets the comment.</summary>
    private async Task<(Guid Delivery, string Account)> RefusedAsync(string text)
    {
        (Guid delivery, string account) = await DueAsync(text, "Say this");
        await installation.OrderAsync("loseAnswer", 1, account);
        await installation.OrderAsync("refuse", 1, account);
        await installation.PassesUntilAsync(delivery, "sent");
        return (delivery, account);
    }

    private Task<(Guid Delivery, string Account)> DueAsync(string text, string comment, string network = "hearth") =>
        installation.DueAsync(new { common = new { text, firstComment = comment } }, network);

    [Fact]
    public async Task A_thread_goes_out_part_by_part_with_pictures_and_a_refused_part_is_said_otherwise()
    {
        Guid picture = await _ada.PictureAsync();
        (Guid delivery, string account) = await installation.DueAsync(
            new
            {
                common = new
                {
                    text = "The tide turned at nine.",
                    thread = new
                    {
                        parts = new object[]
                        {
                            new { text = "By ten the slip was dry.", pictures = new[] { new { media = picture, altText = "A dry slip" } } },
                            new { text = "At noon it came back." },
                        },
                        isNumbered = true,
                    },
                },
            },
            "jot"
        );
        // The second part's picture is taken in; then the part itself is refused.
        await installation.OrderAsync("loseAnswer", 2, account);
        await installation.OrderAsync("refuse", 1, account);
        await installation.PassesUntilAsync(delivery, "sent");
        JsonElement sent = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.StartsWith("The post is out, but not all of it.", sent.Text("trouble"), StringComparison.Ordinal);
        string lacking = sent.GetProperty("lacking").Text("step");
        await _ada.PostAsync($"deliveries/{delivery}/rest", new { words = "Said otherwise 2/3" });
        await installation.PassesUntilAsync(delivery, "sent");
        JsonElement whole = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(("part-2", JsonValueKind.Null), (lacking, whole.GetProperty("trouble").ValueKind));
        Assert.Equal(
            ["At noon it came back. 3/3", "Said otherwise 2/3", "The tide turned at nine. 1/3"],
            (await installation.PostedAsync(account)).Order()
        );
        using HttpClient browser = new();
        Assert.Contains("alt='A dry slip'", await browser.GetStringAsync(sent.Text("address")), StringComparison.Ordinal);
    }
}
