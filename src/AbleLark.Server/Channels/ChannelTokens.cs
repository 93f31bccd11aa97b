using System.Security.Cryptography;
using AbleLark.Core.Channels;
using AbleLark.Data;
using AbleLark.Data.Changes;
using AbleLark.Data.Kinds;
using AbleLark.Data.Rows;
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
            db.ChannelSecrets.Add(
                new()
                {
                    WorkspaceId = channel.WorkspaceId,
                    ChannelId = channel.Id,
                    AccessToken = access,
                    RefreshToken = refresh,
                    ExpiresAt = expires,
                }
            );
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
        if (channel.Connection == ConnectionState.Disconnected)
            return new(AnswerKind.Refused, Reason: "The channel is disconnected. Connect it again in Set-up, then reschedule.");
        ChannelSecret? kept = await db
            .ChannelSecrets.AsNoTracking()
            .SingleOrDefaultAsync(s => s.WorkspaceId == channel.WorkspaceId && s.ChannelId == channel.Id, cancellation);
        if (kept is null)
            return new(AnswerKind.Refused, Reason: "The channel was never connected.");
        if (!renew && IsGood(kept))
            return Read(kept.AccessToken) is { } token
                ? new(AnswerKind.Ok, token)
                : await LostAsync(channel, UnreadableWords, cancellation);
        return await RefreshAsync(channel, kept.AccessToken, cancellation);
    }

    /// <summary>Ends the connection for good: the tokens are forgotten here, and no longer taken by the network if it can be reached. The
    /// caller saves.</summary>
    public async Task ForgetAsync(Channel channel, CancellationToken cancellation)
    {
        (channel.Connection, channel.ConnectionTrouble) = (ConnectionState.Disconnected, null);
        if (await db.ChannelSecrets.FindAsync([channel.WorkspaceId, channel.Id], cancellation) is not { } secret)
            return;
        if (Read(secret.AccessToken) is { } token)
            await connector.RevokeAsync(channel.Network, token, cancellation);
        db.ChannelSecrets.Remove(secret);
    }

    private const string UnreadableWords =
        "The stored connection can't be read with the keys in the data folder. Connect the channel again.";

    private bool IsGood(ChannelSecret secret) => secret.ExpiresAt - RefreshBefore > machine.Now();

    /// <param name="refused">The access token that was no longer good.</param>
    private async Task<NetworkAnswer<string>> RefreshAsync(Channel channel, string refused, CancellationToken cancellation)
    {
        // Two processes must not spend the same refresh token: the row's lock lets one of them do it.
        await using var transaction = db.Database.CurrentTransaction is null ? await db.Database.BeginTransactionAsync(cancellation) : null;
        ChannelSecret? secret = await db
            .ChannelSecrets.FromSql(
                $"""
                select * from channel_secrets where workspace_id = {channel.WorkspaceId.Value} and channel_id = {channel.Id.Value} for
                update
                """
            )
            .SingleOrDefaultAsync(cancellation);
        if (secret is null)
            return new(AnswerKind.Refused, Reason: "The channel is disconnected. Connect it again in Set-up, then reschedule.");
        await db.Entry(secret).ReloadAsync(cancellation);
        // Another one refreshed it while we waited for the lock.
        if (secret.AccessToken != refused && IsGood(secret) && Read(secret.AccessToken) is { } fresh)
            return new(AnswerKind.Ok, fresh);
        if (Read(secret.RefreshToken) is not { } refresh)
            return await LostAsync(channel, UnreadableWords, cancellation, transaction);

        NetworkAnswer<RemoteTokens> answer = await connector.RefreshAsync(channel.Network, refresh, cancellation);
        if (answer.Kind is AnswerKind.Refused or AnswerKind.TokenExpired)
            return await LostAsync(
                channel,
                "The network no longer accepts the connection. Connect the channel again.",
                cancellation,
                transaction
            );
        if (!answer.IsOk)
            return new(answer.Kind, Reason: answer.Reason, Wait: answer.Wait);
        await KeepAsync(channel, answer.Value!, cancellation);
        await db.SaveChangesAsync(cancellation);
        if (transaction is not null)
            await transaction.CommitAsync(cancellation);
        return new(AnswerKind.Ok, answer.Value!.AccessToken);
    }

    /// <summary>The connection has ended: it shows, and a person has to make it anew.</summary>
    private async Task<NetworkAnswer<string>> LostAsync(
        Channel channel,
        string words,
        CancellationToken cancellation,
        Microsoft.EntityFrameworkCore.Storage.IDbContextTransaction? transaction = null
    )
    {
        // By itself: whatever else the caller has begun to write is not ours to save, and a person may be connecting it anew just now.
        await db
            .Channels.Where(c => c.WorkspaceId == channel.WorkspaceId && c.Id == channel.Id && c.Connection != ConnectionState.Disconnected)
            .ExecuteUpdateAsync(
                c => c.SetProperty(x => x.Connection, ConnectionState.NeedsReconnection).SetProperty(x => x.ConnectionTrouble, words),
                cancellation
            );
        await ChangeNotification.TellAsync(db, channel.WorkspaceId, Topic.Channels, cancellation);
        if (transaction is not null)
            await transaction.CommitAsync(cancellation);
        return new(AnswerKind.Refused, Reason: words);
    }

    /// <summary>The token; null where the keys that encrypted it are gone.</summary>
    private string? Read(string encrypted)
    {
        try
        {
            return _protector.Unprotect(encrypted);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
