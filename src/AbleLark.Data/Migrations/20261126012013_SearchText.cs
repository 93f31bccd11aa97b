using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class SearchText : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterDatabase()
                .Annotation("Npgsql:PostgresExtension:pg_trgm", ",,");

            migrationBuilder.AddColumn<string>(
                name: "search_text",
                table: "posts",
                type: "text",
                nullable: false,
                defaultValue: "");

            // As PostSearch writes it: title and every word that may go out, one below the other.
            migrationBuilder.Sql(
                """
                update posts set search_text = lower(normalize(concat_ws(E'\n', nullif(title, ''), nullif(content->>'text', ''), nullif(content->>'link', ''),
                  (select string_agg(nullif(v.value->>'text', ''), E'\n' order by v.key collate "C") from jsonb_each(content->'variants') v),
                  (select string_agg(nullif(a.value->>'text', ''), E'\n' order by a.place) from jsonb_array_elements(coalesce(content->'alternates', '[]')) with ordinality a (value, place))), NFC));
                """);

            migrationBuilder.CreateIndex(
                name: "ix_posts_search_text",
                table: "posts",
                column: "search_text")
                .Annotation("Npgsql:IndexMethod", "gin")
                .Annotation("Npgsql:IndexOperators", new[] { "gin_trgm_ops" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_posts_search_text",
                table: "posts");

            migrationBuilder.DropColumn(
                name: "search_text",
                table: "posts");

            migrationBuilder.AlterDatabase()
                .OldAnnotation("Npgsql:PostgresExtension:pg_trgm", ",,");
        }
    }
}
