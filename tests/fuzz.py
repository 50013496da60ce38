"""Command lines as a fuzzer would write them: figures and options that are there, with values that should not be, from
a fixed seed."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from wise_compass.figures.catalogue import catalogue
from wise_compass.job.demo import DEMO_FILE

NUMBERS = (
    "0",
    "-1",
    "1e-300",
    "1e308",
    "1e999",
    "nan",
    "inf",
    "-inf",
    "0.1",
    "3",
    "12",
    "45",
    "90",
    "180",
    "360",
    "1000000",
    "2.5",
    "7/0",
    "1/3",
)
WORDS = (
    "",
    " ",
    "x",
    "±",
    "½",
    "3 7/16 in",
    "88 mm",
    "8.8 cm",
    "37°30'",
    "(((((",
    "sqrt(-1)",
    "tan(90°)",
    "2**999",
    "a" * 300,
    "0x10",
    "1,5",
    "\u202e12",
    "\ud800",
    "١٢",
)
ROWS = (
    "0,0;1,1",
    "0,0",
    ";;;",
    "box,0,0,0,1,1,1",
    "box,0,0,0,0,0,0;hole,0,0,0,1,1,1",
    "blob,1,2,3,4,5,6",
    "0,0;0,0;0,0",
    "1e9,1e9;2,2;3,3",
)
OPTIONS = (
    ("--scale", ("1:1", "1:50", "1:3", "0", "auto", "-1")),
    ("--units", ("mm", "in", "ell")),
    ("--projection", ("first", "third", "second")),
    ("--sides", ("auto", "usual,other", "left")),
    ("--hidden", ("shown", "out", "no")),
    ("--dividing", ("trial", "rule", "guess")),
    ("--method", ("", "crate", "two-circles", "triangulation", "no-such")),
)
OF = {
    "solve": (("--json", ()),),
    "hands": (("--json", ()), ("--hands", ("0", "2", "50", "1e3", "-5", "1000000000")), ("--seed", ("0", "-1", "x"))),
    "slips": (("--json", ()),),
    "stray": (("--json", ()), ("--hold", ("0", "0.1", "-1", "nan"))),
    "table": (("--json", ()), ("--step", ("0", "5", "-1", "1e-9", "nan")), ("--by", ("level", "angle", "x"))),
    "check": (("--json", ()), ("--measured", ("", "A-B=1", "x=", "A-B=nan", "A-B=5 A-B=5", "B-A-C=33", "=3"))),
    "pattern": (("--json", ()), ("--seam-lap", ("0", "6", "-1", "1e9")), ("--thickness", ("0", "2", "-2"))),
    "draw": (
        ("--clean", ()),
        ("--gaps", ()),
        ("--table", ()),
        ("--space", ()),
        ("--grid", ("0", "5", "-1", "nan")),
        ("--paper", ("A4", "auto", "A9")),
    ),
}


def value_for(draw: random.Random, kind: str, options: tuple[str, ...], default: object) -> str:
    """A value for a given: near its default in half of all cases, else what nobody should type."""
    if isinstance(default, float) and draw.random() < 0.6:
        return repr(default * draw.choice((0.5, 0.9, 1.0, 1.1, 2.0, 10.0)))
    if isinstance(default, int) and draw.random() < 0.6:
        return str(default + draw.choice((-1, 0, 1, 4)))
    if draw.random() < 0.15:
        return draw.choice(WORDS)
    if kind == "choice":
        return draw.choice((*options, "no-such"))
    if kind in ("rows", "blocks"):
        return draw.choice(ROWS)
    if kind == "point":
        return ",".join(draw.choice(NUMBERS) for _ in range(draw.choice((1, 2, 3))))
    return draw.choice(NUMBERS)


def command_lines(count: int, seed: int, folder: Path) -> Iterator[list[str]]:
    """So many command lines."""
    draw, kinds = random.Random(seed), list(catalogue().values())
    for number in range(count):
        command = draw.choice(list(OF))
        kind = draw.choice(kinds)
        words = [command, kind.id if draw.random() > 0.02 else draw.choice(WORDS)]
        for name in draw.sample(list(kind.givens), min(len(kind.givens), draw.choice((0, 1, 1, 2, 3)))):
            given = kind.givens[name]
            words.append(f"{name}={value_for(draw, given.kind, tuple(getattr(given, 'options', ())), given.default)}")
        if draw.random() < 0.05:
            words.append(draw.choice(("=", "x", "side=", "=5", "side=3=4", "--", "-x")))
        if draw.random() < 0.5:
            words += ["--method", draw.choice(list(kind.methods))]
        for option, values in draw.sample(OF[command], min(len(OF[command]), draw.choice((0, 1, 2)))):
            words += [option, draw.choice(values)] if values else [option]
        if draw.random() < 0.2:
            option, values = draw.choice(OPTIONS)
            words += [option, draw.choice(values)]
        if command == "draw":
            words += ["--out", str(folder / f"{number}.{draw.choice(('svg', 'svg', 'csv', 'json', 'pdf', 'doc'))}")]
        yield words


HOSTILE: tuple[Any, ...] = (
    None,
    True,
    -1,
    1e308,
    "",
    "x" * 3000,
    [],
    {},
    [[]],
    "\x00",
    "\ud800",
    10**400,
    "１２",
    float("inf"),
    [1, [2, [3]]],
)


def spoilt_jobs(count: int, draw: random.Random) -> Iterator[str]:
    """The demo, so many times, with one value each swapped for a hostile one anywhere in the file."""
    text = DEMO_FILE.read_text("utf-8")
    for _ in range(count):
        data = json.loads(text)
        holder, key = draw.choice(list(places(data)))
        holder[key] = draw.choice(HOSTILE)
        yield json.dumps(data)


def places(value: Any) -> Any:
    """Every holder and key of a JSON value."""
    if isinstance(value, (dict, list)):
        for key, inner in value.items() if isinstance(value, dict) else enumerate(value):
            yield value, key
            yield from places(inner)
