"""Figures and methods: what is wanted, and how a hand gets there."""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import TYPE_CHECKING, Any, ClassVar, NamedTuple, TypeVar

from wise_compass.drafting.dimensions import Dimension
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.givens import Given
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Proof, Truth, Value
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Number

if TYPE_CHECKING:
    pass

F = TypeVar("F", bound="Figure")
KEY = re.compile(r"[A-Za-z]+\*?[a-z]?(\.(\w+|\*))?")
FAMILIES = {
    "lines": "Lines and angles",
    "scales": "Scales",
    "proportion": "Proportion and area",
    "triangles": "Triangles",
    "polygons": "Polygons",
    "tangency": "Tangency",
    "profiles": "Profiles of arcs and lines",
    "conics": "Conics",
    "rolling": "Rolling curves",
    "spirals": "Spirals",
    "helices": "Helices",
    "paths": "Paths of points, cams and gears",
    "space": "Points, lines and planes in space",
    "solids": "Solids, cut and developed",
    "transitions": "Transitions, elbows and gores",
    "roofs": "Roofs, shadows and sections",
    "pictorial": "Pictures on three axes",
    "structural": "Forms of straight lines",
}


OWN_WAY = "own"
"""The id of a method that stands in no catalogue: a person's own."""


class Method(NamedTuple):
    """A way of setting out a figure. ``exact`` may depend on the figure; ``fits`` says for which figures it serves.

    ``source`` names where the construction comes from: a theorem, a definition, a rule of the trade. ``asks`` is what
    is asked where a part of it is given drawn: how it is set as a problem. A method that stands in no catalogue
    ``proves`` itself: it may not have all points that the figure's truths speak of; ``text`` is how it is written.
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
    asks: str = ""
    proves: Callable[[Any], list[Proof]] | None = None
    text: str = ""


def known_way(figure: Figure, method: Method) -> str:
    """The id by which a figure knows a method: its own, or that of its first for one that stands in no catalogue."""
    return method.id if method.proves is None else next(iter(figure.methods))


class Figure(ABC):
    """Base of every figure: its givens as class attributes, its truths, values and measures as methods.

    What only some of them can, they take on beside it: see :mod:`wise_compass.drafting.capabilities`.

    A subclass gives ``id``, ``family`` and ``title`` in its class line, a ``brief`` (the sentence of the desk, a slot
    for every given and one for ``{method}``), and ``summary`` (a sentence for the catalogue). Where it has several
    methods, ``ways`` are their ids in order, the default first.
    """

    id: ClassVar[str] = ""
    family: ClassVar[str] = ""
    title: ClassVar[str] = ""
    brief: ClassVar[str] = ""
    summary: ClassVar[str] = ""
    givens: ClassVar[dict[str, Given[Any]]] = {}
    methods: ClassVar[dict[str, Method]] = {}
    ways: ClassVar[Sequence[str]] = ()
    value_names: ClassVar[Sequence[str]] = ()
    keys: ClassVar[Sequence[str]] = ()
    """The keys of the points that every method finds, whatever the givens, and that values, truths, views, patterns and
    shop rely on; ``P*`` stands for a row of numbered ones."""
    true_size: ClassVar[bool] = False
    """Whether it is drawn at true size wherever it fits, as what is measured with has to be."""
    catalogue: ClassVar[dict[str, type[Figure]]] = {}

    def __init_subclass__(cls, id: str = "", family: str = "", title: str = "") -> None:
        own = {name: given for name, given in vars(cls).items() if isinstance(given, Given)}
        inherited: dict[str, Given[Any]] = {}
        for base in cls.__mro__[1:]:
            for name, given in vars(base).get("givens", {}).items():
                if isinstance(getattr(cls, name, None), Given):  # what it tells by other means is no given of it
                    inherited.setdefault(name, given)
        cls.givens = {**own, **{name: given for name, given in inherited.items() if name not in own}}
        cls.methods = {}
        if id:
            if not cls.keys or any(KEY.fullmatch(key) is None for key in cls.keys):
                raise TypeError(f"{cls.__name__} declares the keys of its points, such as A, A.front or P*: {cls.keys}")
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

    def refuse(self) -> None:  # noqa: B027 (most figures have nothing to refuse)
        """Raise :class:`Refused` where givens that are each in bounds do not go together."""

    @abstractmethod
    def values(self, method: str) -> Iterable[Value]:
        """Every value of the figure, by formula; those of the drawn figure too where ``method`` is approximate."""

    @abstractmethod
    def measure(self, found: Found) -> dict[str, Number]:
        """The same values as read off the drawing, from the found points alone; leading axes are hands."""

    @abstractmethod
    def truths(self, found: Found) -> Iterator[Truth]:
        """What defines the figure, as misses of the found points."""

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        """The givens as a drafter dimensions them."""
        return ()

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
    asks: str = "",
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
            asks,
        )
        if figure.ways:  # whichever module comes in first, the figure says in which order its methods stand
            figure.methods = {way: figure.methods[way] for way in figure.ways if way in figure.methods}
        return draw

    return enter


def method_named(figure: type[Figure], id: str | None) -> Method:
    """The method with this id, or the default one, the first of the figure's ``ways``; raises :class:`Refused`."""
    if id is None:
        return next(iter(figure.methods.values()))
    if id not in figure.methods:
        raise Refused("method", f"{figure.title} has no method “{id}”; it has {', '.join(figure.methods)}.")
    return figure.methods[id]


def method_for(figure: Figure, id: str | Method | None = None) -> Method:
    """The method with this id; where none is named the first that serves these givens, or if none does, the first. A
    method that stands in no catalogue, such as a person's own, is taken as it is. Raises :class:`Refused` for an id
    that the figure does not have."""
    if isinstance(id, Method):
        return id
    if id is None:
        ways = type(figure).methods.values()
        return next((way for way in ways if way.fits(figure) is None), next(iter(ways)))
    return method_named(type(figure), id)


def make(figure: type[F], typed: Mapping[str, object], style: Style = PLAIN) -> F:
    """A figure from what was typed or stored for each of its givens; raises :class:`Refused`."""
    values: dict[str, Any] = {}
    for name, value in typed.items():
        given = figure.givens.get(name)
        values[name] = value if given is None else given.read(value, style)
    return figure(**values)
