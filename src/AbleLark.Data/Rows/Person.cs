using AbleLark.Core;
using AbleLark.Core.Workspaces;
using Microsoft.AspNetCore.Identity;

namespace AbleLark.Data.Rows;

/// <summary>Somebody who can sign in.</summary>
public sealed class Person : IdentityUser<Guid>
{
    public string Name { get; set; } = "";
}

/// <summary>What a person may do in one workspace.</summary>
public sealed class Membership
{
    public required Id<Workspace> WorkspaceId { get; init; }
    public required Guid PersonId { get; init; }
    public Role Role { get; set; } = Role.Planner;
}
