using System.Net;
using System.Text.Json;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using NodaTime;

namespace AbleLark.Server.Tests.Imports;

public sealed class ImportTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    [Fact]
    public async Task Rows_say_what_would_come_of_them_and_nothing_is_in_the_bank_yet()
    {
        string name = await CategoryAsync();
        Guid import = await _ada.BeginImportAsync($"title,text,category\nOne,{new string('a', 300)},{name}\nTwo,words,Nowhere");
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.Equal([(2, "fine"), (3, "needsYou")], rows.Select(r => (r.Whole("number"), r.Text("status"))));
        Assert.Equal("rowCategoryUnknown", rows[1].List("findings")[0].Text("code"));
        Assert.Equal(0, await PostsAsync("One"));
        JsonElement counts = (await _ada.GetAsync($"imports/{import}")).GetProperty("counts");
        Assert.Equal((1, 1, 1), (counts.Whole("needsYou"), counts.Whole("fine"), counts.Whole("posts")));
    }

    [Fact]
    public async Task A_cell_is_mended_and_the_row_goes_in()
    {
        string name = await CategoryAsync();
        Guid import = await _ada.BeginImportAsync($"title,text,category\nMended,Words to mend,{name}s");
        JsonElement row = Assert.Single(await _ada.ImportRowsAsync(import));
        Assert.Equal(name, Assert.Single(row.List("mends")).Text("value"));
        JsonElement changed = await _ada.EditRowsAsync(
            import,
            new { rows = new[] { 2 } },
            new { values = new Dictionary<string, string> { ["post.category"] = name, ["post.notes"] = "From Wren" } }
        );
        Assert.Equal((1, 2), (changed.Whole("count"), changed.Whole("revision")));
        Assert.Equal("fine", Assert.Single(await _ada.ImportRowsAsync(import)).Text("status"));
        JsonElement line = (await _ada.CommitImportAsync(import)).GetProperty("line");
        Assert.Equal(("imported", 1), (line.Text("state"), line.Whole("posts")));
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=Mended")).List("posts")[0].Id()}");
        Assert.Equal("From Wren", post.Text("notes"));
    }

    [Fact]
    public async Task The_same_press_twice_imports_once_and_the_same_file_twice_adds_nothing()
    {
        string csv = $"text,category\nPressed twice,{await CategoryAsync()}";
        Guid import = await _ada.BeginImportAsync(csv);
        await _ada.CommitImportAsync(import);
        await _ada.PostAsync($"imports/{import}/commit", new { revision = 1 });
        Assert.Equal(1, await PostsAsync("Pressed twice"));
        Guid again = await _ada.BeginImportAsync(csv);
        Assert.Equal("leftOut", Assert.Single(await _ada.ImportRowsAsync(again)).Text("status"));
        Assert.StartsWith("No row can be imported", (await _ada.CommitImportAsync(again)).Text("trouble"), StringComparison.Ordinal);
        Assert.Equal(1, await PostsAsync("Pressed twice"));
        await _ada.EditRowsAsync(again, new { rows = new[] { 2 } }, new { ifThere = "anyway" });
        Assert.Equal(1, (await _ada.CommitImportAsync(again)).GetProperty("line").Whole("posts"));
        Assert.Equal(2, await PostsAsync("Pressed twice"));
    }

    [Fact]
    public async Task Pictures_come_along_by_name_and_rows_with_a_time_are_planned()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "imports");
        string name = await CategoryAsync(channel);
        LocalDate date = (await installation.NowAsync()).InUtc().Date.PlusDays(40);
        JsonElement line = await _ada.ImportAsync(
            $"title,text,category,picture,date,time\nPictured,words,{name},dawn.png,{date:uuuu-MM-dd},14:30",
            ("pictures", "dawn.png", TestData.Png(600, 400))
        );
        Assert.Equal((1, 1), (line.Whole("posts"), line.Whole("deliveries")));
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=Pictured")).List("posts")[0].Id()}");
        Assert.Equal("dawn.png", post.List("pictures")[0].Text("fileName"));
        Assert.Equal("14:30:00", post.List("deliveries")[0].Text("time"));
        Assert.False(post.GetProperty("inRotation").GetBoolean());
    }

    [Fact]
    public async Task Many_are_taken_back_in_parts_and_nothing_is_left_out()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "in parts");
        string name = await CategoryAsync(channel);
        const int Rows = 1203;
        string rows = string.Join("\n", Enumerable.Range(0, Rows).Select(i => $"Part {i} of {name},number {i} of {name},{name}"));
        JsonElement line = await _ada.ImportAsync($"title,text,category\n{rows}");
        JsonElement result = await _ada.PostAsync($"imports/{line.Id()}/take-back");
        Assert.Equal((Rows, 0), (result.Whole("undone"), result.List("kept").Length));
        Assert.Equal(0, await PostsAsync(name));
        Guid act = (await _ada.GetAsync("changes"))[0].Id("id");
        List<int> numbers = await installation.ReadAsync(db =>
            db.Changes.Where(c => c.ChangeSetId == new Core.Id<Data.Rows.ChangeSet>(act))
                .OrderBy(c => c.Number)
                .Select(c => c.Number)
                .ToListAsync()
        );
        Assert.Equal(Enumerable.Range(0, numbers.Count), numbers);
        // And back again: no part was forgotten.
        Assert.Equal(Rows, (await _ada.PostAsync($"changes/{act}/undo")).Whole("undone"));
        Assert.Equal(Rows, await PostsAsync(name));
    }

    [Fact]
    public async Task One_press_takes_an_import_back_and_what_was_sent_or_changed_since_stays_and_is_named()
    {
        Guid channel = await installation.ConnectAsync(_ada, "hearth", "takeback");
        string name = await CategoryAsync(channel);
        JsonElement line = await _ada.ImportAsync(
            $"title,text,category\nStays,it stays,{name}\nGoes,it goes,{name}\nRead over,it is read over,{name}"
        );
        Guid stays = (await _ada.GetAsync("posts?search=Stays")).List("posts")[0].Id();
        Guid delivery = (await _ada.PlanAsync(installation, stays, 5, channel))[0];
        await installation.MoveOnAsync(Duration.FromMinutes(6));
        await installation.PassAsync();
        Assert.Equal("sent", await _ada.StateAsync(delivery));
        JsonElement read = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=Read over")).List("posts")[0].Id()}");
        await _ada.SavePostAsync(read.Id(), read.Whole("version"), TestData.Edit(read.Id("categoryId"), "Read over and mended"));

        JsonElement result = await _ada.PostAsync($"imports/{line.Id()}/take-back");
        Assert.Equal(
            ["“Read over and mended” has been changed since, so it stays.", "“Stays” has been sent, so it stays in the bank."],
            result.List("kept").Select(k => k.GetString()).Order()
        );
        Assert.Equal((1, 0, 1), (await PostsAsync("Stays"), await PostsAsync("Goes"), await PostsAsync("Read over")));
        Assert.Equal(HttpStatusCode.Conflict, (await _ada.TroubleAsync(HttpMethod.Post, $"imports/{line.Id()}/take-back")).Status);
    }

    [Fact]
    public async Task A_sheet_of_hundreds_keeps_its_order()
    {
        string name = await CategoryAsync();
        string rows = string.Join('\n', Enumerable.Range(1, 400).Select(i => $"Row {i:000},{Guid.NewGuid()},{name}"));
        Assert.Equal(400, (await _ada.ImportAsync("title,text,category\n" + rows)).Whole("posts"));
        JsonElement[] listed = (await _ada.GetAsync("posts?search=Row")).List("posts");
        Assert.Equal(Enumerable.Range(1, 400).Select(i => $"Row {i:000}"), listed.Select(p => p.Text("title")));
    }

    [Fact]
    public async Task A_column_of_dates_that_fits_two_ways_is_asked_about_and_read_as_it_is_said()
    {
        string name = await CategoryAsync(await installation.ConnectAsync(_ada, "hearth", "dates"));
        int year = (await installation.NowAsync()).InUtc().Year + 1;
        Guid import = await _ada.BeginImportAsync(
            $"text,category,date,time\nAsked a,{name},05/06/{year},9:00\nAsked b,{name},07/08/{year},9:00"
        );
        JsonElement view = await _ada.CompleteAsync(import);
        JsonElement question = Assert.Single(view.List("questions"));
        Assert.Equal(("severalFit", JsonValueKind.Null), (question.Text("doubt"), question.GetProperty("decided").ValueKind));
        Assert.Equal([$"{year}-06-05", $"{year}-05-06"], question.List("witnesses")[0].List("dates").Take(2).Select(d => d.GetString()));
        Assert.Equal(2, view.GetProperty("counts").Whole("needsYou"));
        await _ada.PutAsync(
            $"imports/{import}/columns",
            new
            {
                columns = Array.Empty<object>(),
                orders = new Dictionary<string, object> { ["post.date"] = new { numbers = "monthFirst", days = (string?)null } },
                joins = (bool?)null,
            }
        );
        Assert.Equal($"{year}-05-06T09:00:00", (await _ada.ImportRowsAsync(import))[0].Text("when"));
    }

    [Fact]
    public async Task A_row_for_each_network_becomes_one_post_with_variants_once_somebody_says_so()
    {
        Guid jot = await installation.ConnectAsync(_ada, "jot", "rowsj"),
            hearth = await installation.ConnectAsync(_ada, "hearth", "rowsh");
        string name = await CategoryAsync(jot, hearth);
        int year = (await installation.NowAsync()).InUtc().Year + 1;
        Guid import = await _ada.BeginImportAsync(
            $"""
            Weekday,Date,Time,Network,Category,Text,Link
            ,5 May {year},09:00,Jot,{name},Avocets are back.,https://marram.example.org/avocets
            ,5 May {year},12:30,Hearth,{name},The avocets are back and we could not be happier.,https://marram.example.org/avocets
            """
        );
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.All(rows, r => Assert.Equal("needsYou", r.Text("status")));
        Assert.Equal("the same link on one day", rows[0].GetProperty("group").Text("by"));
        await _ada.EditRowsAsync(import, new { rows = (int[]?)null, about = "joins" }, new { joined = true });
        JsonElement line = (await _ada.CommitImportAsync(import)).GetProperty("line");
        Assert.Equal((1, 2), (line.Whole("posts"), line.Whole("deliveries")));
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=happier")).List("posts")[0].Id()}");
        JsonElement content = post.GetProperty("content");
        Assert.Equal("Avocets are back.", content.GetProperty("common").Text("text"));
        Assert.StartsWith("The avocets", content.GetProperty("networks").GetProperty("hearth").Text("text"), StringComparison.Ordinal);
        Assert.Equal(["09:00:00", "12:30:00"], post.List("deliveries").Select(d => d.Text("time")).Order());
    }

    [Fact]
    public async Task What_has_an_outside_id_takes_over_what_differs_and_no_more()
    {
        string name = await CategoryAsync();
        await _ada.ImportAsync($"id,title,text,category,notes\nK-1,Keeper,First words,{name},kept\nK-2,Other,Others,{name},");
        Guid import = await _ada.BeginImportAsync($"id,title,text,category\nK-1,Keeper,Second words,{name}\nK-2,Other,Others,{name}");
        JsonElement[] rows = await _ada.ImportRowsAsync(import);
        Assert.Equal(["text: First words → Second words"], rows[0].GetProperty("twice").List("differences").Select(d => d.GetString()));
        Assert.Equal("rowUnchanged", rows[1].List("findings")[0].Text("code"));
        JsonElement line = (await _ada.CommitImportAsync(import)).GetProperty("line");
        Assert.Equal((0, 1), (line.Whole("posts"), line.Whole("changed")));
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=Keeper")).List("posts").Single().Id()}");
        Assert.Equal(("Second words", "kept", 2), (post.CommonText(), post.Text("notes"), post.Whole("version")));
        await _ada.PostAsync($"imports/{line.Id()}/take-back");
        Assert.Equal("First words", (await _ada.GetAsync($"posts/{post.Id()}")).CommonText());
    }

    [Fact]
    public async Task What_is_nearly_there_is_asked_about_and_may_become_a_wording()
    {
        string name = await CategoryAsync();
        const string text = "The ferry to the island leaves at nine and comes back at four, so bring a coat and something warm to drink";
        await _ada.ImportAsync($"title,text,category\nFerry,\"{text}.\",{name}");
        Guid import = await _ada.BeginImportAsync($"title,text,category\nFerry again,\"{text} and eat.\",{name}");
        JsonElement row = Assert.Single(await _ada.ImportRowsAsync(import));
        Assert.Equal(("needsYou", "rowNearKnown"), (row.Text("status"), row.List("findings")[^1].Text("code")));
        await _ada.EditRowsAsync(import, new { rows = new[] { 2 } }, new { ifThere = "wording" });
        Assert.Equal(1, (await _ada.CommitImportAsync(import)).GetProperty("line").Whole("changed"));
        JsonElement post = await _ada.GetAsync($"posts/{(await _ada.GetAsync("posts?search=ferry")).List("posts").Single().Id()}");
        Assert.Single(post.GetProperty("content").List("wordings"));
    }

    private async Task<string> CategoryAsync(params Guid[] channels)
    {
        string name = "Im" + Guid.NewGuid().ToString("n")[..8];
        await _ada.CategoryAsync(name, channels);
        return name;
    }

    private async Task<int> PostsAsync(string search) =>
        (await _ada.GetAsync($"posts?search={Uri.EscapeDataString(search)}")).Whole("total");
}
