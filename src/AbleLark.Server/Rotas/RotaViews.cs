using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Orders;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Server.Rotas;

/// <param name="Days">Weekdays, 1 (Monday) to 7 (Sunday), as ISO 8601 counts them; none when it comes round by days.</param>
/// <param name="NextDates">The next three dates on which it comes round.</param>
public sealed record SlotView(
    Id<Slot> Id,
    IReadOnlyList<int> Days,
    LocalTime Time,
    IReadOnlyList<Id<Category>> Categories,
    IReadOnlyList<Id<Channel>> Channels,
    Rhythm Rhythm,
    int Every,
    LocalDate Anchor,
    LocalDate? From,
    LocalDate? To,
    bool IsPool,
    OrderRule? Order,
    bool FillsEveryChannel,
    IReadOnlyList<LocalDate> NextDates
);

/// <summary>A slot as somebody wants it. With an <paramref name="Id"/> it changes that slot; without, it is a new one.</summary>
/// <param name="Every">N: every Nth week or day.</param>
/// <param name="Anchor">What weeks or days are counted from; null: today, or as it was.</param>
public sealed record SlotEdit(
    [Weekdays] IReadOnlyList<int> Days,
    LocalTime Time,
    IReadOnlyList<Id<Category>> Categories,
    [MaxLength(Slot.MostChannels, ErrorMessage = "A slot has at most 64 channels. Split it into two.")] IReadOnlyList<Id<Channel>> Channels,
    Id<Slot>? Id = null,
    Rhythm Rhythm = Rhythm.Weeks,
    [Range(1, 366, ErrorMessage = "A slot comes round every 1 to 366 weeks or days.")] int Every = 1,
    LocalDate? Anchor = null,
    LocalDate? From = null,
    LocalDate? To = null,
    bool IsPool = false,
    OrderRule? Order = null,
    bool FillsEveryChannel = false
);

/// <param name="Version">Give it back when you save.</param>
public sealed record RotaView(
    Id<Rota> Id,
    int Version,
    string Name,
    string Zone,
    LocalDate? From,
    LocalDate? To,
    Id<Rota>? Replaces,
    IReadOnlyList<SlotView> Slots
);

/// <summary>A rota as somebody wants it, with all its slots: those that are left out end.</summary>
/// <param name="Zone">Null: the workspace's.</param>
/// <param name="Version">The version it was changed from; null for a new one.</param>
/// <param name="KeepsOrphans">True: posts that were given to places which no longer occur are kept, as exact times; false: they are
/// dropped.</param>
/// <param name="MovesScheduled">True: scheduled deliveries of a slot move to its new time; false: they stay.</param>
public sealed record RotaEdit(
    [Named("the rota")] string Name,
    IReadOnlyList<SlotEdit> Slots,
    LocalDate? From = null,
    LocalDate? To = null,
    Id<Rota>? Replaces = null,
    string? Zone = null,
    int? Version = null,
    bool KeepsOrphans = false,
    bool MovesScheduled = false
);

/// <summary>A decision about a date that would no longer occur.</summary>
/// <param name="Posts">Posts given to it, which can be kept as exact times.</param>
public sealed record Orphan(Id<Slot> SlotId, LocalDate Date, string Words, int Posts);

/// <param name="Scheduled">Scheduled deliveries that stay at their slot's old time unless they are moved too.</param>
public sealed record RotaConsequences(IReadOnlyList<Orphan> Orphans, int Scheduled);

/// <param name="Orphans">Decisions on dates that no longer occur; they were dropped, and come back with undo.</param>
public sealed record RotaSaved(Guid ChangeSetId, RotaView Rota, IReadOnlyList<string> Orphans);
