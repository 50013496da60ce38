"""What lifts a follower: laws of motion by the turn of a cam, in stretches between which only speed or its gain may
jump."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.vectors import Array, Number

ROUND = 360.0
ON_BORDER = 1e-9
"""Degrees from a border within which a turn lies on it."""
SAMPLES = 721
"""Places of a stretch at which its greatest is looked for first."""


class Law(NamedTuple):
    """A motion by the share u of its turn that is past: the share of the lift, and its first two derivatives by u."""

    share: Callable[[Array], Array]
    rate: Callable[[Array], Array]
    gain: Callable[[Array], Array]


LAWS: dict[str, Law] = {
    "dwell": Law(np.zeros_like, np.zeros_like, np.zeros_like),
    "uniform": Law(lambda u: u, np.ones_like, np.zeros_like),
    "harmonic": Law(
        lambda u: np.sin(np.pi * u / 2) ** 2,
        lambda u: np.pi / 2 * np.sin(np.pi * u),
        lambda u: np.pi**2 / 2 * np.cos(np.pi * u),
    ),
    "parabolic": Law(lambda u: 2 * u**2, lambda u: 4 * u, lambda u: np.full_like(u, 4.0)),
    "parabolic-on": Law(lambda u: 1 - 2 * (1 - u) ** 2, lambda u: 4 * (1 - u), lambda u: np.full_like(u, -4.0)),
    "cycloidal": Law(
        lambda u: u - np.sin(2 * np.pi * u) / (2 * np.pi),
        lambda u: 1 - np.cos(2 * np.pi * u),
        lambda u: 2 * np.pi * np.sin(2 * np.pi * u),
    ),
}
"""The laws as they are taught: equal steps, the shadow of a circle, constant acceleration in two halves, and a point
of a rolling circle."""


class Stretch(NamedTuple):
    """A part of the turn with one smooth law. ``first`` and ``last`` bound it, in degrees; ``row`` counts the motions
    from 0; the motion it is of begins at ``start``, takes ``angle`` degrees, and lifts by ``lift`` from ``low``."""

    law: str
    row: int
    first: float
    last: float
    start: float
    angle: float
    low: float
    lift: float

    def _past(self, turn: Number) -> Array:
        return (np.asarray(turn, dtype=float) - self.start) / self.angle

    def height(self, turn: Number) -> Array:
        """Over the lowest place, at turns in degrees; goes on smoothly beyond both ends."""
        return self.low + self.lift * LAWS[self.law].share(self._past(turn))

    def speed(self, turn: Number) -> Array:
        """What the height gains in a radian of the turn, in mm."""
        return self.lift * LAWS[self.law].rate(self._past(turn)) / float(np.deg2rad(self.angle))

    def gain(self, turn: Number) -> Array:
        """What the speed gains in a radian."""
        return self.lift * LAWS[self.law].gain(self._past(turn)) / float(np.deg2rad(self.angle)) ** 2


def stretches_of(motions: Sequence[tuple[str, float, float]]) -> list[Stretch]:
    """The stretches of motions, each a law, an angle in degrees and a lift in mm: a parabolic one has two.

    >>> [round(float(s.height(s.last)), 3) for s in stretches_of([("parabolic", 180, 10), ("harmonic", 180, -10)])]
    [5.0, 10.0, 0.0]
    """
    made, turn, low = [], 0.0, 0.0
    for row, (law, angle, lift) in enumerate(motions):
        end = ROUND if row == len(motions) - 1 else turn + angle
        if law == "parabolic":
            middle = turn + angle / 2
            made.append(Stretch(law, row, turn, middle, turn, angle, low, lift))
            made.append(Stretch("parabolic-on", row, middle, end, turn, angle, low, lift))
        else:
            made.append(Stretch(law, row, turn, end, turn, angle, low, lift))
        turn, low = end, low + lift
    return made


def stretch_at(stretches: Sequence[Stretch], turn: float) -> int:
    """Which stretch a turn is of; on a border the one that begins there.

    >>> stretch_at(stretches_of([("uniform", 180, 10), ("uniform", 180, -10)]), 180.0)
    1
    """
    return next(k for k in range(len(stretches) - 1, -1, -1) if turn >= stretches[k].first - ON_BORDER or k == 0)


def greatest(of: Callable[[Array], Array], first: float, last: float) -> float:
    """The greatest value of a smooth function between two places, its ends among them: sampled, then refined by bounded
    minimization (Brent).

    >>> round(greatest(lambda t: np.sin(np.deg2rad(t)), 0.0, 170.0), 12)
    1.0
    """
    from scipy.optimize import minimize_scalar

    places = np.linspace(first, last, SAMPLES)
    values = of(places)
    k = int(np.argmax(values))
    best = float(values[k])
    if 0 < k < SAMPLES - 1:
        found = minimize_scalar(
            lambda t: -float(of(np.asarray(t))),
            bounds=(float(places[k - 1]), float(places[k + 1])),
            method="bounded",
            options={"xatol": 1e-10},
        )
        best = max(best, -float(found.fun))
    return best
