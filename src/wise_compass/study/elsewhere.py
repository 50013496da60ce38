"""Slips at a further place than where they are told first: a move's at its second, third … place, a figure's own at one
of its places alone. Each is drawn once by a steady hand; other hands scatter about it as about the honest drawing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from contextlib import suppress

import numpy as np

from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.run import LACKS, Run, run
from wise_compass.study.measures import Measurable, exactly
from wise_compass.study.samples import Sample

SHARE, ALONE, PLAIN = 0.3, 0.3, 25.0
"""How likely they are together against the slips that are told first, how much rarer one of the figure's own is at one
place alone than throughout, and from which squared deviations such a one is told: a plain mark."""
MOST_PLACES, MOST_MARKS = 32, 6000
"""How many further places are known, and how many marks are drawn for them."""
STEADY = 9.0
"""Squared deviations of a steady hand's scatter under which no such slip could be likelier than it."""


def runs_elsewhere(made: Run) -> dict[str, tuple[str, Run]]:
    """The exact run of each such slip that a hand could finish with it, by its id, with its words; the first of them
    where there are very many, or where every run is a long one."""
    known = {}
    for choice in made.further[: min(MOST_PLACES, MOST_MARKS // max(len(made.marks), 1))]:
        with suppress(NoMeet, *LACKS):
            known[choice.id] = choice.says, run(made.figure, made.method, made.conventions, choice.id)
    return known


def samples_elsewhere(
    known: Mapping[str, tuple[str, Run]], measures: Sequence[Measurable], scale: float, honest: Sample
) -> list[tuple[str, str, Sample]]:
    """Those that leave a mark on the measures, each with its words."""
    made = []
    weigh = np.linalg.inv(honest.cover)
    for id, (says, other) in known.items():
        with suppress(*LACKS):
            mean = exactly(other, measures, scale)
            off = mean - honest.mean
            if np.isfinite(mean).all() and float(off @ weigh @ off) > PLAIN:
                made.append((id, says, Sample(mean, honest.cover)))
    return made


def share_elsewhere(id: str, made: Run, count: int) -> float:
    """How likely one of so many is beforehand, against all slips that are told first."""
    own = any(choice.id == id.split("@")[0] for choice in made.choices)
    return SHARE / count * (ALONE if own else 1.0)
