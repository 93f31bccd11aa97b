using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Rotas;

/// <summary>The recurring week: a named set of slots, read in one time zone.</summary>
public sealed class Rota
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Rota> Id { get; init; }
    public required string Name { get; set; }
    public required DateTimeZone Zone { get; set; }

    /// <summary>First date on which it holds; null: always has.</summary>
    public LocalDate? From { get; set; }

    /// <summary>Last date on which it holds, included; null: without end.</summary>
    public LocalDate? To { get; set; }

    /// <summary>Which rota goes first where two have an occurrence at the same instant; unique, lowest first.</summary>
    public int Rank { get; set; }

    public List<Slot> Slots { get; init; } = [];
}

/// <summary>Days of the week and a local time at which a category goes out on some channels.</summary>
public sealed class Slot
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Slot> Id { get; init; }
    public required Id<Rota> RotaId { get; init; }

    /// <summary>Weekdays, each at most once.</summary>
    public required List<IsoDayOfWeek> Days { get; set; }

    public required LocalTime Time { get; set; }

    /// <summary>The category it draws from; null keeps it free for the planner's own posts.</summary>
    public Id<Category>? CategoryId { get; set; }

    public required List<Id<Channel>> Channels { get; set; }

    /// <summary>Place in its rota, which decides between occurrences at the same instant.</summary>
    public int Place { get; set; }

    /// <summary>Set when it was ended; its settled deliveries stay.</summary>
    public Instant? RemovedAt { get; set; }
}
