"""A pair of spur gears in mesh."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property, partial

import numpy as np

from wise_compass.drafting.capabilities import Curved, Developed, Edge, Moving, Part
from wise_compass.drafting.course import Course, Frame
from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Choice, Count, Length, Real
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, trim, trim_down
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.gears import Pair, Wheel
from wise_compass.geometry.vectors import Array, Number, angle_of, direction, distance, length, point, turned

AROUND = 2
"""Teeth that are shown to either side of the one in mesh."""
MOST_WHOLE = 120
"""Teeth together that are drawn as whole wheels at most."""
FACING = (0.0, 180.0)
"""The direction from each centre to the pitch point."""


class GearPair(Curved, Moving, Developed, Figure, id="gear-pair", family="paths", title="Pair of gears"):
    keys = ("A", "B", "F*", "G*", "O", "P*", "Q*", "Z")
    brief = (
        "Two gears of module {module} with {teeth_1} and {teeth_2} teeth, pressure angle {pressure_angle}, addendum "
        "{addendum} and dedendum {dedendum} modules, {shown}, each flank by {divisions} spaces, found with {method}."
    )
    summary = "Spur gears in mesh: circles, involute teeth, line of action, path of contact."
    ways = ("involute", "arcs")
    value_names = (
        "centre_distance",
        "pitch_diameters",
        "base_diameters",
        "outside_diameters",
        "root_diameters",
        "circular_pitch",
        "tooth_thickness",
        "chordal_thickness",
        "path_of_contact",
        "contact_ratio",
        "tip_thickness",
        "least_teeth",
        "interference",
        "arc_radius",
        "tip_excess",
    )
    pierced = True

    module = Length(5, "the module: pitch diameter to a tooth", most=200)
    teeth_1 = Count(20, "the teeth of the first gear", 6, 200)
    teeth_2 = Count(32, "the teeth of the second", 6, 200)
    pressure_angle = Angle(20, "the pressure angle", least=10, most=30)
    addendum = Real(1, "the addendum in modules", least=0.2, most=2)
    dedendum = Real(1.25, "the dedendum in modules", least=0.2, most=2.5)
    shown = Choice("mesh", "what is drawn", ("mesh", "wheels"), {"mesh": "teeth in mesh", "wheels": "whole wheels"})
    divisions = Count(6, "the spaces along a flank", 4, 12, multiple=2)

    @cached_property
    def pair(self) -> Pair:
        one, two = (
            Wheel(teeth, self.module, self.pressure_angle, self.addendum, self.dedendum)
            for teeth in (self.teeth_1, self.teeth_2)
        )
        return Pair(one, two)

    @property
    def wheels(self) -> tuple[Wheel, Wheel]:
        return self.pair.one, self.pair.two

    @property
    def centres(self) -> tuple[Array, Array]:
        return point(0.0, 0.0), point(self.pair.centres, 0.0)

    def refuse(self) -> None:
        fewest = min(self.teeth_1, self.teeth_2)
        name = "teeth_1" if self.teeth_1 == fewest else "teeth_2"
        if self.dedendum >= 0.45 * fewest:
            raise Refused(
                "dedendum",
                f"A gear of {fewest} teeth has no body under a dedendum of "
                f"{trim(self.dedendum)} modules. Keep dedendum "
                f"under {trim_down(0.45 * fewest)}.",
            )
        for number, wheel in enumerate(self.wheels, 1):
            if wheel.tip_thickness <= 0:
                raise Refused(
                    "addendum",
                    f"The teeth of gear {number} are pointed before the outside circle. Lower addendum to "
                    f"{trim_down(self._most_addendum(wheel))}, raise teeth_{number} or lower pressure_angle.",
                )
        if self.shown == "wheels" and self.teeth_1 + self.teeth_2 > MOST_WHOLE:
            raise Refused(
                "shown",
                f"Both gears together have {self.teeth_1 + self.teeth_2} teeth; whole wheels are drawn up to "
                f"{MOST_WHOLE}. Set shown to mesh, or lower {name}.",
            )

    def _most_addendum(self, wheel: Wheel) -> float:
        """The addendum, in modules, at which the teeth of a wheel just come to a point."""
        from scipy.optimize import brentq

        def thickness(addendum: float) -> float:
            return Wheel(wheel.teeth, wheel.module, wheel.pressure_angle, addendum, wheel.dedendum).tip_thickness

        return float(brentq(thickness, 1e-3, self.addendum)) * (1 - 1e-6)

    # where the teeth are

    def rolls(self, wheel: Wheel) -> Array:
        """The angles unwound at which a flank is found, the pitch point halfway in the list."""
        low, high = float(wheel.roll_at(wheel.root)), float(wheel.roll_at(wheel.outside))
        middle, half = float(wheel.roll_at(wheel.pitch)), self.divisions // 2
        below = low + (middle - low) * np.arange(half) / half
        return np.concatenate([below, middle + (high - middle) * np.arange(half + 1) / half])

    def steps(self, wheel: Wheel) -> list[int]:
        """The flanks that are shown, counted in half pitches from the one at the pitch point: even ones are like it."""
        if self.shown == "wheels":
            return list(range(2 * wheel.teeth))
        around = min(AROUND, (wheel.teeth - 1) // 2)
        return list(range(-2 * around, 2 * around + 2))

    def flank(self, number: int, roll: Number) -> Array:
        """A gear's flank through the pitch point, (…, 2)."""
        return self.centres[number] + turned(self.wheels[number].flank(roll), FACING[number])

    def courses(self, method: str) -> Sequence[Course]:
        found = []
        for number, letter in enumerate("FG"):
            rolls = self.rolls(self.wheels[number])
            names = tuple(f"{letter}{k}" for k in range(len(rolls)))
            curve = sampled(partial(self.flank, number), 0.02, float(rolls[0]), float(rolls[-1]), False)
            words, pole = f"the flank of gear {number + 1}", self.centres[number]
            course = Course(words, curve, rolls, names, turn="angle unwound", pole=pole)
            found.append(course if method != "arcs" else course._replace(names=(), ends=(names[0], names[-1])))
        return found

    def mechanism(self, found: Found, t: float) -> Frame | None:
        """The gears turned so that they touch where the first one's string has unwound ``t`` degrees."""
        one = self.pair.one
        turn = float(np.degrees(np.tan(np.deg2rad(self.pressure_angle)))) - t
        lines = []
        for number, by in enumerate((turn, -turn * self.teeth_1 / self.teeth_2)):
            lines += [turned(line, by, self.centres[number]) for line in self._outlines(number)]
        touch = one.base * direction(self.pressure_angle)
        contact = touch + one.base * float(np.deg2rad(t)) * direction(self.pressure_angle - 90.0)
        return Frame(
            (*lines, np.array([touch, touch + self.pair.line * direction(self.pressure_angle - 90.0)])), (), (contact,)
        )

    def _outlines(self, number: int) -> list[Array]:
        """The teeth of a gear that are shown, a line of places each."""
        wheel, part = self.wheels[number], 180.0 / self.wheels[number].teeth
        rolls = np.linspace(float(wheel.roll_at(wheel.root)), float(wheel.roll_at(wheel.outside)), 8)
        up = wheel.flank(rolls)
        down = up[::-1] * np.array([1.0, -1.0])
        steps = [step for step in self.steps(wheel) if step % 2 == 0]
        tooth = np.concatenate([up, turned(down, part)])
        return [self.centres[number] + turned(tooth, FACING[number] + part * step) for step in steps]

    # what is told

    def cautions(self) -> Iterable[str]:
        where = self.pair.interference
        if where != "none":
            gears = {"on 1": "gear 1 is", "on 2": "gear 2 is", "both": "both gears are"}[where]
            yield f"The tips of the mate dig into the flanks: {gears} undercut. Raise the teeth or lower addendum."
        if self.pair.contact_ratio < 1.2:
            yield f"The contact ratio is {trim(self.pair.contact_ratio, 2)}; under 1.2 gears run rough."
        if self.dedendum < self.addendum:
            yield "The dedendum is less than the addendum: tips run into the bottoms of the mate."
        yield "Shape only: what gears may carry is for a qualified engineer. What turns catches hands: guard it."

    def values(self, method: str) -> Iterable[Value]:
        one, two = self.wheels
        m, turn = bare(self.module), trim(self.pressure_angle)
        teeth = f"{self.teeth_1} and {self.teeth_2}"
        yield Value(
            "centre_distance", self.pair.centres, "mm", f"{m} × ({self.teeth_1} + {self.teeth_2}) / 2", ("O", "Z")
        )
        for name, radii, words in (
            ("pitch_diameters", (one.pitch, two.pitch), f"{m} × {teeth}"),
            ("base_diameters", (one.base, two.base), f"{m} × {teeth}, × cos {turn}°"),
            ("outside_diameters", (one.outside, two.outside), f"{m} × {teeth}, + 2 × {trim(self.addendum)} × {m}"),
            ("root_diameters", (one.root, two.root), f"{m} × {teeth}, − 2 × {trim(self.dedendum)} × {m}"),
        ):
            yield Value(name, [2 * radius for radius in radii], "mm", words)
        yield Value("circular_pitch", float(np.pi) * self.module, "mm", f"π × {m}")
        yield Value("tooth_thickness", float(np.pi) * self.module / 2, "mm", f"π × {m} / 2, along the pitch circle")
        chords = [2 * wheel.pitch * float(np.sin(np.pi / 2 / wheel.teeth)) for wheel in self.wheels]
        words = f"{m} × {teeth}, × sin (90° / {self.teeth_1}) and (90° / {self.teeth_2})"
        yield Value("chordal_thickness", chords, "mm", words)
        yield Value(
            "path_of_contact", self.pair.path_of_contact, "mm", "… between the outside circles on the line", ("A", "B")
        )
        words = f"{bare(self.pair.path_of_contact)} / (π × {m} × cos {turn}°)"
        yield Value("contact_ratio", self.pair.contact_ratio, "", words)
        words = "… half the pitch less how far both flanks lean over"
        yield Value("tip_thickness", [wheel.tip_thickness for wheel in self.wheels], "mm", words)
        least = 2 * self.addendum / float(np.sin(np.deg2rad(self.pressure_angle))) ** 2
        yield Value("least_teeth", least, "", f"2 × {trim(self.addendum)} / sin² {turn}°, against a rack")
        yield Value(
            "interference", self.pair.interference, "", "where the mate’s tips pass the end of the line of action"
        )
        if method == "arcs":
            words = f"{bare(one.pitch)} and {bare(two.pitch)}, × sin {turn}°"
            yield Value("arc_radius", [wheel.string for wheel in self.wheels], "mm", words, drawn=True)
            words = "… along the outside circle, drawn less true"
            yield Value("tip_excess", [wheel.tip_excess for wheel in self.wheels], "mm", words, drawn=True)

    def measure(self, found: Found) -> dict[str, Number]:
        ends = [found[f"{letter}{self.divisions}"] for letter in "FG"]
        centres = [found["O"], found["Z"]]
        pitch = found[f"F{self.divisions // 2}"]
        return {
            "centre_distance": distance(*centres),
            "pitch_diameters": np.stack([2 * distance(pitch, one) for one in centres], axis=-1),
            "outside_diameters": np.stack([2 * distance(end, one) for end, one in zip(ends, centres)], axis=-1),
            "path_of_contact": distance(found["A"], found["B"]),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        centres = (found["O"], found["Z"])
        yield Truth("The centres stand the sum of the pitch radii apart", found["Z"] - found["O"] - self.centres[1])
        for number, letter in enumerate("FG"):
            wheel, name = self.wheels[number], f"gear {number + 1}"
            at = found.group(letter) - centres[number][..., None, :]
            far = length(at)
            roll = wheel.roll_at(far)
            own = turned(at, -FACING[number])
            yield Truth(
                f"Every point of the flank of {name} is the end of a string unwound from its base circle",
                length(own - wheel.flank(roll)),
            )
            ends = np.stack([far[..., 0], far[..., -1]], axis=-1)
            yield Truth(
                f"It runs from the bottom of {name} to its tip", ends - [max(wheel.base, wheel.root), wheel.outside]
            )
            steps = found.group(f"{'PQ'[number]}") - centres[number][..., None, :]
            yield Truth(f"The steps of {name} lie on its pitch circle", length(steps) - wheel.pitch)
            turns = np.diff(np.unwrap(np.deg2rad(angle_of(steps)), axis=-1), axis=-1)
            thick = turns * wheel.pitch - np.pi * self.module / 2
            yield Truth(f"Tooth and space of {name} are half a circular pitch each", thick)
        line = direction(self.pressure_angle - 90.0)
        for name in "AB":
            off = found[name] - self.pitch_point
            yield Truth(f"{name} lies on the line of action", off[..., 0] * line[1] - off[..., 1] * line[0])

    @property
    def pitch_point(self) -> Array:
        return point(self.pair.one.pitch, 0.0)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = -0.25 * self.pair.one.pitch
        centres = self.pair.centres
        yield Linear(point(0.0, 0.0), point(centres, 0.0), "centres", centres, derived=True, past=point(0.0, low))
        yield Leader(found["I"], "module", self.module, "module ", angle=-45.0)
        yield Angular(found["I"], 90.0, self.pressure_angle, "pressure_angle", self.pressure_angle, reach=26.0)

    # the templets

    def pattern(self, found: Found) -> None:
        """A templet is not folded."""

    def is_developed(self, found: Found) -> bool:
        return self.shown == "wheels"

    def cut_out(self, found: Found) -> Sequence[Part]:
        """Each wheel as one part, where whole wheels are drawn."""
        if self.shown != "wheels":
            return ()
        places = 2 if found.method == "arcs" else self.divisions
        return [Part(f"Gear {number + 1}", self._rim(number, places)) for number in range(2)]

    def _rim(self, number: int, n: int) -> list[Edge]:
        """The edges round a wheel whose flanks have ``n`` spaces."""
        letter = "UV"[number]
        count = 2 * self.wheels[number].teeth
        inner = self.wheels[number].root < self.wheels[number].base * (1 - 1e-9)
        edges = []
        for step in range(count):
            own = [f"{letter}{step * (n + 2) + k}" for k in range(n + 2)][0 if inner else 1 :]
            own = own if step % 2 == 0 else own[::-1]
            after = (step + 1) % count
            begins = f"{letter}{after * (n + 2) + (n + 1 if after % 2 else 0 if inner else 1)}"
            edges += [Edge(a, b, "cut") for a, b in zip(own, own[1:])] + [Edge(own[-1], begins, "cut")]
        return edges
