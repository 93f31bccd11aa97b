using AbleLark.Core.Categories;
using AbleLark.Core.Channels;

namespace AbleLark.Core.Posts;

/// <summary>What decides where a post may go.</summary>
public interface IPlaceable
{
    Stage Stage { get; }
    Id<Category> CategoryId { get; }
    IReadOnlyList<Id<Category>> FurtherCategories { get; }

    /// <summary>Channels chosen for this post; null takes its category's usual ones.</summary>
    IReadOnlyList<Id<Channel>>? Channels { get; }

    /// <summary>How it stands: by network key, and by identity for each channel that has content of its own.</summary>
    IReadOnlyDictionary<string, Fit> Fits { get; }
}

public static class Placeables
{
    extension(IPlaceable post)
    {
        public bool HasCategory(Id<Category> category) => post.CategoryId == category || post.FurtherCategories.Contains(category);

        public IReadOnlyList<Id<Channel>> ChannelsOr(Category category) => post.Channels ?? category.UsualChannels;

        /// <summary>Whose content a channel gets: its own, or its network's.</summary>
        public string FitKeyOf(Channel channel) => post.Fits.ContainsKey(channel.FitKey) ? channel.FitKey : channel.Network;

        /// <summary>How it stands with a channel; null: it was never checked for it.</summary>
        public Fit? FitOn(Channel channel) => post.Fits.On(channel);

        /// <summary>True when a wording waits for approval on a channel.</summary>
        public bool Waits(Channel channel, int wording) => post.Waits(post.FitOn(channel), wording);

        /// <param name="fit">How it stands there.</param>
        internal bool Waits(Fit? fit, int wording) => post.Stage == Stage.WaitingForApproval && fit?.Approved?.Contains(wording) != true;
    }

    /// <summary>Among how a post stands everywhere, how it stands on a channel; null: it was never checked for it.</summary>
    public static Fit? On(this IReadOnlyDictionary<string, Fit> fits, Channel channel) =>
        fits.GetValueOrDefault(channel.FitKey) ?? fits.GetValueOrDefault(channel.Network);
}
