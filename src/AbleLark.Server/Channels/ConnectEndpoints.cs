using System.Security.Cryptography;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Networks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Channels;

public sealed record ConnectRequest(string Network);

/// <param name="Address">Where the browser goes to ask the network for consent.</param>
public sealed record ConnectStart(string Address);

/// <summary>Connecting accounts through their network's consent page: as many in one trip as are chosen there.</summary>
public static class ConnectEndpoints
{
    private static readonly TimeSpan ConsentLife = TimeSpan.FromMinutes(15);

    private sealed record ConsentState(Guid Workspace, Guid Person, string Network);

    public static void MapConnecting(this RouteGroupBuilder workspace) =>
        workspace.MapPost("/channels/connect", Connect).Needs(Right.SetUp);

    /// <summary>Where the network sends the browser back to.</summary>
    public static void MapConnectCallback(this IEndpointRouteBuilder app) =>
        app.MapGet("/connect/callback", CallbackAsync).RequireAuthorization().ExcludeFromDescription();

    private static ConnectStart Connect(
        Id<Workspace> workspaceId,
        ConnectRequest request,
        HttpContext http,
        NetworkBook networks,
        NetworkConnector connector,
        IDataProtectionProvider protection
    )
    {
        if (!networks.Has(request.Network) || networks[request.Network].KeptByHand)
            throw ProblemException.BadInput("There is no such network.");
        string state = Protector(protection)
            .Protect(JsonSerializer.Serialize(new ConsentState(workspaceId.Value, http.PersonId(), request.Network)), ConsentLife);
        return new(connector.ConsentAddress(request.Network, CallbackAddress(http), state));
    }

    private static async Task<IResult> CallbackAsync(
        string? code,
        string? state,
        string? error,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        NetworkBook networks,
        NetworkConnector connector,
        ChannelTokens tokens,
        IDataProtectionProvider protection,
        CancellationToken cancellation
    )
    {
        if (ReadState(protection, state) is not { } consent || consent.Person != http.PersonId())
            return Answers.Redirect(
                "/?notice=" + Uri.EscapeDataString("That consent had run out or belongs to somebody else. Start again from Set-up.")
            );
        Id<Workspace> id = new(consent.Workspace);
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == id, cancellation);
        string back = $"/w/{workspace.Slug}/set-up?notice=";
        if (await db.RoleAsync(id, consent.Person, cancellation) is not { } role || !Caller.Of(http.User, role).May(Right.SetUp))
            return Answers.Redirect("/");
        if (error is not null || code is null)
            return Answers.Redirect(back + Uri.EscapeDataString("Nothing was connected: the network was told not to."));

        NetworkAnswer<RemoteTokens> granted = await connector.ExchangeCodeAsync(consent.Network, code, cancellation);
        if (!granted.IsOk)
            return Answers.Redirect(back + Uri.EscapeDataString($"Nothing was connected. {granted.Reason}"));
        List<(RemoteAccount Account, RemoteTokens Tokens)> allowed = [];
        string left = "";
        foreach (RemoteTokens one in (IEnumerable<RemoteTokens>)[granted.Value!, .. granted.Value!.More ?? []])
        {
            NetworkAnswer<RemoteAccount> account = await connector.AccountAsync(consent.Network, one.AccessToken, cancellation);
            if (account.IsOk)
                allowed.Add((account.Value!, one));
            else
                left = account.Reason;
        }

        await using AloneInWorkspace alone = await db.BeginAloneAsync(id, cancellation);
        List<string> known = await db
            .Channels.Where(c => c.WorkspaceId == id && c.Network == consent.Network)
            .Select(c => c.Account)
            .ToListAsync(cancellation);
        int room = WorkspaceLimits.Channels - await db.Channels.CountAsync(c => c.WorkspaceId == id, cancellation);
        List<(RemoteAccount Account, RemoteTokens Tokens)> fit = [.. allowed.Where(a => known.Contains(a.Account.Id) || room-- > 0)];
        if (fit.Count < allowed.Count)
            left = $"{WorkspaceLimits.Channels} channels is the most in a workspace.";
        if (fit.Count == 0)
            return Answers.Redirect(back + Uri.EscapeDataString($"Nothing was connected: {left}"));
        string names = string.Join(", ", fit.Select(f => f.Account.Name));
        db.BeginAct(id, consent.Person, await clock.NowAsync(cancellation), $"Connected {names}");
        foreach ((RemoteAccount account, RemoteTokens own) in fit)
            await ConnectAsync(db, tokens, id, networks[consent.Network], account, own, cancellation);
        await db.SaveChangesAsync(cancellation);
        await alone.CommitAsync(cancellation);
        string rest = left.Length > 0 ? $" Not all were: {left}" : "";
        return Answers.Redirect(back + Uri.EscapeDataString($"{names} {(fit.Count == 1 ? "is" : "are")} connected.{rest}"));
    }

    /// <summary>Adds the channel, or gives one that needed it a new connection; the caller saves.</summary>
    public static async Task<Channel> ConnectAsync(
        LarkDb db,
        ChannelTokens tokens,
        Id<Workspace> workspace,
        NetworkRules network,
        RemoteAccount account,
        RemoteTokens granted,
        CancellationToken cancellation
    )
    {
        Channel? channel = await db.Channels.SingleOrDefaultAsync(
            c => c.WorkspaceId == workspace && c.Network == network.Key && c.Account == account.Id,
            cancellation
        );
        if (channel is null)
        {
            int place =
                await db.Channels.CountAsync(c => c.WorkspaceId == workspace, cancellation)
                + db.ChangeTracker.Entries<Channel>().Count(c => c.State == EntityState.Added);
            channel = new()
            {
                WorkspaceId = workspace,
                Id = Id<Channel>.New(),
                Network = network.Key,
                Account = account.Id,
                Name = account.Name,
                Handle = account.Handle,
                Position = place,
                Figures = account.Is is { } kind ? network.FiguresOf(kind) : new Dictionary<string, string>(),
            };
            db.Channels.Add(channel);
        }
        (channel.Name, channel.Handle, channel.Followers) = (account.Name, account.Handle, account.Followers);
        await tokens.KeepAsync(channel, granted, cancellation);
        return channel;
    }

    private static ConsentState? ReadState(IDataProtectionProvider protection, string? state)
    {
        try
        {
            return state is null ? null : JsonSerializer.Deserialize<ConsentState>(Protector(protection).Unprotect(state));
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    private static ITimeLimitedDataProtector Protector(IDataProtectionProvider protection) =>
        protection.CreateProtector("consent").ToTimeLimitedDataProtector();

    private static string CallbackAddress(HttpContext http) => $"{http.Request.Scheme}://{http.Request.Host}/connect/callback";
}
