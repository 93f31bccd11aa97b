using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class KeyDates : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Instant>(
                name: "taken_down_at",
                table: "deliveries",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "calendar_feeds",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    query = table.Column<string>(type: "text", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    used_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    revoked_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_calendar_feeds", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_calendar_feeds_people_person_id",
                        column: x => x.person_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_calendar_feeds_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "key_date_kinds",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    mark = table.Column<string>(type: "text", nullable: false),
                    colour = table.Column<string>(type: "text", nullable: false),
                    is_shown_to_clients = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_key_date_kinds", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_key_date_kinds_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "calendar_sources",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    kind_id = table.Column<Guid>(type: "uuid", nullable: false),
                    address = table.Column<string>(type: "text", nullable: true),
                    read_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    next_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    trouble = table.Column<string>(type: "text", nullable: true),
                    left_out = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_calendar_sources", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_calendar_sources_key_date_kinds_workspace_id_kind_id",
                        columns: x => new { x.workspace_id, x.kind_id },
                        principalTable: "key_date_kinds",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_calendar_sources_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "key_dates",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind_id = table.Column<Guid>(type: "uuid", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    notes = table.Column<string>(type: "text", nullable: false),
                    date = table.Column<LocalDate>(type: "date", nullable: false),
                    days = table.Column<int>(type: "integer", nullable: false),
                    time = table.Column<LocalTime>(type: "time", nullable: true),
                    zone = table.Column<string>(type: "text", nullable: true),
                    rule = table.Column<string>(type: "text", nullable: true),
                    skipped = table.Column<string>(type: "jsonb", nullable: false),
                    moved = table.Column<string>(type: "jsonb", nullable: false),
                    is_live = table.Column<bool>(type: "boolean", nullable: false),
                    done = table.Column<string>(type: "jsonb", nullable: false),
                    source_id = table.Column<Guid>(type: "uuid", nullable: true),
                    outside_id = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_key_dates", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_key_dates_calendar_sources_workspace_id_source_id",
                        columns: x => new { x.workspace_id, x.source_id },
                        principalTable: "calendar_sources",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_key_dates_key_date_kinds_workspace_id_kind_id",
                        columns: x => new { x.workspace_id, x.kind_id },
                        principalTable: "key_date_kinds",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_key_dates_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "key_date_ties",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key_date_id = table.Column<Guid>(type: "uuid", nullable: false),
                    occurrence = table.Column<LocalDate>(type: "date", nullable: false),
                    stood = table.Column<LocalDate>(type: "date", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_key_date_ties", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_key_date_ties_deliveries_workspace_id_delivery_id",
                        columns: x => new { x.workspace_id, x.delivery_id },
                        principalTable: "deliveries",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_key_date_ties_key_dates_workspace_id_key_date_id",
                        columns: x => new { x.workspace_id, x.key_date_id },
                        principalTable: "key_dates",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_calendar_feeds_digest",
                table: "calendar_feeds",
                column: "digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_calendar_feeds_person_id",
                table: "calendar_feeds",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_calendar_sources_next_at",
                table: "calendar_sources",
                column: "next_at");

            migrationBuilder.CreateIndex(
                name: "ix_calendar_sources_workspace_id_kind_id",
                table: "calendar_sources",
                columns: new[] { "workspace_id", "kind_id" });

            migrationBuilder.CreateIndex(
                name: "ix_key_date_kinds_workspace_id_name",
                table: "key_date_kinds",
                columns: new[] { "workspace_id", "name" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_key_date_ties_workspace_id_delivery_id",
                table: "key_date_ties",
                columns: new[] { "workspace_id", "delivery_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_key_date_ties_workspace_id_key_date_id",
                table: "key_date_ties",
                columns: new[] { "workspace_id", "key_date_id" });

            migrationBuilder.CreateIndex(
                name: "ix_key_dates_workspace_id_kind_id",
                table: "key_dates",
                columns: new[] { "workspace_id", "kind_id" });

            migrationBuilder.CreateIndex(
                name: "ix_key_dates_workspace_id_source_id_outside_id",
                table: "key_dates",
                columns: new[] { "workspace_id", "source_id", "outside_id" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "calendar_feeds");

            migrationBuilder.DropTable(
                name: "key_date_ties");

            migrationBuilder.DropTable(
                name: "key_dates");

            migrationBuilder.DropTable(
                name: "calendar_sources");

            migrationBuilder.DropTable(
                name: "key_date_kinds");

            migrationBuilder.DropColumn(
                name: "taken_down_at",
                table: "deliveries");
        }
    }
}
