using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Planning;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using NodaTime;

namespace AbleLark.Core.Tests.Planning;

/// <summary>Random acts on random plans, round both clock changes, against the same rules written plainly.</summary>
public sealed class PlanDoorProperties
{
    private static readonly LocalDateTime[] Begins = [new(2027, 3, 26, 10, 0), new(2027, 10, 29, 10, 0), new(2026, 12, 2, 10, 0)];

    [Fact]
    public void Whatever_is_done_in_whatever_order_is_what_the_plain_rules_say() =>
        Effort.Each(
            400,
            seed =>
            {
                Random chance = new(seed);
                PlanScene plan = Random(chance);
                for (int act = 0; act < 6; act++)
                    Act(plan, chance);
            }
        );

    private static void Act(PlanScene plan, Random chance)
    {
        Delivery[] chosen = [.. plan.Deliveries.Where(_ => chance.Next(3) == 0)];
        if (chosen.Length < 2)
            return;
        PlanAct act = chance.Next(4) switch
        {
            0 => new PlanAct.Move([.. chosen.Select(d => new MoveWish(d, Shifted(d, chance)))]),
            1 => new PlanAct.Cancel(chosen),
            2 => new PlanAct.Reschedule(chosen[0], Shifted(chosen[0], chance)),
            _ => new PlanAct.Exchange(chosen[0], chosen[1]),
        };
        Row[] rows = [.. plan.Deliveries.Select(d => new Row(d))];
        PlainPlan plain = new(rows, plan.Now, plan.Snapshot());
        string looked = Written(plan.Look(act));
        Assert.Equal(Rows(rows), Rows(plan.Deliveries.Select(d => new Row(d))));
        Assert.Equal(looked, Written(plan.Do(act)));
        plain.Do(act);
        Assert.Equal(Rows(plain.Rows), Rows(plan.Deliveries.Where(d => plain.Knows(d.Id)).Select(d => new Row(d))));
        Assert.Equal(plain.New.Count, plan.Deliveries.Count(d => !plain.Knows(d.Id)));
        Assert.All(plan.Deliveries, d => Assert.Equal(d.At.InZone(PlanScene.Dublin).LocalDateTime, d.Time.Local));
        // Nothing goes out twice at one time that didn't before.
        Assert.Empty(Twice(plan.Deliveries.Select(d => new Row(d))).Except(Twice(rows)));
    }

    private static IEnumerable<(Id<Post>, Id<Channel>, Instant)> Twice(IEnumerable<Row> rows) =>
        rows.Where(r => r.State is DeliveryState.Planned or DeliveryState.WaitingForApproval)
            .GroupBy(r => (r.Post, r.Channel, r.At))
            .Where(g => g.Count() > 1)
            .Select(g => g.Key);

    private static LocalDateTime Shifted(Delivery d, Random chance) => d.Time.Local.PlusHours(chance.Next(-60, 61));

    private static PlanScene Random(Random chance)
    {
        PlanScene plan = new(Begins[chance.Next(Begins.Length)]);
        Channel[] channels =
        [
            plan.Channel("One"),
            plan.Channel("Two", chance.Next(4) == 0 ? ConnectionState.Disconnected : ConnectionState.Connected),
        ];
        Post[] posts = [.. Enumerable.Range(0, 3).Select(i => plan.Post($"Post {i}"))];
        DeliveryState[] states = Enum.GetValues<DeliveryState>();
        for (int i = 0; i < 12; i++)
        {
            // Few times, so that they meet.
            LocalDateTime local = plan.Now.InZone(PlanScene.Dublin).LocalDateTime.PlusHours((chance.Next(-1, 9) * 6) - 9).PlusMinutes(30);
            (Post post, Channel channel) = (posts[chance.Next(3)], channels[chance.Next(2)]);
            if (chance.Next(4) == 0)
                plan.Waiting(post, posts[chance.Next(3)], channel, local);
            else
                plan.At(post, channel, local, chance.Next(3) == 0 ? states[chance.Next(states.Length)] : DeliveryState.Planned);
        }
        return plan;
    }

    private static string Written(PlanChange change) =>
        string.Join(
            "\n",
            [
                .. change.Moves.Select(m =>
                    $"{m.Delivery.Id} {m.From.At} {m.To.At} {m.IsAlong} {string.Join(";", m.Doubts.Select(PlanWords.Of))}"
                ),
                .. change.Cancelled.Select(d => $"{d.Id} cancelled"),
                .. change.Added.Select(a => $"{a.Delivery.PostId} {a.Delivery.ChannelId} {a.Delivery.At} {a.Delivery.State}"),
                .. change.DealtWith.Select(d => $"{d.Id} dealt with"),
                .. change.Stays.Select(s => $"{s.DeliveryId} {s.Code} {PlanWords.Why(s, "it")}"),
            ]
        );

    private static string Rows(IEnumerable<Row> rows) =>
        string.Join("\n", rows.OrderBy(r => r.Id).Select(r => $"{r.Id} {r.At} {r.State} {r.DealtWith}"));

    internal sealed class Row(Delivery d)
    {
        public Id<Delivery> Id { get; } = d.Id;
        public Id<Post> Post { get; } = d.PostId;
        public Id<Channel> Channel { get; } = d.ChannelId;
        public (Guid, LocalDate, Id<Channel>)? Place { get; } =
            d.OriginKind == OriginKind.Place ? (d.OriginId, d.OriginDate, d.ChannelId) : null;
        public Instant At { get; set; } = d.At;
        public DeliveryState State { get; set; } = d.State;
        public bool DealtWith { get; set; } = d.DealtWith;
    }

    /// <summary>The same rules, one delivery after the other and without looking ahead.</summary>
    private sealed class PlainPlan(Row[] rows, Instant now, PlanSnapshot snapshot)
    {
        public Row[] Rows => rows;
        public List<Instant> New { get; } = [];

        public bool Knows(Id<Delivery> id) => rows.Any(r => r.Id == id);

        public void Do(PlanAct act)
        {
            switch (act)
            {
                case PlanAct.Move move:
                    Move([.. move.Wishes.Select(w => (Of(w.Delivery), At(w.To)))], together: false);
                    break;
                case PlanAct.Exchange { One.Delivery: { } one, Other.Delivery: { } other }:
                    Row a = Of(one),
                        b = Of(other);
                    if (!Same(a, b))
                        Move([(a, b.At), (b, a.At)], together: true);
                    break;
                case PlanAct.Cancel cancel:
                    foreach (Row row in cancel.Deliveries.Select(Of).ToArray())
                        Cancel(row);
                    break;
                case PlanAct.Reschedule { Delivery: var d, To: var to }:
                    Reschedule(Of(d), At(to));
                    break;
            }
        }

        private void Reschedule(Row row, Instant? to)
        {
            if (row.State is not (DeliveryState.Missed or DeliveryState.Refused) || row.DealtWith)
            {
                Move([(row, to)], together: false);
                return;
            }
            if (to is null || IsDisconnected(row) || rows.Any(r => r != row && Goes(r) && Same(r, row) && r.At == to))
                return;
            row.DealtWith = true;
            New.Add(to.Value);
        }

        private void Cancel(Row row)
        {
            bool may =
                row.State
                is DeliveryState.Planned
                    or DeliveryState.WaitingForApproval
                    or DeliveryState.Substitute
                    or DeliveryState.PostItYourself;
            if (!may)
                return;
            foreach (Row along in Along(row))
                along.State = DeliveryState.Cancelled;
            row.State = DeliveryState.Cancelled;
        }

        private void Move(List<(Row Row, Instant? To)> wishes, bool together)
        {
            HashSet<Row> stay =
            [
                .. wishes
                    .Where(w =>
                        w.To is null
                        || w.Row.State is not (DeliveryState.Planned or DeliveryState.WaitingForApproval)
                        || IsDisconnected(w.Row)
                    )
                    .Select(w => w.Row),
            ];
            bool again = true;
            while (again)
            {
                again = false;
                List<(Row Row, Instant? To)> going = [.. wishes.Where(w => !stay.Contains(w.Row)).OrderBy(w => w.Row.At)];
                List<Row> held = [];
                for (int i = 0; i < going.Count; i++)
                {
                    (Row row, Instant? to) = going[i];
                    bool blocked =
                        rows.Any(r => r != row && going.All(g => g.Row != r) && Goes(r) && Same(r, row) && r.At == to)
                        || going.Take(i).Any(g => !held.Contains(g.Row) && Same(g.Row, row) && g.To == to);
                    if (blocked)
                        held.Add(row);
                }
                again = held.Count > 0;
                stay.UnionWith(held);
            }
            if (together && stay.Count > 0)
                return;
            IEnumerable<(Row Row, Instant? To)> inTurn = together ? wishes : wishes.OrderBy(w => w.Row.At);
            (Row Row, Instant To)[] move = [.. inTurn.Where(w => !stay.Contains(w.Row)).Select(w => (w.Row, w.To!.Value))];
            (Row Row, Instant To)[] along = [.. move.SelectMany(m => Along(m.Row).Select(s => (s, m.To)))];
            foreach ((Row row, Instant to) in move)
                row.At = to;
            HashSet<Row> moved = [];
            foreach ((Row row, Instant to) in along)
            {
                if (rows.Any(r => r != row && Goes(r) && Same(r, row) && r.At == to && (moved.Contains(r) || along.All(a => a.Row != r))))
                    row.State = DeliveryState.Cancelled;
                else
                    (row.At, _) = (to, moved.Add(row));
            }
        }

        private IEnumerable<Row> Along(Row row) =>
            rows.Where(r => r != row && r.Place is not null && r.Place == row.Place && r.State == DeliveryState.Substitute).ToArray();

        private bool IsDisconnected(Row row) => snapshot.Channels[row.Channel].Connection == ConnectionState.Disconnected;

        private static bool Same(Row a, Row b) => a.Post == b.Post && a.Channel == b.Channel;

        private static bool Goes(Row row) => row.State is not (DeliveryState.Cancelled or DeliveryState.Missed or DeliveryState.Refused);

        private Row Of(Delivery d) => rows.Single(r => r.Id == d.Id);

        /// <summary>Null: it isn't to come.</summary>
        private Instant? At(LocalDateTime local)
        {
            Instant at = local.InZoneLeniently(PlanScene.Dublin).ToInstant();
            return at > now && local.Date >= now.InZone(PlanScene.Dublin).Date ? at : null;
        }
    }
}
