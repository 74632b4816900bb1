#!/usr/bin/env python3
"""What a plan's C costs on small chips, beside the same logic written by hand.

    bench/chip/cost.py build/release/apps/vturn/vturn [PLAN ...]

Exports each plan for the demo's robot with as many sensors, plays the first 250 looks of its run over a course of the demo
on a simulated ATmega1284P (simavr, cycles) and a simulated Cortex-M3 (qemu, instructions), and prints what a look takes, from the
sensors' counts to the wheels' powers. Flash and memory are what the program grows by: exported in full, and lean
(`vturn export --lean`). hand_NAME.h beside this file, where there is one, is the plan NAME written by hand; its powers must be the
same. Needs gcc-avr, avr-libc, simavr, gcc-arm-none-eabi and qemu-system-arm.
"""
import csv
import os
import pathlib
import re
import subprocess
import sys
import tempfile
import tomllib

HERE = pathlib.Path(__file__).resolve().parent
HOUSE = HERE.parent.parent / 'data' / 'fern-house'
LOOKS = 250
TABLES = ['five-pid', 'five-table']
CHIPS = ('8-bit', '32-bit')


def run(*words, cwd=None):
    done = subprocess.run([str(w) for w in words], cwd=cwd, capture_output=True, text=True)
    if done.returncode != 0:
        sys.exit(f'{" ".join(map(str, words))}\n{(done.stdout + done.stderr)[:3000]}')
    return done.stdout + done.stderr


def bits(names, prefix):
    return '|'.join(f'PLAN_{prefix}_{n.upper()}' for n in names.split('|') if n) or '0'


def looks_header(trace, header):
    """The first looks of a trace as the senses of an exported program."""
    asked = re.search(r'struct plan_senses \{(.*?)\};', header, re.S).group(1)
    fields = re.findall(r'(\w+)(?:\[(\d+)\])?;', re.sub(r'/\*.*?\*/', '', asked))
    columns = {'gyro_deg': 'by_gyro_deg', 'compass_deg': 'by_compass_deg'}
    places = re.findall(r'#define PLAN_AT_(\w+) ', header)
    text = '#include "plan.h"\n\nstatic const struct plan_senses looks[] = {\n'
    for i, row in enumerate(csv.DictReader(trace)):
        if i == LOOKS:
            break
        parts = []
        for name, count in fields:
            if name == 'clock_us':
                value = f'{round(1000 * float(row["clock_ms"]))}u'
            elif name == 'counts':
                value = '{' + ', '.join(row[f'raw_{k + 1}'] for k in range(int(count))) + '}'
            elif name in ('markers', 'heard'):
                value = bits(row[name], 'SEES' if name == 'markers' else 'HEARS')
            elif name == 'markers_at':
                value = '{' + ', '.join(bits(row[f'markers_{p.lower()}'], 'SEES') for p in places) + '}'
            elif name == 'button':
                value = row['button']
            else:
                value = f'(plan_number){float(row.get(columns.get(name, name)) or 100)!r}'
            parts.append(f'.{name} = {value}')
        text += '    {' + ', '.join(parts) + '},\n'
    return text + '};\n'


def hand_constants(calibration):
    """What a person would copy from the calibration's file."""
    sensors = tomllib.loads(calibration.read_text())['sensor']

    def each(what):
        return ', '.join(f'{what(s)}f' for s in sensors)

    def count(s, side):
        return str(int(s['threshold_counts'] + side * s['hysteresis_counts'] / 2))

    def part(s, side):
        return (s['threshold_counts'] + side * s['hysteresis_counts'] / 2 - s['floor_counts']) / (s['line_counts'] - s['floor_counts'])

    return [f'-DHAND_FLOORS={each(lambda s: s["floor_counts"])}',
            f'-DHAND_PER_COUNT={each(lambda s: 1 / (s["line_counts"] - s["floor_counts"]))}',
            f'-DHAND_ON={each(lambda s: part(s, -1))}', f'-DHAND_OFF={each(lambda s: part(s, 1))}',
            f'-DHAND_ON_COUNTS={", ".join(count(s, -1) for s in sensors)}',
            f'-DHAND_OFF_COUNTS={", ".join(count(s, 1) for s in sensors)}']


def built(chip, kind, folder, constants):
    """The program for a chip: `-DEMPTY`, `-DBY_HAND`, `-DLEAN` or nothing; its bytes of flash and of memory."""
    source = 'lean/plan.c' if '-DLEAN' in kind else 'plan.c'
    kind = ['-Ilean', *kind] if '-DLEAN' in kind else kind
    common = ['-std=gnu99', '-Os', '-ffunction-sections', '-fdata-sections', '-Wl,--gc-sections', *kind, '-I.',
              f'-I{HERE.parent.parent}/tests/emit/chip', *constants]
    if chip == '8-bit':
        run('avr-gcc', *common, '-mmcu=atmega1284p', '-DF_CPU=16000000UL', HERE / 'main.c', source, '-lm', '-o', 'cost.elf', cwd=folder)
        sizes = run('avr-size', 'cost.elf', cwd=folder)
    else:
        example = HERE.parent.parent / 'examples' / 'on-the-robot' / '32-bit'
        run('arm-none-eabi-gcc', *common, '-mcpu=cortex-m3', '-mthumb', '-ffreestanding', '-nostdlib', HERE / 'main.c', example / 'begin.c',
            source, '-T', example / 'chip.ld', '-lgcc', '-o', 'cost.elf', cwd=folder)
        sizes = run('arm-none-eabi-size', 'cost.elf', cwd=folder)
    text, data, zeroed = map(int, sizes.splitlines()[1].split()[:3])
    return text + data, data + zeroed


def played(chip, folder):
    """Mean and most of a look, and the sums of the powers."""
    if chip == '8-bit':
        told = run('simavr', '-m', 'atmega1284p', '-f', '16000000', 'cost.elf', cwd=folder)
    else:
        told = run('timeout', '60', 'qemu-system-arm', '-M', 'mps2-an385', '-kernel', 'cost.elf', '-display', 'none', '-monitor', 'none', '-serial',
                   'stdio', '-semihosting', '-icount', 'shift=10', cwd=folder)
    return [int(n) for n in re.search(r'(-?\d+) (-?\d+) (-?\d+) (-?\d+) ', told).groups()]


def sensors_of(plan):
    return int(re.search(r'^sensors (\d)', plan.read_text(), re.M).group(1))


def robot_of(plan):
    return HOUSE / f'sprig-{sensors_of(plan)}.robot.toml'


def course_of(plan):
    return HOUSE / ('glass-wing.course.toml' if sensors_of(plan) == 5 else 'fern-house.course.toml')


def calibrated(vturn, plan, folder):
    """Of the bench for Sprig-5, whose readings there are; of the simulated bench for the others."""
    path = folder / f'sprig-{sensors_of(plan)}.calibration.toml'
    if not path.exists():
        readings = [HOUSE / 'sprig-5.bench.csv', '--robot', robot_of(plan)]
        if sensors_of(plan) != 5:
            readings = ['--simulate', HOUSE / 'fern-house.course.toml', robot_of(plan)]
        subprocess.run([vturn, 'calibrate', *readings, '-o', path], capture_output=True)
    return path


def measured(vturn, plan, folder, calibration):
    robot = robot_of(plan)
    for lean in ([], ['--lean']):
        run(vturn, 'export', plan, '--name', 'plan', '--numbers', 'float', '--robot', robot, '--calibration', calibration, *lean,
            '-o', folder / 'lean' if lean else folder)
    subprocess.run([vturn, 'run', course_of(plan), robot, plan, '--numbers', 'float', '--calibration', calibration,
                    '--trace', folder / 'trace.csv'], capture_output=True)
    header = (folder / 'plan.h').read_text()
    with open(folder / 'trace.csv') as trace:
        looks = looks_header(trace, header)
    for beside in (folder, folder / 'lean'): # a program's looks include its own header
        (beside / 'looks.h').write_text(looks)
    by_hand = HERE / f'hand_{plan.stem}.h'
    kinds = {'exported': [], 'lean': ['-DLEAN']}
    if by_hand.exists():
        (folder / 'hand.h').write_text(by_hand.read_text())
        kinds['by_hand'] = ['-DBY_HAND']
    constants = hand_constants(calibration)
    results = {}
    for chip in CHIPS:
        empty = built(chip, ['-DEMPTY'], folder, constants)
        for kind, options in kinds.items():
            flash, memory = built(chip, options, folder, constants)
            mean, most, left, right = played(chip, folder)
            results[chip, kind] = {'mean': mean, 'most': most, 'flash': flash - empty[0], 'memory': memory - empty[1], 'powers': (left, right)}
    return results


def main():
    vturn = pathlib.Path(sys.argv[1]).resolve()
    plans = [pathlib.Path(p).resolve() for p in sys.argv[2:]] or [HOUSE / 'plans' / f'{name}.plan' for name in TABLES]
    print(f'{"plan":<18} {"chip":<7} {"written":<9} {"mean":>7} {"most":>7} {"flash":>7} {"memory":>7}   of by hand')
    with tempfile.TemporaryDirectory() as root:
        root = pathlib.Path(root)
        differ = False
        for plan in plans:
            folder = root / plan.stem
            os.mkdir(folder)
            results = measured(vturn, plan, folder, calibrated(vturn, plan, root))
            for (chip, kind), own in results.items():
                hand = results.get((chip, 'by_hand'))
                ratio = '' if hand is None or kind == 'by_hand' else f'{own["mean"] / hand["mean"]:.2f} time, {own["flash"] / hand["flash"]:.2f} flash, {own["memory"] / hand["memory"]:.2f} memory'
                print(f'{plan.stem:<18} {chip:<7} {kind:<9} {own["mean"]:>7} {own["most"]:>7} {own["flash"]:>7} {own["memory"]:>7}   {ratio}'.rstrip())
                differ = differ or (hand is not None and max(abs(a - b) for a, b in zip(own['powers'], hand['powers'])) > 2)
        if differ:
            sys.exit('what is written by hand decides otherwise')


if __name__ == "__main__":
    main()
