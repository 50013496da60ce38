"""``Draft``: the language in which methods are written, instrument by instrument.

Each operation is what a hand does with one instrument. It records its step, leaves its marks, and moves the points by
the errors of the hands that draw. The same method serves one exact run, a thousand unsteady hands, and a slip.

Figures never reach for the hand: every error enters through an operation of ``Draft``. ``also`` gives a found point a
further name, ``on`` takes a place of a drawn line, ``between``, ``mirror``, ``project``, ``measure_off``,
``step_along`` and the trammel's strip are what hands do besides meeting lines and arcs. A curve is lined in through a
``Row`` of found points; a piece of it that is seen is a ``CurveMark`` with its ends between two points.
``tests/test_hands.py`` holds that all that is lined in carries lanes, and that each slip changes it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.drafting.compassing import Compassing
from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Role, Row, Spot, nominal
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.steps import Setting
from wise_compass.geometry.vectors import along, angle_of, distance, sind, unit

MOST_TRIED = 6
"""Into how many spaces a length is divided by trial without a second thought."""


class Draft(Compassing):
    """One run of a method on paper, instrument by instrument: what is lined in, and turns divided."""

    def divide(
        self,
        a: Spot,
        b: Spot,
        parts: int,
        names: Sequence[str] = (),
        says: str = "",
        why: str = "",
        how: str = "",
        aslant: float = 30.0,
    ) -> list[Spot]:
        """The marks that cut ``ab`` into equal spaces, both ends among them, in the way that the job or ``how`` wants
        it.

        By the rule where the space is a round number of half millimetres, by trial with the dividers, or by parallels
        to a slant line, ``aslant`` degrees off; left to itself a hand takes the first of these that is no trouble.
        """
        part = float(distance(a.here, b.here)) / parts
        way = how or self.conventions.dividing
        if way == "auto":
            way = (
                "rule"
                if part >= 1 and abs(2 * part - round(2 * part)) < 1e-6
                else "trial"
                if parts <= MOST_TRIED
                else "parallels"
            )
        says = says or f"Cut {a.name}{b.name} into {parts} equal spaces."
        if way == "parallels" and parts > 1:
            return self.divide_by_parallels(a, b, parts, names[1:], says=says, aslant=aslant)
        step = self._begin("Rule" if way == "rule" else "Dividers", says, why)
        step.settings.append(Setting(part, "mm"))
        u, marks = unit(b.at - a.at), [a]
        says_so = "Marks counted for spaces: one space too few."
        spaces = self.usual_slip("marks-for-spaces", parts, parts - 1, says_so, when=parts > 2)
        for k in range(1, parts):
            stray = self.hand.strays("rule mark" if way == "rule" else "dividers stepped", step.n)
            name = names[k] if k < len(names) else ""
            at = along(a.at + (b.at - a.at) * (k / spaces), u, stray)
            marks.append(self._spot(name, at, step, "found" if name else "plain"))
        return [*marks, b]

    def divide_by_parallels(
        self,
        a: Spot,
        b: Spot,
        parts: int,
        names: Sequence[str],
        counted: int | None = None,
        says: str = "",
        aslant: float = 30.0,
    ) -> list[Spot]:
        """Equal spaces on ``ab``: any convenient spaces on a slanting line, and parallels back. Both ends are returned.

        ``counted`` spaces are stepped, where the hand miscounts; the spots are named from the first.
        """
        count = counted or parts
        span = float(distance(a.here, b.here))
        space = max(round(0.85 * span / count / 5) * 5.0, round(0.85 * span / count, 1), 0.5)
        with self.move(f"Divide {a.name}{b.name} into {parts}"):
            words = f"From {a.name or 'its end'} draw a line aslant."
            slant = self.ray(a, float(angle_of(b.here - a.here)) + aslant, f"{says} {words}".strip())
            words = (
                f"From {a.name or 'there'} step {count} equal spaces along it: {count} "
                f"spaces, {count + 1} marks with the first."
            )
            steps = self.step_along(slant, a, space, count, says=words, why="any handy opening")[1:]
            base = self.rule(a, b, f"Join {a.name}{b.name}." if a.name and b.name else "Join both ends.")
            last = self.rule(steps[-1], b, f"Join the last mark to {b.name or 'the other end'}.")
            marks = [a]
            with self.as_one("Set square", "Slide to each mark in turn and draw parallel, cutting the line."):
                for k, spot in enumerate(steps[:-1]):
                    marks.append(self.meet(self.parallel_to(last, spot), base, names[k] if k < len(names) else ""))
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
            return [
                self.ray(centre, first + sign * k * part, length=length, instrument=instrument) for k in range(parts)
            ]

    def divide_arc(
        self, arc: ArcMark, start: Spot, end: Spot, parts: int, names: Sequence[str], says: str = "", why: str = ""
    ) -> list[Spot]:
        """The marks that cut an arc, anticlockwise from ``start`` to ``end``, into equal parts by trial; both ends
        among them."""
        step = self._begin("Dividers", says or f"Cut the arc into {parts} equal parts by trial.", why)
        first = angle_of(start.at - arc.centre)
        sweep = (angle_of(end.at - arc.centre) - first) % 360.0
        step.settings.append(
            Setting(2 * float(nominal(arc.radius, 0)) * float(sind(float(nominal(sweep, 0)) / parts / 2)), "mm")
        )
        marks = [start]
        for k in range(1, parts):
            stray = np.rad2deg(self.hand.strays("dividers stepped", step.n) / arc.radius)
            at = arc.point_at(first + sweep * (k / parts) + stray)
            marks.append(self._spot(names[k], at, step, "found" if names[k] else "plain"))
            arc.reach(marks[-1].here)
        return [*marks, end]

    # the result

    def line_in(
        self, spots: Sequence[Spot], closed: bool = False, says: str = "", role: Role = Role.OUTLINE, why: str = ""
    ) -> CurveMark:
        """The result in straight lines from spot to spot."""
        step = self._begin("Straightedge", says or f"Line in {''.join(s.name for s in spots[:6])}.", why)
        return self._joined(Row([spot.at for spot in spots], closed, smooth=False), role, step.n)

    def _joined(self, row: Row, role: Role, n: int, start: float = 0.0, end: float | None = None) -> CurveMark:
        mark = CurveMark(row, role, n, start, end)
        self._leave(self.steps[n - 1], mark)
        return mark

    def row(self, spots: Sequence[Spot], closed: bool = False, smooth: bool = True) -> Row:
        """Points in order, to be joined up in pieces that run as the whole does."""
        return Row([spot.at for spot in spots], closed, smooth)

    def touched(self, row: Row, place: float, name: str = "") -> Spot:
        """A place of a curve through found points that a straightedge is laid to touch by eye, at the current step."""
        step = self._whole or self.steps[-1]
        return self._marked(name, row.at(place), step, "plain")

    def piece(self, row: Row, start: float, end: float, role: Role = Role.OUTLINE) -> CurveMark:
        """A piece of a row lined in, between two places of it, at the current step."""
        return self._joined(row, role, (self._whole or self.steps[-1]).n, start, end)

    def curve(
        self,
        spots: Sequence[Spot],
        closed: bool = False,
        says: str = "",
        role: Role = Role.OUTLINE,
        why: str = "",
        whole: Row | None = None,
        first: int = 0,
    ) -> CurveMark:
        """The result as a fair curve through the spots; as a piece of the curve through ``whole``, from its ``first``
        on."""
        step = self._begin("Curve", says or "Line in the curve through the points.", why)
        if not step.settings:
            step.settings.append(Setting(words=f"{spots[0].name} … {spots[-1].name}"))
        if whole is None:
            return self._joined(Row([spot.at for spot in spots], closed), role, step.n)
        return self._joined(whole, role, step.n, float(first), float(first + len(spots) - 1))

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
        arc.swing(begin, (float(angle_of(last.here - centre.here)) - begin) % 360.0)
        return arc

    def circle_in(self, centre: Spot, radius: float | Opening, says: str = "", why: str = "") -> ArcMark:
        """The result as a full circle."""
        return self.compass(
            centre, radius, says or f"Centre {centre.name}, line in the circle.", why, role=Role.OUTLINE
        )
