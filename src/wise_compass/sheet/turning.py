"""Dimensions and items turned about the origin; words stay readable from below or from the right."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import replace

import numpy as np

from wise_compass.drafting.dimensions import Angular, Dimension, Linear, Radial
from wise_compass.geometry.vectors import turned
from wise_compass.sheet.drawing import Arc, Boxes, Dots, Item, Line, Path, Text


def turned_dimension(one: Dimension, by: float) -> Dimension:
    """A dimension of a figure that is turned."""
    if isinstance(one, Linear):
        along = None if one.along is None else one.along + by
        out = None if one.out is None else one.out + by
        past = None if one.past is None else turned(one.past, by)
        return one._replace(p=turned(one.p, by), q=turned(one.q, by), along=along, out=out, past=past)
    if isinstance(one, Radial):
        return one._replace(centre=turned(one.centre, by), angle=one.angle + by)
    if isinstance(one, Angular):
        return one._replace(vertex=turned(one.vertex, by), start=one.start + by)
    return one._replace(at=turned(one.at, by))


def turned_items(items: Iterable[Item], by: float) -> Iterator[Item]:
    """Items turned about the origin."""
    for item in items:
        if isinstance(item, (Line, Dots)):
            yield replace(item, points=turned(item.points, by))
        elif isinstance(item, Arc):
            yield replace(item, centre=turned(item.centre, by), start=item.start + by)
        elif isinstance(item, Path):
            yield replace(item, segments=turned(item.segments, by))
        elif isinstance(item, Boxes):
            middle = item.corners.mean(axis=1, keepdims=True)
            yield replace(item, corners=item.corners - middle + turned(middle, by))
        elif isinstance(item, Text):
            turn = (item.turn + by + 90.0 - 1e-6) % 180.0 - 90.0 + 1e-6
            over = bool(np.cos(np.deg2rad(turn - item.turn - by)) < 0)
            yield replace(item, at=turned(item.at, by), turn=turn, anchor=1.0 - item.anchor if over else item.anchor)
