using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using OpenQA.Selenium;

namespace AbleLark.Browser.Tests;

/// <summary>What a planner meets in the first hour.</summary>
public sealed class FirstTouchTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;

    private ApiClient Ada => _installation.Ada;

    [Fact]
    public async Task The_calendar_is_narrowed_a_category_says_what_becomes_of_new_posts_and_acts_are_taken_back_by_keys_alone()
    {
        Guid channel = await _installation.ConnectAsync(Ada, "hearth", "touched");
        Guid category = await Ada.CategoryAsync("Touched", channel);
        Guid post = (await Ada.PostAsync(category, "Seen by keys")).Id();
        await Ada.PlanAsync(_installation, post, 90, channel);
        using Page page = new(_installation.Address);
        page.SignInAs(Ada);
        page.ReduceMotion();

        // One press narrows, the next chooses; what is chosen is taken away where it stands.
        page.Go($"/w/harbour/calendar?channel={channel}");
        page.Until(() => page.Count("main [data-card]") == 1, "the card");
        page.TabTo("Narrow it ▾");
        page.Type(Keys.Enter);
        page.Until(() => page.Count("[data-facet=state]") == 1, "what narrows it");
        page.Type("No such title");
        page.See("Nothing in this time meets all of what is chosen above.");
        page.Type(Keys.Escape);
        page.TabTo("[data-chip='“No such title”']");
        page.Type(Keys.Enter);
        page.Until(() => page.Count("main [data-card]") == 1 && page.Count("[data-chip]") == 1, "the card again");
        page.TabTo("The calendar: Plan ▾");
        page.Type(Keys.Enter);
        page.TabTo("Choose several", Keys.ArrowDown);
        page.Type(Keys.Enter);
        page.See("Stop choosing");

        // A sentence with its choices in it.
        page.Go("/w/harbour/set-up?part=categories");
        page.See("Touched");
        page.TabTo("Change");
        page.Type(Keys.Enter);
        page.TabTo("[aria-label='New posts: when']");
        Assert.Equal("in their turn", page.TextsOf("[aria-label='New posts: when']")[0].Split('\n')[0]);
        Choose(Keys.ArrowUp, "[aria-label='New posts: when']", "before all others");
        page.TabTo("[aria-label='New posts: how often']");
        Choose(Keys.ArrowDown, "[aria-label='New posts: how often']", "go once on each channel");
        page.TabTo("Save the category");
        page.Type(Keys.Enter);
        page.Until(() => page.Count("[data-sheet]") == 0, "the form shut");
        JsonElement saved = (await Ada.GetAsync("categories"))[0];
        Assert.True(saved.GetProperty("order").GetProperty("freshFirst").GetBoolean());
        Assert.Equal("once", saved.Text("lifespan"));

        // For as long as it can be taken back.
        page.TabTo("[aria-label='What was done last']");
        page.Type(Keys.Enter);
        page.TabTo("[aria-label^='Take back']");
        page.Type(Keys.Enter);
        page.See("taken back");
        Assert.Equal("evergreen", (await Ada.GetAsync("categories"))[0].Text("lifespan"));
        Assert.Empty(page.Complaints());

        void Choose(string key, string word, string says)
        {
            page.Type(Keys.Enter);
            page.Until(() => page.Count("[role=option]:focus") == 1, "the choices");
            page.Type(key);
            // The page moves on to the next choice a moment after the key.
            page.Until(() => page.TextsOf("[role=option]:focus") is [var at] && at.StartsWith(says, StringComparison.Ordinal), says);
            page.Type(Keys.Enter);
            page.Until(() => page.TextsOf(word)[0].StartsWith(says, StringComparison.Ordinal), says);
        }
    }

    [Fact]
    public async Task A_wall_shows_films_and_says_what_has_nothing_to_show()
    {
        Guid channel = await _installation.ConnectAsync(Ada, "glimmer", "walled");
        Guid category = await Ada.CategoryAsync("Walled", channel);
        Guid film = await Ada.VideoAsync();
        await Ada.PutAsync($"media/{film}/poster", new { picture = await Ada.PictureAsync() });
        Guid post = (
            await Ada.WriteAsync(
                category,
                new
                {
                    common = new
                    {
                        text = "Moving",
                        video = film,
                        format = "clip",
                    },
                },
                "A clip"
            )
        ).Id();
        await Ada.PlanAsync(_installation, post, 90, channel);
        // A place that nothing fills.
        await Ada.SlotAsync(await Ada.CategoryAsync("Bare", channel), "23:15", [1, 2, 3, 4, 5, 6, 7], channel);
        using Page page = new(_installation.Address);
        page.SignInAs(Ada);
        page.ReduceMotion();
        page.Go("/w/harbour/calendar?view=wall");
        page.Until(() => page.TextsOf("[data-tile]").Any(t => t.StartsWith("Film, ", StringComparison.Ordinal)), "the film");
        page.Until(
            () => (bool)page.Run("const i = document.querySelector('[data-tile] img'); return i !== null && i.naturalWidth > 0")!,
            "the picture that stands for it"
        );
        page.See("Nothing to show yet");
        page.PressCss("[data-without] li button");
        page.Until(() => page.Count("[data-sheet]") == 1, "the place with nothing to show");
        Assert.Empty(Axe.Broken(page, "a wall"));
        Assert.Empty(page.Complaints());
    }
}
