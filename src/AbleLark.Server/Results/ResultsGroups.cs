using System.Globalization;
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
public sealed class ResultsGroups(LarkDb db, MeasuredReader reader, Comparisons comparisons, SentTags sentTags)
{
    private const int AtOnce = 5_000;

    /// <summary>In order of how they did beside the usual.</summary>
    /// <param name="skip">How many of them are passed over.</param>
    /// <param name="take">How many are named and given at most.</param>
    public async Task<GroupRows> OfAsync(
        Id<Workspace> workspace,
        ResultsQuestion question,
        ResultsBy by,
        GroupOrder order,
        int skip,
        int take,
        CancellationToken cancellation
    )
    {
        (List<MeasuredDelivery> deliveries, _) = await reader.ReadAsync(workspace, question, cancellation);
        bool ofLevels = by is ResultsBy.Channel or ResultsBy.Daypart;
        bool compares = !ofLevels && by != ResultsBy.AnyCategory;
        CategoryComparison comparison = comparisons.Of(deliveries, withLevels: ofLevels);
        Func<MeasuredDelivery, IEnumerable<string>> keys = await KeysAsync(workspace, deliveries, by, cancellation);
        IReadOnlyList<GroupResult<string>> groups = ResultsByGroup.Of(
            deliveries,
            keys,
            comparison.Expected,
            withIntervals: by == ResultsBy.Hashtag
        );
        GroupRow[] page =
        [
            .. groups
                .OrderByDescending(g => Weight(Makes(g.Key)?.Value ?? (compares ? g.BesideUsual?.Ratio : null)))
                .ThenByDescending(g => g.Deliveries)
                .ThenBy(g => g.Key, StringComparer.Ordinal)
                .Skip(skip)
                .Take(take)
                .Select(g => new GroupRow(g.Key, "", g.Posts, g.Deliveries, g.LeftOut, g.Total, g.Rate, g.Median)
                {
                    // What is told of channels and hours is what they make; of a count by any category, nothing.
                    BesideUsual = compares ? g.BesideUsual : null,
                    Makes = Makes(g.Key),
                }),
        ];
        Func<GroupRow, GroupRow> name = await NamesAsync(workspace, [.. page.Select(g => g.Key)], by, cancellation);
        return new(groups.Count, [.. page.Select(name)]);

        double Weight(double? ratio) =>
            ratio is not { } known ? double.NegativeInfinity
            : order == GroupOrder.Worst ? -known
            : known;

        RatioRange? Makes(string key) =>
            by switch
            {
                ResultsBy.Channel => comparison.Channels.GetValueOrDefault(IdOf<Channel>(key)),
                ResultsBy.Daypart => comparison.Dayparts.GetValueOrDefault(DaypartOf(key)),
                _ => null,
            };
    }

    /// <summary>The deliveries behind a group.</summary>
    /// <param name="key">As the group's row names it.</param>
    public async Task<List<MeasuredDelivery>> BehindAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        ResultsBy by,
        string key,
        CancellationToken cancellation
    )
    {
        Func<MeasuredDelivery, IEnumerable<string>> keys = await KeysAsync(workspace, deliveries, by, cancellation);
        return [.. deliveries.Where(d => keys(d).Contains(key))];
    }

    /// <summary>What each delivery counts under, each once; several, or none.</summary>
    private async Task<Func<MeasuredDelivery, IEnumerable<string>>> KeysAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        ResultsBy by,
        CancellationToken cancellation
    )
    {
        switch (by)
        {
            case ResultsBy.Channel:
                return d => [d.ChannelId.ToString()];
            case ResultsBy.Daypart:
                return d => [Daypart.Of(d.Date, d.Hour).Level.ToString(CultureInfo.InvariantCulture)];
            case ResultsBy.Post:
                return d => [d.PostId.ToString()];
            case ResultsBy.Wording:
                Dictionary<Id<Delivery>, int> wordings = await WordingsAsync(workspace, deliveries, cancellation);
                HashSet<Id<Post>> several =
                [
                    .. deliveries
                        .GroupBy(d => d.PostId)
                        .Where(g => g.Select(d => wordings[d.Id]).Distinct().Skip(1).Any())
                        .Select(g => g.Key),
                ];
                return d => several.Contains(d.PostId) ? [$"{d.PostId}:{wordings[d.Id]}"] : [];
            case ResultsBy.AnyCategory:
                ILookup<Id<Delivery>, string> further = await FurtherAsync(workspace, deliveries, cancellation);
                return d => further[d.Id].Prepend(d.CategoryId.ToString()).Distinct();
            default:
                ILookup<Id<Delivery>, string> tags = await TagsAsync(workspace, deliveries, cancellation);
                return d => tags[d.Id];
        }
    }

    /// <summary>Says of a group what its key stands for.</summary>
    private async Task<Func<GroupRow, GroupRow>> NamesAsync(
        Id<Workspace> workspace,
        string[] keys,
        ResultsBy by,
        CancellationToken cancellation
    )
    {
        switch (by)
        {
            case ResultsBy.Channel:
                Dictionary<Id<Channel>, string> channels = await db
                    .Channels.Where(c => c.WorkspaceId == workspace)
                    .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
                return row =>
                {
                    Id<Channel> id = IdOf<Channel>(row.Key);
                    return row with { Name = channels[id], ChannelId = id };
                };
            case ResultsBy.Daypart:
                return row =>
                {
                    Daypart part = DaypartOf(row.Key);
                    return row with { Name = $"{part.Part}, {(part.IsWeekend ? "weekend" : "weekday")}", Daypart = part };
                };
            case ResultsBy.AnyCategory:
                Dictionary<Id<Category>, string> categories = await db
                    .Categories.Where(c => c.WorkspaceId == workspace)
                    .ToDictionaryAsync(c => c.Id, c => c.Name, cancellation);
                return row =>
                {
                    Id<Category> id = IdOf<Category>(row.Key);
                    return row with { Name = categories.GetValueOrDefault(id, "A category that is gone"), CategoryId = id };
                };
            case ResultsBy.Hashtag:
                return row => row with { Name = "#" + row.Key, Hashtag = row.Key };
            default:
                Dictionary<Id<Post>, (string Title, Id<MediaFile>? File)> posts = await PostsAsync(
                    workspace,
                    [.. keys.Select(k => IdOf<Post>(k.Split(':')[0])).Distinct()],
                    cancellation
                );
                return row =>
                {
                    string[] parts = row.Key.Split(':');
                    Id<Post> id = IdOf<Post>(parts[0]);
                    int? wording = parts.Length > 1 ? int.Parse(parts[1], CultureInfo.InvariantCulture) : null;
                    string said = wording switch
                    {
                        null => "",
                        0 => ": its own wording",
                        _ => $": wording {wording + 1}",
                    };
                    return row with { Name = posts[id].Title + said, PostId = id, File = posts[id].File, Wording = wording };
                };
        }
    }

    private static Daypart DaypartOf(string key) => Daypart.OfLevel(int.Parse(key, CultureInfo.InvariantCulture));

    private static Id<T> IdOf<T>(string key) => new(Guid.Parse(key));

    private async Task<Dictionary<Id<Delivery>, int>> WordingsAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
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
        return wordings;
    }

    /// <summary>Further categories as they were at sending.</summary>
    private Task<ILookup<Id<Delivery>, string>> FurtherAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CancellationToken cancellation
    ) =>
        LookUpAsync(
            deliveries,
            async ids =>
                (
                    await db
                        .Database.SqlQuery<FurtherCategory>(
                            $"""
                            select d.id, f.category
                            from deliveries d, jsonb_array_elements_text(d.facts -> 'further') as f (category)
                            where d.workspace_id = {workspace.Value} and d.id = any ({ids})
                            """
                        )
                        .ToListAsync(cancellation)
                ).Select(f => (f.Id, f.Category))
        );

    private sealed record FurtherCategory(Guid Id, string Category);

    private async Task<ILookup<Id<Delivery>, string>> TagsAsync(
        Id<Workspace> workspace,
        List<MeasuredDelivery> deliveries,
        CancellationToken cancellation
    )
    {
        // A post says the same each time that it comes round.
        Dictionary<string, string[]> known = new(StringComparer.Ordinal);
        Dictionary<Guid, string[]> tags = deliveries
            .Select(d => (d.Id.Value, Tags: sentTags.Of(d.Id.Value)))
            .Where(d => d.Tags is not null)
            .ToDictionary(d => d.Value, d => d.Tags!);
        foreach (Guid[] ids in deliveries.Select(d => d.Id.Value).Where(d => !tags.ContainsKey(d)).Chunk(AtOnce))
        {
            List<SentText> texts = await db
                .Database.SqlQuery<SentText>(
                    $"""
                    select words, array_agg(id) as ids from (
                        select id,
                            concat_ws(' ', sent #>> array['fields', 'text'], sent #>> array['fields', 'firstComment']) as words
                        from deliveries where workspace_id = {workspace.Value} and id = any ({ids})) said
                    where words like '%#%'
                    group by words
                    """
                )
                .ToListAsync(cancellation);
            foreach (Guid id in ids)
                tags[id] = [];
            foreach (SentText text in texts)
            foreach (Guid id in text.Ids)
                tags[id] = Known(text.Words);
            sentTags.Keep(ids.Select(id => (id, tags[id])));
        }
        return deliveries.SelectMany(d => tags[d.Id.Value].Select(tag => (d.Id, tag))).ToLookup(t => t.Id, t => t.tag);

        string[] Known(string words)
        {
            if (!known.TryGetValue(words, out string[]? tags))
                known[words] = tags = [.. TagsOf(words)];
            return tags;
        }
    }

    private static async Task<ILookup<Id<Delivery>, string>> LookUpAsync(
        List<MeasuredDelivery> deliveries,
        Func<Guid[], Task<IEnumerable<(Guid Id, string Value)>>> ask
    )
    {
        List<(Guid Id, string Value)> all = [];
        foreach (Guid[] ids in deliveries.Select(d => d.Id.Value).Chunk(AtOnce))
            all.AddRange(await ask(ids));
        return all.ToLookup(a => new Id<Delivery>(a.Id), a => a.Value);
    }

    private sealed record SentText(string Words, Guid[] Ids);

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
}
