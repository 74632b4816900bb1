#!/usr/bin/env bash
# Installs node and npm, and packages that are named, where they are missing: install-node.sh [PACKAGE...]
set -euo pipefail
wanted=()
command -v node > /dev/null || wanted+=(nodejs)
command -v npm > /dev/null || wanted+=(npm)
for package in "$@"; do
    command -v "$package" > /dev/null || wanted+=("$package")
done
if [ "${#wanted[@]}" -gt 0 ]; then
    as_root=()
    [ "$(id -u)" -eq 0 ] || as_root=(sudo)
    # What else installs packages at the same time is waited for.
    DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get -o DPkg::Lock::Timeout=300 install -y -qq --no-install-recommends "${wanted[@]}" >&2
fi
