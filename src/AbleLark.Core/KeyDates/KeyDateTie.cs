using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.KeyDates;

/// <summary>That a delivery stands so many days before or after a key date, and moves with it.</summary>
public sealed class KeyDateTie
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<KeyDateTie> Id { get; init; }

    /// <summary>It stands relative to one key date at most.</summary>
    public required Id<Delivery> DeliveryId { get; init; }
    public required Id<KeyDate> KeyDateId { get; set; }

    /// <summary>Which coming of it, by its date in the rule.</summary>
    public required LocalDate Occurrence { get; set; }

    /// <summary>Where that stood when the delivery was last put in its place; while it stands elsewhere, the delivery is out of
    /// step.</summary>
    public required LocalDate Stood { get; set; }

    /// <summary>The same, of the delivery that takes this one's place.</summary>
    public KeyDateTie On(Delivery other) =>
        new()
        {
            WorkspaceId = WorkspaceId,
            Id = Id<KeyDateTie>.New(),
            DeliveryId = other.Id,
            KeyDateId = KeyDateId,
            Occurrence = Occurrence,
            Stood = Stood,
        };
}
