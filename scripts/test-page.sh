#!/usr/bin/env bash
# Tests the pages of vturn report and vturn watch in a browser: test-page.sh [VTURN]
# Types of its modules, whether what is kept of them is what they make, then the pages in headless Chromium.
set -euo pipefail
cd "$(dirname "$0")/.."
export VTURN=${1:-$PWD/build/release/apps/vturn/vturn}
scripts/install-node.sh chromium
cd web
../scripts/fetch-modules.sh
npx --no-install tsc
node --test tests
