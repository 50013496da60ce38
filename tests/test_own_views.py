"""Constructions of one's own that stand in views, and steps that are known moves: what each draws, what it is proved
to be, and what a shipped method in views says when it comes back as text."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import numpy as np

from tests import ways
from wise_compass.camera.laid import laid_by, laid_in
from wise_compass.drafting.figure import OWN_WAY, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.vectors import Array, angle_of, cross, distance, point
from wise_compass.job.build import build_sheet, run_entry
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import load, save
from wise_compass.logbook.files import csv_text, read_csv
from wise_compass.logbook.store import Logbook
from wise_compass.own.claims import CURVES, OUTLINES, Claim
from wise_compass.own.language import BY_INSTRUMENT, MOST_TEXT, VERBS
from wise_compass.own.numbers import numbers_of, with_numbers
from wise_compass.own.program import program_of
from wise_compass.own.proving import judge
from wise_compass.own.running import STEPS
from wise_compass.own.taking import taken_out
from wise_compass.own.writing import Written, as_far_as, own_method
from wise_compass.practice.marking import mark, noted
from wise_compass.practice.packing import packed, unpacked
from wise_compass.practice.problems import problem_of
from wise_compass.practice.setting import set_problem
from wise_compass.practice.worksheet import worksheet
from wise_compass.scene.scene import Scene
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Measurable, Taken

BRACE = """
title: Brace of the hopper, its true length two ways
givens: along=70 ha=20 hb=55 da=15 db=40
claim: A.3B.3 = A.front R.front
mark X at 0, 0
reference x from X
lay off Y on x from X: along
upright p from X
upright q from Y
lay off A.front on p from X: ha
lay off A.top on p from X: da backward
lay off B.front on q from Y: hb
lay off B.top on q from Y: db backward
line a through A.top and B.top
fold f off top through X along a, left
transfer A.3 B.3
level l from A.top
circle k about A.top: A.topB.top
meet R.top of l and k, right
projector r of R.top across x
level m from B.front
meet R.front of r and m
"""


def drawn(*lines: str) -> Written:
    """What stands after some lines behind A, B on the line a and C off it; raises what is wrong with the first."""
    head = ("mark A at 0, 0", "mark B at 80, 10", "line a through A and B", "mark C at 30, 50")
    found = as_far_as("\n".join((*head, *lines)), figure_named("ellipse")())
    if found.faults:
        raise AssertionError(dict(found.faults))
    return found


def off(p: Array, a: Array, b: Array) -> float:
    """How far a point lies to the left of the line from ``a`` to ``b``."""
    return float(cross(b - a, p - a)) / float(distance(a, b))


class Moves(unittest.TestCase):
    """What each step that is a known move draws, held to what it is in plane geometry."""

    def test_perpendiculars(self) -> None:
        at = drawn(
            "drop F on a from C", "line c through C and F", "erect e on a at F", "lay off E on e from F: 20"
        ).points
        self.assertAlmostEqual(off(at["F"], at["A"], at["B"]), 0.0, delta=1e-9)
        self.assertAlmostEqual(float((at["C"] - at["F"]) @ (at["B"] - at["A"])), 0.0, delta=1e-9)
        self.assertAlmostEqual(off(at["E"], at["A"], at["B"]), 20.0, delta=1e-9)

    def test_an_angle_is_halved(self) -> None:
        for legs in ("BAC", "CAB", "ACB"):
            at = drawn(f"halve {legs}: h", f"lay off H on h from {legs[1]}: 30").points
            one, half, other = (float(angle_of(at[name] - at[legs[1]])) for name in (legs[0], "H", legs[2]))
            self.assertAlmostEqual((half - one) % 360, (other - half) % 360, delta=1e-9)
            self.assertLess(min((half - one) % 360, (one - half) % 360), 90)

    def test_tangents_touch_on_the_side_that_is_named(self) -> None:
        found = drawn("circle k about C: 20", "touch S on k from A, left", "touch T on k from A, right")
        at = found.points
        for name, side in (("S", 1), ("T", -1)):
            self.assertAlmostEqual(float((at[name] - at["C"]) @ (at[name] - at["A"])), 0.0, delta=1e-9)
            self.assertAlmostEqual(float(distance(at[name], at["C"])), 20.0, delta=1e-9)
            self.assertGreater(side * off(at[name], at["A"], at["C"]), 0)

    def test_places_shares_and_images(self) -> None:
        at = drawn(
            "share P of AB at 2/5",
            "place Q on a at 30",
            "circle k about C: 20",
            "place R on k at 90",
            "mirror S of A over C",
            "measure T from C: 5, -7",
            "beside b of a from A: 12",
            "line c through C and A",
            "meet U of b and c",
            "crown V of k along a, right",
            "circle m about A: across AB",
            "circle n about A: up AB",
        )
        found, x = at.points, at.things
        self.assertTrue(np.allclose(found["P"], 0.4 * found["B"]))
        self.assertAlmostEqual(float(distance(found["Q"], found["A"])), 30.0)
        self.assertTrue(np.allclose(found["R"], found["C"] + point(0.0, 20.0)))
        self.assertTrue(np.allclose(found["S"], 2 * found["C"]))
        self.assertTrue(np.allclose(found["T"], found["C"] + point(5.0, -7.0)))
        self.assertAlmostEqual(off(found["U"], found["A"], found["B"]), 12.0)
        self.assertAlmostEqual(off(found["V"], found["A"], found["B"]), off(found["C"], found["A"], found["B"]) - 20.0)
        self.assertEqual([float(x[name].radius) for name in "mn"], [80.0, 10.0])  # type: ignore[union-attr]

    def test_the_trammel_draws_the_ellipse(self) -> None:
        lines = [f"trammel P{k} about A along a at {k}: 60, 35" for k in (0, 25, 60, 100, 170, 200, 290)]
        at = drawn(*lines).points
        u = (at["B"] - at["A"]) / float(distance(at["A"], at["B"]))
        for k in (0, 25, 60, 100, 170, 200, 290):
            along, aside = float(at[f"P{k}"] @ u), float(cross(u, at[f"P{k}"]))
            self.assertAlmostEqual((along / 60) ** 2 + (aside / 35) ** 2, 1.0, delta=1e-12)
            self.assertAlmostEqual(float(np.rad2deg(np.arctan2(aside / 35, along / 60))) % 360, k % 360, delta=1e-9)

    def test_an_arc_and_a_line_are_divided_as_they_are_named(self) -> None:
        names = " ".join(f"D{k}" for k in range(1, 9))
        at = drawn(f"divide AB into 9: {names}").points
        for k in range(1, 9):
            self.assertTrue(np.allclose(at[f"D{k}"], at["B"] * k / 9), k)
        arc = drawn(
            "circle k about A: 40", "place P on k at 10", "place Q on k at 70", "divide arc k from P to Q into 3: E F"
        )
        for name, angle in (("E", 30.0), ("F", 50.0)):
            self.assertAlmostEqual(float(angle_of(arc.points[name])), angle, delta=1e-9)

    def test_the_compass_left_as_it_stands(self) -> None:
        found = drawn("arc k about A: 34", "arc m about C: as before")
        self.assertEqual([float(found.things[name].radius) for name in "km"], [34.0, 34.0])  # type: ignore[union-attr]
        self.assertTrue(
            run(figure_named("ellipse")(), own_method(found.program.text, figure_named("ellipse")())).steps[5].keep
        )

    def test_what_cannot_be_is_said(self) -> None:
        for lines, part in (
            (("circle k about A: 90", "touch T on k from C, left"), "lies within"),
            (("drop F on a from B",), "lies on a"),
            (("trammel P about A along a at 30: 35, 60",), "further from P"),
            (("curve A B C, from 2 to 1",), "go from 0 to 2"),
        ):
            found = as_far_as(
                "\n".join(("mark A at 0, 0", "mark B at 80, 10", "line a through A and B", "mark C at 30, 50", *lines)),
                figure_named("ellipse")(),
            )
            self.assertIn(part, " ".join(found.faults.values()))

    def test_every_verb_is_drawn(self) -> None:
        self.assertEqual(set(STEPS), set(VERBS))
        self.assertEqual(sorted(verb for group in BY_INSTRUMENT.values() for verb in group), sorted(VERBS))


class InViews(unittest.TestCase):
    def test_a_fold_shows_the_true_length(self) -> None:
        self.assertEqual(judge(program_of(BRACE)).kind, "exact")
        for old, new in (
            ("along a, left", "along a, right"),
            (
                "fold f off top through X along a",
                "line b through A.front and B.front\nfold f off front through X along b",
            ),
        ):
            self.assertEqual(judge(program_of(BRACE.replace(old, new))).kind, "exact", new)
        self.assertEqual(judge(program_of(BRACE.replace("along a, left", "square to a, left"))).kind, "wrong")

    def test_what_has_both_views_stands_in_space(self) -> None:
        made = Claim(
            program_of(
                BRACE.replace("claim: A.3B.3 = A.front R.front", "claim: line-from-views A=0,15,20 B=70,40,55")
                .replace("givens: along=70 ha=20 hb=55 da=15 db=40\n", "")
                .replace(": along", ": x_of_B")
                .replace(": ha", ": z_of_A")
                .replace(": hb", ": z_of_B")
                .replace(": da", ": y_of_A")
                .replace(": db", ": y_of_B")
            )
        ).run()
        self.assertTrue(np.allclose(made.found["A"], (0, 15, 20)))
        self.assertTrue(np.allclose(made.found["B"], (70, 40, 55)))
        assert made.views is not None
        self.assertEqual([view.id for view in made.views.auxiliary], ["3"])
        self.assertTrue(any(surface is not None for surface in Scene(made).order))

    def test_what_no_view_has_is_said_at_its_line(self) -> None:
        figure = figure_named("line-from-views")()
        for lines, part in (
            ("transfer A.3", "no views yet"),
            ("reference x from A\ntransfer A.3", "view 3"),
            ("reference x from A\ntransfer A.top", "no view that is folded off"),
            ("reference x from A\nreference y from A", "drawn already"),
            ("reference x from A\nfold f off top through A along x, left\ntransfer B.3", "which is not there"),
            ("views front at 0, 0 top at 0, -9\nfold f off top through A along a, left", "reference line"),
        ):
            found = as_far_as(f"mark A at 0, 0\nlevel a from A\n{lines}", figure)
            self.assertIn(part, " ".join(found.faults.values()), lines)

    def test_coordinates_of_points_are_numbers_by_name(self) -> None:
        figure = figure_named("true-shape")()
        numbers = numbers_of(figure)
        self.assertEqual(numbers["z_of_B"], figure.given_values["B"][2])
        other = with_numbers(figure, {"z_of_B": 61.0, "x_of_A": 12.0})
        self.assertEqual((other.given_values["B"][2], other.given_values["A"][0]), (61.0, 12.0))

    def test_a_figure_in_views_in_one_s_own_words(self) -> None:
        program = taken_out(figure_named("plane-by-traces")(), "auxiliary-view")
        self.assertEqual(judge(program).kind, "exact")
        laid_off = next(k for k, line in enumerate(program.lines) if line.verb == "ray")
        line = program.lines[laid_off]
        changed = line._replace(parts={**line.parts, "angle": f"{line.parts['angle']} + 5"})
        lines = (*program.lines[:laid_off], changed, *program.lines[laid_off + 1 :])
        self.assertIn(judge(program._replace(lines=lines), causes=False).kind, ("near", "wrong"))

    def test_it_is_kept_in_a_job_and_drawn_on_its_sheet(self) -> None:
        figure = figure_named("cone")()
        own = taken_out(figure, "radial-lines")._replace(figure="", givens={}).text
        entry = Entry("cone", "Hopper's spout", OWN_WAY, figure.stored(), own=own)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mill.json"
            save(Job("Mill", (SheetPlan("Cone", (entry,)),)), path)
            job = load(path)
        made = run_entry(job.sheets[0].entries[0])
        self.assertTrue(all(proof.holds for proof in made.proofs))
        self.assertEqual(len(made.parts), len(run(figure, "radial-lines").parts))
        sheet = build_sheet(job, 0, {job.sheets[0].entries[0].id: made})
        self.assertIs(sheet.placed[0].piece.run, made)

    def test_what_is_drawn_apart_lies_in_no_view(self) -> None:
        text = BRACE.replace("level l from", "== The triangle, apart\nlevel l from")
        claim = Claim(program_of(text))
        self.assertEqual(judge(claim.program).kind, "exact")
        figure = figure_named("line-from-views")()
        rows = "\n".join(row for row in text.splitlines() if not row.startswith(("givens", "claim")))
        for name, value in (("along", "70"), ("ha", "20"), ("hb", "55"), ("da", "15"), ("db", "40")):
            rows = rows.replace(f": {name}", f": {value}")
        made = run_entry(Entry("line-from-views", "Brace", OWN_WAY, figure.stored(), own=rows))
        self.assertEqual({step.apart for step in made.steps if step.phase == "The triangle"}, {"The triangle"})
        self.assertEqual({step.apart for step in made.steps if step.phase != "The triangle"}, {""})


class Outlines(unittest.TestCase):
    def test_curves_and_arcs_lined_in_wrongly_are_told(self) -> None:
        for figure, method, right, wrong in (
            ("ellipse", "two-circles", "curve P0 P1 P2 P3", "curve P0 P2 P1 P3"),
            ("fillet", "perpendicular-offsets", None, None),
        ):
            program = taken_out(figure_named(figure)(), method)
            self.assertTrue(all(one.holds for one in Claim(program).misses() if one.says in OUTLINES))
            text = program.text
            if right and wrong:
                changed = text.replace(right, wrong)
            else:
                arc = next(line for line in program.lines if line.verb == "line in arc")
                turned = {**arc.parts, "a": arc.parts["b"], "b": arc.parts["a"]}
                changed = text.replace(arc.text, arc._replace(parts=turned).text)
            self.assertNotEqual(changed, text)
            misses = {one.says: one for one in Claim(program_of(changed)).misses()}
            self.assertFalse(misses[CURVES].holds, figure)
            self.assertGreater(misses[CURVES].miss, 2.0)

    def test_an_arc_of_the_construction_lined_in_is_told(self) -> None:
        program = taken_out(figure_named("ellipse")(), "two-circles")
        circle = next(line for line in program.lines if line.verb in ("circle", "arc"))
        more = f"line in circle about {circle.parts['at']}: {circle.parts['length']}\n"
        misses = {one.says: one for one in Claim(program_of(program.text + more)).misses()}
        self.assertFalse(misses[CURVES].holds)

    def test_fewer_points_of_the_same_curve_are_no_fault(self) -> None:
        program = taken_out(make(figure_named("ellipse"), {"divisions": 24}), "two-circles")
        curve = next(line for line in program.lines if line.verb == "curve")
        row = curve.parts["rows"].split()[:-1]
        halved = [*row[::2], row[0]]
        text = program.text.replace(curve.parts["rows"], " ".join(halved))
        misses = {one.says: one for one in Claim(program_of(text)).misses()}
        self.assertGreater(misses[CURVES].miss, 0.0)
        self.assertTrue(all(one.holds for one in misses.values()), misses)


class Practised(unittest.TestCase):
    """A person's own way set as a problem, known again from its code, and kept in the logbook."""

    def test_a_problem_by_one_s_own_way_and_its_code(self) -> None:
        for figure, own in (("polygon-on-side", _lines(ways.PENTAGON)), ("prism", None)):
            text = own or taken_out(figure_named(figure)(), "parallel-lines")._replace(figure="", givens={}).text
            sides = {"sides": 5} if own else {}
            problem = set_problem(figure, np.random.default_rng(3), by=Entry(figure, "Boss", OWN_WAY, sides, own=text))
            again = problem_of(problem.code)
            made, other = problem.run(), again.run()
            self.assertEqual(again.givens, problem.givens)
            lost = [one.says for one in made.proofs if not (one.holds or one.says in OUTLINES)]
            self.assertEqual(lost, [], figure)
            for name, spot in made.spots.items():
                self.assertTrue(np.allclose(spot.here, other.spots[name].here), name)
            self.assertIn("written down", problem.words())
            self.assertGreater(len(worksheet(problem).items), 20)
        for signs in ("NO-SIGNS", packed("mark A at 0, 0")[:-6], packed("#" * 10 * MOST_TEXT)):
            with self.assertRaises(Refused):
                unpacked(signs)

    def test_a_sheet_by_one_s_own_way_is_known_by_its_code(self) -> None:
        entry = Entry("polygon-on-side", "Boss", OWN_WAY, {"sides": 5, "side": 60.0}, own=_lines(ways.PENTAGON))
        laid = laid_in(Job("Mill", (SheetPlan("Boss", (entry,)),)), 1)
        self.assertTrue(laid.code)
        self.assertEqual(list(laid_by(laid.code).run.spots), list(laid.run.spots))

    def test_the_logbook_keeps_it(self) -> None:
        entry = Entry("polygon-on-side", "Boss", OWN_WAY, {"sides": 5}, own=_lines(ways.PENTAGON))
        problem = set_problem("polygon-on-side", np.random.default_rng(3), by=entry)
        made = problem.run()
        judge = Judge(made)
        taken = [
            Taken(Measurable(f"A-{b}", "mm", ("A", b)), float(distance(*(made.spots[n].here for n in ("A", b)))), 0.2)
            for b in "BCDE"
        ]
        entry = noted(made, 1.0, mark(judge, taken))
        with tempfile.TemporaryDirectory() as folder:
            book = Logbook(Path(folder))
            book.note([entry])
            (kept,) = book.entries()
            self.assertEqual(kept.own, entry.own)
            (read,) = read_csv(csv_text([kept]))
        self.assertEqual(read.own, entry.own)
        assert read.own is not None
        self.assertEqual(program_of(read.own).lines, program_of(_lines(ways.PENTAGON)).lines)


def _lines(text: str) -> str:
    """A construction without its claim."""
    return "\n".join(row for row in text.strip().splitlines() if not row.startswith("claim")) + "\n"


class Refusals(unittest.TestCase):
    def test_a_method_that_does_not_serve_is_refused(self) -> None:
        with self.assertRaises(Refused) as told:
            taken_out(figure_named("regular-solid")(), "golden-ratio")
        self.assertTrue(PLAIN.say(told.exception.template))
