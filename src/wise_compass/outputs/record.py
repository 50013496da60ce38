"""A run as data: the JSON that others build on, and the CSV of points and values."""

from __future__ import annotations

import csv
import io
from typing import Any

import numpy as np

from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array


def coordinates(at: Array) -> list[float | None]:
    """Coordinates as JSON numbers; null for one that does not exist."""
    return [float(x) if np.isfinite(x) else None for x in at]


def record(run: Run) -> dict[str, Any]:
    """The record that ``solve --json`` prints; the floats keep all their digits."""
    cautions = list(run.figure.cautions())
    return {
        "figure": run.figure.id,
        "method": run.method.id,
        "givens": run.figure.stored(),
        "points": {name: coordinates(at) for name, at in run.found.items()},
        "values": {value.name: {"value": value.value, "unit": value.unit, "working": value.working} for value in run.values},
        "proofs": [
            {"says": p.says, "miss": p.miss, "unit": p.unit, "limit": p.limit, "holds": p.holds, "by_design": p.by_design}
            for p in run.proofs
        ],
        "steps": [
            {"n": s.n, "phase": s.phase, "instrument": s.instrument, "setting": s.setting(), "says": s.sentence()}
            for s in run.steps
        ],
        **({"cautions": cautions} if cautions else {}),
    }


def csv_text(run: Run) -> str:
    """Points, then values, one a row."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["kind", "name", "x", "y", "z", "value", "unit", "working"])
    for name, at in run.found.items():
        writer.writerow(["point", name, *(repr(float(x)) for x in at), *[""] * (3 - len(at)), "", "mm", ""])
    for value in run.values:
        writer.writerow(["value", value.name, "", "", "", value.value, value.unit, value.working])
    return out.getvalue()
