"""A ruled saddle over an elliptical plan: straight elements both ways between four edges, produced to the ellipse."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.capabilities import Curved, InViews
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.geometry.curves import Curve, ellipse_curve
from wise_compass.geometry.vectors import Array, Number, angle_between, cosd, distance, point, sind

GAP, BEYOND = 18.0, 6.0
RINGS = 12


class Saddle(Curved, InViews, Figure, id="saddle", family="structural", title="Ruled saddle"):
    keys = (
        "A",
        "A.*",
        "A.top",
        "B",
        "B.*",
        "B.top",
        "C",
        "C.*",
        "D",
        "D.*",
        "N",
        "O.front",
        "P*",
        "Q",
        "V.front",
        "W*.front",
        "X.front",
        "X.top",
        "Y.front",
        "Y.top",
    )
    brief = (
        "A saddle over an ellipse {long} by {wide}, its ends on the ground and its "
        "sides {height} up, {elements} parts to an edge. "
        "Found with {method}."
    )
    summary = (
        "A roof of straight boards that is hollow both ways: plan, elevation, the "
        "section’s true curve, the edges’ shortest distance."
    )
    value_names = ("centre_height", "skew_distance", "skew_angle", "section_radius", "edge_length")
    ways = ("elements",)

    long = Length(120, "the long axis of the plan, between the ends A and C on the ground")
    wide = Length(84, "the short axis, between the sides B and D")
    height = Length(40, "how high B and D are")
    elements = Count(6, "the parts of each edge", 3, 16)

    @property
    def half(self) -> tuple[float, float]:
        """Half of either axis."""
        return self.long / 2, self.wide / 2

    def rim_turn(self, number: int) -> float:
        """Where on the circle about the long axis the end of an element comes to lie, in degrees; ``elements`` to a
        quarter."""
        quarter, k = divmod(number, self.elements)
        return 90.0 * quarter + 45.0 - float(np.degrees(np.arcsin((1 - 2 * k / self.elements) / np.sqrt(2.0))))

    def rim(self, number: int) -> Array:
        """The place of an element's end, in space."""
        a, b = self.half
        turn = self.rim_turn(number)
        return np.array([a * float(cosd(turn)), -b * float(sind(turn)), self.height * float(sind(turn)) ** 2])

    def over(self, at: Array) -> Array:
        """The height of the surface over places of the plan, (…, 2)."""
        a, b = self.half
        return np.asarray(self.height / 2 * (1 + (at[..., 1] / b) ** 2 - (at[..., 0] / a) ** 2))

    def values(self, method: str) -> Iterable[Value]:
        (a, b), h = self.half, self.height
        la, lb, lh = bare(a), bare(b), bare(h)
        yield Value("centre_height", h / 2, "mm", f"{lh} / 2", ("V.front",))
        yield Value(
            "skew_distance",
            2 * a * b / float(np.hypot(a, b)),
            "mm",
            f"2 × {la} × {lb} / √({la}² + {lb}²)",
            ("X.top", "Y.top"),
        )
        flat, up = a * a + b * b, h * h
        angle = float(np.degrees(np.arctan2(2 * h * np.sqrt(flat), abs(flat - up))))
        yield Value(
            "skew_angle",
            angle,
            "°",
            f"arctan(2 × {lh} × √({la}² + {lb}²) / |{la}² + {lb}² − {lh}²|)",
            ("X.top", "Y.top"),
        )
        yield Value("section_radius", b * b / h, "mm", f"{lb}² / {lh}", ("N", "Q"))
        yield Value("edge_length", float(np.sqrt(flat + up)), "mm", f"√({la}² + {lb}² + {lh}²)", ("A.3", "B.3"))

    def measure(self, found: Found) -> dict[str, Number]:
        angle = np.asarray(angle_between(found["B.3"] - found["A.3"], found["D.3"] - found["C.3"]))
        return {
            "centre_height": found["V.front"][..., 1] - found["O.front"][..., 1],
            "skew_distance": distance(found["X.top"], found["Y.top"]),
            "skew_angle": np.minimum(np.abs(angle), 180.0 - np.abs(angle)),
            "section_radius": np.asarray(distance(found["N"], found["Q"])) / 2,
            "edge_length": distance(found["A.3"], found["B.3"]),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        n = self.elements
        at = found.together([f"P{k}" for k in range(4 * n)])
        want = np.array([self.rim(k) for k in range(4 * n)])
        a, b = self.half
        yield Truth(
            "Every element’s end stands on the ellipse in plan", np.hypot(at[..., 0] / a, at[..., 1] / b) * b - b
        )
        yield Truth("Every element’s end lies on the saddle", at[..., 2] - self.over(at[..., :2]))
        yield Truth("All ends are where the elements are produced to", at - want)
        edges = [found["B"] - found["A"], found["C"] - found["B"], found["D"] - found["C"], found["A"] - found["D"]]
        yield Truth(
            "All four edges are as long",
            np.array([float(np.sqrt((edge**2).sum())) for edge in edges]) - np.sqrt(a * a + b * b + self.height**2),
        )
        gap = found["Y.top"] - found["X.top"]
        along = found["B.top"] - found["A.top"]
        yield Truth("The shortest line stands square to both edges", (gap @ along) / float(np.hypot(*along)))
        level = [found[name][..., 1] for name in ("X.front", "Y.front")]
        yield Truth("And it is level", level[1] - level[0])
        wrapped = found.together([f"W{k}.front" for k in range(1, n)])
        x = wrapped[..., 0] - found["O.front"][..., 0:1]
        yield Truth(
            "The elements wrap the section through A and C",
            wrapped[..., 1] - found["O.front"][..., 1:2] - self.over(np.stack([x, 0 * x], axis=-1)),
        )

    def courses(self, method: str) -> Sequence[Course]:
        """The plan's ellipse, the rim in the elevation, the curve that the elements wrap, and the section."""
        (a, b), h, n = self.half, self.height, self.elements
        ends = [self.rim(k) for k in range(2 * n + 1)]
        across = [(self.rim(k), self.rim(3 * n - k)) for k in range(1, n)]
        levels = [p[0] + (q[0] - p[0]) * p[1] / (p[1] - q[1]) for p, q in across]  # where an element crosses an axis
        depths = [p[1] + (q[1] - p[1]) * p[0] / (p[0] - q[0]) for p, q in across]
        plan = tuple(f"P{k}.top" for k in range(4 * n))
        turns = np.array([self.rim_turn(k) for k in range(4 * n)])
        named: tuple[tuple[str, Curve, list[float], list[str]], ...] = (
            (
                "the rim in the elevation",
                _bow(a, h, -h / a**2),
                [x for x, _, _ in ends],
                [f"P{k}.front" for k in range(2 * n + 1)],
            ),
            (
                "the curve that the elements wrap",
                _bow(a, h / 2, -h / 2 / a**2),
                [a, *levels, -a],
                ["A.front", *(f"W{k}.front" for k in range(1, n)), "C.front"],
            ),
            (
                "the section",
                _bow(b, h / 2, h / 2 / b**2),
                [b, *depths, -b],
                ["D.4", *(f"S{k}.4" for k in range(1, n)), "B.4"],
            ),
        )
        return (
            Course(
                "the ellipse of the plan",
                ellipse_curve(point(a, 0.0), point(0.0, b)),
                turns,
                plan,
                turn="eccentric angle",
                afloat=True,
            ),
            *(Course(says, curve, np.array(at), tuple(keys), afloat=True) for says, curve, at, keys in named),
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        a, _ = self.half
        low = found["O.front"]
        yield Linear(low - point(a, 0.0), low + point(a, 0.0), "long", self.long)
        foot = found["O.front"] - point(a, 0.0)
        yield Linear(foot, foot + point(0.0, self.height), "height", self.height, side=1)
        middle, half = found["O.top"], point(0.0, self.wide / 2)
        yield upright(middle - half, middle + half, "wide", self.wide, past=middle - point(a, 0.0))

    def body(self, names: Sequence[str]) -> Sequence[Sequence[str]]:
        n = self.elements
        if f"P{4 * n - 1}" not in names:
            return ()
        lines = [[f"P{k}", f"P{3 * n - k}"] for k in range(n + 1)]
        lines += [[f"P{n + k}", f"P{(4 * n - k) % (4 * n)}"] for k in range(n + 1)]
        rim = [[f"P{k}", f"P{(k + 1) % (4 * n)}"] for k in range(4 * n)]
        return [*lines, *rim]


def _bow(reach: float, crown: float, bend: float) -> Curve:
    """The parabola ``crown`` + ``bend`` x² over ± ``reach``, by x."""
    return Curve(
        lambda x: point(x, crown + bend * np.asarray(x, dtype=float) ** 2),
        lambda x: point(1.0 + 0.0 * np.asarray(x), 2 * bend * np.asarray(x, dtype=float)),
        lambda x: point(0.0 * np.asarray(x), 2 * bend + 0.0 * np.asarray(x)),
        -reach,
        reach,
        per=1.0,
    )
