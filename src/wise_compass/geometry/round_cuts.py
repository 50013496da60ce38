"""Cylinders and cones cut by a plane that is seen edge-on from in front and falls to the right: exact areas and
volumes.

The solid stands upright on its base about the axis; the plane is ``height`` up there and falls by ``slope`` to the
right. What lies below it stays. Seen from above a cut is the part of the base circle, or of a conic with its focus on
the axis, between two upright lines.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np


class RoundCut(NamedTuple):
    """What stays: volume, lateral area, area of the cut, and of what is left of base and top."""

    volume: float
    lateral: float
    section: float
    base: float
    top: float


def disc_left(radius: float, x: float) -> float:
    """Area of the part of a disc about the origin that lies to the left of ``x``.

    >>> disc_left(1.0, 0.0) == np.pi / 2
    True
    """
    turn = float(np.arccos(np.clip(x / radius, -1.0, 1.0)))
    return float(radius**2 * (np.pi - turn + np.sin(turn) * np.cos(turn)))


def _moment_left(radius: float, x: float) -> float:
    """Of the same part about the upright line through the origin."""
    return float(-2.0 / 3.0 * max(radius**2 - min(abs(x), radius) ** 2, 0.0) ** 1.5)


def _exits(radius: float, height: float, slope: float, top: float) -> tuple[float, float]:
    """Where the plane leaves through the base and through the level ``top``, as x between −radius and radius."""
    if slope <= 0:
        return radius, -radius if height <= top else radius
    return (float(np.clip(at / slope, -radius, radius)) for at in (height, height - top))  # type: ignore[return-value]


def cut_cylinder(radius: float, tall: float, height: float, slope: float) -> RoundCut:
    """A cylinder's cut, by the segments of its base circle.

    >>> cut = cut_cylinder(2.0, 10.0, 5.0, 0.0)
    >>> bool(np.isclose(cut.volume, 20 * np.pi)), bool(np.isclose(cut.lateral, 20 * np.pi)), cut.top
    (True, True, 0.0)
    """
    out, over = _exits(radius, height, slope, tall)
    base, top = disc_left(radius, out), disc_left(radius, over)
    across = base - top
    volume = tall * top + height * across - slope * (_moment_left(radius, out) - _moment_left(radius, over))
    first, last = (float(np.arccos(np.clip(x / radius, -1.0, 1.0))) for x in (out, over))
    lateral = tall * (np.pi - last) + height * (last - first) - radius * slope * (np.sin(last) - np.sin(first))
    return RoundCut(volume, float(2 * radius * lateral), across * float(np.hypot(1.0, slope)), base, max(top, 0.0))


def cut_cone(radius: float, tall: float, height: float, slope: float) -> RoundCut:
    """A cone's cut. Its removed part, or the rest, is made of pyramids from the apex on the cut and on a part of the
    base.

    >>> half = cut_cone(3.0, 4.0, 2.0, 0.0)
    >>> bool(np.isclose(half.volume, 12 * np.pi * 7 / 8)), bool(np.isclose(half.lateral, 15 * np.pi * 3 / 4))
    (True, True)
    """
    out, _ = _exits(radius, height, slope, tall)
    base = disc_left(radius, out)
    gone = np.pi * radius**2 - base
    across = conic_part(radius * (tall - height) / tall, radius * slope / tall, out)
    section = across * float(np.hypot(1.0, slope))
    off = (tall - height) / float(np.hypot(1.0, slope))
    if height <= tall:
        volume = np.pi * radius**2 * tall / 3 - (section * off + gone * tall) / 3
    else:
        volume = (base * tall - section * off) / 3
    lateral = base - across
    return RoundCut(float(volume), float(lateral * np.hypot(radius, tall) / radius), section, base, 0.0)


def conic_part(parameter: float, eccentricity: float, end: float) -> float:
    """Area to the left of x = ``end`` of what ρ ≤ ``parameter`` + ``eccentricity`` x holds, ρ being the distance from
    the origin.

    A conic with its focus there: an ellipse, a parabola or a branch of a hyperbola, whole or cut off by the line. Its
    upright ordinate is the root of a product of two distances along the axis, which is integrated in closed form where
    both count, and else by Gauss.

    >>> round(conic_part(2.0, 0.0, 9.0), 12) == round(4 * np.pi, 12), round(conic_part(0.0, 2.0, 3.0), 12)
    (True, 15.58845726812)
    """
    if parameter < 0 and eccentricity <= 1:
        return 0.0
    start = -parameter / (1.0 + eccentricity) if parameter >= 0 else parameter / (1.0 - eccentricity)
    if eccentricity < 1 and parameter >= 0:
        end = min(end, parameter / (1.0 - eccentricity))
    span = end - start
    if span <= 0:
        return 0.0
    bend = 1.0 - eccentricity**2
    # y² = (x − start) (slope0 − bend (x − start)), the distance to the other vertex being slope0 / bend
    first = 2.0 * abs(parameter)
    if abs(bend) * span > 1e-3 * max(first, 1e-300):
        return _closed(first, bend, span)
    nodes, weights = np.polynomial.legendre.leggauss(60)
    t = (nodes + 1) / 2
    x = span * t * t
    return float(2 * (weights / 2 * np.sqrt(np.maximum(x * (first - bend * x), 0.0)) * 2 * span * t).sum())


def _closed(first: float, bend: float, span: float) -> float:
    """Twice the integral of √(x (first − bend x)) from 0 to ``span``."""
    half = first / (2 * abs(bend))
    root = float(np.sqrt(abs(bend)))
    if bend > 0:
        turn = float(np.arccos(np.clip(1.0 - span / half, -1.0, 1.0))) if half else 0.0
        return root * half**2 * float(turn - np.sin(turn) * np.cos(turn))
    u = half + span
    rise = float(np.sqrt(max(span * (span + 2 * half), 0.0)))
    spread = half**2 * float(np.arccosh(u / half)) if half > 0 else 0.0
    return root * (u * rise - spread)
