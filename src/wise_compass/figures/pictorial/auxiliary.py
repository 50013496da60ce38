"""A solid of blocks seen square to one of its slopes."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Count
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.places import Blocks
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, bare_area, trim
from wise_compass.figures.pictorial.axes import Axes
from wise_compass.figures.pictorial.block_views import VIEWS
from wise_compass.figures.pictorial.built_methods import GAP, TITLES, Offsets
from wise_compass.figures.pictorial.lining import Lining
from wise_compass.figures.pictorial.of_blocks import MOST, ROWS_SAY, SHAPES, OfBlocks, known_edges
from wise_compass.geometry.block_cuts import Cut
from wise_compass.geometry.block_edges import EdgePiece, pieces_for
from wise_compass.geometry.block_lines import Eye
from wise_compass.geometry.block_shapes import LINES, Block
from wise_compass.geometry.blocks import Built
from wise_compass.geometry.vectors import Array, Number, distance, point

AUX = "aux"
TAIL = f" {AUX}"
CLEAR = 14.0
"""mm between the front view and the line that the view is folded on."""
FACE = ("E", "B", "C", "H")
"""The corners of a ramp's slope: its upper edge and its lower one."""


class AuxiliaryView(OfBlocks, id="auxiliary-view", family="roofs", title="View square to a slope"):
    keys = ("B", "C", "E", "H", "O.front", "O.top")
    brief = "The solid built up of {rows}, seen square to the slope of row {row}, found with {method}."
    summary = "A slope's true shape: a view folded along its edge view, with the whole solid in it."
    value_names = ("incline", "view_along", "view_across", "view_deep", "face_long", "face_wide", "face_area")

    rows = Blocks(
        (("box", 0, 0, 0, 70, 40, 10), ("ramp", 10, 5, 10, 50, 30, 30), ("hole", 22, 13, 10, 14, 14, 40)),
        ROWS_SAY,
        SHAPES,
        MOST,
    )
    row = Count(2, "the row of the ramp whose slope is seen", 1, MOST)

    def refuse(self) -> None:
        self.refuse_rows()
        ramps = [k for k, block in enumerate(self.built.blocks, 1) if block.shape == "ramp"]
        if not ramps:
            raise Refused("rows", "No row of rows is a ramp, so there is no slope to look at. Add one.")
        if self.row not in ramps:
            where = (
                f"rows {', '.join(map(str, ramps))}. Set row to one of them"
                if ramps[1:]
                else f"row {ramps[0]}. Set row to {ramps[0]}"
            )
            what = self.built.blocks[self.row - 1].shape if self.row <= len(self.built.blocks) else "missing"
            raise Refused(
                "row",
                f"Row {self.row} of rows is {what}; {'the ramps are' if ramps[1:] else 'the only ramp is'} in {where}.",
            )

    @property
    def ramp(self) -> Block:
        return self.built.blocks[self.row - 1]

    @property
    def incline(self) -> float:
        """Of the slope to level, in degrees."""
        return float(np.degrees(np.arctan2(self.ramp.size[2], self.ramp.size[0])))

    @property
    def frame(self) -> tuple[Array, Array, Array]:
        """Down the slope, across it, and square out of it, in space."""
        c, s = np.cos(np.deg2rad(self.incline)), np.sin(np.deg2rad(self.incline))
        return np.array([c, 0.0, -s]), np.array([0.0, 1.0, 0.0]), np.array([s, 0.0, c])

    def extent_along(self, way: Array) -> tuple[float, float]:
        """From where to where the whole solid reaches along a direction, holes not counted."""
        low, high = np.inf, -np.inf
        for block in self.built.solid:
            if block.axis is None:
                at = block.corners("".join(sorted(set(LINES[block.shape].replace(" ", ""))))) @ way
                low, high = min(low, float(at.min())), max(high, float(at.max()))
                continue
            (i, j), k = block.plane, block.axis
            middle = np.array(block.low) + np.array(block.size) / 2
            wide = float(np.hypot(block.size[i] / 2 * way[i], block.size[j] / 2 * way[j]))
            for end in (0.0, 1.0):
                at_end = middle.copy()
                at_end[k] = block.low[k] + end * block.size[k]
                off = 0.0 if block.shape == "cone" and end else wide
                low, high = min(low, float(at_end @ way) - off), max(high, float(at_end @ way) + off)
        return low, high

    @property
    def bored(self) -> float:
        """How much of the ramp's plan upright holes take that reach its slope, in plan."""
        ramp = self.ramp
        plan = Block("box", (ramp.low[0], ramp.low[1], 0.0), (ramp.size[0], ramp.size[1], 1.0))
        holes = [block for block in self.built.blocks if block.shape == "hole" and self._reaches(block)]
        if not holes:
            return 0.0
        drilled = [
            hole._replace(low=(hole.low[0], hole.low[1], -1.0), size=(hole.size[0], hole.size[1], 3.0))
            for hole in holes
        ]
        cut = Cut(Built((plan, *drilled)), 2, 0.5, 0, ramp.low[0], ramp.low[0] + ramp.size[0])
        return ramp.size[0] * ramp.size[1] - cut.area

    def _reaches(self, hole: Block) -> bool:
        """Whether an upright hole goes through the slope: both over its highest and under its lowest place there."""
        ramp = self.ramp
        rise = ramp.size[2] / ramp.size[0]
        first, last = max(hole.low[0], ramp.low[0]), min(hole.low[0] + hole.size[0], ramp.low[0] + ramp.size[0])
        top = ramp.low[2] + ramp.size[2] - rise * (first - ramp.low[0])
        bottom = ramp.low[2] + ramp.size[2] - rise * (last - ramp.low[0])
        return first < last and hole.low[2] < top and hole.low[2] + hole.size[2] > bottom

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        long, wide, high = (bare(size) for size in self.ramp.size)
        yield Value(
            "incline", self.incline, "°", f"arctan({high} / {long})", (f"B{self.row} front", f"E{self.row} front")
        )
        down, across, out = self.frame
        for name, way, words in (
            ("view_along", down, "… from the outermost place to the outermost, down the slope"),
            ("view_across", across, "… and across it"),
            ("view_deep", out, "… and square to it"),
        ):
            low, top = self.extent_along(way)
            yield Value(name, top - low, "mm", words)
        face = float(np.hypot(self.ramp.size[0], self.ramp.size[2]))
        marks = FACE
        yield Value("face_long", face, "mm", f"√({long}² + {high}²)", marks[:2])
        yield Value("face_wide", self.ramp.size[1], "mm", wide, marks[1:3])
        gone = self.bored / float(np.cos(np.deg2rad(self.incline)))
        words = f"{bare(face)} × {wide}" + (f" − {bare_area(self.bored)} / cos {trim(self.incline)}°" if gone else "")
        yield Value("face_area", face * self.ramp.size[1] - gone, "mm²", words, marks)

    def measure(self, found: Found) -> dict[str, Number]:
        corners = {letter: found[letter] for letter in FACE}
        u = found[f"E{self.row} front"] - found[f"B{self.row} front"]
        return {
            "incline": np.degrees(np.arctan2(np.abs(u[..., 1]), np.abs(u[..., 0]))),
            "face_long": distance(corners["E"], corners["B"]),
            "face_wide": distance(corners["B"], corners["C"]),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        low = self.built.extent[0]
        for view in ("front", "top"):
            axes, start = VIEWS[view], found[f"O.{view}"]
            off = [found[key] - start - axes.at(at - low) for key, at in self.places(view).items() if key in found]
            yield Truth(
                f"Every corner and every place of a rim stands where its offsets put it in the {view} view",
                np.array(off),
            )
        there = {key: at for key, at in self.places(AUX).items() if key in found}
        first = next(iter(there))
        axes = self.pictures[AUX]
        off = [found[key] - found[first] - axes.at(at - there[first]) for key, at in there.items()]
        yield Truth(
            "Seen square to the slope every place stands as far down it and across it as in space", np.array(off)
        )

    # the views

    @cached_property
    def pictures(self) -> dict[str, Axes]:
        lean = self.incline
        c, s = float(np.cos(np.deg2rad(lean))), float(np.sin(np.deg2rad(lean)))
        return {"front": VIEWS["front"], "top": VIEWS["top"], AUX: Axes((180.0 + lean, 90.0 + lean, lean), (c, 1.0, s))}

    def pieces(self, view: str) -> Sequence[EdgePiece]:
        if view != AUX:
            return super().pieces(view)
        known, sight = known_edges(self.built), (tuple(self.frame[2].tolist()), False)
        if sight not in known:
            known[sight] = pieces_for(self.built, [Eye(self.frame[2], False)])[0]
        return known[sight]


class Folded:
    """The view on the way: every place carried square over the fold, its depth taken from the plan."""

    def __init__(self, g: AuxiliaryView, d: Draft, front: Offsets, fold: LineMark, wrong: bool) -> None:
        self.g, self.d, self.front, self.fold, self.wrong = g, d, front, fold, wrong
        self.low = g.built.extent[0]
        self.known: dict[tuple[float, ...], Spot] = {}

    def spot(self, key: str, place: Array) -> Spot:
        d = self.d
        at = tuple(np.round(place, 7).tolist())
        if at in self.known:
            return d.also(key, self.known[at], "plain")
        seen = self.front.spot(place)
        ray = d.square_to(self.fold, seen, role=Role.PROJECTOR)
        base = d.meet(ray, self.fold)
        way = 1.0 if float(np.dot(ray.u.reshape(-1, 2)[0], self.g.pictures[AUX].vectors[1])) > 0 else -1.0
        deep = float(place[2] - self.low[2] if self.wrong else place[1] - self.low[1])
        spot = d.also(key, base, "plain") if deep < 1e-9 else d.lay_off(ray, base, way * deep, key, kind="plain")
        self.known[at] = spot
        return spot


@method(
    AuxiliaryView,
    "fold-along",
    about="The slope on edge in the front view; a view folded along it, depths carried over from the plan.",
    source="Change of planes (Monge); auxiliary views after ISO 5456-2",
)
def by_folding(g: AuxiliaryView, d: Draft) -> None:
    first = d.conventions.projection == "first"
    low, high = g.built.extent
    size = high - low
    lift = -GAP - float(size[1]) if first else float(size[2]) + GAP
    if not first:
        lift += _reach_up(g)
    sheets = {}
    for view, at in (("front", point(0.0, 0.0)), ("top", point(0.0, lift))):
        with d.phase(TITLES[view][0].upper() + TITLES[view][1:]):
            sheet = sheets[view] = Offsets(g, d, view, at)
            sheet.draw_axes(size)
            for number, block in enumerate(g.built.blocks, 1):
                sheet.block(number, block, None)
            Lining(g, d, view, sheet.tail).draw()
    wrong = d.choice(
        "height-for-depth", right=False, slip=True, says="Heights are carried into the new view, where depths belong."
    )
    with d.phase("The view along the slope"):
        upper, lower = (d.spots[f"{letter}{g.row} front"] for letter in "EB")
        edge = d.rule(upper, lower, "Take the slope’s edge in the front view.")
        out = g.frame[2]
        reach = max(float(place @ out) for place in g.places("front").values())
        off = reach - float(g.ramp.corner("E") @ out) + CLEAR
        square = d.square_to(edge, upper, "Square to it draw a line from its upper end, for the place of the fold.")
        away = g.pictures[AUX].vectors[1]
        way = 1.0 if float(np.dot(square.u.reshape(-1, 2)[0], away)) > 0 else -1.0
        through = d.lay_off(
            square, upper, way * off, "", "Well clear of the front view mark where it is folded.", kind="plain"
        )
        fold = d.parallel_to(edge, through, "There draw the fold line, parallel to the slope’s edge.", Role.REFERENCE)
        folded = Folded(g, d, sheets["front"], fold, wrong)
        for number, block in enumerate(g.built.blocks, 1):
            says = f"Carry row {number} square over the fold; beyond it lay off how deep each place lies in the plan."
            with d.as_one("Dividers", says):
                _block(g, folded, number, block)
        with d.as_one("Pencil", "Letter the corners of the slope: E and H above, B and C below."):
            for letter in FACE:
                d.also(letter, d.spots[f"{letter}{g.row}{TAIL}"])
        Lining(g, d, AUX, TAIL).draw()


def _reach_up(g: AuxiliaryView) -> float:
    """How far the view along the slope reaches over the front view."""
    axes, low = g.pictures[AUX], g.built.extent[0]
    at = np.array([axes.at(place - low) for place in g.places(AUX).values()])
    return float(at[:, 1].max()) + CLEAR + float(g.built.extent[1][2] - low[2])


def _block(g: AuxiliaryView, sheet: Folded, number: int, block: Block) -> None:
    places = g.places(AUX)
    for letter in sorted(set(LINES.get(block.shape, "").replace(" ", ""))):
        key = f"{letter}{number}{TAIL}"
        sheet.spot(key, places[key])
    if block.axis is not None:
        for key, place in g.rim_places(number, AUX):
            sheet.spot(f"{key}{TAIL}", place)
        if block.shape == "cone":
            sheet.spot(f"V{number}{TAIL}", places[f"V{number}{TAIL}"])
