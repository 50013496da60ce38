"""What is said: workings that a calculator can follow, refusals whose limits work, inches wherever a person asked for
inches."""

from __future__ import annotations

import json
import math
import os
import re
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np

from tests.calculator import Unkeyed, keyed
from tests.surfaces import numbers_in
from tests.test_catalogue import every_method, fitting
from tests.test_cli import call
from wise_compass.drafting.figure import Figure, Method, make
from wise_compass.drafting.givens import Count, Measure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run
from wise_compass.drafting.wording import CLOSE, OPEN, PLAIN, Style
from wise_compass.figures.catalogue import catalogue, figure_named

INCHES = Style("in", 2)
TOLD = Path(__file__).parent / "told-values.json"


def choices_of(kind: type[Figure]) -> Iterator[dict[str, Any]]:
    """Every option of every choice, one at a time; the defaults first."""
    yield {}
    for name, given in kind.givens.items():
        if given.kind == "choice":
            for option in given.options[1:] if given.options[0] == given.default else given.options:  # type: ignore[attr-defined]
                yield {name: option}


def every_choice() -> Iterator[tuple[Method, dict[str, Any], Run]]:
    for kind, method in every_method():
        for choice in choices_of(kind):
            figure = fitting(kind, method)
            try:
                chosen = make(kind, {**figure.stored(), **choice})
                yield method, choice, run(chosen, method.id)
            except Refused:
                continue


class Workings(unittest.TestCase):
    def test_a_pocket_calculator_follows_them(self) -> None:
        """Every working of a single number is keyed in as it stands, in both units; the rest is measured off the
        drawing."""
        followed = 0
        for method, choice, made in every_choice():
            for value in made.values:
                if not isinstance(value.value, float):
                    continue
                where = f"{made.figure.id} by {method.id} {choice}: {value.name} = {PLAIN.say(value.working)}"
                if math.isnan(value.value):
                    self.fail(where)
                try:
                    answer = keyed(PLAIN.say(value.working))
                except Unkeyed:
                    words = value.working
                    plain = "given" in words or value.name in made.measured or "nothing" in words or not value.unit
                    sums = "∫" in words or "elliptic" in words or "…" in words or "radians" in words or "sin²" in words
                    self.assertTrue(
                        plain
                        or sums
                        or "derivative" in words
                        or "√((x" in words
                        or "area of" in words
                        or "A4" in words
                        or "scatter" in words,
                        where,
                    )
                    continue
                # the numbers of a working are rounded: what they leave out may grow where they are subtracted
                self.assertAlmostEqual(answer, value.value, delta=2e-3 * max(1.0, abs(value.value)), msg=where)
                followed += 1
        self.assertGreater(followed, 1300)

    def test_they_are_in_the_persons_unit_too(self) -> None:
        followed = 0
        for kind, method in every_method():
            made = run(fitting(kind, method), method.id)
            for value in made.values:
                if isinstance(value.value, float) and value.unit in ("mm", "mm²"):
                    says = INCHES.say(value.working)
                    self.assertNotIn("mm", says.replace("in mm", ""), f"{kind.id} {value.name}: {says}")
                    try:
                        answer = keyed(says)
                    except Unkeyed:
                        continue
                    if "derivative" in says:
                        continue
                    right = value.value / 25.4 ** (1 if value.unit == "mm" else 2)
                    self.assertAlmostEqual(
                        answer, right, delta=3e-3 * max(0.2, abs(right)), msg=f"{kind.id} {value.name}: {says}"
                    )
                    followed += 1
        self.assertGreater(followed, 150)

    def test_every_number_is_measured_or_worked(self) -> None:
        """A value that is neither read off the drawing nor can be keyed in could say anything."""
        for method, choice, made in every_choice():
            measured = made.measured
            for value in made.values:
                if value.name in measured:
                    if method.exact(made.figure) or value.drawn:
                        got = np.asarray(measured[value.name], dtype=float)
                        close = np.allclose(got, np.asarray(value.value, dtype=float), rtol=1e-9, atol=1e-7)
                        self.assertTrue(close, f"{made.figure.id} by {method.id} {choice}: {value}")
                    continue
                if value.value is None or not isinstance(value.value, float):
                    continue
                try:
                    keyed(PLAIN.say(value.working))
                except Unkeyed:
                    self.assertRegex(
                        value.working,
                        r"given|∫|elliptic|…|derivative|A4|scatter|parts|both ends|laid|ways|nothing|straight",
                    )


class Told(unittest.TestCase):
    def test_what_is_told_and_proved_is_listed_for_every_choice(self) -> None:
        """Values and truths by name, for each choice: one that vanishes is noticed. ``WISE_COMPASS_PIN=1`` writes the
        list."""
        told: dict[str, dict[str, list[str]]] = {}
        for method, choice, made in every_choice():
            words = [re.sub(rf"{OPEN}[^{CLOSE}]*{CLOSE}|\d+", "#", proof.says) for proof in made.proofs]
            key = f"{made.figure.id} {method.id} {json.dumps(choice)}"
            told[key] = {"values": [value.name for value in made.values], "truths": sorted(set(words))}
        if os.environ.get("WISE_COMPASS_PIN"):
            lines = ",\n".join(
                f"{json.dumps(key)}: {json.dumps(told[key], ensure_ascii=False)}" for key in sorted(told)
            )
            TOLD.write_text("{\n" + lines + "\n}\n", "utf-8")
        pinned = json.loads(TOLD.read_text("utf-8"))
        self.assertEqual(sorted(pinned), sorted(told))
        for key, names in told.items():
            self.assertEqual(pinned[key], names, key)

    def test_no_mark_of_a_quantity_reaches_a_person(self) -> None:
        for id, method in (("hyperbola", "focus-arcs"), ("triangle-three-sides", "arcs"), ("coil-spring", None)):
            for arguments in (["solve", id], ["solve", id, "--json"], ["slips", id], ["hands", id, "--hands", "20"]):
                status, out, err = call(*arguments, *(["--method", method] if method else []))
                self.assertEqual(status, 0, err)
                self.assertNotIn(OPEN, out + err)


class Limits(unittest.TestCase):
    """A limit that a refusal names can be typed, and what lies just beyond a bound is refused."""

    def test_a_case_just_outside_each_bound(self) -> None:
        counted = 0
        for kind in catalogue().values():
            for name, given in kind.givens.items():
                if isinstance(given, Count):
                    for outside in (given.least - given.multiple, given.most + given.multiple):
                        self.refused(kind, name, outside)
                        counted += 1
                elif isinstance(given, Measure):
                    figure = kind()
                    for which in given.BOUNDS:
                        bound = given.limit(which, figure)
                        if bound is None:
                            continue
                        outward = -1 if which in ("least", "over") else 1
                        step = 1e-6 * max(abs(bound), 1.0)
                        self.refused(kind, name, bound if which in ("over", "under") else bound + outward * step)
                        self.within(
                            kind, name, bound + (-outward * 0.02 if which in ("over", "under") else 0.0), given.name
                        )
                        counted += 2
        self.assertGreater(counted, 500)

    def refused(self, kind: type[Figure], name: str, value: float) -> None:
        if kind.givens[name].kind == "length" and value == 0 and getattr(kind.givens[name], "zero", False):
            return
        with self.assertRaises(Refused, msg=f"{kind.id} {name}={value}") as caught:
            make(kind, {name: value})
        self.assertIn(caught.exception.given, kind.givens)

    def within(self, kind: type[Figure], name: str, value: float, given: str) -> None:
        """At its bound a given is never refused for that bound; others may stand against it."""
        try:
            make(kind, {name: value})
        except Refused as refusal:
            words = ("must be at least", "must be at most", "must be more", "must stay under")
            says = kind.givens[name].says
            own = refusal.says.startswith(says[0].upper() + says[1:]) and any(
                f"; it {word}" in refusal.says for word in words
            )
            self.assertFalse(own, f"{kind.id} {name}={value}: {refusal.says}")

    ADVICE = (
        ("triangle-three-sides", {"ab": 100, "bc": 60, "ca": 39}),
        ("triangle-side-side-angle", {"ab": 80, "bc": 39, "angle_A": 33}),
        ("triangle-side-side-angle", {"ab": 80, "bc": 80, "angle_A": 120}),
        ("triangle-side-two-angles", {"ab": 20000, "angle_A": 100, "angle_B": 79}),
        ("trapezium", {"ab": 110, "cd": 20, "left_leg": 47, "right_leg": 40}),
        ("trapezium", {"ab": 110, "cd": 90, "left_leg": 80, "right_leg": 40}),
        ("arc-two-circles", {"radius_1": 20, "radius_2": 20, "distance": 91, "radius": 20}),
        ("arc-two-circles", {"radius_1": 60, "radius_2": 20, "distance": 30, "radius": 20}),
        ("arc-two-circles", {"radius_1": 24, "radius_2": 15, "distance": 200, "contact_1": "inside"}),
        ("arc-line-circle", {"circle_radius": 26, "line_distance": 70, "radius": 18}),
        ("arc-line-circle", {"circle_radius": 26, "line_distance": 60, "radius": 18, "contact": "inside"}),
        ("arc-line-circle", {"circle_radius": 26, "line_distance": 10, "radius": 40, "contact": "inside"}),
        ("fillet", {"angle": 1, "radius": 400}),
        ("common-tangents", {"radius_1": 30, "radius_2": 20, "distance": 50, "kind": "crossed"}),
        ("tangents-from-point", {"radius": 29, "distance": 29}),
        ("tangent-chain", {"corners": ((0, 0), (31, 0), (31, 40)), "radii": ((35,),)}),
        ("circle-point-line", {"radius": 17, "point": (40, 38)}),
        ("coil-spring", {"pitch": 7, "wire": 7}),
        ("ellipse", {"long": 100, "wide": 101}),
        ("parabola", {"at": 80, "touch": "tangent"}),
        ("archimedean-spiral", {"outer": 20, "inner": 20}),
        ("reverse-curve", {"length": 104, "offset": 42, "first_radius": 200}),
        ("epitrochoid", {"tracing_radius": 500}),
    )

    def test_the_limit_that_a_refusal_names_works_when_it_is_typed(self) -> None:
        for id, givens in self.ADVICE:
            for style in (PLAIN, INCHES):
                with self.subTest(figure=id, givens=givens, units=style.units):
                    kind = catalogue()[id]
                    with self.assertRaises(Refused) as caught:
                        make(kind, givens)
                    says = caught.exception.words(style)
                    self.assertTrue(self.heeded(kind, givens, caught.exception.given, says, style), says)

    def heeded(self, kind: type[Figure], givens: dict[str, Any], name: str, says: str, style: Style) -> bool:
        """Whether one of the numbers that a refusal names, typed into a given that it names, is taken."""
        named = [one for one in [name, *givens, *kind.givens] if re.search(rf"\b{one}\b", says)]
        for number in numbers_in(says):
            for one in named:
                typed: Any = f"{number}"
                if kind.givens[one].kind == "rows":
                    typed = [[number * style.size]]
                try:
                    figure = make(kind, {**givens, one: typed}, style)
                    for method in figure.methods.values():
                        if method.fits(figure) is None:
                            self.assertTrue(all(p.holds or p.by_design for p in run(figure, method.id).proofs), says)
                    return True
                except Refused:
                    continue
        return False

    def test_what_was_refused_wrongly_is_taken(self) -> None:
        for id, givens in (
            ("arc-two-circles", {"radius": 13.5}),
            ("arc-line-circle", {"radius": 4}),
            ("trochoid", {"tracing_radius": 18.0001}),
            ("triangle-side-side-angle", {"ab": 80, "bc": 80.001, "angle_A": 95}),
            ("triangle-three-sides", {"ab": 100, "bc": 60, "ca": 40.00001}),
            ("trapezium", {"ab": 110, "cd": 109.95, "left_leg": 40, "right_leg": 40}),
            ("tangent-chain", {"corners": ((0, 0), (40, 0), (40, 40), (0, 40)), "radii": ((20,), (20,))}),
            ("line-in-space", {"angle_h": 49.0000000001, "angle_v": 41}),
        ):
            figure = make(catalogue()[id], givens)
            for method in figure.methods.values():
                with self.subTest(figure=id, method=method.id):
                    made = run(figure, method.id)
                    self.assertTrue(all(proof.holds for proof in made.proofs), [p for p in made.proofs if not p.holds])

    def test_advice_stays_within_a_slots_own_bounds(self) -> None:
        figure = figure_named("parabola")(base=20000, axis=100)
        refusal = figure.methods["focus-directrix"].fits(figure)
        assert refusal is not None
        self.assertLessEqual(max(numbers_in(PLAIN.say(refusal).split("off.")[1])), 20000.0)
        self.assertIn("a volute has 2, 3, 4 or 6 centres", self.says("arc-volute", centres=7))

    def says(self, id: str, **givens: Any) -> str:
        with self.assertRaises(Refused) as caught:
            make(figure_named(id), givens)
        return caught.exception.says

    def test_givens_check_themselves_from_python(self) -> None:
        for id, givens in (
            ("ellipse", {"lie": "sideways"}),
            ("ellipse", {"long": "wide"}),
            ("ellipse", {"divisions": 12.5}),
            ("circle-three-points", {"A": (1, 2, 3)}),
            ("three-circle-tangents", {"circle_1": (0, 0, -3)}),
            ("tangent-chain", {"corners": ((0, 0), (1,))}),
        ):
            with self.assertRaises(Refused, msg=f"{id} {givens}") as caught:
                catalogue()[id](**givens)
            self.assertEqual(caught.exception.given, next(iter(givens)))
        one, two = figure_named("ellipse")(long=150), figure_named("ellipse")(long=150)
        self.assertEqual((one, hash(one)), (two, hash(two)))
        self.assertNotEqual(one, figure_named("ellipse")(long=151))
        self.assertIn("long=150", repr(one))


class Inches(unittest.TestCase):
    def test_refusals_speak_in_inches(self) -> None:
        status, _, err = call("solve", "ellipse", "long=4", "wide=5", "--units", "in")
        self.assertEqual(status, 2)
        self.assertIn("wide", err)
        self.assertIn("4 in", err)
        self.assertNotIn("mm", err)

    def test_solve_prints_in_inches_and_reads_bare_numbers_so(self) -> None:
        status, out, err = call("solve", "bisect-line", "length=4", "--units", "in")
        self.assertEqual(status, 0, err)
        self.assertIn("2.000 in", out)
        self.assertIn("= 4 / 2", out)
        self.assertNotIn(" mm", out.replace("largest miss 0 mm", "").replace("largest miss", ""))

    def test_sixty_fourths_with_what_they_leave_out(self) -> None:
        style = Style("in", 2, fractions=True)
        self.assertEqual(style.length(87.3125), "3 7/16 in")
        self.assertEqual(style.length(50.0), "1 31/32 in (−0.0002)".replace("in (−0.0002)", "(−0.0002) in"))
        self.assertEqual(style.length(-25.4), "−1 in")
