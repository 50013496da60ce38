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
from wise_compass.drafting.givens import Choice, Real
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.wording import trim, trim_down, trim_up
from wise_compass.geometry.axonometry import axis_angles, scales_as, turn_and_tilt
from wise_compass.geometry.blocks import towards
from wise_compass.geometry.unfold import normal_of
from wise_compass.geometry.vectors import Array, direction, length

DRAWN = {
    "isometric": "isometric",
    "cavalier": "oblique, depths in full",
    "cabinet": "oblique, depths halved",
    "axonometric": "axonometric",
}
OBLIQUE = ("cavalier", "cabinet")
SCALES = {"true": "at true lengths", "isometric": "at the isometric scale", "own": "at its own scales"}
TERMS = ("scale_front", "scale_right", "scale_height")
ALIKE = 1e-9
"""Of a sum of squares: what is not over another by more is no triangle."""
LEAST = 0.1
"""The least scale of an axis on which anything is drawn."""
SHRUNK = float(np.sqrt(2 / 3))
"""Of a length along an axis that is seen as long as the other two: the isometric scale."""
NAMES = ("front", "right", "height")
ISOMETRIC = (150.0, 30.0)
"""The directions of front and right in an isometric."""


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


def axes_of(drawn: str, receding: float, scale: str, terms: Sequence[float] = (1.0, 1.0, 1.0)) -> Axes:
    """The axes of a way of drawing (ISO 5456-3); of an axonometric picture the scales are in the ratio of ``terms``,
    the largest of them drawn true where ``scale`` is so."""
    if drawn == "axonometric":
        scales = scales_as(terms)
        large = max(scales) if scale == "true" else 1.0
        front, right, height = (one / large for one in scales)
        return Axes(axis_angles(*turn_and_tilt(scales)), (front, right, height))
    if drawn == "isometric":
        one = SHRUNK if scale == "isometric" else 1.0
        return Axes((150.0, 30.0, 90.0), (one, one, one))
    return Axes((180.0, receding, 90.0), (1.0, 0.5 if drawn == "cabinet" else 1.0, 1.0))


def refuse_terms(terms: Mapping[str, float]) -> None:
    """Refuse a ratio of scales that no picture has."""
    name = max(terms, key=lambda one: terms[one])
    most = float(np.sqrt(sum(term**2 for one, term in terms.items() if one != name)))
    if terms[name] ** 2 >= most**2 * (1 - ALIKE):
        raise Refused(
            name,
            f"No picture has this ratio: the square of {name} has to be under the sum of the other two squares, so "
            f"that {name} is under {trim(most)}. Lower {name} to {trim_down(most * (1 - 1e-3))} or less.",
        )


class Trimetric(Figure):
    """Base of the pictures whose axes may lie as any thing that is turned and tilted shows them."""

    drawn: str
    scale: str
    scale_front = Real(1, "the scale along front of its own axes, as a term of their ratio", least=0.01, most=1000)
    scale_right = Real(2, "the scale along right, as a term of their ratio", least=0.01, most=1000)
    scale_height = Real(2, "the scale of heights, as a term of their ratio", least=0.01, most=1000)

    @property
    def terms(self) -> tuple[float, float, float]:
        return self.scale_front, self.scale_right, self.scale_height

    @staticmethod
    def says_axes(givens: Mapping[str, Any]) -> str:
        """How an axonometric picture’s sentence tells its axes."""
        return "{scale}, front to right to height as {scale_front} to {scale_right} to {scale_height}"

    def refuse_axes(self) -> None:
        """Refuse axes that are none, or on which a length is next to nothing."""
        if self.drawn != "axonometric":
            if self.scale == "own":
                raise Refused("scale", "Scales of its own are for drawn axonometric. Set scale to true.")
            return
        if self.scale == "isometric":
            raise Refused("scale", "The isometric scale is for the isometric. Set scale to own, or to true.")
        refuse_terms(dict(zip(TERMS, self.terms)))
        scales = scales_as(self.terms)
        name, least = min(zip(TERMS, scales), key=lambda one: one[1])
        if least < LEAST:
            others = sum(term**2 for one, term in zip(TERMS, self.terms) if one != name)
            need = float(np.sqrt(others * LEAST**2 / (2 - LEAST**2)))
            raise Refused(
                name,
                f"With these scales a length along {name[6:]} would be drawn at {trim(least)} of itself, under "
                f"{trim(LEAST)}. Raise {name} to {trim_up(need * (1 + 1e-6))} or more.",
            )

    @property
    def says_scale(self) -> str:
        """Why a size is not laid off as it is; empty where it is."""
        if self.drawn == "axonometric":
            return "times the scale of its axis"
        return "times √(2/3), the isometric scale" if self.scale == "isometric" else ""


class OnAxes(Trimetric):
    """Base of the pictures that may be isometric, oblique or axonometric."""

    drawn = Choice("isometric", "how it is drawn", tuple(DRAWN), DRAWN)
    receding = Choice(
        "45", "the angle at which depths recede", ("30", "45", "60"), {"30": "30°", "45": "45°", "60": "60°"}
    )
    scale = Choice("true", "the scale of its axes", tuple(SCALES), SCALES)

    opens: ClassVar[str] = ""

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        drawn = givens.get("drawn", "isometric")
        how = "{scale}" if drawn == "isometric" else "depths receding at {receding}"
        how = cls.says_axes(givens) if drawn == "axonometric" else how
        return f"{cls.opens}, drawn {{drawn}}, {how}. Found with {{method}}."

    def refuse(self) -> None:
        if self.scale == "isometric" and self.drawn in OBLIQUE:
            raise Refused(
                "scale",
                "An oblique picture has true lengths in front: scale isometric "
                "is for the isometric. Set scale to true.",
            )
        self.refuse_axes()

    @cached_property
    def axes(self) -> Axes:
        return axes_of(self.drawn, float(self.receding), self.scale, self.terms)


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
        elif self.axes.angles[:2] != ISOMETRIC:
            self._turned_axes(corner, reach)
            return
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

    def _turned_axes(self, corner: Spot, reach: Sequence[float]) -> None:
        """Axes at angles of their own, set by the protractor."""
        d, (left, right, _) = self.d, self.axes.angles
        left = 180.0 - left
        exchanged = d.choice(
            "angles-exchanged",
            right=False,
            slip=True,
            says="The angle of the left axis is set at the right, and that of the right at the left.",
            when=abs(left - right) > 1.0,
        )
        words = f"Draw three axes from it: upright, at {trim(left)}° to the left and at {trim(right)}° to the right."
        angles = (180.0 - right, left, 90.0) if exchanged else self.axes.angles
        with d.as_one("Protractor", words, Setting(left, "°"), Setting(right, "°")):
            for k, angle in enumerate(angles):
                way = "Protractor" if k < 2 else "Set square"
                self.lines[k] = d.ray(corner, angle, length=reach[k] * self.axes.scales[k], instrument=way)

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
        why = "half of it" if scale == 0.5 and not self.why else self.why
        if scale == 1.0:
            why = ""
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
