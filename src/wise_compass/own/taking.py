"""A shipped construction taken out as lines that a person can read and change.

A draft that keeps what its instruments are told writes them down: each operation is a line of the language. A length is
told by the givens where it is a simple share of one, in this and in other numbers; a crossing by what tells it from the
other with all of them. A method that uses more than the language has is refused, by what that is.
"""

from __future__ import annotations

import random
import re
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from wise_compass.drafting.compassing import crossings
from wise_compass.drafting.figure import Figure, Method, method_for
from wise_compass.drafting.marks import LineMark, Role, Row, Spot, nominal
from wise_compass.drafting.places import Point, SpacePoint
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.run import run
from wise_compass.drafting.wording import trim
from wise_compass.geometry.vectors import distance
from wise_compass.own.claims import method_of
from wise_compass.own.keeping import Kept
from wise_compass.own.language import LETTER, MOST_STEPS, WHICH
from wise_compass.own.numbers import is_coordinate, kind_of, numbers_of, with_numbers
from wise_compass.own.program import Program
from wise_compass.own.telling import SAME, Telling

RESULT = (Role.OUTLINE, Role.HIDDEN)
OTHERS = 5
WIDE, CLOSER = (0.75, 1.5), (0.9, 1.12)
"""With how many other numbers a method is drawn to see what a length depends on, and how many times as large each is;
less of an angle and of a coordinate, by which the method would take another way."""


def taken_out(figure: Figure, method: str | None = None) -> Program:
    """A method of a figure as a construction of one's own; raises :class:`Refused` where it uses more than the
    language has."""
    chosen = method_for(figure, method)
    if (why := chosen.fits(figure)) is not None:
        raise Refused("own", why)
    runs = [_run(one, chosen) for one in _alike(figure, chosen)]
    program = _Taking(figure, chosen, runs).program()
    if any(re.fullmatch(r"[A-Za-z][\w.* ]{0,20}", key) is None for key in program.letters):
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
    found, chance = [figure], random.Random(36)
    for _ in range(OTHERS):
        numbers = {
            name: value * chance.uniform(*(CLOSER if is_coordinate(name) or kind_of(figure, name) == "angle" else WIDE))
            for name, value in numbers_of(figure).items()
        }
        try:
            other = with_numbers(figure, numbers)
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


class _Taking(Telling):
    """What is written down of several runs of one method, an operation after the other."""

    def program(self) -> Program:
        if not self.runs[0][1].kept or len(self.runs[0][1].kept) > MOST_STEPS:
            raise Refused("own", f"{self.method.title} has over {MOST_STEPS} steps of the language.")
        for k in range(len(self.runs[0][1].kept)):
            rows = [d.kept[k] for _, d in self.runs]
            name, told, _ = rows[0]
            self.phase = str(told.get("phase", ""))
            getattr(self, f"_{name}")([row[1] for row in rows], [row[2] for row in rows])
        numbers = numbers_of(self.figure)
        stored = {
            name: trim(numbers[name], 9) if name in numbers else str(value)
            for name, value in self.figure.stored().items()
            if isinstance(value, (int, float, str)) and value != self.figure.givens[name].default
        }
        stored |= {name: trim(value, 9) for name, value in numbers.items() if name in self.figure.givens}
        for name, given in self.figure.givens.items():
            if isinstance(given, (Point, SpacePoint)):
                stored[name] = ", ".join(trim(one, 9) for one in self.figure.given_values[name])
        twice = {own for theirs, own in self.letters.items() if theirs != own}
        known = {theirs: own for theirs, own in self.letters.items() if own in twice}
        return Program(f"{self.method.title}, taken out", tuple(self.lines), self.figure.id, stored, known)

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
        a, b = self._of(told[0]["a"]), self._of(told[0]["b"])
        shares = [float(one["share"]) for one in told]
        part = self._number(shares)
        name = self._point(made, told[0].get("name", ""))
        if shares[0] == 0.5:
            self._put("middle", name=name, a=a, b=b)
        else:
            self._put("share", name=name, a=a, b=b, part=part)

    def _project(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        lift = self._number([float(one.get("lift", 0.0)) for one in told])
        a, b = self._of(told[0]["over"]), self._of(told[0]["level"])
        parts = {} if lift == "0" else {"lift": lift}
        self._put("project", name=self._point(made, told[0]["name"]), a=a, b=b, **parts)

    def _measure_off(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        right, rise = (self._number([float(one["by"][axis]) for one in told]) for axis in (0, 1))
        name, at = self._point(made, told[0].get("name", "")), self._of(told[0]["start"])
        self._put("measure", told[0].get("says", ""), name=name, at=at, right=right, rise=rise)

    def _mirror(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        a, at = self._of(told[0]["spot"]), self._of(told[0]["centre"])
        self._put("mirror", name=self._point(made, told[0].get("name", "")), a=a, at=at)

    def _crown(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        one, on = self._line(told[0]["arc"]), self._line(told[0]["line"])
        side = "left" if told[0]["side"] > 0 else "right"
        self._put("crown", name=self._point(made), one=one, on=on, side=side)

    def _strip(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        long, short = (self._number([float(one[part]) for one in told]) for part in ("long", "short"))
        self.strips[id(made[0])] = long, short

    def _lay_strip(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        long, short = self.strips[id(told[0]["strip"])]
        angle = self._number([float(one["turn"]) for one in told], "angle")
        at, on = self._of(told[0]["centre"]), self._along([one["long_axis"] for one in told])
        name = self._point(made, told[0]["name"])
        self._put("trammel", name=name, at=at, on=on, angle=angle, long=long, short=short)

    def _divide_arc(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first, marks = told[0], [spots[1:-1] for spots in made]
        names = [self._point([spots[k] for spots in marks], first["names"][k + 1]) for k in range(len(marks[0]))]
        a, b, on = self._of(first["start"]), self._of(first["end"]), self._line(first["arc"])
        parts = {"on": on, "a": a, "b": b, "count": str(first["parts"]), "names": " ".join(names)}
        self._put("divide arc", first.get("says", ""), **parts)

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
        how = {"how": str(first["how"])} if first.get("how") else {}
        self._put("divide", first.get("says", ""), a=a, b=b, count=str(first["parts"]), names=" ".join(names), **how)

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
        along = self._number([float(one["length"]) for one in told])
        on, name = self._line(told[0]["line"]), self._point(made, told[0].get("name", ""))
        self._put("place", name=name, on=on, along=along)

    def _line_in(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first = told[0]
        if first.get("role", Role.OUTLINE) in RESULT:
            self._rows("line in", first)
            return
        spots = [*first["spots"], *first["spots"][: 1 if first.get("closed") else 0]]
        for a, b in zip(spots, spots[1:]):  # what is no result is drawn as other lines are
            if float(distance(a.here, b.here)) > 0:
                self._put("line", new=next(self.things), a=self._of(a), b=self._of(b))

    def _curve(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        whole = told[0].get("whole")
        if whole is None:
            self._rows("curve", told[0])
            return
        first = int(told[0].get("first", 0))
        names, closed = self._row_of(whole)
        ends = {"start": str(first), "end": str(first + len(told[0]["spots"]) - 1)}
        self._put_row("curve", names, {**told[0], "closed": closed}, ends)

    def _row_of(self, row: Row) -> tuple[list[str], bool]:
        """The names of the points of a row, by their places, and whether it closes."""
        at = [self.places[0][name] for name in self._named()]
        names = []
        for place in row.here:
            near = next((k for k, one in enumerate(at) if float(distance(one, place)) <= SAME), None)
            if near is None:
                raise Refused("own", f"{self.method.title} joins up a point that no step of the language marks.")
            names.append(self._named()[near])
        return names, row.closed

    def _piece(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        row = told[0]["row"]
        names, closed = self._row_of(row)
        start, end = (self._number([float(one[part]) for one in told]) for part in ("start", "end"))
        verb, parts = "curve" if row.fair else "line in", {"start": start, "end": end}
        self._put_row(verb, names, {"role": told[0].get("role", Role.OUTLINE), "closed": closed}, parts)

    def _rows(self, verb: str, told: Mapping[str, Any]) -> None:
        self._put_row(verb, [self._of(spot) for spot in told["spots"]], told, {})

    def _put_row(self, verb: str, names: Sequence[str], told: Mapping[str, Any], parts: Mapping[str, str]) -> None:
        rows = " ".join([*names, *names[: 1 if told.get("closed") else 0]])
        hidden = {} if told.get("role", Role.OUTLINE) is Role.OUTLINE else {"hidden": "hidden"}
        self._put(verb, str(told.get("says", "")), rows=rows, **parts, **hidden)

    def _arc_in(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        centre, start, end = (self._of(told[0][part]) for part in ("centre", "start", "end"))
        first, last = (end, start) if told[0].get("clockwise") else (start, end)
        self._put("line in arc", str(told[0].get("says", "")), at=centre, a=first, b=last)

    def _circle_in(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        length = self._length([one["radius"] for one in told])
        at = self._of(told[0]["centre"])
        self._put("line in circle", told[0].get("says", ""), new=self._thing(made), at=at, length=length)

    # views

    def _views(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        (x, y), (u, w) = (
            [self._number([float(one[view][axis]) for one in told]) for axis in (0, 1)] for view in ("front", "top")
        )
        self._put("views", x=x, y=y, u=u, w=w)

    def _reference_line(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        self._put("reference", new=self._thing(made), at=self._of(told[0]["start"]))

    def _carry(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        into, views = told[0]["into"], self.runs[0][1].views
        spot = views.spot(told[0]["letter"], into.parent)
        self._put(
            "projector", told[0].get("says", ""), new=self._thing(made), at=self._of(spot), on=self._line(into.fold)
        )

    def _fold_off(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        first = told[0]
        at, on = self._of(first["through"]), self._line(first["line"])
        room = self._number([float(one.get("room", 0.0)) for one in told])
        parts = {} if room == "0" else {"room": room}
        parent = first["parent"]
        if parent.datum is not None:
            self._put("datum", on=self._line(parent.datum), view=parent.id)
        self._put(
            "fold",
            first.get("says", ""),
            new=self._thing([view.fold for view in made]),
            view=parent.id,
            at=at,
            how="square to" if first.get("square") else "along",
            on=on,
            side="left" if first.get("side", 1) > 0 else "right",
            **parts,
        )

    def _transfer(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        name = told[0]["into"].key(told[0]["letter"])
        if self._point(made, name) != name:
            raise Refused("own", f"{self.method.title} carries points whose names the language has not.")
        self._put("transfer", told[0].get("says", ""), names=name)

    def _in_space(self, told: list[dict[str, Any]], made: list[Any]) -> None:
        """A point in space that two views fix which are not called alike."""
        letter, views = told[0]["name"], [d.views for _, d in self.runs]
        if all(self.letters.get(f"{letter}.{view}") for view in ("front", "top")) or not all(views):
            return
        ends: list[str] = []
        for lift in ("front", "top"):
            want = [getattr(one, lift).at(nominal(at["xyz"], 1)) for one, at in zip(views, told)]
            found = next(
                (
                    name
                    for name in self._named()
                    if all(
                        float(distance(own[name], at)) <= SAME * (1.0 + float(np.abs(at).max()))
                        for own, at in zip(self.places, want)
                    )
                ),
                "",
            )
            ends.append(found)
        if all(ends) and re.fullmatch(LETTER, letter) is not None:
            self._put("stand", letter=letter, front=ends[0], top=ends[1])
