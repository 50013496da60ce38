"""What can be read off the board: the spot or line under the pointer, and the distance between two picks."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Mark, nominal
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style, trim
from wise_compass.geometry.vectors import Array, angle_of, distance
from wise_compass.sheet.compose import Sheet
from wise_compass.sheet.drawing import Arc, Item
from wise_compass.sheet.gaps import enlargement
from wise_compass.sheet.piece import Placed

if TYPE_CHECKING:
    from wise_compass.study.gaps import Gap


class Picked(NamedTuple):
    """A place on a figure: its sheet and figure coordinates, and the spot there, if any."""

    sheet_at: Array
    at: Array
    name: str = ""


def placed_at(sheet: Sheet, entry_index: int) -> Placed | None:
    return sheet.placed[entry_index] if entry_index < len(sheet.placed) else None


def nearest_spot(sheet: Sheet, placed: Placed, at: Array, reach: float, step: int | None) -> Picked | None:
    """The spot within ``reach`` sheet mm of ``at``, among those drawn up to ``step`` (None for all)."""
    best, gap = None, reach
    for spot in placed.piece.run.spots.values():
        if step is not None and spot.step > step:
            continue
        there = placed.at(spot.here, sheet.scale)
        far = float(distance(there, at))
        if far <= gap:
            best, gap = Picked(there, spot.here, spot.name), far
    return best


def item_at(items: list[Item], at: Array, reach: float) -> Item | None:
    """The line, arc or curve within ``reach`` sheet mm of ``at``."""
    best, gap = None, reach
    for item in items:
        if not item.owner.startswith("#"):
            continue
        if isinstance(item, Arc) and item.sweep >= 360:
            far = abs(float(distance(item.centre, at)) - item.radius)
        else:
            course = item.polyline()
            if course is None:
                continue
            far = course_gap(course, at)
        if far < gap:
            best, gap = item, far
    return best


def course_gap(course: Array, at: Array) -> float:
    """How far a place lies off a polyline."""
    a, b = course[:-1], course[1:]
    ab = b - a
    whole = (ab**2).sum(axis=1)
    t = np.clip(((at - a) * ab).sum(axis=1) / np.where(whole == 0, 1, whole), 0, 1)
    return float(distance(a + t[:, None] * ab, at).min())


def spot_words(run: Run, name: str, style: Style) -> str:
    """A spot's name, coordinates, and the values it belongs to."""
    at = run.spots[name].here
    words = (
        f"{style.lettered(name)}   {style.length(float(at[0]), False)}, "
        f"{style.length(float(at[1]))}{_otherwise((name,), style)}"
    )
    values = [v for v in run.values if name in v.marks and isinstance(v.value, float)][:3]
    return "\n".join([words, *(f"{v.name.replace('_', ' ')}  {style.quantity(v.value, v.unit)}" for v in values)])


def gap_at(gaps: Sequence[Gap], placed: Placed, scale: float, at: Array, reach: float, style: Style) -> str:
    """What the gap plot says at a place of the sheet: how far off the drawn line lies; empty where there is none
    near."""
    times = enlargement(gaps, scale)
    best, words = reach, ""
    for gap in gaps if times else ():
        tooth = np.abs(gap.off) * scale * times
        far = np.asarray(distance(placed.at(gap.true, scale), at)) - tooth
        k = int(np.argmin(far))
        if far[k] < best:
            side = "left" if gap.off[k] > 0 else "right"
            course = gap.course
            hollow = course.curve.concave_side(float(gap.t[k]))
            inside = (side == "left") == (hollow > 0)
            space = int(gap.space[k])
            names = course.names
            where = f"\nbetween {names[space]} and {names[(space + 1) % len(names)]}" if names else ""
            best = float(far[k])
            words = f"{style.short(abs(float(gap.off[k])))} {'inside' if inside else 'outside'} the true curve{where}"
    return words


def mark_words(run: Run, owner: str, style: Style, scale: float) -> str:
    """A mark's kind, size and the step that draws it."""
    mark = run.marks[int(owner[1:])]
    step = run.steps[mark.step - 1]
    if isinstance(mark, ArcMark):
        size = f"radius {style.length(float(nominal(mark.radius, 0)))}"
    elif isinstance(mark, LineMark):
        a, b = mark.ends()
        size = f"{style.length(float(distance(a, b)))} at {trim(float(angle_of(nominal(mark.u, 1))), 2)}°"
    else:
        size = f"through {len(mark.points)} points"
    ends = _named_ends(run, mark)
    named = f"{''.join(style.lettered(name) for name in ends)}   " if ends else ""
    return f"{named}{mark.role.value.capitalize()}, {size}{_otherwise(ends, style)}\nstep {step.n}: {step.tool(scale)}"


def _named_ends(run: Run, mark: Mark) -> tuple[str, ...]:
    """The names of both ends of a straight line of a view, where it runs from spot to spot; empty else."""
    if isinstance(mark, ArcMark):
        return ()
    ends = mark.course() if isinstance(mark, CurveMark) else np.array(mark.ends())
    if len(ends) != 2:
        return ()
    views = [(name, spot) for name, spot in run.spots.items() if "." in name]
    found = [next((name for name, spot in views if float(distance(spot.here, end)) < 1e-6), "") for end in ends]
    return tuple(found) if all(found) else ()


def _otherwise(names: Sequence[str], style: Style) -> str:
    """What names of views are in the other school of lettering; empty where both write the same."""
    other = style._replace(lettering="primes" if style.lettering == "numbers" else "numbers")
    here, there = ("".join(one.lettered(name) for name in names) for one in (style, other))
    return f"\n{there} in the other school of lettering" if here != there else ""


def space_words(run: Run, owner: str, style: Style) -> str:
    """A place of space by its coordinates, or an edge, told by the names of its ends, by its true length."""
    names = owner.split()
    places = [np.asarray(run.found[name]) for name in names if name in run.found]
    if len(places) == 1:
        return f"{names[0]}   {', '.join(style.length(float(x), False) for x in places[0])} {style.units}"
    whole = float(sum(distance(a, b) for a, b in zip(places[:-1], places[1:])))
    title = "".join(names) if len(names) <= 4 else f"{names[0]} … {names[-1]}"
    return f"{title}   {style.length(whole)} in space"


def dividers_words(one: Picked, two: Picked, style: Style) -> str:
    """Distance, angle and slope from one pick to another."""
    gap = two.at - one.at
    run_, rise = float(gap[0]), float(gap[1])
    span = float(np.hypot(run_, rise))
    names = f"{style.lettered(one.name)}–{style.lettered(two.name)}   " if one.name and two.name else ""
    slope = "upright" if abs(run_) < 1e-9 else f"{trim(100 * rise / abs(run_), 2)} in 100"
    return f"{names}{style.length(span)}\nangle {trim(float(np.degrees(np.arctan2(rise, run_))), 2)}°   slope {slope}"
