"""What figures of solids built of blocks share: the rows, where corners and rims are, and their three views."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import cached_property, lru_cache, partial
from itertools import combinations
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import Curved, Face, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.places import Blocks
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found
from wise_compass.figures.pictorial.axes import Axes, axes_of, in_space
from wise_compass.figures.pictorial.block_dimensions import block_dimensions
from wise_compass.figures.pictorial.block_views import EYES, HIDDEN, VIEWS
from wise_compass.figures.pictorial.bores import TOUCH
from wise_compass.figures.pictorial.ends import RIM_HOLD, RIM_PARTS
from wise_compass.geometry.block_cones import Hyperbola, Saddle
from wise_compass.geometry.block_edges import EdgePiece, edges_of, pieces_for
from wise_compass.geometry.block_faces import STRIPS, faces_of
from wise_compass.geometry.block_lines import Eye, Rim, chords_of, lips_of, rim_at, rims_of
from wise_compass.geometry.block_shapes import LINES, Block, Level
from wise_compass.geometry.blocks import Built, overlap
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.fair import off_true
from wise_compass.geometry.vectors import Array, Number

SHAPES = (
    "box",
    "wedge",
    "ramp",
    "cylinder",
    "cone",
    "hole",
    "cylinder-front",
    "cylinder-right",
    "hole-front",
    "hole-right",
)
MOST = 16
SHARE = "share of 360 along the curve"
"""What tells the places of a curve that does not close."""
ROWS_SAY = "the blocks: shape, x, y, z of the nearest lowest corner, and sizes along front, right and height"
COLUMNS = {0: "front", 1: "right", 2: "height"}


class OfBlocks(Curved, Solid, Figure):
    """Base of the figures whose solid is built of blocks that touch, less holes."""

    rows = Blocks(
        (("box", 0, 0, 0, 60, 40, 10), ("box", 0, 20, 10, 60, 20, 20), ("ramp", 10, 0, 10, 40, 20, 20)),
        ROWS_SAY,
        SHAPES,
        MOST,
    )

    @cached_property
    def built(self) -> Built:
        rows: Sequence[Any] = self.rows
        return Built(tuple(Block(row[0], (row[1], row[2], row[3]), (row[4], row[5], row[6])) for row in rows))

    def refuse_rows(self) -> None:
        """Refuse rows that are nothing to build, that overlap, or whose holes cannot be told."""
        blocks = self.built.blocks
        if not self.built.solid:
            raise Refused("rows", "All rows of rows are holes, and there is nothing to take them from. Add a box.")
        for (j, one), (k, other) in combinations(enumerate(blocks, 1), 2):
            if one.is_hole == other.is_hole and not one.is_hole and overlap(one, other, TOUCH):
                raise Refused(
                    "rows",
                    f"Rows {j} and {k} of rows overlap. Blocks may touch; move or shorten one of the two in rows.",
                )

    @property
    def held_in(self) -> Axes:
        """The picture in which the places of rims have to hold them."""
        return axes_of("isometric", 45.0, "true")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        return block_dimensions(found, self.built)

    @property
    def says_scale(self) -> str:
        """Why a size is not laid off as it is; empty where it is."""
        return ""

    @property
    def pictures(self) -> dict[str, Axes]:
        """The views that it is drawn in, by how their axes lie."""
        return dict(VIEWS)

    def places(self, view: str) -> Mapping[str, Array]:
        """Where the corners and the places of rims are, by their keys in a view."""
        tail = "" if view == "picture" else f" {view}"
        return {f"{key}{tail}": place for key, place in self._places.items()} if tail else self._places

    def edge_on(self, block: Block, level: Rim, view: str) -> tuple[int, int] | None:
        """Which places of a rim, of :meth:`turns_of`, reach furthest in a view that it is seen on edge in; None where
        it is seen as a curve."""
        hidden = HIDDEN[view]
        if isinstance(level, Saddle):
            return (0, self.round) if isinstance(level, Hyperbola) and hidden != level.axis else None
        one, other = block.plane
        if hidden == other and not level.other:
            return 0, self.round // 2
        return (self.round // 4, self.round // 4 + self.round // 2) if hidden == one and not level.one else None

    def turns_of(self, level: Rim) -> Array:
        """How far round the places of a rim are, in degrees; of one that does not close, its last place too."""
        return np.linspace(0.0, 360.0, self.round + 1)[: self.round + isinstance(level, Hyperbola)]

    @cached_property
    def round(self) -> int:
        """Into how many every rim is divided: the fewest that hold all of them in the picture, and in the views those
        that are no ellipses there."""
        seen = [
            partial(off_true, partial(self._rim_in, axes, block, level), closed=not isinstance(level, Hyperbola))
            for block, rims in zip(self.built.blocks, self.rims)
            for level in rims
            for axes in (self.held_in, *(VIEWS.values() if isinstance(level, Saddle) else ()))
        ]
        # more places need not hold a rim with a peak better: all are asked of each number
        held = (count for count in RIM_PARTS if all(off(count) <= RIM_HOLD for off in seen))
        return next(held, RIM_PARTS[-1])

    def courses(self, method: str) -> Sequence[Course]:
        return self.rims_in(self.pictures)

    def rims_in(self, views: Mapping[str, Axes]) -> Sequence[Course]:
        """Every rim in every one of some views that does not show it on edge."""
        found = []
        for view, axes in views.items():
            for number, (block, rims) in enumerate(zip(self.built.blocks, self.rims), 1):
                for n, level in enumerate(rims):
                    if view in EYES and self.edge_on(block, level, view) is not None:
                        continue
                    if not self._all_drawn(view, number - 1, level):
                        continue
                    says = f"rim {n + 1} of row {number} in the {'auxiliary' if view not in EYES else view} view"
                    seen = partial(self._rim_in, axes, block, level)
                    found.append(self.course_of(says, seen, f"{number}R{n}", f" {view}", level))
        return tuple(found)

    def course_of(self, says: str, seen: Callable[[Number], Array], key: str, tail: str, level: Rim) -> Course:
        """A rim as it is ``seen``, with the places that are found of it, whose names begin with a key and end in a
        tail."""
        places = self.turns_of(level)
        names = tuple(f"{key}x{k}{tail}" for k in range(len(places)))
        curve = sampled(seen, closed=not isinstance(level, Hyperbola))
        turn = SHARE if isinstance(level, Hyperbola) else "turn round the rim"
        return Course(says, curve, places, names, turn=turn, afloat=True)

    def _all_drawn(self, view: str, number: int, level: Rim) -> bool:
        """Whether a rim is an edge all round, and all of it is drawn in a view."""
        mine = [one for one in self.pieces(view) if one.line.block == number and one.line.kind == "rim"]
        return sum(one.end - one.start for one in mine if one.line.level == level) > 1 - 1e-6

    def _rim_in(self, axes: Axes, block: Block, level: Rim, turn: Number) -> Array:
        """Places of a rim in a view."""
        seen = axes.at(rim_at(block, level, np.atleast_1d(turn)) - self.built.extent[0])
        return np.asarray(seen if np.ndim(turn) else seen[0])

    @cached_property
    def rims(self) -> list[list[Rim]]:
        """The rims of round ones, by their rows from 0; none of the others."""
        return [rims_of(self.built, block) for block in self.built.blocks]

    @cached_property
    def lips(self) -> list[list[float]]:
        """Where round holes, in degrees, they break out of blocks, by their rows from 0."""
        return [lips_of(self.built, block) for block in self.built.blocks]

    def rim_places(self, number: int, view: str) -> Iterator[tuple[str, Array]]:
        """Where the places of a round one’s rims are, by key; in the three views only the two furthest of a rim that is
        seen on edge."""
        block = self.built.blocks[number - 1]
        for n, level in enumerate(self.rims[number - 1]):
            furthest = self.edge_on(block, level, view) if view in VIEWS else None
            for key in (f"{number}R{n}x{at}" for at in furthest or range(len(self.turns_of(level)))):
                yield key, self._places[key]
        yield from self._breaks.get(number, {}).items()

    def aslant(self, number: int) -> Iterator[Array]:
        """The places of a round one's rims that are no circles level with its ends: in views that show one on edge they
        stand along its line."""
        for n, level in enumerate(self.rims[number - 1]):
            if isinstance(level, Saddle) or level.one or level.other:
                yield from (self._places[f"{number}R{n}x{k}"] for k in range(len(self.turns_of(level))))

    @cached_property
    def _breaks(self) -> dict[int, dict[str, Array]]:
        """Where holes break out of blocks, by their rows and keys."""
        found = {}
        for number, block in enumerate(self.built.blocks, 1):
            lips, mine = self.lips[number - 1], dict[str, Array]()
            if lips:
                for n in (0, self.rims[number - 1].index(Level(1.0))):
                    places = block.round_at(np.array(lips), float(n > 0))
                    mine |= {f"{number}R{n}y{k}": place for k, place in enumerate(places)}
            for k, (_, chord) in enumerate(chords_of(self.built, block)):
                mine |= {f"{number}Rz{k}{end}": place for end, place in zip("ab", chord)}
            if mine:
                found[number] = mine
        return found

    @cached_property
    def _places(self) -> dict[str, Array]:
        found: dict[str, Array] = {}
        for number, block in enumerate(self.built.blocks, 1):
            letters = sorted(set(LINES.get(block.shape, "").replace(" ", "")))
            found |= {f"{letter}{number}": place for letter, place in zip(letters, block.corners("".join(letters)))}
            for n, level in enumerate(self.rims[number - 1]):
                around = rim_at(block, level, self.turns_of(level))
                found |= {f"{number}R{n}x{k}": place for k, place in enumerate(around)}
            found |= self._breaks.get(number, {})
            if block.shape == "cone":
                found[f"V{number}"] = block.round_at(np.array(0.0), 1.0)
        return found

    def pieces(self, view: str) -> Sequence[EdgePiece]:
        """The edges of a view, seen and hidden."""
        known = known_edges(self.built)
        wanted = (EYES[view], False)
        if wanted not in known:
            eyes = [Eye(np.array(EYES[one]), False) for one in VIEWS]
            known.update(zip(((EYES[one], False) for one in VIEWS), pieces_for(self.built, eyes)))
        return known[wanted]

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """The faces of all blocks, and those of holes."""
        if off:
            return ()
        return [
            Face(in_space(face.corners)[::-1], face.round, pieces=tuple(in_space(piece)[::-1] for piece in face.pieces))
            for face in faces_of(self.built)
        ]

    def own_edges(self) -> Sequence[Array]:
        return [in_space(edge) for edge in edges_of(self.built, STRIPS)]


@lru_cache(maxsize=16)
def known_edges(built: Built) -> dict[tuple[tuple[float, ...], bool], Sequence[EdgePiece]]:
    """The edges that were asked for already, by sight: the same for every method, its hands and its slips, and for
    every projection."""
    return {}
