using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Rotas;

/// <summary>Rotas as a whole: saved at once, tried before, refused with words.</summary>
public sealed class RotaTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_rota_is_saved_as_a_whole_and_a_second_person_is_told()
    {
        (Guid channel, Guid category) = await LineAsync("whole");
        JsonElement made = await _ada.PostAsync(
            "rotas",
            new { name = "Season", slots = new[] { Slot(category, channel, [1, 3]), Slot(category, channel, [5], "17:30:00") } }
        );
        JsonElement rota = made.GetProperty("rota");
        Assert.Equal(2, rota.List("slots").Length);
        Assert.Equal(3, rota.List("slots")[0].List("nextDates").Length);

        JsonElement kept = rota.List("slots")[0];
        object edit = new
        {
            name = "Season",
            version = rota.Whole("version"),
            slots = new object[] { With(kept, category, channel, "10:15:00") },
        };
        JsonElement saved = await _ada.PutAsync($"rotas/{rota.Id()}", edit);
        JsonElement slot = Assert.Single(saved.GetProperty("rota").List("slots"));
        Assert.Equal((kept.Id(), "10:15:00"), (slot.Id(), slot.Text("time")));

        (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Put, $"rotas/{rota.Id()}", edit);
        Assert.Equal(HttpStatusCode.PreconditionFailed, status);
        Assert.StartsWith("Somebody else changed this rota since you opened it.", words, StringComparison.Ordinal);

        await _ada.PostAsync($"changes/{saved.Text("changeSetId")}/undo");
        JsonElement[] rotas = (await _ada.GetAsync("rotas")).EnumerateArray().ToArray();
        Assert.Equal(2, rotas.Single(r => r.Id() == rota.Id()).List("slots").Length);
    }

    [Fact]
    public async Task A_change_of_days_begins_a_successor_and_takes_decisions_with_it_where_it_can()
    {
        (Guid channel, Guid category) = await LineAsync("successor");
        JsonElement rota = (
            await _ada.PostAsync("rotas", new { name = "Successor", slots = new[] { Slot(category, channel, [1, 3]) } })
        ).GetProperty("rota");
        JsonElement slot = rota.List("slots")[0];
        LocalDate monday = Monday(await TodayAsync()).PlusDays(14);
        await _ada.DecideAsync($"line-up/occurrences/{slot.Id()}/{monday:uuuu-MM-dd}", new { isSkipped = true });
        await _ada.DecideAsync($"line-up/occurrences/{slot.Id()}/{monday.PlusDays(2):uuuu-MM-dd}", new { note = "Ask the boatman" });

        JsonElement saved = await _ada.PutAsync(
            $"rotas/{rota.Id()}",
            new
            {
                name = "Successor",
                version = rota.Whole("version"),
                slots = new object[] { With(slot, category, channel, "09:00:00", [1, 4]) },
            }
        );
        JsonElement successor = Assert.Single(saved.GetProperty("rota").List("slots"));
        Assert.NotEqual(slot.Id(), successor.Id());
        Assert.Contains("a note", Assert.Single(saved.List("orphans")).GetString(), StringComparison.Ordinal);
        JsonElement entry = Assert.Single(await EntriesAsync(monday, channel));
        Assert.Equal(("skipped", "Skipped by a person."), (entry.Text("placeState"), entry.Text("why")));
    }

    [Fact]
    public async Task What_a_change_would_do_to_decisions_and_scheduled_deliveries_is_told_and_done_as_answered()
    {
        (Guid channel, Guid category) = await LineAsync("answers");
        Guid post = (await _ada.PostAsync(category, "Given by hand")).Id();
        JsonElement rota = (
            await _ada.PostAsync(
                "rotas",
                new { name = "Answers", slots = new[] { Slot(category, channel, [1, 2, 3, 4, 5, 6, 7], "23:40:00") } }
            )
        ).GetProperty("rota");
        JsonElement slot = rota.List("slots")[0];
        await installation.PassAsync();
        LocalDate monday = Monday(await TodayAsync()).PlusDays(21);
        await _ada.DecideAsync(
            $"line-up/occurrences/{slot.Id()}/{monday:uuuu-MM-dd}",
            new { picks = new[] { new { channelId = channel, postId = post } } }
        );
        object Edit(bool keeps, bool moves) =>
            new
            {
                name = "Answers",
                version = rota.Whole("version"),
                slots = new object[] { With(slot, category, channel, "23:55:00", [2, 3, 4, 5, 6, 7]) },
                keepsOrphans = keeps,
                movesScheduled = moves,
            };

        JsonElement told = await _ada.PostAsync($"rotas/{rota.Id()}/consequences", Edit(false, false));
        JsonElement orphan = Assert.Single(told.List("orphans"));
        Assert.Equal(
            (1, true, 2),
            (
                orphan.Whole("posts"),
                orphan.Text("words").EndsWith("23:40: a post given by hand", StringComparison.Ordinal),
                told.Whole("scheduled")
            )
        );
        JsonElement saved = await _ada.PutAsync($"rotas/{rota.Id()}", Edit(true, true));
        Assert.Empty(saved.List("orphans"));
        JsonElement kept = Assert.Single(await EntriesAsync(monday, channel));
        Assert.Equal((post, "23:40:00", "exactTime"), (kept.Id("postId"), kept.Text("time"), kept.GetProperty("origin").Text("kind")));
        Assert.Equal(
            ("23:55:00", "planned"),
            (
                Assert.Single(await EntriesAsync(await TodayAsync(), channel)).Text("time"),
                Assert.Single(await EntriesAsync(await TodayAsync(), channel)).Text("state")
            )
        );

        await _ada.PostAsync($"changes/{saved.Id("changeSetId")}/undo");
        Assert.Equal("23:40:00", Assert.Single(await EntriesAsync(await TodayAsync(), channel)).Text("time"));
        Assert.Equal(
            (post, "place"),
            (
                Assert.Single(await EntriesAsync(monday, channel)).Id("postId"),
                Assert.Single(await EntriesAsync(monday, channel)).GetProperty("origin").Text("kind")
            )
        );
    }

    [Fact]
    public async Task A_post_kept_as_an_exact_time_goes_in_the_first_wording_that_can()
    {
        Guid channel = await installation.ConnectAsync(_ada, "jot", "keptwording");
        Guid category = await _ada.CategoryAsync("Kept wording", channel);
        object content = TestData.Content(new string('w', 400), wordings: ["Short enough"]);
        Guid post = (
            await _ada.PostAsync(
                "posts",
                new
                {
                    title = "Too long at first",
                    categoryId = category,
                    stage = "ready",
                    lifespan = "evergreen",
                    inRotation = true,
                    channels = (Guid[]?)null,
                    content,
                }
            )
        ).Id();
        JsonElement rota = (
            await _ada.PostAsync("rotas", new { name = "Kept", slots = new[] { Slot(category, channel, [1]) } })
        ).GetProperty("rota");
        LocalDate monday = Monday(await TodayAsync()).PlusDays(21);
        await _ada.DecideAsync(
            $"line-up/occurrences/{rota.List("slots")[0].Id()}/{monday:uuuu-MM-dd}",
            new { picks = new[] { new { channelId = channel, postId = post } } }
        );
        await _ada.PutAsync(
            $"rotas/{rota.Id()}",
            new
            {
                name = "Kept",
                version = rota.Whole("version"),
                slots = Array.Empty<object>(),
                keepsOrphans = true,
            }
        );
        Assert.Equal(
            [1],
            await installation.ReadAsync(db =>
                db.Deliveries.Where(d => d.PostId == new Core.Id<Core.Posts.Post>(post)).Select(d => d.Wording).ToListAsync()
            )
        );
    }

    [Fact]
    public async Task A_slot_that_is_taken_out_names_the_decisions_that_go_with_it()
    {
        (Guid channel, Guid category) = await LineAsync("takenout");
        JsonElement rota = (
            await _ada.PostAsync("rotas", new { name = "Taken out", slots = new[] { Slot(category, channel, [1]) } })
        ).GetProperty("rota");
        LocalDate monday = Monday(await TodayAsync()).PlusDays(14);
        await _ada.DecideAsync($"line-up/occurrences/{rota.List("slots")[0].Id()}/{monday:uuuu-MM-dd}", new { isSkipped = true });
        JsonElement saved = await _ada.PutAsync(
            $"rotas/{rota.Id()}",
            new
            {
                name = "Taken out",
                version = rota.Whole("version"),
                slots = Array.Empty<object>(),
            }
        );
        Assert.EndsWith("skipped", Assert.Single(saved.List("orphans")).GetString(), StringComparison.Ordinal);
        await _ada.PostAsync($"changes/{saved.Id("changeSetId")}/undo");
        Assert.Equal("skipped", Assert.Single(await EntriesAsync(monday, channel)).Text("placeState"));
    }

    [Fact]
    public async Task What_a_rota_can_t_be_is_refused_in_words()
    {
        (Guid channel, Guid category) = await LineAsync("refused");
        async Task<string> Refused(object edit) => (await _ada.TroubleAsync(HttpMethod.Post, "rotas", edit)).Words;
        Assert.Equal(
            "The rota's last date lies before its first. Swap them.",
            await Refused(
                new
                {
                    name = "X",
                    from = "2027-05-01",
                    to = "2027-04-01",
                    slots = Array.Empty<object>(),
                }
            )
        );
        Assert.Equal(
            "There is no time zone “Sea/Nowhere”. Choose one such as Europe/Dublin.",
            await Refused(
                new
                {
                    name = "X",
                    zone = "Sea/Nowhere",
                    slots = Array.Empty<object>(),
                }
            )
        );
        Assert.Equal(
            "A slot comes round every 1 to 366 weeks or days.",
            await Refused(
                new
                {
                    name = "X",
                    slots = new[]
                    {
                        new
                        {
                            days = Array.Empty<int>(),
                            time = "09:00:00",
                            categories = new[] { category },
                            channels = new[] { channel },
                            rhythm = "days",
                            every = 0,
                        },
                    },
                }
            )
        );
        Assert.Equal(
            "Choose at least one channel for the slot.",
            await Refused(
                new
                {
                    name = "X",
                    slots = new[]
                    {
                        new
                        {
                            days = new[] { 1 },
                            time = "09:00:00",
                            categories = new[] { category },
                            channels = Array.Empty<Guid>(),
                        },
                    },
                }
            )
        );
        Assert.EndsWith(
            " slots in its rotas, and 600 is the most. Take out what is no longer used.",
            await Refused(new { name = "X", slots = Enumerable.Range(0, 5000).Select(_ => Slot(category, channel, [1])).ToArray() }),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_what_if_says_what_would_change_and_changes_nothing()
    {
        (Guid channel, Guid category) = await LineAsync("whatif");
        for (int i = 0; i < 4; i++)
            await _ada.PostAsync(category, $"Tried {i}");
        JsonElement rota = (
            await _ada.PostAsync("rotas", new { name = "Tried", slots = new[] { Slot(category, channel, [2]) } })
        ).GetProperty("rota");
        object more = new
        {
            name = "Tried",
            slots = new object[] { With(rota.List("slots")[0], category, channel, "09:00:00"), Slot(category, channel, [4], "11:00:00") },
        };
        JsonElement whatIf = await _ada.PostAsync("what-if", new { weeks = 4, rotas = new[] { new { id = rota.Id(), rota = more } } });
        JsonElement Of(string side) => whatIf.GetProperty(side).List("categories").Single(c => c.Id("categoryId") == category);
        Assert.Equal(4, Of("before").Whole("deliveries"));
        Assert.Equal(8, Of("after").Whole("deliveries"));
        Assert.Equal("thursday", LocalDateOf(whatIf.Text("firstChange")).DayOfWeek.ToString().ToLowerInvariant());
        Assert.Equal(JsonValueKind.Null, Of("before").GetProperty("runway").GetProperty("firstRepeat").ValueKind);
        Assert.NotEqual(JsonValueKind.Null, Of("after").GetProperty("runway").GetProperty("firstRepeat").ValueKind);
        Assert.Single((await _ada.GetAsync("rotas")).EnumerateArray().Single(r => r.Id() == rota.Id()).List("slots"));

        // Twenty more posts would put the first repeat off beyond the look-ahead.
        JsonElement richer = await _ada.PostAsync(
            "what-if",
            new
            {
                weeks = 4,
                rotas = new[] { new { id = rota.Id(), rota = more } },
                morePosts = new[] { new { categoryId = category, count = 20 } },
            }
        );
        Assert.Equal(
            JsonValueKind.Null,
            richer
                .GetProperty("after")
                .List("categories")
                .Single(c => c.Id("categoryId") == category)
                .GetProperty("runway")
                .GetProperty("firstRepeat")
                .ValueKind
        );

        await _ada.PostAsync(category, "Meanwhile");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "what-if",
            new { weeks = 4, planStamp = whatIf.Whole("planStamp") }
        );
        Assert.Equal(
            (HttpStatusCode.PreconditionFailed, true),
            (status, words.StartsWith("The plan has changed since this was begun.", StringComparison.Ordinal))
        );
        Assert.Equal("Look ahead over 4 to 26 weeks.", (await _ada.TroubleAsync(HttpMethod.Post, "what-if", new { weeks = 90 })).Words);
    }

    [Fact]
    public async Task A_place_is_picked_moved_swapped_and_its_candidates_are_told()
    {
        (Guid channel, Guid category) = await LineAsync("places");
        Guid[] posts = new Guid[3];
        for (int i = 0; i < 3; i++)
            posts[i] = (await _ada.PostAsync(category, $"Place {i}")).Id();
        Guid draft = (await _ada.PostAsync(category, "PlacePath draft", stage: "draft")).Id();
        JsonElement slot = (
            await _ada.PostAsync("rotas", new { name = "Places", slots = new[] { Slot(category, channel, [1, 2, 3, 4, 5, 6, 7]) } })
        )
            .GetProperty("rota")
            .List("slots")[0];
        LocalDate day = (await TodayAsync()).PlusDays(5);
        string PlacePath(LocalDate date) => $"line-up/occurrences/{slot.Id()}/{date:uuuu-MM-dd}";
        async Task<object> SeenAsync(LocalDate date) =>
            new
            {
                slotId = slot.Id(),
                date,
                revision = (await _ada.GetAsync(PlacePath(date))).Whole("revision"),
            };

        JsonElement[] candidates = (await _ada.GetAsync($"{PlacePath(day)}/candidates")).EnumerateArray().ToArray();
        Assert.Equal([true, true, true, false], candidates.Select(c => c.GetProperty("canGo").GetBoolean()));
        Assert.Equal((draft, "not ready"), (candidates[3].Id("postId"), candidates[3].Text("why")));

        await _ada.DecideAsync(PlacePath(day), new { picks = new[] { new { channelId = channel, postId = posts[0] } } });
        JsonElement entry = Assert.Single(await EntriesAsync(day, channel));
        Assert.Equal(
            (posts[0], "Picked for this place.", true),
            (entry.Id("postId"), entry.Text("why"), entry.GetProperty("isGiven").GetBoolean())
        );

        Guid other = Assert.Single(await EntriesAsync(day.PlusDays(1), channel)).Id("postId");
        await _ada.PostAsync(
            "line-up/exchange",
            new { one = new { place = await SeenAsync(day) }, other = new { place = await SeenAsync(day.PlusDays(1)) } }
        );
        Assert.Equal(
            (other, posts[0]),
            (
                Assert.Single(await EntriesAsync(day, channel)).Id("postId"),
                Assert.Single(await EntriesAsync(day.PlusDays(1), channel)).Id("postId")
            )
        );

        await _ada.DecideAsync(PlacePath(day), new { movedTo = $"{day.PlusDays(3):uuuu-MM-dd}T21:05:00" });
        Assert.Empty(await EntriesAsync(day, channel));
        Assert.Contains(await EntriesAsync(day.PlusDays(3), channel), e => e.Text("time") == "21:05:00");
        Assert.EndsWith(
            "2020 has passed. Choose a time to come.",
            await _ada.WhyNotDecidedAsync(PlacePath(day), new { movedTo = "2020-01-01T09:00:00" }),
            StringComparison.Ordinal
        );

        await _ada.PostAsync("line-up/schedule", new { through = (await TodayAsync()).PlusDays(8) });
        Assert.Equal(
            "This occurrence is scheduled: change its deliveries instead.",
            (await _ada.TroubleAsync(HttpMethod.Patch, PlacePath(day.PlusDays(1)), new { isSkipped = true })).Words
        );
    }

    [Fact]
    public async Task A_moved_place_takes_the_posts_of_all_its_channels_along_and_each_act_leaves_the_others_be()
    {
        (Guid channel, Guid category) = await LineAsync("several");
        Guid second = await installation.ConnectAsync(_ada, "hearth", "rota-several-2");
        Guid[] posts =
        [
            (await _ada.PostAsync(category, "Several 0", channels: [channel, second])).Id(),
            (await _ada.PostAsync(category, "Several 1", channels: [channel, second])).Id(),
        ];
        JsonElement slot = (
            await _ada.PostAsync(
                "rotas",
                new
                {
                    name = "Several",
                    slots = new[]
                    {
                        new
                        {
                            days = new[] { 1, 2, 3, 4, 5, 6, 7 },
                            time = "09:00:00",
                            categories = new[] { category },
                            channels = new[] { channel, second },
                        },
                    },
                }
            )
        ).GetProperty("rota").List("slots")[0];
        LocalDate day = (await TodayAsync()).PlusDays(5);
        string place = $"line-up/occurrences/{slot.Id()}/{day:uuuu-MM-dd}";
        Guid before = Assert.Single(await EntriesAsync(day, second)).Id("postId");
        Guid other = posts.Single(p => p != before);

        await _ada.DecideAsync(place, new { picks = new[] { new { channelId = channel, postId = other } } });
        await _ada.DecideAsync(place, new { note = "Ask the boatman" });
        await _ada.DecideAsync(place, new { movedTo = $"{day:uuuu-MM-dd}T21:05:00" });
        foreach ((Guid on, Guid post) in new[] { (channel, other), (second, before) })
        {
            JsonElement entry = Assert.Single(await EntriesAsync(day, on));
            Assert.Equal(
                (post, "21:05:00", true, "Ask the boatman"),
                (entry.Id("postId"), entry.Text("time"), entry.GetProperty("isGiven").GetBoolean(), entry.Text("note"))
            );
        }
        await _ada.DecideAsync(place, new { isFreed = true });
        JsonElement freed = Assert.Single(await EntriesAsync(day, second));
        Assert.Equal(
            ("09:00:00", false, "Ask the boatman"),
            (freed.Text("time"), freed.GetProperty("isGiven").GetBoolean(), freed.Text("note"))
        );
        Assert.Equal(
            "A channel is named twice. Name one post for each.",
            (
                await _ada.TroubleAsync(HttpMethod.Patch, place, new { picks = posts.Select(p => new { channelId = channel, postId = p }) })
            ).Words
        );
    }

    [Fact]
    public async Task A_post_moved_to_the_front_goes_next_and_to_the_back_last()
    {
        (Guid channel, Guid category) = await LineAsync("front");
        Guid[] posts = new Guid[3];
        for (int i = 0; i < 3; i++)
            posts[i] = (await _ada.PostAsync(category, $"Turn {i}")).Id();
        await _ada.PostAsync("rotas", new { name = "Turns", slots = new[] { Slot(category, channel, [1, 2, 3, 4, 5, 6, 7]) } });
        LocalDate day = (await TodayAsync()).PlusDays(3);
        async Task<Guid> NextAsync()
        {
            // From the first open place on.
            for (LocalDate date = await TodayAsync(); date <= day; date = date.PlusDays(1))
            {
                if (
                    (await EntriesAsync(date, channel)).FirstOrDefault(e => e.Text("kind") == "projected") is
                    { ValueKind: JsonValueKind.Object } entry
                )
                    return entry.Id("postId");
            }
            throw new InvalidOperationException("No open place.");
        }

        Assert.Equal(posts[2], await NextAsync());
        await _ada.PostAsync(
            "line-up/moves",
            new
            {
                postId = posts[0],
                channels = new[] { channel },
                side = "front",
            }
        );
        Assert.Equal(posts[0], await NextAsync());
        await _ada.PostAsync(
            "line-up/moves",
            new
            {
                postId = posts[0],
                channels = new[] { channel },
                side = "back",
            }
        );
        Assert.Equal(posts[2], await NextAsync());
    }

    [Fact]
    public async Task A_category_says_its_runway_and_what_each_order_gives_next()
    {
        (Guid channel, Guid category) = await LineAsync("runway");
        JsonElement view = (await _ada.GetAsync("categories")).EnumerateArray().Single(c => c.Id() == category);
        await _ada.PutAsync(
            $"categories/{category}",
            new
            {
                name = view.Text("name"),
                colour = "tide",
                monogram = "Ru",
                usualChannels = new[] { channel },
                gapDays = 21,
                order = new
                {
                    order = "oldestFirst",
                    freshFirst = false,
                    pastGap = false,
                    seed = 0,
                },
                needsApproval = false,
                newPostsRotate = true,
            }
        );
        for (int i = 0; i < 2; i++)
            await _ada.PostAsync(category, $"Runway {i}");
        await _ada.PostAsync("rotas", new { name = "Runway", slots = new[] { Slot(category, channel, [1]) } });
        JsonElement runway = (await _ada.GetAsync("runway?weeks=8"))
            .List("runways")
            .Single(r => r.Id("categoryId") == category && r.GetProperty("channelId").ValueKind == JsonValueKind.Null);
        // Three Mondays in any 21 days need three posts; there are two.
        Assert.Equal((2, 3, 1), (runway.Whole("posts"), runway.Whole("postsNeeded"), runway.Whole("postsMissing")));
        Assert.NotEqual(JsonValueKind.Null, runway.GetProperty("firstEmpty").ValueKind);
        JsonElement[] orders = (await _ada.GetAsync($"categories/{category}/orders")).EnumerateArray().ToArray();
        Assert.Equal(5, orders.Length);
        Assert.Equal("Runway 0", orders.Single(o => o.Text("order") == "oldestFirst").List("next")[0].GetString());
        Assert.Equal("Runway 1", orders.Single(o => o.Text("order") == "newestFirst").List("next")[0].GetString());
        Assert.Equal(
            "A repeat gap lies between 1 and 730 days.",
            (
                await _ada.TroubleAsync(
                    HttpMethod.Put,
                    $"categories/{category}",
                    new
                    {
                        name = "Runway!",
                        colour = "tide",
                        monogram = "Ru",
                        usualChannels = new[] { channel },
                        gapDays = 0,
                        needsApproval = false,
                        newPostsRotate = true,
                    }
                )
            ).Words
        );
        (HttpStatusCode status, _) = await _ada.TroubleAsync(HttpMethod.Post, $"categories/{category}/draw");
        Assert.Equal(HttpStatusCode.Conflict, status);
    }

    [Fact]
    public async Task A_paused_channel_stays_visible_as_paused_until_the_pause_ends()
    {
        (Guid channel, Guid category) = await LineAsync("pause");
        await _ada.PostAsync(category, "Rested");
        await _ada.PostAsync("rotas", new { name = "Pause", slots = new[] { Slot(category, channel, [1, 2, 3, 4, 5, 6, 7]) } });
        LocalDate day = (await TodayAsync()).PlusDays(4);
        JsonElement pause = await _ada.PostAsync(
            "pauses",
            new
            {
                what = "channel",
                target = channel,
                from = day,
                to = day.PlusDays(1),
            }
        );
        Assert.Equal("The channel is paused.", Assert.Single(await EntriesAsync(day, channel)).Text("why"));
        Assert.Equal("projected", Assert.Single(await EntriesAsync(day.PlusDays(2), channel)).Text("kind"));
        (HttpStatusCode status, _) = await _ada.TroubleAsync(HttpMethod.Post, "pauses", new { what = "channel", target = channel });
        Assert.Equal(HttpStatusCode.Conflict, status);
        await _ada.DeleteAsync($"pauses/{pause.Id()}");
        Assert.Equal("projected", Assert.Single(await EntriesAsync(day, channel)).Text("kind"));
        Assert.Equal(
            "The pause ends before it begins. Swap the dates.",
            (
                await _ada.TroubleAsync(
                    HttpMethod.Post,
                    "pauses",
                    new
                    {
                        what = "workspace",
                        from = day,
                        to = day.PlusDays(-1),
                    }
                )
            ).Words
        );
    }

    [Fact]
    public async Task A_place_gives_way_on_a_channel_with_spacing_and_says_so()
    {
        (Guid channel, Guid category) = await LineAsync("spacing");
        Guid post = (await _ada.PostAsync(category, "Spaced")).Id();
        await _ada.PostAsync(category, "Spaced too");
        await _ada.PostAsync("rotas", new { name = "Spacing", slots = new[] { Slot(category, channel, [1, 2, 3, 4, 5, 6, 7]) } });
        LocalDate day = (await TodayAsync()).PlusDays(4);
        await _ada.PostAsync(
            $"posts/{post}/deliveries",
            new
            {
                date = day,
                time = "09:40:00",
                channels = new[] { channel },
            }
        );
        Assert.Contains(await EntriesAsync(day, channel), e => e.Text("kind") == "projected");
        await _ada.PutAsync($"channels/{channel}", new { spacingMinutes = 60, dailyLimit = (int?)null });
        Assert.Contains(
            await EntriesAsync(day, channel),
            e => e.Text("why") == "Gives way: another delivery on this channel is nearer than its spacing."
        );
        await _ada.PutAsync($"channels/{channel}", new { spacingMinutes = (int?)null, dailyLimit = 1 });
        Assert.Contains(
            await EntriesAsync(day, channel),
            e => e.Text("why") == "Gives way: the channel has its most deliveries for this day."
        );
        Assert.Equal(
            "The daily limit lies between 1 and 100.",
            (await _ada.TroubleAsync(HttpMethod.Put, $"channels/{channel}", new { dailyLimit = 0 })).Words
        );
    }

    private async Task<(Guid Channel, Guid Category)> LineAsync(string name)
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", $"rota-{name}");
        return (channel, await _ada.CategoryAsync($"Rota {name}", channel));
    }

    private async Task<LocalDate> TodayAsync() => (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;

    private static LocalDate Monday(LocalDate day) => day.PlusDays(1 - (int)day.DayOfWeek);

    private static LocalDate LocalDateOf(string text) => NodaTime.Text.LocalDatePattern.Iso.Parse(text).Value;

    private async Task<JsonElement[]> EntriesAsync(LocalDate date, Guid channel) =>
        [
            .. (await _ada.GetAsync($"line-up?from={date:uuuu-MM-dd}&to={date:uuuu-MM-dd}"))
                .List("entries")
                .Where(e => e.Id("channelId") == channel),
        ];

    private static object Slot(Guid category, Guid channel, int[] days, string time = "09:00:00") =>
        new
        {
            days,
            time,
            categories = new[] { category },
            channels = new[] { channel },
        };

    private static object With(JsonElement slot, Guid category, Guid channel, string time, int[]? days = null) =>
        new
        {
            id = slot.Id(),
            days = days ?? [.. slot.List("days").Select(d => d.GetInt32())],
            time,
            categories = new[] { category },
            channels = new[] { channel },
        };
}
