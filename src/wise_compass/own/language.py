"""A construction as lines that a person reads and types, a step a line.

Points begin with a capital (``A``, ``P1``), lines and circles with a small letter (``a``, ``k2``). A point of a view
is called by the view behind a stop: ``A.front``, ``A.top``, and ``A.3`` in the first view that is folded off. A length
is a number, a given by its name, two points (``AB``, taken between the points of an instrument; ``across AB`` and
``up AB`` how far B lies to the right of A or above it), or arithmetic with these; ``as before`` that which the compass
stands at.
What stands behind ``#`` are the person's own words for the step. Nothing is evaluated as code: every line has one of
the forms in :data:`FORMS`, and nothing else is read.

>>> read_line("arc k about A: AB").verb
'arc'
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache
from typing import NamedTuple

from wise_compass.drafting.refusals import Refused

LETTER = r"[A-Z][a-z]?\d{0,3}"
POINT = rf"{LETTER}(?:\.(?:front|top|[3-9]))?"
THING = r"[a-z]\d{0,3}"
LENGTH = r"[^#:,]{1,120}?"
MOST_STEPS, MOST_LINE, MOST_TEXT = 600, 300, 120_000
START = "title: A way of my own\nmark A at 0, 0\n"
START_IN_VIEWS = "title: A way of my own\nmark X at 0, 0\nreference x from X\n"
"""What stands there before a person writes; of a figure that stands in views."""
WHICH = ("upper", "lower", "left", "right")


class Form(NamedTuple):
    """A kind of step: its verb, how it is written, and which of its parts are points, lines or circles, and new
    names."""

    verb: str
    written: str
    such: str
    points: tuple[str, ...]
    things: tuple[str, ...]
    makes: str

    @property
    def pattern(self) -> re.Pattern[str]:
        """The pattern of such a line; made when a line is read, since the program starts without any."""
        return _compiled(self.written)


_compiled = cache(re.compile)

_PART = re.compile(r"\{([a-z]+)(?: ([a-z]+))?(!)?\}")
KINDS = {
    "": POINT,
    "line": THING,
    "all": f"{POINT}(?: {POINT})*",
    "size": LENGTH,
    "count": r"\d{1,3}",
    "letter": LETTER,
    "view": "front|top|[3-9]",
    "side": "left|right",
    "how": "along|square to",
}
"""What a part of a step may be: a point, a line or circle, a row of points, a length, a number of spaces, the letter of
a point in space, a view, a side, and which way a fold runs."""


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
    return Form(verb or written.split(" ")[0], text, such, points, things, makes)


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
    _form("share {name!} of {a} ?{b} at {part size}", "share P of AB at 2/5"),
    _form("place {name!} on {on line} at {along size}", "place P on a at 40"),
    _form("measure {name!} from {at}: ?{right size}, ?{rise size}", "measure P from A: 20, 35"),
    _form("mirror {name!} of {a} over {at}", "mirror B of A over M"),
    _form("bisect {a} ?{b}: ?{new line!}", "bisect AB: m"),
    _form("halve {a} ?{at} ?{b}: ?{new line!}", "halve ABC: m"),
    _form("erect {new line!} on {on line} at {at}", "erect b on a at P"),
    _form("drop {name!} on {on line} from {at}", "drop F on a from P"),
    _form("beside {new line!} of {on line} from {at}: ?{length size}", "beside b of a from P: 20"),
    _form("touch {name!} on {on line} from {at}, ?{side side}", "touch T on k from P, left"),
    _form("crown {name!} of {one line} along {on line}, ?{side side}", "crown P of k along a, left"),
    _form(
        "trammel {name!} about {at} along {on line} at {angle size}: ?{long size}, ?{short size}",
        "trammel P about O along a at 30: 60, 35",
    ),
    _form(
        "divide {a} ?{b} into {count count}(?: by (?P<how>trial|parallels|rule))?: ?{names all!}",
        "divide AB into 5: D1 D2 D3 D4",
    ),
    _form(
        "divide arc {on line} from {a} to {b} into {count count}: ?{names all!}",
        "divide arc k from A to B into 4: P1 P2 P3",
        "divide arc",
    ),
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
    _form(
        "line in circle(?: {new line!})? about {at}: ?{length size}", "line in circle k about O: OA", "line in circle"
    ),
    _form("line in arc about {at} from {a} to {b}", "line in arc about O from A to B", "line in arc"),
    _form(
        "line in {rows all}(?:, ?from {start size} to {end size})?(?:, ?(?P<hidden>hidden))?",
        "line in A B C A",
        "line in",
    ),
    _form("curve {rows all}(?:, ?from {start size} to {end size})?(?:, ?(?P<hidden>hidden))?", "curve P0 P1 P2 P3"),
    _form("reference {new line!} from {at}", "reference x from X"),
    _form("views front at {x size}, ?{y size} top at {u size}, ?{w size}", "views front at 0, 60 top at 0, -40"),
    _form("projector {new line!} of {at} across {on line}", "projector p of A.front across x"),
    _form("project {name!} over {a} level with {b}(?:, ?up {lift size})?", "project A.front over A.top level with G"),
    _form(
        "fold {new line!} off {view view} through {at} {how how} {on line}, ?{side side}(?:, ?nearer by {room size})?",
        "fold f off top through Y along a, left",
    ),
    _form("transfer {names all!}", "transfer A.3 B.3"),
    _form("datum {on line} for {view view}", "datum a for front"),
    _form("stand {letter letter} at {front} and {top}", "stand P at P.front and A.top"),
)
IN_VIEWS = ("reference", "views", "projector", "project", "fold", "transfer", "datum", "stand")
"""The steps of figures that stand in views."""
VERBS = {form.verb: form for form in FORMS}
BY_INSTRUMENT = {
    "Pencil": ("mark", "meet", "place"),
    "Straightedge": ("line", "line in", "crown"),
    "Set square": ("level", "upright", "square", "parallel", "beside", "ray"),
    "Compass": ("circle", "arc", "line in circle", "line in arc", "bisect", "halve", "erect", "drop", "touch"),
    "Rule, dividers": (
        *("lay off", "measure", "middle", "share", "mirror"),
        *("divide", "divide arc", "step round", "step along"),
    ),
    "Curve, trammel": ("curve", "trammel"),
    "Views": IN_VIEWS,
}
"""The steps by the instrument that a hand takes up for them."""


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
    near = max((form for form in FORMS if told.startswith(form.verb)), key=lambda form: len(form.verb), default=None)
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
    "share": "share {name} of {a}{b} at {part}",
    "place": "place {name} on {on} at {along}",
    "measure": "measure {name} from {at}: {right}, {rise}",
    "mirror": "mirror {name} of {a} over {at}",
    "bisect": "bisect {a}{b}: {new}",
    "halve": "halve {a}{at}{b}: {new}",
    "erect": "erect {new} on {on} at {at}",
    "drop": "drop {name} on {on} from {at}",
    "beside": "beside {new} of {on} from {at}: {length}",
    "touch": "touch {name} on {on} from {at}, {side}",
    "crown": "crown {name} of {one} along {on}, {side}",
    "trammel": "trammel {name} about {at} along {on} at {angle}: {long}, {short}",
    "divide": "divide {a}{b} into {count}[ by {how}]: {names}",
    "step round": "step {length} round {on} from {at}[ {clock}]: {names}",
    "step along": "step {length} along {on} from {at}[ {back}]: {names}",
    "line in circle": "line in circle[ {new}] about {at}: {length}",
    "line in arc": "line in arc about {at} from {a} to {b}",
    "divide arc": "divide arc {on} from {a} to {b} into {count}: {names}",
    "line in": "line in {rows}[, from {start} to {end}][, {hidden}]",
    "curve": "curve {rows}[, from {start} to {end}][, {hidden}]",
    "reference": "reference {new} from {at}",
    "views": "views front at {x}, {y} top at {u}, {w}",
    "projector": "projector {new} of {at} across {on}",
    "project": "project {name} over {a} level with {b}[, up {lift}]",
    "fold": "fold {new} off {view} through {at} {how} {on}, {side}[, nearer by {room}]",
    "transfer": "transfer {names}",
    "datum": "datum {on} for {view}",
    "stand": "stand {letter} at {front} and {top}",
}
"""How each verb is written from its parts; what stands in brackets only where its parts are there."""


def written(verb: str, parts: Mapping[str, str]) -> str:
    """A step as a line."""

    def optional(found: re.Match[str]) -> str:
        names = re.findall(r"{(\w+)}", found[1])
        return found[1].format(**parts) if all(parts.get(name) for name in names) else ""

    whole = re.sub(r"\[(.*?)\]", optional, WRITTEN[verb])
    return whole.format(**parts)
