#!/usr/bin/env bash
# Follows the worked change of CONTRIBUTING.md in a fresh clone: the change, ./lark types, ./lark test quick.
set -euo pipefail
ROOT="$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)"
CLONE="$(mktemp -d)"
trap 'rm -rf "$CLONE"' EXIT
git clone -q "$ROOT" "$CLONE/able-lark"
cd "$CLONE/able-lark"
node scripts/worked-change.mjs "$PWD"
./lark types
git diff --stat
./lark test quick
