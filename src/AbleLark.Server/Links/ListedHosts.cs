using System.Net;

namespace AbleLark.Server.Links;

/// <summary>Hosts that are read from a machine of our own though it isn't on the open internet: sample sites.</summary>
/// <param name="list">`name=address:port` with commas between; `*.name` stands for all below it. Empty: none.</param>
public sealed class ListedHosts(string list)
{
    private readonly List<(string Name, IPEndPoint End)> _all =
    [
        .. list.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            .Select(l => l.Split('=', 2))
            .Select(l =>
                l.Length == 2 && IPEndPoint.TryParse(l[1], out IPEndPoint? end)
                    ? (l[0], end)
                    : throw new InvalidOperationException($"Lark:LinkHosts holds “{string.Join('=', l)}”. Write name=address:port.")
            ),
    ];

    /// <summary>Where the host is read; null: it isn't listed.</summary>
    public IPEndPoint? Find(string host)
    {
        foreach ((string name, IPEndPoint end) in _all)
        {
            bool isIt = name.StartsWith("*.", StringComparison.Ordinal)
                ? host.EndsWith(name[1..], StringComparison.OrdinalIgnoreCase)
                : string.Equals(name, host, StringComparison.OrdinalIgnoreCase);
            if (isIt)
                return end;
        }
        return null;
    }
}
