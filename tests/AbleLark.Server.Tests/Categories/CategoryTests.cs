using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Categories;

public sealed class CategoryTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;

    private readonly ApiClient _ada = own.Installation.Ada;

    [Theory]
    [InlineData("", "tide", "Xx", "Give the category a name.")]
    [InlineData("Colours", "ultraviolet", "Xx", "“ultraviolet” is not in the palette.")]
    [InlineData("Letters", "tide", "Xxx", "A monogram is one or two letters.")]
    [InlineData("Letters", "tide", " ", "A monogram is one or two letters.")]
    public async Task A_category_needs_a_name_a_colour_of_the_palette_and_a_monogram(
        string name,
        string colour,
        string monogram,
        string words
    )
    {
        (HttpStatusCode status, string said) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "categories",
            new
            {
                name,
                colour,
                monogram,
                usualChannels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.StartsWith(words, said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_name_of_any_length_is_refused_with_its_figure_beyond_120()
    {
        (_, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "categories",
            new
            {
                name = new string('n', 121),
                colour = "tide",
                monogram = "Nn",
                usualChannels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal("The name of the category has 121 characters; 120 is the most.", words);
    }

    [Fact]
    public async Task Two_categories_can_t_have_one_name()
    {
        await _ada.CategoryAsync("Twice named");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "categories",
            new
            {
                name = " Twice named ",
                colour = "reed",
                monogram = "Tn",
                usualChannels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal((HttpStatusCode.Conflict, "There is a category Twice named already."), (status, words));
    }

    [Fact]
    public async Task A_category_in_use_stays_so_that_its_results_stay()
    {
        Guid category = await _ada.CategoryAsync("In use");
        await _ada.PostAsync(category, "A post of it");
        (HttpStatusCode status, string words) = await _ada.TroubleAsync(HttpMethod.Delete, $"categories/{category}");
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("Rename it instead", words, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_unused_one_goes_and_comes_back_by_undo_as_it_was()
    {
        Guid channel = await _installation.ConnectAsync(_ada, "hearth", "unused");
        Guid category = await _ada.CategoryAsync("Unused", channel);
        JsonElement gone = await _ada.DeleteAsync($"categories/{category}");
        Assert.DoesNotContain((await _ada.GetAsync("categories")).EnumerateArray(), c => c.Id() == category);
        await _ada.PostAsync($"changes/{gone.Id("changeSetId")}/undo");
        JsonElement back = (await _ada.GetAsync("categories")).EnumerateArray().Single(c => c.Id() == category);
        Assert.Equal(("Unused", "tide", channel), (back.Text("name"), back.Text("colour"), back.List("usualChannels")[0].GetGuid()));
    }

    [Fact]
    public async Task Undo_leaves_alone_what_somebody_changed_since_and_says_so()
    {
        Guid category = await _ada.CategoryAsync("First name");
        await EditAsync(category, "Second name");
        Guid second = (await _ada.GetAsync("changes")).EnumerateArray().First(c => c.Text("act") == "Changed the category First name").Id();
        await EditAsync(category, "Third name");
        JsonElement result = await _ada.PostAsync($"changes/{second}/undo");
        Assert.Equal("What was changed again since stays as it is.", Assert.Single(result.List("kept")).GetString());
        Assert.Contains((await _ada.GetAsync("categories")).EnumerateArray(), c => c.Text("name") == "Third name");
    }

    [Fact]
    public async Task Its_usual_channels_decide_where_posts_go_that_choose_none()
    {
        Guid page = await _installation.ConnectAsync(_ada, "hearth", "usual-page");
        Guid group = await _installation.ConnectAsync(_ada, "hearth", "usual-group");
        Guid category = await _ada.CategoryAsync("Usual", page, group);
        JsonElement post = await _ada.PostAsync(category, "Both of them");
        JsonElement plan = await _ada.PostAsync(
            $"posts/{post.Id()}/deliveries",
            new
            {
                date = "2029-05-01",
                time = "10:00:00",
                channels = Array.Empty<Guid>(),
            }
        );
        Assert.Equal(new[] { page, group }.Order(), plan.List("planned").Select(d => d.Id("channelId")).Order());
    }

    private Task<JsonElement> EditAsync(Guid category, string name) =>
        _ada.PutAsync(
            $"categories/{category}",
            new
            {
                name,
                colour = "reed",
                monogram = "Na",
                usualChannels = Array.Empty<Guid>(),
            }
        );
}
