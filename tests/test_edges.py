"""An honest edge: scatter against the hands themselves, and blunders put in on purpose against what is named."""

from __future__ import annotations

import unittest
from unittest import mock

import numpy as np
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.test_desk import APP, DeskCase
from wise_compass.desk.parts.theme import TEAL
from wise_compass.desk.side.edgedialog import EdgeDialog
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import style_of
from wise_compass.job.model import Entry
from wise_compass.study.edges import DISTANCES, HONEST, EdgeOn, Hands, edge_of, ellipses, judge_edge

CASES = (("true-shape", "two-auxiliary-views"), ("point-to-plane", "edge-view"), ("line-meets-plane", "edge-view"))


def made(id: str, method: str) -> Run:
    return run(figure_named(id)(), method)


class Edges(unittest.TestCase):
    def test_an_edge_is_found_where_a_plane_is_one_line(self) -> None:
        for id, method in CASES:
            edge = edge_of(made(id, method))
            assert edge is not None
            spots = np.array([made(id, method).spots[f"{letter}.{edge.view}"].here for letter in edge.letters])
            a, b, c = spots - spots[0]
            self.assertLess(abs(float(np.cross(b, c))), 1e-9 * float(np.linalg.norm(b) * np.linalg.norm(c)) + 1e-9)
        self.assertIsNone(edge_of(run(figure_named("ellipse")())))
        self.assertIsNone(edge_of(run(figure_named("skew-lines")())))

    def test_ellipses_hold_95_hands_in_100(self) -> None:
        """Counted over other hands than those that the ellipses were made from."""
        for id, method in CASES:
            one = made(id, method)
            found = ellipses(Hands(one, count=3000))
            self.assertGreater(len(found), 2)
            with mock.patch("wise_compass.study.edges.lanes_of", _other_hands):
                others = Hands(one, count=3000)
            for ellipse in found:
                off, turn = others.off(ellipse.key), np.deg2rad(ellipse.turn)
                frame = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
                within = (((off @ frame.T) / (ellipse.long, ellipse.short)) ** 2).sum(axis=1) <= 1
                self.assertAlmostEqual(float(within.mean()), 0.95, delta=0.02, msg=ellipse.key)
                self.assertGreaterEqual(ellipse.long, ellipse.short)
                self.assertIn("moves it most", ellipse.says)

    def test_the_scatter_is_that_of_hands(self) -> None:
        one = made("true-shape", "two-auxiliary-views")
        told = {point.name: point.sd for point in run_hands(one.figure, one.method.id, 3000).points}
        for ellipse in ellipses(Hands(one, count=3000)):
            sd = np.sqrt((ellipse.long**2 + ellipse.short**2) / 2) / 2.4477
            self.assertAlmostEqual(sd / told[ellipse.key], 1.0, delta=0.06)

    def test_the_share_of_the_setting_that_moves_a_point_most(self) -> None:
        """What ``hands`` tells of each point, against a least-squares fit of its scatter on all errors."""
        checked = 0
        for id, method in (
            ("triangle-three-sides", "arcs"),
            ("true-shape", "two-auxiliary-views"),
            ("perpendicular", None),
        ):
            one = run(figure_named(id)(), method)
            hands = Hands(one, count=4000)
            for point in run_hands(one.figure, one.method.id, 4000).points:
                off = hands.off(point.name)
                total = float((off * off).mean(axis=0).sum())
                if total < 1e-6:
                    continue
                power: dict[tuple[int, str], float] = {}
                for label, moved in zip(hands.labels, (hands.moved(off) ** 2).sum(axis=1)):
                    power[label[0], label[1]] = power.get((label[0], label[1]), 0.0) + float(moved)
                self.assertAlmostEqual(point.share, max(power.values()) / total, delta=0.06, msg=f"{id} {point.name}")
                self.assertTrue(0.0 < point.share <= 1.0)
                checked += 1
        self.assertGreater(checked, 12)

    def test_a_line_through_all_is_honest_wherever_it_was_drawn(self) -> None:
        one = made("true-shape", "two-auxiliary-views")
        hands, edge = Hands(one), edge_of(one)
        assert edge is not None
        spots = np.array([one.spots[f"{letter}.{edge.view}"].here for letter in edge.letters])
        along = (spots - spots[0]) @ (spots[1] - spots[0]) / np.linalg.norm(spots[1] - spots[0])
        for shift, lean in ((0.0, 0.0), (1.3, 0.0), (-0.4, 0.05)):
            verdict = judge_edge(hands, edge, dict(zip(edge.letters, shift + lean * along)))
            self.assertLess(verdict.out, 1e-9)
            self.assertGreater(verdict.share, 0.99)
            self.assertIn("leave the points", PLAIN.say(verdict.says))

    def test_honest_hands_are_seldom_called_wrong(self) -> None:
        one = made("point-to-plane", "edge-view")
        hands, edge = Hands(one), edge_of(one)
        assert edge is not None
        with mock.patch("wise_compass.study.edges.lanes_of", _other_hands):
            others = Hands(one, count=400)
        u = np.array([one.spots[f"{letter}.{edge.view}"].here for letter in edge.letters[:2]])
        way = (u[1] - u[0]) / np.linalg.norm(u[1] - u[0])
        square = np.array([-way[1], way[0]])
        offs = np.stack([others.off(f"{letter}.{edge.view}") @ square for letter in edge.letters], axis=1)
        wrong = sum(judge_edge(hands, edge, dict(zip(edge.letters, off))).share < HONEST for off in offs[:300])
        self.assertLess(wrong / 300, 2 * HONEST)

    def test_a_distance_taken_wrong_is_named(self) -> None:
        """The distance that lays off a corner in the edge view is put off on purpose: its own step is among the
        first."""
        named = 0
        for id, method in CASES:
            one = made(id, method)
            hands, edge = Hands(one), edge_of(one)
            assert edge is not None
            for letter in edge.letters:
                key = f"{letter}.{edge.view}"
                step = one.spots[key].step
                spots = {name: one.spots[f"{name}.{edge.view}"].here for name in edge.letters}
                ends = max(
                    ((p, q) for p in spots for q in spots), key=lambda pq: np.linalg.norm(spots[pq[0]] - spots[pq[1]])
                )
                way = (spots[ends[1]] - spots[ends[0]]) / np.linalg.norm(spots[ends[1]] - spots[ends[0]])
                assert one.views is not None
                v = next(view.v for view in one.views.auxiliary if view.id == edge.view)
                off = 9.0 * float(v @ np.array([-way[1], way[0]]))
                verdict = judge_edge(hands, edge, {name: off if name == letter else 0.0 for name in edge.letters})
                self.assertLess(verdict.share, HONEST, f"{id} {letter}")
                mine = [cause for cause in verdict.causes if cause.step == step]
                if mine:
                    self.assertAlmostEqual(abs(mine[0].off), 9.0, delta=1.5, msg=f"{id} {letter}")
                    named += 1
                self.assertIn(f"step {verdict.causes[0].step}", PLAIN.say(verdict.says))
        self.assertGreaterEqual(named, 6)

    def test_only_distances_are_sent_back_to(self) -> None:
        one = made("true-shape", "two-auxiliary-views")
        edge = edge_of(one)
        assert edge is not None
        verdict = judge_edge(Hands(one), edge, {"A": 0.0, "B": 0.0, "C": 4.0})
        tools = {one.steps[cause.step - 1].instrument for cause in verdict.causes}
        self.assertLessEqual(tools, {"Rule", "Dividers"})
        self.assertEqual(len(DISTANCES), 3)

    def test_what_is_missing_or_foreign_is_named(self) -> None:
        one = made("true-shape", "two-auxiliary-views")
        hands, edge = Hands(one), EdgeOn("3", ("A", "B", "C"))
        for measured, given in (({"A": 0.0, "B": 0.0}, "C"), ({"A": 0.0, "B": 0.0, "C": 0.0, "Z": 1.0}, "Z")):
            with self.assertRaises(Refused) as raised:
                judge_edge(hands, edge, measured)
            self.assertEqual(raised.exception.given, given)

    def test_scale_puts_it_on_the_paper(self) -> None:
        """At 1:10 the same slip is ten times as much in the field: what is measured on the paper is judged alike."""
        one = made("point-to-plane", "edge-view")
        edge = edge_of(one)
        assert edge is not None
        off = {letter: 1.5 if letter == edge.letters[2] else 0.0 for letter in edge.letters}
        true, small = (judge_edge(Hands(one, scale), edge, off) for scale in (1.0, 0.1))
        self.assertAlmostEqual(small.out, true.out, places=6)
        self.assertAlmostEqual(small.share, true.share, delta=0.03)


def _other_hands(figure: object, method: str, count: int, seed: int, conventions: object, scale: float) -> object:
    from wise_compass.drafting.run import lanes_of

    return lanes_of(figure, method, count, 77, conventions, scale)  # type: ignore[arg-type]


class EdgeDesk(DeskCase):
    def setUp(self) -> None:
        super().setUp()
        kind = figure_named("true-shape")
        entry = Entry(kind.id, "Skylight", "two-auxiliary-views", kind().stored())
        self.session.edit(self.session.job.added(entry, "arch"), "New")
        self.session.select(entry.id)
        self.idle()
        self.window.board.setFocus()

    def teal(self) -> int:
        image = self.window.board.grab().toImage()
        return sum(
            image.pixelColor(x, y).name().upper() == TEAL
            for x in range(image.width())
            for y in range(0, image.height(), 2)
        )

    def test_e_shows_the_scatter_and_hovering_tells_it(self) -> None:
        before = self.teal()
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_E)
        APP.processEvents()
        self.assertTrue(self.session.scatter)
        self.assertGreater(self.teal(), before + 40)
        QTest.mouseMove(self.window.board, QPoint(5, 5))
        QTest.mouseMove(self.window.board, self.shown_at("B.4"))
        APP.processEvents()
        assert self.window.board._hover is not None
        self.assertIn("steady hand stays within", self.window.board._hover[1])
        QTest.keyClick(self.window.board, Qt.Key.Key_E)
        self.assertFalse(self.session.scatter)

    def test_a_figure_without_auxiliary_views_says_so(self) -> None:
        self.session.select("arch")
        self.window.stage.show_scatter()
        self.assertFalse(self.session.scatter)
        self.assertIn("no auxiliary view", self.window.board._said)
        self.window.stage.ask_edge()
        self.assertIn("No plane is seen on edge", self.window.board._said)

    def test_the_dialog_judges_as_it_is_typed(self) -> None:
        edge = edge_of(self.session.run)
        assert edge is not None
        dialog = EdgeDialog(self.window, self.session.settled_hands(), edge, style_of(self.session.job.settings))
        dialog.show()
        self.assertIn("leave the points", dialog.says.text())
        field = dialog.fields["C"]
        field.selectAll()
        QTest.keyClicks(field, "2.4")
        self.assertIn("again first", dialog.says.text())
        self.assertIn("c₃", dialog.says.text())
        field.selectAll()
        QTest.keyClicks(field, "two")
        self.assertTrue(field.property("refused"))
        self.assertEqual(field.text(), "two")
        dialog.close()
