"""A hyperboloid of one sheet: straight generators between two level circles, both ways."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np

from wise_compass.drafting.capabilities import Curved, InViews
from wise_compass.drafting.course import Course
from wise_compass.drafting.dimensions import Angular, Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import ArcMark, LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.views import Views
from wise_compass.drafting.wording import bare, trim
from wise_compass.geometry.curves import Curve
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.hidden import uncovered
from wise_compass.geometry.vectors import Array, Number, angle_of, cosd, distance, length, multiples, point, polar, sind

GAP, BEYOND, APART = 16.0, 6.0, 20.0
"""mm between the views, that centre lines run beyond, and to the triangle of the true length."""
LEVELS = (8, 12, 16, 24, 36, 48)
"""Parts that a generator may be cut into to find the outline."""
HOLD = 0.1
"""mm within which the outline that a hand joins up is to stay of the true one."""
RIM = 72


class Hyperboloid(
    Curved, InViews, Figure, id="hyperboloid", family="structural", title="Hyperboloid of straight lines"
):
    keys = ("B*", "J*.front", "K*.front", "M.top", "O.front", "O.top", "S*", "T*", "U", "W")
    brief = (
        "A hyperboloid between two circles {diameter} wide and {height} apart, {generators} "
        "generators turned by {twist} from end to end, "
        "and as many the other way. Found with {method}."
    )
    summary = (
        "A cooling tower, a basket, a pair of skew gears: generators both ways, "
        "throat and outline, and their true length."
    )
    value_names = ("throat_diameter", "generator_length", "generator_angle_h")
    ways = ("generators",)

    diameter = Length(80, "the diameter of both circles")
    height = Length(90, "how far apart they are")
    twist = Angle(90, "the angle between a generator’s ends in plan", over=0, most=180)
    generators = Count(16, "the generators of one way", 6, 48)

    @property
    def radius(self) -> float:
        return self.diameter / 2

    @property
    def throat(self) -> float:
        """The radius at the throat."""
        return self.radius * float(cosd(self.twist / 2))

    @cached_property
    def levels(self) -> int:
        """Parts that a generator is cut into: the fewest with which the outline holds."""

        def off(count: int) -> float:
            z = np.linspace(-self.height / 2, self.height / 2, count + 1)
            drawn = along_curve(fair_curve(point(self._wide(z), z)), 8)
            return float(np.abs(drawn[:, 0] - self._wide(drawn[:, 1])).max())

        return next((count for count in LEVELS if off(count) <= HOLD), LEVELS[-1])

    def _wide(self, z: Number) -> Array:
        """The radius so high over the throat."""
        slope = 2 * np.sqrt(max(self.radius**2 - self.throat**2, 0.0)) / self.height
        return np.asarray(np.hypot(self.throat, slope * np.asarray(z, dtype=float)))

    @property
    def in_plan(self) -> float:
        """How long a generator is in plan: a chord."""
        return self.diameter * float(sind(self.twist / 2))

    @property
    def turns(self) -> Array:
        return multiples(360.0 / self.generators, self.generators)

    def place(self, turn: Number, height: float) -> Array:
        """A place of either circle, so far round anticlockwise as seen from above."""
        at = polar(point(0.0, 0.0), self.radius, turn)
        return np.stack([at[..., 0], -at[..., 1], np.full(np.shape(turn), height)], axis=-1)

    def values(self, method: str) -> Iterable[Value]:
        wide, half = bare(self.diameter), trim(self.twist / 2)
        yield Value("throat_diameter", 2 * self.throat, "mm", f"{wide} × cos {half}°", ("M.top", "O.top"))
        yield Value(
            "generator_length",
            float(np.hypot(self.in_plan, self.height)),
            "mm",
            f"√(({wide} × sin {half}°)² + {bare(self.height)}²)",
            ("W", "U"),
        )
        lean = float(np.degrees(np.arctan2(self.height, self.in_plan)))
        yield Value("generator_angle_h", lean, "°", f"arctan({bare(self.height)} / ({wide} × sin {half}°))", ("W", "U"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {
            "throat_diameter": 2 * np.asarray(distance(found["M.top"], found["O.top"])),
            "generator_length": distance(found["W"], found["U"]),
            "generator_angle_h": 180.0 - np.abs(np.asarray(angle_of(found["U"] - found["W"]))),
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        for letter, turn, height, words in (
            ("B", self.turns, 0.0, "foot"),
            ("T", self.turns + self.twist, self.height, "head"),
            ("S", self.turns - self.twist, self.height, "head the other way"),
        ):
            at = found.together([f"{letter}{k}" for k in range(self.generators)])
            yield Truth(
                f"Every {words} of a generator stands on its circle, so far round", at - self.place(turn, height)
            )
        yield Truth("The throat is where every generator comes nearest to the axis", self._nearest(found) - self.throat)
        right, left = (found.together([f"{letter}{k}.front" for k in range(self.levels + 1)]) for letter in "JK")
        x = (right[..., 0] - left[..., 0]) / 2
        z = (right[..., 1] + left[..., 1]) / 2 - found["O.front"][..., 1:2] - self.height / 2
        slope = 2 * np.sqrt(max(self.radius**2 - self.throat**2, 0.0)) / self.height
        yield Truth("The outline is the hyperbola of the meridian", np.sqrt(self.throat**2 + (slope * z) ** 2) - x)

        one = found["T0"] - found["B0"]
        yield Truth(
            "The triangle beside shows a generator’s true length",
            distance(found["W"], found["U"]) - np.sqrt((one**2).sum(axis=-1)),
        )

    def courses(self, method: str) -> Sequence[Course]:
        """The outline at either side: the hyperbola of the meridian, by the height from the throat."""
        t, slope = self.throat, 2 * np.sqrt(max(self.radius**2 - self.throat**2, 0.0)) / self.height
        if t <= 1e-6 * self.radius:  # a cone: two straight lines
            return ()
        wide = self._wide

        def outline(way: float) -> Curve:
            return Curve(
                lambda z: point(way * wide(z), z),
                lambda z: point(way * slope**2 * np.asarray(z) / wide(z), 1.0 + 0.0 * np.asarray(z)),
                lambda z: point(way * (slope * t) ** 2 / wide(z) ** 3, 0.0 * np.asarray(z)),
                -self.height / 2,
                self.height / 2,
                per=1.0,
            )

        stations = np.linspace(-self.height / 2, self.height / 2, self.levels + 1)
        return tuple(
            Course(
                f"the outline at the {side}",
                outline(way),
                stations,
                tuple(f"{letter}{k}.front" for k in range(self.levels + 1)),
                landmarks=((0.0, "the throat"),),
                afloat=True,
            )
            for side, way, letter in (("right", 1.0, "J"), ("left", -1.0, "K"))
        )

    def _nearest(self, found: Found) -> Array:
        """How near to the axis each generator comes, as it lies in plan."""
        off = []
        for k in range(self.generators):
            for letter in "TS":
                a, b = found[f"B{k}"][..., :2], found[f"{letter}{k}"][..., :2]
                u = b - a
                t = np.clip(-(a * u).sum(axis=-1) / (u * u).sum(axis=-1), 0.0, 1.0)
                off.append(np.asarray(length(a + t[..., None] * u)))
        return np.stack(off, axis=-1)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        middle, half = found["O.top"], point(self.radius, 0.0)
        low = middle - point(0.0, self.radius)
        yield Linear(middle - half, middle + half, "diameter", self.diameter, prefix="⌀", past=low)
        start = found["O.front"] - point(self.radius, 0.0)
        yield Linear(start, start + point(0.0, self.height), "height", self.height, side=1)
        if "B0.top" in found and "T0.top" in found and self.twist:
            begin, end = (float(angle_of(found[f"{name}0.top"] - found["O.top"])) for name in "BT")
            first = begin if abs((end - begin - self.twist) % 360.0) < 1e-6 else end
            yield Angular(found["O.top"], first, self.twist, "twist", self.twist)

    def body(self, names: Sequence[str]) -> Sequence[Sequence[str]]:
        if not {"B0", "T0", "S0"} <= set(names):
            return ()
        n = self.generators
        lines = [[f"B{k}", f"{letter}{k}"] for letter in "TS" for k in range(n)]
        rims = [[f"{letter}{k}", f"{letter}{(k + 1) % n}"] for letter in "BT" for k in range(n)]
        return [*lines, *rims]


class _HyperboloidHand:
    """The hyperboloid on the way."""

    circle: ArcMark
    level: LineMark
    centre: Spot
    ground: LineMark
    over: LineMark

    def __init__(self, g: Hyperboloid, d: Draft) -> None:
        self.g, self.d = g, d
        self.views = Views.stacked(d, 0.0, g.height, g.radius, GAP)
        self.ends: dict[str, list[Spot]] = {}

    def plan(self) -> None:
        g, d = self.g, self.d
        x, y = self.views.top.origin.tolist()
        self.centre = d.start_at("O.top", x, y, "Mark O, the axis in the plan.", kind="plain")
        reach = g.radius + BEYOND
        with d.as_one("Set square", "Draw the centre lines of the plan through O."):
            self.level = d.level_from(self.centre, role=Role.CENTRE).extent(-reach, reach)
            d.upright_from(self.centre, role=Role.CENTRE).extent(-reach, reach)
        self.circle = d.circle_in(
            self.centre, g.radius, "Centre O, draw the circle: both ends show in it.", "half the diameter"
        )
        wrong = d.choice(
            "twist-halved", right=g.twist, slip=g.twist / 2, says="Half the twist set off between the ends."
        )
        for letter, first, words in (
            ("B", 0.0, "feet"),
            ("T", wrong, "heads, the twist further round"),
            ("S", -wrong, "heads the other way"),
        ):
            rays = d.divide_turn(self.centre, g.generators, first=first, length=g.radius)
            with d.as_one("Pencil", f"Mark the {words}."):
                self.ends[letter] = [
                    d.meet(
                        ray,
                        self.circle,
                        f"{letter}{k}.top",
                        near=polar(self.centre.here, g.radius, first + 360.0 / g.generators * k),
                        kind="found" if k == 0 else "plain",
                    )
                    for k, ray in enumerate(rays)
                ]
        with d.as_one("Straightedge", "Join every foot to both of its heads, thin: the generators."):
            self._thin([(f"B{k}.top", f"{letter}{k}.top") for letter in "TS" for k in range(g.generators)])
        with d.as_one("Dividers", "Halve the first generator at M."):
            middle = d.between(self.ends["B"][0], self.ends["T"][0], 0.5, "M.top")
        if g.throat > 1e-6 * g.radius:
            d.compass(
                self.centre,
                d.opening(self.centre, middle),
                "Centre O, through M: the throat, which every generator touches.",
                role=Role.HIDDEN,
            )

    def _thin(self, pairs: Sequence[tuple[str, str]]) -> None:
        """Generators from end to end, thin; one that lies behind another in the view is drawn but once."""
        d, before = self.d, list[Array]()
        for one, other in pairs:
            ends = d.spots[one], d.spots[other]
            drawn = np.array([end.here for end in ends])
            if uncovered(drawn, before, 1e-7 * self.g.height):
                d.line_in(ends, role=Role.FOLD)
            before.append(drawn)

    def elevation(self) -> None:
        g, d, views = self.g, self.d, self.views
        axis = d.upright_from(self.centre, "Carry the axis into the elevation.", role=Role.CENTRE)
        lift = float(views.front.origin[1] - views.top.origin[1])
        foot = d.lay_off(
            axis,
            self.centre,
            lift,
            "O.front",
            "On it mark the level of the lower circle, clear of the plan.",
            kind="plain",
        )
        reach = g.radius + BEYOND
        self.ground = d.level_from(foot, "Draw the ground line level.").extent(-reach, reach)
        crown = d.lay_off(axis, foot, g.height, "", "Measure the height up the axis.", kind="plain")
        self.over = d.level_from(crown, "Draw the upper level.").extent(-reach, reach)
        with d.as_one("Set square", "Carry every end up to its own level."):
            for letter, line in (("B", self.ground), ("T", self.over), ("S", self.over)):
                for k, spot in enumerate(self.ends[letter]):
                    d.meet(
                        d.upright_from(spot, role=Role.PROJECTOR),
                        line,
                        f"{letter}{k}.front",
                        kind="found" if k == 0 else "plain",
                    )
        with d.as_one("Straightedge", "Join them, thin: the generators in the elevation."):
            self._thin([(f"B{k}.front", f"{letter}{k}.front") for letter in "TS" for k in range(g.generators)])
        for letter in "BTS":
            for k in range(g.generators):
                name = f"{letter}{k}"
                d.in_space(name, views.solid(d.spots[f"{name}.front"].at, d.spots[f"{name}.top"].at))

    def outline(self) -> None:
        """The meridian: places of the first generator swung round the axis to the level diameter."""
        d = self.d
        plan = d.divide(
            d.spots["B0.top"],
            d.spots["T0.top"],
            self.g.levels,
            says=f"Cut the first generator’s plan into {self.g.levels} equal spaces.",
            how="trial",
        )
        front = d.divide(
            d.spots["B0.front"],
            d.spots["T0.front"],
            self.g.levels,
            says="Cut its elevation into as many: the same places.",
            how="trial",
        )
        rows: dict[str, list[Spot]] = {"J": [], "K": []}
        for k, (low, high) in enumerate(zip(plan, front)):
            with d.as_one(
                "Compass",
                f"Place {k}: swing it round O to the level diameter, and carry "
                "that up to its own level, right and left.",
            ):
                over = d.level_from(high)
                for letter, way in (("J", 1.0), ("K", -1.0)):
                    flat = self._swung(low, way, k)
                    rows[letter].append(
                        d.meet(d.upright_from(flat, role=Role.PROJECTOR), over, f"{letter}{k}.front", kind="plain")
                    )
        with d.as_one("Curve", "Line in the outline at either side through these points."):
            for letter in "JK":
                d.curve(rows[letter])
        with d.as_one("Straightedge", "Line in both circles, which are level."):
            for k in (0, self.g.levels):
                d.line_in((rows["K"][k], rows["J"][k]))

    def _swung(self, place: Spot, way: float, k: int) -> Spot:
        """A place of the plan swung round O to the level diameter."""
        g, d = self.g, self.d
        if self.g.throat <= 1e-6 * g.radius and 2 * k == self.g.levels:  # all generators meet on the axis
            return self.centre
        arc = d.compass(self.centre, d.opening(self.centre, place), whole=False)
        return d.meet(arc, self.level, near=self.centre.here + point(way * g.radius, 0.0))

    def true_length(self) -> None:
        d = self.d
        right = float(self.ground.hi)
        with d.as_one("Set square", "Beside the elevation draw an upright on the ground line, up to the upper level."):
            base = d.on(self.ground, right + APART, "G")
            tip = d.meet(d.upright_from(base), self.over, "U")
        apparent = d.choice(
            "plan-for-true",
            right="top",
            slip="front",
            says="The elevation’s length of a generator laid off as that of the plan.",
        )
        taken = d.opening(d.spots[f"B0.{apparent}"], d.spots[f"T0.{apparent}"])
        foot = d.lay_off(
            self.ground,
            base,
            taken,
            "W",
            "Lay off the plan length of a generator along the ground.",
            "height against plan length",
        )
        d.line_in((foot, tip), says="Join W to U: the true length, and its angle to the ground.")


@method(
    Hyperboloid,
    "generators",
    about="Ends on both circles, joined both ways; the outline by swinging places of one generator round the axis.",
    source="The hyperboloid of revolution as a ruled surface (Wren)",
)
def generators(g: Hyperboloid, d: Draft) -> None:
    hand = _HyperboloidHand(g, d)
    with d.phase("The plan"):
        hand.plan()
    with d.phase("The elevation"):
        hand.elevation()
    with d.phase("The outline"):
        hand.outline()
    with d.phase("The true length"), d.apart("lengths"):
        hand.true_length()
