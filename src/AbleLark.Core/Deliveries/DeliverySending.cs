using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using NodaTime;

namespace AbleLark.Core.Deliveries;

/// <summary>What sending makes of a delivery.</summary>
public static class DeliverySending
{
    /// <summary>Reads the content now, for good.</summary>
    /// <param name="version">The newest of the post's versions.</param>
    public static void Freeze(this Delivery delivery, Post post, Channel channel, NetworkRules rules, ContentSources sources, int version)
    {
        delivery.Sent = post.Content.For(new(rules, channel.Id), delivery.Wording, sources: sources);
        delivery.TextFingerprint = IdenticalText.Fingerprint(delivery.Sent.Text);
        delivery.Version = version;
    }

    /// <summary>True when the network takes it from a person only, as what it would be there.</summary>
    public static bool IsByPerson(this Delivery delivery, Post post, Channel channel, NetworkRules rules) =>
        Formats.Of(post.Content.For(new(rules, channel.Id), delivery.Wording).Fields, rules).ByPerson;

    /// <summary>A person has posted it; what it says was frozen before.</summary>
    /// <param name="address">Where it stands; null: it has no address.</param>
    /// <param name="remoteId">The network's identity for it; null: not known, and its figures aren't read.</param>
    /// <exception cref="InvalidOperationException">It wasn't theirs to post.</exception>
    public static void WasPosted(
        this Delivery delivery,
        string? address,
        string? remoteId,
        Instant at,
        Post post,
        Channel channel,
        DateTimeZone zone
    )
    {
        delivery.Become(DeliveryState.Sent);
        (delivery.SentAt, delivery.Address, delivery.RemoteId, delivery.Trouble) = (at, address, remoteId, null);
        delivery.Facts = SentFacts.Of(delivery, post, channel, at, zone);
        delivery.NextReadingAt = remoteId is null ? null : ReadingTimes.Next(at, at);
    }

    /// <summary>It is a person's to post from now on, and says what its post says until then.</summary>
    /// <exception cref="InvalidOperationException">It isn't being sent, nor about to be.</exception>
    public static void BecomeTheirs(this Delivery delivery)
    {
        delivery.Become(DeliveryState.PostItYourself);
        delivery.Thaw();
        delivery.Trouble = null;
    }

    /// <summary>Sending it begins.</summary>
    /// <exception cref="InvalidOperationException">It isn't planned.</exception>
    public static void BeginSending(this Delivery delivery) => delivery.Become(DeliveryState.Sending);

    /// <summary>It won't be tried again.</summary>
    /// <param name="state">Refused, missed, or one that may have gone out.</param>
    /// <param name="isFrozen">False: nothing of it was, nor may have been sent, so that what was frozen is forgotten.</param>
    /// <exception cref="InvalidOperationException">It wasn't being sent.</exception>
    public static void End(this Delivery delivery, DeliveryState state, string trouble, bool isFrozen)
    {
        delivery.Become(state);
        delivery.Trouble = trouble;
        if (!isFrozen)
            delivery.Thaw();
    }

    /// <summary>A person has found it on the network, of which nothing was known.</summary>
    /// <exception cref="InvalidOperationException">There was no doubt about it.</exception>
    public static void WasFound(this Delivery delivery, string address, Instant at, Post post, Channel channel, DateTimeZone zone)
    {
        delivery.Become(DeliveryState.Sent);
        (delivery.Address, delivery.SentAt, delivery.Trouble) = (address, at, null);
        delivery.Facts = SentFacts.Of(delivery, post, channel, at, zone);
    }

    /// <summary>It isn't on the network any more. Its turn stays, and what was read of its figures; no more is read, and its text may go
    /// out again.</summary>
    /// <exception cref="InvalidOperationException">It isn't out, or was taken down before.</exception>
    public static void WasTakenDown(this Delivery delivery, Instant at)
    {
        if (delivery is not { State: DeliveryState.Sent, TakenDownAt: null })
            throw new InvalidOperationException($"A delivery that is {delivery.State} can't be taken down.");
        (delivery.TakenDownAt, delivery.NextReadingAt, delivery.Trouble, delivery.TextFingerprint) = (at, null, null, null);
    }

    /// <summary>Nothing of it went out, nor may have: what was frozen is forgotten.</summary>
    public static void Thaw(this Delivery delivery) => (delivery.Sent, delivery.TextFingerprint, delivery.Version) = (null, null, null);

    /// <summary>It is out.</summary>
    /// <param name="posted">The attempt that posted the post itself.</param>
    /// <param name="zone">The workspace's.</param>
    /// <param name="trouble">What of it isn't out, in words; null: all of it is.</param>
    /// <exception cref="InvalidOperationException">It wasn't being sent.</exception>
    public static void WasSent(
        this Delivery delivery,
        DeliveryAttempt posted,
        Post post,
        Channel channel,
        DateTimeZone zone,
        string? trouble = null
    )
    {
        delivery.Become(DeliveryState.Sent);
        bool isFirst = delivery.SentAt is null;
        Instant sentAt = posted.RemoteAt ?? Instant.Max(posted.Since, delivery.At);
        delivery.SentAt = sentAt;
        (delivery.RemoteId, delivery.Address, delivery.Trouble) = (posted.RemoteId, posted.Address, trouble);
        delivery.Facts = SentFacts.Of(delivery, post, channel, sentAt, zone);
        // The rest of what was out already: it goes on being read as before.
        if (isFirst)
            delivery.NextReadingAt = posted.RemoteId is null ? null : ReadingTimes.Next(sentAt, sentAt);
    }

    /// <summary>The post is out and more of it isn't: whoever rescheduled it would send it twice.</summary>
    /// <param name="reason">Why the rest isn't, in words.</param>
    public static string NotAll(string reason) => $"The post is out, but not all of it. {reason}";

    /// <summary>A person asks for another try at what was refused; what is out stays as it is.</summary>
    /// <param name="step">What is lacking; see <see cref="SendingSteps.Lacking"/>.</param>
    /// <param name="words">What it says now; null: the same.</param>
    /// <exception cref="InvalidOperationException">All of it is out, or none.</exception>
    public static void SendRest(this Delivery delivery, SendingStep.Publish step, string? words)
    {
        if (!delivery.LacksRest)
            throw new InvalidOperationException($"A delivery that is {delivery.State} has no rest to send.");
        if (words is not null)
            delivery.Sent = SendingSteps.Saying(delivery.Sent!, step.Key, words);
        // Claimed like any sending that was left off.
        delivery.BecomeByPerson(DeliveryState.Sending);
        (delivery.Attempts, delivery.LeaseUntil) = (0, Instant.FromUnixTimeSeconds(0));
    }
}
