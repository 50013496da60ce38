"""The true curves of a pair of which one is round: the line in both views, and its edge on both patterns.

A loop of the line goes by the turn round the branch where every element meets the main; where it turns back it goes by
an angle of its own, 0° to 180° out along the right side and on to 360° back along the left, so that it is smooth where
it turns.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from functools import partial
from itertools import pairwise

import numpy as np

from wise_compass.drafting.course import Course
from wise_compass.figures.meetings.chains import Chain, branch_chains, main_chains, main_face
from wise_compass.figures.meetings.meeting import SolidsThatMeet
from wise_compass.figures.meetings.pair import Named
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.interpenetration import RIGHT
from wise_compass.geometry.vectors import Array, Number, direction, length, point

STEP = 0.01
ROUND = "turn round the line"
Flat = Callable[[Array], Array]
"""From places of space, (…, 3), to a frame of the sheet, (…, 2)."""
Sided = Callable[[Number, str], Array]
"""Places on the sheet by the parameter of a loop, on one side alone or, for none, as it goes."""


class LoopCurve:
    """A closed loop of the line by one parameter in degrees."""

    def __init__(self, g: SolidsThatMeet, loop: Sequence[Named]) -> None:
        self.g, self.side = g, loop[0].meets.side
        self.times = 360.0 / g.branch.period
        self.span: tuple[float, float] | None = None
        if not g.meeting.whole:
            w = loop[0].meets.w
            self.span = min(
                g.meeting.stretches,
                key=lambda one: min(abs(w + k * g.branch.period - (one[0] + one[1]) / 2) for k in (-1, 0, 1)),
            )

    def parameter(self, one: Named) -> float:
        """Of a point of the loop, from 0 to 360."""
        w, period = one.meets.w, self.g.branch.period
        if self.span is None:
            return (w % period) * self.times
        start, end = self.span
        middle, half = (start + end) / 2, (end - start) / 2
        off = (w - middle + period / 2) % period - period / 2
        turn = float(np.rad2deg(np.arccos(np.clip(-off / half, -1.0, 1.0))))
        return turn if one.meets.side == RIGHT else 360.0 - turn

    def at(self, t: Number, side: str = "") -> Array:
        """Its places in space, (…, 3); on one ``side`` alone where it has a corner at the turn."""
        t = np.asarray(t, dtype=np.float64)
        if self.span is None:
            return self.g.meeting.at(t / self.times, self.side)
        start, end = self.span
        w = (start + end) / 2 - (end - start) / 2 * np.cos(np.deg2rad(t))
        if side:
            return self.g.meeting.at(w, side)
        return np.where((np.sin(np.deg2rad(t)) >= 0)[..., None], *self.g.meeting.both(w))

    def place(self, t: Number) -> Array:
        """The share of the girth of the branch, running on beyond 1."""
        t = np.asarray(t, dtype=np.float64)
        if self.span is None:
            return np.asarray(t / 360.0)
        start, end = self.span
        return np.asarray(((start + end) / 2 - (end - start) / 2 * np.cos(np.deg2rad(t))) / self.g.branch.period)


def line_courses(g: SolidsThatMeet) -> Iterator[Course]:
    """Of both views, and of the patterns where they are drawn; none where both solids have flat sides."""
    if g.main_solid.corners is not None and g.branch_corners is not None:
        return
    views: list[tuple[str, str, Flat]] = [("front", "the elevation", lambda at: at[..., [0, 2]])]
    if g.main_solid.apex or g.main_solid.ball:
        views.append(("top", "the plan", lambda at: at[..., :2] * np.array([1.0, -1.0])))
    flat_plan = g.main_solid.ball or (g.upright and g.branch_corners is None)
    for view, words, flat in views:
        if view == "top" and flat_plan:
            continue
        for loop in g.lines:
            curve = LoopCurve(g, loop)
            keys = [f"{one.name}.{view}" for one in loop]
            yield from _runs(g, f"the line in {words}", curve, loop, keys, True, partial(_seen, curve, flat))
    if g.show == "views":
        return
    yield from _pattern_courses(g, "the branch’s pattern", branch_chains(g), False)
    yield from _pattern_courses(g, "the main’s pattern", main_chains(g), True)


def _runs(
    g: SolidsThatMeet,
    says: str,
    curve: LoopCurve,
    points: Sequence[Named],
    keys: Sequence[str],
    closed: bool,
    flat: Sided,
) -> Iterator[Course]:
    """A row of points in smooth pieces, between its corners."""
    raw = [curve.parameter(one) for one in points]
    turns = np.rad2deg(np.unwrap(np.deg2rad(raw)))
    corners = [k for k, one in enumerate(points) if g.is_corner(one.meets)]
    n = len(points)
    if closed and not corners:
        way = 1.0 if turns[1] > turns[0] else -1.0
        whole = sampled(partial(_with, flat, ""), STEP, float(turns[0]), float(turns[0]) + 360.0, True)
        order = list(range(n)) if way > 0 else [0, *range(n - 1, 0, -1)]
        stations = np.mod(turns[order] - turns[0], 360.0) + turns[0]
        yield Course(says, whole, stations, tuple(keys[k] for k in order), turn=ROUND, afloat=True)
        return
    cuts = [*corners, corners[0] + n] if closed else sorted({0, *corners, n - 1})
    for a, b in pairwise(cuts):
        run = [k % n for k in range(a, b + 1)]
        here = np.rad2deg(np.unwrap(np.deg2rad([raw[k] for k in run])))
        order = list(range(len(run))) if here[-1] >= here[0] else list(range(len(run)))[::-1]
        stations = here[order]
        if len(run) < 3 or float(stations[-1] - stations[0]) <= 1e-6:
            continue
        sides = {points[k].meets.side for k in run[1:-1]}
        piece = sampled(
            partial(_with, flat, sides.pop() if len(sides) == 1 else ""),
            STEP,
            float(stations[0]),
            float(stations[-1]),
            False,
        )
        yield Course(says, piece, stations, tuple(keys[run[k]] for k in order), turn=ROUND, afloat=True)


def _seen(curve: LoopCurve, flat: Flat, t: Number, side: str) -> Array:
    return flat(curve.at(t, side))


def _with(flat: Sided, side: str, t: Number) -> Array:
    return flat(t, side)


def _pattern_courses(g: SolidsThatMeet, words: str, chains: Sequence[Chain], of_main: bool) -> Iterator[Course]:
    loops = {one.name: loop for loop in g.lines for one in loop}
    for chain in chains:
        points = [link.named for link in chain.links]
        curve = LoopCurve(g, loops[points[0].name])
        for run, keys in _faces(g, chain, of_main):
            flat = _on_main(g, curve, run) if of_main else _on_branch(g, curve)
            yield from _runs(
                g, f"its edge on {words}", curve, run, keys, chain.closed and len(run) == len(points), flat
            )


def _faces(g: SolidsThatMeet, chain: Chain, of_main: bool) -> Iterator[tuple[list[Named], list[str]]]:
    """A chain whole; on a flat-sided main by runs that lie on one of its sides each."""
    points, keys = [link.named for link in chain.links], chain.keys
    if not of_main or g.main_solid.corners is None:
        yield points, keys
        return
    corners = [k for k, one in enumerate(points) if g.is_corner(one.meets)]
    n = len(points)
    if chain.closed and not corners:
        yield points, keys
        return
    cuts = [*corners, corners[0] + n] if chain.closed else sorted({0, *corners, n - 1})
    for a, b in pairwise(cuts):
        run = [k % n for k in range(a, b + 1)]
        yield [points[k] for k in run], [keys[k] for k in run]


def _on_branch(g: SolidsThatMeet, curve: LoopCurve) -> Sided:
    return lambda t, side: point(curve.place(t) * g.branch_girth, g.reach - g.branch.along(curve.at(t, side)))


def _on_main(g: SolidsThatMeet, curve: LoopCurve, run: Sequence[Named]) -> Sided:
    """Where places of the line lie on the main's pattern, in a frame of its own."""
    main = g.main_solid
    if main.corners is None:
        known = np.array([curve.parameter(one) for one in run])
        known = np.rad2deg(np.unwrap(np.deg2rad(known)))
        turns = np.rad2deg(np.unwrap([np.arctan2(-one.meets.at[1], one.meets.at[0]) for one in run]))
        order = np.argsort(known)

        def rolled(t: Number, side: str) -> Array:
            at = curve.at(t, side)
            near = np.interp(t, known[order], turns[order])
            turn = np.rad2deg(np.arctan2(-at[..., 1], at[..., 0]))
            turn = near + np.asarray((turn - near + 180.0) % 360.0 - 180.0)
            if main.apex:
                far = np.asarray((1.0 - at[..., 2] / g.tall) * g.slant)
                return np.asarray(far[..., None] * direction(turn * g.main_reach / g.slant))
            return point(np.deg2rad(turn) * main.radius, at[..., 2])

        return rolled
    middle = run[len(run) // 2].meets
    face = main_face(g, middle)
    a, b = g.feet[face], g.feet[(face + 1) % len(g.feet)]
    u = (b - a) / float(length(b - a))
    return lambda t, side: point((curve.at(t, side) - a) @ u, curve.at(t, side)[..., 2])
