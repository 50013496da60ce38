"""A construction as lines that a person reads and types, a step a line.

Points begin with a capital (``A``, ``P1``), lines and circles with a small letter (``a``, ``k2``). A length is a
number, a given by its name, two points (``AB``, taken between the points of an instrument), or arithmetic with these.
What stands behind ``#`` are the person's own words for the step. Nothing is evaluated as code: every line has one of
the forms in :data:`FORMS`, and nothing else is read.

>>> read_line("arc k about A: AB").verb
'arc'
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused

POINT = r"[A-Z][a-z]?\d{0,3}"
THING = r"[a-z]\d{0,3}"
LENGTH = r"[^#:,]{1,120}?"
MOST_STEPS, MOST_LINE, MOST_TEXT = 200, 300, 40_000
START = "title: A way of my own\nmark A at 0, 0\n"
"""What stands there before a person writes."""
WHICH = ("upper", "lower", "left", "right")


class Form(NamedTuple):
    """A kind of step: its verb, how it is written, and which of its parts are points, lines or circles, and new
    names."""

    verb: str
    pattern: re.Pattern[str]
    such: str
    points: tuple[str, ...]
    things: tuple[str, ...]
    makes: str


_PART = re.compile(r"\{([a-z]+)(?: ([a-z]+))?(!)?\}")
KINDS = {"": POINT, "line": THING, "all": f"{POINT}(?: {POINT})*", "size": LENGTH, "count": r"\d{1,3}"}
"""What a part of a step may be: a point, a line or circle, a row of points, a length, a number of spaces."""


def _form(written: str, such: str, verb: str = "") -> Form:
    """A form from how it is written: parts stand in braces, ``!`` behind what the step makes anew; ``?`` as in patterns
    ends what may be left away, and blanks before it."""
    kinds: dict[str, str] = {}
    makes = ""

    def part(found: re.Match[str]) -> str:
        nonlocal makes
        name, kind, new = found.groups()
        if new:
            makes = name
        else:
            kinds[name] = kind or ""
        return f"(?P<{name}>{KINDS[kind or '']})"

    text = _PART.sub(part, written).replace(" ?", r"\s*").replace(" ", r"\s+")
    points = tuple(name for name, kind in kinds.items() if kind in ("", "all"))
    things = tuple(name for name, kind in kinds.items() if kind == "line")
    return Form(verb or written.split(" ")[0], re.compile(text), such, points, things, makes)


FORMS = (
    _form("mark {name!}(?: at {x size}, ?{y size})?", "mark A at 0, 0"),
    _form("line {new line!} through {a} and {b}", "line a through A and B"),
    _form("level {new line!} from {at}", "level a from A"),
    _form("upright {new line!} from {at}", "upright b from A"),
    _form("square {new line!} to {on line} from {at}", "square b to a from A"),
    _form("parallel {new line!} to {on line} through {at}", "parallel b to a through C"),
    _form("ray {new line!} from {at} at {angle size}(?: from {a} ?{b})?", "ray b from A at 60"),
    _form(
        "lay off {name!} on {on line} from {at}: ?{length size}(?P<back> backward)?",
        "lay off B on a from A: side",
        "lay off",
    ),
    _form("circle {new line!} about {at}: ?{length size}", "circle k about A: AB"),
    _form("arc {new line!} about {at}: ?{length size}", "arc k about A: AB"),
    _form(
        "meet {name!} of {one line} and {two line}(?:, ?(?P<which>upper|lower|left|right|(?:nearest|other than) {a}))?",
        "meet C of k and m, upper",
    ),
    _form("middle {name!} of {a} ?{b}", "middle M of AB"),
    _form("bisect {a} ?{b}: ?{new line!}", "bisect AB: m"),
    _form("divide {a} ?{b} into {count count}: ?{names all!}", "divide AB into 5: D1 D2 D3 D4"),
    _form(
        "step {length size} round {on line} from {at}(?P<clock> clockwise)?: ?{names all!}",
        "step AB round k from A: B C D",
        "step round",
    ),
    _form(
        "step {length size} along {on line} from {at}(?P<back> backward)?: ?{names all!}",
        "step AB along a from A: B C D",
        "step along",
    ),
    _form("line in circle about {at}: ?{length size}", "line in circle about O: OA", "line in circle"),
    _form("line in arc about {at} from {a} to {b}", "line in arc about O from A to B", "line in arc"),
    _form("line in {rows all}", "line in A B C A", "line in"),
    _form("curve {rows all}", "curve P0 P1 P2 P3"),
)
VERBS = {form.verb: form for form in FORMS}


class Line(NamedTuple):
    """A step as it is written: its verb, its parts by name, the person's own words, and where it stands."""

    verb: str
    parts: Mapping[str, str]
    says: str = ""
    number: int = 0
    phase: str = ""

    @property
    def form(self) -> Form:
        return VERBS[self.verb]

    def names(self, of: tuple[str, ...]) -> list[str]:
        """The names that some of its parts hold."""
        return [name for part in of for name in (self.parts.get(part) or "").split()]

    @property
    def made(self) -> list[str]:
        """The names of what it makes."""
        return self.names((self.form.makes,)) if self.form.makes else []

    @property
    def text(self) -> str:
        """The line as it is written."""
        return f"{written(self.verb, self.parts)}{f'  # {self.says}' if self.says else ''}"


def read_line(words: str, number: int = 1, phase: str = "") -> Line:
    """A line of a construction; raises :class:`Refused` for what has none of the forms."""
    told, _, says = words.partition("#")
    told = told.strip()
    if len(words) > MOST_LINE:
        raise Refused("own", f"Line {number} has {len(words)} letters; a step has no more than {MOST_LINE}.")
    for form in FORMS:
        found = form.pattern.fullmatch(told)
        if found is not None:
            parts = {name: part.strip() for name, part in found.groupdict().items() if part is not None}
            return Line(form.verb, parts, says.strip(), number, phase)
    near = next((form for form in FORMS if told.startswith(form.verb)), None)
    such = f"{near.verb} is written so: {near.such}" if near else f"begin with {', '.join(VERBS)}"
    raise Refused("own", f"Line {number}, “{told[:60]}”, is no step: {such}.")


WRITTEN = {
    "mark": "mark {name}[ at {x}, {y}]",
    "line": "line {new} through {a} and {b}",
    "level": "level {new} from {at}",
    "upright": "upright {new} from {at}",
    "square": "square {new} to {on} from {at}",
    "parallel": "parallel {new} to {on} through {at}",
    "ray": "ray {new} from {at} at {angle}[ from {a}{b}]",
    "lay off": "lay off {name} on {on} from {at}: {length}[ {back}]",
    "circle": "circle {new} about {at}: {length}",
    "arc": "arc {new} about {at}: {length}",
    "meet": "meet {name} of {one} and {two}[, {which}]",
    "middle": "middle {name} of {a}{b}",
    "bisect": "bisect {a}{b}: {new}",
    "divide": "divide {a}{b} into {count}: {names}",
    "step round": "step {length} round {on} from {at}[ {clock}]: {names}",
    "step along": "step {length} along {on} from {at}[ {back}]: {names}",
    "line in circle": "line in circle about {at}: {length}",
    "line in arc": "line in arc about {at} from {a} to {b}",
    "line in": "line in {rows}",
    "curve": "curve {rows}",
}
"""How each verb is written from its parts; what stands in brackets only where its parts are there."""


def written(verb: str, parts: Mapping[str, str]) -> str:
    """A step as a line."""

    def optional(found: re.Match[str]) -> str:
        names = re.findall(r"{(\w+)}", found[1])
        return found[1].format(**parts) if all(parts.get(name) for name in names) else ""

    whole = re.sub(r"\[(.*?)\]", optional, WRITTEN[verb])
    return whole.format(**parts)
