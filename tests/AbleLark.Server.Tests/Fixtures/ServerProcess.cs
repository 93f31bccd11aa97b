using System.Diagnostics;
using System.Net;
using System.Net.Sockets;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>The real server program in a process of its own, with its background work and short leases: one that can be killed.</summary>
public sealed class ServerProcess : IAsyncDisposable
{
    private readonly Process _process;

    public ServerProcess(TestInstallation installation, params string[] more)
    {
        using (TcpListener free = new(IPAddress.Loopback, 0))
        {
            free.Start();
            Address = $"http://127.0.0.1:{((IPEndPoint)free.LocalEndpoint).Port}";
        }
        ProcessStartInfo start = new("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, "AbleLark.Server.dll"));
        foreach (string argument in installation.Arguments().Where(a => !a.Contains("BackgroundWork", StringComparison.Ordinal)))
            start.ArgumentList.Add(argument);
        start.ArgumentList.Add($"--urls={Address}");
        start.ArgumentList.Add("--Lark:LeaseSeconds=2");
        start.ArgumentList.Add("--Lark:NetworkTimeoutSeconds=1");
        foreach (string argument in more)
            start.ArgumentList.Add(argument);
        _process = Process.Start(start)!;
        _process.OutputDataReceived += (_, _) => { };
        _process.ErrorDataReceived += (_, _) => { };
        _process.BeginOutputReadLine();
        _process.BeginErrorReadLine();
    }

    public string Address { get; }

    /// <summary>Waits until it answers.</summary>
    public async Task AnswersAsync()
    {
        using HttpClient http = new();
        for (int tries = 0; ; tries++)
        {
            try
            {
                using HttpResponseMessage answer = await http.GetAsync($"{Address}/api/session");
                return;
            }
            catch (HttpRequestException) when (tries < 2_400)
            {
                await Task.Delay(50);
            }
        }
    }

    /// <summary>Ends it at once, wherever it is.</summary>
    public async Task KillAsync()
    {
        _process.Kill();
        await _process.WaitForExitAsync();
    }

    public async ValueTask DisposeAsync()
    {
        if (!_process.HasExited)
            await KillAsync();
        _process.Dispose();
    }
}
