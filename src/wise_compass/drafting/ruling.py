"""Points and straight lines: pencil, rule, straightedge, set square and protractor."""

from __future__ import annotations

import math

import numpy as np

from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.recorder import Opening, Recorder
from wise_compass.drafting.steps import Setting, Step
from wise_compass.geometry.meets import foot
from wise_compass.geometry.vectors import Array, Number, along, direction, distance, left_of, mean, point, unit

CENTIMETRE = 10.0
"""mm of the rule that a reading is off by, where it is a whole mark off."""
RIGHT = np.array([1.0, 0.0])
UP = np.array([0.0, 1.0])


class Ruling(Recorder):
    """What a hand does with a straight edge and a scale."""

    # points

    def start_at(self, name: str, x: float = 0.0, y: float = 0.0, says: str = "", kind: str = "given") -> Spot:
        """The point that the work starts from: wherever it is put is right."""
        step = self._begin("Pencil", says or f"Mark {name}, where the work starts.")
        return self._spot(name, np.array([float(x), float(y)]), step, kind)

    def plot(self, name: str, x: float, y: float, says: str = "", kind: str = "given") -> Spot:
        """A point measured from the start by its two coordinates."""
        step = self._begin("Rule", says or f"Measure off {name}.")
        if self._whole is None:
            step.settings += [Setting(x, "mm"), Setting(y, "mm")]
        at = np.array([float(x), float(y)]) + self.hand.strays_both_ways("rule mark", step.n)
        return self._spot(name, at, step, kind)

    # straight lines

    def _line(self, p: Array, u: Array, role: Role, step: Step, length: float) -> LineMark:
        line = LineMark(p, u, role, step.n, 0.0, length)
        self._leave(step, line)
        return line

    def _offset(self, p: Array, u: Array, step: Step) -> Array:
        """``p`` moved off sideways by as much as the edge misses it."""
        if not self.hand.lanes:
            return p
        return along(p, left_of(u), self.hand.strays("straightedge", step.n))

    def rule(
        self, a: Spot, b: Spot, says: str = "", role: Role = Role.CONSTRUCTION, why: str = "", beyond: float = 0.0
    ) -> LineMark:
        """A straight line from ``a`` to ``b``, drawn ``beyond`` mm further."""
        step = self._begin("Straightedge", says or f"Join {a.name} to {b.name}.", why)
        u = unit(b.at - a.at)
        p, q = self._offset(a.at, u, step), self._offset(b.at, u, step)
        return self._line(p, unit(q - p), role, step, float(distance(a.here, b.here)) + beyond)

    def ray(
        self,
        start: Spot,
        angle: float | Number,
        says: str = "",
        role: Role = Role.CONSTRUCTION,
        why: str = "",
        length: float = 0.0,
        instrument: str = "",
    ) -> LineMark:
        """A line from ``start`` at ``angle`` degrees: by set squares at a multiple of 15, else by protractor."""
        steady = float(nominal(angle, 0))
        squares = not instrument and abs(steady / 15 - round(steady / 15)) < 1e-12
        name = instrument or ("Set square" if squares else "Protractor")
        step = self._begin(name, says or f"From {start.name} draw a line at this angle.", why)
        if self._whole is None:
            step.settings.append(Setting(abs((steady + 180) % 360 - 180), "°"))
        angle = self._misread(angle, steady, name)
        u = direction(angle + self.hand.strays("set square" if name == "Set square" else "protractor", step.n))
        return self._line(self._offset(start.at, u, step), u, role, step, length)

    def _misread(self, angle: Number, steady: float, instrument: str) -> Number:
        """The angle, or by a slip that of the protractor's other scale, or of the set square's other corner."""
        turn = (steady + 180.0) % 360.0 - 180.0
        if instrument == "Protractor":
            says = "The protractor read on its other scale."
            other = math.copysign(180.0, turn) - 2.0 * turn
            return self.usual_slip(
                "other-scale", angle, angle + other, says, when=abs(abs(turn) - 90.0) > 1e-6 and abs(turn) > 1e-6
            )
        lean = turn % 90.0
        corner = instrument == "Set square" and min(abs(lean - 30.0), abs(lean - 60.0)) < 1e-6
        says = "The 60° corner of the set square taken for that of 30°, or the other way round."
        return self.usual_slip("set-square-corner", angle, angle + (90.0 - 2.0 * lean), says, when=corner)

    def level_from(
        self, start: Spot, says: str = "", role: Role = Role.CONSTRUCTION, length: float = 0.0, why: str = ""
    ) -> LineMark:
        """A level line through ``start``, drawn ``length`` mm to the right (less than 0: to the left)."""
        return self._squared(start, RIGHT, says or f"Draw level from {start.name}.", role, length, why)

    def upright_from(
        self, start: Spot, says: str = "", role: Role = Role.CONSTRUCTION, length: float = 0.0, why: str = ""
    ) -> LineMark:
        """An upright line through ``start``, drawn ``length`` mm upward (less than 0: downward)."""
        return self._squared(start, UP, says or f"Draw upright from {start.name}.", role, length, why)

    def square_to(
        self,
        line: LineMark,
        start: Spot,
        says: str = "",
        role: Role = Role.CONSTRUCTION,
        length: float = 0.0,
        why: str = "",
    ) -> LineMark:
        """A line through ``start`` square to ``line``, with a set square; positive lengths to the left of it."""
        return self._squared(
            start, left_of(line.u), says or f"Draw square to the line from {start.name}.", role, length, why
        )

    def parallel_to(
        self,
        line: LineMark,
        start: Spot,
        says: str = "",
        role: Role = Role.CONSTRUCTION,
        length: float = 0.0,
        why: str = "",
    ) -> LineMark:
        """A line through ``start`` parallel to ``line``, by sliding a set square along an edge."""
        return self._squared(
            start, line.u, says or f"Slide the set square to {start.name}; draw parallel.", role, length, why
        )

    def _squared(self, start: Spot, u: Array, says: str, role: Role, length: float, why: str) -> LineMark:
        step = self._begin("Set square", says, why)
        stray = self.hand.strays("set square", step.n)
        if self.hand.lanes:
            radians = np.deg2rad(stray)
            u = unit(along(np.broadcast_to(u, (*self.hand.lanes, 2)), left_of(u), radians))
        return self._line(self._offset(start.at, u, step), u, role, step, 0.0).extent(
            min(length, 0.0), max(length, 0.0)
        )

    def lay_off(
        self,
        line: LineMark,
        start: Spot,
        length: float | Opening,
        name: str,
        says: str = "",
        why: str = "",
        kind: str = "found",
        way: float = 1.0,
    ) -> Spot:
        """The point ``length`` mm along ``line`` from ``start``, with the rule; an opening with the dividers, ``way``
        ±1."""
        taken = isinstance(length, Opening)
        step = self._begin("Dividers" if taken else "Rule", says or f"Lay off {name} from {start.name}.", why)
        if self._whole is None:
            step.settings.append(Setting(abs(length.nominal if isinstance(length, Opening) else length), "mm"))
        value = way * length.value if isinstance(length, Opening) else self._read_off(length)
        base = foot(start.at, line.p, line.u)
        stray = self.hand.strays("dividers stepped" if taken else "rule mark", step.n)
        spot = self._spot(name, along(base, line.u, value + stray), step, kind)
        line.reach(spot.here)
        return spot

    def _read_off(self, length: float) -> float:
        """The length, or by a slip a centimetre more on the rule."""
        longer = math.copysign(abs(length) + CENTIMETRE / getattr(self.hand, "scale", 1.0), length)
        return self.usual_slip(
            "rule-a-centimetre-off", length, longer, "The rule read a centimetre too far.", when=length != 0.0
        )

    def measure_off(self, start: Spot, by: Array, name: str = "", says: str = "", kind: str = "found") -> Spot:
        """A point by its level and its upright distance from ``start``, as a table gives points of a curve."""
        step = self._begin("Rule", says or f"Measure off {name} from {start.name}.")
        if self._whole is None:
            step.settings += [Setting(abs(float(x)), "mm") for x in by]
        return self._spot(name, start.at + by + self.hand.strays_both_ways("rule mark", step.n), step, kind)

    def project(self, name: str, over: Spot, level: Spot, lift: float = 0.0, kind: str = "found") -> Spot:
        """The point upright over one spot and level with another, ``lift`` mm higher: carried across with the set
        square.

        The lines that carry it are not left on the paper; the pencil marks their crossing.
        """
        step = self._whole or self.steps[-1]
        at = point(over.at[..., 0], level.at[..., 1] + lift)
        if lift:
            at = at + UP * np.asarray(self.hand.strays("dividers taken", step.n))[..., None]
        return self._marked(name, at, step, kind if name else "plain")

    # what a found point or a drawn line implies

    def also(self, name: str, found: Spot, kind: str = "found") -> Spot:
        """A further name for a point that is found already."""
        return self._spot(name, found.at, self._whole or self.steps[-1], kind)

    def on(self, line: LineMark, length: float, name: str = "", kind: str = "plain") -> Spot:
        """Wherever one cares to take a place on a drawn line, such as its end: ``length`` mm along from where it
        starts."""
        spot = self._spot(name, line.at_length(length), self._whole or self.steps[-1], kind)
        line.reach(spot.here)
        return spot

    def label(self, words: str, a: Spot, b: Spot) -> Spot:
        """Lettering midway between two spots."""
        return self._spot(words, mean(a.at, b.at), self._whole or self.steps[-1], "label")

    def centroid(self, spots: list[Spot], name: str, kind: str = "plain") -> Spot:
        """The middle of several spots, as a figure that stands already has it."""
        return self._spot(name, mean(*(spot.at for spot in spots)), self._whole or self.steps[-1], kind)
