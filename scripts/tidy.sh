#!/usr/bin/env bash
# Runs clang-tidy over our sources with the compile commands of a build folder; any finding fails.
# The path-following analyzer, the slowest part, runs over the library's own logic; files and commands,
# which are mostly other people's headers, get all the other checks.
set -euo pipefail
cd "$(dirname "$0")/.."
build=${1:-build}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
# Precompiled headers are GCC's, so the commands are given to clang without them.
python3 - "$build/compile_commands.json" "$work/compile_commands.json" <<'PY'
import json, re, sys
commands = json.load(open(sys.argv[1]))
for c in commands:
    c['command'] = re.sub(r'-Winvalid-pch |-include \S+cmake_pch\.hxx |-Wno-restrict ', '', c['command'])
json.dump([c for c in commands if 'cmake_pch' not in c['file']], open(sys.argv[2], 'w'))
PY
check() {
    xargs -P "$(nproc)" -n 1 clang-tidy -p "$work" --quiet "$@" > "$work/log" 2>&1 || { grep -v 'warnings generated' "$work/log" >&2; exit 1; }
}
git ls-files 'src/*.cpp' | grep -v '^src/files/' | check
git ls-files 'src/files/*.cpp' 'apps/*.cpp' 'examples/*.cpp' 'fuzz/*.cpp' | check --checks='-clang-analyzer-*'
echo "clang-tidy: no findings"
