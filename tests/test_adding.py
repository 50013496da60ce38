"""The page that tells how a figure is added: its example is a figure. Steps and truths of all figures, too."""

from __future__ import annotations

import re
import sys
import types
import unittest
from pathlib import Path

import numpy as np

from tests.parted import parted
from tests.test_catalogue import Asked, Checked, every_method, fitting
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.recorder import NoMeet
from wise_compass.drafting.run import run, run_slips
from wise_compass.drafting.wording import PLAIN
from wise_compass.words.filling import fill
from wise_compass.words.lexicon import figure_words
from wise_compass.words.statement import Statement

PAGE = Path(__file__).parent.parent / "docs" / "adding-a-figure.md"
NAME = "tests.added"
HOLE = re.compile(r" [.,;:)]|\b(from|at|through|and|of|with)[.,;:]|  |\bNone\b|\{\w*\}")
"""A sentence in which a spot without a name has left a hole."""


def added() -> type[Figure]:
    """The figure of the page, built from its code as it stands there."""
    code = "\n\n".join(re.findall(r"```python\n(.*?)```", PAGE.read_text("utf-8"), re.S))
    module = sys.modules[NAME] = types.ModuleType(NAME)
    try:
        exec(compile(code, str(PAGE), "exec"), module.__dict__)
    finally:
        Figure.catalogue.pop("segmental-arch", None)  # nobody else walks it
    kind: type[Figure] = module.SegmentalArch
    return kind


class Example(Checked):
    def test_it_is_a_figure_that_holds(self) -> None:
        kind = added()
        made = run(kind())
        self.check_run(made)
        self.assertEqual(set(kind.keys) - set(made.found), set())
        self.assertLessEqual(Asked(made.found).keys(), set(made.found))
        for value in made.values:
            np.testing.assert_allclose(made.measured[value.name], value.value, rtol=1e-9)
        self.assertEqual([value.name for value in made.values], list(kind.value_names))
        self.assertGreater(self.prove_drawn(kind), 0)
        self.assertLess(run_hands(made.figure, count=200).missed, 40)
        slips = run_slips(made.figure, usual=True)
        self.assertTrue(slips)
        self.assertFalse(HOLE.search(" ".join(PLAIN.say(step.says) for step in made.steps)))


class Words(unittest.TestCase):
    """The words of the page are read, and said."""

    def test_three_people_say_it(self) -> None:
        page = re.search(r"```words\n(.*?)```", PAGE.read_text("utf-8"), re.S)
        assert page is not None
        words = figure_words(page[1])
        self.assertEqual({*words.needs}, {*added().givens})
        for text in (
            "A segmental arch has a span of 900 mm and a rise of 200 mm. Draw it.",
            "Draw a segmental arch 900 mm wide, its crown 200 mm above the springing line.",
            "Segmental arch of 900 mm span and 200 mm rise, by bisectors.",
            re.sub(r"\{(\w+)\}", lambda one: {"span": "900 mm", "rise": "200 mm"}[one[1]], words.says),
        ):
            found = fill(Statement(text), words)
            self.assertEqual((found.givens, found.missing), ({"span": 900.0, "rise": 200.0}, []), text)
            self.assertEqual(found.method, "bisectors" if "bisectors" in text else "")
            self.assertGreaterEqual(found.named, 3.0, text)


class Sentences(unittest.TestCase):
    @parted(2)
    def test_no_step_of_any_method_has_a_hole_in_it(self, kinds: list[type[Figure]]) -> None:
        holes = []
        for kind, method in every_method():
            if kind in kinds:
                for step in run(fitting(kind, method), method.id).steps:
                    for words in (step.says, step.why):
                        if HOLE.search(PLAIN.say(words)):
                            holes.append(f"{kind.id} {method.id} step {step.n}: {PLAIN.say(words)}")
        self.assertEqual(holes, [])


class Independent(unittest.TestCase):
    @parted(4)
    def test_each_slip_of_a_methods_own_breaks_a_truth(self, kinds: list[type[Figure]]) -> None:
        """A truth that repeats the method's own arithmetic would hold whatever the hand did."""
        blind = []
        for kind, method in every_method():
            if kind in kinds:
                made = run(fitting(kind, method), method.id)
                for choice in made.choices:
                    try:
                        wrong = run(made.figure, method.id, slip=choice.id)
                    except NoMeet:
                        continue
                    with np.errstate(invalid="ignore", divide="ignore"):
                        if all(proof.holds for proof in wrong.proofs):
                            blind.append(f"{kind.id} {method.id} {choice.id}")
        self.assertEqual(blind, [])
