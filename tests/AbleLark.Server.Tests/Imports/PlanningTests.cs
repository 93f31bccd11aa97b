using System.Globalization;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Sheets;
using NodaTime;

namespace AbleLark.Server.Tests.Imports;

public sealed class PlanningTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    /// <summary>Places of the columns: category and channel, then when, then what.</summary>
    private const int Category = 0,
        Channel = 1,
        Weekday = 3,
        Date = 4,
        Time = 5,
        Text = 6,
        Sending = 8;

    [Fact]
    public async Task A_planning_sheet_imported_as_it_is_changes_nothing_and_edited_cells_change_just_those()
    {
        Guid jot = await installation.ConnectAsync(_ada, "jot", "planj"),
            hearth = await installation.ConnectAsync(_ada, "hearth", "planh");
        await _ada.CategoryAsync("Planned ones", jot, hearth);
        await _ada.CategoryAsync("Other ones", jot, hearth);
        LocalDate first = (await installation.NowAsync()).InUtc().Date.PlusDays(30);
        StringBuilder csv = new("title,text,category,date,time\n");
        for (int i = 0; i < 12; i++)
            csv.Append(
                CultureInfo.InvariantCulture,
                $"Plan {i},Words of {Guid.NewGuid()},Planned ones,{first.PlusDays(i):uuuu-MM-dd},09:{i:00}\n"
            );
        await _ada.ImportAsync(csv.ToString());
        string period = $"from={first:uuuu-MM-dd}&to={first.PlusDays(60):uuuu-MM-dd}";
        IReadOnlyList<string[]> sheet = await SheetAsync(period);
        Assert.Equal(25, sheet.Count);

        Guid asItIs = await _ada.BeginImportAsync(Csv(sheet));
        JsonElement counts = (await _ada.CompleteAsync(asItIs)).GetProperty("counts");
        Assert.Equal((0, 0, 12, 0), (counts.Whole("posts"), counts.Whole("changed"), counts.Whole("unchanged"), counts.Whole("moved")));
        Assert.True((await _ada.GetAsync($"imports/{asItIs}")).GetProperty("questions").GetArrayLength() == 0);
        await _ada.CommitImportAsync(asItIs);
        Assert.Equal(sheet, await SheetAsync(period));

        // Any cells, by chance; a seed that fails is in the message.
        for (int seed = 0; seed < 3; seed++)
        {
            Random chance = new(seed);
            List<string[]> edited = [.. (await SheetAsync(period)).Select(r => r.ToArray())];
            foreach (string[] row in edited.Skip(1).Where(_ => chance.Next(3) == 0))
            {
                if (chance.Next(2) == 0)
                    (row[Date], row[Weekday]) = (
                        first.PlusDays(20 + chance.Next(30)).ToString("uuuu-MM-dd", CultureInfo.InvariantCulture),
                        ""
                    );
                if (chance.Next(2) == 0)
                    row[Time] = $"1{chance.Next(10)}:{chance.Next(60):00}";
                if (chance.Next(2) == 0)
                    row[Text] = $"Other words {Guid.NewGuid()}";
            }
            JsonElement view = await _ada.CommitImportAsync(await _ada.BeginImportAsync(Csv(edited)));
            Assert.True(view.GetProperty("trouble").ValueKind == JsonValueKind.Null, $"seed {seed}: {view.GetProperty("trouble")}");
            IReadOnlyList<string[]> after = await SheetAsync(period);
            Assert.Equal(Sorted(edited), Sorted(after));
        }
    }

    [Fact]
    public async Task A_category_changed_in_the_sheet_is_changed_and_a_channel_is_refused()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "planc");
        await _ada.CategoryAsync("Before", channel);
        Guid after = await _ada.CategoryAsync("After", channel);
        LocalDate day = (await installation.NowAsync()).InUtc().Date.PlusDays(200);
        await _ada.ImportAsync(
            $"title,text,category,date,time\nMoved over,{Guid.NewGuid()},Before,{day:uuuu-MM-dd},10:00\n"
                + $"Stays put,{Guid.NewGuid()},Before,{day:uuuu-MM-dd},11:00"
        );
        List<string[]> sheet = [.. await SheetAsync($"from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}")];
        sheet[1][Category] = "After";
        sheet[2][Channel] = "Somewhere else";
        Guid import = await _ada.BeginImportAsync(Csv(sheet));
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.Equal(["advice", "needsYou"], rows.Select(r => r.Text("status") == "fine" ? "advice" : r.Text("status")));
        Assert.Equal(["category: Before → After"], rows[0].List("differences").Select(d => d.GetString()));
        await _ada.CommitImportAsync(import);
        Assert.Equal(after, (await _ada.GetAsync("posts?search=Moved over")).List("posts").Single().Id("categoryId"));
    }

    private static IEnumerable<string> Sorted(IEnumerable<string[]> sheet) =>
        sheet
            .Skip(1)
            .Select(r => string.Join('|', [.. r.Where((_, i) => i is not (Weekday or Sending)), r[Sending].Split('.')[0]]))
            .Order(StringComparer.Ordinal);

    private static string Csv(IEnumerable<string[]> sheet) => Encoding.UTF8.GetString(TextSheets.Write(sheet));

    private async Task<IReadOnlyList<string[]>> SheetAsync(string period)
    {
        byte[] csv = await _ada.GetBytesAsync($"imports/planning-sheet.csv?{period}");
        using MemoryStream workbook = new(await _ada.GetBytesAsync($"imports/planning-sheet.xlsx?{period}"));
        IReadOnlyList<string[]> rows = TextSheets.Read(csv, new()).Sheet.Rows;
        Assert.Equal(rows, Workbooks.Read(workbook, new()).Sheet.Rows);
        return rows;
    }
}
