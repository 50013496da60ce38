"""Where an auxiliary view goes: clear of its parent, on the side that keeps the views apart and the drawing small.

``figures/space/folds.py`` puts an auxiliary view on the side of its parent that keeps all views apart and on the paper
(``Conventions.sides`` and ``fields``), and says why in its step. ``visible.py`` lines in what is seen and hidden of an
edge (``geometry/hidden.py``); ``cuts.py`` chooses cutting planes through two laminae as a good hand would.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Spot, nominal
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import mm, way_words
from wise_compass.figures.space.given_points import SAME
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, dot, left_of, length

CLEAR = 14.0
"""What is left between a view and the fold line drawn beside it."""
APART = 4.0
"""What is left between two views, at least."""
LONG = 45.0
"""mm of the shortest distance to be carried over, from which a datum of its own is worth drawing."""
ALIKE = 1.1
"""Two sides whose drawings differ in size by less than this are alike, and the usual one is taken."""


class Aside(NamedTuple):
    """A side for an auxiliary view: the direction from its parent, the fold line's distance along it, and the box it
    takes.

    ``room`` mm are saved by a datum of its own, where everything lies far from the old one.
    """

    out: Array
    gap: float
    box: Array
    size: tuple[float, float]
    room: float


def away(views: Views, view: View) -> Array:
    """The sheet direction from a view's fold line, or from the reference line, through the view and beyond it."""
    if view in views.auxiliary:
        return view.v
    return view.v if views.front.origin[1] == 0 else -view.v


def fold_along(
    d: Draft,
    views: Views,
    view: View,
    line: LineMark,
    spots: Sequence[Spot],
    offs: Sequence[float],
    says: str,
    clear: Sequence[Spot] = (),
) -> View:
    """An auxiliary view along ``line``, clear of ``spots`` of the parent, though what is carried over reach back by
    ``offs``.

    ``clear`` are further spots of the parent to keep clear of, which are not carried over.
    """
    left, base = left_of(nominal(line.u, 1)), nominal(line.p, 1)
    lean = float(dot(left, away(views, view)))
    usual = 1.0 if (lean if abs(lean) >= SAME else float(left[0])) > 0 else -1.0
    place, why = _chosen(d, views, view, base, usual * left, spots, offs, clear)
    side = 1 if float(dot(place.out, left)) > 0 else -1
    start = spots[0]
    words = f"Square to it draw a line from {start.name}, for the place of the fold line."
    square = d.square_to(line, start, words, why=why)
    through = d.on(square, side * (place.gap - float(dot(start.here - base, place.out))))
    made = views.fold_off(view, through, line, says, side=side, room=place.room)
    made.usual = usual * left
    return made


def fold_square(
    d: Draft, views: Views, view: View, line: LineMark, spots: Sequence[Spot], offs: Sequence[float], says: str
) -> View:
    """An auxiliary view square to ``line``, clear of ``spots`` of the parent, though what is carried over reach back by
    ``offs``."""
    u, base = nominal(line.u, 1), nominal(line.p, 1)
    lean = float(dot(u, away(views, view)))
    usual = 1.0 if (lean if abs(lean) > SAME else float(u[0])) > 0 else -1.0
    place, why = _chosen(d, views, view, base, usual * u, spots, offs)
    way = 1.0 if float(dot(place.out, u)) > 0 else -1.0
    through = d.on(line, way * place.gap)
    made = views.fold_off(view, through, line, says, square=True, side=-1 if way > 0 else 1, room=place.room, why=why)
    made.usual = usual * u
    return made


def _offs(views: Views, view: View, spots: Sequence[Spot], told: Sequence[float]) -> list[float]:
    """How far each spot will stand beyond the fold line: its distance in the view before, or as it is told."""
    before, datum = view.before, view.datum or view.fold
    found = []
    for spot in spots:
        letter = spot.name.partition(".")[0]
        there = views.d.spots.get(before.key(letter))
        if there is None or datum is None:
            return list(told)
        sign = float(np.sign(dot(left_of(nominal(datum.u, 1)), -view.v)))
        found.append(float(distance_to_line(there.here, nominal(datum.p, 1), nominal(datum.u, 1))) * sign)
    return found


def _place(base: Array, out: Array, spots: Sequence[Spot], offs: Sequence[float], clear: Sequence[Spot] = ()) -> Aside:
    """The view laid to one side: its fold line clear of the parent's spots, its box from the nearest to the furthest
    distance."""
    aside = left_of(out)
    reach = max(float(dot(spot.here - base, out)) for spot in (*spots, *clear))
    room = float(5 * int((min(offs) - CLEAR) / 5)) if min(offs) > LONG else 0.0
    offs = [off - room for off in offs]
    gap = reach + CLEAR + max(0.0, -min(offs))
    span = [float(dot(spot.here - base, aside)) for spot in spots]
    low, high = gap + min(0.0, min(offs)), gap + max(0.0, max(offs))
    corners = [
        base + a * out + b * aside
        for a, b in ((low, min(span)), (high, min(span)), (high, max(span)), (low, max(span)))
    ]
    return Aside(out, gap, np.array(corners), (max(span) - min(span), high - low), room)


def _chosen(
    d: Draft,
    views: Views,
    view: View,
    base: Array,
    usual: Array,
    spots: Sequence[Spot],
    told: Sequence[float],
    clear: Sequence[Spot] = (),
) -> tuple[Aside, str]:
    """The side that is taken, and why, in words."""
    offs = _offs(views, view, spots, told)
    places = [_place(base, out, spots, offs, clear) for out in (usual, -usual)]
    wish = d.conventions.sides[len(views.auxiliary)] if len(d.conventions.sides) > len(views.auxiliary) else "auto"
    if wish != "auto":
        place = places[0 if wish == "usual" else 1]
        return place, f"{way_words(place.out.tolist())}, as chosen: {_room(place)}"
    over = [_lies_over(views, view, place) for place in places]
    there = np.array([spot.here for spot in d.spots.values()])
    ends = there.min(axis=0), there.max(axis=0)
    extents = [_extent(ends, place) for place in places]
    worth = [(bool(o), -_fit(d, e), float(np.prod(e))) for o, e in zip(over, extents)]
    other = worth[1][:2] < worth[0][:2] or (worth[1][:2] == worth[0][:2] and worth[1][2] * ALIKE < worth[0][2])
    place, rest = (places[1], places[0]) if other else (places[0], places[1])
    return (
        place,
        f"{way_words(place.out.tolist())}: {_room(place)} fit there; "
        f"{_reason(d, rest, over[0 if other else 1], extents[::-1] if not other else extents)}",
    )


def _room(place: Aside) -> str:
    return f"{mm(round(place.size[0]))} × {mm(round(place.size[1]))}"


def _reason(d: Draft, rest: Aside, over: str, extents: Sequence[Array]) -> str:
    """Why the other side was not taken; ``extents`` are those of the drawing with the view there, and as it is."""
    there = way_words(rest.out.tolist())
    if over:
        return f"{there} it would lie over the {over} view"
    wide, small = extents
    beyond = _beyond(d, wide)
    if beyond > 0 and _fit(d, wide) < _fit(d, small):
        return f"{there} it would leave the sheet at true size by {mm(round(beyond))}"
    more = float(np.prod(wide) / np.prod(small))
    if more > ALIKE:
        return f"{there} the drawing would be {more:.1f} times as large"
    return f"{there} it would serve as well"


def _extent(ends: tuple[Array, Array], place: Aside) -> Array:
    """Width and height of the whole drawing with a view there; ``ends`` are the corners of what stands already."""
    return np.asarray(np.maximum(ends[1], place.box.max(axis=0)) - np.minimum(ends[0], place.box.min(axis=0)))


def _fit(d: Draft, extent: Array) -> float:
    """The scale, 1 at most, at which a drawing goes onto the paper that is wished; 1 where any paper serves."""
    fields = d.conventions.fields
    return min(1.0, max(min(w / float(extent[0]), h / float(extent[1])) for w, h in fields)) if fields else 1.0


def _beyond(d: Draft, extent: Array) -> float:
    """By how much a drawing at true size leaves the paper that is wished."""
    fields = d.conventions.fields
    return min(max(float(extent[0]) - w, float(extent[1]) - h) for w, h in fields) if fields else 0.0


def _lies_over(views: Views, parent: View, place: Aside) -> str:
    """The view that a place would lie over; empty where it lies over none. Of its parent only what it is not clear
    of."""
    for view in (views.front, views.top, *views.auxiliary):
        spots = [spot.here for key, spot in views.d.spots.items() if key.endswith(f".{view.id}")]
        if not spots:
            continue
        if view is parent:
            inside = _in_frame(np.array(spots), place.box)
            if inside.any():
                return view.id
            continue
        box = _box(np.array(spots), view.u, view.v)
        if _meet(box, place.box):
            return view.id
    return ""


def _in_frame(points: Array, box: Array) -> Array:
    u, v = (side / max(float(length(side)), 1e-9) for side in (box[1] - box[0], box[3] - box[0]))
    frame = np.array([u, v])
    low, high = (box @ frame.T).min(axis=0), (box @ frame.T).max(axis=0)
    at = points @ frame.T
    return np.asarray(((at > low - APART / 2) & (at < high + APART / 2)).all(axis=1))


def _box(points: Array, u: Array, v: Array) -> Array:
    """The box of points along two square directions of the sheet."""
    a, b = points @ u, points @ v
    return np.array(
        [x * u + y * v for x, y in ((a.min(), b.min()), (a.max(), b.min()), (a.max(), b.max()), (a.min(), b.max()))]
    )


def _meet(one: Array, other: Array) -> bool:
    """Whether two boxes come nearer than :data:`APART` (separating axes)."""
    for box in (one, other):
        for side in (box[1] - box[0], box[3] - box[0]):
            size = float(length(side))
            axis = (
                side / size if size > 1e-9 else left_of((box[2] - box[0]) / max(float(length(box[2] - box[0])), 1e-9))
            )
            p, q = one @ axis, other @ axis
            if p.max() + APART < q.min() or q.max() + APART < p.min():
                return False
    return True
