using System.Globalization;
using AbleLark.Server.Tests.Fixtures;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using SkiaSharp;

namespace AbleLark.Browser.Tests;

/// <summary>The gallery that every view is made of, on the page that shows them all: by keyboard, in both themes, read without
/// colour.</summary>
public sealed class GalleryTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    [Fact]
    public void No_piece_breaks_a_rule_open_or_shut()
    {
        using Page page = Open();
        List<string> broken = [.. Axe.Broken(page, "the pieces")];
        foreach (
            (string opener, string inside, string close) in new[]
            {
                ("Open the dialog", "It is closed with Esc", Keys.Escape),
                ("Open the sheet", "The view beside it stays in use.", Keys.Escape),
                ("Open the finder", "Harbour", Keys.Escape),
                ("Open the popover", "Low water at 11:40", Keys.Escape),
                ("Acts: Choose an act ▾", "For the chosen walk", Keys.Escape),
                ("Choose from a month", "March 2026", Keys.Escape),
                ("Kind", "All kinds", Keys.Escape),
                ("Fail", "Nothing was sent; try again.", ""),
            }
        )
        {
            Focus(page, opener);
            Type(page, Keys.Enter);
            page.See(inside);
            // An open choice hides the page behind it from readers and keeps Tab to itself: what could be focused there can't be reached.
            broken.AddRange(Axe.Broken(page, opener, except: opener == "Kind" ? "aria-hidden-focus" : null));
            if (close.Length == 0)
                continue;
            Type(page, close);
            page.SeeNoMore(inside);
        }
        Assert.True(broken.Count == 0, string.Join('\n', broken.Distinct()));
    }

    [Fact]
    public void Every_piece_is_worked_by_keys()
    {
        using Page page = Open();
        // Select: letters jump, arrows move, Enter takes.
        Focus(page, "Kind");
        Type(page, Keys.Enter);
        page.See("All kinds");
        Type(page, "h");
        Type(page, Keys.ArrowDown);
        page.Until(
            () => ((string?)page.Run("return document.activeElement.textContent"))?.Contains("Harbour", StringComparison.Ordinal) == true,
            "the kind under the keys"
        );
        Type(page, Keys.Enter);
        page.Until(() => page.TextOf("[data-chosen]").StartsWith("harbour ", StringComparison.Ordinal), "the kind chosen by keys");
        // Date: typed in words, then a day later by the month's arrows. Time: typed.
        page.Fill("Day", "4 apr");
        page.Until(() => page.TextOf("[data-chosen]").Contains("2026-04-04", StringComparison.Ordinal), "the date typed");
        Focus(page, "Choose from a month");
        Type(page, Keys.Enter);
        page.See("April 2026");
        page.Run("document.querySelector('[data-day=\"2026-04-04\"] button').focus()");
        Type(page, Keys.ArrowRight);
        page.Until(
            () => (string?)page.Run("return document.activeElement.closest('[data-day]')?.dataset.day") == "2026-04-05",
            "the next day under the keys"
        );
        Type(page, Keys.Enter);
        page.Until(() => page.TextOf("[data-chosen]").Contains("2026-04-05", StringComparison.Ordinal), "the date chosen");
        page.Fill("Time", "17:45");
        page.Until(() => page.TextOf("[data-chosen]").Contains("17:45", StringComparison.Ordinal), "a time off the half-hour grid");
        // One of two, tabs: arrows.
        Focus(page, "Left");
        Type(page, Keys.ArrowRight);
        page.Until(() => (string?)page.Run("return document.activeElement.textContent") == "Right", "the other side under the keys");
        Type(page, Keys.Space);
        page.Until(() => page.TextOf("[data-chosen]").EndsWith(" right", StringComparison.Ordinal), "the other side");
        Focus(page, "Tides");
        Type(page, Keys.ArrowRight);
        page.See("No walk before the ferry is back.");
        // Menu: arrows and Enter; the one not to be had is passed over.
        Focus(page, "Acts: Choose an act ▾");
        Type(page, Keys.Enter);
        page.See("For the chosen walk");
        UnderKeys(page, "Skip it");
        Type(page, Keys.ArrowDown);
        UnderKeys(page, "Copy it");
        Type(page, Keys.Enter);
        page.Until(() => page.TextOf("[data-said]") == "copied", "the act chosen by keys");
        // A notice's undo can be reached; the tip shows on focus.
        Focus(page, "Move the walk");
        Type(page, Keys.Enter);
        page.See("The walk moved to Tuesday.");
        Focus(page, "Undo");
        Type(page, Keys.Enter);
        page.Until(() => page.TextOf("[data-said]") == "undone", "undone by keys");
        Focus(page, "Open the popover");
        Type(page, Keys.Tab);
        page.See("Low water at 11:40");
        // The dialog keeps the keys to itself and gives them back to what opened it.
        Focus(page, "Open the dialog");
        Type(page, Keys.Enter);
        page.See("It is closed with Esc");
        Type(page, Keys.Tab + Keys.Tab + Keys.Tab);
        Assert.Equal(true, page.Run("return document.querySelector('[role=dialog]').contains(document.activeElement)"));
        Type(page, Keys.Escape);
        page.Until(
            () => (string?)page.Run("return document.activeElement.textContent") == "Open the dialog",
            "the keys back where they were"
        );
        Assert.Empty(page.Complaints());
    }

    [Theory]
    [InlineData("light")]
    [InlineData("dark")]
    public void The_forms_of_the_states_differ_at_twelve_pixels_without_colour(string theme)
    {
        using Page page = Open();
        page.Run("document.documentElement.dataset.theme = arguments[0]", theme);
        // Each form alone, at the page's corner, on the page's own ground.
        List<(string Form, float[] Greys)> drawn =
        [
            .. page.Driver.FindElements(By.CssSelector("svg[data-form]")).Select(mark => (mark.GetDomAttribute("data-form")!, Greys(mark))),
        ];
        Assert.Equal(6, drawn.Count);
        foreach ((string form, float[] greys) in drawn)
        {
            foreach ((string other, float[] others) in drawn)
            {
                if (string.CompareOrdinal(form, other) >= 0)
                    continue;
                double differing = greys.Zip(others).Count(pair => Math.Abs(pair.First - pair.Second) > 0.25) / (double)greys.Length;
                Assert.True(
                    differing > 0.12,
                    string.Create(CultureInfo.InvariantCulture, $"{form} and {other} differ in {differing:P0} of their dots")
                );
            }
        }
    }

    /// <summary>Lightness (0 to 1, as CIE L* / 100 would have it) of each dot of a mark of 24 × 12.</summary>
    private static float[] Greys(IWebElement mark)
    {
        byte[] png = ((ITakesScreenshot)mark).GetScreenshot().AsByteArray;
        using SKBitmap bitmap = SKBitmap.Decode(png);
        float[] greys = new float[24 * 12];
        for (int y = 0; y < 12; y++)
        {
            for (int x = 0; x < 24; x++)
            {
                SKColor dot = bitmap.GetPixel(Math.Min(x, bitmap.Width - 1), Math.Min(y, bitmap.Height - 1));
                greys[(y * 24) + x] = ((0.2126f * dot.Red) + (0.7152f * dot.Green) + (0.0722f * dot.Blue)) / 255f;
            }
        }
        return greys;
    }

    private Page Open()
    {
        Page page = new(web.TestInstallation.Address);
        page.ReduceMotion();
        page.SignInAs(web.TestInstallation.Ada);
        page.Go("/gallery");
        page.See("The gallery");
        return page;
    }

    private static void Focus(Page page, string name) =>
        page.Until(
            () =>
                page.Run(
                    """
                    const named = (e) => (e.getAttribute('aria-label') ?? (e.id &&
                        document.querySelector(`label[for="${CSS.escape(e.id)}"]`)?.textContent) ?? '') === arguments[0] ||
                        e.textContent.trim() === arguments[0];
                    const found = [...document.querySelectorAll('button, input, [role=tab]')].find(named);
                    found?.focus();
                    return found !== undefined && document.activeElement === found;
                    """,
                    name
                )
                    is true,
            $"the keys on “{name}”"
        );

    private static void UnderKeys(Page page, string words) =>
        page.Until(() => (string?)page.Run("return document.activeElement.textContent") == words, $"“{words}” under the keys");

    private static void Type(Page page, string keys) => new Actions(page.Driver).SendKeys(keys).Perform();
}
