using System.Text.Json;
using AbleLark.Core.Acts;
using AbleLark.Core.Posts;
using AbleLark.Data.Rows;
using NodaTime;

namespace AbleLark.Data.Undoing;

/// <summary>What taking an act back has at hand, and what comes of it.</summary>
/// <param name="by">Who takes it back.</param>
/// <param name="needsOthers">True for somebody who may not approve.</param>
internal sealed class UndoScope(LarkDb db, Instant now, Actor? by, bool needsOthers)
{
    private readonly List<string> _kept = [];
    private Dictionary<Guid, Change> _added = [];

    public LarkDb Db => db;
    public Instant Now => now;
    public Actor? By => by;
    public bool NeedsOthers => needsOthers;
    public UndoReach Reach { get; private set; } = null!;

    /// <summary>Posts that may stand otherwise than before.</summary>
    public HashSet<Post> Touched { get; } = [];

    /// <summary>How many things are as before.</summary>
    public int Undone { get; private set; }

    /// <summary>What couldn't be taken back.</summary>
    public IReadOnlyList<string> Kept => [.. _kept.Distinct()];

    /// <summary>Goes on with a part of what the act did.</summary>
    public void Begin(IReadOnlyList<Change> part, UndoReach reach)
    {
        Reach = reach;
        _added = part.Where(c => c.Kind == ChangeKind.Added).DistinctBy(c => c.EntityId).ToDictionary(c => c.EntityId);
    }

    public void Keep(string words) => _kept.Add(words);

    public void Count(int things = 1) => Undone += things;

    /// <summary>What the act gave a row that it added, by property.</summary>
    public Dictionary<string, JsonElement> AddedAs(Type type, Guid id) => db.ByProperty(type, _added[id].After!);
}
