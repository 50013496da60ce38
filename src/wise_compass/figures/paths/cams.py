"""A plate cam from the motions of its follower."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property, partial
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Curved, Developed, Edge, Moving, Part, Plot, Plotted
from wise_compass.drafting.course import Course, Frame
from wise_compass.drafting.dimensions import Dimension, Radial, level, told
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Choice, Count, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.turn_rows import MOTION_WORDS, Motions
from wise_compass.drafting.wording import bare, mm, most_mm, trim
from wise_compass.geometry.cams import ON_BORDER, ROUND, Stretch, greatest, stretch_at, stretches_of
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.vectors import Array, Number, distance, left_of, length, point, turned

CLOSES = 1e-7
"""Degrees by which the angles, and mm by which the lifts of a whole turn may miss."""
JUMP = 1e-9
"""mm to the radian by which a speed jumps at least."""
FEWEST_INSIDE = 2
"""Points inside a stretch that a curve is joined through at least."""
CLEAR = 2.0
"""Degrees that such further points keep from the divisions."""
STEEP = 30.0
"""Degrees of pressure angle over which a follower tends to jam, by the rule of the trade."""
LONG = 1.6
"""Of the cam's width: the length of the diagram."""
GRID = 1440
"""Turns at which the follower is looked at for whether it is cut."""


class Stop(NamedTuple):
    """A turn of the cam at which the profile is found: the ``key`` of its points, and the stretch that it counts to."""

    turn: float
    stretch: int
    key: str


class Cam(Curved, Moving, Plotted, Developed, Figure, id="cam", family="paths", title="Plate cam"):
    keys = ("O", "P*", "T*")
    brief = (
        "A cam that turns {hand} and moves a {follower} follower by {rows}, its base radius {base_radius}, its roller "
        "{roller} across, the line of travel {offset} right of the centre, at "
        "{divisions} divisions, found with {method}."
    )
    summary = "A plate that lifts and lowers a follower as it turns: diagram, profile, pressure angle."
    value_names = (
        "displacements",
        "radii",
        "profile",
        "prime_radius",
        "pressure_rise",
        "pressure_fall",
        "face_left",
        "face_right",
    )
    rows = Motions(
        (("harmonic", 120, 24), ("dwell", 60, 0), ("parabolic", 120, -24), ("dwell", 60, 0)),
        "the motions, one after the other: what they are, the angle and the lift",
        MOTION_WORDS,
        12,
    )
    follower = Choice("roller", "what touches the cam", ("knife", "roller", "flat"))
    base_radius = Length(24, "the least radius of its surface", most=2000)
    roller = Length(12, "the diameter of the roller, 0 for none", zero=True, most=1000)
    offset = Length(0, "how far right of the centre the follower travels", least=-1000, most=1000)
    hand = Choice("clockwise", "the way it turns", ("clockwise", "anticlockwise"))
    divisions = Count(12, "the divisions of a turn", 8, 72)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        words, follower = cls.brief, givens.get("follower")
        if follower != "roller":
            words = words.replace(", its roller {roller} across", "")
        if follower == "flat":
            words = words.replace(", the line of travel {offset} right of the centre", "")
        return words

    # what may be

    def refuse(self) -> None:
        rows = self.given_values["rows"]
        total, lifted = sum(row[1] for row in rows), sum(row[2] for row in rows)
        if abs(total - ROUND) > CLOSES:
            last = rows[-1][1] + ROUND - total
            how = f"Set the angle of row {len(rows)} to {trim(last)}" if last > 0 else "Lower some of them"
            raise Refused("rows", f"The angles of rows sum to {trim(total)}°; a turn has 360°. {how}.")
        for k, (law, _, lift) in enumerate(rows, 1):
            if (law == "dwell") != (lift == 0):
                says = (
                    f"a dwell with a lift of {mm(lift)}. Set it to 0"
                    if lift
                    else f"a {law} motion without a lift. Say dwell"
                )
                raise Refused("rows", f"Row {k} of rows is {says}.")
        if abs(lifted) > CLOSES:
            raise Refused(
                "rows",
                f"The lifts of rows sum to {mm(lifted)}; the follower has to end "
                "where it began, at 0. Change a lift by "
                f"{mm(-lifted)}.",
            )
        heights = np.cumsum([row[2] for row in rows])
        low = int(np.argmin(heights))
        if heights[low] < -CLOSES:
            raise Refused(
                "rows",
                f"After row {low + 1} of rows the follower would stand "
                f"{mm(-float(heights[low]))} under where it began, "
                f"its lowest place. Begin with row {low + 2}.",
            )
        if self.follower == "roller" and self.roller == 0:
            raise Refused("roller", "A roller follower needs a roller. Raise roller, or set follower to knife.")
        if self.follower != "flat" and abs(self.offset) >= self.prime_radius * (1 - 1e-6):
            most = most_mm(self.prime_radius * (1 - 1e-6))
            raise Refused(
                "offset",
                f"The line of travel passes {mm(abs(self.offset))} from the centre, beyond where the follower stands "
                f"lowest. Keep offset within {most} of it, or raise base_radius.",
            )

    @property
    def flat(self) -> bool:
        return self.follower == "flat"

    @property
    def radius(self) -> float:
        """Of the roller; 0 without one."""
        return self.roller / 2 if self.follower == "roller" else 0.0

    @property
    def prime_radius(self) -> float:
        return self.base_radius + self.radius

    @property
    def beside(self) -> float:
        """How far right of the centre the follower travels."""
        return 0.0 if self.flat else self.offset

    @property
    def lowest(self) -> float:
        """How high over the centre its tip, roller's centre or face stands at its lowest."""
        return float(np.sqrt((self.prime_radius - self.beside) * (self.prime_radius + self.beside)))

    @property
    def sign(self) -> int:
        """+1 where the follower goes round the cam anticlockwise, as seen from it."""
        return 1 if self.hand == "clockwise" else -1

    @cached_property
    def stretches(self) -> list[Stretch]:
        return stretches_of(self.given_values["rows"])

    @property
    def turns(self) -> Array:
        return ROUND * np.arange(self.divisions) / self.divisions

    # where the follower stands, as seen from the cam

    def tip(self, stretch: Stretch, turn: Number) -> Array:
        """The tip, the roller's centre or the face over the centre, (…, 2)."""
        y = self.lowest + stretch.height(turn)
        return turned(point(np.zeros_like(y) + self.beside, y), self.sign * np.asarray(turn))

    def instant_centre(self, stretch: Stretch, turn: Number) -> Array:
        """Where cam and follower have one velocity: the common normal runs through it (Kennedy)."""
        x = -self.sign * stretch.speed(turn)
        return turned(point(x, np.zeros_like(x)), self.sign * np.asarray(turn))

    def contact(self, stretch: Stretch, turn: Number) -> Array:
        """Where the cam touches the follower, (…, 2)."""
        tip, centre = self.tip(stretch, turn), self.instant_centre(stretch, turn)
        if self.flat:
            return tip + centre
        if not self.radius:
            return tip
        out = tip - centre
        return np.asarray(tip - self.radius * out / length(out)[..., None])

    def lean(self, stretch: Stretch, turn: Number) -> Array:
        """The pressure angle in degrees, without a sign."""
        across = np.abs(self.beside + self.sign * stretch.speed(turn))
        return np.degrees(np.arctan2(across, self.lowest + stretch.height(turn)))

    def pressure(self, rising: bool) -> float | None:
        """The greatest pressure angle of all rising or falling rows."""
        if self.flat:
            return None
        found = [
            greatest(partial(self.lean, one), one.first, one.last)
            for one in self.stretches
            if one.law != "dwell" and (one.lift > 0) == rising
        ]
        return max(found, default=None)

    @property
    def faces(self) -> tuple[float, float]:
        """How far the contact runs along a flat face to the left and to the right of the centre."""
        speeds = np.array(
            [float(one.speed(t)) for one in self.stretches for t in (one.first, (one.first + one.last) / 2, one.last)]
        )
        across = -self.sign * speeds
        return max(0.0, float(-across.min())), max(0.0, float(across.max()))

    # where the profile is found

    @cached_property
    def stops(self) -> list[list[Stop]]:
        """The stops of every stretch, its ends among them; an end that the next one begins with is the same stop."""
        made: list[list[Stop]] = []
        further = 0

        def key_of(turn: float) -> str:
            nonlocal further
            k = round(turn * self.divisions / ROUND)
            if abs(turn - ROUND * k / self.divisions) <= ON_BORDER and k < self.divisions:
                return str(k)
            further += 1
            return str(self.divisions + further - 1)

        for k, one in enumerate(self.stretches):
            inner = [float(t) for t in self.turns if one.first + ON_BORDER < t < one.last - ON_BORDER]
            if one.law != "dwell" and len(inner) < FEWEST_INSIDE:
                thirds = [one.first + (one.last - one.first) * share / 3 for share in (1, 2)]
                inner = sorted(inner + [t for t in thirds if all(abs(t - other) > CLEAR for other in inner)])
            shared = made and not self.jumps(k - 1, k)
            first = made[-1][-1]._replace(stretch=k) if shared else Stop(one.first, k, key_of(one.first))
            made.append([first, *(Stop(t, k, key_of(t)) for t in inner)])
            after = self.stretches[k + 1] if k + 1 < len(self.stretches) else None
            if after is None:
                if self.jumps(k, 0):
                    made[-1].append(Stop(one.last, k, key_of(-1.0)))
                else:
                    made[-1].append(made[0][0]._replace(turn=one.last, stretch=k))
            elif self.jumps(k, k + 1):
                made[-1].append(Stop(one.last, k, key_of(-1.0)))
            else:
                made[-1].append(Stop(one.last, k, key_of(one.last)))
        return made

    def jumps(self, before: int, after: int) -> bool:
        """Whether the contact jumps where one stretch ends and another begins, as it does with the speed unless the
        follower has one point."""
        one, other = self.stretches[before], self.stretches[after]
        return (self.flat or self.radius > 0) and abs(self._speed_jump(one, other)) > JUMP

    def _speed_jump(self, one: Stretch, other: Stretch) -> float:
        return float(other.speed(other.first)) - float(one.speed(one.last))

    def courses(self, method: str) -> Sequence[Course]:
        found = []
        for one, stops in zip(self.stretches, self.stops):
            if one.law == "dwell":
                continue
            stations = np.array([stop.turn for stop in stops])
            curve = sampled(partial(self.contact, one), 0.02, one.first, one.last, False)
            names = tuple(f"P{stop.key}" for stop in stops)
            pole = point(0.0, 0.0)
            found.append(Course(f"row {one.row + 1}", curve, stations, names, turn="turn of the cam", pole=pole))
        return found

    def traced(self, method: str) -> Course | None:
        """The whole profile, by the turn of the cam."""

        def at(turn: Number) -> Array:
            flat = np.atleast_1d(np.asarray(turn, dtype=float))
            places = [self.contact(self.stretches[stretch_at(self.stretches, t)], t) for t in flat.tolist()]
            return np.array(places).reshape(*np.shape(turn), 2)

        stops = {stop.key: stop for row in reversed(self.stops) for stop in row if stop.turn < ROUND}
        ordered = sorted(stops.values(), key=lambda stop: (stop.turn, stop.stretch))
        names = tuple(f"P{stop.key}" for stop in ordered)
        return Course("the profile", sampled(at), np.array([stop.turn for stop in ordered]), names)

    def mechanism(self, found: Found, t: float) -> Frame | None:
        """The follower where the cam has turned by ``t``, as seen from the cam."""
        one = self.stretches[stretch_at(self.stretches, t)]
        tip, contact = self.tip(one, t), self.contact(one, t)
        foot = found["D"] + point(self.diagram_part * t, 0.0)
        lift = np.array([foot, foot + point(0.0, float(one.height(t)))])
        way = turned(point(0.0, 1.0), self.sign * t)
        stem = np.array([tip, tip + self.prime_radius * way])
        if self.flat:
            across = max(*self.faces, self.base_radius / 4)
            face = np.array([tip - across * left_of(way), tip + across * left_of(way)])
            return Frame((stem, face, lift), (), (contact, lift[1]))
        circles = ((tip, self.radius),) if self.radius else ()
        return Frame((stem, lift), circles, (tip, contact, lift[1]))

    @cached_property
    def highest(self) -> float:
        return max(float(one.height(t)) for one in self.stretches for t in (one.first, one.last))

    @property
    def diagram_part(self) -> float:
        """How many mm of the diagram a degree takes: it is somewhat longer than the cam is wide, to the next 12 mm."""
        return 12 * max(round(2 * (self.prime_radius + self.highest) * LONG / 12), 6) / ROUND

    def plots(self) -> Sequence[Plot]:
        turns = [np.linspace(one.first, one.last, max(int(one.last - one.first), 3)) for one in self.stretches]
        leans = [self.lean(one, at) for one, at in zip(self.stretches, turns)]
        at = np.stack([np.concatenate(turns), np.concatenate(leans)], axis=-1)
        return () if self.flat else (Plot("Pressure angle", "turn of the cam", "°", "°", at, STEEP),)

    # what is told

    def cautions(self) -> Iterable[str]:
        n = len(self.stretches)
        for k, one in enumerate(self.stretches):
            jump = self._speed_jump(one, self.stretches[(k + 1) % n])
            if abs(jump) > JUMP:
                at = one.last % ROUND
                yield f"At {trim(at)}° the follower’s speed jumps, which is a blow: choose another motion there."
        cut = self.undercut
        if cut is not None:
            what = "roller" if self.radius else "face"
            yield (
                f"At {trim(cut, 1)}° the profile is undercut: the {what} cannot follow. Raise base_radius"
                f"{' or lower roller' if self.radius else ''}."
            )
        steep = max((one for one in (self.pressure(True), self.pressure(False)) if one is not None), default=0.0)
        if steep > STEEP:
            over = f"over {trim(STEEP)}° a follower tends to jam"
            yield f"The pressure angle reaches {trim(steep, 1)}°; {over}. Raise base_radius."
        yield "Shape only: what a cam may carry is for a qualified engineer. What turns catches hands: guard it."

    @cached_property
    def undercut(self) -> float | None:
        """A turn at which the profile runs backward or in a loop; None where it never does."""
        if not (self.flat or self.radius):
            return None
        n = len(self.stretches)
        for k, one in enumerate(self.stretches):
            turns = np.linspace(one.first, one.last, 361)
            if self.flat:
                bad = self.base_radius + one.height(turns) + one.gain(turns) < 0
            else:
                step = 1e-3
                ahead = (self.contact(one, turns + step) - self.contact(one, turns - step)) * (
                    self.tip(one, turns + step) - self.tip(one, turns - step)
                )
                bad = ahead.sum(axis=-1) < 0
            if bad.any():
                return float(turns[int(np.argmax(bad))])
            if self._speed_jump(one, self.stretches[(k + 1) % n]) < -JUMP:
                return one.last % ROUND
        return None

    def _right(self, of: Any) -> Array:
        """A function of stretch and turn at every division."""
        return np.array([of(self.stretches[stretch_at(self.stretches, t)], t) for t in self.turns.tolist()])

    def values(self, method: str) -> Iterable[Value]:
        marks = tuple(f"P{k}" for k in range(self.divisions))
        tips = tuple(f"T{k}" for k in range(self.divisions))
        heights = self._right(lambda one, t: float(one.height(t)))
        yield Value("displacements", heights.tolist(), "mm", "… lift × the share that each motion tells", tips)
        radii = length(self._right(self.tip))
        words = "base radius and displacement" if self.flat else "from the centre to the tip or the roller’s centre"
        yield Value("radii", radii.tolist(), "mm", words, tips)
        profile = self._right(self.contact).tolist()
        yield Value("profile", profile, "mm", "where the common normal meets the cam", marks)
        words = f"{bare(self.base_radius)} + {bare(self.radius)}" if self.radius else bare(self.base_radius)
        yield Value("prime_radius", self.prime_radius, "mm", words)
        for name, rising in (("pressure_rise", True), ("pressure_fall", False)):
            words = "none on a flat face" if self.flat else "… normal to line of travel, the greatest there"
            yield Value(name, self.pressure(rising), "°", words)
        for name, size in zip(("face_left", "face_right"), self.faces):
            words = "… the greatest speed, in mm to the radian" if self.flat else "it has no face"
            yield Value(name, size if self.flat else None, "mm", words)

    def measure(self, found: Found) -> dict[str, Number]:
        n = self.divisions
        tips = found.together([f"T{k}" for k in range(n)]) - found["O"][..., None, :]
        own = turned(tips, -self.sign * self.turns)
        contacts = found.together([f"P{k}" for k in range(n)]) - found["O"][..., None, :]
        return {"displacements": own[..., 1] - self.lowest, "radii": length(tips), "profile": contacts}

    def truths(self, found: Found) -> Iterator[Truth]:
        stops = {stop.key: stop for row in reversed(self.stops) for stop in row}
        keys = sorted(stops, key=int)
        at = found.together([f"P{key}" for key in keys]) - found["O"][..., None, :]
        tips = found.together([f"T{key}" for key in keys]) - found["O"][..., None, :]
        turns = np.array([stops[key].turn for key in keys])
        own = turned(tips, -self.sign * turns)
        heights = np.array([float(self.stretches[stops[key].stretch].height(stops[key].turn)) for key in keys])
        yield Truth("The follower stands on its line of travel", own[..., 0] - self.beside)
        yield Truth("It is lifted as its motion tells", own[..., 1] - self.lowest - heights)
        if self.flat:
            across = turned(at, -self.sign * turns)
            yield Truth("The profile touches the face", across[..., 1] - own[..., 1])
        elif self.radius:
            yield Truth("The profile touches the roller", distance(at, tips) - self.radius)
        if self.undercut is None:
            yield Truth("The follower is nowhere cut by the profile", self._cut(at))

    def _cut(self, at: Array) -> Array:
        """How deep each place of the profile lies inside the follower where that goes deepest, over all turns."""
        worst = np.zeros(at.shape[:-1])
        for one in self.stretches:
            count = max(int(GRID * (one.last - one.first) / ROUND), 2)
            for t in np.linspace(one.first, one.last, count).tolist():
                tip = self.tip(one, t)
                if self.flat:
                    way = turned(point(0.0, 1.0), self.sign * t)
                    deep = at @ way - tip @ way
                elif self.radius:
                    deep = self.radius - distance(at, tip)
                else:
                    continue
                worst = np.maximum(worst, deep)
        return worst

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Radial(found["O"], self.base_radius, "base_radius", self.base_radius, 250.0)
        roller = self.roller if self.follower == "roller" else 0.0
        yield from told(
            [
                Radial(found["T0"], roller / 2, "roller", roller, 60.0, diameter=True),
                level(found["O"], point(self.offset, 0.0), "offset", abs(self.offset), rank=2),
            ]
        )

    # the templet

    def pattern(self, found: Found) -> None:
        """A templet is not folded."""

    def is_developed(self, found: Found) -> bool:
        return self.undercut is None

    def cut_out(self, found: Found) -> Sequence[Part]:
        """The plate as one part."""
        if self.undercut is not None:
            return ()
        keys = [f"P{stop.key}" for row in self.stops for stop in row]
        ring = [key for k, key in enumerate(keys) if key != keys[k - 1]]
        if self.sign < 0:
            ring = ring[::-1]
        return [Part("The cam", [Edge(a, b, "cut") for a, b in zip(ring, [*ring[1:], ring[0]])])]
