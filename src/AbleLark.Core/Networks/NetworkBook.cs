using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using AbleLark.Core.Channels;
using NodaTime;

namespace AbleLark.Core.Networks;

/// <summary>All networks known to the application, by key, as their rules are today.</summary>
/// <param name="off">Files that couldn't be read, each with the reason.</param>
public sealed class NetworkBook(IReadOnlyCollection<NetworkRules> rules, IReadOnlyList<string>? off = null)
{
    /// <summary>Rules of one day, and of accounts with figures of their own.</summary>
    private sealed class Page
    {
        public Page(IEnumerable<NetworkRules> rules)
        {
            ByKey = rules.ToDictionary(r => r.Key, StringComparer.Ordinal);
            Version = Convert.ToHexStringLower(
                SHA256
                    .HashData(
                        Encoding.UTF8.GetBytes(
                            string.Join(' ', ByKey.Values.Select(r => $"{r.Key}:{r.Version}").Order(StringComparer.Ordinal))
                        )
                    )
                    .AsSpan(0, 8)
            );
        }

        public Dictionary<string, NetworkRules> ByKey { get; }
        public string Version { get; }
        public ConcurrentDictionary<string, NetworkRules> OfAccounts { get; } = new(StringComparer.Ordinal);
    }

    private volatile Page _today = new(rules);

    /// <summary>Files that couldn't be read, each with the reason: their networks are off.</summary>
    public IReadOnlyList<string> Off { get; } = off ?? [];

    public IEnumerable<NetworkRules> All => _today.ByKey.Values.OrderBy(r => r.Name, StringComparer.Ordinal);

    /// <summary>What stands for all their rules: changes with any of them.</summary>
    public string Version => _today.Version;

    public bool Has(string key) => _today.ByKey.ContainsKey(key);

    public NetworkRules this[string key] => _today.ByKey[key];

    /// <summary>The rules for one channel: its network's, with its own figures.</summary>
    /// <exception cref="KeyNotFoundException">There is no such network; see <see cref="Has"/>.</exception>
    public NetworkRules For(Channel channel)
    {
        Page today = _today;
        NetworkRules usual = today.ByKey[channel.Network];
        if (channel.Figures.Count == 0)
            return usual;
        string key =
            channel.Network
            + string.Concat(channel.Figures.OrderBy(f => f.Key, StringComparer.Ordinal).Select(f => $"\n{f.Key}={f.Value}"));
        return today.OfAccounts.GetOrAdd(key, _ => With(usual, channel));
    }

    /// <summary>Turns to the rules of a day.</summary>
    /// <returns>True when any of them is another than before.</returns>
    public bool TurnTo(LocalDate day)
    {
        if (rules.All(r => r.Changes is null))
            return false;
        Page then = new(rules.Select(r => r.On(day)));
        if (then.Version == _today.Version)
            return false;
        _today = then;
        return true;
    }

    /// <summary>A figure that the network's file no longer lets differ is as for all.</summary>
    private static NetworkRules With(NetworkRules usual, Channel channel)
    {
        try
        {
            return usual.With(
                channel.Figures.Where(f => usual.PerChannel.Any(p => p.Figure == f.Key)).ToDictionary(f => f.Key, f => f.Value)
            );
        }
        catch (FormatException)
        {
            return usual;
        }
    }
}
