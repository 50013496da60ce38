"""Walks the whole catalogue: every figure by every method, at its defaults and at drawn givens."""

from __future__ import annotations

import json
import math
import os
import unittest
from collections.abc import Iterator
from pathlib import Path

import numpy as np
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from tests.drawn import drawn_givens
from wise_compass.drafting.figure import Figure, Method, catalogue, make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_hands, run_slips

KNOWN = json.loads((Path(__file__).parent / "known-answers.json").read_text())
EXAMPLES = int(os.environ.get("WISE_COMPASS_EXAMPLES", "60"))


def fitting(kind: type[Figure], method: Method) -> Figure:
    """The figure at its defaults, or with the first whole number that the method serves for."""
    if method.fits(kind()) is None:
        return kind()
    for name, one in kind.givens.items():
        if one.kind == "count":
            for n in range(one.least, one.most + 1):  # type: ignore[attr-defined]
                if method.fits(kind(**{name: n})) is None:
                    return kind(**{name: n})
        if one.kind == "angle" and method.fits(kind(**{name: 60.0})) is None:
            return kind(**{name: 60.0})
    raise AssertionError(f"{kind.id} by {method.id} serves nothing")


def every_method() -> Iterator[tuple[type[Figure], Method]]:
    for kind in catalogue().values():
        for method in kind.methods.values():
            yield kind, method


def numbers(value: object) -> list[float]:
    if isinstance(value, (list, tuple)):
        return [x for part in value for x in numbers(part)]
    return [] if value is None else [float(value)]  # type: ignore[arg-type]


class Catalogue(unittest.TestCase):
    def check_run(self, made: Run) -> None:
        where = f"{made.figure.id} by {made.method.id} with {made.figure.stored()}"
        exact = made.method.exact(made.figure)
        self.assertTrue(made.proofs, where)
        for proof in made.proofs:
            self.assertTrue(math.isfinite(proof.miss), f"{where}: {proof}")
            self.assertTrue(proof.holds or (proof.by_design and not exact), f"{where}: {proof}")
        for value in made.values:
            self.assertTrue(value.working, where)
            self.assertTrue(all(math.isfinite(x) for x in numbers(value.value)), f"{where}: {value}")
        for name, at in made.found.items():
            self.assertTrue(np.isfinite(at).all(), f"{where}: {name} at {at}")

    def test_every_method_reads_as_a_construction(self) -> None:
        for kind, method in every_method():
            with self.subTest(figure=kind.id, method=method.id):
                made = run(fitting(kind, method), method.id)
                self.check_run(made)
                self.assertEqual([step.n for step in made.steps], list(range(1, len(made.steps) + 1)))
                for step in made.steps:
                    self.assertTrue(step.phase and step.instrument and step.sentence().endswith("."), step)

    def test_values_light_up_spots_that_some_method_finds(self) -> None:
        for kind in catalogue().values():
            runs = [run(fitting(kind, method), method.id) for method in kind.methods.values()]
            spots = {name for made in runs for name in made.found}
            for made in runs:
                for value in made.values:
                    self.assertLessEqual(set(value.marks), spots, f"{kind.id}: {value}")

    def test_listed_values_all_come_out(self) -> None:
        for kind in catalogue().values():
            with self.subTest(figure=kind.id):
                names = {v.name for m in kind.methods.values() for v in run(fitting(kind, m), m.id).values}
                self.assertLessEqual(set(kind.value_names), names)

    def test_what_the_drawing_measures_is_what_the_formula_says(self) -> None:
        for kind, method in every_method():
            with self.subTest(figure=kind.id, method=method.id):
                made = run(fitting(kind, method), method.id)
                for value in made.values:
                    if value.name in made.measured and (method.exact(made.figure) or value.drawn):
                        self.assertTrue(
                            np.allclose(np.asarray(made.measured[value.name], dtype=float), value.value, rtol=1e-9, atol=1e-7),
                            value,
                        )

    def test_drawn_givens_prove_or_are_refused_by_name(self) -> None:
        for kind in catalogue().values():
            with self.subTest(figure=kind.id):
                self.assertGreater(self.prove_drawn(kind), EXAMPLES // 16, "most drawn givens were refused")

    def prove_drawn(self, kind: type[Figure]) -> int:
        """How many runs at drawn givens were proved; fails at the first that neither proves nor is refused well."""
        proved = 0

        @settings(
            max_examples=EXAMPLES,
            deadline=None,
            derandomize=True,
            phases=[Phase.explicit, Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(drawn_givens(kind))
        def check(values: dict[str, object]) -> None:
            nonlocal proved
            try:
                figure = make(kind, values)
            except Refused as refusal:
                self.assertIn(refusal.given, kind.givens, refusal.says)
                self.assertIn(refusal.given, refusal.says)
                return
            for method in kind.methods.values():
                try:
                    made = run(figure, method.id)
                except Refused as refusal:
                    self.assertIsNotNone(method.fits(figure), f"{figure.stored()} {method.id}: {refusal.says}")
                    self.assertTrue(refusal.given in kind.givens or refusal.given == "method", refusal.says)
                    continue
                self.check_run(made)
                proved += 1

        check()
        return proved

    def test_unsteady_hands_scatter_about_the_exact_figure(self) -> None:
        for kind, method in every_method():
            with self.subTest(figure=kind.id, method=method.id):
                figure = fitting(kind, method)
                result = run_hands(figure, method.id, 200, seed=7)
                self.assertLess(result.missed, 40)
                self.assertTrue(any(one.sd > 0 for one in result.points))
                for one in result.points:
                    self.assertLess(one.sd, 60.0, one)
                    self.assertTrue(one.most)
                again = run_hands(figure, method.id, 200, seed=7)
                self.assertEqual([o.sd for o in result.points], [o.sd for o in again.points])

    def test_slips_break_the_figure(self) -> None:
        for kind, method in every_method():
            made = run(fitting(kind, method), method.id)
            for choice, slipped in run_slips(made.figure, method.id):
                with self.subTest(figure=kind.id, method=method.id, slip=choice.id):
                    self.assertTrue(choice.says.endswith("."))
                    if isinstance(slipped, Run):
                        self.assertTrue(any(not proof.holds for proof in slipped.proofs))

    def test_third_angle_and_numbered_views_prove_alike(self) -> None:
        from wise_compass.drafting.draft import Conventions

        for kind, method in every_method():
            if kind.views:
                for lettering in ("primes", "numbers"):
                    self.check_run(run(fitting(kind, method), method.id, Conventions("third", lettering)))


class KnownAnswers(unittest.TestCase):
    def test_every_public_case_comes_out(self) -> None:
        tried = 0
        for case in KNOWN:
            if case["figure"] not in catalogue():
                continue
            with self.subTest(case=case):
                made = run(make(catalogue()[case["figure"]], case["givens"]), case.get("method"))
                values = {value.name: value.value for value in made.values}
                for name, expected in case["values"].items():
                    self.assertLessEqual(abs(values[name] - expected), 1e-9 * abs(expected), name)
                tried += 1
        self.assertGreaterEqual(tried, 7)


class Refusals(unittest.TestCase):
    @settings(max_examples=200, deadline=None, derandomize=True)
    @given(st.text(max_size=30))
    def test_no_typed_text_ever_breaks(self, typed: str) -> None:
        for name in catalogue()["ellipse"].givens:
            try:
                make(catalogue()["ellipse"], {name: typed})
            except Refused as refusal:
                self.assertTrue(refusal.says)

    def test_two_inclinations_over_a_right_angle(self) -> None:
        with self.assertRaises(Refused) as caught:
            make(catalogue()["line-in-space"], {"angle_h": 50, "angle_v": 47})
        self.assertIn("97°", caught.exception.says)


if __name__ == "__main__":
    unittest.main()
