using System.Collections.Frozen;

namespace AbleLark.Core.Workspaces;

/// <summary>What somebody is in a workspace.</summary>
public enum Role
{
    Owner,
    Planner,
    Writer,
    Client,
}

/// <summary>What somebody may do in a workspace; each address of the API names the one it takes.</summary>
public enum Right
{
    /// <summary>See what is planned and what was sent.</summary>
    View,

    /// <summary>Make and change posts, pictures and imports.</summary>
    Write,

    /// <summary>Approve posts, or send them back.</summary>
    Approve,

    /// <summary>Decide what goes out when: times, places, the line-up, what failed.</summary>
    Schedule,

    /// <summary>Channels, categories, the recurring week, pauses and settings.</summary>
    SetUp,

    /// <summary>Who belongs to the workspace, and as what.</summary>
    People,

    /// <summary>Let scripts in.</summary>
    Tokens,

    /// <summary>See what deliveries earned.</summary>
    Results,
}

/// <summary>The table of who may do what.</summary>
public static class Rights
{
    public static IReadOnlyList<Right> All { get; } = Enum.GetValues<Right>();

    private static readonly FrozenDictionary<Role, FrozenSet<Right>> Table = new Dictionary<Role, FrozenSet<Right>>
    {
        [Role.Owner] = All.ToFrozenSet(),
        [Role.Planner] = All.Where(r => r != Right.People).ToFrozenSet(),
        [Role.Writer] = FrozenSet.Create(Right.View, Right.Write, Right.Results),
        [Role.Client] = FrozenSet.Create(Right.View, Right.Approve, Right.Results),
    }.ToFrozenDictionary();

    public static bool May(this Role role, Right right) => Table[role].Contains(right);

    public static IReadOnlyList<Right> Of(Role role) => [.. All.Where(r => role.May(r))];

    /// <summary>What a right lets one do, to follow "may".</summary>
    public static string Words(Right right) =>
        right switch
        {
            Right.View => "look at what is planned and sent",
            Right.Write => "write and change posts",
            Right.Approve => "approve posts",
            Right.Schedule => "decide what goes out when",
            Right.SetUp => "change the set-up",
            Right.People => "say who belongs to the workspace",
            Right.Tokens => "let scripts in",
            Right.Results => "see the results",
            _ => throw new ArgumentOutOfRangeException(nameof(right), right, "A right without words."),
        };
}
