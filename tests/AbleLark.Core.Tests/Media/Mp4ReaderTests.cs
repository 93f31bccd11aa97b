using System.Text.Json;
using AbleLark.Core.Media;
using AbleLark.Tests.Shared;
using CsCheck;

namespace AbleLark.Core.Tests.Media;

public sealed class Mp4ReaderTests
{
    private static readonly string Fixtures = Path.Combine(Repository.Root, "tests", "AbleLark.Core.Tests", "Media", "fixtures");

    /// <summary>Ten thousand in the bench.</summary>
    private static int Mutations => Environment.GetEnvironmentVariable("LARK_EFFORT") == "bench" ? 10_000 : 500;

    public static TheoryData<string> Videos =>
        [.. Directory.GetFiles(Fixtures, "*.mp4").Select(f => Path.GetFileNameWithoutExtension(f)!).Where(f => f != "in-pieces")];

    /// <summary>Source: ffprobe of Debian 12; what it said lies beside each video (fixtures/make.sh).</summary>
    [Theory]
    [MemberData(nameof(Videos))]
    public void What_a_video_is_like_is_as_another_reader_says(string name)
    {
        JsonElement said = JsonDocument.Parse(File.ReadAllText(Path.Combine(Fixtures, $"{name}.json"))).RootElement;
        JsonElement[] streams = [.. said.GetProperty("streams").EnumerateArray()];
        JsonElement video = streams.Single(s => s.GetProperty("codec_type").GetString() == "video");
        string? audio = streams
            .Where(s => s.GetProperty("codec_type").GetString() == "audio")
            .Select(s => s.GetProperty("codec_tag_string").GetString())
            .SingleOrDefault();
        // It counts anticlockwise.
        int turn = video.TryGetProperty("side_data_list", out JsonElement sides) ? sides[0].GetProperty("rotation").GetInt32() : 0;
        (int width, int height) = (video.GetProperty("width").GetInt32(), video.GetProperty("height").GetInt32());
        double seconds = double.Parse(
            said.GetProperty("format").GetProperty("duration").GetString()!,
            System.Globalization.CultureInfo.InvariantCulture
        );

        Mp4Facts facts = Read(File.ReadAllBytes(Path.Combine(Fixtures, $"{name}.mp4")));
        Assert.Equal(
            (
                (360 - turn) % 360,
                turn % 180 == 0 ? (width, height) : (height, width),
                video.GetProperty("codec_tag_string").GetString(),
                audio
            ),
            (facts.Turn, (facts.Width, facts.Height), facts.VideoCodec, facts.AudioCodec)
        );
        Assert.Equal(seconds, facts.Seconds, 0.05);
    }

    [Theory]
    [InlineData(90)]
    [InlineData(180)]
    [InlineData(270)]
    public void Sides_change_places_when_a_video_lies_on_its_side(int turn)
    {
        Mp4Facts facts = Read(Mp4File.Of(720, 1280, 12.5, turn));
        Assert.Equal((12.5, turn % 180 == 0 ? (720, 1280) : (1280, 720), turn), (facts.Seconds, (facts.Width, facts.Height), facts.Turn));
    }

    [Fact]
    public void A_video_that_is_cut_anywhere_is_refused()
    {
        byte[] whole = Mp4File.Of(720, 1280, 9);
        for (int length = 0; length < whole.Length; length++)
            Assert.Throws<FormatException>(() => Read(whole[..length]));
    }

    [Fact]
    public void Whatever_is_done_to_a_video_it_is_read_or_refused_and_soon()
    {
        byte[][] all = [.. Directory.GetFiles(Fixtures, "*.mp4").Select(File.ReadAllBytes), Mp4File.Of(720, 1280, 9)];
        Gen.Select(Gen.Int[0, all.Length - 1], Gen.Select(Gen.Int[0, 40_000], Gen.Byte).Array[1, 12], Gen.Int[0, 40_000], Gen.Bool)
            .Sample(
                (which, changes, cut, isCut) =>
                {
                    byte[] file = [.. all[which]];
                    foreach ((int at, byte value) in changes)
                    {
                        // Most changes hit what the reader looks at: heads lie at the beginning and at the end.
                        int place = at % 3 == 0 ? at % Math.Min(file.Length, 300) : file.Length - 1 - (at % Math.Min(file.Length, 4_000));
                        file[place] = value;
                    }
                    try
                    {
                        Mp4Facts facts = Read(isCut ? file[..(cut % file.Length)] : file);
                        Assert.True(facts is { Width: > 0 and <= 16_384, Height: > 0 and <= 16_384, Seconds: > 0 and <= 86_400 });
                    }
                    catch (FormatException) { }
                },
                iter: Mutations
            );
    }

    public static TheoryData<string, byte[], string> Liars =>
        new()
        {
            { "nothing but a head", [.. Mp4File.Box("ftyp", "isom\0\0\0\0"u8.ToArray())], "cut off" },
            { "more than it holds", Mp4File.Of(720, 1280, 9, sampleBytes: 5_000), "more than it holds" },
            { "no pixels", Mp4File.Of(0, 0, 9), "size in pixels" },
            { "no length", Mp4File.Of(720, 1280, 0), "how long" },
            { "a day and more", Mp4File.Of(720, 1280, 90_000), "how long" },
            { "in pieces", File.ReadAllBytes(Path.Combine(Fixtures, "in-pieces.mp4")), "in pieces" },
            { "no end of boxes", [.. Enumerable.Range(0, 25_000).SelectMany(_ => Mp4File.Box("free"))], "more parts" },
        };

    [Theory]
    [MemberData(nameof(Liars))]
    public void A_video_that_lies_is_refused_in_words(string what, byte[] file, string words) =>
        Assert.True(Assert.Throws<FormatException>(() => Read(file)).Message.Contains(words, StringComparison.Ordinal), what);

    [Fact]
    public void Without_its_notes_a_video_says_no_place_and_is_else_as_it_was()
    {
        byte[] own = File.ReadAllBytes(Path.Combine(Fixtures, "turned-with-place.mp4"));
        foreach ((byte[] file, string place) in new[] { (own, "loci"), (Mp4File.Of(720, 1280, 9, notes: "+51.5000-010.2000/"), "+51.5") })
        {
            byte[] words = System.Text.Encoding.ASCII.GetBytes(place);
            Assert.True(file.AsSpan().IndexOf(words) > 0);
            using MemoryStream copy = new([.. file]);
            Mp4Privacy.Clear(copy);
            Assert.Equal((-1, file.Length), (copy.ToArray().AsSpan().IndexOf(words), (int)copy.Length));
            Assert.Equal(Read(file), Read(copy.ToArray()));
            Assert.Empty(Mp4Privacy.Ranges(copy));
        }
    }

    private static Mp4Facts Read(byte[] file)
    {
        using MemoryStream stream = new(file);
        return Mp4Reader.Read(stream);
    }
}
