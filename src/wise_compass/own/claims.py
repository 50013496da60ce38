"""What a construction claims: to be a figure of the catalogue, or truths that the person states.

A truth is written as one of::

    AB = CD            AB = 2*CD + side        two lengths, each by arithmetic
    angle ABC = 60     angle ABC = DEF         an angle, or two
    P on k             a point on a line or circle
    a parallel b       a square b              two lines
    a touches k        k touches m             a line and a circle, or two circles
    area ABCD = side*side                      of corners in order
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import OWN_WAY, Figure, Method, make, method_for
from wise_compass.drafting.instruments import SteadyHand
from wise_compass.drafting.marks import ArcMark, LineMark, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import LACKS, Run, run
from wise_compass.drafting.truths import ANGLE_LIMIT, LIMIT, Found, Proof, prove
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.vectors import Array, cross, distance
from wise_compass.own.drawing import Drawing
from wise_compass.own.language import POINT, THING, Line
from wise_compass.own.numbers import numbers_for, numbers_of, with_numbers
from wise_compass.own.outline import FAIRLY, curved_miss, outline_miss
from wise_compass.own.overlay import laid_over
from wise_compass.own.program import Program
from wise_compass.own.running import draw, drawing_of

NEAR = 0.1
"""Of its size: a construction that misses by less comes near, one that misses by more is something else."""
OUTLINE = "What is lined in is the figure’s outline"
CURVES = "What is lined in by arcs and curves follows the figure’s outline"
OUTLINES = OUTLINE, CURVES
OUTLINE_LIMIT = 1e-9
"""Of its size: how far a line may lie off the figure's, which is another construction's rounding too."""
CLOSE = 0.03
"""Of its size: how near a point lies to one of the figure's, to be offered as that."""
_ON = re.compile(rf"({POINT})\s+on\s+({THING})")
_PAIR = re.compile(rf"({THING})\s+(parallel|square|touches)\s+({THING})")
_ANGLE = re.compile(rf"angle\s+({POINT})({POINT})({POINT})\s*=\s*(.+)")
_CORNERS = re.compile(rf"area\s+((?:{POINT}){{3,12}})\s*=\s*(.+)")
_EQUAL = re.compile(r"([^=]+)=([^=]+)")
_THREE = re.compile(rf"({POINT})({POINT})({POINT})")


class Miss(NamedTuple):
    """What a truth misses by with some numbers, in mm or degrees, and whether that is rounding alone."""

    says: str
    miss: float
    unit: str
    holds: bool


class Lacking(Refused):
    """A truth speaks of points that the construction has not; ``names`` are those of the figure that it lacks,
    ``letters`` what lies where some of these are."""

    def __init__(self, says: str, names: Sequence[str], letters: Mapping[str, str]) -> None:
        super().__init__("own", says)
        self.names, self.letters = tuple(names), dict(letters)


class Claim:
    """A construction with what it claims; ``numbers`` are the givens that may be varied."""

    def __init__(self, program: Program) -> None:
        self.program = program
        self.kind: type[Figure] | None = figure_named(program.figure) if program.figure else None
        if self.kind is None and not program.truths:
            raise Refused("own", "The construction claims nothing. Add a line such as claim: polygon-on-side sides=5.")
        self.figure = make(self.kind, program.givens) if self.kind is not None else None

    @property
    def numbers(self) -> dict[str, float]:
        """The givens that are lengths, angles or numbers, as they stand."""
        if self.figure is None:
            return self.program.numbers()
        return numbers_of(self.figure)

    @property
    def counts(self) -> dict[str, float]:
        """The givens that are counted, as they stand."""
        told = numbers_for(self.figure) if self.figure is not None else {}
        return {name: value for name, value in told.items() if name not in self.numbers}

    def misses(self, numbers: Mapping[str, float] | None = None, program: Program | None = None) -> list[Miss]:
        """What each truth misses by with these numbers, with its own the outline too; raises :class:`Refused` where
        they cannot be, or where a crossing is not there."""
        told = program or self.program
        if self.figure is None:
            return list(_stated(told, numbers or told.numbers()))
        figure = self.figure if numbers is None else with_numbers(self.figure, numbers)
        made = run(figure, method_of(told))
        outline = _of_outline(made) if numbers is None else ()
        return [*_of_figure(figure, made), *outline]

    @cached_property
    def size(self) -> float:
        """How large it is drawn with its own numbers, in mm."""
        if self.figure is not None:
            low, high = self.run().extent
            return float(np.abs(high - low).max())
        d = Draft(SteadyHand())
        with np.errstate(invalid="ignore", divide="ignore"):
            drawing_of(self.program, self.numbers, d)
        return _extent(d)

    def run(self) -> Run:
        """The construction as a run of the figure that it claims to be; raises :class:`Refused` where it claims
        none."""
        if self.figure is None:
            raise Refused("own", "This construction claims truths, and is no figure of the catalogue.")
        return run(self.figure, method_of(self.program))


def method_of(program: Program) -> Method:
    """A construction as a method of the figure that it claims to be."""

    def by_lines(figure: Figure, d: Draft) -> None:
        draw(program, numbers_for(figure), d)

    def exact(figure: Figure) -> bool:
        return all(one.holds for one in run(figure, method).proofs)

    method = Method(
        OWN_WAY,
        program.title,
        by_lines,
        exact,
        lambda figure: None,
        "own",
        False,
        "",
        "A way of one’s own",
        proves=proofs_of,
        text=program._replace(figure="", givens={}, truths=()).text,
    )
    return method


def proofs_of(made: Run) -> list[Proof]:
    """The truths of the figure that a run of one's own can be held to, and one that fails where it has not all points
    that they speak of."""
    held, lacking = _held_best(made)
    size = _size_of(made)
    if lacking is None:
        limits = {OUTLINE: OUTLINE_LIMIT * size, CURVES: FAIRLY * size}
        held += [Proof(one.says, one.miss, one.unit, limits[one.says], one.holds, False) for one in _of_outline(made)]
    told = [proof._replace(by_design=not proof.holds and share_of_size(proof, size) <= NEAR) for proof in held]
    if lacking is not None or not held:
        told.append(Proof("The figure’s truths speak of points that are not there yet", 1.0, "", 0.0, False, False))
    return told


def _size_of(made: Run) -> float:
    low, high = made.extent
    return float(np.abs(high - low).max())


def _held_best(made: Run) -> tuple[list[Proof], Exception | None]:
    """The figure's truths held against the points as they lie and, where that misses, laid over the figure's own
    drawing, since some tell where it stands; and what was raised for points that are not there."""
    tried = []
    for found in _readings(made):
        tried.append(_held(made, found))
        if tried[-1][1] is None and all(proof.holds for proof in tried[-1][0]):
            return tried[-1]
    return min(tried, key=lambda held: (held[1] is not None, _worst(held[0], _size_of(made))))


def _readings(made: Run) -> Iterator[Found]:
    """The points as they lie, as the default way finds them, laid over its drawing, and as other ways find them whose
    views stand otherwise."""
    default, others = method_for(made.figure).id, made.figure.methods.values()
    yield Found(dict(made.found), default)
    yield _laid_over_own(made)
    if isinstance(made.figure, InViews):
        for one in others:
            if one.id != default and one.fits(made.figure) is None:
                yield Found(dict(made.found), one.id)


def share_of_size(one: Proof | Miss, size: float) -> float:
    """A miss as a part of the size, or of a half turn."""
    return one.miss / (max(size, 1e-9) if one.unit == "mm" else 180.0)


def _worst(proofs: Sequence[Proof], size: float) -> float:
    return max((share_of_size(one, size) for one in proofs if not one.holds), default=0.0)


def _held(made: Run, found: Found) -> tuple[list[Proof], Exception | None]:
    proofs: list[Proof] = []
    size = _size_of(made)
    try:
        for truth in made.figure.truths(found):
            proofs.append(prove(truth, True, size))
    except LACKS as lacking:
        return proofs, lacking
    return proofs, None


def _of_figure(figure: Figure, made: Run) -> Iterator[Miss]:
    """What the figure's truths are missed by; raises :class:`Lacking` where points are not there."""
    held, lacking = _held_best(made)
    if isinstance(lacking, KeyError):
        own = run(figure)
        lost = [key for key, spot in own.spots.items() if key not in made.found and spot.kind not in ("plain", "label")]
        letters = offered(made)
        told = " ".join(f"{theirs}={mine}" for theirs, mine in letters.items())
        way = f"By the nearest places: letters: {told}" if told else f"{figure.title} has {', '.join(lost[:12])} beside"
        raise Lacking(
            f"The claim speaks of {lacking.args[0]}, which the construction has not. Tell which of its letters are "
            f"which. {way}.",
            lost,
            letters,
        )
    if lacking is not None:
        raise Refused("own", f"{figure.title} has other points than the construction; its truths cannot be held.")
    yield from (Miss(proof.says, proof.miss, proof.unit, proof.holds) for proof in held)


def _of_outline(made: Run) -> Iterator[Miss]:
    """What its lines miss the figure's outline by."""
    miss = outline_miss(made.figure, made)
    if miss is not None:
        yield Miss(OUTLINE, miss, "mm", miss <= OUTLINE_LIMIT * _size_of(made))
    bent = curved_miss(made.figure, made)
    if bent is not None:
        yield Miss(CURVES, bent, "mm", bent <= FAIRLY * _size_of(made))


def _laid_over_own(made: Run) -> Found:
    """The found points of a run laid over the figure's own drawing."""
    own = run(made.figure)
    named = [key for key in own.found if key in made.found and own.found[key].shape == (2,)]
    points = {key: made.found[key] for key in made.found}
    if len(named) > 1:
        moved = laid_over(np.array([made.found[key] for key in named]), np.array([own.found[key] for key in named]))
        flat = {key: at for key, at in points.items() if at.shape[-1:] == (2,)}  # what stands in space stays there
        points |= {key: np.asarray(at @ moved[0].T + moved[1]) for key, at in flat.items()}
    return Found(points, own.method.id)


def offered(made: Run) -> dict[str, str]:
    """Which points of a construction lie where the figure has points that it lacks: the figure's letters to its own."""
    own = run(made.figure)
    found = _laid_over_own(made)
    size = float(np.abs(own.extent[1] - own.extent[0]).max())
    free = {key: at for key, at in found.items() if key not in own.spots and at.shape == (2,)}
    told: dict[str, str] = {}
    for key, spot in own.spots.items():
        if key in found or spot.kind in ("plain", "label") or not free:
            continue
        nearest = min(free, key=lambda name: float(distance(free[name], spot.here)))
        if float(distance(free[nearest], spot.here)) <= CLOSE * size:
            told[key] = nearest
            del free[nearest]
    return told


def _stated(program: Program, numbers: Mapping[str, float]) -> Iterator[Miss]:
    d = Draft(SteadyHand())
    with np.errstate(invalid="ignore", divide="ignore"):
        drawing = drawing_of(program, numbers, d)
    size = _extent(d)
    for words in program.truths:
        miss, unit = _missed(drawing, words)
        limit = LIMIT * max(size, 1.0) if unit == "mm" else ANGLE_LIMIT
        yield Miss(words, miss, unit, bool(miss <= limit))


def _extent(d: Draft) -> float:
    """How far the points of a drawing lie apart, along or across."""
    at = np.array([spot.here for spot in d.spots.values()]).reshape(-1, 2)
    return float(np.ptp(at, axis=0).max()) if len(at) else 1.0


def _missed(drawing: Drawing, words: str) -> tuple[float, str]:
    """By how much a stated truth is missed, and in which unit."""
    line = Line("claim", {"length": words})
    if found := _ON.fullmatch(words):
        return _off(drawing, found[1], found[2], words), "mm"
    if found := _PAIR.fullmatch(words):
        return _pair(drawing, found[1], found[2], found[3], words)
    if found := _ANGLE.fullmatch(words):
        other = _THREE.fullmatch(found[4].strip())
        want = _angle(drawing, other.groups(), words) if other else drawing.number(line, found[4], "angle")
        return abs(_angle(drawing, found.groups()[:3], words) - want), "°"
    if found := _CORNERS.fullmatch(words):
        names = re.findall(POINT, found[1])
        at = np.array([_at(drawing, name, words) for name in names])
        area = abs(float(cross(at, np.roll(at, -1, axis=0)).sum())) / 2
        want = drawing.number(line, found[2], "number")
        return abs(area - want) / max(np.sqrt(area), 1e-9), "mm"
    if found := _EQUAL.fullmatch(words):
        one, other_side = (drawing.number(line, part.strip(), "length") for part in found.groups())
        return abs(one - other_side), "mm"
    raise Refused("own", f"“{words[:60]}” is no truth that is read; write such as AB = CD, angle ABC = 60 or P on k.")


def _at(drawing: Drawing, name: str, words: str) -> Array:
    if name not in drawing.points:
        raise Refused("own", f"The claim “{words[:60]}” speaks of {name}, which no step marks.")
    return drawing.points[name].here


def _thing(drawing: Drawing, name: str, words: str) -> LineMark | ArcMark:
    if name not in drawing.things:
        raise Refused("own", f"The claim “{words[:60]}” speaks of {name}, which no step draws.")
    return drawing.things[name]


def _angle(drawing: Drawing, names: Sequence[str], words: str) -> float:
    a, b, c = (_at(drawing, name, words) for name in names)
    u, v = a - b, c - b
    return float(np.rad2deg(np.arctan2(abs(float(cross(u, v))), float(u @ v))))


def _off(drawing: Drawing, point: str, name: str, words: str) -> float:
    at, thing = _at(drawing, point, words), _thing(drawing, name, words)
    if isinstance(thing, ArcMark):
        return abs(float(distance(at, nominal(thing.centre, 1))) - float(nominal(thing.radius, 0)))
    return abs(float(cross(nominal(thing.u, 1), at - nominal(thing.p, 1))))


def _pair(drawing: Drawing, one: str, how: str, other: str, words: str) -> tuple[float, str]:
    first, second = _thing(drawing, one, words), _thing(drawing, other, words)
    if how == "touches":
        return _touch(first, second), "mm"
    if isinstance(first, ArcMark) or isinstance(second, ArcMark):
        raise Refused("own", f"“{words[:60]}” speaks of a circle; only lines are {how}.")
    u, v = nominal(first.u, 1), nominal(second.u, 1)
    lean = float(np.rad2deg(np.arcsin(min(abs(float(cross(u, v))), 1.0))))
    return (lean if how == "parallel" else 90.0 - lean), "°"


def _touch(one: LineMark | ArcMark, other: LineMark | ArcMark) -> float:
    """How far a line and a circle, or two circles, are from touching, inside or outside."""
    circle, thing = (one, other) if isinstance(one, ArcMark) else (other, one)
    if not isinstance(circle, ArcMark):
        raise Refused("own", "Two lines do not touch. Tell a line and a circle, or two circles.")
    centre, radius = nominal(circle.centre, 1), float(nominal(circle.radius, 0))
    if isinstance(thing, LineMark):
        return abs(abs(float(cross(nominal(thing.u, 1), centre - nominal(thing.p, 1)))) - radius)
    apart = float(distance(centre, nominal(thing.centre, 1)))
    second = float(nominal(thing.radius, 0))
    return min(abs(apart - (radius + second)), abs(apart - abs(radius - second)))
