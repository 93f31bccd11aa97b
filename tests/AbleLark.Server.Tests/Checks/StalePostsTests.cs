using System.Text.Json;
using AbleLark.Core.Networks;
using AbleLark.Core.Posts;
using AbleLark.Server.Checks;
using AbleLark.Server.LineUps;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using NodaTime;

namespace AbleLark.Server.Tests.Checks;

/// <summary>How a post stands with the networks is always by today's rules.</summary>
public sealed class StalePostsTests(TestInstallation installation) : IClassFixture<TestInstallation>
{
    private readonly ApiClient _ada = installation.Ada;

    private Task<Post> StoredAsync(Guid post) =>
        installation.ReadAsync(db => db.Posts.AsNoTracking().SingleAsync(p => p.Id == new Core.Id<Post>(post)));

    [Fact]
    public async Task What_other_rules_found_is_found_anew_when_a_server_starts_and_only_that()
    {
        Guid category = await _ada.CategoryAsync("Stale");
        Guid stale = (await _ada.PostAsync(category, new string('w', 300))).Id();
        Guid fresh = (await _ada.PostAsync(category, "Short")).Id();
        Post before = await StoredAsync(stale);
        Assert.Equal((false, true), (before.Fits["jot"].Fits, before.Fits["hearth"].Fits));
        await installation.WriteAsync($"update posts set fits = '{{}}', checked_by = 'rules of old' where id = {stale}");
        await installation.WriteAsync($"update posts set fits = '{{}}' where id = {fresh}");
        int done = await CheckAnewAsync();
        Assert.Equal(1, done);
        Post after = await StoredAsync(stale);
        Assert.Equal(before.CheckedBy, after.CheckedBy);
        Assert.Equal(before.Fits["jot"].Block!.Words, after.Fits["jot"].Block!.Words);
        Assert.Empty((await StoredAsync(fresh)).Fits);
    }

    [Fact]
    public async Task On_the_day_from_which_other_rules_hold_posts_are_checked_by_them()
    {
        Guid category = await _ada.CategoryAsync("Turns");
        Guid post = (await _ada.PostAsync(category, new string('w', 200))).Id();
        string folder = TestInstallation.RulesFolder(honoursKeys: true, appearsWithinSeconds: 60);
        string jot = await File.ReadAllTextAsync(Path.Combine(folder, "jot.json"));
        NetworkBook book = new([
            NetworkRules.Parse(jot.TrimEnd()[..^1] + ",\"changes\":[{\"holdsFrom\":\"2031-03-01\",\"rules\":{\"text\":{\"limit\":150}}}]}"),
        ]);
        SchedulingWork work = new(
            installation.Services.GetRequiredService<IServiceScopeFactory>(),
            book,
            Microsoft.Extensions.Logging.Abstractions.NullLogger<SchedulingWork>.Instance
        );
        await work.RunAsync(Instant.FromUtc(2031, 2, 28, 12, 0), CancellationToken.None);
        Assert.True((await StoredAsync(post)).Fits["jot"].Fits);
        await work.RunAsync(Instant.FromUtc(2031, 3, 1, 12, 0), CancellationToken.None);
        Assert.Equal("The text takes 200 of 150 on Jot: cut 50.", (await StoredAsync(post)).Fits["jot"].Block!.Words);
        // The rules of the installation itself are as they were.
        await CheckAnewAsync();
    }

    [Fact]
    public async Task What_comes_back_by_undo_is_checked_by_the_rules_of_today()
    {
        Guid category = await _ada.CategoryAsync("Comes back");
        JsonElement post = await _ada.PostAsync(category, new string('w', 300));
        await _ada.SavePostAsync(post.Id(), post.Whole("version"), TestData.Edit(category, "Short"));
        JsonElement edit = (await _ada.GetAsync("changes")).EnumerateArray().First();
        // Rules have changed since: what was found of the short text was found anew.
        await installation.WriteAsync(
            $$"""
            update posts set fits = jsonb_build_object('jot', jsonb_build_object('findings', jsonb_build_array(), 'textFingerprint', 'x'))
            where id = {{post.Id()}}
            """
        );
        await _ada.PostAsync($"changes/{edit.Id()}/undo");
        Post back = await StoredAsync(post.Id());
        Assert.Equal((false, true), (back.Fits["jot"].Fits, back.Fits["hearth"].Fits));
        Assert.Equal(back.Hashes.Keys.Order(), back.Fits.Keys.Order());
    }

    [Fact]
    public async Task What_is_taken_out_is_checked_by_the_rules_of_today_once_it_comes_back()
    {
        Guid category = await _ada.CategoryAsync("Taken out");
        Guid post = (await _ada.PostAsync(category, new string('w', 300))).Id();
        Post before = await StoredAsync(post);
        JsonElement removed = await _ada.DeleteAsync($"posts/{post}");
        await installation.WriteAsync($"update posts set fits = '{{}}', checked_by = 'rules of old' where id = {post}");
        Assert.Equal(0, await CheckAnewAsync());
        await _ada.PostAsync($"changes/{removed.Id("changeSetId")}/undo");
        Post back = await StoredAsync(post);
        Assert.Equal(before.CheckedBy, back.CheckedBy);
        Assert.Equal((false, true), (back.Fits["jot"].Fits, back.Fits["hearth"].Fits));
    }

    private Task<int> CheckAnewAsync() =>
        installation.ReadAsync(db =>
            StalePosts.CheckAnewAsync(
                db,
                installation.Services.GetRequiredService<NetworkBook>(),
                Instant.FromUtc(2026, 1, 1, 0, 0),
                CancellationToken.None
            )
        );
}
