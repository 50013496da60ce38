"""Finding pages of the handbook by words: those that have all of them, the ones first that have them in the title."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.handbook.html import words_of
from wise_compass.handbook.opening import page
from wise_compass.handbook.pages import FIGURES, INDEX, contents, names
from wise_compass.words.lexicon import lexicon
from wise_compass.words.reading import LEAST_NAME, read

_WORD = re.compile(r"[^\W_]+(?:[-’'][^\W_]+)*", re.UNICODE)
AS_TITLE, IN_TITLE, IN_HEADING, IN_TEXT = 20.0, 8.0, 3.0, 1.0
"""What a word that is found counts, by where it stands."""
AROUND = 60
"""Letters on either side of what was found that are shown of it."""


class Hit(NamedTuple):
    """A page that has what was sought, and the words about the first place of it."""

    name: str
    title: str
    about: str


class _Entry(NamedTuple):
    """A page as it is searched: its words by where they stand."""

    name: str
    title: str
    headings: str
    text: str


def find(words: str, most: int = 40) -> list[Hit]:
    """The pages that have every one of the words, or what begins with it, the fittest first; none for no word."""
    sought = [word.lower() for word in _WORD.findall(words)]
    if not sought:
        return []
    found = []
    for place, entry in enumerate(_entries()):
        counts = [_counts(entry, word) for word in sought]
        if all(counts):
            whole = AS_TITLE * (entry.title.lower() == " ".join(sought))
            found.append((-sum(counts) - whole, place, entry))
    hits = [Hit(entry.name, entry.title, _about(entry, sought[0])) for _, _, entry in sorted(found)]
    there = {hit.name for hit in hits}
    return [*hits, *(hit for hit in _meant(words) if hit.name not in there)][:most]


def _meant(words: str) -> Iterator[Hit]:
    """The pages of the figures that a problem in these words may mean, whatever school says them."""
    try:
        tried = read(words).tried
    except Refused:  # too long for a problem
        return
    for one in tried:
        if one.named >= LEAST_NAME:
            yield Hit(FIGURES + one.id, ENTERED[one.id].title, figure_named(one.id).summary)


def _counts(entry: _Entry, word: str) -> float:
    begins = re.compile(rf"(?<![^\W_]){re.escape(word)}")
    return (
        IN_TITLE * bool(begins.search(entry.title.lower()))
        + IN_HEADING * bool(begins.search(entry.headings))
        + IN_TEXT * min(len(begins.findall(entry.text.lower())), 5) / 5
    )


def _about(entry: _Entry, word: str) -> str:
    at = max(entry.text.lower().find(word), 0)
    first, last = max(at - AROUND, 0), at + len(word) + AROUND
    cut = entry.text[first:last]
    return f"{'…' if first else ''}{cut.strip()}{'…' if last < len(entry.text) else ''}"


@cache
def _entries() -> tuple[_Entry, ...]:
    return tuple(_read())


def _read() -> Iterator[_Entry]:
    written = [INDEX, *(name for part in contents().values() for name in part)]
    for name in dict.fromkeys(written):
        one = page(name)
        headings = " ".join(re.findall(r"^#+ (.+)$", one.text, re.MULTILINE)).lower()
        yield _Entry(name, one.title, headings, words_of(one.text))
    every = lexicon()
    for id, entered in ENTERED.items():
        if FIGURES + id in names():
            kind = figure_named(id)
            methods = " ".join(f"{way.title} {way.about} {way.source}" for way in kind.methods.values())
            told = " ".join(" ".join(phrase) for phrase, weight in every.figures[id].names if weight > 0)
            text = f"{kind.summary} {methods} {' '.join(kind.value_names)}".replace("_", " ")
            yield _Entry(FIGURES + id, entered.title, f"{id} {told}".lower(), text)
