"""Solids that meet, by means that share nothing with how they are drawn: places inside by definition, level slices,
rays to the eye, and what is told at the border between one kind of meeting and another."""

from __future__ import annotations

import re
import unittest
from collections.abc import Iterator
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import Sliced
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.figures.catalogue import figure_named
from wise_compass.figures.meetings.meeting import SolidsThatMeet

PAIRS = ("meeting-prisms", "prism-and-cylinder", "pyramid-and-prism", "cone-and-cylinder", "sphere-and-cylinder")
DRAWN: tuple[tuple[str, dict[str, Any]], ...] = (
    (
        "meeting-prisms",
        {"offset": 9, "slope": 17, "turn": 8, "branch_turn": 21, "height": 150, "level": 72, "reach": 88},
    ),
    ("meeting-prisms", {"offset": 26, "branch_side": 44, "reach": 95}),
    (
        "prism-and-cylinder",
        {"main": "cylinder", "diameter": 70, "side": 22, "slope": 23, "reach": 88, "enters": "right"},
    ),
    ("prism-and-cylinder", {"diameter": 74, "side": 20, "slope": 12, "reach": 90, "turn": 11}),
    ("pyramid-and-prism", {"slope": 16, "offset": 5, "branch_sides": 3, "branch_turn": 33, "reach": 88, "level": 52}),
    ("cone-and-cylinder", {"offset": 4, "slope": 21, "enters": "right", "reach": 96}),
    ("sphere-and-cylinder", {"aside": 33, "offset": 9}),
)
SIGHT = {"front": np.array([0.0, 1.0, 0.0]), "top": np.array([0.0, 0.0, 1.0])}


def pair(id: str, **given: Any) -> SolidsThatMeet:
    made = make(figure_named(id), given)
    assert isinstance(made, SolidsThatMeet)
    return made


def held(g: SolidsThatMeet, at: np.ndarray, spare: float) -> tuple[np.ndarray, np.ndarray]:
    """Which places lie in the main and which in the branch, by more than ``spare``, as both are defined."""
    if g.main_solid.ball:
        main = np.linalg.norm(at, axis=-1) < g.main_solid.radius - spare
    else:
        shrunk = 1 - at[..., 2] / g.tall if g.main_solid.apex else np.ones(at.shape[:-1])
        main = g.main_section.off(at[..., 0], -at[..., 1], shrunk) < -spare
        main &= (at[..., 2] > spare) & (at[..., 2] < g.tall - spare)
    off, lean = at - g.on_axis, np.deg2rad(g.rises)
    u = off[..., 0] * np.sin(lean) - off[..., 2] * np.cos(lean)
    along = off[..., 0] * np.cos(lean) + off[..., 2] * np.sin(lean)
    branch = (g.branch_section.off(u, off[..., 1]) < -spare) & (along < g.reach - spare)
    return main, branch & ((along > 0.0) if g.right_only else (along > -g.reach + spare))


class Measured(unittest.TestCase):
    def test_what_both_hold_is_what_level_slices_hold(self) -> None:
        for id in PAIRS[:3] + PAIRS[4:]:
            g = pair(id)
            told = {value.name: value.value for value in g.values("")}["common_volume"]
            low, high = (-g.main_solid.radius, g.main_solid.radius) if g.main_solid.ball else (0.0, g.tall)
            wide = g.main_reach
            axes = [np.linspace(a, b, 161)[:-1] + (b - a) / 320 for a, b in ((-wide, wide), (-wide, wide), (low, high))]
            grid = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1)
            main, branch = held(g, grid, 0.0)
            cell = float(np.prod([axis[1] - axis[0] for axis in axes]))
            self.assertLess(abs(float((main & branch).sum()) * cell / float(told) - 1), 0.01, id)  # type: ignore[arg-type]

    def test_the_line_is_where_a_step_along_the_branch_leaves_the_main(self) -> None:
        for id, given in DRAWN:
            g = pair(id, **given)
            for name, one in g.named.items():
                if g.touches(one):
                    continue
                way = 1.0 if one.side == "R" else -1.0
                steps = one.at + np.array([[-1e-4], [1e-4]]) * way * g.branch.axis
                inside, outside = held(g, steps, 0.0)[0]
                self.assertTrue(inside or one.foot is not None, f"{id} {name}")  # along an edge it may graze
                self.assertFalse(outside, f"{id} {name}")

    def test_the_highest_and_the_lowest_are_so_wherever_round_the_branch_they_are(self) -> None:
        for offset in (0.12, -0.12, *np.linspace(-9.0, 9.0, 37)):
            g = pair(PAIRS[4], offset=float(offset), aside=-22.7, enters="top")
            w = np.linspace(0.0, 360.0, 72001)
            high = g.meeting.at(w, "R")[:, 2]
            top, bottom = (float(one.at[2]) for one in g.meeting.extremes)
            self.assertLess(abs(top - high.max()), 1e-7, f"{offset}")
            self.assertLess(abs(bottom - high.min()), 1e-7, f"{offset}")
            heights = [float(one.at[2]) for one in g.named.values()]
            self.assertLess(
                max(abs(max(heights) - top), abs(min(heights) - bottom)), 1e-9, f"a hand finds it: {offset}"
            )

    def test_a_branch_that_ends_inside_is_refused_wherever_the_main_comes_up_to(self) -> None:
        """The line alone does not tell: a pole or an apex that the branch holds reaches further."""
        inside: tuple[tuple[str, dict[str, Any], float], ...] = (
            (PAIRS[4], {"aside": 0, "offset": 0, "enters": "top"}, 46.0),
            (PAIRS[2], {"slope": 90, "level": 0, "enters": "right"}, 124.0),
            (PAIRS[3], {"slope": 90, "level": 0, "enters": "right", "aside": 12}, 112.0),
        )
        for id, given, high in inside:
            with self.assertRaises(Refused) as caught:
                pair(id, **given, reach=high - 1.0)
            self.assertEqual(caught.exception.given, "reach")
            pair(id, **given, reach=high + 0.1)

    def test_skins_are_closed(self) -> None:
        """By the volume that their faces hold, reckoned along each axis (Gauss)."""
        over = (PAIRS[2], {"slope": 90, "level": 0, "enters": "right", "reach": 140})
        for id, given in (*DRAWN, over):
            held = np.zeros(3)
            for face in pair(id, **given).skin():
                for piece in face.pieces or (face.corners,):
                    a, b, c = piece[0], piece[1:-1], piece[2:]
                    held -= (np.cross(b - a, c - a) / 2 * (a + b + c) / 3).sum(axis=0)
            self.assertGreater(float(held.min()), 0.0, id)
            self.assertLess(float(np.ptp(held)), 1e-6 * float(held.max()), f"{id} {given}: {held}")

    def test_the_kind_changes_where_outermost_touches_outermost(self) -> None:
        beside = (50.0 - 24.0) / np.sqrt(2)
        for off, kind in ((-1e-6, "through"), (0.0, "crossing"), (1e-6, "notch")):
            self.assertEqual(pair(PAIRS[0], side=50, branch_side=24, offset=beside + off).meeting.kind, kind)
        for off, kind in ((-1e-6, "through"), (0.0, "crossing"), (1e-6, "notch")):
            self.assertEqual(pair(PAIRS[4], aside=29 + off, offset=0).meeting.kind, kind)
        for wide, kind in ((68.5 - 1e-6, "through"), (68.5 + 1e-6, "around")):
            made = pair(PAIRS[1], main="cylinder", sides=4, side=wide / np.sqrt(2), diameter=68.5, reach=95)
            self.assertEqual(made.meeting.kind, kind)

    def test_what_is_touched_counts_as_met(self) -> None:
        g = pair(PAIRS[0], side=40, branch_side=40, reach=60)
        told = {value.name: value.value for value in g.values("")}
        for k in (1, 3):
            np.testing.assert_allclose(told["main_crossings"][k], [60.0, 60.0], atol=1e-9)  # type: ignore[index]
        self.assertNotIn(None, told["right_lengths"])  # type: ignore[arg-type]

    def test_advice_is_never_refused_when_it_is_typed(self) -> None:
        hopeless = (
            (PAIRS[0], {"offset": 70}),
            (PAIRS[0], {"level": 4}),
            (PAIRS[1], {"reach": 20}),
            (PAIRS[1], {"offset": 24, "enters": "right"}),
            (PAIRS[2], {"slope": 72}),
            (PAIRS[2], {"branch_side": 70}),
            (PAIRS[3], {"level": 100}),
            (PAIRS[4], {"aside": 80}),
        )
        for id, given in hopeless:
            with self.assertRaises(Refused) as caught:
                pair(id, **given)
            found = re.search(r"(?:Raise|Lower|Set) (\w+) to ([\d.−]+|\w+)", caught.exception.says)
            assert found is not None, caught.exception.says
            self.assertEqual(found[1], caught.exception.given)
            pair(id, **{**given, found[1]: found[2].replace("−", "-")})

    def test_a_branch_too_wide_to_end_on_the_main_is_let_run_through(self) -> None:
        for id, name, size in (
            ("meeting-prisms", "side", 26.0),
            ("pyramid-and-prism", "branch_side", 48.0),
            ("prism-and-cylinder", "side", 18.0),
            ("cone-and-cylinder", "branch_diameter", 68.0),
        ):
            with self.assertRaises(Refused) as caught:
                pair(id, **{"enters": "right", "reach": 400, name: size})
            self.assertEqual(caught.exception.given, "enters")
            self.assertTrue(caught.exception.says.endswith("Set enters to through."), caught.exception.says)
            pair(id, **{"enters": "through", "reach": 400, name: size})


class Seen(unittest.TestCase):
    def edges(self, g: SolidsThatMeet) -> Iterator[np.ndarray]:
        """Places of the line and of the branch's edges, that both views have to show as they are seen."""
        for start, end in g.meeting.stretches:
            w = np.linspace(start, end, 34)[1:-1]
            for side in ("R",) if g.right_only else ("R", "L"):
                yield g.meeting.at(w, side)
        if g.branch_corners is not None:
            right, _ = g.meeting.lengths
            for k, far in enumerate(right):
                if far == far:
                    steps = np.linspace(far + 0.5, g.reach - 0.5, 24)[:, None]
                    yield g.branch.element(float(k)) + steps * g.branch.axis

    def hidden(self, g: SolidsThatMeet, at: np.ndarray, sight: np.ndarray) -> np.ndarray:
        """Whether either body stands before places, by a walk towards the eye."""
        steps = np.concatenate([np.geomspace(0.02, 2.0, 50), np.arange(2.0, 2.2 * (g.reach + g.main_reach), 0.4)])
        way = at[:, None] + steps[:, None] * sight
        main, branch = held(g, way, 0.02)
        return np.asarray((main | branch).any(axis=1))

    def off(self, lines: list[np.ndarray], at: np.ndarray) -> np.ndarray:
        """How far places of the sheet lie from the nearest of some lines."""
        found = np.full(len(at), np.inf)
        for line in lines:
            a, way = line[:-1], np.diff(line, axis=0)
            size = np.maximum((way**2).sum(axis=1), 1e-30)
            share = np.clip(((at[:, None] - a) * way).sum(axis=2) / size, 0, 1)
            found = np.minimum(found, np.linalg.norm(a + share[..., None] * way - at[:, None], axis=2).min(axis=1))
        return found

    def test_what_a_ray_to_the_eye_meets_nothing_on_is_dark(self) -> None:
        for id, given in DRAWN:
            g = pair(id, **given, show="views")
            made: Run = run(g)
            assert made.views is not None
            for view, sight in SIGHT.items():
                if view == "top" and not (g.main_solid.apex or g.main_solid.ball):
                    continue  # over the main's own outline
                dark = [
                    np.asarray(line) for mark in made.marks if mark.role is Role.OUTLINE for line in mark.polylines()
                ]
                frame = made.views.front if view == "front" else made.views.top
                for at in self.edges(g):
                    seen = ~self.hidden(g, at, sight)
                    missing = seen & (self.off(dark, frame.at(at)) > 0.5)
                    self.assertLess(missing.mean(), 0.1, f"{id} {view}: {at[missing][:1]}")


class Folded(unittest.TestCase):
    def test_the_branch_stands_on_the_rim_of_the_hole(self) -> None:
        for id, given in DRAWN:
            made = run(pair(id, **given))
            assert made.pattern is not None
            self.assertLess(made.pattern.gap(), 1e-9 * 200, id)
            self.assertLess(made.pattern.stray(), 1e-9 * 200, id)
        g = pair(PAIRS[2])
        gapes = {point.id: one.pattern.gap() for point, one in run_slips(g) if isinstance(one, Run) and one.pattern}
        self.assertGreater(gapes["apparent"], 1.0)
        self.assertGreater(gapes["carried-to-the-next"], 1.0)

    def test_a_mitre_through_the_axis_gapes(self) -> None:
        found = {point.id: one for point, one in run_slips(figure_named("breeches")())}
        made = found["mitre"]
        assert isinstance(made, Run) and made.pattern is not None
        self.assertGreater(made.pattern.gap(), 1.0)

    def test_every_cut_lies_in_its_plane_and_passes_through_its_point(self) -> None:
        for id in PAIRS:
            for method in figure_named(id).methods:
                if method == "cutting-spheres":
                    continue
                made = run(pair(id), method)
                assert isinstance(made.figure, Sliced)
                shown = 0
                for step in made.steps:
                    outlines = made.figure.slices(method, step.says)
                    if not outlines:
                        continue
                    shown += 1
                    pane = outlines[0]
                    normal = np.cross(pane[1] - pane[0], pane[3] - pane[0])
                    normal /= np.linalg.norm(normal)
                    at = made.found[step.says.partition(":")[0] if ":" in step.says[:5] else _first(step.says)]
                    for outline in (np.atleast_2d(at), *outlines):
                        self.assertLess(np.abs((outline - pane[0]) @ normal).max(), 1e-6, f"{id} {step.says}")
                self.assertGreater(shown, 2, f"{id} {method}")


def _first(says: str) -> str:
    found = re.search(r"cross in (\w+)", says)
    assert found is not None, says
    return found[1]
