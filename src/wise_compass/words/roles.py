"""Which quantity is which given: how well the words say so, and the best whole assignment, by branch and bound."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from wise_compass.words.lexicon import ANY, FigureWords, Phrase, Slot
from wise_compass.words.quantities import Quantity, Word
from wise_compass.words.schools import AFTER, LIGHT, PREPOSITIONS
from wise_compass.words.statement import Statement

SAID, FURTHER = 2.0, 0.45
"""What a word counts for that says it, and every further one of its phrase."""
LEAST = 0.75
"""Of a claim: what counts for less says nothing."""
FAR, FAR_COMPLEMENT = 2.4, 1.0
"""How far from a quantity its words may stand; those that tell its complement stand nearer."""
MOST_CLAIMS, MOST_STEPS = 40, 600
STANDING = frozenset(("high", "tall", "deep"))
"""Words behind a quantity that part it from a row that lies."""
MEASURES = {"D": "dia", "R": "rad"}


class Claim(NamedTuple):
    """Quantities that may be the givens of a slot, how well the words say so, and which."""

    score: float
    slot: Slot
    quantities: tuple[Quantity, ...]
    phrase: Phrase


def value_of(form: str, quantity: Quantity) -> float:
    """What a quantity is as a given of a form: a radius told is half the diameter that is wanted.

    >>> value_of("D", Quantity("length", 25.0, 0, 3, measure="rad"))
    50.0
    """
    if quantity.kind == "ratio":
        return quantity.ratio[0] / quantity.ratio[1] if quantity.ratio[1] else 0.0
    value = quantity.value * quantity.bare if form in "LDR" and not quantity.unit else quantity.value
    if form == "D" and quantity.measure == "rad":
        return value * 2
    return value / 2 if form == "R" and quantity.measure == "dia" else value


def affinity(statement: Statement, slot: Slot, quantity: Quantity) -> tuple[float, Phrase | None] | None:
    """How well the words say that a quantity is a given, and which; None where its kind forbids it."""
    start = _by_kind(statement, slot, quantity)
    if start is None:
        return None
    if quantity.kind == "ratio":
        return 2.0, ("ratio",)
    best = max(_said(statement, slot, quantity), key=lambda one: one[0], default=None)
    if best is not None:
        return start + best[0], best[1]
    if ANY in slot.phrases and (slot.form not in "DR" or quantity.measure):
        return start + 0.9, ANY
    return start, None


def _by_kind(statement: Statement, slot: Slot, quantity: Quantity) -> float | None:
    """What the kind of a quantity says for or against it; None where it cannot be."""
    form, kind = slot.form, quantity.kind
    if kind == "place" or kind == "ratio" and not (form == "X" and len(quantity.ratio) == 2):
        return None
    if form in "LDR":
        if kind == "angle" or quantity.is_count:
            return None
        bare = -0.15 if kind == "number" else 0.0
        if form in MEASURES:
            return bare + ((1.0 if quantity.measure == MEASURES[form] else 0.4) if quantity.measure else 0.0)
        return bare - {"": 0.0, "dia": 1.0, "rad": 1.6}[quantity.measure]
    if form == "A":
        if kind == "angle":
            return 0.0
        bare_angle = kind == "number" and not quantity.spelled and quantity.value <= 180
        return -0.9 if bare_angle and not statement.has_angles else None
    if kind not in ("number", "ratio") or quantity.ordinal and slot.names != ("skip",):
        return None
    if form == "C" and (kind == "ratio" or quantity.value != int(quantity.value)):
        return None
    return 0.2


def _said(statement: Statement, slot: Slot, quantity: Quantity) -> Iterator[tuple[float, Phrase]]:
    """What each phrase of a slot that stands near enough says for a quantity."""
    after = statement.says(quantity.position + 1)
    noun = _touches_noun(statement, quantity, after)
    attributive = (1.6 if quantity.spelled else 0.8) if noun and not quantity.ordinal else 0.0  # "two circles"
    complement = "q" in slot.working
    for phrase in slot.phrases:
        far = None if phrase == ANY else _far(statement, phrase, quantity, attributive)
        if far is None or slot.form == "C" and _no_count(statement, quantity, phrase, after, far):
            continue
        blank = "_" in phrase
        if far > (FAR_COMPLEMENT if complement and blank else FAR):
            continue
        score = SAID + FURTHER * (len(phrase) - blank - 1) - far
        score += -1.5 if after in AFTER and after not in phrase else 0.0
        score += 0.5 if slot.working and blank else 0.0
        score -= 0.8 if all(word in LIGHT or word == "_" for word in phrase) else 0.0
        yield score, phrase


def _touches_noun(statement: Statement, quantity: Quantity, after: str) -> bool:
    """Whether a quantity touches the noun behind it, and so is that noun’s."""
    if not after or after.startswith("§") or after in LIGHT | AFTER | PREPOSITIONS:
        return False
    token = statement.tokens[quantity.position + 1]
    return isinstance(token, Word) and token.start - quantity.end <= 2


def _far(statement: Statement, phrase: Phrase, quantity: Quantity, attributive: float) -> float | None:
    """How far a phrase stands from a quantity; None where it does not stand there."""
    at = quantity.position
    if "_" not in phrase:
        return min(
            (
                statement.gap(end, at) + attributive if end <= at else statement.gap(at + 1, start) + 0.1
                for start, end in statement.runs(phrase)
            ),
            default=None,
        )
    k = phrase.index("_")
    before, behind, far = phrase[:k], phrase[k + 1 :], 0.0
    if before:
        ends = [end for _, end in statement.runs(before) if end <= at]
        if not ends:
            return None
        far += min(statement.gap(end, at) for end in ends) + (0.0 if behind else attributive)
    if behind:
        starts = [start for start, _ in statement.runs(behind) if start > at]
        if not starts:
            return None
        far += min(statement.gap(at + 1, start) for start in starts)
    return far * 0.8 if before and behind else far


def _no_count(statement: Statement, quantity: Quantity, phrase: Phrase, after: str, far: float) -> bool:
    """Whether a number in words is no count of this: it stands too far off, or counts something else."""
    if not quantity.spelled:
        return False
    at = quantity.position
    ends = after.startswith("§") and "_" not in phrase and at > 0
    listed = statement.says(at - 1) == "§:" and not any(at < start < at + 4 for start, _ in statement.runs(phrase))
    return (
        far > 0.75
        or ends and not any(word in phrase for word in statement.words(at - 2, at))
        or at > 0 and listed
        or quantity.value == 1 and "start" not in phrase
    )  # fmt: skip


def claims(statement: Statement, words: FigureWords) -> list[Claim]:
    """Every claim of a figure's givens on quantities that counts, the best first."""
    found = [
        claim
        for slot in words.slots
        for claim in (_listed(statement, words, slot) if slot.kind == "list" else _single(statement, slot))
    ]
    return sorted(found, key=lambda claim: -claim.score)[:MOST_CLAIMS]


def _single(statement: Statement, slot: Slot) -> Iterator[Claim]:
    for quantity in statement.quantities:
        found = affinity(statement, slot, quantity)
        if found is not None and found[1] is not None and found[0] >= LEAST:
            more = 0.5 * (len(slot.names) - 1) if slot.kind == "same" else 0.0
            yield Claim(found[0] + more, slot, (quantity,), found[1])


def _listed(statement: Statement, words: FigureWords, slot: Slot) -> Iterator[Claim]:
    """Claims on quantities that stand in one row."""
    head, many = slot.phrases[0], len(slot.names)
    form = words.forms.get(slot.names[0], "L")
    for row in statement.groups:
        for k in range(len(row) - many + 1):
            some = row[k : k + many]
            score = _row_said(statement, head, form, some)
            if score is None:
                continue
            if form == "L" and any(one.measure for one in some) and head[0] not in ("conjugate", "*D"):
                score -= 0.8
            if form == "A" and any(one.kind == "number" for one in some):
                score -= 0.7
            if len(row) > many:
                score -= 0.4
            if many == 2 and some[-1].joins[-1:] == ("§,",) and statement.says(some[-1].position + 1) in STANDING:
                continue  # "top 60, 50 high"
            if score > 0.3:
                yield Claim(score * many, slot, tuple(some), head)


def _row_said(statement: Statement, head: Phrase, form: str, row: Sequence[Quantity]) -> float | None:
    """How well the words say that a row of quantities is a list of givens; None where they cannot be, or do not."""
    kinds = {one.kind for one in row}
    fits = {"angle", "number"} if form == "A" else {"length", "number"}
    if not kinds <= fits or any(one.is_count for one in row):
        return None
    if head == ("by",):
        return 1.6 if any("§by" in one.joins for one in row[1:]) else None
    if head == ("to",):  # a row of its own behind it, or the whole row from one end to the other
        return 1.6 if "to" in row[0].joins else 0.6
    if head[0].startswith("*"):
        return None if len(head[0]) == 2 and not all(one.measure for one in row) else 0.95
    first, last = row[0].position, row[-1].position
    far = min(
        (
            statement.gap(end, first) if end <= first else statement.gap(last + 1, start) + 0.1 if start > last else 9.0
            for start, end in statement.runs(head)
        ),
        default=9.0,
    )
    return 2.1 - far + 0.3 * (len(head) - 1) if far <= 2.2 else None


def assigned(statement: Statement, found: Sequence[Claim]) -> list[Claim]:
    """The claims that go together and say most: no quantity is two givens, no given two quantities."""
    order = {id(one): 1 << k for k, one in enumerate(statement.quantities)}
    masks = [sum(order[id(one)] for one in claim.quantities) for claim in found]
    names = [frozenset(claim.slot.names) for claim in found]
    rest = [0.0]
    for claim in reversed(found):
        rest.append(rest[-1] + claim.score)
    rest.reverse()
    best: tuple[float, list[Claim]] = (0.0, [])
    steps = 0

    def go(k: int, used: int, filled: frozenset[str], score: float, chosen: list[Claim]) -> None:
        nonlocal best, steps
        if score > best[0]:
            best = (score, chosen)
        steps += 1
        if k >= len(found) or score + rest[k] <= best[0] or steps > MOST_STEPS:
            return
        if not masks[k] & used and not names[k] & filled:
            go(k + 1, used | masks[k], filled | names[k], score + found[k].score, [*chosen, found[k]])
        go(k + 1, used, filled, score, chosen)

    go(0, 0, frozenset(), 0.0, [])
    return best[1]


def span_of(statement: Statement, phrase: Phrase) -> tuple[int, int]:
    """The span of the text in which a phrase stands; nothing where it does not."""
    where = statement.has(phrase)
    if where is None:
        return 0, 0
    return statement.tokens[where[0]].start, statement.tokens[where[1] - 1].end


def told_from(statement: Statement, claim: Claim, quantity: Quantity) -> tuple[int, int]:
    """The span of the text that tells a quantity's role: itself with the nearest of its words, where no other quantity
    stands between them."""
    at, start, end = quantity.position, quantity.start, quantity.end
    parts = [part for part in _parted(claim.phrase) if part]
    for part in parts:
        runs = statement.runs(part)
        if not runs:
            continue
        first, last = min(
            runs, key=lambda run: statement.gap(run[1], at) if run[1] <= at else statement.gap(at + 1, run[0])
        )
        between = statement.tokens[last:at] if last <= at else statement.tokens[at + 1 : first]
        if not any(isinstance(token, Quantity) or token.says in ("§.", "§;") for token in between):
            start = min(start, statement.tokens[first].start)
            end = max(end, statement.tokens[last - 1].end)
    return start, end


def _parted(phrase: Phrase) -> tuple[Phrase, ...]:
    if phrase in (ANY, ("ratio",)) or phrase[0].startswith("*"):
        return ()
    if "_" in phrase:
        k = phrase.index("_")
        return phrase[:k], phrase[k + 1 :]
    return (phrase,)
