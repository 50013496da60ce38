"""What a figure can beyond being one: it takes on a class of these beside :class:`Figure`, and is asked for it by
``isinstance``."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, NamedTuple

import numpy as np

from wise_compass.drafting.course import Course, Frame
from wise_compass.drafting.truths import Found
from wise_compass.drafting.wording import trim
from wise_compass.geometry.vectors import Array

if TYPE_CHECKING:
    from wise_compass.geometry.unfold import Pattern


class Face(NamedTuple):
    """A flat face of a solid: its corners, (m, 3), anticlockwise as seen from outside.

    ``round`` numbers the curved surface that it is a part of, 0 for none: edges between two of one number are no edges
    of the solid. ``cut`` is a face that a plane has laid bare. Where not all of a face is there, what is left of it are
    its ``pieces``, convex ones.
    """

    corners: Array
    round: int = 0
    cut: bool = False
    pieces: tuple[Array, ...] = ()

    @property
    def filled(self) -> Sequence[Array]:
        """What is there of it."""
        return self.pieces or (self.corners,)


class Picture(NamedTuple):
    """How places of space (…, 3) are pictured: ``at`` where in figure mm (…, 2), ``towards`` which way the eye is,
    ``depth`` how near they are."""

    at: Callable[[Array], Array]
    towards: Callable[[Array], Array]
    depth: Callable[[Array], Array]


class Edge(NamedTuple):
    """An edge of a pattern's outline: the keys of its ends on the flat, and what it is.

    ``base``, ``top`` or ``cut`` of the solid, ``joint`` where it meets another part, ``side`` where the pattern is
    opened; of the two edges that come together there, ``seam`` is the one that carries the lap.
    """

    start: str
    end: str
    kind: str


class Part(NamedTuple):
    """A part of a pattern that is cut out in one piece, ``copies`` of it: its edges in order, anticlockwise on the
    flat; or an ``outline`` of corners (m, 2) that are no points of the drawing."""

    title: str
    edges: Sequence[Edge]
    copies: int = 1
    outline: Array | None = None


class Scribe(NamedTuple):
    """What is marked on a part that is cut out: a line (m, 2), words about a place, or both."""

    line: Array | None
    words: str = ""
    at: Array | None = None


class Curved(ABC):
    """Its found points lie on true curves, which a hand joins up."""

    @abstractmethod
    def courses(self, method: str) -> Sequence[Course]:
        """The true curves that the found points of ``method`` lie on; none where that method finds none."""


class Moving(ABC):
    """It has moving parts: what rolls, turns or slides as the curve is traced."""

    @abstractmethod
    def mechanism(self, found: Found, t: float) -> Frame | None:
        """The moving parts of a run where the curve's parameter is ``t``; None where nothing moves with these
        givens."""

    def traced(self, method: str) -> Course | None:
        """The curve that is traced as they move; left to itself the first of its courses."""
        return next(iter(courses_of(self, method)), None)


class Plot(NamedTuple):
    """A quantity over the place of what moves: ``at`` are its places and sizes (n, 2), NaN where it has none; a
    ``limit`` is where it begins to be too much."""

    title: str
    along: str
    along_unit: str
    unit: str
    at: Array
    limit: float | None = None

    @property
    def says(self) -> str:
        """Where it is greatest, in a sentence."""
        k = int(np.nanargmax(self.at[:, 1]))
        over = "" if self.limit is None else f"; over {trim(self.limit)}{self.unit} is too much"
        return (
            f"{self.title}: at most {trim(float(self.at[k, 1]), 1)}{self.unit}, at "
            f"{trim(float(self.at[k, 0]), 1)}{self.along_unit}{over}."
        )


class Plotted(ABC):
    """What it does as it moves is looked at as a plot beside the drawing."""

    @abstractmethod
    def plots(self) -> Sequence[Plot]:
        """Its plots; none with givens that leave nothing to show."""


class Shading(ABC):
    """It casts a shadow, which is toned under the lines of its drawing and in the space view."""

    @abstractmethod
    def shades(self, found: Found) -> Sequence[Array]:
        """What is toned on the sheet, in figure mm: closed outlines (m, 2)."""

    @abstractmethod
    def shaded(self) -> Sequence[Array]:
        """The same in space: flat outlines (m, 3)."""


class InViews:
    """It stands in space, and is drawn in two views or more."""

    stands: ClassVar[Sequence[str]] = ()
    """The lines and faces that stand in space, by the letters of their corners."""

    def body(self, names: Sequence[str]) -> Sequence[Sequence[str]]:
        """What stands in space, as lines through the ``names`` that were found there; a flat face begins and ends at
        one place."""
        return [list(line) for line in self.stands if set(line) <= set(names)]


class Solid(ABC):
    """Something with faces stands in space."""

    @abstractmethod
    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """The faces of the solid as it stands in space, for ``method``; of what is taken ``off`` it where a plane cuts
        it."""

    def own_edges(self) -> Sequence[Array] | None:
        """The edges of the solid, (2, 3) each on its faces, where they are not those between its faces; else None."""
        return None

    def beside(self, method: str = "") -> Sequence[Array]:
        """Lines that stand beside the solid in the space view, (n, 3) each, such as rays to an eye."""
        return ()

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        """Lines of the solid whose true lengths are to be known: the name of each, and its ends in space, (3,)."""
        return ()


class Pictured(ABC):
    """Its drawing pictures the faces of its solid, as an eye sees them."""

    @abstractmethod
    def pictured(self, found: Found) -> Picture | None:
        """How its drawing pictures the faces of the solid; None where this method does not."""


class Sliced(ABC):
    """Its points are found by auxiliary planes or spheres that cut its solids, one at a step."""

    @abstractmethod
    def slices(self, method: str, says: str) -> Sequence[Array]:
        """What cuts at the step that says this, and what it cuts of each solid: closed outlines in space, (n, 3) each,
        that of the plane first; nothing at other steps."""


class Developed(ABC):
    """Its skin is laid flat: a pattern is found on the paper, by those of its methods that come so far."""

    given_values: dict[str, Any]
    across: ClassVar[Sequence[str]] = ()
    """The givens that are sizes across a hollow body, from one wall to the other: what a plate's thickness shifts."""
    of_body: ClassVar[Sequence[str]] = ("volume", "surface", "section_area", "section_long", "section_wide")
    """The values of the whole body, which a plate's thickness leaves as they are."""
    pierced: ClassVar[bool] = False
    """Whether whole circles that are lined in inside its parts are holes to be cut out."""
    templet: ClassVar[bool] = False
    """Whether its parts are cut of paper or board and used as they are: they take no laps, and no plate is asked."""
    hazards: ClassVar[Sequence[str]] = ()
    """What whoever cuts the pattern out is to be warned of, whatever the givens."""

    @abstractmethod
    def pattern(self, found: Found) -> Pattern | None:
        """The pattern as it was found on the paper, hinged at its fold lines; None where there is none."""

    @abstractmethod
    def cut_out(self, found: Found) -> Sequence[Part]:
        """What is to be cut out of sheet; nothing where no pattern was found."""

    def scribed(self) -> Sequence[Scribe]:
        """What is marked on its parts when they are cut out, beside their folds."""
        return ()

    def is_developed(self, found: Found) -> bool:
        """Whether a pattern was found on the paper."""
        return "Q0" in found

    def widened(self, by: float) -> dict[str, Any]:
        """The givens that change where every wall stands ``by`` mm further out."""
        return {name: self.given_values[name] + 2 * by for name in self.across}

    def face_at(self, heading: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The face that a move of this heading is about: its vertices on the body, and its places on the flat; both
        empty for none."""
        return (), ()


def courses_of(figure: object, method: str) -> Sequence[Course]:
    """The true curves that a figure's points lie on by ``method``; none of one that has no curve."""
    return figure.courses(method) if isinstance(figure, Curved) else ()


def true_lines_of(figure: object) -> Sequence[tuple[str, Array, Array]]:
    """The lines of a figure whose true lengths are to be known; none of one that is no solid."""
    return figure.true_lines() if isinstance(figure, Solid) else ()
