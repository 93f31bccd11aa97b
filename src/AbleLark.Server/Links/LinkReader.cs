using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Work;

namespace AbleLark.Server.Links;

/// <summary>Fetches a page and reads what it says of itself for those who link to it. Nothing of the page is run, and nothing else is
/// fetched.</summary>
public sealed class LinkReader(SafeReading reading, HeavyReading heavy)
{
    /// <summary>What is said for cards stands at the beginning of a page.</summary>
    private const int MostBytes = 512 * 1024;

    /// <exception cref="ReadingException">It can't be read, or is no page.</exception>
    public async Task<PageSummary> ReadAsync(Id<Workspace> workspace, Uri address, CancellationToken cancellation)
    {
        ReadThing page = await reading.ReadAsync(address, MostBytes, "text/html,application/xhtml+xml", cancellation);
        if (page.Kind is not ("text/html" or "application/xhtml+xml"))
            throw new ReadingException($"is no page but {(page.Kind is { Length: > 0 and < 100 } kind ? kind : "something unnamed")}");
        try
        {
            return await heavy.RunAsync(workspace, ended => PageReader.Read(page, ended), cancellation);
        }
        catch (TooSlowException e)
        {
            throw new ReadingException(e.Message);
        }
    }
}
