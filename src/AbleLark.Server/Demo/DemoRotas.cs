using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Time;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Demo;

/// <summary>The demo's recurring weeks.</summary>
internal sealed class DemoRotas(LarkDb db)
{
    public void AddSlots(
        Workspace workspace,
        DemoScenario scenario,
        Dictionary<string, Category> categories,
        Dictionary<string, Channel> channels
    )
    {
        Id<Rota> rota = db.Rotas.Local.Single(r => r.WorkspaceId == workspace.Id).Id;
        db.Slots.AddRange(
            scenario.Slots.Select(
                (s, i) =>
                    new Slot
                    {
                        WorkspaceId = workspace.Id,
                        Id = Id<Slot>.New(),
                        RotaId = rota,
                        Position = i,
                        Days = [.. s.Days.Select(d => (IsoDayOfWeek)d)],
                        Time = LocalTimePattern.CreateWithInvariantCulture("HH:mm").Parse(s.Time).Value,
                        Source = new([.. new[] { s.Category, s.Second }.OfType<string>().Select(c => categories[c].Id)]),
                        Channels = [.. s.Channels.Select(k => channels[k].Id)],
                    }
            )
        );
    }

    /// <summary>A second rota for three weeks, beside the first.</summary>
    public void AddWinterRota(
        Workspace workspace,
        Dictionary<string, Category> categories,
        Dictionary<string, Channel> channels,
        Instant now
    )
    {
        LocalDate today = workspace.DateOf(now);
        Rota rota = new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Rota>.New(),
            Name = "Midwinter weeks",
            Zone = workspace.Zone,
            Rank = 1,
            From = today.PlusDays(12),
            To = today.PlusDays(32),
        };
        db.Rotas.Add(rota);
        db.Slots.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<Slot>.New(),
                RotaId = rota.Id,
                Days = [IsoDayOfWeek.Monday, IsoDayOfWeek.Friday],
                Time = new(12, 0),
                Source = new([categories["Walks & stays"].Id]),
                Channels = [channels["page"].Id],
            }
        );
        db.Slots.Add(
            new()
            {
                WorkspaceId = workspace.Id,
                Id = Id<Slot>.New(),
                RotaId = rota.Id,
                Days = [],
                Rhythm = Rhythm.Days,
                Every = 3,
                Anchor = today,
                Time = new(15, 30),
                Source = new([categories["Sightings"].Id]),
                Channels = [channels["obs"].Id],
                Position = 1,
            }
        );
    }
}
