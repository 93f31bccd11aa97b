using System.Text;
using AbleLark.Core.Content;

namespace AbleLark.Core.Posts;

/// <summary>What a search of the bank looks through, and how what people type is folded for it.</summary>
public static class PostSearch
{
    /// <summary>Title and every word that may go out, in any wording: folded, one below the other.</summary>
    public static string TextOf(string title, PostContent content)
    {
        IEnumerable<string?> texts =
        [
            title,
            .. content.AllLayers().SelectMany(l => ContentFields.All.Where(l.Has).Select(f => f.Searched(l.ValueOf(f)))),
        ];
        return Fold(string.Join('\n', texts.Where(t => !string.IsNullOrEmpty(t))));
    }

    /// <summary>Letter case and Unicode form make no difference.</summary>
    public static string Fold(string text) => text.Normalize(NormalizationForm.FormC).ToLowerInvariant();
}
