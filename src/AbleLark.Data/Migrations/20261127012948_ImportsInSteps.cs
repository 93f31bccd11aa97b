using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class ImportsInSteps : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_import_runs_change_sets_workspace_id_change_set_id",
                table: "import_runs");

            migrationBuilder.AddColumn<string>(
                name: "notes",
                table: "posts",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "outside_id",
                table: "posts",
                type: "text",
                nullable: true);

            migrationBuilder.AlterColumn<Guid>(
                name: "change_set_id",
                table: "import_runs",
                type: "uuid",
                nullable: true,
                oldClrType: typeof(Guid),
                oldType: "uuid");

            migrationBuilder.AlterColumn<Instant>(
                name: "at",
                table: "import_runs",
                type: "timestamp with time zone",
                nullable: true,
                oldClrType: typeof(Instant),
                oldType: "timestamp with time zone");

            migrationBuilder.AddColumn<int>(
                name: "changed",
                table: "import_runs",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "delimiter",
                table: "import_runs",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "encoding",
                table: "import_runs",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "headers",
                table: "import_runs",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "plan",
                table: "import_runs",
                type: "jsonb",
                nullable: false,
                defaultValue: "{\"headerRow\":0,\"targets\":[],\"orders\":{}}");

            migrationBuilder.AddColumn<int>(
                name: "plan_revision",
                table: "import_runs",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "revision",
                table: "import_runs",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "sheet_name",
                table: "import_runs",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "source_key",
                table: "import_runs",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<Instant>(
                name: "started_at",
                table: "import_runs",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: NodaTime.Instant.FromUnixTimeTicks(0L));

            migrationBuilder.AddColumn<Guid>(
                name: "started_by",
                table: "import_runs",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "state",
                table: "import_runs",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.Sql(
                """
                update import_runs set started_at = at,
                    state = case when taken_back_at is null then 'Imported' else 'TakenBack' end;
                """);

            migrationBuilder.CreateTable(
                name: "import_edits",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row = table.Column<int>(type: "integer", nullable: false),
                    edit = table.Column<string>(type: "jsonb", nullable: false),
                    revision = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_import_edits", x => new { x.workspace_id, x.import_id, x.row });
                    table.ForeignKey(
                        name: "fk_import_edits_import_runs_workspace_id_import_id",
                        columns: x => new { x.workspace_id, x.import_id },
                        principalTable: "import_runs",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "imported_rows",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row = table.Column<int>(type: "integer", nullable: false),
                    end = table.Column<string>(type: "text", nullable: false),
                    post_id = table.Column<Guid>(type: "uuid", nullable: true),
                    words = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_imported_rows", x => new { x.workspace_id, x.import_id, x.row });
                    table.ForeignKey(
                        name: "fk_imported_rows_import_runs_workspace_id_import_id",
                        columns: x => new { x.workspace_id, x.import_id },
                        principalTable: "import_runs",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_imported_rows_posts_workspace_id_post_id",
                        columns: x => new { x.workspace_id, x.post_id },
                        principalTable: "posts",
                        principalColumns: new[] { "workspace_id", "id" });
                });

            migrationBuilder.CreateIndex(
                name: "ix_posts_workspace_id_outside_id",
                table: "posts",
                columns: new[] { "workspace_id", "outside_id" },
                unique: true,
                filter: "outside_id is not null and removed_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_import_runs_workspace_id_started_at",
                table: "import_runs",
                columns: new[] { "workspace_id", "started_at" });

            migrationBuilder.CreateIndex(
                name: "ix_imported_rows_workspace_id_post_id",
                table: "imported_rows",
                columns: new[] { "workspace_id", "post_id" });

            migrationBuilder.AddForeignKey(
                name: "fk_import_runs_change_sets_workspace_id_change_set_id",
                table: "import_runs",
                columns: new[] { "workspace_id", "change_set_id" },
                principalTable: "change_sets",
                principalColumns: new[] { "workspace_id", "id" });

            migrationBuilder.AddForeignKey(
                name: "fk_import_runs_workspaces_workspace_id",
                table: "import_runs",
                column: "workspace_id",
                principalTable: "workspaces",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_import_runs_change_sets_workspace_id_change_set_id",
                table: "import_runs");

            migrationBuilder.DropForeignKey(
                name: "fk_import_runs_workspaces_workspace_id",
                table: "import_runs");

            migrationBuilder.DropTable(
                name: "import_edits");

            migrationBuilder.DropTable(
                name: "imported_rows");

            migrationBuilder.DropIndex(
                name: "ix_posts_workspace_id_outside_id",
                table: "posts");

            migrationBuilder.DropIndex(
                name: "ix_import_runs_workspace_id_started_at",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "notes",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "outside_id",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "changed",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "delimiter",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "encoding",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "headers",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "plan",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "plan_revision",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "revision",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "sheet_name",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "source_key",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "started_at",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "started_by",
                table: "import_runs");

            migrationBuilder.DropColumn(
                name: "state",
                table: "import_runs");

            migrationBuilder.AlterColumn<Guid>(
                name: "change_set_id",
                table: "import_runs",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000"),
                oldClrType: typeof(Guid),
                oldType: "uuid",
                oldNullable: true);

            migrationBuilder.AlterColumn<Instant>(
                name: "at",
                table: "import_runs",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: NodaTime.Instant.FromUnixTimeTicks(0L),
                oldClrType: typeof(Instant),
                oldType: "timestamp with time zone",
                oldNullable: true);

            migrationBuilder.AddForeignKey(
                name: "fk_import_runs_change_sets_workspace_id_change_set_id",
                table: "import_runs",
                columns: new[] { "workspace_id", "change_set_id" },
                principalTable: "change_sets",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Cascade);
        }
    }
}
