using AbleLark.Core.Categories;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Tests.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Planning;

/// <summary>Acts on a scene's places and deliveries, as whoever keeps them would have them done.</summary>
internal sealed class PlacePlan(Scene scene)
{
    public PlanSnapshot Snapshot()
    {
        LineUpInput input = scene.Input();
        return new()
        {
            Workspace = scene.Workspace,
            Now = scene.Now,
            Channels = input.Channels.ToDictionary(c => c.Id),
            Posts = scene.Bank.ToDictionary(p => p.Id),
            Gaps = new Dictionary<Id<Category>, int?>(),
            Substitutes = scene.Deliveries.Where(d => d.State == DeliveryState.Substitute).ToLookup(d => (d.Origin, d.ChannelId)),
            Others = [.. scene.Deliveries.Where(d => d.State.IsTurn()).Select(d => new Neighbour(d.Id, d.PostId, d.ChannelId, d.At))],
            LineUp = input,
        };
    }

    public PlanChange Look(PlanAct act) => PlanDoor.Of(Snapshot(), act);

    public PlanChange Do(PlanAct act)
    {
        PlanChange change = Look(act);
        Dictionary<Origin, Decision> opened = [];
        change.Apply(place =>
            opened[place] =
                scene.Decisions.SingleOrDefault(d => d.Origin == place) ?? new() { WorkspaceId = scene.Workspace.Id, Origin = place }
        );
        scene.Decisions.RemoveAll(d => opened.ContainsKey(d.Origin));
        scene.Decisions.AddRange(opened.Values.Where(d => !d.IsEmpty));
        return change;
    }

    public static SeenPlace Seen(Slot slot, LocalDate date) => new(Origin.Place(slot.Id, date), 0);

    public static SeenPlace Seen(LineUpPlace place) => new(place.Occurrence.Origin, 0);
}
