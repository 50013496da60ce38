"""What is asked of a pattern for the shop: laps, the plate, and the sheet that it is cut from."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING, Annotated, Any, NamedTuple

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wishes import Wish, declared
from wise_compass.drafting.wording import mm, most_mm

if TYPE_CHECKING:
    from wise_compass.drafting.figure import Figure

SIZES = {"inside": "inside the plate", "middle": "to the middle of the plate", "outside": "outside the plate"}
MATERIALS = {"steel": 7850.0, "aluminium": 2700.0, "copper": 8960.0, "brass": 8500.0, "card": 750.0}
"""Densities in kg/m³; those of alloys and of card differ by some parts in a hundred."""
LARGEST = 20_000.0
"""mm that any of these may be."""
LEAST_LAP = 0.01
"""mm; a lap that is narrower is none."""
_WIDE = {"least": LEAST_LAP, "most": LARGEST, "unit": "mm"}
LAPS = {"seam_lap": "seam", "base_lap": "base", "top_lap": "top"}
CALLED = {"seam_lap": "lap of the seam", "base_lap": "allowance along the base", "top_lap": "allowance along the top"}


class ShopWish(NamedTuple):
    """Widths and sizes in mm; 0 for none."""

    seam_lap: Annotated[float, Wish("width of the lap along the seam", **_WIDE)] = 0.0
    base_lap: Annotated[float, Wish("width of the allowance along the base", **_WIDE)] = 0.0
    top_lap: Annotated[float, Wish("width of the allowance along the top or the cut", **_WIDE)] = 0.0
    thickness: Annotated[float, Wish("of the plate; 0 if not told", most=LARGEST, unit="mm")] = 0.0
    size_is: Annotated[str, Wish("where on the plate the sizes given are measured", SIZES)] = "middle"
    material: Annotated[str, Wish("for the weight", dict.fromkeys(MATERIALS, ""))] = "steel"
    sheet_long: Annotated[float, Wish("length of the sheet to be cut from", least=1, most=LARGEST, unit="mm")] = 2000.0
    sheet_wide: Annotated[float, Wish("width of the sheet to be cut from", least=1, most=LARGEST, unit="mm")] = 1000.0

    @property
    def lapped(self) -> bool:
        """Whether any lap is wanted."""
        return any(getattr(self, name) for name in LAPS)

    def width(self, kind: str) -> float:
        """Of the lap along an edge of a kind; a cut takes that of the top."""
        names = {"seam": self.seam_lap, "base": self.base_lap, "top": self.top_lap, "cut": self.top_lap}
        return names.get(kind, 0.0)


def wish_of(stored: Mapping[str, Any]) -> ShopWish:
    """The wish that an entry holds; raises :class:`Refused` for what none could be."""
    wish = ShopWish(**stored)
    for name, value in wish._asdict().items():
        declared(ShopWish)[name].check(value)
    return wish


def at_middle(figure: Figure, wish: ShopWish) -> Figure:
    """The figure at the middle of its plate, where the sizes given are inside or outside; itself where there is nothing
    to shift.

    Sheet is bent about its middle near enough; what a sharp bend takes or gives is left to the shop's own table. Raises
    :class:`Refused` for a plate that cannot go round.
    """
    from wise_compass.drafting.capabilities import Developed

    by = {"inside": 0.5, "outside": -0.5}.get(wish.size_is, 0.0)
    if not by or not wish.thickness or not isinstance(figure, Developed):
        return figure

    def shifted(thickness: float) -> Figure:
        told = {name: figure.given_values[name] for name in figure.told}
        return type(figure)(**{**told, **figure.widened(by * thickness)})

    try:
        return shifted(wish.thickness)
    except Refused as refusal:
        most = largest(lambda thickness: _stands(shifted, thickness), wish.thickness)
        words = (
            f"A plate {mm(wish.thickness)} thick does not go round with these sizes "
            f"{SIZES[wish.size_is]}: {refusal.template}"
        )
        raise Refused("thickness", f"{words} Lower thickness to {most_mm(most)} at most.") from None


def _stands(make: Callable[[float], Figure], thickness: float) -> bool:
    try:
        make(thickness)
    except Refused:
        return False
    return True


def largest(fits: Callable[[float], bool], refused: float) -> float:
    """The largest size under ``refused`` that fits, to a hundredth of a mm, rounded down; 0 where none does."""
    low, high = 0.0, refused
    while high - low > 0.001:
        middle = (low + high) / 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    found = math.floor(low * 100) / 100
    while found > 0 and not fits(found):
        found = round(found - 0.01, 2)
    return max(found, 0.0)
