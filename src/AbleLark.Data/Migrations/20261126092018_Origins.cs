using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class Origins : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_decisions_slots_workspace_id_slot_id",
                table: "decisions");

            migrationBuilder.DropForeignKey(
                name: "fk_deliveries_slots_workspace_id_slot_id",
                table: "deliveries");

            migrationBuilder.DropForeignKey(
                name: "fk_passed_places_slots_workspace_id_slot_id",
                table: "passed_places");

            migrationBuilder.DropIndex(
                name: "ix_passed_places_workspace_id_slot_id_slot_date",
                table: "passed_places");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_post_id_channel_id_at",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_decisions_workspace_id_slot_id_date",
                table: "decisions");

            migrationBuilder.RenameColumn(
                name: "slot_id",
                table: "passed_places",
                newName: "origin_id");

            migrationBuilder.RenameColumn(
                name: "slot_date",
                table: "passed_places",
                newName: "origin_date");

            migrationBuilder.RenameColumn(
                name: "slot_id",
                table: "decisions",
                newName: "origin_id");

            migrationBuilder.RenameColumn(
                name: "date",
                table: "decisions",
                newName: "origin_date");

            migrationBuilder.AddColumn<string>(
                name: "origin_kind",
                table: "passed_places",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<LocalTime>(
                name: "origin_time",
                table: "passed_places",
                type: "time",
                nullable: true);

            migrationBuilder.AddColumn<LocalDate>(
                name: "origin_date",
                table: "deliveries",
                type: "date",
                nullable: false,
                defaultValue: new NodaTime.LocalDate(1, 1, 1));

            migrationBuilder.AddColumn<Guid>(
                name: "origin_id",
                table: "deliveries",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000"));

            migrationBuilder.AddColumn<string>(
                name: "origin_kind",
                table: "deliveries",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<LocalTime>(
                name: "origin_time",
                table: "deliveries",
                type: "time",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "origin_kind",
                table: "decisions",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<LocalTime>(
                name: "origin_time",
                table: "decisions",
                type: "time",
                nullable: true);

            // Each delivery's origin; exact times of one post that only a change of the workspace's zone brought to the same local time
            // stay apart.
            migrationBuilder.Sql(
                """
                update decisions set origin_kind = 'Place';
                update passed_places set origin_kind = 'Place';
                update deliveries set origin_kind = 'Place', origin_id = slot_id, origin_date = slot_date where slot_id is not null;
                update deliveries set origin_kind = 'ExactTime', origin_id = post_id, origin_date = local_date, origin_time = local_time
                where slot_id is null;
                update deliveries d set origin_id = d.id where d.slot_id is null and exists (
                  select 1 from deliveries o where o.workspace_id = d.workspace_id and o.slot_id is null and o.post_id = d.post_id
                    and o.channel_id = d.channel_id and o.local_date = d.local_date and o.local_time = d.local_time and o.id < d.id);
                create function logged_of(v jsonb, kind text) returns jsonb language sql as $$
                  select case
                    when v is null then null
                    when kind = 'decision' and v ? 'slot_id' then v - 'slot_id' - 'date' || jsonb_build_object(
                      'origin_kind', 'place', 'origin_id', v -> 'slot_id', 'origin_date', v -> 'date', 'origin_time', null)
                    when not v ? 'slot_id' then v
                    when jsonb_typeof(v -> 'slot_id') = 'string' then v - 'slot_id' - 'slot_date' || jsonb_build_object(
                      'origin_kind', 'place', 'origin_id', v -> 'slot_id', 'origin_date', v -> 'slot_date', 'origin_time', null)
                    else v - 'slot_id' - 'slot_date' || jsonb_build_object('origin_kind', 'exactTime', 'origin_id', v -> 'post_id',
                      'origin_date', v -> 'local_date', 'origin_time', v -> 'local_time')
                    end
                $$;
                update changes set before = logged_of(before, entity), after = logged_of(after, entity)
                where entity in ('delivery', 'decision', 'passedPlace');
                drop function logged_of(jsonb, text);
                """);

            migrationBuilder.DropColumn(
                name: "slot_date",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "slot_id",
                table: "deliveries");

            migrationBuilder.CreateIndex(
                name: "ix_passed_places_workspace_id_origin_kind_origin_id_origin_dat",
                table: "passed_places",
                columns: new[] { "workspace_id", "origin_kind", "origin_id", "origin_date", "origin_time" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_origin_kind_origin_id_origin_date_o",
                table: "deliveries",
                columns: new[] { "workspace_id", "origin_kind", "origin_id", "origin_date", "origin_time", "channel_id" },
                unique: true,
                filter: "state not in ('Substitute', 'Missed', 'Cancelled') and not look_up_only")
                .Annotation("Npgsql:NullsDistinct", false);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_post_id_channel_id_at",
                table: "deliveries",
                columns: new[] { "workspace_id", "post_id", "channel_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_decisions_workspace_id_origin_kind_origin_id_origin_date_or",
                table: "decisions",
                columns: new[] { "workspace_id", "origin_kind", "origin_id", "origin_date", "origin_time" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);

            migrationBuilder.AddForeignKey(
                name: "fk_decisions_workspaces_workspace_id",
                table: "decisions",
                column: "workspace_id",
                principalTable: "workspaces",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_passed_places_workspaces_workspace_id",
                table: "passed_places",
                column: "workspace_id",
                principalTable: "workspaces",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_decisions_workspaces_workspace_id",
                table: "decisions");

            migrationBuilder.DropForeignKey(
                name: "fk_passed_places_workspaces_workspace_id",
                table: "passed_places");

            migrationBuilder.DropIndex(
                name: "ix_passed_places_workspace_id_origin_kind_origin_id_origin_dat",
                table: "passed_places");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_origin_kind_origin_id_origin_date_o",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_post_id_channel_id_at",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_decisions_workspace_id_origin_kind_origin_id_origin_date_or",
                table: "decisions");

            migrationBuilder.DropColumn(
                name: "origin_kind",
                table: "passed_places");

            migrationBuilder.DropColumn(
                name: "origin_time",
                table: "passed_places");

            migrationBuilder.DropColumn(
                name: "origin_date",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "origin_id",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "origin_kind",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "origin_time",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "origin_kind",
                table: "decisions");

            migrationBuilder.DropColumn(
                name: "origin_time",
                table: "decisions");

            migrationBuilder.RenameColumn(
                name: "origin_id",
                table: "passed_places",
                newName: "slot_id");

            migrationBuilder.RenameColumn(
                name: "origin_date",
                table: "passed_places",
                newName: "slot_date");

            migrationBuilder.RenameColumn(
                name: "origin_id",
                table: "decisions",
                newName: "slot_id");

            migrationBuilder.RenameColumn(
                name: "origin_date",
                table: "decisions",
                newName: "date");

            migrationBuilder.AddColumn<LocalDate>(
                name: "slot_date",
                table: "deliveries",
                type: "date",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "slot_id",
                table: "deliveries",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_passed_places_workspace_id_slot_id_slot_date",
                table: "passed_places",
                columns: new[] { "workspace_id", "slot_id", "slot_date" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_post_id_channel_id_at",
                table: "deliveries",
                columns: new[] { "workspace_id", "post_id", "channel_id", "at" },
                unique: true,
                filter: "slot_id is null and state <> 'Cancelled'");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null and state not in ('Substitute', 'Missed') and not look_up_only");

            migrationBuilder.CreateIndex(
                name: "ix_decisions_workspace_id_slot_id_date",
                table: "decisions",
                columns: new[] { "workspace_id", "slot_id", "date" },
                unique: true);

            migrationBuilder.AddForeignKey(
                name: "fk_decisions_slots_workspace_id_slot_id",
                table: "decisions",
                columns: new[] { "workspace_id", "slot_id" },
                principalTable: "slots",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_deliveries_slots_workspace_id_slot_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id" },
                principalTable: "slots",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Restrict);

            migrationBuilder.AddForeignKey(
                name: "fk_passed_places_slots_workspace_id_slot_id",
                table: "passed_places",
                columns: new[] { "workspace_id", "slot_id" },
                principalTable: "slots",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Cascade);
        }
    }
}
