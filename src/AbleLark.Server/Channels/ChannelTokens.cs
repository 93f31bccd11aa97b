using AbleLark.Core.Channels;
using AbleLark.Data;
using AbleLark.Data.Channels;
using AbleLark.Server.Networks;
using AbleLark.Server.Time;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Channels;

/// <summary>Keeps channels' tokens encrypted, refreshes them before they run out, and notes when a connection has ended.</summary>
public sealed class ChannelTokens(LarkDb db, NetworkConnector connector, IDataProtectionProvider protection, IClock machine)
{
    private static readonly Duration RefreshBefore = Duration.FromMinutes(5);
    private readonly IDataProtector _protector = protection.CreateProtector("channel tokens");

    /// <summary>Keeps new tokens; the caller saves.</summary>
    public async Task KeepAsync(Channel channel, RemoteTokens tokens, CancellationToken cancellation)
    {
        ChannelSecret? secret = await db.ChannelSecrets.FindAsync([channel.WorkspaceId, channel.Id], cancellation);
        string access = _protector.Protect(tokens.AccessToken);
        string refresh = _protector.Protect(tokens.RefreshToken);
        Instant expires = machine.Now() + Duration.FromSeconds(tokens.ExpiresIn);
        if (secret is null)
        {
            db.ChannelSecrets.Add(new() { WorkspaceId = channel.WorkspaceId, ChannelId = channel.Id, AccessToken = access, RefreshToken = refresh, ExpiresAt = expires });
        }
        else
        {
            (secret.AccessToken, secret.RefreshToken, secret.ExpiresAt) = (access, refresh, expires);
        }
        channel.Connection = ConnectionState.Connected;
        channel.ConnectionTrouble = null;
    }

    /// <summary>A token that is good for a while.</summary>
    /// <param name="channel">A tracked channel.</param>
    /// <param name="renew">Refreshes it even if it seems good, because the network said that it isn't.</param>
    public async Task<NetworkAnswer<string>> GetAsync(Channel channel, bool renew, CancellationToken cancellation)
    {
        // Two processes must not spend the same refresh token: the row's lock lets one of them do it.
        await using var transaction = db.Database.CurrentTransaction is null ? await db.Database.BeginTransactionAsync(cancellation) : null;
        ChannelSecret? secret = await db.ChannelSecrets
            .FromSql($"select * from channel_secrets where workspace_id = {channel.WorkspaceId.Value} and channel_id = {channel.Id.Value} for update")
            .SingleOrDefaultAsync(cancellation);
        if (secret is null) return new(AnswerKind.Refused, Reason: "The channel was never connected.");
        await db.Entry(secret).ReloadAsync(cancellation);
        if (!renew && secret.ExpiresAt - RefreshBefore > machine.Now()) return new(AnswerKind.Ok, _protector.Unprotect(secret.AccessToken));

        NetworkAnswer<RemoteTokens> answer = await connector.RefreshAsync(channel.Network, _protector.Unprotect(secret.RefreshToken), cancellation);
        if (answer.IsOk)
        {
            await KeepAsync(channel, answer.Value!, cancellation);
        }
        else if (answer.Kind is AnswerKind.Refused or AnswerKind.TokenExpired)
        {
            channel.Connection = ConnectionState.NeedsReconnection;
            channel.ConnectionTrouble = "The network no longer accepts the connection. Connect the channel again.";
        }
        await db.SaveChangesAsync(cancellation);
        if (transaction is not null) await transaction.CommitAsync(cancellation);
        return answer.IsOk
            ? new(AnswerKind.Ok, answer.Value!.AccessToken)
            : new(answer.Kind is AnswerKind.Lost or AnswerKind.Busy ? answer.Kind : AnswerKind.Refused, Reason: channel.ConnectionTrouble ?? answer.Reason);
    }
}
