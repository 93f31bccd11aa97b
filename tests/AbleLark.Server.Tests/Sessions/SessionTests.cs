using System.Net;
using System.Net.Http.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;

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
        foreach (string cookie in answer.Headers.GetValues("Set-Cookie"))
        {
            Assert.Contains("httponly", cookie, StringComparison.OrdinalIgnoreCase);
            Assert.Contains("samesite=lax", cookie, StringComparison.OrdinalIgnoreCase);
            Assert.DoesNotContain("secure", cookie, StringComparison.OrdinalIgnoreCase);
        }
    }

    [Fact]
    public async Task A_copy_of_a_cookie_ends_with_its_session_and_with_the_person_s_security_stamp()
    {
        await using Guest guest = new(installation);
        string copy = await guest.CookieAsync("ada@example.org");
        string other = await guest.CookieAsync("ada@example.org");
        Assert.Equal(
            (HttpStatusCode.OK, HttpStatusCode.OK),
            (await guest.AsAsync(copy, HttpMethod.Get), await guest.AsAsync(other, HttpMethod.Get))
        );
        Assert.Equal(HttpStatusCode.OK, await guest.AsAsync(copy, HttpMethod.Delete));
        Assert.Equal(HttpStatusCode.Unauthorized, await guest.AsAsync(copy, HttpMethod.Get));
        Assert.Equal(HttpStatusCode.OK, await guest.AsAsync(other, HttpMethod.Get));

        string third = await guest.CookieAsync("ben@example.org");
        await installation.ReadAsync(db =>
            db.Users.Where(u => u.Email == "ben@example.org").ExecuteUpdateAsync(u => u.SetProperty(x => x.SecurityStamp, "another"))
        );
        Assert.Equal(HttpStatusCode.Unauthorized, await guest.AsAsync(third, HttpMethod.Get));
    }

    [Fact]
    public async Task Behind_a_named_proxy_cookies_are_for_https_alone_and_nobody_else_is_believed()
    {
        await using WebApplication behind = await installation.StartServerAsync(
            "--Lark:Proxies=10.1.0.0/16, 127.0.0.1",
            "--Lark:Hosts=plan.example.org"
        );
        await using WebApplication open = await installation.StartServerAsync("--Lark:Hosts=plan.example.org");
        (string cookies, bool strict) = await OverHttpsAsync(behind.Urls.Single());
        Assert.Equal((2, true), (cookies.Split("; secure").Length - 1, strict));
        (cookies, strict) = await OverHttpsAsync(open.Urls.Single());
        Assert.Equal((0, false), (cookies.Split("; secure").Length - 1, strict));
        InvalidOperationException e = await Assert.ThrowsAsync<InvalidOperationException>(() =>
            installation.StartServerAsync("--Lark:Proxies=here")
        );
        Assert.Contains("Lark__Proxies names “here”", e.Message, StringComparison.Ordinal);

        static async Task<(string Cookies, bool Strict)> OverHttpsAsync(string server)
        {
            using HttpClient http = new(new HttpClientHandler { UseCookies = false });
            using HttpRequestMessage request = new(HttpMethod.Post, $"{server}/api/session")
            {
                Content = JsonContent.Create(new { email = "ada@example.org", password = Databases.Password }),
            };
            request.Headers.Host = "plan.example.org";
            request.Headers.Add("X-Forwarded-Proto", "https");
            using HttpResponseMessage answer = await http.SendAsync(request);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
            return (string.Join('\n', answer.Headers.GetValues("Set-Cookie")), answer.Headers.Contains("Strict-Transport-Security"));
        }
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
        private readonly HttpClient _http = new(new HttpClientHandler { UseCookies = false }) { BaseAddress = new(installation.Address) };

        public Task<HttpResponseMessage> TryAsync(string email, string password) =>
            _http.PostAsJsonAsync("/api/session", new { email, password });

        /// <summary>Signs in, and gives the session's cookie.</summary>
        public async Task<string> CookieAsync(string email)
        {
            using HttpResponseMessage answer = await TryAsync(email, Databases.Password);
            answer.EnsureSuccessStatusCode();
            return answer.Headers.GetValues("Set-Cookie").Single(c => c.StartsWith("able-lark=", StringComparison.Ordinal)).Split(';')[0];
        }

        public async Task<HttpStatusCode> AsAsync(string cookie, HttpMethod method)
        {
            using HttpRequestMessage request = new(method, "/api/session");
            request.Headers.Add("Cookie", cookie);
            using HttpResponseMessage answer = await _http.SendAsync(request);
            return answer.StatusCode;
        }

        public ValueTask DisposeAsync()
        {
            _http.Dispose();
            return ValueTask.CompletedTask;
        }
    }
}
