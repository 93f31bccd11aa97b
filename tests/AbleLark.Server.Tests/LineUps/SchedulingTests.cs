using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.LineUps;

public sealed class SchedulingTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Places_within_the_settle_time_become_deliveries_once_however_many_servers_settle()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "schedule");
        Guid category = await _ada.CategoryAsync("Scheduled", channel);
        for (int i = 0; i < 5; i++)
            await _ada.PostAsync(category, $"Scheduled post {i}");
        await _ada.SlotAsync(category, "23:55", EveryDay, channel);

        await using WebApplication second = await installation.StartServerAsync();
        await Task.WhenAll(Enumerable.Range(0, 6).Select(i => installation.PassAsync(i % 2 == 0 ? null : second.Services)));
        List<Delivery> scheduled = await installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.ChannelId == new Core.Id<Core.Channels.Channel>(channel)).OrderBy(d => d.At).ToListAsync()
        );
        LocalDate today = await TodayAsync();
        Assert.Equal([today, today.PlusDays(1)], scheduled.Select(d => d.LocalDate));
        Assert.All(scheduled, d => Assert.StartsWith("Never sent here", d.Why!.Words, StringComparison.Ordinal));
    }

    [Fact]
    public async Task The_line_up_of_two_weeks_is_told_with_reasons_and_changes_until_it_is_scheduled()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "project");
        Guid category = await _ada.CategoryAsync("Projected", channel);
        await _ada.SlotAsync(category, "12:10", EveryDay, channel);
        LocalDate today = await TodayAsync();
        Assert.All(
            (await EntriesAsync(today, channel)).Where(e => e.Text("kind") == "empty"),
            e => Assert.Equal("The category has no posts yet.", e.Text("why"))
        );

        await _ada.PostAsync(category, "Projected one");
        JsonElement[] before = await EntriesAsync(today.PlusDays(3), channel);
        Assert.Equal(11, before.Length);
        Assert.All(before, e => Assert.Equal(("projected", "Projected one"), (e.Text("kind"), e.Text("title"))));

        await _ada.PostAsync("line-up/schedule", new { through = today.PlusDays(13) });
        await _ada.PostAsync(category, "Projected two");
        JsonElement[] after = await EntriesAsync(today.PlusDays(3), channel);
        Assert.All(after, e => Assert.Equal(("delivery", "Projected one", "planned"), (e.Text("kind"), e.Text("title"), e.Text("state"))));
    }

    [Fact]
    public async Task An_exact_time_shows_beside_the_rota_and_both_by_the_workspace_s_clock()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "exact");
        Guid category = await _ada.CategoryAsync("Exact", channel);
        JsonElement post = await _ada.PostAsync(category, "Exactly");
        await _ada.PostAsync(
            $"posts/{post.Id()}/deliveries",
            new
            {
                date = "2029-07-01",
                time = "09:15:00",
                channels = new[] { channel },
            }
        );
        JsonElement entry = Assert.Single(
            (await _ada.GetAsync("line-up?from=2029-07-01&to=2029-07-01")).List("entries"),
            e => e.Id("channelId") == channel
        );
        Assert.Equal("exactTime", entry.GetProperty("origin").Text("kind"));
        // Ireland is an hour ahead of UTC in July.
        Assert.Equal(("09:15:00", "2029-07-01T08:15:00Z"), (entry.Text("time"), entry.Text("at")));
    }

    [Fact]
    public async Task A_removed_slot_leaves_what_was_scheduled_and_comes_back_by_undo()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "slotgone");
        Guid category = await _ada.CategoryAsync("Slots", channel);
        for (int i = 0; i < 20; i++)
            await _ada.PostAsync(category, $"Slot post {i}");
        Guid slot = await _ada.SlotAsync(category, "23:50", EveryDay, channel);
        await installation.PassAsync();
        LocalDate today = await TodayAsync();
        JsonElement removed = await _ada.DeleteAsync($"rotas/slots/{slot}");
        Assert.Equal(2, (await EntriesAsync(today, channel)).Length);
        await _ada.PostAsync($"changes/{removed.Id("changeSetId")}/undo");
        Assert.Equal(14, (await EntriesAsync(today, channel)).Length);
    }

    [Fact]
    public async Task A_slot_needs_days_and_channels()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "needs");
        Assert.Equal(
            "Choose at least one weekday for the slot.",
            (await _ada.TroubleAsync(HttpMethod.Post, "rotas/slots", TestData.Slot(null, "09:00", [], channel))).Words
        );
        Assert.Equal(
            "Weekdays run from 1 (Monday) to 7 (Sunday).",
            (await _ada.TroubleAsync(HttpMethod.Post, "rotas/slots", TestData.Slot(null, "09:00", [0], channel))).Words
        );
        Assert.Equal(
            "Choose at least one channel for the slot.",
            (await _ada.TroubleAsync(HttpMethod.Post, "rotas/slots", TestData.Slot(null, "09:00", [1]))).Words
        );
    }

    [Fact]
    public async Task Moving_a_workspace_to_another_zone_moves_its_rota()
    {
        await _ada.PutAsync(
            "",
            new
            {
                name = "Harbour Ropes",
                zone = "Asia/Kathmandu",
                scheduleAheadHours = 24,
                lateMinutes = 60,
            }
        );
        Assert.Equal("Asia/Kathmandu", (await _ada.GetAsync("rotas"))[0].Text("zone"));
        await _ada.PutAsync(
            "",
            new
            {
                name = "Harbour Ropes",
                zone = "Europe/Dublin",
                scheduleAheadHours = 24,
                lateMinutes = 60,
            }
        );
    }

    private async Task<LocalDate> TodayAsync() => (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;

    /// <summary>Entries of one channel from a date to the end of the two weeks from today.</summary>
    private async Task<JsonElement[]> EntriesAsync(LocalDate from, Guid channel)
    {
        LocalDate to = (await TodayAsync()).PlusDays(13);
        return
        [
            .. (await _ada.GetAsync($"line-up?from={from:uuuu-MM-dd}&to={to:uuuu-MM-dd}"))
                .List("entries")
                .Where(e => e.Id("channelId") == channel),
        ];
    }
}
