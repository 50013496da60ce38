"""Views of a thing in space as a tree on one sheet (ISO 5456-2): a front and a top view that share a reference line,
and auxiliary views folded off any view.

A view knows its frame on the sheet, its fold line and the view before it. In the front view z is upward, in the top
view what lies further back is higher up. In first angle the top view stands below the front view, in third angle above
it. What an auxiliary view adds is the distance from the fold line in the view before its parent: :meth:`Views.transfer`
takes it off there with the dividers and lays it off anew.

A spot of a view has the key ``A.front``, ``A.top``, ``A.3`` (the first auxiliary view is 3, as 1 and 2 are the top and
front view); how that is lettered is the sheet's affair.

``drafting/views.py`` has views as a tree: front and top share a reference line, and ``fold_off`` folds an auxiliary
view off any view about a line found there. ``carry`` brings a projector across a fold; ``transfer`` takes a distance
from the fold line in the view before with the dividers and lays it off beyond the new one, another datum where that
saves room. ``figures/space/given_points.py`` sets points out in both views; ``edge_views.py`` finds a level line of a
plane, folds the view in which the plane is an edge, and brings spots back: across the fold, by distance from it, or by
dividing a line in the same ratio where the projector would run along it. Which of these is taken follows from the
givens, so that no position divides by nothing.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.recorder import Opening
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Array, dot, left_of, point

X, Y, Z = np.eye(3)


@dataclass(eq=False, repr=False)
class View:
    """A parallel projection onto the sheet. A point p of space lies at ``origin + (p·across) u + (p·away) v``.

    ``across`` and ``away`` are square unit vectors of space, ``u`` and ``v`` square unit vectors of the sheet. ``fold``
    is the line about which it is folded off ``parent``; distances are carried over from the view before that, where
    they are taken from ``datum`` if that is another line than the fold, or for this view alone from ``taken``, drawn
    there to save room. ``usual`` is the direction in which it lies where nothing speaks against it.
    """

    id: str
    origin: Array
    across: Array
    away: Array
    u: Array
    v: Array
    parent: View | None = None
    fold: LineMark | None = None
    datum: LineMark | None = None
    usual: Array | None = None
    taken: LineMark | None = None

    def at(self, p: Array) -> Array:
        """Where points of space (…, 3) lie on the sheet, (…, 2)."""
        flat = np.asarray(dot(p, self.across))[..., None] * self.u + np.asarray(dot(p, self.away))[..., None] * self.v
        return np.asarray(self.origin + flat)

    def key(self, letter: str) -> str:
        """The key of a point's spot in this view."""
        return f"{letter}.{self.id}"

    @property
    def before(self) -> View:
        """The view whose distances the next one takes over: for a view folded off the top view, the front view."""
        assert self.parent is not None
        return self.parent


class Views:
    """The views of one run. ``height`` and ``depth`` are how far the datum levels lie off the reference line, 0 in
    first angle.

    ``front`` and ``top`` are each other's parents: either may be the one before the other.
    """

    def __init__(self, d: Draft, front_origin: Array, top_origin: Array, level: float = 0.0) -> None:
        self.d = d
        self.level = level
        """The level of the sheet at which front and top fold, drawn or not."""
        self.front = View("front", front_origin, X, Z, point(1.0, 0.0), point(0.0, 1.0))
        self.top = View("top", top_origin, X, Y, point(1.0, 0.0), point(0.0, -1.0))
        self.front.parent, self.top.parent = self.top, self.front
        self.auxiliary: list[View] = []
        d.take_views(self)

    @classmethod
    def about_line(cls, d: Draft, most_z: float, most_y: float, room: float) -> Views:
        """Views folded on a reference line through the sheet's origin, of something ``most_z`` high and ``most_y``
        forward.

        In third angle distances are taken from levels ``room`` beyond both, which are drawn in with the reference line.
        """
        if d.conventions.projection == "first":
            return cls(d, point(0.0, 0.0), point(0.0, 0.0))
        return cls(d, point(0.0, -most_z - room), point(0.0, most_y + room))

    @classmethod
    def stacked(cls, d: Draft, low: float, high: float, depth: float, gap: float) -> Views:
        """A plan about the sheet's origin under an elevation (over it in third angle), ``gap`` between them.

        The elevation reaches from ``low`` to ``high`` about its foot, the plan ``depth`` to the front and to the back.
        """
        lift = depth + gap - low
        over = lift + high + gap + depth if d.conventions.projection == "third" else 0.0
        level = over - depth - gap / 2 if over else depth + gap / 2
        return cls(d, point(0.0, lift), point(0.0, over), level)

    def reference_line(self, start: Spot, left: float, right: float) -> LineMark:
        """The line that front and top fold on, and in third angle the levels that distances are taken from."""
        d = self.d
        line = d.level_from(start, "Draw the reference line level.", role=Role.REFERENCE).extent(left, right)
        self.front.fold = self.top.fold = line
        if self.front.origin[1]:
            ground, wall = (
                d.plot("", 0.0, float(view.origin[1]), f"Measure off the {words} from the reference line.", "plain")
                for view, words in ((self.front, "ground level"), (self.top, "line of the wall"))
            )
            with d.as_one(
                "Set square", "Draw the ground level in the front view and the line of the wall in the top view."
            ):
                levels = [d.level_from(spot, role=Role.CENTRE).extent(left, right) for spot in (ground, wall)]
            self.top.datum, self.front.datum = levels
        return line

    def solid(self, front: Array, top: Array) -> Array:
        """The point in space that both views fix; x is read off the top view. Lanes broadcast."""
        x = top[..., 0] - self.top.origin[0]
        y = self.top.origin[1] - top[..., 1]
        z = front[..., 1] - self.front.origin[1]
        return np.stack(np.broadcast_arrays(x, y, z), axis=-1)

    def spot(self, letter: str, view: View) -> Spot:
        """A point's spot in a view."""
        return self.d.spots[view.key(letter)]

    # auxiliary views

    def fold_off(
        self,
        parent: View,
        through: Spot,
        line: LineMark,
        says: str,
        square: bool = False,
        side: int = 1,
        room: float = 0.0,
        why: str = "",
    ) -> View:
        """An auxiliary view folded off ``parent``: along ``line`` found there, or with ``square`` square to it.

        Its fold line is drawn through ``through``; the new view lies on its left (+1) or right (−1) as it is drawn.
        ``room`` mm are left off every distance carried over, where that saves room on the sheet: they are taken from a
        datum that is drawn so far on in the view before.
        """
        d = self.d
        taken = self._further(parent, room) if room else None
        drawn = (d.square_to if square else d.parallel_to)(line, through, says, role=Role.REFERENCE, why=why)
        u = nominal(drawn.u, 1)
        v = side * left_of(u)
        before, facing = parent.before, -parent.v
        across = _in_space(parent, u)
        away = _in_space(before, facing)
        level = float(dot(nominal(self._datum(parent).p, 1) - before.origin, facing))
        base = nominal(drawn.p, 1)
        origin = float(dot(parent.origin, u)) * u + (float(dot(base, v)) - level - room) * v
        view = View(str(3 + len(self.auxiliary)), origin, across, away, u, v, parent, drawn, taken=taken)
        self.auxiliary.append(view)
        return view

    def _further(self, parent: View, room: float) -> LineMark:
        """A datum parallel to that of the view before ``parent``, ``room`` mm on towards what is drawn there."""
        d, line, before = self.d, self._datum(parent), parent.before
        start = d.on(line, line.lo)
        square = d.square_to(
            line,
            start,
            "Where all distances are long a datum of their own saves room: square to the old one draw a line.",
        )
        way = float(np.sign(dot(nominal(square.u, 1), -parent.v)))
        through = d.lay_off(
            square,
            start,
            way * room,
            "",
            f"Measure off how much nearer the datum lies in the {before.id} view.",
            kind="plain",
        )
        return d.parallel_to(
            line, through, "Draw the datum parallel: distances are taken from it.", role=Role.CENTRE
        ).extent(0.0, line.hi - line.lo)

    def _datum(self, parent: View) -> LineMark:
        """The line in the view before ``parent`` that distances are taken from: its fold line, or the level drawn for
        it."""
        line = parent.datum or parent.fold
        assert line is not None, "draw the reference line first"
        return line

    def carry(self, letter: str, into: View, says: str = "") -> LineMark:
        """The projector of a point from a view's parent across the fold line into it."""
        assert into.parent is not None and into.fold is not None
        spot = self.spot(letter, into.parent)
        return self.d.square_to(
            into.fold, spot, says or f"Carry {spot.name} square across the fold line.", role=Role.PROJECTOR
        )

    def transfer(self, letter: str, into: View, says: str = "") -> Spot:
        """A point's spot in an auxiliary view: its projector, and on that its distance from the fold line in the view
        before.

        The dividers take that distance off and lay it off beyond the new fold line, with the errors of both.
        """
        d, parent = self.d, into.parent
        assert parent is not None and into.fold is not None
        datum, spot = into.taken or self._datum(parent), self.spot(letter, parent.before)
        projector = self.carry(letter, into)
        base = d.meet(projector, into.fold)
        says_so = "A distance taken from the view beside, instead of from the one before that."
        if d.usual_slip("distance-of-the-wrong-view", False, True, says_so, when=into.taken is None):
            spot = self.spot(letter, parent)
        off = distance_to_line(spot.at, datum.p, datum.u) * float(np.sign(dot(left_of(nominal(datum.u, 1)), -parent.v)))
        taken = off + d.hand.strays("dividers taken", len(d.steps) + 1)
        way = float(np.sign(dot(nominal(projector.u, 1), into.v)))
        way = d.usual_slip(
            "transfer-wrong-side", way, -way, "A distance laid off on the wrong side of the new fold line."
        )
        origin = "the datum" if into.taken else "its fold line"
        words = says or f"Take the distance of {spot.name} from {origin}; lay it off beyond the new one."
        return d.lay_off(projector, base, Opening(taken, spot.name), into.key(letter), words, way=way)

    def transfer_all(self, letters: Iterable[str], into: View) -> None:
        """Every one of several points carried into an auxiliary view: one move of two steps a point."""
        letters = list(letters)
        with self.d.move(f"Carry {', '.join(letters)} into view {into.id}"):
            for letter in letters:
                self.transfer(letter, into)


def _in_space(view: View, w: Array) -> Array:
    """The direction of space that a view shows truly as the sheet direction ``w``."""
    return np.asarray(float(dot(w, view.u)) * view.across + float(dot(w, view.v)) * view.away)
