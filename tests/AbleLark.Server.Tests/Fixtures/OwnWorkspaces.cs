[assembly: AssemblyFixture(typeof(AbleLark.Server.Tests.Fixtures.SharedInstallation))]

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>The one installation of all tests that neither move the clock nor order faults nor start servers. It is begun when the first
/// of them needs it.</summary>
public sealed class SharedInstallation : IAsyncDisposable
{
    private readonly Lazy<Task<TestInstallation>> _begun = new(async () =>
    {
        TestInstallation installation = new();
        await installation.InitializeAsync();
        return installation;
    });

    public Task<TestInstallation> GetAsync() => _begun.Value;

    public async ValueTask DisposeAsync()
    {
        if (_begun.IsValueCreated)
            await (await _begun.Value).DisposeAsync();
    }
}

/// <summary>Two people with a workspace each in the shared installation, for one test class.</summary>
public sealed class OwnWorkspaces(SharedInstallation shared) : IAsyncLifetime
{
    public TestInstallation Installation { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        Installation = new(await shared.GetAsync());
        await Installation.InitializeAsync();
    }

    public ValueTask DisposeAsync() => Installation.DisposeAsync();
}
