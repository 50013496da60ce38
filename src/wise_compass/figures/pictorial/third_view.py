"""The third view of a solid of blocks from two: heights level from the front view, depths round a mitre line."""

from __future__ import annotations

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.figures.pictorial.built import BuiltUp
from wise_compass.figures.pictorial.built_methods import GAP, TITLES, Offsets, view_places
from wise_compass.figures.pictorial.lining import Lining
from wise_compass.geometry.block_shapes import LINES, Block
from wise_compass.geometry.vectors import Array

TAIL = " side"
RIGHT, HEIGHT = 1, 2


def _no_third(g: BuiltUp) -> str | None:
    for number, block in enumerate(g.built.blocks, 1):
        if block.axis is not None and block.axis != HEIGHT:
            return (
                f"Row {number} of rows is round along {('front', 'right')[block.axis]}: two views do not tell it point "
                "by point. Stand it upright in rows, or choose crate."
            )
    return None


@method(
    BuiltUp,
    "third-view",
    fits=_no_third,
    fits_given="rows",
    asks="Two views of a solid are given, the front view and the top view. Draw the view from the right.",
    about="Front and top view stand; heights come level from the one, depths round a mitre line from the other.",
    source="Orthographic views on planes folded flat (ISO 5456-2)",
)
def third_view(g: BuiltUp, d: Draft) -> None:
    low, high = g.built.extent
    size = high - low
    first = d.conventions.projection == "first"
    places = view_places(size, first, 2 * GAP)
    given: dict[str, Offsets] = {}
    with d.printed():
        for view in ("front", "top"):
            with d.phase(TITLES[view][0].upper() + TITLES[view][1:]):
                given[view] = sheet = Offsets(g, d, view, places[view])
                sheet.told = d.conventions.printed
                sheet.draw_axes(size)
                for number, block in enumerate(g.built.blocks, 1):
                    sheet.block(number, block, None)
                    for place in g.aslant(number):
                        sheet.spot(place)
                Lining(g, d, view, sheet.tail).draw()
    hand = _Third(g, d, given["front"], given["top"], first)
    hand.mitre(float(places["side"][0] - places["front"][0]))
    hand.carry()
    with d.phase("The view from the right"):
        for number, block in enumerate(g.built.blocks, 1):
            with d.as_one("Pencil", f"Mark the corners of block {number}, where its heights and depths cross."):
                hand.block(number, block)
        Lining(g, d, "side", TAIL).draw()


class _Third:
    """The side view on the way: the levels of its heights and the uprights of its depths."""

    def __init__(self, g: BuiltUp, d: Draft, front: Offsets, top: Offsets, first: bool) -> None:
        self.g, self.d, self.front, self.top = g, d, front, top
        self.left = first
        self.low = g.built.extent[0]
        self.levels: dict[float, LineMark] = {}
        self.uprights: dict[float, LineMark] = {}
        self.known: dict[tuple[float, float], Spot] = {}

    def mitre(self, off: float) -> None:
        """The mitre line, from where the base of the new view and that of the top view would meet."""
        d = self.d
        deep = float(self.g.built.extent[1][RIGHT] - self.low[RIGHT])
        with d.phase("The mitre line"):
            base = d.level_from(self.front.start, "Draw the base of the front view on.", length=off)
            start = d.lay_off(
                base, self.front.start, off, "O.side", "On it mark where the new view begins.", kind="plain"
            )
            turned = d.choice(
                "depths-turned-about",
                right=False,
                slip=True,
                says="The mitre line leans the other way: the view is turned about, its back in front.",
                when=deep > 1.0,
            )
            along = d.level_from(self.top.start, "Draw the base of the top view on too.", length=off)
            corner = d.meet(d.upright_from(start, "Draw upright through the mark."), along)
            with d.as_one("Set square", "Where they cross draw the mitre line at 45°.", Setting(45, "°")):
                if turned:
                    corner = d.lay_off(along, corner, deep, "", kind="plain")
                self.line = d.ray(corner, 135.0 if turned else 45.0)
            self.levels[0.0] = base
        self.start = start

    def carry(self) -> None:
        """Every height and every depth that the new view needs."""
        d = self.d
        wanted = [self._offsets(place) for place in self._places().values()]
        with d.phase("Heights and depths"):
            with d.as_one("Set square", "From the front view carry every height level across."):
                for height in sorted({height for _, height in wanted} - {0.0}):
                    spot = self._beside(self.front, HEIGHT, height)
                    self.levels[height] = d.level_from(spot, role=Role.PROJECTOR)
            with d.as_one(
                "Set square", "From the top view carry every depth level to the mitre line, and upright there."
            ):
                for depth in sorted({depth for depth, _ in wanted}):
                    spot = self._beside(self.top, RIGHT, depth)
                    turn = d.meet(d.level_from(spot, role=Role.PROJECTOR), self.line)
                    self.uprights[depth] = d.upright_from(turn, role=Role.PROJECTOR)

    def _places(self) -> dict[str, Array]:
        """Every place of the new view by its key there."""
        found: dict[str, Array] = {}
        for number, block in enumerate(self.g.built.blocks, 1):
            found |= self._of(number, block)
        return found

    def _of(self, number: int, block: Block) -> dict[str, Array]:
        places = self.g.places("picture")
        keys = [f"{letter}{number}" for letter in sorted(set(LINES.get(block.shape, "").replace(" ", "")))]
        keys += [f"V{number}"] if block.shape == "cone" else []
        found = {f"{key}{TAIL}": places[key] for key in keys}
        if block.axis is not None:
            found |= {f"{key}{TAIL}": place for key, place in self.g.rim_places(number, "side")}
        return found

    def _offsets(self, place: Array) -> tuple[float, float]:
        depth, height = self.front.key([float(place[k] - self.low[k]) for k in (RIGHT, HEIGHT)])
        return depth, height

    def _beside(self, sheet: Offsets, axis: int, off: float) -> Spot:
        """What stands at an offset in a view, on the side of the new one."""
        at = sheet.shown.index(axis)
        spots = [spot for key, spot in sheet.known.items() if key[at] == off]
        return min(spots, key=lambda spot: float(spot.here[0]) * (1 if self.left else -1))

    def block(self, number: int, block: Block) -> None:
        """The corners of a block, and what of a rim reaches furthest."""
        letters = [key for key in self._of(number, block) if "R" not in key]
        told = {letters[0], letters[-1]} if letters else set()
        for key, place in self._of(number, block).items():
            depth, height = at = self._offsets(place)
            kind = "found" if key in told else "plain"
            if at in self.known:
                self.d.also(key, self.known[at], kind)
            else:
                self.known[at] = self.d.meet(self.uprights[depth], self.levels[height], key, kind=kind)
