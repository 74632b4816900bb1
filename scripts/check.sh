#!/usr/bin/env bash
# After a change: builds what it needs and runs the tests of a room, or all. check.sh [ROOM], for example: check.sh trial
set -euo pipefail
cd "$(dirname "$0")/.."
room=${1:-}
if [ -n "$room" ] && [ ! -d "tests/$room" ]; then
    echo "there is no room tests/$room; there are $(cd tests && find . -name '*_test.cpp' -printf '%h\n' | sort -u | sed 's#^\./##' | paste -sd ' ')" >&2
    exit 2
fi
[ -f build/dev/build.ninja ] || cmake --preset dev > /dev/null
cmake --build --preset dev --target vast_turn_tests
build/dev/tests/vast_turn_tests "-sf=*/tests/${room:+$room/}*"
