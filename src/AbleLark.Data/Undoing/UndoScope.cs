using System.Text.Json;
using AbleLark.Core.Acts;
using AbleLark.Core.Posts;
using AbleLark.Data.History;
using NodaTime;

namespace AbleLark.Data.Undoing;

/// <summary>What taking an act back has at hand, and what comes of it.</summary>
/// <param name="person">Who takes it back.</param>
/// <param name="needsOthers">True for somebody who may not approve.</param>
internal sealed class UndoScope(LarkDb db, ChangeSet act, UndoReach reach, Instant now, Actor? by, bool needsOthers)
{
    private readonly List<string> _kept = [];
    private readonly Dictionary<Guid, Change> _added = act
        .Changes.Where(c => c.Kind == ChangeKind.Added)
        .DistinctBy(c => c.EntityId)
        .ToDictionary(c => c.EntityId);

    public LarkDb Db => db;
    public Instant Now => now;
    public Actor? By => by;
    public bool NeedsOthers => needsOthers;
    public UndoReach Reach => reach;

    /// <summary>Posts that may stand otherwise than before.</summary>
    public HashSet<Post> Touched { get; } = [];

    /// <summary>How many things are as before.</summary>
    public int Undone { get; private set; }

    /// <summary>What couldn't be taken back.</summary>
    public IReadOnlyList<string> Kept => [.. _kept.Distinct()];

    public void Keep(string words) => _kept.Add(words);

    public void Count(int things = 1) => Undone += things;

    /// <summary>What the act gave a row that it added, by property.</summary>
    public Dictionary<string, JsonElement> AddedAs(Type type, Guid id) => db.ByProperty(type, _added[id].After!);
}
