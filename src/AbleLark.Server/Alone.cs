using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;

namespace AbleLark.Server;

/// <summary>Addresses that count what is there before they add to it: one after the other in each workspace.</summary>
public static class Alone
{
    /// <summary>Lets the address run in a transaction that holds the workspace's lock, so that no two of them count the same.</summary>
    public static RouteHandlerBuilder InTurn(this RouteHandlerBuilder endpoint) =>
        endpoint.AddEndpointFilter(
            async (context, next) =>
            {
                HttpContext http = context.HttpContext;
                LarkDb db = http.RequestServices.GetRequiredService<LarkDb>();
                Id<Workspace> workspace = new(Guid.Parse((string)http.Request.RouteValues["workspaceId"]!));
                await using AloneInWorkspace alone = await db.BeginAloneAsync(workspace, http.RequestAborted);
                object? answer = await next(context);
                await alone.CommitAsync(http.RequestAborted);
                return answer;
            }
        );
}
