using System.Net;
using System.Text.Json;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Checks;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.Posts;

/// <summary>An approval covers what was read, variant by variant; what it doesn't cover doesn't go.</summary>
public sealed class ApprovalTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task An_edit_withdraws_approval_for_the_variants_that_it_changes_alone_and_says_so_before()
    {
        (Guid hearth, Guid jot, Guid category) = await StrictAsync("Variants");
        Guid post = (await _ada.PostAsync("posts", Edit(category, "Tide at nine"))).Id();
        await _ada.ApproveAsync(post);
        Guid[] planned = await _ada.PlanAsync(installation, post, 5, hearth, jot);
        object edit = Edit(category, "Tide at nine", jot: "Tide at nine, bring boots");
        JsonElement check = await _ada.PostAsync($"posts/check?post={post}", Content("Tide at nine", "Tide at nine, bring boots"));
        Assert.Equal(("True", "False"), (Approved(check.EnumerateArray(), "hearth"), Approved(check.EnumerateArray(), "jot")));

        JsonElement saved = await _ada.SavePostAsync(post, await VersionAsync(post), edit);
        Assert.Equal(
            ("waitingForApproval", "True", "False"),
            (saved.Text("stage"), Approved(saved.List("checks"), "hearth"), Approved(saved.List("checks"), "jot"))
        );
        Assert.Equal(["planned", "waitingForApproval"], await StatesAsync(planned));
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.SendDueAsync();
        Assert.Equal(["sent", "missed"], await StatesAsync(planned));

        // What was approved before is so again, without asking anybody.
        Assert.Equal("ready", (await _ada.SavePostAsync(post, await VersionAsync(post), Edit(category, "Tide at nine"))).Text("stage"));
    }

    [Fact]
    public async Task An_approval_covers_every_wording_and_lets_what_waits_go()
    {
        (Guid hearth, _, Guid category) = await StrictAsync("Wordings");
        Guid post = (await _ada.PostAsync("posts", Edit(category, "First wording"))).Id();
        await _ada.ApproveAsync(post);
        Guid delivery = (await _ada.PlanAsync(installation, post, 5, hearth))[0];
        await _ada.SavePostAsync(post, await VersionAsync(post), Edit(category, "Second wording"));
        Assert.Equal(["waitingForApproval"], await StatesAsync(delivery));
        // Moved to another time it waits there as well.
        LocalDateTime later = (await installation.NowAsync() + Duration.FromMinutes(5))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime.PlusSeconds(30);
        delivery = (await _ada.PostAsync($"deliveries/{delivery}/reschedule", new { date = later.Date, time = later.TimeOfDay })).Id(
            "deliveryId"
        );
        Assert.Equal(["waitingForApproval"], await StatesAsync(delivery));
        await _ada.ApproveAsync(post);
        Assert.Equal(["planned"], await StatesAsync(delivery));
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.SendDueAsync();
        Assert.Equal(["sent"], await StatesAsync(delivery));
    }

    [Fact]
    public async Task What_is_sent_is_held_against_the_approvals_themselves()
    {
        (Guid hearth, _, Guid category) = await StrictAsync("Themselves");
        Guid post = (await _ada.PostAsync("posts", Edit(category, "Never approved"))).Id();
        await _ada.ApproveAsync(post);
        Guid delivery = (await _ada.PlanAsync(installation, post, 5, hearth))[0];
        // Whatever went wrong between: the stored content isn't what was approved.
        await installation.WriteAsync(
            $"update posts set content = jsonb_set(content, '{{common,text}}', '\"Something else\"') where id = {post}"
        );
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.SendDueAsync();
        JsonElement ended = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(
            ("missed", "Nobody has approved what it says now. Approve the post, then reschedule it if it still should go."),
            (ended.Text("state"), ended.Text("trouble"))
        );
    }

    [Fact]
    public async Task A_category_that_begins_to_ask_lets_what_has_no_approval_wait()
    {
        (Guid hearth, _, Guid category) = await StrictAsync("Begins", asks: false);
        Guid post = (await _ada.PostAsync("posts", Edit(category, "Ready before"))).Id();
        Guid delivery = (await _ada.PlanAsync(installation, post, 600, hearth))[0];
        await _ada.PutAsync($"categories/{category}", Category("Begins", [hearth], asks: true));
        Assert.Equal(
            ("waitingForApproval", "waitingForApproval"),
            ((await _ada.GetAsync($"posts/{post}")).Text("stage"), (await StatesAsync(delivery))[0])
        );
        await _ada.PutAsync($"categories/{category}", Category("Begins", [hearth], asks: false));
        Assert.Equal(("ready", "planned"), ((await _ada.GetAsync($"posts/{post}")).Text("stage"), (await StatesAsync(delivery))[0]));
        await _ada.PutAsync($"categories/{category}", Category("Begins", [hearth], asks: true));
        await _ada.ApproveAsync(post);
        Assert.Equal("planned", (await StatesAsync(delivery))[0]);
        // Taken back, the act withdraws it; taken forth again, it doesn't come back.
        JsonElement yes = (await _ada.GetAsync("changes"))
            .EnumerateArray()
            .First(c => c.Text("act").StartsWith("Approved “Ready before”", StringComparison.Ordinal));
        await _ada.PostAsync($"changes/{yes.Id()}/undo");
        Assert.Equal(
            ("waitingForApproval", "waitingForApproval"),
            ((await _ada.GetAsync($"posts/{post}")).Text("stage"), (await StatesAsync(delivery))[0])
        );
        JsonElement back = (await _ada.GetAsync("changes")).EnumerateArray().First();
        JsonElement forth = await _ada.PostAsync($"changes/{back.Id()}/undo");
        Assert.Contains(
            "An approval does not come back by itself: it is given again, by whoever reads the post.",
            forth.List("kept").Select(k => k.GetString())
        );
        Assert.Equal("waitingForApproval", (await _ada.GetAsync($"posts/{post}")).Text("stage"));
    }

    [Fact]
    public async Task A_writer_is_told_before_saving_that_a_ready_post_will_wait()
    {
        using ApiClient writer = await installation.MemberAsync(Role.Writer);
        (_, _, Guid category) = await StrictAsync("Told", asks: false);
        Guid post = (await _ada.PostAsync("posts", Edit(category, "By a planner"))).Id();
        async Task<string> CheckAsync(ApiClient who, string text) =>
            Approved((await who.PostAsync($"posts/check?post={post}", Content(text))).EnumerateArray(), "hearth");
        Assert.Equal(
            ["", "False", ""],
            [await CheckAsync(writer, "By a planner"), await CheckAsync(writer, "By a writer"), await CheckAsync(_ada, "By another")]
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await _ada.TroubleAsync(HttpMethod.Post, $"posts/check?post={Guid.NewGuid()}", Content("x"))).Status
        );
    }

    [Fact]
    public async Task A_post_from_before_approvals_were_kept_stays_as_it_was()
    {
        (_, _, Guid strict) = await StrictAsync("Older");
        (_, _, Guid free) = await StrictAsync("Older, free", asks: false);
        Guid ready = (await _ada.PostAsync("posts", Edit(strict, "Had its approval"))).Id();
        Guid waits = (await _ada.PostAsync("posts", Edit(strict, "Has none"))).Id();
        Guid asked = (await _ada.PostAsync("posts", Edit(free, "Was asked about"))).Id();
        // As the database of an earlier version has them.
        await installation.WriteAsync($"update posts set hashes = '{{}}', checked_by = '' where id in ({ready}, {waits}, {asked})");
        await installation.WriteAsync($"update posts set stage = 'Ready' where id = {ready}");
        await installation.WriteAsync($"update posts set stage = 'WaitingForApproval' where id = {asked}");
        int done = await installation.ReadAsync(db =>
            StalePosts.CheckAnewAsync(
                db,
                installation.Services.GetRequiredService<NetworkBook>(),
                Instant.FromUtc(2026, 1, 1, 0, 0),
                CancellationToken.None
            )
        );
        Assert.Equal(
            (3, 0),
            (
                done,
                await installation.ReadAsync(db =>
                    StalePosts.CheckAnewAsync(
                        db,
                        installation.Services.GetRequiredService<NetworkBook>(),
                        Instant.MinValue,
                        CancellationToken.None
                    )
                )
            )
        );
        async Task<string> AfterAsync(Guid post, Guid category, string title, string text) =>
            (
                await _ada.SavePostAsync(
                    post,
                    await VersionAsync(post),
                    Edit(category, text, title, stage: (await _ada.GetAsync($"posts/{post}")).Text("stage"))
                )
            ).Text("stage");
        Assert.Equal(
            ["ready", "waitingForApproval", "waitingForApproval"],
            [
                await AfterAsync(ready, strict, "Renamed", "Had its approval"),
                await AfterAsync(waits, strict, "Renamed", "Has none"),
                await AfterAsync(asked, free, "Renamed", "Was asked about"),
            ]
        );
        Assert.Equal("waitingForApproval", await AfterAsync(ready, strict, "Renamed", "Other words"));
        Assert.Null(
            await installation.ReadAsync(db =>
                db.Approvals.Where(a => a.PostId == new Core.Id<Core.Posts.Post>(ready)).Select(a => a.PersonId).SingleAsync()
            )
        );
    }

    private static string Approved(IEnumerable<JsonElement> checks, string network) =>
        checks.Single(c => c.Text("network") == network).GetProperty("approved").ToString();

    private async Task<int> VersionAsync(Guid post) => (await _ada.GetAsync($"posts/{post}")).Whole("version");

    private async Task<string[]> StatesAsync(params Guid[] deliveries)
    {
        List<string> states = [];
        foreach (Guid delivery in deliveries)
            states.Add(await _ada.StateAsync(delivery));
        return [.. states];
    }

    private async Task<(Guid Hearth, Guid Jot, Guid Category)> StrictAsync(string name, bool asks = true)
    {
        string handle = "a" + Guid.NewGuid().ToString("n")[..8];
        (Guid hearth, Guid jot) = (
            await installation.ConnectAsync(_ada, "hearth", handle + "h"),
            await installation.ConnectAsync(_ada, "jot", handle + "j")
        );
        return (hearth, jot, (await _ada.PostAsync("categories", Category(name, [hearth, jot], asks))).Id());
    }

    private static object Category(string name, Guid[] channels, bool asks) =>
        new
        {
            name,
            colour = "tide",
            monogram = name[..2],
            usualChannels = channels,
            needsApproval = asks,
        };

    private static object Edit(Guid category, string text, string? title = null, string? jot = null, string stage = "ready") =>
        new
        {
            title = title ?? text,
            categoryId = category,
            stage,
            lifespan = "evergreen",
            inRotation = true,
            channels = (Guid[]?)null,
            content = Content(text, jot),
        };

    private static object Content(string text, string? jot = null) =>
        TestData.Content(text, networks: jot is null ? null : new Dictionary<string, string> { ["jot"] = jot });
}
