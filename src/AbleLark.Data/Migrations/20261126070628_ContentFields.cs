using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace AbleLark.Data.Migrations
{
    /// <inheritdoc />
    public partial class ContentFields : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "checked_by",
                table: "posts",
                type: "text",
                nullable: false,
                defaultValue: "");

            // Content in layers of fields; fits as findings, which the server finds anew when it starts, and which the log holds no more.
            migrationBuilder.Sql(
                """
                create function layer_of(v jsonb) returns jsonb language sql as $$
                  select case when coalesce(jsonb_typeof(v -> 'text'), 'null') = 'null' then '{}'::jsonb
                      else jsonb_build_object('text', v -> 'text') end
                    || case when coalesce(jsonb_typeof(v -> 'picture'), 'null') = 'object'
                         then jsonb_build_object('picture', v -> 'picture' -> 'mediaId') else '{}'::jsonb end
                $$;
                create function content_of(c jsonb) returns jsonb language sql as $$
                  select case when not c ? 'variants' then c else jsonb_build_object(
                    'common', jsonb_strip_nulls(jsonb_build_object('text', c -> 'text', 'link', c -> 'link', 'picture', c -> 'pictureId')),
                    'networks', coalesce((select jsonb_object_agg(v.key, layer_of(v.value))
                      from jsonb_each(case jsonb_typeof(c -> 'variants') when 'object' then c -> 'variants' else '{}' end) v), '{}'),
                    'channels', '{}'::jsonb,
                    'wordings', coalesce((select jsonb_agg(
                        jsonb_build_object('common', layer_of(w.value), 'networks', '{}'::jsonb, 'channels', '{}'::jsonb) order by w.n)
                      from jsonb_array_elements(case jsonb_typeof(c -> 'wordings') when 'array' then c -> 'wordings' else '[]' end)
                        with ordinality as w(value, n)), '[]')) end
                $$;
                create function findings_of(block jsonb) returns jsonb language sql as $$
                  select case when coalesce(jsonb_typeof(block), 'null') = 'null' then '[]'::jsonb
                    else '[{"code": "checkedBefore", "severity": "blocks", "field": "text", "values": []}]'::jsonb end
                $$;
                create function fits_of(f jsonb) returns jsonb language sql as $$
                  select coalesce(jsonb_object_agg(e.key, jsonb_build_object(
                    'findings', findings_of(e.value -> 'block'),
                    'textFingerprint', coalesce(e.value -> 'textFingerprint', '""'),
                    'approved', e.value -> 'approved',
                    'wordings', case when coalesce(jsonb_typeof(e.value -> 'wordings'), 'null') <> 'array' then 'null'::jsonb else (
                      select coalesce(jsonb_agg(jsonb_build_object('findings', findings_of(w.value -> 'block'),
                        'textFingerprint', w.value -> 'textFingerprint') order by w.n), '[]')
                      from jsonb_array_elements(e.value -> 'wordings') with ordinality as w(value, n)) end)), '{}')
                  from jsonb_each(f) e
                $$;
                create function sent_of(s jsonb) returns jsonb language sql as $$
                  select case when s is null or jsonb_typeof(s) <> 'object' or s ? 'fields' then s else jsonb_build_object('fields',
                    jsonb_strip_nulls(jsonb_build_object('text', s -> 'text', 'link', s -> 'cardLink', 'picture', s -> 'pictureId'))) end
                $$;
                create function logged_of(v jsonb, kind text) returns jsonb language sql as $$
                  select case when v is null then null else
                    case kind when 'post' then v - 'fits' - 'hashes' else v end
                      || case when kind = 'post' and jsonb_typeof(v -> 'content') = 'object'
                           then jsonb_build_object('content', content_of(v -> 'content')) else '{}'::jsonb end
                      || case when kind = 'delivery' and v ? 'sent'
                           then jsonb_build_object('sent', sent_of(v -> 'sent')) else '{}'::jsonb end
                    end
                $$;
                update posts set content = content_of(content), fits = fits_of(fits);
                update post_versions set content = content_of(content);
                update deliveries set sent = sent_of(sent) where sent is not null;
                update changes set before = logged_of(before, entity),
                  after = logged_of(after, entity)
                where entity in ('post', 'delivery');
                drop function logged_of(jsonb, text);
                drop function sent_of(jsonb);
                drop function fits_of(jsonb);
                drop function findings_of(jsonb);
                drop function content_of(jsonb);
                drop function layer_of(jsonb);
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "checked_by",
                table: "posts");
        }
    }
}
