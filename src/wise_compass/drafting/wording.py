"""How numbers are written for people: lengths, angles, and the quantities inside sentences, refusals and workings.

A sentence made below the desk does not know the person's unit. It carries its lengths as *quantities*: :func:`mm` and
its kin put one into a text as a short mark, and :meth:`Style.say` turns the marks into words.

Below the desk nobody knows the person's unit. A sentence carries its lengths as quantities (``mm``, ``bare``,
``least_mm``, ``most_mm`` of ``drafting/wording.py``), and ``Style.say`` turns them into words: at the desk, on the
sheet and on the command line. A limit is rounded so that it can be typed, lower ones upward and upper ones downward;
bounds are compared with room for rounding. A spot has a *key*; in views it is ``A.front``, ``A.top``, ``A.3``, and
``Style.lettered`` letters it by the school.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from fractions import Fraction
from typing import NamedTuple

INCH = 25.4
SUPERSCRIPTS = str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻")
OPEN, CLOSE = "\ue000", "\ue001"
_MARK = re.compile(f"{OPEN}([^|{CLOSE}]+)\\|([^{CLOSE}]+){CLOSE}")
_SPOT = re.compile(r"\b([A-Z][A-Za-z]?\d*)\.(front|top|\d+)(?:\.(\w+))?")
_VIEWED = re.compile(r"\b([A-Z]\d+) (front|top|side)\b(?! view)")
"""A corner of a block in one of its views."""
_RIM = re.compile(r"\b(\d+)R(\d+)x(\d+)\b(?: (front|top|side)\b)?")
"""A place on a rim of a block, which has no letter on the sheet."""
SUBSCRIPTS = str.maketrans("0123456789", "₀₁₂₃₄₅₆₇₈₉")


def nth(count: int) -> str:
    """An ordinal in figures.

    >>> [nth(count) for count in (1, 2, 3, 4, 11, 22, 113)]
    ['1st', '2nd', '3rd', '4th', '11th', '22nd', '113th']
    """
    teens = count % 100 in (11, 12, 13)
    return f"{count}{'th' if teens else {1: 'st', 2: 'nd', 3: 'rd'}.get(count % 10, 'th')}"


def many(count: int, one: str, more: str = "") -> str:
    """So many of a thing, whose plural may be told.

    >>> many(1, "sheet"), many(3, "entry", "entries")
    ('1 sheet', '3 entries')
    """
    return f"{count} {one if count == 1 else more or one + 's'}"


def are(count: int, one: str, more: str = "") -> str:
    """The same as what a sentence is about.

    >>> are(1, "sheet"), are(0, "sheet")
    ('1 sheet is', '0 sheets are')
    """
    return f"{many(count, one, more)} {'is' if count == 1 else 'are'}"


def trim(value: float, decimals: int = 4) -> str:
    """A number without idle zeros: 76, 44.5, 13.8571.

    >>> trim(76.0), trim(13.857142857)
    ('76', '13.8571')
    """
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text.replace("-", "−")


def digits(value: float) -> str:
    """A number inside a working to seven significant digits, so that a pocket calculator can follow it however small it
    is.

    >>> digits(1234.56789), digits(0.000012345678), digits(2.0)
    ('1234.568', '0.00001234568', '2')
    """
    if value == 0:
        return "0"
    return trim(value, min(max(6 - math.floor(math.log10(abs(value))), 0), 15))


def as_read(value: Fraction) -> str:
    """A number so that it is read as the same one: a short decimal, or else a fraction.

    >>> as_read(Fraction(2, 3)), as_read(Fraction(3, 4))
    ('2/3', '0.75')
    """
    short = trim(float(value))
    return short if Fraction(short.replace("−", "-")) == value else f"{value.numerator}/{value.denominator}"


def trim_up(value: float, decimals: int = 4) -> str:
    """A number rounded upward, so that it serves as a lower limit; one that is as good as round stays as it is.

    >>> trim_up(2 / 3), trim_up(40.0000000001)
    ('0.6667', '40')
    """
    scaled = value * 10**decimals
    return trim(math.ceil(scaled - 1e-5) / 10**decimals, decimals)


def trim_down(value: float, decimals: int = 4) -> str:
    """A number rounded downward, so that it serves as an upper limit.

    >>> trim_down(2 / 3)
    '0.6666'
    """
    return trim(math.floor(value * 10**decimals + 1e-5) / 10**decimals, decimals)


def power_of_ten(value: float) -> str:
    """A very small number as people write it: 3 × 10⁻¹⁴; 0 stays 0."""
    if value == 0:
        return "0"
    if 0.001 <= abs(value) < 1e6:
        return trim(value, 4)
    mantissa, exponent = f"{value:.0e}".split("e")
    return f"{mantissa} × 10{str(int(exponent)).translate(SUPERSCRIPTS)}"


def _mark(kind: str, value: float) -> str:
    return f"{OPEN}{kind}|{float(value)!r}{CLOSE}"


def mm(value: float) -> str:
    """A length inside a sentence, with its unit."""
    return _mark("length", value)


def bare(value: float) -> str:
    """A length inside a working: its number alone, in the person's unit."""
    return _mark("bare", value)


def bare_area(value: float) -> str:
    """An area inside a working: its number alone."""
    return _mark("bare area", value)


def least_mm(value: float) -> str:
    """A length that is a lower limit: rounded so that it may be typed."""
    return _mark("least", value)


def most_mm(value: float) -> str:
    """A length that is an upper limit: rounded so that it may be typed."""
    return _mark("most", value)


class Style(NamedTuple):
    """How a person wants to read lengths and angles, and the names of spots in views.

    ``fractions`` shows inches to the nearest 1/64, with what that leaves out.
    """

    units: str = "mm"
    decimals: int = 2
    fractions: bool = False
    lettering: str = "primes"
    ticks: bool = False
    """Whether dimension lines end in ticks, as some offices have them, and not in arrowheads."""
    larger: bool = False
    """Whether letters and figures of drawings are a step larger than usual."""

    @property
    def size(self) -> float:
        """Millimetres of the unit."""
        return INCH if self.units == "in" else 1.0

    def length(self, value: float, unit: bool = True) -> str:
        """A length given in millimetres, in the person's own unit."""
        if self.units == "in" and self.fractions:
            return sixty_fourths(value / INCH) + (" in" if unit else "")
        if self.units == "in":
            text = f"{value / INCH:.{self.decimals + 1}f}"
        else:
            text = f"{value:.{self.decimals}f}"
        return (text + (f" {self.units}" if unit else "")).replace("-", "−")

    def short(self, value: float) -> str:
        """A small length such as a gap, to a thousandth of a millimetre and without idle zeros."""
        return f"{trim(value / INCH, 4)} in" if self.units == "in" else f"{trim(value, 3)} mm"

    def tiny(self, value: float, unit: str) -> str:
        """A miss, which may be rounding alone: 3 × 10⁻¹⁴ mm."""
        return f"{power_of_ten(value / self.size)} {self.units}" if unit == "mm" else f"{power_of_ten(value)} {unit}"

    def angle(self, value: float) -> str:
        """An angle given in degrees."""
        return f"{trim(value, self.decimals)}°"

    def value(self, value: object, unit: str, told: bool = True) -> str:
        """A value of any shape: a number with its unit unless that is ``told`` already, words, none, or a list of
        these."""
        if value is None:
            return "none"
        if isinstance(value, str):
            return value
        if isinstance(value, (list, tuple)):
            parts = ", ".join(self.value(one, unit, False) for one in value)
            return f"({parts})" + (f" {self.units if unit == 'mm' else unit}" if told and unit not in ("", "°") else "")
        number = float(value)  # type: ignore[arg-type]
        if not unit:
            return trim(number, 6)
        return self.quantity(number, unit) if told else self.bare(number, unit)

    def bare(self, value: float, unit: str) -> str:
        """A value without its unit, as in a list of them."""
        return self.quantity(value, unit).removesuffix(f" {self.units if unit == 'mm' else unit}")

    def quantity(self, value: float, unit: str) -> str:
        """Any value with its unit: mm, mm², mm³, ° or none."""
        if unit == "mm":
            return self.length(value)
        if unit == "°":
            return f"{value:.{self.decimals}f}°".replace("-", "−")
        if unit == "mm²":
            if self.units == "in":
                return f"{value / INCH**2:.{self.decimals + 1}f} in²"
            return f"{value:.{self.decimals}f} mm²"
        if unit == "mm³":
            if self.units == "in":
                return f"{value / INCH**3:.{self.decimals + 1}f} in³"
            return f"{value:.{self.decimals}f} mm³"
        text = trim(value, max(4, self.decimals))
        return f"{text} {unit}".strip()

    def say(self, words: str, scale: float = 1.0) -> str:
        """Words with their quantities in the person's unit and their spots lettered; lengths taken times ``scale``."""
        if OPEN in words:
            words = _MARK.sub(lambda found: self._written(found.group(1), float(found.group(2)), scale), words)
        return self.lettered(words) if "." in words else words

    def _written(self, kind: str, value: float, scale: float) -> str:
        inches = self.units == "in"
        digits = 5 if inches else 4
        if kind == "bare area":
            return trim(value * scale**2 / self.size**2, digits)
        number = value * scale / self.size
        if kind == "bare":
            return trim(number, digits)
        if kind == "length":
            # a large number's idle digits are rounding alone
            return f"{trim(number, digits if abs(number) < 1000 else 3)} {self.units}"
        return f"{(trim_up if kind == 'least' else trim_down)(number, digits)} {self.units}"

    def lettered(self, words: str) -> str:
        """Spots of views lettered by the school: A.front is a′ or a2, A.top a or a1, A.3 (of the first auxiliary view)
        a₃; a corner A1 of a block is A1′, A1 and A1″ in its views, and a place of its rims is told in words."""

        def viewed(found: re.Match[str]) -> str:
            marks = {"front": "₂", "top": "₁"} if self.lettering == "numbers" else {"front": "′", "top": ""}
            return found[1] + marks.get(found[2], "₃" if self.lettering == "numbers" else "″")

        def name(found: re.Match[str]) -> str:
            letter, view, more = found.groups()
            stem = letter[0].lower() + letter[1:] + (more or "")
            if self.lettering == "numbers":
                return stem + {"front": "₂", "top": "₁"}.get(view, view.translate(SUBSCRIPTS))
            return stem + {"front": "′", "top": ""}.get(view, view.translate(SUBSCRIPTS))

        def rim(found: re.Match[str]) -> str:
            row, level, place, view = found.groups()
            return f"row {row} rim {int(level) + 1} at {place}{f' {view}' if view else ''}"

        return _RIM.sub(rim, _VIEWED.sub(viewed, _SPOT.sub(name, words)))


def way_words(out: Sequence[float]) -> str:
    """A direction of the sheet in words.

    >>> way_words((0.7, 0.7)), way_words((-1.0, 0.1))
    ('up to the right', 'to the left')
    """
    up = "up" if out[1] > 0.38 else "down" if out[1] < -0.38 else ""
    side = "to the right" if out[0] > 0.38 else "to the left" if out[0] < -0.38 else ""
    return f"{up} {side}".strip()


def sixty_fourths(inches: float) -> str:
    """Inches to the nearest 1/64, with what that leaves out in thousandths.

    >>> sixty_fourths(3.4375), sixty_fourths(2.0005)
    ('3 7/16', '2 (+0.0005)')
    """
    from fractions import Fraction

    nearest = Fraction(round(inches * 64), 64)
    whole, part = divmod(abs(nearest), 1)
    words = " ".join(
        ([str(whole)] if whole or not part else []) + ([f"{part.numerator}/{part.denominator}"] if part else [])
    )
    left = inches - float(nearest)
    rest = f" ({left:+.4f})".replace("-", "−") if abs(left) >= 5e-5 else ""
    return ("−" if nearest < 0 else "") + words + rest


def scale_name(scale: float) -> str:
    """A scale as it is written: 5:1, 1:1, 1:20.

    >>> scale_name(5.0), scale_name(0.05)
    ('5:1', '1:20')
    """
    return f"{scale:g}:1" if scale >= 1 else f"1:{round(1 / scale):d}"


PLAIN = Style()
