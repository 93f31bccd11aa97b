using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Data;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Outgoing;

/// <summary>What a call, or a look-up, came to.</summary>
public abstract record StepEnd
{
    private StepEnd() { }

    /// <summary>It is written down; the plan says what is next.</summary>
    public sealed record GoOn : StepEnd;

    public sealed record TokenExpired : StepEnd;

    /// <summary>The step is done and was the last: its end and the delivery's are to be one write.</summary>
    /// <param name="CrashPoint">Name of the point after that write.</param>
    public sealed record AllDone(string CrashPoint) : StepEnd;

    /// <summary>The network said no, or nothing.</summary>
    public sealed record NoAnswer(AnswerKind Kind, string Reason, TimeSpan? Wait) : StepEnd;

    /// <summary>It makes no sense to go on.</summary>
    public sealed record GiveUp(DeliveryState State, string Reason) : StepEnd;
}

/// <summary>Runs single steps of a sending: writes each try down before its call, and how it ended after it.</summary>
public sealed class StepCalls(
    LarkDb db,
    Claims claims,
    NetworkConnector connector,
    SentFiles sentFiles,
    BusinessClock clock,
    IClock machine,
    CrashPoints crash
)
{
    public const int MostTries = 8;

    /// <summary>A process that slept this long between writing an attempt down and calling must not call: somebody else may have taken
    /// over.</summary>
    private static readonly Duration StaleAfter = Duration.FromSeconds(5);

    public async Task<StepEnd> CallAsync(OngoingSending sending, SendingStep step, string token)
    {
        if (sending.Attempts.Count(a => a.Step == step.Key) >= MostTries)
            return new StepEnd.GiveUp(DeliveryState.Refused, $"It was tried {MostTries} times. {sending.Delivery.Trouble}".TrimEnd());
        SentFile? sent = null;
        if (step is SendingStep.Upload upload)
        {
            sent = await SentAsync(sending, upload);
            if (sent is null)
                return new StepEnd.GiveUp(
                    DeliveryState.Refused,
                    $"“{sending.Files.GetValueOrDefault(upload.MediaId)?.FileName}” can't be read here any more. Choose it anew on the "
                        + "post, then reschedule."
                );
        }
        DeliveryAttempt attempt = sending.Begin(step, machine.Now(), await clock.NowAsync());
        db.DeliveryAttempts.Add(attempt);
        sending.Delivery.LeaseUntil = machine.Now() + claims.Lease;
        await db.SaveChangesAsync();
        crash.Reach($"{step.Key} recorded");
        if (machine.Now() - attempt.StartedAt > StaleAfter)
            return new StepEnd.NoAnswer(AnswerKind.Lost, "This server stood still for a while.", null);
        NetworkAnswer<RemoteThing> answer = await RunAsync(sending, step, token, sent);
        crash.Reach($"{step.Key} called");
        return await NoteAsync(sending, step, attempt, answer);
    }

    /// <summary>The file as it goes out; null: it can't be read here any more.</summary>
    private async Task<SentFile?> SentAsync(OngoingSending sending, SendingStep.Upload upload) =>
        sending.Files.TryGetValue(upload.MediaId, out MediaFile? file)
            ? await sentFiles.FindAsync(
                file,
                upload.Chosen.Crop,
                Formats.PicturesOf(sending.Delivery.Sent!.Fields, sending.Rules)?.MostBytes,
                sending.Post.Content.CropsOf(file.Id),
                CancellationToken.None
            )
            : null;

    private Task<NetworkAnswer<RemoteThing>> RunAsync(OngoingSending sending, SendingStep step, string token, SentFile? sent)
    {
        Call call = new(sending.Channel.Network, token, $"{sending.Delivery.Id}:{step.Key}");
        return step switch
        {
            SendingStep.Upload => connector.UploadAsync(call, sent!, CancellationToken.None),
            SendingStep.Publish publish => connector.PublishAsync(
                call,
                Publication.Of(publish, sending.Steps, sending.Files.GetValueOrDefault, RemoteIdOf),
                CancellationToken.None
            ),
            _ => throw new InvalidOperationException($"There is no way to run {step}."),
        };

        string RemoteIdOf(string key) => SendingPlan.DoneOf(key, sending.Attempts)!.RemoteId!;
    }

    private async Task<StepEnd> NoteAsync(
        OngoingSending sending,
        SendingStep step,
        DeliveryAttempt attempt,
        NetworkAnswer<RemoteThing> answer
    )
    {
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
                return new StepEnd.NoAnswer(answer.Kind, answer.Reason, answer.Wait);
            await db.SaveChangesAsync();
            return new StepEnd.TokenExpired();
        }
        (attempt.RemoteId, attempt.Address, attempt.RemoteAt) = (answer.Value!.Id, answer.Value.WebAddress, answer.Value.At(attempt.Since));
        if (step == sending.Steps[^1])
            return new StepEnd.AllDone($"{step.Key} ended");
        await db.SaveChangesAsync();
        crash.Reach($"{step.Key} ended");
        return new StepEnd.GoOn();
    }

    /// <summary>Looks for a step whose answer was lost among what the account posted.</summary>
    public async Task<StepEnd> LookUpAsync(OngoingSending sending, SendingMove.LookUp look, string token)
    {
        Instant began = machine.Now();
        sending.Delivery.LeaseUntil = began + claims.Lease;
        NetworkAnswer<PostedList> list = await connector.PostedSinceAsync(
            sending.Channel.Network,
            token,
            Traces.Earliest(look.Since),
            sending.Rules.Sending.ReadsBack,
            CancellationToken.None
        );
        crash.Reach("looked up");
        if (list.Kind == AnswerKind.TokenExpired)
            return new StepEnd.TokenExpired();
        if (!list.IsOk)
            return new StepEnd.NoAnswer(list.Kind == AnswerKind.Refused ? AnswerKind.Lost : list.Kind, list.Reason, list.Wait);
        Trace trace = TraceOf(sending, look, list.Value!, await TakenAsync(sending, list.Value!));
        switch (trace.Kind)
        {
            case TraceKind.Several:
                return new StepEnd.GiveUp(
                    DeliveryState.MayHaveGoneOut,
                    "Its answer was lost, and more than one post on the network could be it."
                );
            case TraceKind.CannotTell:
                return new StepEnd.GiveUp(
                    DeliveryState.MayHaveGoneOut,
                    "Its answer was lost, and the network's list of posts does not reach back far enough to find it."
                );
            case TraceKind.Found:
                DeliveryAttempt found = sending.Attempts.Last(a => a.Step == look.Step && a.IsOpen);
                (found.End, found.EndedAt, found.RemoteId, found.Address, found.RemoteAt) = (
                    AttemptEnd.Done,
                    found.EndedAt ?? machine.Now(),
                    trace.Post!.Id,
                    trace.Post.Address,
                    trace.Post.At
                );
                break;
            default:
                sending.Plan.NotFound(look.Step, sending.Attempts, began);
                break;
        }
        await db.SaveChangesAsync();
        crash.Reach("look-up ended");
        return new StepEnd.GoOn();
    }

    private static Trace TraceOf(OngoingSending sending, SendingMove.LookUp look, PostedList list, HashSet<string> taken)
    {
        SendingStep.Publish step = (SendingStep.Publish)sending.Steps.Single(s => s.Key == look.Step);
        return Traces.Find(
            new(step.Fields),
            step.Under is { } under ? SendingPlan.DoneOf(under, sending.Attempts)?.RemoteId : null,
            [
                .. sending
                    .Steps.OfType<SendingStep.Upload>()
                    .Where(u => step.Uploads.Contains(u.Key))
                    .Select(u => sending.Files.GetValueOrDefault(u.MediaId)?.Kind)
                    .OfType<string>(),
            ],
            look.Since,
            list.Posts.Select(p => p.Listed(look.Since)),
            taken,
            list.ReachesBack
        );
    }

    /// <summary>Identities that are known to be other deliveries', or other steps of this one.</summary>
    private async Task<HashSet<string>> TakenAsync(OngoingSending sending, PostedList list)
    {
        List<string> ids = [.. list.Posts.Select(p => p.Id)];
        List<string> others = await db
            .Deliveries.Where(d =>
                d.WorkspaceId == sending.Delivery.WorkspaceId
                && d.ChannelId == sending.Delivery.ChannelId
                && d.Id != sending.Delivery.Id
                && ids.Contains(d.RemoteId!)
            )
            .Select(d => d.RemoteId!)
            .ToListAsync();
        return [.. others, .. sending.Attempts.Where(a => a.End == AttemptEnd.Done).Select(a => a.RemoteId).OfType<string>()];
    }
}
