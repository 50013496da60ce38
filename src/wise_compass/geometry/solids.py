"""Convex solids of straight lines from a level base to a level top or an apex, and what a plane leaves of them.

Vertices go by names: ``B3`` and ``T3`` are the lower and the upper end of line 3, ``V`` the apex; a cut adds ``C3`` on
line 3, and ``E1``, ``E2`` and ``F1``, ``F2`` where it runs out through the base and the top. A round base is held by
its divisions; what a plane finds on its circle lies on the circle itself. Which side of the plane a vertex lies on is
decided with room for rounding, so that a cut through a corner, an edge or the apex is one.

Space has x to the right, y to the *front* and z up, which makes it left-handed; faces run anticlockwise as seen from
outside. ``geometry/solids.py`` has a convex solid of straight lines (``Stock``: base, and top or apex) and what a plane
leaves of it (``CutStock``), every vertex by a name: ``B3``, ``T3``, ``V``, and of a cut ``C3`` on line 3, ``E1`` and
``F1`` where it runs out through base and top. Which side a vertex lies on is decided once, with room for rounding.
``geometry/round_cuts.py`` has the exact areas and volumes of cut cylinders and cones; ``geometry/meeting.py`` the
curves of two cylinders.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from wise_compass.geometry.planes import Plane, cross3
from wise_compass.geometry.vectors import Array, cosd, dot, length, multiples, point3, sind

TOUCH = 1e-9
"""Of the solid's size: what lies nearer to the plane lies on it."""
Loop = tuple[str, ...]
"""The corners of a flat face in order, by name."""


def ring(radius: float, count: int, first: float = 0.0, height: float = 0.0) -> Array:
    """Places round a level circle, anticlockwise as seen from above: (count, 3). y is positive to the front.

    >>> np.round(ring(2.0, 4), 9).tolist()
    [[2.0, -0.0, 0.0], [0.0, -2.0, 0.0], [-2.0, -0.0, 0.0], [-0.0, 2.0, 0.0]]
    """
    turn = first + multiples(360.0 / count, count)
    return np.stack([radius * cosd(turn), -radius * sind(turn), np.full(count, height)], axis=-1)


def falling_plane(height: float, angle: float) -> Plane:
    """The plane seen edge-on from in front, ``height`` up on the axis, falling to the right at ``angle`` degrees;
    normal upward.

    >>> level = falling_plane(10.0, 0.0)
    >>> level.normal.tolist(), float(level.offset)
    ([0.0, 0.0, 1.0], 10.0)
    """
    normal = point3(float(sind(angle)), 0.0, float(cosd(angle)))
    return Plane(normal, height * float(cosd(angle)))


def area_of(polygon: Array) -> float:
    """Area of a flat polygon in space, (n, 3).

    >>> area_of(np.array([[0.0, 0, 0], [4, 0, 0], [4, 0, 3]]))
    6.0
    """
    if len(polygon) < 3:
        return 0.0
    spokes = polygon[1:] - polygon[0]
    return float(length(cross3(spokes[:-1], spokes[1:]).sum(axis=0))) / 2


class Stock:
    """A solid before it is cut: ``base`` (n, 3), and above it ``top`` (n, 3) or an apex (3,). ``first`` is the number
    of line 0.

    With ``radius`` the base is a circle of that radius about the axis through the origin, held by its divisions.
    """

    def __init__(self, base: Array, top: Array, first: int = 1, radius: float = 0.0) -> None:
        self.base, self.pointed, self.first, self.radius = base, top.ndim == 1, first, radius
        self.top = np.broadcast_to(top, base.shape)
        self.count = len(base)
        self.size = float(np.abs(np.concatenate([self.base, self.top])).max())
        self.numbers = [first + k for k in range(self.count)]

    @property
    def height(self) -> float:
        return float(self.top[0, 2])

    def lower(self, k: int) -> str:
        return f"B{self.numbers[k % self.count]}"

    def upper(self, k: int) -> str:
        return "V" if self.pointed else f"T{self.numbers[k % self.count]}"

    @cached_property
    def places(self) -> dict[str, Array]:
        """Every vertex by its name."""
        found = {self.lower(k): self.base[k] for k in range(self.count)}
        found.update({self.upper(k): np.asarray(self.top[k]) for k in range(self.count)})
        return found

    def face(self, k: int) -> Loop:
        """The lateral face from line k to the next."""
        ends = (self.upper(k),) if self.pointed else (self.upper(k + 1), self.upper(k))
        return (self.lower(k), self.lower(k + 1), *ends)


class CutStock:
    """What stays of a solid on the lower side of a plane; all of it where there is no plane.

    ``faces`` are what stays of the lateral faces (empty where one is cut away), ``base``, ``top`` and ``section`` the
    corners of the level faces and of the cut, each in order, and ``places`` every vertex by its name.
    """

    def __init__(self, stock: Stock, plane: Plane | None) -> None:
        self.stock, self.plane = stock, plane
        self.places = dict(stock.places)
        self.same = TOUCH * max(stock.size, 1e-6)
        self._side: dict[str, float] = {}
        if plane is not None:
            for name, at in stock.places.items():
                off = float(dot(at, plane.normal)) - float(plane.offset)
                self._side[name] = 0.0 if abs(off) <= self.same else off
        self._between: dict[frozenset[str], str] = {}
        n = stock.count
        self.faces = [self._clipped(stock.face(k)) for k in range(n)]
        self.base = self._clipped(tuple(stock.lower(k) for k in range(n)))
        self.top = () if stock.pointed else self._clipped(tuple(stock.upper(k) for k in range(n)))
        self.section = self._section()

    def side(self, name: str) -> float:
        """How far a vertex lies above the plane; less than 0 below it, 0 where it lies on it or there is none to lie
        above."""
        return self._side.get(name, 0.0) if self.plane is not None else -1.0

    @property
    def cut_away(self) -> bool:
        """Whether anything is taken off."""
        return any(off > 0 for off in self._side.values())

    @property
    def stays(self) -> bool:
        """Whether anything is left."""
        return self.plane is None or any(off < 0 for off in self._side.values())

    def loop(self, names: Sequence[str]) -> Array:
        """The corners of a face, (n, 3)."""
        return np.array([self.places[name] for name in names])

    def line(self, k: int) -> tuple[str, str] | None:
        """The lower and the upper end of what stays of line k; None where it is cut away whole."""
        low, high = self.stock.lower(k), self.stock.upper(k)
        cut = self._between.get(frozenset((low, high)))
        if cut is not None:
            return (low, cut) if self.side(low) < 0 else (cut, high)
        return None if max(self.side(low), self.side(high)) > 0 else (low, high)

    def line_length(self, k: int) -> float:
        """What is left of line k."""
        ends = self.line(k)
        return 0.0 if ends is None else float(length(self.places[ends[1]] - self.places[ends[0]]))

    # cutting

    def _clipped(self, loop: Loop) -> Loop:
        """What stays of a convex face; nothing where it only touches the plane, or lies in it: it is the cut itself
        then."""
        if self.plane is None:
            return loop
        kept: list[str] = []
        for k, name in enumerate(loop):
            after = loop[(k + 1) % len(loop)]
            if self.side(name) <= 0:
                kept.append(name)
            if self.side(name) * self.side(after) < 0:
                kept.append(self._crossing(name, after))
        return tuple(kept) if any(self.side(name) < 0 for name in kept) else ()

    def _crossing(self, one: str, other: str) -> str:
        """The vertex where the plane crosses an edge, made once."""
        key = frozenset((one, other))
        if key not in self._between:
            if one[0] == other[0]:
                letter = "E" if one[0] == "B" else "F"
                name = f"{letter}{1 + sum(known.startswith(letter) for known in self._between.values())}"
            else:
                name = f"C{(one if one[0] == 'B' else other)[1:]}"
            self._between[key] = name
            self._side[name] = 0.0
            self.places[name] = self._found(one, other)
        return self._between[key]

    def _found(self, one: str, other: str) -> Array:
        p, q = self.places[one], self.places[other]
        s, t = self.side(one), self.side(other)
        at = np.asarray(p + (q - p) * (s / (s - t)))
        if self.stock.radius and one[0] == other[0]:  # on the circle itself: the plane is level across the front
            x = self.level_at(float(p[2]))
            y = np.sqrt(max(self.stock.radius**2 - x * x, 0.0)) * (1.0 if float(p[1] + q[1]) > 0 else -1.0)
            at = point3(x, float(y), float(p[2]))
        return at

    def level_at(self, z: float) -> float:
        """The x at which the plane stands ``z`` high."""
        assert self.plane is not None
        return float((self.plane.offset - self.plane.normal[2] * z) / self.plane.normal[0])

    def _section(self) -> Loop:
        """The corners of the cut, anticlockwise as seen from above."""
        if self.plane is None:
            return ()
        names = [name for name, off in self._side.items() if off == 0]
        if len(names) < 3:
            return ()
        at = self.loop(names)
        off = at - at.mean(axis=0)
        normal = np.asarray(self.plane.normal) * (1.0 if self.plane.normal[2] >= 0 else -1.0)
        u = np.array([normal[2], 0.0, -normal[0]])
        v = cross3(normal, u)
        order = np.argsort(
            -np.arctan2(off @ v, off @ u)
        )  # y is to the front: seen from above, places run the other way round
        return tuple(names[k] for k in order)

    # what is flat

    @property
    def upside(self) -> CutStock:
        """What is taken off: what stays on the other side of the plane."""
        assert self.plane is not None
        return CutStock(self.stock, Plane(-self.plane.normal, -np.asarray(self.plane.offset)))

    @property
    def skin(self) -> list[Array]:
        """Every flat face that bounds what stays: lateral ones, base, top and cut."""
        loops = [*self.faces, self.base, self.top, self.section]
        return [self.loop(names) for names in loops if len(names) > 2]

    @property
    def lateral_area(self) -> float:
        """Of the flat faces."""
        return sum(area_of(self.loop(names)) for names in self.faces if names)

    @property
    def volume(self) -> float:
        """Of what its flat faces bound, as pyramids on them from a place inside."""
        skin = self.skin
        inside = np.concatenate(skin).mean(axis=0)
        total = 0.0
        for face in skin:
            spokes = face[1:] - face[0]
            normal = cross3(spokes[:-1], spokes[1:]).sum(axis=0) / 2
            total += abs(float(dot(normal, face[0] - inside))) / 3
        return total
