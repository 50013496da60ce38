"""What a kit cannot do of the steps of a method."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from wise_compass.drafting.kit import SQUARES, Kit
from wise_compass.drafting.steps import Setting, Step
from wise_compass.drafting.wording import bare, mm, scale_name

ROOM = 1e-6
"""mm by which a setting may pass a reach unsaid: rounding."""


class Lack(NamedTuple):
    """What a kit cannot do: at which step, in words, and a way round with what it has; empty where it has none."""

    step: int
    says: str
    way: str = ""
    length: bool = False
    """Whether it is one of length, that another scale would do away with."""


def lacks(steps: Sequence[Step], kit: Kit, scale: float = 1.0) -> list[Lack]:
    """What of some steps, on a sheet at ``scale``, a kit cannot do; the first step of each kind tells it."""
    found: dict[tuple[str, str], Lack] = {}
    for step in steps:
        for lack in _of_step(step, kit, scale):
            found.setdefault((step.instrument, lack.way), lack)
    return list(found.values())


def _of_step(step: Step, kit: Kit, scale: float) -> Iterator[Lack]:
    sizes = [abs(one.on_paper(scale)) for one in step.settings if one.unit == "mm" and not one.words]
    most, n = max(sizes, default=0.0), step.n
    if step.instrument == "Compass":
        yield from _compass(n, sizes, kit)
    elif step.instrument == "Dividers" and kit.dividers_most <= 0:
        yield Lack(
            n, "there are no dividers", "the compass with a second needle, or a strip of paper, carries a length too"
        )
    elif step.instrument == "Dividers" and most > kit.dividers_most + ROOM:
        says = f"the dividers open to {bare(kit.dividers_most)} mm, and an opening of {mm(round(most, 2))} is taken"
        yield Lack(n, says, "a strip of paper carries it too", length=True)
    elif step.instrument == "Rule" and most > kit.rule_long + ROOM:
        says = f"the rule is {bare(kit.rule_long)} mm long, and a length of {mm(round(most, 2))} is laid off"
        yield Lack(n, says, "lay it off in two lengths", length=True)
    elif step.instrument == "Rule" and scale != 1 and sizes and not kit.scale_rules:
        yield Lack(
            n,
            f"there is no scale rule for {scale_name(scale)}",
            "lay the sizes off as they are told for the paper, with the plain rule",
        )
    elif step.instrument == "Protractor" and kit.protractor_by <= 0:
        yield Lack(n, "there is no protractor", "lay the angle off by its tangent with the rule")
    elif step.instrument == "Set square":
        yield from _squares(n, step.settings, kit)
    elif step.instrument == "Curve" and not kit.curves:
        yield Lack(n, "there is no drawing curve", "bend a strip of wood or spring steel through the points")


def _compass(n: int, sizes: Sequence[float], kit: Kit) -> Iterator[Lack]:
    most, least = max(sizes, default=0.0), min((size for size in sizes if size > 0), default=kit.compass_least)
    if most > kit.largest_opening + ROOM:
        beam = (
            f"the beam compass reaches {bare(kit.beam_most)} mm"
            if kit.beam_most > kit.compass_most
            else "there is no beam compass"
        )
        says = f"the compass opens to {bare(kit.compass_most)} mm and {beam}; an opening of {mm(round(most, 2))} is set"
        yield Lack(n, says, "a strip of wood with a nail and a pencil serves as a beam compass", length=True)
    if least < kit.compass_least - ROOM:
        says = f"the compass closes to {bare(kit.compass_least)} mm, and an opening of {mm(round(least, 2))} is set"
        yield Lack(n, says, "draw it with a circle template", length=True)


def _squares(n: int, settings: Sequence[Setting], kit: Kit) -> Iterator[Lack]:
    angles = [one.value for one in settings if one.unit == "°" and not one.words]
    if not SQUARES[kit.squares] and not angles:
        yield Lack(n, "there is no set square to slide", "construct the parallel or the upright with the compass")
        return
    for angle in angles:
        lean = abs(angle) % 90.0
        if lean > 1e-6 and 90.0 - lean > 1e-6 and not any(abs(lean - one) < 1e-6 for one in SQUARES[kit.squares]):
            way = "set it off with the protractor" if kit.protractor_by > 0 else "construct it with the compass"
            yield Lack(n, f"no set square here draws {bare(lean)}°", way)
            return
