using System.Net;
using System.Text.Json;
using AbleLark.Core.Workspaces;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Workspaces;

/// <summary>All workspaces of a person at once: theirs, by their rights there, and nothing of anybody else's.</summary>
public sealed class OverviewTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;
    private readonly ApiClient _ben = own.Installation.Ben;

    [Fact]
    public async Task Each_sees_their_own_workspaces_and_what_stands_in_them()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "jot", "overview");
        Guid category = await _ada.CategoryAsync("Overseen", channel);
        Guid post = (await _ada.PostAsync(category, "Lobster pots ashore")).Id();
        await _ada.PlanAsync(_installation, post, 26 * 60, channel);
        await _ada.PostAsync(category, "Lobster draft", stage: "draft");
        Guid refused = (await _ada.PlanAsync(_installation, (await _ada.PostAsync(category, "Refused here")).Id(), 27 * 60, channel))[0];
        await _installation.WriteAsync($"update deliveries set state = 'Refused', trouble = 'x' where id = {refused}");

        JsonElement mine = Assert.Single((await AllAsync(_ada, "overview?days=3")).EnumerateArray());
        Assert.Equal((_ada.Workspace, 1, 0), (mine.Id("workspaceId"), mine.Whole("failed"), mine.Whole("yours")));
        JsonElement[] entries = mine.GetProperty("lineUp").List("entries");
        Assert.Equal(2, entries.Count(e => e.Id("channelId") == channel));
        Assert.Contains(entries, e => e.List("may").Any(m => m.GetString() == "move"));
        Assert.Equal(2, (await AllAsync(_ada, "overview/posts?search=lobster")).GetArrayLength());

        // Somebody of another workspace sees that one alone.
        JsonElement theirs = Assert.Single((await AllAsync(_ben, "overview?days=3")).EnumerateArray());
        Assert.Equal((_ben.Workspace, 0), (theirs.Id("workspaceId"), theirs.GetProperty("lineUp").List("entries").Length));
        Assert.Equal(0, (await AllAsync(_ben, "overview/posts?search=lobster")).GetArrayLength());

        // A client sees no drafts and may plan nothing.
        using ApiClient client = await _installation.MemberAsync(Role.Client);
        JsonElement seen = Assert.Single(
            (await AllAsync(client, "overview?days=3")).EnumerateArray(),
            o => o.Id("workspaceId") == _ada.Workspace
        );
        Assert.All(seen.GetProperty("lineUp").List("entries"), e => Assert.Empty(e.List("may")));
        Assert.Equal(
            ["Lobster pots ashore"],
            (await AllAsync(client, "overview/posts?search=lobster")).EnumerateArray().Select(p => p.Text("title"))
        );
    }

    [Theory]
    [InlineData("overview?days=0", HttpStatusCode.BadRequest)]
    [InlineData("overview?days=15", HttpStatusCode.BadRequest)]
    [InlineData("overview?from=soon", HttpStatusCode.BadRequest)]
    [InlineData("overview/posts", HttpStatusCode.BadRequest)]
    [InlineData("overview/posts?search=%20", HttpStatusCode.BadRequest)]
    public async Task Bad_questions_are_refused_in_words(string path, HttpStatusCode status)
    {
        using HttpResponseMessage answer = await _ada.Http.GetAsync("/api/" + path);
        Assert.Equal(status, answer.StatusCode);
        Assert.NotEmpty((await JsonSerializer.DeserializeAsync<JsonElement>(await answer.Content.ReadAsStreamAsync())).Text("detail"));
    }

    [Fact]
    public async Task Nobody_who_isn_t_signed_in_sees_anything()
    {
        using HttpClient nobody = new() { BaseAddress = _ada.Http.BaseAddress };
        foreach (string path in new[] { "/api/overview", "/api/overview/posts?search=a" })
        {
            using HttpResponseMessage answer = await nobody.GetAsync(path);
            Assert.Equal(HttpStatusCode.Unauthorized, answer.StatusCode);
        }
    }

    [Fact]
    public async Task A_workspace_has_a_colour_of_the_palette_and_a_picture_of_its_own_as_its_logo()
    {
        JsonElement before = await _ada.GetAsync("");
        object Edit(string colour) =>
            new
            {
                name = before.Text("name"),
                zone = before.Text("zone"),
                scheduleAheadHours = 24,
                lateMinutes = 60,
                colour,
            };
        Assert.Equal("kelp", (await _ada.PutAsync("", Edit("kelp"))).Text("colour"));
        Assert.Equal(HttpStatusCode.BadRequest, (await _ada.TroubleAsync(HttpMethod.Put, "", Edit("beige"))).Status);
        Guid picture = await _ada.PictureAsync();
        Assert.Equal(picture, (await _ada.PutAsync("logo", new { fileId = picture })).Id("logoId"));
        Assert.Equal(
            (HttpStatusCode.BadRequest, "This picture isn't among the media. Choose another."),
            await _ada.TroubleAsync(HttpMethod.Put, "logo", new { fileId = await _ben.PictureAsync() })
        );
        Assert.Equal(JsonValueKind.Null, (await _ada.PutAsync("logo", new { fileId = (Guid?)null })).GetProperty("logoId").ValueKind);
    }

    private static async Task<JsonElement> AllAsync(ApiClient client, string path)
    {
        using HttpResponseMessage answer = await client.Http.GetAsync("/api/" + path);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        return await JsonSerializer.DeserializeAsync<JsonElement>(await answer.Content.ReadAsStreamAsync());
    }
}
