using System.Security.Claims;
using System.Security.Cryptography;
using System.Text;
using System.Text.Encodings.Web;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.Authentication;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Access;

/// <summary>Signs a script in by `Authorization: Bearer …`; it acts as the person who made the token, in that workspace alone.</summary>
public sealed class TokenScheme(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory logger,
    UrlEncoder encoder,
    LarkDb db,
    IClock machine
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
{
    public const string Name = "token";
    private const string Prefix = "Bearer ";
    private const string WorkspaceClaim = "workspace";
    private const string TokenClaim = "token";
    private const string RightClaim = "right";

    public static string DigestOf(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));

    /// <summary>True for a request that brings a token.</summary>
    public static bool Concerns(HttpRequest request) =>
        request.Headers.Authorization.ToString().StartsWith(Prefix, StringComparison.OrdinalIgnoreCase);

    /// <summary>The only workspace that a script may enter; null for a person.</summary>
    public static Id<Workspace>? WorkspaceOf(ClaimsPrincipal user) =>
        user.FindFirstValue(WorkspaceClaim) is { } id ? new(Guid.Parse(id)) : null;

    /// <summary>The script's token; null for a person.</summary>
    public static Id<ApiToken>? TokenOf(ClaimsPrincipal user) => user.FindFirstValue(TokenClaim) is { } id ? new(Guid.Parse(id)) : null;

    /// <summary>What the script may do.</summary>
    public static IEnumerable<Right> RightsOf(ClaimsPrincipal user) => user.FindAll(RightClaim).Select(c => Enum.Parse<Right>(c.Value));

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        string digest = DigestOf(Request.Headers.Authorization.ToString()[Prefix.Length..].Trim());
        ApiToken? token = await db.ApiTokens.SingleOrDefaultAsync(t => t.Digest == digest && t.RevokedAt == null, Context.RequestAborted);
        if (token is null)
            return AuthenticateResult.Fail("This token is not known, or was revoked.");
        Instant now = machine.Now();
        if (token.EndsAt <= now)
            return AuthenticateResult.Fail("This token has run out.");
        if (!(now - token.UsedAt < Duration.FromMinutes(1)))
        {
            token.UsedAt = now;
            await db.SaveChangesAsync(Context.RequestAborted);
        }
        ClaimsIdentity identity = new(
            [
                new(ClaimTypes.NameIdentifier, token.PersonId.ToString()),
                new(WorkspaceClaim, token.WorkspaceId.ToString()),
                new(TokenClaim, token.Id.ToString()),
                .. token.Rights.Select(r => new Claim(RightClaim, r.ToString())),
            ],
            Name
        );
        return AuthenticateResult.Success(new(new ClaimsPrincipal(identity), Name));
    }
}
