using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>What becomes of a delivery whose time has come, before it is sent.</summary>
/// <param name="Trouble">Why it is missed; null: it isn't.</param>
/// <param name="DealtWith">True: nobody has to do anything about it.</param>
public sealed record DueAnswer(Delivery Delivery, DeliveryState Becomes, string? Trouble = null, bool DealtWith = false)
{
    public const string StoppedWords = "All sending was stopped when its time came.";

    /// <summary>
    /// What waits for approval goes once it has it; without, its substitute goes, or nothing. A substitute whose post was approved isn't
    /// needed. What frees its place comes before what takes it.
    /// </summary>
    /// <param name="due">Deliveries that wait for approval, and substitutes, whose time has come; each with all others of its
    /// place.</param>
    /// <param name="mayGo">True for one that waited and needn't any more.</param>
    public static IReadOnlyList<DueAnswer> Waiting(IReadOnlyList<Delivery> due, Func<Delivery, bool> mayGo)
    {
        var substitutes = due.Where(d => d.State == DeliveryState.Substitute).ToLookup(d => (d.Origin, d.ChannelId));
        HashSet<Delivery> going = [];
        List<DueAnswer> answers = [];
        foreach (Delivery waiter in due.Where(d => d.State == DeliveryState.WaitingForApproval))
        {
            if (mayGo(waiter))
            {
                answers.Add(new(waiter, DeliveryState.Planned));
                continue;
            }
            List<Delivery> instead = [.. substitutes[(waiter.Origin, waiter.ChannelId)]];
            answers.Add(new(waiter, DeliveryState.Missed, "It had no approval in time.", DealtWith: instead.Count > 0));
            going.UnionWith(instead);
        }
        answers.AddRange(
            due.Where(d => d.State == DeliveryState.Substitute && !going.Contains(d))
                .Select(d => new DueAnswer(
                    d,
                    DeliveryState.Missed,
                    "Not needed: the post before it was approved in time.",
                    DealtWith: true
                ))
        );
        answers.AddRange(going.Select(d => new DueAnswer(d, DeliveryState.Planned)));
        return answers;
    }

    /// <summary>Too late, or due while all sending is stopped, it is missed and never goes by itself; what a person posts is theirs to
    /// post, however late. Null: it may go.</summary>
    /// <param name="byPerson">True where the network takes it from a person only.</param>
    public static DueAnswer? Late(Delivery due, Instant now, Duration lateAfter, bool isStopped, bool byPerson = false) =>
        isStopped ? new(due, DeliveryState.Missed, StoppedWords)
        : byPerson ? new(due, DeliveryState.PostItYourself)
        : due.At < now - lateAfter ? new(due, DeliveryState.Missed, "Its time passed while nothing could be sent.")
        : null;

    public void Apply()
    {
        Delivery.Become(Becomes);
        if (Trouble is null)
            return;
        Delivery.Trouble = Trouble;
        Delivery.DealWith(DealtWith);
    }
}
