"""What transitions share: two level outlines, the triangles between them, their true lengths and their pattern.

Places of the bottom are called ``B…``, of the top ``T…``. On the flat the bottom's places from the seam on are ``Q0``,
``Q1`` …, the top's ``P0``, ``P1`` …; the seam comes last once more.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from itertools import pairwise
from typing import Any, ClassVar, NamedTuple

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, Edge, Face, InViews, Part, Solid
from wise_compass.drafting.dimensions import Dimension, Linear, Radial, from_level, level, outside, row, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Choice, Length
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.solids import area_of
from wise_compass.geometry.unfold import FlatPiece, Pattern, overlapping, resting, turns_between
from wise_compass.geometry.vectors import Array, Number, direction, distance, left_of, length, point, unit

FLAT = 1e-9
"""A fold of fewer radians is none."""
SPLIT = ("M", "N")
"""Where a seam in the middle of a flat side meets the bottom and the top."""
SHOWN = {"views": "the views", "pattern": "the views and the pattern", "all": "all of it"}


class DuctTriangle(NamedTuple):
    """A triangle of the surface from the seam on: its corners anticlockwise as seen from outside, and their keys on the
    flat.

    ``upper`` tells whether the corner that it adds is one of the top.
    """

    names: tuple[str, str, str]
    keys: tuple[str, str, str]
    upper: bool


class Duct(InViews, Solid, Developed, Figure):
    """Base of the transitions. A subclass tells its ``rims`` and how its triangles follow each other, ``walk``."""

    hazards: ClassVar[Sequence[str]] = (hazards.SHEET, hazards.DUCT)
    ways: ClassVar[Sequence[str]] = ("triangulation",)
    value_names: ClassVar[Sequence[str]] = ("pattern_area",)

    height = Length(60, "the height")
    offset_x = Length(
        0, "how far the middle of the top stands to the right of that of the bottom", least=-2000, most=2000
    )
    offset_y = Length(
        0, "how far the middle of the top stands to the front of that of the bottom", least=-2000, most=2000
    )
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    opens = ""
    seam_called = "edge"
    flat_sided = False
    """Whether seam 0 opens it in the middle of the flat side at the right, from M below (to N above)."""

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        off = ", the top {offset_x} to the right and {offset_y} to the front"
        seam = f"the seam on {cls.seam_called} {{seam}}"
        if cls.flat_sided and givens.get("seam") == 0:
            seam = "the seam {seam}, in the middle of the side at the right"
        return f"{cls.opens}, {{height}} high{off}; {seam}. Draw {{show}}, with {{method}}."

    # what it is

    @cached_property
    @abstractmethod
    def rims(self) -> tuple[dict[str, Array], dict[str, Array]]:
        """The places of the bottom and of the top, each by its name, anticlockwise as seen from above."""

    @cached_property
    @abstractmethod
    def walk(self) -> list[str]:
        """The places from the seam round to it again: first both ends of the seam, the bottom's first, then each that
        is added."""

    @cached_property
    def smooth(self) -> frozenset[str]:
        """Edges that are no edges of the body: the elements of a round skin, as ``one other`` in either order."""
        return frozenset()

    def is_round(self, rim: Mapping[str, Array]) -> bool:
        """Whether a rim is a circle and its places are divisions of it."""
        return len(rim) > 5

    @property
    def twists(self) -> list[tuple[str, float]]:
        """The four-cornered sides that are not flat: the places round each, and by how many degrees it is folded along
        its diagonal."""
        return []

    @cached_property
    def places(self) -> dict[str, Array]:
        return {**self.rims[0], **self.rims[1]}

    @property
    def top_middle(self) -> Array:
        """The middle of the top, in space."""
        return np.array([self.offset_x, self.offset_y, self.height])

    @cached_property
    def triangles(self) -> list[DuctTriangle]:
        """All triangles from the seam on."""
        low, high = self.walk[:2]
        keys, found = ["Q0", "P0"], []
        counts = {"Q": 0, "P": 0}
        for name in self.walk[2:]:
            upper = name in self.rims[1]
            letter = "P" if upper else "Q"
            counts[letter] += 1
            key = f"{letter}{counts[letter]}"
            found.append(DuctTriangle((low, name, high), (keys[0], key, keys[1]), upper))
            if upper:
                high, keys[1] = name, key
            else:
                low, keys[0] = name, key
        return found

    def face_at(self, heading: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
        words = heading.replace(",", " ").split()
        if len(words) < 2 or words[0] != "Triangle":
            return (), ()
        one = self.triangles[int(words[1]) - 1]
        return one.names, one.keys

    def gap(self, one: str, other: str) -> float:
        """The true length between two places."""
        return float(length(self.places[one] - self.places[other]))

    def plan_gap(self, one: str, other: str) -> float:
        """Their distance as the plan shows it."""
        return float(length((self.places[one] - self.places[other])[:2]))

    @cached_property
    def slants(self) -> list[tuple[str, str]]:
        """The lines from bottom to top, in the order in which the pattern takes them, each once."""
        pairs = [(self.walk[0], self.walk[1])]
        for triangle in self.triangles:
            low, added, high = triangle.names
            pairs.append((low, added) if triangle.upper else (added, high))
        return list(dict.fromkeys(pairs))

    @cached_property
    def flat(self) -> dict[str, Array]:
        """Where the pattern's places lie by their true lengths, the seam upright from the origin."""
        flat = {"Q0": np.zeros(2), "P0": point(0.0, self.gap(*self.walk[:2]))}
        for one in self.triangles:
            low, high = flat[one.keys[0]], flat[one.keys[2]]
            a, b, c = self.gap(*one.names[:2]), self.gap(*one.names[1:]), float(distance(low, high))
            along = (a * a - b * b + c * c) / (2 * c)
            u = unit(high - low)
            flat[one.keys[1]] = low + along * u - float(np.sqrt(max(a * a - along * along, 0.0))) * left_of(u)
        return flat

    @cached_property
    def overlaps(self) -> bool:
        """Whether the pattern would lie over itself."""
        at = np.array([[self.flat[key] for key in one.keys] for one in self.triangles])
        return overlapping(at, 1e-9 * float(np.abs(at).max()))

    def cautions(self) -> Iterable[str]:
        if self.wants_pattern and self.overlaps:
            yield "This pattern overlaps itself on the flat: cut it in two, or open it at another seam."

    def flat_folds(self) -> list[float]:
        """The angle in degrees to which each triangle is folded from the one before; less than 0 where it folds towards
        the eye."""
        at = np.array([[self.places[name] for name in triangle.names] for triangle in self.triangles])
        outward = -cross3(at[:, 1] - at[:, 0], at[:, 2] - at[:, 0])
        turns = turns_between(outward[:-1], outward[1:])
        added = np.array([self.places[triangle.names[1]] for triangle in self.triangles[1:]])
        ahead = ((added - at[:-1, 0]) * outward[:-1]).sum(axis=1)
        size = FLAT * np.sqrt((outward[:-1] ** 2).sum(axis=1)) * float(np.abs(at).max())
        return [0.0, *(0.0 if abs(a) <= s else float(t if a < 0 else -t) for t, a, s in zip(turns, ahead, size))]

    @property
    def wants_pattern(self) -> bool:
        return self.show != "views"

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        yield from self.shape_values()
        area = sum(area_of(np.array([self.places[name] for name in one.names])) for one in self.triangles)
        says = f"of its parts: the {len(self.triangles)} triangles by their three sides (Heron)"
        yield Value("pattern_area", area, "mm²", says)

    @abstractmethod
    def shape_values(self) -> Iterable[Value]: ...

    @abstractmethod
    def pairs(self) -> dict[str, list[tuple[str, str]]]:
        """The lines whose lengths a value tells, by the value's name."""

    @cached_property
    def _flat_pairs(self) -> dict[frozenset[str], tuple[str, str]]:
        """The keys on the flat of every two places that a triangle joins; the first where there are two."""
        found: dict[frozenset[str], tuple[str, str]] = {}
        for triangle in self.triangles:
            for a, b in ((0, 1), (1, 2), (2, 0)):
                key = frozenset((triangle.names[a], triangle.names[b]))
                found.setdefault(key, (triangle.keys[a], triangle.keys[b]))
        return found

    def told_by(self, pairs: Sequence[tuple[str, str]]) -> tuple[str, ...]:
        """The keys on the flat of that line of these which the elevation shows shortest against its true length."""
        if not self.wants_pattern:
            return ()
        one, other = max(pairs, key=lambda pair: abs(float(self.places[pair[0]][1] - self.places[pair[1]][1])))
        return self._flat_pairs.get(frozenset((one, other)), (one, other))

    def measure(self, found: Found) -> dict[str, Number]:
        flat, out = self.is_developed(found), dict[str, Number]()
        for name, pairs in self.pairs().items():
            ends = [self._flat_pairs.get(frozenset(pair), pair) if flat else pair for pair in pairs]
            out[name] = np.stack([distance(found[a], found[b]) for a, b in ends], axis=-1)
        total = np.zeros(())
        for triangle in self.triangles:
            a, b, c = (found[name] for name in (triangle.keys if flat else triangle.names))
            if flat:
                u, v = b - a, c - a
                twice = np.abs(u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0])
            else:
                twice = np.asarray(length(cross3(b - a, c - a)))
            total = total + twice / 2
        out["pattern_area"] = total
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        for rim, words in zip(self.rims, ("bottom", "top")):
            off = [found[name] - at for name, at in rim.items()]
            yield Truth(f"Every place of the {words} stands where the givens have it", np.array(off))
        if not self.wants_pattern:
            return
        ends = [
            (t.keys[a], t.keys[b], t.names[a], t.names[b]) for t in self.triangles for a, b in ((0, 1), (1, 2), (2, 0))
        ]
        true = np.array([self.gap(one, other) for _, _, one, other in ends])
        flat = np.array([float(distance(found[a], found[b])) for a, b, _, _ in ends])
        yield Truth("Every length on the pattern is the length on the surface", flat - true)
        pattern = self.pattern(found)
        yield Truth("Folded by its own fold angles, all edges that are shared come together", pattern.gap())
        yield Truth("Folded up, every corner lies where it is on the surface", pattern.stray())

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        return [(f"{low} {high}", self.places[low], self.places[high]) for low, high in self.slants]

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        foot, places = found["O.front"], list(self.places.values())
        right = foot + point(max(float(at[0]) for at in places), 0.0)
        low, high = (self._rightmost(places, z) for z in (0.0, self.height))
        yield upright(foot + low, foot + high, "height", self.height, -1, past=right)
        yield from told(self.own_dimensions(found))

    def _rightmost(self, places: Sequence[Array], level: float) -> Array:
        """Of the places at a level the one furthest to the right, as the elevation has it; the middle where there is
        none, as of a tilted top."""
        there = [float(at[0]) for at in places if abs(float(at[2]) - level) < 1e-6 * max(self.height, 1.0)]
        return point(max(there, default=self.offset_x), level)

    def own_dimensions(self, found: Found) -> Iterator[Dimension]:
        """The givens of its ends, in the top view."""
        yield from self.offset_dimensions(found, ("offset_x", "offset_y"))

    def offset_dimensions(self, found: Found, names: tuple[str, str]) -> Iterator[Dimension]:
        """How far the middle of the top lies from that of the base."""
        at = found["O.top"] + point(self.given_values[names[0]], -self.given_values[names[1]])
        yield level(found["O.top"], at, names[0], abs(self.given_values[names[0]]))
        yield upright(found["O.top"], at, names[1], abs(self.given_values[names[1]]))

    def round_top(self, found: Found, name: str) -> Iterator[Dimension]:
        """The circle of the top, in the view where it shows truly, and how far it is tilted."""
        size, tilt = float(self.given_values[name]), float(self.given_values.get("tilt", 0.0))
        if tilt:
            middle, half = found["O.front"] + point(self.offset_x, self.height), direction(-tilt) * size / 2
            yield Linear(middle - half, middle + half, name, size, 1, prefix="⌀")
            yield from_level(middle - half, -tilt, "tilt")
        else:
            middle = found["O.top"] + point(self.offset_x, -self.offset_y)
            yield Radial(middle, size / 2, name, size, 45.0, diameter=True)

    def below(self, found: Found, names: tuple[str, str]) -> Iterator[Dimension]:
        """The rectangle of the base."""
        return self._rectangle(row(found, "B", 1, 4, ".top"), names)

    def above(self, found: Found, names: tuple[str, str]) -> Iterator[Dimension]:
        """The rectangle of the top."""
        return self._rectangle(row(found, "T", 1, 4, ".top"), names)

    def _rectangle(self, corners: Sequence[Array], names: tuple[str, str]) -> Iterator[Dimension]:
        a, b, c, d = corners
        yield Linear(d, c, names[0], self.given_values[names[0]], outside(corners, d, c))
        yield Linear(c, b, names[1], self.given_values[names[1]], outside(corners, c, b))

    # in space

    def _parts(self) -> list[int]:
        """Which part of the surface every triangle is of: flat or round pieces between two edges of the body, from the
        seam on."""
        found, part = [], 1
        for k, one in enumerate(self.triangles):
            part += bool(k) and not self.is_smooth(one.names[0], one.names[2])
            found.append(part)
        low, high = self.walk[:2]
        if self.is_smooth(low, high) or low in SPLIT:  # the seam parts a piece that is one
            found = [1 if mine == part else mine for mine in found]
        return found

    def is_smooth(self, one: str, other: str) -> bool:
        """Whether the line between two places is no edge of the body."""
        return f"{one} {other}" in self.smooth or f"{other} {one}" in self.smooth

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        sides = [
            Face(np.array([self.places[name] for name in one.names]), part)
            for one, part in zip(self.triangles, self._parts())
        ]
        bottom, top = (np.array(list(rim.values())) for rim in self.rims)
        return [*sides, Face(bottom[::-1]), *([Face(top)] if len(top) > 2 else [])]

    def cut_out(self, found: Found) -> Sequence[Part]:
        if not self.wants_pattern:
            return ()
        feet, tops = (
            [f"{letter}{k}" for k in range(1 + sum(one.upper == upper for one in self.triangles))]
            for letter, upper in (("Q", False), ("P", True))
        )
        edges = [Edge(a, b, "base") for a, b in pairwise(feet)]
        edges += [
            Edge(feet[-1], tops[-1], "seam"),
            *(Edge(a, b, "top") for a, b in pairwise(tops[::-1])),
            Edge("P0", "Q0", "side"),
        ]
        return [Part("The pattern", edges)]

    def pattern(self, found: Found) -> Pattern:
        """The triangles as they were found, each hung on the one before."""
        folds, pieces = self.flat_folds(), []
        for k, one in enumerate(self.triangles):
            flat = np.array([found[key] for key in one.keys])
            hinge = flat[[0, 2]]
            pieces.append(FlatPiece(one.names, flat, k - 1, folds[k], hinge, hinge))
        first = self.triangles[0]
        root = resting(pieces[0].flat, np.array([self.places[name] for name in first.names]))
        return Pattern(pieces, root, self.places)
