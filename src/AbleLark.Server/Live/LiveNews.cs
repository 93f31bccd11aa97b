using System.Collections.Concurrent;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Threading.Channels;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Server.Sessions;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace AbleLark.Server.Live;

/// <summary>Passes on, to every open page, which views have something new to fetch; PostgreSQL carries it between processes.</summary>
public sealed partial class LiveNews(IConfiguration configuration, ILogger<LiveNews> log) : BackgroundService
{
    private static readonly TimeSpan Heartbeat = TimeSpan.FromSeconds(20);
    private readonly ConcurrentDictionary<Guid, (IReadOnlySet<Guid> Workspaces, Channel<string> News)> _listeners = new();

    /// <summary>News of the given workspaces as they come, each as `workspace topic topic …` (`*` for every workspace); and an empty line now and then, so that a dead connection is noticed.</summary>
    public async IAsyncEnumerable<SseItem<string>> ListenAsync(IReadOnlySet<Guid> workspaces, [EnumeratorCancellation] CancellationToken cancellation)
    {
        Guid me = Guid.NewGuid();
        Channel<string> lines = Channel.CreateBounded<string>(new BoundedChannelOptions(100) { FullMode = BoundedChannelFullMode.DropOldest });
        _listeners[me] = (workspaces, lines);
        try
        {
            yield return new("", "hello");
            while (!cancellation.IsCancellationRequested)
            {
                string? news = await NextAsync(lines.Reader, cancellation);
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
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e) when (e is NpgsqlException or IOException or System.Net.Sockets.SocketException)
            {
                LogLost(e.Message);
                await Task.Delay(TimeSpan.FromSeconds(2), stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
        }
    }

    /// <param name="payload">`workspace topic topic …`; `*` for every workspace.</param>
    private void Pass(string payload)
    {
        int space = payload.IndexOf(' ', StringComparison.Ordinal);
        bool all = payload.StartsWith('*');
        Guid workspace = all ? default : Guid.Parse(payload[..space]);
        foreach (var listener in _listeners.Values)
        {
            if (all || listener.Workspaces.Contains(workspace)) listener.News.Writer.TryWrite(payload);
        }
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "Lost the database's notifications; listening again soon ({Reason})")]
    private partial void LogLost(string reason);
}

public static class LiveEndpoints
{
    /// <summary>One line for each browser, whatever it has open: browsers allow only six connections to a host.</summary>
    public static void MapLive(this IEndpointRouteBuilder api) => api.MapGet("/news", ListenAsync).RequireAuthorization().ExcludeFromDescription();

    private static async Task<IResult> ListenAsync(HttpContext http, LarkDb db, LiveNews news, IHostApplicationLifetime life)
    {
        Guid person = http.PersonId();
        List<Id<Workspace>> workspaces = await db.Memberships.Where(m => m.PersonId == person).Select(m => m.WorkspaceId).ToListAsync(http.RequestAborted);
        CancellationToken ends = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted, life.ApplicationStopping).Token;
        return TypedResults.ServerSentEvents(news.ListenAsync(workspaces.Select(w => w.Value).ToHashSet(), ends));
    }
}
