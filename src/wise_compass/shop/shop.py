"""A pattern made ready for the shop: its parts, laps and folds, with what is asked of it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import mm, trim
from wise_compass.shop.laps import Lap, laps_of
from wise_compass.shop.parts import Cut, Fold, cuts_of, folds_of
from wise_compass.shop.takings import Takings, takings_of
from wise_compass.shop.wish import CALLED, LAPS, SIZES, ShopWish

NO_PATTERN = "{title} has no pattern to be cut out as it is drawn. Choose a solid or a transition, and have its pattern drawn."
OVERLAPS = "This pattern lies over itself on the flat: it cannot be cut from one piece of sheet, nor take laps."
BENDS = "What a bend takes or gives is left to the shop’s own table."


class Shop:
    """Of one run; raises :class:`Refused` where it has no pattern, or its laps find no room."""

    def __init__(self, run: Run, wish: ShopWish) -> None:
        self.run, self.wish = run, wish
        self.cuts: list[Cut] = cuts_of(run)
        if not self.cuts:
            raise Refused("figure", NO_PATTERN.format(title=run.figure.title))
        if wish.lapped:
            self._refuse_overlap()
        self.laps: list[Lap] = laps_of(self.cuts, wish)

    @cached_property
    def folds(self) -> list[Fold]:
        return folds_of(self.run)

    def _refuse_overlap(self) -> None:
        from shapely import Polygon

        if not all(Polygon(cut.outline).is_valid for cut in self.cuts):
            raise Refused("seam", f"{OVERLAPS} Open it at another seam.")

    @cached_property
    def takings(self) -> Takings:
        """What it takes of sheet; raises :class:`Refused` for a pattern that lies over itself."""
        self._refuse_overlap()
        return takings_of(self.cuts, self.laps, self.wish)

    def says(self) -> Iterator[str]:
        """What is wanted of it, in a sentence each."""
        wish = self.wish
        widths = [f"{CALLED[name]} {mm(getattr(wish, name))}" for name in LAPS if getattr(wish, name)]
        if widths:
            words = ", ".join(widths)
            yield f"{words[0].upper()}{words[1:]}; corners notched."
        if wish.thickness:
            drawn = "" if wish.size_is == "middle" else "; it is drawn to the middle of the plate"
            plate = f"{wish.material.capitalize()} {mm(wish.thickness)} thick, sizes {SIZES[wish.size_is]}{drawn}."
            yield f"{plate} {BENDS}"


def fold_words(fold: Fold) -> str:
    """To what angle a fold goes, from the flat: away from the outside, or towards it."""
    way = "" if fold.angle > 0 else " outward"
    return f"{trim(abs(fold.angle), 1)}°{way}"
