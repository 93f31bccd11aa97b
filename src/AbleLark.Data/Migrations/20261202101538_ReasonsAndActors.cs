using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <summary>Why and what was done are kept by code; what was kept in words stays as the words that it was. Who did something may be a
    /// script.</summary>
    public partial class ReasonsAndActors : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.RenameColumn(name: "entered_by", table: "readings", newName: "person_id");
            migrationBuilder.AddColumn<Guid>(name: "token_id", table: "readings", type: "uuid", nullable: true);
            migrationBuilder.RenameColumn(name: "made_by", table: "post_versions", newName: "person_id");
            migrationBuilder.AddColumn<Guid>(name: "token_id", table: "post_versions", type: "uuid", nullable: true);
            migrationBuilder.RenameColumn(name: "started_by", table: "import_runs", newName: "person_id");
            migrationBuilder.AddColumn<Guid>(name: "token_id", table: "import_runs", type: "uuid", nullable: true);
            migrationBuilder.RenameColumn(name: "approved_by", table: "approvals", newName: "person_id");
            migrationBuilder.AddColumn<Guid>(name: "token_id", table: "approvals", type: "uuid", nullable: true);

            ToDocument("deliveries", "why", "jsonb_build_object('code', 'told', 'other', why)");
            ToDocument("passed_places", "why", "jsonb_build_object('code', 'told', 'other', why)");
            ToDocument("change_sets", "act", "jsonb_build_object('code', 'told', 'values', jsonb_build_array(act))");

            // The log names values by their columns.
            foreach (string side in new[] { "before", "after" })
            {
                migrationBuilder.Sql(
                    $"""
                    update changes set {side} = jsonb_set({side}, array['why'], jsonb_build_object('code', 'told', 'other', {side} -> 'why'))
                    where entity in ('delivery', 'passedPlace') and jsonb_typeof({side} -> 'why') = 'string'
                    """
                );
                migrationBuilder.Sql(
                    $"""
                    update changes set {side} = {side} - 'approved_by'
                        || jsonb_build_object('person_id', {side} -> 'approved_by', 'token_id', null)
                    where entity = 'approval' and {side} ? 'approved_by'
                    """
                );
            }

            void ToDocument(string table, string column, string document) =>
                migrationBuilder.Sql(
                    $"alter table {table} alter column {column} type jsonb using case when {column} is not null then {document} end"
                );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder) =>
            throw new NotSupportedException("A database doesn't go back to an earlier form: put back a backup made in it.");
    }
}
