using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Outside;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>
/// What isn't lived through day by day: followers that came in time, and what volunteers posted on a page themselves, one that counts
/// by now and one that nobody has given a category yet.
/// </summary>
public sealed class DemoAfterPast(LarkDb db, StandInControl standIns, OutsideLook look, OutsideCounting counting, DemoKeyDates keyDates)
{
    private static readonly (string Text, int DaysAgo)[] Posted =
    [
        ("Snow bunting on the sea wall this morning, feeding at arm's length. No time to write it up properly!", 12),
        ("Hide 3 is open again. Thank you to everybody who carried planks.", 3),
    ];

    /// <summary>Each channel has gained at a pace of its own: up to a third within a year.</summary>
    private Task<int> GrowAsync(Workspace workspace, Instant now, CancellationToken cancellation) =>
        db.Database.ExecuteSqlAsync(
            $"""
            update deliveries d
            set facts = jsonb_set(d.facts, array['followers'], to_jsonb(round(c.followers * (1 - (abs(hashtext(c.handle)) % 30 + 2) / 100.0
                * extract(epoch from {now} - d.sent_at) / (365 * 86400.0) + (abs(hashtext(d.id::text)) % 9 - 4) / 2500.0))::int))
            from channels c
            where d.workspace_id = {workspace.Id.Value} and c.workspace_id = d.workspace_id and c.id = d.channel_id
                and d.sent_at is not null and c.followers is not null
            """,
            cancellation
        );

    public async Task AddAsync(Workspace workspace, Channel channel, Category category, Instant now, CancellationToken cancellation)
    {
        await GrowAsync(workspace, now, cancellation);
        await standIns.PostAsync(
            [
                .. Posted.Select(p => new PastPost(
                    channel.Account,
                    $"by hand, {p.DaysAgo} days ago",
                    now - Duration.FromDays(p.DaysAgo),
                    new(FieldValues.Empty.With(ContentFields.Text, p.Text), []),
                    [],
                    ByHand: true
                )),
            ],
            cancellation
        );
        await look.LookAsync(workspace.Id, channel.Id, now, now, cancellation);
        OutsidePost first = await db
            .OutsidePosts.Where(o => o.WorkspaceId == workspace.Id)
            .OrderBy(o => o.PostedAt)
            .FirstAsync(cancellation);
        await keyDates.AddAsync(workspace, channel, now, cancellation);
        await counting.CountAsync(first, new(category.Id, null), by: null, now, cancellation);
    }
}
