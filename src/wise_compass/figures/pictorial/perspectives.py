"""A block in perspective, from its plan, the eye and the picture plane."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Face, Picture, Pictured, Solid
from wise_compass.drafting.dimensions import Dimension, Leader, Linear, from_level, level, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.pictorial.axes import CORNERS, block_faces
from wise_compass.geometry.vectors import Array, Number, cosd, direction, distance, length, point, sind, tand

FAR = 450.0
"""mm from the centre of vision beyond which a vanishing point is off most boards."""
FURTHEST = 5000.0
"""Where no line is drawn to it any more."""
NEAR = 1e-9
"""Of the eye's distance: a side that is seen under less than this is seen on edge."""
EDGE_ON = 0.05
"""Of two lines of one side, how near the eye's own plane the nearer may run beside the other, before the other
leads."""
CORNER = {"A": 0, "B": 1, "C": 2, "D": 3}
PANE = 8.0
"""By how much the pane in space is larger than the picture on it."""
GAP = 16.0
"""Between the eye in plan and the picture."""


class PerspectiveBlock(
    Solid, Pictured, Figure, id="perspective-block", family="pictorial", title="Block in perspective"
):
    keys = ("A", "B", "C", "D", "E", "F", "G", "H", "O", "S", "a", "b", "c", "d")
    brief = (
        "A block {front} by {right} and {height} high, its right side at {angle} to the picture "
        "plane, its nearest corner {aside} to the right of "
        "the centre of vision and {behind} behind the plane; the eye {distance} before "
        "it and {eye_height} up. Found with {method}."
    )
    summary = (
        "A mill from the road: one point or two, by vanishing points, by visual "
        "rays from the plan, or by measuring points."
    )
    value_names = (
        *("vanishing_left", "vanishing_right", "measuring_left", "measuring_right"),
        *("near_edge", "picture_width", "picture_height"),
    )
    ways = ("vanishing-points", "visual-rays", "measuring-points")

    front = Length(60, "the side that runs back to the left")
    right = Length(80, "the side that runs back to the right")
    height = Length(50, "the height")
    angle = Angle(35, "how its right side stands to the picture plane; 0 is one-point perspective", least=0, under=90)
    distance = Length(150, "how far the eye is from the picture plane", least=1)
    eye_height = Length(70, "how high the eye is over the ground")
    aside = Length(10, "how far the nearest corner stands to the right of the centre of vision", least=-2000)
    behind = Length(15, "how far it stands behind the picture plane", least=0)

    @property
    def one_point(self) -> bool:
        """Whether the right side is parallel to the picture plane."""
        return self.angle <= 1e-9

    # the plan, seen from above: the picture plane is y = 0, the centre of vision its origin

    @property
    def nearest(self) -> Array:
        return point(self.aside, self.behind)

    @property
    def ways_back(self) -> tuple[Array, Array]:
        """The directions in plan in which front and right run back."""
        return direction(90.0 + self.angle), direction(self.angle)

    @property
    def corners(self) -> Array:
        """The corners A to H in space: across, behind the picture plane, over the ground, (8, 3)."""
        front, right = self.ways_back
        flat = self.nearest + CORNERS[:, :1] * self.front * front + CORNERS[:, 1:2] * self.right * right
        return np.concatenate([flat, CORNERS[:, 2:] * self.height], axis=1)

    def seen(self, places: Array) -> Array:
        """Where places of space are drawn, from the centre of vision on the horizon: the ray to the eye meets the
        plane."""
        near = self.distance / (self.distance + places[..., 1])
        return np.stack([places[..., 0] * near, (places[..., 2] - self.eye_height) * near], axis=-1)

    @cached_property
    def leads(self) -> tuple[str, str, str]:
        """The line that leads into the picture: whether it runs with the left or the right side, and its near and far
        corner.

        A line whose upright plane has the eye in it is seen as an upright, and gives no crossing with one. Of each side
        at most one of two lines is so; the side that has it leads, by its other line.
        """
        clear = {}
        for side, starts in (("left", "AD"), ("right", "AB")):
            at = self.vanishing(side)
            if at is not None:
                clear[side] = [abs(self._foot(side, start) - at) for start in starts]
        if len(clear) == 1:
            side = "left"
        else:
            flat = {one: min(offs) / max(*offs, NEAR) for one, offs in clear.items()}
            side = (
                min(flat, key=lambda one: flat[one])
                if min(flat.values()) < EDGE_ON
                else ("right" if self.angle > 45.0 else "left")
            )
        first = clear[side][0] >= clear[side][1] * EDGE_ON
        lines = {"left": ("AB", "DC"), "right": ("AD", "BC")}[side]
        line = lines[0] if first else lines[1]
        return side, line[0], line[1]

    @property
    def led(self) -> list[str]:
        """The corners along the line that leads into the picture, but the one that stands in the plane itself."""
        _, near, far = self.leads
        return [far] if self.behind == 0.0 and near == "A" else [near, far]

    @property
    def follow(self) -> list[tuple[str, str]]:
        """The corners of the line that follows, each with that of the leading one which it is joined to by the other
        side."""
        side, near, far = self.leads
        across = {"left": {"A": "D", "B": "C"}, "right": {"A": "B", "D": "C"}}[side]
        across |= {there: here for here, there in across.items()}
        return [(across[near], near), (across[far], far)]

    def _foot(self, side: str, start: str) -> float:
        """Where a line of a side through a corner of the plan, produced, cuts the picture plane."""
        front, right = self.ways_back
        way = front if side == "left" else right
        at = self.corners[CORNER[start], :2]
        return float(at[0] - at[1] * way[0] / way[1])

    @property
    def shown(self) -> list[tuple[str, str]]:
        """The edges of a side that the eye sees, by the letters of their ends."""
        front, right = self.ways_back
        eye = point(0.0, -self.distance)
        far = self.corners[2, :2]
        # each side's letters below and above, its outward direction, and a place of it
        sides = (
            ("ABFE", -right, self.nearest),
            ("ADHE", -front, self.nearest),
            ("BCGF", front, far),
            ("DCGH", right, far),
        )
        loops = [loop for loop, out, at in sides if float(out @ (eye - at)) > NEAR * self.distance]
        loops += ["EFGH"] if self.eye_height > self.height else []
        pairs = {tuple(sorted(pair)) for loop in loops for pair in zip(loop, loop[1:] + loop[0])}
        return sorted((pair[0], pair[1]) for pair in pairs)

    @property
    def horizon(self) -> float:
        """The level of the picture's horizon on the sheet: the picture lies below the eye of the plan."""
        high = max(float(self.seen(self.corners)[:, 1].max()), 0.0)
        return -self.distance - GAP - high

    # what is told

    def vanishing(self, side: str) -> float | None:
        """Where the lines of the left or the right side run to, from the centre of vision; None where they never do."""
        if side == "left":
            return -self.distance * float(tand(self.angle)) + 0.0
        return None if self.one_point else self.distance / float(tand(self.angle))

    def measuring(self, side: str) -> float | None:
        """The measuring point that serves a vanishing point: as far from it as the eye is."""
        at = self.vanishing(side)
        if at is None:
            return None
        reach = self.distance / float(cosd(self.angle) if side == "left" else sind(self.angle))
        return at + reach if side == "left" else at - reach

    def values(self, method: str) -> Iterable[Value]:
        d, turn = bare(self.distance), trim(self.angle)
        marks = {"vanishing-points": ("VL", "VR"), "measuring-points": ("VL", "VR")}.get(method, ("", ""))
        none = "none: the right side is parallel to the picture plane"

        def lit(name: str) -> tuple[str, ...]:
            return (name,) if name in marks and not (name == "VR" and self.one_point) else ()

        yield Value("vanishing_left", self.vanishing("left"), "mm", f"−{d} × tan {turn}°", lit("VL"))
        yield Value(
            "vanishing_right",
            self.vanishing("right"),
            "mm",
            none if self.one_point else f"{d} / tan {turn}°",
            lit("VR"),
        )
        yield Value("measuring_left", self.measuring("left"), "mm", f"{d} / cos {turn}° − {d} × tan {turn}°")
        words = none if self.one_point else f"{d} / tan {turn}° − {d} / sin {turn}°"
        yield Value("measuring_right", self.measuring("right"), "mm", words)
        near = f"{d} / ({d} + {bare(self.behind)})"
        yield Value(
            "near_edge",
            self.height * self.distance / (self.distance + self.behind),
            "mm",
            f"{bare(self.height)} × {near}",
            ("A", "E"),
        )
        at = self.seen(self.corners)
        size = np.ptp(at, axis=0)
        words = f"of eight corners, each its distance from the middle × {d} / ({d} + its depth), given"
        yield Value("picture_width", float(size[0]), "mm", words)
        yield Value("picture_height", float(size[1]), "mm", words)

    def measure(self, found: Found) -> dict[str, Number]:
        at = np.stack(np.broadcast_arrays(*(found[name] for name in "ABCDEFGH")), axis=-2)
        size = at.max(axis=-2) - at.min(axis=-2)
        out: dict[str, Number] = {
            "near_edge": distance(found["A"], found["E"]),
            "picture_width": size[..., 0],
            "picture_height": size[..., 1],
        }
        for name, key in (
            ("vanishing_left", "VL"),
            ("vanishing_right", "VR"),
            ("measuring_left", "ML"),
            ("measuring_right", "MR"),
        ):
            if key in found:
                out[name] = found[key][..., 0] - found["O"][..., 0]
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        horizon = point(0.0, self.horizon)
        want = self.seen(self.corners) + horizon
        at = np.array([found[name] for name in "ABCDEFGH"])
        yield Truth("Every corner is drawn where its ray to the eye meets the picture plane", at - want)
        plan = np.array([found[name] for name in "abcd"])
        yield Truth("The plan stands as the givens have it", plan - self.corners[:4, :2])
        for name, key, side in (
            ("vanishing", "VL", "left"),
            ("vanishing", "VR", "right"),
            ("measuring", "ML", "left"),
            ("measuring", "MR", "right"),
        ):
            told = self.vanishing(side) if name == "vanishing" else self.measuring(side)
            if key in found and told is not None:
                off = found[key] - horizon - point(told, 0.0)
                yield Truth(f"The {side} {name} point stands where it has to", off)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(found["S"], found["O"], "distance", self.distance, side=1)
        for ends, name, size, side in (("ab", "front", self.front, 1), ("ad", "right", self.right, -1)):
            yield Linear(found[ends[0]], found[ends[1]], name, size, side=side)
        near, o = found["a"], found["O"]
        yield from told(
            [
                from_level(near, self.angle, "angle"),
                level(o, near, "aside", abs(self.aside), side=1),
                upright(o, near, "behind", self.behind),
            ]
        )
        ground = self.horizon - self.eye_height
        yield upright(point(0.0, ground), point(0.0, self.horizon), "eye_height", self.eye_height)
        if "T" in found:
            trace = point(float(found["T"][0]), ground)
            yield upright(trace, trace + point(0.0, self.height), "height", self.height, -1)
        else:
            yield Leader(found["E"], "height", self.height, "height ")

    def cautions(self) -> Iterable[str]:
        for side in ("left", "right"):
            at = self.vanishing(side)
            if at is not None and abs(at) > FAR:
                yield (
                    f"The {side} vanishing point lies {mm(abs(at))} from the centre of vision: the "
                    "sheet has to be that wide. Choose visual-rays, "
                    "or draw the lines that run to it by a proportional scale: divide the near edge "
                    "and an upright as far off as the board allows."
                )

    # the block with its corner A as the origin, as the space view shows it: x along the right side, y against the front

    def _settled(self, places: Array) -> Array:
        """Places of space, as the plan has them, from the corner A along the sides of the block."""
        front, right = self.ways_back
        off = places[..., :2] - self.nearest
        return np.stack([off @ right, -(off @ front), places[..., 2]], axis=-1)

    @property
    def eye(self) -> Array:
        """The eye, from the corner A along the sides of the block."""
        return self._settled(np.array([0.0, -self.distance, self.eye_height]))

    def beside(self, method: str = "") -> Sequence[Array]:
        """The pane that is the picture plane, a ray from the eye to every corner, and the picture where the rays cut
        the pane."""
        eye, at = self.eye, self.seen(self.corners)
        low = np.minimum(at.min(axis=0) + [0.0, self.eye_height], 0.0) - PANE
        high = np.maximum(at.max(axis=0) + [0.0, self.eye_height], [0.0, self.eye_height]) + PANE
        round_ = [(low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1]), (low[0], low[1])]
        pane = self._settled(np.array([(x, 0.0, z) for x, z in round_]))
        rays = [np.array([eye, corner]) for corner in self._settled(self.corners)]
        cuts = self._settled(np.stack([at[:, 0], np.zeros(8), at[:, 1] + self.eye_height], axis=1))
        letters = "ABCDEFGH"
        return [pane, *rays, *(cuts[[letters.index(one) for one in pair]] for pair in self.shown)]

    def pictured(self, found: Found) -> Picture | None:
        """Each place of the block by the ray from it to the eye."""
        front, right = self.ways_back
        place = self.eye

        def at(places: Array) -> Array:
            flat = self.nearest + places[..., :1] * right - places[..., 1:2] * front
            return self.seen(np.concatenate([flat, places[..., 2:]], axis=-1)) + point(0.0, self.horizon)

        return Picture(at, lambda p: np.asarray(place - p), lambda p: -np.asarray(length(place - p)))

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        return () if off else block_faces([self.front, self.right, self.height])
