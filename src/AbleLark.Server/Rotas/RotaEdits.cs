using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Rotas;

/// <summary>Reads rotas as people want them; a what-if and a saving read them alike.</summary>
/// <param name="Today">Today in the workspace's zone: a new slot counts from it.</param>
public sealed record RotaEdits(
    Workspace Workspace,
    LocalDate Today,
    HashSet<Id<Category>> Categories,
    HashSet<Id<Channel>> Channels,
    HashSet<Id<Rota>> Rotas
)
{
    public static async Task<RotaEdits> ReadAsync(LarkDb db, Workspace workspace, LocalDate today, CancellationToken cancellation) =>
        new(
            workspace,
            today,
            [.. await db.Categories.Where(c => c.WorkspaceId == workspace.Id).Select(c => c.Id).ToListAsync(cancellation)],
            [.. await db.Channels.Where(c => c.WorkspaceId == workspace.Id).Select(c => c.Id).ToListAsync(cancellation)],
            [.. await db.Rotas.Where(r => r.WorkspaceId == workspace.Id && r.RemovedAt == null).Select(r => r.Id).ToListAsync(cancellation)]
        );

    /// <summary>Says so when one slot is named twice.</summary>
    public static void CheckNamedOnce(RotaEdit edit)
    {
        int named = edit.Slots.Count(s => s.Id is not null);
        if (edit.Slots.Where(s => s.Id is not null).DistinctBy(s => s.Id).Count() < named)
            throw ProblemException.BadInput("A slot is named twice. Leave its identity out to make a second one.");
    }

    /// <summary>Checks all but the slots, and takes it over.</summary>
    public void Fill(Rota rota, RotaEdit edit)
    {
        CheckNamedOnce(edit);
        if (edit.Slots.Count > WorkspaceLimits.Slots)
            throw ProblemException.BadInput(
                $"The rota has {edit.Slots.Count} slots; {WorkspaceLimits.Slots} is the most for the whole workspace. Take some out."
            );
        if (edit.To < edit.From)
            throw ProblemException.BadInput("The rota's last date lies before its first. Swap them.");
        if (edit.Replaces is { } other)
        {
            if (!Rotas.Contains(other) || other == rota.Id)
                throw ProblemException.BadInput("The rota to replace isn't here. Choose another.");
            if (edit.From is null || edit.To is null)
                throw ProblemException.BadInput("A rota that replaces another needs a first and a last date.");
        }
        rota.Name = edit.Name.Trim();
        rota.Zone = ZoneOf(edit);
        (rota.From, rota.To, rota.Replaces) = (edit.From, edit.To, edit.Replaces);
    }

    /// <summary>The zone that a rota is to be read in.</summary>
    public DateTimeZone ZoneOf(RotaEdit edit) => edit.Zone is null ? Workspace.Zone : LocalTimes.ZoneOf(edit.Zone);

    /// <summary>Checks a slot.</summary>
    public SlotPlan Plan(SlotEdit edit)
    {
        int[] days = [.. (edit.Days ?? []).Distinct().Order()];
        if (edit.Rhythm == Rhythm.Weeks && days.Length == 0)
            throw ProblemException.BadInput("Choose at least one weekday for the slot.");
        if (edit.To < edit.From)
            throw ProblemException.BadInput("The slot's last date lies before its first. Swap them.");
        if (edit.Channels is not { Count: > 0 })
            throw ProblemException.BadInput("Choose at least one channel for the slot.");
        if (!edit.Channels.All(Channels.Contains))
            throw ProblemException.BadInput("One of the channels isn't in this workspace. Fetch the list again and choose from it.");
        List<Id<Category>> categories = [.. (edit.Categories ?? []).Distinct()];
        if (!categories.All(Categories.Contains))
            throw ProblemException.BadInput("This category isn't in the workspace. Choose another.");
        return new()
        {
            Days = edit.Rhythm == Rhythm.Days ? [] : [.. days.Select(d => (IsoDayOfWeek)d)],
            Time = new LocalTime(edit.Time.Hour, edit.Time.Minute),
            Rhythm = edit.Rhythm,
            Every = edit.Every,
            Anchor = edit.Anchor,
            From = edit.From,
            To = edit.To,
            Source = new(categories, edit.IsPool && categories.Count > 1, edit.Order),
            Channels = [.. edit.Channels.Distinct()],
            FillsEveryChannel = edit.FillsEveryChannel,
        };
    }

    /// <summary>A new slot of a rota.</summary>
    public Slot NewSlot(Id<Rota> rota, SlotEdit edit, int position) => Plan(edit).NewSlot(Workspace.Id, rota, Today, position);

    /// <summary>The rota as it would be, made of new objects, for trying.</summary>
    public Rota Tried(Rota? present, RotaEdit edit)
    {
        Rota rota = new()
        {
            WorkspaceId = Workspace.Id,
            Id = present?.Id ?? Id<Rota>.New(),
            Name = "",
            Zone = Workspace.Zone,
            Rank = present?.Rank ?? int.MaxValue,
        };
        Fill(rota, edit);
        int place = 0;
        foreach (SlotEdit wanted in edit.Slots)
        {
            Slot? was = present?.Slots.SingleOrDefault(s => s.Id == wanted.Id);
            SlotPlan plan = Plan(wanted);
            Slot slot = (plan with { Anchor = plan.Anchor ?? was?.Anchor }).NewSlot(
                Workspace.Id,
                rota.Id,
                Today,
                was?.Position ?? 100_000 + place++,
                was?.Id
            );
            rota.Slots.Add(slot);
        }
        return rota;
    }

    public SlotView View(Rota rota, Slot s) =>
        new(
            s.Id,
            [.. s.Days.Select(d => (int)d)],
            s.Time,
            s.Categories,
            s.Channels,
            s.Rhythm,
            s.Every,
            s.Anchor,
            s.From,
            s.To,
            s.IsPool,
            s.Order,
            s.FillsEveryChannel,
            Occurrences.Next(rota, s, Today, 3)
        );

    public RotaView View(Rota rota) =>
        new(
            rota.Id,
            rota.Version,
            rota.Name,
            rota.Zone.Id,
            rota.From,
            rota.To,
            rota.Replaces,
            [
                .. rota
                    .Slots.Where(s => s.RemovedAt is null && !(s.To < Today))
                    .OrderBy(s => s.Time)
                    .ThenBy(s => s.Position)
                    .Select(s => View(rota, s)),
            ]
        );
}
