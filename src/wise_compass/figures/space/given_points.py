"""Figures whose givens are points in space: how their front and top views are set out, and what is read off them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import nullcontext
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.dimensions import Dimension, running, told, upright
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import SHORTEST_LENGTH
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.places import SpacePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import least_mm, mm
from wise_compass.geometry.vectors import Array, distance, length, point

LEFT, RIGHT, ROOM = 14.0, 10.0, 12.0
"""How far the reference line runs beyond the points, and what is left between the views in third angle."""
MANY = 3
"""Points that are set out step by step; the steps of more than these fold, a move a point."""
SAME = 1e-9
"""Two spots nearer than this, in mm to the mm of the figure's size, are one."""


class SetOut(NamedTuple):
    """Both views of the given points, and the projectors that they stand on."""

    views: Views
    projectors: dict[str, LineMark]


class GivenPoints(InViews, Figure):
    """Base of the figures on points in space: in front of the planes or behind them, above or below."""

    @property
    def letters(self) -> list[str]:
        return [name for name, one in self.givens.items() if isinstance(one, SpacePoint)]

    def place(self, letter: str) -> Array:
        """A given point as x, y, z."""
        return self._places[letter]

    @cached_property
    def _places(self) -> dict[str, Array]:
        return {letter: np.array(self.given_values[letter]) for letter in self.letters}

    @cached_property
    def size(self) -> float:
        """The largest coordinate: what rounding is measured against."""
        return max(1.0, *(float(np.abs(self.place(letter)).max()) for letter in self.letters))

    @cached_property
    def same(self) -> float:
        """Places nearer than this are one."""
        return SAME * self.size

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        """How far each point lies above the ground and before the wall, and how far apart their projectors stand."""
        lowest: list[tuple[str, Array]] = []
        for letter in self.letters:
            _, y, z = self.place(letter).tolist()
            front, top = found[f"{letter}.front"], found[f"{letter}.top"]
            yield from told([upright(front - point(0.0, z), front, letter, abs(z), rank=1)])
            yield from told([upright(top + point(0.0, y), top, letter, abs(y), rank=1)])
            lowest.append((letter, min(front, top, key=lambda p: float(p[1]))))
        lowest.sort(key=lambda pair: (float(pair[1][0]), pair[0]))
        for letter, at in lowest[1:]:
            yield from running(letter, lowest[0][1], [at], 0.0, -1)

    def refuse_same(self, one: str, other: str) -> None:
        """Refuse two points with no line between them."""
        gap = float(length(self.place(other) - self.place(one)))
        if gap < SHORTEST_LENGTH * (1 - SAME):
            raise Refused(
                other,
                f"{other} lies {mm(gap)} from {one}; two points that a line is drawn through are at least "
                f"{least_mm(SHORTEST_LENGTH)} apart. Move {other}, or {one}.",
            )

    def set_out(self, d: Draft) -> SetOut:
        """The reference line, and the front and top view of every point."""
        places = {letter: self.place(letter) for letter in self.letters}
        first = min(float(p[0]) for p in places.values())
        last = max(float(p[0]) for p in places.values())
        high, deep = (max(0.0, *(float(p[k]) for p in places.values())) for k in (2, 1))
        views = Views.about_line(d, high, deep, ROOM)
        projectors: dict[str, LineMark] = {}
        with d.phase("The points"):
            start = d.start_at(
                "X", first, says="Mark X, where the projector of the leftmost point will stand.", kind="plain"
            )
            line = views.reference_line(start, -LEFT, last - first + RIGHT)
            for letter, p in places.items():
                if same := next((one for one in projectors if np.abs(places[one] - p).max() <= self.same), None):
                    self._again(d, views, letter, same)
                    projectors[letter] = projectors[same]
                    continue
                with d.move(f"Set out {letter}") if len(places) > MANY else nullcontext():
                    projectors[letter] = self._set_out(d, views, letter, start, line, float(p[0]) - first)
        for letter in places:
            d.in_space(letter, views.solid(views.spot(letter, views.front).at, views.spot(letter, views.top).at))
        return SetOut(views, projectors)

    def _set_out(self, d: Draft, views: Views, letter: str, start: Spot, line: LineMark, beyond: float) -> LineMark:
        """A point's projector, ``beyond`` mm from the start, and both its views on it."""
        p, foot = self.place(letter), start
        if beyond > self.same:
            says = f"Measure along the reference line to the projector of {letter}."
            foot = d.lay_off(line, start, beyond, "", says, kind="plain")
        projector = d.upright_from(foot, f"Draw the projector of {letter} upright.", role=Role.PROJECTOR)
        for view, words, why in (
            (views.front, "front", _side(float(p[2]), "above", "below", "horizontal")),
            (views.top, "top", _side(float(p[1]), "in front of", "behind", "vertical")),
        ):
            self._view_of(d, view, letter, foot, projector, words, why)
        return projector

    def _again(self, d: Draft, views: Views, letter: str, same: str) -> None:
        with d.as_one("Pencil", f"{letter} is {same} again: one point has both letters."):
            for view in (views.front, views.top):
                d.also(view.key(letter), views.spot(same, view))

    def _view_of(
        self, d: Draft, view: View, letter: str, foot: Spot, projector: LineMark, words: str, why: str
    ) -> None:
        off = float(view.at(self.place(letter))[1])
        if abs(off) <= self.same:
            with d.as_one("Pencil", f"The {words} view of {letter} falls on the reference line."):
                d.also(view.key(letter), foot)
        else:
            d.lay_off(projector, foot, off, view.key(letter), f"Lay off the {words} view of {letter}.", why)

    def point_truths(self, found: Found) -> Iterator[Truth]:
        for letter in self.letters:
            yield Truth(f"Both views of {letter} fix its given place", found[letter] - self.place(letter))


def _side(off: float, one: str, other: str, plane: str) -> str:
    """On which side of a plane of projection a point lies, and how far."""
    return f"{mm(abs(off))} {one if off >= 0 else other} the {plane} plane"


def is_point(one: Spot, other: Spot, same: float) -> bool:
    """Whether two spots are one, so that a line between them is seen end-on."""
    return float(distance(one.here, other.here)) <= same
