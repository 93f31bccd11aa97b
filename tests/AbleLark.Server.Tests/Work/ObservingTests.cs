using System.Collections.Concurrent;
using System.Diagnostics;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;
using NodaTime;

namespace AbleLark.Server.Tests.Work;

/// <summary>What whoever runs the server sees: liveness, readiness, metrics and a quiet log.</summary>
public sealed class ObservingTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    [Fact]
    public async Task Alive_is_one_thing_and_ready_another()
    {
        // Nothing of the database's: a server without one is alive, and not ready.
        await using WebApplication server = LarkServer.Create([
            .. installation.Arguments(),
            "--ConnectionStrings:Lark=Host=127.0.0.1;Port=1;Username=lark;Database=x;Timeout=2",
            "--Lark:MigrateOnStart=false",
            "--Lark:Demo=false",
        ]);
        await server.StartAsync();
        using HttpClient http = new();
        Assert.Equal("""{"status":"ok"}""", await http.GetStringAsync($"{server.Urls.Single()}/healthz"));
        using HttpResponseMessage ready = await http.GetAsync($"{server.Urls.Single()}/readyz");
        Assert.Equal(System.Net.HttpStatusCode.ServiceUnavailable, ready.StatusCode);
        Assert.Equal(
            "the database is not there",
            JsonSerializer.Deserialize<JsonElement>(await ready.Content.ReadAsStringAsync()).Text("status")
        );
    }

    [Fact]
    public async Task Readiness_tells_each_loop_s_last_pass_and_the_oldest_overdue_delivery()
    {
        Guid channel = await installation.ConnectAsync(installation.Ada, "hearth", "overdue");
        Guid category = await installation.Ada.CategoryAsync("Overdue", channel);
        await installation.Ada.PlanAsync(installation, (await installation.Ada.PostAsync(category, "Overdue")).Id(), 5, channel);
        await installation.MoveOnAsync(Duration.FromMinutes(15));
        using HttpClient http = new();
        async Task<JsonElement> ReadyAsync(string address) =>
            JsonSerializer.Deserialize<JsonElement>(await http.GetStringAsync($"{address}/readyz"));
        Assert.InRange((await ReadyAsync(installation.Address)).GetProperty("oldestOverdueSeconds").GetDouble(), 590, 700);

        await using WebApplication working = await installation.StartServerAsync("--Lark:BackgroundWork=true");
        JsonElement ready = await ReadyAsync(working.Urls.Single());
        for (int i = 0; i < 100 && (ready.List("loops").Length < 7 || ready.GetProperty("oldestOverdueSeconds").GetDouble() > 0); i++)
        {
            await Task.Delay(100);
            ready = await ReadyAsync(working.Urls.Single());
        }
        Assert.Equal(("ready", "at rest"), (ready.Text("status"), ready.Text("clock")));
        Assert.Equal(
            ["scheduling", "sending", "figures", "audiences", "outside", "calendars", "tidying"],
            ready.List("loops").Select(l => l.Text("work"))
        );
        Assert.All(ready.List("loops"), l => Assert.Equal(JsonValueKind.String, l.GetProperty("lastPassAt").ValueKind));
        Assert.Equal(0, ready.GetProperty("oldestOverdueSeconds").GetDouble());
    }

    [Fact]
    public async Task Metrics_are_served_where_that_is_asked_for_and_only_there()
    {
        using HttpClient http = new();
        // In a process of its own: whoever listens for a meter hears those of all servers of a process, and no longer hears any of them
        // once one is stopped.
        await using ServerProcess server = new(installation, "--Lark:PrometheusMetrics=true");
        await server.AnswersAsync();
        // Each loop tells of itself when it has passed; whichever is first, the others follow.
        string[] names =
        [
            "lark_pass_duration_seconds_count",
            "lark_overdue_age_seconds",
            "lark_put_aside",
            "http_server_request_duration_seconds",
            "work=\"Sending\"",
        ];
        string metrics = "";
        for (int i = 0; i < 300 && !names.All(n => metrics.Contains(n, StringComparison.Ordinal)); i++)
        {
            await Task.Delay(100);
            metrics = await http.GetStringAsync($"{server.Address}/metrics");
        }
        Assert.All(names, n => Assert.Contains(n, metrics, StringComparison.Ordinal));
        Assert.DoesNotContain("lark_pass", await http.GetStringAsync($"{installation.Address}/healthz"), StringComparison.Ordinal);
        using HttpResponseMessage none = await http.GetAsync($"{installation.Address}/metrics");
        Assert.Equal(System.Net.HttpStatusCode.NotFound, none.StatusCode);
    }

    [Fact]
    public async Task The_log_of_an_idle_server_and_of_idle_networks_is_a_few_lines_without_statements()
    {
        string empty = await Databases.EmptyAsync();
        Task<string[]> ofServer = LogAsync(
            "AbleLark.Server.dll",
            $"--ConnectionStrings:Lark={empty}",
            $"--Lark:DataFolder={installation.DataFolder}",
            $"--Lark:NetworksAddress={installation.NetworksAddress}",
            "--urls=http://127.0.0.1:0"
        );
        string[] networks = await LogAsync("AbleLark.StandIns.dll", $"--ConnectionStrings:Lark={empty}", "--urls=http://127.0.0.1:0"),
            server = await ofServer;
        foreach (string[] log in new[] { server, networks })
        {
            Assert.InRange(log.Length, 1, 15);
            Assert.DoesNotContain(
                log,
                l =>
                    l.Contains("select", StringComparison.OrdinalIgnoreCase)
                    || l.Contains("fail:", StringComparison.Ordinal)
                    || l.Contains("Exception", StringComparison.Ordinal)
            );
        }
        // Each line says when and of what kind.
        Assert.All(server, l => Assert.Matches(@"^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}Z (info|warn): ", l));
    }

    /// <summary>What a program of ours writes until it listens, and while its loops, if it has any, pass once more after that.</summary>
    private static async Task<string[]> LogAsync(string program, params string[] arguments)
    {
        ProcessStartInfo start = new("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true };
        start.ArgumentList.Add(Path.Combine(AppContext.BaseDirectory, program));
        foreach (string argument in arguments)
            start.ArgumentList.Add(argument);
        using Process process = Process.Start(start)!;
        ConcurrentQueue<string> lines = new();
        TaskCompletionSource<string> listens = new();
        void Note(object _, DataReceivedEventArgs line)
        {
            if (line.Data is not { Length: > 0 } text)
                return;
            lines.Enqueue(text);
            if (text.Contains("Now listening", StringComparison.Ordinal))
                listens.TrySetResult(text[text.IndexOf("http://", StringComparison.Ordinal)..].Trim());
        }
        process.OutputDataReceived += Note;
        process.ErrorDataReceived += Note;
        process.BeginOutputReadLine();
        process.BeginErrorReadLine();
        try
        {
            await IdleAsync(await listens.Task.WaitAsync(TimeSpan.FromSeconds(60)));
        }
        finally
        {
            process.Kill();
            await process.WaitForExitAsync();
        }
        return [.. lines];
    }

    private static async Task IdleAsync(string address)
    {
        using HttpClient http = new();
        HashSet<string> passes = [];
        using CancellationTokenSource limit = new(TimeSpan.FromSeconds(60));
        while (passes.Count < 2)
        {
            using HttpResponseMessage answer = await http.GetAsync($"{address}/readyz", limit.Token);
            // The networks have no loops.
            if (answer.StatusCode == System.Net.HttpStatusCode.NotFound)
                return;
            JsonElement ready = JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync(limit.Token));
            JsonElement[] loops = ready.List("loops");
            // Followers' hours are asked for, and old files looked for, too rarely to be waited for.
            loops = [.. loops.Where(l => l.Text("work") is not ("audiences" or "outside" or "calendars" or "tidying"))];
            if (loops.Length == 3 && loops.All(l => l.GetProperty("lastPassAt").ValueKind == JsonValueKind.String))
                passes.Add(loops.Min(l => l.Text("lastPassAt"))!);
            await Task.Delay(50, limit.Token);
        }
    }
}
