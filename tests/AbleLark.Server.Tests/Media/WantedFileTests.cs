using AbleLark.Server.Media;
using AbleLark.Server.Tests.Fixtures;
using AbleLark.Tests.Shared;

namespace AbleLark.Server.Tests.Media;

/// <summary>A file that nobody waits for any longer is read no further, whatever reads it.</summary>
public sealed class WantedFileTests
{
    [Fact]
    public void Reading_is_ended_before_it_begins()
    {
        foreach (
            byte[] bytes in new[] { TestData.Png(60, 40), Mp4File.Of(720, 1280, 9), SampleFiles.Pdf(2), SampleFiles.Photograph(90, 60, 1) }
        )
            Read(bytes, path => Assert.ThrowsAny<OperationCanceledException>(() => FileFactsReader.Read(path, "x", new(canceled: true))));
    }

    [Fact]
    public void And_in_the_middle_of_its_pixels()
    {
        // 36 million pixels take longer than a millisecond on any machine.
        Read(
            TestData.Png(6_000, 6_000),
            path =>
            {
                using CancellationTokenSource soon = new(TimeSpan.FromMilliseconds(1));
                Assert.ThrowsAny<OperationCanceledException>(() => FileFactsReader.Read(path, "x", soon.Token));
            }
        );
    }

    private static void Read(byte[] bytes, Action<string> look)
    {
        string path = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(path, bytes);
            look(path);
        }
        finally
        {
            File.Delete(path);
        }
    }
}
