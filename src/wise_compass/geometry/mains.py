"""The two solids that meet: a main that stands upright on the ground about the origin, and a branch along a slanting
axis.

The main is a prism or a cylinder, a pyramid or a cone, or a sphere about the origin. The branch is a prism or a
cylinder: the place of a point round its section is ``w``, in corners from the first (the side from corner j to j + 1
holds j … j + 1) or in degrees of its circle.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np

from wise_compass.geometry.skins import BallSkin, ConeSkin, FlatSkin, RoundSkin, Skin, upright_skin
from wise_compass.geometry.vectors import Array, Bools, Number, cosd, direction, point, point3, sind, unit


class Branch:
    """A prism with the ``corners`` (m, 2) of its section by u and v, or a cylinder of ``radius``, whose axis passes
    through ``at`` and rises by ``slope`` degrees to the right."""

    def __init__(self, at: Array, slope: float, corners: Array | None = None, radius: float = 0.0) -> None:
        self.at, self.slope, self.corners, self.radius = at, slope, corners, radius
        c, s = float(cosd(slope)), float(sind(slope))
        self.axis, self.u, self.v = point3(c, 0.0, s), point3(s, 0.0, -c), point3(0.0, 1.0, 0.0)

    @property
    def round(self) -> bool:
        return self.corners is None

    @property
    def period(self) -> float:
        """Once round, in places."""
        return 360.0 if self.corners is None else float(len(self.corners))

    def section(self, w: Number) -> Array:
        """The section's rim by u and v, (…, 2)."""
        w = np.asarray(w, dtype=np.float64) % self.period
        if self.corners is None:
            return self.radius * direction(w)
        j = np.floor(w).astype(int) % len(self.corners)
        share = (w - np.floor(w))[..., None]
        return np.asarray((1 - share) * self.corners[j] + share * self.corners[(j + 1) % len(self.corners)])

    def element(self, w: Number) -> Array:
        """Where elements pass the plane square to the axis through ``at``, (…, 3)."""
        flat = self.section(w)
        return np.asarray(self.at + flat[..., :1] * self.u + flat[..., 1:] * self.v)

    def flat(self, at: Array) -> Array:
        """Places of space (…, 3) seen along the axis, by u and v."""
        off = at - self.at
        return np.stack([off @ self.u, off @ self.v], axis=-1)

    def along(self, at: Array) -> Array:
        """How far along the axis places are."""
        return np.asarray((at - self.at) @ self.axis)

    def place(self, flat: Array) -> Array:
        """The place round the section of points of its rim (…, 2).

        >>> square = Branch(np.zeros(3), 0.0, np.array([[1.0, 0], [0, 1], [-1, 0], [0, -1]]))
        >>> float(square.place(np.array([-0.5, 0.5])))
        1.5
        """
        if self.corners is None:
            return np.asarray(np.rad2deg(np.arctan2(flat[..., 1], flat[..., 0])) % 360.0)
        ends = np.roll(self.corners, -1, axis=0)
        sides = ends - self.corners
        off = flat[..., None, :] - self.corners
        share = np.clip((off * sides).sum(axis=-1) / (sides * sides).sum(axis=-1), 0.0, 1.0)
        far = np.hypot(*np.moveaxis(off - share[..., None] * sides, -1, 0))
        best = np.argmin(far, axis=-1)
        return np.asarray((best + np.take_along_axis(share, best[..., None], axis=-1)[..., 0]) % self.period)

    @cached_property
    def skin(self) -> Skin:
        """Its skin without ends."""
        if self.corners is None:
            return RoundSkin(self.at, self.axis, self.radius)
        sides = np.roll(self.corners, -1, axis=0) - self.corners
        flat = unit(np.stack([sides[:, 1], -sides[:, 0]], axis=-1))
        offs = (flat * self.corners).sum(axis=-1)
        flat = flat * np.sign(offs)[:, None]
        normals = flat[:, :1] * self.u + flat[:, 1:] * self.v
        return FlatSkin(normals, np.abs(offs) + normals @ self.at)

    def holds(self, at: Array, spare: float = 0.0) -> Bools:
        """Which places (…, 3) lie in it, by more than ``spare``."""
        if self.corners is None:
            flat = self.flat(at)
            return np.asarray(np.hypot(flat[..., 0], flat[..., 1]) < self.radius - spare)
        assert isinstance(self.skin, FlatSkin)
        return np.asarray((at @ self.skin.normals.T < self.skin.offs - spare).all(axis=-1))

    def chord(self, v: Number) -> Array:
        """How wide the section is at ``v``, along u."""
        v = np.asarray(v, dtype=np.float64)
        if self.corners is None:
            return 2 * np.sqrt(np.maximum(self.radius**2 - v**2, 0.0))
        return chord_of(self.corners[:, ::-1], v)

    @property
    def breaks(self) -> list[float]:
        """The v at which the width of the section changes its law."""
        return [-self.radius, self.radius] if self.corners is None else sorted(self.corners[:, 1].tolist())


class Main:
    """A prism or pyramid on ``corners`` (n, 2), a cylinder or cone of ``radius``; pointed where it has an ``apex``
    height; a sphere of ``radius`` where it is a ``ball``."""

    def __init__(
        self, corners: Array | None = None, radius: float = 0.0, apex: float = 0.0, ball: bool = False
    ) -> None:
        self.corners, self.radius, self.apex, self.ball = corners, radius, apex, ball

    @property
    def round(self) -> bool:
        return self.corners is None

    @cached_property
    def skin(self) -> Skin:
        """Its skin without base and top."""
        if self.ball:
            return BallSkin(self.radius)
        if self.corners is not None:
            return upright_skin(self.corners, self.apex)
        return ConeSkin(self.radius, self.apex) if self.apex else RoundSkin(np.zeros(3), np.eye(3)[2], self.radius)

    def base(self, turn: Number) -> Array:
        """Places of a round base (…, 3), by their turn anticlockwise from the right as seen from above."""
        t = np.asarray(turn, dtype=np.float64)
        return point3(self.radius * np.asarray(cosd(t)), -self.radius * np.asarray(sind(t)), 0.0 * t)

    def way(self, foot: Array) -> Array:
        """The unit vector up its skin from a place of the base (3,)."""
        return unit(point3(0.0, 0.0, self.apex) - foot) if self.apex else np.eye(3)[2]

    @property
    def feet(self) -> Array:
        """The corners of a flat-sided base in space, (n, 3)."""
        assert self.corners is not None
        return np.column_stack([self.corners, np.zeros(len(self.corners))])

    def chord(self, y: Number) -> Array:
        """How wide an upright one is at ``y``, along x."""
        y = np.asarray(y, dtype=np.float64)
        if self.corners is None:
            return 2 * np.sqrt(np.maximum(self.radius**2 - y**2, 0.0))
        return chord_of(self.corners[:, ::-1], y)

    @property
    def breaks(self) -> list[float]:
        """The y at which its width changes its law."""
        return [-self.radius, self.radius] if self.corners is None else sorted(self.corners[:, 1].tolist())

    def outline_feet(self, way: Array) -> list[Array]:
        """The places of a round base over which its skin is seen on edge along a unit vector; none where all of it
        shows, or of a sphere."""
        if self.corners is not None or self.ball:
            return []
        flat = float(np.hypot(*way[:2]))
        if flat <= 1e-12:
            return []
        lean = -self.radius / self.apex * float(way[2]) / flat if self.apex else 0.0
        if abs(lean) >= 1.0:
            return []
        middle = float(np.rad2deg(np.arctan2(-way[1], way[0])))
        half = float(np.rad2deg(np.arccos(lean)))
        return [self.base(middle + half), self.base(middle - half)]


def chord_of(corners: Array, at: Array) -> Array:
    """How wide a convex polygon (n, 2) is, along its second coordinate, where the first is ``at``.

    >>> chord_of(np.array([[1.0, 0], [0, 1], [-1, 0], [0, -1]]), np.array([0.0, 0.5, 2.0])).tolist()
    [2.0, 1.0, 0.0]
    """
    order = sorted({round(float(x), 12) for x in corners[:, 0]})
    wide = []
    for x in order:
        hits = []
        for a, b in zip(corners, np.roll(corners, -1, axis=0)):
            low, high = sorted((float(a[0]), float(b[0])))
            if low - 1e-9 <= x <= high + 1e-9:
                if high - low <= 1e-9:
                    hits += [float(a[1]), float(b[1])]
                else:
                    hits.append(float(a[1] + (b[1] - a[1]) * np.clip((x - a[0]) / (b[0] - a[0]), 0.0, 1.0)))
        wide.append(max(hits) - min(hits))
    return np.asarray(np.interp(at, order, wide, left=0.0, right=0.0))


def ring_of(sides: int, side: float, turn: float) -> Array:
    """The corners of a regular polygon about the origin, (n, 2), by u and v: the first at ``turn`` degrees.

    >>> ring_of(4, float(np.sqrt(2)), 0.0).round(9).tolist()[0]
    [1.0, 0.0]
    """
    reach = side / 2 / float(sind(180.0 / sides))
    turns: Array = turn + 360.0 / sides * np.arange(sides, dtype=np.float64)
    return np.asarray(point(reach * np.asarray(cosd(turns)), reach * np.asarray(sind(turns))))
