using System.Net;
using System.Text.Json;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Desk;

/// <summary>What the desk asks of the server besides the post itself.</summary>
public sealed class DeskTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Two_people_at_one_post_hear_of_each_other_and_of_who_writes_until_they_go()
    {
        Guid post = (await _ada.PostAsync(await _ada.CategoryAsync("Presence"), "Who is here")).Id();
        using ApiClient writer = await installation.MemberAsync(Role.Writer);
        string path = $"posts/{post}/presence";
        Assert.Empty(await HereAsync(_ada));
        JsonElement ada = Assert.Single(await HereAsync(writer, isWriting: true));
        Assert.False(ada.GetProperty("isWriting").GetBoolean());
        JsonElement other = Assert.Single(await HereAsync(_ada));
        Assert.Equal(("Writer Wader", true), (other.Text("name"), other.GetProperty("isWriting").GetBoolean()));
        // The same person in two tabs at once is one person, and no trouble.
        await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => HereAsync(writer)));
        Assert.Single(await HereAsync(_ada));
        await writer.DeleteAsync(path);
        Assert.Empty(await HereAsync(_ada));
        // Who only vanished is gone a little later.
        await HereAsync(writer);
        await installation.WriteAsync($"update desk_visits set seen_at = seen_at - interval '1 minute'");
        Assert.Empty(await HereAsync(_ada));
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await installation.Ben.TroubleAsync(HttpMethod.Post, path, new { isWriting = false })).Status
        );

        async Task<JsonElement[]> HereAsync(ApiClient who, bool isWriting = false) =>
            [.. (await who.PostAsync(path, new { isWriting })).EnumerateArray()];
    }

    [Fact]
    public async Task Versions_say_who_left_what_when_and_each_can_be_had_again()
    {
        Guid category = await _ada.CategoryAsync("Versions");
        JsonElement post = await _ada.PostAsync(category, "First", stage: "draft");
        JsonElement second = await _ada.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(category, "Second", "draft"));
        using ApiClient writer = await installation.MemberAsync(Role.Writer);
        JsonElement third = await writer.SavePostAsync(post.Id(), second.Whole("version"), TestData.Edit(category, "Third", "draft"));
        JsonElement[] lines = [.. (await _ada.GetAsync($"posts/{post.Id()}/versions")).EnumerateArray()];
        // What Ada wrote without a pause is one line: as she left it.
        Assert.Equal([third.Whole("version"), second.Whole("version")], lines.Select(l => l.Whole("number")));
        Assert.Equal(("Writer Wader", "text"), (lines[0].Text("by"), lines[0].Text("changed")));
        JsonElement before = await _ada.GetAsync($"posts/{post.Id()}/versions/{post.Whole("version")}");
        Assert.Equal("First", before.GetProperty("common").Text("text"));
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Get, $"posts/{post.Id()}/versions/99")).Status);
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await installation.Ben.TroubleAsync(HttpMethod.Get, $"posts/{post.Id()}/versions/1")).Status
        );
    }

    [Fact]
    public async Task Hashtags_are_counted_by_posts_whatever_their_letter_case_and_told_with_when_they_were_last_out()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "tags");
        Guid category = await _ada.CategoryAsync("Tags", channel);
        Guid sent = (await _ada.PostAsync(category, "One #Tarns and a #tarns, #once")).Id();
        await _ada.PostAsync(category, "Two #Tarns at https://example.org/#not");
        await _ada.WriteAsync(
            category,
            new { common = new { text = "Three" }, wordings = new[] { new { common = new { text = "#Tarns" } } } }
        );
        Assert.Equal((3, null), await UseAsync("Tarns"));
        Assert.Equal((1, null), await UseAsync("once"));
        Assert.DoesNotContain(await TagsAsync(), t => t.Text("tag") == "not");
        Guid delivery = (await _ada.PlanAsync(installation, sent, 1, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(2));
        await installation.PassesUntilAsync(delivery, "sent");
        LocalDate today = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        Assert.Equal((3, today.ToString("uuuu-MM-dd", null)), await UseAsync("Tarns"));
        Assert.Empty((await installation.Ben.GetAsync("hashtags")).EnumerateArray());

        async Task<JsonElement[]> TagsAsync() => [.. (await _ada.GetAsync("hashtags")).EnumerateArray()];
        async Task<(int Posts, string? LastSent)> UseAsync(string tag)
        {
            JsonElement use = Assert.Single(await TagsAsync(), t => t.Text("tag") == tag);
            return (use.Whole("posts"), use.GetProperty("lastSent").GetString());
        }
    }

    [Fact]
    public async Task Each_wording_tells_its_deliveries_and_where_it_is_next()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "turns");
        Guid category = await _ada.CategoryAsync("Turns", channel);
        Guid post = (
            await _ada.WriteAsync(
                category,
                new { common = new { text = "One way" }, wordings = new[] { new { common = new { text = "Another way" } } } }
            )
        ).Id();
        Guid delivery = (await _ada.PlanAsync(installation, post, 1, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(2));
        await installation.PassesUntilAsync(delivery, "sent");
        await _ada.SlotAsync(category, "07:07", [1, 2, 3, 4, 5, 6, 7], channel);
        JsonElement[] uses = [.. (await _ada.GetAsync($"posts/{post}/wordings")).EnumerateArray()];
        Assert.Equal([0, 1], uses.Select(u => u.Whole("wording")));
        JsonElement sent = Assert.Single(uses[0].List("deliveries"));
        Assert.Equal((delivery, "sent"), (sent.Id(), sent.Text("state")));
        Assert.Empty(uses[1].List("deliveries"));
        // The one that was not used yet is next.
        Assert.Equal(channel, Assert.Single(uses[1].List("next")).Id("channelId"));
    }

    [Fact]
    public async Task Sent_now_it_is_sent_once_however_often_and_by_how_many_it_is_pressed()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "now");
        Guid post = (await _ada.PostAsync(await _ada.CategoryAsync("Now", channel), "Right now")).Id();
        object now = new
        {
            date = (string?)null,
            time = (string?)null,
            channels = (Guid[]?)null,
        };
        (HttpStatusCode Status, string Words)[] answers = await Task.WhenAll(
            Enumerable.Range(0, 6).Select(_ => _ada.TroubleAsync(HttpMethod.Post, $"posts/{post}/deliveries", now))
        );
        Assert.Single(answers, a => a.Status == HttpStatusCode.OK);
        Assert.All(
            answers.Where(a => a.Status != HttpStatusCode.OK),
            a =>
                Assert.Equal(
                    (HttpStatusCode.Conflict, true),
                    (a.Status, a.Words.Contains("went out there just now", StringComparison.Ordinal))
                )
        );
        Guid delivery = Assert.Single((await _ada.GetAsync($"posts/{post}")).List("deliveries")).Id();
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.Equal(["Right now"], await installation.PostedAsync("hearth-now"));
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"posts/{post}/deliveries",
            new
            {
                date = (string?)null,
                time = "09:00:00",
                channels = (Guid[]?)null,
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "Give a date and a time, or neither: then it goes out now."), (status, words));
    }

    [Fact]
    public async Task What_waits_for_approval_is_given_a_time_and_waits_there_but_never_goes_out_now()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "asks");
        Guid category = await _ada.CategoryAsync("Asks", channel);
        using ApiClient writer = await installation.MemberAsync(Role.Writer);
        Guid post = (await writer.PostAsync(category, "By a writer")).Id();
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            $"posts/{post}/deliveries",
            new
            {
                date = (string?)null,
                time = (string?)null,
                channels = (Guid[]?)null,
            }
        );
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("waits for approval", words, StringComparison.Ordinal);
        Guid delivery = (await _ada.PlanAsync(installation, post, 60, channel))[0];
        Assert.Equal("waitingForApproval", await _ada.StateAsync(delivery));
        await _ada.ApproveAsync(post);
        Assert.Equal("planned", await _ada.StateAsync(delivery));
    }

    [Fact]
    public async Task One_thing_alone_is_mended_where_that_is_asked_and_a_channel_by_itself()
    {
        Guid channel = await installation.ConnectAsync(_ada, "glimmer", "one-fix");
        object content = new
        {
            common = new
            {
                text = "Tide #a #b #c #d",
                link = "https://example.org/tide",
                pictures = new[] { new { media = await _ada.PictureAsync() } },
            },
            channels = new Dictionary<string, object> { [channel.ToString()] = new { text = "Its own words" } },
        };
        JsonElement one = await _ada.PostAsync(
            "posts/fit",
            new
            {
                content,
                networks = new[] { "jot", "glimmer" },
                only = "takeLinkOut",
            }
        );
        Assert.All(one.List("done"), d => Assert.Equal("takeLinkOut", d.GetProperty("did").Text("fix")));
        JsonElement own = await _ada.PostAsync(
            "posts/fit",
            new
            {
                content,
                networks = new[] { "glimmer" },
                channel,
            }
        );
        Assert.True(
            own.GetProperty("content").GetProperty("channels").GetProperty(channel.ToString()).TryGetProperty("firstComment", out _)
        );
        Assert.False(own.GetProperty("content").GetProperty("networks").TryGetProperty("glimmer", out _));
        Assert.Equal(
            (HttpStatusCode.BadRequest, "A channel is made to fit by itself: name its network, and no other."),
            await _ada.TroubleAsync(
                HttpMethod.Post,
                "posts/fit",
                new
                {
                    content,
                    networks = new[] { "jot" },
                    channel,
                }
            )
        );
    }

    [Fact]
    public async Task What_is_half_written_in_any_layer_is_left_out_of_the_check_and_each_wording_can_be_looked_at()
    {
        object content = new
        {
            common = new { text = "Whole", link = "htt" },
            networks = new { doorstep = new { offeredFrom = "2026-1", text = "For Doorstep" } },
            wordings = new[] { new { common = new { text = "Second", link = "http:/" } } },
        };
        string[] texts = await TextsAsync("posts/check");
        Assert.Equal(["Whole", "For Doorstep"], texts);
        Assert.Equal(["Second", "Second"], await TextsAsync("posts/check?wording=1"));
        Assert.Equal(texts, await TextsAsync("posts/check?wording=7"));

        async Task<string[]> TextsAsync(string path)
        {
            JsonElement[] checks = [.. (await _ada.PostAsync(path, content)).EnumerateArray()];
            return
            [
                .. new[] { "hearth", "doorstep" }.Select(n =>
                    checks.First(c => c.Text("network") == n).GetProperty("content").Text("text")
                ),
            ];
        }
    }

    [Fact]
    public async Task A_channels_wall_shows_the_first_picture_of_what_went_out_there()
    {
        Guid channel = await installation.ConnectAsync(_ada, "glimmer", "wall");
        Guid picture = await _ada.PictureAsync();
        Guid post = (await _ada.PostAsync(await _ada.CategoryAsync("Wall", channel), "On the wall", picture: picture)).Id();
        Assert.Empty((await _ada.GetAsync($"channels/{channel}/wall")).EnumerateArray());
        Guid delivery = (await _ada.PlanAsync(installation, post, 1, channel))[0];
        JsonElement coming = Assert.Single((await _ada.GetAsync($"channels/{channel}/wall?ahead=7")).EnumerateArray());
        Assert.Equal(
            (delivery, picture, true),
            (coming.Id("deliveryId"), coming.Id("mediaId"), coming.GetProperty("isComing").GetBoolean())
        );
        // Room for it, of 600 × 400 pixels, is kept before it is there.
        Assert.Equal(1.5, coming.GetProperty("ratio").GetDouble());
        Assert.Equal(HttpStatusCode.BadRequest, (await _ada.TroubleAsync(HttpMethod.Get, $"channels/{channel}/wall?ahead=400")).Status);
        await installation.MoveOnAsync(Duration.FromMinutes(2));
        await installation.PassesUntilAsync(delivery, "sent");
        Assert.False(
            Assert.Single((await _ada.GetAsync($"channels/{channel}/wall?ahead=7")).EnumerateArray()).GetProperty("isComing").GetBoolean()
        );
        JsonElement tile = Assert.Single((await _ada.GetAsync($"channels/{channel}/wall")).EnumerateArray());
        Assert.Equal((delivery, picture, false), (tile.Id("deliveryId"), tile.Id("mediaId"), tile.GetProperty("isFilm").GetBoolean()));
        // A film stands there too, by the picture that was chosen for it.
        Guid film = await _ada.VideoAsync();
        Guid filmed = (
            await _ada.WriteAsync(
                await _ada.CategoryAsync("Films", channel),
                new
                {
                    common = new
                    {
                        text = "Moving",
                        video = film,
                        format = "clip",
                    },
                }
            )
        ).Id();
        await _ada.PlanAsync(installation, filmed, 1, channel);
        foreach (bool hasPicture in (bool[])[false, true])
        {
            JsonElement[] tiles = [.. (await _ada.GetAsync($"channels/{channel}/wall?ahead=7")).EnumerateArray()];
            Assert.Equal(
                (film, true, hasPicture),
                (tiles[0].Id("mediaId"), tiles[0].GetProperty("isFilm").GetBoolean(), tiles[0].GetProperty("hasPicture").GetBoolean())
            );
            await _ada.PutAsync($"media/{film}/poster", new { picture });
        }
        Assert.Equal(HttpStatusCode.NotFound, (await installation.Ben.TroubleAsync(HttpMethod.Get, $"channels/{channel}/wall")).Status);
    }
}
