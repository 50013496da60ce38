"""Ink, not points: how much is lined in by each role and phase, pinned for every figure and method, every line of it
drawn once; and by how much what is no exact construction misses."""

from __future__ import annotations

import json
import os
import unittest
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any
from zlib import crc32

import numpy as np

from tests.parted import parted
from wise_compass.drafting.figure import Figure
from wise_compass.drafting.marks import ArcMark, CurveMark, LineMark, Mark, Role
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.sheet.compose import compose
from wise_compass.sheet.drawing import Line, Text
from wise_compass.sheet.piece import Piece, Wishes

PINNED = Path(__file__).parent / "ink-lengths.json"
MISSES, MARKS, LETTERS, STEPS = (
    PINNED.with_name(f"{name}.json") for name in ("misses", "marks", "letters", "step-words")
)
DARK = (Role.OUTLINE, Role.HIDDEN, Role.FOLD)


def inked(made: Run) -> dict[str, float]:
    """The length of what is lined in, in mm, by role and phase."""
    told: dict[str, float] = {}
    for mark in made.marks:
        if mark.role not in DARK:
            continue
        lines = [np.array(mark.drawn())] if isinstance(mark, LineMark) else mark.polylines(16)
        key = f"{mark.role.value}, {made.steps[mark.step - 1].phase}"
        told[key] = told.get(key, 0.0) + sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in lines)
    return {key: round(size, 1) for key, size in sorted(told.items())}


def where(made: Run) -> list[float]:
    """What is drawn, construction lines and all: how many marks, their length in mm, and that length times where it
    lies, across and up."""
    lines = [line for mark in made.marks for line in _polylines(mark)]
    sizes = [np.hypot(*np.diff(line, axis=0).T) for line in lines]
    middles = [(line[1:] + line[:-1]) / 2 for line in lines]
    moments = sum((size @ middle for size, middle in zip(sizes, middles)), np.zeros(2))
    return [float(len(made.marks)), float(sum(size.sum() for size in sizes)), *moments.tolist()]


def lettering(made: Run) -> list[float]:
    """Where a sheet of its own with all dimensions is lettered: its paper's width, its scale, how many words and where
    they stand, all together; and how long the lines of dimensions are."""
    sheet = compose([Piece(made, dimensions="all")], Wishes("auto"))
    words = [item for item in sheet.drawing.items if isinstance(item, Text)]
    ruled = [item.points for item in sheet.drawing.items if isinstance(item, Line) and item.ink == "dimension"]
    size = sum(float(np.hypot(*np.diff(points, axis=0).T).sum()) for points in ruled)
    told = sheet.paper.width, sheet.scale, len(words), *np.sum([word.at for word in words], axis=0).tolist(), size
    return [round(float(one), 2) for one in told]


def words_of_steps(made: Run) -> list[str]:
    """What each step tells, each as a short digest: the instrument, the sentence, the setting and why."""
    told = (f"{one.heading}|{one.tool()}|{one.sentence()}|{one.setting()}|{one.why}" for one in made.steps)
    return [f"{crc32(words.encode()):08x}" for words in told]


def every_mark(kinds: Iterable[type[Figure]]) -> dict[str, list[float]]:
    """Where all is drawn by every method, and with every slip that it tells."""
    return {
        f"{kind.id} {made.method.id} {drawn.slip or ''}".strip(): where(drawn)
        for kind in kinds
        for made in served(kind)
        for drawn in (made, *(slipped for _, slipped in run_slips(made.figure, made.method.id)))
        if isinstance(drawn, Run)
    }


def _polylines(mark: Mark) -> list[np.ndarray]:
    return [np.array(mark.drawn())] if isinstance(mark, LineMark) else mark.polylines(8)


def served(kind: type[Figure]) -> list[Run]:
    return [run(kind(), way.id) for way in kind.methods.values() if way.fits(kind()) is None]


def straight(made: Run) -> list[np.ndarray]:
    found = []
    for mark in made.marks:
        if mark.role not in DARK or isinstance(mark, ArcMark) or (isinstance(mark, CurveMark) and mark.fair):
            continue
        line = np.array(mark.drawn()) if isinstance(mark, LineMark) else mark.polylines()[0]
        found += [np.array(pair) for pair in zip(line[:-1], line[1:])]
    return found


def pinned_as(path: Path, tell: Callable[[Run], Any]) -> dict[str, Any]:
    """What is pinned of every figure by every method; written anew first, a line each, where that is asked for."""
    if os.environ.get("WISE_COMPASS_PIN"):
        lines = (
            f"{json.dumps(f'{made.figure.id} {made.method.id}')}: {json.dumps(tell(made), ensure_ascii=False)}"
            for id in ENTERED
            for made in served(figure_named(id))
        )
        path.write_text("{\n" + ",\n".join(lines) + "\n}\n", "utf-8")
    return dict(json.loads(path.read_text("utf-8")))


class Ink(unittest.TestCase):
    @parted(4)
    def test_as_much_is_lined_in_as_was_looked_at(self, kinds: list[type[Figure]]) -> None:
        """Where it changes on purpose: look at it, then write the file anew with ``WISE_COMPASS_PIN=1``."""
        pinned = pinned_as(PINNED, inked)
        for kind in kinds:
            for made in served(kind):
                self.assertEqual(inked(made), pinned[f"{kind.id} {made.method.id}"], f"{kind.id} by {made.method.id}")

    def test_what_misses_by_design_misses_by_as_much_as_it_did(self) -> None:
        told: dict[str, dict[str, float]] = {}
        for id in ENTERED:
            for made in served(figure_named(id)):
                misses = {proof.says: proof.miss for proof in made.proofs if proof.by_design}
                if misses:
                    told[f"{id} {made.method.id}"] = misses
        if os.environ.get("WISE_COMPASS_PIN"):
            MISSES.write_text(json.dumps(told, ensure_ascii=False, indent=0) + "\n", "utf-8")
        pinned = json.loads(MISSES.read_text("utf-8"))
        self.assertEqual(
            {key: sorted(one) for key, one in told.items()}, {key: sorted(one) for key, one in pinned.items()}
        )
        for key, misses in told.items():
            for says, miss in misses.items():
                self.assertAlmostEqual(miss / pinned[key][says], 1.0, places=6, msg=f"{key}: {says}")

    @parted(6)
    def test_every_mark_stands_where_it_was_looked_at_those_of_slips_too(self, kinds: list[type[Figure]]) -> None:
        """Where it changes on purpose: look at it, then write the file anew with ``WISE_COMPASS_PIN=1``."""
        if os.environ.get("WISE_COMPASS_PIN"):
            every = {key: [round(at, 3) for at in told] for key, told in every_mark(map(figure_named, ENTERED)).items()}
            MARKS.write_text(json.dumps(every).replace("], ", "],\n") + "\n", "utf-8")
        pinned = json.loads(MARKS.read_text("utf-8"))
        for key, told in every_mark(kinds).items():
            for now, then in zip(told, pinned[key]):
                self.assertAlmostEqual(now, then, delta=1e-3 + 1e-6 * abs(then), msg=key)

    @parted(6)
    def test_every_sheet_is_lettered_as_was_looked_at(self, kinds: list[type[Figure]]) -> None:
        """Where it changes on purpose: look at it, then write the file anew with ``WISE_COMPASS_PIN=1``."""
        pinned = pinned_as(LETTERS, lettering)
        for kind in kinds:
            for made in served(kind):
                key = f"{kind.id} {made.method.id}"
                for now, then in zip(lettering(made), pinned[key], strict=True):
                    self.assertAlmostEqual(now, then, delta=0.021, msg=key)

    @parted(2)
    def test_every_step_tells_what_was_read(self, kinds: list[type[Figure]]) -> None:
        """Where it changes on purpose: read it, then write the file anew with ``WISE_COMPASS_PIN=1``."""
        pinned = pinned_as(STEPS, words_of_steps)
        for kind in kinds:
            for made in served(kind):
                key = f"{kind.id} {made.method.id}"
                changed = [
                    step.sentence()
                    for step, now, then in zip(made.steps, words_of_steps(made), pinned[key])
                    if now != then
                ]
                self.assertEqual(changed, [], key)
                self.assertEqual(len(made.steps), len(pinned[key]), key)

    @parted(4)
    def test_every_line_is_drawn_once(self, kinds: list[type[Figure]]) -> None:
        for kind in kinds:
            for made in served(kind):
                lines = straight(made)
                for k, (p, q) in enumerate(lines):
                    size = float(np.hypot(*(q - p)))
                    if size < 0.5 or k + 1 == len(lines):
                        continue
                    u = (q - p) / size
                    off = np.array(lines[k + 1 :]) - p
                    beside = np.abs(off @ np.array([-u[1], u[0]])).max(axis=1)
                    along = np.sort(off @ u, axis=1)
                    both = np.minimum(along[:, 1], size) - np.maximum(along[:, 0], 0.0)
                    again = (beside < 1e-6) & (both > 0.5)
                    self.assertFalse(again.any(), f"{kind.id} by {made.method.id}: from {p.round(1)} to {q.round(1)}")

    @parted(2)
    def test_every_arc_is_drawn_once(self, kinds: list[type[Figure]]) -> None:
        for kind in kinds:
            for made in served(kind):
                seen: dict[tuple[float, ...], list[tuple[float, float]]] = {}
                for mark in made.marks:
                    if not isinstance(mark, ArcMark) or mark.role not in DARK:
                        continue
                    key = (*np.round(mark.centre, 6).tolist(), round(float(mark.radius), 6))
                    for start, sweep in mark.spans():
                        steps = np.arange(start + 1.0, start + sweep - 1.0, 1.0) % 360.0
                        for first, wide in seen.get(key, []):
                            over = ((steps - first) % 360.0 < wide - 1.0).sum()
                            self.assertLess(over, 3, f"{kind.id} by {made.method.id}: an arc about {key}")
                        seen.setdefault(key, []).append((start, sweep))
