"""A hipped roof over any convex plan, or over a square-cornered L, with its slopes folded out."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Developed, Face, Part, Solid
from wise_compass.drafting.dimensions import Dimension, Leader, corner_dimensions, row
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.places import Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.turn_rows import Angles
from wise_compass.drafting.wording import bare, many, trim
from wise_compass.figures.roofs.spires import SAFE
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.roofs import Hip, Roof, convex_or_l
from wise_compass.geometry.unfold import FlatPiece, Pattern, Placing
from wise_compass.geometry.vectors import Array, Number, cosd, distance, length, tand

LEAST, MOST = 5.0, 85.0
"""Degrees of a pitch."""
GABLE = 90.0
OUTWARD = np.diag([1.0, -1.0, 1.0])
"""From the plan, y to the back, to space, y to the front."""


class HipRoof(Solid, Developed, Figure, id="hip-roof", family="roofs", title="Hipped roof"):
    keys = ("A*", "F*", "P*", "Y*", "Z*")
    brief = "A roof over {corners} with pitches {pitches}, found with {method}."
    summary = "Hips, valleys and ridges in plan, their true lengths and angles, every slope's true shape beside it."
    ways = ("bisectors", "level-lines")
    value_names = ("height", "slope_areas", "hip_plans", "hip_lengths", "hip_angles", "hip_ends", "dihedrals")

    corners = Rows(
        ((0, 0), (90, 0), (90, 54), (0, 54)), "the corners of the eaves, in order round them", ("x", "y"), 3, 12
    )
    pitches = Angles((40, 50, 40, 50), "the pitch on each side, side k from corner k on; 90 for a gable", 3, 12)

    def refuse(self) -> None:
        rows, count = self.given_values["corners"], len(self.given_values["pitches"])
        if count != len(rows):
            raise Refused(
                "pitches",
                f"The plan has {many(len(rows), 'side')} and pitches has "
                f"{many(count, 'angle')}. Tell one for every side.",
            )
        if self.dent is None:
            raise Refused(
                "corners",
                "The plan of corners is neither convex nor an L of six square corners; "
                "its roof is not told by its pitches "
                "alone. Move them, or set out its parts one by one.",
            )
        for k, pitch in enumerate(self.pitch, 1):
            if pitch != GABLE and not LEAST <= pitch <= MOST:
                raise Refused(
                    "pitches",
                    f"Angle {k} of pitches is {trim(pitch)}°; it is from {trim(LEAST)}° to {trim(MOST)}°, or 90 for a "
                    "gable. Change that angle.",
                )
        gables = [k for k, pitch in enumerate(self.pitch) if pitch == GABLE]
        n = len(rows)
        for k in gables:
            if (k + 1) % n in gables:
                after = (k + 1) % n + 1
                raise Refused(
                    "pitches",
                    f"Sides {k + 1} and {after} of pitches are both gables, with no slope between. Give one a pitch.",
                )
            if self.dent >= 0 and k in (self.numbered(self.dent), (self.numbered(self.dent) - 1) % n):
                raise Refused(
                    "pitches",
                    f"Side {k + 1} of pitches ends in the inner corner and cannot be a gable. Give it a pitch.",
                )

    @cached_property
    def pitch(self) -> list[float]:
        return [float(row[0]) for row in self.given_values["pitches"]]

    @cached_property
    def _turned(self) -> bool:
        """Whether the corners are told clockwise."""
        return float(shoelace(np.array(self.given_values["corners"]))) < 0

    @cached_property
    def dent(self) -> int | None:
        """The number of the inner corner among the corners anticlockwise; −1 without one, None where it has no roof."""
        plan = np.array(self.given_values["corners"], dtype=float)
        return convex_or_l(plan[::-1] if self._turned else plan)

    def numbered(self, k: int) -> int:
        """The number, as given, of corner ``k`` of the roof, which is told anticlockwise."""
        return self.count - 1 - k if self._turned else k

    def told_side(self, k: int) -> int:
        """The same of side ``k``."""
        return (self.count - 2 - k) % self.count if self._turned else k

    @property
    def count(self) -> int:
        return len(self.given_values["corners"])

    @cached_property
    def roof(self) -> Roof:
        plan = [tuple(float(x) for x in row) for row in self.given_values["corners"]]
        corners = [plan[self.numbered(k)] for k in range(self.count)]
        pitches = [self.pitch[self.told_side(k)] for k in range(self.count)]
        assert self.dent is not None
        return Roof(tuple((x, y) for x, y in corners), tuple(pitches), self.dent)

    @cached_property
    def hips(self) -> list[Hip]:
        """What rises from each corner of the roof."""
        return [self.roof.hip(k) for k in range(self.count)]

    def in_order(self, values: Sequence[object], sides: bool = False) -> list[object]:
        """What is told by the roof's corners, or sides, as the givens number them."""
        number = self.told_side if sides else self.numbered
        order = sorted(range(self.count), key=number)
        return [values[k] for k in order]

    def name(self, place: int) -> str:
        """The letter and number of a place of the plan."""
        return f"A{self.numbered(place) + 1}" if place < self.count else f"P{place - self.count + 1}"

    def flat_name(self, side: int, place: int) -> str:
        """Where a place lies on the slope of ``side`` that is folded down."""
        stays = place < self.count and side not in self.roof.set_aside
        return self.name(place) if stays else f"F{self._folded.index((side, place)) + 1}"

    @cached_property
    def _folded(self) -> list[tuple[int, int]]:
        """Every side with each of its places that are folded down with it; where that is set aside, its eave's too."""
        aside = self.roof.set_aside
        return [(k, place) for k in range(self.count) for place in self.roof.face(k)[0 if k in aside else 2 :]]

    def slope_area(self, k: int) -> float:
        """True: of a slope, or of a gable's wall over the eaves."""
        if self.roof.gable(k):
            return self.roof.wall_area(k)
        return self.roof.plan_area(k) / float(cosd(self.roof.pitches[k]))

    # what is told

    def cautions(self) -> Iterable[str]:
        yield SAFE

    def values(self, method: str) -> Iterable[Value]:
        roof = self.roof
        high = float(roof.places[:, 2].max())
        top = int(np.argmax(roof.places[:, 2]))
        off = min((float(roof.off(k, roof.places[top, :2])), k) for k in roof.slopes if top in roof.face(k))
        words = f"{bare(off[0])} × tan {trim(roof.pitches[off[1]])}°"
        yield Value("height", high, "mm", words, (self.name(top),))
        areas = self.in_order([self.slope_area(k) for k in range(self.count)], sides=True)
        words = "… each in plan / cos of its pitch; a gable’s wall over the eaves"
        yield Value("slope_areas", areas, "mm²", words)
        corners = tuple(self.name(k) for k in range(self.count))
        plans = [float(distance(hip.end[:2], roof.plan[k])) for k, hip in enumerate(self.hips)]
        yield Value(
            "hip_plans", self.in_order(plans), "mm", "… from the corner to where the finished roof leaves it", corners
        )
        lengths = [float(np.hypot(plan, hip.end[2])) for plan, hip in zip(plans, self.hips)]
        words = ", ".join(f"√({bare(plan)}² + {bare(float(hip.end[2]))}²)" for plan, hip in zip(plans[:2], self.hips))
        yield Value("hip_lengths", self.in_order(lengths), "mm", f"{words} …", corners)
        angles = [float(np.degrees(np.arctan2(hip.end[2], plan))) for plan, hip in zip(plans, self.hips)]
        yield Value("hip_angles", self.in_order(angles), "°", "… arctan(rise / plan)", corners)
        ends = [[float(x) for x in hip.end] for hip in self.hips]
        yield Value("hip_ends", self.in_order(ends), "mm", "… where three slopes, or two and a gable, meet", corners)
        dihedrals = [hip.dihedral for hip in self.hips]
        yield Value("dihedrals", self.in_order(dihedrals), "°", "… by the normals of both slopes, inside", corners)

    def _end(self, k: int) -> int:
        """The place where what rises from a corner ends."""
        return int(np.argmin(np.asarray(length(self.roof.places - self.hips[k].end))))

    def _ring(self, found: Found, side: int) -> Array:
        """A slope as it is folded down, (…, m, 2)."""
        return found.together([self.flat_name(side, place) for place in self.roof.face(side)])

    def measure(self, found: Found) -> dict[str, Number]:
        roof = self.roof
        n = self.count
        plans, lengths, ends, angles = [], [], [], []
        for k in range(n):
            end = self._end(k)
            corner, at = found[self.name(k)], found[self.name(end)]
            side = k if not roof.gable(k) else (k - 1) % n
            plan, rise = distance(corner, at), found[f"Z{end - n + 1}"][..., 1] - found[f"Y{end - n + 1}"][..., 1]
            plans.append(plan)
            lengths.append(distance(found[self.flat_name(side, k)], found[self.flat_name(side, end)]))
            ends.append(np.concatenate([at, np.asarray(rise)[..., None]], axis=-1))
            angles.append(np.degrees(np.arctan2(rise, plan)))
        areas = [self._shoelace(self._ring(found, k)) for k in range(n)]

        def stacked(values: Sequence[Number], axis: int = -1, sides: bool = False) -> Array:
            return np.stack([np.asarray(x) for x in self.in_order(values, sides)], axis=axis)

        heights = [found[f"Z{m + 1}"][..., 1] - found[f"Y{m + 1}"][..., 1] for m in range(len(roof.places) - n)]
        return {
            "height": np.max(np.stack(heights, axis=-1), axis=-1),
            "slope_areas": stacked(areas, sides=True),
            "hip_plans": stacked(plans),
            "hip_lengths": stacked(lengths),
            "hip_angles": stacked(angles),
            "hip_ends": stacked(ends, axis=-2),
        }

    def _shoelace(self, ring: Array) -> Array:
        x, y = ring[..., 0], ring[..., 1]
        return np.asarray(np.abs((x * np.roll(y, -1, axis=-1) - y * np.roll(x, -1, axis=-1)).sum(axis=-1)) / 2)

    def truths(self, found: Found) -> Iterator[Truth]:
        roof, n = self.roof, self.count
        plan = found.together([self.name(k) for k in range(n)])
        yield Truth("The eaves’ corners stand as given", plan - roof.plan)
        for place in range(n, len(roof.places)):
            at, name = found[self.name(place)], self.name(place)
            rise = found[f"Z{place - n + 1}"][..., 1] - found[f"Y{place - n + 1}"][..., 1]
            mine = [k for k in roof.slopes if place in roof.face(k)]
            highs = np.array([np.asarray(roof.off(k, at)) * float(tand(roof.pitches[k])) - rise for k in mine])
            yield Truth(f"At {name} all its slopes are as high", highs)
            yield Truth(f"{name} is under no part of the finished roof, and over none", roof.height(at) - rise)
        for k in range(n):
            for place in roof.face(k)[2:]:
                far = float(length(roof.places[place] - roof.places[k]))
                flat = found[self.flat_name(k, place)]
                words = (
                    f"On side {self.told_side(k) + 1}, folded down, {self.name(place)} "
                    "is as far from its corner as in space"
                )
                yield Truth(words, distance(flat, found[self.flat_name(k, k)]) - far)
        level = sum(
            np.asarray(self._shoelace(self._ring(found, k))) * float(cosd(roof.pitches[k])) for k in roof.slopes
        )
        size = roof.size
        yield Truth(
            "The slopes’ areas times the cosines of their pitches make up the plan",
            (level - float(shoelace(roof.plan))) / size,
        )
        pattern = self.pattern(found)
        yield Truth("Folded up by their pitches, all slopes come together", pattern.gap())
        yield Truth("Folded up, every place lies where it is on the roof", pattern.stray())

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        corners = row(found, "A", 1, self.count)
        yield from corner_dimensions(corners, "corners")
        for k, pitch in enumerate(self.pitch):
            one, other = corners[k], corners[(k + 1) % self.count]
            yield Leader((one + other) / 2, "pitches", pitch, "pitch ", "°")

    # in space

    @cached_property
    def _stands(self) -> Array:
        return self.roof.places @ OUTWARD

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        rings = [self._stands[self.roof.face(k)] for k in range(self.count)]
        return [*(Face(ring) for ring in rings), Face(self._stands[: self.count][::-1])]

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        return [
            (f"{self.name(one.start)} {self.name(one.end)}", self._stands[one.start], self._stands[one.end])
            for one in self.roof.edges
        ]

    def is_developed(self, found: Found) -> bool:
        return True

    def pattern(self, found: Found) -> Pattern:
        """The slopes and gables hinged on the eaves; they lie with their inner sides up."""
        n = self.count
        names = tuple(self.name(k) for k in range(n))
        pieces = [FlatPiece(names, found.together(list(names)))]
        for k in range(n):
            ring = self.roof.face(k)
            own = tuple(self.name(place) for place in ring)
            flat = self._ring(found, k)
            fold = -(180.0 - self.roof.pitches[k])
            eave = found.together([self.name(place) for place in ring[:2]])
            pieces.append(FlatPiece(own, flat, 0, fold, flat[:2], eave))
        lies = {self.name(place): at for place, at in enumerate(self._stands)}
        return Pattern(pieces, Placing(OUTWARD, np.zeros(3)), lies)

    def cut_out(self, found: Found) -> Sequence[Part]:
        """A roof is built, not cut out of sheet."""
        return ()
