using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Server.LineUps;
using AbleLark.Server.Media;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>
/// Lets the demo live through its past by whole days: what each day schedules, sends and earns is worked out in memory by the same rules
/// as on any other day, the stand-in networks are asked once a day, and all is written at once at the end.
/// </summary>
public sealed partial class DemoPast(
    LarkDb db,
    NetworkBook networks,
    StepsOf stepsOf,
    LineUpReader reader,
    SentFiles sentFiles,
    StandInControl standIns,
    ILogger<DemoPast> log
)
{
    /// <summary>How often it says how far it has come.</summary>
    private const int DaysBetweenWords = 7;

    /// <param name="workspace">A tracked one; what it begins with is saved.</param>
    /// <param name="given">Deliveries that a person planned, not saved yet.</param>
    public async Task LiveAsync(
        Workspace workspace,
        IReadOnlyList<Delivery> given,
        Instant start,
        Instant end,
        CancellationToken cancellation
    )
    {
        long began = System.Diagnostics.Stopwatch.GetTimestamp();
        Dictionary<Id<MediaFile>, MediaFile> files = await db
            .Media.AsNoTracking()
            .Where(m => m.WorkspaceId == workspace.Id)
            .ToDictionaryAsync(m => m.Id, cancellation);
        PastLife life = new(workspace, await reader.ReadAsync(workspace, cancellation), await PostsAsync(workspace, cancellation), end)
        {
            Networks = networks,
            StepsOf = stepsOf,
            Media = files,
            Sources = await db.SourcesAsync(workspace.Id, files.Keys, cancellation),
        };
        life.Deliveries.AddRange(given);
        List<Instant> days = [.. Days(workspace, start, end)];
        for (int i = 0; i < days.Count; i++)
        {
            await SendAsync(workspace, life, days[i], cancellation);
            life.Schedule(days[i]);
            if (i % DaysBetweenWords == 0)
                LogDay(i, days.Count);
        }
        await SendAsync(workspace, life, end, cancellation);
        db.Deliveries.AddRange(life.Deliveries.Except(given));
        db.PassedPlaces.AddRange(life.Passed.Values);
        await db.SaveChangesAsync(cancellation);
        await db.CopyAsync(life.Attempts, cancellation);
        await db.CopyAsync(life.Readings, cancellation);
        await db.CopyAsync(life.Ages, cancellation);
        LogLived(days.Count, life.Deliveries.Count, life.Readings.Count, System.Diagnostics.Stopwatch.GetElapsedTime(began).TotalSeconds);
    }

    /// <summary>The instants at which one more date is scheduled.</summary>
    private static IEnumerable<Instant> Days(Workspace workspace, Instant start, Instant end)
    {
        yield return start;
        for (LocalDate date = SchedulePlan.Horizon(workspace, start).PlusDays(1); ; date = date.PlusDays(1))
        {
            Instant at = workspace.StartOf(date) - workspace.ScheduleAhead;
            if (at > end)
                yield break;
            yield return at;
        }
    }

    private async Task<Dictionary<Id<Post>, (Post Post, int Version)>> PostsAsync(Workspace workspace, CancellationToken cancellation)
    {
        Dictionary<Id<Post>, int> versions = await db
            .PostVersions.Where(v => v.WorkspaceId == workspace.Id)
            .GroupBy(v => v.PostId)
            .Select(g => new { g.Key, Last = g.Max(v => v.Number) })
            .ToDictionaryAsync(g => g.Key, g => g.Last, cancellation);
        return await db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == workspace.Id)
            .ToDictionaryAsync(p => p.Id, p => (p, versions[p.Id]), cancellation);
    }

    private async Task SendAsync(Workspace workspace, PastLife life, Instant now, CancellationToken cancellation)
    {
        IReadOnlyList<PastSending> going = life.Due(now);
        await UploadAsync(going, life, cancellation);
        List<(PastSending Sending, SendingStep.Publish Step)> calls =
        [
            .. going.SelectMany(s => s.Steps.OfType<SendingStep.Publish>().Select(p => (s, p))),
        ];
        IReadOnlyList<PastAnswer> answers = await standIns.PostAsync([.. calls.Select(c => life.Call(c.Sending, c.Step))], cancellation);
        ILookup<PastSending, PastAnswer> bySending = calls.Zip(answers).ToLookup(p => p.First.Sending, p => p.Second);
        foreach (PastSending sending in going)
            life.End(sending, [.. bySending[sending]]);
    }

    /// <summary>Gives the networks the pictures that they haven't had yet.</summary>
    private async Task UploadAsync(IReadOnlyList<PastSending> going, PastLife life, CancellationToken cancellation)
    {
        foreach (var upload in going.SelectMany(s => s.MissingUploads(life.Uploads)).Distinct().GroupBy(u => u.File).ToList())
        {
            MediaFile file = life.Media[upload.Key.Media];
            SentFile sent =
                await sentFiles.FindAsync(file, upload.Key.Crop, mostBytes: null, along: [], cancellation)
                ?? throw new InvalidOperationException($"A file can't be read: {file.FileName}.");
            string[] accounts = [.. upload.Select(u => u.Account)];
            Dictionary<string, string> ids = await standIns.AddMediaAsync(accounts, $"{upload.Key}:file", sent, cancellation);
            foreach ((string account, string id) in ids)
                life.Uploads[(upload.Key, account)] = id;
        }
    }

    [LoggerMessage(Level = LogLevel.Information, Message = "Living through the past: day {Day} of {Days}")]
    private partial void LogDay(int day, int days);

    [LoggerMessage(
        Level = LogLevel.Information,
        Message = "Lived through {Days} days in {Seconds:0.0} s: {Deliveries} deliveries, {Readings} readings"
    )]
    private partial void LogLived(int days, int deliveries, int readings, double seconds);
}

/// <summary>A delivery of the past on its way out.</summary>
internal sealed record PastSending(Delivery Delivery, Post Post, Channel Channel, IReadOnlyList<SendingStep> Steps)
{
    public IEnumerable<(PastFile File, string Account)> MissingUploads(IReadOnlyDictionary<(PastFile, string), string> known) =>
        Steps.OfType<SendingStep.Upload>().Select(u => (PastFile.Of(u), Channel.Account)).Where(u => !known.ContainsKey(u));
}

/// <summary>A file as it went out in the past.</summary>
/// <param name="Crop">The part of a picture; null: all.</param>
internal sealed record PastFile(Id<MediaFile> Media, Crop? Crop)
{
    public static PastFile Of(SendingStep.Upload upload) => new(upload.MediaId, upload.Chosen.Crop);
}
