using AbleLark.Core.Networks;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Health;

/// <param name="Status">`ready`, or what is missing.</param>
/// <param name="Clock">The demo's clock: `moving` or `at rest`.</param>
/// <param name="Loops">This process's loops.</param>
/// <param name="OldestOverdueSeconds">Age of the oldest delivery that is due and neither sent nor given up; 0 when there is none.</param>
/// <param name="PutAside">How many workspaces, channels or deliveries each kind of work fails on and leaves alone for a while.</param>
/// <param name="DamagedRows">How many rows can't be read, and are left out: Today names them to who sets the workspace up.</param>
/// <param name="NetworksOff">Networks' files with a mistake, each with the reason.</param>
public sealed record Readiness(
    string Status,
    string? Clock = null,
    IReadOnlyList<LoopState>? Loops = null,
    double? OldestOverdueSeconds = null,
    IReadOnlyDictionary<WorkKind, int>? PutAside = null,
    IReadOnlyList<string>? NetworksOff = null,
    int? DamagedRows = null
);

/// <summary>For whoever runs the server: is the process alive, and is it doing its work?</summary>
public static class HealthEndpoints
{
    /// <summary>A loop that gave no sign of life for so long has stopped.</summary>
    private static readonly Duration StoppedAfter = Duration.FromMinutes(2);

    public static void MapHealth(this IEndpointRouteBuilder app)
    {
        // Alive: the process answers. Nothing else is asked, so that a database that is away doesn't get servers restarted.
        app.MapGet("/healthz", () => Answers.Json(new { status = "ok" })).ExcludeFromDescription();
        app.MapGet(
                "/readyz",
                async (IServiceProvider services, CancellationToken cancellation) =>
                {
                    Readiness state = await ReadAsync(services, cancellation);
                    return Answers.Json(
                        state,
                        statusCode: state.Status == Ready ? StatusCodes.Status200OK : StatusCodes.Status503ServiceUnavailable
                    );
                }
            )
            .ExcludeFromDescription();
    }

    private const string Ready = "ready";

    private static async Task<Readiness> ReadAsync(IServiceProvider services, CancellationToken cancellation)
    {
        LarkDb db = services.GetRequiredService<LarkDb>();
        try
        {
            if (!await db.Database.CanConnectAsync(cancellation))
                return new("the database is not there");
            if ((await db.Database.GetPendingMigrationsAsync(cancellation)).Any())
                return new("the database is not up to date");
            return await ReadWorkAsync(services, db, cancellation);
        }
        catch (Npgsql.NpgsqlException)
        {
            return new("the database is not there");
        }
    }

    private static async Task<Readiness> ReadWorkAsync(IServiceProvider services, LarkDb db, CancellationToken cancellation)
    {
        LoopHealth health = services.GetRequiredService<LoopHealth>();
        LarkSettings settings = services.GetRequiredService<IOptions<LarkSettings>>().Value;
        Instant now = await services.GetRequiredService<BusinessClock>().NowAsync(cancellation);
        Instant machineNow = services.GetRequiredService<IClock>().Now();
        Instant? oldest = await services.GetRequiredService<DuePreparation>().OldestDueAsync(now, cancellation);
        Dictionary<WorkKind, int> aside = await db
            .WorkFailures.GroupBy(f => f.Work)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(g => g.Key, g => g.Count, cancellation);
        Instant? target = settings.Demo ? await db.BusinessTimes.Select(t => t.Target).SingleOrDefaultAsync(cancellation) : null;
        LoopState? stopped = settings.BackgroundWork
            ? health.Loops.FirstOrDefault(l => l.LastPassAt is not { } last || machineNow - last > StoppedAfter)
            : null;
        string status = stopped is null ? Ready : $"the loop for {stopped.Work} has stopped: {stopped.LastFailure ?? "no sign of life"}";
        return new(
            status,
            target is null ? "at rest" : "moving",
            health.Loops,
            oldest is { } at ? Math.Max(0, (now - at).TotalSeconds) : 0,
            aside,
            services.GetRequiredService<NetworkBook>().Off,
            await db.DamagedRows.CountAsync(cancellation)
        );
    }
}
