using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class LogNames : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // The change log names kinds by names of their own and values by their columns, not by what types and properties happen to be called.
            migrationBuilder.Sql("""
                create function column_names(value jsonb) returns jsonb language sql as $$
                  select case when value is null then null else coalesce((select jsonb_object_agg(lower(regexp_replace(e.key, '([a-z0-9])([A-Z])', '\1_\2', 'g')), e.value) from jsonb_each(value) e), '{}'::jsonb) end
                $$;
                update changes set entity = lower(left(entity, 1)) || substr(entity, 2), before = column_names(before), after = column_names(after);
                drop function column_names(jsonb);
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {

        }
    }
}
