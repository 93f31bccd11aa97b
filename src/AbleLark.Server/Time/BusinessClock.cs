using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Time;

/// <summary>By how much business time was ahead of the machine's when this process last read it; for what can't ask the database.</summary>
public sealed class TimeAhead(IClock machine)
{
    private long _ticks;

    internal Duration Value
    {
        set => Interlocked.Exchange(ref _ticks, value.BclCompatibleTicks);
    }

    /// <summary>Today's date by business time, in UTC.</summary>
    public LocalDate Today => (machine.GetCurrentInstant() + Duration.FromTicks(Interlocked.Read(ref _ticks))).InUtc().Date;
}

/// <summary>Time by which schedules and results run: in the demo a row that can be moved, otherwise the machine's time.</summary>
public sealed class BusinessClock(LarkDb db, IClock machine, TimeAhead lastRead, IOptions<LarkSettings> settings)
{
    /// <summary>Business time, cut to microseconds as the database keeps it.</summary>
    public async Task<Instant> NowAsync(CancellationToken cancellation = default)
    {
        if (!settings.Value.Demo)
            return machine.Now();
        Duration ahead = await db.BusinessTimes.AsNoTracking().Where(t => t.Id == 1).Select(t => t.Ahead).FirstOrDefaultAsync(cancellation);
        lastRead.Value = ahead;
        return machine.Now() + ahead;
    }

    /// <summary>True while a jump of the demo's clock is under way.</summary>
    public Task<bool> IsMovingAsync(CancellationToken cancellation) =>
        settings.Value.Demo ? db.BusinessTimes.AnyAsync(t => t.Target != null, cancellation) : Task.FromResult(false);
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
