"""A construction of one's own: what it is called, what it claims to be, and its lines; as text and as JSON.

The head says what it is, a line each, before the first step::

    title: Pentagon, my grandfather's way
    claim: polygon-on-side sides=5 side=60
    letters: A=A B=B C=R D=S E=T

Behind ``claim`` stands a figure of the catalogue with its givens, whose names may be used in the steps; ``letters``
tells which of its points are which of the construction's, where they are not called alike. Or it stands a truth that
the person states (:mod:`wise_compass.own.claims`), as often as there are truths, with ``givens: side=60`` for numbers
by name. A line that begins with ``==`` heads a phase.
"""

from __future__ import annotations

import json
import re
from collections.abc import Mapping, Sequence
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.own.language import MOST_STEPS, MOST_TEXT, POINT, THING, Line, read_line

FORMAT, VERSION = "wise-compass-construction", 1
HEADS = ("title", "claim", "letters", "givens")
UNNAMED = "My own way"
_FIGURE = re.compile(r"\s*[a-z]+(-[a-z]+)+(\s.*)?|\s*[a-z]{3,}(\s+[A-Za-z_0-9]+=.*)?")
_NUMBERED = re.compile(r"^\d{1,3}\s*[.)]?\s+")
_LETTER = re.compile(rf"([A-Za-z][\w.*]{{0,20}})=({POINT})(?=\s|$)")
_GIVEN = re.compile(r"([A-Za-z][A-Za-z_0-9]{0,30})=([^=]{1,60}?)(?=\s+[A-Za-z][A-Za-z_0-9]*=|\s*$)")


class Program(NamedTuple):
    """A construction: ``figure`` and its ``givens`` as they were typed where it claims to be one, else the ``truths``
    that it states; ``letters`` from the figure's points to its own."""

    title: str
    lines: tuple[Line, ...]
    figure: str = ""
    givens: Mapping[str, str] = {}
    letters: Mapping[str, str] = {}
    truths: tuple[str, ...] = ()

    @property
    def text(self) -> str:
        """The whole of it as lines."""
        told = [f"title: {self.title}"]
        givens = " ".join(f"{name}={value}" for name, value in self.givens.items())
        if self.figure:
            told.append(f"claim: {self.figure} {givens}".rstrip())
        elif givens:
            told.append(f"givens: {givens}")
        told += [f"claim: {truth}" for truth in self.truths]
        if self.letters:
            told.append("letters: " + " ".join(f"{_joined(theirs)}={own}" for theirs, own in self.letters.items()))
        phase = ""
        for line in self.lines:
            if line.phase != phase:
                phase = line.phase
                told.append(f"== {phase}")
            told.append(line.text)
        return "\n".join(told) + "\n"

    @property
    def data(self) -> dict[str, Any]:
        """The same as JSON holds it."""
        return {
            "format": FORMAT,
            "version": VERSION,
            "title": self.title,
            "figure": self.figure,
            "givens": dict(self.givens),
            "letters": dict(self.letters),
            "truths": list(self.truths),
            "steps": [{"phase": line.phase, "step": line.text} for line in self.lines],
        }

    def numbers(self) -> dict[str, float]:
        """Its own givens as numbers, in mm or degrees; raises :class:`Refused`."""
        found = {}
        for name, value in self.givens.items():
            try:
                found[name] = float(parse_quantity(value, "length", 1.0))
            except Refused as refusal:
                raise Refused("own", f"The given {name}: {refusal.template}") from None
        return found


def program_of(text: str) -> Program:
    """A construction read from its lines, or from JSON; raises :class:`Refused` for what it cannot be, by its line."""
    if len(text) > MOST_TEXT:
        raise Refused("own", f"The construction has {len(text)} letters; it may have {MOST_TEXT}. Shorten it.")
    if text.lstrip().startswith("{"):
        return _of_json(text)
    read, names, lines = Read(), Names(), list[Line]()
    for number, words in enumerate(text.splitlines(), 1):
        line = read_row(read, words, number, bool(lines))
        if line is None:
            continue
        names.check(line)
        names.take(line)
        lines.append(line)
        if len(lines) > MOST_STEPS:
            raise Refused("own", f"The construction has over {MOST_STEPS} steps. Part it.")
    return read.program(lines)


class Read:
    """What the rows before the first step said, and the phase that the steps are in."""

    def __init__(self) -> None:
        self.title, self.figure, self.phase = UNNAMED, "", ""
        self.givens: dict[str, str] = {}
        self.letters: dict[str, str] = {}
        self.truths: list[str] = []

    def program(self, lines: Sequence[Line]) -> Program:
        """The construction with these lines."""
        return Program(self.title, tuple(lines), self.figure, self.givens, self.letters, tuple(self.truths))

    def head(self, head: str, rest: str, number: int) -> None:
        """Take what a row of the head says; raises :class:`Refused`."""
        if head == "title":
            self.title = rest.strip()[:120] or self.title
        elif head == "letters":
            told = _pairs(_LETTER, rest, number, "A=P B=Q")
            self.letters = {theirs.replace("_", " "): own for theirs, own in told.items()}
        elif head == "givens":
            self.givens = _pairs(_GIVEN, rest, number, "side=60 turn=15")
        elif _FIGURE.fullmatch(rest):
            self.figure, _, more = rest.strip().partition(" ")
            self.givens = _pairs(_GIVEN, more, number, "sides=5 side=60")
        else:
            self.truths.append(rest.strip())


def read_row(read: Read, row: str, number: int, begun: bool = False) -> Line | None:
    """The step of a row; None for one that is empty, a remark or a head, which ``read`` takes. Raises
    :class:`Refused`, also for a head where the steps have ``begun``."""
    words = row.strip()
    if not words or words.startswith("#"):
        return None
    head, colon, rest = words.partition(":")
    if colon and head in HEADS:
        if begun:
            raise Refused("own", f"Line {number} is a {head}; that stands before the first step.")
        read.head(head, rest, number)
        return None
    if words.startswith("=="):
        read.phase = words.strip("= ")[:60]
        return None
    return read_line(_NUMBERED.sub("", words, count=1), number, read.phase)


class Names:
    """The points, lines and circles that there are so far."""

    def __init__(self) -> None:
        self.points: set[str] = set()
        self.things: set[str] = set()

    def check(self, line: Line) -> None:
        """Whether a step uses what there is, and makes what is not there yet; raises :class:`Refused`."""
        form = line.form
        for name in line.names(form.points):
            if name not in self.points:
                raise Refused("own", f"Line {line.number} speaks of {name}, which no step before it marks.")
        for name in line.names(form.things):
            if name not in self.things:
                raise Refused("own", f"Line {line.number} speaks of {name}, which no step before it draws.")
        made = line.made
        for k, name in enumerate(made):
            if name in self.points | self.things or name in made[:k]:
                raise Refused("own", f"Line {line.number} makes {name}, which is there already. Take another letter.")

    def take(self, line: Line) -> None:
        """There is now what a step makes."""
        for name in line.made:
            (self.things if is_thing(name) else self.points).add(name)


def _joined(name: str) -> str:
    """A name of the figure's as one word."""
    return name.replace(" ", "_")


def _pairs(form: re.Pattern[str], words: str, number: int, such: str) -> dict[str, str]:
    found = form.findall(words)
    left = form.sub("", words).strip(" ,")
    if left:
        raise Refused("own", f"Line {number}: “{left[:40]}” is not read; write such as {such}.")
    return dict(found)


@cache
def _validator() -> Any:
    import fastjsonschema

    return fastjsonschema.compile(json.loads((Path(__file__).parent / "schema.json").read_text("utf-8")))


def _of_json(text: str) -> Program:
    try:
        data = json.loads(text)
    except (ValueError, RecursionError):
        raise Refused("own", "The construction is damaged: its JSON cannot be read.") from None
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise Refused("own", f"This is no construction: its format is not {FORMAT}.")
    if data.get("version") != VERSION:
        raise Refused(
            "own", f"The construction is of version {data.get('version')!s:.10}; this program reads {VERSION}."
        )
    import fastjsonschema

    try:
        _validator()(data)
    except (fastjsonschema.JsonSchemaException, RecursionError) as error:
        what = str(error).replace("data", "it", 1)
        raise Refused("own", f"The construction is damaged: {what[:200]}.") from None
    pairs = {
        name: " ".join(f"{_joined(a)}={b}" for a, b in data.get(name, {}).items()) for name in ("givens", "letters")
    }
    figure = data.get("figure", "")
    head = [f"title: {data.get('title', '')}"]
    head += [f"claim: {figure} {pairs['givens']}"] if figure else [f"givens: {pairs['givens']}"] * bool(pairs["givens"])
    head += [f"claim: {truth}" for truth in data.get("truths", ())]
    head += [f"letters: {pairs['letters']}"] * bool(pairs["letters"])
    body = []
    for one in data["steps"]:
        body += [f"== {one.get('phase', '')}", one["step"]]
    return program_of("\n".join([*head, *body]))


def is_thing(name: str) -> bool:
    """Whether a name is one of a line or a circle."""
    return re.fullmatch(THING, name) is not None
