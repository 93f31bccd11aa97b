using System.Collections.Concurrent;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Threading.Channels;
using AbleLark.Core;
using AbleLark.Core.Workspaces;
using AbleLark.Data;
using AbleLark.Data.Rows;
using AbleLark.Server.Access;
using AbleLark.Server.Sessions;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using Npgsql;

namespace AbleLark.Server.Live;

/// <summary>Passes on, to every open page, which views have something new to fetch; PostgreSQL carries it between processes.</summary>
public sealed partial class LiveNews(IConfiguration configuration, IOptions<LarkSettings> settings, ILogger<LiveNews> log)
    : BackgroundService
{
    private readonly TimeSpan _heartbeat = TimeSpan.FromSeconds(settings.Value.HeartbeatSeconds);

    /// <summary>Most open lines of one person: a browser holds one, whatever it has open.</summary>
    private const int MostForOne = 8;

    /// <summary>News are kept for so long, for a page that fetched before its line was open.</summary>
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(60);
    private const int MostKept = 500;

    private readonly ConcurrentDictionary<Guid, Listener> _listeners = new();
    private readonly ConcurrentQueue<(long At, string Line)> _recent = new();

    private sealed record Listener(Guid Person, long OpenedAt, Channel<string> News)
    {
        /// <summary>What the person may hear of; looked at again now and then, since memberships end.</summary>
        public IReadOnlySet<Guid> Workspaces { get; set; } = new HashSet<Guid>();
    }

    /// <summary>News of the given workspaces as they come, each as `workspace topic topic …` (`*` for every workspace); and an empty line
    /// now and then, so that a dead connection is noticed.</summary>
    /// <param name="back">The news of this last time come first.</param>
    /// <param name="workspaces">Asked at the beginning and with every heartbeat; with none left the line ends.</param>
    public async IAsyncEnumerable<SseItem<string>> ListenAsync(
        Guid person,
        TimeSpan back,
        Func<CancellationToken, Task<IReadOnlySet<Guid>>> workspaces,
        [EnumeratorCancellation] CancellationToken cancellation
    )
    {
        Guid me = Guid.NewGuid();
        Listener listener = new(
            person,
            System.Diagnostics.Stopwatch.GetTimestamp(),
            Channel.CreateBounded<string>(new BoundedChannelOptions(100) { FullMode = BoundedChannelFullMode.DropOldest })
        )
        {
            Workspaces = await workspaces(cancellation),
        };
        _listeners[me] = listener;
        // One line too many ends the oldest: its page opens another when it needs one.
        foreach (Listener oldest in _listeners.Values.Where(l => l.Person == person).OrderByDescending(l => l.OpenedAt).Skip(MostForOne))
            oldest.News.Writer.TryComplete();
        try
        {
            yield return new("", "hello");
            foreach (string line in Recent(back, listener))
                yield return new(line, "fetch");
            while (!cancellation.IsCancellationRequested)
            {
                string? news = await NextAsync(listener.News.Reader, cancellation);
                if (cancellation.IsCancellationRequested || listener.News.Reader.Completion.IsCompleted)
                    yield break;
                if (news is null && (listener.Workspaces = await workspaces(cancellation)).Count == 0)
                    yield break;
                yield return news is null ? new("", "still-here") : new(news, "fetch");
            }
        }
        finally
        {
            _listeners.TryRemove(me, out _);
        }
    }

    private async Task<string?> NextAsync(ChannelReader<string> reader, CancellationToken cancellation)
    {
        using CancellationTokenSource limit = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
        limit.CancelAfter(_heartbeat);
        try
        {
            return await reader.ReadAsync(limit.Token);
        }
        catch (Exception e) when (e is OperationCanceledException or ChannelClosedException)
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
                await using (NpgsqlCommand listen = new("listen lark", connection))
                    await listen.ExecuteNonQueryAsync(stoppingToken);
                while (true)
                    await connection.WaitAsync(stoppingToken);
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
        _recent.Enqueue((System.Diagnostics.Stopwatch.GetTimestamp(), payload));
        while (_recent.TryPeek(out var first) && (_recent.Count > MostKept || IsOlder(first.At, Longest)))
            _recent.TryDequeue(out _);
        foreach (var listener in _listeners.Values)
        {
            if (Concerns(payload, listener))
                listener.News.Writer.TryWrite(payload);
        }
    }

    private string[] Recent(TimeSpan back, Listener listener) =>
        [.. _recent.Where(n => !IsOlder(n.At, back) && Concerns(n.Line, listener)).Select(n => n.Line).Distinct()];

    private static bool IsOlder(long at, TimeSpan than) => System.Diagnostics.Stopwatch.GetElapsedTime(at) > than;

    private static bool Concerns(string line, Listener listener) =>
        line.StartsWith('*') || listener.Workspaces.Contains(Guid.Parse(line[..line.IndexOf(' ', StringComparison.Ordinal)]));

    [LoggerMessage(Level = LogLevel.Warning, Message = "Lost the database's notifications; listening again soon ({Reason})")]
    private partial void LogLost(string reason);
}

public static class LiveEndpoints
{
    /// <summary>One line for each browser, whatever it has open: browsers allow only six connections to a host.</summary>
    public static void MapLive(this IEndpointRouteBuilder api) =>
        api.MapGet("/news", ListenAsync).RequireAuthorization().ExcludeFromDescription();

    /// <param name="back">Seconds for which the page has been fetching already: what was new since comes first; null: none.</param>
    private static async Task<ServerSentEventsResult<string>> ListenAsync(
        int? back,
        HttpContext http,
        IServiceScopeFactory scopes,
        LiveNews news,
        IHostApplicationLifetime life
    )
    {
        Guid person = http.PersonId();
        Id<Workspace>? only = TokenScheme.WorkspaceOf(http.User);
        Id<ApiToken>? token = TokenScheme.TokenOf(http.User);
        string? session = await SessionTickets.OfAsync(http);
        CancellationToken ends = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted, life.ApplicationStopping).Token;
        return TypedResults.ServerSentEvents(news.ListenAsync(person, TimeSpan.FromSeconds(Math.Max(0, back ?? 0)), WorkspacesAsync, ends));

        async Task<IReadOnlySet<Guid>> WorkspacesAsync(CancellationToken cancellation)
        {
            await using AsyncServiceScope scope = scopes.CreateAsyncScope();
            LarkDb db = scope.ServiceProvider.GetRequiredService<LarkDb>();
            // Whoever was signed out, or whose token was revoked, hears no more.
            var memberships = db
                .Memberships.Where(m => m.PersonId == person && (only == null || m.WorkspaceId == only))
                .Where(m => session == null || db.Sessions.Any(s => s.Digest == session))
                .Where(m => token == null || db.ApiTokens.Any(t => t.WorkspaceId == m.WorkspaceId && t.Id == token && t.RevokedAt == null));
            return (await memberships.Select(m => m.WorkspaceId).ToListAsync(cancellation)).Select(w => w.Value).ToHashSet();
        }
    }
}
