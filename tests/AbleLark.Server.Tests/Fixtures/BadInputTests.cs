using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>Bad input gets a clear message, and never a 500.</summary>
public sealed class BadInputTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_text_longer_than_any_network_takes_is_refused_with_the_figure()
    {
        Guid category = await _ada.CategoryAsync("Long texts");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "posts",
            TestData.Edit(category, new string('a', 100_001))
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "Text: longer than 100,000 characters, which no network takes. Shorten it."),
            (status, words)
        );
    }

    [Theory]
    [InlineData("media", "file", "POST")]
    public async Task An_upload_of_50_MB_is_refused_with_the_limit(string path, string field, string method)
    {
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            new(method),
            path,
            ApiClient.Form((field, "big.png", new byte[50 * 1024 * 1024]))
        );
        Assert.Equal(
            (
                HttpStatusCode.RequestEntityTooLarge,
                "The upload is too large: 20 MB is the most at once. Make it smaller, or send it in pieces."
            ),
            (status, words)
        );
    }

    [Theory]
    [InlineData("notes.txt", "plain text")]
    [InlineData("page.svg", "<svg xmlns='http://www.w3.org/2000/svg'/>")]
    [InlineData("empty.png", "")]
    public async Task A_file_that_is_no_picture_is_refused_by_its_content(string name, string content)
    {
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "media",
            ApiClient.Form(("file", name, Encoding.Latin1.GetBytes(content)))
        );
        Assert.Equal(
            (
                HttpStatusCode.BadRequest,
                $"“{name}” is nothing that networks take. Use PNG, JPEG, WebP or GIF; MP4 for a video, PDF for a document."
            ),
            (status, words)
        );
    }

    [Fact]
    public async Task A_picture_with_too_many_pixels_is_refused_before_it_is_decoded()
    {
        byte[] png = TestData.Png(4, 4);
        // Width and height stand in the header, bytes 16 to 23 (PNG specification, IHDR); with their checksum after the chunk.
        byte[] huge = Png.WithSize(png, 20_000, 20_000);
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "media",
            ApiClient.Form(("file", "huge.png", huge))
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains("20,000 × 20,000 pixels", words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_unknown_zone_is_refused_with_an_example()
    {
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Put,
            "",
            new
            {
                name = "Harbour Ropes",
                zone = "Europe/Atlantis",
                scheduleAheadHours = 24,
                lateMinutes = 60,
            }
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "There is no time zone “Europe/Atlantis”. Choose one such as Europe/Dublin."),
            (status, words)
        );
    }

    [Theory]
    [InlineData("line-up?from=2026-13-01&to=2026-02-01", "“2026-13-01” is not a value that “from” can have.")]
    [InlineData("line-up?from=9999-12-30&to=9999-12-31", "“9999-12-30” is not a value that “from” can have.")]
    [InlineData("results?from=0001-01-01&to=2026-03-02", "“0001-01-01” is not a value that “from” can have.")]
    [InlineData("line-up?from=2026-03-01", "“to” is missing.")]
    [InlineData("line-up?from=2026-03-01&to=2026-02-01", "The last date lies before the first. Swap them.")]
    [InlineData("line-up?from=2026-03-01&to=2027-03-01", "92 days is the most at once. Ask for a shorter time.")]
    [InlineData("results?from=2026-03-01&to=2026-03-02&age=5", "“5” is not a value that “age” can have.")]
    [InlineData("posts?stage=done", "“done” is not a value that “stage” can have.")]
    public async Task A_value_in_an_address_that_can_t_be_read_is_named(string path, string words)
    {
        Assert.Equal((HttpStatusCode.BadRequest, words), await _ada.TroubleAsync(HttpMethod.Get, path));
    }

    [Fact]
    public async Task A_value_in_the_content_that_can_t_be_read_is_named_by_its_place()
    {
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "rotas/slots",
            new
            {
                days = new[] { 1 },
                time = "25:00:00",
                categories = Array.Empty<Guid>(),
                channels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal((HttpStatusCode.BadRequest, "The content can't be read at “$.time”. Check the value there."), (status, words));
    }

    [Fact]
    public async Task What_is_named_twice_or_is_nothing_in_a_list_is_said()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "twice");
        Guid category = await _ada.CategoryAsync("Twice", channel);
        Guid slot = await _ada.SlotAsync(category, "04:10", [1], channel);
        JsonElement rota = (await _ada.GetAsync("rotas"))[0];
        object Slot(Guid id) =>
            new
            {
                id,
                days = new[] { 1 },
                time = "04:10:00",
                categories = new[] { category },
                channels = new[] { channel },
            };
        object edit = new
        {
            name = "Twice",
            version = rota.Whole("version"),
            slots = new[] { Slot(slot), Slot(slot) },
        };
        object settings = new
        {
            id = category,
            order = new
            {
                order = "newestFirst",
                freshFirst = false,
                pastGap = false,
                seed = 0,
            },
            gapDays = (int?)null,
            targetShare = (double?)null,
            usualChannels = Array.Empty<Guid>(),
        };
        (HttpMethod Method, string Path, object Body, string Words)[] tries =
        [
            (HttpMethod.Put, $"rotas/{rota.Id()}", edit, "A slot is named twice. Leave its identity out to make a second one."),
            (
                HttpMethod.Post,
                $"rotas/{rota.Id()}/consequences",
                edit,
                "A slot is named twice. Leave its identity out to make a second one."
            ),
            (
                HttpMethod.Post,
                "what-if",
                new { weeks = 4, rotas = new[] { new { id = rota.Id(), rota = edit } } },
                "A slot is named twice. Leave its identity out to make a second one."
            ),
            (
                HttpMethod.Post,
                "what-if",
                new { weeks = 4, categories = new[] { settings, settings } },
                "A category is named twice. Say once how it would be."
            ),
            (
                HttpMethod.Post,
                "what-if",
                new { weeks = 4, morePosts = new[] { new { categoryId = channel, count = 1 } } },
                "This category is not here, or no longer."
            ),
            (
                HttpMethod.Patch,
                $"line-up/occurrences/{slot}/2027-03-01",
                new { picks = new object?[] { null } },
                "The content can't be read at “$.picks”. Check the value there."
            ),
            (
                HttpMethod.Patch,
                $"line-up/occurrences/{slot}/2027-03-01",
                new { movedTo = "9998-01-01T09:00:00" },
                "1 Jan 9998 is not a date to plan with: dates lie between 1 Jan 2000 and "
                    + await LatestAsync()
                    + ". Is the year right? (“$.movedTo”)"
            ),
        ];
        foreach ((HttpMethod method, string path, object body, string words) in tries)
            Assert.Equal(words, (await _ada.TroubleAsync(method, path, body)).Words);
    }

    [Fact]
    public async Task A_value_that_is_missing_is_named()
    {
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "posts",
            new
            {
                title = "x",
                stage = "ready",
                lifespan = "evergreen",
                inRotation = true,
                content = TestData.Content("x"),
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.StartsWith("Something is missing: ", words, StringComparison.Ordinal);
        Assert.EndsWith(". Send it, if only as null.", words, StringComparison.Ordinal);
        Assert.Contains("categoryId", words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Content_that_is_not_understood_is_refused_and_not_dropped()
    {
        Guid category = await _ada.CategoryAsync("Not understood");
        Guid nobody = Guid.NewGuid();
        Dictionary<string, object> edit = JsonSerializer
            .SerializeToElement(TestData.Edit(category, "x"))
            .Deserialize<Dictionary<string, object>>()!;
        foreach (
            (object content, string about) in new (object, string)[]
            {
                (new { text = "x" }, "text"),
                (new { common = new { words = "x" } }, "words"),
                (new { common = new { pictures = new[] { new { media = "x" } } } }, "pictures"),
                (new { common = new { video = "x" } }, "A file is given by the identity"),
                (new { common = new { text = 5 } }, "text"),
                (new { common = "x" }, "common"),
                (new { networks = new { nowhere = new { text = "x" } } }, "nowhere"),
                (new { channels = new { nobody = new { text = "x" } } }, "nobody"),
                (new { wordings = new object?[] { null } }, "wording"),
                (new { networks = new { jot = (object?)null } }, "jot"),
                (new { channels = new Dictionary<string, object?> { [$"{nobody}"] = null } }, $"{nobody}"),
                (new { channels = new Dictionary<string, object?> { [$"{nobody}"] = new { text = "x" } } }, "channel"),
                (new { wordings = new[] { new { networks = new { jot = (object?)null } } } }, "jot"),
            }
        )
        {
            edit["content"] = content;
            (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Post, "posts", edit);
            Assert.Equal(HttpStatusCode.BadRequest, status);
            Assert.Contains(about, words, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Broken_content_on_any_endpoint_is_never_a_500()
    {
        string[] bodies =
        [
            "",
            "null",
            "[]",
            "{}",
            "{\"a\":",
            "\"\\ud800\"",
            "{\"name\":null,\"days\":null,\"content\":null,\"channels\":null}",
            "{\"name\":\"\\u0000\",\"email\":5}",
            new string('[', 2000),
        ];
        RouteEndpoint[] endpoints =
        [
            .. _installation
                .Services.GetRequiredService<IEnumerable<EndpointDataSource>>()
                .SelectMany(s => s.Endpoints)
                .OfType<RouteEndpoint>()
                .Where(e => e.RoutePattern.RawText!.StartsWith("/api/", StringComparison.Ordinal)),
        ];
        foreach (RouteEndpoint endpoint in endpoints)
        {
            string path = endpoint
                .RoutePattern.RawText!.Replace("{workspaceId}", _ada.Workspace.ToString(), StringComparison.Ordinal)
                .Replace("{id}", Guid.NewGuid().ToString(), StringComparison.Ordinal)
                .Replace("{slotId}", Guid.NewGuid().ToString(), StringComparison.Ordinal)
                .Replace("{date}", "2026-03-02", StringComparison.Ordinal);
            foreach (string method in endpoint.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? [])
            {
                if (
                    method is "GET"
                    || (method is "DELETE" && path == "/api/session")
                    || path.StartsWith("/api/demo", StringComparison.Ordinal)
                )
                    continue;
                foreach (string body in bodies)
                {
                    using HttpRequestMessage request = new(new(method), path)
                    {
                        Content = new StringContent(body, Encoding.UTF8, "application/json"),
                    };
                    using HttpResponseMessage response = await _ada.Http.SendAsync(request);
                    Assert.True(
                        (int)response.StatusCode < 500,
                        $"{method} {path} with {(body.Length > 60 ? body[..60] : body)}: {response.StatusCode}"
                    );
                }
            }
        }
    }

    [Fact]
    public async Task Odd_ids_and_paths_are_not_found_rather_than_broken()
    {
        foreach (
            string path in new[]
            {
                "/api/workspaces/not-an-id/posts",
                $"/api/workspaces/{Guid.NewGuid()}/posts",
                _ada.Path("posts/not-an-id"),
                "/api/nothing",
            }
        )
        {
            using HttpResponseMessage response = await _ada.Http.GetAsync(path);
            Assert.True(response.StatusCode is HttpStatusCode.NotFound or HttpStatusCode.BadRequest, $"{path}: {response.StatusCode}");
        }
    }

    [Fact]
    public async Task Texts_made_to_be_slow_are_counted_all_the_same()
    {
        string[] texts =
        [
            string.Concat(Enumerable.Repeat("a.", 40_000)),
            new string('#', 90_000),
            "https://example.org/" + new string('(', 60_000),
            string.Concat(Enumerable.Repeat("https://example.org/((a)(", 3000)),
            string.Concat(Enumerable.Repeat("http://", 12_000)),
            "a" + string.Concat(Enumerable.Repeat("-_.", 30_000)),
            string.Concat(Enumerable.Repeat("#1", 40_000)),
            "https://example.org/?" + string.Concat(Enumerable.Repeat("a!", 40_000)),
            string.Concat(Enumerable.Repeat("👩‍👩‍👧", 10_000)),
            new string('@', 90_000),
        ];
        foreach (string text in texts)
        {
            System.Diagnostics.Stopwatch watch = System.Diagnostics.Stopwatch.StartNew();
            await _ada.PostAsync("posts/check", TestData.Content(text));
            Assert.True(watch.Elapsed < TimeSpan.FromSeconds(10), $"{text[..20]}… took {watch.Elapsed}");
        }
    }

    [Fact]
    public async Task Two_who_add_the_same_name_at_once_are_told_and_one_gets_through()
    {
        object category = new
        {
            name = "Same moment",
            colour = "tide",
            monogram = "Sm",
            usualChannels = Array.Empty<Guid>(),
        };
        HttpResponseMessage[] answers = await Task.WhenAll(
            Enumerable.Range(0, 8).Select(_ => _ada.Http.PostAsJsonAsync(_ada.Path("categories"), category))
        );
        Assert.Single(answers, a => a.StatusCode == HttpStatusCode.OK);
        Assert.Equal(7, answers.Count(a => a.StatusCode == HttpStatusCode.Conflict));
    }

    [Fact]
    public async Task Nul_characters_are_left_out_of_what_is_kept()
    {
        Guid category = await _ada.CategoryAsync("Nul texts");
        Assert.Equal("ab", (await _ada.PostAsync(category, "a\0b")).CommonText());
    }

    /// <summary>Five years from now, as it is said.</summary>
    private async Task<string> LatestAsync() =>
        (await _installation.NowAsync())
            .InUtc()
            .Date.PlusYears(5)
            .ToString("d MMM yyyy", System.Globalization.CultureInfo.InvariantCulture);

    private static class Png
    {
        public static byte[] WithSize(byte[] png, int width, int height)
        {
            byte[] changed = [.. png];
            System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(changed.AsSpan(16), width);
            System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(changed.AsSpan(20), height);
            System.Buffers.Binary.BinaryPrimitives.WriteUInt32BigEndian(changed.AsSpan(29), Crc(changed.AsSpan(12, 17)));
            return changed;
        }

        private static uint Crc(ReadOnlySpan<byte> bytes)
        {
            uint crc = 0xFFFFFFFF;
            foreach (byte b in bytes)
            {
                crc ^= b;
                for (int i = 0; i < 8; i++)
                    crc = (crc & 1) == 1 ? (crc >> 1) ^ 0xEDB88320 : crc >> 1;
            }
            return ~crc;
        }
    }

    /// <summary>Checked, made to fit and saved in words and not in faults, each in good time.</summary>
    [Theory]
    [InlineData("\u202e reversed \u2066 and never closed")]
    [InlineData("a lone \ud83d half")]
    [InlineData("100000")]
    [InlineData("mentions")]
    public async Task Text_that_no_one_would_type_is_still_text(string text)
    {
        string said = text switch
        {
            "100000" => string.Concat(Enumerable.Repeat("tide é👍🏽 ", 8_300))
                + string.Concat(Enumerable.Repeat("#a @b https://example.org ", 300)),
            "mentions" => string.Concat(Enumerable.Repeat("@{nobody} ", 500)),
            _ => text,
        };
        JsonElement check = await _ada.PostAsync("posts/check", TestData.Content(said));
        JsonElement jot = check.EnumerateArray().Single(c => c.Text("network") == "jot");
        if (text == "mentions")
            Assert.Equal(500, jot.List("findings").Single(f => f.Text("code") == "mentionUnknown").List("spans").Length);
        foreach (string network in new[] { "jot", "doorstep" })
            await _ada.PostAsync("posts/fit", new { content = TestData.Content(said), networks = new[] { network } });
        Guid category = await _ada.CategoryAsync($"Odd {text.Length} {text[0]}");
        JsonElement post = await _ada.PostAsync(category, said);
        Assert.Equal(said.EnumerateRunes().Count(), post.CommonText().EnumerateRunes().Count());
    }

    [Theory]
    [InlineData("""{"common":{"pictures":[{"media":"not an id"}]}}""", "pictures")]
    [InlineData("""{"common":{"pictures":[null]}}""", "Pictures are a list")]
    [InlineData("""{"common":{"thread":{"parts":[{"pictures":[]}]}}}""", "thread")]
    [InlineData("""{"common":{"thread":{"parts":null}}}""", "thread")]
    [InlineData("""{"common":{"thread":"one, two"}}""", "thread")]
    [InlineData("""{"common":{"video":{"media":"x"}}}""", "file")]
    [InlineData("""{"common":{"pictures":[{"media":"01a21893-a29e-739f-a8be-f942a00f635f","focus":{"x":2,"y":0}}]}}""", "focus")]
    [InlineData(
        """{"common":{"pictures":[{"media":"01a21893-a29e-739f-a8be-f942a00f635f","crop":{"x":0,"y":0,"width":0,"height":9}}]}}""",
        "crop"
    )]
    [InlineData("""{"common":{"video":"01a21893-a29e-739f-a8be-f942a00f635f"}}""", "isn't in this workspace")]
    public async Task Content_that_names_what_is_none_is_refused_with_words(string content, string words)
    {
        using StringContent body = new($$"""{"content":{{content}},"networks":["jot"]}""", Encoding.UTF8, "application/json");
        (HttpStatusCode status, string said) = await _ada.TroubleAsync(HttpMethod.Post, "posts/fit", body);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(words, said, StringComparison.Ordinal);
    }
}
