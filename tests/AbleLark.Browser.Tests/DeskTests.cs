using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;

namespace AbleLark.Browser.Tests;

/// <summary>The desk: written once, adapted to eight networks, mended with single presses, given a time, seen on the networks.</summary>
public sealed class DeskTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private static readonly string[] Eight = ["jot", "meadow", "hearth", "guildhall", "glimmer", "corkwall", "jig", "doorstep"];
    private readonly TestInstallation _installation = web.TestInstallation;
    private readonly ApiClient _ada = web.TestInstallation.Ada;

    [Fact]
    public async Task Written_once_it_is_fitted_to_eight_networks_scheduled_and_seen_there()
    {
        (Page page, Guid[] channels) = await NewAsync("eight", Eight);
        using (page)
        {
            page.Fill("Title, never sent", "Splicing day");
            Fill(page, string.Join(' ', Enumerable.Range(1, 110).Select(i => $"Strand {i}.")) + " #rope #splice #harbour #eye #sea #knots");
            page.Fill("Link", "https://harbour.example.org/splicing");
            Open(page, "corkwall");
            page.PressCss("[aria-label='Say otherwise: wall for Corkwall']");
            page.Fill("Wall for Corkwall", "Knots");
            Open(page, "doorstep");
            page.PressCss("[aria-label='Say otherwise: button for Doorstep']");
            page.Fill("Button for Doorstep", "Book a place");
            page.Upload("Choose pictures", Picture("splice.png", 1600, 600));
            page.Until(() => page.Count("[data-picture]") == 1, "the picture");
            page.Fill("Alt text of picture 1", "An eye splice on a dark bench");
            page.Until(() => page.Count("[data-network=jot] [data-finding=textTooLong]") == 1, "too long for Jot");
            page.Until(() => page.Count("#common-text") == 1 && page.Count("[data-mark~=over]") > 0, "the limit marked in the text itself");
            page.Press("Fit all");
            page.See("Mended");
            page.See("Split into a thread");
            page.Until(() => page.Count("[data-network=jot] [data-fits=true]") == 1, "a thread on Jot");
            // Taken back in one press, and done again.
            page.Press("Take it back");
            page.Until(() => page.Count("[data-network=jot] [data-fits=false]") == 1, "as it was");
            page.Press("Fit all");
            page.Until(() => page.Count("[data-fits=true]") == 7, "all but the one that needs a film");
            page.See("7 of eight channels can take it now.");
            page.See("Jig");

            page.Press("As it will look");
            page.Until(() => page.Count("[data-previews] article") == 8, "eight previews");
            Assert.Equal(
                ["clips", "listings", "notes", "pages", "pictures", "pins"],
                (
                    (IEnumerable<object>)
                        page.Run("return [...new Set([...document.querySelectorAll('[data-look]')].map((e) => e.dataset.look))]")!
                )
                    .Cast<string>()
                    .Order()
            );
            Assert.True(page.Count("[data-look=notes] [data-part]") > 0);
            page.Press("Dark");
            Unbroken(page, "eight previews");
            page.Press("Compare");
            Unbroken(page, "eight networks opened");

            page.Tick("Date and time");
            page.Fill("Date", "tomorrow");
            page.Fill("Time", "10:30");
            page.Until(
                () => page.TextOf("[data-act]").EndsWith("10:30 on seven channels", StringComparison.Ordinal),
                "what the button will do"
            );
            Unbroken(page, "a time being chosen");
            page.Find(By.Id("common-text")).SendKeys(Keys.Control + Keys.Enter);
            page.See("✓ Scheduled for");
            page.Press("Write the next one");
            page.Until(
                () => page.Url.EndsWith("posts/new", StringComparison.Ordinal) || page.Url.Contains("category=", StringComparison.Ordinal),
                "the next"
            );
            page.Until(
                () => page.ValueOf("Common text").Length == 0 && page.Count("[data-targets] [aria-pressed=true]") == 8,
                "its channels kept"
            );
        }
        await _installation.MoveOnAsync(Duration.FromHours(25));
        foreach (string network in Eight.Where(n => n != "jig"))
            await UntilAsync(async () => (await _installation.PostedAsync($"{network}-eight-{network}")).Count > 0);
        Assert.Empty(await _installation.PostedAsync("jig-eight-jig"));
        using HttpClient client = new();
        string shown = await client.GetStringAsync($"{_installation.NetworksAddress}/glimmer/eight-glimmer");
        Assert.Contains("Strand 1.", shown, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Each_finding_is_mended_by_its_own_button_and_goes_back_field_by_field()
    {
        (Page page, _) = await NewAsync("mends", "jot", "hearth", "glimmer", "doorstep");
        using (page)
        {
            Fill(page, "Tides. #one #two #three #four");
            page.Fill("Link", "https://harbour.example.org/tides");
            page.Upload("Choose pictures", [.. Enumerable.Range(1, 5).Select(i => Picture($"m{i}.png", 400 + i, 400))]);
            page.Until(() => page.Count("[data-picture]") == 5, "five pictures");
            foreach (
                (string fix, string network, string own) in new[]
                {
                    ("Drop the surplus hashtags", "Jot", "Own text"),
                    ("Leave the picture out", "Jot", "Own pictures"),
                    ("Move the link to the first comment", "Glimmer", "Own first comment"),
                    ("Leave the picture out", "Doorstep", "Own pictures"),
                }
            )
            {
                string row = $"[data-network={network.ToLowerInvariant()}]";
                page.PressCss($"{row} [aria-label='{fix}: {network}']");
                page.Until(() => page.TextOf(row).Contains(own, StringComparison.Ordinal), $"{own} on {network}");
                page.Until(() => page.Count($"{row} [aria-label='{fix}: {network}']") == 0, $"{network} mended");
            }
            // What was changed goes back in one press.
            page.PressCss("[aria-label='Back to the common text on Jot']");
            page.Until(() => page.Count("[data-network=jot] [data-finding=hashtagsAdvised]") == 1, "the common text on Jot");
            // A text of its own isn't reached by the common one, says so, and takes it over.
            Open(page, "jot");
            page.PressCss("[aria-label='Say otherwise: text for Jot']");
            page.Fill("Text for Jot", "Jot's own");
            Fill(page, "Said anew");
            page.See("Jot has a text of its own.");
            page.Press("Take it over there");
            page.Until(() => page.Count("[data-network=jot] [data-own=text]") == 0, "the common text again");
            page.Press("Undo");
            page.Until(() => page.Count("[data-network=jot] [data-own=text]") == 1, "its own again");
        }
    }

    [Fact]
    public async Task A_thread_is_split_where_the_caret_is_and_joined_again()
    {
        (Page page, Guid[] channels) = await NewAsync("parts", "jot");
        using (page)
        {
            Fill(page, "One knot. Two knots.");
            Open(page, "jot");
            page.PressCss("[aria-label='Say otherwise: further parts for Jot']");
            page.Until(() => page.Count("[data-thread-part]") == 1, "the first part");
            IWebElement first = page.Find(By.CssSelector("[data-thread-part='1'] textarea"));
            first.Click();
            first.SendKeys(Keys.Control + Keys.Home);
            first.SendKeys(string.Concat(Enumerable.Repeat(Keys.ArrowRight, 9)));
            page.PressCss("[aria-label='Split here: part 1']");
            page.Until(() => page.Count("[data-thread-part]") == 2, "two parts");
            page.Until(() => page.TextOf("[data-thread-part='2'] [data-part-count]") == "10 of 280", "its length by Jot's own count");
            page.Upload("Choose pictures", Picture("knot.png", 500, 500));
            page.PressCss("[aria-label='Join to the one before: part 2']");
            page.Until(() => page.Count("[data-thread-part]") == 1, "one part");
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "it saved");
        }
    }

    [Fact]
    public async Task People_hashtags_and_emoji_are_found_by_their_first_letters_and_by_keys()
    {
        (Page page, Guid[] channels) = await NewAsync("finds", "jot");
        await _ada.PostAsync(
            "contacts",
            new
            {
                key = "skerry-ferries",
                name = "Skerry Ferries",
                kind = "page",
                handles = new { jot = "skerry" },
            }
        );
        await _installation.AddAccountAsync("jot", "netmenders", "Net Menders", 77);
        await _ada.PostAsync(await _ada.CategoryAsync("Tagged"), "#caulking again");
        using (page)
        {
            IWebElement text = page.Find(By.Id("common-text"));
            text.SendKeys("With @skerr");
            page.See("Skerry Ferries");
            text.SendKeys(Keys.Enter);
            page.Until(() => page.ValueOf("Common text") == "With @{skerry-ferries} ", "the mention");
            text.SendKeys("and @net m");
            page.See("Look “net m” up on the networks");
            text.SendKeys(Keys.Enter);
            page.See("@netmenders on Jot, 77 followers");
            text.SendKeys(Keys.Enter);
            page.Until(() => page.ValueOf("Common text").EndsWith("and @{net-menders} ", StringComparison.Ordinal), "the one found on Jot");
            text.SendKeys("#caulk");
            page.See("1 post, none out yet");
            text.SendKeys(Keys.Tab);
            text.SendKeys(":sailb");
            page.See("sailboat");
            text.SendKeys(Keys.Enter);
            page.Until(() => page.ValueOf("Common text").EndsWith("#caulking ⛵️", StringComparison.Ordinal), "tag and emoji");
            // By the picker, by keys alone, at the caret.
            page.PressCss("[aria-label='Emoji for the common text']");
            page.Until(() => page.Count("[data-emoji]") > 20, "the emoji");
            new Actions(page.Driver).SendKeys("wave" + Keys.ArrowDown + Keys.ArrowRight + Keys.ArrowLeft + Keys.Enter).Perform();
            page.Until(() => page.Count("[data-emoji]") == 0 && page.ValueOf("Common text").Length > 50, "the picker shut");
            Assert.Equal("common-text", page.Run("return document.activeElement.id"));
            Open(page, "jot");
            page.See("With @skerry");
        }
    }

    [Fact]
    public async Task A_pasted_link_gets_a_field_of_its_own_and_a_pasted_picture_is_sent_up()
    {
        (Page page, _) = await NewAsync("pastes", "hearth");
        using (page)
        {
            Fill(page, "Read on");
            Paste(page, "transfer.setData('text/plain', 'https://harbour.example.org/rope')");
            page.Until(() => page.ValueOf("Link") == "https://harbour.example.org/rope", "the link in its own field");
            Assert.Equal("Read on", page.ValueOf("Common text"));
            page.Press("Into the text instead");
            page.Until(() => page.ValueOf("Common text") == "Read on https://harbour.example.org/rope", "the link in the text");
            Paste(
                page,
                """
                const bytes = Uint8Array.from(atob(arguments[0]), (c) => c.charCodeAt(0));
                transfer.items.add(new File([bytes], 'pasted.png', { type: 'image/png' }))
                """,
                Convert.ToBase64String(TestData.Png(610, 430))
            );
            page.Until(() => page.Count("[data-picture]") == 1, "the picture");
        }

        static void Paste(Page page, string fill, string value = "") =>
            page.Run(
                $$"""
                const transfer = new DataTransfer();
                {{fill}};
                const field = document.getElementById('common-text');
                field.focus();
                field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: transfer, bubbles: true, cancelable: true }));
                """,
                value
            );
    }

    [Fact]
    public async Task Two_at_one_post_see_each_other_and_a_version_is_put_back_word_by_word()
    {
        Guid category = await _ada.CategoryAsync("Seen");
        JsonElement post = await _ada.PostAsync(category, "The first tide", stage: "draft");
        using ApiClient writer = await _installation.MemberAsync(Core.Workspaces.Role.Writer);
        JsonElement saved = await writer.SavePostAsync(
            post.Id(),
            post.Whole("version"),
            TestData.Edit(category, "The second tide", "draft")
        );
        using Page page = new(_installation.Address);
        page.SignInAs(_ada);
        page.Go($"/w/harbour/posts/{post.Id()}");
        page.Until(() => page.ValueOf("Common text") == "The second tide", "the post");
        page.Until(() => page.TextOf("[data-standing]") == "Saved", "at rest");
        await UntilAsync(async () =>
        {
            await writer.PostAsync($"posts/{post.Id()}/presence", new { isWriting = true });
            return page.Text().Contains("Writer Wader is writing here", StringComparison.Ordinal);
        });
        await writer.DeleteAsync($"posts/{post.Id()}/presence");
        page.SeeNoMore("Writer Wader is writing here");
        page.Press("Versions");
        page.See("Writer Wader");
        page.PressCss("[data-sheet] li:last-child button");
        page.See("Put this version back");
        Assert.Equal("first", page.TextOf("[data-differences] del"));
        Assert.Equal("second", page.TextOf("[data-differences] ins"));
        page.Press("Put this version back");
        page.Until(() => page.ValueOf("Common text") == "The first tide", "the first version");
        await UntilAsync(async () => (await _ada.GetAsync($"posts/{post.Id()}")).CommonText() == "The first tide");
    }

    [Fact]
    public async Task What_is_too_much_or_gone_under_the_open_desk_loses_nothing()
    {
        (Page page, Guid[] channels) = await NewAsync("rough", "jot", "hearth");
        using (page)
        {
            page.Run(
                """
                const field = document.getElementById('common-text');
                field.focus();
                document.execCommand('insertText', false, arguments[0]);
                """,
                string.Concat(Enumerable.Repeat("tide ", 19_500)) + string.Concat(Enumerable.Range(0, 300).Select(i => $"#tag{i} "))
            );
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "a hundred thousand characters saved", TimeSpan.FromSeconds(40));
            page.Until(() => page.Count("[data-network=jot] [data-finding=textTooLong]") == 1, "its finding");
            Assert.InRange(page.ValueOf("Common text").Length, 99_000, 100_000);
            Fill(page, "Short again");
            page.Until(() => page.Count("[data-finding]") == 0, "nothing to find");
            await _ada.DeleteAsync($"channels/{channels[1]}/connection");
            page.See("It is disconnected.");
            Guid id = Guid.Parse(page.Url.Split('/')[^1]);
            Guid category = (await _ada.GetAsync($"posts/{id}")).Id("categoryId");
            Assert.Equal("Short again", (await _ada.GetAsync($"posts/{id}")).CommonText());
            // A category that posts have can't be taken away under them.
            (System.Net.HttpStatusCode status, _) = await _ada.TroubleAsync(HttpMethod.Delete, $"categories/{category}");
            Assert.Equal(System.Net.HttpStatusCode.Conflict, status);
            Fill(page, "Short, and on");
            page.Until(() => page.TextOf("[data-standing]") == "Saved", "saved all the same");
        }
    }

    [Fact]
    public async Task On_a_phone_a_simple_post_is_written_and_scheduled()
    {
        Guid hearth = await _installation.ConnectAsync(_ada, "hearth", "phone");
        Guid category = await _ada.CategoryAsync("On the way", hearth);
        using Page page = new(_installation.Address, 390, 844);
        page.ReduceMotion();
        page.SignInAs(_ada);
        page.Go($"/w/harbour/posts/new?category={category}");
        Fill(page, "Seen from the ferry");
        page.Upload("Choose pictures", Picture("ferry.png", 800, 600));
        page.Until(() => page.Count("[data-picture]") == 1, "the picture");
        page.Until(() => page.TextOf("[data-reach]").Contains("can take it now", StringComparison.Ordinal), "it fits");
        Assert.True((bool)page.Run("return document.documentElement.scrollWidth <= 390")!, "no scrolling to the side");
        page.Tick("Date and time");
        page.Fill("Date", "tomorrow");
        page.Fill("Time", "8:00");
        page.PressCss("[data-act]");
        page.See("Scheduled for");
        Assert.Equal("", page.Run("return [...document.querySelectorAll('[role=alert]')].map((e) => e.innerText).join()"));
        Unbroken(page, "the desk on a phone");
    }

    private async Task<(Page Page, Guid[] Channels)> NewAsync(string name, params string[] networks)
    {
        List<Guid> channels = [];
        foreach (string network in networks)
            channels.Add(await _installation.ConnectAsync(_ada, network, $"{name}-{network}"));
        Guid category = await _ada.CategoryAsync(name, [.. channels]);
        Page page = new(_installation.Address);
        page.ReduceMotion();
        page.SignInAs(_ada);
        page.Go($"/w/harbour/posts/new?category={category}");
        page.Until(() => (bool)page.Run("return document.activeElement?.id === 'common-text'")!, "ready for typing");
        return (page, [.. channels]);
    }

    /// <summary>Opens a network's line. While checks come in the lines move, and a press may miss.</summary>
    private static void Open(Page page, string network) =>
        page.Until(
            () =>
            {
                if (page.Count($"#variant-{network}") == 0)
                    page.PressCss($"[data-network={network}] button[aria-expanded]");
                return page.Count($"#variant-{network}") == 1;
            },
            $"the line of {network} opened"
        );

    private static void Unbroken(Page page, string view)
    {
        IReadOnlyList<string> broken = Axe.Broken(page, view);
        Assert.True(broken.Count == 0, string.Join('\n', broken));
    }

    private static void Fill(Page page, string text) => page.Fill("Common text", text);

    private static string Picture(string name, int width, int height)
    {
        string path = Path.Combine(Directory.CreateTempSubdirectory("able-lark-desk-").FullName, name);
        File.WriteAllBytes(path, TestData.Png(width, height));
        return path;
    }

    private static async Task UntilAsync(Func<Task<bool>> condition)
    {
        for (int i = 0; i < 200; i++)
        {
            if (await condition())
                return;
            await Task.Delay(100);
        }
        Assert.Fail("Not within 20 s.");
    }
}
