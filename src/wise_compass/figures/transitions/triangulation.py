"""How a hand develops a transition: both views, all true lengths in one diagram, and the pattern triangle by
triangle.

``figures/transitions/`` parts a surface between two level outlines into triangles (``Duct.walk``: both ends of the
seam, then each place that is added); ``triangulation.py`` draws its views, its one diagram of true lengths and its
pattern, two arcs to a point. ``elbows.py`` lays all pieces of a bend on one strip and rolls each up where it meets the
one before; ``gores.py`` and ``zones.py`` cover a ball, honestly ≈. ``sheet/tiles.py`` parts a sheet for a smaller
printer.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from bisect import bisect_left
from collections.abc import Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import trim
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.figures.solids.prisms import APART
from wise_compass.figures.solids.upright import BEYOND, GAP
from wise_compass.figures.transitions.ducts import SPLIT, Duct
from wise_compass.geometry.hidden import uncovered
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, angle_of, direction, distance, unit

SIGHTS = {"front": np.array([0.0, 1.0, 0.0]), "top": np.array([0.0, 0.0, 1.0])}
"""Towards the eye of a view."""
SAME = 1e-12
"""Of a length: two that differ by less are one, found in two ways."""
EDGE_ON = 1e-9
"""A face that turns less than this towards the eye, as a cosine, is seen edge-on."""


def _beside(low: Array, high: Array, flat_low: Array, flat_high: Array, flat: Array) -> Array:
    """A place on that side of the line between two points on which the next corner of the pattern has to lie, whatever
    lengths a hand took for it."""
    way, flat_way, off = high - low, flat_high - flat_low, flat - flat_low
    side = np.sign(flat_way[0] * off[1] - flat_way[1] * off[0])
    return np.asarray((low + high) / 2 + side * np.array([-way[1], way[0]]))


class Triangulation(ABC):
    """A transition on the way."""

    foot: Spot
    ground: LineMark
    over: LineMark
    taken: str
    """Where the pattern's slanting lengths are taken from: the diagram's true ones, or by a slip the elevation's or the
    plan's."""
    left: float
    """How far to the left the true-length diagram reaches."""

    def __init__(self, g: Duct, d: Draft) -> None:
        self.g, self.d = g, d
        self.rounds: dict[str, tuple[Spot, float]] = {}
        at = np.array(list(g.places.values()))
        self.low, self.high = at.min(axis=0), at.max(axis=0)
        depth = float(np.abs(at[:, 1]).max())
        self.views = Views.stacked(d, 0.0, float(self.high[2]), depth, GAP)

    def draw(self) -> None:
        with self.d.phase("The plan"):
            self.plan()
        with self.d.phase("The elevation"):
            self.elevation()
        with self.d.phase("Line in the views"):
            for view in (self.views.front, self.views.top):
                self.line_in(view)
        if self.g.wants_pattern:
            with self.d.phase("True lengths"), self.d.apart("lengths"):
                self.true_lengths()
            with self.d.phase("The pattern"), self.d.apart("pattern"):
                self.pattern()

    # the views

    def plan(self) -> None:
        g, d, top = self.g, self.d, self.views.top
        x, y = top.origin.tolist()
        centre = d.start_at("O.top", x, y, "Mark O, the middle of the bottom in the plan.", kind="plain")
        with d.as_one("Set square", "Draw the centre lines of the plan through O."):
            level = d.level_from(centre, role=Role.CENTRE).extent(
                float(self.low[0]) - BEYOND, float(self.high[0]) + BEYOND
            )
            upright = d.upright_from(centre, role=Role.CENTRE)
            upright.extent(-float(self.high[1]) - BEYOND, -float(self.low[1]) + BEYOND)
        self.rim("B", centre, level, upright)
        middle, across, along = centre, level, upright
        if g.offset_x:
            name = "" if g.offset_y else "C.top"
            middle = d.lay_off(
                across, middle, g.offset_x, name, "Lay off how far the top stands to the right.", kind="plain"
            )
            along = d.upright_from(middle, "Draw the top’s own centre line.", role=Role.CENTRE)
        if g.offset_y:
            middle = d.lay_off(
                along, middle, -g.offset_y, "C.top", "Lay off how far it stands to the front.", kind="plain"
            )
            across = d.level_from(middle, "Draw its other centre line.", role=Role.CENTRE)
        self.rim("T", middle, across, along)

    @abstractmethod
    def rim(self, letter: str, centre: Spot, across: LineMark, along: LineMark) -> None:
        """Set out the outline ``B`` or ``T`` in the plan, about its centre and on its centre lines."""

    def rectangle(
        self, names: Sequence[str], centre: Spot, axes: tuple[LineMark, LineMark], long: float, wide: float, words: str
    ) -> list[Spot]:
        """The four corners by half the sides laid off both ways on the axes, from the back right one on."""
        d, key = self.d, self.views.top.key
        with d.as_one("Rule", f"On its centre lines lay off half the {words} both ways."):
            ends = [d.lay_off(axes[0], centre, way * long / 2, "", kind="plain") for way in (1, -1)]
            sides = [d.lay_off(axes[1], centre, way * wide / 2, "", kind="plain") for way in (1, -1)]
        with d.as_one("Set square", f"Draw parallels through them: the {words}."):
            upright = [d.parallel_to(axes[1], spot) for spot in ends]
            level = [d.parallel_to(axes[0], spot) for spot in sides]
            pairs = ((0, 0), (1, 0), (1, 1), (0, 1))
            return [d.meet(upright[i], level[j], key(name)) for name, (i, j) in zip(names, pairs)]

    def split_side(self, level: LineMark | None) -> None:
        """M on the right side of the bottom: where the top's level centre line crosses it, or else its middle."""
        d, key = self.d, self.views.top.key("M")
        corners = (d.spots["B4.top"], d.spots["B1.top"])
        with d.as_one("Pencil", "On the right side mark M, where the seam meets it."):
            if level is None:
                d.between(*corners, 0.5, key)
            else:
                d.meet(d.rule(*corners), level, key)

    def split_top(self) -> None:
        """N in the middle of the right side of the top."""
        d = self.d
        with d.as_one("Pencil", "Mark N, the middle of the top’s right side, where the seam ends."):
            d.between(d.spots["T4.top"], d.spots["T1.top"], 0.5, self.views.top.key("N"))

    def circle(self, names: Sequence[str], centre: Spot, radius: float, words: str) -> None:
        """A circle and its divisions, from the right anticlockwise."""
        d, key = self.d, self.views.top.key
        self.rounds[names[0][0]] = (centre, radius)
        circle = d.compass(centre, radius, f"Draw the circle of the {words}.", "half the diameter")
        rays = d.divide_turn(centre, len(names), length=radius)
        for k, (ray, name) in enumerate(zip(rays, names)):
            d.meet(
                ray, circle, key(name), near=self.views.top.at(self.g.places[name]), kind="plain" if k % 2 else "found"
            )

    def elevation(self) -> None:
        g, d, views = self.g, self.d, self.views
        axis = d.upright_from(d.spots["O.top"], "Carry the middle into the elevation.", role=Role.CENTRE)
        lift = float(views.front.origin[1] - views.top.origin[1])
        words = "On it mark the level of the bottom, clear of the plan."
        self.foot = d.lay_off(axis, d.spots["O.top"], lift, "O.front", words, kind="plain")
        low, high = float(self.low[0]) - BEYOND, float(self.high[0]) + BEYOND
        self.ground = d.level_from(self.foot, "Draw the ground line level.").extent(low, high)
        crown = d.lay_off(axis, self.foot, g.height, "", "Measure the height up the axis.", kind="plain")
        self.over = d.level_from(crown, "Draw the top level.").extent(low, high)
        with d.as_one("Set square", "Carry every point of the plan up to its own level."):
            for rim, line in zip(g.rims, (self.ground, self.over)):
                for k, name in enumerate(rim):
                    rise = d.upright_from(d.spots[f"{name}.top"], role=Role.PROJECTOR)
                    d.meet(rise, line, f"{name}.front", kind="plain" if k % 2 else "found")
        for name in g.places:
            d.in_space(name, views.solid(d.spots[f"{name}.front"].at, d.spots[f"{name}.top"].at))

    # lined in

    def line_in(self, view: View) -> None:
        """Rims, edges and contour lines: dark where a face beside them turns to the eye, hidden where none does."""
        g, d, sight = self.g, self.d, SIGHTS[view.id]
        words = "the elevation" if view.id == "front" else "the plan"
        seen: list[tuple[Spot, Spot]] = []
        hidden: list[tuple[Spot, Spot]] = []
        for pair, turns in self._edges(sight).items():
            ends = (self.views.spot(pair[0], view), self.views.spot(pair[1], view))
            if float(distance(ends[0].here, ends[1].here)) <= 1e-7 * g.height:
                continue
            skin = g.is_smooth(*pair)
            facing = [turn > EDGE_ON for turn in turns]
            if skin and len(set(facing)) < 2:
                continue
            (seen if any(facing) else hidden).append(ends)
        with d.as_one("Straightedge", f"Line in what is seen in {words}."):
            for ends in seen:
                d.line_in(ends)
        before = [np.array([one.here, other.here]) for one, other in seen]
        behind: list[tuple[tuple[Spot, Spot], float, float]] = []
        for ends in hidden:  # a line that falls together with one before it is drawn but once
            line = np.array([ends[0].here, ends[1].here])
            behind += [(ends, *stretch) for stretch in uncovered(line, before, 1e-7 * g.height)]
            before.append(line)
        if behind:
            with d.as_one("Straightedge", f"Line in as hidden what lies behind in {words}."):
                for ends, start, end in behind:
                    d.piece(d.row(ends, smooth=False), start, end, Role.HIDDEN)
        self.line_in_rims(view)

    def _edges(self, sight: Array) -> dict[tuple[str, str], list[float]]:
        """Every edge that is no piece of a round rim, with how far the faces beside it turn to the eye, as cosines."""
        found: dict[tuple[str, str], list[float]] = {}
        loops, normals = self._faces
        for names, turn in zip(loops, (normals @ sight).tolist()):
            for one, other in zip(names, (*names[1:], names[0])):
                key = (one, other) if (other, one) not in found else (other, one)
                found.setdefault(key, []).append(turn)
        return {
            pair: turns for pair, turns in found.items() if not self._on_round_rim(*pair) and not {*SPLIT} & {*pair}
        }

    def _on_round_rim(self, one: str, other: str) -> bool:
        return any(self.g.is_round(rim) and one in rim and other in rim for rim in self.g.rims)

    @cached_property
    def _faces(self) -> tuple[list[tuple[str, ...]], Array]:
        """All faces, bottom and top among them, by name, and the outward unit normal of each, (n, 3)."""
        g = self.g
        loops: list[tuple[str, ...]] = [triangle.names for triangle in g.triangles]
        loops = [self._unsplit(loop) for loop in loops if loop[0] != "M"]
        bottom, top = (tuple(name for name in rim if name not in SPLIT) for rim in g.rims)
        loops += [loop for loop in (bottom[::-1], top) if len(loop) > 2]
        a, b, c = np.array([[g.places[name] for name in loop[:3]] for loop in loops]).swapaxes(0, 1)
        return loops, -unit(cross3(b - a, c - a))

    def _unsplit(self, loop: tuple[str, ...]) -> tuple[str, ...]:
        """A triangle with the middle of the seam's side put back to its corner."""
        return tuple({"M": "B1", "N": "T4"}.get(name, name) for name in loop)

    def line_in_rims(self, view: View) -> None:
        """Round rims: level lines in the elevation, in the plan circles, the bottom's hidden where the skin stands over
        it."""
        g, d = self.g, self.d
        for rim, words in zip(g.rims, ("bottom", "top")):
            if not g.is_round(rim):
                continue
            names = list(rim)
            if view.id == "front":
                ends = [pick(names, key=lambda name: float(g.places[name][0])) for pick in (min, max)]
                line = [self.views.spot(name, view) for name in ends]
                d.line_in(line, says=f"Line in the {words}, which is level.")
                continue
            covered = rim is g.rims[0]
            seen = [not covered or self._open(one, other) for one, other in zip(names, (*names[1:], names[0]))]
            with d.as_one("Compass", f"Line in the circle of the {words}."):
                self._arcs(names, seen)

    def _open(self, one: str, other: str) -> bool:
        """Whether the skin over a piece of the bottom's rim turns upward."""
        beside = next(t for t in self.g.triangles if one in t.names and other in t.names)
        a, b, c = (self.g.places[name] for name in beside.names)
        return bool(-unit(cross3(b - a, c - a))[2] > EDGE_ON)

    def _arcs(self, names: Sequence[str], seen: Sequence[bool]) -> None:
        """A circle of the plan in arcs that are seen and such that are not."""
        d = self.d
        centre, radius = self.rounds[names[0][0]]
        n, part = len(names), 360.0 / len(names)
        start = next((k for k in range(n) if seen[k - 1] != seen[k]), None)
        if start is None:
            d.compass(centre, radius, role=Role.OUTLINE if seen[0] else Role.HIDDEN)
            return
        k = start
        while k < start + n:
            count = 1
            while count < n and seen[(k + count) % n] == seen[k % n]:
                count += 1
            arc = d.compass(centre, radius, role=Role.OUTLINE if seen[k % n] else Role.HIDDEN)
            arc.swing(part * (k % n), part * count)
            k += count

    # true lengths

    def true_lengths(self) -> None:
        """One diagram for all: the height upright, every plan length level; what repeats is taken once."""
        g, d, top = self.g, self.d, self.views.top
        self.slant: dict[tuple[str, str], tuple[Spot, Spot, str]] = {}
        with d.move("The true-length diagram"):
            words = "Beside the views draw an upright on the ground line, up to the top level."
            with d.as_one("Set square", words):
                left = min(float(spot.here[0]) for spot in d.spots.values())
                base = d.on(self.ground, left - APART - float(self.foot.here[0]), "L")
                tip = d.meet(d.upright_from(base), self.over, "U")
                self.left = float(base.here[0])
            feet: dict[float, tuple[Spot, str]] = {}
            lengths: list[float] = []
            for low, high in g.slants:
                plan, name = g.plan_gap(low, high), f"{low} {high}"
                place = bisect_left(lengths, plan)
                same = next(
                    (x for x in lengths[max(place - 1, 0) : place + 1] if abs(x - plan) <= SAME * max(plan, g.height)),
                    None,
                )
                if same is not None:
                    self.slant[low, high] = (tip, feet[same][0], feet[same][1])
                    continue
                if plan <= 1e-9 * g.height:
                    spot = base
                else:
                    taken = d.opening(self.views.spot(low, top), self.views.spot(high, top))
                    says = f"Lay off the plan length of {name} from L, along the ground."
                    spot = d.lay_off(self.ground, base, taken, "", says, "height against plan length", "plain", -1)
                feet[plan] = (spot, name)
                lengths.insert(place, plan)
                self.left = min(self.left, float(spot.here[0]))
                self.slant[low, high] = (tip, spot, "")
            with d.as_one("Straightedge", "Join them to U: the true lengths."):
                far = base
                for spot, _ in feet.values():
                    if spot is not base:
                        d.rule(tip, spot)
                        far = spot if spot.here[0] < far.here[0] else far
                if far is not base:
                    d.label("true lengths", tip, tip)

    def opening(self, one: str, other: str) -> tuple[Spot, Spot, str]:
        """Where a length is taken from: the plan, which shows level ones truly, or the diagram; and which it is the
        same as."""
        pair = (one, other) if (one, other) in self.slant else (other, one)
        if pair in self.slant:
            taken = self._taken(" ".join(pair))
            if taken == "true":
                return self.slant[pair]
            view = self.views.front if taken == "elevation" else self.views.top
            return self.views.spot(pair[0], view), self.views.spot(pair[1], view), ""
        return self.views.spot(one, self.views.top), self.views.spot(other, self.views.top), ""

    def _taken(self, name: str) -> str:
        """Where a length is taken from that no view shows truly."""
        says = "Lengths of the elevation taken for true ones."
        if self.d.choice("apparent", right=False, slip=True, says=says, at=name):
            return "elevation"
        says = "Lengths of the plan taken for true ones."
        return self.d.choice("plan-lengths", right="true", slip="plan", says=says, at=name)

    # the pattern

    def pattern(self) -> None:
        g, d = self.g, self.d
        flat = self._lies()
        at = np.array(list(flat.values()))
        x = self.left - APART - float(at[:, 0].max())
        y = float(self.foot.here[1]) + float(self.high[2]) - float(at[:, 1].max())
        start = d.start_at("Q0", x, y, "Mark Q0, the foot of the seam, where the pattern has room.")
        angle = float(angle_of(flat["P0"] - flat["Q0"]))
        ray = d.ray(start, 15.0 * round(angle / 15.0), "From it draw the line of the seam, at any handy angle.")
        spots = {"Q0": start}
        first = d.opening(*self.opening(*g.walk[:2])[:2])
        spots["P0"] = d.lay_off(
            ray, start, first, "P0", f"Lay off the true length of {g.walk[0]} {g.walk[1]}, the seam."
        )
        for k, one in enumerate(g.triangles):
            (low, name, high), (foot, key, tip) = one.names, one.keys
            with d.move(f"Triangle {k + 1}, {low} {name} {high}"):
                arcs = []
                for other, centre in ((low, foot), (high, tip)):
                    a, b, same = self.opening(other, name)
                    note = f", the same as {same}: keep the compass" if same else ""
                    level = (other in g.rims[0]) == (name in g.rims[0])
                    kind = "the length that the plan shows" if level else "the true length"
                    says = f"Centre {spots[centre].name}, an arc with {kind} of {other} {name}{note}."
                    arcs.append(d.compass(spots[centre], d.opening(a, b), says, whole=False))
                spots[key] = d.meet(
                    arcs[0],
                    arcs[1],
                    key,
                    near=_beside(spots[foot].here, spots[tip].here, *(flat[one] for one in (foot, tip, key))),
                )
        self.line_in_pattern(spots)

    def _lies(self) -> dict[str, Array]:
        """How the pattern will lie, to find room for it: about level from one end of the seam to the other."""
        g, flat = self.g, self.g.flat
        last = max((key for key in flat if key[0] == "Q"), key=lambda key: int(key[1:]))
        lean = -float(angle_of(flat[last])) if float(distance(flat[last], flat["Q0"])) > 1e-6 * g.height else 0.0
        turn = 15.0 * round((lean + 90.0) / 15.0) - 90.0  # the seam is drawn by the set squares
        u = direction(turn)
        return {key: np.array([at[0] * u[0] - at[1] * u[1], at[0] * u[1] + at[1] * u[0]]) for key, at in flat.items()}

    def line_in_pattern(self, spots: dict[str, Spot]) -> None:
        g, d = self.g, self.d
        chains = {letter: sorted((k for k in spots if k[0] == letter), key=lambda k: int(k[1:])) for letter in "QP"}
        ends = [(spots[f"Q{0}"], spots["P0"]), (spots[chains["Q"][-1]], spots[chains["P"][-1]])]
        with d.as_one("Straightedge", "Line in both sides of the seam.", why=ALLOWANCES):
            for pair in ends:
                d.line_in(pair)
        for letter, rim, words in (("Q", g.rims[0], "bottom"), ("P", g.rims[1], "top")):
            row = [spots[key] for key in chains[letter]]
            if len(row) < 2:
                continue
            if g.is_round(rim):
                d.curve(row, says=f"Line in the curve of the {words} through the points.")
            else:
                with d.as_one("Straightedge", f"Line in the {words}."):
                    d.line_in(row)
        folds = self._folds(spots)
        if folds:
            with d.as_one("Straightedge", "Draw the fold lines thin.", why=self._twist_words()):
                for pair in folds:
                    d.line_in(pair, role=Role.FOLD)

    def _twist_words(self) -> str:
        """By how much sides that are not flat twist."""
        twists = self.g.twists
        if not twists:
            return ""
        return "; ".join(f"{side} twists: along its diagonal it is folded by {trim(turn, 1)}°" for side, turn in twists)

    def _folds(self, spots: dict[str, Spot]) -> list[tuple[Spot, Spot]]:
        """The lines between two triangles at which the pattern is folded sharply."""
        g, found = self.g, []
        for one, fold in list(zip(g.triangles, g.flat_folds()))[1:]:
            low, high = one.names[0], one.names[2]
            if fold and not g.is_smooth(low, high):
                found.append((spots[one.keys[0]], spots[one.keys[2]]))
        return found
