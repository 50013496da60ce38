"""How a hand draws a section: plan and cutting plane, what the plane meets, hatching, and what lies behind."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.wording import mm
from wise_compass.figures.pictorial.axes import NAMES
from wise_compass.figures.pictorial.block_views import VIEWS
from wise_compass.figures.pictorial.built_methods import GAP, TITLES, Offsets
from wise_compass.figures.pictorial.lining import Lining, line_of
from wise_compass.figures.pictorial.sections import SectionView
from wise_compass.geometry.block_cuts import Cell, Cut
from wise_compass.geometry.block_shapes import Level
from wise_compass.geometry.vectors import Array, point

BEYOND = 7.0
"""mm by which the cutting plane is drawn past the solid."""
ARROW, HEAD = 7.0, 2.0
APART = 3.0
"""mm between two lines of the hatch."""
ACROSS = 72
"""Places across a column at which its sides are looked at for where hatch lines end."""
SAME = 1e-9


class Column(NamedTuple):
    """The cells over one stretch of the plane, by their cut."""

    first: float
    last: float
    cut: Cut
    cells: list[Cell]

    def levels(self, at: Array) -> list[tuple[Array, Array]]:
        """The levels of the lower and the upper side of every cell over places (n,) along the plane, (n,) each."""
        low, high = self.cut.levels(at)
        return [
            (
                (high if cell.below.upper else low)[cell.below.block],
                (high if cell.above.upper else low)[cell.above.block],
            )
            for cell in self.cells
        ]


def columns_of(g: SectionView) -> list[Column]:
    """The cells of all stretches in columns, in order along the plane."""
    found = []
    for cut, cells in zip(g.cuts, g.cells):
        for (first, last), group in groupby(cells, key=lambda cell: (cell.first, cell.last)):
            found.append(Column(first, last, cut, list(group)))
    return found


def _ends(column: Column, last: bool) -> list[tuple[float, float]]:
    """The levels that a column's cells take at one of its ends."""
    inset = 1e-12 * (column.last - column.first)
    at = np.array([column.last - inset if last else column.first + inset])
    ends = [(float(low[0]), float(high[0])) for low, high in column.levels(at)]
    return [(low, high) for low, high in ends if np.isfinite(low) and np.isfinite(high)]


def _differing(
    one: list[tuple[float, float]], other: list[tuple[float, float]], near: float
) -> list[tuple[float, float]]:
    """Where along a line just one of two sets of stretches is."""
    cuts = sorted({round(x, 9) for pair in (*one, *other) for x in pair})
    found: list[tuple[float, float]] = []
    for a, b in zip(cuts, cuts[1:]):
        middle = (a + b) / 2
        here = [any(low < middle < high for low, high in each) for each in (one, other)]
        if b - a > near and here[0] != here[1]:
            found.append((found.pop()[0], b) if found and abs(found[-1][1] - a) < near else (a, b))
    return found


class SectionLining(Lining):
    """Lines in what is cut, its hatch, and behind it what is seen."""

    g: SectionView

    def __init__(self, g: SectionView, d: Draft, sheet: Offsets, seen: SectionView) -> None:
        """``seen`` is what the hand takes for solid."""
        super().__init__(g, d, sheet.view, sheet.tail)
        self.sheet, self.seen, self.columns = sheet, seen, columns_of(seen)
        self.near = 1e-7 * g.built.span

    def outline(self) -> None:
        """What bounds the section, each line once."""
        straight = [*self._sides(), *self._borders()]
        merged: dict[object, list[tuple[float, float, Array, Array]]] = {}
        for a, b in straight:
            flat = np.array([a, b]) @ VIEWS[self.view].vectors
            laid = line_of(flat[0].tolist(), (flat[1] - flat[0]).tolist(), self.g.built.span)
            if laid is None:
                continue
            on, first, turned = laid
            ends = sorted(((first, a), (first + turned, b)), key=lambda end: end[0])
            merged.setdefault(on, []).append((ends[0][0], ends[1][0], ends[0][1], ends[1][1]))
        for on, rows in merged.items():
            rows.sort(key=lambda row: row[0])
            runs: list[tuple[float, float, Array, Array]] = []
            for low, high, a, b in rows:
                if runs and low <= runs[-1][1] + self.near:
                    if high > runs[-1][1]:
                        runs[-1] = (runs[-1][0], high, runs[-1][2], b)
                else:
                    runs.append((low, high, a, b))
            for low, high, a, b in runs:
                self.d.line_in([self.sheet.spot(a), self.sheet.spot(b)])
                self.covered.setdefault(on, []).append((low, high))
        self._rounds()

    def _sides(self) -> Iterator[tuple[Array, Array]]:
        """The straight lower and upper sides of all cells, in space."""
        for column in self.columns:
            inset = 1e-12 * (column.last - column.first)
            at = np.array([column.first + inset, column.last - inset])
            for cell, sides in zip(column.cells, column.levels(at)):
                for bound, levels in zip((cell.below, cell.above), sides):
                    if self.g.straight(column.cut, bound) and np.isfinite(levels).all():
                        places = column.cut.place(np.round(at, 11), np.round(levels, 11))
                        yield places[0], places[1]

    def _borders(self) -> Iterator[tuple[Array, Array]]:
        """Upright borders: where one column has something that its neighbour has not; no line at a bend."""
        for k in range(len(self.columns) + 1):
            left = self.columns[k - 1] if k else None
            right = self.columns[k] if k < len(self.columns) else None
            if left is not None and right is not None and right.first - left.last > self.near:
                yield from self._border(left, None)
                yield from self._border(None, right)
            else:
                yield from self._border(left, right)

    def _border(self, left: Column | None, right: Column | None) -> Iterator[tuple[Array, Array]]:
        one, other = (_ends(left, True) if left else []), (_ends(right, False) if right else [])
        column = left or right
        if column is None:
            return
        at = left.last if left else column.first
        if (left is None or right is None) and self.ends_inside(at):
            return
        for low, high in _differing(one, other, self.near):
            places = column.cut.place(np.array([at, at]), np.array([low, high]))
            yield places[0], places[1]

    def ends_inside(self, at: float) -> bool:
        """Whether the plane itself ends there within the solid, as that of a half section does."""
        low, high = (float(end[self.g.axis]) for end in self.g.built.extent)
        ends = [end for cut in self.g.cuts for end in (cut.first, cut.last)]
        meets = sum(abs(end - at) < self.near for end in ends)
        return meets == 1 and low + self.near < at < high - self.near

    def halves(self) -> None:
        """The centre lines at which a half section ends."""
        low, high = self.g.built.extent
        for at in dict.fromkeys(end for cut in self.g.cuts for end in (cut.first, cut.last)):
            if self.ends_inside(at):
                ends = self.columns[0].cut.place(np.array([at, at]), np.array([float(low[2]), float(high[2])]))
                flat = [self.sheet.start.here + VIEWS[self.view].at(end - low) for end in ends]
                spots = [self.d.plot("", float(x), float(y), kind="plain") for x, y in flat]
                self.d.line_in(spots, role=Role.CENTRE)

    def _rounds(self) -> None:
        """The curved sides: arcs of rims that the plane runs along, and hyperbolas by points."""
        for n, curve in enumerate(self.seen.hyperbolas):
            places = curve.at(np.linspace(0.0, 360.0, self.seen.parted(curve) + 1))
            self.d.curve([self.sheet.spot(place, f"X{n}x{k}") for k, place in enumerate(places)])
        arcs: dict[int, list[tuple[float, float]]] = {}
        for column in self.columns:
            for cell in column.cells:
                for bound in (cell.below, cell.above):
                    block = self.g.built.blocks[bound.block]
                    if block.shape == "cone" or self.g.straight(column.cut, bound):
                        continue
                    axis = self.g.axis
                    middle, half = block.low[axis] + block.size[axis] / 2, block.size[axis] / 2
                    turns = [
                        float(np.degrees(np.arccos(np.clip((x - middle) / half, -1.0, 1.0))))
                        for x in (column.last, column.first)
                    ]
                    if not bound.upper:
                        turns = [360.0 - turn for turn in reversed(turns)]
                    arcs.setdefault(bound.block, []).append((turns[0] / 360.0, turns[1] / 360.0))
        for number, spans in arcs.items():
            line = next(
                one.line
                for one in super(SectionView, self.g).pieces(self.view)
                if one.line.block == number and one.line.kind == "rim"
            )
            spans.sort()
            runs: list[tuple[float, float]] = []
            for low, high in spans:
                if runs and low <= runs[-1][1] + 1e-9:
                    runs[-1] = (runs[-1][0], max(high, runs[-1][1]))
                else:
                    runs.append((low, high))
            flat, span = VIEWS[self.view].vectors, self.g.built.span
            on = tuple((np.round(np.array([line.start, line.one, line.other]) @ flat / span, 6) + 0.0).ravel().tolist())
            for low, high in runs:
                whole = high - low > 1 - 1e-6
                end = float(self.g.round) if whole else high * self.g.round
                self.d.piece(self._rim(number + 1, Level(0.0)), low * self.g.round, end)
                self.covered.setdefault(on, []).append((low, high))

    def hatch(self) -> None:
        """Lines at 45° over what is cut."""
        axes, low = VIEWS[self.view], self.g.built.extent[0]
        start = self.sheet.start.here
        sign = -1.0 if axes.angles[self.g.axis] == 180.0 else 1.0
        spans: dict[int, list[tuple[float, float]]] = {}
        for column in self.columns:
            at = np.linspace(column.first, column.last, ACROSS)[1:-1]
            for a, b in column.levels(at):
                for number, stretch in self._lines(column, at, a, b, sign):
                    spans.setdefault(number, []).append(stretch)
        for number, stretches in sorted(spans.items()):
            stretches.sort()
            runs: list[tuple[float, float]] = []
            for first, last in stretches:
                if runs and first <= runs[-1][1] + self.near:
                    runs[-1] = (runs[-1][0], max(last, runs[-1][1]))
                else:
                    runs.append((first, last))
            for first, last in runs:
                if last - first < 0.3:
                    continue
                ends = []
                for along in (first, last):
                    level = sign * along + number * APART * np.sqrt(2.0)
                    place = self.columns[0].cut.place(np.array([along]), np.array([level]))[0]
                    flat = start + axes.at(place - low)
                    ends.append(self.d.plot("", float(flat[0]), float(flat[1]), kind="plain"))
                self.d.line_in(ends, role=Role.CONSTRUCTION)

    def _lines(
        self, column: Column, at: Array, low: Array, high: Array, sign: float
    ) -> Iterator[tuple[int, tuple[float, float]]]:
        """The stretches of hatch lines between two sides over places (n,), by the number of each."""
        step = APART * np.sqrt(2.0)
        first = int(np.floor(np.nanmin(low - sign * at) / step)) - 1
        last = int(np.ceil(np.nanmax(high - sign * at) / step)) + 1
        edges = np.concatenate([[column.first], (at[1:] + at[:-1]) / 2, [column.last]])
        for number in range(first, last + 1):
            level = sign * at + number * step
            inside = (level > low) & (level < high)
            for group in np.split(np.arange(len(at)), np.flatnonzero(np.diff(inside.astype(int))) + 1):
                if inside[group[0]]:
                    a, b = self._exact(at, low, high, level, group, edges)
                    yield number, (a, b)

    @staticmethod
    def _exact(
        at: Array, low: Array, high: Array, level: Array, group: NDArray[np.int64], edges: Array
    ) -> tuple[float, float]:
        """The ends of a stretch of a hatch line, by chords of the sides."""
        ends = []
        for k, other in ((int(group[0]), int(group[0]) - 1), (int(group[-1]), int(group[-1]) + 1)):
            if not 0 <= other < len(at):
                ends.append(float(edges[0] if other < 0 else edges[-1]))
                continue
            side = low if level[other] <= low[other] else high
            p, q = float(level[k] - side[k]), float(level[other] - side[other])
            share = p / (p - q) if np.isfinite(q) and p != q else 0.5
            ends.append(float(at[k] + share * (at[other] - at[k])))
        return ends[0], ends[1]


@method(
    SectionView,
    "cutting-planes",
    about="The plane’s line in plan, what it meets carried over, hatched; behind it what is seen.",
    source="Sections and hatching after ISO 128-3",
)
def by_cutting_planes(g: SectionView, d: Draft) -> None:
    first = d.conventions.projection == "first"
    low, high = g.built.extent
    size = high - low
    lift = -GAP - BEYOND - float(size[1]) if first else float(size[2]) + GAP + BEYOND
    beside = 0.0 if g.along == "front" else -(float(size[0]) + GAP) * (-1.0 if first else 1.0)
    sheets = {}
    for view, at in (("top", point(beside, lift)), (g.view, point(0.0, 0.0))):
        with d.phase(TITLES[view][0].upper() + TITLES[view][1:]):
            sheet = sheets[view] = Offsets(g, d, view, at)
            sheet.draw_axes(size)
            for number, block in enumerate(g.built.blocks, 1):
                sheet.block(number, block, None)
            if view == "top":
                Lining(g, d, view, sheet.tail).draw()
                _plane(g, d, sheet)
    hollow = d.choice(
        "hole-hatched",
        right=False,
        slip=True,
        when=any(block.is_hole for block in g.built.blocks),
        says="Holes that the plane runs through are taken for solid, and hatched over.",
    )
    sheet = sheets[g.view]
    lining = SectionLining(g, d, sheet, g.filled() if hollow else g)
    with d.phase("The section"):
        with d.as_one("Set square", "Carry up what the plane meets: the corners of what is cut."):
            _corners(g, sheet, hollow)
        with d.as_one("Straightedge", "Line in what is cut."):
            lining.outline()
        with d.as_one("Set square", f"Hatch it at 45°, {mm(APART)} apart, all one way: it is one part."):
            lining.hatch()
        if any(lining.ends_inside(end) for cut in g.cuts for end in (cut.first, cut.last)):
            with d.as_one("Straightedge", "Where the plane ends inside, only a centre line parts the halves."):
                lining.halves()
        lining.draw(hidden=False)


def _corners(g: SectionView, sheet: Offsets, hollow: bool) -> None:
    """The corners of all cells, S0 on; over holes too where they are forgotten."""
    k, known = 0, set[tuple[float, ...]]()
    for stretch, cells in enumerate(g.cells):
        for cell in cells:
            corners = g.corners(stretch, cell)
            if hollow:
                mates = [g.corners(stretch, one) for one in cells if one.first == cell.first]
                tops = max(float(mate[2][g.cuts[stretch].level]) for mate in mates)
                corners = corners.copy()
                gone = _hole_beside(g, stretch, cell)
                if gone:
                    corners[1:3, g.axis] += gone
                elif len(mates) > 1:
                    corners[2:, g.cuts[stretch].level] = tops
            for place in corners:
                at = tuple(np.round(place, 6).tolist())
                sheet.spot(place, f"S{k}", "plain" if at in known else "found")
                known.add(at)
                k += 1


def _hole_beside(g: SectionView, stretch: int, cell: Cell) -> float:
    """How wide the hole is that a cell ends at; 0 at none."""
    for block in g.built.blocks:
        if block.is_hole and abs(block.low[g.axis] - cell.last) < 1e-6 * g.built.span + block.size[g.axis] / 2:
            return float(block.size[g.axis])
    return 0.0


def _plane(g: SectionView, d: Draft, sheet: Offsets) -> None:
    """The cutting plane in plan: its line, thick ends, arrows and letters."""
    axes, low = VIEWS["top"], g.built.extent[0]
    start = sheet.start.here
    rows = g.given_values["stretches"]

    def at(along: float, across: float) -> Array:
        place = np.zeros(3)
        place[g.axis], place[1 - g.axis], place[2] = along, across, low[2]
        return np.asarray(start + axes.at(place - low))

    def spot(place: Array) -> Spot:
        return d.plot("", float(place[0]), float(place[1]), kind="plain")

    path = [at(x, across) for first, last, across in rows for x in (first, last)]
    out = (path[1] - path[0]) / float(np.hypot(*(path[1] - path[0])))
    back = (path[-1] - path[-2]) / float(np.hypot(*(path[-1] - path[-2])))
    ends = [path[0] - BEYOND * out, path[-1] + BEYOND * back]
    way = axes.vectors[1 - g.axis]
    with d.phase("The cutting plane"):
        words = ", ".join(f"{mm(across)} along {NAMES[1 - g.axis]}" for _, _, across in rows)
        with d.as_one("Straightedge", f"Draw the cutting plane as it is seen from above, {words}."):
            d.line_in([spot(place) for place in path], role=Role.CENTRE)
            for a, b in zip(ends, (path[0], path[-1])):
                d.line_in([spot(a), spot(b)])
        with d.as_one("Pencil", "At both ends an arrow the way one looks, and its letter: A."):
            for name, end in zip(("A", "A’"), ends):
                tip = end + ARROW * way
                aside = np.array([-way[1], way[0]])
                d.line_in([spot(end), spot(tip)], role=Role.CONSTRUCTION)
                for side in (-1.0, 1.0):
                    d.line_in([spot(tip), spot(tip - HEAD * way + side * HEAD / 2 * aside)], role=Role.CONSTRUCTION)
                d.label(name, spot(tip + 3.0 * way), spot(tip + 3.5 * way))
