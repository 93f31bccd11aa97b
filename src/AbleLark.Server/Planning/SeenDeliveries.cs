using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;

namespace AbleLark.Server.Planning;

/// <summary>Deliveries that somebody acts on, as they saw them.</summary>
public static class SeenDeliveries
{
    /// <exception cref="ProblemException">There is none.</exception>
    public static async Task<Delivery> DeliveryAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        Id<Delivery> id,
        CancellationToken cancellation
    ) => await db.Deliveries.FindAsync([workspace, id], cancellation) ?? throw ProblemException.NotFound("This delivery");

    /// <param name="ifMatch">The revision that the person looked at; without it, any.</param>
    /// <exception cref="ProblemException">There is none, or it is another by now.</exception>
    public static async Task<Delivery> DeliveryToActAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        Id<Delivery> id,
        string? ifMatch,
        CancellationToken cancellation
    )
    {
        Delivery delivery = await db.DeliveryAsync(workspace, id, cancellation);
        if (ifMatch is null)
            return delivery;
        if (!int.TryParse(ifMatch.Trim('"'), out int revision))
            throw ProblemException.BadInput("Say in If-Match which revision of the delivery you looked at.");
        if (revision != delivery.Revision)
            throw ProblemException.Outdated(
                $"Somebody else changed this delivery since you looked at it: it is {PlanWords.Of(delivery.State)} now. "
                    + "Look again, then decide."
            );
        return delivery;
    }
}
