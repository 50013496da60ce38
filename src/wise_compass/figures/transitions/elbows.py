"""An elbow of straight pieces round a bend, all cut from one strip."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from itertools import pairwise

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved, Developed, Edge, Face, Part, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Angular, Dimension, Linear, Radial
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.figures.transitions.ducts import SHOWN
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.unfold import FlatPiece, Pattern, leaning, resting
from wise_compass.geometry.vectors import (
    Array,
    Number,
    angle_of,
    cosd,
    direction,
    distance,
    left_of,
    length,
    multiples,
    point,
    sind,
    tand,
    unit,
)

LETTERS = "QABDFGIJKLPRS"
"""Of the strip's foot, its cuts and its end; others are the elbow's own."""
SMOOTH = 36
"""Sides of a piece in the space view, where it has fewer divisions."""


class Elbow(Curved, Solid, Developed, Figure, id="elbow", family="transitions", title="Elbow"):
    keys = ("C", "H*", "N*", "O")
    brief = (
        "An elbow in a pipe {diameter} wide that bends by {bend} on a radius of {radius}, "
        "of {pieces} pieces in {divisions} divisions; "
        "the seam of the first on division {seam}. Draw {show}, with {method}."
    )
    summary = (
        "A pipe’s bend of straight pieces, half ones at the ends; laid alternately, they part one strip without waste."
    )
    value_names = ("mitre_angle", "throat", "heel", "element_lengths", "pattern_width")
    ways = ("parallel-lines",)
    across = ("diameter",)
    hazards = (hazards.SHEET, hazards.DUCT)

    diameter = Length(54, "the diameter of the pipe")
    bend = Angle(90, "the bend", least=5, most=180)
    radius = Length(80, "the radius of the bend, to the centre line", least=lambda g: g.diameter / 2)
    pieces = Count(4, "the pieces, of which both end ones are half ones", 2, 12)
    divisions = Count(12, "the divisions round the pipe", 8, 72, multiple=4)
    seam = Count(0, "the division on which the first piece is opened; 0 is in the throat", 0, 71)
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    def refuse(self) -> None:
        refuse_seam(self.seam, 0, self.divisions - 1, "division")
        if self.mitre > 89:
            words = (
                f"Two pieces cannot bend by {trim(self.bend)}°: their mitre would be "
                f"{trim(self.mitre)}°. Raise pieces to 3 at least."
            )
            raise Refused("pieces", words)

    # what it is

    @property
    def mitre(self) -> float:
        """The angle of a mitre to the end of its piece."""
        return self.bend / (2 * (self.pieces - 1))

    @property
    def pipe(self) -> float:
        """The pipe's radius."""
        return self.diameter / 2

    @property
    def girth(self) -> float:
        return float(np.pi * self.diameter)

    @property
    def wants_pattern(self) -> bool:
        return self.show != "views"

    def half(self, turn: Number) -> Number:
        """How long half a piece is on the element ``turn`` degrees round from the throat."""
        return (self.radius - self.pipe * np.asarray(cosd(turn))) * float(tand(self.mitre))

    @property
    def turns(self) -> Array:
        return multiples(360.0 / self.divisions, self.divisions)

    def division(self, tube: int, column: int) -> int:
        """Which division of the pipe stands in a column of the strip: every other piece is turned by half a turn."""
        return (self.seam + column + (tube % 2) * (self.divisions // 2)) % self.divisions

    @staticmethod
    def key(boundary: int, column: int) -> str:
        """A place of the strip: ``Q`` along its foot, then ``A``, ``B``, ``D`` … along each cut, and at last its
        end."""
        return f"{LETTERS[boundary]}{column}"

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        pieces = self.pieces - 1
        says = f"{trim(self.bend)}° / (2 × {pieces})"
        yield Value("mitre_angle", self.mitre, "°", says, ("H1", "O", "C"))
        for name, sign in (("throat", "−"), ("heel", "+")):
            size = 2 * float(self.half(0.0 if name == "throat" else 180.0))
            yield Value(
                name, size, "mm", f"2 × ({bare(self.radius)} {sign} {bare(self.pipe)}) × tan {trim(self.mitre)}°"
            )
        says = (
            f"2 × ({bare(self.radius)} − {bare(self.pipe)} cos φ) × tan {trim(self.mitre)}°, "
            f"of divisions 0 to {self.divisions - 1}"
        )
        yield Value("element_lengths", [2 * float(self.half(turn)) for turn in self.turns], "mm", says)
        marks = ("Q0", self.key(0, self.divisions)) if self.wants_pattern else ()
        yield Value("pattern_width", self.girth, "mm", f"π × {bare(self.diameter)}", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        rise = angle_of(found["H1"] - found["O"]) - angle_of(found["C"] - found["O"])
        out: dict[str, Number] = {"mitre_angle": (rise + 180.0) % 360.0 - 180.0}
        for name, letter in (("throat", "N"), ("heel", "H")):
            out[name] = 2 * np.asarray(distance(found[f"{letter}0"], found[f"{letter}1"]))
        if self.is_developed(found):
            n, lengths = self.divisions, []
            for k in range(n):
                column = next(j for j in range(n) if self.division(0, j) == k)
                first = distance(found[self.key(0, column)], found[self.key(1, column)])
                lengths.append(2 * np.asarray(first))
            out["element_lengths"] = np.stack(lengths, axis=-1)
            out["pattern_width"] = distance(found["Q0"], found[self.key(0, n)])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        o = found["O"]
        yield Truth(
            f"The centre line is {mm(self.radius)} from the middle of the bend", distance(o, found["C"]) - self.radius
        )
        for letter, words, far in (("N", "throat", self.radius - self.pipe), ("H", "heel", self.radius + self.pipe)):
            reach = far / float(cosd(self.mitre))
            off = [distance(o, found[f"{letter}{i}"]) - reach for i in range(1, self.pieces)]
            yield Truth(f"Every mitre meets the {words} as far from the middle of the bend", np.array(off))
        angles = np.array([float(angle_of(found[f"H{i}"] - o)) for i in range(1, self.pieces)])
        want = self.mitre * (2 * np.arange(1, self.pieces) - 1)
        yield Truth("Every mitre stands half-way between two pieces", (angles - want + 180.0) % 360.0 - 180.0, "°")
        if not self.wants_pattern:
            return
        n = self.divisions
        yield Truth(
            "The strip is as wide as the pipe is round", distance(found["Q0"], found[self.key(0, n)]) - self.girth
        )
        off = []
        for tube in range(self.pieces):
            share = 1 if tube in (0, self.pieces - 1) else 2
            for j in range(n + 1):
                flat = distance(found[self.key(tube, j)], found[self.key(tube + 1, j)])
                off.append(flat - share * self.half(self.turns[self.division(tube, j)]))
        yield Truth("Every element of every piece is as long as on the pipe", np.array(off))
        end = np.array([float((found[self.key(self.pieces, j)] - found[self.key(0, j)])[1]) for j in range(n + 1)])
        whole = 2 * (self.pieces - 1) * self.radius * float(tand(self.mitre))
        yield Truth("Laid alternately, the pieces part the strip square", end - whole)
        pattern = self.pattern(found)
        yield Truth("Rolled up, all edges that are shared come together", pattern.gap())
        yield Truth("Rolled up, every corner lies where it is on the elbow", pattern.stray())

    def courses(self, method: str) -> Sequence[Course]:
        if not self.wants_pattern:
            return ()
        found, stations = [], np.append(self.turns, 360.0)
        for i in range(1, self.pieces):
            level = (2 * i - 1) * self.radius * float(tand(self.mitre))
            wave = self._wave(float(self.turns[self.division(i - 1, 0)]), level)
            names = tuple(self.key(i, j) for j in range(self.divisions + 1))
            found.append(
                Course(f"cut {i} of the strip", wave, stations, names, turn="angle from the seam", afloat=True)
            )
        return tuple(found)

    def _wave(self, start: float, level: float) -> Curve:
        """A cut of the strip, ``level`` up at the mean, by the angle from a seam that stands ``start`` degrees from the
        throat."""
        radius, fall = self.pipe, self.pipe * float(tand(self.mitre))

        def turned(t: Number) -> Number:
            return np.asarray(t) + start

        return Curve(
            lambda t: point(radius * np.deg2rad(t), level - fall * np.asarray(cosd(turned(t)))),
            lambda t: point(radius + 0.0 * np.asarray(t), fall * np.asarray(sind(turned(t)))),
            lambda t: point(0.0 * np.asarray(t), fall * np.asarray(cosd(turned(t)))),
            0.0,
            360.0,
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        o, end = found["O"], direction(self.bend)
        yield Angular(o, 0.0, self.bend, "bend", self.bend)
        inner, outer = (o + end * (self.radius + way * self.pipe) for way in (-1.0, 1.0))
        yield Linear(inner, outer, "diameter", self.diameter, 1, prefix="⌀")
        yield Radial(o, self.radius, "radius", self.radius, self.bend / 2)

    # in space

    def place(self, tube: int, turn: Number, upper: bool) -> Array:
        """The lower or upper end of an element of a piece in space: the bend's middle is the origin, its first end
        level."""
        turn = np.asarray(turn, dtype=np.float64)
        lean = (0.0, *(2 * i * self.mitre for i in range(1, self.pieces - 1)), self.bend)[tube]
        ends = tube == 0 and not upper or tube == self.pieces - 1 and upper
        along = (0.0 if ends else 1.0 if upper else -1.0) * np.asarray(self.half(turn))
        out, c, s = self.radius - self.pipe * np.asarray(cosd(turn)), float(cosd(lean)), float(sind(lean))
        return np.stack(
            np.broadcast_arrays(out * c - along * s, self.pipe * np.asarray(sind(turn)), out * s + along * c), axis=-1
        )

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        return [
            (f"half element {k}", self.place(0, turn, False), self.place(0, turn, True))
            for k, turn in enumerate(self.turns)
        ]

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        turns = self.turns if self.divisions >= SMOOTH else multiples(360.0 / SMOOTH, SMOOTH)
        after, faces = np.roll(turns, -1), []
        for tube in range(self.pieces):
            corners = np.stack(
                [
                    self.place(tube, t, upper)
                    for t, upper in ((turns, False), (after, False), (after, True), (turns, True))
                ],
                axis=1,
            )
            faces += [Face(one, tube + 1) for one in corners]
        return [*faces, Face(self.place(0, turns, False)[::-1]), Face(self.place(self.pieces - 1, turns, True))]

    @cached_property
    def _lies(self) -> dict[str, Array]:
        """Every corner of the rolled-up strip, by boundary and division."""
        found = {f"0:{k}": self.place(0, turn, False) for k, turn in enumerate(self.turns)}
        for tube in range(self.pieces):
            found |= {f"{tube + 1}:{k}": self.place(tube, turn, True) for k, turn in enumerate(self.turns)}
        return found

    def cut_out(self, found: Found) -> Sequence[Part]:
        return [self._part(tube) for tube in range(self.pieces)] if self.wants_pattern else ()

    def _part(self, tube: int) -> Part:
        """A piece of the strip; where two meet they are parted by one cut."""
        lower = "base" if tube == 0 else "joint"
        upper = "top" if tube == self.pieces - 1 else "joint"
        low, high = ([self.key(row, j) for j in range(self.divisions + 1)] for row in (tube, tube + 1))
        edges = [Edge(a, b, lower) for a, b in pairwise(low)] + [Edge(low[-1], high[-1], "seam")]
        edges += [*(Edge(a, b, upper) for a, b in pairwise(high[::-1])), Edge(high[0], low[0], "side")]
        return Part(f"Piece {tube + 1}", edges)

    def pattern(self, found: Found) -> Pattern:
        """The strip's pieces, each rolled to as many sides as it has divisions, and each hung on the one before where
        they meet.

        A side is drawn as wide as its arc and stands as wide as its chord.
        """
        n, lies = self.divisions, self._lies
        pieces: list[FlatPiece] = []
        narrow = 2 * self.pipe * float(np.sin(np.pi / n)) / (self.girth / n)
        start = found["Q0"]
        u = unit(found[self.key(0, n)] - start)
        numbers: dict[tuple[int, int], int] = {}

        def squeezed(places: Array) -> Array:
            off = places - start
            return np.asarray(start + off - (1 - narrow) * (off @ u)[..., None] * u)

        def at(boundary: int, column: int) -> Array:
            return squeezed(found[self.key(boundary, column)])

        def fold(column: int) -> float:
            wide = [float(length(at(0, j + 1) - at(0, j))) for j in (column - 1, column)]
            return float(np.rad2deg(sum(wide) / 2 / narrow / self.pipe))

        for tube in range(self.pieces):
            first = (tube % 2) * (n // 2)
            order = [*range(first, n), *range(first - 1, -1, -1)]
            for j in order:
                flat = np.array([at(tube, j), at(tube, j + 1), at(tube + 1, j + 1), at(tube + 1, j)])
                k, after = self.division(tube, j), self.division(tube, j + 1)
                names = (f"{tube}:{k}", f"{tube}:{after}", f"{tube + 1}:{after}", f"{tube + 1}:{k}")
                numbers[tube, j] = len(pieces)
                if j == first and tube == 0:
                    pieces.append(FlatPiece(names, flat))
                elif j == first:  # on the side of the piece before that has the same two divisions
                    beside = next(c for c in range(n) if self.division(tube - 1, c) == k)
                    on = np.array([at(tube, beside + 1), at(tube, beside)])
                    faces = [
                        np.array([lies[name] for name in one])
                        for one in (pieces[numbers[tube - 1, beside]].names, names)
                    ]
                    pieces.append(FlatPiece(names, flat, numbers[tube - 1, beside], leaning(*faces), flat[[1, 0]], on))
                else:
                    right = j > first
                    hinge = flat[[0, 3]] if right else flat[[1, 2]]
                    up = hinge[0] + left_of(u)
                    edge = np.array([hinge[0], up])
                    parent = numbers[tube, j - 1 if right else j + 1]
                    pieces.append(FlatPiece(names, flat, parent, fold(j) if right else -fold(j + 1), edge, edge))
        root = resting(pieces[0].flat[:3], np.array([lies[name] for name in pieces[0].names[:3]]))
        return Pattern(pieces, root, lies, squeezed)
