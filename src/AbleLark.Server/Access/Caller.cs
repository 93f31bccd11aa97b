using System.Security.Claims;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Access;

/// <summary>
/// Who asks for something in a workspace, and the one question that is asked of them: a person may what their role allows, a script what
/// its token names of that. Nothing outside of here looks at the role, which knows nothing of tokens.
/// </summary>
public sealed class Caller
{
    private readonly Role _role;

    /// <summary>Null: a person, who isn't narrowed.</summary>
    private readonly HashSet<Right>? _named;

    private Caller(Actor by, Role role, IEnumerable<Right>? named) => (By, _role, _named) = (by, role, named?.ToHashSet());

    /// <summary>Who it is: whatever they do is theirs in the log, in approvals and wherever else it is kept.</summary>
    public Actor By { get; }

    /// <param name="user">A person, or a script.</param>
    /// <param name="role">What the person is in the workspace.</param>
    public static Caller Of(ClaimsPrincipal user, Role role) =>
        TokenScheme.TokenOf(user) is { } token
            ? new(new(PersonOf(user), token.Value), role, TokenScheme.RightsOf(user))
            : new(new(PersonOf(user)), role, named: null);

    /// <summary>The person, or the one whose script it is.</summary>
    internal static Guid PersonOf(ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    /// <summary>Whoever holds the secret address of a calendar, which a person made.</summary>
    public static Caller Looking(Guid person, Role role) => new(new(person), role, [Right.View]);

    public bool May(Right right) => _role.May(right) && _named?.Contains(right) != false;

    public IReadOnlyList<Right> Rights => [.. Core.Workspaces.Rights.All.Where(May)];

    /// <summary>Posts that are being written, and what the team keeps to itself: clients see what is meant for them.</summary>
    public bool SeesAll => _role != Role.Client;

    /// <summary>Refuses whoever may not.</summary>
    /// <exception cref="ProblemException">In words that say what is lacking.</exception>
    public void Demand(Right right)
    {
        if (!_role.May(right))
            throw new ProblemException(
                StatusCodes.Status403Forbidden,
                $"As {Words(_role)} you may not {Core.Workspaces.Rights.Words(right)}. Ask an owner or planner of the workspace."
            );
        if (!May(right))
            throw new ProblemException(
                StatusCodes.Status403Forbidden,
                $"This token may not {Core.Workspaces.Rights.Words(right)}. Make one in Set-up that may."
            );
    }

    private static string Words(Role role) =>
        role switch
        {
            Role.Owner => "an owner",
            Role.Planner => "a planner",
            Role.Writer => "a writer",
            _ => "a client",
        };
}

/// <summary>Who else belongs to a workspace.</summary>
public static class Members
{
    /// <summary>What a person is in a workspace; null for a stranger.</summary>
    public static Task<Role?> RoleAsync(this LarkDb db, Id<Workspace> workspace, Guid person, CancellationToken cancellation) =>
        db
            .Memberships.Where(m => m.WorkspaceId == workspace && m.PersonId == person)
            .Select(m => (Role?)m.Role)
            .SingleOrDefaultAsync(cancellation);

    /// <summary>True when somebody else of the workspace may do it.</summary>
    public static async Task<bool> OthersMayAsync(
        this LarkDb db,
        Id<Workspace> workspace,
        Guid person,
        Right right,
        CancellationToken cancellation
    )
    {
        List<Role> others = await db
            .Memberships.Where(m => m.WorkspaceId == workspace && m.PersonId != person)
            .Select(m => m.Role)
            .ToListAsync(cancellation);
        return others.Any(r => r.May(right));
    }
}
