using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Contacts;

public sealed class ContactTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task One_mention_becomes_the_handle_of_each_network_and_follows_the_address_book()
    {
        await installation.AddAccountAsync("jot", "skerry", "Skerry Ferries");
        Guid channel = await installation.ConnectAsync(_ada, "jot", "mentions");
        JsonElement found = (await _ada.GetAsync("contacts/look-up?network=jot&query=Skerry")).EnumerateArray().First();
        Assert.Equal(("skerry", "Skerry Ferries", "page"), (found.Text("handle"), found.Text("name"), found.Text("kind")));
        JsonElement ferry = await AddAsync("ferry", new { jot = "@skerry", hearth = "skerryferries" });
        Guid category = await _ada.CategoryAsync("Mentions", channel);
        Guid post = (await _ada.PostAsync(category, "Across with @{ferry} at nine")).Id();
        Assert.Equal("Across with @skerry at nine", await SentAsync(post, "jot"));
        Assert.Equal("Across with @skerryferries at nine", await SentAsync(post, "hearth"));
        Assert.Equal("Across with Skerry Ferries at nine", await SentAsync(post, "meadow"));
        Assert.Contains("mentionWithoutHandle", await CodesAsync(post, "meadow"));

        await PutAsync(ferry, "ferry", new { jot = "newskerry" });
        Assert.Equal("Across with @newskerry at nine", await SentAsync(post, "jot"));
        await _ada.PostAsync($"contacts/{ferry.Id()}/check");
        Assert.Contains("handleGone", await CodesAsync(post, "jot"));
        Guid act = (await _ada.DeleteAsync($"contacts/{ferry.Id()}")).Id("changeSetId");
        Assert.Contains("mentionUnknown", await CodesAsync(post, "jot"));
        Assert.True(await IsBlockedAsync(post, "jot"), "What was stored of it was not worked out anew.");
        await _ada.PostAsync($"changes/{act}/undo");
        Assert.False(await IsBlockedAsync(post, "jot"), "What was stored of it was not worked out anew.");
    }

    [Fact]
    public async Task What_is_sent_says_whom_it_mentions_as_they_are_called_there()
    {
        await AddAsync("tern", new { hearth = "ternwatch" });
        (Guid delivery, string account) = await installation.DueAsync(
            new { common = new { text = "With @{tern} tonight", firstComment = "Thank you, @{tern}" } },
            "hearth"
        );
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(delivery));
        Assert.Equal(["Thank you, @ternwatch", "With @ternwatch tonight"], (await installation.PostedAsync(account)).Order());
    }

    [Fact]
    public async Task What_no_mention_can_be_written_with_is_refused_with_words()
    {
        await AddAsync("gull", new { });
        (object Edit, HttpStatusCode Status, string Words)[] wrong =
        [
            (Edit("two words", new { }), HttpStatusCode.BadRequest, "“two words” can't be written in a mention."),
            (Edit("Gull", new { }), HttpStatusCode.Conflict, "Somebody else in the address book is called “Gull”."),
            (Edit("auk", new { nowhere = "x" }), HttpStatusCode.BadRequest, "There is no network “nowhere”."),
            (Edit("auk", new { jot = "a b" }), HttpStatusCode.BadRequest, "“a b” is no handle"),
        ];
        foreach ((object edit, HttpStatusCode status, string words) in wrong)
        {
            (HttpStatusCode was, string said) = await _ada.TroubleAsync(HttpMethod.Post, "contacts", edit);
            Assert.Equal(status, was);
            Assert.StartsWith(words, said, StringComparison.Ordinal);
        }
        (HttpStatusCode unasked, string why) = await _ada.TroubleAsync(HttpMethod.Get, "contacts/look-up?network=corkwall&query=x");
        Assert.Equal(
            (HttpStatusCode.Conflict, "Corkwall can't be asked now. No channel of this workspace is connected there."),
            (unasked, why)
        );
    }

    [Fact]
    public async Task A_workspace_s_verbs_are_advised_on_buttons()
    {
        JsonElement workspace = await _ada.GetAsync("");
        object Settings(string[] verbs) =>
            new
            {
                name = workspace.Text("name"),
                zone = workspace.Text("zone"),
                scheduleAheadHours = 24,
                lateMinutes = 60,
                buttonVerbs = verbs,
            };
        Guid category = await _ada.CategoryAsync("Buttons");
        Guid post = (
            await _ada.WriteAsync(
                category,
                new
                {
                    common = new
                    {
                        text = "Come along",
                        buttonVerb = "Join in",
                        buttonTarget = "+353 1 555 0100",
                    },
                }
            )
        ).Id();
        Assert.Empty(await CodesAsync(post, "doorstep"));
        await _ada.PutAsync("", Settings([" Book a place ", "Call us", "Call us"]));
        Assert.Equal(["verbUnknown"], await CodesAsync(post, "doorstep"));
        Assert.Equal(["Book a place", "Call us"], (await _ada.GetAsync("")).List("buttonVerbs").Select(v => v.GetString()!));
        await _ada.PutAsync("", Settings([]));
        Assert.Empty(await CodesAsync(post, "doorstep"));
    }

    private static object Edit(string key, object handles) =>
        new
        {
            key,
            name = "Skerry Ferries",
            kind = "page",
            handles,
        };

    private Task<JsonElement> AddAsync(string key, object handles) => _ada.PostAsync("contacts", Edit(key, handles));

    private Task<JsonElement> PutAsync(JsonElement contact, string key, object handles) =>
        _ada.PutAsync($"contacts/{contact.Id()}", Edit(key, handles));

    private async Task<bool> IsBlockedAsync(Guid post, string network) =>
        (await _ada.GetAsync("posts")).List("posts").Single(p => p.Id() == post).GetProperty("blocked").TryGetProperty(network, out _);

    private async Task<JsonElement> CheckAsync(Guid post, string network) =>
        (await _ada.GetAsync($"posts/{post}")).List("checks").Single(c => c.Text("network") == network);

    private async Task<string> SentAsync(Guid post, string network) =>
        (await CheckAsync(post, network)).GetProperty("content").Text("text");

    private async Task<IEnumerable<string>> CodesAsync(Guid post, string network) =>
        (await CheckAsync(post, network)).List("findings").Select(f => f.Text("code"));
}
