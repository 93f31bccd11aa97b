using System.Net;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Channels;

public sealed class DisconnectTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_disconnected_channel_keeps_its_past_sends_nothing_and_comes_back_when_it_is_connected_again()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "leaving");
        Guid category = await _ada.CategoryAsync("Leaving", channel);
        Guid slot = await _ada.SlotAsync(category, "13:00", [1, 2, 3, 4, 5, 6, 7], channel);
        Guid sent = (await _ada.PlanAsync(installation, (await _ada.PostAsync(category, "Before")).Id(), 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        Guid planned = (await _ada.PlanAsync(installation, (await _ada.PostAsync(category, "After")).Id(), 5, channel))[0];

        JsonElement done = await _ada.DeleteAsync($"channels/{channel}/connection");
        Assert.True(done.Whole("cancelled") >= 1);
        Assert.Equal("disconnected", (await ChannelAsync(channel)).Text("connection"));
        Assert.Equal(("sent", "cancelled"), (await _ada.StateAsync(sent), await _ada.StateAsync(planned)));
        Assert.False(await installation.ReadAsync(db => db.ChannelSecrets.AnyAsync(s => s.ChannelId == new Id<Channel>(channel))));
        // The network no longer takes what we had.
        Assert.Equal(
            0,
            await installation.ReadAsync(db =>
                db.Database.SqlQuery<int>($"select count(*)::int as \"Value\" from stand_ins.tokens where account_id = 'hearth-leaving'")
                    .SingleAsync()
            )
        );

        await installation.MoveOnAsync(Duration.FromDays(2));
        await installation.PassAsync();
        Assert.Equal(["Before"], await installation.PostedAsync("hearth-leaving"));
        string today = (await _ada.GetAsync("")).Text("today");
        JsonElement[] places =
        [
            .. (await _ada.GetAsync($"line-up?from={today}&to={today}"))
                .List("entries")
                .Where(e => e.GetProperty("origin").Id("id") == slot && e.Text("kind") == "empty"),
        ];
        Assert.All(places, p => Assert.Equal("The channel is disconnected.", p.Text("why")));
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Delete, $"channels/{channel}/connection");
        Assert.Equal((HttpStatusCode.Conflict, "leaving is disconnected already."), (status, words));

        Assert.Equal(channel, await installation.ConnectAsync(_ada, "hearth", "leaving"));
        Assert.Equal("connected", (await ChannelAsync(channel)).Text("connection"));
        Guid again = (await _ada.PlanAsync(installation, (await _ada.PostAsync(category, "Again")).Id(), 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(again));
    }

    [Fact]
    public async Task Nothing_is_planned_on_a_disconnected_channel_and_undoing_does_not_connect_it()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "gone");
        Guid category = await _ada.CategoryAsync("Gone", channel);
        Guid planned = (await _ada.PlanAsync(installation, (await _ada.PostAsync(category, "To come")).Id(), 60, channel))[0];
        await _ada.DeleteAsync($"channels/{channel}/connection");
        Guid post = (await _ada.PostAsync(category, "Not now")).Id();
        LocalDateTime later = (await installation.NowAsync() + Duration.FromHours(1))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"posts/{post}/deliveries",
            new
            {
                date = later.Date,
                time = later.TimeOfDay,
                channels = new[] { channel },
            }
        );
        Assert.Equal((HttpStatusCode.Conflict, "Nothing was changed. gone: the channel is disconnected."), (status, words));
        JsonElement act = (await _ada.GetAsync("changes")).EnumerateArray().First(c => c.Text("act") == "Disconnected gone");
        JsonElement undone = await _ada.PostAsync($"changes/{act.Id()}/undo");
        Assert.Equal(0, undone.Whole("undone"));
        Assert.Contains(
            "A connection does not come back by itself: connect the channel again.",
            undone.List("kept").Select(k => k.GetString())
        );
        Assert.Equal(("disconnected", "cancelled"), ((await ChannelAsync(channel)).Text("connection"), await _ada.StateAsync(planned)));
    }

    [Fact]
    public async Task A_stranger_s_channel_is_not_there_to_disconnect()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "mine");
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await installation.Ben.TroubleAsync(HttpMethod.Delete, $"channels/{channel}/connection")).Status
        );
    }

    private async Task<JsonElement> ChannelAsync(Guid id) => (await _ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == id);
}
