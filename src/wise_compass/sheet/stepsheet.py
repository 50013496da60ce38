"""The steps of a figure on paper, with what watches each of them: to lie beside the drawing board."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style, scale_name
from wise_compass.geometry.vectors import point
from wise_compass.sheet.drawing import Drawing, Item, Line, Text
from wise_compass.sheet.frame import frame_items
from wise_compass.sheet.lettering import SMALL, TEXT, fitted, text_width
from wise_compass.sheet.paper import Paper
from wise_compass.study.judge import Judge
from wise_compass.study.watch import Watch, what_to_measure

LEAD = 4.7
"""From line to line."""
NUMBER, TOOL, SAYS, WATCH = 2.0, 10.0, 46.0, 142.0
"""Where the columns begin, from the frame's left side: number, instrument and setting, the words, what watches the
step."""
END = 178.0


class _StepRow(NamedTuple):
    """What stands in one line: (place, words, bold) each; ``ruled`` has a hairline over it."""

    cells: tuple[tuple[float, str, bool], ...]
    ruled: bool = False


def step_drawings(run: Run, title: str, style: Style, scale: float = 1.0, watch: Watch | None = None) -> list[Drawing]:
    """The steps of a run on a sheet at ``scale``, on as many upright A4 pages as they need, with what to measure:
    ``watch``, or what is proposed for it."""
    watch = what_to_measure(Judge(run, scale)) if watch is None else watch
    rows = list(_rows(run, style, scale, watch))
    paper = Paper("A4", "portrait")
    _, bottom, _, top = paper.frame
    each = int((top - bottom - 22.0) / LEAD)
    parts = [rows[k : k + each] for k in range(0, len(rows), each)]
    return [_page(paper, part, f"{title}: steps", f"{k}/{len(parts)}") for k, part in enumerate(parts, 1)]


def _page(paper: Paper, rows: Sequence[_StepRow], title: str, number: str) -> Drawing:
    left, _, right, top = paper.frame
    drawing = Drawing(paper.width, paper.height, list(frame_items(paper)))
    drawing.items.append(_text(left + NUMBER, top - 8.0, fitted(title, TEXT, END - 20.0), True, TEXT))
    drawing.items.append(_text(right - 4.0 - text_width(number, SMALL), top - 8.0, number, False))
    y = top - 15.0
    for row in rows:
        if row.ruled:
            line = np.array([point(left + NUMBER, y + 3.6), point(left + END - 1.0, y + 3.6)])
            drawing.items.append(Line("lettering", 0, "", "construction", line))
        drawing.items += [_text(left + place, y, words, bold) for place, words, bold in row.cells]
        y -= LEAD
    return drawing


def _rows(run: Run, style: Style, scale: float, watch: Watch) -> Iterator[_StepRow]:
    head = [(NUMBER, "Step", True), (SAYS, "What to do", True)]
    if watch.proposed:
        head.append((WATCH, "Watched by", True))
    yield _StepRow(tuple(head))
    if scale != 1:
        yield _StepRow(((SAYS, f"Settings as on the paper, at {scale_name(scale)}.", False),))
    seen_by: dict[int, list[str]] = {}
    for one in watch.proposed:
        for n in one.sees:
            seen_by.setdefault(n, []).append(style.lettered(one.measure.name).replace("_", " "))
    missing = {one.step: one for one in lacks(run.steps, run.conventions.drafter.kit, scale)}
    wide = (WATCH if watch.proposed else END) - SAYS - 3.0
    for step in run.steps:
        says = step.sentence(style, scale)
        if step.n in missing:
            says += f" ({style.say(missing[step.n].says)}: {missing[step.n].way}.)"
        keep = "keep " if step.keep else ""
        words = wrapped_to(says, wide)
        tools = wrapped_to(f"{step.tool(scale)}  {keep}{step.setting(style, scale)}".strip(), SAYS - TOOL - 2.0)
        seen = wrapped_to(", ".join(seen_by.get(step.n, [])), END - WATCH - 1.0)
        for k in range(max(len(words), len(tools), len(seen))):
            cells = [(NUMBER, str(step.n), True)] if k == 0 else []
            cells += [
                (at, lines[k], False) for at, lines in ((TOOL, tools), (SAYS, words), (WATCH, seen)) if k < len(lines)
            ]
            yield _StepRow(tuple(cells), ruled=k == 0)
    yield from _to_measure(watch, style)


def _to_measure(watch: Watch, style: Style) -> Iterator[_StepRow]:
    if not watch.proposed:
        return
    yield _StepRow(())
    yield _StepRow(((NUMBER, "What to measure when it is drawn, on the paper", True),))
    for one in watch.proposed:
        name = style.lettered(one.measure.name).replace("_", " ")
        size = style.quantity(one.exact, one.measure.unit)
        sees = wrapped_to(style.lettered(one.for_what), END - 82.0) or [""]
        yield _StepRow(((NUMBER, name, False), (TOOL + 42.0, size, False), (80.0, sees[0], False)), ruled=True)
        yield from (_StepRow(((80.0, words, False),)) for words in sees[1:])
    if watch.unseen:
        for words in wrapped_to(f"Nothing on it sees step {', '.join(map(str, watch.unseen))}.", END - NUMBER - 2.0):
            yield _StepRow(((NUMBER, words, False),))


@lru_cache(maxsize=2048)
def wrapped_to(words: str, room: float) -> list[str]:
    """Words in lines that keep to ``room`` mm; a word that is wider is cut with …"""
    lines: list[str] = []
    for word in words.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and text_width(longer, SMALL) <= room:
            lines[-1] = longer
        else:
            lines.append(fitted(word, SMALL, room))
    return lines


def _text(x: float, y: float, words: str, bold: bool, size: float = SMALL) -> Item:
    return Text("lettering", 0, "", "frame", point(x, y), words, size, bold=bold)
