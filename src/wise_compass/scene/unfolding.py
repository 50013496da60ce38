"""How the planes of a tree of views stand in space, and how they fold about their hinges into the sheet.

The sheet is the plane of the front view. A view's frame takes a place of the sheet (X, Y), and how far it stands before
the sheet, to space (x, y, z). Standing, a plane is square to its parent and each view lies where its projectors meet
it; folded, every frame is that of the sheet. Folding turns a plane about its fold line by ninety degrees.

``scene/unfolding.py`` gives each view a frame in space: standing, a plane is square to its parent and each view lies
where its projectors meet it; folded, every frame is the sheet's. ``Scene`` tells which mark is on which plane,
``picture`` makes items as an eye sees them, for the desk (``desk/round/spaceview.py``) and for a corner of the sheet
(``job/build.py``, ``sheet/free.py``). A figure tells what stands in space by ``stands`` (or ``body``).
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.marks import nominal
from wise_compass.drafting.views import View, Views
from wise_compass.geometry.vectors import Array, cosd, dot, point3, sind


class Stand(NamedTuple):
    """The place of space of the sheet's origin, and the directions of space that its X, its Y and its near side
    take."""

    origin: Array
    x: Array
    y: Array
    near: Array

    def at(self, on_sheet: Array) -> Array:
        """Places of space (…, 3) of places of the sheet (…, 2)."""
        return np.asarray(self.origin + on_sheet[..., :1] * self.x + on_sheet[..., 1:] * self.y)

    def along(self, on_sheet: Array) -> Array:
        """The direction of space of a direction of the sheet."""
        return np.asarray(on_sheet[0] * self.x + on_sheet[1] * self.y)


class Hinge(NamedTuple):
    """About what a view folds: a place and a direction of the sheet, the direction away from it into the view."""

    base: Array
    u: Array
    away: Array


def hinge_of(views: Views, view: View) -> Hinge:
    """The fold line of a view that is folded off another."""
    if view is views.top:
        return Hinge(np.array([0.0, views.level]), np.array([1.0, 0.0]), np.array([0.0, 1.0]))
    assert view.fold is not None
    return Hinge(nominal(view.fold.p, 1), nominal(view.fold.u, 1), view.v)


def _folded_off(view: View) -> View:
    assert view.parent is not None
    return view.parent


def _sheet(views: Views) -> Stand:
    """The frame of the sheet: the plane of the front view, as far in front of the body as third angle has it."""
    front, top = views.front.origin, views.top.origin
    return Stand(point3(-float(front[0]), float(top[1]) - views.level, -float(front[1])), *np.eye(3)[[0, 2, 1]])


def frames(views: Views, folded: float) -> Mapping[str, Stand]:
    """Every view's frame, from standing (0) to flat in the sheet (1)."""
    stood = {"front": _sheet(views)}
    found = dict(stood)
    for view in (views.top, *views.auxiliary):
        parent = (views.front if view is views.top else _folded_off(view)).id
        hinge, up = hinge_of(views, view), stood[parent].near
        towards = -view.away if view is views.top else view.away
        sign = 1.0 if float(dot(towards, up)) > 0 else -1.0
        beyond = float(dot(view.at(np.zeros(3)) - hinge.base, hinge.away))
        shift = -float(dot(stood[parent].at(hinge.base), up)) - sign * beyond
        stood[view.id] = _turned(stood[parent], hinge, sign * 90.0, shift)
        found[view.id] = _turned(found[parent], hinge, sign * 90.0 * (1.0 - folded), shift * (1.0 - folded))
    return found


def _turned(parent: Stand, hinge: Hinge, angle: float, shift: float) -> Stand:
    """The frame turned about a hinge of its parent, and moved off the parent's near side by ``shift``."""
    c, s = float(cosd(angle)), float(sind(angle))
    along, out = parent.along(hinge.u), parent.along(hinge.away)
    away = c * out + s * parent.near
    near = c * parent.near - s * out
    x = along * hinge.u[0] + away * hinge.away[0]
    y = along * hinge.u[1] + away * hinge.away[1]
    base = parent.at(hinge.base) + shift * parent.near
    return Stand(base - hinge.base[0] * x - hinge.base[1] * y, x, y, near)
