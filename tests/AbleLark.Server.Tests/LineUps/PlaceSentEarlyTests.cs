using System.Runtime.CompilerServices;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Server.LineUps;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.LineUps;

/// <summary>A place that went out on an earlier day than its own: it isn't open again, and one that can't be written down stops no
/// other.</summary>
public sealed class PlaceSentEarlyTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_move_whose_place_was_sent_is_not_taken_back_and_the_place_is_not_open_again_days_later()
    {
        (Guid slot, _) = await LayOutAsync("Early", "early");
        LocalDate day = await NextWeekAsync();
        Guid move = await MoveToTomorrowAsync(slot, day);
        // It is scheduled, then goes out.
        await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromDays(1));
        for (int i = 0; i < 40 && !await IsSentAsync(slot, day); i++)
            await installation.PassAsync();
        await installation.MoveOnAsync(Duration.FromDays(5));

        JsonElement outcome = await _ada.PostAsync($"changes/{move}/undo", new { });
        Assert.Equal(0, outcome.GetProperty("undone").GetInt32());
        Assert.Equal(
            $"The place of {day.InWords()} stays where it is: since it was moved, it has been scheduled or sent.",
            outcome.GetProperty("kept")[0].GetString()
        );
        Assert.Equal(1, await SentAsync(slot, day));
    }

    [Fact]
    public async Task A_place_that_can_t_be_written_down_is_left_out_and_said_at_Today_while_the_rest_is_scheduled()
    {
        (Guid slot, Guid channel) = await LayOutAsync("Broken", "broken");
        LocalDate day = await NextWeekAsync();
        // Whatever the database may have against it.
        await installation.WriteAsync(
            FormattableStringFactory.Create(
                "alter table deliveries add constraint not_there "
                    + $"check (origin_id <> '{slot}' or origin_date <> '{day:uuuu-MM-dd}') not valid"
            )
        );
        await using (AsyncServiceScope scope = installation.Services.CreateAsyncScope())
            await scope
                .ServiceProvider.GetRequiredService<Scheduling>()
                .ScheduleAsync(new(_ada.Workspace), _ => day.PlusDays(7), await installation.NowAsync(), CancellationToken.None);

        Assert.Equal(
            [day.PlusDays(7)],
            await installation.ReadAsync(db =>
                db.Deliveries.Where(d => d.ChannelId == new Id<Core.Channels.Channel>(channel) && d.State == DeliveryState.Planned)
                    .Select(d => d.OriginDate)
                    .ToListAsync()
            )
        );
        JsonElement aside = (await _ada.GetAsync("needs/put-aside"))
            .EnumerateArray()
            .Single(a => a.GetProperty("slotId").ValueKind != JsonValueKind.Null);
        Assert.Equal(slot, aside.GetProperty("slotId").GetGuid());
        Assert.StartsWith($"Of this slot {day.InWords()} can't be scheduled", aside.Text("words"), StringComparison.Ordinal);

        // Skipped, it is no longer said.
        await installation.WriteAsync($"alter table deliveries drop constraint not_there");
        await _ada.DecideAsync($"line-up/occurrences/{slot}/{day:uuuu-MM-dd}", new { isSkipped = true });
        await installation.PassAsync();
        Assert.DoesNotContain(
            (await _ada.GetAsync("needs/put-aside")).EnumerateArray(),
            a => a.GetProperty("slotId").ValueKind != JsonValueKind.Null
        );
    }

    /// <summary>A weekly slot on the weekday of in six days, on a channel of its own with posts enough.</summary>
    private async Task<(Guid Slot, Guid Channel)> LayOutAsync(string category, string handle)
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", handle);
        Guid id = await _ada.CategoryAsync(category, channel);
        for (int i = 0; i < 4; i++)
            await _ada.PostAsync(id, $"{category} {i}");
        return (await _ada.SlotAsync(id, "09:30", [(int)(await NextWeekAsync()).DayOfWeek], channel), channel);
    }

    private async Task<LocalDate> NextWeekAsync() =>
        (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date.PlusDays(7);

    private async Task<Guid> MoveToTomorrowAsync(Guid slot, LocalDate day) =>
        (
            await _ada.DecideAsync(
                $"line-up/occurrences/{slot}/{day:uuuu-MM-dd}",
                new { movedTo = $"{day.PlusDays(-6):uuuu-MM-dd}T09:45:00" }
            )
        )
            .GetProperty("changeSetId")
            .GetGuid();

    private async Task<bool> IsSentAsync(Guid slot, LocalDate day) => await SentAsync(slot, day) > 0;

    private Task<int> SentAsync(Guid slot, LocalDate day) =>
        installation.ReadAsync(db =>
            db.Deliveries.CountAsync(d => d.OriginId == slot && d.OriginDate == day && d.State == DeliveryState.Sent)
        );
}
