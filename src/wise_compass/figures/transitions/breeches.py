"""Breeches: a main pipe that parts into two legs, all three about one sphere, so that every joint is flat."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property, partial

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved, Developed, Edge, Face, Part, Solid
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Angular, Dimension, Linear, upright
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import LONGEST_LENGTH, STRICT, Angle, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, trim
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.rolled import rolled_cone, rolled_pipe, squeezed_cone, squeezed_pipe, standing, strips
from wise_compass.geometry.unfold import FlatPiece, Pattern, Placing
from wise_compass.geometry.vectors import (
    Array,
    Number,
    cosd,
    direction,
    distance,
    left_of,
    multiples,
    point,
    sind,
    tand,
)

SAME = 1e-6
"""Degrees between two places round a pipe that are one."""
ROUND = 36
"""Sides of a pipe's skin in the space view."""


HALF_ROUND = np.diag([-1.0, -1.0, 1.0])


class Breeches(Curved, Solid, Developed, Figure, id="breeches", family="transitions", title="Breeches"):
    keys = ("A", "B", "C", "F", "M*", "N*", "O", "Q*", "S*", "W", "Z")
    brief = (
        "A main {main_diameter} wide parts into two legs {leg_diameter} wide at their ends, each {spread} from the "
        "upright and {leg_length} long; the main is {main_length} long. In {divisions} divisions, found with {method}."
    )
    summary = "A duct that parts in two: cones or pipes about one sphere, flat joints, both patterns."
    ways = ("common-sphere",)
    value_names = (
        "taper",
        "element_lengths",
        "longest",
        "shortest",
        "main_lengths",
        "fork",
        "crotch",
        "sector_angle",
        "inner_radius",
    )
    across = ("main_diameter", "leg_diameter")
    hazards = (hazards.SHEET, hazards.DUCT)

    main_diameter = Length(84, "the diameter of the main")
    leg_diameter = Length(56, "the diameter of a leg’s end", most="main_diameter")
    spread = Angle(38, "the angle of each leg’s axis to the upright", least=0.1, most=89.9)
    leg_length = Length(126, "the length of a leg, from the centre along its axis")
    main_length = Length(92, "the length of the main, down from the centre")
    divisions = Count(12, "the divisions round each pipe", 8, 72, multiple=2)

    def refuse(self) -> None:
        parts = self.leg * float(cosd(self.spread)) / float(sind(self.spread))
        if self.leg_length <= parts * (1 + 1e-9):
            least = self._least_leg(parts)
            says = f"Legs {mm(self.leg_length)} long run into each other’s ends."
            if least > LONGEST_LENGTH:
                raise Refused("spread", f"{says} Raise spread.")
            raise Refused("leg_length", f"{says} Raise leg_length over {least_mm(least)}, or raise spread.")
        if not self._clear(self.leg_length):
            raise Refused(
                "leg_length",
                f"Legs {mm(self.leg_length)} long end inside the sphere of {mm(self.main_diameter)} or in their own "
                f"joints. Raise leg_length over {least_mm(self._least_leg(parts))}.",
            )
        low = -float(self.main_top(np.linspace(0.0, 90.0, 91)).min())
        if self.main_length <= low + STRICT / 2:
            raise Refused(
                "main_length",
                f"The main is {mm(self.main_length)} long and ends above the joint, "
                f"{mm(low)} under the centre. Raise main_length over {least_mm(low)}.",
            )

    def _clear(self, long: float) -> bool:
        """Whether a leg so long reaches beyond the sphere and its own joints all round."""
        if np.hypot(long, self.leg) <= self.main * (1 + 1e-9):
            return False
        tried = self if long == self.leg_length else self._with(leg_length=long)
        return float(tried.lengths(np.linspace(0.0, 180.0, 361)).min()) > STRICT / 2

    def _with(self, **given: float) -> Breeches:
        """These breeches with a given changed, whether they can be made or not."""
        other = object.__new__(type(self))
        other.__dict__.update({name: getattr(self, name) for name in self.givens} | given)
        return other

    def _least_leg(self, least: float) -> float:
        low, high = least, max(least, self.main_diameter) + self.leg_length
        while not self._clear(high):
            high *= 2.0
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (low, middle) if self._clear(middle) else (middle, high)
        return high

    # what it is: the leg that rises to the right, in its own front view; the other one mirrors it

    @property
    def main(self) -> float:
        """The main's radius, and the sphere's."""
        return self.main_diameter / 2

    @property
    def leg(self) -> float:
        """The radius of a leg's end."""
        return self.leg_diameter / 2

    @cached_property
    def lean(self) -> float:
        """Half the angle of a leg's cone, in degrees; 0 for a pipe."""
        if self.pipes:
            return 0.0
        far = float(np.hypot(self.leg_length, self.leg))
        touches = float(np.arcsin(min(self.main / far, 1.0)))
        return float(np.degrees(touches - np.arctan2(self.leg, self.leg_length)))

    @property
    def pipes(self) -> bool:
        return self.main - self.leg <= 1e-9 * self.main

    @property
    def along(self) -> Array:
        """The direction of the leg's axis, (3,)."""
        return np.array([float(sind(self.spread)), 0.0, float(cosd(self.spread))])

    def outward(self, turn: Number) -> Array:
        """Square from the leg's axis to its division at ``turn``, (…, 3)."""
        c, s = np.asarray(cosd(turn)), np.asarray(sind(turn))
        return np.stack([c * float(cosd(self.spread)), s, -c * float(sind(self.spread))], axis=-1)

    def end(self, turn: Number) -> Array:
        """Where an element ends, at the leg's end, (…, 3)."""
        return np.asarray(self.leg_length * self.along + self.leg * self.outward(turn))

    def inward(self, turn: Number) -> Array:
        """The way of an element from the end towards the joint, of length 1, (…, 3)."""
        return float(sind(self.lean)) * self.outward(turn) - float(cosd(self.lean)) * self.along

    @property
    def lower_cross(self) -> Array:
        """Where the main's right side and the leg's lower one cross: two lines that touch one circle."""
        return point(self.main, self.main * float(tand((self.lean - self.spread) / 2)))

    @property
    def upper_cross(self) -> Array:
        """Where the main's left side and the leg's upper one cross."""
        return point(-self.main, self.main * float(tand((self.lean + self.spread) / 2)))

    @property
    def fork(self) -> float:
        """The height at which the three skins meet."""
        return float(self.lower_cross[1] + self.upper_cross[1]) / 2

    @property
    def crotch(self) -> float:
        return self.main / float(sind(self.spread + self.lean))

    @property
    def fall(self) -> float:
        """How much the joint with the main falls to the right, in mm a mm."""
        return float(self.upper_cross[1] - self.lower_cross[1]) / self.main_diameter

    def _reaches(self, turn: Number) -> tuple[Array, Array]:
        """How long an element is up to the plane between the legs, and up to the joint with the main."""
        end, way = self.end(turn), self.inward(turn)
        found = []
        for at, step in (
            (end[..., 0], way[..., 0]),
            (end[..., 2] - self.fork + self.fall * end[..., 0], way[..., 2] + self.fall * way[..., 0]),
        ):
            with np.errstate(divide="ignore", invalid="ignore"):
                found.append(np.where(step < 0, -at / np.where(step < 0, step, 1.0), np.inf))
        return found[0], found[1]

    def lengths(self, turn: Number) -> Array:
        """Of elements, from the end to the first joint that they meet."""
        return np.minimum(*self._reaches(turn))

    def between_legs(self, turn: float) -> bool:
        """Whether an element ends where the legs meet, and not at the main."""
        legs, main = self._reaches(turn)
        return bool(legs < main)

    def main_top(self, turn: Number) -> Array:
        """How high the joint stands on the main, over the centre."""
        return np.asarray(self.fork - self.fall * self.main * np.abs(cosd(turn)))

    @cached_property
    def fork_turn(self) -> float:
        """The place round the leg of the element through the fork, 0 to 180."""
        ahead = self.fork * float(cosd(self.spread))
        wide = self.main / float(cosd(self.lean)) - ahead * float(tand(self.lean))
        return float(np.degrees(np.arccos(np.clip(-self.fork * float(sind(self.spread)) / wide, -1.0, 1.0))))

    @property
    def turns(self) -> Array:
        return multiples(360.0 / self.divisions, self.divisions + 1)

    def stations(self, letter: str, extra: float) -> list[tuple[str, float]]:
        """The places of a joint on its pattern in order, by name and turn; it has a corner at ``extra`` either side."""
        found = [(f"{letter}{k}", float(turn)) for k, turn in enumerate(self.turns)]
        for name, turn in ((f"{letter}a", extra), (f"{letter}b", 360.0 - extra)):
            if all(abs(turn - other) > SAME for _, other in found):
                found.append((name, turn))
        return sorted(found, key=lambda one: one[1])

    @property
    def leg_stations(self) -> list[tuple[str, float]]:
        return self.stations("S", self.fork_turn)

    @property
    def main_stations(self) -> list[tuple[str, float]]:
        return self.stations("N", 90.0)

    @property
    def sector(self) -> float:
        return 360.0 * float(sind(self.lean))

    @property
    def inner(self) -> float:
        """From the apex of a leg's cone to its end, along the skin."""
        return self.leg / float(sind(self.lean))

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        ways = f"arcsin({bare(self.main)} / √({bare(self.leg_length)}² + {bare(self.leg)}²))"
        words = "pipes" if self.pipes else f"{ways} − arctan({bare(self.leg)} / {bare(self.leg_length)})"
        yield Value("taper", self.lean, "°", words, () if self.pipes else ("Z",))
        each = self.lengths(self.turns[:-1])
        words = f"… to the first joint met, of divisions 0 to {self.divisions - 1}"
        yield Value("element_lengths", [float(x) for x in each], "mm", words, ("Q0", "S0"))
        for name, pick in (("longest", np.argmax), ("shortest", np.argmin)):
            k = int(pick(each))
            yield Value(name, float(each[k]), "mm", f"of division {k}", (f"Q{k}", f"S{k}"))
        tops = self.main_length + self.main_top(self.turns[:-1])
        words = f"{bare(self.main_length)} + the height of the joint over the centre"
        yield Value("main_lengths", [float(x) for x in tops], "mm", words, ("M0", "N0"))
        low, high = (bare(float(at[1])) for at in (self.lower_cross, self.upper_cross))
        yield Value("fork", self.fork, "mm", f"({low} + {high}) / 2, midway between the crossings", ("O", "F"))
        lean = trim(self.spread + self.lean, 6)
        yield Value("crotch", self.crotch, "mm", f"{bare(self.main)} / sin {lean}°", ("O", "C"))
        t = trim(self.lean, 6)
        none = "a pipe’s pattern has no apex"
        sector = None if self.pipes else self.sector
        yield Value("sector_angle", sector, "°", none if self.pipes else f"360° × sin {t}°")
        inner = None if self.pipes else self.inner
        marks = () if self.pipes else ("W", "Q0")
        yield Value("inner_radius", inner, "mm", none if self.pipes else f"{bare(self.leg)} / sin {t}°", marks)

    def measure(self, found: Found) -> dict[str, Number]:
        n = self.divisions
        legs = [found.together([f"{letter}{k}" for k in range(n)]) for letter in "QS"]
        mains = [found.together([f"{letter}{k}" for k in range(n)]) for letter in "MN"]
        each = distance(*legs)
        told: dict[str, Number] = {
            "element_lengths": each,
            "longest": each.max(axis=-1),
            "shortest": each.min(axis=-1),
            "main_lengths": distance(*mains),
            "fork": found["F"][..., 1] - found["O"][..., 1],
            "crotch": found["C"][..., 1] - found["O"][..., 1],
        }
        if not self.pipes:
            told["inner_radius"] = distance(found["W"], found["Q0"])
        return told

    def truths(self, found: Found) -> Iterator[Truth]:
        n, o = self.divisions, found["O"]
        for name, side in (("A", self.main), ("B", -self.main)):
            yield Truth(f"{name} lies on the main’s side", found[name][..., 0] - o[..., 0] - side)
        feet, tops = (found.together([f"{letter}{k}" for k in range(n + 1)]) for letter in "QS")
        at = self.end(self.turns) + distance(feet, tops)[..., None] * self.inward(self.turns)
        off = np.stack([at[..., 0], np.hypot(at[..., 0], at[..., 1]) - self.main])
        nearest = np.take_along_axis(off, np.abs(off).argmin(axis=0)[None], axis=0)[0]
        yield Truth("Rolled up, the leg’s joint lies on the main’s skin or midway between the legs", nearest)
        yield Truth("And never beyond that middle", np.minimum(at[..., 0], 0.0))
        if self.pipes:
            yield Truth(
                "The leg’s pattern is as wide as it is round", distance(feet[0], feet[-1]) - 2 * np.pi * self.leg
            )
        else:
            yield Truth("The leg’s end lies on its arc", distance(feet, found["W"][..., None, :]) - self.inner)
            chord = 2 * self.inner * float(sind(self.sector / n / 2))
            yield Truth("Its divisions are evenly apart", distance(feet[..., 1:, :], feet[..., :-1, :]) - chord)
        lows, highs = (found.together([f"{letter}{k}" for k in range(n + 1)]) for letter in "MN")
        yield Truth("The main’s pattern is as wide as it is round", distance(lows[0], lows[-1]) - 2 * np.pi * self.main)
        x, y = self.main * np.abs(cosd(self.turns)), self.main * np.asarray(sind(self.turns))
        rim = np.stack([x, y, distance(lows, highs) - self.main_length], axis=-1)
        ahead = rim @ self.along
        aside = np.sqrt(np.maximum((rim**2).sum(axis=-1) - ahead**2, 0.0))
        skin = self.main / float(cosd(self.lean)) - ahead * float(tand(self.lean))
        yield Truth("Rolled up, the main’s joint lies on the legs’ skin", aside - skin)
        pattern = self.pattern(found)
        yield Truth("Both legs rolled up, their skins come together", pattern.gap() if pattern is not None else 0.0)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        o = found["O"]
        foot = point(float(o[..., 0]), float(o[..., 1]) - self.main_length)
        yield Linear(
            foot - point(self.main, 0.0), foot + point(self.main, 0.0), "main_diameter", self.main_diameter, prefix="⌀"
        )
        yield Angular(o, 90.0 - self.spread, self.spread, "spread", self.spread)
        leg = direction(90.0 - self.spread)
        end = o + leg * self.leg_length
        half = left_of(leg) * self.leg_diameter / 2
        yield Linear(end + half, end - half, "leg_diameter", self.leg_diameter, 1, prefix="⌀")
        yield Linear(o, end, "leg_length", self.leg_length, -1, rank=4)
        yield upright(foot, o, "main_length", self.main_length, rank=4)

    # its curves

    def flat(self, start: Array, turn: Number) -> Array:
        """The leg's joint on its pattern, whose apex (of pipes, whose lower left corner) is at ``start``."""
        long = self.lengths(turn)
        if self.pipes:
            return start + np.stack([np.deg2rad(turn) * self.leg, long], axis=-1)
        around = direction(np.asarray(turn) * float(sind(self.lean)))
        return np.asarray(start + (self.inner + long)[..., None] * around)

    def flat_main(self, turn: Number) -> Array:
        return np.stack([np.deg2rad(turn) * self.main, self.main_length + self.main_top(turn)], axis=-1)

    def courses(self, method: str) -> Sequence[Course]:
        made = []
        for says, curve, stations, extra in (
            ("the leg’s joint on the pattern", partial(self.flat, np.zeros(2)), self.leg_stations, self.fork_turn),
            ("the main’s joint on the pattern", self.flat_main, self.main_stations, 90.0),
        ):
            turns = np.array([turn for _, turn in stations])
            corners = tuple(k for k, turn in enumerate(turns) if abs(abs(turn - 180.0) - (180.0 - extra)) <= SAME)
            names = tuple(name for name, _ in stations)
            around = sampled(curve, 0.02, 0.0, 360.0, False)
            made.append(Course(says, around, turns, names, corners, turn="turn round it", afloat=True))
        return made

    # in space, and as it is cut

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        if off:
            return ()
        turns = sorted({*np.linspace(0.0, 360.0, ROUND + 1).tolist(), self.fork_turn, 360.0 - self.fork_turn})
        at = np.array(turns)
        ends, joints = self.end(at), self.end(at) + self.lengths(at)[:, None] * self.inward(at)
        faces = []
        for number, side in ((1, np.array([1.0, 1.0, 1.0])), (2, np.array([-1.0, 1.0, 1.0]))):
            for k in range(len(turns) - 1):
                corners = np.array([joints[k], joints[k + 1], ends[k + 1], ends[k]]) * side
                faces.append(Face(corners if number == 2 else corners[::-1], number))
            cap = ends[:-1] * side
            faces.append(Face(cap if number == 2 else cap[::-1]))
        around = np.linspace(0.0, 360.0, ROUND + 1)
        x, y = self.main * np.asarray(cosd(around)), self.main * np.asarray(sind(around))
        low = np.stack([x, y, np.full_like(x, -self.main_length)], axis=-1)
        high = np.stack([x, y, self.main_top(around)], axis=-1)
        faces.append(Face(low[:-1]))
        for k in range(ROUND):
            faces.append(Face(np.array([high[k], high[k + 1], low[k + 1], low[k]]), 3))
        return faces

    def pattern(self, found: Found) -> Pattern | None:
        """Both legs and the main, each rolled up where it stands."""
        if "Q0" not in found:
            return None
        n = self.divisions
        turns = multiples(360.0 / n, n)
        out = self.outward(turns)
        if self.pipes:
            leg = rolled_pipe(out, self.leg_length * self.along, -self.along, self.leg)
        else:
            apex = (self.leg_length + self.inner * float(cosd(self.lean))) * self.along
            leg = rolled_cone(out, apex, -self.along, self.inner, self.lean)
        ring = np.stack([cosd(turns), -sind(turns), 0.0 * turns], axis=-1)
        main = rolled_pipe(ring, np.array([0.0, 0.0, -self.main_length]), np.array([0.0, 0.0, 1.0]), self.main)
        pieces: list[FlatPiece] = []
        roots: dict[int, Placing] = {}
        for letter, stations, solid, upward, half_round in (
            ("Q", self.leg_stations, leg, self.pipes, False),
            ("Q", self.leg_stations, leg, self.pipes, True),
            ("M", self.main_stations, main, True, False),
        ):
            feet, rows = [f"{letter}{k}" for k in range(n + 1)], _rows(stations, n)
            squeeze = squeezed_pipe(found[feet[0]], found[feet[-1]], n)
            if not upward:
                squeeze = squeezed_cone(found["W"], found[feet[0]], self.lean, n)
            flat = {key: squeeze(found[key]) for key in {*feet, *(key for row in rows for key in row)}}
            far = float(distance(flat[feet[0]], flat[rows[0][0]]))
            place = standing(flat, (feet[0], feet[1], rows[0][0]), solid, far)
            if half_round:  # the left leg is the right one turned half round the main's axis
                place = Placing(HALF_ROUND @ place.turn, HALF_ROUND @ place.shift)
            roots[len(pieces)] = place
            part = strips(flat, feet, rows, upward, solid.fold, len(pieces))
            for piece in part:
                names = tuple(self._meets(name, half_round) for name in piece.names)
                pieces.append(piece._replace(names=names))
        return Pattern(pieces, roots[0], roots=roots)

    def _meets(self, name: str, left: bool) -> str:
        """What a place of a leg or of the main is called on the whole: where skins meet, they share it."""
        turns = dict(self.leg_stations) | dict(self.main_stations)
        if name[0] == "S" and name[1:].isdigit() and self.between_legs(turns[name]):
            # the left leg is turned half round: its places run the other way about
            return f"between {round((360.0 - turns[name]) % 360.0 if left else turns[name], 6)}"
        if name == "S0":  # straight over one side of the main
            return f"N{self.divisions // 2}" if left else "N0"
        return f"left {name}" if left else name

    def cut_out(self, found: Found) -> Sequence[Part]:
        n = self.divisions
        parts = []
        for words, letter, stations, whole in (
            ("A leg, cut twice", "Q", self.leg_stations, self.pipes),
            ("The main", "M", self.main_stations, True),
        ):
            feet, joint = [f"{letter}{k}" for k in range(n + 1)], [name for name, _ in stations]
            low, high = (feet, joint) if whole else (joint, feet)
            kinds = ("base", "joint") if whole else ("joint", "top")
            edges = [Edge(a, b, kinds[0]) for a, b in zip(low, low[1:])]
            edges.append(Edge(low[-1], high[-1], "seam"))
            edges += [Edge(a, b, kinds[1]) for a, b in zip(high[::-1], high[-2::-1])]
            edges.append(Edge(high[0], low[0], "side"))
            parts.append(Part(words, edges))
        return parts


def _rows(stations: Sequence[tuple[str, float]], count: int) -> list[list[str]]:
    """The names of a joint's places on each two divisions that follow on each other."""
    names = [name for name, _ in stations if name[1:].isdigit()]
    return [names[k : k + 2] for k in range(count)]
