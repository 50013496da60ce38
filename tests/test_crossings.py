"""Where the lines of a solid cross in an eye's picture, against the crossings of fine chords, and what is kept of a
block among its neighbours."""

from __future__ import annotations

import itertools
import unittest

import numpy as np

from tests.test_breaking_out import CROSSING, PILLOW, built_of
from wise_compass.geometry import block_edges
from wise_compass.geometry.block_crossings import DrawnLines, Places, crossings
from wise_compass.geometry.block_edges import edges_of, pieces_of
from wise_compass.geometry.block_lines import Eye
from wise_compass.geometry.block_shapes import Block
from wise_compass.geometry.blocks import Built

CHORDS = 400


class Lines:
    """Straight lines and rims drawn at random about the origin."""

    def __init__(self, seed: int, flat: bool) -> None:
        draw = np.random.default_rng(seed)
        count = 10
        self.starts, self.ones, self.others = draw.normal(size=(3, count, 3))
        self.starts *= 0.4
        self.round = np.arange(count) % 2 == 0
        if flat:  # two rims in upright and level planes that hold a place on the axis of right, and the way along it
            self.others[[0, 2]] = np.array([0.0, -1.0, 0.0])
            self.ones[[0, 2], 1] = 0.0
            for n, off in ((0, 0), (2, 2)):
                self.starts[n, off] = self.ones[n, off] = 0.0

    def at(self, places: Places) -> np.ndarray:
        numbers, t = places
        turn = 2 * np.pi * t[:, None]
        bent = np.cos(turn) * self.ones[numbers] + np.sin(turn) * self.others[numbers]
        return np.asarray(
            self.starts[numbers] + np.where(self.round[numbers, None], bent, t[:, None] * self.ones[numbers])
        )

    def drawn(self, eye: np.ndarray, stands: bool, saddles: tuple[int, ...] = ()) -> DrawnLines:
        on = np.isin(np.arange(len(self.starts)), saddles)
        return DrawnLines(eye, stands, self.starts, self.ones, self.others, self.round, on, self.at)


def pictured(places: np.ndarray, eye: np.ndarray, stands: bool) -> np.ndarray:
    """In the picture plane square to the eye's way, in parallel or towards where it stands."""
    towards = eye / np.linalg.norm(eye)
    across = np.cross(towards, [0.3, 0.1, 0.9])
    across /= np.linalg.norm(across)
    frame = np.stack([across, np.cross(towards, across)], axis=1)
    if not stands:
        return np.asarray(places @ frame)
    away = places - eye
    return np.asarray(away @ frame / -(away @ towards)[:, None])


def crossings_of_chords(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """Where polylines (n, 2) cross: the shares along each, (crossings, 2)."""
    p, u, q, v = a[:-1, None], np.diff(a, axis=0)[:, None], b[None, :-1], np.diff(b, axis=0)[None]
    turn = u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0]
    off = q - p
    with np.errstate(divide="ignore", invalid="ignore"):
        s = (off[..., 0] * v[..., 1] - off[..., 1] * v[..., 0]) / turn
        t = (off[..., 0] * u[..., 1] - off[..., 1] * u[..., 0]) / turn
    i, j = np.nonzero((s >= 0) & (s < 1) & (t >= 0) & (t < 1))
    return np.stack([(i + s[i, j]) / (len(a) - 1), (j + t[i, j]) / (len(b) - 1)], axis=1)


class Pictures(unittest.TestCase):
    def hold(self, lines: Lines, eye: np.ndarray, stands: bool, saddles: tuple[int, ...] = ()) -> int:
        numbers, at = crossings(lines.drawn(eye, stands, saddles))
        t, count = np.arange(CHORDS + 1) / CHORDS, 0
        along = [t if bent or stands else t[[0, -1]] for bent in lines.round]
        flat = [pictured(lines.at((np.full(len(each), n), each)), eye, stands) for n, each in enumerate(along)]
        for one, other in itertools.combinations(range(len(flat)), 2):
            if one in saddles and other in saddles:
                continue  # those are looked for by steps elsewhere
            for pair in crossings_of_chords(flat[one], flat[other]):
                for n, share in zip((one, other), pair):
                    apart = np.abs(at[numbers == n] - share)
                    near = np.minimum(apart, 1.0 - apart) if lines.round[n] else apart
                    self.assertLess(near.min(initial=9.0), 2e-3, f"{one} {other} at {pair}")
                count += 1
        return count

    def test_far_off(self) -> None:
        found = [self.hold(Lines(seed, False), np.array([0.3, -1.0, 0.6]), False) for seed in range(6)]
        self.assertGreater(sum(found), 150)

    def test_from_a_place(self) -> None:
        found = [self.hold(Lines(seed, False), np.array([2.0, -9.0, 5.0]), True) for seed in range(6)]
        self.assertGreater(sum(found), 150)

    def test_rims_on_edge_are_straight_and_turn_back(self) -> None:
        for stands, eye in ((False, np.array([0.0, -1.0, 0.0])), (True, np.array([0.0, -9.0, 0.0]))):
            lines = Lines(3, True)
            self.assertGreater(self.hold(lines, eye, stands), 10)
            numbers, at = crossings(lines.drawn(eye, stands))
            for n in (0, 2):
                t = np.concatenate([np.arange(4000) / 4000, at[numbers == n]])
                flat = pictured(lines.at((np.full(len(t), n), t)), eye, stands)
                for way in np.eye(2):
                    reach = flat @ way
                    self.assertLess(np.abs(reach[4000:].max() - reach.max()), 1e-12)
                    self.assertLess(np.abs(reach[4000:].min() - reach.min()), 1e-12)

    def test_rims_whose_places_alone_are_told(self) -> None:
        found = [self.hold(Lines(seed, False), np.array([0.3, -1.0, 0.6]), False, (0, 4)) for seed in range(4)]
        self.assertGreater(sum(found), 80)

    def test_they_are_exact(self) -> None:
        """Every found place lies on another line in the picture, to rounding, whatever the steps are."""
        for stands, eye in ((False, np.array([0.3, -1.0, 0.6])), (True, np.array([2.0, -9.0, 5.0]))):
            lines = Lines(1, False)
            numbers, at = crossings(lines.drawn(eye, stands))
            places = pictured(lines.at((numbers, at)), eye, stands)
            apart = np.where(numbers[:, None] == numbers, 9.0, np.linalg.norm(places[:, None] - places, axis=2))
            self.assertLess(apart.min(axis=1).max(), 1e-9)


class Kept(unittest.TestCase):
    """The edges of a block that stands among the same ones as before are known: they are what a fresh look finds."""

    def test_blocks_that_stand_apart_in_another_order(self) -> None:
        one, other = Block("cylinder", (0, 0, 0), (20, 20, 30)), Block("box", (50, 0, 0), (20, 30, 25))
        first, turned = edges_of(Built((one, other)), 24), edges_of(Built((other, one)), 24)
        self.assertEqual(len(first), len(turned))
        places = [np.sort(np.concatenate(edges), axis=0) for edges in (first, turned)]
        np.testing.assert_allclose(*places, atol=1e-12)

    def test_a_block_changed_among_others(self) -> None:
        for rows in (*CROSSING, PILLOW):
            built = built_of(rows).built
            last = built.blocks[-1]
            for by in (0.0, 0.37, 0.74):
                changed = Built((*built.blocks[:-1], last._replace(size=(*last.size[:2], last.size[2] + by))))
                kept = edges_of(changed, 24)
                seen = pieces_of(changed, Eye(np.array([-1.0, -0.8, 0.7])))
                block_edges._kept.clear()
                block_edges._fixed.cache_clear()
                np.testing.assert_allclose(np.array(kept), np.array(edges_of(changed, 24)), atol=1e-9)
                again = pieces_of(changed, Eye(np.array([-1.0, -0.8, 0.7])))
                for one, other in itertools.zip_longest(seen, again):
                    self.assertEqual(
                        (one.line.block, one.line.kind, one.seen), (other.line.block, other.line.kind, other.seen)
                    )
                    np.testing.assert_allclose((one.start, one.end), (other.start, other.end), atol=1e-9)


if __name__ == "__main__":
    unittest.main()
