using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Imports;

public sealed class ImportTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task A_preview_says_what_would_come_of_each_row_and_imports_nothing()
    {
        string name = await CategoryAsync();
        JsonElement preview = await _ada.UploadAsync(
            "imports/preview",
            HttpMethod.Post,
            Sheet($"title,text,category\nOne,{new string('a', 300)},{name}\nTwo,x,Nowhere")
        );
        Assert.Equal(1, preview.Whole("ready"));
        JsonElement[] rows = preview.List("rows");
        Assert.Equal([2, 3], rows.Select(r => r.Whole("number")));
        Assert.Equal("textTooLong", rows[0].GetProperty("networkFindings").GetProperty("jot")[0].Text("code"));
        Assert.Equal("rowCategoryUnknown", rows[1].List("findings")[0].Text("code"));
        Assert.Equal(0, await PostsAsync("One"));
    }

    [Fact]
    public async Task The_same_press_twice_imports_once()
    {
        string name = await CategoryAsync();
        Guid id = Guid.NewGuid();
        for (int i = 0; i < 2; i++)
            Assert.Equal(
                1,
                (await _ada.UploadAsync($"imports/{id}", HttpMethod.Put, Sheet($"text,category\nPressed twice,{name}"))).Whole("posts")
            );
        Assert.Equal(1, await PostsAsync("Pressed twice"));
    }

    [Fact]
    public async Task Pictures_come_along_by_name_and_rows_with_a_time_are_planned()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "imports");
        string name = await CategoryAsync(channel);
        LocalDate date = (await installation.NowAsync()).InUtc().Date.PlusDays(40);
        JsonElement line = await _ada.UploadAsync(
            $"imports/{Guid.NewGuid()}",
            HttpMethod.Put,
            Sheet($"title,text,category,picture,date,time\nPictured,x,{name},dawn.png,{date:uuuu-MM-dd},14:30"),
            ("pictures", "dawn.png", TestData.Png(600, 400))
        );
        Assert.Equal((1, 1), (line.Whole("posts"), line.Whole("deliveries")));
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=Pictured")).List("posts")[0].Id()}");
        Assert.Equal("dawn.png", post.List("pictures")[0].Text("fileName"));
        Assert.Equal("14:30:00", post.List("deliveries")[0].Text("time"));
        Assert.False(post.GetProperty("inRotation").GetBoolean());
    }

    [Fact]
    public async Task One_press_takes_an_import_back_and_what_was_sent_stays_sent()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "takeback");
        string name = await CategoryAsync(channel);
        JsonElement line = await _ada.UploadAsync(
            $"imports/{Guid.NewGuid()}",
            HttpMethod.Put,
            Sheet($"title,text,category\nStays,a,{name}\nGoes,b,{name}")
        );
        Guid stays = (await _ada.GetAsync("posts?search=Stays")).List("posts")[0].Id();
        Guid delivery = (await _ada.PlanAsync(installation, stays, 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(delivery));

        JsonElement result = await _ada.PostAsync($"imports/{line.Id()}/take-back");
        Assert.Contains("“Stays” has been sent, so it stays in the bank.", result.List("kept").Select(k => k.GetString()));
        Assert.Equal((1, 0), (await PostsAsync("Stays"), await PostsAsync("Goes")));
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Post, $"imports/{line.Id()}/take-back")).Status);
    }

    [Fact]
    public async Task A_sheet_of_hundreds_keeps_its_order()
    {
        string name = await CategoryAsync();
        string rows = string.Join('\n', Enumerable.Range(1, 400).Select(i => $"Row {i:000},text {i},{name}"));
        Assert.Equal(
            400,
            (await _ada.UploadAsync($"imports/{Guid.NewGuid()}", HttpMethod.Put, Sheet("title,text,category\n" + rows))).Whole("posts")
        );
        JsonElement[] listed = (await _ada.GetAsync("posts?search=Row")).List("posts");
        Assert.Equal(Enumerable.Range(1, 400).Select(i => $"Row {i:000}"), listed.Select(p => p.Text("title")));
    }

    private async Task<string> CategoryAsync(params Guid[] channels)
    {
        string name = "Im" + Guid.NewGuid().ToString("n")[..8];
        await _ada.CategoryAsync(name, channels);
        return name;
    }

    private async Task<int> PostsAsync(string search) =>
        (await _ada.GetAsync($"posts?search={Uri.EscapeDataString(search)}")).Whole("total");

    private static (string, string, byte[]) Sheet(string csv) => ("sheet", "posts.csv", Encoding.UTF8.GetBytes(csv));
}
