"""A pattern made ready for the shop: its parts, laps and folds, with what is asked of it.

A figure tells what is cut out of its pattern (``Figure.cut_out``: parts, each a loop of edges by the keys of their
ends) and which of its givens are sizes across a hollow body (``across``, ``widened``), and what its makers are warned
of (``hazards``). From a run ``shop/parts.py`` finds the course of every edge as the hand lined it in and the angle of
every fold that was drawn; ``laps.py`` lays laps beside edges, with Shapely, which is imported only there and where
shapes are joined. What is asked is kept in the entry (``Entry.shop``, ``ShopWish``); ``job/build.py: shop_of`` makes it
once for a run. A plate whose sizes are inside or outside is *drawn* at its middle: ``run_entry`` shifts the givens,
``Run.given`` keeps the figure as it was given, whose volume and section stay. ``sheet/cutting.py`` is the pattern at
true size in the layers cut, fold, mark and text; ``tucked.py`` hangs the laps on the pattern that folds. Where a strip
is squeezed to its chords to be rolled up, its laps go with it (``Pattern.squeezed``).
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from wise_compass.drafting.capabilities import Developed
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import mm, trim
from wise_compass.shop.laps import Lap, laps_of
from wise_compass.shop.parts import CutPart, Fold, cuts_of, folds_of
from wise_compass.shop.takings import Takings, takings_of
from wise_compass.shop.wish import CALLED, LAPS, SIZES, ShopWish

NO_PATTERN = (
    "{title} has no pattern to be cut out as it is drawn. Choose a solid or a transition, and have its pattern drawn."
)
OVERLAPS = "This pattern lies over itself on the flat: it cannot be cut from one piece of sheet, nor take laps."
BENDS = "What a bend takes or gives is left to the shop’s own table."


class Shop:
    """Of one run; raises :class:`Refused` where it has no pattern, or its laps find no room."""

    def __init__(self, run: Run, wish: ShopWish) -> None:
        self.run, self.wish = run, wish
        self.cuts: list[CutPart] = cuts_of(run)
        if not self.cuts:
            raise Refused("figure", NO_PATTERN.format(title=run.figure.title))
        if wish.lapped:
            self._refuse_overlap()
        self.laps: list[Lap] = laps_of(self.cuts, wish)

    @property
    def templet(self) -> bool:
        """Whether its parts are used as they are cut out."""
        figure = self.run.figure
        return isinstance(figure, Developed) and figure.templet

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
