"""Problems to practise on: givens drawn at random, within what fits the paper and the kit, and a short code that holds
one.

A ``Problem`` is figure, method, stored givens, paper and scale; its ``code`` holds all of it in few signs, which
``sheet/squarecode.py`` puts on the worksheet in small square codes. Numbers are drawn until they fit paper and kit.
``Logbook`` opens its database for as long as a call takes, in one transaction; a new version of the schema is one more
entry of ``STEPS``. ``Snapshot`` reads it once, filters look through that. Plots are made in a thread
(``desk/parts/work.py``), since their library takes long to come in. ``plan/order.py`` weighs every order up to eleven
figures, and improves beyond.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.figure import FAMILIES, OWN_WAY, Figure, make, method_named
from wise_compass.drafting.givens import Angle, Choice, Count, Given, Measure, Real
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.named_rows import ROW_WORDS, NamedRows, Path
from wise_compass.drafting.places import Blocks, Lengths, Numbers, Rows
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.turn_rows import Angles, Motions
from wise_compass.drafting.wording import PLAIN, Style, scale_name
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.job.model import Entry
from wise_compass.own.claims import OUTLINES
from wise_compass.own.writing import own_method
from wise_compass.practice.packing import packed, unpacked, without_words
from wise_compass.practice.solids import drawn_blocks
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.paper import SCALES, Paper, papers, scale_named
from wise_compass.sheet.piece import Piece, Wishes
from wise_compass.sheet.squarecode import fits
from wise_compass.words.saying import problem_said, rest_said

TRIES, ALIKE = 120, 400
"""How often numbers are drawn anew where they do not fit, and where they were set before."""
SPREAD = 0.35
"""Of a given's usual size: how far it is drawn from it at first; less and less where that does not fit."""
LINES = 12
"""Lines that the words of a problem may take on its worksheet."""
CODE = "WC1"


class Problem(NamedTuple):
    """A problem: what is to be set out, how, with which givens as they are stored, on which paper and at which scale.

    ``at`` is where its origin lies on a sheet that it was not laid out for by itself, in mm from the lower left corner;
    ``own`` are the lines of a person's own way, where it is to be set out by that.
    """

    figure: str
    method: str
    givens: Mapping[str, Any]
    paper: str = "A4"
    scale: float = 1.0
    lie: str = "landscape"
    projection: str = "first"
    at: tuple[float, float] | None = None
    own: str = ""

    @property
    def kind(self) -> type[Figure]:
        return figure_named(self.figure)

    @property
    def gives(self) -> bool:
        """Whether a part of the drawing is given, such as two views of which the third is to be found."""
        return not self.own and bool(method_named(self.kind, self.method).asks)

    def made(self) -> Figure:
        """The figure; raises :class:`Refused` where its givens cannot be."""
        return make(self.kind, self.givens)

    def run(self, drafter: Drafter | None = None) -> Run:
        """The exact run on its paper; raises :class:`Refused`."""
        left, bottom, right, top = Paper(self.paper, self.lie).field
        conventions = Conventions(
            self.projection, fields=((right - left, top - bottom),), drafter=drafter or Drafter(), printed=self.gives
        )
        figure = self.made()
        return run(figure, own_method(self.own, figure) if self.own else self.method, conventions)

    @property
    def entry(self) -> Entry:
        return Entry(self.figure, self.kind.title, self.method, self.givens, own=self.own, id="problem")

    def words(self, style: Style = PLAIN) -> str:
        """The problem as a teacher would set it, at which scale, and by which method where there are several."""
        scale = "at true size" if self.scale == 1 else f"at {scale_name(self.scale)}"
        if self.gives:
            return f"{method_named(self.kind, self.method).asks} They are drawn {scale}; keep to that."
        if self.own:
            way = ", by the way that is written down for it"
        else:
            way = f", with {self.kind.methods[self.method].title}" if len(self.kind.methods) > 1 else ""
        said = problem_said(self.figure, self.givens, style, self.projection)
        rest = rest_said(self.figure, self.givens, self.method, style)
        return f"{said} {rest}{' ' if rest else ''}Set it out {scale}{way}."

    @property
    def code(self) -> str:
        """The problem in the signs that a QR code holds most tightly; a person's own way without its words, where a
        sheet's codes do not hold it with them."""
        code = self._code(self.own)
        return code if not self.own or fits(code) else self._code(without_words(self.own))

    def _code(self, own: str) -> str:
        values = "/".join(
            _coded(_cased(given, self.givens.get(name, given.stored(given.default))))
            for name, given in self.kind.givens.items()
        )
        paper = self.paper + ("*P" if self.lie == "portrait" else "")
        values += f"/{packed(own)}" * bool(own)
        method = self.method + ("*T" if self.projection == "third" else "")
        scale = scale_name(self.scale) + (f"*{self.at[0]:.2f}*{self.at[1]:.2f}" if self.at else "")
        return f"{CODE}/{self.figure}/{method}/{paper}/{scale}/{values}".upper()


def problem_of(code: str) -> Problem:
    """The problem that a code holds; raises :class:`Refused` for one that holds none."""
    code = "".join(code.split())
    head, _, rest = code.partition("/")
    parts = rest.lower().split("/")
    if head.upper() != CODE or len(parts) < 4:
        raise Refused(
            "problem",
            f"“{code[:40]}” is no problem set here; its code begins with {CODE}/ and stands on the worksheet.",
        )
    figure, method, paper, scale, *values = parts
    method, _, third = method.partition("*")
    paper, _, upright = paper.partition("*")
    scale, *at = scale.split("*")
    try:
        where = (float(at[0]), float(at[1])) if at else None
    except (ValueError, IndexError):
        raise Refused("problem", f"“{code[:40]}” tells no place on its sheet. Copy the whole code.") from None
    kind = figure_named(figure)
    own = unpacked(values.pop()) if method == OWN_WAY and values else ""
    if not own:
        method_named(kind, method)
    if len(values) != len(kind.givens):
        raise Refused(
            "problem",
            f"“{code[:40]}” tells {len(values)} givens; {kind.title} has {len(kind.givens)}. Copy the whole code.",
        )
    typed = {name: value.replace(":", ",").replace("*", ";") for name, value in zip(kind.givens, values)}
    for name, given in kind.givens.items():
        if isinstance(given, (NamedRows, Path)):
            typed[name] = _SMALL.sub(lambda one: one[1].lower(), typed[name].upper())
    size = papers(paper, "auto")[0].size
    lie, projection = ("portrait" if upright else "landscape"), ("third" if third else "first")
    return Problem(
        figure, method, make(kind, typed).stored(), size, scale_named(scale) or 1.0, lie, projection, where, own
    )


_SMALL = re.compile(r"\$([A-Z])")
"""A small letter of a name, in a code that has capitals only."""


def _cased(given: Given[Any], value: Any) -> Any:
    """A value whose names of rows tell their small letters."""
    if isinstance(value, (list, tuple)) and isinstance(given, (NamedRows, Path)):
        return [_cased(given, one) for one in value]
    if isinstance(value, str) and isinstance(given, (NamedRows, Path)) and value not in ROW_WORDS:
        return re.sub("[a-z]", lambda one: f"${one[0].upper()}", value)
    return value


def _coded(value: Any) -> str:
    if isinstance(value, (list, tuple)):
        return ("*" if value and isinstance(value[0], (list, tuple)) else ":").join(map(_coded, value))
    return f"{value:.9g}" if isinstance(value, (int, float)) and not isinstance(value, bool) else str(value)


def set_problem(
    figure: str,
    random: np.random.Generator,
    paper: str = "A4",
    drafter: Drafter | None = None,
    method: str | None = None,
    not_again: Collection[Problem] = (),
    projection: str = "first",
    by: Entry | None = None,
) -> Problem:
    """A problem of a figure that fits the paper and the kit, unlike any of ``not_again``, by one of its methods or
    ``by`` a person's own way, whose counts and choices stay; raises :class:`Refused` where there is none."""
    kind, drafter = figure_named(figure), drafter or Drafter()
    own = by.own if by is not None else ""
    exact = by is None or comes_out(Problem(figure, OWN_WAY, make(kind, by.givens).stored(), own=own).run())
    methods = [OWN_WAY] if own else [method_named(kind, method).id] if method else list(kind.methods)
    taken = {repr(sorted(one.givens.items())) for one in not_again if one.figure == figure}
    why = Refused(
        "figure", f"No further problem of {kind.title} fits {paper} and this kit. Take larger paper or another figure."
    )
    spread, fine = SPREAD, 1.0
    for k in range(TRIES + ALIKE):
        if spread <= 0:
            break
        givens = {name: _drawn(given, random, spread, fine) for name, given in kind.givens.items()}
        if by is not None:
            givens |= {name: value for name, value in by.givens.items() if not isinstance(kind.givens[name], Measure)}
        try:
            made = make(kind, givens).stored()
            if repr(sorted(made.items())) in taken:
                fine = 0.1 if k > ALIKE / 8 else 1.0  # a class larger than the round numbers are many
                continue
            way = methods[int(random.integers(len(methods)))]
            if not own and kind.methods[way].asks:
                made = make(kind, givens | {"rows": drawn_blocks(random)}).stored()
            fitted = _fitted(Problem(figure, way, made, paper, projection=projection, own=own), drafter, exact)
        except Refused:
            fitted = None
        if fitted is not None:
            return fitted
        spread -= SPREAD / TRIES
    raise why


def comes_out(made: Run, exact: bool = True) -> bool:
    """Whether a run of a person's own way shows the figure: exactly, or else nearly; where lines end may depend on the
    numbers."""
    return all(one.holds or one.says in OUTLINES or (one.by_design and not exact) for one in made.proofs)


def _fitted(problem: Problem, drafter: Drafter, exact: bool = True) -> Problem | None:
    """The problem at the scale that suits its paper, true size where that serves; None where the kit cannot do it, or
    where a person's own way that is ``exact`` does not come out."""
    made = problem.run(drafter)
    if problem.own and not comes_out(made, exact):
        return None  # with these numbers the person's way does not come out
    for scale in (1.0, *(one for one in SCALES if one != 1.0)):
        try:
            sheet_of(problem._replace(scale=scale), made)
        except Refused:
            continue
        return problem._replace(scale=scale) if not lacks(made.steps, drafter.kit, scale) else None
    return None


def sheet_of(
    problem: Problem, made: Run | None = None, style: Style = PLAIN, title: str = "Practice", number: str = "1/1"
) -> Sheet:
    """The problem's solution on its paper, its words under it; raises :class:`Refused` where it does not fit."""
    made = made or problem.run()
    piece = Piece(made, problem.kind.title, notes=problem.words(style), lines=LINES)
    wishes = Wishes(problem.paper, problem.lie, scale_name(problem.scale), title, problem.kind.title, number, style)
    return compose([piece], wishes)


def _drawn(given: Given[Any], random: np.random.Generator, spread: float, fine: float) -> Any:
    """A value beside a given's usual one, unround, so that no habit helps."""
    usual = given.default
    if isinstance(given, Choice):
        return given.options[int(random.integers(len(given.options)))] if random.random() < spread else usual
    if isinstance(given, Count):
        steps = int(random.integers(-2, 3)) if spread > 0.1 * SPREAD else 0
        return min(max(usual + steps * given.multiple, given.least), given.most)
    if isinstance(given, Real) or (isinstance(given, Measure) and given.name == "turns"):
        return usual if given.name == "turns" else round(usual * (1 + random.uniform(-spread, spread) / 2), 2)
    if isinstance(given, Angle):
        return usual if usual % 90 == 0 else _unround(usual * (1 + random.uniform(-spread, spread)), fine)
    if isinstance(given, Measure):
        return _unround(usual * (1 + random.uniform(-spread, spread)), fine * _fineness(usual))
    if isinstance(given, NamedRows):
        return given.scaled(usual, round(1 + random.uniform(-spread, spread) / 2, 2))
    if isinstance(given, Blocks):
        by = 1 + random.uniform(-spread, spread)
        return [[row[0], *(round(x * round(by, 2), 2) for x in row[1:])] for row in usual]
    if isinstance(given, Lengths):
        return [_jittered(x, random, spread) for x in usual]
    if isinstance(given, Motions):
        by = round(1 + random.uniform(-spread, spread) / 2, 2)
        return [[law, angle, round(lift * by, 2)] for law, angle, lift in usual]
    if isinstance(given, Angles):
        return [
            [angle if angle == 90.0 else float(round(angle * (1 + random.uniform(-spread, spread) / 2)))]
            for (angle,) in usual
        ]
    if isinstance(given, Numbers):
        return [
            [max(1, round(row[0]) + int(random.integers(-1, 2)))] if spread > 0.1 * SPREAD else list(row)
            for row in usual
        ]
    if isinstance(given, Rows):
        return [[_jittered(x, random, spread) for x in row] for row in usual]
    return given.stored(usual)


def _jittered(usual: float, random: np.random.Generator, spread: float) -> float:
    """A coordinate beside its usual one; one that is 0 stays, since things are level or touch there."""
    return 0.0 if usual == 0 else _unround(usual * (1 + random.uniform(-spread, spread)), _fineness(usual))


def _fineness(usual: float) -> float:
    """To which part of a millimetre a length of this size is given."""
    size = abs(usual)
    return 0.1 if size < 8 else 0.5 if size < 20 else 1.0 if size < 500 else 10.0


def _unround(value: float, by: float) -> float:
    """The value to the nearest ``by``, but no multiple of five of them."""
    count = round(value / by)
    if count % 5 == 0 and abs(count) > 5:
        count += 1 if value / by >= count else -1
    return round(count * by, 6)


def figures_of(family: str) -> list[str]:
    """The figures of a family; raises :class:`Refused` for one that is none."""
    if family not in FAMILIES:
        raise Refused("family", f"There is no family “{family}”; they are {', '.join(FAMILIES)}.")
    return [one.id for one in ENTERED.values() if one.family == family]
