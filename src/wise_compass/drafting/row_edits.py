"""Rows of a profile as they are drawn up: a sentence for each, a further one, another name, a place further up."""

from __future__ import annotations

from collections.abc import Sequence

from wise_compass.drafting.named_rows import FORMS, REFS, WORDS, kinds_of
from wise_compass.drafting.refusals import Refused

Row = list[str]
"""A row as it is typed: its kind, its name, and what its kind takes."""
SENTENCES = {
    "circle": "a circle {name} about {x} , {y} of radius {r} , run to the {turn}",
    "point": "a point {name} at {x} , {y}",
    "line": "a line {name} from {x1} , {y1} on through {x2} , {y2}",
    "on": "a point {name} on {of} , at {place}",
    "tangent": "a tangent {name} from {first} to {second}",
    "arc": "an arc {name} of radius {r} , turning {turn} , from {first} to {second} , on the side {side}",
    "cross": "a corner {name} where {first} crosses {second} , on the side {side}",
    "touch": "an arc {name} turning {turn} that touches {first} , {second} and {third} , the one that is {which}",
    "mirror": "the half {name} : what the path runs before it, mirrored in {axis}",
}
"""How a row is said; a word in braces is a slot of it."""
LINES = ("line", "tangent")
NAMES = "ABCDEFGHJKLMNOPQRSUVWXYZ"


def slots(row: Row) -> list[tuple[str, str]]:
    """The words of a row's sentence, each with what slot it is ("" for none)."""
    out = []
    for word in SENTENCES[row[0]].split():
        out.append((word, word[1:-1] if word.startswith("{") else ""))
    return out


def cell(row: Row, what: str) -> str:
    """What stands in a slot of a row."""
    if what == "name":
        return row[1]
    at = 2 + FORMS[row[0]][0].index(what)
    return row[at] if at < len(row) else ""


def with_cell(row: Row, what: str, words: str) -> Row:
    """The row with a slot filled otherwise; an empty one at its end is left away."""
    wide = 2 + len(FORMS[row[0]][0])
    out = [*row, *[""] * (wide - len(row))]
    out[1 if what == "name" else 2 + FORMS[row[0]][0].index(what)] = words
    while len(out) > 2 and not out[-1]:
        out.pop()
    return out


def choices(rows: Sequence[Row], at: int, what: str) -> tuple[str, ...]:
    """What a slot may be, where it is one of few: the rows before it, or words; else nothing."""
    if what in REFS:
        kinds = kinds_of(rows[:at])
        lines = what == "axis"
        return tuple(one for one, kind in kinds.items() if kind != "mirror" and (kind in LINES or not lines))
    least = FORMS[rows[at][0]][1] if what in WORDS else 0
    if what in WORDS:
        may_lack = FORMS[rows[at][0]][0].index(what) >= least
        return ("", *WORDS[what]) if may_lack else WORDS[what]
    return ()


def renamed(rows: Sequence[Row], path: Sequence[str], old: str, new: str) -> tuple[list[Row], list[str]]:
    """Rows and path in which ``new`` stands for ``old``, wherever it is named."""
    out = []
    for row in rows:
        held = FORMS[row[0]][0]
        named = [new if what in REFS and word == old else word for what, word in zip(held, row[2:])]
        out.append([row[0], new if row[1] == old else row[1], *named])
    return out, [new if name == old else name for name in path]


def further(rows: Sequence[Row], kind: str) -> Row:
    """A row more, of a kind, with a name of its own and entries that stand beside those there are."""
    taken = {row[1] for row in rows}
    name = next((one for one in NAMES if one not in taken), "") or next(
        f"R{k}" for k in range(1, 100) if f"R{k}" not in taken
    )
    rounds = [row[1] for row in rows if row[0] not in ("line", "tangent")]
    known = [*rounds, *(row[1] for row in rows if row[1] not in rounds)]
    last = (known[-3:] if kind == "touch" else known[-2:]) or [""]
    filled = {"x": "120", "y": "60", "r": "20", "x1": "0", "y1": "-40", "x2": "100", "y2": "-40", "place": "90"}
    filled |= {"turn": "left", "of": last[-1], "side": "left", "which": "small"}
    filled["axis"] = next((row[1] for kind in LINES for row in reversed(rows) if row[0] == kind), last[-1])
    filled |= dict(zip(("first", "second", "third"), (*last, *last, *last)))
    return [kind, name, *(filled[what] for what in FORMS[kind][0])]


def typed(rows: Sequence[Row]) -> str:
    """Rows as the given takes them."""
    return "; ".join(", ".join(row) for row in rows)


def read(words: str) -> list[Row]:
    """Rows as they are typed, with their cells."""
    return [[part.strip() for part in row.split(",")] for row in words.split(";") if row.strip()]


def pasted(text: str) -> list[Row]:
    """Rows of a profile from a table or as they are typed; raises :class:`Refused` by the line that is none.

    A line a row, or rows parted by semicolons; cells parted by tabs or commas. A heading is passed over.
    """
    lines = [
        line for line in (text.splitlines() if "\t" in text else text.replace(";", "\n").splitlines()) if line.strip()
    ]
    rows = [[part.strip() for part in line.split("\t" if "\t" in line else ",")] for line in lines]
    if rows and rows[0][0].lower() not in FORMS and not any(ch.isdigit() for ch in lines[0]):
        rows = rows[1:]
    if not rows:
        raise Refused("rows", f"There are no rows to paste; each begins with {', '.join(FORMS)}.")
    for line, row in enumerate(rows, 1):
        if row[0].lower() not in FORMS:
            raise Refused("rows", f"Line {line}, “{', '.join(row)}”, is no row; each begins with {', '.join(FORMS)}.")
    return [
        with_cell([row[0].lower(), *row[1:], *[""] * (2 - len(row))], "name", row[1] if row[1:] else "") for row in rows
    ]
