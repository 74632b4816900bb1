#!/usr/bin/env bash
# Installs what is missing, builds the command and runs the tour on the demo data.
# Arguments go to `vturn demo`, for example: ./demo.sh -o my-folder
set -euo pipefail
cd "$(dirname "$0")"
scripts/install-packages.sh
cmake --preset release > build.log 2>&1 || { cat build.log >&2; exit 1; }
scripts/build-with-progress.sh build/release vturn
rm -f build.log
build/release/apps/vturn/vturn demo "$@"
