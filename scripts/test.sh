# ./lark test: all tests, the quick ones, or the parts named. Ends with one line of totals: N passed, N failed, N skipped.

PARTS=(format contract core web server browser)
QUICK=(core web contract format)
# What the days part goes over: the 1st, the 31st, 29 February, a Sunday, the days round both clock changes, new year.
DAYS=(2026-12-01 2026-12-31 2027-01-01 2027-03-27 2027-03-28 2027-03-29 2027-10-30 2027-10-31 2027-11-01 2028-02-29)
PASSED=0 FAILED=0 SKIPPED=0
FILTER=""
COVERAGE=""

count() { PASSED=$((PASSED + $1)) FAILED=$((FAILED + $2)) SKIPPED=$((SKIPPED + $3)); }

# check NAME COMMAND...: a part that passes or fails as a whole.
check() {
  local name="$1" log="$STATE/test/$1.log"; shift
  if "$@" > "$log" 2>&1; then count 1 0 0; else count 0 1 0; say "$name failed:"; tail -30 "$log"; fi
}

# dotnet_tests NAME PROJECT [OPTIONS]: runs a built test project and adds its totals.
dotnet_tests() {
  local log="$STATE/test/$1.log" coverage="$STATE/test/$1.coverage.xml" more=()
  # How much of the code the tests of Core and server reach is told where it is asked for: counting costs a third of their time.
  [ -z "$FILTER" ] || more=(--filter-method "*$FILTER*")
  more+=("${@:3}")
  if [ -n "$COVERAGE" ] && [ "$1" != browser ]; then
    more+=(--coverage --coverage-output-format cobertura --coverage-output "$coverage")
  fi
  dotnet test --no-build --project "tests/$2" --output Detailed "${more[@]}" > "$log" 2>&1 || true
  local total failed passed skipped
  total="$(sed -n 's/^ *total: //p' "$log" | tail -1)" failed="$(sed -n 's/^ *failed: //p' "$log" | tail -1)"
  passed="$(sed -n 's/^ *succeeded: //p' "$log" | tail -1)" skipped="$(sed -n 's/^ *skipped: //p' "$log" | tail -1)"
  if [ -z "$total" ] || [ "$total" = 0 ]; then
    say "$1: no test ran"; tail -30 "$log"; count 0 1 0
    return
  fi
  say "  $1: $passed passed, $failed failed, $skipped skipped"
  [ ! -e "$coverage" ] || node scripts/coverage.mjs "$coverage"
  [ "$failed" = 0 ] || grep -v -e '^    at ' -e '^passed ' -e '^  from ' "$log" | sed '/^Test run summary/,$d' | head -150
  count "$passed" "$failed" "$skipped"
}

# What depends on the day (the screens, the story, the demo's past), once on each of them, or on the one that is given.
day_tests() {
  local day days=("${DAYS[@]}")
  [ -z "${LARK_TEST_DAY:-}" ] || days=("$LARK_TEST_DAY")
  for day in "${days[@]}"; do
    say "  $day"
    export LARK_TEST_DAY="$day"
    DAY="$day" lane "$day" server-on-day
    local server=$!
    dotnet_tests "browser-$day" AbleLark.Browser.Tests --filter-trait Goes=over-days
    joined "$day" "$server"
  done
}

web_tests() {
  local log="$STATE/test/web.log" json="$STATE/test/web.json" coverage="$STATE/test/web-coverage" more=()
  [ -z "$FILTER" ] || more=(-t "$FILTER")
  if [ -n "$COVERAGE" ]; then
    more+=(--coverage.enabled --coverage.reporter=json-summary --coverage.include='src/**/*.{ts,tsx}' --coverage.reportsDirectory="$coverage")
  fi
  rm -f "$json"
  (cd "$WEB" && npx vitest run "${more[@]}" --reporter=default --reporter=json --outputFile.json="$json") > "$log" 2>&1 || true
  if [ ! -e "$json" ]; then say "web: no test ran"; tail -30 "$log"; count 0 1 0; return; fi
  read -r passed failed skipped <<< "$(node -p "const r=JSON.parse(require('fs').readFileSync('$json'));[r.numPassedTests,r.numFailedTests,r.numPendingTests+r.numTodoTests].join(' ')")"
  say "  web: $passed passed, $failed failed, $skipped skipped"
  [ ! -e "$coverage/coverage-summary.json" ] || node scripts/coverage.mjs "$coverage/coverage-summary.json"
  [ "$failed" = 0 ] || tail -60 "$log"
  count "$passed" "$failed" "$skipped"
}

formats() { dotnet csharpier check . && (cd "$WEB" && npm run -s check); }

# The OpenAPI document and the types made from it are the ones that are committed. The build writes the document.
contract() {
  local made="$STATE/test/contract"
  mkdir -p "$made"
  (cd "$WEB" && npx openapi-typescript src/api/openapi.json -o "$made/schema.ts") && cmp "$made/schema.ts" "$WEB/src/api/schema.ts" &&
    node scripts/limits.mjs "$WEB/src/api/openapi.json" "$made/limits.ts" && cmp "$made/limits.ts" "$WEB/src/api/limits.ts" &&
    cmp "$STATE/test/openapi-before.json" "$WEB/src/api/openapi.json" || { echo "The API and src/web/src/api differ: run ./lark types and commit what it writes."; return 1; }
}

# run_part PART: runs it, and notes how long it took and how fast the machine was then.
run_part() {
  step "$1"
  node scripts/budget.mjs loop >> "$STATE/test/loops"
  local start=$SECONDS
  case "$1" in
    format) check format formats ;;
    contract) check contract contract ;;
    core) dotnet_tests core AbleLark.Core.Tests ;;
    web) web_tests ;;
    server) dotnet_tests server AbleLark.Server.Tests ;;
    browser) dotnet_tests browser AbleLark.Browser.Tests ;;
    days) day_tests ;;
    server-on-day) dotnet_tests "server-$DAY" AbleLark.Server.Tests --filter-trait Goes=over-days ;;
  esac
  echo "$1 $((SECONDS - start))" >> "$STATE/test/times"
}

# lane NAME PART...: runs parts one after the other, beside what else is running; `joined NAME` shows what it said and adds its totals.
lane() {
  local name="$1"; shift
  (
    PASSED=0 FAILED=0 SKIPPED=0
    for part in "$@"; do run_part "$part"; done > "$STATE/test/lane-$name.said" 2>&1
    echo "$PASSED $FAILED $SKIPPED" > "$STATE/test/lane-$name.totals"
  ) &
}

joined() {
  wait "$2" || true
  cat "$STATE/test/lane-$1.said"
  # shellcheck disable=SC2046
  count $(cat "$STATE/test/lane-$1.totals" 2>/dev/null || echo "0 1 0")
}

# What the parts need, built side by side and once.
build_for() {
  local web_job=""
  if needs format; then dotnet tool restore > "$STATE/test/tools.log" 2>&1 || { cat "$STATE/test/tools.log"; die "The formatter could not be fetched."; }; fi
  if needs format contract web browser days; then
    (packages && { ! needs browser days || build_web; }) &
    web_job=$!
  fi
  if needs format contract core server browser days; then
    step "building"
    # The quick tests need neither the server's tests nor the benchmarks.
    local what=(AbleLark.slnx)
    if ! needs server browser days; then what=(tests/AbleLark.Core.Tests); fi
    dotnet build "${what[@]}" --nologo -v q > "$STATE/test/build.log" 2>&1 && { needs server browser days || ! needs contract ||
      dotnet build src/AbleLark.Server --nologo -v q >> "$STATE/test/build.log" 2>&1; } ||
      { grep -E 'error|warn' "$STATE/test/build.log" | sort -u | head -30; say "0 passed, 1 failed, 0 skipped"; exit 1; }
  fi
  if [ -n "$web_job" ]; then wait "$web_job" || die "The front end's packages or its build failed."; fi
}

run_tests() {
  local wanted=() part
  export LARK_EFFORT="${LARK_EFFORT:-full}"
  while [ $# -gt 0 ]; do
    case "$1" in
      quick) wanted+=("${QUICK[@]}"); LARK_EFFORT=quick ;;
      --coverage) COVERAGE=1 ;;
      --filter) shift; FILTER="${1:?Say which tests, for instance --filter Rotation}" ;;
      --day) shift; export LARK_TEST_DAY="${1:?Say on which day, for instance --day 2028-02-29}" ;;
      *) [[ " ${PARTS[*]} days " = *" $1 "* ]] || die "There is no part '$1'. Parts: ${PARTS[*]}; or quick; days; --filter WORD; --day DAY; --coverage."; wanted+=("$1") ;;
    esac
    shift
  done
  [ ${#wanted[@]} -gt 0 ] || wanted=("${PARTS[@]}")
  needs() { local p; for p in "$@"; do [[ " ${wanted[*]} " = *" $p "* ]] && return 0; done; return 1; }

  local began=$SECONDS
  rm -rf "$STATE/test"
  mkdir -p "$STATE/test"
  need_sdks
  trap 'stop_started; exit 130' INT TERM
  trap stop_started EXIT
  if needs browser days; then need_chromium; export LARK_TEST_WEB="$WEB/dist"; fi
  if needs server browser days; then
    need_postgres
    start_postgres "$STATE/test/postgres" "-c fsync=off -c synchronous_commit=off -c full_page_writes=off"
    export LARK_TEST_POSTGRES; LARK_TEST_POSTGRES="$(connection postgres)"
  fi
  cp "$WEB/src/api/openapi.json" "$STATE/test/openapi-before.json"
  build_for
  echo "build $((SECONDS - began))" >> "$STATE/test/times"

  # Two lanes: the server's tests wait a good deal, and those before them keep one core busy. The browser comes after both: beside the
  # server's tests it takes as much longer as it began sooner.
  local server_lane=""
  if needs server && [ ${#wanted[@]} -gt 1 ]; then lane server server; server_lane=$!; fi
  for part in "${wanted[@]}"; do
    if [ "$part" = server ] && [ -n "$server_lane" ]; then joined server "$server_lane"; else run_part "$part"; fi
  done

  if [ -z "$FILTER" ]; then
    [ ${#wanted[@]} -lt ${#PARTS[@]} ] || echo "whole $((SECONDS - began))" >> "$STATE/test/times"
    check budget node scripts/budget.mjs judge "$STATE/test/times" "$STATE/test/loops" $(ls "$STATE"/test/{core,server,browser}.log 2>/dev/null)
    cat "$STATE/test/budget.log"
  fi
  say "$PASSED passed, $FAILED failed, $SKIPPED skipped"
  [ "$FAILED" = 0 ]
}
