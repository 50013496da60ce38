"""What people type, what hands scatter, what slips do: the language under the catalogue."""

from __future__ import annotations

import math
import unittest

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.figure import make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.instruments import TOLERANCES, UnsteadyHands
from wise_compass.drafting.parse import parse_quantity
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.drafting.wording import Style, power_of_ten
from wise_compass.figures.catalogue import figure_named


class Typed(unittest.TestCase):
    def test_lengths(self) -> None:
        for text, value in {
            "88": 88,
            "88 mm": 88,
            "8.8 cm": 88,
            "0.5m": 500,
            "3 7/16 in": 87.3125,
            "7/16 in": 11.1125,
            '2 1/2"': 63.5,
            "2*36+5": 77,
            "sqrt(3)*20": 34.64101615137755,
            "√2*10": 14.142135623730951,
            "2*(3 + 4) mm": 14,
            "-3": -3,
            "1e2": 100,
            "pi*40": 40 * math.pi,
            "2^3": 8,
            "100/4 mm": 25,
            "3 in + 1 mm": 77.2,
            "8-3/16in": 8.1875 * 25.4,
            "3½ in": 88.9,
            "½": 0.5,
            "5' 3 1/2\"": 63.5 * 25.4,
            "2 ft": 609.6,
            "75*tan(35°)": 75 * math.tan(math.radians(35)),
            "100*sin(30)": 50,
            "acos(0.5)": 60,
        }.items():
            self.assertAlmostEqual(parse_quantity(text, "length"), value, places=12, msg=text)
        self.assertAlmostEqual(parse_quantity("3 7/16", "length", bare=25.4), 87.3125)

    def test_angles(self) -> None:
        for text, value in {
            "37.5": 37.5,
            "37,5": 37.5,
            "37°30'": 37.5,
            "37° 30′ 36″": 37.51,
            "45 deg": 45,
            "180/7": 180 / 7,
            "0.5 rad": math.degrees(0.5),
            "2*atan(1)": 90,
        }.items():
            self.assertAlmostEqual(parse_quantity(text, "angle"), value, places=12, msg=text)

    def test_what_cannot_be_read_is_answered_with_a_remedy(self) -> None:
        for text, hint in {
            "1,250": "1250 or 1.250",
            "8,8,8": "one number",
            "": "such as 88",
            "88 xx": "88",
            "8 cm + 5": "mixes",
            "3+7/16 in": "mixes",
            "tan(90)": "no value",
            "1/0": "zero",
            "2 +": "finish",
            "(3": "bracket",
            "sqrt(-1)": "positive",
            "9^99": "16",
            "3 mm * 4 mm": "unit",
            "import os": "cannot be read",
            "1e999": "large",
            "9" * 300: "200",
            "(" * 60: "nested",
        }.items():
            with self.assertRaises(Refused, msg=text) as caught:
                parse_quantity(text, "length")
            self.assertIn(hint, caught.exception.says)

    def test_numbers_are_worded_for_people(self) -> None:
        self.assertEqual(power_of_ten(3.2e-14), "3 × 10⁻¹⁴")
        self.assertEqual(Style("in", 2).length(87.3125), "3.438 in")


class Hands(unittest.TestCase):
    def test_a_compass_setting_scatters_as_the_table_says(self) -> None:
        hands = UnsteadyHands(20000, seed=3)
        draft = Draft(hands)
        centre = draft.start_at("O")
        circle = draft.compass(centre, 50.0)
        again = draft.compass(centre, 50.0)
        self.assertAlmostEqual(float(np.std(circle.radius[1:])), TOLERANCES["compass setting"].sd, delta=0.005)
        self.assertEqual(float(circle.radius[0]), 50.0, "lane 0 is the steady hand")
        self.assertIs(again.radius, circle.radius, "a kept opening keeps its error")
        self.assertTrue(draft.steps[-1].keep)

    def test_the_setting_that_matters_most_is_found(self) -> None:
        result = run_hands(make(figure_named("ellipse"), {}), "two-circles", 4000, seed=1)
        by_name = {one.name: one for one in result.values}
        self.assertIn("compass setting at 76.00 mm", by_name["level_extent"].most)
        self.assertIn("compass setting at 44.00 mm", by_name["upright_extent"].most)
        self.assertGreater(by_name["level_extent"].limit, 1.8 * by_name["level_extent"].sd)

    def test_a_thousand_hands_agree_with_runs_of_one(self) -> None:
        figure = make(figure_named("polygon-on-side"), {"sides": 7, "side": 40})
        many = {one.name: one.sd for one in run_hands(figure, None, 3000, seed=5).points}
        other = {one.name: one.sd for one in run_hands(figure, None, 3000, seed=6).points}
        for name, sd in many.items():
            self.assertAlmostEqual(sd, other[name], delta=0.1 * max(sd, 0.05))

    def test_counts_out_of_bounds_are_refused(self) -> None:
        for count in (0, 1, 10**9):
            with self.assertRaises(Refused):
                run_hands(make(figure_named("ellipse"), {}), None, count)


class Slips(unittest.TestCase):
    def slipped(self, figure: str, givens: dict[str, object]) -> dict[str, Run]:
        made = run_slips(make(figure_named(figure), givens))
        return {choice.id: one for choice, one in made if isinstance(one, Run)}

    def test_spiral_slips_measure_as_the_mistake_says(self) -> None:
        slips = self.slipped("archimedean-spiral", {"outer": 96, "inner": 24, "turns": 1.25})
        self.assertAlmostEqual(float(slips["one-space-too-many"].measured["space"]), 36 / 16)
        self.assertAlmostEqual(float(slips["turn-divisions"].measured["space"]), 36 / 12)
        self.assertAlmostEqual(float(slips["from-centre"].measured["space"]), 48 / 15)
        one_turn = self.slipped("archimedean-spiral", {"outer": 96, "inner": 0, "turns": 1})
        self.assertEqual(set(one_turn), {"one-space-too-many"}, "the others are no mistakes here")

    def test_exchanged_circles_set_the_ellipse_upright(self) -> None:
        made = self.slipped("ellipse", {"long": 152, "wide": 88})["circles-exchanged"]
        self.assertAlmostEqual(float(made.measured["level_extent"]), 88)
        self.assertAlmostEqual(float(made.measured["upright_extent"]), 152)


class Language(unittest.TestCase):
    def test_lines_that_do_not_meet_stop_with_the_step(self) -> None:
        draft = Draft()
        a, b = draft.start_at("A"), draft.plot("B", 90, 0)
        one, two = draft.compass(a, 20, "Swing about A."), draft.compass(b, 20, "Swing about B.")
        with self.assertRaises(NoMeet) as caught:
            draft.meet(one, two, "C")
        self.assertIn("Swing about B", caught.exception.says)

    def test_a_long_opening_takes_the_beam_compass(self) -> None:
        draft = Draft()
        draft.compass(draft.start_at("O"), 200.0)
        step = draft.steps[-1]
        self.assertEqual(
            [step.tool(), step.tool(0.5), step.setting(scale=0.5)], ["Beam compass", "Compass", "100.00 mm"]
        )

    def test_an_approximate_method_never_claims_more(self) -> None:
        kind = figure_named("polygon-on-side")
        for sides in (3, 5, 7, 24):
            made = run(kind(sides=sides), "centre-ladder")
            self.assertTrue(all(proof.by_design and not proof.holds for proof in made.proofs[:2]), sides)
        for sides in (4, 6):
            self.assertTrue(
                all(proof.holds and not proof.by_design for proof in run(kind(sides=sides), "centre-ladder").proofs)
            )
