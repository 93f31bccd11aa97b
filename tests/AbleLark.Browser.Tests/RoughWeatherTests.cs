using System.Text.Json;
using AbleLark.Server.Tests.Ground;

namespace AbleLark.Browser.Tests;

/// <summary>What the page does when things go wrong: nothing typed is lost, and each trouble has its words.</summary>
public sealed class RoughWeatherTests(WebTown web) : IClassFixture<WebTown>
{
    private readonly Town _town = web.Town;

    [Fact]
    public async Task A_session_that_runs_out_is_taken_up_again_with_everything_typed()
    {
        (Page page, _) = await DeskAsync("Session");
        using (page)
        {
            page.Driver.Manage().Cookies.DeleteAllCookies();
            page.Fill("Common text", "Typed while nobody was signed in");
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
            JsonElement read = await _town.Ada.GetAsync($"posts/{post}");
            // The colleague saves between two keystrokes: before this page can hear of it, it has words of its own.
            page.Run("window.realFetch = window.fetch; window.fetch = (r, o) => { const q = r instanceof Request ? r : new Request(r, o); return q.method === 'PUT' ? new Promise((go) => setTimeout(go, 1500)).then(() => window.realFetch(r, o)) : window.realFetch(r, o); }");
            page.Fill("Common text", "My words");
            await _town.Ada.SavePostAsync(post, read.Whole("version"), Making.Edit(read.Id("categoryId"), "Their words"));
            page.See("Somebody else saved another version of this post meanwhile.");
            Assert.Equal("My words", page.ValueOf("Common text"));
            page.Press("Keep mine");
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved over theirs");
            Assert.Equal("My words", (await _town.Ada.GetAsync($"posts/{post}")).GetProperty("content").Text("text"));
        }
    }

    [Fact]
    public async Task What_a_colleague_saves_shows_by_itself_while_nothing_is_typed_here()
    {
        (Page page, Guid post) = await DeskAsync("Quiet");
        using (page)
        {
            JsonElement read = await _town.Ada.GetAsync($"posts/{post}");
            await _town.Ada.SavePostAsync(post, read.Whole("version"), Making.Edit(read.Id("categoryId"), "From a colleague"));
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
        Assert.Equal("Typed into silence", (await _town.Ada.GetAsync($"posts/{post}")).GetProperty("content").Text("text"));
    }

    [Fact]
    public void An_unknown_zone_and_an_address_that_leads_nowhere_have_words()
    {
        using Page page = new(_town.Address);
        page.SignIn("ada@example.org", Databases.Password);
        page.Go("/w/harbour/set-up");
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

    private async Task<(Page Page, Guid Post)> DeskAsync(string name)
    {
        Guid category = await _town.Ada.CategoryAsync(name + " " + Guid.NewGuid().ToString("n")[..6]);
        Guid post = (await _town.Ada.PostAsync(category, $"{name} words")).Id();
        Page page = new(_town.Address);
        page.SignIn("ada@example.org", Databases.Password);
        page.Go($"/w/harbour/posts/{post}");
        page.Until(() => page.ValueOf("Common text") == $"{name} words", "the post on the desk");
        return (page, post);
    }
}
