#!/usr/bin/env bash
# Makes the pictures of docs/screenshots anew: those that the README's commands write, then what commands print in a terminal window, and the page of a run in a browser.
# pictures.sh [VTURN]. Needs xvfb, xterm and imagemagick besides what the tests need.
set -euo pipefail
cd "$(dirname "$0")/.."
vturn=${1:-build/release/apps/vturn/vturn}
shots=docs/screenshots
tests/docs/run.py "$vturn" --pictures "$shots" README.md
# In a window each is shown as it is typed.
PATH=$(realpath "$(dirname "$vturn")"):$PATH
ferns=data/fern-house
scripts/terminal-shot.sh "$shots/vet.png" vturn vet $ferns/gentle.plan $ferns/left-first.plan --robot $ferns/sprig-2.robot.toml --course $ferns/fern-house.course.toml
scripts/terminal-shot.sh "$shots/table.png" vturn table $ferns/left-first.plan
SECONDS_TO_WAIT=8 scripts/terminal-shot.sh "$shots/step.png" scripts/type-keys.py ':stop block take\rg{page}' vturn step $ferns/glass-wing.course.toml $ferns/sprig-5.robot.toml $ferns/rounds.plan
# The bench: keys to it and lines to the hand of the robot at the other end, each when the one before is through.
line=$(mktemp -d)
mkfifo "$line/hand"
vturn stand-in $ferns/sprig-5.robot.toml --fault swapped:2,4 --at "$line/sprig-port" < "$line/hand" > "$line/said" 2>&1 &
exec 7> "$line/hand"
tmux -S "$line/screen" -f /dev/null new-session -d -x 141 -y 42 "cd $line; vturn bench sprig-port --robot $PWD/$ferns/sprig-5.robot.toml --plan $PWD/$ferns/rounds.plan" \; set status off
held() { echo "$1" >&7; sleep 0.3; tmux -S "$line/screen" send-keys "$2"; sleep "${3:-1.2}"; }
sleep 1
held floor f
held line l
held 'plate amber' p
held 'sweep 3s' s 3
held 'card off' Space 0.2
held 'card off' u 0.2
held 'card off' k 0.2
held 'card off' Enter 0.6
for card in 1 2 3 4 5; do held "card $card" Enter 0.6; done
held 'card 3' a 0.1
scripts/terminal-shot.sh "$shots/bench.png" tmux -S "$line/screen" attach
tmux -S "$line/screen" kill-server
exec 7>&-
kill %1
scripts/install-node.sh chromium
(cd web && ../scripts/fetch-modules.sh && VTURN=$(command -v vturn) node bench/shot.mjs "../$shots/page.png")
