using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Networks;
using AbleLark.Server.Demo;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Server.Tests.Demo;

public sealed class DemoTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    [Fact]
    public void The_scenario_names_only_what_it_has()
    {
        DemoScenario scenario = DemoScenario.Load();
        NetworkBook networks = installation.Services.GetRequiredService<NetworkBook>();
        string[] categories = [.. scenario.Categories.Select(c => c.Name)];
        string[] accounts = [.. scenario.Accounts.Select(a => a.Key)];
        Assert.All(scenario.Accounts, a => Assert.True(networks.Has(a.Network), a.Network));
        Assert.All(scenario.Posts, p => Assert.Contains(p.C, categories));
        Assert.All(scenario.Categories, c => Assert.All(c.Channels, k => Assert.Contains(k, accounts)));
        Assert.All(scenario.Slots, s => Assert.All(s.Channels, k => Assert.Contains(k, accounts)));
        Assert.All(scenario.Slots, s => Assert.True(s.Category is null || categories.Contains(s.Category), s.Category));
        Assert.Equal(scenario.Posts.Count, scenario.Posts.Select(p => p.T).Distinct().Count());
    }

    [Fact]
    public void Its_links_lead_to_names_that_stand_for_nobody()
    {
        // RFC 2606 §3 keeps example.org and what lies under it free of real owners.
        Assert.All(
            DemoScenario.Load().Posts.Where(p => p.L is not null),
            p => Assert.EndsWith("example.org", new Uri(p.L!).Host, StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("dawn")]
    [InlineData("hut")]
    [InlineData("boat")]
    public void Its_pictures_are_drawn_the_same_from_the_same_seed(string mood)
    {
        byte[] one = DemoPictures.Draw(mood, 7);
        Assert.Equal(one, DemoPictures.Draw(mood, 7));
        Assert.NotEqual(one, DemoPictures.Draw(mood, 8));
    }

    [Fact]
    public async Task A_jump_of_the_clock_does_each_thing_at_its_own_time()
    {
        Guid channel = await installation.ConnectAsync(installation.Ada, "hearth", "jumped");
        Guid category = await installation.Ada.CategoryAsync("Jumped", channel);
        for (int i = 0; i < 12; i++)
            await installation.Ada.PostAsync(category, $"Jumped {i}");
        await installation.Ada.SlotAsync(category, "08:15", [1, 2, 3, 4, 5, 6, 7], channel);
        using HttpResponseMessage jump = await installation.Ada.Http.PostAsync(
            "/api/demo/clock",
            new StringContent("{\"by\":\"week\"}", System.Text.Encoding.UTF8, "application/json")
        );
        jump.EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Conflict, await JumpAgainAsync());

        for (int i = 0; i < 400 && await StepAsync(); i++)
            await installation.PassAsync();
        var sent = await installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.ChannelId == new Core.Id<Core.Channels.Channel>(channel)).OrderBy(d => d.At).ToListAsync()
        );
        Delivery[] past = [.. sent.Where(d => d.State != DeliveryState.Planned)];
        Assert.True(past.Length >= 6, $"{past.Length} deliveries");
        Assert.All(past, d => Assert.Equal(DeliveryState.Sent, d.State));
        // Each was sent within a minute of its own time, not at the end of the jump; and read as it aged.
        Assert.All(past, d => Assert.InRange((d.SentAt!.Value - d.At).TotalSeconds, 0, 60));
        int readings = await installation.ReadAsync(db => db.Readings.CountAsync(r => r.DeliveryId == past[0].Id));
        Assert.True(readings >= 4, $"{readings} readings of the first");
        Assert.Equal(past.Length, past.Select(d => d.PostId).Distinct().Count());
    }

    [Fact]
    public async Task A_jump_waits_for_a_network_that_asks_for_a_moment()
    {
        Guid channel = await installation.ConnectAsync(installation.Ada, "hearth", "waited");
        Guid category = await installation.Ada.CategoryAsync("Waited", channel);
        Guid post = (await installation.Ada.PostAsync(category, "Wait for me")).Id();
        Guid delivery = (await installation.Ada.PlanAsync(installation, post, 5, channel))[0];
        await installation.OrderAsync("rateLimited", 2, "hearth-waited");
        using HttpResponseMessage jump = await installation.Ada.Http.PostAsync(
            "/api/demo/clock",
            new StringContent("{\"by\":\"day\"}", System.Text.Encoding.UTF8, "application/json")
        );
        for (int i = 0; i < 300 && await installation.Ada.StateAsync(delivery) != "sent"; i++)
        {
            if (!await StepAsync())
                await Task.Delay(100);
            await installation.PassAsync();
        }
        Delivery sent = await installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.Id == new Core.Id<Delivery>(delivery)));
        Assert.Equal((DeliveryState.Sent, 3), (sent.State, sent.Attempts));
        Assert.InRange((sent.SentAt!.Value - sent.At).TotalSeconds, 0, 60);
        for (int i = 0; i < 300 && await StepAsync(); i++)
            await installation.PassAsync();
    }

    [Fact]
    public async Task A_jump_answers_what_waits_for_approval_at_its_time()
    {
        Guid channel = await installation.ConnectAsync(installation.Ada, "hearth", "answered");
        Guid category = await installation.Ada.CategoryAsync("Answered", channel);
        Guid post = (await installation.Ada.PostAsync(category, "Approved meanwhile")).Id();
        Guid delivery = (await installation.Ada.PlanAsync(installation, post, 150, channel))[0];
        await installation.WriteAsync($"update deliveries set state = 'WaitingForApproval' where id = {delivery}");
        using HttpResponseMessage jump = await installation.Ada.Http.PostAsync(
            "/api/demo/clock",
            new StringContent("{\"by\":\"day\"}", System.Text.Encoding.UTF8, "application/json")
        );
        JsonElement ready = await installation.Ada.Http.GetFromJsonAsync<JsonElement>("/readyz");
        Assert.Equal("moving", ready.Text("clock"));
        for (int i = 0; i < 300 && await StepAsync(); i++)
            await installation.PassAsync();
        await installation.PassAsync();
        Delivery sent = await installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.Id == new Core.Id<Delivery>(delivery)));
        Assert.Equal(DeliveryState.Sent, sent.State);
        // The network's own clock may be half a second behind.
        Assert.InRange((sent.SentAt!.Value - sent.At).TotalSeconds, -2, 60);
    }

    private async Task<bool> StepAsync()
    {
        await using AsyncServiceScope scope = installation.Services.CreateAsyncScope();
        return await scope.ServiceProvider.GetRequiredService<DemoClock>().StepAsync(CancellationToken.None);
    }

    private async Task<HttpStatusCode> JumpAgainAsync()
    {
        using HttpResponseMessage again = await installation.Ada.Http.PostAsync(
            "/api/demo/clock",
            new StringContent("{\"by\":\"hour\"}", System.Text.Encoding.UTF8, "application/json")
        );
        return again.StatusCode;
    }
}
