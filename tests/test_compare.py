"""Which method is advised: the rule held against every choice, and every sentence against the numbers that it tells."""

from __future__ import annotations

import re
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from tests import examples
from wise_compass.drafting.wording import Style
from wise_compass.figures.catalogue import catalogue
from wise_compass.study.compare import Comparison, advice, compare, recommended

METHODS = list(catalogue()["ellipse"].methods.values())


def row(k: int, steps: int, miss: float, scatter: float, refusal: str = "") -> Comparison:
    return Comparison(METHODS[k], steps, steps, 40.0, miss, "mm", scatter, "P3", refusal)


ROWS = st.lists(
    st.tuples(
        st.integers(1, 40), st.sampled_from([0.0, 0.0, 0.4]), st.floats(0.05, 9.0), st.sampled_from(["", "", "", "no"])
    ),
    min_size=1,
    max_size=len(METHODS),
).map(lambda rows: [row(k, *one) for k, one in enumerate(rows)])
some = settings(max_examples=examples(300), deadline=None)


class Advised(unittest.TestCase):
    @some
    @given(ROWS.filter(lambda rows: any(not one.refusal for one in rows)))
    def test_exact_first_then_steady_unless_far_shorter_and_nearly_as_good(self, rows: list[Comparison]) -> None:
        best = recommended(rows)
        self.assertFalse(best.refusal, "one that serves")
        serving = [one for one in rows if not one.refusal]
        if any(one.exact for one in serving):
            self.assertTrue(best.exact, "an exact one where there is one")
        rivals = [one for one in serving if one.exact == best.exact]
        least = min(one.scatter for one in rivals)
        steadiest = next(one for one in rivals if one.scatter == least)
        if best is not steadiest:
            self.assertLessEqual(best.steps, 0.7 * steadiest.steps)
            self.assertLessEqual(best.scatter, 1.25 * least)
        for other in rivals:
            if other.scatter <= 1.25 * least and other.steps <= 0.7 * steadiest.steps:
                self.assertLessEqual(best.steps, other.steps, "none that is as good is shorter")

    @some
    @given(
        ROWS.filter(lambda rows: any(not one.refusal for one in rows)),
        st.sampled_from(["mm", "in"]),
        st.sampled_from([1.0, 0.1]),
    )
    def test_what_is_said_is_so(self, rows: list[Comparison], units: str, scale: float) -> None:
        style = Style(units)
        best, says = recommended(rows), advice(rows, style, scale)
        self.assertTrue(says.startswith(best.method.title.capitalize()), says)
        self.assertEqual("approximate by" in says, not best.exact, says)
        self.assertNotRegex(says, r"\b1 steps|\b(?:[02-9]|\d\d+) step\b")
        self.assertIn(style.short(best.scatter * scale), says)
        self.assertEqual("true)" in says, scale != 1.0, says)
        others = [one for one in rows if not one.refusal and one is not best]
        if not others:
            self.assertEqual("No other method serves" in says, len(rows) > 1)
            return
        second = re.split(r"(?<=[a-z)])\. ", says)[-1]
        near = next(one for one in others if second.startswith(one.method.title.capitalize()))
        told = re.search(r"takes (\d+) steps?", second), re.search(r"is (\d+) steps? shorter", second)
        if told[0]:
            self.assertEqual(int(told[0][1]), near.steps)
            self.assertGreater(near.steps, best.steps)
        if told[1]:
            self.assertEqual(int(told[1][1]), best.steps - near.steps)
        self.assertEqual("however steady the hand" in second, best.exact and not near.exact)
        self.assertEqual("scatters to" in second, near.scatter > 1.02 * best.scatter)


class Run(unittest.TestCase):
    def test_every_figure_is_advised_one_of_its_own_methods(self) -> None:
        for name in ("ellipse", "polygon-on-side", "pictorial-circle", "divide-line"):
            figure = catalogue()[name]()
            rows = compare(figure)
            self.assertEqual([one.method.id for one in rows], list(figure.methods))
            for one in rows:
                self.assertEqual(bool(one.refusal), one.method.fits(figure) is not None)
                if not one.refusal:
                    self.assertEqual(one.steps, len(one.drawn))
                    self.assertGreaterEqual(one.scatter, 0.0)
            self.assertIn(recommended(rows).method.title.capitalize(), advice(rows))

    def test_at_a_scale_the_hand_is_as_steady_on_the_paper(self) -> None:
        """So in the field it is so much less steady."""
        figure = catalogue()["triangle-three-sides"]()
        at_size, small = (next(iter(compare(figure, None, scale))).scatter for scale in (1.0, 0.1))
        self.assertAlmostEqual(small * 0.1, at_size, delta=0.25 * at_size)


if __name__ == "__main__":
    unittest.main()
