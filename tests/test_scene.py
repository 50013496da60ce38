"""The space view: planes that stand where projection has them and fold into the sheet, and what the picture shows."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from tests.test_cli import call
from tests.test_laminae import covers
from wise_compass.drafting.capabilities import InViews, Solid
from wise_compass.drafting.marks import Role
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.job.build import build_sheet
from wise_compass.job.model import Entry, Job, SheetPlan, from_data, to_data
from wise_compass.scene.picture import Shown, Viewer, extent, inset, picture
from wise_compass.scene.scene import Scene
from wise_compass.sheet.bounds import bounds
from wise_compass.sheet.drawing import Line, Text
from wise_compass.sheet.free import free_box
from wise_compass.sheet.lettering import text_width
from wise_compass.sheet.paper import Paper

TIGHT = 1e-9


def in_views() -> Iterator[Run]:
    """Every method that draws views, in both angles."""
    for kind in catalogue().values():
        for method in kind.methods.values():
            if issubclass(kind, InViews) and method.fits(kind()) is None:
                for angle in ("first", "third"):
                    yield run(kind(), method.id, Conventions(angle))


class Planes(unittest.TestCase):
    def test_standing_planes_hold_each_view_where_its_projectors_meet_it(self) -> None:
        draw = np.random.default_rng(4)
        for made in in_views():
            assert made.views is not None
            scene = Scene(made)
            for view in scene.order:
                frame = scene.frames(0.0)[view.id]
                places = draw.uniform(-80, 120, (12, 3))
                off = places - frame.at(view.at(places))
                square = np.abs(off @ np.array([frame.x, frame.y]).T).max()
                self.assertLess(square, TIGHT, f"{made.figure.id} {view.id}: the projector is not square to its plane")
                np.testing.assert_allclose(np.cross(frame.y, frame.x), frame.near, atol=1e-12)

    def test_planes_stand_square_to_their_parents_and_meet_them_in_the_fold(self) -> None:
        for made in in_views():
            scene = Scene(made)
            frames = scene.frames(0.0)
            for view in scene.order[1:]:
                assert view.parent is not None
                parent = scene.views.front if view is scene.views.top else view.parent
                self.assertLess(abs(float(frames[view.id].near @ frames[parent.id].near)), 1e-12)

    def test_folded_flat_every_view_lies_where_the_sheet_has_it(self) -> None:
        """The last frame of the fold is the sheet's own layout, point for point."""
        for made in in_views():
            scene = Scene(made)
            shift = -scene.views.front.origin  # where the sheet puts the origin of space
            marks = made.marks
            for item in picture(scene, Viewer(), Shown(1.0, 0, Style(), lettered=False)):
                if item.owner.startswith("#") and isinstance(item, Line):
                    lines = [line for line in marks[int(item.owner[1:])].polylines() if len(line) == len(item.points)]
                    for line in lines:
                        if np.abs(item.points - line - shift).max() < TIGHT:
                            break
                    else:
                        self.assertIs(marks[int(item.owner[1:])].role, Role.PROJECTOR, made.figure.id)

    def test_folding_runs_without_a_jump(self) -> None:
        scene = Scene(run(figure_named("true-shape")()))
        corners = {view.id: scene.glass[k].corners for k, view in enumerate(scene.order)}
        before = scene.frames(0.0)
        for folded in np.linspace(0, 1, 101)[1:]:
            now = scene.frames(float(folded))
            for view, corner in corners.items():
                self.assertLess(np.abs(now[view].at(corner) - before[view].at(corner)).max(), 12.0)
            before = now

    def test_marks_lie_on_the_planes_of_their_views(self) -> None:
        """An outline between keyed spots is on the plane whose key they have; projectors are parted at the fold."""
        for made in in_views():
            scene = Scene(made)
            keyed = {name: spot for name, spot in made.spots.items() if "." in name}
            for one in scene.drawn:
                if one.ink == "outline" and keyed and len(one.points) == 2:
                    homes = [
                        {name.partition(".")[2] for name, spot in keyed.items() if np.abs(spot.here - end).max() < 1e-9}
                        for end in one.points
                    ]
                    if homes[0] & homes[1]:
                        self.assertIn(one.view, homes[0] & homes[1], f"{made.figure.id}: {one.owner}")
            for view, name, at, _ in scene.rays:
                foot = scene.frames(0.0)[view].at(made.spots[f"{name}.{view}"].here)
                frame = scene.frames(0.0)[view]
                self.assertLess(
                    np.abs(np.array([frame.x, frame.y]) @ (at - foot)).max(), 1e-6, f"{made.figure.id} {name}"
                )


class Pictures(unittest.TestCase):
    def test_the_eye_is_a_turn(self) -> None:
        for eye in (Viewer(), Viewer(120, -40), Viewer(0, 89)):
            np.testing.assert_allclose(eye.basis() @ eye.basis().T, np.eye(3), atol=1e-12)
        np.testing.assert_allclose(Viewer(50, 20).gliding(1.0).basis(), [[1, 0, 0], [0, 0, 1], [0, 1, 0]], atol=1e-12)

    def test_every_skin_turns_its_outer_side_to_the_eye(self) -> None:
        """By the volume that its faces hold, reckoned along each axis (Gauss): one face that is turned over parts them.
        Two slopes and a screw's flight hold nothing; a blind hole's floor may be there twice, once as a block's top."""
        looked = 0
        for kind in catalogue().values():
            for method in kind.methods.values():
                if not issubclass(kind, Solid) or method.fits(kind()) is not None:
                    continue
                if kind.id in ("rafter-cuts", "screw-flight"):
                    continue
                skin = kind().skin(method=method.id)
                held, faces = np.zeros(3), [piece for face in skin for piece in face.pieces or (face.corners,)]
                for face in faces:
                    a, b, c = face[0], face[1:-1], face[2:]
                    held -= (np.cross(b - a, c - a) / 2 * (a + b + c) / 3).sum(axis=0)
                where = f"{kind.id} by {method.id}: {held}"
                self.assertGreater(float(held.min()), 0.0, where)
                self.assertLess(float(np.ptp(held)), 0.05 * float(held.max()), where)
                looked += 1
        self.assertGreater(looked, 45)

    def test_edges_behind_a_face_are_dashed(self) -> None:
        made = run(figure_named("two-laminae")())
        scene = Scene(made)
        givens = {letter: made.figure.given_values[letter] for letter in "ABCDEF"}
        for eye in (Viewer(), Viewer(60, 40), Viewer(-120, 10)):
            basis = eye.basis()
            dashed = [item for item in picture(scene, eye, Shown(lettered=False)) if item.ink == "body_hidden"]
            for letters, others in (("ABC", "DEF"), ("DEF", "ABC")):
                for p, q in zip(letters, letters[1:] + letters[0]):
                    a, b = (np.array(givens[letter], dtype=float) for letter in (p, q))
                    for t in (np.arange(9) + 0.5) / 9:
                        ray = covers(givens, others, a + (b - a) * t, basis[2], 1e-2)
                        at = basis[:2] @ (a + (b - a) * t)
                        on = any(self.on(item, at) for item in dashed)
                        if ray >= 0:
                            self.assertEqual(on, ray == 1, f"{p}{q} at {t:.2f}")

    def on(self, item: object, at: np.ndarray) -> bool:
        assert isinstance(item, Line)
        a, b = item.points
        t = float((at - a) @ (b - a)) / float((b - a) @ (b - a))
        return 0 <= t <= 1 and float(np.abs(a + (b - a) * t - at).max()) < 1e-6

    def test_a_walk_shows_no_more_than_its_step(self) -> None:
        made = run(figure_named("skew-lines")())
        scene = Scene(made)
        for step in (1, 8, len(made.steps) // 2, len(made.steps)):
            items = picture(scene, Viewer(), Shown(0.0, step))
            self.assertLessEqual(max(item.step for item in items), step)
        self.assertEqual({item.layer for item in picture(scene, Viewer(), Shown(1.0))} & {"body", "ray"}, set())

    def test_clean_leaves_the_construction_away(self) -> None:
        scene = Scene(run(figure_named("lamina")()))
        inks = {item.ink for item in picture(scene, Viewer(), Shown(clean=True))}
        self.assertIn("outline", inks)
        self.assertEqual(inks & {"construction", "projector", "locus"}, set())


class Turnings(unittest.TestCase):
    def test_a_line_turns_level_in_space_as_its_view_swings(self) -> None:
        seen = 0
        for made in in_views():
            scene = Scene(made)
            for turning in scene.turnings.values():
                long = float(np.linalg.norm(turning.moving - turning.fixed))
                start, on_sheet = turning.at(0.0)
                np.testing.assert_allclose(start, turning.moving, atol=1e-9)
                np.testing.assert_allclose(on_sheet, turning.on_sheet[1], atol=1e-9)
                for share in (0.3, 0.7, 1.0):
                    end, on_sheet = turning.at(share)
                    self.assertAlmostEqual(float(np.linalg.norm(end - turning.fixed)), long, delta=1e-9)
                    np.testing.assert_allclose(turning.view.at(end), on_sheet, atol=1e-9)
                self.assertAlmostEqual(float(on_sheet[1]), float(turning.on_sheet[0][1]), delta=1e-9)
                seen += 1
        self.assertEqual(seen, 12)

    def test_the_picture_shows_it_at_its_step_alone(self) -> None:
        scene = Scene(run(figure_named("line-from-views")(), "rotation"))
        step = next(iter(scene.turnings))
        for shown, count in ((Shown(step=step, swing=0.5), 3), (Shown(step=step + 1), 0), (Shown(1.0, step), 0)):
            items = [item for item in picture(scene, Viewer(), shown) if item.layer == "turning"]
            self.assertEqual(len(items), count)


class Letters(unittest.TestCase):
    def over(self, made: Run, eye: Viewer) -> tuple[int, int]:
        """How many letters there are at the size that they have on a screen, and how many pairs of them lie over each
        other."""
        scene = Scene(made)
        low, high = extent(scene, eye, 0.0)
        items = [
            item for item in picture(scene, eye, Shown(), float((high - low).max()) / 54) if isinstance(item, Text)
        ]
        boxes = []
        for item in items:
            wide = text_width(item.words, item.size, item.bold)
            left = float(item.at[0]) - item.anchor * wide
            boxes.append((left, left + wide, float(item.at[1]), float(item.at[1]) + 0.7 * item.size))
        pairs = sum(
            a[0] < b[1] and b[0] < a[1] and a[2] < b[3] and b[2] < a[3] for k, a in enumerate(boxes) for b in boxes[:k]
        )
        return len(items), pairs

    def test_they_stand_clear_of_each_other_where_there_is_room(self) -> None:
        letters = crossed = 0
        for kind in catalogue().values():
            if issubclass(kind, InViews):
                made = run(kind())
                for eye in (Viewer(), Viewer(-60.0, 35.0), Viewer(20.0, 12.0)):
                    here, pairs = self.over(made, eye)
                    if here < 20:
                        self.assertEqual(pairs, 0, f"{kind.id} {eye}")
                    letters, crossed = letters + here, crossed + pairs
        self.assertGreater(letters, 1000)
        self.assertLess(crossed, 0.05 * letters)


class Hatching(unittest.TestCase):
    def test_only_what_is_seen_is_hatched(self) -> None:
        """Against rays: a place of a hatch line is hidden by no other face, and lies in its own."""
        entry = Entry("two-laminae", "Hopper", hatched=True)
        sheet = build_sheet(Job("Wrenfold Mill", (SheetPlan("Hopper", (entry,), "A3"),)), 0)
        lines = [item for item in sheet.drawing.items if item.layer == "hatch"]
        self.assertGreater(len(lines), 40)
        placed = sheet.placed[0]
        made = placed.piece.run
        assert made.views is not None
        givens = {letter: made.figure.given_values[letter] for letter in "ABCDEF"}
        told = 0
        for item in lines:
            assert isinstance(item, Line)
            at = (item.points.mean(axis=0) - placed.origin) / sheet.scale
            view = made.views.front if at[1] > 0 else made.views.top
            eye = np.array([0.0, 1.0, 0.0]) if view is made.views.front else np.array([0.0, 0.0, 1.0])
            near = float(at[0]) * view.across + float((at - view.origin) @ view.v) * view.away + 1e4 * eye
            depths = {}
            for letters in ("ABC", "DEF"):
                a, b, c = (np.array(givens[letter], dtype=float) for letter in letters)
                u, v, t = np.linalg.solve(np.array([b - a, c - a, eye]).T, near - a)
                if min(u, v, 1 - u - v) > 1e-6:
                    depths[letters] = -t
            self.assertTrue(depths, "a hatch line outside both laminae")
            way = float(np.degrees(np.arctan2(*(item.points[1] - item.points[0])[::-1]))) % 180
            mine = "ABC" if abs(way - 45) < 1 else "DEF"
            self.assertEqual(max(depths, key=lambda letters: depths[letters]), mine)
            told += 1
        self.assertGreater(told, 40)


class OnTheSheet(unittest.TestCase):
    def sheet(self, figure: str, paper: str, space: bool = True) -> object:
        entry = Entry(figure, "Hopper", space=space)
        return build_sheet(Job("Wrenfold Mill", (SheetPlan("Hopper", (entry,), paper),)), 0)

    def test_it_stands_in_a_free_corner(self) -> None:
        sheet = self.sheet("two-laminae", "A3")
        mine = [item for item in sheet.drawing.items if item.layer == "space"]  # type: ignore[attr-defined]
        low, high = bounds(mine)
        left, bottom, right, top = sheet.paper.field  # type: ignore[attr-defined]
        self.assertGreater(high[0] - low[0], 45)
        self.assertTrue((low >= (left, bottom)).all() and (high <= (right + 0.1, top + 0.1)).all())
        for item in sheet.drawing.items:  # type: ignore[attr-defined]
            course = item.polyline()
            if item.layer not in ("space", "frame") and course is not None:
                inside = ((course > low + 1) & (course < high - 1)).all(axis=1)
                self.assertFalse(inside.any(), f"{item.owner} runs through the space view")
        self.assertEqual(sheet.warnings, [])  # type: ignore[attr-defined]

    def test_where_there_is_no_room_the_sheet_says_so(self) -> None:
        sheet = self.sheet("helix", "A4")
        shown = [item for item in sheet.drawing.items if item.layer == "space"]  # type: ignore[attr-defined]
        if not shown:
            self.assertIn("larger paper", " ".join(sheet.warnings))  # type: ignore[attr-defined]
        plain = self.sheet("helix", "A4", space=False)
        self.assertEqual(plain.warnings, [])  # type: ignore[attr-defined]

    def test_free_box_is_free_and_as_large_as_can_be(self) -> None:
        paper = Paper("A4", "landscape")
        left, bottom, right, top = paper.field
        wall = Line("result", 1, "#1", "outline", np.array([[left + 100, bottom], [left + 100, top]]))
        found = free_box([wall], paper, 1.0)
        assert found is not None
        corner, wide = found
        self.assertTrue(corner[0] > left + 100 or corner[0] + wide < left + 100 + 3)
        self.assertGreater(wide, min(right - left - 100, top - bottom) - 9)
        grid = [
            Line("result", 1, "#1", "outline", np.array([[x, bottom], [x, top]])) for x in np.arange(left, right, 2.0)
        ]
        self.assertIsNone(free_box(grid, paper, 1.0))

    def test_the_file_keeps_the_wish_and_the_command_line_takes_it(self) -> None:
        job = Job(
            "Wrenfold Mill", (SheetPlan("S", (Entry("skew-lines", "Stay", space=True), Entry("ellipse", "Arch"))),)
        )
        again = from_data(to_data(job))
        self.assertEqual([entry.space for entry in again.entries()], [True, False])
        with tempfile.TemporaryDirectory() as folder:
            sizes = []
            for extra in ([], ["--space"]):
                out = Path(folder) / f"drawn{len(extra)}.svg"
                status, _, err = call("draw", "two-laminae", "--paper", "A3", "--out", str(out), *extra)
                self.assertEqual(status, 0, err)
                sizes.append(out.read_text("utf-8"))
            self.assertNotIn("horizontal plane", sizes[0])
            self.assertIn("horizontal plane", sizes[1])

    def test_an_inset_is_as_wide_as_it_is_told(self) -> None:
        scene = Scene(run(figure_named("line-from-views")()))
        items = inset(scene, Style(), np.array([30.0, 40.0]), 80.0)
        low, high = bounds([item for item in items if not isinstance(item, Text)])
        self.assertAlmostEqual(float(high[0] - low[0]), 80.0 - 4.4, delta=1e-6)
        self.assertTrue((low >= (30.0, 40.0)).all())
