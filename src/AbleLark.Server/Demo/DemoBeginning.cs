using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Demo;

/// <summary>When a demo begins.</summary>
public sealed class DemoBeginning(LarkDb db, IClock machine, IOptions<LarkSettings> settings)
{
    private static readonly LocalTime TimeOfDay = new(10, 0);

    /// <summary>When a demo begins that is made now: now, unless the settings name a day.</summary>
    /// <exception cref="InvalidOperationException">They name something else.</exception>
    public Instant Begins()
    {
        if (settings.Value.DemoBegins is not { Length: > 0 } day)
            return machine.Now();
        return LocalDatePattern.Iso.Parse(day) is { Success: true, Value: { Year: > 2000 and < 2100 } date }
            ? Occurrences.InstantOf(date, TimeOfDay, Zones.Find(DemoScenario.Load().Zone)!)!.Value
            : throw new InvalidOperationException($"The demo can't begin on “{day}”. Name a day such as 2028-02-29 in Lark__DemoBegins.");
    }

    /// <summary>Puts business time to where the demo begins. Committed before the rest: the networks read the clock, too, while the past is
    /// lived through.</summary>
    /// <param name="stillToGo">So many days before that, with a jump under way to there.</param>
    public async Task SetClockAsync(Instant begins, int stillToGo, CancellationToken cancellation)
    {
        BusinessTime time = await db.BusinessTimes.SingleOrDefaultAsync(cancellation) ?? db.BusinessTimes.Add(new()).Entity;
        time.Ahead = begins - Duration.FromDays(stillToGo) - machine.Now();
        time.Target = stillToGo > 0 ? begins : null;
        await db.SaveChangesAsync(cancellation);
    }
}
