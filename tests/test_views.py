"""Views as a tree: front and top in both angles and letterings, auxiliary views, and the planes they stand on."""

from __future__ import annotations

import unittest

import numpy as np

from tests.test_words import choices_of
from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import make
from wise_compass.drafting.instruments import UnsteadyHands
from wise_compass.drafting.marks import Spot
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.views import View, Views
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.figures.catalogue import catalogue, figure_named
from wise_compass.geometry.planes import (
    Plane,
    cross3,
    dihedral_angle,
    distance_to_plane,
    foot_on_plane,
    meet_line_plane,
    meet_planes,
    plane_through,
    turned_about,
)
from wise_compass.geometry.vectors import distance
from wise_compass.sheet.compose import compose
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.piece import Piece, Wishes

POINTS = {"A": (5.0, 12.0, 40.0), "B": (62.0, 47.0, 18.0), "C": (30.0, 60.0, 55.0)}


class Board:
    """A few points set out in front and top view, to fold further views off."""

    def __init__(self, projection: str = "first", hands: int = 0) -> None:
        self.d = d = Draft(UnsteadyHands(hands, 2) if hands else None, conventions=Conventions(projection))
        self.views = Views.about_line(d, 60.0, 70.0, 10.0)
        start = d.start_at("X", kind="plain")
        self.views.reference_line(start, -10, 90)
        for letter, (x, y, z) in POINTS.items():
            foot = d.lay_off(self.views.front.fold, start, x, "", kind="plain")  # type: ignore[arg-type]
            projector = d.upright_from(foot)
            for view in (self.views.front, self.views.top):
                d.lay_off(projector, foot, float(view.at(np.array([x, y, z]))[1]), view.key(letter))

    def spot(self, letter: str, view: View) -> Spot:
        return self.views.spot(letter, view)

    def gap(self, view: View, p: str = "A", q: str = "B") -> float:
        return float(distance(self.spot(p, view).here, self.spot(q, view).here))


class Tree(unittest.TestCase):
    def test_a_view_along_a_view_of_a_line_shows_its_true_length(self) -> None:
        true = float(np.linalg.norm(np.subtract(POINTS["B"], POINTS["A"])))
        for projection in ("first", "third"):
            for which in ("top", "front"):
                for side in (1, -1):
                    board = Board(projection)
                    parent = getattr(board.views, which)
                    line = board.d.rule(board.spot("A", parent), board.spot("B", parent))
                    far = board.d.measure_off(board.spot("A", parent), np.array([15.0, 80.0 * side]))
                    view = board.views.fold_off(parent, far, line, "Fold along AB.", side=side)
                    for letter in "AB":
                        board.views.transfer(letter, view)
                    where = f"{projection} {which} {side}"
                    self.assertAlmostEqual(board.gap(view), true, places=9, msg=where)
                    for letter in "AB":
                        expected = view.at(np.array(POINTS[letter]))
                        np.testing.assert_allclose(board.spot(letter, view).here, expected, atol=1e-9, err_msg=where)

    def test_a_second_view_square_to_the_true_length_is_a_point(self) -> None:
        for projection in ("first", "third"):
            for room in (0.0, 9.0):
                board = Board(projection)
                top = board.views.top
                line = board.d.rule(board.spot("A", top), board.spot("B", top))
                far = board.d.measure_off(board.spot("A", top), np.array([-30.0, -60.0]))
                first = board.views.fold_off(top, far, line, "Fold along AB.", side=-1, room=room)
                for letter in POINTS:
                    board.views.transfer(letter, first)
                true = board.d.rule(board.spot("A", first), board.spot("B", first))
                beyond = board.d.measure_off(board.spot("B", first), np.array([40.0, 11.0]))
                second = board.views.fold_off(first, beyond, true, "Fold square to the true length.", square=True)
                for letter in POINTS:
                    board.views.transfer(letter, second)
                self.assertAlmostEqual(board.gap(second), 0.0, places=8)
                a, b, c = (np.array(POINTS[letter]) for letter in "ABC")
                u = (b - a) / np.linalg.norm(b - a)
                off = float(np.linalg.norm((c - a) - ((c - a) @ u) * u))
                self.assertAlmostEqual(
                    board.gap(second, "A", "C"), off, places=8, msg="C stands its distance off the point view"
                )
                self.assertEqual([first.id, second.id], ["3", "4"])

    def test_hands_reach_what_is_transferred(self) -> None:
        board = Board(hands=400)
        top = board.views.top
        line = board.d.rule(board.spot("A", top), board.spot("B", top))
        view = board.views.fold_off(
            top, board.d.measure_off(board.spot("A", top), np.array([0.0, 60.0])), line, "Fold."
        )
        spots = [board.views.transfer(letter, view) for letter in "AB"]
        gaps = distance(spots[0].at, spots[1].at)
        self.assertGreater(float(np.std(gaps[1:])), 0.1)
        self.assertAlmostEqual(float(gaps[0]), float(np.linalg.norm(np.subtract(POINTS["B"], POINTS["A"]))), places=9)

    def test_a_key_is_taken_once(self) -> None:
        board = Board()
        with self.assertRaises(ValueError):
            board.d.in_space("A.top", np.zeros(3))
        board.d.in_space("A", np.zeros(3))
        with self.assertRaises(ValueError):
            board.d.in_space("A", np.zeros(3))


class Lettering(unittest.TestCase):
    def test_both_schools(self) -> None:
        names = ["A.front", "A.top", "B1.front", "C.3", "P12", "Q1.4"]
        self.assertEqual([PLAIN.lettered(name) for name in names], ["a′", "a", "b1′", "c₃", "P12", "q1₄"])
        numbers = Style(lettering="numbers")
        self.assertEqual([numbers.lettered(name) for name in names], ["a₂", "a₁", "b1₂", "c₃", "P12", "q1₄"])

    def test_a_place_of_a_rim_has_no_letter_and_is_told_in_words(self) -> None:
        self.assertEqual(
            PLAIN.lettered("12R0x3 top strays; 4R1x11 is R0x3"),
            "row 12 rim 1 at 3 top strays; row 4 rim 2 at 11 is R0x3",
        )

    def test_values_light_their_spots_under_both_letterings_and_angles(self) -> None:
        for kind in catalogue().values():
            if not issubclass(kind, InViews):
                continue
            for choice in choices_of(kind):
                try:
                    figure = make(kind, choice)
                except Refused:
                    continue
                for projection in ("first", "third"):
                    for lettering in ("primes", "numbers"):
                        made = run(figure, None, Conventions(projection, lettering))
                        for value in made.values:
                            for mark in value.marks:
                                self.assertIn(mark, made.found, f"{kind.id} {projection} {lettering} {value.name}")

    def test_the_sheet_letters_by_the_school(self) -> None:
        made = run(figure_named("line-in-space")())
        for lettering, wanted in (("primes", {"a′", "a", "b′", "b"}), ("numbers", {"a₂", "a₁", "b₂", "b₁"})):
            sheet = compose([Piece(made)], Wishes(style=Style(lettering=lettering)))
            words = {item.words for item in sheet.drawing.items if isinstance(item, Text) and item.layer == "points"}
            self.assertLessEqual(wanted, words)
        sentences = [step.sentence(Style(lettering="numbers")) for step in made.steps]
        self.assertTrue(any(words.endswith("Mark b₂.") for words in sentences), sentences)


class Planes(unittest.TestCase):
    def test_against_plain_algebra(self) -> None:
        random = np.random.default_rng(3)
        a, b, c, p, u = random.normal(size=(5, 200, 3)) * 30
        np.testing.assert_allclose(cross3(u, p), np.cross(u, p))
        plane = plane_through(a, b, c)
        for q in (a, b, c):
            np.testing.assert_allclose(distance_to_plane(q, plane), 0.0, atol=1e-9)
        at = meet_line_plane(p, u, plane)
        np.testing.assert_allclose(distance_to_plane(at, plane), 0.0, atol=1e-6)
        np.testing.assert_allclose(np.cross(at - p, u), 0.0, atol=1e-4)
        base = foot_on_plane(p, plane)
        np.testing.assert_allclose(np.cross(p - base, plane.normal), 0.0, atol=1e-9)
        other = plane_through(b, c, p)
        on, way = meet_planes(plane, other)
        for one in (plane, other):
            np.testing.assert_allclose(distance_to_plane(on + 7 * way, one), 0.0, atol=1e-6)
        cosine = np.abs((plane.normal * other.normal).sum(axis=1))
        np.testing.assert_allclose(
            dihedral_angle(plane, other), np.degrees(np.arccos(np.clip(cosine, 0, 1))), atol=1e-6
        )
        axis = np.array([1.0, 2.0, -0.5])
        turned = turned_about(p, a, axis, 37.0)
        np.testing.assert_allclose(np.linalg.norm(turned - a, axis=1), np.linalg.norm(p - a, axis=1))
        np.testing.assert_allclose((turned - p) @ axis, 0.0, atol=1e-9)
        np.testing.assert_allclose(turned_about(turned, a, axis, -37.0), p, atol=1e-9)

    def test_what_does_not_exist_is_nan_in_its_lane_alone(self) -> None:
        level = Plane(np.array([0.0, 0.0, 1.0]), 3.0)
        ways = np.array([[1.0, 0.0, 0.0], [1.0, 0.0, 1.0]])
        at = meet_line_plane(np.zeros(3), ways, level)
        self.assertTrue(np.isnan(at[0]).all() and np.isfinite(at[1]).all())
        self.assertTrue(np.isnan(plane_through(np.zeros(3), ways[0], 2 * ways[0]).normal).all())
        self.assertTrue(np.isnan(meet_planes(level, level)[0]).all())
