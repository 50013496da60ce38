"""A verdict in words and as data: what is held of a drawing, what to draw again, and what to measure next."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import Explanation, Held, Judge, Verdict
from wise_compass.study.measures import Taken
from wise_compass.study.watch import Next, Watch, next_measure

MOVED = 0.05
"""mm on the paper from which a point has to be drawn again."""
SHARE = 0.05
"""The share of steady hands as far out over which a measure is within a steady hand."""
WORTH = 0.01
"""Weight under which an explanation is not told a person."""


class Checked(NamedTuple):
    """A check of a drawing: the verdict, what to measure next, the points to draw again and those that stay good."""

    verdict: Verdict
    next: Next | None
    again: tuple[str, ...]
    good: tuple[str, ...]


def check(judge: Judge, taken: list[Taken], instrument: str = "rule", cover: Array | None = None) -> Checked:
    """Judge what was measured, ``cover`` being the covariance of the measuring; raises :class:`Refused` where nothing
    was."""
    verdict = judge.judge(taken, cover)
    further = next_measure(judge, taken, verdict, instrument)
    again, good = _moved(judge, verdict)
    return Checked(verdict, further, again, good)


def _moved(judge: Judge, verdict: Verdict) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Which named points the best explanation has elsewhere, and which it leaves."""
    drawn = judge.as_drawn(verdict.best) if verdict.verdict in ("slip", "step") else None
    names = [name for name, spot in judge.run.spots.items() if spot.kind not in ("plain", "label")]
    if drawn is None:
        return (), tuple(names)
    again = [
        name
        for name in names
        if name not in drawn or not float(np.abs(drawn[name] - judge.run.spots[name].here).max()) * judge.scale < MOVED
    ]
    return tuple(again), tuple(name for name in names if name not in again)


def headline(verdict: Verdict) -> str:
    """The verdict in a few words."""
    if verdict.verdict == "honest":
        return "An honest drawing"
    if verdict.verdict == "scale":
        return "The print is out of scale"
    if verdict.verdict == "slip":
        return "A known slip"
    if verdict.verdict == "step":
        steps = sorted(verdict.alike)
        return f"A step to blame: step {' or '.join(map(str, steps))}"
    return "Cannot tell these apart"


def sentence(verdict: Verdict) -> str:
    """What it comes to, in a sentence."""
    best = verdict.best
    if verdict.verdict == "honest":
        least = min((one.share for one in verdict.measured), default=1.0)
        furthest = f"of the furthest measure {_percent(least)} of steady hands are as far out."
        return (
            f"All of it is within a steady hand; {furthest}"
            if least > SHARE
            else f"No slip or step explains it, but it is loose: {furthest}"
        )
    if verdict.verdict == "unclear":
        left = [one for one in verdict.explanations if one.weight > 0.05][:3]
        return "It may be " + "; or ".join(f"{one.says} ({_percent(one.weight)})" for one in left) + "."
    if len(verdict.alike) > 1:
        others = [one for one in verdict.explanations if one.step in verdict.alike and one is not best]
        return f"{best.says}. It leaves the same mark as {'; '.join(one.says for one in others)}."
    return f"{best.says[0].upper()}{best.says[1:]}{'' if best.says.endswith('.') else '.'}"


def _percent(share: float) -> str:
    return "under 1 %" if share < 0.01 else "over 99 %" if share > 0.99 else f"{share:.0%}".replace("%", " %")


def held_words(one: Held, style: Style) -> str:
    """One measurement in words: how far out, and what share of steady hands is."""
    off = one.measured - one.exact
    size = style.quantity(abs(off), one.unit)
    if one.share > SHARE:
        return f"within a steady hand ({'+' if off >= 0 else '−'}{size})"
    much = "under 1 hand in 100" if one.share < 0.01 else f"{one.share:.0%} of hands".replace("%", " %")
    return f"{size} {'over' if off > 0 else 'short'}: {much} as far out"


def record(checked: Checked) -> dict[str, Any]:
    """The check as data."""
    verdict = checked.verdict
    best = verdict.best

    def told(one: Explanation) -> dict[str, Any]:
        return {
            "kind": one.kind,
            "id": one.id,
            "step": one.step,
            "says": PLAIN.say(one.says),
            "weight": one.weight,
            "off": one.off,
        }

    return {
        "verdict": verdict.verdict,
        "slip": best.id if verdict.verdict == "slip" else None,
        "step": best.step if verdict.verdict == "step" else None,
        "steps": sorted(verdict.alike),
        "explanations": [told(one) for one in verdict.explanations],
        "measured": [
            {"name": one.name, "exact": one.exact, "measured": one.measured, "sd": one.sd, "share": one.share}
            for one in verdict.measured
        ],
        "next": {"measure": checked.next.measure, "says": checked.next.says} if checked.next else None,
        "again": list(checked.again),
        "good": list(checked.good),
    }


def text(checked: Checked, style: Style) -> str:
    """The check for a person."""
    verdict = checked.verdict
    lines = [headline(verdict), f"  {style.say(sentence(verdict))}", "", "What was measured, on the paper"]
    for one in verdict.measured:
        sizes = f"{style.quantity(one.measured, one.unit):>12}   exactly {style.quantity(one.exact, one.unit):>12}"
        lines.append(f"  {style.lettered(one.name):14} {sizes}   {held_words(one, style)}")
    lines += ["", "What may have made this drawing"]
    for explanation in verdict.explanations:
        if explanation.weight >= WORTH:
            lines.append(f"  {_percent(explanation.weight):>10}   {style.say(explanation.says)}")
    if checked.next:
        lines += ["", f"Next, {style.lettered(checked.next.says)}."]
    if checked.again:
        lines += ["", f"To draw again: {', '.join(style.lettered(name) for name in checked.again)}."]
        if checked.good:
            lines.append(f"Good as it is: {', '.join(style.lettered(name) for name in checked.good)}.")
    return "\n".join(lines)


def watch_text(watch: Watch, style: Style) -> str:
    """What to measure, for a person."""
    lines = ["What to measure: together these see the most steps"]
    for one in watch.proposed:
        sees = ", ".join(map(str, one.sees))
        name = style.lettered(one.measure.name)
        lines.append(f"  {name:20} {style.quantity(one.exact, one.measure.unit):>12}   sees step {sees}")
    if watch.unseen:
        lines.append(f"Nothing on it sees step {', '.join(map(str, watch.unseen))}.")
    return "\n".join(lines)


def watch_record(watch: Watch) -> dict[str, Any]:
    """What to measure, as data."""
    return {
        "measure": [{"name": one.measure.name, "exact": one.exact, "sees": list(one.sees)} for one in watch.proposed],
        "unseen": list(watch.unseen),
    }
