using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.KeyDates;

/// <summary>A calendar that key dates are read from.</summary>
public sealed class CalendarSource
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<CalendarSource> Id { get; init; }
    public required string Name { get; set; }

    /// <summary>What is read becomes key dates of this kind.</summary>
    public required Id<KeyDateKind> KindId { get; set; }

    /// <summary>Where it is read again and again; null: from a file, when somebody brings one.</summary>
    public string? Address { get; set; }

    /// <summary>When it was last read whole.</summary>
    public Instant? ReadAt { get; set; }

    /// <summary>When it is read next; null: when somebody brings a file.</summary>
    public Instant? NextAt { get; set; }

    /// <summary>Why it couldn't be read the last time.</summary>
    public string? Trouble { get; set; }

    /// <summary>What of it is not kept, each by name and with the reason.</summary>
    public List<string> LeftOut { get; set; } = [];
}
