using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Browser.Tests;

/// <summary>What the page does when things go wrong: nothing typed is lost, and each trouble has its words.</summary>
public sealed class RoughWeatherTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task A_session_that_runs_out_is_taken_up_again_with_everything_typed()
    {
        (Page page, _) = await DeskAsync("Session");
        using (page)
        {
            // What the page asks of itself would be refused before anything is typed: the session ends between typing and saving.
            page.Run(
                "const saved = new Promise((go) => { window.letSave = go; }); const real = window.fetch; window.fetch = (r, o) => "
                    + "{ const q = r instanceof Request ? r : new Request(r, o); "
                    + "return q.method === 'PUT' ? saved.then(() => real(r, o)) : real(r, o); }"
            );
            page.Fill("Common text", "Typed while nobody was signed in");
            page.Driver.Manage().Cookies.DeleteAllCookies();
            page.Run("window.letSave()");
            page.See("Your session has run out");
            page.Fill("E-mail", "ada@example.org");
            page.Fill("Password", Databases.Password);
            page.Press("Sign in");
            page.SeeNoMore("Your session has run out");
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved after signing in again");
            Assert.Equal("Typed while nobody was signed in", page.ValueOf("Common text"));
        }
    }

    [Fact]
    public async Task Two_people_at_one_post_are_told_and_choose()
    {
        (Page page, Guid post) = await DeskAsync("Shared");
        using (page)
        {
            JsonElement read = await _installation.Ada.GetAsync($"posts/{post}");
            // The colleague saves between two keystrokes: before this page can hear of it, it has words of its own.
            page.Run(
                "window.realFetch = window.fetch; window.fetch = (r, o) => "
                    + "{ const q = r instanceof Request ? r : new Request(r, o); return q.method === 'PUT' ? "
                    + "new Promise((go) => setTimeout(go, 1500)).then(() => window.realFetch(r, o)) : window.realFetch(r, o); }"
            );
            page.Fill("Common text", "My words");
            await _installation.Ada.SavePostAsync(post, read.Whole("version"), TestData.Edit(read.Id("categoryId"), "Their words"));
            page.See("Somebody else saved another version of this post meanwhile.");
            Assert.Equal("My words", page.ValueOf("Common text"));
            page.Press("Keep mine");
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved over theirs");
            Assert.Equal("My words", (await _installation.Ada.GetAsync($"posts/{post}")).CommonText());
        }
    }

    [Fact]
    public async Task What_a_colleague_saves_shows_by_itself_while_nothing_is_typed_here()
    {
        (Page page, Guid post) = await DeskAsync("Quiet");
        using (page)
        {
            JsonElement read = await _installation.Ada.GetAsync($"posts/{post}");
            await _installation.Ada.SavePostAsync(post, read.Whole("version"), TestData.Edit(read.Id("categoryId"), "From a colleague"));
            page.Until(() => page.ValueOf("Common text") == "From a colleague", "the colleague's words");
        }
    }

    [Fact]
    public async Task What_was_typed_while_the_server_is_silent_survives_closing_the_page()
    {
        (Page page, Guid post) = await DeskAsync("Silent");
        using (page)
        {
            page.Run("window.fetch = () => Promise.reject(new TypeError('no line'))");
            page.Fill("Common text", "Typed into silence");
            page.See("Not saved. The server gives no answer just now.");
            page.Run("window.onbeforeunload = null; addEventListener('beforeunload', (e) => e.stopImmediatePropagation(), true)");
            page.Go($"/w/harbour/posts/{post}");
            page.Until(() => page.ValueOf("Common text") == "Typed into silence", "the kept draft");
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved now");
        }
        Assert.Equal("Typed into silence", (await _installation.Ada.GetAsync($"posts/{post}")).CommonText());
    }

    [Fact]
    public async Task A_server_that_restarts_under_an_open_page_is_told_and_waited_for()
    {
        (Page page, Guid post) = await DeskAsync("Restart");
        using (page)
        {
            await _installation.RestartAsync(() =>
            {
                page.See("The server gives no answer just now.");
                page.Fill("Common text", "Typed while it was away");
                page.See("Not saved.");
                return Task.CompletedTask;
            });
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved as soon as it was back", TimeSpan.FromSeconds(40));
            page.SeeNoMore("You can go on; what you type is kept");
            // The session, its cookie's keys and the live line outlive the process.
            JsonElement read = await _installation.Ada.GetAsync($"posts/{post}");
            Assert.Equal("Typed while it was away", read.CommonText());
            await _installation.Ada.SavePostAsync(post, read.Whole("version"), TestData.Edit(read.Id("categoryId"), "Heard again"));
            page.Until(() => page.ValueOf("Common text") == "Heard again", "news after the restart", TimeSpan.FromSeconds(30));
        }
    }

    [Fact]
    public async Task A_slow_server_shows_that_it_is_waited_for_and_a_move_stands_at_once()
    {
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", "slow" + Guid.NewGuid().ToString("n")[..5]);
        Guid category = await _installation.Ada.CategoryAsync("Slow " + Guid.NewGuid().ToString("n")[..5], channel);
        Guid post = (await _installation.Ada.PostAsync(category, "Slow words")).Id();
        await _installation.Ada.PostAsync(
            $"posts/{post}/deliveries",
            new
            {
                date = "2029-05-02",
                time = "10:00:00",
                channels = new[] { channel },
            }
        );
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/calendar?week=2029-05-02&channel={channel}");
        page.Until(() => page.Count("[data-entry]") == 1, "the card");
        page.Run("const real = window.fetch; window.fetch = (...a) => new Promise((go) => setTimeout(go, 2000)).then(() => real(...a))");
        // Reaction to a press: the card stands at its new day before the server has heard of it.
        double waited = Convert.ToDouble(
            page.RunAsync(
                """
                const done = arguments[0], card = document.querySelector('[data-entry]'), before = card.closest('[data-cell]').dataset.cell;
                card.focus();
                const start = performance.now();
                card.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', altKey: true, bubbles: true }));
                const look = () => {
                  const now = document.querySelector('[data-entry]')?.closest('[data-cell]')?.dataset.cell;
                  if (now && now !== before) done(performance.now() - start); else requestAnimationFrame(look);
                };
                look();
                """
            )
        );
        Assert.True(waited < 1000, $"The card moved after {waited:0} ms, the server answers after 2000.");
        page.See("Moved to Thu 3 May, 10:00.");
        page.Press("Bank");
        page.See("Fetching the posts …");
        page.See("Slow words");
    }

    [Fact]
    public void An_unknown_zone_and_an_address_that_leads_nowhere_have_words()
    {
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/set-up?part=time");
        page.Fill("Time zone", "Europe/Atlantis");
        page.Press("Save");
        page.See("There is no time zone “Europe/Atlantis”. Choose one such as Europe/Dublin.");
        page.Go($"/w/harbour/posts/{Guid.NewGuid()}");
        page.See("This post is not here, or no longer.");
        page.Go("/w/harbour/nowhere");
        page.See("There is no such view");
        page.Go("/w/not-mine/today");
        page.See("What needs you");
    }

    [Fact]
    public async Task What_may_have_gone_out_is_answered_on_today_and_what_is_put_aside_shows_there()
    {
        string name = "doubt" + Guid.NewGuid().ToString("n")[..5];
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", name);
        Guid category = await _installation.Ada.CategoryAsync("Ca" + name, channel);
        Guid there = (
            await _installation.Ada.PlanAsync(
                _installation,
                (await _installation.Ada.PostAsync(category, "Seen by somebody")).Id(),
                600,
                channel
            )
        )[0];
        Guid again = (
            await _installation.Ada.PlanAsync(
                _installation,
                (await _installation.Ada.PostAsync(category, "Seen by nobody")).Id(),
                601,
                channel
            )
        )[0];
        await _installation.WriteAsync(
            $"update deliveries set state = 'MayHaveGoneOut', trouble = 'Its answer was lost.' where id in ({there}, {again})"
        );
        await _installation.WriteAsync(
            $"""
            insert into work_failures (workspace_id, work, subject, count, first_at, last_at, retry_at, words) values
            ({_installation.Ada.Workspace}, 'Figures', {channel}, 5, now(), now(), now() + interval '1 hour',
            'The network gave no answer.')
            """
        );
        using Page page = new(_installation.Address, 1024);
        page.SignIn("ada@example.org", Databases.Password);
        page.See("Figures can’t be read");
        page.See("Tried 5 times since ");
        page.Until(() => page.Count("[data-found]") == 2, "both questions");
        // By keys alone: to the first button of the question, along it, and into the field that opens.
        page.Run($"document.querySelector('[data-need=\"{there}\"] [data-found] button').focus()");
        page.Driver.SwitchTo().ActiveElement().SendKeys(OpenQA.Selenium.Keys.Enter);
        page.Until(() => page.Run("return document.activeElement.type")?.ToString() == "url", "the field for the address");
        page.Driver.SwitchTo().ActiveElement().SendKeys("ftp://hearth.example.org/p/7" + OpenQA.Selenium.Keys.Enter);
        page.See("Give the post's own address on the network, beginning with http:// or https://.");
        page.Fill("The post's address on the network", $"{_installation.NetworksAddress}/hearth/anybody/7");
        page.Press("Note it as sent");
        page.See("Noted as sent.");
        page.Until(() => page.Count("[data-found]") == 1, "one question less");
        Assert.Equal("sent", await _installation.Ada.StateAsync(there));
        page.Press("It isn't: send it");
        page.Until(() => _installation.Ada.StateAsync(again).Result == "sent", "sent again by the loop");
        page.Until(() => page.Count("[data-need]") == 0, "nothing left to answer");
        await _installation.WriteAsync($"delete from work_failures where subject = {channel}");
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Whoever_comes_second_to_a_delivery_is_told_and_sees_what_it_is_now()
    {
        string name = "second" + Guid.NewGuid().ToString("n")[..5];
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", name);
        Guid category = await _installation.Ada.CategoryAsync("Ca" + name, channel);
        await _installation.Ada.PostAsync(
            $"posts/{(await _installation.Ada.PostAsync(category, "Wanted by two")).Id()}/deliveries",
            new
            {
                date = "2029-06-06",
                time = "10:00:00",
                channels = new[] { channel },
            }
        );
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/calendar?week=2029-06-06&channel={channel}");
        page.PressCss("[data-entry]");
        page.See("Cancel it");
        // A colleague acts, and this page doesn't hear of it in time.
        page.Settle();
        Guid delivery = Guid.Parse(page.Run("return document.querySelector('[data-entry]').dataset.entry")!.ToString()!);
        await _installation.WriteAsync($"update deliveries set revision = revision + 1 where id = {delivery}");
        page.Press("Cancel it");
        page.See("Somebody else changed this delivery since you looked at it: it is planned now. Look again, then decide.");
        page.Press("Cancel it");
        page.See("Cancelled.");
    }

    [Fact]
    public async Task A_channel_is_disconnected_in_set_up_after_it_said_what_that_does()
    {
        string name = "part" + Guid.NewGuid().ToString("n")[..5];
        Guid channel = await _installation.ConnectAsync(_installation.Ada, "hearth", name);
        Guid category = await _installation.Ada.CategoryAsync("Ca" + name, channel);
        await _installation.Ada.PlanAsync(_installation, (await _installation.Ada.PostAsync(category, "Still to come")).Id(), 600, channel);
        using Page page = new(_installation.Address, 1024);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/set-up");
        page.Press($"Change {name}");
        page.Press("Disconnect the channel…");
        page.See("What it sent and earned stays.");
        page.Press($"Disconnect {name}");
        page.See($"{name} is disconnected. One delivery was cancelled.");
        page.Until(() => page.TextOf($"[data-channel='{name}']").Contains("Disconnected", StringComparison.Ordinal), "its standing");
        Assert.Contains("Connect again", page.TextOf($"[data-channel='{name}']"), StringComparison.Ordinal);
    }

    private async Task<(Page Page, Guid Post)> DeskAsync(string name)
    {
        Guid category = await _installation.Ada.CategoryAsync(name + " " + Guid.NewGuid().ToString("n")[..6]);
        Guid post = (await _installation.Ada.PostAsync(category, $"{name} words")).Id();
        Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{post}");
        page.Until(() => page.ValueOf("Common text") == $"{name} words", "the post on the desk");
        return (page, post);
    }
}
