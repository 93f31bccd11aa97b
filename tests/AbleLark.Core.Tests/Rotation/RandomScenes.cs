using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.LineUps;
using AbleLark.Core.Orders;
using AbleLark.Core.Pauses;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Rotation;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>Random workspaces: channels on both kinds of network, categories of every order, several rotas, decisions, pauses, moves, a
/// past.</summary>
internal static class RandomScenes
{
    public static Gen<Scene> All { get; } =
        Gen.Select(Gen.Int[0, int.MaxValue - 1], Gen.Int[1, 4], Gen.Int[1, 7], Gen.Int[0, 20])
            .Select((seed, channels, slots, posts) => Build(new(seed), channels, slots, posts));

    public static Scene Build(Random chance, int channels, int slots, int posts)
    {
        Scene scene = new();
        bool Once(int in_) => chance.Next(in_) == 0;
        Channel[] all = [.. Enumerable.Range(0, channels).Select(_ => scene.Channel(Once(2) ? "jot" : "hearth"))];
        foreach (Channel channel in all)
        {
            if (Once(5))
                channel.Spacing = Duration.FromMinutes(30 * chance.Next(1, 6));
            if (Once(5))
                channel.DailyLimit = chance.Next(1, 3);
            if (Once(8))
                channel.Zone = DateTimeZoneProviders.Tzdb["Pacific/Auckland"];
        }
        Category[] categories = [.. Enumerable.Range(0, 3).Select(_ => scene.Category(Some(chance, all)))];
        foreach (Category category in categories)
        {
            category.Order = new((Order)chance.Next(5), Once(4), Once(3), chance.Next(4));
            if (Once(3))
                category.GapDays = chance.Next(1, 15);
        }
        Rota[] rotas =
        [
            scene.Rota,
            .. Once(3)
                ?
                [
                    scene.AnotherRota(
                        Scene.Monday.PlusDays(chance.Next(20)),
                        Scene.Monday.PlusDays(20 + chance.Next(20)),
                        Once(2) ? scene.Rota : null
                    ),
                ]
                : Array.Empty<Rota>(),
        ];
        List<Slot> made = [];
        for (int i = 0; i < slots; i++)
            made.Add(NewSlot(chance, scene, rotas, categories, all));
        for (int i = 0; i < posts; i++)
            NewPost(chance, scene, categories, all);
        if (posts > 0)
            NewPast(chance, scene, categories, all, posts / 2);
        if (posts > 0)
            Decide(chance, scene, made, all);
        if (Once(4))
            scene.Rest(
                (Paused)chance.Next(3),
                chance.Next(3) switch
                {
                    0 => made[chance.Next(made.Count)].Id.Value,
                    1 => categories[chance.Next(3)].Id.Value,
                    _ => all[chance.Next(all.Length)].Id.Value,
                },
                Scene.Monday.PlusDays(chance.Next(20)),
                Once(3) ? null : Scene.Monday.PlusDays(20 + chance.Next(10))
            );
        return scene;
    }

    private static Slot NewSlot(Random chance, Scene scene, Rota[] rotas, Category[] categories, Channel[] all)
    {
        IsoDayOfWeek[] days = [.. Enumerable.Range(1, 7).Where(_ => chance.Next(3) == 0).Select(d => (IsoDayOfWeek)d)];
        Slot slot = scene.SlotIn(
            rotas[chance.Next(rotas.Length)],
            categories[chance.Next(3)],
            new(chance.Next(24), 30 * chance.Next(2)),
            days.Length > 0 ? days : [IsoDayOfWeek.Friday],
            Some(chance, all)
        );
        slot.Anchor = Scene.Monday.PlusDays(-chance.Next(60));
        if (chance.Next(8) == 0)
            slot.Source = SlotSource.None;
        else if (chance.Next(3) == 0)
            slot.Source = new([.. categories.Where(c => chance.Next(3) > 0).Select(c => c.Id)]);
        if (chance.Next(4) == 0)
            slot.Every = chance.Next(1, 4);
        if (chance.Next(6) == 0)
            (slot.Rhythm, slot.Days, slot.Every) = (Rhythm.Days, [], chance.Next(1, 9));
        slot.FillsEveryChannel = chance.Next(3) == 0;
        slot.Source = slot.Source with { IsPool = slot.Source.Categories.Count > 1 && chance.Next(2) == 0 };
        if (slot.Source.IsPool || chance.Next(6) == 0)
            slot.Source = slot.Source with { Order = new((Order)chance.Next(5), chance.Next(4) == 0, chance.Next(3) == 0, chance.Next(4)) };
        return slot;
    }

    private static void NewPost(Random chance, Scene scene, Category[] categories, Channel[] all) =>
        scene.Post(
            categories[chance.Next(3)],
            p =>
            {
                switch (chance.Next(6))
                {
                    case 0:
                        p.PutBackTo(Stage.Draft);
                        break;
                    case 1:
                        p.AskForApproval();
                        break;
                    case 2 when chance.Next(3) == 0:
                        p.PutBackTo(Stage.Idea);
                        break;
                }
                p.InRotation = chance.Next(8) != 0;
                p.Lifespan = chance.Next(8) switch
                {
                    0 or 1 => Lifespan.Once,
                    2 => Lifespan.OnceAltogether,
                    _ => Lifespan.Evergreen,
                };
                if (chance.Next(6) == 0)
                    p.Fits["jot"] = new([Scene.TooLong], "long");
                if (chance.Next(5) == 0)
                    p.Fits["jot"] = new(
                        chance.Next(3) == 0 ? [Scene.TooLong] : [],
                        p.Fits["jot"].TextFingerprint,
                        [new([], $"other {p.Title}"), new(chance.Next(2) == 0 ? [Scene.TooLong] : [], $"third {p.Title}")]
                    );
                if (chance.Next(4) == 0)
                    p.Fits["jot"] = p.Fits["jot"] with { Approved = [chance.Next(3)] };
                if (chance.Next(12) == 0)
                    p.Fits["jot"] = p.Fits["jot"] with { TextFingerprint = "the same words" };
                if (chance.Next(6) == 0)
                    p.From = Scene.Monday.PlusDays(chance.Next(30));
                if (chance.Next(6) == 0)
                    p.To = Scene.Monday.PlusDays(chance.Next(40));
                if (chance.Next(6) == 0)
                    p.GapDays = chance.Next(1, 20);
                if (chance.Next(5) == 0)
                    p.FurtherCategories = [categories[chance.Next(3)].Id];
                if (chance.Next(8) == 0)
                    p.Channels = [.. Some(chance, all).Select(c => c.Id)];
                if (chance.Next(5) == 0)
                    p.AddedAt = scene.Now - Duration.FromDays(50);
                foreach (Channel channel in all)
                    scene.Scores[(p.Id, channel.Id)] = 0.5 + (chance.Next(7) / 4.0);
            }
        );

    private static void NewPast(Random chance, Scene scene, Category[] categories, Channel[] all, int count)
    {
        DeliveryState[] states =
        [
            DeliveryState.Sent,
            DeliveryState.Sent,
            DeliveryState.Refused,
            DeliveryState.Missed,
            DeliveryState.Cancelled,
        ];
        int round = 1;
        for (int i = 0; i < count; i++)
        {
            Post post = scene.Bank[chance.Next(scene.Bank.Count)];
            if (post.Lifespan != Lifespan.Evergreen)
                continue;
            if (chance.Next(4) == 0)
                round++;
            DrawnBy? given =
                chance.Next(2) == 0
                    ? null
                    : new(categories[chance.Next(3)].Id.Value, chance.Next(2) == 0 ? Order.OldestFirst : Order.Shuffled, round);
            scene.Delivery(
                post,
                all[chance.Next(all.Length)],
                scene.Now - Duration.FromHours(1500 - (i * 60) - chance.Next(50)),
                states[chance.Next(states.Length)],
                dealtWith: chance.Next(2) == 0,
                given: given
            );
            if (chance.Next(6) == 0)
                scene.Delivery(
                    scene.Bank[chance.Next(scene.Bank.Count)],
                    all[chance.Next(all.Length)],
                    scene.Now + Duration.FromHours(5 + chance.Next(800)),
                    DeliveryState.Planned,
                    wording: chance.Next(3)
                );
        }
        for (int i = 0; i < count / 4; i++)
        {
            Post post = scene.Bank[chance.Next(scene.Bank.Count)];
            Channel channel = all[chance.Next(all.Length)];
            if (scene.Moves.All(m => (m.PostId, m.ChannelId) != (post.Id, channel.Id)))
                scene.Move(post, channel, (Side)chance.Next(2), scene.Now - Duration.FromHours(chance.Next(200)));
        }
    }

    private static void Decide(Random chance, Scene scene, List<Slot> slots, Channel[] all)
    {
        foreach (Slot slot in slots.Where(_ => chance.Next(4) == 0))
        {
            LocalDate date = Scene.Monday.PlusDays(chance.Next(30));
            if (!slot.ComesRoundOn(date))
                continue;
            scene.Decide(
                slot,
                date,
                d =>
                {
                    switch (chance.Next(3))
                    {
                        case 0:
                            d.IsSkipped = true;
                            break;
                        case 1:
                            d.MovedTo = date.PlusDays(chance.Next(4)) + new LocalTime(chance.Next(24), 15);
                            break;
                        default:
                            d.Posts =
                            [
                                new(all[chance.Next(all.Length)].Id, scene.Bank[chance.Next(scene.Bank.Count)].Id, chance.Next(2) == 0),
                            ];
                            break;
                    }
                }
            );
        }
    }

    private static Channel[] Some(Random chance, Channel[] all)
    {
        Channel[] some = [.. all.Where(_ => chance.Next(2) == 0)];
        return some.Length > 0 ? some : [all[0]];
    }
}
