"""The faces of a solid built of blocks, holes cut out of them, in convex flat pieces: round skins as flat strips."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.geometry.block_lines import lips_of
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, multiples, unit

STRIPS = 24
"""Into how many strips a round skin is parted."""
BEHIND, LEAST = 1e-7, 1e-12
"""Of the whole's size, how far behind a face it is asked for matter; of its square, the area that is one."""
NEAR = 1e-12
"""By how much the cosine of the angle of two planes that are one is under 1."""
LOOPS = {
    "box": ("AEFB", "ADHE", "EHGF", "ABCD", "BFGC", "DCGH"),
    "wedge": ("AEFB", "ADHE", "EHF", "ABD", "BFHD"),
    "ramp": ("AEB", "ADHE", "EHCB", "ABCD", "DCH"),
}
"""The faces of the flat-sided shapes, by the letters of their box."""


class Facet(NamedTuple):
    """A flat convex face: its corners, (m, 3), the way out of the solid there, the number of the round block that it is
    of, 0 for none, and the convex ``pieces`` that holes leave of it, where they take something."""

    corners: Array
    outward: Array
    round: int = 0
    pieces: tuple[Array, ...] = ()


class Bounds(NamedTuple):
    """The half-spaces that a convex block fills: ``normals`` · place ≤ ``offs``."""

    normals: Array
    offs: Array

    def over(self, places: Array) -> Array:
        """How far places, (m, 3), are beyond each, (bounds, m)."""
        return np.asarray(self.normals @ places.T - self.offs[:, None])

    def ends_in(self, face: Facet, near: float) -> bool:
        """Whether one of them is a face's plane, turned the same way."""
        off = self.offs - self.normals @ face.corners[0]
        return bool(((self.normals @ face.outward > 1.0 - NEAR) & (np.abs(off) < near)).any())


@lru_cache(maxsize=8)
def faces_of(built: Built) -> tuple[Facet, ...]:
    """Every face, what lies within a hole cut out of it, and what holes lay bare.

    >>> box, hole = Block("box", (0, 0, 0), (8, 8, 3)), Block("hole", (2, 2, 1), (4, 4, 2))
    >>> [len(face.pieces) for face in faces_of(Built((box, hole))) if not face.round], len(faces_of(Built((box, hole))))
    ([0, 0, 24, 0, 0, 0, 0], 31)
    """
    holes = {number: hole for number, hole in enumerate(built.blocks, 1) if hole.is_hole}
    strips = {number: _strips(built, block, number) for number, block in enumerate(built.blocks, 1)}
    bounds = {number: _bounds(faces) for number, faces in strips.items()}
    solid = [bounds[number] for number in strips if number not in holes]
    behind, least = BEHIND * built.span, LEAST * built.span**2
    found: list[Facet] = []
    for number, faces in strips.items():
        others = [bounds[other] for other in holes if other != number]
        for face in faces:
            shift = behind * face.outward
            if number in holes:
                turned = face._replace(outward=-face.outward, corners=face.corners[::-1])
                # where a block has a face of its own in the same plane, that is what is laid bare
                bare = [one for one in solid if not one.ends_in(turned, behind)]
                within = [piece for one in bare for piece in _within(turned.corners, one, shift)]
                found += [turned._replace(corners=piece) for piece in _less(within, others, shift, least)]
                continue
            left = _less([face.corners], others, -shift, least)
            if len(left) == 1 and left[0] is face.corners:
                found.append(face)
            elif left:
                found.append(face._replace(pieces=tuple(left)))
    return tuple(found)


def _strips(built: Built, block: Block, number: int) -> list[Facet]:
    """The faces of one block, as if it stood alone; a round one's skin in strips that part at its lips too."""
    if block.axis is None:
        loops = [block.corners(loop) for loop in LOOPS[block.shape]]
        skins = [0] * len(loops)
    else:
        turns = np.unique(np.concatenate([multiples(360.0 / STRIPS, STRIPS), lips_of(built, block)]))
        low, high = (block.round_at(turns, level) for level in (0.0, 1.0))
        sides = [np.array([low[k - 1], low[k], high[k], high[k - 1]]) for k in range(len(turns))]
        loops = [side[:3] if block.shape == "cone" else side for side in sides]
        skins = [number] * len(loops)
        ends = [low] if block.shape == "cone" else [low, high]
        loops, skins = loops + ends, skins + [0] * len(ends)
    middle = np.array(block.low) + np.array(block.size) * (0.3 if block.axis is None else 0.5)
    return [_outward(loop, middle, skin) for loop, skin in zip(loops, skins)]


def _outward(loop: Array, middle: Array, skin: int) -> Facet:
    """A face that turns away from a place within its block; its corners run as those of a convex solid do in a
    right-handed space."""
    normal = unit(cross3(loop[1] - loop[0], loop[-1] - loop[0]))
    turned = float((loop[0] - middle) @ normal) < 0
    return Facet(loop[::-1] if turned else loop, np.asarray(-normal if turned else normal), skin)


def _bounds(faces: Sequence[Facet]) -> Bounds:
    normals = np.array([face.outward for face in faces])
    return Bounds(normals, np.array([face.outward @ face.corners[0] for face in faces]))


def _within(corners: Array, bounds: Bounds, shift: Array) -> Iterator[Array]:
    """What of a convex piece has a block ``shift`` beside it."""
    over = bounds.over(corners + shift)
    if (over > 0).all(axis=1).any():
        return
    for k in np.flatnonzero((over > 0).any(axis=1)).tolist():
        corners, _ = _parted(corners, bounds.normals[k] @ (corners + shift).T - bounds.offs[k])
        if len(corners) < 3:
            return
    yield corners


def _less(pieces: Iterable[Array], holes: Sequence[Bounds], shift: Array, least: float) -> list[Array]:
    """Convex pieces without what has a hole ``shift`` beside it, again in convex pieces."""
    left = list(pieces)
    for hole in holes:
        left = [part for piece in left for part in _without(piece, hole, shift)]
    return [piece for piece in left if _area(piece) > least]


def _without(corners: Array, hole: Bounds, shift: Array) -> list[Array]:
    over = hole.over(corners + shift)
    if (over >= 0).all(axis=1).any():
        return [corners]
    kept = []
    for k in np.flatnonzero((over > 0).any(axis=1)).tolist():
        corners, beyond = _parted(corners, hole.normals[k] @ (corners + shift).T - hole.offs[k])
        if len(beyond) > 2:
            kept.append(beyond)
        if len(corners) < 3:
            break
    return kept


def _parted(corners: Array, over: Array) -> tuple[Array, Array]:
    """A convex piece parted where ``over`` of its corners passes nothing: what is under it, and what is over it."""
    under, beyond = list[Array](), list[Array]()
    for k, (here, there) in enumerate(zip(over.tolist(), np.roll(over, -1).tolist())):
        if here <= 0:
            under.append(corners[k])
        if here >= 0:
            beyond.append(corners[k])
        if here * there < 0:
            cut = corners[k] + here / (here - there) * (corners[(k + 1) % len(corners)] - corners[k])
            under.append(cut)
            beyond.append(cut)
    return np.array(under), np.array(beyond)


def _area(corners: Array) -> float:
    """Of a flat piece."""
    off = corners - corners[0]
    return float(np.sqrt((cross3(off[1:-1], off[2:]).sum(axis=0) ** 2).sum())) / 2
