#!/usr/bin/env bash
# Makes the source tarball and the Debian packages of the last commit, in build/package, and looks at them with lintian.
# Needs debhelper and lintian, and what the packages are built with (debian/control).
#   scripts/package.sh          once
#   scripts/package.sh twice    and again in another folder: both must have the same bytes
set -euo pipefail
cd "$(dirname "$0")/.."
version=$(sed -n '1s/.*(\(.*\)-.*/\1/p' debian/changelog)
out=$PWD/build/package
rm -rf "$out"
mkdir -p "$out"
SOURCE_DATE_EPOCH=$(dpkg-parsechangelog -S Timestamp)
export SOURCE_DATE_EPOCH
commit=$(git rev-parse HEAD) # of both builds, whatever is changed meanwhile

# The tarball holds what builds by itself; how Debian packs it comes beside it.
git archive --format=tar --prefix="vast-turn-$version/" "$commit" -- . ':!debian' | gzip -9n > "$out/vast-turn_$version.orig.tar.gz"

built_in() {
    mkdir -p "$1"
    cp "$out/vast-turn_$version.orig.tar.gz" "$1"
    tar -C "$1" -xf "$1/vast-turn_$version.orig.tar.gz"
    git archive --format=tar "$commit" -- debian | tar -C "$1/vast-turn-$version" -xf -
    (cd "$1/vast-turn-$version" && dpkg-buildpackage -us -uc > "$1/log" 2>&1) || { tail -40 "$1/log" >&2; return 1; }
}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
built_in "$work/one"
cp "$work/one"/*.deb "$work/one"/*.dsc "$work/one"/*.tar.* "$work/one"/*.changes "$work/one"/*.buildinfo "$out"
lintian --fail-on error,warning --tag-display-limit 0 "$out"/*.changes
if [ "${1:-}" = twice ]; then
    built_in "$work/another/and/deeper"
    differ=()
    for deb in "$work/one"/*.deb; do
        cmp -s "$deb" "$work/another/and/deeper/$(basename "$deb")" || differ+=("$(basename "$deb")")
    done
    if [ "${#differ[@]}" -gt 0 ]; then
        echo "built again elsewhere these have other bytes: ${differ[*]}" >&2
        exit 1
    fi
    echo "built again elsewhere: the same bytes"
fi
ls -l "$out"/*.deb "$out"/*.orig.tar.gz
