using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class SendingKeepsItsWord : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_channel_id",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_instead_of",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.RenameColumn(
                name: "outcome",
                table: "delivery_attempts",
                newName: "remote_id");

            migrationBuilder.AddColumn<string>(
                name: "address",
                table: "delivery_attempts",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "end",
                table: "delivery_attempts",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "look_ups",
                table: "delivery_attempts",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<Instant>(
                name: "looked_up_at",
                table: "delivery_attempts",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "reason",
                table: "delivery_attempts",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "remote_at",
                table: "delivery_attempts",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "since",
                table: "delivery_attempts",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: NodaTime.Instant.FromUnixTimeTicks(0L));

            migrationBuilder.AddColumn<bool>(
                name: "look_up_only",
                table: "deliveries",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<int>(
                name: "revision",
                table: "deliveries",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.CreateTable(
                name: "restores",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    backup_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    restored_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_restores", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "work_failures",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    work = table.Column<string>(type: "text", nullable: false),
                    subject = table.Column<Guid>(type: "uuid", nullable: false),
                    count = table.Column<int>(type: "integer", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    retry_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    words = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_work_failures", x => new { x.workspace_id, x.work, x.subject });
                    table.ForeignKey(
                        name: "fk_work_failures_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            // How an attempt ended was told by a flag and the beginning of a sentence; now by a kind, with the network's identity apart.
            migrationBuilder.Sql(
                """
                update delivery_attempts a set
                  "end" = case when done then 'Done' when remote_id like 'Looked up, not there.%' then 'Absent' when remote_id like 'Refused:%' then 'Refused'
                    when remote_id like 'TokenExpired:%' or remote_id like 'Busy:%' then 'Busy' when remote_id like 'Lost:%' then 'Lost' end,
                  reason = case when not done then remote_id end,
                  remote_id = case when done then remote_id end,
                  since = coalesce((select d.at from deliveries d where d.workspace_id = a.workspace_id and d.id = a.delivery_id), a.started_at);
                """);

            migrationBuilder.DropColumn(
                name: "done",
                table: "delivery_attempts");

            // Two people at once could put two deliveries in the place of one: the earlier keeps it.
            migrationBuilder.Sql(
                """
                update deliveries d set instead_of = null
                where instead_of is not null and state <> 'Cancelled' and exists (
                  select 1 from deliveries e where e.workspace_id = d.workspace_id and e.instead_of = d.instead_of and e.state <> 'Cancelled' and e.id < d.id);
                """);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_channel_id_state_at",
                table: "deliveries",
                columns: new[] { "workspace_id", "channel_id", "state", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_instead_of",
                table: "deliveries",
                columns: new[] { "workspace_id", "instead_of" },
                unique: true,
                filter: "instead_of is not null and state <> 'Cancelled'");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null and state not in ('StandBy', 'Missed') and not look_up_only");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "restores");

            migrationBuilder.DropTable(
                name: "work_failures");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_channel_id_state_at",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_instead_of",
                table: "deliveries");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "address",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "end",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "look_ups",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "looked_up_at",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "reason",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "remote_at",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "since",
                table: "delivery_attempts");

            migrationBuilder.DropColumn(
                name: "look_up_only",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "revision",
                table: "deliveries");

            migrationBuilder.RenameColumn(
                name: "remote_id",
                table: "delivery_attempts",
                newName: "outcome");

            migrationBuilder.AddColumn<bool>(
                name: "done",
                table: "delivery_attempts",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "channel_id" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_instead_of",
                table: "deliveries",
                columns: new[] { "workspace_id", "instead_of" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null and state not in ('StandBy', 'Missed')");
        }
    }
}
