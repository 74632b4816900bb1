#!/usr/bin/env bash
# Takes a picture of what a command prints in a terminal window: terminal-shot.sh FILE.png COMMAND...
# after SECONDS_TO_WAIT (3). Needs xvfb, xterm and imagemagick.
set -euo pipefail
file=$1
shift
command=$(printf '%q ' "$@")
display=:$((90 + RANDOM % 900))
Xvfb "$display" -screen 0 1280x800x24 > /dev/null 2>&1 &
server=$!
trap 'kill $server 2> /dev/null || true' EXIT
sleep 1
DISPLAY=$display xterm -geometry 141x42+0+0 -fa 'DejaVu Sans Mono' -fs 11 -bg '#fafaf6' -fg '#262c28' +sb \
    -e bash -c "printf '\$ %s\n' \"$command\"; $command; sleep 6" &
sleep "${SECONDS_TO_WAIT:-3}"
DISPLAY=$display import -window root "$file"
