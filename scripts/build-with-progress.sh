#!/usr/bin/env bash
# Builds a target and shows how far it is: build-with-progress.sh FOLDER TARGET. On a terminal one line that is written
# over, elsewhere a line every ten seconds. What the build prints is shown when it fails.
set -euo pipefail
folder=$1
target=$2
log=$(mktemp)
trap 'rm -f "$log"' EXIT
began=$SECONDS
cmake --build "$folder" --target "$target" > "$log" 2>&1 &
build=$!
tell() {
    # The build counts its steps itself: [12/87].
    local steps
    steps=$({ tr '\r' '\n' < "$log" | grep -oE '^\[[0-9]+/[0-9]+\]' || true; } | tail -n 1)
    printf 'building %s %s, %d s so far' "$target" "${steps:-[starting]}" "$((SECONDS - began))"
}
while kill -0 "$build" 2> /dev/null; do
    if [ -t 2 ]; then
        printf '\r%s  ' "$(tell)" >&2
        sleep 1
    elif [ $(((SECONDS - began) % 10)) -eq 0 ]; then
        tell >&2
        echo >&2
        sleep 1
    else
        sleep 0.5
    fi
done
if ! wait "$build"; then
    echo >&2
    tail -n 60 "$log" >&2
    exit 1
fi
[ -t 2 ] && printf '\r' >&2
printf 'built %s in %d s%20s\n' "$target" "$((SECONDS - began))" "" >&2
