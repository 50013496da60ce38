"""The shadow that a solid casts on the ground and on the wall behind it, the light at 45° in both views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import Face, InViews, Shading, Solid
from wise_compass.drafting.dimensions import Dimension, Radial, edge_of, from_level, row, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm
from wise_compass.figures.roofs.shadow_tones import less
from wise_compass.geometry.outlines import Arc, Side, Straight, area_over, circle_arc, hull_of
from wise_compass.geometry.solids import ring
from wise_compass.geometry.vectors import Array, Number, direction, point

KINDS = ("prism", "pyramid", "cylinder", "cone", "sphere")
FLAT_SIDED = ("prism", "pyramid")
LIGHT = np.array([1.0, -1.0, -1.0])
"""Which way the light falls: to the right, back and down."""
ACROSS, ALONG = np.array([1.0, 1.0, 0.0]) / np.sqrt(2.0), np.array([1.0, -1.0, 2.0]) / np.sqrt(6.0)
"""Two square directions of the plane that the light meets squarely: the first level."""
SLICES = 48


def on_ground(places: Array) -> Array:
    """Where rays through places (…, 3) meet the ground, though it lay behind the wall too: to the right, to the front;
    (…, 2)."""
    return point(places[..., 0] + places[..., 2], places[..., 1] - places[..., 2])


def on_wall(ground: Array) -> Array:
    """Where the ray to a place of the ground (…, 2) behind the wall meets that: to the right, up."""
    return point(ground[..., 0] + ground[..., 1], -ground[..., 1])


def clipped(outline: Array, side: float) -> Array:
    """What of a closed outline (n, 2) lies at y ≥ 0, with ``side`` −1 at y ≤ 0 (Sutherland and Hodgman)."""
    kept: list[Array] = []
    for one, other in zip(outline, np.roll(outline, -1, axis=0)):
        a, b = float(one[1]) * side, float(other[1]) * side
        if a >= 0:
            kept.append(one)
        if (a > 0 > b) or (a < 0 < b):
            kept.append(one + (other - one) * (a / (a - b)))
    return np.array(kept).reshape(-1, 2)


class CastShadow(Shading, InViews, Solid, Figure, id="cast-shadow", family="roofs", title="Cast shadow"):
    keys = ("C.front", "C.top", "S*")
    brief = (
        "The shadow of a {kind} {size} wide and {height} high, on {sides} sides "
        "turned {turn}, its axis {front} before the "
        "wall and its base {lift} up, found with {method}."
    )
    summary = "Shadows on ground and wall, the light at 45° in both views: a tower, a post, a ball."
    value_names = ("ground_area", "wall_area", "top_shadow")

    kind = Choice("prism", "the solid", KINDS)
    size = Length(24, "its side, or its diameter")
    height = Length(60, "its height", zero=True)
    turn = Angle(
        15, "how far its first corner is turned from the right, anticlockwise from above", least=-360, most=360
    )
    sides = Count(6, "the number of its sides", 3, 24)
    front = Length(50, "how far its axis stands before the vertical plane")
    lift = Length(0, "how high its base is over the ground", zero=True)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        kind = givens.get("kind", "prism")
        words = cls.brief if kind in FLAT_SIDED else cls.brief.replace(", on {sides} sides turned {turn}", "")
        return words.replace(" and {height} high", "") if kind == "sphere" else words

    @property
    def flat_sided(self) -> bool:
        return self.kind in FLAT_SIDED

    @property
    def reach(self) -> float:
        """From the axis to a corner, or the radius."""
        return self.size / 2 / float(np.sin(np.pi / self.sides)) if self.flat_sided else self.size / 2

    @property
    def tall(self) -> float:
        return self.size if self.kind == "sphere" else self.height

    def refuse(self) -> None:
        if self.kind != "sphere" and self.height == 0:
            raise Refused("height", f"A {self.kind} has a height. Raise height over 0.")
        back = self.reach
        if self.flat_sided:
            back = -float(ring(self.reach, self.sides, self.turn)[:, 1].min())
        if self.front <= back * (1 + 1e-9):
            raise Refused(
                "front",
                f"The solid reaches {mm(back)} back from its axis, into the vertical "
                f"plane. Raise front over {least_mm(back)}.",
            )

    # the solid

    @property
    def pointed(self) -> bool:
        return self.kind in ("pyramid", "cone")

    @property
    def middle(self) -> Array:
        """The foot of the axis, or the ball's centre."""
        return np.array([0.0, self.front, self.lift + (self.reach if self.kind == "sphere" else 0.0)])

    @property
    def top(self) -> Array:
        """The axis' upper end, or the ball's centre."""
        return np.asarray(self.middle + np.array([0.0, 0.0, 0.0 if self.kind == "sphere" else self.height]))

    @cached_property
    def corners(self) -> dict[str, Array]:
        """The corners of a flat-sided solid."""
        base = ring(self.reach, self.sides, self.turn) + self.middle
        found = {f"B{k + 1}": at for k, at in enumerate(base)}
        if self.pointed:
            return {**found, "V": self.top}
        rise = np.array([0.0, 0.0, self.height])
        return {**found, **{f"T{k + 1}": at + rise for k, at in enumerate(base)}}

    @cached_property
    def casting(self) -> list[str]:
        """The corners whose rays bound the shadow, in order round it."""
        names = list(self.corners)
        ground = on_ground(np.array([self.corners[name] for name in names]))
        return [names[k] for k in hull_of(ground)]

    @cached_property
    def outline(self) -> list[Side]:
        """The outline of the shadow as though there were no wall, anticlockwise as x and y have it."""
        if self.flat_sided:
            ground = [on_ground(self.corners[name]) for name in self.casting]
            return [Straight(a, b) for a, b in zip(ground, [*ground[1:], ground[0]])]
        low, high, r = on_ground(self.middle), on_ground(self.top), self.reach
        if self.kind == "sphere":
            one, other = (r * point(way[0] + way[2], way[1] - way[2]) for way in (ACROSS, ALONG))
            return [Arc(low, other, one, 0.0, 360.0)]
        if self.kind == "cylinder":
            ends = [at + r * direction(turn) for turn in (225.0, 45.0) for at in (low, high)]
            return [
                circle_arc(low, r, 45.0, 225.0),
                Straight(ends[0], ends[1]),
                circle_arc(high, r, 225.0, 405.0),
                Straight(ends[3], ends[2]),
            ]
        far = self.height * float(np.sqrt(2.0))
        if far <= r:
            return [circle_arc(low, r, 45.0, 405.0)]
        half = float(np.degrees(np.arccos(r / far)))
        first, last = -45.0 + half, 315.0 - half
        return [
            circle_arc(low, r, first, last),
            Straight(low + r * direction(last), high),
            Straight(high, low + r * direction(first)),
        ]

    # what is told

    @cached_property
    def areas(self) -> tuple[float, float]:
        """On the ground and on the wall: a ray past the foot of the wall meets that in as large an area."""
        whole, ground = area_over(self.outline, -1e6), area_over(self.outline)
        return ground, max(whole - ground, 0.0)

    @property
    def top_shadow(self) -> list[float]:
        x, y, z = self.top.tolist()
        return [x + z, y - z, 0.0] if y >= z else [x + y, 0.0, z - y]

    def cautions(self) -> Iterable[str]:
        if self.areas[1] == 0.0:
            yield "All of the shadow lies on the ground: the wall has none."

    def values(self, method: str) -> Iterable[Value]:
        ground, wall = self.areas
        yield Value("ground_area", ground, "mm²", "… of the outline on the ground, what the solid hides of it too")
        yield Value("wall_area", wall, "mm²", "… of the rest, as large on the wall as behind its foot")
        x, y, z = self.top.tolist()
        words = f"{bare(z)} down and as far right and back" if y >= z else f"the wall comes first, {bare(y)} back"
        yield Value("top_shadow", self.top_shadow, "mm", words, ("S0",))

    def measure(self, found: Found) -> dict[str, Number]:
        shadow = found["S0"]
        if self.top[1] >= self.top[2]:
            at = shadow - found["C.top"]
            x, y = at[..., 0], self.front - at[..., 1]
            return {"top_shadow": np.stack([x, y, np.zeros_like(x)], axis=-1)}
        at = shadow - found["C.front"]
        x, z = at[..., 0], at[..., 1] + self.middle[2]
        return {"top_shadow": np.stack([x, np.zeros_like(x), z], axis=-1)}

    def seen(self, found: Found, name: str, wall: bool) -> Array:
        """A shadow's place as the ground, or the wall, has it."""
        if wall:
            return np.asarray(found[name] - found["C.front"] + point(0.0, float(self.middle[2])))
        at = found[name] - found["C.top"]
        return point(at[..., 0], self.front - at[..., 1])

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth(
            "The axis' top has its shadow in its ray", np.asarray(self.measure(found)["top_shadow"]) - self.top_shadow
        )
        for name, ground in self.marked.items():
            if name not in found:
                continue
            wall = bool(ground[1] < 0)
            want = on_wall(ground) if wall else ground
            yield Truth(
                f"{name} lies in the light’s ray, on what that meets first", self.seen(found, name, wall) - want
            )

    @cached_property
    def marked(self) -> dict[str, Array]:
        """The places of the outline that are found, S1 on, as the ground has them; K1 and K2 where it bends."""
        found: dict[str, Array] = {}
        number = 0
        for side in self.outline:
            shares: list[float] = [0.0]
            if isinstance(side, Arc):
                count = max(int(round((side.last - side.first) / 15.0)), 2)
                shares = [k / count for k in range(count)]
            for share in shares:
                number += 1
                found[f"S{number}"] = side.at(np.array(share))
        return found

    @cached_property
    def bends(self) -> list[tuple[int, float, Array]]:
        """Where the outline crosses the foot of the wall: the side, its share, and the place."""
        found = []
        for k, side in enumerate(self.outline):
            cuts = (
                side.crossings(0.0)
                if isinstance(side, Arc)
                else [share for pair in side.over(0.0) for share in pair if 0.0 < share < 1.0]
            )
            found += [(k, share, side.at(np.array(share))) for share in cuts]
        return found

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        foot = found["C.front"]
        if self.kind != "sphere":
            left = foot - point(self.reach, 0.0)
            yield upright(left, left + point(0.0, self.height), "height", self.height)
        else:
            yield Radial(foot, self.reach, "size", self.size, 135.0, diameter=True)
        top, line = found["C.top"], float(found["X"][1])
        yield from told(self._plan_dimensions(found, top, line))

    def _plan_dimensions(self, found: Found, top: Array, line: float) -> Iterator[Dimension]:
        if self.flat_sided:
            yield edge_of(row(found, "B", 1, self.sides, ".top"), "size", self.size)
            yield from_level(top, self.turn, "turn")
        elif self.kind != "sphere":
            yield Radial(top, self.reach, "size", self.size, 225.0, diameter=True)
        yield upright(top, point(float(top[0]), float(top[1]) + self.front), "front", self.front, -1, rank=4)
        low = found["C.front"] - point(0.0, self.lift)
        yield upright(low, low + point(0.0, self.lift), "lift", self.lift, -1, rank=4)

    # in space

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        if self.kind == "sphere":
            return self._ball()
        count = self.sides if self.flat_sided else SLICES
        base = ring(self.reach, count, self.turn if self.flat_sided else 0.0) + self.middle
        round_one = 0 if self.flat_sided else 1
        after = np.roll(base, -1, axis=0)
        if self.pointed:
            return [*(Face(np.array([a, b, self.top]), round_one) for a, b in zip(base, after)), Face(base[::-1])]
        rise = np.array([0.0, 0.0, self.height])
        walls = [Face(np.array([a, b, b + rise, a + rise]), round_one) for a, b in zip(base, after)]
        return [*walls, Face(base[::-1]), Face(base + rise)]

    def _ball(self) -> list[Face]:
        """The ball in zones of flat pieces."""
        rows = [
            ring(self.reach * float(np.cos(lean)), 24)
            + self.middle
            + np.array([0.0, 0.0, self.reach * float(np.sin(lean))])
            for lean in np.linspace(-np.pi / 2, np.pi / 2, 13)
        ]
        faces = []
        for low, high in zip(rows, rows[1:]):
            for k in range(24):
                faces.append(Face(np.array([low[k - 1], low[k], high[k], high[k - 1]]), 1))
        return faces

    def beside(self, method: str = "") -> Sequence[Array]:
        """Rays of light through what bounds the shadow, and the shadow itself."""
        places = [np.array([*ground, 0.0]) for ground in self.marked.values()]
        cast = [at if at[1] >= 0 else np.array([at[0] + at[1], 0.0, -at[1]]) for at in places]
        rays = []
        if self.flat_sided:
            rays = [np.array([self.corners[name], at]) for name, at in zip(self.casting, cast)]
        return [*rays, *(np.vstack([one, one[:1]]) for one in self.shaded()), *self._sun()]

    def _sun(self) -> list[Array]:
        """The sun over the ray of the axis' top, in the plane square to the light, and that ray."""
        light = np.array([-1.0, 1.0, 1.0]) / np.sqrt(3.0)
        size = 0.09 * max(self.tall, self.reach)
        middle = self.top + (0.75 * self.tall + self.reach) * light
        turns = np.linspace(0.0, 2 * np.pi, 25)[:, None]
        ring_of = np.cos(turns) * ACROSS + np.sin(turns) * ALONG
        rays = [np.array([middle + 1.35 * size * one, middle + 1.8 * size * one]) for one in ring_of[::3]]
        end = self.top_shadow
        return [middle + size * ring_of, *rays, np.array([middle - 1.35 * size * light, end])]

    def shades(self, found: Found) -> list[Array]:
        """The shadow in the plan and in the front view, less what the solid hides of it."""
        plan = found["C.top"] + np.array([0.0, self.front])
        wall = found["C.front"] - np.array([0.0, float(self.middle[2])])
        ground, up = self._parts
        shown = [plan + ground * np.array([1.0, -1.0])] if len(ground) > 2 else []
        if len(up) > 2:
            shown.append(wall + np.stack([up[:, 0] + up[:, 1], -up[:, 1]], axis=-1))
        covers = self.covers(found)
        return [
            part for one, cover in zip(shown, covers if len(ground) > 2 else covers[1:]) for part in less(one, cover)
        ]

    def shaded(self) -> list[Array]:
        ground, up = self._parts
        flat = [np.column_stack([ground, np.zeros(len(ground))])] if len(ground) > 2 else []
        if len(up) > 2:
            flat.append(np.column_stack([up[:, 0] + up[:, 1], np.zeros(len(up)), -up[:, 1]]))
        return flat

    @cached_property
    def _parts(self) -> tuple[Array, Array]:
        """The outline as though there were no wall, parted at the foot of that: before and behind it."""
        shares = np.linspace(0.0, 1.0, 49)[:-1]
        whole = np.vstack(
            [side.at(shares) if isinstance(side, Arc) else side.at(np.array([0.0])) for side in self.outline]
        )
        return clipped(whole, 1.0), clipped(whole, -1.0)

    def covers(self, found: Found) -> tuple[Array, Array]:
        """The solid's outline in the plan and in the front view, as chains of corners (n, 2)."""
        plan, front = found["C.top"], found["C.front"]
        circle = self.reach * direction(np.linspace(0.0, 360.0, 97)[:-1])
        if self.kind == "sphere":
            return plan + circle, front + circle
        base = circle
        if self.flat_sided:
            base = ring(self.reach, self.sides, self.turn)[:, :2] * np.array([1.0, -1.0])
        west, east = float(base[:, 0].min()), float(base[:, 0].max())
        top = [[0.0, self.height]] if self.pointed else [[east, self.height], [west, self.height]]
        return plan + base, front + np.array([[west, 0.0], [east, 0.0], *top])
