using System.ComponentModel.DataAnnotations;
using System.Security.Cryptography;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Channels;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Access;
using AbleLark.Server.Checks;
using AbleLark.Server.Networks;
using AbleLark.Server.Problems;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Channels;

/// <param name="Figure">Names it when it is changed.</param>
/// <param name="Usual">As it is for most accounts of the network, in JSON; empty: there is none.</param>
/// <param name="Own">As it is for this account; null: as for most.</param>
public sealed record FigureView(string Figure, string Name, string Usual, string? Own);

/// <param name="Figures">What of the network's rules differs between accounts.</param>
public sealed record ChannelView(
    Id<Channel> Id,
    string Network,
    string Name,
    string Handle,
    ConnectionState Connection,
    string? ConnectionTrouble,
    int? SpacingMinutes,
    int? DailyLimit,
    IReadOnlyList<FigureView> Figures
);

/// <param name="SpacingMinutes">Least time between two deliveries; null: any.</param>
/// <param name="DailyLimit">Most deliveries a day; null: any number.</param>
/// <param name="Figures">What of the network's rules is otherwise for this account, each value in JSON; others are as for most. Null: as
/// they are.</param>
public sealed record ChannelEdit(
    [Range(1, 1440, ErrorMessage = "The spacing lies between 1 and 1440 minutes (a day).")] int? SpacingMinutes = null,
    [Range(1, 100, ErrorMessage = "The daily limit lies between 1 and 100.")] int? DailyLimit = null,
    IReadOnlyDictionary<string, string>? Figures = null
);

/// <param name="Cancelled">Deliveries still to come that were cancelled with it.</param>
public sealed record Disconnected(int Cancelled);

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
        workspace.MapGet("/channels", ListAsync).Needs(Right.View);
        workspace.MapPost("/channels/connect", Connect).Needs(Right.SetUp);
        workspace.MapPut("/channels/{id}", EditAsync).Needs(Right.SetUp);
        workspace.MapDelete("/channels/{id}/connection", DisconnectAsync).Needs(Right.SetUp);
        workspace.MapKeptChannels();
    }

    /// <summary>Where the network sends the browser back to.</summary>
    public static void MapConnectCallback(this IEndpointRouteBuilder app) =>
        app.MapGet("/connect/callback", CallbackAsync).RequireAuthorization().ExcludeFromDescription();

    private static async Task<List<ChannelView>> ListAsync(
        Id<Workspace> workspaceId,
        LarkDb db,
        NetworkBook networks,
        CancellationToken cancellation
    ) =>
        [
            .. (
                await db
                    .Channels.AsNoTracking()
                    .Where(c => c.WorkspaceId == workspaceId)
                    .OrderBy(c => c.Position)
                    .ThenBy(c => c.Name)
                    .ToListAsync(cancellation)
            ).Select(c => View(c, networks)),
        ];

    /// <summary>How closely a channel may be filled; what would break it gives way in the line-up.</summary>
    private static async Task<ChannelView> EditAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        ChannelEdit edit,
        HttpContext http,
        LarkDb db,
        NetworkBook networks,
        BusinessClock clock,
        CancellationToken cancellation
    )
    {
        Channel channel =
            await db.Channels.SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This channel");
        Instant now = await clock.NowAsync(cancellation);
        db.BeginAct(workspaceId, http.PersonId(), now, $"Changed {channel.Name}");
        if (edit.Figures is { } figures)
        {
            channel.Figures = Checked(figures, channel, networks);
            await StalePosts.CheckUsingAsync(workspaceId, _ => true, db, networks, now, cancellation);
        }
        channel.Spacing = edit.SpacingMinutes is { } minutes ? Duration.FromMinutes(minutes) : null;
        channel.DailyLimit = edit.DailyLimit;
        await db.SaveChangesAsync(cancellation);
        return View(channel, networks);
    }

    private static Dictionary<string, string> Checked(IReadOnlyDictionary<string, string> figures, Channel channel, NetworkBook networks)
    {
        Dictionary<string, string> own = figures.Where(f => !string.IsNullOrWhiteSpace(f.Value)).ToDictionary(f => f.Key, f => f.Value);
        try
        {
            networks.Demand(channel.Network).With(own);
            return own;
        }
        catch (FormatException e)
        {
            throw ProblemException.BadInput(e.Message);
        }
    }

    /// <summary>Ends a channel's connection: its tokens are forgotten, and what was still to go out on it is cancelled. What it sent, and
    /// what it earned, stays. Connecting the same account again brings it back.</summary>
    private static async Task<Disconnected> DisconnectAsync(
        Id<Workspace> workspaceId,
        Id<Channel> id,
        HttpContext http,
        LarkDb db,
        BusinessClock clock,
        ChannelTokens tokens,
        CancellationToken cancellation
    )
    {
        Channel channel =
            await db.Channels.SingleOrDefaultAsync(c => c.WorkspaceId == workspaceId && c.Id == id, cancellation)
            ?? throw ProblemException.NotFound("This channel");
        if (channel.Connection == ConnectionState.Disconnected)
            throw ProblemException.Conflict($"{channel.Name} is disconnected already.");
        db.BeginAct(workspaceId, http.PersonId(), await clock.NowAsync(cancellation), $"Disconnected {channel.Name}");
        List<Delivery> deliveries = await db
            .Deliveries.Where(d => d.WorkspaceId == workspaceId && d.ChannelId == id && ToCome.Contains(d.State))
            .ToListAsync(cancellation);
        foreach (Delivery delivery in deliveries)
            delivery.Become(DeliveryState.Cancelled);
        await tokens.ForgetAsync(channel, cancellation);
        await db.SaveChangesAsync(cancellation);
        return new(deliveries.Count);
    }

    private static readonly DeliveryState[] ToCome = [.. Enum.GetValues<DeliveryState>().Where(s => s.MayBecome(DeliveryState.Cancelled))];

    internal static ChannelView View(Channel c, NetworkBook networks) =>
        new(
            c.Id,
            c.Network,
            c.Name,
            c.Handle,
            c.Connection,
            c.ConnectionTrouble,
            c.Spacing is { } spacing ? (int)spacing.TotalMinutes : null,
            c.DailyLimit,
            networks.Has(c.Network)
                ?
                [
                    .. networks[c.Network]
                        .PerChannel.Select(f => new FigureView(
                            f.Figure,
                            f.Name,
                            networks[c.Network].UsualOf(f),
                            c.Figures.GetValueOrDefault(f.Figure)
                        )),
                ]
                : []
        );

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
