"""Problems set: they fit paper and kit, are held by their code, never alike in a class, and told in words."""

from __future__ import annotations

import pickle
import unittest
from collections.abc import Callable, Sequence
from itertools import pairwise, product
from typing import Any
from unittest import mock

import numpy as np

from tests.test_practice import hexagon
from wise_compass.drafting.figure import make
from wise_compass.drafting.kit import Drafter, Kit
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import ENTERED, catalogue
from wise_compass.practice.problems import Problem, fits_paper, problem_of, sheet_of
from wise_compass.practice.setting import Asked, set_class, set_problem


class Problems(unittest.TestCase):
    def test_every_figure_has_problems_that_fit_their_paper_and_kit_and_are_held_by_their_code(self) -> None:
        random, drafter = np.random.default_rng(11), Drafter(Kit(compass_most=130.0, beam_most=0.0))
        for figure in ENTERED:
            problem = set_problem(figure, random, drafter=drafter)
            made = problem.run(drafter)
            sheet = sheet_of(problem, made)
            self.assertTrue(sheet.room[0] >= 0 and sheet.room[1] >= 0, figure)
            self.assertEqual(lacks(made.steps, drafter.kit, problem.scale), [], figure)
            self.assertEqual(problem_of(problem.code), problem)
            self.assertEqual(problem_of(problem.code.lower()).givens, problem.givens)

    def test_problems_are_never_refused_whatever_the_seed_and_the_paper(self) -> None:
        for seed in range(3):
            random = np.random.default_rng(50 + seed)
            for figure in ENTERED:
                problem = set_problem(figure, random, ("A4", "A3", "A2")[seed])
                for value in problem.givens.values():
                    if isinstance(value, float) and 20 < value < 500 and value not in (45.0, 90.0, 180.0, 270.0):
                        self.assertTrue(
                            value % 5 or value in {given.default for given in problem.kind.givens.values()}, problem
                        )

    def test_a_class_set_never_repeats_and_a_seed_sets_it_again_on_however_many_processors(self) -> None:
        def elsewhere(do: Callable[[Any], Any], parts: Sequence[Any], hear: object) -> list[Any]:
            return [pickle.loads(pickle.dumps(do(pickle.loads(pickle.dumps(part))))) for part in parts]

        asked = [Asked("square-on-side")] * 120
        once = set_class(asked, np.random.default_rng(3))
        with mock.patch("wise_compass.practice.setting.on_all_cores", elsewhere):
            again = set_class(asked, np.random.default_rng(3))
        self.assertEqual(once, again)
        self.assertEqual(len({repr(one.givens) for one in once}), 120)
        self.assertNotEqual(once[0], set_class(asked[:1], np.random.default_rng(4))[0])

    def test_a_class_for_whom_there_is_no_problem_is_refused_as_one_pupil_is(self) -> None:
        drafter = Drafter(Kit(compass_least=20.0, compass_most=21.0, beam_most=0.0))
        with self.assertRaises(Refused) as caught:
            set_class([Asked("polygon-in-circle", drafter=drafter)] * 2, np.random.default_rng(0))
        self.assertIn("this kit", caught.exception.says)
        there = pickle.loads(pickle.dumps(caught.exception))  # as from another process
        self.assertEqual(
            (there.given, there.template, str(there)),
            (caught.exception.given, caught.exception.template, caught.exception.says),
        )

    def test_a_paper_takes_what_can_be_laid_out_on_it(self) -> None:
        for side in (40.0, 90.0, 110.0, 250.0):
            for paper, scale in product(("A4", "A3"), (0.5, 1.0, 2.0)):
                problem = Problem("polygon-on-side", "circumcentre", {"side": side, "sides": 6}, paper, scale)
                try:
                    sheet_of(problem)
                except Refused:
                    self.assertFalse(fits_paper(problem), problem)
                else:
                    self.assertTrue(fits_paper(problem), problem)

    def test_solids_are_told_in_words_and_cut_through_an_axis(self) -> None:
        random = np.random.default_rng(5)
        bends = 0
        for _ in range(24):
            problem = set_problem("section-view", random, "A3")
            rows, stretches = problem.givens["rows"], problem.givens["stretches"]
            run, across = (0, 1) if problem.givens["along"] == "front" else (1, 0)
            self.assertRegex(problem.words(), r"a box of [\d.]+ × [\d.]+ × [\d.]+ at \(0, 0, 0\)")
            self.assertNotIn("box,", problem.words())
            for row in rows:
                self.assertTrue(all(round(10 * x, 6).is_integer() for x in row[1:]), row)  # handy on a rule
            axes = {round(row[1 + across] + row[4 + across] / 2, 3) for row in rows if row[0] in ("cylinder", "hole")}
            self.assertLessEqual({at for _, _, at in stretches}, axes)
            self.assertEqual((stretches[0][0], stretches[-1][1]), (0.0, rows[0][4 + run]))
            for (_, bend, _), _ in pairwise(stretches):
                bends += 1
                for row in rows[2:]:  # what is round is not cut by the step itself
                    self.assertFalse(row[1 + run] < bend < row[1 + run] + row[4 + run] and row[0] == "hole", row)
        self.assertGreater(bends, 0)

    def test_gears_have_modules_that_cutters_are_made_for(self) -> None:
        random = np.random.default_rng(8)
        modules = {set_problem("gear-pair", random).givens["module"] for _ in range(30)}
        self.assertLessEqual(modules, {3.5, 4.0, 4.5, 5.0, 5.5, 6.0})  # ISO 54, first and second choice
        self.assertGreater(len(modules), 3)

    def test_a_kit_that_can_do_nothing_of_it_is_told(self) -> None:
        with self.assertRaises(Refused) as caught:
            set_problem(
                "polygon-in-circle",
                np.random.default_rng(0),
                drafter=Drafter(Kit(compass_least=20.0, compass_most=21.0, beam_most=0.0)),
            )
        self.assertIn("this kit", caught.exception.says)

    def test_names_of_rows_keep_their_small_letters_in_a_code(self) -> None:
        rows = [
            ["circle", "Aa", 0, 0, 26, "left"],
            ["circle", "b2", 100, 0, 15, "left"],
            ["tangent", "S", "Aa", "b2"],
            ["arc", "F", 72, "right", "b2", "Aa", "right"],
        ]
        givens = make(catalogue()["tangent-profile"], {"rows": rows, "path": ["Aa", "S", "b2", "F"]}).stored()
        problem = Problem("tangent-profile", "offsets", givens, "A3", 1.0, "landscape", "first", None)
        self.assertNotRegex(problem.code, "[a-z]")
        self.assertEqual(problem_of(problem.code).givens, givens)

    def test_a_code_that_is_none_is_refused_in_a_line(self) -> None:
        good = hexagon().code
        for code in (
            "",
            "WC1",
            "WC9/X",
            good + "/4",
            good.replace("CIRCUM", "ROUND"),
            good.replace("/6", "/two"),
            good.replace("1:1", "1:0"),
        ):
            with self.assertRaises(Refused):
                problem_of(code).made()
