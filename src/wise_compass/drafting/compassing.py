"""Arcs and stepped lengths: compass, dividers and trammel."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot, nominal
from wise_compass.drafting.recorder import NoMeet, Opening, Strip
from wise_compass.drafting.ruling import RIGHT, UP, Ruling
from wise_compass.drafting.steps import Setting
from wise_compass.geometry.meets import foot, meet_circles, meet_line_circle, meet_lines
from wise_compass.geometry.vectors import Array, Number, along, angle_of, cross, distance, dot, left_of, mean, unit

HALF = "half the diameter"
"""Why a compass is set to a radius that is half of what is given."""
APART_FROM = 1e-6
"""Of their places: how far two crossings lie apart at least, to be taken for each other."""
Place = Spot | Array
"""A spot, or coordinates that tell which of two crossings is meant; nothing is drawn there."""


def crossings(one: LineMark | ArcMark, two: LineMark | ArcMark) -> Array:
    """Where two marks cross, (…, 1, 2) of two lines and (…, 2, 2) where there is a circle; NaN where they do not."""
    if isinstance(one, LineMark) and isinstance(two, LineMark):
        return np.asarray(meet_lines(one.p, one.u, two.p, two.u)[..., None, :])
    if isinstance(one, ArcMark) and isinstance(two, ArcMark):
        return meet_circles(one.centre, one.radius, two.centre, two.radius)
    line, arc = (one, two) if isinstance(one, LineMark) else (two, one)
    assert isinstance(line, LineMark) and isinstance(arc, ArcMark)
    return meet_line_circle(line.p, line.u, arc.centre, arc.radius)


class Compassing(Ruling):
    """What a hand does with points: compass, dividers and trammel."""

    # the compass and the dividers

    def opening(self, a: Spot, b: Spot) -> Opening:
        """The distance from ``a`` to ``b``, taken off with the points."""
        taken = distance(a.at, b.at) + self.hand.strays("dividers taken", len(self.steps) + 1)
        return Opening(taken, f"{a.name}{b.name}")

    def in_proportion(self, taken: Opening, scale: float) -> Opening:
        """An opening made ``scale`` times as large with the proportional dividers, whose other points stray too."""
        if scale == 1.0:
            return taken
        return Opening(taken.value * scale + self.hand.strays("dividers taken", len(self.steps) + 1), taken.words)

    def opening_along(self, a: Spot, b: Spot, level: bool) -> Opening:
        """How far ``b`` lies to the right of ``a`` (or above it, with ``level`` false), taken off with the points; less
        than 0 on the other side."""
        taken = b.at[..., 0 if level else 1] - a.at[..., 0 if level else 1]
        return Opening(taken + self.hand.strays("dividers taken", len(self.steps) + 1), f"{a.name}{b.name}")

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
        if why == HALF and not isinstance(radius, Opening):
            says_so = "The diameter taken for the radius."
            radius = self.usual_slip("diameter-for-radius", float(radius), 2.0 * float(radius), says_so)
        steady = radius.nominal if isinstance(radius, Opening) else float(radius)
        step = self._begin("Compass", says or f"Centre {centre.name}, draw {'a circle' if whole else 'an arc'}.", why)
        kept = abs(self._compass[0] - steady) <= 1e-9 * max(steady, 1.0)
        set_before = self._compass[0]
        if not kept and self._left_as_it_was(set_before, steady):
            kept = True
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

    def _left_as_it_was(self, before: float, wanted: float) -> bool:
        """Whether a hand swings with the opening that it has, though another is wanted."""
        says = "The compass left as it stood, instead of being set anew."
        return self.usual_slip("compass-not-reset", False, True, says, when=before > 0.0 and before != wanted)

    def meet(
        self,
        one: LineMark | ArcMark,
        two: LineMark | ArcMark,
        name: str = "",
        where: str = "",
        near: Place | None = None,
        far: Place | None = None,
        kind: str = "found",
    ) -> Spot:
        """The crossing of two lines or arcs, marked by the pencil at the current step.

        Where there are two, ``where`` is above, below, left or right, or ``near``/``far`` tell a place. Raises
        :class:`NoMeet` where the steady hand finds none.
        """
        at = self._crossing(one, two, where, near, far)
        step = self._whole or self.steps[-1]
        spot = self._marked(name, at, step, kind if name else "plain")
        for line in (one, two):
            line.reach(spot.here)
        return spot

    def _crossing(
        self, one: LineMark | ArcMark, two: LineMark | ArcMark, where: str, near: Place | None, far: Place | None
    ) -> Array:
        both = crossings(one, two)
        if both.shape[-2] == 1:
            return np.asarray(both[..., 0, :])
        here = nominal(both, 2)
        chosen = _chosen(here, where, near, far)
        if self._may_slip("other-crossing"):
            parted = float(distance(here[0], here[1])) > APART_FROM * (1.0 + float(np.abs(here).max()))
            chosen = self.usual_slip(
                "other-crossing", chosen, 1 - chosen, "Of two crossings the other one taken.", when=parted
            )
        return np.asarray(both[..., chosen, :])

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

    def step_along(
        self,
        line: LineMark,
        start: Spot,
        space: float | Opening,
        count: int,
        names: Sequence[str] = (),
        says: str = "",
        why: str = "",
        kind: str = "found",
    ) -> list[Spot]:
        """Step ``space`` along ``line`` from ``start`` with the dividers, ``count`` times (less than 0: backward).

        The opening is set once, its error with it; every prick adds its own. Returns ``start`` and the marks behind it.
        """
        steady = space.nominal if isinstance(space, Opening) else float(space)
        step = self._begin("Dividers", says or f"Step {abs(count)} spaces from {start.name}.", why)
        if self._whole is None or not step.settings:
            step.settings.append(Setting(steady, "mm"))
        opened = space.value if isinstance(space, Opening) else steady + self.hand.strays("compass setting", step.n)
        way = np.sign(count)
        at, marks = foot(start.at, line.p, line.u), [start]
        for k in range(abs(count)):
            at = along(at, line.u, way * (opened + self.hand.strays("dividers stepped", step.n)))
            name = names[k] if k < len(names) else ""
            marks.append(self._spot(name, at, step, kind if name else "plain"))
        if len(marks) > 1:
            line.reach(marks[-1].here)
        return marks

    def step_between(
        self,
        line: LineMark,
        start: Spot,
        span: Number,
        count: int,
        taken: int,
        names: Sequence[str] = (),
        says: str = "",
        why: str = "",
    ) -> list[Spot]:
        """Step ``count`` equal spaces along ``line`` over a ``span`` that is drawn, and return ``start`` and the first
        ``taken`` marks.

        The opening is found by trial until the last mark falls on the end: both ends hold the marks, and no error of
        an opening adds up.
        """
        step = self._begin("Dividers", says or f"Step {count} spaces from {start.name}.", why)
        step.settings.append(Setting(float(nominal(span, 0)) / count, "mm"))
        at, marks = foot(start.at, line.p, line.u), [start]
        for k in range(1, taken + 1):
            stray = self.hand.strays("dividers stepped", step.n)
            name = names[k - 1] if k <= len(names) else ""
            marks.append(
                self._spot(name, along(at, line.u, span * (k / count) + stray), step, "found" if name else "plain")
            )
        line.reach(marks[-1].here)
        return marks

    def midpoint(self, a: Spot, b: Spot, name: str) -> Spot:
        """The middle of ``ab``, by halving with the dividers at the current step."""
        return self.between(a, b, 0.5, name)

    def between(self, a: Spot, b: Spot, share: float, name: str = "", kind: str = "found") -> Spot:
        """The point that divides ``ab``, ``share`` of it from ``a``, by trial with the dividers at the current step."""
        step = self._whole or self.steps[-1]
        at = mean(a.at, b.at) if share == 0.5 else a.at + share * (b.at - a.at)
        at = along(at, unit(b.at - a.at), self.hand.strays("dividers stepped", step.n))
        return self._spot(name, at, step, kind if name else "plain")

    def mirror(self, spot: Spot, centre: Spot, name: str, kind: str = "found") -> Spot:
        """``spot`` carried as far beyond ``centre`` in one line with it, with the dividers at the current step."""
        step = self._whole or self.steps[-1]
        u = unit(centre.at - spot.at)
        carried = self.hand.strays("dividers taken", step.n) + self.hand.strays("dividers stepped", step.n)
        return self._spot(name, along(2 * centre.at - spot.at, u, carried), step, kind)

    def traced(
        self, spots: Sequence[Spot], of: tuple[Spot, Spot], onto: tuple[Spot, Spot], over: bool = False
    ) -> list[Spot]:
        """Spots traced together with two marks, and pricked through where the tracing is laid with these on two others;
        turned ``over`` it shows their mirror image. At the current step."""
        step = self._whole or self.steps[-1]
        u, w = unit(of[1].at - of[0].at), unit(onto[1].at - onto[0].at)
        made = []
        for spot in spots:
            out = spot.at - of[0].at
            ahead, aside = dot(out, u), cross(u, out) * (-1.0 if over else 1.0)
            at = onto[0].at + ahead[..., None] * w + aside[..., None] * left_of(w)
            made.append(self._marked("", at, step, "plain"))
        return made

    def on_arc(self, arc: ArcMark, angle: Number, name: str = "", kind: str = "plain") -> Spot:
        """Wherever one cares to take a place on a drawn circle: at ``angle`` degrees from its centre."""
        spot = self._spot(name, arc.point_at(angle), self._whole or self.steps[-1], kind)
        arc.reach(spot.here)
        return spot

    def crown(self, arc: ArcMark, line: LineMark, side: int, name: str = "") -> Spot:
        """Where a straightedge laid parallel to ``line`` touches ``arc``: on its left (+1) or its right (−1) side."""
        step = self._whole or self.steps[-1]
        u = line.u if side > 0 else -line.u
        across = np.stack([-u[..., 1], u[..., 0]], axis=-1)
        at = arc.centre + np.asarray(arc.radius)[..., None] * across
        spot = self._spot(name, at, step, "found" if name else "plain")
        arc.reach(spot.here)
        return spot

    def strip(self, long: float, short: float, says: str, why: str = "") -> Strip:
        """A trammel: the edge of a strip with P marked at its end, and M and N ``long`` and ``short`` from it."""
        step = self._begin("Trammel", says, why)
        step.settings += [Setting(long, "mm"), Setting(short, "mm")]
        says_so = "The trammel’s two marks taken for each other."
        long, short = self.usual_slip(
            "trammel-marks-exchanged", (long, short), (short, long), says_so, when=long != short
        )
        return Strip(*(size + self.hand.strays("rule mark", step.n) for size in (long, short)))

    def lay_strip(
        self,
        strip: Strip,
        centre: Spot,
        long_axis: Array,
        turn: float,
        name: str,
        slide: float,
        says: str,
        kind: str = "found",
    ) -> Spot:
        """Lay the strip with M on the short axis and N on the long one, and mark P.

        The steadier mark is the one laid by measure, ``slide`` mm from ``centre``; the other finds its own axis.
        ``turn`` is the eccentric angle, ``long_axis`` the unit vector along the long axis.
        """
        step = self._begin("Trammel", says)
        step.settings.append(Setting(abs(slide), "mm"))
        short_axis = np.array([-long_axis[1], long_axis[0]])
        apart = strip.to_m - strip.to_n
        # with its marks exchanged the strip lies the other way round, P beyond M: the hand sees to it that P stands in
        # its own quarter
        flip = 1.0 if float(nominal(apart, 0)) >= 0 else -1.0
        laid, free = flip * slide + self.hand.strays("trammel", step.n), self.hand.strays("trammel", step.n)
        c, s = np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))
        if abs(c) < 0.7:  # near the short axis N moves most from point to point: laid off, it makes M sure of its place
            n = along(centre.at, long_axis, laid)
            m = _other_end(centre, n, apart, -flip * short_axis * np.sign(s or 1.0)) + free_along(short_axis, free)
        else:
            m = along(centre.at, short_axis, laid)
            n = _other_end(centre, m, apart, flip * long_axis * np.sign(c or 1.0)) + free_along(long_axis, free)
        return self._marked(name, along(m, flip * unit(n - m), strip.to_m), step, kind)


def free_along(axis: Array, by: Number) -> Array:
    """How far a mark strays along its axis."""
    return np.asarray(np.asarray(by)[..., None] * axis)


def _other_end(centre: Spot, laid: Array, apart: Number, towards: Array) -> Array:
    """Where the strip's other mark comes to lie on its own axis, on the side ``towards``, when one stands at
    ``laid``."""
    both = meet_line_circle(centre.at, unit(towards), laid, apart)
    return np.asarray(both[..., 1, :])


def _chosen(both: Array, where: str, near: Place | None, far: Place | None) -> int:
    """Which of two solutions is meant, by the steady hand's picture."""
    if near is not None or far is not None:
        place = near if near is not None else far
        assert place is not None
        gaps = distance(both, place.here if isinstance(place, Spot) else nominal(place, 1))
        return int(np.argmin(gaps) if near is not None else np.argmax(gaps))
    along_axis = {"above": UP, "below": -UP, "right": RIGHT, "left": -RIGHT}[where or "above"]
    return int(np.argmax(dot(both, along_axis)))
