"""Two cylinders that meet: a branch on a main, their curve, the branch's pattern and the hole in the main's."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved, Developed, Edge, Face, Part, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear, Radial, level, told
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import STRICT, Angle, Choice, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm, trim
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.meeting import TOUCH, Meeting, rooms
from wise_compass.geometry.skins import RoundSkin
from wise_compass.geometry.unfold import FlatPiece, Pattern, resting
from wise_compass.geometry.vectors import Array, Number, cosd, distance, left_of, multiples, point, point3, sind, unit

STUB = 14.0
"""How much of the main is drawn beyond the hole."""
SKIN = 10.0
"""Degrees between two edges of the branch's skin in the space view, at most."""
BRANCH, MAIN = 1, 2
"""Their skins, by which an edge within one is told from the curve where they meet."""
ROUND = "angle round the branch"
SHOWN = {"views": "the views", "pattern": "the views and the patterns", "all": "all of it"}


class MeetingStation(NamedTuple):
    """A cutting plane's point of the curve: its letter, its division angle, and which division it is, if one."""

    name: str
    turn: float
    division: int | None


class MeetingCylinders(
    Curved, Solid, Developed, Figure, id="meeting-cylinders", family="solids", title="Two cylinders that meet"
):
    keys = ("E", "M", "O", "P*", "ZP*")
    brief = (
        "A main pipe {main_diameter} wide and a branch {branch_diameter} wide that rises "
        "from it at {angle}, their axes {offset} apart, "
        "the branch {branch_length} long, in {divisions} divisions. Draw {show}, with {method}."
    )
    summary = "A pipe branch, a spout on a drum: the curve where they meet, the branch's pattern, the hole in the main."
    across = ("main_diameter", "branch_diameter")
    hazards = (hazards.SHEET, hazards.DUCT)
    value_names = ("element_lengths", "longest", "shortest", "hole_length", "hole_width")
    ways = ("cutting-planes",)

    main_diameter = Length(64, "the diameter of the main")
    branch_diameter = Length(40, "the diameter of the branch", most="main_diameter")
    angle = Angle(60, "the angle between the axes", least=15, most=90)
    offset = Length(0, "how far the branch's axis lies in front of the main's", least=-20000)
    branch_length = Length(78, "the branch's length, from where the axes come nearest to its end")
    divisions = Count(12, "the divisions round the branch", 8, 72, multiple=2)
    show = Choice("all", "what is drawn", tuple(SHOWN), SHOWN)

    def refuse(self) -> None:
        room = self.main - self.branch
        if abs(self.offset) > room * (1 + TOUCH) + TOUCH * self.main:
            raise Refused(
                "offset",
                f"The axes are {mm(abs(self.offset))} apart: part of the branch would "
                "pass beside the main. Lower offset to "
                f"{most_mm(room)} at most, or branch_diameter.",
            )
        least = float(np.max(self.reached(np.linspace(0.0, 360.0, 721))))
        if self.branch_length < least + STRICT / 2:
            raise Refused(
                "branch_length",
                f"The branch is {mm(self.branch_length)} long and does not clear the "
                "main all round. Raise branch_length to "
                f"{least_mm(least + STRICT)} at least.",
            )

    # what it is

    @property
    def main(self) -> float:
        """The main's radius."""
        return self.main_diameter / 2

    @property
    def branch(self) -> float:
        """The branch's radius."""
        return self.branch_diameter / 2

    @property
    def equal(self) -> bool:
        """Whether both are as wide, so that they meet in two flat ellipses."""
        return self.main - self.branch <= TOUCH * self.main

    @property
    def wants_patterns(self) -> bool:
        return self.show != "views"

    def depth(self, turn: Number) -> Number:
        """How far in front of the main's axis a division stands."""
        return self.offset + self.branch * np.asarray(sind(turn))

    def height(self, turn: Number) -> Number:
        """How high over the main's axis its upper skin stands there; 0 where the branch touches the main's side."""
        front, back = rooms(self.main, self.branch, self.offset, turn)
        return np.sqrt(np.maximum(front * back, 0.0))

    @cached_property
    def corners(self) -> list[float]:
        """The division angles at which the branch touches the main's side: there the curve has a corner."""
        return [turn for turn in (90.0, 270.0) if self.height(turn) == 0]

    def reached(self, turn: Number) -> Number:
        """How far along the branch's axis an element meets the main, from where the axes come nearest."""
        aside = self.branch * np.asarray(cosd(turn))
        return (self.height(turn) + aside * float(cosd(self.angle))) / float(sind(self.angle))

    def curve(self, turn: Number) -> Array:
        """The curve in which they meet, in space."""
        aside, along = self.branch * np.asarray(cosd(turn)), self.reached(turn)
        x = aside * float(sind(self.angle)) + along * float(cosd(self.angle))
        return np.asarray(point3(x, self.depth(turn), self.height(turn)), dtype=np.float64)

    def end(self, turn: Number) -> Array:
        """The rim of the branch's end, in space."""
        aside = self.branch * np.asarray(cosd(turn))
        s, c = float(sind(self.angle)), float(cosd(self.angle))
        return point3(aside * s + self.branch_length * c, self.depth(turn), self.branch_length * s - aside * c)

    @cached_property
    def lengths(self) -> Array:
        """Of every element, (n,)."""
        c, s = float(cosd(self.angle)), float(sind(self.angle))
        aside = self.branch * np.asarray(cosd(self.turns))
        main = RoundSkin(np.zeros(3), point3(1.0, 0.0, 0.0), self.main)
        _, out = main.hits(point3(aside * s, self.depth(self.turns), -aside * c), point3(c, 0.0, s))
        return np.asarray(self.branch_length - out)

    @property
    def turns(self) -> Array:
        return multiples(360.0 / self.divisions, self.divisions)

    @cached_property
    def stations(self) -> list[MeetingStation]:
        """All cutting planes in order round the branch: its divisions, and those of the highest and the lowest
        points."""
        found = [MeetingStation(f"P{k}", float(turn), k) for k, turn in enumerate(self.turns)]
        extra = [("L1", 90.0), ("L2", 270.0)]
        if abs(self.offset) < self.branch * (1 - 1e-6):
            high = float(np.rad2deg(np.arcsin(-self.offset / self.branch)))
            extra += [("H1", high % 360.0), ("H2", 180.0 - high)]
        for name, turn in extra:
            if min(abs((turn - one.turn + 180.0) % 360.0 - 180.0) for one in found) > 1e-6:
                found.append(MeetingStation(name, turn, None))
        return sorted(found, key=lambda one: one.turn)

    @property
    def opened(self) -> list[MeetingStation]:
        """The stations of the branch's pattern: its divisions, and the corners of the curve."""
        return [one for one in self.stations if one.division is not None or self.is_corner(one)]

    def is_corner(self, one: MeetingStation) -> bool:
        """Whether the curve has a corner at a station."""
        return any(abs(one.turn - turn) < 1e-6 for turn in self.corners)

    def at(self, turn: float) -> MeetingStation:
        """The station at an angle, the nearest."""
        return min(self.stations, key=lambda one: abs((turn - one.turn + 180.0) % 360.0 - 180.0))

    def arc(self, turn: Number) -> Number:
        """How far round the main a point of the curve lies from its top, developed."""
        return self.main * np.arcsin(np.clip(np.asarray(self.depth(turn)) / self.main, -1.0, 1.0))

    @cached_property
    def hole(self) -> tuple[float, float]:
        """The first and the last place of the hole along the main."""
        ends = []
        for sign in (1.0, -1.0):
            tried, step = np.linspace(0.0, 360.0, 1441), 0.25
            for _ in range(6):  # nearer and nearer about the furthest place
                x = sign * self.curve(tried)[..., 0]
                best = float(tried[int(np.argmin(x))])
                tried, step = np.linspace(best - step, best + step, 65), step / 32
            corners = [sign * float(self.curve(turn)[..., 0]) for turn in self.corners]
            ends.append(sign * min(float(x.min()), *corners, np.inf))
        return ends[0], ends[1]

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        marks = ("S0", "Q0") if self.wants_patterns else ("P0",)
        says = (
            f"{bare(self.branch_length)} − (√({bare(self.main)}² − y²) + u cos "
            f"{trim(self.angle)}°) / sin {trim(self.angle)}°"
        )
        yield Value(
            "element_lengths",
            [float(x) for x in self.lengths],
            "mm",
            f"{says}, of divisions 0 to {self.divisions - 1}",
            marks,
        )
        for name, pick in (("longest", np.argmax), ("shortest", np.argmin)):
            k = int(pick(self.lengths))
            far = bare(float(self.reached(self.turns[k])))
            yield Value(
                name, float(self.lengths[k]), "mm", f"{bare(self.branch_length)} − {far}, of division {k}", (f"P{k}",)
            )
        start, end = self.hole
        yield Value("hole_length", end - start, "mm", f"{bare(end)} − ({bare(start)}), along the main")
        reach = [self.offset + way * self.branch for way in (1, -1)]
        width = self.main * float(
            np.arcsin(min(reach[0] / self.main, 1.0)) - np.arcsin(max(reach[1] / self.main, -1.0))
        )
        working = (
            f"π × {bare(self.main)} × (arcsin({bare(reach[0])} / {bare(self.main)}) − "
            f"arcsin({bare(reach[1])} / {bare(self.main)}))"
        )
        yield Value("hole_width", width, "mm", f"{working} / 180°", self._lowest("J") if self.wants_patterns else ())

    def _lowest(self, letter: str) -> tuple[str, str]:
        """The keys of the lowest points in the hole's pattern."""
        one, other = (self.at(turn).name for turn in (90.0, 270.0))
        return letter + one, letter + other

    def measure(self, found: Found) -> dict[str, Number]:
        if "Q0" not in found:
            return {}
        lengths = np.stack([distance(found[f"Q{k}"], found[f"S{k}"]) for k in range(self.divisions)], axis=-1)
        one, other = (found[key] for key in self._lowest("J"))
        return {
            "element_lengths": lengths,
            "longest": lengths.max(axis=-1),
            "shortest": lengths.min(axis=-1),
            "hole_width": np.abs(one[..., 1] - other[..., 1]),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        stations, o = self.stations, found["O"]
        at = found.together([one.name for one in stations])
        deep = found["M"][0] - found.together([f"Z{one.name}" for one in stations])[:, 0]
        yield Truth("Every point of the curve lies on the main", np.hypot(at[:, 1] - o[1], deep) - self.main)
        across = unit(found["E"] - o)
        aside = (at - o) @ np.array([across[1], -across[0]])
        yield Truth("Every point of the curve lies on the branch", np.hypot(aside, deep - self.offset) - self.branch)
        yield Truth(
            f"The branch ends {mm(self.branch_length)} from the main’s axis",
            distance(o, found["E"]) - self.branch_length,
        )
        rise = float(np.rad2deg(np.arctan2(across[1], across[0])))
        yield Truth(f"The axes meet at {trim(self.angle)}°", rise - self.angle, "°")
        if self.equal:
            yield Truth(
                "As both are as wide, the curve is two straight lines in the elevation", self._off_straight(found)
            )
        if self.wants_patterns:
            yield from self._pattern_truths(found)

    def _off_straight(self, found: Found) -> Array:
        corner = found[self.at(90.0).name]
        off = []
        for one in self.stations:
            end = found[self.at(0.0 if cosd(one.turn) > 0 else 180.0).name]
            u = unit(end - corner)
            off.append(float((found[one.name] - corner) @ left_of(u)))
        return np.array(off)

    def _pattern_truths(self, found: Found) -> Iterator[Truth]:
        flat = np.array([distance(found[f"Q{k}"], found[f"S{k}"]) for k in range(self.divisions)])
        solid = np.array([distance(self.end(turn), self.curve(turn)) for turn in self.turns])
        yield Truth("Every element of the pattern is as long as in space", flat - solid)
        yield Truth(
            "The pattern is as wide as the branch is round",
            distance(found["Q0"], found["Qn"]) - 2 * np.pi * self.branch,
        )
        yield Truth("Folded by its own fold angles, all edges that are shared come together", self.pattern(found).gap())
        rolled = []
        for one in self.stations:
            x, s = found[f"J{one.name}"] - found["T"]
            turn = s / self.main
            place = np.array([x, -self.main * np.sin(turn), self.main * np.cos(turn)])
            rolled.append(place - self.curve(one.turn))
        yield Truth("Rolled round the main, the rim of the hole is the branch’s curve", np.array(rolled))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        o, end = found["O"], found["E"]
        yield Angular(o, 0.0, self.angle, "angle", self.angle, reach=26.0)
        yield Linear(o, end, "branch_length", self.branch_length, side=1, rank=4)
        yield Radial(end, self.branch, "branch_diameter", self.branch_diameter, 60.0, diameter=True)
        if "M" in found:
            yield Radial(found["M"], self.main, "main_diameter", self.main_diameter, 225.0, diameter=True)
            yield from told([level(found["M"], found["N"], "offset", abs(self.offset), side=1)])
        else:
            yield Leader(o + point(0.0, -self.main), "main_diameter", self.main_diameter, "main ⌀")

    # its curves

    def courses(self, method: str) -> Sequence[Course]:
        meeting = Meeting(self.main, self.branch, self.angle, self.offset)
        names = [one.name for one in self.stations]
        found = []
        if not self.equal:
            found.append(self._round("the curve where they meet", meeting.side_curve(), names))
        if self.wants_patterns:
            keys = [f"S{one.name if one.division is None else one.division}" for one in self.opened] + ["Sn"]
            turns = np.array([*(one.turn for one in self.opened), 360.0])
            breaks = tuple(k for k, one in enumerate(self.opened) if self.is_corner(one))
            edge = meeting.branch_edge(self.branch_length)._replace(closed=False)
            found.append(
                Course("the edge of the branch’s pattern", edge, turns, tuple(keys), breaks, turn=ROUND, afloat=True)
            )
            found.append(self._round("the hole in the main", meeting.hole(), [f"J{name}" for name in names]))
        return tuple(found)

    def _round(self, says: str, curve: Curve, names: Sequence[str]) -> Course:
        """A closed curve by the stations; where it has a corner it begins and ends there."""
        turns = np.array([one.turn for one in self.stations])
        places = [k for k, one in enumerate(self.stations) if self.is_corner(one)]
        if not places:
            return Course(says, curve, turns, tuple(names), turn=ROUND, afloat=True)
        first, *others = places
        order = [k % len(turns) for k in range(first, first + len(turns) + 1)]
        turned = (turns[order] - turns[first]) % 360.0 + turns[first]
        turned[-1] = turns[first] + 360.0
        opened = curve._replace(first=float(turned[0]), last=float(turned[-1]), closed=False)
        breaks = tuple(k - first for k in others)
        return Course(says, opened, turned, tuple(names[k] for k in order), breaks, turn=ROUND, afloat=True)

    # in space

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        return [(f"element {k}", self.end(turn), self.curve(turn)) for k, turn in enumerate(self.turns)]

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        turns = self._skin_turns
        count = len(turns)
        faces = []
        for k in range(count):
            a, b = turns[k], turns[(k + 1) % count]
            faces.append(Face(np.array([self.curve(b), self.curve(a), self.end(a), self.end(b)]), BRANCH))
        faces.append(Face(np.array([self.end(turn) for turn in reversed(turns)])))
        return [*faces, *self._main_skin()]

    @property
    def _skin_turns(self) -> list[float]:
        """Where round the branch its skin has edges: at its divisions, its lowest points, and closer where those are
        wide apart."""
        turns = {round(one.turn, 9) % 360.0 for one in self.stations}
        turns |= {round(180.0 - turn, 9) % 360.0 for turn in turns}
        return sorted(turns | set(np.arange(0.0, 360.0, SKIN).tolist()))

    @property
    def stub(self) -> tuple[float, float]:
        """From where to where along its axis the main is drawn."""
        start, end = self.hole
        return min(start, -self.branch) - STUB, max(end, self.branch) + STUB

    def _main_skin(self) -> Iterator[Face]:
        left, right = self.stub
        front = [turn for turn in self._skin_turns if -1e-9 <= (turn + 90.0) % 360.0 <= 180.0 + 1e-9]
        front = sorted(front, key=lambda turn: float(self.depth(turn)))
        for a, b in zip(front[:-1], front[1:]):
            for end, way in ((left, 180.0), (right, 0.0)):
                rim = [self.curve(180.0 - turn if way else turn) for turn in (a, b)]
                far = [np.array([end, *one[1:]]) for one in rim]
                corners = [far[0], far[1], rim[1], rim[0]] if way else [rim[0], rim[1], far[1], far[0]]
                yield Face(np.array(corners), MAIN)
        last, first = (float(np.arcsin(np.clip((self.offset + s * self.branch) / self.main, -1, 1))) for s in (1, -1))
        places = np.linspace(last, first + 2 * np.pi, 19)
        rims = [np.array([[x, self.main * np.sin(t), self.main * np.cos(t)] for t in places]) for x in (left, right)]
        for k in range(len(places) - 1):
            # the hole's rim touches the strips beside it
            near = [self.curve(90.0)] if k == 0 else []
            far = [self.curve(270.0)] if k == len(places) - 2 else []
            yield Face(np.array([rims[0][k], rims[0][k + 1], *far, rims[1][k + 1], rims[1][k], *near]), MAIN)
        whole = np.linspace(0, 2 * np.pi, 37)[:-1]
        for x, way in ((left, -1), (right, 1)):
            yield Face(np.array([[x, self.main * np.sin(t), self.main * np.cos(t)] for t in whole])[::way])

    def pattern(self, found: Found) -> Pattern:
        """The branch's pattern, which rolls up to as many sides as it has divisions; a narrower strip turns by less."""
        n, pieces = self.divisions, []
        keys = [*(str(k) for k in range(n)), "n"]
        wide = [float(distance(found[f"Q{keys[k]}"], found[f"Q{keys[k + 1]}"])) for k in range(n)]
        for k in range(n):
            flat = np.array(
                [found[f"{letter}{keys[j]}"] for letter, j in (("Q", k), ("Q", k + 1), ("S", k + 1), ("S", k))]
            )
            names = tuple(f"{letter}{j % n}" for letter, j in (("Q", k), ("Q", k + 1), ("S", k + 1), ("S", k)))
            corner = [one.name for one in self.opened if one.division is None and k < one.turn * n / 360.0 < k + 1]
            if corner:
                names = (*names[:3], f"S{corner[0]}", names[3])
                flat = np.insert(flat, 3, found[f"S{corner[0]}"], axis=0)
            hinge = np.array([flat[0], flat[0] + left_of(unit(found["Qn"] - found["Q0"]))])
            fold = float(np.rad2deg((wide[k - 1] + wide[k]) / 2 / self.branch)) if k else 0.0
            pieces.append(FlatPiece(names, flat, k - 1, fold, hinge, hinge))
        first, lies = pieces[0].flat, self._developed
        root = resting(
            np.array([first[0], first[1], first[0] + left_of(first[1] - first[0])]),
            np.array([lies["Q0"], lies["Q1"], lies["S0"]]),
        )
        return Pattern(pieces, root, lies)

    def cut_out(self, found: Found) -> Sequence[Part]:
        if "Q0" not in found:
            return ()
        n = self.divisions
        feet = [*(f"Q{k}" for k in range(n)), "Qn"]
        tops = [f"S{one.division if one.division is not None else one.name}" for one in self.opened] + ["Sn"]
        branch = [Edge(a, b, "base") for a, b in pairwise(feet)]
        branch += [
            Edge("Qn", "Sn", "seam"),
            *(Edge(a, b, "cut") for a, b in pairwise(tops[::-1])),
            Edge("S0", "Q0", "side"),
        ]
        rim = [f"J{one.name}" for one in self.stations]
        hole = [Edge(a, b, "hole") for a, b in zip(rim, rim[1:] + rim[:1])]
        return [Part("The branch", branch), Part("The hole in the main", hole)]

    @property
    def _developed(self) -> dict[str, Array]:
        """Where the corners of the pattern belong: on a branch of flat sides that is as far round."""
        n, ends = self.divisions, self.end(self.turns)
        middle = ends.mean(axis=0)
        ends = middle + (ends - middle) * float(np.pi / n / np.sin(np.pi / n))
        along = self.curve(self.turns) - self.end(self.turns)
        return {f"Q{k}": ends[k] for k in range(n)} | {f"S{k}": ends[k] + along[k] for k in range(n)}
