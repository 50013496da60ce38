"""A hand of its own: instruments with other errors than those that are assumed, on plain numbers.

Errors have heavy tails (Student's t of four degrees), one drawing is from 0.67 to 2 times as unsteady as another, the
T-square of a drawing lies up to 0.15° out, and lines lean to one side. Nothing of it comes from the product: only the
sizes that a careful hand keeps (a third of a millimetre off the rule, a line's width) are common knowledge.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from bench.apart.pencil import Pencil

Array = NDArray[np.float64]
Drawn = dict[str, Array]
ORIGIN = np.zeros(2)


class Blundered(Exception):
    """The hand came to no crossing."""


@dataclass
class Hand:
    """One drawing's hand. ``wrong`` is which of its readings is off, and what is read instead of the number;
    ``readings`` are the steps at which it read a number so far."""

    seed: int
    wrong: tuple[int, Callable[[float], float]] | None = None
    readings: list[int] = field(default_factory=list)
    step: int = 0

    def __post_init__(self) -> None:
        self.random = np.random.default_rng((self.seed, 991))
        self.unsteady = float(np.exp(self.random.uniform(np.log(0.67), np.log(2.0))))
        self.level_out = float(self.random.uniform(-0.15, 0.15))
        self.leaning = float(self.random.uniform(-0.04, 0.04))
        self.pencil = Pencil(self.seed)

    def stray(self, sd: float) -> float:
        return float(self.random.standard_t(4)) / np.sqrt(2.0) * sd * self.unsteady

    def read(self, size: float, sd: float) -> float:
        """A number set off an instrument."""
        self.readings.append(self.step)
        if self.wrong is not None and self.wrong[0] == len(self.readings) - 1:
            size = self.wrong[1](size)
        return size + self.stray(sd)

    def opening(self, size: float) -> float:
        return self.read(size, 0.15)

    def by_rule(self, size: float) -> float:
        return self.read(size, 0.15)

    def by_protractor(self, angle: float) -> float:
        return self.read(angle, 0.12)

    def needle(self, at: Array) -> Array:
        """Where the needle stands that is set on a point."""
        return at + np.array([self.stray(0.1), self.stray(0.1)])

    def mark(self, at: Array) -> Array:
        """Where a crossing is taken to be."""
        return at + np.array([self.stray(0.07), self.stray(0.07)])

    def square(self, angle: float) -> float:
        """The direction of a line by the set square on the T-square."""
        return angle + self.level_out + self.stray(0.05)

    def through(self, a: Array, b: Array) -> tuple[Array, float]:
        """A line laid through two points: a place on it and its direction in degrees."""
        way = (b - a) / np.hypot(*(b - a))
        left = np.array([-way[1], way[0]])
        one, other = a + left * (self.leaning + self.stray(0.1)), b + left * (self.leaning + self.stray(0.1))
        off = other - one
        return one, float(np.degrees(np.arctan2(off[1], off[0])))


def along(at: Array, angle: float, size: float) -> Array:
    turn = np.radians(angle)
    return at + size * np.array([np.cos(turn), np.sin(turn)])


def cross_lines(p: Array, a: float, q: Array, b: float) -> Array:
    """Where two lines cross, each a place and a direction."""
    u = np.array([np.cos(np.radians(a)), np.sin(np.radians(a))])
    v = np.array([np.cos(np.radians(b)), np.sin(np.radians(b))])
    turn = u[0] * v[1] - u[1] * v[0]
    if abs(turn) < 1e-9:
        raise Blundered
    off = q - p
    return p + u * (off[0] * v[1] - off[1] * v[0]) / turn


def cross_circles(a: Array, r: float, b: Array, s: float, upper: bool = True) -> Array:
    """Where two circles cross, above or below."""
    off = b - a
    far = float(np.hypot(*off))
    t = (far**2 + r**2 - s**2) / (2 * far)
    if r**2 < t**2:
        raise Blundered
    high = np.sqrt(r**2 - t**2)
    foot = a + off / far * t
    both = [foot + side * high * np.array([-off[1], off[0]]) / far for side in (1, -1)]
    return max(both, key=lambda at: float(at[1]) if upper else -float(at[1]))


def cut_circle(p: Array, angle: float, centre: Array, r: float, near: Array) -> Array:
    """Where a line cuts a circle, nearest to a place."""
    u = np.array([np.cos(np.radians(angle)), np.sin(np.radians(angle))])
    off = p - centre
    b, c = float(off @ u), float(off @ off) - r**2
    if b * b < c:
        raise Blundered
    both = [p + u * (-b + side * np.sqrt(b * b - c)) for side in (1, -1)]
    return min(both, key=lambda at: float(np.hypot(*(at - near))))
