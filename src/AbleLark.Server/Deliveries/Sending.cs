using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Text;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Deliveries;
using AbleLark.Server.Channels;
using AbleLark.Server.Media;
using AbleLark.Server.Networks;
using AbleLark.Server.Results;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Deliveries;

/// <summary>
/// Sends what is due, exactly once. Each step is recorded before and after its call; whoever finds a step without an
/// end asks the network whether it was done before doing it again, under the same key.
/// </summary>
public sealed partial class Sending(
    LarkDb db, Claims claims, NetworkConnector connector, ChannelTokens tokens, MediaStore media, NetworkBook networks,
    BusinessClock clock, IClock machine, ILogger<Sending> log)
{
    private const int MostTries = 8;
    private const string PictureStep = "picture";
    private const string PostStep = "post";

    /// <summary>Sends all that is due; returns how many deliveries were worked on.</summary>
    public async Task<int> SendDueAsync(Instant now, CancellationToken cancellation)
    {
        await claims.PrepareDueAsync(now, cancellation);
        await claims.MissLateAsync(now, cancellation);
        int worked = 0;
        while (true)
        {
            IReadOnlyList<Delivery> taken = await claims.TakeAsync(now, cancellation);
            foreach (Delivery delivery in taken)
            {
                try
                {
                    await SendAsync(delivery, cancellation);
                }
                catch (DbUpdateConcurrencyException)
                {
                    LogLostLease(delivery.Id);
                    db.ChangeTracker.Clear();
                }
            }
            worked += taken.Count;
            db.ChangeTracker.Clear();
            if (taken.Count == 0) return worked;
        }
    }

    private async Task SendAsync(Delivery delivery, CancellationToken cancellation)
    {
        if (db.Entry(delivery).State == EntityState.Detached) db.Attach(delivery);
        Channel channel = await db.Channels.SingleAsync(c => c.WorkspaceId == delivery.WorkspaceId && c.Id == delivery.ChannelId, cancellation);
        List<DeliveryAttempt> earlier = await db.DeliveryAttempts
            .Where(a => a.WorkspaceId == delivery.WorkspaceId && a.DeliveryId == delivery.Id).OrderBy(a => a.StartedAt).ToListAsync(cancellation);
        if (delivery.Sent is null && await FreezeAsync(delivery, channel, cancellation) is { } block)
        {
            await EndAsync(delivery, block, earlier, cancellation);
            return;
        }

        NetworkAnswer<string> token = await tokens.GetAsync(channel, renew: false, cancellation);
        NetworkAnswer<RemotePost> answer = token.IsOk
            ? await StepsAsync(delivery, channel, token.Value!, earlier, cancellation)
            : new(token.Kind, Reason: token.Reason);
        if (answer.Kind == AnswerKind.TokenExpired)
        {
            NetworkAnswer<string> renewed = await tokens.GetAsync(channel, renew: true, cancellation);
            answer = renewed.IsOk ? await StepsAsync(delivery, channel, renewed.Value!, earlier, cancellation) : new(renewed.Kind, Reason: renewed.Reason);
        }
        await ConcludeAsync(delivery, answer, earlier, cancellation);
    }

    /// <summary>Reads the content now, for good. Returns what keeps it from being sent, or null.</summary>
    private async Task<string?> FreezeAsync(Delivery delivery, Channel channel, CancellationToken cancellation)
    {
        Post post = await db.Posts.AsNoTracking().SingleAsync(p => p.WorkspaceId == delivery.WorkspaceId && p.Id == delivery.PostId, cancellation);
        if (post.RemovedAt is not null) return "The post was taken out of the bank.";
        if (post.Stage != Stage.Ready) return "The post is no longer marked as ready.";
        if (post.Fits.GetValueOrDefault(channel.Network)?.BlockOf(delivery.Alternate) is { } block) return block;
        delivery.Sent = post.Content.For(networks[channel.Network], delivery.Alternate);
        delivery.Print = IdenticalText.Print(delivery.Sent.Text);
        delivery.Version = await db.PostVersions.Where(v => v.WorkspaceId == post.WorkspaceId && v.PostId == post.Id).MaxAsync(v => v.Number, cancellation);
        await db.SaveChangesAsync(cancellation);
        return null;
    }

    private async Task<NetworkAnswer<RemotePost>> StepsAsync(
        Delivery delivery, Channel channel, string token, List<DeliveryAttempt> attempts, CancellationToken cancellation)
    {
        List<string> pictures = [];
        if (delivery.Sent!.PictureId is { } pictureId)
        {
            NetworkAnswer<string> picture = await PictureAsync(delivery, channel, token, pictureId, attempts, cancellation);
            if (!picture.IsOk) return new(picture.Kind, Reason: picture.Reason, Wait: picture.Wait);
            pictures.Add(picture.Value!);
        }
        if (MayHaveArrived(attempts))
        {
            NetworkAnswer<RemotePost> found = await FindAsync(delivery, channel, token, cancellation);
            if (found.Value is not null || !found.IsOk) return found;
            // Looked up and not there: from here on a refusal is a refusal.
            foreach (DeliveryAttempt attempt in attempts.Where(MayHaveArrived)) attempt.Outcome = $"Looked up, not there. {attempt.Outcome}";
        }
        return await AttemptAsync(delivery, PostStep, attempts, p => p.Id, () => connector.PostAsync(
            channel.Network, token, Key(delivery, PostStep), delivery.Sent.Text, delivery.Sent.CardLink, pictures, cancellation), cancellation);
    }

    private async Task<NetworkAnswer<string>> PictureAsync(
        Delivery delivery, Channel channel, string token, Id<MediaFile> pictureId, List<DeliveryAttempt> attempts, CancellationToken cancellation)
    {
        if (attempts.LastOrDefault(a => a.Step == PictureStep && a.Done) is { } done) return new(AnswerKind.Ok, done.Outcome);
        MediaFile file = await db.Media.AsNoTracking().SingleAsync(m => m.WorkspaceId == delivery.WorkspaceId && m.Id == pictureId, cancellation);
        byte[] bytes = await File.ReadAllBytesAsync(media.PathOf(file), cancellation);
        NetworkAnswer<RemoteMedia> answer = await AttemptAsync(delivery, PictureStep, attempts, m => m.Id,
            () => connector.UploadAsync(channel.Network, token, Key(delivery, PictureStep), file.Kind, bytes, cancellation), cancellation);
        return new(answer.Kind, answer.Value?.Id, answer.Reason, answer.Wait);
    }

    /// <summary>Looks for a post whose answer was lost among the account's latest. Ok without a value: it isn't there.</summary>
    private async Task<NetworkAnswer<RemotePost>> FindAsync(Delivery delivery, Channel channel, string token, CancellationToken cancellation)
    {
        NetworkAnswer<List<RemotePost>> recent = await connector.RecentAsync(channel.Network, token, cancellation);
        if (!recent.IsOk) return new(recent.Kind == AnswerKind.Refused ? AnswerKind.Lost : recent.Kind, Reason: recent.Reason);
        Instant earliest = delivery.At - Duration.FromMinutes(2);
        List<RemotePost> alike = [.. recent.Value!.Where(p => p.Text == delivery.Sent!.Text && p.Created >= earliest)];
        List<string> ids = [.. alike.Select(p => p.Id)];
        List<string?> known = await db.Deliveries.Where(d => d.WorkspaceId == delivery.WorkspaceId && d.Id != delivery.Id && ids.Contains(d.RemoteId!)).Select(d => d.RemoteId).ToListAsync(cancellation);
        return new(AnswerKind.Ok, alike.LastOrDefault(p => !known.Contains(p.Id)));
    }

    /// <summary>One try at one step, recorded before and after.</summary>
    private async Task<NetworkAnswer<T>> AttemptAsync<T>(
        Delivery delivery, string step, List<DeliveryAttempt> attempts, Func<T, string> identity, Func<Task<NetworkAnswer<T>>> call, CancellationToken cancellation)
    {
        DeliveryAttempt attempt = new() { WorkspaceId = delivery.WorkspaceId, Id = Id<DeliveryAttempt>.New(), DeliveryId = delivery.Id, Step = step, StartedAt = machine.Now() };
        db.DeliveryAttempts.Add(attempt);
        attempts.Add(attempt);
        delivery.LeaseUntil = machine.Now() + claims.Lease;
        await db.SaveChangesAsync(cancellation);
        NetworkAnswer<T> answer = await call();
        attempt.EndedAt = machine.Now();
        attempt.Done = answer.IsOk;
        attempt.Outcome = answer.IsOk ? identity(answer.Value!) : $"{answer.Kind}: {answer.Reason}";
        await db.SaveChangesAsync(cancellation);
        return answer;
    }

    private async Task ConcludeAsync(Delivery delivery, NetworkAnswer<RemotePost> answer, List<DeliveryAttempt> attempts, CancellationToken cancellation)
    {
        switch (answer.Kind)
        {
            case AnswerKind.Ok:
                delivery.Become(DeliveryState.Sent);
                delivery.SentAt = answer.Value!.Created;
                (delivery.RemoteId, delivery.Address, delivery.Trouble) = (answer.Value.Id, answer.Value.Address, null);
                delivery.NextReadingAt = ReadingTimes.Next(delivery.SentAt.Value, delivery.SentAt.Value);
                Release(delivery);
                await db.SaveChangesAsync(cancellation);
                break;
            case AnswerKind.Refused:
                await EndAsync(delivery, answer.Reason, attempts, cancellation);
                break;
            default:
                await RetryLaterAsync(delivery, answer, attempts, cancellation);
                break;
        }
    }

    /// <summary>It won't be tried again: refused, or, where an answer was lost and can't be found out, a question to a person.</summary>
    private async Task EndAsync(Delivery delivery, string reason, List<DeliveryAttempt> attempts, CancellationToken cancellation)
    {
        bool unsure = MayHaveArrived(attempts);
        delivery.Become(unsure ? DeliveryState.Unsure : DeliveryState.Refused);
        delivery.Trouble = unsure ? $"{reason} It may have been posted: look on the network, then decide." : reason;
        Release(delivery);
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>Tries again after a while; when that has gone on too long, a person has to decide.</summary>
    private async Task RetryLaterAsync(Delivery delivery, NetworkAnswer<RemotePost> answer, List<DeliveryAttempt> attempts, CancellationToken cancellation)
    {
        Workspace workspace = await db.Workspaces.AsNoTracking().SingleAsync(w => w.Id == delivery.WorkspaceId, cancellation);
        bool tooLate = await clock.NowAsync(cancellation) - delivery.At > workspace.LateAfter;
        if (delivery.Attempts >= MostTries || tooLate)
        {
            await EndAsync(delivery, answer.Reason, attempts, cancellation);
            return;
        }
        Duration wait = answer.Wait is { } asked ? Duration.FromTimeSpan(asked) : Duration.FromSeconds(Math.Pow(2, delivery.Attempts - 1));
        delivery.Trouble = $"{answer.Reason} It is tried again.";
        delivery.LeaseUntil = machine.Now() + Duration.Min(wait, Duration.FromMinutes(10));
        await db.SaveChangesAsync(cancellation);
    }

    private static bool MayHaveArrived(List<DeliveryAttempt> attempts) => attempts.Any(MayHaveArrived);

    /// <summary>True for a posting whose end is not known: cut off in the middle, or without an answer.</summary>
    private static bool MayHaveArrived(DeliveryAttempt a) =>
        a is { Step: PostStep, Done: false } && (a.Outcome is null || a.Outcome.StartsWith(nameof(AnswerKind.Lost), StringComparison.Ordinal));

    private static string Key(Delivery delivery, string step) => $"{delivery.Id}:{step}";

    private static void Release(Delivery delivery) => (delivery.Lease, delivery.LeaseUntil) = (null, null);

    [LoggerMessage(Level = LogLevel.Warning, Message = "Delivery {Delivery} was taken over by another process")]
    private partial void LogLostLease(Id<Delivery> delivery);
}
