"""What a kit cannot do of a method, and the ways round that are to be had: another scale, another method."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from wise_compass.drafting.kit import Kit
from wise_compass.drafting.lacks import Lack, lacks
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import scale_name


class Short(NamedTuple):
    """What a kit lacks for a method on a sheet: each lack, and in words what would do."""

    lacks: tuple[Lack, ...]
    ways: tuple[str, ...]

    @property
    def says(self) -> str:
        """One sentence a lack, and the ways round."""
        told = ". ".join(f"Step {one.step}: {one.says}" for one in self.lacks)
        return f"{told}. Ways round: {'; '.join(self.ways)}." if self.ways else f"{told}."


def short_of(made: Run, scale: float, kit: Kit, scales: Sequence[float] = ()) -> Short | None:
    """What a kit lacks for a run; None where it does all of it. ``scales`` are those that a sheet may be drawn at."""
    missing = lacks(made.steps, kit, scale)
    if not missing:
        return None
    ways = []
    if all(one.length for one in missing):
        serving = [one for one in scales if not lacks(made.steps, kit, one)]
        if serving:
            ways.append(f"a sheet at {scale_name(min(serving, key=lambda one: abs(one / scale - 1)))}")
    ways += [f"the method “{title}”" for title in _other_methods(made, scale, kit)]
    ways += [one.way for one in missing if one.way]
    return Short(tuple(missing), tuple(dict.fromkeys(ways)))


def _other_methods(made: Run, scale: float, kit: Kit) -> list[str]:
    """The methods of the same figure that this kit can do here."""
    found = []
    for method in made.figure.methods.values():
        if method.id == made.method.id or method.fits(made.figure) is not None:
            continue
        try:
            other = run(made.figure, method.id, made.conventions)
        except Refused:
            continue
        if not lacks(other.steps, kit, scale):
            found.append(method.title)
    return found
