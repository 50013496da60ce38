"""The net of a regular solid: its faces laid flat, each on a side of one before it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Edge, Part
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found
from wise_compass.figures.solids.lining import ALLOWANCES
from wise_compass.geometry.unfold import FlatPiece, Pattern, resting
from wise_compass.geometry.vectors import Array, polar, turned, unit

GAP = 18.0


class NetFace(NamedTuple):
    """A face of the net: its corners on the solid, those of the flat, and the face before it (−1 for the first).

    Its first two corners are the side that it stands on; seen from outside they run anticlockwise.
    """

    loop: tuple[int, ...]
    keys: tuple[str, ...]
    parent: int


class Net:
    """The net of a solid with equal regular faces: ``loops`` by their corners, anticlockwise from outside; it begins
    with the ``first`` of them."""

    def __init__(self, loops: Sequence[tuple[int, ...]], first: int, edge: float) -> None:
        self.loops, self.first, self.edge = [tuple(loop) for loop in loops], first, edge
        self.sides = len(self.loops[0])

    @cached_property
    def faces(self) -> list[NetFace]:
        """The faces, each one on the earliest that has a side for it (breadth first)."""
        count = 0

        def keys(n: int) -> tuple[str, ...]:
            nonlocal count
            count += n
            return tuple(f"Q{k}" for k in range(count - n, count))

        found = [NetFace(self.loops[self.first], keys(self.sides), -1)]
        left = {k for k in range(len(self.loops)) if k != self.first}
        at = 0
        while left:
            parent = found[at]
            for j in range(self.sides):
                a, b = parent.loop[j], parent.loop[(j + 1) % self.sides]
                child = next((k for k in sorted(left) if _has(self.loops[k], b, a)), None)
                if child is None:
                    continue
                left.remove(child)
                loop = self.loops[child]
                start = loop.index(b)
                turned_loop = (*loop[start:], *loop[:start])
                own = (parent.keys[(j + 1) % self.sides], parent.keys[j], *keys(self.sides - 2))
                found.append(NetFace(turned_loop, own, at))
            at += 1
        return found

    @cached_property
    def flat(self) -> dict[str, Array]:
        """Where the corners lie, the first side level from the origin."""
        places = {"Q0": np.zeros(2), "Q1": np.array([self.edge, 0.0])}
        for face in self.faces:
            a, b = places[face.keys[0]], places[face.keys[1]]
            u, at = unit(b - a), b
            for key in face.keys[2:]:
                u = turned(u, 360.0 / self.sides)
                at = at + self.edge * u
                places[key] = at
        return places

    def rim(self) -> list[tuple[str, str]]:
        """The sides along which it is opened, in order round it."""
        children = {(face.keys[1], face.keys[0]): k for k, face in enumerate(self.faces) if face.parent >= 0}

        def walk(k: int) -> list[tuple[str, str]]:
            keys = self.faces[k].keys
            found = []
            for j in range(0 if k == 0 else 1, self.sides):
                side = keys[j], keys[(j + 1) % self.sides]
                found += walk(children[side]) if side in children else [side]
            return found

        return walk(0)

    def folds(self) -> list[tuple[str, str]]:
        """The sides along which it is folded."""
        return [(face.keys[0], face.keys[1]) for face in self.faces if face.parent >= 0]

    def pattern(self, found: Found, corners: Array, names: Sequence[str], dihedral: float) -> Pattern:
        """The net as it was drawn, folded by the angle between faces."""
        pieces = []
        for face in self.faces:
            flat = np.array([found[key] for key in face.keys])
            hinge = flat[:2]
            labels = tuple(names[k] for k in face.loop)
            fold = 180.0 - dihedral if face.parent >= 0 else 0.0
            pieces.append(FlatPiece(labels, flat, face.parent, fold, hinge[::-1], hinge[::-1]))
        root = resting(pieces[0].flat[:3], corners[list(self.faces[0].loop[:3])])
        return Pattern(pieces, root, {name: corners[k] for k, name in enumerate(names)})

    def part(self) -> Part:
        """What is cut out: the whole net in one piece."""
        return Part("The net", [Edge(a, b, "side") for a, b in self.rim()])

    def draw(self, d: Draft) -> None:
        """The net, clear of all that is drawn."""
        spots = np.array([spot.here for step in d.steps for spot in step.spots])
        places = np.array(list(self.flat.values()))
        x = float(spots[:, 0].max()) + GAP - float(places[:, 0].min())
        y = float(spots[:, 1].mean()) - float(places[:, 1].mean())
        start = d.start_at("Q0", x, y, "Clear of the views mark Q0, a corner of the net.", kind="given")
        base = d.level_from(start, "Draw level from it.", length=self.edge)
        end = d.lay_off(base, start, self.edge, "Q1", "Lay the edge off to Q1.")
        made = {"Q0": start, "Q1": end}
        for number, face in enumerate(self.faces, 1):
            where = "On that side" if face.parent < 0 else f"On the side {face.keys[0]}{face.keys[1]}"
            with d.as_one(
                _tool(self.sides), f"{where} draw face {number}: {_words(self.sides)}.", Setting(self.edge, "mm")
            ):
                self._face(d, made, face)
        with d.as_one("Straightedge", "Line in the rim of the net.", why=ALLOWANCES):
            for a, b in self.rim():
                d.line_in([made[a], made[b]])
        with d.as_one("Straightedge", "Draw the fold lines thin."):
            for a, b in self.folds():
                d.line_in([made[a], made[b]], role=Role.FOLD)

    def _face(self, d: Draft, made: dict[str, Spot], face: NetFace) -> None:
        a, b = made[face.keys[0]], made[face.keys[1]]
        keys = face.keys[2:]
        if self.sides == 3:
            arcs = [d.compass(at, self.edge, whole=False) for at in (a, b)]
            u = b.here - a.here
            made[keys[0]] = d.meet(arcs[0], arcs[1], keys[0], near=a.here + turned(u, 60.0), kind="plain")
            return
        side = d.rule(a, b)
        inner = 180.0 - 360.0 / self.sides
        lean = float(np.rad2deg(np.arctan2(*(b.here - a.here)[::-1])))
        if self.sides == 4:
            rows = [d.square_to(side, at) for at in (b, a)]
        else:
            rows = [
                d.ray(at, turn, instrument="Protractor") for at, turn in ((b, lean + 180.0 - inner), (a, lean + inner))
            ]
        ends = (keys[0], keys[-1])
        for row, at, key in zip(rows, (b, a), ends):
            made[key] = d.lay_off(row, at, self.edge, key, kind="plain")
        if self.sides == 5:
            arcs = [d.compass(made[key], self.edge, whole=False) for key in ends]
            middle = (a.here + b.here) / 2
            near = polar(middle, 2 * self.edge, lean + 90.0)
            made[keys[1]] = d.meet(arcs[0], arcs[1], keys[1], near=near, kind="plain")


def _has(loop: tuple[int, ...], a: int, b: int) -> bool:
    """Whether a face has the side from corner a to b, in that direction."""
    return any(x == a and y == b for x, y in zip(loop, (*loop[1:], loop[0])))


def _tool(sides: int) -> str:
    return {3: "Compass", 4: "Set square", 5: "Protractor"}[sides]


def _words(sides: int) -> str:
    return {
        3: "the edge swung about both ends",
        4: "square to it at both ends, the edge laid off",
        5: "108° at both ends, the edge laid off, and swung about both of these",
    }[sides]
