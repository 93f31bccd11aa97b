using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.SendingBench;

internal static class Clock
{
    public static Instant Now => SystemClock.Instance.GetCurrentInstant();

    /// <summary>The value that this share of the ordered ones does not pass.</summary>
    public static double Percentile(this List<double> ordered, double share) =>
        ordered[Math.Min(ordered.Count - 1, (int)Math.Ceiling(share * ordered.Count) - 1)];
}

/// <summary>Two thousand texts due in one minute over twenty channels of a network that takes 300 ms for each; one server
/// process.</summary>
internal static class Throughput
{
    private const int Channels = 20;
    private const int Each = 100;

    public static async Task RunAsync(LineUpPlace place, double loop)
    {
        await using Installation installation = await Installation.StartAsync(
            place,
            new Dictionary<string, Manners> { ["hearth"] = new(LatencyMilliseconds: 300) }
        );
        installation.StartServer();
        Instant due = Clock.Now + Duration.FromSeconds(60);
        List<Id<Channel>> channels = await installation.FillAsync(
            "minute",
            "hearth",
            Channels,
            [.. Enumerable.Repeat(due, Each).Select((d, i) => d + Duration.FromMilliseconds(i))]
        );
        bool all = await installation.UntilSentAsync(channels, Channels * Each, TimeSpan.FromSeconds(240));
        List<double> late = await installation.LatenessAsync(channels);
        double last = late.Count > 0 ? late[^1] : double.NaN;
        Line.Print(
            $"{Channels * Each:N0} texts due at once over {Channels} channels, 300 ms each, one process: the last",
            $"{last:0.0} s after its time (median {(late.Count > 0 ? late.Percentile(0.5) : double.NaN):0.0} s; {late.Count} sent)",
            loop,
            "within 60 s",
            all && last <= 60
        );
    }
}

/// <summary>One network gives no answer at all; how late are the others?</summary>
internal static class Silence
{
    public static async Task RunAsync(LineUpPlace place, double loop)
    {
        await using Installation installation = await Installation.StartAsync(
            place,
            new Dictionary<string, Manners> { ["hearth"] = new(LatencyMilliseconds: 100), ["jot"] = new() }
        );
        installation.StartServer();
        Instant due = Clock.Now + Duration.FromSeconds(30);
        await installation.FillAsync("silent", "jot", 20, [.. Enumerable.Range(0, 5).Select(i => due + Duration.FromSeconds(10 * i))]);
        List<Id<Channel>> others = await installation.FillAsync(
            "others",
            "hearth",
            10,
            [.. Enumerable.Range(0, 60).Select(i => due + Duration.FromSeconds(i))]
        );
        for (int c = 0; c < 20; c++)
            await installation.OrderAsync("silent", 1000, $"jot-silent-{c}");
        bool all = await installation.UntilSentAsync(others, 600, TimeSpan.FromSeconds(180));
        List<double> late = await installation.LatenessAsync(others);
        Line.Print(
            "one network silent: how late the others' 600 deliveries are, 95th percentile",
            $"{(late.Count > 0 ? late.Percentile(0.95) : double.NaN):0.0} s (latest {(late.Count > 0 ? late[^1] : double.NaN):0.0} s; "
                + $"{late.Count} sent)",
            loop,
            "at most 5 s",
            all && late.Percentile(0.95) <= 5
        );
    }
}

/// <summary>Thousands of figures are to be read while deliveries are due.</summary>
internal static class FiguresBeside
{
    public static async Task RunAsync(LineUpPlace place, double loop)
    {
        double without = await LateAsync(place, figures: false);
        double with = await LateAsync(place, figures: true);
        Line.Print(
            "how late 300 deliveries are while figures of 20,000 are read, 95th percentile",
            $"{with:0.0} s (with no figures to read {without:0.0} s)",
            loop,
            "at most 2 s more",
            with <= without + 2
        );
    }

    private static async Task<double> LateAsync(LineUpPlace place, bool figures)
    {
        await using Installation installation = await Installation.StartAsync(
            place,
            new Dictionary<string, Manners> { ["hearth"] = new(LatencyMilliseconds: 100), ["jot"] = new(LatencyMilliseconds: 100) }
        );
        await installation.FillAsync(
            "read",
            "jot",
            10,
            [.. Enumerable.Repeat(Clock.Now - Duration.FromHours(2), 2_000).Select((t, i) => t - Duration.FromMinutes(i))]
        );
        await using (LarkDb db = installation.Open())
        {
            await db.Database.ExecuteSqlAsync($"update deliveries set state = 'Sent', sent_at = at, remote_id = id::text");
            // They are on the network, so that what is told of them is kept.
            await db.Database.ExecuteSqlAsync(
                $"""
                insert into stand_ins.posts (id, network, account_id, key, text, media, created_at)
                select d.remote_id, c.network, c.account, d.remote_id, 'Read', array[]::text[], d.at
                from deliveries d join channels c on c.workspace_id = d.workspace_id and c.id = d.channel_id
                """
            );
        }
        // A server checks all posts first where it finds other rules than they were checked by, as here: that isn't measured.
        installation.StartServer();
        await installation.UntilCheckedAsync(TimeSpan.FromSeconds(180));
        Instant due = Clock.Now + Duration.FromSeconds(10);
        List<Id<Channel>> sent = await installation.FillAsync(
            "sent",
            "hearth",
            10,
            [.. Enumerable.Range(0, 30).Select(i => due + Duration.FromSeconds(0.5 * i))]
        );
        if (figures)
        {
            await using LarkDb db = installation.Open();
            await db.Database.ExecuteSqlAsync($"update deliveries set next_reading_at = {due} where state = 'Sent'");
        }
        await installation.UntilSentAsync(sent, 300, TimeSpan.FromSeconds(120));
        List<double> late = await installation.LatenessAsync(sent);
        return late.Count < 300 ? double.PositiveInfinity : late.Percentile(0.95);
    }
}
