"""What a kit cannot do of a step: every instrument just at its limit and just beyond it, at a scale too."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.kit import LIMITS, SQUARES, Kit
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.steps import Setting, Step
from wise_compass.drafting.wording import PLAIN

KIT = Kit(compass_least=2.0, compass_most=150.0, beam_most=0.0, dividers_most=120.0, rule_long=300.0)
HAIR = 1e-9


def step(instrument: str, *sizes: float, unit: str = "mm", n: int = 3) -> Step:
    return Step(n, "Axes", "", instrument, settings=[Setting(size, unit) for size in sizes])


class EachInstrument(unittest.TestCase):
    def lack(self, one: Step, kit: Kit = KIT, scale: float = 1.0) -> str:
        """What is told of a step; empty where the kit does it."""
        found = lacks([one], kit, scale)
        self.assertLessEqual(len(found), 2)
        for lack in found:
            self.assertEqual(lack.step, 3)
            self.assertTrue(lack.way, "there is always a way round")
        return "; ".join(PLAIN.say(lack.says) for lack in found)

    def test_just_at_the_limit_it_serves_and_beyond_it_does_not(self) -> None:
        for instrument, most, what in (
            ("Compass", KIT.compass_most, "opens to 150 mm"),
            ("Dividers", KIT.dividers_most, "open to 120 mm"),
            ("Rule", KIT.rule_long, "is 300 mm long"),
        ):
            for scale in (1.0, 0.5, 2.0):
                self.assertEqual(
                    self.lack(step(instrument, 20.0 / scale, most / scale + HAIR), scale=scale), "", instrument
                )
                told = self.lack(step(instrument, (most + 0.02) / scale), scale=scale)
                self.assertIn(what, told)
                self.assertIn(f"{most + 0.02:.2f} mm", told)
        self.assertEqual(self.lack(step("Compass", KIT.compass_least)), "")
        self.assertIn("closes to 2 mm", self.lack(step("Compass", 1.9)))
        self.assertEqual(self.lack(step("Compass", 0.0)), "", "an opening of nothing is none")

    def test_both_ends_of_a_compass_are_told(self) -> None:
        told = self.lack(step("Compass", 1.0, 200.0))
        self.assertIn("closes to", told)
        self.assertIn("there is no beam compass", told)
        self.assertIn(
            "the beam compass reaches 180 mm", self.lack(step("Compass", 200.0), KIT._replace(beam_most=180.0))
        )
        self.assertEqual(self.lack(step("Compass", 200.0), KIT._replace(beam_most=200.0)), "")

    def test_what_is_not_there_at_all(self) -> None:
        for instrument, kit, what in (
            ("Dividers", KIT._replace(dividers_most=0.0), "no dividers"),
            ("Protractor", KIT._replace(protractor_by=0.0), "no protractor"),
            ("Curve", KIT._replace(curves=False), "no drawing curve"),
            ("Set square", KIT._replace(squares="none"), "no set square to slide"),
        ):
            one = step(instrument)
            self.assertIn(what, self.lack(one, kit))
            self.assertEqual(self.lack(one), "")

    def test_a_set_square_draws_its_own_leans_on_every_side(self) -> None:
        for squares, leans in SQUARES.items():
            for quarter in (-180.0, -90.0, 0.0, 90.0, 180.0):
                for lean in (15.0, 30.0, 45.0, 60.0, 75.0, 37.0):
                    told = self.lack(step("Set square", quarter + lean, unit="°"), KIT._replace(squares=squares))
                    served = any(abs((quarter + lean) % 90.0 - one) < 1e-6 for one in leans)
                    if quarter >= 0:
                        self.assertEqual(told == "", served, f"{squares} {quarter + lean}")
                if squares != "none":
                    self.assertEqual(
                        self.lack(step("Set square", quarter, unit="°"), KIT._replace(squares=squares)), ""
                    )

    def test_a_scale_rule_is_missed_only_where_lengths_are_laid_off_at_a_scale(self) -> None:
        kit = KIT._replace(scale_rules=False)
        self.assertIn("1:5", self.lack(step("Rule", 500.0), kit, 0.2))
        self.assertEqual(self.lack(step("Rule", 100.0), kit), "")
        self.assertEqual(self.lack(step("Rule"), kit, 0.2), "")
        self.assertEqual(self.lack(step("Protractor", 30.0, unit="°"), kit, 0.2), "")

    def test_words_are_no_sizes(self) -> None:
        told = Step(3, "Axes", "", "Compass", settings=[Setting(900.0, "mm", words="VF")])
        self.assertEqual(self.lack(told), "")


class OfManySteps(unittest.TestCase):
    def test_the_first_step_of_a_kind_tells_it(self) -> None:
        every = [
            step("Compass", 10.0, n=1),
            step("Compass", 400.0, n=2),
            step("Compass", 500.0, n=3),
            step("Rule", 900.0, n=4),
        ]
        self.assertEqual([(lack.step, lack.length) for lack in lacks(every, KIT)], [(2, True), (4, True)])

    @settings(max_examples=examples(80), deadline=None)
    @given(st.data())
    def test_more_of_everything_lacks_no_more(self, data: st.DataObject) -> None:
        """A kit whose instruments reach further in every way does whatever the other does."""
        sizes = {name: data.draw(st.floats(*limits), name) for name, limits in LIMITS.items()}
        small = Kit(**sizes)
        better = small._replace(
            compass_least=LIMITS["compass_least"][0],
            compass_most=600.0,
            beam_most=5000.0,
            dividers_most=600.0,
            rule_long=2000.0,
        )
        steps = [
            step(
                data.draw(st.sampled_from(["Compass", "Dividers", "Rule"])), data.draw(st.floats(0.0, 6000.0)), n=k + 1
            )
            for k in range(4)
        ]
        for one in steps:
            if not lacks([one], small):
                self.assertEqual(lacks([one], better), [])


if __name__ == "__main__":
    unittest.main()
