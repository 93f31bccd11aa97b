using System.Text.Json;
using Microsoft.Extensions.Configuration.Memory;
using Npgsql;

namespace AbleLark.StandIns;

/// <summary>The simulated networks: consent pages, an API to post to, pages to look at, an audience, and faults on demand.</summary>
public static class StandInApp
{
    /// <summary>Largest request taken, in bytes.</summary>
    private const long MostBytes = 220 * 1024 * 1024;

    /// <param name="args">Settings as for any ASP.NET Core program; `ConnectionStrings:Lark` is needed.</param>
    public static async Task<WebApplication> CreateAsync(string[] args)
    {
        WebApplicationBuilder builder = WebApplication.CreateBuilder(
            new WebApplicationOptions { Args = args, ContentRootPath = AppContext.BaseDirectory }
        );
        // A line for each call would bury what matters; settings may ask for more.
        ((IConfigurationBuilder)builder.Configuration).Sources.Insert(
            0,
            new MemoryConfigurationSource
            {
                InitialData = new Dictionary<string, string?>
                {
                    ["Logging:LogLevel:Default"] = "Information",
                    ["Logging:LogLevel:Microsoft.AspNetCore"] = "Warning",
                    ["Logging:LogLevel:Npgsql"] = "Warning",
                },
            }
        );
        builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = MostBytes);
        string connection =
            builder.Configuration.GetConnectionString("Lark")
            ?? throw new InvalidOperationException("Set ConnectionStrings__Lark to the PostgreSQL database of the demo.");
        NpgsqlDataSourceBuilder source = new(connection);
        source.UseNodaTime();
        builder.Services.AddSingleton(source.Build());
        builder.Services.AddSingleton(LoadNetworks());
        builder.Services.AddSingleton<Store>();
        builder.Services.AddSingleton<Faults>();
        builder.Services.AddSingleton<RateLimit>();

        WebApplication app = builder.Build();
        await app.Services.GetRequiredService<Store>().PrepareAsync();
        app.UseSites();
        app.MapGet("/healthz", () => Results.Text("ok"));
        Consent.Map(app);
        PostingApi.Map(app);
        Control.Map(app);
        Pages.Map(app);
        return app;
    }

    private static StandInNetworks LoadNetworks()
    {
        string json = File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "stand-in-networks.json"));
        NetworkList list = JsonSerializer.Deserialize<NetworkList>(json, JsonSerializerOptions.Web)!;
        return new(list.Networks.ToDictionary(n => n.Key));
    }

    private sealed record NetworkList(IReadOnlyList<StandInNetwork> Networks);
}

/// <summary>A network as it sees itself; the figures are its own, not the application's.</summary>
/// <param name="HoursToMost">Age in hours at which about two thirds of all reactions are in.</param>
/// <param name="ReachShare">Share of followers that a usual post reaches.</param>
/// <param name="MostComment">Longest comment, in UTF-16 units; null: it takes none.</param>
/// <param name="MostParts">Most parts of a thread, the first included; null: it has no threads.</param>
/// <param name="NeedsVideo">Nothing goes without one.</param>
/// <param name="KeepsHours">It keeps to itself when followers are online.</param>
/// <param name="ByPersonOnly">Programs may post for business accounts only.</param>
public sealed record StandInNetwork(
    string Key,
    string Name,
    string About,
    string Paper,
    string Ink,
    string Accent,
    int? MostWeight,
    int? MostUnits,
    int MostPictures,
    int FewestPictures,
    int? MostHashtags,
    int? RepeatDays,
    bool HasCards,
    double HoursToMost,
    double ReachShare,
    int? MostGraphemes = null,
    int? MostCodePoints = null,
    int? MostComment = null,
    bool NeedsLink = false,
    int? MostParts = null,
    PictureTerms? Picture = null,
    VideoTerms? Video = null,
    DocumentTerms? Document = null,
    bool NeedsVideo = false,
    bool ByPersonOnly = false,
    int? MostAltText = null,
    bool KeepsHours = false,
    bool HasButton = false,
    bool HasDates = false,
    IReadOnlyDictionary<string, MoreRule>? More = null
);

/// <summary>What pictures it takes.</summary>
/// <param name="Kinds">Without `image/`.</param>
public sealed record PictureTerms(
    IReadOnlyList<string> Kinds,
    long MostBytes,
    int LeastWidth = 0,
    int LeastHeight = 0,
    double Narrowest = 0,
    double Widest = 1e9
);

/// <summary>What videos it takes.</summary>
/// <param name="IsUpright">Only 9 to 16, give or take a little.</param>
public sealed record VideoTerms(long MostBytes, double Shortest = 0, double Longest = 1e9, bool IsUpright = false);

/// <summary>What documents it takes.</summary>
public sealed record DocumentTerms(long MostBytes, int MostPages);

/// <summary>What it takes beside text, link and pictures.</summary>
/// <param name="By">What counts towards the most: UTF-16 units unless it says `graphemes` or `codePoints`.</param>
/// <param name="OneOf">The only values taken.</param>
public sealed record MoreRule(bool Needed = false, int? Most = null, string? By = null, IReadOnlyList<string>? OneOf = null);

public sealed record StandInNetworks(IReadOnlyDictionary<string, StandInNetwork> ByKey)
{
    public StandInNetwork? Find(string key) => ByKey.GetValueOrDefault(key);
}
