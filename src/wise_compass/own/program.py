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
from typing import Any, NamedTuple

from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.refusals import Refused
from wise_compass.own.language import MOST_STEPS, MOST_TEXT, POINT, THING, Line, read_line

FORMAT, VERSION = "wise-compass-construction", 1
HEADS = ("title", "claim", "letters", "givens")
_NUMBERED = re.compile(r"^\d{1,3}\s*[.)]?\s+")
_LETTER = re.compile(rf"([A-Za-z][\w.*]{{0,20}})=({POINT})(?=\s|$)")
_GIVEN = re.compile(r"([a-z][A-Za-z_0-9]{0,30})=([^=]{1,60}?)(?=\s+[a-z][A-Za-z_0-9]*=|\s*$)")


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
            told.append("letters: " + " ".join(f"{theirs}={own}" for theirs, own in self.letters.items()))
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
    title, figure, phase = "My own way", "", ""
    givens: dict[str, str] = {}
    letters: dict[str, str] = {}
    truths: list[str] = []
    lines: list[Line] = []
    for number, raw in enumerate(text.splitlines(), 1):
        words = raw.strip()
        if not words or words.startswith("#"):
            continue
        head, colon, rest = words.partition(":")
        if colon and head in HEADS:
            if lines:
                raise Refused("own", f"Line {number} is a {head}; that stands before the first step.")
            if head == "title":
                title = rest.strip()[:120] or title
            elif head == "letters":
                letters = _pairs(_LETTER, rest, number, "A=P B=Q")
            elif head == "givens":
                givens = _pairs(_GIVEN, rest, number, "side=60 turn=15")
            elif re.fullmatch(r"\s*[a-z]+(-[a-z]+)+(\s.*)?|\s*[a-z]{4,}(\s+[a-z_0-9]+=.*)?", rest):
                figure, _, more = rest.strip().partition(" ")
                givens = _pairs(_GIVEN, more, number, "sides=5 side=60")
            else:
                truths.append(rest.strip())
        elif words.startswith("=="):
            phase = words.strip("= ")[:60]
        else:
            lines.append(read_line(_NUMBERED.sub("", words, count=1), number, phase))
            if len(lines) > MOST_STEPS:
                raise Refused("own", f"The construction has over {MOST_STEPS} steps. Part it.")
    _check_names(lines)
    return Program(title, tuple(lines), figure, givens, letters, tuple(truths))


def _pairs(form: re.Pattern[str], words: str, number: int, such: str) -> dict[str, str]:
    found = form.findall(words)
    left = form.sub("", words).strip(" ,")
    if left:
        raise Refused("own", f"Line {number}: “{left[:40]}” is not read; write such as {such}.")
    return dict(found)


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
    head = [f"title: {data.get('title', '')!s:.120}"]
    named = {name: data.get(name) for name in ("givens", "letters")}
    steps, truths = data.get("steps"), data.get("truths", [])
    told = (
        all(isinstance(each, dict) for each in named.values()) and isinstance(steps, list) and isinstance(truths, list)
    )
    if not told or not all(isinstance(one, dict) and isinstance(one.get("step"), str) for one in steps or ()):
        raise Refused("own", "The construction is damaged: givens, letters, truths or steps are not as they should be.")
    pairs = {name: " ".join(f"{a}={b}" for a, b in (each or {}).items()) for name, each in named.items()}
    figure = str(data.get("figure") or "")
    head += [f"claim: {figure} {pairs['givens']}"] if figure else [f"givens: {pairs['givens']}"] * bool(pairs["givens"])
    head += [f"claim: {truth}" for truth in truths] + [f"letters: {pairs['letters']}"] * bool(pairs["letters"])
    body = []
    for one in steps or ():
        body += [f"== {one.get('phase') or ''}", one["step"].replace("\n", " ")]
    return program_of("\n".join([*head, *body]))


def _check_names(lines: Sequence[Line]) -> None:
    """Every step uses what was made before, and makes what is not there yet."""
    points: set[str] = set()
    things: set[str] = set()
    for line in lines:
        form = line.form
        for name in line.names(form.points):
            if name not in points:
                raise Refused("own", f"Line {line.number} speaks of {name}, which no step before it marks.")
        for name in line.names(form.things):
            if name not in things:
                raise Refused("own", f"Line {line.number} speaks of {name}, which no step before it draws.")
        for name in line.names((form.makes,)) if form.makes else ():
            there = points if re.fullmatch(POINT, name) else things
            if name in there:
                raise Refused("own", f"Line {line.number} makes {name}, which is there already. Take another letter.")
            there.add(name)


def is_thing(name: str) -> bool:
    """Whether a name is one of a line or a circle."""
    return re.fullmatch(THING, name) is not None
