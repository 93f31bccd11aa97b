using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What is to be said of an act on several things: with which it wasn't done, and what is otherwise than one might
/// think.</summary>
internal sealed class PlanActNotes(Workspace workspace, IReadOnlyDictionary<Id<Channel>, Channel> channels)
{
    private readonly List<string> _leftOut = [];
    private readonly List<string> _remarks = [];

    public IReadOnlyList<string> LeftOut => _leftOut;
    public IReadOnlyList<string> Remarks => _remarks;

    public void LeaveOut(string why) => _leftOut.Add(why);

    /// <summary>What an act left as it is, and what speaks against what it did.</summary>
    /// <param name="posts">That it names.</param>
    public void Take(PlanChange change, IReadOnlyDictionary<Id<Post>, Post> posts)
    {
        foreach (PlanStay stay in change.Stays)
            LeaveOut($"{Where(stay.Local, stay.ChannelId)}: {PlanWords.Why(stay, posts[stay.PostId].Title)}");
        foreach ((Delivery delivery, IReadOnlyList<PlanDoubt> doubts) in change.Doubts)
            _remarks.AddRange(
                doubts.Select(d =>
                    d.Code == DoubtCode.ClockChange
                        ? PlanWords.Of(d)
                        : $"{Where(delivery)}: {PlanWords.Of(d, posts[delivery.PostId].Title)}"
                )
            );
    }

    public string Where(Delivery d) => Where(d.Time.Local, d.ChannelId);

    private string Where(LocalDateTime local, Id<Channel> channel) => $"{local.InWords()}, {channels[channel].Name}";

    public string Where(LineUpPlace place) => place.Occurrence.At.InZone(workspace.Zone).LocalDateTime.InWords();
}
