"""Worksheets on paper: the problem in words, a blank frame and where to start; the solution behind it, and the key of a
class set."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import PLAIN, Style
from wise_compass.geometry.vectors import Array, point
from wise_compass.outputs.cores import on_all_cores
from wise_compass.outputs.rows import rows_csv
from wise_compass.practice.problems import Problem, sheet_of
from wise_compass.practice.sketch import sketch_on
from wise_compass.sheet.clear import Box, overlapping
from wise_compass.sheet.compose import Sheet
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.lettering import TEXT
from wise_compass.sheet.paper import Paper
from wise_compass.sheet.squarecode import code_items, fits
from wise_compass.sheet.stepsheet import step_drawings
from wise_compass.study.judge import Judge
from wise_compass.study.watch import Watch, what_to_measure

CROSS = 3.0
"""mm that the cross where the work starts reaches each way."""


GIVEN = ("result", "points")
"""The layers of what is given drawn."""
MOST_PUPILS = 200
LETTER = 5.5
"""mm from the cross, across and up, at which its letter stands."""


class Task(NamedTuple):
    """A problem for somebody: a pupil's name or number, and what they are set."""

    pupil: str
    problem: Problem


def worksheet(problem: Problem, style: Style = PLAIN, title: str = "Practice", number: str = "1/1") -> Drawing:
    """The givens in words and a blank frame, with the start marked so that the whole fits, and a sketch of the points
    that are to be measured where there is room for it."""
    made = problem.run()
    return _worksheet(problem, made, _watch(problem, made), style, title, number)


def _worksheet(problem: Problem, made: Run, watch: Watch, style: Style, title: str, number: str) -> Drawing:
    sheet = sheet_of(problem, made, style, title, number)
    return as_worksheet(sheet, problem, list(sizes_of(watch)), 0, style).drawing


def as_worksheet(sheet: Sheet, problem: Problem, measures: Sequence[str], shown: int, style: Style = PLAIN) -> Sheet:
    """A problem's solution as the sheet that it is drawn on, with the steps up to ``shown`` on it and none of the
    others; ``measures`` are what is to be measured, by name. What the problem gives drawn is on it from the first."""
    low, high = sheet.spans[0]
    made = sheet.placed[0].piece.run
    given = made.printed_steps
    surround = [item for k, item in enumerate(sheet.drawing.items) if not low <= k < high]
    mine = sheet.drawing.items[low:high]
    own = [
        *(replace(item, step=0) for item in mine if 0 < item.step <= given and item.layer in GIVEN),
        *(item for item in mine if given < item.step <= shown),
    ]
    drawing = Drawing(sheet.paper.width, sheet.paper.height)
    drawing.items = [
        *surround,
        *own,
        *(replace(words, ink="frame") for words in sheet.captions),
        *(_start(sheet) if shown == given == 0 else ()),
        *(sketch_on(sheet, measures, problem.code, style) if not given else ()),
        *codes(problem, sheet.paper),
    ]
    return replace(sheet, drawing=drawing, spans=[(len(surround), len(surround) + len(own))])


def codes(problem: Problem, paper: Paper) -> Iterator[Item]:
    """The codes by which a photograph knows the problem; none where a person's own way is too long for them."""
    return code_items(problem.code, paper) if fits(problem.code) else iter(())


def _solution(problem: Problem, made: Run, watch: Watch, style: Style, title: str, number: str) -> list[Drawing]:
    """The drawing as it should be, with its code, and its steps with what to measure."""
    sheet = sheet_of(problem, made, style, title, number)
    sheet.drawing.items += codes(problem, sheet.paper)
    return [sheet.drawing, *step_drawings(made, f"{problem.kind.title}, {title.lower()}", style, problem.scale, watch)]


def start_of(made: Run) -> tuple[str, Array]:
    """Where the work starts, in figure mm: the first point that is marked, and what it is called."""
    for step in made.steps:
        for spot in step.spots:
            if spot.kind != "label":
                return spot.name, spot.here
    low, _ = made.extent
    return "", low


def _start(sheet: Sheet) -> list[Item]:
    """A cross where the work starts, with the letter of the point."""
    placed = sheet.placed[0]
    made = placed.piece.run
    name, here = start_of(made)
    at = placed.at(here, sheet.scale)
    items: list[Item] = [
        Line("result", 0, "", "strip", np.array([at - way, at + way])) for way in (point(CROSS, 0.0), point(0.0, CROSS))
    ]
    if name:
        low, high = made.extent
        items.append(
            _letter(name, at, here - (low + high) / 2, [one for one in sheet.captions if isinstance(one, Text)])
        )
    return items


def _letter(name: str, at: Array, away: Array, words: Sequence[Text]) -> Text:
    """The letter beside the cross: away from what will be drawn, so that it is taken for no line of it, and off the
    words under it."""
    x, y = (-1.0 if one <= 0 else 1.0 for one in away)
    taken = np.array([Box.of(one) for one in words]).reshape(-1, len(Box._fields))
    letters = [
        Text("lettering", 0, "", "frame", at + LETTER * side - point(1.6, 1.7), PLAIN.lettered(name), TEXT)
        for side in (point(x, y), point(x, -y), point(-x, y), point(-x, -y))
    ]
    clear = [one for one in letters if not overlapping(np.array([Box.of(one)]), taken).any()]
    return [*clear, *letters][0]


def to_measure(problem: Problem) -> Watch:
    """What to measure on a drawing of it."""
    return _watch(problem, problem.run())


def _watch(problem: Problem, made: Run) -> Watch:
    return what_to_measure(Judge(made, problem.scale), least=3)


def watches_of(tasks: Sequence[Task], hear: Callable[[int, int], None] | None = None) -> list[Watch]:
    """For every task what to measure on its drawing."""
    return on_all_cores(to_measure, [task.problem for task in tasks], hear)


def sizes_of(watch: Watch) -> dict[str, float]:
    """The measures that are proposed, by their names, and what each comes to on an exact drawing."""
    return {one.measure.name: one.exact for one in watch.proposed}


class Pages(NamedTuple):
    """What a pupil is given: the worksheet, and its solution behind it where that is wanted; and what is measured."""

    drawings: list[Drawing]
    watch: Watch


def set_pages(
    tasks: Sequence[Task], solutions: bool, style: Style = PLAIN, hear: Callable[[int, int], None] | None = None
) -> list[Pages]:
    """Every task's pages."""
    numbered = [(task, f"{k}/{len(tasks)}", solutions, style) for k, task in enumerate(tasks, 1)]
    return on_all_cores(_pages, numbered, hear)


def set_drawings(tasks: Sequence[Task], solutions: bool, style: Style = PLAIN) -> list[Drawing]:
    """The pages of every task, one after the other."""
    return [drawing for pages in set_pages(tasks, solutions, style) for drawing in pages.drawings]


def _pages(numbered: tuple[Task, str, bool, Style]) -> Pages:
    (pupil, problem), number, solutions, style = numbered
    made = problem.run()
    watch = _watch(problem, made)
    first = _worksheet(problem, made, watch, style, pupil or "Practice", number)
    after = _solution(problem, made, watch, style, f"Solution {pupil}".strip(), number) if solutions else []
    return Pages([first, *after], watch)


def class_sheet(tasks: Sequence[Task], watches: Sequence[Watch] | None = None) -> str:
    """The CSV that measurements of a class are entered in: pupil, problem, and a column for each measure that
    serves; ``watches`` as :func:`watches_of` has them."""
    names = _names(watches_of(tasks) if watches is None else watches)
    return rows_csv(
        ["pupil", "problem", *names], [[task.pupil, task.problem.code, *[""] * len(names)] for task in tasks]
    )


def class_key(tasks: Sequence[Task], watches: Sequence[Watch] | None = None) -> str:
    """The key of a class set: what each measure comes to on an exact drawing, and the givens in words; ``watches`` as
    :func:`watches_of` has them."""
    watches = watches_of(tasks) if watches is None else watches
    names = _names(watches)
    rows = [
        [task.pupil, task.problem.code, task.problem.words(), *(f"{mine[n]:.2f}" if n in mine else "" for n in names)]
        for task, mine in zip(tasks, map(sizes_of, watches), strict=True)
    ]
    return rows_csv(["pupil", "problem", "words", *names], rows)


def _names(watches: Sequence[Watch]) -> list[str]:
    """The measures of a class, each once."""
    return list(dict.fromkeys(name for watch in watches for name in sizes_of(watch)))
