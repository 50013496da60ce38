"""The isometric scale: true lengths and how long an isometric axis shows them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.pictorial.axes import SHRUNK
from wise_compass.geometry.vectors import Number, angle_of, cosd, distance

TENS, MOST = 10.0, 60
"""mm between two marks of the scale, and how many there may be."""


class IsometricScale(Figure, id="isometric-scale", family="pictorial", title="Isometric scale"):
    keys = ("A", "B", "K*", "O")
    brief = "How long an isometric axis shows a length of {length}, found with {method}."
    summary = "A scale to draw isometrics by: true lengths at 45°, brought down to 30°."
    value_names = ("drawn",)
    ways = ("two-angles",)

    length = Length(100, "the true length")

    def values(self, method: str) -> Iterable[Value]:
        ratio = float(cosd(45.0)) / float(cosd(30.0))
        yield Value("drawn", self.length * ratio, "mm", f"{bare(self.length)} × cos 45° / cos 30°", ("O", "B"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"drawn": distance(found["O"], found["B"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        """An axis leans so that it is seen as long as two others square to it: the squares of all three are together
        twice one."""
        o, a, b = (found[name] for name in "OAB")
        yield Truth(
            "The scale is as long as an axis that is seen as long as two others square to it",
            distance(o, b) - self.length * SHRUNK,
        )
        yield Truth("True lengths run at 45°", angle_of(a - o) - 45.0, "°")
        yield Truth("The scale runs at 30°", angle_of(b - o) - 30.0, "°")
        marks = [found[name] for name in found.names("K")]
        if marks:
            yield Truth(
                "Its marks are as far apart",
                np.array([distance(at, o) - SHRUNK * TENS * (k + 1) for k, at in enumerate(marks)]),
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["O"], found["A"], "length", self.length, side=1)


@method(
    IsometricScale,
    "two-angles",
    about="True lengths on a line at 45°, dropped upright to one at 30°.",
    source="Isometric projection: equal inclination of three axes; cos 45° / cos 30° = √(2/3)",
)
def two_angles(g: IsometricScale, d: Draft) -> None:
    steep, flat = d.choice(
        "lines-exchanged",
        right=(45.0, 30.0),
        slip=(30.0, 45.0),
        says="True lengths laid off on the line of 30°: the scale enlarges.",
    )
    with d.phase("Two lines"):
        start = d.start_at("O", says="Mark O, where the scale begins.")
        d.level_from(start, "Draw level from O.", length=g.length * float(cosd(30.0)))
        true = d.ray(start, steep, "From O draw the line of true lengths.", length=g.length)
        scale = d.ray(start, flat, "And the line of the scale.", length=g.length * float(cosd(30.0)))
    count = int(g.length / TENS + 1e-9)
    with d.phase("True lengths"):
        end = d.lay_off(true, start, g.length, "A", "Lay off the true length: A.")
        tens = []
        if 0 < count <= MOST:
            with d.as_one("Rule", "Mark every ten millimetres of it."):
                tens = [d.lay_off(true, start, TENS * (k + 1), f"T{k + 1}", kind="plain") for k in range(count)]
    with d.phase("The scale"):
        drop = d.upright_from(end, "Drop upright from A.")
        far = d.meet(drop, scale, "B")
        if tens:
            with d.as_one("Set square", "Drop every mark."):
                marks = [
                    d.meet(
                        d.upright_from(spot),
                        scale,
                        f"K{k + 1}",
                        kind="found" if k == 0 or (k + 1) % 5 == 0 else "plain",
                    )
                    for k, spot in enumerate(tens)
                ]
                del marks
        d.line_in([start, far], says="Line in the scale.")
    d.label("isometric", start, far)
    d.label("true", start, end)
