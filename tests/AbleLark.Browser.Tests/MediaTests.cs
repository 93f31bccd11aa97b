using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;
using OpenQA.Selenium;
using OpenQA.Selenium.Interactions;
using SkiaSharp;

namespace AbleLark.Browser.Tests;

/// <summary>Files as a planner handles them: sent up, cut for each network, sent out, looked for.</summary>
public sealed class MediaTests(WebInstallation web) : IClassFixture<WebInstallation>
{
    private readonly TestInstallation _installation = web.TestInstallation;

    private readonly string _folder = Directory.CreateTempSubdirectory("able-lark-media-").FullName;

    [Fact]
    public async Task Five_pictures_are_sent_up_one_is_cancelled_and_one_is_cut_by_pointer_and_by_keys_for_each_network()
    {
        Guid glimmer = await _installation.ConnectAsync(_installation.Ada, "glimmer", "cuts-g");
        Guid hearth = await _installation.ConnectAsync(_installation.Ada, "hearth", "cuts-h");
        Guid category = await _installation.Ada.CategoryAsync("Cuts", glimmer, hearth);
        Guid post = (await _installation.Ada.PostAsync(category, "A long shore")).Id();
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go($"/w/harbour/posts/{post}");
        page.See("Choose pictures");

        // The fifth is large, and the line is slow: there is time to change one's mind.
        page.Driver.ExecuteCdpCommand("Network.enable", []);
        Throttle(page, 100 * 1024);
        page.Upload(
            "Choose pictures",
            Picture("shore.png", 1500, 500),
            Picture("two.png", 420, 420),
            Picture("three.png", 430, 420),
            Picture("four.png", 440, 420),
            Noise("five.png", 1600, 1200)
        );
        page.PressCss("[aria-label='Pause: five.png']");
        page.See("Paused");
        page.PressCss("[aria-label='Go on: five.png']");
        page.PressCss("[aria-label='Cancel: five.png']");
        Throttle(page, -1);
        page.Until(() => page.Count("[data-picture]") == 4, "four pictures");
        Assert.DoesNotContain("five.png", page.Text(), StringComparison.Ordinal);
        string shore = await FileAsync("shore.png");
        page.PressCss($"[data-picture='{shore}'] [aria-label^='Crop picture']");
        page.See("What each network gets of this picture");
        page.PressCss("[data-crop-of='glimmer']");
        page.See("too wide");
        page.Press("As suggested");
        page.SeeNoMore("too wide");
        Assert.Equal("250,0,1000,500", Frame(page));

        // By pointer: the frame to the left, its corner inwards; by keys: to the right, and smaller.
        double perPixel = Convert.ToDouble(
            page.Run("return document.querySelector('[data-crop-stage]').clientWidth"),
            System.Globalization.CultureInfo.InvariantCulture
        );
        Drag(page, "[data-crop-frame]", -(int)Math.Round(100 * perPixel / 1500), 0);
        Assert.InRange(Part(page)[0], 140, 160);
        Drag(page, "[data-crop-corner]", -(int)Math.Round(200 * perPixel / 1500), -(int)Math.Round(100 * perPixel / 1500));
        Assert.InRange(Part(page)[2], 780, 820);
        int[] before = Part(page);
        IWebElement frame = page.Find(By.CssSelector("[data-crop-frame]"));
        frame.SendKeys(Keys.ArrowRight + Keys.ArrowRight + Keys.ArrowDown);
        Assert.Equal((before[0] + 30, before[1] + 5), (Part(page)[0], Part(page)[1]));
        frame.SendKeys(Keys.Shift + Keys.ArrowUp + Keys.ArrowUp);
        int[] cut = Part(page);
        Assert.True(cut[3] < before[3] && (double)cut[2] / cut[3] <= 2.001);
        page.Press("Keep these");
        await UntilAsync(async () => await CropAsync(post, "glimmer") == $"{cut[0]},{cut[1]},{cut[2]},{cut[3]}");
        // The other network gets all of it, as before.
        Assert.False((await ContentAsync(post)).GetProperty("networks").TryGetProperty("hearth", out _));

        // What the networks got is that part, and the whole.
        Guid[] deliveries = await _installation.Ada.PlanAsync(_installation, post, 5, glimmer, hearth);
        await _installation.MoveOnAsync(Duration.FromMinutes(6));
        foreach (Guid delivery in deliveries)
            await UntilAsync(async () => await _installation.Ada.StateAsync(delivery) == "sent");
        Assert.Equal([(cut[2], cut[3]), (1500, 500)], await FirstPicturesAsync(deliveries));
    }

    [Fact]
    public async Task The_media_are_found_described_and_removed_when_nothing_uses_them()
    {
        string name = $"lamp-{Guid.NewGuid():n}.png"[..16] + ".png";
        Guid used = await _installation.Ada.PictureAsync("used-lamp.png");
        Guid category = await _installation.Ada.CategoryAsync("Lamps");
        await _installation.Ada.PostAsync(category, "The lamp is lit", picture: used);
        using Page page = new(_installation.Address);
        page.SignInAs(_installation.Ada);
        page.Go("/w/harbour/media");
        page.Upload("Add files", Picture(name, 500, 300));
        page.Until(() => page.Text().Contains(name, StringComparison.Ordinal) && page.Count("[data-media]") > 1, "the new file");
        // The browser draws a picture from a video that is sent up.
        page.Upload("Add files", Path.Combine(AppContext.BaseDirectory, "wide.mp4"));
        await UntilAsync(async () =>
            (await _installation.Ada.GetAsync("media?sort=video"))
                .List("items")
                .Any(i => i.GetProperty("file").GetProperty("hasPoster").GetBoolean())
        );
        page.Find(By.CssSelector("input[type=search]")).SendKeys("used-lamp");
        page.Until(() => page.Count("[data-media]") == 1, "one file");
        page.PressCss($"[data-media='{used}']");
        page.See("The lamp is lit");
        page.Fill("Alt text: the picture in words", "A lamp in a window");
        page.PressCss("[data-focus-point]");
        page.Press("Keep this with the picture");
        page.See("Said of the picture.");
        Assert.Equal("A lamp in a window", (await _installation.Ada.GetAsync($"media/{used}/facts")).Text("altText"));
        Assert.Equal(
            System.Net.HttpStatusCode.Conflict,
            (await _installation.Ada.TroubleAsync(HttpMethod.Post, "media/removal", new { files = new[] { used } })).Status
        );

        page.Go($"/w/harbour/media?search={name}");
        page.Until(() => page.Count("[data-media]") == 1, "the unused file");
        page.Tick("Never used");
        page.Press("Remove 1 unused");
        page.See("No file is like that");
        page.Press("Undo");
        page.Until(() => page.Count("[data-media]") == 1, "the file again");
    }

    private static string Frame(Page page) => page.Find(By.CssSelector("[data-crop-frame]")).GetDomAttribute("data-crop-frame") ?? "";

    private static int[] Part(Page page) =>
        [.. Frame(page).Split(',').Select(p => int.Parse(p, System.Globalization.CultureInfo.InvariantCulture))];

    private static void Drag(Page page, string css, int across, int down) =>
        new Actions(page.Driver).DragAndDropToOffset(page.Find(By.CssSelector(css)), across, down).Perform();

    private static void Throttle(Page page, int bytesPerSecond) =>
        page.Driver.ExecuteCdpCommand(
            "Network.emulateNetworkConditions",
            new()
            {
                ["offline"] = false,
                ["latency"] = 0,
                ["downloadThroughput"] = -1,
                ["uploadThroughput"] = bytesPerSecond,
            }
        );

    private string Picture(string name, int width, int height) => Keep(name, TestData.Png(width, height));

    private string Noise(string name, int width, int height)
    {
        using SKBitmap bitmap = new(width, height);
        new Random(7).NextBytes(bitmap.GetPixelSpan());
        using SKData data = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        return Keep(name, data.ToArray());
    }

    private string Keep(string name, byte[] bytes)
    {
        string path = Path.Combine(_folder, name);
        File.WriteAllBytes(path, bytes);
        return path;
    }

    private async Task<string> FileAsync(string name) =>
        (await _installation.Ada.GetAsync($"media?search={name}")).List("items")[0].GetProperty("file").Text("id");

    private async Task<JsonElement> ContentAsync(Guid post) => (await _installation.Ada.GetAsync($"posts/{post}")).GetProperty("content");

    private async Task<string?> CropAsync(Guid post, string network)
    {
        if (!(await ContentAsync(post)).GetProperty("networks").TryGetProperty(network, out JsonElement own))
            return null;
        JsonElement crop = own.List("pictures")
            .Select(p => p.TryGetProperty("crop", out JsonElement c) ? c : default)
            .First(c => c.ValueKind == JsonValueKind.Object);
        return $"{crop.Whole("x")},{crop.Whole("y")},{crop.Whole("width")},{crop.Whole("height")}";
    }

    /// <summary>Sizes of the first picture on the page of each, as the network serves it.</summary>
    private async Task<List<(int, int)>> FirstPicturesAsync(IEnumerable<Guid> deliveries)
    {
        using HttpClient http = new();
        List<(int, int)> sizes = [];
        foreach (Guid delivery in deliveries)
        {
            string address = (await _installation.Ada.GetAsync($"deliveries/{delivery}")).Text("address");
            string html = await http.GetStringAsync(address);
            string source = System.Text.RegularExpressions.Regex.Match(html, "<img src='(/media/[^']+)'").Groups[1].Value;
            using SKBitmap picture = SKBitmap.Decode(await http.GetByteArrayAsync(new Uri(new Uri(address), source)));
            sizes.Add((picture.Width, picture.Height));
        }
        return sizes;
    }

    private static async Task UntilAsync(Func<Task<bool>> condition)
    {
        for (int i = 0; i < 150; i++)
        {
            if (await condition())
                return;
            await Task.Delay(100);
        }
        Assert.Fail("Not within 15 s.");
    }
}
