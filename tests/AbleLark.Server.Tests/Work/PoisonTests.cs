using System.Net;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Data.Rows;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;

namespace AbleLark.Server.Tests.Work;

/// <summary>What can't be worked out, read or sent stops nothing else, and ends in words that a person can act on.</summary>
public sealed class PoisonTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_workspace_that_can_t_be_scheduled_stops_nobody_and_shows_on_its_own_today()
    {
        Guid channel = await installation.ConnectAsync(installation.Ben, "hearth", "poisoned");
        Guid category = await installation.Ben.CategoryAsync("Poisoned", channel);
        await installation.Ben.SlotAsync(category, "04:20", [1, 2, 3, 4, 5, 6, 7], channel);
        // Whatever it is that no look at its rows finds.
        await RunAsync(
            $"""
            create function refuse() returns trigger as $$ begin
              if new.id = '{installation.Ben.Workspace}' and new.scheduled_stamp is distinct from old.scheduled_stamp then
                raise exception 'not this one';
              end if;
              return new;
            end $$ language plpgsql;
            create trigger refuse before update on workspaces for each row execute function refuse()
            """
        );
        await installation.WriteAsync($"update workspaces set plan_stamp = plan_stamp + 1 where id = {installation.Ben.Workspace}");
        (Guid delivery, string account) = await installation.DueAsync("Nobody stops me");

        for (int i = 0; i < 3; i++)
        {
            await installation.PassAsync();
            await installation.WriteAsync($"update work_failures set retry_at = now() - interval '1 second'");
        }
        Assert.Equal("sent", await _ada.StateAsync(delivery));
        Assert.Single(await installation.PostedAsync(account));
        Assert.Empty((await _ada.GetAsync("needs/put-aside")).EnumerateArray());
        JsonElement shown = (await installation.Ben.GetAsync("needs/put-aside")).EnumerateArray().Single();
        Assert.Equal(("scheduling", 3), (shown.Text("work"), shown.Whole("count")));
        Assert.StartsWith("The recurring week can't be worked out", shown.Text("words"), StringComparison.Ordinal);
        using HttpClient http = new();
        JsonElement ready = JsonSerializer.Deserialize<JsonElement>(await http.GetStringAsync($"{installation.Address}/readyz"));
        Assert.Equal(1, ready.GetProperty("putAside").GetProperty("scheduling").GetInt32());

        // Mended, it goes on, and nothing is shown any more.
        await RunAsync("drop trigger refuse on workspaces; drop function refuse()");
        await installation.PassAsync();
        Assert.Empty((await installation.Ben.GetAsync("needs/put-aside")).EnumerateArray());
    }

    private async Task RunAsync(string sql)
    {
        await using NpgsqlConnection connection = new(installation.Database);
        await connection.OpenAsync();
        await using NpgsqlCommand command = new(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    [Fact]
    public async Task What_is_put_aside_is_left_alone_for_a_growing_while()
    {
        Assert.Equal(
            [2, 4, 8, 16, 32, 64, 128, 256, 300, 300],
            Enumerable.Range(1, 10).Select(n => AbleLark.Server.Work.Backoff.Pause(n).TotalSeconds)
        );
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "aside");
        (Guid delivery, _) = await installation.DueAsync("Left alone");
        Guid of = (await _ada.GetAsync($"deliveries/{delivery}")).Id("channelId");
        await installation.WriteAsync(
            $"""
            insert into work_failures (workspace_id, work, subject, count, first_at, last_at, retry_at, words) values ({_ada.Workspace},
            'Sending', {of}, 1, now(), now(), now() + interval '1 hour', 'x')
            """
        );
        await installation.PassAsync();
        Assert.Equal("planned", await _ada.StateAsync(delivery));
        await installation.WriteAsync($"update work_failures set retry_at = now() - interval '1 second' where subject = {of}");
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(delivery));
        Assert.False(await installation.ReadAsync(db => db.WorkFailures.AnyAsync(f => f.Subject == of)));
        Assert.NotEqual(of, channel);
    }

    [Fact]
    public async Task A_picture_that_is_gone_is_said_and_holds_nothing_up()
    {
        (Guid delivery, string account) = await installation.DueAsync("With a picture", picture: true);
        (Guid other, _) = await installation.DueAsync("Beside it", late: Duration.FromSeconds(1));
        string[] files = Directory.GetFiles(Path.Combine(installation.DataFolder, "media"), "*", SearchOption.AllDirectories);
        foreach (string file in files)
            File.Move(file, file + ".away");
        await installation.PassAsync();
        foreach (string file in files)
            File.Move(file + ".away", file);
        JsonElement shown = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(
            ("refused", "“dawn.png” can't be read here any more. Choose it anew on the post, then reschedule."),
            (shown.Text("state"), shown.Text("trouble"))
        );
        Assert.Equal("sent", await _ada.StateAsync(other));
        Assert.Empty(await installation.PostedAsync(account));
    }

    [Fact]
    public async Task A_token_that_can_t_be_read_shows_its_channel_as_not_connected()
    {
        (Guid delivery, _) = await installation.DueAsync("Unreadable");
        Guid channel = (await _ada.GetAsync($"deliveries/{delivery}")).Id("channelId");
        await installation.WriteAsync(
            $"update channel_secrets set access_token = 'scrambled', refresh_token = 'scrambled' where channel_id = {channel}"
        );
        await installation.PassAsync();
        JsonElement shown = (await _ada.GetAsync("channels")).EnumerateArray().Single(c => c.Id() == channel);
        const string words = "The stored connection can't be read with the keys in the data folder. Connect the channel again.";
        Assert.Equal(("needsReconnection", words), (shown.Text("connection"), shown.Text("connectionTrouble")));
        JsonElement need = (await _ada.GetAsync("needs")).EnumerateArray().Single(n => n.Id("deliveryId") == delivery);
        Assert.Equal(("refused", words), (need.Text("state"), need.Text("trouble")));
    }

    [Fact]
    public async Task A_network_that_answers_nonsense_is_taken_at_its_yes_and_nothing_of_the_nonsense_is_shown()
    {
        (Guid delivery, string account) = await installation.DueAsync("Nonsense");
        await installation.OrderAsync("nonsense", 1, account);
        await installation.PassAsync();
        Delivery sent = await installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.Id == new Id<Delivery>(delivery)));
        Assert.Equal((DeliveryState.Sent, null), (sent.State, sent.Address));
        Assert.InRange(sent.SentAt!.Value, sent.At, sent.At + Duration.FromMinutes(5));
        Assert.Single(await installation.PostedAsync(account));
        Assert.Equal(JsonValueKind.Null, (await _ada.GetAsync($"deliveries/{delivery}")).GetProperty("address").ValueKind);
    }

    [Fact]
    public async Task An_address_kept_before_it_was_checked_is_not_shown()
    {
        (Guid delivery, _) = await installation.DueAsync("Old address");
        await installation.PassAsync();
        await installation.WriteAsync($"update deliveries set address = 'javascript:alert(1)' where id = {delivery}");
        JsonElement shown = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(JsonValueKind.Null, shown.GetProperty("address").ValueKind);
        Assert.Equal(
            JsonValueKind.Null,
            (await _ada.GetAsync($"posts/{shown.Id("postId")}")).List("deliveries").Single().GetProperty("address").ValueKind
        );
        string day = shown.Text("date");
        Assert.DoesNotContain("javascript", (await _ada.GetAsync($"line-up?from={day}&to={day}")).GetRawText(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_delivery_that_can_t_even_be_read_ends_in_words_and_the_next_one_goes()
    {
        (Guid delivery, _) = await installation.DueAsync("Broken row");
        (Guid other, _) = await installation.DueAsync("Sound row", late: Duration.FromSeconds(1));
        await installation.WriteAsync($"update deliveries set sent = '[1]' where id = {delivery}");
        for (int i = 0; i < 4; i++)
        {
            await installation.PassAsync();
            await installation.WriteAsync(
                $"update deliveries set lease_until = now() - interval '1 second' where id = {delivery} and state = 'Sending'"
            );
        }
        Assert.Equal("sent", await _ada.StateAsync(other));
        var (state, trouble) = await installation.ReadAsync(db =>
            db.Deliveries.Where(d => d.Id == new Id<Delivery>(delivery))
                .Select(d => new ValueTuple<DeliveryState, string?>(d.State, d.Trouble))
                .SingleAsync()
        );
        Assert.Equal(DeliveryState.Refused, state);
        Assert.StartsWith("Something went wrong here while it was being sent (", trouble, StringComparison.Ordinal);
        // It can't be shown among the others; Today says which row it is.
        JsonElement row = (await _ada.GetAsync("needs/damaged")).List("rows").Single(r => r.Id() == delivery);
        Assert.Equal(("deliveries", "sent"), (row.Text("table"), row.Text("field")));
        Assert.False(
            await installation.ReadAsync(db => db.WorkFailures.AnyAsync(f => f.Work == WorkKind.Sending && f.Subject == delivery))
        );
    }

    [Theory]
    [InlineData("-9998-01-01")]
    [InlineData("0001-01-01")]
    [InlineData("1999-12-31")]
    [InlineData("9999-12-31")]
    [InlineData("2199-01-01")]
    public async Task A_date_outside_the_bounds_is_refused_in_every_body_and_nothing_is_saved(string date)
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "dates" + Guid.NewGuid().ToString("n")[..6]);
        Guid category = await _ada.CategoryAsync("Da" + Guid.NewGuid().ToString("n")[..6], channel);
        Guid slot = await _ada.SlotAsync(category, "05:10", [1], channel);
        Guid post = (await _ada.PostAsync(category, "Dated")).Id();
        JsonElement rota = (await _ada.GetAsync("rotas"))[0];
        object Slot(string? anchor = null, string? from = null, string? to = null) =>
            new
            {
                days = new[] { 1 },
                time = "05:10:00",
                categories = new[] { category },
                channels = new[] { channel },
                anchor,
                from,
                to,
            };
        object content = TestData.Content("x");
        (HttpMethod Method, string Path, object Body, string Place)[] tries =
        [
            (HttpMethod.Post, "rotas/slots", Slot(anchor: date), "$.anchor"),
            (HttpMethod.Post, "rotas/slots", Slot(from: date), "$.from"),
            (HttpMethod.Post, "rotas/slots", Slot(to: date), "$.to"),
            (
                HttpMethod.Put,
                $"rotas/{rota.Id()}",
                new
                {
                    name = "The week",
                    version = rota.Whole("version"),
                    from = date,
                    slots = Array.Empty<object>(),
                },
                "$.from"
            ),
            (
                HttpMethod.Post,
                "what-if",
                new
                {
                    weeks = 4,
                    rotas = new[]
                    {
                        new
                        {
                            rota = new
                            {
                                name = "x",
                                version = 0,
                                slots = new[] { Slot(anchor: date) },
                            },
                        },
                    },
                },
                "$.rotas[0].rota.slots[0].anchor"
            ),
            (
                HttpMethod.Post,
                "posts",
                new
                {
                    title = "x",
                    categoryId = category,
                    stage = "ready",
                    lifespan = "evergreen",
                    inRotation = true,
                    channels = (Guid[]?)null,
                    content,
                    from = date,
                },
                "$.from"
            ),
            (
                HttpMethod.Post,
                $"posts/{post}/deliveries",
                new
                {
                    date,
                    time = "10:00:00",
                    channels = new[] { channel },
                },
                "$.date"
            ),
            (
                HttpMethod.Post,
                "pauses",
                new
                {
                    what = "channel",
                    target = channel,
                    from = date,
                },
                "$.from"
            ),
            (HttpMethod.Post, "line-up/schedule", new { through = date }, "$.through"),
            (
                HttpMethod.Post,
                "line-up/exchange",
                new { one = new { place = Seen(slot, date) }, other = new { place = Seen(slot, "2026-03-02") } },
                "$.one.place.date"
            ),
            (HttpMethod.Patch, $"line-up/occurrences/{slot}/2027-03-01", new { movedTo = date + "T09:00:00" }, "$.movedTo"),
        ];
        int before = await installation.ReadAsync(db => db.Slots.CountAsync());
        foreach ((HttpMethod method, string path, object body, string place) in tries)
        {
            (HttpStatusCode status, string words) = await _ada.TroubleAsync(method, path, body);
            Assert.True(status == HttpStatusCode.BadRequest, $"{method} {path}: {status} {words}");
            Assert.Contains("is not a date to plan with: dates lie between 1 Jan 2000 and ", words, StringComparison.Ordinal);
            Assert.EndsWith($"Is the year right? (“{place}”)", words, StringComparison.Ordinal);
        }
        Assert.Equal(before, await installation.ReadAsync(db => db.Slots.CountAsync()));
    }

    private static object Seen(Guid slot, string date) =>
        new
        {
            slotId = slot,
            date,
            revision = 0,
        };
}
