using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.LineUps;

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

        JsonElement swapped = await _ada.PostAsync("line-up/exchange", Swap(jot, Delivery(first), Delivery(second[0])));
        Assert.Equal((to, from, to), (await AtAsync(first), await AtAsync(second[0]), await AtAsync(second[1])));
        Assert.StartsWith("“Early” is meant for", Assert.Single(swapped.List("against")).GetString(), StringComparison.Ordinal);
        await _ada.PostAsync($"changes/{swapped.Id("changeSetId")}/undo");
        Assert.Equal((from, to), (await AtAsync(first), await AtAsync(second[0])));

        // Two places of the rota, each with its own post; then what can't be.
        for (int i = 0; i < 14; i++)
            await _ada.PostAsync(category, $"Spare {i}");
        Guid slot = await _ada.SlotAsync(category, "07:05", EveryDay, jot);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        object Place(int days) => new { deliveryId = (Guid?)null, place = new { slotId = slot, date = Iso(today.PlusDays(days)) } };
        async Task<Guid[]> PostsAsync() =>
            [
                .. (await _ada.GetAsync($"line-up?from={Iso(today.PlusDays(9))}&to={Iso(today.PlusDays(10))}"))
                    .List("entries")
                    .Where(e => e.GetProperty("origin").Id() == slot)
                    .Select(e => e.Id("postId")),
            ];
        Guid[] before = await PostsAsync();
        Assert.Equal(2, before.Distinct().Count());
        await _ada.PostAsync("line-up/exchange", Swap(jot, Place(9), Place(10)));
        Assert.Equal(before.Reverse(), await PostsAsync());
        foreach (
            (object body, HttpStatusCode status) in new[]
            {
                (Swap(jot, Delivery(first), Place(9)), HttpStatusCode.Conflict),
                (Swap(jot, Delivery(first), Delivery(second[1])), HttpStatusCode.BadRequest),
                (Swap(jot, Delivery(first), Delivery(Guid.NewGuid())), HttpStatusCode.NotFound),
                (Swap(jot, Delivery(first), Delivery(first)), HttpStatusCode.BadRequest),
                (Swap(Guid.NewGuid(), Delivery(first), Delivery(second[0])), HttpStatusCode.NotFound),
                (Swap(jot, Delivery(first), new { deliveryId = (Guid?)null, place = (object?)null }), HttpStatusCode.BadRequest),
            }
        )
            Assert.Equal(status, (await _ada.TroubleAsync(HttpMethod.Post, "line-up/exchange", body)).Status);

        static object Swap(Guid channelId, object one, object other) =>
            new
            {
                channelId,
                one,
                other,
            };

        static object Delivery(Guid id) => new { deliveryId = (Guid?)id, place = (object?)null };
    }

    private static string Iso(LocalDate date) => LocalDatePattern.Iso.Format(date);

    private async Task<LocalDateTime> AtAsync(Guid delivery)
    {
        JsonElement shown = await _ada.GetAsync($"deliveries/{delivery}");
        return LocalDatePattern.Iso.Parse(shown.Text("date")).Value + LocalTimePattern.ExtendedIso.Parse(shown.Text("time")).Value;
    }
}
