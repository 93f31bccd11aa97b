using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Networks;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Results;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.LineUps;

/// <summary>Reads from the database what the line-up is worked out from.</summary>
public sealed class LineUpReader(LarkDb db, NetworkBook networks, EarnedReader earned)
{
    public async Task<LineUpInput> ReadAsync(Workspace workspace, CancellationToken cancellation)
    {
        var id = workspace.Id;
        List<Rota> rotas = await db
            .Rotas.AsNoTracking()
            .Include(r => r.Slots.Where(s => s.RemovedAt == null))
            .Where(r => r.WorkspaceId == id && r.RemovedAt == null)
            .OrderBy(r => r.Rank)
            .ToListAsync(cancellation);
        List<Channel> channels = await db
            .Channels.AsNoTracking()
            .Where(c => c.WorkspaceId == id)
            .OrderBy(c => c.Position)
            .ToListAsync(cancellation);
        var categories = await db
            .Categories.AsNoTracking()
            .Where(c => c.WorkspaceId == id)
            .OrderBy(c => c.Position)
            .ThenBy(c => c.Name)
            .ToListAsync(cancellation);
        bool needsScores =
            categories.Any(c => c.Order.Order == Order.BetterOnesMoreOften)
            || rotas.Any(r => r.Slots.Any(s => s.Order?.Order == Order.BetterOnesMoreOften));
        return new(
            workspace.Zone,
            rotas,
            categories,
            [.. channels.Where(c => networks.Has(c.Network))],
            await BankAsync(id, cancellation),
            await DeliveriesAsync(id, cancellation),
            networks
        )
        {
            Decisions = await db.Decisions.AsNoTracking().Where(d => d.WorkspaceId == id).ToListAsync(cancellation),
            Pauses = await db.Pauses.AsNoTracking().Where(p => p.WorkspaceId == id).ToListAsync(cancellation),
            Moves = await db.LineMoves.AsNoTracking().Where(m => m.WorkspaceId == id).ToListAsync(cancellation),
            Scores = needsScores
                ? Scores.Of(await earned.ReadAsync(id, channels, cancellation))
                : new Dictionary<(Id<Post>, Id<Channel>), double>(),
        };
    }

    /// <summary>Without what they say: how it fits was worked out when they were saved.</summary>
    private Task<List<Post>> BankAsync(Id<Workspace> id, CancellationToken cancellation) =>
        db
            .Posts.AsNoTracking()
            .Where(p => p.WorkspaceId == id && p.RemovedAt == null)
            .Select(p => new Post
            {
                WorkspaceId = p.WorkspaceId,
                Id = p.Id,
                Title = p.Title,
                CategoryId = p.CategoryId,
                FurtherCategories = p.FurtherCategories,
                Stage = p.Stage,
                Lifespan = p.Lifespan,
                From = p.From,
                To = p.To,
                GapDays = p.GapDays,
                InRotation = p.InRotation,
                AddedAt = p.AddedAt,
                AddedOrder = p.AddedOrder,
                Channels = p.Channels,
                Fits = p.Fits,
            })
            .ToListAsync(cancellation);

    /// <summary>Only what turns and places need: not what was sent, which is by far the largest part.</summary>
    private Task<List<Delivery>> DeliveriesAsync(Id<Workspace> id, CancellationToken cancellation) =>
        db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == id)
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
                Origin = new(d.OriginKind, d.OriginId, d.OriginDate, d.OriginTime),
                Why = d.Why,
                TextFingerprint = d.TextFingerprint,
                SentAt = d.SentAt,
                DealtWith = d.DealtWith,
                Trouble = d.Trouble,
                Address = d.Address,
                InsteadOf = d.InsteadOf,
                DrawnBy = d.DrawnBy,
                DrawnInOrder = d.DrawnInOrder,
                Round = d.Round,
                Wording = d.Wording,
                Revision = d.Revision,
            })
            .ToListAsync(cancellation);
}
