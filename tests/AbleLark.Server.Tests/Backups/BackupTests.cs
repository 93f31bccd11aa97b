using System.Diagnostics;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Data;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Tests.Backups;

/// <summary>`./lark backup` and `./lark restore`, run as anyone runs them: what went out since the backup is not sent again.</summary>
public sealed class BackupTests(TestInstallation installation) : IClassFixture<TestInstallation>, IDisposable
{
    private readonly string _file = Path.Combine(Path.GetTempPath(), $"able-lark-{Guid.NewGuid():n}.tar");
    private readonly string _folder = Path.Combine(Path.GetTempPath(), $"able-lark-restored-{Guid.NewGuid():n}");
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task After_a_restored_backup_nothing_that_was_due_since_goes_by_itself_and_what_went_out_is_found()
    {
        // Backed up with three deliveries about to go, two much later ones, and a picture.
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "backup");
        Guid category = await _ada.CategoryAsync("Backup", channel);
        Guid sent = await PlannedAsync(channel, category, "Went out since", await _ada.PictureAsync());
        Guid failed = await PlannedAsync(channel, category, "Did not go out");
        Guid lost = await PlannedAsync(await installation.ConnectAsync(_ada, "hearth", "revoked"), category, "Can't be asked");
        Guid later = await PlannedAsync(channel, category, "Much later");
        Guid earlier = await PlannedAsync(channel, category, "Sent sooner than planned");
        foreach (Guid soon in new[] { sent, failed, lost })
            await installation.WriteAsync(
                $"update deliveries set at = now() + interval '6 seconds' + (select ahead from business_times) where id = {soon}"
            );
        Assert.Contains(
            "Backed up as of ",
            await RunAsync("backup", installation.Database, installation.DataFolder),
            StringComparison.Ordinal
        );
        Instant backedUp = await installation.NowAsync();
        Assert.True(
            await installation.ReadAsync(db => db.Deliveries.AnyAsync(d => d.Id == new Id<Delivery>(sent) && d.At > backedUp)),
            "The backup took so long that its deliveries were due before it."
        );

        // Life goes on after the backup: it doesn't know of this.
        await installation.WriteAsync($"update deliveries set state = 'Cancelled' where id = {failed}");
        await installation.WriteAsync($"update deliveries set at = now() + (select ahead from business_times) where id = {earlier}");
        await installation.PassesUntilAsync(earlier, "sent");
        await installation.PassesUntilAsync(sent, "sent");
        await installation.RevokeAsync("hearth-revoked");
        string[] before = [.. await installation.PostedAsync("hearth-backup")];
        Assert.Equal(["Sent sooner than planned", "Went out since"], before.Order(StringComparer.Ordinal));

        // The disaster, and the restore under another name. The networks remember what was posted.
        string restored = Databases.Connection($"lark_restored_{Guid.NewGuid():n}");
        Assert.Contains(
            "3 deliveries that were due since the backup are looked up",
            await RunAsync("restore", restored, _folder),
            StringComparison.Ordinal
        );
        Assert.Equal(
            Directory.GetFiles(Path.Combine(installation.DataFolder, "media"), "*", SearchOption.AllDirectories).Length,
            Directory.GetFiles(Path.Combine(_folder, "media"), "*", SearchOption.AllDirectories).Length
        );
        await using WebApplication server = LarkServer.Create([
            .. installation.Arguments(),
            $"--ConnectionStrings:Lark={restored}",
            $"--Lark:DataFolder={_folder}",
        ]);
        await server.StartAsync();
        await using LarkDb db = Databases.Open(restored);
        async Task<Delivery> DeliveryAsync(Guid id) => await db.Deliveries.AsNoTracking().SingleAsync(d => d.Id == new Id<Delivery>(id));
        for (int i = 0; i < 40 && await db.Deliveries.AnyAsync(d => d.State == DeliveryState.Sending); i++)
        {
            await installation.PassAsync(server.Services);
            await Task.Delay(100);
        }
        Delivery found = await DeliveryAsync(sent);
        Assert.True(found is { State: DeliveryState.Sent, RemoteId: not null }, $"{found.State}: {found.Trouble}");
        Assert.Equal(DeliveryState.Missed, (await DeliveryAsync(failed)).State);
        Delivery doubtful = await DeliveryAsync(lost);
        Assert.Equal(DeliveryState.MayHaveGoneOut, doubtful.State);
        Assert.Contains("It may have gone out", doubtful.Trouble, StringComparison.Ordinal);
        Assert.Equal(before, await installation.PostedAsync("hearth-backup"));

        // Later on, too, what the backup thinks is still to come is looked up before it is sent: one had gone out meanwhile, the other
        // goes.
        foreach (Guid due in new[] { earlier, later })
        {
            await db.Database.ExecuteSqlAsync($"update deliveries set at = now() + (select ahead from business_times) where id = {due}");
            await UntilSentAsync(server, db, due);
        }
        Assert.Equal(["Much later", .. before], await installation.PostedAsync("hearth-backup"));
    }

    [Fact]
    public async Task A_restore_overwrites_nothing_and_a_file_that_is_no_backup_is_refused()
    {
        Assert.Contains(
            "holds tables",
            await RunAsync("restore", installation.Database, _folder, expectFailure: true, file: await SomeFileAsync()),
            StringComparison.Ordinal
        );
        Assert.Contains(
            "is not empty",
            await RunAsync(
                "restore",
                Databases.Connection("lark_nowhere"),
                installation.DataFolder,
                expectFailure: true,
                file: await SomeFileAsync()
            ),
            StringComparison.Ordinal
        );
        string nowhere = $"lark_nowhere_{Guid.NewGuid():n}";
        Assert.Contains(
            "Nothing was changed",
            await RunAsync("restore", Databases.Connection(nowhere), _folder, expectFailure: true, file: await SomeFileAsync()),
            StringComparison.Ordinal
        );
        Assert.False(
            await installation.ReadAsync(db =>
                db.Database.SqlQuery<string>($"select datname::text as \"Value\" from pg_database").AnyAsync(n => n.StartsWith(nowhere))
            )
        );
        await RunAsync("backup", installation.Database, installation.DataFolder);
        Assert.Contains(
            "is there already",
            await RunAsync("backup", installation.Database, installation.DataFolder, expectFailure: true),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_backup_made_before_the_first_form_is_refused_in_words_and_nothing_comes_of_it()
    {
        await RunAsync("backup", await MigrationTests.OfFormAsync("20261124051142_Spine"), installation.DataFolder);
        string nowhere = $"lark_nowhere_{Guid.NewGuid():n}";
        string said = await RunAsync("restore", Databases.Connection(nowhere), _folder, expectFailure: true);
        Assert.Contains("was made before Able Lark's first form", said, StringComparison.Ordinal);
        Assert.Contains("nothing was changed", said, StringComparison.Ordinal);
        Assert.False(Directory.Exists(_folder));
        Assert.False(
            await installation.ReadAsync(db =>
                db.Database.SqlQuery<string>($"select datname::text as \"Value\" from pg_database").AnyAsync(n => n.StartsWith(nowhere))
            )
        );
    }

    public void Dispose()
    {
        File.Delete(_file);
        if (Directory.Exists(_folder))
            Directory.Delete(_folder, recursive: true);
    }

    private static async Task<string> SomeFileAsync()
    {
        string path = Path.GetTempFileName();
        await File.WriteAllTextAsync(path, "not a backup");
        return path;
    }

    private async Task UntilSentAsync(WebApplication server, LarkDb db, Guid id)
    {
        for (int i = 0; i < 40; i++)
        {
            await installation.PassAsync(server.Services);
            if (await db.Deliveries.AnyAsync(d => d.Id == new Id<Delivery>(id) && d.State == DeliveryState.Sent))
                return;
            await Task.Delay(100);
        }
        Delivery delivery = await db.Deliveries.AsNoTracking().SingleAsync(d => d.Id == new Id<Delivery>(id));
        Assert.Fail($"It is {delivery.State}: {delivery.Trouble}");
    }

    private async Task<Guid> PlannedAsync(Guid channel, Guid category, string text, Guid? picture = null) =>
        (await _ada.PlanAsync(installation, (await _ada.PostAsync(category, text, picture: picture)).Id(), 600, channel))[0];

    private async Task<string> RunAsync(
        string command,
        string connection,
        string dataFolder,
        bool expectFailure = false,
        string? file = null
    )
    {
        NpgsqlConnectionStringBuilder at = new(connection);
        string root = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(root, "lark")))
            root = Path.GetDirectoryName(root)!;
        ProcessStartInfo start = new(Path.Combine(root, "lark")) { RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add(command);
        start.ArgumentList.Add(file ?? _file);
        start.Environment["ConnectionStrings__Lark"] = $"Host={at.Host};Port={at.Port};Username={at.Username};Database={at.Database}";
        start.Environment["Lark__DataFolder"] = dataFolder;
        start.Environment["LARK_SERVER"] = Path.Combine(AppContext.BaseDirectory, "AbleLark.Server.dll");
        using Process process = Process.Start(start)!;
        Task<string> output = process.StandardOutput.ReadToEndAsync(),
            errors = process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        string said = await output + await errors;
        Assert.True(process.ExitCode == 0 != expectFailure, $"{command}: {process.ExitCode}. {said}");
        return said;
    }
}
