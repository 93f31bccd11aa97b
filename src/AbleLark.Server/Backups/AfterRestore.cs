using AbleLark.Data;
using AbleLark.Data.Backups;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Backups;

/// <summary>The command `after-restore BACKUP-INSTANT`: what `./lark restore` runs on a database that was put back, before any server
/// starts on it.</summary>
public static class AfterRestore
{
    public const string Command = "after-restore";

    /// <returns>The exit code: 0 when done.</returns>
    public static async Task<int> RunAsync(string[] args)
    {
        var backupAt = InstantPattern.ExtendedIso.Parse(args.ElementAtOrDefault(1) ?? "");
        if (!backupAt.Success)
        {
            await Console.Error.WriteLineAsync($"{Command} needs the instant at which the backup was begun, such as 2026-03-02T09:00:00Z.");
            return 2;
        }
        await using WebApplication app = LarkServer.Create([.. args.Skip(2)]);
        await using AsyncServiceScope scope = app.Services.CreateAsyncScope();
        LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
        try
        {
            await DatabaseForm.BringUpToDateAsync(db, CancellationToken.None);
        }
        catch (UnknownFormException e)
        {
            await Console.Error.WriteLineAsync($"lark: {e.Message}");
            return Program.UnknownForm;
        }
        // The demo's clock may have been on its way somewhere; it arrives nowhere by itself.
        await db.BusinessTimes.ExecuteUpdateAsync(t => t.SetProperty(x => x.Target, (Instant?)null));
        Duration ahead = await db.BusinessTimes.Where(t => t.Id == 1).Select(t => t.Ahead).FirstOrDefaultAsync();
        Instant machineNow = scope.ServiceProvider.GetRequiredService<IClock>().Now();
        int marked = await Restoring.MarkAsync(db, backupAt.Value, machineNow + ahead, machineNow, CancellationToken.None);
        Console.WriteLine(
            marked == 1
                ? "1 delivery that was due since the backup is looked up on its network."
                : $"{marked} deliveries that were due since the backup are looked up on their networks."
        );
        return 0;
    }
}
