"""The limit that a refusal names: found by trying, so that what is advised is never refused when it is typed."""

from __future__ import annotations

from contextvars import ContextVar
from typing import Any, NamedTuple

from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import STRICT, Choice, Length, Measure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import least_mm, most_mm, trim_down, trim_up

STEPS, HALVINGS, MARGINS = 20, 16, 8
MOST_TRIED = 160
"""Figures that are made for one piece of advice at most: nobody waits longer for it."""
SIZES = ("slope", "branch_side", "branch_diameter", "height", "side", "diameter")
"""What might mend it where nothing likelier does."""
TRYING: ContextVar[str] = ContextVar("trying", default="")
"""Whether a figure is made only to see whether it can be: ``roughly``, by its main points alone, or ``wholly``."""


class Trouble(NamedTuple):
    """What cannot be, in words, and the givens that might mend it, the likeliest first."""

    says: str
    mends: tuple[str, ...]


def refuse_with_advice(figure: Figure, trouble: Trouble | None, size: float) -> None:
    """Raise :class:`Refused` where these givens do not go together, naming a given and the limit that serves; ``size``
    is that of the whole."""
    if trouble is None:
        return
    names = [name for name in dict.fromkeys((*trouble.mends, *SIZES)) if name in figure.givens]
    if TRYING.get():
        raise Refused(names[0], trouble.says)
    tried = _Tried(figure)
    for name in names:
        words = _advice(tried, name, size)
        if words:
            raise Refused(name, f"{trouble.says} {words}")
    raise Refused(names[0], f"{trouble.says} Change {names[0]}, and with it the size of the branch.")


class _Tried:
    """Other values of a figure's givens, one at a time, as long as anybody would wait for it."""

    def __init__(self, figure: Figure) -> None:
        self.figure, self.count = figure, 0

    def serves(self, name: str, value: Any, how: str = "roughly") -> bool:
        """Whether the figure can be made with another value of one given."""
        self.count += 1
        if self.count > MOST_TRIED:
            return False
        token = TRYING.set(how)
        try:
            type(self.figure)(**{**self.figure.given_values, name: value})
        except Refused:
            return False
        finally:
            TRYING.reset(token)
        return True


def _advice(tried: _Tried, name: str, size: float) -> str:
    """What to set a given to, in words; nothing where no value of it serves."""
    given, now = tried.figure.givens[name], tried.figure.given_values[name]
    if isinstance(given, Choice):
        others = [one for one in given.options if one != now]
        other = next((one for one in others if tried.serves(name, one, "wholly")), None)
        return f"Set {name} to {other}." if other else ""
    assert isinstance(given, Measure)
    span = 90.0 if not isinstance(given, Length) else 2 * size
    steps = [now + way * span * k / STEPS for k in range(1, STEPS + 1) for way in (1.0, -1.0)]
    good = next((value for value in steps if tried.serves(name, value)), None)
    if good is None:
        return ""
    way = 1.0 if good > now else -1.0
    bad = good - way * span / STEPS
    for _ in range(HALVINGS):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if tried.serves(name, middle) else (good, middle)
    # a little further, until it serves with all its points
    edges = [good + way * STRICT * 2.0**k for k in range(MARGINS)]
    edge = next((value for value in edges if tried.serves(name, value, "wholly")), None)
    if edge is None:
        return ""
    if isinstance(given, Length):
        words = least_mm(edge) if way > 0 else most_mm(edge)
    else:
        words = f"{trim_up(edge, 2)}°" if way > 0 else f"{trim_down(edge, 2)}°"
    verb, end = ("Raise", "at least") if way > 0 else ("Lower", "at most")
    return f"{verb} {name} to {words} {end}."
