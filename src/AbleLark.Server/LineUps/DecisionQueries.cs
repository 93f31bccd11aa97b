using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.LineUps;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.LineUps;

/// <summary>Finds what was decided.</summary>
internal static class DecisionQueries
{
    /// <summary>The decision about an occurrence; null: there is none.</summary>
    public static Task<Decision?> DecisionAsync(this LarkDb db, Id<Workspace> workspace, Origin origin, CancellationToken cancellation) =>
        db.Decisions.SingleOrDefaultAsync(
            d =>
                d.WorkspaceId == workspace
                && d.OriginKind == origin.Kind
                && d.OriginId == origin.Id
                && d.OriginDate == origin.Date
                && d.OriginTime == origin.Time,
            cancellation
        );
}
