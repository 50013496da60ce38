"""What paths of points of links share: the point that is carried along a link, its curve, and how a hand carries it."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, Moving
from wise_compass.drafting.course import Course, Frame, evenly
from wise_compass.drafting.dimensions import Dimension, Linear, told
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.truths import Found, Truth
from wise_compass.geometry.curves import Curve, sampled
from wise_compass.geometry.vectors import Array, Number, cross, distance, left_of, unit

BESIDE = 1e-9
"""mm under which a point is carried on the link itself, or at its end."""


class Carried(Curved, Moving, Figure):
    """A figure that follows a point carried by a link: ``along`` it from its first end and ``off`` to its left, at so
    many ``divisions`` of a turn."""

    along: float
    off: float
    divisions: int

    @abstractmethod
    def link_at(self, turn: Number) -> tuple[Array, Array]:
        """Both ends of the link at some turns in degrees, (…, 2) each."""

    def carried(self, turn: Number) -> Array:
        """The carried point at some turns, (…, 2)."""
        one, other = self.link_at(turn)
        u = unit(other - one)
        return np.asarray(one + self.along * u + self.off * left_of(u))

    @property
    def turns(self) -> Array:
        return evenly(360.0 / self.divisions, self.divisions)

    @property
    def reach(self) -> float:
        """How far the point stands from the link's first end."""
        return float(np.hypot(self.along, self.off))

    @cached_property
    def path_curve(self) -> Curve:
        """The path, closed, by the turn in degrees."""
        return sampled(self.carried)

    def fixed_at(self, turn: float) -> tuple[Array, ...]:
        """Further links at a turn in degrees, lines of two places or more: a crank, a rocker."""
        return ()

    def mechanism(self, found: Found, t: float) -> Frame | None:
        """The links where the crank has turned by ``t``, with the carried point on its own."""
        (one, other), at = self.link_at(t), self.carried(t)
        way = unit(other - one)
        arm = np.array([one, one + self.along * way, at])
        ends = tuple(end for line in self.fixed_at(t) for end in line)
        return Frame((np.array([one, other]), arm, *self.fixed_at(t)), (), (one, other, *ends, at))

    def courses(self, method: str) -> Sequence[Course]:
        names = tuple(f"P{k}" for k in range(self.divisions))
        return (Course("the path", self.path_curve, self.turns, names, turn="turn of the crank"),)

    @property
    def path(self) -> list[list[float]]:
        return [[float(x) for x in at] for at in self.carried(self.turns)]

    def carried_truths(self, found: Found, first: str, second: str) -> Iterator[Truth]:
        """The point stands as far along the link and off it as given, at every position."""
        one, other, at = (found.group(name) for name in (first, second, "P"))
        u = other - one
        size = distance(one, other)
        yield Truth(
            "The point is carried as far along the link as given", ((at - one) * u).sum(axis=-1) / size - self.along
        )
        yield Truth("It stands as far to the left of the link as given", cross(u, at - one) / size - self.off)


def carry(d: Draft, one: Spot, other: Spot, along: float, off: float, name: str) -> Spot:
    """The point ``along`` a link from its first end and ``off`` to its left, at the current step."""
    if abs(along) < BESIDE and abs(off) < BESIDE:
        return d.also(name, one)
    line = d.rule(one, other)
    foot = d.lay_off(line, one, along, "" if abs(off) > BESIDE else name)
    if abs(off) <= BESIDE:
        return foot
    return d.lay_off(d.square_to(line, foot), foot, off, name)


def carried_dimensions(start: Array, end: Array, at: Array, along: float, off: float) -> Iterable[Dimension]:
    """How far along a rod a point is carried, and how far off it."""
    foot = start + unit(end - start) * along
    return told([Linear(start, foot, "along", abs(along)), Linear(foot, at, "off", abs(off), side=1)])
