"""What moves while a curve is found: a rolling circle, a trammel, a string, a turning vector.

A figure tells where its moving parts stand at any place of the curve (:meth:`Figure.mechanism`); the steps that find
the curve's points say at which places the walk stops, so that it can glide from one to the next.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from wise_compass.drafting.capabilities import Moving
from wise_compass.drafting.course import Course, Frame
from wise_compass.drafting.run import Run
from wise_compass.geometry.vectors import Array

TRACE = 120
"""Points of the curve so far."""


class Motion(NamedTuple):
    """The steps ``steps`` find the places ``stations`` of ``course``, in order."""

    run: Run
    course: Course
    steps: Array
    stations: Array

    def covers(self, position: float) -> bool:
        """Whether a walk that stands at ``position`` (a step, or between two) stands among the points found."""
        return bool(self.steps[0] <= position <= self.steps[-1])

    def place(self, position: float) -> float:
        """The curve's parameter there."""
        return float(np.interp(position, self.steps, self.stations))

    def frame(self, position: float) -> Frame:
        """The moving parts there."""
        frame = _frame(self.run, self.place(position))
        assert frame is not None
        return frame

    def trace(self, position: float) -> Array:
        """The true curve from the first place to this one, shape (n, 2)."""
        return self.course.curve.at(np.linspace(float(self.stations[0]), self.place(position), TRACE))


def _frame(run: Run, t: float) -> Frame | None:
    figure = run.figure
    return run.as_found(lambda: figure.mechanism(run.found, t), None) if isinstance(figure, Moving) else None


def motion_of(run: Run) -> Motion | None:
    """How the walk of a run moves, or None where nothing does."""
    figure = run.figure
    course = figure.traced(run.method.id) if isinstance(figure, Moving) else None
    if course is None or not course.names or _frame(run, float(course.stations[0])) is None:
        return None
    steps = np.array([run.spots[name].step for name in course.names], dtype=float)
    if len(steps) < 2 or (np.diff(steps) <= 0).any():
        return None
    return Motion(run, course, steps, course.stations)
