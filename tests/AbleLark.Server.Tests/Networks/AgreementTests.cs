using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core.Content;
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

    private static readonly string[] Pieces =
    [
        "tide ",
        "Ebb ",
        "é",
        "鳥",
        "Ж",
        "🐦",
        "👍🏽",
        "🇮🇪 ",
        "\n",
        " https://marram.example.org/walks/dawn?from=ferry ",
        " example.org ",
        " #birds ",
        "… ",
        "“ringing” ",
    ];

    [Theory]
    [InlineData("jot")]
    [InlineData("hearth")]
    public async Task What_fits_is_taken_and_what_does_not_is_refused(string network)
    {
        NetworkRules rules = _installation.Services.GetRequiredService<NetworkBook>()[network];
        using HttpClient http = await ConnectedAsync(network);
        Random chance = new(network.Length * 7919);
        int taken = 0,
            refused = 0;
        for (int i = 0; i < 160; i++)
        {
            // Half of them fall close to the limit, where two ways of counting would part.
            string text = Text(chance, rules, close: i % 2 == 0) + $" {i}";
            bool fits = ContentCheck.Check(PostContent.Empty.With(ContentFields.Text, text), rules, ContentSources.None).Fits;
            using HttpRequestMessage request = new(HttpMethod.Post, $"/api/{network}/posts")
            {
                Content = JsonContent.Create(
                    new
                    {
                        text,
                        link = (string?)null,
                        media = Array.Empty<string>(),
                    }
                ),
            };
            request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
            using HttpResponseMessage response = await http.SendAsync(request);
            Assert.True(
                fits == response.IsSuccessStatusCode,
                $"We say {(fits ? "it fits" : "it doesn't")}, the network {response.StatusCode}: {JsonSerializer.Serialize(text)}"
            );
            if (fits)
                taken++;
            else
                refused++;
        }
        Assert.True(taken > 20 && (refused > 20 || network == "hearth"), $"{taken} taken, {refused} refused: the test proves too little.");
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

    private static string Text(Random chance, NetworkRules rules, bool close)
    {
        System.Text.StringBuilder text = new("Note ");
        int limit = rules.Text.Limit;
        if (limit > 5000)
            return close
                ? new string('a', limit - 6 + chance.Next(6))
                : string.Concat(Enumerable.Range(0, 30).Select(_ => Pieces[chance.Next(Pieces.Length)]));
        int wanted = close ? limit - 12 + chance.Next(20) : chance.Next(limit * 2);
        while (
            ContentCheck.Check(PostContent.Empty.With(ContentFields.Text, text.ToString()), rules, ContentSources.None).Count.Units < wanted
        )
            text.Append(Pieces[chance.Next(Pieces.Length)]);
        return text.ToString();
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
