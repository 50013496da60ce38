"""A verdict in words and as data: what is held of a drawing, what to draw again, and what to measure next."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array
from wise_compass.study.judge import Explanation, Held, Judge, Verdict
from wise_compass.study.looked import touched
from wise_compass.study.measures import Taken
from wise_compass.study.watch import Next, Watch, next_measure

MOVED = 0.05
"""mm on the paper from which a point has to be drawn again."""
SHARE = 0.05
"""The share of steady hands as far out over which a measure is within a steady hand."""
MOST_ASTRAY = 3
"""Pieces of an outline that are told."""
MOST_ALIKE, ROW = 2, 3
"""Of explanations that leave the same mark: how many are told in words; steps in a row that are told by their ends."""
WORTH = 0.01
"""Weight under which an explanation is not told a person."""


class Astray(NamedTuple):
    """A piece of the outline that is not where it should be: in words, and where, (n, 2) in mm of the paper."""

    says: str
    at: Array


class Checked(NamedTuple):
    """A check of a drawing: the verdict, what to measure next, the points to draw again and those that were looked at
    and stay good; the points of the result that nothing measured touches, and those that were looked for and not
    found."""

    verdict: Verdict
    next: Next | None
    again: tuple[str, ...]
    good: tuple[str, ...]
    unmeasured: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()
    outline: tuple[Astray, ...] = ()

    @property
    def kind(self) -> str:
        """The verdict in a word: honest points of which one of the result is missing are only ``partly`` judged, and
        an ``outline`` that leaves them is no honest drawing."""
        if self.verdict.verdict == "honest" and self.outline:
            return "outline"
        return "partly" if self.verdict.verdict == "honest" and self.missing else self.verdict.verdict


def check(
    judge: Judge,
    taken: list[Taken],
    instrument: str = "rule",
    cover: Array | None = None,
    lost: Collection[str] = (),
    outline: Sequence[Astray] = (),
) -> Checked:
    """Judge what was measured, ``cover`` being the covariance of the measuring and ``lost`` the points that were looked
    for in vain, ``outline`` what of it is astray; raises :class:`Refused` where nothing was."""
    verdict = judge.judge(taken, cover)
    further = next_measure(judge, taken, verdict, instrument)
    result, seen = judge.results, touched(judge.run, [one.measure for one in taken])
    unmeasured = tuple(name for name in result if name not in seen)
    again = _moved(judge, verdict)
    good = tuple(name for name in judge.run.spots if name in seen and name not in again)
    missing = tuple(name for name in result if name in lost)
    return Checked(verdict, further, again, good, unmeasured, missing, tuple(outline))


def _moved(judge: Judge, verdict: Verdict) -> tuple[str, ...]:
    """Which named points the best explanation has elsewhere."""
    drawn = judge.as_drawn(verdict.best) if verdict.verdict in ("slip", "step") else None
    if drawn is None:
        return ()
    names = [name for name, spot in judge.run.spots.items() if spot.kind not in ("plain", "label")]
    return tuple(
        name
        for name in names
        if name not in drawn or not float(np.abs(drawn[name] - judge.run.spots[name].here).max()) * judge.scale < MOVED
    )


def headline(checked: Checked) -> str:
    """The verdict in a few words."""
    verdict = checked.verdict
    if checked.kind == "outline":
        return "The points are honest, the outline is not"
    if checked.kind == "partly":
        return f"Not judged at {_few(checked.missing)}"
    if verdict.verdict == "honest":
        return "An honest drawing where it was measured" if checked.unmeasured else "An honest drawing"
    if verdict.print_first:
        return f"The print’s scale, or step {either(verdict.alike)}"
    if verdict.verdict == "scale":
        return "The print is out of scale"
    if verdict.verdict == "slip":
        return "A known slip"
    if verdict.verdict == "step":
        return f"A step to blame: step {either(verdict.alike)}"
    return "Something is wrong, and nothing known says what" if len(_left(verdict)) == 1 else "Cannot tell these apart"


def _left(verdict: Verdict) -> list[Explanation]:
    """The explanations that are left, three at most."""
    left = [one for one in verdict.explanations if one.weight > 0.05 and one.kind != "honest"][:3]
    honest = [one for one in verdict.explanations if one.weight > 0.05 and one.kind == "honest"]
    return sorted(left + honest, key=lambda one: -one.weight)[:3]


def either(steps: Sequence[int]) -> str:
    """Steps that may be it, three or more in a row by their ends.

    >>> either([4]), either([4, 7, 9]), either([5, 16, 19, 20, 21, 22])
    ('4', '4, 7 or 9', '5, 16 or 19 to 22')
    """
    told: list[str] = []
    for row in _rows(sorted(steps)):
        told += [f"{row[0]} to {row[-1]}"] if len(row) >= ROW else [str(step) for step in row]
    return " or ".join([", ".join(told[:-1]), told[-1]] if len(told) > 1 else told)


def _rows(steps: Sequence[int]) -> list[list[int]]:
    """Steps in order, parted where one is left out."""
    rows: list[list[int]] = []
    for step in steps:
        if rows and step == rows[-1][-1] + 1:
            rows[-1].append(step)
        else:
            rows.append([step])
    return rows


def _few(names: Sequence[str], most: int = 6) -> str:
    """Points by name, no more than a line holds."""
    more = len(names) - most
    return ", ".join(names[:most]) + (f" and {more} more" if more > 0 else "")


def sentence(checked: Checked) -> str:
    """What it comes to, in a sentence or two: what, at which step, by about how much, how sure, and what to do."""
    told = f"{_capital('; '.join(one.says for one in checked.outline[:MOST_ASTRAY]))}. " if checked.outline else ""
    return f"{told}{_points_say(checked)}"


def _points_say(checked: Checked) -> str:
    """What it comes to by the measures alone."""
    verdict = checked.verdict
    best = verdict.best
    if verdict.verdict == "honest":
        return _honest(checked)
    if verdict.print_first:
        told = "; or ".join(
            one.says for one in verdict.explanations if one.kind == "scale" or one.step in verdict.alike
        )
        return f"Both leave the same mark: {told}. Measure the bar of 100 mm on the print before anything is blamed."
    if verdict.verdict == "unclear":
        left = _left(verdict)
        if len(left) == 1:
            return (
                f"No steady hand, no known slip and no single setting makes what was measured "
                f"({left[0].says}). Measure again what is furthest off, {_furthest(verdict)}; then measure more."
            )
        more = "" if checked.next else " Measure more points: what was measured does not part them."
        return "It may be " + "; or ".join(f"{one.says} ({percent(one.weight)})" for one in left) + f".{more}"
    sure = f" This is {percent(sum(one.weight for one in _same(verdict)))} sure."
    if len(verdict.alike) > 1:
        others = [one for one in verdict.explanations if one.step in verdict.alike and one is not best]
        alike = [one.says for one in others[:MOST_ALIKE]]
        if rest := [one.step for one in others[MOST_ALIKE:] if one.step is not None]:
            alike.append(f"or as another at step {either(rest)}")
        return f"{_capital(best.says)}. It leaves the same mark as {'; '.join(alike)}.{sure}"
    do = {"slip": "", "scale": " Print it again at true size.", "step": ""}[verdict.verdict]
    return f"{_capital(best.says)}{'' if best.says.endswith('.') else '.'}{sure}{do}"


def _same(verdict: Verdict) -> list[Explanation]:
    """The explanations that the verdict names."""
    best = verdict.best
    return [one for one in verdict.explanations if one is best or (best.kind == "step" and one.step in verdict.alike)]


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _furthest(verdict: Verdict) -> str:
    return min(verdict.measured, key=lambda one: (one.share, -abs(one.measured - one.exact))).name


def _honest(checked: Checked) -> str:
    verdict = checked.verdict
    least = min((one.among for one in verdict.measured), default=1.0)
    furthest = f"of the furthest measure {percent(least)} of steady hands are as far out."
    whole = "All that was measured" if checked.unmeasured else "Every point" if checked.outline else "All of it"
    said = (
        f"{whole} is within a steady hand; {furthest}"
        if least > SHARE
        else f"No slip or step explains it, but it is loose: {furthest}"
    )
    if checked.missing:
        said += (
            f" {_few(checked.missing)} was not found: nothing is said of it. Put its ring where it is, or measure it."
        )
    others = [name for name in checked.unmeasured if name not in checked.missing]
    if others:
        said += f" Not measured: {_few(others)}."
    if verdict.unseen:
        said += f" Nothing measured would show a blunder at step {either(verdict.unseen[:8])}."
    return said


def percent(share: float) -> str:
    """A share as people say it.

    >>> percent(0.004), percent(0.37), percent(0.996)
    ('under 1 %', '37 %', 'over 99 %')
    """
    return "under 1 %" if share < 0.01 else "over 99 %" if share > 0.99 else f"{share:.0%}".replace("%", " %")


def held_words(one: Held, style: Style) -> str:
    """One measurement in words: how far out, and what share of steady hands is."""
    off = one.measured - one.exact
    size = style.quantity(abs(off), one.unit)
    if one.among > SHARE:
        return f"within a steady hand ({'+' if off >= 0 else '−'}{size})"
    much = "under 1 hand in 100" if one.among < 0.01 else f"{one.among:.0%} of hands".replace("%", " %")
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
            "misread": one.misread,
        }

    return {
        "verdict": checked.kind,
        "slip": best.id if verdict.verdict == "slip" else None,
        "step": best.step if verdict.verdict == "step" else None,
        "steps": sorted(verdict.alike),
        "explanations": [told(one) for one in verdict.explanations],
        "measured": [
            {
                "name": one.name,
                "exact": one.exact,
                "measured": one.measured,
                "sd": one.sd,
                "share": one.share,
                "among": one.among,
            }
            for one in verdict.measured
        ],
        "next": {"measure": checked.next.measure, "says": checked.next.says} if checked.next else None,
        "again": list(checked.again),
        "good": list(checked.good),
        "unmeasured": list(checked.unmeasured),
        "missing": list(checked.missing),
        "unseen": list(verdict.unseen),
        "outline": [PLAIN.say(one.says) for one in checked.outline],
    }


def text(checked: Checked, style: Style) -> str:
    """The check for a person."""
    verdict = checked.verdict
    lines = [
        style.lettered(headline(checked)),
        f"  {style.say(sentence(checked))}",
        "",
        "What was measured, on the paper",
    ]
    for one in verdict.measured:
        sizes = f"{style.quantity(one.measured, one.unit):>12}   exactly {style.quantity(one.exact, one.unit):>12}"
        lines.append(f"  {style.lettered(one.name):14} {sizes}   {held_words(one, style)}")
    lines += ["", "What may have made this drawing"]
    for explanation in verdict.explanations:
        if explanation.weight >= WORTH:
            lines.append(f"  {percent(explanation.weight):>10}   {style.say(explanation.says)}")
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
        name = style.lettered(one.measure.name)
        lines.append(f"  {name:20} {style.quantity(one.exact, one.measure.unit):>12}   {style.lettered(one.for_what)}")
    if watch.unseen:
        lines.append(f"Nothing on it sees step {', '.join(map(str, watch.unseen))}.")
    return "\n".join(lines)


def watch_record(watch: Watch) -> dict[str, Any]:
    """What to measure, as data."""
    return {
        "measure": [{"name": one.measure.name, "exact": one.exact, "sees": list(one.sees)} for one in watch.proposed],
        "unseen": list(watch.unseen),
    }
