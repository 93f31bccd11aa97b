using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Outgoing;

/// <summary>Two people at one delivery, and taking back what has moved on: one act counts, whoever comes second is told, nothing goes
/// twice or late.</summary>
public sealed class RaceTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private const int Pairs = 15;
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Of_two_who_reschedule_one_delivery_at_once_one_gets_through()
    {
        (Guid channel, Guid category) = await ChannelAsync("resched");
        for (int i = 0; i < Pairs; i++)
        {
            Guid delivery = await PlannedAsync(channel, category, $"Pair {i}", 60);
            int seen = (await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision");
            HttpStatusCode[] answers = await Task.WhenAll(
                RescheduleAsync(delivery, 120 + i, seen),
                RescheduleAsync(delivery, 240 + i, seen)
            );
            Assert.Equal([HttpStatusCode.OK, HttpStatusCode.PreconditionFailed], answers.Order());
        }
    }

    [Fact]
    public async Task Of_two_who_reschedule_a_failure_at_once_one_gets_through()
    {
        (Guid channel, Guid category) = await ChannelAsync("refail");
        for (int i = 0; i < Pairs; i++)
        {
            Guid delivery = await PlannedAsync(channel, category, $"Failed pair {i}", 60);
            await installation.WriteAsync($"update deliveries set state = 'Refused', trouble = 'x' where id = {delivery}");
            HttpStatusCode[] answers = await Task.WhenAll(RescheduleAsync(delivery, 120 + i), RescheduleAsync(delivery, 240 + i));
            Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], answers.Order());
            Assert.Equal(1, await installation.ReadAsync(db => db.Deliveries.CountAsync(d => d.InsteadOf == new Id<Delivery>(delivery))));
        }
    }

    [Fact]
    public async Task Of_two_who_give_a_post_the_same_time_at_once_one_gets_through_and_a_cancelled_time_is_free_again()
    {
        (Guid channel, Guid category) = await ChannelAsync("same-time");
        for (int i = 0; i < Pairs; i++)
        {
            Guid post = (await _ada.PostAsync(category, $"Same time {i}")).Id();
            object time = In(300 + i, channel);
            HttpStatusCode[] answers = await Task.WhenAll(GiveAsync(post, time), GiveAsync(post, time));
            Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], answers.Order());
            Delivery planned = await installation.ReadAsync(db =>
                db.Deliveries.SingleAsync(d => d.PostId == new Id<Core.Posts.Post>(post))
            );
            Assert.Equal(Origin.ExactTime(planned.PostId, planned.LocalDate + planned.LocalTime), planned.Origin);
            Guid act = (await _ada.PostAsync($"deliveries/{planned.Id}/cancel")).Id("changeSetId");
            Assert.Equal(HttpStatusCode.OK, await GiveAsync(post, time));
            // Back it comes only where nobody has its place.
            Assert.Equal(HttpStatusCode.Conflict, await ActAsync($"changes/{act}/undo"));
            Assert.Equal("cancelled", await _ada.StateAsync(planned.Id.Value));
        }

        async Task<HttpStatusCode> GiveAsync(Guid post, object time)
        {
            using HttpResponseMessage answer = await _ada.Http.PostAsJsonAsync(
                _ada.Path($"posts/{post}/deliveries"),
                time,
                LarkJson.Options
            );
            return answer.StatusCode;
        }
    }

    [Fact]
    public async Task Of_a_cancelling_and_a_rescheduling_at_once_one_counts_and_the_other_is_told()
    {
        (Guid channel, Guid category) = await ChannelAsync("cancel");
        for (int i = 0; i < Pairs; i++)
        {
            Guid delivery = await PlannedAsync(channel, category, $"Cancel or move {i}", 60);
            int seen = (await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision");
            HttpStatusCode[] answers = await Task.WhenAll(CancelAsync(delivery, seen), RescheduleAsync(delivery, 120 + i, seen));
            Assert.Equal([HttpStatusCode.OK, HttpStatusCode.PreconditionFailed], answers.Order());
            int live = await installation.ReadAsync(db =>
                db.Deliveries.CountAsync(d =>
                    (d.Id == new Id<Delivery>(delivery) || d.InsteadOf == new Id<Delivery>(delivery)) && d.State == DeliveryState.Planned
                )
            );
            Assert.Equal(answers[0] == HttpStatusCode.OK ? 0 : 1, live);
        }

        async Task<HttpStatusCode> CancelAsync(Guid delivery, int seen) =>
            (await MatchingAsync($"deliveries/{delivery}/cancel", seen)).Status;
    }

    [Fact]
    public async Task Of_two_who_take_the_same_act_back_at_once_one_does()
    {
        (Guid channel, Guid category) = await ChannelAsync("undo");
        for (int i = 0; i < Pairs; i++)
        {
            Guid delivery = await PlannedAsync(channel, category, $"Undo {i}", 60);
            Guid act = (await _ada.PostAsync($"deliveries/{delivery}/cancel")).Id("changeSetId");
            HttpStatusCode[] answers = await Task.WhenAll(ActAsync($"changes/{act}/undo"), ActAsync($"changes/{act}/undo"));
            Assert.Equal([HttpStatusCode.OK, HttpStatusCode.Conflict], answers.Order());
            Assert.Equal("planned", await _ada.StateAsync(delivery));
        }
    }

    [Fact]
    public async Task Whoever_acts_on_what_they_saw_before_is_told_what_it_is_now()
    {
        (Guid channel, Guid category) = await ChannelAsync("stale");
        Guid delivery = await PlannedAsync(channel, category, "Seen before", 60);
        int seen = (await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision");
        string day = (await _ada.GetAsync($"deliveries/{delivery}")).Text("date");
        Assert.Equal(
            seen,
            (await _ada.GetAsync($"line-up?from={day}&to={day}"))
                .List("entries")
                .Single(e => e.Text("key") == delivery.ToString())
                .Whole("revision")
        );
        Guid act = (await _ada.PostAsync($"deliveries/{delivery}/cancel")).Id("changeSetId");
        await _ada.PostAsync($"changes/{act}/undo");
        foreach (string path in new[] { $"deliveries/{delivery}/cancel", $"deliveries/{delivery}/dismiss" })
        {
            (HttpStatusCode status, string words) = await MatchingAsync(path, seen);
            Assert.Equal(
                (
                    HttpStatusCode.PreconditionFailed,
                    "Somebody else changed this delivery since you looked at it: it is planned now. Look again, then decide."
                ),
                (status, words)
            );
        }
        Assert.Equal(HttpStatusCode.BadRequest, (await MatchingAsync($"deliveries/{delivery}/cancel", "seven")).Status);
        int now = (await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision");
        Assert.Equal(HttpStatusCode.OK, (await MatchingAsync($"deliveries/{delivery}/cancel", now)).Status);
    }

    [Fact]
    public async Task A_lease_changes_nothing_for_people_and_a_sending_does()
    {
        (Guid delivery, _) = await installation.DueAsync("Revised");
        int seen = (await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision");
        await installation.WriteAsync($"update deliveries set lease_until = now() where id = {delivery}");
        Assert.Equal(seen, (await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision"));
        await installation.PassAsync();
        Assert.True((await _ada.GetAsync($"deliveries/{delivery}")).Whole("revision") > seen);
    }

    [Fact]
    public async Task A_rescheduling_whose_new_delivery_went_out_is_not_taken_back()
    {
        (Guid channel, Guid category) = await ChannelAsync("sooner");
        Guid old = await PlannedAsync(channel, category, "Sooner", 600);
        JsonElement moved = await _ada.PostAsync($"deliveries/{old}/reschedule", In(5));
        Assert.Equal(old, moved.Id("deliveryId"));
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(old));
        JsonElement undone = await _ada.PostAsync($"changes/{moved.Id("changeSetId")}/undo");
        Assert.Equal(0, undone.Whole("undone"));
        Assert.Single(undone.List("kept"));
        await installation.MoveOnAsync(Duration.FromMinutes(600));
        await installation.PassAsync();
        Assert.Single(await installation.PostedAsync("hearth-sooner"));
    }

    [Fact]
    public async Task A_rescheduling_that_has_not_gone_out_is_taken_back_whole()
    {
        (Guid channel, Guid category) = await ChannelAsync("whole");
        Guid old = await PlannedAsync(channel, category, "Whole", 600);
        JsonElement before = await _ada.GetAsync($"deliveries/{old}");
        JsonElement moved = await _ada.PostAsync($"deliveries/{old}/reschedule", In(300));
        await _ada.PostAsync($"changes/{moved.Id("changeSetId")}/undo");
        Assert.Equal(old, moved.Id("deliveryId"));
        JsonElement back = await _ada.GetAsync($"deliveries/{old}");
        Assert.Equal(("planned", before.Text("date"), before.Text("time")), (back.Text("state"), back.Text("date"), back.Text("time")));
        // And moved again, after all.
        Assert.Equal(HttpStatusCode.OK, await RescheduleAsync(old, 400));
    }

    [Fact]
    public async Task A_cancelling_taken_back_after_its_time_sends_nothing_late()
    {
        (Guid channel, Guid category) = await ChannelAsync("late");
        Guid delivery = await PlannedAsync(channel, category, "Cancelled in time", 5);
        Guid act = (await _ada.PostAsync($"deliveries/{delivery}/cancel")).Id("changeSetId");
        await installation.MoveOnAsync(Duration.FromMinutes(10));
        JsonElement undone = await _ada.PostAsync($"changes/{act}/undo");
        Assert.Equal(
            ["A delivery whose time has passed does not come back: it would go out late. Reschedule the post."],
            undone.List("kept").Select(k => k.GetString())
        );
        await installation.PassAsync();
        Assert.Equal("cancelled", await _ada.StateAsync(delivery));
        Assert.Empty(await installation.PostedAsync("hearth-late"));
    }

    [Fact]
    public async Task Removing_a_post_takes_back_all_of_it_that_is_still_to_come_and_so_does_taking_an_import_back()
    {
        foreach (bool byImport in new[] { false, true })
        {
            (Guid channel, Guid category) = await ChannelAsync("rem" + byImport);
            Guid waiting = await PlannedAsync(channel, category, $"Waits {byImport}", 60),
                substitute = await PlannedAsync(channel, category, $"Stands by {byImport}", 90),
                planned = await PlannedAsync(channel, category, $"Planned {byImport}", 120);
            Guid post = (await _ada.GetAsync($"deliveries/{waiting}")).Id("postId");
            await installation.WriteAsync($"update deliveries set state = 'WaitingForApproval', post_id = {post} where id = {waiting}");
            await installation.WriteAsync($"update deliveries set state = 'Substitute', post_id = {post} where id = {substitute}");
            await installation.WriteAsync($"update deliveries set post_id = {post} where id = {planned}");
            if (byImport)
            {
                await using LarkDb db = Databases.Open(installation.Database);
                Id<Workspace> workspace = new(_ada.Workspace);
                var act = db.BeginAct(workspace, null, await installation.NowAsync(), new(ActCode.Told, "Imported"));
                act.Changes.Add(
                    new()
                    {
                        WorkspaceId = workspace,
                        ChangeSetId = act.Id,
                        Number = 0,
                        Kind = Data.Rows.ChangeKind.Added,
                        Entity = "post",
                        EntityId = post,
                    }
                );
                Guid run = Guid.NewGuid();
                db.ImportRuns.Add(
                    new()
                    {
                        WorkspaceId = workspace,
                        Id = new(run),
                        FileName = "x.csv",
                        SourceKey = "",
                        Plan = new(0, [], new Dictionary<string, Core.Imports.DateOrders>()),
                        Headers = "",
                        StartedAt = act.At,
                        State = Data.Rows.ImportState.Imported,
                        At = act.At,
                        Posts = 1,
                        Deliveries = 3,
                        ChangeSetId = act.Id,
                    }
                );
                await db.SaveChangesAsync();
                await _ada.PostAsync($"imports/{run}/take-back");
            }
            else
            {
                Assert.Equal(3, (await _ada.DeleteAsync($"posts/{post}")).Whole("cancelled"));
            }
            foreach (Guid delivery in new[] { waiting, substitute, planned })
                Assert.Equal("cancelled", await _ada.StateAsync(delivery));
        }
    }

    private async Task<(Guid Channel, Guid Category)> ChannelAsync(string handle)
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", handle);
        return (channel, await _ada.CategoryAsync("Ca" + handle, channel));
    }

    private async Task<Guid> PlannedAsync(Guid channel, Guid category, string text, int minutes) =>
        (await _ada.PlanAsync(installation, (await _ada.PostAsync(category, text)).Id(), minutes, channel))[0];

    private object In(int minutes, params Guid[] channels)
    {
        LocalDateTime local = (installation.NowAsync().Result + Duration.FromMinutes(minutes))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        return new
        {
            date = local.Date,
            time = local.TimeOfDay,
            channels,
        };
    }

    private async Task<HttpStatusCode> RescheduleAsync(Guid delivery, int minutes, int? seen = null)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, _ada.Path($"deliveries/{delivery}/reschedule"));
        request.Content = JsonContent.Create(In(minutes), options: LarkJson.Options);
        if (seen is not null)
            request.Headers.TryAddWithoutValidation("If-Match", $"\"{seen}\"");
        using HttpResponseMessage answer = await _ada.Http.SendAsync(request);
        return answer.StatusCode;
    }

    private async Task<HttpStatusCode> ActAsync(string path)
    {
        using HttpResponseMessage answer = await _ada.Http.PostAsJsonAsync(_ada.Path(path), new { });
        return answer.StatusCode;
    }

    private async Task<(HttpStatusCode Status, string Words)> MatchingAsync(string path, object revision)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, _ada.Path(path));
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        using HttpResponseMessage answer = await _ada.Http.SendAsync(request);
        JsonElement body = JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync());
        return (answer.StatusCode, body.TryGetProperty("detail", out JsonElement detail) ? detail.GetString()! : "");
    }
}
