using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class Spine : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "business_times",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    ahead = table.Column<Duration>(type: "interval", nullable: false),
                    target = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_business_times", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "people",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    user_name = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_user_name = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    email = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_email = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    email_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    password_hash = table.Column<string>(type: "text", nullable: true),
                    security_stamp = table.Column<string>(type: "text", nullable: true),
                    concurrency_stamp = table.Column<string>(type: "text", nullable: true),
                    phone_number = table.Column<string>(type: "text", nullable: true),
                    phone_number_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    two_factor_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    lockout_end = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    lockout_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    access_failed_count = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_people", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "workspaces",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    slug = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    zone = table.Column<string>(type: "text", nullable: false),
                    settle_time = table.Column<Duration>(type: "interval", nullable: false),
                    late_after = table.Column<Duration>(type: "interval", nullable: false),
                    settled_through = table.Column<LocalDate>(type: "date", nullable: true),
                    plan_stamp = table.Column<long>(type: "bigint", nullable: false),
                    settled_stamp = table.Column<long>(type: "bigint", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_workspaces", x => x.id);
                });

            migrationBuilder.CreateTable(
                name: "person_claims",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    claim_type = table.Column<string>(type: "text", nullable: true),
                    claim_value = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_claims", x => x.id);
                    table.ForeignKey(
                        name: "fk_person_claims_people_user_id",
                        column: x => x.user_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "person_logins",
                columns: table => new
                {
                    login_provider = table.Column<string>(type: "text", nullable: false),
                    provider_key = table.Column<string>(type: "text", nullable: false),
                    provider_display_name = table.Column<string>(type: "text", nullable: true),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_logins", x => new { x.login_provider, x.provider_key });
                    table.ForeignKey(
                        name: "fk_person_logins_people_user_id",
                        column: x => x.user_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "person_tokens",
                columns: table => new
                {
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    login_provider = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    value = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_tokens", x => new { x.user_id, x.login_provider, x.name });
                    table.ForeignKey(
                        name: "fk_person_tokens_people_user_id",
                        column: x => x.user_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "categories",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    colour = table.Column<string>(type: "text", nullable: false),
                    monogram = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<int>(type: "integer", nullable: false),
                    usual_channels = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_categories", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_categories_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "change_sets",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    act = table.Column<string>(type: "text", nullable: false),
                    undone_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_change_sets", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_change_sets_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "channels",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    network = table.Column<string>(type: "text", nullable: false),
                    account = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    handle = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<int>(type: "integer", nullable: false),
                    connection = table.Column<string>(type: "text", nullable: false),
                    connection_trouble = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_channels", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_channels_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "media",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    hash = table.Column<string>(type: "text", nullable: false),
                    file_name = table.Column<string>(type: "text", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<long>(type: "bigint", nullable: false),
                    width = table.Column<int>(type: "integer", nullable: false),
                    height = table.Column<int>(type: "integer", nullable: false),
                    alt_text = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_media", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_media_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "memberships",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_memberships", x => new { x.workspace_id, x.person_id });
                    table.ForeignKey(
                        name: "fk_memberships_people_person_id",
                        column: x => x.person_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_memberships_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "rotas",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    zone = table.Column<string>(type: "text", nullable: false),
                    from = table.Column<LocalDate>(type: "date", nullable: true),
                    to = table.Column<LocalDate>(type: "date", nullable: true),
                    rank = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rotas", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_rotas_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "posts",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    category_id = table.Column<Guid>(type: "uuid", nullable: false),
                    stage = table.Column<string>(type: "text", nullable: false),
                    lifespan = table.Column<string>(type: "text", nullable: false),
                    in_rotation = table.Column<bool>(type: "boolean", nullable: false),
                    added_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    added_order = table.Column<int>(type: "integer", nullable: false),
                    channels = table.Column<string>(type: "jsonb", nullable: true),
                    content = table.Column<string>(type: "jsonb", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    fits = table.Column<string>(type: "jsonb", nullable: false),
                    removed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_posts", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_posts_categories_workspace_id_category_id",
                        columns: x => new { x.workspace_id, x.category_id },
                        principalTable: "categories",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "changes",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    change_set_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    entity = table.Column<string>(type: "text", nullable: false),
                    entity_id = table.Column<Guid>(type: "uuid", nullable: false),
                    before = table.Column<string>(type: "jsonb", nullable: true),
                    after = table.Column<string>(type: "jsonb", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_changes", x => new { x.workspace_id, x.change_set_id, x.number });
                    table.ForeignKey(
                        name: "fk_changes_change_sets_workspace_id_change_set_id",
                        columns: x => new { x.workspace_id, x.change_set_id },
                        principalTable: "change_sets",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "import_runs",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    file_name = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    posts = table.Column<int>(type: "integer", nullable: false),
                    deliveries = table.Column<int>(type: "integer", nullable: false),
                    change_set_id = table.Column<Guid>(type: "uuid", nullable: false),
                    taken_back_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_import_runs", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_import_runs_change_sets_workspace_id_change_set_id",
                        columns: x => new { x.workspace_id, x.change_set_id },
                        principalTable: "change_sets",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "channel_secrets",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    access_token = table.Column<string>(type: "text", nullable: false),
                    refresh_token = table.Column<string>(type: "text", nullable: false),
                    expires_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_channel_secrets", x => new { x.workspace_id, x.channel_id });
                    table.ForeignKey(
                        name: "fk_channel_secrets_channels_workspace_id_channel_id",
                        columns: x => new { x.workspace_id, x.channel_id },
                        principalTable: "channels",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "slots",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    rota_id = table.Column<Guid>(type: "uuid", nullable: false),
                    days = table.Column<string>(type: "jsonb", nullable: false),
                    time = table.Column<LocalTime>(type: "time", nullable: false),
                    category_id = table.Column<Guid>(type: "uuid", nullable: true),
                    channels = table.Column<string>(type: "jsonb", nullable: false),
                    place = table.Column<int>(type: "integer", nullable: false),
                    removed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_slots", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_slots_categories_workspace_id_category_id",
                        columns: x => new { x.workspace_id, x.category_id },
                        principalTable: "categories",
                        principalColumns: new[] { "workspace_id", "id" });
                    table.ForeignKey(
                        name: "fk_slots_rotas_workspace_id_rota_id",
                        columns: x => new { x.workspace_id, x.rota_id },
                        principalTable: "rotas",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "post_versions",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    post_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    content = table.Column<string>(type: "jsonb", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    made_by = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_post_versions", x => new { x.workspace_id, x.post_id, x.number });
                    table.ForeignKey(
                        name: "fk_post_versions_posts_workspace_id_post_id",
                        columns: x => new { x.workspace_id, x.post_id },
                        principalTable: "posts",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "deliveries",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    post_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    local_date = table.Column<LocalDate>(type: "date", nullable: false),
                    local_time = table.Column<LocalTime>(type: "time", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    slot_id = table.Column<Guid>(type: "uuid", nullable: true),
                    slot_date = table.Column<LocalDate>(type: "date", nullable: true),
                    why = table.Column<string>(type: "text", nullable: true),
                    instead_of = table.Column<Guid>(type: "uuid", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: true),
                    sent = table.Column<string>(type: "jsonb", nullable: true),
                    print = table.Column<string>(type: "text", nullable: true),
                    sent_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    remote_id = table.Column<string>(type: "text", nullable: true),
                    address = table.Column<string>(type: "text", nullable: true),
                    trouble = table.Column<string>(type: "text", nullable: true),
                    dealt_with = table.Column<bool>(type: "boolean", nullable: false),
                    lease = table.Column<Guid>(type: "uuid", nullable: true),
                    lease_until = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    next_reading_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    attempts = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deliveries", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_deliveries_channels_workspace_id_channel_id",
                        columns: x => new { x.workspace_id, x.channel_id },
                        principalTable: "channels",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_deliveries_deliveries_workspace_id_instead_of",
                        columns: x => new { x.workspace_id, x.instead_of },
                        principalTable: "deliveries",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_deliveries_posts_workspace_id_post_id",
                        columns: x => new { x.workspace_id, x.post_id },
                        principalTable: "posts",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_deliveries_slots_workspace_id_slot_id",
                        columns: x => new { x.workspace_id, x.slot_id },
                        principalTable: "slots",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "age_figures",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    age_hours = table.Column<int>(type: "integer", nullable: false),
                    figures = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_age_figures", x => new { x.workspace_id, x.delivery_id, x.age_hours });
                    table.ForeignKey(
                        name: "fk_age_figures_deliveries_workspace_id_delivery_id",
                        columns: x => new { x.workspace_id, x.delivery_id },
                        principalTable: "deliveries",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "delivery_attempts",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    step = table.Column<string>(type: "text", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    outcome = table.Column<string>(type: "text", nullable: true),
                    done = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_delivery_attempts", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_delivery_attempts_deliveries_workspace_id_delivery_id",
                        columns: x => new { x.workspace_id, x.delivery_id },
                        principalTable: "deliveries",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "readings",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    figures = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_readings", x => new { x.workspace_id, x.delivery_id, x.at });
                    table.ForeignKey(
                        name: "fk_readings_deliveries_workspace_id_delivery_id",
                        columns: x => new { x.workspace_id, x.delivery_id },
                        principalTable: "deliveries",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_categories_workspace_id_name",
                table: "categories",
                columns: new[] { "workspace_id", "name" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_change_sets_workspace_id_at",
                table: "change_sets",
                columns: new[] { "workspace_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_changes_workspace_id_entity_id",
                table: "changes",
                columns: new[] { "workspace_id", "entity_id" });

            migrationBuilder.CreateIndex(
                name: "ix_channels_workspace_id_network_account",
                table: "channels",
                columns: new[] { "workspace_id", "network", "account" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_next_reading_at",
                table: "deliveries",
                column: "next_reading_at");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_state_at",
                table: "deliveries",
                columns: new[] { "state", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_at",
                table: "deliveries",
                columns: new[] { "workspace_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_channel_id",
                table: "deliveries",
                columns: new[] { "workspace_id", "channel_id" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_instead_of",
                table: "deliveries",
                columns: new[] { "workspace_id", "instead_of" });

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
                filter: "slot_id is not null");

            migrationBuilder.CreateIndex(
                name: "ix_delivery_attempts_workspace_id_delivery_id",
                table: "delivery_attempts",
                columns: new[] { "workspace_id", "delivery_id" });

            migrationBuilder.CreateIndex(
                name: "ix_import_runs_workspace_id_change_set_id",
                table: "import_runs",
                columns: new[] { "workspace_id", "change_set_id" });

            migrationBuilder.CreateIndex(
                name: "ix_media_workspace_id_hash",
                table: "media",
                columns: new[] { "workspace_id", "hash" });

            migrationBuilder.CreateIndex(
                name: "ix_memberships_person_id",
                table: "memberships",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "people",
                column: "normalized_email");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "people",
                column: "normalized_user_name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_person_claims_user_id",
                table: "person_claims",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_person_logins_user_id",
                table: "person_logins",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_posts_workspace_id_category_id",
                table: "posts",
                columns: new[] { "workspace_id", "category_id" });

            migrationBuilder.CreateIndex(
                name: "ix_slots_workspace_id_category_id",
                table: "slots",
                columns: new[] { "workspace_id", "category_id" });

            migrationBuilder.CreateIndex(
                name: "ix_slots_workspace_id_rota_id",
                table: "slots",
                columns: new[] { "workspace_id", "rota_id" });

            migrationBuilder.CreateIndex(
                name: "ix_workspaces_slug",
                table: "workspaces",
                column: "slug",
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "age_figures");

            migrationBuilder.DropTable(
                name: "business_times");

            migrationBuilder.DropTable(
                name: "changes");

            migrationBuilder.DropTable(
                name: "channel_secrets");

            migrationBuilder.DropTable(
                name: "delivery_attempts");

            migrationBuilder.DropTable(
                name: "import_runs");

            migrationBuilder.DropTable(
                name: "media");

            migrationBuilder.DropTable(
                name: "memberships");

            migrationBuilder.DropTable(
                name: "person_claims");

            migrationBuilder.DropTable(
                name: "person_logins");

            migrationBuilder.DropTable(
                name: "person_tokens");

            migrationBuilder.DropTable(
                name: "post_versions");

            migrationBuilder.DropTable(
                name: "readings");

            migrationBuilder.DropTable(
                name: "change_sets");

            migrationBuilder.DropTable(
                name: "people");

            migrationBuilder.DropTable(
                name: "deliveries");

            migrationBuilder.DropTable(
                name: "channels");

            migrationBuilder.DropTable(
                name: "posts");

            migrationBuilder.DropTable(
                name: "slots");

            migrationBuilder.DropTable(
                name: "categories");

            migrationBuilder.DropTable(
                name: "rotas");

            migrationBuilder.DropTable(
                name: "workspaces");
        }
    }
}
