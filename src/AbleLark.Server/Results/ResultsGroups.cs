using AbleLark.Core;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Comparison;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Results;

/// <summary>Puts deliveries together by what they have in common.</summary>
public sealed class ResultsGroups(LarkDb db, MeasuredReader reader, Comparisons comparisons)
{
    private const int AtOnce = 5_000;

    /// <summary>The best first, by how they did beside the usual.</summary>
    public async Task<IReadOnlyList<GroupRow>> OfAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        ResultsBy by,
        CancellationToken cancellation
    )
    {
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspace, question, cancellation);
        CategoryComparison comparison = comparisons.Of(deliveries, withLevels: by is ResultsBy.Channel or ResultsBy.Daypart);
        IReadOnlyList<GroupRow> rows = by switch
        {
            ResultsBy.Channel => await ByChannelAsync(workspace, deliveries, comparison, cancellation),
            ResultsBy.Daypart => ByDaypart(deliveries, comparison),
            ResultsBy.Post => await ByPostAsync(workspace, deliveries, comparison, cancellation),
            ResultsBy.Wording => await ByWordingAsync(workspace, deliveries, comparison, cancellation),
            ResultsBy.AnyCategory => await ByAnyCategoryAsync(workspace, deliveries, comparison, cancellation),
            _ => await ByHashtagAsync(workspace, deliveries, comparison, cancellation),
        };
        return
        [
            .. rows.OrderByDescending(r => r.Makes?.Value ?? r.BesideUsual?.Ratio ?? -1)
                .ThenByDescending(r => r.Deliveries)
                .ThenBy(r => r.Name, StringComparer.OrdinalIgnoreCase),
        ];
    }

    private async Task<IReadOnlyList<GroupRow>> ByChannelAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CategoryComparison comparison,
        CancellationToken cancellation
    )
    {
        Dictionary<Id<Channel>, string> names = await db
            .Channels.Where(c => c.WorkspaceId == workspace)
            .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
        return
        [
            .. ResultsByGroup
                .Of(deliveries, d => d.ChannelId, comparison.Expected)
                .Select(g =>
                    Row(g, names[g.Key]) with
                    {
                        ChannelId = g.Key,
                        BesideUsual = null,
                        Makes = comparison.Channels.GetValueOrDefault(g.Key),
                    }
                ),
        ];
    }

    private static IReadOnlyList<GroupRow> ByDaypart(List<MeasuredDelivery> deliveries, CategoryComparison comparison) =>
        [
            .. ResultsByGroup
                .Of(deliveries, d => Daypart.Of(d.Date, d.Hour), comparison.Expected)
                .Select(g =>
                    Row(g, $"{g.Key.Part}, {(g.Key.IsWeekend ? "weekend" : "weekday")}") with
                    {
                        Daypart = g.Key,
                        BesideUsual = null,
                        Makes = comparison.Dayparts.GetValueOrDefault(g.Key),
                    }
                ),
        ];

    private async Task<IReadOnlyList<GroupRow>> ByPostAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CategoryComparison comparison,
        CancellationToken cancellation
    )
    {
        IReadOnlyList<GroupResult<Id<Post>>> groups = ResultsByGroup.Of(deliveries, d => d.PostId, comparison.Expected);
        Dictionary<Id<Post>, (string Title, Id<MediaFile>? File)> posts = await PostsAsync(
            workspace,
            [.. groups.Select(g => g.Key)],
            cancellation
        );
        return [.. groups.Select(g => Row(g, posts[g.Key].Title) with { PostId = g.Key, File = posts[g.Key].File })];
    }

    private async Task<IReadOnlyList<GroupRow>> ByWordingAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CategoryComparison comparison,
        CancellationToken cancellation
    )
    {
        Dictionary<Id<Delivery>, int> wordings = [];
        foreach (Id<Delivery>[] ids in deliveries.Select(d => d.Id).Chunk(AtOnce))
        {
            var some = await db
                .Deliveries.Where(d => d.WorkspaceId == workspace && ids.Contains(d.Id))
                .Select(d => new { d.Id, d.Wording })
                .ToListAsync(cancellation);
            foreach (var delivery in some)
                wordings[delivery.Id] = delivery.Wording;
        }
        HashSet<Id<Post>> several =
        [
            .. deliveries.GroupBy(d => d.PostId).Where(g => g.Select(d => wordings[d.Id]).Distinct().Skip(1).Any()).Select(g => g.Key),
        ];
        IReadOnlyList<GroupResult<(Id<Post> Post, int Wording)>> groups = ResultsByGroup.Of(
            deliveries.Where(d => several.Contains(d.PostId)),
            d => (Post: d.PostId, Wording: wordings[d.Id]),
            comparison.Expected
        );
        var posts = await PostsAsync(workspace, [.. several], cancellation);
        return
        [
            .. groups.Select(g =>
                Row(g, $"{posts[g.Key.Post].Title}: {(g.Key.Wording == 0 ? "its own wording" : $"wording {g.Key.Wording + 1}")}") with
                {
                    PostId = g.Key.Post,
                    File = posts[g.Key.Post].File,
                    Wording = g.Key.Wording,
                }
            ),
        ];
    }

    /// <summary>A count: nothing is compared, since a delivery stands under each of its post's categories.</summary>
    private async Task<IReadOnlyList<GroupRow>> ByAnyCategoryAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CategoryComparison comparison,
        CancellationToken cancellation
    )
    {
        Dictionary<Id<Category>, string> names = await db
            .Categories.Where(c => c.WorkspaceId == workspace)
            .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
        Dictionary<Id<Delivery>, Id<Category>[]> further = [];
        foreach (Guid[] ids in deliveries.Select(d => d.Id.Value).Chunk(AtOnce))
        {
            List<FurtherCategory> some = await db
                .Database.SqlQuery<FurtherCategory>(
                    $"""
                    select d.id, f.category::uuid as category
                    from deliveries d, jsonb_array_elements_text(d.facts -> 'further') as f (category)
                    where d.workspace_id = {workspace.Value} and d.id = any ({ids})
                    """
                )
                .ToListAsync(cancellation);
            foreach (var one in some.GroupBy(s => s.Id))
                further[new(one.Key)] = [.. one.Select(s => new Id<Category>(s.Category))];
        }
        return
        [
            .. ResultsByGroup
                .OfSeveral<Id<Category>>(
                    deliveries,
                    d => [.. new[] { d.CategoryId }.Union(further.GetValueOrDefault(d.Id, []))],
                    comparison.Expected
                )
                .Select(g =>
                    Row(g, names.GetValueOrDefault(g.Key, "A category that is gone")) with
                    {
                        CategoryId = g.Key,
                        BesideUsual = null,
                    }
                ),
        ];
    }

    private sealed record FurtherCategory(Guid Id, Guid Category);

    private async Task<IReadOnlyList<GroupRow>> ByHashtagAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CategoryComparison comparison,
        CancellationToken cancellation
    )
    {
        Dictionary<Id<Delivery>, string[]> tags = [];
        foreach (Guid[] ids in deliveries.Select(d => d.Id.Value).Chunk(AtOnce))
        {
            List<SentText> texts = await db
                .Database.SqlQuery<SentText>(
                    $"""
                    select id, sent #>> array['fields', 'text'] as text, sent #>> array['fields', 'firstComment'] as comment
                    from deliveries
                    where workspace_id = {workspace.Value} and id = any ({ids}) and sent::text like '%#%'
                    """
                )
                .ToListAsync(cancellation);
            foreach (SentText sent in texts)
                tags[new(sent.Id)] = [.. TagsOf($"{sent.Text}\n{sent.Comment}")];
        }
        IReadOnlyList<GroupResult<string>> groups = ResultsByGroup.OfSeveral(
            deliveries,
            d => tags.GetValueOrDefault(d.Id, []),
            comparison.Expected
        );
        return [.. groups.Select(g => Row(g, "#" + g.Key) with { Hashtag = g.Key })];
    }

    private sealed record SentText(Guid Id, string? Text, string? Comment);

    /// <summary>In small letters: networks make no difference.</summary>
    private static IEnumerable<string> TagsOf(string text)
    {
        string normal = TextCounter.Normalise(text);
        return TextParts
            .Find(normal)
            .Where(p => p.Kind == TextPartKind.Hashtag)
            .Select(p => normal.Substring(p.Start + 1, p.Length - 1).ToLowerInvariant())
            .Distinct();
    }

    private async Task<Dictionary<Id<Post>, (string Title, Id<MediaFile>? File)>> PostsAsync(
        Id<Workspace> workspace,
        Id<Post>[] ids,
        CancellationToken cancellation
    )
    {
        var posts = await db
            .Posts.Where(p => p.WorkspaceId == workspace && ids.Contains(p.Id))
            .Select(p => new
            {
                p.Id,
                p.Title,
                p.FileIds,
            })
            .ToListAsync(cancellation);
        return posts.ToDictionary(p => p.Id, p => (p.Title, p.FileIds is [var file, ..] ? (Id<MediaFile>?)file : null));
    }

    private static GroupRow Row<TKey>(GroupResult<TKey> g, string name) =>
        new(
            name,
            null,
            null,
            null,
            null,
            null,
            null,
            null,
            g.Posts,
            g.Deliveries,
            g.LeftOut,
            g.Total,
            g.Rate,
            g.Median,
            g.BesideUsual,
            null
        );
}
