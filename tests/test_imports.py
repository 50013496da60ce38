"""Rows and polylines from elsewhere, against coordinates worked out beside them."""

from __future__ import annotations

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.refusals import Refused
from wise_compass.job.imports import polyline_from_svg, rows_from_text

POINTS = "0,0 40,0 40,30 10,50"
CORNERS = np.array([[0.0, 0.0], [40.0, 0.0], [40.0, 30.0], [10.0, 50.0]])


def read(text: str) -> np.ndarray:
    return np.array([[float(cell) for cell in row] for row in polyline_from_svg(text)])


def svg(inner: str, head: str = 'viewBox="0 0 100 100"') -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{inner}</svg>'


def upward(places: np.ndarray) -> np.ndarray:
    """From the first, y upward."""
    return np.asarray((places - places[0]) * (1, -1))


class Polylines(unittest.TestCase):
    def test_every_transform_and_their_order(self) -> None:
        def turned(degrees: float) -> np.ndarray:
            c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
            return np.array([[c, -s], [s, c]])

        tan = math.tan(math.radians(20))
        for words, want in (
            ("translate(7)", CORNERS + (7, 0)),
            ("translate(7, -3)", CORNERS + (7, -3)),
            ("scale(2)", CORNERS * 2),
            ("scale(2 0.5)", CORNERS * (2, 0.5)),
            ("rotate(30)", CORNERS @ turned(30).T),
            ("rotate(30, 10, 20)", (CORNERS - (10, 20)) @ turned(30).T + (10, 20)),
            ("skewX(20)", CORNERS @ np.array([[1, tan], [0, 1]]).T),
            ("skewY(20)", CORNERS @ np.array([[1, 0], [tan, 1]]).T),
            ("matrix(1 2 3 4 5 6)", CORNERS @ np.array([[1, 3], [2, 4]]).T + (5, 6)),
            ("translate(5,5) rotate(90) scale(3)", CORNERS * 3 @ turned(90).T + (5, 5)),
        ):
            with self.subTest(words):
                alone = svg(f'<polygon transform="{words}" points="{POINTS}"/>')
                np.testing.assert_allclose(read(alone), upward(want), atol=2e-4)
                parts = words.replace(") ", ")|").split("|")
                nested = "".join(f'<g transform="{part}">' for part in parts)
                within = svg(f'{nested}<polyline points="{POINTS}"/>{"</g>" * len(parts)}')
                np.testing.assert_allclose(read(within), upward(want), atol=2e-4)

    def test_paths_of_straight_lines_however_they_are_told(self) -> None:
        for course in (
            "M0 0 L40 0 L40 30 L10 50", "M0,0 40,0 40,30 10,50 Z", "m0 0 40 0 0 30 -30 20", "M0 0H40V30L10 50",
            "m0 0h40v30l-30 20z",
            "M0 0L40 0 40 30 10 50M200 200L300 300",
        ):  # fmt: skip
            np.testing.assert_allclose(
                read(svg(f'<path d="{course}"/>'))[:4], upward(CORNERS), atol=1e-9, err_msg=course
            )

    def test_the_first_that_is_drawn(self) -> None:
        hidden = '<defs><polyline points="0,0 1,1"/></defs><path d="M0 0 C1 1 2 2 3 3"/><polyline points="9,9"/>'
        np.testing.assert_allclose(read(svg(f'{hidden}<polyline points="{POINTS}"/>')), upward(CORNERS))

    def test_lengths_are_as_the_file_shows_them(self) -> None:
        inner, pixel = f'<polyline points="{POINTS}"/>', 25.4 / 96
        for head, scale in (
            ('viewBox="0 0 100 100"', 1.0),
            ('width="100%" viewBox="0 0 100 100"', 1.0),
            ('width="50mm" viewBox="0 0 100 100"', 0.5),
            ('width="50" viewBox="0,0,100,100"', 0.5 * pixel),
            ('width="2in" height="5cm" viewBox="0 0 100 100"', 0.5),
            ('width="8cm" height="2in" viewBox="0 0 100 100"', 0.508),
            ("", pixel),
            ('width="100mm" height="100mm"', pixel),
        ):
            np.testing.assert_allclose(read(svg(inner, head)), upward(CORNERS) * scale, atol=1e-3, err_msg=head)

    def test_what_cannot_be_read_is_one_line(self) -> None:
        for text in (
            "no file", svg(""), svg('<polyline points="1,1"/>'),
            svg(f'<polyline transform="spin(3)" points="{POINTS}"/>'),
            svg(f'<polyline transform="matrix(1 2)" points="{POINTS}"/>'), svg("", 'width="wide" viewBox="0 0 9 9"'),
            svg("", 'width="0" viewBox="0 0 9 9"'), svg("", 'width="9mm" viewBox="0 0 a 9"'), svg("",
            'height="9mm" viewBox="0 0 9"'),
            svg(f'<polyline transform="scale(1e300) scale(1e300)" points="{POINTS}"/>'),
            '<!DOCTYPE svg [<!ENTITY a "b">]><svg/>',
        ):  # fmt: skip
            with self.subTest(text), self.assertRaises(Refused) as caught:
                polyline_from_svg(text)
            self.assertEqual(len(caught.exception.says.splitlines()), 1)

    @settings(max_examples=examples(150), deadline=None)
    @given(
        st.text("MLHVZmlhvzCc0123456789.,-e ", max_size=40), st.text("abcdegiklmnoprstuw0123456789.,-e() ", max_size=30)
    )
    def test_no_file_brings_anything_but_corners_or_one_line(self, course: str, transform: str) -> None:
        try:
            found = read(svg(f'<path transform="{transform}" d="{course}"/>'))
        except Refused as refusal:
            self.assertEqual(refusal.says.splitlines(), [refusal.says])
        else:
            self.assertTrue(np.isfinite(found).all())


class Pasted(unittest.TestCase):
    def test_tabs_semicolons_or_commas_and_no_heading(self) -> None:
        for text in ("x\ty\n1\t2\n3\t4\t\n", "1;2\n\n3;4;", "1, 2\n3 ,4", "length, width\n1,2\n3,4"):
            self.assertEqual(rows_from_text(text), [["1", "2"], ["3", "4"]])
        self.assertEqual(rows_from_text("12,5;3\n7;8"), [["12,5", "3"], ["7", "8"]])

    def test_words_alone_are_refused(self) -> None:
        for text in ("", "  \n", "length\twidth"):
            with self.assertRaises(Refused):
                rows_from_text(text)


if __name__ == "__main__":
    unittest.main()
