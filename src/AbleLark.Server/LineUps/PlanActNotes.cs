using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Time;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>What is to be said of an act on several things: with which it wasn't done, and what is otherwise than one might
/// think.</summary>
internal sealed class PlanActNotes(Workspace workspace, IReadOnlyDictionary<Id<Channel>, Channel> channels, Instant now)
{
    private readonly List<string> _leftOut = [];
    private readonly List<string> _remarks = [];

    public IReadOnlyList<string> LeftOut => _leftOut;
    public IReadOnlyList<string> Remarks => _remarks;

    public void LeaveOut(string why) => _leftOut.Add(why);

    /// <summary>When something goes out that is planned for another time; null, with the reason said, when it can't.</summary>
    public (LocalDateTime To, Instant At)? Time(string where, LocalDateTime from, PlanActRequest request)
    {
        LocalDateTime to = request.From(from);
        if (workspace.WhyNot(to, now, out Instant at) is { } why)
        {
            LeaveOut($"{where}: {why}");
            return null;
        }
        LocalDateTime real = at.InZone(workspace.Zone).LocalDateTime;
        if (real != to)
            _remarks.Add($"The clocks change: there is no {to.InWords()}, so it goes out at {real.TimeOfDay:HH:mm}.");
        return (real, at);
    }

    public string Where(Delivery d) => $"{(d.LocalDate + d.LocalTime).InWords()}, {channels[d.ChannelId].Name}";

    public string Where(LineUpPlace place) => place.Occurrence.At.InZone(workspace.Zone).LocalDateTime.InWords();
}
