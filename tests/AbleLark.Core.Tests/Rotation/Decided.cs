using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using NodaTime;

namespace AbleLark.Core.Tests.Rotation;

/// <summary>What a test has somebody decide about a place.</summary>
internal sealed class Decided
{
    public bool IsSkipped { get; set; }
    public LocalDateTime? MovedTo { get; set; }
    public string? Note { get; set; }
    public IReadOnlyList<GivenPost> Posts { get; set; } = [];

    public Decision About(Id<Workspace> workspace, Origin place) =>
        new()
        {
            WorkspaceId = workspace,
            Origin = place,
            IsSkipped = IsSkipped,
            MovedTo = MovedTo,
            Note = Note,
            Posts = Posts,
        };
}
