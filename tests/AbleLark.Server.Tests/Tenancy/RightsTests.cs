using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Access;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Routing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Server.Tests.Tenancy;

/// <summary>Each member does what their role allows, on every endpoint, and what a post needs before it goes out can't be passed
/// by.</summary>
public sealed class RightsTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>, IAsyncLifetime
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

    /// <summary>Tests of this class add members to one workspace: who else is there by then must not decide whether Ada may approve what
    /// she wrote.</summary>
    public async ValueTask InitializeAsync() =>
        await _ada.PutAsync(
            "",
            new
            {
                name = "Rope works",
                zone = "Europe/Dublin",
                scheduleAheadHours = 24,
                lateMinutes = 60,
                allowsOwnApproval = true,
            }
        );

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    [Fact]
    public async Task An_endpoint_that_names_no_right_can_t_be_mapped()
    {
        await using WebApplication app = WebApplication.CreateBuilder().Build();
        app.MapWorkspaceGroup().MapGet("/forgotten", () => "x");
        InvalidOperationException e = Assert.Throws<InvalidOperationException>(() =>
            ((IEndpointRouteBuilder)app).DataSources.SelectMany(d => d.Endpoints).ToList()
        );
        Assert.Contains("names no right", e.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Whatever_a_writer_makes_or_changes_waits_for_somebody_else()
    {
        using ApiClient writer = await _installation.MemberAsync(Role.Writer);
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "writer");
        Guid category = await _ada.CategoryAsync("Written", channel);
        Guid post = (await writer.PostAsync(category, "By a writer")).Id();
        Assert.Equal("waitingForApproval", (await writer.GetAsync($"posts/{post}")).Text("stage"));
        await _ada.ApproveAsync(post);
        JsonElement ready = await _ada.GetAsync($"posts/{post}");
        Assert.Equal("ready", ready.Text("stage"));
        Assert.Equal(
            "waitingForApproval",
            (await writer.SavePostAsync(post, ready.Whole("version"), TestData.Edit(category, "Changed by a writer"))).Text("stage")
        );

        // Nor by a sheet, nor by taking an act back, nor by taking out what is planned.
        Assert.Equal(1, (await writer.ImportAsync("text,category\nBy a sheet,Written")).Whole("posts"));
        JsonElement sheet = (await _ada.GetAsync("posts?search=By a sheet")).List("posts").Single();
        Assert.Equal("waitingForApproval", sheet.Text("stage"));
        Guid planned = (await _ada.PostAsync(category, "By a planner")).Id();
        await _ada.PlanAsync(_installation, planned, 60, channel);
        Assert.Equal(
            (HttpStatusCode.Forbidden, "As a writer you may not decide what goes out when. Ask an owner or planner of the workspace."),
            await writer.TroubleAsync(HttpMethod.Delete, $"posts/{planned}")
        );
        Assert.Equal("planned", await _ada.StateAsync((await _ada.GetAsync($"posts/{planned}")).List("deliveries").Single().Id()));
        JsonElement act = (await _ada.GetAsync("changes")).EnumerateArray().First(c => c.Text("act") == "Gave “By a planner” a time");
        Assert.Equal(HttpStatusCode.Forbidden, (await writer.TroubleAsync(HttpMethod.Post, $"changes/{act.Id()}/undo")).Status);
    }

    [Fact]
    public async Task A_writer_s_sheet_with_times_is_refused_whole()
    {
        using ApiClient writer = await _installation.MemberAsync(Role.Writer);
        await _ada.CategoryAsync("Timed", await _installation.ConnectAsync(_ada, "hearth", "timed"));
        Guid import = await writer.BeginImportAsync("text,category,date,time\nAt ten,Timed,2029-03-05,10:00");
        Assert.StartsWith(
            "Rows with a time decide what goes out when, which you may not.",
            (await writer.CommitImportAsync(import)).Text("trouble"),
            StringComparison.Ordinal
        );
        Assert.Equal(0, (await _ada.GetAsync("posts?search=At ten")).Whole("total"));
    }

    [Fact]
    public async Task A_token_takes_back_what_it_may_do_itself_and_imports_no_more_than_it_may()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "scopes");
        Guid category = await _ada.CategoryAsync("Scopes", channel);
        Guid post = (await _ada.PostAsync(category, "Planned by a person")).Id();
        await _ada.PlanAsync(_installation, post, 90, channel);
        Guid delivery = (await _ada.GetAsync($"posts/{post}")).List("deliveries").Single().Id();
        Guid planning = (await _ada.GetAsync("changes"))
            .EnumerateArray()
            .First(c => c.Text("act") == "Gave “Planned by a person” a time")
            .Id();
        using ApiClient looks = await _ada.ScriptAsync("view");
        using ApiClient writes = await _ada.ScriptAsync("view", "write");
        using ApiClient plans = await _ada.ScriptAsync("view", "schedule");
        Assert.Equal(
            (HttpStatusCode.Forbidden, "This token may not decide what goes out when. Make one in Set-up that may."),
            await looks.TroubleAsync(HttpMethod.Post, $"changes/{planning}/undo")
        );
        Assert.Equal(HttpStatusCode.Forbidden, (await writes.TroubleAsync(HttpMethod.Post, $"changes/{planning}/undo")).Status);
        Assert.Equal("planned", await _ada.StateAsync(delivery));
        foreach ((ApiClient who, bool may) in new[] { (looks, false), (writes, false), (plans, true), (_ada, true) })
            Assert.Equal(
                may,
                (await who.GetAsync("changes")).EnumerateArray().First(c => c.Id() == planning).GetProperty("mayUndo").GetBoolean()
            );

        // Taking out a post that is planned decided what goes out: so does bringing it back.
        JsonElement gone = await _ada.DeleteAsync($"posts/{post}");
        Guid taking = gone.GetProperty("changeSetId").GetGuid();
        Assert.Equal(HttpStatusCode.Forbidden, (await writes.TroubleAsync(HttpMethod.Post, $"changes/{taking}/undo")).Status);
        await _ada.PostAsync($"changes/{taking}/undo");
        await plans.PostAsync($"changes/{planning}/undo");
        Assert.Equal("cancelled", await _ada.StateAsync(delivery));

        await writes.ImportAsync("text,category\nBrought by a script,Scopes");
        Assert.Equal("waitingForApproval", (await _ada.GetAsync("posts?search=Brought by a script")).List("posts").Single().Text("stage"));
        Guid import = await writes.BeginImportAsync("text,category,date,time\nAt ten by a script,Scopes,2029-03-05,10:00");
        Assert.StartsWith("Rows with a time decide", (await writes.CommitImportAsync(import)).Text("trouble"), StringComparison.Ordinal);
        Assert.Equal(0, (await _ada.GetAsync("posts?search=At ten by a script")).Whole("total"));
        Assert.Equal("waitingForApproval", (await writes.PostAsync(category, "Written by a script")).Text("stage"));
    }

    [Fact]
    public async Task A_client_sees_what_waits_and_what_is_ready_but_no_drafts()
    {
        using ApiClient client = await _installation.MemberAsync(Role.Client);
        Guid category = await _ada.CategoryAsync("Seen");
        Guid draft = (await _ada.PostAsync(category, "Half a thought", stage: "draft")).Id();
        Guid ready = (await _ada.PostAsync(category, "A whole one")).Id();
        string[] seen = [.. (await client.GetAsync($"posts?category={category}")).List("posts").Select(p => p.Text("title"))];
        Assert.Equal(["A whole one"], seen);
        Assert.Equal(HttpStatusCode.NotFound, (await client.TroubleAsync(HttpMethod.Get, $"posts/{draft}")).Status);
        Assert.Equal("ready", (await client.GetAsync($"posts/{ready}")).Text("stage"));
    }

    [Fact]
    public async Task What_may_be_done_with_the_line_up_is_told_to_each_as_their_role_allows()
    {
        using ApiClient client = await _installation.MemberAsync(Role.Client);
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "may");
        await _ada.PlanAsync(
            _installation,
            (await _ada.PostAsync(await _ada.CategoryAsync("May", channel), "May be moved")).Id(),
            60,
            channel
        );
        string today = (await _installation.NowAsync())
            .InZone(NodaTime.DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .Date.ToString("uuuu-MM-dd", null);
        async Task<string> MayAsync(ApiClient who) =>
            string.Join(
                ' ',
                (await who.GetAsync($"line-up?from={today}&to={today}"))
                    .List("entries")
                    .Single(e => e.Text("title") == "May be moved")
                    .List("may")
                    .Select(m => m.GetString())
            );
        Assert.Equal(("move cancel", ""), (await MayAsync(_ada), await MayAsync(client)));
    }

    [Fact]
    public async Task Whoever_changed_a_post_last_approves_it_only_where_that_is_allowed_or_nobody_else_may()
    {
        await using TestInstallation other = new();
        await other.InitializeAsync();
        async Task<Guid> WaitingAsync(ApiClient by, string text) =>
            (await by.PostAsync(await other.Ada.CategoryAsync(text[..12]), text, stage: "waitingForApproval")).Id();
        async Task<string> LogAsync() => (await other.Ada.GetAsync("changes")).EnumerateArray().First().Text("act");

        Guid alone = await WaitingAsync(other.Ada, "Nobody else is there");
        await other.Ada.ApproveAsync(alone);
        Assert.Equal("Approved “Nobody else is there” (changed by the same person; nobody else may approve)", await LogAsync());

        using ApiClient planner = await other.MemberAsync(Role.Planner);
        Guid own = await WaitingAsync(planner, "Changed by me last");
        (HttpStatusCode status, string words) = await ApproveAsync(planner, own, 1);
        Assert.Equal(
            (
                HttpStatusCode.Forbidden,
                "You changed this post last, so somebody else has to approve it. Set-up can allow it for the whole workspace."
            ),
            (status, words)
        );
        await other.Ada.ApproveAsync(own);
        Assert.Equal("Approved “Changed by me last”", await LogAsync());

        await other.Ada.PutAsync(
            "",
            new
            {
                name = "Rope works",
                zone = "Europe/Dublin",
                scheduleAheadHours = 24,
                lateMinutes = 60,
                allowsOwnApproval = true,
            }
        );
        Guid allowed = await WaitingAsync(planner, "Allowed by Set-up");
        await planner.ApproveAsync(allowed);
        Assert.Equal("Approved “Allowed by Set-up” (changed by the same person, as the workspace allows)", await LogAsync());
    }

    [Fact]
    public async Task An_approval_names_the_version_that_was_read()
    {
        Guid category = await SignedOffAsync("Versions");
        JsonElement waiting = await _ada.PostAsync(category, "First words");
        Assert.Equal("waitingForApproval", waiting.Text("stage"));
        JsonElement changed = await _ada.SavePostAsync(waiting.Id(), waiting.Whole("version"), TestData.Edit(category, "Other words"));
        Assert.Equal(
            (HttpStatusCode.PreconditionFailed, "The post was changed since you read it. Read it again, then approve it."),
            await ApproveAsync(_ada, waiting.Id(), waiting.Whole("version"))
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "Say in If-Match which version of the post you read."),
            await _ada.TroubleAsync(HttpMethod.Post, $"posts/{waiting.Id()}/approve")
        );
        Assert.Equal("waitingForApproval", (await _ada.GetAsync($"posts/{waiting.Id()}")).Text("stage"));
        Assert.Equal(HttpStatusCode.OK, (await ApproveAsync(_ada, waiting.Id(), changed.Whole("version"))).Status);
    }

    [Fact]
    public async Task A_ready_post_that_comes_into_a_category_that_asks_for_approval_waits_for_it()
    {
        Guid free = await _ada.CategoryAsync("Free" + Guid.NewGuid().ToString("n")[..5]),
            strict = await SignedOffAsync("Strict");
        object Edit(Guid main, params Guid[] further) =>
            new
            {
                title = "Moved",
                categoryId = main,
                stage = "ready",
                lifespan = "evergreen",
                inRotation = true,
                channels = (Guid[]?)null,
                content = TestData.Content("Moved"),
                furtherCategories = further,
            };
        JsonElement post = await _ada.PostAsync("posts", Edit(free));
        Assert.Equal("ready", post.Text("stage"));
        JsonElement further = await _ada.SavePostAsync(post.Id(), post.Whole("version"), Edit(free, strict));
        Assert.Equal("waitingForApproval", further.Text("stage"));
        JsonElement approved = await _ada.ApproveAsync(post.Id());
        // What was approved for the category stays approved when it becomes the main one.
        JsonElement main = await _ada.SavePostAsync(post.Id(), approved.Whole("version"), Edit(strict, free));
        Assert.Equal("ready", main.Text("stage"));

        JsonElement other = await _ada.PostAsync("posts", Edit(free));
        Assert.Equal("waitingForApproval", (await _ada.SavePostAsync(other.Id(), other.Whole("version"), Edit(strict))).Text("stage"));
    }

    [Fact]
    public async Task A_sheet_begins_its_posts_as_their_category_says()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "sheet");
        string name = "Sheets" + Guid.NewGuid().ToString("n")[..5];
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name,
                    colour = "tide",
                    monogram = "Sh",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = false,
                }
            )
        ).Id();
        await _ada.ImportAsync(
            $"title,text,category,date,time\nNow and then,Now and then,{name},,\nAt a time,At a time,{name},2029-03-05,10:00"
        );
        JsonElement[] posts = [.. (await _ada.GetAsync($"posts?category={category}")).List("posts")];
        Assert.Equal(2, posts.Length);
        Assert.All(posts, p => Assert.Equal(("waitingForApproval", false), (p.Text("stage"), p.GetProperty("inRotation").GetBoolean())));
        JsonElement timed = await _ada.GetAsync($"posts/{posts.Single(p => p.Text("title") == "At a time").Id()}");
        Assert.Equal("waitingForApproval", timed.List("deliveries").Single().Text("state"));
    }

    [Fact]
    public async Task A_writer_brings_nothing_back_by_undo_that_nobody_has_read()
    {
        using ApiClient writer = await _installation.MemberAsync(Role.Writer);
        Guid category = await _ada.CategoryAsync("Brought back");
        Guid post = (await writer.PostAsync(category, "Read by nobody")).Id();
        async Task SaveAsync(ApiClient who, string words) =>
            await who.SavePostAsync(post, (await _ada.GetAsync($"posts/{post}")).Whole("version"), TestData.Edit(category, words));
        await SaveAsync(writer, "Read by a planner");
        await SaveAsync(_ada, "Read by a planner");
        Assert.Equal("ready", (await _ada.GetAsync($"posts/{post}")).Text("stage"));
        JsonElement edit = (await _ada.GetAsync("changes")).EnumerateArray().First(c => c.Text("act") == "Edited “Read by nobody”: text");
        await writer.PostAsync($"changes/{edit.Id()}/undo");
        JsonElement back = await _ada.GetAsync($"posts/{post}");
        Assert.Equal(("Read by nobody", "waitingForApproval"), (back.CommonText(), back.Text("stage")));
        // Whoever took back is whoever changed it last.
        Guid? last = await _installation.ReadAsync(db =>
            db.PostVersions.Where(v => v.PostId == new Id<Core.Posts.Post>(post))
                .OrderByDescending(v => v.Number)
                .Select(v => v.PersonId)
                .FirstAsync()
        );
        Guid? first = await _installation.ReadAsync(db =>
            db.PostVersions.Where(v => v.PostId == new Id<Core.Posts.Post>(post))
                .OrderBy(v => v.Number)
                .Select(v => v.PersonId)
                .FirstAsync()
        );
        Assert.Equal((true, first), (last is not null, last));
    }

    [Fact]
    public async Task Taking_an_edit_back_brings_back_what_was_approved_and_lets_wait_what_was_not()
    {
        Guid category = await SignedOffAsync("Taken back");
        Guid post = (await _ada.PostAsync(category, "Never approved")).Id();
        async Task SaveAsync(string words) =>
            await _ada.SavePostAsync(post, (await _ada.GetAsync($"posts/{post}")).Whole("version"), TestData.Edit(category, words));
        async Task<(string Stage, JsonElement Undone)> UndoAsync(string words)
        {
            JsonElement edit = (await _ada.GetAsync("changes"))
                .EnumerateArray()
                .First(c => c.Text("act") == "Edited “" + words + "”: text" && !c.GetProperty("undone").GetBoolean());
            JsonElement undone = await _ada.PostAsync($"changes/{edit.Id()}/undo");
            return ((await _ada.GetAsync($"posts/{post}")).Text("stage"), undone);
        }

        await SaveAsync("Approved words");
        await _ada.ApproveAsync(post);
        await SaveAsync("Other words");
        await _ada.ApproveAsync(post);
        Assert.Equal("ready", (await UndoAsync("Approved words")).Stage);
        (string stage, JsonElement undone) = await UndoAsync("Never approved");
        Assert.Equal("waitingForApproval", stage);
        Assert.Contains(
            undone.List("kept"),
            k => k.GetString()!.EndsWith("waits for approval: nobody has approved what it says now.", StringComparison.Ordinal)
        );
    }

    private async Task<Guid> SignedOffAsync(string name) =>
        (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = name + Guid.NewGuid().ToString("n")[..5],
                    colour = "tide",
                    monogram = name[..2],
                    usualChannels = Array.Empty<Guid>(),
                    needsApproval = true,
                }
            )
        ).Id();

    private static async Task<(HttpStatusCode Status, string Words)> ApproveAsync(ApiClient by, Guid post, int version)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, by.Path($"posts/{post}/approve"));
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{version}\"");
        using HttpResponseMessage answer = await by.Http.SendAsync(request);
        JsonElement body = await answer.Content.ReadFromJsonAsync<JsonElement>();
        return (answer.StatusCode, body.TryGetProperty("detail", out JsonElement detail) ? detail.GetString()! : "");
    }
}
