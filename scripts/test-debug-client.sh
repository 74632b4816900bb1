#!/usr/bin/env bash
# Tests vturn debug-adapter with a client of its protocol from npm. test-debug-client.sh [VTURN]
set -euo pipefail
cd "$(dirname "$0")/.."
export VTURN=${1:-$PWD/build/release/apps/vturn/vturn}
if ! command -v node > /dev/null || ! command -v npm > /dev/null; then
    as_root=()
    [ "$(id -u)" -eq 0 ] || as_root=(sudo)
    DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq --no-install-recommends nodejs npm >&2
fi
cd tests/debug-client
for attempt in 1 2 3; do # what is fetched is two small packages
    if npm ci --no-audit --no-fund --silent; then
        break
    fi
    [ "$attempt" -lt 3 ] || exit 1
    sleep 5
done
node --test
