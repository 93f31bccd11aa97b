using System.Security.Cryptography;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Networks;
using AbleLark.Server.Problems;
using AbleLark.Server.Sessions;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Channels;

public sealed record ChannelView(
    Id<Channel> Id, string Network, string Name, string Handle, ConnectionState Connection, string? ConnectionTrouble);

public sealed record ConnectRequest(string Network);

/// <param name="Address">Where the browser goes to ask the network for consent.</param>
public sealed record ConnectStart(string Address);

/// <summary>Channels of a workspace, and connecting them through the network's consent page.</summary>
public static class ChannelEndpoints
{
    private static readonly TimeSpan ConsentLife = TimeSpan.FromMinutes(15);

    private sealed record ConsentState(Guid Workspace, Guid Person, string Network);

    public static void MapChannels(this RouteGroupBuilder workspace)
    {
        workspace.MapGet("/channels", ListAsync);
        workspace.MapPost("/channels/connect", Connect);
    }

    /// <summary>Where the network sends the browser back to.</summary>
    public static void MapConnectCallback(this IEndpointRouteBuilder app) =>
        app.MapGet("/connect/callback", CallbackAsync).RequireAuthorization().ExcludeFromDescription();

    private static Task<List<ChannelView>> ListAsync(Id<Workspace> workspaceId, LarkDb db, CancellationToken cancellation) =>
        db.Channels.Where(c => c.WorkspaceId == workspaceId).OrderBy(c => c.Place).ThenBy(c => c.Name)
            .Select(c => new ChannelView(c.Id, c.Network, c.Name, c.Handle, c.Connection, c.ConnectionTrouble)).ToListAsync(cancellation);

    private static ConnectStart Connect(
        Id<Workspace> workspaceId, ConnectRequest request, HttpContext http, NetworkBook networks, NetworkConnector connector, IDataProtectionProvider protection)
    {
        if (!networks.Has(request.Network)) throw ProblemException.BadInput("There is no such network.");
        string state = Protector(protection).Protect(JsonSerializer.Serialize(new ConsentState(workspaceId.Value, http.PersonId(), request.Network)), ConsentLife);
        return new(connector.ConsentAddress(request.Network, CallbackAddress(http), state));
    }

    private static async Task<IResult> CallbackAsync(
        string? code, string? state, string? error, HttpContext http, LarkDb db, BusinessClock clock, NetworkConnector connector,
        ChannelTokens tokens, IDataProtectionProvider protection, CancellationToken cancellation)
    {
        if (ReadState(protection, state) is not { } consent || consent.Person != http.PersonId())
            return Answers.Redirect("/?notice=" + Uri.EscapeDataString("That consent had run out or belongs to somebody else. Start again from Set-up."));
        Id<Workspace> id = new(consent.Workspace);
        Workspace workspace = await db.Workspaces.SingleAsync(w => w.Id == id, cancellation);
        string back = $"/w/{workspace.Slug}/set-up?notice=";
        if (!await db.Memberships.AnyAsync(m => m.WorkspaceId == id && m.PersonId == consent.Person, cancellation)) return Answers.Redirect("/");
        if (error is not null || code is null) return Answers.Redirect(back + Uri.EscapeDataString("Nothing was connected: the network was told not to."));

        NetworkAnswer<RemoteTokens> granted = await connector.ExchangeCodeAsync(consent.Network, code, cancellation);
        if (!granted.IsOk) return Answers.Redirect(back + Uri.EscapeDataString($"Nothing was connected. {granted.Reason}"));
        NetworkAnswer<RemoteAccount> account = await connector.AccountAsync(consent.Network, granted.Value!.AccessToken, cancellation);
        if (!account.IsOk) return Answers.Redirect(back + Uri.EscapeDataString($"Nothing was connected. {account.Reason}"));

        db.BeginAct(id, consent.Person, await clock.NowAsync(cancellation), $"Connected {account.Value!.Name}");
        await ConnectAsync(db, tokens, id, consent.Network, account.Value, granted.Value, cancellation);
        await db.SaveChangesAsync(cancellation);
        return Answers.Redirect(back + Uri.EscapeDataString($"{account.Value.Name} is connected."));
    }

    /// <summary>Adds the channel, or gives one that needed it a new connection; the caller saves.</summary>
    public static async Task<Channel> ConnectAsync(
        LarkDb db, ChannelTokens tokens, Id<Workspace> workspace, string network, RemoteAccount account, RemoteTokens granted, CancellationToken cancellation)
    {
        Channel? channel = await db.Channels.SingleOrDefaultAsync(c => c.WorkspaceId == workspace && c.Network == network && c.Account == account.Id, cancellation);
        if (channel is null)
        {
            int place = await db.Channels.CountAsync(c => c.WorkspaceId == workspace, cancellation);
            channel = new() { WorkspaceId = workspace, Id = Id<Channel>.New(), Network = network, Account = account.Id, Name = account.Name, Handle = account.Handle, Place = place };
            db.Channels.Add(channel);
        }
        (channel.Name, channel.Handle) = (account.Name, account.Handle);
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

    private static ITimeLimitedDataProtector Protector(IDataProtectionProvider protection) => protection.CreateProtector("consent").ToTimeLimitedDataProtector();

    private static string CallbackAddress(HttpContext http) => $"{http.Request.Scheme}://{http.Request.Host}/connect/callback";
}
