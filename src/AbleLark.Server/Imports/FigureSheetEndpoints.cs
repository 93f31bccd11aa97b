using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using AbleLark.Sheets;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Imports;

/// <param name="At">When it counts as read.</param>
public sealed record EnteredReading(Id<Delivery> DeliveryId, Instant At);

/// <param name="IsTaken">False: only looked at.</param>
/// <param name="Readings">Of each row that is, or would be, taken in.</param>
/// <param name="Troubles">Rows that are left out, each with why.</param>
public sealed record FigureSheetReport(bool IsTaken, IReadOnlyList<EnteredReading> Readings, IReadOnlyList<FigureTrouble> Troubles);

/// <param name="Readings">As a report named them.</param>
public sealed record ForgetFigures(IReadOnlyList<EnteredReading> Readings);

/// <summary>Figures that were read elsewhere, as a sheet: taken in by a post's address or outside id, and taken back.</summary>
public static class FigureSheetEndpoints
{
    public static void MapFigureSheets(this RouteGroupBuilder workspace)
    {
        workspace
            .MapPost("/results/figures", TakeAsync)
            .Needs(Right.Write)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute(SheetLimits.MostBytes + 4096))
            .WithFormOptions(multipartBodyLengthLimit: SheetLimits.MostBytes);
        workspace.MapPost("/results/figures/forget", ForgetAsync).Needs(Right.Write);
    }

    /// <param name="tryOnly">True: nothing is taken in yet.</param>
    private static async Task<FigureSheetReport> TakeAsync(
        Id<Workspace> workspaceId,
        IFormFileCollection files,
        bool? tryOnly,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        FigureKeeping keeping,
        ImportBooks books,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        if (files is not [var sheet])
            throw ProblemException.BadInput("Choose one sheet at a time: .csv, .tsv or .xlsx.");
        SheetReading cells = await books.ReadAsync(workspaceId, await sheet.BytesAsync(cancellation), new(), cancellation);
        FigureSheet read = FigureSheet.Read(cells.Sheet.Rows);
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspaceId, cancellation);
        Instant now = await clock.NowAsync(cancellation);
        Named named = await Named.OfAsync(workspaceId, read.Rows, db, networks, cancellation);
        List<(Delivery Delivery, FigureSet Figures, Instant At)> entered = [];
        List<FigureTrouble> troubles = [.. read.Troubles];
        foreach (FigureRow row in read.Rows)
        {
            (Delivery? delivery, string why) = named.Find(row);
            Instant at = row.ReadAt is { } local ? Instant.Min(now, local.InZoneLeniently(workspace.Zone).ToInstant()) : now;
            if (row.ReadAt?.Date > workspace.DateOf(now))
                why = $"{row.ReadAt.Value.Date:uuuu-MM-dd} is still to come.";
            else if (delivery is not null && at <= delivery.SentAt)
                why = "Its figures were read before it was sent.";
            if (why.Length > 0)
                troubles.Add(new(row.Row, why));
            else
                entered.Add((delivery!, row.Figures, at));
        }
        troubles = [.. troubles.OrderBy(t => t.Row)];
        if (tryOnly == true)
            return new(false, [.. entered.Select(e => new EnteredReading(e.Delivery.Id, e.At))], troubles);
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        IReadOnlyList<Instant> times = await keeping.EnterAsync(entered, http.Actor(), cancellation);
        await transaction.CommitAsync(cancellation);
        return new(true, [.. entered.Zip(times, (e, at) => new EnteredReading(e.Delivery.Id, at))], troubles);
    }

    /// <summary>Takes back figures that people wrote down, or took in as a sheet.</summary>
    private static async Task ForgetAsync(
        Id<Workspace> workspaceId,
        ForgetFigures request,
        LarkDb db,
        FigureKeeping keeping,
        CancellationToken cancellation
    )
    {
        List<Id<Delivery>> ids = [.. request.Readings.Select(r => r.DeliveryId).Distinct()];
        Dictionary<Id<Delivery>, Delivery> deliveries = await db
            .Deliveries.AsNoTracking()
            .Where(d => d.WorkspaceId == workspaceId && ids.Contains(d.Id) && d.SentAt != null)
            .ToDictionaryAsync(d => d.Id, cancellation);
        await using var transaction = await db.Database.BeginTransactionAsync(cancellation);
        int gone = await keeping.ForgetAsync(
            [.. request.Readings.Where(r => deliveries.ContainsKey(r.DeliveryId)).Select(r => (deliveries[r.DeliveryId], r.At))],
            cancellation
        );
        if (gone == 0)
            throw ProblemException.NotFound("What was written down");
        await transaction.CommitAsync(cancellation);
    }

    /// <summary>Deliveries that a sheet may mean.</summary>
    private sealed class Named
    {
        public required ILookup<string, Delivery> ByAddress { get; init; }
        public required ILookup<string, Delivery> ByOutsideId { get; init; }
        public required Dictionary<Id<Channel>, string[]> ChannelWords { get; init; }

        public static async Task<Named> OfAsync(
            Id<Workspace> workspace,
            IReadOnlyList<FigureRow> rows,
            LarkDb db,
            NetworkBook networks,
            CancellationToken cancellation
        )
        {
            string[] addresses = [.. rows.Select(r => r.Address).Where(a => a.Length > 0).Distinct()];
            string[] ids = [.. rows.Select(r => r.OutsideId).Where(i => i.Length > 0).Distinct()];
            IQueryable<Delivery> sent = db.Deliveries.AsNoTracking().Where(d => d.WorkspaceId == workspace && d.SentAt != null);
            List<Delivery> byAddress = await sent.Where(d => addresses.Contains(d.Address!)).ToListAsync(cancellation);
            var byId = await sent.Join(
                    db.Posts.Where(p => ids.Contains(p.OutsideId!)),
                    d => new { d.WorkspaceId, Id = d.PostId },
                    p => new { p.WorkspaceId, p.Id },
                    (d, p) => new { Delivery = d, p.OutsideId }
                )
                .ToListAsync(cancellation);
            List<Channel> channels = await db.Channels.AsNoTracking().Where(c => c.WorkspaceId == workspace).ToListAsync(cancellation);
            return new()
            {
                ByAddress = byAddress.ToLookup(d => d.Address!, StringComparer.Ordinal),
                ByOutsideId = byId.ToLookup(d => d.OutsideId!, d => d.Delivery, StringComparer.Ordinal),
                ChannelWords = channels.ToDictionary(
                    c => c.Id,
                    c => new[] { c.Name, c.Handle, c.Network, networks.Has(c.Network) ? networks[c.Network].Name : c.Network }
                ),
            };
        }

        /// <returns>The delivery; or why none, or which, is meant.</returns>
        public (Delivery? Delivery, string Why) Find(FigureRow row)
        {
            Delivery[] meant = [.. row.Address.Length > 0 ? ByAddress[row.Address] : ByOutsideId[row.OutsideId]];
            if (meant.Length > 1 && row.Channel.Length > 0)
                meant =
                [
                    .. meant.Where(d => ChannelWords[d.ChannelId].Contains(row.Channel.TrimStart('@'), StringComparer.OrdinalIgnoreCase)),
                ];
            string post = row.Address.Length > 0 ? row.Address : row.OutsideId;
            return meant.Length switch
            {
                1 => (meant[0], ""),
                0 => (null, $"Nothing that was sent is “{post}”{(row.Channel.Length > 0 ? $" on {row.Channel}" : "")}."),
                _ => (null, $"“{post}” went out {meant.Length} times. Give the post’s own address, or name the channel."),
            };
        }
    }
}
