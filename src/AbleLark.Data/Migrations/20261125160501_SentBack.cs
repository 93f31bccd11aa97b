using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class SentBack : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "sent_back",
                table: "posts",
                type: "text",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "sent_back",
                table: "posts");
        }
    }
}
