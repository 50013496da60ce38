"""Exact touching, equal, parallel and collinear cases for every figure; and the geometry they stand on."""

from __future__ import annotations

import json
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
