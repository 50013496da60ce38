"""Slips that a hand makes with its moves: said once with the move, so that every figure has them."""

from __future__ import annotations

import math
import unittest
from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from tests.test_catalogue import every_method, fitting
from tests.test_hands import lined_in
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.figure import method as entered
from wise_compass.drafting.givens import Angle
from wise_compass.drafting.instruments import UnsteadyHands
from wise_compass.drafting.marks import ArcMark, LineMark
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.drafting.steps import Step
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.vectors import Number
from wise_compass.study.judge import Explanation, Judge
from wise_compass.study.looked import slip_step
from wise_compass.study.measures import Taken, exactly
from wise_compass.study.watch import what_to_measure


def size_of(made: Run) -> float:
    low, high = made.extent
    return float(np.abs(high - low).max())


def otherwise(one: Step, other: Step) -> bool:
    """Whether a step is done with another instrument or setting, or finds or draws anything elsewhere."""
    if (one.instrument, one.setting()) != (other.instrument, other.setting()):
        return True
    if len(one.spots) != len(other.spots) or len(one.marks) != len(other.marks):
        return True
    gaps = [np.abs(a.here - b.here).max() for a, b in zip(one.spots, other.spots)]
    for a, b in zip(one.marks, other.marks):
        if isinstance(a, ArcMark) and isinstance(b, ArcMark):
            gaps += [np.abs(a.centre - b.centre).max(), np.abs(np.max(a.radius) - np.max(b.radius))]
        elif isinstance(a, LineMark) and isinstance(b, LineMark):
            gaps += [abs(a.u[0] * off[1] - a.u[1] * off[0]) for off in (b.p - a.p, b.p + b.u - a.p)]
        elif type(a) is not type(b):
            return True
    return max(gaps, default=0.0) > 1e-6


class Everywhere(unittest.TestCase):
    def test_every_method_knows_one(self) -> None:
        without = {
            f"{kind.id} {method.id}"
            for kind, method in every_method()
            if not run(fitting(kind, method), method.id).slips
        }
        self.assertEqual(without, set())

    def test_each_leaves_a_mark_and_moves_nothing_that_was_there_before_it(self) -> None:
        told = 0
        for kind, method in every_method():
            made = run(fitting(kind, method), method.id)
            own = {choice.id for choice in made.choices}
            for choice in made.slips:
                if choice.id in own:
                    continue
                wrong = run(made.figure, method.id, slip=choice.id)
                gaps = {
                    name: float(np.abs(np.asarray(wrong.found[name]) - at).max()) for name, at in made.found.items()
                }
                mine, theirs = lined_in(made), lined_in(wrong)
                same = len(mine) == len(theirs) and all(
                    a.shape == b.shape and np.abs(a - b).max() < 1e-4 * size_of(made) for a, b in zip(mine, theirs)
                )
                self.assertFalse(same, f"{kind.id} {method.id} {choice.id}")
                self.assertFalse(all(proof.holds for proof in wrong.proofs), f"{kind.id} {method.id} {choice.id}")
                moved = [
                    made.spots[name].step
                    for name, gap in gaps.items()
                    if name in made.spots and gap > 1e-9 * size_of(made)
                ]
                still = [made.spots[name].step for name, gap in gaps.items() if name in made.spots and gap == 0.0]
                self.assertTrue(
                    not still or not moved or min(still) <= min(moved), f"{kind.id} {method.id} {choice.id}"
                )
                told += 1
        self.assertGreater(told, 250)

    def test_the_step_at_which_a_slip_is_said_to_show_is_the_first_that_is_drawn_otherwise(self) -> None:
        told = 0
        for kind, method in list(every_method())[::4]:
            made = run(fitting(kind, method), method.id)
            for choice, wrong in run_slips(made.figure, method.id, usual=True):
                n, _ = slip_step(made, choice.id)
                if isinstance(wrong, Refused):
                    continue
                pairs = list(zip(made.steps, wrong.steps))[: n or None]
                with self.subTest(f"{kind.id} {method.id} {choice.id}: step {n}"):
                    self.assertEqual([mine.n for mine, theirs in pairs if otherwise(mine, theirs)], [n] if n else [])
                told += bool(n)
        self.assertGreater(told, 60)

    def test_run_slips_tells_them_with_the_methods_own(self) -> None:
        kind = catalogue()["triangle-side-two-angles"]
        ids = [choice.id for choice, _ in run_slips(kind(), "protractor", usual=True)]
        self.assertIn("other-scale", ids)
        self.assertTrue(all(not isinstance(made, Refused) for _, made in run_slips(kind(), "protractor", usual=True)))


class Faulty(Figure):
    """A figure with a fault that only a slip comes to: it looks for the angle that was drawn among those that it
    knows."""

    angle = Angle(35, "the angle")

    def values(self, method: str) -> Iterable[Value]:
        return ()

    def measure(self, found: Found) -> dict[str, Number]:
        return {}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth("A stands where it was put", found["A"])


@entered(Faulty, "by-name")
def faulty(g: Faulty, d: Draft) -> None:
    a = d.start_at("A")
    arm = d.ray(a, g.angle, instrument="Protractor", length=60.0)
    known = {round(g.angle): "B"}
    d.line_in([a, d.on(arm, 60.0, known[round(math.degrees(math.atan2(arm.u[1], arm.u[0])))])])


class Faults(unittest.TestCase):
    def test_a_fault_of_a_figure_is_no_slip_that_leads_nowhere(self) -> None:
        """Only where lines that have to meet do not is a slip left out; a fault comes through wherever slips are
        drawn."""
        made = run(Faulty())
        for asked in (lambda: made.slips, lambda: Judge(made).slips, lambda: run_slips(Faulty(), usual=True)):
            with self.assertRaises(KeyError):
                asked()


class EachOne(unittest.TestCase):
    """What each makes of its move, by its definition."""

    def drawn(self, slip: str, do: Any, hand: Any = None) -> Any:
        draft = Draft(hand, slip)
        return do(draft)

    def test_the_other_scale_of_the_protractor(self) -> None:
        for angle, want in ((35.0, 145.0), (110.0, 70.0), (-35.0, -145.0), (-160.0, -20.0)):
            line = self.drawn(
                "other-scale", lambda d, angle=angle: d.ray(d.start_at("A"), angle, instrument="Protractor")
            )
            self.assertAlmostEqual(math.degrees(math.atan2(line.u[1], line.u[0])), want)
        upright = self.drawn("other-scale", lambda d: d.ray(d.start_at("A"), 90.0, instrument="Protractor"))
        self.assertAlmostEqual(upright.u[1], 1.0)

    def test_the_other_corner_of_the_set_square(self) -> None:
        for angle, want in ((30.0, 60.0), (60.0, 30.0), (150.0, 120.0), (-30.0, -60.0), (-120.0, -150.0), (45.0, 45.0)):
            line = self.drawn("set-square-corner", lambda d, angle=angle: d.ray(d.start_at("A"), angle))
            self.assertAlmostEqual(math.degrees(math.atan2(line.u[1], line.u[0])), want)

    def test_a_diameter_for_a_radius_and_an_opening_that_is_kept(self) -> None:
        circle = self.drawn("diameter-for-radius", lambda d: d.compass(d.start_at("A"), 20.0, "", "half the diameter"))
        self.assertEqual(float(circle.radius), 40.0)

        def two(d: Draft) -> Any:
            a = d.start_at("A")
            return [d.compass(a, 20.0), d.compass(a, 33.0), d.compass(a, 44.0)]

        self.assertEqual([float(one.radius) for one in self.drawn("compass-not-reset", two)], [20.0, 20.0, 44.0])
        # or, by its number, at the second place where it may happen
        self.assertEqual([float(one.radius) for one in self.drawn("compass-not-reset@2", two)], [20.0, 33.0, 33.0])
        self.assertEqual([float(one.radius) for one in self.drawn("", two)], [20.0, 33.0, 44.0])

    def test_marks_counted_for_spaces(self) -> None:
        def cut(d: Draft) -> Any:
            return d.divide(d.start_at("A"), d.plot("B", 60.0, 0.0), 6, how="rule")

        marks = [float(spot.here[0]) for spot in self.drawn("marks-for-spaces", cut)]
        np.testing.assert_allclose(marks[:-1], [0, 12, 24, 36, 48, 60], atol=1e-12)

    def test_the_other_of_two_crossings(self) -> None:
        def meet(d: Draft) -> Any:
            a, b = d.start_at("A"), d.plot("B", 60.0, 0.0)
            return d.meet(d.compass(a, 50.0), d.compass(b, 50.0), "C", "above")

        self.assertAlmostEqual(float(self.drawn("other-crossing", meet).here[1]), -40.0)
        self.assertAlmostEqual(float(self.drawn("", meet).here[1]), 40.0)

    def test_a_centimetre_on_the_rule_is_so_much_more_in_the_field(self) -> None:
        def lay(d: Draft) -> Any:
            a = d.start_at("A")
            return d.lay_off(d.level_from(a), a, 2600.0, "B")

        self.assertAlmostEqual(float(self.drawn("rule-a-centimetre-off", lay).here[0]), 2610.0)
        hands = self.drawn("rule-a-centimetre-off", lay, UnsteadyHands(4, 0, 1 / 50))
        self.assertAlmostEqual(float(hands.at[0, 0]), 3100.0)

    def test_only_the_first_move_of_its_kind_that_is_a_step_of_its_own(self) -> None:
        def many(d: Draft) -> Any:
            a = d.start_at("A")
            with d.as_one("Protractor", "Three rays."):
                inner = d.ray(a, 20.0, instrument="Protractor")
            return [inner, d.ray(a, 40.0, instrument="Protractor"), d.ray(a, 50.0, instrument="Protractor")]

        angles = [math.degrees(math.atan2(line.u[1], line.u[0])) for line in self.drawn("other-scale", many)]
        np.testing.assert_allclose(angles, [20.0, 140.0, 50.0])


class OfOneMethod(unittest.TestCase):
    """What a method's own slip makes of the figure, worked out beside it."""

    def wrong(self, figure: str, method: str, slip: str, **givens: Any) -> Run:
        made = run(catalogue()[figure](**givens), method)
        self.assertIn(slip, [choice.id for choice in made.choices])
        found = run(made.figure, method, slip=slip)
        self.assertTrue(all(np.isfinite(at).all() for at in found.found.values()))
        return found

    def test_a_compass_that_opens_before_the_last_of_four_arcs(self) -> None:
        foot, r = np.array([20.0, 0.0]), 40.0
        found = self.wrong("perpendicular", "four-arcs", "unequal-arcs", length=100, at=20).found
        sixty, twice = (
            foot + r * np.array([math.cos(turn), math.sin(turn)]) for turn in (math.pi / 3, 2 * math.pi / 3)
        )
        self.assertAlmostEqual(math.dist(found["Q"], sixty), r)
        self.assertAlmostEqual(math.dist(found["Q"], twice), 1.1 * r)

    def test_radii_that_differ_by_half_make_another_hyperbola(self) -> None:
        found = self.wrong("hyperbola", "focus-arcs", "half-the-difference", foci=94, vertices=58).found
        for k in range(1, 13):
            radii = [math.dist(found[f"P{k}"], found[focus]) for focus in ("F1", "F2")]
            self.assertAlmostEqual(abs(radii[0] - radii[1]), 29.0)

    def test_chords_for_arcs_make_the_string_short(self) -> None:
        for method in ("divided-circle", "instant-centres"):
            found = self.wrong("involute-circle", method, "chords", diameter=28, turns=1, divisions=12).found
            string = 12 * 28 * math.sin(math.pi / 12)
            self.assertAlmostEqual(math.dist(found["P12"], found["O"]), math.hypot(14, string))

    def test_a_lower_angle_makes_a_spiral_of_a_smaller_ratio(self) -> None:
        made = self.wrong("logarithmic-spiral", "angle", "ten-degrees-off", vector_angle=30, ratio=1.2, turns=1)
        radii = [math.hypot(*made.found[f"P{k}"]) for k in range(13)]
        turn = math.radians(30)
        lean = math.atan2(1.2 * math.sin(turn), 1 - 1.2 * math.cos(turn)) - math.radians(10)
        for one, following in zip(radii, radii[1:]):
            self.assertAlmostEqual(following / one, math.sin(lean) / math.sin(turn + lean))

    def test_a_side_too_many_under_every_arc(self) -> None:
        for figure, method, side in (("arc-volute", "arcs", "C"), ("involute-polygon", "corner-arcs", "")):
            made = self.wrong(figure, method, "one-side-too-many", side=6, turns=1)
            count = made.figure.given_values["centres" if side else "sides"]
            hub = made.found[f"{side}1" if side else "A"]
            self.assertAlmostEqual(math.dist(made.found[f"P{count}"], hub), 6 * (count + 1))

    def test_a_lean_from_the_upright_rises_as_its_complement(self) -> None:
        made = self.wrong("lamina", "three-stages", "lean-from-the-upright", sides=4, side=30, angle_h=20)
        rise = max(made.found[f"{letter}.front"][1] for letter in "ABCD") - made.found["A.front"][1]
        self.assertAlmostEqual(rise, 30 * math.sin(math.radians(70)))


if __name__ == "__main__":
    unittest.main()


class AtFurtherPlaces(unittest.TestCase):
    """A slip of a move is known wherever the move stands, not only where it stands first."""

    def test_a_slip_at_a_further_place_is_named_with_its_step(self) -> None:
        for id in ("tangents-from-point", "perpendicular", "three-circle-tangents"):
            made = run(catalogue()[id]())
            judge = Judge(made)
            proposed = [one.measure for one in what_to_measure(judge).proposed]
            self.assertTrue(judge.elsewhere, id)
            seen = 0
            for there, (_, other) in judge.elsewhere.items():
                with np.errstate(invalid="ignore"):
                    sizes, right = exactly(other, proposed, 1.0), exactly(made, proposed, 1.0)
                if not np.isfinite(sizes).all() or float(np.abs(sizes - right).max()) < 5.0:
                    continue
                verdict = judge.judge([Taken(one, float(size), 0.2) for one, size in zip(proposed, sizes)])
                self.assertEqual(verdict.verdict, "slip", there)
                alike = [
                    one
                    for one in judge.elsewhere
                    if np.allclose(exactly(judge.elsewhere[one][1], proposed, 1.0), sizes, atol=0.5)
                ]
                self.assertIn(verdict.best.id, [*alike, *judge.slips], there)
                seen += 1
                if seen == 3:
                    break
            self.assertTrue(seen, id)

    def test_as_drawn_it_is_the_run_of_that_slip(self) -> None:
        judge = Judge(run(catalogue()["tangents-from-point"]()))
        ((there, (_, other)),) = list(judge.elsewhere.items())[:1]
        drawn = judge.as_drawn(Explanation("slip", there, None, "", 1.0, None, 0, None))
        assert drawn is not None
        for name, spot in other.spots.items():
            self.assertTrue(np.allclose(drawn[name], spot.here), name)
