"""The drafter: what a kit cannot do and the ways round, and a hand calibrated from what was measured."""

from __future__ import annotations

import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import numpy as np
from pypdf import PdfReader

from wise_compass.drafting.figure import make
from wise_compass.drafting.hands import run_hands
from wise_compass.drafting.instruments import TOLERANCES
from wise_compass.drafting.kit import Drafter, Kit
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.recorder import Conventions
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN, scale_name
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.person import Person, keep_person, own_drafter, person, settings_file
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.sheet.exercises import exercise_drawings
from wise_compass.sheet.paper import SCALES
from wise_compass.study.calibration import EXERCISES, Exercise, Own, calibrated, own_words, read_exercises
from wise_compass.study.judge import Judge
from wise_compass.study.measures import taken_as
from wise_compass.study.waysround import short_of


def home() -> mock._patch_dict:
    """A configuration folder of one's own."""
    return mock.patch.dict(os.environ, {"XDG_CONFIG_HOME": tempfile.mkdtemp()})


class Kits(unittest.TestCase):
    def setUp(self) -> None:
        self.hexagon = run(make(figure_named("polygon-on-side"), {"sides": 6, "side": 90.0}))

    def test_the_usual_kit_does_the_whole_catalogue_at_its_usual_sizes(self) -> None:
        self.assertIsNone(short_of(self.hexagon, 1.0, Kit(), SCALES))

    def test_each_lack_names_its_step_and_limit_and_every_scale_offered_serves(self) -> None:
        kit = Kit(compass_most=60.0, beam_most=0.0)
        short = short_of(self.hexagon, 1.0, kit, SCALES)
        assert short is not None
        self.assertIn("opens to 60 mm", PLAIN.say(short.says))
        step = self.hexagon.steps[short.lacks[0].step - 1]
        self.assertEqual(step.instrument, "Compass")
        self.assertGreater(max(one.value for one in step.settings), 60.0)
        self.assertIn("a sheet at 1:2", short.ways)
        self.assertEqual(lacks(self.hexagon.steps, kit, 0.5), [])

    def test_the_scale_offered_is_the_nearest_that_serves(self) -> None:
        for most in (20.0, 25.0, 45.0, 70.0):
            kit = Kit(compass_most=most, beam_most=0.0, dividers_most=most)
            for scale in (1.0, 2.0):
                short = short_of(self.hexagon, scale, kit, SCALES)
                assert short is not None
                serving = [one for one in SCALES if not lacks(self.hexagon.steps, kit, one)]
                nearest = min(serving, key=lambda one: abs(one / scale - 1))
                self.assertEqual(
                    [way for way in short.ways if way.startswith("a sheet")], [f"a sheet at {scale_name(nearest)}"]
                )

    def test_another_method_is_offered_only_where_the_kit_does_it(self) -> None:
        kit = Kit(protractor_by=0.0)
        for name in ("polygon-on-side", "ellipse", "triangle-three-sides"):
            kind = figure_named(name)
            for method in kind.methods.values():
                if method.fits(kind()) is not None:
                    continue
                made = run(kind(), method.id)
                short = short_of(made, 1.0, kit, SCALES)
                if short is None:
                    continue
                titles = {other.title: other for other in kind.methods.values()}
                for way in short.ways:
                    if way.startswith("the method"):
                        other = titles[way.split("“")[1].rstrip("”")]
                        self.assertEqual(lacks(run(kind(), other.id).steps, kit), [])

    def test_without_scale_rules_the_sizes_on_the_paper_serve(self) -> None:
        (lack,) = lacks(self.hexagon.steps, Kit(scale_rules=False), 0.5)
        self.assertIn("1:2", PLAIN.say(lack.says))
        self.assertEqual(lacks(self.hexagon.steps, Kit(scale_rules=False)), [])

    def test_the_compass_gives_way_to_the_beam_compass_where_this_kit_says(self) -> None:
        figure = make(figure_named("polygon-on-side"), {"sides": 6, "side": 90.0})
        small = run(figure, None, Conventions(drafter=Drafter(Kit(compass_most=60.0))))
        tools = {step.tool() for step in small.steps}
        self.assertIn("Beam compass", tools)
        self.assertNotIn("Beam compass", {step.tool() for step in self.hexagon.steps})


class Hands(unittest.TestCase):
    def test_a_hand_is_found_again_from_what_it_would_measure(self) -> None:
        random = np.random.default_rng(5)
        for exercise in {one.tolerance: one for one in EXERCISES}.values():
            true = 1.6 * TOLERANCES[exercise.tolerance].limit
            many = [exercise._replace(name=f"x-{k}") for k in range(240)]
            with mock.patch("wise_compass.study.calibration.EXERCISES", many):
                reading = 0.2 * exercise.gives
                errors = random.standard_normal(240) * np.hypot(true / 2, reading)
                (own,) = calibrated({one.name: _as_measured(one, e) for one, e in zip(many, errors)})
            self.assertTrue(0.8 * own.low < true < 1.2 * own.high, (own, true))
            self.assertLess(abs(own.limit / true - 1), 0.25 if reading < true / 2 else 0.6, exercise.tolerance)

    def test_what_a_millimetre_misread_gives_is_how_fast_the_error_grows(self) -> None:
        for one in EXERCISES:
            self.assertAlmostEqual(one.error(one.exact), 0.0, 9, one.name)
            grows = (one.error(one.exact + 1e-5) - one.error(one.exact - 1e-5)) / 2e-5
            self.assertAlmostEqual(grows, one.gives, 6, one.name)

    def test_few_measurements_hold_to_the_assumption_and_say_how_unsure_they_are(self) -> None:
        exact = {one.name: one.exact for one in EXERCISES[:1]}
        (own,) = calibrated(exact)
        self.assertLess(own.limit, TOLERANCES["compass setting"].limit)
        self.assertGreater(own.limit, 0.5 * TOLERANCES["compass setting"].limit)
        self.assertGreater(own.high, 2 * own.limit)

    def test_a_reading_coarser_than_the_hand_tells_an_upper_limit_alone(self) -> None:
        exact = {one.name: one.exact for one in EXERCISES if one.tolerance == "dividers taken"}
        (own,) = calibrated(exact)
        self.assertIn("no worse than", own_words(own))
        self.assertEqual(own.limit, min(own.high, TOLERANCES["dividers taken"].limit))
        (sure,) = calibrated({one.name: one.exact + 0.2 for one in EXERCISES if one.tolerance == "compass setting"})
        self.assertNotIn("no worse", own_words(sure))

    def test_what_was_kept_is_whose_hand_draws_scatters_and_is_judged(self) -> None:
        with home():
            self.assertEqual(own_drafter(), Drafter())
            wide = Own("compass setting", 3.0, 6, 2.0, 5.0)
            keep_person(Person().with_hand([wide])._replace(kit=Kit(beam_most=0.0)))
            limits = dict(own_drafter().limits)
            self.assertEqual((own_drafter().kit, limits["compass setting"]), (Kit(beam_most=0.0), 3.0))
            self.assertAlmostEqual(limits["straightedge"], 10 * TOLERANCES["straightedge"].limit)
            self.assertNotIn("protractor", limits, "an opening tells nothing of angles")
            own = own_drafter()
            figure = figure_named("triangle-three-sides")()
            usual = {one.name: one.sd for one in run_hands(figure).points}
            mine = {one.name: one.sd for one in run_hands(figure, conventions=Conventions(drafter=own)).points}
            self.assertGreater(max(mine[name] / usual[name] for name in usual if usual[name]), 4.0)
            data = json.loads(settings_file().read_text())
            data["hand"]["compass setting"] = ["far", 1, 2, 3, 4]
            data["kit"]["rule_long"] = -4
            settings_file().write_text(json.dumps(data))
            self.assertEqual(person().hand, {})
            self.assertEqual(person().kit, Kit(beam_most=0.0))

    def test_a_loose_hand_is_honest_where_a_steady_one_would_have_slipped(self) -> None:
        figure = make(figure_named("polygon-on-side"), {"sides": 6, "side": 60.0})
        loose = Drafter(limits=tuple((name, 6 * one.limit) for name, one in TOLERANCES.items()))
        verdicts = []
        for drafter in (Drafter(), loose):
            made = run(figure, None, Conventions(drafter=drafter))
            verdicts.append(Judge(made).judge([taken_as(made, "A-D", "122.4"), taken_as(made, "B-E", "118.1")]).verdict)
        self.assertNotEqual(verdicts[0], "honest")
        self.assertEqual(verdicts[1], "honest")

    def test_what_cannot_be_is_refused_in_a_line_that_names_it(self) -> None:
        for text, part in (
            ("opening-1=90", "from 20"),
            ("opening-9=23", "no exercise opening-9"),
            ("opening-1=23 opening-1=24", "twice"),
            ("opening-1", "is no measurement"),
            ("opening-1=far", "far"),
        ):
            with self.assertRaises(Refused) as caught:
                read_exercises(text)
            self.assertIn(part, caught.exception.says + caught.exception.given)

    def test_the_sheets_hold_every_exercise_at_its_true_size(self) -> None:
        drawings = exercise_drawings()
        words = "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf_bytes(drawings))).pages)
        for exercise in EXERCISES:
            self.assertIn(exercise.name, words)
        lines = [item.polyline() for page in drawings for item in page.items if item.layer == "result"]
        lows, highs = (
            np.min([one.min(axis=0) for one in lines], axis=0),
            np.max([one.max(axis=0) for one in lines], axis=0),
        )
        self.assertTrue((lows > (20, 10)).all() and (highs < (200, 287)).all(), (lows, highs))

    def test_the_command_prints_takes_and_keeps(self) -> None:
        with home(), tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "exercises.pdf"
            command = [sys.executable, "-m", "wise_compass", "calibrate"]
            told = subprocess.run([*command, "--out", out], capture_output=True, text=True, check=True)
            self.assertIn("exercises.pdf", told.stdout)
            self.assertEqual(len(PdfReader(out).pages), 2)
            subprocess.run(
                [*command, "--measured", "opening-1=24.2 opening-2=38.4", "--keep"], check=True, capture_output=True
            )
            kept = subprocess.run([*command, "--json"], capture_output=True, text=True, check=True)
            (own,) = json.loads(kept.stdout)["hand"]
            self.assertEqual((own["tolerance"], own["taken"]), ("compass setting", 2))
            self.assertGreater(own["limit"], 0.3)


def _as_measured(exercise: Exercise, error: float) -> float:
    """What is measured where the setting is off by so much."""
    if exercise.tolerance == "protractor":
        return float(200.0 * np.sin(np.radians((exercise.asks + error) / 2)))
    return exercise.exact + error / exercise.gives
