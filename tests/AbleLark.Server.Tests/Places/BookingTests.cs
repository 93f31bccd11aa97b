using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Places;

/// <summary>Places given by hand: shown first, booked as a whole, undone as a whole; and scheduled places taken.</summary>
public sealed class BookingTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private static readonly int[] EveryDay = [1, 2, 3, 4, 5, 6, 7];
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task What_is_shown_is_booked_displaced_posts_move_on_and_one_undo_takes_all_back()
    {
        (Guid channel, Guid category) = await LineAsync("places");
        Guid[] posts = await PostsAsync(category, "Book", 3);
        await _ada.SlotAsync(category, "09:00", EveryDay, channel);
        await installation.PassAsync();

        JsonElement first = await _ada.GetAsync($"posts/{posts[0]}/booking?kind=firstFree");
        JsonElement place = Assert.Single(first.List("moves"));
        await BookAsync(posts[0], "firstFree");
        Assert.Equal(posts[0], await AtAsync(place.Text("to"), channel));

        JsonElement plan = await _ada.GetAsync($"posts/{posts[2]}/booking?kind=veryNext");
        Assert.Equal(
            [(posts[2], place.Text("to")), (posts[0], Later(place.Text("to")))],
            plan.List("moves").Select(m => (m.Id("postId"), m.Text("to")))
        );
        JsonElement booked = await BookAsync(posts[2], "veryNext");
        Assert.Equal((posts[2], posts[0]), (await AtAsync(place.Text("to"), channel), await AtAsync(Later(place.Text("to")), channel)));

        await _ada.PostAsync($"changes/{booked.Id("changeSetId")}/undo");
        Assert.Equal(posts[0], await AtAsync(place.Text("to"), channel));
        Assert.NotEqual(posts[0], await AtAsync(Later(place.Text("to")), channel));
    }

    [Fact]
    public async Task Booking_again_moves_the_booking_and_one_undo_puts_it_back()
    {
        (Guid channel, Guid category) = await LineAsync("again");
        Guid[] posts = await PostsAsync(category, "Again", 2);
        await _ada.SlotAsync(category, "09:00", EveryDay, channel);
        await installation.PassAsync();
        await BookAsync(posts[1], "veryNext");
        await BookAsync(posts[0], "firstFree");
        string before = Assert.Single((await _ada.GetAsync($"posts/{posts[0]}/booking?kind=firstFree")).List("moves")).Text("to");
        JsonElement moved = await BookAsync(posts[0], "veryNext");
        async Task<int> PlacesAsync(Guid post) =>
            await installation.ReadAsync(async db =>
                (await db.Decisions.ToListAsync()).Sum(d => d.Posts.Count(p => p.PostId.Value == post))
            );
        Assert.Equal((1, 1), (await PlacesAsync(posts[0]), await PlacesAsync(posts[1])));
        Assert.Equal(posts[1], await AtAsync(before, channel));
        await _ada.PostAsync($"changes/{moved.Id("changeSetId")}/undo");
        Assert.Equal((1, 1, posts[0]), (await PlacesAsync(posts[0]), await PlacesAsync(posts[1]), await AtAsync(before, channel)));
    }

    [Fact]
    public async Task A_booking_on_a_plan_that_has_changed_or_of_a_post_that_can_t_go_is_refused_in_words()
    {
        (Guid channel, Guid category) = await LineAsync("refuses");
        Guid post = (await PostsAsync(category, "Refused", 1))[0];
        (HttpStatusCode none, string nowhere) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"posts/{post}/booking",
            new { kind = "veryNext", planStamp = (await _ada.GetAsync($"posts/{post}/booking?kind=veryNext")).GetProperty("planStamp") }
        );
        Assert.Equal(
            (
                HttpStatusCode.Conflict,
                "Nothing was changed: there is no place for this post on any of its channels. Set date and time instead."
            ),
            (none, nowhere)
        );

        await _ada.SlotAsync(category, "09:00", EveryDay, channel);
        JsonElement plan = await _ada.GetAsync($"posts/{post}/booking?kind=veryNext");
        await _ada.PostAsync(category, "Meanwhile");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"posts/{post}/booking",
            new { kind = "veryNext", planStamp = plan.GetProperty("planStamp") }
        );
        Assert.Equal(
            (
                HttpStatusCode.PreconditionFailed,
                "The plan has changed since these places were found. Look at them once more; nothing was booked."
            ),
            (status, words)
        );

        Guid draft = (await _ada.PostAsync(category, "Draft words", stage: "draft")).Id();
        // What is still being written is shown the place that it would get, and gets none.
        JsonElement asIf = await _ada.GetAsync($"posts/{draft}/booking?kind=veryNext");
        Assert.Contains(asIf.List("moves"), m => m.Id("postId") == draft);
        Assert.Equal(
            (HttpStatusCode.Conflict, "Nothing was changed: “Draft words” is not ready. Mark it as ready first."),
            await _ada.TroubleAsync(
                HttpMethod.Post,
                $"posts/{draft}/booking",
                new { kind = "veryNext", planStamp = asIf.GetProperty("planStamp") }
            )
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await _ada.TroubleAsync(HttpMethod.Get, $"posts/{post}/booking?kind=someday")).Status);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await _ada.TroubleAsync(HttpMethod.Get, $"posts/{Guid.NewGuid()}/booking?kind=veryNext")).Status
        );
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await installation.Ben.TroubleAsync(HttpMethod.Get, $"posts/{post}/booking?kind=veryNext")).Status
        );
    }

    [Fact]
    public async Task A_scheduled_place_is_offered_taken_and_given_back_by_undo()
    {
        (Guid channel, Guid category) = await LineAsync("takes");
        Guid had = (await PostsAsync(category, "Had it", 1))[0];
        await _ada.SlotAsync(category, "23:58", [(int)Local(await installation.NowAsync()).DayOfWeek], channel);
        await installation.PassAsync();
        Guid wanting = (await PostsAsync(category, "Wants it", 1))[0];
        JsonElement offer = (await _ada.GetAsync($"posts/{wanting}/first-out")).GetProperty("sooner");
        Assert.Equal("Had it 0", offer.Text("title"));
        Guid delivery = offer.Id("deliveryId");

        JsonElement taken = await _ada.PostAsync($"deliveries/{delivery}/take", new { postId = wanting });
        JsonElement now = await _ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal((wanting, "planned", "Took this scheduled place."), (now.Id("postId"), now.Text("state"), now.Text("why")));
        Assert.Equal(
            "Nothing was changed: the post has this place already.",
            (await _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/take", new { postId = wanting })).Words
        );
        // Who had it waits at the front: it goes next, before a post that was never sent.
        Assert.Equal("At the front of its line.", (await FirstFreeAsync(channel, had)).Text("why")[..25]);

        await _ada.PostAsync($"changes/{taken.Id("changeSetId")}/undo");
        Assert.Equal(had, (await _ada.GetAsync($"deliveries/{delivery}")).Id("postId"));
        await _ada.PostAsync($"deliveries/{delivery}/cancel");
        Assert.Equal(
            "Nothing was changed: this place can't be taken any more: it isn't a scheduled place to come.",
            (await _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/take", new { postId = wanting })).Words
        );
    }

    [Fact]
    public async Task A_place_taken_while_another_server_sends_is_sent_once_as_one_of_the_two()
    {
        (Guid channel, Guid category) = await LineAsync("races");
        await PostsAsync(category, "Racing", 1);
        LocalDateTime soon = Local(await installation.NowAsync() + Duration.FromMinutes(30));
        await _ada.SlotAsync(category, $"{soon:HH:mm}", [(int)soon.DayOfWeek], channel);
        await installation.PassAsync();
        Guid other = (await PostsAsync(category, "Overtaking", 1))[0];
        Guid delivery = (await _ada.GetAsync($"posts/{other}/first-out")).GetProperty("sooner").Id("deliveryId");
        await installation.MoveOnAsync(Duration.FromMinutes(31));
        await Task.WhenAll(
            installation.PassAsync(),
            installation.PassAsync(),
            _ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/take", new { postId = other })
        );
        Assert.Equal(["Racing 0"], await installation.PostedAsync("hearth-booking-races"));
    }

    private async Task<JsonElement> BookAsync(Guid post, string kind)
    {
        JsonElement plan = await _ada.GetAsync($"posts/{post}/booking?kind={kind}");
        return await _ada.PostAsync($"posts/{post}/booking", new { kind, planStamp = plan.GetProperty("planStamp") });
    }

    private async Task<Guid?> AtAsync(string local, Guid channel)
    {
        string[] parts = local.Split('T');
        JsonElement entry = (await _ada.GetAsync($"line-up?from={parts[0]}&to={parts[0]}"))
            .List("entries")
            .Single(e => e.Id("channelId") == channel && e.Text("time") == parts[1]);
        return entry.GetProperty("postId").ValueKind == JsonValueKind.Null ? null : entry.Id("postId");
    }

    private async Task<JsonElement> FirstFreeAsync(Guid channel, Guid post)
    {
        LocalDate today = Local(await installation.NowAsync()).Date;
        return (await _ada.GetAsync($"line-up?from={today:uuuu-MM-dd}&to={today.PlusDays(9):uuuu-MM-dd}"))
            .List("entries")
            .First(e => e.Id("channelId") == channel && e.Text("kind") == "projected" && e.Id("postId") == post);
    }

    private static string Later(string local) =>
        NodaTime.Text.LocalDateTimePattern.ExtendedIso.Parse(local).Value.PlusDays(1).ToString("uuuu'-'MM'-'dd'T'HH':'mm':'ss", null);

    private static LocalDateTime Local(Instant at) => at.InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).LocalDateTime;

    private async Task<(Guid Channel, Guid Category)> LineAsync(string name)
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", $"booking-{name}");
        return (channel, await _ada.CategoryAsync($"Booking {name}", channel));
    }

    private async Task<Guid[]> PostsAsync(Guid category, string title, int count)
    {
        List<Guid> made = [];
        for (int i = 0; i < count; i++)
            made.Add((await _ada.PostAsync(category, $"{title} {i}")).Id());
        return [.. made];
    }
}
