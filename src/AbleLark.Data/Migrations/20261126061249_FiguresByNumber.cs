using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class FiguresByNumber : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // In the order of the kinds' numbers.
            migrationBuilder.Sql(
                """
                alter table age_figures alter column figures type double precision[] using array[
                  (figures->>'impressions')::float8, (figures->>'reach')::float8, (figures->>'likes')::float8,
                  (figures->>'comments')::float8,
                  (figures->>'shares')::float8, (figures->>'saves')::float8, (figures->>'linkClicks')::float8,
                  (figures->>'videoViews')::float8, (figures->>'followers')::float8];
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                """
                alter table age_figures alter column figures type jsonb using jsonb_strip_nulls(jsonb_build_object(
                  'impressions', figures[1], 'reach', figures[2], 'likes', figures[3], 'comments', figures[4], 'shares', figures[5],
                  'saves', figures[6], 'linkClicks', figures[7], 'videoViews', figures[8], 'followers', figures[9]));
                """);
        }
    }
}
