"""The limit that a refusal names: found by trying, so that what is advised is never refused when it is typed."""

from __future__ import annotations

from contextvars import ContextVar
from typing import Any, NamedTuple

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import STRICT, Choice, Length, Measure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import least_mm, most_mm, trim_down, trim_up

STEPS, HALVINGS = 48, 40
SIZES = ("slope", "height", "branch_side", "branch_diameter", "side", "diameter", "aside", "offset", "level", "enters")
"""What might mend it where nothing likelier does."""
TRYING: ContextVar[bool] = ContextVar("trying", default=False)
"""Whether a figure is made only to see whether it can be."""


class Trouble(NamedTuple):
    """What cannot be, in words, and the givens that might mend it, the likeliest first."""

    says: str
    mends: tuple[str, ...]


def refuse_with_advice(figure: Figure, trouble: Trouble | None, size: float) -> None:
    """Raise :class:`Refused` where these givens do not go together, naming a given and the limit that serves; ``size``
    is that of the whole."""
    if trouble is None:
        return
    names = [name for name in (*trouble.mends, *SIZES) if name in figure.givens]
    if TRYING.get():
        raise Refused(names[0], trouble.says)
    for name in names:
        words = _advice(figure, name, size)
        if words:
            raise Refused(name, f"{trouble.says} {words}")
    raise Refused(names[0], f"{trouble.says} Change {names[0]}, and with it the size of the branch.")


def _serves(figure: Figure, name: str, value: Any) -> bool:
    """Whether the figure can be made with another value of one given."""
    token = TRYING.set(True)
    try:
        type(figure)(**{**figure.given_values, name: value})
    except Refused:
        return False
    finally:
        TRYING.reset(token)
    return True


def _advice(figure: Figure, name: str, size: float) -> str:
    """What to set a given to, in words; nothing where no value of it serves."""
    given, now = figure.givens[name], figure.given_values[name]
    if isinstance(given, Choice):
        other = next((one for one in given.options if one != now and _serves(figure, name, one)), None)
        return f"Set {name} to {other}." if other else ""
    assert isinstance(given, Measure)
    span = 90.0 if not isinstance(given, Length) else 2 * size
    best: tuple[float, float] | None = None
    for k in range(1, STEPS + 1):
        for way in (1.0, -1.0):
            value = now + way * span * k / STEPS
            if best is None and _serves(figure, name, value):
                best = value, way
    if best is None:
        return ""
    good, way = best
    bad = good - way * span / STEPS
    for _ in range(HALVINGS):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if _serves(figure, name, middle) else (good, middle)
    edge = good + way * STRICT
    edge = edge if _serves(figure, name, edge) else good
    if isinstance(given, Length):
        words = least_mm(edge) if way > 0 else most_mm(edge)
    else:
        words = f"{trim_up(edge, 2)}°" if way > 0 else f"{trim_down(edge, 2)}°"
    verb, end = ("Raise", "at least") if way > 0 else ("Lower", "at most")
    return f"{verb} {name} to {words} {end}."
