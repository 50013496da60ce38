"""Involute gear wheels: their circles, the thickness of their teeth, and the contact of a pair."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from wise_compass.geometry.vectors import Array, Number, cosd, direction, sind, tand


def involute_function(angle: Number) -> Number:
    """tan α − α in radians, of a pressure angle in degrees.

    >>> round(float(involute_function(20.0)), 6)
    0.014904
    """
    return np.asarray(tand(angle)) - np.deg2rad(angle)


@dataclass(frozen=True)
class Wheel:
    """A wheel of involute teeth, all lengths in mm, the pressure angle in degrees; addendum and dedendum in modules."""

    teeth: int
    module: float
    pressure_angle: float
    addendum: float = 1.0
    dedendum: float = 1.25

    @property
    def pitch(self) -> float:
        """The radius of the pitch circle."""
        return self.module * self.teeth / 2

    @cached_property
    def base(self) -> float:
        """The radius of the base circle."""
        return self.pitch * float(cosd(self.pressure_angle))

    @property
    def outside(self) -> float:
        """The radius of the outside circle."""
        return self.pitch + self.module * self.addendum

    @property
    def root(self) -> float:
        """The radius of the root circle."""
        return self.pitch - self.module * self.dedendum

    @property
    def string(self) -> float:
        """From the pitch point to where the line of action touches the base circle."""
        return self.pitch * float(sind(self.pressure_angle))

    def roll_at(self, radius: Number) -> Number:
        """The angle unwound, in degrees, where the involute stands so far from the centre; 0 within the base circle."""
        return np.degrees(np.sqrt(np.maximum((np.asarray(radius) / self.base) ** 2 - 1.0, 0.0)))

    @cached_property
    def first(self) -> float:
        """The direction in which the involute begins whose pitch point lies in direction 0, in degrees."""
        return self.pressure_angle - float(np.degrees(tand(self.pressure_angle)))

    def flank(self, roll: Number) -> Array:
        """The involute that passes the pitch point in direction 0, by the angle unwound, (…, 2); its tooth lies
        anticlockwise of it.

        >>> Wheel(20, 5, 20.0).flank(float(np.degrees(tand(20.0)))).round(9).tolist()
        [50.0, 0.0]
        """
        way = direction(self.first + np.asarray(roll))
        right = np.stack([way[..., 1], -way[..., 0]], axis=-1)
        return self.base * (way + np.asarray(np.deg2rad(roll))[..., None] * right)

    def lean(self, radius: float) -> float:
        """By how much the flank leans over its tooth at this radius, in degrees from the pitch point on."""
        at = float(np.degrees(np.arccos(self.base / radius)))
        return float(np.degrees(involute_function(at) - involute_function(self.pressure_angle)))

    @property
    def tip_thickness(self) -> float:
        """The arc of a tooth along the outside circle; under 0 where it is pointed before."""
        return 2 * self.outside * float(np.deg2rad(90.0 / self.teeth - self.lean(self.outside)))

    @property
    def arc_reach(self) -> float:
        """How far from the centre the arc gets that stands for a flank: about where the line of action touches the base
        circle."""
        return self.base + self.string

    @property
    def tip_excess(self) -> float:
        """By how much a tooth of arcs is thicker along the outside circle than a true one."""
        far, near, r = self.outside, self.base, self.string
        over = self.pressure_angle - float(np.degrees(np.arccos((far**2 + near**2 - r**2) / (2 * far * near))))
        return 2 * far * float(np.deg2rad(self.lean(far) - over))


@dataclass(frozen=True)
class Pair:
    """Two wheels in mesh."""

    one: Wheel
    two: Wheel

    @property
    def centres(self) -> float:
        """The distance of the centres."""
        return self.one.pitch + self.two.pitch

    @property
    def line(self) -> float:
        """The line of action from base circle to base circle."""
        return self.centres * float(sind(self.one.pressure_angle))

    def _tip(self, wheel: Wheel) -> float:
        """From where the line of action touches the wheel's base circle to where its outside circle cuts it."""
        return float(np.sqrt((wheel.outside - wheel.base) * (wheel.outside + wheel.base)))

    def beyond(self, wheel: Wheel) -> float:
        """From the pitch point to where contact ends at a wheel's tip, no farther than its mate's base circle."""
        return min(self._tip(wheel), self.line) - wheel.string

    @property
    def path_of_contact(self) -> float:
        return self.beyond(self.one) + self.beyond(self.two)

    @property
    def contact_ratio(self) -> float:
        """The path of contact over the base pitch.

        >>> round(Pair(Wheel(20, 5, 20.0), Wheel(32, 5, 20.0)).contact_ratio, 6)
        1.61224
        """
        return self.path_of_contact / (np.pi * self.one.module * float(cosd(self.one.pressure_angle)))

    @property
    def interference(self) -> str:
        """Which wheel the tips of its mate undercut: none, on 1, on 2 or both."""
        first, second = self._tip(self.two) > self.line, self._tip(self.one) > self.line
        return "both" if first and second else "on 1" if first else "on 2" if second else "none"
