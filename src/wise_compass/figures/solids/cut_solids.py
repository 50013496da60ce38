"""What prisms, pyramids, cylinders and cones share: an upright solid on the horizontal plane, cut or whole, its section
and pattern.

In ``figures/solids/``, ``cut_solids.py`` is what prisms, pyramids, cylinders and cones share; ``upright.py`` draws
their views, cut and true section, once for all; ``strips.py`` knows a pattern as a row of strips from the seam round to
it again (``Q0`` … ``Qn`` feet, ``P0`` … ``Pn`` upper ends, ``W`` the apex); ``prisms.py`` develops by parallel lines,
``radial.py`` by radial lines, ``lining.py`` lines a pattern in. ``seen.py`` tells what is hidden of a solid in any
position, ``cut_courses.py`` the true curves of round cuts. Figures of their own: ``frusta.py``, ``oblique_cones.py``,
``tilted.py``, ``meeting.py``, and their methods.

Steps of a pattern, of true lengths or of an earlier stage lie in no view (``Draft.apart``); folds are lined in as
``Role.FOLD``. ``Figure.skin`` gives the faces of the solid (and of the part that is cut off), ``Figure.pattern`` the
pattern, ``Figure.true_lines`` the lines for the table of true lengths. ``scene/order.py`` paints faces so that the
nearest is last; ``desk/round/roundmodes.py`` chooses between planes, solid and pattern, and which slip is folded up.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any, ClassVar

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Developed, Face, InViews, Part, Solid
from wise_compass.drafting.dimensions import Angular, Dimension, Radial, edge_of, from_level, row, told, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import STRICT, Angle, Choice, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare_area, least_mm, mm, most_mm, trim
from wise_compass.figures.solids.seams import refuse_seam
from wise_compass.figures.solids.strips import Strips
from wise_compass.geometry.planes import Plane, distance_to_plane
from wise_compass.geometry.round_cuts import RoundCut
from wise_compass.geometry.solids import CutStock, Stock, area_of, falling_plane
from wise_compass.geometry.unfold import Pattern
from wise_compass.geometry.vectors import Array, Number, cosd, distance, length, point, tand

SHOWN = {
    "views": "the views",
    "section": "the views and the true section",
    "pattern": "the views and the pattern",
    "all": "all of it",
}
STEEP_CUT = 45.0
"""Degrees from which the true section lies more beside the elevation than above it."""
UNCUT = "nothing is cut off"


class CutSolid(InViews, Solid, Developed, Figure):
    """Base of the upright solids. ``stock`` is the solid before it is cut, ``cutting`` what stays of it."""

    round = False
    hazards = (hazards.SHEET,)
    value_names: ClassVar[Sequence[str]] = ("volume", "surface", "section_area", "edge_lengths", "lateral_area")

    cut = Choice("plane", "the cut", ("none", "plane"), {"none": "by nothing", "plane": "by a plane"})
    cut_angle = Angle(30, "how far the cutting plane falls to the right, from the level", least=0, under=90)
    cut_height = Length(40, "how far up the axis the plane cuts it", least=0)
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    opens = ""
    """The beginning of the brief, which names the solid and its own givens."""

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        plane = ", {cut_height} up its axis, falling to the right at {cut_angle}"
        cut = f", cut {{cut}}{plane if givens.get('cut') == 'plane' else ''}"
        return f"{cls.opens}{cut}; the seam on {cls.lines_called} {{seam}}. Draw {{show}}, with {{method}}."

    lines_called = "edge"

    # what it is

    @cached_property
    @abstractmethod
    def stock(self) -> Stock: ...

    @property
    def tall(self) -> float:
        """The height of the whole solid."""
        return float(self.given_values["height"])

    @property
    @abstractmethod
    def reach(self) -> float:
        """The radius of the circle that the base stands on."""

    @property
    def seam_place(self) -> int:
        """The number of the seam's line, counted from 0."""
        return int(self.given_values["seam"]) - self.stock.first

    @property
    def plane(self) -> Plane | None:
        return falling_plane(self.cut_height, self.cut_angle) if self.cut == "plane" else None

    @property
    def slope(self) -> float:
        return float(tand(self.cut_angle))

    @cached_property
    def cutting(self) -> CutStock:
        return CutStock(self.stock, self.plane)

    @property
    def wanted(self) -> tuple[bool, bool]:
        """Whether the true section and the pattern are to be drawn."""
        return self.show in ("section", "all") and self.cut == "plane", self.show in ("pattern", "all")

    def refuse(self) -> None:
        numbers = self.stock.numbers
        refuse_seam(int(self.given_values["seam"]), numbers[0], numbers[-1], self.lines_called)
        if self.cut == "plane":
            self._refuse_miss()

    def _refuse_miss(self) -> None:
        """A plane must leave something, and meet the solid in more than a point or a line."""
        kept = self.cutting
        if not kept.stays:
            raise Refused(
                "cut_height", f"The plane leaves nothing of it; raise cut_height to {least_mm(STRICT)} at least."
            )
        if self._meets(kept, self.cut_height):
            return
        at = np.array(list(kept.stock.places.values()))
        over, below = float((at[:, 2] + at[:, 0] * self.slope).max()), 0.0
        most = over
        while most > 0 and not self._meets(self._cut_at(most), most):  # the first that leaves more than a sliver
            below = max(2 * below, STRICT)
            most = float(np.floor((over - below) / STRICT) * STRICT)
        raise Refused(
            "cut_height",
            f"At {trim(self.cut_angle)}° a plane {mm(self.cut_height)} up the axis "
            "misses the solid, or only touches it. Lower "
            f"cut_height to {most_mm(most)} at most, or change cut_angle.",
        )

    def _cut_at(self, height: float) -> CutStock:
        return CutStock(self.stock, falling_plane(height, self.cut_angle))

    def _meets(self, kept: CutStock, height: float) -> bool:
        """Whether what a plane leaves has a section of some size."""
        least = kept.same * kept.stock.size
        exact = self.exact_cut_at(height)
        if exact is not None and exact.section > least:
            return True
        return len(kept.section) > 2 and (self.round or area_of(kept.loop(kept.section)) > least)

    # the rim of the cut

    @property
    def section_chains(self) -> list[tuple[list[str], bool]]:
        """The rim of the cut in pieces: straight across base and top, else as the solid is; a closed piece ends where
        it begins."""
        names = list(self.cutting.section)
        n = len(names)
        straight = [self._across(names[k], names[(k + 1) % n]) for k in range(n)]
        if not any(straight) or not self.round:
            curved = self.round
            if not self.round:
                return [([names[k], names[(k + 1) % n]], False) for k in range(n)]
            return [([*names, names[0]], curved)]
        start = next(k for k in range(n) if straight[k - 1])
        chains: list[tuple[list[str], bool]] = []
        run = [names[start]]
        for k in range(start, start + n):
            here, after = names[k % n], names[(k + 1) % n]
            if straight[k % n]:
                if len(run) > 1:
                    chains.append((run, "V" not in run))
                chains.append(([here, after], False))
                run = [after]
            else:
                run.append(after)
        return chains if len(run) < 2 else [*chains, (run, "V" not in run)]

    def _across(self, one: str, other: str) -> bool:
        """Whether the cut runs straight between two corners: along the base or the top, or through the apex."""
        if "V" in (one, other):
            return True
        levels = {name[0] for name in (one, other)}
        if not (levels <= {"E", "B"} or levels <= {"F", "T"}):
            return False
        count = self.stock.count
        if levels <= {"B", "T"}:
            return (int(one[1:]) - int(other[1:])) % count not in (1, count - 1) or len(self.cutting.section) < count
        return True

    # what is told

    def exact_cut_at(self, height: float) -> RoundCut | None:
        """Areas and volume of what a plane ``height`` up the axis leaves of a round solid; None of a flat-sided one."""
        return None

    @property
    def bulk(self) -> RoundCut:
        """Areas and volume of what stays."""
        kept = self.cutting
        flat = [area_of(kept.loop(names)) for names in (kept.section, kept.base, kept.top)]
        return RoundCut(kept.volume, kept.lateral_area, *flat)

    def values(self, method: str) -> Iterable[Value]:
        kept, bulk = self.cutting, self.bulk
        cut = self.cut == "plane"
        yield Value("volume", bulk.volume, "mm³", self.volume_says)
        areas = {"lateral": bulk.lateral, "base": bulk.base, "top": bulk.top, "section": bulk.section if cut else 0.0}
        areas = {name: area for name, area in areas.items() if area > 0}
        says = f"{' + '.join(map(bare_area, areas.values()))}: {', '.join(areas)}"
        yield Value("surface", sum(areas.values()), "mm²", says)
        section = tuple(f"{name}.3" for name in kept.section) if self.wanted[0] else ()
        over = bare_area(bulk.section * float(cosd(self.cut_angle)))
        working = f"{over} / cos {trim(self.cut_angle)}°, its area in plan" if cut else UNCUT
        yield Value("section_area", bulk.section if cut else None, "mm²", working, section)
        lengths = [kept.line_length(k) for k in range(self.stock.count)]
        yield Value("edge_lengths", lengths, "mm", self.lengths_say)
        yield Value("lateral_area", bulk.lateral, "mm²", self.lateral_says)

    @property
    def volume_says(self) -> str:
        return "of its parts: the area of every face × its distance from a place inside / 3"

    @property
    def lateral_says(self) -> str:
        kept = self.cutting
        return " + ".join(bare_area(area_of(kept.loop(names))) for names in kept.faces if names)

    @property
    def lengths_say(self) -> str:
        first, last = self.stock.numbers[0], self.stock.numbers[-1]
        return f"what is left of {self.lines_called} {first} to {last}, in true length"

    def measure(self, found: Found) -> dict[str, Number]:
        kept = self.cutting
        out: dict[str, Number] = {}
        if self.is_developed(found):
            strips = self.strips
            lengths = []
            for k in range(self.stock.count):
                ends, j = kept.line(k), (k - self.seam_place) % self.stock.count
                at = [found[strips.key(j, name)] for name in ends] if ends else [found["Q0"], found["Q0"]]
                lengths.append(distance(*at))
            out["edge_lengths"] = np.stack(np.broadcast_arrays(*lengths), axis=-1)
            if not self.round:
                areas = [_area(found, [strips.key(j, name) for name in names]) for j, names in strips.faces]
                out["lateral_area"] = sum(areas)
        if self.wanted[0] and not self.round:
            out["section_area"] = _area(found, [f"{name}.3" for name in kept.section])
        return out

    # what defines it

    def truths(self, found: Found) -> Iterator[Truth]:
        yield from self.stock_truths(found)
        kept, plane = self.cutting, self.plane
        if plane is not None:
            off = [distance_to_plane(found[name], plane) for name in kept.section]
            yield Truth("Every corner of the cut lies in the cutting plane", np.array(off))
            yield Truth(
                "Every corner of the cut lies on an edge or a generator", np.array(list(self._off_lines(found)))
            )
        if self.wanted[0]:
            at = kept.loop(kept.section)
            true = np.asarray(distance(at, np.roll(at, -1, axis=0)))
            shown = found.together([f"{name}.3" for name in kept.section])
            yield Truth(
                "The true section shows every side at its length", distance(shown, np.roll(shown, -1, axis=-2)) - true
            )
        if self.wanted[1]:
            yield from self.pattern_truths(found)

    def _off_lines(self, found: Found) -> Iterator[Number]:
        stock = self.stock
        for k, number in enumerate(stock.numbers):
            name = f"C{number}"
            if name in found:
                low, high = stock.base[k], np.asarray(stock.top[k])
                u = (high - low) / distance(high, low)
                off = found[name] - low
                yield length(off - (off @ u) * u)
        for name in self.cutting.section:
            if name[0] in "EF":
                yield self.off_rim(found[name])

    def off_rim(self, at: Array) -> Array:
        """How far a place is off the rim of the base or of the top."""
        ring = self.stock.base[:, :2]
        a, b = ring, np.roll(ring, -1, axis=0)
        u = (b - a) / np.asarray(distance(a, b))[:, None]
        off = at[:2] - a
        return np.asarray(np.abs(off[:, 0] * u[:, 1] - off[:, 1] * u[:, 0]).min())

    @abstractmethod
    def stock_truths(self, found: Found) -> Iterator[Truth]:
        """What defines the solid before it is cut."""

    def pattern_truths(self, found: Found) -> Iterator[Truth]:
        pattern, kept = self.pattern(found), self.cutting
        size = float(np.abs(found["Qn"] - found["Q0"]).max())
        true, flat = [], []
        for piece in pattern.pieces:
            for k, one in enumerate(piece.names):
                other = piece.names[(k + 1) % len(piece.names)]
                if not self.round or self.strips.on_one_line(one, other):
                    true.append(float(distance(kept.places[one], kept.places[other])))
                    flat.append(float(distance(piece.flat[k], piece.flat[(k + 1) % len(piece.names)])))
        yield Truth("Every length on the pattern is the length on the solid", np.array(flat) - np.array(true))
        yield Truth("Folded by its own fold angles, all edges that are shared come together", pattern.gap())
        yield Truth("Folded up, every corner lies where it is on the solid", pattern.stray())
        if not self.round:
            yield Truth(
                "The pattern is as large as the lateral faces", (pattern.area - kept.lateral_area) / max(size, 1.0)
            )

    # the pattern

    @cached_property
    def strips(self) -> Strips:
        return Strips(self.cutting, self.seam_place)

    @property
    def developed(self) -> Stock:
        """The solid that the pattern folds up to: flat between its fold lines, round ones too."""
        return self.stock

    def pattern(self, found: Found) -> Pattern:
        """The pattern as it was found on the paper, with the fold angles of the solid."""
        return self.strips.pattern(found, self.developed)

    def cut_out(self, found: Found) -> Sequence[Part]:
        return self.strips.parts() if self.wanted[1] else ()

    def widened(self, by: float) -> dict[str, Any]:
        """Of a regular polygon the wall stands as far out as the circle that touches its sides."""
        if "sides" not in self.given_values:
            return super().widened(by)
        grown = self.given_values["side"] + 2 * by * float(tand(180.0 / self.given_values["sides"]))
        return {"side": grown}

    # in space

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        """What is left of the lines, on pointed solids their distance from the apex, and the sides of a flat-sided
        cut."""
        stock, kept, found = self.stock, self.cutting, []
        for k, number in enumerate(stock.numbers):
            ends = kept.line(k)
            cut = f"C{number}" in kept.places
            if stock.pointed and (ends or cut):
                found += [("V", name) for name in (f"C{number}" if cut else "", stock.lower(k)) if name in kept.places]
            elif ends:
                found.append(ends)
        if not self.round and len(kept.section) > 2:
            found += list(zip(kept.section, (*kept.section[1:], kept.section[0])))
        places = {**stock.places, **kept.places}
        return [(f"{one} {other}", places[one], places[other]) for one, other in found if one != other]

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off and not self.cutting.cut_away:
            return ()
        return faces_of(self.cutting.upside if off else self.cutting, self.round)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        foot = found["O.front"]
        if self.cut == "plane" and self.cut_angle > 0:
            end = max(self.cutting.section, key=lambda name: float(self.cutting.places[name][0]))
            yield Angular(found[f"{end}.front"], -self.cut_angle, self.cut_angle, "cut_angle", self.cut_angle)
        side = 1 if self.wanted[0] and self.cut_angle > STEEP_CUT else -1
        beside = foot - side * point(self.reach, 0.0)
        yield upright(beside, beside + point(0.0, self.tall), "height", self.tall, side)
        if self.cut == "plane":
            yield from told([upright(beside, foot + point(0.0, self.cut_height), "cut_height", self.cut_height, side)])
        yield from self.base_dimensions(found)

    def base_dimensions(self, found: Found) -> Iterable[Dimension]:
        """The givens of its base, in the top view."""
        if self.round:
            return [Radial(found["O.top"], self.reach, "diameter", 2 * self.reach, -40.0, diameter=True)]
        corners = row(found, "B", 1, len(self.stock.base), ".top")
        turn = float(self.given_values["turn"])
        side = float(self.given_values["side"])
        return told([edge_of(corners, "side", side), from_level(found["O.top"], turn, "turn")])


def faces_of(kept: CutStock, smooth: bool) -> list[Face]:
    """The faces of what stays of a solid, its outward sides by the right hand."""
    down = kept.plane is not None and float(kept.plane.normal[2]) < 0
    cut = kept.section[::-1] if down else kept.section
    found = [Face(kept.loop(names), smooth) for names in kept.faces if names]
    found += [Face(kept.loop(names)) for names in (kept.base[::-1], kept.top) if len(names) > 2]
    return found + [Face(kept.loop(cut), cut=True)] * (len(cut) > 2)


def _area(found: Found, keys: Sequence[str]) -> Array:
    """Of a polygon found on the paper (the shoelace formula); lanes broadcast."""
    at = found.together(list(keys))
    x, y = at[..., 0], at[..., 1]
    return np.asarray(np.abs((x * np.roll(y, -1, axis=-1) - y * np.roll(x, -1, axis=-1)).sum(axis=-1)) / 2)


class RoundSolid(CutSolid):
    """What cylinders and cones share: what a plane leaves of them has closed forms."""

    @property
    @abstractmethod
    def whole(self) -> RoundCut:
        """Areas and volume of the solid that no plane cuts."""

    @abstractmethod
    def exact_cut_at(self, height: float) -> RoundCut: ...

    @cached_property
    def exact_cut(self) -> RoundCut:
        """Areas and volume of what its own plane leaves."""
        return self.exact_cut_at(self.cut_height)

    @property
    def bulk(self) -> RoundCut:
        return self.exact_cut if self.cut == "plane" else self.whole
