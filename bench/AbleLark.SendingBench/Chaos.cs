using System.Diagnostics;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.SendingBench;

/// <summary>
/// Two servers, the stand-in networks and the database are killed again and again while a thousand deliveries go out over networks that
/// honour keys and
/// networks that don't, with answers that are lost, late or broken. Afterwards each delivery's state is held against what is on the
/// network.
/// </summary>
internal static class Chaos
{
    private static readonly TimeSpan Most = TimeSpan.FromMinutes(8);
    private static readonly string[] Faults = ["loseAnswer", "late", "down", "error", "slow", "rateLimited"];

    public static async Task RunAsync(LineUpPlace place, double loop)
    {
        await using Installation installation = await Installation.StartAsync(
            place,
            new Dictionary<string, Manners>
            {
                ["hearth"] = new(HonoursKeys: true, LatencyMilliseconds: 30, LateSeconds: 4),
                ["jot"] = new(HonoursKeys: false, AppearsWithinSeconds: 8, LatencyMilliseconds: 30, LateSeconds: 4),
            }
        );
        Instant due = Clock.Now + Duration.FromSeconds(25);
        Instant[] times = [.. Enumerable.Range(0, 50).Select(i => due + Duration.FromSeconds(1.5 * i))];
        List<Id<Channel>> channels =
        [
            .. await installation.FillAsync("keyed", "hearth", 10, times),
            .. await installation.FillAsync("unkeyed", "jot", 10, times),
        ];
        int kills = await PlayAsync(installation, due);
        await JudgeAsync(installation, channels, kills, loop);
    }

    private static async Task<int> PlayAsync(Installation installation, Instant due)
    {
        Random chance = new(11);
        string[] settings = ["--Lark:LeaseSeconds=6", "--Lark:NetworkTimeoutSeconds=2"];
        Process[] servers = [installation.StartServer(settings), installation.StartServer(settings)];
        Process? standIns = null;
        Stopwatch watch = Stopwatch.StartNew();
        int kills = 0;
        while (watch.Elapsed < Most)
        {
            await Task.Delay(TimeSpan.FromSeconds(1.5));
            if (Clock.Now < due)
                continue;
            if (await LeftAsync(installation) == 0)
                break;
            bool calm = Clock.Now > due + Duration.FromSeconds(120);
            if (calm)
                continue;
            for (int i = 0; i < 6; i++)
                await installation.OrderAsync(
                    Faults[chance.Next(Faults.Length)],
                    1,
                    $"{(chance.Next(2) == 0 ? "hearth-keyed" : "jot-unkeyed")}-{chance.Next(10)}"
                );
            switch (chance.Next(12))
            {
                case < 5:
                    int which = chance.Next(2);
                    await Installation.KillAsync(servers[which]);
                    servers[which] = installation.StartServer(settings);
                    break;
                case < 7 when standIns is not null:
                    await Installation.KillAsync(standIns);
                    standIns = await installation.StartStandInsAsync();
                    break;
                case < 7:
                    // The first one was started by the installation; it is taken over from here on.
                    standIns = await installation.ReplaceReplacementsAsync();
                    break;
                case 7:
                    await installation.RestartPostgresAsync();
                    break;
                default:
                    continue;
            }
            kills++;
        }
        return kills;
    }

    private static async Task<int> LeftAsync(Installation installation)
    {
        try
        {
            await using LarkDb db = installation.Open();
            return await db.Deliveries.CountAsync(d => d.State == DeliveryState.Planned || d.State == DeliveryState.Sending);
        }
        catch (Exception e) when (e is Npgsql.NpgsqlException or InvalidOperationException)
        {
            return -1;
        }
    }

    private static async Task JudgeAsync(Installation installation, List<Id<Channel>> channels, int kills, double loop)
    {
        // What a network does late has been done by now.
        await Task.Delay(TimeSpan.FromSeconds(5));
        await using LarkDb db = installation.Open();
        var deliveries = await db
            .Deliveries.Where(d => channels.Contains(d.ChannelId))
            .Join(db.Posts, d => d.PostId, p => p.Id, (d, p) => new { d.State, p.Title })
            .ToListAsync();
        List<string> posted = await db.Database.SqlQuery<string>($"select text as \"Value\" from stand_ins.posts").ToListAsync();
        Dictionary<string, int> there = posted.GroupBy(t => t).ToDictionary(g => g.Key, g => g.Count());
        int Times(string title) => there.GetValueOrDefault(title);
        int doubled = deliveries.Count(d => Times(d.Title) > 1);
        int lost = deliveries.Count(d => d.State == DeliveryState.Sent && Times(d.Title) == 0);
        int untrue = deliveries.Count(d =>
            d.State is DeliveryState.Refused or DeliveryState.Missed or DeliveryState.Planned && Times(d.Title) > 0
        );
        int unended = deliveries.Count(d => d.State is DeliveryState.Planned or DeliveryState.Sending);
        string states = string.Join(
            ", ",
            deliveries.GroupBy(d => d.State).OrderByDescending(g => g.Count()).Select(g => $"{g.Count()} {g.Key}")
        );
        Line.Print(
            $"chaos: {deliveries.Count:N0} deliveries, {kills} kills of servers, networks and database, keys honoured and ignored",
            $"{doubled} doubled, {lost} lost, {untrue} in an untrue state, {unended} without an end ({states})",
            loop,
            "0 doubled, 0 lost, every state true",
            doubled + lost + untrue + unended == 0
        );
    }
}
