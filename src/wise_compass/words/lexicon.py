"""The words of every figure, read from the ``.words`` files that stand beside its module.

A figure's words begin with its id; behind it, indented by two, stand lines of these kinds (``_`` is where the quantity
stands, ``*`` any place, ``#`` a count that a name tells, such as *hexagonal*; phrases are parted by ``;``)::

    names prism 4; post 2          what names it, each with its weight
    against isometric 4            what speaks against it
    must isometric; cabinet        of which one has to be there
    needs sides side height        givens that a statement has to tell
    height L: axis; _ high         a given, its kind, and its words
    cut_height L [height-q]: …     told by something else, q: its complement, its half
    list length width: by          quantities that stand together, in this order
    same side height L: cube       one quantity for several givens
    set turns 1: once              a value that words tell
    ? hand left: left hand         a choice
    both contact_1 contact_2 outside: external
    ! trammel: paper strip         a method
    mark cut plane: section        a choice that makes more givens needed
    face turn corner: …            how a polygon lies
    places points3 A B C           places told by coordinates
    unless kind cone cylinder: sides   what is not needed with some choices
    absent hole 0                  what is meant where it is not told; a choice, or a number that may be worked out
    assumed level height/2         the same, where a problem ought to tell it: it is put in doubt
    recedes                        an oblique picture: at which angle
    @cut                           what a family shares (``shared.words``)
    says Draw a prism of {side} …  how the problem is said (``saying.py``)

Kinds: L length, D diameter, R radius, A angle, C count, X number.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files
from typing import NamedTuple

from wise_compass.figures.index import INDEX
from wise_compass.words.schools import LIGHT, NUMBERS, PLAIN_POLYGONS, POLYGONS, ROOM, canonical, lacking, rows, schools

Phrase = tuple[str, ...]
ANY, COUNTED = ("*",), ("#",)
PLACES: tuple[str, ...] = ("points2", "points3", "pointsAB", "hpvp", "chain", "circles3", "blocks", "point_line")
PLACES += ("polygon", "polepolygon", "plot", "ratio", "scale", "profile", "motions", "roof", "stretches", "terms")


class Slot(NamedTuple):
    """Givens that a quantity, or several, may be: their names, of which kind, how worked out, told by which phrases."""

    names: tuple[str, ...]
    form: str
    working: str
    phrases: tuple[Phrase, ...]
    kind: str = "one"
    """``one``, ``same`` (one quantity for all) or ``list`` (one each)."""


class Told(NamedTuple):
    """A value that words alone tell."""

    name: str
    value: str
    phrases: tuple[Phrase, ...]


@dataclass
class FigureWords:
    """The words of one figure."""

    id: str
    says: str = ""
    names: list[tuple[Phrase, float]] = field(default_factory=list)
    must: list[Phrase] = field(default_factory=list)
    needs: list[str] = field(default_factory=list)
    slots: list[Slot] = field(default_factory=list)
    sets: list[Told] = field(default_factory=list)
    choices: list[Told] = field(default_factory=list)
    methods: list[tuple[str, tuple[Phrase, ...]]] = field(default_factory=list)
    marks: list[Told] = field(default_factory=list)
    faces: list[Told] = field(default_factory=list)
    places: tuple[str, list[str]] | None = None
    counts: list[str] = field(default_factory=list)
    unless: list[tuple[str, list[str], list[str]]] = field(default_factory=list)
    absent: dict[str, str] = field(default_factory=dict)
    assumed: set[str] = field(default_factory=set)
    recedes: bool = False

    def phrases(self) -> Iterator[Phrase]:
        """Every phrase of it, names apart."""
        for slot in self.slots:
            yield from slot.phrases
        for told in (*self.sets, *self.choices, *self.marks, *self.faces):
            yield from told.phrases
        for _, phrases in self.methods:
            yield from phrases

    @property
    def own(self) -> set[str]:
        """Every word that belongs to it; a polygon where a name may tell its sides."""
        named = {"POLYGON", *PLAIN_POLYGONS} if self.counts else set()
        named |= {"divide"} if "divisions" in self.forms else set()
        return (
            named
            | {word for phrase, weight in self.names if weight > 0 for word in phrase}
            | {word for phrase in self.phrases() for word in phrase}
        )

    @property
    def forms(self) -> dict[str, str]:
        """The kind of each given that a quantity tells."""
        return {slot.names[0]: slot.form for slot in self.slots if slot.kind == "one"}


class Lexicon(NamedTuple):
    """The words of all figures by id, and every word that any of them has."""

    figures: Mapping[str, FigureWords]
    vocabulary: frozenset[str]


@cache
def lexicon() -> Lexicon:
    """All of it, in the order of the catalogue; raises :class:`ValueError` for a line that is of no kind."""
    found: dict[str, FigureWords] = {}
    for module in dict.fromkeys(entered.modules[0] for entered in INDEX):
        *rooms, name = module.split(".")
        text = files("wise_compass.figures").joinpath(*rooms, f"{name}.words").read_text("utf-8")
        found |= {words.id: words for words in _read(text)}
    ordered = {entered.id: found[entered.id] for entered in INDEX if entered.id in found}
    return Lexicon(ordered, _vocabulary(ordered))


@cache
def _shared() -> dict[str, list[str]]:
    """The lines that families of figures share, by name."""
    found: dict[str, list[str]] = {}
    for row in rows((ROOM / "shared.words").read_text("utf-8")):
        if row.startswith("@"):
            lines = found[row] = []
        else:
            lines.append(row.strip())
    return found


def _read(text: str) -> Iterator[FigureWords]:
    """The figures of a file of words."""
    words: FigureWords | None = None
    for row in rows(text):
        if row.startswith(" "):
            if words is None:
                raise ValueError(f"“{row}” stands before any figure")
            for line in _shared()[row.strip()] if row.strip().startswith("@") else [row.strip()]:
                _take(words, line)
            continue
        if words is not None:
            yield words
        words = FigureWords(row)
    if words is not None:
        yield words


def figure_words(text: str) -> FigureWords:
    """The words of one figure, as they stand in its file."""
    return next(_read(text))


def _vocabulary(figures: Mapping[str, FigureWords]) -> frozenset[str]:
    found = {word for words in figures.values() for phrase, _ in words.names for word in phrase}
    found |= {word for words in figures.values() for phrase in words.phrases() for word in phrase}
    found |= {word for kind in lacking().values() for phrase in kind for word in phrase}
    found |= {variant[0] for variant in schools() if len(variant) == 1}
    found |= {word for meant in schools().values() for word in meant} | set(POLYGONS)
    return frozenset(found - {"_", "*"})


def spelled(vocabulary: frozenset[str]) -> frozenset[str]:
    """The words that a misspelling may be meant for."""
    return vocabulary | set(NUMBERS)


def _phrases(text: str) -> tuple[Phrase, ...]:
    found = (canonical(phrase.split()) for phrase in text.split(";"))
    return tuple(phrase for phrase in found if phrase and phrase != ("_",))


def _weighed(text: str, sign: float) -> Iterator[tuple[Phrase, float]]:
    for name in text.split(";"):
        *words, weight = name.split()
        phrase = canonical(words)
        if any(word not in LIGHT for word in phrase):
            yield phrase, sign * float(weight)


def _take(words: FigureWords, line: str) -> None:
    """Take one line into a figure's words."""
    kind, _, rest = line.partition(" ")
    if kind in ("names", "against"):
        words.names += _weighed(rest, 1.0 if kind == "names" else -1.0)
    elif kind == "says":
        words.says = rest
    elif kind == "must":
        words.must += _phrases(rest)
    elif kind == "needs":
        words.needs += rest.split()
    elif kind == "recedes":
        words.recedes = True
    elif kind in ("absent", "assumed"):
        name, value = rest.split()
        words.absent[name] = value
        words.assumed |= {name} if kind == "assumed" else set()
    elif kind == "places":
        shape, *names = rest.split()
        if shape not in PLACES:
            raise ValueError(f"{words.id}: {shape} is no kind of places")
        words.places = (shape, names)
    else:
        _take_phrases(words, line)


def _take_phrases(words: FigureWords, line: str) -> None:
    head, colon, text = line.partition(": ")
    working = re.search(r"\s*\[(.+)\]", head)
    terms = (head.replace(working[0], "") if working else head).split()
    how = working[1] if working else ""
    if not colon or len(terms) < 2:
        raise ValueError(f"{words.id}: “{line}” is no line of words")
    kind, *names = terms
    if kind == "unless":
        words.unless.append((names[0], names[1:], text.split()))
        return
    phrases = _phrases(text)
    if kind == "!":
        words.methods.append((names[0], phrases))
    elif kind == "both":
        words.choices += [Told(name, names[-1], phrases) for name in names[:-1]]
    elif kind in ("?", "mark", "face", "set"):
        held = {"?": words.choices, "mark": words.marks, "face": words.faces, "set": words.sets}[kind]
        held.append(Told(names[0], how or names[1], phrases))
    elif kind == "list":
        words.slots += [Slot(tuple(names), "", how, (phrase,), "list") for phrase in phrases]
    elif kind == "same":
        words.slots.append(Slot(tuple(names[:-1]), names[-1], how, phrases, "same"))
    elif len(names) == 1 and names[0] in "LDRACX":
        if COUNTED in phrases:
            words.counts.append(kind)
        words.slots.append(Slot((kind,), names[0], how, tuple(one for one in phrases if one != COUNTED)))
    else:
        raise ValueError(f"{words.id}: “{line}” is no line of words")
