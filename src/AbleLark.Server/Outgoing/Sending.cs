using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Posts;
using AbleLark.Data.Rows;
using AbleLark.Server.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Outgoing;

/// <param name="Answered">The network said yes or no.</param>
/// <param name="Silence">The network gave no answer, or asks to be left alone: why, in words.</param>
/// <param name="Wait">How long it asks to be left alone.</param>
public sealed record SendingOutcome(bool Answered, string? Silence = null, Duration? Wait = null)
{
    public static SendingOutcome Nothing { get; } = new(false);
}

/// <summary>
/// Sends one delivery, exactly once. Each step is recorded before its call; how it ended and what becomes of the delivery are one
/// write after it. What comes next is the <see cref="SendingPlan"/>'s to decide, from what was written down alone.
/// </summary>
public sealed class Sending(
    LarkDb db,
    Claims claims,
    StepCalls calls,
    ChannelTokens tokens,
    NetworkBook networks,
    StepsOf stepsOf,
    BusinessClock clock,
    IClock machine,
    CrashPoints crash,
    LoopHealth health,
    IOptions<LarkSettings> settings
)
{
    /// <summary>What a person is asked where only they can find out.</summary>
    public const string LookWords = " It may have gone out: look on the network, then say what you found.";

    private static readonly Duration LongestRetry = Duration.FromMinutes(1);

    private OngoingSending _sending = null!;

    private Delivery Delivery => _sending.Delivery;

    /// <summary>Goes on with a claimed delivery as far as it will go now.</summary>
    /// <param name="stopping">When asked to stop, it is given back between two calls.</param>
    public async Task<SendingOutcome> SendAsync(Id<Workspace> workspace, Id<Delivery> id, Guid lease, CancellationToken stopping)
    {
        crash.Reach("claimed");
        if (await OngoingSending.LoadAsync(db, workspace, id, lease) is not { } sending)
            return SendingOutcome.Nothing;
        _sending = sending;
        string network = sending.Channel.Network;
        if (!networks.Has(network))
            return await EndAsync(
                DeliveryState.Refused,
                $"There are no rules here for the network “{network}”. Tell whoever runs Able Lark."
            );
        sending.Rules = networks.For(sending.Channel);
        sending.Plan = SendingPlan.For(sending.Rules.Sending, Duration.FromSeconds(settings.Value.NetworkTimeoutSeconds));
        if (Delivery.Sent is null)
            await FreezeAsync();
        if (await IsTheirsToPostAsync())
            return await EndAsTheirsAsync();
        sending.Steps = stepsOf(Delivery.Sent!, sending.Rules);
        await MindRestoreAsync();
        List<Id<MediaFile>> files = [.. sending.Steps.OfType<SendingStep.Upload>().Select(u => u.MediaId)];
        if (files.Count > 0)
            sending.Files = await db
                .Media.AsNoTracking()
                .Where(m => m.WorkspaceId == workspace && files.Contains(m.Id))
                .ToDictionaryAsync(m => m.Id, CancellationToken.None);
        return await GoOnAsync(stopping);
    }

    /// <summary>Only what nothing was tried of yet, and nothing keeps from going out.</summary>
    private async Task<bool> IsTheirsToPostAsync() =>
        Formats.Of(Delivery.Sent!.Fields, _sending.Rules).ByPerson
        && _sending.Attempts.Count == 0
        && await WhyNotAsync(mindsLateness: false) is null;

    private async Task<SendingOutcome> EndAsTheirsAsync()
    {
        Delivery.BecomeTheirs();
        await SaveEndAsync();
        crash.Reach("ended");
        return SendingOutcome.Nothing;
    }

    private async Task<SendingOutcome> GoOnAsync(CancellationToken stopping)
    {
        string? token = null;
        bool renewed = false;
        while (true)
        {
            if (stopping.IsCancellationRequested)
            {
                await claims.GiveBackAsync(Delivery.Lease!.Value, [Delivery.Id], CancellationToken.None);
                return SendingOutcome.Nothing;
            }
            SendingMove move = _sending.Plan.Next(_sending.Steps, _sending.Attempts, machine.Now());
            if (move is SendingMove.Finish)
                return await SentAsync();
            if (move is SendingMove.Wait wait)
                return await WaitAsync(wait.Until, "Its answer was lost. The network is looked through again before anything else.");
            if (move is SendingMove.Call && await WhyNotAsync() is { } not)
                return await EndAsync(not.State, not.Words);
            if (token is null)
            {
                NetworkAnswer<string> given = await tokens.GetAsync(_sending.Channel, renew: renewed, CancellationToken.None);
                crash.Reach("token got");
                if (!given.IsOk)
                    return await NoAnswerAsync(new(given.Kind, given.Reason, given.Wait), _sending.Main.Key);
                token = given.Value;
            }
            string step = move is SendingMove.Call { Step: var called } ? called : ((SendingMove.LookUp)move).Step;
            StepEnd end = move is SendingMove.LookUp look
                ? await calls.LookUpAsync(_sending, look, token!)
                : await calls.CallAsync(_sending, _sending.Steps.Single(s => s.Key == step), token!);
            switch (end)
            {
                case StepEnd.AllDone done:
                    return await SentAsync(done.CrashPoint);
                case StepEnd.NoAnswer no:
                    return await NoAnswerAsync(no, step);
                case StepEnd.GiveUp up:
                    return await EndAsync(up.State, up.Reason);
                case StepEnd.TokenExpired when renewed:
                    return await EndAsync(
                        DeliveryState.Refused,
                        "The network no longer accepts the connection. Connect the channel again, then reschedule."
                    );
                case StepEnd.TokenExpired:
                    (token, renewed) = (null, true);
                    break;
            }
        }
    }

    /// <summary>For a while after a backup was restored, anything may have gone out that the backup knows nothing of: it is looked up
    /// before it is sent.</summary>
    private async Task MindRestoreAsync()
    {
        Instant mindedSince = machine.Now() - Restore.MindedFor;
        Restore? restore = await db
            .Restores.AsNoTracking()
            .Where(r => r.RestoredAt > mindedSince)
            .OrderByDescending(r => r.RestoredAt)
            .FirstOrDefaultAsync();
        if (restore is null || _sending.Attempts.Any(a => a.StartedAt >= restore.RestoredAt))
            return;
        foreach (SendingStep step in _sending.Steps.Where(s => s.Publishes && SendingPlan.DoneOf(s.Key, _sending.Attempts) is null))
        {
            DeliveryAttempt unknown = _sending.Begin(step, restore.RestoredAt, restore.BackupAt);
            unknown.Reason = "A backup was restored: whether it had gone out is not known here.";
            db.DeliveryAttempts.Add(unknown);
        }
    }

    /// <summary>Reads the content now, for good; it is kept with the first attempt.</summary>
    private async Task FreezeAsync() =>
        Delivery.Freeze(
            _sending.Post,
            _sending.Channel,
            _sending.Rules,
            await db.SourcesAsync(_sending.Post.WorkspaceId, _sending.Post.Content.AllFiles(), CancellationToken.None),
            await db
                .PostVersions.Where(v => v.WorkspaceId == _sending.Post.WorkspaceId && v.PostId == _sending.Post.Id)
                .MaxAsync(v => v.Number)
        );

    /// <summary>Asked before every call: what keeps it from being sent now, or null. What is no longer in time never goes by
    /// itself.</summary>
    private async Task<(DeliveryState State, string Words)?> WhyNotAsync(bool mindsLateness = true)
    {
        if (Delivery.LookUpOnly)
            return (
                DeliveryState.Missed,
                "It was looked up on the network and is not there. It does not go by itself: reschedule it if it still should."
            );
        // What is half out goes on: late, or changed since, it is still one post.
        if (_sending.Posted is not null)
            return null;
        if (mindsLateness && await IsLateAsync())
            return (DeliveryState.Missed, "Its time passed before it could be sent. Reschedule it if it still should go.");
        if (await db.IsStoppedAsync(_sending.Workspace, await clock.NowAsync(), CancellationToken.None))
            return (DeliveryState.Missed, DueAnswer.StoppedWords);
        if (_sending.Post.RemovedAt is not null)
            return (DeliveryState.Refused, "The post was taken out of the bank.");
        if (_sending.Post.Stage is Stage.Idea or Stage.Draft)
            return (DeliveryState.Refused, "The post is no longer marked as ready.");
        if (await LacksApprovalAsync())
            return (
                DeliveryState.Missed,
                "Nobody has approved what it says now. Approve the post, then reschedule it if it still should go."
            );
        return
            _sending.Attempts.All(a => a.End == AttemptEnd.Absent)
            && _sending.Post.FitOn(_sending.Channel)?.BlockOf(Delivery.Wording) is { } block
            ? (DeliveryState.Refused, block.Words)
            : null;
    }

    /// <summary>True when it needs approval and has none for the very content that was frozen, whatever was stored about that when the
    /// post was saved.</summary>
    private async Task<bool> LacksApprovalAsync()
    {
        if (!await db.NeedsApprovalAsync(_sending.Post, CancellationToken.None))
            return false;
        ContentSources sources = await db.SourcesAsync(_sending.Post.WorkspaceId, Delivery.Sent!.AllFiles(), CancellationToken.None);
        if (Delivery.Sent!.AllFiles().Any(f => sources.Media(f) is null))
            return true;
        string hash = ContentHash.Of(Delivery.Sent, sources);
        return !(await db.ApprovalsOfAsync(_sending.Post, CancellationToken.None)).Exists(a =>
            a.Covers(_sending.Post.FitKeyOf(_sending.Channel), hash)
        );
    }

    private async Task<bool> IsLateAsync() => await clock.NowAsync() - Delivery.At > _sending.Workspace.LateAfter;

    /// <param name="crashPoint">Name of the point after the write; null: none.</param>
    /// <param name="trouble">What of it isn't out, in words; null: all of it is.</param>
    private async Task<SendingOutcome> SentAsync(string? crashPoint = null, string? trouble = null)
    {
        Delivery.WasSent(_sending.Posted!, _sending.Post, _sending.Channel, _sending.Workspace.Zone, trouble);
        await SaveEndAsync();
        if (crashPoint is not null)
            crash.Reach(crashPoint);
        return new(Answered: true);
    }

    /// <summary>The network said no, or nothing: ends it, or tries again after a while, for as long as that makes sense.</summary>
    private async Task<SendingOutcome> NoAnswerAsync(StepEnd.NoAnswer no, string step)
    {
        if (no.Kind is AnswerKind.Refused or AnswerKind.TokenExpired)
            return await EndAsync(DeliveryState.Refused, no.Reason) with { Answered = true };
        Duration? wait = no.Wait is { } w ? Duration.FromTimeSpan(w) : null;
        if (await IsLateAsync() || _sending.Attempts.Count(a => a.Step == step) >= StepCalls.MostTries)
            await EndAsync(DeliveryState.Refused, no.Reason);
        else
            await WaitAsync(
                machine.Now() + Duration.Min(wait ?? Duration.FromSeconds(Math.Pow(2, Math.Min(Delivery.Attempts, 10) - 1)), LongestRetry),
                $"{no.Reason} It is tried again."
            );
        return new(Answered: false, no.Reason, wait);
    }

    /// <summary>
    /// It won't be tried again: as said, or, where it may have gone out without our knowing, a question to a person. Where the post itself
    /// is out and only more of it isn't, it is sent, and says what is lacking: whoever reschedules it would send it twice.
    /// </summary>
    private async Task<SendingOutcome> EndAsync(DeliveryState state, string reason)
    {
        if (_sending.Posted is not null)
            return await SentAsync("ended", DeliverySending.NotAll(reason));
        bool inDoubt = state == DeliveryState.MayHaveGoneOut || SendingPlan.MayHaveGoneOut(_sending.Attempts);
        Delivery.End(
            inDoubt ? DeliveryState.MayHaveGoneOut : state,
            inDoubt ? reason + LookWords : reason,
            // What was frozen belongs to what was, or may have been, sent.
            isFrozen: _sending.Attempts.Any(a => a.End != AttemptEnd.Absent)
        );
        await SaveEndAsync();
        crash.Reach("ended");
        return SendingOutcome.Nothing;
    }

    private async Task<SendingOutcome> WaitAsync(Instant until, string trouble)
    {
        (Delivery.LeaseUntil, Delivery.Trouble) = (until, trouble);
        await db.SaveChangesAsync();
        crash.Reach("put off");
        return SendingOutcome.Nothing;
    }

    private async Task SaveEndAsync()
    {
        (Delivery.Lease, Delivery.LeaseUntil) = (null, null);
        await db.SaveChangesAsync();
        health.Ended(Delivery.State, (Delivery.SentAt ?? Delivery.At) - Delivery.At);
    }
}
