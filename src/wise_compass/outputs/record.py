"""A run as data: the JSON that others build on, and the CSV of points and values."""

from __future__ import annotations

from typing import Any

import numpy as np

from wise_compass.drafting.lacks import Lack, lacks
from wise_compass.drafting.run import Run
from wise_compass.drafting.steps import Step
from wise_compass.drafting.wording import PLAIN
from wise_compass.geometry.vectors import Array
from wise_compass.outputs.rows import rows_csv


def coordinates(at: Array) -> list[float | None]:
    """Coordinates as JSON numbers; null for one that does not exist."""
    return [float(x) if np.isfinite(x) else None for x in at]


def step_record(step: Step, scale: float) -> dict[str, Any]:
    """A step as it is done on a sheet at ``scale``: in words, and each setting on the paper and at true size."""
    style = PLAIN
    return {
        "n": step.n,
        "phase": step.phase,
        "instrument": step.tool(scale),
        "setting": step.setting(style, scale),
        "says": step.sentence(style, scale),
        "settings": [
            {"on_paper": one.on_paper(scale), "true": one.value, "unit": one.unit}
            for one in step.settings
            if not one.words
        ],
    }


def _lack(one: Lack) -> dict[str, Any]:
    """What the drafter's kit cannot do, and a way round."""
    return {"step": one.step, "says": PLAIN.say(one.says), "way": one.way}


def record(run: Run, scale: float = 1.0) -> dict[str, Any]:
    """The record that ``solve --json`` prints, of a sheet at ``scale``; the floats keep all their digits."""
    say = PLAIN.say
    missing = lacks(run.steps, run.conventions.drafter.kit, scale)
    cautions = [say(words) for words in (*run.figure.cautions(), *run.hazards)]
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored(),
        "points": {name: coordinates(at) for name, at in run.found.items()},
        "values": {
            value.name: {"value": value.value, "unit": value.unit, "working": say(value.working)}
            for value in run.values
        },
        "proofs": [
            {
                "says": say(p.says),
                "miss": p.miss,
                "unit": p.unit,
                "limit": p.limit,
                "holds": p.holds,
                "by_design": p.by_design,
            }
            for p in run.proofs
        ],
        "steps": [step_record(step, scale) for step in run.steps],
        **({"cautions": cautions} if cautions else {}),
        **({"kit": [_lack(one) for one in missing]} if missing else {}),
    }


def csv_text(run: Run) -> str:
    """Points, then values, one a row."""
    rows: list[list[object]] = []
    for name, at in run.found.items():
        rows.append(["point", name, *(float(x) for x in at), *[None] * (3 - len(at)), None, "mm", None])
    for value in run.values:
        rows.append(["value", value.name, None, None, None, value.value, value.unit, PLAIN.say(value.working)])
    return rows_csv(["kind", "name", "x", "y", "z", "value", "unit", "working"], rows)
