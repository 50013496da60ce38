"""Every given that is a length or an angle stands on its drawing once, where it shows truly, and can be read there."""

from __future__ import annotations

import unittest
from collections.abc import Iterator

import numpy as np

from tests.parted import parted
from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear, Radial
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Length
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.vectors import Array
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.drawing import Line, Text
from wise_compass.sheet.lettering import CAP_HEIGHT, text_width
from wise_compass.sheet.piece import Piece, Wishes

LETTERED = "points", "dimension"
"""The layers in which letters and figures of a drawing stand."""
TOLD_BY = ("touch", "show", "drawn", "kind", "cut", "second", "by", "contact", "main", "shown", "follower", "rule")
"""The choices that change what stands on the paper."""


def shown(kind: type[Figure]) -> Iterator[Figure]:
    """A figure as it is at first, and with every choice that changes what is drawn."""
    yield kind()
    for name, given in kind.givens.items():
        if isinstance(given, Choice) and name in TOLD_BY:
            for option in given.options:
                if option != given.default:
                    try:
                        yield kind(**{name: option})
                    except Refused:
                        continue


def runs(kind: type[Figure]) -> Iterator[Run]:
    for figure in shown(kind):
        for method in kind.methods.values():
            if method.fits(figure) is None:
                for projection in ("first", "third"):
                    yield run(figure, method.id, Conventions(projection=projection))


def measured(made: Run) -> dict[str, float]:
    """The lengths and angles that its sentence tells of, but for those that are nothing."""
    figure = made.figure
    told = type(figure).sentence(figure.given_values, made.method.id)
    return {
        name: abs(float(figure.given_values[name]))
        for name, given in figure.givens.items()
        if isinstance(given, (Length, Angle)) and figure.given_values[name] and f"{{{name}}}" in told
    }


class Givens(unittest.TestCase):
    def check(self, made: Run) -> None:
        dimensions = [
            one for one in made.figure.dimensions(made.found) if not one.derived and one.given != "closing_gap"
        ]
        names = [one.given for one in dimensions]
        self.assertLessEqual(set(names), set(made.figure.givens), "each is of a given")
        for name, value in measured(made).items():
            self.assertEqual(names.count(name), 1, f"{name} stands on it so often")
            self.assertAlmostEqual(
                next(one.value for one in dimensions if one.given == name), value, delta=1e-9 * value
            )
        for one in dimensions:
            self.shows(one, 1e-7 if made.method.exact(made.figure) else 5e-3)

    def shows(self, one: Dimension, miss: float) -> None:
        """What is drawn is as long, or as wide an angle, as it says."""
        if isinstance(one, Radial):
            self.assertAlmostEqual(
                one.radius * (2 if one.diameter else 1), one.value, delta=miss * one.value, msg=str(one)
            )
        elif isinstance(one, Angular):
            self.assertAlmostEqual(one.sweep, one.value, delta=miss * one.value, msg=str(one))
        elif isinstance(one, Linear):
            span = float((one.q - one.p) @ one.way)
            if one.out is None:
                self.assertAlmostEqual(span, one.value, delta=miss * one.value + 1e-9, msg=str(one))
            else:
                self.assertTrue(
                    0.05 * one.value < span < (1 + 1e-9) * one.value * 1.5, f"along a picture's axis: {one}"
                )
        else:
            self.assertIsInstance(one, Leader)
            self.assertTrue(np.isfinite(one.at).all())

    @parted(4)
    def test_each_stands_there_once_and_as_long_as_it_says(self, kinds: list[type[Figure]]) -> None:
        for kind in kinds:
            for made in runs(kind):
                with self.subTest(
                    kind.id,
                    method=made.method.id,
                    projection=made.conventions.projection,
                    **{name: made.figure.given_values[name] for name in TOLD_BY if name in made.figure.given_values},
                ):
                    self.check(made)


def rectangle(text: Text) -> tuple[Array, Array, Array, float, float]:
    """Words as a rectangle: where it begins, the directions along and up, its width and its height."""
    turn = np.deg2rad(text.turn)
    along, up = np.array([np.cos(turn), np.sin(turn)]), np.array([-np.sin(turn), np.cos(turn)])
    wide = text_width(text.words, text.size, text.bold)
    return text.at - along * wide * text.anchor, along, up, wide, 0.7 * text.size


def within(places: Array, text: Text, less: float) -> bool:
    """Whether any of some places lies in words, their rectangle made less on every side."""
    start, along, up, wide, high = rectangle(text)
    x, y = (places - start) @ along, (places - start) @ up
    return bool(((x > less) & (x < wide - less) & (y > less) & (y < high - less)).any())


def filled(text: Text) -> Array:
    """Places all over some words."""
    start, along, up, wide, high = rectangle(text)
    x, y = np.meshgrid(np.linspace(0.0, wide, 40), np.linspace(0.0, high, 12))
    return np.asarray(start + x.reshape(-1, 1) * along + y.reshape(-1, 1) * up)


def dense(course: Array) -> Array:
    """Places along a polyline, a fifth of a millimetre apart."""
    return np.concatenate(
        [np.linspace(p, q, 2 + int(np.hypot(*(q - p)) / 0.2)) for p, q in zip(course[:-1], course[1:])]
    )


class Sheets(unittest.TestCase):
    def check(self, sheet: Sheet) -> int:
        """What stands on a sheet can be read: figures on no dark line and on no other figures, all within the frame."""
        told = [item for item in sheet.drawing.items if item.layer == "dimension"]
        words = [item for item in told if isinstance(item, Text)]
        left, bottom, right, top = sheet.paper.frame
        dark = [item.polyline() for item in sheet.drawing.items if item.layer == "result"]
        lines = np.concatenate([dense(course) for course in dark if course is not None] or [np.zeros((1, 2))])
        for item in told:
            low, high = bounds([item])
            self.assertTrue(low[0] > left and low[1] > bottom and high[0] < right and high[1] < top, item.owner)
        for k, one in enumerate(words):
            self.assertFalse(within(lines, one, 0.15), f"{one.words} of {one.owner} stands on a line")
            for other in words[k + 1 :]:
                self.assertFalse(within(filled(one), other, 0.0), f"{one.words} on {other.words}")
        return len(words)

    def spans(self, sheet: Sheet) -> None:
        """A length between two arrowheads is as long on the paper as its figures say, times the scale."""
        made = sheet.placed[0].piece.run
        tips: dict[str, list[Array]] = {}  # an arrowhead's is its first corner, a tick's its middle
        for item in sheet.drawing.items:
            if isinstance(item, Line) and item.layer == "dimension" and item.filled:
                tips.setdefault(item.owner, []).append(
                    item.points[0] if len(item.points) == 3 else item.points.mean(axis=0)
                )
        for one in made.figure.dimensions(made.found):
            ends = tips.get(f"given:{one.given}", [])
            if isinstance(one, Linear) and not (one.out or one.running or one.derived) and len(ends) == 2:
                span = float(np.hypot(*(ends[0] - ends[1]))) / sheet.scale
                miss = 1e-6 if made.method.exact(made.figure) else 5e-3
                self.assertAlmostEqual(span, one.value, delta=miss * one.value + 1e-6, msg=one.given)

    def test_into_how_many_parts_a_curve_is_divided_stands_with_all_of_them(self) -> None:
        made = run(figure_named("ellipse")(divisions=16))
        for told, style, there in (
            ("all", Style(), True),
            ("all", Style("in", 2, True), True),  # a count is no length
            ("given", Style(), False),
        ):
            sheet = compose([Piece(made, dimensions=told)], Wishes("A3", style=style))
            words = {item.words for item in sheet.drawing.items if isinstance(item, Text)}
            self.assertEqual("(divisions 16)" in words, there, told)

    def test_letters_a_step_larger_are_so_on_the_paper(self) -> None:
        made = run(figure_named("prism")())
        sizes = []
        for style in (Style(), Style(larger=True)):
            sheet = compose([Piece(made)], Wishes("A3", style=style))
            shown = [item.size for item in sheet.drawing.items if isinstance(item, Text) and item.layer in LETTERED]
            self.assertEqual(len(set(shown)), 1)
            sizes.append(shown[0] * CAP_HEIGHT)
        np.testing.assert_allclose(sizes, [3.5, 5.0])

    @parted(4)
    def test_every_sheet_can_be_read(self, kinds: list[type[Figure]]) -> None:
        counted = crowded = 0
        for kind in kinds:
            for method in kind.methods.values():
                for projection, style in (
                    ("first", Style()),
                    ("first", Style(larger=True)),
                    ("third", Style("in", 2, True, "numbers", True)),
                ):
                    figure = kind()
                    if method.fits(figure) is not None:
                        continue
                    made = run(figure, method.id, Conventions(projection=projection))
                    sheet = compose([Piece(made, dimensions="all")], Wishes("auto", style=style))
                    with self.subTest(kind.id, method=method.id, projection=projection):
                        self.spans(sheet)
                        if style.units == "in" and sheet.warnings:  # long figures in a narrow place: it says so
                            self.assertIn("no free place", sheet.warnings[0])
                            crowded += 1
                            continue
                        self.assertEqual(sheet.warnings, [])
                        counted += self.check(sheet)
        self.assertGreater(counted, 100)
        self.assertLess(crowded, 3)
