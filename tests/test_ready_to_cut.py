"""What stands on a drawing that metal is cut from, and the hatch of patterns and closed solids: places and ways, each
worked out anew."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from shapely import LineString, Point, Polygon

from tests.test_shop import SHEETS, shop
from wise_compass.drafting.wording import PLAIN
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.scene.hatch import SPACING
from wise_compass.sheet.cutting import BAR, MARGIN, ROOM, TICK, cutting_drawing
from wise_compass.sheet.drawing import Line, Text
from wise_compass.sheet.lettering import text_width
from wise_compass.shop.shop import Shop, fold_words

ROUND = ("cone", {}), ("cylinder", {}), ("elbow", {})
FLAT = ("rect-to-rect", {"turn": 20}), ("pyramid", {}), ("prism", {})


def ready(of: tuple[str, dict[str, Any]], **laps: float) -> Shop:
    return shop(*of, **laps)


class Drawings(unittest.TestCase):
    def lines(self, drawing: Any, layer: str, ink: str = "") -> list[np.ndarray]:
        return [
            item.points
            for item in drawing.items
            if isinstance(item, Line) and item.layer == layer and ink in ("", item.ink)
        ]

    def test_everything_lies_on_the_paper_and_the_bar_is_100_mm(self) -> None:
        for of in (*ROUND, *FLAT, ("frustum", {})):
            made = ready(of)
            drawing = cutting_drawing(made, "Meal hopper", PLAIN)
            for item in drawing.items:
                places = item.points if isinstance(item, Line) else item.at[None]  # type: ignore[union-attr]
                self.assertGreaterEqual(places.min(), MARGIN - 1.0 - 1e-9, of[0])
                self.assertTrue((places <= np.array([drawing.width, drawing.height]) - MARGIN + 1e-9).all(), of[0])
            bar = max(self.lines(drawing, "mark")[-3:], key=lambda line: float(np.ptp(line[:, 0])))
            self.assertAlmostEqual(float(np.ptp(bar[:, 0])), BAR)

    def test_a_tick_stands_square_within_the_part_at_every_division_of_an_edge(self) -> None:
        for of in ROUND:
            made = ready(of)
            drawing = cutting_drawing(made, "Meal hopper", PLAIN)
            shift = self.lines(drawing, "cut")[0].min(axis=0) - made.cuts[0].outline.min(axis=0)
            ticks = self.lines(drawing, "mark")[:-3]
            edges = [
                side
                for cut in made.cuts
                for side in cut.sides
                if side.kind not in ("seam", "side") and len(side.keys) > 2
            ]
            self.assertEqual(len(ticks), sum(len(side.keys) - 2 for side in edges), of[0])
            self.assertGreater(len(ticks), 5, of[0])
            for k, tick in enumerate(ticks):
                self.assertAlmostEqual(math.dist(*tick), TICK)
                part = next(
                    cut
                    for cut in made.cuts
                    if Polygon(cut.outline + shift).buffer(0.3).contains(Point(tick.mean(axis=0)))
                )
                edge = LineString(np.concatenate([part.outline, part.outline[:1]]) + shift)
                self.assertLess(edge.distance(Point(tick[0])), 1e-6, f"{of[0]} {k}")
                near = [edge.interpolate(edge.project(Point(tick[0])) + by) for by in (-0.05, 0.05)]
                along = np.array([near[1].x - near[0].x, near[1].y - near[0].y])
                cosine = float((tick[1] - tick[0]) @ along) / TICK / float(np.hypot(*along))
                self.assertLess(abs(cosine), 0.05, f"{of[0]} {k}")

    def test_folds_are_lettered_along_them_never_upside_down_and_only_where_there_is_room(self) -> None:
        for of in FLAT:
            made = ready(of)
            drawing = cutting_drawing(made, "Meal hopper", PLAIN)
            folds = self.lines(drawing, "fold")
            self.assertEqual(len(folds), len(made.folds))
            lettered = [
                item for item in drawing.items if isinstance(item, Text) and item.words.endswith("°") and item.turn
            ]
            for item in lettered:
                self.assertTrue(-90.0 <= item.turn <= 90.0)
                line = min(folds, key=lambda one: float(np.hypot(*(one.mean(axis=0) - item.at))))
                way = line[1] - line[0]
                turned = math.degrees(math.atan2(way[1], way[0]))
                self.assertAlmostEqual(math.sin(math.radians(2 * (turned - item.turn))), 0.0, places=9)
                self.assertLessEqual(ROOM * text_width(item.words, item.size), float(np.hypot(*way)) + 1e-9)
            roomy = [
                fold
                for fold in made.folds
                if math.dist(*fold.ends) >= ROOM * text_width(PLAIN.say(fold_words(fold)), lettered[0].size)
            ]
            upright = [item for item in drawing.items if isinstance(item, Text) and item.words.endswith("°")]
            self.assertEqual(len(upright), len(roomy), of[0])

    def test_laps_are_cut_round_and_folded_along_the_edge_that_they_stand_on(self) -> None:
        made = ready(("rect-to-rect", {"turn": 20}), seam_lap=8, base_lap=6, top_lap=5)
        drawing = cutting_drawing(made, "Meal hopper", PLAIN)
        (cut,) = self.lines(drawing, "cut")
        whole = Polygon(cut)
        bare = Polygon(made.cuts[0].outline)
        self.assertAlmostEqual(whole.area, bare.area + sum(Polygon(lap.outline).area for lap in made.laps), places=6)
        self.assertEqual(len(self.lines(drawing, "fold")), len(made.folds) + len(made.laps))
        for line in self.lines(drawing, "fold"):
            self.assertTrue(whole.buffer(1e-6).covers(LineString(line)))

    def test_a_title_stands_inside_each_of_several_parts(self) -> None:
        several = [(id, {}) for id in SHEETS if len(shop(id).cuts) > 1]
        self.assertTrue(several)
        for of in several:
            made = ready(of)
            drawing = cutting_drawing(made, "Meal hopper", PLAIN)
            shift = self.lines(drawing, "cut")[0].min(axis=0) - made.cuts[0].outline.min(axis=0)
            for cut in made.cuts:
                titles = [item for item in drawing.items if isinstance(item, Text) and item.words.startswith(cut.title)]
                inside = Polygon(cut.outline + shift)
                self.assertTrue(any(inside.contains(Point(item.at)) for item in titles), f"{of[0]} {cut.title}")


class Hatches(unittest.TestCase):
    def hatched(self, figure: str, **givens: Any) -> tuple[Any, list[np.ndarray]]:
        from wise_compass.figures.catalogue import catalogue

        entry = Entry(figure, "Hopper", givens=catalogue()[figure](**givens).stored(), hatched=True)
        sheet = build_sheet(Job("Wrenfold Mill", (SheetPlan("Hopper", (entry,), "A1"),)), 0)
        lines = [item.points for item in sheet.drawing.items if isinstance(item, Line) and item.layer == "hatch"]
        self.assertGreater(len(lines), 20, figure)
        return sheet, lines

    def test_a_patterns_pieces_are_ruled_evenly_inside_them(self) -> None:
        for figure in ("rect-to-rect", "pyramid", "prism"):
            sheet, lines = self.hatched(figure)
            placed = sheet.placed[0]
            made = placed.piece.run
            pattern = made.figure.pattern(made.found)
            pieces = [placed.origin + piece.flat * sheet.scale for piece in pattern.pieces]
            mine: dict[int, list[np.ndarray]] = {k: [] for k in range(len(pieces))}
            for line in lines:
                for k, piece in enumerate(pieces):
                    if Polygon(piece).buffer(1e-6).covers(LineString(line)):
                        mine[k].append(line)
                        break
            self.assertGreater(sum(map(bool, mine.values())), len(pieces) // 2, figure)
            for k, own in mine.items():
                edge = LineString([*pieces[k], pieces[k][0]])
                ways = {round(math.degrees(math.atan2(*(line[1] - line[0])[::-1])) % 180.0, 6) for line in own}
                self.assertLessEqual(len(ways), 1, figure)
                for line in own:
                    for end in line:
                        self.assertLess(edge.distance(Point(end)), 1e-6)
                if len(own) > 1:
                    u = (own[0][1] - own[0][0]) / math.dist(*own[0])
                    offs = np.sort([float(line[0] @ np.array([-u[1], u[0]])) for line in own])
                    np.testing.assert_allclose(np.diff(offs), SPACING, atol=1e-6, err_msg=figure)

    def test_of_a_closed_skin_only_what_faces_the_eye(self) -> None:
        """In the front view of a prism the hatch lies within the outline of its front, each line in one face alone."""
        sheet, lines = self.hatched("prism")
        placed = sheet.placed[0]
        made = placed.piece.run
        front = made.views.front
        skin = [front.at(face.corners) * sheet.scale + placed.origin for face in made.figure.skin(off=False)]
        whole = Polygon()
        for face in skin:
            shape = Polygon(face)
            whole = whole.union(shape if shape.is_valid else shape.buffer(0))
        over = [line for line in lines if whole.buffer(1e-6).covers(LineString(line))]
        self.assertGreater(len(over), 5)
        crossings = sum(LineString(a).crosses(LineString(b)) for k, a in enumerate(over) for b in over[:k])
        self.assertEqual(crossings, 0, "two faces that lie over each other would both be ruled")


if __name__ == "__main__":
    unittest.main()
