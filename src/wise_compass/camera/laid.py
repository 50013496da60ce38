"""What lies where on a sheet: a run, its scale, its paper and its origin; and the blank frame to draw it on."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Mark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run
from wise_compass.geometry.fair import along_curve, fair_curve
from wise_compass.geometry.vectors import Array, point, polar
from wise_compass.job.build import build_sheet, run_entry
from wise_compass.job.model import Job
from wise_compass.practice.problems import Problem, problem_of, sheet_of
from wise_compass.practice.worksheet import start_of, worksheet
from wise_compass.sheet.drawing import Drawing, Line
from wise_compass.sheet.frame import frame_items
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.squarecode import code_items, fits

FINE = 0.6
"""mm on the paper between two points of a course."""
LINED = (Role.OUTLINE, Role.HIDDEN)


class Laid(NamedTuple):
    """A run on its sheet: ``origin`` is where its own origin lies, in mm from the lower left corner; ``code`` what the
    sheet carries."""

    run: Run
    scale: float
    paper: Paper
    origin: Array
    code: str = ""

    def on_paper(self, points: Array) -> Array:
        """Places of the figure, (…, 2) in its own mm, as they lie on the paper."""
        return np.asarray(self.origin + np.asarray(points) * self.scale)


def laid_of(problem: Problem) -> Laid:
    """A problem on its worksheet; raises :class:`Refused`."""
    made = problem.run()
    paper = Paper(problem.paper, problem.lie)
    origin = np.array(problem.at) if problem.at else sheet_of(problem, made).placed[0].origin
    return Laid(made, problem.scale, paper, origin, problem.code)


def laid_by(code: str) -> Laid:
    """What a code tells; raises :class:`Refused`."""
    return laid_of(problem_of(code))


def laid_in(job: Job, number: int, figure: int = 1) -> Laid:
    """A figure of a sheet of a job, both from 1; raises :class:`Refused`."""
    if not 1 <= number <= len(job.sheets):
        raise Refused("sheet", f"sheet is {number}; “{job.title}” has {len(job.sheets)}. Take 1 to {len(job.sheets)}.")
    plan = job.sheets[number - 1]
    if not 1 <= figure <= len(plan.entries):
        raise Refused("figure", f"figure is {figure}; sheet {number} has {len(plan.entries)}.")
    runs = {entry.id: run_entry(entry, job.settings, plan) for entry in plan.entries}
    sheet = build_sheet(job, number - 1, runs)
    entry, placed = plan.entries[figure - 1], sheet.placed[figure - 1]
    made = runs[entry.id]
    at = (round(float(placed.origin[0]), 2), round(float(placed.origin[1]), 2))
    problem = Problem(
        entry.figure,
        made.method.id,
        entry.givens,
        sheet.paper.size,
        sheet.scale,
        sheet.paper.lie,
        job.settings.projection,
        at,
        made.method.text,
    )
    return Laid(
        made,
        sheet.scale,
        sheet.paper,
        np.array(at),
        problem.code if fits(problem.code) and _same(problem, made) else "",
    )


def _same(problem: Problem, made: Run) -> bool:
    """Whether a code would bring the very drawing again: not where a plate, sides or hidden edges were asked for."""
    try:
        other = problem.run()
    except Refused:
        return False
    return list(other.spots) == list(made.spots) and all(
        bool(np.allclose(spot.here, made.spots[name].here, atol=1e-6)) for name, spot in other.spots.items()
    )


def blank(laid: Laid) -> Drawing:
    """The sheet to be drawn on: frame, title strip, code, and where to start."""
    if laid.code and not problem_of(laid.code).at:
        return worksheet(problem_of(laid.code))
    paper = laid.paper
    drawing = Drawing(paper.width, paper.height, list(frame_items(paper)))
    left, bottom, right, top = paper.strip
    corners = np.array([[left, bottom], [right, bottom], [right, top], [left, top]])
    drawing.items.append(Line("frame", 0, "", "strip", corners, closed=True))
    if laid.code:
        drawing.items += code_items(laid.code, paper)
    _, here = start_of(laid.run)
    at = laid.on_paper(here)
    for way in (point(3.0, 0.0), point(0.0, 3.0)):
        drawing.items.append(Line("result", 0, "", "strip", np.array([at - way, at + way])))
    return drawing


def blanks(job: Job) -> list[Drawing]:
    """A blank frame for each sheet of a job; raises :class:`Refused`."""
    return [blank(laid_in(job, number)) for number, plan in enumerate(job.sheets, 1) if plan.entries]


def courses_of(mark: Mark, lane: int, scale: float) -> list[Array]:
    """What the hand of a lane draws of a mark, as polylines in figure mm, fine enough for a sheet at ``scale``; lane 0
    is the steady one."""

    def of(value: object, axes: int) -> Array:
        array = np.asarray(value, dtype=float)
        return array if array.ndim == axes else np.asarray(array[lane])

    if isinstance(mark, LineMark):
        p, u = of(mark.p, 1), of(mark.u, 1)
        return [np.array([p + mark.lo * u, p + mark.hi * u])]
    if isinstance(mark, ArcMark):
        radius = float(of(mark.radius, 0))
        arcs = []
        for start, sweep in mark.spans():
            count = max(int(np.radians(sweep) * radius * scale / FINE), 6)
            arcs.append(polar(of(mark.centre, 1), radius, np.linspace(start, start + sweep, count + 1)))
        return arcs
    if isinstance(mark, CurveMark):
        points = np.array([of(one, 1) for one in mark.points])
        if mark.fair and len(points) > 2:
            return [along_curve(fair_curve(points, mark.closed), 24)]
        return [np.concatenate([points, points[:1]]) if mark.closed else points]
    return []
