using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using AbleLark.Core.Content;
using AbleLark.Core.Figures;
using AbleLark.Core.Networks;
using AbleLark.Server.Media;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Networks;

/// <summary>
/// The protocol that the invented networks speak: JSON over HTTP with bearer tokens and idempotency keys. Never retries by itself: whether
/// that is safe is the caller's to know.
/// </summary>
public sealed class PlainProtocol(HttpClient http, IOptions<LarkSettings> settings) : INetworkProtocol
{
    private static readonly JsonSerializerOptions Snake = new(JsonSerializerDefaults.Web)
    {
        PropertyNamingPolicy = JsonNamingPolicy.SnakeCaseLower,
    };

    private const int LongestReason = 500;

    public string Name => NetworkRules.UsualProtocol;

    private string Base => settings.Value.NetworksAddress.TrimEnd('/');

    /// <summary>Address of the network's consent page.</summary>
    public string ConsentAddress(string network, string redirectUri, string state) =>
        $"{Base}/{network}/consent?redirectUri={Uri.EscapeDataString(redirectUri)}&state={Uri.EscapeDataString(state)}";

    public Task<NetworkAnswer<RemoteTokens>> ExchangeCodeAsync(string network, string code, CancellationToken cancellation) =>
        TokenAsync(network, new() { ["grant_type"] = "authorization_code", ["code"] = code }, cancellation);

    public Task<NetworkAnswer<RemoteTokens>> RefreshAsync(string network, string refreshToken, CancellationToken cancellation) =>
        TokenAsync(network, new() { ["grant_type"] = "refresh_token", ["refresh_token"] = refreshToken }, cancellation);

    public Task<NetworkAnswer<RemoteAccount>> AccountAsync(string network, string token, CancellationToken cancellation) =>
        SendAsync<RemoteAccount>(HttpMethod.Get, network, "account", token, null, null, JsonSerializerOptions.Web, cancellation);

    /// <summary>Pages of a network lie under its name on the networks' own host.</summary>
    public bool IsAddressOn(string network, string address) =>
        Uri.TryCreate(address, UriKind.Absolute, out Uri? page)
        && Uri.TryCreate($"{Base}/{network}/", UriKind.Absolute, out Uri? site)
        && site.IsBaseOf(page);

    public Task<NetworkAnswer<List<RemoteAccount>>> FindAccountsAsync(
        string network,
        string token,
        string query,
        CancellationToken cancellation
    ) =>
        SendAsync<List<RemoteAccount>>(
            HttpMethod.Get,
            network,
            $"accounts?query={Uri.EscapeDataString(query)}",
            token,
            null,
            null,
            JsonSerializerOptions.Web,
            cancellation
        );

    /// <summary>When the account's followers are online; refused by networks that don't tell.</summary>
    public Task<NetworkAnswer<RemoteOnline>> OnlineAsync(string network, string token, CancellationToken cancellation) =>
        SendAsync<RemoteOnline>(HttpMethod.Get, network, "account/online", token, null, null, JsonSerializerOptions.Web, cancellation);

    public Task<NetworkAnswer<RemoteThing>> UploadAsync(Call call, SentFile file, CancellationToken cancellation)
    {
        StreamContent content = new(File.OpenRead(file.Path));
        content.Headers.ContentType = new MediaTypeHeaderValue(file.Kind);
        return MakeAsync(call, "media" + FactsOf(file), content, cancellation);
    }

    /// <summary>What is known of a file, as a query.</summary>
    public static string FactsOf(SentFile file) =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"?width={file.Width}&height={file.Height}&seconds={file.Seconds ?? 0}&pages={file.Pages ?? 0}"
        );

    public Task<NetworkAnswer<RemoteThing>> PublishAsync(Call call, Publication publication, CancellationToken cancellation) =>
        MakeAsync(call, "posts", JsonContent.Create(BodyOf(publication)), cancellation);

    /// <summary>A post as it is written in JSON.</summary>
    public static Dictionary<string, object?> BodyOf(Publication publication)
    {
        FieldValues fields = publication.Fields;
        Dictionary<string, object?> body = fields.Fields.Where(f => f is Field<string>).ToDictionary(f => f.Key, f => fields.ValueOf(f));
        (body["media"], body["under"]) = (publication.Media, publication.Under);
        foreach ((string field, string upload) in publication.Named ?? new Dictionary<string, string>())
            body[field] = upload;
        return body;
    }

    /// <summary>What the account posted since then, newest first, so that a post whose answer was lost can be found.</summary>
    /// <param name="since">Business time.</param>
    /// <param name="most">Read back no further than this many posts.</param>
    public async Task<NetworkAnswer<PostedList>> PostedSinceAsync(
        string network,
        string token,
        Instant since,
        int most,
        CancellationToken cancellation
    )
    {
        List<RemoteThing> posts = [];
        while (true)
        {
            string after = posts.Count == 0 ? "" : $"?after={Uri.EscapeDataString(posts[^1].Id)}";
            NetworkAnswer<List<RemoteThing>> page = await SendAsync<List<RemoteThing>>(
                HttpMethod.Get,
                network,
                "posts" + after,
                token,
                null,
                null,
                JsonSerializerOptions.Web,
                cancellation
            );
            if (!page.IsOk)
                return new(page.Kind, Reason: page.Reason, Wait: page.Wait);
            posts.AddRange(page.Value!.Where(p => p.Id is { Length: > 0 }));
            if (page.Value!.Count == 0 || posts[^1].Listed(since).At < since)
                return new(AnswerKind.Ok, new(posts, ReachesBack: true));
            if (posts.Count >= most)
                return new(AnswerKind.Ok, new(posts, ReachesBack: false));
        }
    }

    public Task<NetworkAnswer<Dictionary<string, FigureSet>>> FiguresAsync(
        string network,
        string token,
        IReadOnlyCollection<string> postIds,
        CancellationToken cancellation
    ) =>
        SendAsync<Dictionary<string, FigureSet>>(
            HttpMethod.Get,
            network,
            $"posts/figures?ids={string.Join(',', postIds.Select(Uri.EscapeDataString))}",
            token,
            null,
            null,
            JsonSerializerOptions.Web,
            cancellation
        );

    /// <summary>Ends a connection on the network's side; whoever holds the token can do nothing with it any more.</summary>
    public Task<NetworkAnswer<object>> RevokeAsync(string network, string token, CancellationToken cancellation) =>
        SendAsync<object>(HttpMethod.Post, network, "revoke", token, null, null, JsonSerializerOptions.Web, cancellation);

    /// <inheritdoc/>
    public Task<NetworkAnswer<object>> TakeDownAsync(string network, string token, string postId, CancellationToken cancellation) =>
        SendAsync<object>(
            HttpMethod.Delete,
            network,
            $"posts/{Uri.EscapeDataString(postId)}",
            token,
            null,
            null,
            JsonSerializerOptions.Web,
            cancellation
        );

    /// <summary>A call that makes something. A yes that doesn't name what was made is no answer.</summary>
    private async Task<NetworkAnswer<RemoteThing>> MakeAsync(Call call, string path, HttpContent content, CancellationToken cancellation)
    {
        NetworkAnswer<RemoteThing> answer = await SendAsync<RemoteThing>(
            HttpMethod.Post,
            call.Network,
            path,
            call.Token,
            call.Key,
            content,
            JsonSerializerOptions.Web,
            cancellation
        );
        return answer.IsOk && (answer.Value!.Id is not { Length: > 0 } id || id.Any(char.IsControl))
            ? new(AnswerKind.Lost, Reason: "The network's answer made no sense.")
            : answer;
    }

    private Task<NetworkAnswer<RemoteTokens>> TokenAsync(string network, Dictionary<string, string> form, CancellationToken cancellation) =>
        SendAsync<RemoteTokens>(HttpMethod.Post, network, "token", null, null, new FormUrlEncodedContent(form), Snake, cancellation);

    private async Task<NetworkAnswer<T>> SendAsync<T>(
        HttpMethod method,
        string network,
        string path,
        string? token,
        string? key,
        HttpContent? content,
        JsonSerializerOptions format,
        CancellationToken cancellation
    )
    {
        using HttpRequestMessage request = new(method, $"{Base}/api/{network}/{path}") { Content = content };
        if (token is not null)
            request.Headers.Authorization = new("Bearer", token);
        if (key is not null)
            request.Headers.Add("Idempotency-Key", key);
        try
        {
            using HttpResponseMessage response = await http.SendAsync(request, cancellation);
            // Taking down says nothing; and what isn't there any more is down.
            if (method == HttpMethod.Delete && (response.IsSuccessStatusCode || response.StatusCode == HttpStatusCode.NotFound))
                return new(AnswerKind.Ok);
            if (response.IsSuccessStatusCode)
            {
                return await response.Content.ReadFromJsonAsync<T>(format, cancellation) is { } value
                    ? new(AnswerKind.Ok, value)
                    : new(AnswerKind.Lost, Reason: "The network's answer made no sense.");
            }
            string reason = await ReasonAsync(response, cancellation);
            return response.StatusCode switch
            {
                HttpStatusCode.Unauthorized => new(AnswerKind.TokenExpired, Reason: reason),
                HttpStatusCode.TooManyRequests => new(
                    AnswerKind.Busy,
                    Reason: reason,
                    Wait: response.Headers.RetryAfter?.Delta ?? TimeSpan.FromSeconds(30)
                ),
                >= HttpStatusCode.InternalServerError => new(
                    AnswerKind.Lost,
                    Reason: $"The network is in trouble ({(int)response.StatusCode}). {reason}".TrimEnd()
                ),
                _ => new(
                    AnswerKind.Refused,
                    Reason: reason.Length > 0
                        ? reason
                        : string.Create(CultureInfo.InvariantCulture, $"The network refused it ({(int)response.StatusCode}).")
                ),
            };
        }
        catch (Exception e)
            when (e is HttpRequestException or IOException or JsonException or NotSupportedException
                || (e is TaskCanceledException && !cancellation.IsCancellationRequested)
            )
        {
            return new(AnswerKind.Lost, Reason: "The network gave no answer.");
        }
    }

    private static async Task<string> ReasonAsync(HttpResponseMessage response, CancellationToken cancellation)
    {
        string body = await response.Content.ReadAsStringAsync(cancellation);
        try
        {
            using JsonDocument json = JsonDocument.Parse(body);
            string words =
                json.RootElement.ValueKind == JsonValueKind.Object
                && json.RootElement.TryGetProperty("reason", out JsonElement reason)
                && reason.ValueKind == JsonValueKind.String
                    ? reason.GetString()!
                    : "";
            words = words.Replace("\0", "", StringComparison.Ordinal);
            return words.Length > LongestReason ? words[..LongestReason] + "…" : words;
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return "";
        }
    }
}
