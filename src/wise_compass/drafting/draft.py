"""``Draft``: the language in which methods are written, instrument by instrument.

Each operation is what a hand does with one instrument. It records its step, leaves its marks, and moves the points by
the errors of the hands that draw. The same method serves one exact run, a thousand unsteady hands, and a slip.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

import numpy as np

from wise_compass.drafting.instruments import COMPASS_REACH
from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Role, Spot, nominal
from wise_compass.drafting.recorder import NoMeet, Opening, Recorder
from wise_compass.drafting.steps import Setting, Step
from wise_compass.geometry.meets import foot, meet_circles, meet_line_circle, meet_lines
from wise_compass.geometry.vectors import Array, Number, along, angle_of, direction, distance, dot, left_of, mean, unit

T = TypeVar("T")
RIGHT = np.array([1.0, 0.0])
UP = np.array([0.0, 1.0])


class Draft(Recorder):
    """One run of a method on paper, instrument by instrument."""

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
        u = direction(angle + self.hand.strays("set square" if name == "Set square" else "protractor", step.n))
        return self._line(self._offset(start.at, u, step), u, role, step, length)

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
        self, line: LineMark, start: Spot, says: str = "", role: Role = Role.CONSTRUCTION, length: float = 0.0, why: str = ""
    ) -> LineMark:
        """A line through ``start`` square to ``line``, with a set square; positive lengths to the left of it."""
        return self._squared(start, left_of(line.u), says or f"Draw square to the line from {start.name}.", role, length, why)

    def parallel_to(
        self, line: LineMark, start: Spot, says: str = "", role: Role = Role.CONSTRUCTION, length: float = 0.0, why: str = ""
    ) -> LineMark:
        """A line through ``start`` parallel to ``line``, by sliding a set square along an edge."""
        return self._squared(start, line.u, says or f"Slide the set square to {start.name}; draw parallel.", role, length, why)

    def _squared(self, start: Spot, u: Array, says: str, role: Role, length: float, why: str) -> LineMark:
        step = self._begin("Set square", says, why)
        stray = self.hand.strays("set square", step.n)
        if self.hand.lanes:
            radians = np.deg2rad(stray)
            u = unit(along(np.broadcast_to(u, (*self.hand.lanes, 2)), left_of(u), radians))
        line = self._line(self._offset(start.at, u, step), u, role, step, 0.0)
        line.lo, line.hi = min(length, 0.0), max(length, 0.0)
        return line

    def lay_off(
        self, line: LineMark, start: Spot, length: float, name: str, says: str = "", why: str = "", kind: str = "found"
    ) -> Spot:
        """The point ``length`` mm along ``line`` from ``start``, with the rule."""
        step = self._begin("Rule", says or f"Lay off {name} from {start.name}.", why)
        if self._whole is None:
            step.settings.append(Setting(abs(length), "mm"))
        base = foot(start.at, line.p, line.u)
        spot = self._spot(name, along(base, line.u, length + self.hand.strays("rule mark", step.n)), step, kind)
        line.reach(spot.here)
        return spot

    # the compass and the dividers

    def opening(self, a: Spot, b: Spot) -> Opening:
        """The distance from ``a`` to ``b``, taken off with the points."""
        taken = distance(a.at, b.at) + self.hand.strays("dividers taken", len(self.steps) + 1)
        return Opening(taken, f"{a.name}{b.name}")

    def compass(
        self,
        centre: Spot,
        radius: float | Opening,
        says: str = "",
        why: str = "",
        whole: bool = True,
        role: Role = Role.CONSTRUCTION,
    ) -> ArcMark:
        """A circle (or, with ``whole`` false, as much of it as is needed) about ``centre``.

        An opening at which the compass already stands is kept, error and all.
        """
        steady = radius.nominal if isinstance(radius, Opening) else float(radius)
        name = "Compass" if steady <= COMPASS_REACH else "Beam compass"
        step = self._begin(name, says or f"Centre {centre.name}, draw {'a circle' if whole else 'an arc'}.", why)
        kept = abs(self._compass[0] - steady) <= 1e-9 * max(steady, 1.0)
        if not kept:
            opened = radius.value if isinstance(radius, Opening) else steady
            self._compass = (steady, opened + self.hand.strays("compass setting", step.n))
        if self._whole is None or not step.settings:
            step.settings.append(Setting(steady, "mm"))
            step.keep = kept
        at = centre.at + self.hand.strays_both_ways("compass prick", step.n)
        swung = ArcMark(at, self._compass[1], role, step.n, whole)
        self._leave(step, swung)
        return swung

    def meet(
        self,
        one: LineMark | ArcMark,
        two: LineMark | ArcMark,
        name: str = "",
        where: str = "",
        near: Spot | None = None,
        far: Spot | None = None,
        kind: str = "found",
    ) -> Spot:
        """The crossing of two lines or arcs, marked by the pencil at the current step.

        Where there are two, ``where`` is above, below, left or right, or ``near``/``far`` name a point. Raises
        :class:`NoMeet` where the steady hand finds none.
        """
        at = self._crossing(one, two, where, near, far)
        step = self._whole or self.steps[-1]
        spot = self._marked(name, at, step, kind if name else "plain")
        for line in (one, two):
            line.reach(spot.here)
        return spot

    def _crossing(self, one: LineMark | ArcMark, two: LineMark | ArcMark, where: str, near: Spot | None, far: Spot | None) -> Array:
        if isinstance(one, LineMark) and isinstance(two, LineMark):
            return meet_lines(one.p, one.u, two.p, two.u)
        if isinstance(one, ArcMark) and isinstance(two, ArcMark):
            both = meet_circles(one.centre, one.radius, two.centre, two.radius)
        else:
            line, arc = (one, two) if isinstance(one, LineMark) else (two, one)
            assert isinstance(line, LineMark) and isinstance(arc, ArcMark)
            both = meet_line_circle(line.p, line.u, arc.centre, arc.radius)
        return np.asarray(both[..., _chosen(nominal(both, 2), where, near, far), :])

    def step_round(
        self,
        circle: ArcMark,
        start: Spot,
        chord: float | Opening,
        names: Sequence[str],
        clockwise: bool = False,
        says: str = "",
        why: str = "",
        kind: str = "found",
    ) -> list[Spot]:
        """Step ``chord`` round ``circle`` from ``start`` with the dividers, naming the points."""
        steady = chord.nominal if isinstance(chord, Opening) else float(chord)
        step = self._begin("Dividers", says or f"Step round from {start.name}.", why)
        step.settings.append(Setting(steady, "mm"))
        value: Number
        if isinstance(chord, Opening):
            value = chord.value
        else:
            value = steady + self.hand.strays("compass setting", step.n)
        with np.errstate(invalid="ignore"):
            turn = np.rad2deg(2 * np.arcsin(value / (2 * circle.radius))) * (-1 if clockwise else 1)
        angle = angle_of(start.at - circle.centre)
        if np.isnan(nominal(turn, 0)):
            raise NoMeet(step)
        spots = []
        for name in names:
            stray = np.rad2deg(self.hand.strays("dividers stepped", step.n) / circle.radius)
            angle = angle + turn + stray
            spots.append(self._spot(name, circle.point_at(angle), step, kind if name else "plain"))
            circle.reach(spots[-1].here)
        return spots

    def divide(self, a: Spot, b: Spot, parts: int, names: Sequence[str] = (), says: str = "", why: str = "") -> list[Spot]:
        """The marks that cut ``ab`` into equal spaces by trial with the dividers, both ends among them."""
        step = self._begin("Dividers", says or f"Step {a.name}{b.name} into {parts} equal spaces.", why)
        step.settings += [Setting(float(distance(a.here, b.here)) / parts, "mm")]
        u = unit(b.at - a.at)
        marks = [a]
        for k in range(1, parts):
            at = a.at + (b.at - a.at) * (k / parts)
            at = along(at, u, self.hand.strays("dividers stepped", step.n))
            name = names[k] if k < len(names) else ""
            marks.append(self._spot(name, at, step, "found" if name else "plain"))
        return [*marks, b]

    def divide_turn(
        self, centre: Spot, parts: int, first: float = 0.0, clockwise: bool = False, length: float = 0.0
    ) -> list[LineMark]:
        """Rays that cut the full turn about ``centre`` into equal angles, in one step."""
        part = 360.0 / parts
        by_squares = part % 15 == 0 and first % 15 == 0
        instrument = "Set square" if by_squares else "Protractor"
        words = "From {0} draw rays that cut the turn into {1}: {1} spaces, {1} marks."
        with self.as_one(instrument, words.format(centre.name, parts), Setting(part, "°")):
            sign = -1 if clockwise else 1
            return [self.ray(centre, first + sign * k * part, length=length, instrument=instrument) for k in range(parts)]

    # the result

    def line_in(
        self, spots: Sequence[Spot], closed: bool = False, says: str = "", role: Role = Role.OUTLINE, why: str = ""
    ) -> CurveMark:
        """The result in straight lines from spot to spot."""
        step = self._begin("Straightedge", says or f"Line in {''.join(s.name for s in spots[:6])}.", why)
        traced = CurveMark([spot.at for spot in spots], role, step.n, closed)
        self._leave(step, traced)
        return traced

    def curve(
        self,
        spots: Sequence[Spot],
        closed: bool = False,
        says: str = "",
        role: Role = Role.OUTLINE,
        why: str = "",
        whole: Sequence[Spot] | None = None,
        first: int = 0,
    ) -> CurveMark:
        """The result as a fair curve through the spots; as a piece of the curve through ``whole``, from its ``first`` on."""
        step = self._begin("Curve", says or "Line in the curve through the points.", why)
        if not step.settings:
            step.settings.append(Setting(words=f"{spots[0].name} … {spots[-1].name}"))
        through = None if whole is None else [spot.at for spot in whole]
        traced = CurveMark([spot.at for spot in spots], role, step.n, closed, smooth=True, whole=through, first=first)
        self._leave(step, traced)
        return traced

    def arc_in(
        self,
        centre: Spot,
        radius: float | Opening,
        start: Spot,
        end: Spot,
        says: str = "",
        clockwise: bool = False,
        why: str = "",
    ) -> ArcMark:
        """The result as an arc from ``start`` to ``end``, anticlockwise unless told otherwise, stopping there."""
        arc = self.compass(
            centre,
            radius,
            says or f"Centre {centre.name}, line in the arc from {start.name} to {end.name}.",
            why,
            role=Role.OUTLINE,
        )
        first, last = (end, start) if clockwise else (start, end)
        begin = float(angle_of(first.here - centre.here))
        arc.span = (begin, (float(angle_of(last.here - centre.here)) - begin) % 360.0)
        return arc

    def circle_in(self, centre: Spot, radius: float | Opening, says: str = "", why: str = "") -> ArcMark:
        """The result as a full circle."""
        return self.compass(centre, radius, says or f"Centre {centre.name}, line in the circle.", why, role=Role.OUTLINE)

    def also(self, name: str, at: Array, kind: str = "found") -> Spot:
        """A point that the last step already fixed, such as the centre two equal marks imply; no error of its own."""
        return self._spot(name, at, self._whole or self.steps[-1], kind)

    def midpoint(self, a: Spot, b: Spot, name: str) -> Spot:
        """The middle of ``ab``, by halving with the dividers at the current step."""
        step = self._whole or self.steps[-1]
        u = unit(b.at - a.at)
        at = along(mean(a.at, b.at), u, self.hand.strays("dividers stepped", step.n))
        return self._spot(name, at, step, "found" if name else "plain")

    def in_space(self, name: str, xyz: Array) -> None:
        """Record a point in space that the views fix."""
        self.solid[name] = xyz


def _chosen(both: Array, where: str, near: Spot | None, far: Spot | None) -> int:
    """Which of two solutions is meant, by the steady hand's picture."""
    if near is not None or far is not None:
        spot = near or far
        assert spot is not None
        gaps = distance(both, spot.here)
        return int(np.argmin(gaps) if near is not None else np.argmax(gaps))
    along_axis = {"above": UP, "below": -UP, "right": RIGHT, "left": -RIGHT}[where or "above"]
    return int(np.argmax(dot(both, along_axis)))
