"""The frame of a sheet, its strip and its bar: where each stands on every paper, and what the strip tells."""

from __future__ import annotations

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.sheet.drawing import Arc, Item, Line, Text
from wise_compass.sheet.frame import TitleStrip, frame_items, surround
from wise_compass.sheet.lettering import fitted, text_width
from wise_compass.sheet.paper import SCALES, SIZES, Paper

PAPERS = [Paper(size, lie) for size in SIZES for lie in ("landscape", "portrait")]
STRIP = TitleStrip("Wrenfold Mill", "Arch over the race", "6/50", 0.05, "mm")


def texts(items: tuple[Item, ...]) -> dict[str, Text]:
    return {item.words: item for item in items if isinstance(item, Text)}


class Frames(unittest.TestCase):
    def test_margins_are_those_of_the_standard_on_every_paper(self) -> None:
        """ISO 5457: 20 mm on the left for filing, 10 mm elsewhere, and marks in the middle of every side."""
        for paper in PAPERS:
            lines = [item for item in frame_items(paper) if isinstance(item, Line)]
            frame = next(one for one in lines if one.closed)
            low, high = frame.points.min(axis=0), frame.points.max(axis=0)
            np.testing.assert_allclose(low, (20.0, 10.0))
            np.testing.assert_allclose(high, (paper.width - 10.0, paper.height - 10.0))
            marks = [one.points for one in lines if not one.closed and abs(np.ptp(one.points, axis=0)).max() < 18]
            for middle, axis in ((paper.width / 2, 0), (paper.height / 2, 1)):
                mine = [one for one in marks if np.allclose(one[:, axis], middle)]
                self.assertEqual(len(mine), 2, f"{paper.size} {paper.lie}")
                for mark in mine:
                    edge = min(mark[:, 1 - axis], key=lambda x: min(abs(x - low[1 - axis]), abs(x - high[1 - axis])))
                    self.assertLess(
                        min(abs(edge - low[1 - axis]), abs(edge - high[1 - axis])), 1e-9, "it reaches the frame"
                    )

    def test_the_bar_is_100_mm_parted_by_tens(self) -> None:
        for paper in PAPERS:
            lines = [item.points for item in frame_items(paper) if isinstance(item, Line) and not item.closed]
            bar = next(one for one in lines if abs(np.ptp(one[:, 0]) - 100.0) < 1e-9)
            self.assertLess(bar[0, 1], 10.0, "below the frame")
            ticks = sorted(
                float(one[0, 0])
                for one in lines
                if one[0, 0] == one[1, 0] and abs(one[0, 1] - bar[0, 1]) < 1e-9 and one[1, 1] < 8
            )
            np.testing.assert_allclose(np.diff(ticks), 10.0)
            self.assertEqual(len(ticks), 11)


class Strips(unittest.TestCase):
    def test_it_tells_what_the_sheet_is(self) -> None:
        for paper, scale in itertools.product(PAPERS, SCALES):
            told = texts(surround(paper, STRIP._replace(scale=scale)))
            name = f"{scale:g}:1" if scale >= 1 else f"1:{1 / scale:.0f}"
            for words in ("Wrenfold Mill", "Arch over the race", "6/50", name, paper.size, "Unit", "mm"):
                self.assertIn(words, told)
            self.assertNotIn("Projection", told)

    def test_it_lies_in_the_lower_right_corner_and_nothing_leaves_it(self) -> None:
        long = STRIP._replace(
            project="A mill of many floors " * 12, title="A title that has no end to it " * 9, projection="first"
        )
        for paper in PAPERS:
            left, bottom, right, top = paper.strip
            self.assertEqual((right, bottom), (paper.width - 10.0, 10.0))
            for item in set(surround(paper, long)) - set(frame_items(paper)):
                if isinstance(item, Text) and item.at[1] > 10.0:
                    reach = float(item.at[0]) + text_width(item.words, item.size, item.bold)
                    self.assertTrue(left <= item.at[0] and reach <= right + 1e-9, item.words)
                    self.assertTrue(bottom < item.at[1] < top)
            cells = sorted({float(item.points[0, 0]) for item in surround(paper, long) if _upright(item, bottom, top)})
            for words, item in texts(surround(paper, long)).items():
                if item.at[1] > 10.0 and words:
                    end = next((x for x in [*cells, right] if x > item.at[0] + 0.1), right)
                    self.assertLessEqual(float(item.at[0]) + text_width(words, item.size, item.bold), end + 1e-9, words)

    def test_the_symbol_shows_the_small_end_where_that_projection_has_it(self) -> None:
        """ISO 5456-2: in first angle the circles stand to the right of the cone that narrows to the left; in third to
        its left."""
        for projection in ("first", "third"):
            items = surround(PAPERS[0], STRIP._replace(projection=projection))
            circles = [item for item in items if isinstance(item, Arc)]
            self.assertEqual([circle.radius for circle in circles], [2.0, 3.6])
            (cone,) = [
                item
                for item in items
                if isinstance(item, Line) and item.closed and len(item.points) == 4 and _is_cone(item)
            ]
            at, middle = float(circles[0].centre[0]), float(cone.points[:, 0].mean())
            self.assertEqual(at > middle, projection == "first")
            left = cone.points[cone.points[:, 0] == cone.points[:, 0].min()]
            right = cone.points[cone.points[:, 0] == cone.points[:, 0].max()]
            self.assertLess(np.ptp(left[:, 1]), np.ptp(right[:, 1]))
            self.assertIn("Projection", texts(items))

    @settings(max_examples=examples(150), deadline=None)
    @given(st.text("abc dWM,.é", max_size=80), st.floats(1.0, 90.0), st.floats(1.5, 5.0))
    def test_words_are_shortened_to_their_room_and_no_more(self, words: str, room: float, size: float) -> None:
        found = fitted(words, size, room)
        if text_width(words, size, True) <= room:
            self.assertEqual(found, words)
            return
        self.assertLessEqual(text_width(found, size, True), room)
        if found:
            self.assertTrue(found.endswith("…"))
            kept = found[:-1]
            self.assertTrue(words.startswith(kept))
            more = words[: len(kept) + 1].rstrip() + "…"
            self.assertTrue(
                more == found or text_width(more, size, True) > room or words[len(kept)] == " ",
                "a letter more has no room",
            )


def _upright(item: Item, bottom: float, top: float) -> bool:
    """Whether it parts two cells of the strip."""
    return (
        isinstance(item, Line)
        and not item.closed
        and item.points.shape == (2, 2)
        and bool(
            item.points[0, 0] == item.points[1, 0]
            and {float(item.points[0, 1]), float(item.points[1, 1])} == {bottom, top}
        )
    )


def _is_cone(item: Line) -> bool:
    return bool(np.ptp(item.points[:, 0]) == 9.0)


if __name__ == "__main__":
    unittest.main()
