using AbleLark.Core.Channels;
using AbleLark.Core.Orders;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Rotas;

/// <summary>A slot as somebody wants it; see <see cref="Slot"/>.</summary>
public sealed record SlotPlan
{
    public required IReadOnlyList<IsoDayOfWeek> Days { get; init; }
    public required LocalTime Time { get; init; }
    public required Rhythm Rhythm { get; init; }
    public required int Every { get; init; }

    /// <summary>What weeks or days are counted from; null: as it was, or, for a new one, this week or today.</summary>
    public required LocalDate? Anchor { get; init; }

    public required LocalDate? From { get; init; }
    public required LocalDate? To { get; init; }
    public required SlotSource Source { get; init; }
    public required IReadOnlyList<Id<Channel>> Channels { get; init; }
    public required bool FillsEveryChannel { get; init; }

    /// <summary>True when the slot would come round on other dates than it does: that ends it, and a successor begins.</summary>
    public bool ChangesDates(Slot slot) =>
        slot.Rhythm != Rhythm
        || slot.Every != Every
        || (Anchor is { } anchor && anchor != slot.Anchor)
        || (Rhythm == Rhythm.Weeks && !slot.Days.Order().SequenceEqual(Days.Order()));

    /// <summary>Makes a slot what is wanted.</summary>
    public void Fill(Slot slot)
    {
        slot.Days = [.. Days];
        slot.Time = Time;
        (slot.Rhythm, slot.Every) = (Rhythm, Every);
        slot.Anchor = Anchor ?? slot.Anchor;
        (slot.From, slot.To) = (From, To);
        (slot.Source, slot.FillsEveryChannel) = (Source, FillsEveryChannel);
        slot.Channels = [.. Channels];
    }

    /// <summary>A new slot; without an anchor it counts from the Monday of this week, or from today when it comes round by days.</summary>
    public Slot NewSlot(Id<Workspace> workspace, Id<Rota> rota, LocalDate today, int position, Id<Slot>? id = null)
    {
        Slot slot = new()
        {
            WorkspaceId = workspace,
            Id = id ?? Id<Slot>.New(),
            RotaId = rota,
            Days = [],
            Time = default,
            Source = Source,
            Channels = [],
            Anchor = Rhythm == Rhythm.Days ? today : today.PlusDays(1 - (int)today.DayOfWeek),
            Position = position,
        };
        Fill(slot);
        return slot;
    }
}
