"""Figures and methods: what is wanted, and how a hand gets there."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, NamedTuple, TypeVar

from wise_compass.drafting.course import Course, Frame
from wise_compass.drafting.dimensions import Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Given
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array, Number

if TYPE_CHECKING:
    from wise_compass.geometry.unfold import Pattern

F = TypeVar("F", bound="Figure")
FAMILIES = {
    "lines": "Lines and angles",
    "triangles": "Triangles",
    "polygons": "Polygons",
    "tangency": "Tangency",
    "conics": "Conics",
    "rolling": "Rolling curves",
    "spirals": "Spirals",
    "helices": "Helices",
    "space": "Points, lines and planes in space",
    "solids": "Solids, cut and developed",
    "transitions": "Transitions, elbows and gores",
    "pictorial": "Pictures on three axes",
    "structural": "Forms of straight lines",
}


class Method(NamedTuple):
    """A way of setting out a figure. ``exact`` may depend on the figure; ``fits`` says for which figures it serves.

    ``source`` names where the construction comes from: a theorem, a definition, a rule of the trade.
    """

    id: str
    title: str
    draw: Callable[[Any, Draft], None]
    exact: Callable[[Any], bool]
    fits: Callable[[Any], str | None]
    fits_given: str
    approximate: bool
    about: str
    source: str


class Face(NamedTuple):
    """A flat face of a solid: its corners, (m, 3), anticlockwise as seen from outside.

    ``round`` numbers the curved surface that it is a part of, 0 for none: edges between two of one number are no edges of the solid.
    ``cut`` is a face that a plane has laid bare. Where not all of a face is there, what is left of it are its ``pieces``, convex ones.
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
    """How places of space (…, 3) are pictured: ``at`` where in figure mm (…, 2), ``towards`` which way the eye is, ``depth`` how near they are."""

    at: Callable[[Array], Array]
    towards: Callable[[Array], Array]
    depth: Callable[[Array], Array]


class Edge(NamedTuple):
    """An edge of a pattern's outline: the keys of its ends on the flat, and what it is.

    ``base``, ``top`` or ``cut`` of the solid, ``joint`` where it meets another part, ``side`` where the pattern is opened; of the two edges
    that come together there, ``seam`` is the one that carries the lap.
    """

    start: str
    end: str
    kind: str


class Part(NamedTuple):
    """A part of a pattern that is cut out in one piece, ``copies`` of it: its edges in order, anticlockwise on the flat."""

    title: str
    edges: Sequence[Edge]
    copies: int = 1


class Figure:
    """Base of every figure: its givens as class attributes, its truths, values and measures as methods.

    A subclass gives ``id``, ``family`` and ``title`` in its class line, a ``brief`` (the sentence of the desk, a slot
    for every given and one for ``{method}``), and ``summary`` (a sentence for the catalogue). Where it has several methods, ``ways``
    are their ids in order, the default first.
    """

    id: ClassVar[str] = ""
    family: ClassVar[str] = ""
    title: ClassVar[str] = ""
    brief: ClassVar[str] = ""
    summary: ClassVar[str] = ""
    in_views: ClassVar[bool] = False
    givens: ClassVar[dict[str, Given[Any]]] = {}
    methods: ClassVar[dict[str, Method]] = {}
    ways: ClassVar[Sequence[str]] = ()
    value_names: ClassVar[Sequence[str]] = ()
    stands: ClassVar[Sequence[str]] = ()
    """The lines and faces that stand in space, by the letters of their corners."""
    catalogue: ClassVar[dict[str, type[Figure]]] = {}

    def __init_subclass__(cls, id: str = "", family: str = "", title: str = "") -> None:
        own = {name: given for name, given in vars(cls).items() if isinstance(given, Given)}
        cls.givens = {**own, **{name: given for name, given in cls.givens.items() if name not in own}}
        cls.methods = {}
        if id:
            cls.id, cls.family, cls.title = id, family, title
            Figure.catalogue[id] = cls

    def __init__(self, **values: Any) -> None:
        """Givens by name; the others take their defaults. Raises :class:`Refused` for any that cannot be."""
        for name in values:
            if name not in self.givens:
                raise Refused(name, f"{self.title} has no given “{name}”; it takes {', '.join(self.givens)}.")
        self.given_values: dict[str, Any] = {name: given.default for name, given in self.givens.items()}
        self.given_values.update(values)
        self.told = frozenset(values)
        for name, given in self.givens.items():
            given.check(self)
            self.given_values[name] = given.read(self.given_values[name])
        self.refuse()

    def __eq__(self, other: object) -> bool:
        """Figures are equal that are of one kind with equal givens."""
        return type(self) is type(other) and self.given_values == other.given_values

    def __hash__(self) -> int:
        return hash((type(self).id, tuple(self.given_values.items())))

    def __repr__(self) -> str:
        return f"{type(self).__name__}({', '.join(f'{name}={value!r}' for name, value in self.given_values.items())})"

    def refuse(self) -> None:
        """Raise :class:`Refused` where givens that are each in bounds do not go together."""

    def values(self, method: str) -> Iterable[Value]:
        """Every value of the figure, by formula; those of the drawn figure too where ``method`` is approximate."""
        raise NotImplementedError

    def measure(self, found: Found) -> dict[str, Number]:
        """The same values as read off the drawing, from the found points alone; leading axes are hands."""
        raise NotImplementedError

    def truths(self, found: Found) -> Iterator[Truth]:
        """What defines the figure, as misses of the found points."""
        raise NotImplementedError

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        """The givens as a drafter dimensions them."""
        return ()

    def courses(self, method: str) -> Sequence[Course]:
        """The true curves that the found points of ``method`` lie on; none for figures of straight lines and arcs."""
        return ()

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        """Lines of a solid whose true lengths are to be known: the name of each, and its ends in space, (3,)."""
        return ()

    def mechanism(self, found: Found, t: float) -> Frame | None:
        """The moving parts of a run of this figure where the curve's parameter is ``t``; None where nothing moves."""
        return None

    def body(self, names: Sequence[str]) -> Sequence[Sequence[str]]:
        """What stands in space, as lines through the ``names`` that were found there; a flat face begins and ends at one place."""
        return [list(line) for line in self.stands if set(line) <= set(names)]

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """The faces of the solid as it stands in space, for ``method``; of what is taken ``off`` it where a plane cuts it.

        None of figures that are no solids.
        """
        return ()

    def beside(self, method: str = "") -> Sequence[Array]:
        """Lines that stand beside the solid in the space view, (n, 3) each, such as rays to an eye."""
        return ()

    def own_edges(self) -> Sequence[Array] | None:
        """The edges of the solid, (2, 3) each on its faces, where they are not those between its faces; else None."""
        return None

    def pictured(self, found: Found) -> Picture | None:
        """How its drawing pictures the faces of :meth:`skin`; None where it does not."""
        return None

    @classmethod
    def is_solid(cls) -> bool:
        """Whether something with faces stands in space."""
        return cls.skin is not Figure.skin

    def is_developed(self, found: Found) -> bool:
        """Whether a pattern was found on the paper."""
        return "Q0" in found

    def pattern(self, found: Found) -> Pattern | None:
        """The pattern as it was found on the paper, hinged at its fold lines; None where there is none."""
        return None

    def cut_out(self, found: Found) -> Sequence[Part]:
        """What is to be cut out of sheet; nothing for figures without a pattern."""
        return ()

    across: ClassVar[Sequence[str]] = ()
    """The givens that are sizes across a hollow body, from one wall to the other: what a plate's thickness shifts."""

    of_body: ClassVar[Sequence[str]] = ("volume", "surface", "section_area", "section_long", "section_wide")
    """The values of the whole body, which a plate's thickness leaves as they are."""

    def widened(self, by: float) -> dict[str, Any]:
        """The givens that change where every wall stands ``by`` mm further out."""
        return {name: self.given_values[name] + 2 * by for name in self.across}

    def face_at(self, heading: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """The face that a move of this heading is about: its vertices on the body, and its places on the flat; both empty for none."""
        return (), ()

    hazards: ClassVar[Sequence[str]] = ()
    """What whoever makes the thing is to be warned of, whatever the givens."""

    def cautions(self) -> Iterable[str]:
        """What a drafter should be warned of with these givens, a sentence each."""
        return ()

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        """The brief for these givens and this method, where it depends on them."""
        return cls.brief

    def says_givens(self, style: Style = PLAIN) -> dict[str, str]:
        """Each given as text."""
        return {name: given.text(self.given_values[name], style) for name, given in self.givens.items()}

    def stored(self) -> dict[str, Any]:
        """The givens as JSON holds them."""
        return {name: given.stored(self.given_values[name]) for name, given in self.givens.items()}


def method(
    figure: type[F],
    id: str,
    title: str = "",
    *,
    exact: bool | Callable[[F], bool] = True,
    fits: Callable[[F], str | None] | None = None,
    fits_given: str = "",
    about: str = "",
    source: str = "",
) -> Callable[[Callable[[F, Draft], None]], Callable[[F, Draft], None]]:
    """Enter a function as a method of ``figure``. ``fits`` returns a refusal's words where it cannot serve."""

    def enter(draw: Callable[[F, Draft], None]) -> Callable[[F, Draft], None]:
        exactly: Callable[[Any], bool] = exact if callable(exact) else (lambda figure: bool(exact))
        figure.methods[id] = Method(
            id,
            title or id.replace("-", " "),
            draw,
            exactly,
            fits or (lambda figure: None),
            fits_given or "method",
            exact is not True,
            about,
            source,
        )
        if figure.ways:  # whichever module comes in first, the figure says in which order its methods stand
            figure.methods = {way: figure.methods[way] for way in figure.ways if way in figure.methods}
        return draw

    return enter


def make(figure: type[F], typed: Mapping[str, object], style: Style = PLAIN) -> F:
    """A figure from what was typed or stored for each of its givens; raises :class:`Refused`."""
    values: dict[str, Any] = {}
    for name, value in typed.items():
        given = figure.givens.get(name)
        values[name] = value if given is None else given.read(value, style)
    return figure(**values)
