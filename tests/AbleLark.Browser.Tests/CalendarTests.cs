using System.Globalization;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AbleLark.Browser.Tests;

/// <summary>The calendar as it is worked with: posts as one card, several as one, by mouse and by keys, in every view.</summary>
[Trait("Goes", "over-days")]
public sealed class CalendarTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private static readonly LocalDate Monday = new(2029, 9, 3);
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task A_card_stands_for_all_channels_is_moved_copied_and_chosen_by_mouse_and_keys_and_taken_back()
    {
        string channels = await FillAsync();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.ReduceMotion();
        page.Go($"/w/harbour/calendar?view=month&on={Iso(Monday)}&channel={channels}");
        page.Until(() => page.Count("[data-card]") == 3, "three cards for five deliveries");
        Assert.Equal("5 0", Sum(page));
        Assert.Equal(2, page.Find(Card("Herring")).FindElements(By.CssSelector("[data-mark]")).Count);

        // By mouse to another day, on both channels; by keys on to the next; both taken back.
        Drag(page, Card("Herring"), Cell(Monday.PlusDays(10)));
        page.See("Moved to Thu 13 Sept, 09:00.");
        InCell(page, Monday.PlusDays(10), "Herring");
        Keys_(page, Card("Herring"), Keys.ArrowRight);
        page.See("Moved to Fri 14 Sept, 09:00.");
        InCell(page, Monday.PlusDays(11), "Herring");
        page.Press("Undo", nth: 1);
        InCell(page, Monday.PlusDays(10), "Herring");

        // With a key held it is copied; by keys as well.
        Drag(page, Card("Mackerel"), Cell(Monday.PlusDays(16)), Keys.Control);
        page.See("Copied to Wed 19 Sept, 10:30.");
        page.Until(() => page.Driver.FindElements(Card("Mackerel")).Count == 2, "the copy beside it");
        Keys_(page, Card("Whiting"), Keys.ArrowRight, copies: true);
        page.See("Copied to Thu 6 Sept, 11:45.");
        page.Until(() => page.Driver.FindElements(Card("Whiting")).Count == 2, "the other copy");

        // A whole week in three acts.
        page.PressCss("[aria-label='Choose the week from Mon 17 Sept']");
        page.Until(() => page.Count("[data-chosen='1']") == 1, "the bar of what is chosen");
        page.PressMenu("The chosen posts: Move ▾");
        page.Press("A week later");
        page.See("One post moved 7 days later.");
        InCell(page, Monday.PlusDays(23), "Mackerel");
        page.Until(() => page.Count("[data-chosen]") == 0, "nothing chosen any more");

        // One by one, and by any number of days.
        page.Go($"/w/harbour/calendar?view=fortnight&on={Iso(Monday)}&channel={channels}");
        page.Until(() => page.Count("[data-card]") > 0, "the fortnight");
        page.PressMenu("The calendar: Plan");
        page.Press("Choose several");
        page.Run("arguments[0].click()", page.Find(Card("Mackerel")));
        page.Press("By days …");
        page.Fill("Days later; below nought, earlier", "3");
        page.See("2 sendings move.");
        page.Press("Move by days");
        page.See("One post moved 3 days later.");
        InCell(page, Monday.PlusDays(4), "Mackerel");

        // In lanes by category, another lane makes it one of that.
        Guid other = await _installation.Ada.CategoryAsync("Deep " + channels[..4]);
        page.Go($"/w/harbour/calendar?lanes=category&on={Iso(Monday)}&channel={channels}");
        Drag(page, Card("Mackerel"), By.CssSelector($"[data-lane='{other}'][data-cell='{Iso(Monday.PlusDays(4))}']"));
        page.See("is of Deep " + channels[..4]);
        page.Until(
            () => page.TextsOf($"[data-lane='{other}']").Any(t => t.Contains("Mackerel", StringComparison.Ordinal)),
            "it stands in its new lane"
        );

        // One of its channels is opened, and all of them are moved from its sheet, beside their good hours.
        page.Run("arguments[0].click()", page.Find(Card("Mackerel")));
        page.See("On 2 channels");
        page.Press("Move all");
        page.Fill("Time", "16:20");
        page.Press("Move all 2 channels");
        page.See("Moved to Fri 7 Sept, 16:20.");
        Assert.Empty(Axe.Broken(page, "a card on two channels"));
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Every_view_counts_the_same_filters_say_how_many_they_leave_and_notes_views_and_groups_are_kept()
    {
        string channels = await FillAsync();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.ReduceMotion();
        List<string> broken = [];
        foreach (string view in new[] { "", "fortnight", "month", "posts" })
        {
            page.Go($"/w/harbour/calendar?view={view}&on={Iso(Monday)}&channel={channels}");
            page.Until(() => page.Count("[data-sum]") == 1 && Sum(page) == "5 0", $"five deliveries in {view}");
            broken.AddRange(Axe.Broken(page, $"calendar: {view}"));
        }
        page.Go($"/w/harbour/calendar?view=day&on={Iso(Monday.PlusDays(1))}&channel={channels}");
        page.Until(() => page.Count("[data-hour='10'] [data-card]") == 1, "the card in its hour");
        broken.AddRange(Axe.Broken(page, "calendar: day"));
        page.Go($"/w/harbour/calendar?view=year&on={Iso(Monday)}&channel={channels}");
        page.Until(() => page.TextsOf("[data-total]").Sum(int.Parse) == 5, "five in the year");
        broken.AddRange(Axe.Broken(page, "calendar: year"));
        page.PressCss("details summary");
        page.PressCss($"[data-week='{Iso(Monday)}']");
        page.Until(() => page.Count("[data-view=lanes]") == 1, "its week");

        // A group, made in Set-up, narrows the calendar; each choice says how many it leaves.
        page.Press("Set-up");
        page.Press("Add a group");
        page.Fill("Name of the group", "Small boats");
        page.Tick(await NameAsync(channels.Split(',')[0]));
        page.Press("Add the group");
        page.Until(() => page.Count("[data-group='Small boats']") == 1, "the group");
        broken.AddRange(Axe.Broken(page, "channel groups"));
        page.Go($"/w/harbour/calendar?view=month&on={Iso(Monday)}");
        page.Press("Narrow it ▾");
        page.Until(() => page.TextsOf("[data-facet=group] [data-count]") is ["3"], "three posts on the small boats");
        broken.AddRange(Axe.Broken(page, "what narrows the calendar"));
        page.Tick("Small boats");
        page.Until(() => Sum(page).StartsWith("3 ", StringComparison.Ordinal), "the group alone");

        page.Run("document.activeElement.blur(); document.body.click()");
        new Actions(page.Driver).SendKeys(Keys.Escape).Perform();
        page.Press("This view ▾");
        page.Fill("Save this view as", "Small boats by the month");
        page.Press("Save");
        page.See("The view is saved as Small boats by the month.");
        page.Go($"/w/harbour/calendar?on={Iso(Monday)}");
        page.Press("This view ▾");
        page.Press("Small boats by the month");
        page.Until(() => page.Count("[data-view=month]") == 1 && page.Url.Contains("group=", StringComparison.Ordinal), "the saved view");

        // A title narrows the view at each letter; to show all takes it away for good.
        page.Press("Narrow it ▾");
        page.Fill("Search the calendar", "Nothing that is called so");
        page.See("Nothing in this time meets all of what is chosen above.");
        broken.AddRange(Axe.Broken(page, "what it is narrowed to"));
        page.Press("Show all");
        page.Until(() => !Sum(page).StartsWith("0 ", StringComparison.Ordinal), "all of it");
        Thread.Sleep(400);
        Assert.Empty(page.TextsOf("[data-chip]"));
        page.Press("Narrow it ▾");
        Assert.Equal("", page.ValueOf("Search the calendar"));
        // Shut before whoever types has paused, it keeps what was typed; a press on it takes it away.
        page.Fill("Search the calendar", "Herring");
        new Actions(page.Driver).SendKeys(Keys.Escape).Perform();
        page.Until(() => page.Url.Contains("text=Herring", StringComparison.Ordinal), "the title in the address");
        page.PressCss("[data-chip='“Herring”']");
        page.Until(() => page.Count("[data-chip]") == 0, "all of it again");
        Assert.DoesNotContain("text=", page.Url, StringComparison.Ordinal);

        page.Press("Write a note on September 2029");
        page.Fill("Note on September 2029", "Regatta on the last weekend");
        page.Press("Keep the note");
        page.See("Regatta on the last weekend");
        // Where a day is empty, a post is begun for it.
        page.Run("arguments[0].click()", page.Find(By.CssSelector($"{CellCss(Monday.PlusDays(8))} a[href*='posts/new']")));
        page.Until(() => page.Url.Contains($"date={Iso(Monday.PlusDays(8))}", StringComparison.Ordinal), "the desk");
        page.Until(() => page.Count("[data-when=time]") == 1, "with its time");
        Assert.True(broken.Count == 0, string.Join('\n', broken));
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task The_first_card_stands_near_the_top_and_what_fits_a_small_window_scrolls_to_no_side()
    {
        string channels = await FillAsync();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.ReduceMotion();
        page.Go($"/w/harbour/calendar?on={Iso(Monday)}");
        page.Until(() => page.Count("main [data-card]") > 0, "the week");
        Assert.InRange(Top(), 100, 190);
        page.PressCss("main [data-card]");
        page.Until(() => page.Count("[data-sheet]") == 1, "what is open");
        Assert.InRange(Top(), 100, 190);
        // The views are a menu where there is no room for them side by side.
        page.PressMenu("View Week");
        page.Press("Month");
        page.Until(() => page.Count("[data-view=month]") == 1, "the month");

        foreach (int width in (int[])[980, 640, 390])
        {
            page.Resize(width, 800);
            foreach (string view in (string[])["today", $"calendar?view=day&on={Iso(Monday)}", $"calendar?view=posts&on={Iso(Monday)}"])
            {
                page.Go($"/w/harbour/{view}");
                page.Until(() => page.Count("[data-small]") == 1 && page.Count("h1") > 0, view);
                if (view != "today")
                    page.Until(() => page.Count("main [data-card]") > 0, "its cards");
                Assert.True((bool)page.Run($"return document.documentElement.scrollWidth <= {width}")!, $"{view} at {width}");
            }
        }
        // What is opened covers the view, and is shut again.
        page.PressCss("main [data-card] [data-entry]");
        page.Until(() => page.Count("[data-sheet]") == 1, "what is open");
        Assert.True((bool)page.Run("return document.documentElement.scrollWidth <= 390")!, "with what is open");
        page.Press("Close");
        page.SeeNoMore("Why this");
        Assert.Empty(page.Complaints());

        double Top() =>
            Convert.ToDouble(
                page.Run("return document.querySelector('main [data-card]').getBoundingClientRect().top + window.scrollY"),
                CultureInfo.InvariantCulture
            );
    }

    [Fact]
    public async Task A_key_date_is_put_on_the_calendar_and_what_stands_relative_to_it_moves_along()
    {
        string channels = await FillAsync();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.ReduceMotion();
        List<string> broken = [];
        page.Go("/w/harbour/set-up?part=dates");
        page.Press("Add a kind");
        page.Fill("Name of the kind", "Regattas");
        page.Fill("Mark", "R");
        page.Press("Add the kind");
        page.Until(() => page.Count("[data-kind=Regattas]") == 1, "the kind");

        page.Go($"/w/harbour/calendar?view=fortnight&on={Iso(Monday)}&channel={channels}");
        page.PressMenu("The calendar: Plan");
        page.Press("Add a key date");
        page.Fill("What it is", "Harbour regatta");
        page.Fill("Date", "8 Sept 2029\t");
        page.Choose("Comes again", "Every month on the second Sat");
        page.Tick("Somebody has to do something then");
        broken.AddRange(Axe.Broken(page, "a new key date"));
        page.Press("Put it on the calendar");
        InCell(page, Monday.PlusDays(5), "Harbour regatta");
        broken.AddRange(Axe.Broken(page, "key dates in a fortnight"));

        // Wednesday's post stands three days before Saturday, and follows when that goes to Sunday.
        page.Run("arguments[0].click()", page.Find(Card("Whiting")));
        page.Choose("Stands relative to", "Harbour regatta, 8 Sept: 3 days before");
        page.See("It moves with the key date from now on.");
        page.PressCss($"{CellCss(Monday.PlusDays(5))} [data-key-date='Harbour regatta']");
        page.See("One delivery to come.");
        page.Press("Move just this one");
        page.Fill("This time, on", "9 Sept 2029\t");
        page.Press("Move just this one");
        InCell(page, Monday.PlusDays(6), "Harbour regatta");
        page.See("It has moved, and these haven’t followed");
        page.See("Wed 5 Sept → Thu 6 Sept, 11:45");
        broken.AddRange(Axe.Broken(page, "what hasn't followed"));
        page.Press("Move it along");
        page.See("One delivery moved along.");
        InCell(page, Monday.PlusDays(3), "Whiting");
        page.Press("It is done");
        page.See("Done, and said so.");

        // A post is begun so many days from it, at the desk.
        page.Fill("Days", "2");
        page.Press("Write one for Fri 7 Sept");
        page.Until(() => page.Count("[data-when=time]") == 1, "the desk with its time");
        page.See("Harbour regatta, 9 Sept: 2 days before");

        // What is shown goes into another calendar, until its address is revoked.
        page.Go($"/w/harbour/calendar?view=month&on={Iso(Monday)}&channel={channels}");
        page.Press("This view ▾");
        page.Fill("Or as a secret address, for", "Ada's phone");
        page.Press("Make the address");
        page.Until(() => page.Count("[data-feed]") == 1, "the address");
        using HttpClient phone = new();
        string feed = page.TextOf("[data-feed]");
        Assert.StartsWith("BEGIN:VCALENDAR", await phone.GetStringAsync(new Uri(feed)), StringComparison.Ordinal);
        page.Go("/w/harbour/set-up?part=dates");
        page.PressCss("[aria-label=\"Revoke the address Ada's phone\"]");
        page.See("The address is revoked: it gives nothing any more.");
        using HttpResponseMessage gone = await phone.GetAsync(new Uri(feed));
        Assert.Equal(System.Net.HttpStatusCode.NotFound, gone.StatusCode);

        // Among all workspaces a card is dragged as in its own.
        page.Go($"/all?view=week&on={Iso(Monday)}");
        Drag(page, Card("Herring"), By.CssSelector($"[data-workspace=harbour] {CellCss(Monday.PlusDays(1))}"));
        page.See("Moved to Tue 4 Sept, 09:00.");

        page.Go("/w/harbour/set-up");
        page.Press("Keep a channel by hand");
        page.Fill("Name of the channel", "Tide letter");
        page.Press("Keep the channel");
        page.See("Tide letter");
        Assert.True(broken.Count == 0, string.Join('\n', broken));
        Assert.Empty(page.Complaints());
    }

    /// <summary>Three posts in a week, two of them on both of two channels; returns the channels, for the address.</summary>
    private async Task<string> FillAsync()
    {
        string tag = Guid.NewGuid().ToString("n")[..6];
        Guid jot = await _installation.ConnectAsync(_installation.Ada, "jot", "cal-jot" + tag);
        Guid hearth = await _installation.ConnectAsync(_installation.Ada, "hearth", "cal-hearth" + tag);
        Guid category = await _installation.Ada.CategoryAsync("Ca" + tag, jot, hearth);
        foreach (
            (string title, int day, LocalTime time, Guid[] on) in new[]
            {
                ("Herring", 0, new LocalTime(9, 0), new[] { jot, hearth }),
                ("Mackerel", 1, new LocalTime(10, 30), [jot, hearth]),
                ("Whiting", 2, new LocalTime(11, 45), [jot]),
            }
        )
        {
            Guid post = (await _installation.Ada.PostAsync(category, title)).Id();
            await _installation.Ada.PostAsync(
                $"posts/{post}/deliveries",
                new
                {
                    date = Monday.PlusDays(day),
                    time,
                    channels = on,
                }
            );
        }
        return $"{jot},{hearth}";
    }

    private async Task<string> NameAsync(string channel) =>
        (await _installation.Ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == Guid.Parse(channel)).Text("name");

    private static string Sum(Page page) => (string)page.Run("return document.querySelector('[data-sum]')?.dataset.sum ?? ''")!;

    private static string Iso(LocalDate date) => date.ToString("uuuu-MM-dd", CultureInfo.InvariantCulture);

    private static By Card(string title) => By.XPath($"//button[@data-card][contains(., '{title}')]");

    private static By Cell(LocalDate day) => By.CssSelector(CellCss(day));

    private static string CellCss(LocalDate day) => $"[data-cell='{Iso(day)}']";

    private static void InCell(Page page, LocalDate day, string title) =>
        page.Until(
            () => page.Text().Contains(title, StringComparison.Ordinal) && page.TextsOf(CellCss(day)).Any(t => t.Contains(title)),
            $"{title} on {Iso(day)}"
        );

    private static void Drag(Page page, By what, By where, string? held = null)
    {
        page.Until(() => page.Driver.FindElements(what).Count > 0 && page.Driver.FindElements(where).Count > 0, "card and cell");
        Actions acts = new Actions(page.Driver)
            .ClickAndHold(page.Find(what))
            .MoveByOffset(8, 4)
            .MoveToElement(page.Find(where))
            .MoveByOffset(1, 1)
            .Pause(TimeSpan.FromMilliseconds(120));
        if (held is not null)
            acts = acts.KeyDown(held);
        acts = acts.Release();
        if (held is not null)
            acts = acts.KeyUp(held);
        acts.Perform();
    }

    private static void Keys_(Page page, By card, string arrow, bool copies = false)
    {
        page.Until(() => page.Driver.FindElements(card).Count > 0, "the card");
        page.Run("arguments[0].focus()", page.Find(card));
        Actions acts = new Actions(page.Driver).KeyDown(Keys.Alt);
        acts = copies ? acts.KeyDown(Keys.Shift).SendKeys(arrow).KeyUp(Keys.Shift) : acts.SendKeys(arrow);
        acts.KeyUp(Keys.Alt).Perform();
    }
}
