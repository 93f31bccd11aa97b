using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Tests.Shared;
using SkiaSharp;

namespace AbleLark.Server.Tests.Media;

/// <summary>What is read from files that somebody sent, and which are refused.</summary>
public sealed class FileFactsTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly ApiClient _ada = own.Installation.Ada;

    [Theory]
    [InlineData(1, 0, 300, 200)]
    [InlineData(3, 180, 300, 200)]
    [InlineData(6, 90, 200, 300)]
    [InlineData(8, 270, 200, 300)]
    public async Task A_photograph_is_as_wide_as_it_is_seen(int orientation, int turn, int width, int height)
    {
        JsonElement file = await SendAsync("p.jpg", SampleFiles.Photograph(300, 200, orientation));
        Assert.Equal((turn, width, height), (file.Whole("turn"), file.Whole("width"), file.Whole("height")));
        Assert.Equal(width > height ? "wide" : "upright", file.Text("shape"));
    }

    [Theory]
    [InlineData(".gif", "image/gif")]
    [InlineData(".webp", "image/webp")]
    public async Task Pictures_that_move_are_counted_and_one_of_them_measured(string suffix, string kind)
    {
        JsonElement file = await SendAsync("m" + suffix, SampleFiles.Moving(suffix, 4, 60, 40));
        Assert.Equal((kind, 60, 40, 4), (file.Text("kind"), file.Whole("width"), file.Whole("height"), file.Whole("frames")));
    }

    [Fact]
    public async Task Of_a_video_its_length_and_of_a_document_its_pages_are_read_from_the_file()
    {
        JsonElement video = await SendAsync("any.bin", Mp4File.Of(720, 1280, 12.5, turn: 90));
        Assert.Equal(
            ("video/mp4", 1280, 720, 12.5, 90, "avc1"),
            (
                video.Text("kind"),
                video.Whole("width"),
                video.Whole("height"),
                video.GetProperty("seconds").GetDouble(),
                video.Whole("turn"),
                video.Text("videoCodec")
            )
        );
        JsonElement document = await SendAsync("any.txt", SampleFiles.Pdf(3));
        Assert.Equal(("application/pdf", 3), (document.Text("kind"), document.Whole("pages")));
    }

    public static TheoryData<string, byte[], string> Refused
    {
        get
        {
            byte[] png = SampleFiles.Quarters(SKEncodedImageFormat.Png, 90, 60);
            byte[] jpeg = SampleFiles.Photograph(90, 60, 1);
            byte[] gif = SampleFiles.Moving(".gif", 3, 30, 30);
            byte[] pdf = SampleFiles.Pdf(2);
            byte[] video = Mp4File.Of(720, 1280, 9);
            return new()
            {
                { "a cut PNG", png[..^30], "cut off or damaged" },
                { "a cut JPEG", jpeg[..(jpeg.Length * 2 / 3)], "cut off or damaged" },
                { "a JPEG with a hole", Holed(jpeg), "cut off or damaged" },
                { "a cut GIF", gif[..^20], "cut off or damaged" },
                { "a cut WebP", SampleFiles.Quarters(SKEncodedImageFormat.Webp, 90, 60)[..^40], "cut off or damaged" },
                { "a cut PDF", pdf[..(pdf.Length / 2)], "cut off or damaged" },
                { "a cut MP4", video[..^9], "cut off" },
                { "an MP4 that lies", Mp4File.Of(720, 1280, 9, sampleBytes: 9_000), "more than it holds" },
                { "a padded PNG", [.. png, .. new byte[70_000]], "don't belong to it" },
                { "an archive behind a picture", [.. png, .. "PK\u0003\u0004"u8, .. new byte[90]], "two kinds" },
                { "a picture behind a picture", [.. png, .. jpeg], "two kinds" },
                { "a script behind a picture", [.. gif, .. "<script>alert(1)</script>"u8], "two kinds" },
                { "a document in a picture", [.. jpeg[..2], 0xFF, 0xFE, 0, 10, .. "%PDF-1.4"u8, .. jpeg[2..]], "two kinds" },
                { "20,000 × 20,000", SampleFiles.Claiming(20_000, 20_000), "20,000 × 20,000 pixels" },
                { "a size that is not there", SampleFiles.Claiming(7_000, 7_000), "cut off or damaged" },
                {
                    "an SVG with a script",
                    Encoding.UTF8.GetBytes("<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>"),
                    "nothing that"
                },
                { "a locked PDF", SampleFiles.LockedPdf(), "locked with a password" },
                { "a PDF that unpacks to a great deal", SampleFiles.PdfBomb(), "cut off or damaged" },
                { "words", "Just words"u8.ToArray(), "nothing that networks take" },
                { "nothing", [], "nothing that networks take" },
            };
        }
    }

    [Theory]
    [MemberData(nameof(Refused))]
    public async Task A_file_that_is_not_what_it_should_be_is_refused_in_words_and_leaves_nothing(string what, byte[] bytes, string words)
    {
        using MultipartFormDataContent form = ApiClient.Form(("file", $"{what}.png", bytes));
        (HttpStatusCode status, string said) = await _ada.TroubleAsync(HttpMethod.Post, "media", form);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(words, said, StringComparison.Ordinal);
        Assert.Contains(what, said, StringComparison.Ordinal);
        Assert.False(IsKept(bytes));
        byte[] good = TestData.Png(7, 5);
        await SendAsync("good.png", good);
        Assert.True(IsKept(good));
    }

    /// <summary>True when a file of the installation holds these bytes; others put theirs there and take them away meanwhile, and every one
    /// of them begins as nothing.</summary>
    private bool IsKept(byte[] bytes) =>
        bytes.Length > 0
        && new DirectoryInfo(own.Installation.DataFolder)
            .EnumerateFiles("*", new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true })
            .Where(f => f.Exists && f.Length == bytes.Length)
            .Any(f => File.ReadAllBytes(f.FullName).AsSpan().SequenceEqual(bytes));

    /// <summary>Whole to its last byte, but for a piece of its pixels.</summary>
    private static byte[] Holed(byte[] jpeg)
    {
        byte[] holed = [.. jpeg];
        int scan = holed.AsSpan().IndexOf<byte>([0xFF, 0xDA]) + 14;
        return [.. holed[..scan], 0xFF, 0xD9];
    }

    private Task<JsonElement> SendAsync(string name, byte[] bytes) => _ada.UploadAsync("media", HttpMethod.Post, ("file", name, bytes));
}
