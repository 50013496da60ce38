"""What pictures on three axes share: how their axes lie, how a size is laid off along one, and boxes in space.

A place of the thing is told by how far it is from the nearest, lowest corner along *front*, *right* and *height*.

``figures/pictorial/axes.py`` has the axes of a picture and what a hand does along them. Places of the thing are told
along *front, right, height* from its nearest, lowest corner; ``in_space`` turns them into the space view's own frame.
``ends.py`` is what prisms and round solids share: a near and a far end, found by offsets from an auxiliary true view.
``perspectives.py`` knows which line leads into the picture, since a line whose upright plane holds the eye is seen as
an upright and crosses none.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property, lru_cache
from typing import Any, ClassVar, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Face, Picture
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Choice
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.blocks import towards
from wise_compass.geometry.unfold import normal_of
from wise_compass.geometry.vectors import Array, direction, length

DRAWN = {"isometric": "isometric", "cavalier": "oblique, depths in full", "cabinet": "oblique, depths halved"}
SCALES = {"true": "at true lengths", "isometric": "at the isometric scale"}
SHRUNK = float(np.sqrt(2 / 3))
"""Of a length along an axis that is seen as long as the other two: the isometric scale."""
NAMES = ("front", "right", "height")


class Axes(NamedTuple):
    """The three axes of a picture: the direction of each on the sheet in degrees, and how long a mm of it is drawn."""

    angles: tuple[float, float, float]
    scales: tuple[float, float, float]

    @property
    def vectors(self) -> Array:
        """A mm along front, right and height as it is drawn, (3, 2)."""
        return _vectors(self)

    def at(self, places: Array) -> Array:
        """Where places (…, 3) are drawn, (…, 2)."""
        return np.asarray(places @ self.vectors)


@lru_cache(maxsize=64)
def _vectors(axes: Axes) -> Array:
    found = np.array([scale * direction(angle) for angle, scale in zip(axes.angles, axes.scales)])
    found.flags.writeable = False
    return found


def axes_of(drawn: str, receding: float, scale: str) -> Axes:
    """The axes of a way of drawing (ISO 5456-3)."""
    if drawn == "isometric":
        one = SHRUNK if scale == "isometric" else 1.0
        return Axes((150.0, 30.0, 90.0), (one, one, one))
    return Axes((180.0, receding, 90.0), (1.0, 0.5 if drawn == "cabinet" else 1.0, 1.0))


class OnAxes(Figure):
    """Base of the pictures that may be isometric or oblique."""

    drawn = Choice("isometric", "how it is drawn", tuple(DRAWN), DRAWN)
    receding = Choice(
        "45", "the angle at which depths recede", ("30", "45", "60"), {"30": "30°", "45": "45°", "60": "60°"}
    )
    scale = Choice("true", "the scale of its axes", tuple(SCALES), SCALES)

    opens: ClassVar[str] = ""

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        how = "{scale}" if givens.get("drawn", "isometric") == "isometric" else "depths receding at {receding}"
        return f"{cls.opens}, drawn {{drawn}}, {how}. Found with {{method}}."

    def refuse(self) -> None:
        if self.scale == "isometric" and self.drawn != "isometric":
            raise Refused(
                "scale",
                "An oblique picture has true lengths in front: scale isometric "
                "is for the isometric. Set scale to true.",
            )

    @cached_property
    def axes(self) -> Axes:
        return axes_of(self.drawn, float(self.receding), self.scale)

    @property
    def says_scale(self) -> str:
        """Why a size is not laid off as it is; empty where it is."""
        return "times √(2/3), the isometric scale" if self.scale == "isometric" else ""


class Hand:
    """A picture on the way: lines along the axes, and sizes laid off on them."""

    def __init__(self, axes: Axes, d: Draft, why: str = "") -> None:
        self.axes, self.d, self.why = axes, d, why
        self.lines: dict[int, LineMark] = {}

    def three_axes(self, corner: Spot, reach: Sequence[float]) -> None:
        """The three axes from the nearest corner: a Y, as far as they are needed."""
        d = self.d
        words = "Draw three axes from it: upright, and to the left and the right at 30°."
        if self.axes.angles[0] == 180.0:
            words = "Draw three axes from it: level to the left, upright, and the one that recedes."
        squares = d.choice(
            "other-corner",
            right=0.0,
            slip=30.0,
            says="The 60° corner of the set square taken for that of 30°.",
            when=self.axes.angles[0] != 180.0,
        )
        with d.as_one("Set square", words):
            for k, angle in enumerate(self.axes.angles):
                lean = squares * (1 if k == 1 else -1) if k < 2 else 0.0
                self.lines[k] = d.ray(corner, angle + lean, length=reach[k] * self.axes.scales[k])

    def off(
        self,
        axis: int,
        start: Spot,
        size: float,
        name: str,
        says: str = "",
        kind: str = "found",
        line: LineMark | None = None,
    ) -> Spot:
        """A size laid off along an axis, or a line that runs as it does, as long as the picture draws it."""
        words = says or f"Lay off {NAMES[axis]}: {name}."
        scale = self.axes.scales[axis]
        why = "half of it" if scale == 0.5 else self.why
        return self.d.lay_off(line or self.lines[axis], start, size * scale, name, words, why, kind)

    def along(self, axis: int, start: Spot, says: str = "", role: Role = Role.CONSTRUCTION) -> LineMark:
        """A line through a spot as an axis runs."""
        return self.d.parallel_to(self.lines[axis], start, says, role=role)


def in_space(places: Array) -> Array:
    """Places (…, 3) along front, right and height as the space view has them: to the right, to the front, up.

    The nearest corner stands at the origin, before the eye's own left.
    """
    return np.stack([places[..., 1], -places[..., 0], places[..., 2]], axis=-1)


CORNERS = np.array(
    [[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [0, 0, 1], [1, 0, 1], [1, 1, 1], [0, 1, 1]], dtype=float
)
"""Of a block: A, B, C, D below from the nearest on by way of front, E to H above them."""
EDGES = ("AB", "AD", "AE", "BF", "DH", "EF", "EH", "FG", "HG")
"""Those that are seen; C is behind."""
BEHIND = ("CB", "CD", "CG")


def block_faces(size: Sequence[float], corner: Array | None = None) -> list[Face]:
    """The six faces of a block in the space view."""
    places = in_space((np.zeros(3) if corner is None else corner) + CORNERS * np.array(size))
    return [
        Face(places[list(face)])
        for face in ((0, 4, 5, 1), (0, 3, 7, 4), (4, 7, 6, 5), (0, 1, 2, 3), (1, 5, 6, 2), (3, 2, 6, 7))
    ]


def true_length(at: Array, axes: Axes, axis: int) -> Any:
    """The true length of an axis's edge as it was drawn, (…, 2)."""
    return np.asarray(length(at)) / axes.scales[axis]


def parallel_picture(axes: Axes, start: Array) -> Picture:
    """A picture on three axes, the nearest lowest corner being drawn at ``start``."""
    sight = in_space(towards(axes.vectors))

    def back(places: Array) -> Array:
        return np.stack([-places[..., 1], places[..., 0], places[..., 2]], axis=-1)

    return Picture(lambda p: start + axes.at(back(p)), lambda p: sight, lambda p: np.asarray(p @ sight))


def turned_outward(faces: Sequence[Face]) -> list[Face]:
    """The faces of a convex solid of the space view, all anticlockwise as seen from outside, where y runs to the
    front."""
    middle = np.concatenate([face.corners for face in faces]).mean(axis=0)
    found = []
    for face in faces:
        inward = float(normal_of(face.corners) @ (face.corners.mean(axis=0) - middle)) > 0
        found.append(face._replace(corners=face.corners[::-1] if inward else face.corners))
    return found
