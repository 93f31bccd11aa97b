using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Access;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace AbleLark.Server.Tests.Tenancy;

/// <summary>Every address of a workspace, asked in each role and by a token for each single right: who may is let in, who may not is told
/// so and changes nothing.</summary>
public sealed class RightsWalkTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Theory]
    [InlineData(Role.Owner)]
    [InlineData(Role.Planner)]
    [InlineData(Role.Writer)]
    [InlineData(Role.Client)]
    public async Task A_member_may_what_their_role_allows(Role role)
    {
        using ApiClient member = await installation.MemberAsync(role);
        await WalkAsync(member.Http, r => role.May(r), role.ToString());
    }

    public static TheoryData<Right> Scopes => [.. Rights.All.Where(r => r is not (Right.People or Right.Tokens))];

    [Theory]
    [MemberData(nameof(Scopes))]
    public async Task A_token_may_what_it_names_and_nothing_else(Right scope)
    {
        string word = JsonNamingPolicy.CamelCase.ConvertName(scope.ToString());
        using ApiClient script = await _ada.ScriptAsync(word);
        await WalkAsync(script.Http, r => r == scope, $"a token for {word}");
    }

    /// <summary>First all that is refused, after which everything is as before; then what isn't.</summary>
    private async Task WalkAsync(HttpClient http, Func<Right, bool> may, string who)
    {
        (RouteEndpoint Endpoint, Right Right)[] endpoints =
        [
            .. installation
                .Services.GetRequiredService<IEnumerable<EndpointDataSource>>()
                .SelectMany(s => s.Endpoints)
                .OfType<RouteEndpoint>()
                .Where(e => WorkspaceGate.RightOf(e) is not null)
                .Select(e => (e, WorkspaceGate.RightOf(e)!.Value)),
        ];
        Assert.True(endpoints.Length > 50, $"Only {endpoints.Length} endpoints name a right: the walk has lost its way.");
        string before = await AllRowsAsync();
        foreach ((RouteEndpoint endpoint, Right right) in endpoints.Where(e => !may(e.Right)))
            await AskAsync(http, endpoint, right, isLetIn: false, who);
        Assert.Equal(before, await AllRowsAsync());
        foreach ((RouteEndpoint endpoint, Right right) in endpoints.Where(e => may(e.Right)))
            await AskAsync(http, endpoint, right, isLetIn: true, who);
    }

    private async Task AskAsync(HttpClient http, RouteEndpoint endpoint, Right right, bool isLetIn, string who)
    {
        string path = endpoint
            .RoutePattern.RawText!.Replace("{workspaceId}", _ada.Workspace.ToString(), StringComparison.Ordinal)
            .Replace("{id}", Guid.NewGuid().ToString(), StringComparison.Ordinal)
            .Replace("{slotId}", Guid.NewGuid().ToString(), StringComparison.Ordinal)
            .Replace("{number}", "1", StringComparison.Ordinal)
            .Replace("{date}", "2026-03-02", StringComparison.Ordinal);
        foreach (string method in endpoint.Metadata.GetMetadata<HttpMethodMetadata>()!.HttpMethods)
        {
            using HttpRequestMessage request = new(new(method), path)
            {
                Content = method is "GET" or "DELETE" or "HEAD" ? null : BodyFor(method, path),
            };
            using HttpResponseMessage answer = await http.SendAsync(request);
            string words = await answer.Content.ReadAsStringAsync();
            bool isRefused =
                answer.StatusCode == HttpStatusCode.Forbidden && (method == "HEAD" || words.Contains("may not", StringComparison.Ordinal));
            // Some of what everybody who looks may ask for takes a further right for what it is asked to do.
            Assert.True(
                isRefused != isLetIn || IsRefusedByMore(),
                $"{who}: {method} {path} takes {right} and answered {answer.StatusCode}: {words}"
            );
            Assert.True((int)answer.StatusCode < 500, $"{method} {path} answered {answer.StatusCode}");
            if (!isLetIn && method != "HEAD")
                Assert.Contains($"may not {Rights.Words(right)}", words, StringComparison.Ordinal);

            bool IsRefusedByMore() => isRefused && isLetIn && !words.Contains(Rights.Words(right), StringComparison.Ordinal);
        }
    }

    private static HttpContent BodyFor(string method, string path) =>
        path.EndsWith("/media", StringComparison.Ordinal)
        || (method == "POST" && path.EndsWith("/imports", StringComparison.Ordinal))
        || path.EndsWith("/results/figures", StringComparison.Ordinal)
        || path.EndsWith("/calendar-sources/files", StringComparison.Ordinal)
        || (method == "POST" && path.EndsWith("/poster", StringComparison.Ordinal))
            ? ApiClient.Form(("x", "x.txt", "x"u8.ToArray()))
            : new StringContent("{}", Encoding.UTF8, "application/json");

    /// <summary>A print of every row there is, but for those that say who came by when.</summary>
    private async Task<string> AllRowsAsync()
    {
        await using NpgsqlConnection connection = new(installation.Database);
        await connection.OpenAsync();
        List<string> tables = [];
        await using (NpgsqlCommand list = new("select tablename from pg_tables where schemaname = 'public' order by 1", connection))
        await using (NpgsqlDataReader names = await list.ExecuteReaderAsync())
        {
            while (await names.ReadAsync())
                tables.Add(names.GetString(0));
        }
        List<string> prints = [];
        foreach (string table in tables.Except(["sessions", "try_counts", "api_tokens", "people"]))
        {
            await using NpgsqlCommand print = new(
                $"select md5(coalesce(string_agg(t::text, '|' order by t::text), '')) from \"{table}\" t",
                connection
            );
            prints.Add($"{table} {await print.ExecuteScalarAsync()}");
        }
        return string.Join('\n', prints);
    }
}
