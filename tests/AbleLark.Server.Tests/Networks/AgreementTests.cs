using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core.Networks;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Server.Tests.Networks;

/// <summary>
/// The application's checks against those of the stand-in networks, which are written apart from them: what we say fits is
/// taken, and what we say doesn't is refused.
/// </summary>
public sealed class AgreementTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    /// <summary>Ten times as many in the bench.</summary>
    private static int Posts => Environment.GetEnvironmentVariable("LARK_EFFORT") == "bench" ? 5_000 : 500;

    /// <summary>Where ours and theirs disagree there is a mistake in one of them, which only the real network could tell.</summary>
    [Fact]
    public async Task What_fits_is_taken_and_what_does_not_is_refused_for_one_of_its_reasons()
    {
        // What is kept by hand is no network, and nothing is asked of any.
        NetworkBook networks = new([.. _installation.Services.GetRequiredService<NetworkBook>().All.Where(n => !n.KeptByHand)]);
        using HttpClient http = new() { BaseAddress = new(_installation.NetworksAddress) };
        AgreementResult result = await Agreement.AskAsync(http, networks, Posts, seed: 7919);
        Assert.True(result.Disagreements.Count == 0, string.Join('\n', result.Disagreements.Take(5)));
        Assert.All(
            networks.All,
            n =>
                Assert.True(
                    result.Taken[n.Key] > 4 && result.Refused[n.Key] > 10,
                    $"{n.Name}: {result.Taken[n.Key]} taken, {result.Refused[n.Key]} refused: the test proves too little."
                )
        );
    }

    [Fact]
    public async Task The_same_key_twice_makes_one_post_and_gives_the_same_answer()
    {
        using HttpClient http = await ConnectedAsync("hearth");
        string key = Guid.NewGuid().ToString();
        List<string> ids = [];
        for (int i = 0; i < 3; i++)
        {
            using HttpRequestMessage request = new(HttpMethod.Post, "/api/hearth/posts")
            {
                Content = JsonContent.Create(
                    new
                    {
                        text = $"Try {i}",
                        link = (string?)null,
                        media = Array.Empty<string>(),
                    }
                ),
            };
            request.Headers.Add("Idempotency-Key", key);
            using HttpResponseMessage response = await http.SendAsync(request);
            ids.Add((await response.Content.ReadFromJsonAsync<JsonElement>()).Text("id"));
        }
        Assert.Single(ids.Distinct());
    }

    [Fact]
    public async Task A_refresh_token_works_once_and_a_made_up_one_never()
    {
        using HttpClient http = new() { BaseAddress = new(_installation.NetworksAddress) };
        using FormUrlEncodedContent form = new(
            new Dictionary<string, string> { ["grant_type"] = "refresh_token", ["refresh_token"] = "made up" }
        );
        using HttpResponseMessage response = await http.PostAsync("/api/jot/token", form);
        Assert.Equal(HttpStatusCode.BadRequest, response.StatusCode);
        Assert.Equal("invalid_grant", (await response.Content.ReadFromJsonAsync<JsonElement>()).Text("error"));
    }

    /// <summary>A client with a token of an account of its own, got by the consent page.</summary>
    private async Task<HttpClient> ConnectedAsync(string network)
    {
        string account = await _installation.AddAccountAsync(network, "agree" + Guid.NewGuid().ToString("n")[..6]);
        HttpClient http = new(new HttpClientHandler { AllowAutoRedirect = false }) { BaseAddress = new(_installation.NetworksAddress) };
        using FormUrlEncodedContent consent = new(
            new Dictionary<string, string>
            {
                ["redirectUri"] = "http://127.0.0.1/",
                ["state"] = "s",
                ["account"] = account,
                ["answer"] = "allow",
            }
        );
        using HttpResponseMessage allowed = await http.PostAsync($"/{network}/consent", consent);
        string code = System.Web.HttpUtility.ParseQueryString(allowed.Headers.Location!.Query)["code"]!;
        using FormUrlEncodedContent form = new(new Dictionary<string, string> { ["grant_type"] = "authorization_code", ["code"] = code });
        using HttpResponseMessage tokens = await http.PostAsync($"/api/{network}/token", form);
        http.DefaultRequestHeaders.Authorization = new(
            "Bearer",
            (await tokens.Content.ReadFromJsonAsync<JsonElement>()).Text("access_token")
        );
        return http;
    }
}
