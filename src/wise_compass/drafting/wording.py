"""How numbers are written for people: lengths, angles, and the numbers inside a working."""

from __future__ import annotations

from typing import NamedTuple

INCH = 25.4
SUPERSCRIPTS = str.maketrans("0123456789-", "⁰¹²³⁴⁵⁶⁷⁸⁹⁻")


def trim(value: float, decimals: int = 4) -> str:
    """A number without idle zeros: 76, 44.5, 13.8571.

    >>> trim(76.0), trim(13.857142857)
    ('76', '13.8571')
    """
    text = f"{value:.{decimals}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text.replace("-", "−")


def power_of_ten(value: float) -> str:
    """A very small number as people write it: 3 × 10⁻¹⁴; 0 stays 0."""
    if value == 0:
        return "0"
    if 0.001 <= abs(value) < 1e6:
        return trim(value, 4)
    mantissa, exponent = f"{value:.0e}".split("e")
    return f"{mantissa} × 10{str(int(exponent)).translate(SUPERSCRIPTS)}"


class Style(NamedTuple):
    """How a person wants to read lengths and angles."""

    units: str = "mm"
    decimals: int = 2

    def length(self, value: float, unit: bool = True) -> str:
        """A length given in millimetres, in the person's own unit."""
        if self.units == "in":
            text = f"{value / INCH:.{self.decimals + 1}f}"
        else:
            text = f"{value:.{self.decimals}f}"
        return (text + (f" {self.units}" if unit else "")).replace("-", "−")

    def short(self, value: float) -> str:
        """A small length such as a gap, to a thousandth of a millimetre and without idle zeros."""
        return f"{trim(value / INCH, 4)} in" if self.units == "in" else f"{trim(value, 3)} mm"

    def angle(self, value: float) -> str:
        """An angle given in degrees."""
        return f"{trim(value, self.decimals)}°"

    def quantity(self, value: float, unit: str) -> str:
        """Any value with its unit: mm, mm², ° or none."""
        if unit == "mm":
            return self.length(value)
        if unit == "°":
            return f"{value:.{self.decimals}f}°".replace("-", "−")
        if unit == "mm²":
            if self.units == "in":
                return f"{value / INCH**2:.{self.decimals + 1}f} in²"
            return f"{value:.{self.decimals}f} mm²"
        text = trim(value, max(4, self.decimals))
        return f"{text} {unit}".strip()


PLAIN = Style()
