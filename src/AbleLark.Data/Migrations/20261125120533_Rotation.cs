using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class Rotation : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_slots_categories_workspace_id_category_id",
                table: "slots");

            migrationBuilder.DropIndex(
                name: "ix_slots_workspace_id_category_id",
                table: "slots");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.AddColumn<LocalDate>(
                name: "anchor",
                table: "slots",
                type: "date",
                nullable: false,
                defaultValue: new NodaTime.LocalDate(2000, 1, 3));

            migrationBuilder.AddColumn<string>(
                name: "categories",
                table: "slots",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            // A slot's one category becomes a list.
            migrationBuilder.Sql("update slots set categories = case when category_id is null then '[]'::jsonb else jsonb_build_array(category_id) end");

            migrationBuilder.DropColumn(
                name: "category_id",
                table: "slots");

            migrationBuilder.AddColumn<int>(
                name: "every",
                table: "slots",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.AddColumn<bool>(
                name: "fills_every_channel",
                table: "slots",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<LocalDate>(
                name: "from",
                table: "slots",
                type: "date",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "is_pool",
                table: "slots",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "order",
                table: "slots",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "rhythm",
                table: "slots",
                type: "text",
                nullable: false,
                defaultValue: "Weeks");

            migrationBuilder.AddColumn<LocalDate>(
                name: "to",
                table: "slots",
                type: "date",
                nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "removed_at",
                table: "rotas",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "stands_in_for",
                table: "rotas",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "version",
                table: "rotas",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.AddColumn<LocalDate>(
                name: "from",
                table: "posts",
                type: "date",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "further_categories",
                table: "posts",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            migrationBuilder.AddColumn<int>(
                name: "gap_days",
                table: "posts",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<LocalDate>(
                name: "to",
                table: "posts",
                type: "date",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "alternate",
                table: "deliveries",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<Guid>(
                name: "given_by",
                table: "deliveries",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "given_in_order",
                table: "deliveries",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "round",
                table: "deliveries",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "daily_limit",
                table: "channels",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<Duration>(
                name: "spacing",
                table: "channels",
                type: "interval",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "zone",
                table: "channels",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "gap_days",
                table: "categories",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "hashtags",
                table: "categories",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            migrationBuilder.AddColumn<string>(
                name: "lifespan",
                table: "categories",
                type: "text",
                nullable: false,
                defaultValue: "Evergreen");

            migrationBuilder.AddColumn<bool>(
                name: "needs_sign_off",
                table: "categories",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<bool>(
                name: "new_posts_rotate",
                table: "categories",
                type: "boolean",
                nullable: false,
                defaultValue: true);

            migrationBuilder.AddColumn<string>(
                name: "order",
                table: "categories",
                type: "jsonb",
                nullable: false,
                defaultValue: "{\"order\":\"newestFirst\",\"freshFirst\":false,\"pastGap\":false,\"seed\":0}");

            migrationBuilder.AddColumn<double>(
                name: "target_share",
                table: "categories",
                type: "double precision",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "api_tokens",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    used_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    revoked_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_api_tokens", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_api_tokens_people_person_id",
                        column: x => x.person_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_api_tokens_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "decisions",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    slot_id = table.Column<Guid>(type: "uuid", nullable: false),
                    date = table.Column<LocalDate>(type: "date", nullable: false),
                    is_skipped = table.Column<bool>(type: "boolean", nullable: false),
                    moved_to = table.Column<LocalDateTime>(type: "timestamp without time zone", nullable: true),
                    note = table.Column<string>(type: "text", nullable: true),
                    posts = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_decisions", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_decisions_slots_workspace_id_slot_id",
                        columns: x => new { x.workspace_id, x.slot_id },
                        principalTable: "slots",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "line_moves",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    post_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    side = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_line_moves", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_line_moves_channels_workspace_id_channel_id",
                        columns: x => new { x.workspace_id, x.channel_id },
                        principalTable: "channels",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_line_moves_posts_workspace_id_post_id",
                        columns: x => new { x.workspace_id, x.post_id },
                        principalTable: "posts",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "pauses",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    what = table.Column<string>(type: "text", nullable: false),
                    target = table.Column<Guid>(type: "uuid", nullable: false),
                    from = table.Column<LocalDate>(type: "date", nullable: false),
                    to = table.Column<LocalDate>(type: "date", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_pauses", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_pauses_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_rotas_workspace_id_stands_in_for",
                table: "rotas",
                columns: new[] { "workspace_id", "stands_in_for" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null and state not in ('StandBy', 'Missed')");

            migrationBuilder.CreateIndex(
                name: "ix_api_tokens_digest",
                table: "api_tokens",
                column: "digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_api_tokens_person_id",
                table: "api_tokens",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_decisions_workspace_id_slot_id_date",
                table: "decisions",
                columns: new[] { "workspace_id", "slot_id", "date" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_line_moves_workspace_id_channel_id",
                table: "line_moves",
                columns: new[] { "workspace_id", "channel_id" });

            migrationBuilder.CreateIndex(
                name: "ix_line_moves_workspace_id_post_id_channel_id",
                table: "line_moves",
                columns: new[] { "workspace_id", "post_id", "channel_id" },
                unique: true);

            migrationBuilder.AddForeignKey(
                name: "fk_rotas_rotas_workspace_id_stands_in_for",
                table: "rotas",
                columns: new[] { "workspace_id", "stands_in_for" },
                principalTable: "rotas",
                principalColumns: new[] { "workspace_id", "id" },
                onDelete: ReferentialAction.Restrict);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_rotas_rotas_workspace_id_stands_in_for",
                table: "rotas");

            migrationBuilder.DropTable(
                name: "api_tokens");

            migrationBuilder.DropTable(
                name: "decisions");

            migrationBuilder.DropTable(
                name: "line_moves");

            migrationBuilder.DropTable(
                name: "pauses");

            migrationBuilder.DropIndex(
                name: "ix_rotas_workspace_id_stands_in_for",
                table: "rotas");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "anchor",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "categories",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "every",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "fills_every_channel",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "from",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "is_pool",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "order",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "rhythm",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "to",
                table: "slots");

            migrationBuilder.DropColumn(
                name: "removed_at",
                table: "rotas");

            migrationBuilder.DropColumn(
                name: "stands_in_for",
                table: "rotas");

            migrationBuilder.DropColumn(
                name: "version",
                table: "rotas");

            migrationBuilder.DropColumn(
                name: "from",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "further_categories",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "gap_days",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "to",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "alternate",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "given_by",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "given_in_order",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "round",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "daily_limit",
                table: "channels");

            migrationBuilder.DropColumn(
                name: "spacing",
                table: "channels");

            migrationBuilder.DropColumn(
                name: "zone",
                table: "channels");

            migrationBuilder.DropColumn(
                name: "gap_days",
                table: "categories");

            migrationBuilder.DropColumn(
                name: "hashtags",
                table: "categories");

            migrationBuilder.DropColumn(
                name: "lifespan",
                table: "categories");

            migrationBuilder.DropColumn(
                name: "needs_sign_off",
                table: "categories");

            migrationBuilder.DropColumn(
                name: "new_posts_rotate",
                table: "categories");

            migrationBuilder.DropColumn(
                name: "order",
                table: "categories");

            migrationBuilder.DropColumn(
                name: "target_share",
                table: "categories");

            migrationBuilder.AddColumn<Guid>(
                name: "category_id",
                table: "slots",
                type: "uuid",
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_slots_workspace_id_category_id",
                table: "slots",
                columns: new[] { "workspace_id", "category_id" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_slot_id_slot_date_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "slot_id", "slot_date", "channel_id" },
                unique: true,
                filter: "slot_id is not null");

            migrationBuilder.AddForeignKey(
                name: "fk_slots_categories_workspace_id_category_id",
                table: "slots",
                columns: new[] { "workspace_id", "category_id" },
                principalTable: "categories",
                principalColumns: new[] { "workspace_id", "id" });
        }
    }
}
