"""The scales that a job draws itself: its other sheets may be drawn at them, and read with their strips."""

from __future__ import annotations

import re

from wise_compass.job.model import Job
from wise_compass.sheet.paper import RATIO

FIGURES = ("scale-bar", "vernier-scale")


def drawn_scales(job: Job) -> dict[str, str]:
    """Each scale that one of the job's figures is for, with that one's title; those of one to a whole number."""
    found: dict[str, str] = {}
    for entry in job.entries():
        over = entry.givens.get("over")
        if entry.figure in FIGURES and isinstance(over, int | float) and over == round(over):
            name = f"1:{round(over)}"
            if re.fullmatch(RATIO, name):
                found.setdefault(name, entry.title)
    return found
