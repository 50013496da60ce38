"""The five regular solids, each in the pose in which a hand draws it most easily: a corner, an edge or a face of it
straight down, and a plane of its symmetry from left to right."""

from __future__ import annotations

from functools import cache, lru_cache
from itertools import combinations, product

import numpy as np

from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, unit

GOLDEN = (1.0 + 5.0**0.5) / 2.0
SCHLAFLI = {"tetrahedron": (3, 3), "cube": (4, 3), "octahedron": (3, 4), "dodecahedron": (5, 3), "icosahedron": (3, 5)}
"""The sides of a face, and the faces round a corner."""
SAME = 1e-9


@cache
def easy_pose(solid: str) -> tuple[tuple[float, float, float], ...]:
    """The corners of a solid of edge 1 about its centre: right, forward, up.

    >>> len(easy_pose("dodecahedron"))
    20
    """
    h, r, g = 0.5, 0.5**0.5, GOLDEN / 2
    signs = (-1.0, 1.0)
    if solid == "tetrahedron":
        found = [(0.0, s * h, -r / 2) for s in signs] + [(s * h, 0.0, r / 2) for s in signs]
    elif solid == "cube":
        found = [at for s, z in product(signs, signs) for at in ((s * r, 0.0, z * h), (0.0, s * r, z * h))]
    elif solid == "octahedron":
        found = [(s * h, t * h, 0.0) for s, t in product(signs, signs)] + [(0.0, 0.0, s * r) for s in signs]
    else:
        far = g if solid == "icosahedron" else g + h
        found = [
            at
            for s, t in product(signs, signs)
            for at in ((s * far, 0.0, t * h), (s * h, t * far, 0.0), (0.0, s * h, t * far))
        ]
        if solid == "dodecahedron":
            found += [(s * g, t * g, v * g) for s, t, v in product(signs, signs, signs)]
    return tuple(found)


def edges_of(corners: Array, edge: float) -> list[tuple[int, int]]:
    """The pairs of corners an edge apart.

    >>> len(edges_of(np.array(easy_pose("icosahedron")), 1.0))
    30
    """
    pairs = combinations(range(len(corners)), 2)
    return [(a, b) for a, b in pairs if abs(float(np.linalg.norm(corners[a] - corners[b])) - edge) < 1e-6 * edge]


def faces_of(corners: Array, edge: float) -> list[tuple[int, ...]]:
    """The faces, each by its corners in order, anticlockwise from outside where the frame is right-handed.

    >>> sorted(len(one) for one in faces_of(np.array(easy_pose("cube")), 1.0))
    [4, 4, 4, 4, 4, 4]
    """
    return list(_faces(len(corners), np.round(corners / edge, 9).tobytes()))


@lru_cache(maxsize=64)
def _faces(count: int, told: bytes) -> tuple[tuple[int, ...], ...]:
    """The same of a solid of edge 1, by its corners' bytes: a figure asks for them again and again."""
    corners, edge = np.frombuffer(told).reshape(count, 3), 1.0
    middle = corners.mean(axis=0)
    found: dict[frozenset[int], tuple[int, ...]] = {}
    for a, b in edges_of(corners, edge):
        for c in range(len(corners)):
            if c in (a, b):
                continue
            normal = cross3(corners[b] - corners[a], corners[c] - corners[a])
            if float(np.linalg.norm(normal)) < 1e-6 * edge**2:
                continue
            normal = unit(normal)
            off = (corners - corners[a]) @ normal
            if float(off.max()) > 1e-6 * edge and float(off.min()) < -1e-6 * edge:
                continue
            on = [k for k in range(len(corners)) if abs(float(off[k])) <= 1e-6 * edge]
            if frozenset(on) not in found:
                out = normal if float((corners[a] - middle) @ normal) > 0 else -normal
                centre = corners[on].mean(axis=0)
                first = unit(corners[on[0]] - centre)
                second = cross3(out, first)
                turns = [float(np.arctan2((corners[k] - centre) @ second, (corners[k] - centre) @ first)) for k in on]
                order = tuple(on[k] for k in np.argsort(np.round(turns, 9)))
                found[frozenset(on)] = order
    return tuple(found.values())


@cache
def downward(solid: str, rests: str) -> tuple[Array, Array]:
    """Of the easy pose: the direction that is to lie straight down for it to rest on a face, an edge or a corner, and
    the one that is then to lie to the right: a corner of the face from its middle, the edge, or an edge from the
    corner. Both of length 1, the first in the plane of symmetry.

    >>> [way.tolist() for way in downward("cube", "face")]
    [[0.0, 0.0, -1.0], [1.0, 0.0, 0.0]]
    """
    corners = np.array(easy_pose(solid))
    edges = edges_of(corners, 1.0)
    if rests == "face":
        parts: list[tuple[int, ...]] = faces_of(corners, 1.0)
    elif rests == "edge":
        parts = list(edges)
    else:
        parts = [(k,) for k in range(len(corners))]
    middles = [corners[list(part)].mean(axis=0) for part in parts]
    level = [k for k, at in enumerate(middles) if abs(float(at[1])) < SAME]
    best = min(level, key=lambda k: (round(float(unit(middles[k])[2]), 6), -round(float(middles[k][0]), 6)))
    down, part = unit(middles[best]), parts[best]
    if rests == "corner":
        (corner,) = part
        ends = [b if a == corner else a for a, b in edges if corner in (a, b)]
        ways = [corners[end] - corners[corner] for end in ends]
    elif rests == "edge":
        ways = [corners[part[1]] - corners[part[0]]]
    else:
        ways = [corners[k] - middles[best] for k in part]
    across = [way - float(way @ down) * down for way in ways]
    right = unit(min(across, key=lambda way: (round(abs(float(way[1])), 6), -round(float(way[0]), 6))))
    for way in (down, right):
        way.flags.writeable = False
    return down, right
