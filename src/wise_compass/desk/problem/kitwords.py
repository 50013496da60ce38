"""What a drafter's kit lacks for a figure, told before it is set."""

from __future__ import annotations

from functools import lru_cache

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.kit import Drafter
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.person import own_drafter


@lru_cache(maxsize=256)
def _told(figure: str, drafter: Drafter) -> str:
    kind = figure_named(figure)
    try:
        made = run(kind(), None, Conventions(drafter=drafter))
    except Refused:
        return ""
    missing = lacks(made.steps, drafter.kit)
    if not missing:
        return ""
    return f"With your kit, at its usual sizes: {PLAIN.say(missing[0].says)}; {missing[0].way}."


def kit_words(kind: type[Figure]) -> str:
    """What the drafter's kit lacks for a figure; empty where it serves."""
    return _told(kind.id, own_drafter())
