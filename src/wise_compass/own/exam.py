"""A learner's construction examined: proved or not, where it first goes wrong, with which instruments and in how many
steps."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.instruments import SteadyHand
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Step
from wise_compass.drafting.wording import many
from wise_compass.own.claims import Claim
from wise_compass.own.proving import Verdict, judge
from wise_compass.own.running import draw

INSTRUMENTS = ("Pencil", "Straightedge", "Compass", "Set square", "Protractor", "Rule", "Dividers", "Trammel", "Curve")
ALWAYS = ("Pencil", "Curve")
"""What is allowed without being told: to mark, and to join up."""


class Examined(NamedTuple):
    """What an examiner is told: the verdict, how often each instrument is used, the steps, and what was not allowed."""

    verdict: Verdict
    instruments: Mapping[str, int]
    steps: int
    faults: tuple[str, ...]

    @property
    def passed(self) -> bool:
        """Whether it is exact, and done with what was allowed."""
        return self.verdict.kind == "exact" and not self.faults


def examine(claim: Claim, allowed: Sequence[str] = (), most: int = 0) -> Examined:
    """Examine a construction; ``allowed`` instruments, all where none is told, in no more than ``most`` steps. Raises
    :class:`Refused`."""
    wanted = [_instrument(name) for name in allowed]
    steps = _steps(claim)
    used = Counter(step.instrument for step in steps)
    faults = []
    if wanted:
        for name in used:
            if name not in (*wanted, *ALWAYS):
                first = next(step.n for step in steps if step.instrument == name)
                faults.append(f"Step {first} uses the {name.lower()}, which is not allowed.")
    if most and len(steps) > most:
        faults.append(f"It takes {many(len(steps), 'step')}, and {most} are allowed.")
    return Examined(judge(claim.program), dict(used), len(steps), tuple(faults))


def _instrument(told: str) -> str:
    found = next((name for name in INSTRUMENTS if name.lower() == told.strip().lower().replace("-", " ")), "")
    if not found:
        raise Refused("allow", f"“{told}” is no instrument; take {', '.join(name.lower() for name in INSTRUMENTS)}.")
    return found


def _steps(claim: Claim) -> list[Step]:
    d = Draft(SteadyHand())
    draw(claim.program, {**claim.counts, **claim.numbers}, d)
    return list(d.steps)
