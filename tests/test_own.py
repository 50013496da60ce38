"""Constructions of one's own: the language, what they are proved to be, what of the shipped ones comes back, and what a
stranger's file may do."""

from __future__ import annotations

import contextlib
import io
import json
import os
import random
import re
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest import mock

import numpy as np

from tests import quick, ways
from tests.parted import parted
from wise_compass.drafting.figure import OWN_WAY, Figure
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN
from wise_compass.figures.catalogue import figure_named
from wise_compass.job.build import build_sheet, run_entry
from wise_compass.job.model import Entry, Job, SheetPlan
from wise_compass.job.store import load
from wise_compass.job.ways import keep, kept
from wise_compass.own.claims import Claim, proofs_of
from wise_compass.own.exam import examine
from wise_compass.own.language import FORMS, MOST_STEPS, MOST_TEXT, read_line
from wise_compass.own.program import Program, program_of
from wise_compass.own.proving import Verdict, _variants, judge
from wise_compass.own.taking import taken_out
from wise_compass.own.writing import as_far_as
from wise_compass.scene.scene import Scene
from wise_compass.shop.parts import cuts_of
from wise_compass.study.edges import edge_of
from wise_compass.terminal.main import main

SAME = 1e-9


def said(*arguments: str) -> tuple[int, str]:
    out = io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(out):
        code = main([*arguments])
    return code, out.getvalue()


def worst(verdict: Verdict) -> float:
    return max(one.miss for one in verdict.misses)


class Language(unittest.TestCase):
    def test_each_form_is_read_and_written_as_it_says(self) -> None:
        for form in FORMS:
            line = read_line(form.such)
            self.assertEqual((line.verb, line.text), (form.verb, form.such))

    def test_a_whole_construction_comes_back_from_its_lines_and_from_json(self) -> None:
        for text in (*ways.EXACT.values(), ways.HEPTAGON, ways.SQUARED, ways.seventeen()):
            program = program_of(text)
            self.assertEqual(program_of(program.text).text, program.text)
            self.assertEqual(program_of(json.dumps(program.data)).text, program.text)

    def test_what_cannot_be_is_told_by_its_line(self) -> None:
        head = "mark A at 0, 0\n"
        for lines, part in (
            ("circl k about A: 30", "Line 2"),
            ("circle k about B: 30", "speaks of B"),
            ("circle k about A: 0", "more than nothing"),
            ("mark A at 5, 5", "there already"),
            ("line a through A and A", "one point"),
            ("circle k about A: elbow", "elbow"),
            ("level a from A\nlevel b from A\nmeet P of a and b", "do not meet"),
            ("level a from A\ntitle: late", "before the first step"),
            ("mark B at 9**9**9, 0", "Line 2"),
            ("mark B at __import__('os'), 0", "Line 2"),
        ):
            with self.subTest(lines), self.assertRaises(Refused) as told:
                judge(program_of(f"claim: AA = 0\n{head}{lines}"))
            self.assertIn(part, PLAIN.say(told.exception.template).replace("Line 3", "Line 2"))


class Proved(unittest.TestCase):
    def test_known_exact_ones(self) -> None:
        for name, text in {**ways.EXACT, "seventeen": ways.seventeen()}.items():
            with self.subTest(name):
                verdict = judge(program_of(text))
                self.assertEqual(verdict.kind, "exact", PLAIN.say(verdict.says))
                self.assertGreater(verdict.others.held, 100)

    def test_known_approximate_ones_miss_by_what_they_miss(self) -> None:
        for text, misses in (
            (ways.HEPTAGON, ways.heptagon_misses()),
            (ways.BY_CHORD, ways.third_misses("chord")),
            (ways.BY_HEIGHT, ways.third_misses("height")),
            (ways.BY_QUARTERS, ways.third_misses("quarters")),
            (ways.SQUARED, ways.square_misses()),
        ):
            verdict = judge(program_of(text))
            self.assertEqual(verdict.kind, "near", text)
            self.assertAlmostEqual(worst(verdict), misses, delta=SAME)
            self.assertGreater(verdict.others.worst, misses, "somewhere else it misses by more")

    def test_exact_for_these_numbers_alone(self) -> None:
        text = ways.PENTAGON.replace("on a from A: side", "on a from A: 60")
        verdict = judge(program_of(text))
        self.assertEqual(verdict.kind, "here")
        self.assertIn("side", verdict.worst_at)

    def test_what_has_no_step_yet_is_told_what_it_lacks(self) -> None:
        with self.assertRaisesRegex(Refused, "speaks of A, which the construction has not"):
            judge(program_of("title: Boss\nclaim: polygon-on-side\n"))

    def test_right_points_and_a_wrong_line_are_not_exact(self) -> None:
        verdict = judge(program_of(ways.PENTAGON.replace("A B C D E A", "A C B D E A")))
        self.assertEqual(verdict.kind, "wrong")
        self.assertEqual([cause.instead for cause in verdict.causes], ["line in A B C D E A"])

    def test_where_two_lines_do_not_meet_is_told_apart(self) -> None:
        verdict = judge(program_of(ways.CIRCLES))
        self.assertGreater(verdict.others.unmet, 20)
        self.assertEqual(verdict.kind, "exact")

    def test_where_no_others_can_be_drawn_it_is_not_called_exact(self) -> None:
        tight = """
            givens: r=20
            claim: T on k
            mark O at 0, 0
            circle k about O: r
            mark P at 40, 0
            circle m about P: 20.0001
            meet T of k and m, upper
        """
        verdict = judge(program_of(tight.replace("20.0001", "20 + (r-20)*(r-20)*1000000 + 0.0001")))
        self.assertEqual(verdict.kind, "here")
        self.assertIn("two lines do not meet", PLAIN.say(verdict.says))

    def test_letters_are_offered_by_the_nearest_place(self) -> None:
        text = ways.PENTAGON
        for theirs, own in (("C", "R1"), ("D", "S1"), ("E", "T1")):
            text = text.replace(f" {theirs} ", f" {own} ")
        with self.assertRaises(Refused) as told:
            judge(program_of(text))
        self.assertIn("letters: C=R1 D=S1 E=T1", told.exception.template)
        lettered = text.replace("mark A", "letters: C=R1 D=S1 E=T1\nmark A", 1)
        self.assertEqual(judge(program_of(lettered)).kind, "exact")

    def test_a_letter_that_the_claim_has_for_another_point(self) -> None:
        turned = re.sub(r"\b[CE]\b", lambda name: {"C": "E", "E": "C"}[name[0]], ways.PENTAGON)
        program = program_of(turned.replace("mark A", "letters: C=E E=C\nmark A", 1))
        self.assertEqual(judge(program).kind, "exact")
        own = Claim(program).run()
        self.assertIn("E", own.spots)
        self.assertGreater(own.spots["E"].here[1], 0)

    def test_broken_ones_are_told_and_the_step_is_named(self) -> None:
        chance = random.Random(36)
        told = named = 0
        for text in (ways.PENTAGON, ways.GOLDEN, ways.TANGENT, ways.CIRCLES):
            program = program_of(text)
            for _ in range(3 if quick else 9):
                broken = _broken(program, chance)
                if broken is None:
                    continue
                number, other = broken
                try:
                    verdict = judge(other, draws=30)
                except Refused:
                    continue  # it cannot even be drawn
                if verdict.kind == "exact":
                    self.assertLess(worst(verdict), SAME)
                    continue  # another step that does as well
                told += 1
                named += any(cause.line.number == number for cause in verdict.causes)
        self.assertGreater(told, 5 if quick else 18)
        self.assertGreaterEqual(named, 0.8 * told)

    def test_examined(self) -> None:
        claim = Claim(program_of(ways.PENTAGON))
        self.assertTrue(examine(claim).passed)
        told = examine(claim, ["compass", "straightedge"], 9)
        self.assertFalse(told.passed)
        self.assertIn("set square", " ".join(told.faults))
        self.assertIn("14 steps", " ".join(told.faults))
        with self.assertRaises(Refused):
            examine(claim, ["laser"])


def _broken(program: Program, chance: random.Random) -> tuple[int, Program] | None:
    """One operand of one step exchanged: the step's number, and the construction."""
    k = chance.randrange(2, len(program.lines))
    others = list(_variants(program.lines[:k], program.lines[k]))
    if not others:
        return None
    lines = (*program.lines[:k], chance.choice(others), *program.lines[k + 1 :])
    return program.lines[k].number, program._replace(lines=lines)


class Taken(unittest.TestCase):
    came_back = 0

    @parted(4)
    def test_shipped_methods_come_back_with_their_points_and_verdicts(self, kinds: list[type[Figure]]) -> None:
        came = 0
        for kind in kinds:
            figure = kind()
            for method in kind.methods.values():
                try:
                    program = program_of(taken_out(figure, method.id).text)
                except Refused:
                    continue
                with self.subTest(kind.id, method=method.id):
                    own, theirs = Claim(program).run(), run(figure, method.id)
                    size = float(np.abs(theirs.extent[1] - theirs.extent[0]).max())
                    for key, spot in theirs.spots.items():
                        if key in own.spots and spot.kind != "label":
                            off = float(np.abs(own.spots[key].here - spot.here).max())
                            self.assertLess(off, 2e-11 * max(size, 100.0), key)
                    proofs = proofs_of(own)
                    self.assertEqual(all(one.holds for one in proofs), method.exact(figure))
                    self.assertTrue(all(one.holds or one.by_design for one in proofs))
                    came += 1
        self.assertGreater(came, 4 if quick else 20)

    @parted(2)
    def test_what_is_half_written_stands_on_a_sheet(self, kinds: list[type[Figure]]) -> None:
        for kind in kinds:
            figure = kind()
            try:
                rows = taken_out(figure).text.split("\n")
            except Refused:
                continue
            for upto in {len(rows) // 3, len(rows) // 2, len(rows) - 2}:
                with self.subTest(kind.id, rows=upto):
                    entry = Entry(kind.id, "Half of it", OWN_WAY, figure.stored(), own="\n".join(rows[:upto]))
                    made = run_entry(entry)
                    sheet = build_sheet(Job("Mill", (SheetPlan("Half", (entry,)),)), 0, {entry.id: made})
                    self.assertEqual(sheet.placed[0].piece.run, made)
                    self.assertIsInstance(made.measured, dict)
                    self.assertTrue(made.proofs)
                    parts = cuts_of(made) if made.parts else []
                    self.assertGreaterEqual(len(parts), len(made.parts))
                    if made.views is not None:
                        self.assertTrue(Scene(made).order)
                        self.assertLessEqual(len(edge_of(made) or ()), 9)


class Strangers(unittest.TestCase):
    """Nothing that a stranger's construction says does more than draw, or takes long."""

    def test_random_constructions_neither_fault_nor_hang(self) -> None:
        chance = random.Random(20261130)
        figure = figure_named("polygon-on-side")()
        drawn = 0
        for _ in range(60 if quick else 300):
            text = _random_text(chance, 40)
            began = time.process_time()
            written = as_far_as(text, figure)
            with contextlib.suppress(Refused):
                judge(written.program._replace(figure="", truths=("AB = CD", "angle ABC = 60", "P on k")), draws=20)
            entry = Entry(figure.id, "By chance", OWN_WAY, figure.stored(), own=text)
            self.assertTrue(run_entry(entry).proofs)
            self.assertLess(time.process_time() - began, 4.0, text)
            drawn += len(written.program.lines)
            self.assertEqual(len(written.program.lines) + len(written.faults), 40)
        self.assertGreater(drawn, 500 if quick else 2500)

    def test_bytes_that_are_no_construction(self) -> None:
        chance = random.Random(7)
        deep = '{"format":' * 3000
        for text in (deep, "{}", '{"format": "wise-compass-construction", "version": 9}', "\x00" * 50, "[" * 20000):
            with self.assertRaises(Refused):
                judge(program_of(text))
        whole = json.dumps(program_of(ways.PENTAGON).data)
        for _ in range(300):
            at = chance.randrange(len(whole))
            changed = whole[:at] + chance.choice('{}[]",:\\x0aQ\n\t') + whole[at + 1 :]
            with contextlib.suppress(Refused):
                Claim(program_of(changed)).misses()

    def test_limits(self) -> None:
        many = "mark A at 0, 0\n" + "\n".join(f"mark P{k} at {k}, 0" for k in range(MOST_STEPS))
        for text in (many, "mark A at 0, 0\n" + "#" * MOST_TEXT):
            with self.assertRaises(Refused):
                program_of(text)
        self.assertEqual(len(as_far_as(many, figure_named("ellipse")()).program.lines), MOST_STEPS)


def _random_text(chance: random.Random, steps: int) -> str:
    """Steps by chance, that mostly speak of what is there."""
    points, things, lines = ["A", "B"], ["a"], ["mark A at 0, 0", "mark B at 60, 5", "line a through A and B"]

    def one(of: list[str]) -> str:
        return chance.choice(of) if chance.random() > 0.02 else "Q77"

    for k in range(steps - 3):
        new, thing = f"P{k}", f"k{k}"
        length = chance.choice([f"{one(points)}{one(points)}", str(chance.randint(-5, 90)), "side/2", "1/0", "1e99"])
        line, made = chance.choice(
            [
                (f"circle {thing} about {one(points)}: {length}", thing),
                (f"arc {thing} about {one(points)}: {length}", thing),
                (f"line {thing} through {one(points)} and {one(points)}", thing),
                (f"square {thing} to {one(things)} from {one(points)}", thing),
                (f"ray {thing} from {one(points)} at {chance.randint(-400, 400)}", thing),
                (f"bisect {one(points)}{one(points)}: {thing}", thing),
                (f"meet {new} of {one(things)} and {one(things)}, {chance.choice(['upper', 'left'])}", new),
                (f"meet {new} of {one(things)} and {one(things)}", new),
                (f"lay off {new} on {one(things)} from {one(points)}: {length}", new),
                (f"middle {new} of {one(points)}{one(points)}", new),
                (f"step {length} round {one(things)} from {one(points)}: {new}", new),
                (f"divide {one(points)}{one(points)} into 3: {new}", new),
                (f"line in {one(points)} {one(points)} {one(points)}", ""),
                (f"curve {one(points)} {one(points)} {one(points)} {one(points)}", ""),
                *_random_moves(chance, one, points, things, new, thing),
            ]
        )
        lines.append(line)
        (points if made.startswith("P") else things).append(made) if made else None
    return "\n".join(lines)


def _random_moves(
    chance: random.Random, one: Callable[[list[str]], str], points: list[str], things: list[str], new: str, thing: str
) -> list[tuple[str, str]]:
    """Known moves, places and steps in views by chance."""
    view, side, how = (
        chance.choice(["front", "top", "3"]),
        chance.choice(["left", "right"]),
        chance.choice(["along", "square to"]),
    )
    return [
        (f"share {new} of {one(points)}{one(points)} at {chance.choice(['2/5', '-3', '0'])}", new),
        (f"place {new} on {one(things)} at {chance.randint(-99, 99)}", new),
        (f"mirror {new} of {one(points)} over {one(points)}", new),
        (f"halve {one(points)}{one(points)}{one(points)}: {thing}", thing),
        (f"erect {thing} on {one(things)} at {one(points)}", thing),
        (f"drop {new} on {one(things)} from {one(points)}", new),
        (f"touch {new} on {one(things)} from {one(points)}, {side}", new),
        (f"crown {new} of {one(things)} along {one(things)}, {side}", new),
        (f"trammel {new} about {one(points)} along {one(things)} at {chance.randint(0, 400)}: 60, 35", new),
        (f"line in {one(points)} {one(points)}, from 0.5 to 1, hidden", ""),
        (f"reference {thing} from {one(points)}", thing),
        (f"fold {thing} off {view} through {one(points)} {how} {one(things)}, {side}", thing),
        (f"project {new}.top over {one(points)} level with {one(points)}", f"{new}.top"),
        (f"project {new}.front over {one(points)} level with {one(points)}", f"{new}.front"),
        (f"transfer {one(points).partition('.')[0]}.3", ""),
        (f"datum {one(things)} for {view}", ""),
    ]


class Kept(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name)
        env = mock.patch.dict(os.environ, {"XDG_DATA_HOME": folder.name})
        env.start()
        self.addCleanup(env.stop)
        self.file = self.path / "boss.txt"
        self.file.write_text(ways.PENTAGON, "utf-8")

    def test_kept_from_job_to_job(self) -> None:
        path = keep(program_of(ways.PENTAGON))
        (path.parent / "junk.way").write_bytes(b"\xff\xfe")
        self.assertEqual([one.program.figure for one in kept()], ["polygon-on-side"])
        self.assertEqual(list(kept("ellipse")), [])

    def test_the_command_proves_sets_and_takes_out(self) -> None:
        job = self.path / "mill.json"
        code, words = said("own", str(self.file), "--into", str(job), "--keep", "--compare")
        self.assertEqual(code, 0, words)
        self.assertIn("Exact: it holds with its own numbers and with 200 others", words)
        self.assertIn("pentagon arcs", words)
        (entry,) = load(job).entries()
        self.assertEqual(entry.method, OWN_WAY)
        self.assertEqual(run_entry(entry).method.title, "Boss of the floor, five-sided")
        self.assertIn("Boss of the floor", said("own", "--kept")[1])
        pdf = self.path / "mill.pdf"
        self.assertEqual(said("print", str(job), "--out", str(pdf))[0], 0)
        taken = self.path / "ellipse.txt"
        self.assertEqual(said("own", "--take", "ellipse:two-circles", "long=120", "--out", str(taken))[0], 0)
        code, words = said("own", str(taken), "--json")
        self.assertEqual((code, json.loads(words)["verdict"]), (0, "exact"))

    def test_the_command_refuses_in_a_line(self) -> None:
        for told, part in (
            (("own", str(self.path / "no.txt")), "cannot be read"),
            (("own", str(self.file), "--out", str(self.file)), "what this was made from"),
            (("own", "--take", "auxiliary-view"), f"over {MOST_STEPS} steps"),
            (("own",), "Name a file"),
            (("own", str(self.file), "--allow", "laser"), "no instrument"),
        ):
            code, words = said(*told)
            self.assertEqual(code, 2)
            self.assertIn(part, words)
            self.assertEqual(len(words.strip().splitlines()), 1, words)
