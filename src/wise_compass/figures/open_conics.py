"""Parabola, hyperbola, and conics by their eccentricity."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.givens import Number as NumberGiven
from wise_compass.drafting.marks import Role, Ruled, Spot
from wise_compass.drafting.measures import Dimension, Linear
from wise_compass.drafting.steps import Setting
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import trim
from wise_compass.geometry.vectors import Number, cross, distance, point

ORIGIN = point(0.0, 0.0)


class Parabola(Figure, id="parabola", family="conics", title="Parabola"):
    brief = "A parabola on a base of {base} rising {axis} to its vertex, found with {method} in {divisions} divisions."
    summary = "Equally far from a point and a line: a jet of water, a reflector, an arch."
    value_names = ("focal_length", "latus_rectum", "arc_length", "area")

    base = Length(96, "the base")
    axis = Length(62, "the axis")
    divisions = Count(8, "the divisions of half the base", 4, 72)

    @property
    def focal(self) -> float:
        """From the vertex to the focus."""
        return self.base**2 / (16 * self.axis)

    def values(self, method: str) -> Iterable[Value]:
        b, h, f = trim(self.base), trim(self.axis), trim(self.focal)
        yield Value("focal_length", self.focal, "mm", f"{b}² / (16 × {h})", ("V", "F"))
        yield Value("latus_rectum", 4 * self.focal, "mm", f"4 × {f}", ("F",))
        yield Value(
            "arc_length",
            float(_parabola_arc(self.base, self.axis)),
            "mm",
            f"2 ∫ √(1 + (x / (2 × {f}))²) dx from 0 to {trim(self.base / 2)}",
        )
        yield Value("area", self.base * self.axis * 2 / 3, "mm²", f"2/3 × {b} × {h}")

    def measure(self, found: Found) -> dict[str, Number]:
        p = found.group("P")
        base = distance(p[..., 0, :], p[..., -1, :])
        top = p[..., self.divisions, :]
        axis = np.abs(cross((p[..., -1, :] - p[..., 0, :]) / base[..., None], top - p[..., 0, :]))
        focal = base * base / (16 * axis)
        return {
            "focal_length": focal,
            "latus_rectum": 4 * focal,
            "arc_length": _parabola_arc(base, axis),
            "area": base * axis * 2 / 3,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        focus, directrix = point(0.0, self.axis - self.focal), self.axis + self.focal
        yield Truth("Every point is as far from the focus as from the directrix", distance(p, focus) - (directrix - p[..., 1]))
        ends = np.array([[-self.base / 2, 0.0], [self.base / 2, 0.0]])
        yield Truth("The curve stands on the ends of the base", distance(p[..., [0, -1], :], ends))
        yield Truth("The vertex stands at the top of the axis", distance(p[..., self.divisions, :], point(0.0, self.axis)))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        half = self.base / 2
        yield Linear(point(-half, 0.0), point(half, 0.0), "base", self.base)
        yield Linear(point(half, 0.0), point(half, self.axis), "axis", self.axis)


def _parabola_arc(base: Number, axis: Number) -> Number:
    """Arc of the parabola over its base, the integral of √(1 + y′²) in closed form."""
    half, focal = base / 2, base * base / (16 * axis)
    slope = half / (2 * focal)
    return half * np.hypot(1.0, slope) + 2 * focal * np.arcsinh(slope)


def _frame(g: Parabola, d: Draft) -> tuple[Spot, Spot, Spot, Spot, Ruled]:
    """The base from L to R, its middle M and the vertex V."""
    with d.phase("Base and axis"):
        middle = d.start_at("M", says="Mark the middle M of the base.")
        level = d.level_from(middle, "Draw the base level through M.")
        left = d.lay_off(level, middle, -g.base / 2, "L", "Lay off half the base to the left.")
        right = d.lay_off(level, middle, g.base / 2, "R", "Lay off half the base to the right.")
        axis = d.upright_from(middle, "Draw the axis upright through M.", role=Role.CENTRE)
        vertex = d.lay_off(axis, middle, g.axis, "V", "Lay off the axis: the vertex V.")
    return middle, left, right, vertex, level


def _curve_in(d: Draft, names: list[str], says: str) -> None:
    with d.phase("Line in"):
        d.curve([d.spots[name] for name in names], says=says)


def _parabola_in(g: Parabola, d: Draft) -> None:
    _curve_in(
        d, [f"P{k}" for k in range(2 * g.divisions + 1)], f"Line in the parabola through its {2 * g.divisions + 1} points."
    )


def _ends(g: Parabola, d: Draft, left: Spot, right: Spot, vertex: Spot) -> None:
    """The three points that the givens fix."""
    n = g.divisions
    with d.as_one("Pencil", "The ends of the base and the vertex are points of the curve."):
        for name, spot in (("P0", left), (f"P{n}", vertex), (f"P{2 * n}", right)):
            d.also(name, spot.at)


@method(Parabola, "rectangle", about="Rays from the vertex to the divided sides cross uprights from the divided base.")
def parabola_rectangle(g: Parabola, d: Draft) -> None:
    middle, left, right, vertex, level = _frame(g, d)
    n = g.divisions
    with d.phase("Divide"):
        sides = []
        for sign, end, name in ((-1, left, "left"), (1, right, "right")):
            upright = d.square_to(level, end, f"Draw upright at the {name} end.")
            with d.as_one("Set square", f"Carry the height of V across to it: the {name} corner."):
                top = d.meet(d.level_from(vertex), upright)
            marks = d.divide(end, top, n, says=f"Cut the {name} side into {n} equal spaces.")
            feet = d.divide(middle, end, n, says=f"Cut the {name} half of the base into {n} equal spaces.")
            sides.append((sign, marks, feet))
    with d.phase("Find the points"):
        _ends(g, d, left, right, vertex)
        for sign, marks, feet in sides:
            for k in range(1, n):
                with d.as_one(
                    "Straightedge", f"Join V to mark {n - k} of the side; upright from space {k} of the base: a point."
                ):
                    d.meet(d.rule(vertex, marks[n - k]), d.upright_from(feet[k]), f"P{n + sign * k}")
    _parabola_in(g, d)


@method(Parabola, "tangents", about="Tangents between two lines divided alike; each touches half-way between its neighbours.")
def parabola_tangents(g: Parabola, d: Draft) -> None:
    _, left, right, vertex, _ = _frame(g, d)
    n = 2 * g.divisions
    with d.phase("The two tangents"):
        with d.as_one("Rule", "Lay off the axis once more above V: the peak W."):
            peak = d.also("W", vertex.at + (vertex.at - d.spots["M"].at))
        one, two = d.rule(left, peak, "Join LW: the tangent at L."), d.rule(peak, right, "Join WR: the tangent at R.")
        downs = d.divide(left, peak, n, says=f"Cut LW into {n} equal spaces.")
        ups = d.divide(peak, right, n, says=f"Cut WR into {n} equal spaces.")
    with d.phase("Tangents and points"):
        _ends(g, d, left, right, vertex)
        for k in range(1, n):
            if k == g.divisions:
                continue
            with d.as_one(
                "Straightedge",
                f"Join mark {k} of LW to mark {k} of WR: a tangent; divided in {k} to {n - k} it is touched at P{k}.",
            ):
                d.rule(downs[k], ups[k])
                d.also(f"P{k}", downs[k].at + (ups[k].at - downs[k].at) * (k / n), "tangent")
    del one, two
    _parabola_in(g, d)


def _focus_refusal(g: Parabola) -> str | None:
    if g.focal > 1000:
        least = g.base**2 / 16000
        return (
            f"The focus of so flat a parabola lies {trim(g.focal, 0)} mm off; axis must be at least {trim(least, 2)} mm for this "
            "method. Raise axis or choose rectangle."
        )
    return None


@method(
    Parabola,
    "focus-directrix",
    fits=_focus_refusal,
    fits_given="axis",
    about="The definition: a level at a distance from the directrix, cut by that distance from the focus.",
)
def parabola_focus(g: Parabola, d: Draft) -> None:
    middle, left, right, vertex, level = _frame(g, d)
    n = g.divisions
    with d.phase("Focus and directrix"):
        axis = d.upright_from(vertex, "Draw the axis on through V.", role=Role.CENTRE)
        focus = d.lay_off(
            axis, vertex, -g.focal, "F", "Lay off the focal length below V: F.", why=f"{trim(g.base)}² / (16 × {trim(g.axis)})"
        )
        over = d.lay_off(axis, vertex, g.focal, "D", "Lay it off above V too: the directrix passes D.")
        directrix = d.level_from(over, "Draw the directrix level.", role=Role.REFERENCE)
        directrix.lo, directrix.hi = -g.base / 2, g.base / 2
    with d.phase("Find the points"):
        _ends(g, d, left, right, vertex)
        for k in range(1, n):
            x = g.base / 2 * k / n
            depth = x * x / (4 * g.focal)
            says = f"Draw level {trim(depth, 2)} below V; from F with its distance from the directrix cut it twice."
            with d.as_one("Compass", says, Setting(depth, "mm"), Setting(depth + g.focal, "mm")):
                mark = d.lay_off(axis, vertex, -depth, "", kind="plain")
                across = d.level_from(mark)
                arc = d.compass(focus, depth + g.focal, whole=False)
                d.meet(across, arc, f"P{n + k}", where="right")
                d.meet(across, arc, f"P{n - k}", where="left")
    _parabola_in(g, d)


class Hyperbola(Figure, id="hyperbola", family="conics", title="Hyperbola"):
    brief = "A hyperbola with foci {foci} and vertices {vertices} apart, found with {method} in {divisions} divisions."
    summary = "The distances from two points differ alike everywhere: a cooling tower, a cone cut upright."
    value_names = ("eccentricity", "asymptote_angle", "conjugate_axis")

    foci = Length(94, "the distance of the foci")
    vertices = Length(58, "the distance of the vertices", most=lambda g: 0.999 * g.foci)
    divisions = Count(6, "the points on each arm", 3, 36)

    @property
    def half_axes(self) -> tuple[float, float]:
        a = self.vertices / 2
        return a, float(np.sqrt((self.foci / 2 - a) * (self.foci / 2 + a)))

    def heights(self) -> list[float]:
        """How far the found points stand off the axis: closer where the curve bends most."""
        _, b = self.half_axes
        reach = 1.4 * max(b, self.vertices / 4)
        return [reach * (k / self.divisions) ** 1.3 for k in range(1, self.divisions + 1)]

    def values(self, method: str) -> Iterable[Value]:
        a, b = self.half_axes
        c = trim(self.foci / 2)
        yield Value("eccentricity", self.foci / self.vertices, "", f"{trim(self.foci)} / {trim(self.vertices)}", ("F1", "F2"))
        yield Value("asymptote_angle", float(np.rad2deg(np.arctan2(b, a))), "°", f"arccos({trim(a)} / {c})", ("O",))
        yield Value("conjugate_axis", 2 * b, "mm", f"2 √({c}² − {trim(a)}²)", ("O",))

    def measure(self, found: Found) -> dict[str, Number]:
        foci, vertices = distance(found["F1"], found["F2"]), distance(found["V1"], found["V2"])
        b = np.sqrt(np.maximum((foci - vertices) * (foci + vertices), 0.0)) / 2
        return {
            "eccentricity": foci / vertices,
            "asymptote_angle": np.rad2deg(np.arctan2(2 * b, vertices)),
            "conjugate_axis": 2 * b,
        }

    def truths(self, found: Found) -> Iterator[Truth]:
        names = [name for name in found if name[0] in "PR" and name[1:].isdigit()]
        p = found.together(names)
        one, two = point(-self.foci / 2, 0.0), point(self.foci / 2, 0.0)
        yield Truth(
            "The two focal distances differ by the distance of the vertices at every point",
            np.abs(distance(p, one) - distance(p, two)) - self.vertices,
        )
        yield Truth("The foci stand as far apart as given", distance(found["F1"], found["F2"]) - self.foci)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = -self.heights()[-1]
        yield Linear(point(-self.vertices / 2, low), point(self.vertices / 2, low), "vertices", self.vertices)
        yield Linear(point(-self.foci / 2, low), point(self.foci / 2, low), "foci", self.foci, rank=2)


def _axis_of(g: Hyperbola, d: Draft) -> tuple[Spot, Spot, Spot, Ruled]:
    with d.phase("Axis"):
        centre = d.start_at("O", says="Mark the centre O.")
        axis = d.level_from(centre, "Draw the axis level through O.", role=Role.CENTRE)
        spots = {}
        for name, x, words in (
            ("F1", -g.foci, "foci"),
            ("F2", g.foci, "foci"),
            ("V1", -g.vertices, "vertices"),
            ("V2", g.vertices, "vertices"),
        ):
            spots[name] = d.lay_off(axis, centre, x / 2, name, f"Lay off half the distance of the {words}: {name}.")
    return centre, spots["F1"], spots["F2"], axis


def _branches_in(g: Hyperbola, d: Draft) -> None:
    with d.phase("Line in"):
        for letter, vertex in (("P", "V2"), ("R", "V1")):
            n = g.divisions
            ups = [d.spots[f"{letter}{k}"] for k in range(n, 0, -1)]
            downs = [d.spots[f"{letter}{n + k}"] for k in range(1, n + 1)]
            d.curve([*ups, d.spots[vertex], *downs], says=f"Line in the branch through {vertex}.")


@method(Hyperbola, "focus-arcs", about="The definition itself: two arcs whose radii differ by the distance of the vertices.")
def hyperbola_arcs(g: Hyperbola, d: Draft) -> None:
    _, one, two, _ = _axis_of(g, d)
    a, b = g.half_axes
    with d.phase("Find the points"):
        for k, y in enumerate(g.heights(), 1):
            x = a * float(np.hypot(1.0, y / b))
            near = x * g.foci / g.vertices - a
            far = near + g.vertices
            says = f"Radii that differ by {trim(g.vertices)}: swing both from both foci; they cross at four points."
            with d.as_one("Compass", says, Setting(near, "mm"), Setting(far, "mm")):
                pairs = ((two, one, "P"), (one, two, "R"))
                for hub, other, letter in pairs:
                    small, large = d.compass(hub, near, whole=False), d.compass(other, far, whole=False)
                    d.meet(small, large, f"{letter}{k}", where="above")
                    d.meet(small, large, f"{letter}{g.divisions + k}", where="below")
    _branches_in(g, d)


@method(
    Hyperbola,
    "asymptotes",
    about="From a level at a height: its reach to the asymptote and half the conjugate axis give the curve's.",
)
def hyperbola_asymptotes(g: Hyperbola, d: Draft) -> None:
    centre, one, _, axis = _axis_of(g, d)
    a, b = g.half_axes
    with d.phase("Asymptotes"):
        upright = d.upright_from(d.spots["V2"], "Draw upright at V2.")
        arc = d.compass(centre, d.opening(centre, one), "Centre O, through the foci: cut that upright.", whole=False)
        corner = d.meet(upright, arc, "K", where="above")
        slope = d.rule(centre, corner, "Join OK: an asymptote.", role=Role.LOCUS)
        square = d.upright_from(centre, "Draw upright at O.", role=Role.CENTRE)
    with d.phase("Find the points"):
        for k, y in enumerate(g.heights(), 1):
            with d.as_one(
                "Compass",
                f"At height {trim(y, 2)} take the reach to the asymptote; with half the vertices' distance it makes a right "
                "angle: its long side is the curve's reach.",
                Setting(y, "mm"),
            ):
                for sign, where in ((1, k), (-1, g.divisions + k)):
                    mark = d.lay_off(square, centre, sign * y, "", kind="plain")
                    across = d.level_from(mark)
                    reach = float(np.hypot(a, a * y / b))
                    d.lay_off(across, mark, reach, f"P{where}")
                    d.lay_off(across, mark, -reach, f"R{where}")
    del slope, axis
    _branches_in(g, d)


class RectangularHyperbola(Figure, id="rectangular-hyperbola", family="conics", title="Rectangular hyperbola"):
    brief = (
        "A rectangular hyperbola through a point {x} and {y} from its asymptotes, found with {method} in {divisions} divisions."
    )
    summary = "The product of the two distances stays the same: pressure against volume, a throat."
    value_names = ("constant",)

    x = Length(30, "the distance along")
    y = Length(44, "the distance up")
    divisions = Count(8, "the number of points", 4, 36)

    def stations(self) -> list[float]:
        """Distances along at which points are found, from half the given one to three times it."""
        return [self.x * 0.5 * 6 ** (k / self.divisions) for k in range(self.divisions + 1)]

    def values(self, method: str) -> Iterable[Value]:
        yield Value("constant", self.x * self.y, "mm²", f"{trim(self.x)} × {trim(self.y)}", ("O", "A"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"constant": found["A"][..., 0] * found["A"][..., 1]}

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        yield Truth(
            "The product of the two distances is the same everywhere",
            (p[..., 0] * p[..., 1] - self.x * self.y) / np.hypot(p[..., 0], p[..., 1]),
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(ORIGIN, point(self.x, 0.0), "x", self.x)
        yield Linear(point(0.0, self.y), ORIGIN, "y", self.y)


@method(RectangularHyperbola, "rectangles", about="Rays from the corner cut the level and the upright of the given point.")
def hyperbola_rectangles(g: RectangularHyperbola, d: Draft) -> None:
    with d.phase("Asymptotes"):
        corner = d.start_at("O", says="Mark the corner O of the asymptotes.")
        level = d.level_from(corner, "Draw one asymptote level.", role=Role.REFERENCE)
        upright = d.upright_from(corner, "Draw the other upright.", role=Role.REFERENCE)
        foot = d.lay_off(level, corner, g.x, "", "Lay off the distance along.", kind="plain")
        side = d.lay_off(upright, corner, g.y, "", "Lay off the distance up.", kind="plain")
        over, post = (
            d.level_from(side, "Draw level from it."),
            d.upright_from(foot, "Draw upright from the other: they meet in the point A."),
        )
        d.meet(over, post, "A", kind="given")
    with d.phase("Find the points"):
        for k, x in enumerate(g.stations()):
            with d.as_one(
                "Straightedge",
                f"A ray from O cuts the level and the upright of A; from the cuts draw square: P{k}.",
                Setting(x, "mm"),
            ):
                mark = d.lay_off(over, side, x, "", kind="plain")
                ray = d.rule(corner, mark)
                cut = d.meet(ray, post)
                d.meet(d.upright_from(mark), d.level_from(cut), f"P{k}")
    _curve_in(d, [f"P{k}" for k in range(g.divisions + 1)], "Line in the hyperbola through the points.")


class ConicByEccentricity(Figure, id="conic-by-eccentricity", family="conics", title="Conic by its eccentricity"):
    brief = (
        "A conic of eccentricity {eccentricity}, its focus {focus_distance} from its directrix, found with {method} in "
        "{divisions} divisions."
    )
    summary = "One rule for all conics: so many times as far from the focus as from the directrix."
    value_names = ("vertex_to_focus", "semi_latus_rectum")

    eccentricity = NumberGiven(0.7, "the eccentricity", least=0.1, most=5)
    focus_distance = Length(54, "the distance of the focus from the directrix")
    divisions = Count(8, "the points on each side", 4, 36)

    @property
    def vertex(self) -> float:
        """From the directrix to the vertex."""
        return self.focus_distance / (1 + self.eccentricity)

    def reaches(self) -> list[float]:
        """Distances from the directrix at which points are found."""
        e, f = self.eccentricity, self.focus_distance
        far = min(f / (1 - e) if e < 0.98 else 4 * f, 4 * f)
        return [
            self.vertex + (far - self.vertex) * (k / self.divisions) ** 1.5 * (0.94 if e < 1 else 1.0)
            for k in range(1, self.divisions + 1)
        ]

    def values(self, method: str) -> Iterable[Value]:
        e, f = trim(self.eccentricity), trim(self.focus_distance)
        yield Value("vertex_to_focus", self.focus_distance - self.vertex, "mm", f"{f} × {e} / (1 + {e})", ("V", "F"))
        yield Value("semi_latus_rectum", self.eccentricity * self.focus_distance, "mm", f"{e} × {f}", ("F",))
        yield Value(
            "normal_angle", self._normal(), "°", "at P1, square to the tangent that the focus and the directrix give", ("P1",)
        )

    def _normal(self) -> float:
        x = self.reaches()[0]
        y = float(np.sqrt(max((self.eccentricity * x) ** 2 - (x - self.focus_distance) ** 2, 0.0)))
        e, f = self.eccentricity, self.focus_distance
        # the gradient of e²x² − (x − f)² − y²
        return float(np.rad2deg(np.arctan2(y, (x - f) - e * e * x)))

    def measure(self, found: Found) -> dict[str, Number]:
        lead = distance(found["V"], found["F"])
        e = lead / (distance(found["D"], found["V"]))
        return {"vertex_to_focus": lead, "semi_latus_rectum": e * distance(found["D"], found["F"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        p = found.group("P")
        focus = point(self.focus_distance, 0.0)
        yield Truth(
            f"Every point is {trim(self.eccentricity)} times as far from the focus as from the directrix",
            (distance(p, focus) - self.eccentricity * p[..., 0]) / max(1.0, self.eccentricity),
        )
        yield Truth("So is the vertex", distance(found["V"], focus) - self.eccentricity * found["V"][..., 0])
        q, meet = found["P1"], found["Z"]
        yield Truth(
            "At P1 the tangent meets the directrix square to the focal radius",
            ((q - focus) * (meet - focus)).sum(axis=-1) / self.focus_distance,
        )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        low = float(found[f"P{2 * self.divisions}"][1])
        yield Linear(point(0.0, low), point(self.focus_distance, low), "focus_distance", self.focus_distance)


@method(
    ConicByEccentricity,
    "rising-ordinates",
    about="A rising line gives for every distance from the directrix the distance from the focus.",
)
def rising_ordinates(g: ConicByEccentricity, d: Draft) -> None:
    reaches = g.reaches()
    with d.phase("Directrix and axis"):
        start = d.start_at("D", says="Mark D on the directrix.")
        directrix = d.upright_from(start, "Draw the directrix upright.", role=Role.REFERENCE)
        axis = d.level_from(start, "Draw the axis level from D.", role=Role.CENTRE, length=reaches[-1])
        focus = d.lay_off(axis, start, g.focus_distance, "F", "Lay off the focus F.")
        vertex = d.lay_off(
            axis, start, g.vertex, "V", "Lay off the vertex V.", why=f"{trim(g.focus_distance)} / (1 + {trim(g.eccentricity)})"
        )
    with d.phase("The rising line"):
        post = d.upright_from(vertex, "Draw upright at V.")
        top = d.meet(
            post, d.compass(vertex, d.opening(vertex, focus), "Centre V, swing VF up to it.", whole=False), where="above"
        )
        rising = d.rule(
            start, top, "Join D to it and on: the rising line.", why="its height is the eccentricity times the distance"
        )
    with d.phase("Find the points"):
        for k, x in enumerate(reaches, 1):
            with d.as_one(
                "Compass",
                f"At this distance from the directrix take the height of the rising line; from F cut the upright: P{k}, "
                f"P{g.divisions + k}.",
                Setting(x, "mm"),
            ):
                mark = d.lay_off(axis, start, x, "", kind="plain")
                up = d.upright_from(mark)
                height = d.meet(up, rising)
                arc = d.compass(focus, d.opening(mark, height), whole=False)
                d.meet(up, arc, f"P{k}", where="above")
                d.meet(up, arc, f"P{g.divisions + k}", where="below")
    with d.phase("Tangent and normal"):
        q = d.spots["P1"]
        radius = d.rule(focus, q, "Join FP1.")
        square = d.square_to(radius, focus, "At F draw square to it as far as the directrix: Z.")
        meet = d.meet(square, directrix, "Z")
        tangent = d.rule(meet, q, "Join ZP1: the tangent at P1.", role=Role.CENTRE)
        d.square_to(tangent, q, "Draw square to it at P1: the normal.", role=Role.CENTRE, length=-14.0)
    n = g.divisions
    names = [*(f"P{k}" for k in range(n, 0, -1)), "V", *(f"P{n + k}" for k in range(1, n + 1))]
    _curve_in(d, names, "Line in the conic through the points.")
