using AbleLark.Core.Channels;
using AbleLark.Core.Pauses;
using AbleLark.Core.Reasons;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.LineUps;

/// <summary>What pauses on a date, in the workspace's zone.</summary>
internal sealed class ActivePauses(LineUpInput input)
{
    private readonly HashSet<Guid> _disconnected =
    [
        .. input.Channels.Where(c => c.Connection == ConnectionState.Disconnected).Select(c => c.Id.Value),
    ];

    /// <summary>Why a channel takes nothing on a date; null when it may.</summary>
    public ReasonCode? OfChannel(Id<Channel> channel, LocalDate date) =>
        _disconnected.Contains(channel.Value) ? ReasonCode.ChannelDisconnected
        : Is(Paused.Channel, channel.Value, date) ? ReasonCode.ChannelPaused
        : null;

    public bool Is(Paused what, Guid target, LocalDate date)
    {
        foreach (Pause pause in input.Pauses)
        {
            if (pause.What == what && pause.Target == target && pause.HoldsOn(date))
                return true;
        }
        return false;
    }

    /// <summary>Why a slot's occurrence on a date doesn't go out at all; null when it does.</summary>
    public ReasonCode? Of(Slot slot, LocalDate date)
    {
        if (input.Pauses.Count == 0)
            return null;
        if (input.Pauses.Any(p => p.What == Paused.Workspace && p.HoldsOn(date)))
            return ReasonCode.WorkspacePaused;
        return Is(Paused.Slot, slot.Id.Value, date) ? ReasonCode.SlotPaused : null;
    }
}
