using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Deliveries;

public sealed class SendingPlanTests
{
    private static readonly Instant Start = Instant.FromUtc(2026, 3, 2, 9, 0);
    private static readonly Duration Timeout = Duration.FromSeconds(15);
    private static readonly SendingRules Keyed = new(HonoursKeys: true, AppearsWithinSeconds: 60, ReadsBack: 100, AtOnce: 1);
    private static readonly SendingRules Unkeyed = Keyed with { HonoursKeys = false };
    private static readonly SendingStep[] TextAlone = [new SendingStep.Publish("post", FieldValues.Empty, [])];
    private static readonly SendingStep[] WithPicture = [new SendingStep.Upload("picture", new(default)), .. TextAlone];

    /// <summary>A post of two parts with a comment under the first, each with a picture of its own.</summary>
    private static readonly SendingStep[] Thread =
    [
        .. WithPicture,
        new SendingStep.Upload("picture 2", new(default)),
        new SendingStep.Publish("part 2", FieldValues.Empty, ["picture 2"], Under: "post"),
        new SendingStep.Publish("comment", FieldValues.Empty, [], Under: "post"),
    ];

    [Fact]
    public void Steps_come_in_order_and_one_that_is_done_is_never_run_again()
    {
        SendingPlan plan = SendingPlan.For(Keyed, Timeout);
        Assert.Equal(new SendingMove.Call("picture"), plan.Next(WithPicture, [], Start));
        DeliveryAttempt picture = Attempt("picture", 0, AttemptEnd.Done);
        Assert.Equal(new SendingMove.Call("post"), plan.Next(WithPicture, [picture], Start));
        DeliveryAttempt post = Attempt("post", 1, AttemptEnd.Done);
        Assert.Equal(new SendingMove.Finish(post), plan.Next(WithPicture, [picture, post, Attempt("post", 2, AttemptEnd.Lost)], Start));
    }

    [Theory]
    [InlineData(null)]
    [InlineData(AttemptEnd.Lost)]
    public void A_posting_whose_end_is_unknown_is_looked_up_first(AttemptEnd? end)
    {
        Assert.Equal(
            new SendingMove.LookUp("post", Start),
            SendingPlan.For(Keyed, Timeout).Next(TextAlone, [Attempt("post", 0, end)], At(1))
        );
    }

    [Theory]
    [InlineData(AttemptEnd.Busy)]
    [InlineData(AttemptEnd.Absent)]
    public void One_that_certainly_did_nothing_is_called_again(AttemptEnd end)
    {
        Assert.Equal(new SendingMove.Call("post"), SendingPlan.For(Unkeyed, Timeout).Next(TextAlone, [Attempt("post", 0, end)], At(1)));
    }

    [Fact]
    public void An_upload_that_was_cut_off_is_simply_made_again_since_nobody_sees_it()
    {
        Assert.Equal(
            new SendingMove.Call("picture"),
            SendingPlan.For(Unkeyed, Timeout).Next(WithPicture, [Attempt("picture", 0, null)], At(1))
        );
    }

    [Fact]
    public void What_may_be_out_is_looked_up_before_its_picture_is_uploaded_again_and_found_it_needs_none()
    {
        SendingPlan plan = SendingPlan.For(Keyed, Timeout);
        DeliveryAttempt unknown = Attempt("post", 0, null);
        Assert.Equal(new SendingMove.LookUp("post", Start), plan.Next(WithPicture, [unknown], At(1)));
        unknown.End = AttemptEnd.Done;
        Assert.Equal(new SendingMove.Finish(unknown), plan.Next(WithPicture, [unknown], At(1)));
        unknown.End = AttemptEnd.Absent;
        Assert.Equal(new SendingMove.Call("picture"), plan.Next(WithPicture, [unknown], At(1)));
    }

    [Fact]
    public void With_keys_one_look_up_that_finds_nothing_is_enough()
    {
        SendingPlan plan = SendingPlan.For(Keyed, Timeout);
        DeliveryAttempt lost = Attempt("post", 0, AttemptEnd.Lost, endedAfter: 1);
        plan.NotFound("post", [lost], At(2));
        Assert.Equal((AttemptEnd.Absent, 1), (lost.End, lost.LookUps));
        Assert.Equal(new SendingMove.Call("post"), plan.Next(TextAlone, [lost], At(2)));
    }

    [Fact]
    public void Without_keys_it_is_looked_up_at_growing_distances_until_it_would_have_appeared()
    {
        SendingPlan plan = SendingPlan.For(Unkeyed, Timeout);
        // Given up after 15 seconds; it may appear for another 60.
        DeliveryAttempt lost = Attempt("post", 0, AttemptEnd.Lost, endedAfter: 15);
        List<double> lookUps = [];
        Instant now = At(15);
        SendingMove move;
        while ((move = plan.Next(TextAlone, [lost], now)) is not SendingMove.Call)
        {
            if (move is SendingMove.Wait wait)
            {
                now = wait.Until;
                continue;
            }
            lookUps.Add((now - Start).TotalSeconds);
            plan.NotFound("post", [lost], now);
        }
        Assert.Equal([15, 16, 19, 28, 55, 75], lookUps);
        Assert.Equal(AttemptEnd.Absent, lost.End);
    }

    [Fact]
    public void Without_keys_a_posting_that_was_cut_off_counts_from_when_its_call_would_have_been_given_up()
    {
        SendingPlan plan = SendingPlan.For(Unkeyed, Timeout);
        DeliveryAttempt cut = Attempt("post", 0, null);
        plan.NotFound("post", [cut], At(74.9));
        Assert.Null(cut.End);
        plan.NotFound("post", [cut], At(75));
        Assert.Equal(AttemptEnd.Absent, cut.End);
    }

    /// <summary>
    /// Any course of events on a network that keeps its declared promise: calls cut off before or within, answers lost, posts that appear
    /// late, refusals, processes that take over. Whatever happens, readers see the post at most once; and it ends.
    /// </summary>
    [Theory]
    [InlineData(true, false)]
    [InlineData(false, false)]
    [InlineData(true, true)]
    [InlineData(false, true)]
    public void Whatever_happens_the_post_and_each_part_of_it_appear_at_most_once_and_it_ends(bool honoursKeys, bool isThread)
    {
        SendingRules rules = Keyed with { HonoursKeys = honoursKeys };
        Gen.Select(Gen.Int[0, 6], Gen.Double[0, 1], Gen.Double[0, 30])
            .List[40]
            .Sample(
                events =>
                {
                    (int seen, bool ended) = Play(rules, events, steps: isThread ? Thread : TextAlone);
                    return seen <= 1 && ended;
                },
                iter: Effort.Of(2000)
            );
    }

    /// <summary>The model must be able to fail: a plan that trusts its first look-up doubles posts on a network without keys.</summary>
    [Fact]
    public void The_same_events_do_double_a_post_when_a_network_without_keys_is_taken_for_one_with()
    {
        bool doubled = false;
        Gen.Select(Gen.Int[0, 6], Gen.Double[0, 1], Gen.Double[0, 30])
            .List[40]
            .Sample(
                events =>
                {
                    doubled |= Play(Keyed, events, networkHonours: false).Seen > 1;
                },
                iter: 500
            );
        Assert.True(doubled);
    }

    private static (int Seen, bool Ended) Play(
        SendingRules rules,
        IReadOnlyList<(int What, double Chance, double Pause)> events,
        bool? networkHonours = null,
        IReadOnlyList<SendingStep>? steps = null
    )
    {
        SendingPlan plan = SendingPlan.For(rules, Timeout);
        List<DeliveryAttempt> attempts = [];
        steps ??= TextAlone;
        Dictionary<string, List<Instant>> appears = steps.ToDictionary(s => s.Key, _ => new List<Instant>());
        Instant now = Start;
        int next = 0;
        for (int turns = 0; turns < 400; turns++)
        {
            // When the events run out, all goes well.
            (int what, double chance, double pause) = next < events.Count ? events[next++] : (1, 0, 0);
            now += Duration.FromSeconds(pause);
            switch (plan.Next(steps, attempts, now))
            {
                case SendingMove.Finish finish:
                    bool isWhole = steps.Where(s => s.Publishes).All(s => appears[s.Key].Count > 0) && finish.Posted.Step == "post";
                    return (Seen(steps, appears, networkHonours ?? rules.HonoursKeys), isWhole);
                case SendingMove.Wait wait:
                    now = wait.Until;
                    break;
                case SendingMove.LookUp look:
                    Instant began = now;
                    now += Duration.FromSeconds(2);
                    // A look-up can be lost as well.
                    if (what == 0)
                        break;
                    if (appears[look.Step].Any(a => a <= began) && attempts.Last(a => a.Step == look.Step) is { } found)
                        (found.End, found.EndedAt) = (AttemptEnd.Done, now);
                    else
                        plan.NotFound(look.Step, attempts, began);
                    break;
                case SendingMove.Call call:
                    // Nothing that stands under something is called before that is known to be out.
                    SendingStep step = steps.Single(s => s.Key == call.Step);
                    if (step is SendingStep.Publish { Under: { } under } && SendingPlan.DoneOf(under, attempts) is null)
                        return (int.MaxValue, false);
                    DeliveryAttempt attempt = new()
                    {
                        WorkspaceId = default,
                        Id = Id<DeliveryAttempt>.New(),
                        DeliveryId = default,
                        Step = step.Key,
                        Publishes = step.Publishes,
                        StartedAt = now,
                        Since = now,
                    };
                    attempts.Add(attempt);
                    now = Call(attempt, what, chance, now, rules, appears[step.Key]);
                    break;
            }
        }
        return (Seen(steps, appears, networkHonours ?? rules.HonoursKeys), false);
    }

    private static Instant Call(DeliveryAttempt attempt, int what, double chance, Instant now, SendingRules rules, List<Instant> appears)
    {
        Instant givenUp = now + Timeout;
        Instant latest = givenUp + rules.AppearsWithin;
        Instant someTime = now + ((latest - now) * chance);
        switch (what)
        {
            case 0:
                // Killed before the call.
                return now;
            case 1:
                appears.Add(now);
                (attempt.End, attempt.EndedAt) = (AttemptEnd.Done, now);
                return now;
            case 2:
                (attempt.End, attempt.EndedAt) = (AttemptEnd.Busy, now);
                return now;
            case 3:
                // The answer is lost; it arrived, and appears some time later.
                appears.Add(someTime);
                (attempt.End, attempt.EndedAt) = (AttemptEnd.Lost, givenUp);
                return givenUp;
            case 4:
                (attempt.End, attempt.EndedAt) = (AttemptEnd.Lost, givenUp);
                return givenUp;
            case 5:
                // Killed within the call; it arrived all the same.
                appears.Add(someTime);
                return now;
            default:
                // The answer comes back broken at once.
                appears.Add(now + ((now + rules.AppearsWithin - now) * chance));
                (attempt.End, attempt.EndedAt) = (AttemptEnd.Lost, now);
                return now;
        }
    }

    /// <summary>How often the step that readers see most often was seen.</summary>
    private static int Seen(IReadOnlyList<SendingStep> steps, Dictionary<string, List<Instant>> appears, bool honoursKeys) =>
        steps.Where(s => s.Publishes).Max(s => honoursKeys ? Math.Min(1, appears[s.Key].Count) : appears[s.Key].Count);

    private static Instant At(double seconds) => Start + Duration.FromSeconds(seconds);

    private static DeliveryAttempt Attempt(string step, double startedAfter, AttemptEnd? end, double? endedAfter = null) =>
        new()
        {
            WorkspaceId = new Id<Workspace>(Guid.NewGuid()),
            Id = Id<DeliveryAttempt>.New(),
            DeliveryId = Id<Delivery>.New(),
            Step = step,
            Publishes = !step.StartsWith("picture", StringComparison.Ordinal),
            StartedAt = At(startedAfter),
            Since = At(startedAfter),
            End = end,
            EndedAt = endedAfter is { } after ? At(after) : null,
        };
}
