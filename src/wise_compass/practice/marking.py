"""Marking what was drawn against honest scatter: within a steady hand, loose, or wrong and why. Nothing is marked that
was not measured."""

from __future__ import annotations

import time
from collections.abc import Sequence
from typing import NamedTuple

from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN
from wise_compass.logbook.store import Noted, NotedMeasure, new_noted_id
from wise_compass.study.judge import Held, Judge, Verdict
from wise_compass.study.measures import Taken
from wise_compass.study.verdicts import SHARE, Checked, check, headline, sentence

STEADY, LOOSE, WRONG = "within a steady hand", "loose", "wrong"
PARTLY = "not judged throughout"
"""The mark of a drawing of which a point of the result was looked for and not found, the rest being honest."""
FAR = 0.001
"""The share of steady hands as far out under which a measure is wrong by itself."""


class Marked(NamedTuple):
    """A drawing marked: the whole, each measure by its name, why in a sentence, and the check that it comes from."""

    mark: str
    each: dict[str, str]
    why: str
    checked: Checked


def mark(judge: Judge, taken: Sequence[Taken], instrument: str = "rule") -> Marked:
    """Mark what was measured; raises :class:`Refused` where nothing was."""
    return marked_of(check(judge, list(taken), instrument))


def marked_of(checked: Checked) -> Marked:
    """The mark of a check."""
    verdict = checked.verdict
    each = {one.name: _mark_of(one, verdict) for one in verdict.measured}
    steady = LOOSE if LOOSE in each.values() else STEADY
    whole = {"honest": steady, "partly": PARTLY}.get(checked.kind, WRONG)
    why = "" if whole == STEADY else PLAIN.say(sentence(checked))
    return Marked(whole, each, why, checked)


def _mark_of(one: Held, verdict: Verdict) -> str:
    if one.among > SHARE:
        return STEADY
    if verdict.verdict == "honest":
        return LOOSE
    return WRONG if one.among < FAR else LOOSE


def noted(
    made: Run,
    scale: float,
    marked: Marked,
    kind: str = "practice",
    person: str = "",
    minutes: float | None = None,
    instrument: str = "rule",
    id: str = "",
    at: float | None = None,
) -> Noted:
    """What the logbook keeps of it."""
    verdict = marked.checked.verdict
    best = verdict.best
    measures = tuple(
        NotedMeasure(one.name, one.unit, one.exact, one.measured, one.sd, one.share, instrument, marked.each[one.name])
        for one in verdict.measured
    )
    return Noted(
        id or new_noted_id(),
        time.time() if at is None else at,
        kind,
        person,
        made.figure.family,
        made.figure.id,
        made.method.id,
        made.figure.stored(),
        scale,
        made.conventions.drafter.kit._asdict(),
        marked.checked.kind,
        best.id if verdict.verdict == "slip" else None,
        best.step if verdict.verdict == "step" else None,
        marked.why or headline(marked.checked),
        marked.mark,
        minutes,
        len(made.steps),
        own=made.method.text or None,
        measures=measures,
    )
