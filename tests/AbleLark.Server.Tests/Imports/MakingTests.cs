using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NetVips;

namespace AbleLark.Server.Tests.Imports;

/// <summary>Posts from pictures and from links; pages are the stand-ins' sample sites.</summary>
public sealed class MakingTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_post_is_made_of_each_picture_with_name_number_and_the_day_it_was_taken()
    {
        string name = await CategoryAsync();
        Guid dawn = await UploadAsync("dawn_on-the.slip.jpg", Taken("2026:03:25 06:10:00")),
            plain = await UploadAsync("plain.png", TestData.Png(40, 30));
        Guid import = (
            await _ada.PostAsync(
                "imports/made",
                new
                {
                    media = new[] { dawn, plain },
                    links = (string[]?)null,
                    category = name,
                    title = "{number}. {name}",
                    text = "{name}, {date}",
                }
            )
        ).Id();
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.Equal(["1. Dawn on the slip", "2. Plain"], rows.Select(r => r.Text("title")));
        Assert.Equal("Dawn on the slip, 25 Mar 2026", rows[0].GetProperty("cells").Text("text"));
        Assert.Equal(2, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("posts"));
        JsonElement post = await _ada.GetAsync(
            $"posts/{(await _ada.GetAsync("posts?search=Dawn on the slip")).List("posts").Single().Id()}"
        );
        Assert.Equal(dawn, post.List("pictures").Single().Id());
    }

    [Fact]
    public async Task A_post_is_made_of_each_page_and_one_that_can_t_be_read_says_why()
    {
        string name = await CategoryAsync();
        string[] links = ["https://marram.example.org/walks/dusk", "https://trouble.example.org/nothing"];
        Guid import = (
            await _ada.PostAsync(
                "imports/made",
                new
                {
                    media = (Guid[]?)null,
                    links,
                    category = name,
                    title = "{title}",
                    text = "{description}",
                }
            )
        ).Id();
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.Equal(
            ("Walks: Dusk · Marram", "fine"),
            (rows[0].Text("title"), rows[0].Text("status") == "advice" ? "fine" : rows[0].Text("status"))
        );
        Assert.EndsWith(".png", rows[0].GetProperty("cells").Text("pictures"), StringComparison.Ordinal);
        Assert.Equal("needsYou", rows[1].Text("status"));
        Assert.Contains("isn't there (404)", rows[1].GetProperty("cells").Text("post.notes"), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("http//wrong", "is not a web address")]
    [InlineData(null, "Choose pictures, or write links")]
    public async Task What_nothing_can_be_made_of_is_refused(string? link, string words)
    {
        (HttpStatusCode status, string said) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "imports/made",
            new
            {
                media = (Guid[]?)null,
                links = link is null ? null : new[] { link },
                category = "x",
                title = "",
                text = "",
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(words, said, StringComparison.Ordinal);
    }

    private async Task<Guid> UploadAsync(string name, byte[] bytes) =>
        (await _ada.UploadAsync("media", HttpMethod.Post, ("file", name, bytes))).Id();

    private async Task<string> CategoryAsync()
    {
        string name = "Ma" + Guid.NewGuid().ToString("n")[..8];
        await _ada.CategoryAsync(name);
        return name;
    }

    private static byte[] Taken(string when)
    {
        using Image plain = Image.Black(60, 40, bands: 3).Copy();
        using Image dated = plain.Mutate(m => m.Set(GValue.GStrType, "exif-ifd2-DateTimeOriginal", when));
        return dated.JpegsaveBuffer(q: 90);
    }
}
