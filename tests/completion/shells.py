#!/usr/bin/env python3
"""Types a Tab into zsh and fish as a person would, and reads what they make of it: shells.py VTURN. bash is asked by tests/apps/manual_test.cpp.

Both are given a home of their own, without anybody's settings.
"""
import os
import pathlib
import pty
import re
import select
import subprocess
import sys
import tempfile
import time

ROOT = pathlib.Path(__file__).resolve().parents[2]
COURSE = 'data/fern-house/fern-house.course.toml'
LONGEST_S = 120
LINES = (('vturn tri', 'trips'), (f'vturn run {COURSE} --start pot', 'potting bench'), ('vturn vet --explain plate-m', 'plate-missed'))


def in_fish(environment, line):
    """What fish proposes for a line that is typed so far; it can be asked."""
    script = f'source apps/vturn/completion/vturn.fish; complete -C{line!r}'
    return subprocess.run(['fish', '--no-config', '-c', script], cwd=ROOT, env=environment, capture_output=True, text=True, timeout=LONGEST_S).stdout.split('\n')


def in_zsh(environment, line):
    """The words that stand on the line of an interactive zsh after a Tab."""
    child, terminal = pty.fork()
    if child == 0:
        os.chdir(ROOT)
        os.execvpe('zsh', ['zsh', '-f', '-i'], environment)
    shown = ''

    def until(form):
        nonlocal shown
        begun = time.monotonic()
        while time.monotonic() < begun + LONGEST_S:
            if select.select([terminal], [], [], 0.2)[0]:
                shown += os.read(terminal, 65536).decode(errors='replace')
            if found := re.search(form, shown):
                shown = shown[found.end():]
                return found
        raise SystemExit(f'zsh: {form} does not come after {line!r}, but {shown!r}')

    # Prompts that nothing else looks like; what is echoed has the words split.
    os.write(terminal, b"unsetopt zle_bracketed_paste prompt_sp; fpath=($PWD/apps/vturn/completion $fpath); autoload -Uz compinit && compinit -u -D; PS1='rea''dy> '; bindkey '^X' kill-whole-line\n")
    until(r'ready> ')
    os.write(terminal, line.encode() + b'\t')
    # The line is made one that prints its words, each on a line.
    os.write(terminal, b"\x01print -rl -- '<<' \x05 '>>'\n")
    found = until(r'\n<<\r\n((?s:.*?))\r\n>>')
    os.write(terminal, b'exit\n')
    os.waitpid(child, 0)
    os.close(terminal)
    return found.group(1).split('\r\n')


def main():
    vturn = pathlib.Path(sys.argv[1]).resolve()
    faults = []
    with tempfile.TemporaryDirectory() as home:
        environment = {**os.environ, 'HOME': home, 'PATH': f'{vturn.parent}:{os.environ["PATH"]}', 'TERM': 'dumb', 'LC_ALL': 'C.UTF-8'}
        for line, wanted in LINES:
            proposed = in_fish(environment, line)
            if wanted not in proposed:
                faults.append(f'fish: {line}: {wanted} is not among {proposed}')
        for line, wanted in LINES:
            stands = in_zsh(environment, line)
            if stands[-1] != wanted:
                faults.append(f'zsh: {line}: {wanted} is not the last of {stands}')
    print('\n'.join(faults) if faults else 'zsh and fish complete what the program proposes')
    sys.exit(1 if faults else 0)


main()
