using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Outgoing;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.Outgoing;

/// <summary>
/// The process dies at each named point of a sending, one after the other, with and without keys, with answers and without. Whoever takes
/// over goes on from what was written down: the post is on the network once, and the delivery says so. Time passes by moving what was
/// written into the past.
/// </summary>
public sealed class CrashTests
{
    [Theory]
    [InlineData(true, false)]
    [InlineData(true, true)]
    [InlineData(false, false)]
    [InlineData(false, true)]
    public async Task A_death_at_any_point_leaves_one_post_and_a_delivery_that_says_so(bool honoursKeys, bool loseAnswer)
    {
        string rules = TestInstallation.RulesFolder(honoursKeys, appearsWithinSeconds: 60);
        await using CrashInstallation crash = await CrashInstallation.StartAsync(rules, honoursKeys);
        foreach (bool picture in new[] { false, true })
        {
            // Gone through once without a death, to know the points; then once for each of them.
            List<string> points = await crash.SendAsync($"Whole {picture}", picture, loseAnswer, dieAt: -1);
            Assert.Contains("post called", points);
            for (int i = 0; i < points.Count; i++)
                await crash.SendAsync($"Dies at {i}, {points[i]}, {picture}", picture, loseAnswer, dieAt: i);
        }
    }

    [Fact]
    public async Task Two_deaths_one_after_the_other_change_nothing()
    {
        string rules = TestInstallation.RulesFolder(honoursKeys: false, appearsWithinSeconds: 60);
        await using CrashInstallation crash = await CrashInstallation.StartAsync(rules, honoursKeys: false);
        int most = (await crash.SendAsync("Whole", picture: false, loseAnswer: true, dieAt: -1)).Count;
        for (int first = 0; first < most; first++)
        {
            for (int second = first % 3; second < most; second += 3)
                await crash.SendAsync($"Dies at {first} and {second}", picture: false, loseAnswer: true, first, second);
        }
    }

    /// <summary>The steps of a thread of two parts with a first comment.</summary>
    private static IReadOnlyList<SendingStep> ThreeSteps(ResolvedContent content, NetworkRules rules) =>
        SendingSteps.Of(
            new(
                content
                    .Fields.With(ContentFields.Thread, new PostThread([new(content.Text + Part)]))
                    .With(ContentFields.FirstComment, content.Text + Comment)
            ),
            rules
        );

    private const string Part = ", part two";
    private const string Comment = ", commented";

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task A_post_of_several_steps_is_whole_and_once_on_the_network_wherever_the_process_dies(bool loseAnswers)
    {
        string rules = TestInstallation.RulesFolder(honoursKeys: false, appearsWithinSeconds: 60);
        await using CrashInstallation crash = await CrashInstallation.StartAsync(rules, honoursKeys: false, ThreeSteps);
        string[] more = [Part, Comment];
        List<string> points = await crash.SendAsync("Whole", false, loseAnswers, -1, more);
        Assert.Contains("comment called", points);
        for (int i = 0; i < points.Count; i++)
            await crash.SendAsync($"Dies at {i}, {points[i]}", false, loseAnswers, i, more);
    }

    [Fact]
    public async Task Where_the_post_is_out_and_more_of_it_is_refused_it_is_sent_and_says_what_is_lacking()
    {
        string rules = TestInstallation.RulesFolder(honoursKeys: true, appearsWithinSeconds: 60);
        await using CrashInstallation crash = await CrashInstallation.StartAsync(rules, honoursKeys: true, ThreeSteps);
        Delivery sent = await crash.SendRefusedAfterAsync("Half", "part-2 recorded");
        Assert.Equal(DeliveryState.Sent, sent.State);
        Assert.StartsWith("The post is out, but not all of it. ", sent.Trouble, StringComparison.Ordinal);
        Assert.NotNull(sent.Address);
    }

    private sealed class CrashInstallation : IAsyncDisposable
    {
        private readonly TestInstallation _installation;
        private readonly CrashPoints _points;
        private Channel _channel = null!;
        private Post _post = null!;
        private Workspace _workspace = null!;
        private Guid _picture;

        private CrashInstallation(TestInstallation installation)
        {
            _installation = installation;
            _points = installation.Services.GetRequiredService<CrashPoints>();
        }

        public static async Task<CrashInstallation> StartAsync(string rules, bool honoursKeys, StepsOf? steps = null)
        {
            TestInstallation installation = new()
            {
                Settings = new Dictionary<string, string> { ["Lark:NetworksFolder"] = rules },
                Replaced = services => services.AddSingleton(steps ?? SendingSteps.Of),
            };
            await installation.InitializeAsync();
            await installation.BehaveAsync("hearth", honoursKeys);
            CrashInstallation crash = new(installation);
            Guid channel = await installation.ConnectAsync(installation.Ada, "hearth", "crash");
            Guid category = await installation.Ada.CategoryAsync("Crash", channel);
            crash._picture = await installation.Ada.PictureAsync();
            Guid post = (await installation.Ada.PostAsync(category, "x")).Id();
            await using LarkDb db = Databases.Open(installation.Database);
            crash._channel = await db.Channels.SingleAsync();
            crash._post = await db.Posts.AsNoTracking().SingleAsync(p => p.Id == new Id<Post>(post));
            crash._workspace = await db.Workspaces.SingleAsync(w => w.Id == crash._channel.WorkspaceId);
            return crash;
        }

        /// <summary>Sends one post, dying at the points of these numbers, counted anew after each death; returns the points that were
        /// reached.</summary>
        public Task<List<string>> SendAsync(string text, bool picture, bool loseAnswer, params int[] dieAt) =>
            SendAsync(text, picture, loseAnswer, dieAt, []);

        /// <param name="more">What stands under it: each is its text with this behind.</param>
        public Task<List<string>> SendAsync(string text, bool picture, bool loseAnswer, int dieAt, string[] more) =>
            SendAsync(text, picture, loseAnswer, [dieAt], more);

        /// <summary>Sends one post to a network that refuses whatever comes after a point.</summary>
        public async Task<Delivery> SendRefusedAfterAsync(string text, string point)
        {
            Id<Delivery> id = await PlanAsync(text, picture: false);
            _points.Reached = reached =>
            {
                if (reached == point)
                    _installation.OrderAsync("refuse", 1, "hearth-crash").GetAwaiter().GetResult();
            };
            Delivery sent = await UntilEndedAsync(id);
            _points.Reached = null;
            await _installation.ClearFaultsAsync();
            return sent;
        }

        private async Task<List<string>> SendAsync(string text, bool picture, bool loseAnswer, int[] dieAt, string[] more)
        {
            Id<Delivery> id = await PlanAsync(text, picture);
            // With a picture the first call is its upload; the answer that matters is the post's.
            if (loseAnswer)
                await _installation.OrderAsync("loseAnswer", (picture ? 2 : 1) + more.Length, "hearth-crash");
            List<string> reached = [];
            Queue<int> deaths = new(dieAt);
            int count = 0;
            _points.Reached = point =>
            {
                reached.Add(point);
                if (!deaths.TryPeek(out int at) || count++ != at)
                    return;
                deaths.Dequeue();
                count = 0;
                throw new CrashException(point);
            };
            Delivery sent = await UntilEndedAsync(id);
            _points.Reached = null;
            await _installation.ClearFaultsAsync();
            IReadOnlyList<string> posted = await _installation.PostedAsync("hearth-crash");
            int there = posted.Count(t => t == text);
            Assert.All(more, m => Assert.Single(posted, text + m));
            Assert.True(
                there == 1 && sent.State == DeliveryState.Sent,
                $"“{text}”: {there} on the network, {sent.State}. {sent.Trouble} Points: {string.Join(", ", reached)}"
            );
            Assert.NotNull(sent.RemoteId);
            return reached;
        }

        private async Task<Delivery> UntilEndedAsync(Id<Delivery> id)
        {
            for (int i = 0; i < 30; i++)
            {
                await _installation.SendDueAsync();
                Delivery now = await _installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.Id == id));
                if (now.State != DeliveryState.Sending)
                    return now;
                await PassAsync(id);
            }
            return await _installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.Id == id));
        }

        /// <summary>Twenty seconds pass for this delivery: leases run out, waits end, posts have had longer to appear.</summary>
        private Task PassAsync(Id<Delivery> id) =>
            _installation.WriteAsync(
                $"""
                update deliveries set lease_until = lease_until - interval '80 seconds' where id = {id.Value};
                update delivery_attempts set started_at = started_at - interval '20 seconds', ended_at = ended_at - interval
                    '20 seconds', looked_up_at = looked_up_at - interval '20 seconds' where delivery_id = {id.Value};
                delete from work_failures;
                """
            );

        private async Task<Id<Delivery>> PlanAsync(string text, bool picture)
        {
            await using LarkDb db = Databases.Open(_installation.Database);
            Post post = new()
            {
                WorkspaceId = _workspace.Id,
                Id = Id<Post>.New(),
                Title = text,
                CategoryId = _post.CategoryId,
                Stage = Stage.Ready,
                AddedAt = _post.AddedAt,
                Content = picture
                    ? PostContent.Empty.With(ContentFields.Text, text).With(ContentFields.Pictures, Pictures.Of(new(_picture)))
                    : PostContent.Empty.With(ContentFields.Text, text),
                Fits = _post.Fits,
                Version = 1,
            };
            db.Posts.Add(post);
            db.PostVersions.Add(
                new()
                {
                    WorkspaceId = post.WorkspaceId,
                    PostId = post.Id,
                    Number = 1,
                    Content = post.Content,
                    MadeAt = post.AddedAt!.Value,
                }
            );
            Instant at = await _installation.NowAsync() - Duration.FromSeconds(1);
            LocalDateTime local = at.InZone(_workspace.Zone).LocalDateTime;
            Delivery delivery = new()
            {
                WorkspaceId = post.WorkspaceId,
                Id = Id<Delivery>.New(),
                PostId = post.Id,
                ChannelId = _channel.Id,
                Time = PlannedTime.Of(at, _workspace.Zone),
                Origin = Origin.ExactTime(post.Id, local),
            };
            db.Deliveries.Add(delivery);
            await db.SaveChangesAsync();
            return delivery.Id;
        }

        public ValueTask DisposeAsync() => _installation.DisposeAsync();
    }
}
