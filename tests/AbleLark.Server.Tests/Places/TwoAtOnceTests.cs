using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.Places;

/// <summary>Two who looked at the same plan and press at once: what one of them did is done once, and the other is told.</summary>
public sealed class TwoAtOnceTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task Deliveries_and_places_are_exchanged_once()
    {
        (Guid channel, JsonElement[] deliveries, JsonElement[] places) = await PlanAsync("exchange");
        foreach (JsonElement[] pair in new[] { deliveries, places })
        {
            object body = new
            {
                channelId = channel,
                one = Side(pair[0]),
                other = Side(pair[1]),
            };
            HttpStatusCode[] answers = await AtOnceAsync(() => _ada.TroubleAsync(HttpMethod.Post, "line-up/exchange", body));
            Assert.Equal([HttpStatusCode.OK, HttpStatusCode.PreconditionFailed], answers.Order());
            JsonElement[] now = await EntriesAsync(channel);
            Assert.Equal(
                (pair[0].Id("postId"), pair[1].Id("postId")),
                (now.Single(e => IsAt(e, pair[1])).Id("postId"), now.Single(e => IsAt(e, pair[0])).Id("postId"))
            );
        }
    }

    [Fact]
    public async Task Several_are_moved_by_one_day_and_not_by_two()
    {
        (Guid channel, JsonElement[] deliveries, JsonElement[] places) = await PlanAsync("several");
        object body = new
        {
            act = "shift",
            days = 60,
            minutes = 7,
            deliveries = deliveries.Select(d => new { id = d.Id("deliveryId"), revision = d.Whole("revision") }),
            places = places.Select(Place),
        };
        HttpStatusCode[] answers = await AtOnceAsync(() => _ada.TroubleAsync(HttpMethod.Post, "line-up/acts", body));
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], answers.Order());
        JsonElement[] moved = await EntriesAsync(channel, 60);
        Assert.Equal(4, deliveries.Concat(places).Count(e => moved.Any(m => m.Text("key") == e.Text("key"))));
        foreach (JsonElement side in deliveries.Concat(places))
        {
            JsonElement there = moved.Single(m => m.Text("key") == side.Text("key"));
            Assert.Equal(60, Period.DaysBetween(DateOf(side), DateOf(there)));
        }
        // Nor by somebody who says nothing of what they saw.
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await _ada.TroubleAsync(
                    HttpMethod.Post,
                    "line-up/acts",
                    new
                    {
                        act = "cancel",
                        deliveries = new[] { new { id = deliveries[0].Id("deliveryId") } },
                        places = Array.Empty<object>(),
                    }
                )
            ).Status
        );
    }

    [Fact]
    public async Task A_place_is_decided_about_by_who_saw_it_as_it_is()
    {
        (_, _, JsonElement[] places) = await PlanAsync("place");
        string path = $"line-up/occurrences/{places[0].GetProperty("origin").Id()}/{places[0].GetProperty("origin").Text("date")}";
        Assert.Equal(
            (HttpStatusCode.BadRequest, "Say in If-Match which revision of the place you looked at; nought, where nothing is decided."),
            await _ada.TroubleAsync(HttpMethod.Patch, path, new { isSkipped = true })
        );
        HttpStatusCode[] answers = await AtOnceAsync(() => DecideAsync(path, 0, new { isSkipped = true }));
        Assert.Equal([HttpStatusCode.OK, HttpStatusCode.PreconditionFailed], answers.Order());
        // Taken away and decided anew, it isn't what was seen.
        int seen = (await _ada.GetAsync(path)).Whole("revision");
        await _ada.DecideAsync(path, new { isFreed = true });
        await _ada.DecideAsync(path, new { note = "Ask the boatman" });
        Assert.Equal(HttpStatusCode.PreconditionFailed, (await DecideAsync(path, seen, new { isSkipped = true })).Status);
        object swap = new
        {
            one = new
            {
                place = new
                {
                    slotId = places[0].GetProperty("origin").Id(),
                    date = places[0].GetProperty("origin").Text("date"),
                    revision = seen,
                },
            },
            other = new { place = Place(places[1]) },
        };
        Assert.Equal(HttpStatusCode.PreconditionFailed, (await _ada.TroubleAsync(HttpMethod.Post, "line-up/exchange", swap)).Status);
    }

    private async Task<(HttpStatusCode Status, string Words)> DecideAsync(string path, int revision, object edit)
    {
        using HttpRequestMessage request = new(HttpMethod.Patch, _ada.Path(path))
        {
            Content = System.Net.Http.Json.JsonContent.Create(edit),
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        using HttpResponseMessage answer = await _ada.Http.SendAsync(request);
        return (answer.StatusCode, "");
    }

    private static async Task<HttpStatusCode[]> AtOnceAsync(Func<Task<(HttpStatusCode Status, string Words)>> press) =>
        [.. (await Task.WhenAll(press(), press())).Select(a => a.Status)];

    /// <summary>Two deliveries at exact times, and two places that may still change, on a channel.</summary>
    private async Task<(Guid Channel, JsonElement[] Deliveries, JsonElement[] Places)> PlanAsync(string name)
    {
        Guid channel = await _installation.ConnectAsync(_ada, "jot", name);
        Guid category = await _ada.CategoryAsync($"Of {name}", channel);
        for (int i = 0; i < 8; i++)
            await _ada.PostAsync(category, $"{name} {i}");
        for (int i = 0; i < 2; i++)
            await _ada.PlanAsync(
                _installation,
                (await _ada.PostAsync(category, $"{name} exact {i}")).Id(),
                (2 + (2 * i)) * 24 * 60,
                channel
            );
        await _ada.SlotAsync(category, "07:05", EveryDay, channel);
        JsonElement[] entries = await EntriesAsync(channel);
        return (
            channel,
            [.. entries.Where(e => e.GetProperty("deliveryId").ValueKind != JsonValueKind.Null).Take(2)],
            [.. entries.Where(e => e.GetProperty("deliveryId").ValueKind == JsonValueKind.Null).Skip(4).Take(2)]
        );
    }

    private async Task<JsonElement[]> EntriesAsync(Guid channel, int after = 0)
    {
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date.PlusDays(after);
        return
        [
            .. (await _ada.GetAsync($"line-up?from={Iso(today)}&to={Iso(today.PlusDays(14))}"))
                .List("entries")
                .Where(e => e.Id("channelId") == channel),
        ];
    }

    private static bool IsAt(JsonElement one, JsonElement other) => one.Text("at") == other.Text("at");

    private static LocalDate DateOf(JsonElement entry) => LocalDatePattern.Iso.Parse(entry.Text("date")).Value;

    private static object Place(JsonElement entry) =>
        new
        {
            slotId = entry.GetProperty("origin").Id(),
            date = entry.GetProperty("origin").Text("date"),
            revision = entry.Whole("revision"),
        };

    private static object Side(JsonElement entry) =>
        entry.GetProperty("deliveryId").ValueKind == JsonValueKind.Null
            ? new
            {
                delivery = (object?)null,
                place = (object?)Place(entry),
                postId = entry.Id("postId"),
            }
            : new
            {
                delivery = (object?)new { id = entry.Id("deliveryId"), revision = entry.Whole("revision") },
                place = (object?)null,
                postId = entry.Id("postId"),
            };

    private static string Iso(LocalDate date) => LocalDatePattern.Iso.Format(date);
}
