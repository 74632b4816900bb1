#!/usr/bin/env bash
# Installs what is missing, builds, and runs every test: formatting, the optimised build, the
# installed library with a program that uses it, the sanitizers, clang-tidy.
set -euo pipefail
cd "$(dirname "$0")"
began=$SECONDS
say() { printf '\n== %s (%d s so far)\n' "$1" "$((SECONDS - began))"; }

scripts/install-packages.sh

say "formatting"
git ls-files '*.cpp' '*.hpp' | xargs clang-format --dry-run --Werror

say "optimised build and tests"
jumbo=(-DCMAKE_UNITY_BUILD=ON -DCMAKE_UNITY_BUILD_BATCH_SIZE=16) # several sources as one: half the time
cmake -S . -B build-test -G Ninja -DCMAKE_BUILD_TYPE=Release -DVAST_TURN_BUILD_BENCH=ON "${jumbo[@]}" > /dev/null
cmake --build build-test
ctest --test-dir build-test --output-on-failure -j "$(nproc)"

say "installed library"
scripts/test-installed.sh build-test

say "tests under the address and undefined behaviour sanitizers"
cmake -S . -B build-sanitize -G Ninja -DCMAKE_BUILD_TYPE=Debug -DVAST_TURN_SANITIZE=ON -DCMAKE_CXX_FLAGS_DEBUG="-O0" \
    "${jumbo[@]}" > /dev/null
cmake --build build-sanitize
ctest --test-dir build-sanitize --output-on-failure -j "$(nproc)"

say "clang-tidy"
scripts/tidy.sh build-sanitize

say "all done"
