using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using NodaTime;

namespace AbleLark.Server.Places;

/// <summary>What is to be said of an act on several things: with which it wasn't done, and what is otherwise than one might
/// think.</summary>
internal sealed class PlanActNotes(IReadOnlyDictionary<Id<Channel>, Channel> channels)
{
    private readonly List<string> _leftOut = [];
    private readonly List<string> _remarks = [];

    public IReadOnlyList<string> LeftOut => _leftOut;
    public IReadOnlyList<string> Remarks => _remarks;

    public void LeaveOut(string why) => _leftOut.Add(why);

    /// <summary>What an act left as it is, and what speaks against what it did.</summary>
    /// <param name="posts">Titles of those that it names.</param>
    public void Take(PlanChange change, IReadOnlyDictionary<Id<Post>, string> posts)
    {
        Take(change.Stays, posts);
        _remarks.AddRange(
            change.Remarks.Select(r =>
                r.Doubt.Code == DoubtCode.ClockChange
                    ? PlanWords.Of(r.Doubt)
                    : $"{Where(r.Local, r.ChannelId)}: {PlanWords.Of(r.Doubt, posts[r.PostId])}"
            )
        );
    }

    public void Take(IReadOnlyList<PlanStay> stays, IReadOnlyDictionary<Id<Post>, string> posts)
    {
        foreach (PlanStay stay in stays.Where(s => s.Code != StayCode.Gone))
            LeaveOut($"{Where(stay.Local, stay.ChannelId)}: {PlanWords.Why(stay, posts.GetValueOrDefault(stay.PostId ?? default))}");
        int gone = stays.Count(s => s.Code == StayCode.Gone);
        if (gone > 0)
            LeaveOut(gone == 1 ? "One place has passed, or is no longer there." : $"{gone} places have passed, or are no longer there.");
    }

    public string Where(Delivery d) => Where(d.Time.Local, d.ChannelId);

    private string Where(LocalDateTime local, Id<Channel>? channel) =>
        channel is { } id ? $"{local.InWords()}, {channels[id].Name}" : local.InWords();
}
