using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class SessionsAndTries : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "revision",
                table: "decisions",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.AddColumn<string>(
                name: "rights",
                table: "change_sets",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            migrationBuilder.CreateTable(
                name: "damaged_rows",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    row_id = table.Column<Guid>(type: "uuid", nullable: false),
                    table = table.Column<string>(type: "text", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    words = table.Column<string>(type: "text", nullable: false),
                    found_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_damaged_rows", x => new { x.workspace_id, x.kind, x.row_id });
                    table.ForeignKey(
                        name: "fk_damaged_rows_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "sessions",
                columns: table => new
                {
                    digest = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    security_stamp = table.Column<string>(type: "text", nullable: false),
                    ticket = table.Column<byte[]>(type: "bytea", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sessions", x => x.digest);
                    table.ForeignKey(
                        name: "fk_sessions_people_person_id",
                        column: x => x.person_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "try_counts",
                columns: table => new
                {
                    key = table.Column<string>(type: "text", nullable: false),
                    used_until = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_try_counts", x => x.key);
                });

            migrationBuilder.CreateIndex(
                name: "ix_sessions_ends_at",
                table: "sessions",
                column: "ends_at");

            migrationBuilder.CreateIndex(
                name: "ix_sessions_person_id",
                table: "sessions",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_try_counts_used_until",
                table: "try_counts",
                column: "used_until");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "damaged_rows");

            migrationBuilder.DropTable(
                name: "sessions");

            migrationBuilder.DropTable(
                name: "try_counts");

            migrationBuilder.DropColumn(
                name: "revision",
                table: "decisions");

            migrationBuilder.DropColumn(
                name: "rights",
                table: "change_sets");
        }
    }
}
