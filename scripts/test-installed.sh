#!/usr/bin/env bash
# Installs the library from a build folder into a scratch folder and builds and runs a program that
# finds it there with find_package, as a user's project would.
set -euo pipefail
cd "$(dirname "$0")/.."
build=${1:-build}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cmake --install "$build" --prefix "$work/installed" > /dev/null
cmake -S tests/installed -B "$work/build" -G Ninja -DCMAKE_PREFIX_PATH="$work/installed" > /dev/null
cmake --build "$work/build" > /dev/null
"$work/build/consumer" "$work/installed/share/vast_turn/fern-house"
"$work/installed/bin/vturn" table "$work/installed/share/vast_turn/fern-house/left-first.plan" > /dev/null
echo "the installed library and command work"
