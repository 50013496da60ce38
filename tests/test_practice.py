"""Problems that fit, worksheets that tell the givens and hide the answers, marks, and a class."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader

from tests import examples
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import lanes_of, run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.outputs.files import read_table
from wise_compass.outputs.pdf import pdf_bytes
from wise_compass.practice.classes import Unmarked, absent, class_text, mark_class, marks_csv, most_made
from wise_compass.practice.classtable import read_class
from wise_compass.practice.marking import LOOSE, STEADY, WRONG, mark
from wise_compass.practice.problems import Problem, problem_of, sheet_of
from wise_compass.practice.setting import set_problem
from wise_compass.practice.worksheet import (
    Task,
    as_worksheet,
    class_key,
    class_sheet,
    set_drawings,
    set_pages,
    start_of,
    to_measure,
    worksheet,
)
from wise_compass.sheet.drawing import Text
from wise_compass.sheet.lettering import text_width
from wise_compass.sheet.squarecode import code_cells, parts_of
from wise_compass.study.judge import Judge
from wise_compass.study.measures import exactly, named, taken_as


def hexagon() -> Problem:
    return Problem("polygon-on-side", "circumcentre", {"side": 47.0, "sides": 6})


class ThirdViews(unittest.TestCase):
    """Two views of a drawn solid are given, the third is to be found."""

    def problems(self) -> list[Problem]:
        return [
            set_problem(
                "built-up", np.random.default_rng(k), "A3", None, "third-view", projection=("first", "third")[k % 2]
            )
            for k in range(8)
        ]

    def test_the_worksheet_has_the_two_views_and_nothing_of_the_third(self) -> None:
        for problem in self.problems():
            made = problem.run()
            self.assertTrue(all(proof.holds for proof in made.proofs))
            sheet = sheet_of(problem, made)
            shown = as_worksheet(sheet, problem, [], 0)
            low, high = shown.spans[0]
            own = shown.drawing.items[low:high]
            self.assertGreater(len(own), 8)
            self.assertLessEqual(max(item.step for item in own), made.printed_steps)
            side = np.array([spot.here for name, spot in made.spots.items() if name.endswith(" side")])
            box = [end * sheet.scale + sheet.placed[0].origin for end in (side.min(axis=0), side.max(axis=0))]
            for item in own:
                course = item.polyline()
                if course is not None:
                    inside = ((course > box[0] - 0.1) & (course < box[1] + 0.1)).all(axis=1)
                    self.assertFalse(inside.any())
            self.assertIn("Draw the view from the right", problem.words())
            self.assertNotIn("box", problem.words())
            self.assertEqual(problem_of(problem.code), problem)

    def test_what_is_measured_is_of_the_new_view_and_a_view_turned_about_is_seen(self) -> None:
        for problem in self.problems()[:4]:
            made = problem.run()
            judge = Judge(made, problem.scale)
            measures = [one.measure for one in to_measure(problem).proposed]
            self.assertGreaterEqual(len(measures), 3)
            for one in measures:
                self.assertTrue(any(name.endswith(" side") for name in one.points), one.name)
            for slip, mark_of, kind in ((None, STEADY, "honest"), ("depths-turned-about", WRONG, "slip")):
                drawn = made if slip is None else run(problem.made(), problem.method, made.conventions, slip)
                sizes = exactly(drawn, measures, problem.scale)
                taken = [taken_as(made, one.name, f"{size:.2f} mm") for one, size in zip(measures, sizes)]
                marked = mark(judge, taken)
                self.assertEqual((marked.mark, marked.checked.verdict.verdict), (mark_of, kind), marked.why)

    def test_a_printed_step_is_never_to_blame(self) -> None:
        problem = self.problems()[0]
        made = problem.run()
        lanes = lanes_of(made.figure, made.method.id, 5, 0, made.conventions, problem.scale)
        self.assertGreater(len(lanes.made), 5)
        for stray in lanes.made:
            self.assertGreater(stray.step, made.printed_steps)


class Worksheets(unittest.TestCase):
    def test_they_say_the_givens_and_not_the_answers_and_the_solution_stands_behind(self) -> None:
        random = np.random.default_rng(7)
        for figure in ("triangle-three-sides", "ellipse", "prism", "skew-lines", "common-tangents"):
            problem = set_problem(figure, random)
            pages = [
                page.extract_text()
                for page in PdfReader(io.BytesIO(pdf_bytes(set_drawings([Task("", problem)], True)))).pages
            ]
            sheet = " ".join(pages[0].split())
            for word in problem.words().split():
                self.assertIn(word, sheet)
            made = problem.run()
            for value in made.values:
                if isinstance(value.value, float) and value.unit == "mm":
                    told = PLAIN.value(value.value, value.unit).removesuffix(" mm")
                    if told.rstrip("0").rstrip(".") not in problem.words():
                        self.assertNotIn(told, sheet, value.name)
            self.assertIn("Solution", pages[1])
            self.assertIn(made.steps[-1].sentence(PLAIN, problem.scale).split()[0], " ".join(pages[2:]))

    def test_the_start_is_marked_where_the_whole_fits(self) -> None:
        problem = hexagon()
        (sheet, *_) = set_drawings([Task("Ada", problem)], False)
        made = problem.run()
        name, here = start_of(made)
        placed = sheet_of(problem, made).placed[0]
        crosses = [item.points for item in sheet.items if item.layer == "result"]
        self.assertEqual(len(crosses), 2)
        for points in crosses:
            np.testing.assert_allclose(points.mean(axis=0), placed.origin + here)
        self.assertIn(name, [item.words for item in sheet.items if hasattr(item, "words")])

    def test_the_letter_of_the_start_stands_off_the_problem_s_words(self) -> None:
        """Where the work starts at the figure's foot, the words stand where its letter would."""
        for id in ("fillet", "cycloid", "bisect-angle", "triangle-three-sides", "rectangle"):
            kind = figure_named(id)
            sheet = worksheet(Problem(id, next(iter(kind.methods)), kind().stored()))
            words = [item for item in sheet.items if isinstance(item, Text) and len(item.words) > 20]
            letters = [item for item in sheet.items if isinstance(item, Text) and item.layer == "lettering"]
            self.assertTrue(words and letters, id)
            for one in letters:
                wide = text_width(one.words, one.size)
                for other in words:
                    apart = abs(one.at[1] - other.at[1]) > max(one.size, other.size)
                    left = other.at[0] - other.anchor * text_width(other.words, other.size)
                    beside = one.at[0] + wide < left or one.at[0] > left + text_width(other.words, other.size)
                    self.assertTrue(apart or beside or one in words, (id, one.words, other.words))

    def test_the_code_on_the_sheet_is_read_by_another_library(self) -> None:
        import cv2

        from wise_compass.desk.paper.raster import png_bytes
        from wise_compass.desk.parts.theme import application

        application()
        for problem in (hexagon(), set_problem("built-up", np.random.default_rng(2))):
            (sheet,) = set_drawings([Task("", problem)], False)
            picture = cv2.imdecode(np.frombuffer(png_bytes(sheet, False, 300), np.uint8), cv2.IMREAD_GRAYSCALE)
            told = ""
            cells, side = code_cells(sheet_of(problem).paper)
            fine, high = picture.shape[1] / 297.0, 210.0
            for x, y in cells[: len(parts_of(problem.code))]:
                crop = picture[
                    round((high - y - side) * fine) : round((high - y) * fine),
                    round(x * fine) : round((x + side) * fine),
                ]
                crop = cv2.copyMakeBorder(crop, 20, 20, 20, 20, cv2.BORDER_CONSTANT, value=(255,))
                tries = (cv2.GaussianBlur(crop, (0, 0), blur) for blur in (0.4, 0.8, 1.2, 1.6, 2.0))
                told += next(filter(None, (cv2.QRCodeDetector().detectAndDecode(one)[0] for one in tries)), "  ")[2:]
            self.assertEqual(told, problem.code)

    def test_sketch_solution_and_key_speak_of_the_same_measures(self) -> None:
        """Of both some measure sees no step, and is proposed for a corner, or for its length."""
        for id in ("square-on-side", "parallelogram"):
            kind = figure_named(id)
            task = Task("Ada", Problem(id, next(iter(kind.methods)), kind().stored()))
            (made,) = set_pages([task], True)
            (row,) = csv.DictReader(io.StringIO(class_key([task], [made.watch])))
            sketch, steps = made.drawings[0], made.drawings[2:]
            lettered = {item.words for item in sketch.items if isinstance(item, Text) and item.layer == "sketch"}
            told = [item.words for page in steps for item in page.items if isinstance(item, Text)]
            self.assertTrue([one for one in made.watch.proposed if not one.sees])
            for one in made.watch.proposed:
                self.assertLessEqual(set(map(PLAIN.lettered, one.measure.points)), lettered)
                self.assertIn(PLAIN.lettered(one.measure.name), told)
                self.assertEqual(f"{one.exact:.2f}", row[one.measure.name])
                self.assertIn(one.for_what, [*told, ""])
            self.assertNotIn("sees step", told)

    def test_the_key_tells_what_each_measure_comes_to(self) -> None:
        tasks = [Task("Ada", hexagon()), Task("Ben", hexagon()._replace(givens={"side": 52.0, "sides": 6}))]
        rows = list(csv.DictReader(io.StringIO(class_key(tasks))))
        for row, task in zip(rows, tasks):
            made = task.problem.run()
            for one in to_measure(task.problem).proposed:
                exact = float(exactly(made, [named(made, one.measure.name)], task.problem.scale)[0])
                self.assertAlmostEqual(float(row[one.measure.name]), exact, 2)


class Marks(unittest.TestCase):
    def test_within_a_steady_hand_loose_or_wrong_and_nothing_that_was_not_measured(self) -> None:
        made = hexagon().run()
        judge = Judge(made)
        for sizes, whole in (
            ({"A-D": 94.1, "B-E": 93.9}, STEADY),
            ({"A-D": 95.3, "B-E": 94.4}, LOOSE),
            ({"A-D": 101.0, "B-E": 99.8, "C-F": 100.2}, WRONG),
        ):
            marked = mark(judge, [taken_as(made, name, str(size)) for name, size in sizes.items()])
            self.assertEqual(marked.mark, whole, sizes)
            self.assertEqual(set(marked.each), set(sizes))
            self.assertEqual(bool(marked.why), whole != STEADY)
            self.assertEqual("it is loose" in marked.why, whole == LOOSE, "mark and sentence say the same")

    def test_a_class_is_marked_each_against_its_own_numbers_and_told_what_it_does_wrong(self) -> None:
        rows = []
        for k, side in enumerate((41.0, 47.0, 53.0, 59.0)):
            problem = hexagon()._replace(givens={"side": side, "sides": 6})
            made = problem.run()
            by = 1.1 if k < 2 else 1.0
            names = [one.measure.name for one in to_measure(problem).proposed]
            sizes = {name: f"{by * float(exactly(made, [named(made, name)], 1.0)[0]):.1f}" for name in names}
            rows.append({"pupil": f"Pupil {k}", "problem": problem.code, "minutes": "12.5", **sizes})
        out = io.StringIO()
        writer = csv.DictWriter(out, list(dict.fromkeys(name for row in rows for name in row)))
        writer.writeheader()
        writer.writerows(rows)
        graded = mark_class(read_class(out.getvalue()))
        self.assertEqual([one.marked.mark == WRONG for one in graded], [True, True, False, False])
        self.assertEqual(most_made(graded)[0][1], 2)
        back = list(csv.DictReader(io.StringIO(marks_csv(graded))))
        self.assertEqual([row["mark"] for row in back], [one.marked.mark for one in graded])
        self.assertTrue(back[0]["why"])
        self.assertEqual(graded[0].noted.minutes, 12.5)
        words = class_text(graded, [Unmarked("Pupil 4", rows[0]["problem"], "absent", "away since Monday")])
        for one in graded:
            self.assertIn(one.marked.why, words)
        self.assertIn("Pupil 4              absent: away since Monday", words.splitlines())

    def test_a_sheet_that_cannot_be_marked_names_the_row_and_takes_nothing(self) -> None:
        code = hexagon().code
        wide = Problem("ellipse", "two-circles", {"long": 40.0, "wide": 90.0}).code  # read, but not to be drawn
        for text, part in (
            (f"pupil,A-D\nAda,{code}\n", "problem is missing"),
            (f"pupil,problem,A-D\nAda,{code},94\nAda,{code},95\n", "Row 3: Ada is there twice"),
            (f"pupil,problem,A-D,minutes\nAda,{code},94,-3\n", "Row 2: minutes is -3"),
            (f"pupil,problem,A-D\nAda,{code},9x4\n", "Row 2, A-D"),
            (f"pupil,problem,A-Q\nAda,{code},94\n", "Row 2, A-Q"),
            (f"pupil,problem,A-D\nAda,{code},\n", "Of no drawing anything is measured"),
            (f"pupil,problem,A-D\n,{code},94\nBen,WC1/NO/SUCH/A4/1:1/3,94\n", "Row 2 names no pupil. Row 3"),
            ("pupil,problem,A-D\nAda,WC1/NO/SUCH/A4/1:1/3,94\n", "Row 2"),
            (f"pupil,problem,A-D\n,{code},94\n", "names no pupil"),
            (
                f"pupil,problem,A-D\nAda,{code},94\nBo,{wide},94\n",
                "Row 3: The short axis is 90 mm; it must be at most 40",
            ),
            (f"pupil,problem,A-D\nAda,{code},94,95\n", "more cells"),
            ("pupil,problem\n", "no row"),
        ):
            with self.assertRaises(Refused, msg=text) as caught:
                mark_class(read_class(text))
            self.assertIn(part, PLAIN.say(caught.exception.says))
            self.assertNotIn("\n", caught.exception.says)

    def test_a_table_is_read_as_schools_have_it(self) -> None:
        code = hexagon().code
        plain = f"pupil,problem,A-D,B-E,minutes\nAda,{code},94.1,93.9,12.5\nBén,{code},,,\nCy,{code},absent,-,\n"
        semicolons = plain.replace(",", ";").replace(".", ",")
        told = {
            "semicolons and decimal commas": semicolons.encode(),
            "a line of its own for the delimiter": f"sep=;\n{semicolons}".encode(),
            "tabs": plain.replace(",", "\t").encode(),
            "headings in capitals and spaces": plain.replace("pupil,problem,A-D", "Pupil , PROBLEM,a - d").encode(),
            "cp1252": semicolons.encode("cp1252"),
            "UTF-16 with its mark": semicolons.encode("utf-16"),
            "UTF-16 without": semicolons.encode("utf-16-le"),
            "quoted decimal commas": plain.replace("94.1", '"94,1"').encode("utf-8-sig"),
        }
        with tempfile.TemporaryDirectory() as folder:
            for how, content in told.items():
                path = Path(folder) / "class.csv"
                path.write_bytes(content)
                handed = read_class(read_table(path, "measurements"))
                (graded,) = mark_class(handed)
                self.assertEqual([one.measured for one in graded.marked.checked.verdict.measured], [94.1, 93.9], how)
                self.assertEqual(graded.noted.minutes, 12.5, how)
                self.assertEqual([one.pupil for one in absent(handed)], ["Bén", "Cy"], how)
        rows = list(csv.DictReader(io.StringIO(marks_csv([graded], absent(handed)))))
        self.assertEqual([row["why"] for row in rows if row["mark"] == "absent"], ["nothing measured", "absent"])

    def test_names_that_a_table_program_would_take_for_formulas_come_back_as_they_were(self) -> None:
        code = hexagon().code
        for name in ("=1+1", "+49", "-Ada", "@home", "'t Hooft", "Ada, the second", "“Ben”"):
            sheet = class_sheet([Task(name, hexagon())])
            self.assertFalse(any(line.startswith(("=", "+", "-", "@")) for line in sheet.splitlines()))
            filled = sheet.replace(f"{code},", f"{code},94.0", 1)
            (handed,) = read_class(filled)
            self.assertEqual(handed.pupil, name)
            self.assertEqual(list(handed.measured.values()), ["94.0"])

    @settings(max_examples=examples(80), deadline=None)
    @given(st.text('pupilroblem,"\n;A-D9.4=é\x00', max_size=80), st.booleans())
    def test_no_sheet_brings_anything_but_marks_or_one_line(self, words: str, headed: bool) -> None:
        try:
            read_class(("pupil,problem,A-D\n" if headed else "") + words)
        except Refused as refusal:
            self.assertNotIn("\n", refusal.says)

    def test_the_commands_set_a_class_and_mark_it(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            command = [sys.executable, "-m", "wise_compass"]
            told = subprocess.run(
                [*command, "practice", "rhombus", "--pupils", "3", "--seed", "5", "--out", folder / "w.pdf", "--key",
                folder / "k.csv"]
                + ["--sheet", folder / "c.csv", "--no-solutions", "--json"],
                capture_output=True, text=True, check=True,
            )  # fmt: skip
            self.assertEqual(len(json.loads(told.stdout)["problems"]), 3)
            self.assertEqual(len(PdfReader(folder / "w.pdf").pages), 3)
            blank = list(csv.DictReader(io.StringIO((folder / "c.csv").read_text())))
            key = list(csv.DictReader(io.StringIO((folder / "k.csv").read_text())))
            with (folder / "c.csv").open("w") as out:
                writer = csv.DictWriter(out, list(blank[0]))
                writer.writeheader()
                writer.writerows(
                    {name: row[name] or answers.get(name, "") for name in row} for row, answers in zip(blank, key)
                )
            told = subprocess.run(
                [*command, "mark", folder / "c.csv", "--out", folder / "m.csv"],
                capture_output=True,
                text=True,
                check=True,
            )
            self.assertIn("No drawing went wrong", told.stdout)
            self.assertEqual(
                {row["mark"] for row in csv.DictReader(io.StringIO((folder / "m.csv").read_text()))}, {STEADY}
            )
            for wrong in (
                ["practice", "--family", "weaving"],
                ["mark", folder / "none.csv"],
                ["practice", "rhombus", "--pupils", "0"],
            ):
                told = subprocess.run([*command, *wrong], capture_output=True, text=True)
                self.assertEqual((told.returncode, told.stderr.count("\n")), (2, 1), told.stderr)

    def test_the_sheet_of_a_class_has_a_column_a_measure_and_room_for_each(self) -> None:
        head = class_sheet([Task("Ada", hexagon())]).splitlines()[0].split(",")
        self.assertEqual(head[:2], ["pupil", "problem"])
        self.assertEqual(head[2:], [one.measure.name for one in to_measure(hexagon()).proposed])


if __name__ == "__main__":
    unittest.main()
