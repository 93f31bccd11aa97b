using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using NodaTime;
using SkiaSharp;

namespace AbleLark.StandIns;

/// <summary>The networks' API for programs that post: pictures, posts, recent posts, figures.</summary>
internal static class PostingApi
{
    private const int RecentMost = 100;
    private const int PageLength = 50;
    private const int FoundMost = 10;

    public sealed record NewPost(string? Text, string? Link, ShownMedia[]? Media, string? Under)
    {
        /// <summary>Whatever else it says, by name; networks take what they know of it.</summary>
        [JsonExtensionData]
        public Dictionary<string, JsonElement> More { get; init; } = [];

        public string? Say(string name) =>
            More.TryGetValue(name, out JsonElement said) && said.ValueKind == JsonValueKind.String ? said.GetString() : null;

        /// <summary>What of it the network knows.</summary>
        public Dictionary<string, string> MoreOn(StandInNetwork network) =>
            (network.More ?? new Dictionary<string, MoreRule>())
                .Keys.Where(n => !string.IsNullOrWhiteSpace(Say(n)))
                .ToDictionary(n => n, n => Say(n)!);
    }

    public static void Map(WebApplication app)
    {
        RouteGroupBuilder api = app.MapGroup("/api/{network}").AddEndpointFilter(AuthoriseAsync);
        api.MapGet("/account", (HttpContext http) => Results.Json(Shown(AccountOf(http))));
        api.MapGet(
            "/account/online",
            (string network, HttpContext http, StandInNetworks networks) =>
                networks.ByKey[network].KeepsHours
                    ? Refused(404, "When followers are here is not told.")
                    : Results.Json(new { hours = Audience.Online(AccountOf(http)) })
        );
        api.MapPost("/media", AddMediaAsync).AddEndpointFilter(TroubleAsync);
        api.MapPost("/posts", AddPostAsync).AddEndpointFilter(TroubleAsync);
        api.MapGet("/posts", RecentAsync);
        api.MapGet("/posts/figures", FiguresAsync);
        api.MapDelete("/posts/{id}", DeleteAsync);
        api.MapGet("/accounts", FindAsync);
        api.MapPost("/revoke", RevokeAsync);
    }

    private static Account AccountOf(HttpContext http) => (Account)http.Items["account"]!;

    private static object Shown(Account a) =>
        new
        {
            a.Id,
            a.Handle,
            a.Name,
            a.Followers,
            a.Kind,
        };

    private static async ValueTask<object?> AuthoriseAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        HttpContext http = context.HttpContext;
        if (http.Request.Path.Value!.EndsWith("/token", StringComparison.Ordinal))
            return await next(context);
        Store store = http.RequestServices.GetRequiredService<Store>();
        string bearer = http.Request.Headers.Authorization.ToString();
        string token = bearer.StartsWith("Bearer ", StringComparison.Ordinal) ? bearer[7..] : "";
        string? accountId = await store.AccountOfTokenAsync(token, SystemClock.Instance.GetCurrentInstant());
        Account? account = accountId is null ? null : await store.AccountAsync(accountId);
        if (account is null || account.Network != (string?)http.Request.RouteValues["network"])
            return Refused(401, "The access token is not valid, or has run out.");
        http.Items["account"] = account;
        return await next(context);
    }

    /// <summary>Rate limits and faults ordered on the control page; a lost answer comes after the work is done.</summary>
    private static async ValueTask<object?> TroubleAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        HttpContext http = context.HttpContext;
        Account account = AccountOf(http);
        if (http.RequestServices.GetRequiredService<RateLimit>().Ask(account.Id) is { } wait)
            return Limited(http, wait);
        NetworkManners manners = await http.RequestServices.GetRequiredService<Store>().MannersAsync(account.Network);
        if (manners.LatencyMilliseconds > 0)
            await Task.Delay(manners.LatencyMilliseconds, http.RequestAborted);
        switch (await http.RequestServices.GetRequiredService<Faults>().NextAsync(account.Id))
        {
            case "refuse":
                return Refused(422, Faults.RefusalWords);
            case "error":
                return Refused(500, "Something broke.");
            case "rateLimited":
                return Limited(http, 1);
            case "expiredToken":
                await http
                    .RequestServices.GetRequiredService<Store>()
                    .EndTokensAsync(account.Id, SystemClock.Instance.GetCurrentInstant(), revoke: false);
                return Refused(401, "The access token has run out.");
            case "slow":
                await Task.Delay(TimeSpan.FromSeconds(3), http.RequestAborted);
                return await next(context);
            case "late":
                // The work is done after the caller has gone: what it made turns up later.
                await Task.Delay(TimeSpan.FromSeconds(manners.LateSeconds), CancellationToken.None);
                return await next(context);
            case "silent":
                await Task.Delay(TimeSpan.FromSeconds(60), http.RequestAborted);
                http.Abort();
                return Results.Empty;
            case "nonsense":
                await next(context);
                return Results.Json(
                    new
                    {
                        id = "n" + Guid.NewGuid().ToString("n"),
                        text = "?",
                        createdAt = "-9998-13-41T99:00:00Z",
                        address = "javascript:alert(1)",
                    },
                    statusCode: 201
                );
            case "down":
                http.Abort();
                return Results.Empty;
            case "loseAnswer":
                await next(context);
                http.Abort();
                return Results.Empty;
            default:
                return await next(context);
        }
    }

    /// <summary>Pictures are looked at; of other files the sender says what they are like.</summary>
    private static async Task<IResult> AddMediaAsync(HttpContext http, Store store, [AsParameters] StatedFacts stated)
    {
        string key = http.Request.Headers["Idempotency-Key"].ToString();
        if (key.Length == 0)
            return Refused(400, "An Idempotency-Key is needed.");
        using MemoryStream bytes = new();
        await http.Request.Body.CopyToAsync(bytes, http.RequestAborted);
        if (FactsOf(bytes.ToArray(), stated) is not { } facts)
            return Refused(422, "That is neither a picture, nor a video, nor a document.");
        string account = AccountOf(http).Id;
        return Results.Json(new { Id = (await store.AddMediaAsync([account], key, facts, bytes.ToArray()))[account] });
    }

    /// <summary>What the sender says of a file.</summary>
    public sealed record StatedFacts(int? Width, int? Height, double? Seconds, int? Pages);

    /// <summary>What a file is, by its bytes; null: nothing that is taken.</summary>
    internal static MediaFacts? FactsOf(byte[] bytes, StatedFacts stated)
    {
        if (bytes.AsSpan().StartsWith("%PDF-"u8))
            return new("application/pdf", bytes.Length, 0, 0, 0, stated.Pages ?? 0);
        if (bytes.Length > 12 && bytes.AsSpan(4, 4).SequenceEqual("ftyp"u8))
            return new("video/mp4", bytes.Length, stated.Width ?? 0, stated.Height ?? 0, stated.Seconds ?? 0);
        using SKData data = SKData.CreateCopy(bytes);
        using SKCodec? picture = SKCodec.Create(data);
        string? kind = picture?.EncodedFormat switch
        {
            null => null,
            SKEncodedImageFormat.Png => "image/png",
            SKEncodedImageFormat.Jpeg => "image/jpeg",
            SKEncodedImageFormat.Webp => "image/webp",
            _ => "image/gif",
        };
        if (kind is null)
            return null;
        bool onItsSide = (int)picture!.EncodedOrigin >= (int)SKEncodedOrigin.LeftTop;
        (int width, int height) = (picture.Info.Width, picture.Info.Height);
        return new(kind, bytes.Length, onItsSide ? height : width, onItsSide ? width : height);
    }

    /// <summary>A post's identity hangs on its key alone, so that it always gets the same audience.</summary>
    internal static string IdOf(Account account, string key) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(account.Id + key)).AsSpan(0, 8));

    /// <param name="facts">Of its files, in their order.</param>
    internal static RemotePost PostOf(
        StandInNetwork network,
        Account account,
        NewPost sent,
        IReadOnlyList<MediaFacts> facts,
        string key,
        Instant at,
        string? under
    ) =>
        new(
            IdOf(account, key),
            network.Key,
            account.Id,
            sent.Text ?? "",
            sent.Link,
            [.. (sent.Media ?? []).Zip(facts, (m, f) => m with { Kind = f.Kind })],
            at,
            under,
            under is null ? sent.MoreOn(network) : []
        );

    internal static string AddressOf(HttpRequest request, RemotePost post, Account account) =>
        $"{request.Scheme}://{request.Host}/{post.Network}/{account.Handle}/{post.Id}";

    private static async Task<IResult> AddPostAsync(string network, NewPost sent, HttpContext http, Store store, StandInNetworks networks)
    {
        Account account = AccountOf(http);
        string key = http.Request.Headers["Idempotency-Key"].ToString();
        if (key.Length == 0)
            return Refused(400, "An Idempotency-Key is needed.");
        NetworkManners manners = await store.MannersAsync(network);
        // A network that ignores keys takes the same post as often as it comes.
        if (!manners.HonoursKeys)
            key += ":" + Guid.NewGuid().ToString("n");
        if (await store.PostByKeyAsync(account.Id, key) is { } before)
            return Answer(http, before, account);
        Instant now = await store.NowAsync();
        IReadOnlyList<RemotePost> recent = await store.PostsOfAsync(account.Id, RecentMost);
        RemotePost? above = sent.Under is { } under ? await store.PostAsync(under) : null;
        if (sent.Under is not null && above?.AccountId != account.Id)
            return Refused(422, "What it should stand under isn't there.");
        StandInNetwork shown = networks.ByKey[network];
        if (shown.ByPersonOnly && !account.IsBusiness)
            return Refused(422, "Programs may post for business accounts only.");
        if (await store.FactsAsync([.. (sent.Media ?? []).Select(m => m.Id)]) is not { } facts)
            return Refused(422, "One of the files isn't there.");
        if (Checker.Refusal(shown, sent, facts, recent, now, [.. (await store.AboveAsync(above)).Select(a => a.Text)]) is { } refusal)
            return Refused(422, refusal);
        RemotePost post = await store.AddPostAsync(PostOf(shown, account, sent, facts, key, now, sent.Under), key);
        return Answer(http, post, account);
    }

    private static async Task<IResult> RecentAsync(string? after, HttpContext http, Store store)
    {
        Account account = AccountOf(http);
        IReadOnlyList<RemotePost> posts = await store.PostsOfAsync(account.Id, PageLength, after);
        return Results.Json(posts.Select(p => Described(http, p, account)));
    }

    /// <summary>What up to fifty posts of the account have earned so far; posts that aren't there are passed over.</summary>
    private static async Task<IResult> FiguresAsync(string network, string ids, HttpContext http, Store store, StandInNetworks networks)
    {
        Account account = AccountOf(http);
        await Task.Delay((await store.MannersAsync(network)).LatencyMilliseconds, http.RequestAborted);
        string[] asked = ids.Split(',', StringSplitOptions.RemoveEmptyEntries);
        if (asked.Length > PageLength)
            return Refused(400, $"At most {PageLength} posts at once.");
        Instant now = await store.NowAsync();
        return Results.Json(
            (await store.PostsAsync(asked))
                .Where(p => p.AccountId == account.Id)
                .ToDictionary(p => p.Id, p => Audience.React(networks.ByKey[network], account, p, now))
        );
    }

    /// <summary>Takes a post away, with all that stands under it.</summary>
    private static async Task<IResult> DeleteAsync(string id, HttpContext http, Store store) =>
        await store.DeletePostAsync(AccountOf(http).Id, id) ? Results.NoContent() : Refused(404, "There is no such post.");

    /// <summary>Accounts of the network whose handle or name begins so, the handle that is just so first.</summary>
    private static async Task<IResult> FindAsync(string network, string? query, Store store)
    {
        string wanted = (query ?? "").TrimStart('@');
        IEnumerable<Account> found = (await store.AccountsAsync(network))
            .Where(a =>
                a.Handle.StartsWith(wanted, StringComparison.OrdinalIgnoreCase)
                || a.Name.Contains(wanted, StringComparison.OrdinalIgnoreCase)
            )
            .OrderBy(a => !a.Handle.Equals(wanted, StringComparison.OrdinalIgnoreCase))
            .ThenBy(a => a.Handle, StringComparer.Ordinal)
            .Take(FoundMost);
        return Results.Json(found.Select(Shown));
    }

    /// <summary>Ends the connection that the token stands for.</summary>
    private static async Task<IResult> RevokeAsync(HttpContext http, Store store)
    {
        await store.EndTokenAsync(http.Request.Headers.Authorization.ToString()["Bearer ".Length..]);
        return Results.Json(new { });
    }

    private static IResult Answer(HttpContext http, RemotePost post, Account account) =>
        Results.Json(Described(http, post, account), statusCode: 201);

    private static object Described(HttpContext http, RemotePost post, Account account) =>
        new
        {
            post.Id,
            post.Text,
            post.Link,
            post.Under,
            Media = post.Media.Select(m => m.Kind ?? "image/png"),
            CreatedAt = post.CreatedAt.ToString(),
            Address = AddressOf(http.Request, post, account),
        };

    private static IResult Limited(HttpContext http, int seconds)
    {
        http.Response.Headers.RetryAfter = seconds.ToString(System.Globalization.CultureInfo.InvariantCulture);
        return Refused(429, "Too many posts in a short time.");
    }

    private static IResult Refused(int status, string reason) => Results.Json(new { reason }, statusCode: status);
}
