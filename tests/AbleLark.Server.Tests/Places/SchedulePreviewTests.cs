using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.Places;

/// <summary>Scheduling a period: shown first, done as it was shown, and taken back as a whole.</summary>
public sealed class SchedulePreviewTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task It_is_done_as_it_was_shown_and_undo_gives_the_places_back_to_the_rotation()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "preview");
        Guid category = await _ada.CategoryAsync("Of previews", channel);
        for (int i = 0; i < 20; i++)
            await _ada.PostAsync(category, $"Previewed {i}");
        await _ada.SlotAsync(category, "12:20", EveryDay, channel);
        LocalDate today = (await _installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        string through = LocalDatePattern.Iso.Format(today.PlusDays(13));

        JsonElement shown = await _ada.GetAsync($"line-up/schedule?through={through}");
        int places = shown.Whole("places");
        Assert.InRange(places, 13, 14);
        JsonElement only = Assert.Single(shown.List("deliveries"));
        Assert.Equal((channel, places, 0, 0), (only.Id("channelId"), only.Whole("count"), shown.Whole("empty"), shown.Whole("waiting")));
        object asShown = new { through, planStamp = shown.GetProperty("planStamp") };
        await _ada.PostAsync(category, "Meanwhile");
        Assert.Equal(
            (HttpStatusCode.PreconditionFailed, "The plan has changed since this was shown. Look at it once more; nothing was scheduled."),
            await _ada.TroubleAsync(HttpMethod.Post, "line-up/schedule", asShown)
        );
        JsonElement[] before = await EntriesAsync(channel, today, through);
        JsonElement done = await _ada.PostAsync(
            "line-up/schedule",
            new { through, planStamp = (await _ada.GetAsync($"line-up/schedule?through={through}")).GetProperty("planStamp") }
        );
        Assert.Equal(places, done.Whole("deliveries"));
        JsonElement[] scheduled = await EntriesAsync(channel, today, through);
        Assert.Equal(before.Select(e => e.Id("postId")), scheduled.Select(e => e.Id("postId")));

        // One was moved since: it stays, the other places are the rotation's again, as if they had never been scheduled.
        await _ada.PostAsync(
            $"deliveries/{scheduled[5].Id("deliveryId")}/reschedule",
            new { date = scheduled[5].Text("date"), time = "15:45:00" }
        );
        JsonElement undone = await _ada.PostAsync($"changes/{done.Id("changeSetId")}/undo");
        Assert.Equal(
            (places - 1, "What was changed again since stays as it is."),
            (undone.Whole("undone"), Assert.Single(undone.List("kept")).GetString())
        );
        JsonElement[] after = await EntriesAsync(channel, today, through);
        Assert.Equal(places - 1, after.Count(e => e.Text("kind") == "projected"));
        Assert.Equal("15:45:00", Assert.Single(after, e => e.Text("kind") == "delivery").Text("time"));
        // And nothing of it comes back by taking that back: it is scheduled anew.
        Guid last = (await _ada.GetAsync("changes")).EnumerateArray().First().Id();
        Assert.Equal(
            "What was given back to the rotation is scheduled anew, not brought back.",
            Assert.Single((await _ada.PostAsync($"changes/{last}/undo")).List("kept")).GetString()
        );
        Assert.Equal(places - 1, (await _ada.PostAsync("line-up/schedule", new { through })).Whole("deliveries"));
    }

    private async Task<JsonElement[]> EntriesAsync(Guid channel, LocalDate from, string to) =>
        [
            .. (await _ada.GetAsync($"line-up?from={LocalDatePattern.Iso.Format(from)}&to={to}"))
                .List("entries")
                .Where(e => e.Id("channelId") == channel && e.Text("kind") != "empty"),
        ];
}
