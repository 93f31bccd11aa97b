using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Browser.Tests;

/// <summary>An installation that serves the built front end and does its background work by itself.</summary>
public sealed class WebInstallation : IAsyncLifetime
{
    public TestInstallation TestInstallation { get; } =
        new()
        {
            Settings = new Dictionary<string, string>
            {
                ["Lark:BackgroundWork"] = "true",
                ["Lark:WebRoot"] =
                    Environment.GetEnvironmentVariable("LARK_TEST_WEB")
                    ?? throw new InvalidOperationException("These tests need the built front end: run them with ./lark test browser."),
            },
        };

    public ValueTask InitializeAsync() => TestInstallation.InitializeAsync();

    public ValueTask DisposeAsync() => TestInstallation.DisposeAsync();
}
