using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;

namespace AbleLark.Server.Tests.Calendars;

/// <summary>Channel groups, saved views and notes.</summary>
public sealed class CalendarSettingsTests(OwnWorkspaces own) : IClassFixture<OwnWorkspaces>
{
    private readonly TestInstallation _installation = own.Installation;
    private readonly ApiClient _ada = own.Installation.Ada;

    [Fact]
    public async Task A_group_holds_channels_of_its_workspace_and_comes_back_when_its_removal_is_taken_back()
    {
        Guid jot = await _installation.ConnectAsync(_ada, "jot", "grouped jot");
        Guid hearth = await _installation.ConnectAsync(_ada, "hearth", "grouped hearth");
        Guid group = (await _ada.PostAsync("channel-groups", new { name = " Coasts ", channels = new[] { jot, hearth, jot } })).Id();
        Assert.Equal(("Coasts", 2), await GroupAsync());
        await _ada.PutAsync($"channel-groups/{group}", new { name = "Coast", channels = new[] { hearth } });
        Assert.Equal(("Coast", 1), await GroupAsync());
        foreach (
            (object body, string words) in new (object, string)[]
            {
                (new { name = "COAST", channels = new[] { jot } }, "There is a group “COAST” already. Give this one another name."),
                (new { name = "None", channels = Array.Empty<Guid>() }, "Choose at least one channel for the group."),
                (new { name = " ", channels = new[] { jot } }, "Give the group a name."),
            }
        )
            Assert.Equal((HttpStatusCode.BadRequest, words), await _ada.TroubleAsync(HttpMethod.Post, "channel-groups", body));
        (HttpStatusCode strange, _) = await _ada.TroubleAsync(
            HttpMethod.Post,
            "channel-groups",
            new { name = "Strange", channels = new[] { Guid.NewGuid() } }
        );
        Assert.Equal(HttpStatusCode.BadRequest, strange);
        JsonElement removed = await _ada.DeleteAsync($"channel-groups/{group}");
        Assert.Empty((await _ada.GetAsync("channel-groups")).EnumerateArray());
        await _ada.PostAsync($"changes/{removed.Id("changeSetId")}/undo");
        Assert.Equal(("Coast", 1), await GroupAsync());

        async Task<(string, int)> GroupAsync()
        {
            JsonElement only = Assert.Single((await _ada.GetAsync("channel-groups")).EnumerateArray());
            return (only.Text("name"), only.List("channels").Length);
        }
    }

    [Fact]
    public async Task A_view_is_saved_under_its_name_and_saved_anew_under_the_same()
    {
        await _ada.PutAsync("calendar/filters", new { name = "What waits", query = "view=month&approval=waits" });
        JsonElement saved = await _ada.PutAsync("calendar/filters", new { name = "What waits", query = "view=posts&approval=waits" });
        JsonElement only = Assert.Single((await _ada.GetAsync("calendar/filters")).EnumerateArray());
        Assert.Equal(("What waits", "view=posts&approval=waits", saved.Id()), (only.Text("name"), only.Text("query"), only.Id()));
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await _ada.TroubleAsync(HttpMethod.Put, "calendar/filters", new { name = "Long", query = new string('x', 2001) })).Status
        );
        await _ada.DeleteAsync($"calendar/filters/{only.Id()}");
        Assert.Equal(HttpStatusCode.NotFound, (await _ada.TroubleAsync(HttpMethod.Delete, $"calendar/filters/{only.Id()}")).Status);
    }

    [Fact]
    public async Task Each_day_week_and_month_has_one_note_which_is_found_from_any_of_its_days()
    {
        await WriteAsync("2028-02-29", "day", "Leap");
        await WriteAsync("2028-02-29", "week", "Short of hands");
        await WriteAsync("2028-02-17", "month", "Stocktaking");
        await WriteAsync("2028-02-10", "month", "Stocktaking, with the new shelf");
        Assert.Equal(["Stocktaking, with the new shelf", "Short of hands", "Leap"], await TextsAsync("2028-02-29", "2028-02-29"));
        Assert.Equal(["Stocktaking, with the new shelf"], await TextsAsync("2028-02-03", "2028-02-04"));
        Assert.Equal(["Short of hands"], await TextsAsync("2028-03-05", "2028-03-20"));
        JsonElement gone = await WriteAsync("2028-02-28", "week", " ");
        Assert.Empty(await TextsAsync("2028-03-05", "2028-03-20"));
        await _ada.PostAsync($"changes/{gone.Id("changeSetId")}/undo");
        Assert.Equal(["Short of hands"], await TextsAsync("2028-03-05", "2028-03-20"));
        Assert.Equal(
            (HttpStatusCode.BadRequest, "A note has at most 2,000 characters. Shorten it."),
            await _ada.TroubleAsync(
                HttpMethod.Put,
                "calendar/notes",
                new
                {
                    date = "2028-02-01",
                    span = "day",
                    text = new string('x', 2001),
                }
            )
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await _ada.TroubleAsync(HttpMethod.Get, "calendar/notes?from=2028-02-01&to=2027-02-01")).Status
        );

        Task<JsonElement> WriteAsync(string date, string span, string text) =>
            _ada.PutAsync(
                "calendar/notes",
                new
                {
                    date,
                    span,
                    text,
                }
            );

        async Task<string[]> TextsAsync(string from, string to) =>
            [.. (await _ada.GetAsync($"calendar/notes?from={from}&to={to}")).EnumerateArray().Select(n => n.Text("text"))];
    }
}
