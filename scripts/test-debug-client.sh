#!/usr/bin/env bash
# Tests vturn debug-adapter with a client of its protocol from npm. test-debug-client.sh [VTURN]
set -euo pipefail
cd "$(dirname "$0")/.."
export VTURN=${1:-$PWD/build/release/apps/vturn/vturn}
scripts/install-node.sh
cd tests/debug-client
../../scripts/fetch-modules.sh
node --test
