using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using SkiaSharp;

namespace AbleLark.Server.Tests.Media;

/// <summary>Source: SkiaSharp encodes pictures of known size, and decodes what we serve.</summary>
public sealed class MediaTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

    [Theory]
    [InlineData(SKEncodedImageFormat.Png, "image/png", 320, 200)]
    [InlineData(SKEncodedImageFormat.Jpeg, "image/jpeg", 641, 479)]
    [InlineData(SKEncodedImageFormat.Webp, "image/webp", 33, 1000)]
    public async Task Kind_and_size_are_read_from_the_file_itself_whatever_its_name_says(
        SKEncodedImageFormat format,
        string kind,
        int width,
        int height
    )
    {
        byte[] bytes = Encode(format, width, height);
        JsonElement media = await _ada.UploadAsync("media", HttpMethod.Post, ("file", "lies.gif", bytes));
        Assert.Equal(
            (kind, width, height, bytes.Length),
            (media.Text("kind"), media.Whole("width"), media.Whole("height"), media.Whole("bytes"))
        );
        using HttpResponseMessage served = await _ada.Http.GetAsync(_ada.Path($"media/{media.Id()}"));
        Assert.Equal(kind, served.Content.Headers.ContentType!.MediaType);
        Assert.Equal(bytes, await served.Content.ReadAsByteArrayAsync());
    }

    [Fact]
    public async Task The_same_picture_twice_is_kept_once_and_each_workspace_has_its_own_row()
    {
        byte[] bytes = Encode(SKEncodedImageFormat.Png, 50, 50);
        Guid first = (await _ada.UploadAsync("media", HttpMethod.Post, ("file", "same.png", bytes))).Id();
        Guid second = (await _ada.UploadAsync("media", HttpMethod.Post, ("file", "same.png", bytes))).Id();
        Guid bens = (await _installation.Ben.UploadAsync("media", HttpMethod.Post, ("file", "same.png", bytes))).Id();
        Assert.Equal(first, second);
        Assert.NotEqual(first, bens);
        Assert.Single(
            Directory.GetFiles(Path.Combine(_installation.DataFolder, "media"), "*", SearchOption.AllDirectories),
            f => File.ReadAllBytes(f).AsSpan().SequenceEqual(bytes)
        );
    }

    [Fact]
    public async Task Nothing_is_left_behind_by_a_file_that_is_refused()
    {
        string folder = Path.Combine(_installation.DataFolder, "media");
        Directory.CreateDirectory(folder);
        int before = Directory.GetFiles(folder).Length;
        await _ada.TroubleAsync(HttpMethod.Post, "media", ApiClient.Form(("file", "x.png", [1, 2, 3, 4])));
        Assert.Equal(before, Directory.GetFiles(folder).Length);
    }

    [Fact]
    public async Task A_name_with_a_path_in_it_keeps_only_its_last_part()
    {
        JsonElement media = await _ada.UploadAsync(
            "media",
            HttpMethod.Post,
            ("file", "../../etc/dawn.png", Encode(SKEncodedImageFormat.Png, 5, 5))
        );
        Assert.Equal("dawn.png", media.Text("fileName"));
    }

    /// <summary>Meadow takes no picture without words: posts stand otherwise as soon as the words come, and as soon as they are taken
    /// back.</summary>
    [Fact]
    public async Task What_is_said_of_a_picture_holds_for_its_posts_until_it_is_taken_back()
    {
        Guid meadow = await _installation.ConnectAsync(_ada, "meadow", "words-" + Guid.NewGuid().ToString("n")[..6]);
        Guid picture = await _ada.PictureAsync("unsaid.png");
        Guid post = (await _ada.PostAsync(await _ada.CategoryAsync("Unsaid", meadow), "See this", picture: picture)).Id();
        Assert.True(await IsBlockedAsync(post));
        await _ada.PutAsync($"media/{picture}", new { altText = "A lamp in a window", focus = (object?)null });
        Assert.False(await IsBlockedAsync(post));
        JsonElement act = (await _ada.GetAsync("changes")).EnumerateArray().First(c => c.Text("act") == "Described “unsaid.png”");
        await _ada.PostAsync($"changes/{act.Id()}/undo");
        Assert.True(await IsBlockedAsync(post));
    }

    private async Task<bool> IsBlockedAsync(Guid post) =>
        (await _ada.GetAsync("posts")).List("posts").Single(p => p.Id() == post).GetProperty("blocked").TryGetProperty("meadow", out _);

    private static byte[] Encode(SKEncodedImageFormat format, int width, int height)
    {
        using SKBitmap bitmap = new(width, height);
        bitmap.Erase(new SKColor((byte)(width % 255), 0x70, 0x50));
        using SKData data = bitmap.Encode(format, 80);
        return data.ToArray();
    }
}
