using System;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class RightsAndTokens : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "allows_own_approval",
                table: "workspaces",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<Guid>(
                name: "token_id",
                table: "change_sets",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<Instant>(
                name: "ends_at",
                table: "api_tokens",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: NodaTime.Instant.FromUnixTimeTicks(0L));

            migrationBuilder.AddColumn<string>(
                name: "rights",
                table: "api_tokens",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            // Tokens could do whatever their makers could, for ever: they keep that for ninety days, apart from letting others in.
            migrationBuilder.Sql(
                """
                update api_tokens set rights = '["view","write","approve","schedule","setUp","results"]', ends_at = now() + interval '90 days';
                """);

            // Roles were never asked, so whoever planned could do everything. Somebody has to go on being able to.
            migrationBuilder.Sql(
                """
                update memberships m set role = 'Owner' where role = 'Planner'
                  and not exists (select 1 from memberships o where o.workspace_id = m.workspace_id and o.role = 'Owner');
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "allows_own_approval",
                table: "workspaces");

            migrationBuilder.DropColumn(
                name: "token_id",
                table: "change_sets");

            migrationBuilder.DropColumn(
                name: "ends_at",
                table: "api_tokens");

            migrationBuilder.DropColumn(
                name: "rights",
                table: "api_tokens");
        }
    }
}
