"""How a hand draws a solid of blocks: its picture from the crate, block on block, or on a grid; and its three views."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache
from itertools import combinations
from operator import itemgetter

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import LineMark, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import trim
from wise_compass.figures.pictorial.axes import NAMES, Axes
from wise_compass.figures.pictorial.block_views import VIEWS
from wise_compass.figures.pictorial.blocks import MOST_SPACES, SPACINGS
from wise_compass.figures.pictorial.bores import breaks_out_of
from wise_compass.figures.pictorial.built import BuiltUp
from wise_compass.figures.pictorial.lining import Lining
from wise_compass.figures.pictorial.of_blocks import OfBlocks
from wise_compass.geometry.block_shapes import CORNERS, LINES, Block
from wise_compass.geometry.vectors import Array, point

GAP = 18.0
TITLES = {"front": "the front view", "top": "the top view", "side": "the view from the right"}
STARTS = {
    "picture": "Mark O, the nearest and lowest corner of the whole.",
    "plan": "Mark the nearest corner of the whole, as seen from above.",
}
SAME = 7
"""Decimals to which two offsets are one."""
Key = tuple[float, ...]
"""The offsets of a place along the axes that are shown, rounded."""
Share = Callable[[Key], object]


@lru_cache(maxsize=8)
def shares_of(count: int, kept: int) -> tuple[Share, ...]:
    """Every choice of so many offsets of which some are kept."""
    return tuple(itemgetter(*chosen) if chosen else bool for chosen in combinations(range(count), kept))


class Offsets:
    """One picture or view on the way: what is found, by its offsets from the nearest lowest corner along the axes that
    it shows."""

    def __init__(self, g: OfBlocks, d: Draft, view: str, at: Array, spacing: float = 0.0) -> None:
        self.g, self.d, self.view, self.spacing = g, d, view, spacing
        self.axes: Axes = g.pictures[view]
        self.shown = [k for k in range(3) if self.axes.scales[k]]
        self.low = g.built.extent[0]
        self._least: list[float] = self.low.tolist()
        self._shares: list[list[tuple[Share, dict[object, tuple[int, Key]]]]] = [
            [(share, {}) for share in shares_of(len(self.shown), kept)] for kept in reversed(range(len(self.shown)))
        ]
        self.known: dict[Key, Spot] = {}
        self.true: dict[Key, list[float]] = {}
        self.lines: dict[int, LineMark] = {}
        self.tail = "" if view == "picture" else f" {view}"
        self.told = False
        """Whether the corners of a view are lettered too."""
        name = "O" if view == "picture" else f"O.{view}"
        words = STARTS.get(view, f"Mark the same corner for {TITLES.get(view, view)}.")
        self.start = d.start_at(name, float(at[0]), float(at[1]), words, kind="given" if view == "picture" else "plain")
        self._know(self._offsets(self.low), self.start)

    def _offsets(self, place: Array) -> list[float]:
        at: list[float] = place.tolist()
        return [at[k] - self._least[k] for k in self.shown]

    def _know(self, at: list[float], spot: Spot) -> None:
        """Keep a place, and that it shares each choice of its offsets with those to come."""
        key = self.key(at)
        mine = len(self.known), key
        self.known[key], self.true[key] = spot, list(at)
        for kept in self._shares:
            for share, first in kept:
                first.setdefault(share(key), mine)

    def _nearest(self, key: Key) -> Key:
        """What is known that shares most of a place's offsets; of several the first."""
        for kept in self._shares:
            found = [first[shared] for share, first in kept if (shared := share(key)) in first]
            if found:
                return min(found)[1]
        raise KeyError(key)

    @staticmethod
    def key(offsets: list[float]) -> Key:
        return tuple([round(off, SAME) + 0.0 for off in offsets])

    def draw_axes(self, size: Array, angles: Sequence[float] | None = None) -> None:
        """The axes from the nearest lowest corner; at other ``angles`` than they should, by a slip."""
        d, isometric = self.d, self.view == "picture" and getattr(self.g, "drawn", "") == "isometric"
        lean = d.choice(
            "other-corner",
            right=0.0,
            slip=30.0,
            says="The 60° corner of the set square taken for that of 30°.",
            when=isometric,
        )
        left, right = 180.0 - self.axes.angles[0], self.axes.angles[1]
        own = self.view == "picture" and getattr(self.g, "drawn", "") == "axonometric"
        way, words, set_to = "Set square", "Draw its axes from there.", []
        if own:
            way, set_to = "Protractor", [Setting(left, "°"), Setting(right, "°")]
            words = f"Draw its axes from there, at {trim(left)}° to the left and {trim(right)}° to the right."
        with d.as_one(way, words, *set_to):
            for k in self.shown:
                turned = lean * (1 if k == 1 else -1) if isometric and k < 2 else 0.0
                self.lines[k] = d.ray(
                    self.start, (angles or self.axes.angles)[k] + turned, length=float(size[k]) * self.axes.scales[k]
                )

    def spot(self, place: Array, name: str = "", kind: str = "plain", among: list[Key] | None = None) -> Spot:
        """A place, reached from what is known already that shares most of its offsets, along the axes."""
        want = self._offsets(place)
        key = self.key(want)
        if key in self.known:
            spot = self.known[key]
            if name and name not in self.d.spots:
                self.d.also(name, spot, kind)
            return spot
        start = max(among, key=lambda other: sum(a == b for a, b in zip(key, other))) if among else self._nearest(key)
        spot, at = self.known[start], list(self.true[start])
        steps = [k for k in range(len(key)) if key[k] != start[k]]
        for k in steps:
            by, at[k] = want[k] - at[k], want[k]
            last = k == steps[-1]
            axis = self.shown[k]
            line = self.lines[axis] if spot is self.start else self.d.parallel_to(self.lines[axis], spot)
            spot = self._off(line, spot, axis, by, name if last else "", kind if last else "plain")
            self._know(at, spot)
        return spot

    def _off(self, line: LineMark, spot: Spot, axis: int, by: float, name: str, kind: str) -> Spot:
        if self.spacing:
            count = round(by / self.spacing)
            return self.d.step_along(line, spot, self.spacing, count, [""] * (abs(count) - 1) + [name], kind=kind)[-1]
        return self.d.lay_off(line, spot, by * self.axes.scales[axis], name, kind=kind)

    def crate(self) -> list[Key]:
        """The whole crate: its corners, and their keys."""
        low, high = self.g.built.extent
        with self.d.as_one("Rule", "Lay off the overall sizes along the axes, and draw the crate round the whole."):
            for corner in CORNERS:
                self.spot(low + corner * (high - low))
        return list(self.known)

    def block(self, number: int, block: Block, among: list[Key] | None) -> None:
        """A block's corners, or the places of its rims."""
        d = self.d
        label = "found" if self.view == "picture" or self.told else "plain"
        where = ", ".join(f"{NAMES[k]} {trim(block.low[k] - self.low[k])}" for k in self.shown)
        breaks_out = block.is_hole and breaks_out_of(block, self.g.built)
        part = "; it breaks out of a side, and only what lies within is lined in later" if breaks_out else ""
        says = f"Row {number}, a {block.shape}: its corner at {where}, then its sizes{part}."
        with d.as_one(
            "Dividers" if self.spacing else "Rule", says, why=self.g.says_scale if self.view == "picture" else ""
        ):
            places = self.g.places("picture")
            letters = sorted(set(LINES.get(block.shape, "").replace(" ", "")))
            told = {letters[0], letters[-1]} if letters else set()
            for letter in letters or "A":
                key = f"{letter}{number}{self.tail}" if letters else ""
                place = places[f"{letter}{number}"] if letters else block.corner(letter)
                self.spot(place, key, label if letter in told else "plain", among if letter == "A" else None)
            if block.axis is None:
                return
            for key, place in self.g.rim_places(number, self.view):
                self.spot(place, f"{key}{self.tail}")
            if block.shape == "cone":
                self.spot(places[f"V{number}"], f"V{number}{self.tail}")


def _draw(g: BuiltUp, d: Draft, way: str, spacing: float = 0.0) -> None:
    low, high = g.built.extent
    size = high - low
    with d.phase("The axes"):
        sheet = Offsets(g, d, "picture", point(0.0, 0.0), spacing)
        sheet.draw_axes(size)
    among = None
    if way == "crate":
        with d.phase("The crate"):
            among = sheet.crate()
    with d.phase("The blocks"):
        raised = d.choice(
            "on-the-ground",
            right=False,
            slip=True,
            says="A block that stands on another set on the ground.",
            when=any(block.low[2] > low[2] for block in g.built.solid),
        )
        for number, block in enumerate(g.built.blocks, 1):
            if raised and not block.is_hole and block.low[2] > low[2]:
                _sunk(sheet, number, block)
                continue
            sheet.block(number, block, among)
    with d.phase("Line in"):
        Lining(g, d, sheet.view, sheet.tail).draw(d.conventions.shows_hidden(True))
    three_views(g, d, float(g.axes.at(CORNERS * size)[:, 0].min()))


def _sunk(sheet: Offsets, number: int, block: Block) -> None:
    """A block drawn on the ground, as a hand does that forgets what it stands on."""
    low = float(sheet.low[2])
    places = sheet.g.places("picture")
    down = np.array([0.0, 0.0, block.low[2] - low])
    with sheet.d.as_one("Rule", f"Row {number}, a {block.shape}."):
        for key, place in places.items():
            if key.lstrip("ABCDEFGHV").split("R")[0] == str(number):
                sheet.spot(place - down, key)


def three_views(g: BuiltUp, d: Draft, beside: float) -> None:
    """Front, top and side view, left of what is drawn already, as the angle of projection places them."""
    low, high = g.built.extent
    size = high - low
    places = view_places(size, d.conventions.projection == "first", beside)
    for view in VIEWS:
        with d.phase(TITLES[view][0].upper() + TITLES[view][1:]):
            sheet = Offsets(g, d, view, places[view])
            sheet.draw_axes(size)
            for number, block in enumerate(g.built.blocks, 1):
                sheet.block(number, block, None)
            Lining(g, d, sheet.view, sheet.tail).draw()


def view_places(size: Array, first: bool, beside: float) -> dict[str, Array]:
    """Where the nearest lowest corner is seen in each view, all of them left of ``beside``."""
    front_x = beside - 2 * GAP - (0.0 if first else GAP + float(size[1]))
    return {
        "front": point(front_x, 0.0),
        "top": point(front_x, -GAP - float(size[1]) if first else float(size[2]) + GAP),
        "side": point(front_x - float(size[0]) - GAP - float(size[1]) if first else front_x + GAP, 0.0),
    }


@method(
    BuiltUp,
    "crate",
    about="The crate round the whole first; every block from the crate’s edges by its offsets.",
    source="Axonometric projection on three axes (ISO 5456-3); orthographic views (ISO 5456-2)",
)
def crate(g: BuiltUp, d: Draft) -> None:
    _draw(g, d, "crate")


@method(
    BuiltUp,
    "stack",
    about="Block on block: each from the nearest corner that stands already.",
    source="Axonometric projection on three axes (ISO 5456-3); orthographic views (ISO 5456-2)",
)
def stack(g: BuiltUp, d: Draft) -> None:
    _draw(g, d, "stack")


def _spacing(g: BuiltUp) -> float | None:
    low = g.built.extent[0]
    every = np.array([x for block in g.built.blocks for k in range(3) for x in (block.low[k] - low[k], block.size[k])])
    for spacing in SPACINGS:
        counts = every / spacing
        if float(np.abs(counts - np.round(counts)).max()) < 1e-9 and float(counts.max()) <= MOST_SPACES:
            return spacing
    return None


def _no_grid(g: BuiltUp) -> str | None:
    if g.drawn != "isometric" or g.scale != "true":
        return (
            "The grid is an isometric one at true lengths. Set drawn to isometric and scale to true, or choose crate."
        )
    if any(block.axis is not None for block in g.built.blocks):
        return (
            "On the grid only boxes, wedges and ramps are counted out. Take the "
            "round rows out of rows, or choose crate."
        )
    if _spacing(g) is None:
        return (
            f"On a grid all numbers of rows are whole spaces, at most {MOST_SPACES}. Round "
            "them to whole millimetres, or choose crate."
        )
    return None


@method(
    BuiltUp,
    "dot-grid",
    fits=_no_grid,
    fits_given="rows",
    about="On isometric paper: every offset and every size counted in spaces.",
    source="Isometric grid of equal triangles",
)
def dot_grid(g: BuiltUp, d: Draft) -> None:
    spacing = _spacing(g)
    assert spacing is not None
    _draw(g, d, "stack", spacing)
