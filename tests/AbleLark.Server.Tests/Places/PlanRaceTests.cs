using System.Net;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Tests.Places;

/// <summary>Each pair of acts on one delivery at once, at two servers: one gets through, the other is told, nothing is half done.</summary>
public sealed class PlanRaceTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;
    private Guid _channel;
    private Guid _taker;
    private Guid[] _slots = [];
    private LocalDate _today;

    /// <summary>A delivery, as everybody saw it, and one to exchange it with.</summary>
    private sealed record Seen(Guid Id, int Revision, Guid Post, Guid Other, int OtherRevision, Guid OtherPost, LocalDate Date);

    private static string Iso(LocalDate date) => LocalDatePattern.Iso.Format(date);

    private Dictionary<string, Func<ApiClient, Seen, Task<HttpStatusCode>>> Acts =>
        new()
        {
            ["cancel"] = (who, d) => MatchingAsync(who, $"deliveries/{d.Id}/cancel", d, new { }),
            ["reschedule"] = (who, d) =>
                MatchingAsync(who, $"deliveries/{d.Id}/reschedule", d, new { date = Iso(d.Date.PlusDays(40)), time = "10:10:00" }),
            ["take"] = (who, d) => MatchingAsync(who, $"deliveries/{d.Id}/take", d, new { postId = _taker }),
            ["shift"] = (who, d) => ManyAsync(who, "shift", d),
            ["cancel several"] = (who, d) => ManyAsync(who, "cancel", d),
            ["exchange"] = (who, d) =>
                AnswerAsync(
                    who,
                    "line-up/exchange",
                    new
                    {
                        channelId = _channel,
                        one = Side(d.Id, d.Revision, d.Post),
                        other = Side(d.Other, d.OtherRevision, d.OtherPost),
                    }
                ),
        };

    [Fact]
    public async Task Of_each_pair_of_acts_at_two_servers_one_gets_through_and_can_be_taken_back()
    {
        await using WebApplication second = await _installation.StartServerAsync();
        using ApiClient there = _ada.At(second.Urls.Single());
        Queue<Seen> deliveries = await PlanAsync();
        string[] names = [.. Acts.Keys];
        for (int i = 0; i < names.Length; i++)
        for (int j = i; j < names.Length; j++)
        {
            Seen seen = deliveries.Dequeue();
            string before = await StandingAsync(seen);
            int acts = await CountActsAsync();
            HttpStatusCode[] answers = await Task.WhenAll(Acts[names[i]](_ada, seen), Acts[names[j]](there, seen));
            string pair = $"{names[i]} and {names[j]}: {string.Join(", ", answers)}";
            Assert.True(answers.Count(a => a == HttpStatusCode.OK) == 1, pair);
            Assert.True(answers.Any(a => a is HttpStatusCode.PreconditionFailed or HttpStatusCode.Conflict), pair);
            Assert.NotEqual(before, await StandingAsync(seen));
            Assert.Equal(acts + 1, await CountActsAsync());
            Guid act = (await _ada.GetAsync("changes"))[0].Id("id");
            JsonElement undone = await _ada.PostAsync($"changes/{act}/undo");
            Assert.Empty(undone.List("kept"));
            Assert.Equal((pair, before), (pair, await StandingAsync(seen)));
        }
    }

    /// <summary>Whatever is done, in whatever order: taken back from the last one on, each row is as it was.</summary>
    [Fact]
    public async Task Acts_of_every_kind_taken_back_one_after_the_other_leave_every_row_as_it_was()
    {
        Queue<Seen> deliveries = await PlanAsync();
        string[] names = [.. Acts.Keys];
        Random chance = new(20261202);
        Stack<(Guid Act, string Name, string Before)> done = [];
        List<Seen> seen = [.. deliveries.Take(6)];
        for (int i = 0; i < 24; i++)
        {
            Seen one = await NowAsync(seen[chance.Next(seen.Count)]);
            string before = await AllAsync();
            string name = names.Concat(["skip", "move on", "note", "to the front"]).ElementAt(chance.Next(names.Length + 4));
            if (Acts.TryGetValue(name, out var act))
                await act(_ada, one);
            else if (name == "to the front")
                await AnswerAsync(
                    _ada,
                    "line-up/moves",
                    new
                    {
                        postId = one.Post,
                        channels = new[] { _channel },
                        side = "front",
                    }
                );
            else
                await DecideAsync(name, chance.Next(16, 26));
            // What can't be done just now changes nothing.
            if (before != await AllAsync())
                done.Push(((await _ada.GetAsync("changes"))[0].Id("id"), name, before));
        }
        Assert.True(done.Select(d => d.Name).Distinct().Count() > 6, string.Join(", ", done.Select(d => d.Name)));
        while (done.TryPop(out (Guid Act, string Name, string Before) last))
        {
            JsonElement undone = await _ada.PostAsync($"changes/{last.Act}/undo");
            Assert.Equal((last.Name, ""), (last.Name, string.Join(" ", undone.List("kept").Select(k => k.GetString()))));
            Assert.Equal((last.Name, last.Before), (last.Name, await AllAsync()));
        }
    }

    private Task<HttpStatusCode> DecideAsync(string what, int days)
    {
        string date = Iso(_today.PlusDays(days));
        object edit = what switch
        {
            "skip" => new { isSkipped = true },
            "note" => new { note = $"Said of {date}" },
            _ => new { movedTo = $"{Iso(_today.PlusDays(days))}T18:20:00" },
        };
        return StatusAsync();

        async Task<HttpStatusCode> StatusAsync()
        {
            string path = $"line-up/occurrences/{_slots[days % _slots.Length]}/{date}";
            int revision = (await _ada.GetAsync(path)).Whole("revision");
            return await MatchingAsync(_ada, HttpMethod.Patch, path, revision, edit);
        }
    }

    /// <summary>As it is by now.</summary>
    private async Task<Seen> NowAsync(Seen seen)
    {
        (JsonElement one, JsonElement other) = (
            await _ada.GetAsync($"deliveries/{seen.Id}"),
            await _ada.GetAsync($"deliveries/{seen.Other}")
        );
        return seen with
        {
            Revision = one.Whole("revision"),
            Post = one.Id("postId"),
            OtherRevision = other.Whole("revision"),
            OtherPost = other.Id("postId"),
        };
    }

    /// <summary>What an act may change in the workspace, but for what grows with each change. Of what came new and was taken back
    /// nothing is left that goes out.</summary>
    private Task<string> AllAsync() =>
        _installation.ReadAsync(async db =>
            string.Join(
                "\n",
                await db
                    .Database.SqlQuery<string>(
                        $"""
                        select x.row as "Value" from (
                            select (to_jsonb(d) - 'revision')::text as row from deliveries d
                                where d.workspace_id = {_ada.Workspace} and not (d.state = 'Cancelled' and d.origin_kind = 'ExactTime')
                            union all select (to_jsonb(d) - 'revision')::text from decisions d where d.workspace_id = {_ada.Workspace}
                            union all select to_jsonb(m)::text from line_moves m where m.workspace_id = {_ada.Workspace}
                        ) x order by 1
                        """
                    )
                    .ToListAsync()
            )
        );

    /// <summary>All of both but what grows with each change.</summary>
    private Task<string> StandingAsync(Seen seen) =>
        _installation.ReadAsync(async db =>
            string.Join(
                "\n",
                await db
                    .Database.SqlQuery<string>(
                        $"""
                        select (to_jsonb(d) - 'revision')::text as "Value" from deliveries d
                        where d.id in ({seen.Id}, {seen.Other}) or d.instead_of = {seen.Id} order by d.id
                        """
                    )
                    .ToListAsync()
            )
        );

    private Task<int> CountActsAsync() =>
        _installation.ReadAsync(db => db.ChangeSets.CountAsync(c => c.WorkspaceId == new Id<Workspace>(_ada.Workspace)));

    private async Task<Queue<Seen>> PlanAsync()
    {
        _channel = await _installation.ConnectAsync(_ada, "jot", $"races {Guid.NewGuid():N}");
        Guid category = await _ada.CategoryAsync($"Of races {Guid.NewGuid():N}", _channel);
        for (int i = 0; i < 60; i++)
            await _ada.PostAsync(category, $"Race {i} of {category}");
        List<Guid> slots = [];
        foreach (string time in new[] { "06:05", "09:05", "12:05", "15:05" })
            slots.Add(await _ada.SlotAsync(category, time, EveryDay, _channel));
        _slots = [.. slots];
        Guid apart = await _ada.CategoryAsync($"Apart from {Guid.NewGuid():N}", _channel);
        _taker = (await _ada.PostAsync(apart, "Takes a place")).Id();
        _today = (await _installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        await _ada.PostAsync("line-up/schedule", new { through = Iso(_today.PlusDays(13)) });
        JsonElement[] planned =
        [
            .. (await _ada.GetAsync($"line-up?from={Iso(_today.PlusDays(1))}&to={Iso(_today.PlusDays(13))}"))
                .List("entries")
                .Where(e => e.Id("channelId") == _channel && e.Text("kind") == "delivery"),
        ];
        return new(
            planned
                .Chunk(2)
                .Where(c => c.Length == 2)
                .Select(c => new Seen(
                    c[0].Id("deliveryId"),
                    c[0].Whole("revision"),
                    c[0].Id("postId"),
                    c[1].Id("deliveryId"),
                    c[1].Whole("revision"),
                    c[1].Id("postId"),
                    LocalDatePattern.Iso.Parse(c[0].Text("date")).Value
                ))
        );
    }

    private static Task<HttpStatusCode> ManyAsync(ApiClient who, string act, Seen d) =>
        AnswerAsync(
            who,
            "line-up/acts",
            new
            {
                act,
                days = 50,
                minutes = 3,
                deliveries = new[] { new { id = d.Id, revision = d.Revision } },
                places = Array.Empty<object>(),
            }
        );

    private static object Side(Guid delivery, int revision, Guid post) =>
        new
        {
            delivery = new { id = delivery, revision },
            place = (object?)null,
            postId = post,
        };

    private static async Task<HttpStatusCode> AnswerAsync(ApiClient who, string path, object body) =>
        (await who.TroubleAsync(HttpMethod.Post, path, body)).Status;

    private static Task<HttpStatusCode> MatchingAsync(ApiClient who, string path, Seen seen, object body) =>
        MatchingAsync(who, HttpMethod.Post, path, seen.Revision, body);

    private static async Task<HttpStatusCode> MatchingAsync(ApiClient who, HttpMethod method, string path, int revision, object body)
    {
        using HttpRequestMessage request = new(method, who.Path(path))
        {
            Content = System.Net.Http.Json.JsonContent.Create(body, body.GetType(), options: LarkJson.Options),
        };
        request.Headers.TryAddWithoutValidation("If-Match", $"\"{revision}\"");
        using HttpResponseMessage answer = await who.Http.SendAsync(request);
        return answer.StatusCode;
    }
}
