"""The cuts of rafters at a hip or a valley."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from wise_compass.drafting.capabilities import Face, Solid
from wise_compass.drafting.dimensions import Angular, Dimension, Leader, Linear
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Angle, Length
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, trim
from wise_compass.figures.roofs.spires import SAFE
from wise_compass.geometry.planes import cross3
from wise_compass.geometry.vectors import Array, Number, angle_between, angle_of, cosd, direction, distance, sind, tand

GAP = 16.0
"""mm between the plan and what is drawn beside it."""
LEVEL = 1e-6
"""Of a plan angle off 90°, in degrees: nearer the slope's eave runs square to the hip."""
FAR = 60.0
"""The tangent of a plan angle from which a section square to the hip meets the eave too far off."""
TALL = 0.6
"""Of the hip's plan: where the section square to it is taken at most."""
MOST_JACKS = 12


class RafterCuts(Solid, Figure, id="rafter-cuts", family="roofs", title="Cuts of rafters"):
    keys = ("A", "E*", "F*", "H", "J*", "K*", "M", "N", "T", "W*")
    brief = (
        "The cuts of rafters at a corner of {corner} in plan, pitches {pitch_1} and {pitch_2}, rising {rise}, jacks "
        "{spacing} apart, found with {method}."
    )
    summary = "Hip or valley: its plan, its length, seat and plumb cuts, dihedral, backing, cheeks and jack steps."
    ways = ("fold-down", "auxiliary-view")
    value_names = (
        "plan_angle_1",
        "plan_angle_2",
        "hip_plan",
        "hip_length",
        "seat_cut",
        "plumb_cut",
        "common_1",
        "common_2",
        "dihedral",
        "backing_1",
        "backing_2",
        "cheek_1",
        "cheek_2",
        "jack_step_1",
        "jack_step_2",
    )

    corner = Angle(90, "the corner in plan, inside: under 180° a hip, over it a valley", least=20, most=340)
    pitch_1 = Angle(40, "the pitch of the slope on the first eave", least=5, most=85)
    pitch_2 = Angle(50, "the pitch of the slope on the second", least=5, most=85)
    rise = Length(36, "how high the hip rises")
    spacing = Length(14, "how far the jacks stand apart along the eaves")

    def refuse(self) -> None:
        if abs(self.corner - 180.0) < 1.0:
            raise Refused(
                "corner",
                f"At {trim(self.corner)}° both eaves run in one line and there is "
                "no hip. Set corner to 179 or less for a "
                "hip, or to 181 or more for a valley.",
            )
        if self.hip_plan > 200 * self.rise:
            raise Refused(
                "corner",
                f"The hip would run {mm(self.hip_plan)} in plan for a rise of {mm(self.rise)}. Change corner, or bring "
                "the pitches nearer to each other.",
            )

    # the roof

    @property
    def pitches(self) -> tuple[float, float]:
        return self.pitch_1, self.pitch_2

    @property
    def runs(self) -> tuple[float, float]:
        """How far from each eave its slope is as high as the hip rises."""
        return tuple(self.rise / float(tand(pitch)) for pitch in self.pitches)  # type: ignore[return-value]

    @property
    def plan_angles(self) -> tuple[float, float]:
        """From each eave to the hip in the plan."""
        one, other = self.runs
        first = float(np.degrees(np.arctan2(one * sind(self.corner), other + one * cosd(self.corner)))) % 180.0
        return first, self.corner - first

    @property
    def hip_plan(self) -> float:
        k = int(np.argmax([float(sind(angle)) for angle in self.plan_angles]))
        return self.runs[k] / float(sind(self.plan_angles[k]))

    @property
    def hip_length(self) -> float:
        return float(np.hypot(self.hip_plan, self.rise))

    @property
    def seat(self) -> float:
        return float(np.degrees(np.arctan2(self.rise, self.hip_plan)))

    @property
    def commons(self) -> tuple[float, float]:
        return tuple(self.rise / float(sind(pitch)) for pitch in self.pitches)  # type: ignore[return-value]

    @property
    def alongs(self) -> tuple[float, float]:
        """How far along each eave the foot of the hip's top is; less than 0 where its slope leans the other way."""
        return tuple(self.hip_plan * float(cosd(angle)) for angle in self.plan_angles)  # type: ignore[return-value]

    @property
    def leans(self) -> tuple[float, float]:
        """Each slope to level, square to the hip; less than 0 where it leans the other way."""
        up = float(sind(self.seat))
        return tuple(
            0.0 if self.squarely(k) else float(np.degrees(np.arctan(up / tand(angle))))
            for k, angle in enumerate(self.plan_angles)
        )  # type: ignore[return-value]

    def squarely(self, k: int) -> bool:
        """Whether eave ``k`` runs square to the hip in plan."""
        return abs(self.plan_angles[k] - 90.0) < LEVEL

    def eave(self, k: int) -> Array:
        """The direction of an eave from the corner, in plan."""
        return direction(0.0 if k == 0 else self.corner)

    @property
    def hip_way(self) -> Array:
        return direction(self.plan_angles[0])

    def met(self, k: int) -> bool:
        """Whether a section square to the hip meets eave ``k`` within reach."""
        return abs(float(tand(self.plan_angles[k]))) < FAR and not self.squarely(k)

    @property
    def section(self) -> float:
        """How far from the corner the section square to the hip is taken, in plan."""
        steep = max((abs(float(tand(angle))) for k, angle in enumerate(self.plan_angles) if self.met(k)), default=1.0)
        return TALL * self.hip_plan / max(1.0, steep)

    def jacks(self, k: int) -> int:
        """How many jacks of a slope meet the hip."""
        return min(int(abs(self.alongs[k]) / self.spacing + 1e-9), MOST_JACKS)

    # what is told

    def cautions(self) -> Iterable[str]:
        for k, angle in enumerate(self.plan_angles, 1):
            if angle > 90.0 + LEVEL and self.corner < 180.0:
                yield f"Slope {k} leans the other way: the hip runs back over eave {k}, {trim(angle)}° to it."
        yield SAFE

    def values(self, method: str) -> Iterable[Value]:
        rise, plan = bare(self.rise), bare(self.hip_plan)
        runs = [bare(run) for run in self.runs]
        for k in range(2):
            words = (
                "… where level lines on both slopes meet"
                if k == 0
                else f"{trim(self.corner)}° − {trim(self.plan_angles[0])}°"
            )
            yield Value(f"plan_angle_{k + 1}", self.plan_angles[k], "°", words, ("A", "H"))
        k = int(np.argmax([float(sind(angle)) for angle in self.plan_angles]))
        yield Value("hip_plan", self.hip_plan, "mm", f"{runs[k]} / sin {trim(self.plan_angles[k])}°", ("A", "H"))
        yield Value("hip_length", self.hip_length, "mm", f"√({plan}² + {rise}²)", ("A", "T"))
        hundred = 100 * self.rise / self.hip_plan
        words = f"arctan({rise} / {plan}): {trim(hundred, 1)} per 100 on the square"
        yield Value("seat_cut", self.seat, "°", words, ("A", "T"))
        yield Value("plumb_cut", 90.0 - self.seat, "°", f"90° − {trim(self.seat)}°", ("T",))
        for k, pitch in enumerate(self.pitches):
            hundred = 100 * float(tand(pitch))
            words = f"{rise} / sin {trim(pitch)}°: {trim(hundred, 1)} per 100 on the square"
            yield Value(f"common_{k + 1}", self.commons[k], "mm", words, (f"W{k + 1}",))
        total = 180.0 - sum(self.leans)
        told = " − ".join(f"({trim(lean)}°)" for lean in self.leans)
        yield Value("dihedral", total, "°", f"180° − {told}", ("N",))
        for k, lean in enumerate(self.leans):
            words = (
                "its eave is square to the hip"
                if self.squarely(k)
                else (f"arctan(sin {trim(self.seat)}° / tan {trim(self.plan_angles[k])}°), its size")
            )
            yield Value(f"backing_{k + 1}", abs(lean), "°", words, ("N",))
        for k in range(2):
            cheek = float(np.degrees(np.arctan2(abs(self.alongs[k]), self.commons[k])))
            words = f"arctan({bare(abs(self.alongs[k]))} / {bare(self.commons[k])})"
            yield Value(f"cheek_{k + 1}", cheek, "°", words, (f"W{k + 1}",))
        for k in range(2):
            square = self.squarely(k)
            step = None if square else self.spacing * self.commons[k] / abs(self.alongs[k])
            words = f"{bare(self.spacing)} × {bare(self.commons[k])} / {bare(abs(self.alongs[k]))}"
            marks = (f"E{k + 1}1", f"J{k + 1}1") if self.jacks(k) and not square else ()
            yield Value(f"jack_step_{k + 1}", step, "mm", "no jack meets the hip" if square else words, marks)

    def measure(self, found: Found) -> dict[str, Number]:
        a, h, t = found["A"], found["H"], found["T"]
        first = angle_of(h - a) % 360.0
        seat = angle_between(t - a, h - a)
        out: dict[str, Number] = {
            "plan_angle_1": first,
            "plan_angle_2": self.corner - first,
            "hip_plan": distance(a, h),
            "hip_length": distance(a, t),
            "seat_cut": seat,
            "plumb_cut": angle_between(a - t, h - t),
        }
        for k in range(2):
            foot, top = found[f"F{k + 1}"], found[f"W{k + 1}"]
            out[f"common_{k + 1}"] = distance(foot, top)
            out[f"cheek_{k + 1}"] = angle_between(a - top, foot - top) if not self.squarely(k) else seat * 0.0
            if self.jacks(k) and not self.squarely(k):
                out[f"jack_step_{k + 1}"] = distance(found[f"E{k + 1}1"], found[f"J{k + 1}1"])
            if f"K{k + 1}" in found:
                meet = found[f"L{k + 1}" if f"L{k + 1}" in found else f"K{k + 1}"]
                out[f"backing_{k + 1}"] = angle_between(found["N"] - meet, found["M"] - meet)
            elif "M" in found:
                out[f"backing_{k + 1}"] = seat * 0.0
        if "M" in found and all(self.met(k) or self.squarely(k) for k in range(2)):
            out["dihedral"] = 180.0 - sum(
                np.sign(lean) * np.asarray(out[f"backing_{k + 1}"]) for k, lean in enumerate(self.leans)
            )
        return out

    @property
    def normals(self) -> list[Array]:
        """Of both slopes, upward."""
        found = []
        for k, pitch in enumerate(self.pitches):
            along = self.eave(k)
            inward = np.array([-along[1], along[0]]) * (1.0 if k == 0 else -1.0)
            found.append(np.array([*(-inward * float(tand(pitch))), 1.0]))
        return found

    def truths(self, found: Found) -> Iterator[Truth]:
        a, h = found["A"], found["H"] - found["A"]
        for k, pitch in enumerate(self.pitches):
            along = self.eave(k)
            off = (along[0] * h[..., 1] - along[1] * h[..., 0]) * (1.0 if k == 0 else -1.0)
            words = f"Over H slope {k + 1} is as high as the hip rises"
            yield Truth(words, off * float(tand(pitch)) - self.rise)
            top = found[f"W{k + 1}"]
            yield Truth(
                f"On slope {k + 1}, folded down, the hip has its true length", distance(a, top) - self.hip_length
            )
            for j in range(1, self.jacks(k) + 1):
                if self.squarely(k):
                    break
                begin, end = found[f"E{k + 1}{j}"], found[f"J{k + 1}{j}"]
                want = j * self.spacing * self.commons[k] / abs(self.alongs[k])
                yield Truth(f"Jack {j} of slope {k + 1} ends on the hip", distance(begin, end) - want)
        yield Truth("The hip stands on its plan and its rise", distance(a, found["T"]) - self.hip_length)
        one, other = self.normals
        between = float(angle_between(one, other))
        told = self.measure(found)
        if "dihedral" in told:
            true = 180.0 - between if self.corner < 180.0 else 180.0 + between
            yield Truth("The dihedral is that of the slopes’ normals", np.asarray(told["dihedral"]) - true, "°")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        a, h = found["A"], found["H"]
        yield Angular(a, 0.0, self.corner, "corner", self.corner, reach=12.0)
        for k, pitch in ((1, self.pitch_1), (2, self.pitch_2)):
            yield Leader(found[f"F{k}"], f"pitch_{k}", pitch, "pitch ", "°")
        if "T" in found:
            yield Linear(h, found["T"], "rise", self.rise)
        else:
            yield Leader(h, "rise", self.rise, "rise ")
        if "E11" in found and "E12" in found:
            yield Linear(found["E11"], found["E12"], "spacing", self.spacing)
        else:
            yield Leader(a, "spacing", self.spacing, "jacks ")

    # in space

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """Both slopes from their eaves up to the hip."""
        if off:
            return ()
        top = np.array([*(self.hip_plan * self.hip_way), self.rise])
        faces = []
        for k in range(2):
            along = max(self.alongs[k], 0.0) + self.hip_plan / 2
            end = np.array([*(along * self.eave(k)), 0.0])
            over = end + top - np.array([*(self.alongs[k] * self.eave(k)), 0.0])
            ring = np.array([np.zeros(3), end, over, top])
            flat = ring * np.array([1.0, -1.0, 1.0])
            outward = cross3(flat[1] - flat[0], flat[2] - flat[0])
            faces.append(Face(flat if float(outward[2]) < 0 else flat[::-1]))
        return faces

    def true_lines(self) -> Sequence[tuple[str, Array, Array]]:
        """The hip, the common rafter under its top on each slope, and every jack from its eave to the hip."""
        front = np.array([1.0, -1.0, 1.0])
        top = np.array([*(self.hip_plan * self.hip_way), self.rise])
        lines = [("A T", np.zeros(3), top * front)]
        for k in range(2):
            foot = np.array([*(self.alongs[k] * self.eave(k)), 0.0])
            lines.append((f"F{k + 1} T", foot * front, top * front))
            if self.squarely(k):
                continue
            for j in range(1, self.jacks(k) + 1):
                share = j * self.spacing / abs(self.alongs[k])
                lines.append((f"E{k + 1}{j} J{k + 1}{j}", share * foot * front, share * top * front))
        return lines
