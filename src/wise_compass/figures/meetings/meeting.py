"""What all solids that meet share: a branch along a slanting axis pierces a main that stands upright.

In ``figures/meetings/``, ``pair.py`` is which solids and where they meet (by ``geometry/interpenetration.py``), this
module what cannot be, what is told and what is true; ``advice.py`` finds the limit that a refusal names.
``flat_sided.py``, ``pipes.py`` and ``rounds.py`` are the five figures. ``hand.py`` sets out both solids, ``finding.py``
finds single points, ``piercing.py``, ``planes.py`` and ``spheres.py`` the line; ``seeing.py`` tells what is seen,
``lined.py`` lines it in; ``courses.py`` has its true curves. ``chains.py`` is the line on both patterns, ``laying.py``
lays them flat, ``folding.py`` folds them up, ``patterns.py`` has them for the workshop. ``bodies.py`` is what stands in
the space view, ``slicing.py`` what cuts it at a step.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.dimensions import (
    Angular,
    Dimension,
    Leader,
    Linear,
    Radial,
    edge_of,
    from_level,
    level,
    row,
    told,
    upright,
)
from wise_compass.drafting.givens import STRICT
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm
from wise_compass.figures.meetings.advice import Trouble, refuse_with_advice
from wise_compass.figures.meetings.pair import PairOfSolids
from wise_compass.geometry.interpenetration import LEFT, RIGHT
from wise_compass.geometry.skins import TOUCH, FlatSkin
from wise_compass.geometry.vectors import Array, Number, cosd, direction, distance, length, point, sind


class SolidsThatMeet(PairOfSolids):
    """Base of the figures: what is refused, told and proved of a pair."""

    # what cannot be

    def refuse(self) -> None:
        refuse_with_advice(self, self.trouble(), max(self.reach, self.tall, self.main_solid.radius))

    def trouble(self) -> Trouble | None:
        """What cannot be about these givens, and which of them might mend it; None for nothing."""
        return self._meets_at_all() or self._in_one_plane() or self._keeps_clear() or self._reaches()

    def _meets_at_all(self) -> Trouble | None:
        meeting = self.meeting
        if not meeting.stretches:
            return Trouble("The branch passes the main by: the solids miss each other.", ("offset", "level", "aside"))
        right, left = meeting.hits(np.array([w for a, b in meeting.stretches for w in (a, (a + b) / 2)]))[::-1]
        if not self.right_only and not np.isfinite(left[~np.isnan(left)]).all():
            return Trouble(
                "The branch is as steep as the main’s side, and does not come out of it again.", ("slope", "enters")
            )
        if not np.isfinite(right[~np.isnan(right)]).all():
            return Trouble("The branch runs along inside the main and does not come out of it.", ("slope", "aside"))
        if self.right_only and not meeting.whole:
            return Trouble(
                "Part of the branch runs past the main, and so does not end on it.",
                ("offset", "level", "enters", "aside"),
            )
        if not self.right_only and meeting.kind == "over":
            return Trouble(
                "The main’s apex lies in the branch, which is to run through.", ("level", "enters", "offset")
            )
        return None

    def _in_one_plane(self) -> Trouble | None:
        one, other = self.main_solid.skin, self.branch.skin
        if isinstance(one, FlatSkin) and isinstance(other, FlatSkin):
            alike = one.normals @ other.normals.T
            near = np.abs(np.abs(alike) - 1.0) <= 1e-12
            flush = near & (np.abs(one.offs[:, None] - np.sign(alike) * other.offs[None, :]) <= 1e-7)
            if flush.any():
                return Trouble(
                    "A face of the branch and one of the main lie in one plane.",
                    ("offset", "branch_turn", "turn", "level"),
                )
        return None

    def _keeps_clear(self) -> Trouble | None:
        top, bottom = (float(one.at[2]) for one in self.meeting.extremes)
        main = self.main_solid
        if main.ball:
            return None
        if bottom <= STRICT / 2:
            return Trouble(
                f"The line comes down to {mm(bottom)} over the ground and runs into the main’s base.",
                ("level", "aside", "height"),
            )
        if not main.apex and top >= self.tall - STRICT / 2:
            return Trouble(
                f"The line comes up to {mm(top)}; the main is {mm(self.tall)} high, and it runs into its top.",
                ("level", "height"),
            )
        return None

    def _reaches(self) -> Trouble | None:
        most = self.meeting.furthest
        if self.reach < most + STRICT / 2:
            return Trouble(
                f"The branch reaches {mm(self.reach)} and the main up to {mm(most)} along it: it ends inside the main.",
                ("reach",),
            )
        return None

    # what is told

    def _lengths(self, side: str) -> list[float | None]:
        """From the branch's end on this side to the skin, along each edge or division; None where it runs clear."""
        right, left = self.meeting.lengths
        if side == RIGHT:
            far = self.reach - right
        else:  # a sphere's are all told from the top
            far = self.reach - left if self.main_solid.ball else self.reach + left
        return [None if x != x else float(x) for x in far]

    def values(self, method: str) -> Iterable[Value]:
        meeting = self.meeting
        counted = [f"{RIGHT}{k + self.first}" for k in range(len(self.counted))]
        lit = tuple(f"{name}.front" for name in counted if name in self.named)
        yield Value("kind", meeting.kind, "", "by what of the endless branch meets the main")
        yield Value("loops", meeting.count, "", "of the closed lines that are drawn")
        for side, name in ((RIGHT, self.length_names[0]), (LEFT, self.length_names[1])):
            none = side == LEFT and self.right_only
            words = (
                "it stops at the first skin" if none else f"{bare(self.reach)} less how far along the axis each meets"
            )
            yield Value(name, None if none else self._lengths(side), "mm", words, lit if side == RIGHT else ())
        top, bottom = meeting.extremes
        yield Value(
            "line_top", float(top.at[2]), "mm", "… where the line is level, or turns down at an edge", ("H.front",)
        )
        yield Value(
            "line_bottom", float(bottom.at[2]), "mm", "… where the line is level, or turns up at an edge", ("U.front",)
        )
        yield from self._own_values()

    @property
    def length_names(self) -> tuple[str, str]:
        return "right_lengths", "left_lengths"

    @abstractmethod
    def _own_values(self) -> Iterable[Value]: ...

    def _crossing_value(self) -> Value:
        told: list[list[float | None] | None] = [
            None if span is None else [float(x) if np.isfinite(x) else None for x in span]
            for span in self.meeting.generators
        ]
        words = "… where each goes into the branch and comes out, from its foot up"
        return Value("main_crossings", told, "mm", words)

    def _volume_value(self, words: str) -> Value:
        none = self.right_only
        volume = None if none else self.meeting.common_volume
        return Value("common_volume", volume, "mm³", "it stops at the first skin" if none else words)

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {"line_top": found["H"][..., 2], "line_bottom": found["U"][..., 2]}
        for side, name in zip((RIGHT, LEFT), self.length_names):
            keys = [f"{side}{k + self.first}" for k in range(len(self.counted))]
            if all(key in found for key in keys):
                far = self.branch.along(found.together(keys))
                out[name] = self.reach - far if side == RIGHT or self.main_solid.ball else self.reach + far
        if self.feet.size and all(span is not None and np.isfinite(span[1]) for span in self.meeting.generators):
            rows = []
            for k, foot in enumerate(self.feet):
                names = self.crossed(k)
                assert names is not None
                rows.append(np.stack([distance(found[name], foot) for name in names], axis=-1))
            out["main_crossings"] = np.stack(rows, axis=-2)
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        names = [name for name in self.named if name in found]
        at = found.together(names)
        yield Truth("Every point of the line lies on the main", self._off_main(at))
        off = at - self.on_axis
        c, s = float(cosd(self.rises)), float(sind(self.rises))
        u, v, along = off[..., 0] * s - off[..., 2] * c, off[..., 1], off[..., 0] * c + off[..., 2] * s
        yield Truth("And on the branch", self.branch_section.off(u, v))
        own = [k for k, name in enumerate(names) if self.named[name].element is not None]
        if own:
            want = self.branch.section(np.array([self.named[names[k]].w for k in own]))
            flat = np.stack([u[..., own], v[..., own]], axis=-1)
            yield Truth("Numbered ones lie on their own edge or division of the branch", flat - want)
            sides = np.array([1.0 if self.named[names[k]].side == RIGHT else -1.0 for k in own])
            on = at[..., own, :] + (sides * 1e-3)[:, None] * self.branch.axis
            yield Truth("On the side that they are named for", np.minimum(self._off_main(on) + TOUCH, 0.0))
        for k in range(len(self.feet)):
            pair = self.crossed(k)
            if pair is None:
                continue
            for name in pair:
                if name in found:
                    foot = self.feet[k]
                    rise = foot + (found[name][..., 2] / self.tall)[..., None] * (
                        np.array([0.0, 0.0, self.tall]) - (foot if self.main_solid.apex else 0.0)
                    )
                    yield Truth(f"{name} lies on the main’s own edge or division", found[name] - rise)
        yield Truth(
            "No point of the line is higher than H", np.maximum(at[..., 2].max(axis=-1) - found["H"][..., 2], 0.0)
        )
        yield Truth("And none lower than U", np.maximum(found["U"][..., 2] - at[..., 2].min(axis=-1), 0.0))
        for name, extreme in zip("HU", self.meeting.extremes):
            yield Truth(f"{name} stands at the height of the line’s own extreme", found[name][..., 2] - extreme.at[2])
        if not self.right_only:
            yield Truth("The line keeps clear of the ends", np.maximum(np.abs(along).max(axis=-1) - self.reach, 0.0))
        yield from self.pattern_truths(found)

    @abstractmethod
    def pattern_truths(self, found: Found) -> Iterator[Truth]: ...

    def _off_main(self, at: Array) -> Array:
        """By definition, from the main's own givens."""
        if self.main_solid.ball:
            return np.asarray(length(at) - self.main_solid.radius)
        shrunk = 1.0 - at[..., 2] / self.tall if self.main_solid.apex else np.ones(at.shape[:-1])
        return self.main_section.off(at[..., 0], -at[..., 1], shrunk)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        return told([*self._main_dimensions(found), *self._branch_dimensions(found)])

    def _main_dimensions(self, found: Found) -> Iterator[Dimension]:
        """What the main is told by, and how the branch lies to it."""
        foot, top, main = found["O.front"], found["O.top"], self.main_solid
        if main.corners is None:
            half = main.radius
            yield Radial(top, half, "diameter", 2 * half, 225.0, diameter=True)
        else:
            half = float(np.abs(main.corners[:, 0]).max())
            yield edge_of(row(found, "B", 1, len(main.corners), ".top"), "side", self.given_values["side"])
            yield from_level(top, self.given_values["turn"], "turn")
        if not main.ball:
            left = foot - point(half, 0.0)
            yield upright(left, left + point(0.0, self.tall), "height", self.tall)
            yield upright(left, found["A.front"], "level", abs(float(found["A.front"][1] - foot[1])))

    def _branch_dimensions(self, found: Found) -> Iterator[Dimension]:
        """What the branch is told by, and how it lies to the main."""
        given, at, end, top = self.given_values, found["A.front"], found["E.front"], found["O.top"]
        if self.rises < 90.0:
            yield Angular(at, 0.0, self.rises, "slope", self.rises)
        yield Linear(at, end, "reach", self.reach, side=1)
        if "A.top" in found:
            yield level(top, found["A.top"], "aside", abs(given.get("aside", 0.0)))
            yield upright(top, found["A.top"], "offset", abs(given["offset"]))
        if self.branch_corners is None:
            name = "branch_diameter" if "branch_diameter" in given else "diameter"
            half = direction(self.rises - 90.0) * given[name] / 2
            yield Linear(end - half, end + half, name, given[name], 1, prefix="⌀")
            return
        name, turn = ("branch_side", "branch_turn") if "branch_side" in given else ("side", "turn")
        if "Q0" in found and "Q1" in found:
            yield Linear(found["Q0"], found["Q1"], name, given[name])
        else:
            yield Leader(end, name, given[name], "each side ")
        yield Leader(end, turn, abs(given[turn]), "first edge turned ", "°", -45.0)
