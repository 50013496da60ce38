"""How a hand draws a block in perspective: by vanishing points, by visual rays, by measuring points."""

from __future__ import annotations

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.wording import mm, most_mm
from wise_compass.figures.pictorial.perspectives import FURTHEST, GAP, PerspectiveBlock
from wise_compass.figures.pictorial.stations import right_side_at
from wise_compass.geometry.block_shapes import LINES
from wise_compass.geometry.vectors import distance, point

BEYOND = 10.0
EDGES_ALL = tuple((pair[0], pair[1]) for pair in LINES["box"].split())
TOPS = {"A": "E", "B": "F", "C": "G", "D": "H"}


class _PerspectiveHand:
    """The perspective on the way."""

    plane: LineMark
    ground: LineMark
    sight: LineMark
    back: dict[str, LineMark]

    def __init__(self, g: PerspectiveBlock, d: Draft) -> None:
        self.g, self.d = g, d
        self.flat: dict[str, Spot] = {}
        self.spots: dict[str, Spot] = {}

    def plan(self) -> None:
        """The picture plane, the eye, and the block's plan behind it."""
        g, d = self.g, self.d
        at = g.corners[:4, :2]
        low, high = min(float(at[:, 0].min()), 0.0) - BEYOND, max(float(at[:, 0].max()), 0.0) + BEYOND
        self.middle = d.start_at("O", says="Mark O, the centre of vision, on the picture plane as seen from above.")
        self.plane = d.level_from(self.middle, "Draw the picture plane level through it.", role=Role.REFERENCE).extent(
            low, high
        )
        self.sight = d.upright_from(self.middle, "Draw the line of sight square to it.", role=Role.CENTRE).extent(
            -g.distance, 0.0
        )
        self.eye = d.lay_off(
            self.sight, self.middle, -g.distance, "S", "Lay off the distance of the eye before the plane: S."
        )
        if g.behind == 0.0 and g.aside == 0.0:
            with d.as_one("Pencil", "The nearest corner stands at O."):
                a = d.also("a", self.middle)
        elif g.behind == 0.0:
            a = d.lay_off(
                self.plane,
                self.middle,
                g.aside,
                "a",
                "On the plane lay off how far aside the nearest corner stands: a.",
            )
        else:
            foot = (
                self.middle
                if g.aside == 0.0
                else d.lay_off(
                    self.plane,
                    self.middle,
                    g.aside,
                    "",
                    "On the plane lay off how far aside the nearest corner stands.",
                    kind="plain",
                )
            )
            rise = d.upright_from(foot, "Behind that point draw square to the plane.")
            a = d.lay_off(rise, foot, g.behind, "a", "Lay off how far behind it stands: a.")
        turned = right_side_at(d, g.angle)
        right = d.ray(a, turned, "From a draw the right side at its angle to the plane.")
        left = d.square_to(right, a, "Square to it draw the left side.")
        b = d.lay_off(left, a, g.front, "b", "Lay off front: b.")
        dd = d.lay_off(right, a, g.right, "d", "Lay off right: d.")
        with d.as_one("Set square", "Draw parallels through both: they cross at c."):
            c = d.meet(d.parallel_to(right, b), d.parallel_to(left, dd), "c")
        self.flat = {"A": a, "B": b, "C": c, "D": dd}
        self.back = {"right": right, "left": left}
        d.line_in([a, b, c, dd], closed=True, says="Line in the plan.")

    def picture(self) -> None:
        """The horizon, and the ground line as far below it as the eye is high."""
        g, d = self.g, self.d
        seen = g.seen(g.corners)
        low, high = min(float(seen[:, 0].min()), 0.0) - BEYOND, max(float(seen[:, 0].max()), 0.0) + BEYOND
        self.centre = d.lay_off(
            self.sight,
            self.middle,
            g.horizon,
            "",
            "Clear of the plan mark the level of the horizon on the line of sight.",
            kind="plain",
        )
        self.horizon = d.level_from(self.centre, "Draw the horizon level.", role=Role.CENTRE).extent(low, high)
        raised = d.choice(
            "eye-at-the-top",
            right=g.eye_height,
            slip=g.eye_height - g.height,
            says="The eye’s height measured from the top of the block.",
        )
        foot = d.lay_off(self.sight, self.centre, -raised, "", "Lay off below it how high the eye is.", kind="plain")
        self.ground = d.level_from(foot, "Draw the ground line level.", role=Role.REFERENCE).extent(low, high)

    def rays(self) -> dict[str, LineMark]:
        """From every corner of the plan to the eye; where a ray cuts the plane, the corner's upright in the picture."""
        d = self.d
        found = {}
        with d.as_one(
            "Straightedge",
            "From every corner of the plan draw a ray to the eye, and drop from where it cuts the plane.",
        ):
            for name, spot in self.flat.items():
                on_plane = self.g.behind == 0.0 and name == "A"
                cut = spot if on_plane else d.meet(d.rule(spot, self.eye), self.plane)
                found[name] = d.upright_from(cut, role=Role.PROJECTOR)
        return found

    # vanishing points

    def vanish(self) -> None:
        """VL and VR: parallels to the sides through the eye cut the plane, and drop to the horizon."""
        d = self.d
        for side, key in (("left", "VL"), ("right", "VR")):
            if side == "right" and self.g.one_point:
                continue
            words = (
                f"Through S draw parallel to the {side} side, and drop from where "
                f"it cuts the plane: {key} on the horizon."
            )
            with d.as_one("Set square", words):
                if side == "left" and self.g.one_point:
                    d.also("VL", self.centre)
                    continue
                cut = d.meet(d.parallel_to(self.back[side], self.eye), self.plane, f"cut {side}", kind="plain")
                d.meet(d.upright_from(cut, role=Role.PROJECTOR), self.horizon, key)

    def stands(self) -> tuple[Spot, Spot, Spot]:
        """Where the line that leads cuts the plane, in plan, and its true foot and top in the picture."""
        g, d = self.g, self.d
        side, near, far = g.leads
        if g.behind == 0.0 and near == "A":
            mark = self.flat["A"]
            words = (
                "The nearest corner stands on the plane: drop it to the ground line, and on it measure the true height."
            )
        else:
            with d.as_one("Straightedge", f"Produce the {side} side through {near.lower()} forward to the plane."):
                line = self.back[side] if near == "A" else d.rule(self.flat[far], self.flat[near])
                mark = d.meet(line, self.plane, "T")
            words = "There heights are true: drop it to the ground line, and measure the height on it."
        with d.as_one("Set square", words):
            drop = d.upright_from(mark, role=Role.PROJECTOR)
            foot = d.meet(drop, self.ground)
            return mark, foot, d.lay_off(d.upright_from(foot), foot, g.height, "", kind="plain")

    def to(self, side: str, spot: Spot) -> LineMark:
        """The line of a side through a spot of the picture: to its vanishing point, or level where it has none."""
        if side == "right" and self.g.one_point:
            return self.d.level_from(spot, "From there draw level.")
        key = "VL" if side == "left" else "VR"
        return self.d.rule(spot, self.d.spots[key], f"From there draw to {key}.")

    def edge(self, name: str, upright: LineMark, low: LineMark, high: LineMark) -> None:
        """An upright edge, where its upright meets the lines of its foot and its top."""
        self.spots[name] = self.d.meet(upright, low, name)
        self.spots[TOPS[name]] = self.d.meet(upright, high, TOPS[name])

    def nearest_stands(self, foot: Spot, top: Spot) -> None:
        """A and E where the nearest corner stands on the plane itself."""
        with self.d.as_one("Pencil", "That is the nearest edge: A and E."):
            self.spots["A"], self.spots["E"] = self.d.also("A", foot), self.d.also("E", top)

    def line_in(self) -> None:
        d = self.d
        with d.as_one("Straightedge", "Line in the edges that are seen."):
            for one, other in self.g.shown:
                d.line_in([self.spots[one], self.spots[other]])
        behind = [pair for pair in EDGES_ALL if pair not in self.g.shown and tuple(reversed(pair)) not in self.g.shown]
        if behind and d.conventions.shows_hidden(False):
            with d.as_one("Straightedge", "Draw as hidden those that lie behind."):
                for one, other in behind:
                    d.line_in([self.spots[one], self.spots[other]], role=Role.HIDDEN)


def _no_lines(g: PerspectiveBlock) -> str | None:
    for side in ("left", "right"):
        at = g.vanishing(side)
        if at is not None and abs(at) > FURTHEST:
            return (
                f"The {side} vanishing point lies {mm(abs(at))} off: no board holds it, "
                f"{most_mm(FURTHEST)} is the most. Change angle or "
                "distance, or choose visual-rays."
            )
    return None


@method(
    PerspectiveBlock,
    "vanishing-points",
    fits=_no_lines,
    fits_given="angle",
    about="Lines of a side run to the point where a parallel through the eye meets the "
    "picture plane; widths by rays from the plan.",
    source="The vanishing point of parallel lines (Brook Taylor, Linear Perspective)",
)
def vanishing_points(g: PerspectiveBlock, d: Draft) -> None:
    hand = _PerspectiveHand(g, d)
    with d.phase("The plan"):
        hand.plan()
    with d.phase("The picture"):
        hand.picture()
        hand.vanish()
    with d.phase("The corners"):
        _, foot, top = hand.stands()
        uprights = hand.rays()
        side, near, _ = g.leads
        names = g.led
        if near not in names:
            hand.nearest_stands(foot, top)
        words = (
            f"Draw foot and top along the {side} side: the uprights of "
            f"{' and '.join(name.lower() for name in names)} cut them."
        )
        with d.as_one("Straightedge", words):
            low, high = hand.to(side, foot), hand.to(side, top)
            for name in names:
                hand.edge(name, uprights[name], low, high)
        other = "left" if side == "right" else "right"
        for name, start in g.follow:
            with d.as_one(
                "Straightedge",
                f"From {start} and {TOPS[start]} draw along the {other} side: the upright of {name.lower()} cuts them.",
            ):
                hand.edge(
                    name, uprights[name], hand.to(other, hand.spots[start]), hand.to(other, hand.spots[TOPS[start]])
                )
    with d.phase("Line in"):
        hand.line_in()


@method(
    PerspectiveBlock,
    "visual-rays",
    about="Rays to the eye in plan give what stands aside, rays in a side view "
    "give heights; no vanishing point is needed.",
    source="The visual pyramid cut by the picture plane (Alberti, Della pittura)",
)
def visual_rays(g: PerspectiveBlock, d: Draft) -> None:
    hand = _PerspectiveHand(g, d)
    with d.phase("The plan"):
        hand.plan()
    with d.phase("The picture"):
        hand.picture()
        uprights = hand.rays()
    right = float(g.seen(g.corners)[:, 0].max())
    deep = float(g.corners[:, 1].max())
    with d.phase("The side view"):
        with d.as_one("Set square", "Beside the picture draw the plane upright, as it is seen from the side."):
            start = d.on(
                hand.ground, max(right, 0.0) + deep + 2 * GAP - float(hand.ground.ends()[0][0] - hand.ground.lo), ""
            )
            plane = d.upright_from(start, role=Role.REFERENCE).extent(-BEYOND, max(g.eye_height, g.height) + BEYOND)
            level = d.meet(hand.horizon, plane)
        eye = d.lay_off(hand.horizon, level, g.distance, "S2", "On the horizon lay off the eye before it: S2.")
        hand.ground.reach(eye.here)
        rows: dict[str, Spot] = {}
        with d.as_one(
            "Dividers", "Take every corner’s depth from the plan; lay it off behind the plane, and over it the height."
        ):
            top = d.lay_off(plane, start, g.height, "", kind="plain")
            over = d.level_from(top)
            for name, spot in hand.flat.items():
                if g.behind == 0.0 and name == "A":
                    rows[name], rows[TOPS[name]] = start, top
                    continue
                taken = d.opening_along(hand.middle, spot, False)
                rows[name] = d.lay_off(hand.ground, start, taken, "", kind="plain", way=-1)
                rows[TOPS[name]] = d.lay_off(over, top, taken, "", kind="plain", way=-1)
    with d.phase("The corners"):
        for name in "ABCD":
            words = (
                f"Rays to S2 cut the plane at the heights of {name} and {TOPS[name]}: carry "
                f"both level to the upright of {name.lower()}."
            )
            with d.as_one("Straightedge", words):
                for key in (name, TOPS[name]):
                    place = rows[key]
                    on_plane = place is start or place is top
                    cut = place if on_plane else d.meet(d.rule(place, eye), plane)
                    hand.spots[key] = d.meet(d.level_from(cut), uprights[name], key)
    with d.phase("Line in"):
        hand.line_in()


@method(
    PerspectiveBlock,
    "measuring-points",
    fits=_no_lines,
    fits_given="angle",
    about="True lengths on the ground line, drawn to the measuring point, cut the line of a side where it has them.",
    source="Measuring points: the chord of equal arcs about a vanishing point (Brook Taylor)",
)
def measuring_points(g: PerspectiveBlock, d: Draft) -> None:
    hand = _PerspectiveHand(g, d)
    with d.phase("The plan"):
        hand.plan()
    with d.phase("The picture"):
        hand.picture()
        hand.vanish()
        for side, key in (("left", "ML"), ("right", "MR")):
            if side == "right" and g.one_point:
                continue
            _measuring(g, d, hand, side, key)
    with d.phase("The corners"):
        _measured(g, d, hand)
    with d.phase("Line in"):
        hand.line_in()


def _measuring(g: PerspectiveBlock, d: Draft, hand: _PerspectiveHand, side: str, key: str) -> None:
    """A measuring point: as far from the vanishing point as the eye is, swung in plan and dropped to the horizon."""
    cut = hand.middle if g.one_point else d.spots[f"cut {side}"]
    name = "VL" if side == "left" else "VR"
    with d.as_one(
        "Compass", f"About {name}’s place on the plane swing S onto the plane, and drop that to the horizon: {key}."
    ):
        arc = d.compass(cut, d.opening(cut, hand.eye), whole=False)
        way = 1.0 if side == "left" else -1.0
        swung = d.meet(arc, hand.plane, near=cut.here + point(way * float(distance(cut.here, hand.eye.here)), 0.0))
        d.meet(d.upright_from(swung, role=Role.PROJECTOR), hand.horizon, key)


def _measured(g: PerspectiveBlock, d: Draft, hand: _PerspectiveHand) -> None:
    """The corners by measure along the line that leads, and from them along the other side."""
    mark, foot, top = hand.stands()
    side, near, _ = g.leads
    spots = hand.spots
    low, high = hand.to(side, foot), hand.to(side, top)
    names = g.led
    if near not in names:
        hand.nearest_stands(foot, top)
    for name in names:
        words = (
            f"Take how far {name.lower()} stands behind that from the plan; lay it off "
            "along the ground line, and draw to the measuring "
            f"point: {name}, and {TOPS[name]} over it."
        )
        with d.as_one("Dividers", words):
            spots[name] = d.meet(_cut(d, hand, side, foot, mark, hand.flat[name]), low, name)
            spots[TOPS[name]] = d.meet(d.upright_from(spots[name]), high, TOPS[name])
    _along_the_other(g, d, hand)


def _cut(d: Draft, hand: _PerspectiveHand, side: str, foot: Spot, mark: Spot, end: Spot) -> LineMark:
    """The line to the measuring point from a true length laid off along the ground line."""
    taken = d.opening(mark, end)
    way = -1.0 if side == "left" else 1.0
    laid = d.lay_off(hand.ground, foot, taken, "", kind="plain", way=way)
    return d.rule(laid, d.spots["ML" if side == "left" else "MR"])


def _along_the_other(g: PerspectiveBlock, d: Draft, hand: _PerspectiveHand) -> None:
    """The corners of the line that follows: in plan it is produced to the plane too, and has a foot and a top of its
    own there."""
    spots, side = hand.spots, g.leads[0]
    other = "left" if side == "right" else "right"
    (first, _), (last, _) = g.follow
    # whichever of ground and top is further from the eye's level is crossed more squarely
    tops = g.eye_height < g.height / 2
    if g.behind == 0.0 and first == "A":
        with d.as_one(
            "Pencil", "The nearest corner stands on the plane: drop it, and over it measure the true height."
        ):
            drop = d.upright_from(hand.flat["A"], role=Role.PROJECTOR)
            foot = d.meet(drop, hand.ground)
            hand.nearest_stands(foot, d.lay_off(d.upright_from(foot), foot, g.height, "", kind="plain"))
        rest = [(last, g.follow[1][1])]
    else:
        words = f"In plan produce the side through {first.lower()} to the plane, and drop that: its foot there" + (
            " and its true height." if tops else "."
        )
        with d.as_one("Straightedge", words):
            mark = d.meet(d.rule(hand.flat[last], hand.flat[first]), hand.plane)
            foot = d.meet(d.upright_from(mark, role=Role.PROJECTOR), hand.ground)
        rest = list(g.follow)
    stand = (
        d.lay_off(
            d.upright_from(foot, "Draw upright there."), foot, g.height, "", "Measure the height on it.", kind="plain"
        )
        if tops
        else foot
    )
    line = hand.to(side, stand)
    for name, start in rest:
        words = (
            f"From {start} and {TOPS[start]} draw along the {other} side: {name} on "
            f"that line, and {TOPS[name]} upright with it."
        )
        with d.as_one("Straightedge", words):
            keys = (TOPS[name], name) if tops else (name, TOPS[name])
            starts = (TOPS[start], start) if tops else (start, TOPS[start])
            spots[keys[0]] = d.meet(hand.to(other, spots[starts[0]]), line, keys[0])
            spots[keys[1]] = d.meet(hand.to(other, spots[starts[1]]), d.upright_from(spots[keys[0]]), keys[1])
