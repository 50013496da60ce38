"""Springs and threads: what is seen from in front, against plain geometry."""

from __future__ import annotations

import math
import random
import unittest
from functools import partial
from typing import Any

import numpy as np

from tests import coilpicture
from tests.test_plane_figures import solved, value
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.figures.wound.winding import Wound
from wise_compass.geometry.coils import CoilEdge, Winding, visible_pieces
from wise_compass.geometry.vectors import Number
from wise_compass.study.motion import motion_of


def outlines(made: Run) -> list[np.ndarray]:
    """The lines of the elevation as they are drawn."""
    figure = made.figure
    assert isinstance(figure, Wound)
    lines = [mark.polylines(8)[0] for mark in made.marks if isinstance(mark, CurveMark) and mark.role is Role.OUTLINE]
    low = figure.lift - figure.root - 1e-6
    return [line for line in lines if line[:, 0].max() <= figure.widest + 1e-6 and line[:, 1].min() > low]


def walked(line: np.ndarray, pace: float) -> np.ndarray:
    """A polyline by even paces."""
    gone = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    at = np.linspace(0.0, gone[-1], max(int(gone[-1] / pace), 1) + 1)
    return np.stack([np.interp(at, gone, line[:, k]) for k in (0, 1)], axis=-1)


def root_at(winding: Winding, core: float, up: float, turned: Number) -> np.ndarray:
    """A place of the root's helix."""
    return winding.on(core, turned, up)


class Visibility(unittest.TestCase):
    def pictured(self, id: str, pace: float, **givens: Any) -> None:
        """Every line stands at an edge of the body, and every edge where the picture breaks off has its line."""
        made = solved(id, **givens)
        figure = made.figure
        assert isinstance(figure, Wound)
        held = coilpicture.body(figure)
        lines = [walked(line - [0.0, figure.lift], pace) for line in outlines(made)]
        broken = coilpicture.breaks(held, figure.widest, -figure.root, figure.crown, 3 * pace)
        away = np.min(np.hypot(*(broken[:, None] - np.concatenate(lines)[None]).transpose(2, 0, 1)), axis=1)
        self.assertGreater(len(broken), 40)
        self.assertLess(float(away.max()), 0.5, f"{id} {givens}: no line at {broken[away.argmax()].round(1)}")
        inner = [(line[2:-2], line[3:-1] - line[1:-3]) for line in lines if len(line) > 5]
        at, way = (np.concatenate(parts)[::2] for parts in zip(*inner))
        across = np.stack([-way[:, 1], way[:, 0]], axis=-1) / np.hypot(*way.T)[:, None]
        lies = coilpicture.edges_beside(held, figure.widest, at, across, 0.5)
        self.assertTrue(lies.all(), f"{id} {givens}: a line where no edge is, at {at[~lies][:3].round(1).tolist()}")

    def test_threads_are_drawn_where_a_picture_of_them_has_edges(self) -> None:
        self.pictured("screw-thread", 0.3, turns=1.5)
        self.pictured("screw-thread", 0.3, form="vee", core_diameter=30)
        self.pictured("screw-thread", 0.3, form="vee", starts=2, lead=24, turns=1.5)
        chance = random.Random(28)
        for _ in range(4):
            self.pictured(
                "screw-thread",
                0.3,
                outer_diameter=40,
                core_diameter=round(chance.uniform(22, 36), 1),
                lead=round(chance.uniform(10, 30), 1),
                starts=chance.choice((1, 2, 3)),
                turns=chance.choice((1, 1.5, 2)),
                form=chance.choice(("vee", "vee", "square")),
                hand=chance.choice(("left", "right")),
            )

    def test_springs_of_square_wire_likewise(self) -> None:
        self.pictured("coil-spring", 0.3, turns=2, section="square", hand="left")

    def test_springs_of_round_wire_likewise(self) -> None:
        self.pictured("coil-spring", 0.9, turns=1.25)
        self.pictured("coil-spring", 0.9, turns=1, pitch=24)

    def test_steep_springs_likewise(self) -> None:
        self.pictured("coil-spring", 0.9, mean_diameter=24, wire=8, pitch=56, turns=1.5)
        self.pictured("coil-spring", 0.9, turns=1, pitch=50, hand="left", mean_diameter=30, wire=9)

    def test_a_square_thread_hides_its_far_flank_on_one_side(self) -> None:
        """In front of the axis the root is seen only where the crest beside it, at the same place across, lies
        lower."""
        for hand, sign in (("right", 1), ("left", -1)):
            figure = make(catalogue()["screw-thread"], {"turns": 2, "hand": hand})
            assert isinstance(figure, Wound)
            winding = figure.winding
            outer, core, quarter = winding.outer, winding.inner, winding.lead / 4
            for up in (quarter, -quarter):
                seen = []
                for part in np.linspace(12, 168, 27):  # degrees round the front half of the middle turn
                    turned = 360.0 + (180 + part if sign > 0 else part)
                    edge = CoilEdge(partial(root_at, winding, core, up), turned, turned + 1e-3)
                    (pieces,) = visible_pieces(winding, [edge], 1.0)
                    root = winding.on(core, turned, up)
                    across = math.degrees(math.acos(root[0] / outer))
                    bearing = 360 - across  # of the crest in front at the same place across
                    crest = winding.climb * (360.0 + (bearing if sign > 0 else 360 - bearing)) + up
                    hidden = crest > root[2] if up > 0 else crest < root[2]
                    seen.append(bool(pieces))
                    self.assertEqual(bool(pieces), not hidden, f"{hand} {up} at {part}")
                self.assertTrue(any(seen) and not all(seen), "one side is seen and the other is not")

    def test_rear_coils_show_only_between_the_near_ones(self) -> None:
        close = solved("coil-spring", pitch=8, wire=7.9, turns=3)
        open_ = solved("coil-spring", pitch=30, wire=7.9, turns=3)

        def length(made: Run) -> float:
            return sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in outlines(made))

        # two outlines of three turns; seen there and back each is at least two diameters long
        both = 2 * 3 * 2 * 48
        self.assertLess(length(close), 0.8 * both, "of closed coils the rear is hidden")
        self.assertGreater(length(open_), both, "of open ones nearly all is seen")


class Sizes(unittest.TestCase):
    def test_values_of_a_spring(self) -> None:
        made = solved("coil-spring", mean_diameter=50, wire=6, pitch=15, turns=4)
        around = math.pi * 50
        self.assertAlmostEqual(value(made, "lead_angle"), math.degrees(math.atan(15 / around)), places=9)
        self.assertAlmostEqual(value(made, "wire_length"), 4 * math.hypot(around, 15), places=8)
        self.assertAlmostEqual(value(made, "solid_length"), 24, places=9)
        straight = min(
            math.dist((25, 0, 0), (25 * math.cos(t), 25 * math.sin(t), 15 * t / (2 * math.pi)))
            for t in np.linspace(math.pi, 3 * math.pi, 20001)
        )
        self.assertAlmostEqual(value(made, "clearance"), straight - 6, places=6)
        self.assertAlmostEqual(value(solved("coil-spring"), "clearance"), 10.873, places=3)
        self.assertEqual(value(solved("coil-spring", section="square"), "clearance"), 11)
        self.assertAlmostEqual(value(made, "free_length"), 66, places=9)

    def test_outlines_of_round_wire_touch_the_wires_own_circles(self) -> None:
        made = solved("coil-spring")
        for letter in "UL":
            out = made.found.group(letter) - made.found.group("P")
            np.testing.assert_allclose(np.hypot(out[:, 0], out[:, 1]), 3.5, atol=1e-9)

    def test_edges_of_every_form_keep_their_radius_in_space(self) -> None:
        forms: tuple[dict[str, Any], ...] = (
            {"form": "square", "starts": 3, "lead": 30},
            {"form": "vee", "hand": "left"},
        )
        for givens in forms:
            made = solved("screw-thread", outer_diameter=48, core_diameter=36, **givens)
            figure = made.figure
            assert isinstance(figure, Wound)
            k = np.arange(figure.spaces + 1)
            bearing = np.deg2rad(figure.sign * 360.0 * k / figure.divisions)
            for letter, radius, up in figure.helix_lines():
                points = made.found.group(letter)
                np.testing.assert_allclose(points[:, 0], radius * np.cos(bearing), atol=1e-9)
                np.testing.assert_allclose(
                    points[:, 1] - figure.lift, figure.pitch_of * k / figure.divisions + up, atol=1e-9
                )

    def test_lead_angle_at_the_mean_diameter(self) -> None:
        made = solved("screw-thread", outer_diameter=60, core_diameter=40, lead=20, starts=2)
        self.assertAlmostEqual(value(made, "lead_angle"), math.degrees(math.atan(20 / (math.pi * 50))), places=9)
        self.assertAlmostEqual(value(made, "pitch"), 10, places=9)


class Projections(unittest.TestCase):
    def test_the_plan_stands_under_the_elevation_in_first_angle_and_over_it_in_third(self) -> None:
        for id in ("helix", "conical-helix", "coil-spring", "screw-thread"):
            figure = make(catalogue()[id], {"touch": "tangent", "at": 200})
            first, third = (run(figure, None, Conventions(angle)) for angle in ("first", "third"))
            for made in (first, third):
                self.assertTrue(all(proof.holds for proof in made.proofs), id)
            heights = [float(p[1]) for p in first.found.group("P")]
            self.assertLess(float(first.found["O"][1]), min(heights), id)
            self.assertGreater(float(third.found["O"][1]), max(heights), id)
            np.testing.assert_allclose(third.found.group("P"), first.found.group("P"), atol=1e-9, err_msg=id)
            np.testing.assert_allclose(third.found.group("H"), first.found.group("H"), atol=1e-9, err_msg=id)
            motion = motion_of(third)
            assert motion is not None
            middle = float(motion.steps.mean())
            plan, elevation = motion.frame(middle).points
            self.assertAlmostEqual(float(plan[0]), float(elevation[0]), msg="on one projector")
            self.assertGreater(float(plan[1]), max(heights))
