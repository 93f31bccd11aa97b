using AbleLark.Core.Acts;
using AbleLark.Core.Categories;
using AbleLark.Core.Channels;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Posts;

/// <summary>How far a post has come.</summary>
public enum Stage
{
    Idea,
    Draft,

    /// <summary>Waits for approval: it keeps its place, marked so.</summary>
    WaitingForApproval,
    Ready,
}

/// <summary>Common content, plus variants, with a main category: the stock that slots draw from.</summary>
public sealed class Post : IPlaceable
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Id<Post> Id { get; init; }
    public required string Title { get; set; }
    public required Id<Category> CategoryId { get; set; }

    /// <summary>Further categories: a kind and a topic, say. It takes turns in their lines too.</summary>
    public List<Id<Category>> FurtherCategories { get; set; } = [];

    private Stage _stage = Stage.Draft;

    /// <summary>Given when it is made; from then on changed by the acts below alone.</summary>
    public Stage Stage
    {
        get => _stage;
        init => _stage = value;
    }

    /// <summary>True: what it says needs approval whatever its categories say, since somebody asked for it or may not approve it
    /// themselves.</summary>
    public bool AsksForApproval { get; private set; }

    /// <summary>What was asked for when it was sent back; null: it wasn't, or has been made ready since.</summary>
    public string? SentBack { get; set; }

    public Lifespan Lifespan { get; set; } = Lifespan.Evergreen;

    /// <summary>First date on which it may go; null: at once.</summary>
    public LocalDate? From { get; set; }

    /// <summary>Last date on which it may go, included; null: without end.</summary>
    public LocalDate? To { get; set; }

    /// <summary>Its own gap, in days; null takes its main category's.</summary>
    public int? GapDays { get; set; }

    /// <summary>False: left out of rotation by the planner.</summary>
    public bool InRotation { get; set; } = true;

    /// <summary>When it first became ready; null while it never was.</summary>
    public Instant? AddedAt { get; set; }

    /// <summary>Position among posts added at the same instant: the order of an import's file.</summary>
    public int AddedOrder { get; set; }

    /// <summary>Channels chosen for this post; null takes its category's usual ones.</summary>
    public List<Id<Channel>>? Channels { get; set; }

    public PostContent Content { get; set; } = PostContent.Empty;

    /// <summary>For whoever plans and writes; never sent.</summary>
    public string Notes { get; set; } = "";

    /// <summary>What it is called elsewhere, in a sheet that it came from; unique among the workspace's posts that are there.</summary>
    public string? OutsideId { get; set; }

    /// <summary>Number of the latest version of the content; grows by one with each change.</summary>
    public int Version { get; set; } = 1;

    /// <summary>By network key, and by identity for each channel that has content of its own; see <see cref="Placeables"/>.</summary>
    public Dictionary<string, Fit> Fits { get; set; } = [];

    /// <summary>By the keys of <see cref="Fits"/>: the <see cref="ContentHash"/> of each wording, the post's own first; written with
    /// <see cref="Fits"/>.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string>> Hashes { get; set; } = new Dictionary<string, IReadOnlyList<string>>();

    /// <summary>What stands for the rules by which <see cref="Fits"/> was worked out.</summary>
    public string CheckedBy { get; set; } = "";

    /// <summary>Takes over how it was found to stand.</summary>
    public void Take(PostChecks checks) => (Fits, Hashes, CheckedBy) = (checks.Fits(), checks.Hashes(), checks.Rules);

    /// <summary>What a search looks through; written whenever it is saved (see <see cref="PostSearch"/>).</summary>
    public string SearchText { get; set; } = "";

    /// <summary>The files that anything of its content names; written whenever it is saved.</summary>
    public List<Id<MediaFile>> FileIds { get; set; } = [];

    /// <summary>Set when it was taken out of the bank; kept so that it can be brought back.</summary>
    public Instant? RemovedAt { get; set; }

    /// <summary>Makes it ready, or, where somebody has to approve it first, lets it wait for that. What has approvals is then
    /// <see cref="Reconsider"/>ed.</summary>
    /// <param name="asks">True: it needs approval whatever its categories say.</param>
    public void MakeReady(bool categoryAsks, bool asks = false)
    {
        (_stage, SentBack, AsksForApproval) = (categoryAsks || asks ? Stage.WaitingForApproval : Stage.Ready, null, asks);
    }

    /// <summary>Waits for approval, whether or not its category asks for one.</summary>
    public void AskForApproval() => MakeReady(categoryAsks: true, asks: true);

    /// <summary>Not ready any more, or not yet: an idea or a draft.</summary>
    /// <exception cref="ArgumentException">That is another act's to do.</exception>
    public void PutBackTo(Stage stage)
    {
        if (stage is not (Stage.Idea or Stage.Draft))
            throw new ArgumentException($"A post becomes {stage} by being made ready or approved.", nameof(stage));
        _stage = stage;
    }

    /// <summary>Somebody read it in its present version and approves all of it; ready once that is <see cref="Reconsider"/>ed.</summary>
    /// <exception cref="InvalidOperationException">It doesn't wait for approval.</exception>
    public Approval Approve(Actor? by, Instant at)
    {
        if (_stage != Stage.WaitingForApproval)
            throw new InvalidOperationException($"A post that is {_stage} doesn't wait for approval.");
        return new()
        {
            WorkspaceId = WorkspaceId,
            Id = Id<Approval>.New(),
            PostId = Id,
            Version = Version,
            By = by,
            At = at,
            Hashes = Hashes,
        };
    }

    /// <summary>
    /// Ready, or waiting for approval: the one place where that is decided for a post that is either. It waits while approval is needed and
    /// any of its content isn't covered; where only some of it is, that may go.
    /// </summary>
    public void Reconsider(bool categoryAsks, IReadOnlyCollection<Approval> approvals)
    {
        if (_stage is not (Stage.Ready or Stage.WaitingForApproval))
            return;
        Dictionary<string, List<int>> covered = Hashes.ToDictionary(
            h => h.Key,
            h => Enumerable.Range(0, h.Value.Count).Where(i => approvals.Any(a => a.Covers(h.Key, h.Value[i]))).ToList()
        );
        bool isReady = !(categoryAsks || AsksForApproval) || covered.All(c => c.Value.Count == Hashes[c.Key].Count);
        _stage = isReady ? Stage.Ready : Stage.WaitingForApproval;
        Fits = Fits.ToDictionary(
            f => f.Key,
            f => f.Value with { Approved = isReady || covered.GetValueOrDefault(f.Key) is not { Count: > 0 } some ? null : some }
        );
    }

    /// <summary>Back to whoever writes it, with what is asked for.</summary>
    /// <exception cref="InvalidOperationException">It doesn't wait for approval.</exception>
    public void SendBack(string note)
    {
        if (_stage != Stage.WaitingForApproval)
            throw new InvalidOperationException($"A post that is {_stage} doesn't wait for approval.");
        (_stage, SentBack) = (Stage.Draft, note);
    }

    /// <summary>All its categories, the main one first.</summary>
    public IEnumerable<Id<Category>> AllCategories => FurtherCategories.Prepend(CategoryId);

    IReadOnlyList<Id<Category>> IPlaceable.FurtherCategories => FurtherCategories;
    IReadOnlyList<Id<Channel>>? IPlaceable.Channels => Channels;
    IReadOnlyDictionary<string, Fit> IPlaceable.Fits => Fits;
}
