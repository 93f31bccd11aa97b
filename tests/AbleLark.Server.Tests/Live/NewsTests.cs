using System.Net.ServerSentEvents;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.AspNetCore.Builder;

namespace AbleLark.Server.Tests.Live;

public sealed class NewsTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    [Fact]
    public async Task A_change_is_told_to_the_workspace_s_people_on_every_server_and_to_nobody_else()
    {
        await using WebApplication second = await installation.StartServerAsync();
        using CancellationTokenSource limit = new(TimeSpan.FromSeconds(20));
        await using IAsyncEnumerator<SseItem<string>> ada = await ListenAsync(installation.Ada, second.Urls.Single(), limit.Token);
        await using IAsyncEnumerator<SseItem<string>> ben = await ListenAsync(installation.Ben, installation.Address, limit.Token);

        // Until the database's notifications are listened to, which takes a moment after a start, news may be missed.
        Task<bool> told = ada.MoveNextAsync().AsTask();
        for (int i = 0; !told.IsCompleted; i++)
        {
            await installation.Ada.CategoryAsync($"News {i}");
            await Task.WhenAny(told, Task.Delay(100, limit.Token));
            limit.Token.ThrowIfCancellationRequested();
        }
        Assert.True(await told);
        Assert.Equal("fetch", ada.Current.EventType);
        Assert.Contains("categories", ada.Current.Data, StringComparison.Ordinal);

        await installation.Ben.CategoryAsync("Cider news");
        Assert.True(await ben.MoveNextAsync());
        Assert.StartsWith(installation.Ben.Workspace.ToString(), ben.Current.Data, StringComparison.Ordinal);

        // A page that fetched before its line was open hears what was new since, of its own workspaces alone.
        await using IAsyncEnumerator<SseItem<string>> late = await ListenAsync(
            installation.Ada,
            $"{installation.Address}?back=30",
            limit.Token
        );
        Assert.True(await late.MoveNextAsync());
        Assert.StartsWith(installation.Ada.Workspace.ToString(), late.Current.Data, StringComparison.Ordinal);
        Assert.Contains("categories", late.Current.Data, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_line_of_news_ends_when_the_membership_does_and_one_too_many_ends_the_oldest()
    {
        await using WebApplication server = await installation.StartServerAsync("--Lark:HeartbeatSeconds=1");
        using CancellationTokenSource limit = new(TimeSpan.FromSeconds(30));
        using ApiClient planner = await installation.MemberAsync(Core.Workspaces.Role.Planner);
        List<IAsyncEnumerator<SseItem<string>>> lines = [];
        for (int i = 0; i < 9; i++)
            lines.Add(await ListenAsync(planner, server.Urls.Single(), limit.Token));
        Assert.True(await EndedAsync(lines[0]), "The oldest line is still open.");
        await installation.WriteAsync(
            $"""
            delete from memberships m using people p where p.id = m.person_id and p.name = 'Planner Wader' and m.workspace_id =
            {installation.Ada.Workspace}
            """
        );
        Assert.True(await EndedAsync(lines[8]), "The line outlived the membership.");
        foreach (var line in lines)
            await line.DisposeAsync();

        static async Task<bool> EndedAsync(IAsyncEnumerator<SseItem<string>> line)
        {
            for (int i = 0; i < 4; i++)
            {
                if (!await line.MoveNextAsync())
                    return true;
            }
            return false;
        }
    }

    private static async Task<IAsyncEnumerator<SseItem<string>>> ListenAsync(
        ApiClient client,
        string address,
        CancellationToken cancellation
    )
    {
        string[] parts = address.Split('?');
        HttpRequestMessage request = new(HttpMethod.Get, $"{parts[0]}/api/news?{parts.ElementAtOrDefault(1)}");
        HttpResponseMessage response = await client.Http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancellation);
        response.EnsureSuccessStatusCode();
        IAsyncEnumerator<SseItem<string>> news = SseParser
            .Create(await response.Content.ReadAsStreamAsync(cancellation))
            .EnumerateAsync(cancellation)
            .GetAsyncEnumerator(cancellation);
        Assert.True(await news.MoveNextAsync());
        Assert.Equal("hello", news.Current.EventType);
        return news;
    }
}
