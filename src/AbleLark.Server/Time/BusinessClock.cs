using AbleLark.Data;
using AbleLark.Data.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Time;

/// <summary>Time by which schedules and results run: in the demo a row that can be moved, otherwise the machine's time.</summary>
public sealed class BusinessClock(LarkDb db, IClock machine, IOptions<LarkSettings> settings)
{
    /// <summary>Business time, cut to microseconds as the database keeps it.</summary>
    public async Task<Instant> NowAsync(CancellationToken cancellation = default)
    {
        if (!settings.Value.Demo) return machine.Now();
        Duration ahead = await db.BusinessTimes.AsNoTracking().Where(t => t.Id == 1).Select(t => t.Ahead).FirstOrDefaultAsync(cancellation);
        return machine.Now() + ahead;
    }
}

public static class Clocks
{
    /// <summary>Machine time, for leases, cookies and tokens; cut to microseconds.</summary>
    public static Instant Now(this IClock clock)
    {
        Instant now = clock.GetCurrentInstant();
        return Instant.FromUnixTimeTicks(now.ToUnixTimeTicks() / 10 * 10);
    }
}
