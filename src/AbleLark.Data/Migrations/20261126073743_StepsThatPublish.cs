using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class StepsThatPublish : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "publishes",
                table: "delivery_attempts",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.Sql("update delivery_attempts set publishes = step <> 'picture'");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "publishes",
                table: "delivery_attempts");
        }
    }
}
