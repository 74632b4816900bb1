#!/usr/bin/env python3
"""The Python module over the demo's files, from outside: module_test.py DATA (the folder of the demo's files)."""
import contextlib
import gc
import io
import os
import re
import sys
import tempfile
import threading
import unittest

import numpy as np

import vast_turn as vt

DATA = sys.argv.pop(1)


def data(name):
    return os.path.join(DATA, name)


def scene():
    return vt.Scene(vt.load_course(data("fern-house.course.toml")), vt.load_robot(data("sprig-2.robot.toml")))


def alike(one, other):
    """Field by field: between them there are bytes that mean nothing."""
    return len(one) == len(other) and bool((one == other).all())


def left_first(look, answer):
    """What left-first.plan does, but that it never halts."""
    left, right = look.marks
    answer.left_pct = -24 if left == "#" else 47
    answer.right_pct = -24 if right == "#" and left == "." else 47


class Runs(unittest.TestCase):
    def test_a_plan_is_driven_and_its_looks_are_an_array(self):
        run = vt.drive(scene(), vt.load_plan(data("left-first.plan")), seed=7)
        self.assertEqual(run.route, ["sharp bend", "fork", "mist room"])
        self.assertEqual((run.ending, run.start, run.seed), ("halt", "potting bench", 7))
        self.assertEqual([place for _, place in run.visits], run.route)
        self.assertIn(("note", "on the pad"), [event[2:4] for event in run.events])
        looks = run.looks
        self.assertEqual(looks["t_s"][0], 0.0)
        self.assertTrue(np.allclose(np.diff(looks["t_s"]), 0.010))
        self.assertEqual(looks["raw"].shape, (len(looks), 8))
        way = np.hypot(np.diff(looks["x_mm"]), np.diff(looks["y_mm"])).sum()
        self.assertLess(abs(way - run.way_mm), 0.01 * run.way_mm)
        self.assertEqual(run.mean_speed_mm_s, run.way_mm / run.time_s)

    def test_arrays_are_views_that_cannot_be_written_and_outlive_what_they_are_of(self):
        run = vt.drive(scene(), vt.load_plan(data("left-first.plan")))
        first, second = run.looks, run.looks
        self.assertTrue(np.shares_memory(first, second))
        with self.assertRaises(ValueError):
            first["t_s"][0] = 1.0
        before = first.copy()
        del run, second
        gc.collect()
        self.assertTrue((first == before).all())
        course = vt.load_course(data("fern-house.course.toml"))
        cells = course.cells
        path = max(course.lines().stretches, key=lambda stretch: stretch.length_mm).path_mm
        del course
        gc.collect()
        self.assertEqual(cells.shape, (1880, 2920))
        self.assertEqual(path.shape[1], 2)
        self.assertTrue(np.isfinite(path).all())

    def test_the_same_seed_is_the_same_run_and_options_are_heard(self):
        over, plan = scene(), vt.load_plan(data("left-first.plan"))
        one, same, other = (vt.drive(over, plan, seed=seed).looks for seed in (3, 3, 4))
        self.assertEqual(one.tobytes(), same.tobytes())
        self.assertNotEqual(one.tobytes(), other.tobytes())
        weak = vt.drive(over, plan, set={"left_motor": 0.9, "sensor_2": 0.95})
        self.assertGreater(weak.time_s, vt.drive(over, plan).time_s)
        self.assertEqual(vt.drive(over, plan, time_limit_s=0.5).ending, "time over")
        aside = vt.drive(over, plan, start=(400.0, 790.0, 0.0), time_limit_s=0.1)
        self.assertAlmostEqual(aside.looks["x_mm"][0], 400.0)
        robot = vt.load_robot(data("sprig-2.robot.toml"))
        self.assertEqual(len(vt.drive(over, plan).calibration.levels), len(robot.sensors))

    def test_code_drives_in_the_place_of_a_plan(self):
        run = vt.drive(scene(), left_first, time_limit_s=9)
        self.assertEqual(run.route[:2], ["sharp bend", "fork"])
        kept = []
        vt.drive(scene(), lambda look, answer: kept.append(look), time_limit_s=0.2, lost_after_s=9)
        self.assertEqual([look.clock_ms for look in kept[:3]], [0.0, 10.0, 20.0])

    def test_what_code_raises_comes_out(self):
        def broken(look, answer):
            raise RuntimeError("no idea")

        with self.assertRaisesRegex(RuntimeError, "no idea"):
            vt.drive(scene(), broken)
        with self.assertRaises(TypeError):
            vt.drive(scene(), lambda look, answer: setattr(answer, "left_pct", "fast"))

    def test_wrong_words_are_refused_with_the_nearest(self):
        over, plan = scene(), vt.load_plan(data("left-first.plan"))
        for words, kind, said in (
            ({"sed": 3}, TypeError, "did you mean `seed`"),
            ({"seed": "three"}, TypeError, "'seed' cannot be 'three'"),
            ({"seed": -1}, TypeError, "'seed' cannot be -1"),
            ({"set": {"left_moter": 0.9}}, ValueError, "did you mean `left_motor`"),
            ({"set": {"left_motor": 99}}, ValueError, "left_motor cannot be 99"),
            ({"set": {"left_motor": float("nan")}}, ValueError, "left_motor cannot be nan"),
            ({"start": (1.0, 2.0)}, ValueError, r"a name or \(x, y, heading\)"),
            ({"start": "nowhere"}, vt.InputError, "nowhere"),
            ({"numbers": "half"}, ValueError, "'double' or 'float'"),
        ):
            with self.subTest(words), self.assertRaisesRegex(kind, said):
                vt.drive(over, plan, **words)
        with self.assertRaisesRegex(vt.InputError, "5 line sensors"):
            vt.drive(over, vt.load_plan(data("rounds.plan")))

    def test_threads_share_a_scene(self):
        over, plan = scene(), vt.load_plan(data("left-first.plan"))
        alone = [vt.drive(over, plan, seed=seed).looks for seed in range(1, 7)]
        together = [None] * 6

        def drive(i):
            together[i] = vt.drive(over, plan, seed=i + 1).looks

        threads = [threading.Thread(target=drive, args=(i,)) for i in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertTrue(all(map(alike, alone, together)))


class Files(unittest.TestCase):
    def test_courses_and_their_lines(self):
        course = vt.load_course(data("fern-house.course.toml"))
        self.assertEqual(course.size_mm, (1460.0, 940.0))
        self.assertEqual(course.starts["potting bench"], (186.0, 790.0, 0.0))
        self.assertEqual(list(course.places), ["sharp bend", "fork", "mist room", "dock"])
        fork = next(node for node in course.lines().nodes if node.kind == "fork")
        self.assertEqual([round(heading) for heading, _, _ in fork.exits], [85, 95, 270])
        for _, stretch, end in fork.exits:
            self.assertIn(end.name, (stretch.begin.name, stretch.end.name))
            self.assertGreater(stretch.length_mm, 100)
            self.assertAlmostEqual(stretch.width_mm, 19, delta=1)
        drain = vt.load_course(data("drain.course.toml"))
        self.assertTrue(any(stretch.bridges for stretch in drain.lines().stretches))
        wing = vt.load_course(data("glass-wing.course.toml"), "can away")
        self.assertEqual(wing.variant, "can away")
        self.assertEqual(wing.variants[0], "as drawn")
        self.assertIn("amber", wing.palette)

    def test_what_is_wrong_with_a_file_is_told_with_its_place(self):
        with self.assertRaises(vt.InputError) as raised:
            vt.compile_plan('plan "x"\nsensors 2\nhabit on {\n    else -> ahed(40)\n}\n', "mine.plan")
        problem = raised.exception.problems[0]
        self.assertEqual((problem.file, problem.line, problem.is_error), ("mine.plan", 4, True))
        self.assertIn("mine.plan", str(raised.exception))
        self.assertIsInstance(raised.exception, ValueError)
        for read in (vt.load_robot, vt.load_plan, vt.load_course, vt.load_days):
            with self.assertRaises(vt.InputError):
                read("no such file")
        with self.assertRaises(vt.InputError):
            vt.parse_robot("track_mm = 'far'")

    def test_a_plan_is_asked_look_by_look(self):
        plan = vt.load_plan(data("left-first.plan"))
        mind, look = vt.Mind(plan), vt.Look()
        look.marks = "#."
        answer = mind.decide(look)
        self.assertEqual((answer.left_pct, answer.right_pct), (-24, 47))
        self.assertEqual(plan.rules[answer.rule].line, 9)
        look.readings = [0.2, 0.9]
        self.assertEqual(look.marks, ".#")
        with self.assertRaisesRegex(ValueError, "written for 2 sensors"):
            look.marks = ".#."
            mind.decide(look)
        for wrong in ("", ".#x", "." * 9):
            with self.assertRaises(ValueError):
                look.marks = wrong
        with self.assertRaises(ValueError):
            look.readings = [0.0] * 9

    def test_a_plan_is_vetted(self):
        plan = vt.load_plan(data("gentle.plan"))
        found = vt.vet(plan, vt.load_robot(data("sprig-2.robot.toml")), vt.load_course(data("fern-house.course.toml")))
        self.assertIn("bend-too-tight", [finding.code for finding in found])
        self.assertTrue(all(finding.grade in ("fault", "risk", "hint") for finding in found))

    def test_a_calibration_is_the_robots(self):
        robot = vt.load_robot(data("sprig-5.robot.toml"))
        with tempfile.TemporaryDirectory() as folder:
            path = os.path.join(folder, "mine.calibration.toml")
            with open(path, "w") as out:
                for i in range(5):
                    out.write(f"[[sensor]]\nchannel = \"sensor_{i + 1}\"\nfloor_counts = {900 - i}\nline_counts = {200 + i}\n")
            levels = vt.load_calibration(path, robot).levels
        self.assertEqual([level[:2] for level in levels], [(900 - i, 200 + i) for i in range(5)])


class Trips(unittest.TestCase):
    def test_trips_are_taken_explained_and_cured(self):
        course, robot = data("fern-house.course.toml"), vt.load_robot(data("sprig-2.robot.toml"))
        report = vt.take_trips(course, robot, vt.load_plan(data("left-first.plan")))
        self.assertEqual((report.passed, report.taken), (1, 2))
        held, failed = report.cases
        del report
        gc.collect()
        self.assertTrue(held.holds)
        self.assertEqual((failed.trip, failed.runs, failed.passed), ("fetch pots", 1, 0))
        self.assertIn("took left, expected right", failed.explained[1])
        self.assertEqual(failed.run.route[-1], "mist room")
        cure = failed.cures[0]
        self.assertTrue(cure.passes)
        self.assertEqual(cure.breaks, ["water the ferns"])
        changed = vt.compile_plan(cure.text)
        again = vt.take_trips(course, robot, changed, cures=False)
        self.assertEqual([case.holds for case in again.cases], [False, True])

    def test_code_takes_trips_on_many_threads(self):
        course, robot = data("fern-house.course.toml"), vt.load_robot(data("sprig-2.robot.toml"))
        made = []

        def make():
            made.append(1)
            return left_first

        def cases(threads):
            report = vt.take_trips(course, robot, ("in code", make), repeats=4, threads=threads)
            return [(case.pilot, case.runs, case.passed, case.failures) for case in report.cases]

        self.assertEqual(cases(1), cases(3))
        self.assertGreaterEqual(len(made), 16)

        def broken():
            raise RuntimeError("no idea")

        with self.assertRaisesRegex(RuntimeError, "no idea"):
            vt.take_trips(course, robot, ("broken", broken), threads=3)
        with self.assertRaisesRegex(TypeError, "who drives"):
            vt.take_trips(course, robot, "left-first.plan")

    def test_days_say_how_sure(self):
        robot = vt.load_robot(data("sprig-5.robot.toml")).with_days(vt.load_days(data("ordinary.days.toml")))
        report = vt.take_trips(data("drain.course.toml"), robot, vt.load_plan(data("drain-first-try.plan")), days=60,
                               cures=False)
        case = report.cases[0]
        self.assertEqual(case.runs, 60)
        self.assertEqual(len(case.failed_days), 60 - case.passed)
        least, most = case.share
        self.assertTrue(0 < least < case.passed / 60 < most < 1)
        day = case.failed_days[0]
        course = vt.load_course(data("drain.course.toml"))
        again = vt.drive(vt.Scene(course, robot), vt.load_plan(data("drain-first-try.plan")), day=day)
        self.assertEqual(again.day, day)


class Page(unittest.TestCase):
    def test_the_page_about_it_runs_as_it_stands(self):
        root = os.path.join(os.path.dirname(os.path.abspath(__file__)), "..", "..")
        with open(os.path.join(root, "docs", "python.md")) as page:
            code = re.findall(r"^```python\n(.*?)^```", page.read(), re.S | re.M)
        self.assertEqual(len(code), 3)
        here = os.getcwd()
        os.chdir(root)
        printed = io.StringIO()
        try:
            with contextlib.redirect_stdout(printed):
                exec("\n".join(code), {})
        finally:
            os.chdir(here)
        self.assertTrue(printed.getvalue().startswith("halt ['sharp bend', 'fork', 'mist room']\n"))
        self.assertIn("took left, expected right", printed.getvalue())


if __name__ == "__main__":
    unittest.main()
