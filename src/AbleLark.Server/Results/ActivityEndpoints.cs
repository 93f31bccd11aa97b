using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Results;

/// <summary>What became of the deliveries that were to go out on a channel in a period.</summary>
/// <param name="Planned">Those that are still to come.</param>
/// <param name="Waiting">Those that wait for a person.</param>
/// <param name="Sent">Of those whose time has come and that were not cancelled, how many went out.</param>
/// <param name="OnTime">Of those sent, how many within a minute of their time.</param>
public sealed record ActivityRow(
    Id<Channel> ChannelId,
    int Planned,
    int Waiting,
    int Refused,
    int Missed,
    int Cancelled,
    Wilson Sent,
    Wilson OnTime
);

/// <summary>What was to go out and what became of it, as one counts work and not success.</summary>
public static class ActivityEndpoints
{
    private static readonly Duration Punctual = Duration.FromMinutes(1);

    public static void MapActivity(this RouteGroupBuilder workspace) =>
        workspace.MapGet("/results/activity", ShowAsync).Needs(Right.Results);

    private static Task<List<ActivityRow>> ShowAsync(
        Id<Workspace> workspaceId,
        QueryDate from,
        QueryDate to,
        LarkDb db,
        CancellationToken cancellation
    ) =>
        to.Value < from.Value
            ? throw ProblemException.BadInput("The last date lies before the first. Swap them.")
            : OfAsync(workspaceId, new(from.Value, to.Value), db, cancellation);

    /// <summary>By channel, the busiest first. What people posted on the channels themselves was never to go out from here.</summary>
    internal static async Task<List<ActivityRow>> OfAsync(
        Id<Workspace> workspaceId,
        ResultsPeriod period,
        LarkDb db,
        CancellationToken cancellation
    )
    {
        (LocalDate first, LocalDate last) = (period.From, period.To);
        var counts = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == workspaceId && d.LocalDate >= first && d.LocalDate <= last && d.OriginKind != OriginKind.Outside
            )
            .GroupBy(d => new
            {
                d.ChannelId,
                d.State,
                OnTime = d.SentAt != null && d.SentAt <= d.At + Punctual,
            })
            .Select(g => new
            {
                g.Key.ChannelId,
                g.Key.State,
                g.Key.OnTime,
                Count = g.Count(),
            })
            .ToListAsync(cancellation);
        return
        [
            .. counts
                .GroupBy(c => c.ChannelId)
                .Select(g =>
                {
                    int Of(params DeliveryState[] states) => g.Where(c => states.Contains(c.State)).Sum(c => c.Count);
                    int sent = Of(DeliveryState.Sent),
                        refused = Of(DeliveryState.Refused),
                        missed = Of(DeliveryState.Missed),
                        waiting = Of(DeliveryState.PostItYourself, DeliveryState.MayHaveGoneOut);
                    return new ActivityRow(
                        g.Key,
                        Of(DeliveryState.Planned, DeliveryState.WaitingForApproval, DeliveryState.Sending),
                        waiting,
                        refused,
                        missed,
                        Of(DeliveryState.Cancelled),
                        Wilson.Interval(sent, sent + refused + missed + waiting),
                        Wilson.Interval(g.Where(c => c.State == DeliveryState.Sent && c.OnTime).Sum(c => c.Count), sent)
                    );
                })
                .OrderByDescending(r => r.Sent.Of)
                .ThenBy(r => r.ChannelId),
        ];
    }
}
