"""Ridges and wires wound round an axis: their edges, the contours that they show from in front, and what hides what.

Points are x, depth (toward the eye) and z along the last axis. A winding begins at the right of the axis and climbs;
``sign`` +1 is right-handed. ``turned`` is the angle gone through in degrees.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from typing import NamedTuple, Protocol

import numpy as np
import numpy.typing as npt

from wise_compass.geometry.vectors import Array, Number, cosd, point3, sind

Flags = npt.NDArray[np.bool_]
_MARCH = 12
"""Places on either side of the axis at which it is asked whether something stands before a point."""
_PASSES, _PARTS = 2, 8
"""How often, and into how many parts, a stretch is parted in which an edge goes out of sight."""


class Winding(NamedTuple):
    """A section wound on a cylinder. ``half`` is its half thickness along the axis at a radius between ``inner`` and
    ``outer``.

    ``core`` is the radius of the solid cylinder inside, from ``foot`` to ``top``; 0 where there is none. ``snug`` is by
    how much the section is taken smaller where it is asked what it hides, so that it does not hide its own outline.
    """

    inner: float
    outer: float
    lead: float
    turns: float
    sign: int
    starts: int
    half: Callable[[Number], Number]
    core: float = 0.0
    foot: float = 0.0
    top: float = 0.0
    snug: float = 0.999

    @property
    def climb(self) -> float:
        """Rise in a degree."""
        return self.lead / 360.0

    def on(self, radius: Number, turned: Number, up: Number, start: int = 0) -> Array:
        """A point at a radius, ``up`` above the middle of the section, of one of the starts."""
        angle = self.sign * np.asarray(turned, dtype=float) + 360.0 * start / self.starts
        return point3(
            radius * np.asarray(cosd(angle)), -radius * np.asarray(sind(angle)), self.climb * np.asarray(turned) + up
        )

    def wound(self, at: Array) -> Flags:
        """Whether points lie inside the wound section."""
        x, depth, z = at[..., 0], at[..., 1], at[..., 2]
        radius = np.hypot(x, depth)
        angle = np.rad2deg(np.arctan2(-depth, x)) * self.sign
        held = np.zeros(radius.shape, dtype=bool)
        between = (radius > self.inner) & (radius < self.outer * (1 - 1e-9))
        thick = self.snug * np.asarray(self.half(np.clip(radius, self.inner, self.outer)))
        for start in range(self.starts):
            begun = np.remainder(angle - self.sign * 360.0 * start / self.starts, 360.0)
            turned = begun + 360.0 * np.round((z - self.climb * begun) / self.lead)
            near = np.abs(z - self.climb * turned) < thick
            held |= between & near & (turned >= -1e-9) & (turned <= 360.0 * self.turns + 1e-9)
        return held

    def seen(self, at: Array) -> Flags:
        """Whether nothing stands between points and the eye.

        The line of sight passes the radii of the section at most twice, behind the axis and in front of it: only there
        is it asked what stands.
        """
        x, depth, z = at[..., 0], at[..., 1], at[..., 2]
        far = np.sqrt(np.maximum(self.outer**2 - x * x, 0.0))
        near = np.sqrt(np.maximum(self.inner**2 - x * x, 0.0))
        share = (np.arange(_MARCH) + 0.5) / _MARCH
        front, rear = np.maximum(depth, near), np.minimum(depth, -near)
        hidden = np.zeros(x.shape, dtype=bool)
        for first, way in ((front, far - front), (rear, -(rear + near))):
            passes = way > 0
            passed = first[passes][:, None] + way[passes][:, None] * share
            ray = np.stack(np.broadcast_arrays(x[passes][:, None], passed, z[passes][:, None]), axis=-1)
            hidden[passes] |= (self.wound(ray) & (passed > depth[passes][:, None])).any(axis=-1)
        within = self.core * self.snug
        behind = (np.abs(x) < within) & (depth < np.sqrt(np.maximum(within**2 - x * x, 0.0)))
        return np.asarray(~hidden & ~(behind & (z > self.foot) & (z < self.top)))


class Body(Protocol):
    """What may hide its own edges."""

    def seen(self, at: Array) -> Flags:
        """Whether nothing stands between points and the eye."""


class CoilEdge(NamedTuple):
    """A line on a winding by a parameter: an angle turned, a radius or a height; a curved one has places to find it
    by."""

    at: Callable[[Number], Array]
    first: float
    last: float
    stations: tuple[float, ...] = ()

    def places(self, a: float, b: float) -> list[float]:
        """Where the stretch from ``a`` to ``b`` is found: its ends, what lies between, at least one place if it is
        curved."""
        room = (b - a) * 0.05
        inner = slice(bisect_right(self.stations, a + room), bisect_left(self.stations, b - room))
        between = self.stations[inner]
        return [a, *(between or (((a + b) / 2,) if self.stations else ())), b]


def visible_pieces(body: Body, edges: Sequence[CoilEdge], finest: float) -> list[list[tuple[float, float]]]:
    """The stretches of each edge that are seen from in front, by its parameter; ``finest`` is the widest step taken.

    >>> winding = Winding(18, 22, 12.0, 2, 1, 1, even_half(2.0))
    >>> edge = CoilEdge(lambda t: winding.on(22.0, t, 2.0), 0.0, 360.0)
    >>> [(round(float(a), 1), round(float(b), 1)) for a, b in visible_pieces(winding, [edge], 0.5)[0]]
    [(0.0, 90.3), (180.0, 360.0)]
    """
    tried = [np.linspace(e.first, e.last, max(int(np.ceil((e.last - e.first) / finest)), 4) + 1) for e in edges]
    seen = body.seen(np.concatenate([edge.at(t) for edge, t in zip(edges, tried)]))
    starts = np.cumsum([0, *(len(t) for t in tried)])
    pieces: list[list[tuple[float, float]]] = []
    turns: list[tuple[int, int]] = []
    for row in range(len(edges)):
        mine = seen[starts[row] : starts[row + 1]]
        turns += [(row, int(k)) for k in np.flatnonzero(mine[:-1] != mine[1:])]
    cuts = _cuts(body, edges, tried, seen, starts, turns)
    for row, edge in enumerate(edges):
        ends = [edge.first, *(cut for (r, _), cut in zip(turns, cuts) if r == row), edge.last]
        shown = bool(seen[starts[row]])
        pieces.append([(a, b) for k, (a, b) in enumerate(zip(ends[:-1], ends[1:])) if shown == (k % 2 == 0) and b > a])
    return pieces


def _cuts(
    body: Body, edges: Sequence[CoilEdge], tried: list[Array], seen: Flags, starts: Array, turns: list[tuple[int, int]]
) -> list[float]:
    """Where each edge goes out of sight or comes into it, by parting all those stretches at once."""
    if not turns:
        return []
    low = np.array([tried[row][k] for row, k in turns])
    high = np.array([tried[row][k + 1] for row, k in turns])
    first = np.array([seen[starts[row] + k] for row, k in turns])
    rows = np.array([row for row, _ in turns])
    own = [(edges[row], rows == row) for row in sorted(set(rows.tolist()))]
    for _ in range(_PASSES):
        step = (high - low) / _PARTS
        asked = low[:, None] + step[:, None] * np.arange(1, _PARTS)
        now = body.seen(np.concatenate([edge.at(asked[mine]) for edge, mine in own]))
        changed = np.where((now != first[:, None]).any(axis=1), (now != first[:, None]).argmax(axis=1), _PARTS - 1)
        low, high = low + step * changed, low + step * (changed + 1)
    return list((low + high) / 2)


def even_half(half: float) -> Callable[[Number], Number]:
    """The same half thickness at every radius: a square thread or wire.

    >>> float(even_half(2.0)(np.array(19.0)))
    2.0
    """
    return lambda r: half + 0.0 * np.asarray(r, dtype=float)


def pointed_half(half: float, core: float, outer: float) -> Callable[[Number], Number]:
    """Half thickness of a vee thread: ``half`` at the core, nothing at the crest.

    >>> float(pointed_half(3.0, 16, 20)(20.0))
    0.0
    """
    return lambda r: half * (outer - np.asarray(r)) / (outer - core)


class FlankContour(NamedTuple):
    """Where a flank turns away from the eye, by the radius: its edge, the angles turned at which it leaves the root and
    reaches the crest, and whether it is the upper flank of which start."""

    edge: CoilEdge
    root: float
    crest: float
    upper: bool
    start: int


def flank_contours(winding: Winding, slope: float, upper: bool, start: int) -> list[FlankContour]:
    """Where a vee thread's flank turns away from the eye, by the radius: tan θ = lead / (2π · slope · r).

    ``slope`` is the axial fall of the flank by the radius; an oblique helicoid's normal is square to the line of sight
    there.

    >>> winding = Winding(18, 22, 12.0, 2, 1, 1, even_half(2.0))
    >>> len(flank_contours(winding, 0.75, True, 0))
    4
    """
    edges = []
    pitch_part = winding.lead / (2 * np.pi)
    way = 1 if upper else -1

    def lean(radius: Number) -> Array:
        return np.asarray(way * np.rad2deg(np.arctan2(pitch_part, slope * np.asarray(radius))))

    def at(radius: Number, begun: float) -> Array:
        return winding.on(radius, begun + lean(radius), np.asarray(winding.half(radius)) * way, start)

    shift = winding.sign * 360.0 * start / winding.starts
    middle = (winding.core + winding.outer) / 2
    for k in range(-2, int(2 * winding.turns) + 3):
        begun = 180.0 * k - shift
        root, crest = (float(begun + lean(radius)) for radius in (winding.core, winding.outer))
        if min(root, crest) >= 0.0 and max(root, crest) <= 360.0 * winding.turns:
            edge = CoilEdge(lambda r, b=begun: at(r, b), winding.core, winding.outer, (middle,))  # type: ignore[misc]
            edges.append(FlankContour(edge, root, crest, upper, start))
    return edges
