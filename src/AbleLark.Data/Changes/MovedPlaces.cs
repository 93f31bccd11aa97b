using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data.History;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Data.Changes;

/// <summary>Moves of single places, when they are to be taken back.</summary>
internal static class MovedPlaces
{
    /// <summary>Why the move of a place, or its end, isn't taken back; null when it may be. What was scheduled or sent from a place stands
    /// where the place was then: elsewhere the place would seem open.</summary>
    public static async Task<string?> WhyStaysAsync(LarkDb db, Id<Workspace> workspace, Change change, CancellationToken cancellation)
    {
        Dictionary<string, JsonElement> before = db.ByProperty(typeof(Decision), change.Before ?? []),
            after = db.ByProperty(typeof(Decision), change.After ?? []);
        LocalDateTime? from = MovedTo(before),
            to = MovedTo(after);
        if (from == to)
            return null;
        Origin? origin = await db
            .Decisions.Where(d => d.WorkspaceId == workspace && d.Id == new Id<Decision>(change.EntityId))
            .Select(d => (Origin?)new Origin(d.OriginKind, d.OriginId, d.OriginDate, d.OriginTime))
            .FirstOrDefaultAsync(cancellation);
        if ((origin ?? OriginOf(before)) is not { SlotId: not null } place)
            return null;
        return await db.Deliveries.AnyAsync(
            d =>
                d.WorkspaceId == workspace
                && d.OriginKind == OriginKind.Place
                && d.OriginId == place.Id
                && d.OriginDate == place.Date
                && d.State != DeliveryState.Substitute,
            cancellation
        )
            ? $"The place of {place.Date.InWords()} stays where it is: since it was moved, it has been scheduled or sent."
            : null;

        static LocalDateTime? MovedTo(Dictionary<string, JsonElement> of) =>
            of.TryGetValue(nameof(Decision.MovedTo), out JsonElement moved) ? moved.Deserialize<LocalDateTime?>(LarkJson.Options) : null;

        static Origin? OriginOf(Dictionary<string, JsonElement> of) =>
            of.TryGetValue(nameof(Decision.OriginId), out JsonElement id)
                ? new(
                    of[nameof(Decision.OriginKind)].Deserialize<OriginKind>(LarkJson.Options),
                    id.Deserialize<Guid>(LarkJson.Options),
                    of[nameof(Decision.OriginDate)].Deserialize<LocalDate>(LarkJson.Options),
                    null
                )
                : null;
    }
}
