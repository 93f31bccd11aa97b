using AbleLark.Core.Networks;
using Microsoft.Extensions.Options;

namespace AbleLark.Server.Networks;

/// <summary>Reads the networks' data files.</summary>
public static class NetworkLoading
{
    public static NetworkBook Load(IServiceProvider services)
    {
        string folder = services.GetRequiredService<IOptions<LarkSettings>>().Value.NetworksFolder;
        return new([
            .. Directory
                .GetFiles(folder, "*.json")
                .Select(file =>
                {
                    try
                    {
                        return NetworkRules.Parse(File.ReadAllText(file));
                    }
                    catch (FormatException e)
                    {
                        throw new InvalidOperationException($"{file}: {e.Message}", e);
                    }
                }),
        ]);
    }

    public static void MapNetworks(this IEndpointRouteBuilder api) =>
        api.MapGet("/networks", (NetworkBook book) => book.All.ToList()).RequireAuthorization();
}
