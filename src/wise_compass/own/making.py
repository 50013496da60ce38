"""A step that is being made by choosing: which of its parts is asked for next, what of the drawing could be that, and
the line that comes of it."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from wise_compass.drafting.compassing import crossings
from wise_compass.drafting.marks import ArcMark, LineMark, nominal
from wise_compass.drafting.refusals import Refused
from wise_compass.geometry.vectors import Array, angle_of, cross, distance, left_of
from wise_compass.own.language import KINDS, MOST_LINE, VERBS, WHICH, WRITTEN, read_line, written

Mark = LineMark | ArcMark
LETTERS = "ABCDEFGHIJKLMNPQRSTUVWXYZ"
SMALL = "abcdefghijkmnpqrstuvwxyz"
ROWS = ("line in", "curve", "transfer")
CHOSEN = {
    "x": "place",
    "u": "place",
    "which": "crossing",
    "side": "crossing",
    "back": "way",
    "rows": "row",
    "along": "along",
    "how": "word",
    "view": "word",
}
"""What parts are chosen as that are neither points nor lines."""
TYPED = ("length", "angle", "count", "part", "right", "rise", "long", "short", "letter")
BESIDE = 20.0
"""mm off a fold line that its sides are offered at."""


def places_of(one: Mark, two: Mark) -> list[Array]:
    """Where two marks cross: one place of two lines, two where there is a circle, none where they do not."""
    with np.errstate(invalid="ignore", divide="ignore"):
        return [place for place in nominal(crossings(one, two), 2) if np.isfinite(place).all()]


def told_apart(places: Sequence[Array], k: int, named: Mapping[str, Array]) -> str:
    """The words that tell crossing ``k`` of two from the other; "" where there is one."""
    if len(places) < 2:
        return ""
    here, there = places[k], places[1 - k]
    size = float(distance(here, there))
    for which, axis, sign in zip(WHICH, (1, 1, 0, 0), (1, -1, -1, 1)):
        if sign * float(here[axis] - there[axis]) > 0.2 * size:
            return which
    names = sorted(named, key=lambda name: float(distance(named[name], here)))
    return f"nearest {names[0]}" if names else "upper"


class Making:
    """A step of a verb, of which parts are chosen one after the other. ``points`` and ``things`` are what stands,
    ``folds`` how many views are folded off another, ``view`` that in which points are named that it makes."""

    def __init__(
        self, verb: str, points: Mapping[str, Array], things: Mapping[str, Mark], folds: int = 0, view: str = ""
    ) -> None:
        self.verb, self.form, self.folds, self.view = verb, VERBS[verb], folds, view
        self.points, self.things = points, things
        self.parts: dict[str, str] = {}
        self.first = ""
        """The first of two points between which a length is taken."""
        more = "".join(re.findall(r"\[(.*?)\]", WRITTEN[verb]))
        self._spare = set(re.findall(r"{(\w+)}", more)) - {"x", "which", "back"} | {"y", "w", self.form.makes}
        self.order: list[str] = [name for name in re.findall(r"{(\w+)}", WRITTEN[verb]) if name not in self._spare]
        if verb == "transfer":
            self.order = ["rows"]

    @property
    def wanted(self) -> str:
        """The part that is asked for next; "" where the step is whole."""
        for name in (*self.order, *(["count"] if self.verb.startswith("step") else [])):
            if name not in self.parts and not self._spared(name):
                return name
        return ""

    def _spared(self, name: str) -> bool:
        """Whether a part need not be chosen with the others as they are."""
        if name == "which":
            marks = [self.things[self.parts[part]] for part in ("one", "two") if part in self.parts]
            return len(marks) == 2 and len(places_of(*marks)) < 2
        return name == "back" and not (self.verb == "lay off" and self._length() > 0)

    @property
    def kind(self) -> str:
        """What is asked for: ``point``, ``thing``, ``place``, ``crossing``, ``way``, ``along``, ``word``, ``row``, or
        one of those that are typed."""
        name = self.wanted
        if name in CHOSEN:
            return CHOSEN[name]
        if name in TYPED or not name:
            return name
        return "thing" if name in self.form.things else "point"

    @property
    def says(self) -> str:
        """The step as far as it is chosen, ``…`` for what is still asked for."""
        held = {name: self.parts.get(name, "…") for name in re.findall(r"{(\w+)}", WRITTEN[self.verb])}
        held[self.form.makes] = " ".join(self._names()) or "…"
        if self.first:
            held["length"] = f"{self.first}…"
        if self._row:
            held["rows"] = f"{self.parts['_row']} …"
        if self.verb == "mark":
            return "mark a place"
        if self.verb == "transfer":
            return f"transfer {' '.join(self._carried()) or '…'}"
        bare = re.sub(r"\[(.*?)\]", "", WRITTEN[self.verb])
        return bare.format(**held)

    # choosing

    def named(self, at: Array, reach: float) -> str:
        """The point, line or circle under a place, of the kind that is asked for; "" for none."""
        if self.kind in ("point", "length", "row"):
            gaps = {name: float(distance(place, at)) for name, place in self.points.items()}
        elif self.kind == "thing":
            taken = {self.parts.get("one", "")}
            gaps = {name: _gap(mark, at) for name, mark in self.things.items() if name not in taken}
        else:
            return ""
        name = min(gaps, key=lambda one: gaps[one], default="")
        return name if name and gaps[name] <= reach else ""

    def places(self) -> list[tuple[Array, str]]:
        """The places that are offered for a crossing or a way, with the words that choose each."""
        if self.wanted == "which":
            both = places_of(self.things[self.parts["one"]], self.things[self.parts["two"]])
            return [(place, told_apart(both, k, self.points)) for k, place in enumerate(both)]
        if self.wanted == "side":
            return self._sides()
        if self.kind == "way":
            line = self.things[self.parts["on"]]
            assert isinstance(line, LineMark)
            far = self._length() * nominal(line.u, 1)
            start = self.points[self.parts["at"]]
            return [(start + far, ""), (start - far, "backward")]
        return []

    def _sides(self) -> list[tuple[Array, str]]:
        """Where each side of a fold, of a tangent or of a crown lies."""
        on = self.things[self.parts["on"]]
        if self.verb == "touch" and isinstance(on, ArcMark):
            start, centre, radius = self.points[self.parts["at"]], nominal(on.centre, 1), float(nominal(on.radius, 0))
            far = float(distance(start, centre))
            if far <= radius:
                return []
            way = (centre - start) / far
            ahead, aside = far - radius**2 / far, radius * np.sqrt(1.0 - (radius / far) ** 2)
            return [(start + ahead * way + s * aside * left_of(way), w) for s, w in ((1, "left"), (-1, "right"))]
        if not isinstance(on, LineMark):
            return []
        u = nominal(on.u, 1)
        circle = self.things.get(self.parts.get("one", ""))
        if isinstance(circle, ArcMark):
            middle, off = nominal(circle.centre, 1), float(nominal(circle.radius, 0)) * left_of(u)
        else:
            along = left_of(u) if self.parts.get("how") == "square to" else u
            middle, off = self.points[self.parts["at"]], BESIDE * left_of(along)
        return [(middle + off, "left"), (middle - off, "right")]

    @property
    def words(self) -> list[str]:
        """The words of which one is chosen; none where none is asked for."""
        if self.wanted == "how":
            return ["along", "square to"]
        if self.wanted != "view":
            return []
        there = {name.partition(".")[2] for name in self.points} - {"", "front", "top"}
        return ["front", "top", *sorted(there)]

    def take(self, at: Array, reach: float) -> bool:
        """Take what stands at a place; whether that was asked for."""
        kind = self.kind
        if kind == "place":
            across, up = ("x", "y") if self.wanted == "x" else ("u", "w")
            self.parts |= {across: f"{round(float(at[0]))}", up: f"{round(float(at[1]))}"}
            return True
        if kind == "along":
            return self._take_along(at, reach)
        if kind in ("crossing", "way"):
            return self._take_place(at, reach)
        name = self.named(at, reach)
        if not name:
            return False
        if kind == "length":
            return self._take_end(name)
        if kind == "row":
            return self._take_of_row(name)
        self.parts[self.wanted] = name
        return True

    def ahead(self, at: Array, reach: float) -> str:
        """The line that the step would be if what stands at a place were taken; "" while more is asked for."""
        trial = Making(self.verb, self.points, self.things, self.folds, self.view)
        trial.parts, trial.first = dict(self.parts), self.first
        try:
            return trial.text if self.wanted and trial.take(at, reach) and not trial.wanted else ""
        except Refused:
            return ""

    def _take_place(self, at: Array, reach: float) -> bool:
        offered = self.places()
        if not offered:
            return False
        place, words = min(offered, key=lambda one: float(distance(one[0], at)))
        if float(distance(place, at)) > 2 * reach:
            return False
        self.parts[self.wanted] = words
        return True

    def _take_along(self, at: Array, reach: float) -> bool:
        """A place of a line or a circle that is near."""
        on = self.things[self.parts["on"]]
        if _gap(on, at) > reach:
            return False
        if isinstance(on, LineMark):
            told = float((at - nominal(on.p, 1)) @ nominal(on.u, 1))
        else:
            told = float(angle_of(at - nominal(on.centre, 1)))
        self.parts["along"] = f"{round(told)}"
        return True

    def _take_end(self, name: str) -> bool:
        if not self.first:
            self.first = name
        elif name != self.first:
            self.parts["length"], self.first = f"{self.first}{name}", ""
        return True

    def _take_of_row(self, name: str) -> bool:
        """A point of a row; the first again, or the last again, ends it."""
        row = self._row
        if row and name in (row[0], row[-1]) and len(row) > 1:
            self.parts["rows"] = " ".join([*row, row[0]] if name == row[0] and len(row) > 2 else row)
        elif name not in row:
            self._row = [*row, name]
        return True

    @property
    def _row(self) -> list[str]:
        return self.parts.get("_row", "").split()

    @_row.setter
    def _row(self, names: list[str]) -> None:
        self.parts["_row"] = " ".join(names)

    def type(self, words: str) -> bool:
        """Take a length, an angle, a number or a word as it is typed; whether one was asked for."""
        if self.kind not in (*TYPED, "along", "word") or not words.strip():
            return False
        if self.kind == "word" and words.strip() not in self.words:
            raise Refused("own", f"“{words[:20]}” is none of {', '.join(self.words)}.")
        if self.kind == "count" and not re.fullmatch(KINDS["count"], words.strip()):
            raise Refused("own", f"“{words[:20]}” is no number of spaces; write such as 5.")
        self.parts[self.wanted], self.first = words.strip(), ""
        return True

    def end(self) -> bool:
        """End a row of points where it stands; whether there is one."""
        if self.verb not in ROWS or len(self._row) < 2:
            return False
        self.parts["rows"] = " ".join(self._row)
        return True

    # what comes of it

    @property
    def text(self) -> str:
        """The line; raises :class:`Refused` while it is not whole, or where its words cannot be read."""
        if self.wanted:
            raise Refused("own", f"The step is not whole yet: {self.says}.")
        parts = {name: word for name, word in self.parts.items() if word and not name.startswith("_")}
        if self.form.makes:
            parts[self.form.makes] = " ".join(self._names())
        line = written(self.verb, parts)
        if len(line) > MOST_LINE:
            raise Refused("own", f"The step has {len(line)} letters; a step has no more than {MOST_LINE}.")
        return read_line(line).text

    def _names(self) -> list[str]:
        if not self.form.makes:
            return []
        if self.form.makes == "new":
            return [next(_free(SMALL, self.things))]
        if self.verb == "transfer":
            return self._carried()
        if self.verb == "project" and (view := self._view_of_projected()):
            return [view]
        count = int(self.parts.get("count", "2")) - self.verb.startswith("divide") if self.form.makes == "names" else 1
        behind = f".{self.view}" if self.view else ""
        letters = _free(LETTERS, self.points, behind)
        return [next(letters) + behind for _ in range(max(count, 1))]

    def _carried(self) -> list[str]:
        """The points of a row in the last view that is folded off another, of which the letters are there."""
        letters = [name.partition(".")[0] for name in (self._row or self.parts.get("rows", "").split())]
        return [f"{letter}.{self.last_fold}" for letter in dict.fromkeys(letters)]

    @property
    def last_fold(self) -> str:
        """The view that points are carried into: the last that was folded off another."""
        return str(2 + self.folds) if self.folds else "3"

    def _view_of_projected(self) -> str:
        """The name of a projected point where one of the two that it is found from is the other view of it."""
        for part, view, other in (("a", "top", "front"), ("b", "front", "top"), ("a", "front", "top")):
            letter, _, mine = self.parts.get(part, "").partition(".")
            if mine == view and f"{letter}.{other}" not in self.points:
                return f"{letter}.{other}"
        return ""

    def _length(self) -> float:
        """The length that was chosen, where it is between two points or a plain number; 0 for another."""
        words = self.parts.get("length", "")
        for name in self.points:
            if words.startswith(name) and (other := words[len(name) :]) in self.points:
                return float(distance(self.points[name], self.points[other]))
        try:
            return float(words)
        except ValueError:
            return 0.0


def _free(letters: str, taken: Mapping[str, object], behind: str = "") -> Iterator[str]:
    """Names that are not taken with what stands ``behind`` them, single letters first."""
    yield from (letter for letter in letters if letter + behind not in taken)
    n = 1
    while True:
        yield from (f"{letter}{n}" for letter in letters if f"{letter}{n}{behind}" not in taken)
        n += 1


def _gap(mark: Mark, at: Array) -> float:
    """How far a place lies from a line or circle."""
    if isinstance(mark, ArcMark):
        return abs(float(distance(at, nominal(mark.centre, 1))) - float(nominal(mark.radius, 0)))
    return abs(float(cross(nominal(mark.u, 1), at - nominal(mark.p, 1))))
