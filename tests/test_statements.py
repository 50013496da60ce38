"""Problems in words: read as they were meant, never silently wrong, and told span by span."""

from __future__ import annotations

import contextlib
import io
import json
import math
import re
import tempfile
import unittest
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
from bench.words import STATEMENTS, judged, summed

from wise_compass.drafting.givens import Measure
from wise_compass.drafting.refusals import Refused
from wise_compass.figures.catalogue import catalogue
from wise_compass.job.store import load
from wise_compass.practice.setting import set_problem
from wise_compass.terminal.main import main
from wise_compass.words.account import record
from wise_compass.words.lexicon import lexicon
from wise_compass.words.reading import LONGEST, read
from wise_compass.words.saying import problem_said
from wise_compass.words.setting import figure_of

CUT_PRISM = (
    "A hexagonal prism, side of base 30 mm and axis 70 mm long, stands on its base with a side parallel to the VP. It "
    "is cut by a plane square to the VP, inclined at 45° to the HP and passing through a point on the axis 20 mm from "
    "the top. Draw its front view, sectional top view and the development."
)


def stated(*arguments: str) -> tuple[int, str, str]:
    """What ``state`` answers: its status, and both streams."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = main(["state", *arguments])
    return status, out.getvalue(), err.getvalue()


class Shipped(unittest.TestCase):
    """The statements that are told with what they mean."""

    meant: list[dict[str, Any]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.meant = json.loads(STATEMENTS.read_text("utf-8"))
        cls.verdicts = [judged(one) for one in cls.meant]

    def test_they_are_read_as_they_were_meant(self) -> None:
        found = summed(self.verdicts)
        self.assertGreaterEqual(found["figure"], 0.98)
        self.assertGreaterEqual(found["exact"], 0.97)
        self.assertEqual(found["missing_named"], 1.0)
        self.assertLessEqual(found["asked_though_complete"], 0.2)

    def test_none_is_silently_wrong(self) -> None:
        self.assertEqual([(one.text, one.silent) for one in self.verdicts if one.silent], [])

    def test_every_figure_has_three(self) -> None:
        told = Counter(one["figure"] for one in self.meant)
        self.assertEqual([id for id in catalogue() if told[id] < 3], [])

    def test_spans_point_to_what_they_say(self) -> None:
        """Where the number of a given stands in the text once, the span has it."""
        seen = 0
        for one in self.meant:
            for name, given in record(read(one["text"]))["givens"].items():
                if given["how"] == "told" and isinstance(given["value"], float):
                    number = rf"(?<![\d./,]){given['value']:g}(?![\d./,]\d|\d)"
                    words = one["text"][slice(*given["from"])]
                    if len(re.findall(number, one["text"])) == 1 and re.search(r"\d", words):
                        seen += 1
                        self.assertRegex(words, number, f"{one['text']}: {name}")
        self.assertGreater(seen, 500)

    def test_what_is_set_can_be_drawn(self) -> None:
        """A statement that is complete and sure makes a figure, or one that the figure refuses by the given's name."""
        refused = []
        for one in self.meant:
            reading = read(one["text"])
            if reading.best is None or reading.best.missing or reading.best.conflicts or reading.best.doubts:
                continue
            try:
                figure_of(reading)
            except Refused as refusal:
                refused.append((one["text"], refusal.says))
                self.assertTrue(one.get("solve_refuses") or refusal.given, refusal.says)
        self.assertLess(len(refused), 0.02 * len(self.meant), refused)


class Lexicon(unittest.TestCase):
    """What the figures' words name is there, of the kind that they say."""

    def test_they_name_givens_choices_and_methods_that_there_are(self) -> None:
        kinds = {"angle": "A", "length": "LDR", "count": "CX", "number": "X"}
        for id, words in lexicon().figures.items():
            figure = catalogue()[id]
            with self.subTest(id):
                for slot in words.slots:
                    for name in slot.names:
                        given = figure.givens[name]
                        if slot.form and isinstance(given, Measure):
                            self.assertIn(slot.form, kinds[given.describe()["kind"]], name)
                for told in (*words.choices, *words.marks):
                    given = figure.givens[told.name]
                    self.assertEqual(str(given.stored(given.read(told.value))), told.value, told.name)
                self.assertLessEqual({method for method, _ in words.methods}, {*figure.methods})
                self.assertLessEqual({*words.needs, *words.absent, *(t.name for t in words.sets)}, {*figure.givens})
        self.assertEqual([*lexicon().figures], [*catalogue()])

    def test_a_length_that_is_not_told_is_asked_or_meant(self) -> None:
        """None is taken over from a figure's usual sizes, but those that go with a choice that is told."""
        goes_with_choice = {"small_radius", "circle_radius", "at", "cut_height", "distance", "eye_height"}
        for id, words in lexicon().figures.items():
            usual = {
                name
                for name, given in catalogue()[id].givens.items()
                if isinstance(given, Measure) and given.kind == "length" and given.default
            }
            self.assertLessEqual(usual, {*words.needs, *words.absent, *goes_with_choice}, id)

    def test_no_name_stands_twice(self) -> None:
        for id, words in lexicon().figures.items():
            self.assertEqual([one for one, n in Counter(p for p, _ in words.names).items() if n > 1], [], id)


class Readings(unittest.TestCase):
    def test_what_nobody_tells_is_none(self) -> None:
        for text, name, meant in (
            (
                "A crank of 30 mm with a connecting rod of 100 mm; the path of a point 40 mm from the crank.",
                "offset",
                0,
            ),
            ("A crank of 30 mm with a connecting rod of 100 mm; the path of a point 40 mm from the crank.", "off", 0),
            ("Eccentric reducer, round to round, 300 to 200, 250 high.", "offset_x", 0),
            ("A cycloid of one turn, the wheel 50 mm in diameter.", "touch", "none"),
            ("A sphere of 240 mm diameter is penetrated by a vertical cylinder of 80 mm.", "reach", 180),
        ):
            given = record(read(text))["givens"][name]
            self.assertEqual((given["value"], given["how"]), (meant, "by default"), text)
        level = record(read("A vertical square prism, side 50, 100 high, is pierced by a 30 mm pipe."))["givens"][
            "level"
        ]
        self.assertEqual((level["value"], level["sure"]), (50, False))

    def test_a_unit_told_once_is_that_of_a_row_and_else_in_doubt(self) -> None:
        row = record(read("A rectangle with sides 3, 4 in."))["givens"]
        self.assertEqual((row["length"]["value"], row["width"]["value"]), (76.2, 101.6))
        for text, name in (
            ("A cone of base diameter 3, height 4 in.", "diameter"),
            ("A triangle ABC with sides 8 cm, 7, 60.", "bc"),
            ("A conic whose focus is 3/4 from the directrix, eccentricity 0.8.", "focus_distance"),
            ("A logarithmic spiral of one turn: first radius 12 mm, ratio 1,2 at 30°.", "ratio"),
        ):
            self.assertFalse(record(read(text))["givens"][name]["sure"], text)

    def test_one_end_of_a_range_is_measured_as_the_other(self) -> None:
        for text in (
            "An Archimedean spiral of two turns, the greatest radius 72 mm and the least 12 mm.",
            "Archimedean spiral, 2 turns: the least 12 mm, the greatest radius 72 mm.",
        ):
            found = record(read(text))["givens"]
            self.assertEqual((found["outer"]["value"], found["inner"]["value"]), (144, 24), text)

    def test_a_cut_along_a_generator_stands_off_it_as_told(self) -> None:
        text = "A cone of 60 mm base and 70 mm axis is cut by a plane parallel to and 12 mm away from a generator."
        found = record(read(text))["givens"]
        slope, height = math.radians(found["cut_angle"]["value"]), found["cut_height"]["value"]
        self.assertAlmostEqual(math.tan(slope), 70 / 30, places=6)
        self.assertAlmostEqual((70 - height) * math.cos(slope), 12, places=5)

    def test_a_side_at_an_angle_is_a_turn_in_doubt(self) -> None:
        text = "A square prism, base 40 mm, height 80 mm, stands on its base with a face at 30° to the VP."
        turn = record(read(text))["givens"]["turn"]
        self.assertEqual((turn["value"] % 90 in (15, 75), turn["sure"]), (True, False))

    def test_a_cut_prism_is_set_whole_with_its_working(self) -> None:
        found = record(read(CUT_PRISM))
        values = {name: given["value"] for name, given in found["givens"].items()}
        self.assertEqual(found["figure"], "prism")
        self.assertEqual(
            values,
            {
                "sides": 6, "side": 30.0, "height": 70.0, "turn": 0.0, "cut": "plane", "cut_angle": 45.0,
                "cut_height": 50.0, "show": "pattern",
            },
        )  # fmt: skip
        self.assertEqual(found["givens"]["cut_height"]["how"], "worked out")
        self.assertIn("70 − 20", found["givens"]["cut_height"]["says"])
        self.assertEqual((found["missing"], found["doubts"], found["conflicts"]), ([], [], {}))

    def test_a_radius_told_for_a_diameter_is_doubled_and_said(self) -> None:
        given = record(read("A cone of 30 mm radius and 70 mm height."))["givens"]["diameter"]
        self.assertEqual((given["value"], given["how"]), (60.0, "worked out"))

    def test_a_size_of_a_round_body_that_no_word_calls_a_radius_is_no_radius_for_sure(self) -> None:
        for words, given in (
            ("A conical helix of two turns and 90 mm height on a cone of base 60 mm{}.", "base_radius"),
            ("One turn of a helix of pitch 70 mm on a cylinder of 50 mm{}.", "radius"),
        ):
            self.assertEqual(record(read(words.format("")))["doubts"], [given])
            clear = record(read(words.format(" diameter")))
            self.assertEqual((clear["doubts"], clear["missing"]), ([], []))

    def test_two_values_for_one_given_are_both_told_and_neither_is_filled(self) -> None:
        found = record(read("Draw a square of side 40 mm and side 45 mm."))
        self.assertEqual(found["conflicts"], {"side": [40.0, 45.0]})
        self.assertNotIn("side", found["givens"])

    def test_what_is_not_told_is_missing_and_never_a_default(self) -> None:
        found = record(read("Stretch-out of a hexagonal prism 65 mm high."))
        self.assertEqual((found["missing"], found["choices"]["cut"]), (["side"], "none"))
        with self.assertRaisesRegex(Refused, "Prism lacks side"):
            figure_of(read("Stretch-out of a hexagonal prism 65 mm high."))

    def test_what_the_catalogue_lacks_is_refused_by_name(self) -> None:
        self.assertIn("“torus”", record(read("Draw a torus of 90 mm."))["refuse"])

    def test_a_misspelling_is_read_and_told(self) -> None:
        reading = read("An elipse with major axis 90 mm and minor axis 60 mm")
        self.assertEqual(record(reading)["figure"], "ellipse")
        self.assertIn("elipse", reading.statement.read_as)

    def test_numbers_in_other_hands(self) -> None:
        for text, name, value in (
            ("Divide a line of 3 1/2 in. into five equal parts", "length", 88.9),
            ("Divide a line 5 ft 3 in long into 7 parts", "length", 1600.2),
            ("Divide a line of 1,250 mm into 9 equal parts", "length", 1250.0),
            ("Divide a line 7,6 cm long into 4 equal parts", "length", 76.0),
            ("Bisect an angle of 37° 30'", "angle", 37.5),
        ):
            with self.subTest(text):
                self.assertAlmostEqual(record(read(text))["givens"][name]["value"], value, 6)

    def test_a_job_in_inches_means_bare_numbers_in_inches(self) -> None:
        self.assertAlmostEqual(record(read("Bisect a line 3 long", 25.4))["givens"]["length"]["value"], 76.2)

    def test_strange_bytes_are_answered_at_once(self) -> None:
        for text in (
            "\x00\x1b[31m",
            "שלום 90",
            "Ein Kreis ∅ 40",
            "| a | b |\n|---|---|",
            "((((((1:2:3",
            "1/0 in",
            "0:0",
        ):
            with self.subTest(text):
                self.assertIsInstance(record(read(text)), dict)
        with self.assertRaisesRegex(Refused, "100000 signs"):
            read("a " * 50_000)
        for text in (f"A polygon of {'9' * 400} sides", f"Divide a line {'1' * 30}/7 mm long into 3"):
            with self.assertRaisesRegex(Refused, "digits is none of a drawing"):
                read(text)
        self.assertLess(LONGEST, 100_000)


OTHERWISE = {
    "small letters": str.lower,
    "capitals": str.upper,
    "mm without a space": lambda text: re.sub(r"(\d) mm\b", r"\1mm", text),
    "mm with a hyphen": lambda text: re.sub(r"(\d) mm\b", r"\1-mm", text),
    "millimetres": lambda text: re.sub(r"(\d) mm\b", r"\1 millimetres", text),
    "degrees": lambda text: re.sub(r"(\d)\s?°", r"\1 degrees", text),
    "decimal commas": lambda text: re.sub(r"(\d)\.(\d\d?)(?!\d)", r"\1,\2", text),
    "dia": lambda text: re.sub(r"\bdiameter\b", "dia.", text),
    "rad": lambda text: re.sub(r"\bradius\b", "rad.", text),
    "in length": lambda text: re.sub(r"\bmm long\b", "mm in length", text),
    "planes": lambda text: re.sub(r"\bHP\b", "horizontal plane", re.sub(r"\bVP\b", "vertical plane", text)),
    "lines": lambda text: text.replace(", ", ",\n"),
}


class Rewritten(unittest.TestCase):
    """A problem means the same, whichever way its numbers and words are written; else it is asked."""

    def test_nothing_is_silently_otherwise(self) -> None:
        every = json.loads(STATEMENTS.read_text("utf-8"))
        plain = [
            one for one in every if not (one["refuse"] or one.get("figures") or one["figure"] == "tangent-profile")
        ]
        for k, (name, write) in enumerate(OTHERWISE.items()):
            same = exact = 0
            rows = [one for one in plain if write(one["text"]) != one["text"]]
            for one in rows[k :: max(len(rows) // 120, 1)]:
                if not judged(one).exact:
                    continue
                found = judged({**one, "text": write(one["text"])})
                self.assertEqual(found.silent, (), f"{name}: {found.text}")
                same, exact = same + 1, exact + found.exact
            with self.subTest(name):
                self.assertGreater(same, 5)
                self.assertGreaterEqual(exact, 0.93 * same)


class Said(unittest.TestCase):
    """A problem that is said is read back to the same givens, and nothing of it is in doubt."""

    def read_back(self, id: str, givens: dict[str, Any], doubtless: bool) -> None:
        said = problem_said(id, givens)
        found = record(read(said))
        self.assertEqual(found["figure"], id, said)
        self.assertEqual((found["missing"], found["conflicts"], found["unused"]), ([], {}, []), said)
        kind = catalogue()[id]
        for name, given in found["givens"].items():
            if name not in ("show", "touch") and (given["sure"] or doubtless):  # both stand beside the problem
                self.assertEqual(
                    kind.givens[name].text(kind.givens[name].read(given["value"])),
                    kind.givens[name].text(kind.givens[name].read(givens[name])),
                    f"{name}: {said}",
                )
        if doubtless:
            self.assertEqual(found["doubts"], [], said)

    def test_every_figure_at_its_usual_sizes(self) -> None:
        for id, kind in catalogue().items():
            with self.subTest(id):
                self.read_back(id, kind().stored(), True)

    def test_drawn_problems(self) -> None:
        random = np.random.default_rng(30)
        for id in catalogue():
            for _ in range(2):
                with self.subTest(id):
                    self.read_back(id, dict(set_problem(id, random, "A1").givens), False)

    def test_either_school(self) -> None:
        givens = catalogue()["line-from-length-and-views"]().stored()
        self.assertIn("has a top view of", problem_said("line-from-length-and-views", givens, projection="third"))
        self.assertIn("has a plan of", problem_said("line-from-length-and-views", givens))

    def test_practice_tells_all_that_the_drawing_needs(self) -> None:
        problem = set_problem("prism", np.random.default_rng(4), "A2")
        words = problem.words()
        for name in ("turn", "seam", "side", "height"):
            given = problem.kind.givens[name]
            self.assertIn(given.text(given.read(problem.givens[name])), words)


class Command(unittest.TestCase):
    def test_one_problem_drawn_and_one_a_line_into_a_job(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            drawn, job, file = (Path(folder, name) for name in ("o.svg", "mill.json", "problems.txt"))
            status, out, err = stated(CUT_PRISM, "--draw", str(drawn))
            self.assertEqual((status, drawn.exists()), (0, True))
            self.assertIn("70 − 20", out)
            file.write_text("A rhombus with diagonals of 70 and 40 mm.\n\nDraw a torus.\nA 90 mm line, bisected.\n")
            status, out, err = stated("--file", str(file), "--json", "--into", str(job))
            answers = [json.loads(line) for line in out.splitlines()]
            self.assertEqual([one["figure"] for one in answers], ["rhombus", None, "bisect-line"])
            self.assertIn("torus", err)
            entries = load(job).entries()
            self.assertEqual([entry.figure for entry in entries], ["rhombus", "bisect-line"])
            self.assertEqual(entries[0].stated, "A rhombus with diagonals of 70 and 40 mm.")

    def test_paragraphs_and_files_that_cannot_be_read(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "sheet.txt")
            file.write_text("1. Draw a square\nof side 40 mm.\n\n2. Bisect an angle of 70°.\n")
            answers = stated("--file", str(file), "--paragraphs", "--json")[1].splitlines()
            self.assertEqual([json.loads(one)["figure"] for one in answers], ["square-on-side", "bisect-angle"])
            self.assertEqual(stated("--file", str(Path(folder, "none.txt")))[0], 2)
        self.assertEqual(stated("Draw a cone of 60 dia", "--draw", "/nowhere/x.svg")[0], 0)
        self.assertIn("Cone lacks height", stated("Draw a cone of 60 dia", "--draw", "/nowhere/x.svg")[2])
