"""Springs and threads: what is seen from in front, against plain geometry."""

from __future__ import annotations

import math
import unittest
from functools import partial
from typing import Any

import numpy as np

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
    lift = made.figure.lift  # type: ignore[attr-defined]
    lines = [mark.polylines(8)[0] for mark in made.marks if isinstance(mark, CurveMark) and mark.role is Role.OUTLINE]
    widest = made.figure.widest  # type: ignore[attr-defined]
    return [line for line in lines if line[:, 0].max() <= widest + 1e-6 and line[:, 1].min() > lift - 60]


def depth_picture(figure: Wound, columns: int, rows: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """How near the solid comes to the eye behind each place of the elevation, by asking everywhere; −inf where it is
    empty."""
    winding = figure.winding
    low = -figure.winding.lead / winding.starts
    x = np.linspace(-winding.outer, winding.outer, columns)
    z = np.linspace(low, figure.rise - low, rows)
    depth = np.linspace(-winding.outer, winding.outer, 161)
    grid = np.stack(np.meshgrid(x, depth, z, indexing="ij"), axis=-1)
    held = winding.inside(grid)
    near = np.where(held, depth[None, :, None], -np.inf).max(axis=1)
    return x, z, near


def root_at(winding: Winding, core: float, up: float, turned: Number) -> np.ndarray:
    """A place of the root's helix."""
    return winding.on(core, turned, up)


class Visibility(unittest.TestCase):
    def test_what_is_drawn_is_where_the_picture_has_an_edge(self) -> None:
        """A visible line of the outside parts solid from air, or one depth from another, close beside it."""
        for id, givens in (
            ("coil-spring", {"turns": 2}),
            ("coil-spring", {"turns": 2, "section": "square", "hand": "left"}),
            ("screw-thread", {"turns": 1.5}),
            ("screw-thread", {"turns": 1.5, "form": "vee", "starts": 2, "lead": 24}),
        ):
            made = solved(id, **givens)
            figure = made.figure
            assert isinstance(figure, Wound)
            x, z, near = depth_picture(figure, 121, 161)
            flat = np.where(np.isfinite(near), near, -2 * figure.winding.outer)
            step = max(float(x[1] - x[0]), float(z[1] - z[0]))
            lone = 0
            lines = outlines(made)
            points = np.concatenate(lines)
            for px, py in points:
                i, j = int(np.argmin(np.abs(x - px))), int(np.argmin(np.abs(z - (py - figure.lift))))
                patch = flat[max(i - 2, 0) : i + 3, max(j - 2, 0) : j + 3]
                slope = np.ptp(patch)
                border = px <= x[1] or px >= x[-2]
                lone += not (border or slope > 1.2 * step)
            self.assertLess(lone, 0.2 * len(points), f"{id} {givens}: lines where nothing ends")

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
