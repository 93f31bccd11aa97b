using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class EverythingAPostCarries : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "button_verbs",
                table: "workspaces",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            migrationBuilder.AddColumn<double>(
                name: "focus_x",
                table: "media",
                type: "double precision",
                nullable: true);

            migrationBuilder.AddColumn<double>(
                name: "focus_y",
                table: "media",
                type: "double precision",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "pages",
                table: "media",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<double>(
                name: "seconds",
                table: "media",
                type: "double precision",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "figures",
                table: "channels",
                type: "jsonb",
                nullable: false,
                defaultValue: "{}");

            migrationBuilder.CreateTable(
                name: "contacts",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    handles = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_contacts", x => new { x.workspace_id, x.id });
                    table.ForeignKey(
                        name: "fk_contacts_workspaces_workspace_id",
                        column: x => x.workspace_id,
                        principalTable: "workspaces",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_contacts_workspace_id_key",
                table: "contacts",
                columns: new[] { "workspace_id", "key" },
                unique: true);

            // One picture and its alt text become a list of pictures, each with its own.
            migrationBuilder.Sql(
                """
                create function layer_of(v jsonb, base jsonb) returns jsonb language sql as $$
                  select (v - 'picture' - 'altText') || case
                    when v ? 'picture' and jsonb_typeof(v -> 'picture') = 'null' then '{"pictures": null}'::jsonb
                    when v ? 'picture' then jsonb_build_object('pictures', jsonb_build_array(jsonb_strip_nulls(jsonb_build_object(
                      'media', v -> 'picture', 'altText', coalesce(nullif(v -> 'altText', 'null'), base -> 'altText')))))
                    when coalesce(jsonb_typeof(v -> 'altText'), 'null') = 'string' and jsonb_typeof(base -> 'picture') = 'string'
                      then jsonb_build_object('pictures', jsonb_build_array(jsonb_build_object(
                        'media', base -> 'picture', 'altText', v -> 'altText')))
                    else '{}'::jsonb end
                $$;
                create function layers_of(c jsonb, base jsonb) returns jsonb language sql as $$
                  select c
                    || case when c ? 'common' then jsonb_build_object('common', layer_of(c -> 'common', base)) else '{}' end
                    || case when c ? 'networks' then jsonb_build_object('networks', coalesce((
                         select jsonb_object_agg(n.key, layer_of(n.value, base || (c -> 'common'))) from jsonb_each(c -> 'networks') n),
                         '{}')) else '{}' end
                    || case when c ? 'channels' then jsonb_build_object('channels', coalesce((
                         select jsonb_object_agg(n.key, layer_of(n.value, base || (c -> 'common'))) from jsonb_each(c -> 'channels') n),
                         '{}')) else '{}' end
                $$;
                create function content_of(c jsonb) returns jsonb language sql as $$
                  select layers_of(c, '{}') || case when jsonb_typeof(c -> 'wordings') <> 'array' then '{}'::jsonb else
                    jsonb_build_object('wordings', coalesce((select jsonb_agg(layers_of(w.value, coalesce(c -> 'common', '{}')) order by w.n)
                      from jsonb_array_elements(c -> 'wordings') with ordinality as w(value, n)), '[]')) end
                $$;
                create function sent_of(s jsonb) returns jsonb language sql as $$
                  select case when coalesce(jsonb_typeof(s -> 'fields'), '') <> 'object' then s
                    else s || jsonb_build_object('fields', layer_of(s -> 'fields', '{}')) end
                $$;
                create function logged_of(v jsonb, kind text) returns jsonb language sql as $$
                  select case when v is null then null else v
                      || case when kind = 'post' and jsonb_typeof(v -> 'content') = 'object'
                           then jsonb_build_object('content', content_of(v -> 'content')) else '{}'::jsonb end
                      || case when kind = 'delivery' and v ? 'sent'
                           then jsonb_build_object('sent', sent_of(v -> 'sent')) else '{}'::jsonb end
                    end
                $$;
                update posts set content = content_of(content);
                update post_versions set content = content_of(content);
                update deliveries set sent = sent_of(sent) where sent is not null;
                update changes set before = logged_of(before, entity), after = logged_of(after, entity)
                where entity in ('post', 'delivery');
                drop function logged_of(jsonb, text);
                drop function sent_of(jsonb);
                drop function content_of(jsonb);
                drop function layers_of(jsonb, jsonb);
                drop function layer_of(jsonb, jsonb);
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "contacts");

            migrationBuilder.DropColumn(
                name: "button_verbs",
                table: "workspaces");

            migrationBuilder.DropColumn(
                name: "focus_x",
                table: "media");

            migrationBuilder.DropColumn(
                name: "focus_y",
                table: "media");

            migrationBuilder.DropColumn(
                name: "pages",
                table: "media");

            migrationBuilder.DropColumn(
                name: "seconds",
                table: "media");

            migrationBuilder.DropColumn(
                name: "figures",
                table: "channels");
        }
    }
}
