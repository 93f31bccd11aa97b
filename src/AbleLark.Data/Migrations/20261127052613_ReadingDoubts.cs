using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class ReadingDoubts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "doubt",
                table: "readings",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "entered_by",
                table: "readings",
                type: "uuid",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "doubt",
                table: "readings");

            migrationBuilder.DropColumn(
                name: "entered_by",
                table: "readings");
        }
    }
}
