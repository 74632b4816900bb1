#!/usr/bin/env bash
# Installs what is missing, builds, and runs every test: formatting, the optimised build, the installed library with
# programs that use it, static and shared, the sanitizers, a debug client, an editor, the documentation as a site, pages in a browser, clang-tidy.
#   ./test.sh         all of it
#   ./test.sh quick   formatting, the optimised build and its tests but for the longest: trials, drawings, hostile files
set -euo pipefail
cd "$(dirname "$0")"
began=$SECONDS
say() { printf '\n== %s (%d s so far)\n' "$1" "$((SECONDS - began))"; }

# What keeps the cores busy while tests wait for one another. `behind LOG COMMAND...` begins it, with what comes first
# before it on the processor; `caught_up LOG` waits for its end, shows what it said and fails if it did.
logs=$(mktemp -d)
declare -A behind_pid
behind() {
    setsid nice -n 5 "${@:2}" > "$logs/$1" 2>&1 < /dev/null & # a group of its own, which ends as one
    behind_pid[$1]=$!
}
caught_up() {
    local status=0
    wait "${behind_pid[$1]}" || status=$?
    unset "behind_pid[$1]"
    cat "$logs/$1"
    return "$status"
}
leave() {
    for pid in "${behind_pid[@]}"; do
        kill -TERM -- "-$pid" 2> /dev/null || true
    done
    rm -rf "$logs"
}
trap leave EXIT

scripts/install-packages.sh
at_once=$(($(nproc) + 1)) # some tests wait for terminals and clocks

say "formatting"
git ls-files '*.cpp' '*.hpp' | xargs clang-format --dry-run --Werror

say "the tests, compiled once for both builds"
cmake --preset sanitize > /dev/null
cmake --build --preset sanitize --target vast_turn_test_cases

say "optimised build"
cmake --preset release > /dev/null
cmake --build --preset release
if [ "${1:-}" != quick ]; then
    behind build-sanitize cmake --build --preset sanitize
fi
say "its tests"
if [ "${1:-}" = quick ]; then
    ctest --preset release -j "$at_once" --label-exclude long
    say "the quick part is done"
    exit 0
fi
ctest --preset release -j "$at_once"

say "build with the address and undefined behaviour sanitizers, begun beside the tests"
caught_up build-sanitize

behind installed scripts/test-installed.sh build/release
behind debug-client scripts/test-debug-client.sh
behind page scripts/test-page.sh
behind language-server scripts/test-language-server.sh
behind site scripts/docs.sh "$logs/built-site"
behind tidy scripts/tidy.sh build/sanitize
behind installed-shared env CXX=clang++ CXXFLAGS=-fsanitize=address,undefined \
    LSAN_OPTIONS="suppressions=$PWD/tests/leaks.supp:print_suppressions=0" scripts/test-installed.sh build/sanitize
say "its tests"
ctest --preset sanitize -j "$at_once"

say "installed library, begun beside the tests"
caught_up installed

say "installed shared libraries, begun beside the tests"
caught_up installed-shared

say "the debug adapter with a client from npm, begun beside the tests"
caught_up debug-client

say "the language server with Neovim, begun beside the tests"
caught_up language-server

say "the documentation as a site, begun beside the tests"
caught_up site

say "pages in a browser, begun beside the tests"
caught_up page

say "clang-tidy, begun beside the tests"
caught_up tidy

say "all done"
