#!/usr/bin/env bash
# Looks for races: what works on several threads is run with the thread sanitizer, on the demo data.
set -euo pipefail
cd "$(dirname "$0")/.."
cmake --preset threads > /dev/null
cmake --build --preset threads
export TSAN_OPTIONS=halt_on_error=1:exitcode=66
data=data/fern-house
vturn() {
    echo "vturn $*"
    local code=0
    build/threads/apps/vturn/vturn "$@" > /dev/null || code=$?
    [ "$code" -le 1 ] || exit "$code" # 1: a trip failed, as some do; 66: a race
}
for threads in 2 5; do
    vturn trips $data/fern-house.course.toml $data/sprig-2.robot.toml $data/left-first.plan $data/right-first.plan --jobs $threads
    vturn trips $data/glass-wing.course.toml $data/sprig-5.robot.toml $data/rounds-first-try.plan --repeat 3 --jobs $threads
    vturn compare $data/fern-house.course.toml $data/sprig-2.robot.toml $data/left-first.plan $data/gentle.plan --repeat 4 --jobs $threads
    vturn trips $data/drain.course.toml $data/sprig-5.robot.toml $data/drain-first-try.plan --days 60 --no-cures --variation $data/ordinary.days.toml --jobs $threads
    vturn sweep $data/fern-house.course.toml $data/sprig-2.robot.toml $data/left-first.plan --filter ferns --over cruise=36..84:24 --repeat 20 --jobs $threads
    vturn routes $data/glass-wing.course.toml $data/sprig-5.robot.toml $data/rounds.plan --jobs $threads
done
echo "no races"
