"""How well problems in words are read: ``python -m bench.words [FILE] [--list]``.

Each statement of the file tells which figure it means, with which givens; ``tests/statements.json`` by default.
"""

from __future__ import annotations

import json
import statistics
import sys
from collections.abc import Iterator, Mapping
from pathlib import Path
from time import perf_counter
from typing import Any, NamedTuple

from wise_compass.words.account import FIGURE, record
from wise_compass.words.reading import read

STATEMENTS = Path(__file__).parent.parent / "tests" / "statements.json"
NEAR = 1e-4


class Verdict(NamedTuple):
    """How one statement was read; ``wrong`` are givens that are not as they were meant, those of ``silent`` without a
    word of doubt."""

    text: str
    complete: bool
    figure: bool
    exact: bool
    missing: bool
    asked: bool
    wrong: tuple[str, ...]
    silent: tuple[str, ...]
    seconds: float


def same(meant: Any, found: Any) -> bool:
    """Whether a value is as it was meant, lengths to a ten thousandth."""
    if isinstance(meant, list):
        return (
            isinstance(found, list)
            and len(meant) == len(found)
            and all(same(one, two) for one, two in zip(meant, found))
        )
    if isinstance(meant, int | float) and isinstance(found, int | float):
        return abs(meant - found) <= NEAR * max(1.0, abs(meant))
    return str(meant) == str(found)


def judged(meant: Mapping[str, Any]) -> Verdict:
    """One statement read and held against what it means."""
    began = perf_counter()
    found = record(read(meant["text"]))
    seconds = perf_counter() - began
    ways = [meant, *meant.get("alternatives", [])]
    way = next((one for one in ways if one["figure"] == found["figure"]), meant)
    right = min((_wrong(meant, one, found) for one in ways if one["figure"] == way["figure"]), key=len, default=[])
    several, refused = meant.get("figures"), meant["refuse"]
    doubted = bool({FIGURE} & {*found["doubts"]} or found["rivals"] or found["figures"] or found["refuse"])
    if refused:
        figure = exact = found["figure"] is None
        silent = () if figure or doubted or found["missing"] else (FIGURE,)
    elif several:
        figure = exact = found["figures"] == several
        silent = () if doubted else (FIGURE,)
    else:
        figure = found["figure"] == way["figure"]
        exact = figure and not right and {*meant.get("conflict", ())} <= {*found["conflicts"]}
        silent = tuple(_silent(right, found)) if figure else () if doubted else (FIGURE,)
    asked = bool(found["doubts"] or found["rivals"] or found["missing"] or found["conflicts"] or found["figures"])
    complete = not (refused or several or meant["missing"] or meant.get("conflict"))
    named = not meant["missing"] or {*meant["missing"]} <= {*found["missing"]}
    return Verdict(meant["text"], complete, figure, exact, named, asked, tuple(right), silent, seconds)


def _wrong(meant: Mapping[str, Any], way: Mapping[str, Any], found: Mapping[str, Any]) -> list[str]:
    """Givens, choices and a method that are not as they were meant."""
    told = {name: one["value"] for name, one in found["givens"].items()}
    also = meant.get("also", {})
    wanted = {**way["givens"], **way.get("choices", meant["choices"])}
    wrong = [
        name
        for name, value in wanted.items()
        if not any(name in told and same(one, told[name]) for one in (value, *also.get(name, ())))
    ]
    return [*wrong, "method"] if meant["method"] and meant["method"] != found["method"] else wrong


def _silent(wrong: list[str], found: Mapping[str, Any]) -> Iterator[str]:
    for name in wrong:
        given = found["givens"].get(name)
        if given is not None and given["sure"] and name not in found["conflicts"] and given["how"] != "by default":
            yield name


def summed(verdicts: list[Verdict]) -> dict[str, float]:
    """Shares of statements, and how long they took."""

    def share(good: list[bool]) -> float:
        return round(sum(good) / max(len(good), 1), 4)

    seconds = sorted(one.seconds for one in verdicts)
    return {
        "statements": len(verdicts),
        "figure": share([one.figure for one in verdicts]),
        "exact": share([one.exact for one in verdicts]),
        "missing_named": share([one.missing for one in verdicts if not one.complete]),
        "silently_wrong": sum(bool(one.silent) for one in verdicts),
        "asked_though_complete": share([one.asked for one in verdicts if one.complete]),
        "median_ms": round(1000 * statistics.median(seconds), 2),
        "worst_ms": round(1000 * seconds[-1], 2),
    }


def main(arguments: list[str]) -> None:
    """Print the shares; with ``--list`` every statement that was not read as it was meant."""
    files = [Path(one) for one in arguments if not one.startswith("-")]
    read("An ellipse of 90 by 60.")  # what is read once only is no part of the time
    verdicts = [judged(one) for one in json.loads((files or [STATEMENTS])[0].read_text("utf-8"))]
    if "--list" in arguments:
        for one in verdicts:
            if not (one.exact and one.missing) or one.silent or one.asked and one.complete:
                kind = "SILENT" if one.silent else "wrong" if not one.exact else "asked" if one.missing else "missing"
                print(f"{kind:8} {', '.join(one.silent or one.wrong):24} {one.text}")
    print(json.dumps(summed(verdicts), indent=1))


if __name__ == "__main__":
    main(sys.argv[1:])
