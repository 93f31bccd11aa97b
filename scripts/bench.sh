# ./lark bench: figures beside a reference of the same run: name | value | reference | ratio | target | holds or falls short.

run_bench() {
  mkdir -p "$STATE"
  need_sdks
  need_postgres
  need_chromium
  build_web
  build_server
  step "building the benchmarks"
  dotnet publish bench/AbleLark.Bench -c Release -o "$STATE/bench" --nologo -v q > "$STATE/build.log" 2>&1 || { tail -20 "$STATE/build.log"; die "The benchmarks do not build."; }
  trap 'stop_started; exit 130' INT TERM
  trap stop_started EXIT
  dotnet "$STATE/bench/AbleLark.Bench.dll" "$ROOT"
  # The page is measured on a demo of its own, made once and kept for the next time.
  start_demo "$STATE/bench-demo" 0 0
  node scripts/bench.mjs "$DEMO_ADDRESS" "$(free_port 0)" "$WEB/dist"
}
