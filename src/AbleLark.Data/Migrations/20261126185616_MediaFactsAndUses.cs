using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class MediaFactsAndUses : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<Guid[]>(
                name: "file_ids",
                table: "posts",
                type: "uuid[]",
                nullable: false,
                defaultValue: new Guid[0]);

            migrationBuilder.AddColumn<Instant>(
                name: "added_at",
                table: "media",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: NodaTime.Instant.FromUnixTimeTicks(0L));

            migrationBuilder.AddColumn<string>(
                name: "audio_codec",
                table: "media",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "frames",
                table: "media",
                type: "integer",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.AddColumn<string>(
                name: "poster_hash",
                table: "media",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "removed_at",
                table: "media",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "turn",
                table: "media",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "video_codec",
                table: "media",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid[]>(
                name: "file_ids",
                table: "deliveries",
                type: "uuid[]",
                nullable: false,
                defaultValue: new Guid[0]);

            migrationBuilder.Sql("update media set added_at = now()");
            // Whatever of the content is the identity of a file of the same workspace names that file.
            foreach ((string table, string content) in new[] { ("posts", "content"), ("deliveries", "sent") })
                migrationBuilder.Sql(
                    $$"""
                    update {{table}} t set file_ids = found.ids
                    from (
                        select p.workspace_id, p.id, array_agg(distinct m.id) ids
                        from {{table}} p, jsonb_path_query(p.{{content}}, '$.**') v
                        join media m on m.id::text = v #>> '{}'
                        where jsonb_typeof(v) = 'string' and m.workspace_id = p.workspace_id
                        group by p.workspace_id, p.id) found
                    where t.workspace_id = found.workspace_id and t.id = found.id
                    """
                );

            migrationBuilder.CreateIndex(
                name: "ix_posts_file_ids",
                table: "posts",
                column: "file_ids")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_media_workspace_id_added_at_id",
                table: "media",
                columns: new[] { "workspace_id", "added_at", "id" },
                descending: new[] { false, true, true });

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_file_ids",
                table: "deliveries",
                column: "file_ids")
                .Annotation("Npgsql:IndexMethod", "gin");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_posts_file_ids",
                table: "posts");

            migrationBuilder.DropIndex(
                name: "ix_media_workspace_id_added_at_id",
                table: "media");

            migrationBuilder.DropIndex(
                name: "ix_deliveries_file_ids",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "file_ids",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "added_at",
                table: "media");

            migrationBuilder.DropColumn(
                name: "audio_codec",
                table: "media");

            migrationBuilder.DropColumn(
                name: "frames",
                table: "media");

            migrationBuilder.DropColumn(
                name: "poster_hash",
                table: "media");

            migrationBuilder.DropColumn(
                name: "removed_at",
                table: "media");

            migrationBuilder.DropColumn(
                name: "turn",
                table: "media");

            migrationBuilder.DropColumn(
                name: "video_codec",
                table: "media");

            migrationBuilder.DropColumn(
                name: "file_ids",
                table: "deliveries");
        }
    }
}
