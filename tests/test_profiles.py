"""Profiles of lines and arcs: made from solutions and read back, held to the figures they include, refused by row."""

from __future__ import annotations

import math
import re
import unittest
from typing import Any

import numpy as np

from tests.drawn import profile_at_random
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.row_edits import with_cell
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.figures.plane.profile_offers import off, offer_of
from wise_compass.figures.plane.profile_rows import resolved
from wise_compass.figures.plane.profiles import Piece, TangentProfile
from wise_compass.geometry.touching import Round, Straight
from wise_compass.outputs.cutting import points_csv
from wise_compass.shop.parts import cuts_of
from wise_compass.shop.shop import Shop
from wise_compass.shop.wish import ShopWish


def made(rows: Any, path: Any, ends: str = "closed") -> TangentProfile:
    figure = make(catalogue()["tangent-profile"], {"rows": rows, "path": path, "ends": ends})
    assert isinstance(figure, TangentProfile)
    return figure


def told(figure: Any, method: str = "offsets") -> dict[str, Any]:
    return {value.name: value.value for value in figure.values(method)}


def run_along(piece: Piece, places: int) -> np.ndarray:
    """Places of a piece, by its definition alone: on its circle, turned its way."""
    t = np.linspace(0.0, 1.0, places)[:, None]
    if isinstance(piece.thing, Straight):
        return piece.start + t * (piece.end - piece.start)
    out = piece.start - piece.thing.centre
    turned = np.radians(piece.sweep or 0.0) * np.sign(piece.thing.rho) * t
    x, y = np.cos(turned), np.sin(turned)
    return piece.thing.centre + np.hstack([out[0] * x - out[1] * y, out[0] * y + out[1] * x])


class Outlines(unittest.TestCase):
    def test_profiles_of_up_to_24_rows_run_on_without_a_kink(self) -> None:
        """From a solution: every part begins where the last ends and as it heads there, and length and area are those
        of a polygon with very many corners."""
        for seed in range(40):
            ends = ("closed", "open")[seed % 2]
            figure = made(*profile_at_random(seed, ends), ends)
            courses = [run_along(piece, 20001) for piece in figure.pieces if piece.length > 1e-6]
            for k, (one, other) in enumerate(zip(courses, courses[1:])):
                self.assertLess(float(np.abs(one[-1] - other[0]).max()), 1e-9, (seed, k))
                before, after = one[-1] - one[-2], other[1] - other[0]
                turn = math.degrees(math.atan2(before[0] * after[1] - before[1] * after[0], float(before @ after)))
                self.assertLess(abs(turn), 0.05, (seed, k))
            whole = np.vstack(courses)
            values = told(figure)
            self.assertAlmostEqual(np.hypot(*np.diff(whole, axis=0).T).sum() / values["length"], 1.0, 6)
            if ends == "open":
                self.assertIsNone(values["area"])
                continue
            x, y = whole.T
            self.assertAlmostEqual(abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2 / values["area"], 1.0, 5)

    def test_a_chain_of_tangent_arcs_is_a_profile(self) -> None:
        chain = make(catalogue()["tangent-chain"], {})
        corners = chain.given_values["corners"]
        rows: list[list[Any]] = [["line", f"L{k}", *p, *q] for k, (p, q) in enumerate(zip(corners, corners[1:]))]
        path = ["L0"]
        for k, (radius,) in enumerate(chain.given_values["radii"]):
            (ax, ay), (bx, by), (cx, cy) = corners[k : k + 3]
            left = (bx - ax) * (cy - by) > (by - ay) * (cx - bx)
            rows.append(["arc", f"F{k}", radius, "left" if left else "right", f"L{k}", f"L{k + 1}"])
            path += [f"F{k}", f"L{k + 1}"]
        profile, known = told(made(rows, path, "open")), told(chain, "swung-arcs")
        self.assertAlmostEqual(profile["length"], known["developed_length"], 9)
        np.testing.assert_allclose(profile["touches"], known["tangent_points"], atol=1e-9)

    def test_an_arc_between_two_circles_is_a_row(self) -> None:
        """Outside both, holding both, and one of each: a turn told each circle says which."""
        kind = catalogue()["arc-two-circles"]
        for one in ("outside", "inside"):
            for other in ("outside", "inside"):
                radius = 90 if "inside" in (one, other) else 21
                known = told(make(kind, {"contact_1": one, "contact_2": other, "radius": radius}))
                turns = ["left" if contact == "inside" else "right" for contact in (one, other)]
                rows = [
                    ["circle", "A", 0, 0, 24, turns[0]],
                    ["circle", "B", 66, 0, 15, turns[1]],
                    ["arc", "F", radius, "left", "A", "B", "left"],
                    ["tangent", "S", "B", "A"],
                ]
                centre = told(made(rows, ["A", "F", "B", "S"]))["centres"][1]
                self.assertAlmostEqual(centre[0], known["along"], 9)
                self.assertAlmostEqual(abs(centre[1]), known["off"], 9)

    def test_an_arc_between_a_line_and_a_circle_is_a_row(self) -> None:
        known = make(catalogue()["arc-line-circle"], {})
        values = told(known)
        given = known.given_values
        low = -given["line_distance"]
        rows = [
            ["circle", "A", 0, 0, given["circle_radius"], "right"],
            ["line", "L", -100, low, 100, low],
            ["arc", "F", given["radius"], "left", "L", "A", "on"],
            ["on", "E", "A", 90],
        ]
        centre = told(made(rows, ["L", "F", "A", "E"], "open"))["centres"][1]
        self.assertAlmostEqual(centre[0], values["along"], 9)

    def test_a_tangent_is_one_of_the_common_tangents(self) -> None:
        known = make(catalogue()["common-tangents"], {})
        r1, r2, apart = (known.given_values[name] for name in ("radius_1", "radius_2", "distance"))
        rows = [
            ["circle", "A", 0, 0, r1, "left"],
            ["circle", "B", apart, 0, r2, "left"],
            ["tangent", "S", "A", "B"],
            ["tangent", "U", "B", "A"],
        ]
        lengths = told(made(rows, ["A", "S", "B", "U"]))["lengths"]
        self.assertAlmostEqual(lengths[1], math.sqrt(apart**2 - (r1 - r2) ** 2), 9)
        self.assertIn(round(lengths[1], 9), [round(x, 9) for x in told(known).values() if isinstance(x, float)])


HALF = (
    ("circle", "A", 0, 0, 30, "left"),
    ("circle", "B", 0, 90, 12, "left"),
    ("circle", "C", 44, 40, 10, "left"),
    ("circle", "H", 44, 40, 5, "left"),
    ("line", "X", 0, -40, 0, 100),
    ("arc", "F", 25, "right", "A", "C", "right"),
    ("tangent", "S", "C", "B"),
)


class MirroredHalves(unittest.TestCase):
    def test_a_half_in_one_row_is_the_whole_written_out(self) -> None:
        """The other half by rows of its own, turned about by hand: the same touches, and holes on both sides."""
        half = made((*HALF, ("mirror", "M", "X")), ("A", "F", "C", "S", "B", "M"))
        whole = made(
            (
                *HALF,
                ("circle", "D", -44, 40, 10, "left"),
                ("arc", "G", 25, "right", "D", "A", "right"),
                ("tangent", "U", "B", "D"),
            ),
            ("A", "F", "C", "S", "B", "U", "D", "G"),
        )
        mine, known = told(half), told(whole)
        for name in ("radii", "lengths", "sweeps", "touches", "centres"):
            for one, other in zip(mine[name], known[name], strict=True):
                if other is not None:
                    np.testing.assert_allclose(one, other, atol=1e-9)
        self.assertAlmostEqual(mine["area"], known["area"], 8)
        _, *holes = cuts_of(run(half))
        self.assertEqual(len(holes), 2)
        drawn = run(half)
        self.assertTrue(all(proof.holds for proof in drawn.proofs))
        for k, at in enumerate(known["touches"], 1):
            np.testing.assert_allclose(drawn.spots[f"T{k}"].here, at, atol=1e-9)

    def test_on_a_slanting_axis_a_half_meets_its_image_at_a_corner(self) -> None:
        rows = (
            ("line", "X", 0, 0, 60, 80),
            ("line", "L", 10, -40, 90, 20),
            ("cross", "P", "X", "L"),
            ("circle", "C", 110, 60, 20, "left"),
            ("tangent", "S", "P", "C"),
            ("on", "E", "X", 150),
            ("tangent", "U", "C", "E"),
            ("mirror", "M", "X"),
        )
        figure = made(rows, ("P", "S", "C", "U", "E", "M"))
        self.assertEqual(figure.names, ("P", "S", "C", "U", "E", "Um", "Cm", "Sm"))
        u = np.array([0.6, 0.8])
        touches, n = [np.array(at) for at in told(figure)["touches"]], 8
        for k in range(n):
            image = 2 * (touches[k] @ u) * u - touches[k]
            self.assertLess(min(float(np.hypot(*(image - at))) for at in touches), 1e-9)

    def test_what_it_cannot_be_is_said(self) -> None:
        for rows, path, says in (
            ((*HALF, ("mirror", "M", "C")), ("A", "F", "C", "S", "B", "M"), "is no line to mirror in"),
            ((*HALF, ("mirror", "M", "X")), ("A", "M", "F", "C"), "Name it last"),
            ((*HALF, ("circle", "Am", 0, 0, 3, "left"), ("mirror", "M", "C")), ("A", "M"), "is no line"),
            ((*HALF, ("circle", "Cm", 0, 0, 3, "left"), ("mirror", "M", "X")), ("A", "M"), "is a row already"),
        ):
            with self.subTest(says=says), self.assertRaisesRegex(Refused, says):
                made(rows, path)


class OfferedArcs(unittest.TestCase):
    def test_every_arc_that_is_offered_serves_when_its_words_are_typed(self) -> None:
        """And its loci cross in its centre."""
        tried = 0
        for seed in range(60):
            rows, path = profile_at_random(seed, "open")
            figure = make(catalogue()["tangent-profile"], {"rows": rows, "path": path, "ends": "open"})
            held = figure.given_values["rows"]
            for k, row in enumerate(held):
                offer = offer_of(held, k)
                if offer is None:
                    continue
                self.assertEqual(sum(one.chosen for one in offer.served), 1, row)
                for one in offer.served:
                    tried += 1
                    cells = [str(part) for part in row]
                    for what, word in one.words.items():
                        cells = with_cell(cells, what, word)
                    found = resolved((*held[:k], _row(cells)))
                    thing = found[row[1]]
                    assert isinstance(thing, Round)
                    np.testing.assert_allclose(thing.centre, one.ring.centre, atol=1e-9)
                    course = one.course(9)
                    np.testing.assert_allclose(np.hypot(*(course - one.ring.centre).T), abs(one.ring.rho), atol=1e-7)
                chosen = next(one for one in offer.served if one.chosen)
                for line in offer.loci:
                    self.assertLess(off(line, chosen.ring.centre), 1e-6)
        self.assertGreater(tried, 200)


def _row(cells: list[str]) -> tuple[Any, ...]:
    """Cells of a row with its numbers as such."""
    return tuple(float(x) if re.fullmatch(r"-?[\d.e+-]+", x) else x for x in cells)


class Templets(unittest.TestCase):
    def test_a_profile_is_cut_as_one_closed_path_of_its_area_with_its_holes(self) -> None:
        figure = make(catalogue()["tangent-profile"], {})
        cut, *holes = cuts_of(run(figure))
        self.assertAlmostEqual(cut.area / told(figure)["area"], 1.0, 4)
        self.assertEqual([round(math.sqrt(hole.area / math.pi), 2) for hole in holes], [14.0, 8.0])
        shop = Shop(run(figure), ShopWish())
        self.assertAlmostEqual(shop.takings.area / (told(figure)["area"] - math.pi * (14**2 + 8**2)), 1.0, 4)
        table = points_csv(shop).splitlines()
        self.assertEqual(sum(line.startswith("The profile") for line in table), 4)
        self.assertGreater(sum(line.startswith("Hole") for line in table), 60)

    def test_the_stones_of_an_arch_fill_it(self) -> None:
        """Their areas together are those of the rings that the arcs sweep, with touches inside stones and in joints."""
        for givens in (
            {"kind": "round", "stones": 9},
            {"kind": "three-centred", "stones": 13},
            {"kind": "three-centred", "stones": 12},
            {"kind": "five-centred", "stones": 21},
            {"kind": "rampant", "step": 24, "stones": 7},
        ):
            figure = make(catalogue()["arch"], givens)
            cuts = cuts_of(run(figure))
            deep, stones = figure.given_values["thickness"], figure.given_values["stones"]
            values = told(figure, "arcs")
            rings = sum(
                math.radians(sweep) * ((radius + deep) ** 2 - radius**2) / 2
                for radius, sweep in zip(values["radii"], values["sweeps"])
            )
            rib = cuts.pop()
            self.assertAlmostEqual(rib.area / values["area"], 1.0, 3)
            self.assertEqual(sum(cut.copies for cut in cuts), stones, givens)
            self.assertAlmostEqual(sum(cut.area * cut.copies for cut in cuts) / rings, 1.0, 4, str(givens))

    def test_the_stones_of_a_sharp_arch_fill_it_to_where_its_backs_meet(self) -> None:
        """Between the curve and a curve a stone's depth out, both as chains of very many chords up to the axis."""
        for kind, rise, deep in (("pointed", 90, 14), ("four-centred", 50, 14), ("ogee", 90, 2)):
            for stones in (8, 9, 13):
                figure = make(catalogue()["arch"], {"kind": kind, "rise": rise, "stones": stones, "thickness": deep})
                values = told(figure, "arcs")
                half = len(values["radii"]) // 2
                curves: list[list[np.ndarray]] = [[], []]
                for k in range(half):
                    centre, radius = np.array(values["centres"][k]), values["radii"][k]
                    hollow = kind == "ogee" and k == half - 1
                    start = [-60.0, 0.0] if k == 0 else values["touches"][k - 1]
                    first = math.atan2(start[1] - centre[1], start[0] - centre[0])
                    for chain, reach in zip(curves, (radius, radius + (-deep if hollow else deep))):
                        turn = math.radians(values["sweeps"][k])
                        if k == half - 1:
                            turn = abs(math.acos(-centre[0] / reach) - abs(first))
                        t = first + np.linspace(0.0, turn if hollow else -turn, 40001)
                        chain.append(centre + reach * np.stack([np.cos(t), np.sin(t)], axis=-1))
                inner, outer = (np.vstack(chain) for chain in curves)
                self.assertLess(abs(inner[-1][0]) + abs(inner[-1][1] - rise), 1e-6)
                around = np.vstack([inner, outer[::-1]])
                x, y = around.T
                ring = abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)))
                *cuts, _ = cuts_of(run(figure))
                self.assertEqual(sum(cut.copies for cut in cuts), stones)
                self.assertAlmostEqual(sum(cut.area * cut.copies for cut in cuts) / ring, 1.0, 3, (kind, stones))

    def test_a_moulding_is_a_templet_of_its_area(self) -> None:
        none = 0
        for kind in ("ovolo", "cavetto", "cyma-recta", "cyma-reversa", "scotia"):
            for projection in (0, 20, 48):
                for angle in (60, 90, 150):
                    givens = {"kind": kind, "projection": projection, "arc_angle": angle}
                    drawn = run(make(catalogue()["moulding"], givens))
                    cuts = cuts_of(drawn)
                    if not cuts:
                        none += 1
                        continue
                    (cut,) = cuts
                    self.assertAlmostEqual(cut.area / told(drawn.figure, "arcs")["area"], 1.0, 3, str(givens))
        self.assertLess(none, 25)
        self.assertEqual(cuts_of(run(make(catalogue()["moulding"], {"kind": "cavetto", "projection": 0}))), [])


class RefusedRows(unittest.TestCase):
    """Each refusal names its given and row, and what it advises is taken."""

    ROWS: tuple[tuple[Any, ...], ...] = (
        ("circle", "A", 0, 0, 24, "left"),
        ("circle", "B", 92, 0, 14, "left"),
        ("tangent", "S", "A", "B"),
    )

    def refused(self, rows: Any, path: Any = ("A", "S", "B"), ends: str = "closed") -> str:
        with self.assertRaises(Refused) as caught:
            made(rows, path, ends)
        self.assertIn(caught.exception.given, ("rows", "path"))
        return str(caught.exception)

    def test_the_radius_that_would_do_does(self) -> None:
        for radius, turn in ((20, "right"), (50, "left")):
            words = self.refused((*self.ROWS, ("arc", "F", radius, turn, "B", "A", turn)), ("A", "S", "B", "F"))
            self.assertIn("Row 4 of rows, F", words)
            would = re.search(r"One of ([\d.]+) mm would do", words)
            assert would is not None
            made((*self.ROWS, ("arc", "F", float(would[1]), turn, "B", "A", turn)), ("A", "S", "B", "F"))

    def test_faults_are_named_by_row(self) -> None:
        arc = ("arc", "F", 60, "right", "B", "A", "right")
        for rows, path, says in (
            ((*self.ROWS, ("arc", "F", 60, "right", "B", "Z", "right")), ("A", "S", "B", "F"), "there is no Z"),
            ((*self.ROWS, ("circle", "A", 1, 1, 5, "left")), ("A", "S", "B"), "there is a row A already"),
            ((*self.ROWS, arc[:-1]), ("A", "S", "B", "F"), "Write left or right"),
            ((*self.ROWS, arc), ("A", "B"), "A and B do not run into each other"),
            ((*self.ROWS, arc), ("A", "S", "B", "Q"), "There is no row Q"),
            ((*self.ROWS, ("ring", "Q", 1, 2)), ("A", "S", "B"), "Row 4 of rows is no “ring”"),
            ((*self.ROWS, ("circle", "Q", 1, 2)), ("A", "S", "B"), "it takes name, x, y, r, left|right"),
        ):
            with self.subTest(says=says):
                self.assertIn(says, self.refused(rows, path))

    def test_a_line_that_would_run_backwards_is_told_with_how_far(self) -> None:
        rows = (
            ("line", "L", 0, 0, 80, 0),
            ("circle", "A", 50, 20, 20, "left"),
            ("circle", "B", 30, 15, 15, "left"),
            ("tangent", "U", "B", "A"),
        )
        self.assertIn("A and B eat each other on L by 20 mm", self.refused(rows, ("L", "B", "U", "A")))


if __name__ == "__main__":
    unittest.main()
