#!/usr/bin/env bash
# Runs every fuzz target, one after another with as many processes as there are cores, and tells what each did.
#   scripts/fuzz.sh [SECONDS] [TARGET...]   in all, 3600 unless given; all targets unless named
# What a target finds stays in build/fuzz/found/TARGET. It ends with 1 when any found anything.
set -euo pipefail
cd "$(dirname "$0")/.."
seconds=${1:-3600}
shift || true
cmake --preset fuzz > /dev/null
cmake --build --preset fuzz > build/fuzz/build.log || { tail -n 30 build/fuzz/build.log; exit 1; }
targets=("$@")
if [ ${#targets[@]} = 0 ]; then
    targets=(plan course robot calibration trips bench log looks drawing pieces written export told)
fi
each=$((seconds / ${#targets[@]}))
export LSAN_OPTIONS=suppressions=tests/leaks.supp:print_suppressions=0
findings=0
printf '%-12s %12s %10s %10s %8s\n' target executions coverage corpus findings
for target in "${targets[@]}"; do
    grown=build/fuzz/grown/$target
    found=build/fuzz/found/$target
    log=build/fuzz/$target.log
    mkdir -p "$grown" "$found"
    rm -f "$log"
    # Jobs share what they learn through the folder. A text of 20,000 bytes reaches every bound but those of size.
    (cd build/fuzz && "fuzz/fuzz_$target" "grown/$target" "../../fuzz/corpus/$target" -artifact_prefix="found/$target/" \
        -max_len=20000 -len_control=20 -timeout=25 -rss_limit_mb=2560 -max_total_time="$each" \
        -fork="$(nproc)" -ignore_crashes=1 -ignore_timeouts=1 -ignore_ooms=1) > "$log" 2>&1 || true
    # What an interrupted process leaves is empty, and what is slow is told, not counted.
    find "$found" -type f -empty -delete
    now=$(find "$found" -type f ! -name 'slow-unit-*' | wc -l)
    findings=$((findings + now))
    last=$(grep -E '^#[0-9]+: cov' "$log" | tail -n 1)
    printf '%-12s %12s %10s %10s %8s\n' "$target" "$(sed -E 's/^#([0-9]+):.*/\1/' <<< "$last")" \
        "$(sed -E 's/.*cov: ([0-9]+).*/\1/' <<< "$last")" "$(find "$grown" -type f | wc -l)" "$now"
done
[ "$findings" = 0 ]
