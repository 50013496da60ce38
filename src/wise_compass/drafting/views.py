"""Two views of a thing in space, laid out on one sheet by first- or third-angle projection (ISO 5456-2).

In both the front view has z upward and the top view has what lies further back higher up. In first angle the top view
stands below the reference line and distances are taken from the planes of projection; in third angle it stands above,
and distances are taken from datum levels ``height`` above the horizontal plane and ``depth`` in front of the vertical.
"""

from __future__ import annotations

from typing import NamedTuple

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.recorder import Conventions
from wise_compass.geometry.vectors import Array, Number, point, point3


class TwoViews(NamedTuple):
    """Where the views lie. ``height`` and ``depth`` are 0 in first angle."""

    conventions: Conventions
    height: float = 0.0
    depth: float = 0.0

    @classmethod
    def around(cls, conventions: Conventions, most_z: float, most_y: float, room: float) -> TwoViews:
        """Views of something that reaches ``most_z`` up and ``most_y`` forward, with ``room`` beside the line."""
        if conventions.projection == "first":
            return cls(conventions)
        return cls(conventions, most_z + room, most_y + room)

    def front(self, x: Number, z: Number) -> Array:
        """The front view's sheet point."""
        return point(x, z - self.height)

    def top(self, x: Number, y: Number) -> Array:
        """The top view's sheet point."""
        return point(x, self.depth - y)

    def solid(self, front: Array, top: Array) -> Array:
        """The point in space that two views fix; x is read off the top view."""
        return point3(top[..., 0], self.depth - top[..., 1], front[..., 1] + self.height)

    def front_name(self, letter: str) -> str:
        return f"{letter.lower()}'" if self.conventions.lettering == "primes" else f"{letter.lower()}2"

    def top_name(self, letter: str) -> str:
        return letter.lower() if self.conventions.lettering == "primes" else f"{letter.lower()}1"

    def reference_line(self, d: Draft, start: Spot, left: float, right: float) -> LineMark:
        """The line that the planes fold on, and in third angle the levels that distances are taken from."""
        line = d.level_from(start, "Draw the reference line level.", role=Role.REFERENCE)
        line.lo, line.hi = left, right
        if self.height:
            with d.as_one("Set square", "Draw the ground level in the front view and the line of the wall in the top view."):
                for spot in (self.front(0.0, 0.0), self.top(0.0, 0.0)):
                    level = d.level_from(d.also("", spot, "plain"), role=Role.CENTRE)
                    level.lo, level.hi = left, right
        return line
