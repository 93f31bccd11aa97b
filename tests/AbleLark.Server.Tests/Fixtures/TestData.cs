using System.Text.Json;
using AbleLark.Tests.Shared;
using NodaTime;
using SkiaSharp;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Makes what a test needs, through the API.</summary>
public static class TestData
{
    public static async Task<Guid> CategoryAsync(this ApiClient client, string name, params Guid[] channels) =>
        (
            await client.PostAsync(
                "categories",
                new
                {
                    name,
                    colour = "tide",
                    monogram = name[..2],
                    usualChannels = channels,
                }
            )
        ).Id();

    public static async Task<Guid> SlotAsync(this ApiClient client, Guid? category, string time, int[] days, params Guid[] channels) =>
        (await client.PostAsync("rotas/slots", Slot(category, time, days, channels))).Id();

    public static object Slot(Guid? category, string time, int[] days, params Guid[] channels) =>
        new
        {
            days,
            time = time + ":00",
            categories = category is { } c ? new[] { c } : [],
            channels,
        };

    public static async Task<JsonElement> PostAsync(
        this ApiClient client,
        Guid category,
        string text,
        string stage = "ready",
        Guid[]? channels = null,
        Guid? picture = null,
        string lifespan = "evergreen"
    ) => await client.PostAsync("posts", Edit(category, text, stage, channels, picture, lifespan));

    public static object Edit(
        Guid category,
        string text,
        string stage = "ready",
        Guid[]? channels = null,
        Guid? picture = null,
        string lifespan = "evergreen"
    ) =>
        new
        {
            title = text.Length > 40 ? text[..40] : text,
            categoryId = category,
            stage,
            lifespan,
            inRotation = true,
            channels,
            content = Content(text, picture: picture),
        };

    /// <summary>A ready post of any content.</summary>
    public static Task<JsonElement> WriteAsync(this ApiClient client, Guid category, object content, string title = "Any") =>
        client.PostAsync(
            "posts",
            new
            {
                title,
                categoryId = category,
                stage = "ready",
                lifespan = "evergreen",
                inRotation = true,
                channels = (Guid[]?)null,
                content,
            }
        );

    /// <summary>What a post says.</summary>
    /// <param name="networks">Text by network key.</param>
    public static object Content(
        string text,
        string? link = null,
        Guid? picture = null,
        IReadOnlyDictionary<string, string>? networks = null,
        IEnumerable<string>? wordings = null
    )
    {
        Dictionary<string, object> common = new() { ["text"] = text };
        if (link is not null)
            common["link"] = link;
        if (picture is { } file)
            common["pictures"] = new[] { new { media = file } };
        return new
        {
            common,
            networks = (networks ?? new Dictionary<string, string>()).ToDictionary(n => n.Key, n => new { text = n.Value }),
            wordings = (wordings ?? []).Select(w => new { common = new { text = w } }),
        };
    }

    /// <summary>The text in common of a post that the API gave.</summary>
    public static string CommonText(this JsonElement post) => post.GetProperty("content").GetProperty("common").Text("text");

    /// <summary>Gives a post an exact time some minutes from now; returns the deliveries' ids.</summary>
    public static async Task<Guid[]> PlanAsync(
        this ApiClient client,
        TestInstallation installation,
        Guid post,
        int minutes,
        params Guid[] channels
    )
    {
        LocalDateTime local = (await installation.NowAsync() + Duration.FromMinutes(minutes))
            .InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"])
            .LocalDateTime;
        JsonElement plan = await client.PostAsync(
            $"posts/{post}/deliveries",
            new
            {
                date = local.Date,
                time = local.TimeOfDay,
                channels,
            }
        );
        return [.. plan.List("planned").Select(d => d.Id())];
    }

    public static async Task<Guid> PictureAsync(this ApiClient client, string name = "dawn.png") =>
        (await client.UploadAsync("media", HttpMethod.Post, ("file", name, Png(600, 400)))).Id();

    public static async Task<Guid> VideoAsync(this ApiClient client, int width = 720, int height = 1280, int seconds = 20) =>
        (await client.UploadAsync("media", HttpMethod.Post, ("file", "clip.mp4", Mp4File.Of(width, height, seconds)))).Id();

    public static byte[] Png(int width, int height)
    {
        using SKBitmap bitmap = new(width, height);
        bitmap.Erase(new SKColor(0xf0, 0x90, 0x60));
        using SKData data = bitmap.Encode(SKEncodedImageFormat.Png, 90);
        return data.ToArray();
    }

    public static async Task<string> StateAsync(this ApiClient client, Guid delivery) =>
        (await client.GetAsync($"deliveries/{delivery}")).Text("state");

    /// <summary>A delivery of Ada's on a channel of its own that has just fallen due.</summary>
    public static async Task<(Guid Delivery, string Account)> DueAsync(
        this TestInstallation installation,
        string text,
        string network = "hearth",
        bool picture = false,
        Duration? late = null
    )
    {
        string handle = "h" + Guid.NewGuid().ToString("n")[..8];
        Guid channel = await installation.ConnectAsync(installation.Ada, network, handle);
        Guid category = await installation.Ada.CategoryAsync("Ca" + handle, channel);
        Guid? media = picture ? await installation.Ada.PictureAsync() : null;
        Guid post = (await installation.Ada.PostAsync(category, text, picture: media)).Id();
        Guid delivery = (await installation.Ada.PlanAsync(installation, post, 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(5) + (late ?? Duration.FromSeconds(20)));
        return (delivery, $"{network}-{handle}");
    }

    /// <summary>A delivery of Ada's of any content, on a channel of its own that has just fallen due.</summary>
    public static async Task<(Guid Delivery, string Account)> DueAsync(
        this TestInstallation installation,
        object content,
        string network,
        Duration? late = null,
        IReadOnlyDictionary<string, string>? figures = null
    )
    {
        string handle = "r" + Guid.NewGuid().ToString("n")[..8];
        ApiClient ada = installation.Ada;
        Guid channel = await installation.ConnectAsync(ada, network, handle);
        if (figures is not null)
            await ada.PutAsync($"channels/{channel}", new { figures });
        Guid category = await ada.CategoryAsync("Ca" + handle, channel);
        JsonElement post = await ada.WriteAsync(category, content, handle);
        Guid delivery = (await ada.PlanAsync(installation, post.Id(), 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(5) + (late ?? Duration.FromSeconds(20)));
        return (delivery, $"{network}-{handle}");
    }

    /// <summary>Rounds until the delivery is in one of the states; retries wait by machine time, some seconds.</summary>
    public static async Task PassesUntilAsync(this TestInstallation installation, Guid delivery, params string[] states)
    {
        for (int i = 0; i < 200; i++)
        {
            await installation.PassAsync();
            string state = await installation.Ada.StateAsync(delivery);
            if (states.Contains(state))
                return;
            await Task.Delay(150);
        }
        JsonElement now = await installation.Ada.GetAsync($"deliveries/{delivery}");
        Assert.Fail($"After 30 s the delivery is {now.Text("state")}. {now.Text("trouble")}");
    }
}
