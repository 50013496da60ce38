"""Dimensions: what a figure wants written on the drawing, in figure millimetres; the sheet decides how."""

from __future__ import annotations

from typing import NamedTuple

from wise_compass.geometry.vectors import Array


class Linear(NamedTuple):
    """The distance from ``p`` to ``q``, its line set off by ``rank`` spaces to the ``side`` (+1 left of p→q), its
    figures ``share`` of the way along."""

    p: Array
    q: Array
    given: str
    value: float
    side: int = -1
    rank: int = 1
    prefix: str = ""
    share: float = 0.5


class Radial(NamedTuple):
    """A radius or, with ``diameter``, a diameter, written along the ray at ``angle`` degrees, ``off`` mm further out on
    the paper than it need be."""

    centre: Array
    radius: float
    given: str
    value: float
    angle: float = 45.0
    diameter: bool = False
    off: float = 0.0


class Angular(NamedTuple):
    """The angle at ``vertex`` from the direction ``start`` over ``sweep`` degrees, its arc ``reach`` mm off on the
    paper and its figures ``share`` of the way along it."""

    vertex: Array
    start: float
    sweep: float
    given: str
    value: float
    reach: float = 18.0
    share: float = 0.5


Dimension = Linear | Radial | Angular
