"""Exact touching, equal, parallel and collinear cases for every figure; and the geometry they stand on."""

from __future__ import annotations

import json
import re
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from tests.test_catalogue import Checked
from wise_compass.drafting.figure import make
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.figures.catalogue import catalogue
from wise_compass.geometry.vectors import distance

CASES: dict[str, list[dict[str, Any]]] = json.loads(
    (Path(__file__).parent / "degenerate-cases.json").read_text("utf-8")
)
"""Givens that touch, are equal, parallel or collinear, by figure."""


class EveryFigure(Checked):
    def test_each_figure_has_its_cases(self) -> None:
        self.assertEqual(set(CASES), set(catalogue()))

    def test_they_prove_by_every_method_or_are_refused_by_name(self) -> None:
        served = 0
        for id, rows in CASES.items():
            for givens in rows:
                figure = make(catalogue()[id], givens)
                for method in figure.methods.values():
                    with self.subTest(figure=id, method=method.id, givens=givens):
                        try:
                            made = run(figure, method.id)
                        except Refused as refusal:
                            self.assertIsNotNone(method.fits(figure), refusal.says)
                            continue
                        self.check_run(made)
                        served += 1
        self.assertGreater(served, 200)

    def test_twenty_metres_prove_as_well(self) -> None:
        for kind in catalogue().values():
            lengths = {name: given.default for name, given in kind.givens.items() if given.kind == "length"}
            if not lengths or any(given.kind in ("point", "rows") for given in kind.givens.values()):
                continue
            times = 15000 / max(lengths.values())
            try:
                figure = make(kind, {name: value * times for name, value in lengths.items()})
            except Refused as refusal:
                self.assertIn(refusal.given, kind.givens, kind.id)
                continue
            for method in figure.methods.values():
                if method.fits(figure) is None:
                    with self.subTest(figure=kind.id, method=method.id):
                        self.check_run(run(figure, method.id))


class Advice(unittest.TestCase):
    HOPELESS: tuple[tuple[str, dict[str, object]], ...] = (
        ("similar-figure", {"first": 1, "second": 900}),
        ("similar-figure", {"by": "areas", "first": 1, "second": 9e2, "pole": "-9000,-16"}),
        ("fourth-proportional", {"first": 0.2, "second": 300, "third": 400}),
        ("reverse-curve", {"length": 300, "offset": 1.2}),
        ("vernier-scale", {"over": 2}),
        ("vernier-scale", {"over": 9000}),
        ("vernier-scale", {"over": 1255.7, "unit": "chain", "parts": 2, "range": 119, "reading": 2}),
        ("scale-bar", {"over": 2}),
        ("scale-bar", {"second_unit": "yard", "second_range": 60, "over": 40}),
        ("divide-by-parallels", {"ab": 90, "cd": 89, "left_leg": 60, "right_leg": 60.5}),
        ("four-bar", {"coupler": 10}),
        ("four-bar", {"rocker": 12}),
        ("arch", {"kind": "pointed", "span": 120, "rise": 2000}),
        ("arch", {"kind": "ogee", "rule": "radius", "span": 71.7, "rise": 409.82, "small_radius": 1, "small_angle": 5}),
        ("arch", {"kind": "round", "span": 1000, "rise": 0.3}),
        ("arch", {"kind": "four-centred", "rise": 54.1213}),
        ("logarithmic-spiral", {"turns": 1.3, "vector_angle": 37.777777}),
        ("logarithmic-spiral", {"turns": 0.7}),
        ("archimedean-spiral", {"turns": 0.01}),
        ("auxiliary-view", {"row": 1}),
        ("breeches", {"leg_length": 20}),
    )

    def test_what_a_refusal_says_to_type_is_taken(self) -> None:
        """The number that it names, as it is named; of one that is to be passed a hundredth past it."""
        for id, givens in self.HOPELESS:
            with self.assertRaises(Refused, msg=f"{id} {givens}") as caught:
                make(catalogue()[id], givens)
            says = caught.exception.says
            told = re.search(r"(?:Raise|Lower|Set|Change) (\w+)(?: to| over| under)? ?([\d./−]*\d)?", says)
            least = re.search(r"(?:at least|differ by) ([\d./]*\d)", says)
            assert told is not None, says
            number = told[2] or (least[1] if least is not None else "")
            self.assertTrue(number, says)
            value: object = number.replace("−", "-")
            if f" over {number}" in says or f" under {number}" in says:
                value = float(number) + (0.01 if f" over {number}" in says else -0.01)
            if "differ by" in says:
                value = float(givens["ab"]) - float(number)  # type: ignore[arg-type]
            with self.subTest(figure=id, says=says):
                make(catalogue()[id], {**givens, told[1]: value})


class Answers(unittest.TestCase):
    def answers(self, id: str, **givens: Any) -> Any:
        return {value.name: value.value for value in run(make(catalogue()[id], givens)).values}

    def test_a_right_angled_triangle_is_one(self) -> None:
        for bc, count in ((40, 1), (40.001, 2), (39.999999999999, 1)):
            self.assertEqual(self.answers("triangle-side-side-angle", ab=80, bc=bc, angle_A=30)["solutions"], count, bc)
        with self.assertRaises(Refused):
            make(catalogue()["triangle-side-side-angle"], {"ab": 80, "bc": 39.9999, "angle_A": 30})

    def test_touching_arcs_are_one(self) -> None:
        made = run(make(catalogue()["arc-two-circles"], {"radius": 13.5}))
        self.assertEqual([name for name in made.found if name[0] == "K"], ["K1"])
        made = run(make(catalogue()["arc-line-circle"], {"radius": 4}))
        self.assertEqual([name for name in made.found if name[0] == "K"], ["K1"])
        self.assertEqual(self.answers("arc-line-circle", radius=4)["along"], 0)

    def test_slips_measure_what_they_draw(self) -> None:
        from wise_compass.drafting.run import Run, run_slips

        made = [one for _, one in run_slips(catalogue()["cycloid"]())]
        assert isinstance(made[0], Run)
        slipped = made[0]
        fine = np.array([float(slipped.measured["base_length"]) / (2 * np.pi), 18.0])
        t = np.linspace(0, 2 * np.pi, 200001)
        speed = np.hypot(fine[0] - fine[1] * np.cos(t), fine[1] * np.sin(t))
        self.assertAlmostEqual(float(slipped.measured["arch_length"]), float(np.trapezoid(speed, t)), places=4)
        self.assertAlmostEqual(float(slipped.measured["arch_length"]), 115.98, places=2)
        y = 18 - 18 * np.cos(t)
        self.assertAlmostEqual(
            float(slipped.measured["area"]), float(np.trapezoid(y * (fine[0] - 18 * np.cos(t)), t)), places=4
        )
        for id in ("epicycloid", "hypocycloid"):
            kind = catalogue()[id]
            for _, one in run_slips(kind()):
                assert isinstance(one, Run)
                p = one.found.group("P")
                chords = float(distance(p[1:], p[:-1]).sum())
                self.assertLess(chords, float(one.measured["arch_length"]))
                self.assertAlmostEqual(chords / float(one.measured["arch_length"]), 1.0, delta=0.05)
