"""Views of solids along an axis, where skins, rims and edges cover one another: what is drawn as seen or as hidden, and
what is left of it behind a cutting plane, against marching along the sight."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from typing import Any

import numpy as np

from tests.test_blocks import CUT_INTO, matter
from wise_compass.drafting.figure import make
from wise_compass.figures.catalogue import figure_named
from wise_compass.figures.pictorial.block_views import EYES
from wise_compass.figures.pictorial.of_blocks import OfBlocks
from wise_compass.geometry.block_edges import EdgePiece, pieces_for
from wise_compass.geometry.block_lines import Eye
from wise_compass.geometry.blocks import Built

VIEWS = ("front", "top", "side")
BESIDE, STEP, AROUND = 3e-3, 0.04, 12
"""mm beside an edge at which rays begin, and from place to place along them; how many begin round it."""
SHORT, CLOSE = 0.05, 0.15
"""Of an edge: pieces that are passed over; of a piece, how far within its ends it is looked."""
TABLES = (
    *CUT_INTO.values(),
    "cone,0,0,0,59,59,43; hole-right,38,7,-5,22,10,22",
    "cylinder,0,0,0,40,40,50; hole-front,-2,-6,10,16,20,20; hole-right,12,26,8,16,20,24",
)
SECTIONS = (
    (TABLES[-2], "0,25,20"),
    ("box,0,0,0,60,40,20; cylinder,10,5,20,30,30,25; hole-front,0,10,5,80,12,12; hole,20,15,0,10,10,60", "0,60,21"),
    ("cone,0,0,0,51,51,30; hole,5,23,-1,30,15,32; hole-front,43,11,8,21,21,21", "0,20,12;20,60,25"),
)


def open_rays(built: Built, place: np.ndarray, eye: np.ndarray, far: float) -> int:
    """How many rays that begin round a place come so far without meeting matter."""
    flat = [np.eye(3)[k] for k in range(3) if not eye[k]]
    turns = np.linspace(0.0, 2 * np.pi, AROUND, endpoint=False) + 0.13
    begins = place + BESIDE * (np.cos(turns)[:, None] * flat[0] + np.sin(turns)[:, None] * flat[1])
    rays = begins[:, None] + np.arange(1.3 * BESIDE, far, STEP)[:, None] * eye
    return int((~matter(built, rays).any(axis=1)).sum())


def looked_at(pieces: list[EdgePiece], eye: np.ndarray) -> Iterator[tuple[EdgePiece, float]]:
    """Two places of each piece that is no point in the view."""
    for piece in pieces:
        a, b = piece.line.at(np.array([piece.start, piece.end]))
        if piece.end - piece.start < SHORT or abs((b - a) @ eye) > (1 - 1e-9) * np.linalg.norm(b - a) > 0:
            continue
        yield from ((piece, piece.start + share * (piece.end - piece.start)) for share in (CLOSE, 1 - CLOSE))


class Along(unittest.TestCase):
    def test_what_is_seen_is_open_to_the_eye_and_what_is_hidden_is_not(self) -> None:
        for rows in TABLES:
            built = figure("built-up", rows=rows).built
            views = pieces_for(built, [Eye(np.array(EYES[view])) for view in VIEWS])
            for view, pieces in zip(VIEWS, views):
                eye = np.array(EYES[view])
                for piece, t in looked_at(pieces, eye):
                    place = piece.line.at(np.array([t]))[0]
                    clear = open_rays(built, place, eye, 2.2 * built.span)
                    self.assertEqual(piece.seen, clear > 0, f"{rows} {view} {piece.line.kind} {place}")

    def test_behind_a_cutting_plane_all_that_is_open_to_it_is_left(self) -> None:
        for rows, stretches in SECTIONS:
            section = figure("section-view", rows=rows, stretches=stretches)
            eye, left = np.array(EYES["front"]), section.pieces("front")
            for piece, t in looked_at(OfBlocks.pieces(section, "front"), eye):
                place = piece.line.at(np.array([t]))[0]
                plane = max(float(section.cut_at(place[:1])[0]), -5.0)
                mine = [one for one in left if one.line is piece.line or alike(one, piece)]
                drawn = any(one.start < t < one.end for one in mine)
                if abs(place[1] - plane) < 1.0 or any(abs(t - end) < 0.03 for one in mine for end in one[1:3]):
                    continue
                clear = place[1] > plane and open_rays(section.built, place, eye, place[1] - plane) > 0
                self.assertEqual(drawn, clear, f"{rows} {stretches} {piece.line.kind} {place}")


def alike(one: EdgePiece, other: EdgePiece) -> bool:
    return one.line[:3] == other.line[:3] and np.array_equal(one.line.start, other.line.start)


def figure(id: str, **givens: str) -> Any:
    return make(figure_named(id), givens)


if __name__ == "__main__":
    unittest.main()
