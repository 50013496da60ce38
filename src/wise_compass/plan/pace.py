"""How long a step takes: a stated assumption for each instrument, and this person's own pace once the logbook knows
enough."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.figure import make, method_named
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.steps import Step
from wise_compass.figures.catalogue import figure_named
from wise_compass.logbook.store import Logbook, Noted
from wise_compass.own.writing import own_method

MINUTES = {
    "Pencil": 0.3,
    "Straightedge": 0.6,
    "Set square": 0.7,
    "Rule": 0.7,
    "Compass": 0.8,
    "Beam compass": 1.5,
    "Dividers": 0.8,
    "Protractor": 1.0,
    "Trammel": 1.5,
    "Curve": 5.0,
}
"""Minutes that a step is assumed to take, by its instrument; a step that sets or draws several times takes
:data:`AGAIN` for each more."""
AGAIN = 0.35
CHANGE = 0.25
"""Minutes to lay one instrument down and take up another."""
SPREAD = 0.35
"""One deviation of the logarithm of a pace that nobody has measured yet: from two thirds to half as much again."""
ENOUGH, LATEST = 10, 200
"""Entries that make a pace one's own, and how many of the latest count."""


class Pace(NamedTuple):
    """How much longer than assumed this person takes, one deviation of its logarithm, and from how many entries; 0 is
    the assumption."""

    factor: float = 1.0
    spread: float = SPREAD
    entries: int = 0

    @property
    def says(self) -> str:
        """Where it comes from."""
        if not self.entries:
            return (
                f"Assumed: {MINUTES['Compass']:g} minutes a step of the compass, and so on; {ENOUGH} "
                "timed entries in the logbook make it your own."
            )
        return f"Your own pace, from {self.entries} timed entries: {self.factor:.2f} times the assumed."


FAR = 50.0
"""An entry that took so many times longer than assumed, or shorter, tells of something else than a pace."""


def minutes_of(steps: Sequence[Step], scale: float = 1.0) -> float:
    """What steps are assumed to take, changes of instrument between them included."""
    whole, before = 0.0, ""
    for step in steps:
        tool = step.tool(scale)
        name = "Rule" if tool.startswith("Scale rule") else tool
        more = max(len(step.marks), len([one for one in step.settings if not one.words]), 1) - 1
        whole += MINUTES.get(name, 0.7) + AGAIN * min(more, 24) + (CHANGE if before and name != before else 0.0)
        before = name
    return whole


def own_pace(book: Logbook, person: str = "") -> Pace:
    """The pace of a person by the logbook; the assumption until there are enough timed entries. Raises
    :class:`Refused`."""
    where, values = "minutes > 0 AND steps > 0", []
    if person:
        where, values = f"{where} AND person = ?", [person]
    logs = [math.log(ratio) for ratio in map(_ratio, book.entries(where, values)[:LATEST]) if 1 / FAR < ratio < FAR]
    if len(logs) < ENOUGH:
        return Pace()
    middle = float(np.median(logs))
    spread = 1.4826 * float(
        np.median(np.abs(np.array(logs) - middle))
    )  # of a normal distribution, by its median deviation
    return Pace(math.exp(middle), max(spread, 0.05), len(logs))


def _ratio(one: Noted) -> float:
    """How many times longer than assumed an entry took; 0 where that cannot be told."""
    try:
        kind = figure_named(one.figure)
        figure = make(kind, one.givens)
        made: Run = run(figure, own_method(one.own, figure) if one.own else method_named(kind, one.method).id)
    except Refused:
        return 0.0
    assumed = minutes_of(made.steps, one.scale)
    return (one.minutes or 0.0) / assumed if assumed > 0 else 0.0
