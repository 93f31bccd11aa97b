using System.Collections.Concurrent;
using System.Net.WebSockets;
using System.Text.Json;
using OpenQA.Selenium;
using OpenQA.Selenium.Chrome;

namespace AbleLark.Browser.Tests;

/// <summary>
/// A headless Chromium that lives as long as the tests do: starting one takes longer than most tests. Each page has a browser context of
/// its own in it, with cookies and storage that nobody else sees and that go with it.
/// </summary>
internal sealed class Chromium
{
    private static readonly ConcurrentBag<Chromium> Free = [];
    private static readonly ConcurrentBag<Chromium> All = [];

    private readonly ChromeDriverService _service;
    private readonly string _profile = Directory.CreateTempSubdirectory("able-lark-browser-").FullName;
    private readonly string _first;
    private readonly Uri _debugger;
    private string? _context;

    static Chromium() => AppDomain.CurrentDomain.ProcessExit += (_, _) => EndAll();

    private Chromium()
    {
        _service = ChromeDriverService.CreateDefaultService("/usr/bin", "chromedriver");
        ChromeOptions options = new() { BinaryLocation = "/usr/bin/chromium" };
        options.AddArguments(
            "--headless=new",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--disable-dev-shm-usage",
            $"--user-data-dir={_profile}"
        );
        options.SetLoggingPreference(LogType.Browser, LogLevel.Warning);
        Driver = new(_service, options);
        _first = Driver.CurrentWindowHandle;
        var chrome = (Dictionary<string, object>)Driver.Capabilities.GetCapability("goog:chromeOptions")!;
        using HttpClient http = new();
        using JsonDocument version = JsonDocument.Parse(http.GetStringAsync($"http://{chrome["debuggerAddress"]}/json/version").Result);
        _debugger = new(version.RootElement.GetProperty("webSocketDebuggerUrl").GetString()!);
    }

    public ChromeDriver Driver { get; }

    /// <summary>One that nobody uses, with a new context; one more is started when all are in use.</summary>
    public static Chromium Take()
    {
        if (!Free.TryTake(out Chromium? one))
            All.Add(one = new());
        one.Open();
        return one;
    }

    /// <summary>Closes the page's context, and keeps the browser for the next.</summary>
    public void GiveBack()
    {
        Driver.SwitchTo().Window(_first);
        Command("Target.disposeBrowserContext", new() { ["browserContextId"] = _context! });
        // What it wrote to its console is nobody else's.
        Driver.Manage().Logs.GetLog(LogType.Browser);
        Free.Add(this);
    }

    private void Open()
    {
        _context = Command("Target.createBrowserContext", new() { ["disposeOnDetach"] = false })
            .GetProperty("browserContextId")
            .GetString();
        JsonElement made = Command(
            "Target.createTarget",
            new()
            {
                ["url"] = "about:blank",
                ["browserContextId"] = _context!,
                ["newWindow"] = true,
            }
        );
        Driver.SwitchTo().Window(made.GetProperty("targetId").GetString()!);
    }

    /// <summary>A command to the browser as a whole; the driver's own go to a page.</summary>
    private JsonElement Command(string method, Dictionary<string, object> values) => CommandAsync(method, values).GetAwaiter().GetResult();

    private async Task<JsonElement> CommandAsync(string method, Dictionary<string, object> values)
    {
        using CancellationTokenSource patience = new(TimeSpan.FromSeconds(20));
        using ClientWebSocket socket = new();
        await socket.ConnectAsync(_debugger, patience.Token);
        await socket.SendAsync(
            JsonSerializer.SerializeToUtf8Bytes(
                new
                {
                    id = 1,
                    method,
                    @params = values,
                }
            ),
            WebSocketMessageType.Text,
            endOfMessage: true,
            patience.Token
        );
        byte[] buffer = new byte[64 * 1024];
        while (true)
        {
            using MemoryStream message = new();
            WebSocketReceiveResult part;
            do
            {
                part = await socket.ReceiveAsync(buffer, patience.Token);
                message.Write(buffer, 0, part.Count);
            } while (!part.EndOfMessage);
            using JsonDocument answer = JsonDocument.Parse(message.ToArray());
            if (!answer.RootElement.TryGetProperty("id", out _))
                continue;
            return answer.RootElement.TryGetProperty("result", out JsonElement result)
                ? result.Clone()
                : throw new InvalidOperationException($"{method}: {answer.RootElement.GetProperty("error")}");
        }
    }

    private static void EndAll()
    {
        foreach (Chromium one in All)
        {
            try
            {
                one.Driver.Quit();
                one._service.Dispose();
                Directory.Delete(one._profile, recursive: true);
            }
            catch (Exception e) when (e is WebDriverException or IOException or InvalidOperationException)
            {
                // Chromium may still be writing its last words; the folder is a temporary one.
            }
        }
    }
}
