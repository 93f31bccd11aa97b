using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.LineUps;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Results;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using AbleLark.Core.Workspaces;
using AbleLark.Data.Rows;
using AbleLark.Server.Networks;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <summary>A workspace's past while it is being lived through, in memory.</summary>
/// <param name="workspace">What is scheduled is noted on it.</param>
/// <param name="input">The line-up's input, without deliveries.</param>
/// <param name="posts">With the newest version of each.</param>
/// <param name="end">Where the past ends.</param>
internal sealed class PastLife(
    Workspace workspace,
    LineUpInput input,
    IReadOnlyDictionary<Id<Post>, (Post Post, int Version)> posts,
    Instant end
)
{
    /// <summary>How long people take to post what is theirs to post.</summary>
    private static readonly Duration TheirsFor = Duration.FromDays(2);

    private readonly Dictionary<Id<Channel>, Channel> _channels = input.Channels.ToDictionary(c => c.Id);
    private readonly List<(Instant KnownAt, Earned Earned)> _earned = [];

    public required NetworkBook Networks { get; init; }
    public required StepsOf StepsOf { get; init; }
    public required IReadOnlyDictionary<Id<MediaFile>, MediaFile> Media { get; init; }
    public required ContentSources Sources { get; init; }

    public List<Delivery> Deliveries { get; } = [];
    public Dictionary<Origin, PassedPlace> Passed { get; } = [];
    public List<DeliveryAttempt> Attempts { get; } = [];
    public List<Reading> Readings { get; } = [];
    public List<AgeFigures> Ages { get; } = [];

    /// <summary>The networks' identities of files, by file and account.</summary>
    public Dictionary<(PastFile File, string Account), string> Uploads { get; } = [];

    /// <summary>Schedules what comes near at that instant.</summary>
    public void Schedule(Instant now)
    {
        LocalDate through = SchedulePlan.Horizon(workspace, now);
        Instant from = workspace.NextToPass is { } next && next < now ? next : now;
        (IReadOnlyList<LineUpDelivery> recent, OlderDeliveries older) = OlderDeliveries.Of(
            Deliveries.Select(LineUpDelivery.Of),
            input.Decisions,
            OlderDeliveries.Before(from, input.Channels)
        );
        SchedulePlan plan = SchedulePlan.Of(
            workspace,
            input with
            {
                Deliveries = recent,
                Older = older,
                Scores = Scores.Of(_earned.Where(e => e.KnownAt <= now).Select(e => e.Earned)),
            },
            through,
            now
        );
        Deliveries.AddRange(plan.Deliveries);
        foreach (PassedPlace passed in plan.Passed)
            Passed.TryAdd(passed.Origin, passed);
        (workspace.NextToPass, workspace.ScheduledThrough) = (plan.NextToPass, through);
    }

    /// <summary>What goes out by that instant, in order of time. What doesn't is ended.</summary>
    public IReadOnlyList<PastSending> Due(Instant now)
    {
        List<Delivery> due = [.. Deliveries.Where(d => d.At <= now && d.MayMove()).OrderBy(d => d.At)];
        IReadOnlyList<DueAnswer> answers = DueAnswer.Waiting(
            [.. due.Where(d => d.State != DeliveryState.Planned)],
            d => !posts[d.PostId].Post.Waits(_channels[d.ChannelId], d.Wording)
        );
        foreach (DueAnswer answer in answers)
            answer.Apply();
        List<PastSending> going = [];
        foreach (Delivery delivery in due.Where(d => d.State == DeliveryState.Planned))
        {
            (Post post, int version) = posts[delivery.PostId];
            Channel channel = _channels[delivery.ChannelId];
            NetworkRules rules = Networks.For(channel);
            string? block =
                channel.Connection == ConnectionState.Connected
                    ? post.FitOn(channel)?.BlockOf(delivery.Wording)?.Words
                    : channel.ConnectionTrouble;
            bool byPerson = block is null && delivery.IsByPerson(post, channel, rules);
            if (byPerson)
                delivery.BecomeTheirs();
            else
                delivery.BeginSending();
            if (block is not null)
            {
                Refuse(delivery, block);
                continue;
            }
            // Of what is theirs to post, the latest still waits for them.
            if (byPerson && delivery.At > end - TheirsFor)
                continue;
            delivery.Attempts = byPerson ? 0 : 1;
            delivery.Freeze(post, channel, rules, Sources, version);
            going.Add(new(delivery, post, channel, StepsOf(delivery.Sent!, rules)));
        }
        return going;
    }

    /// <summary>What the network is asked for one step.</summary>
    public PastPost Call(PastSending sending, SendingStep.Publish step)
    {
        Delivery delivery = sending.Delivery;
        bool isMain = step == sending.Steps.First(s => s.Publishes);
        return new(
            sending.Channel.Account,
            KeyOf(delivery, step.Key),
            delivery.At,
            Publication.Of(step, sending.Steps, Media.GetValueOrDefault, Made),
            isMain ? [.. ReadingTimes.Until(delivery.At, end)] : [],
            ByHand: delivery.State == DeliveryState.PostItYourself
        );

        string Made(string key) =>
            sending.Steps.Single(s => s.Key == key) is SendingStep.Upload upload
                ? Uploads[(PastFile.Of(upload), sending.Channel.Account)]
                : KeyOf(delivery, key);
    }

    private static string KeyOf(Delivery delivery, string step) => $"{delivery.Id}:{step}";

    /// <param name="answers">To each step that publishes.</param>
    public void End(PastSending sending, IReadOnlyList<PastAnswer> answers)
    {
        Delivery delivery = sending.Delivery;
        if (delivery.State == DeliveryState.PostItYourself)
        {
            delivery.WasPosted(answers[0].Address!, answers[0].Id, delivery.At, sending.Post, sending.Channel, workspace.Zone);
            Read(sending, answers[0].Figures);
            return;
        }
        DeliveryAttempt? posted = null;
        string? trouble = null;
        int next = 0;
        foreach (SendingStep step in sending.Steps.TakeWhile(_ => trouble is null))
        {
            DeliveryAttempt attempt = Attempt(delivery, step);
            if (step is SendingStep.Upload upload)
            {
                attempt.RemoteId = Uploads[(PastFile.Of(upload), sending.Channel.Account)];
                continue;
            }
            PastAnswer answer = answers[next++];
            (attempt.RemoteId, attempt.Address, attempt.Reason) = (answer.Id, answer.Address, answer.Refusal);
            attempt.RemoteAt = answer.Id is null ? null : delivery.At;
            if (answer.Refusal is not null)
                (attempt.End, trouble) = (AttemptEnd.Refused, answer.Refusal);
            else
                posted ??= attempt;
        }
        if (posted is null)
        {
            Refuse(delivery, trouble!);
            return;
        }
        delivery.WasSent(posted, sending.Post, sending.Channel, workspace.Zone, trouble is null ? null : DeliverySending.NotAll(trouble));
        Read(sending, answers[0].Figures);
    }

    private DeliveryAttempt Attempt(Delivery delivery, SendingStep step)
    {
        DeliveryAttempt attempt = new()
        {
            WorkspaceId = workspace.Id,
            Id = Id<DeliveryAttempt>.New(),
            DeliveryId = delivery.Id,
            Step = step.Key,
            Publishes = step.Publishes,
            StartedAt = delivery.At,
            Since = delivery.At,
            EndedAt = delivery.At,
            End = AttemptEnd.Done,
        };
        Attempts.Add(attempt);
        return attempt;
    }

    private static void Refuse(Delivery delivery, string why) => delivery.End(DeliveryState.Refused, why, isFrozen: true);

    /// <summary>Keeps all readings up to the past's end.</summary>
    private void Read(PastSending sending, IReadOnlyList<FigureSet> figures)
    {
        Delivery delivery = sending.Delivery;
        Instant sentAt = delivery.SentAt!.Value;
        List<FigureReading> readings = [];
        List<int> kept = [];
        foreach ((Instant at, FigureSet read) in ReadingTimes.Until(sentAt, end).Zip(figures))
        {
            readings.Add(new(at, read));
            Readings.Add(
                new()
                {
                    WorkspaceId = workspace.Id,
                    DeliveryId = delivery.Id,
                    At = at,
                    Figures = read,
                }
            );
            foreach (int hours in FigureAges.Due(at - sentAt, kept))
            {
                kept.Add(hours);
                FigureSet earned = FigureAges.At(sentAt, readings, Duration.FromHours(hours))!;
                Ages.Add(
                    new()
                    {
                        WorkspaceId = workspace.Id,
                        DeliveryId = delivery.Id,
                        AgeHours = hours,
                        Figures = earned,
                    }
                );
                if (hours == FigureAges.Compared.Hours())
                    _earned.Add(
                        (
                            at,
                            new(
                                delivery.PostId,
                                delivery.ChannelId,
                                sentAt,
                                MeasureRule.Of(Measure.Engagements).Take(earned, Networks[sending.Channel.Network])?.Above
                            )
                        )
                    );
            }
        }
        delivery.NextReadingAt = ReadingTimes.Next(sentAt, end);
    }
}
