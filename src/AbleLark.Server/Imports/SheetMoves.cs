using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Imports;
using AbleLark.Core.Planning;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Planning;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <summary>Gives what a planning sheet says another time, or a further one.</summary>
public sealed class SheetMoves(LarkDb db, PlanWriter writer)
{
    /// <summary>Sendings of a planning sheet that get another time: all of them, or the sheet is looked at again.</summary>
    /// <exception cref="ProblemException">One of them can't be moved.</exception>
    public async Task DoAsync(BookEntry[] updates, Workspace workspace, Instant now, CancellationToken cancellation)
    {
        List<Id<Delivery>> moved = [.. updates.SelectMany(e => e.Moves).Select(m => m.Id)];
        if (moved.Count == 0)
            return;
        Dictionary<Id<Delivery>, Delivery> deliveries = await db
            .Deliveries.Where(d => d.WorkspaceId == workspace.Id && moved.Contains(d.Id))
            .ToDictionaryAsync(d => d.Id, cancellation);
        Dictionary<Id<Delivery>, string> titles = [];
        List<MoveWish> wishes = [];
        foreach (BookEntry entry in updates)
        {
            foreach (SheetMove move in entry.Moves)
            {
                titles[move.Id] = entry.Update!.Title;
                wishes.Add(
                    new(
                        deliveries.GetValueOrDefault(move.Id)
                            ?? throw ProblemException.Conflict(
                                $"A sending of “{entry.Update.Title}” is no longer there. Have the rows checked again."
                            ),
                        move.To
                    )
                );
            }
        }
        PlanChange change = await writer.DoAsync(workspace, new PlanAct.Move(wishes), now, cancellation);
        if (change.Stays is [{ DeliveryId: { } id } stay, ..])
            throw ProblemException.Conflict(
                $"A sending of “{titles[id]}” can't be moved: {PlanWords.Why(stay, titles[id])} Have the rows checked again."
            );
    }

    /// <summary>Further times that rows give to posts that were there; a time that a post has already stays as it is.</summary>
    /// <returns>How many deliveries came of it.</returns>
    public async Task<int> PlanAsync(BookEntry[] updates, Workspace workspace, Instant now, CancellationToken cancellation)
    {
        List<CopyWish> wishes =
        [
            .. from entry in updates
            from time in entry.Draft.Times
            from channel in time.Channels
            select new CopyWish(entry.Update!.PostId, channel, null, time.Local, time.Local),
        ];
        return wishes.Count == 0 ? 0 : (await writer.DoAsync(workspace, new PlanAct.Copy(wishes), now, cancellation)).Done;
    }
}
