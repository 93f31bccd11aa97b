using AbleLark.Core.Content;
using AbleLark.Core.Networks;
using AbleLark.Server.Problems;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Networks;

/// <summary>Reads the networks' data files.</summary>
public static partial class NetworkLoading
{
    /// <summary>A file with a mistake is named in the log and at /readyz, and that network alone is off: its channels wait.</summary>
    public static NetworkBook Load(IServiceProvider services)
    {
        ILogger log = services.GetRequiredService<ILoggerFactory>().CreateLogger(typeof(NetworkLoading).FullName!);
        string folder = services.GetRequiredService<IOptions<LarkSettings>>().Value.NetworksFolder;
        Dictionary<string, NetworkRules> rules = [];
        List<string> off = [];
        foreach (string file in Directory.GetFiles(folder, "*.json").Order(StringComparer.Ordinal))
        {
            string name = Path.GetFileName(file);
            try
            {
                NetworkRules read = NetworkRules.Parse(File.ReadAllText(file));
                if (read.Fields?.Keys.Except(ContentFields.All.Select(f => f.Key)).FirstOrDefault() is { } stray)
                    throw new FormatException($"Under “fields”, there is no content field “{stray}”.");
                if (!rules.TryAdd(read.Key, read))
                    throw new FormatException($"Another file describes “{read.Key}” already. Take one of them away.");
            }
            catch (FormatException e)
            {
                off.Add($"{name}: {e.Message}");
                LogOff(log, name, e.Message);
            }
        }
        return new(rules.Values, off);
    }

    /// <summary>The rules of a network that something a person does rests on.</summary>
    /// <exception cref="ProblemException">Its file is gone, or has a mistake.</exception>
    public static NetworkRules Demand(this NetworkBook networks, string network) =>
        networks.Has(network)
            ? networks[network]
            : throw ProblemException.Conflict($"There are no rules here for the network “{network}”. Tell whoever runs Able Lark.");

    [LoggerMessage(Level = LogLevel.Error, Message = "The network of {File} is off: {Reason}")]
    private static partial void LogOff(ILogger log, string file, string reason);

    public static void MapNetworks(this IEndpointRouteBuilder api) =>
        api.MapGet("/networks", (NetworkBook book) => book.All.ToList()).RequireAuthorization();
}
