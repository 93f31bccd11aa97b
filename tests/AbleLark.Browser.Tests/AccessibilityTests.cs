using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Browser.Tests;

/// <summary>Each main view in both themes.</summary>
[Trait("Goes", "over-days")]
public sealed class AccessibilityTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;

    [Fact]
    public async Task No_main_view_breaks_a_rule_in_light_or_dark()
    {
        Guid post = await FillAsync();
        string category = (await _installation.Ada.GetAsync("categories"))[0].Text("name");
        Guid import = await _installation.Ada.BeginImportAsync(
            $"text,category,date,time\nA view of rows,{category},03/04/{TestInstallation.Day.Year + 1},09:00\nOther words,No such,,"
        );
        Guid done = (await _installation.Ada.ImportAsync($"text,category\nA view of a report,{category}")).Id();
        using Page page = new(_installation.Address);
        // Colours are measured at rest, not half-way from one theme to the other.
        page.ReduceMotion();
        List<string> broken = [];
        page.Go("/");
        page.See("Sign in");
        Check("sign-in");
        page.SignInAs(_installation.Ada);
        (string Path, string Words)[] views =
        [
            ("today", "Today and tomorrow"),
            ("calendar", "This week"),
            ("calendar?lanes=category", "This week"),
            ("calendar?view=list", "The line-up"),
            ("calendar?view=fortnight", "This fortnight"),
            ("calendar?view=month", "This month"),
            ("calendar?view=day", "Today"),
            ("calendar?view=year", "in the year"),
            ("calendar?view=posts", "choose all"),
            ("calendar?view=wall", "No channel here has a wall of pictures"),
            ("rota", "The recurring week"),
            ("bank", "The bank"),
            ("media", "1 file"),
            ("bank/import", "From files"),
            ($"bank/import/{import}?step=sheet", "Row that names the columns"),
            ($"bank/import/{import}?step=columns", "which way round?"),
            ($"bank/import/{import}?step=rows", "Needs you"),
            ($"bank/import/{done}", "came into the bank"),
            ($"posts/{post}", "Its times"),
            ("results", "What each category earned"),
            ("results?by=channel", "What each channel makes of a post"),
            ("results?by=daypart", "When posts do well"),
            ("results?by=post", "How each post did"),
            ("results?by=activity", "What went out"),
            ("results?by=outside", "What was posted on the channels themselves"),
            ("set-up", "Connect a channel on Jot"),
            ("set-up?part=categories", "Add a category"),
            ("set-up?part=dates", "Read from other calendars"),
            ("set-up?part=time", "Time zone"),
        ];
        foreach ((string path, string words) in views)
        {
            page.Go($"/w/harbour/{path}");
            page.See(words);
            page.Until(() => !page.Text().Contains("Fetching", StringComparison.Ordinal), "the view at rest");
            Check(path);
        }
        // On a narrow screen the calendar leaves things out.
        page.Resize(1024, 700);
        foreach ((string path, string words) in views.Where(v => v.Path.StartsWith("calendar", StringComparison.Ordinal)))
        {
            page.Go($"/w/harbour/{path}");
            page.See(words);
            page.Until(() => !page.Text().Contains("Fetching", StringComparison.Ordinal), "the view at rest");
            Check($"{path} at 1024");
        }
        page.Resize(1280, 800);
        foreach ((string path, string words) in new[] { ("/all", "What needs you, everywhere"), ("/all?view=week", "This week") })
        {
            page.Go(path);
            page.See(words);
            page.Until(() => page.Count("[data-workspace]") > 0, "a workspace");
            Check(path);
        }
        page.Go("/w/harbour/calendar");
        page.PressCss("[data-entry]");
        page.See("Why this");
        Check("the sheet beside the calendar");
        page.Go("/w/harbour/media");
        page.PressCss("[data-media]");
        page.See("Used in 1 post");
        Check("the sheet of a file");
        page.Go($"/w/harbour/posts/{post}");
        page.PressCss("[aria-label^='Crop picture']");
        page.See("Keep these");
        Check("the crops of a picture");
        page.Press("Leave it as it was");
        page.Press("From the media …");
        page.See("Choose pictures");
        page.Until(() => page.Count("[data-chooser] [data-media]") == 1, "the file");
        Check("the chooser of files");
        Assert.True(broken.Count == 0, string.Join('\n', broken.Distinct()));

        void Check(string view) => broken.AddRange(Axe.Broken(page, view));
    }

    private async Task<Guid> FillAsync()
    {
        Guid jot = await _installation.ConnectAsync(_installation.Ada, "jot", "axe");
        Guid page = await _installation.ConnectAsync(_installation.Ada, "hearth", "axe-page");
        Guid category = await _installation.Ada.CategoryAsync("Ropes", jot, page);
        Guid post = (
            await _installation.Ada.PostAsync(
                category,
                "Almanacs #one #two #three #four " + new string('x', 280),
                picture: await _installation.Ada.PictureAsync()
            )
        ).Id();
        await _installation.Ada.PostAsync(category, "A short one");
        await _installation.Ada.SlotAsync(category, "09:00", [1, 2, 3, 4, 5, 6, 7], jot, page);
        Guid refused = (await _installation.Ada.PlanAsync(_installation, post, 5, page))[0];
        await _installation.OrderAsync("refuse", 1, "jot-axe");
        await _installation.MoveOnAsync(Duration.FromDays(1));
        while (await _installation.Ada.StateAsync(refused) is "planned" or "sending")
            await Task.Delay(100, TestContext.Current.CancellationToken);
        return post;
    }
}
