#!/usr/bin/env bash
# Runs clang-tidy over our sources with the compile commands of a build folder; any finding fails.
# Precompiled headers are GCC's, so the commands are given to clang without them.
set -euo pipefail
cd "$(dirname "$0")/.."
build=${1:-build}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
python3 - "$build/compile_commands.json" "$work/compile_commands.json" <<'PY'
import json, re, sys
commands = json.load(open(sys.argv[1]))
for c in commands:
    c['command'] = re.sub(r'-Winvalid-pch |-include \S+cmake_pch\.hxx |-Wno-restrict ', '', c['command'])
json.dump([c for c in commands if 'cmake_pch' not in c['file']], open(sys.argv[2], 'w'))
PY
git ls-files 'src/*.cpp' 'apps/*.cpp' 'examples/*.cpp' 'fuzz/*.cpp' |
    xargs -P "$(nproc)" -n 4 clang-tidy -p "$work" --quiet 2> "$work/log" || { cat "$work/log" >&2; exit 1; }
echo "clang-tidy: no findings"
