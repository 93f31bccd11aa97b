using AbleLark.Core.Categories;

namespace AbleLark.Core.Posts;

/// <summary>The one place that says whether a post needs somebody's approval.</summary>
public static class ApprovalNeeds
{
    /// <summary>True when one of its categories asks for approval, its main one or a further one.</summary>
    /// <param name="categories">The workspace's, or those of them that ask.</param>
    public static bool AskFor(this IEnumerable<Category> categories, Post post) =>
        categories.Any(c => c.NeedsApproval && post.HasCategory(c.Id));

    /// <summary>True when it needs approval by its categories, or whatever they say.</summary>
    /// <inheritdoc cref="AskFor"/>
    public static bool NeedsApproval(this Post post, IEnumerable<Category> categories) => post.AsksForApproval || categories.AskFor(post);
}
