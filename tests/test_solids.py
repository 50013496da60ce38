"""Solids cut and developed, held against mathematics of another kind: grids, hulls, directed edges, folding."""

from __future__ import annotations

import math
import random
import re
import unittest
from collections import Counter
from collections.abc import Iterator
from itertools import combinations
from typing import Any

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests import examples
from tests.drawn import drawn_givens
from wise_compass.drafting.capabilities import Developed, Face
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import catalogue
from wise_compass.figures.solids.cut_solids import CutSolid
from wise_compass.figures.transitions.ducts import Duct
from wise_compass.geometry.round_cuts import RoundCut, conic_part, cut_cone, cut_cylinder

DUCTS = ("rect-to-round", "rect-to-rect", "round-to-round", "elbow")
DEVELOPED = ("prism", "pyramid", "cylinder", "cone", "frustum", "oblique-cone", "meeting-cylinders", *DUCTS)
CUT = DEVELOPED[:4]
SOLIDS = st.sampled_from(DEVELOPED).flatmap(lambda id: st.tuples(st.just(id), drawn_givens(catalogue()[id])))
drawn = settings(max_examples=examples(60), deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))


def solid(id: str, givens: dict[str, Any]) -> Figure:
    """The figure, or no example where these givens are refused."""
    try:
        return make(catalogue()[id], givens)
    except Refused:
        assume(False)
        raise


def volume_of(faces: list[Face]) -> float:
    """By the divergence theorem, for faces anticlockwise from outside in a frame whose y runs to the front."""
    total = 0.0
    for face in faces:
        a = face.corners[0]
        for b, c in zip(face.corners[1:-1], face.corners[2:]):
            total -= float(np.dot(a, np.cross(b, c))) / 6
    return total


class Cuts(unittest.TestCase):
    """Areas and volumes of round cuts against a grid over the base."""

    GRID = 1500

    def test_random_cuts_agree_with_a_grid(self) -> None:
        draw = np.random.default_rng(11)
        turn = (np.arange(self.GRID) + 0.5) * 2 * math.pi / self.GRID
        for k in range(24):
            radius, tall = draw.uniform(5, 60), draw.uniform(10, 120)
            slope, height = math.tan(math.radians(draw.uniform(0, 80))), draw.uniform(0.05, 1.3) * tall
            r = (np.arange(self.GRID) + 0.5) * radius / self.GRID
            cell = r[:, None] * (radius / self.GRID) * (2 * math.pi / self.GRID)
            plane = height - slope * r[:, None] * np.cos(turn)[None, :]
            top = np.full((self.GRID, 1), tall) if k % 2 else (tall * (1 - r / radius))[:, None]
            cut = cut_cylinder(radius, tall, height, slope) if k % 2 else cut_cone(radius, tall, height, slope)
            under = (plane > 0) & (plane < top)
            size = math.pi * radius**2
            with self.subTest(radius=radius, tall=tall, slope=slope, height=height):
                self.assertLess(abs((np.clip(plane, 0, top) * cell).sum() - cut.volume), 2e-3 * size * tall)
                self.assertLess(
                    abs((under * cell).sum() * math.hypot(1, slope) - cut.section), 4e-3 * size * math.hypot(1, slope)
                )
                self.assertLess(abs(((plane > 0) * cell).sum() - cut.base), 4e-3 * size)
                self._sides(cut, k, radius, tall, height, slope, turn, plane, top, cell)

    def _sides(
        self, cut: RoundCut, k: int, radius: float, tall: float, height: float, slope: float, *grid: Any
    ) -> None:
        turn, plane, top, cell = grid
        if k % 2:
            heights = np.clip(height - slope * radius * np.cos(turn), 0, tall)
            self.assertLess(
                abs(heights.mean() * 2 * math.pi * radius - cut.lateral), 2e-3 * 2 * math.pi * radius * tall
            )
        else:
            lateral = ((plane >= top) * cell).sum() * math.hypot(radius, tall) / radius
            self.assertLess(abs(lateral - cut.lateral), 4e-3 * math.pi * radius * math.hypot(radius, tall))

    def test_near_a_parabola_nothing_jumps(self) -> None:
        exact = conic_part(3.0, 1.0, 5.0)
        for off in (1e-12, 1e-9, 1e-6, 1e-4):
            for e in (1 - off, 1 + off):
                self.assertLess(abs(conic_part(3.0, e, 5.0) - exact), 40 * off + 1e-9)
        x = np.linspace(-1.5, 5, 400001)
        self.assertAlmostEqual(exact, 2 * float(np.trapezoid(np.sqrt(np.maximum(3.0 * (3.0 + 2 * x), 0)), x)), places=4)

    def test_a_steep_cut_beyond_the_cone_is_none(self) -> None:
        self.assertEqual(conic_part(-2.0, 0.7, 50.0), 0.0)


class Skins(unittest.TestCase):
    @drawn
    @given(SOLIDS)
    def test_it_is_closed_and_turned_outward(self, drawn_solid: tuple[str, dict[str, Any]]) -> None:
        """Every edge is gone along once each way; both parts of a cut solid make up the whole."""
        figure = solid(*drawn_solid)
        faces, off = list(figure.skin()), list(figure.skin(off=True))
        self.assertGreater(volume_of(faces), 0.0)
        if figure.id == "meeting-cylinders":
            return  # its main is drawn in strips that meet at points of the hole
        for part in filter(None, (faces, off)):
            size = max(float(np.abs(face.corners).max()) for face in part)
            ways: Counter[tuple[Any, ...]] = Counter()
            for face in part:
                keys = [tuple(np.round(corner / size, 7) + 0.0) for corner in face.corners]
                ways.update((a, b) for a, b in zip(keys, keys[1:] + keys[:1]) if a != b)
            self.assertEqual({(a, b) for a, b in ways if ways[a, b] != ways[b, a]}, set())
        if isinstance(figure, CutSolid) and off:
            whole = volume_of(make(type(figure), {**figure.given_values, "cut": "none"}).skin())  # type: ignore[arg-type]
            both = (volume_of(faces) + volume_of(off)) / whole
            # where a cut leaves through a round base, its ends lie on the circle, outside the flat sides
            self.assertTrue(1 - 1e-6 < both < (1.3 if figure.round else 1 + 1e-6), both)

    def test_flat_sides_bound_the_volume_and_round_ones_tend_to_it(self) -> None:
        for id, givens in (("prism", {}), ("pyramid", {"cut_height": 15, "cut_angle": 50})):
            figure = make(catalogue()[id], givens)
            self.assertAlmostEqual(volume_of(list(figure.skin())) / told(run(figure))["volume"], 1.0, places=12)
        for id in ("cylinder", "cone"):
            off = []
            for divisions in (8, 24, 72):
                figure = make(catalogue()[id], {"divisions": divisions})
                off.append(1 - volume_of(list(figure.skin())) / told(run(figure))["volume"])
            self.assertGreater(off[0], off[1])
            self.assertGreater(off[1], off[2])
            self.assertLess(off[2], 2e-3)


def told(made: Run) -> dict[str, Any]:
    return {value.name: value.value for value in made.values}


class Patterns(unittest.TestCase):
    def test_every_one_folds_up_closed_and_onto_its_solid(self) -> None:
        folded = set()
        for kind in catalogue().values():
            for method in kind.methods.values() if issubclass(kind, Developed) else ():
                if method.fits(kind()) is not None:
                    continue
                made = run(kind(), method.id)
                pattern = made.figure.pattern(made.found) if isinstance(made.figure, Developed) else None
                if pattern is not None:
                    most = 1e-9 if method.exact(made.figure) else 2.0
                    self.assertLess(max(pattern.gap(), pattern.stray()), most, f"{kind.id} by {method.id}")
                    folded.add(kind.id)
        self.assertTrue({"meeting-cylinders", "breeches", "hip-roof", "cone-and-cylinder"} <= folded, folded)

    def test_a_corner_of_the_line_between_two_divisions_is_a_corner_of_its_strip(self) -> None:
        """Where a branch touches the main's side the line of their meeting has a kink."""
        touching = {"main_diameter": 80, "branch_diameter": 40, "offset": 20, "angle": 45, "branch_length": 120}
        for divisions, strip in ((10, 2), (12, None), (14, 3)):
            made = run(make(catalogue()["meeting-cylinders"], {**touching, "divisions": divisions}))
            assert isinstance(made.figure, Developed)
            pattern = made.figure.pattern(made.found)
            assert pattern is not None
            bent = [k for k, piece in enumerate(pattern.pieces) if len(piece.names) == 5]
            self.assertEqual(bent, [] if strip is None else [strip])
            self.assertLess(max(pattern.gap(), pattern.stray()), 1e-9)

    @drawn
    @given(SOLIDS)
    def test_they_fold_up_to_the_solid(self, drawn_solid: tuple[str, dict[str, Any]]) -> None:
        figure = solid(drawn_solid[0], {**drawn_solid[1], "show": "all"})
        made = run(figure)
        pattern = figure.pattern(made.found)
        assert pattern is not None
        size = max(float(np.ptp(np.concatenate([piece.flat for piece in pattern.pieces]), axis=0).max()), 1.0)
        self.assertLess(pattern.gap(), 1e-9 * size)
        self.assertLess(pattern.stray(), 1e-8 * size)
        flat = Counter(len(piece.names) for piece in pattern.pieces)
        self.assertEqual(flat, Counter(len(corners) for corners in pattern.folded(0.5)))

    @drawn
    @given(SOLIDS)
    def test_no_two_pieces_overlap(self, drawn_solid: tuple[str, dict[str, Any]]) -> None:
        figure = solid(drawn_solid[0], {**drawn_solid[1], "show": "all"})
        pattern = figure.pattern(run(figure).found)
        assert pattern is not None
        flats = [piece.flat for piece in pattern.pieces]
        if isinstance(figure, Duct) and figure.overlaps:
            self.assertTrue(list(figure.cautions()), "told")
            return
        size = float(np.ptp(np.concatenate(flats), axis=0).max())
        for one, other in combinations(flats, 2):
            self.assertTrue(apart(one, other, 1e-9 * size), f"{figure.id} {figure.stored()}")

    @drawn
    @given(SOLIDS)
    def test_folds_and_cut_edges_meet_at_their_ends(self, drawn_solid: tuple[str, dict[str, Any]]) -> None:
        id, givens = drawn_solid
        assume(id in CUT)
        figure = solid(id, {**givens, "show": "all"})
        assert isinstance(figure, CutSolid)
        for part in figure.strips.outline:
            starts, ends = [edge.start for edge in part], [edge.end for edge in part]
            self.assertEqual(sorted(starts), sorted(ends))
        corners = {edge.start for part in figure.strips.outline for edge in part}
        for fold in figure.strips.folds():
            self.assertLessEqual(set(fold), corners)

    def test_their_area_is_the_skins_as_divisions_grow(self) -> None:
        for id, name in (("cylinder", "lateral_area"), ("cone", "lateral_area"), ("oblique-cone", "pattern_area")):
            off = []
            for divisions in (8, 24, 72):
                figure = make(catalogue()[id], {"divisions": divisions})
                made = run(figure)
                area = figure.pattern(made.found).area  # type: ignore[union-attr]
                true = told(run(make(catalogue()[id], {"divisions": 72})))[name]
                off.append(abs(area / true - 1))
            self.assertLess(off[1], off[0], id)
            self.assertLess(off[2], off[1] + 1e-12, id)
            self.assertLess(off[2], 2e-3, id)

    def test_the_planes_move_is_gradual(self) -> None:
        """From frame to frame no corner jumps, in either part of a pattern that a cut has parted."""
        figure = make(catalogue()["cylinder"], {"cut_height": 10, "cut_angle": 60, "seam": 6})
        pattern = figure.pattern(run(figure).found)
        assert pattern is not None
        before = np.concatenate(pattern.folded(0.0))
        for share in np.linspace(0, 1, 241)[1:]:
            now = np.concatenate(pattern.folded(float(share)))
            self.assertLess(np.abs(now - before).max(), 12.0)
            before = now

    def test_slips_are_left_with_what_they_cost(self) -> None:
        """Chords for arcs leave the girth short by what they are short; what closes all the same stands off the
        solid."""
        for id, slip, gapes in (
            ("cylinder", "chords", True),
            ("cylinder", "diameter", True),
            ("cylinder", "one-on", False),
            ("cone", "chords", True),
            ("pyramid", "one-on", False),
            ("prism", "seam-twice", True),
            ("oblique-cone", "one-on", True),
            ("oblique-cone", "apparent", True),
            ("meeting-cylinders", "diameter", True),
        ):
            figure = make(catalogue()[id], {})
            pattern = figure.pattern(run(figure, slip=slip).found)
            assert pattern is not None
            self.assertEqual(pattern.gap() > 0.01, gapes, f"{id} {slip}: {pattern.gap()}")
            self.assertGreater(pattern.stray(), 0.05, f"{id} {slip}")
        figure = make(catalogue()["cylinder"], {"cut": "none"})
        short = math.pi * 52 - 12 * 52 * math.sin(math.pi / 12)
        self.assertAlmostEqual(figure.pattern(run(figure, slip="chords").found).gap(), short, delta=0.03)  # type: ignore[union-attr]

    def test_stepped_chords_tell_what_they_lose(self) -> None:
        made = run(make(catalogue()["cone"], {}), "stepped-chords")
        values = told(made)
        self.assertAlmostEqual(values["chord_loss"], values["sector_angle"] - values["drawn_sector_angle"], places=9)
        self.assertGreater(values["chord_loss"], 0.5)
        self.assertTrue(any(proof.by_design and "come together" in proof.says for proof in made.proofs))


def apart(one: np.ndarray, other: np.ndarray, touch: float) -> bool:
    """Whether a line along a side of either convex polygon parts them (the separating axis theorem)."""
    for polygon in (one, other):
        for a, b in zip(polygon, np.roll(polygon, -1, axis=0)):
            side = b - a
            long = float(np.hypot(*side))
            if long <= touch:
                continue
            normal = np.array([-side[1], side[0]]) / long
            low, high = (one @ normal).min(), (one @ normal).max()
            if (other @ normal).min() >= high - touch or (other @ normal).max() <= low + touch:
                return True
    return False


class Meeting(unittest.TestCase):
    def test_the_hole_of_a_branch_that_touches_the_mains_side(self) -> None:
        """Its ends against the extremes of x(δ), δ from the corner, sought to the last digit in long doubles."""
        chance = random.Random(5)
        cases = [(80.0, 40.0, 45.0, 64.4742)]
        cases += [
            (round(chance.uniform(40, 90), 1), round(chance.uniform(10, 38), 1), chance.randint(20, 90), None)
            for _ in range(40)
        ]
        for main, branch, angle, known in cases:
            with self.subTest(main=main, branch=branch, angle=angle):
                offset = (main - branch) / 2
                figure: Any = solid(
                    "meeting-cylinders",
                    {
                        "main_diameter": main,
                        "branch_diameter": branch,
                        "offset": offset,
                        "angle": angle,
                        "branch_length": 600,
                    },
                )
                big, small = np.longdouble(main) / 2, np.longdouble(branch) / 2
                lean = np.deg2rad(np.longdouble(angle))

                def x(delta: Any) -> Any:
                    inside = 2 * small * np.sin(delta / 2) ** 2  # noqa: B023
                    height = np.sqrt(inside * (2 * big - inside))  # noqa: B023
                    return (small * np.sin(delta) + height * np.cos(lean)) / np.sin(lean)  # noqa: B023

                ends = []
                for sign in (1, -1):
                    low, high = np.longdouble(-np.pi), np.longdouble(np.pi)
                    for _ in range(12):
                        tried = np.unique(
                            np.append(np.linspace(low, high, 2001, dtype=np.longdouble), np.longdouble(0))
                        )
                        best = int((sign * x(tried)).argmin())
                        low, high = tried[max(best - 1, 0)], tried[min(best + 1, len(tried) - 1)]
                    ends.append(x(tried[best]))
                told = next(value.value for value in figure.values("") if value.name == "hole_length")
                self.assertAlmostEqual(told, float(ends[1] - ends[0]), places=9)
                if known:
                    self.assertAlmostEqual(told, known, places=4)
                made = run(figure)
                self.assertEqual([proof.says for proof in made.proofs if not proof.holds], [])

    @drawn
    @given(drawn_givens(catalogue()["meeting-cylinders"]))
    def test_its_curve_lies_on_both_and_its_ends_are_the_extremes(self, givens: dict[str, Any]) -> None:
        figure: Any = solid("meeting-cylinders", givens)
        turn = np.linspace(0, 360, 721)
        at = figure.curve(turn)
        np.testing.assert_allclose(np.hypot(at[:, 1], at[:, 2]), figure.main, rtol=1e-6)
        axis = np.array([math.cos(math.radians(figure.angle)), 0.0, math.sin(math.radians(figure.angle))])
        off = at - np.array([0.0, figure.offset, 0.0])
        np.testing.assert_allclose(np.linalg.norm(off - np.outer(off @ axis, axis), axis=1), figure.branch, rtol=1e-6)
        start, end = figure.hole
        self.assertLessEqual(start, at[:, 0].min() + 1e-9)
        self.assertGreaterEqual(end, at[:, 0].max() - 1e-9)
        self.assertLess(end - start - np.ptp(at[:, 0]), 1e-4 * figure.main)
        heights = {one.name: float(figure.height(one.turn)) for one in figure.stations}
        low, high = at[:, 2].min(), at[:, 2].max()
        for name, height in heights.items():
            if name[0] == "H":
                self.assertAlmostEqual(height, max(high, height), delta=1e-9)
        self.assertLessEqual(min(heights.values()), low + 1e-9)

    def test_equal_ones_meet_in_straight_lines_and_say_so(self) -> None:
        for angle in (20, 55, 90):
            made = run(
                make(catalogue()["meeting-cylinders"], {"branch_diameter": 64, "angle": angle, "branch_length": 300})
            )
            said = [proof for proof in made.proofs if "straight lines" in proof.says]
            self.assertEqual([proof.holds for proof in said], [True])

    def test_corners_stay_sharp_where_no_division_stands(self) -> None:
        """Ten divisions have none at the quarters, where equal cylinders have their corners."""
        made = run(
            make(catalogue()["meeting-cylinders"], {"branch_diameter": 64, "branch_length": 130, "divisions": 10})
        )
        self.assertIn("SL1", made.found)
        figure: Any = made.figure
        reach = float(np.asarray(made.found["SL1"] - made.found["Q0"])[1])
        self.assertAlmostEqual(reach, figure.branch_length - float(figure.reached(90.0)), places=9)


def refused() -> Iterator[tuple[str, dict[str, Any], str]]:
    """Givens that cannot be, the given that is named, and what the message takes it to."""
    yield "prism", {"cut_height": 150, "cut_angle": 20}, "cut_height"
    yield "pyramid", {"cut_height": 66, "cut_angle": 0}, "cut_height"
    yield "cylinder", {"cut_height": 3000, "height": 2400, "cut_angle": 3}, "cut_height"
    yield "cone", {"cut_height": 900, "height": 800, "diameter": 3, "cut_angle": 5}, "cut_height"
    yield "cone", {"cut_height": 0, "cut_angle": 0}, "cut_height"
    yield "meeting-cylinders", {"offset": 40}, "offset"
    yield "meeting-cylinders", {"branch_diameter": 64, "offset": 3}, "offset"
    yield "meeting-cylinders", {"branch_length": 20}, "branch_length"
    yield "meeting-cylinders", {"branch_diameter": 80}, "branch_diameter"
    yield "frustum", {"bottom": 60, "top": 60}, "top"
    yield "frustum", {"bottom": 60, "top": 60.05}, "bottom"
    yield "prism", {"seam": 9}, "seam"
    yield "oblique-cone", {"seam": 12}, "seam"


class Limits(unittest.TestCase):
    def test_a_refusal_names_its_given_and_a_limit_that_serves(self) -> None:
        for id, givens, name in refused():
            with self.subTest(id=id, givens=givens):
                with self.assertRaises(Refused) as caught:
                    make(catalogue()[id], givens)
                says = caught.exception.words(PLAIN)
                self.assertEqual(caught.exception.given, name, says)
                numbers = re.search(
                    rf"{name}[^.]* to ([\d.]*\d)|numbered \d+ to (\d+)|must be at most ([\d.]*\d)", says
                )
                self.assertIsNotNone(numbers, says)
                limit = float(next(part for part in numbers.groups() if part))  # type: ignore[union-attr]
                served = make(catalogue()[id], {**givens, name: int(limit) if name == "seam" else limit})
                self.assertTrue(all(proof.holds for proof in run(served).proofs), says)

    def test_a_frustum_whose_apex_is_far_off_is_drawn_as_it_advises(self) -> None:
        near, far = {"bottom": 60, "top": 60.05, "height": 52}, {"bottom": 76, "top": 75, "height": 52}
        with self.assertRaisesRegex(Refused, "round-to-round with offset_x and offset_y of 0"):
            make(catalogue()["frustum"], near)
        frustum = make(catalogue()["frustum"], far)
        self.assertTrue(any("round-to-round" in caution for caution in frustum.cautions()))
        for givens in (near, far):
            made = run(make(catalogue()["round-to-round"], {**givens, "offset_x": 0, "offset_y": 0, "divisions": 24}))
            side = math.hypot(52, (givens["bottom"] - givens["top"]) / 2)
            area = math.pi * (givens["bottom"] + givens["top"]) / 2 * side
            self.assertTrue(all(proof.holds for proof in made.proofs))
            self.assertAlmostEqual(told(made)["pattern_area"] / area, 1.0, delta=0.004)  # chords for arcs

    def test_a_cut_through_the_apex_is_a_triangle_and_along_a_generator_a_parabola(self) -> None:
        side = math.degrees(math.atan2(72, 31))
        for givens, kind in (
            ({"cut_height": 72, "cut_angle": side + 3}, "triangle"),
            ({"cut_height": 30, "cut_angle": side}, "parabola"),
            ({"cut_height": 30, "cut_angle": side - 3}, "ellipse"),
            ({"cut_height": 30, "cut_angle": side + 3}, "hyperbola"),
            ({"cut_height": 30, "cut_angle": 0}, "circle"),
        ):
            self.assertEqual(told(run(make(catalogue()["cone"], givens)))["section_kind"], kind)

    def test_a_cut_that_parts_the_pattern_leaves_both_parts(self) -> None:
        counts = set()
        for seam in range(1, 7):
            givens = {"sides": 6, "turn": 0, "cut_height": 5, "cut_angle": 40, "seam": seam}
            figure: Any = make(catalogue()["prism"], givens)
            counts.add(len(figure.strips.runs))
            self.assertLess(figure.pattern(run(figure).found).gap(), 1e-9)
        self.assertEqual(counts, {1, 2})
