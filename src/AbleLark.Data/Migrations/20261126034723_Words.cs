using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class Words : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_rotas_rotas_workspace_id_stands_in_for",
                table: "rotas");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.RenameColumn(
                name: "stale_above",
                table: "workspaces",
                newName: "warn_above_repeats");

            migrationBuilder.RenameColumn(
                name: "settled_through",
                table: "workspaces",
                newName: "scheduled_through");

            migrationBuilder.RenameColumn(
                name: "settled_stamp",
                table: "workspaces",
                newName: "scheduled_stamp");

            migrationBuilder.RenameColumn(
                name: "settle_time",
                table: "workspaces",
                newName: "schedule_ahead");

            migrationBuilder.RenameColumn(
                name: "place",
                table: "slots",
                newName: "position");

            migrationBuilder.RenameColumn(
                name: "stands_in_for",
                table: "rotas",
                newName: "replaces");

            migrationBuilder.RenameIndex(
                name: "ix_rotas_workspace_id_stands_in_for",
                table: "rotas",
                newName: "ix_rotas_workspace_id_replaces");

            migrationBuilder.RenameColumn(
                name: "print",
                table: "deliveries",
                newName: "text_fingerprint");

            migrationBuilder.RenameColumn(
                name: "given_in_order",
                table: "deliveries",
                newName: "drawn_in_order");

            migrationBuilder.RenameColumn(
                name: "given_by",
                table: "deliveries",
                newName: "drawn_by");

            migrationBuilder.RenameColumn(
                name: "alternate",
                table: "deliveries",
                newName: "wording");

            migrationBuilder.RenameColumn(
                name: "place",
                table: "channels",
                newName: "position");

            migrationBuilder.RenameColumn(
                name: "place",
                table: "categories",
                newName: "position");

            migrationBuilder.RenameColumn(
                name: "needs_sign_off",
                table: "categories",
                newName: "needs_approval");

            // Values and names inside documents: what was stored under the earlier words, the change log among it.
            migrationBuilder.Sql("""
                create function renamed_words(value jsonb, under text) returns jsonb language sql as $$
                  select case jsonb_typeof(value)
                    when 'object' then coalesce((select jsonb_object_agg(coalesce(n.new, e.key), renamed_words(e.value, e.key))
                      from jsonb_each(value) e left join (values
                        ('Alternate', 'Wording'), ('Print', 'TextFingerprint'), ('GivenBy', 'DrawnBy'), ('GivenInOrder', 'DrawnInOrder'), ('NeedsSignOff', 'NeedsApproval'), ('SettleTime', 'ScheduleAhead'),
                        ('StaleAbove', 'WarnAboveRepeats'), ('StandsInFor', 'Replaces'), ('Place', 'Position'),
                        ('alternates', 'wordings'), ('alternate', 'wording'), ('print', 'textFingerprint'), ('isFixed', 'isPicked')) as n (old, new) on n.old = e.key), '{}'::jsonb)
                    when 'array' then coalesce((select jsonb_agg(renamed_words(e.value, under) order by e.at) from jsonb_array_elements(value) with ordinality e (value, at)), '[]'::jsonb)
                    when 'string' then case when under in ('State', 'Stage', 'GivenInOrder', 'order') then coalesce((select to_jsonb(v.new) from (values
                        ('awaitingYes', 'waitingForApproval'), ('standBy', 'substitute'), ('unsure', 'mayHaveGoneOut'), ('byHand', 'postItYourself'),
                        ('longestRested', 'longestSinceLastSent'), ('goodOnesOftener', 'betterOnesMoreOften')) as v (old, new) where v.old = value #>> '{}'), value) else value end
                    else value end
                $$;
                update changes set before = renamed_words(before, ''), after = renamed_words(after, '');
                update posts set stage = case stage when 'AwaitingYes' then 'WaitingForApproval' else stage end, content = renamed_words(content, ''), fits = renamed_words(fits, '');
                update post_versions set content = renamed_words(content, '');
                update decisions set posts = renamed_words(posts, '');
                update categories set "order" = renamed_words("order", '');
                update slots set "order" = renamed_words("order", '') where "order" is not null;
                update deliveries set facts = renamed_words(facts, '') where facts is not null;
                drop function renamed_words(jsonb, text);
                update deliveries set
                  state = case state when 'AwaitingYes' then 'WaitingForApproval' when 'StandBy' then 'Substitute' when 'Unsure' then 'MayHaveGoneOut' when 'ByHand' then 'PostItYourself' else state end,
                  drawn_in_order = case drawn_in_order when 'LongestRested' then 'LongestSinceLastSent' when 'GoodOnesOftener' then 'BetterOnesMoreOften' else drawn_in_order end,
                  why = replace(replace(why, 'Rested longest: last turn', 'Longest since last sent: last turn'), 'Fixed to this place by hand.', 'Picked for this place.');
                update change_sets set act = regexp_replace(regexp_replace(regexp_replace(act, '^((Took back: )*)Said yes to ', '\1Approved '), '^((Took back: )*)Gave a settled place', '\1Gave a scheduled place'), '^((Took back: )*)Settled everything', '\1Scheduled everything');
                """);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null and state not in ('Substitute', 'Missed') and not look_up_only");

            migrationBuilder.AddForeignKey(
                name: "fk_rotas_rotas_workspace_id_replaces",
                table: "rotas",
                columns: new[] { "workspace_id", "replaces" },
                principalTable: "rotas",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Restrict);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_rotas_rotas_workspace_id_replaces",
                table: "rotas");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.RenameColumn(
                name: "warn_above_repeats",
                table: "workspaces",
                newName: "stale_above");

            migrationBuilder.RenameColumn(
                name: "scheduled_through",
                table: "workspaces",
                newName: "settled_through");

            migrationBuilder.RenameColumn(
                name: "scheduled_stamp",
                table: "workspaces",
                newName: "settled_stamp");

            migrationBuilder.RenameColumn(
                name: "schedule_ahead",
                table: "workspaces",
                newName: "settle_time");

            migrationBuilder.RenameColumn(
                name: "position",
                table: "slots",
                newName: "place");

            migrationBuilder.RenameColumn(
                name: "replaces",
                table: "rotas",
                newName: "stands_in_for");

            migrationBuilder.RenameIndex(
                name: "ix_rotas_workspace_id_replaces",
                table: "rotas",
                newName: "ix_rotas_workspace_id_stands_in_for");

            migrationBuilder.RenameColumn(
                name: "wording",
                table: "deliveries",
                newName: "alternate");

            migrationBuilder.RenameColumn(
                name: "text_fingerprint",
                table: "deliveries",
                newName: "print");

            migrationBuilder.RenameColumn(
                name: "drawn_in_order",
                table: "deliveries",
                newName: "given_in_order");

            migrationBuilder.RenameColumn(
                name: "drawn_by",
                table: "deliveries",
                newName: "given_by");

            migrationBuilder.RenameColumn(
                name: "position",
                table: "channels",
                newName: "place");

            migrationBuilder.RenameColumn(
                name: "position",
                table: "categories",
                newName: "place");

            migrationBuilder.RenameColumn(
                name: "needs_approval",
                table: "categories",
                newName: "needs_sign_off");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null and state not in ('StandBy', 'Missed') and not look_up_only");

            migrationBuilder.AddForeignKey(
                name: "fk_rotas_rotas_workspace_id_stands_in_for",
                table: "rotas",
                columns: new[] { "workspace_id", "stands_in_for" },
                principalTable: "rotas",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Restrict);
        }
    }
}
