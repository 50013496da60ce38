"""Where the frame of a sheet may be in a photograph: closed outlines of four straight sides, dark ones alone, and the
longest straight lines where something lies over the frame."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import combinations
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from wise_compass.camera.raster import Pixels
from wise_compass.geometry.vectors import Array

LOOK = 1500
"""Pixels of the longer side at which the frame is looked for."""
USUAL = ((31, 9), (61, 12), (21, 5))
"""Windows, in pixels, and by how much ink is darker than the paper round it."""
DARK = ((31, 26), (61, 40), (61, 60))
"""The same for the frame's own black, where the paper is squared or ruled."""
FINE_CORNERS, ROUGH_CORNERS = 0.004, 0.03
"""Of an outline's length: what its sides may stray, and what they may where a lens bends them."""
BENT = (-0.12, -0.25, 0.1)
"""How much a lens may bend, as its radial distortion at the corner of the picture."""
LONGEST, TRIED = 10, 6
"""Straight lines that may be sides of the frame, and of what is made of them, how many are tried."""


def tries(grey: Pixels) -> Iterator[tuple[list[Array], float]]:
    """What may be the frame, the likeliest first, each with how much the lens bends it: corners in pixels, from the
    upper left clockwise."""
    usual = _quads(grey, USUAL)
    yield usual, 0.0
    for one in DARK:
        yield _quads(grey, (one,)), 0.0
    lined = _of_lines(grey)
    for k in range(0, len(lined), 3):
        yield lined[k : k + 3], 0.0
    rough = _quads(grey, USUAL, ROUGH_CORNERS)
    for bent in BENT if rough else ():
        yield rough, bent


def _small(grey: Pixels) -> tuple[Pixels, float]:
    factor = min(LOOK / max(grey.shape), 1.0)
    if factor == 1.0:
        return grey, 1.0
    return np.asarray(cv2.resize(grey, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA), np.uint8), factor


def _quads(grey: Pixels, thresholds: Sequence[tuple[int, int]], rough: float = FINE_CORNERS) -> list[Array]:
    """Closed outlines of four straight sides, the largest first: corners in pixels, from the upper left clockwise."""
    small, factor = _small(grey)
    found: list[tuple[float, Array]] = []
    for block, less in thresholds:
        dark = cv2.adaptiveThreshold(small, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY_INV, block, less)
        dark = cv2.morphologyEx(dark, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
        contours, tree = cv2.findContours(dark, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
        holes: dict[int, list[NDArray[Any]]] = {}
        for k, contour in enumerate(contours):
            if tree[0][k][3] >= 0 and len(contour) > 30:
                holes.setdefault(int(tree[0][k][3]), []).append(contour)
        # the title strip parts the inside of the frame: all that one network of lines encloses counts together
        for mine in holes.values():
            area = sum(cv2.contourArea(contour) for contour in mine)
            if area > 0.08 * small.size:
                quad = _four_sides(np.concatenate(mine), rough)
                if quad is not None and _inside(quad, small.shape) and abs(_area(quad)) < 1.35 * area:
                    found.append((area, quad / factor))
        if found:
            break
    found.sort(key=lambda one: -one[0])
    return [quad for _, quad in found]


def _area(quad: Array) -> float:
    x, y = quad.T
    return 0.5 * float(x @ np.roll(y, -1) - y @ np.roll(x, -1))


def _four_sides(contour: NDArray[Any], rough: float) -> Array | None:
    """The corners in which the four longest sides of an outline's hull meet; None where they make no quadrilateral."""
    hull = cv2.convexHull(contour)
    corners = cv2.approxPolyDP(hull, rough * cv2.arcLength(hull, True), True)[:, 0].astype(float)
    if len(corners) < 4:
        return None
    sides = np.roll(corners, -1, axis=0) - corners
    longest = sorted(np.argsort(-np.hypot(*sides.T))[:4].tolist())
    meets = []
    for one, other in zip(longest, [*longest[1:], longest[0]]):
        turn = float(sides[one][0] * sides[other][1] - sides[one][1] * sides[other][0])
        if abs(turn) < 0.3 * float(np.hypot(*sides[one]) * np.hypot(*sides[other])):
            return None
        off = corners[other] - corners[one]
        meets.append(corners[one] + sides[one] * float(off[0] * sides[other][1] - off[1] * sides[other][0]) / turn)
    quad = np.array(meets)
    if _area(quad) < 0:
        quad = quad[::-1]
    return np.roll(quad, -int(np.argmin(quad.sum(axis=1))), axis=0)


def _inside(quad: Array, shape: tuple[int, ...]) -> bool:
    return bool((quad > 2).all() and (quad < np.array([shape[1], shape[0]]) - 3).all())


def _of_lines(grey: Pixels) -> list[Array]:
    """Quadrilaterals of the longest straight dark lines (probabilistic Hough transform), the darkest sides first."""
    small, factor = _small(grey)
    dark = cv2.adaptiveThreshold(small, 255, cv2.ADAPTIVE_THRESH_MEAN_C, cv2.THRESH_BINARY_INV, 31, 20)
    least = 0.16 * min(small.shape)
    found = cv2.HoughLinesP(dark, 1, np.pi / 720, 90, minLineLength=int(least), maxLineGap=12)
    lines = _merged([] if found is None else list(np.array(found, dtype=float).reshape(-1, 2, 2)))
    made: list[tuple[float, Array]] = []
    for four in combinations(lines[:LONGEST], 4):
        quad = _four_lines([line for _, line in four])
        if quad is None or not _inside(quad, small.shape) or abs(_area(quad)) < 0.08 * small.size:
            continue
        round_it = float(np.hypot(*(quad - np.roll(quad, -1, axis=0)).T).sum())
        made.append((sum(long for long, _ in four) / round_it + 0.3 * round_it / sum(small.shape), quad / factor))
    made.sort(key=lambda one: -one[0])
    return [quad for _, quad in made[:TRIED]]


def _merged(pieces: Sequence[Array]) -> list[tuple[float, Array]]:
    """Straight lines of which pieces were found: how much of each is dark, and its ends, the longest first."""
    lines: list[list[Array]] = []
    for piece in sorted(pieces, key=lambda one: -float(np.hypot(*(one[1] - one[0])))):
        for line in lines:
            way = line[0][1] - line[0][0]
            way = way / float(np.hypot(*way))
            off = piece - line[0][0]
            if float(np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]).max()) < 6.0:
                line.append(piece)
                break
        else:
            lines.append([piece])
    told = []
    for line in lines:
        ends = np.concatenate(line)
        way = line[0][1] - line[0][0]
        way = way / float(np.hypot(*way))
        along = np.sort((ends - line[0][0]) @ way)
        covered = np.zeros(int(along[-1] - along[0]) + 2, dtype=bool)
        for piece in line:
            t = np.sort((piece - line[0][0]) @ way) - along[0]
            covered[int(t[0]) : int(t[1]) + 1] = True
        base = line[0][0]
        told.append((float(covered.sum()), np.array([base + way * along[0], base + way * along[-1]])))
    return sorted(told, key=lambda one: -one[0])


def _four_lines(lines: Sequence[Array]) -> Array | None:
    """The quadrilateral of four lines, two and two about level with each other; None where they make none."""
    angles = np.array([np.arctan2(*(line[1] - line[0])[::-1]) for line in lines])
    first = [k for k in range(4) if abs(np.sin(angles[k] - angles[0])) < 0.5]
    other = [k for k in range(4) if k not in first]
    if len(first) != 2 or abs(np.sin(angles[other[0]] - angles[other[1]])) > 0.5:
        return None
    corners = [_meet(lines[i], lines[j]) for i in first for j in other]
    if any(corner is None for corner in corners):
        return None
    quad = np.array(corners)
    middle = quad.mean(axis=0)
    quad = quad[np.argsort(np.arctan2(*(quad - middle).T[::-1]))]
    return np.roll(quad, -int(np.argmin(quad.sum(axis=1))), axis=0)


def _meet(one: Array, other: Array) -> Array | None:
    u, v = one[1] - one[0], other[1] - other[0]
    turn = float(u[0] * v[1] - u[1] * v[0])
    if abs(turn) < 0.2 * float(np.hypot(*u) * np.hypot(*v)):
        return None
    off = other[0] - one[0]
    return np.asarray(one[0] + u * float(off[0] * v[1] - off[1] * v[0]) / turn)
