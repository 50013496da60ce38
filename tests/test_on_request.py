"""What a picture shows on request: its hidden edges and an isometric grid under it; and in space its own edges
alone."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.test_cli import call
from tests.test_desk import APP, DeskCase
from wise_compass.desk.round.roundmodes import shape_of
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.vectors import Array
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import job_text, parse_job
from wise_compass.sheet.drawing import Arc

BOTH = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier


def drawn(id: str, method: str, hidden: str, **givens: Any) -> Run:
    return run(catalogue()[id](**givens), method, Conventions(hidden=hidden))


def straight(made: Run, role: Role) -> list[Array]:
    """The straight pieces lined in by a role, two ends each."""
    lines = [
        mark.polylines()[0]
        for mark in made.marks
        if mark.role is role and isinstance(mark, CurveMark) and not mark.fair
    ]
    return [line[k : k + 2] for line in lines for k in range(len(line) - 1)]


def swept(made: Run, role: Role) -> float:
    """How many divisions of rims are lined in by a role."""
    marks = [mark for mark in made.marks if mark.role is role and isinstance(mark, CurveMark) and mark.fair]
    return sum((mark.row.last if mark.end is None else mark.end) - mark.start for mark in marks)


class HiddenEdges(unittest.TestCase):
    def test_a_prism_shows_each_of_its_edges_once(self) -> None:
        for sides in (3, 5, 8):
            for axis in ("upright", "front", "right"):
                made = drawn("pictorial-prism", "from-centre", "shown", sides=sides, axis=axis, hole=0)
                edges = straight(made, Role.OUTLINE) + straight(made, Role.HIDDEN)
                self.assertEqual(len(edges), 3 * sides)
                self.assertEqual(
                    len({tuple(np.round(np.sort(edge, axis=0), 6).ravel().tolist()) for edge in edges}), 3 * sides
                )
                self.assertEqual(
                    straight(
                        drawn("pictorial-prism", "from-centre", "usual", sides=sides, axis=axis, hole=0), Role.HIDDEN
                    ),
                    [],
                )

    def test_hidden_edges_of_a_prism_end_within_its_outline_and_seen_ones_bound_it(self) -> None:
        made = drawn("pictorial-prism", "crate", "shown", sides=6, hole=0)
        seen = np.concatenate(straight(made, Role.OUTLINE))
        for edge in straight(made, Role.HIDDEN):
            low, high = seen.min(axis=0), seen.max(axis=0)
            self.assertTrue(((edge >= low - 1e-9) & (edge <= high + 1e-9)).all())

    def test_the_far_rim_is_whole_seen_and_hidden_together(self) -> None:
        for axis in ("upright", "front", "right"):
            made = drawn("pictorial-round", "contours", "shown", axis=axis)
            self.assertAlmostEqual(
                swept(made, Role.HIDDEN) + swept(made, Role.OUTLINE), 2 * made.figure.parts, places=6
            )  # type: ignore[attr-defined]
            self.assertAlmostEqual(swept(made, Role.HIDDEN), made.figure.parts / 2, places=1)  # type: ignore[attr-defined]

    def test_a_frustum_seen_into_its_wide_end_hides_the_small_one(self) -> None:
        made = drawn("pictorial-round", "contours", "shown", bottom=20, top=80, height=5)
        self.assertIsNone(made.figure.touch)  # type: ignore[attr-defined]
        self.assertAlmostEqual(swept(made, Role.HIDDEN), made.figure.parts)  # type: ignore[attr-defined]

    def test_left_out_they_are_gone_but_for_the_views(self) -> None:
        block = drawn("pictorial-block", "crate", "out")
        self.assertFalse([mark for mark in block.marks if mark.role is Role.HIDDEN])
        built = drawn("built-up", "crate", "out", rows="box,0,0,0,60,40,20; hole,10,10,0,12,12,20")
        views = {step.n for step in built.steps if "view" in step.phase}
        hidden = {mark.step for mark in built.marks if mark.role is Role.HIDDEN}
        self.assertTrue(hidden)
        self.assertLessEqual(hidden, views)

    def test_a_perspective_shows_all_twelve_edges_of_a_block(self) -> None:
        for method in ("vanishing-points", "visual-rays", "measuring-points"):
            made = drawn("perspective-block", method, "shown", behind=5)
            picture = [step.n for step in made.steps if step.phase == "Line in"]
            lined = [mark for mark in made.marks if mark.step in picture]
            self.assertEqual(len(lined), 12)
            self.assertEqual({mark.role for mark in lined}, {Role.OUTLINE, Role.HIDDEN})


class Grid(unittest.TestCase):
    def sheet(self, entry: Entry, scale: str = "1:1") -> Any:
        return build_sheet(Job("J", (SheetPlan("S", (entry,), "A3", scale=scale),)), 0)

    def test_corners_of_a_block_of_whole_spaces_stand_on_its_dots(self) -> None:
        entry = Entry("pictorial-block", "Block", "crate", {"front": 60, "right": 40, "height": 25}, grid=5.0)
        sheet = self.sheet(entry)
        dots = np.array([item.centre for item in sheet.drawing.items if isinstance(item, Arc) and item.layer == "grid"])
        placed = sheet.placed[0]
        for letter in "ABCDEFGH":
            if letter in placed.piece.run.found:
                at = placed.origin + placed.piece.run.found[letter]
                self.assertLess(np.abs(dots - at).sum(axis=1).min(), 1e-9, letter)
        gaps = np.sqrt(((dots[:, None] - dots[None]) ** 2).sum(axis=2)) + 99 * np.eye(len(dots))
        self.assertAlmostEqual(gaps.min(), 5.0)
        first = next(k for k, item in enumerate(sheet.drawing.items) if item.layer == "construction")
        self.assertLess(
            max(k for k, item in enumerate(sheet.drawing.items) if item.layer == "grid"),
            first,
            "it lies under all lines",
        )

    def test_at_the_isometric_scale_its_spaces_shrink_with_the_picture(self) -> None:
        entry = Entry(
            "pictorial-block",
            "Block",
            "crate",
            {"scale": "isometric", "front": 60, "right": 40, "height": 25},
            grid=5.0,
        )
        sheet = self.sheet(entry)
        dots = np.array([item.centre for item in sheet.drawing.items if item.layer == "grid"])
        at = sheet.placed[0].origin + sheet.placed[0].piece.run.found["F"]
        self.assertLess(np.abs(dots - at).sum(axis=1).min(), 1e-9)

    def test_what_is_no_isometric_says_why_there_is_none(self) -> None:
        for entry in (
            Entry("pictorial-block", "Block", "crate", {"drawn": "cabinet"}, grid=5.0),
            Entry("perspective-block", "Mill", "visual-rays", {}, grid=5.0),
            Entry("pictorial-block", "Block", "crate", {}, grid=0.5),
        ):
            sheet = self.sheet(entry, "auto")
            self.assertIn("isometric", " ".join(sheet.warnings))
            self.assertFalse([item for item in sheet.drawing.items if item.layer == "grid"])

    def test_jobs_and_the_command_line_keep_both(self) -> None:
        entry = Entry("pictorial-block", "Block", "crate", {"front": 50.0}, hidden="out", grid=10.0)
        job = Job("J", (SheetPlan("S", (entry,)),))
        kept = parse_job(job_text(job)).sheets[0].entries[0]
        self.assertEqual((kept.hidden, kept.grid), ("out", 10.0))
        with tempfile.TemporaryDirectory() as folder:
            plain, full = Path(folder) / "plain.svg", Path(folder) / "full.svg"
            for path, options in ((plain, []), (full, ["--grid", "5", "--hidden", "shown"])):
                self.assertEqual(call("draw", "pictorial-prism", *options, "--out", str(path))[0], 0)
            self.assertGreater(full.read_text().count("<circle"), plain.read_text().count("<circle") + 200)


class OnTheDesk(DeskCase):
    def roles(self) -> set[str]:
        return {item.ink for item in self.session.sheet.drawing.items}

    def test_keys_show_and_leave_out(self) -> None:
        self.session.select("brake")
        self.idle()
        self.assertNotIn("hidden", self.roles())
        QTest.keyClick(self.window, Qt.Key.Key_J, BOTH)
        APP.processEvents()
        self.assertIn("hidden", self.roles())
        QTest.keyClick(self.window, Qt.Key.Key_G, BOTH)
        APP.processEvents()
        self.assertTrue([item for item in self.session.sheet.drawing.items if item.layer == "grid"])
        self.session.undo()
        self.session.undo()
        self.assertNotIn("hidden", self.roles())
        self.assertFalse([item for item in self.session.sheet.drawing.items if item.layer == "grid"])

    def test_a_plane_figure_has_neither(self) -> None:
        self.session.select(self.session.job.entries()[0].id)
        self.idle()
        before = self.session.job
        for key in (Qt.Key.Key_J, Qt.Key.Key_G):
            QTest.keyClick(self.window, key, BOTH)
        self.assertEqual(self.session.job, before)


class InSpace(unittest.TestCase):
    def lines(self, rows: str) -> list[Array]:
        made = run(catalogue()["built-up"](rows=rows))
        entry = Entry("built-up", "Blocks", made.method.id)
        basis = np.array([[1.0, 0, 0], [0, 0.6, 0.8], [0, -0.8, 0.6]])
        return [item.points for item in shape_of(made, "solid", "", entry).items(0.0, basis) if item.layer == "body"]  # type: ignore[attr-defined]

    def test_flush_blocks_are_one_and_holes_have_rims(self) -> None:
        long_of = {
            rows: sum(float(np.hypot(*(line[1] - line[0]))) for line in self.lines(rows))
            for rows in (
                "box,0,0,0,50,40,20",
                "box,0,0,0,20,40,20; box,20,0,0,30,40,20",
                "box,0,0,0,50,40,20; hole,10,10,0,20,20,20",
            )
        }
        whole, two, bored = long_of.values()
        self.assertAlmostEqual(whole, two)
        self.assertGreater(bored, whole + 40)


if __name__ == "__main__":
    unittest.main()
