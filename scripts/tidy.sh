#!/usr/bin/env bash
# Runs clang-tidy over our sources; any finding fails. It reads them through the jumbo files of a
# build folder configured with -DCMAKE_UNITY_BUILD=ON, so that a header is read once for several sources.
# The path-following analyzer, the slowest part, runs over the library's own logic; files and commands,
# which are mostly other people's headers, get all the other checks but one that takes half of the time there.
# A jumbo file in which nothing was found before, with the same text after preprocessing, the same settings and the same
# clang-tidy, is not read again; TIDY_ANEW=1 reads all of them.
set -euo pipefail
cd "$(dirname "$0")/.."
exec python3 - "${1:-build/sanitize}" <<'PY'
import concurrent.futures, hashlib, json, os, pathlib, re, shlex, subprocess, sys, tempfile

root = os.getcwd()
thorough = re.compile(r'vast_turn_(runtime|driving|judging|reading|vetting|view)\.dir')
quicker = ['--checks=-clang-analyzer-*,-performance-unnecessary-value-param']
cache = pathlib.Path(os.environ.get('XDG_CACHE_HOME') or pathlib.Path.home() / '.cache') / 'vast-turn-tidy'
cache.mkdir(parents=True, exist_ok=True)
version = subprocess.run(['clang-tidy', '--version'], capture_output=True, check=True).stdout
settings = pathlib.Path('.clang-tidy').read_bytes()


def commands_in(work):
    commands = json.load(open(f'{sys.argv[1]}/compile_commands.json'))
    for c in commands:  # precompiled headers are GCC's, so the commands are given to clang without them
        c['command'] = re.sub(r'-Winvalid-pch |-include \S+cmake_pch\.hxx |-Wno-restrict |-fsanitize=\S+ |-fno-sanitize\S+ |^\S*cmake -E env (\S+=\S* )*\S*ccache ',
                              '', c['command'])
    commands = {c['file']: c for c in commands if 'cmake_pch' not in c['file'] and '/tests/' not in c['file'] and '/bench/' not in c['file']}
    commands = list(commands.values())  # each file once, whatever the number of programs it is compiled for
    # Small programs are read as one too: what they include takes longer than they do.
    some = [c for c in commands if '/examples/' in c['file']]
    together = f'{work}/examples/all.cpp'
    os.makedirs(os.path.dirname(together))
    with open(together, 'w') as out:
        for i, c in enumerate(some):
            out.write(f'#define main main_{i}\n#include "{c["file"]}"\n#undef main\n')
    most = max(some, key=lambda c: len(c['command']))  # has what all of them include
    one = dict(most, command=most['command'].replace(most['file'], together) + ' -Wno-return-type', file=together)
    commands = [c for c in commands if c not in some] + [one]
    json.dump(commands, open(f'{work}/compile_commands.json', 'w'))
    return commands


def key_of(command, options, work):
    words = shlex.split(command['command'])
    words[words.index('-o') + 1] = '-'
    words[words.index('-c')] = '-E'
    text = subprocess.run(words + ['-C'], cwd=command['directory'], capture_output=True, check=True).stdout
    for path, name in ((work, b'work'), (root, b'root')):
        text = text.replace(path.encode(), name)
    return hashlib.sha256(b'\0'.join([version, settings, ' '.join(options).encode(), text])).hexdigest()


def findings(command, work):
    options = [] if thorough.search(command['file']) else quicker
    known = cache / key_of(command, options, work)
    if known.exists() and not os.environ.get('TIDY_ANEW'):
        known.touch()
        return None
    run = subprocess.run(['clang-tidy', '-p', work, '--config-file=.clang-tidy', '--quiet', *options, command['file']],
                         stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
    if run.returncode == 0:
        known.touch()
        return ''
    return '\n'.join(line for line in run.stdout.splitlines() if 'warnings generated' not in line)


with tempfile.TemporaryDirectory() as work:
    commands = commands_in(work)
    with concurrent.futures.ThreadPoolExecutor(os.cpu_count()) as workers:
        found = list(workers.map(lambda c: findings(c, work), commands))
    for text in filter(None, found):
        print(text, file=sys.stderr)
    if any(found):
        sys.exit(1)
    for old in sorted(cache.iterdir(), key=lambda f: f.stat().st_mtime)[:-500]:  # what nobody asked for lately
        old.unlink()
    print(f'clang-tidy: no findings in {len(found)} jumbo files, {found.count(None)} of them known')
PY
