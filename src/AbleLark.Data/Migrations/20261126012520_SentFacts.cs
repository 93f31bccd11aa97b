using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class SentFacts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "facts",
                table: "deliveries",
                type: "jsonb",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "followers",
                table: "channels",
                type: "integer",
                nullable: true);

            // What was sent before this was kept takes the values of today, and says so.
            migrationBuilder.Sql(
                """
                update deliveries d set facts = jsonb_build_object('categoryId', p.category_id,
                  'turnOf', (select c.id from categories c where c.workspace_id = d.workspace_id and c.id = d.given_by), 'further', p.further_categories, 'followers', null,
                  'date', to_char(d.local_date, 'YYYY-MM-DD'), 'hour', extract(hour from d.local_time)::int, 'wording', d.alternate, 'isReconstructed', true)
                from posts p where p.workspace_id = d.workspace_id and p.id = d.post_id and d.state = 'Sent';
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "facts",
                table: "deliveries");

            migrationBuilder.DropColumn(
                name: "followers",
                table: "channels");
        }
    }
}
