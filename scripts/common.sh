# Shared by the commands of ./lark: what the machine has, a private PostgreSQL, builds, and stopping what was started.

STATE="${LARK_STATE:-$ROOT/.lark}"
WEB="$ROOT/src/web"
STARTED=()
# Texts are counted in Unicode's normal form C, which .NET leaves to ICU (on Debian it comes with PostgreSQL).
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 DOTNET_SYSTEM_GLOBALIZATION_INVARIANT=0

say() { printf '%s\n' "$*"; }
step() { printf '… %s\n' "$*"; }
die() { printf 'lark: %s\n' "$*" >&2; exit 1; }

# Ends, by id, only what this command started; the newest first.
stop_started() {
  local i
  end_building
  for ((i = ${#STARTED[@]} - 1; i >= 0; i--)); do
    kill "${STARTED[$i]}" 2>/dev/null || true
    wait "${STARTED[$i]}" 2>/dev/null || true
  done
  STARTED=()
  stop_postgres
}

# ---- what the machine needs

install_debian() {
  [ "$(id -u)" = 0 ] || die "Missing: $*. Install with: sudo apt-get install $*"
  step "installing $* from Debian's packages"
  mkdir -p /etc/postgresql-common/createcluster.d
  [ -e /etc/postgresql-common/createcluster.d/able-lark.conf ] ||
    echo "create_main_cluster = false" > /etc/postgresql-common/createcluster.d/able-lark.conf
  local log="$STATE/apt.log"
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@"; } > "$log" 2>&1 ||
    { tail -5 "$log"; die "apt-get could not install $*. The whole log: $log"; }
}

need_postgres() { ls -d /usr/lib/postgresql/*/bin/initdb > /dev/null 2>&1 || install_debian postgresql; }

need_chromium() {
  local missing=()
  [ -x /usr/bin/chromium ] || missing+=(chromium)
  [ -x /usr/bin/chromedriver ] || missing+=(chromium-driver)
  [ -e /usr/share/fonts/truetype/noto/NotoColorEmoji.ttf ] || missing+=(fonts-noto-color-emoji)
  [ ${#missing[@]} = 0 ] || install_debian "${missing[@]}"
}

need_sdks() {
  command -v dotnet > /dev/null || die "The .NET 10 SDK is missing. Install it (https://dot.net), then try again."
  dotnet --list-sdks | grep -q '^10\.' || die "The .NET SDK here is $(dotnet --version 2>/dev/null); version 10 is needed."
  command -v node > /dev/null || die "Node.js is missing. Install version 20 or newer, then try again."
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || die "Node.js here is $(node -v); version 20 or newer is needed."
}

doctor() {
  local tool
  for tool in dotnet node npm /usr/bin/chromium /usr/bin/chromedriver; do
    if command -v "$tool" > /dev/null; then say "$tool: $("$tool" --version 2>/dev/null | head -1)"; else say "$tool: missing"; fi
  done
  local bin; bin="$(postgres_bin)"
  if [ -n "$bin" ]; then say "postgres: $("$bin/postgres" --version)"; else say "postgres: missing (./lark installs it as root)"; fi
  say "state: $STATE"
}

# ---- PostgreSQL, private, on loopback only

postgres_bin() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

free_port() { node -e 'const s=require("net").createServer();s.listen(+process.argv[1]||0,"127.0.0.1",()=>{console.log(s.address().port);s.close()});s.on("error",()=>{const t=require("net").createServer();t.listen(0,"127.0.0.1",()=>{console.log(t.address().port);t.close()})})' "${1:-0}"; }

PG_DATA=""
PG_PORT=""

# PostgreSQL refuses to run as root: then it runs as the user that Debian's package made for it.
pg() {
  local bin; bin="$(postgres_bin)"
  local command="$1"; shift
  if [ "$(id -u)" = 0 ]; then
    (cd / && setpriv --reuid=postgres --regid=postgres --init-groups -- env -i PATH="$bin:/usr/bin:/bin" LANG=C.UTF-8 HOME="$PG_DATA" "$bin/$command" "$@")
  else
    (cd / && env -i PATH="$bin:/usr/bin:/bin" LANG=C.UTF-8 HOME="$PG_DATA" "$bin/$command" "$@")
  fi
}

# start_postgres FOLDER [EXTRA OPTIONS]: sets PG_DATA and PG_PORT; the folder keeps its data from one start to the next.
start_postgres() {
  PG_DATA="$1"
  local extra="${2:-}"
  # The postgres user must be able to walk to the folder; where it can't (a home folder closed to others), another place is used.
  mkdir -p "$PG_DATA"
  if [ "$(id -u)" = 0 ] && ! setpriv --reuid=postgres --regid=postgres --init-groups test -x "$PG_DATA" 2>/dev/null; then
    chmod 755 "$PG_DATA" 2>/dev/null || true
    if ! setpriv --reuid=postgres --regid=postgres --init-groups test -x "$PG_DATA" 2>/dev/null; then
      PG_DATA="/var/tmp/able-lark-$(printf '%s' "$1" | sha256sum | cut -c1-12)"
      mkdir -p "$PG_DATA"
    fi
  fi
  [ "$(id -u)" = 0 ] && chown postgres:postgres "$PG_DATA"
  chmod 700 "$PG_DATA"
  if [ ! -e "$PG_DATA/PG_VERSION" ]; then
    step "making a database in $PG_DATA"
    pg initdb -D "$PG_DATA" -U lark --auth-local=trust --auth-host=trust --encoding=UTF8 --locale=C.UTF-8 --no-instructions > /dev/null
  fi
  if pg pg_ctl -D "$PG_DATA" status > /dev/null 2>&1; then
    PG_PORT="$(sed -n 4p "$PG_DATA/postmaster.pid")"
    die "A database is already running in $PG_DATA (port $PG_PORT): another ./lark is at work here. Stop it first (Ctrl-C there)."
  fi
  PG_PORT="$(free_port 5470)"
  pg pg_ctl -D "$PG_DATA" -s -w -l "$PG_DATA/server.log" \
    -o "-c listen_addresses=127.0.0.1 -c port=$PG_PORT -c unix_socket_directories=$PG_DATA -c max_connections=300 $extra" start ||
    die "PostgreSQL did not start. Its log: $PG_DATA/server.log"
  PG_RUNNING=1
}

PG_RUNNING=0
stop_postgres() {
  [ "$PG_RUNNING" = 1 ] || return 0
  PG_RUNNING=0
  pg pg_ctl -D "$PG_DATA" -s -m fast stop > /dev/null 2>&1 || true
}

connection() { printf 'Host=127.0.0.1;Port=%s;Username=lark;Database=%s;Include Error Detail=true' "$PG_PORT" "$1"; }

ensure_database() {
  pg psql -h 127.0.0.1 -p "$PG_PORT" -U lark -d postgres -tAc "select 1 from pg_database where datname = '$1'" | grep -q 1 ||
    pg createdb -h 127.0.0.1 -p "$PG_PORT" -U lark "$1"
}

# ---- builds; each is skipped while what it is made from is unchanged

print_of() { (cd "$ROOT" && find "$@" -type f -not -path '*/bin/*' -not -path '*/obj/*' -not -path '*/node_modules/*' -not -path '*/dist/*' -not -name '*.tsbuildinfo' -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-20); }

unchanged() { [ "$(cat "$STATE/built-$1" 2>/dev/null)" = "$2" ]; }

# packages [run]: what the page is built with; `run`: without what only its tests and checks need.
packages() {
  local print what="all" more=()
  print="$(print_of src/web/package.json src/web/package-lock.json)"
  if [ -d "$WEB/node_modules" ] && unchanged packages "$print all"; then return; fi
  if [ "${1:-}" = run ]; then
    if [ -d "$WEB/node_modules" ] && unchanged packages "$print run"; then return; fi
    what=run more=(--omit=dev)
  fi
  step "installing the front end's packages"
  rm -f "$STATE/built-packages"
  (cd "$WEB" && npm ci --no-fund --no-audit "${more[@]}" > "$STATE/npm.log" 2>&1) || { tail -5 "$STATE/npm.log"; die "npm ci failed. The whole log: $STATE/npm.log"; }
  echo "$print $what" > "$STATE/built-packages"
}

# Types are checked by the formats of ./lark test.
build_web() {
  local print; print="$(print_of src/web)"
  if [ -e "$WEB/dist/index.html" ] && unchanged web "$print"; then return; fi
  packages "${1:-}"
  step "building the front end"
  (cd "$WEB" && npm run -s bundle > "$STATE/web.log" 2>&1) || { tail -20 "$STATE/web.log"; die "The front end does not build. The whole log: $STATE/web.log"; }
  echo "$print" > "$STATE/built-web"
}

# Server and stand-ins at once, each project once. Analysers are for ./lark test, which builds with them.
build_server() {
  local print; print="$(print_of src/AbleLark.Core src/AbleLark.Data src/AbleLark.Sheets src/AbleLark.Server src/AbleLark.StandIns networks Directory.Build.props Directory.Packages.props)"
  if [ -e "$STATE/server/AbleLark.Server.dll" ] && unchanged server "$print"; then return; fi
  step "fetching the server's packages"
  local log="$STATE/build-server.log"
  # Nothing is readied ahead of time: that costs more than a first start gets back (docs/benchmarks.md).
  dotnet restore scripts/run.slnf -v q > "$log" 2>&1 || { grep -E 'error' "$log" | sort -u | head -5; die "The server's packages could not be fetched. The whole log: $log"; }
  step "building the server and the stand-in networks"
  dotnet publish scripts/run.slnf --no-restore -c Release --nologo -v q -p:LarkPublish="$STATE" -p:OpenApiGenerateDocumentsOnBuild=false \
    -p:RunAnalyzers=false >> "$log" 2>&1 || { grep -E 'error|warn' "$log" | sort -u | head -20; die "The server does not build. The whole log: $log"; }
  echo "$print" > "$STATE/built-server"
}

build_types() {
  mkdir -p "$STATE"
  need_sdks
  packages
  dotnet build src/AbleLark.Server --nologo -v q
  (cd "$WEB" && npm run -s types)
}

# build_all [COMMAND...]: page and server side by side, and the command beside both.
build_all() {
  mkdir -p "$STATE"
  local web server
  (build_web run) & web=$!
  (build_server) & server=$!
  BUILDING=("$web" "$server")
  "$@"
  wait "$web" && wait "$server" || { end_building; exit 1; }
  BUILDING=()
}

# Builds that are under way when a command is ended: with what they have started.
BUILDING=()
end_building() {
  local pid
  for pid in "${BUILDING[@]}"; do end_tree "$pid"; done
  BUILDING=()
}

end_tree() {
  local child
  for child in $(ps -o pid= --ppid "$1"); do end_tree "$child"; done
  kill "$1" 2>/dev/null || true
}

# wait_for URL PID [COMMAND...]: until the address answers 200, as long as the process lives. The command is run while waiting.
wait_for() {
  local url="$1" process="$2"
  shift 2
  while ! curl -fs -o /dev/null "$url"; do
    kill -0 "$process" 2>/dev/null || return 1
    "$@"
    sleep 0.1
  done
}
