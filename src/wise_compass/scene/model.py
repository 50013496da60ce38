"""Solids and patterns as filled faces, the farthest first, so that what is nearer covers what is behind it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Face
from wise_compass.geometry.unfold import Pattern, normal_of
from wise_compass.geometry.vectors import Array, length
from wise_compass.scene.order import Pieces, SeenFaces, bulging
from wise_compass.sheet.drawing import Item, Line

LIGHT = np.array([-0.45, 0.55, 0.7])
"""Where light comes from in the picture: from the left, from above and from before it."""
TONES = ("skin_dark", "skin", "skin_light")
FRONT = np.array([[1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, 1.0, 0.0]])
"""Right, up and towards an eye at the front."""
ON = 5e-3
"""Of a solid's size: how near to a face a line is that lies on it; the strips of a round skin are off it by less."""
ALIKE = 1e-6
"""Of an edge's length: what is so near to it lies along it."""
SAME = 6
"""Decimals to which corners of neighbouring faces agree."""


class SolidEdge(NamedTuple):
    """An edge of a solid: its ends, the faces on both sides of it, and whether it is only a seam of a round skin."""

    ends: Array
    faces: tuple[int, ...]
    smooth: bool


class Seen(NamedTuple):
    """What an eye has seen, and whether it only looked quickly."""

    basis: Array
    quick: bool
    items: list[Item]


class Model:
    """The faces of a solid, and its edges with the faces that meet there; ``own`` edges, (2, 3) each, where it has
    others than its faces."""

    def __init__(self, faces: Sequence[Face], own: Sequence[Array] | None = None) -> None:
        self.faces = list(faces)
        sides: dict[frozenset[tuple[float, ...]], list[int]] = {}
        ends: dict[frozenset[tuple[float, ...]], Array] = {}
        for k, face in enumerate(self.faces):
            keys = [tuple((np.round(corner, SAME) + 0.0).tolist()) for corner in face.corners]
            for i, key in enumerate(keys):
                j = (i + 1) % len(keys)
                edge = frozenset((key, keys[j]))
                if len(edge) == 2:
                    sides.setdefault(edge, []).append(k)
                    ends.setdefault(edge, face.corners[[i, j]])
        self.edges = [
            SolidEdge(line, tuple(mine), len(mine) > 1 and self._one_skin(mine))
            for edge, mine in sides.items()
            for line in self._there(ends[edge], mine)
        ]

        if own is not None:
            lying = [SolidEdge(ends, faces, False) for ends, faces in zip(own, _lying_on(own, self.faces))]
            self.edges = [edge for edge in self.edges if edge.smooth] + lying
        self.every = np.concatenate([face.corners for face in self.faces]) if self.faces else np.zeros((0, 3))
        self.counts = np.array([len(face.corners) for face in self.faces], dtype=np.int64)
        self.bulges = bulging(SeenFaces(self.every @ FRONT, self.counts), [face.round for face in self.faces])
        self.ends = np.array([edge.ends for edge in self.edges]).reshape(-1, 2, 3)
        self.last: Seen | None = None
        """How the eye last stood, and what it saw."""
        self.smooth = np.array([edge.smooth for edge in self.edges], dtype=bool)
        self.sides = np.array([len(edge.faces) for edge in self.edges], dtype=np.int64)
        self.beside = np.full((len(self.edges), int(self.sides.max(initial=1))), -1)
        """The faces beside every edge, by number, −1 for none."""
        for beside, one in zip(self.beside, self.edges):
            beside[: len(one.faces)] = one.faces
        outlines = [face.filled for face in self.faces]
        self.painted = np.concatenate([one for mine in outlines for one in mine]) if outlines else np.zeros((0, 3))
        self.parts = np.array([len(one) for mine in outlines for one in mine], dtype=np.int64)
        self.part_of = np.repeat(np.arange(len(outlines)), [len(mine) for mine in outlines])
        """How many corners every piece that is painted has, and of which face it is."""
        cuts = np.cumsum([0, *self.parts]).tolist()
        spans = (slice(*ends) for ends in pairwise(cuts))
        self.outlines = [[next(spans) for _ in mine] for mine in outlines]
        """Which of the corners that are painted, (n, 3), bound the pieces of every face."""

    def _there(self, edge: Array, faces: Sequence[int]) -> Sequence[Array]:
        """What is there of an edge, (2, 3) each: of faces that are there in pieces only what bounds these."""
        pieces = [piece for k in faces for piece in self.faces[k].pieces]
        if not pieces:
            return [edge]
        long = float(length(edge[1] - edge[0]))
        u = (edge[1] - edge[0]) / long
        sides = np.concatenate([np.stack([piece, np.roll(piece, -1, axis=0)], axis=1) for piece in pieces]) - edge[0]
        along = sides @ u
        off = length(sides - along[..., None] * u).max(axis=1)
        spans = np.sort(along[(off <= ALIKE * long) & (np.ptp(along, axis=1) > ALIKE * long)], axis=1)
        found: list[list[float]] = []
        for low, high in sorted(spans.tolist()):
            if found and low <= found[-1][1] + ALIKE * long:
                found[-1][1] = max(found[-1][1], high)
            else:
                found.append([low, high])
        return [edge[0] + np.array([[low], [high]]) * u for low, high in found]

    def _one_skin(self, faces: Sequence[int]) -> bool:
        """Whether faces are parts of one round skin."""
        skins = {self.faces[k].round for k in faces}
        return len(skins) == 1 and bool(min(skins))


def _lying_on(lines: Sequence[Array], faces: Sequence[Face]) -> list[tuple[int, ...]]:
    """The faces, by number, that each line of two ends lies on; faces are convex."""
    middles = np.array([line.mean(axis=0) for line in lines]).reshape(-1, 3)
    size = max((float(np.abs(face.corners).max()) for face in faces), default=1.0)
    found: list[list[int]] = [[] for _ in lines]
    for k, face in enumerate(faces):
        normal = normal_of(face.corners)
        sides = np.roll(face.corners, -1, axis=0) - face.corners
        inward = np.cross(normal, sides)
        inward /= np.maximum(np.sqrt((inward**2).sum(axis=1)), 1e-300)[:, None]
        off = middles[:, None] - face.corners
        within = ((off * inward).sum(axis=2) > -ON * size).all(axis=1) & (np.abs(off[:, 0] @ normal) < ON * size)
        for n in np.flatnonzero(within).tolist():
            found[n].append(k)
    return [tuple(mine) for mine in found]


def _tones(seen: SeenFaces) -> list[str]:
    """One of three tones for each face, by how it is turned to the light."""
    size = np.sqrt((seen.normals**2).sum(axis=1))
    lit = seen.normals @ LIGHT / np.where(size > 0, size, 1.0) / float(np.sqrt(LIGHT @ LIGHT))
    return [TONES[k] for k in np.clip(((lit + 0.2) * 3 / 1.2).astype(int), 0, 2).tolist()]


def model_items(model: Model, basis: Array, lift: float = 0.0, quick: bool = False) -> list[Item]:
    """What is seen of a solid, ``lift`` mm up: its faces filled, and its edges; of a round skin only the contours. With
    ``quick`` some faces may cover others that lie before them, where many go through each other.

    As the eye last saw it it is known: what is lifted looks the same elsewhere.
    """
    last = model.last
    if last is None or not np.array_equal(last.basis, basis) or last.quick > quick:
        last = model.last = Seen(basis.copy(), quick, _seen_items(model, basis, quick))
    up = lift * basis[:2, 2]
    return [item.moved(up) for item in last.items] if lift else list(last.items)


def _seen_items(model: Model, basis: Array, quick: bool = False) -> list[Item]:
    """What an eye sees of a solid. Of faces that cover none of each other those of one tone follow on each other, and
    their edges come last: so they are painted at a stroke."""
    painted = model.painted @ basis.T
    pieces = Pieces(painted, model.parts, model.part_of)
    whole = SeenFaces(model.every @ basis.T, model.counts, model.bulges, pieces)
    facing = whole.normals[:, 2] > 2e-9
    seen, mine = whole.some(facing), np.flatnonzero(facing).tolist()
    tones = dict(zip(mine, _tones(seen)))
    flat, ends = painted[:, :2], model.ends @ basis[:2].T
    layers = [[mine[k] for k in layer] for layer in seen.layers(quick)]
    depth = np.full(len(model.faces) + 1, -1)  # the last stands for none
    for place, layer in enumerate(layers):
        depth[layer] = place
    nearest, shown = depth[model.beside].max(axis=1), (depth[model.beside] >= 0).sum(axis=1)
    lined = (shown > 0) & ~(model.smooth & (shown == model.sides))
    lines: list[list[Item]] = [[] for _ in layers]
    for k in np.flatnonzero(lined).tolist():
        lines[int(nearest[k])].append(Line("body", 0, "", "body", ends[k]))
    items: list[Item] = []
    for layer, over in zip(layers, lines):
        inks = {k: "cut_face" if model.faces[k].cut else tones[k] for k in layer}
        for k in sorted(layer, key=lambda k: (inks[k], k)):
            items += [Line("skin", 0, "", inks[k], flat[span], closed=True, filled=True) for span in model.outlines[k]]
        items += over
    return items


class Lifted:
    """A solid whose upper part is lifted off where a plane cuts it: from whole (0) to clear of it (1)."""

    def __init__(
        self,
        faces: Sequence[Face],
        off: Sequence[Face],
        beside: Sequence[Array] = (),
        own_edges: Sequence[Array] | None = None,
        shaded: Sequence[Array] = (),
    ) -> None:
        self.shaded = shaded
        """Flat outlines that are toned under everything else: a shadow."""
        self.model, self.off, self.beside = Model(faces, own_edges), Model(off), beside
        high = max((float(face.corners[:, 2].max()) for face in self.model.faces), default=0.0)
        self.clear = 0.45 * high + 12.0

    def items(self, place: float, basis: Array, quick: bool = False) -> list[Item]:
        """What is seen of both parts, over the lines that stand behind them and under those before them."""
        upper = model_items(self.off, basis, place * self.clear, quick) if self.off.faces else []
        middle = float(self.model.every.mean(axis=0) @ basis[2])
        under: list[Item] = []
        over: list[Item] = []
        for line in self.beside:
            nearer = float(line.mean(axis=0) @ basis[2]) > middle
            (over if nearer else under).append(Line("beside", 0, "", "construction", line @ basis[:2].T))
        tones = [
            Line("skin", 0, "", "shade", outline @ basis[:2].T, closed=True, filled=True) for outline in self.shaded
        ]
        return [*tones, *under, *model_items(self.model, basis, quick=quick), *upper, *over]

    def extent(self, basis: Array) -> tuple[Array, Array]:
        """Lowest and highest corner of the picture, wherever the upper part is."""
        flat = self._reach @ basis[:2].T
        return flat.min(axis=0), flat.max(axis=0)

    @cached_property
    def _reach(self) -> Array:
        """Places that bound both parts, the upper one set down and lifted, and what stands beside them."""
        upper = [face.corners for face in self.off.faces]
        up = np.array([0.0, 0.0, self.clear])
        lower = [face.corners for face in self.model.faces]
        return np.concatenate([*lower, *upper, *(corners + up for corners in upper), *self.beside])


class FoldedSheet:
    """A pattern as it folds: its pieces, and which of their edges are folds."""

    def __init__(self, pattern: Pattern, smooth: bool) -> None:
        self.pattern = pattern
        pairs: list[set[frozenset[str]]] = []
        for piece in pattern.pieces:
            pairs.append({frozenset((a, b)) for a, b in zip(piece.names, piece.names[1:] + piece.names[:1])})
        folds: list[set[frozenset[str]]] = [set() for _ in pairs]
        flush: list[set[frozenset[str]]] = [set() for _ in pairs]
        for k, piece in enumerate(pattern.pieces):
            if piece.parent >= 0 and piece.own is piece.on:
                shared = pairs[k] & pairs[piece.parent]
                folds[k] |= shared
                folds[piece.parent] |= shared
                if not piece.fold:  # parts of one face
                    flush[k] |= shared
                    flush[piece.parent] |= shared
        thin = "fine" if smooth else "fold"
        self._inks = [
            [
                "fine" if frozenset((a, b)) in even else thin if frozenset((a, b)) in mine else "body"
                for a, b in zip(piece.names, piece.names[1:] + piece.names[:1])
            ]
            for piece, mine, even in zip(pattern.pieces, folds, flush)
        ]

    @cached_property
    def _reach(self) -> Array:
        """Places that bound all of the folding."""
        return np.concatenate([corners for t in np.linspace(0.0, 1.0, 17) for corners in self.pattern.folded(t)])

    @cached_property
    def gap(self) -> float:
        """How far its shared edges stay apart once it is folded up."""
        return self.pattern.gap()

    @cached_property
    def stray(self) -> float:
        """How far its corners are from where they are on the solid."""
        return self.pattern.stray()

    def items(self, place: float, basis: Array, quick: bool = False) -> list[Item]:
        """The pattern, from flat (0) to folded up (1), as an eye sees it."""
        seen = SeenFaces.of(self.pattern.folded(place), basis)
        tones, outside = _tones(seen), (seen.normals[:, 2] > 0).tolist()
        found: list[Item] = []
        for layer in seen.layers(quick):
            inks = {k: tones[k] if outside[k] else "inside" for k in layer}
            lines: list[Item] = []
            for k in sorted(layer, key=lambda k: (inks[k], k)):
                flat = seen.faces[k][:, :2]
                found.append(Line("skin", 0, "", inks[k], flat, closed=True, filled=True))
                closed = np.concatenate([flat, flat[:1]])
                lines += [Line("pattern", 0, "", ink, closed[i : i + 2]) for i, ink in enumerate(self._inks[k])]
            found += sorted(lines, key=lambda line: line.ink)
        return found

    def extent(self, basis: Array) -> tuple[Array, Array]:
        """Lowest and highest corner of the picture, over all of the folding."""
        flat = self._reach @ basis[:2].T
        return flat.min(axis=0), flat.max(axis=0)
