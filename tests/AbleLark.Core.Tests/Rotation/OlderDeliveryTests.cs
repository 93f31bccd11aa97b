using System.Text.Json;
using AbleLark.Core.Bookings;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Outlooks;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>Summing the past up, and looking at one line-up for all, change nothing of what is shown.</summary>
public sealed class OlderDeliveryTests
{
    private const int Scenes = 600;
    private static readonly Duration Ahead = Duration.FromDays(25);

    [Fact]
    public void What_lies_back_and_is_summed_up_gives_the_same_line_up_runways_and_bookings()
    {
        int summedUp = 0;
        Effort.Each(
            Scenes,
            seed =>
            {
                (LineUpInput whole, Instant now) = Scene(seed);
                LineUpInput summed = SummedUp(whole, now);
                summedUp += whole.Deliveries.Count - summed.Deliveries.Count;
                IReadOnlyList<LineUpPlace> places = LineUp.Project(whole, now, now + Ahead, withSubstitutes: true);
                Assert.Equal(Words(places), Words(LineUp.Project(summed, now, now + Ahead, withSubstitutes: true)));
                Assert.Equal(Runways.Of(whole, places, 25), Runways.Of(summed, places, 25));
                foreach (LineUpPost post in whole.Bank.Take(3))
                {
                    (BookingPlan one, BookingPlan other) = (
                        new Booking(whole, now).Plan(post, BookingKind.VeryNext),
                        new Booking(summed, now).Plan(post, BookingKind.VeryNext)
                    );
                    Assert.Equal(one.Moves, other.Moves);
                    Assert.Equal(one.Sooner, other.Sooner);
                }
            }
        );
        Assert.True(summedUp > 5 * Effort.Of(Scenes), $"Only {summedUp} were summed up: the test proves too little.");
    }

    /// <summary>A weekly slot's place of next Tuesday was moved to last Tuesday and sent there; days later the move is taken
    /// back.</summary>
    [Fact]
    public void A_place_that_was_sent_earlier_than_its_date_is_not_open_again_when_its_move_is_taken_back_days_later()
    {
        int comeBack = 0;
        Effort.Each(
            Scenes,
            seed =>
            {
                (LineUpInput scene, Instant now) = Scene(seed);
                LineUpInput whole = WithPlacesSentEarlier(scene, now, new(seed));
                LineUpInput summed = SummedUp(whole, now);
                IReadOnlyList<LineUpPlace> places = LineUp.Project(whole, now, now + Ahead, withSubstitutes: true);
                comeBack += places.Count(p => p.Picks.Any(k => k.Scheduled?.At < now - Duration.FromDays(OlderDeliveries.Days)));
                Assert.Equal(Words(places), Words(LineUp.Project(summed, now, now + Ahead, withSubstitutes: true)));
            }
        );
        Assert.True(comeBack > Effort.Of(Scenes) / 2, $"Only {comeBack} places had been sent: the test proves too little.");
    }

    [Fact]
    public void Only_what_is_long_past_and_over_is_summed_up()
    {
        Effort.Each(
            200,
            seed =>
            {
                (LineUpInput whole, Instant now) = Scene(seed);
                Instant before = OlderDeliveries.Before(now, whole.Channels);
                Assert.True(now - before >= Duration.FromDays(OlderDeliveries.Days));
                foreach (LineUpDelivery d in whole.Deliveries.Except(SummedUp(whole, now).Deliveries))
                    Assert.True(d.TurnAt < before && d.At < before && !Core.Deliveries.DeliveryStates.IsToCome(d.State));
            }
        );
    }

    [Fact]
    public void Parts_of_the_past_put_together_are_what_all_of_it_adds_up_to()
    {
        int merged = 0;
        Effort.Each(
            200,
            seed =>
            {
                (LineUpInput whole, Instant now) = Scene(seed);
                Random chance = new(seed);
                Instant before = OlderDeliveries.Before(now, whole.Channels);
                // Each once more, some days earlier, in whichever part.
                LineUpDelivery[] deliveries =
                [
                    .. whole.Deliveries,
                    .. whole.Deliveries.Select(d => d with { Id = Id<Delivery>.New(), At = d.At - Duration.FromDays(chance.Next(9)) }),
                ];
                List<OlderDeliveries> parts =
                [
                    .. deliveries.GroupBy(_ => chance.Next(4)).Select(part => OlderDeliveries.Of(part, whole.Decisions, before).Older),
                ];
                OlderDeliveries all = OlderDeliveries.Of(deliveries, whole.Decisions, before).Older;
                OlderDeliveries together = OlderDeliveries.Together(parts);
                Assert.Equal(all.Turns.ToHashSet(), together.Turns.ToHashSet());
                Assert.Equal(all.Failures.ToHashSet(), together.Failures.ToHashSet());
                Assert.Equal(all.Draws.ToHashSet(), together.Draws.ToHashSet());
                merged += parts.Sum(p => p.Turns.Count) - together.Turns.Count;
            }
        );
        Assert.True(merged > Effort.Of(200), $"Only {merged} were of one kind in two parts: the test proves too little.");
    }

    [Fact]
    public void One_line_up_for_all_shows_each_what_its_own_would()
    {
        Effort.Each(
            120,
            seed =>
            {
                Random chance = new(seed);
                (LineUpInput input, Instant now) = Scene(seed);
                SharedLineUp shared = new(input);
                Assert.Same(input, shared.Input);
                for (int look = 0; look < 6; look++)
                {
                    now += Duration.FromMinutes(chance.Next(4) * 400);
                    Instant until = now + Duration.FromHours(chance.Next(-30, 24 * 60));
                    Assert.Equal(Words(LineUp.Project(input, now, until)), Words(shared.Project(now, until)));
                    int days = 7 * (1 + chance.Next(2));
                    LookAhead anew = LookAhead.Of(input, LineUp.Project(input, now, LookAhead.End(now, days)), now, days);
                    LookAhead kept = shared.Look(now, days);
                    Assert.Equal(JsonSerializer.Serialize(anew.Outlook), JsonSerializer.Serialize(kept.Outlook));
                    Assert.Equal(anew.Going.Order(), kept.Going.Order());
                }
            }
        );
    }

    [Fact]
    public void Whoever_looks_second_is_shown_what_was_worked_out_for_the_first()
    {
        (LineUpInput input, Instant now) = Scene(1);
        SharedLineUp shared = new(input);
        IReadOnlyList<LineUpPlace> strip = shared.Project(now, now + Duration.FromDays(28));
        Assert.NotEmpty(strip);
        Assert.All(strip.Zip(shared.Project(now, now + Duration.FromDays(35))), p => Assert.Same(p.First, p.Second));
    }

    private static (LineUpInput Input, Instant Now) Scene(int seed)
    {
        Random chance = new(seed);
        Scene scene = RandomScenes.Build(chance, 1 + chance.Next(4), 1 + chance.Next(9), chance.Next(40));
        return (scene.Input(), scene.Now);
    }

    /// <summary>Some deliveries that lie back are of places that are still to come; of the moves that brought them forward some were
    /// taken back since, some are there, and some lead to another day by now.</summary>
    private static LineUpInput WithPlacesSentEarlier(LineUpInput input, Instant now, Random chance)
    {
        HashSet<Origin> taken = [.. input.Deliveries.Select(d => d.Origin), .. input.Decisions.Select(d => d.Origin)];
        List<Occurrence> places =
        [
            .. Occurrences.Between(input.Rotas, now, now + Ahead, input.Decisions).Where(o => !taken.Contains(o.Origin)),
        ];
        List<Decision> moves = [];
        List<LineUpDelivery> deliveries = [];
        foreach (LineUpDelivery delivery in input.Deliveries)
        {
            if (delivery.TurnAt >= now || places.Count == 0 || chance.Next(2) == 0)
            {
                deliveries.Add(delivery);
                continue;
            }
            Occurrence place = places[chance.Next(places.Count)];
            places.Remove(place);
            deliveries.Add(delivery with { Origin = place.Origin });
            LocalDateTime? to = chance.Next(3) switch
            {
                0 => null,
                1 => delivery.At.InZone(place.Rota.Zone).LocalDateTime,
                _ => place.Origin.Date.PlusDays(chance.Next(-20, 20)) + new LocalTime(11, 0),
            };
            if (to is not null)
                moves.Add(
                    new()
                    {
                        WorkspaceId = place.Rota.WorkspaceId,
                        Id = new(new Guid(moves.Count + 1, 0, 0, new byte[8])),
                        Origin = place.Origin,
                        MovedTo = to,
                    }
                );
        }
        return input with { Deliveries = deliveries, Decisions = [.. input.Decisions, .. moves] };
    }

    private static LineUpInput SummedUp(LineUpInput input, Instant now)
    {
        (IReadOnlyList<LineUpDelivery> recent, OlderDeliveries older) = OlderDeliveries.Of(
            input.Deliveries,
            input.Decisions,
            OlderDeliveries.Before(now, input.Channels)
        );
        return input with { Deliveries = recent, Older = older };
    }

    private static IEnumerable<string> Words(IReadOnlyList<LineUpPlace> places) =>
        places.Select(p => $"{p.Occurrence.Origin} {p.Occurrence.At} {p.State} {string.Join(", ", p.Picks.Select(Words))}");

    private static string Words(Pick pick) =>
        $"{pick.ChannelId} {pick.PostId} {pick.Wording} {pick.DrawnBy} {pick.Reason.Words} {pick.IsWaiting} / {pick.Substitute?.PostId}";
}
