"""How a hand draws the regular solids: by their true faces, by the golden section, or from the easiest pose by two
auxiliary views."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.solids.regular import RegularSolid
from wise_compass.figures.solids.seen import line_in_edges
from wise_compass.figures.solids.tilted import DATUM
from wise_compass.figures.solids.tilted_methods import folded_beside
from wise_compass.figures.solids.upright import BEYOND, GAP
from wise_compass.geometry.regular import GOLDEN, SCHLAFLI
from wise_compass.geometry.vectors import Array, direction, dot, polar

ROUNDED = 7
"""Places to which coordinates are told apart, of an edge of 1."""
GOLDEN_ONES = ("dodecahedron", "icosahedron")


def _line_in(g: RegularSolid, d: Draft, corners: Array, sight: Array, view: View, views: Views, words: str) -> None:
    seen, hidden = g.seen(corners, sight)
    spots = [views.spot(name, view) for name in g.names]
    pairs = [[(spots[a], spots[b]) for a, b in which] for which in (seen, hidden)]
    line_in_edges(d, pairs[0], pairs[1], 1e-7 * g.edge, words)


def _finish(g: RegularSolid, d: Draft, views: Views) -> None:
    """Every corner in space as both views fix it, and both lined in."""
    for name in g.names:
        d.in_space(name, views.solid(views.spot(name, views.front).at, views.spot(name, views.top).at))
    with d.phase("Line in"):
        _line_in(g, d, g.corners, np.array([0.0, 1.0, 0.0]), views.front, views, "the elevation")
        _line_in(g, d, g.corners, np.array([0.0, 0.0, 1.0]), views.top, views, "the plan")
    _net(g, d)


def _net(g: RegularSolid, d: Draft) -> None:
    """The net, where it is asked for."""
    if g.show != "views":
        with d.phase("The net"), d.apart("pattern"):
            g.net.draw(d)


def _views(d: Draft, high: float, forward: float, wide: float) -> tuple[Views, Spot]:
    """The reference line, and M, the middle of the plan, so far in front of it."""
    views = Views.about_line(d, high, forward + wide, GAP)
    start = d.start_at("O", says="Mark O on the reference line, under the middle.", kind="plain")
    views.reference_line(start, -wide - BEYOND, wide + BEYOND)
    drop = d.upright_from(start, "Draw the middle line upright through it.", role=Role.CENTRE)
    reach = float(views.top.at(np.array([0.0, forward, 0.0]))[1])
    centre = d.lay_off(drop, start, reach, "M", "Lay off M, the middle of the plan, clear of the line.", kind="plain")
    return views, centre


class _Lengths:
    """The few lengths that a solid is set out by, found once from its edge, beside the views."""

    def __init__(self, g: RegularSolid, d: Draft, x: float) -> None:
        self.g, self.d = g, d
        self.ends: dict[float, tuple[Spot, Spot]] = {}
        a = g.edge
        with d.phase("Its lengths"), d.apart("lengths"):
            k = d.plot("", x, 0.0, "Beside the views mark where lengths are found.", "plain")
            level = d.level_from(k, "Draw level from it.", length=a)
            half = d.lay_off(level, k, a / 2, "", f"Lay off half an edge, {mm(a / 2)}.", kind="plain")
            self._keep(0.5, k, half)
            if g.solid in GOLDEN_ONES:
                self._golden(k, half, level)
            else:
                self._root(k, half)

    def _keep(self, size: float, start: Spot, end: Spot) -> None:
        self.ends[round(size, ROUNDED)] = (start, end)

    def _root(self, k: Spot, half: Spot) -> None:
        """The side of the square whose diagonal is an edge."""
        d, a = self.d, self.g.edge
        up = d.upright_from(k, "Square to it draw upright.", length=a / 2)
        top = d.lay_off(
            up, k, d.opening(k, half), "", "The same half upward: from end to end is an edge over √2.", kind="plain"
        )
        self._keep(0.5**0.5, half, top)
        with d.as_one("Dividers", "Halve that."):
            self._keep(0.5**1.5, half, d.between(half, top, 0.5, ""))

    def _golden(self, k: Spot, half: Spot, level: LineMark) -> None:
        d, a = self.d, self.g.edge
        end = d.lay_off(level, k, a, "", f"On it a whole edge, {mm(a)}.", kind="plain")
        up = d.upright_from(end, "Square to it at its end draw upright.", length=a)
        top = d.lay_off(up, end, d.opening(k, end), "", "As long again upward.", kind="plain")
        arc = d.compass(
            half,
            d.opening(half, top),
            "Centre the middle of the edge, through that end: cut the level line.",
            whole=False,
        )
        lesser = d.choice(
            "other-part", right=False, slip=True, says="The lesser part of the golden section taken for the whole."
        )
        far = d.meet(level, arc, near=half.here + direction(180.0 if lesser else 0.0) * 2 * a)
        with d.as_one("Dividers", "Halve from the start to there: half the golden section of the edge."):
            middle = d.between(k, far, 0.5, "")
        self._keep(GOLDEN / 2, k, middle)
        if self.g.solid == "dodecahedron":
            more = d.lay_off(level, middle, d.opening(k, half), "", "Half an edge on from there.", kind="plain")
            self._keep(GOLDEN / 2 + 0.5, k, more)

    def opening(self, size: float) -> Opening:
        """A length of the solid, taken off with the points."""
        return self.d.opening(*self.ends[round(abs(size) / self.g.edge, ROUNDED)])


def _grid(
    g: RegularSolid,
    d: Draft,
    lengths: _Lengths,
    centre: Spot,
    lines: tuple[LineMark, LineMark],
    flat: Array,
    keys: Sequence[str],
) -> list[Spot]:
    """Corners in the plan by their distances along two lines through its centre, square to each other."""
    rows: list[dict[float, LineMark]] = []
    with d.as_one("Dividers", "Along both middle lines lay those lengths off either way, and draw square to them."):
        for axis, (line, other) in enumerate((lines, lines[::-1])):
            found = {0.0: other}
            for size in sorted({round(float(at[axis]) / g.edge, ROUNDED) for at in flat} - {0.0, -0.0}):
                foot = d.lay_off(
                    line, centre, lengths.opening(size * g.edge), "", kind="plain", way=float(np.sign(size))
                )
                found[size] = d.parallel_to(other, foot)
            rows.append(found)
    spots: list[Spot] = []
    done: dict[tuple[float, float], Spot] = {}
    with d.as_one("Straightedge", "Mark the corners where they cross."):
        for at, key in zip(flat, keys):
            x, y = (round(float(u) / g.edge, ROUNDED) + 0.0 for u in at)
            if (x, y) in done:
                spots.append(d.also(key, done[x, y]))
            else:
                spots.append(d.meet(rows[0][x], rows[1][y], key) if x or y else d.also(key, centre))
                done[x, y] = spots[-1]
    return spots


def _elevation(g: RegularSolid, d: Draft, lengths: _Lengths, views: Views, centre: Spot, heights: Array) -> None:
    """The corners carried up to their levels, which are laid off both ways from the middle one."""
    over = d.upright_from(centre, "Carry the middle up.", role=Role.PROJECTOR)
    foot = (
        d.meet(over, views.front.fold)
        if not views.front.origin[1] and views.front.fold
        else d.on(over, float(views.front.origin[1] - centre.here[1]))
    )
    lift = float(heights.max())
    middle = d.lay_off(over, foot, lengths.opening(lift), "", "Lay off the height of the middle.", kind="plain")
    levels = {}
    with d.as_one("Dividers", "From it lay the heights off up and down, and draw level."):
        for size in sorted({round(float(z) / g.edge, ROUNDED) + 0.0 for z in heights}):
            at = middle
            if size:
                at = d.lay_off(over, middle, lengths.opening(size * g.edge), "", kind="plain", way=float(np.sign(size)))
            levels[size] = d.level_from(at).extent(-g.edge, g.edge)
    with d.as_one("Set square", "Carry every corner up to its level."):
        for name, z in zip(g.names, heights):
            carry = d.upright_from(views.spot(name, views.top), role=Role.PROJECTOR)
            d.meet(carry, levels[round(float(z) / g.edge, ROUNDED) + 0.0], views.front.key(name))


def _true_faces_refusal(g: RegularSolid) -> str | None:
    if g.rests == "face":
        return None
    return "True faces begin with the one that it rests on. Set rests to face, or take two-auxiliary-views."


@method(
    RegularSolid,
    "true-faces",
    about="The face it rests on first; wider rings by the diagonal of a true pentagon; heights by laying an edge down.",
    source="Rabatment: an edge, its plan and its rise make a right triangle",
    fits=_true_faces_refusal,
    fits_given="rests",
)
def true_faces(g: RegularSolid, d: Draft) -> None:
    at = g.corners
    wide = g.reach
    sides = SCHLAFLI[str(g.solid)][0]
    with d.phase("The face it rests on"):
        views, centre = _views(d, float(at[:, 2].max()), wide + DATUM, wide)
        reach = g.edge / 2 / float(np.sin(np.pi / sides))
        circle = d.compass(
            centre, reach, "About it draw the circle of the face’s corners.", f"edge / (2 sin(180° / {sides}))"
        )
        rays = d.divide_turn(centre, sides, g.turn, length=wide)
        lower = g.storeys[0]
        with d.as_one("Straightedge", "Where the rays cross it stand the corners of the face."):
            for k, index in enumerate(lower):
                near = polar(centre.here, reach, g.turn + 360.0 * k / sides)
                d.meet(rays[k], circle, views.top.key(g.names[index]), near=near)
    with d.phase("The other corners"):
        outer = circle
        if g.solid in GOLDEN_ONES:
            outer = _wider(g, d, views, centre, rays, wide)
        with d.as_one("Straightedge", "Produce the rays both ways: the other levels have their corners on them."):
            for row in g.storeys[1:]:
                for k in row:
                    _on_ring(g, d, views, centre, rays, (circle, outer), k)
    with d.phase("The heights"):
        _heights(g, d, views, centre, wide)
    _finish(g, d, views)


def _wider(g: RegularSolid, d: Draft, views: Views, centre: Spot, rays: Sequence[LineMark], wide: float) -> ArcMark:
    """The circle of the wider levels: their corners are a pentagon's diagonal apart."""
    first, second = (views.spot(g.names[k], views.top) for k in g.storeys[0][:2])
    if g.solid == "dodecahedron":
        taken = d.opening(first, views.spot(g.names[g.storeys[0][2]], views.top))
    else:
        with d.phase("The other corners"), d.apart("lengths"):
            k = d.plot(
                "",
                -wide - 2 * GAP - g.edge,
                0.0,
                "Beside the views mark a corner of the pentagon of edges round a corner.",
                "plain",
            )
            level = d.level_from(k, "Draw an edge of it level.", length=g.edge)
            end = d.lay_off(level, k, g.edge, "", "Lay off an edge.", kind="plain")
            lean = d.ray(k, 108.0, "At 108° draw its neighbour.", length=g.edge)
            other = d.lay_off(
                lean, k, g.edge, "", "Lay off an edge on it: from end to end is the diagonal.", kind="plain"
            )
        taken = d.opening(end, other)
    edge = d.rule(first, second, "Produce an edge of the face.")
    far = d.lay_off(edge, first, taken, "", "Lay the pentagon’s diagonal off along it.", kind="plain")
    beside = d.parallel_to(rays[0], far, "Through that end draw parallel to the first ray, as far as the next one.")
    corner = d.meet(beside, rays[1])
    return d.compass(
        centre, d.opening(centre, corner), "About the middle draw the circle through it: so wide are the next levels."
    )


def _on_ring(
    g: RegularSolid,
    d: Draft,
    views: Views,
    centre: Spot,
    rays: Sequence[LineMark],
    rings: tuple[ArcMark, ArcMark],
    k: int,
) -> None:
    x, y = float(g.corners[k][0]), -float(g.corners[k][1])
    key, out = views.top.key(g.names[k]), float(np.hypot(x, y))
    if out <= 1e-9 * g.edge:
        d.also(key, centre)
        return
    for spot in d.spots.values():  # what stands straight over another corner is seen in one point with it
        if (
            spot.name.endswith(".top")
            and float(np.hypot(*(spot.here - centre.here - np.array([x, y])))) <= 1e-7 * g.edge
        ):
            d.also(key, spot)
            return
    angle = float(np.degrees(np.arctan2(y, x)))
    ray = min(rays, key=lambda one: abs((angle - _bearing(one) + 90.0) % 180.0 - 90.0))
    inner = g.edge / 2 / float(np.sin(np.pi / len(rays)))
    ring = rings[0] if abs(out - inner) <= 1e-6 * g.edge else rings[1]
    d.meet(ray, ring, key, near=centre.here + np.array([x, y]))


def _bearing(line: LineMark) -> float:
    u = line.ends()[1] - line.ends()[0]
    return float(np.degrees(np.arctan2(u[1], u[0])))


def _heights(g: RegularSolid, d: Draft, views: Views, centre: Spot, wide: float) -> None:
    """Every level from one below it: an edge between them, laid down beside its plan."""
    over = d.upright_from(centre, "Carry the middle up.", role=Role.PROJECTOR)
    ground = float(views.front.origin[1] - centre.here[1])
    feet = [d.on(over, ground)]
    whole = d.choice(
        "edge-for-height",
        right=False,
        slip=True,
        when=g.solid != "cube",
        says="An edge’s true length taken for its rise.",
    )
    diagonal = d.choice(
        "diagonal", right=False, slip=True, when=g.solid == "cube", says="The face’s diagonal taken for the height."
    )
    x = wide + GAP
    for number, row in enumerate(g.storeys[1:], 1):
        below, upper = next(
            (min(pair, key=lambda k: float(g.corners[k][2])), max(pair, key=lambda k: float(g.corners[k][2])))
            for pair in g.edges
            if set(pair) & set(row)
            and float(min(g.corners[k][2] for k in pair)) < float(g.corners[row[0]][2]) - 1e-6 * g.edge
        )
        start = next(k for k, level in enumerate(g.storeys) if below in level)
        one, other = (views.spot(g.names[k], views.top) for k in (below, upper))
        if float(np.hypot(*(one.here - other.here))) <= 1e-7 * g.edge:
            size: Opening | float = (
                d.opening(one, views.spot(g.names[g.storeys[0][2]], views.top)) if diagonal else g.edge
            )
            words = "An edge stands upright: lay its length off."
        else:
            with d.as_one(
                "Compass",
                f"Level {number}: lay an edge down. Beside the views its plan level, upright "
                "from its end, and an edge across from the start.",
            ):
                foot = d.plot("", x, float(views.front.origin[1]), kind="plain")
                base = d.level_from(foot, length=g.edge)
                end = d.lay_off(base, foot, d.opening(one, other), "", kind="plain")
                up = d.upright_from(end, length=g.edge)
                arc = d.compass(foot, g.edge, whole=False)
                top = d.meet(up, arc, near=end.here + np.array([0.0, g.edge]))
            size = d.opening(foot, top) if whole else d.opening(end, top)
            words = "Its rise is the upright: lay it off from the level where the edge begins."
            x += g.edge + GAP / 2
        feet.append(d.lay_off(over, feet[start], size, "", words, kind="plain"))
    with d.as_one("Set square", "Draw the levels, and carry every corner up to its own."):
        for foot, row in zip(feet, g.storeys):
            level = d.level_from(foot).extent(-wide, wide)
            for k in row:
                carry = d.upright_from(views.spot(g.names[k], views.top), role=Role.PROJECTOR)
                d.meet(carry, level, views.front.key(g.names[k]))


def _golden_refusal(g: RegularSolid) -> str | None:
    if g.solid not in GOLDEN_ONES:
        of = "an" if g.solid[0] in "io" else "a"
        return f"There is no golden section in {of} {g.solid}. Set solid to dodecahedron or icosahedron."
    if g.rests != "edge":
        return (
            "Golden rectangles lie level only where it rests on an edge. Set rests "
            "to edge, or take two-auxiliary-views."
        )
    return None


@method(
    RegularSolid,
    "golden-ratio",
    about="Resting on an edge it is set out along three lines by the edge and its golden section.",
    source="Three golden rectangles square to each other (Pacioli); the cube in the dodecahedron (Euclid XIII)",
    fits=_golden_refusal,
    fits_given="rests",
)
def golden_ratio(g: RegularSolid, d: Draft) -> None:
    at = g.corners
    wide = g.reach
    lengths = _Lengths(g, d, -wide - 2 * GAP - 3 * g.edge)
    with d.phase("The plan"):
        views, centre = _views(d, float(at[:, 2].max()), wide + DATUM, wide)
        along = d.ray(
            centre, g.turn, f"At {trim(g.turn)}° draw the line of the edge it rests on.", role=Role.CENTRE, length=wide
        )
        across = d.square_to(along, centre, "Square to it draw the other middle line.", role=Role.CENTRE)
        rest = g.resting(g.easy, 0.0)
        flat = np.stack([rest[:, 0], -rest[:, 1]], axis=-1)
        _grid(g, d, lengths, centre, (along, across), flat, [views.top.key(name) for name in g.names])
    with d.phase("The elevation"):
        _elevation(g, d, lengths, views, centre, at[:, 2] - float(at[:, 2].max()) / 2)
    _finish(g, d, views)


@method(
    RegularSolid,
    "two-auxiliary-views",
    about="Drawn in its easiest pose, then seen along what is to be upright, then from the front.",
    source="Change of the planes of projection (Monge)",
)
def two_auxiliary_views(g: RegularSolid, d: Draft) -> None:
    at = g.easy + g.shift
    wide, high = float(np.abs(g.easy[:, :2]).max()), float(at[:, 2].max())
    lengths = _Lengths(g, d, -wide - 2 * GAP - 3 * g.edge)
    with d.phase("The easiest pose"):
        views, centre = _views(d, high, float(g.shift[1]), wide)
        level = d.level_from(centre, "Draw level through the middle.", role=Role.CENTRE).extent(-wide, wide)
        upright = d.upright_from(centre, "And upright.", role=Role.CENTRE).extent(-wide, wide)
        flat = np.stack([g.easy[:, 0], -g.easy[:, 1]], axis=-1)
        _grid(g, d, lengths, centre, (level, upright), flat, [views.top.key(name) for name in g.names])
        _elevation(g, d, lengths, views, centre, g.easy[:, 2])
        with d.as_one("Straightedge", "Join both views’ edges lightly."):
            for view in (views.front, views.top):
                for pair in g.edges:
                    a, b = (views.spot(g.names[k], view) for k in pair)
                    if float(np.hypot(*(a.here - b.here))) > 1e-7 * g.edge:
                        d.rule(a, b)
        for name in g.names:
            d.in_space(name, views.solid(views.spot(name, views.front).at, views.spot(name, views.top).at))
    with d.phase("Seen along the upright"):
        lowest = g.names[int(np.argmax(np.round(g.easy @ g.down / g.edge, ROUNDED)))]
        lean = float(np.degrees(np.arctan2(float(g.ground[2]), float(g.ground[0]))))
        words = f"Through {views.front.key(lowest)} draw the ground that it comes to rest on, under its {g.rests}."
        ground = d.ray(views.spot(lowest, views.front), lean, words, length=g.edge)
        deep = float(at[:, 1].max())
        view3 = folded_beside(
            d, views, views.front, ground, -1, deep, "Draw the new reference line parallel to it, clear of the views."
        )
        views.transfer_all(g.names, view3)
    with d.phase("Seen from the front"):
        swing = lean + g.swing - g.turn
        spots = [views.spot(name, view3) for name in g.names]
        first = min(spots, key=lambda spot: round(float(dot(spot.here, direction(swing))), ROUNDED))
        words = (
            "Draw a line level with what is to lie to the right"
            if not g.turn
            else f"Draw a line that what it rests on is turned {trim(g.turn)}° to"
        )
        line = d.ray(first, swing, f"{words}.", length=2 * wide)
        view4 = folded_beside(
            d, views, view3, line, 1, high + wide, "Draw the last reference line parallel to it, clear of the views."
        )
        assert view4.fold is not None
        d.on(view4.fold, 0.0, "X", "plain")
        d.on(view4.fold, 10.0, "Y", "plain")
        views.transfer_all(g.names, view4)
    with d.phase("Line in"):
        rests = g.corners
        _line_in(g, d, rests, np.array([0.0, 0.0, 1.0]), view3, views, "the new plan")
        _line_in(g, d, rests, np.array([0.0, 1.0, 0.0]), view4, views, "the new elevation")
    _net(g, d)
