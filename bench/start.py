#!/usr/bin/env python3
"""How long a short call takes from its start to its end, and its memory.

    bench/start.py build/release/apps/vturn/vturn [OTHER]

Calls `--version` and `table` of a small plan sixty times each, with two programs by turns; prints the least and the
median in milliseconds and the most memory that was resident.
"""
import os
import pathlib
import statistics
import sys
import time

PLAN = pathlib.Path(__file__).resolve().parent.parent / 'data' / 'fern-house' / 'gentle.plan'


def call(words):
    began = time.perf_counter()
    child = os.posix_spawn(words[0], words, os.environ, file_actions=[(os.POSIX_SPAWN_OPEN, 1, '/dev/null', os.O_WRONLY, 0)])
    _, status, usage = os.wait4(child, 0)
    assert status == 0, words
    return 1000 * (time.perf_counter() - began), usage.ru_maxrss / 1024


for words in (['--version'], ['table', str(PLAN)]):
    taken = {program: [] for program in sys.argv[1:]}
    for _ in range(60):
        for program, calls in taken.items():
            calls.append(call([program, *words]))
    for program, calls in taken.items():
        times = [ms for ms, _ in calls]
        print(f'{program} {words[0]}: {min(times):.1f} ms, {statistics.median(times):.1f} in the median, {max(mb for _, mb in calls):.1f} MB')
