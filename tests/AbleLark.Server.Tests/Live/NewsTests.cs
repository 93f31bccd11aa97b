using System.Net.ServerSentEvents;
using AbleLark.Server.Tests.Ground;
using Microsoft.AspNetCore.Builder;

namespace AbleLark.Server.Tests.Live;

public sealed class NewsTests(Town town) : IClassFixture<Town>
{
    [Fact]
    public async Task A_change_is_told_to_the_workspace_s_people_on_every_server_and_to_nobody_else()
    {
        await using WebApplication second = await town.StartServerAsync();
        using CancellationTokenSource limit = new(TimeSpan.FromSeconds(20));
        await using IAsyncEnumerator<SseItem<string>> ada = await ListenAsync(town.Ada, second.Urls.Single(), limit.Token);
        await using IAsyncEnumerator<SseItem<string>> ben = await ListenAsync(town.Ben, town.Address, limit.Token);

        // Until the database's notifications are listened to, which takes a moment after a start, news may be missed.
        await Task.Delay(500, limit.Token);
        await town.Ada.CategoryAsync("News");
        Assert.True(await ada.MoveNextAsync());
        Assert.Equal("fetch", ada.Current.EventType);
        Assert.Contains("categories", ada.Current.Data, StringComparison.Ordinal);

        await town.Ben.CategoryAsync("Cider news");
        Assert.True(await ben.MoveNextAsync());
        Assert.StartsWith(town.Ben.Workspace.ToString(), ben.Current.Data, StringComparison.Ordinal);
    }

    private static async Task<IAsyncEnumerator<SseItem<string>>> ListenAsync(Visitor visitor, string address, CancellationToken cancellation)
    {
        HttpRequestMessage request = new(HttpMethod.Get, address + "/api/news");
        HttpResponseMessage response = await visitor.Http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, cancellation);
        response.EnsureSuccessStatusCode();
        IAsyncEnumerator<SseItem<string>> news = SseParser.Create(await response.Content.ReadAsStreamAsync(cancellation)).EnumerateAsync(cancellation).GetAsyncEnumerator(cancellation);
        Assert.True(await news.MoveNextAsync());
        Assert.Equal("hello", news.Current.EventType);
        return news;
    }
}
