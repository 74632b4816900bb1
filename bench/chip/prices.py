#!/usr/bin/env python3
"""Finds what each kind of work of a plan's C costs on small chips: the tables of src/emit/chip_prices.cpp.

    bench/chip/prices.py VTURN CHIP_WORK MEASURED [PLANS] > src/emit/chip_prices.cpp

Makes plans at random (tables, loops of control, memory, guards, errands, for two to five sensors), measures each as
bench/chip/cost.py does, asks CHIP_WORK (bench/chip/work.cpp, built with -DVAST_TURN_BUILD_BENCH=ON) how much work it is, and
fits prices of at least 0 to both, by least squares of what is told too much or too little, in parts of what was measured.
MEASURED is a file that keeps what was measured, a line a plan, so that a second call goes on from there. How near the
prices come for plans that they were not found from is told on the error stream; tests/emit/chip_meter_test.cpp holds
it for others.
"""
import concurrent.futures
import json
import pathlib
import random
import subprocess
import sys
import tempfile

import cost

KINDS = 31  # of emit/c_work.hpp


def pattern(rng, sensors):
    return '[' + ''.join(rng.choice('#.?' if rng.random() < 0.3 else '#.') for _ in range(sensors)) + ']'


def number(rng, low, high):
    return round(rng.uniform(low, high), rng.choice([0, 0, 1, 2])) or 1


def error(rng, sensors):
    kinds = ['offset']
    if sensors > 1:
        kinds += [f'sensor(1) - sensor({sensors})', f'(raw(1) - raw({sensors})) / {number(rng, 300, 900)}']
    kinds.append(f'{number(rng, 0.2, 0.8)} - sensor({rng.randint(1, sensors)})')
    return rng.choice(kinds)


def control(rng, sensors):
    of = error(rng, sensors)
    power = rng.choice(['cruise', f'cruise - {number(rng, 5, 14)} * abs({of})', f'max(slow, cruise - {number(rng, 5, 20)} * abs({of}))'])
    turn = rng.choice([f'pid({of}, {number(rng, 10, 40)}, {number(rng, 0, 9)}, {number(rng, 0, 3)})', f'({of}) * {number(rng, 10, 40)}',
                       f'clamp(({of}) * {number(rng, 20, 50)}, -{number(rng, 10, 40)}, {number(rng, 10, 40)})',
                       f'{number(rng, 10, 30)} * ({of}) + {number(rng, 1, 9)} * ({of}) * abs({of})'])
    return f'bend({turn}, {power})'


def condition(rng, sensors, has):
    if not has['control'] and rng.random() < 0.7: # a table asks patterns and what lasts
        return rng.choice([f'{pattern(rng, sensors)} lasting {rng.randint(2, 9)} looks', pattern(rng, sensors), f'{pattern(rng, sensors)} and last_side == right',
                           f'seen >= {rng.randint(1, sensors)}', 'elapsed > 90s'])
    kinds = [f'seen > {rng.randint(1, sensors)}', f'{pattern(rng, sensors)} lasting {rng.randint(2, 9)} looks',
             f'{pattern(rng, sensors)} lasting {rng.randint(20, 400)}ms', f'last_side == left and seen == {rng.randint(1, sensors)}',
             f'sensor({rng.randint(1, sensors)}) > {number(rng, 0.3, 0.9)}', f'elapsed > {rng.randint(2, 90)}s',
             f'abs(offset) > {number(rng, 0.4, 0.9)} and seen == {sensors}']
    if has['wheels']:
        kinds += [f'travelled > {number(rng, 5, 90)}m', f'turned > {rng.randint(700, 2000)}deg']
    if has['range']:
        kinds.append(f'range < {rng.randint(20, 60)}mm')
    if has['colours']:
        kinds += ['fresh amber', 'teal', 'amber or magenta']
    if has['var']:
        kinds += ['count > 3', f'far > {rng.randint(3, 900)} and seen == 0']
    return rng.choice(kinds)


def acts(rng, sensors, has):
    sides = []
    if has['var'] and rng.random() < 0.4:
        sides.append(rng.choice(['set count = count + 1', f'track far = far + {number(rng, 0.1, 2)}', f'track far = (far * {number(rng, 2, 7)} + seen) / {number(rng, 3, 9)}']))
    if rng.random() < 0.15:
        sides.append(rng.choice(['note("here")', 'light(green)', 'tell(display, seen)']))
    motion = rng.choice(['ahead(cruise)', 'ahead(slow)', f'bend({number(rng, 5, 40)}, cruise)', f'bend(-{number(rng, 5, 40)}, slow)',
                         f'wheels({number(rng, 10, 30)}, cruise)', f'rotate(last_side, {number(rng, 20, 40)})', f'pivot(left, {number(rng, 20, 40)})',
                         'keep', control(rng, sensors) if has['control'] else 'wheels(12, slow)'])
    return ', '.join([*sides, motion])


def table(rng, sensors, has):
    rules = []
    for _ in range(rng.randint(3, 14)):
        rules.append(f'    {pattern(rng, sensors)}{" mirrored" if rng.random() < 0.4 else ""} -> {acts(rng, sensors, has)}')
    return rules


def small_plan(rng, seed):
    """A table as people begin with: a few patterns, a way to turn for each, perhaps what ends it."""
    sensors = rng.randint(2, 5)
    has = {'control': False, 'var': False, 'wheels': False, 'range': False, 'colours': False}
    text = f'plan "p{seed}"\nsensors {sensors}\n\nlet cruise = {rng.randint(38, 55)}\nlet slow = {rng.randint(25, 36)}\n'
    if sensors in (3, 5) and rng.random() < 0.3:
        text += f'guard range < {rng.randint(60, 400)}mm -> {rng.choice(["hold", "light(red), hold", "ahead(slow)"])}\n'
    ends = [f'    {pattern(rng, sensors)} lasting {rng.randint(5, 9)} looks -> {rng.choice(["halt", "note(done), halt".replace("done", chr(34) + "there" + chr(34)), "do cross"])}'
            for _ in range(rng.choice([0, 1, 1, 2]))]
    if rng.random() < 0.3:
        ends.append(f'    [{"." * sensors}] -> do cross')
    crosses = any('cross' in end for end in ends)
    rules = ends + table(rng, sensors, has)[:rng.randint(2, 7)] + [f'    else -> {rng.choice(["keep", "ahead(slow)", "rotate(last_side, 33)"])}']
    text += '\nhabit follow {\n' + '\n'.join(rules) + '\n}\n'
    if crosses:
        text += 'errand cross {\n    guard seen > 0 -> done\n' + f'    ahead(cruise) over {rng.randint(30, 200)}{rng.choice(["mm", "ms"])}\n' + '}\n'
    return text


def plan(seed):
    """The text of one."""
    rng = random.Random(seed)
    if rng.random() < 0.35:
        return small_plan(rng, seed)
    sensors = rng.choice([2, 3, 3, 4, 5, 5])
    has = {'control': rng.random() < 0.55, 'wheels': True, 'range': sensors in (3, 5), 'colours': sensors in (3, 5), 'var': rng.random() < 0.4}
    text = f'plan "p{seed}"\nsensors {sensors}\n' + ('markers amber, teal, magenta\n' if has['colours'] else '')
    if rng.random() < 0.15:
        text += 'weights ' + ', '.join(str(number(rng, -1, 1)) for _ in range(sensors)) + '\n'
    text += f'\nlet cruise = {rng.randint(38, 55)}\nlet slow = {rng.randint(25, 36)}\n' + ('var count = 0\nvar far = 0\n' if has['var'] else '')
    for _ in range(rng.choice([0, 0, 0, 1, 2])):
        text += f'guard {condition(rng, sensors, has)} -> {rng.choice(["hold", "light(red)", "ahead(slow)"])}\n'
    errand = rng.random() < 0.45
    rules = []
    for _ in range(rng.choice([0, 0, 1, 1, 2, 3, 4])):
        rules.append(f'    {condition(rng, sensors, has)} -> {"do turn(left)" if errand and rng.random() < 0.5 else acts(rng, sensors, has)}')
    rules += table(rng, sensors, has) if not has['control'] or rng.random() < 0.5 else []
    rules.append(f'    else -> {control(rng, sensors) if has["control"] and rng.random() < 0.8 else rng.choice(["keep", "ahead(slow)"])}')
    text += '\nhabit follow {\n' + '\n'.join(rules) + '\n}\n'
    if errand:
        items = [f'    ahead(slow) over {rng.randint(20, 90)}mm', f'    ahead(ramp({rng.randint(10, 30)}, 45)) over {rng.randint(40, 300)}ms',
                 f'    rotate(way, 30) till {pattern(rng, sensors)} or turned > {rng.randint(60, 160)}deg', f'    do line over {rng.randint(60, 400)}mm',
                 f'    do line till {pattern(rng, sensors)} or elapsed > 1s', '    keep over 120ms']
        text += 'errand turn(way) {\n' + '\n'.join(rng.sample(items, rng.randint(1, len(items)))) + '\n}\n'
        text += 'habit line {\n' + '\n'.join(table(rng, sensors, has)) + f'\n    else -> {control(rng, sensors) if has["control"] else "keep"}\n}}\n'
    return text


def measure(vturn, work, seed):
    """One plan's work and what it costs, or nothing when it does not compile or halts at once."""
    with tempfile.TemporaryDirectory() as folder:
        folder = pathlib.Path(folder)
        path = folder / 'own.plan'
        path.write_text(plan(seed))
        if subprocess.run([vturn, 'table', path], capture_output=True).returncode != 0:
            return None
        calibration = cost.calibrated(vturn, path, folder)
        told = subprocess.run([work], input=f'{cost.course_of(path)} {cost.robot_of(path)} {path} {calibration}\n', text=True, capture_output=True)
        counts = [float(n) for n in told.stdout.split()[1:]]
        if not counts or counts[0] < 40:
            return None
        try:
            results = cost.measured(vturn, path, folder, calibration)
        except SystemExit as failed:
            sys.stderr.write(f'plan {seed}: {failed}\n')
            return None
        return {'seed': seed, 'looks': counts[0], 'work': counts[1:1 + KINDS], 'source': counts[1 + KINDS:],
                **{chip: results[chip, 'exported'] for chip in cost.CHIPS}}


def fitted(rows, wanted):
    """Prices of at least 0 by descent along one after another, with a little pull to 0."""
    scaled = [([x / y for x in xs], 1.0) for xs, y in zip(rows, wanted)]
    kinds = len(rows[0])
    prices = [0.0] * kinds
    rest = [y for _, y in scaled]
    columns = [[xs[k] for xs, _ in scaled] for k in range(kinds)]
    squares = [sum(x * x for x in column) for column in columns]
    for _ in range(20000):
        moved = 0.0
        for k in range(kinds):
            if squares[k] == 0.0:
                continue
            step = sum(x * r for x, r in zip(columns[k], rest)) / squares[k]
            new = max(0.0, (prices[k] + step) / (1 + 1e-9))
            step = new - prices[k]
            if step != 0.0:
                prices[k] = new
                rest = [r - step * x for r, x in zip(rest, columns[k])]
                moved = max(moved, abs(step) * squares[k] ** 0.5)
        if moved < 1e-7:
            break
    return prices


def errors(rows, wanted, prices):
    return sorted(abs(sum(p * x for p, x in zip(prices, xs)) / y - 1) for xs, y in zip(rows, wanted))


def told(name, found):
    n = len(found)
    sys.stderr.write(f'{name}: {n} plans, off by {found[n // 2]:.1%} in the middle, {found[int(0.9 * n)]:.1%} at 9 of 10, '
                     f'{found[-1]:.1%} at most; within 20 %: {sum(e <= 0.2 for e in found)}\n')


def main():
    vturn, work, keep = (pathlib.Path(p).resolve() for p in sys.argv[1:4])
    count = int(sys.argv[4]) if len(sys.argv) > 4 else 420
    known = [json.loads(line) for line in keep.read_text().splitlines()] if keep.exists() else []
    seen = {one['seed'] for one in known}
    with concurrent.futures.ThreadPoolExecutor() as pool, keep.open('a') as out:
        for one in pool.map(lambda seed: measure(vturn, work, seed), [s for s in range(1, count + 1) if s not in seen]):
            if one is not None:
                known.append(one)
                out.write(json.dumps(one) + '\n')
                out.flush()
    tables = {}
    for chip in cost.CHIPS:
        for what, of, by in (('time', 'work', 'mean'), ('flash', 'source', 'flash')):
            rows, wanted = [one[of] for one in known], [one[chip][by] for one in known]
            if what == 'flash':
                rows = [counts + [float(count > 0) for count in counts] for counts in rows]
            half = len(rows) // 2
            told(f'{chip} {what}, of the other half', errors(rows[half:], wanted[half:], fitted(rows[:half], wanted[:half])))
            tables[chip, what] = fitted(rows, wanted)
            told(f'{chip} {what}', errors(rows, wanted, tables[chip, what]))
    print('#include "emit/chip_prices.hpp"\n\nnamespace vast_turn::emit {\n\nconst ChipPrices& prices_of(ChipKind chip) {')
    for chip, name in zip(cost.CHIPS, ('bits_8', 'bits_32')):
        flash = tables[chip, 'flash']
        parts = ['{{' + ', '.join(f'{p:.4g}' if p > 0.01 else '0' for p in prices) + '}}' for prices in (tables[chip, 'time'], flash[:KINDS], flash[KINDS:])]
        print(f'    static const ChipPrices {name}{{{", ".join(parts)}}};')
    print('    return chip == ChipKind::bits_8 ? bits_8 : bits_32;\n}\n\n} // namespace vast_turn::emit')


if __name__ == '__main__':
    main()
