using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class OutsidePosts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Instant>(
                name: "looked_at",
                table: "channel_audiences",
                type: "timestamp with time zone",
                nullable: true);

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

            migrationBuilder.CreateIndex(
                name: "ix_outside_posts_workspace_id_channel_id_remote_id",
                table: "outside_posts",
                columns: new[] { "workspace_id", "channel_id", "remote_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_outside_posts_workspace_id_posted_at",
                table: "outside_posts",
                columns: new[] { "workspace_id", "posted_at" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "outside_posts");

            migrationBuilder.DropColumn(
                name: "looked_at",
                table: "channel_audiences");
        }
    }
}
