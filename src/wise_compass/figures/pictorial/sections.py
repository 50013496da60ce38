"""A solid of blocks in section: full, half or offset; the cutting plane in plan, the section hatched."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property, partial

import numpy as np

from wise_compass.drafting.course import Course
from wise_compass.drafting.givens import Choice
from wise_compass.drafting.places import Blocks, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare_area, mm
from wise_compass.figures.pictorial.axes import NAMES, Axes
from wise_compass.figures.pictorial.block_views import EYES, VIEWS
from wise_compass.figures.pictorial.ends import RIM_HOLD
from wise_compass.figures.pictorial.of_blocks import MOST, ROWS_SAY, SHAPES, SHARE, OfBlocks
from wise_compass.geometry.block_cones import Hyperbola, hyperbola_between, through_axis
from wise_compass.geometry.block_cuts import Bound, Cell, Cut, open_until
from wise_compass.geometry.block_edges import EdgePiece
from wise_compass.geometry.borders import borders
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.fair import off_true
from wise_compass.geometry.vectors import Array, Bools, Ints, Number

LOOKED = 257
"""Places of an edge at which it is looked whether it is left, and seen."""
HALVINGS = 28
BESIDE = 1e-6
"""Of the whole's size: how far beside an edge a ray begins."""
SAME = 1e-9

INSET = 1e-12
"""Of a cell: how far within its ends its corners are asked for."""
CURVE_PARTS = (4, 6, 8, 12, 16, 24, 36, 48, 72)
"""Into how many a curve of what is cut may be divided."""
ASIDE = 1e-7
"""Of the whole's size: how far on either side of the plane it is asked what is solid."""


class SectionView(OfBlocks, id="section-view", family="roofs", title="Section of a solid"):
    keys = ("O.top", "S*")
    brief = "A section along {along} through {rows}, its cutting plane in stretches {stretches}, found with {method}."
    summary = "Full, half or offset section: the cutting plane in plan, what is cut hatched, what lies behind it."
    value_names = ("section_areas", "section_area")

    rows = Blocks(
        (
            ("box", 0, 0, 0, 80, 50, 12),
            ("box", 0, 15, 12, 20, 20, 26),
            ("cylinder", 38, 11, 12, 28, 28, 18),
            ("hole", 44, 17, 0, 16, 16, 30),
            ("hole", 66, 8, 0, 8, 8, 12),
            ("hole", 66, 34, 0, 8, 8, 12),
        ),
        ROWS_SAY,
        SHAPES,
        MOST,
    )
    along = Choice("front", "along which axis the plane stands", ("front", "right"))
    stretches = Rows(((0, 80, 25),), "from where to where it stands, and where across", ("from", "to", "at"), 1, 8)

    @property
    def axis(self) -> int:
        """The axis along which the plane stands."""
        return 0 if self.along == "front" else 1

    @property
    def view(self) -> str:
        return "front" if self.along == "front" else "side"

    def refuse(self) -> None:
        self.refuse_rows()
        low, high = (float(end[self.axis]) for end in self.built.extent)
        before = -np.inf
        for k, (first, last, _) in enumerate(self.given_values["stretches"], 1):
            if last <= first:
                raise Refused(
                    "stretches",
                    f"Stretch {k} of stretches runs from {mm(first)} to {mm(last)}. "
                    "Set its second number over its first.",
                )
            if first < before - SAME:
                raise Refused(
                    "stretches",
                    f"Stretch {k} of stretches begins at {mm(first)}, before the one before it ends at {mm(before)}. "
                    f"Begin it there, or put the rows in order.",
                )
            if last <= low or first >= high:
                raise Refused(
                    "stretches",
                    f"Stretch {k} of stretches runs beside the solid, which is from {mm(low)} to {mm(high)} along "
                    f"{self.along}. Change it.",
                )
            before = last
        if not any(cells for cells in self.cells):
            across = NAMES[1 - self.axis]
            bottom, top = (float(end[1 - self.axis]) for end in self.built.extent)
            raise Refused(
                "stretches",
                f"The plane of stretches cuts nothing: along {across} the solid is from {mm(bottom)} to {mm(top)}. Set "
                "the third number of a stretch between them.",
            )

    @cached_property
    def cuts(self) -> list[Cut]:
        return [
            Cut(self.built, 1 - self.axis, at, self.axis, first, last)
            for first, last, at in self.given_values["stretches"]
        ]

    @cached_property
    def cells(self) -> list[list[Cell]]:
        return [cut.cells() for cut in self.cuts]

    def filled(self) -> SectionView:
        """The same solid without its holes."""
        rows = [row for row in self.given_values["rows"] if not str(row[0]).startswith("hole")]
        return SectionView(**{**self.given_values, "rows": tuple(rows)})

    def corners(self, stretch: int, cell: Cell) -> Array:
        """The corners of a cell in space, from its lower first one on, (4, 3)."""
        place: Array = self._corners[stretch][self.cells[stretch].index(cell)]
        return place

    @cached_property
    def _corners(self) -> list[Array]:
        """The corners of all cells of every stretch, (cells, 4, 3) each."""
        found = []
        for cut, cells in zip(self.cuts, self.cells):
            ends = np.array([(cell.first, cell.last) for cell in cells]).reshape(-1, 2)
            inset = INSET * (ends[:, 1] - ends[:, 0])
            along = np.stack([ends[:, 0] + inset, ends[:, 1] - inset], axis=-1)
            low, high = cut.bounds_at(cells, along, 4 * INSET**0.5 * self.built.span)
            levels = np.stack([low[:, 0], low[:, 1], high[:, 1], high[:, 0]], axis=-1)
            middles = (low + high) / 2
            meet = middles[:, [0, 1, 1, 0]]
            levels = np.where(np.isfinite(levels), levels, np.nan_to_num(meet))
            found.append(cut.place(np.round(along[:, [0, 1, 1, 0]], 11), np.round(levels, 11)))
        return found

    def straight(self, cut: Cut, bound: Bound) -> bool:
        """Whether a side of a block is straight where the plane cuts it."""
        block = self.built.blocks[bound.block]
        if block.shape == "cone":
            return not bound.upper or through_axis(block, cut.across, cut.at)
        return block.axis is None or block.axis != cut.across

    @property
    def straight_only(self) -> bool:
        return all(
            self.straight(cut, bound)
            for cut, cells in zip(self.cuts, self.cells)
            for cell in cells
            for bound in (cell.below, cell.above)
        )

    @cached_property
    def hyperbolas(self) -> list[Hyperbola]:
        """What is cut of the skins of cones, beside their axes."""
        found = []
        for cut, cells in zip(self.cuts, self.cells):
            for cell in cells:
                uppers = [self.built.blocks[bound.block] for bound in (cell.below, cell.above) if bound.upper]
                for cone in (block for block in uppers if block.shape == "cone"):
                    curve = hyperbola_between(cone, cut.across, cut.at, cell.first, cell.last)
                    found += [curve] if curve is not None else []
        return found

    def parted(self, curve: Hyperbola) -> int:
        """Into how many parts it is divided: the fewest that hold it in the section."""
        seen = partial(self._curve_in, curve)
        return next((n for n in CURVE_PARTS if off_true(seen, n, closed=False) <= RIM_HOLD), CURVE_PARTS[-1])

    def _curve_in(self, curve: Hyperbola, turns: Number) -> Array:
        """Places of a curve in the section."""
        seen = VIEWS[self.view].at(curve.at(np.atleast_1d(turns)) - self.built.extent[0])
        return np.asarray(seen if np.ndim(turns) else seen[0])

    def courses(self, method: str) -> Sequence[Course]:
        found = list(super().courses(method))
        for n, curve in enumerate(self.hyperbolas):
            parts = self.parted(curve)
            names = tuple(f"X{n}x{k}" for k in range(parts + 1))
            seen, turns = sampled(partial(self._curve_in, curve), closed=False), np.linspace(0.0, 360.0, parts + 1)
            found.append(Course(f"curve {n + 1} of what is cut", seen, turns, names, turn=SHARE, afloat=True))
        return found

    # what is told

    def cautions(self) -> Iterable[str]:
        if any(block.size[self.axis] * 8 < self.built.span for block in self.built.solid):
            yield "Webs and thin walls that are cut are hatched as the rest."

    def values(self, method: str) -> Iterable[Value]:
        areas = [cut.area for cut in self.cuts]
        words = "… what is solid in the plane, less holes, by stretches"
        yield Value("section_areas", areas, "mm²", words)
        yield Value("section_area", sum(areas), "mm²", " + ".join(bare_area(area) for area in areas))

    def measure(self, found: Found) -> dict[str, Number]:
        """Areas by the corners of the cells, where all sides are straight."""
        if not self.straight_only:
            return {}
        areas, k = [], 0
        for cells in self.cells:
            total = np.zeros(())
            for _ in cells:
                ring = found.together([f"S{k + j}" for j in range(4)])
                x, y = ring[..., 0], ring[..., 1]
                total = total + np.abs((x * np.roll(y, -1, -1) - y * np.roll(x, -1, -1)).sum(axis=-1)) / 2
                k += 4
            areas.append(total)
        return {"section_areas": np.stack(np.broadcast_arrays(*areas), axis=-1), "section_area": sum(areas)}

    def truths(self, found: Found) -> Iterator[Truth]:
        low = self.built.extent[0]
        for view in (self.view, "top"):
            axes, start = VIEWS[view], found[f"O.{view}"]
            off = [
                found[key] - start - axes.at(place - low) for key, place in self.places(view).items() if key in found
            ]
            yield Truth(
                f"Every corner and every place of a rim stands where its offsets put it in the {view} view",
                np.array(off),
            )
        start, axes, k = found[f"O.{self.view}"], VIEWS[self.view], 0
        for stretch, cells in enumerate(self.cells):
            for cell in cells:
                corners = self.corners(stretch, cell)
                at = np.array([found[f"S{k + j}"] for j in range(4)]) - start
                yield Truth(
                    f"The corners of what is cut in stretch {stretch + 1} lie in the plane and in a block",
                    at - axes.at(corners - low),
                )
                k += 4
                if self.straight(self.cuts[stretch], cell.below) and self.straight(self.cuts[stretch], cell.above):
                    # what only touches the plane, as a blind end in it, does so from one side
                    aside = np.zeros((2, 3))
                    aside[:, 1 - self.axis] = np.array([-ASIDE, ASIDE]) * self.built.span
                    solid = bool(self.built.holds(corners.mean(axis=0) + aside).any())
                    yield Truth("What is hatched is solid", np.array(0.0 if solid else 1.0))

        for n, curve in enumerate(self.hyperbolas):
            cone, at = curve.cone, np.array([found[f"X{n}x{k}"] for k in range(self.parted(curve) + 1)])
            own = curve.at(np.linspace(0.0, 360.0, len(at)))
            skin = (own - np.array(cone.low)) / np.array(cone.size)
            off = np.hypot(skin[:, 0] - 0.5, skin[:, 1] - 0.5) - 0.5 * (1.0 - skin[:, 2])
            miss = np.concatenate([(at - start - axes.at(own - low)).ravel(), off])
            yield Truth(f"Every place of curve {n + 1} of what is cut lies on its cone", miss)

    # what is left, and seen

    @property
    def pictures(self) -> dict[str, Axes]:
        return {view: VIEWS[view] for view in (self.view, "top")}

    def cut_at(self, along: Array) -> Array:
        """Where across the plane stands over places along it; −∞ where nothing is cut away."""
        found = np.full(np.shape(along), -np.inf)
        for first, last, at in self.given_values["stretches"]:
            found = np.where((along > first - SAME) & (along < last + SAME), at, found)
        return found

    def pieces(self, view: str) -> Sequence[EdgePiece]:
        """The edges of the top view whole; in the section what lies behind the plane and is seen."""
        whole = super().pieces(view)
        if view != self.view:
            return whole
        return list(self._behind(whole))

    def _behind(self, pieces: Sequence[EdgePiece]) -> Iterator[EdgePiece]:
        """What of the edges lies behind the plane and is seen; all are looked along, and their borders halved, at
        once."""
        if not pieces:
            return
        inner = np.array([np.linspace(one.start, one.end, LOOKED) for one in pieces])
        inner = (inner[:, :-1] + inner[:, 1:]) / 2
        which = np.repeat(np.arange(len(pieces)), LOOKED - 1)
        seen = self._seen(pieces, which, inner.ravel()).reshape(inner.shape)
        edge, k = np.nonzero(seen[:, 1:] != seen[:, :-1])

        def still(at: Array, which: Ints) -> Bools:
            return self._seen(pieces, edge[which], at)

        turns = borders(still, inner[edge, k], inner[edge, k + 1], seen[edge, k], HALVINGS)
        for n, piece in enumerate(pieces):
            marks = [piece.start, *turns[edge == n].tolist(), piece.end]
            state = bool(seen[n, 0])
            for first, last in zip(marks, marks[1:]):
                if state and last - first > 1e-9:
                    yield piece._replace(start=first, end=last, seen=True)
                state = not state

    def _seen(self, pieces: Sequence[EdgePiece], which: Ints, at: Array) -> Bools:
        """Whether places, each along the edge of its number, are left by the plane and open to the eye."""
        places = np.zeros((len(at), 3))
        for n in np.unique(which).tolist():
            places[which == n] = pieces[n].line.at(at[which == n])
        across = 1 - self.axis
        plane = self.cut_at(places[:, self.axis])
        span = self.built.span
        kept = places[:, across] >= plane - 1e-7 * span
        # what is seen of the whole solid is seen too when a part of it is taken away
        hidden = np.flatnonzero(kept & ~np.array([piece.seen for piece in pieces])[which])
        places, plane = places[hidden], plane[hidden]
        reach = np.where(np.isfinite(plane), places[:, across] - plane, 4 * span)
        way = np.array(EYES[self.view])
        nudged = places + BESIDE * span * self._outward(places)
        kept[hidden] = open_until(self.built, nudged, way, reach, 2 * BESIDE * span)
        return np.asarray(kept)

    def _outward(self, places: Array) -> Array:
        """A little off the solid, towards the eye's side of an edge: where most of the places round it are empty."""
        flat = [k for k in range(3) if k != 1 - self.axis]
        turns = np.linspace(0.0, 2 * np.pi, 16, endpoint=False) + 0.1
        around = np.zeros((16, 3))
        around[:, flat[0]], around[:, flat[1]] = np.cos(turns), np.sin(turns)
        step = 2e-5 * self.built.span
        eye = np.array(EYES[self.view])
        off = np.broadcast_to(step * around + step * 0.5 * eye, (len(places), 16, 3))
        empty = ~self.built.holds_about(places, off, self.built.near(places, 2 * step))
        out = empty.astype(float) @ around
        size = np.sqrt((out**2).sum(axis=1, keepdims=True))
        return np.where(size > 1e-6, out / np.maximum(size, 1e-9), 0.0)
