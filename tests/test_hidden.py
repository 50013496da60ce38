"""Hidden lines against brute force: from a place of the drawn line a ray runs to the eye, and may meet the solid or
not."""

from __future__ import annotations

import math
import unittest
from collections.abc import Callable
from typing import Any

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests import examples
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import Mark, Role, nominal
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue

EYES = {"front": np.array([0.0, 1.0, 0.0]), "top": np.array([0.0, 0.0, 1.0])}
SHARES = (0.13, 0.37, 0.5, 0.71, 0.91)
Inside = Callable[[np.ndarray], np.ndarray]


def positions() -> st.SearchStrategy[dict[str, Any]]:
    """Tilted solids in general and in square positions."""
    square = st.sampled_from((0.0, 30.0, 45.0, 90.0))
    return st.fixed_dictionaries(
        {
            "sides": st.integers(3, 8),
            "size": st.sampled_from((18.0, 30.0)),
            "height": st.sampled_from((25.0, 61.0)),
            "turn": square | st.floats(-90, 90),
            "axis_h": square | st.floats(0, 90),
            "axis_v": square.map(lambda a: 2 * a) | st.floats(0, 359),
        }
    )


def hidden(at: np.ndarray, eye: np.ndarray, inside: Inside, size: float) -> bool:
    """Whether a ray from a place to the eye runs through the solid."""
    steps = np.geomspace(1e-3, 3.0, 160) * size
    return bool(inside(at + steps[:, None] * eye).any())


class Hull:
    """The solid on corners as half-spaces."""

    def __init__(self, corners: np.ndarray) -> None:
        self.size = float(np.ptp(corners, axis=0).max())
        self.equations = ConvexHull(corners).equations

    def holds(self, places: np.ndarray) -> np.ndarray:
        return (places @ self.equations[:, :3].T + self.equations[:, 3] < -1e-6 * self.size).all(axis=1)


def final_views(made: Run) -> dict[str, str]:
    """Which key of the found points the last front and top views have."""
    return {"front": "front", "top": "top"} if made.method.id == "three-stages" else {"top": "3", "front": "4"}


def roles(marks: list[Mark], a: np.ndarray, b: np.ndarray) -> set[Role]:
    """The roles in which the line between two places is lined in."""
    found = set()
    for mark in marks:
        if mark.role in (Role.OUTLINE, Role.HIDDEN):
            for line in mark.polylines():
                ends = (line[0], line[-1]), (line[-1], line[0])
                if len(line) == 2 and min(np.abs(np.array(pair) - [a, b]).max() for pair in ends) < 1e-6:
                    found.add(mark.role)
    return found


def doubled(made: Run, key: str, edges: set[tuple[str, ...]], edge: tuple[str, ...]) -> bool:
    """Whether another edge lies over this one in a view."""

    def ends(one: tuple[str, ...]) -> list[tuple[float, ...]]:
        found = [made.found.get(f"{name}.{key}") for name in one]
        return sorted(tuple(np.round(nominal(at, 1), 6).tolist()) for at in found if at is not None)

    return any(ends(one) == ends(edge) for one in edges if one != edge)


class Tilted(unittest.TestCase):
    @settings(max_examples=examples(30), deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
    @given(positions(), st.sampled_from(("prism", "pyramid")), st.sampled_from(("three-stages", "auxiliary-plane")))
    def test_edges_of_flat_sided_ones(self, givens: dict[str, Any], kind: str, method: str) -> None:
        figure: Any = make(catalogue()["tilted-solid"], {**givens, "kind": kind})
        made = run(figure, method)
        places = {name: nominal(at, 1) for name, at in figure.placed(made.found).items()}
        hull = Hull(np.array(list(places.values())))
        checked = 0
        for view, key in final_views(made).items():
            for a, b in self.edges(figure):
                flat = [nominal(made.found[f"{name}.{key}"], 1) for name in (a, b)]
                if np.abs(flat[0] - flat[1]).max() < 1e-6:
                    continue
                drawn = roles(made.marks, *flat)
                behind = {
                    hidden(places[a] + share * (places[b] - places[a]), EYES[view], hull.holds, hull.size)
                    for share in SHARES
                }
                along = self.along_a_face(figure, places, EYES[view], a, b)
                if not drawn and (along or behind == {True}):
                    continue  # it lies under one that is seen
                self.assertEqual(len(drawn), 1, f"{a} {b} in {view}: {drawn}, {givens}")
                if not along and not doubled(made, key, self.edges(figure), (a, b)):
                    self.assertEqual(behind, {drawn == {Role.HIDDEN}}, f"{a} {b} in {view}, {kind} {method} {givens}")
                    checked += 1
        assume(checked > 0)  # in some square positions every edge lies over another

    def edges(self, figure: Any) -> set[tuple[str, str]]:
        stock = figure.stock
        loops = [stock.face(k) for k in range(stock.count)]
        return {tuple(sorted(pair)) for loop in loops for pair in zip(loop, loop[1:] + loop[:1])}  # type: ignore[misc]

    def along_a_face(self, figure: Any, places: dict[str, np.ndarray], eye: np.ndarray, a: str, b: str) -> bool:
        """Whether the eye sees a face of the edge from its side: then a ray runs along it, and rounding decides."""
        stock = figure.stock
        loops = [stock.face(k) for k in range(stock.count)]
        loops += [tuple(stock.lower(k) for k in range(stock.count))]
        loops += [] if stock.pointed else [tuple(stock.upper(k) for k in range(stock.count))]
        for loop in (loop for loop in loops if a in loop and b in loop):
            p, q, r = (places[name] for name in loop[:3])
            normal = np.cross(q - p, r - p)
            if abs(float(normal @ eye)) < 1e-4 * float(np.linalg.norm(normal)):
                return True
        return False

    @settings(max_examples=examples(24), deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
    @given(positions(), st.sampled_from(("cylinder", "cone")), st.sampled_from(("three-stages", "auxiliary-plane")))
    def test_rims_of_round_ones(self, givens: dict[str, Any], kind: str, method: str) -> None:
        figure: Any = make(catalogue()["tilted-solid"], {**givens, "kind": kind})
        made = run(figure, method)
        places = {name: nominal(at, 1) for name, at in figure.placed(made.found).items()}
        n, stock = figure.count, figure.stock
        rims = {"base": [stock.lower(k) for k in range(n)]}
        if not stock.pointed:
            rims["top"] = [stock.upper(k) for k in range(n)]
        base = np.array([places[name] for name in rims["base"]]).mean(axis=0)
        tip = places["V"] if stock.pointed else np.array([places[name] for name in rims["top"]]).mean(axis=0)
        inside = round_solid(base, tip, figure.reach, stock.pointed)
        size = max(figure.reach, figure.height)
        for view, key in final_views(made).items():
            courses = {
                role: [line for mark in made.marks if mark.role is role for line in mark.polylines()]
                for role in (Role.OUTLINE, Role.HIDDEN)
            }
            for names in rims.values():
                for k, name in enumerate(names):
                    at, flat = places[name], nominal(made.found[f"{name}.{key}"], 1)
                    middle = base if names is rims["base"] else tip
                    near = [middle + turned(at - middle, tip - base, by) for by in (-9.0, 0.0, 9.0)]
                    behind = {hidden(one, EYES[view], inside, size) for one in near}
                    off = {
                        role: min((course_gap(line, flat) for line in lines), default=9e9)
                        for role, lines in courses.items()
                    }
                    if len(behind) == 1 and min(off.values()) > 0.2:
                        self.fail(f"{name} in {view} is not lined in: {off}, {kind} {method} {givens}")
                    if len(behind) == 1 and max(off.values()) > 1.0:
                        drawn = min(off, key=off.__getitem__)
                        expected = Role.HIDDEN if behind == {True} else Role.OUTLINE
                        if not self.covered(names, places, made, key, k, n):
                            self.assertIs(drawn, expected, f"{name} in {view}, {kind} {method} {givens}")

    def covered(self, names: list[str], places: dict[str, np.ndarray], made: Run, key: str, k: int, n: int) -> bool:
        """Whether another place of a rim shows at the same place of the view, as where a rim is seen from its side."""
        mine = nominal(made.found[f"{names[k]}.{key}"], 1)
        others = [nominal(made.found[f"{name}.{key}"], 1) for name in names if name != names[k]]
        return min(float(np.abs(mine - other).max()) for other in others) < 1.0


def course_gap(line: np.ndarray, at: np.ndarray) -> float:
    """How far a place is from a polyline."""
    along = line[1:] - line[:-1]
    square = np.maximum((along**2).sum(axis=1), 1e-18)
    t = np.clip(((at - line[:-1]) * along).sum(axis=1) / square, 0.0, 1.0)
    return float(np.hypot(*(line[:-1] + t[:, None] * along - at).T).min())


def turned(arm: np.ndarray, axis: np.ndarray, by: float) -> np.ndarray:
    """An arm square to an axis, turned about it (Rodrigues)."""
    u, c, s = axis / np.linalg.norm(axis), math.cos(math.radians(by)), math.sin(math.radians(by))
    return np.asarray(arm * c + np.cross(u, arm) * s)


def round_solid(base: np.ndarray, tip: np.ndarray, radius: float, pointed: bool) -> Inside:
    axis = tip - base
    tall = float(np.linalg.norm(axis))
    u = axis / tall

    def inside(places: np.ndarray) -> np.ndarray:
        up = (places - base) @ u
        off = np.linalg.norm(places - base - up[:, None] * u, axis=1)
        wide = radius * (1 - up / tall) if pointed else radius
        room = 1e-6 * max(tall, radius)
        return np.asarray((up > room) & (up < tall - room) & (off < wide - room))

    return inside


class Meeting(unittest.TestCase):
    def test_the_curve_is_seen_where_neither_cylinder_stands_before_it(self) -> None:
        checked = 0
        for main, branch, offset, angle in (
            (64, 40, 0, 60),
            (64, 40, 8, 50),
            (64, 40, -9, 75),
            (64, 20, 16, 90),
            (64, 20, -18, 90),
            (64, 44, 10, 65),
            (64, 44, -10, 65),
        ):
            givens = {
                "main_diameter": main,
                "branch_diameter": branch,
                "offset": offset,
                "angle": angle,
                "branch_length": 140,
            }
            figure: Any = make(catalogue()["meeting-cylinders"], givens)
            made = run(figure, None, Conventions())
            fine = np.linspace(0.0, 360.0, 7201)
            flat = figure.curve(fine)[:, [0, 2]]
            step = next(step.n for step in made.steps if "curve where it is seen" in step.sentence())
            for mark in (mark for one in made.steps if one.n in (step, step + 1) for mark in one.marks):
                for line in mark.polylines():
                    for at in line[2:-2] if len(line) > 12 else ():
                        gaps = np.abs(flat - at).max(axis=1)
                        turns = fine[gaps < gaps.min() + 0.4]
                        behind = {self.behind(figure, float(turn)) for turn in turns}
                        if len(behind) == 1 and gaps.min() < 1.0:
                            self.assertEqual(behind, {mark.role is Role.HIDDEN}, f"{givens} near {turns[0]}")
                            checked += 1
        self.assertGreater(checked, 150)

    def behind(self, figure: Any, turn: float) -> bool:
        """Whether the main or the branch stands before a point of the curve, seen from the front."""
        x, y, z = figure.curve(turn).tolist()
        front = math.sqrt(max(figure.main**2 - z * z, 0.0))
        c, s = math.cos(math.radians(figure.angle)), math.sin(math.radians(figure.angle))
        across, along = x * s - z * c, x * c + z * s
        fore = figure.offset + math.sqrt(max(figure.branch**2 - across * across, 0.0))
        by_main = front > y + 1e-6 and not self._within(figure, x, front, z)
        outside = fore * fore + z * z > figure.main**2 + 1e-6
        by_branch = fore > y + 1e-6 and outside and along > 0
        return by_main or by_branch

    def _within(self, figure: Any, x: float, y: float, z: float) -> bool:
        """Whether a place of the main's skin lies in the hole."""
        c, s = math.cos(math.radians(figure.angle)), math.sin(math.radians(figure.angle))
        return math.hypot(x * s - z * c, y - figure.offset) < figure.branch - 1e-6 and x * c + z * s > 0


class Upright(unittest.TestCase):
    def test_edges_at_the_back_are_hidden_and_others_are_not(self) -> None:
        for id, givens in (
            ("prism", {"turn": 12, "cut": "none"}),
            ("prism", {"turn": 12}),
            ("prism", {"sides": 5, "turn": 40, "cut_height": 20, "cut_angle": 50}),
            ("pyramid", {}),
            ("pyramid", {"sides": 7, "turn": 3, "cut_height": 10, "cut_angle": 35}),
        ):
            figure: Any = make(catalogue()[id], {**givens, "show": "views"})
            made = run(figure)
            kept = figure.cutting
            hull = Hull(np.array([kept.places[name] for name in {name for face in kept.faces for name in face}]))
            edges = {tuple(sorted(pair)) for face in kept.faces for pair in zip(face, face[1:] + face[:1])}
            checked = 0
            for a, b in edges:
                flat = [nominal(made.found[f"{name}.front"], 1) for name in (a, b) if f"{name}.front" in made.found]
                if len(flat) < 2 or np.abs(flat[0] - flat[1]).max() < 1e-6:
                    continue
                drawn = roles(made.marks, *flat)
                ends = kept.places[a], kept.places[b]
                behind = {
                    hidden(ends[0] + t * (ends[1] - ends[0]), EYES["front"], hull.holds, hull.size) for t in SHARES
                }
                if drawn and len(behind) == 1 and not doubled(made, "front", edges, (a, b)):
                    self.assertEqual(
                        drawn, {Role.HIDDEN if behind == {True} else Role.OUTLINE}, f"{id} {givens}: {a} {b}"
                    )
                    checked += 1
            self.assertGreater(checked, 2, f"{id} {givens}")
