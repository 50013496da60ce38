"""A pattern with its laps, to be folded up: each lap hangs on the piece that it stands beside, and is tucked in
last."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from wise_compass.geometry.unfold import FlatPiece, Pattern, leaning, normal_of, turns_between
from wise_compass.geometry.vectors import Array, left_of, length, unit
from wise_compass.shop.laps import Lap
from wise_compass.shop.parts import SAG
from wise_compass.shop.shop import Shop

INWARD = 0.5
"""Degrees that a lap is turned further in, so that it lies inside what it laps."""
FLAT = 1e-6
"""Of a rim's size: what lies no further out of a plane lies in it."""


def tucked(pattern: Pattern, shop: Shop) -> Pattern:
    """The pattern with a piece for every stretch of a lap beside one of its own; without those that stand beside
    none."""
    closed = pattern.folded(1.0)
    pieces = list(pattern.pieces)
    middle = np.concatenate(closed).mean(axis=0)
    laps = [_squeezed(lap, pattern) for lap in shop.laps]
    edges = [list(_beside(pattern, lap)) for lap in laps]
    rims: dict[tuple[int, str], list[Array]] = {}
    for lap, beside in zip(laps, edges):
        rims.setdefault((lap.part, lap.side.kind), []).extend(closed[k][[i, j]] for k, i, j in beside)
    lids = {rim: _lid(np.concatenate(ends), middle) for rim, ends in rims.items() if ends}
    for n, (lap, beside) in enumerate(zip(laps, edges)):
        lid = lids.get((lap.part, lap.side.kind))
        for k, i, j in beside:
            piece = pattern.pieces[k]
            a, b = piece.flat[i], piece.flat[j]
            fold = _mated(pattern, closed, k, i, j)
            if fold is None:
                fold = 90.0 if lid is None else float(turns_between(normal_of(closed[k][::-1]), lid))
            flat = np.array([a, *_outer(lap, a, b), b])
            own = np.array([a, b])
            names = (piece.names[i], f"lap {n} {k} start", f"lap {n} {k} end", piece.names[j])
            pieces.append(FlatPiece(names, flat, k, fold + INWARD, own, own))
    return Pattern(pieces, pattern.root, pattern.lies, pattern.squeezed, pattern.roots)


def _squeezed(lap: Lap, pattern: Pattern) -> Lap:
    """A lap among pieces that are as wide as their chords."""
    course = pattern.squeezed(lap.side.course)
    return lap._replace(side=lap.side._replace(course=course), free=pattern.squeezed(lap.free))


def _beside(pattern: Pattern, lap: Lap) -> Iterator[tuple[int, int, int]]:
    """The edges of pieces that lie on a lap's side, in its direction: the piece, and its corners there."""
    course = lap.side.course
    for k, piece in enumerate(pattern.pieces):
        m = len(piece.names)
        near = [_off(corner, course) < 2 * SAG for corner in piece.flat]
        for i in range(m):
            j = (i + 1) % m
            if near[i] and near[j] and float(length(piece.flat[j] - piece.flat[i])) > SAG:
                yield k, i, j


def _off(at: Array, course: Array) -> float:
    """How far a place is from a course."""
    a, u = course[:-1], course[1:] - course[:-1]
    size = np.maximum((u * u).sum(axis=1), 1e-30)
    t = np.clip(((at - a) * u).sum(axis=1) / size, 0.0, 1.0)
    return float(np.asarray(length(a + t[:, None] * u - at)).min())


def _outer(lap: Lap, a: Array, b: Array) -> list[Array]:
    """The outer corners of a lap's stretch from a to b, the part on its left; the lap's own ends where it ends
    there."""
    out = -left_of(unit(b - a)) * lap.width
    ends = []
    for at, end, outer in ((a, lap.side.course[0], lap.free[-2]), (b, lap.side.course[-1], lap.free[1])):
        ends.append(outer if float(length(at - end)) < 2 * SAG else at + out)
    return ends


def _mated(pattern: Pattern, closed: list[Array], k: int, i: int, j: int) -> float | None:
    """The angle between a piece and that which comes to its edge when all is folded up; None where none does."""
    ends = {pattern.pieces[k].names[i], pattern.pieces[k].names[j]}
    for other, piece in enumerate(pattern.pieces):
        if other != k and ends <= set(piece.names):
            return leaning(closed[k], closed[other])
    return None


def _lid(rim: Array, middle: Array) -> Array | None:
    """The outward normal of the plane that a rim lies in; None where it lies in none."""
    if len(rim) < 3:
        return None
    at = rim - rim.mean(axis=0)
    _, sizes, axes = np.linalg.svd(at, full_matrices=False)
    if sizes[1] < FLAT * sizes[0] or sizes[2] > FLAT * sizes[0]:
        return None
    normal = np.asarray(axes[2])
    return normal if float(normal @ (rim.mean(axis=0) - middle)) > 0 else -normal
