using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Core.Imports;

/// <summary>What a post of the bank becomes when a row is taken over into it. What the row doesn't say stays as it is.</summary>
/// <param name="Version">The post's, as it was looked at.</param>
public sealed record PostUpdate(
    Id<Post> PostId,
    string Title,
    Id<Category> CategoryId,
    IReadOnlyList<Id<Category>> FurtherCategories,
    IReadOnlyList<Id<Channel>>? Channels,
    Lifespan Lifespan,
    int? GapDays,
    LocalDate? From,
    LocalDate? To,
    string Notes,
    PostContent Content,
    int Version
)
{
    /// <summary>The post as it is.</summary>
    internal static PostUpdate Of(Post post) =>
        new(
            post.Id,
            post.Title,
            post.CategoryId,
            post.FurtherCategories,
            post.Channels,
            post.Lifespan,
            post.GapDays,
            post.From,
            post.To,
            post.Notes,
            post.Content,
            post.Version
        );

    /// <summary>The row's text as one more wording.</summary>
    /// <returns>Null: the post has as many wordings as it can.</returns>
    public static PostUpdate? Wording(Post post, ImportDraft draft) =>
        post.Content.Wordings.Count >= PostContent.MostWordings
            ? null
            : Of(post) with
            {
                Content = post.Content with
                {
                    Wordings = [.. post.Content.Wordings, new(draft.Content.Common, draft.Content.Networks, draft.Content.Channels)],
                },
            };

    /// <summary>Whatever the row says.</summary>
    public static PostUpdate Over(Post post, ImportDraft draft)
    {
        ImportRow row = draft.First;
        return Of(post) with
        {
            Title = row.Title.Length > 0 ? row.Title : post.Title,
            CategoryId = draft.Category?.Id ?? post.CategoryId,
            FurtherCategories = row.FurtherCategories.Count > 0 ? row.FurtherCategories : post.FurtherCategories,
            Channels = draft.Channels ?? post.Channels,
            Lifespan = row.Lifespan ?? post.Lifespan,
            GapDays = draft.GapDays ?? post.GapDays,
            From = row.From ?? post.From,
            To = row.To ?? post.To,
            Notes = row.Notes.Length > 0 ? row.Notes : post.Notes,
            Content = new(
                post.Content.Common.Under(draft.Content.Common),
                Over(post.Content.Networks, draft.Content.Networks),
                Over(post.Content.Channels, draft.Content.Channels),
                [
                    .. Enumerable
                        .Range(0, Math.Max(post.Content.Wordings.Count, draft.Content.Wordings.Count))
                        .Select(i =>
                            Over(
                                post.Content.Wordings.ElementAtOrDefault(i) ?? new(),
                                draft.Content.Wordings.ElementAtOrDefault(i) ?? new()
                            )
                        ),
                ]
            ),
        };
    }

    /// <summary>What differs from the post, in words; empty: nothing.</summary>
    public IReadOnlyList<string> DifferencesTo(Post post, ImportContext context)
    {
        List<string> all = [];
        Note("title", post.Title, Title);
        Note("category", NameOf(post.CategoryId), NameOf(CategoryId));
        Note("further categories", Names(post.FurtherCategories), Names(FurtherCategories));
        Note("channels", Named(post.Channels), Named(Channels));
        Note("lifespan", post.Lifespan.ToString(), Lifespan.ToString());
        Note("gap", post.GapDays?.ToString(Culture) ?? "", GapDays?.ToString(Culture) ?? "");
        Note("from", post.From?.ToString() ?? "", From?.ToString() ?? "");
        Note("to", post.To?.ToString() ?? "", To?.ToString() ?? "");
        Note("notes", post.Notes, Notes);
        foreach (ContentDifference d in post.Content.DifferencesTo(Content, context.Sources))
            Note(ContentDifference.Summary([d], context.Networks), d.Before, d.After);
        return all;

        void Note(string what, string before, string after)
        {
            if (before != after)
                all.Add($"{what}: {Short(before)} → {Short(after)}");
        }

        string NameOf(Id<Category> id) => context.Categories.FirstOrDefault(c => c.Id == id)?.Name ?? "";
        string Names(IEnumerable<Id<Category>> ids) => string.Join(", ", ids.Select(NameOf));
        string Named(IReadOnlyList<Id<Channel>>? ids) =>
            ids is null
                ? "as its category says"
                : string.Join(", ", context.Channels.Where(c => ids.Contains(c.Id)).Select(context.Targets.NameOf));
    }

    private static readonly System.Globalization.CultureInfo Culture = System.Globalization.CultureInfo.InvariantCulture;

    private static string Short(string text) =>
        text.Length == 0 ? "nothing"
        : text.Length > 120 ? text[..(char.IsHighSurrogate(text[118]) ? 118 : 119)] + "…"
        : text;

    private static ContentLayers Over(ContentLayers under, ContentLayers over) =>
        new(under.Common.Under(over.Common), Over(under.Networks, over.Networks), Over(under.Channels, over.Channels));

    private static Dictionary<TKey, FieldValues> Over<TKey>(
        IReadOnlyDictionary<TKey, FieldValues> under,
        IReadOnlyDictionary<TKey, FieldValues> over
    )
        where TKey : notnull
    {
        Dictionary<TKey, FieldValues> all = new(under);
        foreach ((TKey key, FieldValues values) in over)
            all[key] = all.GetValueOrDefault(key, FieldValues.Empty).Under(values);
        return all;
    }
}
