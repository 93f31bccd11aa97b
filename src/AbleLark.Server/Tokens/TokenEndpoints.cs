using System.ComponentModel.DataAnnotations;
using System.Security.Cryptography;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tokens;

/// <param name="EndsAt">When it stops working, by machine time.</param>
public sealed record TokenView(
    Id<ApiToken> Id,
    string Name,
    string MadeBy,
    Instant MadeAt,
    Instant? UsedAt,
    IReadOnlyList<Right> Rights,
    Instant EndsAt
);

/// <param name="Rights">What it may do; no more than whoever makes it. Null: look at the plan and the results.</param>
/// <param name="Days">For how many days it works, 1 to 366.</param>
public sealed record TokenRequest(
    [Named("the token")] string Name,
    IReadOnlyList<Right>? Rights = null,
    [Range(1, 366, ErrorMessage = "A token works for 1 to 366 days.")] int Days = 90
);

/// <param name="Token">Shown this once; only a digest of it is kept.</param>
public sealed record TokenMade(Id<ApiToken> Id, string Name, string Token);

/// <summary>Tokens that let scripts into one workspace.</summary>
public static class TokenEndpoints
{
    private const int Most = 20;

    public static void MapTokens(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/tokens", ListAsync).Needs(Right.Tokens);
        workspace.MapPost("/tokens", MakeAsync).Needs(Right.Tokens).InTurn();
        workspace.MapDelete("/tokens/{id}", RevokeAsync).Needs(Right.Tokens);
    }

    private static Task<List<TokenView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db
            .ApiTokens.Where(t => t.WorkspaceId == workspaceId && t.RevokedAt == null)
            .OrderBy(t => t.MadeAt)
            .Select(t => new TokenView(
                t.Id,
                t.Name,
                db.Users.Where(u => u.Id == t.PersonId).Select(u => u.Name).First(),
                t.MadeAt,
                t.UsedAt,
                t.Rights,
                t.EndsAt
            ))
            .ToListAsync(cancellation);

    private static async Task<TokenMade> MakeAsync(
        Id<Workspace> workspaceId,
        TokenRequest request,
        HttpContext http,
        LarkDb db,
        IClock machine,
        CancellationToken cancellation
    )
    {
        RefuseTokens(http);
        string name = request.Name.Trim();
        List<Right> rights = [.. (request.Rights ?? [Right.View, Right.Results]).Distinct()];
        if (rights.Count == 0)
            throw ProblemException.BadInput("Say what the token may do.");
        foreach (Right right in rights)
            http.Demand(right);
        if (rights.Contains(Right.Tokens) || rights.Contains(Right.People))
            throw ProblemException.BadInput("A token can't let others in: neither scripts nor people.");
        if (await db.ApiTokens.CountAsync(t => t.WorkspaceId == workspaceId && t.RevokedAt == null, cancellation) >= Most)
            throw ProblemException.BadInput($"{Most} tokens is the most. Revoke one that is no longer used.");
        string token = "lark_" + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));
        ApiToken kept = new()
        {
            WorkspaceId = workspaceId,
            Id = Id<ApiToken>.New(),
            Name = name,
            Digest = TokenScheme.DigestOf(token),
            PersonId = http.PersonId(),
            MadeAt = machine.Now(),
            Rights = rights,
            EndsAt = machine.Now() + Duration.FromDays(request.Days),
        };
        db.ApiTokens.Add(kept);
        await db.SaveChangesAsync(cancellation);
        return new(kept.Id, name, token);
    }

    private static async Task RevokeAsync(
        Id<Workspace> workspaceId,
        Id<ApiToken> id,
        HttpContext http,
        LarkDb db,
        IClock machine,
        CancellationToken cancellation
    )
    {
        RefuseTokens(http);
        ApiToken token =
            await db.ApiTokens.SingleOrDefaultAsync(t => t.WorkspaceId == workspaceId && t.Id == id && t.RevokedAt == null, cancellation)
            ?? throw ProblemException.NotFound("This token");
        token.RevokedAt = machine.Now();
        await db.SaveChangesAsync(cancellation);
    }

    /// <summary>A token can't make or revoke tokens: whoever finds one must not be able to keep the door open.</summary>
    private static void RefuseTokens(HttpContext http)
    {
        if (TokenScheme.WorkspaceOf(http.User) is not null)
            throw new ProblemException(StatusCodes.Status403Forbidden, "Tokens are made and revoked by people, in Set-up.");
    }
}
