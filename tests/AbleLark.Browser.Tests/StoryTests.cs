using AbleLark.Core.Deliveries;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Browser.Tests;

/// <summary>The whole job once through, as a planner does it: from an empty workspace to a week of sent posts compared by
/// category.</summary>
[Trait("Goes", "over-days")]
public sealed class StoryTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;
    private readonly string _files = Directory.CreateTempSubdirectory("able-lark-story-").FullName;

    [Fact]
    public async Task From_an_empty_workspace_to_a_week_compared_by_category()
    {
        await _installation.AddAccountAsync("jot", "harbour", "Harbour Notes", 5000);
        await _installation.AddAccountAsync("hearth", "harbour", "Harbour Page", 9000);
        using Page page = new(_installation.Address);
        page.SignIn("ada@example.org", Databases.Password);
        page.See("First steps");
        Assert.Equal(4, page.Count("[data-step=open]"));

        ConnectBothNetworks(page);
        NameCategories(page);
        LayOutTheWeek(page);
        WriteWithVariant(page);
        ImportAndTakeBack(page);
        LookAhead(page);
        GiveAnExactTime(page);
        await WatchTheWeekAsync(page);
        await MendTheFailureAsync(page);
        Compare(page);
        await CountMoreAsync(page);
        Assert.Empty(page.Complaints());
    }

    [Fact]
    public async Task Three_workspaces_are_switched_and_each_shows_its_own()
    {
        await using (LarkDb db = Databases.Open(_installation.Database))
        {
            Person ben = await db.Users.SingleAsync(u => u.Email == "ben@example.org");
            foreach (string name in new[] { "Mill Theatre", "North Allotments" })
            {
                Workspace more = new()
                {
                    Id = Core.Id<Workspace>.New(),
                    Slug = name.ToLowerInvariant().Replace(' ', '-'),
                    Name = name,
                    Zone = Zones.Find("Europe/Lisbon")!,
                };
                db.AddRange(
                    more,
                    new Membership { WorkspaceId = more.Id, PersonId = ben.Id },
                    new Rota
                    {
                        WorkspaceId = more.Id,
                        Id = Core.Id<Rota>.New(),
                        Name = "The week",
                        Zone = more.Zone,
                    }
                );
            }
            await db.SaveChangesAsync();
        }
        using Page page = new(_installation.Address);
        page.SignIn("ben@example.org", Databases.Password);
        page.PressMenu("Switch the workspace");
        page.Press("Mill Theatre");
        page.See("Lisbon time");
        page.Press("Bank");
        page.See("The bank is empty");
        Assert.EndsWith("/w/mill-theatre/bank", page.Url, StringComparison.Ordinal);
        page.Go("/w/harbour/bank");
        page.See("What needs you");
        Assert.DoesNotContain("Harbour Ropes", page.Text(), StringComparison.Ordinal);
    }

    private static void ConnectBothNetworks(Page page)
    {
        page.Press("Set-up");
        foreach ((string network, string account) in new[] { ("Jot", "Harbour Notes"), ("Hearth", "Harbour Page") })
        {
            page.Press($"Connect a channel on {network}");
            page.See("Allow Able Lark to post for you?");
            page.Press("Allow");
            page.See($"{account} is connected.");
        }
        page.Until(() => page.Count("[data-channel]") == 2, "both channels");
        page.See("Connected");
    }

    private static void NameCategories(Page page)
    {
        page.Press("Categories");
        foreach (string name in new[] { "New books", "Readings" })
        {
            page.Press("Add a category");
            page.Fill("Name of the category", name);
            page.Tick("Harbour Notes");
            page.Tick("Harbour Page");
            page.Press("Add the category");
            page.See("0 posts");
            page.Until(
                () => page.Text().Contains(name, StringComparison.Ordinal) && page.Count("[data-sheet]") == 0,
                $"{name} in the list"
            );
        }
    }

    private static void LayOutTheWeek(Page page)
    {
        page.Press("Rota");
        page.Press("Add a slot");
        page.Until(() => page.Count("[data-sheet]") == 1, "the slot's settings");
        foreach (string day in new[] { "Wed", "Fri", "Sun" })
            page.Press(day);
        page.Fill("Time", "9:30");
        page.Tick("New books");
        page.Press("Close");
        page.Until(() => page.Count("[data-slot]") == 4, "four cards of the slot");
        page.Press("Make a slot on Tue at 18:00");
        page.Until(() => page.Count("[data-sheet]") == 1, "the second slot's settings");
        foreach (string day in new[] { "Thu", "Sat" })
            page.Press(day);
        page.Tick("Readings");
        page.Press("Close");
        page.Until(() => page.Count("[data-slot]") == 7, "seven cards");
        page.Press("Apply");
        page.See("The week is applied.");
        page.See("Times of Europe/Dublin");
    }

    private void WriteWithVariant(Page page)
    {
        string picture = Path.Combine(_files, "shelf.png");
        File.WriteAllBytes(picture, TestData.Png(900, 600));
        string wrong = Path.Combine(_files, "shelf.png.txt");
        File.WriteAllText(wrong, "no picture");

        page.Press("Bank");
        page.Press("Write a post");
        // A new post has no category until one is chosen.
        page.See("Choose a category: then it is saved.");
        page.Choose("Category", "New books");
        page.Fill("Title, never sent", "Almanacs are in");
        page.Fill("Common text", "The almanacs are in. " + new string('x', 280));
        page.See("The text takes 325 of 280 on Jot: cut 45.".Replace("325", "301").Replace("45", "21"));
        page.Fill("Link", "https://harbour.example.org/almanacs");
        page.See("The text takes 325 of 280 on Jot: cut 45.");
        page.Upload("Choose pictures", wrong);
        page.See("is nothing that networks take.");
        page.Upload("Choose pictures", picture);
        page.See("Add pictures");
        page.PressCss("[data-network=jot] button[aria-expanded]");
        page.PressCss("[aria-label='Say otherwise: text for Jot']");
        page.Fill("Text for Jot", "The almanacs are in: tides, moons and a list of winds. #books");
        // 61 letters, a line break, and a link that takes 23 whatever its length.
        page.Until(
            () => page.TextOf("[data-network=jot] [data-count]").StartsWith("85 of 280", StringComparison.Ordinal),
            "the live count"
        );
        page.SeeNoMore("Blocks");
        page.Press("Put it into rotation");
        page.See("It is in rotation.");
        page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved by itself");
        page.Go(new Uri(page.Url).AbsolutePath);
        page.See("#books");
        page.PressCss("[data-network=jot] button[aria-expanded]");
        Assert.StartsWith("The almanacs are in: tides", page.ValueOf("Text for Jot"), StringComparison.Ordinal);
        Assert.Equal("https://harbour.example.org/almanacs", page.ValueOf("Link"));
    }

    private const string SheetAndFiles = "Choose the sheet and its files";

    private void ImportAndTakeBack(Page page)
    {
        page.Press("Bank");
        page.Press("Import a sheet");
        string binary = Path.Combine(_files, "posts.csv");
        File.WriteAllBytes(binary, [0x50, 0x4B, 0x03, 0x04, 0x00]);
        page.Upload(SheetAndFiles, binary);
        page.See("The workbook is damaged. Open it in a spreadsheet program, save it once more, and choose that file.");

        page.Upload(SheetAndFiles, Sheet("spare.csv", "title,text,category\nSpare one,Words to spare,New books"));
        page.Press("On to its rows");
        page.Press("Import 1 post");
        page.See("1 post came into the bank");
        page.Press("Take it back: spare.csv");
        page.See("The import is taken back.");
        page.Press("← Import");

        IEnumerable<string> rows = Enumerable
            .Range(1, 4)
            .Select(i => $"Book {i},\"New on the shelf, number {i}\",New books,,")
            .Concat(Enumerable.Range(1, 4).Select(i => $"Reading {i},\"Reading at eight, evening {i}\",Readings,,"))
            .Append("Slip of the pen,A slip of it,New bocks,,")
            .Append($"Two ways,Either way,Readings,03/04/{TestInstallation.Day.Year + 1},09:00");
        page.Upload(SheetAndFiles, Sheet("season.csv", "title,text,category,date,time\n" + string.Join('\n', rows)));
        page.See("Date: which way round?");
        page.Press("Day first: Date");
        page.See("Date: day first");
        page.Press("On to its rows");
        page.See("There is no category “New bocks” here. Write one of: New books.");
        page.Press("Import 9 posts");
        page.See("9 posts came into the bank and 2 deliveries were planned");
    }

    private static void LookAhead(Page page)
    {
        page.Press("Calendar");
        page.Press("Line-up");
        page.See("Never sent here, and the latest added of those.");
        page.Until(() => page.Count("[data-state=projected]") > 10, "projected places");
        page.PressMenu("The calendar: Plan");
        page.PressCss("[data-schedule]");
        page.See("deliveries that only a person changes from then on:");
        page.PressCss("[data-schedule-now]");
        page.See("deliveries that only a person changes now.");
        page.Until(() => page.Count("[data-state=projected]") == 0 && page.Count("[data-state=planned]") > 10, "scheduled places");
        page.Press("Week");
        page.See("Harbour Notes");
        page.Press("Category");
        page.Until(() => page.Url.Contains("lanes=category", StringComparison.Ordinal), "the lanes in the address");
        page.Press("Channel");
    }

    private static void GiveAnExactTime(Page page)
    {
        page.Press("Bank");
        page.Fill("Search the bank", "Almanacs");
        page.Until(() => page.Count("main li") == 1, "one post found");
        page.PressCss("main li a");
        page.Tick("Date and time");
        page.Fill("Date", "tomorrow");
        page.Fill("Time", "7:15");
        page.Press("on all two channels");
        page.Tick("Harbour Page");
        page.PressCss("[data-act]");
        page.See("Scheduled for");
        page.See("07:15 on one channel");
    }

    private async Task WatchTheWeekAsync(Page page)
    {
        await _installation.OrderAsync("refuse", 1, "hearth-harbour");
        page.Press("Calendar");
        page.PressMenu("Demo clock");
        page.Press("Move on a week");
        page.Until(() => page.Count("[data-moving=true]") > 0, "the clock moving");
        page.Until(() => page.Count("[data-moving=true]") == 0, "the clock at rest", TimeSpan.FromSeconds(120));
        // Most of these seven days lie in the week before, or from a Friday on in the one that is shown.
        if ((int)TestInstallation.Day.DayOfWeek <= 4)
            page.Press("The week before");
        page.Until(() => page.Count("[data-state=sent]") > 3, "sent deliveries in the lanes");
        page.PressCss("[data-state=sent]");
        page.See("As it looked");
        page.See("What it earned");
        string? address = page.Find(OpenQA.Selenium.By.LinkText("See it on the network")).GetDomAttribute("href");
        using HttpClient client = new();
        Assert.Contains("<article>", await client.GetStringAsync(address), StringComparison.Ordinal);
    }

    private async Task MendTheFailureAsync(Page page)
    {
        page.PressCss("nav a");
        page.See("refused");
        page.See("This account may not post just now. Check its standing on the network.");
        page.Press("Reschedule");
        page.Fill("Time", "06:05");
        page.Press("Set date and time");
        page.See("Rescheduled.");
        page.See("Nothing failed and nothing was missed");
        page.PressMenu("Demo clock");
        page.Press("Move on a day");
        page.Until(() => page.Count("[data-moving=true]") > 0, "the clock moving");
        page.Until(() => page.Count("[data-moving=true]") == 0, "the clock at rest", TimeSpan.FromSeconds(60));
        Delivery mended = await _installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.InsteadOf != null));
        Assert.Equal(DeliveryState.Sent, mended.State);
    }

    private static void Compare(Page page)
    {
        page.ReduceMotion();
        page.Press("Results");
        page.See("What each category earned");
        page.Press("up to now");
        page.Until(() => page.Count("tr[data-category]") == 2, "a row for each category");
        page.Until(() => page.Count("[aria-busy=true]") == 0, "the figures up to now");
        IReadOnlyList<string> Column(string name) => page.TextsOf($"td[data-column='{name}']");
        page.Until(() => Column("Deliveries").All(n => int.Parse(n) > 0), "figures of both");
        Assert.Equal(100, Column("Brings").Sum(s => double.Parse(s.TrimEnd('%'))), 0.11);
        Assert.Equal(100, Column("Takes").Sum(s => double.Parse(s.TrimEnd('%'))), 0.11);
        Assert.All(Column("As it stands"), i => Assert.True(double.Parse(i) > 0));
        page.See("Too few to tell");
        Assert.Empty(Axe.Broken(page, "results by category"));

        // From a figure to a delivery behind it, and back.
        page.PressCss("tr[data-category] button");
        page.See("Latest first");
        page.PressCss("[data-delivery]");
        page.See("What it earned");
        page.See("As it went out");
        Assert.Empty(Axe.Broken(page, "a delivery behind a figure"));
        page.Press("Write figures down by hand");
        page.Fill("likes", "4321");
        page.Press("Keep these figures");
        // The table may be drawn anew, and shut, when the new figure arrives.
        page.Until(
            () =>
                page.Count("[data-sheet] details[open]") > 0 && page.Text().Contains("by hand (", StringComparison.Ordinal) || Unfold(page),
            "by hand"
        );
        page.Press("take back");
        page.See("Taken back.");
        page.SeeNoMore("by hand (");
        page.Press("← All of them");
        page.Until(() => page.Count("[data-delivery]") > 0, "the deliveries behind it");
        page.PressCss("[data-sheet] [aria-label=Close]");
        page.Until(() => page.Count("[data-sheet]") == 0, "the results alone");
    }

    /// <returns>False, so that it is looked at again.</returns>
    private static bool Unfold(Page page)
    {
        if (page.Count("[data-sheet] details[open]") == 0)
            page.PressCss("[data-sheet] summary");
        return false;
    }

    /// <summary>What was posted there without us, figures from a sheet, and when posts do well.</summary>
    private async Task CountMoreAsync(Page page)
    {
        await _installation.PostByHandAsync("hearth", "harbour", "Seen from the quay, posted on the page itself.");
        await _installation.WriteAsync($"update channel_audiences set looked_at = null");
        page.Press("Made outside");
        page.See("Seen from the quay", TimeSpan.FromSeconds(30));
        Assert.Empty(Axe.Broken(page, "posts made outside"));
        string category = (await _installation.Ada.GetAsync("categories"))[0].Text("name")!;
        page.Choose("Of which category is it?", category);
        page.See("Counts as a post of the bank.");

        Delivery sent = await _installation.ReadAsync(db => db.Deliveries.FirstAsync(d => d.Address != null && d.SentAt != null));
        page.Press("By time of day");
        page.See("Good hours");
        page.Upload(
            "Take figures in from a sheet",
            Sheet("figures.csv", $"Address,Likes\n{sent.Address},77\nhttps://no.example.org/1,1\n")
        );
        page.See("Row 3: Nothing that was sent is");
        Assert.Empty(Axe.Broken(page, "a sheet of figures"));
        page.Press("Take in 1");
        page.See("Took in the figures of one post.");
        page.Press("Undo");
        page.See("Taken back.");
        page.Press("By channel");
        page.See("As they were whenever something went out there");
        Assert.Empty(Axe.Broken(page, "results by channel"));
    }

    private string Sheet(string name, string csv)
    {
        string path = Path.Combine(_files, name);
        File.WriteAllText(path, csv);
        return path;
    }
}
