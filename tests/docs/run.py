#!/usr/bin/env python3
"""Runs every command line that the pages show, in the order of each page, in a folder of its own that has the demo's data.

    tests/docs/run.py build/release/apps/vturn/vturn [--times] [--pictures FOLDER] [PAGE ...]

A command line is a line of an indented block or of a fenced one without a language, or `vturn ...` with its arguments within a sentence. Those that begin with the tool, or give it
something, are run by bash: status 0 or 1 (the answer is no); anything else is a fault, as is a line that is neither run here nor listed in ELSEWHERE with what runs it. Words that stand for
something (COURSE, PLAN, ...) mean what MEANS says. --pictures: pictures that a page shows right behind the command that makes one of that name are kept there. Blocks ```console are run by tests/first-steps/run.py.
"""
import concurrent.futures
import os
import pathlib
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time

ROOT = pathlib.Path(__file__).resolve().parents[2]
LONGEST_S = 300
FERNS = 'data/fern-house/'
MEANS = {
    "'PROGRAM ARGUMENTS'": "'python3 examples/decide_over_text.py'",
    'COURSE': FERNS + 'fern-house.course.toml',
    'ROBOT': FERNS + 'sprig-2.robot.toml',
    'PLAN': FERNS + 'left-first.plan',
    'FOLDER': 'begun',
    'FILE': 'log.csv',
    'CODE': 'order-decides',
    'CHIP': '8-bit,16MHz,24kB,1.5kB',
    'R': FERNS + 'sprig-2.robot.toml',
    'C': FERNS + 'fern-house.course.toml',
    'K': 'cart.calibration.toml',
}
# What people have by then: made before a page begins. A page may make it anew.
MADE = [
    f'vturn calibrate {FERNS}sprig-5.bench.csv --robot {FERNS}sprig-5.robot.toml -o sprig-5.calibration.toml',
    f'vturn calibrate --simulate {FERNS}fern-house.course.toml {FERNS}sprig-2.robot.toml -o cart.calibration.toml -o readings.csv',
    f'vturn run {FERNS}fern-house.course.toml {FERNS}sprig-2.robot.toml {FERNS}left-first.plan --calibration cart.calibration.toml --numbers float --trace log.csv',
    # The readings of one surface each, as somebody's own three files.
    f'cp {FERNS}sprig-2.robot.toml cart.robot.toml',
    "for under in line floor sweep; do awk -F, -v w=$under 'NR == 1 || $1 == w' readings.csv | cut -d, -f2- > $under.csv; done; mv line.csv on-tape.csv; mv floor.csv beside.csv; mv sweep.csv across.csv",
    f"sed -n '/^\[\[trip\]\]/,$p' {FERNS}fern-house.course.toml > team.trips.toml",
]
# What `...` stands for behind a command.
USUAL = {
    'map': 'COURSE',
    'trips': 'COURSE ROBOT PLAN',
    'run': 'COURSE ROBOT PLAN',
    'step': 'COURSE ROBOT PLAN',
}
# Lines that this test does not run, and what runs them.
ELSEWHERE = [
    (r'\./test\.sh( quick)?', 'itself'),
    (r'\./demo\.sh', 'tests/apps/cli_test.cpp runs the tour'),
    (r'cmake --(preset|install)', 'test.sh'),
    (r'PYTHONPATH=', 'tests/python'),
    (r'cd my-robot', 'with what follows'),
    (r'c\+\+ .*decide_in_code', 'tests/apps/program_test.cpp'),
    (r'(scripts|bench)/\S+', 'by hand: what the page measured'),
    (r'tests/hostile/run\.py', 'ctest'),
    (r'tests/ranks/run\.py', 'ctest'),
    (r'mpirun ', 'tests/ranks/run.py'),
    (r'node ', 'by hand: what the page measured'),
    (r'examples/on-the-robot/build\.sh', 'tests/emit, tests/wire'),
    (r'nvim ', 'scripts/test-language-server.sh'),
    (r'// ', 'a line of a plan'),
    (r'vturn .*robot/chip-line', 'tests/wire, on a chip that is simulated'),
    (r'vturn (bench|stand-in) ', 'tests/apps/bench_command_test.cpp: both at once'),
    (r'vturn export my\.plan .*--settings', 'tests/emit/commands_test.cpp'),
    (r'build/bench/', 'by hand: what the page measured'),
    (r'cd web ', 'by hand: when the script of the pages is changed'),
]


def blocks(text):
    """Command lines of a page in order, as ('line', text), and pictures as ('picture', name)."""
    fence, held, sentence = None, '', []
    for line in text.split('\n') + ['']:
        if fence is not None:
            if line.strip().startswith('```'):
                fence = None
            elif fence == '' and line.strip().startswith('vturn '):
                yield 'line', line.strip()
            continue
        if line.strip().startswith('```'):
            fence = line.strip()[3:]
            continue
        indented = re.match(r' {4,}(?=\S)', line)
        if held or (indented and not re.match(r' {4,}([-*|]|\d+\.) ', line)):
            held += line.strip()
            if held.endswith('\\'):
                held = held[:-1]
                continue
            yield 'line', held
            held = ''
            continue
        if line.strip():
            sentence.append(line)
        else:
            yield from within('\n'.join(sentence))
            sentence = []


def within(paragraph):
    for match in re.finditer(r'!\[[^]]*\]\((\S+)\)|`(vturn [^`]+)`', paragraph):
        if match.group(1):
            yield 'picture', match.group(1)
        elif len(match.group(2).split()) > 2 or '-' in match.group(2):
            yield 'sentence', ' '.join(match.group(2).split())


def is_mention(command):
    """A command and options of it, without what they are given."""
    return all(word.startswith('-') or i < 2 for i, word in enumerate(command.split()))


def lost_options(command, vturn):
    """Of a mention, the options that no command of it has."""
    _, names, *options = command.split()
    lost = []
    for name in names.split('|'):
        told = subprocess.run([vturn, name, '--help'], capture_output=True, text=True).stdout
        lost += [f'{name} {option}' for option in options if not re.search(rf'(^|[\s,]){option}\b', told)]
    return lost


def meant(command):
    words = command.split()
    if '...' in words and words[1] in USUAL:
        command = command.replace('...', USUAL[words[1]], 1)
    command = re.sub(r'\[(--[^]]*)\]', r'\1', command).replace('PLAN...', 'PLAN')
    for word, means in MEANS.items():
        command = re.sub(rf'(?<![\w./#]){word}\b(?![\w.=/#])' if word[0] != "'" else re.escape(word), means, command)
    return command


def scratch(folder):
    shutil.copytree(ROOT / 'data', pathlib.Path(folder, 'data'))
    for name in ('examples', 'docs', 'tests', 'editors'):
        os.symlink(ROOT / name, pathlib.Path(folder, name))


def watched(command, folder, environment):
    """A server: until it tells its address, then interrupted."""
    process = subprocess.Popen(['bash', '-c', 'exec ' + command], cwd=folder, env=environment, stdin=subprocess.DEVNULL, stdout=subprocess.PIPE,
                               stderr=subprocess.STDOUT, text=True, start_new_session=True)
    said = ''
    for line in process.stdout:
        said += line
        if 'http://127.0.0.1' in line:
            break
    os.killpg(process.pid, signal.SIGINT)
    said += process.communicate(timeout=LONGEST_S)[0]
    return (0 if 'http://127.0.0.1' in said else 2), said


def run_page(page, vturn, pictures):
    faults, times = [], []
    environment = {**os.environ, 'PATH': f'{vturn.parent}:{os.environ["PATH"]}'}
    with tempfile.TemporaryDirectory() as top:
        scratch(top)
        # A folder of somebody's own, for calls that name no file.
        subprocess.run([vturn, 'new', 'own', '--sensors', '2', '--line', 'dark', '--spacing', '22'], cwd=top, capture_output=True, check=True)
        shutil.copy(ROOT / FERNS / 'left-first.plan', pathlib.Path(top, 'own'))
        for command in MADE:
            made = subprocess.run(['bash', '-c', command], cwd=top, env=environment, capture_output=True, text=True)
            if made.returncode not in (0, 1):
                faults.append(f'{page}: before it: {command}\n{made.stderr}')
        for kind, what in blocks((ROOT / page).read_text()):
            if kind == 'picture':
                made = pathlib.Path(top, pathlib.Path(what).name)
                if pictures and made.exists():
                    shutil.copy(made, pictures)
                continue
            command = meant(what)
            if any(re.match(form, command) for form, _ in ELSEWHERE):
                continue
            if not re.match(r'(vturn|printf .*\| *vturn|echo .*\| *vturn)\b', command):
                faults.append(f'{page}: nothing runs this line: {what}')
                continue
            if kind == 'sentence' and is_mention(command):
                faults += [f'{page}: `{command}`: there is no {lost}' for lost in lost_options(command, vturn)]
                continue
            # A call that names no file is made in a folder of one's own.
            folder = pathlib.Path(top, 'own') if FERNS not in command and re.match(r'vturn (trips|watch|vet|run [\w-]+\.plan)( +#| --[\w-]+)*( |$)', command) else pathlib.Path(top)
            began = time.monotonic()
            try:
                if command.startswith('vturn watch'):
                    status, said = watched(command.split('  #')[0], folder, environment)
                else:
                    done = subprocess.run(['bash', '-c', command], cwd=folder, env=environment, stdin=subprocess.DEVNULL, stdout=subprocess.PIPE,
                                          stderr=subprocess.STDOUT, text=True, timeout=LONGEST_S)
                    status, said = done.returncode, done.stdout
            except subprocess.TimeoutExpired:
                status, said = -1, f'not done in {LONGEST_S} s'
            times.append((time.monotonic() - began, page, command))
            if status not in (0, 1):
                faults.append(f'{page}: {command}\n  status {status}\n  ' + '\n  '.join(said.strip().split('\n')[:8]))
    return faults, times


def main():
    words = sys.argv[1:]
    pictures = None
    if '--pictures' in words:
        at = words.index('--pictures')
        pictures = words[at + 1]
        del words[at:at + 2]
    tell_times = '--times' in words
    words = [word for word in words if word != '--times']
    vturn = pathlib.Path(words[0]).resolve()
    pages = words[1:] or ['README.md', 'CONTRIBUTING.md', 'editors/README.md'] + sorted(f'docs/{path.name}' for path in (ROOT / 'docs').glob('*.md'))
    with concurrent.futures.ThreadPoolExecutor(2) as workers:
        done = list(workers.map(lambda page: run_page(page, vturn, pictures), pages))
    faults = [fault for found, _ in done for fault in found]
    times = sorted((time for _, spent in done for time in spent), reverse=True)
    if tell_times:
        print('\n'.join(f'{seconds:6.1f} s  {page}: {command}' for seconds, page, command in times))
    print('\n'.join(faults) if faults else f'{len(times)} command lines of {len(pages)} pages run as they stand')
    sys.exit(1 if faults else 0)


main()
