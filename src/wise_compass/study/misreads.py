"""What a person makes of a number that is to be set: a centimetre or ten degrees off, the double, the half, its digits
exchanged, another step's number, the protractor's other scale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from wise_compass.drafting.run import Error
from wise_compass.drafting.steps import Step

READ = {"compass setting": "mm", "rule mark": "mm", "trammel": "mm", "protractor": "°", "set square": "°"}
"""The errors of settings that a number is read for, with its unit."""
SQUARES = (15.0, 30.0, 45.0, 60.0, 75.0, 90.0)
"""What set squares stand at, alone and together."""
NEIGHBOURS = 3
"""Numbers of other steps that may be taken for one, nearest in the order of the work."""
APART = 0.5
"""mm or degrees under which a number is not another one."""


class Misread(NamedTuple):
    """One way in which a number is read wrong at a step: the number of the error that it makes, by how much that is
    off (figure mm or degrees), its share of all ways at that setting, and in words what was done."""

    step: int
    number: int
    off: float
    share: float
    says: str


def misreads(steps: Sequence[Step], errors: Sequence[Error], scale: float) -> list[Misread]:
    """What people make of every number of a method, on a sheet at ``scale``."""
    made: list[Misread] = []
    for step in steps:
        for error, value in _read_at(step, errors, scale):
            ways: dict[float, tuple[float, str]] = {}
            for other, worth, says in _ways(steps, step, error, value, scale):
                if other > 0 and abs(other - value) > APART and not any(abs(other - one) < APART for one in ways):
                    ways[other] = worth, says
            whole = sum(worth for worth, _ in ways.values())
            paper = scale if error.unit == "mm" else 1.0
            made += [
                Misread(step.n, error.number, (other - value) / paper, worth / whole, says)
                for other, (worth, says) in ways.items()
            ]
    return made


def _read_at(step: Step, errors: Sequence[Error], scale: float) -> Iterator[tuple[Error, float]]:
    """The errors of a step that a number is read for, and that number on the paper, where it is plain which is whose:
    one number for all, or one for each."""
    for unit in ("mm", "°"):
        mine = [one for one in errors if one.step == step.n and READ.get(one.tolerance) == unit]
        numbers = [one.on_paper(scale) for one in step.settings if one.unit == unit and not one.words]
        if len(numbers) == 1 and numbers[0] > 0.0:
            yield from ((error, numbers[0]) for error in mine)
        elif len(numbers) == len(mine) and min(numbers, default=0.0) > 0.0:
            yield from zip(mine, numbers)


def _ways(
    steps: Sequence[Step], step: Step, error: Error, value: float, scale: float
) -> Iterator[tuple[float, float, str]]:
    """What is set instead, how often people do so against the other ways, and in words."""
    if error.tolerance == "set square":
        for corner in SQUARES:
            yield corner, 1.0, "another corner of the set square"
        return
    if error.unit == "mm":
        tool = "rule"
        yield value + 10.0, 3.0, "a centimetre too far on the rule"
        yield value - 10.0, 3.0, "a centimetre short on the rule"
    else:
        tool = "protractor"
        yield value + 10.0, 3.0, "ten degrees too many on the protractor"
        yield value - 10.0, 3.0, "ten degrees too few on the protractor"
        yield 180.0 - value, 3.0, "the protractor's other scale"
    yield 2.0 * value, 2.0, "the double of the number"
    yield value / 2.0, 2.0, "half of the number"
    for other in exchanged(value):
        yield other, 1.0, f"two digits exchanged off the {tool}"
    for n, other in _neighbours(steps, step, error, scale):
        yield other, 1.0, f"the number of step {n}"


def exchanged(value: float) -> list[float]:
    """A number with two whole digits beside each other exchanged.

    >>> exchanged(63.5), exchanged(127.0)
    ([36.5], [217.0, 172.0])
    """
    whole, part = divmod(round(value, 6), 1.0)
    digits = str(int(whole))
    swapped = [digits[:k] + digits[k + 1] + digits[k] + digits[k + 2 :] for k in range(len(digits) - 1)]
    return [int(one) + part for one in swapped if one != digits and int(one) > 0]


def _neighbours(steps: Sequence[Step], step: Step, error: Error, scale: float) -> list[tuple[int, float]]:
    """The numbers that are set at other steps, nearest in the order of the work, each once."""
    told: dict[float, int] = {}
    for other in sorted(steps, key=lambda one: (abs(one.n - step.n), one.n)):
        for setting in other.settings:
            if other.n != step.n and setting.unit == error.unit and not setting.words:
                told.setdefault(round(setting.on_paper(scale), 3), other.n)
    return [(n, value) for value, n in list(told.items())[:NEIGHBOURS]]
