"""Solids built of blocks: what is seen of them against rays, their tables, and their three views."""

from __future__ import annotations

import math
import unittest
from typing import Any

import numpy as np
from scipy.integrate import quad

from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.block_edges import pieces_of
from wise_compass.geometry.block_lines import Eye
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Built, towards

ISO = np.array([[-math.sqrt(0.75), 0.5], [math.sqrt(0.75), 0.5], [0.0, 1.0]])


def told(made: Run) -> dict[str, Any]:
    return {value.name: value.value for value in made.values}


def within(block: Block, p: np.ndarray) -> np.ndarray:
    """Membership worked out anew, shape by shape."""
    u, v, w = ((p[..., k] - block.low[k]) / block.size[k] for k in range(3))
    inside = (u > 0) & (u < 1) & (v > 0) & (v < 1) & (w > 0) & (w < 1)
    shape = block.shape
    if shape == "wedge":
        return np.asarray(inside & (u + v < 1))
    if shape == "ramp":
        return np.asarray(inside & (u + w < 1))
    if shape == "cone":
        return np.asarray(inside & (np.hypot(2 * u - 1, 2 * v - 1) < 1 - w))
    if shape.endswith("front"):
        return np.asarray(inside & (np.hypot(2 * v - 1, 2 * w - 1) < 1))
    if shape.endswith("right"):
        return np.asarray(inside & (np.hypot(2 * u - 1, 2 * w - 1) < 1))
    if shape in ("cylinder", "hole"):
        return np.asarray(inside & (np.hypot(2 * u - 1, 2 * v - 1) < 1))
    return np.asarray(inside)


def matter(built: Built, p: np.ndarray) -> np.ndarray:
    found = np.zeros(p.shape[:-1], dtype=bool)
    for block in built.blocks:
        if not block.is_hole:
            found |= within(block, p)
    for block in built.blocks:
        if block.is_hole:
            found &= ~within(block, p)
    return found


def depths(built: Built, drawn: np.ndarray, pixels: int) -> tuple[np.ndarray, np.ndarray, float]:
    """How far from the eye's plane the first matter is under every pixel of the picture, by marching along rays; NaN
    where there is none."""
    sight = towards(drawn)
    low, high = built.extent
    corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
    flat, along = corners @ drawn, corners @ sight
    start, span = flat.min(axis=0) - 0.02 * np.ptp(flat), float(np.ptp(flat, axis=0).max()) * 1.04
    step = span / pixels
    grid = start + (np.stack(np.meshgrid(np.arange(pixels), np.arange(pixels), indexing="ij"), axis=-1) + 0.5) * step
    inverse = np.linalg.pinv(drawn.T)
    base = grid @ inverse.T
    base = base - (base @ sight)[..., None] * sight + along.max() * 1.001 * sight
    reach = float(along.max() * 1.001 - along.min()) + 1.0
    steps = np.linspace(0.0, reach, 500)
    first = np.full(grid.shape[:2], np.nan)
    for t in steps[::-1]:
        first = np.where(matter(built, base - t * sight), t, first)
    fine = reach / 500
    for _ in range(12):
        fine /= 2
        first = np.where(matter(built, base - (first - fine)[..., None] * sight), first - fine, first)
    return first, start, step


CUT_INTO = {
    "crossing in part": "box,0,0,0,40,30,20; hole,5,10,0,10,10,20; hole-front,0,5,5,40,10,10",
    "three alike in one place": "box,0,0,0,40,40,40; hole,12,12,0,16,16,40; hole-front,0,12,12,40,16,16; "
    "hole-right,12,0,12,16,40,16",
    "three in one place": "box,0,0,0,40,40,40; hole,14,14,0,12,12,40; hole-front,0,16,16,40,8,8; "
    "hole-right,17,0,17,6,40,6",
    "side by side, blind": "box,0,0,0,60,40,20; hole,10,10,6,20,20,14; hole,24,12,10,20,20,10",
    "blind in one that crosses": "box,0,0,0,40,40,40; hole,10,10,18,20,20,22; hole-front,0,16,12,26,20,12",
    "ending in a slope": "ramp,0,0,0,40,40,40; hole,10,10,5,20,20,16",
    "out of a slope and a side": "ramp,0,0,0,40,40,40; hole,10,28,5,20,20,40",
    "ending in a skin": "cylinder-front,0,0,0,60,40,40; hole,20,10,20,20,20,17",
    "out of a skin": "cylinder-front,0,0,0,60,40,40; hole,20,26,0,20,20,40",
    "over the end of a round one": "cylinder-front,0,0,0,60,40,40; hole,50,10,0,20,20,40",
    "wider than a round one": "cylinder-front,0,10,10,60,16,16; hole,20,5,0,26,26,40",
    "over the whole end of a round one": "cylinder,0,0,0,20,20,40; hole,-5,-5,30,30,30,20",
    "down along a cone": "cone,0,0,0,40,40,60; hole,30,14,-3,20,12,80",
    "across a cone in part": "cone,0,0,0,40,40,60; hole-front,0,2,20,40,16,16",
    "across its apex": "cone,0,0,0,40,40,60; hole-right,10,-2,46,20,44,20",
    "blind in a cone": "cone,0,0,0,40,40,60; hole-front,-2,8,40,17,24,40",
    "blind to its axis": "box,0,0,-10,40,40,10; cone,0,0,0,40,40,60; hole-front,-2,12,-5,22,16,36",
    "floor in a cone": "cone,0,0,0,40,40,60; hole,12,14,30,12,12,45",
    "the top of a cone off": "cone,0,0,0,40,40,60; hole,-5,-5,40,50,50,50",
}
"""Holes that cut into each other in part, and that leave slopes and skins otherwise than with their whole round."""


class Edges(unittest.TestCase):
    """Visible lines of blocks against brute force."""

    def hold(self, built: Built, drawn: np.ndarray, pixels: int = 90) -> None:
        depth, start, step = depths(built, drawn, pixels)
        pieces = [piece for piece in pieces_of(built, Eye(towards(drawn))) if piece.seen]
        lines = np.concatenate([piece.line.at(np.linspace(piece.start, piece.end, 200)) @ drawn for piece in pieces])
        near = np.zeros((pixels, pixels), dtype=bool)
        cells = np.floor((lines - start) / step).astype(int)
        for dx in (-2, -1, 0, 1, 2):
            for dy in (-2, -1, 0, 1, 2):
                i, j = cells[:, 0] + dx, cells[:, 1] + dy
                good = (i >= 0) & (i < pixels) & (j >= 0) & (j < pixels)
                near[i[good], j[good]] = True
        span = built.span
        for axis in (0, 1):
            a, b, c = (np.take(depth, range(k, pixels - 2 + k), axis=axis) for k in range(3))
            bend = np.abs(a + c - 2 * b)
            sharp = np.where(np.isnan(bend), np.isnan(a) != np.isnan(b), bend > 0.6 * step) & ~(
                np.isnan(a) & np.isnan(b)
            )
            there = np.take(near, range(1, pixels - 1), axis=axis)
            missing = sharp & ~there
            self.assertLessEqual(missing.sum(), 0.02 * max(sharp.sum(), 1), f"{built.blocks} {span}")
        # and no line is drawn on the middle of a face
        inner = np.isfinite(depth)
        for axis in (0, 1):
            for by in range(-4, 5):
                inner &= np.isfinite(np.roll(depth, by, axis=axis))
        rough = np.zeros_like(inner)
        for axis in (0, 1):
            for by in range(-4, 4):
                a, b, c = (np.roll(depth, by + k, axis=axis) for k in (-1, 0, 1))
                rough |= ~(np.abs(a + c - 2 * b) < 1e-3 * step)
        for axis in (0, 1):  # a corner is rough beside itself only
            rough = rough | np.roll(rough, 1, axis=axis) | np.roll(rough, -1, axis=axis)
        smooth = inner & ~rough
        on = [tuple(cell) for cell in cells.tolist() if 0 <= cell[0] < pixels and 0 <= cell[1] < pixels]
        self.assertEqual([cell for cell in on if smooth[cell]], [], str(built.blocks))

    def test_known_tables(self) -> None:
        for rows in (
            [("box", 0, 0, 0, 60, 40, 10), ("box", 0, 20, 10, 60, 20, 20), ("ramp", 10, 0, 10, 40, 20, 20)],
            [
                ("box", 0, 0, 0, 72.5, 58, 17.3),
                ("cylinder", 14, 9.5, 17.3, 38.4, 38.4, 29),
                ("hole", 56, 11, 0, 12.6, 12.6, 17.3),
            ],
            [("box", 0, 0, 0, 60, 40, 30), ("cone", 10, 5, 30, 30, 30, 40), ("cylinder-front", 0, 46, 0, 60, 30, 30)],
            [("box", 0, 0, 0, 20, 40, 20), ("box", 20, 0, 0, 20, 40, 20), ("wedge", 0, 0, 20, 40, 40, 10)],
            [("ramp", 0, 0, 0, 60, 40, 40), ("hole", 15, 8, 0, 12, 12, 40), ("hole-front", 0, 26, 6, 60, 10, 10)],
            [("wedge", 0, 0, 0, 60, 50, 30), ("hole-front", 0, 8, 2, 60, 12, 11), ("hole-right", 6, 0, 17, 14, 50, 10)],
            [("box", 0, 0, 0, 50, 50, 50), ("hole-right", 10, 0, 10, 30, 50, 30), ("hole", 5, 5, 45, 8, 8, 5)],
        ):
            built = Built(tuple(Block(row[0], row[1:4], row[4:]) for row in rows))
            for drawn_axes in (ISO, np.array([[-1.0, 0], [0.5 * math.sqrt(0.5), 0.5 * math.sqrt(0.5)], [0.0, 1]])):
                with self.subTest(rows=rows):
                    self.hold(built, drawn_axes)

    def test_holes_that_cut_into_each_other_and_into_skins_in_part(self) -> None:
        for name, rows in CUT_INTO.items():
            figure: Any = make(catalogue()["built-up"], {"rows": rows})
            with self.subTest(name):
                self.hold(figure.built, ISO)
                self.hold(figure.built, np.array([[-0.8, 0.3], [0.6, 0.55], [0.0, 0.75]]))

    def test_drawn_tables_of_up_to_twelve_blocks(self) -> None:
        draw = np.random.default_rng(5)
        for _ in range(6):
            rows = []
            for i in range(3):
                for j in range(int(draw.integers(1, 5))):
                    shape = draw.choice(["box", "box", "ramp", "wedge", "cylinder"])
                    high = float(draw.integers(1, 5)) * 8
                    inset = (
                        3.0 if shape == "cylinder" else 0.0
                    )  # a round one that touches leaves a gap finer than the raster
                    low, size = (24.0 * i + inset, 18.0 * j + inset, 0.0), (24.0 - 2 * inset, 18.0 - 2 * inset, high)
                    rows.append(Block(str(shape), low, size))
                    if shape == "box" and draw.random() < 0.4 and len(rows) < 12:
                        rows.append(Block("box", (24.0 * i, 18.0 * j, high), (12.0, 18.0, 10.0)))
            self.hold(Built(tuple(rows[:12])), ISO)

    def test_no_line_where_faces_run_flush(self) -> None:
        two = Built((Block("box", (0, 0, 0), (20, 40, 20)), Block("box", (20, 0, 0), (30, 40, 20))))
        one = Built((Block("box", (0, 0, 0), (50, 40, 20)),))
        long = [
            sum(
                math.dist(*piece.line.at(np.array([piece.start, piece.end])))
                for piece in pieces_of(built, Eye(towards(ISO)))
            )
            for built in (two, one)
        ]
        self.assertAlmostEqual(long[0], long[1], places=6)


class FromAPlace(unittest.TestCase):
    """What an eye sees that stands near, as two-point perspective has it."""

    ROWS = (
        ("box", 0, 0, 0, 62, 70, 40),
        ("cone", 6, 10, 40, 50, 50, 45),
        ("cylinder", 62, 20, 0, 30, 30, 52),
        ("ramp", 0, 70, 0, 40, 30, 30),
        ("wedge", 62, 0, 0, 20, 20, 25),
        ("hole-front", 0, 10, 8, 62, 12, 12),
        ("cylinder-front", 0, 104, 0, 40, 20, 20),
    )

    def test_pieces_against_marching_along_rays(self) -> None:
        """A place beside the edge has an open way to the eye, or none has; places just by a change of state are left
        out."""
        built = Built(tuple(Block(row[0], row[1:4], row[4:]) for row in self.ROWS))
        draw = np.random.default_rng(4)
        for eye in (np.array([-170.0, -110.0, 60.0]), np.array([-90.0, -200.0, 150.0]), np.array([-300.0, 40.0, 12.0])):
            wrong, asked = 0, 0
            for piece in pieces_of(built, Eye(eye, True)):
                inner = piece.start + (piece.end - piece.start) * np.array([0.2, 0.5, 0.8])
                for place in piece.line.at(inner):
                    around = place + 1e-4 * built.span * unit_rows(draw.normal(size=(60, 3)))
                    around = around[~matter(built, around)]
                    ways = around[:, None] + np.linspace(0, 1, 1500)[None, :, None] ** 3 * (eye - around)[:, None]
                    open_ = ~matter(built, ways).any(axis=1)
                    asked += 1
                    wrong += bool(open_.any()) != piece.seen
            self.assertGreater(asked, 120)
            self.assertLessEqual(wrong, 0.01 * asked)

    def test_from_very_far_it_is_as_in_parallel(self) -> None:
        built = Built(tuple(Block(row[0], row[1:4], row[4:]) for row in self.ROWS))
        way = np.array([-0.7, -0.6, 0.4])
        near, far = (
            {
                shown: sum(
                    math.dist(*piece.line.at(np.array([piece.start, piece.end])))
                    for piece in pieces
                    if piece.seen is shown
                )
                for shown in (True, False)
            }
            for pieces in (pieces_of(built, Eye(1e7 * way, True)), pieces_of(built, Eye(way)))
        )
        for shown in (True, False):
            self.assertAlmostEqual(near[shown], far[shown], delta=1e-3 * far[shown])

    def seen_of(self, rows: str, way: tuple[float, float, float], at: tuple[float, float]) -> float:
        """How much is seen, far off that way, of edges that run to the front at that place to the right and that
        height."""
        built = make(catalogue()["built-up"], {"rows": rows}).built  # type: ignore[attr-defined]
        found = 0.0
        for piece in pieces_of(built, Eye(np.array(way))):
            first, last = piece.line.at(np.array([piece.start, piece.end]))
            if piece.seen and np.allclose([first[1:], last[1:]], at):
                found += math.dist(first, last)
        return found

    def test_an_edge_under_the_end_of_a_round_bar_that_is_seen_on_edge(self) -> None:
        bar = "box,0,0,0,60,10,10; cylinder-front,20,-5,10,20,20,20"
        self.assertAlmostEqual(self.seen_of(bar, (0, 0, 1), (0.0, 10.0)), 40.0, places=6)
        self.assertAlmostEqual(self.seen_of(bar, (1e-4, 2e-4, 1), (0.0, 10.0)), 40.0, delta=0.02)

    def test_an_edge_through_a_bore_across_a_shaft(self) -> None:
        """It runs beside the middle of a bore of 10 mm, and is seen within its round alone, or, aslant, as rays find
        it."""
        shaft = "box,0,0,0,60,9,10; cylinder-front,0,0,12,60,20,20; hole,25,5,12,10,10,20"
        self.assertAlmostEqual(self.seen_of(shaft, (0, 0, 1), (9.0, 10.0)), 2 * math.sqrt(24), places=6)
        way = np.array([0.06, -0.04, 1.0])
        x = np.arange(0.0, 60.0, 0.01)
        edge = np.stack([x, np.full(len(x), 9.0), np.full(len(x), 10.0)], axis=1)
        built = make(catalogue()["built-up"], {"rows": shaft}).built  # type: ignore[attr-defined]
        rays = edge[:, None] + np.linspace(0.01, 25.0, 900)[:, None] * way
        bare = 0.01 * float((~matter(built, rays).any(axis=1)).sum())
        self.assertGreater(bare, 5.0)
        self.assertAlmostEqual(self.seen_of(shaft, (0.06, -0.04, 1.0), (9.0, 10.0)), bare, delta=0.02)

    def test_its_rays_in_space_cut_the_pane_where_the_corners_are_drawn(self) -> None:
        """Eye, pane, rays and picture of a solid of blocks as the space view shows them, in the pane's own plane."""
        for givens in ({"angle": 25.0, "distance": 180.0, "eye_height": 55.0}, {"angle": 70.0, "eye_height": 2.0}):
            figure: Any = make(catalogue()["built-up"], givens)
            made = run(figure, "visual-rays")
            pane, *lines = figure.beside("visual-rays")
            corners = [key for key in figure.places("picture") if "R" not in key]
            rays, picture = lines[: len(corners)], lines[len(corners) :]
            across = (pane[1] - pane[0]) / np.linalg.norm(pane[1] - pane[0])
            out = np.cross(across, [0.0, 0.0, 1.0])
            self.assertAlmostEqual(abs(float((pane[0] - rays[0][0]) @ out)), figure.distance)
            for key, (eye, corner) in zip(corners, rays):
                cut = eye + (pane[0] - eye) @ out / ((corner - eye) @ out) * (corner - eye)
                want = made.found[key] - (0.0, figure.horizon)
                np.testing.assert_allclose([(cut - eye) @ across, cut[2] - eye[2]], want, atol=1e-9, err_msg=key)
            self.assertGreater(len(picture), 8)
            for line in picture:
                self.assertLess(np.abs((line - pane[0]) @ out).max(), 1e-9)
                self.assertTrue((line[:, 2] <= pane[:, 2].max()).all() and (line[:, 2] >= pane[:, 2].min()).all())

    def test_the_picture_by_a_matrix(self) -> None:
        """Every found place against the projection by a 4 × 4 matrix, worked out anew."""
        figure: Any = make(catalogue()["built-up"], {"angle": 25, "distance": 180, "eye_height": 55})
        made = run(figure, "visual-rays")
        turn = math.radians(25)
        axes = np.array([[-math.sin(turn), math.cos(turn), 0], [math.cos(turn), math.sin(turn), 0], [0, 0, 1]])
        lens = np.array([[180, 0, 0, 0], [0, 0, 180, -180 * 55], [0, 1, 0, 180]], dtype=float)
        base = made.found["A1"]
        for key, place in figure.places("picture").items():
            x, z, w = lens @ np.array([*(np.array(place) @ axes), 1.0])
            want = np.array([x / w, z / w + 55.0])
            self.assertLess(np.abs(made.found[key] - base - want).max(), 1e-9, key)


def unit_rows(rows: np.ndarray) -> np.ndarray:
    return np.asarray(rows / np.sqrt((rows**2).sum(axis=1, keepdims=True)))


class Tables(unittest.TestCase):
    def refused(self, rows: str) -> str:
        with self.assertRaises(Refused) as caught:
            make(catalogue()["built-up"], {"rows": rows})
        self.assertEqual(caught.exception.given, "rows")
        return caught.exception.says

    def test_bad_tables_get_one_line_by_name(self) -> None:
        for rows, part in (
            ("", "0 rows"),
            ("box,0,0,0,40,30,0", "Row 1 of rows has a height of 0 mm"),
            ("blob,0,0,0,4,4,4", "its shape is box, wedge"),
            ("box,0,0,0,40,30", "takes shape, x, y, z"),
            ("box,0,0,0,40,30,twenty", "Row 1"),
            ("hole,0,0,0,4,4,4", "are holes"),
            ("box,0,0,0,40,30,20; box,39.9,0,0,10,10,10", "Rows 1 and 2 of rows overlap"),
            ("box,0,0,0,40,30,20; cylinder,10,10,19.5,10,10,10", "Rows 1 and 2"),
        ):
            self.assertIn(part, self.refused(rows))

    def test_touching_is_no_overlap_and_volumes_add_up(self) -> None:
        rows = (
            "box,0,0,0,40,30,20; box,40,0,0,10,10,10; cylinder,5,5,20,20,20,9; "
            "hole,10,10,0,10,10,29; hole,8,8,0,14,14,5"
        )
        made = run(make(catalogue()["built-up"], {"rows": rows}))
        solid_parts = 40 * 30 * 20 + 10**3 + math.pi / 4 * 20 * 20 * 9
        bored = math.pi / 4 * (10 * 10 * 24 + 14 * 14 * 5)
        self.assertAlmostEqual(told(made)["volume"], solid_parts - bored)
        self.assertAlmostEqual(told(made)["overall_front"], 50)
        draw = np.random.default_rng(1).random((400_000, 3)) * [50, 30, 29]
        share = matter(made.figure.built, draw).mean()  # type: ignore[attr-defined]
        self.assertAlmostEqual(share * 50 * 30 * 29, told(made)["volume"], delta=250)

    def test_holes_through_slopes_take_what_is_there(self) -> None:
        """Volumes against places drawn evenly, blind and wider holes too."""
        for rows in (
            "ramp,0,0,0,60,40,40; hole,15,8,0,12,12,40; hole-front,0,26,6,60,10,10",
            "wedge,0,0,0,60,50,30; hole-front,0,8,2,60,12,11; hole-right,6,0,17,14,50,10",
            "ramp,0,0,0,60,40,40; hole,12,8,0,12,12,10; hole,14,10,0,8,8,40; box,0,40,0,20,10,10",
            *CUT_INTO.values(),
        ):
            figure = make(catalogue()["built-up"], {"rows": rows})
            low, high = figure.built.extent
            places = np.random.default_rng(6).uniform(low, high, (400_000, 3))
            share = float(matter(figure.built, places).mean())
            spread = 4.0 * math.sqrt(share * (1 - share) / len(places))
            told_volume = told(run(figure, "crate"))["volume"]
            self.assertAlmostEqual(told_volume / float(np.prod(high - low)), share, delta=spread)
            for way in figure.methods.values():
                if way.fits(figure) is None:
                    self.assertTrue(all(proof.holds for proof in run(figure, way.id).proofs), (rows, way.id))

    def test_what_holes_have_in_common_by_closed_forms(self) -> None:
        """Two and three equal cylinders at right angles (Archimedes), a lens along two parallel ones, and two whose
        axes miss each other by an elliptic integral."""
        box, r = 40.0**3, 8.0
        one = math.pi * r * r * 40
        lens = 2 * r * r * math.acos(6 / r) - 6 * math.sqrt(4 * r * r - 144)

        def across(y: float) -> float:
            return 4 * math.sqrt(max(r * r - (y - 20) ** 2, 0.0)) * math.sqrt(max(36 - (y - 27) ** 2, 0.0))

        for rows, left in (
            ("hole,12,12,0,16,16,40; hole-front,0,12,12,40,16,16", box - 2 * one + 16 * r**3 / 3),
            (
                "hole,12,12,0,16,16,40; hole-front,0,12,12,40,16,16; hole-right,12,0,12,16,40,16",
                box - 3 * one + 3 * 16 * r**3 / 3 - 8 * (2 - math.sqrt(2)) * r**3,
            ),
            ("hole,4,12,0,16,16,40; hole,16,12,0,16,16,40", box - 2 * one + lens * 40),
            (
                "hole,12,12,0,16,16,40; hole-front,0,21,14,40,12,12",
                box - one - math.pi * 36 * 40 + quad(across, 21, 28, epsabs=1e-10, epsrel=1e-12)[0],
            ),
        ):
            made = run(make(catalogue()["built-up"], {"rows": f"box,0,0,0,40,40,40; {rows}"}))
            self.assertAlmostEqual(told(made)["volume"] / left, 1.0, delta=1e-10)

    def test_only_a_hole_that_leaves_a_side_is_said_to(self) -> None:
        rows = "box,0,0,0,40,40,40; hole,10,10,18,20,20,22; hole-front,0,16,12,26,20,12; hole,30,-5,0,10,10,40"
        steps = [step.says for step in run(make(catalogue()["built-up"], {"rows": rows})).steps]
        told = [next(says for says in steps if says.startswith(f"Row {row}, ")) for row in (2, 3, 4)]
        self.assertEqual(["breaks out of a side" in says for says in told], [False, False, True])

    def test_a_slope_s_rim_in_a_third_view_and_a_plane_that_a_hole_only_touches(self) -> None:
        ramp = make(catalogue()["built-up"], {"rows": "ramp,0,0,0,60,40,40; hole,15,8,0,12,12,40"})
        self.assertTrue(all(proof.holds for proof in run(ramp, "third-view").proofs))
        for rows in (
            "box,0,0,0,59,35,26; hole,22,25,5,6,6,26",  # the plane, at 25, touches the round
            "box,0,0,0,39,51,51; hole-right,10,-3,8,18,28,18",  # the hole ends in it
            "box,0,0,0,29,37,50; hole-right,2,19,18,22,20,22; hole-right,2,0,2,18,37,18",  # its round begins in a cell
        ):
            figure = make(catalogue()["section-view"], {"rows": rows, "stretches": "0,80,25"})
            self.assertEqual([proof for proof in run(figure).proofs if not proof.holds], [], rows)

    def test_text_and_back(self) -> None:
        given_rows = catalogue()["built-up"].givens["rows"]
        rows = given_rows.read("box,0,0,0,40,30,20; cylinder-front, 0,30,0, 40,10,10")
        self.assertEqual(rows[1], ("cylinder-front", 0.0, 30.0, 0.0, 40.0, 10.0, 10.0))
        self.assertEqual(given_rows.read(given_rows.text(rows)), rows)
        self.assertEqual(given_rows.read(given_rows.stored(rows)), rows)

    def test_three_views_show_the_same_thing(self) -> None:
        """Of every view the visible and hidden lines together are as the projection of its own edges: the same overall
        sizes."""
        made = run(make(catalogue()["built-up"], {}))
        values = told(made)
        for view, wide, tall in (("front", "front", "height"), ("top", "front", "right"), ("side", "right", "height")):
            at = np.array([spot.here for key, spot in made.spots.items() if key.endswith(f" {view}")])
            size = np.ptp(at, axis=0)
            self.assertAlmostEqual(size[0], values[f"overall_{wide}"])
            self.assertAlmostEqual(size[1], values[f"overall_{tall}"])


if __name__ == "__main__":
    unittest.main()
