using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class Booking : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Instant>(
                name: "next_to_pass",
                table: "workspaces",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<double>(
                name: "stale_above",
                table: "workspaces",
                type: "double precision",
                nullable: false,
                defaultValue: 0.6);

            migrationBuilder.CreateTable(
                name: "channel_audiences",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    online = table.Column<string>(type: "jsonb", nullable: false),
                    read_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_channel_audiences", x => new { x.workspace_id, x.channel_id });
                    table.ForeignKey(
                        name: "fk_channel_audiences_channels_workspace_id_channel_id",
                        columns: x => new { x.workspace_id, x.channel_id },
                        principalTable: "channels",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "passed_places",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    slot_id = table.Column<Guid>(type: "uuid", nullable: false),
                    slot_date = table.Column<LocalDate>(type: "date", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    local = table.Column<LocalDateTime>(type: "timestamp without time zone", nullable: false),
                    channels = table.Column<string>(type: "jsonb", nullable: false),
                    category_id = table.Column<Guid>(type: "uuid", nullable: true),
                    why = table.Column<string>(type: "text", nullable: false),
                    dealt_with = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_passed_places", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_passed_places_slots_workspace_id_slot_id",
                        columns: x => new { x.workspace_id, x.slot_id },
                        principalTable: "slots",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_passed_places_workspace_id_at",
                table: "passed_places",
                columns: new[] { "workspace_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_passed_places_workspace_id_slot_id_slot_date",
                table: "passed_places",
                columns: new[] { "workspace_id", "slot_id", "slot_date" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "channel_audiences");

            migrationBuilder.DropTable(
                name: "passed_places");

            migrationBuilder.DropColumn(
                name: "next_to_pass",
                table: "workspaces");

            migrationBuilder.DropColumn(
                name: "stale_above",
                table: "workspaces");
        }
    }
}
