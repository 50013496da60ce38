"""Regular solids and breeches against what they are by definition: hulls, rays, and two skins that share a point."""

from __future__ import annotations

import re
import unittest
from typing import Any

import numpy as np
from scipy.spatial import ConvexHull

from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import CurveMark, Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.geometry.regular import SCHLAFLI


def figure(id: str, **givens: Any) -> Any:
    return make(figure_named(id), givens)


class RegularSolids(unittest.TestCase):
    def test_each_is_the_hull_of_its_corners_on_whatever_it_rests(self) -> None:
        for solid, (sides, meeting) in SCHLAFLI.items():
            for rests, low in (("face", sides), ("edge", 2), ("corner", 1)):
                one = figure("regular-solid", solid=solid, rests=rests, turn=33, edge=40)
                hull = ConvexHull(one.corners)
                values = {value.name: value.value for value in one.values("")}
                self.assertAlmostEqual(values["volume"] / hull.volume, 1.0, 9)
                self.assertAlmostEqual(values["surface"] / hull.area, 1.0, 9)
                heights = one.corners[:, 2]
                self.assertEqual(int((heights < heights.min() + 1e-6).sum()), low)
                planes = np.unique(np.round(hull.equations, 6), axis=0)
                self.assertEqual(len(planes), values["faces"])
                # the bottom of a solid that rests on its face is a plane of the hull, and the middle is over it
                self.assertAlmostEqual(
                    float(one.corners[heights < heights.min() + 1e-6].mean(axis=0)[:2] @ [1, 1]), 0.0
                )
                self.assertEqual(2 * len(one.edges), meeting * len(one.corners))

    def test_an_edge_is_seen_where_a_ray_to_the_eye_leaves_the_solid(self) -> None:
        looked = 0
        for solid in SCHLAFLI:
            for rests in ("face", "edge", "corner"):
                one = figure("regular-solid", solid=solid, rests=rests, turn=17, edge=40)
                planes = ConvexHull(one.corners).equations
                for sight in (np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0])):
                    seen, hidden = one.seen(one.corners, sight)
                    for pairs, shown in ((seen, True), (hidden, False)):
                        for a, b in pairs:
                            at = (one.corners[a] + one.corners[b]) / 2 + 1e-3 * sight
                            out = float((planes[:, :3] @ at + planes[:, 3]).max())
                            if abs(out) > 1e-7:  # a face seen on edge leaves it open
                                self.assertEqual(out > 0, shown, f"{solid} on its {rests}")
                                looked += 1
        self.assertGreater(looked, 450)

    def test_what_lies_behind_is_hidden_in_the_plan_too(self) -> None:
        made = run(figure("regular-solid", solid="icosahedron", rests="corner", turn=8))
        steps = [step for step in made.steps if step.sentence().endswith("in the new plan.")]
        drawn = [[mark.role for mark in step.marks if isinstance(mark, CurveMark)] for step in steps]
        # five edges go up from the corner it rests on, five join their ends; the eye over it sees all others
        self.assertEqual(drawn, [[Role.OUTLINE] * 20, [Role.HIDDEN] * 10])


class BreechesMeet(unittest.TestCase):
    def test_every_joint_lies_on_two_skins(self) -> None:
        for givens in ({}, {"leg_diameter": 84}, {"spread": 14, "leg_diameter": 30, "leg_length": 160}, {"spread": 80}):
            one = figure("breeches", **givens)
            turns = np.linspace(0.0, 360.0, 97)
            at = one.end(turns) + one.lengths(turns)[:, None] * one.inward(turns)
            for p, turn in zip(at, turns.tolist()):
                if one.between_legs(turn):
                    self.assertAlmostEqual(float(p[0]), 0.0, 9)
                else:
                    self.assertAlmostEqual(float(np.hypot(p[0], p[1])), one.main, 8)
                    self.assertGreaterEqual(float(p[0]), -1e-9)
            fork = np.array([0.0, one.main, one.fork])
            ahead = float(fork @ one.along)
            aside = float(np.sqrt(fork @ fork - ahead**2))
            skin = one.main / np.cos(np.deg2rad(one.lean)) - ahead * np.tan(np.deg2rad(one.lean))
            self.assertAlmostEqual(aside, float(skin), 9)

    def test_the_least_leg_that_is_named_will_do(self) -> None:
        for givens in ({"leg_length": 30}, {"leg_length": 70, "spread": 20}, {"leg_length": 30, "spread": 70}):
            with self.assertRaises(Refused) as caught:
                figure("breeches", **givens)
            said = re.search(r"least\|(\d+\.?\d*)", caught.exception.template)
            assert said is not None
            figure("breeches", **{**givens, "leg_length": float(said[1]) + 0.01})


if __name__ == "__main__":
    unittest.main()
