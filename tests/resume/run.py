#!/usr/bin/env python3
"""Kills a sweep, or a tuning, again and again and lets it go on: run.py VTURN [KILLS [tune]]. In the end its table and CSV are those of one that nobody killed, and what was written down stays."""
import os
import pathlib
import random
import signal
import subprocess
import sys
import tempfile
import time

ROOT = pathlib.Path(__file__).resolve().parents[2]
FERNS = 'data/fern-house/'
LONGEST_S = 300


FILES = [FERNS + 'fern-house.course.toml', FERNS + 'sprig-2.robot.toml', FERNS + 'left-first.plan']
WORK = {
    'sweep': ['--filter', 'ferns', '--over', 'cruise=36..84:2', '--over', 'inside=-40..16:4', '--repeat', '12'],
    'tune': ['--filter', 'ferns', '--move', 'cruise=36..84', '--move', 'inside=-40..16', '--sure', '95', '--runs', '9000', '--variation', FERNS + 'ordinary.days.toml'],
}


def call(vturn, what, folder, more):
    return [vturn, what, *FILES, *WORK[what], '--quiet', '--csv', os.path.join(folder, 'points.csv'), *more]


def lines(path):
    return path.read_bytes().split(b'\n')[:-1] if path.exists() else []


def main():
    vturn = str(pathlib.Path(sys.argv[1]).resolve())
    kills = int(sys.argv[2]) if len(sys.argv) > 2 else 25
    what = sys.argv[3] if len(sys.argv) > 3 else 'sweep'
    with tempfile.TemporaryDirectory() as folder:
        began = time.monotonic()
        whole = subprocess.run(call(vturn, what, folder, []), cwd=ROOT, capture_output=True, timeout=LONGEST_S)
        takes_s = time.monotonic() - began
        wanted = whole.stdout + pathlib.Path(folder, 'points.csv').read_bytes()
        chance = random.Random(7)
        journal = pathlib.Path(folder, 'the.journal')
        killed = 0
        while killed < kills:
            before = lines(journal)
            process = subprocess.Popen(call(vturn, what, folder, ['--resume', str(journal)]), cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE)
            try:
                # Long enough to get somewhere, however often it is killed: a call takes a while to begin at all.
                process.wait(timeout=chance.uniform(0.0, max(2.5 / kills, 0.4) * takes_s))
                journal.unlink()  # it came to its end: from the start again
            except subprocess.TimeoutExpired:
                process.send_signal(signal.SIGKILL)
                process.wait()
                killed += 1
                after = lines(journal)
                if after[:len(before)] != before:
                    sys.exit(f'kill {killed}: {len(before)} lines stood there, now {len(after)} others')
            if chance.random() < 0.3 and journal.exists() and journal.stat().st_size > 200:  # as if the last line was cut off on its way
                os.truncate(journal, journal.stat().st_size - chance.randrange(1, 60))
        end = subprocess.run(call(vturn, what, folder, ['--resume', str(journal)]), cwd=ROOT, capture_output=True, timeout=LONGEST_S)
        if end.stdout + pathlib.Path(folder, 'points.csv').read_bytes() != wanted or end.returncode != whole.returncode:
            sys.exit('what came out in the end is not what comes out of a sweep that nobody killed')
        again = subprocess.run(call(vturn, what, folder, ['--resume', str(journal)]), cwd=ROOT, capture_output=True, timeout=LONGEST_S)
        wanted_lines = 1 + 25 * 15 if what == 'sweep' else len(lines(journal))
        if again.stdout != end.stdout or len(lines(journal)) != wanted_lines:
            sys.exit(f'a sweep that is done is not told again: {len(lines(journal))} lines')
        other = subprocess.run(call(vturn, what, folder, ['--resume', str(journal), '--seed', '9']), cwd=ROOT, capture_output=True, text=True, timeout=LONGEST_S)
        if other.returncode != 2 or 'the journal of another' not in other.stderr:
            sys.exit(f'another sweep took this journal: {other.stderr}')
    print(f'{killed} times killed, the same in the end')


main()
