using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Data;
using AbleLark.Server.Calendars;
using AbleLark.Server.LineUps;

namespace AbleLark.Server.Tests.Calendars;

/// <summary>What the calendar's page shows and what its file holds are the same: the page's tests read the same kept cases.</summary>
public sealed class CalendarSelectionTests
{
    private sealed record Case(string Query, string[] Shown);

    private sealed record Kept(Dictionary<Guid, Guid[]> Groups, LineUpEntry[] Entries, Case[] Cases);

    [Fact]
    public async Task A_file_holds_what_the_page_shows_by_the_same_address()
    {
        string text = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "filters.json"));
        Kept kept = JsonSerializer.Deserialize<Kept>(text, LarkJson.Options)!;
        var groups = kept
            .Groups.SelectMany(g => g.Value.Select(of => (Channel: new Id<Channel>(g.Key), Group: new Id<ChannelGroup>(of))))
            .ToLookup(g => g.Channel, g => g.Group);
        Assert.All(
            kept.Cases,
            c => Assert.Equal(c.Shown, kept.Entries.Where(e => CalendarSelection.Parse($"?{c.Query}").Lets(e, groups)).Select(e => e.Key))
        );
    }
}
