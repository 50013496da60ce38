"""What degenerate cases stand on: circles that touch three, and where lines and circles meet."""

from __future__ import annotations

import itertools
import math
import random
import unittest

import numpy as np

from wise_compass.geometry.apollonius import tangent_circles
from wise_compass.geometry.meets import foot, meet_circles, meet_line_circle, meet_lines
from wise_compass.geometry.vectors import distance

ROOT3 = math.sqrt(3)


class Apollonius(unittest.TestCase):
    def touched(self, rows: list[tuple[float, float, float]]) -> list[float]:
        """Radii of the answers, each of which is held to touch all three."""
        given = np.array(rows, dtype=float)
        centres, radii, contacts = tangent_circles(given[:, :2], given[:, 2], 1e5)
        for centre, radius, signs in zip(centres, radii, contacts):
            gaps = np.asarray(distance(given[:, :2], centre))
            np.testing.assert_allclose(gaps, np.abs(radius + signs * given[:, 2]), rtol=0, atol=1e-9 * 100)
            for x, y, r in rows:
                self.assertGreater(
                    abs(radius - r) + math.hypot(centre[0] - x, centre[1] - y), 1e-3, "a given circle is no answer"
                )
        for k, one in enumerate(centres):
            for j in range(k):
                self.assertGreater(
                    float(distance(one, centres[j])) + abs(radii[k] - radii[j]), 1e-3, "one circle twice"
                )
        return [round(float(r), 4) for r in radii]

    def test_three_that_touch_each_other_have_two(self) -> None:
        soddy = [round(20 * (2 / ROOT3 - 1), 4), round(20 * (2 / ROOT3 + 1), 4)]
        self.assertEqual(self.touched([(0, 0, 20), (40, 0, 20), (20, 20 * ROOT3, 20)]), soddy)

    def test_three_in_a_row_that_touch(self) -> None:
        self.assertEqual(self.touched([(0, 0, 20), (50, 0, 30), (100, 0, 20)]), [50, 50, 150, 150])

    def test_other_degenerate_trios(self) -> None:
        self.assertEqual(len(self.touched([(0, 0, 30), (40, 0, 10), (20, 60, 15)])), 6)
        self.assertEqual(len(self.touched([(0, 0, 18), (74, 6, 13), (30, 62, 10)])), 8)
        self.assertEqual(len(self.touched([(0, 0, 0), (40, 0, 0), (20, 30, 0)])), 1)
        self.assertEqual(self.touched([(0, 0, 20), (0, 0, 40), (100, 0, 10)]), [])

    def by_inversion(self, one: float, other: float, third: tuple[float, float, float]) -> list[float]:
        """Radii of the answers where the first two, about (0, 0) and (one + other, 0), touch: inversion about the
        point of touch makes two parallel lines of them."""
        left, right = -1 / (2 * one), 1 / (2 * other)
        x, y = third[0] - one, third[1]
        power = x * x + y * y - third[2] ** 2
        x, y, r = x / power, y / power, abs(third[2] / power)
        half, middle, radii = (right - left) / 2, (left + right) / 2, []
        for apart in (r + half, abs(r - half)):  # circles between the lines
            room = apart**2 - (middle - x) ** 2
            for up in (math.sqrt(room), -math.sqrt(room)) if room > 0 else ():
                at = (middle, y + up)
                radii.append(half / abs(at[0] ** 2 + at[1] ** 2 - half**2))
        for line in (x - r, x + r):  # lines along them, which were circles through the point of touch
            if min(abs(line - left), abs(line - right)) > 1e-9 * abs(line):
                radii.append(1 / (2 * abs(line)))
        return sorted(radii)

    def test_where_two_touch_each_answer_is_told_once(self) -> None:
        self.assertEqual(len(self.touched([(0, 0, 31.73), (84.72, 0, 52.99), (21.91, 95.03, 8.7)])), 6)
        largest = self.touched([(0, 0, 29.78), (42.62, 0, 12.84), (48.71, -94.57, 20.76)])[-1]
        self.assertAlmostEqual(largest, 2423.73, places=2)
        self.assertEqual(len(self.touched([(0, 0, 9.75), (52.56, 0, 42.81), (62.43, 39.14, 52.49)])), 4)
        chance = random.Random(28)
        tried = 0
        while tried < 400:
            one, other = round(chance.uniform(5, 60), 2), round(chance.uniform(5, 60), 2)
            third = tuple(round(chance.uniform(*span), 2) for span in ((-50, 120), (-100, 100), (3, 60)))
            want = self.by_inversion(one, other, third)  # type: ignore[arg-type]
            if min(want) < 1 or max(want) > 5e4:
                continue
            tried += 1
            with self.subTest(one=one, other=other, third=third):
                rows = [(0.0, 0.0, one), (round(one + other, 2), 0.0, other), third]
                np.testing.assert_allclose(self.touched(rows), want, rtol=1e-4)  # type: ignore[arg-type]

    def test_they_turn_and_grow_with_their_circles(self) -> None:
        rows = np.array([(0, 0, 18), (74, 6, 13), (30, 62, 10)], dtype=float)
        alike = self.touched([tuple(row) for row in rows])  # type: ignore[misc]
        turn = np.array([[0.6, -0.8], [0.8, 0.6]])
        for times, shift in ((1.0, 5000.0), (50.0, 0.0), (0.02, -3.0)):
            moved = [(*(turn @ row[:2] * times + shift), row[2] * times) for row in rows]
            given = np.array(moved)
            _, radii, _ = tangent_circles(given[:, :2], given[:, 2], 1e6)
            np.testing.assert_allclose(radii / times, alike, atol=2e-4)


class Searched(unittest.TestCase):
    """All circles that touch three, against a search by Newton's rule from everywhere, for every choice of inside and
    outside."""

    def by_search(self, rows: np.ndarray, draw: np.random.Generator) -> list[tuple[float, float, float]]:
        found: list[tuple[float, float, float]] = []
        at, r = rows[:, :2], rows[:, 2]
        for signs in itertools.product((1.0, -1.0), repeat=3):
            s = np.array(signs)
            x = np.concatenate([draw.uniform(-150, 150, (300, 2)), np.abs(draw.normal(0, 90, (300, 1)))], axis=1)
            with np.errstate(all="ignore"):
                for _ in range(60):
                    off = x[:, None, :2] - at
                    far = np.hypot(off[..., 0], off[..., 1])
                    miss = far - (x[:, 2:] + s * r)
                    jacobian = np.concatenate([off / far[..., None], -np.ones((len(x), 3, 1))], axis=2)
                    good = np.abs(np.linalg.det(jacobian)) > 1e-9
                    x[good] -= np.linalg.solve(jacobian[good], miss[good, :, None])[..., 0]
            off = np.hypot(x[:, 0, None] - at[:, 0], x[:, 1, None] - at[:, 1])
            good = (np.abs(off - (x[:, 2:] + s * r)).max(axis=1) < 1e-9) & (x[:, 2] > 1e-3) & (x[:, 2] < 3000)
            for one in x[good]:
                if all(np.abs(one - other).max() > 1e-4 for other in found):
                    found.append(tuple(one))  # type: ignore[arg-type]
        return sorted(found, key=lambda one: one[2])

    def test_none_is_missing_and_none_too_many(self) -> None:
        draw, counts = np.random.default_rng(8), set()
        for k in range(24):
            rows = np.column_stack([draw.uniform(-60, 60, (3, 2)), draw.uniform(4, 40, 3)])
            if k % 3 == 2:
                rows[0, 2] = 0.0  # a point
            if k % 6 == 1:
                rows[1, :2], rows[1, 2] = rows[0, :2] + draw.normal(0, 2, 2), rows[0, 2] / 2  # one within another
            centres, radii, contacts = tangent_circles(rows[:, :2], rows[:, 2], 3000.0)
            want = self.by_search(rows, draw)
            got = [(float(c[0]), float(c[1]), float(r)) for c, r in zip(centres, radii)]
            for one in want:
                near = min((float(np.abs(np.array(one) - other).max()) for other in got), default=9.0)
                self.assertLess(near, 1e-4, f"{rows.tolist()}: {one} is missing")
            for centre, radius, touch in zip(centres, radii, contacts):
                far = np.hypot(*(rows[:, :2] - centre).T)
                np.testing.assert_allclose(far, np.abs(radius + touch * rows[:, 2]), atol=1e-7)
            counts.add(len(got))
        self.assertGreater(len(counts), 2)


class Meets(unittest.TestCase):
    """One pair and many at once give the same, and lanes that miss are NaN alone."""

    def test_single_and_many_agree(self) -> None:
        random = np.random.default_rng(4)
        p, u, q, v = random.normal(size=(4, 50, 2))
        r, s = random.uniform(0.2, 3.0, size=(2, 50))
        for many, single in (
            (meet_lines(p, u, q, v), [meet_lines(*x) for x in zip(p, u, q, v)]),
            (foot(p, q, v), [foot(*x) for x in zip(p, q, v)]),
            (meet_line_circle(p, u, q, r), [meet_line_circle(*x) for x in zip(p, u, q, r)]),
            (meet_circles(p, r, q, s), [meet_circles(*x) for x in zip(p, r, q, s)]),
        ):
            np.testing.assert_allclose(many, np.array(single), rtol=1e-9, atol=1e-12)

    def test_touching_and_missing(self) -> None:
        o, x = np.zeros(2), np.array([1.0, 0.0])
        self.assertTrue(np.isnan(meet_lines(o, x, np.array([0.0, 1]), x)).all())
        self.assertTrue(np.isnan(foot(x, o, o)).all())
        touch = meet_line_circle(np.array([-9.0, 5.0]), x, o, 5.0)
        np.testing.assert_allclose(touch, [[0, 5], [0, 5]], atol=1e-12)
        self.assertTrue(np.isnan(meet_line_circle(np.array([-9.0, 5.001]), x, o, 5.0)).all())
        np.testing.assert_allclose(meet_circles(o, 2.0, 5 * x, 3.0), [[2, 0], [2, 0]], atol=1e-7)
        self.assertTrue(np.isnan(meet_circles(o, 2.0, 5.01 * x, 3.0)).all())
        self.assertTrue(np.isnan(meet_circles(o, 2.0, o, 2.0)).all())


if __name__ == "__main__":
    unittest.main()
