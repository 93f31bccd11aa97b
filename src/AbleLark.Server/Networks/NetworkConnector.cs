using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using AbleLark.Core.Results;
using Microsoft.Extensions.Options;
using NodaTime;
using NodaTime.Text;

namespace AbleLark.Server.Networks;

public enum AnswerKind
{
    Ok,
    /// <summary>The network said no and will say so again.</summary>
    Refused,
    TokenExpired,
    /// <summary>Nothing was done; try again after a while.</summary>
    Busy,
    /// <summary>No answer, or a broken one: it may have been done or not.</summary>
    Lost,
}

/// <summary>What a network answered.</summary>
/// <param name="Reason">Its words, or ours where it had none.</param>
/// <param name="Wait">How long it asks to be left alone.</param>
public sealed record NetworkAnswer<T>(AnswerKind Kind, T? Value = default, string Reason = "", TimeSpan? Wait = null)
{
    public bool IsOk => Kind == AnswerKind.Ok;
}

public sealed record RemoteAccount(string Id, string Handle, string Name, int Followers);

public sealed record RemoteTokens(string AccessToken, string RefreshToken, int ExpiresIn);

public sealed record RemoteMedia(string Id);

/// <param name="Hours">Followers online in each of the 168 hours of a usual week, by UTC, from Monday 00:00 on.</param>
public sealed record RemoteOnline(List<double> Hours);

public sealed record RemotePost(string Id, string Text, string CreatedAt, string Address)
{
    public Instant Created => InstantPattern.ExtendedIso.Parse(CreatedAt).Value;
}

/// <summary>Speaks to the networks over HTTP. Never retries by itself: whether that is safe is the caller's to know.</summary>
public sealed class NetworkConnector(HttpClient http, IOptions<LarkSettings> settings)
{
    private static readonly JsonSerializerOptions Snake = new(JsonSerializerDefaults.Web) { PropertyNamingPolicy = JsonNamingPolicy.SnakeCaseLower };

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

    /// <summary>When the account's followers are online; refused by networks that don't tell.</summary>
    public Task<NetworkAnswer<RemoteOnline>> OnlineAsync(string network, string token, CancellationToken cancellation) =>
        SendAsync<RemoteOnline>(HttpMethod.Get, network, "account/online", token, null, null, JsonSerializerOptions.Web, cancellation);

    public Task<NetworkAnswer<RemoteMedia>> UploadAsync(string network, string token, string key, string kind, byte[] bytes, CancellationToken cancellation)
    {
        ByteArrayContent content = new(bytes);
        content.Headers.ContentType = new MediaTypeHeaderValue(kind);
        return SendAsync<RemoteMedia>(HttpMethod.Post, network, "media", token, key, content, JsonSerializerOptions.Web, cancellation);
    }

    public Task<NetworkAnswer<RemotePost>> PostAsync(
        string network, string token, string key, string text, string? link, IReadOnlyList<string> media, CancellationToken cancellation) =>
        SendAsync<RemotePost>(HttpMethod.Post, network, "posts", token, key, JsonContent.Create(new { text, link, media }), JsonSerializerOptions.Web, cancellation);

    /// <summary>The account's latest posts, newest first, so that one whose answer was lost can be found.</summary>
    public Task<NetworkAnswer<List<RemotePost>>> RecentAsync(string network, string token, CancellationToken cancellation) =>
        SendAsync<List<RemotePost>>(HttpMethod.Get, network, "posts", token, null, null, JsonSerializerOptions.Web, cancellation);

    public Task<NetworkAnswer<Figures>> FiguresAsync(string network, string token, string postId, CancellationToken cancellation) =>
        SendAsync<Figures>(HttpMethod.Get, network, $"posts/{Uri.EscapeDataString(postId)}/figures", token, null, null, JsonSerializerOptions.Web, cancellation);

    private Task<NetworkAnswer<RemoteTokens>> TokenAsync(string network, Dictionary<string, string> form, CancellationToken cancellation) =>
        SendAsync<RemoteTokens>(HttpMethod.Post, network, "token", null, null, new FormUrlEncodedContent(form), Snake, cancellation);

    private async Task<NetworkAnswer<T>> SendAsync<T>(
        HttpMethod method, string network, string path, string? token, string? key, HttpContent? content,
        JsonSerializerOptions format, CancellationToken cancellation)
    {
        using HttpRequestMessage request = new(method, $"{Base}/api/{network}/{path}") { Content = content };
        if (token is not null) request.Headers.Authorization = new("Bearer", token);
        if (key is not null) request.Headers.Add("Idempotency-Key", key);
        try
        {
            using HttpResponseMessage response = await http.SendAsync(request, cancellation);
            if (response.IsSuccessStatusCode) return new(AnswerKind.Ok, await response.Content.ReadFromJsonAsync<T>(format, cancellation));
            string reason = await ReasonAsync(response, cancellation);
            return response.StatusCode switch
            {
                HttpStatusCode.Unauthorized => new(AnswerKind.TokenExpired, Reason: reason),
                HttpStatusCode.TooManyRequests => new(AnswerKind.Busy, Reason: reason, Wait: response.Headers.RetryAfter?.Delta ?? TimeSpan.FromSeconds(30)),
                >= HttpStatusCode.InternalServerError => new(AnswerKind.Lost, Reason: $"The network is in trouble ({(int)response.StatusCode}). {reason}".TrimEnd()),
                _ => new(AnswerKind.Refused, Reason: reason.Length > 0 ? reason : string.Create(CultureInfo.InvariantCulture, $"The network refused it ({(int)response.StatusCode}).")),
            };
        }
        catch (Exception e) when (e is HttpRequestException or IOException or JsonException || (e is TaskCanceledException && !cancellation.IsCancellationRequested))
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
            return json.RootElement.ValueKind == JsonValueKind.Object && json.RootElement.TryGetProperty("reason", out JsonElement reason) ? reason.GetString() ?? "" : "";
        }
        catch (JsonException)
        {
            return "";
        }
    }
}
