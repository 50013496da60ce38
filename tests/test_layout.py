"""Where everything stands on a sheet: frame, strip, marks, several figures, tables and captions, by exact places."""

from __future__ import annotations

import unittest

import numpy as np

from wise_compass.drafting.figure import make
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import figure_named
from wise_compass.sheet.bounds import bounds, text_box
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.layout import BETWEEN, LEADING
from wise_compass.sheet.paper import SIZES, Paper, papers
from wise_compass.sheet.piece import Piece, Wishes
from wise_compass.sheet.tables import table_items, table_size
from wise_compass.study.tables import Table, curve_table
from wise_compass.study.tablewish import TableWish


def piece(id: str, title: str = "", **givens: object) -> Piece:
    return Piece(run(make(figure_named(id), givens)), title)


def frame_items(sheet: Sheet) -> list[Item]:
    return [item for item in sheet.drawing.items if item.layer == "frame"]


class Strip(unittest.TestCase):
    def test_every_word_stands_in_a_cell_of_its_own(self) -> None:
        """Upright lines part the strip; each word lies between two of them, none lies over another."""
        for size in ("A4", "A2"):
            sheet = compose(
                [piece("line-from-views")],
                Wishes(size, scale="1:1", title="Brace of the sail stock", project="Wrenfold Mill", number="7/24"),
            )
            left, bottom, right, top = sheet.paper.strip
            words = [
                item
                for item in frame_items(sheet)
                if isinstance(item, Text) and item.words and item.at[1] > bottom and item.at[0] >= left
            ]
            self.assertEqual(
                sorted(item.words for item in words),
                sorted(
                    [
                        "Scale",
                        "Paper",
                        "Sheet",
                        "Projection",
                        "1:1",
                        size,
                        "7/24",
                        "Wrenfold Mill",
                        "Brace of the sail stock",
                    ]
                ),
            )
            posts = sorted(
                float(item.points[0, 0])
                for item in frame_items(sheet)
                if isinstance(item, Line)
                and len(item.points) == 2
                and abs(item.points[0, 0] - item.points[1, 0]) < 1e-9
                if abs(float(np.ptp(item.points[:, 1])) - (top - bottom)) < 1e-9
            )
            self.assertEqual([round(post - left) for post in posts], [92, 114, 132, 150])
            edges = [left, *posts, right]
            boxes = [text_box(item) for item in words]
            for item, (low, high) in zip(words, boxes):
                cell = max(edge for edge in edges if edge <= low[0] + 1e-9)
                self.assertLess(high[0], edges[edges.index(cell) + 1], item.words)
                self.assertTrue(bottom < low[1] and high[1] < top, item.words)
            for k, (low, high) in enumerate(boxes):
                for low2, high2 in boxes[:k]:
                    self.assertTrue((high < low2).any() or (high2 < low).any())

    def test_captions_head_what_they_name(self) -> None:
        sheet = compose([piece("ellipse")], Wishes("A4", title="Arch", project="Wrenfold Mill", number="1/3"))
        at = {item.words: item.at for item in frame_items(sheet) if isinstance(item, Text)}
        for caption, words in (("Scale", "1:1"), ("Paper", "A4"), ("Sheet", "1/3"), ("Unit", "mm")):
            self.assertAlmostEqual(float(at[caption][0]), float(at[words][0]))
            self.assertGreater(float(at[caption][1]), float(at[words][1]) + 4)

    def test_words_too_long_are_cut_with_a_sign(self) -> None:
        sheet = compose([piece("ellipse")], Wishes("A4", title="An arch over the race " * 9))
        title = max((item for item in frame_items(sheet) if isinstance(item, Text)), key=lambda item: len(item.words))
        self.assertTrue(title.words.endswith("…"))
        self.assertLess(text_box(title)[1][0], sheet.paper.strip[0] + 92)

    def test_the_cone_of_the_projection_stands_as_the_angle_has_it(self) -> None:
        from wise_compass.drafting.recorder import Conventions

        for angle, first in (("first", "cone"), ("third", "circle")):
            made = run(figure_named("line-from-views")(), None, Conventions(angle))
            items = frame_items(compose([Piece(made)], Wishes("A4")))
            circles = [item for item in items if isinstance(item, Arc)]
            closed = [item for item in items if isinstance(item, Line) and item.closed and len(item.points) == 4]
            (cone,) = (item for item in closed if abs(float(np.ptp(item.points[:, 0])) - 9.0) < 1e-9)
            self.assertEqual([circle.radius for circle in circles], [2.0, 3.6])
            self.assertEqual(float(circles[0].centre[0]) > float(cone.points[:, 0].max()), first == "cone")
            small = float(np.ptp(cone.points[:2, 1]))
            self.assertAlmostEqual(small, 4.0)


class Frame(unittest.TestCase):
    def test_frame_marks_and_bar(self) -> None:
        for paper in papers("auto", "auto"):
            sheet = compose([], Wishes(paper.size, paper.lie))
            self.assertEqual((sheet.drawing.width, sheet.drawing.height), (paper.width, paper.height))
            items = frame_items(sheet)
            box = next(item for item in items if isinstance(item, Line) and item.closed)
            low, high = box.points.min(axis=0), box.points.max(axis=0)
            np.testing.assert_allclose([*low, *high], paper.frame)
            bar = max(
                (
                    item
                    for item in items
                    if isinstance(item, Line) and item.points[:, 1].max() < 5 and len(item.points) == 2
                ),
                key=lambda item: float(np.ptp(item.points[:, 0])),
            )
            self.assertAlmostEqual(float(np.ptp(bar.points[:, 0])), 100.0)
            centring = [
                item.points
                for item in items
                if isinstance(item, Line)
                and (
                    np.abs(item.points[:, 0] - paper.width / 2).max() < 1e-9
                    or np.abs(item.points[:, 1] - paper.height / 2).max() < 1e-9
                )
            ]
            self.assertEqual(len(centring), 4)

    def test_papers_are_iso(self) -> None:
        widths = [SIZES[size] for size in ("A4", "A3", "A2", "A1", "A0")]
        self.assertEqual(widths, [(297, 210), (420, 297), (594, 420), (841, 594), (1189, 841)])
        self.assertEqual((Paper("A4", "portrait").width, Paper("A4", "portrait").height), (210, 297))
        for paper in papers("auto", "auto"):
            left, bottom, right, top = paper.field
            self.assertGreaterEqual(bottom, paper.strip[3] - 1e-9)
            self.assertTrue(0 < left < right < paper.width and bottom < top < paper.height)


class Several(unittest.TestCase):
    def test_figures_stand_apart_inside_the_field_in_their_order(self) -> None:
        pieces = [piece("square-on-side", f"Boss {k}", side=20 + 6 * k) for k in range(7)]
        sheet = compose(pieces, Wishes("A4", scale="1:1"))
        left, bottom, right, top = sheet.paper.field
        for k, one in enumerate(sheet.placed):
            self.assertTrue(
                (one.low >= (left - 1e-6, bottom - 1e-6)).all() and (one.high <= (right + 1e-6, top + 1e-6)).all()
            )
            for other in sheet.placed[:k]:
                apart = np.maximum(other.low - one.high, one.low - other.high)
                self.assertGreaterEqual(float(apart.max()), BETWEEN - 1e-6)
                same_row = min(one.high[1], other.high[1]) > max(one.low[1], other.low[1])
                self.assertTrue(one.low[0] > other.high[0] if same_row else one.high[1] < other.low[1])

    def test_a_row_is_spread_evenly(self) -> None:
        sheet = compose([piece("square-on-side", side=30), piece("square-on-side", side=30)], Wishes("A4", scale="1:1"))
        left, _, right, _ = sheet.paper.field
        one, two = sheet.placed
        gaps = [one.low[0] - left, two.low[0] - one.high[0] - BETWEEN, right - two.high[0]]
        np.testing.assert_allclose(gaps, np.mean(gaps), atol=1e-6)

    def test_captions_stand_under_their_figures(self) -> None:
        pieces = [
            piece("square-on-side", "Boss", side=30),
            Piece(run(figure_named("rhombus")()), "Pane", notes="For the cap\nOak"),
        ]
        sheet = compose(pieces, Wishes("A3", scale="1:1"))
        captions = [item for item in sheet.drawing.items if isinstance(item, Text) and item.layer == "lettering"]
        self.assertEqual([item.words for item in captions], ["Boss", "Pane", "For the cap", "Oak"])
        for item, at in zip(captions, (0, 1, 1, 1)):
            placed = sheet.placed[at]
            middle = (placed.low[0] + placed.high[0]) / 2
            self.assertAlmostEqual(float(item.at[0]), float(middle))
            self.assertEqual(item.anchor, 0.5)
        lows = [float(item.at[1]) for item in captions[1:]]
        np.testing.assert_allclose(np.diff(lows), -LEADING)

    def test_a_shift_moves_a_figure_and_what_leaves_the_sheet_is_told(self) -> None:
        still, moved, off = (
            compose([Piece(run(figure_named("square-on-side")()), "Boss", shift)], Wishes("A4", scale="1:1"))
            for shift in (None, (7.0, -3.0), (400.0, 0.0))
        )
        np.testing.assert_allclose(moved.placed[0].origin - still.placed[0].origin, (7.0, -3.0))
        self.assertEqual((still.warnings, moved.warnings), ([], []))
        self.assertIn("runs off the sheet", off.warnings[0])


class Words(unittest.TestCase):
    def test_long_words_are_wrapped_then_cut_and_change_no_scale(self) -> None:
        made = run(figure_named("ellipse")())
        plain = compose([Piece(made, "Arch")], Wishes("A4"))
        long = "The rib of the centering that carries the arch over the race while its stones are set " * 12
        for notes in (long, long + "\n" + long, "W" * 5000, "\u2063" * 40, "x\n" * 50):
            noted = compose([Piece(made, "Arch", notes=notes)], Wishes("A4"))
            self.assertEqual(noted.scale, plain.scale)
            left, _, right, _ = noted.paper.field
            lines = [item for item in noted.drawing.items if isinstance(item, Text) and item.layer == "lettering"]
            self.assertLessEqual(len(lines), 4)
            for item in lines:
                low, high = text_box(item)
                self.assertTrue(low[0] >= left - 1e-6 and high[0] <= right + 1e-6)
        cut = compose([Piece(made, "Arch", notes=long)], Wishes("A4"))
        lines = [item.words for item in cut.drawing.items if isinstance(item, Text) and item.layer == "lettering"]
        self.assertEqual(len(lines), 4)
        self.assertTrue(lines[-1].endswith("…"))
        self.assertTrue(long.startswith(" ".join(lines[:3])))

    def test_short_notes_stay_as_they_are(self) -> None:
        made = run(figure_named("ellipse")())
        noted = compose([Piece(made, "Arch", notes="For the race\nOak")], Wishes("A4"))
        lines = [item.words for item in noted.drawing.items if isinstance(item, Text) and item.layer == "lettering"]
        self.assertEqual(lines, ["For the race", "Oak"])


class Tables(unittest.TestCase):
    def composed(self, step: float, scale: str) -> tuple[Sheet, Table]:
        made = run(figure_named("ellipse")())
        table = curve_table(made.figure, made.method.id, TableWish("level", step), Style())
        return compose([Piece(made, "Arch", table=table)], Wishes("A4", scale=scale)), table

    def test_a_table_stands_in_a_free_corner_and_moves_nothing(self) -> None:
        sheet, _ = self.composed(19.0, "1:2")
        mine = bounds([item for item in sheet.drawing.items if item.layer == "table"])
        field = np.array(sheet.paper.field).reshape(2, 2)
        self.assertTrue((mine[0] >= field[0]).all() and (mine[1] <= field[1]).all())
        off = np.minimum(np.abs(mine[0] - field[0]), np.abs(mine[1] - field[1]))
        self.assertLess(float(off.max()), 8.0, "it stands in a corner")
        for item in sheet.drawing.items:
            if item.layer not in ("table", "frame") and (course := item.polyline()) is not None:
                within = ((course > mine[0]) & (course < mine[1])).all(axis=1)
                self.assertFalse(within.any(), item.layer)
        bare = compose([Piece(sheet.placed[0].piece.run, "Arch")], Wishes("A4", scale="1:2"))
        np.testing.assert_allclose(sheet.placed[0].origin, bare.placed[0].origin)
        self.assertIsNotNone(sheet.placed[0].piece.table)

    def test_without_a_free_corner_it_stands_to_the_right_level_with_the_middle(self) -> None:
        sheet, table = self.composed(10.0, "1:1")
        mine = bounds([item for item in sheet.drawing.items if item.layer == "table"])
        figure = bounds([item for item in sheet.drawing.items if item.owner.startswith("#")])
        self.assertGreaterEqual(float(mine[0][0]), float(figure[1][0]) + BETWEEN - 1.0)
        self.assertAlmostEqual(float(mine[0][1] + mine[1][1]) / 2, float(figure[0][1] + figure[1][1]) / 2, delta=8.0)
        placed = sheet.placed[0]
        self.assertTrue((mine[0] >= placed.low - 0.5).all() and (mine[1] <= placed.high + 0.5).all())
        left, bottom, right, top = sheet.paper.field
        self.assertTrue((mine[0] >= (left, bottom)).all() and (mine[1] <= (right, top)).all())
        numbers = [item.words for item in sheet.drawing.items if isinstance(item, Text) and item.layer == "table"]
        for room in (200.0, 60.0, 40.0):
            size = table_size(table, room)
            drawn = bounds(table_items(table, np.array([0.0, 0.0]), room))
            spare = size - (drawn[1] - drawn[0])
            self.assertTrue((spare > -0.1).all() and spare[0] < 0.1 and spare[1] < 6.5, str(spare))
            self.assertLessEqual(float(size[1]), max(room, 7 * 4.4) + 1e-9)
        self.assertEqual(numbers[0], table.title)
        self.assertEqual(len(numbers), 1 + (len(table.rows) + 1) * len(table.columns))
