using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
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

/// <param name="Hours">Followers online in each of the 168 hours of a usual week, by UTC, from Monday 00:00 on.</param>
public sealed record RemoteOnline(List<double> Hours);

/// <summary>What a network made of a call: a picture that was taken in, or a post.</summary>
/// <param name="CreatedAt">When it says that it did, as it wrote it.</param>
/// <param name="Address">Where it says that readers find it, as it wrote it.</param>
public sealed record RemoteThing(
    string Id,
    string? Text = null,
    string? CreatedAt = null,
    string? Address = null,
    string? Link = null,
    IReadOnlyList<string>? Media = null
)
{
    private static readonly Duration Believable = Duration.FromDays(2);

    /// <summary>The address, if it is one that people may be sent to.</summary>
    public string? WebAddress => Core.Text.WebAddress.IsValid(Address ?? "") ? Address : null;

    /// <summary>When it was posted, by business time; null where the network says nothing that can be.</summary>
    /// <param name="since">It can't be much older than this.</param>
    public Instant? At(Instant since)
    {
        var read = InstantPattern.ExtendedIso.Parse(CreatedAt ?? "");
        return read.Success && read.Value > since - Believable && read.Value < since + MostAhead ? read.Value : null;
    }

    public ListedPost Listed(Instant since) => new(Id, Text ?? "", Link, Media, ListedAt(since), WebAddress);

    private static readonly Duration MostAhead = Duration.FromDays(3650);

    /// <summary>As <see cref="At"/>, but older posts keep their dates: that is what tells them apart.</summary>
    private Instant? ListedAt(Instant since)
    {
        var read = InstantPattern.ExtendedIso.Parse(CreatedAt ?? "");
        return read.Success && read.Value < since + MostAhead ? read.Value : null;
    }
}

/// <param name="Posts">Newest first.</param>
/// <param name="ReachesBack">False when the network listed no further back, though there may be older ones that matter.</param>
public sealed record PostedList(IReadOnlyList<RemoteThing> Posts, bool ReachesBack);

/// <summary>Speaks to the networks over HTTP. Never retries by itself: whether that is safe is the caller's to know.</summary>
public sealed class NetworkConnector(HttpClient http, IOptions<LarkSettings> settings)
{
    private static readonly JsonSerializerOptions Snake = new(JsonSerializerDefaults.Web)
    {
        PropertyNamingPolicy = JsonNamingPolicy.SnakeCaseLower,
    };

    private const int LongestReason = 500;

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

    public Task<NetworkAnswer<RemoteThing>> UploadAsync(
        string network,
        string token,
        string key,
        string kind,
        byte[] bytes,
        CancellationToken cancellation
    )
    {
        ByteArrayContent content = new(bytes);
        content.Headers.ContentType = new MediaTypeHeaderValue(kind);
        return MakeAsync(network, "media", token, key, content, cancellation);
    }

    public Task<NetworkAnswer<RemoteThing>> PostAsync(
        string network,
        string token,
        string key,
        string text,
        string? link,
        IReadOnlyList<string> media,
        CancellationToken cancellation
    ) =>
        MakeAsync(
            network,
            "posts",
            token,
            key,
            JsonContent.Create(
                new
                {
                    text,
                    link,
                    media,
                }
            ),
            cancellation
        );

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

    public Task<NetworkAnswer<FigureSet>> FiguresAsync(string network, string token, string postId, CancellationToken cancellation) =>
        SendAsync<FigureSet>(
            HttpMethod.Get,
            network,
            $"posts/{Uri.EscapeDataString(postId)}/figures",
            token,
            null,
            null,
            JsonSerializerOptions.Web,
            cancellation
        );

    /// <summary>Ends a connection on the network's side; whoever holds the token can do nothing with it any more.</summary>
    public Task<NetworkAnswer<object>> RevokeAsync(string network, string token, CancellationToken cancellation) =>
        SendAsync<object>(HttpMethod.Post, network, "revoke", token, null, null, JsonSerializerOptions.Web, cancellation);

    /// <summary>A call that makes something. A yes that doesn't name what was made is no answer.</summary>
    private async Task<NetworkAnswer<RemoteThing>> MakeAsync(
        string network,
        string path,
        string token,
        string key,
        HttpContent content,
        CancellationToken cancellation
    )
    {
        NetworkAnswer<RemoteThing> answer = await SendAsync<RemoteThing>(
            HttpMethod.Post,
            network,
            path,
            token,
            key,
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
