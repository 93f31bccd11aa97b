using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class NeedsIndex : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateIndex(
                name: "ix_deliveries_workspace_id",
                table: "deliveries",
                column: "workspace_id",
                filter: "not dealt_with and (state in ('Refused', 'Missed', 'MayHaveGoneOut', 'PostItYourself') or (state = 'Sent' and trouble is not null))");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_deliveries_workspace_id",
                table: "deliveries");
        }
    }
}
