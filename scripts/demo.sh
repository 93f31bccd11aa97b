# ./lark demo: database, stand-in networks and server with the made-up clients.

# past_bar LOG: how far the demo has lived through its past: as a bar that moves where somebody looks at it, else a line now and then.
PAST_SAID=0
past_bar() {
  local day
  if [ -t 1 ]; then
    grep -ao 'day [0-9]* of [0-9]*' "$1" 2>/dev/null | tail -1 | awk '{
      s = $2 / $4; b = sprintf("%*s", s * 40, ""); gsub(/ /, "=", b); r = sprintf("%*s", 40 - length(b), ""); gsub(/ /, ".", r)
      printf "\r  %s%s %3d %% of half a year", b, r, s * 100 }'
  elif [ $((SECONDS - PAST_SAID)) -ge 15 ]; then
    day="$(grep -ao 'day [0-9]* of [0-9]*' "$1" 2>/dev/null | tail -1)"
    [ -z "$day" ] || say "  living through the past: $day"
    PAST_SAID=$SECONDS
  fi
}

# why_ended LOG: what a server said before it ended; its own words to people, if it had any.
why_ended() { sed -n 's/^lark: //p' "$1" | tail -1 | grep . || tail -5 "$1"; }

# A database for the demo, made while the rest is built.
start_demo_database() {
  mkdir -p "$1/logs"
  need_postgres
  start_postgres "$1/postgres"
  ensure_database lark
}

# Sets DEMO_ADDRESS and STANDINS_ADDRESS. Folder of the demo's data: first argument; its database runs.
start_demo() {
  local folder="$1" port standins_port networks
  port="$(free_port "$2")"
  # The stand-ins' address is part of the posts' addresses: it stays the same while the port is free.
  standins_port="$(free_port "$3")"
  DEMO_ADDRESS="http://127.0.0.1:$port"
  STANDINS_ADDRESS="http://127.0.0.1:$standins_port"

  step "starting the stand-in networks"
  ConnectionStrings__Lark="$(connection lark)" dotnet "$STATE/standins/AbleLark.StandIns.dll" --urls "$STANDINS_ADDRESS" > "$folder/logs/stand-ins.log" 2>&1 &
  networks=$!
  STARTED+=("$networks")
  # The server has the networks' company from the beginning only where its past is still to be lived.
  [ -e "$folder/lived" ] || wait_for_networks "$folder" "$networks"
  start_demo_server "$folder"
  wait_for_networks "$folder" "$networks"
  touch "$folder/lived"
}

wait_for_networks() {
  wait_for "$STANDINS_ADDRESS/healthz" "$2" || { why_ended "$1/logs/stand-ins.log"; die "The stand-in networks ended. Their log: $1/logs/stand-ins.log"; }
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
  PAST_SAID=$SECONDS
  wait_for "$DEMO_ADDRESS/healthz" "$SERVER_PROCESS" past_bar "$folder/logs/server.log" ||
    { why_ended "$folder/logs/server.log"; die "The server ended. Its log: $folder/logs/server.log"; }
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
  while [ $# -gt 0 ]; do
    case "$1" in
      --fresh) fresh=1 ;;
      --begin) shift; export Lark__DemoBegins="${1:?Say on which day, for instance --begin 2028-02-29}" ;;
      *) die "Unknown option '$1'. There are --fresh and --begin DAY." ;;
    esac
    shift
  done
  [ -z "${Lark__DemoBegins:-}" ] || [ $fresh = 1 ] || [ ! -e "$folder" ] || die "The demo has begun already; --fresh --begin $Lark__DemoBegins makes it anew."
  mkdir -p "$STATE"
  need_sdks
  trap 'say ""; step "stopping"; stop_started; exit 0' INT TERM
  trap stop_started EXIT
  if [ $fresh = 1 ]; then
    if [ -e "$folder/postgres/postmaster.pid" ]; then die "The demo is running. Stop it first (Ctrl-C there)."; fi
    rm -rf "$folder"
  fi
  build_all start_demo_database "$folder"
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
