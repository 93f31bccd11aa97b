# ./lark bench: figures beside a reference of the same run: name | value | reference | ratio | target | holds or falls short.

# Why a delivery is there that a bench has put in.
BENCH_COPY="'{\"code\": \"told\", \"other\": \"bench copy\"}'::jsonb"

# Posts of every field, by our checks and by those of the stand-in networks: ten times as many as in the tests.
bench_agreement() {
  step "checking 5,000 random posts against the stand-in networks"
  start_postgres "$STATE/bench-postgres" "-c synchronous_commit=off"
  local log="$STATE/bench-agreement.log" holds="falls short"
  dotnet build tests/AbleLark.Server.Tests --nologo -v q > "$log" 2>&1 || { tail -20 "$log"; die "The tests do not build."; }
  LARK_EFFORT=bench LARK_TEST_POSTGRES="$(connection postgres)" dotnet test --no-build --project tests/AbleLark.Server.Tests \
    --output Detailed --filter-method "*What_fits_is_taken*" > "$log" 2>&1 && holds=holds
  say "agreement with the stand-in networks, 5,000 posts over all networks | $(sed -n 's/^ *failed: //p' "$log" | tail -1) failed | – | – | 0 failed | $holds"
  stop_postgres
}

# The reader of videos against ten thousand damaged ones, twenty times as many as in the tests.
bench_videos() {
  step "reading 10,000 damaged videos"
  local log="$STATE/bench-videos.log" holds="falls short"
  dotnet build tests/AbleLark.Core.Tests --nologo -v q > "$log" 2>&1 || { tail -20 "$log"; die "The tests do not build."; }
  LARK_EFFORT=bench dotnet test --no-build --project tests/AbleLark.Core.Tests --output Detailed --filter-method "*Whatever_is_done_to_a_video*" > "$log" 2>&1 && holds=holds
  say "damaged videos, 10,000: read or refused in words | $(sed -n 's/^ *failed: //p' "$log" | tail -1) failed | – | – | 0 failed | $holds"
}

# Dates of random sheets with a known truth, ten times as many as in the tests.
bench_dates() {
  step "reading the dates of 2,000 random sheets"
  local log="$STATE/bench-dates.log" holds="falls short"
  dotnet build tests/AbleLark.Core.Tests --nologo -v q > "$log" 2>&1 || { tail -20 "$log"; die "The tests do not build."; }
  LARK_EFFORT=bench dotnet test --no-build --project tests/AbleLark.Core.Tests --output Detailed --filter-method "*Never_is_a_date_wrong*" > "$log" 2>&1 && holds=holds
  say "dates of random sheets, 2,000: wrong without a question | $(sed -n 's/^ *failed: //p' "$log" | tail -1) failed | – | – | 0 failed | $holds"
}

# Sending, measured whole, on a database server of its own that can be killed: bench_sending [throughput|silence|figures|chaos]...
bench_sending() {
  start_postgres "$STATE/bench-postgres" "-c synchronous_commit=off"
  local restart="$STATE/bench-restart-postgres.sh"
  {
    declare -f pg postgres_bin
    printf 'PG_DATA=%q\npg pg_ctl -D "$PG_DATA" -s -m immediate stop\nsleep 1\npg pg_ctl -D "$PG_DATA" -s -w -l "$PG_DATA/server.log" -o %q start\n' "$PG_DATA" "-c listen_addresses=127.0.0.1 -c port=$PG_PORT -c unix_socket_directories=$PG_DATA -c max_connections=300 -c synchronous_commit=off"
  } > "$restart"
  step "measuring sending (some minutes; servers, networks and database are killed on purpose)"
  dotnet "$STATE/bench-sending/AbleLark.SendingBench.dll" "$(connection postgres)" "$STATE" "$ROOT/networks" "$restart" "$@"
  stop_postgres
}

run_bench() {
  mkdir -p "$STATE"
  need_sdks
  need_postgres
  need_chromium
  build_all
  step "building the benchmarks"
  dotnet publish bench/AbleLark.Bench -c Release -o "$STATE/bench" --nologo -v q > "$STATE/build.log" 2>&1 || { tail -20 "$STATE/build.log"; die "The benchmarks do not build."; }
  trap 'stop_started; exit 130' INT TERM
  trap stop_started EXIT
  dotnet publish bench/AbleLark.SendingBench -c Release -o "$STATE/bench-sending" --nologo -v q > "$STATE/build.log" 2>&1 || { tail -20 "$STATE/build.log"; die "The benchmarks do not build."; }
  if [ "${1:-}" = sending ]; then shift; bench_sending "$@"; return; fi
  if [ "${1:-}" = agreement ]; then bench_agreement; return; fi
  if [ "${1:-}" = page ]; then bench_page; return; fi
  if [ "${1:-}" = import ]; then bench_demo; bench_import; return; fi
  if [ "${1:-}" = hostile ]; then bench_demo; bench_hostile; return; fi
  if [ "${1:-}" = calendar ]; then bench_demo; bench_calendar; return; fi
  if [ "${1:-}" = load ]; then bench_demo; bench_load "${2:-240}"; return; fi
  if [ "${1:-}" = acts ]; then bench_demo; bench_acts; return; fi
  if [ "${1:-}" = results ]; then bench_demo; dotnet "$STATE/bench/AbleLark.Bench.dll" "$ROOT" comparison; bench_results; return; fi
  dotnet "$STATE/bench/AbleLark.Bench.dll" "$ROOT"
  bench_agreement
  bench_videos
  bench_dates
  bench_sending
  bench_page
}

# The demo of the benches.
bench_demo() {
  start_demo_database "$STATE/bench-demo"
  start_demo "$STATE/bench-demo" 0 0
}

# The page is measured on a demo of its own, made once and kept for the next time.
bench_page() {
  bench_demo
  node scripts/bench.mjs "$DEMO_ADDRESS" "$(free_port 0)" "$WEB/dist"
  node scripts/bench-desk.mjs "$DEMO_ADDRESS" "$(free_port 0)"
  node scripts/bench-media.mjs "$DEMO_ADDRESS" "$(free_port 0)" "$SERVER_PROCESS"
  bench_import
  bench_hostile
  bench_calendar
  bench_acts
  bench_results
  bench_load 240
}

# The calendar: a month of 1,500 deliveries, and a year of 20,000.
bench_calendar() {
  step "measuring the calendar"
  # What a run that was broken off has left.
  forget_copies
  forget_workspaces
  fill_month 1500
  node scripts/bench-calendar.mjs "$DEMO_ADDRESS" month 1500
  node scripts/bench-calendar-page.mjs "$DEMO_ADDRESS" "$(free_port 0)"
  forget_copies
  multiply_past 20000
  node scripts/bench-calendar.mjs "$DEMO_ADDRESS" year 20000
  node scripts/bench-calendar.mjs "$DEMO_ADDRESS" changed 20000
  restart_demo_server "$STATE/bench-demo"
  node scripts/bench-calendar.mjs "$DEMO_ADDRESS" started 20000
  forget_copies
  copy_workspace 9
  node scripts/bench-calendar.mjs "$DEMO_ADDRESS" overview 10
  forget_workspaces
}

# Acts on 5,000 deliveries at once: shown, moved, taken back.
bench_acts() {
  step "moving 5,000 deliveries at once"
  forget_copies
  fill_month 5000
  node scripts/bench-acts.mjs "$DEMO_ADDRESS" "$SERVER_PROCESS"
  forget_copies
}

# A workspace of 20,000 posts and 129,000 deliveries in use, while some of its deliveries go out.
bench_load() {
  step "using a large workspace for $1 seconds"
  forget_copies
  fill_workspace 20000 129000 "$1"
  restart_demo_server "$STATE/bench-demo"
  node scripts/bench-load.mjs "$DEMO_ADDRESS" "$SERVER_PROCESS" "$1"
  forget_copies
}

# Posts that the rotation draws from, what they sent over five years, and one every four seconds that goes out in the coming seconds.
fill_workspace() {
  pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d lark -v ON_ERROR_STOP=1 -qtA > /dev/null <<SQL
set session_replication_role = replica;
create temp table sent as select d.*, row_number() over (order by d.id) as place from deliveries d join posts p on p.workspace_id = d.workspace_id and p.id = d.post_id
    where d.state = 'Sent' and p.removed_at is null and d.workspace_id = (select id from workspaces where slug = 'marram')
    and exists (select 1 from age_figures a where a.delivery_id = d.id and a.age_hours = 168);
create temp table banked as select p.id, row_number() over (order by p.id) as place from posts p where p.removed_at is null
    and p.workspace_id = (select id from workspaces where slug = 'marram') and exists (select 1 from sent s where s.post_id = p.id);
create temp table posts_copied as select gen_random_uuid() as copy, b.id, n as number, row_number() over (partition by b.id order by n) as turn, count(*) over (partition by b.id) as copies
    from generate_series(1, $1) n join banked b on b.place = 1 + n % (select count(*) from banked);
insert into posts select (jsonb_populate_record(p, jsonb_build_object('id', c.copy, 'notes', 'bench copy', 'outside_id', null,
    'title', p.title || ' ' || c.number))).* from posts_copied c join posts p on p.id = c.id;
create temp table copies as select gen_random_uuid() as copy, s.id, s.workspace_id, c.copy as post, n
    from generate_series(1, $2) n join sent s on s.place = 1 + n % (select count(*) from sent)
    join posts_copied c on c.id = s.post_id and c.turn = 1 + (n / 7) % c.copies;
insert into deliveries select (jsonb_populate_record(d, jsonb_build_object('id', c.copy, 'post_id', c.post, 'why', $BENCH_COPY,
    'next_reading_at', null, 'sent_at', d.sent_at - interval '20 minutes' * c.n, 'at', d.at - interval '20 minutes' * c.n,
    'local_date', d.local_date - c.n / 72, 'origin_date', d.origin_date - c.n, 'instead_of', null))).*
    from copies c join deliveries d on d.id = c.id on conflict do nothing;
insert into age_figures select a.workspace_id, c.copy, a.age_hours, a.figures from copies c join age_figures a on a.delivery_id = c.id
    where exists (select 1 from deliveries d where d.workspace_id = c.workspace_id and d.id = c.copy);
insert into deliveries select (jsonb_populate_record(d, jsonb_build_object('id', gen_random_uuid(), 'state', 'Planned', 'sent_at', null,
    'address', null, 'sent', null, 'facts', null, 'trouble', null, 'instead_of', null, 'origin_kind', 'ExactTime', 'origin_id', gen_random_uuid(),
    'why', $BENCH_COPY, 'next_reading_at', null, 'at', t.at, 'local_date', t.at::date, 'local_time', t.at::time, 'origin_date', t.at::date, 'origin_time', t.at::time))).*
    from generate_series(1, $3 / 4) n cross join lateral (select now() + interval '30 seconds' + n * interval '4 seconds' as at) t
    join (select s.id, row_number() over (order by s.id) as row from sent s) x on x.row = 1 + n % (select count(*) from sent) join deliveries d on d.id = x.id;
update workspaces set plan_stamp = plan_stamp + 1;
analyze deliveries; analyze age_figures; analyze posts;
SQL
}

# Workspaces like the demo's, with eight channels each, without what earlier measuring left there; their rows have the same identities, under workspaces of their own.
copy_workspace() {
  pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d lark -v ON_ERROR_STOP=1 -qtA > /dev/null <<SQL
do \$\$
declare of text; cols text; source uuid; copy uuid;
begin
  select id into source from workspaces where slug = 'marram';
  for n in 1..$1 loop
    copy := gen_random_uuid();
    select string_agg(quote_ident(column_name), ', ') into cols from information_schema.columns where table_schema = 'public' and table_name = 'workspaces' and column_name not in ('id', 'slug', 'name', 'logo_id');
    execute format('insert into workspaces (id, slug, name, %s) select %L, %L, %L, %s from workspaces where id = %L', cols, copy, 'bench-copy-' || n, 'Bench copy ' || n, cols, source);
    foreach of in array array['memberships', 'channels', 'categories', 'rotas', 'slots', 'posts', 'deliveries'] loop
      select string_agg(quote_ident(column_name), ', ') into cols from information_schema.columns where table_schema = 'public' and table_name = of and column_name <> 'workspace_id';
      execute format('insert into %I (workspace_id, %s) select %L, %s from %I where workspace_id = %L%s', of, cols, copy, cols, of, source,
        case of when 'posts' then ' and removed_at is null'
          when 'deliveries' then format(' and post_id in (select id from posts where workspace_id = %L and removed_at is null)', source) else '' end);
    end loop;
  end loop;
end \$\$;
analyze;
SQL
}

forget_workspaces() {
  sql "delete from deliveries where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from posts where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from slots where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from rotas where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from categories where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from channels where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from memberships where workspace_id in (select id from workspaces where slug like 'bench-copy-%');
    delete from workspaces where slug like 'bench-copy-%'" > /dev/null
}

# Deliveries at exact times in the third month from now.
fill_month() {
  sql "set session_replication_role = replica;
    insert into deliveries select (jsonb_populate_record(d, jsonb_build_object('id', gen_random_uuid(), 'state', 'Planned', 'sent_at', null,
      'address', null, 'sent', null, 'facts', null, 'trouble', null, 'instead_of', null, 'origin_kind', 'ExactTime', 'origin_id', gen_random_uuid(),
      'why', $BENCH_COPY, 'next_reading_at', null, 'at', t.at, 'local_date', t.at::date, 'local_time', t.at::time,
      'origin_date', t.at::date, 'origin_time', t.at::time))).*
    from generate_series(1, $1) n
    cross join lateral (select date_trunc('day', now()) + interval '60 days 7 hours' + (n % 31) * interval '1 day' + (n / 31 % 48) * interval '15 minutes' as at) t
    join (select id, row_number() over (order by id) as place from deliveries where state = 'Sent' and why is distinct from $BENCH_COPY
      and workspace_id = (select id from workspaces where slug = 'marram') limit 500) x on x.place = 1 + n % 500
    join deliveries d on d.id = x.id;
    update workspaces set plan_stamp = plan_stamp + 1" > /dev/null
}

# Views of results, over a year of many deliveries: those of the demo, many times over, each with a post of its own for every four.
bench_results() {
  step "measuring results over 20,000 deliveries"
  multiply_past 20000
  node scripts/bench-results.mjs "$DEMO_ADDRESS" "$(sql "select count(*) from deliveries where sent_at > now() - interval '364 days'")"
  forget_copies
  step "summing results over 200,000 deliveries"
  multiply_past 200000
  node scripts/bench-results.mjs "$DEMO_ADDRESS" "$(sql "select count(*) from deliveries where sent_at > now() - interval '364 days'")" "$(sum_by_hand)"
  forget_copies
}

# Milliseconds, the middle of seven, that a plain sum of engagements at seven days by category takes over the same rows.
sum_by_hand() {
  { echo '\timing on'; for _ in 1 2 3 4 5 6 7; do cat <<SQL
select d.facts ->> 'categoryId', count(*), sum(a.figures[3] + a.figures[4] + a.figures[5] + coalesce(a.figures[6], 0) + a.figures[7])
    from deliveries d join age_figures a on a.workspace_id = d.workspace_id and a.delivery_id = d.id and a.age_hours = 168
    where d.workspace_id = (select id from workspaces where slug = 'marram') and d.state = 'Sent'
        and d.sent_at > now() - interval '364 days' group by 1;
SQL
  done; } | pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d lark -tA | sed -n 's/^Time: \([0-9.]*\) ms.*/\1/p' | sort -n | sed -n 4p
}

sql() { pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d lark -qtA -c "$1"; }

multiply_past() {
  pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d lark -v ON_ERROR_STOP=1 -qtA > /dev/null <<SQL
set session_replication_role = replica;
create temp table sent as select d.*, row_number() over (order by d.sent_at) as place from deliveries d where d.state = 'Sent'
    and exists (select 1 from age_figures a where a.delivery_id = d.id and a.age_hours = 168);
create temp table copies as select gen_random_uuid() as copy, s.id, s.workspace_id, s.post_id, (s.place + n * 7919) / 4 as batch, n
    from sent s, generate_series(1, (select $1 / greatest(1, count(*)) from sent)) n;
create temp table posts_copied as select distinct on (post_id, batch) gen_random_uuid() as copy, post_id, batch from copies;
insert into posts select (jsonb_populate_record(p, jsonb_build_object('id', c.copy, 'notes', 'bench copy', 'outside_id', null, 'in_rotation', false))).*
    from posts_copied c join posts p on p.id = c.post_id;
insert into deliveries select (jsonb_populate_record(d, jsonb_build_object('id', c.copy, 'post_id', p.copy, 'origin_id', c.copy, 'why', $BENCH_COPY,
    'next_reading_at', null, 'sent_at', d.sent_at - interval '1 second' * c.n, 'instead_of', null))).*
    from copies c join deliveries d on d.id = c.id join posts_copied p on p.post_id = c.post_id and p.batch = c.batch;
insert into age_figures select a.workspace_id, c.copy, a.age_hours, a.figures from copies c join age_figures a on a.delivery_id = c.id;
analyze deliveries; analyze age_figures; analyze posts;
SQL
}

forget_copies() {
  sql "set session_replication_role = replica;
    delete from age_figures where delivery_id in (select id from deliveries where why = $BENCH_COPY);
    delete from deliveries where why = $BENCH_COPY; delete from posts where notes = 'bench copy'" > /dev/null
}

# Importing, beside CsvHelper that merely reads the file and a COPY of the same rows into tables with the same indexes (without references).
# Sheets that are made to take memory and time.
bench_hostile() {
  step "measuring what hostile sheets take"
  node scripts/bench-hostile.mjs "$DEMO_ADDRESS" "$SERVER_PROCESS"
}

bench_import() {
  step "measuring an import of 20,000 rows"
  local file="$STATE/bench-import.csv" result="$STATE/bench-import.txt" read commit act posts deliveries copy holds
  node scripts/bench-import.mjs make "$file"
  read="$(dotnet "$STATE/bench/AbleLark.Bench.dll" read-sheet "$file")"
  node scripts/bench-import.mjs run "$DEMO_ADDRESS" "$SERVER_PROCESS" "$file" "$read" "$result"
  IFS=' ' read -r commit act posts deliveries < "$result"
  copy="$(copy_again "$act")"
  holds="$(awk -v a="$commit" -v b="$copy" 'BEGIN { print (a <= 2 * b && a <= 20000) ? "holds" : "falls short" }')"
  say "import of $posts posts and $deliveries deliveries: commit | $commit ms | COPY of the same rows of all tables $copy ms | $(awk -v a="$commit" -v b="$copy" 'BEGIN { printf "%.2f", a / b }') × | at most 2 × and 20 s | $holds"
}

# Milliseconds that a COPY takes of all that an act has written.
copy_again() {
  local act="$1" table rows total=0 took
  for table in posts post_versions deliveries changes; do
    case "$table" in
      changes) rows="select * from changes where change_set_id = '$act'" ;;
      posts) rows="select * from posts where id in (select entity_id from changes where change_set_id = '$act')" ;;
      deliveries) rows="select * from deliveries where id in (select entity_id from changes where change_set_id = '$act')" ;;
      post_versions) rows="select * from post_versions where post_id in (select entity_id from changes where change_set_id = '$act')" ;;
    esac
    took="$(pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d lark -qtA 2>&1 <<SQL | sed -n 's/^Time: \([0-9.]*\) ms.*/\1/p' | tail -1
drop table if exists bench_copy;
create table bench_copy (like $table including all);
copy ($rows) to '$PG_DATA/bench-copy.bin' (format binary);
\timing on
copy bench_copy from '$PG_DATA/bench-copy.bin' (format binary);
\timing off
drop table bench_copy;
SQL
)"
    total="$(awk -v a="$total" -v b="${took:-0}" 'BEGIN { print a + b }')"
  done
  rm -f "$PG_DATA/bench-copy.bin"
  awk -v a="$total" 'BEGIN { printf "%.0f", a }'
}
