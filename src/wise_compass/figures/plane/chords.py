"""The scale of chords: angles set by an opening, between its marks by equal parts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cached_property

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear, angle_at
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Choice, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.plane.strips import ROOM, Graduation, OnStrips, Strip, strip
from wise_compass.geometry.vectors import Number, angle_between, distance, sind

ON_A_MARK = 1e-9
"""Degrees within which an angle is one that the scale has a mark for."""
APART = 1.35
"""Of the radius: how far below the scale an angle is set with it."""


class ChordScale(OnStrips, Figure, id="chord-scale", family="scales", title="Scale of chords"):
    keys = ("O", "A", "B", "N*", "M*", "P", "F", "X", "S", "T")
    brief = "A scale of chords of radius {radius}, a mark each {step}°, and {angle} set with it, found with {method}."
    summary = "Chords of a quarter circle on a line: with it a compass sets any angle, and measures one."
    true_size = True
    value_names = ("marks", "chord", "true_chord", "angle_set", "angle_miss")

    radius = Length(80, "the radius", most=2000)
    step = Choice("10", "the degrees from mark to mark", ("1", "2", "5", "10"))
    angle = Angle(47, "the angle")

    @property
    def each(self) -> int:
        return int(self.step)

    @property
    def acute(self) -> float:
        """The angle that the chord is taken of: over 90 it is set from the line produced back."""
        return self.angle if self.angle <= 90 else 180.0 - self.angle

    @property
    def on_a_mark(self) -> bool:
        return abs(self.acute / self.each - round(self.acute / self.each)) < ON_A_MARK

    def chord_of(self, angle: float) -> float:
        return 2 * self.radius * float(sind(angle / 2))

    @property
    def marked(self) -> list[int]:
        """The degrees of the marks."""
        return list(range(self.each, 91, self.each))

    @property
    def between(self) -> tuple[int, float]:
        """The mark before the angle in degrees, and the share of the space behind it that is taken."""
        low = min(int(np.floor(self.acute / self.each + ON_A_MARK)) * self.each, 90 - self.each)
        return low, (self.acute - low) / self.each

    @property
    def chord(self) -> float:
        low, share = self.between
        a, b = self.chord_of(low), self.chord_of(low + self.each)
        return a + share * (b - a)

    @property
    def angle_set(self) -> float:
        turned = 2 * float(np.degrees(np.arcsin(self.chord / (2 * self.radius))))
        return turned if self.angle <= 90 else 180.0 - turned

    def cautions(self) -> Iterable[str]:
        if not self.on_a_mark:
            yield (
                f"Between two marks the space is cut into equal parts: {trim(self.angle)}° "
                f"comes out as {trim(self.angle_set)}°."
            )

    def values(self, method: str) -> Iterable[Value]:
        names = tuple(f"M{k}" for k in self.marked)
        yield Value(
            "marks",
            [self.chord_of(k) for k in self.marked],
            "mm",
            f"2 × {bare(self.radius)} sin of half of each",
            names,
        )
        low, share = self.between
        words = f"{bare(self.chord_of(low))} and {trim(share)} of the space behind it"
        yield Value("chord", self.chord, "mm", words, ("A", "X"))
        yield Value(
            "true_chord", self.chord_of(self.acute), "mm", f"2 × {bare(self.radius)} sin {trim(self.acute / 2)}°"
        )
        words = f"2 arcsin({bare(self.chord)} / {bare(2 * self.radius)})"
        yield Value(
            "angle_set",
            self.angle_set,
            "°",
            words if self.angle <= 90 else f"180 − {words}",
            ("S", "P", "T"),
            drawn=True,
        )
        yield Value(
            "angle_miss", self.angle_set - self.angle, "°", f"{trim(self.angle_set)} − {trim(self.angle)}", drawn=True
        )

    @cached_property
    def strips(self) -> list[Strip]:
        """The marks of the chords on its edge; 60 is the radius."""
        marks, last = [Graduation(0.0, 5.0, "0")], 0.0
        for k in self.marked:
            at = self.chord_of(k)
            said = f"{k}" if k % 10 == 0 and at - last >= ROOM else ""
            last = at if said else last
            marks.append(Graduation(at, 5.0 if k % 10 == 0 else 4.0 if k % 5 == 0 else 3.0, said))
        return [strip("Scale of chords", "chords in degrees; 60 is the radius", marks)]

    def measure(self, found: Found) -> dict[str, Number]:
        marks = found.together([f"M{k}" for k in self.marked])
        turned = angle_between(found["F"] - found["P"], found["T"] - found["P"])
        return {
            "marks": distance(marks, found["A"][..., None, :]),
            "chord": distance(found["A"], found["X"]),
            "angle_set": turned,
            "angle_miss": turned - self.angle,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        for k in self.marked:
            turned = angle_between(found["A"] - found["O"], found[f"N{k}"] - found["O"])
            yield Truth(f"The arc’s mark {k} stands at {k}°", turned - k, "°")
            chord = distance(found["A"], found[f"N{k}"])
            yield Truth(f"The scale’s mark {k} is its chord from A", distance(found["A"], found[f"M{k}"]) - chord)
        turned = angle_between(found["F"] - found["P"], found["T"] - found["P"])
        yield Truth(f"The angle set is {trim(self.angle)}°", turned - self.angle, "°")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["O"], found["A"], "radius", self.radius)
        yield angle_at(found["P"], found["F"], found["T"], "angle", self.angle, reach=26.0)


@method(
    ChordScale,
    "arcs",
    exact=lambda g: g.on_a_mark,
    about="A quarter circle cut into equal parts, its chords swung down to the base; between marks by equal parts.",
    source="The chord of an angle, twice the sine of its half (Ptolemy, Almagest I.10)",
)
def chord_arcs(g: ChordScale, d: Draft) -> None:
    with d.phase("The quarter circle"):
        corner = d.start_at("O", says="Mark O, the corner.")
        base = d.level_from(corner, "Draw the base level, well past O to the left.", length=g.radius)
        base.extent(-0.5 * g.radius, g.radius)
        up = d.upright_from(corner, "Draw upright from O.", length=g.radius)
        arc = d.compass(corner, g.radius, "Centre O, draw the quarter circle.")
        start, top = d.meet(base, arc, "A", where="right"), d.meet(up, arc, "B", where="above")
        count = 90 // g.each
        names = ["", *(f"N{k}" for k in g.marked[:-1])]
        says = f"Cut the quarter into {count} equal parts: 30° and 60° by the radius, the rest by trial."
        parts = d.divide_arc(arc, start, top, count, names, says)
        with d.as_one("Pencil", "B is the mark of 90°."):
            parts = [*parts[1:-1], d.also("N90", top)]
    with d.phase("The scale"):
        wrong = d.choice(
            "from-zero-of-base", right=False, slip=True, says="The chords are laid off from the wrong end of the base."
        )
        marks: dict[int, Spot] = {}
        chords = [Setting(g.chord_of(k), "mm") for k in g.marked]
        with d.as_one("Compass", f"Centre A, swing each chord down to the base: {count} marks.", *chords):
            for k, part in zip(g.marked, parts):
                chord = d.opening(start, part)
                swung = d.compass(corner if wrong else start, chord, whole=False)
                marks[k] = d.meet(base, swung, f"M{k}", where="left")
    with d.phase("Set the angle"):
        pole = d.plot("P", 0.0, -APART * g.radius, "Below, mark P, where the angle is to stand.")
        line = d.level_from(pole, "Draw level through P.", length=g.radius)
        line.extent(-g.radius if g.angle > 90 else 0.0, g.radius)
        sixty = d.opening(start, marks[60]) if 60 in marks else d.opening(corner, start)
        swing = d.compass(pole, sixty, "Centre P, an arc with the chord of 60°.", whole=False)
        right = d.meet(line, swing, "F", where="right")
        from_spot = right
        if g.angle > 90:
            from_spot = d.meet(line, swing, "S", where="left")
        else:
            with d.as_one("Pencil", "From F the chord is taken: S."):
                d.also("S", right)
        low, share = g.between
        last = marks[low + g.each]
        if abs(share - 1) < ON_A_MARK or (low == 0 and share <= 0):
            with d.as_one("Dividers", f"Take the opening of {low + g.each}° off the scale: X."):
                end = d.also("X", last)
        else:
            first = marks[low] if low else start
            with d.as_one("Dividers", f"Between {low}° and {low + g.each}° take {trim(share)} of the space: X."):
                end = d.also("X", first) if share < ON_A_MARK else d.between(first, last, share, "X")
        cut = d.compass(
            from_spot,
            d.opening(corner if wrong else start, end),
            f"Centre {from_spot.name}, cut the arc with it.",
            whole=False,
        )
        d.meet(swing, cut, "T", where="above")
    with d.phase("Line in"):
        d.line_in([marks[90], start], says="Line in the scale from A.")
        with d.as_one("Set square", "Tick across it at every mark."):
            for k in g.marked:
                tick = d.square_to(base, marks[k], role=Role.OUTLINE)
                tick.extent(-3.0 if k % 10 else -4.5, 0.0).fixed = True
        d.line_in([right, pole, d.spots["T"]], says="Line in the angle.")
