using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Data.Rows;
using AbleLark.Server.Sessions;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.Sessions;

/// <summary>Guessing passwords is slow for everybody, and locks out nobody.</summary>
public sealed class SignInLimitTests : IAsyncLifetime
{
    private const string Known = "ada@example.org";
    private const string Unknown = "nobody@example.org";

    private readonly TestInstallation _installation = new();

    public ValueTask InitializeAsync() => _installation.InitializeAsync();

    public ValueTask DisposeAsync() => _installation.DisposeAsync();

    [Theory]
    [InlineData(Known)]
    [InlineData(Unknown)]
    public async Task Of_sixty_at_once_ten_are_looked_at_whether_or_not_there_is_such_an_account(string email)
    {
        using HttpClient guest = Guest();
        HttpStatusCode[] answers = await Task.WhenAll(
            Enumerable.Range(0, 60).Select(async _ => (await TryAsync(guest, email, "wrong")).Status)
        );
        Assert.Equal(
            (10, 50),
            (answers.Count(a => a == HttpStatusCode.BadRequest), answers.Count(a => a == HttpStatusCode.TooManyRequests))
        );
    }

    [Fact]
    public async Task Two_hundred_accounts_tried_from_one_address_are_twenty()
    {
        using HttpClient guest = Guest();
        int looked = 0;
        Stopwatch watch = Stopwatch.StartNew();
        for (int i = 0; i < 200; i++)
        {
            if ((await TryAsync(guest, $"somebody-{i}@example.org", "wrong")).Status == HttpStatusCode.BadRequest)
                looked++;
        }
        // One more every three seconds.
        Assert.InRange(looked, 18, 21 + (int)(watch.Elapsed.TotalSeconds / 3));
    }

    [Fact]
    public async Task Whoever_waits_is_told_for_how_long_and_has_a_turn_then_that_nobody_takes()
    {
        using HttpClient guest = Guest();
        for (int i = 0; i < 10; i++)
            await TryAsync(guest, Known, "wrong");
        await ForgetAddressAsync();
        (HttpStatusCode status, string words, int? after) = await TryAsync(guest, Known, Databases.Password);
        Assert.Equal((HttpStatusCode.TooManyRequests, 30), (status, after));
        Assert.Equal("Too many tries. Try again in 30 seconds; nobody is locked out.", words);
        // Others use up whatever the account has yet: the turn stays.
        await PassAsync(Duration.FromSeconds(31), "turn:");
        Assert.Equal(HttpStatusCode.OK, (await TryAsync(guest, Known, Databases.Password)).Status);
        Assert.Equal(HttpStatusCode.TooManyRequests, (await TryAsync(guest, Known, Databases.Password)).Status);
    }

    [Fact]
    public async Task A_device_that_was_signed_in_with_goes_on_while_others_guess()
    {
        using HttpClient device = Guest(keepsCookies: true);
        Assert.Equal(HttpStatusCode.OK, (await TryAsync(device, Known, Databases.Password)).Status);
        using HttpClient guest = Guest();
        for (int i = 0; i < 40; i++)
            await TryAsync(guest, Known, "wrong");
        Assert.Equal(HttpStatusCode.TooManyRequests, (await TryAsync(guest, Known, Databases.Password)).Status);
        Assert.Equal(HttpStatusCode.OK, (await TryAsync(device, Known, Databases.Password)).Status);
        // It is known for that account alone, and guesses no faster.
        Assert.Equal(HttpStatusCode.TooManyRequests, (await TryAsync(device, Unknown, "wrong")).Status);
        HttpStatusCode[] more = await Task.WhenAll(
            Enumerable.Range(0, 30).Select(async _ => (await TryAsync(device, Known, "wrong")).Status)
        );
        Assert.InRange(more.Count(m => m == HttpStatusCode.BadRequest), 1, 10);
    }

    [Fact]
    public async Task The_right_password_is_no_guess()
    {
        using HttpClient guest = Guest();
        for (int i = 0; i < 25; i++)
            Assert.Equal(HttpStatusCode.OK, (await TryAsync(guest, Known, Databases.Password)).Status);
    }

    [Fact]
    public void An_unknown_account_takes_as_long_as_a_known_one()
    {
        ServiceCollection usual = new();
        usual.AddOptions<PasswordHasherOptions>();
        using ServiceProvider services = usual.BuildServiceProvider();
        UnknownAccounts unknown = new(services);
        PasswordHasher<Person> hasher = new();
        string hash = hasher.HashPassword(new(), "right");
        (double known, double other) = (double.MaxValue, double.MaxValue);
        // The quickest of each: what else the machine does makes some of them slower.
        for (int round = 0; round < 10; round++)
        {
            known = Math.Min(known, Milliseconds(() => hasher.VerifyHashedPassword(new(), hash, "wrong")));
            other = Math.Min(other, Milliseconds(() => unknown.Check("wrong")));
        }
        Assert.InRange(other / known, 0.5, 2);

        static double Milliseconds(Action act)
        {
            long began = Stopwatch.GetTimestamp();
            act();
            return Stopwatch.GetElapsedTime(began).TotalMilliseconds;
        }
    }

    private HttpClient Guest(bool keepsCookies = false) =>
        new(new HttpClientHandler { UseCookies = keepsCookies }) { BaseAddress = new(_installation.Address) };

    private static async Task<(HttpStatusCode Status, string Words, int? After)> TryAsync(HttpClient guest, string email, string password)
    {
        using HttpResponseMessage answer = await guest.PostAsJsonAsync("/api/session", new { email, password });
        string words = answer.IsSuccessStatusCode ? "" : (await answer.Content.ReadFromJsonAsync<JsonElement>()).Text("detail");
        return (answer.StatusCode, words, (int?)answer.Headers.RetryAfter?.Delta?.TotalSeconds);
    }

    private Task<int> ForgetAddressAsync() =>
        _installation.ReadAsync(db => db.TryCounts.Where(t => t.Key.StartsWith("address:")).ExecuteDeleteAsync());

    /// <summary>Lets time pass for some counts.</summary>
    private Task<int> PassAsync(Duration time, string counts) =>
        _installation.ReadAsync(db =>
            db.TryCounts.Where(t => t.Key.StartsWith(counts))
                .ExecuteUpdateAsync(t => t.SetProperty(x => x.UsedUntil, x => x.UsedUntil - time))
        );
}
