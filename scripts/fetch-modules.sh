#!/usr/bin/env bash
# Fetches the node modules that the folder's package-lock.json names, just these.
set -euo pipefail
for attempt in 1 2 3; do
    if npm ci --no-audit --no-fund --silent; then
        exit 0
    fi
    [ "$attempt" -lt 3 ] || exit 1
    sleep 5
done
