using System.Net;
using System.Text.Json;
using AbleLark.Core.Content;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Tests.Posts;

public sealed class PostTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task Content_is_made_to_fit_one_network_and_nothing_is_saved()
    {
        string text = string.Join(' ', Enumerable.Repeat("tide", 400));
        JsonElement fitted = await _ada.PostAsync("posts/fit", Wanted(TestData.Content(text)));
        JsonElement fix = Assert.Single(fitted.List("done"));
        Assert.Equal("doorstep", fix.Text("network"));
        JsonElement done = fix.GetProperty("did");
        Assert.Equal(("cutAtAWord", "text", text), (done.Text("fix"), done.Text("field"), done.Text("before")));
        string cut = fitted.GetProperty("content").GetProperty("networks").GetProperty("doorstep").Text("text");
        Assert.Equal(done.Text("after"), cut);
        Assert.InRange(cut.Length, 1490, 1500);
        JsonElement again = await _ada.PostAsync("posts/fit", Wanted(fitted.GetProperty("content")));
        Assert.Empty(again.List("done"));
        Assert.Equal(
            (System.Net.HttpStatusCode.BadRequest, "There is no network “nowhere”."),
            await _ada.TroubleAsync(HttpMethod.Post, "posts/fit", Wanted(TestData.Content("x"), "nowhere"))
        );

        static object Wanted(object content, string network = "doorstep") => new { content, networks = new[] { network } };
    }

    [Fact]
    public async Task Two_people_at_one_post_are_told_and_nothing_is_lost()
    {
        Guid category = await CategoryAsync();
        JsonElement post = await _ada.PostAsync(category, "first words");
        JsonElement saved = await _ada.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(category, "hers"));
        (HttpStatusCode status, string words) = await _ada.SaveTroubleAsync(
            post.Id(),
            post.Whole("version"),
            TestData.Edit(category, "his")
        );
        Assert.Equal(HttpStatusCode.PreconditionFailed, status);
        Assert.Contains("Nothing of yours is lost", words, StringComparison.Ordinal);
        Assert.Equal("hers", (await _ada.GetAsync($"posts/{post.Id()}")).CommonText());
        Assert.Equal("his", (await _ada.SavePostAsync(post.Id(), saved.Whole("version"), TestData.Edit(category, "his"))).CommonText());
    }

    [Fact]
    public async Task Saving_without_saying_which_version_is_refused()
    {
        Guid category = await CategoryAsync();
        JsonElement post = await _ada.PostAsync(category, "x");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Put, $"posts/{post.Id()}", TestData.Edit(category, "y"));
        Assert.Equal((HttpStatusCode.BadRequest, "Say in If-Match which version of the post you changed."), (status, words));
    }

    [Fact]
    public async Task Versions_of_the_content_are_kept_and_never_changed()
    {
        Guid category = await CategoryAsync();
        JsonElement post = await _ada.PostAsync(category, "one");
        JsonElement second = await _ada.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(category, "two"));
        // The title alone is no new content.
        object edit = new
        {
            title = "Another title",
            categoryId = category,
            stage = "ready",
            lifespan = "evergreen",
            inRotation = true,
            channels = (Guid[]?)null,
            content = second.GetProperty("content"),
        };
        await _ada.SavePostAsync(post.Id(), second.Whole("version"), edit);
        Guid id = post.Id();
        var versions = await _installation.ReadAsync(db =>
            db.PostVersions.Where(v => v.PostId == new Core.Id<Core.Posts.Post>(id)).OrderBy(v => v.Number).ToListAsync()
        );
        Assert.Equal(["one", "two"], versions.Select(v => v.Content.Common.Get(ContentFields.Text)));
    }

    [Fact]
    public async Task A_removed_post_takes_its_plans_along_and_both_come_back_by_undo()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "removed");
        Guid category = await CategoryAsync(channel);
        JsonElement post = await _ada.PostAsync(category, "to go");
        Guid delivery = (await _ada.PlanAsync(_installation, post.Id(), 300, channel))[0];
        JsonElement removed = await _ada.DeleteAsync($"posts/{post.Id()}");
        Assert.Equal(1, removed.Whole("cancelled"));
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Get, $"posts/{post.Id()}")).Status);
        Assert.Equal("cancelled", await _ada.StateAsync(delivery));

        await _ada.PostAsync($"changes/{removed.Id("changeSetId")}/undo");
        Assert.Equal("to go", (await _ada.GetAsync($"posts/{post.Id()}")).CommonText());
        Assert.Equal("planned", await _ada.StateAsync(delivery));
    }

    [Fact]
    public async Task An_act_can_be_taken_back_once_only()
    {
        Guid category = await CategoryAsync();
        JsonElement post = await _ada.PostAsync(category, "x");
        Guid change = (await _ada.DeleteAsync($"posts/{post.Id()}")).Id("changeSetId");
        await _ada.PostAsync($"changes/{change}/undo");
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Post, $"changes/{change}/undo")).Status);
    }

    [Fact]
    public async Task The_check_counts_and_finds_while_somebody_types()
    {
        object content = TestData.Content(
            new string('a', 281),
            "https://half",
            networks: new Dictionary<string, string> { ["hearth"] = "short" }
        );
        JsonElement[] checks = [.. (await _ada.PostAsync("posts/check", content)).EnumerateArray()];
        JsonElement jot = checks.Single(c => c.Text("network") == "jot");
        Assert.False(jot.GetProperty("fits").GetBoolean());
        Assert.Equal(280, jot.Whole("limit"));
        Assert.Equal("short", checks.Single(c => c.Text("network") == "hearth").GetProperty("content").Text("text"));
    }

    [Fact]
    public async Task A_post_that_a_network_can_t_take_is_planned_on_the_others_and_says_so()
    {
        Guid jot = await _installation.ConnectAsync(_ada, "jot", "plan-jot");
        Guid page = await _installation.ConnectAsync(_ada, "hearth", "plan-page");
        Guid category = await CategoryAsync(jot, page);
        JsonElement post = await _ada.PostAsync(category, new string('a', 400));
        JsonElement plan = await _ada.PostAsync(
            $"posts/{post.Id()}/deliveries",
            new
            {
                date = "2029-03-25",
                time = "09:00:00",
                channels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal(page, Assert.Single(plan.List("planned")).Id("channelId"));
        Assert.Equal("plan-jot: The text takes 400 of 280 on Jot: cut 120.", Assert.Single(plan.List("leftOut")).GetString());
    }

    [Theory]
    [InlineData("2020-01-01", "has passed")]
    [InlineData("2050-01-01", "is not a date to plan with")]
    public async Task An_exact_time_out_of_reach_is_refused_in_words(string date, string words)
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "reach" + date);
        Guid category = await CategoryAsync(channel);
        JsonElement post = await _ada.PostAsync(category, "x");
        (HttpStatusCode status, string said) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"posts/{post.Id()}/deliveries",
            new
            {
                date,
                time = "09:00:00",
                channels = new[] { channel },
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(words, said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_same_exact_time_twice_is_refused_and_a_draft_gets_none()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "twice");
        Guid category = await CategoryAsync(channel);
        JsonElement post = await _ada.PostAsync(category, "x");
        object when = new
        {
            date = "2029-03-25",
            time = "09:00:00",
            channels = new[] { channel },
        };
        await _ada.PostAsync($"posts/{post.Id()}/deliveries", when);
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Post, $"posts/{post.Id()}/deliveries", when)).Status);
        JsonElement draft = await _ada.PostAsync(category, "y", stage: "draft");
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Post, $"posts/{draft.Id()}/deliveries", when)).Status);
    }

    [Fact]
    public async Task The_bank_is_searched_by_words_with_no_character_special()
    {
        Guid category = await CategoryAsync();
        foreach (string text in new[] { "100% rain_day", "100x rain-day" })
            await _ada.PostAsync(category, text);
        Assert.Equal(1, (await _ada.GetAsync("posts?search=100%25%20rain_")).Whole("total"));
        Assert.Equal(2, (await _ada.GetAsync($"posts?stage=ready&category={category}")).Whole("total"));
        Assert.Equal(0, (await _ada.GetAsync($"posts?stage=draft&category={category}")).Whole("total"));
    }

    private Task<Guid> CategoryAsync(params Guid[] channels) => _ada.CategoryAsync("Ca" + Guid.NewGuid().ToString("n")[..8], channels);

    [Fact]
    public async Task A_search_finds_what_is_written_in_any_wording_and_nothing_of_how_it_is_kept()
    {
        Guid category = await _ada.CategoryAsync("Search" + Guid.NewGuid().ToString("n")[..5]);
        await _ada.PostAsync(
            "posts",
            new
            {
                title = "Évening LIGHT",
                categoryId = category,
                stage = "ready",
                lifespan = "evergreen",
                inRotation = true,
                channels = (Guid[]?)null,
                content = TestData.Content(
                    "A rope, 100% hemp_twist",
                    "https://ropes.example.org/walk",
                    networks: new Dictionary<string, string> { ["jot"] = "Short for Jot" },
                    wordings: ["Said otherwise"]
                ),
            }
        );
        async Task<int> Found(string words) =>
            (await _ada.GetAsync($"posts?category={category}&search={Uri.EscapeDataString(words)}")).Whole("total");
        foreach (
            string words in new[]
            {
                "évening",
                "e\u0301vening light",
                "ROPE",
                "100%",
                "hemp_twist",
                "short for",
                "otherwise",
                "ropes.example.org",
            }
        )
            Assert.Equal(1, await Found(words));
        foreach (string words in new[] { "picture", "networks", "null", "100_", "hempXtwist", "\\" })
            Assert.Equal(0, await Found(words));
    }

    [Fact]
    public async Task A_search_goes_by_an_index()
    {
        string plan = string.Join(
            '\n',
            await _installation.ReadAsync(async db =>
            {
                await db.Database.OpenConnectionAsync();
                await db.Database.ExecuteSqlAsync($"set enable_seqscan = off");
                return await db
                    .Database.SqlQuery<string>($"explain select id from posts where search_text like '%otherwise%'")
                    .ToListAsync();
            })
        );
        Assert.Contains("ix_posts_search_text", plan, StringComparison.Ordinal);
    }
}
