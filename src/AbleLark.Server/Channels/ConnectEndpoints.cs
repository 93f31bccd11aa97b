using System.Security.Cryptography;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Acts;
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
            return Back("/", ConnectCode.NotTheirs, "That consent had run out or belongs to somebody else. Start again from Set-up.");
        Id<Workspace> id = new(consent.Workspace);
        if (await db.RoleAsync(id, consent.Person, cancellation) is not { } role || !Caller.Of(http.User, role).May(Right.SetUp))
            return Answers.Redirect("/");
        if (await db.WhyAsideAsync(id, cancellation) is { } aside)
            return Back("/", ConnectCode.NotNow, $"Nothing was connected. {aside}");
        string setUp = $"/w/{await db.Workspaces.Where(w => w.Id == id).Select(w => w.Slug).SingleAsync(cancellation)}/set-up";
        if (error is not null || code is null)
            return Back(setUp, ConnectCode.Declined, "Nothing was connected: the network was told not to.");

        NetworkAnswer<RemoteTokens> granted = await connector.ExchangeCodeAsync(consent.Network, code, cancellation);
        if (!granted.IsOk)
            return Back(setUp, ConnectCode.Refused, $"Nothing was connected. {granted.Reason}");
        List<Allowed> allowed = [];
        string left = "";
        foreach (RemoteTokens one in (IEnumerable<RemoteTokens>)[granted.Value!, .. granted.Value!.More ?? []])
        {
            NetworkAnswer<RemoteAccount> account = await connector.AccountAsync(consent.Network, one.AccessToken, cancellation);
            if (account.IsOk)
                allowed.Add(new(account.Value!, one));
            else
                left = account.Reason;
        }
        ConnectOutcome outcome = await TakeInAsync(db, tokens, consent, networks[consent.Network], allowed, left, clock, cancellation);
        return ConnectOutcomes.Back(setUp, outcome, protection);

        IResult Back(string page, ConnectCode came, string words) => ConnectOutcomes.Back(page, new(came, words), protection);
    }

    /// <summary>An account that the person let us post to, and what opens it.</summary>
    private sealed record Allowed(RemoteAccount Account, RemoteTokens Tokens);

    /// <summary>Connects the accounts that there is room for.</summary>
    /// <param name="left">Why others weren't allowed; empty when all were.</param>
    private static async Task<ConnectOutcome> TakeInAsync(
        LarkDb db,
        ChannelTokens tokens,
        ConsentState consent,
        NetworkRules network,
        List<Allowed> allowed,
        string left,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Id<Workspace> id = new(consent.Workspace);
        await using AloneInWorkspace alone = await db.BeginAloneAsync(id, cancellation);
        List<string> known = await db
            .Channels.Where(c => c.WorkspaceId == id && c.Network == network.Key)
            .Select(c => c.Account)
            .ToListAsync(cancellation);
        int room = WorkspaceLimits.Channels - await db.Channels.CountAsync(c => c.WorkspaceId == id, cancellation);
        List<Allowed> fit = [.. allowed.Where(a => known.Contains(a.Account.Id) || room-- > 0)];
        if (fit.Count < allowed.Count)
            left = $"{WorkspaceLimits.Channels} channels is the most in a workspace.";
        if (fit.Count == 0)
            return new(ConnectCode.Refused, $"Nothing was connected: {left}");
        string names = string.Join(", ", fit.Select(f => f.Account.Name));
        db.BeginAct(id, new(consent.Person), await clock.NowAsync(cancellation), new(ActCode.ChannelsConnected, names));
        foreach (Allowed one in fit)
            await ConnectAsync(db, tokens, id, network, one.Account, one.Tokens, cancellation);
        await db.SaveChangesAsync(cancellation);
        await alone.CommitAsync(cancellation);
        string rest = left.Length > 0 ? $" Not all were: {left}" : "";
        return new(
            left.Length > 0 ? ConnectCode.ConnectedPartly : ConnectCode.Connected,
            $"{names} {(fit.Count == 1 ? "is" : "are")} connected.{rest}"
        );
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
