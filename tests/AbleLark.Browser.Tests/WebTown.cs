using AbleLark.Server.Tests.Ground;

namespace AbleLark.Browser.Tests;

/// <summary>An installation that serves the built front end and does its background work by itself.</summary>
public sealed class WebTown : IAsyncLifetime
{
    public Town Town { get; } = new()
    {
        Settings = new Dictionary<string, string>
        {
            ["Lark:BackgroundWork"] = "true",
            ["Lark:WebRoot"] = Environment.GetEnvironmentVariable("LARK_TEST_WEB") ?? throw new InvalidOperationException("These tests need the built front end: run them with ./lark test browser."),
        },
    };

    public ValueTask InitializeAsync() => Town.InitializeAsync();

    public ValueTask DisposeAsync() => Town.DisposeAsync();
}
