using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text;
using System.Text.Json;
using AbleLark.Core.Workspaces;
using SkiaSharp;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>What comes from outside: other hosts and sites, damaged files, senders that don't stop, numbers for words, and too much of
/// anything.</summary>
public sealed class OutsideTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Theory]
    [InlineData(
        "rotas/slots",
        """{"days":[1],"time":"09:00:00","categories":[],"channels":["00000000-0000-0000-0000-000000000001"],"rhythm":99}""",
        "$.rhythm"
    )]
    [InlineData(
        "posts",
        """
            {"title":"x","categoryId":"00000000-0000-0000-0000-000000000001","stage":3,"lifespan":"evergreen",
            "inRotation":true,"channels":null,"content":{"common":{"text":"x"}}}
            """,
        "$.stage"
    )]
    [InlineData("pauses", """{"what":0}""", "$.what")]
    public async Task A_number_is_no_word(string path, string body, string place)
    {
        using HttpResponseMessage answer = await _ada.Http.PostAsync(
            _ada.Path(path),
            new StringContent(body, Encoding.UTF8, "application/json")
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.Contains(
            $"The content can't be read at “{place}”. Check the value there.",
            JsonSerializer.Deserialize<JsonElement>(await answer.Content.ReadAsStringAsync()).Text("detail"),
            StringComparison.Ordinal
        );
    }

    [Theory]
    [InlineData(SKEncodedImageFormat.Png)]
    [InlineData(SKEncodedImageFormat.Jpeg)]
    [InlineData(SKEncodedImageFormat.Webp)]
    public async Task A_picture_that_is_cut_off_is_refused_and_so_is_one_with_something_else_behind_it(SKEncodedImageFormat format)
    {
        byte[] whole = Noise(format);
        Assert.Equal(HttpStatusCode.OK, (await UploadAsync("whole.img", whole)).Status);
        foreach (double share in new[] { 0.2, 0.5, 0.9, 0.999 })
        {
            (HttpStatusCode status, string words) = await UploadAsync("cut.img", whole[..(int)(whole.Length * share)]);
            Assert.True(status == HttpStatusCode.BadRequest, $"Cut to {share:P0} it was taken.");
            Assert.Equal("“cut.img” is cut off or damaged. Take it from where it came from once more.", words);
        }
        (HttpStatusCode behind, string said) = await UploadAsync("more.img", [.. whole, .. new byte[15 * 1024 * 1024]]);
        Assert.Equal(
            (
                HttpStatusCode.BadRequest,
                "“more.img” holds 15,360 kB behind the picture that don't belong to it. Save the picture anew and try again."
            ),
            (behind, said)
        );
        // A few bytes that some program left are nobody's harm.
        Assert.Equal(HttpStatusCode.OK, (await UploadAsync("few.img", [.. whole, 0, 0, 10])).Status);
    }

    [Fact]
    public async Task A_moving_picture_is_taken_whole_and_refused_cut()
    {
        // Two frames of one pixel each, written by hand after the GIF89a specification.
        byte[] gif =
        [
            .. "GIF89a"u8,
            1,
            0,
            1,
            0,
            0x80,
            0,
            0,
            0,
            0,
            0,
            255,
            255,
            255,
            0x21,
            0xF9,
            4,
            0,
            5,
            0,
            0,
            0,
            0x2C,
            0,
            0,
            0,
            0,
            1,
            0,
            1,
            0,
            0,
            2,
            2,
            0x44,
            1,
            0,
            0x21,
            0xF9,
            4,
            0,
            5,
            0,
            0,
            0,
            0x2C,
            0,
            0,
            0,
            0,
            1,
            0,
            1,
            0,
            0,
            2,
            2,
            0x4C,
            1,
            0,
            0x3B,
        ];
        Assert.Equal(HttpStatusCode.OK, (await UploadAsync("two.gif", gif)).Status);
        Assert.Equal(HttpStatusCode.BadRequest, (await UploadAsync("two.gif", gif[..^12])).Status);
    }

    [Fact]
    public async Task Errors_carry_the_headers_that_every_answer_carries()
    {
        foreach (string path in new[] { _ada.Path("posts/not-an-id"), "/api/nothing", _ada.Path("line-up?from=x"), "/api/session" })
        {
            using HttpResponseMessage answer = await _ada.Http.GetAsync(path);
            Assert.Equal("nosniff", answer.Headers.GetValues("X-Content-Type-Options").Single());
            Assert.Contains(
                "frame-ancestors 'none'",
                answer.Headers.GetValues("Content-Security-Policy").Single(),
                StringComparison.Ordinal
            );
            Assert.True(answer.Headers.CacheControl!.NoStore);
        }
    }

    [Fact]
    public async Task Another_host_s_name_is_refused_and_one_that_is_named_is_not()
    {
        async Task<HttpStatusCode> AsAsync(string address, string host)
        {
            using HttpRequestMessage request = new(HttpMethod.Get, address + "/api/session");
            request.Headers.Host = host;
            using HttpClient http = new();
            using HttpResponseMessage answer = await http.SendAsync(request);
            return answer.StatusCode;
        }
        Assert.Equal(HttpStatusCode.BadRequest, await AsAsync(installation.Address, "elsewhere.example.org"));
        Assert.Equal(HttpStatusCode.Unauthorized, await AsAsync(installation.Address, "localhost"));
        await using var named = await installation.StartServerAsync("--Lark:Hosts=lark.example.org, plan.example.org");
        Assert.Equal(HttpStatusCode.Unauthorized, await AsAsync(named.Urls.Single(), "plan.example.org"));
        Assert.Equal(HttpStatusCode.BadRequest, await AsAsync(named.Urls.Single(), "example.org"));
    }

    [Theory]
    [InlineData("https://elsewhere.example.org", false)]
    [InlineData("null", false)]
    [InlineData("http://127.0.0.1:1", false)]
    [InlineData("", true)]
    public async Task Nothing_is_changed_from_another_site_s_page(string origin, bool taken)
    {
        using HttpRequestMessage request = new(HttpMethod.Post, _ada.Path("categories"))
        {
            Content = JsonContent.Create(
                new
                {
                    name = "From " + Guid.NewGuid().ToString("n")[..6],
                    colour = "tide",
                    monogram = "Fr",
                    usualChannels = Array.Empty<Guid>(),
                }
            ),
        };
        request.Headers.Add("Origin", origin.Length > 0 ? origin : installation.Address);
        using HttpResponseMessage answer = await _ada.Http.SendAsync(request);
        Assert.Equal(taken ? HttpStatusCode.OK : HttpStatusCode.Forbidden, answer.StatusCode);
    }

    [Fact]
    public async Task A_stranger_s_upload_is_not_read_to_its_end()
    {
        Uri address = new(installation.Address);

        foreach (string path in new[] { _ada.Path("media"), "/api/session", "/api/nothing" })
        {
            using TcpClient client = new();
            await client.ConnectAsync(address.Host, address.Port);
            NetworkStream stream = client.GetStream();
            const int most = 150 * 1024 * 1024;
            await stream.WriteAsync(
                Encoding.ASCII.GetBytes(
                    $"POST {path} HTTP/1.1\r\nHost: {address.Authority}\r\nContent-Type: multipart/form-data; "
                        + $"boundary=x\r\nContent-Length: {most}\r\n\r\n"
                )
            );
            int sent = 0;
            byte[] block = new byte[64 * 1024];
            try
            {
                while (sent < most)
                {
                    await stream.WriteAsync(block).AsTask().WaitAsync(TimeSpan.FromSeconds(3));
                    sent += block.Length;
                }
            }
            catch (Exception e) when (e is IOException or TimeoutException)
            {
                // Cut off, as hoped.
            }
            Assert.True(sent < 32 * 1024 * 1024, $"{path} read {sent / 1024 / 1024} MB.");
        }
    }

    [Fact]
    public async Task A_workspace_holds_no_more_than_its_bounds()
    {
        Guid channel = await installation.ConnectAsync(installation.Ben, "hearth", "bounds");
        Guid category = await installation.Ben.CategoryAsync("Bounds", channel);
        object slot = TestData.Slot(category, "06:10", [1], channel);
        (HttpStatusCode status, string words) = await installation.Ben.TroubleAsync(
            HttpMethod.Post,
            "rotas",
            new { name = "Full", slots = Enumerable.Repeat(slot, WorkspaceLimits.Slots + 1) }
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "The workspace holds 0 slots in its rotas, and 600 is the most. Take out what is no longer used."),
            (status, words)
        );
        await installation.Ben.PostAsync("rotas", new { name = "Full", slots = Enumerable.Repeat(slot, WorkspaceLimits.Slots) });
        Assert.Equal(
            "The workspace holds 600 slots in its rotas, and 600 is the most. Take out what is no longer used.",
            (await installation.Ben.TroubleAsync(HttpMethod.Post, "rotas/slots", slot)).Words
        );

        int there = (await installation.Ben.GetAsync("categories")).GetArrayLength();
        await installation.WriteAsync(
            $"""
insert into categories
  (workspace_id, id, name, colour, monogram, position, usual_channels, hashtags, lifespan, needs_approval, new_posts_rotate, "order")
select workspace_id, gen_random_uuid(), 'Filler ' || n, colour, monogram, n, usual_channels, hashtags, lifespan, needs_approval,
  new_posts_rotate, "order"
from categories, generate_series(1, {WorkspaceLimits.Categories - there}) n where id = {category}
"""
        );
        Assert.Equal(
            "The workspace holds 200 categories, and 200 is the most. Take out what is no longer used.",
            (
                await installation.Ben.TroubleAsync(
                    HttpMethod.Post,
                    "categories",
                    new
                    {
                        name = "One more",
                        colour = "tide",
                        monogram = "On",
                        usualChannels = Array.Empty<Guid>(),
                    }
                )
            ).Words
        );
        using HttpClient http = new();
        string described = (await http.GetFromJsonAsync<JsonElement>($"{installation.Address}/openapi/v1.json"))
            .GetProperty("info")
            .Text("description");
        Assert.Contains("at most 600 slots, 200 categories, 100 channels and 100,000 posts", described, StringComparison.Ordinal);
    }

    private Task<(HttpStatusCode Status, string Words)> UploadAsync(string name, byte[] bytes) =>
        _ada.TroubleAsync(HttpMethod.Post, "media", ApiClient.Form(("file", name, bytes)));

    /// <summary>A picture that does not shrink to nothing, always the same.</summary>
    private static byte[] Noise(SKEncodedImageFormat format)
    {
        Random chance = new(5);
        using SKBitmap bitmap = new(160, 120);
        for (int x = 0; x < 160; x++)
        {
            for (int y = 0; y < 120; y++)
                bitmap.SetPixel(x, y, new((byte)chance.Next(256), (byte)chance.Next(256), (byte)chance.Next(256)));
        }
        using SKData data = bitmap.Encode(format, 90);
        return data.ToArray();
    }
}
