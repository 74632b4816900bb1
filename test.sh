#!/usr/bin/env bash
# Installs what is missing, builds, and runs every test: formatting, the optimised build, the installed library with
# programs that use it, the sanitizers, clang-tidy.
#   ./test.sh         all of it
#   ./test.sh quick   formatting, the optimised build and its tests
set -euo pipefail
cd "$(dirname "$0")"
began=$SECONDS
say() { printf '\n== %s (%d s so far)\n' "$1" "$((SECONDS - began))"; }

scripts/install-packages.sh

say "formatting"
git ls-files '*.cpp' '*.hpp' | xargs clang-format --dry-run --Werror

say "optimised build and tests"
cmake --preset release > /dev/null
cmake --build --preset release
ctest --preset release -j "$(nproc)"
if [ "${1:-}" = quick ]; then
    say "the quick part is done"
    exit 0
fi

say "installed library"
scripts/test-installed.sh build/release

say "tests under the address and undefined behaviour sanitizers"
cmake --preset sanitize > /dev/null
cmake --build --preset sanitize
ctest --preset sanitize -j "$(nproc)"

say "clang-tidy"
scripts/tidy.sh build/sanitize

say "all done"
