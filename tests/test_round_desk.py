"""Solids through the real window: the solid lifted, its pattern folded with its gap, its true lengths; and what covers
what."""

from __future__ import annotations

import csv
import unittest
from itertools import pairwise

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.test_desk import APP, DeskCase
from tests.waiting import comes
from wise_compass.drafting.capabilities import Face
from wise_compass.drafting.figure import make
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.scene.model import FoldedSheet, Lifted, Model, model_items
from wise_compass.scene.order import Pieces, SeenFaces
from wise_compass.scene.picture import Viewer
from wise_compass.sheet.drawing import Line
from wise_compass.study.lengths import true_lengths


class RoundDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        self.session.select("newel")
        self.idle()
        self.window.board.setFocus()
        self.key(Qt.Key.Key_V)
        self.space = self.window.stage.space

    def key(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        QTest.keyClick(QApplication.focusWidget() or self.window, key, modifier)
        APP.processEvents()

    def moved(self) -> bool:
        return comes(lambda: self.space.place == 1.0)

    def press(self, mode: str) -> None:
        QTest.mouseClick(self.space.choose.buttons[mode], Qt.MouseButton.LeftButton)
        APP.processEvents()

    def shown(self) -> list[Line]:
        self.space.repaint()
        return [item for item in self.space._shown if isinstance(item, Line)]

    def test_g_goes_round_what_there_is(self) -> None:
        seen = [self.space.mode]
        for _ in range(3):
            self.key(Qt.Key.Key_G)
            seen.append(self.space.mode)
        self.assertEqual(seen, ["planes", "solid", "pattern", "planes"])
        self.session.select("branch")
        self.idle()
        self.assertFalse(self.space.choose.buttons["planes"].isVisible())
        self.assertEqual(self.space.mode, "solid")
        self.session.select("corbel")
        self.idle()
        self.assertFalse(self.space.choose.buttons["pattern"].isVisible())
        self.session.select("stay")
        self.idle()
        self.assertEqual(self.space.mode, "planes")
        self.assertFalse(self.space.choose.isVisible())

    def test_what_moves_is_drawn_quickly_and_with_care_at_rest(self) -> None:
        self.session.select("mealpipe")
        self.idle()
        scene = self.space.scene
        assert scene is not None
        for place in (0.1, 0.2, 0.0):
            self.space.fold_to(place)
            self.space.repaint()
            assert scene.model.last is not None
            self.assertTrue(scene.model.last.quick)
        self.assertTrue(comes(lambda: scene.model.last is not None and not scene.model.last.quick))
        careful = [item.points for item in self.space._shown if isinstance(item, Line) and item.layer == "skin"]
        seen = [item.points for item in model_items(scene.model, self.space.eye.basis()) if item.layer == "skin"]
        self.assertEqual(len(careful), len(seen))
        for one, other in zip(careful, seen):
            np.testing.assert_array_equal(one, other)

    def test_f_lifts_the_upper_part_off(self) -> None:
        self.press("solid")
        whole = len(self.shown())
        highest = max(float(item.points[:, 1].max()) for item in self.shown())
        self.key(Qt.Key.Key_F)
        self.assertTrue(self.moved())
        self.assertEqual(self.space.fold.text(), "Set down")
        self.assertGreater(max(float(item.points[:, 1].max()) for item in self.shown()), highest + 10)
        self.assertGreaterEqual(len(self.shown()), whole)
        self.assertIn("cut_face", {item.ink for item in self.shown()})
        self.session.set_given("cut", "none")
        APP.processEvents()
        self.assertFalse(self.space.slider.isVisible(), "nothing to lift")

    def test_the_pattern_folds_and_tells_its_gap(self) -> None:
        self.press("pattern")
        shape = self.space.shape
        assert isinstance(shape, FoldedSheet)
        self.assertLess(shape.gap, 1e-9)
        flat = {item.points.tobytes() for item in self.shown()}
        self.space.slider.setValue(500)
        self.assertAlmostEqual(self.space.moved["pattern"], 0.5)
        self.assertNotEqual({item.points.tobytes() for item in self.shown()}, flat)
        self.key(Qt.Key.Key_F)
        self.assertTrue(comes(lambda: self.space.place in (0.0, 1.0)))
        slips = self.space.slips
        self.assertTrue(slips.isVisible())
        gaps = {}
        for k in range(1, slips.count()):
            slips.setCurrentIndex(k)
            slips.activated.emit(k)
            shape = self.space.shape
            assert isinstance(shape, FoldedSheet)
            gaps[slips.slip] = max(shape.gap, shape.stray)
        self.assertEqual(set(gaps), {choice.id for choice in self.session.run.choices})
        self.assertTrue(all(gap > 1 for gap in gaps.values()), gaps)

    def test_an_edit_folds_the_new_one(self) -> None:
        self.press("pattern")
        before = self.space.shape
        self.session.set_given("sides", "5")
        APP.processEvents()
        self.assertIsNot(self.space.shape, before)
        assert isinstance(self.space.shape, FoldedSheet)
        self.assertEqual(len(self.space.shape.pattern.pieces), 5)

    def test_true_lengths_are_listed_printed_and_saved(self) -> None:
        self.session.select("funnel")
        self.idle()
        self.window.panels.setCurrentIndex(1)
        APP.processEvents()
        cards = [card for card in self.window.panels.values.cards if card.caption.startswith("V B")]
        lines = true_lengths(self.session.run.figure)
        self.assertEqual(len(cards), 7, "twelve elements, five of them twice")
        self.assertIn("V B11 again: keep the compass", {card.note for card in cards})
        bar = self.window.panels.lengths
        assert bar is not None
        self.assertTrue(bar.isVisible())
        bar.on_sheet.click()
        APP.processEvents()
        words = [
            item.words for item in self.session.sheet.drawing.items if item.layer == "table" and hasattr(item, "words")
        ]
        self.assertIn("V B5", words)
        self.session.undo()
        APP.processEvents()
        self.assertFalse(bar.on_sheet.isChecked())
        self.key(Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.session.entry.table["on_sheet"], "the table of its curve, which it has too")
        bar.on_sheet.click()
        self.assertTrue(bar.on_sheet.isChecked())
        bar.save_to(self.folder / "lengths.csv")
        with (self.folder / "lengths.csv").open(encoding="utf-8") as file:
            rows = list(csv.reader(file))
        self.assertEqual(rows[0], ["line", "plan (mm)", "height (mm)", "true length (mm)", "again"])
        self.assertEqual(len(rows), 1 + len(lines))
        for row, one in zip(rows[1:], lines):
            self.assertAlmostEqual(float(row[3]), np.hypot(float(row[1]), float(row[2])), delta=0.02)
            self.assertAlmostEqual(float(row[3]), one.true, delta=0.006)
        self.session.select("arch")
        APP.processEvents()
        self.assertFalse(bar.isVisible())

    def test_a_curved_edge_has_its_curve_panel(self) -> None:
        self.session.select("gutter")
        self.idle()
        panels = self.window.panels
        self.assertTrue(panels.isTabVisible(panels.indexOf(panels.curve)))
        panels.setCurrentWidget(panels.curve)
        APP.processEvents()
        names = [panels._curve.curves.itemText(k) for k in range(panels._curve.curves.count())]
        self.assertEqual(names, ["the true section", "the cut edge of the pattern"])
        self.assertGreater(panels._curve.ordinates.rowCount(), 10)

    def test_a_table_outlives_the_curve_that_it_was_of(self) -> None:
        """A cone whose pattern's edge was tabulated and is drawn no longer shows another curve's table, and refuses
        nothing."""
        self.session.select("gutter")
        self.idle()
        self.session.set_table(by="level", curve=1, on_sheet=True)
        self.assertEqual(len(self.session.run.courses), 2)
        self.session.set_givens({"show": "pattern"})
        self.assertIsNone(self.session.refusal)
        self.assertEqual(len(self.session.run.courses), 1)
        self.assertTrue(any(item.layer == "table" for item in self.session.sheet.drawing.items))
        self.session.set_table(on_sheet=False)
        self.assertFalse(any(item.layer == "table" for item in self.session.sheet.drawing.items))

    def test_transitions_show_their_edges_and_fold(self) -> None:
        for id, edges in (("hopper", 8), ("flue", 8)):
            self.session.select(id)
            self.idle()
            figure = self.session.run.figure
            model = Model(figure.skin())
            sharp = [edge for edge in model.edges if not edge.smooth and np.ptp(edge.ends[:, 2]) > 1]
            self.assertEqual(len(sharp), edges, id)
            self.press("pattern")
            shape = self.space.shape
            assert isinstance(shape, FoldedSheet)
            self.assertLess(max(shape.gap, shape.stray), 1e-9)
        self.session.select("flue-elbow")
        self.idle()
        self.press("pattern")
        assert isinstance(self.space.shape, FoldedSheet)
        self.assertLess(max(self.space.shape.gap, self.space.shape.stray), 1e-9)
        self.session.select("ball")
        self.idle()
        assert isinstance(self.space.shape, FoldedSheet)
        self.assertGreater(self.space.shape.stray, 0.5, "a ball is not developed truly, and it says so")


class Painting(unittest.TestCase):
    """What is painted last at a place is what is nearest there, by rays through the faces."""

    def check(
        self, faces: list[Face], seen: list[bool], basis: np.ndarray, bulges: np.ndarray | None = None, tries: int = 400
    ) -> int:
        """Faces of which ``seen`` tells which are painted; of one number of ``bulges`` none hides another."""
        shown = [face for face, yes in zip(faces, seen) if yes]
        ordered = SeenFaces.of([face.corners for face in shown], basis)
        if bulges is not None:
            ordered.bulges = bulges[np.array(seen)]
        parts = [piece for face in shown for piece in face.filled]
        counts, of = [len(one) for one in parts], [k for k, face in enumerate(shown) for _ in face.filled]
        flats = [part @ basis.T for part in parts]
        ordered.pieces = Pieces(np.concatenate(flats), np.array(counts), np.array(of))
        layers = ordered.layers()
        order, layer_of = [k for layer in layers for k in layer], {k: n for n, mine in enumerate(layers) for k in mine}
        low, high = (np.array([way(flat[:, :2], axis=0) for flat in flats]) for way in (np.min, np.max))
        corners = np.concatenate(flats)
        draw = np.random.default_rng(5)
        checked = 0
        for at in draw.uniform(corners[:, :2].min(axis=0), corners[:, :2].max(axis=0), (tries, 2)):
            near = np.flatnonzero(((low <= at) & (high >= at)).all(axis=1))
            found = ((of[n], self.depth(flats[n], at)) for n in near)
            depths = {k: depth for k, depth in found if depth is not None}
            if len(depths) > 1:
                nearest, second = sorted(depths.values(), reverse=True)[:2]
                if nearest - second > 1e-3:
                    last, before = [k for k in order if k in depths][:-3:-1]
                    self.assertEqual(depths[last], nearest)
                    self.assertLess(layer_of[before], layer_of[last], "of one layer none covers another")
                    checked += 1
        return checked

    def depth(self, flat: np.ndarray, at: np.ndarray) -> float | None:
        """How near a convex face is at a place of the picture; None where it does not cover it well inside."""
        edges = np.roll(flat, -1, axis=0)[:, :2] - flat[:, :2]
        off = edges[:, 0] * (at[1] - flat[:, 1]) - edges[:, 1] * (at[0] - flat[:, 0])
        if not ((off > 1e-6).all() or (off < -1e-6).all()):
            return None
        spokes = flat[1:] - flat[0]
        normal = np.cross(spokes[:-1], spokes[1:]).sum(axis=0)
        return float(flat[0, 2] - (normal[:2] @ (at - flat[0, :2])) / normal[2]) if abs(normal[2]) > 1e-9 else None

    def test_two_cylinders_that_meet(self) -> None:
        checked = 0
        for givens in ({}, {"offset": 10, "branch_diameter": 30, "angle": 40, "branch_length": 120}):
            faces = list(make(catalogue()["meeting-cylinders"], givens).skin())
            for turn, rise in ((30, 25), (-70, 10), (120, 60), (200, -30)):
                basis = Viewer(turn, rise).basis()
                flats = [face.corners @ basis.T for face in faces]
                seen = [
                    float(np.cross(f[1:-1] - f[0], f[2:] - f[0]).sum(axis=0)[2] if len(f) else 0) > 1e-9 for f in flats
                ]
                checked += self.check(faces, seen, basis)
        self.assertGreater(checked, 30)

    def test_faces_of_a_convex_body_are_known_and_no_others(self) -> None:
        """A hole's skin bulges inward; a sphere's and a cone's outward; of a whole prism no face hides another."""
        self.assertEqual(set(Model(make(catalogue()["prism"], {"cut": "none"}).skin()).bulges.tolist()), {1})
        built = make(catalogue()["built-up"], {"rows": "cylinder,0,0,0,40,40,30; hole,10,10,0,20,20,30"})
        model = Model(built.skin())
        middle = np.array([20.0, -20.0])
        for face, bulge in zip(model.faces, model.bulges.tolist()):
            wall = bool(face.round) and float(np.hypot(*(face.corners[:, :2].mean(axis=0) - middle))) > 15.0
            self.assertEqual(bool(bulge), wall)
        self.looked_through("spheres-in-contact", 100, 30)

    def looked_through(self, id: str, tries: int, least: int) -> None:
        """A solid's model from three sides, as the desk has it at rest."""
        model, checked = Model(make(catalogue()[id], {}).skin()), 0
        for turn, rise in ((30, 25), (-70, 10), (120, 60)):
            basis = Viewer(turn, rise).basis()
            facing = SeenFaces(model.every @ basis.T, model.counts).normals[:, 2] > 1e-9
            checked += self.check(model.faces, facing.tolist(), basis, model.bulges, tries)
        self.assertGreater(checked, least, id)

    def test_what_goes_through_another_is_painted_by_what_is_there_of_both(self) -> None:
        """A branch's strip runs on through the main, whose side has a hole for it: each is on both sides of the
        other."""
        for id in ("cone-and-cylinder", "meeting-prisms", "breeches"):
            self.looked_through(id, 250, 10)

    def test_of_strips_only_what_is_there_has_a_contour(self) -> None:
        model = Model(make(catalogue()["cone-and-cylinder"], {}).skin())
        figure = make(catalogue()["cone-and-cylinder"], {})
        axis = figure.branch.axis
        along = [
            edge.ends
            for edge in model.edges
            if edge.smooth and np.allclose(np.cross(*np.diff(edge.ends, axis=0), axis), 0)
        ]
        self.assertGreater(len(along), 20)
        for ends in along:
            for at in ends[0] + np.array([[0.25], [0.5], [0.75]]) * (ends[1] - ends[0]):
                far = np.hypot(*at[:2]) / (1 - at[2] / figure.tall)
                self.assertGreater(far, figure.main_solid.radius * (1 - 0.02), "none runs on inside the cone")

    def test_patterns_half_folded(self) -> None:
        checked = 0
        for id in ("prism", "pyramid", "cylinder", "oblique-cone"):
            figure = make(catalogue()[id], {})
            pattern = figure.pattern(run(figure).found)
            assert pattern is not None
            for share in (0.4, 0.7, 1.0):
                for turn, rise in ((30, 25), (-70, 10), (120, 60)):
                    places = pattern.folded(share)
                    checked += self.check([Face(at) for at in places], [True] * len(places), Viewer(turn, rise).basis())
        self.assertGreater(checked, 500)

    def test_of_a_ball_all_that_is_seen_is_one_layer_and_it_is_painted_tone_by_tone(self) -> None:
        for id, balls in (("sphere-cut", 1), ("spheres-in-contact", 4)):
            model, basis = Model(make(catalogue()[id], {}).skin()), Viewer(30, 25).basis()
            facing = SeenFaces(model.every @ basis.T, model.counts)
            seen = facing.some(facing.normals[:, 2] > 1e-9)
            self.assertLessEqual(len(seen.layers()), balls)
            inks = [item.ink for item in model_items(model, basis)]
            self.assertLess(sum(a != b for a, b in pairwise(inks)), 5 * balls)

    def test_what_is_lifted_looks_the_same_elsewhere(self) -> None:
        model, basis = Model(make(catalogue()["cone"], {}).skin(off=True)), Viewer(30, 25).basis()
        here, lifted = model_items(model, basis), model_items(model, basis, 17.0)
        self.assertEqual([item.ink for item in lifted], [item.ink for item in here])
        for one, other in zip(here, lifted):
            np.testing.assert_allclose(other.points - one.points, np.tile(17.0 * basis[:2, 2], (len(one.points), 1)))
        turned = Viewer(80, 10).basis()
        self.assertFalse(np.allclose(model_items(model, turned)[0].points, here[0].points), "another eye sees anew")

    def test_edges_of_one_round_skin_are_drawn_only_at_its_contour(self) -> None:
        cone = Model(make(catalogue()["cone"], {"cut": "none"}).skin())
        self.assertEqual(sum(edge.smooth for edge in cone.edges), 12)
        pair = Model(make(catalogue()["meeting-cylinders"], {}).skin())
        rim = [edge for edge in pair.edges if {pair.faces[k].round for k in edge.faces} == {1, 2}]
        self.assertGreater(len(rim), 30)
        self.assertFalse(any(edge.smooth for edge in rim), "where they meet is an edge")

    def test_a_whole_solid_has_nothing_to_lift(self) -> None:
        figure = make(catalogue()["prism"], {"cut": "none"})
        self.assertEqual(Lifted(figure.skin(), figure.skin(off=True)).off.faces, [])


if __name__ == "__main__":
    unittest.main()
