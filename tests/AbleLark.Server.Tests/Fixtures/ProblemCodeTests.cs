using System.Net.Http.Json;
using System.Text;
using System.Text.Json;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Problems are told by their type (RFC 9457, section 3.1.1), whatever their words.</summary>
public sealed class ProblemCodeTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_program_tells_problems_by_their_type()
    {
        Guid channel = await own.Installation.ConnectAsync(_ada, "jot", "codes");
        Guid category = await _ada.CategoryAsync("Of codes", channel);
        Guid post = (await _ada.PostAsync(category, "Codes")).Id();
        Guid delivery = (await _ada.PlanAsync(own.Installation, post, 24 * 60, channel))[0];
        await _ada.PostAsync($"deliveries/{delivery}/cancel");
        using HttpClient nobody = new() { BaseAddress = _ada.Http.BaseAddress };

        Assert.Equal("/problems/not-found", await TypeAsync(_ada.Http, HttpMethod.Get, _ada.Path($"posts/{Guid.NewGuid()}")));
        Assert.Equal("/problems/not-found", await TypeAsync(_ada.Http, HttpMethod.Get, "/api/nothing-here"));
        Assert.Equal("/problems/bad-input", await TypeAsync(_ada.Http, HttpMethod.Get, _ada.Path("line-up?from=x&to=y")));
        Assert.Equal("/problems/bad-input", await TypeAsync(_ada.Http, HttpMethod.Post, _ada.Path("posts"), "{"));
        Assert.Equal("/problems/signed-out", await TypeAsync(nobody, HttpMethod.Get, _ada.Path("posts")));
        Assert.Equal("/problems/plan-state", await TypeAsync(_ada.Http, HttpMethod.Post, _ada.Path($"deliveries/{delivery}/cancel")));
        object time = new
        {
            date = NodaTime.Text.LocalDatePattern.Iso.Format(TestInstallation.Day.PlusDays(30)),
            time = "09:00:00",
            channels = new[] { channel },
        };
        await _ada.PostAsync($"posts/{post}/deliveries", time);
        string again = JsonSerializer.Serialize(time);
        Assert.Equal("/problems/plan-taken", await TypeAsync(_ada.Http, HttpMethod.Post, _ada.Path($"posts/{post}/deliveries"), again));
    }

    private static async Task<string?> TypeAsync(HttpClient http, HttpMethod method, string path, string? body = null)
    {
        using HttpRequestMessage request = new(method, path)
        {
            Content = body is null ? null : new StringContent(body, Encoding.UTF8, "application/json"),
        };
        using HttpResponseMessage answer = await http.SendAsync(request);
        Assert.Equal("application/problem+json", answer.Content.Headers.ContentType?.MediaType);
        return (await answer.Content.ReadFromJsonAsync<JsonElement>()).Text("type");
    }
}
