using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.Places;

/// <summary>Two posts on a channel change places.</summary>
public sealed class ExchangeTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task Two_change_places_on_a_channel_and_what_speaks_against_it_is_said()
    {
        Guid jot = await _installation.ConnectAsync(_ada, "jot", "swap jot");
        Guid hearth = await _installation.ConnectAsync(_ada, "hearth", "swap hearth");
        Guid category = await _ada.CategoryAsync("Of swaps", jot, hearth);
        Guid early = (await _ada.PostAsync(category, "Early")).Id();
        Guid late = (await _ada.PostAsync(category, "Late")).Id();
        Guid first = (await _ada.PlanAsync(_installation, early, 2 * 24 * 60, jot))[0];
        Guid[] second = await _ada.PlanAsync(_installation, late, 4 * 24 * 60, jot, hearth);
        (LocalDateTime from, LocalDateTime to) = (await AtAsync(first), await AtAsync(second[0]));
        await _installation.WriteAsync($"update posts set \"to\" = {from.Date} where id = {early}");

        JsonElement swapped = await _ada.PostAsync(
            "line-up/exchange",
            Swap(jot, await DeliveryAsync(first), await DeliveryAsync(second[0]))
        );
        Assert.Equal((to, from, to), (await AtAsync(first), await AtAsync(second[0]), await AtAsync(second[1])));
        Assert.StartsWith("“Early” is meant for", Assert.Single(swapped.List("against")).GetString(), StringComparison.Ordinal);
        await _ada.PostAsync($"changes/{swapped.Id("changeSetId")}/undo");
        Assert.Equal((from, to), (await AtAsync(first), await AtAsync(second[0])));

        // Two places of the rota, each with its own post; then what can't be.
        for (int i = 0; i < 14; i++)
            await _ada.PostAsync(category, $"Spare {i}");
        Guid slot = await _ada.SlotAsync(category, "07:05", EveryDay, jot);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        async Task<object> PlaceAsync(int days)
        {
            LocalDate date = today.PlusDays(days);
            JsonElement seen = (await _ada.GetAsync($"line-up?from={Iso(date)}&to={Iso(date)}"))
                .List("entries")
                .Single(e => e.GetProperty("origin").Id() == slot);
            return new
            {
                delivery = (object?)null,
                place = new
                {
                    slotId = slot,
                    date = Iso(date),
                    revision = seen.Whole("revision"),
                },
                postId = seen.Id("postId"),
            };
        }
        async Task<JsonElement> ChosenAsync(int days) => JsonSerializer.SerializeToElement(await PlaceAsync(days)).GetProperty("place");
        async Task<Guid[]> PostsAsync() =>
            [
                .. (await _ada.GetAsync($"line-up?from={Iso(today.PlusDays(9))}&to={Iso(today.PlusDays(10))}"))
                    .List("entries")
                    .Where(e => e.GetProperty("origin").Id() == slot)
                    .Select(e => e.Id("postId")),
            ];
        Guid[] before = await PostsAsync();
        Assert.Equal(2, before.Distinct().Count());
        await _ada.PostAsync("line-up/exchange", Swap(jot, await PlaceAsync(9), await PlaceAsync(10)));
        Assert.Equal(before.Reverse(), await PostsAsync());
        // On all channels that both have, and what speaks against it names its post.
        await _installation.WriteAsync($"update posts set \"to\" = {today.PlusDays(5)}, title = 'Early bird' where id = {before[0]}");
        JsonElement all = await _ada.PostAsync(
            "line-up/exchange",
            new { one = new { place = await ChosenAsync(9) }, other = new { place = await ChosenAsync(10) } }
        );
        Assert.Contains(all.List("against"), w => w.GetString()!.StartsWith("“Early bird” is meant for", StringComparison.Ordinal));
        foreach (
            (object body, HttpStatusCode status) in new[]
            {
                (Swap(jot, await DeliveryAsync(first), await PlaceAsync(9)), HttpStatusCode.Conflict),
                (Swap(jot, await DeliveryAsync(first), await DeliveryAsync(second[1])), HttpStatusCode.BadRequest),
                (Swap(jot, await DeliveryAsync(first), Gone()), HttpStatusCode.NotFound),
                (Swap(jot, await DeliveryAsync(first), await DeliveryAsync(first)), HttpStatusCode.BadRequest),
                (Swap(Guid.NewGuid(), await DeliveryAsync(first), await DeliveryAsync(second[0])), HttpStatusCode.NotFound),
                (
                    Swap(
                        jot,
                        await DeliveryAsync(first),
                        new
                        {
                            delivery = (object?)null,
                            place = (object?)null,
                            postId = Guid.NewGuid(),
                        }
                    ),
                    HttpStatusCode.BadRequest
                ),
            }
        )
            Assert.Equal(status, (await _ada.TroubleAsync(HttpMethod.Post, "line-up/exchange", body)).Status);

        static object Gone() =>
            new
            {
                delivery = new { id = Guid.NewGuid(), revision = 0 },
                place = (object?)null,
                postId = Guid.NewGuid(),
            };
    }

    private static object Swap(Guid channelId, object one, object other) =>
        new
        {
            channelId,
            one,
            other,
        };

    private async Task<object> DeliveryAsync(Guid id)
    {
        JsonElement seen = await _ada.GetAsync($"deliveries/{id}");
        return new
        {
            delivery = new { id, revision = seen.Whole("revision") },
            place = (object?)null,
            postId = seen.Id("postId"),
        };
    }

    private static string Iso(LocalDate date) => LocalDatePattern.Iso.Format(date);

    private async Task<LocalDateTime> AtAsync(Guid delivery)
    {
        JsonElement shown = await _ada.GetAsync($"deliveries/{delivery}");
        return LocalDatePattern.Iso.Parse(shown.Text("date")).Value + LocalTimePattern.ExtendedIso.Parse(shown.Text("time")).Value;
    }
}
