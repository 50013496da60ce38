"""The seam at which a pattern is opened."""

from __future__ import annotations

from wise_compass.drafting.refusals import Refused


def refuse_seam(seam: int, first: int, last: int, called: str) -> None:
    """Raise :class:`Refused` for a seam that is none of the lines ``first`` to ``last``."""
    if not first <= seam <= last:
        raise Refused("seam", f"The seam is {seam}; the {called}s are numbered {first} to {last}. Take one of them.")
