using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AbleLark.Browser.Tests;

/// <summary>A messy sheet from the file to the report and back.</summary>
public sealed class ImportTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;
    private readonly string _folder = Directory.CreateTempSubdirectory("able-lark-import-").FullName;

    [Fact]
    public async Task A_messy_sheet_goes_from_file_to_report_and_back_by_mouse()
    {
        Guid jot = await _installation.ConnectAsync(_installation.Ada, "jot", "messj");
        Guid hearth = await _installation.ConnectAsync(_installation.Ada, "hearth", "messh");
        await _installation.Ada.CategoryAsync("Shore notes", jot, hearth);
        int year = (await _installation.NowAsync()).InUtc().Year + 1;
        string sheet = Write(
            "messy.csv",
            $"""
            Plan for spring;;;;;;
            ;;;;;;
            Date;Time;Network;Pillar;Copy;Media;Remarks
            05/04/{year};09:00;Jot;Shore notes;Sand martins are back at the quarry wall.;https://harbour.example.org/martins;
            05/04/{year};12:30;Hearth;Shore notes;The sand martins are back at the wall.;https://harbour.example.org/martins;
            06/05/{year};10:00;Hearth;Shore nots;A mistyped pillar;;
            07/05/{year};10:00;Hearth;Shore notes;Light over the reed bed;dusk.png;
            Total;4;;;;;
            """
        );
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/bank/import");
        page.Upload("Choose the sheet and its files", sheet);

        // Its columns: the date is asked about, and what is said is kept by the server.
        page.See("Date: which way round?");
        page.See("5 Apr " + year);
        page.Press("Day first: Date");
        page.See("Date: day first");
        page.Driver.Navigate().Refresh();
        page.See("Date: day first");
        page.Press("The sheet");
        page.See("cells divided by a semicolon");
        page.See("Row 3 names the columns.");
        page.Press("Its rows");

        page.See("1 group of rows looks like one post for several networks.");
        page.Press("Join all");
        page.SeeNoMore("1 group of rows looks like");
        page.PressCss("[data-target='post.category'][aria-invalid]");
        page.Press("Write Shore notes");
        page.Until(() => page.Count("[data-target='post.category'][aria-invalid]") == 0, "the category mended");
        page.Press(By.XPath("//*[@role='gridcell'][contains(., 'Light over the reed bed')]"));
        page.See("The file “dusk.png” isn't here.");
        string picture = Path.Combine(_folder, "dusk.png");
        File.WriteAllBytes(picture, TestData.Png(900, 600));
        page.Upload("Add the file", picture);
        page.Until(() => !page.Text().Contains("“dusk.png” isn't here", StringComparison.Ordinal), "the picture found");
        page.See("3 new posts and 1 row left out.");
        page.Press("Import 3 posts");
        page.See("3 posts came into the bank and 4 deliveries were planned");
        page.Until(() => page.Count("table a.link[href*='/posts/']") == 4, "four rows with their posts");
        page.Press("Take it back: messy.csv");
        page.See("The import is taken back.");
        Assert.Equal(0, (await _installation.Ada.GetAsync("posts?search=reed bed")).Whole("total"));
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Cells_become_posts_and_are_taken_back_by_keys_alone()
    {
        Guid hearth = await _installation.ConnectAsync(_installation.Ada, "hearth", "keysh");
        await _installation.Ada.CategoryAsync("Keyed", hearth);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/bank/import");
        page.See("Go on with these cells");
        page.TabTo("textarea#pasted");
        page.Type("Title,Text,Category\nKey one,First words here,Keyed\nKey two,Second thing said,\nKey three,Third of all,");
        page.TabTo("Go on with these cells");
        page.Type(Keys.Enter);
        page.See("Its rows");
        page.TabTo("Its rows");
        page.Type(Keys.Enter);
        page.See("2 rows that need you.");
        page.Until(() => page.Count("[data-cell='0 0']") == 1, "the rows");

        // Into the grid, to the empty category, and typed over.
        page.TabTo("[data-cell='0 0']");
        page.Type(Keys.ArrowDown, Keys.ArrowRight, Keys.ArrowRight, Keys.ArrowRight);
        page.Until(() => Focused(page) == "1 3", "the focus on the second row's category");
        page.Type("Keyed", Keys.Enter);
        page.See("1 row that needs you.");
        page.Until(() => Focused(page) == "2 3", "the focus one row on");
        page.Type(Keys.Enter);
        page.Until(() => page.Count("[role=grid] textarea") == 1, "the cell open");
        page.Type("Kee", Keys.Escape);
        page.Until(() => page.Count("[role=grid] textarea") == 0 && Focused(page) == "2 3", "the cell shut as it was");

        // The rest is filled down from the first row.
        page.Type(" ");
        page.See("1 row:");
        new Actions(page.Driver).KeyDown(Keys.Control).SendKeys(Keys.Home).KeyUp(Keys.Control).Perform();
        page.Until(() => Focused(page) == "0 0", "the focus back on the first row");
        page.TabTo("With these: Fill down from row 2 ▾");
        page.Type(Keys.Enter);
        page.TabTo("category Keyed", Keys.ArrowDown);
        page.Type(Keys.Enter);
        page.See("Filled down over 1 row.");
        page.See("3 new posts.");
        page.TabTo("Import 3 posts");
        page.Type(Keys.Enter);
        page.See("3 posts came into the bank");
        Assert.Equal(3, (await _installation.Ada.GetAsync("posts?search=Key")).Whole("total"));
        page.TabTo("Take it back");
        page.Type(Keys.Enter);
        page.See("The import is taken back.");
        Assert.Equal(0, (await _installation.Ada.GetAsync("posts?search=Key")).Whole("total"));
        Assert.Empty(page.Complaints());
    }

    private string Write(string name, string content)
    {
        string path = Path.Combine(_folder, name);
        File.WriteAllText(path, content);
        return path;
    }

    private static string? Focused(Page page) => (string?)page.Run("return document.activeElement?.dataset?.cell ?? null");
}
