"""The rows of a profile, found one from the other; what does not exist is refused with what would do."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from wise_compass.drafting.named_rows import IMAGE, entries
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import least_mm, mm, most_mm
from wise_compass.geometry.touching import Round, Straight, Thing, arcs_touching, centres_touching, common_tangent
from wise_compass.geometry.vectors import Array, cosd, distance, point, sind

NEAREST = 0.1
"""mm that the two ends of a line, or two centres, lie apart at least."""


@dataclass(frozen=True)
class Profiled:
    """Rows that are found: each thing by its name, and all the arcs that would serve for those that had a choice."""

    things: dict[str, Thing]
    offered: dict[str, list[Round]]
    images: dict[str, str] = field(default_factory=dict)
    """By each name that of its image; its own where it is one with it."""
    mirrors: dict[str, Straight] = field(default_factory=dict)
    """The axis of each mirrored half."""

    def __getitem__(self, name: str) -> Thing:
        return self.things[name]


ONE = 1e-9
"""mm within which two places are one."""


def resolved(rows: Sequence[Sequence[Any]]) -> Profiled:
    """Rows as things with a way of travel; raises :class:`Refused`, by the row, where one does not exist."""
    done = Profiled({}, {})
    for k, row in enumerate(rows, 1):
        if row[0] == "mirror":
            _mirror(k, row, done)
        else:
            done.things[row[1]] = _found(k, row, done)
    return done


def _mirror(k: int, row: Sequence[Any], done: Profiled) -> None:
    """The images of all that stands so far, by their names."""
    axis = done[row[2]]
    if not isinstance(axis, Straight):
        raise Refused("rows", f"Row {k} of rows, {row[1]}: {row[2]} is no line to mirror in. Name a line.")
    for name, thing in list(done.things.items()):
        image = mirrored(thing, axis)
        if same(image, thing):
            done.images[name] = name
            continue
        done.images[name] = named = f"{name}{IMAGE}"
        if named in done.things:
            raise Refused(
                "rows", f"{named}, the image of {name} in row {k} of rows, is a row already. Name it otherwise."
            )
        done.things[named] = image
    done.mirrors[row[1]] = axis


def mirrored(thing: Thing, axis: Straight) -> Thing:
    """The image in a line, run the other way: so what ran into each other runs back out of it."""
    if isinstance(thing, Straight):
        return Straight(opposite(thing.end, axis), opposite(thing.start, axis))
    return Round(opposite(thing.centre, axis), thing.rho)


def opposite(at: Array, axis: Straight) -> Array:
    """The image of a place in a line."""
    return at - 2 * axis.stands(at) * axis.left


def same(one: Thing, other: Thing) -> bool:
    """Whether two are one circle, or one line run one way, to 1e-9 mm."""
    if isinstance(one, Round) and isinstance(other, Round):
        return float(np.abs(one.centre - other.centre).max()) < ONE and one.rho == other.rho
    if isinstance(one, Straight) and isinstance(other, Straight):
        return (
            float(np.abs(one.u - other.u).max()) < ONE
            and max(map(abs, map(one.stands, (other.start, other.end)))) < ONE
        )
    return False


def _found(k: int, row: Sequence[Any], done: Profiled) -> Thing:
    kind, name, held = row[0], row[1], entries(row)
    if kind == "circle":
        return Round(point(held["x"], held["y"]), signed(held["r"], held["turn"]))
    if kind == "point":
        return Round(point(held["x"], held["y"]), 0.0)
    if kind == "line":
        start, end = point(held["x1"], held["y1"]), point(held["x2"], held["y2"])
        if float(distance(start, end)) < NEAREST:
            raise Refused("rows", f"Row {k} of rows, {name}, runs {mm(float(distance(start, end)))}. Move its end.")
        return Straight(start, end)
    if kind == "on":
        return Round(_place_on(done[held["of"]], held["place"]), 0.0)
    if kind == "tangent":
        return _tangent(k, name, held, done)
    if kind == "touch":
        return _touching_three(k, name, held, done)
    return _touching_two(k, name, held, done)


def signed(radius: float, turn: str) -> float:
    """A radius with its way of travel: + left about."""
    return radius if turn == "left" else -radius


def _place_on(of: Thing, place: float) -> Array:
    if isinstance(of, Straight):
        return of.start + place * of.u
    return of.centre + abs(of.rho) * point(float(cosd(place)), float(sind(place)))


def _tangent(k: int, name: str, held: dict[str, Any], done: Profiled) -> Straight:
    first, second = done[held["first"]], done[held["second"]]
    if isinstance(first, Straight) or isinstance(second, Straight):
        raise Refused("rows", f"Row {k} of rows, {name}: a tangent runs from circles or points to such. Name two.")
    line = common_tangent(first, second)
    if line is None:
        least = abs(second.rho - first.rho)
        raise Refused(
            "rows",
            f"Row {k} of rows, {name}: {held['first']} and {held['second']} lie "
            f"{mm(float(distance(first.centre, second.centre)))} apart; a tangent of these turns needs more than "
            f"{mm(least)}. Move one of them, or turn it the other way.",
        )
    return line


def _touching_two(k: int, name: str, held: dict[str, Any], done: Profiled) -> Round:
    """An arc of a told radius, or a crossing, of two things."""
    rho = signed(held["r"], held["turn"]) if "r" in held else 0.0
    one, other = done[held["first"]], done[held["second"]]
    centres = centres_touching(one, other, rho)
    if not centres:
        raise Refused("rows", f"Row {k} of rows, {name}: {_lacks(rho, held, one, other)}")
    if len(centres) == 1:
        return Round(centres[0], rho)
    lines = sum(isinstance(thing, Straight) for thing in (one, other))
    words = ("back", "on") if lines else ("left", "right")
    if held.get("side") not in words:
        said = held.get("side", "nothing")
        raise Refused(
            "rows",
            f"Row {k} of rows, {name}: there are two such, and its side is {said}. Write {words[0]} or {words[1]}.",
        )
    done.offered[name] = [Round(centre, rho) for centre in centres]
    return Round(centres[words.index(held["side"])], rho)


def _lacks(rho: float, held: dict[str, Any], one: Thing, other: Thing) -> str:
    """Why there is no such arc, with the radius that would do."""
    first, second = held["first"], held["second"]
    if rho == 0.0:
        return f"{first} and {second} do not cross. Move one of them."
    radii = sorted(radii_that_do(one, other, float(np.sign(rho))), key=lambda r: abs(r - abs(rho)))
    turn = "left" if rho > 0 else "right"
    words = f"no arc of {mm(abs(rho))} turning {turn} touches {first} and {second}."
    if radii:
        would = least_mm(radii[0]) if radii[0] > abs(rho) else most_mm(radii[0])
        return f"{words} One of {would} would do; set r so, or turn one of the three the other way."
    return f"{words} No radius would do; turn it or one of the two the other way, or move one."


def radii_that_do(one: Thing, other: Thing, sign: float) -> Iterator[float]:
    """The radii where arcs that touch both begin or cease to be: there the two answers are one."""
    if isinstance(one, Straight) and isinstance(other, Straight):
        return
    if isinstance(one, Straight) or isinstance(other, Straight):
        line, ring = (one, other) if isinstance(one, Straight) else (other, one)
        assert isinstance(line, Straight) and isinstance(ring, Round)
        ends = [(line.stands(ring.centre) + ring.rho) / 2]
    else:
        span = float(distance(one.centre, other.centre))
        ends = [(one.rho + other.rho + way * span) / 2 for way in (1, -1)]
    for rho in ends:
        # a shade to either side, where there are two answers and rounding decides nothing
        for beside in (rho, rho * (1 + 1e-9), rho * (1 - 1e-9)):
            if sign * beside >= 0.1 and centres_touching(one, other, beside):
                yield abs(beside)
                break


def _touching_three(k: int, name: str, held: dict[str, Any], done: Profiled) -> Round:
    three = [done[held[which]] for which in ("first", "second", "third")]
    sign = signed(1.0, held["turn"])
    arcs = [arc for arc in arcs_touching(three) if arc.rho * sign > 0]
    if not arcs:
        named = f"{held['first']}, {held['second']} and {held['third']}"
        raise Refused(
            "rows",
            f"Row {k} of rows, {name}: no arc turning {held['turn']} touches {named}. Turn it or one of the three the "
            "other way, or move one.",
        )
    if len(arcs) == 1:
        return arcs[0]
    if "which" not in held:
        raise Refused(
            "rows",
            f"Row {k} of rows, {name}: there are two such, of {mm(abs(arcs[0].rho))} and {mm(abs(arcs[1].rho))}. "
            "Write small or large.",
        )
    done.offered[name] = arcs
    return arcs[0] if held["which"] == "small" else arcs[-1]
