using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Orders;
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

    /// <summary>The rota that it replaces within its window; null: it adds to the others. One that replaces another has a window.</summary>
    public Id<Rota>? Replaces { get; set; }

    /// <summary>Set when it was ended; what has been scheduled from it stays.</summary>
    public Instant? RemovedAt { get; set; }

    /// <summary>Grows with each change, so that two people can't change one rota unawares.</summary>
    public int Version { get; set; } = 1;

    public List<Slot> Slots { get; init; } = [];

    public bool HoldsOn(LocalDate date) => !(date < From) && !(date > To);

    /// <summary>Another like it, in which a slot draws from one category alone: for trying.</summary>
    public Rota Giving(Id<Slot> slot, Id<Category> category) =>
        new()
        {
            WorkspaceId = WorkspaceId,
            Id = Id,
            Name = Name,
            Zone = Zone,
            From = From,
            To = To,
            Rank = Rank,
            Replaces = Replaces,
            RemovedAt = RemovedAt,
            Version = Version,
            Slots = [.. Slots.Select(s => s.Id == slot ? s.Giving(category) : s)],
        };
}

/// <summary>How often a slot comes round.</summary>
public enum Rhythm
{
    /// <summary>On its weekdays, in every Nth week counted from its anchor; weeks begin on Monday.</summary>
    Weeks,

    /// <summary>On every Nth day counted from its anchor; it has no weekdays.</summary>
    Days,
}

/// <summary>Days and a local time at which categories go out on some channels.</summary>
public sealed class Slot
{
    public const int MostChannels = 64;

    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Slot> Id { get; init; }
    public required Id<Rota> RotaId { get; init; }

    /// <summary>Weekdays, each at most once; empty when it comes round by days.</summary>
    public required List<IsoDayOfWeek> Days { get; set; }

    public required LocalTime Time { get; set; }
    public Rhythm Rhythm { get; set; } = Rhythm.Weeks;

    /// <summary>N: every Nth week or day, at least 1.</summary>
    public int Every { get; set; } = 1;

    /// <summary>The date that weeks or days are counted from, set when the slot is made; there is no occurrence before it.</summary>
    public LocalDate Anchor { get; set; } = new(2000, 1, 3);

    /// <summary>First date on which it holds, beside its rota's window.</summary>
    public LocalDate? From { get; set; }

    /// <summary>Last date on which it holds, included.</summary>
    public LocalDate? To { get; set; }

    public required SlotSource Source
    {
        get => new(Categories, IsPool, Order);
        set => (Categories, IsPool, Order) = ([.. value.Categories], value.IsPool, value.Order);
    }

    /// <summary>Its source, as it is stored.</summary>
    public List<Id<Category>> Categories { get; private set; } = [];

    /// <inheritdoc cref="Categories"/>
    public bool IsPool { get; private set; }

    /// <inheritdoc cref="Categories"/>
    public OrderRule? Order { get; private set; }

    /// <summary>True: a channel that can't take the chosen post gets the next one that suits it.</summary>
    public bool FillsEveryChannel { get; set; }

    /// <summary>At most <see cref="MostChannels"/>.</summary>
    public required List<Id<Channel>> Channels { get; set; }

    /// <summary>Position in its rota, which decides between occurrences at the same instant.</summary>
    public int Position { get; set; }

    /// <summary>Set when it was ended; its scheduled deliveries stay.</summary>
    public Instant? RemovedAt { get; set; }

    internal Slot Giving(Id<Category> category)
    {
        Slot other = (Slot)MemberwiseClone();
        other.Source = new([category]);
        return other;
    }

    /// <summary>True when it comes round on this date, windows apart.</summary>
    public bool ComesRoundOn(LocalDate date)
    {
        if (date < Anchor)
            return false;
        if (Rhythm == Rhythm.Days)
            return Period.DaysBetween(Anchor, date) % Every == 0;
        return Days.Contains(date.DayOfWeek) && (Every == 1 || WeeksFromAnchor(date) % Every == 0);
    }

    /// <summary>How many times it came round before this date, counted from the anchor: windows, skips and pauses shift nothing.</summary>
    public int NumberOf(LocalDate date)
    {
        if (Rhythm == Rhythm.Days)
            return Period.DaysBetween(Anchor, date) / Every;
        int earlierInAnchorWeek = Days.Count(d => d < Anchor.DayOfWeek);
        return (WeeksFromAnchor(date) / Every * Days.Count) + Days.Count(d => d < date.DayOfWeek) - earlierInAnchorWeek;
    }

    private int WeeksFromAnchor(LocalDate date) => Period.DaysBetween(MondayOf(Anchor), MondayOf(date)) / 7;

    private static LocalDate MondayOf(LocalDate date) => date.PlusDays(1 - (int)date.DayOfWeek);
}
