using System.Text.Json;
using AbleLark.Core.Categories;
using AbleLark.Core.Content;
using AbleLark.Core.Deliveries;
using AbleLark.Core.Figures;
using AbleLark.Core.Findings;
using AbleLark.Core.Orders;
using AbleLark.Core.Posts;
using AbleLark.Core.Rotas;
using AbleLark.Data;
using AbleLark.Data.History;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

namespace AbleLark.Server.Tests.Fixtures;

/// <summary>A database of the last form is brought up to date with everything in it.</summary>
public sealed class MigrationTests
{
    [Fact]
    public async Task A_week_laid_out_before_several_categories_keeps_its_slots()
    {
        string connection = await Databases.EmptyAsync();
        Guid workspace = Guid.NewGuid(),
            rota = Guid.NewGuid(),
            category = Guid.NewGuid(),
            slot = Guid.NewGuid(),
            free = Guid.NewGuid();
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261124051142_Spine");
            await before.Database.ExecuteSqlAsync(
                $"""
                insert into workspaces (id, slug, name, zone, settle_time, late_after, plan_stamp, settled_stamp) values ({workspace},
                    'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0, -1);
                insert into rotas (workspace_id, id, name, zone, rank) values ({workspace}, {rota}, 'The week', 'Europe/Dublin', 0);
                insert into categories (workspace_id, id, name, colour, monogram, place, usual_channels) values ({workspace},
                    {category}, 'Kept', 'tide', 'Ke', 0, '[]');
                insert into slots (workspace_id, id, rota_id, days, time, category_id, channels, place) values ({workspace}, {slot},
                    {rota}, '["monday"]', '09:00', {category}, '[]', 0);
                insert into slots (workspace_id, id, rota_id, days, time, category_id, channels, place) values ({workspace}, {free},
                    {rota}, '["friday"]', '10:00', null, '[]', 1);
                """
            );
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        Rota kept = await db.Rotas.Include(r => r.Slots).SingleAsync();
        Slot[] slots = [.. kept.Slots.OrderBy(s => s.Position)];
        Assert.Equal(1, kept.Version);
        Assert.Equal([new(category)], slots[0].Categories);
        Assert.Empty(slots[1].Categories);
        Assert.All(slots, s => Assert.Equal((Rhythm.Weeks, 1, true), (s.Rhythm, s.Every, s.Anchor < new NodaTime.LocalDate(2026, 1, 1))));
        Category settings = await db.Categories.SingleAsync();
        Assert.Equal((OrderRule.Usual, null, true), (settings.Order, settings.GapDays, settings.NewPostsRotate));
        Assert.Empty(settings.Hashtags);
    }

    [Fact]
    public async Task What_was_stored_under_earlier_words_is_there_under_the_present_ones()
    {
        string connection = await Databases.EmptyAsync();
        Guid workspace = Guid.NewGuid(),
            category = Guid.NewGuid(),
            channel = Guid.NewGuid(),
            post = Guid.NewGuid(),
            rota = Guid.NewGuid(),
            slot = Guid.NewGuid(),
            act = Guid.NewGuid(),
            delivery = Guid.NewGuid();
        const string Content = """
            {"text": "unsure", "link": null, "pictureId": null, "variants": {"jot": {"text": "standBy", "picture": null}},
            "alternates": [{"text": "b", "picture": null}]}
            """;
        const string Fits = """{"hearth": {"block": null, "print": "p", "alternates": [{"block": "Too long", "print": "q"}]}}""";
        const string Drawn = """{"order": "longestRested", "freshFirst": false, "pastGap": true, "seed": 3}""";
        const string Before = """{"Stage": "awaitingYes", "Title": "longestRested", "Content": {"text": "unsure", "alternates": []}}""";
        const string After = """{"State": "standBy", "GivenInOrder": "goodOnesOftener", "Alternate": 2, "Print": "p", "Place": 4}""";
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261126031339_Approvals");
            await before.Database.ExecuteSqlAsync(
                $"""
                insert into workspaces (id, slug, name, zone, settle_time, late_after, stale_above, plan_stamp, settled_stamp,
                    allows_own_approval) values ({workspace}, 'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0.6, 0, 0, false);
                insert into channels (workspace_id, id, network, account, name, handle, place, connection) values ({workspace},
                    {channel}, 'hearth', 'a', 'A', 'a', 5, 'Connected');
                insert into categories (workspace_id, id, name, colour, monogram, place, usual_channels, hashtags, lifespan,
                    needs_sign_off, new_posts_rotate, "order")
                  values ({workspace}, {category}, 'Kept', 'tide', 'Ke', 2, '[]', '[]', 'Evergreen', true, true, {Drawn}::jsonb);
                insert into posts (workspace_id, id, title, category_id, further_categories, stage, lifespan, in_rotation, version,
                    content, fits, added_order, search_text) values ({workspace}, {post}, 'P', {category}, '[]', 'AwaitingYes',
                    'Evergreen', true, 1, {Content}::jsonb, {Fits}::jsonb, 0, 'p');
                insert into deliveries (workspace_id, id, post_id, channel_id, at, local_date, local_time, state, dealt_with, attempts,
                    alternate, given_by, given_in_order, print, why, look_up_only, revision)
                  values ({workspace}, {delivery}, {post}, {channel}, '2026-03-02 09:00Z', '2026-03-02', '09:00', 'StandBy', false, 1,
                      1, {category}, 'GoodOnesOftener', 'p', 'Rested longest: last turn 3 Jan 2026. Next would be “x”.', false, 0);
                insert into change_sets (workspace_id, id, at, act) values ({workspace}, {act}, '2026-03-02 09:00Z',
                    'Said yes to “Said yes to nothing”');
                insert into changes (workspace_id, change_set_id, number, kind, entity, entity_id, before, after) values ({workspace},
                    {act}, 0, 'Changed', 'Delivery', {delivery}, {Before}::jsonb, {After}::jsonb);
                """
            );
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        Post kept = await db.Posts.SingleAsync();
        Assert.Equal(
            (Stage.WaitingForApproval, "unsure", "standBy", "b"),
            (
                kept.Stage,
                kept.Content.Common.Get(ContentFields.Text),
                kept.Content.Networks["jot"].Get(ContentFields.Text),
                kept.Content.Wordings.Single().Common.Get(ContentFields.Text)
            )
        );
        Assert.Equal(
            ("p", "q", FindingCode.CheckedBefore),
            (
                kept.Fits["hearth"].TextFingerprint,
                kept.Fits["hearth"].Wordings!.Single().TextFingerprint,
                kept.Fits["hearth"].Wordings!.Single().Block!.Code
            )
        );
        Category settings = await db.Categories.SingleAsync();
        Assert.Equal(
            (new(AbleLark.Core.Orders.Order.LongestSinceLastSent, PastGap: true, Seed: 3), true, 2, 5),
            (settings.Order, settings.NeedsApproval, settings.Position, (await db.Channels.SingleAsync()).Position)
        );
        Delivery planned = await db.Deliveries.SingleAsync();
        Assert.Equal(
            (
                DeliveryState.Substitute,
                1,
                category,
                AbleLark.Core.Orders.Order.BetterOnesMoreOften,
                "p",
                "Longest since last sent: last turn 3 Jan 2026. Next would be “x”."
            ),
            (planned.State, planned.Wording, planned.DrawnBy, planned.DrawnInOrder, planned.TextFingerprint, planned.Why)
        );
        ChangeSet log = await db.ChangeSets.Include(c => c.Changes).SingleAsync();
        Assert.Equal("Approved “Said yes to nothing”", log.Act);
        static string Written(Dictionary<string, JsonElement> of) =>
            string.Join(' ', of.OrderBy(e => e.Key, StringComparer.Ordinal).Select(e => $"{e.Key}={e.Value.GetRawText()}"));
        Assert.Equal("delivery", log.Changes.Single().Entity);
        string[] written = [Written(log.Changes.Single().Before!), Written(log.Changes.Single().After!)];
        Assert.Equal(
            [
                "content={'text': 'unsure', 'wordings': []} stage='waitingForApproval' title='longestRested'",
                "drawn_in_order='betterOnesMoreOften' position=4 state='substitute' text_fingerprint='p' wording=2",
            ],
            written.Select(w => w.Replace('"', '\''))
        );
    }

    [Fact]
    public async Task Attempts_keep_how_they_ended_and_of_two_deliveries_in_the_place_of_one_the_earlier_keeps_it()
    {
        string connection = await Databases.EmptyAsync();
        Guid workspace = Guid.NewGuid(),
            category = Guid.NewGuid(),
            channel = Guid.NewGuid(),
            post = Guid.NewGuid();
        Guid first = new("00000000-0000-0000-0000-000000000001"),
            second = new("00000000-0000-0000-0000-000000000002"),
            third = new("00000000-0000-0000-0000-000000000003");
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261125160501_SentBack");
            await before.Database.ExecuteSqlAsync(
                $"""
                insert into workspaces (id, slug, name, zone, settle_time, late_after, stale_above, plan_stamp, settled_stamp) values
                    ({workspace}, 'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0.6, 0, -1);
                insert into channels (workspace_id, id, network, account, name, handle, place, connection) values ({workspace},
                    {channel}, 'hearth', 'a', 'A', 'a', 0, 'Connected');
                insert into categories (workspace_id, id, name, colour, monogram, place, usual_channels, hashtags, lifespan,
                    needs_sign_off, new_posts_rotate, "order")
                  values ({workspace}, {category}, 'Kept', 'tide', 'Ke', 0, '[]', '[]', 'Evergreen', false, true, {Usual}::jsonb);
                insert into posts (workspace_id, id, title, category_id, further_categories, stage, lifespan, in_rotation, version,
                    content, fits, added_order) values ({workspace}, {post}, 'P', {category}, '[]', 'Ready', 'Evergreen', true, 1,
                    {NoContent}::jsonb, {NoFits}::jsonb, 0);
                insert into deliveries (workspace_id, id, post_id, channel_id, at, local_date, local_time, state, dealt_with, attempts,
                    alternate, instead_of)
                  select {workspace}, id, {post}, {channel}, '2026-03-02 09:00Z'::timestamptz + minutes * interval '1 minute',
                      '2026-03-02', '09:00', state, false, 1, 0, instead from (values
                    ({first}, 0, 'Sending', null), ({second}, 1, 'Planned', {first}), ({third}, 2, 'Sent', {first})) as d (id, minutes,
                        state, instead);
                insert into delivery_attempts (workspace_id, id, delivery_id, step, started_at, ended_at, done, outcome)
                  select {workspace}, gen_random_uuid(), {first}, step, '2026-03-02 09:00Z'::timestamptz + n * interval '1 second', case
                      when n < 6 then '2026-03-02 09:01Z'::timestamptz end, done, outcome from (values
                    (0, 'picture', true, 'm1'), (1, 'post', false, 'Lost: The network gave no answer.'), (2, 'post', false,
                        'Looked up, not there. Lost: x'), (3, 'post', false, 'Busy: Too many'),
                    (4, 'post', false, 'Refused: No'), (5, 'post', false, 'TokenExpired: x'), (6, 'post', false, null)) as a (n, step,
                        done, outcome);
                """
            );
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        DeliveryAttempt[] attempts = await db.DeliveryAttempts.OrderBy(a => a.StartedAt).ToArrayAsync();
        Assert.Equal(
            [AttemptEnd.Done, AttemptEnd.Lost, AttemptEnd.Absent, AttemptEnd.Busy, AttemptEnd.Refused, AttemptEnd.Busy, null],
            attempts.Select(a => a.End)
        );
        Assert.Equal(("m1", null), (attempts[0].RemoteId, attempts[0].Reason));
        Assert.Equal((null, "Lost: The network gave no answer."), (attempts[1].RemoteId, attempts[1].Reason));
        Assert.All(attempts, a => Assert.Equal(NodaTime.Instant.FromUtc(2026, 3, 2, 9, 0), a.Since));
        // What was sent before takes the values of today, and says so; the others have none.
        await using (LarkDb more = Databases.Open(connection))
            Assert.Equal(
                [null, null, true],
                await more.Deliveries.OrderBy(d => d.At).Select(d => d.Facts).ToListAsync() is { } facts
                    ? facts.Select(f => f?.IsReconstructed)
                    : []
            );
        Post written = await db.Posts.SingleAsync();
        Assert.Equal(PostSearch.TextOf(written.Title, written.Content), written.SearchText);
        Assert.Equal("p\nété\nfor hearth\nanother", written.SearchText);
        Assert.Equal([null, first, null], (await db.Deliveries.OrderBy(d => d.At).ToListAsync()).Select(d => d.InsteadOf?.Value));
    }

    [Fact]
    public async Task Content_comes_to_lie_in_layers_wherever_it_is_kept_and_figures_by_number()
    {
        string connection = await Databases.EmptyAsync();
        (Guid workspace, Guid channel, Guid category, Guid post) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        (Guid delivery, Guid act, Guid picture) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        string content = """
            {"text": "a", "link": "https://example.org", "pictureId": "PICTURE", "wordings": [{"text": null, "picture": {"mediaId": null}}],
            "variants": {"jot": {"text": "b", "picture": null, "isEmpty": false},
            "hearth": {"text": null, "picture": {"mediaId": "PICTURE"}}}}
            """.Replace("PICTURE", $"{picture}", StringComparison.Ordinal);
        const string Fits = """{"jot": {"block": "Too long", "textFingerprint": "p", "wordings": null, "approved": [0], "fits": false}}""";
        const string Sent = """{"text": "b", "cardLink": null, "pictureId": null}""";
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261126041133_LogNames");
            await before.Database.ExecuteSqlAsync(
                $"""
                insert into workspaces (id, slug, name, zone, schedule_ahead, late_after, warn_above_repeats, plan_stamp, scheduled_stamp,
                    allows_own_approval) values ({workspace}, 'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0.6, 0, 0, false);
                insert into channels (workspace_id, id, network, account, name, handle, position, connection) values ({workspace},
                    {channel}, 'jot', 'a', 'A', 'a', 5, 'Connected');
                insert into categories (workspace_id, id, name, colour, monogram, position, usual_channels, hashtags, lifespan,
                    needs_approval, new_posts_rotate, "order")
                  values ({workspace}, {category}, 'Kept', 'tide', 'Ke', 2, '[]', '[]', 'Evergreen', true, true, {Usual}::jsonb);
                insert into posts (workspace_id, id, title, category_id, further_categories, stage, lifespan, in_rotation, version,
                    content, fits, added_order, search_text, asks_for_approval, hashes) values ({workspace}, {post}, 'P', {category}, '[]',
                    'Ready', 'Evergreen', true, 1, {content}::jsonb, {Fits}::jsonb, 0, 'p', false, {NoFits}::jsonb);
                insert into post_versions (workspace_id, post_id, number, content, made_at)
                  values ({workspace}, {post}, 1, {content}::jsonb, '2026-03-02 09:00Z');
                insert into deliveries (workspace_id, id, post_id, channel_id, at, local_date, local_time, state, dealt_with, attempts,
                    wording, look_up_only, revision, sent)
                  values ({workspace}, {delivery}, {post}, {channel}, '2026-03-02 09:00Z', '2026-03-02', '09:00', 'Sent', false, 1,
                    0, false, 0, {Sent}::jsonb);
                insert into age_figures (workspace_id, delivery_id, age_hours, figures)
                  values ({workspace}, {delivery}, 24, jsonb_build_object('likes', 3, 'saves', null, 'followers', 9));
                insert into change_sets (workspace_id, id, at, act) values ({workspace}, {act}, '2026-03-02 09:00Z', 'Changed “P”');
                insert into changes (workspace_id, change_set_id, number, kind, entity, entity_id, before, after) values ({workspace},
                    {act}, 0, 'Changed', 'post', {post}, jsonb_build_object('content', {content}::jsonb, 'fits', {Fits}::jsonb), null);
                """
            );
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        Post kept = await db.Posts.SingleAsync();
        Pictures shown = Pictures.Of(new(picture));
        PostContent expected = PostContent
            .Empty.With(ContentFields.Text, "a")
            .With(ContentFields.Link, "https://example.org")
            .With(ContentFields.Pictures, shown)
            .With("jot", ContentFields.Text, "b")
            .With("hearth", ContentFields.Pictures, shown) with
        {
            Wordings = [new(FieldValues.Empty.With(ContentFields.Pictures, null))],
        };
        Assert.True(expected.Same(kept.Content));
        Assert.True(expected.Same((await db.PostVersions.SingleAsync()).Content));
        Assert.Equal("b", (await db.Deliveries.SingleAsync()).Sent!.Text);
        FigureSet figures = (await db.AgeFigures.SingleAsync()).Figures;
        Assert.Equal((3, null, 9), (figures[FigureKind.Likes], figures[FigureKind.Saves], figures[FigureKind.Followers]));
        // What was found by rules of its day is found again, and what didn't fit doesn't, until it is.
        Assert.Equal((false, ""), (kept.Fits["jot"].Fits, kept.CheckedBy));
        Dictionary<string, JsonElement> logged = (await db.ChangeSets.Include(c => c.Changes).SingleAsync()).Changes.Single().Before!;
        Assert.True(expected.Same(logged["content"].Deserialize<PostContent>(LarkJson.Options)!));
        Assert.Equal(["content"], logged.Keys);
    }

    [Fact]
    public async Task One_picture_with_its_alt_text_becomes_a_list_wherever_it_is_kept()
    {
        string connection = await Databases.EmptyAsync();
        (Guid workspace, Guid channel, Guid category, Guid post) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        (Guid delivery, Guid act, Guid picture) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        string content = """
            {"common": {"text": "a", "picture": "PICTURE", "altText": "a sea"}, "channels": {},
            "networks": {"meadow": {"altText": "calm"}, "jot": {"picture": null}, "hearth": {"text": "b"}},
            "wordings": [{"common": {"altText": "rough"}, "networks": {}, "channels": {}}]}
            """.Replace("PICTURE", $"{picture}", StringComparison.Ordinal);
        string sent = $$"""{"fields": {"text": "a", "picture": "{{picture}}", "altText": "calm" } }""";
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261126092018_Origins");
            await before.Database.ExecuteSqlAsync(
                $"""
                insert into workspaces (id, slug, name, zone, schedule_ahead, late_after, warn_above_repeats, plan_stamp, scheduled_stamp,
                    allows_own_approval) values ({workspace}, 'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0.6, 0, 0, false);
                insert into channels (workspace_id, id, network, account, name, handle, position, connection) values ({workspace},
                    {channel}, 'meadow', 'a', 'A', 'a', 5, 'Connected');
                insert into categories (workspace_id, id, name, colour, monogram, position, usual_channels, hashtags, lifespan,
                    needs_approval, new_posts_rotate, "order")
                  values ({workspace}, {category}, 'Kept', 'tide', 'Ke', 2, '[]', '[]', 'Evergreen', true, true, {Usual}::jsonb);
                insert into posts (workspace_id, id, title, category_id, further_categories, stage, lifespan, in_rotation, version,
                    content, fits, added_order, search_text, asks_for_approval, hashes, checked_by) values ({workspace}, {post}, 'P',
                    {category}, '[]', 'Ready', 'Evergreen', true, 1, {content}::jsonb, {NoFits}::jsonb, 0, 'p', false, {NoFits}::jsonb, '');
                insert into post_versions (workspace_id, post_id, number, content, made_at)
                  values ({workspace}, {post}, 1, {content}::jsonb, '2026-03-02 09:00Z');
                insert into deliveries (workspace_id, id, post_id, channel_id, at, local_date, local_time, state, dealt_with, attempts,
                    wording, look_up_only, revision, sent, origin_kind, origin_id)
                  values ({workspace}, {delivery}, {post}, {channel}, '2026-03-02 09:00Z', '2026-03-02', '09:00', 'Sent', false, 1,
                    0, false, 0, {sent}::jsonb, 'ExactTime', {delivery});
                insert into change_sets (workspace_id, id, at, act) values ({workspace}, {act}, '2026-03-02 09:00Z', 'Changed “P”');
                insert into changes (workspace_id, change_set_id, number, kind, entity, entity_id, before, after) values ({workspace},
                    {act}, 0, 'Changed', 'post', {post}, jsonb_build_object('content', {content}::jsonb), null);
                """
            );
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        Pictures Of(string words) => new(new Picture(new(picture), words));
        PostContent expected = PostContent
            .Empty.With(ContentFields.Text, "a")
            .With(ContentFields.Pictures, Of("a sea"))
            .With("meadow", ContentFields.Pictures, Of("calm"))
            .With("jot", ContentFields.Pictures, null)
            .With("hearth", ContentFields.Text, "b") with
        {
            Wordings = [new(FieldValues.Empty.With(ContentFields.Pictures, Of("rough")))],
        };
        Assert.True(expected.Same((await db.Posts.SingleAsync()).Content));
        Assert.True(expected.Same((await db.PostVersions.SingleAsync()).Content));
        Assert.Equal(Of("calm"), (await db.Deliveries.SingleAsync()).Sent!.Fields.Get(ContentFields.Pictures));
        Dictionary<string, JsonElement> logged = (await db.ChangeSets.Include(c => c.Changes).SingleAsync()).Changes.Single().Before!;
        Assert.True(expected.Same(logged["content"].Deserialize<PostContent>(LarkJson.Options)!));
    }

    [Fact]
    public async Task What_had_a_slot_or_none_comes_to_have_an_origin_in_rows_and_log()
    {
        string connection = await Databases.EmptyAsync();
        (Guid workspace, Guid channel, Guid category, Guid post) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        (Guid rota, Guid slot, Guid act) = (Guid.NewGuid(), Guid.NewGuid(), Guid.NewGuid());
        Guid[] ids = [.. Enumerable.Range(1, 3).Select(i => new Guid($"00000000-0000-0000-0000-00000000000{i}"))];
        await using (LarkDb before = Databases.Open(connection))
        {
            await before.GetService<IMigrator>().MigrateAsync("20261126073743_StepsThatPublish");
            await before.Database.ExecuteSqlAsync(
                $"""
                insert into workspaces (id, slug, name, zone, schedule_ahead, late_after, warn_above_repeats, plan_stamp, scheduled_stamp,
                    allows_own_approval) values ({workspace}, 'old', 'Old', 'Europe/Dublin', '24 hours', '60 minutes', 0.6, 0, 0, false);
                insert into channels (workspace_id, id, network, account, name, handle, position, connection) values ({workspace},
                    {channel}, 'jot', 'a', 'A', 'a', 5, 'Connected');
                insert into categories (workspace_id, id, name, colour, monogram, position, usual_channels, hashtags, lifespan,
                    needs_approval, new_posts_rotate, "order")
                  values ({workspace}, {category}, 'Kept', 'tide', 'Ke', 2, '[]', '[]', 'Evergreen', true, true, {Usual}::jsonb);
                insert into posts (workspace_id, id, title, category_id, further_categories, stage, lifespan, in_rotation, version,
                    content, fits, added_order, search_text, asks_for_approval, hashes, checked_by)
                  values ({workspace}, {post}, 'P', {category}, '[]', 'Ready', 'Evergreen', true, 1,
                    {NewContent}::jsonb,
                    {NoFits}::jsonb, 0, 'p', false, {NoFits}::jsonb, '');
                insert into rotas (workspace_id, id, name, zone, rank, version) values ({workspace}, {rota}, 'R', 'Europe/Dublin', 0, 1);
                insert into slots (workspace_id, id, rota_id, time, rhythm, every, days, anchor, channels, categories, is_pool, position)
                  values ({workspace}, {slot}, {rota}, '09:00', 'Weeks', 1, '[1]', '2026-03-02', '[]', '[]', false, 0);
                insert into deliveries (workspace_id, id, post_id, channel_id, at, local_date, local_time, state, dealt_with, attempts,
                    wording, look_up_only, revision, slot_id, slot_date)
                  select {workspace}, d.id, {post}, {channel}, '2026-03-02 09:00Z'::timestamptz + d.n * interval '1 hour', '2026-03-02',
                      '09:00', 'Sent', false, 1, 0, false, 0, d.slot, d.day
                  from (values ({ids[0]}, 0, {slot}, '2026-03-01'::date), ({ids[1]}, 1, null, null), ({ids[2]}, 2, null, null))
                    as d (id, n, slot, day);
                insert into decisions (workspace_id, id, slot_id, date, is_skipped, posts)
                  values ({workspace}, gen_random_uuid(), {slot}, '2026-03-09', true, '[]');
                insert into passed_places (workspace_id, id, slot_id, slot_date, at, local, channels, why, dealt_with)
                  values ({workspace}, gen_random_uuid(), {slot}, '2026-03-16', '2026-03-16 09:00Z', '2026-03-16 09:00', '[]', 'w', false);
                insert into change_sets (workspace_id, id, at, act) values ({workspace}, {act}, '2026-03-02 09:00Z', 'Did things');
                insert into changes (workspace_id, change_set_id, number, kind, entity, entity_id, before, after) values
                  ({workspace}, {act}, 0, 'Added', 'delivery', {ids[0]}, null, jsonb_build_object('slot_id', {slot},
                      'slot_date', '2026-03-01', 'post_id', {post}, 'local_date', '2026-03-02', 'local_time', '09:00:00')),
                  ({workspace}, {act}, 1, 'Added', 'delivery', {ids[1]}, null, jsonb_build_object('slot_id', null, 'slot_date', null,
                      'post_id', {post}, 'local_date', '2026-03-02', 'local_time', '09:00:00')),
                  ({workspace}, {act}, 2, 'Removed', 'decision', {ids[2]}, jsonb_build_object('slot_id', {slot}, 'date', '2026-03-09',
                      'is_skipped', true), null),
                  ({workspace}, {act}, 3, 'Changed', 'delivery', {ids[0]}, jsonb_build_object('state', 'planned'),
                      jsonb_build_object('state', 'cancelled'));
                """
            );
        }
        await using LarkDb db = Databases.Open(connection);
        await db.Database.MigrateAsync();
        LocalDate day = new(2026, 3, 2);
        Origin exact = Origin.ExactTime(new(post), day + new LocalTime(9, 0));
        // Two exact times that only a change of zone brought to one local time both stay.
        Assert.Equal(
            [Origin.Place(new(slot), day.PlusDays(-1)), exact, exact with { Id = ids[2] }],
            (await db.Deliveries.OrderBy(d => d.At).ToListAsync()).Select(d => d.Origin)
        );
        Assert.Equal(Origin.Place(new(slot), day.PlusDays(7)), (await db.Decisions.SingleAsync()).Origin);
        Assert.Equal(Origin.Place(new(slot), day.PlusDays(14)), (await db.PassedPlaces.SingleAsync()).Origin);
        Change[] log = [.. (await db.ChangeSets.Include(c => c.Changes).SingleAsync()).Changes.OrderBy(c => c.Number)];
        Origin Logged(Dictionary<string, JsonElement> of) =>
            new(
                of["origin_kind"].Deserialize<OriginKind>(LarkJson.Options),
                of["origin_id"].Deserialize<Guid>(LarkJson.Options),
                of["origin_date"].Deserialize<LocalDate>(LarkJson.Options),
                of["origin_time"].Deserialize<LocalTime?>(LarkJson.Options)
            );
        Assert.Equal(
            [Origin.Place(new(slot), day.PlusDays(-1)), exact, Origin.Place(new(slot), day.PlusDays(7))],
            [Logged(log[0].After!), Logged(log[1].After!), Logged(log[2].Before!)]
        );
        Assert.DoesNotContain(
            log.SelectMany(c => (c.Before ?? []).Keys.Concat((c.After ?? []).Keys)),
            k => k.StartsWith("slot", StringComparison.Ordinal)
        );
        Assert.Equal(["state"], log[3].After!.Keys);
    }

    private const string Usual = """{"order":"newestFirst","freshFirst":false,"pastGap":false,"seed":0}""";
    private const string NoContent = """
        {"text":"Été","link":null,"pictureId":null,"variants":{"hearth":{"text":"For Hearth","picture":null}},
        "alternates":[{"text":"Another","picture":null}]}
        """;
    private const string NewContent = """{"common": {}, "networks": {}, "channels": {}, "wordings": []}""";
    private const string NoFits = "{}";
}
