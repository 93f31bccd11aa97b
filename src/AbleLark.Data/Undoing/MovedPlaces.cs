using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Rotas;
using AbleLark.Data.Rows;
using NodaTime;

namespace AbleLark.Data.Undoing;

/// <summary>Moves of single places, when they are to be taken back.</summary>
internal static class MovedPlaces
{
    public static UndoRule Rule { get; } =
        UndoRule.Deleted with
        {
            WhyStays = (undo, row, change, _) => Task.FromResult(WhyStays(undo, row as Decision, change)),
        };

    /// <summary>The place that a decision was about; null: it was about none.</summary>
    public static Origin? PlaceOf(LarkDb db, Decision? decision, Change change) =>
        (decision?.Origin ?? OriginOf(db.ByProperty(typeof(Decision), change.Before ?? change.After ?? []))) is { SlotId: not null } place
            ? place
            : null;

    /// <summary>Why the move of a place, or its end, isn't taken back; null when it may be. What was scheduled or sent from a place stands
    /// where the place was then: elsewhere the place would seem open.</summary>
    private static string? WhyStays(UndoScope undo, Decision? decision, Change change)
    {
        Dictionary<string, JsonElement> before = undo.Db.ByProperty(typeof(Decision), change.Before ?? []),
            after = undo.Db.ByProperty(typeof(Decision), change.After ?? []);
        return MovedTo(before) != MovedTo(after) && PlaceOf(undo.Db, decision, change) is { } place && undo.Reach.Scheduled.Contains(place)
            ? $"The place of {place.Date.InWords()} stays where it is: since it was moved, it has been scheduled or sent."
            : null;
    }

    private static LocalDateTime? MovedTo(Dictionary<string, JsonElement> of) =>
        of.TryGetValue(nameof(Decision.MovedTo), out JsonElement moved) ? moved.Deserialize<LocalDateTime?>(LarkJson.Options) : null;

    private static Origin? OriginOf(Dictionary<string, JsonElement> of) =>
        of.TryGetValue(nameof(Decision.OriginId), out JsonElement id)
            ? new(
                of[nameof(Decision.OriginKind)].Deserialize<OriginKind>(LarkJson.Options),
                id.Deserialize<Guid>(LarkJson.Options),
                of[nameof(Decision.OriginDate)].Deserialize<LocalDate>(LarkJson.Options),
                null
            )
            : null;
}
