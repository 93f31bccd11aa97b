using System.Text.Json;
using AbleLark.Core.Media;
using AbleLark.Server.Media;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.Media;

public sealed class TidyingTests(TestInstallation installation) : IClassFixture<TestInstallation>
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
}
