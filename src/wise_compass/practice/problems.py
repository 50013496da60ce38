"""Problems to practise on, and the short code that holds one.

A ``Problem`` is figure, method, stored givens, paper and scale; its ``code`` holds all of it in few signs, which
``sheet/squarecode.py`` puts on the worksheet in small square codes. ``setting.py`` draws new ones.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, NamedTuple

from wise_compass.drafting.figure import FAMILIES, OWN_WAY, Figure, make, method_named
from wise_compass.drafting.givens import Given
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.named_rows import ROW_WORDS, NamedRows, Path
from wise_compass.drafting.places import Blocks
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import PLAIN, Style, scale_name
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.job.model import Entry
from wise_compass.own.writing import own_method
from wise_compass.practice.packing import packed, unpacked, without_words
from wise_compass.sheet.compose import Sheet, compose
from wise_compass.sheet.layout import has_room
from wise_compass.sheet.paper import Paper, papers, scale_named
from wise_compass.sheet.piece import Piece, Wishes
from wise_compass.sheet.squarecode import fits
from wise_compass.words.saying import problem_said, rest_said

LINES = 12
"""Lines that the words of a problem may take on its worksheet."""
CODE = "WC1"
BLOCKS_LIE = "Sizes are told along the front, along the right side and up, and so is where a block's nearest corner is."


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
        axes = BLOCKS_LIE if any(isinstance(given, Blocks) for given in self.kind.givens.values()) else ""
        return " ".join(part for part in (said, axes, rest, f"Set it out {scale}{way}.") if part)

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


def sheet_of(
    problem: Problem, made: Run | None = None, style: Style = PLAIN, title: str = "Practice", number: str = "1/1"
) -> Sheet:
    """The problem's solution on its paper, its words under it; raises :class:`Refused` where it does not fit."""
    made = made or problem.run()
    return compose([_piece(problem, made, style)], _wishes(problem, style, title, number))


def fits_paper(problem: Problem, made: Run | None = None) -> bool:
    """Whether the problem's solution fits its paper at its scale; raises :class:`Refused` where its givens cannot
    be."""
    return has_room([_piece(problem, made or problem.run(), PLAIN)], _wishes(problem, PLAIN))


def _piece(problem: Problem, made: Run, style: Style) -> Piece:
    return Piece(made, problem.kind.title, notes=problem.words(style), lines=LINES)


def _wishes(problem: Problem, style: Style, title: str = "", number: str = "") -> Wishes:
    return Wishes(problem.paper, problem.lie, scale_name(problem.scale), title, problem.kind.title, number, style)


def figures_of(family: str) -> list[str]:
    """The figures of a family; raises :class:`Refused` for one that is none."""
    if family not in FAMILIES:
        raise Refused("family", f"There is no family “{family}”; they are {', '.join(FAMILIES)}.")
    return [one.id for one in ENTERED.values() if one.family == family]
