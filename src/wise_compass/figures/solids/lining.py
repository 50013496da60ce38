"""A pattern lined in: its outline dark, its fold lines thin."""

from __future__ import annotations

from collections.abc import Sequence

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import Role, Spot
from wise_compass.figures.solids.cut_solids import CutSolid

ALLOWANCES = "the skin alone: add what lap, seam and thickness want before you cut, and mind sharp edges"
"""Said where a pattern's outline is closed."""


def line_in_pattern(g: CutSolid, d: Draft, rim: str = "straight") -> None:
    """Base, top, cut and sides of every part; a base that is an ``arc`` about W is swung."""
    strips = g.strips

    def at(keys: Sequence[str]) -> list[Spot]:
        return [d.spots[key] for key in keys]

    with d.as_one("Straightedge", "Line in the pattern: base, top and the two sides at the seam.", why=ALLOWANCES):
        for chain in strips.chains(("base",)):
            if rim != "arc":
                d.line_in(at(chain))
        for kind in ("top", "side"):
            for chain in strips.chains((kind,)):
                d.line_in(at(chain))
    if rim == "arc":
        for chain in strips.chains(("base",)):
            first, last = at((chain[0], chain[-1]))
            centre = d.spots["W"]
            d.arc_in(centre, d.opening(centre, first), first, last, "Centre W, line in the arc of the base.")
    cuts = strips.chains(("cut",))
    if cuts:
        with d.as_one("Curve" if g.round else "Straightedge", "Line in the cut through its points."):
            for chain in cuts:
                if g.round and len(chain) > 2:
                    d.curve(at(chain))
                else:
                    d.line_in(at(chain))
    folds = strips.folds()
    if folds and not g.round:
        with d.as_one("Straightedge", "Draw the fold lines thin."):
            for ends in folds:
                d.line_in(at(ends), role=Role.FOLD)
