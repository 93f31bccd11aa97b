using System.Globalization;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AbleLark.Browser.Tests;

/// <summary>The week laid out by hand, what it leads to before it is applied, and deciding about single places.</summary>
public sealed class RotaTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task A_slot_is_drawn_over_days_dragged_stretched_by_keys_and_applied()
    {
        (_, Guid category, _) = await LineAsync("drawn");
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/rota");
        page.See("The recurring week");
        int before = page.Count("[data-slot]");
        // Pressed on Monday at seven, let go on Wednesday: one slot on three days.
        Drag(page, By.CssSelector("[data-half='1 07:00:00'] > button"), By.CssSelector("[data-half='3 07:00:00']"));
        page.Until(() => page.Count("[data-slot]") == before + 3, "a slot on three days");
        page.See("no channel yet");
        page.Tick($"Line drawn");
        page.Until(() => page.Count($"[data-share='{category}']") == 1, "its share");
        page.Press("Close");

        // Dragged from Wednesday to Friday at half past eight.
        Drag(page, Card("3"), By.CssSelector("[data-half='5 08:30:00']"));
        page.Until(
            () => page.Count("[data-slot^=new][data-day='5']") == 1 && page.Count("[data-slot^=new][data-day='3']") == 0,
            "the card at its new day"
        );
        // By keys: an hour later, then on Saturday too.
        page.Run("document.querySelector(\"[data-slot^=new][data-day='5']\").focus()");
        new Actions(page.Driver).KeyDown(Keys.Alt).SendKeys(Keys.ArrowDown + Keys.ArrowDown).KeyUp(Keys.Alt).Perform();
        page.Until(() => page.TextOf("[data-slot^=new][data-day='5']").Contains("09:30", StringComparison.Ordinal), "an hour later");
        page.Until(() => (string?)page.Run("return document.activeElement.dataset.day") == "5", "the keys with the card");
        new Actions(page.Driver)
            .KeyDown(Keys.Alt)
            .KeyDown(Keys.Shift)
            .SendKeys(Keys.ArrowRight)
            .KeyUp(Keys.Shift)
            .KeyUp(Keys.Alt)
            .Perform();
        page.Until(() => page.Count("[data-slot^=new][data-day='6']") == 1, "on Saturday too");
        page.See("places would be other than now.");

        page.Press("Apply");
        page.See("is applied.");
        JsonElement slot = (await _installation.Ada.GetAsync("rotas"))[0]
            .List("slots")
            .Single(s => s.List("categories").Any(c => c.GetGuid() == category));
        Assert.Equal([1, 2, 5, 6], slot.List("days").Select(d => d.GetInt32()));
        Assert.Equal("09:30:00", slot.Text("time"));
        page.Press("Undo");
        page.See("Taken back.");
        page.Until(() => page.Count("[data-slot]") == before, "the week as it was");
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task What_is_dropped_comes_back_and_another_day_is_laid_out_like_it()
    {
        (Guid channel, Guid category, _) = await LineAsync("copied");
        await _installation.Ada.SlotAsync(category, "06:10", [2], channel);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/rota");
        page.Until(() => page.Count("[data-slot][data-day='2']") > 0, "Tuesday's card");
        int tuesday = page.Count("[data-slot][data-day='2']");
        page.PressMenu("Copy a day");
        page.Press("Tuesday …");
        page.Press("Thursday");
        page.Until(() => page.Count("[data-slot][data-day='4']") == tuesday, "Thursday like Tuesday");
        page.Press("Drop the changes");
        page.Until(() => page.Count("[data-slot][data-day='4']") != tuesday || tuesday == 0, "Thursday as it was");
        page.Press("Bring them back");
        page.Until(() => page.Count("[data-slot][data-day='4']") == tuesday, "the changes again");
        // They outlive a look at another view.
        page.Press("Bank");
        page.See("The bank");
        page.Press("Rota");
        page.See("Drop the changes");
        page.Press("Drop the changes");
    }

    [Fact]
    public async Task A_place_of_the_line_up_is_skipped_filled_by_hand_and_given_back()
    {
        (Guid channel, Guid category, Guid[] posts) = await LineAsync("placed");
        await _installation.Ada.SlotAsync(category, "06:20", [1, 2, 3, 4, 5, 6, 7], channel);
        LocalDate day = (await _installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date.PlusDays(6);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/calendar?view=list&channel={channel}");
        By mark = By.XPath($"(//tbody[contains(., '{day.ToString("ddd d MMM", CultureInfo.InvariantCulture)}')]//button[@data-entry])[1]");
        page.Until(() => page.Driver.FindElements(mark).Count == 1, "the place in the tide table");
        page.Press(mark);
        page.See("Why this");
        page.Press("Choose another");
        page.Until(() => page.Count("[data-candidates] li") == posts.Length, "every post of the line, in order");
        page.Press("Take placed 0");
        page.See("“placed 0” is picked for this place.");
        page.See("Picked for this place.");
        page.Press("Skip just this one");
        page.See("Skipped by a person.");
        page.Press("Back to the rotation");
        page.See("may change");
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Before_a_layout_is_applied_it_is_asked_what_becomes_of_what_is_scheduled_and_decided()
    {
        (Guid channel, Guid category, Guid[] posts) = await LineAsync("asked");
        Guid slot = await _installation.Ada.SlotAsync(category, "23:00", [1, 2, 3, 4, 5, 6, 7], channel);
        await _installation.PassAsync();
        LocalDate today = (await _installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        LocalDate later = today.PlusDays(14);
        await _installation.Ada.DecideAsync(
            $"line-up/occurrences/{slot}/{later:uuuu-MM-dd}",
            new { picks = new[] { new { channelId = channel, postId = posts[0] } } }
        );
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/rota");
        int day = (int)today.DayOfWeek;
        page.Until(() => page.Count($"[data-slot='{slot}'][data-day='{day}']") == 1, "the slot");
        page.Run($"document.querySelector(\"[data-slot='{slot}'][data-day='{day}']\").focus()");
        // Half an hour later, and no more on today's weekday.
        new Actions(page.Driver)
            .KeyDown(Keys.Alt)
            .SendKeys(Keys.ArrowDown)
            .KeyUp(Keys.Alt)
            .Perform();
        page.Until(
            () => page.TextOf($"[data-slot='{slot}'][data-day='{day}']").Contains("23:30", StringComparison.Ordinal),
            "half an hour later"
        );
        page.Run($"document.querySelector(\"[data-slot='{slot}'][data-day='{day}']\").focus()");
        new Actions(page.Driver).SendKeys(Keys.Delete).Perform();
        page.Until(() => page.Count($"[data-slot='{slot}'][data-day='{day}']") == 0, "its day gone");
        page.Press("Apply");
        page.See("Before it is applied");
        page.See("23:00: a post given by hand");
        page.Tick("Move these 2 too");
        page.Press("Apply it so");
        page.See("is applied.");
        async Task<string[]> OnAsync(LocalDate date) =>
            [
                .. (await _installation.Ada.GetAsync($"line-up?from={date:uuuu-MM-dd}&to={date:uuuu-MM-dd}"))
                    .List("entries")
                    .Where(e => e.Id("channelId") == channel)
                    .Select(e => $"{e.Text("time")} {e.Text("title")}"),
            ];
        Assert.StartsWith("23:30:00", Assert.Single(await OnAsync(today)), StringComparison.Ordinal);
        // Kept at its old time, as an exact one.
        Assert.Equal(["23:00:00 asked 0"], await OnAsync(later));
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task A_category_s_settings_are_tried_before_they_are_saved()
    {
        (Guid channel, Guid category, _) = await LineAsync("tried");
        await _installation.Ada.SlotAsync(category, "05:10", [1, 3, 5], channel);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/set-up?part=categories");
        page.Press("Change Line tried");
        page.See("Nothing that goes out would change.");
        page.Fill("Repeat gap, days", "28");
        page.See("would be other than now.");
        // Three places a week need twelve posts in 28 days; there are three.
        page.Until(() => page.TextOf("[data-effect] dd:last-of-type").EndsWith('9'), "nine posts missing");
        page.Fill("And with so many posts more", "30");
        page.Until(() => page.TextOf("[data-effect] dd:last-of-type") == "0", "none missing any more");
        Assert.Equal(
            JsonValueKind.Null,
            (await _installation.Ada.GetAsync("categories"))
                .EnumerateArray()
                .Single(c => c.Id() == category)
                .GetProperty("gapDays")
                .ValueKind
        );
    }

    [Fact]
    public void A_token_is_shown_once_and_revoked()
    {
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/set-up?part=tokens");
        page.Fill("What it is for", "Wall screen");
        page.Press("Make a token");
        page.Until(() => page.TextOf("[data-token]").StartsWith("lark_", StringComparison.Ordinal), "the token");
        page.Go("/w/harbour/set-up?part=tokens");
        page.See("never used");
        Assert.Equal(0, page.Count("[data-token]"));
        page.Press("Revoke Wall screen");
        page.SeeNoMore("Made by Ada Finch");
    }

    private async Task<(Guid Channel, Guid Category, Guid[] Posts)> LineAsync(string name)
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", $"line-{name}");
        Guid category = await _installation.Ada.CategoryAsync($"Line {name}", channel);
        List<Guid> posts = [];
        for (int i = 0; i < 3; i++)
            posts.Add((await _installation.Ada.PostAsync(category, $"{name} {i}")).Id());
        return (channel, category, [.. posts]);
    }

    private static By Card(string day) => By.CssSelector($"[data-slot^=new][data-day='{day}']");

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
            .MoveByOffset(1, 0)
            .Pause(TimeSpan.FromMilliseconds(150))
            .Release()
            .Perform();
    }
}
