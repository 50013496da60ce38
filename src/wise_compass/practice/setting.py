"""Problems set: givens drawn at random, beside those of a figure that is usual, until they fit paper and kit; for one
person, or for a whole class."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.figure import OWN_WAY, make, method_named
from wise_compass.drafting.givens import Angle, Choice, Count, Given, Measure, Real
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.named_rows import NamedRows
from wise_compass.drafting.places import Blocks, Lengths, Numbers, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.turn_rows import Angles, Motions
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.model import Entry
from wise_compass.outputs.cores import on_all_cores
from wise_compass.own.claims import OUTLINES
from wise_compass.practice.problems import Problem, fits_paper
from wise_compass.practice.solids import cut_through, drawn_blocks
from wise_compass.sheet.paper import SCALES

TRIES, ALIKE = 120, 400
"""How often numbers are drawn anew where they do not fit, and where they were set before."""
KEPT = ("turns", "show", "shown", "addendum", "dedendum", "pressure_angle")
"""Givens that stay as they are usual: what the words of a problem speak of, and what a trade does not vary."""
SERIES = {"module": (1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 5.5, 6.0, 7.0, 8.0, 10.0, 12.0)}
"""Sizes that cutters are made for, of givens that take no others: the modules of ISO 54."""
LYING = ("-front", "-right")
"""Rounds whose section stands upright: it stays a circle only where heights grow as widths do."""
SPREAD = 0.35
"""Of a given's usual size: how far it is drawn from it at first; less and less where that does not fit."""


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
    taken = {_told(one.givens) for one in not_again if one.figure == figure}
    why = Refused(
        "figure", f"No further problem of {kind.title} fits {paper} and this kit. Take larger paper or another figure."
    )
    spread, fine = SPREAD, 1.0
    for k in range(TRIES + ALIKE):
        if spread <= 0:
            break
        givens = {name: _drawn(given, random, spread, fine) for name, given in kind.givens.items()}
        if "stretches" in givens:
            givens["stretches"] = cut_through(givens["rows"], givens["along"], random)
        if by is not None:
            givens |= {name: value for name, value in by.givens.items() if not isinstance(kind.givens[name], Measure)}
        try:
            made = make(kind, givens).stored()
            if _told(made) in taken:
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


class Asked(NamedTuple):
    """What somebody is to be set, as :func:`set_problem` takes it."""

    figure: str
    paper: str = "A4"
    drafter: Drafter = Drafter()
    method: str | None = None
    projection: str = "first"
    by: Entry | None = None

    def problem(self, random: np.random.Generator, not_again: Collection[Problem] = ()) -> Problem:
        """A problem of it; raises :class:`Refused` where there is none."""
        return set_problem(
            self.figure, random, self.paper, self.drafter, self.method, not_again, self.projection, self.by
        )


def set_class(
    asked: Sequence[Asked], random: np.random.Generator, hear: Callable[[int, int], None] | None = None
) -> list[Problem]:
    """A problem for everybody, no two alike; raises :class:`Refused` where there are not as many.

    Everybody's numbers are drawn by a generator of their own, so that they are the same on however many processors.
    """
    found: list[Problem] = []
    drawn = list(zip(asked, random.spawn(len(asked))))
    for (one, own), problem in zip(drawn, on_all_cores(_set_alone, drawn, hear), strict=True):
        alike = any(problem.figure == other.figure and problem.givens == other.givens for other in found)
        found.append(one.problem(own.spawn(1)[0], found) if alike else problem)
    return found


def _set_alone(drawn: tuple[Asked, np.random.Generator]) -> Problem:
    asked, random = drawn
    return asked.problem(random)


def _told(givens: Mapping[str, Any]) -> str:
    return repr(sorted(givens.items()))


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
        fitted = problem._replace(scale=scale)
        if fits_paper(fitted, made):
            return fitted if not lacks(made.steps, drafter.kit, scale) else None
    return None


def _drawn(given: Given[Any], random: np.random.Generator, spread: float, fine: float) -> Any:
    """A value beside a given's usual one, unround, so that no habit helps."""
    usual = given.default
    if given.name in KEPT:
        return given.stored(usual)
    if isinstance(given, Choice):
        return given.options[int(random.integers(len(given.options)))] if random.random() < spread else usual
    if isinstance(given, Count):
        steps = int(random.integers(-2, 3)) if spread > 0.1 * SPREAD else 0
        return min(max(usual + steps * given.multiple, given.least), given.most)
    if isinstance(given, Real):
        by = fine * _fineness_of_number(usual)
        return round(round(usual * (1 + random.uniform(-spread, spread) / 2) / by) * by, 6)
    if isinstance(given, Angle):
        return usual if usual % 90 == 0 else _unround(usual * (1 + random.uniform(-spread, spread)), fine)
    if given.name in SERIES and fine == 1.0:
        near = [size for size in SERIES[given.name] if abs(size - usual) <= spread * usual]
        return near[int(random.integers(len(near)))] if near else usual
    if isinstance(given, Measure):
        return _unround(usual * (1 + random.uniform(-spread, spread)), fine * _fineness(usual))
    if isinstance(given, NamedRows):
        return given.scaled(usual, 1 + _stepped(random, spread / 2, fine / 2))
    if isinstance(given, Blocks):
        level = 1 + _stepped(random, spread, fine)
        up = level if any(row[0].endswith(LYING) for row in usual) else 1 + _stepped(random, spread, fine)
        larger = np.array([level, level, up, level, level, up])
        return [[row[0], *np.round(larger * row[1:], 3).tolist()] for row in usual]
    if isinstance(given, Lengths):
        return [_jittered(x, random, spread) for x in usual]
    if isinstance(given, Motions):
        higher = 1 + _stepped(random, spread, fine / 2)
        return [[law, angle, round(lift * higher, 3)] for law, angle, lift in usual]
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
        drawn = [{x: _jittered(x, random, spread) for x in column} for column in zip(*usual)]
        return [[drawn[k][x] for k, x in enumerate(row)] for row in usual]  # what is in line stays so
    return given.stored(usual)


def _stepped(random: np.random.Generator, spread: float, fine: float) -> float:
    """A part by which all sizes of a thing grow together, in tenths, so that they stay handy; or finer."""
    return round(round(random.uniform(-spread, spread) / (0.1 * fine)) * 0.1 * fine, 6)


def _jittered(usual: float, random: np.random.Generator, spread: float) -> float:
    """A coordinate beside its usual one; one that is 0 stays, since things are level or touch there."""
    return 0.0 if usual == 0 else _unround(usual * (1 + random.uniform(-spread, spread)), _fineness(usual))


def _fineness(usual: float) -> float:
    """To which part of a millimetre a length of this size is given."""
    size = abs(usual)
    return 0.1 if size < 8 else 0.5 if size < 20 else 1.0 if size < 500 else 10.0


def _fineness_of_number(usual: float) -> float:
    """To which part of one a number of this size is given: a scale or a count by whole numbers; one that is usually
    told to a hundredth, so again."""
    return 0.01 if usual < 2 or usual != round(usual, 1) else 0.1 if usual < 10 else 1.0


def _unround(value: float, by: float) -> float:
    """The value to the nearest ``by``, but no multiple of five of them."""
    count = round(value / by)
    if count % 5 == 0 and abs(count) > 5:
        count += 1 if value / by >= count else -1
    return round(count * by, 6)
