"""Lines and angles."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from wise_compass.drafting import moves
from wise_compass.drafting.dimensions import Dimension, Linear
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import Figure, method
from wise_compass.drafting.givens import Count, Length
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm, nth
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.vectors import Number, angle_of, distance, point


def base_line(d: Draft, length: float, title: str = "The line", why: str = "given") -> tuple[Spot, Spot, LineMark]:
    """The level line AB that most figures stand on."""
    with d.phase(title):
        a = d.start_at("A", says="Mark A at the left.")
        line = d.level_from(a, "Draw a level line from A.", length=length)
        b = d.lay_off(line, a, length, "B", "Lay off AB.", why=why)
    return a, b, line


class DivideLine(Figure, id="divide-line", family="lines", title="Divide a line"):
    keys = ("A", "B", "D*")
    brief = "A line of {length} divided into {parts} equal parts with {method}."
    summary = "Equal spaces on a line: treads, boards, teeth on a rack. Spaces and marks are both counted."
    ways = ("parallels", "dividers")
    value_names = ("part",)

    length = Length(97, "the length")
    parts = Count(7, "the number of parts", 2, 60)

    def values(self, method: str) -> Iterable[Value]:
        part = self.length / self.parts
        yield Value("part", part, "mm", f"{bare(self.length)} / {self.parts}", ("A", "D1"))
        yield Value("spaces", float(self.parts), "", "the parts")
        yield Value("marks", float(self.parts + 1), "", f"{self.parts} + 1: both ends are marks")
        for k in range(1, self.parts):
            yield Value(f"total_{k}", k * part, "mm", f"{k} × {bare(self.length)} / {self.parts}", ("A", f"D{k}"))

    def measure(self, found: Found) -> dict[str, Number]:
        marks = found.group("D")
        totals = distance(marks, found["A"][..., None, :])
        out: dict[str, Number] = {
            "part": totals[..., 0],
            "spaces": totals[..., 0] * 0 + marks.shape[-2] + 1,
            "marks": totals[..., 0] * 0 + marks.shape[-2] + 2,
        }
        out.update({f"total_{k + 1}": totals[..., k] for k in range(min(marks.shape[-2], self.parts - 1))})
        return out

    def truths(self, found: Found) -> Iterator[Truth]:
        marks = found.together(["A", *found.names("D"), "B"])
        yield Truth(
            f"Every space measures {mm(self.length / self.parts)}",
            distance(marks[..., :-1, :], marks[..., 1:, :]) - self.length / self.parts,
        )
        yield Truth("Every mark stands on the line", distance_to_line(marks, found["A"][..., None, :], point(1.0, 0.0)))

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.length, 0.0), "length", self.length, rank=2)


def _miscounted(g: DivideLine, d: Draft) -> int:
    count = d.choice(
        "mark-too-few",
        right=g.parts,
        slip=g.parts - 1,
        when=g.parts > 2,
        says="Marks are counted instead of spaces: there is one space too few.",
    )
    return d.choice(
        "mark-too-many",
        right=count,
        slip=g.parts + 1,
        says="One mark too many is counted: there is one space too many.",
    )


def _names(count: int) -> list[str]:
    return [f"D{k}" for k in range(1, count)]


def _tick_in(d: Draft, marks: list[Spot], line: LineMark) -> None:
    """The marks ticked and the spaces numbered, so that neither is taken for the other."""
    with d.phase("Line in"):
        d.line_in([marks[0], marks[-1]], says="Line in AB.")
        with d.as_one("Set square", f"Tick across it at each mark: {len(marks) - 1} spaces, {len(marks)} marks."):
            for mark in marks:
                d.square_to(line, mark, role=Role.OUTLINE).extent(-1.5, 1.5).fixed = True
            for k, (one, two) in enumerate(zip(marks, marks[1:]), 1):
                d.label(f"({k})", one, two)


@method(
    DivideLine,
    "parallels",
    about="A slanting line of handy spaces, and parallels back: no trial, any number.",
    source="The intercept theorem (Euclid, Elements VI.9)",
)
def divide_parallels(g: DivideLine, d: Draft) -> None:
    a, b, line = base_line(d, g.length)
    with d.phase("Divide"):
        count = _miscounted(g, d)
        marks = d.divide_by_parallels(a, b, g.parts, _names(count), count)
    _tick_in(d, marks, line)


@method(
    DivideLine,
    "dividers",
    about="Trial: set the dividers, step along, correct by the part of what is left over.",
    source="Workshop practice: trial, corrected by the part of what is left over",
)
def divide_dividers(g: DivideLine, d: Draft) -> None:
    a, b, line = base_line(d, g.length)
    with d.phase("Divide"):
        count = _miscounted(g, d)
        marks = d.divide(
            a,
            b,
            count,
            ["", *_names(count)],
            f"Step AB into {count} spaces; open or close by the {nth(count)} part of what "
            "is left over, and step again until it closes.",
            why="measure each mark from A, so that misses do not add up",
            how="trial",
        )
    _tick_in(d, marks, line)


class BisectLine(Figure, id="bisect-line", family="lines", title="Bisect a line"):
    keys = ("A", "B", "C", "D", "M")
    brief = "A line of {length} bisected with {method}."
    summary = "The middle of a line and the line square to it there."
    value_names = ("half",)

    length = Length(88, "the length")

    def values(self, method: str) -> Iterable[Value]:
        yield Value("half", self.length / 2, "mm", f"{bare(self.length)} / 2", ("A", "M"))

    def measure(self, found: Found) -> dict[str, Number]:
        return {"half": distance(found["A"], found["M"])}

    def truths(self, found: Found) -> Iterator[Truth]:
        yield Truth(
            "M is equally far from A and B", distance(found["M"], found["A"]) - distance(found["M"], found["B"])
        )
        for name in "CD":
            yield Truth(
                f"{name} is equally far from A and B",
                distance(found[name], found["A"]) - distance(found[name], found["B"]),
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.length, 0.0), "length", self.length)


@method(BisectLine, "equal-arcs", source="Euclid, Elements I.10")
def bisect_equal_arcs(g: BisectLine, d: Draft) -> None:
    a, b, line = base_line(d, g.length)
    with d.phase("Bisect"):
        unequal = d.choice(
            "unequal-arcs",
            right=0.0,
            slip=0.06 * g.length,
            says="The compass opens between the two arcs: the second radius is larger.",
        )
        bisector = moves.perpendicular_bisector(d, a, b, unequal, names=("C", "D"))
        d.meet(bisector, line, "M")
    with d.phase("Line in"):
        d.line_in([a, b], says="Line in AB; M halves it.")
        d.line_in([d.spots["D"], d.spots["C"]], says="Line in the bisector through C and D.")


class Perpendicular(Figure, id="perpendicular", family="lines", title="Perpendicular"):
    keys = ("A", "B", "F", "Q")
    brief = (
        "A line square to a line of {length}, meeting it {at} from its left end, "
        "from a point {off} off it, with {method}."
    )
    summary = "A right angle at a point of a line, at its end, or from a point beside it."
    ways = ("four-arcs", "equal-arcs", "three-four-five")
    value_names = ("foot",)

    length = Length(110, "the length of the line")
    at = Length(0, "how far along the foot is", most="length", zero=True)
    off = Length(0, "how far off the line the point is", most=2000, zero=True)

    def values(self, method: str) -> Iterable[Value]:
        yield Value(
            "foot",
            self.at,
            "mm",
            "given: how far along the foot stands" if not self.off else "the point's distance along the line",
            ("A", "F"),
        )
        yield Value("drawn_angle", 90.0, "°", "a right angle", ("F", "Q"))

    def measure(self, found: Found) -> dict[str, Number]:
        up, along = found["Q"] - found["F"], found["B"] - found["A"]
        return {"foot": distance(found["A"], found["F"]), "drawn_angle": angle_of(up) - angle_of(along)}

    def truths(self, found: Found) -> Iterator[Truth]:
        along = found["Q"] - found["F"]
        yield Truth("Q stands straight above the foot, square to AB", along[..., 0])
        yield Truth("The foot stands where it was asked for", distance(found["A"], found["F"]) - self.at)
        if self.off:
            yield Truth(
                f"The foot is {mm(self.off)} from the point, the shortest way to the line",
                distance(found["Q"], found["F"]) - self.off,
            )

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        yield Linear(point(0.0, 0.0), point(self.length, 0.0), "length", self.length, rank=2)
        if self.at > 0:
            yield Linear(point(0.0, 0.0), point(self.at, 0.0), "at", self.at)
        if self.off:
            yield Linear(point(self.at, 0.0), point(self.at, self.off), "off", self.off, side=-1)


def _on_the_line(g: Perpendicular) -> str | None:
    if g.off:
        return f"This method erects a perpendicular on the line; off is {mm(g.off)}. Set off to 0 or choose equal-arcs."
    return None


def _foot_on_line(g: Perpendicular, d: Draft) -> tuple[Spot, Spot, LineMark, Spot]:
    a, b, line = base_line(d, g.length)
    with d.phase("The point"):
        if g.at == 0:
            with d.as_one("Pencil", "The foot F is the end A of the line itself."):
                return a, b, line, d.also("F", a)
        return a, b, line, d.lay_off(line, a, g.at, "F", "Lay off the foot F from A.")


def _perpendicular_in(g: Perpendicular, d: Draft, a: Spot, b: Spot, foot: Spot, top: Spot) -> None:
    with d.phase("Line in"):
        d.line_in([a, b], says="Line in AB.")
        d.line_in([foot, top], says=f"Line in the perpendicular {foot.name}{top.name}.")


@method(
    Perpendicular,
    "four-arcs",
    fits=_on_the_line,
    fits_given="off",
    about="One opening, at the very end of a line too.",
    source="Angles of equilateral triangles, the second halved (Euclid, Elements I.1, I.9)",
)
def perpendicular_four_arcs(g: Perpendicular, d: Draft) -> None:
    a, b, line, foot = _foot_on_line(g, d)
    with d.phase("The right angle"):
        moves.four_arcs(d, line, foot, _handy(g), "Q", forward=g.at <= g.length / 2)
    _perpendicular_in(g, d, a, b, foot, d.spots["Q"])


def _handy(g: Perpendicular) -> float:
    """An opening that suits the line and the sheet."""
    return min(max(0.4 * g.length, 0.01), 60.0)


@method(
    Perpendicular,
    "equal-arcs",
    about="Equal arcs on both sides of the foot, or from the point.",
    source="Euclid, Elements I.11 and I.12",
)
def perpendicular_equal_arcs(g: Perpendicular, d: Draft) -> None:
    if not g.off:
        a, b, line, foot = _foot_on_line(g, d)
        with d.phase("The right angle"):
            moves.erect(d, line, foot, 0.6 * _handy(g), "Q")
    else:
        a, b, line = base_line(d, g.length)
        with d.phase("The point"):
            over = d.lay_off(line, a, g.at, "", "Measure along from A.", kind="plain") if g.at else a
            post = d.square_to(line, over, "Set the point off square there.", role=Role.PROJECTOR)
            top = d.lay_off(post, over, g.off, "Q", "Mark the point Q.", kind="given")
        with d.phase("The right angle"):
            foot = moves.drop(d, line, top, g.off + max(0.4 * g.off, 0.3 * _handy(g)), "F")
    _perpendicular_in(g, d, a, b, foot, d.spots["Q"])


@method(
    Perpendicular,
    "three-four-five",
    fits=_on_the_line,
    fits_given="off",
    about="The triangle of 3, 4 and 5 by tape: large works on the ground.",
    source="The converse of Pythagoras's theorem (Euclid, Elements I.48)",
)
def perpendicular_345(g: Perpendicular, d: Draft) -> None:
    a, b, line, foot = _foot_on_line(g, d)
    unit = _handy(g) / 4
    sign = 1.0 if g.at <= g.length / 2 else -1.0
    with d.phase("The right angle"):
        four = d.lay_off(line, foot, sign * 4 * unit, "", "Lay off four units along the line from F.", kind="plain")
        three = d.compass(foot, 3 * unit, "Centre F, three units: swing above.", whole=False)
        five = d.compass(four, 5 * unit, "From the fourth unit, five units: cross it at Q.", whole=False)
        d.meet(three, five, "Q", where="above")
    _perpendicular_in(g, d, a, b, foot, d.spots["Q"])
