using System.Collections.Concurrent;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Threading.Channels;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using Npgsql;

namespace AbleLark.Server.Live;

/// <summary>Passes on, to every open page, which views have something new to fetch; PostgreSQL carries it between processes.</summary>
public sealed partial class LiveNews(IConfiguration configuration, ILogger<LiveNews> log) : BackgroundService
{
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(20);
    private readonly ConcurrentDictionary<Guid, (Guid Workspace, Channel<string> Topics)> _listeners = new();

    /// <summary>Topics as they come, and an empty line now and then so that a dead connection is noticed.</summary>
    public async IAsyncEnumerable<SseItem<string>> ListenAsync(Id<Workspace> workspace, [EnumeratorCancellation] CancellationToken cancellation)
    {
        Guid me = Guid.NewGuid();
        Channel<string> topics = Channel.CreateBounded<string>(new BoundedChannelOptions(100) { FullMode = BoundedChannelFullMode.DropOldest });
        _listeners[me] = (workspace.Value, topics);
        try
        {
            yield return new("", "hello");
            while (!cancellation.IsCancellationRequested)
            {
                string? news = await NextAsync(topics.Reader, cancellation);
                if (cancellation.IsCancellationRequested) yield break;
                yield return news is null ? new("", "still-here") : new(news, "fetch");
            }
        }
        finally
        {
            _listeners.TryRemove(me, out _);
        }
    }

    private static async Task<string?> NextAsync(ChannelReader<string> reader, CancellationToken cancellation)
    {
        using CancellationTokenSource limit = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        limit.CancelAfter(Heartbeat);
        try
        {
            return await reader.ReadAsync(limit.Token);
        }
        catch (OperationCanceledException)
        {
            return null;
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await using NpgsqlConnection connection = new(configuration.GetConnectionString("Lark"));
                await connection.OpenAsync(stoppingToken);
                connection.Notification += (_, e) => Pass(e.Payload);
                await using (NpgsqlCommand listen = new("listen lark", connection)) await listen.ExecuteNonQueryAsync(stoppingToken);
                while (true) await connection.WaitAsync(stoppingToken);
            }
            catch (Exception e) when (e is NpgsqlException or IOException or System.Net.Sockets.SocketException)
            {
                LogLost(e);
                await Task.Delay(TimeSpan.FromSeconds(2), stoppingToken);
            }
        }
    }

    /// <param name="payload">`workspace topic topic …`; `*` for every workspace.</param>
    private void Pass(string payload)
    {
        int space = payload.IndexOf(' ', StringComparison.Ordinal);
        string topics = payload[(space + 1)..];
        bool all = payload.StartsWith('*');
        Guid workspace = all ? default : Guid.Parse(payload[..space]);
        foreach (var listener in _listeners.Values)
        {
            if (all || listener.Workspace == workspace) listener.Topics.Writer.TryWrite(topics);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Lost the database's notifications; listening again soon")]
    private partial void LogLost(Exception exception);
}

public static class LiveEndpoints
{
    public static void MapLive(this RouteGroupBuilder workspace) =>
        workspace.MapGet("/news", (Id<Workspace> workspaceId, LiveNews news, IHostApplicationLifetime life, HttpContext http) =>
        {
            CancellationToken ends = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted, life.ApplicationStopping).Token;
            return TypedResults.ServerSentEvents(news.ListenAsync(workspaceId, ends));
        }).ExcludeFromDescription();
}
