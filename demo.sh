#!/usr/bin/env bash
# Installs what is missing, builds the command and runs the tour on the demo data.
# Arguments go to `vturn demo`, for example: ./demo.sh -o my-folder
set -euo pipefail
cd "$(dirname "$0")"
scripts/install-packages.sh
cmake -S . -B build -G Ninja -DCMAKE_BUILD_TYPE=Release > build.log 2>&1 || { cat build.log >&2; exit 1; }
cmake --build build --target vturn >> build.log 2>&1 || { tail -n 60 build.log >&2; exit 1; }
rm -f build.log
build/apps/vturn/vturn demo "$@"
