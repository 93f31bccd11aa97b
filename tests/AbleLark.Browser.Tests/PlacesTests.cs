using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using OpenQA.Selenium;

namespace AbleLark.Browser.Tests;

/// <summary>Places given to a post by hand, other wordings of it, and places that passed.</summary>
public sealed class PlacesTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task A_place_is_booked_from_the_desk_who_moves_is_shown_first_and_one_undo_takes_it_back()
    {
        (Guid channel, Guid category) = await LineAsync("desk");
        Guid first = (await _installation.Ada.PostAsync(category, "First come")).Id();
        Guid second = (await _installation.Ada.PostAsync(category, "Pushing in")).Id();
        await _installation.Ada.SlotAsync(category, "09:00", EveryDay, channel);
        await _installation.PassAsync();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{first}");
        page.Tick("First free place");
        page.Until(() => page.Count("[data-booking] li") == 1, "the place it would get");
        page.PressCss("[data-act]");
        page.See("Booked: ");
        page.See("Booked into this place.");

        page.Go($"/w/harbour/posts/{second}");
        page.Tick("Very next place");
        page.See("“First come” moves on to");
        page.PressCss("[data-act]");
        page.See("Booked: ");
        Assert.Equal([second, first], await GivenAsync(channel));
        page.Press("Undo");
        page.See("Taken back.");
        Assert.Equal([first], await GivenAsync(channel));

        // In the line-up its place can be freed again.
        page.Go("/w/harbour/calendar?view=list&channel=" + channel);
        page.PressCss("[data-entry][aria-label*='First come'][aria-label$='booked']");
        page.Press("Write a note");
        page.Fill("Note, for the team alone", "Ask the boatman");
        page.Press("Keep it");
        page.See("Ask the boatman");
        page.Press("Back to the rotation");
        page.See("Back to the rotation.");
        Assert.Empty(await GivenAsync(channel));
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task A_scheduled_place_that_comes_sooner_is_taken_from_the_desk()
    {
        (Guid channel, Guid category) = await LineAsync("sooner");
        await _installation.Ada.PostAsync(category, "Scheduled first");
        await _installation.Ada.SlotAsync(category, "23:57", EveryDay, channel);
        await _installation.PassAsync();
        Guid post = (await _installation.Ada.PostAsync(category, "Urgent")).Id();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{post}");
        page.See("A scheduled place comes sooner:");
        page.Press("Take that place");
        page.See("The place is taken; “Scheduled first” is at the front of its line.");
        page.See("Took this scheduled place.");
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Other_wordings_are_written_checked_and_kept()
    {
        (_, Guid category) = await LineAsync("wordings", "jot");
        Guid post = (await _installation.Ada.PostAsync(category, "The first wording")).Id();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{post}");
        page.Press("Add a wording");
        page.Fill("Text for wording 2", new string('w', 300));
        page.See("Passed over on Jot:");
        page.Fill("Text for wording 2", "The second wording");
        page.SeeNoMore("Passed over on Jot:");
        page.Press("Add a wording");
        page.Press("Take wording 3 away");
        page.Until(() => page.TextOf("[data-standing]") == "Saved", "it saved");
        JsonElement[] wordings = (await _installation.Ada.GetAsync($"posts/{post}")).GetProperty("content").List("wordings");
        Assert.Equal(["The second wording"], wordings.Select(w => w.GetProperty("common").Text("text")));
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task A_place_that_passed_is_listed_on_today_and_the_line_up_narrows_to_one_rota()
    {
        (Guid channel, Guid category) = await LineAsync("passed");
        LocalDateTime soon = (await _installation.NowAsync() + Duration.FromMinutes(20))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        await _installation.Ada.SlotAsync(category, $"{soon:HH:mm}", EveryDay, channel);
        await _installation.Ada.PostAsync(
            "rotas",
            new { name = "Winter lights", slots = new[] { TestData.Slot(category, "06:15", EveryDay, channel) } }
        );
        await _installation.PassAsync();
        await _installation.MoveOnAsync(Duration.FromMinutes(21));
        await _installation.PassAsync();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/today");
        page.See("Passed with nothing sent");
        page.See("The category has no posts yet.");
        page.ReduceMotion();
        Assert.Empty(Axe.Broken(page, "Today with a place that passed"));
        page.Press("Dismiss it");
        page.SeeNoMore("Passed with nothing sent");
        page.Press("Undo");
        page.See("Passed with nothing sent");

        page.Go("/w/harbour/calendar?view=list");
        page.See($"{soon:HH:mm}");
        page.Press("Narrow it ▾");
        page.Tick("Winter lights");
        page.Until(() => page.Url.Contains("rota=", StringComparison.Ordinal), "the filter in the address");
        page.Until(
            () => page.Driver.FindElements(By.CssSelector("tbody tr td:first-child")).All(e => e.Text == "06:15"),
            "only its places"
        );

        page.Go("/w/harbour/rota");
        page.See("the further out, the more followers online");
        page.Until(() => page.Count("[data-online]") == 7 * 19, "a stretch of shore for each hour");
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task A_post_that_waits_is_sent_back_with_a_note_from_today_and_its_desk_shows_it()
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", "places-back");
        Guid category = (
            await _installation.Ada.PostAsync(
                "categories",
                new
                {
                    name = "Places back",
                    colour = "tide",
                    monogram = "Pb",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        Guid post = (await _installation.Ada.PostAsync(category, "Waits for approval")).Id();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/today");
        page.Press("Send back …");
        page.Fill("What should change", "Name the boat.");
        page.Press("Send it back");
        page.Until(() => page.Count($"[data-sent-back='{post}']") == 1, "the post, sent back");
        page.See("Name the boat.");
        page.Press("Waits for approval");
        page.See("Sent back: Name the boat.");
        page.Press("Ask for approval");
        page.SeeNoMore("Sent back: Name the boat.");
        page.Press("Approve");
        page.See("Ready: the rota may draw it.");
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task An_edit_that_would_withdraw_an_approval_asks_before_it_is_saved()
    {
        (Guid hearth, Guid jot) = (
            await _installation.ConnectAsync(_installation.Ada, "hearth", "places-approved"),
            await _installation.ConnectAsync(_installation.Ada, "jot", "places-approved-too")
        );
        Guid category = (
            await _installation.Ada.PostAsync(
                "categories",
                new
                {
                    name = "Places approved",
                    colour = "tide",
                    monogram = "Pa",
                    usualChannels = new[] { hearth, jot },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        Guid post = (await _installation.Ada.PostAsync(category, "Read and approved")).Id();
        await _installation.Ada.ApproveAsync(post);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{post}");
        page.Until(() => page.Count("[data-approved='true']") == 2, "both variants with approval");
        page.PressCss("[data-network='jot'] button[aria-expanded]");
        page.PressCss("[aria-label='Say otherwise: text for Jot']");
        page.Fill("Text for Jot", "Read, and changed since");
        page.See("Saving this withdraws the approval for Jot: it waits there until somebody approves it again.");
        Assert.Equal("ready", (await _installation.Ada.GetAsync($"posts/{post}")).Text("stage"));
        page.Press("Leave it as it was");
        page.SeeNoMore("Saving this withdraws");
        // A text of Jot's own that says what the common one says withdraws nothing: after a long enough pause it was saved.
        if (page.Text().Contains("Back to the common text", StringComparison.Ordinal))
            page.Press("↩ Back to the common text");
        page.Fill("Title, never sent", "Another title alone");
        page.Until(() => page.TextOf("[data-standing]") == "Saved", "a title saved without a question");
        page.Fill("Common text", "Changed for all");
        page.See("Saving this withdraws the approval for Hearth and Jot");
        page.Press("Save, and ask again");
        // Both are shown to wait before they are saved: that is what was asked about.
        page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved all the same");
        page.Until(() => page.Count("[data-approved='false']") == 2, "both waiting");
        Assert.Equal(
            ("waitingForApproval", "Another title alone"),
            (
                (await _installation.Ada.GetAsync($"posts/{post}")).Text("stage"),
                (await _installation.Ada.GetAsync($"posts/{post}")).Text("title")
            )
        );
        Assert.Empty(page.Complaints());
    }

    private async Task<Guid[]> GivenAsync(Guid channel)
    {
        LocalDate today = (await _installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        return
        [
            .. (await _installation.Ada.GetAsync($"line-up?from={today:uuuu-MM-dd}&to={today.PlusDays(13):uuuu-MM-dd}"))
                .List("entries")
                .Where(e => e.Id("channelId") == channel && e.GetProperty("isGiven").GetBoolean())
                .Select(e => e.Id("postId")),
        ];
    }

    private async Task<(Guid Channel, Guid Category)> LineAsync(string name, string network = "hearth")
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, network, $"places-{name}");
        return (channel, await _installation.Ada.CategoryAsync($"Places {name}", channel));
    }
}
