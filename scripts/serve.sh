# ./lark serve: the production form. Settings from the environment, no demo data, the real clock (see docs/running.md).

run_serve() {
  [ $# = 0 ] || die "serve takes no options; its settings come from the environment (docs/running.md)."
  [ -n "${ConnectionStrings__Lark:-}" ] || die "Set ConnectionStrings__Lark to the database, such as Host=127.0.0.1;Database=lark;Username=lark;Password=…"
  [ -n "${Lark__DataFolder:-}" ] || die "Set Lark__DataFolder to a folder that is kept and backed up: it holds pictures and the keys that encrypt channels' tokens."
  [ "${Lark__Demo:-false}" = false ] || die "Lark__Demo is for ./lark demo only."
  mkdir -p "$STATE"
  need_sdks
  build_all
  say "Able Lark listens at ${ASPNETCORE_URLS:-http://127.0.0.1:5400}"
  Lark__WebRoot="$WEB/dist" ASPNETCORE_URLS="${ASPNETCORE_URLS:-http://127.0.0.1:5400}" exec dotnet "$STATE/server/AbleLark.Server.dll"
}
