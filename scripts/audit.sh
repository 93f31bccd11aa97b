# ./lark audit: known weaknesses of the packages that we use. A registry that can't be asked is said, and is no failure.

run_audit() {
  mkdir -p "$STATE"
  need_sdks
  packages
  local found=0 log="$STATE/audit.log"
  step "asking about NuGet packages"
  if ! dotnet list AbleLark.slnx package --vulnerable --include-transitive > "$log" 2>&1; then
    say "  could not be asked: $(tail -1 "$log")"
  elif grep -q '^ *>' "$log"; then
    grep -e '^Project' -e '^ *>' "$log"; found=1
  else
    say "  none is known to be weak"
  fi
  step "asking about npm packages"
  if (cd "$WEB" && npm audit --audit-level=high > "$log" 2>&1); then
    say "  none is known to be weak"
  elif grep -q 'audit endpoint returned an error\|ENOTFOUND\|ECONNREFUSED\|EAI_AGAIN' "$log"; then
    say "  could not be asked: this registry tells of no weaknesses"
  else
    tail -30 "$log"; found=1
  fi
  [ $found = 0 ] || die "A package is known to be weak. Update it, or say in docs/dependencies.md why it does no harm here."
}
