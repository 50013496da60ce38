"""The axes of any picture square to its plane: their angles and scales, and the ellipses of its circles."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from typing import Any

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Leader
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Choice, Real
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import mm, trim
from wise_compass.figures.pictorial.axes import CORNERS, EDGES, NAMES, Axes, refuse_terms
from wise_compass.geometry.axonometry import axis_angles, led_in, scales_as, scales_seen, turn_and_tilt
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, length, unit

CUBE = 50.0
"""mm of the cube that is drawn on the axes, at true length."""
WIDE = 60.0
"""mm of the longest side of the triangle of squares."""
FLAT = 0.985
"""The scale of an axis from which on its trace lies too far off to be drawn."""
ROOM = 18.0
"""mm between the picture, the plan and the side view."""
BY = {"scales": "the ratio of its scales", "turn-tilt": "turn and tilt"}


class AxonometricAxes(Figure, id="axonometric-axes", family="pictorial", title="Axonometric axes"):
    keys = ("F", "H", "M", "O", "R", "T")
    brief = (
        "The axes of a picture by {by}, {front} to {right} to {height}, turned {turn} and seen from {tilt} over level, "
        "found with {method}."
    )
    summary = "Any trimetric or dimetric picture: angles of the axes, their scales, and its ellipses."
    ways = ("trace-triangle", "turn-and-tilt")
    value_names = (
        "scale_front",
        "scale_right",
        "scale_height",
        "angle_front",
        "angle_right",
        "turn",
        "tilt",
        "top_ratio",
        "left_ratio",
        "right_ratio",
        "sphere_ratio",
    )

    by = Choice("scales", "what is told", tuple(BY), BY)
    front = Real(1, "the scale along front, as a term of their ratio", least=0.01, most=1000)
    right = Real(2, "the scale along right, as a term of their ratio", least=0.01, most=1000)
    height = Real(2, "the scale of heights, as a term of their ratio", least=0.01, most=1000)
    turn = Angle(30, "the angle of right to the picture plane, in plan", least=1, most=89)
    tilt = Angle(25, "how far over level the line of sight is", least=1, most=89)

    @classmethod
    def sentence(cls, givens: Mapping[str, Any], method: str = "") -> str:
        if givens.get("by", "scales") == "scales":
            return cls.brief.replace(", turned {turn} and seen from {tilt} over level", "")
        return cls.brief.replace(", {front} to {right} to {height}", "")

    def refuse(self) -> None:
        if self.by == "scales":
            refuse_terms({"front": self.front, "right": self.right, "height": self.height})

    @cached_property
    def scales(self) -> tuple[float, float, float]:
        """Along front, right and height: the part of a true length that is seen (their squares sum to 2, Gauss)."""
        if self.by == "scales":
            return scales_as((self.front, self.right, self.height))
        return scales_seen(self.turn, self.tilt)

    @property
    def across(self) -> tuple[float, float, float]:
        """The part of each axis that leads into the picture."""
        return led_in(self.scales)

    @property
    def seen_from(self) -> tuple[float, float]:
        """Turn and tilt in degrees."""
        return (self.turn, self.tilt) if self.by == "turn-tilt" else turn_and_tilt(self.scales)

    @property
    def axes(self) -> Axes:
        return Axes(axis_angles(*self.seen_from), self.scales)

    @property
    def corners(self) -> Array:
        """The corners of the cube that is drawn, A to H, from its nearest lowest one."""
        return self.axes.at(CORNERS * CUBE)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        if self.by == "turn-tilt":  # neither angle lies in the paper
            yield Leader(found["O"], "turn", self.turn, "turned ", "°", 20.0)
            yield Leader(found["O"], "tilt", self.tilt, "seen from ", "°", 160.0)

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        turn, tilt = self.seen_from
        scales, deep = self.scales, self.across
        if self.by == "scales":
            total = f"√(2 / ({trim(self.front)}² + {trim(self.right)}² + {trim(self.height)}²))"
            told = [f"{trim(one)} × {total}" for one in (self.front, self.right, self.height)]
            turn_told, tilt_told = "… arctan of what right and front lead in", f"arccos({trim(scales[2], 6)})"
        else:
            t, e = trim(turn), trim(tilt)
            told = [f"√(sin² {t}° + cos² {t}° sin² {e}°)", f"√(cos² {t}° + sin² {t}° sin² {e}°)", f"cos {e}°"]
            turn_told, tilt_told = "as given", "as given"
        for name, scale, words, end in zip(NAMES, scales, told, "FRH"):
            yield Value(f"scale_{name}", scale, "", words, ("O", end))
        t, e = trim(turn, 6), trim(tilt, 6)
        yield Value("angle_front", 180.0 - self.axes.angles[0], "°", f"arctan(sin {e}° / tan {t}°)", ("O", "F"))
        yield Value("angle_right", self.axes.angles[1], "°", f"arctan(sin {e}° × tan {t}°)", ("O", "R"))
        yield Value("turn", turn, "°", turn_told)
        yield Value("tilt", tilt, "°", tilt_told)
        for name, ratio, scale in zip(
            ("top", "left", "right"), (deep[2], deep[1], deep[0]), (scales[2], scales[1], scales[0])
        ):
            yield Value(f"{name}_ratio", ratio, "", f"√(1 − {trim(scale, 6)}²), short over long axis")
        yield Value("sphere_ratio", 1 / max(scales), "", f"1 / {trim(max(scales), 6)}, where that axis is drawn true")

    def measure(self, found: Found) -> dict[str, Number]:
        out: dict[str, Number] = {}
        for name, end in zip(NAMES, "FRH"):
            out[f"scale_{name}"] = distance(found["O"], found[end]) / CUBE
        out["angle_front"] = 180.0 - angle_of(found["F"] - found["O"])
        out["angle_right"] = angle_of(found["R"] - found["O"])
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        ends = np.stack(np.broadcast_arrays(*(found[end] - found["O"] for end in "FRH")), axis=-2) / CUBE
        x, y = ends[..., 0], ends[..., 1]
        # Gauss's theorem: as complex numbers the three axes have squares that sum to 0
        yield Truth("The squares of the scales sum to 2", (length(ends) ** 2).sum(axis=-1) * CUBE - 2 * CUBE)
        yield Truth(
            "Their axes are square to each other in space: x² − y² sums to 0", (x**2 - y**2).sum(axis=-1) * CUBE
        )
        yield Truth("And so does x y", (x * y).sum(axis=-1) * CUBE)
        yield Truth("Heights stand upright", found["H"][..., 0] - found["O"][..., 0])
        for name, axis, scale in zip(NAMES, "FRH", self.scales):
            yield Truth(
                f"{name.capitalize()} is as long as its scale", distance(found["O"], found[axis]) - scale * CUBE
            )
        if "M" in found:
            middle = (found["F"] + found["R"] + found["H"] - 3 * found["O"]) / 2
            yield Truth("The sphere’s middle is the cube’s", found["M"] - found["O"] - middle)
            yield Truth("The sphere is seen at its true size", distance(found["T"], found["M"]) - CUBE / 2)
        if "X" in found:
            for corner, one, other in (("X", "Y", "Z"), ("Y", "Z", "X"), ("Z", "X", "Y")):
                u, w = found[corner] - found["O"], found[other] - found[one]
                yield Truth(
                    f"The axis of {corner} is square to the triangle’s side {one}{other}",
                    (u * w).sum(axis=-1) / length(w),
                )


def _near(g: AxonometricAxes) -> str | None:
    scale = max(g.scales)
    if scale > FLAT:
        return (
            f"trace-triangle serves where no axis lies nearly in the picture plane; one is seen at {trim(scale)}, over "
            f"{trim(FLAT)}. Choose turn-and-tilt."
        )
    return None


def _bisected(d: Draft, at: Spot, one: Spot, other: Spot, says: str, why: str = "") -> LineMark:
    """The bisector of an angle between two spots, by equal arcs."""
    size = 0.6 * float(min(distance(at.here, one.here), distance(at.here, other.here)))
    chord = float(distance(at.here + size * unit(one.here - at.here), at.here + size * unit(other.here - at.here)))
    reach = 1.2 * chord
    with d.as_one("Compass", says, Setting(size, "mm"), Setting(reach, "mm"), why=why):
        arc = d.compass(at, size, whole=False)
        ends = [d.meet(d.rule(at, end), arc, near=end) for end in (one, other)]
        swung = [d.compass(end, reach, whole=False) for end in ends]
        middle = (one.here + other.here) / 2
        return d.rule(at, d.meet(swung[0], swung[1], near=at.here + 3 * (middle - at.here)))


@method(
    AxonometricAxes,
    "trace-triangle",
    fits=_near,
    fits_given="method",
    about=(
        "A triangle of the scales' squares has the axes for bisectors; about it "
        "the traces, whose right angles fold down."
    ),
    source="Weisbach's theorem; Thales' circle over each trace",
)
def by_traces(g: AxonometricAxes, d: Draft) -> None:
    squares = [scale**2 for scale in g.scales]
    whole = WIDE / max(squares)
    front, right, height = (whole * one for one in squares)
    half = float(np.degrees(np.arccos((front**2 + right**2 - height**2) / (2 * front * right)))) / 2
    with d.phase("The axes"):
        low = d.start_at("K", says="Mark K, the lowest corner of the triangle.", kind="plain")
        upright = d.upright_from(low, "Draw upright from K: the axis of heights.", Role.CENTRE, max(front, right))
        by_scales = d.choice(
            "scales-for-squares",
            right=True,
            slip=False,
            says="The triangle’s sides are laid off in the ratio of the scales, not of their squares.",
            when=max(squares) - min(squares) > 0.02,
        )
        if not by_scales:
            front, right = (whole * max(squares) / max(g.scales) * one for one in g.scales[:2])
        words = f"On both sides of it set off half the triangle’s angle, {trim(half)}°."
        with d.as_one("Protractor", words, Setting(half, "°")):
            arms = [d.ray(low, 90.0 + side * half, instrument="Protractor") for side in (-1.0, 1.0)]
        says = f"Lay off the squares of the scales along them: {mm(front)} to the right, {mm(right)} to the left."
        with d.as_one("Rule", says, Setting(front, "mm"), Setting(right, "mm")):
            east = d.lay_off(arms[0], low, front, "", kind="plain")
            west = d.lay_off(arms[1], low, right, "", kind="plain")
        d.rule(west, east, "Join their ends: the triangle.")
        to_front = _bisected(d, west, low, east, "Bisect the left angle: the axis of front.", "a trace is square to it")
        centre = d.meet(to_front, upright, "O")
        to_right = d.rule(east, centre, "Join the right corner to O: the axis of right bisects its angle.")
    with d.phase("The traces"):
        with d.as_one("Set square", "At each corner draw square to its axis: X, Y and Z, where they cross."):
            base = d.level_from(low)
            sides = [d.square_to(line, spot) for line, spot in ((to_front, west), (to_right, east))]
            ends = {
                "X": d.meet(base, sides[1], "X"),
                "Y": d.meet(base, sides[0], "Y"),
                "Z": d.meet(sides[0], sides[1], "Z"),
            }
        with d.as_one("Straightedge", "Join X, Y and Z to O."):
            axes = {name: d.rule(centre, spot) for name, spot in ends.items()}
    with d.phase("The right angles folded down"):
        folded = _folded(g, d, ends["X"], ends["Y"], upright, low)
        beside = _folded(g, d, ends["Z"], ends["Y"], to_front, west)
    with d.phase("True lengths stepped"):
        places = {}
        for name, end, at, across in (("F", "X", folded, base), ("R", "Y", folded, base), ("H", "Z", beside, sides[0])):
            says = (
                f"On the folded side to {end} step the true length, carry it square to the trace onto the axis: {name}."
            )
            with d.as_one("Dividers", says, Setting(CUBE, "mm")):
                side = d.rule(at, ends[end])
                mark = d.lay_off(side, at, CUBE, "", kind="plain")
                on = d.meet(d.square_to(across, mark), axes[end], name if name == "H" else "")
                places[name] = on if name == "H" else d.mirror(on, centre, name)
    _cube(g, d, centre, places)


def _folded(g: AxonometricAxes, d: Draft, one: Spot, other: Spot, axis: LineMark, foot: Spot) -> Spot:
    """The corner of the right angle over a trace, folded into the picture plane: on the semicircle and the axis."""
    with d.as_one(
        "Compass", f"On {one.name}{other.name} swing a semicircle; where the third axis meets it stands the corner."
    ):
        middle = d.between(one, other, 0.5)
        arc = d.compass(middle, d.opening(middle, one), whole=False)
        away = foot.here + 10 * (foot.here - d.spots["O"].here)
        return d.meet(axis, arc, near=away)


@method(
    AxonometricAxes,
    "turn-and-tilt",
    about="A plan at its turn and a side view at its tilt: places come over from both.",
    source="Orthographic projection on an inclined plane (Farish)",
)
def by_turn(g: AxonometricAxes, d: Draft) -> None:
    turn, tilt = g.seen_from
    drop = 2 * CUBE + ROOM
    with d.phase("The plan"):
        plan = d.start_at("P", 0.0, -drop, says="Mark the corner in the plan.", kind="plain")
        d.level_from(plan, "Draw level through it: the picture plane runs so.", Role.CENTRE).extent(-CUBE, CUBE)
        exchanged = d.choice(
            "turn-of-the-other-side",
            right=turn,
            slip=90.0 - turn,
            when=abs(turn - 45.0) > 0.5,
            says="The turn is set off at the side that runs to the front.",
        )
        rays = [
            d.ray(plan, exchanged + lean, f"Draw {words} in the plan.")
            for lean, words in ((90.0, "front"), (0.0, "right"))
        ]
        with d.as_one("Rule", "Lay the true length off along both.", Setting(CUBE, "mm")):
            below = [d.lay_off(ray, plan, CUBE, "", kind="plain") for ray in rays]
    with d.phase("The side view"):
        up = d.upright_from(plan, "Carry the corner up: the axis of heights.", Role.CENTRE)
        corner = d.lay_off(up, plan, drop, "O", "On it mark O, clear of the plan.")
        level = d.level_from(corner, "Draw level through O.")
        side = d.lay_off(
            level, corner, CUBE + ROOM, "S", "To the right mark S, the corner from the side.", kind="plain"
        )
        ground = d.ray(side, tilt, f"From S draw the ground, {trim(tilt)}° over level.", length=CUBE)
        wall = d.square_to(ground, side, "Square to it draw the axis of heights.", length=CUBE)
        top = d.lay_off(wall, side, CUBE, "", "Lay the true length off along it.", kind="plain")
        places = {}
        for name, spot, words in zip("FR", below, ("front", "right")):
            with d.as_one(
                "Dividers", f"Take how deep the end of {words} lies in the plan; lay it off along the ground."
            ):
                in_full = d.choice(
                    "depths-unreduced",
                    right=False,
                    slip=True,
                    when=tilt < 80.0,
                    says="Depths are carried up from the plan in full, not along the ground as it is seen.",
                    at=name,
                )
                line = d.upright_from(side) if in_full else ground
                mark = d.lay_off(line, side, d.opening_along(plan, spot, level=False), "", kind="plain")
            with d.as_one("Set square", f"Over from there and up from the plan: {name}."):
                places[name] = d.meet(
                    d.upright_from(spot, role=Role.PROJECTOR), d.level_from(mark, role=Role.PROJECTOR), name
                )
        with d.as_one("Set square", "And level over to the axis of heights: H."):
            places["H"] = d.meet(up, d.level_from(top, role=Role.PROJECTOR), "H")
    _cube(g, d, corner, places)


def _cube(g: AxonometricAxes, d: Draft, corner: Spot, ends: dict[str, Spot]) -> None:
    """A cube on the axes, its edges seen."""
    with d.phase("A cube on them"):
        with d.as_one("Set square", f"Parallels to the axes close a cube of {mm(CUBE)}."):
            axes = {name: d.rule(corner, spot) for name, spot in ends.items()}
            spots = {"A": corner, "B": ends["F"], "D": ends["R"], "E": ends["H"]}
            for name, (one, along_one), (other, along_other) in (
                ("F", ("E", "F"), ("B", "H")),
                ("H", ("E", "R"), ("D", "H")),
                ("G", ("F", "R"), ("H", "F")),
            ):
                first = d.parallel_to(axes[along_one], spots[one])
                second = d.parallel_to(axes[along_other], spots[other])
                spots[name] = d.meet(first, second)
        with d.as_one("Straightedge", "Line in what is seen of it."):
            for edge in EDGES:
                d.line_in([spots[letter] for letter in edge])
    _sphere(g, d, spots)


def _sphere(g: AxonometricAxes, d: Draft, spots: dict[str, Spot]) -> None:
    """The sphere that just fits into the cube: a circle as wide as it is, whatever the axes are."""
    with d.phase("A sphere in it"):
        with d.as_one("Straightedge", "Two diagonals through the cube cross in its middle: M."):
            middle = d.meet(d.rule(spots["A"], spots["G"]), d.rule(spots["B"], spots["H"]), "M")
        radius = d.choice(
            "sphere-shortened",
            right=CUBE / 2,
            slip=CUBE / 2 * min(g.scales),
            says="The sphere’s radius is shortened as a length along an axis is.",
            when=min(g.scales) < 0.98,
        )
        says = f"A sphere is seen as a circle of its true size: about M, {mm(CUBE / 2)}, hidden in the cube."
        circle = d.compass(middle, radius, says, role=Role.HIDDEN)
        with d.as_one("Set square", "Upright over M it is highest: T."):
            d.meet(d.upright_from(middle), circle, "T", where="above")
