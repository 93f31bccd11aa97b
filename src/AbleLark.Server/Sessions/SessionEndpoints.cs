using System.ComponentModel.DataAnnotations;
using AbleLark.Core;
using AbleLark.Core.Media;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Problems;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Sessions;

public sealed record SignIn([StringLength(320)] string Email, [StringLength(1_000)] string Password);

/// <param name="Rights">What the person may do there.</param>
/// <param name="Colour">One of the palette, by name.</param>
/// <param name="LogoId">A picture among its media; null: none.</param>
public sealed record WorkspaceLink(
    Id<Workspace> Id,
    string Slug,
    string Name,
    Role Role,
    IReadOnlyList<Right> Rights,
    string Colour,
    Id<MediaFile>? LogoId
);

/// <param name="Demo">True where the clock can be moved.</param>
public sealed record SessionView(string Name, string Email, bool Demo, IReadOnlyList<WorkspaceLink> Workspaces);

/// <summary>Signing in and out, and who is signed in.</summary>
public static class SessionEndpoints
{
    public static void MapSession(this IEndpointRouteBuilder api)
    {
        api.MapGet("/session", ShowAsync).RequireAuthorization();
        api.MapPost("/session", SignInAsync);
        api.MapDelete("/session", async (SignInManager<Person> signIn) => await signIn.SignOutAsync());
    }

    private static async Task<SessionView> ShowAsync(
        HttpContext http,
        LarkDb db,
        IOptions<LarkSettings> settings,
        CancellationToken cancellation
    )
    {
        Guid id = http.PersonId();
        Person person =
            await db.Users.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id, cancellation)
            ?? throw new ProblemException(StatusCodes.Status401Unauthorized, "This account is gone.");
        return new(person.Name, person.Email!, settings.Value.Demo, await db.WorkspacesOfAsync(http, cancellation));
    }

    /// <summary>The workspaces that whoever asks belongs to, and what they may do in each.</summary>
    internal static async Task<IReadOnlyList<WorkspaceLink>> WorkspacesOfAsync(
        this LarkDb db,
        HttpContext http,
        CancellationToken cancellation
    )
    {
        Guid person = http.PersonId();
        // A script sees the workspace that its token is for, and no other of the person's.
        Id<Workspace>? only = TokenScheme.WorkspaceOf(http.User);
        var workspaces = await db
            .Memberships.Where(m => m.PersonId == person && (only == null || m.WorkspaceId == only))
            // One whose row can't be read is still there, and says so when it is opened.
            .Join(db.Workspaces.IgnoreQueryFilters(), m => m.WorkspaceId, w => w.Id, (m, w) => new { m.Role, Workspace = w })
            .OrderBy(w => w.Workspace.Id)
            .Select(w => new
            {
                w.Role,
                w.Workspace.Id,
                w.Workspace.Slug,
                w.Workspace.Name,
                w.Workspace.Colour,
                w.Workspace.LogoId,
            })
            .ToListAsync(cancellation);
        return
        [
            .. workspaces.Select(w => new WorkspaceLink(
                w.Id,
                w.Slug,
                w.Name,
                w.Role,
                Caller.Of(http.User, w.Role).Rights,
                w.Colour,
                w.LogoId is { } logo ? new(logo) : null
            )),
        ];
    }

    /// <summary>Says no more than whether the two match, in the same words and the same time whether or not there is such an
    /// account.</summary>
    private static async Task SignInAsync(
        SignIn given,
        HttpContext http,
        SignInManager<Person> signIn,
        UnknownAccounts unknown,
        SignInLimits limits,
        KnownDevices devices,
        CancellationToken cancellation
    )
    {
        var taken = await limits.TakeAsync(given.Email, http.Connection.RemoteIpAddress, devices.Find(http, given.Email), cancellation);
        Person? person = await signIn.UserManager.FindByEmailAsync(given.Email);
        bool isRight = person is null ? unknown.Check(given.Password) : await signIn.UserManager.CheckPasswordAsync(person, given.Password);
        if (person is null || !isRight)
            throw ProblemException.BadInput("E-mail and password don't match. Check both and try again.");
        await limits.GiveBackAsync(taken, cancellation);
        devices.Mark(http, given.Email);
        await signIn.SignInAsync(person, isPersistent: true);
    }
}

/// <summary>Takes as long over the password of an account that there isn't as over that of one that there is.</summary>
public sealed class UnknownAccounts(IServiceProvider services)
{
    private readonly Lazy<(PasswordHasher<Person> Hasher, string Hash)> _some = new(() =>
    {
        PasswordHasher<Person> hasher = new(services.GetRequiredService<IOptions<PasswordHasherOptions>>());
        return (hasher, hasher.HashPassword(new(), Guid.NewGuid().ToString()));
    });

    /// <returns>False.</returns>
    public bool Check(string password)
    {
        (PasswordHasher<Person> hasher, string hash) = _some.Value;
        hasher.VerifyHashedPassword(new(), hash, password);
        return false;
    }
}
