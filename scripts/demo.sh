# ./lark demo: database, stand-in networks and server with the made-up clients.

# past_bar LOG: how far the demo has lived through its past, as a bar that moves, where somebody looks at it.
past_bar() {
  [ -t 1 ] || return 0
  grep -ao 'day [0-9]* of [0-9]*' "$1" 2>/dev/null | tail -1 | awk '{
    s = $2 / $4; b = sprintf("%*s", s * 40, ""); gsub(/ /, "=", b); r = sprintf("%*s", 40 - length(b), ""); gsub(/ /, ".", r)
    printf "\r  %s%s %3d %% of half a year", b, r, s * 100 }'
}

# Sets DEMO_ADDRESS and STANDINS_ADDRESS. Folder of the demo's data: first argument.
start_demo() {
  local folder="$1" port="$2" standins_port="$3"
  mkdir -p "$folder/logs"
  start_postgres "$folder/postgres"
  ensure_database lark
  port="$(free_port "$port")"
  # The stand-ins' address is part of the posts' addresses: it stays the same while the port is free.
  standins_port="$(free_port "$standins_port")"

  step "starting the stand-in networks"
  ConnectionStrings__Lark="$(connection lark)" dotnet "$STATE/standins/AbleLark.StandIns.dll" --urls "http://127.0.0.1:$standins_port" > "$folder/logs/stand-ins.log" 2>&1 &
  STARTED+=($!)
  wait_for "http://127.0.0.1:$standins_port/healthz" 60 $! || die "The stand-in networks did not start. Their log: $folder/logs/stand-ins.log"

  DEMO_ADDRESS="http://127.0.0.1:$port"
  STANDINS_ADDRESS="http://127.0.0.1:$standins_port"
  start_demo_server "$folder"
}

# The server alone, beside the networks and the database that run. Sets SERVER_PROCESS.
start_demo_server() {
  local folder="$1"
  step "starting the server"
  ConnectionStrings__Lark="$(connection lark)" Lark__Demo=true Lark__DataFolder="$folder" Lark__WebRoot="$WEB/dist" \
    Lark__NetworksAddress="$STANDINS_ADDRESS" Lark__LinkHosts="*.example.org=${STANDINS_ADDRESS#http://}" \
    dotnet "$STATE/server/AbleLark.Server.dll" --urls "$DEMO_ADDRESS" > "$folder/logs/server.log" 2>&1 &
  SERVER_PROCESS=$!
  STARTED+=("$SERVER_PROCESS")
  wait_for "$DEMO_ADDRESS/healthz" 120 "$SERVER_PROCESS" past_bar "$folder/logs/server.log" || { tail -5 "$folder/logs/server.log"; die "The server did not start. Its log: $folder/logs/server.log"; }
  [ ! -t 1 ] || printf '\r%70s\r' ''
}

restart_demo_server() {
  local others=() process
  kill "$SERVER_PROCESS"
  wait "$SERVER_PROCESS" 2>/dev/null || true
  for process in "${STARTED[@]}"; do [ "$process" = "$SERVER_PROCESS" ] || others+=("$process"); done
  STARTED=("${others[@]}")
  start_demo_server "$1"
}

run_demo() {
  local folder="$STATE/demo" fresh=0
  for option in "$@"; do
    case "$option" in
      --fresh) fresh=1 ;;
      *) die "Unknown option '$option'. There is only --fresh." ;;
    esac
  done
  mkdir -p "$STATE"
  need_sdks
  need_postgres
  build_all
  trap 'say ""; step "stopping"; stop_started; exit 0' INT TERM
  trap stop_started EXIT
  if [ $fresh = 1 ]; then
    if [ -e "$folder/postgres/postmaster.pid" ]; then die "The demo is running. Stop it first (Ctrl-C there)."; fi
    rm -rf "$folder"
  fi
  start_demo "$folder" 5400 5480
  cat <<TXT

  Able Lark     $DEMO_ADDRESS
  Sign in       wren@marram.example.org
  Password      first light
  Networks      $STANDINS_ADDRESS   (the stand-ins; faults can be ordered at /control)

  Ctrl-C stops it. The data stays; ./lark demo --fresh makes it anew.
TXT
  wait "$SERVER_PROCESS" || die "The server has stopped. Its log: $folder/logs/server.log"
}
