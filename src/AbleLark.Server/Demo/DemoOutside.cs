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

/// <summary>What volunteers posted on a page themselves: one that counts by now, and one that nobody has given a category yet.</summary>
public sealed class DemoOutside(LarkDb db, StandInControl standIns, OutsideLook look, OutsideCounting counting)
{
    private static readonly (string Text, int DaysAgo)[] Posted =
    [
        ("Snow bunting on the sea wall this morning, feeding at arm's length. No time to write it up properly!", 12),
        ("Hide 3 is open again. Thank you to everybody who carried planks.", 3),
    ];

    public async Task AddAsync(Workspace workspace, Channel channel, Category category, Instant now, CancellationToken cancellation)
    {
        await standIns.PostAsync(
            [
                .. Posted.Select(p => new PastPost(
                    channel.Account,
                    $"by hand: {p.Text}",
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
        await counting.CountAsync(first, new(category.Id, null), person: null, now, cancellation);
    }
}
