"""The steps of a construction of one's own that stands in views: the reference line, projectors, folds and transfers.

A point of a view is called by its letter and the view, as the catalogue's are: ``A.front``, ``A.top``, ``A.3``. Where a
letter has both its front and its top view, the point in space that they fix is known (:func:`stood_in_space`).
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from wise_compass.drafting.marks import Role, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.views import View, Views
from wise_compass.geometry.vectors import point
from wise_compass.own.drawing import Drawing
from wise_compass.own.language import Line

BESIDE = 14.0
"""mm that the reference line is drawn to the left of the point that it starts from."""
MOST_FOLDS = 7


def views_stand(drawing: Drawing, line: Line) -> None:
    """Where both views stand on the sheet; nothing is drawn."""
    x, y, u, w = (drawing.number(line, line.parts[part], "length") for part in "xyuw")
    if drawing.d.views is not None:
        raise Refused("own", f"Line {line.number}: the views stand already, since their first line.")
    Views(drawing.d, point(x, y), point(u, w))


def reference(drawing: Drawing, line: Line) -> None:
    """The line that front and top view fold on; without a word of where the views stand, from their common origin."""
    d, at = drawing.d, drawing.point(line, "at")
    if d.views is None:
        here = np.array(nominal(at.at, 1))
        Views(d, here, here)
    elif d.views.front.fold is not None:
        raise Refused("own", f"Line {line.number}: the reference line is drawn already; views fold on one.")
    drawn = d.level_from(at, line.says or "Draw the reference line level.", role=Role.REFERENCE)
    d.views.front.fold = d.views.top.fold = drawn.extent(-BESIDE, BESIDE)
    drawing.keep(line, drawn)


def _views(drawing: Drawing, line: Line) -> Views:
    found = drawing.d.views
    if not isinstance(found, Views):
        raise Refused(
            "own", f"Line {line.number}: there are no views yet. Draw the reference line first: reference x from A."
        )
    return found


def _view(drawing: Drawing, line: Line, name: str) -> View:
    views = _views(drawing, line)
    named = {"front": views.front, "top": views.top, **{one.id: one for one in views.auxiliary}}
    if name not in named:
        raise Refused("own", f"Line {line.number} speaks of view {name}, which no step before it folds off.")
    return named[name]


def projector(drawing: Drawing, line: Line) -> None:
    at, across = drawing.point(line, "at"), drawing.line(line, "on")
    says = line.says or f"Carry {at.name} square across the fold line."
    drawing.keep(line, drawing.d.square_to(across, at, says, role=Role.PROJECTOR))


def project(drawing: Drawing, line: Line) -> None:
    over, level = drawing.point(line, "a"), drawing.point(line, "b")
    lift = drawing.number(line, line.parts["lift"], "length") if "lift" in line.parts else 0.0
    says = line.says or f"Carry {over.name} up or down, level with {level.name}."
    with drawing.d.as_one("Set square", says):
        drawing.name(line, drawing.d.project(drawing.key(line.parts["name"]), over, level, lift))


def fold(drawing: Drawing, line: Line) -> None:
    """A view folded off another, along a line found there or square to it."""
    parts, views = line.parts, _views(drawing, line)
    parent, at, along = _view(drawing, line, parts["view"]), drawing.point(line, "at"), drawing.line(line, "on")
    if parent.fold is None and parent.datum is None:
        raise Refused(
            "own", f"Line {line.number}: distances are taken from the reference line, or from a datum; draw that first."
        )
    if len(views.auxiliary) >= MOST_FOLDS:
        raise Refused("own", f"Line {line.number}: {MOST_FOLDS} views are folded off already, and no more are.")
    square, side = parts["how"] == "square to", 1 if parts["side"] == "left" else -1
    room = drawing.number(line, parts["room"], "length") if "room" in parts else 0.0
    says = line.says or f"Draw the fold line {'square to' if square else 'along'} the line through {at.name}."
    view = views.fold_off(parent, at, along, says, square, side, room)
    assert view.fold is not None
    drawing.keep(line, view.fold)


def datum(drawing: Drawing, line: Line) -> None:
    """The line that distances are taken from for what is folded off a view, instead of its own fold line."""
    _view(drawing, line, line.parts["view"]).datum = drawing.line(line, "on")


def transfer(drawing: Drawing, line: Line) -> None:
    """Points carried into a view that is folded off another, each with its distance in the view before that."""
    names, d = line.parts["names"].split(), drawing.d
    for name in names:
        letter, _, into = name.partition(".")
        if not into or into in ("front", "top"):
            raise Refused("own", f"Line {line.number}: {name} lies in no view that is folded off; write such as A.3.")
        view = _view(drawing, line, into)
        assert view.parent is not None
        for source in (view.parent, view.parent.before):
            if source.key(letter) not in d.spots:
                raise Refused(
                    "own", f"Line {line.number}: {name} is carried from {source.key(letter)}, which is not there."
                )
    with d.move(f"Carry {', '.join(names)} over"):
        for name in names:
            letter, _, into = name.partition(".")
            drawing.points[name] = _views(drawing, line).transfer(letter, _view(drawing, line, into), line.says)


def stand(drawing: Drawing, line: Line) -> None:
    """A point in space that a front and a top view fix, where these are not called alike."""
    letter, d = line.parts["letter"], drawing.d
    if letter in d.solid or letter in d.spots:
        raise Refused("own", f"Line {line.number} makes {letter}, which is there already. Take another letter.")
    front, top = drawing.point(line, "front"), drawing.point(line, "top")
    d.in_space(letter, _views(drawing, line).solid(front.at, top.at))


def stood_in_space(drawing: Drawing) -> None:
    """Every letter that has its front and its top view stands in space."""
    d = drawing.d
    if not isinstance(d.views, Views):
        return
    for name in list(d.spots):
        letter, _, view = name.partition(".")
        free = letter not in d.solid and letter not in d.spots
        if view == "front" and free and f"{letter}.top" in d.spots:
            d.in_space(letter, d.views.solid(d.spots[name].at, d.spots[f"{letter}.top"].at))


STEPS: dict[str, Callable[[Drawing, Line], None]] = {
    "views": views_stand,
    "reference": reference,
    "projector": projector,
    "project": project,
    "fold": fold,
    "transfer": transfer,
    "datum": datum,
    "stand": stand,
}
