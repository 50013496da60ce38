"""What a shop is told of a pattern, held against its definitions, hand-made cases, and geometry of another kind."""

from __future__ import annotations

import math
import re
import unittest
from itertools import combinations
from typing import Any

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests import examples
from tests.drawn import drawn_givens
from tests.test_solids import drawn, solid, told
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.build import build_sheet, run_entry
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.shop.laps import Lap
from wise_compass.shop.parts import CutPart, cuts_of, folds_of
from wise_compass.shop.shop import Shop
from wise_compass.shop.wish import ShopWish, at_middle, wish_of

SHEETS = (
    *("prism", "pyramid", "cylinder", "cone", "frustum", "oblique-cone", "meeting-cylinders"),
    *("rect-to-round", "rect-to-rect", "round-to-round", "elbow", "sphere-gores", "sphere-zones"),
)
STRAIGHT = ("prism", "pyramid", "rect-to-rect")
PATTERNS = st.sampled_from(SHEETS).flatmap(lambda id: st.tuples(st.just(id), drawn_givens(catalogue()[id])))


def developed(id: str, givens: dict[str, Any] | None = None) -> Run:
    kind = catalogue()[id]
    whole = {"show": "all"} if "show" in kind.givens else {}
    return run(make(kind, {**(givens or {}), **whole}))


def drawn_run(id: str, givens: dict[str, Any]) -> Run:
    """A run of drawn givens with its pattern; no example where they are refused, or the pattern lies over itself."""
    figure = solid(id, {**givens, **({"show": "all"} if "show" in catalogue()[id].givens else {})})
    assume(not getattr(figure, "overlaps", False))
    return run(figure)


def area_of(at: np.ndarray) -> float:
    x, y = at.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def inside(at: np.ndarray, outline: np.ndarray) -> np.ndarray:
    """Which places, (n, 2), a closed outline goes round: by counting the edges that a ray to the right crosses."""
    a, b = outline, np.roll(outline, -1, axis=0)
    x, y = at[:, None, 0], at[:, None, 1]
    spans = (a[:, 1] > y) != (b[:, 1] > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        crossing = a[:, 0] + (y - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return np.asarray((spans & (x < crossing)).sum(axis=1) % 2 == 1)


def to_edge(at: np.ndarray, outline: np.ndarray) -> np.ndarray:
    """How far places are from an outline's edges."""
    a, u = outline, np.roll(outline, -1, axis=0) - outline
    size = np.maximum((u * u).sum(axis=1), 1e-30)
    t = np.clip(((at[:, None] - a) * u).sum(axis=2) / size, 0, 1)
    return np.asarray(np.hypot(*np.moveaxis(a + t[..., None] * u - at[:, None], 2, 0)).min(axis=1))


def shares(one: np.ndarray, other: np.ndarray, touch: float) -> bool:
    """Whether two outlines overlap by more than they touch, by a grid of places inside the first."""
    low, high = one.min(axis=0), one.max(axis=0)
    grid = np.stack(np.meshgrid(*(np.linspace(a, b, 16) for a, b in zip(low, high))), axis=-1).reshape(-1, 2)
    grid = grid[inside(grid, one)]
    grid = grid[to_edge(grid, one) > touch] if len(grid) else grid
    both = grid[inside(grid, other)] if len(grid) else grid
    return bool(len(both) and (to_edge(both, other) > touch).any())


class Parts(unittest.TestCase):
    @drawn
    @given(PATTERNS)
    def test_outlines_close_anticlockwise_and_edges_that_come_together_are_as_long(
        self, one: tuple[str, dict[str, Any]]
    ) -> None:
        made = drawn_run(*one)
        cuts = cuts_of(made)
        self.assertTrue(cuts)
        for cut in cuts:
            size = float(np.ptp(cut.outline, axis=0).max())
            self.assertGreater(area_of(cut.outline), 0.0)
            for before, after in zip(cut.sides, (*cut.sides[1:], cut.sides[0])):
                self.assertEqual(before.keys[-1], after.keys[0])
                self.assertLess(np.abs(before.course[-1] - after.course[0]).max(), 1e-9 * size)
            for side in cut.sides:
                self.assertAlmostEqual(side.stations[-1], side.long, delta=1e-6 * size)
                for key in (side.keys[0], side.keys[-1]):
                    self.assertTrue(any(np.allclose(made.found[key], at, atol=1e-9 * size) for at in side.course))
        together = [
            sum(side.long for cut in cuts for side in cut.sides if side.kind == kind) for kind in ("seam", "side")
        ]
        # where a cut runs through the foot of the seam both are nothing but rounding
        whole = max(float(np.ptp(cut.outline, axis=0).max()) for cut in cuts)
        self.assertAlmostEqual(together[0], together[1], delta=1e-9 * whole)

    @drawn
    @given(st.sampled_from(STRAIGHT).flatmap(lambda id: st.tuples(st.just(id), drawn_givens(catalogue()[id]))))
    def test_of_straight_edges_the_parts_are_as_large_as_the_pieces(self, one: tuple[str, dict[str, Any]]) -> None:
        made = drawn_run(*one)
        pattern = made.figure.pattern(made.found)
        assert pattern is not None
        self.assertAlmostEqual(sum(area_of(cut.outline) for cut in cuts_of(made)) / pattern.area, 1.0, places=9)

    def test_curved_edges_follow_what_was_lined_in(self) -> None:
        """The elbow's pieces part the strip without waste; a frustum's edges are its arcs; all zones are as large as
        theirs."""
        elbow = developed("elbow", {"pieces": 5})
        strip = cuts_of(elbow)
        low, high = (
            np.concatenate([cut.outline for cut in strip]).min(axis=0),
            np.concatenate([c.outline for c in strip]).max(axis=0),
        )
        self.assertAlmostEqual(sum(area_of(cut.outline) for cut in strip) / float((high - low).prod()), 1.0, places=9)
        values = {value.name: value.value for value in developed("frustum").values}
        (cut,) = cuts_of(developed("frustum"))
        girths = {side.kind: side.long for side in cut.sides}
        self.assertAlmostEqual(girths["base"], math.pi * 76, delta=0.01)
        self.assertAlmostEqual(girths["top"], math.pi * 48, delta=0.01)
        self.assertAlmostEqual(area_of(cut.outline), values["lateral_area"], delta=1.5)
        ball = developed("sphere-zones", {"zones": 24})
        self.assertAlmostEqual(sum(cut.copies * cut.area for cut in cuts_of(ball)) / (math.pi * 88**2), 1.0, delta=0.01)

    def test_figures_without_a_pattern_have_none(self) -> None:
        for id, givens in (
            ("ellipse", {}),
            ("tilted-solid", {}),
            ("prism", {"show": "views"}),
            ("rect-to-rect", {"show": "views"}),
        ):
            made = run(make(catalogue()[id], givens))
            self.assertEqual(cuts_of(made), [], id)
            with self.assertRaises(Refused):
                Shop(made, ShopWish())


def shop(id: str, givens: dict[str, Any] | None = None, **wish: Any) -> Shop:
    return Shop(developed(id, givens), wish_of(wish))


class Laps(unittest.TestCase):
    @settings(drawn, max_examples=examples(24))
    @given(
        PATTERNS, st.tuples(st.floats(0.2, 40), st.just(0.0) | st.floats(0.1, 40), st.just(0.0) | st.floats(0.1, 40))
    )
    def test_they_never_cross_the_pattern_nor_each_other(
        self, one: tuple[str, dict[str, Any]], widths: tuple[float, ...]
    ) -> None:
        """Or they are refused, with a width that is then accepted."""
        made = drawn_run(*one)
        wish = dict(zip(("seam_lap", "base_lap", "top_lap"), (round(width, 2) for width in widths)))
        for _ in range(4):
            try:
                ready = Shop(made, wish_of(wish))
                break
            except Refused as refusal:
                told = re.search(rf"(?:Lower {refusal.given} to ([\d.]+) mm|set {refusal.given} to 0)", refusal.says)
                assert told, refusal.says
                limit = float(told[1] or 0)
                self.assertLess(limit, wish[refusal.given])
                wish[refusal.given] = limit
        else:
            self.fail("every width told was refused")
        self.hold_apart(ready.cuts, ready.laps)
        for lap in ready.laps:
            back = np.vstack([lap.side.course, lap.side.course[::-1]])
            self.assertAlmostEqual(
                float(to_edge(lap.free[1:-1], back).min()), lap.width, delta=max(0.01, 0.002 * lap.width)
            )

    def hold_apart(self, cuts: list[CutPart], laps: list[Lap]) -> None:
        shapes = [*((cut.outline, "part") for cut in cuts), *((lap.outline, "lap") for lap in laps)]
        touch = 1e-3 * float(np.ptp(cuts[0].outline, axis=0).max())
        for (one, first), (other, second) in combinations(shapes, 2):
            if first == second == "part":
                continue
            close = (one.min(axis=0) < other.max(axis=0)).all() and (other.min(axis=0) < one.max(axis=0)).all()
            self.assertFalse(
                close and (shares(one, other, touch) or shares(other, one, touch)), f"{first} and {second}"
            )

    def test_a_lap_wider_than_its_edge_is_refused_with_the_limit(self) -> None:
        """Beside an edge of 24 mm the two notches of 45° meet at 12 mm."""
        with self.assertRaises(Refused) as refused:
            shop("prism", {"sides": 6, "side": 24}, base_lap=24)
        self.assertEqual(refused.exception.given, "base_lap")
        self.assertIn("24 mm wide", refused.exception.says)
        limit = float(re.search(r"Lower base_lap to ([\d.]+)", refused.exception.says)[1])  # type: ignore[index]
        self.assertTrue(11.5 < limit < 12, limit)
        self.assertEqual(len(shop("prism", {"sides": 6, "side": 24}, base_lap=limit).laps), 6)
        with self.assertRaises(Refused):
            shop("prism", {"sides": 6, "side": 24}, base_lap=limit + 0.02)

    def test_only_one_edge_of_a_seam_carries_a_lap(self) -> None:
        for id in SHEETS:
            laps = shop(id, seam_lap=1).laps
            self.assertEqual({lap.side.kind for lap in laps}, {"seam"}, id)
        self.assertEqual(len(shop("elbow", {"pieces": 5}, seam_lap=2).laps), 5)
        self.assertEqual(len(shop("sphere-gores", seam_lap=2).laps), 1, "all gores are alike")

    def test_cut_edges_take_the_top_allowance_and_parts_in_two_both_have_laps(self) -> None:
        cut = shop("pyramid", {"cut": "plane"}, top_lap=3)
        self.assertEqual({lap.side.kind for lap in cut.laps}, {"cut"})
        parted = shop(
            "cylinder", {"cut": "plane", "cut_height": 10, "cut_angle": 60, "seam": 6}, seam_lap=1, base_lap=2
        )
        self.assertEqual({lap.part for lap in parted.laps}, set(range(len(parted.cuts))))

    def test_what_is_out_of_bounds_is_named(self) -> None:
        for wish, words in (
            ({"seam_lap": -1}, "Raise seam_lap"),
            ({"thickness": 1e6}, "Lower thickness"),
            ({"sheet_long": 0}, "Raise sheet_long"),
            ({"material": "gold"}, "steel, aluminium"),
        ):
            with self.assertRaises(Refused) as refused:
                wish_of(wish)
            self.assertIn(words, refused.exception.says)

    def test_a_pattern_that_lies_over_itself_takes_none(self) -> None:
        givens = {
            "length": 59,
            "width": 36,
            "top_length": 194,
            "top_width": 106,
            "height": 3.2,
            "turn": 69,
            "seam": 2,
            "offset_x": 37,
        }
        made = developed("rect-to-rect", givens)
        self.assertTrue(made.figure.overlaps)  # type: ignore[attr-defined]
        with self.assertRaises(Refused):
            Shop(made, ShopWish(seam_lap=1))
        with self.assertRaises(Refused):
            _ = Shop(made, ShopWish()).takings


class Plates(unittest.TestCase):
    def values(self, id: str, givens: dict[str, Any], **shop: Any) -> dict[str, Any]:
        entry = Entry(
            id, "P", "", {**givens, **({"show": "all"} if "show" in catalogue()[id].givens else {})}, shop=shop
        )
        return {value.name: value.value for value in run_entry(entry).values}

    def test_the_girth_of_the_middle_is_stepped_off_and_the_body_stays(self) -> None:
        for size_is, girth in (("inside", 52), ("middle", 50), ("outside", 48)):
            told = self.values("cylinder", {"diameter": 50}, thickness=2.0, size_is=size_is)
            self.assertAlmostEqual(told["pattern_width"], math.pi * girth)
            self.assertAlmostEqual(told["volume"], self.values("cylinder", {"diameter": 50})["volume"])
        wide = self.values("elbow", {"diameter": 60}, thickness=3.0, size_is="inside")
        self.assertAlmostEqual(wide["pattern_width"], math.pi * 63)

    def test_a_polygons_walls_move_out_by_half_the_plate(self) -> None:
        """The circle that touches the sides of a hexagon of side a has the radius a √3 / 2."""
        figure = make(catalogue()["prism"], {"sides": 6, "side": 30})
        middle = at_middle(figure, ShopWish(thickness=2, size_is="inside"))
        self.assertAlmostEqual(middle.side * math.sqrt(3) / 2, 30 * math.sqrt(3) / 2 + 1)  # type: ignore[attr-defined]
        self.assertIs(at_middle(figure, ShopWish(thickness=2)), figure)
        rect = make(catalogue()["rect-to-rect"], {"length": 90, "top_width": 40})
        self.assertEqual(at_middle(rect, ShopWish(thickness=3, size_is="outside")).stored()["length"], 87)

    def test_a_plate_that_cannot_go_round_is_refused_with_the_limit(self) -> None:
        figure = make(catalogue()["cylinder"], {"diameter": 5})
        with self.assertRaises(Refused) as refused:
            at_middle(figure, ShopWish(thickness=6, size_is="outside"))
        limit = float(re.search(r"Lower thickness to ([\d.]+)", refused.exception.says)[1])  # type: ignore[index]
        self.assertTrue(4.8 < limit < 5)
        at_middle(figure, ShopWish(thickness=limit, size_is="outside"))


class Folds(unittest.TestCase):
    def test_known_angles(self) -> None:
        self.assertEqual({round(fold.angle, 9) for fold in folds_of(developed("prism", {"sides": 6}))}, {60.0})
        box = developed("rect-to-rect", {"length": 60, "width": 40, "top_length": 60, "top_width": 40, "turn": 0})
        self.assertEqual([round(fold.angle, 9) for fold in folds_of(box)], [90.0] * 3)
        self.assertEqual([fold.name for fold in folds_of(box)], ["B2 T2", "B3 T3", "B4 T4"])
        self.assertEqual(folds_of(developed("cylinder")), [])

    def test_a_seam_in_the_middle_of_a_flat_side_leaves_a_right_angled_half_at_either_end(self) -> None:
        for givens in ({}, {"offset_x": 20, "offset_y": 10}, {"offset_y": -12, "top_width": 66}):
            made = developed("rect-to-rect", {"seam": 0, **givens})
            at = made.found
            for foot, top, low, high in (("Q0", "P0", "Q1", "P1"), ("Q5", "P5", "Q4", "P4")):
                up = at[top] - at[foot]
                for corner, end in ((low, foot), (high, top)):
                    self.assertAlmostEqual(float(up @ (at[corner] - at[end])), 0.0, places=9)
            other = developed("rect-to-rect", {"seam": 1, **givens})
            self.assertAlmostEqual(told(made)["pattern_area"], told(other)["pattern_area"], places=8)
            diagonal = sorted(tuple(made.views.spot(name, made.views.top).here.round(6)) for name in ("B1", "T4"))  # type: ignore[union-attr]
            drawn = [
                sorted(tuple(end.round(6)) for end in mark.course()[[0, -1]])
                for mark in made.marks
                if isinstance(mark, CurveMark) and mark.role in (Role.OUTLINE, Role.HIDDEN)
            ]
            self.assertNotIn(diagonal, drawn, "the flat side shows no fold in the plan")
        with self.assertRaises(Refused) as refused:
            make(catalogue()["rect-to-rect"], {"seam": 0, "turn": 12})
        self.assertEqual(refused.exception.given, "seam")

    def test_they_are_the_angles_between_the_faces_of_the_body(self) -> None:
        """By the normals of the skin's faces on both sides of every fold that was drawn."""
        for id, givens in (
            ("pyramid", {"sides": 5}),
            ("rect-to-rect", {"turn": 25}),
            ("rect-to-round", {"offset_x": 30.0}),
        ):
            made = developed(id, givens)
            places = made.figure.pattern(made.found).lies  # type: ignore[union-attr]
            folds = folds_of(made)
            self.assertTrue(folds)
            for fold in folds:
                ends = [places[name] for name in fold.name.split()]
                beside = [
                    face.corners
                    for face in made.figure.skin()
                    if all(np.isclose(face.corners, end, atol=1e-9).all(axis=1).any() for end in ends)
                ]
                beside = [corners for corners in beside if not np.isclose(np.ptp(corners[:, 2]), 0)]
                self.assertEqual(len(beside), 2, fold.name)
                normals = [np.cross(c[1] - c[0], c[2] - c[0]) for c in beside]
                cosine = float(normals[0] @ normals[1] / np.sqrt((normals[0] ** 2).sum() * (normals[1] ** 2).sum()))
                self.assertAlmostEqual(abs(fold.angle), math.degrees(math.acos(cosine)), places=6)

    def test_lettered_on_the_sheet_where_it_is_asked_for(self) -> None:
        sheet = build_sheet(Job("J", (SheetPlan("S", (Entry("prism", "P", shop={"base_lap": 3.0}),), "A3"),)), 0)
        words = [getattr(item, "words", "") for item in sheet.drawing.items]
        self.assertEqual(words.count("60°"), 5)
        self.assertTrue(any("allowance along the base 3 mm" in line.lower() for line in words))


if __name__ == "__main__":
    unittest.main()
