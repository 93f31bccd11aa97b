using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Server.Media;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Tests.Shared;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;
using SkiaSharp;

namespace AbleLark.Server.Tests.Media;

/// <summary>What becomes of files: sent out, and cleared in the end.</summary>
public sealed class MediaLifeTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    /// <summary>What nobody will ask for again goes, when its time is over; all that somebody may still ask for stays.</summary>
    [Fact]
    public async Task Old_drafts_lost_pictures_and_files_taken_out_long_ago_are_cleared()
    {
        Guid used = await installation.Ada.PictureAsync("kept.png");
        await installation.Ada.PostAsync(await installation.Ada.CategoryAsync("Kept"), "Keeps its picture", picture: used);
        JsonElement unused = await installation.Ada.UploadAsync("media", HttpMethod.Post, ("file", "gone.png", TestData.Png(91, 7)));
        await installation.Ada.GetBytesAsync($"media/{unused.Id()}?side=160");
        await installation.Ada.PostAsync("media/removal", new { files = new[] { unused.Id() } });
        IFileStore files = installation.Services.GetRequiredService<IFileStore>();
        await File.WriteAllTextAsync(files.Draft(), "left off", TestContext.Current.CancellationToken);
        MediaFile gone = await installation.ReadAsync(db => db.Media.SingleAsync(m => m.FileName == "gone.png"));
        foreach (string file in Directory.GetFiles(installation.DataFolder, "*", SearchOption.AllDirectories))
            File.SetLastWriteTimeUtc(file, DateTime.UtcNow.AddDays(-2));
        Instant now = await installation.NowAsync();
        MediaTidying tidying = installation.Services.GetRequiredService<MediaTidying>();

        await tidying.TidyAsync(now, TestContext.Current.CancellationToken);
        Assert.Empty(files.List(FolderStore.Drafts));
        Assert.NotNull(files.Find(MediaStore.KeyOf(gone.Hash)));
        await tidying.TidyAsync(now + Duration.FromDays(31), TestContext.Current.CancellationToken);
        Assert.Null(files.Find(MediaStore.KeyOf(gone.Hash)));
        Assert.Empty(files.List(Renditions.FolderOf(gone.Hash)));
        Assert.NotEmpty(await installation.Ada.GetBytesAsync($"media/{used}"));
    }

    /// <summary>Source: MetadataExtractor finds no place in what the network was given.</summary>
    [Fact]
    public async Task What_goes_out_is_cut_whole_and_says_no_place()
    {
        Guid photograph = await SendAsync("p.jpg", SampleFiles.Photograph(900, 600, orientation: 6));
        Guid film = await SendAsync("f.mp4", Mp4File.Of(720, 1280, 9, notes: SampleFiles.Place));
        Guid document = await SendAsync("d.pdf", SampleFiles.Pdf(3));
        object cut = new { media = photograph, crop = new Crop(100, 50, 400, 300) };
        byte[] shown = await OnNetworkAsync(
            "hearth",
            new
            {
                common = new { text = "A picture", pictures = new object[] { new { media = photograph } } },
                networks = new { hearth = new { pictures = new[] { cut } } },
            }
        );
        using SKBitmap pixels = SKBitmap.Decode(shown);
        MediaFile kept = await installation.ReadAsync(db => db.Media.SingleAsync(m => m.FileName == "p.jpg"));
        // What other networks get of it was made along, while it was open.
        Assert.Equal(2, installation.Services.GetRequiredService<IFileStore>().List(Renditions.FolderOf(kept.Hash)).Count());
        Assert.Equal((400, 300), (pixels.Width, pixels.Height));
        Assert.DoesNotContain(
            MetadataExtractor.ImageMetadataReader.ReadMetadata(new MemoryStream(shown)),
            d => d.Name.StartsWith("Exif", StringComparison.Ordinal) || d.Name is "GPS" or "XMP"
        );
        byte[] played = await OnNetworkAsync("hearth", new { common = new { text = "A film", video = film } });
        Assert.Equal(-1, played.AsSpan().IndexOf(Encoding.UTF8.GetBytes(SampleFiles.Place)));
        Assert.Equal(Mp4Reader.Read(new MemoryStream(Mp4File.Of(720, 1280, 9))), Mp4Reader.Read(new MemoryStream(played)));
        Assert.Equal(SampleFiles.Pdf(3), await OnNetworkAsync("guildhall", new { common = new { text = "A document", document } }));
    }

    private async Task<Guid> SendAsync(string name, byte[] bytes) =>
        (await installation.Ada.UploadAsync("media", HttpMethod.Post, ("file", name, bytes))).Id();

    /// <summary>What the network serves on the page of a post.</summary>
    private async Task<byte[]> OnNetworkAsync(string network, object content)
    {
        (Guid delivery, _) = await installation.DueAsync(content, network);
        await installation.PassesUntilAsync(delivery, "sent");
        string address = (await installation.Ada.GetAsync($"deliveries/{delivery}")).Text("address");
        using HttpClient http = new();
        string source = Regex.Match(await http.GetStringAsync(address), "(?:src|href)='(/media/[^']+)'").Groups[1].Value;
        return await http.GetByteArrayAsync(new Uri(new Uri(address), source));
    }
}
