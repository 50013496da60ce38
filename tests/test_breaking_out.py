"""Holes that break out of blocks: volumes, faces, edges, and what of them is lined in, against places drawn at
random."""

from __future__ import annotations

import math
import unittest
from collections.abc import Iterator
from typing import Any

import numpy as np

from tests import test_blocks
from tests.test_blocks import ISO, matter, told
from wise_compass.drafting.figure import make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.marks import CurveMark, LineMark, Role
from wise_compass.drafting.run import Run, run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.block_faces import faces_of
from wise_compass.geometry.block_sections import shared
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Built, towards

PILLOW = (
    "box,0,0,0,60,40,30; hole-front,0,14,22,60,16,16; hole,-6,-6,0,14,14,30; "
    "box,60,0,0,20,40,12; hole,72,10,0,16,16,12; "
    "box,0,40,0,30,10,30; hole,10,41,20,7,7,10"
)
"""A bearing block with a groove, a corner taken off, a notch in its foot and a blind hole."""
ROUNDS = {"hole": "cylinder", "hole-front": "cylinder-front", "hole-right": "cylinder-right"}
PRISMS = {"hole": "wedge", "hole-front": "box", "hole-right": "ramp"}


CROSSING = (
    "cylinder-front,0,0,0,40,20,20; hole,15,6,0,8,8,20",
    "cylinder-front,0,0,0,40,20,20; hole,15,6,10,8,8,10; hole-front,0,6,6,40,8,8",
    "box,0,0,0,40,30,30; hole-front,0,8,8,40,14,14; hole,15,11,0,8,8,30; hole-right,26,0,11,7,15,8",
    "box,0,0,0,40,40,10; cone,0,0,10,40,40,40; hole,17,18,0,9,9,50; hole-right,18,0,16,7,22,6",
    "cylinder,0,0,0,40,40,10; cylinder,8,8,10,24,24,30; hole,14,14,0,12,12,40; "
    "hole-right,16,8,20,8,24,8; hole,33,17,0,5,5,10",
    "box,0,0,0,60,40,30; hole-front,0,14,22,60,16,16; hole,24,18,0,8,8,30",
)
"""Bores that enter round skins and each other: of a shaft, one as wide as another, of a block, of a cone through its
apex, a hub, an oil hole of a groove."""


def built_of(rows: str) -> Any:
    return make(catalogue()["built-up"], {"rows": rows})


def drawn_tables(seed: int, count: int) -> Iterator[str]:
    """Blocks in a row, and a hole somewhere among them that runs as they do."""
    draw = np.random.default_rng(seed)
    for _ in range(count):
        hole = str(draw.choice(list(ROUNDS)))
        rows, x = [], 0.0
        for _ in range(int(draw.integers(1, 4))):
            size = draw.integers(8, 30, 3).astype(float)
            rows.append((str(draw.choice(["box", "box", PRISMS[hole], ROUNDS[hole]])), x, 0.0, 0.0, *size))
            x += float(size[0])
        wide, tall = np.round(draw.uniform(5, 24, 2), 2)
        long = {"hole": (wide, tall, 30.0), "hole-front": (x, wide, tall), "hole-right": (wide, 30.0, tall)}[hole]
        rows.append((hole, *np.round(draw.uniform(-10, 30, 3), 2), *long))
        yield ";".join(",".join(str(value) for value in row) for row in rows)


class Sections(unittest.TestCase):
    def test_shares_against_places_drawn_evenly(self) -> None:
        draw = np.random.default_rng(3)
        for _ in range(60):
            hole = Block("hole", (*draw.uniform(-6, 6, 2).tolist(), 0.0), (*draw.uniform(2, 9, 2).tolist(), 1.0))
            block = Block(
                str(draw.choice(["box", "wedge", "cylinder"])), (0, 0, 0), (*draw.uniform(2, 9, 2).tolist(), 1.0)
            )
            section = shared(hole, block)
            assert section is not None
            turn, out = draw.uniform(0, 2 * np.pi, 40_000), np.sqrt(draw.random(40_000)) / 2
            places = np.stack([out * np.cos(turn), out * np.sin(turn), np.zeros_like(out)], axis=1) + 0.5
            within = float(matter(Built((block,)), np.array(hole.low) + places * np.array(hole.size)).mean())
            self.assertAlmostEqual(section.share, within, delta=0.012, msg=f"{hole} {block}")
            for t in section.turns:  # the rim is on one side just before and on the other just after
                near = hole.round_at(np.array([t - 0.3, t + 0.3]), 0.5)
                self.assertNotEqual(*matter(Built((block,)), near).tolist(), f"{hole} {block} {t}")

    def test_what_only_touches_does_not_cross(self) -> None:
        for low, size in (
            ((0.1, 0.2, 0), (0.3, 0.3, 1)),
            ((0.4, 0.2, 0), (0.7, 0.3, 1)),
            ((-0.6, 0, 0), (0.7, 0.7, 1)),
        ):
            box = Block("box", (0.1, 0.2, 0.0), (0.3, 0.3, 1.0))
            section = shared(Block("hole", low, size), box)
            assert section is not None
            self.assertEqual(section.turns, (), low)
            self.assertIn(round(section.share, 12), (0.0, 1.0))
        post = Block("cylinder", (0.1, 0.2, 0.0), (0.3, 0.3, 1.0))
        self.assertEqual(shared(Block("hole", (0.1, 0.2, 0), (0.3, 0.3, 1)), post)[:2], (1.0, ()))  # type: ignore[index]


class Solids(unittest.TestCase):
    def test_volumes_and_faces(self) -> None:
        """The volume against places drawn evenly, and against the divergence theorem over the faces, round ones taken
        for strips."""
        for rows in (PILLOW, *CROSSING, *drawn_tables(3, 25)):
            figure = built_of(rows)
            low, high = figure.built.extent
            places = np.random.default_rng(6).uniform(low, high, (100_000, 3))
            share = float(matter(figure.built, places).mean())
            room = float(np.prod(high - low))
            spread = 4.5 * math.sqrt(share * (1 - share) / len(places)) + 1e-9
            self.assertAlmostEqual(figure.volume / room, share, delta=spread, msg=rows)
            cones = sum(
                float(face.corners[0] @ face.outward) * area(piece)
                for face in faces_of(figure.built)
                for piece in face.pieces or (face.corners,)
            )
            rounds = [block.volume for block in figure.built.blocks if block.axis is not None]
            self.assertAlmostEqual(cones / 3, figure.volume, delta=0.012 * sum(rounds) + 1e-6 * room, msg=rows)

    def test_edges_against_brute_force(self) -> None:
        holding = test_blocks.Edges("test_known_tables")
        for rows in (PILLOW, *CROSSING, *drawn_tables(3, 5)):
            with self.subTest(rows=rows):
                holding.hold(built_of(rows).built, ISO)

    def test_bores_that_cross_take_what_they_share_once(self) -> None:
        """Of two as wide the body in both is 16 r³ / 3 (Archimedes); of a narrower one, each line of it that runs
        within the wide one."""
        two = built_of("box,0,0,0,40,30,30; hole-front,0,10,10,40,10,10; hole,15,10,0,10,10,30")
        bored = math.pi * 25 * 40 + math.pi * 25 * 30 - 16 / 3 * 125
        self.assertAlmostEqual(two.volume, 40 * 30 * 30 - bored, places=7)
        oiled = built_of("cylinder-front,0,0,0,40,20,20; hole,15,6,0,8,8,20")
        across = np.polynomial.legendre.leggauss(200)
        shared_ = sum(w * 4 * math.sqrt(16 - (4 * x) ** 2) * math.sqrt(100 - (4 * x) ** 2) * 4 for x, w in zip(*across))
        self.assertAlmostEqual(oiled.volume, math.pi * 100 * 40 - shared_, places=3)

    def test_a_hole_told_twice_is_taken_once_and_a_counterbore_has_its_floor(self) -> None:
        box, hole, wide = "box,0,0,0,40,30,30", "hole,10,5,0,10,10,30", "hole,7,2,20,16,16,10"
        self.assertAlmostEqual(built_of(f"{box}; {hole}; {hole}").volume, 36000 - math.pi * 25 * 30)
        figure = built_of(f"{box}; {hole}; {wide}")
        self.assertAlmostEqual(figure.volume, 36000 - math.pi * 25 * 20 - math.pi * 64 * 10)
        rims = {
            (piece.line.block, round(float(piece.line.start[2]), 9))
            for piece in figure.pieces("top")
            if piece.line.kind == "rim"
        }
        self.assertEqual(rims, {(1, 0.0), (1, 20.0), (2, 20.0), (2, 30.0)})

    def test_a_rim_on_a_round_skin_lies_on_both(self) -> None:
        figure = built_of(CROSSING[0])
        made = run(figure, "crate")
        places = [place for key, place in figure.places("picture").items() if key.startswith(("2R2x", "2R3x"))]
        self.assertEqual(len(places), 24)
        for x, y, z in places:
            self.assertAlmostEqual((x - 19) ** 2 + (y - 10) ** 2, 16.0)
            self.assertAlmostEqual((y - 10) ** 2 + (z - 10) ** 2, 100.0)
        self.assertTrue(all(proof.holds for proof in made.proofs))

    def test_a_wedge_that_ends_flush_on_a_box_leaves_no_line_between_them(self) -> None:
        """They touch in an edge alone, behind which is a gap; before it their faces run flush."""
        built = built_of("wedge,0,0,0,8,22,20; box,8,0,0,17,20,20").built
        from wise_compass.geometry.block_edges import pieces_of
        from wise_compass.geometry.block_lines import Eye

        joint = [
            piece.seen
            for piece in pieces_of(built, Eye(towards(ISO)))
            for ends in [piece.line.at(np.array([piece.start, piece.end]))]
            if np.allclose(ends[:, :2], [8.0, 0.0])
        ]
        self.assertTrue(joint)
        self.assertFalse(any(joint))

    def test_every_method_proves_it_and_hands_draw_it(self) -> None:
        for method in ("crate", "stack", "visual-rays"):
            made = run(built_of(PILLOW), method)
            self.assertTrue(all(proof.holds for proof in made.proofs), method)
        self.assertTrue(any("breaks out of a side" in step.says for step in made.steps))
        hands = run_hands(built_of(PILLOW), "crate", 20)
        self.assertEqual(hands.missed, 0)
        self.assertTrue(all(0.0 <= scatter.sd < 5.0 for scatter in hands.points))
        self.assertAlmostEqual(told(made)["overall_front"], 80.0)


def area(corners: np.ndarray) -> float:
    off = corners - corners[0]
    return float(np.linalg.norm(np.cross(off[1:-1], off[2:]).sum(axis=0))) / 2


def lined_in(made: Run, view: str, role: Role) -> list[np.ndarray]:
    """The straight stretches of a role in a view, (2, 2) each."""
    steps = {step.n for step in made.steps if step.phase == view}
    found = []
    for mark in made.marks:
        if mark.step in steps and mark.role is role:
            if isinstance(mark, LineMark):
                found.append(np.array(mark.ends()))
            elif isinstance(mark, CurveMark) and not mark.fair:
                found.append(mark.course())
    return found


class Views(unittest.TestCase):
    """In the three views nothing is drawn twice: a dashed line under a full one, or two dashed ones in one place, fill
    each other's gaps."""

    def test_no_two_lines_lie_on_each_other(self) -> None:
        made = run(built_of(PILLOW), "crate")
        for view in ("The front view", "The top view", "The view from the right"):
            lines = [line for role in (Role.OUTLINE, Role.HIDDEN) for line in lined_in(made, view, role)]
            self.assertGreater(len(lines), 8)
            for k, (a, b) in enumerate(lines):
                way = (b - a) / np.linalg.norm(b - a)
                for c, d in lines[:k]:
                    off = [float(way[0] * (p - a)[1] - way[1] * (p - a)[0]) for p in (c, d)]
                    if max(map(abs, off)) < 1e-9:
                        low, high = sorted(float(way @ (p - a)) for p in (c, d))
                        over = min(high, float(np.linalg.norm(b - a))) - max(low, 0.0)
                        self.assertLess(over, 1e-6, f"{view} {a} {b} {c} {d}")

    def test_a_rim_seen_on_edge_is_a_straight_line_as_wide_as_it_is(self) -> None:
        made = run(built_of("box,0,0,0,40,30,20; cylinder,5,5,20,20,20,9; hole,10,10,5,10,10,24"), "crate")
        start = made.spots["O.front"].here
        seen, hidden = (
            {
                tuple(np.round(np.abs(line - start), 6).ravel().tolist())
                for line in lined_in(made, "The front view", role)
            }
            for role in (Role.OUTLINE, Role.HIDDEN)
        )
        self.assertIn(True, [{line[0], line[2]} == {5.0, 25.0} and line[1] == line[3] == 29.0 for line in seen])
        self.assertIn(True, [{line[0], line[2]} == {10.0, 20.0} and line[1] == line[3] == 5.0 for line in hidden])
        self.assertFalse(
            [mark for mark in made.marks if isinstance(mark, CurveMark) and mark.fair and "front" in phase(made, mark)]
        )


def phase(made: Run, mark: CurveMark) -> str:
    return next(step.phase for step in made.steps if step.n == mark.step)
