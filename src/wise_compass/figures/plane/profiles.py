"""A profile of lines and arcs that run into each other: levers, hooks, spanners, gaskets, cam plates."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import Any, NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Developed, Edge, Part
from wise_compass.drafting.dimensions import Dimension, Radial, corner_dimensions
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.givens import Choice
from wise_compass.drafting.named_rows import NamedRows, Path, entries
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.truths import Found, Truth, Value
from wise_compass.drafting.wording import bare, mm
from wise_compass.figures.plane.profile_rows import Profiled, resolved
from wise_compass.figures.plane.tangent_circles import listed
from wise_compass.geometry.meets import distance_to_line
from wise_compass.geometry.polygons import shoelace
from wise_compass.geometry.touching import Round, Straight, Thing, swept, touching_place
from wise_compass.geometry.vectors import Array, Number, angle_of, distance, dot, point

MOST = 24
SHORT = 1e-9
"""mm of a piece below which there is none."""


class Piece(NamedTuple):
    """A part of the path: what it lies on, from where to where, and how far it turns (° of an arc, None of a line)."""

    name: str
    thing: Thing
    start: Array
    end: Array
    sweep: float | None

    @property
    def length(self) -> float:
        """Along it; under 0 for a line that would run backwards."""
        if isinstance(self.thing, Straight):
            return float(dot(self.end - self.start, self.thing.u))
        return abs(self.thing.rho) * float(np.deg2rad(self.sweep or 0.0))

    @property
    def segment(self) -> float:
        """The area between an arc and its chord: + where it turns to the left."""
        if isinstance(self.thing, Straight) or not self.sweep:
            return 0.0
        turn = float(np.deg2rad(self.sweep))
        return float(np.sign(self.thing.rho)) * self.thing.rho**2 * (turn - float(np.sin(turn))) / 2


class TangentProfile(Developed, Figure, id="tangent-profile", family="profiles", title="Profile of tangent arcs"):
    keys = ("A", "B", "F", "T*")  # centres go by their rows' names: these are those of the first profile
    brief = "A profile of {rows} that runs {path}, {ends}, found with {method}."
    summary = "A lever, a spanner’s head, a hook, a gasket, a cam plate: lines and arcs, each running into the next."
    pierced = True
    value_names = ("centres", "radii", "sweeps", "lengths", "touches", "length", "area")

    rows = NamedRows(
        (
            ("circle", "A", 0, 0, 26, "left"),
            ("circle", "B", 100, 0, 15, "left"),
            ("tangent", "S", "A", "B"),
            ("arc", "F", 72, "right", "B", "A", "right"),
            ("circle", "P", 0, 0, 14, "left"),
            ("circle", "Q", 100, 0, 8, "left"),
        ),
        "circles, points, lines, tangents and arcs, each with its way of travel",
        MOST,
    )
    path = Path(("A", "S", "B", "F"), "the names in the order of the path", 2 * MOST)
    ends = Choice("closed", "whether the path runs back into its beginning", ("closed", "open"))

    @cached_property
    def solved(self) -> Profiled:
        """Every row found; raises :class:`Refused` where one does not exist."""
        return resolved(self.given_values["rows"])

    @property
    def closed(self) -> bool:
        return self.ends == "closed"

    @cached_property
    def names(self) -> tuple[str, ...]:
        """The path, part by part: a mirrored half is what ran before it, run back, without what is its own image."""
        *half, last = self.given_values["path"]
        if last not in self.solved.mirrors:
            return (*half, last)
        images = self.solved.images
        back = [images.get(name, name) for name in reversed(half)]
        if back and back[0] == half[-1]:
            del back[0]
        if self.closed and back and back[-1] == half[0]:
            del back[-1]
        return (*half, *back)

    @cached_property
    def mark(self) -> str:
        """What touching points are lettered with: T, or a letter that no row takes with a number."""
        rows = self.solved.things
        return next(x for x in "TUVWXYZ" if not any(re.fullmatch(rf"{x}\d+", name) for name in rows))

    @property
    def pairs(self) -> list[tuple[str, str]]:
        """Each part of the path with the next."""
        names = self.names
        return list(zip(names, names[1:] + names[:1] if self.closed else names[1:]))

    @cached_property
    def touches(self) -> list[Array]:
        """Where each meets the next."""
        out = []
        for one, other in self.pairs:
            place = touching_place(self.solved[one], self.solved[other])
            if place is None:
                raise Refused("path", self._apart(one, other))
            out.append(place)
        return out

    def _apart(self, one: str, other: str) -> str:
        a, b = self.solved[one], self.solved[other]
        if isinstance(a, Straight) and isinstance(b, Straight):
            return f"{one} and {other} are lines: an arc or a cross goes between. Add one to rows and name it in path."
        if isinstance(a, Straight) or isinstance(b, Straight):
            line, ring = (a, b) if isinstance(a, Straight) else (b, a)
            assert isinstance(line, Straight) and isinstance(ring, Round)
            miss = abs(line.stands(ring.centre) - ring.rho)
        else:
            assert isinstance(a, Round) and isinstance(b, Round)
            miss = abs(float(distance(a.centre, b.centre)) - abs(a.rho - b.rho))
        if miss < 1e-6:
            return f"{one} and {other} are one and the same. Leave one of them out of path."
        return (
            f"{one} and {other} do not run into each other: they miss by {mm(miss)}. Put what touches both between "
            "them in path, or turn one of them the other way in rows."
        )

    @cached_property
    def pieces(self) -> list[Piece]:
        """The path, part by part."""
        names, touches = self.names, self.touches
        stops = [touches[-1], *touches] if self.closed else [self._end(names[0], 0), *touches, self._end(names[-1], -1)]
        out = []
        for name, start, end in zip(names, stops, stops[1:]):
            thing = self.solved[name]
            out.append(Piece(name, thing, start, end, swept(thing, start, end) if isinstance(thing, Round) else None))
        return out

    def _end(self, name: str, at: int) -> Array:
        thing = self.solved[name]
        if isinstance(thing, Straight):
            return thing.start if at == 0 else thing.end
        if thing.rho:
            where = "starts" if at == 0 else "ends"
            raise Refused(
                "path",
                f"An open path {where} in a point or on a line; {name} is a circle. Add a point on it to rows "
                f"(on, E, {name}, 0) and name it there in path, or make it closed.",
            )
        return thing.centre

    def refuse(self) -> None:
        for name in self.given_values["path"][:-1]:
            if name in self.solved.mirrors:
                raise Refused("path", f"{name} is a mirrored half: it is what ran before it, run back. Name it last.")
        for name in self.names:
            if name not in self.solved.things:
                raise Refused("path", f"There is no row {name}; they are {', '.join(self.solved.things)}. Name one.")
        pieces = self.pieces
        for k, piece in enumerate(pieces):
            if isinstance(piece.thing, Straight) and piece.length < -SHORT:
                before, after = pieces[k - 1].name, pieces[(k + 1) % len(pieces)].name
                at_end = not self.closed and k in (0, len(pieces) - 1)
                beside = after if k == 0 else before
                words = (
                    f"{beside} lies beyond the end of {piece.name} by {mm(-piece.length)}"
                    if at_end
                    else f"{before} and {after} eat each other on {piece.name} by {mm(-piece.length)}"
                )
                raise Refused("rows", f"{words}. Move one of them, lower a radius or turn the line round.")
        if sum(piece.length for piece in pieces) < 0.1:
            raise Refused("path", "The path has no length. Name more of the rows in it.")

    def cautions(self) -> Iterable[str]:
        crossed = crossing(self.pieces)
        if crossed:
            yield f"The path crosses itself, {crossed[0]} over {crossed[1]}: its area counts parts against each other."
        yield "What turns can catch a hand: guard it. What bears a load is a licensed engineer’s to settle."

    # what is told

    def values(self, method: str) -> Iterable[Value]:
        pieces = self.pieces
        rings = [piece.thing if isinstance(piece.thing, Round) else None for piece in pieces]
        centred = tuple(dict.fromkeys(piece.name for piece, ring in zip(pieces, rings) if ring))
        centres = [listed(ring.centre) if ring else None for ring in rings]
        yield Value("centres", centres, "mm", "… each where its two loci cross, or as given", centred)
        yield Value("radii", [abs(ring.rho) if ring else None for ring in rings], "mm", "… as given, or found")
        yield Value("sweeps", [piece.sweep for piece in pieces], "°", "… from touch to touch, the way of travel")
        lengths = [max(piece.length, 0.0) for piece in pieces]
        yield Value("lengths", lengths, "mm", "… radius × sweep × π/180; of a line from touch to touch")
        marks = tuple(f"{self.mark}{k}" for k in range(1, len(self.touches) + 1))
        yield Value("touches", [listed(at) for at in self.touches], "mm", "… on the line of centres", marks)
        total = " + ".join(bare(length) for length in lengths if length > SHORT)
        yield Value("length", sum(lengths), "mm", total)
        yield Value("area", self.area, "mm²", self._area_words() if self.closed else "an open path encloses nothing")

    @cached_property
    def area(self) -> float | None:
        """What a closed path encloses: its touches as a polygon, and the segments over their chords (Green)."""
        if not self.closed:
            return None
        return abs(float(shoelace(np.array(self.touches))) + sum(piece.segment for piece in self.pieces))

    def _area_words(self) -> str:
        inside = float(shoelace(np.array(self.touches)))
        bows = "".join(
            f" {'−' if piece.segment < 0 else '+'} {bare(abs(piece.segment))}"
            for piece in self.pieces
            if abs(piece.segment) > SHORT
        )
        return f"… of the polygon of touches {bare(inside)}, segments{bows}"

    def measure(self, found: Found) -> dict[str, Number]:
        total: Number = 0.0
        stops = self._found_stops(found)
        for piece, start, end in zip(self.pieces, stops, stops[1:]):
            if isinstance(piece.thing, Straight):
                total = total + distance(start, end)
            elif piece.sweep:
                centre = found[piece.name]
                turn = (angle_of(end - centre) - angle_of(start - centre)) * np.sign(piece.thing.rho) % 360.0
                total = total + distance(centre, start) * np.deg2rad(turn)
        return {"length": total}

    def _found_stops(self, found: Found) -> list[Array]:
        marked = [found[f"{self.mark}{k}"] for k in range(1, len(self.touches) + 1)]
        if self.closed:
            return [marked[-1], *marked]
        ends = [found[f"{self.mark}0"], found[f"{self.mark}{len(marked) + 1}"]]
        return [ends[0], *marked, ends[1]]

    def truths(self, found: Found) -> Iterator[Truth]:
        rows = {row[1]: row for row in self.given_values["rows"]}
        for name in dict.fromkeys(self.names):
            if name in rows and rows[name][0] in ("circle", "point"):
                held = entries(rows[name])
                yield Truth(f"{name} stands where it is given", found[name] - np.array([held["x"], held["y"]]))
        yield from self._image_truths(found)
        for k, (one, other) in enumerate(self.pairs, 1):
            yield from self._touch_truths(found, f"{self.mark}{k}", one, other)

    def _image_truths(self, found: Found) -> Iterator[Truth]:
        """What stands opposite: the axis halves the way between, and square to it."""
        for axis in self.solved.mirrors.values():
            for name, image in self.solved.images.items():
                if name != image and image in self.names and isinstance(self.solved[image], Round):
                    way = found[image] - found[name]
                    yield Truth(f"{image} stands square across the axis from {name}", way @ axis.u)
                    middle = (found[image] + found[name]) / 2
                    yield Truth(
                        f"{image} and {name} stand as far from the axis", distance_to_line(middle, axis.start, axis.u)
                    )

    def _touch_truths(self, found: Found, mark: str, one: str, other: str) -> Iterator[Truth]:
        """A touch lies on both, and both run one way there: centres and touch in one line, or square to a line."""
        at, both = found[mark], [(name, self.solved[name]) for name in (one, other)]
        for name, thing in both:
            if isinstance(thing, Round):
                yield Truth(f"{mark} lies on {name}", distance(at, found[name]) - abs(thing.rho))
            else:
                yield Truth(f"{mark} lies on {name}", distance_to_line(at, thing.start, thing.u))
        rings = [(name, thing) for name, thing in both if isinstance(thing, Round)]
        if any(not thing.rho for _, thing in rings):
            return
        words = f"At {mark} {one} and {other} share their direction"
        if len(rings) == 2:
            first, second = (found[name] for name, _ in rings)
            yield Truth(words, distance_to_line(at, first, second - first))
        else:
            line = next(thing for _, thing in both if isinstance(thing, Straight))
            yield Truth(words, (at - found[rings[0][0]]) @ line.u)

    def dimensions(self, found: Found) -> Iterable[Dimension]:
        for piece in self.pieces:
            if isinstance(piece.thing, Round) and piece.sweep:
                turn = float(np.sign(piece.thing.rho)) * piece.sweep / 2
                facing = float(angle_of(piece.start - piece.thing.centre)) + turn
                yield Radial(found[piece.name], abs(piece.thing.rho), "rows", abs(piece.thing.rho), facing)
        told = [row for row in self.given_values["rows"] if row[0] in ("circle", "point")]
        yield from corner_dimensions([point(float(row[2]), float(row[3])) for row in told], "rows")
        for row in told:
            if row[0] == "circle" and row[1] not in self.path:
                size = abs(float(row[4]))
                yield Radial(point(float(row[2]), float(row[3])), size, "rows", 2 * size, 130.0, diameter=True)

    # the templet

    def pattern(self, found: Found) -> None:
        """A templet is not folded."""

    def cut_out(self, found: Found) -> Sequence[Part]:
        """A closed profile as one part, from touch to touch."""
        if not self.closed or crossing(self.pieces):
            return ()
        marks = [f"{self.mark}{k}" for k in range(1, len(self.touches) + 1)]
        stops = [marks[-1], *marks]
        edges = [
            Edge(one, other, "cut" if isinstance(piece.thing, Round) else "side")
            for piece, one, other in zip(self.pieces, stops, stops[1:])
            if piece.length > SHORT
        ]
        return [Part("The profile", edges)]

    def held(self) -> dict[str, Any]:
        """The rows' entries, by their names."""
        return {row[1]: entries(row) for row in self.given_values["rows"]}


def crossing(pieces: Sequence[Piece]) -> tuple[str, str] | None:
    """Two parts of a path that cross, held as chains of short chords: to tell of, not to build on."""
    chains = [_chain(piece) for piece in pieces if piece.length > SHORT]
    names = [piece.name for piece in pieces if piece.length > SHORT]
    n = len(chains)
    for i in range(n):
        for j in range(i + 1, n):
            beside = j == i + 1 or (i == 0 and j == n - 1)
            one, other = (chains[i][1:-1], chains[j][1:-1]) if beside else (chains[i], chains[j])
            if len(one) > 1 and len(other) > 1 and _cross(one, other):
                return names[i], names[j]
    return None


def _chain(piece: Piece) -> Array:
    if isinstance(piece.thing, Straight):
        return piece.start + np.linspace(0.0, 1.0, 5)[:, None] * (piece.end - piece.start)
    turns = np.deg2rad(float(angle_of(piece.start - piece.thing.centre))) + np.sign(piece.thing.rho) * np.linspace(
        0.0, np.deg2rad(piece.sweep or 0.0), 65
    )
    return piece.thing.centre + abs(piece.thing.rho) * np.stack([np.cos(turns), np.sin(turns)], axis=-1)


def _cross(one: Array, other: Array) -> bool:
    """Whether two chains of chords cross."""
    p, u = one[:-1, None], np.diff(one, axis=0)[:, None]
    q, w = other[None, :-1], np.diff(other, axis=0)[None]
    below = u[..., 0] * w[..., 1] - u[..., 1] * w[..., 0]
    out = q - p
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (out[..., 0] * w[..., 1] - out[..., 1] * w[..., 0]) / below
        t = (out[..., 0] * u[..., 1] - out[..., 1] * u[..., 0]) / below
    return bool(np.any((s > 0) & (s < 1) & (t > 0) & (t < 1)))
