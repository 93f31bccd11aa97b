using System.IO.Compression;
using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Imports;

/// <summary>Bad files, bad requests, and people who get in each other's way.</summary>
public sealed class RoughImportTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Theory]
    [InlineData("empty.csv", 0, "The file is empty")]
    [InlineData("large.csv", 33 * 1024 * 1024, "33 MB; 16 is the most")]
    [InlineData("picture.png", 10, "Choose a sheet")]
    public async Task A_file_that_is_no_sheet_is_refused_with_what_to_do(string name, int length, string words)
    {
        await _ada.CategoryAsync("Any" + Guid.NewGuid().ToString("n")[..6]);
        (HttpStatusCode status, string said) = await BeginAsync((name, new byte[length]));
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(words, said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Two_hundred_megabytes_are_refused_with_the_limit()
    {
        (HttpStatusCode status, string said) = await BeginAsync(("huge.csv", new byte[200 * 1024 * 1024]));
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, status);
        Assert.Contains("100 MB is the most", said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_zip_is_unpacked_within_limits()
    {
        string name = await CategoryAsync();
        (string, byte[]) sheet = (
            "posts.csv",
            Encoding.UTF8.GetBytes($"title,text,category,picture\nZipped,Words {Guid.NewGuid()},{name},zipped.png")
        );
        Guid import = await _ada.BeginImportAsync(
            ("files", "all.zip", Zip(sheet, ("pictures/zipped.png", TestData.Png(300, 200)), ("notes.doc", [1, 2])))
        );
        Assert.Equal("fine", Assert.Single(await _ada.ImportRowsAsync(import)).Text("status"));
        await RefusedAsync("holds no sheet", ("readme.md", [1]));
        await RefusedAsync("holds 2 sheets", sheet, ("more/posts.csv", sheet.Item2));
        await RefusedAsync("leads out of it", sheet, ("../../etc/evil.csv", [1]));
        await RefusedAsync("leads out of it", sheet, ("/evil.png", [1]));
        await RefusedAsync("1,001 files", [sheet, .. Enumerable.Range(0, 1_000).Select(i => ($"{i}.png", new byte[1]))]);
        await RefusedAsync("unpacks to more than 500 MB", sheet, ("zeros.png", new byte[510 * 1024 * 1024]));
        Assert.Equal(HttpStatusCode.BadRequest, (await BeginAsync(("cut.zip", Zip(sheet)[..60]))).Status);

        async Task RefusedAsync(string words, params (string, byte[])[] entries)
        {
            (HttpStatusCode status, string said) = await BeginAsync(("all.zip", Zip(entries)));
            Assert.Equal(HttpStatusCode.BadRequest, status);
            Assert.Contains(words, said, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task What_is_asked_wrongly_is_told_and_changes_nothing()
    {
        string name = await CategoryAsync();
        Guid import = await _ada.BeginImportAsync($"text,category\nLeft in peace {Guid.NewGuid()},{name}");
        await _ada.CompleteAsync(import);
        object rows = new { rows = new[] { 2 } };
        (HttpMethod, string, object, string)[] tries =
        [
            (
                HttpMethod.Post,
                "rows",
                ImportSteps.Change(rows, new { values = new Dictionary<string, string> { ["post.colour"] = "x" } }),
                "no field “post.colour”"
            ),
            (
                HttpMethod.Post,
                "rows",
                ImportSteps.Change(rows, new { values = new Dictionary<string, string> { ["text"] = new('a', 120_000) } }),
                "at most"
            ),
            (HttpMethod.Post, "rows", ImportSteps.Change(rows, new { fit = new[] { "nowhere" } }), "no network “nowhere”"),
            (
                HttpMethod.Post,
                "replace",
                new
                {
                    which = rows,
                    target = "nothing",
                    find = "a",
                    with = "b",
                },
                "no field “nothing”"
            ),
            (
                HttpMethod.Post,
                "replace",
                new
                {
                    which = rows,
                    target = "text",
                    find = "",
                    with = "b",
                },
                "Say what is to be found"
            ),
            (HttpMethod.Put, "columns", Columns(new { place = 9, target = "text" }), "no column 10"),
            (HttpMethod.Put, "columns", Columns(new { place = 1, target = "text@" + Guid.NewGuid() }), "can't become"),
            (HttpMethod.Put, "columns", Columns(new { place = 1, target = "text" }), "Two columns can't both become"),
            (
                HttpMethod.Put,
                "source",
                new
                {
                    encoding = "Klingon",
                    delimiter = (string?)null,
                    sheet = (string?)null,
                    headerRow = (int?)null,
                },
                "no encoding"
            ),
            (HttpMethod.Post, "commit", new { revision = 99 }, "since you looked"),
            (HttpMethod.Post, "take-back", new { }, "isn't in the bank"),
        ];
        foreach ((HttpMethod method, string path, object body, string words) in tries)
        {
            (HttpStatusCode status, string said) = await _ada.TroubleAsync(method, $"imports/{import}/{path}", body);
            Assert.True((int)status is >= 400 and < 500, $"{path}: {status}");
            Assert.Contains(words, said, StringComparison.Ordinal);
        }
        Assert.Equal("fine", Assert.Single(await _ada.ImportRowsAsync(import)).Text("status"));
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Get, $"imports/{Guid.NewGuid()}/rows")).Status);
        await _ada.DeleteAsync($"imports/{import}");
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Get, $"imports/{import}")).Status);
    }

    [Fact]
    public async Task Two_who_change_rows_at_once_are_one_after_the_other_and_who_imports_sees_what_he_imports()
    {
        string name = await CategoryAsync();
        string csv = "text,category\n" + string.Join('\n', Enumerable.Range(0, 40).Select(i => $"At once {i} {Guid.NewGuid()},{name}"));
        Guid import = await _ada.BeginImportAsync(csv);
        int looked = (await _ada.CompleteAsync(import)).Whole("revision");
        await Task.WhenAll(
            Enumerable
                .Range(0, 20)
                .Select(i =>
                    _ada.EditRowsAsync(
                        import,
                        new { rows = new[] { 2 + i } },
                        new { values = new Dictionary<string, string> { ["post.title"] = $"Title {i}" } }
                    )
                )
        );
        (HttpStatusCode status, _) = await _ada.TroubleAsync(HttpMethod.Post, $"imports/{import}/commit", new { revision = looked });
        Assert.Equal(HttpStatusCode.PreconditionFailed, status);
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.Equal(Enumerable.Range(0, 20).Select(i => $"Title {i}"), rows.Take(20).Select(r => r.Text("title")));
        Assert.Equal(40, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("posts"));
    }

    [Fact]
    public async Task An_import_that_is_stopped_or_loses_its_database_half_way_leaves_nothing()
    {
        string name = await CategoryAsync(),
            mark = Guid.NewGuid().ToString("n")[..8];
        string csv =
            "title,text,category\n"
            + string.Join('\n', Enumerable.Range(0, 4_000).Select(i => $"Stopped {mark},{Guid.NewGuid()} {i},{name}"));
        Guid import = await _ada.BeginImportAsync(csv);
        int revision = (await _ada.CompleteAsync(import)).Whole("revision");
        await _ada.PostAsync($"imports/{import}/commit", new { revision });
        await _ada.DeleteAsync($"imports/{import}/commit");
        JsonElement view = await _ada.EndOfCommitAsync(import);
        Assert.Equal(
            ("open", "The import was stopped. Nothing of it is in the bank."),
            (view.GetProperty("line").Text("state"), view.Text("trouble"))
        );
        Assert.Equal(0, (await _ada.GetAsync($"posts?search=Stopped {mark}")).Whole("total"));

        // Its connection is cut while it writes.
        await _ada.PostAsync($"imports/{import}/commit", new { revision });
        while (
            (await _ada.GetAsync($"imports/{import}")).GetProperty("commit") is { ValueKind: JsonValueKind.Object } going
            && going.Whole("done") == 0
        )
            await Task.Delay(5);
        await installation.WriteAsync(
            $"""
            select pg_terminate_backend(pid) from pg_stat_activity
            where datname = current_database() and pid <> pg_backend_pid() and state <> 'idle'
            """
        );
        view = await _ada.EndOfCommitAsync(import);
        if (view.GetProperty("line").Text("state") == "open")
            Assert.Equal(0, (await _ada.GetAsync($"posts?search=Stopped {mark}")).Whole("total"));
        Assert.Equal(4_000, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("posts"));
        Assert.Equal(4_000, (await _ada.GetAsync($"posts?search=Stopped {mark}")).Whole("total"));
    }

    private static object Columns(object column) =>
        new
        {
            columns = new[] { column },
            orders = new Dictionary<string, object>(),
            joins = (bool?)null,
        };

    private Task<(HttpStatusCode Status, string Words)> BeginAsync((string Name, byte[] Bytes) file) =>
        _ada.TroubleAsync(HttpMethod.Post, "imports", ApiClient.Form(("files", file.Name, file.Bytes)));

    private static byte[] Zip(params (string Name, byte[] Bytes)[] entries)
    {
        using MemoryStream bytes = new();
        using (ZipArchive zip = new(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach ((string name, byte[] content) in entries)
            {
                using Stream entry = zip.CreateEntry(name, CompressionLevel.Fastest).Open();
                entry.Write(content);
            }
        }
        return bytes.ToArray();
    }

    private async Task<string> CategoryAsync()
    {
        string name = "Ro" + Guid.NewGuid().ToString("n")[..8];
        await _ada.CategoryAsync(name);
        return name;
    }
}
