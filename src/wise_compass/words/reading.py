"""Reading a statement: which figure it means, filled, and whether that is sure."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache

from wise_compass.drafting.refusals import Refused
from wise_compass.words.filled import Filled
from wise_compass.words.filling import fill
from wise_compass.words.lexicon import lexicon
from wise_compass.words.order import put_in_order
from wise_compass.words.schools import ALIEN, FILLERS, FOREIGN, HEADS, LIGHT, OBJECTS, PLAIN, lacking, schools
from wise_compass.words.statement import Statement

LONGEST = 4000
"""Signs that a problem may have."""
ENDLESS = re.compile(r"\d{25,}")
"""What is no number of a problem."""
STRONG = 4.0
"""What a name of another figure weighs that puts this one in doubt."""
LEAST_NAME = 0.5
"""What the names of a figure count for at least that is tried."""
MOST_TRIED = 26
CLOSE = 0.8
"""Of a score: a figure that comes so near to another is its rival."""
ALONE = 2.0
"""By how much a figure for which few words speak has to lead."""
LEAST, LEAST_SURE, LEAST_NAMED = -0.5, 2.5, 2.0
PARTS = re.compile(
    r"(?:^|\s)(?:\((?:[a-d]|i{1,3}|iv)\)|[a-d]\)|\d\)|(?:[Tt]ask|[Pp]art|[Pp]roblem|[Ee]xercise|[Qq]uestion)"
    r"\s+(?:[A-Da-d]|\d)\s*[:.)])\s"
)
BETWEEN = re.compile(r"\s(?:and|then)\s|[.;]\s")


@dataclass
class Reading:
    """What a statement was read as: one figure filled (``best``), or why none is; ``doubt`` says why the figure itself
    is not sure, ``rivals`` are figures that come near, ``figures`` those of a statement that has several."""

    statement: Statement
    best: Filled | None = None
    refuse: str = ""
    doubt: str = ""
    rivals: list[str] = field(default_factory=list)
    figures: list[str] = field(default_factory=list)
    unknown: list[str] = field(default_factory=list)
    tried: list[Filled] = field(default_factory=list)


def read(text: str, bare: float = 1.0) -> Reading:
    """What a statement means; a length without a unit counts in ``bare`` mm.

    Raises :class:`Refused` for a text that is longer than any problem, and for numbers that are.

    >>> reading = read("An ellipse with axes of 120 and 80 mm, by the trammel.")
    >>> reading.best.id, reading.best.givens, reading.best.method
    ('ellipse', {'long': 120.0, 'wide': 80.0}, 'trammel')
    """
    if len(text) > LONGEST:
        raise Refused(
            "text", f"That is {len(text)} signs long; a problem has {LONGEST} at most. Paste one problem at a time."
        )
    if (digits := ENDLESS.search(text)) is not None:
        raise Refused(
            "text", f"A number of {len(digits.group())} digits is none of a drawing. Write one such as 52 or 52.5."
        )
    reading = _read(text, bare)
    if reading.best is not None:
        reading.figures = list(_several(reading))
    return reading


def _read(text: str, bare: float = 1.0) -> Reading:
    statement = Statement(text, bare)
    pool = []
    placed = any(one.kind == "place" for one in statement.quantities)
    for words in lexicon().figures.values():
        named = sum(weight for phrase, weight in words.names if weight > 0 and statement.has(phrase))
        if named >= LEAST_NAME or words.places and placed:
            pool.append((named, words))
    pool.sort(key=lambda each: -each[0])
    tried = sorted((fill(statement, words) for _, words in pool[:MOST_TRIED]), key=lambda one: -one.score)
    reading = Reading(statement, tried=tried, unknown=_unknown(statement))
    lack = _lack(statement, tried)
    if lack or not tried or _says_too_little(tried[0]):
        reading.refuse = _refusal(lack, tried)
        return reading
    best = reading.best = tried[0]
    put_in_order(best)
    reading.rivals = [one.id for one in tried[1:4] if best.score - one.score < CLOSE]
    reading.doubt = _doubt(reading, best)
    return reading


def _known() -> frozenset[str]:
    return lexicon().vocabulary | PLAIN | FILLERS | {word for variant in schools() for word in variant}


def _unknown(statement: Statement) -> list[str]:
    """Words that no figure and no problem has."""
    known = _known()
    words = {
        token.says: None
        for token in statement.tokens
        if token.says and not token.says.startswith("§") and not statement.text[token.start : token.end].isupper()
    }
    return [word for word in words if word not in known and len(word) > 2]


def _lack(statement: Statement, tried: list[Filled]) -> str:
    """What the statement asks for that the catalogue does not have; empty where it has it."""
    for phrase in lacking()["lacking"]:
        if statement.runs(phrase):
            return " ".join(phrase)
    alien = next((noun for noun in ALIEN if noun in statement.at and tried and noun not in tried[0].words.own), "")
    if alien:
        return alien
    perhaps = next((phrase for phrase in lacking()["perhaps"] if statement.has(phrase)), None)
    if perhaps and (not tried or tried[0].missing or tried[0].score < LEAST_SURE):
        return " ".join(perhaps)
    return ""


def _says_too_little(best: Filled) -> bool:
    return (
        best.named < 1
        or best.score < LEAST
        or best.named < 1.5 and bool(best.missing or best.unused)
    )  # fmt: skip


def _refusal(lack: str, tried: list[Filled]) -> str:
    near = f" The nearest here: {tried[0].id}." if tried and tried[0].named >= 1 else ""
    if lack:
        return f"The catalogue has no figure for “{lack.replace('POLYGON', 'polygonal')}”.{near}"
    return f"No figure of the catalogue was recognised.{near} Name what is to be drawn, such as an ellipse, a helix."


def _doubt(reading: Reading, best: Filled) -> str:
    """Why the figure itself is not sure; empty where it is."""
    statement, own = reading.statement, best.words.own
    foreign = _foreign(statement, own)
    if foreign:
        return f"“{foreign}” is nothing that this figure has"
    if best.unused:
        return f"it has no place for {best.unused[0]}"
    whole = next((one.id for one in reading.tried[1:4] if not one.missing and not one.unused and one.named >= 1), "")
    if len(best.missing) > 1 and whole:
        return f"{whole} would lack nothing"
    strange = _of_another(statement, best)
    if strange:
        return f"“{strange}” speaks of another figure"
    if reading.rivals:
        return f"{reading.rivals[0]} fits nearly as well"
    weak = best.named < LEAST_NAMED or best.score < LEAST_SURE
    if not best.has_must or weak and not _stands_alone(reading, best):
        return "few words speak for it"
    return ""


def _of_another(statement: Statement, best: Filled) -> str:
    """What names another figure strongly, in words that no other than that one has."""
    own = best.words.own | {word for phrase, _ in best.words.names for word in phrase}
    for id, phrases in _names_alone().items():
        if id != best.id:
            for phrase in phrases:
                if not own & {*phrase} and statement.has(phrase):
                    return " ".join(phrase)
    return ""


@cache
def _names_alone() -> dict[str, tuple[tuple[str, ...], ...]]:
    """By figure its strong names whose words stand in no other figure's."""
    figures = lexicon().figures.values()
    held = {words.id: words.own | {word for phrase, _ in words.names for word in phrase} for words in figures}
    count = Counter(word for words in held.values() for word in words)
    return {
        words.id: tuple(
            phrase for phrase, weight in words.names if weight >= STRONG and all(count[word] == 1 for word in phrase)
        )
        for words in figures
    }


def _stands_alone(reading: Reading, best: Filled) -> bool:
    """Whether few words are enough: all is told, nothing is left over, and no other figure comes near."""
    left = best.missing or best.unused or best.doubts or best.conflicts or reading.unknown
    others = [one for one in reading.tried if one is not best]
    return best.named >= 1 and not left and all(best.score - one.score >= ALONE for one in others)


def _foreign(statement: Statement, own: set[str]) -> str:
    """A noun that the figure does not have: of what is to be drawn, or a kind of curve."""
    unknown = statement.object_unknown(_known())
    if unknown:
        return unknown
    drawn = statement.object_drawn()
    if drawn in OBJECTS and drawn not in own:
        return drawn
    foreign = next((noun for noun in (*HEADS, *FOREIGN) if noun in statement.at and noun not in own), "")
    if foreign:
        return foreign
    if "curve" in statement.at:
        before = statement.says(statement.at["curve"][0] - 1)
        if before and not before.startswith("§") and before not in own | PLAIN | LIGHT:
            return f"{before} curve"
    return ""


def _several(reading: Reading) -> Iterator[str]:
    """The figures of a statement that has more than one; none where it has one."""
    statement, best = reading.statement, reading.best
    parts = [part for part in PARTS.split(statement.text) if part.strip()]
    if len(parts) >= 2:
        found = [one.best.id for part in parts if (one := _read(part)).best is not None]
        if len(set(found)) >= 2:
            yield from found
            return
    if best is None:
        return
    own = {word for phrase, _ in best.words.names for word in phrase} | best.words.own
    heads = [head for head in HEADS if head in statement.at]
    if len(heads) < 2 or all(head in own for head in heads):
        return
    for parting in BETWEEN.finditer(statement.text):
        sides = statement.text[: parting.start()], statement.text[parting.end() :]
        if min(len(side) for side in sides) < 12:
            continue
        one, other = (_read(side) for side in sides)
        if one.best is None or other.best is None or one.best.id == other.best.id:
            continue
        if _stands(one) and _stands(other) and len(one.best.missing) + len(other.best.missing) <= 1:
            yield from (one.best.id, other.best.id)
            return


def _stands(reading: Reading) -> bool:
    """Whether a part of a statement names a figure by itself."""
    best = reading.best
    if best is None or best.named < 3 or best.strongest < 2:
        return False
    names = {phrase for phrase, weight in best.words.names if weight > 0}
    return any(head in reading.statement.at and (head,) in names for head in HEADS)
