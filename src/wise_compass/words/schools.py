"""The words that all figures share: what different schools call things, numbers in words, units, and what is passed
over."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from importlib.resources import files

ROOM = files("wise_compass.words")


def rows(text: str) -> list[str]:
    """The lines of a file of words; one that is indented by four more than another goes on with it.

    >>> rows("a: b;\\n      c\\n\\nd: e")
    ['a: b; c', 'd: e']
    """
    found: list[str] = []
    for line in text.splitlines():
        if not line.strip():
            continue
        deep = len(line) - len(line.lstrip())
        if found and deep >= 4:
            found[-1] += " " + line.strip()
        else:
            found.append(line.rstrip())
    return found


_SHARED = {
    kind: words.split()
    for row in rows((ROOM / "common.words").read_text("utf-8"))
    for kind, words in [row.split(": ", 1)]
}

FILLERS = frozenset(_SHARED["fillers"])
"""Words that say nothing of a figure."""
LIGHT = frozenset(_SHARED["light"])
"""Words that count for little: they may stand between two words of a phrase."""
POLYGONS = {
    "triangle": 3, "triangular": 3, "square": 4, "pentagon": 5, "pentagonal": 5, "hexagon": 6, "hexagonal": 6, "hex": 6,
    "heptagon": 7, "heptagonal": 7, "septagon": 7, "septagonal": 7, "octagon": 8, "octagonal": 8, "nonagon": 9,
    "nonagonal": 9, "enneagon": 9, "decagon": 10, "decagonal": 10, "hendecagon": 11, "undecagon": 11, "dodecagon": 12,
    "dodecagonal": 12,
}  # fmt: skip
PLAIN_POLYGONS = ("triangle", "triangular", "square")
"""Those that may mean something else than a count of sides, and stay words of their own."""
NUMBERS = {word: n for n, word in enumerate(_SHARED["numbers"], 1)}
NUMBERS |= {
    "twenty-four": 24,
    "twenty four": 24,
    "thirty": 30,
    "thirty-six": 36,
    "forty": 40,
    "sixty": 60,
    "ninety": 90,
}
ORDINALS = {word: n for n, word in enumerate(_SHARED["ordinals"], 2)}
UNITS = {
    "mm": 1.0, "millimetre": 1.0, "millimeter": 1.0, "cm": 10.0, "centimetre": 10.0, "centimeter": 10.0, "m": 1000.0,
    "metre": 1000.0, "meter": 1000.0, "in": 25.4, "inch": 25.4, "inche": 25.4, '"': 25.4, "ft": 304.8, "feet": 304.8,
    "foot": 304.8, "'": 304.8,
}  # fmt: skip
"""mm of each unit, in the singular."""
MODIFIERS = frozenset(_SHARED["modifiers"])
"""Words that change what a quantity says; one that nobody used puts the given in doubt."""
ROUNDS = frozenset(_SHARED["rounds"])
"""Round bodies: what is told of one is more often its diameter."""
ROUGHLY = frozenset(("about", "nearly", "approximately"))
"""Modifiers only of the number that they touch."""
PREPOSITIONS = frozenset(_SHARED["prepositions"])
"""Words behind a quantity that it does not belong to as to a noun."""
AFTER = frozenset(_SHARED["after"])
"""Words that stand behind the quantity that they are said of."""
HEADS = _SHARED["heads"]
"""Nouns that name what is drawn."""
FOREIGN = _SHARED["foreign"]
"""Nouns that put a figure in doubt which does not own them."""
ALIEN = _SHARED["alien"]
"""Nouns for which no figure is taken that does not own them."""
OBJECTS = _SHARED["objects"]
"""Nouns that put a figure in doubt which does not own them where they are what is to be drawn."""
PLAIN = frozenset(_SHARED["plain"])
"""Words that a statement may have beside those of any figure, and that are never taken for a misspelling."""


@cache
def schools() -> dict[tuple[str, ...], list[str]]:
    """What each word or row of words is read as."""
    found: dict[tuple[str, ...], list[str]] = {}
    for row in rows((ROOM / "schools.words").read_text("utf-8")):
        meant, _, variants = row.partition(": ")
        for variant in variants.split(";"):
            found[tuple(variant.split())] = meant.split()
    return found


@cache
def lacking() -> dict[str, list[tuple[str, ...]]]:
    """Things that the catalogue does not have, in canonical words: those that are surely meant, and those perhaps."""
    found = {}
    for row in rows((ROOM / "lacking.words").read_text("utf-8")):
        kind, _, phrases = row.partition(": ")
        found[kind] = [tuple(phrase.split()) for phrase in phrases.split(";")]
    return found


def canonical(words: Sequence[str]) -> tuple[str, ...]:
    """A phrase in canonical words, without fillers.

    >>> canonical("side of the horizontal plane".split())
    ('side', 'HP')
    """
    known, found, at = schools(), list[str](), 0
    while at < len(words):
        for many in range(min(5, len(words) - at), 0, -1):
            meant = known.get(tuple(words[at : at + many]))
            if meant is not None and meant[0] not in ("left", "right"):
                found += meant
                at += many
                break
        else:
            found.append(words[at])
            at += 1
    return tuple(word for word in found if word not in FILLERS)
