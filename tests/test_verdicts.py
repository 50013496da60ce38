"""Forty verdicts as a person reads them, pinned: what, at which step, by about how much, how sure, what to do.

Where they change on purpose: read them aloud, then write the file anew with ``WISE_COMPASS_PIN=1``.
"""

from __future__ import annotations

import json
import os
import unittest
from pathlib import Path

import numpy as np

from wise_compass.drafting.instruments import ErringHands
from wise_compass.drafting.run import lanes_of, run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.study.blunders import SETTINGS
from wise_compass.study.judge import Judge
from wise_compass.study.measures import Measurable, Taken
from wise_compass.study.verdicts import check, headline, sentence
from wise_compass.study.watch import what_to_measure

PINS = Path(__file__).parent / "verdicts.json"
FIGURES = ("triangle-three-sides", "ellipse", "rhombus", "parabola", "fillet", "true-shape", "frustum", "divide-line")


def told(judge: Judge, measures: list[Measurable], sizes: np.ndarray) -> str:
    taken = [Taken(one, round(float(size), 1), 0.2 if one.unit == "mm" else 0.4) for one, size in zip(measures, sizes)]
    checked = check(judge, taken)
    return f"{PLAIN.lettered(headline(checked))}. {PLAIN.say(sentence(checked))}"


def verdicts() -> dict[str, str]:
    """Of each figure: an honest drawing, one of which little is measured, two settings off, a slip, two at once."""
    made: dict[str, str] = {}
    for id in FIGURES:
        drawn = run(figure_named(id)())
        judge = Judge(drawn)
        measures = [one.measure for one in what_to_measure(judge).proposed]
        exact = judge.table_of(judge.lanes, measures)[0]
        made[f"{id}: exact"] = told(judge, measures, exact)
        made[f"{id}: one measure"] = told(judge, measures[:1], exact[:1])
        settings = [one for one in judge.strays[1] if one.tolerance in SETTINGS]
        for off, error in ((3.7, settings[0]), (10.0, settings[len(settings) // 2])):
            hand = ErringHands(2, {error.number: (0.0, off)})
            lanes = lanes_of(drawn.figure, drawn.method.id, 1, 0, drawn.conventions, 1.0, None, hand)
            made[f"{id}: step {error.step} off by {off}"] = told(judge, measures, judge.table_of(lanes, measures)[1])
        made[f"{id}: two things at once"] = told(judge, measures, exact + 9.0 * np.cos(np.arange(len(measures)) * 2.0))
    return made


class Verdicts(unittest.TestCase):
    def test_they_read_as_they_were_read_aloud(self) -> None:
        found = verdicts()
        if os.environ.get("WISE_COMPASS_PIN"):
            PINS.write_text(json.dumps(found, indent=1, ensure_ascii=False) + "\n", "utf-8")
        self.assertEqual(len(found), 40)
        self.assertEqual(found, json.loads(PINS.read_text("utf-8")))

    def test_none_says_what_a_teacher_could_make_nothing_of(self) -> None:
        for name, words in verdicts().items():
            self.assertNotRegex(words, r"\(straightedge\)|dividers was|apart\. It may be [^;]*\.$|\d\.\d{3}", name)
            self.assertTrue(words.endswith("."), name)


if __name__ == "__main__":
    unittest.main()
