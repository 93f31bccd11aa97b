using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Sheets;

namespace AbleLark.Server.Tests.Imports;

/// <summary>What sheets of real teams hold besides posts, as the API asks about it.</summary>
public sealed class MessyImportTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task Nothing_is_imported_until_somebody_says_whether_hidden_rows_are()
    {
        string name = await CategoryAsync();
        byte[] workbook = Hiding(
            WorkbookWriter.Write(
                "Posts",
                [new("Text", 30, []), new("Category", 30, [])],
                [
                    ["Seen by all", name],
                    ["Hidden from all", name],
                    ["Seen as well", name],
                ]
            ),
            row: 3
        );
        Guid import = await _ada.BeginImportAsync(("sheet", "plan.xlsx", workbook));
        JsonElement view = await _ada.CompleteAsync(import);
        JsonElement hidden = view.GetProperty("source").GetProperty("hidden");
        Assert.Equal((1, JsonValueKind.Null), (hidden.Whole("rows"), hidden.GetProperty("takenIn").ValueKind));
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"imports/{import}/commit",
            new { revision = view.Whole("revision") }
        );
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("hides rows", words, StringComparison.Ordinal);
        await _ada.PutAsync(
            $"imports/{import}/source",
            new
            {
                encoding = (string?)null,
                delimiter = (string?)null,
                sheet = (string?)null,
                headerRow = (int?)null,
                hidden = false,
            }
        );
        Assert.Equal(2, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("posts"));
    }

    [Fact]
    public async Task Rows_are_joined_and_parted_by_hand_and_the_question_names_the_other_row()
    {
        Guid jot = await _installation.ConnectAsync(_ada, "jot", "joined jot");
        Guid hearth = await _installation.ConnectAsync(_ada, "hearth", "joined hearth");
        string name = await CategoryAsync(jot, hearth);
        Guid import = await _ada.BeginImportAsync(
            "text,category,channel\n"
                + $"Waxwings at the car park #birds #marsh,{name},joined jot\n"
                + $"The ferry runs again from Monday,{name},joined hearth\n"
                + $"Something else for the evening,{name},joined hearth"
        );
        Assert.Equal(new[] { 1, 1, 1 }, await SizesAsync());
        await _ada.EditRowsAsync(import, new { rows = new[] { 3 } }, new { with = 2 });
        Assert.Equal(new[] { 2, 2, 1 }, await SizesAsync());
        await _ada.EditRowsAsync(import, new { rows = new[] { 4 } }, new { with = 2 });
        JsonElement third = (await _ada.ImportRowsAsync(import))[2];
        Assert.Equal("needsYou", third.Text("status"));
        await _ada.EditRowsAsync(import, new { rows = new[] { 4 } }, new { with = 0 });
        Assert.Equal(new[] { 2, 2, 1 }, await SizesAsync());
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"imports/{import}/rows",
            ImportSteps.Change(new { rows = new[] { 4 } }, new { with = 99 })
        );
        Assert.Equal((HttpStatusCode.BadRequest, true), (status, words.StartsWith("Row 99 holds no post", StringComparison.Ordinal)));
        Assert.Equal(2, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("posts"));

        async Task<int[]> SizesAsync() =>
            [
                .. (await _ada.ImportRowsAsync(import)).Select(r =>
                    r.GetProperty("group").ValueKind == JsonValueKind.Null ? 1 : r.GetProperty("group").List("rows").Length
                ),
            ];
    }

    [Fact]
    public async Task A_report_has_pages()
    {
        string name = await CategoryAsync();
        StringBuilder csv = new("text,category");
        for (int i = 0; i < 230; i++)
            csv.Append($"\nWords of their own number {i * 7919},{name}");
        Guid import = await _ada.BeginImportAsync(csv.ToString());
        await _ada.CommitImportAsync(import);
        JsonElement first = await _ada.GetAsync($"imports/{import}/report");
        JsonElement second = await _ada.GetAsync($"imports/{import}/report?from=200");
        Assert.Equal((230, 200, 30), (first.Whole("total"), first.List("rows").Length, second.List("rows").Length));
        Assert.Equal(230, first.List("rows").Concat(second.List("rows")).Select(r => r.Whole("row")).Distinct().Count());
    }

    [Fact]
    public async Task The_most_rows_are_counted_below_what_names_their_columns()
    {
        await CategoryAsync();
        string rows = string.Concat(Enumerable.Repeat("a b c,x\n", SheetLimits.MostRows));
        await _ada.BeginImportAsync($"text,category\n{rows}");
        await Assert.ThrowsAnyAsync<Exception>(() => _ada.BeginImportAsync($"text,category\n{rows}d e f,y\n"));
    }

    /// <summary>The same workbook with a row hidden.</summary>
    private static byte[] Hiding(byte[] workbook, int row)
    {
        using MemoryStream bytes = new();
        bytes.Write(workbook);
        using (System.IO.Compression.ZipArchive zip = new(bytes, System.IO.Compression.ZipArchiveMode.Update, leaveOpen: true))
        {
            System.IO.Compression.ZipArchiveEntry sheet = zip.Entries.First(e =>
                e.FullName.StartsWith("xl/worksheets/", StringComparison.Ordinal)
            );
            string xml;
            using (StreamReader reader = new(sheet.Open()))
                xml = reader.ReadToEnd();
            Assert.Contains($"r=\"{row}\"", xml, StringComparison.Ordinal);
            string name = sheet.FullName;
            sheet.Delete();
            using StreamWriter writer = new(zip.CreateEntry(name).Open());
            writer.Write(xml.Replace($"row r=\"{row}\"", $"row r=\"{row}\" hidden=\"1\"", StringComparison.Ordinal));
        }
        return bytes.ToArray();
    }

    private async Task<string> CategoryAsync(params Guid[] channels)
    {
        string name = $"Messy {Guid.NewGuid():N}"[..14];
        await _ada.CategoryAsync(name, channels);
        return name;
    }
}
