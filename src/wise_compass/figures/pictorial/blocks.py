"""A block in a picture: the crate of three axes that every other picture starts from."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.capabilities import Face, Picture, Pictured, Solid
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim
from wise_compass.figures.pictorial.axes import (
    BEHIND,
    CORNERS,
    EDGES,
    Hand,
    OnAxes,
    block_faces,
    parallel_picture,
    true_length,
)
from wise_compass.geometry.vectors import Array, Number, angle_of, distance

SPACINGS = (10.0, 5.0, 4.0, 2.0, 1.0)
"""mm between the lines of an isometric grid, the widest first."""
MOST_SPACES = 40
"""Spaces that a side may have on the grid."""


class PictorialBlock(Solid, Pictured, OnAxes, id="pictorial-block", family="pictorial", title="Block in a picture"):
    keys = ("A", "B", "D", "E", "F", "G", "H")
    brief = opens = "A block {front} to the left, {right} to the right and {height} high"
    summary = "The crate that every picture starts from: a Y of three axes at the nearest corner, and parallels."
    value_names = ("picture_width", "picture_height", "space_diagonal")
    ways = ("crate", "dot-grid")

    front = Length(60, "the side that runs from the nearest corner to the left")
    right = Length(40, "the side that runs to the right")
    height = Length(30, "the height")

    @property
    def sizes(self) -> Array:
        return np.array([self.front, self.right, self.height])

    @property
    def corners(self) -> Array:
        """Where the corners A to H are drawn, from A, (8, 2)."""
        return self.axes.at(CORNERS * self.sizes)

    def values(self, method: str) -> Iterable[Value]:
        low, high = self.corners.min(axis=0), self.corners.max(axis=0)
        f, r, h = (bare(size * scale) for size, scale in zip(self.sizes.tolist(), self.axes.scales))
        if self.drawn == "isometric":
            wide, tall = f"({f} + {r}) × cos 30°", f"{h} + ({f} + {r}) × sin 30°"
        elif self.drawn == "axonometric":
            left, right = (trim(one, 4) for one in (180.0 - self.axes.angles[0], self.axes.angles[1]))
            wide = f"{f} × cos {left}° + {r} × cos {right}°"
            tall = f"{h} + {f} × sin {left}° + {r} × sin {right}°"
        else:
            wide, tall = f"{f} + {r} × cos {self.receding}°", f"{h} + {r} × sin {self.receding}°"
        yield Value("picture_width", float(high[0] - low[0]), "mm", wide, ("B", "D"))
        yield Value("picture_height", float(high[1] - low[1]), "mm", tall, ("A", "G"))
        f, r, h = (bare(size) for size in self.sizes.tolist())
        yield Value("space_diagonal", float(np.sqrt((self.sizes**2).sum())), "mm", f"√({f}² + {r}² + {h}²)")

    def measure(self, found: Found) -> dict[str, Number]:
        a = found["A"]
        sides = [true_length(found[name] - a, self.axes, k) for k, name in enumerate("BDE")]
        return {
            "picture_width": found["D"][..., 0] - found["B"][..., 0],
            "picture_height": found["G"][..., 1] - a[..., 1],
            "space_diagonal": np.sqrt(sides[0] ** 2 + sides[1] ** 2 + sides[2] ** 2),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        vectors = self.axes.vectors * self.sizes[:, None]
        for axis, pairs, words in (
            (0, "AB DC EF HG", "front"),
            (1, "AD BC EH FG", "right"),
            (2, "AE BF DH CG", "height"),
        ):
            off = [
                found[pair[1]] - found[pair[0]] - vectors[axis]
                for pair in pairs.split()
                if pair[0] in found and pair[1] in found
            ]
            yield Truth(f"Every edge along {words} runs as its axis does, and is as long as it is drawn", np.array(off))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        front, right, _ = self.axes.vectors
        for ends, name, size, out in (
            ("AB", "front", self.front, -right),
            ("AD", "right", self.right, -front),
            ("DH", "height", self.height, -front),
        ):
            yield Linear(found[ends[0]], found[ends[1]], name, size, 1, out=float(angle_of(out)))

    def pictured(self, found: Found) -> Picture | None:
        return parallel_picture(self.axes, found["A"])

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        return () if off else block_faces(self.sizes.tolist())


@method(
    PictorialBlock,
    "crate",
    about="A Y of three axes from the nearest corner; sizes along the axes only; parallels for all the rest.",
    source="Axonometric projection on three axes (ISO 5456-3)",
)
def crate(g: PictorialBlock, d: Draft) -> None:
    hand = Hand(g.axes, d, g.says_scale)
    with d.phase("Three axes"):
        corner = d.start_at("A", says="Mark A, the nearest and lowest corner.")
        hand.three_axes(corner, g.sizes.tolist())
    with d.phase("Sizes"):
        halved = d.choice(
            "depth-in-full",
            right=1.0,
            slip=2.0,
            says="Depths laid off in full where they are to be halved.",
            when=g.drawn == "cabinet",
        )
        doubled = d.choice(
            "depth-halved",
            right=1.0,
            slip=0.5,
            says="Depths halved where they are to be laid off in full.",
            when=g.drawn == "cavalier",
        )
        spots = {"A": corner}
        for axis, name in enumerate("BDE"):
            times = halved * doubled if axis == 1 else 1.0
            spots[name] = hand.off(axis, corner, float(g.sizes[axis]) * times, name)
    with d.phase("The crate"):
        _crate(d, hand, spots)
    _line_in(d, spots)


def _crate(d: Draft, hand: Hand, spots: dict[str, Spot]) -> None:
    """The other corners, each where two parallels cross."""
    lines: dict[str, LineMark] = {}
    for name, axes in (("B", (1, 2)), ("D", (0, 2)), ("E", (0, 1))):
        with d.as_one("Set square", f"From {name} draw parallels to the other two axes."):
            for axis in axes:
                lines[f"{name}{axis}"] = hand.along(axis, spots[name])
    with d.as_one("Pencil", "Where they cross are C, F and H."):
        for name, one, two in (("C", "B1", "D0"), ("F", "B2", "E0"), ("H", "D2", "E1")):
            spots[name] = d.meet(lines[one], lines[two], name)
    with d.as_one("Set square", "From F and H draw parallels once more: they cross at G."):
        spots["G"] = d.meet(hand.along(1, spots["F"]), hand.along(0, spots["H"]), "G")


def _line_in(d: Draft, spots: dict[str, Spot]) -> None:
    with d.phase("Line in"):
        if "C" in spots and d.conventions.shows_hidden(True):
            with d.as_one("Straightedge", "What is behind stays thin, as hidden lines."):
                for pair in BEHIND:
                    d.line_in([spots[name] for name in pair], role=Role.HIDDEN)
        with d.as_one("Straightedge", "Line in the nine edges that are seen."):
            for pair in EDGES:
                d.line_in([spots[name] for name in pair])


def spacing_of(sizes: Array) -> float | None:
    """The widest spacing of a grid of which all sizes are whole spaces, none more than so many; None where there is
    none."""
    for spacing in SPACINGS:
        counts = sizes / spacing
        if float(np.abs(counts - np.round(counts)).max()) < 1e-9 and float(counts.max()) <= MOST_SPACES:
            return spacing
    return None


def _no_grid(g: PictorialBlock) -> str | None:
    if g.drawn != "isometric":
        return "The grid is an isometric one. Set drawn to isometric, or choose crate."
    if g.scale != "true":
        return "On a grid sizes are counted in spaces, at true lengths. Set scale to true, or choose crate."
    if spacing_of(g.sizes) is None:
        return (
            f"On a grid all sizes are whole spaces, at most {MOST_SPACES}. Round front, right "
            "and height to whole millimetres, or choose crate."
        )
    return None


@method(
    PictorialBlock,
    "dot-grid",
    fits=_no_grid,
    about="On isometric paper: sizes are counted in spaces, the uprights after the V of the two ground lines.",
    source="Isometric grid of equal triangles",
)
def dot_grid(g: PictorialBlock, d: Draft) -> None:
    spacing = spacing_of(g.sizes)
    assert spacing is not None
    hand = Hand(g.axes, d)
    counts = [round(float(size / spacing)) for size in g.sizes]
    with d.phase("The grid"):
        corner = d.start_at("A", says="Mark A, the nearest and lowest corner, on a crossing of the grid.")
        hand.three_axes(corner, g.sizes.tolist())
        steps = {}
        for axis, words in enumerate(("to the left", "to the right", "upright")):
            says = f"Step spaces of the grid from A along the axis {words}."
            steps[axis] = d.step_along(hand.lines[axis], corner, spacing, counts[axis], says=says)
        lines = _grid(d, hand, steps)
    spots = {"A": corner}
    with d.phase("Count"):
        f, r, h = counts
        counted = d.choice(
            "marks-counted",
            right=0,
            slip=1,
            says="Marks counted for spaces: the left side comes out one space short.",
            when=f > 1,
        )
        for name, (axis, count), words in (
            ("B", (0, f - counted), f"From A count up to the left {trim(f)}: B."),
            ("D", (1, r), f"From A up to the right {trim(r)}: D."),
            ("E", (2, h), f"Upright {trim(h)}: E."),
        ):
            with d.as_one("Pencil", words):
                spots[name] = d.also(name, steps[axis][count])
        for name, one, two, words in (
            ("F", lines[0, 2][f - counted], lines[2, 0][h], f"From B upright {trim(h)}: F."),
            ("H", lines[1, 2][r], lines[2, 1][h], f"From D upright {trim(h)}: H."),
        ):
            with d.as_one("Pencil", words):
                spots[name] = d.meet(one, two, name)
        with d.as_one("Set square", f"From F to the right {trim(r)}, from H to the left {trim(f)}: G."):
            spots["G"] = d.meet(hand.along(1, spots["F"]), hand.along(0, spots["H"]), "G")
    _line_in(d, spots)


def _grid(d: Draft, hand: Hand, steps: dict[int, list[Spot]]) -> dict[tuple[int, int], list[LineMark]]:
    """The lines of the grid through the marks of every axis, as each of the others runs."""
    found = {}
    for axis, other, words in (
        (0, 2, "upright through every mark at the left"),
        (1, 2, "upright through every mark at the right"),
        (2, 0, "to the left from every mark of the upright"),
        (2, 1, "and to the right"),
    ):
        with d.as_one("Set square", f"Rule the grid: {words}."):
            reach = float(distance(steps[other][0].here, steps[other][-1].here))
            found[axis, other] = [
                hand.lines[other] if k == 0 else hand.along(other, spot).extent(0.0, reach)
                for k, spot in enumerate(steps[axis])
            ]
    return found
