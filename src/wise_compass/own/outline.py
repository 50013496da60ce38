"""Whether what a construction lines in is the figure's outline: its points may be right, and the line drawn through
them wrong.

Straight lines are held against those of the shipped methods, the nearest of them; what is lined in by a curve or an
arc follows its points, and is not held.
"""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.marks import CurveMark, LineMark, Role, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.geometry.vectors import Array
from wise_compass.own.overlay import laid_over

RESULT = Role.OUTLINE, Role.HIDDEN
FAR = 1e5
"""mm: an endless line's ends."""
ALONG = np.linspace(0.0, 1.0, 9)
"""Places of a segment that are held against the other outline."""


def straight(made: Run, roles: Collection[Role], endless: bool = False) -> Array:
    """The straight lines that are drawn in some roles, as segments, shape (n, 2, 2); ruled ones ``endless`` where
    their ends do not matter."""
    found = [np.zeros((0, 2, 2))]
    for mark in made.marks:
        if mark.role not in roles:
            continue
        if isinstance(mark, CurveMark) and not mark.fair:
            (line,) = mark.polylines()
            found.append(np.stack([line[:-1], line[1:]], axis=1))
        elif isinstance(mark, LineMark):
            p, u = nominal(mark.p, 1), nominal(mark.u, 1)
            low, high = (-FAR, FAR) if endless else (mark.lo, mark.hi)
            found.append(np.array([[p + low * u, p + high * u]]))
    return np.concatenate(found)


def outline_miss(figure: Figure, made: Run) -> float | None:
    """By how much, in mm, what is lined in leaves the outline of the figure, or what is drawn leaves some of that out;
    None where the figure has no straight outline, or nothing is lined in yet."""
    if not len(straight(made, (Role.OUTLINE,))):
        return None
    misses = [miss for other in _shipped(figure) if (miss := _miss(made, other)) is not None]
    return min(misses, default=None)


def _shipped(figure: Figure) -> list[Run]:
    found = []
    for method in figure.methods.values():
        if method.fits(figure) is None:
            try:
                found.append(run(figure, method))
            except Refused:
                continue
    return found


def _miss(made: Run, other: Run) -> float | None:
    theirs = straight(other, RESULT)
    if not len(theirs):
        return None
    lined, drawn = straight(made, (Role.OUTLINE,)), straight(made, tuple(Role), endless=True)
    seats = [(np.eye(2), np.zeros(2))]
    named = [key for key in other.found if key in made.found and other.found[key].shape == (2,)]
    if len(named) > 1:
        seats.append(
            laid_over(np.array([made.found[key] for key in named]), np.array([other.found[key] for key in named]))
        )
    return min(
        max(_furthest(lined @ turn.T + shift, theirs), _furthest(theirs, drawn @ turn.T + shift))
        for turn, shift in seats
    )


def _furthest(segments: Array, others: Array) -> float:
    """How far the places of segments lie from the nearest of others, at the most."""
    at = (segments[:, None, 0] * (1 - ALONG)[:, None] + segments[:, None, 1] * ALONG[:, None]).reshape(-1, 1, 2)
    start, way = others[:, 0], others[:, 1] - others[:, 0]
    length = np.maximum(np.einsum("ij,ij->i", way, way), 1e-300)
    share = np.clip(np.einsum("nij,ij->ni", at - start, way) / length, 0.0, 1.0)
    gaps = np.hypot(*np.moveaxis(at - (start + share[..., None] * way), -1, 0))
    return float(gaps.min(axis=1).max())
