"""Convex skins, and where lines of one direction go into them and come out: the one account of solids that meet.

A skin is the boundary of a convex body without ends: a prism or a cylinder along its axis, a pyramid or a cone from its
apex on, a sphere. ``hits`` takes places (…, 3) and a direction (3,), and gives for the line through each how far along
the direction it goes in and comes out, (…,) each: NaN twice for a line that misses, and one place twice for a line that
touches within :data:`TOUCH`. A line that never comes out has −inf or inf there.
"""

from __future__ import annotations

from typing import NamedTuple, Protocol

import numpy as np

from wise_compass.geometry.vectors import Array, Ints, dot, length, unit

TOUCH = 1e-9
"""mm: what lies so near touches."""
ALONG = 1e-12
"""The cosine under which a line runs along a face."""
ON_FACE = 1e-6
"""mm: a place so near to a face lies on it."""


class Skin(Protocol):
    """The boundary of a convex body, told by where lines pierce it and which way it faces."""

    def hits(self, at: Array, way: Array) -> tuple[Array, Array]:
        """Where lines through places (…, 3) along the unit vector ``way`` go in and come out."""

    def normal(self, at: Array) -> Array:
        """The outward unit normals, (…, 3), at places of the skin."""


class FlatSkin(NamedTuple):
    """Flat faces: the places where all of ``normals``·p ≤ ``offs``, (k, 3) and (k,). Lines may have a way each,
    (…, 3)."""

    normals: Array
    offs: Array

    def hits(self, at: Array, way: Array) -> tuple[Array, Array]:
        """As :class:`Skin` has it.

        >>> wall = FlatSkin(np.array([[1.0, 0, 0], [-1.0, 0, 0]]), np.array([2.0, 3.0]))
        >>> [float(x) for x in wall.hits(np.zeros(3), np.array([1.0, 0, 0]))]
        [-3.0, 2.0]
        """
        room = self.offs - at @ self.normals.T
        rate = way @ self.normals.T
        if rate.ndim == 1:  # one way for all of them: each face is either entered by, or left, or run along
            ins, outs, beside = rate < -ALONG, rate > ALONG, np.abs(rate) <= ALONG
            inward, outward = room[..., ins], room[..., outs]
            first = (inward / rate[ins]).max(axis=-1, initial=-np.inf)
            last = (outward / rate[outs]).min(axis=-1, initial=np.inf)
            clear = first <= last
            if not clear.all():  # what only touches, within a little
                widest = ((inward + TOUCH) / rate[ins]).max(axis=-1, initial=-np.inf)
                clear |= widest <= ((outward + TOUCH) / rate[outs]).min(axis=-1, initial=np.inf)
            if beside.any():
                clear &= ~(room[..., beside] < -TOUCH).any(axis=-1)
        else:
            with np.errstate(divide="ignore", invalid="ignore"):
                reach, spare = room / rate, (room + TOUCH) / rate
                first = np.where(rate < -ALONG, reach, -np.inf).max(axis=-1)
                last = np.where(rate > ALONG, reach, np.inf).min(axis=-1)
                widest = np.where(rate < -ALONG, spare, -np.inf).max(axis=-1)
                narrow = np.where(rate > ALONG, spare, np.inf).min(axis=-1)
            clear = ~((room < -TOUCH) & (np.abs(rate) <= ALONG)).any(axis=-1) & (widest <= narrow)
        turned = first > last
        middle = np.where(turned, (first + last) / 2, 0.0)
        first, last = np.where(turned, middle, first), np.where(turned, middle, last)
        return np.where(clear, first, np.nan), np.where(clear, last, np.nan)

    def normal(self, at: Array) -> Array:
        """As :class:`Skin` has it; on an edge that of either face."""
        return np.asarray(self.normals[np.argmax(at @ self.normals.T - self.offs, axis=-1)])

    def faces(self, at: Array, way: Array) -> Ints:
        """The numbers, (…,), of the faces on which places (…, 3) lie, of several the one that turns most to its
        ``way``, (3,) or (…, 3).

        >>> box = upright_skin(np.array([[1.0, -1], [-1, -1], [-1, 1], [1, 1]]))
        >>> box.normals[box.faces(np.array([1.0, 1.0, 5.0]), np.array([1.0, 0.0, 0.0]))].tolist()
        [1.0, 0.0, 0.0]
        """
        on = np.abs(at @ self.normals.T - self.offs) <= ON_FACE
        return np.asarray(np.argmax(np.where(on, way @ self.normals.T, -np.inf), axis=-1))


class RoundSkin(NamedTuple):
    """A cylinder of ``radius`` whose axis runs through ``on`` along the unit vector ``axis``."""

    on: Array
    axis: Array
    radius: float

    def _square(self, p: Array) -> Array:
        """What of vectors (…, 3) is square to the axis."""
        return np.asarray(p - dot(p, self.axis)[..., None] * self.axis)

    def hits(self, at: Array, way: Array) -> tuple[Array, Array]:
        """As :class:`Skin` has it.

        >>> pipe = RoundSkin(np.zeros(3), np.array([0.0, 0, 1]), 5.0)
        >>> [float(x) for x in pipe.hits(np.array([0.0, 4.0, 7.0]), np.array([1.0, 0, 0]))]
        [-3.0, 3.0]
        """
        w, p = self._square(way), self._square(at - self.on)
        rate = float(length(w))
        if rate <= 1e-12:
            inside = length(p) <= self.radius + TOUCH
            return np.where(inside, -np.inf, np.nan), np.where(inside, np.inf, np.nan)
        u = w / rate
        middle = -dot(p, u) / rate
        off = length(p + (middle * rate)[..., None] * u)
        return _about(middle, off, self.radius, 1.0 / rate)

    def normal(self, at: Array) -> Array:
        """As :class:`Skin` has it."""
        return unit(self._square(at - self.on))


class BallSkin(NamedTuple):
    """A sphere about the origin."""

    radius: float

    def hits(self, at: Array, way: Array) -> tuple[Array, Array]:
        """As :class:`Skin` has it.

        >>> [float(x) for x in BallSkin(5.0).hits(np.array([3.0, 0.0, 9.0]), np.array([0.0, 0, 1]))]
        [-13.0, -5.0]
        """
        middle = -np.asarray(dot(at, way))
        return _about(middle, length(at + middle[..., None] * way), self.radius, 1.0)

    def normal(self, at: Array) -> Array:
        """As :class:`Skin` has it."""
        return unit(at)


class ConeSkin(NamedTuple):
    """An upright cone: its apex ``height`` over the origin, ``radius`` wide about it, without end downward."""

    radius: float
    height: float

    def hits(self, at: Array, way: Array) -> tuple[Array, Array]:
        """As :class:`Skin` has it: roots of the quadric that lie under the apex.

        >>> [float(x) for x in ConeSkin(30.0, 60.0).hits(np.array([0.0, 0.0, 20.0]), np.array([1.0, 0, 0]))]
        [-20.0, 20.0]
        """
        k = self.radius / self.height
        p = at - np.array([0.0, 0.0, self.height])
        flat, up = p[..., :2], p[..., 2]
        a = float(way[:2] @ way[:2]) - (k * float(way[2])) ** 2
        b = flat @ way[:2] - k * k * up * way[2]
        c = (flat * flat).sum(axis=-1) - (k * up) ** 2
        if a < -1e-12:
            # steeper than the cone: under the apex such a line has one meeting
            root = np.sqrt(np.maximum(b * b - a * c, 0.0))
            ends = np.stack([(-b - root) / a, (-b + root) / a], axis=-1)
            low = np.where((up[..., None] + ends * way[2]) <= TOUCH, ends, np.nan)
            only = np.nanmin(low, axis=-1) if way[2] < 0 else np.nanmax(low, axis=-1)
            far = np.full(only.shape, -np.inf if way[2] > 0 else np.inf)
            return (far, only) if way[2] > 0 else (only, far)
        if a <= 1e-12:
            with np.errstate(divide="ignore", invalid="ignore"):
                only = -c / (2 * b)
            good = (up + only * way[2] <= TOUCH) & (np.abs(b) > 1e-15)
            far = np.full(only.shape, -np.inf)
            return np.where(good, far, np.nan), np.where(good, only, np.nan)
        middle = -b / a
        # how far beside the cone's outline, seen along the way, the line passes: there it touches
        over = (b * b - a * c) / a
        room = np.maximum(np.sqrt(np.maximum((flat * flat).sum(axis=-1), (k * up) ** 2)), 1.0)
        touching = np.abs(over) <= 2 * TOUCH * room
        root = np.sqrt(np.where(touching, 0.0, np.maximum(over, 0.0)) / a)
        clear = (touching | (over > 0)) & (up + middle * way[2] <= TOUCH)
        return np.where(clear, middle - root, np.nan), np.where(clear, middle + root, np.nan)

    def normal(self, at: Array) -> Array:
        """As :class:`Skin` has it."""
        flat = unit(at[..., :2])
        rise = np.full((*at.shape[:-1], 1), self.radius / self.height)
        return unit(np.concatenate([flat, rise], axis=-1))


def _about(middle: Array, off: Array, radius: float, scale: float) -> tuple[Array, Array]:
    """Both ends of chords that pass ``off`` from the middle of a circle, about their middles."""
    half = np.where(off > radius + TOUCH, np.nan, np.sqrt(np.maximum((radius - off) * (radius + off), 0.0)))
    half = np.where(np.abs(off - radius) <= TOUCH, 0.0, half) * scale
    return middle - half, middle + half


def upright_skin(corners: Array, apex: float = 0.0) -> FlatSkin:
    """The sides over a base (n, 2), convex about the origin: upright, or up to an ``apex`` over the origin.

    >>> box = upright_skin(np.array([[1.0, -1], [-1, -1], [-1, 1], [1, 1]]))
    >>> sorted(box.normals.round(9).tolist())[0]
    [-1.0, 0.0, 0.0]
    """
    sides = np.roll(corners, -1, axis=0) - corners
    flat = unit(np.stack([sides[:, 1], -sides[:, 0]], axis=-1))
    offs = (flat * corners).sum(axis=-1)
    flat, offs = flat * np.sign(offs)[:, None], np.abs(offs)
    rise = offs / apex if apex else np.zeros(len(offs))
    size = np.hypot(1.0, rise)
    return FlatSkin(np.concatenate([flat, rise[:, None]], axis=-1) / size[:, None], offs / size)
