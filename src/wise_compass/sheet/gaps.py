"""The gap plot: how far the drawn line lies off the true curve, drawn enlarged as a small comb along it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

import numpy as np

from wise_compass.drafting.wording import Style, trim
from wise_compass.geometry.vectors import Array, left_of, unit
from wise_compass.sheet.drawing import Item, Line

if TYPE_CHECKING:
    from wise_compass.study.gaps import Gap

TALLEST = 9.0
"""The longest tooth of the comb on the sheet, in mm, as near as a round enlargement comes to it."""
SMALLEST = 1e-6
APART = 1.25
"""How far apart the teeth stand at least, in mm on the sheet."""


def enlargement(gaps: Sequence[Gap], scale: float) -> float:
    """A round number of times that the gaps are drawn larger than the figure; 0 where there are none to draw."""
    largest = max((gap.largest for gap in gaps), default=0.0)
    if largest < SMALLEST:
        return 0.0
    most = TALLEST / (largest * scale)
    power = 10.0 ** np.floor(np.log10(most))
    return float(max(power * k for k in (1, 2, 5) if power * k <= most * 1.001))


def gap_items(gaps: Sequence[Gap], scale: float, origin: Array, step: int) -> Iterator[Item]:
    """The teeth from the true curve, outward or inward as the drawn line lies, and the line along their ends."""
    times = enlargement(gaps, scale)
    if not times:
        return
    for gap in gaps:
        heading = unit(gap.course.curve.derivative(gap.t))
        across = np.nan_to_num(left_of(heading))
        base = origin + gap.true * scale
        tips = base + across * (gap.off * scale * times)[:, None]
        head = ("gap", step, "gap", "gap")
        yield Line(*head, tips)
        along = float(np.linalg.norm(np.diff(base, axis=0), axis=1).sum())
        every = max(int(np.ceil(len(base) * APART / max(along, APART))), 1)
        for k in range(0, len(base), every):
            yield Line(*head, np.array([base[k], tips[k]]))


def gap_words(gaps: Sequence[Gap], scale: float, style: Style) -> str:
    """What the plot shows, for the line under the figure."""
    times = enlargement(gaps, scale)
    worst = max(gaps, key=lambda one: one.largest) if gaps else None
    if not times or worst is None:
        return ""
    where = f", {style.lettered(worst.where)}" if worst.where else ""
    far = style.length(worst.largest)
    if float(trim(worst.largest, 2)) == 0.0:
        far = f"less than {style.short(0.01)}"
    return f"Gap plot, {trim(times)} times the figure: the largest gap is {far}{where}."
