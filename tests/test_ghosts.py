"""The instrument of a step, shown in place: what is drawn for it, and where."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from wise_compass.desk.paper.ghosts import Ghosts
from wise_compass.desk.parts.glass import Glass
from wise_compass.drafting.marks import ArcMark, LineMark, nominal
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.steps import Step
from wise_compass.figures.catalogue import figure_named


class Paper:
    """Takes what a painter takes and keeps the places."""

    def __init__(self) -> None:
        self.polygons: list[np.ndarray] = []
        self.lines: list[np.ndarray] = []
        self.circles: list[np.ndarray] = []
        glass = Glass(1.0, 0.0, 0.0, 0.0)
        self.xy = glass.xy

    def setPen(self, pen: object) -> None: ...

    def setBrush(self, brush: object) -> None: ...

    def drawPolygon(self, polygon: Any) -> None:
        self.polygons.append(np.array([[point.x(), -point.y()] for point in polygon]))

    def drawLine(self, a: Any, b: Any) -> None:
        self.lines.append(np.array([[a.x(), -a.y()], [b.x(), -b.y()]]))

    def drawEllipse(self, centre: Any, *size: float) -> None:
        self.circles.append(np.array([centre.x(), -centre.y()]))


def shown(step: Step, scale: float = 1.0) -> Paper:
    paper = Paper()
    Ghosts(paper, paper, np.zeros(2), scale).draw(step)  # type: ignore[arg-type]
    return paper


def off_line(points: np.ndarray, line: LineMark) -> np.ndarray:
    p, u = nominal(line.p, 1), nominal(line.u, 1)
    off = points - p
    return np.asarray(off[:, 0] * u[1] - off[:, 1] * u[0])


class Instruments(unittest.TestCase):
    def steps(self, id: str, method: str | None, instrument: str) -> list[tuple[Run, Step]]:
        made = run(figure_named(id)(), method)
        return [(made, step) for step in made.steps if step.instrument == instrument and step.marks]

    def test_a_straightedge_lies_along_its_line_and_beyond_its_ends(self) -> None:
        seen = 0
        for _, step in self.steps("two-laminae", None, "Straightedge"):
            line = step.marks[-1]
            if not isinstance(line, LineMark) or line.hi - line.lo < 1:
                continue
            (edge,) = shown(step).polygons
            off = off_line(edge, line)
            self.assertEqual(int((np.abs(off) < 1e-6).sum()), 2, "one long side lies on the line")
            self.assertAlmostEqual(float(np.abs(off).max()), 9.0)
            along = (edge - nominal(line.p, 1)) @ nominal(line.u, 1)
            self.assertAlmostEqual(float(along.min()), line.lo - 12, places=6)
            self.assertAlmostEqual(float(along.max()), line.hi + 12, places=6)
            seen += 1
        self.assertGreater(seen, 3)

    def test_a_set_square_has_a_right_angle_on_its_line(self) -> None:
        seen = 0
        for _, step in self.steps("helix", None, "Set square") + self.steps("perpendicular", None, "Set square"):
            marks = [mark for mark in step.marks if isinstance(mark, LineMark) and mark.hi - mark.lo > 2]
            if not marks or not isinstance(step.marks[-1], LineMark):
                continue
            for corner in shown(step).polygons:
                self.assertEqual(len(corner), 3)
                a, b, c = corner
                self.assertAlmostEqual(float((b - a) @ (c - a)), 0.0, delta=1e-6)
                self.assertAlmostEqual(
                    float(np.linalg.norm(c - a) / np.linalg.norm(b - a)), np.tan(np.radians(30)), places=6
                )
                seen += 1
        self.assertGreater(seen, 2)

    def test_a_compass_stands_on_its_centre_and_writes_on_its_arc(self) -> None:
        seen = 0
        for scale in (1.0, 0.5):
            for _, step in self.steps("ellipse", "focus-arcs", "Compass") + self.steps("bisect-line", None, "Compass"):
                arc = next((mark for mark in reversed(step.marks) if isinstance(mark, ArcMark)), None)
                if arc is None or not isinstance(step.marks[-1], ArcMark):
                    continue
                paper = shown(step, scale)
                legs, centre = paper.lines, nominal(arc.centre, 1) * scale
                radius = float(nominal(arc.radius, 0)) * scale
                np.testing.assert_allclose(legs[0][0], centre, atol=1e-9)
                self.assertAlmostEqual(float(np.linalg.norm(legs[1][0] - centre)), radius, places=6)
                np.testing.assert_allclose(legs[0][1], legs[1][1], atol=1e-9)
                np.testing.assert_allclose(paper.circles[0], legs[0][1], atol=1e-9)
                self.assertAlmostEqual(
                    float(np.linalg.norm(legs[0][1] - legs[0][0])),
                    float(np.linalg.norm(legs[1][1] - legs[1][0])),
                    places=6,
                )
                seen += 1
        self.assertGreater(seen, 5)

    def test_a_protractor_lies_on_the_vertex_with_its_graduation_on_the_line(self) -> None:
        made = run(figure_named("set-angle")(), "protractor")
        step = next(step for step in made.steps if step.instrument == "Protractor")
        line = step.marks[-1]
        assert isinstance(line, LineMark)
        paper = shown(step)
        (outline,) = paper.polygons
        np.testing.assert_allclose(np.linalg.norm(outline - nominal(line.p, 1), axis=1), 26.0, atol=1e-9)
        self.assertEqual(len(paper.lines), 19)
        for k, tick in enumerate(paper.lines):
            long = float(np.linalg.norm(tick[1] - tick[0]))
            self.assertAlmostEqual(long, 4.0 if k % 3 == 0 else 2.0)

    def test_nothing_is_shown_where_nothing_is_drawn(self) -> None:
        made = run(figure_named("ellipse")())
        bare = next(step for step in made.steps if not step.marks)
        paper = shown(bare)
        self.assertEqual((paper.polygons, paper.lines, paper.circles), ([], [], []))
