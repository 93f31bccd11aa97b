using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Outgoing;

/// <summary>Sending under every fault that the stand-in networks can play: exactly once, or a person is told.</summary>
public sealed class SendingTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_due_delivery_is_sent_frozen_and_can_be_seen_on_the_network()
    {
        (Guid delivery, string account) = await DueAsync("See us tomorrow", picture: true);
        await installation.PassAsync();
        JsonElement sent = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(("sent", "See us tomorrow"), (sent.Text("state"), sent.GetProperty("look").GetProperty("fields").Text("text")));
        Assert.Equal(["picture", "post"], sent.List("attempts").Select(a => a.Text("step")));
        using HttpClient client = new();
        string page = await client.GetStringAsync(sent.Text("address"));
        Assert.Contains("See us tomorrow", page, StringComparison.Ordinal);
        Assert.Contains("<img", page, StringComparison.Ordinal);
        Assert.Equal(["See us tomorrow"], await installation.PostedAsync(account));
    }

    [Fact]
    public async Task Content_is_read_at_the_moment_of_sending()
    {
        (Guid delivery, string account) = await DueAsync("Old words");
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync($"deliveries/{delivery}")).Id("postId")}");
        await _ada.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(post.Id("categoryId"), "New words"));
        await installation.PassAsync();
        Assert.Equal(["New words"], await installation.PostedAsync(account));
    }

    [Theory]
    [InlineData("error")]
    [InlineData("slow")]
    [InlineData("loseAnswer")]
    [InlineData("expiredToken")]
    [InlineData("rateLimited")]
    [InlineData("down")]
    public async Task A_passing_fault_is_got_over_and_the_post_is_there_once(string fault)
    {
        (Guid delivery, string account) = await DueAsync($"Through {fault}");
        await installation.OrderAsync(fault, 1, account);
        await PassesUntilAsync(delivery, "sent");
        Assert.Equal([$"Through {fault}"], await installation.PostedAsync(account));
    }

    [Fact]
    public async Task An_answer_lost_again_and_again_still_leaves_one_post()
    {
        (Guid delivery, string account) = await DueAsync("Lost and lost", picture: true);
        await installation.OrderAsync("loseAnswer", 3, account);
        await PassesUntilAsync(delivery, "sent");
        Assert.Equal(["Lost and lost"], await installation.PostedAsync(account));
    }

    [Fact]
    public async Task A_refusal_shows_the_network_s_reason_and_can_be_rescheduled()
    {
        (Guid delivery, string account) = await DueAsync("Refused once");
        await installation.OrderAsync("refuse", 1, account);
        await PassesUntilAsync(delivery, "refused");
        JsonElement need = (await _ada.GetAsync("needs")).EnumerateArray().Single(n => n.Id("deliveryId") == delivery);
        Assert.Equal(
            ("refused", "This account may not post just now. Check its standing on the network."),
            (need.Text("state"), need.Text("trouble"))
        );

        LocalDateTime later = (await installation.NowAsync() + Duration.FromMinutes(10))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        JsonElement rescheduled = await _ada.PostAsync(
            $"deliveries/{delivery}/reschedule",
            new { date = later.Date, time = later.TimeOfDay }
        );
        Assert.DoesNotContain((await _ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == delivery);
        await installation.MoveOnAsync(Duration.FromMinutes(11));
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(rescheduled.Id("deliveryId")));
        Assert.Equal("refused", await _ada.StateAsync(delivery));
    }

    [Fact]
    public async Task What_the_network_checks_for_itself_is_refused_in_its_words()
    {
        Guid channel = await installation.ConnectAsync(_ada, "jot", "twins");
        Guid category = await _ada.CategoryAsync("Twins", channel);
        foreach (int minutes in new[] { 5, 10 })
        {
            Guid post = (await _ada.PostAsync(category, "The very same words")).Id();
            await _ada.PlanAsync(installation, post, minutes, channel);
        }
        await installation.MoveOnAsync(Duration.FromMinutes(11));
        await installation.PassAsync();
        JsonElement need = (await _ada.GetAsync("needs")).EnumerateArray().Single(n => n.Id("channelId") == channel);
        Assert.Equal("The same text was posted within 30 days.", need.Text("trouble"));
        Assert.Single(await installation.PostedAsync("jot-twins"));
    }

    [Fact]
    public async Task A_late_delivery_becomes_missed_and_never_goes_by_itself()
    {
        (Guid delivery, string account) = await DueAsync("Too late", late: Duration.FromMinutes(61));
        await installation.PassAsync();
        await installation.PassAsync();
        Assert.Equal("missed", await _ada.StateAsync(delivery));
        Assert.Empty(await installation.PostedAsync(account));
    }

    [Fact]
    public async Task A_delivery_an_hour_late_still_goes()
    {
        (Guid delivery, _) = await DueAsync("Just in time", late: Duration.FromMinutes(59));
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(delivery));
    }

    [Fact]
    public async Task Many_servers_at_once_send_each_delivery_once()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "crowd");
        Guid category = await _ada.CategoryAsync("Crowd", channel);
        for (int i = 0; i < 30; i++)
        {
            Guid post = (await _ada.PostAsync(category, $"Crowd {i:00}")).Id();
            await _ada.PlanAsync(installation, post, 5 + (i % 3), channel);
        }
        await installation.MoveOnAsync(Duration.FromMinutes(9));
        await using WebApplication second = await installation.StartServerAsync();
        await Task.WhenAll(Enumerable.Range(0, 8).Select(i => installation.PassAsync(i % 2 == 0 ? null : second.Services)));
        IReadOnlyList<string> posted = await installation.PostedAsync("hearth-crowd");
        Assert.Equal(Enumerable.Range(0, 30).Select(i => $"Crowd {i:00}"), posted.Order(StringComparer.Ordinal));
    }

    [Fact]
    public async Task A_silent_network_ends_in_a_question_to_a_person_never_in_a_second_post()
    {
        (Guid delivery, string account) = await DueAsync("Are you there");
        // The post arrives, its answer is lost, and the network can't be asked afterwards: the account's tokens are gone.
        await installation.OrderAsync("loseAnswer", 1, account);
        await installation.PassAsync();
        await installation.RevokeAsync(account);
        await installation.MoveOnAsync(Duration.FromMinutes(70));
        await PassesUntilAsync(delivery, "mayHaveGoneOut", "refused");
        Assert.Equal("mayHaveGoneOut", await _ada.StateAsync(delivery));
        Assert.Equal(["Are you there"], await installation.PostedAsync(account));
        Assert.Contains((await _ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == delivery);
    }

    [Fact]
    public async Task A_revoked_connection_is_told_on_the_channel_and_mended_by_connecting_again()
    {
        (Guid delivery, string account) = await DueAsync("No longer yours");
        await installation.RevokeAsync(account);
        await installation.PassAsync();
        Assert.Equal("refused", await _ada.StateAsync(delivery));
        Guid channel = (await _ada.GetAsync($"deliveries/{delivery}")).Id("channelId");
        Assert.Equal("needsReconnection", await ConnectionAsync(channel));
        Assert.Equal(channel, await installation.ConnectAsync(_ada, "hearth", account["hearth-".Length..]));
        Assert.Equal("connected", await ConnectionAsync(channel));
    }

    [Fact]
    public async Task A_cancelled_delivery_and_one_of_a_removed_post_do_not_go()
    {
        (Guid delivery, string account) = await DueAsync("Not after all");
        await _ada.PostAsync($"deliveries/{delivery}/cancel");
        (Guid other, string otherAccount) = await DueAsync("Nor this");
        await _ada.DeleteAsync($"posts/{(await _ada.GetAsync($"deliveries/{other}")).Id("postId")}");
        await installation.PassAsync();
        Assert.Empty(await installation.PostedAsync(account));
        Assert.Empty(await installation.PostedAsync(otherAccount));
    }

    [Fact]
    public async Task Tokens_are_not_kept_in_the_clear()
    {
        await installation.ConnectAsync(_ada, "hearth", "secret");
        List<string> kept = await installation.ReadAsync(db => db.ChannelSecrets.Select(s => s.AccessToken).ToListAsync());
        List<string> issued = await installation.ReadAsync(db =>
            db.Database.SqlQuery<string>($"select access as \"Value\" from stand_ins.tokens").ToListAsync()
        );
        Assert.NotEmpty(kept);
        Assert.NotEmpty(issued);
        Assert.DoesNotContain(kept, k => issued.Any(i => k.Contains(i, StringComparison.Ordinal)));
    }

    [Fact]
    public async Task Every_attempt_is_recorded_before_and_after_its_call()
    {
        (Guid delivery, string account) = await DueAsync("Recorded");
        await installation.OrderAsync("error", 1, account);
        await PassesUntilAsync(delivery, "sent");
        List<DeliveryAttempt> attempts = await installation.ReadAsync(db =>
            db.DeliveryAttempts.Where(a => a.DeliveryId == new Core.Id<Delivery>(delivery)).OrderBy(a => a.StartedAt).ToListAsync()
        );
        Assert.Equal([AttemptEnd.Absent, AttemptEnd.Done], attempts.Select(a => a.End));
        Assert.All(attempts, a => Assert.NotNull(a.EndedAt));
        Assert.Equal("The network is in trouble (500). Something broke.", attempts[0].Reason);
        Assert.Equal((null, 1), (attempts[0].RemoteId, attempts[0].LookUps));
        Assert.NotNull(attempts[1].RemoteId);
    }

    private Task<(Guid Delivery, string Account)> DueAsync(string text, bool picture = false, Duration? late = null) =>
        installation.DueAsync(text, picture: picture, late: late);

    private Task PassesUntilAsync(Guid delivery, params string[] states) => installation.PassesUntilAsync(delivery, states);

    private async Task<string> ConnectionAsync(Guid channel) =>
        (await _ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == channel).Text("connection");
}
