# ./lark shots: one picture of each main view, from a demo of its own made for it.

run_shots() {
  mkdir -p "$STATE"
  need_sdks
  need_chromium
  trap 'stop_started; exit 130' INT TERM
  trap stop_started EXIT
  local folder="$STATE/shots"
  rm -rf "$folder"
  build_all start_demo_database "$folder"
  start_demo "$folder" 0 0
  step "taking pictures"
  node scripts/shots.mjs "$DEMO_ADDRESS" "$ROOT/docs/screenshots" "$(free_port 0)" "$@"
}
