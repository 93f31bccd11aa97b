using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Reasons;
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
    public required Id<Post> PostId
    {
        get => _postId;
        init => _postId = value;
    }

    private Id<Post> _postId;

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

    /// <summary>Why this post, kept when it was scheduled or given; null: a person planned it.</summary>
    public Reason? Why { get; set; }

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
    public bool DealtWith
    {
        get => _dealtWith;
        init => _dealtWith = value;
    }

    private bool _dealtWith;

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

    /// <summary>One that a person gives a time.</summary>
    public static Delivery AtExactTime(
        Workspace workspace,
        Id<Post> post,
        Id<Channel> channel,
        Instant at,
        int wording = 0,
        Id<Delivery>? insteadOf = null,
        DeliveryState state = DeliveryState.Planned
    )
    {
        PlannedTime time = PlannedTime.Of(at, workspace.Zone);
        return new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<Delivery>.New(),
            PostId = post,
            ChannelId = channel,
            Time = time,
            Origin = Origin.ExactTime(post, time.Local),
            Wording = wording,
            InsteadOf = insteadOf,
            State = state,
        };
    }

    /// <summary>Moves it on.</summary>
    /// <exception cref="InvalidOperationException">The state can't follow the present one.</exception>
    internal void Become(DeliveryState to)
    {
        if (!State.MayBecome(to))
            throw new InvalidOperationException($"A delivery that is {State} can't become {to}.");
        _state = to;
    }

    /// <summary>Gives a scheduled place to another post, in the first wording that can go: nothing of it was given by a line any
    /// more.</summary>
    /// <param name="channel">The delivery's.</param>
    /// <exception cref="InvalidOperationException">It has begun to be sent, or ended.</exception>
    internal void GiveTo(Post post, Channel channel, Reason why)
    {
        if (State is not (DeliveryState.Planned or DeliveryState.WaitingForApproval))
            throw new InvalidOperationException($"A delivery that is {State} can't be given to another post.");
        (_postId, Why, Wording) = (post.Id, why, post.FitOn(channel)?.FirstWording ?? 0);
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
    internal void MoveTo(PlannedTime time)
    {
        if (!this.MayMove())
            throw new InvalidOperationException($"A delivery that is {State} can't be moved.");
        Stand(time);
        if (OriginKind == OriginKind.ExactTime)
            ComeFrom(Origin.ExactTime(PostId, time.Local));
    }

    private void Stand(PlannedTime time) => (At, LocalDate, LocalTime) = (time.At, time.Local.Date, time.Local.TimeOfDay);

    internal void DealWith(bool isDone = true) => _dealtWith = isDone;

    /// <summary>What a person makes of what is out, or may be.</summary>
    /// <exception cref="InvalidOperationException">It can't follow the present state.</exception>
    internal void BecomeAfter(AfterSending becomes, PlannedTime now)
    {
        switch (becomes)
        {
            case AfterSending.LooksAgain when State == DeliveryState.MayHaveGoneOut:
                BecomeByPerson(DeliveryState.Sending);
                (Attempts, LookUpOnly, LeaseUntil) = (0, true, Instant.FromUnixTimeSeconds(0));
                break;
            case AfterSending.GoesAgain:
                BecomeByPerson(DeliveryState.Planned);
                (Trouble, Attempts, LookUpOnly) = (null, 0, false);
                MoveTo(now);
                break;
            case AfterSending.IsNotThere:
                Become(DeliveryState.Refused);
                DealWith();
                Trouble = "A person looked, and it is not there. It was sent again as a delivery of its own.";
                break;
            case AfterSending.IsTakenDown:
                this.WasTakenDown(now.At);
                break;
            default:
                throw new InvalidOperationException($"Of a delivery that is {State}, it can't be said that it {becomes}.");
        }
    }

    /// <summary>What only a person decides.</summary>
    internal void BecomeByPerson(DeliveryState to)
    {
        if (!State.MayBecomeByPerson(to))
            throw new InvalidOperationException($"A delivery that is {State} can't become {to}, whoever says so.");
        _state = to;
    }
}
