# ./lark dev: the demo's data under a server and a page that reload by themselves when their code changes.

# The watcher outlives both its signal and its server: the server is told to stop, the watcher is ended.
stop_watcher() {
  local pid="$1" child
  for child in $(ps -o pid= --ppid "$pid"); do end_tree "$child"; done
  kill -9 "$pid" 2>/dev/null || true
}

run_dev() {
  local folder="$STATE/demo"
  watcher=""
  mkdir -p "$STATE" "$folder/logs"
  need_sdks
  need_postgres
  packages
  [ -e "$folder/postgres/PG_VERSION" ] || die "There is no demo yet: run ./lark demo once, and stop it (Ctrl-C). Its data is what ./lark dev works on."
  trap 'say ""; step "stopping"; [ -z "$watcher" ] || stop_watcher "$watcher"; stop_started; exit 0' INT TERM
  trap '[ -z "$watcher" ] || stop_watcher "$watcher"; stop_started' EXIT
  start_postgres "$folder/postgres"
  local database port standins page
  database="$(connection lark)" port="$(free_port 5400)" standins="$(free_port 5480)" page="$(free_port 5173)"

  step "starting the stand-in networks"
  dotnet build src/AbleLark.StandIns --nologo -v q > "$folder/logs/build.log" 2>&1 || { tail -5 "$folder/logs/build.log"; die "The stand-in networks do not build."; }
  ConnectionStrings__Lark="$database" dotnet src/AbleLark.StandIns/bin/Debug/net10.0/linux-x64/AbleLark.StandIns.dll \
    --urls "http://127.0.0.1:$standins" > "$folder/logs/stand-ins.log" 2>&1 &
  STARTED+=($!)
  wait_for "http://127.0.0.1:$standins/healthz" $! || die "The stand-in networks did not start. Their log: $folder/logs/stand-ins.log"

  step "starting the server (it builds first; log: $folder/logs/dev.log)"
  (cd src/AbleLark.Server && ConnectionStrings__Lark="$database" Lark__Demo=true Lark__DataFolder="$folder" Lark__WebRoot="$WEB/public" \
    Lark__NetworksAddress="http://127.0.0.1:$standins" Lark__LinkHosts="*.example.org=127.0.0.1:$standins" DOTNET_WATCH_RESTART_ON_RUDE_EDIT=1 DOTNET_USE_POLLING_FILE_WATCHER=1 \
    exec dotnet watch --non-interactive --no-launch-profile run --property:OpenApiGenerateDocumentsOnBuild=false -- --urls "http://127.0.0.1:$port") > "$folder/logs/dev.log" 2>&1 &
  watcher=$!
  wait_for "http://127.0.0.1:$port/healthz" $! || { tail -15 "$folder/logs/dev.log"; die "The server did not start. Its log: $folder/logs/dev.log"; }

  step "starting the page"
  (cd "$WEB" && LARK_SERVER="http://127.0.0.1:$port" exec node node_modules/vite/bin/vite.js --host 127.0.0.1 --port "$page" --strictPort) > "$folder/logs/page.log" 2>&1 &
  STARTED+=($!)
  wait_for "http://127.0.0.1:$page/" $! || { tail -15 "$folder/logs/page.log"; die "The page did not start. Its log: $folder/logs/page.log"; }
  cat <<TXT

  Able Lark     http://127.0.0.1:$page   (page and server reload as you save)
  Sign in       wren@marram.example.org
  Password      first light

  Ctrl-C stops it.
TXT
  wait "$watcher" || die "The server has stopped. Its log: $folder/logs/dev.log"
}
