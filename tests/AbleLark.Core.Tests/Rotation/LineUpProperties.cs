using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>What holds for any rota and bank; each is tried on hundreds of random ones.</summary>
public sealed class LineUpProperties
{
    private const int Days = 42;

    private static readonly Gen<Scene> Scenes = RandomScenes.All;

    [Fact]
    public void No_post_goes_twice_to_a_channel_on_one_date()
    {
        Scenes.Sample(scene => Sendings(scene).GroupBy(s => (s.Post.Id, s.Channel, s.Date)).All(g => g.Count() == 1));
    }

    [Fact]
    public void A_once_post_goes_at_most_once_to_a_channel()
    {
        Scenes.Sample(scene =>
            Sendings(scene).Where(s => s.Post.Lifespan == Lifespan.Once).GroupBy(s => (s.Post.Id, s.Channel)).All(g => g.Count() == 1)
        );
    }

    [Fact]
    public void Every_channel_of_an_occurrence_is_filled_or_says_why_not()
    {
        Scenes.Sample(scene =>
            scene
                .Project(Days)
                .All(p =>
                    p.Picks.Select(k => k.ChannelId).SequenceEqual(p.Occurrence.Slot.Channels)
                    && p.Picks.All(k => k.PostId is not null || k.Reason.Words.Length > 0)
                )
        );
    }

    [Fact]
    public void The_numbers_in_a_reason_add_up()
    {
        Scenes.Sample(scene =>
            scene.Project(Days).All(p => p.Reason.Counts is null || p.Reason.Counts.Sum(c => c.Posts) == p.Reason.InCategory)
        );
    }

    [Fact]
    public void The_same_input_gives_the_same_line_up()
    {
        Scenes.Sample(scene => Written(scene.Project(Days)) == Written(scene.Project(Days)));
    }

    [Fact]
    public void A_longer_look_ahead_never_changes_a_shorter_one()
    {
        Scenes.Sample(scene =>
        {
            IReadOnlyList<LineUpPlace> shorter = scene.Project(14);
            return Written(shorter) == Written([.. scene.Project(Days).Take(shorter.Count)]);
        });
    }

    [Fact]
    public void The_same_text_never_comes_within_thirty_days_on_a_network_that_forbids_it()
    {
        Scenes.Sample(scene =>
        {
            var jots = Sendings(scene).Where(s => s.Network == "jot").GroupBy(s => s.Text);
            return jots.All(g =>
                g.OrderBy(s => s.Date)
                    .Zip(g.OrderBy(s => s.Date).Skip(1))
                    .All(pair => Period.DaysBetween(pair.First.Date, pair.Second.Date) >= 30)
            );
        });
    }

    [Fact]
    public void Only_ready_posts_in_rotation_that_fit_are_sent()
    {
        Scenes.Sample(scene =>
            Sendings(scene)
                .All(s => s.Post is { Stage: Stage.Ready or Stage.WaitingForApproval, InRotation: true } && s.Post.Fits[s.Network].Fits)
        );
    }

    private sealed record Sending(Post Post, string Text, Id<Channel> Channel, string Network, LocalDate Date);

    private static List<Sending> Sendings(Scene scene)
    {
        Dictionary<Id<Channel>, string> networks = scene.Input().Channels.ToDictionary(c => c.Id, c => c.Network);
        return
        [
            .. from place in scene.Project(Days)
            from pick in place.Picks
            where pick.PostId is not null && !pick.IsGiven
            let post = scene.Bank.Single(p => p.Id == pick.PostId)
            let fit = post.Fits[networks[pick.ChannelId]]
            select new Sending(
                post,
                pick.Wording == 0 ? fit.TextFingerprint! : fit.Wordings![pick.Wording - 1].TextFingerprint!,
                pick.ChannelId,
                networks[pick.ChannelId],
                place.Occurrence.At.InZone(scene.Zone).Date
            ),
        ];
    }

    private static string Written(IReadOnlyList<LineUpPlace> places) =>
        string.Join(
            '\n',
            places.Select(p =>
                $"{p.Occurrence.Origin} {string.Join(',', p.Picks.Select(k => $"{k.ChannelId}={k.PostId}:{k.Reason.Words}"))}"
            )
        );
}
