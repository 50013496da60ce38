"""How a curve table is wanted."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from wise_compass.drafting.wishes import Wish

BY = {"level": "along the level axis", "upright": "along the upright axis", "angle": "by the angle"}
LENGTHS = "lengths"
"""What a table goes by that is one of true lengths."""


class TableWish(NamedTuple):
    """How a table is wanted. A ``step`` of 0 takes one that gives some twenty rows."""

    by: Annotated[str, Wish("what the steps run along, or a solid's true lengths", {**BY, LENGTHS: "true lengths"})] = (
        "level"
    )
    step: Annotated[float, Wish("mm or degrees; one that gives some twenty rows by default")] = 0.0
    decimals: Annotated[int, Wish("decimals of its numbers", most=6)] = 2
    curve: Annotated[int, Wish("which of the figure's curves")] = 0
    on_sheet: Annotated[bool, Wish("the table beside the figure on its sheet", typed="table")] = False
