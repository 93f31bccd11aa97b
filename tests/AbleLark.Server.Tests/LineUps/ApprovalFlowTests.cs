using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.LineUps;

/// <summary>Held posts, their substitutes, and holding everything: what goes out at the time, and what returns to its line.</summary>
public sealed class ApprovalFlowTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Without_approval_in_time_the_substitute_goes_out(bool approves)
    {
        string name = approves ? "yes" : "no";
        Guid channel = await installation.ConnectAsync(_ada, "hearth", $"waiting-{name}");
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = $"Waiting {name}",
                    colour = "tide",
                    monogram = "Wa",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        Guid substitute = (await _ada.PostAsync(category, "Substitute")).Id();
        JsonElement read = await _ada.ApproveAsync(substitute);
        Assert.Equal("ready", read.Text("stage"));
        JsonElement held = await _ada.PostAsync(category, "Waiting words");
        Assert.Equal("waitingForApproval", held.Text("stage"));
        LocalDateTime soon = (await installation.NowAsync() + Duration.FromMinutes(30))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        await _ada.SlotAsync(category, $"{soon:HH:mm}", [(int)soon.DayOfWeek], channel);
        await installation.PassAsync();
        Assert.Equal(["Substitute Substitute", "WaitingForApproval Waiting words"], await StatesAsync(channel));

        if (approves)
            await _ada.ApproveAsync(held.Id());
        await installation.MoveOnAsync(Duration.FromMinutes(31));
        await installation.PassAsync();
        Assert.Equal(
            approves ? ["Missed Substitute", "Sent Waiting words"] : ["Missed Waiting words", "Sent Substitute"],
            await StatesAsync(channel)
        );
        // What wasn't sent is at the front of its line and asks nobody for anything.
        Assert.DoesNotContain((await _ada.GetAsync("needs")).EnumerateArray(), n => n.Id("channelId") == channel);
    }

    [Fact]
    public async Task An_edit_after_a_yes_withdraws_it()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "withdrawn");
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = "Withdrawn",
                    colour = "tide",
                    monogram = "Wi",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        Guid post = (await _ada.PostAsync(category, "Before")).Id();
        JsonElement ready = await _ada.ApproveAsync(post);
        JsonElement same = await _ada.SavePostAsync(post, ready.Whole("version"), TestData.Edit(category, "Before"));
        Assert.Equal("ready", same.Text("stage"));
        JsonElement edited = await _ada.SavePostAsync(post, same.Whole("version"), TestData.Edit(category, "After"));
        Assert.Equal("waitingForApproval", edited.Text("stage"));
    }

    [Fact]
    public async Task A_post_sent_back_is_a_draft_with_a_note_until_it_is_made_ready_again()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "sentback");
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = "Sent back",
                    colour = "tide",
                    monogram = "Sb",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        Guid post = (await _ada.PostAsync(category, "Not yet")).Id();
        Assert.Equal(
            "Say what is asked for, so that whoever writes it knows what to change.",
            (await _ada.TroubleAsync(HttpMethod.Post, $"posts/{post}/send-back", new { note = "  " })).Words
        );
        JsonElement back = await _ada.PostAsync($"posts/{post}/send-back", new { note = "Name the boat." });
        Assert.Equal(("draft", "Name the boat."), (back.Text("stage"), back.Text("sentBack")));
        Assert.Equal(
            post,
            Assert.Single((await _ada.GetAsync("posts?sentBack=true")).List("posts"), p => p.Id("categoryId") == category).Id()
        );
        Assert.Equal(
            "This post isn't waiting for approval.",
            (await _ada.TroubleAsync(HttpMethod.Post, $"posts/{post}/send-back", new { note = "Again" })).Words
        );
        JsonElement again = await _ada.SavePostAsync(post, back.Whole("version"), TestData.Edit(category, "Not yet, on the Petrel"));
        Assert.Equal(("waitingForApproval", JsonValueKind.Null), (again.Text("stage"), again.GetProperty("sentBack").ValueKind));
    }

    [Fact]
    public async Task While_all_sending_is_stopped_nothing_goes_out_and_lifting_it_sends_no_backlog()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "hold");
        Guid category = await _ada.CategoryAsync("Hold", channel);
        Guid post = (await _ada.PostAsync(category, "On a bad day")).Id();
        await _ada.PlanAsync(installation, post, 10, channel);
        JsonElement pause = await _ada.PostAsync("pauses", new { what = "workspace" });
        await installation.MoveOnAsync(Duration.FromMinutes(11));
        await installation.PassAsync();
        Assert.Equal(["Missed On a bad day"], await StatesAsync(channel));
        await _ada.DeleteAsync($"pauses/{pause.Id()}");
        await installation.PassAsync();
        Assert.Equal(["Missed On a bad day"], await StatesAsync(channel));
        Assert.Equal(
            "All sending was stopped when its time came.",
            (await _ada.GetAsync("needs")).EnumerateArray().Single(n => n.Id("channelId") == channel).Text("trouble")
        );
    }

    /// <summary>What goes out without approval moves with the one that waits for it, and isn't left behind.</summary>
    [Fact]
    public async Task What_stands_in_for_one_that_waits_changes_places_with_it()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "swap waits");
        Guid category = (
            await _ada.PostAsync(
                "categories",
                new
                {
                    name = "Swapped while waiting",
                    colour = "tide",
                    monogram = "Sw",
                    usualChannels = new[] { channel },
                    needsApproval = true,
                    newPostsRotate = true,
                }
            )
        ).Id();
        await _ada.ApproveAsync((await _ada.PostAsync(category, "Stands in")).Id());
        await _ada.PostAsync(category, "Waits");
        LocalDateTime soon = (await installation.NowAsync() + Duration.FromMinutes(30))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        await _ada.SlotAsync(category, $"{soon:HH:mm}", [(int)soon.DayOfWeek], channel);
        await installation.PassAsync();
        (Guid waiting, Guid standIn) = (await OneAsync(DeliveryState.WaitingForApproval), await OneAsync(DeliveryState.Substitute));
        Guid later = (await _ada.PostAsync(await _ada.CategoryAsync("Swapped freely", channel), "Later")).Id();
        Guid planned = (await _ada.PlanAsync(installation, later, 3 * 60, channel))[0];
        ((string, string) from, (string, string) to) = (await AtAsync(waiting), await AtAsync(planned));

        await _ada.PostAsync(
            "line-up/exchange",
            new
            {
                channelId = channel,
                one = await SideAsync(waiting),
                other = await SideAsync(planned),
            }
        );
        Assert.Equal((to, from, to), (await AtAsync(waiting), await AtAsync(planned), await AtAsync(standIn)));
        // And once more, by a date and time of its own.
        LocalDateTime further = soon.PlusMinutes(160);
        await _ada.PostAsync($"deliveries/{waiting}/reschedule", new { date = further.Date, time = further.TimeOfDay });
        Assert.Equal((await AtAsync(waiting), false), (await AtAsync(standIn), await AtAsync(standIn) == to));
        await installation.MoveOnAsync(Duration.FromMinutes(31));
        await installation.PassesUntilAsync(planned, "sent");
        Assert.Equal("substitute", await _ada.StateAsync(standIn));
        await installation.MoveOnAsync(Duration.FromHours(3));
        await installation.PassesUntilAsync(standIn, "sent");
        Assert.Equal("missed", await _ada.StateAsync(waiting));

        async Task<object> SideAsync(Guid id)
        {
            JsonElement seen = await _ada.GetAsync($"deliveries/{id}");
            return new
            {
                delivery = new { id, revision = seen.Whole("revision") },
                place = (object?)null,
                postId = seen.Id("postId"),
            };
        }

        async Task<(string, string)> AtAsync(Guid id)
        {
            JsonElement seen = await _ada.GetAsync($"deliveries/{id}");
            return (seen.Text("date"), seen.Text("time"));
        }

        Task<Guid> OneAsync(DeliveryState state) =>
            installation.ReadAsync(async db =>
                (await db.Deliveries.SingleAsync(d => d.ChannelId == new Id<Channel>(channel) && d.State == state)).Id.Value
            );
    }

    private async Task<string[]> StatesAsync(Guid channel) =>
        await installation.ReadAsync(async db =>
            await db
                .Deliveries.Where(d => d.ChannelId == new Id<Channel>(channel))
                .Join(
                    db.Posts,
                    d => new { d.WorkspaceId, Id = d.PostId },
                    p => new { p.WorkspaceId, p.Id },
                    (d, p) => new { d.State, p.Title }
                )
                .ToListAsync()
                is var found
                ? found.Select(f => $"{f.State} {f.Title}").Order(StringComparer.Ordinal).ToArray()
                : []
        );
}
