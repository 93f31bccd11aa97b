using AbleLark.Core;
using AbleLark.Core.Calendars;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>What the observatory has set its calendar up with: groups of channels, notes, a view under a name.</summary>
internal static class DemoCalendar
{
    private static readonly (string Name, string[] Channels)[] Groups =
    [
        ("Birds", ["hut", "obs", "album", "meadow"]),
        ("Friends and trust", ["friends", "trust"]),
        ("Stays", ["hostel", "kitchen", "door"]),
    ];

    private static readonly (int Days, NoteSpan Span, string Text)[] Notes =
    [
        (3, NoteSpan.Day, "The ferry is in dock: no walks to be offered."),
        (9, NoteSpan.Week, "Ringers' weekend. Osk answers comments."),
        (0, NoteSpan.Month, "Appeals stay few until the new roof is paid for."),
    ];

    /// <param name="channels">By their keys in the scenario.</param>
    public static void Add(LarkDb db, Workspace workspace, IReadOnlyDictionary<string, Channel> channels, LocalDate today)
    {
        db.ChannelGroups.AddRange(
            Groups.Select(g => new ChannelGroup
            {
                WorkspaceId = workspace.Id,
                Id = Id<ChannelGroup>.New(),
                Name = g.Name,
                Channels = [.. g.Channels.Select(c => channels[c].Id)],
            })
        );
        db.CalendarNotes.AddRange(
            Notes.Select(n => new CalendarNote
            {
                WorkspaceId = workspace.Id,
                Id = Id<CalendarNote>.New(),
                Date = CalendarNote.FirstOf(today.PlusDays(n.Days), n.Span),
                Span = n.Span,
                Text = n.Text,
            })
        );
        db.SavedFilters.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<SavedFilter>.New(),
                Name = "What waits for approval",
                Query = "view=posts&approval=waits",
            }
        );
    }
}
