"""Linkages, cams, gears and loci against what they are by definition, found by other means than theirs."""

from __future__ import annotations

import random
import unittest
from typing import Any

import numpy as np

from wise_compass.drafting.figure import make
from wise_compass.drafting.marks import Role
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import figure_named
from wise_compass.study.gaps import gaps
from wise_compass.study.motion import motion_of

TURNS = np.linspace(0.0, 360.0, 10_001)


def figure(id: str, **givens: Any) -> Any:
    return make(figure_named(id), givens)


def rotated(at: np.ndarray, turn: float) -> np.ndarray:
    c, s = np.cos(np.deg2rad(turn)), np.sin(np.deg2rad(turn))
    return at @ np.array([[c, s], [-s, c]])


class Linkages(unittest.TestCase):
    def test_they_close_at_ten_thousand_angles(self) -> None:
        crank = figure("slider-crank", crank=31, rod=74, offset=-18, along=20, off=9)
        pin, slider = crank.link_at(TURNS)
        np.testing.assert_allclose(np.hypot(*pin.T), 31, atol=1e-9)
        np.testing.assert_allclose(np.hypot(*(slider - pin).T), 74, atol=1e-9)
        np.testing.assert_allclose(slider[:, 1], -18, atol=1e-12)
        self.assertLess(slider[:, 0].max() - slider[:, 0].min(), crank.ends[0] - crank.ends[1] + 1e-9)
        for mode, side in (("open", 1.0), ("crossed", -1.0)):
            bar = figure("four-bar", ground=81, crank=27, coupler=66, rocker=57, mode=mode)
            pin, end = bar.link_at(TURNS)
            np.testing.assert_allclose(np.hypot(*(end - pin).T), 66, atol=1e-9)
            np.testing.assert_allclose(np.hypot(*(end - np.array([81.0, 0.0])).T), 57, atol=1e-9)
            way, arm = np.array([81.0, 0.0]) - pin, end - pin
            self.assertTrue((np.sign(way[:, 0] * arm[:, 1] - way[:, 1] * arm[:, 0]) == side).all())
        rod = figure("sliding-rod", length=90, angle=62, along=-25, off=13)
        one, other = rod.link_at(TURNS)
        np.testing.assert_allclose(np.hypot(*(other - one).T), 90, atol=1e-9)
        np.testing.assert_allclose(one[:, 1], 0.0, atol=1e-9)
        np.testing.assert_allclose(
            other[:, 0] * np.sin(np.deg2rad(62)) - other[:, 1] * np.cos(np.deg2rad(62)), 0.0, atol=1e-9
        )

    def test_what_they_carry_is_shown_square_off_its_link(self) -> None:
        for id in ("slider-crank", "four-bar", "sliding-rod"):
            moved = figure(id, along=23, off=11)
            for turn in (20.0, 75.0):
                shown = moved.mechanism(run(moved).found, turn)
                (one, other), (start, foot, end) = shown.lines[:2]
                np.testing.assert_allclose(start, one)
                np.testing.assert_allclose(end, moved.carried(turn))
                way = (other - one) / np.hypot(*(other - one))
                self.assertAlmostEqual(float((foot - one) @ way), 23.0)
                self.assertAlmostEqual(float(way[0] * (foot - one)[1] - way[1] * (foot - one)[0]), 0.0)
                self.assertAlmostEqual(float(way[0] * (end - foot)[1] - way[1] * (end - foot)[0]), 11.0)
                self.assertAlmostEqual(float((end - foot) @ way), 0.0)

    def test_their_walk_glides_from_division_to_division(self) -> None:
        for id in ("slider-crank", "four-bar", "sliding-rod", "cam", "gear-pair"):
            motion = motion_of(run(figure(id)))
            assert motion is not None, id
            for step, station in zip(motion.steps[1:-1], motion.stations[1:-1]):
                self.assertAlmostEqual(motion.place(float(step)), float(station), 9)
                found = motion.frame(float(step))
                self.assertTrue(all(np.isfinite(line).all() for line in found.lines), id)


class Cams(unittest.TestCase):
    """A cam is turned under its follower: how high that stands is looked for on the profile, point by point."""

    ROWS = (
        [("harmonic", 110.0, 22.0), ("dwell", 50.0, 0.0), ("cycloidal", 130.0, -22.0), ("dwell", 70.0, 0.0)],
        [("parabolic", 150.0, 18.0), ("parabolic", 60.0, 6.0), ("harmonic", 150.0, -24.0)],
        [("cycloidal", 180.0, 20.0), ("parabolic", 180.0, -20.0)],
    )

    def profile(self, cam: Any) -> np.ndarray:
        rows = [cam.contact(one, np.linspace(one.first, one.last, 6000)) for one in cam.stretches]
        return np.concatenate(rows)

    def test_the_follower_rides_on_the_profile_and_is_nowhere_cut(self) -> None:
        looked = 0
        for rows in self.ROWS:
            for hand, offset in (("clockwise", 0.0), ("anticlockwise", 7.0), ("clockwise", -11.0)):
                for follower in ("roller", "flat"):
                    cam = figure(
                        "cam", rows=rows, follower=follower, hand=hand, offset=offset, base_radius=48, roller=14
                    )
                    self.assertIsNone(cam.undercut)
                    at, way = self.profile(cam), -1.0 if hand == "clockwise" else 1.0
                    for turn in np.linspace(1.0, 359.0, 41):
                        one = next(one for one in cam.stretches if one.first <= turn <= one.last)
                        lift = float(one.height(turn))
                        turned = rotated(at, way * turn)
                        if follower == "flat":
                            self.assertAlmostEqual(float(turned[:, 1].max()), 48 + lift, 4)
                        else:
                            centre = np.array([offset, np.sqrt(55.0**2 - offset**2) + lift])
                            self.assertAlmostEqual(float(np.hypot(*(turned - centre).T).min()), 7.0, 4)
                        looked += 1
        self.assertEqual(looked, 3 * 3 * 2 * 41)

    def test_the_pressure_angle_is_that_of_the_path_and_the_normal(self) -> None:
        cam = figure("cam", rows=self.ROWS[0], follower="knife", offset=6, base_radius=40)
        steepest = {True: 0.0, False: 0.0}
        for one in cam.stretches:
            if one.law == "dwell":
                continue
            turns = np.linspace(one.first, one.last, 20001)[1:-1]
            path = cam.tip(one, turns)
            along = np.gradient(path, axis=0)
            travel = np.stack([-np.sin(np.deg2rad(turns)), np.cos(np.deg2rad(turns))], axis=-1)
            cosine = np.abs((along * travel).sum(axis=1)) / np.hypot(*along.T)
            lean = np.degrees(np.arcsin(np.clip(cosine, 0.0, 1.0)))
            steepest[one.lift > 0] = max(steepest[one.lift > 0], float(lean[5:-5].max()))
        self.assertAlmostEqual(cam.pressure(True), steepest[True], 3)
        self.assertAlmostEqual(cam.pressure(False), steepest[False], 3)

    def test_the_plot_is_of_the_pressure_angle_and_the_diagram_is_lit_with_the_cam(self) -> None:
        cam = figure("cam", rows=self.ROWS[0], offset=6, base_radius=40)
        made = run(cam)
        (plot,) = cam.plots()
        self.assertAlmostEqual(float(plot.at[:, 1].max()), max(cam.pressure(True), cam.pressure(False)), 2)
        self.assertIn("over 30° is too much", plot.says)
        motion = motion_of(made)
        assert motion is not None

        def lifted(turn: float) -> float:
            if turn <= 110:
                return 11 * (1 - float(np.cos(np.pi * turn / 110)))
            share = min(max(turn - 160, 0) / 130, 1.0)
            return 22 * (1 - share + float(np.sin(2 * np.pi * share)) / (2 * np.pi))

        curves = [line for mark in made.marks if mark.role is Role.LOCUS for line in mark.polylines(400)]
        share = np.linspace(0, 1, 900)[:, None]
        dense = [one[0] + share * (one[-1] - one[0]) if len(one) == 2 else one for one in curves]
        for stop, place in zip(motion.steps, motion.stations):
            foot, top = motion.frame(float(stop)).lines[-1]
            self.assertAlmostEqual(float(top[1] - foot[1]), lifted(float(place)), 9)
            self.assertLess(min(float(np.hypot(*(line - top).T).min()) for line in dense), 0.5)
        self.assertEqual(figure("cam", rows=self.ROWS[0], follower="flat").plots(), ())

    def test_undercut_and_jumps_are_told(self) -> None:
        small = figure("cam", rows=[("harmonic", 60.0, 30.0), ("harmonic", 300.0, -30.0)], base_radius=10, roller=40)
        self.assertIsNotNone(small.undercut)
        self.assertTrue(any("undercut" in words for words in small.cautions()))
        jumping = figure("cam", rows=[("uniform", 180.0, 20.0), ("uniform", 180.0, -20.0)], follower="knife")
        self.assertEqual(sum("jumps" in words for words in jumping.cautions()), 2)

    def test_motions_that_make_no_turn_are_refused_with_what_would(self) -> None:
        for rows, words in (
            ([("harmonic", 100.0, 10.0), ("harmonic", 200.0, -10.0)], "Set the angle of row 2 to 260"),
            ([("harmonic", 180.0, 10.0), ("harmonic", 180.0, -8.0)], "Change a lift"),
            ([("harmonic", 180.0, -10.0), ("harmonic", 180.0, 10.0)], "Begin with row 2"),
        ):
            with self.assertRaises(Refused) as caught:
                figure("cam", rows=rows)
            self.assertIn(words, caught.exception.template)
        figure("cam", rows=[("harmonic", 100.0, 10.0), ("harmonic", 260.0, -10.0)])


class Gears(unittest.TestCase):
    def test_flanks_touch_on_the_line_of_action_and_their_normal_passes_the_pitch_point(self) -> None:
        pair = figure("gear-pair", module=4, teeth_1=17, teeth_2=43, pressure_angle=22)
        one, two = pair.wheels
        tangent, pitch = np.tan(np.deg2rad(22.0)), np.array([one.pitch, 0.0])
        centre = np.array([pair.pair.centres, 0.0])
        rolls = [np.linspace(0.5, float(wheel.roll_at(wheel.outside)), 40001) for wheel in (one, two)]
        for roll in np.linspace(14.0, 30.0, 9):
            turn = float(np.degrees(tangent)) - roll
            first = rotated(pair.flank(0, rolls[0]), turn)
            second = centre + rotated(pair.flank(1, rolls[1]) - centre, -turn * 17 / 43)
            # where the one is nearest to the other they touch, and there both run square to the line to the pitch point
            near = first[np.argmin(np.abs(rolls[0] - roll))]
            gap = np.hypot(*(second - near).T)
            k = int(np.argmin(gap))
            self.assertLess(float(gap[k]), 2e-3)
            for flank, at in ((first, int(np.argmin(np.abs(rolls[0] - roll)))), (second, k)):
                along = flank[at + 1] - flank[at - 1]
                normal = near - pitch
                if np.hypot(*normal) > 0.5:
                    square = float(along @ normal) / float(np.hypot(*along) * np.hypot(*normal))
                    self.assertLess(abs(square), 3e-3)

    def test_teeth_never_overlap_across_the_pitch_point(self) -> None:
        pair = figure("gear-pair")
        half = [wheel.tip_thickness / 2 for wheel in pair.wheels]
        self.assertTrue(all(size > 0 for size in half))
        teeth = np.array([90.0 / wheel.teeth - wheel.lean(wheel.pitch) for wheel in pair.wheels])
        np.testing.assert_allclose(teeth * [wheel.pitch for wheel in pair.wheels] * np.pi / 90.0, np.pi * 5 / 2)

    def test_a_flank_of_one_arc_strays_by_what_that_arc_is_off_the_involute(self) -> None:
        """Held against its own tooth's arc, however many teeth are drawn; where the flank begins on the base circle."""
        for teeth, shown in (((20, 26), "mesh"), ((17, 33), "wheels")):
            pair = figure("gear-pair", module=5, teeth_1=teeth[0], teeth_2=teeth[1], shown=shown)
            for z, gap in zip(teeth, gaps(run(pair, "arcs")), strict=True):
                outside, base, at_pitch = 2.5 * z + 5, 2.5 * z * np.cos(np.deg2rad(20)), np.tan(np.deg2rad(20))
                low = max(base, 2.5 * z - 6.25)
                t = np.linspace(np.sqrt((low / base) ** 2 - 1), np.sqrt((outside / base) ** 2 - 1), 801)
                flank = base * np.stack([np.cos(t) + t * np.sin(t), np.sin(t) - t * np.cos(t)], axis=1)
                centre = base * np.array([np.cos(at_pitch), np.sin(at_pitch)])
                turns = np.arctan2(*(flank[[0, -1]] - centre).T[::-1])
                around = np.linspace(turns.min() - 0.1, turns.max() + 0.1, 4001)
                arc = centre + base * at_pitch * np.stack([np.cos(around), np.sin(around)], axis=1)
                far = np.hypot(*arc.T)
                arc = arc[(far >= low) & (far <= outside)]
                off = np.hypot(*(arc[:, None] - flank).T).min(axis=0).max()
                self.assertAlmostEqual(gap.largest, float(off), delta=0.002)

    def test_whole_wheels_are_cut_out_as_closed_rims(self) -> None:
        made = run(figure("gear-pair", shown="wheels", teeth_1=12, teeth_2=15))
        for part, teeth in zip(made.parts, (12, 15), strict=True):
            ends = [(edge.start, edge.end) for edge in part.edges]
            self.assertEqual([end for _, end in ends], [start for start, _ in ends[1:]] + [ends[0][0]])
            self.assertTrue({key for pair in ends for key in pair} <= set(made.found))
            self.assertEqual(len(ends) % teeth, 0)


class Loci(unittest.TestCase):
    def test_drawn_loci_keep_both_distances(self) -> None:
        rng = random.Random(7)
        looked = 0
        while looked < 40:
            givens = {
                "radius_1": round(rng.uniform(0, 60), 1),
                "radius_2": round(rng.uniform(0, 60), 1),
                "distance": round(rng.uniform(10, 90), 1),
                "second": rng.choice(("circle", "line")),
                "kind": rng.choice(("sum", "difference")),
                "at": round(rng.uniform(-40, 90), 1),
            }
            try:
                locus = figure("equal-distance-locus", **givens)
            except Refused:
                continue
            looked += 1
            for t in locus.distances:
                x, y = locus.place(t)
                one = np.hypot(x, y) - givens["radius_1"]
                if givens["second"] == "line":
                    other = givens["distance"] - x if givens["kind"] == "sum" else x - givens["distance"]
                else:
                    other = np.hypot(x - givens["distance"], y) - givens["radius_2"]
                    other = -other if givens["kind"] == "sum" else other
                self.assertAlmostEqual(float(one), float(other), 6)
                self.assertAlmostEqual(float(one), t, 6)

    def test_normals_of_ray_curves_meet_in_the_instant_centre(self) -> None:
        for kind in ("conchoid", "limacon"):
            for at in (-70.0, -12.0, 25.0, 64.0):
                curve = figure("ray-curve", kind=kind, size=38, arm=52, at=at)
                centre = curve.instant_centre
                for side in (1, -1):
                    here = curve.place(np.array(at), side)
                    along = curve.place(np.array(at + 1e-4), side) - curve.place(np.array(at - 1e-4), side)
                    if np.hypot(*along) > 1e-7:
                        square = float(along @ (here - centre)) / float(np.hypot(*along) * np.hypot(*(here - centre)))
                        self.assertLess(abs(square), 1e-6)

    def test_areas_of_ovals_and_loops_are_those_of_their_outlines(self) -> None:
        for root in (25.0, 40.0, 47.0, 70.0):
            oval = figure("cassini-oval", foci=80, root=root)
            total = 0.0
            for curve, _, _ in oval.rows:
                x, y = curve.at(np.linspace(0.0, 360.0, 40001)).T
                if oval.eight:
                    x, y = x[x >= 0], y[x >= 0]
                total += abs(float(x[:-1] @ y[1:] - x[1:] @ y[:-1])) / 2 * (2 if oval.eight else 1)
            told = next(value.value for value in oval.values("arcs") if value.name == "area")
            self.assertAlmostEqual(total / told, 1.0, 4)
        loop = figure("ray-curve", kind="limacon", size=60, arm=24)
        turns = np.linspace(-np.arccos(24 / 60), np.arccos(24 / 60), 20001)
        swept = float(((60 * np.cos(turns) - 24) ** 2).mean() * (turns[-1] - turns[0]) / 2)
        self.assertAlmostEqual(loop.area[0] / swept, 1.0, 3)
