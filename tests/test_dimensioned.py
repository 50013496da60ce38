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
