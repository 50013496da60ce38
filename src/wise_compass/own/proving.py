"""Whether a construction is what it claims to be: exact, for these numbers alone, or near, and by how much.

Its truths are held at the numbers that it was written for, and at hundreds of others drawn over the range of the claim.
Numbers with which two lines do not meet are told apart from those with which they miss. Where it misses, the steps are
looked through for one that would make it exact if it took another point, line or crossing.
"""

from __future__ import annotations

import random
import time
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from itertools import combinations
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import many, mm, power_of_ten, trim
from wise_compass.own.claims import CURVES, NEAR, OUTLINES, Claim, Miss, share_of_size
from wise_compass.own.language import WHICH, Line, read_line
from wise_compass.own.numbers import is_coordinate, kind_of
from wise_compass.own.program import Program, is_thing
from wise_compass.own.running import Unmet

DRAWN, LEAST_HELD, TRIES = 200, 0.1, 6
"""Numbers that a claim is held at, the part of them that says something, and how often each may be drawn anew."""
SPREAD = 2.5
"""How many times as large or as small as it was written a length is drawn."""
STATIONS = 25
LONGEST, FEWEST = 3.0, 5
"""Seconds after which it is held at no more numbers, having been held at so many."""
FROZEN_AFTER = 12
"""Of numbers that are all refused: how many are drawn before the given that they are mostly refused for stays as it
is."""
MOST_NAMED = 4
"""Numbers that a verdict names."""
ROUND = 0.15
"""Of the furthest: how far a coordinate is moved at most. What lies before, behind or beside what is part of a
construction in views, which a point at the other end of the drawing would make another."""
LINE_WIDTH = 0.25
"""mm: what a drawn line hides."""
MOST_CAUSES, MOST_VARIANTS, PATIENCE = 3, 900, 2.0
"""Of changes that would mend it: how many are told, tried, and for how many seconds."""


def _untold(done: int, whole: int) -> None:
    """Nobody hears how far it is."""


class Sweep(NamedTuple):
    """A given moved over its range: its values and the largest miss at each, NaN where two lines do not meet."""

    given: str
    values: tuple[float, ...]
    misses: tuple[float, ...]

    @property
    def within_a_line(self) -> tuple[float, float] | None:
        """From which to which value the miss is hidden by the width of a line; None where it nowhere is."""
        good = [value for value, miss in zip(self.values, self.misses) if miss <= LINE_WIDTH]
        return (good[0], good[-1]) if good else None


class Cause(NamedTuple):
    """A step that would make the construction exact if it were written otherwise."""

    line: Line
    instead: str

    @property
    def says(self) -> str:
        line, instead = (words.partition("  #")[0] for words in (self.line.text, self.instead))
        return f"It is exact if line {self.line.number}, “{line}”, is “{instead}”."


class Range(NamedTuple):
    """What other numbers tell: the largest miss, its unit and where, None for nowhere; at how many the claim was held,
    at how many of these it is missed, with how many two lines do not meet, and how many were drawn."""

    worst: float = 0.0
    unit: str = "mm"
    at: Mapping[str, float] | None = None
    held: int = 0
    missed: int = 0
    unmet: int = 0
    drawn: int = 0


class Verdict(NamedTuple):
    """What a construction turns out to be: ``exact``, exact ``here`` alone, ``near``, or ``wrong``.

    ``misses`` are those of every truth at its own numbers; ``others`` what other numbers tell, ``worst_at`` those with
    which it misses most.
    """

    kind: str
    misses: tuple[Miss, ...]
    others: Range = Range()
    worst_at: Mapping[str, float] = {}
    sweeps: tuple[Sweep, ...] = ()
    causes: tuple[Cause, ...] = ()

    @property
    def says(self) -> str:
        """The verdict in a sentence or two."""
        here = max((one.miss for one in self.misses if one.says != CURVES), default=0.0)
        others = self.others
        lost = f" With {others.unmet} of {others.drawn} others two lines do not meet." if others.unmet else ""
        if self.kind == "exact":
            told = f"Exact: it holds with its own numbers and with {others.held} others, to {power_of_ten(here)}."
            return told + lost
        far = mm(others.worst) if others.unit == "mm" else f"{trim(others.worst, 4)}°"
        if self.kind == "here" and not self.worst_at:
            return f"Exact for these numbers; it could be held at {many(others.held, 'other')} only.{lost}"
        if self.kind == "here":
            kept = others.held - others.missed
            also = f"and with {kept} of {others.held} others" if kept else "only"
            return f"Exact for these numbers {also}: with {self._where} it misses by {far}.{lost}"
        first = max((one for one in self.misses if not one.holds), key=lambda one: one.miss)
        miss = mm(first.miss) if first.unit == "mm" else f"{trim(first.miss, 6)}°"
        told = f"misses by {miss} here ({first.says})"
        if self.kind == "near":
            return f"Approximate: it {told}; at worst by {far}, with {self._where}.{lost}"
        return f"It is not what it claims: it {told}."

    @property
    def _where(self) -> str:
        """The numbers with which it misses most, the first of them where there are many."""
        told = [f"{name} {trim(value, 2)}" for name, value in self.worst_at.items()]
        return ", ".join(told[:MOST_NAMED] + ["…"] * (len(told) > MOST_NAMED))


def judge(
    program: Program, seed: int = 1, causes: bool = True, draws: int = DRAWN, told: Callable[[int, int], None] = _untold
) -> Verdict:
    """Hold a construction against its claim, at so many other numbers, or as many as it can be held at in
    :data:`LONGEST` seconds; raises :class:`Refused` where it cannot be drawn with its own numbers, or its claim cannot
    be read. ``told`` hears how many of them are done."""
    claim = Claim(program)
    misses = tuple(claim.misses())
    holds = all(one.holds for one in misses)
    others = _over_the_range(claim, random.Random(seed), draws, told)
    if holds:
        enough = others.held >= LEAST_HELD * others.drawn or not claim.numbers
        kind = "exact" if others.at is None and enough else "here"
        sweeps = _sweeps(claim) if others.at else ()
        return Verdict(kind, misses, others, others.at or {}, sweeps)
    here = max(share_of_size(one, claim.size) for one in misses)
    kind = "near" if here <= NEAR else "wrong"
    outline_alone = all(one.holds or one.says in OUTLINES for one in misses)
    found = tuple(_causes(claim, outline_alone)) if causes else ()
    return Verdict(kind, misses, others, others.at or claim.numbers, _sweeps(claim) if kind == "near" else (), found)


def _other_numbers(claim: Claim, chance: random.Random) -> dict[str, float]:
    """Other numbers for a claim's givens, each in its bounds."""
    found = {}
    furthest = max((abs(value) for name, value in claim.numbers.items() if is_coordinate(name)), default=0.0)
    for name, value in claim.numbers.items():
        if is_coordinate(name) and claim.figure is not None:
            found[name] = value + ROUND * furthest * chance.uniform(-1.0, 1.0)
        elif claim.figure is not None and kind_of(claim.figure, name) == "angle":
            found[name] = (
                chance.uniform(0.3, 1.0) * value if chance.random() < 0.5 else chance.uniform(1.0, 1.8) * value
            )
        else:
            found[name] = value * SPREAD ** chance.uniform(-1.0, 1.0)
    return found


def _over_the_range(claim: Claim, chance: random.Random, draws: int, told: Callable[[int, int], None]) -> Range:
    """The claim held at other numbers, as many as there is time for."""
    found, blamed, still = Range(), Counter[str](), dict[str, float]()
    end = time.thread_time() + LONGEST
    while found.drawn < draws and (found.drawn < FEWEST or time.thread_time() < end):
        told(found.drawn, draws)
        found = found._replace(drawn=found.drawn + 1)
        for _try in range(TRIES):
            numbers = {**_other_numbers(claim, chance), **still}
            try:
                found = _with_misses(found, claim.misses(numbers), numbers)
                break
            except Unmet:
                found = found._replace(unmet=found.unmet + 1)
                break
            except Refused as refusal:  # no such figure
                blamed[refusal.given] += refusal.given in claim.numbers
                if not found.held + found.unmet and blamed.total() >= FROZEN_AFTER:
                    given = blamed.most_common(1)[0][0]
                    still[given] = claim.numbers[given]
                    blamed.clear()
        if not claim.numbers:
            break
    return found


def _with_misses(found: Range, misses: Sequence[Miss], numbers: Mapping[str, float]) -> Range:
    """What is known with what the truths are missed by at some numbers more."""
    found = found._replace(held=found.held + 1)
    lost = [one for one in misses if not one.holds]
    if not lost:
        return found
    found = found._replace(missed=found.missed + 1)
    size = max(map(abs, numbers.values()), default=1.0)
    most = max(lost, key=lambda one: share_of_size(one, size))
    if found.at is None or (most.unit == found.unit and most.miss > found.worst):
        return found._replace(worst=most.miss, unit=most.unit, at=numbers)
    return found


def _sweeps(claim: Claim) -> tuple[Sweep, ...]:
    """Each given moved over its range, the others as they are; nothing where it misses by an angle, which no line's
    width hides."""
    if any(one.unit != "mm" for one in claim.misses()):
        return ()
    found, end = list[Sweep](), time.thread_time() + LONGEST
    for name, value in claim.numbers.items():
        if found and time.thread_time() > end:
            break
        values = [value * SPREAD ** (2.0 * k / (STATIONS - 1) - 1.0) for k in range(STATIONS)]
        misses = [_miss_at(claim, {**claim.numbers, name: one}) for one in values]
        if np.isfinite(misses).any():
            found.append(Sweep(name, tuple(values), tuple(misses)))
    return tuple(found)


def _miss_at(claim: Claim, numbers: Mapping[str, float]) -> float:
    try:
        return max((one.miss for one in claim.misses(numbers) if one.unit == "mm"), default=0.0)
    except Refused:
        return float("nan")


# what would mend it


def _causes(claim: Claim, outline_alone: bool) -> Iterator[Cause]:
    """Steps that would make it exact if they took another point, line or crossing; looked for as long as a person
    waits. Where the ``outline_alone`` misses, first among those that line in."""
    end, told, tried = time.monotonic() + PATIENCE, 0, 0
    chance = random.Random(2)
    others = [_other_numbers(claim, chance) for _ in range(3)]
    program = claim.program
    names = list(claim.numbers)
    for k, line in sorted(
        enumerate(program.lines), key=lambda one: (outline_alone and "rows" not in one[1].parts, one[0])
    ):
        for instead in _variants(program.lines[:k], line, names):
            tried += 1
            if tried > MOST_VARIANTS or time.monotonic() > end or told >= MOST_CAUSES:
                return
            changed = program._replace(lines=(*program.lines[:k], instead, *program.lines[k + 1 :]))
            if _is_exact(claim, changed, others):
                told += 1
                yield Cause(line, instead.text)
                break


def _is_exact(claim: Claim, program: Program, others: Sequence[Mapping[str, float]]) -> bool:
    """Whether a changed construction holds with its own numbers and with some others."""
    try:
        if not all(one.holds for one in claim.misses(None, program)):
            return False
        held = 0
        for numbers in others:
            try:
                if not all(one.holds for one in claim.misses(numbers, program)):
                    return False
                held += 1
            except Unmet:
                return False
            except Refused:
                continue
        return held > 0 or not claim.numbers
    except Refused:
        return False


def _variants(before: Sequence[Line], line: Line, givens: Sequence[str] = ()) -> Iterator[Line]:
    """The same step with one of its parts taken otherwise: another point, another line or circle, the other crossing,
    another pair of points between which its opening is taken, another of the givens or the sum of two."""
    points = [name for one in before for name in one.made if not is_thing(name)]
    things = [name for one in before for name in one.made if is_thing(name)]
    form = line.form
    for part in form.points:
        if part in line.parts and part != "rows":
            yield from (_with(line, part, name) for name in points if name != line.parts[part])
    for part in form.things:
        yield from (_with(line, part, name) for name in things if name != line.parts[part])
    if "rows" in line.parts:
        yield from (_with(line, "rows", row) for row in _rows(line.parts["rows"].split(), points))
    if line.verb == "meet":
        yield from (_with(line, "which", which) for which in WHICH if which != line.parts.get("which", "upper"))
    length = line.parts.get("length", "")
    if length:
        told = [
            *givens,
            *(f"{one}/2" for one in givens),
            *(f"{one} + {other}" for one, other in combinations(givens, 2)),
        ]
        yield from (_with(line, "length", words) for words in told if words != length)
    if len(points) > 1 and length:
        for j, one in enumerate(points):
            for other in points[:j]:
                if length not in (f"{one}{other}", f"{other}{one}"):
                    yield _with(line, "length", f"{other}{one}")


def _rows(row: Sequence[str], points: Sequence[str]) -> Iterator[str]:
    """A row with two neighbours exchanged, and with one of its points taken otherwise."""
    for k in range(1, len(row)):
        yield " ".join([*row[: k - 1], row[k], row[k - 1], *row[k + 1 :]])
    for k, name in enumerate(row):
        yield from (" ".join([*row[:k], other, *row[k + 1 :]]) for other in points if other != name)


def _with(line: Line, part: str, name: str) -> Line:
    parts = {**line.parts, part: name}
    if part == "a" and line.parts.get("which", "").startswith(("nearest", "other")):
        parts["which"] = f"{line.parts['which'].rsplit(' ', 1)[0]} {name}"
    changed = line._replace(parts=parts)
    return read_line(changed.text, line.number, line.phase)
