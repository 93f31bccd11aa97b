using System.Security.Claims;
using AbleLark.Core;
using AbleLark.Core.Acts;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Damage;
using AbleLark.Data.Rows;
using AbleLark.Server.Problems;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Access;

/// <summary>The one gate that all addresses of a workspace pass, and the right that each of them names.</summary>
public static class WorkspaceGate
{
    private const long MostReadOfRefused = 1024 * 1024;

    /// <summary>The right that an address takes.</summary>
    private sealed record Needed(Right Right);

    /// <summary>Says which right an address takes. Every address of a workspace says it: one that doesn't can't be mapped.</summary>
    public static T Needs<T>(this T endpoint, Right right)
        where T : IEndpointConventionBuilder
    {
        endpoint.WithMetadata(new Needed(right));
        return endpoint;
    }

    /// <summary>The right that an address takes; null outside of workspaces.</summary>
    public static Right? RightOf(Endpoint? endpoint) => endpoint?.Metadata.GetMetadata<Needed>()?.Right;

    /// <summary>The group of all addresses of a workspace.</summary>
    public static RouteGroupBuilder MapWorkspaceGroup(this IEndpointRouteBuilder api)
    {
        RouteGroupBuilder group = api.MapGroup("/workspaces/{workspaceId}").RequireAuthorization();
        ((IEndpointConventionBuilder)group).Finally(endpoint =>
        {
            if (!endpoint.Metadata.OfType<Needed>().Any())
                throw new InvalidOperationException($"{endpoint.DisplayName} names no right: add .Needs(Right.…) where it is mapped.");
        });
        return group;
    }

    /// <summary>
    /// Who isn't a member of a workspace finds nothing at its addresses, and a member does what their role allows; asked before anything of
    /// the request is read. A script does what its token names, and never more than whoever made it.
    /// </summary>
    public static void UseWorkspaceGate(this IApplicationBuilder app) =>
        app.Use(
            async (context, next) =>
            {
                if (RightOf(context.GetEndpoint()) is { } right)
                {
                    try
                    {
                        await AdmitAsync(context, right);
                    }
                    catch (ProblemException)
                    {
                        // Whatever a stranger is still sending is not read to its end.
                        if (!(context.Request.ContentLength <= MostReadOfRefused))
                            context.Response.Headers.Connection = "close";
                        throw;
                    }
                }
                await next(context);
            }
        );

    /// <summary>Who asks: a person, or the one whose script it is.</summary>
    public static Guid PersonId(this HttpContext http) => Access.Caller.PersonOf(http.User);

    /// <summary>Who does what this request asks for.</summary>
    public static Actor Actor(this HttpContext http) => http.Caller().By;

    /// <summary>Who asks, in the workspace that the address names.</summary>
    public static Caller Caller(this HttpContext http) => (Caller)http.Items[nameof(Caller)]!;

    public static bool May(this HttpContext http, Right right) => http.Caller().May(right);

    /// <summary>Refuses whoever may not; what is done then takes this right, too.</summary>
    /// <exception cref="ProblemException">In words that say what is lacking.</exception>
    public static void Demand(this HttpContext http, Right right)
    {
        http.Caller().Demand(right);
        http.RequestServices.GetRequiredService<LarkDb>().Takes(right);
    }

    private static async Task AdmitAsync(HttpContext context, Right right)
    {
        LarkDb db = context.RequestServices.GetRequiredService<LarkDb>();
        Role? role = null;
        if (
            Id<Workspace>.TryParse((string?)context.Request.RouteValues["workspaceId"], null, out Id<Workspace> workspace)
            && (TokenScheme.WorkspaceOf(context.User) ?? workspace) == workspace
        )
            role = await db.RoleAsync(workspace, context.PersonId(), context.RequestAborted);
        if (role is null)
            throw ProblemException.NotFound("This workspace");
        context.Items[nameof(Caller)] = Access.Caller.Of(context.User, role.Value);
        context.Demand(right);
        if (await db.WhyAsideAsync(workspace, context.RequestAborted) is { } why)
            throw new ProblemException(StatusCodes.Status503ServiceUnavailable, why);
    }

    /// <summary>Why nothing of a workspace can be shown or changed; null when it can.</summary>
    public static async Task<string?> WhyAsideAsync(this LarkDb db, Id<Workspace> workspace, CancellationToken cancellation)
    {
        if (!db.IsAside(workspace))
            return null;
        DamagedRow? row = await db
            .DamagedRows.AsNoTracking()
            .FirstOrDefaultAsync(d => d.WorkspaceId == workspace && d.Kind == nameof(Workspace), cancellation);
        return $"This workspace's own row can't be read ({row?.Field}: {row?.Words}), so that nothing of it is shown, planned or "
            + "sent. Nothing of it is lost. Tell whoever runs Able Lark.";
    }
}
