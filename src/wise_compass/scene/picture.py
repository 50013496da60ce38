"""The space view as a picture: a scene seen by an eye, at some stage of its folding, as lines and letters of a
drawing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Sliced
from wise_compass.drafting.wording import Style
from wise_compass.geometry.hidden import Screen
from wise_compass.geometry.vectors import Array, cosd, sind
from wise_compass.scene.model import model_items
from wise_compass.scene.scene import AFTER, Scene
from wise_compass.scene.unfolding import Stand
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.clear import Clear
from wise_compass.sheet.drawing import Item, Line, Text
from wise_compass.sheet.lettering import text_width

STANDING = (-34.0, 24.0)
"""Where the eye stands at first: turned to the left of the front, and raised, in degrees."""

INKED = ("body", "body_hidden", "outline", "hidden", "fold", "reference")
"""What sparse lettering keeps clear of."""
CORNERS = ((3, 0.0), (2, 1.0), (0, 0.0), (1, 1.0))
"""Where the name of a plane may stand, the first that is free: at which corner, and whether it begins or ends there."""

FINER = {
    "body": "frame",
    "body_hidden": "hidden",
    "outline": "strip",
    "hidden": "fine_hidden",
    "reference": "dimension",
}
"""What stands for an ink in a small picture on a sheet, so that it does not outweigh the drawing."""


class Viewer(NamedTuple):
    """Whence a scene is seen, from far off: ``turn`` degrees about the upright from the front, ``rise`` above the
    level."""

    turn: float = STANDING[0]
    rise: float = STANDING[1]

    def basis(self) -> Array:
        """The directions of space that point right and up in the picture, and towards the eye; (3, 3)."""
        ct, st, cr, sr = (float(f(a)) for a in (self.turn, self.rise) for f in (cosd, sind))
        right = np.array([ct, -st, 0.0])
        return np.array([right, [-st * sr, -ct * sr, cr], [st * cr, ct * cr, sr]])

    def gliding(self, folded: float) -> Viewer:
        """The eye as it glides to the front while the planes fold: it looks square at the sheet when they are flat."""
        return Viewer(self.turn * (1.0 - folded), self.rise * (1.0 - folded))


class Shown(NamedTuple):
    """What is asked of a picture: how far folded, the steps shown (0 for all), the lettering, whether only the result
    is wanted.

    ``swing`` is how far a line has turned level at a step that swings a view of it; ``sparse`` lettering is left away
    where it could not be read, as on a sheet where nobody can turn the view. What moves is drawn ``quick``.
    """

    folded: float = 0.0
    step: int = 0
    style: Style = Style()
    clean: bool = False
    lettered: bool = True
    swing: float = 0.0
    sparse: bool = False
    quick: bool = False


def picture(scene: Scene, eye: Viewer, shown: Shown, size: float = 2.6) -> list[Item]:
    """Items in millimetres of the figure, as the eye sees them; y upward. Letters are ``size`` high."""
    basis = eye.gliding(shown.folded).basis()
    frames = scene.frames(shown.folded)
    last = shown.step or len(scene.run.steps)
    items = [*_glass(scene, frames, basis, last, shown), *_drawn(scene, frames, basis, last, shown)]
    items += _body(scene, frames, basis, last, shown)
    items += _turning(scene, frames, basis, shown)
    pane, cuts = _slices(scene, basis, shown)
    items = [*pane, *items, *cuts]
    if shown.lettered:
        clear = None
        if shown.sparse:
            lines = [item for item in items if isinstance(item, Line) and not item.filled and item.ink in INKED]
            clear = Clear([line.points for line in lines], np.zeros((0, 2)))
            low, high = bounds(items)
            clear.left, clear.right = float(low[0]) - size, float(high[0]) + size
        items += _letters(scene, frames, basis, last, shown, size, clear)
    return items


def extent(scene: Scene, eye: Viewer, folded: float) -> tuple[Array, Array]:
    """Lowest and highest corner of the picture, all of its steps shown: of the planes and of the body among them."""
    basis = eye.gliding(folded).basis()
    frames = scene.frames(folded)
    points = [frames[glass.view].at(glass.corners) for glass in scene.glass]
    if folded < 1.0:
        points += [line for _, line in scene.body.edges] + [face.corners for face in scene.model.faces]
    flat = _flat(np.concatenate(points), basis)
    return flat.min(axis=0), flat.max(axis=0)


def inset(scene: Scene, style: Style, corner: Array, width: float, size: float = 2.2) -> list[Item]:
    """The standing planes and the body, ``width`` mm wide on a sheet from the lower left ``corner`` on."""
    plain = Shown(style=style, clean=True, lettered=False)
    low, high = bounds(picture(scene, Viewer(), plain))
    zoom = (width - 2 * size) / float(high[0] - low[0])
    origin = corner + size - low * zoom
    return [
        _scaled(item, zoom, origin, size)
        for item in picture(scene, Viewer(), plain._replace(lettered=True, sparse=True), size / zoom)
    ]


def proportions(scene: Scene) -> float:
    """How many times as wide as high the picture is."""
    low, high = bounds(picture(scene, Viewer(), Shown(clean=True, lettered=False)))
    return float((high[0] - low[0]) / (high[1] - low[1]))


def _scaled(item: Item, zoom: float, origin: Array, size: float) -> Item:
    if isinstance(item, Text):
        return replace(item, layer="space", step=0, owner="", at=origin + item.at * zoom, size=item.size * zoom)
    assert isinstance(item, Line)
    return Line("space", 0, "", FINER.get(item.ink, item.ink), origin + item.points * zoom, item.closed, item.filled)


def _flat(points: Array, basis: Array) -> Array:
    return np.asarray(points @ basis[:2].T)


def _glass(scene: Scene, frames: Mapping[str, Stand], basis: Array, last: int, shown: Shown) -> list[Item]:
    """The planes as light glass, the farthest first, each with its edge."""
    planes = [(frames[glass.view].at(glass.corners), glass) for glass in scene.glass if glass.step <= last]
    planes.sort(key=lambda plane: float((plane[0] @ basis[2]).mean()))
    items: list[Item] = []
    for corners, glass in planes:
        flat = _flat(corners, basis)
        items.append(Line("glass", glass.step, f"plane:{glass.view}", "glass", flat, closed=True, filled=True))
        items.append(Line("glass", glass.step, f"plane:{glass.view}", "pane", flat, closed=True))
    return items


def _drawn(scene: Scene, frames: Mapping[str, Stand], basis: Array, last: int, shown: Shown) -> list[Item]:
    """What is drawn on the planes, in the same inks."""
    items: list[Item] = []
    for view in frames:
        here, points, starts = scene.on_plane(view, last, shown.clean)
        if not here:
            continue
        flat = _flat(frames[view].at(points), basis)
        parts = (flat[a:b] for a, b in pairwise(starts))
        items += [Line(_layer(one.ink), one.step, one.owner, one.ink, part) for one, part in zip(here, parts)]
    return items


def _layer(ink: str) -> str:
    return "construction" if ink in AFTER else "result"


def _body(scene: Scene, frames: Mapping[str, Stand], basis: Array, last: int, shown: Shown) -> list[Item]:
    """The body in space, dashed where a face of its own stands before it, and the projectors; gone when all is flat."""
    if shown.folded >= 1.0:
        return []
    items: list[Item] = []
    if not shown.clean:
        for view, frame in frames.items():
            mine = [ray for ray in scene.rays if ray[0] == view and ray[3] <= last]
            if mine:
                feet = frame.at(np.array([scene.run.spots[f"{name}.{view}"].here for _, name, _, _ in mine]))
                ends = _flat(np.stack([np.array([at for _, _, at, _ in mine]), feet], axis=1), basis)
                items += [Line("ray", step, name, "projector", line) for (_, name, _, step), line in zip(mine, ends)]
    items += model_items(scene.model, basis, quick=shown.quick)
    screens = [Screen(face, basis[2], 1e-7 * scene.size) for face in scene.body.faces]
    for names, line in scene.body.edges:
        for a, b in zip(line[:-1], line[1:]):
            behind = sorted({piece for screen in screens for piece in screen.hides(a, b)})
            places = [0.0, *(place for piece in _joined(behind) for place in piece), 1.0]
            for k, (s, t) in enumerate(zip(places[:-1], places[1:])):
                if t - s > 1e-9:
                    ends = np.array([a + (b - a) * s, a + (b - a) * t])
                    items.append(Line("body", 0, names, "body_hidden" if k % 2 else "body", _flat(ends, basis)))
    return items


def _turning(scene: Scene, frames: Mapping[str, Stand], basis: Array, shown: Shown) -> list[Item]:
    """A line that turns level in space while its view swings, at the step that swings it."""
    one = scene.turnings.get(shown.step)
    if one is None or shown.folded >= 1.0:
        return []
    end, on_sheet = one.at(shown.swing)
    frame = frames[one.view.id]
    lines = (("body", np.array([one.fixed, end])), ("outline", frame.at(np.array([one.on_sheet[0], on_sheet]))))
    ray = np.array([end, frame.at(on_sheet)])
    items: list[Item] = [Line("turning", shown.step, "", ink, _flat(line, basis)) for ink, line in lines]
    return [*items, Line("turning", shown.step, "", "projector", _flat(ray, basis))]


def _slices(scene: Scene, basis: Array, shown: Shown) -> tuple[list[Item], list[Item]]:
    """The plane that cuts at the step shown, as glass behind all else; its edge, and what it cuts of the solids."""
    figure = scene.run.figure
    if not shown.step or shown.folded >= 1.0 or not isinstance(figure, Sliced):
        return [], []
    step = scene.run.steps[shown.step - 1]
    outlines = [_flat(one, basis) for one in figure.slices(scene.run.way, step.says)]
    if not outlines:
        return [], []
    pane, *cuts = outlines
    lines: list[Item] = [Line("turning", 0, "", "pane", pane, closed=True)]
    lines += [Line("turning", shown.step, "", "outline", cut, closed=True) for cut in cuts]
    return [Line("turning", 0, "", "glass", pane, closed=True, filled=True)], lines


def _joined(pieces: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Pieces that overlap or touch, as one."""
    found: list[tuple[float, float]] = []
    for low, high in pieces:
        if found and low <= found[-1][1]:
            found[-1] = found[-1][0], max(high, found[-1][1])
        else:
            found.append((low, high))
    return found


class _Lettering:
    """Texts that stand clear of those before them, where they can; those that are to keep ``clear`` of lines too are
    left away where they cannot."""

    def __init__(self, size: float, clear: Clear | None = None) -> None:
        self.clear = clear
        self.right, self.up, self.down = 0.5 * size, 0.35 * size, -1.0 * size
        self.items: list[Item] = []
        self._taken: list[tuple[float, float, float, float]] = []

    def put(self, text: Text, places: Sequence[tuple[float, float, float]]) -> None:
        """A text at the first free of some places, x and y, that it begins at (anchor 0) or ends at (1); at the first
        where none is."""
        wide, high = text_width(text.words, text.size, text.bold), text.size

        def room(x: float, y: float, anchor: float) -> tuple[float, float, float, float]:
            left = x - anchor * wide
            return left, y - 0.25 * high, left + wide, y + high

        def serves(one: tuple[float, float, float]) -> bool:
            left, _, right, _ = box = room(*one)
            if not self._is_free(box):
                return False
            if self.clear is None:
                return True
            return (
                self.clear.left <= left
                and right <= self.clear.right
                and self.clear.free(replace(text, at=np.array(one[:2]), anchor=one[2]))
            )

        place = next((one for one in places if serves(one)), None if self.clear else places[0])
        if place is None:
            return
        text.at, text.anchor = np.array(place[:2]), place[2]
        self._taken.append(room(*place))
        self.items.append(text)

    def _is_free(self, one: tuple[float, float, float, float]) -> bool:
        left, low, right, high = one
        return not any(left < r and x < right and low < h and y < high for x, y, r, h in self._taken)

    def beside(self, text: Text) -> None:
        """A text beside its place: to the right of it, to the left, or lower."""
        x, y = text.at.tolist()
        heights = (y + self.up, y + self.down, *((y + 0.8 * self.down / 2,) if self.clear else ()))
        self.put(
            text, [place for high in heights for place in ((x + self.right, high, 0.0), (x - self.right, high, 1.0))]
        )


def _letters(
    scene: Scene, frames: Mapping[str, Stand], basis: Array, last: int, shown: Shown, size: float, clear: Clear | None
) -> list[Item]:
    """The letters of the body in capitals and those of the views, and the names of the planes in a corner of each.

    While the planes stand, places that only the construction needs are lettered at their own step alone.
    """
    letters = _Lettering(size, clear)
    if shown.folded < 1.0:
        for names, place in scene.lettered:
            at = _flat(place[None], basis)[0]
            letters.beside(Text("body", 0, names[0], "frame", at, " ".join(names), 1.15 * size, bold=True))
    lettered: set[tuple[object, ...]] = set()
    for one in scene.drawn:
        if not one.words or one.step > last:
            continue
        if shown.folded >= 1.0 or one.step == shown.step or one.owner.partition(".")[0] in scene.places:
            at = _flat(frames[one.view].at(one.points), basis)[0]
            x, y = one.points[0].tolist()
            key = (one.view, round(x, 6), round(y, 6))
            if key in lettered:
                continue
            lettered.add(key)
            letters.beside(Text("points", one.step, one.owner, "frame", at, shown.style.lettered(one.words), size))
    for glass in scene.glass:
        if glass.step <= last:
            corners = _flat(frames[glass.view].at(glass.corners), basis)
            name = Text("glass", glass.step, f"plane:{glass.view}", "dimension", corners[3], glass.name, 0.8 * size)
            at = corners.tolist()
            places = [
                (at[k][0] + letters.right * (1 - 2 * anchor), at[k][1] + letters.up, anchor) for k, anchor in CORNERS
            ]
            letters.put(name, places)
    return letters.items
