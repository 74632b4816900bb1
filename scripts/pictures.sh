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
scripts/terminal-shot.sh "$shots/ask-card.png" vturn ask $ferns/five-wide.plan --robot $ferns/sprig-5.robot.toml --card --fault swapped:2,4 --fault left_motor=reversed
SECONDS_TO_WAIT=8 scripts/terminal-shot.sh "$shots/step.png" scripts/type-keys.py ':stop block take\rg{page}' vturn step $ferns/glass-wing.course.toml $ferns/sprig-5.robot.toml $ferns/rounds.plan
scripts/install-node.sh chromium
(cd web && ../scripts/fetch-modules.sh && VTURN=$(command -v vturn) node bench/shot.mjs "../$shots/page.png")
