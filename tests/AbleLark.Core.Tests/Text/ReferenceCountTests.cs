using System.Diagnostics;
using System.Text.Json;
using AbleLark.Core.Text;

namespace AbleLark.Core.Tests.Text;

/// <summary>
/// Our counts against outside references, run beside ours on the same corpus.
/// Sources: `twitter-text` 3.1 (npm) for weighted length, links and hashtags; `graphemer` 1.4 (npm) for UAX #29 graphemes.
/// </summary>
public sealed class ReferenceCountTests(ReferenceCounts reference) : IClassFixture<ReferenceCounts>
{
    private const int Limit = 280;

    [Fact]
    public void Weighted_length_is_that_of_the_reference()
    {
        AssertAll((text, counted) => (Weigh(text).Units, counted.Weight));
    }

    [Fact]
    public void The_same_links_are_found()
    {
        AssertAll((text, counted) => (Found(text, TextPartKind.Link), string.Join('|', counted.Links)));
    }

    [Fact]
    public void The_same_hashtags_are_found()
    {
        AssertAll((text, counted) => (Found(text, TextPartKind.Hashtag, skip: 1), string.Join('|', counted.Hashtags)));
    }

    [Fact]
    public void Graphemes_are_those_of_UAX_29()
    {
        AssertAll((text, counted) => (TextCounter.Count(text, TextMeasure.Graphemes, Limit).Units, counted.Graphemes));
    }

    private void AssertAll<T>(Func<string, ReferenceCount, (T Ours, T Theirs)> compare)
    {
        string[] different =
        [
            .. Corpus
                .Texts.Zip(reference.Counts)
                .Select(pair => (Text: pair.First, Pair: compare(pair.First, pair.Second)))
                .Where(x => !EqualityComparer<T>.Default.Equals(x.Pair.Ours, x.Pair.Theirs))
                .Select(x => $"{JsonSerializer.Serialize(x.Text)}: ours {x.Pair.Ours}, theirs {x.Pair.Theirs}"),
        ];
        Assert.True(different.Length == 0, $"{different.Length} of {Corpus.Texts.Count} differ:\n{string.Join('\n', different.Take(20))}");
    }

    private static TextCount Weigh(string text) => TextCounter.Count(text, TextMeasure.Weighted, Limit, linkUnits: 23);

    private static string Found(string text, TextPartKind kind, int skip = 0)
    {
        string normal = TextCounter.Normalise(text);
        return string.Join(
            '|',
            Weigh(text).Parts.Where(p => p.Kind == kind).Select(p => normal.Substring(p.Start + skip, p.Length - skip))
        );
    }
}

public sealed record ReferenceCount(int Weight, IReadOnlyList<string> Links, IReadOnlyList<string> Hashtags, int Graphemes);

/// <summary>Runs the references once for the whole corpus.</summary>
public sealed class ReferenceCounts
{
    public ReferenceCounts()
    {
        ProcessStartInfo start = new("node")
        {
            ArgumentList =
            {
                Path.Combine(Repository.Root, "tests/AbleLark.Core.Tests/Text/reference.mjs"),
                Path.Combine(Repository.Root, "src/web"),
            },
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using Process node = Process.Start(start)!;
        Task<string> error = node.StandardError.ReadToEndAsync();
        Task<string> output = node.StandardOutput.ReadToEndAsync();
        using (StreamWriter input = node.StandardInput)
            input.Write(JsonSerializer.Serialize(Corpus.Texts));
        node.WaitForExit();
        if (node.ExitCode != 0)
            throw new InvalidOperationException("The reference counters failed (are the front end's packages installed?): " + error.Result);
        Counts = JsonSerializer.Deserialize<List<ReferenceCount>>(output.Result, JsonSerializerOptions.Web)!;
    }

    public IReadOnlyList<ReferenceCount> Counts { get; }
}
