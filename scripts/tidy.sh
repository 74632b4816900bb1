#!/usr/bin/env bash
# Runs clang-tidy over our sources; any finding fails. It reads them through the jumbo files of a
# build folder configured with -DCMAKE_UNITY_BUILD=ON, so that a header is read once for several sources.
# The path-following analyzer, the slowest part, runs over the library's own logic; files and commands,
# which are mostly other people's headers, get all the other checks but one that takes half of the time there.
set -euo pipefail
cd "$(dirname "$0")/.."
build=${1:-build-sanitize}
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
# Precompiled headers are GCC's, so the commands are given to clang without them.
python3 - "$build/compile_commands.json" "$work/compile_commands.json" > "$work/list" <<'PY'
import json, os, re, sys
commands = json.load(open(sys.argv[1]))
for c in commands:
    c['command'] = re.sub(r'-Winvalid-pch |-include \S+cmake_pch\.hxx |-Wno-restrict |-fsanitize=\S+ |-fno-sanitize\S+ ', '', c['command'])
commands = {c['file']: c for c in commands if 'cmake_pch' not in c['file'] and '/tests/' not in c['file'] and '/bench/' not in c['file']}
commands = list(commands.values())  # each file once, whatever the number of programs it is compiled for
# Small programs are read as one too: what they include takes longer than they do.
for folder in ('/examples/',):
    some = [c for c in commands if folder in c['file']]
    together = f'{os.path.dirname(sys.argv[2])}{folder}all.cpp'
    os.makedirs(os.path.dirname(together))
    with open(together, 'w') as out:
        for i, c in enumerate(some):
            out.write(f'#define main main_{i}\n#include "{c["file"]}"\n#undef main\n')
    most = max(some, key=lambda c: len(c['command']))  # has what all of them include
    one = dict(most, command=most['command'].replace(most['file'], together) + ' -Wno-return-type', file=together)
    commands = [c for c in commands if c not in some] + [one]
json.dump(commands, open(sys.argv[2], 'w'))
print('\n'.join(c['file'] for c in commands))
PY

check() {
    xargs -P "$(nproc)" -n 1 clang-tidy -p "$work" --config-file=.clang-tidy --quiet "$@" >> "$work/log" 2>&1 || { grep -v 'warnings generated' "$work/log" >&2; exit 1; }
}
grep -E 'vast_turn_(runtime|driving|judging|reading|vetting|view)\.dir' "$work/list" | check
grep -vE 'vast_turn_(runtime|driving|judging|reading|vetting|view)\.dir' "$work/list" | check --checks='-clang-analyzer-*,-performance-unnecessary-value-param'
echo "clang-tidy: no findings in $(wc -l < "$work/list") jumbo files"
