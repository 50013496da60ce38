"""A run in the round: its views on their planes, the body that they show, and the projectors between."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from itertools import accumulate
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import InViews, Sliced, Solid
from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Mark, Role, nominal
from wise_compass.drafting.run import Run
from wise_compass.drafting.views import View, Views
from wise_compass.geometry.vectors import Array, angle_of, distance, dot, turned
from wise_compass.scene.model import Model
from wise_compass.scene.unfolding import Stand, frames, hinge_of

AFTER = ("construction", "projector", "locus", "centre")
"""Inks that are left away where only the result is wanted."""
MARGIN = 9.0
"""What a plane's glass has beyond what is drawn on it, in mm of the figure."""
NEAR = 1e-6
"""How near a mark's end is to a spot that it comes from, as a part of the figure's size."""


class DrawnInSpace(NamedTuple):
    """What is drawn on a plane: a line of the sheet (n, 2), the number of its mark, or a letter at one place."""

    view: str
    step: int
    ink: str
    owner: str
    points: Array
    words: str = ""


class Pane(NamedTuple):
    """A plane of projection: its corners on the sheet (4, 2), its name, and the step from which it is there."""

    view: str
    step: int
    name: str
    corners: Array


class Body(NamedTuple):
    """What stands in space: edges as lines of places (n, 3) with the names of their ends, faces as triangles (3, 3)."""

    edges: tuple[tuple[str, Array], ...]
    faces: tuple[Array, ...]


class Turning(NamedTuple):
    """A step that swings a view of a line level: the view, the line's fixed and moving end in space and on the sheet,
    the angle."""

    view: View
    fixed: Array
    moving: Array
    on_sheet: tuple[Array, Array]
    angle: float

    def at(self, share: float) -> tuple[Array, Array]:
        """The moving end, so far through the swing, in space and on the sheet: it turns about the line of sight."""
        centre, end = self.on_sheet
        swung = turned(end - centre, self.angle * share)
        flat = float(dot(swung, self.view.u)) * self.view.across + float(dot(swung, self.view.v)) * self.view.away
        sight = np.cross(self.view.across, self.view.away)
        deep = float(dot(self.moving - self.fixed, sight)) * sight
        return np.asarray(self.fixed + flat + deep), np.asarray(centre + swung)


class Scene:
    """Everything of a run that the space view shows. ``views`` is the tree whose planes fold."""

    def __init__(self, run: Run) -> None:
        assert run.views is not None
        self.run, self.views = run, run.views
        self.order: list[View] = [self.views.front, self.views.top, *self.views.auxiliary]
        self.spots = {view.id: _spots_of(run, self.views, view) for view in self.order}
        low, high = run.extent
        self.size = float(np.abs(high - low).max())
        self.apart = {step.n for step in run.steps if step.apart}
        self.drawn = [*self._lines(), *self._letters()]
        self.glass = [self._glass(view) for view in self.order]
        self.places = {name: np.asarray(at) for name, at in run.found.items() if np.shape(at) == (3,)}
        self.body = _body(run, self.places)
        self.model = Model(())
        if isinstance(run.figure, Solid):
            own = run.figure.own_edges() if isinstance(run.figure, Sliced) else None
            self.model = Model(run.figure.skin(method=run.way), own)
        self.rays = list(self._rays())
        self.turnings = dict(self._turnings())
        self._stands: tuple[float, Mapping[str, Stand]] | None = None
        self._on_planes: dict[tuple[str, int, bool], tuple[list[DrawnInSpace], Array, list[int]]] = {}

    def frames(self, folded: float) -> Mapping[str, Stand]:
        """How every plane stands, folded so far; the last answer is kept, since extent and picture ask alike."""
        if self._stands is None or self._stands[0] != folded:
            self._stands = folded, frames(self.views, folded)
        return self._stands[1]

    def on_plane(self, view: str, last: int, clean: bool) -> tuple[list[DrawnInSpace], Array, list[int]]:
        """What is drawn on a plane up to a step, of one ink together and the construction first; its points, and where
        each one's start."""
        key = view, last, clean
        if key not in self._on_planes:
            mine = [one for one in self.drawn if one.view == view and one.step <= last and not one.words]
            mine = sorted(
                (one for one in mine if not (clean and one.ink in AFTER)),
                key=lambda one: (one.ink not in AFTER, one.ink),
            )
            points = np.concatenate([np.zeros((0, 2)), *(one.points for one in mine)])
            self._on_planes[key] = mine, points, [0, *accumulate(len(one.points) for one in mine)]
        return self._on_planes[key]

    @cached_property
    def lettered(self) -> list[tuple[list[str], Array]]:
        """The letters of the body, together where they are at one place, and the place of each."""
        named: dict[tuple[float, ...], list[str]] = {}
        for names, _ in self.body.edges:
            for name in names.split() if len(names.split()) < 8 else ():
                there = named.setdefault(tuple(np.round(self.places[name], 6).tolist()), [])
                there += [name] if name not in there else []
        return [(names, self.places[names[0]]) for names in named.values()]

    def _rays(self) -> Iterator[tuple[str, str, Array, int]]:
        """Projectors: a view's id, the point's name, its place in space, and the step from which its spot is there."""
        for name, at in self.places.items():
            for view in self.order:
                spot = self.run.spots.get(view.key(name))
                if spot is not None:
                    yield view.id, name, at, spot.step

    def _turnings(self) -> Iterator[tuple[int, Turning]]:
        """Steps whose arc is swung about a view of one found place through the view of another: in space that line
        turns level."""
        room = NEAR * self.size
        for mark in self.run.marks:
            if not isinstance(mark, ArcMark) or mark.role is Role.OUTLINE or mark.step in self.apart:
                continue
            centre, radius = nominal(mark.centre, 1), float(nominal(mark.radius, 0))
            for view in self.order[:2]:
                shown = {
                    name: self.run.spots[view.key(name)].here
                    for name in self.places
                    if view.key(name) in self.run.spots
                }
                fixed = next((name for name, at in shown.items() if distance(at, centre) <= room), None)
                if fixed is None or len(shown) > 3:
                    continue
                for name, at in shown.items():
                    if name != fixed and abs(float(distance(at, centre)) - radius) <= room:
                        lean = float(angle_of(at - centre))
                        level = -lean if abs(lean) <= 90 else np.sign(lean) * 180.0 - lean
                        if abs(level) > 0.5:
                            ends = self.places[fixed], self.places[name]
                            yield mark.step, Turning(view, *ends, (centre, at), float(level))

    # which plane a mark is on

    def _lines(self) -> Iterator[DrawnInSpace]:
        for number, mark in enumerate(self.run.marks):
            if mark.step in self.apart:
                continue
            for view, points in self._parted(mark):
                yield DrawnInSpace(view.id, mark.step, mark.role.value, f"#{number}", points)

    def _parted(self, mark: Mark) -> Iterator[tuple[View, Array]]:
        """A mark's lines with the views that they are drawn in; a projector is parted where it crosses a fold."""
        if isinstance(mark, LineMark) and mark.role is Role.PROJECTOR:
            yield from self._projector(mark)
            return
        for view in self.views.auxiliary:
            if mark is view.fold:
                yield view.before, mark.polylines()[0]
                return
        for line in mark.polylines():
            ends = mark.course() if isinstance(mark, CurveMark) else line[[0, -1]]
            yield self._view_at(ends, self.order), line

    def _projector(self, mark: LineMark) -> Iterator[tuple[View, Array]]:
        start, end = mark.ends()
        for view in self.order[1:]:
            hinge = hinge_of(self.views, view)
            a, b = (float(dot(place - hinge.base, hinge.away)) for place in (start, end))
            if abs(float(dot(nominal(mark.u, 1), hinge.away))) > 0.999 and a * b < 0:
                fold = start + (end - start) * (a / (a - b))
                parent = self.views.front if view is self.views.top else view.before
                for piece, last in ((np.array([start, fold]), start), (np.array([fold, end]), end)):
                    yield self._view_at(last[None], [parent, view]), piece
                return
        yield self._view_at(np.array([start, end]), self.order), np.array([start, end])

    def _view_at(self, ends: Array, among: Sequence[View]) -> View:
        """The view with most spots at these places; else the one with a spot nearest to them."""
        room = NEAR * self.size

        def worth(view: View) -> tuple[int, float]:
            gaps = np.linalg.norm(ends[:, None] - self.spots[view.id][None], axis=2).min(axis=1)
            return int((gaps <= room).sum()), -float(gaps.min())

        return max(among, key=worth)

    def _letters(self) -> Iterator[DrawnInSpace]:
        for view in self.order:
            for spot in self.run.spots.values():
                if spot.name.endswith(f".{view.id}") and spot.kind not in ("plain", "label"):
                    yield DrawnInSpace(view.id, spot.step, "frame", spot.name, spot.here[None], spot.name)

    def _glass(self, view: View) -> Pane:
        """A plane as large as what is drawn on it, up to its hinge and a little beyond on the other sides."""
        hinge = hinge_of(self.views, self.views.top if view is self.views.front else view)
        mine = [one.points for one in self.drawn if one.view == view.id and one.ink != "reference"]
        points = np.concatenate([self.spots[view.id], *mine])
        along, off = (points - hinge.base) @ hinge.u, (points - hinge.base) @ hinge.away
        left, right = float(along.min()) - MARGIN, float(along.max()) + MARGIN
        low, high = min(0.0, float(off.min())), max(0.0, float(off.max()))
        low, high = low - MARGIN * (low < 0), high + MARGIN * (high > 0)
        corners = [
            hinge.base + a * hinge.u + b * hinge.away
            for a, b in ((left, low), (right, low), (right, high), (left, high))
        ]
        step = view.fold.step if view in self.views.auxiliary and view.fold is not None else 0
        name = {"front": "front plane", "top": "horizontal plane"}.get(view.id, f"plane {view.id}")
        return Pane(view.id, step, name, np.array(corners))


def _spots_of(run: Run, views: Views, view: View) -> Array:
    """The places of a view's spots on the sheet, (n, 2); by the side of the fold that they lie on, where no key tells
    the view."""
    found = [spot.here for key, spot in run.spots.items() if key.endswith(f".{view.id}")]
    if not found:
        side = float(views.front.origin[1]) - views.level
        side = side if view is views.front else -side
        found = [spot.here for spot in run.spots.values() if (float(spot.here[1]) - views.level) * side > 0]
    return np.array(found or [view.origin])


def _body(run: Run, places: Mapping[str, Array]) -> Body:
    """The figure's edges and faces by the places that were found for their letters."""
    shape = run.figure.body(list(places)) if isinstance(run.figure, InViews) else ()
    edges = [(" ".join(names), np.array([places[name] for name in names])) for names in shape if len(names) > 1]
    faces = [
        line[[0, k, k + 1]]
        for names, line in edges
        if names.split()[0] == names.split()[-1]
        for k in range(1, len(line) - 2)
    ]
    return Body(tuple(edges), tuple(faces))
