using System.Security.Claims;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
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
    /// Who isn't a member of a workspace finds nothing at its addresses, and a member does what their role allows; asked before anything
    /// of the
    /// request is read. A script does what its token names, and never more than whoever made it.
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
    public static Guid PersonId(this HttpContext http) => Guid.Parse(http.User.FindFirstValue(ClaimTypes.NameIdentifier)!);

    /// <summary>What whoever asks is in the workspace that the address names.</summary>
    public static Role Role(this HttpContext http) => (Role)http.Items[nameof(Role)]!;

    /// <summary>Refuses whoever may not.</summary>
    /// <exception cref="ProblemException">In words that say what is lacking.</exception>
    public static void Demand(this HttpContext http, Right right)
    {
        if (!http.Role().May(right))
            throw Refused(http.Role(), right);
    }

    /// <summary>What a person is in a workspace; null for a stranger.</summary>
    public static Task<Role?> RoleAsync(this LarkDb db, Id<Workspace> workspace, Guid person, CancellationToken cancellation) =>
        db
            .Memberships.Where(m => m.WorkspaceId == workspace && m.PersonId == person)
            .Select(m => (Role?)m.Role)
            .SingleOrDefaultAsync(cancellation);

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
        context.Items[nameof(Role)] = role;
        if (!role.Value.May(right))
            throw Refused(role.Value, right);
        if (TokenScheme.TokenOf(context.User) is not { } token)
            return;
        if (!TokenScheme.RightsOf(context.User).Contains(right))
            throw new ProblemException(
                StatusCodes.Status403Forbidden,
                $"This token may not {Rights.Words(right)}. Make one in Set-up that may."
            );
        db.ActingToken = token;
    }

    private static ProblemException Refused(Role role, Right right) =>
        new(
            StatusCodes.Status403Forbidden,
            $"As {Words(role)} you may not {Rights.Words(right)}. Ask an owner or planner of the workspace."
        );

    private static string Words(Role role) =>
        role switch
        {
            Core.Workspaces.Role.Owner => "an owner",
            Core.Workspaces.Role.Planner => "a planner",
            Core.Workspaces.Role.Writer => "a writer",
            _ => "a client",
        };
}
