using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AbleLark.Browser.Tests;

/// <summary>What stands over every view: the four-week strip, moving by hand and by keys, the finder, the keys.</summary>
public sealed class FrameTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private static readonly DateTimeZone Dublin = DateTimeZoneProviders.Tzdb["Europe/Dublin"];
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task A_card_is_dragged_to_another_day_and_taken_back()
    {
        (Guid delivery, LocalDate day) = await PlannedAsync("Dragged words");
        Guid channel = (await _installation.Ada.GetAsync($"deliveries/{delivery}")).Id("channelId");
        using Page page = await OpenAsync(day, channel);
        Drag(page, Card("Dragged words"), By.CssSelector($"[data-cell='{day.PlusDays(1):uuuu-MM-dd}'][data-lane='{channel}']"));
        page.See($"Moved to {Words(day.PlusDays(1))}, 10:00.");
        await UntilAsync(async () => await DateAsync("Dragged words") == day.PlusDays(1));
        page.Press("Undo");
        page.See("Taken back.");
        await UntilAsync(async () => await DateAsync("Dragged words") == day);
        Assert.Equal("planned", await _installation.Ada.StateAsync(delivery));
    }

    [Fact]
    public async Task A_finger_that_rests_on_a_card_drags_it()
    {
        (Guid delivery, LocalDate day) = await PlannedAsync("Touched words");
        Guid channel = (await _installation.Ada.GetAsync($"deliveries/{delivery}")).Id("channelId");
        using Page page = await OpenAsync(day, channel);
        By target = By.CssSelector($"[data-cell='{day.PlusDays(1):uuuu-MM-dd}'][data-lane='{channel}']");
        page.Until(
            () => page.Driver.FindElements(Card("Touched words")).Count > 0 && page.Driver.FindElements(target).Count > 0,
            "the card and where it goes"
        );
        PointerInputDevice finger = new(PointerKind.Touch);
        ActionSequence touch = new(finger);
        touch.AddAction(finger.CreatePointerMove(page.Find(Card("Touched words")), 0, 0, TimeSpan.FromMilliseconds(10)));
        touch.AddAction(finger.CreatePointerDown(MouseButton.Touch));
        touch.AddAction(finger.CreatePause(TimeSpan.FromMilliseconds(600)));
        touch.AddAction(finger.CreatePointerMove(page.Find(target), 0, 0, TimeSpan.FromMilliseconds(200)));
        touch.AddAction(finger.CreatePointerUp(MouseButton.Touch));
        ((IActionExecutor)page.Driver).PerformActions([touch]);
        page.See($"Moved to {Words(day.PlusDays(1))}, 10:00.");
        await UntilAsync(async () => await DateAsync("Touched words") == day.PlusDays(1));
    }

    [Fact]
    public async Task Who_is_taken_out_of_a_workspace_with_its_page_open_is_told_and_loses_nothing()
    {
        using ApiClient gone = await _installation.MemberAsync(Role.Planner);
        Guid category = await _installation.Ada.CategoryAsync("Left " + Guid.NewGuid().ToString("n")[..6]);
        using Page page = new(_installation.Address);
        page.SignInAs(gone);
        page.Go($"/w/harbour/posts/new?category={category}");
        page.Fill("Common text", "Half a thought");
        await _installation.WriteAsync($"delete from memberships m using people p where m.person_id = p.id and p.name = 'Planner Wader'");
        page.See("You no longer belong to Harbour Ropes");
        page.Press("Stay, to copy it");
        page.SeeNoMore("You no longer belong to Harbour Ropes");
        page.See("Half a thought");
    }

    [Fact]
    public async Task The_keyboard_moves_a_card_by_a_day_and_by_half_an_hour()
    {
        (_, LocalDate day) = await PlannedAsync("Keyed words");
        using Page page = await OpenAsync(day);
        Keys_(page, Card("Keyed words"), Keys.ArrowRight);
        page.See($"Moved to {Words(day.PlusDays(1))}, 10:00.");
        await UntilAsync(async () => await DateAsync("Keyed words") == day.PlusDays(1));
        page.Until(() => page.Count("[data-state=planned]") >= 1, "the card at its new day");
        Keys_(page, Card("Keyed words"), Keys.ArrowDown);
        page.See($"Moved to {Words(day.PlusDays(1))}, 10:30.");
    }

    [Fact]
    public async Task A_post_of_the_bank_gets_a_date_by_dropping_it_on_the_four_week_strip()
    {
        (_, LocalDate day) = await PlannedAsync("Already there");
        Guid category = await CategoryAsync();
        await _installation.Ada.PostAsync(category, "From the bank");
        using Page page = await OpenAsync(day);
        page.Go("/w/harbour/bank?search=From%20the%20bank");
        page.Until(() => page.Count("main li") == 1, "the post");
        Drag(page, By.CssSelector("main li a"), By.CssSelector($"[data-day-tick='{day.PlusDays(2):uuuu-MM-dd}']"));
        page.See($"for {Words(day.PlusDays(2))}, 09:00.");
        await UntilAsync(async () => await DateAsync("From the bank") == day.PlusDays(2));
    }

    [Fact]
    public async Task The_four_week_strip_says_what_each_day_holds_and_leads_to_its_week()
    {
        (_, LocalDate day) = await PlannedAsync("On the four-week strip");
        using Page page = await OpenAsync(day);
        Assert.Equal(28, page.Count("[data-day-tick]"));
        string label = page.Find(By.CssSelector($"[data-day-tick='{day:uuuu-MM-dd}']")).GetDomAttribute("aria-label")!;
        Assert.Matches(@"^\w{3} \d+ \w{3}: \d+ to send", label);
        LocalDate later = day.PlusDays(14);
        page.PressCss($"[data-day-tick='{later:uuuu-MM-dd}']");
        page.Until(
            () => page.Url.Contains("week=", StringComparison.Ordinal) && page.Count($"[data-cell='{later:uuuu-MM-dd}']") > 0,
            "the week of that day"
        );
    }

    [Fact]
    public async Task From_sign_in_to_a_planned_post_by_keyboard_alone()
    {
        Guid category = await CategoryAsync();
        await _installation.Ada.PostAsync(category, "Keyboard only words");
        using Page page = new(_installation.Address);
        page.Go("/");
        page.See("Sign in");
        void Type(string keys) => new Actions(page.Driver).SendKeys(keys).Perform();
        Type(Keys.Tab + "ada@example.org" + Keys.Tab + Databases.Password + Keys.Enter);
        page.See("What needs you");
        Type("/");
        page.Until(() => page.Count("[role=combobox]") == 1, "the finder");
        Type("Keyboard only");
        page.Until(() => page.Text().Contains("Keyboard only words", StringComparison.Ordinal), "the post found");
        Type(Keys.Enter);
        page.Until(
            () => page.Url.Contains("/posts/", StringComparison.Ordinal) && page.Count("[data-standing]") == 1,
            "the post on the desk"
        );
        for (int i = 0; i < 80 && !IsOn("[name=when]"); i++)
            Type(Keys.Tab);
        // Into rotation, first free, very next, date and time.
        Type(Keys.ArrowRight + Keys.ArrowRight + Keys.ArrowRight);
        page.See("Schedule for");
        new Actions(page.Driver).KeyDown(Keys.Control).SendKeys(Keys.Enter).KeyUp(Keys.Control).Perform();
        page.See("Scheduled for");

        bool IsOn(string css) => (bool)page.Run("return document.activeElement.matches(arguments[0])", css)!;
    }

    [Fact]
    public void Single_keys_lead_to_views_and_a_sheet_names_them()
    {
        using Page page = new(_installation.Address);
        page.SignIn("ada@example.org", Databases.Password);
        void Type(string keys) => new Actions(page.Driver).SendKeys(keys).Perform();
        foreach (
            (string key, string words) in new[]
            {
                ("r", "The recurring week"),
                ("b", "The bank"),
                ("e", "What each category earned"),
                ("c", "This week"),
            }
        )
        {
            Type(key);
            page.See(words);
        }
        Type("?");
        page.See("On a card: a day earlier, a day later");
        Type(Keys.Escape);
        page.SeeNoMore("On a card: a day earlier, a day later");
        Type("b");
        page.Fill("Search the bank", "cr");
        Assert.EndsWith("/bank", new Uri(page.Url).AbsolutePath, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Long_names_a_full_day_and_a_narrow_window_break_nothing()
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", "longname" + Guid.NewGuid().ToString("n")[..5]);
        Guid category = (
            await _installation.Ada.PostAsync(
                "categories",
                new
                {
                    name = "A category whose name somebody has written out in full, with its reasons and its history "
                        + Guid.NewGuid().ToString("n")[..6],
                    colour = "dune",
                    monogram = "Aa",
                    usualChannels = new[] { channel },
                }
            )
        ).Id();
        LocalDate day = (await _installation.NowAsync()).InZone(Dublin).Date.PlusDays(5);
        for (int i = 0; i < 60; i++)
        {
            Guid post = (await _installation.Ada.PostAsync(category, $"Full day {i} " + new string('m', 60))).Id();
            await _installation.Ada.PostAsync(
                $"posts/{post}/deliveries",
                new
                {
                    date = day,
                    time = new LocalTime(6 + (i / 5), i % 5 * 10),
                    channels = new[] { channel },
                }
            );
        }
        using Page page = new(_installation.Address, width: 1024, height: 700);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/calendar?week={day:uuuu-MM-dd}");
        page.Until(() => page.Count("[data-state=planned]") >= 50, "the full day");
        foreach (string path in new[] { "today", "calendar?lanes=category", "rota", "bank", "results", "set-up" })
        {
            page.Go($"/w/harbour/{path}");
            page.Until(() => !page.Text().Contains("Fetching", StringComparison.Ordinal), "the view at rest");
            object? overflow = page.Run("return document.documentElement.scrollWidth - document.documentElement.clientWidth");
            Assert.True(Convert.ToInt64(overflow) <= 1, $"{path} is {overflow} px too wide for a window of 1024");
        }
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Three_hundred_deliveries_in_a_day_stay_in_use()
    {
        string mark = Guid.NewGuid().ToString("n")[..6];
        Guid hall = await _installation.ConnectAsync(_installation.Ada, "hearth", "hall" + mark);
        Guid yard = await _installation.ConnectAsync(_installation.Ada, "hearth", "yard" + mark);
        await _installation.Ada.CategoryAsync("Fair" + mark, hall, yard);
        LocalDate day = Monday((await _installation.NowAsync()).InZone(Dublin).Date).PlusDays(10);
        IEnumerable<string> rows = Enumerable
            .Range(0, 150)
            .Select(i => $"Stall {i},Stall number {i} opens,Fair{mark},{day:uuuu-MM-dd},{8 + (i / 15):00}:{i % 15 * 4:00}");
        JsonElement made = await _installation.Ada.ImportAsync("title,text,category,date,time\n" + string.Join('\n', rows));
        Assert.Equal(300, made.Whole("deliveries"));
        using Page page = await OpenAsync(day);
        page.Until(
            () => (long)page.Run($"return document.querySelectorAll(`[data-cell='{day:uuuu-MM-dd}'] [data-entry]`).length")! >= 300,
            "all three hundred"
        );
        // The strip shows a few ticks and counts the rest in words.
        Assert.Matches(
            @"30\d to send|[3-9]\d\d to send",
            page.Find(By.CssSelector($"[data-day-tick='{day:uuuu-MM-dd}']")).GetDomAttribute("aria-label")!
        );
        Keys_(page, Card("Stall 149"), Keys.ArrowDown);
        page.See($"Moved to {Words(day)}, 18:26.");
        Assert.Empty(page.Complaints());
        await _installation.Ada.PostAsync($"imports/{made.Id()}/take-back", new { });
    }

    [Fact]
    public async Task At_twice_the_size_everything_can_still_be_reached()
    {
        (Guid _, LocalDate day) = await PlannedAsync("Seen large");
        // A window of 1280 at 200 % has 640 of the page's own pixels across.
        using Page page = new(_installation.Address, width: 640, height: 400);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/calendar?week={Monday(day):uuuu-MM-dd}");
        page.Until(() => page.Driver.FindElements(Card("Seen large")).Count > 0, "the card");
        string unreachable = (string)
            page.Run(
                """
                const missed = [];
                for (const e of document.querySelectorAll('header button, header a, main button, main a')) {
                  e.scrollIntoView({ block: 'center', inline: 'center' });
                  const box = e.getBoundingClientRect();
                  if (box.width === 0) continue;
                  const there = document.elementFromPoint(box.left + box.width / 2, box.top + box.height / 2);
                  if (!there || !(e.contains(there) || there.contains(e))) missed.push(e.textContent.slice(0, 40) || e.ariaLabel);
                }
                return missed.join('; ');
                """
            )!;
        Assert.Equal("", unreachable);
        page.Run("arguments[0].click()", page.Find(Card("Seen large")));
        page.See("Why this");
        page.Press("Close");
        page.SeeNoMore("Why this");
    }

    [Fact]
    public async Task An_empty_workspace_teaches_the_next_step_in_every_view()
    {
        string name = "Empty" + Guid.NewGuid().ToString("n")[..6];
        string slug = await _installation.EmptyWorkspaceAsync(name);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        foreach (
            (string path, string words) in new[]
            {
                ("today", "Connect a channel"),
                ("calendar", "Lay out the recurring week"),
                ("calendar?view=list", "Lay out the recurring week"),
                ("rota", "The recurring week"),
                ("bank", "Write"),
                ("posts/new", "Name the first category in Set-up"),
                ("results", "Nothing"),
                ("set-up", "Connect a channel on Jot"),
                ("set-up?part=categories", "Add a category"),
            }
        )
        {
            page.Go($"/w/{slug}/{path}");
            page.See(words);
            page.Until(() => !page.Text().Contains("Fetching", StringComparison.Ordinal), "the view at rest");
        }
        Assert.Empty(page.Complaints());
    }

    private static By Card(string title) => By.XPath($"//button[@data-entry][contains(., '{title}')]");

    private static string Words(LocalDate date) => date.ToString("ddd d MMM", System.Globalization.CultureInfo.InvariantCulture);

    private static void Drag(Page page, By what, By where)
    {
        page.Until(
            () => page.Driver.FindElements(what).Count > 0 && page.Driver.FindElements(where).Count > 0,
            "what is dragged and where it goes"
        );
        IWebElement target = page.Find(where);
        new Actions(page.Driver)
            .ClickAndHold(page.Find(what))
            .MoveByOffset(8, 4)
            .MoveToElement(target)
            .MoveByOffset(1, 1)
            .Pause(TimeSpan.FromMilliseconds(120))
            .Release()
            .Perform();
    }

    private static void Keys_(Page page, By card, string arrow)
    {
        page.Until(() => page.Driver.FindElements(card).Count > 0, "the card");
        page.Run("arguments[0].focus()", page.Find(card));
        new Actions(page.Driver).KeyDown(Keys.Alt).SendKeys(arrow).KeyUp(Keys.Alt).Perform();
    }

    private static void TabTo(Page page, string name)
    {
        for (int i = 0; i < 80; i++)
        {
            if (page.Driver.SwitchTo().ActiveElement().Text == name)
                return;
            new Actions(page.Driver).SendKeys(Keys.Tab).Perform();
        }
        Assert.Fail($"Eighty tabs did not reach “{name}”.");
    }

    private async Task<Page> OpenAsync(LocalDate day, Guid? channel = null)
    {
        Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/calendar?week={Monday(day):uuuu-MM-dd}&channel={channel}");
        page.Until(() => page.Count("[data-entry]") > 0, "the week");
        return await Task.FromResult(page);
    }

    private static LocalDate Monday(LocalDate day) => day.PlusDays(1 - (int)day.DayOfWeek);

    private async Task<Guid> CategoryAsync()
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", "frame" + Guid.NewGuid().ToString("n")[..6]);
        return await _installation.Ada.CategoryAsync("Fr" + Guid.NewGuid().ToString("n")[..6], channel);
    }

    /// <summary>A post planned for ten o'clock on the Tuesday of next week.</summary>
    private async Task<(Guid Delivery, LocalDate Day)> PlannedAsync(string text)
    {
        Guid category = await CategoryAsync();
        Guid post = (await _installation.Ada.PostAsync(category, text)).Id();
        LocalDate day = Monday((await _installation.NowAsync()).InZone(Dublin).Date).PlusDays(8);
        JsonElement plan = await _installation.Ada.PostAsync(
            $"posts/{post}/deliveries",
            new
            {
                date = day,
                time = new LocalTime(10, 0),
                channels = Array.Empty<Guid>(),
            }
        );
        return (plan.List("planned")[0].Id(), day);
    }

    private async Task<LocalDate?> DateAsync(string title) =>
        await _installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.State == DeliveryState.Planned && db.Posts.Any(p => p.Id == d.PostId && p.Title == title))
                .Select(d => (LocalDate?)d.LocalDate)
                .SingleOrDefaultAsync()
        );

    private static async Task UntilAsync(Func<Task<bool>> condition)
    {
        for (int i = 0; i < 100; i++)
        {
            if (await condition())
                return;
            await Task.Delay(100);
        }
        Assert.Fail("It did not come true in ten seconds.");
    }
}
