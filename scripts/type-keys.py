#!/usr/bin/env python3
"""Runs a command in a terminal of its own and types keys into it, a pause before each: type-keys.py KEYS COMMAND...

In KEYS \\r is Enter and {down} {up} {left} {right} {page} are keys. What the command shows is passed on; it ends when it
does, or after ten seconds. For pictures of what is driven by keys.
"""
import os
import pty
import re
import select
import sys
import time

NAMED = {'down': '\x1b[B', 'up': '\x1b[A', 'left': '\x1b[D', 'right': '\x1b[C', 'page': '\x1b[6~'}


def main():
    keys = [NAMED.get(key[1:-1], key) for key in re.findall(r'\{\w+\}|.', sys.argv[1].replace('\\r', '\r'), re.S)]
    size = os.get_terminal_size(sys.stdout.fileno()) if sys.stdout.isatty() else os.terminal_size((141, 42))
    child, terminal = pty.fork()
    if child == 0:
        os.environ['COLUMNS'], os.environ['LINES'] = str(size.columns), str(size.lines)
        os.execvp(sys.argv[2], sys.argv[2:])
    begun = time.monotonic()
    while time.monotonic() < begun + 10:
        if select.select([terminal], [], [], 0.1)[0]:
            try:
                shown = os.read(terminal, 65536)
            except OSError:
                break
            os.write(sys.stdout.fileno(), shown)
        elif keys:
            os.write(terminal, keys.pop(0).encode())


main()
