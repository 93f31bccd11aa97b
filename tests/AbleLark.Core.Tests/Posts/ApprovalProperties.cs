using AbleLark.Core.Acts;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Posts;
using CsCheck;
using NodaTime;

namespace AbleLark.Core.Tests.Posts;

/// <summary>Random courses of a post's life: nothing that needs approval goes without one for that very content.</summary>
public sealed class ApprovalProperties
{
    private static readonly string[] Networks = ["hearth", "jot"];
    private static readonly string[] Texts = ["a", "b", "c"];

    private enum Act
    {
        MakeReady,
        MakeReadyAsWriter,
        AskForApproval,
        Approve,
        SendBack,
        PutBack,
        EditAll,
        EditOne,
        EditAsWriter,
        CategoryAsks,
        CategoryAsksNoMore,
        TakeEditBack,
        TakeApprovalBack,
    }

    /// <summary>A post and, kept beside it without any of its rules, what was approved in so many words.</summary>
    private sealed class Life
    {
        private readonly List<(Dictionary<string, string> Texts, bool Writer)> _before = [];
        private readonly List<Approval> _approvals = [];
        private readonly List<HashSet<(string Network, string Text)>> _yes = [];
        private Dictionary<string, string> _texts = Networks.ToDictionary(n => n, _ => "a");
        private bool _categoryAsks;
        private bool _asked;

        public Post Post { get; } =
            new()
            {
                WorkspaceId = new(Guid.NewGuid()),
                Id = Id<Post>.New(),
                Title = "t",
                CategoryId = new(Guid.NewGuid()),
            };

        public Life() => Store();

        public void Do(Act act, int pick)
        {
            switch (act)
            {
                case Act.MakeReady:
                    MakeReady(asks: false);
                    break;
                case Act.MakeReadyAsWriter:
                    MakeReady(asks: true);
                    break;
                case Act.AskForApproval:
                    Post.AskForApproval();
                    _asked = true;
                    break;
                case Act.Approve when Post.Stage == Stage.WaitingForApproval:
                    _approvals.Add(Post.Approve(null, Instant.MinValue));
                    _yes.Add([.. _texts.Select(t => (t.Key, t.Value))]);
                    break;
                case Act.SendBack when Post.Stage == Stage.WaitingForApproval:
                    Post.SendBack("no");
                    break;
                case Act.PutBack:
                    Post.PutBackTo(Stage.Draft);
                    break;
                case Act.EditAll:
                    Edit(Networks.ToDictionary(n => n, _ => Texts[pick % 3]), writer: false);
                    break;
                case Act.EditOne:
                    Edit(new(_texts) { [Networks[pick % 2]] = Texts[pick % 3] }, writer: false);
                    break;
                case Act.EditAsWriter:
                    Edit(new(_texts) { [Networks[pick % 2]] = Texts[pick % 3] }, writer: true);
                    break;
                case Act.CategoryAsks:
                    _categoryAsks = true;
                    break;
                case Act.CategoryAsksNoMore:
                    _categoryAsks = false;
                    break;
                case Act.TakeEditBack when _before.Count > 0:
                    (_texts, _) = _before[pick % _before.Count];
                    Store();
                    break;
                case Act.TakeApprovalBack when _approvals.Count > 0:
                    _approvals.RemoveAt(pick % _approvals.Count);
                    _yes.RemoveAt(pick % _yes.Count);
                    break;
            }
            Post.Reconsider(_categoryAsks, _approvals);
        }

        private void MakeReady(bool asks)
        {
            Post.MakeReady(_categoryAsks, asks);
            _asked = asks;
        }

        private void Edit(Dictionary<string, string> texts, bool writer)
        {
            _before.Add((_texts, writer));
            _texts = texts;
            Store();
            if (Post.Stage is Stage.Ready or Stage.WaitingForApproval)
                MakeReady(writer || _asked);
        }

        private void Store()
        {
            Post.Fits = Networks.ToDictionary(n => n, n => new Fit([], _texts[n]));
            Post.Hashes = Networks.ToDictionary(n => n, n => (IReadOnlyList<string>)[Hash(n)]);
        }

        private string Hash(string network) =>
            ContentHash.Of(new(FieldValues.Empty.With(ContentFields.Text, _texts[network])), ContentSources.None);

        /// <summary>What the sender and the scheduling ask: its stage, and whether that network's content waits.</summary>
        public bool WouldGo(string network) => Post.Stage is Stage.Ready or Stage.WaitingForApproval && !Post.Waits(On(network), 0);

        private static Channel On(string network) =>
            new()
            {
                WorkspaceId = default,
                Id = default,
                Network = network,
                Account = "a",
                Name = "A",
                Handle = "a",
            };

        public bool MayGo(string network) => !(_categoryAsks || _asked) || _yes.Any(y => y.Contains((network, _texts[network])));

        public bool IsFree => Networks.All(MayGo);
    }

    [Fact]
    public void Nothing_that_needs_approval_goes_without_one_for_that_very_content_and_nothing_else_is_kept_back()
    {
        Gen.Select(Gen.Enum<Act>(), Gen.Int[0, 5])
            .Array[1, 40]
            .Sample(
                acts =>
                {
                    Life life = new();
                    foreach ((Act act, int pick) in acts)
                    {
                        life.Do(act, pick);
                        if (life.Post.Stage is not (Stage.Ready or Stage.WaitingForApproval))
                        {
                            Assert.All(Networks, n => Assert.False(life.WouldGo(n)));
                            continue;
                        }
                        Assert.All(Networks, n => Assert.Equal(life.MayGo(n), life.WouldGo(n)));
                        Assert.Equal(life.IsFree ? Stage.Ready : Stage.WaitingForApproval, life.Post.Stage);
                    }
                },
                iter: Effort.Of(5000)
            );
    }

    [Fact]
    public void An_approval_covers_a_network_that_was_not_known_yet_by_the_same_content()
    {
        Approval approval = new()
        {
            WorkspaceId = new(Guid.NewGuid()),
            Id = Id<Approval>.New(),
            PostId = Id<Post>.New(),
            Version = 1,
            At = Instant.MinValue,
            Hashes = new Dictionary<string, IReadOnlyList<string>> { ["hearth"] = ["x"], ["jot"] = ["y", "z"] },
        };
        Assert.Equal(
            [true, false, true, true, true, false],
            [
                approval.Covers("hearth", "x"),
                approval.Covers("hearth", "y"),
                approval.Covers("jot", "z"),
                approval.Covers("newer", "x"),
                approval.Covers("newer", "z"),
                approval.Covers("newer", "w"),
            ]
        );
    }
}
