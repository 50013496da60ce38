"""All methods of a figure side by side, from running them: never from a table typed in."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from wise_compass.drafting.figure import Figure, Method
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.marks import ArcMark, nominal
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.steps import Step
from wise_compass.drafting.wording import PLAIN, Style, many, trim
from wise_compass.study.gaps import gaps

HANDS = 160
"""Enough for a 95 % limit to a tenth, few enough to compare while typing."""


class Comparison(NamedTuple):
    """One method for one figure. ``refusal`` is why it does not serve; the other fields are then idle.

    ``settings`` counts how often an instrument is set, ``opening`` is the largest of the compass in mm at true size,
    ``miss`` the largest miss by design (0 for an exact method), ``scatter`` the 95 % limit of an unsteady hand at the
    worst point, ``stray`` how far the curve that a hand joins up through the found points lies from the true one (0
    where there is none), ``drawn`` its steps.
    """

    method: Method
    settings: int
    steps: int
    opening: float
    miss: float
    miss_unit: str
    scatter: float
    worst: str
    refusal: str = ""
    stray: float = 0.0
    drawn: Sequence[Step] = ()

    @property
    def exact(self) -> bool:
        return not self.refusal and self.miss == 0


def _openings(made: Run) -> float:
    radii = [float(nominal(mark.radius, 0)) for mark in made.marks if isinstance(mark, ArcMark)]
    return max(radii, default=0.0)


def compare(
    figure: Figure, conventions: Conventions | None = None, scale: float = 1.0, own: Method | None = None
) -> list[Comparison]:
    """Run every method of a figure, and one of a person's ``own``, steadily and with unsteady hands on a sheet at
    ``scale``."""
    rows = []
    for method in (*figure.methods.values(), *([own] if own is not None else [])):
        refusal = method.fits(figure)
        if refusal is not None:
            rows.append(Comparison(method, 0, 0, 0.0, 0.0, "", 0.0, "", refusal))
            continue
        made = run(figure, method, conventions)
        hands = run_hands(figure, method, HANDS, 1, conventions, scale)
        worst = max(hands.points, key=lambda one: one.limit)
        if method.proves is not None and not all(proof.holds or proof.by_design for proof in made.proofs):
            lost = next(proof for proof in made.proofs if not proof.holds and not proof.by_design)
            rows.append(Comparison(method, 0, 0, 0.0, 0.0, "", 0.0, "", f"It is not the figure yet: {lost.says}."))
            continue
        designed = [proof for proof in made.proofs if proof.by_design]
        largest = max(designed, key=lambda proof: proof.miss) if designed else None
        set_anew = sum(1 for step in made.steps if step.settings and not step.keep)
        miss, unit = (largest.miss, largest.unit) if largest else (0.0, "")
        stray = max((gap.largest for gap in gaps(made) if gap.course.names), default=0.0)
        rows.append(
            Comparison(
                method,
                set_anew,
                len(made.steps),
                _openings(made),
                miss,
                unit,
                worst.limit,
                worst.name,
                stray=stray,
                drawn=made.steps,
            )
        )
    return rows


def recommended(rows: list[Comparison]) -> Comparison:
    """The method that suits: exact before approximate, then the least scatter, unless one far shorter is nearly as
    good."""
    serving = [row for row in rows if not row.refusal]
    pool = [row for row in serving if row.exact] or serving
    best = min(pool, key=lambda row: row.scatter)
    shorter = [row for row in pool if row.steps <= 0.7 * best.steps and row.scatter <= 1.25 * best.scatter]
    return min(shorter, key=lambda row: row.steps) if shorter else best


def both_ways(length: float, style: Style, scale: float) -> str:
    """A length on the paper, and at true size where that differs."""
    on_paper = style.short(length * scale)
    return on_paper if scale == 1 else f"{on_paper} on the paper ({style.short(length)} true)"


def advice(rows: list[Comparison], style: Style = PLAIN, scale: float = 1.0) -> str:
    """One or two sentences: which method suits this case, and why not the others."""

    def miss(row: Comparison) -> str:
        return style.short(row.miss) if row.miss_unit == "mm" else f"{trim(row.miss, 2)}{row.miss_unit}"

    best = recommended(rows)
    others = [row for row in rows if not row.refusal and row is not best]
    kind = "exact" if best.exact else f"approximate by {miss(best)}"
    worst = style.lettered(best.worst)
    says = (
        f"{best.method.title.capitalize()} suits this case: {kind}, {many(best.steps, 'step')}, "
        f"and even its worst point, {worst}, stays "
    )
    says += f"within {both_ways(best.scatter, style, scale)}."
    if not others:
        return says if len(rows) == 1 else f"{says} No other method serves for these givens."
    near = min(others, key=lambda row: (not row.exact, row.scatter))
    reasons = []
    if not near.exact and best.exact:
        reasons.append(f"is off by {miss(near)} however steady the hand")
    if near.scatter > best.scatter * 1.02:
        reasons.append(f"scatters to {both_ways(near.scatter, style, scale)} at {style.lettered(near.worst)}")
    if near.steps > best.steps:
        reasons.append(f"takes {many(near.steps, 'step')}")
    elif near.steps < best.steps:
        reasons.append(f"is {many(best.steps - near.steps, 'step')} shorter")
    return f"{says} {near.method.title.capitalize()} {' and '.join(reasons) or 'is as good'}."
