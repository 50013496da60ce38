"""An elbow that tapers: its pieces, each second one turned half round, are one right cone."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from functools import partial
from itertools import pairwise

import numpy as np

from wise_compass.drafting import hazards
from wise_compass.drafting.capabilities import Curved, Developed, Edge, Face, Part, Solid
from wise_compass.drafting.course import Course, evenly
from wise_compass.drafting.dimensions import Dimension, Leader, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Angle, Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, least_mm, mm, most_mm, trim
from wise_compass.geometry.curves import sampled
from wise_compass.geometry.rolled import squeezed_cone, strips
from wise_compass.geometry.unfold import FlatPiece, Pattern, Placing, resting
from wise_compass.geometry.vectors import Array, Number, cosd, direction, distance, point, sind, tand

GAP = 24.0
MOST_MITRE = 75.0
"""Degrees of a joint's slant and of the cone's together."""


class TaperedElbow(Curved, Solid, Developed, Figure, id="tapered-elbow", family="transitions", title="Tapered elbow"):
    keys = ("C*", "P*", "Q*", "W", "Z")
    brief = (
        "An elbow from {large} to {small} in diameter, bent {bend} about a radius of {radius}, in {pieces} pieces and "
        "{divisions} divisions, found with {method}."
    )
    summary = "A duct that turns and narrows: one cone, cut slanting to and fro, every cut on one pattern."
    ways = ("one-cone",)
    value_names = ("mitre_angle", "taper", "slant", "inner_radius", "outer_radius", "sector_angle", "cuts")
    hazards = (hazards.SHEET, hazards.DUCT)

    large = Length(80, "the diameter of the large end")
    small = Length(48, "the diameter of the small end")
    bend = Angle(90, "the angle through which it bends", least=5, most=180)
    radius = Length(100, "the radius of the bend, to the axis")
    pieces = Count(4, "the pieces, the ends being half ones", 2, 12)
    divisions = Count(12, "the divisions round it", 8, 72, multiple=4)

    def refuse(self) -> None:
        if self.small >= self.large * (1 - 1e-9):
            raise Refused(
                "small",
                f"The small end is {mm(self.small)} and the large one {mm(self.large)}: "
                "it does not taper. Lower small, or "
                "set out an elbow of one width.",
            )
        if self.radius <= self.large / 2:
            raise Refused(
                "radius",
                f"The bend’s radius is {mm(self.radius)}, within the large end. Raise "
                f"radius over {least_mm(self.large / 2)}.",
            )
        if self.mitre + (self.lean if self.mitre < MOST_MITRE else 0.0) > MOST_MITRE:
            least = int(np.ceil(self.bend / (2 * MOST_MITRE) + 1)) + 1
            raise Refused(
                "pieces",
                f"In {self.pieces} pieces every joint is cut at {trim(self.mitre)}°, too slanting for the cone. Raise "
                f"pieces to {max(least, self.pieces + 1)}, or lower bend.",
            )
        cuts = [np.array(row) for row in self.cuts]
        for j, (one, other) in enumerate(
            zip([np.zeros(self.divisions), *cuts], [*cuts, np.full(self.divisions, self.slant)])
        ):
            if float((other - one).min()) <= 0:
                raise Refused(
                    "pieces",
                    f"On the throat cuts {j} and {j + 1} cross. Raise radius, lower the pieces, or lower large under "
                    f"{most_mm(self.large * 0.9)}.",
                )

    @property
    def mitre(self) -> float:
        return self.bend / (2 * (self.pieces - 1))

    @property
    def tall(self) -> float:
        """The cone's height, from end to end along the axis of the pieces laid straight."""
        return 2 * (self.pieces - 1) * self.radius * float(tand(self.mitre))

    @property
    def lean(self) -> float:
        """Half the cone's angle, in degrees."""
        return float(np.degrees(np.arctan2((self.large - self.small) / 2, self.tall)))

    @property
    def slant(self) -> float:
        return float(np.hypot(self.tall, (self.large - self.small) / 2))

    @property
    def outer(self) -> float:
        """From the apex to the large end, along the skin."""
        return self.large / 2 / float(sind(self.lean))

    @property
    def sector(self) -> float:
        return 360.0 * float(sind(self.lean))

    def sphere(self, joint: int) -> tuple[float, float]:
        """The sphere round which two cones meet at a joint: how far its centre is from the large end, its radius."""
        at = (2 * joint - 1) * self.radius * float(tand(self.mitre))
        return at, (self.large / 2 - at * float(tand(self.lean))) * float(cosd(self.lean))

    def crossing(self, joint: int) -> float:
        """Where the plane of a joint crosses the axis, from the large end."""
        at, radius = self.sphere(joint)
        return at + radius * float(sind(self.lean)) / float(cosd(self.mitre)) ** 2

    def side(self, joint: int) -> float:
        """+1 where the joint's plane falls to division 0, −1 where it rises to it."""
        return 1.0 if joint % 2 else -1.0

    def cut(self, joint: int, turn: Number) -> Array:
        """From the large end along the skin to a joint, by the turn round it."""
        fall = self.side(joint) * np.asarray(cosd(turn)) * float(tand(self.mitre))
        level = (self.crossing(joint) - self.large / 2 * fall) / (1 - float(tand(self.lean)) * fall)
        return np.asarray(level / float(cosd(self.lean)))

    @property
    def turns(self) -> Array:
        return evenly(360.0 / self.divisions, self.divisions)

    @property
    def cuts(self) -> list[list[float]]:
        return [[float(x) for x in self.cut(j, self.turns)] for j in range(1, self.pieces)]

    def flat(self, joint: int, turn: Number) -> Array:
        """A joint's curve on the pattern about the apex, division 0 to the right."""
        far = self.outer - self.cut(joint, turn)
        return np.asarray(far[..., None] * direction(np.asarray(turn) * float(sind(self.lean))))

    def key(self, joint: int, k: int) -> str:
        """The key of a joint's place on the pattern, on division ``k`` from 0 to the last once more."""
        return f"C{(joint - 1) * (self.divisions + 1) + k}"

    def courses(self, method: str) -> Sequence[Course]:
        n = self.divisions
        found = []
        for joint in range(1, self.pieces):
            curve = sampled(partial(self.flat, joint), 0.02, 0.0, 360.0, False)
            names = tuple(self.key(joint, k) for k in range(n + 1))
            stations = evenly(360.0 / n, n + 1)
            found.append(
                Course(f"cut {joint} on the pattern", curve, stations, names, turn="turn round it", afloat=True)
            )
        return found

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        yield Value("mitre_angle", self.mitre, "°", f"{trim(self.bend)}° / (2 × ({self.pieces} − 1))")
        half = f"({bare(self.large)} − {bare(self.small)}) / 2"
        yield Value("taper", self.lean, "°", f"arctan({half} / {bare(self.tall)})", ("Z",))
        yield Value("slant", self.slant, "mm", f"√({bare(self.tall)}² + ({half})²)", ("Q0", "P0"))
        t = trim(self.lean, 6)
        yield Value("inner_radius", self.outer - self.slant, "mm", f"{bare(self.small)} / 2 / sin {t}°", ("W", "P0"))
        yield Value("outer_radius", self.outer, "mm", f"{bare(self.large)} / 2 / sin {t}°", ("W", "Q0"))
        yield Value("sector_angle", self.sector, "°", f"360° × sin {t}°", ("Q0", "W"))
        words = "… where each generator meets the joint’s plane, carried level to the cone’s side"
        yield Value("cuts", self.cuts, "mm", words, tuple(self.key(j, 0) for j in range(1, self.pieces)))

    def measure(self, found: Found) -> dict[str, Number]:
        w, n = found["W"], self.divisions
        outer, inner = distance(w, found["Q0"]), distance(w, found["P0"])
        rows = []
        for joint in range(1, self.pieces):
            at = found.together([self.key(joint, k) for k in range(n)])
            rows.append(outer[..., None] - distance(at, w[..., None, :]))
        return {"outer_radius": outer, "inner_radius": inner, "slant": outer - inner, "cuts": np.stack(rows, axis=-2)}

    def truths(self, found: Found) -> Iterator[Truth]:
        w, n = found["W"], self.divisions
        for letter, words, size in (("Q", "large", self.outer), ("P", "small", self.outer - self.slant)):
            at = found.group(letter)
            yield Truth(f"The {words} end lies on its arc", distance(at, w[..., None, :]) - size)
            chord = 2 * size * float(sind(self.sector / n / 2))
            yield Truth(
                f"The {words} end’s divisions are evenly apart", distance(at[..., 1:, :], at[..., :-1, :]) - chord
            )
        for joint in range(1, self.pieces):
            at = found.together([self.key(joint, k) for k in range(n + 1)])
            far = distance(at, w[..., None, :])
            turns = evenly(360.0 / n, n + 1)
            # on the cone again: every place of a joint lies in one plane
            r, level = far * float(sind(self.lean)), far * float(cosd(self.lean))
            rise = level + self.side(joint) * float(tand(self.mitre)) * r * -np.asarray(cosd(turns))
            apex = self.large / 2 / float(tand(self.lean)) - self.crossing(joint)
            yield Truth(f"Rolled up, cut {joint} lies in the plane of its joint", rise - apex)
        pattern = self.pattern(found)
        if pattern is not None:
            yield Truth("Every piece rolled up closes at its seam", pattern.gap())
            yield Truth("And stands where the bend has it", pattern.stray())

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        o, top = found["O"], found["O"] + point(0.0, self.tall)
        for name, at, size, side in (("large", o, self.large, -1), ("small", top, self.small, 1)):
            half = point(size / 2, 0.0)
            yield Linear(at - half, at + half, name, size, side, prefix="⌀")
        yield Leader(top + point(self.small / 2, 0.0), "bend", self.bend, "bent ", "°")
        yield Leader(top + point(self.small / 2, 0.0), "radius", self.radius, "about R", angle=-45.0)

    # in space, and as it is cut

    def skin(self, off: bool = False, method: str = "") -> Sequence[Face]:
        """The bent elbow: every piece as it lies, turned by twice the mitre at each joint."""
        if off:
            return ()
        n = 36
        turns = evenly(360.0 / n, n)
        rows = [np.zeros(n), *(self.cut(j, turns) for j in range(1, self.pieces)), np.full(n, self.slant)]
        faces = []
        for j, (low, high) in enumerate(zip(rows, rows[1:])):
            rings = [self._placed(j, far, turns) for far in (low, high)]
            for k in range(n):
                a, b = k - 1, k
                faces.append(Face(np.array([rings[0][a], rings[0][b], rings[1][b], rings[1][a]]), j + 1))
            if j == 0:
                faces.append(Face(rings[0][::-1]))
            if j == self.pieces - 1:
                faces.append(Face(rings[1]))
        return faces

    def _placed(self, piece: int, far: Array, turns: Array) -> Array:
        """Places of a piece in space, by how far along the skin they are from the large end."""
        r = self.large / 2 - far * float(sind(self.lean))
        level = far * float(cosd(self.lean))
        flip = -1.0 if piece % 2 else 1.0
        at = np.stack([flip * r * np.asarray(cosd(turns)), -flip * r * np.asarray(sind(turns)), level], axis=-1)
        for joint in range(piece, 0, -1):
            at = self._bent(at, joint)
        return np.asarray(at)

    def _bent(self, at: Array, joint: int) -> Array:
        """Places beyond a joint turned about its sphere's centre by twice the mitre, towards the throat."""
        centre = np.array([0.0, 0.0, self.sphere(joint)[0]])
        c, s = float(cosd(2 * self.mitre)), float(sind(2 * self.mitre))
        off = at - centre
        return np.asarray(
            centre
            + np.stack([c * off[..., 0] + s * off[..., 2], off[..., 1], -s * off[..., 0] + c * off[..., 2]], axis=-1)
        )

    def pattern(self, found: Found) -> Pattern | None:
        """Every piece rolled up where it stands in the bend."""
        if "Q0" not in found:
            return None
        n = self.divisions
        squeeze = squeezed_cone(found["W"], found["Q0"], self.lean, n)
        part = 2 * float(np.arcsin(float(sind(self.lean)) * np.sin(np.pi / n)))
        # two sides of the pyramid that the strips make, as it is rolled: their angle about an edge (spherical cosines)
        half = np.cos(np.pi / n) / np.cos(part / 2)
        fold = 180.0 - 2 * float(np.rad2deg(np.arcsin(half)))
        pieces: list[FlatPiece] = []
        roots: dict[int, Placing] = {}
        lies: dict[str, Array] = {}
        for j, (low, high) in enumerate(pairwise(self._rows())):
            flat = {key: squeeze(found[key]) for key in (*low, *high)}
            far = [self._far(k, row) for k, row in ((j, low), (j + 1, high))]
            true = [self._placed(j, one, self.turns) for one in far]
            roots[len(pieces)] = resting(
                np.array([flat[low[0]], flat[low[1]], flat[high[0]]]), np.array([true[0][0], true[0][1], true[1][0]])
            )
            made = strips(flat, low, [[high[k], high[k + 1]] for k in range(n)], True, fold, len(pieces))
            pieces += [one._replace(names=tuple(self._called(name, j) for name in one.names)) for one in made]
            for row, at in zip((low, high), true):
                lies |= {self._called(row[k], j): at[k] for k in range(n)}
        return Pattern(pieces, roots[0], lies, roots=roots)

    def _called(self, key: str, piece: int) -> str:
        """What a place of a piece is called on the bent elbow: at throat and heel neighbours share the ends of their
        joint, each second piece being turned half round."""
        n = self.divisions
        if key[0] == "C":
            joint, k = divmod(int(key[1:]), n + 1)
            if k in (0, n // 2):
                return f"joint {joint + 1}, {'left' if (k == 0) == bool(piece % 2) else 'right'}"
        return f"{key} of {piece}"

    def _rows(self) -> list[list[str]]:
        """The keys of both ends and of the joints between them on the pattern, the first of each once more."""
        n = self.divisions
        rows = [[f"Q{k}" for k in range(n + 1)]]
        rows += [[self.key(j, k) for k in range(n + 1)] for j in range(1, self.pieces)]
        return [*rows, [f"P{k}" for k in range(n + 1)]]

    def _far(self, number: int, row: Sequence[str]) -> Array:
        """How far along the skin a row is from the large end, on each division."""
        if 0 < number < self.pieces:
            return self.cut(number, self.turns)
        return np.full(len(row) - 1, self.slant if number else 0.0)

    def cut_out(self, found: Found) -> Sequence[Part]:
        rows = self._rows()
        parts = []
        for j, (low, high) in enumerate(zip(rows, rows[1:]), 1):
            kinds = ("base" if j == 1 else "joint", "top" if j == self.pieces else "joint")
            edges = [Edge(a, b, kinds[0]) for a, b in zip(low, low[1:])]
            edges.append(Edge(low[-1], high[-1], "seam"))
            edges += [Edge(a, b, kinds[1]) for a, b in zip(high[::-1], high[-2::-1])]
            edges.append(Edge(high[0], low[0], "side"))
            parts.append(Part(f"Piece {j}", edges))
        return parts


@method(
    TaperedElbow,
    "one-cone",
    about=(
        "The whole cone in elevation, cut slanting to and fro by the joints' planes; its skin laid flat as one sector."
    ),
    source="Cones round one sphere meet in plane curves (Monge); development by radial lines",
)
def tapered_cone(g: TaperedElbow, d: Draft) -> None:
    n = g.divisions
    with d.phase("The cone"):
        foot = d.start_at("O", says="Mark O, the middle of the large end.", kind="plain")
        base = d.level_from(foot, "Draw the large end level.").extent(-g.large / 2, g.large / 2)
        axis = d.upright_from(foot, "Draw the axis upright.", Role.CENTRE, g.tall)
        top = d.lay_off(
            axis,
            foot,
            g.tall,
            "",
            f"Lay the cone’s height off, {mm(g.tall)}.",
            "2 (pieces − 1) radius tan mitre",
            "plain",
        )
        half = d.compass(
            foot, g.large / 2, "Centre O, draw the circle of the large end.", "half the diameter", whole=False
        )
        with d.as_one(
            "Protractor", f"Divide it into {n}, and carry the divisions to the end.", Setting(360.0 / n, "°")
        ):
            marks = []
            for k in range(n // 2 + 1):
                turn = -360.0 * k / n
                if k in (0, n // 2):
                    marks.append(d.meet(base, half, near=foot.here + g.large * direction(turn)))
                    continue
                on = d.meet(
                    d.ray(foot, turn, instrument="Protractor"), half, near=foot.here + g.large * direction(turn)
                )
                marks.append(d.meet(d.upright_from(on), base))
        upper = d.level_from(top, "Draw the small end level.")
        edge = d.lay_off(upper, top, g.small / 2, "", "Lay off half the small end to the right.", kind="plain")
        side = d.rule(marks[0], edge, "Join the ends’ right corners, and on to the axis: Z, the apex.")
        apex = d.meet(side, axis, "Z")
        with d.as_one("Straightedge", "Join the divisions to Z: the generators."):
            generators = [side, *(d.rule(mark, apex) for mark in marks[1:])]
    slant = d.choice(
        "all-one-way", right=True, slip=False, when=g.pieces > 2, says="All of the cone’s cuts are tilted one way."
    )
    twice = d.choice("mitre-halved-twice", right=1.0, slip=0.5, says="The mitre is halved twice.")
    cuts: list[list[Spot]] = []
    with d.phase("The cuts"):
        for joint in range(1, g.pieces):
            cuts.append(_cut(g, d, joint, (foot, axis, side), generators, slant, twice))
    with d.phase("The pattern"), d.apart("pattern"):
        _sector(g, d, foot, (marks[0], apex, edge), cuts)
    with d.phase("Line in"), d.as_one("Straightedge", "Line in the cone in elevation."):
        low = d.lay_off(upper, top, -g.small / 2, "", kind="plain")
        d.line_in([marks[0], edge, low, marks[-1]], closed=True)


def _cut(
    g: TaperedElbow,
    d: Draft,
    joint: int,
    cone: tuple[Spot, LineMark, LineMark],
    generators: list[LineMark],
    slant: bool,
    share: float,
) -> list[Spot]:
    """A joint's plane on edge, and where each generator meets it, carried level to the cone's side."""
    foot, axis, side = cone
    at = g.crossing(joint)
    words = f"Cut {joint}: up the axis lay off where its plane crosses, as worked: {mm(at)}."
    centre = d.lay_off(axis, foot, at, "", words, kind="plain")
    lean = -(g.side(joint) if slant else 1.0) * g.mitre * share
    way = "falling" if lean < 0 else "rising"
    plane = d.ray(centre, lean, f"Through it draw the plane, {way} to the right by {trim(abs(lean))}°.")
    with d.as_one("Set square", "Where it meets each generator carry level to the cone’s side."):
        return [
            d.meet(d.level_from(d.meet(plane, one)), side) if k else d.meet(plane, side)
            for k, one in enumerate(generators)
        ]


def _sector(g: TaperedElbow, d: Draft, foot: Spot, cone: tuple[Spot, Spot, Spot], cuts: list[list[Spot]]) -> None:
    n = g.divisions
    large, apex, small = cone
    start = d.plot(
        "W", g.large / 2 + GAP, float(foot.here[1]), "To the right mark W, the centre of the pattern.", "found"
    )
    outer = d.opening(apex, large)
    first = d.level_from(start, "Draw level from it.", length=g.outer)
    arcs = [
        d.compass(start, opening, f"Centre W, draw the arc of the {words} end.", whole=False)
        for opening, words in ((outer, "large"), (d.opening(apex, small), "small"))
    ]
    part = g.sector / n
    with d.as_one(
        "Protractor",
        f"Set off the generators, {trim(part)}° apart: {n} of them and the first once more.",
        Setting(part, "°"),
    ):
        rays = [first, *(d.ray(start, part * k, instrument="Protractor") for k in range(1, n + 1))]
        for k, ray in enumerate(rays):
            near = start.here + g.outer * direction(part * k)
            for letter, arc in zip("QP", arcs):
                d.meet(ray, arc, f"{letter}{k}", near=near, kind="found" if k in (0, n) else "plain")
    for joint, row in enumerate(cuts, 1):
        with d.as_one(
            "Dividers", f"Cut {joint}: take each true distance from the apex, on its generator and its mate’s."
        ):
            for k, ray in enumerate(rays):
                taken = d.opening(apex, row[min(k, n - k)])
                d.lay_off(ray, start, taken, g.key(joint, k), kind="found" if k == 0 else "plain")
    for joint in range(1, g.pieces):
        d.curve([d.spots[g.key(joint, k)] for k in range(n + 1)], says=f"Line in cut {joint}.")
    for letter, opening, words in (("Q", outer, "large"), ("P", d.opening(apex, small), "small")):
        ends = d.spots[f"{letter}0"], d.spots[f"{letter}{n}"]
        d.arc_in(start, opening, *ends, f"Centre W, line in the {words} end.")
    with d.as_one("Straightedge", "Line in the seam at both sides."):
        for k in (0, n):
            d.line_in([d.spots[f"Q{k}"], d.spots[f"P{k}"]])
