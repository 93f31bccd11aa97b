using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Server.LineUps;
using Microsoft.AspNetCore.WebUtilities;

namespace AbleLark.Server.Calendars;

/// <summary>By what the calendar is narrowed, as its page's address says it: of each facet one of the values has to be met.</summary>
public sealed class CalendarSelection
{
    private readonly Dictionary<string, HashSet<string>> _facets;
    private readonly string _text;

    private CalendarSelection(Dictionary<string, HashSet<string>> facets, string text) => (_facets, _text) = (facets, text);

    /// <summary>True: key dates and notes stand beside what goes out.</summary>
    public bool WithKeyDates { get; private init; }

    /// <param name="query">Of the calendar page's address; what it doesn't name takes all.</param>
    public static CalendarSelection Parse(string query)
    {
        var read = QueryHelpers.ParseQuery(query);
        string[] facets = ["category", "channel", "group", "state", "rota", "approval", "finding"];
        return new(
            facets
                .Where(f => read.TryGetValue(f, out var v) && v.ToString().Length > 0)
                .ToDictionary(f => f, f => read[f].ToString().Split(',').ToHashSet(StringComparer.OrdinalIgnoreCase)),
            read.TryGetValue("text", out var text) ? text.ToString() : ""
        )
        {
            WithKeyDates = !read.TryGetValue("dates", out var dates) || dates != "none",
        };
    }

    /// <param name="groups">The groups that each channel is in.</param>
    public bool Lets(LineUpEntry entry, ILookup<Id<Channel>, Id<ChannelGroup>> groups) =>
        (_text.Length == 0 || (entry.Title ?? "").Contains(_text, StringComparison.CurrentCultureIgnoreCase))
        && Meets("category", entry.CategoryId?.ToString() ?? "none")
        && Meets("channel", entry.ChannelId.ToString())
        && Meets("group", [.. groups[entry.ChannelId].Select(g => g.ToString())])
        // Places with nothing to send are shown where somebody asks for them.
        && (
            _facets.ContainsKey("state")
                ? Meets("state", FormOf(entry))
                : entry.PostId is not null && EntryForms.Of(entry) != EntryForm.Empty
        )
        && Meets("rota", entry.RotaId?.ToString() ?? "none")
        && Meets("approval", entry.IsWaiting || entry.State == DeliveryState.WaitingForApproval ? "waits" : "none")
        && Meets("finding", FindingsOf(entry));

    private bool Meets(string facet, params string[] values) =>
        !_facets.TryGetValue(facet, out HashSet<string>? wanted) || values.Any(wanted.Contains);

    private static string[] FindingsOf(LineUpEntry entry)
    {
        bool failed = EntryForms.Of(entry) == EntryForm.Failed;
        return
        [
            .. failed || entry.Trouble is not null ? ["trouble"] : Array.Empty<string>(),
            .. entry.Findings > 0 ? ["warned"] : Array.Empty<string>(),
        ];
    }

    private static string FormOf(LineUpEntry entry) => EntryForms.Of(entry).ToString();
}
