# ./lark test: all tests, or the parts named. Ends with one line of totals: N passed, N failed, N skipped.

PARTS=(format contract core web server browser)
PASSED=0 FAILED=0 SKIPPED=0

count() { PASSED=$((PASSED + $1)) FAILED=$((FAILED + $2)) SKIPPED=$((SKIPPED + $3)); }

# check NAME COMMAND...: a part that passes or fails as a whole.
check() {
  local name="$1" log="$STATE/test/$1.log"; shift
  if "$@" > "$log" 2>&1; then count 1 0 0; else count 0 1 0; say "$name failed:"; tail -30 "$log"; fi
}

# dotnet_tests NAME PROJECT: runs a built test project and adds its totals.
dotnet_tests() {
  local log="$STATE/test/$1.log"
  dotnet test --no-build --project "tests/$2" --output Detailed > "$log" 2>&1 || true
  local total failed passed skipped
  total="$(sed -n 's/^ *total: //p' "$log" | tail -1)" failed="$(sed -n 's/^ *failed: //p' "$log" | tail -1)"
  passed="$(sed -n 's/^ *succeeded: //p' "$log" | tail -1)" skipped="$(sed -n 's/^ *skipped: //p' "$log" | tail -1)"
  if [ -z "$total" ] || [ "$total" = 0 ]; then
    say "$1: no test ran"; tail -30 "$log"; count 0 1 0
    return
  fi
  say "  $1: $passed passed, $failed failed, $skipped skipped"
  [ "$failed" = 0 ] || grep -v -e '^    at ' -e '^passed ' -e '^  from ' "$log" | sed '/^Test run summary/,$d' | head -150
  count "$passed" "$failed" "$skipped"
}

web_tests() {
  local log="$STATE/test/web.log" json="$STATE/test/web.json"
  rm -f "$json"
  (cd "$WEB" && npx vitest run --reporter=default --reporter=json --outputFile.json="$json") > "$log" 2>&1 || true
  if [ ! -e "$json" ]; then say "web: no test ran"; tail -30 "$log"; count 0 1 0; return; fi
  read -r passed failed skipped <<< "$(node -p "const r=JSON.parse(require('fs').readFileSync('$json'));[r.numPassedTests,r.numFailedTests,r.numPendingTests+r.numTodoTests].join(' ')")"
  say "  web: $passed passed, $failed failed, $skipped skipped"
  [ "$failed" = 0 ] || tail -60 "$log"
  count "$passed" "$failed" "$skipped"
}

formats() { dotnet tool restore > /dev/null && dotnet csharpier check . && (cd "$WEB" && npm run -s check); }

# The OpenAPI document and the types made from it are the ones that are committed. The build writes the document.
contract() {
  local made="$STATE/test/contract"
  mkdir -p "$made"
  (cd "$WEB" && npx openapi-typescript src/api/openapi.json -o "$made/schema.ts") && cmp "$made/schema.ts" "$WEB/src/api/schema.ts" &&
    node scripts/limits.mjs "$WEB/src/api/openapi.json" "$made/limits.ts" && cmp "$made/limits.ts" "$WEB/src/api/limits.ts" &&
    cmp "$STATE/test/openapi-before.json" "$WEB/src/api/openapi.json" || { echo "The API and src/web/src/api differ: run ./lark types and commit what it writes."; return 1; }
}

run_tests() {
  local wanted=("$@")
  [ ${#wanted[@]} -gt 0 ] || wanted=("${PARTS[@]}")
  local part
  for part in "${wanted[@]}"; do [[ " ${PARTS[*]} " = *" $part "* ]] || die "There is no part '$part'. Parts: ${PARTS[*]}."; done
  needs() { local p; for p in "$@"; do [[ " ${wanted[*]} " = *" $p "* ]] && return 0; done; return 1; }

  rm -rf "$STATE/test"
  mkdir -p "$STATE/test"
  need_sdks
  packages
  trap 'stop_started; exit 130' INT TERM
  trap stop_started EXIT
  if needs server browser; then
    need_postgres
    start_postgres "$STATE/test/postgres" "-c fsync=off -c synchronous_commit=off -c full_page_writes=off"
    export LARK_TEST_POSTGRES; LARK_TEST_POSTGRES="$(connection postgres)"
  fi
  if needs browser; then need_chromium; build_web; export LARK_TEST_WEB="$WEB/dist"; fi
  cp "$WEB/src/api/openapi.json" "$STATE/test/openapi-before.json"
  if needs format contract core server browser; then
    step "building"
    dotnet build AbleLark.slnx --nologo -v q > "$STATE/test/build.log" 2>&1 ||
      { grep -E 'error|warn' "$STATE/test/build.log" | sort -u | head -30; say "0 passed, 1 failed, 0 skipped"; exit 1; }
  fi
  # Two lanes: the server's tests wait a good deal, and the four before them keep one core busy.
  local server_lane=""
  if needs server && needs format contract core web; then
    (PASSED=0 FAILED=0 SKIPPED=0; dotnet_tests server AbleLark.Server.Tests > "$STATE/test/server-said.log"; echo "$PASSED $FAILED $SKIPPED" > "$STATE/test/server-totals") &
    server_lane=$!
  fi
  for part in "${wanted[@]}"; do
    step "$part"
    case "$part" in
      format) check format formats ;;
      contract) check contract contract ;;
      core) dotnet_tests core AbleLark.Core.Tests ;;
      web) web_tests ;;
      server)
        if [ -n "$server_lane" ]; then
          wait "$server_lane" || true
          cat "$STATE/test/server-said.log"
          # shellcheck disable=SC2046
          count $(cat "$STATE/test/server-totals" 2>/dev/null || echo "0 1 0")
        else
          dotnet_tests server AbleLark.Server.Tests
        fi ;;
      browser) dotnet_tests browser AbleLark.Browser.Tests ;;
    esac
  done
  say "$PASSED passed, $FAILED failed, $SKIPPED skipped"
  [ "$FAILED" = 0 ]
}
