using System.Net;
using System.Text;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using NodaTime;

namespace AbleLark.Server.Tests.Results;

/// <summary>Figures that were read elsewhere, taken in as a sheet and taken back.</summary>
public sealed class FigureSheetTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Rows_are_found_by_address_or_outside_id_looked_at_first_taken_in_and_taken_back()
    {
        Guid page = await installation.ConnectAsync(_ada, "hearth", "sheet-page");
        Guid jot = await installation.ConnectAsync(_ada, "jot", "sheet-jot");
        Guid category = await _ada.CategoryAsync("Sheets", page, jot);
        Guid post = (await _ada.PostAsync(category, "Counted elsewhere")).Id();
        await installation.WriteAsync($"update posts set outside_id = 'W-7' where id = {post}");
        Guid[] deliveries = await _ada.PlanAsync(installation, post, 5, page, jot);
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.SendDueAsync();
        await installation.MoveOnAsync(Duration.FromDays(8));
        LocalDate today = (await installation.NowAsync()).InZone(DateTimeZoneProviders.Tzdb["Europe/Dublin"]).Date;
        string address = (await _ada.GetAsync($"deliveries/{deliveries[0]}")).Text("address")!;
        string sheet = $"""
            Outside id,Address,Channel,Read on,Likes,Comments,Shares,Link clicks
            ,{address},,,"1,200",30,4,0
            W-7,,Jot,{today.PlusDays(-1):uuuu-MM-dd},80,,,
            W-7,,,,1,,,
            W-8,,,,1,,,
            W-7,,Jot,03/04/2026,5,,,
            W-7,,Jot,{today.PlusDays(2):uuuu-MM-dd},5,,,
            W-7,,Jot,{today.PlusDays(-30):uuuu-MM-dd},5,,,
            ,{address},,,many,,,
            ,,,,3,,,
            ,{address},,,,,,
            """;
        JsonElement look = await TakeAsync(sheet, tryOnly: true);
        Assert.False(look.GetProperty("isTaken").GetBoolean());
        Assert.Equal(2, look.List("readings").Length);
        string[] said = [.. look.List("troubles").Select(t => $"{t.Whole("row")}: {t.Text("words")}")];
        Assert.Equal(8, said.Length);
        Assert.Equal("4: “W-7” went out 2 times. Give the post’s own address, or name the channel.", said[0]);
        Assert.Equal("5: Nothing that was sent is “W-8”.", said[1]);
        Assert.StartsWith("6: “03/04/2026” can be read in several ways", said[2], StringComparison.Ordinal);
        Assert.EndsWith("is still to come.", said[3], StringComparison.Ordinal);
        Assert.Equal("8: Its figures were read before it was sent.", said[4]);
        Assert.Equal("9: “many” is no number of likes.", said[5]);
        Assert.Equal("10: It names no post: give its address or its outside id.", said[6]);
        Assert.Equal("11: It holds no figure.", said[7]);
        Assert.Empty((await CurveAsync(deliveries[0])).List("points"));

        JsonElement taken = await TakeAsync(sheet, tryOnly: false);
        JsonElement point = Assert.Single((await CurveAsync(deliveries[0])).List("points"));
        Assert.Equal((1234, true), (point.GetProperty("value").GetDouble(), point.GetProperty("byHand").GetBoolean()));
        Assert.Single((await CurveAsync(deliveries[1])).List("points"));
        Assert.Equal(1234 * 7 / 8.0, await EarnedAsync(today.PlusDays(-8), page), 1.0);
        await _ada.PostAsync("results/figures/forget", new { readings = taken.GetProperty("readings") });
        Assert.Empty((await CurveAsync(deliveries[0])).List("points"));
        Assert.Equal(0, await EarnedAsync(today.PlusDays(-8), page));
        Assert.Equal(
            HttpStatusCode.NotFound,
            (await _ada.TroubleAsync(HttpMethod.Post, "results/figures/forget", new { readings = taken.GetProperty("readings") })).Status
        );
    }

    [Theory]
    [InlineData("Likes\n4\n", "No row heads the columns.")]
    [InlineData("Address,Likes,likes\nhttps://x.example.org/1,4,5\n", "Two columns hold likes. Leave one.")]
    public async Task A_sheet_that_can_t_be_understood_says_what_it_needs(string sheet, string words)
    {
        JsonElement report = await TakeAsync(sheet, tryOnly: false);
        Assert.StartsWith(words, Assert.Single(report.List("troubles")).Text("words"), StringComparison.Ordinal);
        Assert.Empty(report.List("readings"));
    }

    private Task<JsonElement> CurveAsync(Guid delivery) => _ada.GetAsync($"deliveries/{delivery}/figures");

    private async Task<double> EarnedAsync(LocalDate day, Guid channel) =>
        (await _ada.GetAsync($"results?from={day:uuuu-MM-dd}&to={day:uuuu-MM-dd}&channel={channel}")).GetProperty("total").GetDouble();

    private Task<JsonElement> TakeAsync(string sheet, bool tryOnly) =>
        _ada.UploadAsync(
            $"results/figures?tryOnly={(tryOnly ? "true" : "false")}",
            HttpMethod.Post,
            ("sheet", "figures.csv", Encoding.UTF8.GetBytes(sheet))
        );
}
