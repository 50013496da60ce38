"""A solid built up of blocks, in a picture and in three views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property, partial
from typing import Any, ClassVar

import numpy as np

from wise_compass.drafting.capabilities import Picture, Pictured
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Dimension, Linear, from_level, upright
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare
from wise_compass.figures.pictorial.axes import Axes, OnAxes, parallel_picture
from wise_compass.figures.pictorial.block_views import EYES, VIEWS
from wise_compass.figures.pictorial.bores import Taken, taken_by
from wise_compass.figures.pictorial.of_blocks import OfBlocks, known_edges
from wise_compass.figures.pictorial.stations import Station
from wise_compass.geometry.block_edges import EdgePiece, pieces_for
from wise_compass.geometry.block_lines import Eye, Rim, rim_at
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import towards
from wise_compass.geometry.vectors import Array, Number, point

CLEAR = 16.0
"""Between the eye in plan and a perspective."""


class BuiltUp(Pictured, OnAxes, OfBlocks, id="built-up", family="pictorial", title="Solid built of blocks"):
    keys = ("O.front", "O.side", "O.top")
    brief = opens = "A solid built up of {rows}"
    summary = (
        "Steps, brackets, a house of blocks: pictured on three axes and in three views, no line where faces run flush."
    )
    value_names: ClassVar[Sequence[str]] = ("volume", "overall_front", "overall_right", "overall_height")
    ways = ("crate", "stack", "dot-grid", "visual-rays", "third-view")

    rows = OfBlocks.rows
    angle = Angle(35, "how its right side stands to the picture plane, in two-point perspective", least=5, most=85)
    distance = Length(200, "how far the eye is from the picture plane, at which the nearest corner stands", least=1)
    eye_height = Length(75, "how high the eye is over the ground")

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        if method != "visual-rays":
            return super().sentence(givens, method)
        eye = "the eye {distance} before its nearest corner and {eye_height} up"
        return (
            f"{cls.opens} in two-point perspective, its right side at {{angle}} to the "
            f"picture plane, {eye}. Found with {{method}}."
        )

    @cached_property
    def station(self) -> Station:
        return Station(self.angle, self.distance, self.eye_height, self.built.extent[0])

    def refuse(self) -> None:
        super().refuse()
        self.refuse_rows()

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield from super().dimensions(found)
        if "O.plan" in found:
            at = found["O.plan"]
            yield from_level(at, self.angle, "angle")
            yield Linear(point(0.0, -self.distance), point(0.0, 0.0), "distance", self.distance)
            ground = point(0.0, self.horizon - self.eye_height)
            yield upright(ground, point(0.0, self.horizon), "eye_height", self.eye_height)

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        yield Value("volume", self.volume, "mm³", self._volume_words())
        low, high = self.built.extent
        for k, name in enumerate(("overall_front", "overall_right", "overall_height")):
            yield Value(name, float(high[k] - low[k]), "mm", f"{bare(float(high[k]))} − {bare(float(low[k]))}")

    @cached_property
    def taken(self) -> list[Taken]:
        """What holes take of blocks."""
        return taken_by(self.built)

    @property
    def volume(self) -> float:
        return float(sum(block.volume for block in self.built.solid) - sum(each.volume for each in self.taken))

    def _volume_words(self) -> str:
        shares = {"box": "", "wedge": " / 2", "ramp": " / 2", "cone": " × π / 12"}
        parts = [
            " × ".join(bare(size) for size in block.size) + shares.get(block.shape, " × π / 4")
            for block in self.built.solid
        ]
        return " + ".join(parts) + "".join(self._taken_words(each) for each in self.taken)

    def _taken_words(self, taken: Taken) -> str:
        hole, each = self.built.blocks[taken.rows[0] - 1], taken.bore
        if each is None:
            sign, rows = ("+", "shared by rows") if len(taken.rows) > 1 else ("−", "row")
            return f" {sign} {bare(abs(taken.volume))} ({rows} {', '.join(map(str, taken.rows))})"
        one, other = (hole.size[n] for n in hole.plane)
        share = f" × {bare(each.share)}" if each.share < 1.0 else ""
        return f" − {bare(one)} × {bare(other)} × {bare(each.long)} × π / 4{share}"

    def measure(self, found: Found) -> dict[str, Number]:
        """Overall sizes, between the outermost corners of the views."""
        out: dict[str, Number] = {}
        for name, view, across in (("front", "front", 0), ("height", "front", 1), ("right", "side", 0)):
            places = [found[key][..., across] for key in found if key.endswith(f" {view}")]
            if places:
                at = np.stack(np.broadcast_arrays(*places), axis=-1)
                out[f"overall_{name}"] = at.max(axis=-1) - at.min(axis=-1)
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        for view, axes in self.pictures.items():
            start = f"O.{view}" if view != "picture" else "O"
            if start not in found:
                continue
            low = self.built.extent[0]
            off = [
                found[key] - found[start] - axes.at(place - low)
                for key, place in self.places(view).items()
                if key in found
            ]
            words = (
                "in the picture" if view == "picture" else "in the plan" if view == "plan" else f"in the {view} view"
            )
            yield Truth(f"Every corner and every place of a rim stands where its offsets put it {words}", np.array(off))
        if found.method == "visual-rays":
            want = {key: self.station.seen(place) for key, place in self.places("picture").items() if key in found}
            rays = np.array([found[key] - at for key, at in want.items()]) - point(0.0, self.horizon)
            yield Truth(
                "Every corner and every place of a rim is drawn where its ray to the eye meets the picture plane", rays
            )

    @property
    def held_in(self) -> Axes:
        return self.axes

    @property
    def pictures(self) -> dict[str, Axes]:
        return {"picture": self.axes, **VIEWS, "plan": self.station.plan}

    @cached_property
    def horizon(self) -> float:
        """The level of the horizon of a perspective on the sheet: its picture lies clear below the eye of the plan."""
        highest = float(self.station.seen(np.array(list(self.places("picture").values())))[:, 1].max())
        return -self.distance - CLEAR - max(highest, 0.0)

    def courses(self, method: str) -> Sequence[Course]:
        """Every rim in the picture; of a third view from two those that stand in the top view."""
        if method == "third-view":
            return self.rims_in({"top": VIEWS["top"]})
        near = method == "visual-rays"
        found = []
        for number, (block, rims) in enumerate(zip(self.built.blocks, self.rims), 1):
            for n, level in enumerate(rims):
                seen = partial(self._rim_seen, block, level, near)
                found.append(self.course_of(f"rim {n + 1} of row {number}", seen, f"{number}R{n}", "", level))
        return tuple(found)

    def _rim_seen(self, block: Block, level: Rim, near: bool, turn: Number) -> Array:
        """Places of a rim in the picture, or in the perspective."""
        at = rim_at(block, level, np.atleast_1d(turn))
        seen = self.station.seen(at) if near else self.axes.at(at - self.built.extent[0])
        return np.asarray(seen if np.ndim(turn) else seen[0])

    def pieces(self, view: str) -> Sequence[EdgePiece]:
        """The edges of a view, of the picture, or of the perspective, seen and hidden."""
        known, wanted = known_edges(self.built), self._sight(view)
        if wanted not in known:
            seen_near = view in ("plan", "perspective")
            views = ("perspective" if seen_near else "picture", view, *VIEWS)
            sights = [sight for sight in dict.fromkeys(map(self._sight, views)) if sight not in known]
            eyes = [Eye(np.array(at), stands) for at, stands in sights]
            known.update(zip(sights, pieces_for(self.built, eyes)))
        return known[wanted]

    def _sight(self, view: str) -> tuple[tuple[float, ...], bool]:
        """From where a view is seen, and whether the eye stands there, or is far off that way."""
        if view == "perspective":
            return self.station.eye, True
        return tuple(towards(self.axes.vectors).tolist()) if view == "picture" else EYES[view], False

    def pictured(self, found: Found) -> Picture | None:
        if found.method == "visual-rays":
            return self.station.picture(self.horizon)
        if "O" not in found:  # the third view alone is found
            return None
        return parallel_picture(self.axes, found["O"] - self.axes.at(self.built.extent[0]))

    def beside(self, method: str = "") -> Sequence[Array]:
        corners = [place for key, place in self.places("picture").items() if "R" not in key]
        return self.station.in_space(np.array(corners), self.pieces("perspective")) if method == "visual-rays" else ()
