using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Calendars;

/// <summary>Key dates, what stands relative to them, and calendars in and out.</summary>
public sealed class KeyDateTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_recurring_key_date_is_shown_when_it_comes_and_one_of_them_moves_is_skipped_or_done()
    {
        Guid kind = await KindAsync("Markets");
        JsonElement added = await AddAsync(kind, "Quay market", "2028-03-04", rule: "FREQ=MONTHLY;BYDAY=1SA", live: true);
        Guid id = added.Id();
        Assert.Equal(["2028-03-04", "2028-04-01", "2028-05-06"], await DatesAsync("2028-03-01", "2028-05-31", id));
        await _ada.PutAsync($"key-dates/{id}/comings/2028-04-01", Coming(movedTo: "2028-04-08"));
        await _ada.PutAsync($"key-dates/{id}/comings/2028-05-06", Coming(skip: true));
        Assert.Equal(["2028-03-04", "2028-04-08"], await DatesAsync("2028-03-01", "2028-05-31", id));
        await _ada.PutAsync($"key-dates/{id}/comings/2028-03-04", Coming(done: true));
        JsonElement[] all = await ListAsync("2028-03-01", "2028-05-31", id);
        Assert.Equal([true, false], all.Select(k => k.GetProperty("isDone").GetBoolean()));
        Assert.Equal("2028-04-01", all[1].Text("occurrence"));
        // All of it a day later: what was said of single ones goes along.
        await _ada.PutAsync($"key-dates/{id}", Edit(kind, "Quay market", "2028-03-05", "FREQ=MONTHLY;BYDAY=SU;BYSETPOS=1", true));
        Assert.Equal(["2028-03-05", "2028-04-08"], await DatesAsync("2028-03-01", "2028-05-06", id));
        JsonElement removed = await _ada.DeleteAsync($"key-dates/{id}");
        Assert.Empty(await DatesAsync("2028-03-01", "2028-05-31", id));
        await _ada.PostAsync($"changes/{removed.Id("changeSetId")}/undo");
        Assert.Equal(2, (await DatesAsync("2028-03-01", "2028-05-06", id)).Length);
    }

    [Fact]
    public async Task What_can_t_be_kept_is_refused_in_words()
    {
        Guid kind = await KindAsync("Refused");
        foreach (
            (object body, string words) in new (object, string)[]
            {
                (Edit(kind, " ", "2028-03-04", null, false), "Give the key date a name."),
                (
                    Edit(kind, "A", "2028-03-04", "FREQ=HOURLY", false),
                    "It comes more often than once a day (FREQ=HOURLY), which is not kept."
                ),
                (Edit(kind, "A", "2028-03-04", "FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30", false), "By that rule it never comes."),
                (Edit(Guid.NewGuid(), "A", "2028-03-04", null, false), "This kind isn’t the workspace’s."),
                (Edit(kind, "A", "2028-03-04", null, false, days: 0), "A key date takes 1 to 366 days."),
                (Edit(kind, "A", "2028-03-04", null, false, zone: "Asia/Tokyo"), "What takes all day does so everywhere."),
                (Edit(kind, "A", "2028-03-04", null, false, zone: "Moon/Crater", time: "09:00:00"), "There is no time zone “Moon/Crater”"),
            }
        )
        {
            (HttpStatusCode status, string said) = await _ada.TroubleAsync(HttpMethod.Post, "key-dates", body);
            Assert.Equal(HttpStatusCode.BadRequest, status);
            Assert.StartsWith(words, said, StringComparison.Ordinal);
        }
        await AddAsync(kind, "Held", "2028-03-04");
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Delete, $"key-date-kinds/{kind}")).Status);
        Assert.Equal(
            (HttpStatusCode.BadRequest, "A mark is one or two characters."),
            await _ada.TroubleAsync(HttpMethod.Post, "key-date-kinds", Kind("Long", "abc"))
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "There is a kind “REFUSED” already. Give this one another name."),
            await _ada.TroubleAsync(HttpMethod.Post, "key-date-kinds", Kind("REFUSED", "R"))
        );
    }

    [Fact]
    public async Task Clients_see_the_kinds_that_are_shown_to_them()
    {
        Guid shown = await KindAsync("Open days");
        Guid hidden = (await _ada.PostAsync("key-date-kinds", Kind("Ours alone", "o", toClients: false))).Id();
        await AddAsync(shown, "Open day", "2029-05-01");
        Guid secret = (await AddAsync(hidden, "Call the printer", "2029-05-01")).Id();
        using ApiClient client = await _installation.MemberAsync(Role.Client);
        Assert.Equal(["Open day"], await TitlesAsync(client));
        Assert.Equal(["Call the printer", "Open day"], await TitlesAsync(_ada));
        Assert.DoesNotContain((await client.GetAsync("key-date-kinds")).EnumerateArray(), k => k.Text("name") == "Ours alone");
        Assert.Equal(HttpStatusCode.NotFound, (await client.TroubleAsync(HttpMethod.Get, $"key-dates/{secret}")).Status);

        static async Task<string[]> TitlesAsync(ApiClient by) =>
            [.. (await by.GetAsync("key-dates?from=2029-05-01&to=2029-05-01")).EnumerateArray().Select(k => k.Text("title"))];
    }

    [Fact]
    public async Task Posts_follow_a_key_date_that_moves_after_it_is_shown_what_moves_and_what_no_longer_fits()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "followed");
        Guid category = await _ada.CategoryAsync("Followed", channel);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        Guid kind = await KindAsync("Launches");
        Guid launch = (await AddAsync(kind, "Rope launch", Date(today.PlusDays(20)))).Id();
        Guid first = await TiedAsync(launch, "Three days before", today.PlusDays(17), "09:30");
        Guid second = await TiedAsync(launch, "On the day", today.PlusDays(20), "10:00");
        // The second is posted by hand elsewhere at the place that it would come to.
        Guid clash = await PlannedAsync("On the day", today.PlusDays(25), "10:00");
        Assert.Equal(-3, (await _ada.GetAsync($"deliveries/{first}/key-date")).Whole("days"));

        JsonElement moved = await _ada.PutAsync($"key-dates/{launch}", Edit(kind, "Rope launch", Date(today.PlusDays(25)), null, false));
        Assert.Equal(2, moved.Whole("outOfStep"));
        JsonElement away = (await _ada.GetAsync("key-dates/needs")).List("movedAway").Single(m => m.Id() == launch);
        Assert.Equal(2, away.Whole("deliveries"));

        JsonElement would = await FollowAsync(launch, preview: true);
        Assert.Equal(Date(today.PlusDays(22)), would.List("moves").Single().Text("date"));
        Assert.Equal("The post already goes out there at that time.", would.List("stays").Single().Text("why"));
        Assert.Equal(Date(today.PlusDays(17)), await DateOfAsync(first));

        JsonElement done = await FollowAsync(launch, preview: false);
        Assert.Equal([Date(today.PlusDays(22)), Date(today.PlusDays(20))], [await DateOfAsync(first), await DateOfAsync(second)]);
        Assert.DoesNotContain((await _ada.GetAsync("key-dates/needs")).List("movedAway"), m => m.Id() == launch);
        await _ada.PostAsync($"changes/{done.Id("changeSetId")}/undo");
        Assert.Equal(Date(today.PlusDays(17)), await DateOfAsync(first));
        Assert.Equal(2, (await _ada.GetAsync("key-dates/needs")).List("movedAway").Single(m => m.Id() == launch).Whole("deliveries"));

        // A day that has passed can't be followed to; where all stay, all are in step again.
        await _ada.PutAsync($"key-dates/{launch}", Edit(kind, "Rope launch", Date(today.PlusDays(1)), null, false));
        Assert.Contains(
            (await FollowAsync(launch, preview: true)).List("stays"),
            s => s.Text("why").Contains("has passed", StringComparison.Ordinal)
        );
        await _ada.PostAsync($"key-dates/{launch}/follow", new { preview = false, stay = true });
        Assert.Equal(16, (await _ada.GetAsync($"deliveries/{first}/key-date")).Whole("days"));
        // Moved to another time by hand, it still stands relative to the key date.
        JsonElement again = await _ada.PostAsync(
            $"deliveries/{first}/reschedule",
            new { date = Date(today.PlusDays(4)), time = "12:00:00" }
        );
        Assert.Equal(3, (await _ada.GetAsync($"deliveries/{again.Id("deliveryId")}/key-date")).Whole("days"));
        await _ada.PutAsync($"deliveries/{again.Id("deliveryId")}/key-date", new { keyDateId = (Guid?)null, occurrence = (string?)null });
        Assert.Equal(JsonValueKind.Null, (await _ada.GetAsync($"deliveries/{again.Id("deliveryId")}/key-date")).ValueKind);
        Assert.Equal(
            HttpStatusCode.Conflict,
            (
                await _ada.TroubleAsync(
                    HttpMethod.Put,
                    $"deliveries/{await CancelledAsync(clash)}/key-date",
                    new { keyDateId = launch, occurrence = (string?)null }
                )
            ).Status
        );

        async Task<Guid> PlannedAsync(string title, LocalDate date, string time)
        {
            JsonElement known = (await _ada.GetAsync($"posts?search={title}")).List("posts").FirstOrDefault(p => p.Text("title") == title);
            Guid post = known.ValueKind == JsonValueKind.Undefined ? (await _ada.PostAsync(category, title)).Id() : known.Id();
            JsonElement planned = await _ada.PostAsync(
                $"posts/{post}/deliveries",
                new
                {
                    date = Date(date),
                    time = $"{time}:00",
                    channels = new[] { channel },
                }
            );
            return planned.List("planned").Single().Id();
        }

        async Task<Guid> TiedAsync(Guid keyDate, string title, LocalDate date, string time)
        {
            Guid delivery = await PlannedAsync(title, date, time);
            await _ada.PutAsync($"deliveries/{delivery}/key-date", new { keyDateId = keyDate, occurrence = (string?)null });
            return delivery;
        }
    }

    [Fact]
    public async Task A_post_for_a_time_that_the_key_date_leaves_is_named_and_so_is_a_day_that_is_full()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "jot", "doubted");
        await _ada.PutAsync($"channels/{channel}", new { spacingMinutes = (int?)null, dailyLimit = 1 });
        Guid category = await _ada.CategoryAsync("Doubted", channel);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        Guid fair = (await AddAsync(await KindAsync("Fairs"), "Boat fair", Date(today.PlusDays(10)), rule: "FREQ=WEEKLY;COUNT=4")).Id();
        foreach ((string title, int day) in new[] { ("A", 10), ("B", 12) })
        {
            Guid post = (await _ada.PostAsync(category, $"Doubted {title}")).Id();
            await _ada.PostAsync(
                $"posts/{post}/deliveries",
                new
                {
                    date = Date(today.PlusDays(day)),
                    time = "10:00:00",
                    channels = new[] { channel },
                    keyDateId = title == "A" ? fair : (Guid?)null,
                    occurrence = Date(today.PlusDays(10)),
                }
            );
        }
        JsonElement moved = await _ada.PutAsync(
            $"key-dates/{fair}/comings/{Date(today.PlusDays(10))}",
            Coming(movedTo: Date(today.PlusDays(12)))
        );
        Assert.Equal(1, moved.Whole("outOfStep"));
        JsonElement move = (await FollowAsync(fair, preview: true)).List("moves").Single();
        Assert.Contains("and 1 is the most.", move.List("against").Single().GetString(), StringComparison.Ordinal);
        // Skipped, it is there no more: the post stays, by itself.
        await _ada.PutAsync($"key-dates/{fair}/comings/{Date(today.PlusDays(10))}", Coming(skip: true));
        Assert.StartsWith(
            "The key date isn’t there any more.",
            (await FollowAsync(fair, preview: false)).List("stays").Single().Text("why"),
            StringComparison.Ordinal
        );
        Assert.Equal(0, (await ListAsync(Date(today), Date(today.PlusDays(40)), fair)).Sum(k => k.Whole("tied")));
    }

    [Fact]
    public async Task What_would_go_out_instead_follows_with_what_waits_for_approval()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "followed by two");
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = "Followed by two",
                    colour = "tide",
                    monogram = "Ft",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        using ApiClient other = await _installation.MemberAsync(Role.Planner);
        await other.ApproveAsync((await _ada.PostAsync(category, "Instead")).Id());
        await _ada.PostAsync(category, "Waits");
        LocalDate day = (await _installation.NowAsync()).InZone(Dublin).Date.PlusDays(3);
        await _ada.SlotAsync(category, "13:10", [(int)day.DayOfWeek], channel);
        await _ada.PostAsync("line-up/schedule", new { through = Date(day) });
        Guid waits = (await _ada.GetAsync($"line-up?from={Date(day)}&to={Date(day)}"))
            .List("entries")
            .Single(e => e.Id("channelId") == channel && e.GetProperty("state").GetString() == "waitingForApproval")
            .Id("deliveryId");
        Guid kind = await KindAsync("Twos");
        Guid event_ = (await AddAsync(kind, "Twice", Date(day))).Id();
        await _ada.PutAsync($"deliveries/{waits}/key-date", new { keyDateId = event_, occurrence = (string?)null });
        await _ada.PutAsync($"key-dates/{event_}", Edit(kind, "Twice", Date(day.PlusDays(2)), null, false));
        Assert.Single((await FollowAsync(event_, preview: false)).List("moves"));
        List<Delivery> both = await _installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.ChannelId == new Id<Channel>(channel) && d.LocalDate >= day).ToListAsync()
        );
        Assert.Equal(
            [(DeliveryState.WaitingForApproval, day.PlusDays(2)), (DeliveryState.Substitute, day.PlusDays(2))],
            both.Where(d => d.LocalDate < day.PlusDays(5)).OrderBy(d => d.State).Select(d => (d.State, d.LocalDate))
        );
    }

    [Fact]
    public async Task A_calendar_is_read_from_a_file_and_its_newer_state_takes_the_old_one_s_place()
    {
        Guid kind = await KindAsync("Read");
        JsonElement read = await FileAsync(kind, Calendar("a:First:20330501", "b:Second:20330502", "c:Third:20330503;RRULE=FREQ=HOURLY"));
        Assert.Equal((2, 0, 0), (read.Whole("added"), read.Whole("changed"), read.Whole("gone")));
        Assert.StartsWith(
            "“Third”: It comes more often than once a day",
            read.List("leftOut").Single().GetString(),
            StringComparison.Ordinal
        );
        JsonElement first = (await ListAsync("2033-05-01", "2033-05-31", null)).Single(k => k.Text("title") == "First");
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Delete, $"key-dates/{first.Id()}")).Status);
        JsonElement again = await FileAsync(kind, Calendar("a:First, later:20330511", "d:Fourth:20330512"));
        Assert.Equal((1, 1, 1), (again.Whole("added"), again.Whole("changed"), again.Whole("gone")));
        Assert.Equal(["First, later", "Fourth"], await TitlesAsync());
        await _ada.PostAsync($"changes/{again.Id("changeSetId")}/undo");
        Assert.Equal(["First", "Second"], await TitlesAsync());
        JsonElement source = (await _ada.GetAsync("calendar-sources")).EnumerateArray().Single(s => s.Text("name") == "harbour");
        await _ada.DeleteAsync($"calendar-sources/{source.Id()}");
        Assert.Empty(await TitlesAsync());

        // Hostile, and too long.
        await RefusedAsync("hello"u8.ToArray(), "harbour is no calendar");
        await RefusedAsync(new byte[10 * 1024 * 1024], "harbour.ics is longer than 4 MB");
        await RefusedAsync([0xff, 0xfe, 0x00], "is not written in UTF-8");
        await RefusedAsync(Encoding.UTF8.GetBytes("BEGIN:VCALENDAR\n" + new string('x', 3_000_000)), "");

        async Task<string[]> TitlesAsync() =>
            [.. (await ListAsync("2033-05-01", "2033-05-31", null)).Where(k => k.Id("kindId") == kind).Select(k => k.Text("title"))];

        async Task RefusedAsync(byte[] file, string words)
        {
            using MultipartFormDataContent form = ApiClient.Form(
                ("file", "harbour.ics", file),
                ("kindId", null, Encoding.UTF8.GetBytes(kind.ToString()))
            );
            using HttpResponseMessage answer = await _ada.Http.PostAsync(_ada.Path("calendar-sources/files"), form);
            if (words.Length == 0)
                return;
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
            Assert.Contains(words, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task What_another_calendar_drops_is_told_while_something_to_come_stands_relative_to_it()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "dropped");
        Guid category = await _ada.CategoryAsync("Dropped", channel);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        string day = today.PlusDays(9).ToString("uuuuMMdd", null);
        Guid kind = await KindAsync("Dropped");
        string with = Calendar($"e:Regatta:{day}", "f:Other:20340102");
        string without = Calendar("f:Other:20340102");
        await FileAsync(kind, with, "dropped.ics");
        Guid regatta = (await RegattasAsync()).Single().Id();
        JsonElement planned = await _ada.PostAsync(
            $"posts/{(await _ada.PostAsync(category, "Two days before")).Id()}/deliveries",
            new
            {
                date = Date(today.PlusDays(7)),
                time = "09:30:00",
                channels = new[] { channel },
                keyDateId = regatta,
                occurrence = Date(today.PlusDays(9)),
            }
        );
        Guid delivery = planned.List("planned").Single().Id();

        Assert.Equal(1, (await FileAsync(kind, without, "dropped.ics")).Whole("gone"));
        Assert.Empty(await RegattasAsync());
        JsonElement away = (await _ada.GetAsync("key-dates/needs")).List("movedAway").Single(m => m.Id() == regatta);
        Assert.Equal((1, true), (away.Whole("deliveries"), away.GetProperty("isGone").GetBoolean()));
        Assert.Equal(Date(today.PlusDays(9)), away.Text("stood"));
        Assert.Equal(0, (await FileAsync(kind, without, "dropped.ics")).Whole("gone"));

        // It comes back, and goes again; then a person leaves the post where it is, and nothing is left of it.
        await FileAsync(kind, with, "dropped.ics");
        Assert.Equal((regatta, 1, 0), (await RegattasAsync()).Select(k => (k.Id(), k.Whole("tied"), k.Whole("outOfStep"))).Single());
        await FileAsync(kind, without, "dropped.ics");
        JsonElement left = await FollowAsync(regatta, preview: false);
        Assert.Equal(delivery, left.List("stays").Single().Id("deliveryId"));
        Assert.Equal(Date(today.PlusDays(7)), await DateOfAsync(delivery));
        Assert.DoesNotContain((await _ada.GetAsync("key-dates/needs")).List("movedAway"), m => m.Id() == regatta);
        await FileAsync(kind, without, "dropped.ics");
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Get, $"key-dates/{regatta}")).Status);

        async Task<JsonElement[]> RegattasAsync() =>
            [.. (await ListAsync(Date(today), Date(today.PlusDays(30)), null)).Where(k => k.Text("title") == "Regatta")];
    }

    [Fact]
    public async Task A_calendar_at_an_address_is_read_again_and_keeps_what_it_had_when_it_can_t_be()
    {
        Guid kind = await KindAsync("At addresses");
        JsonElement read = await _ada.PostAsync(
            "calendar-sources",
            new { kindId = kind, address = "webcal://harbour.example.org/tides.ics" }
        );
        Assert.Equal((3, 1), (read.Whole("added"), read.List("leftOut").Length));
        Assert.Equal(0, (await _ada.PostAsync($"calendar-sources/{read.Id()}/read")).Whole("changed"));
        foreach (
            (string address, string words) in new[]
            {
                ("ftp://harbour.example.org/a.ics", "That is no address of a calendar."),
                ("https://trouble.example.org/nothing.ics", "answers that it isn't there (404)"),
                ("https://trouble.example.org/long.ics", "is longer than 4 MB"),
                ("https://marram.example.org/", "is no calendar"),
                ("http://127.0.0.1/a.ics", "isn't on the open internet"),
            }
        )
        {
            (HttpStatusCode status, string said) = await _ada.TroubleAsync(
                HttpMethod.Post,
                "calendar-sources",
                new { kindId = kind, address }
            );
            Assert.Equal(HttpStatusCode.BadRequest, status);
            Assert.Contains(words, said, StringComparison.Ordinal);
        }
        Assert.Single((await _ada.GetAsync("calendar-sources")).EnumerateArray(), s => s.Id("kindId") == kind);
    }

    [Fact]
    public async Task What_the_calendar_shows_is_given_as_a_file_and_at_an_address_until_that_is_revoked()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "given");
        Guid other = await _installation.ConnectAsync(_ada, "jot", "given too");
        Guid category = await _ada.CategoryAsync("Given", channel);
        Guid post = (await _ada.PostAsync(category, "Given, to all")).Id();
        await _ada.PlanAsync(_installation, post, 26 * 60, channel, other);
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        await AddAsync(await KindAsync("Given out"), "Given day", Date(today.PlusDays(2)));
        string file = await TextAsync(
            _ada.Http,
            _ada.Path($"calendar.ics?from={Date(today)}&to={Date(today.PlusDays(5))}&category={category}")
        );
        Ical.Net.Calendar calendar = Ical.Net.Calendar.Load(file)!;
        Assert.Equal(
            ["Given day", "Given, to all (given, given too)"],
            // Other key dates of this workspace may come in these days, too.
            calendar
                .Events.Select(e => e.Summary!)
                .Where(s => s.StartsWith("Given", StringComparison.Ordinal))
                .Order(StringComparer.Ordinal)
        );
        string none = await TextAsync(
            _ada.Http,
            _ada.Path(
                $"calendar.ics?from={Date(today)}&to={Date(today.PlusDays(5))}&channel={other}&category={category}&dates=none&text=nothing"
            )
        );
        Assert.Empty(Ical.Net.Calendar.Load(none)!.Events);

        JsonElement made = await _ada.PostAsync("calendar-feeds", new { name = "My phone", query = $"?category={category}&dates=none" });
        using HttpClient stranger = new() { BaseAddress = _ada.Http.BaseAddress };
        Assert.Single(Ical.Net.Calendar.Load(await TextAsync(stranger, made.Text("path")))!.Events);
        JsonElement listed = (await _ada.GetAsync("calendar-feeds")).EnumerateArray().Single();
        Assert.DoesNotContain(made.Text("path").Split('/')[^1].Split('.')[0], listed.ToString(), StringComparison.Ordinal);
        await _ada.DeleteAsync($"calendar-feeds/{listed.Id()}");
        using HttpResponseMessage gone = await stranger.GetAsync(new Uri(made.Text("path"), UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, gone.StatusCode);
        using HttpResponseMessage guessed = await stranger.GetAsync(new Uri("/calendar/0000.ics", UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, guessed.StatusCode);
    }

    [Fact]
    public async Task An_event_is_the_same_wherever_it_is_moved_and_says_that_it_was()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "the same");
        Guid category = await _ada.CategoryAsync("The same", channel);
        Guid post = (await _ada.PostAsync(category, "Ever the same")).Id();
        LocalDate today = (await _installation.NowAsync()).InZone(Dublin).Date;
        Guid planned = (await _ada.PlanAsync(_installation, post, 26 * 60, channel))[0];
        Ical.Net.CalendarComponents.CalendarEvent first = await EventAsync();
        JsonElement moved = await _ada.PostAsync(
            $"deliveries/{planned}/reschedule",
            new { date = Date(today.PlusDays(4)), time = "16:45:00" }
        );
        Ical.Net.CalendarComponents.CalendarEvent second = await EventAsync();
        Assert.Equal((first.Uid, true, true), (second.Uid, second.Sequence > first.Sequence, second.Start!.Value != first.Start!.Value));
        JsonElement delivery = await _ada.GetAsync($"deliveries/{moved.Id("deliveryId")}");
        await _ada.PostAsync(
            "line-up/acts",
            new
            {
                act = "shift",
                deliveries = new[] { new { id = moved.Id("deliveryId"), revision = delivery.Whole("revision") } },
                places = Array.Empty<object>(),
                days = 1,
                minutes = 0,
            }
        );
        Ical.Net.CalendarComponents.CalendarEvent third = await EventAsync();
        Assert.Equal((first.Uid, true), (third.Uid, third.Sequence > second.Sequence));
        Assert.Equal(second.Start.Value.AddDays(1), third.Start!.Value);

        async Task<Ical.Net.CalendarComponents.CalendarEvent> EventAsync() =>
            Assert.Single(
                Ical.Net.Calendar.Load(
                    await TextAsync(
                        _ada.Http,
                        _ada.Path($"calendar.ics?from={Date(today)}&to={Date(today.PlusDays(9))}&channel={channel}&dates=none")
                    )
                )!.Events
            );
    }

    private Task<JsonElement> FileAsync(Guid kind, string file, string name = "harbour.ics") =>
        _ada.UploadAsync(
            "calendar-sources/files",
            HttpMethod.Post,
            ("file", name, Encoding.UTF8.GetBytes(file)),
            ("kindId", null, Encoding.UTF8.GetBytes(kind.ToString()))
        );

    private static async Task<string> TextAsync(HttpClient http, string path)
    {
        using HttpResponseMessage answer = await http.GetAsync(new Uri(path, UriKind.RelativeOrAbsolute));
        string text = await answer.Content.ReadAsStringAsync();
        Assert.True(answer.Content.Headers.ContentType!.MediaType == "text/calendar", text);
        return text;
    }

    private static string Calendar(params string[] events) =>
        "BEGIN:VCALENDAR\r\n"
        + string.Concat(
            events
                .Select(e => e.Split(':'))
                .Select(e =>
                    $"BEGIN:VEVENT\r\nUID:{e[0]}\r\nSUMMARY:{e[1]}\r\nDTSTART;VALUE=DATE:{e[2].Split(';')[0]}\r\n"
                    + (
                        e[2].Contains(';', StringComparison.Ordinal)
                            ? $"{e[2].Split(';')[1].Replace("RRULE=", "RRULE:", StringComparison.Ordinal)}\r\n"
                            : ""
                    )
                    + "END:VEVENT\r\n"
                )
        )
        + "END:VCALENDAR\r\n";

    private static string Date(LocalDate date) => date.ToString("uuuu-MM-dd", null);

    private async Task<Guid> CancelledAsync(Guid delivery)
    {
        await _ada.PostAsync($"deliveries/{delivery}/cancel");
        return delivery;
    }

    private async Task<string> DateOfAsync(Guid delivery) => (await _ada.GetAsync($"deliveries/{delivery}")).Text("date");

    private Task<JsonElement> FollowAsync(Guid keyDate, bool preview) =>
        _ada.PostAsync($"key-dates/{keyDate}/follow", new { preview, stay = false });

    private async Task<Guid> KindAsync(string name) => (await _ada.PostAsync("key-date-kinds", Kind(name, name[..1]))).Id();

    private static object Kind(string name, string mark, bool toClients = true) =>
        new
        {
            name,
            mark,
            colour = "#336699",
            isShownToClients = toClients,
        };

    private Task<JsonElement> AddAsync(Guid kind, string title, string date, string? rule = null, bool live = false) =>
        _ada.PostAsync("key-dates", Edit(kind, title, date, rule, live));

    private static object Edit(
        Guid kindId,
        string title,
        string date,
        string? rule,
        bool isLive,
        int days = 1,
        string? zone = null,
        string? time = null
    ) =>
        new
        {
            kindId,
            title,
            notes = "",
            date,
            days,
            time,
            zone,
            rule,
            isLive,
        };

    private static object Coming(string? movedTo = null, bool skip = false, bool? done = null) =>
        new
        {
            movedTo,
            time = (string?)null,
            skip,
            done,
        };

    private async Task<JsonElement[]> ListAsync(string from, string to, Guid? id) =>
        [.. (await _ada.GetAsync($"key-dates?from={from}&to={to}")).EnumerateArray().Where(k => id is null || k.Id() == id)];

    private async Task<string[]> DatesAsync(string from, string to, Guid id) =>
        [.. (await ListAsync(from, to, id)).Select(k => k.Text("date"))];
}
