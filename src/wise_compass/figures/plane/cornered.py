"""What figures of given corners share: a polygon told by its corners, not crossing itself, either way round."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.wording import mm
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.vectors import Array, distance

LETTERS = "ABCDEFGHIJKL"
CLOSEST = 0.1
"""mm that corners lie apart at least."""
EMPTY = 1e-6
"""Of the square of its girth: the area of a polygon that is none."""


class Cornered(Figure):
    """A figure whose givens are the ``corners`` of a polygon."""

    corners: Rows

    @cached_property
    def places(self) -> Array:
        """The corners, (n, 2)."""
        return np.array(self.given_values["corners"], dtype=float)

    @property
    def letters(self) -> str:
        return LETTERS[: len(self.places)]

    @property
    def lettered(self) -> dict[str, tuple[float, ...]]:
        """The corners by their letters."""
        return {name: tuple(map(float, at)) for name, at in zip(self.letters, self.places)}

    @property
    def area(self) -> float:
        """What the polygon encloses, above 0 either way round."""
        return abs(float(shoelace(self.places)))

    def refuse(self) -> None:
        places, n = self.places, len(self.places)
        for k in range(n):
            if float(distance(places[k], places[(k + 1) % n])) < CLOSEST:
                raise Refused(
                    "corners",
                    f"Corners {self.letters[k]} and {self.letters[(k + 1) % n]} lie within {mm(CLOSEST)} of each "
                    f"other. Change row {(k + 1) % n + 1} of corners.",
                )
        for i in range(n):
            for j in range(i + 2, n):
                if (i, j) != (0, n - 1) and _cross(places[[i, i + 1]], places[[j, (j + 1) % n]]):
                    one, other = (f"{self.letters[k]}{self.letters[(k + 1) % n]}" for k in (i, j))
                    raise Refused(
                        "corners", f"The sides {one} and {other} cross. Put the corners in their order round."
                    )
        girth = float(distance(places, np.roll(places, -1, axis=0)).sum())
        if self.area < EMPTY * girth**2:
            raise Refused("corners", "The corners lie in one line and enclose nothing. Move one of them off it.")

    def corner_truths(self, found: Found) -> Iterator[Truth]:
        """Every given corner stands where it was told, from the first on."""
        start = found["A"] - self.places[0]
        for name, at in zip(self.letters[1:], self.places[1:]):
            yield Truth(f"{name} stands where it is given", found[name] - at - start)


def _cross(one: Array, other: Array) -> bool:
    """Whether two stretches, (2, 2) each, touch or cross."""

    def side(line: Array, at: Array) -> float:
        u, v = line[1] - line[0], at - line[0]
        return float(u[0] * v[1] - u[1] * v[0])

    def within(line: Array, at: Array) -> bool:
        return bool((np.minimum(*line) <= at).all() and (at <= np.maximum(*line)).all())

    a, b = side(one, other[0]), side(one, other[1])
    c, e = side(other, one[0]), side(other, one[1])
    if a * b < 0 and c * e < 0:
        return True
    return any(
        s == 0 and within(line, at)
        for s, line, at in ((a, one, other[0]), (b, one, other[1]), (c, other, one[0]), (e, other, one[1]))
    )
