"""Two laminae: the line they share, the bevel, and what hides what, against plain algebra and against rays."""

from __future__ import annotations

import random
from collections.abc import Iterator
from typing import Any

import numpy as np

from tests.test_catalogue import Checked
from tests.test_space import ANGLES, by_name, positions, vectors
from wise_compass.drafting.figure import Figure, make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.hidden import hidden_pieces, within_triangle

SIDES = ("AB", "BC", "CA", "DE", "EF", "FD")
EYES = {"front": np.array([0.0, 1.0, 0.0]), "top": np.array([0.0, 0.0, 1.0])}


def laminae(count: int, seed: int) -> Iterator[tuple[dict[str, Any], Figure]]:
    """Pairs that can be: of four, five and six corners, on a coarse grid and anywhere."""
    draw = random.Random(seed)
    for givens in positions(figure_named("two-laminae"), count, seed):
        shared = draw.choice((0, 0, 1, 2))
        if shared:
            givens["D"] = givens["A"]
        if shared == 2:
            givens["E"] = givens["C"]
        try:
            yield givens, make(figure_named("two-laminae"), givens)
        except Refused as refusal:
            assert refusal.given in givens, refusal.says


def barycentric(givens: dict[str, Any], letters: str, at: np.ndarray) -> np.ndarray:
    """Weights of a lamina's corners that give a place of its plane."""
    corners = np.array(vectors(givens, letters)).T
    return np.linalg.lstsq(np.vstack([corners, [1.0, 1.0, 1.0]]), np.append(at, 1.0), rcond=None)[0]


def covers(givens: dict[str, Any], letters: str, at: np.ndarray, eye: np.ndarray, room: float) -> int:
    """1 where a ray from ``at`` to the eye goes through the lamina, 0 where it passes by, −1 where that is too near to
    tell."""
    a, b, c = vectors(givens, letters)
    matrix = np.array([b - a, c - a, -eye]).T
    if abs(np.linalg.det(matrix)) < 1e-6 * np.linalg.norm(b - a) * np.linalg.norm(c - a):
        return 0
    u, v, t = np.linalg.solve(matrix, at - a)
    least = min(u, v, 1 - u - v)
    if abs(least) < room or abs(t) < 1e-3:
        return -1
    return int(least > 0 and t > 0)


class TwoLaminae(Checked):
    def test_every_position_is_proved_by_every_method_in_both_angles(self) -> None:
        proved = 0
        for givens, figure in laminae(70, 3):
            for method in type(figure).methods.values():
                for angle in ANGLES:
                    with self.subTest(method=method.id, angle=angle, givens=givens):
                        if method.fits(figure) is not None:
                            self.assertEqual(
                                method.id, "cutting-planes"
                            )  # level cuts always serve, as the others are cuts too
                            continue
                        made = run(figure, method.id, Conventions(angle))
                        self.check_run(made)
                        values = by_name(made)
                        for name, measured in made.measured.items():
                            self.assertAlmostEqual(float(measured), values[name], delta=1e-6, msg=name)
                        proved += 1
        self.assertGreater(proved, 150)

    def test_an_edge_that_lies_in_a_lamina_on_edge_in_both_views_ends_at_the_sides_that_cross_it(self) -> None:
        draw = random.Random(5)
        proved = 0
        for n in range(40):
            x = float(draw.randint(-20, 20))
            givens = {letter: tuple(float(draw.randint(-90, 150)) for _ in range(3)) for letter in "ABCDEF"}
            flat = "ABC" + ("DF", "DE", "EF")[n % 3]
            givens |= {letter: (x, *givens[letter][1:]) for letter in flat}
            try:
                figure = make(figure_named("two-laminae"), givens)
            except Refused:
                continue
            for method in type(figure).methods.values():
                if method.fits(figure) is None:
                    self.check_run(run(figure, method.id))
                    proved += 1
        self.assertGreater(proved, 60)

    def test_angle_and_common_part_by_plain_algebra(self) -> None:
        reached = 0
        for givens, figure in laminae(80, 8):
            values = {value.name: value.value for value in figure.values("level-cuts")}
            normals = [np.cross(q - p, r - p) for p, q, r in (vectors(givens, "ABC"), vectors(givens, "DEF"))]
            n, m = (one / np.linalg.norm(one) for one in normals)
            sine, cosine = np.linalg.norm(np.cross(n, m)), abs(n @ m)
            self.assertAlmostEqual(values["dihedral_acute"], np.degrees(np.arctan2(sine, cosine)), delta=1e-9)
            self.assertAlmostEqual(values["dihedral_acute"] + values["dihedral_obtuse"], 180.0, delta=1e-9)
            way = np.cross(n, m) / sine
            start = np.linalg.lstsq(np.array([n, m]), np.array([n @ givens["A"], m @ givens["D"]]), rcond=None)[0]
            low, high = -1e9, 1e9
            for letters in ("ABC", "DEF"):
                at, further = (barycentric(givens, letters, start + way * t) for t in (0.0, 1.0))
                for weight, slope in zip(at, further - at):
                    if abs(slope) > 1e-9:
                        low, high = (
                            (max(low, -weight / slope), high) if slope > 0 else (low, min(high, -weight / slope))
                        )
                    elif weight < -1e-9:
                        high = -1e9
            self.assertAlmostEqual(values["common_length"], max(high - low, 0.0), delta=1e-6, msg=str(givens))
            reached += values["common_length"] > 0
        self.assertGreater(reached, 25)

    def test_what_is_hidden_agrees_with_rays(self) -> None:
        hidden = 0
        for givens, figure in laminae(60, 5):
            told = {value.name: value.value for value in figure.values("level-cuts")}["visibility"]
            for view, pieces in zip(("front", "top"), told, strict=True):
                for side in SIDES:
                    a, b = vectors(givens, side)
                    size = float(np.linalg.norm(b - a))
                    spans = [(low, high) for name, low, high in pieces if name == side]
                    for t in (np.arange(23) + 0.37) / 23:
                        ray = covers(givens, "DEF" if side[0] in "ABC" else "ABC", a + (b - a) * t, EYES[view], 1e-3)
                        if ray >= 0 and all(
                            min(abs(t * size - low), abs(t * size - high)) > 1e-2 for low, high in spans
                        ):
                            inside = any(low < t * size < high for low, high in spans)
                            self.assertEqual(inside, ray == 1, f"{view} {side} at {t}: {givens}")
                            hidden += ray
        self.assertGreater(hidden, 400)

    def lengths(self, made: Run, role: Role, view: str) -> float:
        """How much is lined in with this role in a view, by where the marks stand."""
        middle = {"front": 1.0, "top": -1.0}[view]
        courses = [mark.course() for mark in made.marks if isinstance(mark, CurveMark) and mark.role is role]
        mine = [course for course in courses if course[:, 1].mean() * middle > 0]
        return float(sum(np.linalg.norm(np.diff(course, axis=0), axis=1).sum() for course in mine))

    def test_hidden_pieces_are_drawn_hidden(self) -> None:
        made = run(figure_named("two-laminae")())
        figure, told = made.figure, by_name(made)["visibility"]
        for view, pieces, axes in (("front", told[0], [0, 2]), ("top", told[1], [0, 1])):
            expected = 0.0
            for side, low, high in pieces:
                a, b = (np.array(figure.given_values[letter], dtype=float) for letter in side)
                expected += (high - low) * float(np.linalg.norm((b - a)[axes])) / float(np.linalg.norm(b - a))
            self.assertGreater(expected, 20.0)
            self.assertAlmostEqual(self.lengths(made, Role.HIDDEN, view), expected, delta=1e-6, msg=view)

    def test_a_line_is_hidden_where_the_plane_lies_nearer(self) -> None:
        """The part of AB behind the lamina that shows the plane, in a position of each kind, against rays."""
        kind, hidden = figure_named("line-meets-plane"), 0
        for givens in positions(kind, 40, 21):
            try:
                made = run(make(kind, givens))
            except Refused:
                continue
            a, b = vectors(givens, "AB")
            for view, eye in EYES.items():
                k = [0, 2] if view == "front" else [0, 1]
                plane = {letter: givens[old] for letter, old in zip("ABC", "CDE")}
                rays = [covers(plane, "ABC", a + (b - a) * t, eye, 1e-6) for t in (np.arange(400) + 0.5) / 400]
                expected = rays.count(1) / 400 * float(np.linalg.norm((b - a)[k]))
                drawn = [
                    mark.course()
                    for mark in made.marks
                    if isinstance(mark, CurveMark) and mark.role is Role.HIDDEN and self.in_view(made, mark, view)
                ]
                long = float(sum(np.linalg.norm(course[-1] - course[0]) for course in drawn))
                self.assertAlmostEqual(
                    long, expected, delta=float(np.linalg.norm(b - a)) / 100 + 0.1, msg=f"{view} {givens}"
                )
                hidden += expected > 1
        self.assertGreater(hidden, 8)

    def in_view(self, made: Run, mark: CurveMark, view: str) -> bool:
        """Whether a mark's ends stand on the line of AB in a view."""
        a, b = (made.spots[f"{letter}.{view}"].here for letter in "AB")
        size = float(np.linalg.norm(b - a))
        way, off = (b - a) / max(size, 1e-9), mark.course() - a
        along = off @ way
        return bool(
            (along >= -1e-6).all() and (along <= size + 1e-6).all() and np.abs(off - np.outer(along, way)).max() < 1e-6
        )

    def test_shared_corners_save_cuts(self) -> None:
        kind = figure_named("two-laminae")
        five = {"A": (4, 11.5, 47), "B": (69.3, 58, 8.6), "C": (97, 9.4, 51), "D": (4, 11.5, 47), "E": (93.5, 62, 58.2)}
        four = {"A": (13.7, 22.6, 71.2), "B": (79.4, 64.8, 17.3), "C": (98.6, 5.9, 43.1), "D": (13.7, 22.6, 71.2)}
        phases = [
            [title for title, _ in run(make(kind, givens)).phases]
            for givens in ({}, {**five, "F": (61, 3.7, 2.9)}, {**four, "E": (98.6, 5.9, 43.1), "F": (58.2, 12.7, 1.4)})
        ]
        self.assertEqual([sum(title.startswith("Cut") for title in titles) for titles in phases], [2, 1, 0])

    def test_laminae_that_do_not_reach_each_other_have_an_angle_and_no_common_part(self) -> None:
        apart = {"D": (200, 50, 47), "E": (266, 58, 55), "F": (233, 4, 6)}
        for method in figure_named("two-laminae").methods:
            made = run(make(figure_named("two-laminae"), apart), method)
            self.check_run(made)
            self.assertEqual(by_name(made)["common_length"], 0.0)
            self.assertEqual(by_name(made)["visibility"], [[], []])

    def test_unsteady_hands_scatter_the_angle(self) -> None:
        hands = run_hands(figure_named("two-laminae")(), "level-cuts", 400)
        spread = {value.name: value for value in hands.values}["dihedral_acute"]
        self.assertGreater(spread.sd, 0.05)
        self.assertLess(spread.sd, 5.0)

    def test_refusals_name_the_point(self) -> None:
        kind = figure_named("two-laminae")
        for givens, given, words in (
            ({"B": (8, 14, 52)}, "B", "Move B"),
            ({"A": (0, 0, 0), "B": (20, 20, 20), "C": (40, 40, 40)}, "C", "one line"),
            ({"D": (8, 14, 62), "E": (66, 61, 22), "F": (92, 10, 50)}, "F", "parallel"),
            ({"D": (8, 14, 52), "E": (66, 61, 12), "F": (92, 10, 40)}, "F", "they are one"),
            ({"D": (37, 37.5, 32), "E": (66, 61, 12), "F": (92, 10, 40)}, "F", "one plane"),
        ):
            with self.subTest(givens=givens), self.assertRaises(Refused) as raised:
                make(kind, givens)
            self.assertEqual(raised.exception.given, given)
            self.assertIn(words, raised.exception.says)

    def test_a_triangle_on_edge_hides_nothing_and_a_line_past_it_is_not_inside(self) -> None:
        wall = np.array([[0.0, 5, 0], [4, 5, 0], [2, 5, 4]])
        behind = np.array([-2.0, 0, 1]), np.array([6.0, 0, 1])
        self.assertEqual(hidden_pieces(*behind, wall, np.array([1.0, 0, 0]), 1e-9), [])
        self.assertEqual(hidden_pieces(*(end + (0, 9, 0) for end in behind), wall, EYES["front"], 1e-9), [])
        ((low, high),) = hidden_pieces(*behind, wall, EYES["front"], 1e-9)
        np.testing.assert_allclose([low, high], [0.3125, 0.6875], atol=1e-12)
        self.assertIsNone(within_triangle(np.array([0.0, 5, 9]), np.array([1.0, 0, 0]), wall))
        self.assertEqual(within_triangle(np.array([0.0, 5, 4]), np.array([1.0, 0, 0]), wall), (2.0, 2.0))
