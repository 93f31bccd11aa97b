using System.Diagnostics;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Outgoing;

/// <summary>Server processes killed in the middle of sending: every post is on the network exactly once all the same.</summary>
public sealed class KillTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private const int Posts = 12;
    private const int Kills = 4;

    [Fact]
    public async Task A_server_killed_four_times_while_sending_sends_each_post_once()
    {
        Guid channel = await installation.ConnectAsync(installation.Ada, "hearth", "kill");
        Guid category = await installation.Ada.CategoryAsync("Killed", channel);
        Guid picture = await installation.Ada.PictureAsync();
        for (int i = 0; i < Posts; i++)
        {
            Guid post = (await installation.Ada.PostAsync(category, $"Killed {i:00}", picture: picture)).Id();
            await installation.Ada.PlanAsync(installation, post, 5, channel);
        }
        // Some answers are slow, some are lost, so that a kill falls before, within and after the network's work.
        foreach (string fault in new[] { "loseAnswer", "slow" })
            await installation.OrderAsync(fault, 1, "hearth-kill");
        await installation.MoveOnAsync(Duration.FromMinutes(6));

        for (int kills = 0; kills <= Kills; kills++)
        {
            await using ServerProcess server = new(installation);
            int before = await SentAsync();
            Assert.True(before < Posts, $"All were sent after {kills} kills: the test proves too little.");
            // Killed as soon as it has sent a few more, wherever it is then; the last one may finish.
            int until = kills == Kills ? Posts : before + 1 + (kills % 2);
            Stopwatch watch = Stopwatch.StartNew();
            while (watch.Elapsed < TimeSpan.FromSeconds(90) && await SentAsync() < until)
                await Task.Delay(15);
            await server.KillAsync();
        }
        Assert.Equal(
            Enumerable.Range(0, Posts).Select(i => $"Killed {i:00}"),
            (await installation.PostedAsync("hearth-kill")).Order(StringComparer.Ordinal)
        );
    }

    private async Task<int> SentAsync() => await installation.ReadAsync(db => db.Deliveries.CountAsync(d => d.State == DeliveryState.Sent));
}
