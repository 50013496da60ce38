"""Whether what a construction lines in is the figure's outline: its points may be right, and the line drawn through
them wrong.

Straight lines are held against those of the shipped methods, the nearest of them, to rounding. What is lined in by an
arc or a curve is held against all of their outline as nearly as another choice of points lets a fair curve run
(:data:`FAIRLY`): points joined in the wrong order, an arc swung the wrong way round, a piece left out.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from functools import lru_cache
from typing import Any

import numpy as np

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Role, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.geometry.vectors import Array
from wise_compass.own.overlay import laid_over

RESULT = Role.OUTLINE, Role.HIDDEN
FAR = 1e5
"""mm: an endless line's ends."""
ALONG = np.linspace(0.0, 1.0, 9)
"""Places of a segment that are held against the other outline."""


FAIRLY = 0.015
"""Of its size: how far a fair curve through other points of the same curve may lie off."""
FINE = 400
"""Into how many stretches of the drawing's size what is curved is parted."""


def curved(made: Run, roles: Collection[Role]) -> list[Array]:
    """What is drawn in some roles, straight or curved, as polylines (n, 2)."""
    return [line for mark in made.marks if mark.role in roles for line in mark.polylines(16) if len(line) > 1]


def has_curves(made: Run) -> bool:
    """Whether anything is lined in by an arc or a curve."""
    lined = [mark for mark in made.marks if mark.role in RESULT]
    return any(isinstance(mark, ArcMark) or (isinstance(mark, CurveMark) and mark.fair) for mark in lined)


def curved_miss(figure: Figure, made: Run) -> float | None:
    """By how much, in mm, what is lined in with arcs and curves leaves the outline of the figure, or leaves some of it
    out; None where neither has such."""
    if not has_curves(made):
        return None
    misses = [_curved_miss(made, other) for other in _shipped(figure) if has_curves(other)]
    return min(misses, default=None)


def _curved_miss(made: Run, other: Run) -> float:
    low, high = other.extent
    step = float(np.abs(high - low).max()) / FINE
    lined, drawn = _places(curved(made, (Role.OUTLINE,)), step), _places(curved(made, tuple(Role)), step)
    theirs = _places(curved(other, RESULT), step)
    return min(
        max(_beside(lined @ turn.T + shift, theirs), _beside(theirs, drawn @ turn.T + shift))
        for turn, shift in _seats(made, other)
    )


def _places(lines: Sequence[Array], step: float) -> Array:
    """Places of polylines, so near each other that none between is missed by more than half a step; shape (n, 2)."""
    found = [np.zeros((0, 2))]
    for line in lines:
        gaps = np.hypot(*np.diff(line, axis=0).T)
        for a, b, gap in zip(line, line[1:], gaps):
            count = max(int(np.ceil(gap / step)), 1)
            found.append(a + np.linspace(0.0, 1.0, count, endpoint=False)[:, None] * (b - a))
        found.append(line[-1:])
    return np.concatenate(found)


def _beside(places: Array, others: Array) -> float:
    """How far places lie from the nearest of others, at the most."""
    if not len(others):
        return float("inf")
    from scipy.spatial import cKDTree

    return float(np.max(cKDTree(others).query(places)[0], initial=0.0))


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


def _shipped(figure: Figure) -> Sequence[Run]:
    return _runs_of(type(figure), tuple(figure.given_values.items()))


@lru_cache(maxsize=4)
def _runs_of(kind: type[Figure], givens: tuple[tuple[str, Any], ...]) -> Sequence[Run]:
    """A figure by every method that serves; memoized, since a way is written line by line for the same givens."""
    figure, found = kind(**dict(givens)), []
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
    return min(
        max(_furthest(lined @ turn.T + shift, theirs), _furthest(theirs, drawn @ turn.T + shift))
        for turn, shift in _seats(made, other)
    )


def _seats(made: Run, other: Run) -> list[tuple[Array, Array]]:
    """How one drawing may be laid over the other: as they lie, and by the points that are called alike."""
    seats = [(np.eye(2), np.zeros(2))]
    named = [key for key in other.found if key in made.found and other.found[key].shape == (2,)]
    if len(named) > 1:
        seats.append(
            laid_over(np.array([made.found[key] for key in named]), np.array([other.found[key] for key in named]))
        )
    return seats


def _furthest(segments: Array, others: Array) -> float:
    """How far the places of segments lie from the nearest of others, at the most."""
    at = (segments[:, None, 0] * (1 - ALONG)[:, None] + segments[:, None, 1] * ALONG[:, None]).reshape(-1, 1, 2)
    start, way = others[:, 0], others[:, 1] - others[:, 0]
    length = np.maximum(np.einsum("ij,ij->i", way, way), 1e-300)
    share = np.clip(np.einsum("nij,ij->ni", at - start, way) / length, 0.0, 1.0)
    gaps = np.hypot(*np.moveaxis(at - (start + share[..., None] * way), -1, 0))
    return float(gaps.min(axis=1).max())
