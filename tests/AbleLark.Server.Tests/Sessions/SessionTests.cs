using System.Net;
using System.Net.Http.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Sessions;

public sealed class SessionTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    [Fact]
    public async Task A_wrong_password_is_told_without_saying_which_part_was_wrong()
    {
        string one = await WordsAsync("ada@example.org", "wrong password");
        string other = await WordsAsync("nobody@example.org", "wrong password");
        Assert.Equal("E-mail and password don't match. Check both and try again.", one);
        Assert.Equal(one, other);
    }

    [Fact]
    public async Task After_ten_wrong_tries_even_the_right_password_waits()
    {
        await using Guest guest = new(installation);
        for (int i = 0; i < 10; i++)
            await guest.TryAsync("ben@example.org", "wrong password");
        using HttpResponseMessage answer = await guest.TryAsync("ben@example.org", Databases.Password);
        Assert.Equal(HttpStatusCode.TooManyRequests, answer.StatusCode);
    }

    [Fact]
    public async Task An_expired_or_forged_session_is_told_in_words_and_never_redirected()
    {
        using HttpClient http = new(new HttpClientHandler { AllowAutoRedirect = false, UseCookies = false })
        {
            BaseAddress = new(installation.Address),
        };
        http.DefaultRequestHeaders.Add("Cookie", "able-lark=CfDJ8forged");
        using HttpResponseMessage answer = await http.GetAsync(installation.Ada.Path("posts"));
        Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        Assert.Contains("Sign in again; what you typed is kept.", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Signing_out_ends_the_session()
    {
        using ApiClient ada = await ApiClient.SignInAsync(installation, "ada@example.org");
        (await ada.Http.DeleteAsync("/api/session")).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Unauthorized, (await ada.TroubleAsync(HttpMethod.Get, "posts")).Status);
    }

    [Fact]
    public async Task The_cookie_can_t_be_read_by_scripts_nor_sent_along_by_other_sites()
    {
        await using Guest guest = new(installation);
        using HttpResponseMessage answer = await guest.TryAsync("ada@example.org", Databases.Password);
        string cookie = answer.Headers.GetValues("Set-Cookie").Single();
        Assert.Contains("httponly", cookie, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("samesite=lax", cookie, StringComparison.OrdinalIgnoreCase);
    }

    private async Task<string> WordsAsync(string email, string password)
    {
        await using Guest guest = new(installation);
        using HttpResponseMessage answer = await guest.TryAsync(email, password);
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        return (await answer.Content.ReadFromJsonAsync<System.Text.Json.JsonElement>()).Text("detail");
    }

    private sealed class Guest(TestInstallation installation) : IAsyncDisposable
    {
        private readonly HttpClient _http = new() { BaseAddress = new(installation.Address) };

        public Task<HttpResponseMessage> TryAsync(string email, string password) =>
            _http.PostAsJsonAsync("/api/session", new { email, password });

        public ValueTask DisposeAsync()
        {
            _http.Dispose();
            return ValueTask.CompletedTask;
        }
    }
}
