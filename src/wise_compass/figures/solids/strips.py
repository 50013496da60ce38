"""A pattern as a row of strips from the seam round to it again: what each corner is called on the flat, and how the
strips hang together.

Station j is where line ``seam + j`` comes to lie, from 0 to n, the seam being both. ``Qj`` is the foot of the line
there, ``Pj`` the upper end or the cut, ``W`` the apex; ``Ni`` and ``Mi`` are where the cut runs out through the base
and through the top.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Edge, Part
from wise_compass.drafting.truths import Found
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.solids import CutStock, Loop, Stock
from wise_compass.geometry.unfold import FlatPiece, Pattern, Placing, resting, turns_between
from wise_compass.geometry.vectors import Array, angle_of, distance, left_of, unit


class Strips:
    """The strips of a cut solid's lateral faces. ``faces`` are those that something is left of, by their station."""

    def __init__(self, kept: CutStock, seam: int) -> None:
        self.kept, self.seam, self.count = kept, seam, kept.stock.count
        self.faces = [(j, kept.faces[self.place(j)]) for j in range(self.count) if kept.faces[self.place(j)]]

    def place(self, j: int) -> int:
        """The number of the line at station j, counted from 0."""
        return (self.seam + j) % self.count

    def key(self, j: int, name: str) -> str:
        """What a vertex is called on the flat in the strip from station j to the next."""
        if name == "V":
            return "W"
        if name[0] in "EF":
            return ("N" if name[0] == "E" else "M") + name[1:]
        number, stock = int(name[1:]), self.kept.stock
        station = j if number == stock.numbers[self.place(j)] else j + 1
        return self.station("Q" if name[0] == "B" else "P", station)

    def station(self, letter: str, j: int) -> str:
        """The key of a point at a station; the last one is called n, as it is the seam again."""
        return f"{letter}n" if j == self.count else f"{letter}{j}"

    def flat(self, found: Found, j: int, names: Loop) -> Array:
        return np.array([found[self.key(j, name)] for name in names])

    def on_one_line(self, one: str, other: str) -> bool:
        """Whether two vertices stand on one edge or generator of the solid."""
        lines = [name[1:] for name in (one, other) if name != "V"]
        return not any(name[0] in "EF" for name in (one, other)) and len(set(lines)) == 1

    # how they hang together

    @cached_property
    def runs(self) -> list[list[int]]:
        """The stations of strips that hang together without the seam: one part of the pattern each."""
        found: list[list[int]] = []
        for j, _ in self.faces:
            if found and found[-1][-1] == j - 1:
                found[-1].append(j)
            else:
                found.append([j])
        return found

    @cached_property
    def outline(self) -> list[list[Edge]]:
        """The outline of each part, anticlockwise, an edge a piece; folds are not in it."""
        loops = dict(self.faces)
        return [
            [edge for j in run for edge in self._edges(j, loops[j], j != run[0], j != run[-1])] for run in self.runs
        ]

    def _edges(self, j: int, loop: Loop, left: bool, right: bool) -> Iterator[Edge]:
        """The edges of a strip on the outline; ``left`` and ``right`` tell whether it hangs together with its
        neighbours."""
        for one, other in zip(loop, loop[1:] + loop[:1]):
            ends = self.key(j, one), self.key(j, other)
            stations = {key[1:] for key in ends if key[0] in "QP"}
            on_side = self.on_one_line(one, other)
            if (
                on_side
                and stations <= {self.station("", j)}
                and left
                or on_side
                and stations <= {self.station("", j + 1)}
                and right
            ):
                continue
            level = {name[0] for name in (one, other)}
            kind = "side" if on_side else "base" if level <= set("BE") else "top" if level <= set("TF") else "cut"
            yield Edge(*ends, kind)

    def parts(self) -> list[Part]:
        """What is cut out: each part's edges in order from the left of its foot."""
        found = []
        for k, edges in enumerate(self.outline, 1):
            follow = {edge.start: edge for edge in edges}
            edge = next((one for one in edges if one.kind == "base"), edges[0])
            loop: list[Edge] = []
            while len(loop) < len(edges) and edge not in loop:
                right = edge.kind == "side" and (edge.end == "W" or edge.start[0] == "Q")
                loop.append(edge._replace(kind="seam") if right else edge)
                edge = follow[edge.end]
            found.append(Part("The pattern" if len(self.outline) == 1 else f"Part {k} of the pattern", loop))
        return found

    def folds(self) -> list[tuple[str, str]]:
        """The fold lines, by the keys of their ends."""
        loops, found = dict(self.faces), []
        for run in self.runs:
            for j in run[1:]:
                ends = self.kept.line(self.place(j))
                if ends and loops[j]:
                    found.append((self.key(j, ends[0]), self.key(j, ends[1])))
        return found

    def chains(self, kinds: Sequence[str]) -> list[list[str]]:
        """Keys in order along the pieces of the outline of these kinds that hang together, each part from left to
        right."""
        found: list[list[str]] = []
        for edges in self.outline:
            mine = [edge for edge in edges if edge.kind in kinds]
            follow = {edge.start: edge for edge in mine}
            heads = [edge for edge in mine if edge.start not in {other.end for other in mine}]
            for edge in heads:
                chain = [edge.start]
                while chain[-1] in follow and follow[chain[-1]].end not in chain:
                    chain.append(follow[chain[-1]].end)
                found.append(chain)
        return found

    # folded up

    def pattern(self, found: Found, developed: Stock) -> Pattern:
        """The strips found on the paper, hinged in order from the seam, to be folded to ``developed``."""
        runs, loops = self.runs, dict(self.faces)
        order = [*runs[0], *[j for run in runs[1:] for j in reversed(run)]]
        folds = self._folds(found, developed)
        pieces: list[FlatPiece] = []
        for k, j in enumerate(order):
            flat = self.flat(found, j, loops[j])
            if k == 0:
                pieces.append(FlatPiece(loops[j], flat))
            elif j - 1 == order[k - 1]:
                hinge = self._hinge(found, j)
                pieces.append(FlatPiece(loops[j], flat, k - 1, folds[j], hinge, hinge))
            else:  # a second part hangs on the first across the seam, and its strips on each other from there leftward
                beside = j + 1 == order[k - 1]
                own = self._hinge(found, j + 1)
                on = own if beside else self._hinge(found, runs[0][0])
                pieces.append(FlatPiece(loops[j], flat, k - 1 if beside else 0, -folds[(j + 1) % self.count], own, on))
        return Pattern(pieces, self._root(found, developed, order[0]), self._lies(developed))

    def _folds(self, found: Found, developed: Stock) -> list[float]:
        """To what angle the fold at each station is folded; a round skin is rolled, so that a narrower strip turns by
        less."""
        at = [self._whole(developed, self.place(j))[:3] for j in range(-1, self.count)]
        normals = cross3(*(np.array([face[k] - face[0] for face in at]) for k in (1, 2)))
        whole = [float(turn) for turn in turns_between(normals[:-1], normals[1:])]
        if not self.kept.stock.radius:
            return whole
        wide = np.array([self._width(found, j) for j in range(self.count)])
        shares = wide / self._true_width(developed)
        return [fold * float(shares[j - 1] + shares[j]) / 2 for j, fold in enumerate(whole)]

    def _width(self, found: Found, j: int) -> float:
        """Of the strip at a station as it was drawn: its angle at the apex, or from line to line."""
        a, b = (found[self.station("Q", i)] for i in (j, j + 1))
        if self.kept.stock.pointed:
            return float(angle_of(b - found["W"]) - angle_of(a - found["W"]) + 180.0) % 360.0 - 180.0
        return float(distance(a, b))

    def _true_width(self, developed: Stock) -> float:
        a, b = developed.base[:2]
        if not developed.pointed:
            return float(distance(a, b))
        return 2 * float(np.rad2deg(np.arcsin(distance(a, b) / 2 / distance(a, developed.top[0]))))

    def _lies(self, developed: Stock) -> dict[str, Array]:
        """Where corners of the pattern belong once it is folded up; those of a round rim between two lines are left
        out."""
        stock, kept = self.kept.stock, self.kept.places
        found = {name: at for name, at in developed.places.items() if name in kept}
        for k, number in enumerate(stock.numbers):
            name = f"C{number}"
            if name in kept:
                low, high = stock.places[stock.lower(k)], stock.places[stock.upper(k)]
                share = float(distance(kept[name], low) / distance(high, low))
                low, high = developed.places[developed.lower(k)], developed.places[developed.upper(k)]
                found[name] = low + share * (high - low)
        if not stock.radius:
            found |= {name: at for name, at in kept.items() if name[0] in "EF"}
        return found

    def _whole(self, stock: Stock, k: int) -> Array:
        """A lateral face of a whole solid, its outward side to the eye."""
        return np.array([stock.places[name] for name in stock.face(k % stock.count)])

    def _hinge(self, found: Found, j: int) -> Array:
        """The line of a station, from its foot upward."""
        foot = found[self.station("Q", j)]
        if self.kept.stock.pointed:
            return np.array([foot, found["W"]])
        return np.array([foot, foot + left_of(unit(found["Qn"] - found["Q0"]))])

    def _root(self, found: Found, developed: Stock, j: int) -> Placing:
        """Where the first strip stands: on its own face."""
        face = self._whole(developed, self.place(j))
        left, right = found[self.station("Q", j)], found[self.station("Q", j + 1)]
        over = found["W"] if developed.pointed else left + left_of(right - left)
        return resting(np.array([left, right, over]), np.array([face[0], face[1], face[-1]]))
