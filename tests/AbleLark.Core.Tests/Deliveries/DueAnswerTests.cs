using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Deliveries;

/// <summary>What becomes of what is due: at most one of each place goes, and none goes without approval.</summary>
public sealed class DueAnswerTests
{
    private static readonly Instant Now = Instant.FromUtc(2026, 3, 2, 9, 0);
    private static readonly Origin Place = Origin.Place(Id<Slot>.New(), new(2026, 3, 2));
    private static readonly Id<Channel> Channel = Id<Channel>.New();

    [Fact]
    public void What_was_approved_goes_and_its_substitute_is_let_go()
    {
        Delivery waiting = Due(DeliveryState.WaitingForApproval);
        Delivery substitute = Due(DeliveryState.Substitute);
        Assert.Equal(
            [
                (waiting, DeliveryState.Planned, null, false),
                (substitute, DeliveryState.Missed, "Not needed: the post before it was approved in time.", true),
            ],
            DueAnswer.Waiting([substitute, waiting], _ => true).Select(a => (a.Delivery, a.Becomes, a.Trouble, a.DealtWith))
        );
    }

    [Fact]
    public void Without_approval_the_substitute_of_its_place_and_channel_goes_and_nobody_has_to_act()
    {
        Delivery waiting = Due(DeliveryState.WaitingForApproval);
        Delivery substitute = Due(DeliveryState.Substitute);
        Delivery alone = Due(DeliveryState.WaitingForApproval, Id<Channel>.New());
        IReadOnlyList<DueAnswer> answers = DueAnswer.Waiting([waiting, alone, substitute], _ => false);
        foreach (DueAnswer answer in answers)
            answer.Apply();
        Assert.Equal(
            (DeliveryState.Missed, true, DeliveryState.Missed, false, DeliveryState.Planned),
            (waiting.State, waiting.DealtWith, alone.State, alone.DealtWith, substitute.State)
        );
        Assert.Equal("It had no approval in time.", alone.Trouble);
        Assert.Same(substitute, answers[^1].Delivery);
    }

    [Fact]
    public void Whatever_is_due_is_answered_once_and_at_most_one_of_each_place_and_channel_goes() =>
        Gen.Select(Gen.Int[0, 2], Gen.Int[0, 1], Gen.Bool, Gen.Bool)
            .List[0, 12]
            .Sample(rows =>
            {
                Id<Channel>[] channels = [Id<Channel>.New(), Id<Channel>.New()];
                var due = rows.Select(r =>
                        (
                            Delivery: Due(
                                r.Item3 ? DeliveryState.Substitute : DeliveryState.WaitingForApproval,
                                channels[r.Item2],
                                Origin.Place(new(new Guid(r.Item1, 0, 0, new byte[8])), new(2026, 3, 2))
                            ),
                            Approved: r.Item4
                        )
                    )
                    .DistinctBy(d => (d.Delivery.Origin, d.Delivery.ChannelId, d.Delivery.State))
                    .ToList();
                HashSet<Delivery> approved = [.. due.Where(d => d.Approved).Select(d => d.Delivery)];
                IReadOnlyList<DueAnswer> answers = DueAnswer.Waiting([.. due.Select(d => d.Delivery)], approved.Contains);
                Assert.Equal(due.Count, answers.Select(a => a.Delivery).Distinct().Count());
                Assert.Equal(due.Count, answers.Count);
                foreach (var place in answers.GroupBy(a => (a.Delivery.Origin, a.Delivery.ChannelId)))
                    Assert.InRange(place.Count(a => a.Becomes == DeliveryState.Planned), 0, 1);
                Assert.All(
                    answers.Where(a => a.Becomes == DeliveryState.Planned),
                    a => Assert.True(a.Delivery.State == DeliveryState.Substitute || approved.Contains(a.Delivery))
                );
            });

    [Theory]
    [InlineData(60, false, null)]
    [InlineData(61, false, "Its time passed while nothing could be sent.")]
    [InlineData(0, true, DueAnswer.StoppedWords)]
    public void Too_late_or_while_all_is_stopped_it_is_missed(int minutesLate, bool isStopped, string? trouble)
    {
        Delivery due = Due(DeliveryState.Planned);
        DueAnswer? answer = DueAnswer.Late(due, Now + Duration.FromMinutes(minutesLate), Duration.FromMinutes(60), isStopped);
        answer?.Apply();
        Assert.Equal((trouble, trouble is null ? DeliveryState.Planned : DeliveryState.Missed), (due.Trouble, due.State));
        Assert.False(due.DealtWith);
    }

    private static Delivery Due(DeliveryState state, Id<Channel>? channel = null, Origin? origin = null) =>
        new()
        {
            WorkspaceId = new Id<Workspace>(Guid.NewGuid()),
            Id = Id<Delivery>.New(),
            PostId = Id<Post>.New(),
            ChannelId = channel ?? Channel,
            Time = PlannedTime.Of(Now, DateTimeZone.Utc),
            Origin = origin ?? Place,
            State = state,
        };
}
