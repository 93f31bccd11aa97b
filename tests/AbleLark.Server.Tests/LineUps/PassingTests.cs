using System.Net;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.LineUps;

/// <summary>What becomes of places at their time: passed empty, held, and with several servers at work.</summary>
public sealed class PassingTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_place_that_passes_with_nothing_to_send_is_told_once_and_can_be_dismissed()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "passing");
        Guid category = await _ada.CategoryAsync("Passing", channel);
        await SlotInAsync(category, channel, minutes: 30);
        // Made now for an hour ago: that it can't have missed.
        await SlotInAsync(category, channel, minutes: -60);
        await installation.PassAsync();
        Assert.Empty(await PassedAsync(channel));
        await installation.MoveOnAsync(Duration.FromMinutes(31));
        await using WebApplication second = await installation.StartServerAsync();
        await Task.WhenAll(Enumerable.Range(0, 4).Select(i => installation.PassAsync(i % 2 == 0 ? null : second.Services)));
        await installation.PassAsync();
        JsonElement passed = Assert.Single(await PassedAsync(channel));
        Assert.Equal((category, "The category has no posts yet."), (passed.Id("categoryId"), passed.Text("why")));

        JsonElement dismissed = await _ada.PostAsync("needs/passed/dismiss", new { ids = new[] { passed.Id() } });
        Assert.Empty(await PassedAsync(channel));
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await _ada.TroubleAsync(HttpMethod.Post, "needs/passed/dismiss", new { ids = new[] { passed.Id() } })).Status
        );
        await _ada.PostAsync($"changes/{dismissed.Id("changeSetId")}/undo");
        Assert.Single(await PassedAsync(channel));
    }

    [Fact]
    public async Task Skipped_and_free_places_and_those_filled_in_time_are_nobody_s_miss()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "nomiss");
        Guid category = await _ada.CategoryAsync("No miss", channel);
        Guid skipped = await SlotInAsync(category, channel, minutes: 20);
        await SlotInAsync(null, channel, minutes: 25);
        await SlotInAsync(category, channel, minutes: 40);
        await installation.PassAsync();
        await _ada.DecideAsync(
            $"line-up/occurrences/{skipped}/{(await installation.NowAsync() + Duration.FromMinutes(20)).InZone(Dublin).Date:uuuu-MM-dd}",
            new { isSkipped = true }
        );
        await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromMinutes(30));
        await _ada.PostAsync(category, "In time");
        await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromMinutes(11));
        await installation.PassAsync();
        Assert.Empty(await PassedAsync(channel));
        Assert.Equal(["In time"], await installation.PostedAsync("hearth-nomiss"));
    }

    [Fact]
    public async Task Two_servers_answer_waiting_posts_and_each_place_is_sent_once()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "heldtwice");
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = "Held twice",
                    colour = "tide",
                    monogram = "Ht",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        for (int i = 0; i < 6; i++)
        {
            Guid ready = (await _ada.PostAsync(category, $"Ready {i}")).Id();
            await _ada.ApproveAsync(ready);
        }
        // Added later, so that they go first, and stay without approval.
        for (int i = 0; i < 6; i++)
            await _ada.PostAsync(category, $"Held {i}");
        for (int i = 0; i < 6; i++)
            await SlotInAsync(category, channel, minutes: 30 + i);
        await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromMinutes(37));
        await using WebApplication second = await installation.StartServerAsync();
        await Task.WhenAll(Enumerable.Range(0, 8).Select(i => installation.PassAsync(i % 2 == 0 ? null : second.Services)));
        await installation.PassAsync();
        IReadOnlyList<string> posted = await installation.PostedAsync("hearth-heldtwice");
        Assert.Equal(Enumerable.Range(0, 6).Select(i => $"Ready {i}"), posted.Order(StringComparer.Ordinal));
        Id<Channel> id = new(channel);
        Instant now = await installation.NowAsync();
        Assert.Equal(
            0,
            await installation.ReadAsync(db =>
                db.Deliveries.CountAsync(d =>
                    d.ChannelId == id && (d.State == DeliveryState.Substitute || d.State == DeliveryState.WaitingForApproval) && d.At < now
                )
            )
        );
    }

    [Fact]
    public async Task Other_wordings_go_in_turn_and_one_that_is_too_long_is_passed_over()
    {
        Guid channel = await installation.ConnectAsync(_ada, "jot", "wordings");
        Guid category = await _ada.CategoryAsync("Wordings", channel);
        object content = TestData.Content("First wording", wordings: [new string('w', 400), "Third wording", " "]);
        JsonElement post = await _ada.PostAsync(
            "posts",
            new
            {
                title = "Several",
                categoryId = category,
                stage = "ready",
                lifespan = "evergreen",
                inRotation = true,
                channels = (Guid[]?)null,
                content,
            }
        );
        Assert.Equal(2, post.GetProperty("content").List("wordings").Length);
        string?[] blocks =
        [
            .. post.List("checks").Single(c => c.Text("network") == "jot").List("wordingBlocks").Select(b => b.GetString()),
        ];
        Assert.Equal((true, null), (blocks[0]?.Contains("280", StringComparison.Ordinal), blocks[1]));
        for (int turn = 0; turn < 2; turn++)
        {
            await SlotInAsync(category, channel, minutes: 10);
            await installation.PassAsync();
            await installation.MoveOnAsync(Duration.FromMinutes(11));
            await installation.PassAsync();
            await installation.MoveOnAsync(Duration.FromDays(1));
        }
        Assert.Equal(["First wording", "Third wording"], (await installation.PostedAsync("jot-wordings")).Order(StringComparer.Ordinal));
        object many = TestData.Content("x", wordings: Enumerable.Range(0, 9).Select(i => $"w{i}"));
        Assert.Equal(
            "The post has 9 wordings; 8 is the most. Remove some, or make them posts of their own.",
            (
                await _ada.TroubleAsync(
                    HttpMethod.Post,
                    "posts",
                    new
                    {
                        title = "Many",
                        categoryId = category,
                        stage = "ready",
                        lifespan = "evergreen",
                        inRotation = true,
                        channels = (Guid[]?)null,
                        content = many,
                    }
                )
            ).Words
        );
    }

    [Fact]
    public async Task The_networks_are_asked_when_followers_are_online_and_the_week_s_hours_are_told()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "online");
        Assert.All(
            (await _ada.GetAsync($"hours?channel={channel}")).List("hours"),
            h => Assert.Equal(JsonValueKind.Null, h.GetProperty("online").ValueKind)
        );
        await installation.PassAsync();
        JsonElement[] hours = (await _ada.GetAsync($"hours?channel={channel}")).List("hours");
        Assert.Equal(168, hours.Length);
        Assert.Equal(1, hours.Max(h => h.GetProperty("online").GetDouble()));
        // The stand-in's people sleep at night.
        Assert.InRange(hours.Single(h => h.Text("day") == "wednesday" && h.Whole("hour") == 3).GetProperty("online").GetDouble(), 0, 0.3);
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Get, $"hours?channel={Guid.NewGuid()}")).Status);
        Assert.Equal(HttpStatusCode.NotFound, (await installation.Ben.TroubleAsync(HttpMethod.Get, $"hours?channel={channel}")).Status);
    }

    private async Task<Guid> SlotInAsync(Guid? category, Guid channel, int minutes)
    {
        LocalDateTime at = (await installation.NowAsync() + Duration.FromMinutes(minutes)).InZone(Dublin).LocalDateTime;
        return await _ada.SlotAsync(category, $"{at:HH:mm}", [(int)at.DayOfWeek], channel);
    }

    private async Task<JsonElement[]> PassedAsync(Guid channel) =>
        [.. (await _ada.GetAsync("needs/passed")).EnumerateArray().Where(p => p.List("channels").Any(c => c.GetGuid() == channel))];
}
