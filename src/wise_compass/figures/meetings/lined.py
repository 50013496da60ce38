"""Both views lined in: what stays of the main's edges, of the branch's and of its ends, and the line where they meet;
seen dark, hidden dashed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import Role, Row, Spot
from wise_compass.figures.meetings.finding import Finder
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.meetings.pair import Named
from wise_compass.figures.meetings.seeing import Seeing, outline_turns
from wise_compass.geometry.borders import borders
from wise_compass.geometry.hidden import uncovered
from wise_compass.geometry.interpenetration import LEFT, RIGHT, SAME
from wise_compass.geometry.skins import FlatSkin
from wise_compass.geometry.vectors import Array, Bools, distance, point3, polar

WORDS = {"front": "the elevation", "top": "the plan"}


class Straight(NamedTuple):
    """A straight line of a view from spot to spot, and whether it is seen."""

    start: Spot
    end: Spot
    seen: bool


class Bent(NamedTuple):
    """A piece of a row of spots."""

    row: Row
    start: float
    end: float
    seen: bool


class Lining:
    """What one view shows."""

    def __init__(self, g: SolidsThatMeet, d: Draft, hand: Finder, view: str) -> None:
        self.g, self.d, self.hand, self.view = g, d, hand, view
        self.eye = Seeing(g, view)
        self.frame = hand.views.front if view == "front" else hand.views.top
        self.straight: list[Straight] = []
        self.bent: list[Bent] = []
        self.arcs: list[tuple[float, float, bool]] = []
        self.branch_circle = False
        self.same = 1e-7 * max(g.tall, g.reach)

    # pieces

    def add(
        self, ends: tuple[Spot, Spot], places: Callable[[Array], Array], hides: Callable[[Array], Bools], faces: bool
    ) -> None:
        """A straight line, parted where it is seen and where not."""
        start, end = ends
        if float(distance(start.here, end.here)) <= self.same:
            return
        for a, b, seen in self.eye.stretches(places, hides, faces):
            self.straight.append(Straight(self._share(start, end, a), self._share(start, end, b), seen))

    def _share(self, start: Spot, end: Spot, share: float) -> Spot:
        if share in (0.0, 1.0):
            return end if share else start
        return self.d.between(start, end, share, kind="plain")

    def spot(self, name: str) -> Spot:
        return self.d.spots[f"{name}.{self.view}"]

    # the main

    def main(self) -> None:
        g = self.g
        if g.main_solid.ball:
            self._circle(g.main_solid.radius, 0.0)
            return
        if g.main_solid.corners is None:
            self._round_main()
        else:
            self._flat_main()

    def _flat_main(self) -> None:
        g, hand, n = self.g, self.hand, len(self.g.feet)
        top = point3(0.0, 0.0, g.tall)
        for k, foot in enumerate(g.feet):
            head = top if g.main_solid.apex else foot + top
            if self.view == "front":
                ends = hand.corners_front[k], hand.apex if g.main_solid.apex else hand.tops[k]
            else:
                ends = hand.corners_top[k], hand.o if g.main_solid.apex else hand.corners_top[k]
            self._kept(k, ends, foot, head, self.eye.main_edge_faces(k))
        skin = g.main_solid.skin
        assert isinstance(skin, FlatSkin)
        for k in range(n):
            a, b = g.feet[k], g.feet[(k + 1) % n]
            if self.view == "top":
                lift = np.zeros(3) if g.main_solid.apex else top
                ends = hand.corners_top[k], hand.corners_top[(k + 1) % n]
                self._edge(ends, a + lift, b + lift, self.eye.branch_hides, True)
            elif self.eye.facing(skin.normals[k]):
                self._edge((hand.corners_front[k], hand.corners_front[(k + 1) % n]), a, b, self.eye.branch_hides, True)
                if not g.main_solid.apex:
                    self._edge((hand.tops[k], hand.tops[(k + 1) % n]), a + top, b + top, self.eye.branch_hides, True)

    def _edge(self, ends: tuple[Spot, Spot], a: Array, b: Array, hides: Callable[[Array], Bools], faces: bool) -> None:
        self.add(ends, lambda s: a + s[:, None] * (b - a), hides, faces)

    def _kept(self, k: int, ends: tuple[Spot, Spot], a: Array, b: Array, faces: bool) -> None:
        """What stays of the main's edge k: all but what lies in the branch."""
        g = self.g
        names = g.crossed(k)
        hides = self.eye.branch_hides
        if names is None:
            self._edge(ends, a, b, hides, faces)
            return
        low, high = names
        self._edge((ends[0], self.spot(low)), a, g.named[low].at, hides, faces)
        if high:
            self._edge((self.spot(high), ends[1]), g.named[high].at, b, hides, faces)

    def _round_main(self) -> None:
        g, hand = self.g, self.hand
        r, tall = g.main_solid.radius, g.tall
        if self.view == "top":
            self._circle(r, 0.0 if g.main_solid.apex else tall)
            return
        for name, x in (("right", r), ("left", -r)):
            foot = point3(x, 0.0, 0.0)
            head = point3(0.0, 0.0, tall) if g.main_solid.apex else foot + point3(0.0, 0.0, tall)
            low = hand.outlines[name]
            high = hand.apex if g.main_solid.apex else hand.tops[0 if name == "right" else 1]
            span = g.meeting.pierced(foot) if self._on_entered(foot) else None
            if span is None:
                self._edge((low, high), foot, head, self.eye.branch_hides, True)
                continue
            at = foot + span[0] * g.main_solid.way(foot)
            self._edge((low, self.spot(g.nearest(at))), foot, at, self.eye.branch_hides, True)
            if np.isfinite(span[1]):
                at = foot + span[1] * g.main_solid.way(foot)
                self._edge((self.spot(g.nearest(at)), high), at, head, self.eye.branch_hides, True)

        def front_rim(z: float) -> Callable[[Array], Array]:
            return lambda s: np.stack(
                [(2 * s - 1) * r, r * np.sqrt(np.maximum(1 - (2 * s - 1) ** 2, 0.0)), np.full(len(s), z)], axis=-1
            )

        self.add((hand.outlines["left"], hand.outlines["right"]), front_rim(0.0), self.eye.branch_hides, True)
        if not g.main_solid.apex:
            self.add((hand.tops[1], hand.tops[0]), front_rim(tall), self.eye.branch_hides, True)

    def _on_entered(self, foot: Array) -> bool:
        return not self.g.right_only or self.g.meeting.is_entered(foot)

    def _circle(self, radius: float, z: float) -> None:
        """A circle about O: the base or the top of a round main, a sphere's outline."""

        def rim(s: Array) -> Array:
            c, w = radius * np.cos(2 * np.pi * s), radius * np.sin(2 * np.pi * s)
            if self.view == "front":
                return np.stack([c, 0 * s, w], axis=-1)
            return np.stack([c, -w, 0 * s + z], axis=-1)

        for start, end, seen in self._without_branch(rim, self.eye.branch_hides):
            self.arcs.append((360.0 * start, 360.0 * end, seen))

    def _without_branch(
        self, rim: Callable[[Array], Array], hides: Callable[[Array], Bools]
    ) -> list[tuple[float, float, bool]]:
        """A rim of the main parted where it lies in the branch (and is gone) and where that hides it."""
        g = self.g

        def state(s: Array) -> Array:
            at = rim(s)
            gone = g.branch.holds(at, 1e-9) & self._there(at)
            return np.where(gone, 2, np.where(hides(at), 1, 0))

        shares = np.linspace(0.0, 1.0, 361)
        found = state(shares)
        k = np.flatnonzero(found[1:] != found[:-1])
        as_before = np.ones(len(k), dtype=bool)
        turns = borders(lambda at, which: state(at) == found[k][which], shares[k], shares[k + 1], as_before, 42)
        cuts = np.concatenate([[0.0], turns, [1.0]])
        kinds = state((cuts[:-1] + cuts[1:]) / 2)
        out = []
        for a, b, kind in zip(cuts[:-1].tolist(), cuts[1:].tolist(), kinds.tolist()):
            if b - a > 1e-9 and kind < 2:
                out.append((a, b, kind == 0))
        if len(out) > 1 and out[0][2] == out[-1][2] and out[0][0] == 0.0 and out[-1][1] == 1.0:
            out = [(out[-1][0] - 1.0, out[0][1], out[0][2]), *out[1:-1]]
        return out

    def _there(self, at: Array) -> Bools:
        """Whether the branch is there at all at places: not beyond the skin that it enters."""
        g = self.g
        if not g.right_only:
            return np.ones(len(at), dtype=bool)
        top = float(np.nanmax(g.meeting.hits(g.counted)[0]))
        return np.asarray(g.branch.along(at) > (top if np.isfinite(top) else -np.inf))

    # the branch

    def branch(self) -> None:
        g = self.g
        if g.branch_corners is None:
            for w in outline_turns(g, self.view):
                self._element(w, True)
        else:
            for j in range(len(g.branch_corners)):
                self._element(float(j), self.eye.branch_edge_faces(j))
        for way, line in ((1.0, self.hand.end_line), (-1.0, self.hand.other_line)):
            if line is not None:
                self._end(way)

    def _element(self, w: float, faces: bool) -> None:
        """What stays of an element: outside the main, from both ends."""
        g = self.g
        if g.upright and self.view == "top":
            return
        start = g.branch.element(w)
        ends = {RIGHT: start + g.reach * g.branch.axis, LEFT: start - g.reach * g.branch.axis}
        named = {side: self._named_at(w, side) for side in (RIGHT, LEFT)}
        hides = self.eye.main_hides
        if named[RIGHT] is None:
            if not g.right_only:
                self._edge((self._end_spot(w, 1.0), self._end_spot(w, -1.0)), ends[RIGHT], ends[LEFT], hides, faces)
            return
        for side, way in ((RIGHT, 1.0), (LEFT, -1.0)):
            name = named[side]
            if name is not None and not (side == LEFT and g.right_only):
                self._edge((self._end_spot(w, way), self.spot(name)), ends[side], g.named[name].at, hides, faces)

    def _named_at(self, w: float, side: str) -> str | None:
        """The point of the line on an element, on one side."""
        g = self.g
        left, right = (float(x) for x in g.meeting.hits(w))
        if right != right:
            return None
        at = g.branch.element(w) + (right if side == RIGHT else left) * g.branch.axis
        return g.nearest(at)

    def _end_spot(self, w: float, way: float) -> Spot:
        """Where an element ends, in this view."""
        g, d, hand = self.g, self.d, self.hand
        key = hand.place_key(w)
        if self.view == "top" and g.upright:
            return hand.marks[key]
        line = hand.end_line if way > 0 else hand.other_line
        assert line is not None
        front = hand.ends[key] if way > 0 else d.meet(hand.front[key], line)
        if self.view == "front":
            return front
        return d.meet(d.upright_from(front, role=Role.PROJECTOR), hand.top[key])

    def _end(self, way: float) -> None:
        """The branch's end: an edge where it is seen on edge, else its rim."""
        g = self.g
        start = way * g.reach * g.branch.axis
        on_edge = abs(float(g.branch.axis @ self.eye.sight)) <= 1e-12
        if on_edge:
            self._end_on_edge(way)
            return
        if g.upright and g.branch_corners is None:
            self._end_circle(way)
            return
        hides = self.eye.main_hides
        if g.branch_corners is not None:
            m = len(g.branch_corners)
            spots = [self._end_spot(float(j), way) for j in range(m)]
            for j in range(m):
                a, b = (g.branch.element(float(k % m)) + start for k in (j, j + 1))
                self._edge((spots[j], spots[(j + 1) % m]), a, b, hides, self.eye.branch_rim_faces(j + 0.5, way))
            return
        places = sorted(self.hand.places)
        spots = [self._end_spot(w, way) for w in places]
        row = self.d.row(spots, closed=True)
        for k, (w, other) in enumerate(zip(places, [*places[1:], places[0] + 360.0])):
            middle = g.branch.element((w + other) / 2) + start
            seen = self.eye.branch_rim_faces((w + other) / 2, way) and not bool(hides(middle[None])[0])
            self._piece(row, float(k), float(k + 1), seen)

    def _piece(self, row: Row, start: float, end: float, seen: bool) -> None:
        last = self.bent[-1] if self.bent else None
        if last is not None and last.row is row and last.seen == seen and abs(last.end - start) < 1e-9:
            self.bent[-1] = last._replace(end=end)
        else:
            self.bent.append(Bent(row, start, end, seen))

    def _end_on_edge(self, way: float) -> None:
        """From the one outermost element to the other; the nearer half of the rim is what is seen of it."""
        g = self.g
        across = 0 if self.view == "front" else 1
        drawn = np.array(self.hand.places)
        flat = g.branch.section(drawn)[:, across]
        low, high = float(drawn[int(np.argmin(flat))]), float(drawn[int(np.argmax(flat))])
        start = way * g.reach * g.branch.axis
        a, b = g.branch.element(low) + start, g.branch.element(high) + start
        nearer = self.eye.sight * g.section_reach
        self._edge(
            (self._end_spot(low, way), self._end_spot(high, way)), a + nearer, b + nearer, self.eye.main_hides, True
        )

    def _end_circle(self, way: float) -> None:
        """The circle of an upright branch in the plan: its upper end; the lower one lies under it."""
        if way < 0:
            return
        self.branch_circle = True

    # the line

    def line(self) -> None:
        for loop in self.g.lines:
            kept = [one for one in loop if one.name not in self.hand.left_out]
            self._loop(kept)

    def _loop(self, loop: list[Named]) -> None:
        """One closed line, in rows between its corners."""
        g, n, seen = self.g, len(loop), self._seen_between(loop)
        spots = [self.spot(one.name) for one in loop]
        if g.main_solid.corners is not None and g.branch_corners is not None:
            for k in range(n):
                self._straight_piece(spots[k], spots[(k + 1) % n], seen[k])
            return
        corners = [k for k in range(n) if g.is_corner(loop[k].meets)]
        if not corners:
            self._curved_pieces(self.d.row(spots, closed=True), seen)
            return
        for a, b in zip(corners, [*corners[1:], corners[0] + n]):
            run = [k % n for k in range(a, b + 1)]
            if len(run) == 2:
                self._straight_piece(spots[run[0]], spots[run[1]], seen[run[0]])
            else:
                self._curved_pieces(self.d.row([spots[k] for k in run]), [seen[k] for k in run[:-1]])

    def _seen_between(self, loop: list[Named]) -> list[bool | None]:
        """Whether the line is seen from each of its points to the next."""
        g, period = self.g, self.g.branch.period
        pairs = [(one.meets, other.meets) for one, other in zip(loop, [*loop[1:], *loop[:1]])]
        gaps = np.array([(b.w - a.w + period / 2) % period - period / 2 for a, b in pairs])
        apart = np.abs(gaps) > SAME
        places = np.array([a.w for a, _ in pairs]) + np.where(apart, gaps / 2, 0.0)
        right = np.array([(b if a.side != b.side and not g.touches(b) else a).side == RIGHT for a, b in pairs])[:, None]
        at = np.where(right, *g.meeting.both(places))
        along = np.array([(a.at + b.at) / 2 for a, b in pairs])
        at = np.where(apart[:, None], at, along)
        return self.eye.line_seen(places, np.where(right, g.outward(RIGHT), g.outward(LEFT)), at)

    def _straight_piece(self, one: Spot, other: Spot, seen: bool | None) -> None:
        if seen is not None and float(distance(one.here, other.here)) > self.same:
            self.straight.append(Straight(one, other, seen))

    def _curved_pieces(self, row: Row, seen: Sequence[bool | None]) -> None:
        for k, one in enumerate(seen):
            if one is not None:
                self._piece(row, float(k), k + 1.0, one)

    # on the paper

    def draw(self) -> None:
        d, hand = self.d, self.hand
        centre = hand.foot if self.view == "front" and self.g.main_solid.ball else hand.o
        words = WORDS[self.view]
        for flag, role, says in (
            (True, Role.OUTLINE, f"Line in what is seen in {words}."),
            (False, Role.HIDDEN, f"Line in as hidden what lies behind in {words}."),
        ):
            lines = [one for one in self.straight if one.seen == flag]
            bent = [one for one in self.bent if one.seen == flag]
            arcs = [arc for arc in self.arcs if arc[2] == flag]
            if not (lines or bent or arcs):
                continue
            with d.as_one("Curve" if bent else "Straightedge", says):
                for one in lines:
                    d.line_in([one.start, one.end], role=role)
                for piece in bent:
                    d.piece(piece.row, piece.start, piece.end, role)
                for start, end, _ in arcs:
                    arc = d.compass(centre, self.g.main_solid.radius, role=role)
                    if end - start < 360.0 - 1e-6:
                        arc.swing(start, end - start)
                        self._arc_ends(centre, (start, end))
        if self.branch_circle:
            d.circle_in(hand.section_centre, self.g.branch_radius, "Line in the branch’s circle in the plan.")

    def _arc_ends(self, centre: Spot, turns: tuple[float, float]) -> None:
        """Where an arc stops: it goes behind the branch's outline there."""
        for turn in turns:
            x, y = polar(centre.here, self.g.main_solid.radius, turn).tolist()
            name = f"X{sum(1 for name in self.d.spots if name[0] == 'X') + 1}.{self.view}"
            self.d.plot(name, x, y, kind="plain")

    def once(self) -> None:
        """Every line once: what lies on another is left out, and a line that is seen goes before one that is not (ISO
        128)."""
        kept: list[Straight] = []
        drawn: list[Array] = []
        for flag in (True, False):
            for one in self.straight:
                if one.seen != flag:
                    continue
                ends = np.array([one.start.here, one.end.here])
                for a, b in uncovered(ends, drawn, self.same):
                    kept.append(Straight(self._share(one.start, one.end, a), self._share(one.start, one.end, b), flag))
                drawn.append(ends)
        self.straight = kept


def line_in_all(g: SolidsThatMeet, d: Draft, hand: Finder) -> None:
    """Both views."""
    with d.phase("Line in"):
        for view in ("front", "top"):
            lining = Lining(g, d, hand, view)
            with d.as_one("Dividers", f"In {WORDS[view]} mark where lines go behind what stands before them."):
                lining.main()
                lining.branch()
                lining.line()
                lining.once()
            lining.draw()
