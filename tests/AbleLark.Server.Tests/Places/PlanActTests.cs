using System.Net;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.Places;

/// <summary>Several deliveries and places moved, copied or cancelled as one, and taken back as one.</summary>
public sealed class PlanActTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_post_at_a_time_moves_with_all_its_channels_and_stays_the_same_deliveries()
    {
        (Guid jot, Guid hearth, Guid category) = await LineAsync("both");
        Guid post = (await _ada.PostAsync(category, "On both")).Id();
        Guid[] deliveries = await _ada.PlanAsync(_installation, post, 24 * 60, jot, hearth);
        LocalDateTime was = await AtAsync(deliveries[0]);
        JsonElement moved = await ActAsync("shift", deliveries, days: 2, minutes: -30);
        Assert.Equal(2, moved.Whole("done"));
        foreach (Guid delivery in deliveries)
            Assert.Equal((was.PlusDays(2).PlusMinutes(-30), "planned"), (await AtAsync(delivery), await _ada.StateAsync(delivery)));
        // Where it stood is free again.
        await _ada.PlanAsync(_installation, post, 24 * 60, jot);
        await _ada.PostAsync($"changes/{moved.Id("changeSetId")}/undo");
        Assert.Equal(was, await AtAsync(deliveries[1]));
    }

    /// <summary>Whatever is chosen, and whatever is done with it: taken back, the plan is the same.</summary>
    [Fact]
    public async Task A_copied_shifted_or_cancelled_week_that_is_taken_back_is_the_same_plan()
    {
        (Guid jot, Guid hearth, Guid category) = await LineAsync("same");
        for (int i = 0; i < 6; i++)
            await _ada.PlanAsync(_installation, (await _ada.PostAsync(category, $"Same {i}")).Id(), 1500 + (i * 700), jot, hearth);
        await _ada.SlotAsync(category, "09:15", EveryDay, jot, hearth);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        Random chance = new(20261127);
        for (int round = 0; round < 14; round++)
        {
            JsonElement[] entries = [.. (await LineUpAsync(today, today.PlusDays(20))).Where(e => chance.Next(3) > 0)];
            string[] before = await PlanAsync(today, today.PlusDays(40));
            string act = new[] { "shift", "copy", "cancel" }[chance.Next(3)];
            JsonElement done = await _ada.PostAsync(
                "line-up/acts",
                new
                {
                    act,
                    deliveries = entries
                        .Where(e => e.GetProperty("deliveryId").ValueKind != JsonValueKind.Null)
                        .Select(e => new { id = e.Id("deliveryId"), revision = e.Whole("revision") }),
                    places = entries
                        .Where(e => e.GetProperty("deliveryId").ValueKind == JsonValueKind.Null)
                        .Select(e => new
                        {
                            slotId = e.GetProperty("origin").Id(),
                            date = e.GetProperty("origin").Text("date"),
                            revision = e.Whole("revision"),
                        })
                        .Distinct(),
                    days = chance.Next(1, 15),
                    minutes = chance.Next(-120, 120),
                }
            );
            Assert.True(done.Whole("done") > 0);
            Assert.NotEqual(before, await PlanAsync(today, today.PlusDays(40)));
            await _ada.PostAsync($"changes/{done.Id("changeSetId")}/undo");
            Assert.Equal(before, await PlanAsync(today, today.PlusDays(40)));
        }
    }

    /// <summary>What was sent says what it said, what is to come what its post says.</summary>
    [Fact]
    public async Task The_same_text_of_another_post_on_another_account_of_its_network_is_spoken_of()
    {
        Guid first = await _installation.ConnectAsync(_ada, "jot", "same text one");
        Guid second = await _installation.ConnectAsync(_ada, "jot", "same text two");
        Guid category = await _ada.CategoryAsync("Of the same text", first, second);
        string words = $"The same words {category}";
        Guid one = (await _ada.WriteAsync(category, TestData.Content(words), "One")).Id();
        Guid other = (await _ada.WriteAsync(category, TestData.Content(words), "Other")).Id();
        await _ada.PlanAsync(_installation, one, 3 * 24 * 60, first);
        Guid moved = (await _ada.PlanAsync(_installation, other, 200 * 24 * 60, second))[0];
        Assert.Empty((await ActAsync("shift", [moved], days: 5)).List("remarks"));
        JsonElement near = await ActAsync("shift", [moved], days: -190);
        Assert.Contains("The same text goes to this network on", Assert.Single(near.List("remarks")).GetString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_was_shown_is_what_is_done_and_a_plan_that_has_changed_is_shown_anew()
    {
        (Guid jot, _, Guid category) = await LineAsync("shown");
        Guid post = (await _ada.PostAsync(category, "Shown")).Id();
        Guid delivery = (await _ada.PlanAsync(_installation, post, 2 * 24 * 60, jot))[0];
        LocalDateTime was = await AtAsync(delivery);
        JsonElement shown = await _ada.PostAsync("line-up/acts", Body(3, preview: true, planStamp: null, revision: 7));
        Assert.Equal((0, 1), (shown.Whole("done"), shown.List("leftOut").Length));
        shown = await AskAsync(days: 3, preview: true, planStamp: null);
        Assert.Equal((1, was), (shown.Whole("done"), await AtAsync(delivery)));
        Assert.Equal(JsonValueKind.Null, shown.GetProperty("changeSetId").ValueKind);
        long stamp = shown.GetProperty("planStamp").GetInt64();
        await _ada.PlanAsync(_installation, post, 9 * 24 * 60, jot);
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Post, "line-up/acts", Body(3, false, stamp));
        Assert.Equal(HttpStatusCode.PreconditionFailed, status);
        Assert.StartsWith("The plan has changed since this was shown.", words, StringComparison.Ordinal);
        shown = await AskAsync(days: 3, preview: true, planStamp: null);
        JsonElement done = await AskAsync(days: 3, preview: false, shown.GetProperty("planStamp").GetInt64());
        Assert.Equal((1, was.PlusDays(3)), (done.Whole("done"), await AtAsync(delivery)));
        Assert.Equal(shown.List("remarks").Select(r => r.GetString()), done.List("remarks").Select(r => r.GetString()));

        Task<JsonElement> AskAsync(int days, bool preview, long? planStamp) =>
            _ada.PostAsync("line-up/acts", Body(days, preview, planStamp));

        object Body(int days, bool preview, long? planStamp, int revision = 0) =>
            new
            {
                act = "shift",
                days,
                preview,
                planStamp,
                deliveries = new[] { new { id = delivery, revision } },
                places = Array.Empty<object>(),
            };
    }

    [Fact]
    public async Task What_can_t_be_done_is_named_and_the_rest_is_done()
    {
        (Guid jot, Guid hearth, Guid category) = await LineAsync("named");
        Guid post = (await _ada.PostAsync(category, "Named")).Id();
        Guid[] first = await _ada.PlanAsync(_installation, post, 2 * 24 * 60, jot, hearth);
        LocalDateTime next = (await AtAsync(first[0])).PlusDays(1);
        JsonElement planned = await _ada.PostAsync(
            $"posts/{post}/deliveries",
            new
            {
                date = next.Date,
                time = next.TimeOfDay,
                channels = new[] { jot },
            }
        );
        Guid[] second = [planned.List("planned").Single().Id()];

        // It goes out there already: on one channel, not on the other.
        JsonElement shifted = await ActAsync("shift", first, days: 1);
        Assert.Equal(1, shifted.Whole("done"));
        Assert.EndsWith("named jot: the post already goes out there at that time.", Only(shifted), StringComparison.Ordinal);

        // The whole line moves up, as the foremost makes room.
        Assert.Equal(2, (await ActAsync("shift", [first[0], second[0]], days: 1)).Whole("done"));

        Assert.StartsWith("Nothing was changed.", (await RefusedAsync("shift", first, -30)).Words, StringComparison.Ordinal);
        Assert.Contains("has passed. Choose a time to come.", (await RefusedAsync("copy", first, -30)).Words, StringComparison.Ordinal);

        // Somebody has cancelled one since it was looked at.
        int revision = (await _ada.GetAsync($"deliveries/{first[0]}")).Whole("revision");
        await _ada.PostAsync($"deliveries/{first[0]}/cancel");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "line-up/acts",
            Body("shift", [(first[0], revision)], 1, 0)
        );
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("somebody else changed it since you looked; it is cancelled now.", words, StringComparison.Ordinal);

        await _ada.DeleteAsync($"channels/{hearth}/connection");
        Assert.Contains("it is cancelled.", (await RefusedAsync("shift", [first[1]], 1)).Words, StringComparison.Ordinal);
        Assert.Contains("the channel is disconnected.", (await RefusedAsync("copy", [first[1]], 1)).Words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_time_that_the_clocks_leave_out_is_said()
    {
        (Guid jot, _, Guid category) = await LineAsync("clocks");
        Guid post = (await _ada.PostAsync(category, "In the gap")).Id();
        Instant now = await _installation.NowAsync();
        // Clocks in Dublin go from 1:00 to 2:00 on the last Sunday of March.
        NodaTime.TimeZones.ZoneInterval summer = Dublin.GetZoneInterval(now);
        while (summer.End < now + Duration.FromDays(3) || Dublin.GetZoneInterval(summer.End).WallOffset < summer.WallOffset)
            summer = Dublin.GetZoneInterval(summer.End);
        LocalDate gap = summer.End.InZone(Dublin).Date;
        JsonElement planned = await _ada.PostAsync(
            $"posts/{post}/deliveries",
            new
            {
                date = gap.PlusDays(-1),
                time = "01:30:00",
                channels = new[] { jot },
            }
        );
        JsonElement moved = await ActAsync("shift", [planned.List("planned").Single().Id()], days: 1);
        string remark = moved.List("remarks").Single().GetString()!;
        Assert.EndsWith("01:30, so it goes out at 02:30.", remark, StringComparison.Ordinal);
        Assert.StartsWith("The clocks change: there is no", remark, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Posts_are_asked_approval_for_as_one()
    {
        (Guid jot, Guid hearth, Guid category) = await LineAsync("ask");
        Guid post = (await _ada.PostAsync(category, "To be read")).Id();
        Guid[] deliveries = await _ada.PlanAsync(_installation, post, 24 * 60, jot, hearth);
        JsonElement asked = await ActAsync("askForApproval", deliveries);
        Assert.Equal(1, asked.Whole("done"));
        Assert.Equal("waitingForApproval", await _ada.StateAsync(deliveries[1]));
        await _ada.PostAsync($"changes/{asked.Id("changeSetId")}/undo");
        Assert.Equal("planned", await _ada.StateAsync(deliveries[0]));
    }

    [Theory]
    [InlineData(0, 0, "Say by how many days or minutes.")]
    [InlineData(400, 0, "Up to a year of days, and less than a day of minutes, at once.")]
    [InlineData(int.MinValue, 0, "Up to a year of days, and less than a day of minutes, at once.")]
    [InlineData(0, 1440, "Up to a year of days, and less than a day of minutes, at once.")]
    public async Task Bad_spans_are_refused_in_words(int days, int minutes, string words) =>
        Assert.Equal(
            (HttpStatusCode.BadRequest, words),
            await _ada.TroubleAsync(HttpMethod.Post, "line-up/acts", Body("shift", [(Guid.NewGuid(), 0)], days, minutes))
        );

    [Fact]
    public async Task Nothing_chosen_and_what_isn_t_there_are_refused_in_words()
    {
        Assert.Equal(
            (HttpStatusCode.BadRequest, "Choose at least one delivery or place."),
            await _ada.TroubleAsync(HttpMethod.Post, "line-up/acts", Body("cancel", [], 0, 0))
        );
        Assert.Equal(HttpStatusCode.NotFound, (await RefusedAsync("cancel", [Guid.NewGuid()], 0)).Status);
        Assert.Equal(
            (HttpStatusCode.BadRequest, "Places are worked out for a year ahead. Choose nearer ones."),
            await _ada.TroubleAsync(
                HttpMethod.Post,
                "line-up/acts",
                new
                {
                    act = "cancel",
                    deliveries = Array.Empty<object>(),
                    places = new[]
                    {
                        new
                        {
                            slotId = Guid.NewGuid(),
                            date = (await _installation.NowAsync()).InZone(Dublin).Date.PlusDays(400),
                            revision = 0,
                        },
                    },
                }
            )
        );
    }

    /// <summary>A year by week and category holds what the line-up holds, whatever it is narrowed to.</summary>
    [Fact]
    public async Task The_density_of_a_time_sums_up_to_its_line_up()
    {
        (Guid jot, Guid hearth, Guid category) = await LineAsync("dense");
        Guid other = await _ada.CategoryAsync("Other dense", jot);
        for (int i = 0; i < 5; i++)
            await _ada.PlanAsync(
                _installation,
                (await _ada.PostAsync(i % 2 == 0 ? category : other, $"Dense {i}")).Id(),
                1700 + (i * 3000),
                jot
            );
        await _ada.SlotAsync(other, "17:15", [2, 5], jot, hearth);
        await _ada.SlotAsync(null, "19:20", [3], jot);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        (LocalDate from, LocalDate to) = (today.PlusDays(1), today.PlusDays(80));
        JsonElement[] entries = await LineUpAsync(from, to);
        foreach (
            (string query, Func<JsonElement, bool> isOf) in new (string, Func<JsonElement, bool>)[]
            {
                ("", _ => true),
                ($"&channels={jot}", e => e.Id("channelId") == jot),
                ($"&categories={other}", e => Category(e) == other),
                ($"&channels={hearth}&categories={other}", e => e.Id("channelId") == hearth && Category(e) == other),
                ("&categories=none", e => Category(e) is null),
                ($"&categories=none&categories={other}", e => Category(e) is null || Category(e) == other),
                ("&rotas=none", e => e.GetProperty("rotaId").ValueKind == JsonValueKind.Null),
                ("&text=dENSE 1", e => e.GetProperty("title").GetString() is "Dense 1"),
                ("&states=scheduled", e => e.Text("kind") == "delivery" && e.Text("state") == "planned"),
                ("&states=empty&states=open", e => e.Text("kind") != "delivery" || e.Text("state") == "waitingForApproval"),
                ("&approval=none", e => !Waits(e)),
                ("&approval=waits", Waits),
                ("&findings=warned", e => e.Whole("findings") > 0),
                ("&findings=trouble", e => e.GetProperty("trouble").ValueKind != JsonValueKind.Null),
            }
        )
        {
            JsonElement[] weeks = (await _ada.GetAsync($"line-up/density?from={Iso(from)}&to={Iso(to)}{query}")).List("weeks");
            Assert.Equal(
                entries.Where(isOf).GroupBy(e => (Monday(e.Text("date")), Category(e))).ToDictionary(g => g.Key, Counted),
                weeks.ToDictionary(
                    w => (w.Text("week"), Category(w)),
                    w => (w.Whole("coming") + w.Whole("sent") + w.Whole("stopped"), w.Whole("empty"))
                )
            );
        }
        foreach (string bad in new[] { $"from={Iso(to)}&to={Iso(from)}", $"from={Iso(from)}&to={Iso(to)}&categories=some" })
            Assert.Equal(HttpStatusCode.BadRequest, (await _ada.TroubleAsync(HttpMethod.Get, $"line-up/density?{bad}")).Status);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await _ada.TroubleAsync(HttpMethod.Get, $"line-up/density?from={Iso(from)}&to={Iso(from.PlusDays(4000))}")).Status
        );

        static bool Waits(JsonElement e) =>
            e.GetProperty("isWaiting").GetBoolean() || e.GetProperty("state").GetString() is "waitingForApproval";

        static (int, int) Counted(IEnumerable<JsonElement> of) =>
            (of.Count(e => e.Text("kind") != "empty"), of.Count(e => e.Text("kind") == "empty"));

        static Guid? Category(JsonElement e) =>
            e.GetProperty("categoryId").ValueKind == JsonValueKind.Null ? null : e.GetProperty("categoryId").GetGuid();

        static string Monday(string date)
        {
            LocalDate day = LocalDatePattern.Iso.Parse(date).Value;
            return Iso(day.PlusDays(1 - (int)day.DayOfWeek));
        }
    }

    private static string Iso(LocalDate date) => LocalDatePattern.Iso.Format(date);

    private static string Only(JsonElement result) => Assert.Single(result.List("leftOut")).GetString()!;

    private async Task<(Guid Jot, Guid Hearth, Guid Category)> LineAsync(string name)
    {
        Guid jot = await _installation.ConnectAsync(_ada, "jot", $"{name} jot");
        Guid hearth = await _installation.ConnectAsync(_ada, "hearth", $"{name} hearth");
        return (jot, hearth, await _ada.CategoryAsync($"Of {name}", jot, hearth));
    }

    private static object Body(string act, (Guid Id, int Revision)[] deliveries, int days, int minutes) =>
        new
        {
            act,
            deliveries = deliveries.Select(d => new { id = d.Id, revision = d.Revision }),
            places = Array.Empty<object>(),
            days,
            minutes,
        };

    private async Task<JsonElement> ActAsync(string act, Guid[] deliveries, int days = 0, int minutes = 0) =>
        await _ada.PostAsync("line-up/acts", Body(act, await SeenAsync(deliveries), days, minutes));

    private async Task<(HttpStatusCode Status, string Words)> RefusedAsync(string act, Guid[] deliveries, int days) =>
        await _ada.TroubleAsync(HttpMethod.Post, "line-up/acts", Body(act, await SeenAsync(deliveries), days, 0));

    /// <summary>As they stand now; nought for what isn't there.</summary>
    private async Task<(Guid, int)[]> SeenAsync(Guid[] deliveries)
    {
        List<Id<Delivery>> ids = [.. deliveries.Select(d => new Id<Delivery>(d))];
        Dictionary<Guid, int> revisions = await _installation.ReadAsync(db =>
            db.Deliveries.Where(d => ids.Contains(d.Id)).ToDictionaryAsync(d => d.Id.Value, d => d.Revision)
        );
        return [.. deliveries.Select(d => (d, revisions.GetValueOrDefault(d)))];
    }

    private async Task<LocalDateTime> AtAsync(Guid delivery)
    {
        JsonElement shown = await _ada.GetAsync($"deliveries/{delivery}");
        return LocalDatePattern.Iso.Parse(shown.Text("date")).Value + LocalTimePattern.ExtendedIso.Parse(shown.Text("time")).Value;
    }

    private async Task<JsonElement[]> LineUpAsync(LocalDate from, LocalDate to) =>
        (await _ada.GetAsync($"line-up?from={Iso(from)}&to={Iso(to)}")).List("entries");

    private async Task<string[]> PlanAsync(LocalDate from, LocalDate to) =>
        [
            .. (await LineUpAsync(from, to)).Select(e =>
                $"{e.Text("date")} {e.Text("time")} {e.Id("channelId")} {e.GetProperty("postId")} {e.GetProperty("state")}"
            ),
        ];
}
