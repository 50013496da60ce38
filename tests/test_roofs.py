"""Roofs against the lowest of slopes, cuts against vectors, shadows against rays, sections against volumes."""

from __future__ import annotations

import random
import unittest
from typing import Any

import numpy as np

from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named


def figure(id: str, **givens: Any) -> Any:
    return make(figure_named(id), givens)


def between(u: np.ndarray, w: np.ndarray) -> float:
    return float(np.degrees(np.arccos(np.clip(u @ w / np.sqrt((u @ u) * (w @ w)), -1.0, 1.0))))


def inside(ring: np.ndarray, at: np.ndarray) -> bool:
    """Whether a place lies in a polygon: by the winding of the angles under which its sides are seen."""
    off = ring - at
    after = np.roll(off, -1, axis=0)
    turns = np.arctan2(off[:, 0] * after[:, 1] - off[:, 1] * after[:, 0], (off * after).sum(axis=1))
    return abs(float(turns.sum())) > np.pi


class HipRoofs(unittest.TestCase):
    PLANS = (
        ([[0, 0], [100, 0], [100, 60], [0, 60]], [40, 40, 40, 40]),
        ([[0, 0], [88, -12], [110, 40], [62, 78], [6, 64]], [40, 35, 45, 50, 38]),
        ([[0, 0], [96, 0], [96, 54], [0, 54]], [42, 90, 36, 60]),
        ([[0, 0], [96, 0], [96, 38], [44, 38], [44, 82], [0, 82]], [35, 35, 35, 35, 35, 35]),
        ([[0, 0], [113, 0], [113, 41], [37, 41], [37, 97], [0, 97]], [40, 90, 48, 35, 55, 43]),
    )

    @staticmethod
    def lowest(corners: np.ndarray, pitches: list[float], at: np.ndarray) -> float:
        """The lowest of slopes over a convex plan; of an L's two rectangles, written out, the higher."""

        def over(sides: list[int]) -> float:
            heights = []
            for k in sides:
                a, b = corners[k], corners[(k + 1) % len(corners)]
                u = (b - a) / np.hypot(*(b - a))
                off = float(u[0] * (at - a)[1] - u[1] * (at - a)[0])
                if off < 0:
                    return -np.inf
                if pitches[k] < 90:
                    heights.append(off * np.tan(np.deg2rad(pitches[k])))
            return min(heights)

        if len(corners) == 6:
            return max(over([0, 1, 2, 5]), over([0, 3, 4, 5]))
        return over(list(range(len(corners))))

    def test_every_place_lies_under_its_own_slope_and_no_lower_one(self) -> None:
        rng, looked = random.Random(3), 0
        for corners, pitches in self.PLANS:
            roof = figure("hip-roof", corners=corners, pitches=pitches).roof
            plan = np.array(corners, dtype=float)
            faces = {k: roof.places[roof.face(k)] for k in roof.slopes}
            low, high = plan.min(axis=0), plan.max(axis=0)
            for _ in range(300):
                at = np.array([rng.uniform(low[0], high[0]), rng.uniform(low[1], high[1])])
                if not inside(plan, at):
                    continue
                mine = [k for k, ring in faces.items() if inside(ring[:, :2], at)]
                self.assertEqual(len(mine), 1)
                self.assertAlmostEqual(float(roof.slope(mine[0], at)), self.lowest(plan, pitches, at), 9)
                looked += 1
        self.assertGreater(looked, 1000)

    def test_what_is_folded_down_lies_over_nothing_else(self) -> None:
        from shapely import Polygon

        for corners, pitches in self.PLANS:
            roof = figure("hip-roof", corners=corners, pitches=[[one] for one in pitches])
            found = run(roof).found
            rings = [
                Polygon(found.together([roof.flat_name(k, p) for p in roof.roof.face(k)])) for k in range(roof.count)
            ]
            rings.append(Polygon(corners))
            for k, one in enumerate(rings):
                for other in rings[:k]:
                    self.assertLess(one.intersection(other).area, 1e-6 * one.area)

    def test_eaves_nearly_parallel_are_not_followed_off_the_sheet(self) -> None:
        """Out of square by a little, as old walls are: where their eaves meet lies metres off."""
        drawn = random.Random(8)
        for _ in range(24):
            plan = [[x + drawn.uniform(-2, 2), y + drawn.uniform(-2, 2)] for x, y in self.PLANS[0][0]]
            pitches = [drawn.choice((35, 40, 45, 50)) for _ in plan]
            pitches[1] = drawn.choice((45, 90))
            for method in ("bisectors", "level-lines"):
                made = run(figure("hip-roof", corners=plan, pitches=pitches), method)
                self.assertTrue(all(proof.holds for proof in made.proofs), (plan, pitches))
                low, high = made.extent
                self.assertLess(max(high - low), 500, (method, plan, pitches))

    def test_told_clockwise_it_is_the_same_roof(self) -> None:
        corners, pitches = self.PLANS[4]
        one = figure("hip-roof", corners=corners, pitches=pitches)
        turned = [pitches[k] for k in (4, 3, 2, 1, 0, 5)]
        other = figure("hip-roof", corners=corners[::-1], pitches=turned)
        values = [{v.name: v.value for v in each.values("bisectors")} for each in (one, other)]
        self.assertAlmostEqual(values[0]["height"], values[1]["height"], 9)
        np.testing.assert_allclose(values[0]["hip_lengths"], values[1]["hip_lengths"][::-1])
        np.testing.assert_allclose(sorted(values[0]["slope_areas"]), sorted(values[1]["slope_areas"]))

    def test_what_is_no_roof_is_refused_with_what_to_change(self) -> None:
        square = [[0, 0], [60, 0], [60, 60], [0, 60]]
        for givens, words in (
            ({"corners": square, "pitches": [40, 40, 40]}, "one for every side"),
            ({"corners": square, "pitches": [90, 90, 40, 40]}, "both gables"),
            ({"corners": [[0, 0], [60, 0], [30, 20], [0, 60]], "pitches": [40] * 4}, "neither convex"),
            ({"corners": self.PLANS[3][0], "pitches": [35, 35, 90, 35, 35, 35]}, "inner corner"),
            ({"corners": square, "pitches": [40, 40, 40, 3]}, "from 5"),
        ):
            with self.assertRaises(Refused) as caught:
                figure("hip-roof", **givens)
            self.assertIn(words, caught.exception.template)


class Cuts(unittest.TestCase):
    def test_rafters_by_vectors(self) -> None:
        for corner, pitches in ((90, (40, 50)), (135, (30, 45)), (60, (35, 35)), (270, (45, 35)), (240, (30, 50))):
            cuts = figure("rafter-cuts", corner=corner, pitch_1=pitches[0], pitch_2=pitches[1], rise=50, spacing=20)
            told = {value.name: value.value for value in cuts.values("fold-down")}
            angle = np.deg2rad(corner)
            eaves = [np.array([1.0, 0.0, 0.0]), np.array([np.cos(angle), np.sin(angle), 0.0])]
            inward = [np.array([0.0, 1.0, 0.0]), np.array([np.sin(angle), -np.cos(angle), 0.0])]
            lean = [np.tan(np.deg2rad(pitch)) for pitch in pitches]
            normals = [np.array([0.0, 0.0, 1.0]) - t * way for t, way in zip(lean, inward)]
            hip = np.cross(normals[0], normals[1])
            hip = hip if hip[2] > 0 else -hip
            self.assertAlmostEqual(told["seat_cut"], 90 - between(hip, np.array([0.0, 0.0, 1.0])), 8)
            self.assertAlmostEqual(told["hip_length"], 50 / np.sin(np.deg2rad(told["seat_cut"])), 8)
            opening = between(*normals)
            self.assertAlmostEqual(told["dihedral"], 180 - opening if corner < 180 else 180 + opening, 8)
            for k in range(2):
                up = np.cross(normals[k], eaves[k])
                up = up if up[2] > 0 else -up
                cheek = between(hip, up)
                self.assertAlmostEqual(told[f"cheek_{k + 1}"], min(cheek, 180 - cheek), 8)
                level = np.cross(hip, np.array([0.0, 0.0, 1.0]))
                in_slope = np.cross(normals[k], hip)
                backing = between(level, in_slope)
                self.assertAlmostEqual(told[f"backing_{k + 1}"], min(backing, 180 - backing), 8)

    def test_jacks_as_a_table_end_on_the_hip(self) -> None:
        for givens in ({}, {"corner": 120, "pitch_1": 30, "pitch_2": 30}, {"corner": 270}):
            cuts = figure("rafter-cuts", **givens)
            (_, low, high), *others = cuts.true_lines()
            way = (high - low) / np.linalg.norm(high - low)
            told = {value.name: value.value for value in cuts.values("fold-down")}
            jacks = [(name, a, b) for name, a, b in others if name.startswith("E")]
            self.assertEqual(len(jacks), cuts.jacks(0) + cuts.jacks(1))
            for name, a, b in jacks:
                slope, number = int(name[1]), int(name[2:].split()[0])
                self.assertLess(float(np.linalg.norm(np.cross(b - low, way))), 1e-9)
                self.assertAlmostEqual(float(np.hypot(*a[:2])), number * cuts.spacing, 9)
                self.assertAlmostEqual(float(np.linalg.norm(b - a)), number * told[f"jack_step_{slope}"], 9)

    def test_spires_by_vectors(self) -> None:
        for sides, side, height in ((3, 40, 30), (5, 42, 65), (8, 30, 120), (24, 9, 50)):
            spire = figure("spire", sides=sides, side=side, height=height, spacing=side / 4)
            told = {value.name: value.value for value in spire.values("fold-down")}
            turns = 2 * np.pi * np.arange(sides) / sides
            reach = side / 2 / np.sin(np.pi / sides)
            base = np.stack([reach * np.cos(turns), reach * np.sin(turns), 0 * turns], axis=-1)
            apex = np.array([0.0, 0.0, float(height)])
            faces = [np.cross(base[k] - base[k - 1], apex - base[k]) for k in range(2)]
            self.assertAlmostEqual(told["dihedral"], 180 - between(*faces), 8)
            self.assertAlmostEqual(told["tip_angle"], between(base[0] - apex, base[1] - apex), 8)
            self.assertAlmostEqual(told["area"], sides * float(np.sqrt(faces[1] @ faces[1])) / 2, 6)

    def test_axes_are_those_of_a_turned_and_tilted_cube(self) -> None:
        for turn, tilt in ((30.0, 25.0), (45.0, 35.264389682754654), (12.0, 70.0), (77.0, 8.0)):
            axes = figure("axonometric-axes", by="turn-tilt", turn=turn, tilt=tilt)
            t, e = np.deg2rad(turn), np.deg2rad(tilt)
            # seen along (0, cos e, −sin e) from before: right is x of the sheet, up is square to the sight
            up = np.array([0.0, np.sin(e), np.cos(e)])
            cube = {
                "front": np.array([-np.sin(t), np.cos(t), 0.0]),
                "right": np.array([np.cos(t), np.sin(t), 0.0]),
                "height": np.array([0.0, 0.0, 1.0]),
            }
            seen = np.array([[way[0], way @ up] for way in cube.values()])
            np.testing.assert_allclose(axes.axes.vectors, seen, atol=1e-12)
            again = figure("axonometric-axes", by="scales", **dict(zip(cube, np.hypot(*seen.T).tolist())))
            np.testing.assert_allclose(again.seen_from, (turn, tilt), atol=1e-6)


class Shadows(unittest.TestCase):
    STEP = 0.5

    def holds(self, shadow: Any, at: np.ndarray) -> np.ndarray:
        """Which places (…, 3) lie in the solid."""
        x, y, z = at[..., 0], at[..., 1] - shadow.front, at[..., 2] - shadow.lift
        if shadow.kind == "sphere":
            r = shadow.size / 2
            return np.asarray(x**2 + y**2 + (z - r) ** 2 <= r**2)
        share = 1 - z / shadow.height if shadow.kind in ("pyramid", "cone") else np.ones_like(z)
        there = (z >= 0) & (z <= shadow.height)
        if shadow.kind in ("cylinder", "cone"):
            return np.asarray(there & (np.hypot(x, y) <= shadow.size / 2 * share))
        apothem = shadow.size / 2 / np.tan(np.pi / shadow.sides)
        for k in range(shadow.sides):
            turn = np.deg2rad(shadow.turn + 360.0 * (k + 0.5) / shadow.sides)
            there = there & (x * np.cos(turn) - y * np.sin(turn) <= apothem * share)
        return np.asarray(there)

    def test_areas_against_rays_cast_back_from_ground_and_wall(self) -> None:
        for givens in (
            {"kind": "prism", "size": 24, "height": 60, "turn": 15, "sides": 6, "front": 50},
            {"kind": "pyramid", "size": 40, "height": 50, "turn": 20, "sides": 4, "front": 45, "lift": 6},
            {"kind": "cone", "size": 44, "height": 58, "front": 40},
            {"kind": "cylinder", "size": 36, "height": 45, "front": 38, "lift": 4},
            {"kind": "sphere", "size": 40, "height": 0, "front": 38, "lift": 10},
        ):
            shadow = figure("cast-shadow", **givens)
            far = np.arange(0.0, 130.0, 0.4)
            u = np.arange(-45.0, 160.0, self.STEP)
            v = np.arange(self.STEP / 2, 130.0, self.STEP)
            areas = []
            for wall in (False, True):
                a, b = np.meshgrid(u, v)
                start = np.stack([a, 0 * b, b] if wall else [a, b, 0 * b], axis=-1)
                dark = np.zeros(a.shape, dtype=bool)
                for t in far:
                    dark |= self.holds(shadow, start + t * np.array([-1.0, 1.0, 1.0]))
                areas.append(float(dark.sum()) * self.STEP**2)
            for told, looked in zip(shadow.areas, areas):
                self.assertLess(abs(told - looked), 0.02 * max(shadow.areas), f"{givens}")

    GIVENS = (
        {"kind": "prism", "front": 30},
        {"kind": "pyramid", "size": 40, "height": 50, "turn": 20, "sides": 4, "front": 35, "lift": 12},
        {"kind": "cone", "size": 44, "height": 58, "front": 26},
        {"kind": "cylinder", "size": 36, "height": 45, "front": 22, "lift": 15},
        {"kind": "sphere", "size": 40, "height": 0, "front": 30, "lift": 10},
    )

    def covered(self, shadow: Any, at: np.ndarray, way: np.ndarray) -> np.ndarray:
        """Which places of ground or wall the solid hides from an eye far off that way."""
        hid = np.zeros(at.shape[:-1], dtype=bool)
        for t in np.arange(0.0, 130.0, 0.5):
            hid |= self.holds(shadow, at + t * way)
        return hid

    def test_what_is_toned_is_dark_and_is_seen(self) -> None:
        from shapely import Point, Polygon

        up, front = np.array([0.0, 0.0, 1.0]), np.array([0.0, 1.0, 0.0])
        for givens in self.GIVENS:
            shadow = figure("cast-shadow", **givens)
            found = run(shadow).found
            shades = [Polygon(outline).buffer(0) for outline in shadow.shades(found)]
            for wall, way in ((False, up), (True, front)):
                a, b = np.meshgrid(np.arange(-40.3, 110.0, 4.1), np.arange(1.3, 90.0, 4.1))
                start = np.stack([a, 0 * b, b] if wall else [a, b, 0 * b], axis=-1)
                dark = np.zeros(a.shape, dtype=bool)
                for t in np.arange(0.0, 160.0, 0.25):
                    dark |= self.holds(shadow, start + t * np.array([-1.0, 1.0, 1.0]))
                want = dark & ~self.covered(shadow, start, way)
                plan, elevation = found["C.top"], found["C.front"]
                at = np.stack([a, shadow.front - b], axis=-1) + plan
                if wall:
                    at = np.stack([a, b - float(shadow.middle[2])], axis=-1) + elevation
                for place, toned in zip(at.reshape(-1, 2), want.ravel()):
                    here = Point(*place)
                    if any(one.boundary.distance(here) < 1.2 for one in shades):
                        continue
                    self.assertEqual(any(one.contains(here) for one in shades), bool(toned), (givens, wall, place))

    def test_its_lines_are_dashed_just_where_the_solid_hides_them(self) -> None:
        kinds = set()
        for givens in self.GIVENS:
            shadow = figure("cast-shadow", **givens)
            made = run(shadow)
            for mark in made.steps[-1].marks:
                for line in mark.polylines(64):
                    middle = line[len(line) // 2] if len(line) > 2 else line.mean(axis=0)
                    wall = bool(middle[1] > (made.found["C.top"][1] + shadow.front))
                    if wall:
                        x, z = middle - made.found["C.front"] + np.array([0.0, float(shadow.middle[2])])
                        place, way = np.array([x, 0.0, z]), np.array([0.0, 1.0, 0.0])
                    else:
                        x, y = middle - made.found["C.top"]
                        place, way = np.array([x, shadow.front - y, 0.0]), np.array([0.0, 0.0, 1.0])
                    flat = [0, 2] if wall else [0, 1]
                    near = np.repeat(place[None], 5, axis=0)
                    near[1:3, flat[0]] += [0.7, -0.7]
                    near[3:5, flat[1]] += [0.7, -0.7]
                    hid = self.covered(shadow, near, way)
                    if hid.all() or not hid.any():
                        self.assertEqual(mark.role is Role.HIDDEN, bool(hid[0]), (givens, place))
                        kinds.add((wall, bool(hid[0])))
        self.assertEqual(len(kinds), 4)

    def test_hulls_and_arcs_in_drawing_agree_with_their_area(self) -> None:
        shadow = figure("cast-shadow")
        made = run(shadow)
        ground = [made.found[f"S{k}"] for k in range(1, len(shadow.casting) + 1)]
        self.assertEqual(len(ground), len(shadow.outline))


class Sections(unittest.TestCase):
    TABLES = (
        "box,0,0,0,80,50,12; box,0,15,12,20,20,26; cylinder,38,11,12,28,28,18; hole,44,17,0,16,16,30",
        "box,0,0,0,60,40,30; hole-right,20,0,8,14,40,14; wedge,0,0,30,30,40,20",
        "cylinder,0,0,0,50,50,30; hole,15,15,0,20,20,30; cylinder-right,50,0,0,20,50,20",
        "box,0,0,0,60,40,10; cone,10,5,10,40,30,40",
    )

    def test_their_areas_slice_by_slice_make_up_the_volume(self) -> None:
        for rows in self.TABLES:
            whole = figure("built-up", rows=rows)
            (left, near, _), (right, far, _) = whole.built.extent
            for along, ends, across in (("front", (left, right), (near, far)), ("right", (near, far), (left, right))):
                count = 160
                step = (across[1] - across[0]) / count
                total = 0.0
                for k in range(count):
                    at = across[0] + (k + 0.5) * step
                    stretches = [[float(ends[0]), float(ends[1]), float(at)]]
                    try:
                        total += sum(
                            cut.area for cut in figure("section-view", rows=rows, along=along, stretches=stretches).cuts
                        )
                    except Refused:
                        continue
                self.assertLess(abs(total * step / whole.volume - 1), 2e-3, f"{rows} along {along}")

    def test_a_hole_is_never_hatched_and_what_is_hatched_is_solid(self) -> None:
        for rows in self.TABLES[:3]:
            section = figure("section-view", rows=rows, stretches="0,60,21")
            for cells in section.cells:
                for cell in cells:
                    middle = (cell.first + cell.last) / 2
                    cut = section.cuts[0]
                    at = np.array([middle])
                    sides = cut.levels(at)
                    low, high = (float(sides[bound.upper][bound.block, 0]) for bound in (cell.below, cell.above))
                    for share in (0.02, 0.5, 0.98):
                        place = cut.place(at, np.array([low + share * (high - low)]))
                        self.assertTrue(bool(section.built.holds(place)[0]))

    def test_a_view_square_to_a_slope_reaches_as_far_as_the_solid(self) -> None:
        view = figure(
            "auxiliary-view", rows="box,0,0,0,70,40,10; ramp,10,5,10,50,30,30; cylinder,62,10,10,8,20,25", row=2
        )
        rng = np.random.default_rng(5)
        low, high = view.built.extent
        at = low + (high - low) * rng.random((400_000, 3))
        at = at[view.built.holds(at)]
        for way in view.frame:
            first, last = view.extent_along(way)
            seen = at @ way
            self.assertLess(abs((last - first) - (seen.max() - seen.min())), 0.02 * (last - first))
            self.assertLessEqual(float(seen.max()), last + 1e-9)
