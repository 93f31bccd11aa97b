using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Server.Media;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Options;
using SkiaSharp;
using Directory = System.IO.Directory;

namespace AbleLark.Server.Tests.Media;

/// <summary>Sources: SkiaSharp decodes the pictures that were made, and MetadataExtractor looks for what they say beside their
/// pixels.</summary>
public sealed class RenditionTests : IDisposable
{
    private const string Hash = "abcdef";

    private readonly string _folder = Directory.CreateTempSubdirectory("able-lark-pictures-").FullName;
    private readonly FolderStore _files;
    private readonly Renditions _renditions;

    public RenditionTests()
    {
        _files = new(Options.Create(new LarkSettings { DataFolder = _folder }));
        _renditions = new(_files);
    }

    /// <summary>Every orientation of EXIF: the same corner is where a viewer would show it.</summary>
    [Theory]
    [InlineData(1, "red lime blue white")]
    [InlineData(2, "lime red white blue")]
    [InlineData(3, "white blue lime red")]
    [InlineData(4, "blue white red lime")]
    [InlineData(5, "red blue lime white")]
    [InlineData(6, "blue red white lime")]
    [InlineData(7, "white lime blue red")]
    [InlineData(8, "lime white red blue")]
    public async Task What_is_sent_stands_upright_and_says_nothing_but_its_pixels(int orientation, string corners)
    {
        byte[] photograph = SampleFiles.Photograph(1200, 800, orientation);
        Assert.Contains(Said(photograph), s => s.Contains(SampleFiles.Place, StringComparison.Ordinal));
        byte[] made = await MakeAsync(photograph, new());
        using SKBitmap picture = SKBitmap.Decode(made);
        bool onItsSide = orientation >= 5;
        Assert.Equal(onItsSide ? (800, 1200) : (1200, 800), (picture.Width, picture.Height));
        Assert.Equal(corners, string.Join(' ', Corners(picture)));
        Assert.Empty(Said(made));
        using SKBitmap small = SKBitmap.Decode(await MakeAsync(photograph, new(MostSide: 160, IsStill: true)));
        Assert.Equal((160, corners), (Math.Max(small.Width, small.Height), string.Join(' ', Corners(small))));
    }

    [Theory]
    [InlineData(SKEncodedImageFormat.Png)]
    [InlineData(SKEncodedImageFormat.Jpeg)]
    [InlineData(SKEncodedImageFormat.Webp)]
    public async Task A_crop_is_that_part_and_no_other(SKEncodedImageFormat format)
    {
        byte[] made = await MakeAsync(SampleFiles.Quarters(format, 400, 200), new(new Crop(200, 0, 150, 100)));
        using SKBitmap picture = SKBitmap.Decode(made);
        Assert.Equal((150, 100), (picture.Width, picture.Height));
        Assert.Equal("lime lime lime lime", string.Join(' ', Corners(picture)));
        using SKCodec codec = SKCodec.Create(new MemoryStream(made));
        Assert.Equal(format, codec.EncodedFormat);
    }

    [Theory]
    [InlineData(".gif")]
    [InlineData(".webp")]
    public async Task What_moves_still_moves_when_it_is_cut(string suffix)
    {
        byte[] made = await MakeAsync(SampleFiles.Moving(suffix, 4, 60, 40), new(new Crop(10, 10, 30, 20)));
        using SKCodec codec = SKCodec.Create(new MemoryStream(made));
        Assert.Equal((30, 20, 4), (codec.Info.Width, codec.Info.Height, codec.FrameCount));
        Assert.All(codec.FrameInfo, f => Assert.Equal(120, f.Duration));
        byte[] still = await MakeAsync(SampleFiles.Moving(suffix, 4, 60, 40), new(MostSide: 30, IsStill: true));
        using SKCodec first = SKCodec.Create(new MemoryStream(still));
        Assert.Equal((30, 20, 1), (first.Info.Width, first.Info.Height, Math.Max(1, first.FrameCount)));
    }

    [Theory]
    [InlineData(".png")]
    [InlineData(".jpg")]
    [InlineData(".webp")]
    public async Task What_is_too_heavy_is_made_lighter(string suffix)
    {
        using NetVips.Image noise = NetVips.Image.Gaussnoise(700, 500, mean: 128, sigma: 60).Cast(NetVips.Enums.BandFormat.Uchar);
        byte[] heavy = noise.WriteToBuffer(suffix);
        byte[] made = await MakeAsync(heavy, new(MostBytes: heavy.Length / 3));
        Assert.InRange(made.Length, 1, heavy.Length / 3);
        using SKBitmap picture = SKBitmap.Decode(made);
        Assert.Equal(1.4, (double)picture.Width / picture.Height, 0.02);
    }

    [Fact]
    public async Task It_is_made_once_and_again_when_it_is_lost()
    {
        byte[] first = await MakeAsync(SampleFiles.Quarters(SKEncodedImageFormat.Png, 40, 30), new(MostSide: 20));
        string path = (await _renditions.GetAsync(Hash, new(MostSide: 20), default))!.Path;
        DateTime made = File.GetLastWriteTimeUtc(path);
        await _renditions.GetAsync(Hash, new(MostSide: 20), default);
        Assert.Equal(made, File.GetLastWriteTimeUtc(path));
        File.Delete(path);
        Assert.Equal(first, await File.ReadAllBytesAsync((await _renditions.GetAsync(Hash, new(MostSide: 20), default))!.Path));
        _files.Remove(MediaStore.KeyOf(Hash));
        File.Delete(path);
        Assert.Null(await _renditions.GetAsync(Hash, new(MostSide: 20), default));
    }

    public void Dispose()
    {
        _renditions.Dispose();
        Directory.Delete(_folder, recursive: true);
    }

    private async Task<byte[]> MakeAsync(byte[] file, Recipe recipe)
    {
        string draft = _files.Draft();
        await File.WriteAllBytesAsync(draft, file);
        _files.Keep(draft, MediaStore.KeyOf(Hash));
        foreach (KeptFile old in _files.List(Renditions.Folder).ToList())
            _files.Remove(old.Key);
        return await File.ReadAllBytesAsync((await _renditions.GetAsync(Hash, recipe, default))!.Path);
    }

    /// <summary>Everything that it says of where, when and by whom it was taken.</summary>
    private static List<string> Said(byte[] file) =>
        [
            .. MetadataExtractor
                .ImageMetadataReader.ReadMetadata(new MemoryStream(file))
                .Where(d =>
                    d.Name.StartsWith("Exif", StringComparison.Ordinal)
                    || d.Name is "GPS" or "XMP" or "IPTC" or "JpegComment" or "Photoshop"
                )
                .SelectMany(d => d.Tags.Select(t => $"{d.Name}: {t.Name} {t.Description}").Append(d.Name)),
        ];

    private static IEnumerable<string> Corners(SKBitmap picture)
    {
        (int right, int below) = (picture.Width - 4, picture.Height - 4);
        foreach ((int x, int y) in new[] { (3, 3), (right, 3), (3, below), (right, below) })
        {
            SKColor c = picture.GetPixel(x, y);
            yield return (c.Red > 128, c.Green > 128, c.Blue > 128) switch
            {
                (true, true, true) => "white",
                (true, false, false) => "red",
                (false, true, false) => "lime",
                (false, false, true) => "blue",
                _ => $"{c}",
            };
        }
    }
}
