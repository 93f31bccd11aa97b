using System.Text.Json;
using AbleLark.Core.Figures;
using AbleLark.Server.Media;
using Microsoft.Extensions.Options;
using NodaTime;

namespace AbleLark.Server.Demo;

/// <param name="Account">The account's identity on the network.</param>
/// <param name="Key">The idempotency key.</param>
/// <param name="Post">What stands under another says so by that one's key.</param>
/// <param name="ReadAt">Times at which its figures are wanted.</param>
/// <param name="ByHand">A person posts it on the network itself.</param>
public sealed record PastPost(
    string Account,
    string Key,
    Instant At,
    Networks.Publication Post,
    IReadOnlyList<Instant> ReadAt,
    bool ByHand = false
);

/// <param name="Refusal">Why the network wouldn't have it; null: it is out.</param>
/// <param name="Figures">At each time that was asked for.</param>
public sealed record PastAnswer(string? Refusal, string? Id, string? Address, IReadOnlyList<FigureSet> Figures);

/// <summary>Behind the scenes of the stand-in networks: makes accounts, and what they posted before anybody was looking.</summary>
public sealed class StandInControl(IHttpClientFactory http, IOptions<LarkSettings> settings)
{
    private string Base => settings.Value.NetworksAddress.TrimEnd('/');

    /// <summary>Makes an account that has posted nothing; returns its identity on its network.</summary>
    internal async Task<string> AddAccountAsync(DemoAccount account, Dictionary<string, double> interests, CancellationToken cancellation)
    {
        string id = $"{account.Network}-{account.Handle}";
        object made = new
        {
            id,
            account.Network,
            account.Handle,
            account.Name,
            account.Followers,
            interests,
            account.IsPerson,
        };
        await AskAsync(c => c.PutAsJsonAsync($"{Base}/control/accounts", made, cancellation));
        // A start that was cut off may have left some behind.
        await AskAsync(c => c.DeleteAsync($"{Base}/control/accounts/{id}/posts", cancellation));
        return id;
    }

    /// <summary>Says yes on the network's consent page; returns the code that comes back.</summary>
    internal async Task<string> ConsentAsync(string network, string account, CancellationToken cancellation)
    {
        using HttpClient browser = http.CreateClient("demo");
        using FormUrlEncodedContent consent = new(
            new Dictionary<string, string>
            {
                ["redirectUri"] = "http://127.0.0.1/",
                ["state"] = "demo",
                ["account"] = account,
                ["answer"] = "allow",
            }
        );
        using HttpResponseMessage answer = await browser.PostAsync($"{Base}/{network}/consent", consent, cancellation);
        return System.Web.HttpUtility.ParseQueryString(answer.Headers.Location!.Query)["code"]!;
    }

    /// <summary>The network ends all connections with the account.</summary>
    internal Task RevokeAsync(string account, CancellationToken cancellation) =>
        AskAsync(c => c.PostAsync($"{Base}/control/accounts/{account}/revoke", null, cancellation));

    /// <summary>Uploads a file to several accounts; returns its identity on each one's network.</summary>
    public Task<Dictionary<string, string>> AddMediaAsync(
        IEnumerable<string> accounts,
        string key,
        SentFile file,
        CancellationToken cancellation
    ) =>
        AskAsync<Dictionary<string, string>>(c =>
            c.PostAsync(
                $"{Base}/control/past/media{Networks.PlainProtocol.FactsOf(file)}"
                    + $"&accounts={Uri.EscapeDataString(string.Join(',', accounts))}&key={Uri.EscapeDataString(key)}",
                new StreamContent(File.OpenRead(file.Path)),
                cancellation
            )
        );

    /// <summary>Posts in the past, each account's in order of time. Answers in the same order.</summary>
    public async Task<IReadOnlyList<PastAnswer>> PostAsync(IReadOnlyList<PastPost> posts, CancellationToken cancellation)
    {
        if (posts.Count == 0)
            return [];
        return await AskAsync<List<PastAnswer>>(c => c.PostAsJsonAsync($"{Base}/control/past/posts", posts.Select(Body), cancellation));
    }

    private static object Body(PastPost post) =>
        new
        {
            post.Account,
            post.Key,
            At = post.At.ToDateTimeOffset(),
            Post = Networks.PlainProtocol.BodyOf(post.Post),
            ReadAt = post.ReadAt.Select(r => r.ToDateTimeOffset()),
            post.ByHand,
        };

    private async Task<T> AskAsync<T>(Func<HttpClient, Task<HttpResponseMessage>> ask)
    {
        using HttpClient browser = http.CreateClient("demo");
        using HttpResponseMessage answer = await ask(browser);
        if (!answer.IsSuccessStatusCode)
            throw new InvalidOperationException(
                $"The stand-in networks refused ({(int)answer.StatusCode}): {await answer.Content.ReadAsStringAsync()}"
            );
        return (await answer.Content.ReadFromJsonAsync<T>(JsonSerializerOptions.Web))!;
    }

    private async Task AskAsync(Func<HttpClient, Task<HttpResponseMessage>> ask)
    {
        using HttpClient browser = http.CreateClient("demo");
        using HttpResponseMessage answer = await ask(browser);
        answer.EnsureSuccessStatusCode();
    }
}
