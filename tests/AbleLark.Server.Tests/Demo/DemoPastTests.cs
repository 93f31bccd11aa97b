using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Damage;
using AbleLark.Server.Demo;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.Demo;

/// <summary>The demo's past, made by whole days, against the same days lived through instant by instant.</summary>
[Trait("Goes", "over-days")]
public sealed class DemoPastTests
{
    private sealed record Out(Instant At, string Channel, string Post, DeliveryState State);

    private static CancellationToken Cancellation => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_past_by_whole_days_is_the_one_that_the_clock_would_have_lived_through()
    {
        await using TestInstallation byDays = new();
        Instant now = await MakeAsync(byDays, days: 32, stillToGo: 0);
        await using TestInstallation byTheClock = new();
        await MakeAsync(byTheClock, days: 32, stillToGo: 3);
        await LiveOnAsync(byTheClock);
        IReadOnlyList<Out> sent = await SentAsync(byDays);
        Assert.True(sent.Count > 20, $"{sent.Count} deliveries");
        Assert.Equal(sent, await SentAsync(byTheClock));
        await IsOnTheNetworksAndWasReadAsync(byDays, now);
        await NoneIsCalledDamagedAsync(byDays);
    }

    /// <summary>What the product itself wrote is sound, whoever looks.</summary>
    private static async Task NoneIsCalledDamagedAsync(TestInstallation installation)
    {
        await using AsyncServiceScope scope = installation.Services.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        DamagedRows rows = scope.ServiceProvider.GetRequiredService<DamagedRows>();
        foreach (Id<Workspace> workspace in await db.Workspaces.Select(w => w.Id).ToListAsync(Cancellation))
            await DamageSearch.RunAsync(db, workspace, rows, SystemClock.Instance.GetCurrentInstant(), Cancellation);
        Assert.Empty(await db.DamagedRows.Select(d => $"{d.Kind} {d.Field}: {d.Words}").ToListAsync(Cancellation));
    }

    private static async Task IsOnTheNetworksAndWasReadAsync(TestInstallation installation, Instant now)
    {
        await using LarkDb db = Databases.Open(installation.Database);
        // What was made on a page itself was found when the past was over.
        List<Delivery> past = await db.Deliveries.Where(d => d.At <= now && d.OriginKind != OriginKind.Outside).ToListAsync(Cancellation);
        Assert.True(past.Count > 80, $"{past.Count} deliveries");
        // One was to be refused for its repeated text, by the network's own check.
        Delivery refused = Assert.Single(past, d => d.State is not (DeliveryState.Sent or DeliveryState.PostItYourself));
        Assert.Equal((DeliveryState.Refused, "The same text was posted within 30 days."), (refused.State, refused.Trouble));
        var attempts = (await db.DeliveryAttempts.ToListAsync(Cancellation)).ToLookup(a => a.DeliveryId);
        var readings = (await db.Readings.ToListAsync(Cancellation)).ToLookup(r => r.DeliveryId);
        var ages = (await db.AgeFigures.ToListAsync(Cancellation)).ToLookup(a => a.DeliveryId);
        Assert.Contains(past, d => d.State == DeliveryState.PostItYourself);
        // What fell due just before the demo was made is read by the clock that runs from then on.
        Instant settled = now - Duration.FromMinutes(5);
        foreach (Delivery sent in past.Where(d => d.State == DeliveryState.Sent))
        {
            Assert.Equal(sent.At, sent.SentAt);
            int steps = 1 + sent.Sent!.AllFiles().Count() + (sent.Sent.FirstComment is null ? 0 : 1);
            steps += sent.Sent.Parts.Count;
            // What a person posted was called for by nobody here.
            int calls = attempts[sent.Id].Count(a => a.End == AttemptEnd.Done);
            Assert.True(calls == steps || calls == 0, $"{calls} calls for {steps} steps");
            Assert.Equal(ReadingTimes.Until(sent.At, settled), readings[sent.Id].Select(r => r.At).Order().Where(at => at <= settled));
            Assert.Equal(
                FigureAges.Kept.Select(k => k.Hours()).Where(h => sent.At + Duration.FromHours(h) <= settled),
                ages[sent.Id].Select(a => a.AgeHours).Order().Where(h => sent.At + Duration.FromHours(h) <= settled)
            );
            Assert.True(sent.NextReadingAt is null || sent.NextReadingAt > settled);
        }
        // The page of the newest says what was sent.
        Delivery newest = past.Where(d => d.State == DeliveryState.Sent).MaxBy(d => d.At)!;
        using HttpClient browser = new();
        string page = System.Net.WebUtility.HtmlDecode(await browser.GetStringAsync(newest.Address, Cancellation));
        Assert.Contains(newest.Sent!.Text[..20], page, StringComparison.Ordinal);
    }

    /// <summary>
    /// Goes on with the jump that is under way to its end, instant by instant. A step that doesn't move waits for something that is still
    /// being tried: a network that didn't answer in time on a busy machine.
    /// </summary>
    private static async Task LiveOnAsync(TestInstallation installation)
    {
        for (int i = 0; i < 2000; i++)
        {
            await installation.PassAsync();
            await using AsyncServiceScope scope = installation.Services.CreateAsyncScope();
            DemoClock clock = scope.ServiceProvider.GetRequiredService<DemoClock>();
            if ((await clock.ReadAsync(Cancellation)).Target is null)
                return;
            if (!await clock.StepAsync(Cancellation))
                await Task.Delay(100, Cancellation);
        }
        Assert.Fail("The jump didn't come to its end.");
    }

    /// <summary>What went out on two channels whose lines hang neither on chance nor on what others earned.</summary>
    private static async Task<IReadOnlyList<Out>> SentAsync(TestInstallation installation)
    {
        await using LarkDb db = Databases.Open(installation.Database);
        var found = await db
            .Deliveries.Join(
                db.Channels,
                d => new { d.WorkspaceId, Id = d.ChannelId },
                c => new { c.WorkspaceId, c.Id },
                (d, c) => new { Delivery = d, c.Handle }
            )
            .Join(
                db.Posts,
                d => new { d.Delivery.WorkspaceId, Id = d.Delivery.PostId },
                p => new { p.WorkspaceId, p.Id },
                (d, p) => new Out(d.Delivery.At, d.Handle, p.Title, d.Delivery.State)
            )
            .ToListAsync(Cancellation);
        return [.. found.Where(o => o.Channel is "huthut" or "marram.island").OrderBy(o => o.At).ThenBy(o => o.Channel)];
    }

    /// <summary>Makes the demo in an installation of its own; returns the time at which it was made.</summary>
    private static async Task<Instant> MakeAsync(TestInstallation installation, int days, int stillToGo)
    {
        await installation.InitializeAsync();
        await using AsyncServiceScope scope = installation.Services.CreateAsyncScope();
        DemoData demo = scope.ServiceProvider.GetRequiredService<DemoData>();
        Instant begins = await installation.NowAsync();
        await scope.ServiceProvider.GetRequiredService<DemoBeginning>().SetClockAsync(begins, stillToGo, Cancellation);
        await demo.MakeAsync(begins, days, stillToGo, Cancellation);
        return await installation.NowAsync();
    }
}
