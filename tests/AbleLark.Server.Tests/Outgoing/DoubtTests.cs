using System.Net;
using System.Text.Json;
using AbleLark.Core;
using AbleLark.Core.Deliveries;
using AbleLark.Server.Tests.Fixtures;
using Microsoft.EntityFrameworkCore;

namespace AbleLark.Server.Tests.Outgoing;

/// <summary>A network that honours no keys, told so by its rules file: what may have gone out is looked up, never sent again on a guess;
/// in doubt a person decides.</summary>
public sealed class DoubtTests(UnkeyedInstallation unkeyed) : IClassFixture<UnkeyedInstallation>
{
    private readonly TestInstallation _installation = unkeyed.TestInstallation;

    [Fact]
    public async Task A_post_that_appears_after_the_call_was_given_up_is_found_and_not_posted_again()
    {
        (Guid delivery, string account) = await _installation.DueAsync("Slow answer");
        await _installation.OrderAsync("late", 1, account);
        await _installation.PassesUntilAsync(delivery, "sent", "mayHaveGoneOut", "refused");
        Assert.Equal("sent", await _installation.Ada.StateAsync(delivery));
        await _installation.PassAsync();
        Assert.Equal(["Slow answer"], await _installation.PostedAsync(account));
        DeliveryAttempt attempt = await _installation.ReadAsync(db =>
            db.DeliveryAttempts.SingleAsync(a => a.DeliveryId == new Id<Delivery>(delivery))
        );
        Assert.Equal(AttemptEnd.Done, attempt.End);
        Assert.True(attempt.LookUps >= 1, "It was found at the first look: the test proves too little.");
    }

    [Fact]
    public async Task A_post_that_never_arrived_is_sent_again_once_it_would_have_appeared()
    {
        (Guid delivery, string account) = await _installation.DueAsync("Never arrived");
        await _installation.OrderAsync("down", 1, account);
        await _installation.PassesUntilAsync(delivery, "sent");
        Assert.Equal(["Never arrived"], await _installation.PostedAsync(account));
        DeliveryAttempt[] attempts = await _installation.ReadAsync(db =>
            db.DeliveryAttempts.Where(a => a.DeliveryId == new Id<Delivery>(delivery)).OrderBy(a => a.StartedAt).ToArrayAsync()
        );
        Assert.Equal([AttemptEnd.Absent, AttemptEnd.Done], attempts.Select(a => a.End!.Value));
        Assert.True(
            (attempts[1].StartedAt - attempts[0].EndedAt!.Value).TotalSeconds >= 3,
            "It was sent again before it would have appeared for certain."
        );
    }

    [Fact]
    public async Task Two_that_could_be_it_are_a_question_to_a_person_who_says_where_it_is()
    {
        (Guid delivery, _) = await InDoubtAsync("Twins", copies: 2);
        Assert.Contains(
            "more than one post on the network could be it",
            (await _installation.Ada.GetAsync($"deliveries/{delivery}")).Text("trouble"),
            StringComparison.Ordinal
        );
        foreach (string? bad in new[] { null, "", "the second one", "javascript:alert(1)", "ftp://hearth.example.org/1" })
        {
            (HttpStatusCode status, string words) = await _installation.Ada.TroubleAsync(
                HttpMethod.Post,
                $"deliveries/{delivery}/found",
                new { found = "isThere", address = bad }
            );
            Assert.Equal(
                (HttpStatusCode.BadRequest, "Give the post's own address on the network, beginning with http:// or https://."),
                (status, words)
            );
        }
        string there = $"{_installation.NetworksAddress}/hearth/anybody/2";
        (HttpStatusCode elsewhere, string why) = await _installation.Ada.TroubleAsync(
            HttpMethod.Post,
            $"deliveries/{delivery}/found",
            new { found = "isThere", address = "https://hearth.example.org/p/2" }
        );
        Assert.Equal(
            (HttpStatusCode.BadRequest, "That is not an address on Hearth. Open the post there and copy its address."),
            (elsewhere, why)
        );
        await _installation.Ada.PostAsync($"deliveries/{delivery}/found", new { found = "isThere", address = there });
        JsonElement sent = await _installation.Ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal(("sent", there), (sent.Text("state"), sent.Text("address")));
        Assert.DoesNotContain((await _installation.Ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == delivery);
        // It was decided: nobody decides it a second time.
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await _installation.Ada.TroubleAsync(HttpMethod.Post, $"deliveries/{delivery}/found", new { found = "isNotThere" })).Status
        );
        // Its figures can't be asked for without the network's own name for it.
        await _installation.PassAsync();
    }

    [Fact]
    public async Task One_that_a_person_did_not_find_goes_as_a_new_delivery_where_keys_are_not_honoured()
    {
        (Guid delivery, string account) = await InDoubtAsync("Not found", copies: 2);
        await _installation.WriteAsync($"delete from stand_ins.posts where account_id = {account}");
        await _installation.Ada.PostAsync($"deliveries/{delivery}/found", new { found = "isNotThere" });
        Delivery fresh = await _installation.ReadAsync(db => db.Deliveries.SingleAsync(d => d.InsteadOf == new Id<Delivery>(delivery)));
        await _installation.PassesUntilAsync(fresh.Id.Value, "sent");
        Assert.Equal(["Not found"], await _installation.PostedAsync(account));
        Assert.Equal("refused", await _installation.Ada.StateAsync(delivery));
        Assert.DoesNotContain((await _installation.Ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == delivery);
    }

    [Fact]
    public async Task A_person_can_have_the_network_looked_through_again()
    {
        (Guid delivery, string account) = await InDoubtAsync("Look again", copies: 2);
        await _installation.WriteAsync($"delete from stand_ins.posts where account_id = {account} and id like 'copy%'");
        await _installation.Ada.PostAsync($"deliveries/{delivery}/found", new { found = "lookAgain" });
        await _installation.PassesUntilAsync(delivery, "sent", "mayHaveGoneOut", "missed");
        Assert.Equal("sent", await _installation.Ada.StateAsync(delivery));
        Assert.Single(await _installation.PostedAsync(account));
    }

    [Fact]
    public async Task Looked_for_again_and_not_there_it_is_missed_and_does_not_go_by_itself()
    {
        (Guid delivery, string account) = await InDoubtAsync("Gone", copies: 2);
        await _installation.WriteAsync($"delete from stand_ins.posts where account_id = {account}");
        await _installation.Ada.PostAsync($"deliveries/{delivery}/found", new { found = "lookAgain" });
        await _installation.PassesUntilAsync(delivery, "sent", "mayHaveGoneOut", "missed");
        Assert.Equal("missed", await _installation.Ada.StateAsync(delivery));
        Assert.Empty(await _installation.PostedAsync(account));
    }

    [Fact]
    public async Task It_may_be_left_as_it_is()
    {
        (Guid delivery, _) = await InDoubtAsync("Left", copies: 2);
        await _installation.Ada.PostAsync($"deliveries/{delivery}/dismiss");
        Assert.Equal("mayHaveGoneOut", await _installation.Ada.StateAsync(delivery));
        Assert.DoesNotContain((await _installation.Ada.GetAsync("needs")).EnumerateArray(), n => n.Id("deliveryId") == delivery);
    }

    [Fact]
    public async Task A_list_that_reaches_back_too_short_is_said_to_prove_nothing()
    {
        (Guid delivery, string account) = await _installation.DueAsync("Far back");
        await _installation.OrderAsync("down", 1, account);
        await _installation.PassAsync();
        // Sixty others were posted since, and the network lists fifty.
        await _installation.WriteAsync(
            $"""
            insert into stand_ins.posts (id, network, account_id, key, text, media, created_at) select 'later' || n, 'hearth',
            {account}, 'later' || n, 'Later ' || n, array[]::text[], now() + interval '3 days' from generate_series(1, 60) n
            """
        );
        await _installation.PassesUntilAsync(delivery, "sent", "mayHaveGoneOut");
        JsonElement shown = await _installation.Ada.GetAsync($"deliveries/{delivery}");
        Assert.Equal("mayHaveGoneOut", shown.Text("state"));
        Assert.Contains("does not reach back far enough", shown.Text("trouble"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Where_keys_are_honoured_one_that_a_person_did_not_find_goes_under_the_same_key()
    {
        await using TestInstallation keyed = new() { Settings = new Dictionary<string, string> { ["Lark:NetworkTimeoutSeconds"] = "1" } };
        await keyed.InitializeAsync();
        (Guid delivery, string account) = await keyed.DueAsync("Same key");
        await keyed.OrderAsync("loseAnswer", 1, account);
        await keyed.PassAsync();
        await keyed.WriteAsync(
            $"update deliveries set state = 'MayHaveGoneOut', lease = null, lease_until = null, trouble = 'x' where id = {delivery}"
        );
        // The person is wrong: it is there. Under the same key the network still takes it for the same post.
        await keyed.Ada.PostAsync($"deliveries/{delivery}/found", new { found = "isNotThere" });
        await keyed.PassesUntilAsync(delivery, "sent");
        Assert.Single(await keyed.PostedAsync(account));
    }

    /// <summary>A delivery whose answer was lost while so many posts like it stand on the network.</summary>
    private async Task<(Guid Delivery, string Account)> InDoubtAsync(string text, int copies)
    {
        (Guid delivery, string account) = await _installation.DueAsync(text);
        await _installation.OrderAsync("loseAnswer", 1, account);
        await _installation.PassAsync();
        await _installation.WriteAsync(
            $"""
            insert into stand_ins.posts (id, network, account_id, key, text, media, created_at) select 'copy' || {account} || n,
            network, account_id, 'copy' || n, text, media, created_at from stand_ins.posts, generate_series(2, {copies}) n where
            account_id = {account}
            """
        );
        await _installation.PassesUntilAsync(delivery, "mayHaveGoneOut");
        return (delivery, account);
    }
}

/// <summary>An installation whose networks honour no keys, and whose rules say so.</summary>
public sealed class UnkeyedInstallation : IAsyncLifetime
{
    public TestInstallation TestInstallation { get; } =
        new()
        {
            Settings = new Dictionary<string, string>
            {
                ["Lark:NetworksFolder"] = TestInstallation.RulesFolder(honoursKeys: false, appearsWithinSeconds: 3, readsBack: 50),
                ["Lark:NetworkTimeoutSeconds"] = "1",
            },
        };

    public async ValueTask InitializeAsync()
    {
        await TestInstallation.InitializeAsync();
        await TestInstallation.BehaveAsync("hearth", honoursKeys: false, lateSeconds: 3.3);
    }

    public ValueTask DisposeAsync() => TestInstallation.DisposeAsync();
}
