"""What a job's drawings follow where schools differ, and the words of each choice; the command line needs no more of a
job than this to run a figure."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from wise_compass.drafting.wishes import Wish, declared
from wise_compass.sheet.paper import SIZES

SIDES = {"auto": "where it fits", "usual": "on the usual side", "other": "on the other side"}
HIDDEN = {"": "usual", "usual": "usual", "shown": "shown", "out": "left out"}
HIDDEN_EDGES = Wish("hidden edges of a picture", HIDDEN)
DIMENSIONED = {"": "what is given", "given": "what is given", "none": "none", "all": "all, what follows in brackets"}
DIMENSIONS = Wish("which dimensions stand on it", DIMENSIONED)
UNITS = {"mm": "millimetres", "in": "inches"}
PROJECTIONS = {"first": "first angle: top view below", "third": "third angle: top view above"}
LETTERINGS = {"primes": "a′ in front, a from the top", "numbers": "a₂ in front, a₁ from the top"}
LETTERS = {"usual": "usual, 3.5 mm high", "large": "large, 5 mm high"}
HEADS = {"arrows": "arrowheads", "ticks": "ticks"}
INCHES = {"decimals": "as decimals", "fractions": "to 1/64, with what that leaves out"}
DIVIDING = {
    "auto": "as is least trouble",
    "rule": "with the rule",
    "trial": "by trial with the dividers",
    "parallels": "by parallels to a slant line",
}
PAPERS = {"auto": "smallest that serves", **{size: size for size in SIZES}}


class Settings(NamedTuple):
    """What a job's drawings follow where schools differ, and how its numbers are read."""

    units: Annotated[str, Wish("of lengths without a unit, and of what is said", UNITS, title="Units")] = "mm"
    projection: Annotated[str, Wish("angle of projection", PROJECTIONS, title="Projection")] = "first"
    lettering: Annotated[str, Wish("how views are lettered", LETTERINGS, title="Lettering of views")] = "primes"
    inches: Annotated[str, Wish("how inches are shown", INCHES, title="Inches")] = "decimals"
    letters: Annotated[str, Wish("how large letters and figures of drawings are", LETTERS, title="Letters")] = "usual"
    heads: Annotated[str, Wish("how dimension lines end", HEADS, title="Dimension lines end in")] = "arrows"
    dividing: Annotated[
        str, Wish("how a length is divided into equal spaces", DIVIDING, title="A length is divided")
    ] = "auto"
    paper: Annotated[str, Wish("of a new sheet", PAPERS, title="Paper of a new sheet")] = "A4"
    decimals: Annotated[int, Wish("how many decimals are shown", most=6, title="Decimals")] = 2
    firm: Annotated[str, Wish("the school or firm in the strip", most=60, title="School or firm")] = ""
    drawn_by: Annotated[str, Wish("who drew it, in the strip", most=60, title="Drawn by")] = ""
    date: Annotated[str, Wish("the date in the strip", most=30, title="Date")] = ""
    material: Annotated[str, Wish("the material in the strip", most=60, title="Material")] = ""
    revision: Annotated[str, Wish("the revision in the strip", most=20, title="Revision")] = ""
    tolerances: Annotated[str, Wish("a note on tolerances in the strip", most=60, title="Tolerances")] = ""

    @property
    def told(self) -> tuple[tuple[str, str], ...]:
        """What the strip tells beside title and scale: each with what stands over it; none that is empty."""
        return tuple((TITLES[name], words) for name in STRIP if (words := getattr(self, name).strip()))


STRIP = ("firm", "drawn_by", "date", "material", "revision", "tolerances")
"""The settings that stand in the strip."""
TITLES = {name: asked.wish.title for name, asked in declared(Settings).items() if name in STRIP}
