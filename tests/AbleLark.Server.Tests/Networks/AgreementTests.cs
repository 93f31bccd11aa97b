using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Content;
using AbleLark.Core.Media;
using AbleLark.Core.Networks;
using AbleLark.Data;
using AbleLark.Server.Networks;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

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
    [InlineData("glimmer")]
    [InlineData("meadow")]
    [InlineData("guildhall")]
    [InlineData("corkwall")]
    [InlineData("doorstep")]
    public async Task What_fits_is_taken_and_what_does_not_is_refused(string network)
    {
        NetworkRules rules = _installation.Services.GetRequiredService<NetworkBook>()[network];
        using HttpClient http = await ConnectedAsync(network);
        string upload = await UploadAsync(http, network);
        Random chance = new(network.Length * 7919);
        int taken = 0,
            refused = 0;
        for (int i = 0; i < 100; i++)
        {
            PostContent content = Content(chance, rules, i);
            ResolvedContent sent = content.For(rules);
            bool fits = ContentCheck.Check(content, rules, new(_ => Uploaded)).Fits;
            Dictionary<string, object?> body = PlainProtocol.BodyOf(
                sent.Fields.Without(ContentFields.FirstComment),
                sent.PictureId is null ? [] : [upload],
                under: null
            );
            HttpStatusCode answer = await PostedAsync(http, network, body, out Task<string> id);
            // What is said under it is refused by itself: the two are one post to us.
            if (answer == HttpStatusCode.Created && sent.FirstComment is { } comment)
                answer = await PostedAsync(http, network, PlainProtocol.BodyOf(Said(comment), [], await id), out _);
            Assert.True(
                fits == (answer == HttpStatusCode.Created),
                $"We say {(fits ? "it fits" : "it doesn't")}, the network {answer}: {JsonSerializer.Serialize(content, LarkJson.Options)}"
            );
            if (fits)
                taken++;
            else
                refused++;
        }
        Assert.True(taken > 4 && refused > 10, $"{taken} taken, {refused} refused: the test proves too little.");
    }

    private static readonly MediaFile Uploaded = new()
    {
        WorkspaceId = default,
        Id = Id<MediaFile>.New(),
        Hash = "",
        FileName = "dawn.png",
        Kind = "image/png",
        Bytes = 1000,
        Width = 600,
        Height = 400,
    };

    private static FieldValues Said(string text) => FieldValues.Empty.With(ContentFields.Text, text);

    /// <summary>Content of every field that the network takes, each of them now and then missing, too long, or not of its values.</summary>
    private static PostContent Content(Random chance, NetworkRules rules, int number)
    {
        // Half of the texts fall close to the limit, where two ways of counting would part.
        PostContent content = PostContent.Empty.With(ContentFields.Text, Text(chance, rules, close: number % 2 == 0) + $" {number}");
        if (chance.Next(3) > 0)
            content = content.With(ContentFields.Link, "https://marram.example.org/walks");
        if (chance.Next(4) > 0)
            content = content.With(ContentFields.Picture, new Picture(Uploaded.Id));
        foreach (Field<string> field in ContentFields.All.OfType<Field<string>>().Where(f => !f.IsEverywhere))
        {
            if (rules.RulesOf(field.Key) is not { } wanted || chance.Next(5) == 0)
                continue;
            string value =
                field.Kind == FieldKind.Date
                    ? new LocalDate(2026, 11, 1)
                        .PlusDays(chance.Next(field == ContentFields.OfferedFrom ? 60 : 400))
                        .ToString("uuuu-MM-dd", null)
                : field == ContentFields.ButtonTarget ? "+353 1 555 0100"
                : wanted.Values is { } values ? (chance.Next(6) == 0 ? "somebody" : values[chance.Next(values.Count)])
                : string.Concat(Enumerable.Repeat("é#", (wanted.Limit ?? 100) / 2)) + (chance.Next(6) == 0 ? "!!" : "");
            content = content.With(field, value);
        }
        return content;
    }

    private static Task<HttpStatusCode> PostedAsync(HttpClient http, string network, Dictionary<string, object?> body, out Task<string> id)
    {
        TaskCompletionSource<string> made = new();
        id = made.Task;
        return SendAsync();

        async Task<HttpStatusCode> SendAsync()
        {
            using HttpRequestMessage request = new(HttpMethod.Post, $"/api/{network}/posts") { Content = JsonContent.Create(body) };
            request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
            using HttpResponseMessage response = await http.SendAsync(request);
            JsonElement answer = await response.Content.ReadFromJsonAsync<JsonElement>();
            made.SetResult(answer.TryGetProperty("id", out JsonElement given) ? given.GetString()! : "");
            return response.StatusCode;
        }
    }

    private static async Task<string> UploadAsync(HttpClient http, string network)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, $"/api/{network}/media")
        {
            Content = new ByteArrayContent(TestData.Png(600, 400)),
        };
        request.Headers.Add("Idempotency-Key", Guid.NewGuid().ToString());
        using HttpResponseMessage response = await http.SendAsync(request);
        return (await response.Content.ReadFromJsonAsync<JsonElement>()).Text("id");
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
        if (limit > 1000)
            return close
                ? new string('a', limit - 6 + chance.Next(12))
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
