"""The sector of a cone's pattern, set off by chords from its middle line."""

from __future__ import annotations

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import ArcMark, Spot
from wise_compass.drafting.wording import bare, trim
from wise_compass.geometry.vectors import polar, sind

WIDE = 240.0
"""Degrees of a sector from which half of it is set off in two chords: one would cut the arc too slantingly."""


def sector_ends(
    d: Draft,
    centre: Spot,
    arc: ArcMark,
    size: tuple[float, float, float],
    names: tuple[str, str],
    more: str = "",
    straight: float = 0.0,
) -> list[Spot]:
    """Both ends of a sector on an arc, left and right of its middle line, which hangs down from the centre.

    ``size`` is the arc's radius, the sector in degrees, and the radius of the circle that it goes round; ``straight``
    is half the girth as a slip takes it for a chord, 0 for none.
    """
    radius, sector, base = size
    down = d.upright_from(centre, f"Draw the middle line of the pattern down from {centre.name}.", length=-radius)
    middle = d.meet(arc, down, "", where="below")
    steps = 1 if sector <= WIDE else 2
    chord = float(2 * radius * sind(sector / 4 / steps))
    if straight:
        slip = min(straight, 1.999 * radius) / steps
        chord = d.choice("chords", right=chord, slip=slip, says="Half the girth set off straight: a chord for its arc.")
    part = "half" if steps == 1 else "a quarter of"
    why = (
        f"2 × {bare(radius)} × sin({trim(sector)}° / {4 * steps}), {part} the "
        f"sector of 360° × {bare(base)} / {bare(radius)}"
    )
    twice = "" if steps == 1 else " twice"
    words = f"From its foot set off the chord of {part} the sector{twice} to both sides{more}."
    if steps == 1:
        swung = d.compass(middle, chord, words, why, whole=False)
        return [
            d.meet(arc, swung, name, near=polar(centre.here, radius, -90.0 + way * sector / 2))
            for name, way in zip(names, (-1, 1))
        ]
    found = []
    with d.as_one("Compass", words, why=why):
        first = d.compass(middle, chord, whole=False)
        for name, way in zip(names, (-1, 1)):
            mark = d.meet(arc, first, "", near=polar(centre.here, radius, -90.0 + way * sector / 4))
            second = d.compass(mark, chord, whole=False)
            found.append(d.meet(arc, second, name, near=polar(centre.here, radius, -90.0 + way * sector / 2)))
    return found
