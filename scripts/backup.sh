# ./lark backup FILE and ./lark restore FILE: database and data folder as one file, and back again.

# Reads ConnectionStrings__Lark, as the server does, into the variables that PostgreSQL's own programs read.
read_connection() {
  [ -n "${ConnectionStrings__Lark:-}" ] || die "Set ConnectionStrings__Lark to the database, as for ./lark serve."
  [ -n "${Lark__DataFolder:-}" ] || die "Set Lark__DataFolder to the folder with pictures and keys, as for ./lark serve."
  local part name value
  PGDATABASE=lark
  while IFS= read -r -d ';' part; do
    name="$(printf '%s' "${part%%=*}" | tr '[:upper:]' '[:lower:]' | tr -d ' ')" value="${part#*=}"
    case "$name" in
      host|server) export PGHOST="$value" ;;
      port) export PGPORT="$value" ;;
      database|db) PGDATABASE="$value" ;;
      username|userid|user) export PGUSER="$value" ;;
      password|pwd) export PGPASSWORD="$value" ;;
    esac
  done <<< "$ConnectionStrings__Lark;"
  PG_PROGRAMS="$(postgres_bin)"
  [ -n "$PG_PROGRAMS" ] || die "PostgreSQL's programs are missing (pg_dump, pg_restore). Install them: apt-get install postgresql-client"
}

sql() { "$PG_PROGRAMS/psql" -X -q -v ON_ERROR_STOP=1 -d "$1" -tAc "$2"; }

run_backup() {
  [ $# = 1 ] || die "backup needs one thing: the file to write, such as lark-2026-03-02.tar"
  local file="$1" work
  [ ! -e "$file" ] || die "$file is there already. Choose another name."
  read_connection
  work="$(mktemp -d)"
  # shellcheck disable=SC2064
  trap "rm -rf '$work'" EXIT
  # The instant first: whatever goes out from here on, the backup may not know. Business time, which the demo's clock may have moved.
  sql "$PGDATABASE" "select to_char((now() + coalesce((select ahead from business_times where id = 1), interval '0')) at time zone 'utc', 'YYYY-MM-DD\"T\"HH24:MI:SS\"Z\"')" > "$work/backup-at" ||
    die "The database can't be read."
  "$PG_PROGRAMS/pg_dump" -d "$PGDATABASE" -Fc -f "$work/database.dump" || die "The database could not be written out."
  # Files after rows: a row's picture is there by then, since files are only ever added.
  mkdir -p "$Lark__DataFolder" "$work/data"
  local folder
  for folder in media keys; do [ ! -d "$Lark__DataFolder/$folder" ] || cp -a "$Lark__DataFolder/$folder" "$work/data/"; done
  tar -C "$work" -cf "$file.part" backup-at database.dump data || die "$file could not be written."
  chmod 600 "$file.part"
  mv "$file.part" "$file"
  say "Backed up as of $(cat "$work/backup-at") to $file ($(du -h "$file" | cut -f1)). It holds the keys to channels' connections: keep it as safe as the database."
}

run_restore() {
  [ $# = 1 ] || die "restore needs one thing: the file that ./lark backup wrote."
  local file="$1" work aside
  [ -r "$file" ] || die "$file can't be read."
  read_connection
  if [ -n "$(ls -A "$Lark__DataFolder" 2>/dev/null)" ]; then die "$Lark__DataFolder is not empty. Stop every server, move the folder away, then try again."; fi
  if [ "$(sql postgres "select count(*) from pg_database where datname = '$PGDATABASE'")" = 1 ]; then
    [ "$(sql "$PGDATABASE" "select count(*) from information_schema.tables where table_schema not in ('pg_catalog', 'information_schema')")" = 0 ] ||
      die "The database $PGDATABASE holds tables. Stop every server, rename it or name another in ConnectionStrings__Lark, then try again."
    sql postgres "drop database \"$PGDATABASE\"" || die "The empty database $PGDATABASE is in use. Stop every server first."
  fi
  work="$(mktemp -d)"
  # Under another name until it is marked as restored: no server may find it before.
  aside="${PGDATABASE}_restoring"
  # shellcheck disable=SC2064
  trap "rm -rf '$work'" EXIT
  tar -C "$work" -xf "$file" || die "$file is not a backup, or damaged. Nothing was changed."
  [ -s "$work/database.dump" ] && [ -s "$work/backup-at" ] || die "$file is not a backup of ours. Nothing was changed."
  sql postgres "drop database if exists \"$aside\""
  sql postgres "create database \"$aside\""
  "$PG_PROGRAMS/pg_restore" --no-owner --exit-on-error -d "$aside" "$work/database.dump" || die "The database could not be put back. $PGDATABASE was not made."
  [ -n "${LARK_SERVER:-}" ] || { mkdir -p "$STATE"; need_sdks; build_server; }
  local ended=0
  ConnectionStrings__Lark="$ConnectionStrings__Lark;Database=$aside;Pooling=false" dotnet "${LARK_SERVER:-$STATE/server/AbleLark.Server.dll}" after-restore "$(cat "$work/backup-at")" || ended=$?
  # 3: its database has a form that this program doesn't know; it has said so.
  if [ $ended = 3 ]; then sql postgres "drop database \"$aside\""; die "$file was not put back, and nothing was changed."; fi
  [ $ended = 0 ] || die "The database was put back as $aside, but could not be marked as restored. Do not start a server on it."
  mkdir -p "$Lark__DataFolder"
  cp -a "$work/data/." "$Lark__DataFolder/"
  sql postgres "alter database \"$aside\" rename to \"$PGDATABASE\"" || die "The database was put back as $aside, but could not be given its name."
  say "Restored as of $(cat "$work/backup-at"). Servers may start; nothing that was due since then goes by itself."
}
