"""Solids and patterns as filled faces, the farthest first, so that what is nearer covers what is behind it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.figure import Face
from wise_compass.geometry.unfold import Pattern
from wise_compass.geometry.vectors import Array
from wise_compass.scene.order import back_to_front
from wise_compass.sheet.drawing import Item, Line

LIGHT = np.array([-0.45, 0.55, 0.7])
"""Where light comes from in the picture: from the left, from above and from before it."""
TONES = ("skin_dark", "skin", "skin_light")
SAME = 6
"""Decimals to which corners of neighbouring faces agree."""


class Edge(NamedTuple):
    """An edge of a solid: its ends, the faces on both sides of it, and whether it is only a seam of a round skin."""

    ends: Array
    faces: tuple[int, ...]
    smooth: bool


class Model:
    """The faces of a solid, and its edges with the faces that meet there."""

    def __init__(self, faces: Sequence[Face]) -> None:
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
        self.edges = [Edge(ends[edge], tuple(mine), len(mine) > 1 and self._one_skin(mine)) for edge, mine in sides.items()]

    def _one_skin(self, faces: Sequence[int]) -> bool:
        """Whether faces are parts of one round skin."""
        skins = {self.faces[k].round for k in faces}
        return len(skins) == 1 and bool(min(skins))

    def lifted(self, by: float) -> Model:
        """The same solid so far up."""
        up = np.array([0.0, 0.0, by])
        return Model([face._replace(corners=face.corners + up) for face in self.faces])


def _signed_area(flat: Array) -> float:
    x, y = flat.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def _tone(corners: Array, basis: Array) -> str:
    """One of three tones by how a face is turned to the light."""
    spokes = (corners[1:] - corners[0]) @ basis.T
    normal = np.cross(spokes[:-1], spokes[1:]).sum(axis=0)
    size = float(np.sqrt(normal @ normal)) or 1.0
    lit = float(normal @ LIGHT) / size / float(np.sqrt(LIGHT @ LIGHT))
    return TONES[min(max(int((lit + 0.2) * 3 / 1.2), 0), 2)]


def model_items(model: Model, basis: Array) -> list[Item]:
    """What is seen of a solid: its faces filled, and its edges; of a round skin only the contours."""
    flats = [face.corners @ basis[:2].T for face in model.faces]
    seen = [k for k, flat in enumerate(flats) if _signed_area(flat) > 1e-9]
    order = [seen[k] for k in back_to_front([model.faces[k].corners for k in seen], basis)]
    rank = {k: place for place, k in enumerate(order)}
    lines: dict[int, list[Array]] = {}
    for edge in model.edges:
        shown = [k for k in edge.faces if k in rank]
        if shown and (not edge.smooth or len(shown) < len(edge.faces)):
            lines.setdefault(max(shown, key=rank.__getitem__), []).append(edge.ends @ basis[:2].T)
    items: list[Item] = []
    for k in order:
        face = model.faces[k]
        ink = "cut_face" if face.cut else _tone(face.corners, basis)
        items += _filled(flats[k], ink)
        items += [Line("body", 0, "", "body", line) for line in lines.get(k, ())]
    return items


def _filled(flat: Array, ink: str) -> list[Item]:
    """A face in its tone, and a thin line of it all round: without one, what is behind shows between neighbours."""
    return [Line("skin", 0, "", ink, flat, closed=True, filled=True), Line("skin", 0, "", ink, flat, closed=True)]


class Lifted:
    """A solid whose upper part is lifted off where a plane cuts it: from whole (0) to clear of it (1)."""

    def __init__(self, faces: Sequence[Face], off: Sequence[Face]) -> None:
        self.model, self.off = Model(faces), Model(off)
        high = max((float(face.corners[:, 2].max()) for face in self.model.faces), default=0.0)
        self.clear = 0.45 * high + 12.0

    def items(self, place: float, basis: Array) -> list[Item]:
        """What is seen of both parts."""
        upper = model_items(self.off.lifted(place * self.clear), basis) if self.off.faces else []
        return [*model_items(self.model, basis), *upper]

    def extent(self, basis: Array) -> tuple[Array, Array]:
        """Lowest and highest corner of the picture, wherever the upper part is."""
        faces = [*self.model.faces, *self.off.faces, *self.off.lifted(self.clear).faces]
        flat = np.concatenate([face.corners for face in faces]) @ basis[:2].T
        return flat.min(axis=0), flat.max(axis=0)


class Sheet:
    """A pattern as it folds: its pieces, and which of their edges are folds."""

    def __init__(self, pattern: Pattern, smooth: bool) -> None:
        self.pattern, self.smooth = pattern, smooth
        pairs: list[set[frozenset[str]]] = []
        for piece in pattern.pieces:
            pairs.append({frozenset((a, b)) for a, b in zip(piece.names, piece.names[1:] + piece.names[:1])})
        self.folds: list[set[frozenset[str]]] = [set() for _ in pairs]
        for k, piece in enumerate(pattern.pieces):
            if piece.parent >= 0 and piece.own is piece.on:
                shared = pairs[k] & pairs[piece.parent]
                self.folds[k] |= shared
                self.folds[piece.parent] |= shared

    @cached_property
    def _reach(self) -> Array:
        """Places that bound all of the folding."""
        return np.concatenate([corners for t in (0.0, 0.25, 0.5, 0.75, 1.0) for corners in self.pattern.folded(t)])

    @cached_property
    def gap(self) -> float:
        """How far its shared edges stay apart once it is folded up."""
        return self.pattern.gap()

    @cached_property
    def stray(self) -> float:
        """How far its corners are from where they are on the solid."""
        return self.pattern.stray()

    def items(self, place: float, basis: Array) -> list[Item]:
        """The pattern, from flat (0) to folded up (1), as an eye sees it."""
        places = self.pattern.folded(place)
        found: list[Item] = []
        for k in back_to_front(places, basis):
            corners, names = places[k], self.pattern.pieces[k].names
            flat = corners @ basis[:2].T
            outside = _signed_area(flat) > 0
            found += _filled(flat, _tone(corners, basis) if outside else "inside")
            for i in range(len(names)):
                j = (i + 1) % len(names)
                fold = frozenset((names[i], names[j])) in self.folds[k]
                ink = ("fine" if self.smooth else "fold") if fold else "body"
                found.append(Line("pattern", 0, "", ink, flat[[i, j]]))
        return found

    def extent(self, basis: Array) -> tuple[Array, Array]:
        """Lowest and highest corner of the picture, over all of the folding."""
        flat = self._reach @ basis[:2].T
        return flat.min(axis=0), flat.max(axis=0)
