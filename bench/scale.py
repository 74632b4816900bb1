#!/usr/bin/env python3
"""What sweeps cost, against runs, threads, ranks, sensors and the length of the plan: scale.py VTURN. A call without its set-up: the time of many runs less that of few, the least of three. Prints the tables of docs/scale.md."""
import os
import pathlib
import subprocess
import sys
import tempfile
import time

ROOT = pathlib.Path(__file__).resolve().parents[1]
FERNS = ROOT / 'data/fern-house'
MPIRUN = ['mpirun', '--allow-run-as-root', '--oversubscribe', '-n']


def takes_s(words):
    best = float('inf')
    for _ in range(2):
        began = time.monotonic()
        done = subprocess.run(words, cwd=ROOT, capture_output=True)
        best = min(best, time.monotonic() - began)
        if done.returncode == 2:
            sys.exit(done.stderr.decode())
    return best


def a_run_us(files, over, few, many, before=(), more=()):
    words = [*before, VTURN, 'sweep', *files, '--over', over, '--quiet', *more]
    return 1e6 * (takes_s([*words, '--repeat', str(many)]) - takes_s([*words, '--repeat', str(few)])) / (many - few)


def main():
    house = [FERNS / 'fern-house.course.toml', FERNS / 'sprig-2.robot.toml', FERNS / 'left-first.plan']
    over = ['--filter', 'ferns']
    print('runs a call | seconds, one thread')
    for runs in (100, 1000, 4000, 10000):
        print(f"{runs} | {takes_s([VTURN, 'sweep', *house, *over, '--over', 'cruise=47', '--repeat', str(runs), '--quiet', '--jobs', '1']):.2f}")
    alone = a_run_us(house, 'cruise=47', 100, 3000, more=[*over, '--jobs', '1'])
    print(f'\na run, one thread: {alone:.0f} us')
    for threads in (2,):
        print(f"{threads} threads: {alone / a_run_us(house, 'cruise=47', 100, 3000, more=[*over, '--jobs', str(threads)]):.2f} times as fast")
    for ranks in (2, 3, 8):
        print(f"{ranks} ranks: {alone / a_run_us(house, 'cruise=47', 100, 3000, before=[*MPIRUN, str(ranks)], more=over):.2f} times as fast")
    with tempfile.TemporaryDirectory() as folder:
        print('\nsensors | us a run | s of robot time a run')
        for sensors in (1, 2, 3, 5, 8):
            place = pathlib.Path(folder, str(sensors))
            subprocess.run([VTURN, 'new', place, '--sensors', str(sensors), '--quiet'], capture_output=True, check=True)
            files = [next(place.glob(form)) for form in ('*.course.toml', '*.robot.toml', '*.plan')]
            told = subprocess.run([VTURN, 'sweep', *files, '--over', 'day.left_motor=1', '--csv', '-', '--repeat', '3', '--quiet'], capture_output=True, text=True).stdout
            robot_s = float(told.split('\n')[1].split(',')[5])
            took_us = a_run_us(files, 'day.left_motor=1', 50, 1000, more=['--jobs', '1'])
            print(f'{sensors} | {took_us:.0f} | {robot_s:.1f}')
        print('\nrules more, asked at every look | us a run')
        text = house[2].read_text()
        for rules in (0, 10, 100, 1000):
            plan = pathlib.Path(folder, f'long-{rules}.plan')
            never = ''.join(f'    offset > {2 + i} -> still\n' for i in range(rules))
            plan.write_text(text.replace('habit follow {\n', 'habit follow {\n' + never))
            print(f"{rules} | {a_run_us([*house[:2], plan], 'cruise=47', 100, 3000, more=[*over, '--jobs', '1']):.0f}")


VTURN = os.path.realpath(sys.argv[1])
main()
