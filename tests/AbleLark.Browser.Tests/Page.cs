using System.Globalization;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;
using OpenQA.Selenium.Interactions;
using Cookie = System.Net.Cookie;

namespace AbleLark.Browser.Tests;

/// <summary>A page in headless Chromium, used as a person uses it: by labels, names and words.</summary>
public sealed class Page : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(20);
    private readonly Chromium _chromium;
    private readonly ChromeDriver _driver;
    private readonly string _address;

    public Page(string address, int width = 1280, int height = 800)
    {
        _address = address;
        _chromium = Chromium.Take();
        _driver = _chromium.Driver;
        Resize(width, height);
    }

    /// <summary>Gives the window another size, in pixels of the page.</summary>
    public void Resize(int width, int height) =>
        _driver.ExecuteCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            new()
            {
                ["width"] = width,
                ["height"] = height,
                ["deviceScaleFactor"] = 1,
                ["mobile"] = false,
            }
        );

    public string Url => _driver.Url;

    public ChromeDriver Driver => _driver;

    /// <summary>As for somebody who has asked their system for less motion: nothing fades or slides.</summary>
    public void ReduceMotion() =>
        _driver.ExecuteCdpCommand(
            "Emulation.setEmulatedMedia",
            new()
            {
                ["features"] = new object[]
                {
                    new Dictionary<string, object> { ["name"] = "prefers-reduced-motion", ["value"] = "reduce" },
                },
            }
        );

    public void Go(string path) => _driver.Navigate().GoToUrl(path.StartsWith("http", StringComparison.Ordinal) ? path : _address + path);

    /// <summary>Takes over the session of somebody who has signed in by the API.</summary>
    public void SignInAs(ApiClient client)
    {
        foreach (Cookie cookie in client.Cookies.GetCookies(new(_address)))
            _driver.ExecuteCdpCommand(
                "Network.setCookie",
                new()
                {
                    ["url"] = _address,
                    ["name"] = cookie.Name,
                    ["value"] = cookie.Value,
                    ["httpOnly"] = cookie.HttpOnly,
                    ["path"] = cookie.Path,
                }
            );
    }

    /// <summary>Signs in as a person does.</summary>
    public void SignIn(string email, string password)
    {
        Go("/");
        Fill("E-mail", email);
        Fill("Password", password);
        Press("Sign in");
        See("What needs you");
    }

    /// <summary>Presses the button, link, tab or menu item with this name.</summary>
    public void Press(string name, int nth = 0)
    {
        Try(
            () => Click(_driver.FindElements(Named(name)).Where(e => e.Displayed && e.Enabled).ElementAt(nth)),
            $"something to press named “{name}”"
        );
    }

    /// <summary>Opens the menu whose name begins with these words.</summary>
    public void PressMenu(string name) =>
        Try(
            () => _driver.FindElement(By.XPath($"//button[@aria-haspopup='menu'][starts-with(normalize-space(), {Quoted(name)})]")).Click(),
            $"a menu “{name}”"
        );

    /// <summary>Waits until the page has asked the server for nothing for a second.</summary>
    public void Settle()
    {
        (long Asked, DateTime At) last = (-1, DateTime.UtcNow);
        Until(
            () =>
            {
                long asked = Convert.ToInt64(Run("return performance.getEntriesByType('resource').length"), CultureInfo.InvariantCulture);
                if (asked != last.Asked)
                    last = (asked, DateTime.UtcNow);
                return DateTime.UtcNow - last.At > TimeSpan.FromSeconds(1);
            },
            "the page at rest"
        );
    }

    /// <summary>Waits for what is found so.</summary>
    public IWebElement Find(By what) => Try(() => _driver.FindElement(what), what.ToString());

    public void Press(By what) => Try(() => Click(_driver.FindElement(what)), what.ToString());

    /// <summary>Presses Tab, or another key, until the focus is on what bears these words, or is found by this selector.</summary>
    public void TabTo(string wanted, string? key = null)
    {
        for (int i = 0; i < 120; i++)
        {
            bool there = (bool)
                Run(
                    $$"""
                    const [at, wanted] = [document.activeElement, {{JsonSerializer.Serialize(wanted)}}];
                    let matches = false;
                    try { matches = at.matches(wanted); } catch { /* words, not a selector */ }
                    return matches || at.textContent.trim() === wanted;
                    """
                )!;
            if (there)
                return;
            Type(key ?? Keys.Tab);
        }
        Assert.Fail($"The focus never came to “{wanted}”.");
    }

    /// <summary>Presses keys one after another, wherever the focus is.</summary>
    public void Type(params string[] keys)
    {
        foreach (string key in keys)
            new Actions(_driver).SendKeys(key).Perform();
    }

    public void PressCss(string css) => Try(() => Click(_driver.FindElements(By.CssSelector(css)).First(e => e.Displayed)), css);

    /// <summary>Types into the field with this label, in place of what it holds.</summary>
    public void Fill(string label, string text)
    {
        Try(
            () =>
            {
                IWebElement field = Field(label);
                Click(field);
                field.SendKeys(Keys.Control + "a");
                field.SendKeys(text.Length > 0 ? text : Keys.Delete);
            },
            $"a field labelled “{label}”"
        );
    }

    /// <summary>Opens the choice with this label and takes the option with these words.</summary>
    public void Choose(string label, string option)
    {
        Try(() => Field(label).Click(), $"a choice labelled “{label}”");
        Try(
            () =>
                _driver
                    .FindElements(By.XPath($"//*[@role='option'][contains(normalize-space(), {Quoted(option)})]"))
                    .First(e => e.Displayed)
                    .Click(),
            $"the choice “{option}” of “{label}”"
        );
    }

    /// <summary>Ticks the box with this label.</summary>
    public void Tick(string label) =>
        Try(
            () => Click(_driver.FindElements(By.XPath($"//label[contains(normalize-space(), {Quoted(label)})]")).First(e => e.Displayed)),
            $"a box labelled “{label}”"
        );

    /// <summary>Gives files to the file button with this label.</summary>
    public void Upload(string label, params string[] files) =>
        Try(
            () =>
                _driver
                    .FindElement(By.XPath($"//label[contains(normalize-space(), {Quoted(label)})]//input[@type='file']"))
                    .SendKeys(string.Join('\n', files)),
            $"the file button “{label}”"
        );

    /// <summary>Waits until the words can be seen.</summary>
    public void See(string words, TimeSpan? patience = null) =>
        Try(
            () =>
            {
                if (!Text().Contains(words, StringComparison.Ordinal))
                    throw new NotFoundException();
            },
            $"the words “{words}”",
            patience
        );

    public void SeeNoMore(string words) =>
        Try(
            () =>
            {
                if (Text().Contains(words, StringComparison.Ordinal))
                    throw new NotFoundException();
            },
            $"the words “{words}” gone"
        );

    public void Until(Func<bool> condition, string what, TimeSpan? patience = null) =>
        Try(
            () =>
            {
                if (!condition())
                    throw new NotFoundException();
            },
            what,
            patience
        );

    /// <summary>How many of these can be seen.</summary>
    public int Count(string css) =>
        Convert.ToInt32(
            Run(
                """
                return [...document.querySelectorAll(arguments[0])]
                  .filter((e) => e.checkVisibility({ visibilityProperty: true }) && e.getClientRects().length > 0).length;
                """,
                css
            ),
            CultureInfo.InvariantCulture
        );

    public string TextOf(string css) => Try(() => _driver.FindElement(By.CssSelector(css)).Text, css);

    /// <summary>The words of all of these at one moment, however often the page draws them anew.</summary>
    public IReadOnlyList<string> TextsOf(string css) =>
        [
            .. (
                (IEnumerable<object>)Run("return [...document.querySelectorAll(arguments[0])].map((e) => e.innerText.trim())", css)!
            ).Cast<string>(),
        ];

    public string ValueOf(string label) => Try(() => Field(label).GetDomProperty("value") ?? "", label);

    public string Text() => (string)Run("return document.body.innerText")!;

    public object? Run(string script, params object[] values) => _driver.ExecuteScript(script, values);

    public object? RunAsync(string script, params object[] values) => _driver.ExecuteAsyncScript(script, values);

    /// <summary>Errors that the page wrote to its console since the last look; refused requests are told by the page itself.</summary>
    public IReadOnlyList<string> Complaints() =>
        [
            .. _driver
                .Manage()
                .Logs.GetLog(LogType.Browser)
                .Select(l => l.Message)
                .Where(m => !m.Contains("Failed to load resource", StringComparison.Ordinal)),
        ];

    public void Dispose() => _chromium.GiveBack();

    /// <summary>What lies under the page's head or foot is scrolled out of there, as one does by hand; the next try reaches it.</summary>
    private void Click(IWebElement element)
    {
        try
        {
            element.Click();
        }
        catch (ElementClickInterceptedException)
        {
            _driver.ExecuteScript("arguments[0].scrollIntoView({ block: 'center' })", element);
            throw;
        }
    }

    private IWebElement Field(string label)
    {
        IEnumerable<IWebElement> labelled = _driver
            .FindElements(By.XPath($"//label[normalize-space()={Quoted(label)}]"))
            .Where(l => l.Displayed)
            .Select(l => _driver.FindElement(By.Id(l.GetDomAttribute("for")!)));
        IEnumerable<IWebElement> named = _driver
            .FindElements(By.CssSelector($"[aria-label={CssQuoted(label)}]"))
            .Where(e => e.Displayed && (e.TagName is "input" or "textarea" || e.GetDomAttribute("role") == "combobox"));
        return labelled.Concat(named).First();
    }

    private static By Named(string name) =>
        By.XPath(
            $"//*[self::button or self::a or @role='menuitem' or @role='radio'][normalize-space()={Quoted(name)} or "
                + $"@aria-label={Quoted(name)}]"
        );

    private static string Quoted(string text) => text.Contains('\'', StringComparison.Ordinal) ? $"\"{text}\"" : $"'{text}'";

    private static string CssQuoted(string text) => "\"" + text.Replace("\"", "\\\"", StringComparison.Ordinal) + "\"";

    private void Try(Action act, string what, TimeSpan? patience = null) =>
        Try(
            () =>
            {
                act();
                return true;
            },
            what,
            patience
        );

    /// <summary>Tries until it works; pages move while they load.</summary>
    private T Try<T>(Func<T> act, string what, TimeSpan? patience = null)
    {
        DateTime until = DateTime.UtcNow + (patience ?? Patience);
        while (true)
        {
            try
            {
                return act();
            }
            catch (Exception e) when (e is WebDriverException or InvalidOperationException or ArgumentOutOfRangeException)
            {
                if (DateTime.UtcNow > until)
                    throw new TimeoutException(
                        string.Create(
                            CultureInfo.InvariantCulture,
                            $"Waited in vain for {what} at {_driver.Url}. The page says:\n{Text()}"
                        ),
                        e
                    );
                Thread.Sleep(60);
            }
        }
    }
}
