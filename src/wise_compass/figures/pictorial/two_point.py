"""How a hand draws a solid of blocks in two-point perspective: from its plan and a side view, by rays to the eye in
both."""

from __future__ import annotations

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.figures.pictorial.built import BuiltUp
from wise_compass.figures.pictorial.built_methods import Offsets, three_views
from wise_compass.figures.pictorial.lining import Lining
from wise_compass.figures.pictorial.stations import right_side_at
from wise_compass.geometry.block_shapes import CORNERS
from wise_compass.geometry.vectors import Array, point

BEYOND, GAP = 10.0, 16.0
Flat = tuple[float, ...]
"""How far a place is from the nearest corner along front and right, rounded."""


class _TwoPointHand:
    """The perspective on the way."""

    plane: LineMark
    sight: LineMark
    eye: Spot
    horizon: LineMark
    ground: LineMark
    stand: LineMark
    beside: Spot
    eye_beside: Spot

    def __init__(self, g: BuiltUp, d: Draft) -> None:
        self.g, self.d = g, d
        low, high = g.built.extent
        self.low, self.size = low, high - low
        self.seen = np.array([g.station.seen(low + corner * self.size) for corner in CORNERS])
        self.flat = Offsets(g, d, "plan", point(0.0, 0.0))
        self.places: dict[int, list[tuple[str, Array]]] = {}
        for key, place in g.places("picture").items():
            self.places.setdefault(_row_of(key), []).append((key, place))
        self.uprights: dict[Flat, LineMark] = {}
        self.levels: dict[float, tuple[Spot, LineMark]] = {}
        self.found: dict[Flat, Spot] = {}

    def plan(self) -> None:
        """The solid as seen from above, the picture plane through its nearest corner, and the eye before it."""
        g, d = self.g, self.d
        turned = right_side_at(d, g.angle)
        start = self.flat.start
        across = self.flat.axes.at(CORNERS * self.size)[:, 0]
        self.plane = d.level_from(start, "Draw the picture plane level through it.", role=Role.REFERENCE)
        self.plane.extent(float(across.min()) - BEYOND, float(across.max()) + BEYOND)
        self.flat.draw_axes(self.size, (90.0 + turned, turned, 90.0))
        for number, block in enumerate(g.built.blocks, 1):
            self.flat.block(number, block, None)
        Lining(g, d, "plan", self.flat.tail).draw(hidden=False)
        self.sight = d.upright_from(start, "Draw the line of sight square to the plane.", role=Role.CENTRE).extent(
            -g.distance, 0.0
        )
        self.eye = d.lay_off(
            self.sight, start, -g.distance, "S", "Lay off the distance of the eye before the plane: S."
        )

    def picture(self) -> None:
        """The horizon, the ground as far below it as the eye is high, and an upright for every place of the plan."""
        g, d = self.g, self.d
        low, high = float(self.seen[:, 0].min()) - BEYOND, float(self.seen[:, 0].max()) + BEYOND
        words = "Clear of the plan mark the level of the horizon on the line of sight."
        centre = d.lay_off(self.sight, self.flat.start, g.horizon, "", words, kind="plain")
        self.horizon = d.level_from(centre, "Draw the horizon level.", role=Role.CENTRE).extent(low, high)
        raised = d.choice(
            "eye-at-the-top",
            right=g.eye_height,
            slip=g.eye_height - float(self.size[2]),
            says="The eye’s height measured from the top of the solid.",
        )
        foot = d.lay_off(self.sight, centre, -raised, "", "Lay off below it how high the eye is.", kind="plain")
        self.ground = d.level_from(foot, "Draw the ground line level.", role=Role.REFERENCE).extent(low, high)
        words = "From every place of the plan draw a ray to the eye, and drop from where it cuts the plane."
        with d.as_one("Straightedge", words):
            for key, spot in self.flat.known.items():
                cut = spot if spot is self.flat.start else d.meet(d.rule(spot, self.eye), self.plane)
                self.uprights[key] = d.upright_from(cut, role=Role.PROJECTOR)

    def side_view(self) -> None:
        """The plane seen from the side, and the eye before it, on the horizon."""
        g, d = self.g, self.d
        deep = float(self.flat.axes.at(CORNERS * self.size)[:, 1].max())
        start = float(self.ground.ends()[0][0]) - self.ground.lo
        far = float(self.seen[:, 0].max()) + deep + 2 * GAP
        with d.as_one("Set square", "Beside the picture draw the plane upright, as it is seen from the side."):
            self.beside = d.on(self.ground, far - start, "")
            self.stand = d.upright_from(self.beside, role=Role.REFERENCE)
            self.stand.extent(-BEYOND, max(g.eye_height, float(self.size[2])) + BEYOND)
            level = d.meet(self.horizon, self.stand)
        self.levels[0.0] = self.beside, self.ground
        self.eye_beside = d.lay_off(
            self.horizon, level, g.distance, "S2", "On the horizon lay off the eye before it: S2."
        )
        self.ground.reach(self.eye_beside.here)

    def block(self, number: int) -> None:
        """The places of a block: depth and height in the side view, the ray’s cut carried to the upright."""
        block = self.g.built.blocks[number - 1]
        words = (
            f"Row {number}, a {block.shape}: take depths from the plan, lay them off behind the "
            "plane at their heights; rays to S2 cut the plane, "
            "and levels from there meet the uprights."
        )
        with self.d.as_one("Dividers", words):
            for key, place in self.places[number]:
                self._spot(key, place, "found" if key[0] in "AG" else "plain")

    def _spot(self, key: str, place: Array, kind: str) -> None:
        d, off = self.d, (place - self.low).tolist()
        flat, high = self.flat.key(off[:2]), self.flat.key(off[2:])[0]
        where = (*flat, high)
        if where in self.found:
            d.also(key, self.found[where], kind)
            return
        if high not in self.levels:
            stands = d.lay_off(self.stand, self.beside, off[2], "", kind="plain")
            self.levels[high] = stands, d.level_from(stands)
        (on_plane, level), spot = self.levels[high], self.flat.known[flat]
        cut = on_plane
        if spot is not self.flat.start:
            taken = d.opening_along(self.flat.start, spot, False)
            laid = d.lay_off(level, on_plane, taken, "", kind="plain", way=-1)
            cut = d.meet(d.rule(laid, self.eye_beside), self.stand)
        self.found[where] = d.meet(d.level_from(cut), self.uprights[flat], key, kind=kind)


def _row_of(key: str) -> int:
    """The row that a place is of: ``A12`` and ``V12`` of row 12, ``12R0x3`` too."""
    return int(key.lstrip("ABCDEFGHV").split("R")[0])


@method(
    BuiltUp,
    "visual-rays",
    about="Two-point perspective: rays to the eye in plan give what stands aside, rays in a side view give heights.",
    source="The visual pyramid cut by the picture plane (Alberti, Della pittura)",
)
def visual_rays(g: BuiltUp, d: Draft) -> None:
    with d.phase("The plan"):
        hand = _TwoPointHand(g, d)
        hand.plan()
    with d.phase("The picture"):
        hand.picture()
    with d.phase("The side view"):
        hand.side_view()
    with d.phase("The blocks"):
        for number in range(1, len(g.built.blocks) + 1):
            hand.block(number)
    with d.phase("Line in"):
        Lining(g, d, "perspective", "").draw(d.conventions.shows_hidden(False))
    three_views(g, d, min(float(hand.seen[:, 0].min()), float(hand.plane.ends()[0][0])))
