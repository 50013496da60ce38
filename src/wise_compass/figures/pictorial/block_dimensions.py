"""Dimensions of solids built of blocks, in their views: every level once from one datum, every round by its diameter
in the view that shows its circle, like ones counted."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Leader, Radial, running
from wise_compass.figures.pictorial.block_views import HIDDEN, VIEWS
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.vectors import Array, direction, dot

SAME = 1e-6
"""mm within which two levels are one."""
LETTERS = "ABCDEFGH"
TOLD_IN = {0: ("front", "top"), 1: ("top", "side"), 2: ("front", "side")}
"""The views that tell of each axis, the first that is drawn."""


def block_dimensions(found: Mapping[str, Array], built: Built, given: str = "rows") -> Iterator[Dimension]:
    """Of blocks whose views stand in a drawing."""
    for axis, views in TOLD_IN.items():
        view = next((one for one in views if f"O.{one}" in found), None)
        if view is not None:
            yield from _levels(found[f"O.{view}"], built, view, axis, given)
    yield from _rounds(found, built, given)


def _levels(start: Array, built: Built, view: str, axis: int, given: str) -> Iterator[Dimension]:
    """Every level along an axis, from the lowest, at the place that lies nearest to their row."""
    low, high = built.extent
    way = float(VIEWS[view].angles[axis])
    side = 1 if way != 90.0 or view == "front" else -1
    out = direction(way + 90.0) * side
    at = VIEWS[view].at
    nearest: dict[float, Array] = {}
    for place in _places(built, axis, (low, high)):
        here = start + at(place - low)
        level = round(float(place[axis]), 6)
        if level not in nearest or float(dot(here - nearest[level], out)) > SAME:
            nearest[level] = here
    datum = nearest.pop(round(float(low[axis]), 6), start)
    yield from running(given, datum, [nearest[level] for level in sorted(nearest)], way, side)


def _places(built: Built, axis: int, extent: tuple[Array, Array]) -> Iterator[Array]:
    """What lies at levels along an axis: corners of blocks, middles of rounds, bottoms of blind holes."""
    for block in built.blocks:
        corners = block.corners(LETTERS)
        if block.axis is None or (axis == block.axis and not block.is_hole):
            yield from corners
        elif axis != block.axis:
            yield np.asarray(block.low) + np.asarray(block.size) / 2
        else:
            low, high = extent[0][axis], extent[1][axis]
            yield from (at for at in corners if low + SAME < at[axis] < high - SAME)


def _rounds(found: Mapping[str, Array], built: Built, given: str) -> Iterator[Dimension]:
    """The diameter of every round, like ones together."""
    alike: dict[tuple[object, ...], list[Block]] = {}
    for block in built.blocks:
        if block.axis is not None:
            sizes = [round(block.size[k], 6) for k in block.plane]
            alike.setdefault((block.axis, block.is_hole, *sizes), []).append(block)
    for blocks in alike.values():
        yield from _one_round(found, built, blocks, given)


def _one_round(found: Mapping[str, Array], built: Built, blocks: Sequence[Block], given: str) -> Iterator[Dimension]:
    block, count = blocks[0], f"{len(blocks)}× " if len(blocks) > 1 else ""
    sizes = [block.size[k] for k in block.plane]
    middle = np.asarray(block.low) + np.asarray(block.size) / 2
    for view in VIEWS:
        if f"O.{view}" not in found:
            continue
        at = found[f"O.{view}"] + VIEWS[view].at(middle - built.extent[0])
        if HIDDEN[view] == block.axis and abs(sizes[0] - sizes[1]) < SAME:
            yield Radial(at, sizes[0] / 2, given, sizes[0], 50.0, diameter=True, prefix=count)
            return
    for view in VIEWS:
        if f"O.{view}" in found:
            at = found[f"O.{view}"] + VIEWS[view].at(middle - built.extent[0])
            yield Leader(at, given, sizes[0], f"{count}⌀")
            return
