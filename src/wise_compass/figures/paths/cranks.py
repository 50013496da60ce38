"""Cranks: the slider crank and the four-bar linkage, and the paths of points of their rods."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

import numpy as np

from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import method
from wise_compass.drafting.givens import SHORTEST_LENGTH, Choice, Count, Length
from wise_compass.drafting.marks import Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm, trim
from wise_compass.figures.paths.links import BESIDE, Carried, carried_dimensions, carry
from wise_compass.geometry.vectors import Array, Number, angle_of, cross, direction, distance, point

STRICT = 1e-6
"""Of the links: by how much one has to keep clear of the others for the crank to turn."""


class SliderCrank(Carried, id="slider-crank", family="paths", title="Slider crank"):
    keys = ("O", "A*", "B*", "P*")
    brief = (
        "A crank of {crank} with a rod of {rod}, its slide {offset} above the "
        "crank’s centre; the path of a point {along} "
        "along the rod and {off} off, at {divisions} positions, found with {method}."
    )
    summary = "An engine's crank, rod and slider: stroke, dead centres, and the path of any point of the rod."
    value_names = ("stroke", "outer_angle", "inner_angle", "time_ratio", "rod_lean", "slider", "path")

    crank = Length(28, "the crank", most=1000)
    rod = Length(92, "the rod", most=4000)
    offset = Length(12, "how far the slide lies above the centre", least=-1000, most=1000)
    along = Length(40, "how far along the rod the point is", least=-4000, most=4000)
    off = Length(15, "how far to the left of the rod it is", least=-4000, most=4000)
    divisions = Count(12, "the positions", 8, 72)

    def refuse(self) -> None:
        least = self.crank + abs(self.offset)
        if self.rod <= least * (1 + STRICT):
            raise Refused(
                "rod",
                f"The rod is {mm(self.rod)}; to let the crank turn it has to be over crank and offset together, "
                f"{least_mm(least)}. Raise rod.",
            )

    def pin(self, turn: Number) -> Array:
        return np.asarray(self.crank * direction(turn))

    def link_at(self, turn: Number) -> tuple[Array, Array]:
        pin = self.pin(turn)
        down = self.offset - pin[..., 1]
        x = pin[..., 0] + np.sqrt((self.rod - down) * (self.rod + down))
        return pin, point(x, np.zeros_like(x) + self.offset)

    def fixed_at(self, turn: float) -> tuple[Array, ...]:
        return (np.array([point(0.0, 0.0), self.pin(turn)]),)

    @property
    def ends(self) -> tuple[float, float]:
        """How far right the slider stands in its outer and its inner dead centre."""
        return tuple(
            float(np.sqrt(size**2 - self.offset**2)) for size in (self.rod + self.crank, self.rod - self.crank)
        )  # type: ignore[return-value]

    @property
    def dead(self) -> tuple[float, float]:
        """The crank's angles in both dead centres, 0 to under 360."""
        far, near = self.ends
        outer = float(np.degrees(np.arctan2(self.offset, far))) % 360.0
        return outer, (float(np.degrees(np.arctan2(self.offset, near))) + 180.0) % 360.0

    def values(self, method: str) -> Iterable[Value]:
        far, near = self.ends
        outer, inner = self.dead
        o, both, less = bare(self.offset), bare(self.rod + self.crank), bare(self.rod - self.crank)
        yield Value("stroke", far - near, "mm", f"√({both}² − {o}²) − √({less}² − {o}²)")
        yield Value("outer_angle", outer, "°", "… where crank and rod lie in one line, the crank towards the slider")
        yield Value("inner_angle", inner, "°", "… where they lie in one line, the crank away from it")
        turn = (inner - outer) % 360.0
        large, small = max(turn, 360.0 - turn), min(turn, 360.0 - turn)
        yield Value("time_ratio", large / small, "", f"{trim(large)} / {trim(small)}")
        lean = float(np.degrees(np.arcsin((self.crank + abs(self.offset)) / self.rod)))
        yield Value("rod_lean", lean, "°", f"arcsin({bare(self.crank + abs(self.offset))} / {bare(self.rod)})")
        sliders = self.link_at(self.turns)[1][:, 0].tolist()
        names = tuple(f"B{k}" for k in range(self.divisions))
        yield Value("slider", sliders, "mm", "the rod swung from each pin to the slide", names)
        yield Value(
            "path", self.path, "mm", "the point carried by the rod", tuple(f"P{k}" for k in range(self.divisions))
        )

    def measure(self, found: Found) -> dict[str, Number]:
        start = found["O"][..., None, :]
        return {"slider": found.group("B")[..., 0] - start[..., 0], "path": found.group("P") - start}

    def truths(self, found: Found) -> Iterator[Truth]:
        pins, sliders = found.group("A"), found.group("B")
        start = found["O"][..., None, :]
        yield Truth("The pin turns at the crank’s length", distance(pins, start) - self.crank)
        turned = (angle_of(pins - start) - self.turns + 180.0) % 360.0 - 180.0
        yield Truth("It stands at equal divisions of the turn", turned, "°")
        yield Truth("The rod keeps its length", distance(pins, sliders) - self.rod)
        yield Truth("The slider stays on its slide", sliders[..., 1] - start[..., 1] - self.offset)
        yield from self.carried_truths(found, "A", "B")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        if abs(self.offset) > BESIDE:
            yield Linear(point(0.0, 0.0), point(0.0, self.offset), "offset", self.offset, side=1)
        yield from _linkage_dimensions(
            found, self.divisions, {"crank": self.crank, "rod": self.rod}, self.along, self.off
        )


def _linkage_dimensions(
    found: Found, count: int, bars: Mapping[str, float], along: float, off: float
) -> Iterable[Dimension]:
    """The bars of a linkage in the first position where all of it was found, and the point that it carries."""
    k = next((k for k in (1, *range(count)) if all(f"{key}{k}" in found for key in "ABP")), None)
    if k is None:
        return
    o, a, b = found["O"], found[f"A{k}"], found[f"B{k}"]
    ends = [(o, a), (a, b), (found.get("G", b), b)]
    for (name, size), (p, q) in zip(bars.items(), ends):
        yield Linear(p, q, name, size, side=-1 if name == "rocker" else 1, rank=2 if name in ("coupler", "rod") else 1)
    yield from carried_dimensions(a, b, found[f"P{k}"], along, off)


@method(
    SliderCrank,
    "positions",
    about="The crank's circle divided, the rod swung from each pin to the slide, and the point carried by it.",
    source="The definition of the path",
)
def slider_positions(g: SliderCrank, d: Draft) -> None:
    reach = g.rod + g.crank
    with d.phase("Crank and slide"):
        centre = d.start_at("O", says="Mark O, the centre of the crank.")
        level = d.level_from(centre, "Draw level through O.", Role.CENTRE, reach)
        offset = d.choice(
            "offset-forgotten",
            right=g.offset,
            slip=0.0,
            when=abs(g.offset) > BESIDE,
            says="The slide is drawn through the crank’s centre.",
        )
        slide = level
        if abs(offset) > BESIDE:
            up = d.upright_from(centre, "And upright.", Role.CENTRE, offset)
            height = d.lay_off(up, centre, offset, "", "Lay the offset off.", kind="plain")
            slide = d.level_from(height, "There draw the slide.", Role.CENTRE, reach)
        circle = d.compass(centre, g.crank, "Centre O, draw the crank’s circle.")
    with d.phase("The pins"):
        rays = d.divide_turn(centre, g.divisions, 0.0, length=g.crank)
        with d.as_one("Pencil", f"Where they cut the circle stand the pins: {g.divisions} of them."):
            pins = [
                d.meet(ray, circle, f"A{k}", near=g.pin(turn), kind="plain")
                for k, (ray, turn) in enumerate(zip(rays, g.turns.tolist()))
            ]
    points: list[Spot] = []
    with d.phase("The positions"):
        for k, (pin, turn) in enumerate(zip(pins, g.turns.tolist())):
            says = f"Swing the rod from pin {k} to the slide; on it P{k}."
            with d.as_one("Compass", says):
                hub = d.choice(
                    "rod-from-centre",
                    right=pin,
                    slip=centre,
                    says="The rod is swung from the crank’s centre instead of its pin.",
                    at=f"P{k}",
                )
                arc = d.compass(hub, g.rod, whole=False)
                b = d.meet(slide, arc, f"B{k}", near=g.link_at(turn)[1], kind="plain")
                points.append(carry(d, pin, b, g.along, g.off, f"P{k}"))
    with d.phase("Line in"):
        d.curve(points, closed=True, says="Line in the path through the points.")


class FourBar(Carried, id="four-bar", family="paths", title="Four-bar linkage"):
    keys = ("O", "G", "A*", "B*", "P*")
    brief = (
        "A linkage of ground {ground}, crank {crank}, coupler {coupler} and "
        "rocker {rocker}, {mode}; the path of a point "
        "{along} along the coupler and {off} off, at {divisions} positions, found with {method}."
    )
    summary = "A crank, a coupler and a rocker between two pivots: swing, transmission, and a coupler point's path."
    value_names = ("kind", "swing", "least_transmission", "most_transmission", "rocker_angles", "path")

    ground = Length(80, "the distance of the pivots", most=4000)
    crank = Length(26, "the crank", most=4000)
    coupler = Length(66, "the coupler", most=4000)
    rocker = Length(54, "the rocker", most=4000)
    mode = Choice("open", "the way it is put together", ("open", "crossed"))
    along = Length(33, "how far along the coupler the point is", least=-4000, most=4000)
    off = Length(24, "how far to the left of the coupler it is", least=-4000, most=4000)
    divisions = Count(12, "the positions", 8, 72)

    @property
    def kind(self) -> str:
        return "crank-rocker" if self.crank < self.ground else "double-crank"

    def refuse(self) -> None:
        links = {"ground": self.ground, "crank": self.crank, "coupler": self.coupler, "rocker": self.rocker}
        short = min(links, key=lambda name: links[name])
        if short not in ("ground", "crank"):
            raise self._no_crank(short, links)
        sizes = sorted(links.values())
        if sizes[0] + sizes[3] >= (sizes[1] + sizes[2]) * (1 - STRICT):
            long = max(links, key=lambda name: links[name])
            most = most_mm(sizes[1] + sizes[2] - sizes[0])
            raise Refused(
                long,
                "The shortest and the longest link together reach past the other "
                f"two (Grashof). Set {long} under {most}.",
            )

    def _no_crank(self, short: str, links: Mapping[str, float]) -> Refused:
        """Why a crank does not turn beside a link that is shorter, and what lets it (Grashof's condition): that link
        longer, or where the others leave no length for it the crank shorter."""
        says = f"The {short} is the shortest link, so that the crank does not turn."
        others = {name: size for name, size in links.items() if name != short}
        one, two, three = sorted(others.values())
        least = max(one, (one + three) * (1 + 2 * STRICT) - two)
        if min(others, key=lambda name: others[name]) in ("ground", "crank") and least + one < two + three:
            return Refused(short, f"{says} Raise {short} over {least_mm(least)}.")
        one, two, three = sorted((self.ground, self.coupler, self.rocker))
        most = min(one, (one + two) * (1 - 2 * STRICT) - three)
        if most > SHORTEST_LENGTH:
            return Refused("crank", f"{says} Lower crank to {most_mm(most)} or less.")
        return Refused(short, f"{says} Raise coupler and rocker over {least_mm(min(self.ground, self.crank))}.")

    def pin(self, turn: Number) -> Array:
        return np.asarray(self.crank * direction(turn))

    @property
    def pivot(self) -> Array:
        return point(self.ground, 0.0)

    def link_at(self, turn: Number) -> tuple[Array, Array]:
        pin = self.pin(turn)
        way = self.pivot - pin
        far = np.hypot(way[..., 0], way[..., 1])
        along = (far**2 + self.coupler**2 - self.rocker**2) / (2 * far)
        across = np.sqrt(np.maximum((self.coupler - along) * (self.coupler + along), 0.0))
        u = way / far[..., None]
        side = 1.0 if self.mode == "open" else -1.0
        left = np.stack([-u[..., 1], u[..., 0]], axis=-1)
        return pin, np.asarray(pin + along[..., None] * u + side * across[..., None] * left)

    def fixed_at(self, turn: float) -> tuple[Array, ...]:
        pin, end = self.link_at(turn)
        return np.array([point(0.0, 0.0), pin]), np.array([self.pivot, end])

    def _at_distance(self, far: float) -> float:
        """The angle of coupler and rocker where the pin stands so far from the rocker's pivot."""
        c, r = self.coupler, self.rocker
        return float(np.degrees(np.arccos((c * c + r * r - far * far) / (2 * c * r))))

    @property
    def swing(self) -> float | None:
        """Through what angle the rocker swings; None where it turns."""
        if self.kind != "crank-rocker":
            return None
        angles = [
            float(np.degrees(np.arccos((self.ground**2 + self.rocker**2 - far**2) / (2 * self.ground * self.rocker))))
            for far in (self.coupler + self.crank, self.coupler - self.crank)
        ]
        return abs(angles[0] - angles[1])

    def values(self, method: str) -> Iterable[Value]:
        turning = self.swing is None
        yield Value("kind", self.kind, "", "by which of crank and ground is the shortest link")
        words = (
            "the rocker turns right round" if turning else "… between both positions with crank and coupler in one line"
        )
        yield Value("swing", self.swing, "°", words)
        c, r = bare(self.coupler), bare(self.rocker)
        for name, far in (
            ("least_transmission", abs(self.ground - self.crank)),
            ("most_transmission", self.ground + self.crank),
        ):
            yield Value(name, self._at_distance(far), "°", f"arccos(({c}² + {r}² − {bare(far)}²) / (2 × {c} × {r}))")
        ends = self.link_at(self.turns)[1]
        angles = (angle_of(ends - self.pivot) % 360.0).tolist()
        names = tuple(f"B{k}" for k in range(self.divisions))
        yield Value("rocker_angles", angles, "°", "the coupler swung from each pin to the rocker’s arc", names)
        yield Value(
            "path", self.path, "mm", "the point carried by the coupler", tuple(f"P{k}" for k in range(self.divisions))
        )

    def measure(self, found: Found) -> dict[str, Number]:
        start = found["O"][..., None, :]
        return {
            "rocker_angles": angle_of(found.group("B") - found["G"][..., None, :]) % 360.0,
            "path": found.group("P") - start,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        pins, ends = found.group("A"), found.group("B")
        start, pivot = found["O"][..., None, :], found["G"][..., None, :]
        yield Truth("The pivots stand as far apart as given", found["G"] - found["O"] - self.pivot)
        yield Truth("The crank keeps its length", distance(pins, start) - self.crank)
        turned = (angle_of(pins - start) - self.turns + 180.0) % 360.0 - 180.0
        yield Truth("It stands at equal divisions of the turn", turned, "°")
        yield Truth("The coupler keeps its length", distance(pins, ends) - self.coupler)
        yield Truth("The rocker keeps its length", distance(ends, pivot) - self.rocker)
        side = np.sign(cross(pivot - pins, ends - pins))
        yield Truth(f"It stays {self.mode}", side - (1.0 if self.mode == "open" else -1.0))
        yield from self.carried_truths(found, "A", "B")

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), self.pivot, "ground", self.ground)
        bars = {"crank": self.crank, "coupler": self.coupler, "rocker": self.rocker}
        yield from _linkage_dimensions(found, self.divisions, bars, self.along, self.off)


@method(
    FourBar,
    "positions",
    about="The crank's circle divided, the coupler swung from each pin to the rocker's arc, the point carried by it.",
    source="The definition of the path; the linkage's own rule (Grashof)",
)
def four_bar_positions(g: FourBar, d: Draft) -> None:
    with d.phase("The pivots"):
        centre = d.start_at("O", says="Mark O, the crank’s pivot.")
        level = d.level_from(centre, "Draw level through O.", Role.CENTRE, g.ground)
        pivot = d.lay_off(level, centre, g.ground, "G", "Lay the ground off: G, the rocker’s pivot.")
        circle = d.compass(centre, g.crank, "Centre O, draw the crank’s circle.")
        swung = d.compass(pivot, g.rocker, "Centre G, draw the rocker’s arc.")
    with d.phase("The pins"):
        rays = d.divide_turn(centre, g.divisions, 0.0, length=g.crank)
        with d.as_one("Pencil", f"Where they cut the circle stand the pins: {g.divisions} of them."):
            pins = [
                d.meet(ray, circle, f"A{k}", near=g.pin(turn), kind="plain")
                for k, (ray, turn) in enumerate(zip(rays, g.turns.tolist()))
            ]
    points: list[Spot] = []
    with d.phase("The positions"):
        for k, (pin, turn) in enumerate(zip(pins, g.turns.tolist())):
            says = f"Swing the coupler from pin {k} to the rocker’s arc; on it P{k}."
            with d.as_one("Compass", says):
                arc = d.compass(pin, g.coupler, whole=False)
                end = g.link_at(turn)[1]
                if d.once(
                    "other-branch",
                    right=False,
                    slip=True,
                    says="At one position the coupler is swung to the other side.",
                    at=f"P{k}",
                    usual=k == g.divisions // 3,
                ):
                    end = 2 * np.asarray(_foot(end, pin.here, pivot.here)) - end
                b = d.meet(swung, arc, f"B{k}", near=end, kind="plain")
                points.append(carry(d, pin, b, g.along, g.off, f"P{k}"))
    with d.phase("Line in"):
        d.curve(points, closed=True, says="Line in the path through the points.")


def _foot(at: Array, one: Array, other: Array) -> Array:
    """The foot of a place on the line through two others."""
    u = (other - one) / float(distance(one, other))
    return np.asarray(one + float((at - one) @ u) * u)
