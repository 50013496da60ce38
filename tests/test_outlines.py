"""What is lined in: unbroken from end to end, through every found point, arcs to their points, and of coils what is
seen."""

from __future__ import annotations

import math
import unittest

import numpy as np

from tests.test_catalogue import every_method, fitting
from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import ArcMark, CurveMark, Role
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.figures.wound.winding import Wound
from wise_compass.geometry.vectors import distance


def outline(made: Run, fine: int = 24) -> list[np.ndarray]:
    return [line for mark in made.marks if mark.role is Role.OUTLINE for line in mark.polylines(fine)]


def off_lines(at: np.ndarray, lines: list[np.ndarray]) -> float:
    """How far a point lies from what is drawn."""
    best = math.inf
    for line in lines:
        a, b = line[:-1], line[1:]
        ab = b - a
        whole = np.maximum((ab**2).sum(axis=1), 1e-300)
        t = np.clip(((at - a) * ab).sum(axis=1) / whole, 0, 1)
        best = min(best, float(np.hypot(*(a + t[:, None] * ab - at).T).min()))
    return best


class Unbroken(unittest.TestCase):
    def test_every_found_point_of_a_curve_lies_on_what_is_drawn(self) -> None:
        checked = 0
        for kind, method in every_method():
            made = run(fitting(kind, method), method.id)
            seen = (Role.OUTLINE, Role.HIDDEN)
            lines = [line for mark in made.marks if mark.role in seen for line in mark.polylines(24)]
            if issubclass(kind, Wound) or kind.id == "pictorial-round":
                continue  # of these only what is seen is drawn
            for course in made.courses:
                for name in course.names:
                    self.assertLess(off_lines(made.spots[name].here, lines), 0.02, f"{kind.id} by {method.id}: {name}")
                    checked += 1
        self.assertGreater(checked, 500)

    def test_corners_and_tangent_points_lie_on_what_is_drawn(self) -> None:
        for kind, method in every_method():
            made = run(fitting(kind, method), method.id)
            lines = outline(made)
            for spot in made.spots.values():
                corner = kind.family in ("triangles", "polygons") and len(spot.name) == 1 and spot.name in "ABCD"
                if (spot.kind == "tangent" and kind.family == "tangency") or corner:
                    self.assertLess(off_lines(spot.here, lines), 0.03, f"{kind.id} by {method.id}: {spot.name}")

    def test_chains_run_from_end_to_end(self) -> None:
        """Every end of a piece is the end of another, but for the two ends of an open line."""
        for id, givens, open_ends in (
            ("tangent-chain", {}, 2),
            ("tangent-chain", {"corners": ((0, 0), (40, 0), (40, 40), (0, 40)), "radii": ((20,), (20,))}, 2),
            ("fillet", {}, 2),
            ("reverse-curve", {}, 2),
            ("ellipse", {}, 0),
            ("polygon-on-side", {}, 0),
            ("polygon-about-circle", {}, 0),
            ("arc-volute", {}, 2),
        ):
            for method in make(catalogue()[id], givens).methods.values():
                figure = make(catalogue()[id], givens)
                if method.fits(figure) is not None or not method.exact(figure):
                    continue
                lines = outline(run(figure, method.id))
                ends = [end for line in lines for end in (line[0], line[-1]) if distance(line[0], line[-1]) > 1e-9]
                lone = [
                    end
                    for k, end in enumerate(ends)
                    if not any(distance(end, other) < 1e-6 for j, other in enumerate(ends) if j != k)
                ]
                self.assertEqual(len(lone), open_ends, f"{id} by {method.id}: {lone}")

    def test_arcs_stop_at_their_points(self) -> None:
        """An arc of an outline that is no full circle begins and ends at points that were found."""
        counted = 0
        for kind, method in every_method():
            made = run(fitting(kind, method), method.id)
            spots = np.array([spot.here for spot in made.spots.values()])
            for mark in made.marks:
                if isinstance(mark, ArcMark) and mark.role is Role.OUTLINE:
                    for (_, sweep), line in zip(mark.spans(), mark.polylines()):
                        if sweep >= 360:
                            continue
                        for end in (line[0], line[-1]):
                            self.assertLess(float(distance(spots, end).min()), 1e-6, f"{kind.id} by {method.id}")
                        counted += 1
        self.assertGreater(counted, 25)

    def test_a_piece_runs_as_its_whole(self) -> None:
        made = run(catalogue()["helix"]())
        pieces = [mark for mark in made.marks if isinstance(mark, CurveMark) and mark.row.fair]
        whole = np.concatenate([mark.polylines(16)[0] for mark in pieces])
        row = pieces[0].row
        full = CurveMark(row, Role.OUTLINE, 1).polylines(16)[0]
        for at in whole:
            self.assertLess(float(distance(full, at).min()), 1e-9)
        cut = CurveMark(row, Role.OUTLINE, 1, 2.25, 5.5)
        np.testing.assert_allclose(cut.polylines(8)[0][0], row.at(2.25), atol=1e-9)
        np.testing.assert_allclose(cut.polylines(8)[0][-1], row.at(5.5), atol=1e-9)
        self.assertEqual(len(cut.points), 5)
