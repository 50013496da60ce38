"""The camera's parts by themselves: lines in ink, crossings, beliefs, papers, and what it is never to fall over."""

from __future__ import annotations

import io
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from tests import examples
from tests.test_camera import HEXAGON
from wise_compass.camera.beliefs import Beliefs
from wise_compass.camera.evidence import inked, lines_seen
from wise_compass.camera.fitting import accounts, drawn_ink, taken_up
from wise_compass.camera.laid import courses_of, laid_of
from wise_compass.camera.pencil import (
    crossing_of,
    drawn_by,
    lines_at,
    marks_of,
    marks_through,
    nearest_on,
    pencilled,
    pieces_of,
    swing_far_enough,
    ticked,
)
from wise_compass.camera.picture import picture_of
from wise_compass.camera.raster import GreySurface
from wise_compass.camera.reading import sides_of
from wise_compass.camera.sketches import sketches_of
from wise_compass.camera.squaring import square_up
from wise_compass.camera.stand_in import Shot, jpeg, photographed
from wise_compass.drafting.marks import ArcMark, CurveMark
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import polar
from wise_compass.practice.problems import Problem, problem_of
from wise_compass.sheet.paper import Paper

FINE = 10.0


def paper(*strokes: tuple[np.ndarray, float, int]) -> GreySurface:
    """A paper of 60 by 40 mm with strokes, each a polyline, a width and a grey."""
    surface = GreySurface(60.0, 40.0, FINE)
    for points, width, grey in strokes:
        surface.stroke(points, width, grey)
    return surface


def straight(at: tuple[float, float], angle: float, half: float = 14.0) -> np.ndarray:
    return np.array([polar(np.array(at), -half, angle), polar(np.array(at), half, angle)])


class Lines(unittest.TestCase):
    @settings(max_examples=examples(30), deadline=None)
    @given(st.floats(-0.9, 0.9), st.floats(0.0, 180.0))
    def test_a_line_is_found_where_it_was_drawn(self, off: float, angle: float) -> None:
        normal = polar(np.zeros(2), 1.0, angle + 90.0)
        ink = inked(paper((straight((30.0, 20.0), angle) + off * normal, 0.25, 110)).pixels, FINE)
        seen = lines_seen(ink, np.array([30.0, 20.0]), polar(np.zeros(2), 1.0, angle), (12.0, 12.0), 1.5)
        self.assertTrue(seen)
        self.assertAlmostEqual(seen[0].off, off, delta=0.04)
        self.assertEqual(seen[0].clear, 1.0)

    def test_a_faint_line_beside_a_heavy_one_is_told_from_it(self) -> None:
        ink = inked(
            paper((straight((30.0, 20.8), 0.0), 0.45, 50), (straight((30.0, 20.0), 0.0), 0.22, 128)).pixels, FINE
        )
        at, way = np.array([30.0, 20.2]), np.array([1.0, 0.0])
        heavy = lines_seen(ink, at, way, (12.0, 12.0), 1.5, heavy=True)
        self.assertAlmostEqual(heavy[0].off, 0.6, delta=0.05)
        offs = [one.off for one in lines_seen(ink, at, way, (12.0, 12.0), 1.5)]
        self.assertTrue(any(abs(off + 0.2) < 0.06 for off in offs), offs)

    def test_a_curve_is_followed_by_its_bend(self) -> None:
        circle = polar(np.array([30.0, 2.0]), 18.3, np.linspace(30.0, 150.0, 200))
        ink = inked(paper((circle, 0.25, 110)).pixels, FINE)
        seen = lines_seen(ink, np.array([30.0, 20.0]), np.array([-1.0, 0.0]), (9.0, 9.0), 1.5, bent=1 / 18.0)
        self.assertAlmostEqual(seen[0].off, -0.3, delta=0.05)

    def test_where_there_is_no_line_none_is_found(self) -> None:
        ink = inked(paper((straight((30.0, 20.0), 90.0), 0.25, 110)).pixels, FINE)
        self.assertEqual(lines_seen(ink, np.array([30.0, 20.0]), np.array([1.0, 0.0]), (12.0, 12.0), 1.0), [])
        self.assertEqual(lines_seen(ink, np.array([12.0, 8.0]), np.array([1.0, 0.0]), (12.0, 12.0), 1.0), [])

    def test_a_crossing_leaves_out_the_line_that_misses_it(self) -> None:
        ways = [polar(np.zeros(2), 1.0, angle) for angle in (0.0, 90.0, 45.0, 20.0)]
        places = [np.array([3.0, 5.0])] * 3 + [np.array([3.0, 6.5])]
        found = crossing_of(places, ways, [1.0] * 4, 0.2)
        assert found is not None
        np.testing.assert_allclose(found[0], [3.0, 5.0], atol=1e-9)
        self.assertEqual(found[1], [0, 1, 2])
        self.assertIsNone(crossing_of(places[:2], [ways[0], polar(np.zeros(2), 1.0, 5.0)], [1.0, 1.0], 0.2))


class Drawings(unittest.TestCase):
    def setUp(self) -> None:
        self.laid = laid_of(HEXAGON)

    def test_a_corner_parts_an_outline_and_each_side_is_a_line_of_its_own(self) -> None:
        mark = next(mark for mark in self.laid.run.marks if isinstance(mark, CurveMark) and len(mark.points) > 2)
        self.assertEqual(len(pieces_of(mark, 0, 1.0)), 6)
        through = marks_through(self.laid.run, 1.0)
        ticks = ticked(self.laid.run, 1.0, through)
        ways = [
            one.way for one in lines_at(self.laid.run, "D", through["D"], ticks.get("D", ()), 1.0) if one.weight > 2
        ]
        self.assertEqual(len(ways), 2)
        self.assertAlmostEqual(abs(float(ways[0] @ ways[1])), 0.5, 6)

    def test_courses_are_as_fine_as_their_scale_asks(self) -> None:
        for mark in self.laid.run.marks:
            for line in courses_of(mark, 0, 1.0):
                self.assertTrue(np.isfinite(line).all())
                self.assertEqual(line.shape[1], 2)

    def test_a_setting_far_off_moves_what_hangs_on_it_and_nothing_before(self) -> None:
        rule = next(step.n for step in self.laid.run.steps if step.instrument == "Rule")
        honest, lane = drawn_by(self.laid, 3)
        wrong, other = drawn_by(self.laid, 3, off=(rule, 15.0))
        for name, spot in honest.spots.items():
            was = spot.at if spot.at.ndim == 1 else spot.at[lane]
            at = wrong.spots[name].at
            moved = float(np.hypot(*((at if at.ndim == 1 else at[other]) - was)))
            if spot.step < rule:
                self.assertLess(moved, 1e-9, name)
        far = wrong.spots["D"].at[other] - honest.spots["D"].at[lane]
        self.assertGreater(float(np.hypot(*far)), 1.0)
        for step, deviations in ((99, 5.0), (1, 5.0)):
            with self.assertRaises(Refused):
                drawn_by(self.laid, 3, off=(step, deviations))
        with self.assertRaises(Refused):
            drawn_by(self.laid, 3, slip="sleepy")

    def test_the_drawing_that_was_made_lies_best_on_its_ink(self) -> None:
        for slip in (None, self.laid.run.slips[0].id):
            drawn = pencilled(self.laid, 2, slip)
            small = drawn.surface.pixels[::2, ::2]
            sketches = sketches_of(inked(small, 8.0), self.laid, lambda done, whole: None)
            best = max(sketches, key=lambda one: one.lies)
            self.assertEqual(best.slip, slip)
            self.assertGreater(best.lies, 0.9)

    def test_what_is_found_narrows_what_is_believed_of_the_rest(self) -> None:
        beliefs = Beliefs(self.laid, None, self.laid.run)
        b, c = beliefs.names.index("B"), beliefs.names.index("C")
        _, before = beliefs.place(c)
        where, _ = beliefs.place(b)
        beliefs.learn(b, where + np.array([0.2, 0.0]), 0.02)
        moved, after = beliefs.place(c)
        self.assertLess(np.trace(after), np.trace(before))
        self.assertGreater(float((moved - beliefs.exact[c])[0]), 0.02)
        again, spread = beliefs.place(b)
        np.testing.assert_allclose(again, where + np.array([0.2, 0.0]), atol=0.05)
        self.assertLess(float(np.sqrt(spread[0, 0])), 0.08)

    def test_what_all_others_tell_of_a_point_is_as_if_it_had_not_been_found(self) -> None:
        beliefs = Beliefs(self.laid, None, self.laid.run)
        b, c = beliefs.names.index("B"), beliefs.names.index("C")
        beliefs.learn(c, beliefs.exact[c] + np.array([0.1, -0.2]), 0.05)
        before = beliefs.place(b)
        at = before[0] + np.array([0.3, 0.1])
        beliefs.learn(b, at, 0.08)
        for one, other in zip(beliefs.without(b, at, 0.08), before):
            np.testing.assert_allclose(one, other, atol=1e-9)

    def test_of_two_drawings_that_lie_on_ink_the_one_that_takes_it_up_accounts_for_it(self) -> None:
        """A drawing that has shrunk onto lines which are there anyway lies on ink, but leaves its outline
        unexplained."""
        ink = inked(pencilled(self.laid, 2).surface.pixels[::2, ::2], 8.0)
        there = drawn_ink(ink, self.laid)
        honest = next(
            one for one in sketches_of(ink, self.laid, lambda done, whole: None) if one.slip is None and one.off is None
        )
        whole = accounts(ink, there, self.laid, honest, Beliefs(self.laid, None, self.laid.run))
        self.assertGreater(whole, 1.8)
        bare = inked(np.full_like(self.laid_pixels(), 230), 8.0)
        self.assertEqual(float(drawn_ink(bare, self.laid).sum()), 0.0)
        lines = [line for mark in marks_of(self.laid.run) for line in courses_of(mark, 0, self.laid.scale)]
        shares = [taken_up(ink, there, self.laid, lines[:count]) for count in (1, len(lines) // 2, len(lines))]
        self.assertEqual(shares, sorted(shares))
        self.assertGreater(shares[-1], 0.9)
        self.assertLess(shares[0], 0.5)

    def laid_pixels(self) -> np.ndarray:
        return np.asarray(pencilled(self.laid, 2).surface.pixels[::2, ::2])

    def test_a_short_arc_is_drawn_as_far_as_its_hand_found_something_on_it(self) -> None:
        laid = laid_of(Problem("cycloid", "instant-centres", {"diameter": 60.0, "turns": 1.0, "divisions": 12}))
        settings = [step.n for step in laid.run.steps if any(not one.words for one in step.settings)]
        for step in settings[:4]:
            draft, lane = drawn_by(laid, 1, None, (step, 16.0))
            through = marks_through(draft, laid.scale)
            swing_far_enough(draft, lane, through)
            marks = marks_of(draft)
            for name, one in through.items():
                at = draft.spots[name].at
                for mark in (marks[k] for k in one.finding):
                    if isinstance(mark, ArcMark) and at.ndim > 1:
                        near = min(float(nearest_on(line, at[lane])[0]) for line in courses_of(mark, lane, laid.scale))
                        self.assertLess(near * laid.scale, 0.5, name)

    def test_a_blunder_that_is_learned_carries_the_others_along(self) -> None:
        beliefs = Beliefs(self.laid, None, self.laid.run)
        b, d = beliefs.names.index("B"), beliefs.names.index("D")
        error = max(beliefs.settings_of(b), key=lambda e: abs(float(beliefs.move[e, b, 0])))
        off = 14.0 * beliefs.move[error, b]
        beliefs.learn(b, beliefs.exact[b] + off, 0.05, error)
        moved = beliefs.place(d)[0] - beliefs.exact[d]
        expected = 14.0 * beliefs.move[error, d]
        np.testing.assert_allclose(moved, expected, atol=0.35 * float(np.hypot(*expected)) + 0.1)


class Papers(unittest.TestCase):
    def test_each_paper_is_known_by_what_is_printed_on_it(self) -> None:
        for size, lie in (("A4", "portrait"), ("A3", "landscape")):
            problem = Problem("square-on-side", "set-square", {"side": 71.0}, size, 1.0, lie)
            drawn = pencilled(laid_of(problem), 1)
            squared = square_up(picture_of(jpeg(photographed(drawn, Shot(8.0, (6.0, 5.0), 3.0, 2)))))
            self.assertEqual(squared.paper, Paper(size, lie))
            self.assertLess(squared.off, 0.15)

    def test_sides_are_read_or_refused_by_name(self) -> None:
        self.assertEqual(sides_of("250x180"), (250.0, 180.0))
        self.assertEqual(sides_of("250 × 180.5"), (250.0, 180.5))
        self.assertEqual(sides_of("a4"), (297.0, 210.0))
        self.assertIsNone(sides_of(""))
        for words in ("250", "250x", "axb", "5x5", "250x180x3", "nanx180"):
            with self.assertRaises(Refused) as caught:
                sides_of(words)
            self.assertEqual(caught.exception.given, "frame")


class Hostile(unittest.TestCase):
    @settings(max_examples=examples(60), deadline=None)
    @given(st.binary(max_size=400), st.integers(0, 3), st.data())
    def test_no_bytes_bring_anything_but_a_picture_or_one_line(
        self, noise: bytes, kind: int, data: st.DataObject
    ) -> None:
        out = io.BytesIO()
        Image.new("L", (640, 500), 200).save(out, ("PNG", "JPEG")[kind % 2])
        whole = out.getvalue()
        cut = data.draw(st.integers(0, len(whole)))
        content = (noise, whole[:cut], whole[:cut] + noise, whole[:cut] + noise + whole[cut:])[kind]
        try:
            self.assertEqual(picture_of(content).ndim, 2)
        except Refused as refusal:
            self.assertNotIn("\n", refusal.says)

    @settings(max_examples=examples(150), deadline=None)
    @given(
        st.text("WC1/POLYGON-SIDE:*.0123456789A4é\n", max_size=60) | st.just(HEXAGON.code),
        st.integers(0, 60),
        st.text(max_size=3),
    )
    def test_no_code_brings_anything_but_a_problem_or_one_line(self, words: str, at: int, more: str) -> None:
        for code in (words, HEXAGON.code[:at] + more + HEXAGON.code[at:]):
            try:
                problem_of(code).made()
            except Refused as refusal:
                self.assertNotIn("\n", refusal.says)


if __name__ == "__main__":
    unittest.main()
