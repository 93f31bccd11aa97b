using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.LineUps;

/// <summary>Reads from the database what the line-up is worked out from.</summary>
public sealed class LineUpReader(LarkDb db, NetworkBook networks)
{
    public async Task<LineUpInput> ReadAsync(Workspace workspace, CancellationToken cancellation)
    {
        var id = workspace.Id;
        List<Rota> rotas = await db.Rotas.AsNoTracking().Include(r => r.Slots.Where(s => s.RemovedAt == null)).Where(r => r.WorkspaceId == id).ToListAsync(cancellation);
        List<Channel> channels = await db.Channels.AsNoTracking().Where(c => c.WorkspaceId == id).OrderBy(c => c.Place).ToListAsync(cancellation);
        List<Post> bank = await db.Posts.AsNoTracking().Where(p => p.WorkspaceId == id && p.RemovedAt == null).ToListAsync(cancellation);
        // Only what turns and places need: not what was sent, which is by far the largest part.
        List<Delivery> deliveries = await db.Deliveries.AsNoTracking().Where(d => d.WorkspaceId == id)
            .Select(d => new Delivery
            {
                WorkspaceId = d.WorkspaceId,
                Id = d.Id,
                PostId = d.PostId,
                ChannelId = d.ChannelId,
                At = d.At,
                LocalDate = d.LocalDate,
                LocalTime = d.LocalTime,
                State = d.State,
                SlotId = d.SlotId,
                SlotDate = d.SlotDate,
                Why = d.Why,
                Print = d.Print,
                SentAt = d.SentAt,
                DealtWith = d.DealtWith,
                Trouble = d.Trouble,
                Address = d.Address,
                InsteadOf = d.InsteadOf,
            })
            .ToListAsync(cancellation);
        return new(
            workspace.Zone, rotas, await db.Categories.AsNoTracking().Where(c => c.WorkspaceId == id).ToListAsync(cancellation),
            [.. channels.Where(c => networks.Has(c.Network))], bank, deliveries, networks);
    }
}
