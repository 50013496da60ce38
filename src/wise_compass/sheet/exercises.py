"""The printed sheets of short exercises by which a hand is calibrated."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

import numpy as np

from wise_compass.geometry.vectors import Array, point, polar
from wise_compass.sheet.drawing import Arc, Drawing, Item, Line, Text
from wise_compass.sheet.frame import frame_items
from wise_compass.sheet.lettering import SMALL, TEXT
from wise_compass.sheet.paper import Paper
from wise_compass.study.calibration import BASE, EXERCISES, STEPS, Exercise

ROW, INDENT = 12.5, 42.0
"""From row to row, and where in it the line starts."""
TOPICS = {
    "compass setting": "Openings. Set the compass to the size off the rule; about the cross, cut the line.",
    "rule mark": "Marks. With the rule, mark the size off from the cross.",
    "dividers taken": "Carried. Take the two points between the dividers; prick the opening off from the cross.",
    "set square": "Parallels. Slide the set square; draw a parallel through the point, from mark to mark.",
    "protractor": "Angles. Set each off at the corner by the protractor; draw it out to the arc.",
    "dividers stepped": f"Steps. Take the two points between the dividers; step {STEPS} times along the line.",
}
HOW = {
    "compass setting": "Measure from the cross to the cut.",
    "rule mark": "Measure from the cross to the mark.",
    "dividers taken": "Measure from the cross to the prick.",
    "set square": "Measure from the line to the parallel at both marks: the far one less the near one.",
    "protractor": "Measure straight from the end of the base line to where the angle meets the arc.",
    "dividers stepped": f"Measure the first {STEPS // 2} steps together, less the last {STEPS // 2}.",
}


def exercise_drawings() -> list[Drawing]:
    """The sheets of exercises, A4 upright."""
    groups: dict[str, list[Exercise]] = {}
    for exercise in EXERCISES:
        groups.setdefault(exercise.tolerance, []).append(exercise)
    pages = [("compass setting", "rule mark", "set square"), ("protractor", "dividers taken", "dividers stepped")]
    return [_page(number, {topic: groups[topic] for topic in topics}) for number, topics in enumerate(pages, 1)]


def _page(number: int, groups: dict[str, list[Exercise]]) -> Drawing:
    paper = Paper("A4", "portrait")
    left, _, _, top = paper.frame
    drawing = Drawing(paper.width, paper.height, list(frame_items(paper)))
    at = point(left + 5.0, top - 8.0)
    drawing.items.append(_text(at, f"Calibrate my hand, sheet {number} of 2: draw as you always do", TEXT, True))
    y = top - 17.0
    for topic, exercises in groups.items():
        for words in (TOPICS[topic], HOW[topic]):
            drawing.items.append(_text(point(left + 5.0, y), words, SMALL, words is TOPICS[topic]))
            y -= 4.8
        made, y = DRAWN[topic](exercises, left + 5.0, y)
        drawing.items += made
        y -= 10.0
    return drawing


def _rows(exercises: Sequence[Exercise], left: float, y: float) -> tuple[list[Item], float]:
    """A line a row with a cross where the size is set off from, and two pricks where it is carried from another
    place."""
    items: list[Item] = []
    carried = exercises[0].tolerance in ("dividers taken", "dividers stepped")
    y += 0.0 if carried else 5.0
    for exercise in exercises:
        y -= ROW if carried else 0.76 * ROW
        start = point(left + INDENT, y)
        asked = "" if carried else f"  {exercise.asks:g} mm"
        items += [_text(point(left, y - 1.2), f"{exercise.name}{asked}", SMALL), *_cross(start)]
        reach = 124.0 if exercise.tolerance == "dividers stepped" else 100.0
        items.append(Line("result", 0, "", "construction", np.array([start, start + point(reach, 0.0)])))
        if carried:
            long = exercise.asks or 10.4 + 0.7 * float(exercise.name[-1])
            items += [*_cross(start + point(0.0, 5.2), 1.0), *_cross(start + point(long, 5.2), 1.0)]
    return items, y


def _parallels(exercises: Sequence[Exercise], left: float, y: float) -> tuple[list[Item], float]:
    items: list[Item] = []
    y += 4.0
    for k, exercise in enumerate(exercises):
        y -= 22.0
        start, lean = point(left + INDENT, y), (0.0, 2.0, -2.0, 1.0)[k % 4]
        far = polar(start, BASE, lean)
        square = polar(np.zeros(2), 1.0, lean + 90.0)
        items += [
            _text(point(left, y - 1.2), exercise.name, SMALL),
            Line("result", 0, "", "strip", np.array([start, far])),
        ]
        items += [
            Line("result", 0, "", "construction", np.array([one - 2 * square, one + 16 * square]))
            for one in (start, far)
        ]
        items += _cross(start + (far - start) * 0.08 + 11.0 * square, 1.0)
    return items, y


def _fan(exercises: Sequence[Exercise], left: float, y: float) -> tuple[list[Item], float]:
    corner = point(left + 8.0, y - 100.0)
    items: list[Item] = [Line("result", 0, "", "strip", np.array([corner, corner + point(BASE, 0.0)])), *_cross(corner)]
    items.append(Arc("result", 0, "", "construction", corner, BASE, 0.0, 80.0))
    for k, exercise in enumerate(exercises):
        items.append(_text(corner + point(BASE + 14.0, 60.0 - 7.0 * k), f"{exercise.name}   {exercise.asks:g}°", SMALL))
    return items, float(corner[1]) - 4.0


DRAWN: dict[str, Callable[[Sequence[Exercise], float, float], tuple[list[Item], float]]] = {
    "set square": _parallels,
    "protractor": _fan,
    **dict.fromkeys(("compass setting", "rule mark", "dividers taken", "dividers stepped"), _rows),
}


def _cross(at: Array, half: float = 1.5) -> Iterator[Item]:
    for way in (point(half, 0.0), point(0.0, half)):
        yield Line("result", 0, "", "strip", np.array([at - way, at + way]))


def _text(at: Array, words: str, size: float, bold: bool = False) -> Text:
    return Text("lettering", 0, "", "frame", at, words, size, bold=bold)
