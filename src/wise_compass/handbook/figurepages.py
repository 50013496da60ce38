"""A figure's page of the handbook, made by the figure itself: its problem, its methods in stages, its values, what
may go wrong, how sure a hand is."""

from __future__ import annotations

import math
import shlex
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any, NamedTuple

import numpy as np

from wise_compass import __version__
from wise_compass.booklet.pictures import finished_picture, slip_picture, stages_picture
from wise_compass.booklet.stages import stages_of
from wise_compass.drafting.figure import FAMILIES, Figure, Method
from wise_compass.drafting.givens import typed
from wise_compass.drafting.hands import HandsResult, run_hands
from wise_compass.drafting.recorder import ChoicePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import Run, run, run_slips
from wise_compass.drafting.wording import PLAIN, many, scale_name, trim
from wise_compass.figures.catalogue import ENTERED, figure_named
from wise_compass.handbook.pages import CATALOGUE, FIGURES, Page
from wise_compass.job.booklets import scale_alone
from wise_compass.sheet.drawing import Drawing
from wise_compass.words.saying import problem_said

HANDS = 160
MOST_VALUES, MOST_TOLD, MOST_DRAWN = 24, 4, 3
"""How many values of a figure, of what a slip changes, and slips as pictures, a page tells."""


class Made(NamedTuple):
    """A method of a figure at its defaults, the scale of its sheet, and many hands at it."""

    method: Method
    run: Run
    scale: float
    hands: HandsResult


def catalogue_page() -> Page:
    """All figures by families, each with what it is for."""
    lines = [
        "# The catalogue of figures",
        "",
        f"Each page here is made by the program itself, version {__version__}.",
        "",
    ]
    before = ""
    for id, entered in ENTERED.items():
        if entered.family != before:
            before = entered.family
            lines += ["", f"## {FAMILIES[before]}", ""]
        lines.append(f"- [{entered.title}]({FIGURES}{id}.md): {_plain(figure_named(id).summary)}")
    return Page(CATALOGUE, "The catalogue of figures", "\n".join([*lines, ""]))


def figure_page(id: str) -> Page:
    """The page of a figure; raises :class:`Refused` for an id that is none."""
    kind = figure_named(id)
    figure = kind()
    made = [_made(figure, one) for one in kind.methods.values() if one.fits(figure) is None]
    pictures: dict[str, Callable[[], Drawing]] = {f"{id}.svg": partial(finished_picture, made[0].run, PLAIN)}
    text = [
        *_head(kind, figure, made[0]),
        *_givens(kind),
        *(line for one in made for line in _method(one, pictures)),
        *_elsewhere(kind, figure),
        *_values(made[0].run),
        *_sure(made),
        *_commands(kind, made),
    ]
    return Page(FIGURES + id, kind.title, "\n".join([*text, ""]), {FIGURES + name: do for name, do in pictures.items()})


def _made(figure: Figure, method: Method) -> Made:
    made = run(figure, method)
    scale = scale_alone(made, PLAIN)
    return Made(method, made, scale, run_hands(figure, method, HANDS, 1, made.conventions, scale))


def _head(kind: type[Figure], figure: Figure, first: Made) -> Iterator[str]:
    yield from (f"# {kind.title}", "", _plain(kind.summary), "")
    yield from (f"![{kind.title}, by {first.method.title}]({kind.id}.svg)", "")
    yield from ("## The problem", "", f"> {_plain(problem_said(kind.id, figure.stored()))}", "")
    for caution in figure.cautions():
        yield from (f"**{_plain(PLAIN.say(caution))}**", "")


def _givens(kind: type[Figure]) -> Iterator[str]:
    yield from ("| given | what it is | at first | may be |", "|---|---|---|---|")
    for name, given in kind.givens.items():
        told = _bounds(given.bounds_text(), given.unit)
        yield f"| `{name}` | {_cell(given.says)} | {_cell(given.text(given.default, PLAIN))} | {_cell(told)} |"
    yield ""


BOUNDS = {
    "least": "at least",
    "over": "more than",
    "most": "at most",
    "under": "less than",
    "multiple": "a multiple of",
}


def _bounds(bounds: Any, unit: str) -> str:
    """Bounds in words: ``at least 0°, at most 360°``, or what may be chosen."""
    if isinstance(bounds, str):
        return bounds
    told = {key: value for key, value in bounds.items() if (key, value) != ("multiple", 1)}
    return ", ".join(_bound(key, value, unit) for key, value in told.items())


def _bound(key: str, value: Any, unit: str) -> str:
    if isinstance(value, (list, tuple)):
        return " or ".join(map(str, value))
    if not isinstance(value, (int, float)):
        return f"{BOUNDS.get(key, key)} {value}".replace("_", " ")
    said = trim(value, 4) + (unit if unit == "°" else f" {unit}".rstrip() if key != "multiple" else "")
    return f"{BOUNDS.get(key, key)} {said}"


def _method(one: Made, pictures: dict[str, Callable[[], Drawing]]) -> Iterator[str]:
    made, id = one.run, one.run.figure.id
    name = f"{id}-{one.method.id}"
    yield from (f"## By {one.method.title}", "")
    near = "" if one.method.exact(made.figure) else "**It comes near, and is not exact.** "
    at = "" if one.scale == 1 else f" Settings are those of a sheet at {scale_name(one.scale)}."
    told = f"{one.method.about} ".lstrip() + (f"Source: {one.method.source}." if one.method.source else "")
    yield from (f"{near}{_plain(told)} {many(len(made.steps), 'step')}.{at}", "")
    stages = stages_of(made)
    pictures[f"{name}.svg"] = partial(stages_picture, made, stages, PLAIN)
    yield from (f"![{one.method.title}, in stages]({name}.svg)", "")
    for number, stage in enumerate(stages, 1):
        settings = "; ".join(stage.settings(PLAIN, one.scale))
        set_to = f" *Set: {_plain(settings)}.*" if settings else ""
        yield f"{number}. **{_plain(stage.title)}.** {_plain(stage.says(PLAIN, one.scale))}{set_to}"
    yield ""
    yield from _slips(one, name, pictures)


def _slips(one: Made, name: str, pictures: dict[str, Callable[[], Drawing]]) -> Iterator[str]:
    """What the known slips of a method would measure, the first of them drawn."""
    slips = run_slips(one.run.figure, one.method, one.run.conventions, usual=True)
    if not slips:
        return
    yield from ("### What may go wrong", "")
    drawn = [(choice, other) for choice, other in slips if isinstance(other, Run) and _is_whole(other)][:MOST_DRAWN]
    if drawn:
        pictures[f"{name}-slips.svg"] = partial(slip_picture, one.run, [other for _, other in drawn])
        yield from (f"![The slips drawn over what is right]({name}-slips.svg)", "")
    letters = {choice.id: f" (picture {n})" for n, (choice, _) in enumerate(drawn, 1)}
    for choice, other in slips:
        yield f"- {_plain(PLAIN.say(choice.says))}{letters.get(choice.id, '')} {_measures(one.run, choice, other)}"
    yield ""


def _is_whole(made: Run) -> bool:
    return all(np.isfinite(spot.here).all() for spot in made.spots.values())


def _measures(right: Run, choice: ChoicePoint, wrong: Run | Refused) -> str:
    """What a slip would make of the values, those first that it changes most."""
    if isinstance(wrong, Refused):
        return f"The construction comes to a stop: {_plain(wrong.says)}"
    units = {value.name: value.unit for value in right.values}
    found = []
    for name, value in wrong.measured.items():
        true = right.measured[name]
        if np.ndim(value) or name not in units or not math.isfinite(float(value)):
            continue
        off = abs(float(value) - float(true)) / max(abs(float(true)), 1e-9)
        if off > 1e-6:
            found.append((off, name, float(value), float(true)))
    if not found:
        return "No value tells of it."
    told = [
        f"{_said(name)} {PLAIN.value(value, units[name])} instead of {PLAIN.value(true, units[name])}"
        for _, name, value, true in sorted(found, reverse=True)[:MOST_TOLD]
    ]
    return f"It measures {'; '.join(map(_plain, told))}."


def _elsewhere(kind: type[Figure], figure: Figure) -> Iterator[str]:
    """Methods that these numbers are not for."""
    for one in kind.methods.values():
        refused = one.fits(figure)
        if refused is not None:
            yield from (f"## By {one.title}", "", f"{_plain(one.about)} Not for these numbers: {_plain(refused)}", "")


def _values(made: Run) -> Iterator[str]:
    told = [value for value in made.values if isinstance(value.value, (int, float)) and not value.drawn]
    if not told:
        return
    yield from ("## Values", "", "| value | here | how |", "|---|---|---|")
    for value in told[:MOST_VALUES]:
        here = PLAIN.value(value.value, value.unit)
        yield f"| `{value.name}` | {_cell(here)} | {_cell(PLAIN.say(value.working))} |"
    yield ""
    if len(told) > MOST_VALUES:
        yield from (f"And {len(told) - MOST_VALUES} more: `wise-compass solve {made.figure.id}` tells all.", "")


def _sure(every: list[Made]) -> Iterator[str]:
    yield from ("## How sure a hand is", "")
    yield f"Each method drawn by {HANDS} steady hands: how far 95 in 100 keep within, on the paper,"
    yield from ("at the point that strays most.", "")
    yield from ("| method | exact | steps | within | at | most of it from |", "|---|---|---|---|---|---|")
    for one in every:
        worst = max(one.hands.points, key=lambda point: point.limit)
        exact = "yes" if one.method.exact(one.run.figure) else "near"
        cells = (
            one.method.title,
            exact,
            str(len(one.run.steps)),
            PLAIN.short(worst.limit * one.scale),
            PLAIN.lettered(worst.name),
            worst.most,
        )
        yield f"| {' | '.join(map(_cell, cells))} |"
    yield ""


def _commands(kind: type[Figure], every: list[Made]) -> Iterator[str]:
    yield from ("## By command", "")
    givens = [f"{name}={typed(given.stored(given.default))}" for name, given in kind.givens.items()]
    method = ["--method", every[-1].method.id] if len(every) > 1 else []
    yield f"    wise-compass solve {kind.id}"
    yield f"    wise-compass draw {shlex.join([kind.id, *givens, *method])} --out {kind.id}.pdf"
    yield ""


def _said(name: str) -> str:
    return name.replace("_", " ")


def _plain(words: str) -> str:
    """Words in which Markdown finds no signs of its own."""
    for sign in "\\`*_[]<>#|":
        words = words.replace(sign, f"\\{sign}" if sign not in "<>" else {"<": "&lt;", ">": "&gt;"}[sign])
    return words


def _cell(words: str) -> str:
    return _plain(words).replace("\n", " ")
