using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Imports;

/// <summary>An import that several servers know of, one of which may die; and what else goes on meanwhile.</summary>
public sealed class ImportingServersTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Two_servers_know_the_same_rows_and_only_one_puts_them_into_the_bank()
    {
        await using WebApplication second = await installation.StartServerAsync();
        using ApiClient there = _ada.At(second.Urls.Single());
        (Guid import, string mark) = await BeginAsync(300);
        await there.CompleteAsync(import);
        for (int i = 0; i < 6; i++)
        {
            ApiClient who = i % 2 == 0 ? _ada : there;
            await who.EditRowsAsync(
                import,
                new { rows = new[] { 2 + i } },
                new { values = new Dictionary<string, string> { ["post.title"] = $"{mark} {i}" } }
            );
        }
        foreach (ApiClient who in new[] { _ada, there })
        {
            JsonElement[] rows = await who.ImportRowsAsync(import);
            Assert.Equal(Enumerable.Range(0, 6).Select(i => $"{mark} {i}"), rows.Take(6).Select(r => r.Text("title")));
        }

        object seen = new { revision = (await there.CompleteAsync(import)).Whole("revision") };
        await Task.WhenAll(
            _ada.TroubleAsync(HttpMethod.Post, $"imports/{import}/commit", seen),
            there.TroubleAsync(HttpMethod.Post, $"imports/{import}/commit", seen)
        );
        foreach (ApiClient who in new[] { _ada, there })
            await who.EndOfCommitAsync(import);
        Assert.Equal("imported", (await _ada.GetAsync($"imports/{import}")).GetProperty("line").Text("state"));
        // Whoever presses once more finds it done.
        await there.CommitImportAsync(import);
        Assert.Equal(300, (await _ada.GetAsync($"posts?search={mark}")).Whole("total"));
    }

    [Fact]
    public async Task A_server_killed_in_the_middle_of_an_import_leaves_nothing_and_another_does_it()
    {
        await using ServerProcess dying = new(installation);
        await dying.AnswersAsync();
        using ApiClient there = _ada.At(dying.Address);
        (Guid import, string mark) = await BeginAsync(3_000);
        await there.PostAsync($"imports/{import}/commit", new { revision = (await there.CompleteAsync(import)).Whole("revision") });
        int done = 0;
        while (done is 0 or 3_000)
        {
            JsonElement commit = (await there.GetAsync($"imports/{import}")).GetProperty("commit");
            Assert.NotEqual(JsonValueKind.Null, commit.ValueKind);
            done = commit.Whole("done");
        }
        await dying.KillAsync();

        Assert.Equal("open", (await _ada.GetAsync($"imports/{import}")).GetProperty("line").Text("state"));
        Assert.Equal(0, (await _ada.GetAsync($"posts?search={mark}")).Whole("total"));
        Assert.Equal(3_000, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("posts"));
        Assert.Equal(3_000, (await _ada.GetAsync($"posts?search={mark}")).Whole("total"));
    }

    [Fact]
    public async Task What_a_dead_server_s_connection_holds_for_a_moment_is_waited_for()
    {
        (Guid import, string mark) = await BeginAsync(20);
        JsonElement view = await _ada.CompleteAsync(import);
        await using (LarkDb db = Databases.Open(installation.Database))
        {
            await using var holding = await db.Database.BeginTransactionAsync();
            await db.Database.ExecuteSqlAsync($"select 1 from import_runs where id = {import} for update");
            await _ada.PostAsync($"imports/{import}/commit", new { revision = view.Whole("revision") });
            await Task.Delay(300);
            Assert.NotEqual(JsonValueKind.Null, (await _ada.GetAsync($"imports/{import}")).GetProperty("commit").ValueKind);
        }
        Assert.Equal(20, (await _ada.EndOfCommitAsync(import)).GetProperty("line").Whole("posts"));
        Assert.Equal(20, (await _ada.GetAsync($"posts?search={mark}")).Whole("total"));
    }

    [Fact]
    public async Task Sending_waits_for_no_import()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "meanwhile");
        Guid category = await _ada.CategoryAsync("Meanwhile", channel);
        Guid post = (await _ada.PostAsync(category, "Goes out meanwhile", picture: await _ada.PictureAsync())).Id();
        await _ada.PlanAsync(installation, post, 5, channel);
        (Guid import, string mark) = await BeginAsync(200);
        JsonElement view = await _ada.CompleteAsync(import);
        await installation.MoveOnAsync(Duration.FromMinutes(6));

        // A report line of another hand: the import waits for it when all its posts are written.
        await using (LarkDb db = Databases.Open(installation.Database))
        {
            await using var holding = await db.Database.BeginTransactionAsync();
            await db.Database.ExecuteSqlAsync($"set local session_replication_role = replica");
            await db.Database.ExecuteSqlAsync(
                $"""
                insert into imported_rows (workspace_id, import_id, row, "end", words)
                values ({_ada.Workspace}, {import}, 2, 'Added', '')
                """
            );
            await _ada.PostAsync($"imports/{import}/commit", new { revision = view.Whole("revision") });
            while ((await _ada.GetAsync($"imports/{import}")).GetProperty("commit").Whole("done") < 200)
                await Task.Delay(10);
            await installation.SendDueAsync();
            Assert.Equal(["Goes out meanwhile"], await installation.PostedAsync("hearth-meanwhile"));
            Assert.Equal(1, await installation.ReadAsync(d => d.Deliveries.CountAsync(x => x.State == DeliveryState.Sent)));
            Assert.NotEqual(JsonValueKind.Null, (await _ada.GetAsync($"imports/{import}")).GetProperty("commit").ValueKind);
        }
        Assert.Equal("imported", (await _ada.EndOfCommitAsync(import)).GetProperty("line").Text("state"));
        Assert.Equal(200, (await _ada.GetAsync($"posts?search={mark}")).Whole("total"));
    }

    private async Task<(Guid Import, string Mark)> BeginAsync(int rows)
    {
        string mark = "Mk" + Guid.NewGuid().ToString("n")[..8];
        await _ada.CategoryAsync(mark);
        string csv =
            "title,text,category\n"
            + string.Join('\n', Enumerable.Range(0, rows).Select(i => $"{mark} title {i},{Guid.NewGuid()} {i},{mark}"));
        return (await _ada.BeginImportAsync(csv), mark);
    }
}
