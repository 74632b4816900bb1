#!/usr/bin/env python3
"""Sweeps, tunings and trips shared out by mpirun: run.py VTURN [RANKS...]. The same bytes as from one process; a rank that is killed is told, and what was done goes on in the next call."""
import os
import pathlib
import signal
import subprocess
import sys
import tempfile
import time

ROOT = pathlib.Path(__file__).resolve().parents[2]
FERNS = 'data/fern-house/'
FILES = [FERNS + 'fern-house.course.toml', FERNS + 'sprig-2.robot.toml', FERNS + 'left-first.plan']
DAYS = ['--variation', FERNS + 'ordinary.days.toml']
LONGEST_S = 240


def under(ranks, words):
    return (['mpirun', '--allow-run-as-root', '--oversubscribe', '-n', str(ranks)] if ranks else []) + words


def called(words):
    return subprocess.run(words, cwd=ROOT, capture_output=True, timeout=LONGEST_S)


def same_bytes(vturn, folder, sizes):
    runs, days = ('700', '150') if len(sizes) > 1 else ('300', '60')  # the short way takes half a minute
    calls = {
        'sweep': [vturn, 'sweep', *FILES, '--over', 'cruise=36..84:12', '--over', 'inside=-40,-24,9', '--repeat', '9'],
        'sweep over the robot': [vturn, 'sweep', *FILES, '--filter', 'ferns', '--over', 'robot.motors.lag_ms=20,60,-4', '--repeat', '5', '--sure', '40'],
        'tune': [vturn, 'tune', *FILES, '--filter', 'ferns', '--move', 'cruise=36..84', '--move', 'inside=-40..16', '--sure', '90', '--runs', runs, *DAYS],
        'trips': [vturn, 'trips', *FILES, '--days', days, '--no-cures', *DAYS],
        'sure trips': [vturn, 'trips', *FILES, '--filter', 'ferns', '--sure', '90', *DAYS],
    }
    for name, words in calls.items():
        files = {} if name.startswith(('trips', 'sure')) else {'--csv': pathlib.Path(folder, 'table.csv')}
        more = [str(word) for pair in files.items() for word in pair]
        alone = called(words + more)
        if alone.returncode == 2:
            sys.exit(f'{name}: {alone.stderr.decode()}')
        wanted = [path.read_bytes() for path in files.values()]
        for ranks in sizes:
            for path in files.values():
                path.unlink()
            shared = called(under(ranks, words + more))
            if shared.stdout != alone.stdout or shared.returncode != alone.returncode:
                sys.exit(f'{name} on {ranks} ranks: status {shared.returncode}, {shared.stdout.decode()}{shared.stderr.decode()}')
            if [path.read_bytes() for path in files.values()] != wanted:
                sys.exit(f'{name} on {ranks} ranks: another table')


def process_of_rank(vturn, rank, parent):
    for entry in os.listdir('/proc'):
        try:
            environment = pathlib.Path('/proc', entry, 'environ').read_bytes().split(b'\0') if entry.isdigit() else []
            if f'OMPI_COMM_WORLD_RANK={rank}'.encode() in environment and os.path.realpath(f'/proc/{entry}/exe') == vturn and int(
                    pathlib.Path('/proc', entry, 'stat').read_text().rsplit(')', 1)[1].split()[1]) == parent:
                return int(entry)
        except (OSError, ValueError):
            continue
    return None


def lost_rank(vturn, folder):
    journal = pathlib.Path(folder, 'sweep.journal')
    words = [vturn, 'sweep', *FILES, '--filter', 'ferns', '--over', 'cruise=36..84:1', '--over', 'inside=-40..16:4', '--repeat', '20', '--quiet']
    alone = called(words)
    for rank in (1, 0):
        journal.unlink(missing_ok=True)
        mpirun = subprocess.Popen(under(3, words + ['--resume', str(journal)]), cwd=ROOT, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True)
        until = time.monotonic() + 60
        while not (journal.exists() and journal.stat().st_size > 2500) and time.monotonic() < until and mpirun.poll() is None:
            time.sleep(0.01)
        victim = process_of_rank(vturn, rank, mpirun.pid)
        if victim is None:
            sys.exit(f'rank {rank} was not there to be killed: {mpirun.stderr.read()}')
        os.kill(victim, signal.SIGKILL)
        _, said = mpirun.communicate(timeout=60)
        if mpirun.returncode == 0 or 'signal 9' not in said:
            sys.exit(f'a killed rank {rank} was not told: status {mpirun.returncode}, {said}')
        kept = journal.read_bytes().count(b'\n') - 1
        if kept < 10:
            sys.exit(f'of a sweep that lost rank {rank} only {kept} points are kept')
        again = called(under(2, words + ['--resume', str(journal)]))
        if again.stdout != alone.stdout or again.returncode != alone.returncode:
            sys.exit(f'after rank {rank} was lost: {again.stderr.decode()}')


def refusals(vturn):
    for words, says in ((['run', *FILES], 'not shared out among several processes'), (['sweep', *FILES, '--over', 'nope=1,2'], 'no plan has a let called `nope`'),
                        (['trips', *FILES], 'shared out among processes by days')):
        refused = called(under(3, [vturn, *words]))
        if refused.returncode != 2 or refused.stderr.decode().count(says) != 1:
            sys.exit(f'{words[0]}: {refused.returncode}, {refused.stderr.decode()}')


def main():
    vturn = os.path.realpath(sys.argv[1])
    sizes = [int(word) for word in sys.argv[2:]] or [3]
    with tempfile.TemporaryDirectory() as folder:
        same_bytes(vturn, folder, sizes)
        lost_rank(vturn, folder)
        refusals(vturn)
    print(f'the same bytes on {sizes} ranks; a lost one is told, and nothing is lost')


main()
