"""The true lengths of a solid's lines, each from its plan length and its height; what repeats is said to."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import true_lines_of
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.wording import Style
from wise_compass.geometry.vectors import Array, length

SAME = 1e-9
"""Of the longest line: what differs by less is one length."""
HEADS, UNITS = ("line", "plan", "height", "true length", "again"), ("", "mm", "mm", "mm", "")


class TrueLength(NamedTuple):
    """A line in space: its name, its plan length, height and true length in mm, and the earlier line that it repeats,
    if one."""

    name: str
    plan: float
    height: float
    true: float
    again: str


def true_lengths(figure: Figure) -> list[TrueLength]:
    """Of all lines that a figure gives, by the triangle of plan length and height (Pythagoras)."""
    lines = true_lines_of(figure)
    if not lines:
        return []
    ends = np.array([[a, b] for _, a, b in lines], dtype=np.float64)
    run: Array = ends[:, 1] - ends[:, 0]
    plans, rises, trues = np.asarray(length(run[:, :2])), np.abs(run[:, 2]), np.asarray(length(run))
    same = SAME * float(trues.max())
    found: list[TrueLength] = []
    for (name, _, _), plan, rise, true in zip(lines, plans, rises, trues):
        again = next((one.name for one in found if not one.again and abs(one.true - true) <= same), "")
        found.append(TrueLength(name, float(plan), float(rise), float(true), again))
    return found


def lengths_title(figure: Figure) -> str:
    return f"True lengths of the {figure.title.lower()}"


def said(one: TrueLength, all_of_them: list[TrueLength], style: Style) -> tuple[str, str]:
    """How a true length comes about, and which lines are as long."""
    working = f"√({style.bare(one.plan, 'mm')}² + {style.bare(one.height, 'mm')}²)"
    if one.height == 0 or one.plan == 0:
        working = "level: the plan shows it truly" if one.height == 0 else "upright: its height"
    others = [other.name for other in all_of_them if other.again == one.name]
    return working, f"{', '.join(others)} again: keep the compass" if others else ""
