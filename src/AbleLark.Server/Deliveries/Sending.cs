using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Backups;
using AbleLark.Data.Posts;
using AbleLark.Server.Channels;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Time;
using AbleLark.Server.Work;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Deliveries;

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
    NetworkConnector connector,
    ChannelTokens tokens,
    MediaStore media,
    NetworkBook networks,
    BusinessClock clock,
    IClock machine,
    CrashPoints crash,
    LoopBook book,
    IOptions<LarkSettings> settings
)
{
    /// <summary>What a person is asked where only they can find out.</summary>
    public const string LookWords = " It may have gone out: look on the network, then say what you found.";

    private const int MostTries = 8;

    /// <summary>A process that slept this long between writing an attempt down and calling must not call: somebody else may have taken
    /// over.</summary>
    private static readonly Duration StaleAfter = Duration.FromSeconds(5);

    private static readonly Duration LongestRetry = Duration.FromMinutes(1);

    private Delivery _delivery = null!;
    private Workspace _workspace = null!;
    private Channel _channel = null!;
    private Post _post = null!;
    private List<DeliveryAttempt> _attempts = [];
    private MediaFile? _picture;
    private SendingPlan _plan = null!;

    /// <summary>Goes on with a claimed delivery as far as it will go now.</summary>
    /// <param name="stopping">When asked to stop, it is given back between two calls.</param>
    public async Task<SendingOutcome> SendAsync(Id<Workspace> workspace, Id<Delivery> id, Guid lease, CancellationToken stopping)
    {
        crash.Reach("claimed");
        _delivery = await db.Deliveries.SingleAsync(d => d.WorkspaceId == workspace && d.Id == id, CancellationToken.None);
        if (_delivery.Lease != lease || _delivery.State != DeliveryState.Sending)
            return SendingOutcome.Nothing;
        _channel = await db.Channels.SingleAsync(c => c.WorkspaceId == workspace && c.Id == _delivery.ChannelId, CancellationToken.None);
        _workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == workspace, CancellationToken.None);
        _post = await db
            .Posts.AsNoTracking()
            .SingleAsync(p => p.WorkspaceId == workspace && p.Id == _delivery.PostId, CancellationToken.None);
        _attempts = await db
            .DeliveryAttempts.Where(a => a.WorkspaceId == workspace && a.DeliveryId == id)
            .OrderBy(a => a.StartedAt)
            .ToListAsync(CancellationToken.None);
        await MindRestoreAsync();
        if (!networks.Has(_channel.Network))
            return await EndAsync(
                DeliveryState.Refused,
                $"There are no rules here for the network “{_channel.Network}”. Tell whoever runs Able Lark."
            );
        _plan = SendingPlan.For(networks[_channel.Network].Sending, Duration.FromSeconds(settings.Value.NetworkTimeoutSeconds));
        if (_delivery.Sent is null)
            await FreezeAsync();
        _picture = _delivery.Sent!.PictureId is { } picture
            ? await db.Media.AsNoTracking().SingleOrDefaultAsync(m => m.WorkspaceId == workspace && m.Id == picture, CancellationToken.None)
            : null;
        return await GoOnAsync(stopping);
    }

    private async Task<SendingOutcome> GoOnAsync(CancellationToken stopping)
    {
        IReadOnlyList<string> steps = SendingPlan.StepsOf(_delivery.Sent!.PictureId is not null);
        string? token = null;
        bool renewed = false;
        while (true)
        {
            if (stopping.IsCancellationRequested)
            {
                await claims.GiveBackAsync(_delivery.Lease!.Value, [_delivery.Id], CancellationToken.None);
                return SendingOutcome.Nothing;
            }
            SendingMove move = _plan.Next(steps, _attempts, machine.Now());
            if (move is SendingMove.Finish)
                return await SentAsync(null);
            if (move is SendingMove.Wait wait)
                return await WaitAsync(wait.Until, "Its answer was lost. The network is looked through again before anything else.");
            if (move is SendingMove.Call && await WhyNotAsync() is { } not)
                return await EndAsync(not.State, not.Words);
            if (token is null)
            {
                NetworkAnswer<string> given = await tokens.GetAsync(_channel, renew: renewed, CancellationToken.None);
                crash.Reach("token got");
                if (!given.IsOk)
                    return await NoAnswerAsync(given.Kind, given.Reason, given.Wait);
                token = given.Value;
            }
            StepEnd end = move is SendingMove.LookUp look
                ? await LookUpAsync(look, token!)
                : await CallAsync(((SendingMove.Call)move).Step, steps, token!);
            if (end.Outcome is not null)
                return end.Outcome;
            if (!end.TokenExpired)
                continue;
            if (renewed)
                return await EndAsync(
                    DeliveryState.Refused,
                    "The network no longer accepts the connection. Connect the channel again, then reschedule."
                );
            (token, renewed) = (null, true);
        }
    }

    /// <param name="Outcome">Null: go on.</param>
    private sealed record StepEnd(SendingOutcome? Outcome, bool TokenExpired = false);

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
        if (restore is null || _attempts.Any(a => a.StartedAt >= restore.RestoredAt))
            return;
        DeliveryAttempt unknown = new()
        {
            WorkspaceId = _delivery.WorkspaceId,
            Id = Id<DeliveryAttempt>.New(),
            DeliveryId = _delivery.Id,
            Step = SendingPlan.PostStep,
            StartedAt = restore.RestoredAt,
            Since = restore.BackupAt,
            Reason = "A backup was restored: whether it had gone out is not known here.",
        };
        db.DeliveryAttempts.Add(unknown);
        _attempts.Add(unknown);
    }

    /// <summary>Reads the content now, for good; it is kept with the first attempt.</summary>
    private async Task FreezeAsync()
    {
        _delivery.Sent = _post.Content.For(new(networks[_channel.Network], _channel.Id), _delivery.Wording);
        _delivery.TextFingerprint = IdenticalText.Fingerprint(_delivery.Sent.Text);
        _delivery.Version = await db
            .PostVersions.Where(v => v.WorkspaceId == _post.WorkspaceId && v.PostId == _post.Id)
            .MaxAsync(v => v.Number);
    }

    /// <summary>Asked before every call: what keeps it from being sent now, or null. What is no longer in time never goes by
    /// itself.</summary>
    private async Task<(DeliveryState State, string Words)?> WhyNotAsync()
    {
        if (_delivery.LookUpOnly)
            return (
                DeliveryState.Missed,
                "It was looked up on the network and is not there. It does not go by itself: reschedule it if it still should."
            );
        if (await IsLateAsync())
            return (DeliveryState.Missed, "Its time passed before it could be sent. Reschedule it if it still should go.");
        if (await db.IsStoppedAsync(_workspace, await clock.NowAsync(), CancellationToken.None))
            return (DeliveryState.Missed, DuePreparation.StoppedWords);
        if (_post.RemovedAt is not null)
            return (DeliveryState.Refused, "The post was taken out of the bank.");
        if (_post.Stage is Stage.Idea or Stage.Draft)
            return (DeliveryState.Refused, "The post is no longer marked as ready.");
        if (await LacksApprovalAsync())
            return (
                DeliveryState.Missed,
                "Nobody has approved what it says now. Approve the post, then reschedule it if it still should go."
            );
        return _attempts.All(a => a.End == AttemptEnd.Absent) && _post.FitOn(_channel)?.BlockOf(_delivery.Wording) is { } block
            ? (DeliveryState.Refused, block.Words)
            : null;
    }

    /// <summary>True when it needs approval and has none for the very content that was frozen, whatever was stored about that when the
    /// post was saved.</summary>
    private async Task<bool> LacksApprovalAsync()
    {
        if (!_post.AsksForApproval && !await db.CategoryAsksAsync(_post, CancellationToken.None))
            return false;
        if (_delivery.Sent!.PictureId is not null && _picture is null)
            return true;
        string hash = ContentHash.Of(_delivery.Sent, new(_ => _picture));
        return !(await db.ApprovalsOfAsync(_post, CancellationToken.None)).Exists(a => a.Covers(_post.FitKeyOf(_channel), hash));
    }

    private async Task<bool> IsLateAsync() => await clock.NowAsync() - _delivery.At > _workspace.LateAfter;

    private async Task<StepEnd> CallAsync(string step, IReadOnlyList<string> steps, string token)
    {
        if (_attempts.Count(a => a.Step == step) >= MostTries)
            return new(await EndAsync(DeliveryState.Refused, $"It was tried {MostTries} times. {_delivery.Trouble}".TrimEnd()));
        byte[]? picture = null;
        if (step == SendingPlan.PictureStep)
        {
            picture = _picture is null ? null : await media.TryReadAsync(_picture, CancellationToken.None);
            if (picture is null)
                return new(
                    await EndAsync(
                        DeliveryState.Refused,
                        $"The picture “{_picture?.FileName}” can't be read here any more. Choose it anew on the post, then reschedule."
                    )
                );
        }
        DeliveryAttempt attempt = new()
        {
            WorkspaceId = _delivery.WorkspaceId,
            Id = Id<DeliveryAttempt>.New(),
            DeliveryId = _delivery.Id,
            Step = step,
            StartedAt = machine.Now(),
            Since = await clock.NowAsync(),
        };
        db.DeliveryAttempts.Add(attempt);
        _attempts.Add(attempt);
        _delivery.LeaseUntil = machine.Now() + claims.Lease;
        await db.SaveChangesAsync();
        crash.Reach($"{step} recorded");
        if (machine.Now() - attempt.StartedAt > StaleAfter)
            return new(await NoAnswerAsync(AnswerKind.Lost, "This server stood still for a while.", null));

        string key = $"{_delivery.Id}:{step}";
        NetworkAnswer<RemoteThing> answer = picture is not null
            ? await connector.UploadAsync(_channel.Network, token, key, _picture!.Kind, picture, CancellationToken.None)
            : await connector.PostAsync(
                _channel.Network,
                token,
                key,
                _delivery.Sent!.Text,
                _delivery.Sent.CardLink,
                [.. Uploaded()],
                CancellationToken.None
            );
        crash.Reach($"{step} called");
        attempt.EndedAt = machine.Now();
        attempt.End = answer.Kind switch
        {
            AnswerKind.Ok => AttemptEnd.Done,
            AnswerKind.Refused => AttemptEnd.Refused,
            AnswerKind.Lost => AttemptEnd.Lost,
            _ => AttemptEnd.Busy,
        };
        if (!answer.IsOk)
        {
            attempt.Reason = answer.Reason;
            if (answer.Kind != AnswerKind.TokenExpired)
                return new(await NoAnswerAsync(answer.Kind, answer.Reason, answer.Wait));
            await db.SaveChangesAsync();
            return new(null, TokenExpired: true);
        }
        (attempt.RemoteId, attempt.Address, attempt.RemoteAt) = (answer.Value!.Id, answer.Value.WebAddress, answer.Value.At(attempt.Since));
        if (step == steps[^1])
            return new(await SentAsync($"{step} ended"));
        await db.SaveChangesAsync();
        crash.Reach($"{step} ended");
        return new(null);
    }

    private IEnumerable<string> Uploaded() =>
        _attempts.Where(a => a is { Step: SendingPlan.PictureStep, End: AttemptEnd.Done }).TakeLast(1).Select(a => a.RemoteId!);

    /// <summary>Looks for a step whose answer was lost among what the account posted.</summary>
    private async Task<StepEnd> LookUpAsync(SendingMove.LookUp look, string token)
    {
        Instant began = machine.Now();
        _delivery.LeaseUntil = began + claims.Lease;
        NetworkAnswer<PostedList> list = await connector.PostedSinceAsync(
            _channel.Network,
            token,
            Traces.Earliest(look.Since),
            networks[_channel.Network].Sending.ReadsBack,
            CancellationToken.None
        );
        crash.Reach("looked up");
        if (list.Kind == AnswerKind.TokenExpired)
            return new(null, TokenExpired: true);
        if (!list.IsOk)
            return new(await NoAnswerAsync(list.Kind == AnswerKind.Refused ? AnswerKind.Lost : list.Kind, list.Reason, list.Wait));
        List<string> ids = [.. list.Value!.Posts.Select(p => p.Id)];
        HashSet<string> taken =
        [
            .. await db
                .Deliveries.Where(d =>
                    d.WorkspaceId == _delivery.WorkspaceId
                    && d.ChannelId == _delivery.ChannelId
                    && d.Id != _delivery.Id
                    && ids.Contains(d.RemoteId!)
                )
                .Select(d => d.RemoteId!)
                .ToListAsync(),
        ];
        Trace trace = Traces.Find(
            _delivery.Sent!,
            _picture is { } shown ? [shown.Kind] : [],
            look.Since,
            list.Value.Posts.Select(p => p.Listed(look.Since)),
            taken,
            list.Value.ReachesBack
        );
        switch (trace.Kind)
        {
            case TraceKind.Found:
                DeliveryAttempt found = _attempts.Last(a => a.Step == look.Step && a.IsOpen);
                (found.End, found.EndedAt, found.RemoteId, found.Address, found.RemoteAt) = (
                    AttemptEnd.Done,
                    found.EndedAt ?? machine.Now(),
                    trace.Post!.Id,
                    trace.Post.Address,
                    trace.Post.At
                );
                await db.SaveChangesAsync();
                crash.Reach("look-up ended");
                return new(null);
            case TraceKind.Several:
                return new(
                    await EndAsync(DeliveryState.MayHaveGoneOut, "Its answer was lost, and more than one post on the network could be it.")
                );
            case TraceKind.CannotTell:
                return new(
                    await EndAsync(
                        DeliveryState.MayHaveGoneOut,
                        "Its answer was lost, and the network's list of posts does not reach back far enough to find it."
                    )
                );
            default:
                _plan.NotFound(look.Step, _attempts, began);
                await db.SaveChangesAsync();
                crash.Reach("look-up ended");
                return new(null);
        }
    }

    /// <param name="crashPoint">Name of the point after the write; null: none.</param>
    private async Task<SendingOutcome> SentAsync(string? crashPoint)
    {
        DeliveryAttempt posted = _attempts.Last(a => a is { Step: SendingPlan.PostStep, End: AttemptEnd.Done });
        _delivery.Become(DeliveryState.Sent);
        _delivery.SentAt = posted.RemoteAt ?? Instant.Max(posted.Since, _delivery.At);
        (_delivery.RemoteId, _delivery.Address, _delivery.Trouble) = (posted.RemoteId, posted.Address, null);
        _delivery.Facts = SentFacts.Of(_delivery, _post, _channel, _delivery.SentAt.Value, _workspace.Zone);
        _delivery.NextReadingAt = posted.RemoteId is null ? null : ReadingTimes.Next(_delivery.SentAt.Value, _delivery.SentAt.Value);
        await SaveEndAsync();
        if (crashPoint is not null)
            crash.Reach(crashPoint);
        return new(Answered: true);
    }

    /// <summary>The network said no, or nothing: ends it, or tries again after a while, for as long as that makes sense.</summary>
    private async Task<SendingOutcome> NoAnswerAsync(AnswerKind kind, string reason, TimeSpan? asked)
    {
        if (kind is AnswerKind.Refused or AnswerKind.TokenExpired)
            return await EndAsync(DeliveryState.Refused, reason) with { Answered = true };
        Duration? wait = asked is { } w ? Duration.FromTimeSpan(w) : null;
        if (await IsLateAsync() || _attempts.Count(a => a.Step == SendingPlan.PostStep) >= MostTries)
            await EndAsync(DeliveryState.Refused, reason);
        else
            await WaitAsync(
                machine.Now() + Duration.Min(wait ?? Duration.FromSeconds(Math.Pow(2, Math.Min(_delivery.Attempts, 10) - 1)), LongestRetry),
                $"{reason} It is tried again."
            );
        return new(Answered: false, reason, wait);
    }

    /// <summary>It won't be tried again: as said, or, where it may have gone out without our knowing, a question to a person.</summary>
    private async Task<SendingOutcome> EndAsync(DeliveryState state, string reason)
    {
        bool inDoubt = state == DeliveryState.MayHaveGoneOut || SendingPlan.MayHaveGoneOut(_attempts);
        _delivery.Become(inDoubt ? DeliveryState.MayHaveGoneOut : state);
        _delivery.Trouble = inDoubt ? reason + LookWords : reason;
        // What was frozen belongs to what was, or may have been, sent.
        if (_attempts.All(a => a.End == AttemptEnd.Absent))
            (_delivery.Sent, _delivery.TextFingerprint, _delivery.Version) = (null, null, null);
        await SaveEndAsync();
        crash.Reach("ended");
        return SendingOutcome.Nothing;
    }

    private async Task<SendingOutcome> WaitAsync(Instant until, string trouble)
    {
        (_delivery.LeaseUntil, _delivery.Trouble) = (until, trouble);
        await db.SaveChangesAsync();
        crash.Reach("put off");
        return SendingOutcome.Nothing;
    }

    private async Task SaveEndAsync()
    {
        (_delivery.Lease, _delivery.LeaseUntil) = (null, null);
        await db.SaveChangesAsync();
        book.Ended(_delivery.State, (_delivery.SentAt ?? _delivery.At) - _delivery.At);
    }
}
