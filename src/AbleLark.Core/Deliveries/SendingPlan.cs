using AbleLark.Core.Networks;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>What a sending does next.</summary>
public abstract record SendingMove
{
    private SendingMove() { }

    /// <summary>Call the network for this step.</summary>
    public sealed record Call(string Step) : SendingMove;

    /// <summary>Look through what the account posted since then, before anything else: the step may have been done.</summary>
    /// <param name="Since">Business time.</param>
    public sealed record LookUp(string Step, Instant Since) : SendingMove;

    /// <summary>Nothing before then.</summary>
    /// <param name="Until">Machine time.</param>
    public sealed record Wait(Instant Until) : SendingMove;

    /// <summary>Every step is done; this is the attempt that posted the post itself.</summary>
    public sealed record Finish(DeliveryAttempt Posted) : SendingMove;
}

/// <summary>
/// Decides, from the attempts written down alone, how a sending goes on, so that whoever takes it over decides the same. A step that is
/// done is never run again. One that publishes and may have been done is looked up first; where the network honours no keys, it is run
/// again only after a look-up that began when it would have appeared for certain.
/// </summary>
public sealed class SendingPlan(SendingRules rules, Duration callTimeout)
{
    private const double FirstLookUpSeconds = 1;
    private const double LookUpGrowth = 3;

    /// <param name="callTimeout">After this a call is given up, so that nothing can be sent out by it any more.</param>
    public static SendingPlan For(SendingRules rules, Duration callTimeout) => new(rules, callTimeout);

    /// <param name="attempts">All attempts of the delivery, oldest first.</param>
    /// <param name="machineNow">Machine time.</param>
    public SendingMove Next(IReadOnlyList<SendingStep> steps, IReadOnlyList<DeliveryAttempt> attempts, Instant machineNow)
    {
        // What may be seen already comes before anything else, even before an upload that is not known to be done.
        foreach (SendingStep step in steps.Where(s => s.Publishes && DoneOf(s.Key, attempts) is null))
        {
            if (Unknown(step.Key, attempts, machineNow) is { } first)
                return first;
        }
        int seen = steps.ToList().FindLastIndex(s => s.Publishes && DoneOf(s.Key, attempts) is not null);
        // An upload is of no more use once what it was for is out.
        SendingStep? next = steps.Where((s, i) => DoneOf(s.Key, attempts) is null && (s.Publishes || i > seen)).FirstOrDefault();
        return next is null ? new SendingMove.Finish(DoneOf(steps.First(s => s.Publishes).Key, attempts)!) : new SendingMove.Call(next.Key);
    }

    /// <summary>The attempt that did a step; null: it isn't done.</summary>
    public static DeliveryAttempt? DoneOf(string step, IReadOnlyList<DeliveryAttempt> attempts) =>
        attempts.LastOrDefault(a => a.Step == step && a.End == AttemptEnd.Done);

    /// <summary>True while something that readers would see may have been posted without our knowing.</summary>
    public static bool MayHaveGoneOut(IReadOnlyList<DeliveryAttempt> attempts) => attempts.Any(a => a.IsOpen && a.Publishes);

    /// <summary>Writes down that a step was looked up and not found. Where that is certain, its attempts end.</summary>
    /// <param name="beganAt">Machine time at which the look-up began: what appeared later, it could not see.</param>
    public void NotFound(string step, IEnumerable<DeliveryAttempt> attempts, Instant beganAt)
    {
        foreach (DeliveryAttempt attempt in attempts.Where(a => a.Step == step && a.IsOpen))
        {
            (attempt.LookUps, attempt.LookedUpAt) = (attempt.LookUps + 1, beganAt);
            if (rules.HonoursKeys || beganAt >= CertainAt(attempt))
                (attempt.End, attempt.EndedAt) = (AttemptEnd.Absent, attempt.EndedAt ?? beganAt);
        }
    }

    /// <summary>What to do about a step that readers may see without our knowing; null where there is none.</summary>
    private SendingMove? Unknown(string step, IReadOnlyList<DeliveryAttempt> attempts, Instant machineNow)
    {
        DeliveryAttempt[] open = [.. attempts.Where(a => a.Step == step && a.IsOpen)];
        if (open.Length == 0)
            return null;
        Instant next = open.Min(NextLookUp);
        return next > machineNow ? new SendingMove.Wait(next) : new SendingMove.LookUp(step, open.Min(a => a.Since));
    }

    /// <summary>Machine time from which a look-up that finds nothing is believed.</summary>
    private Instant CertainAt(DeliveryAttempt attempt) => (attempt.EndedAt ?? attempt.StartedAt + callTimeout) + rules.AppearsWithin;

    /// <summary>At once, then at growing distances, and at the latest when it is certain.</summary>
    private Instant NextLookUp(DeliveryAttempt attempt) =>
        attempt.LookedUpAt is not { } last
            ? attempt.StartedAt
            : Instant.Min(
                last + Duration.FromSeconds(FirstLookUpSeconds * Math.Pow(LookUpGrowth, Math.Min(attempt.LookUps - 1, 10))),
                Instant.Max(CertainAt(attempt), last)
            );
}
