using System.Linq.Expressions;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Planning;

/// <summary>Reads what else goes out around what an act plans.</summary>
/// <param name="channels">All of the workspace's.</param>
/// <param name="posts">Those that the act names.</param>
/// <param name="identicalTextDays">Of its networks that mind identical texts.</param>
internal sealed class NearbyDeliveries(
    LarkDb db,
    Workspace workspace,
    IReadOnlyDictionary<Id<Channel>, Channel> channels,
    IReadOnlyDictionary<Id<Post>, Post> posts,
    IReadOnlyDictionary<string, int> identicalTextDays
)
{
    private sealed record Row(Neighbour Neighbour, int Wording, string? Fingerprint);

    public IReadOnlyDictionary<string, int> IdenticalTextDays { get; } = identicalTextDays;

    /// <summary>What goes out on the act's channels around its times, and of its posts at any; on accounts of networks that mind identical
    /// texts, as many days around as they mind.</summary>
    public async Task<List<Neighbour>> ReadAsync(PlanNeeds needs, CancellationToken cancellation)
    {
        if (needs.Times.Count == 0)
            return [];
        List<Id<Post>> posts = [.. needs.Posts];
        List<Id<Channel>> named = [.. needs.Channels];
        HashSet<string> minding = [.. named.Select(c => channels[c].Network).Where(IdenticalTextDays.ContainsKey)];
        List<Id<Channel>> accounts = [.. channels.Values.Where(c => minding.Contains(c.Network)).Select(c => c.Id)];
        // A day more, since the times are near enough only.
        (Instant from, Instant to) = Around(needs, PlanDoor.Around + Duration.FromDays(1));
        List<Row> rows = await RowsAsync(
            d => named.Contains(d.ChannelId) && ((d.At >= from && d.At <= to) || posts.Contains(d.PostId)),
            cancellation
        );
        if (accounts.Count == 0)
            return [.. rows.Select(r => r.Neighbour)];
        (Instant first, Instant last) = Around(needs, Duration.FromDays(minding.Max(n => IdenticalTextDays[n]) + 1));
        HashSet<Id<Delivery>> known = [.. rows.Select(r => r.Neighbour.Id)];
        rows.AddRange(
            (await RowsAsync(d => accounts.Contains(d.ChannelId) && d.At >= first && d.At <= last, cancellation)).Where(r =>
                !known.Contains(r.Neighbour.Id)
            )
        );
        return await SayingAsync(rows, cancellation);
    }

    private static (Instant From, Instant To) Around(PlanNeeds needs, Duration by) => (needs.Times.Min() - by, needs.Times.Max() + by);

    private async Task<List<Row>> RowsAsync(Expression<Func<Delivery, bool>> which, CancellationToken cancellation) =>
        await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspace.Id
                && d.State != DeliveryState.Cancelled
                && d.State != DeliveryState.Missed
                && d.State != DeliveryState.Refused
            )
            .Where(which)
            .Select(d => new Row(
                new(d.Id, d.PostId, d.ChannelId, d.At, d.State == DeliveryState.Substitute, null),
                d.Wording,
                d.TextFingerprint
            ))
            .ToListAsync(cancellation);

    /// <summary>What was sent says what it said; what is to come says what its post says.</summary>
    private async Task<List<Neighbour>> SayingAsync(IReadOnlyList<Row> rows, CancellationToken cancellation)
    {
        List<Id<Post>> unread =
        [
            .. rows.Where(r => r.Fingerprint is null && Minds(r) && !posts.ContainsKey(r.Neighbour.PostId))
                .Select(r => r.Neighbour.PostId)
                .Distinct(),
        ];
        Dictionary<Id<Post>, Dictionary<string, Fit>> fits =
            unread.Count == 0
                ? []
                : await db
                    .Posts.Where(p => p.WorkspaceId == workspace.Id && unread.Contains(p.Id))
                    .Select(p => new { p.Id, p.Fits })
                    .ToDictionaryAsync(p => p.Id, p => p.Fits, cancellation);
        return [.. rows.Select(r => Minds(r) ? r.Neighbour with { Text = r.Fingerprint ?? TextOf(r) } : r.Neighbour)];

        bool Minds(Row row) => IdenticalTextDays.ContainsKey(channels[row.Neighbour.ChannelId].Network);

        string? TextOf(Row row)
        {
            Channel channel = channels[row.Neighbour.ChannelId];
            return (posts.GetValueOrDefault(row.Neighbour.PostId)?.Fits ?? fits.GetValueOrDefault(row.Neighbour.PostId))
                ?.On(channel)
                ?.FingerprintOf(row.Wording);
        }
    }
}
