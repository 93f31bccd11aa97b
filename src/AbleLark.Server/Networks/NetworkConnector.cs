using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Server.Media;
using NodaTime;

namespace AbleLark.Server.Networks;

/// <param name="Key">The idempotency key: where the network honours them, the same key never makes anything twice.</param>
public sealed record Call(string Network, string Token, string Key);

/// <summary>A file that goes with what is published.</summary>
/// <param name="Id">The network's identity of the upload.</param>
/// <param name="AltText">A picture in words; empty: none.</param>
public sealed record PublishedMedia(string Id, string AltText = "");

/// <summary>What readers are to see.</summary>
/// <param name="Under">The network's identity of the post that it stands under; null: it stands by itself.</param>
/// <param name="Named">The network's identities of uploads that fields of their own name, by the fields' keys; null: none.</param>
public sealed record Publication(
    FieldValues Fields,
    IReadOnlyList<PublishedMedia> Media,
    string? Under = null,
    IReadOnlyDictionary<string, string>? Named = null
)
{
    /// <param name="step">What is published.</param>
    /// <param name="steps">All of the sending, the uploads among them.</param>
    /// <param name="made">The network's identity of what a step, by its key, has made.</param>
    public static Publication Of(
        SendingStep.Publish step,
        IReadOnlyList<SendingStep> steps,
        Func<Id<MediaFile>, MediaFile?> files,
        Func<string, string> made
    )
    {
        return new(
            step.Fields,
            [.. step.Uploads.Select(MediaOf)],
            step.Under is { } under ? made(under) : null,
            step.Named?.ToDictionary(n => n.Key, n => made(n.Value))
        );

        PublishedMedia MediaOf(string key)
        {
            Picture file = steps.OfType<SendingStep.Upload>().Single(u => u.Key == key).Chosen;
            return new(made(key), file.AltTextOr(files(file.MediaId)));
        }
    }
}

/// <summary>A way to speak to networks. Several networks may share one; which, their files say under `protocol`.</summary>
public interface INetworkProtocol
{
    /// <summary>As networks' files name it.</summary>
    string Name { get; }

    /// <summary>Address of the network's consent page.</summary>
    string ConsentAddress(string network, string redirectUri, string state);

    Task<NetworkAnswer<RemoteTokens>> ExchangeCodeAsync(string network, string code, CancellationToken cancellation);

    Task<NetworkAnswer<RemoteTokens>> RefreshAsync(string network, string refreshToken, CancellationToken cancellation);

    /// <summary>Ends a connection on the network's side; whoever holds the token can do nothing with it any more.</summary>
    Task<NetworkAnswer<object>> RevokeAsync(string network, string token, CancellationToken cancellation);

    Task<NetworkAnswer<RemoteAccount>> AccountAsync(string network, string token, CancellationToken cancellation);

    /// <summary>True for the address of a page on the network's own site.</summary>
    bool IsAddressOn(string network, string address);

    /// <summary>Accounts of the network whose handle or name is like that, the likeliest first.</summary>
    Task<NetworkAnswer<List<RemoteAccount>>> FindAccountsAsync(string network, string token, string query, CancellationToken cancellation);

    /// <summary>When the account's followers are online; refused by networks that don't tell.</summary>
    Task<NetworkAnswer<RemoteOnline>> OnlineAsync(string network, string token, CancellationToken cancellation);

    /// <summary>Gives the network a file, to be named by what publishes it.</summary>
    Task<NetworkAnswer<RemoteThing>> UploadAsync(Call call, SentFile file, CancellationToken cancellation);

    /// <summary>Posts something that readers see.</summary>
    Task<NetworkAnswer<RemoteThing>> PublishAsync(Call call, Publication publication, CancellationToken cancellation);

    /// <summary>What the account posted since then, newest first, so that a post whose answer was lost can be found.</summary>
    /// <param name="since">Business time.</param>
    /// <param name="most">Read back no further than this many posts.</param>
    Task<NetworkAnswer<PostedList>> PostedSinceAsync(string network, string token, Instant since, int most, CancellationToken cancellation);

    /// <summary>Takes a post down. One that isn't there any more is down.</summary>
    Task<NetworkAnswer<object>> TakeDownAsync(string network, string token, string postId, CancellationToken cancellation);

    /// <summary>What posts have earned so far, by their identity on the network; those that are gone aren't in it.</summary>
    /// <param name="postIds">At most <see cref="MostFigures"/>.</param>
    Task<NetworkAnswer<Dictionary<string, FigureSet>>> FiguresAsync(
        string network,
        string token,
        IReadOnlyCollection<string> postIds,
        CancellationToken cancellation
    );

    /// <summary>Posts whose figures are asked for in one call.</summary>
    const int MostFigures = 50;
}

/// <summary>Speaks to each network in its protocol.</summary>
public sealed class NetworkConnector(NetworkBook networks, IEnumerable<INetworkProtocol> protocols)
{
    /// <summary>A network whose file is gone is spoken to as most are: a channel on it can still be let go.</summary>
    private INetworkProtocol For(string network)
    {
        string protocol = networks.Has(network) ? networks[network].Protocol : NetworkRules.UsualProtocol;
        return protocols.FirstOrDefault(p => p.Name == protocol)
            ?? throw new InvalidOperationException(
                $"The file of the network “{network}” names the protocol “{protocol}”, which is not known here."
            );
    }

    /// <inheritdoc cref="INetworkProtocol.ConsentAddress"/>
    public string ConsentAddress(string network, string redirectUri, string state) =>
        For(network).ConsentAddress(network, redirectUri, state);

    /// <inheritdoc cref="INetworkProtocol.ExchangeCodeAsync"/>
    public Task<NetworkAnswer<RemoteTokens>> ExchangeCodeAsync(string network, string code, CancellationToken cancellation) =>
        For(network).ExchangeCodeAsync(network, code, cancellation);

    /// <inheritdoc cref="INetworkProtocol.RefreshAsync"/>
    public Task<NetworkAnswer<RemoteTokens>> RefreshAsync(string network, string refreshToken, CancellationToken cancellation) =>
        For(network).RefreshAsync(network, refreshToken, cancellation);

    /// <inheritdoc cref="INetworkProtocol.RevokeAsync"/>
    public Task<NetworkAnswer<object>> RevokeAsync(string network, string token, CancellationToken cancellation) =>
        For(network).RevokeAsync(network, token, cancellation);

    /// <inheritdoc cref="INetworkProtocol.TakeDownAsync"/>
    public Task<NetworkAnswer<object>> TakeDownAsync(string network, string token, string postId, CancellationToken cancellation) =>
        For(network).TakeDownAsync(network, token, postId, cancellation);

    /// <inheritdoc cref="INetworkProtocol.AccountAsync"/>
    public Task<NetworkAnswer<RemoteAccount>> AccountAsync(string network, string token, CancellationToken cancellation) =>
        For(network).AccountAsync(network, token, cancellation);

    /// <inheritdoc cref="INetworkProtocol.IsAddressOn"/>
    public bool IsAddressOn(string network, string address) => For(network).IsAddressOn(network, address);

    /// <inheritdoc cref="INetworkProtocol.FindAccountsAsync"/>
    public Task<NetworkAnswer<List<RemoteAccount>>> FindAccountsAsync(
        string network,
        string token,
        string query,
        CancellationToken cancellation
    ) => For(network).FindAccountsAsync(network, token, query, cancellation);

    /// <inheritdoc cref="INetworkProtocol.OnlineAsync"/>
    public Task<NetworkAnswer<RemoteOnline>> OnlineAsync(string network, string token, CancellationToken cancellation) =>
        For(network).OnlineAsync(network, token, cancellation);

    /// <inheritdoc cref="INetworkProtocol.UploadAsync"/>
    public Task<NetworkAnswer<RemoteThing>> UploadAsync(Call call, SentFile file, CancellationToken cancellation) =>
        For(call.Network).UploadAsync(call, file, cancellation);

    /// <inheritdoc cref="INetworkProtocol.PublishAsync"/>
    public Task<NetworkAnswer<RemoteThing>> PublishAsync(Call call, Publication publication, CancellationToken cancellation) =>
        For(call.Network).PublishAsync(call, publication, cancellation);

    /// <inheritdoc cref="INetworkProtocol.PostedSinceAsync"/>
    public Task<NetworkAnswer<PostedList>> PostedSinceAsync(
        string network,
        string token,
        Instant since,
        int most,
        CancellationToken cancellation
    ) => For(network).PostedSinceAsync(network, token, since, most, cancellation);

    /// <inheritdoc cref="INetworkProtocol.FiguresAsync"/>
    public Task<NetworkAnswer<Dictionary<string, FigureSet>>> FiguresAsync(
        string network,
        string token,
        IReadOnlyCollection<string> postIds,
        CancellationToken cancellation
    ) => For(network).FiguresAsync(network, token, postIds, cancellation);
}
