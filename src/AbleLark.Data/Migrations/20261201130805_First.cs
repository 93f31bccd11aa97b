using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterDatabase()
                .Annotation("Npgsql:PostgresExtension:pg_trgm", ",,");

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
                    phone_number = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
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
                name: "workspaces",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    slug = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    colour = table.Column<string>(type: "text", nullable: false),
                    logo_id = table.Column<Guid>(type: "uuid", nullable: true),
                    zone = table.Column<string>(type: "text", nullable: false),
                    schedule_ahead = table.Column<Duration>(type: "interval", nullable: false),
                    late_after = table.Column<Duration>(type: "interval", nullable: false),
                    warn_above_repeats = table.Column<double>(type: "double precision", nullable: false),
                    allows_own_approval = table.Column<bool>(type: "boolean", nullable: false),
                    button_verbs = table.Column<string>(type: "jsonb", nullable: false),
                    scheduled_through = table.Column<LocalDate>(type: "date", nullable: true),
                    plan_stamp = table.Column<long>(type: "bigint", nullable: false),
                    scheduled_stamp = table.Column<long>(type: "bigint", nullable: false),
                    next_to_pass = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
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
                    login_provider = table.Column<string>(type: "character varying(128)", maxLength: 128, nullable: false),
                    provider_key = table.Column<string>(type: "character varying(128)", maxLength: 128, nullable: false),
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
                name: "person_passkeys",
                columns: table => new
                {
                    credential_id = table.Column<byte[]>(type: "bytea", maxLength: 1024, nullable: false),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    data = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_person_passkeys", x => x.credential_id);
                    table.ForeignKey(
                        name: "fk_person_passkeys_people_user_id",
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
                    login_provider = table.Column<string>(type: "character varying(128)", maxLength: 128, nullable: false),
                    name = table.Column<string>(type: "character varying(128)", maxLength: 128, nullable: false),
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
                name: "api_tokens",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    rights = table.Column<string>(type: "jsonb", nullable: false),
                    ends_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
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
                name: "calendar_notes",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    date = table.Column<LocalDate>(type: "date", nullable: false),
                    span = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_calendar_notes", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_calendar_notes_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
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
                    position = table.Column<int>(type: "integer", nullable: false),
                    usual_channels = table.Column<string>(type: "jsonb", nullable: false),
                    order = table.Column<string>(type: "jsonb", nullable: false),
                    gap_days = table.Column<int>(type: "integer", nullable: true),
                    lifespan = table.Column<string>(type: "text", nullable: false),
                    hashtags = table.Column<string>(type: "jsonb", nullable: false),
                    needs_approval = table.Column<bool>(type: "boolean", nullable: false),
                    new_posts_rotate = table.Column<bool>(type: "boolean", nullable: false),
                    target_share = table.Column<double>(type: "double precision", nullable: true)
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
                    token_id = table.Column<Guid>(type: "uuid", nullable: true),
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
                name: "channel_groups",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    channels = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_channel_groups", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_channel_groups_workspaces_workspace_id",
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
                    position = table.Column<int>(type: "integer", nullable: false),
                    spacing = table.Column<Duration>(type: "interval", nullable: true),
                    daily_limit = table.Column<int>(type: "integer", nullable: true),
                    zone = table.Column<string>(type: "text", nullable: true),
                    followers = table.Column<int>(type: "integer", nullable: true),
                    figures = table.Column<string>(type: "jsonb", nullable: false),
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
                name: "contacts",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    handles = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_contacts", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_contacts_workspaces_workspace_id",
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
                    is_skipped = table.Column<bool>(type: "boolean", nullable: false),
                    moved_to = table.Column<LocalDateTime>(type: "timestamp without time zone", nullable: true),
                    note = table.Column<string>(type: "text", nullable: true),
                    posts = table.Column<string>(type: "jsonb", nullable: false),
                    origin_kind = table.Column<string>(type: "text", nullable: false),
                    origin_id = table.Column<Guid>(type: "uuid", nullable: false),
                    origin_date = table.Column<LocalDate>(type: "date", nullable: false),
                    origin_time = table.Column<LocalTime>(type: "time", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_decisions", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_decisions_workspaces_workspace_id",
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
                name: "link_cards",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    address = table.Column<string>(type: "text", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    pictures = table.Column<string>(type: "jsonb", nullable: false),
                    read_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_link_cards", x => new { x.workspace_id, x.address });
                    table.ForeignKey(
                        name: "fk_link_cards_workspaces_workspace_id",
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
                    seconds = table.Column<double>(type: "double precision", nullable: true),
                    pages = table.Column<int>(type: "integer", nullable: true),
                    turn = table.Column<int>(type: "integer", nullable: false),
                    frames = table.Column<int>(type: "integer", nullable: false),
                    video_codec = table.Column<string>(type: "text", nullable: true),
                    audio_codec = table.Column<string>(type: "text", nullable: true),
                    poster_hash = table.Column<string>(type: "text", nullable: true),
                    added_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    removed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    alt_text = table.Column<string>(type: "text", nullable: false),
                    focus_x = table.Column<double>(type: "double precision", nullable: true),
                    focus_y = table.Column<double>(type: "double precision", nullable: true)
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
                name: "passed_places",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    local = table.Column<LocalDateTime>(type: "timestamp without time zone", nullable: false),
                    channels = table.Column<string>(type: "jsonb", nullable: false),
                    category_id = table.Column<Guid>(type: "uuid", nullable: true),
                    why = table.Column<string>(type: "text", nullable: false),
                    dealt_with = table.Column<bool>(type: "boolean", nullable: false),
                    origin_kind = table.Column<string>(type: "text", nullable: false),
                    origin_id = table.Column<Guid>(type: "uuid", nullable: false),
                    origin_date = table.Column<LocalDate>(type: "date", nullable: false),
                    origin_time = table.Column<LocalTime>(type: "time", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_passed_places", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_passed_places_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
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
                    rank = table.Column<int>(type: "integer", nullable: false),
                    replaces = table.Column<Guid>(type: "uuid", nullable: true),
                    removed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rotas", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_rotas_rotas_workspace_id_replaces",
                        columns: x => new { x.workspace_id, x.replaces },
                        principalTable: "rotas",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "fk_rotas_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "saved_filters",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    query = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_filters", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_saved_filters_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
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

            migrationBuilder.CreateTable(
                name: "posts",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    title = table.Column<string>(type: "text", nullable: false),
                    category_id = table.Column<Guid>(type: "uuid", nullable: false),
                    further_categories = table.Column<string>(type: "jsonb", nullable: false),
                    stage = table.Column<string>(type: "text", nullable: false),
                    asks_for_approval = table.Column<bool>(type: "boolean", nullable: false),
                    sent_back = table.Column<string>(type: "text", nullable: true),
                    lifespan = table.Column<string>(type: "text", nullable: false),
                    from = table.Column<LocalDate>(type: "date", nullable: true),
                    to = table.Column<LocalDate>(type: "date", nullable: true),
                    gap_days = table.Column<int>(type: "integer", nullable: true),
                    in_rotation = table.Column<bool>(type: "boolean", nullable: false),
                    added_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    added_order = table.Column<int>(type: "integer", nullable: false),
                    channels = table.Column<string>(type: "jsonb", nullable: true),
                    content = table.Column<string>(type: "jsonb", nullable: false),
                    notes = table.Column<string>(type: "text", nullable: false),
                    outside_id = table.Column<string>(type: "text", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: false),
                    fits = table.Column<string>(type: "jsonb", nullable: false),
                    hashes = table.Column<string>(type: "jsonb", nullable: false),
                    checked_by = table.Column<string>(type: "text", nullable: false),
                    search_text = table.Column<string>(type: "text", nullable: false),
                    file_ids = table.Column<Guid[]>(type: "uuid[]", nullable: false),
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
                    source_key = table.Column<string>(type: "text", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    started_by = table.Column<Guid>(type: "uuid", nullable: true),
                    encoding = table.Column<string>(type: "text", nullable: true),
                    delimiter = table.Column<string>(type: "text", nullable: true),
                    sheet_name = table.Column<string>(type: "text", nullable: true),
                    plan = table.Column<string>(type: "jsonb", nullable: false),
                    headers = table.Column<string>(type: "text", nullable: false),
                    revision = table.Column<int>(type: "integer", nullable: false),
                    plan_revision = table.Column<int>(type: "integer", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    posts = table.Column<int>(type: "integer", nullable: false),
                    changed = table.Column<int>(type: "integer", nullable: false),
                    deliveries = table.Column<int>(type: "integer", nullable: false),
                    change_set_id = table.Column<Guid>(type: "uuid", nullable: true),
                    taken_back_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_import_runs", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_import_runs_change_sets_workspace_id_change_set_id",
                        columns: x => new { x.workspace_id, x.change_set_id },
                        principalTable: "change_sets",
                        principalColumns: new[] { "workspace_id", "id" });
                    table.ForeignKey(
                        name: "fk_import_runs_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "channel_audiences",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    online = table.Column<string>(type: "jsonb", nullable: false),
                    read_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    looked_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
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
                name: "outside_posts",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    remote_id = table.Column<string>(type: "text", nullable: false),
                    address = table.Column<string>(type: "text", nullable: true),
                    text = table.Column<string>(type: "text", nullable: false),
                    link = table.Column<string>(type: "text", nullable: true),
                    media = table.Column<string>(type: "jsonb", nullable: false),
                    posted_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    readings = table.Column<string>(type: "jsonb", nullable: false),
                    next_reading_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: true),
                    left_out = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_outside_posts", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_outside_posts_channels_workspace_id_channel_id",
                        columns: x => new { x.workspace_id, x.channel_id },
                        principalTable: "channels",
                        principalColumns: new[] { "workspace_id", "id" },
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
                name: "slots",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    rota_id = table.Column<Guid>(type: "uuid", nullable: false),
                    days = table.Column<string>(type: "jsonb", nullable: false),
                    time = table.Column<LocalTime>(type: "time", nullable: false),
                    rhythm = table.Column<string>(type: "text", nullable: false),
                    every = table.Column<int>(type: "integer", nullable: false),
                    anchor = table.Column<LocalDate>(type: "date", nullable: false),
                    from = table.Column<LocalDate>(type: "date", nullable: true),
                    to = table.Column<LocalDate>(type: "date", nullable: true),
                    categories = table.Column<string>(type: "jsonb", nullable: false),
                    is_pool = table.Column<bool>(type: "boolean", nullable: false),
                    order = table.Column<string>(type: "jsonb", nullable: true),
                    fills_every_channel = table.Column<bool>(type: "boolean", nullable: false),
                    channels = table.Column<string>(type: "jsonb", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    removed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_slots", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_slots_rotas_workspace_id_rota_id",
                        columns: x => new { x.workspace_id, x.rota_id },
                        principalTable: "rotas",
                        principalColumns: new[] { "workspace_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "approvals",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    post_id = table.Column<Guid>(type: "uuid", nullable: false),
                    version = table.Column<int>(type: "integer", nullable: false),
                    approved_by = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    hashes = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_approvals", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_approvals_posts_workspace_id_post_id",
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
                    why = table.Column<string>(type: "text", nullable: true),
                    drawn_by = table.Column<Guid>(type: "uuid", nullable: true),
                    drawn_in_order = table.Column<string>(type: "text", nullable: true),
                    round = table.Column<int>(type: "integer", nullable: true),
                    wording = table.Column<int>(type: "integer", nullable: false),
                    instead_of = table.Column<Guid>(type: "uuid", nullable: true),
                    version = table.Column<int>(type: "integer", nullable: true),
                    sent = table.Column<string>(type: "jsonb", nullable: true),
                    facts = table.Column<string>(type: "jsonb", nullable: true),
                    file_ids = table.Column<Guid[]>(type: "uuid[]", nullable: false),
                    text_fingerprint = table.Column<string>(type: "text", nullable: true),
                    sent_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    taken_down_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    remote_id = table.Column<string>(type: "text", nullable: true),
                    address = table.Column<string>(type: "text", nullable: true),
                    trouble = table.Column<string>(type: "text", nullable: true),
                    dealt_with = table.Column<bool>(type: "boolean", nullable: false),
                    lease = table.Column<Guid>(type: "uuid", nullable: true),
                    lease_until = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    next_reading_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    revision = table.Column<int>(type: "integer", nullable: false),
                    look_up_only = table.Column<bool>(type: "boolean", nullable: false),
                    attempts = table.Column<int>(type: "integer", nullable: false),
                    origin_kind = table.Column<string>(type: "text", nullable: false),
                    origin_id = table.Column<Guid>(type: "uuid", nullable: false),
                    origin_date = table.Column<LocalDate>(type: "date", nullable: false),
                    origin_time = table.Column<LocalTime>(type: "time", nullable: true)
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
                });

            migrationBuilder.CreateTable(
                name: "desk_visits",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    post_id = table.Column<Guid>(type: "uuid", nullable: false),
                    person_id = table.Column<Guid>(type: "uuid", nullable: false),
                    seen_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    is_writing = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_desk_visits", x => new { x.workspace_id, x.post_id, x.person_id });
                    table.ForeignKey(
                        name: "fk_desk_visits_people_person_id",
                        column: x => x.person_id,
                        principalTable: "people",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_desk_visits_posts_workspace_id_post_id",
                        columns: x => new { x.workspace_id, x.post_id },
                        principalTable: "posts",
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
                    outside_id = table.Column<string>(type: "text", nullable: true),
                    is_gone = table.Column<bool>(type: "boolean", nullable: false)
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
                name: "age_figures",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    delivery_id = table.Column<Guid>(type: "uuid", nullable: false),
                    age_hours = table.Column<int>(type: "integer", nullable: false),
                    figures = table.Column<double?[]>(type: "double precision[]", nullable: false)
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
                    publishes = table.Column<bool>(type: "boolean", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    since = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    end = table.Column<string>(type: "text", nullable: true),
                    reason = table.Column<string>(type: "text", nullable: true),
                    remote_id = table.Column<string>(type: "text", nullable: true),
                    address = table.Column<string>(type: "text", nullable: true),
                    remote_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    look_ups = table.Column<int>(type: "integer", nullable: false),
                    looked_up_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true)
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
                    figures = table.Column<string>(type: "jsonb", nullable: false),
                    doubt = table.Column<string>(type: "text", nullable: true),
                    entered_by = table.Column<Guid>(type: "uuid", nullable: true)
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
                name: "ix_api_tokens_digest",
                table: "api_tokens",
                column: "digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_api_tokens_person_id",
                table: "api_tokens",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_approvals_workspace_id_post_id",
                table: "approvals",
                columns: new[] { "workspace_id", "post_id" });

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
                name: "ix_calendar_notes_workspace_id_date_span",
                table: "calendar_notes",
                columns: new[] { "workspace_id", "date", "span" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_calendar_sources_next_at",
                table: "calendar_sources",
                column: "next_at");

            migrationBuilder.CreateIndex(
                name: "ix_calendar_sources_workspace_id_kind_id",
                table: "calendar_sources",
                columns: new[] { "workspace_id", "kind_id" });

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
                name: "ix_channel_groups_workspace_id_name",
                table: "channel_groups",
                columns: new[] { "workspace_id", "name" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_channels_workspace_id_network_account",
                table: "channels",
                columns: new[] { "workspace_id", "network", "account" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_contacts_workspace_id_key",
                table: "contacts",
                columns: new[] { "workspace_id", "key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_decisions_workspace_id_origin_kind_origin_id_origin_date_or",
                table: "decisions",
                columns: new[] { "workspace_id", "origin_kind", "origin_id", "origin_date", "origin_time" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_file_ids",
                table: "deliveries",
                column: "file_ids")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_next_reading_at",
                table: "deliveries",
                column: "next_reading_at");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_state_at",
                table: "deliveries",
                columns: new[] { "state", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id",
                table: "deliveries",
                column: "workspace_id",
                filter: "not dealt_with and (state in ('Refused', 'Missed', 'MayHaveGoneOut', 'PostItYourself') or (state = 'Sent' and trouble is not null))");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id_at",
                table: "deliveries",
                columns: new[] { "workspace_id", "at" });

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
                name: "ix_deliveries_workspace_id_origin_date",
                table: "deliveries",
                columns: new[] { "workspace_id", "origin_date" });

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
                name: "ix_deliveries_workspace_id_sent_at",
                table: "deliveries",
                columns: new[] { "workspace_id", "sent_at" },
                filter: "sent_at is not null");

            migrationBuilder.CreateIndex(
                name: "ix_delivery_attempts_workspace_id_delivery_id",
                table: "delivery_attempts",
                columns: new[] { "workspace_id", "delivery_id" });

            migrationBuilder.CreateIndex(
                name: "ix_desk_visits_person_id",
                table: "desk_visits",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_import_runs_workspace_id_change_set_id",
                table: "import_runs",
                columns: new[] { "workspace_id", "change_set_id" });

            migrationBuilder.CreateIndex(
                name: "ix_import_runs_workspace_id_started_at",
                table: "import_runs",
                columns: new[] { "workspace_id", "started_at" });

            migrationBuilder.CreateIndex(
                name: "ix_imported_rows_workspace_id_post_id",
                table: "imported_rows",
                columns: new[] { "workspace_id", "post_id" });

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

            migrationBuilder.CreateIndex(
                name: "ix_line_moves_workspace_id_channel_id",
                table: "line_moves",
                columns: new[] { "workspace_id", "channel_id" });

            migrationBuilder.CreateIndex(
                name: "ix_line_moves_workspace_id_post_id_channel_id",
                table: "line_moves",
                columns: new[] { "workspace_id", "post_id", "channel_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_media_workspace_id_added_at_id",
                table: "media",
                columns: new[] { "workspace_id", "added_at", "id" },
                descending: new[] { false, true, true });

            migrationBuilder.CreateIndex(
                name: "ix_media_workspace_id_hash",
                table: "media",
                columns: new[] { "workspace_id", "hash" });

            migrationBuilder.CreateIndex(
                name: "ix_memberships_person_id",
                table: "memberships",
                column: "person_id");

            migrationBuilder.CreateIndex(
                name: "ix_outside_posts_workspace_id_channel_id_remote_id",
                table: "outside_posts",
                columns: new[] { "workspace_id", "channel_id", "remote_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_outside_posts_workspace_id_posted_at",
                table: "outside_posts",
                columns: new[] { "workspace_id", "posted_at" });

            migrationBuilder.CreateIndex(
                name: "ix_passed_places_workspace_id_at",
                table: "passed_places",
                columns: new[] { "workspace_id", "at" });

            migrationBuilder.CreateIndex(
                name: "ix_passed_places_workspace_id_origin_kind_origin_id_origin_dat",
                table: "passed_places",
                columns: new[] { "workspace_id", "origin_kind", "origin_id", "origin_date", "origin_time" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);

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
                name: "ix_person_passkeys_user_id",
                table: "person_passkeys",
                column: "user_id");

            migrationBuilder.CreateIndex(
                name: "ix_posts_file_ids",
                table: "posts",
                column: "file_ids")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_posts_search_text",
                table: "posts",
                column: "search_text")
                .Annotation("Npgsql:IndexMethod", "gin")
                .Annotation("Npgsql:IndexOperators", new[] { "gin_trgm_ops" });

            migrationBuilder.CreateIndex(
                name: "ix_posts_workspace_id_category_id",
                table: "posts",
                columns: new[] { "workspace_id", "category_id" });

            migrationBuilder.CreateIndex(
                name: "ix_posts_workspace_id_outside_id",
                table: "posts",
                columns: new[] { "workspace_id", "outside_id" },
                unique: true,
                filter: "outside_id is not null and removed_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_rotas_workspace_id_replaces",
                table: "rotas",
                columns: new[] { "workspace_id", "replaces" });

            migrationBuilder.CreateIndex(
                name: "ix_saved_filters_workspace_id_name",
                table: "saved_filters",
                columns: new[] { "workspace_id", "name" },
                unique: true);

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
                name: "api_tokens");

            migrationBuilder.DropTable(
                name: "approvals");

            migrationBuilder.DropTable(
                name: "business_times");

            migrationBuilder.DropTable(
                name: "calendar_feeds");

            migrationBuilder.DropTable(
                name: "calendar_notes");

            migrationBuilder.DropTable(
                name: "changes");

            migrationBuilder.DropTable(
                name: "channel_audiences");

            migrationBuilder.DropTable(
                name: "channel_groups");

            migrationBuilder.DropTable(
                name: "channel_secrets");

            migrationBuilder.DropTable(
                name: "contacts");

            migrationBuilder.DropTable(
                name: "decisions");

            migrationBuilder.DropTable(
                name: "delivery_attempts");

            migrationBuilder.DropTable(
                name: "desk_visits");

            migrationBuilder.DropTable(
                name: "import_edits");

            migrationBuilder.DropTable(
                name: "imported_rows");

            migrationBuilder.DropTable(
                name: "key_date_ties");

            migrationBuilder.DropTable(
                name: "line_moves");

            migrationBuilder.DropTable(
                name: "link_cards");

            migrationBuilder.DropTable(
                name: "media");

            migrationBuilder.DropTable(
                name: "memberships");

            migrationBuilder.DropTable(
                name: "outside_posts");

            migrationBuilder.DropTable(
                name: "passed_places");

            migrationBuilder.DropTable(
                name: "pauses");

            migrationBuilder.DropTable(
                name: "person_claims");

            migrationBuilder.DropTable(
                name: "person_logins");

            migrationBuilder.DropTable(
                name: "person_passkeys");

            migrationBuilder.DropTable(
                name: "person_tokens");

            migrationBuilder.DropTable(
                name: "post_versions");

            migrationBuilder.DropTable(
                name: "readings");

            migrationBuilder.DropTable(
                name: "restores");

            migrationBuilder.DropTable(
                name: "saved_filters");

            migrationBuilder.DropTable(
                name: "slots");

            migrationBuilder.DropTable(
                name: "work_failures");

            migrationBuilder.DropTable(
                name: "import_runs");

            migrationBuilder.DropTable(
                name: "key_dates");

            migrationBuilder.DropTable(
                name: "people");

            migrationBuilder.DropTable(
                name: "deliveries");

            migrationBuilder.DropTable(
                name: "rotas");

            migrationBuilder.DropTable(
                name: "change_sets");

            migrationBuilder.DropTable(
                name: "calendar_sources");

            migrationBuilder.DropTable(
                name: "channels");

            migrationBuilder.DropTable(
                name: "posts");

            migrationBuilder.DropTable(
                name: "key_date_kinds");

            migrationBuilder.DropTable(
                name: "categories");

            migrationBuilder.DropTable(
                name: "workspaces");
        }
    }
}
