using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class WorkspaceColour : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "colour",
                table: "workspaces",
                type: "text",
                nullable: false,
                defaultValue: "slate");

            migrationBuilder.AddColumn<Guid>(
                name: "logo_id",
                table: "workspaces",
                type: "uuid",
                nullable: true);

            // Workspaces that are there already are told apart at once.
            migrationBuilder.Sql(
                """
                update workspaces w set colour =
                    (array['tide', 'gorse', 'heather', 'reed', 'rust', 'slate', 'thrift', 'kelp', 'dune', 'dusk'])[1 + (r.place - 1) % 10]
                from (select id, row_number() over (order by id) as place from workspaces) r where r.id = w.id
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "colour",
                table: "workspaces");

            migrationBuilder.DropColumn(
                name: "logo_id",
                table: "workspaces");
        }
    }
}
