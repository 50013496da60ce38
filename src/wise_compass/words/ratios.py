"""Givens that are told by others: a row in a ratio with one of it told, and one that is so many times another."""

from __future__ import annotations

import re

from wise_compass.words.filled import Filled
from wise_compass.words.statement import Statement

TIMES = {"twice": 2.0, "double": 2.0, "thrice": 3.0, "half": 0.5, "twothird": 2 / 3, "onethird": 1 / 3}
TIMES["threequarter"] = 0.75
LONGER = ("longer", "long", "longest", "greater", "larger", "length")
SHORTER = ("shorter", "short", "shortest", "smaller", "smallest", "width")
FAR_BEFORE = 9
"""Words before *two thirds of it* among which stands what it is."""


def take_ratios(statement: Statement, found: Filled) -> None:
    """Rows in a ratio with one of them told; one given that is so many times another."""
    _terms_of_ratio(statement, found)
    _row_in_ratio(statement, found)
    for word, times in TIMES.items():
        for position in statement.at.get(word, ()):
            _times(statement, found, word, times, position)


def _terms_of_ratio(statement: Statement, found: Filled) -> None:
    """*In the ratio 5:3* where a figure has a given for either term."""
    for slot in found.words.slots:
        terms = slot.kind == "list" and all(found.words.forms.get(name) == "X" for name in slot.names)
        for one in statement.quantities if terms else ():
            if one.kind == "ratio" and len(one.ratio) == len(slot.names):
                found.taken.add(id(one))
                for name, part in zip(slot.names, one.ratio):
                    found.put(name, part, (one.start, one.end), "ratio")
                    found.doubts.pop(name, None)
                return


def _row_in_ratio(statement: Statement, found: Filled) -> None:
    ratio = next((one for one in statement.quantities if one.kind == "ratio" and id(one) not in found.taken), None)
    if ratio is None or not all(ratio.ratio):
        return
    lists = [s.names for s in found.words.slots if s.kind == "list" and len(s.names) == len(ratio.ratio)]
    sizes = [one for one in statement.quantities if one.kind in ("length", "number") and not one.spelled]
    if not lists or len(sizes) != 1:
        return
    size = sizes[0]
    beside = statement.words(size.position - 4, size.position + 3)
    longest, shortest = (any(word in beside for word in words) for words in (LONGER, SHORTER))
    if "perimeter" in beside:
        one = size.value / sum(ratio.ratio)
    elif longest != shortest:
        one = size.value / (max(ratio.ratio) if longest else min(ratio.ratio))
    else:
        return
    found.taken.update((id(size), id(ratio)))
    for name, part in zip(lists[0], ratio.ratio):
        found.put(name, part * one, (ratio.start, ratio.end), "ratio", f"{part:g} × {one:g}")
        found.doubts.pop(name, None)


def _times(statement: Statement, found: Filled, word: str, times: float, position: int) -> None:
    """A given that is told as so many times another: *its length is twice its width*, *twice as long as wide*, *the
    minor axis is two thirds of it*."""
    before, behind = list[tuple[int, str]](), list[tuple[int, str]]()
    for slot in found.words.slots:
        if slot.kind != "one" or slot.form not in "LDR" or slot.working:
            continue
        for phrase in slot.phrases:
            plain = tuple(one for one in phrase if one not in ("_", "*"))
            for start, end in statement.runs(plain) if plain else ():
                if end <= position and position - end < FAR_BEFORE:
                    before.append((position - end, slot.names[0]))
                if start > position and start - position < 5:
                    behind.append((start - position, slot.names[0]))
    near = [name for far, name in sorted(before) if far < 4]
    pair = near[:1] + [name for _, name in sorted(behind)][:1]
    if not near:
        pair = list(dict.fromkeys(name for _, name in sorted(behind)))[:2]
    elif not behind and re.match(r"[\s,]*it\b", statement.low[statement.tokens[position].end :]):
        pair = list(dict.fromkeys(name for _, name in sorted(before)))[:2]
    if len(pair) < 2:
        return
    more, less = pair
    token, givens = statement.tokens[position], found.givens
    if more == less or (more in givens) == (less in givens):
        return
    name, value = (more, givens[less] * times) if less in givens else (less, givens[more] / times)
    known = givens[less] if less in givens else givens[more]
    sign = "×" if less in givens else "÷"
    found.put(name, value, (token.start, token.end), word, f"{known:g} {sign} {times:.4g}")
