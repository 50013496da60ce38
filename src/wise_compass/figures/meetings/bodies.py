"""Both solids as they stand in the space view: flat faces, those of the one without what lies in the other."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from wise_compass.drafting.capabilities import Face
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.skins import ON_FACE, FlatSkin
from wise_compass.geometry.vectors import Array, Bools, length, unit

BRANCH, MAIN = 1, 2
STEP = 10.0
"""Degrees between two edges of a round skin."""
NEAR = 1e-7
RINGS = 18
SPARSE = 12
"""Of so many faces one is looked at first."""


def solid_skin(g: SolidsThatMeet) -> list[Face]:
    """The faces of both, parted where they meet."""
    main, branch = _main_faces(g), _branch_faces(g)
    held = _held(g)
    faces = [_without(face, held[1], g, MAIN if g.main_solid.round else 0, False) for face in main]
    faces += [_without(face, held[0], g, BRANCH if g.branch_corners is None else 0, True) for face in branch]
    return [face for face in faces if face is not None] + [Face(ring) for ring in _ends(g)]


def _held(g: SolidsThatMeet) -> list[FlatSkin]:
    """The main without ends, and the branch: as it is where it stops at the first skin, else without ends too."""
    return [_skin_of(_main_faces(g)), body_halves(g)[1] if g.right_only else _skin_of(_branch_faces(g))]


def body_halves(g: SolidsThatMeet) -> list[FlatSkin]:
    """The main and the branch as bodies with ends, each by its half-spaces."""
    ends = _ends(g)
    parted = len(ends) - (1 if g.right_only else 2)
    branch = _branch_faces(g)
    inner = [np.array([face[0] for face in branch])] if g.right_only else []
    return [_skin_of([*_main_faces(g), *ends[:parted]]), _skin_of([*branch, *ends[parted:], *inner])]


def _branch_turns(g: SolidsThatMeet) -> list[float]:
    if g.branch_corners is not None:
        return [float(w) for w in g.counted]
    found = sorted({round(w, 9) for w in g.branch_places} | set(np.arange(0.0, 360.0, STEP).tolist()))
    return [w for k, w in enumerate(found) if k == 0 or w - found[k - 1] > 1e-6]


def _branch_faces(g: SolidsThatMeet) -> list[Array]:
    """Its sides from end to end; from the right alone as far as the main reaches."""
    turns = _branch_turns(g)
    start = g.branch.element(np.array(turns))
    low = -g.reach if not g.right_only else _least(g)
    near, far = start + low * g.branch.axis, start + g.reach * g.branch.axis
    n = len(turns)
    return [np.array([near[k], near[(k + 1) % n], far[(k + 1) % n], far[k]]) for k in range(n)]


def _least(g: SolidsThatMeet) -> float:
    """How far back a branch that stops at the first skin is followed: into the main, and not out of it again."""
    left, right = g.meeting.hits(np.array(_branch_turns(g)))
    inner = float(np.max(left)) if np.isfinite(left).all() else -np.inf
    deep = float(np.min(right)) - 1.0
    return min(max(inner, deep), float(np.min(right)) - NEAR)


def _main_faces(g: SolidsThatMeet) -> list[Array]:
    main = g.main_solid
    if main.ball:
        return _ball_faces(main.radius)
    if main.corners is not None:
        feet = main.feet
    else:
        turns = {round(x, 9) for x in np.arange(0.0, 360.0, STEP).tolist()}
        feet = main.base(np.array(sorted(turns)))
    top = np.array([0.0, 0.0, g.tall])
    n = len(feet)
    if main.apex:
        return [np.array([feet[k], feet[(k + 1) % n], top]) for k in range(n)]
    return [np.array([feet[k], feet[(k + 1) % n], feet[(k + 1) % n] + top, feet[k] + top]) for k in range(n)]


def _ball_faces(radius: float) -> list[Array]:
    leans = np.linspace(-np.pi / 2, np.pi / 2, RINGS + 1)
    turns = np.linspace(0.0, 2 * np.pi, 2 * RINGS + 1)[:-1]
    rows = [
        radius
        * np.column_stack(
            [np.cos(lean) * np.cos(turns), -np.cos(lean) * np.sin(turns), np.full(len(turns), np.sin(lean))]
        )
        for lean in leans
    ]
    faces = []
    for a, b in zip(rows, rows[1:]):
        for k in range(len(turns)):
            j = (k + 1) % len(turns)
            corners = [a[k], a[j], b[j], b[k]]
            faces.append(np.array([p for i, p in enumerate(corners) if float(length(p - corners[i - 1])) > NEAR]))
    return faces


def _ends(g: SolidsThatMeet) -> list[Array]:
    """Base and top of the main, the ends of the branch."""
    main, found = g.main_solid, []
    if not main.ball:
        sides = _main_faces(g)
        found.append(np.array([side[0] for side in sides]))
        if not main.apex:
            found.append(np.array([side[3] for side in sides]))
    faces = _branch_faces(g)
    found.append(np.array([face[3] for face in faces]))
    if not g.right_only:
        found.append(np.array([face[0] for face in faces]))
    middle = [ring.mean(axis=0) for ring in found]
    inner = [np.array([0.0, 0.0, g.tall / 2])] * (len(found) - (1 if g.right_only else 2)) + [g.branch.at] * 2
    return [_facing(ring, at - centre) for ring, at, centre in zip(found, middle, inner)]


def _normal(corners: Array) -> Array:
    """Newell's, by the right hand, of unit length."""
    rolled = np.roll(corners, -1, axis=0)
    return unit(np.asarray(cross3(corners, rolled)).sum(axis=0))


def _facing(corners: Array, outward: Array) -> Array:
    """The corners so that seen from outside they run anticlockwise, space being left-handed."""
    return corners[::-1] if float(_normal(corners) @ outward) > 0 else corners


def _skin_of(faces: Sequence[Array]) -> FlatSkin:
    """The half-spaces of a convex body by its faces."""
    middle = np.mean([corner for face in faces for corner in face], axis=0)
    normals = np.array([_normal(face) for face in faces])
    offs = np.array([float(normal @ face[0]) for normal, face in zip(normals, faces)])
    sign = np.where(normals @ middle > offs, -1.0, 1.0)
    return FlatSkin(normals * sign[:, None], offs * sign)


def clipped(corners: Array, normal: Array, off: float) -> Array:
    """What of a convex polygon (m, 3) lies where normal·p ≤ off (Sutherland–Hodgman); (0, 3) where nothing does."""
    far = (corners @ normal - off).tolist()
    kept = []
    for k in range(len(corners)):
        a, b, p, q = corners[k - 1], corners[k], far[k - 1], far[k]
        if (p > NEAR) != (q > NEAR) and abs(p - q) > NEAR:
            kept.append(a + (b - a) * (p / (p - q)))
        if q <= NEAR:
            kept.append(b)
    return np.array(kept) if len(kept) > 2 else np.zeros((0, 3))


def minus(corners: Array, body: FlatSkin) -> list[Array]:
    """A convex polygon (m, 3) without what of it lies in a convex body, in convex pieces; itself where it is clear."""
    far = corners @ body.normals.T - body.offs
    beyond, lies_in = far > NEAR, (np.abs(far) <= NEAR).all(axis=0)
    if beyond.all(axis=0).any():
        return [corners]
    rest, pieces = corners, []
    # the other planes cut nothing off; of two faces in one plane both stay
    for k in np.flatnonzero(beyond.any(axis=0) | lies_in).tolist():
        normal, off = body.normals[k], float(body.offs[k])
        outside, rest = clipped(rest, -normal, -off), clipped(rest, normal, off)
        if len(outside) and _area(outside) > NEAR:
            pieces.append(outside)
        if not len(rest) or _area(rest) <= NEAR:
            return [corners]
    return pieces


def _area(corners: Array) -> float:
    x = y = z = 0.0
    rows = corners.tolist()  # of few corners quicker than with arrays
    for (a, b, c), (u, v, w) in zip(rows, [*rows[1:], rows[0]]):
        x, y, z = x + b * w - c * v, y + c * u - a * w, z + a * v - b * u
    return math.sqrt(x * x + y * y + z * z) / 2


def _without(corners: Array, other: FlatSkin, g: SolidsThatMeet, round_: int, of_branch: bool) -> Face | None:
    """A face without what lies in the other body; None where nothing stays of it."""
    middle = g.branch.at if of_branch else np.array([0.0, 0.0, 0.0 if g.main_solid.ball else g.tall / 4])
    at = corners.mean(axis=0)
    outward = at - middle
    if of_branch:
        outward = outward - float(outward @ g.branch.axis) * g.branch.axis
    corners = _facing(corners, outward)
    pieces = minus(corners, other)
    if of_branch and g.right_only:
        pieces = [piece for piece in pieces if _is_beyond(g, piece.mean(axis=0))]
    if not pieces:
        return None
    if len(pieces) == 1 and len(pieces[0]) == len(corners) and bool(np.allclose(pieces[0], corners)):
        return Face(corners, round_)
    return Face(corners, round_, False, tuple(pieces))


def _is_beyond(g: SolidsThatMeet, at: Array) -> bool:
    """Whether a place of a branch from the right lies on the right of the main."""
    _, right = g.main_solid.skin.hits(at, g.branch.axis)
    return not float(right) > NEAR if right == right else True


def solid_edges(g: SolidsThatMeet) -> list[Array]:
    """Edges that are no parting of a round skin: of ends, of flat sides, and the line where they meet."""
    found: list[Array] = []
    for ring in _ends(g):
        found += [np.array([a, b]) for a, b in zip(ring, np.roll(ring, -1, axis=0))]
    main, branch = _main_faces(g), _branch_faces(g)
    held = _held(g)
    if not g.main_solid.round:
        for face in main:
            found += _outside(face[0], face[-1], held[1])
    if g.branch_corners is not None:
        for face in branch:
            found += [
                one
                for one in _outside(face[0], face[3], held[0])
                if not g.right_only or _is_beyond(g, one.mean(axis=0))
            ]
    among = held[0].normals @ g.branch.axis > (-1e-9 if g.right_only else -np.inf)
    for face in branch:
        found += _crossings(face, held[0], among)
    return found


def _outside(a: Array, b: Array, body: FlatSkin) -> list[Array]:
    """What of a segment lies outside a convex body."""
    size = float(length(b - a))
    low, high = (float(x) for x in body.hits(a, (b - a) / size))
    if low != low or high <= 0 or low >= size or high - low <= NEAR:
        return [np.array([a, b])]
    u = (b - a) / size
    pieces = [(0.0, max(low, 0.0)), (min(high, size), size)]
    return [np.array([a + s * u, a + t * u]) for s, t in pieces if t - s > NEAR]


def _crossings(face: Array, main: FlatSkin, among: Bools) -> list[Array]:
    """The segments in which a face of the branch crosses faces of the main, those of some of its planes."""
    far = face @ main.normals.T - main.offs
    before = np.roll(far, 1, axis=0)
    passes = (before > 0) != (far > 0)
    planes = np.flatnonzero((passes.sum(axis=0) == 2) & among)
    corner = np.argsort(~passes[:, planes], axis=0, kind="stable")[:2]  # the two ends of sides that pass each, (2, n)
    p, q = before[corner, planes], far[corner, planes]
    first = np.roll(face, 1, axis=0)[corner]
    ends = first + (face[corner] - first) * (p / (p - q))[..., None]
    ends = ends[:, np.asarray(length(ends[1] - ends[0])) > NEAR]
    # what has both ends beyond one face does not reach the main at all: most of it is seen by a few of them
    for some in (slice(None, None, SPARSE), slice(None)):
        over = ends @ main.normals[some].T - main.offs[some] > ON_FACE
        ends = ends[:, ~np.any(np.all(over, axis=0), axis=1)]
    start, size = ends[0], length(ends[1] - ends[0])
    ways = (ends[1] - start) / size[:, None]
    low, high = main.hits(start, ways)
    low, high = np.maximum(low, 0.0), np.minimum(high, size)
    return [
        np.array([at + a * way, at + b * way])
        for at, way, a, b in zip(start, ways, low.tolist(), high.tolist())
        if b - a > NEAR
    ]
