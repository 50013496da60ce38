"""Round rims of skins of straight elements, unrolled into the plane: what the edge of their pattern truly is.

A developable skin keeps every length in it. With the rim P(t) a circle of radius ρ in space, t in radians, and
r = |P − A| its distance from the apex A, the unrolled rim has r as its radius and turns about the unrolled apex by
dθ = √(ρ² − r′²) / r dt; where the elements are parallel, along the unit vector e, it lies at P · e along them and goes
√(ρ² − (P · e)′²) dt across.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.curves import Curve
from wise_compass.geometry.vectors import Array, Number, cosd, point, sind

NODES = 1441
"""Places between which a turn is integrated, by Gauss and Legendre, and found again by Hermite's cubic."""
_GAUSS = np.polynomial.legendre.leggauss(5)


class Rim(NamedTuple):
    """A circle in space by its middle (3,) and radius, anticlockwise as seen from above from the right; level, or with
    its right side fallen by ``tilt`` degrees about its own diameter to the front."""

    middle: Array
    radius: float
    tilt: float = 0.0

    def _laid(self, right: Array, back: Array) -> Array:
        """Parts to the right and to the back of the level circle, as they lie in the tilted one, (…, 3)."""
        c, s = float(cosd(self.tilt)), float(sind(self.tilt))
        return self.radius * np.stack([c * right, -back, -s * right], axis=-1)

    def at(self, t: Number) -> Array:
        """Places (…, 3), ``t`` in degrees; depth grows to the front."""
        t = np.asarray(t, dtype=float)
        return np.asarray(self.middle + self._laid(np.asarray(cosd(t)), np.asarray(sind(t))))

    def slopes(self, t: Number) -> tuple[Array, Array]:
        """The first two derivatives by the radian."""
        t = np.asarray(t, dtype=float)
        c, s = np.asarray(cosd(t)), np.asarray(sind(t))
        return self._laid(-s, c), self._laid(-c, -s)


class _Integral:
    """Of a function by degrees, in radians of it, from ``first`` on: to some twelve digits where it is smooth; worked
    out when it is first asked for."""

    def __init__(self, of: Callable[[Array], Array], first: float, last: float) -> None:
        self.of, self.first, self.last = of, first, last

    @cached_property
    def _told(self) -> tuple[Array, Array, Array]:
        """Places, and the integral and what it grows by at each."""
        nodes = np.linspace(self.first, self.last, max(int(NODES * (self.last - self.first) / 360.0), 8) + 1)
        places, weights = _GAUSS
        step = float(nodes[1] - nodes[0])
        inside = nodes[:-1, None] + step * (places + 1) / 2
        parts = (self.of(inside) * weights).sum(axis=1) * np.deg2rad(step) / 2
        return nodes, np.concatenate([[0.0], np.cumsum(parts)]), self.of(nodes) * np.deg2rad(step)

    def __call__(self, t: Number) -> Array:
        nodes, sums, slopes = self._told
        share = (np.asarray(t, dtype=float) - nodes[0]) / (nodes[1] - nodes[0])
        k = np.clip(np.floor(share).astype(int), 0, len(nodes) - 2)
        u = share - k
        a, b, da, db = sums[k], sums[k + 1], slopes[k], slopes[k + 1]
        return np.asarray(a + u * (da + u * (3 * (b - a) - 2 * da - db + u * (da + db - 2 * (b - a)))))


def about_apex(rim: Rim, apex: Array, first: float, last: float, sign: int = 1) -> Curve:
    """The unrolled rim of a cone about its unrolled apex at the origin, its place at ``first`` degrees to the right;
    anticlockwise with ``sign`` +1.

    >>> edge = about_apex(Rim(np.zeros(3), 3.0), np.array([0.0, 0.0, 4.0]), 0.0, 360.0)
    >>> edge.at(np.array([0.0, 360.0])).round(9).tolist()  # 216°, by 3 / 5 of a turn
    [[5.0, 0.0], [-4.045084972, -2.938926261]]
    """

    def radius(t: Number) -> tuple[Array, Array, Array]:
        off, (one, two) = rim.at(t) - apex, rim.slopes(t)
        r = np.sqrt((off**2).sum(axis=-1))
        gain = (off * one).sum(axis=-1) / r
        return r, gain, ((one * one).sum(axis=-1) + (off * two).sum(axis=-1) - gain**2) / r

    def across(gain: Array) -> Array:
        return np.asarray(np.sqrt(np.maximum(rim.radius**2 - gain**2, 0.0)))

    def turn(t: Array) -> Array:
        r, gain, _ = radius(t)
        return across(gain) / r

    turned = _Integral(turn, first, last)

    def frame(t: Number) -> tuple[Array, Array]:
        theta = sign * turned(t)
        out = np.stack([np.cos(theta), np.sin(theta)], axis=-1)
        return out, sign * np.stack([-out[..., 1], out[..., 0]], axis=-1)

    def at(t: Number) -> Array:
        return np.asarray(radius(t)[0][..., None] * frame(t)[0])

    def derivative(t: Number) -> Array:
        _, gain, _ = radius(t)
        out, aside = frame(t)
        return np.asarray(gain[..., None] * out + across(gain)[..., None] * aside)

    def second(t: Number) -> Array:
        r, gain, bend = radius(t)
        wide, (out, aside) = across(gain), frame(t)
        wider = -gain * bend / np.maximum(wide, 1e-300)
        return np.asarray((bend - wide**2 / r)[..., None] * out + (gain * wide / r + wider)[..., None] * aside)

    return Curve(at, derivative, second, first, last)


def along_elements(rim: Rim, way: Array, first: float, last: float) -> Curve:
    """The unrolled rim of an oblique cylinder whose elements run along the unit vector ``way``: across them to the
    right, along them upward.

    >>> edge = along_elements(Rim(np.zeros(3), 2.0), np.array([0.0, 0.0, 1.0]), 0.0, 360.0)
    >>> edge.at(np.array([360.0])).round(9).tolist()
    [[12.566370614, 0.0]]
    """

    def rise(t: Number) -> tuple[Array, Array, Array]:
        one, two = rim.slopes(t)
        return rim.at(t) @ way, one @ way, two @ way

    def across(t: Array) -> Array:
        return np.asarray(np.sqrt(np.maximum(rim.radius**2 - rise(t)[1] ** 2, 0.0)))

    gone = _Integral(across, first, last)

    def second(t: Number) -> Array:
        _, gain, bend = rise(t)
        return point(-gain * bend / np.maximum(across(np.asarray(t)), 1e-300), bend)

    return Curve(
        lambda t: point(gone(t), rise(t)[0]), lambda t: point(across(np.asarray(t)), rise(t)[1]), second, first, last
    )


def joined(pieces: list[Curve]) -> Curve:
    """Curves as one, each from where the one before ends, by their common parameter.

    >>> half = about_apex(Rim(np.zeros(3), 3.0), np.array([0.0, 0.0, 4.0]), 0.0, 180.0)
    >>> joined([half, half._replace(first=180.0, last=360.0)]).at(np.array([0.0])).round(6).tolist()
    [[5.0, 0.0]]
    """
    bounds = np.array([piece.first for piece in pieces[1:]])

    def of(pick: Callable[[Curve], Callable[[Number], Array]]) -> Callable[[Number], Array]:
        def told(t: Number) -> Array:
            t = np.asarray(t, dtype=float)
            which = np.searchsorted(bounds, t, side="right")
            out = np.empty((*t.shape, 2))
            for k, piece in enumerate(pieces):
                mine = which == k
                if mine.any():
                    out[mine] = pick(piece)(t[mine])
            return out

        return told

    return Curve(
        of(lambda piece: piece.at),
        of(lambda piece: piece.derivative),
        of(lambda piece: piece.second_derivative),
        pieces[0].first,
        pieces[-1].last,
    )
