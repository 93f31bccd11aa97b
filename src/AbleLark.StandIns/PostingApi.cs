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

    public sealed record NewPost(string? Text, string? Link, string[]? Media, string? Under)
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
        api.MapGet("/account/online", (HttpContext http) => Results.Json(new { hours = Audience.Online(AccountOf(http)) }));
        api.MapPost("/media", AddMediaAsync).AddEndpointFilter(TroubleAsync);
        api.MapPost("/posts", AddPostAsync).AddEndpointFilter(TroubleAsync);
        api.MapGet("/posts", RecentAsync);
        api.MapGet("/posts/{id}/figures", FiguresAsync);
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

    private static async Task<IResult> AddMediaAsync(HttpContext http, Store store)
    {
        string key = http.Request.Headers["Idempotency-Key"].ToString();
        if (key.Length == 0)
            return Refused(400, "An Idempotency-Key is needed.");
        using MemoryStream bytes = new();
        await http.Request.Body.CopyToAsync(bytes, http.RequestAborted);
        if (KindOf(bytes.ToArray()) is not { } kind)
            return Refused(422, "That is not a picture.");
        string account = AccountOf(http).Id;
        return Results.Json(new { Id = (await store.AddMediaAsync([account], key, kind, bytes.ToArray()))[account] });
    }

    /// <summary>Media type of a picture, by what it is; null: it is none.</summary>
    internal static string? KindOf(byte[] bytes)
    {
        using SKData data = SKData.CreateCopy(bytes);
        using SKCodec? picture = SKCodec.Create(data);
        return picture?.EncodedFormat switch
        {
            null => null,
            SKEncodedImageFormat.Png => "image/png",
            SKEncodedImageFormat.Jpeg => "image/jpeg",
            SKEncodedImageFormat.Webp => "image/webp",
            _ => "image/gif",
        };
    }

    /// <summary>A post's identity hangs on its key alone, so that it always gets the same audience.</summary>
    internal static string IdOf(Account account, string key) =>
        Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(account.Id + key)).AsSpan(0, 8));

    internal static RemotePost PostOf(StandInNetwork network, Account account, NewPost sent, string key, Instant at, string? under) =>
        new(
            IdOf(account, key),
            network.Key,
            account.Id,
            sent.Text ?? "",
            sent.Link,
            sent.Media ?? [],
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
            return await AnswerAsync(http, before, account, store);
        Instant now = await store.NowAsync();
        IReadOnlyList<RemotePost> recent = await store.PostsOfAsync(account.Id, RecentMost);
        RemotePost? above = sent.Under is { } under ? await store.PostAsync(under) : null;
        if (sent.Under is not null && above?.AccountId != account.Id)
            return Refused(422, "What it should stand under isn't there.");
        StandInNetwork shown = networks.ByKey[network];
        if (Checker.Refusal(shown, sent, recent, now, above?.Text) is { } refusal)
            return Refused(422, refusal);
        RemotePost post = await store.AddPostAsync(PostOf(shown, account, sent, key, now, sent.Under), key);
        return await AnswerAsync(http, post, account, store);
    }

    private static async Task<IResult> RecentAsync(string? after, HttpContext http, Store store)
    {
        Account account = AccountOf(http);
        IReadOnlyList<RemotePost> posts = await store.PostsOfAsync(account.Id, PageLength, after);
        return Results.Json(await Task.WhenAll(posts.Select(p => DescribedAsync(http, p, account, store))));
    }

    private static async Task<IResult> FiguresAsync(string network, string id, HttpContext http, Store store, StandInNetworks networks)
    {
        Account account = AccountOf(http);
        await Task.Delay((await store.MannersAsync(network)).LatencyMilliseconds, http.RequestAborted);
        RemotePost? post = await store.PostAsync(id);
        if (post is null || post.AccountId != account.Id)
            return Refused(404, "There is no such post.");
        return Results.Json(Audience.React(networks.ByKey[network], account, post, await store.NowAsync()));
    }

    /// <summary>Ends the connection that the token stands for.</summary>
    private static async Task<IResult> RevokeAsync(HttpContext http, Store store)
    {
        await store.EndTokenAsync(http.Request.Headers.Authorization.ToString()["Bearer ".Length..]);
        return Results.Json(new { });
    }

    private static async Task<IResult> AnswerAsync(HttpContext http, RemotePost post, Account account, Store store) =>
        Results.Json(await DescribedAsync(http, post, account, store), statusCode: 201);

    private static async Task<object> DescribedAsync(HttpContext http, RemotePost post, Account account, Store store) =>
        new
        {
            post.Id,
            post.Text,
            post.Link,
            post.Under,
            Media = post.Media.Length == 0 ? [] : await store.MediaKindsAsync(post.Media),
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
