"""Numbers of several drawings told by the givens that they come from: shares of one, and sums of shares of two."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from fractions import Fraction

import numpy as np

from wise_compass.drafting.wording import trim


def share_of(share: float, name: str) -> str:
    """A share of a given: by a small fraction where it is one."""
    near = Fraction(share).limit_denominator(24)
    if abs(float(near) - share) > 1e-12 * max(abs(share), 1.0):
        return f"{share!r}*{name}"
    over = "" if near.denominator == 1 else f"/{near.denominator}"
    if near.numerator == 1:
        return f"{name}{over}"
    return f"-{name}{over}" if near.numerator == -1 else f"{near.numerator}*{name}{over}"


def angles_told(values: Sequence[float], told: Sequence[Mapping[str, float]]) -> Iterator[str]:
    """A turn that is a given angle, or what is left of a quarter, half or whole turn."""
    for name in told[0]:
        for share in (1.0, -1.0, 0.5, -0.5, 2.0, -2.0):
            rest = [(value - share * own[name]) % 360.0 for value, own in zip(values, told)]
            if max(rest) - min(rest) <= 1e-9 or max(abs((one + 180.0) % 360.0 - 180.0) for one in rest) <= 1e-9:
                first = (rest[0] + 180.0) % 360.0 - 180.0
                more = share_of(share, name)
                yield more if abs(first) < 1e-9 else f"{trim(first, 9)} + {more}".replace("+ -", "- ").replace("−", "-")


def of_two(values: Sequence[float], told: Sequence[Mapping[str, float]], one: str, other: str) -> str:
    """A sum of shares of two givens, where a number is one in every run."""
    if len(values) < 3:
        return ""
    rows = np.array([[own[one], own[other]] for own in told])
    shares, *_ = np.linalg.lstsq(rows, np.array(values), rcond=None)
    if np.abs(rows @ shares - values).max() > 1e-9 * max(map(abs, values)):
        return ""
    parts = [share_of(float(share), name) for share, name in zip(shares, (one, other)) if abs(share) > 1e-12]
    return " + ".join(parts).replace("+ -", "- ")
