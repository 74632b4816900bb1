#!/usr/bin/env python3
"""Does what a page tells a newcomer to do, and holds what comes out against what the page shows.

    tests/first-steps/run.py docs/first-steps.md build/release/apps/vturn/vturn [TASK ...]

In an empty folder: a block ```file NAME is written into that file, of a block ```console each line behind `$ ` is run by bash. What is shown
below it must come out, line by line in this order; `...` stands for anything, within a line too. A line `(status 1)` behind the
output is the exit status, else 0. Commands with c++ run only where pkg-config knows the installed library. No task may take
more than 3 minutes. With TASK numbers only those sections' output is checked; all are done.
"""
import os
import pathlib
import re
import subprocess
import sys
import tempfile
import time

LONGEST_S = 180


def blocks(page):
    """Of each section its number, and what is to be done: ('file', name, text), ('run', command, shown, status)."""
    task, kind, name, lines = 0, None, '', []
    for line in page.split('\n'):
        if kind is None:
            if match := re.match(r'## (\d+)\.', line):
                task = int(match.group(1))
            elif match := re.match(r'```(file|console) ?(\S*)', line):
                kind, name, lines = match.group(1), match.group(2), []
        elif line == '```':
            if kind == 'file':
                yield task, ('file', name, '\n'.join(lines) + '\n')
            else:
                yield from ((task, run) for run in runs_of(lines))
            kind = None
        else:
            lines.append(line)


def runs_of(lines):
    command, shown, status = None, [], 0
    for line in lines + ['$ ']:
        if line.startswith('$ '):
            if command is not None:
                yield 'run', command, shown, status
            command, shown, status = line[2:], [], 0
        elif match := re.fullmatch(r'\(status (\d)\)', line):
            status = int(match.group(1))
        else:
            shown.append(line)


def missing(shown, out):
    """The first line that does not come out, in this order."""
    at = 0
    lines = [line.rstrip() for line in out.split('\n')]
    for wanted in shown:
        if wanted.strip() in ('', '...'):
            continue
        form = '.*'.join(re.escape(part) for part in wanted.rstrip().split('...'))
        while at < len(lines) and not re.fullmatch(form, lines[at]):
            at += 1
        if at == len(lines):
            return wanted
        at += 1
    return None


def main():
    page, vturn = pathlib.Path(sys.argv[1]).read_text(), pathlib.Path(sys.argv[2]).resolve()
    only = [int(n) for n in sys.argv[3:]]
    installed = subprocess.run(['pkg-config', '--exists', 'vast_turn-paint'], check=False).returncode == 0
    faults, spent = [], {}
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, 'PATH': f'{vturn.parent}:{os.environ["PATH"]}'}
        for task, what in blocks(page):
            if what[0] == 'file':
                path = pathlib.Path(folder, what[1])
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_text(what[2])
                continue
            _, command, shown, status = what
            if ('c++' in command or './' in command) and not installed:
                continue
            began = time.monotonic()
            done = subprocess.run(['bash', '-c', command], cwd=folder, env=environment, capture_output=True, text=True, timeout=LONGEST_S)
            spent[task] = spent.get(task, 0) + time.monotonic() - began
            out = done.stdout + done.stderr
            lost = missing(shown, out)
            if (done.returncode != status or lost is not None) and (not only or task in only):
                faults.append(f'task {task}: {command}\n  status {done.returncode}, expected {status}; does not come out: {lost}\n{out}')
    faults += [f'task {task} took {seconds:.0f} s' for task, seconds in spent.items() if seconds > LONGEST_S]
    print('\n'.join(faults) if faults else f'{len(spent)} tasks come out as the page says, the slowest in {max(spent.values()):.1f} s')
    sys.exit(1 if faults else 0)


main()
