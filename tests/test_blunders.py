"""A setting far off, however far; numbers misread; what nobody measured; hands less steady than assumed; and an outline
that leaves its points."""

from __future__ import annotations

import io
import unittest
from contextlib import redirect_stderr
from unittest import mock

import numpy as np
from bench.apart.__main__ import main as of_another_make
from bench.apart.hand import Hand
from bench.apart.photographs import errors_of as errors_of_points
from bench.apart.photographs import photographed as of_another_camera

import wise_compass.camera.pencil as pencil
from tests.test_camera import SHOT
from wise_compass.camera.judging import judged
from wise_compass.camera.laid import courses_of, laid_of
from wise_compass.camera.outline import strays_of
from wise_compass.camera.pencil import marks_of, pencilled
from wise_compass.camera.picture import picture_of
from wise_compass.camera.reading import Reading, read_pixels
from wise_compass.camera.stand_in import jpeg, photographed
from wise_compass.desk.parts.theme import application
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import make
from wise_compass.drafting.instruments import ErringHands, errors_of
from wise_compass.drafting.marks import CurveMark, Role, Row
from wise_compass.drafting.run import lanes_of, run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.practice.marking import PARTLY, marked_of
from wise_compass.practice.problems import Problem
from wise_compass.study.blunders import SETTINGS
from wise_compass.study.judge import Judge
from wise_compass.study.looked import results
from wise_compass.study.measures import Measurable, Taken, exactly, read_measured
from wise_compass.study.pushes import Metric
from wise_compass.study.verdicts import check, headline, sentence
from wise_compass.study.watch import what_to_measure

ELLIPSE = Problem("ellipse", "two-circles", {"long": 150.0, "wide": 90.0, "divisions": 12})


def gable() -> Judge:
    return Judge(run(make(figure_named("triangle-three-sides"), {"ab": 96, "bc": 70, "ca": 63}), "arcs"))


def words(judge: Judge, text: str) -> tuple[str, str]:
    checked = check(judge, read_measured(judge.run, text))
    return PLAIN.lettered(headline(checked)), PLAIN.say(sentence(checked))


class FarOff(unittest.TestCase):
    def test_the_evidence_along_a_chord_is_its_integral(self) -> None:
        """Held against the sum over many places of the chord."""
        random = np.random.default_rng(4)
        for _ in range(12):
            root = random.normal(size=(3, 3))
            metric = Metric(root @ root.T + 0.3 * np.eye(3))
            off, chord, bent = random.normal(size=3) * 2, random.normal(size=3) * 3, random.normal(size=3) * 0.4
            log, at, _ = metric.along(off[None], chord[None], bent[None])
            share = (np.arange(20000) + 0.5) / 20000
            cover = root @ root.T + 0.3 * np.eye(3) + np.outer(bent, bent)
            places = off - share[:, None] * chord
            logs = -0.5 * (
                np.einsum("ij,ij->i", places, np.linalg.solve(cover, places.T).T)
                + np.linalg.slogdet(cover)[1]
                + 3 * np.log(2 * np.pi)
            )
            self.assertAlmostEqual(float(log[0]), float(np.log(np.exp(logs).mean())), 6)
            self.assertAlmostEqual(float(at[0]), float(share[np.argmax(logs)]), 3)

    def test_a_blunder_of_any_size_is_its_own_step(self) -> None:
        """Over figures of all kinds: from twice what a hand strays to the double of the setting."""
        random = np.random.default_rng(11)
        right, seen = 0, 0
        for id in ("ellipse", "parabola", "reverse-curve", "rhombus", "frustum", "skew-lines", "true-shape", "fillet"):
            made = run(figure_named(id)())
            judge = Judge(made)
            measures = [one.measure for one in what_to_measure(judge).proposed]
            sds = np.array([0.2 if one.unit == "mm" else 0.4 for one in measures])
            honest = judge.honest(measures, sds)
            settings = [one for one in judge.strays[1] if one.tolerance in SETTINGS]
            for off in (3.0, 8.0, 15.0, 30.0):
                error = settings[int(random.integers(len(settings)))]
                by = off * float(random.choice([-1, 1]))
                made_by = lanes_of(made.figure, made.method.id, 1, 7, made.conventions, 1.0).made
                hand = ErringHands(2, {**errors_of(made_by), error.number: (0.0, by)})
                sizes = judge.table_of(
                    lanes_of(made.figure, made.method.id, 1, 0, made.conventions, 1.0, None, hand), measures
                )[1]
                if not np.isfinite(sizes).all() or sizes.min() < 0.5:
                    continue
                out = sizes - honest.mean
                if out @ np.linalg.solve(honest.cover, out) < 64.0:
                    continue
                seen += 1
                verdict = judge.judge([Taken(one, float(x), sd) for one, x, sd in zip(measures, sizes, sds)])
                right += error.step in verdict.alike or verdict.verdict == "slip"
        self.assertGreater(seen, 10)
        self.assertGreaterEqual(right / seen, 0.9)

    def test_a_number_misread_is_told_with_its_step_and_length(self) -> None:
        for text, step, says in (
            ("CA=53 AB=96 BC=70", 4, "stood at 53 mm, not 63 mm: 10 mm too short (a centimetre short on the rule)"),
            ("CA=63 AB=69 BC=70", 3, "69 mm, not 96 mm: 27 mm too short (two digits exchanged off the rule)"),
            ("CA=63 AB=96 BC=96", 5, "96 mm, not 70 mm: 26 mm too far (the number of step 3)"),
            ("CA=63 AB=96 BC=140", 5, "140 mm, not 70 mm: 70 mm too far (the double of the number)"),
        ):
            title, told = words(gable(), text)
            self.assertEqual(title, f"A step to blame: step {step}", text)
            self.assertIn(says, told)

    def test_as_many_digits_are_told_as_are_sure(self) -> None:
        _, told = words(gable(), "CA=60.83 AB=96.07 BC=70.11")
        self.assertIn("near 60.8 mm, not 63 mm: 2.2 mm too short", told)

    def test_a_setting_and_a_print_that_leave_the_same_mark_are_both_named_and_the_bar_is_asked_for(self) -> None:
        judge = Judge(run(make(figure_named("square-on-side"), {"side": 60.0})))
        ratio = 1.03
        taken = [
            Taken(one.measure, ratio * one.exact if one.measure.unit == "mm" else one.exact, 0.2)
            for one in what_to_measure(judge).proposed
        ]
        checked = check(judge, taken)
        self.assertTrue(checked.verdict.print_first, checked.verdict)
        self.assertRegex(headline(checked), "The print’s scale, or step [0-9]")
        self.assertIn("bar of 100 mm", sentence(checked))
        assert checked.next is not None
        self.assertIn("bar of 100 mm", checked.next.says)


class OfAnotherMake(unittest.TestCase):
    def test_hands_that_share_no_code_with_ours_are_judged_as_well(self) -> None:
        """Constructions written anew from the printed steps, with heavy tails, a T-square out, and other steadiness."""
        with redirect_stderr(io.StringIO()):
            tally = of_another_make(8)

        def share(kind: str, *right: str) -> float:
            whole = {name: n for name, n in tally.items() if name.startswith(kind) and "unseen" not in name}
            self.assertGreater(sum(whole.values()), 25, kind)
            return sum(n for name, n in whole.items() if name in right) / sum(whole.values())

        self.assertGreaterEqual(share("honest", "honest honest"), 0.98)
        self.assertGreaterEqual(share("off", "off, right", "off, a slip"), 0.88)
        self.assertGreaterEqual(share("misread", "misread, right", "misread, a slip"), 0.88)

    def test_their_photographs_are_read_as_well(self) -> None:
        """By a renderer that shares nothing with the stand-in for the camera; one of them with a radius 9 mm off."""
        application()
        for figure, method, wrong in (
            ("fillet", "swung-arcs", None),
            ("bisect-angle", "equal-arcs", None),  # its arms are lined in as far as that hand likes
            ("polygon-in-circle", "protractor", (0, lambda size: size - 9.0)),
        ):
            hand = Hand(41, wrong)
            made = of_another_camera(figure, method, hand)
            reading = read_pixels(picture_of(made.content))
            checked = judged(reading)
            self.assertEqual(reading.finding.missing, (), figure)
            self.assertLess(max(errors_of_points(reading, made).values()), 0.5, figure)
            self.assertEqual(checked.kind, "honest" if wrong is None else "step", figure)
            if wrong is not None:
                self.assertIn(hand.readings[0], checked.verdict.alike)


class AtOnePlace(unittest.TestCase):
    def test_a_slip_of_the_figure_s_own_is_named_where_it_was_made_alone(self) -> None:
        """Of points measured from the centre only one lies off: where the level line came from the wrong circle."""
        made = run(figure_named("ellipse")(), "two-circles")
        judge = Judge(made)
        for place in ("P2", "P8"):
            slipped = run(made.figure, "two-circles", made.conventions, f"circles-exchanged@{place}")
            off = [name for name in made.spots if np.hypot(*(slipped.spots[name].here - made.spots[name].here)) > 1e-6]
            self.assertEqual([name for name in off if name.startswith("P")], [place])
            measures = [one.measure for one in what_to_measure(judge).proposed]
            measures += [Measurable(f"{place}-{name}", "mm", (place, name)) for name in ("P0", "P6")]
            sizes = exactly(slipped, measures, 1.0)
            checked = check(judge, [Taken(one, float(size), 0.2) for one, size in zip(measures, sizes)])
            self.assertEqual(checked.verdict.best.id, f"circles-exchanged@{place}")
            self.assertIn(f"at {place} alone", PLAIN.say(sentence(checked)))


class Looked(unittest.TestCase):
    def test_what_nobody_measured_is_said_and_is_not_good(self) -> None:
        judge = gable()
        checked = check(judge, read_measured(judge.run, "AB=96.1"))
        self.assertEqual((checked.good, checked.unmeasured), (("A", "B"), ("C",)))
        self.assertEqual(headline(checked), "An honest drawing where it was measured")
        self.assertIn("Not measured: C.", sentence(checked))
        self.assertNotIn("All of it", sentence(checked))
        self.assertRegex(sentence(checked), "would show a blunder at step 2, 4 or 5")
        whole = check(judge, read_measured(judge.run, "AB=96.1 BC=70 CA=63"))
        self.assertEqual((headline(whole), whole.unmeasured), ("An honest drawing", ()))

    def test_measures_that_are_proposed_reach_the_result(self) -> None:
        touched = asked = 0
        for kind in catalogue().values():
            made = run(kind())
            judge = Judge(made)
            named = {name for one in what_to_measure(judge).proposed for name in one.measure.points}
            asked += min(len(results(made)), 12)
            touched += min(len(named & set(results(made))), 12)
            if results(made) and any(made.spots[name].kind == "found" for name in results(made)):
                self.assertTrue(named & set(results(made)), kind.id)
        self.assertGreater(touched / asked, 0.7)

    def test_of_hands_as_assumed_one_in_twenty_is_loose_however_much_is_measured(self) -> None:
        judge = Judge(run(figure_named("ellipse")()))
        measures = [one.measure for one in what_to_measure(judge).proposed]
        honest = judge.honest(measures, np.full(len(measures), 0.2))
        random = np.random.default_rng(3)
        drawn = random.multivariate_normal(honest.mean, honest.cover, 400)
        loose = 0
        for row in drawn:
            held = judge._held([Taken(one, float(x), 0.2) for one, x in zip(measures, row)], honest, honest.mean)
            loose += min(one.among for one in held) < 0.05
        self.assertTrue(0.02 <= loose / len(drawn) <= 0.085, loose / len(drawn))

    def test_a_hand_half_as_steady_again_is_loose_and_not_blamed(self) -> None:
        blamed = drawn = 0
        random = np.random.default_rng(8)
        for id in ("polygon-in-circle", "ellipse", "true-shape", "trapezium", "spiral-log", "reverse-curve"):
            if id not in catalogue():
                continue
            made = run(figure_named(id)())
            judge = Judge(made)
            measures = [one.measure for one in what_to_measure(judge).proposed]
            made_by = lanes_of(made.figure, made.method.id, 12, 5, made.conventions, 1.0).made
            hand = ErringHands(13, {number: 1.5 * by for number, by in errors_of(made_by).items()})
            lanes = lanes_of(made.figure, made.method.id, 1, 0, made.conventions, 1.0, None, hand)
            for row in judge.table_of(lanes, measures)[1:]:
                drawn += 1
                taken = [Taken(one, float(random.normal(x, 0.2)), 0.2) for one, x in zip(measures, row)]
                blamed += judge.judge(taken).verdict != "honest"
        self.assertGreater(drawn, 50)
        self.assertLessEqual(blamed / drawn, 0.04)


def photographed_with(problem: Problem, change: object = None, stroke: object = None) -> Reading:
    """A photograph of a drawing whose outline a hand has joined up otherwise."""
    laid, drawn_by = laid_of(problem), pencil.drawn_by

    def changed(*asked: object, **more: object) -> tuple[Draft, int]:
        draft, lane = drawn_by(*asked, **more)  # type: ignore[arg-type]
        if change is not None:
            change(draft)  # type: ignore[operator]
        return draft, lane

    with mock.patch.object(pencil, "drawn_by", changed):
        penned = pencilled(laid, 2)
    if stroke is not None:
        stroke(penned, laid)  # type: ignore[operator]
    return read_pixels(picture_of(jpeg(photographed(penned, SHOT))))


class Outline(unittest.TestCase):
    def test_an_outline_drawn_as_it_should_be_is_left_alone(self) -> None:
        reading = photographed_with(ELLIPSE)
        self.assertEqual(strays_of(reading), [])
        self.assertEqual(judged(reading).kind, "honest")

    def test_points_joined_in_the_wrong_order_are_seen_and_told(self) -> None:
        def knot(draft: Draft) -> None:
            for mark in marks_of(draft):
                if mark.role is Role.OUTLINE and isinstance(mark, CurveMark):
                    points = list(mark.row.points)
                    points[2], points[6] = points[6], points[2]
                    mark.row = Row(points, mark.row.closed)

        checked = judged(photographed_with(ELLIPSE, knot))
        self.assertEqual(checked.kind, "outline")
        self.assertIn("the outline is not", headline(checked))
        self.assertRegex(PLAIN.say(sentence(checked)), r"the line leaves the outline by up to [0-9.]+ mm")

    def test_an_outline_drawn_twice_is_told_with_how_far_apart(self) -> None:
        def again(penned: pencil.Penned, laid: object) -> None:
            for mark in laid.run.marks:  # type: ignore[attr-defined]
                if mark.role is Role.OUTLINE:
                    for line in courses_of(mark, 0, 1.0):
                        middle = line.mean(axis=0)
                        away = (line - middle) / np.hypot(*(line - middle).T)[:, None]
                        penned.surface.stroke(laid.on_paper(line + 2.0 * away), 0.45, 55)  # type: ignore[attr-defined]

        (stray,) = [one for one in strays_of(photographed_with(ELLIPSE, None, again)) if one.kind == "twice"]
        self.assertTrue(1.4 <= stray.by <= 2.6, stray.by)

    def test_a_result_point_that_is_not_found_is_never_honest(self) -> None:
        reading = photographed_with(ELLIPSE)
        lost = reading.left_out("P4")
        checked = judged(lost)
        self.assertEqual((checked.kind, checked.missing), ("partly", ("P4",)))
        self.assertEqual(headline(checked), "Not judged at P4")
        self.assertEqual(marked_of(checked).mark, PARTLY)
        self.assertNotIn("P4", checked.good)


if __name__ == "__main__":
    unittest.main()
