using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Deliveries;

public enum DeliveryState
{
    Planned,
    WaitingForApproval,
    Substitute,
    Sending,
    Sent,

    /// <summary>The network said no; see the delivery's trouble.</summary>
    Refused,

    /// <summary>An answer was lost and the network can't be asked: a person decides, never a retry.</summary>
    MayHaveGoneOut,

    /// <summary>Its network takes it from a person only: it stays, however late, until one says that it is posted, or isn't to
    /// be.</summary>
    PostItYourself,

    /// <summary>Its time passed without a sending; it never goes by itself.</summary>
    Missed,
    Cancelled,
}

/// <summary>One post to one channel at one instant: what is sent, fails, is measured.</summary>
public sealed class Delivery : HasOrigin
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Delivery> Id { get; init; }

    /// <summary>Only a person changes it, and only before anything was sent.</summary>
    public required Id<Post> PostId { get; set; }
    public required Id<Channel> ChannelId { get; init; }

    /// <summary>When it goes out. Changed by <see cref="MoveTo"/>.</summary>
    public required PlannedTime Time
    {
        get => new(At, LocalDate + LocalTime);
        init => Stand(value);
    }

    /// <summary>The parts of <see cref="Time"/>, as they are kept and asked for.</summary>
    public Instant At { get; private set; }

    /// <summary>In the workspace's zone, worked out when it was planned.</summary>
    public LocalDate LocalDate { get; private set; }

    public LocalTime LocalTime { get; private set; }

    /// <summary>Changed by <see cref="Become"/> and what a person does, and never past the rule for what may follow.</summary>
    public DeliveryState State
    {
        get => _state;
        init => _state = value;
    }

    private DeliveryState _state = DeliveryState.Planned;

    /// <summary>Why this post: the line-up's reason in words, kept when it was scheduled.</summary>
    public string? Why { get; set; }

    /// <summary>The line that gave it its post: a category's identity, or a slot's where that is a pool; null: a person gave it.</summary>
    public Guid? DrawnBy { get; set; }

    /// <summary>The order by which that line gave it.</summary>
    public Order? DrawnInOrder { get; set; }

    /// <summary>The round of the line in which it was given; see <see cref="Order.Shuffled"/>.</summary>
    public int? Round { get; set; }

    /// <summary>Which wording goes: 0 the common one, then the wordings in their order.</summary>
    public int Wording { get; set; }

    /// <summary>The delivery that this one makes good.</summary>
    public Id<Delivery>? InsteadOf { get; init; }

    /// <summary>Version of the post's content that was sent.</summary>
    public int? Version { get; set; }

    /// <summary>What was sent, frozen.</summary>
    public ResolvedContent? Sent { get; set; }

    /// <summary>What a comparison needs to know of it; null until it is sent.</summary>
    public SentFacts? Facts { get; set; }

    /// <summary>The files that <see cref="Sent"/> names; written whenever it is saved.</summary>
    public List<Id<MediaFile>> FileIds { get; set; } = [];

    /// <summary>Fingerprint of the text that was sent (see <see cref="Text.IdenticalText"/>).</summary>
    public string? TextFingerprint { get; set; }

    public Instant? SentAt { get; set; }

    /// <summary>When it was taken off the network again; its turn and the figures read until then stay. Null: it is there.</summary>
    public Instant? TakenDownAt { get; set; }

    /// <summary>The post's identity on the network.</summary>
    public string? RemoteId { get; set; }

    /// <summary>The post's own address on the network.</summary>
    public string? Address { get; set; }

    /// <summary>What went wrong, in the network's words or ours.</summary>
    public string? Trouble { get; set; }

    /// <summary>A delivery that failed, or may have gone out, that a person has dealt with.</summary>
    public bool DealtWith { get; set; }

    /// <summary>Whose lease it is while it is being sent.</summary>
    public Guid? Lease { get; set; }

    /// <summary>Machine time at which the lease ends.</summary>
    public Instant? LeaseUntil { get; set; }

    /// <summary>When its figures are next read; null before it is sent and after the last reading.</summary>
    public Instant? NextReadingAt { get; set; }

    /// <summary>Grows with every change of state, time, post or dealing with it, not with leases: whoever acts on an older one is
    /// told.</summary>
    public int Revision { get; set; }

    /// <summary>It may have gone out without our knowing: it is, or was, only looked up and never sent by itself (after a restored
    /// backup, or when a person asked).</summary>
    public bool LookUpOnly { get; set; }

    /// <summary>True when the post is out, but not all of it: its trouble says what and why.</summary>
    public bool LacksRest => State == DeliveryState.Sent && Trouble is not null;

    /// <summary>Times it was claimed for sending.</summary>
    public int Attempts { get; set; }

    /// <summary>The address, if it is one that people may be sent to; whatever a network said before that was checked stays
    /// unshown.</summary>
    public string? ShownAddress => Shown(Address);

    /// <inheritdoc cref="ShownAddress"/>
    public static string? Shown(string? address) => WebAddress.IsValid(address ?? "") ? address : null;

    /// <summary>Moves it on.</summary>
    /// <exception cref="InvalidOperationException">The state can't follow the present one.</exception>
    public void Become(DeliveryState to)
    {
        if (!State.MayBecome(to))
            throw new InvalidOperationException($"A delivery that is {State} can't become {to}.");
        _state = to;
    }

    /// <summary>Gives a scheduled place to another post, in the first wording that can go: nothing of it was given by a line any
    /// more.</summary>
    /// <param name="channel">The delivery's.</param>
    /// <exception cref="InvalidOperationException">It has begun to be sent, or ended.</exception>
    public void GiveTo(Post post, Channel channel, string why)
    {
        if (State is not (DeliveryState.Planned or DeliveryState.WaitingForApproval))
            throw new InvalidOperationException($"A delivery that is {State} can't be given to another post.");
        (PostId, Why, Wording) = (post.Id, why, post.FitOn(channel)?.FirstWording ?? 0);
        (DrawnBy, DrawnInOrder, Round) = (null, null, null);
        WaitOrGo(post, channel);
    }

    /// <summary>Planned, or waiting for approval, as its post is; anything else stays as it is.</summary>
    public void WaitOrGo(Post post, Channel channel)
    {
        DeliveryState wanted = post.Waits(channel, Wording) ? DeliveryState.WaitingForApproval : DeliveryState.Planned;
        if (State is DeliveryState.Planned or DeliveryState.WaitingForApproval && State != wanted)
            Become(wanted);
    }

    /// <summary>Gives it another time, as the same delivery of its occurrence. One at an exact time comes from that time.</summary>
    /// <exception cref="InvalidOperationException">It has begun to be sent, or ended.</exception>
    public void MoveTo(PlannedTime time)
    {
        if (!this.MayMove())
            throw new InvalidOperationException($"A delivery that is {State} can't be moved.");
        Stand(time);
        if (OriginKind == OriginKind.ExactTime)
            ComeFrom(Origin.ExactTime(PostId, time.Local));
    }

    private void Stand(PlannedTime time) => (At, LocalDate, LocalTime) = (time.At, time.Local.Date, time.Local.TimeOfDay);

    /// <summary>A person says that it isn't on the network: it goes once more, at once, under the same key.</summary>
    /// <exception cref="InvalidOperationException">It may not have gone out, or is known to have.</exception>
    public void SendAgain(PlannedTime time)
    {
        BecomeByPerson(DeliveryState.Planned);
        (Trouble, Attempts, LookUpOnly) = (null, 0, false);
        MoveTo(time);
    }

    /// <summary>A person asks that the network be looked through once more; nothing is sent.</summary>
    /// <exception cref="InvalidOperationException">It may not have gone out, or is known to have.</exception>
    public void LookAgain()
    {
        if (State != DeliveryState.MayHaveGoneOut)
            throw new InvalidOperationException($"A delivery that is {State} need not be looked for.");
        BecomeByPerson(DeliveryState.Sending);
        (Attempts, LookUpOnly) = (0, true);
    }

    /// <summary>What only a person decides.</summary>
    internal void BecomeByPerson(DeliveryState to)
    {
        if (!State.MayBecomeByPerson(to))
            throw new InvalidOperationException($"A delivery that is {State} can't become {to}, whoever says so.");
        _state = to;
    }
}

/// <summary>Which state may follow which, and what each means for the rotation.</summary>
public static class DeliveryStates
{
    public static bool MayBecome(this DeliveryState from, DeliveryState to) =>
        from switch
        {
            DeliveryState.Planned => to
                is DeliveryState.Sending
                    or DeliveryState.Missed
                    or DeliveryState.Cancelled
                    or DeliveryState.WaitingForApproval
                    or DeliveryState.PostItYourself,
            DeliveryState.WaitingForApproval => to is DeliveryState.Planned or DeliveryState.Missed or DeliveryState.Cancelled,
            DeliveryState.Substitute => to is DeliveryState.Planned or DeliveryState.Missed or DeliveryState.Cancelled,
            // Planned: given back before anything was tried. Missed: looked up and not there, but too late to go by itself.
            DeliveryState.Sending => to
                is DeliveryState.Sent
                    or DeliveryState.Refused
                    or DeliveryState.MayHaveGoneOut
                    or DeliveryState.Planned
                    or DeliveryState.PostItYourself
                    or DeliveryState.Missed,
            DeliveryState.MayHaveGoneOut => to is DeliveryState.Sent or DeliveryState.Refused,
            DeliveryState.PostItYourself => to is DeliveryState.Sent or DeliveryState.Cancelled,
            DeliveryState.Cancelled => to
                is DeliveryState.Planned
                    or DeliveryState.WaitingForApproval
                    or DeliveryState.Substitute
                    or DeliveryState.PostItYourself,
            _ => false,
        };

    /// <summary>What a person alone may decide of what may have gone out, and nothing does by itself: that it is sent again, or looked for
    /// once more; and of what is out in part, that the rest is sent.</summary>
    public static bool MayBecomeByPerson(this DeliveryState from, DeliveryState to) =>
        from switch
        {
            DeliveryState.MayHaveGoneOut => to is DeliveryState.Planned or DeliveryState.Sending,
            DeliveryState.Sent => to is DeliveryState.Sending,
            _ => false,
        };

    /// <summary>True for states that count as the post's turn on that channel.</summary>
    public static bool IsTurn(this DeliveryState state) =>
        state is not (DeliveryState.Refused or DeliveryState.Missed or DeliveryState.Cancelled);

    /// <summary>True for states that wait for a person.</summary>
    public static bool NeedsAPerson(this DeliveryState state) =>
        state is DeliveryState.Refused or DeliveryState.Missed or DeliveryState.MayHaveGoneOut or DeliveryState.PostItYourself;

    /// <summary>True for a scheduled place to come, which may be given to another post.</summary>
    public static bool MayBeTaken(this Delivery delivery, Instant now) =>
        delivery.OriginKind == OriginKind.Place
        && delivery.State is DeliveryState.Planned or DeliveryState.WaitingForApproval
        && delivery.At > now;

    /// <summary>Moves a delivery, and what goes out in its place if approval doesn't come in time.</summary>
    /// <param name="substitutes">By place and channel.</param>
    /// <exception cref="InvalidOperationException">It has begun to be sent, or ended.</exception>
    public static void MoveWith(this Delivery delivery, ILookup<(Origin, Id<Channel>), Delivery> substitutes, PlannedTime time)
    {
        foreach (Delivery substitute in substitutes[(delivery.Origin, delivery.ChannelId)])
            substitute.MoveTo(time);
        delivery.MoveTo(time);
    }

    /// <summary>True while nothing of it has been sent, so that its time may still change.</summary>
    public static bool MayMove(this Delivery delivery) =>
        delivery.State is DeliveryState.Planned or DeliveryState.WaitingForApproval or DeliveryState.Substitute;

    /// <summary>
    /// Why taking an act back may not bring this delivery to that state and time; null when it may. Nothing that was or is being sent
    /// changes, nothing comes back whose time has passed, and nothing for which another went out in its place.
    /// </summary>
    /// <param name="at">The time that it would have.</param>
    /// <param name="otherPost">True when it would send another post than now.</param>
    /// <param name="replaced">A delivery made instead of this one has gone out, may have, or is on its way.</param>
    public static string? WhyNotBack(this Delivery delivery, DeliveryState to, Instant at, Instant now, bool otherPost, bool replaced) =>
        delivery.State switch
        {
            DeliveryState.Sending
            or DeliveryState.Sent
            or DeliveryState.MayHaveGoneOut
            or DeliveryState.PostItYourself when to != delivery.State || at != delivery.At || otherPost => "What has been sent stays sent.",
            _ when replaced => "What went out in the place of another stays, so the other does not come back: it would go out twice.",
            _ when to.IsToCome() && at <= now =>
                "A delivery whose time has passed does not come back: it would go out late. Reschedule the post.",
            _ when to != delivery.State && !delivery.State.MayBecome(to) => "A delivery that has moved on stays as it is.",
            _ => null,
        };

    /// <summary>True for states that still end in a sending, unless somebody steps in.</summary>
    public static bool IsToCome(this DeliveryState state) =>
        state is DeliveryState.Planned or DeliveryState.WaitingForApproval or DeliveryState.Substitute or DeliveryState.Sending;
}
