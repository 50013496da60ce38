"""A shipped construction taken out as lines that a person can read and change.

A draft that keeps what its instruments are told writes them down: each operation is a line of the language. A length is
told by the givens where it is a simple share of one, in this and in other numbers; a crossing by what tells it from the
other with all of them. A method that uses more than the language has is refused, by what that is.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from itertools import count
from typing import Any

import numpy as np

from wise_compass.drafting.capabilities import InViews
from wise_compass.drafting.compassing import crossings
from wise_compass.drafting.figure import Figure, Method, method_for
from wise_compass.drafting.marks import LineMark, Role, Spot, nominal
from wise_compass.drafting.recorder import Opening
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import PLAIN, trim
from wise_compass.geometry.vectors import Array, distance
from wise_compass.own.claims import method_of, numbers_of
from wise_compass.own.keeping import Kept
from wise_compass.own.language import MOST_STEPS, POINT, WHICH, Line, read_line, written
from wise_compass.own.program import Program
from wise_compass.own.shares import angles_told, of_two, share_of

SAME = 1e-9
OTHERS = (1.37, 0.83)
"""How many times as large givens are drawn to see what a length depends on."""
LINES = "abcdefghijlmnopqrstuvwxyz"


def taken_out(figure: Figure, method: str | None = None) -> Program:
    """A method of a figure as a construction of one's own; raises :class:`Refused` where it uses more than the
    language has."""
    chosen = method_for(figure, method)
    if isinstance(figure, InViews):
        raise Refused("own", f"{figure.title} stands in views, which the language has not yet.")
    runs = [_run(one, chosen) for one in _alike(figure, chosen)]
    program = _Taking(figure, chosen, runs).program()
    if any(re.fullmatch(r"[A-Za-z][\w.*]{0,20}", key) is None for key in program.letters):
        raise Refused("own", f"{figure.title} has points whose names the language has not.")
    if (off := _strays(figure, chosen, program)) > SAME:
        raise Refused("own", f"{chosen.title} cannot be written down: its points would come out {off:.2g} off.")
    return program


def _strays(figure: Figure, method: Method, program: Program) -> float:
    """How far the points of a construction that was taken out lie from those of its method, as a part of its size."""
    try:
        own, theirs = run(figure, method_of(program)), run(figure, method)
    except ValueError:
        return np.inf
    low, high = theirs.extent
    gaps = [distance(own.spots[key].here, spot.here) for key, spot in theirs.spots.items() if key in own.spots]
    lost = any(key not in own.spots and spot.kind not in ("plain", "label") for key, spot in theirs.spots.items())
    return np.inf if lost or not gaps else float(max(gaps)) / float(np.abs(high - low).max())


def _alike(figure: Figure, method: Method) -> list[Figure]:
    """The figure, and others of its kind with other numbers."""
    found = [figure]
    for k, factor in enumerate(OTHERS):
        numbers = {
            name: value * (factor + 0.07 * n * (1 - 2 * k))
            if figure.givens[name].kind != "angle"
            else value * (1.0 + 0.08 * (1 - 2 * k) + 0.03 * n)
            for n, (name, value) in enumerate(numbers_of(figure).items())
        }
        try:
            other = type(figure)(**{**figure.given_values, **numbers})
        except Refused:
            continue
        if method.fits(other) is None:
            found.append(other)
    return found


def _run(figure: Figure, method: Method) -> tuple[Figure, Kept]:
    d = Kept()
    with np.errstate(invalid="ignore", divide="ignore"):
        method.draw(figure, d)
    return figure, d


class _Taking:
    """What is written down of several runs of one method."""

    def __init__(self, figure: Figure, method: Method, runs: Sequence[tuple[Figure, Kept]]) -> None:
        self.figure, self.method = figure, method
        told = [d.kept for _, d in runs]
        self.runs = [run for run, kept in zip(runs, told) if [one[0] for one in kept] == [one[0] for one in told[0]]]
        self.names: list[dict[int, str]] = [{} for _ in self.runs]
        self.places: list[dict[str, Array]] = [{} for _ in self.runs]
        self.letters: dict[str, str] = {}
        self.lines: list[Line] = []
        self.points = (f"Z{k}" for k in count(1))
        self.things = (letter if not k else f"{letter}{k}" for k in count() for letter in LINES)

    def program(self) -> Program:
        if not self.runs[0][1].kept or len(self.runs[0][1].kept) > MOST_STEPS:
            raise Refused("own", f"{self.method.title} has over {MOST_STEPS} steps of the language.")
        for k in range(len(self.runs[0][1].kept)):
            rows = [d.kept[k] for _, d in self.runs]
            name, told, made = rows[0]
            self.phase = str(told.get("phase", ""))
            getattr(self, f"_{name}")([row[1] for row in rows], [row[2] for row in rows])
        numbers = numbers_of(self.figure)
        stored = {
            name: trim(numbers[name], 9) if name in numbers else str(value)
            for name, value in self.figure.stored().items()
            if isinstance(value, (int, float, str)) and value != self.figure.givens[name].default
        }
        stored |= {name: trim(value, 9) for name, value in numbers.items()}
        twice = {own for theirs, own in self.letters.items() if theirs != own}
        known = {theirs: own for theirs, own in self.letters.items() if own in twice}
        return Program(f"{self.method.title}, taken out", tuple(self.lines), self.figure.id, stored, known)

    # names

    def _put(self, verb: str, says: str = "", **parts: str) -> None:
        text = written(verb, parts)
        words = PLAIN.say(says).replace("#", "").strip() if says else ""
        line = read_line(text, len(self.lines) + 1, self.phase)
        self.lines.append(line._replace(says="" if len(words) > 200 else words))

    def _point(self, spots: Sequence[Spot], name: str = "") -> str:
        """A name for a point that was found, in every run."""
        own = name if re.fullmatch(POINT, name) and name not in self.names[0].values() else next(self.points)
        if name:
            self.letters[name] = own
        for names, places, spot in zip(self.names, self.places, spots):
            names[id(spot)], places[own] = own, spot.here
        return own

    def _of(self, spot: Spot) -> str:
        if id(spot) not in self.names[0]:
            raise Refused("own", f"{self.method.title} speaks of a point that no step of the language marks.")
        return self.names[0][id(spot)]

    def _thing(self, marks: Sequence[object]) -> str:
        own = next(self.things)
        for names, mark in zip(self.names, marks):
            names[id(mark)] = own
        return own

    def _line(self, mark: object) -> str:
        if id(mark) not in self.names[0]:
            raise Refused("own", f"{self.method.title} speaks of a line that no step of the language draws.")
        return self.names[0][id(mark)]

    # lengths

    def _length(self, values: Sequence[object]) -> str:
        """A length in every run as one expression."""
        if isinstance(values[0], Opening):
            openings = [value for value in values if isinstance(value, Opening)]
            return self._opening(openings)
        return self._number([float(nominal(value, 0)) for value in values])  # type: ignore[arg-type]

    def _opening(self, openings: Sequence[Opening]) -> str:
        """The two points that an opening was taken from, where they are named."""
        want = [one.nominal for one in openings]
        names = self._named()
        if len(names) > 1:
            missed = np.zeros((len(names), len(names)))
            for places, span in zip(self.places, want):
                at = np.array([places[name] for name in names])
                missed = np.maximum(missed, np.abs(distance(at[:, None], at[None]) - span))
            one, other = np.unravel_index(int(np.argmin(missed)), missed.shape)
            if missed[one, other] <= SAME * max(want):
                return f"{names[min(one, other)]}{names[max(one, other)]}"
        return self._number(want)

    def _named(self) -> list[str]:
        return list(self.places[0])

    def _number(self, values: Sequence[float], unit: str = "length") -> str:
        """A number of every run: by one given, or by two, where it is a share of it; as it is where it does not
        change."""
        if np.ptp(values) <= SAME * max(map(abs, values), default=1.0) and self._still(values):
            return trim(values[0], 12).replace("−", "-")
        told = [numbers_of(figure) for figure, _ in self.runs]
        if unit == "angle":
            return next(angles_told(values, told), trim(values[0], 12).replace("−", "-"))
        for name in told[0]:
            shares = [value / own[name] for value, own in zip(values, told) if own[name]]
            if len(shares) == len(values) and np.ptp(shares) <= 1e-9 * max(map(abs, shares)):
                return share_of(shares[0], name)
        for one, other in _pairs(list(told[0])):
            if expression := of_two(values, told, one, other):
                return expression
        return trim(values[0], 12).replace("−", "-")

    def _still(self, values: Sequence[float]) -> bool:
        return len(values) > 1 or abs(values[0]) < SAME

    # operations

    def _start_at(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self._plot(told, made)

    def _plot(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        x, y = (self._number([float(one.get(axis, 0.0)) for one in told]) for axis in "xy")
        self._put("mark", name=self._point(made, told[0]["name"]), x=x, y=y, says=str(told[0].get("says", "")))

    def _rule(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self._put(
            "line", told[0].get("says", ""), new=self._thing(made), a=self._of(told[0]["a"]), b=self._of(told[0]["b"])
        )

    def _ray(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        angle = self._number([float(nominal(one["angle"], 0)) for one in told], "angle")
        self._put("ray", told[0].get("says", ""), new=self._thing(made), at=self._of(told[0]["start"]), angle=angle)

    def _level_from(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self._put("level", told[0].get("says", ""), new=self._thing(made), at=self._of(told[0]["start"]))

    def _upright_from(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self._put("upright", told[0].get("says", ""), new=self._thing(made), at=self._of(told[0]["start"]))

    def _square_to(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        on, at = self._line(told[0]["line"]), self._of(told[0]["start"])
        self._put("square", told[0].get("says", ""), new=self._thing(made), on=on, at=at)

    def _parallel_to(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        on, at = self._line(told[0]["line"]), self._of(told[0]["start"])
        self._put("parallel", told[0].get("says", ""), new=self._thing(made), on=on, at=at)

    def _lay_off(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first, back = told[0], {"back": "backward"} if told[0].get("way", 1.0) < 0 else {}
        on, at = self._line(first["line"]), self._of(first["start"])
        length = self._length([one["length"] for one in told])
        name = self._point(made, first["name"])
        self._put("lay off", first.get("says", ""), name=name, on=on, at=at, length=length, **back)

    def _compass(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        verb = "circle" if told[0].get("whole", True) else "arc"
        at, length = self._of(told[0]["centre"]), self._length([one["radius"] for one in told])
        self._put(verb, told[0].get("says", ""), new=self._thing(made), at=at, length=length)

    def _meet(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        one, two = (self._line(told[0][part]) for part in ("one", "two"))
        which = self._which(told, made)
        parts = {"one": one, "two": two, **({"which": which} if which else {})}
        self._put("meet", name=self._point(made, told[0].get("name", "")), **parts)

    def _which(self, told: list[dict[str, Any]], made: list[Spot]) -> str:
        """What tells a crossing from the other, in all runs."""
        both = [nominal(crossings(one["one"], one["two"]), 2) for one in told]
        if len(both[0]) < 2:
            return ""
        right = [int(np.argmin(distance(pair, spot.here))) for pair, spot in zip(both, made)]
        for which, axis, sign in zip(WHICH, (1, 1, 0, 0), (1, -1, -1, 1)):
            if all((sign * (pair[k, axis] - pair[1 - k, axis])) > SAME for pair, k in zip(both, right)):
                return which
        for name in self._named():
            places = [own[name] for own in self.places]
            gaps = [distance(pair, at) for pair, at in zip(both, places)]
            if all(gap[k] < gap[1 - k] - 1e-6 for gap, k in zip(gaps, right)):
                return f"nearest {name}"
            if all(gap[k] > gap[1 - k] + 1e-6 for gap, k in zip(gaps, right)):
                return f"other than {name}"
        touching = all(float(distance(*pair)) < 1e-6 for pair in both)
        if touching:
            return "upper"
        raise Refused("own", f"{self.method.title} takes a crossing that nothing of the language tells from the other.")

    def _between(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        if told[0]["share"] != 0.5:
            raise Refused("own", f"{self.method.title} divides by trial in a ratio, which the language has not.")
        name = self._point(made, told[0].get("name", ""))
        self._put("middle", name=name, a=self._of(told[0]["a"]), b=self._of(told[0]["b"]))

    def _step_round(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first = told[0]
        length = self._length([one["chord"] for one in told])
        on, at = self._line(first["circle"]), self._of(first["start"])
        names = [self._point([spots[k] for spots in made], name) for k, name in enumerate(first["names"])]
        clock = {"clock": "clockwise"} if first.get("clockwise") else {}
        self._put("step round", first.get("says", ""), length=length, on=on, at=at, names=" ".join(names), **clock)

    def _step_along(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first = told[0]
        length = self._length([one["space"] for one in told])
        given, marks = list(first.get("names", ())), [spots[1:] for spots in made]
        names = [
            self._point([spots[k] for spots in marks], given[k] if k < len(given) else "") for k in range(len(marks[0]))
        ]
        back = {"back": "backward"} if first["count"] < 0 else {}
        on, at = self._line(first["line"]), self._of(first["start"])
        self._put("step along", first.get("says", ""), length=length, on=on, at=at, names=" ".join(names), **back)

    def _divide(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first, marks = told[0], [spots[1:-1] for spots in made]
        given = list(first.get("names", ()))[1:]
        a, b = self._of(first["a"]), self._of(first["b"])
        names = [
            self._point([spots[k] for spots in marks], given[k] if k < len(given) else "") for k in range(len(marks[0]))
        ]
        self._put("divide", first.get("says", ""), a=a, b=b, count=str(first["parts"]), names=" ".join(names))

    def _divide_turn(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        for k, mark in enumerate(made[0]):
            angles = [float(np.rad2deg(np.arctan2(*nominal(rays[k].u, 1)[::-1]))) for rays in made]
            self._ray_at(told, [rays[k] for rays in made], angles)
            assert isinstance(mark, LineMark)

    def _ray_at(self, told: list[dict[str, Any]], made: list[Any], angles: list[float]) -> None:
        angle = self._number(angles, "angle")
        self._put("ray", new=self._thing(made), at=self._of(told[0]["centre"]), angle=angle)

    def _also(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self.letters[told[0]["name"]] = self._of(told[0]["found"])
        for names, spot, one in zip(self.names, made, told):
            names[id(spot)] = names[id(one["found"])]

    def _on(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        line = told[0]["line"]
        if not isinstance(line, LineMark):
            raise Refused("own", f"{self.method.title} takes any place of a circle, which the language has not.")
        starts = [
            next((name for name, at in own.items() if np.allclose(at, nominal(one["line"].p, 1))), "")
            for own, one in zip(self.places, told)
        ]
        if not starts[0]:
            raise Refused("own", f"{self.method.title} takes a place of a line that begins at no point.")
        length = self._number([float(one["length"]) for one in told])
        name = self._point(made, told[0].get("name", ""))
        self._put("lay off", name=name, on=self._line(line), at=starts[0], length=length)

    def _line_in(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first = told[0]
        if first.get("role", Role.OUTLINE) is Role.OUTLINE:
            self._rows("line in", first)
            return
        spots = [*first["spots"], *first["spots"][: 1 if first.get("closed") else 0]]
        for a, b in zip(spots, spots[1:]):  # what is no result is drawn as other lines are
            if float(distance(a.here, b.here)) > 0:
                self._put("line", new=next(self.things), a=self._of(a), b=self._of(b))

    def _curve(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self._rows("curve", told[0])

    def _rows(self, verb: str, told: Mapping[str, Any]) -> None:
        names = [self._of(spot) for spot in told["spots"]]
        rows = " ".join([*names, *names[: 1 if told.get("closed") else 0]])
        self._put(verb, told.get("says", ""), rows=rows)

    def _arc_in(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        centre, start, end = (self._of(told[0][part]) for part in ("centre", "start", "end"))
        self._put("line in arc", at=centre, a=start, b=end)

    def _circle_in(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        length = self._length([one["radius"] for one in told])
        self._put("line in circle", told[0].get("says", ""), at=self._of(told[0]["centre"]), length=length)


def _pairs(names: Sequence[str]) -> Iterator[tuple[str, str]]:
    for k, one in enumerate(names):
        for other in names[:k]:
            yield other, one
