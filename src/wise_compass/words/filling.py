"""Filling a figure with what a statement tells, step by step; what is never silent is put in doubt."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from wise_compass.words.filled import ELIMINATED, ROUND, WEAK, Filled
from wise_compass.words.lexicon import ANY, FigureWords, Slot
from wise_compass.words.places import fill_places
from wise_compass.words.quantities import COMMA, Quantity
from wise_compass.words.ratios import take_ratios
from wise_compass.words.roles import Claim, affinity, assigned, claims, span_of, told_from, value_of
from wise_compass.words.schools import LIGHT, MODIFIERS, ROUGHLY, ROUNDS
from wise_compass.words.statement import Statement
from wise_compass.words.turned import turn_faces
from wise_compass.words.working import names_in, said, worked

UNCUT = re.compile(
    r"\b(?:without|no|not)\s+(?:an?\s+|any\s+)?(?:cut|section)|\buncut\b|\bwhole (?:prism|pyramid|cone|cylinder)"
)
RECEDING = re.compile(
    r"reced\w*(?:\s+\w+)*?\s+(?:at|of)?\s*(30|45|60)|(30|45|60)\s*(?:°|deg\w*)\s*\.?\s*(?:receding|$)|at (30|45|60)°"
)
SURE, CLEAR = 1.25, 2.6
"""What a claim has to count for to be sure, and beside one of its kind that was filled by elimination."""
OTHERWISE = (("far", "end"), ("supplement",), ("complement",))
"""Words that say that what is told is not what is meant, wherever they stand."""
TWICE = 1.9
"""And to be a second value for what has one."""


def fill(statement: Statement, words: FigureWords) -> Filled:
    """A figure filled with a statement, and how well it fits (``score``)."""
    filling = _Filling(statement, words)
    filling.take_claims()
    filling.count_sides()
    fill_places(statement, filling.found)
    filling.choose()
    filling.work_out()
    filling.set_by_words()
    take_ratios(statement, filling.found)
    filling.work_out()
    turn_faces(statement, filling.found)
    filling.eliminate()
    filling.work_out()
    filling.doubt_modifiers()
    filling.doubt_weak()
    filling.doubt_radii()
    filling.doubt_numbers()
    filling.doubt_worked()
    filling.see_twice()
    filling.finish()
    return filling.found


SCALES_OF_AXES = ["scale_front", "scale_right", "scale_height"]


class _Filling:
    def __init__(self, statement: Statement, words: FigureWords) -> None:
        self.statement, self.words = statement, words
        self.found = Filled(words, needs=list(words.needs))
        self.forms = words.forms
        self.claims = assigned(statement, claims(statement, words))
        self.late: list[Claim] = []
        """Claims whose values are worked out of other givens."""
        self.sources: dict[str, set[str]] = {}
        """The givens that another was worked out of."""
        self.said = 0.0

    def take_claims(self) -> None:
        """Givens that a quantity tells, each by the words beside it."""
        for claim in self.claims:
            self.said += claim.score
            self.found.taken.update(id(one) for one in claim.quantities)
            if claim.slot.working:
                self.late.append(claim)
                continue
            light = all(word in LIGHT or word in ("_", "*") for word in claim.phrase)
            for k, name in enumerate(claim.slot.names):
                self.found.weights[name] = 0.0 if light else claim.score / len(claim.quantities)
                listed = claim.slot.kind == "list"
                one = claim.quantities[k] if listed else claim.quantities[0]
                form = self.forms.get(name, claim.slot.form or "L") if listed else claim.slot.form
                self._put(claim, name, one, value_of(form, one))
                if claim.phrase == ANY and claim.slot.form != "A" and not one.measure and self._alike(one) > 1:
                    self.found.doubts[name] = "no word says so"

    def _put(self, claim: Claim, name: str, one: Quantity, value: float, working: str = "") -> None:
        doubled = one.measure and value != one.value and not working
        how = working or (f"{'2 × ' if value > one.value else ''}{one.value:g}{' ÷ 2' if value < one.value else ''}")
        self.found.put(
            name,
            value,
            told_from(self.statement, claim, one),
            " ".join(claim.phrase),
            how if working or doubled else "",
        )

    def _alike(self, one: Quantity) -> int:
        return sum(1 for other in self.statement.quantities if other.kind == one.kind)

    def count_sides(self) -> None:
        """Counts that a name tells, such as *hexagonal*; where two solids have sides, that which is met comes first."""
        if len(self.words.counts) > 1:
            self._count_each()
            return
        for name in self.words.counts:
            sure = {sides for sides, _, _, surely in self.statement.polygons if surely}
            loose = {sides for sides, _, _, surely in self.statement.polygons if not surely}
            if name in self.found.givens and sure:
                del self.found.givens[name]
            if len(sure) > 1:
                self.found.conflicts[name] = sorted(sure)
            elif name not in self.found.givens and len(told := sure or loose) == 1:
                sides = told.pop()
                span = next((start, end) for n, start, end, _ in self.statement.polygons if n == sides)
                self.found.put(name, sides, span, "name")
                if sure and loose - sure:
                    self.found.doubts[name] = f"a word says {min(loose - sure)}"

    def _count_each(self) -> None:
        """Each count from its own polygon, in order; the one that *penetrates* is the second."""
        told = sorted(self.statement.polygons, key=lambda one: one[1])
        sure = [one for one in told if one[3]]
        named = sure if len(sure) >= len(self.words.counts) else told
        order = self.words.counts[::-1] if self.statement.says_active() else self.words.counts
        if len(named) != len(order):
            return
        for name, (sides, start, end, _) in zip(order, named):
            self.found.givens.pop(name, None)
            self.found.put(name, sides, (start, end), "name")

    # choices

    def choose(self) -> None:
        """Choices and methods that words tell; whether it is cut, which makes more givens needed."""
        self._cut()
        for told in self.words.choices:
            phrase = self.statement.first(told.phrases)
            if phrase and told.name not in self.found.choices:
                self._choose(told.name, told.value, phrase)
        if self.words.recedes:
            self._recede()
        self._own_axes()
        for name, values, free in self.words.unless:
            if self.found.choices.get(name) in values:
                for given in free:
                    self.found.needs.remove(given)
                    self.found.givens.pop(given, None)
        for method, phrases in self.words.methods:
            phrase = self.statement.first(phrases)
            if phrase and not self.found.method:
                self.found.method = method
                self.found.spans["method"], self.found.why["method"] = span_of(self.statement, phrase), " ".join(phrase)

    def _choose(self, name: str, value: str, phrase: tuple[str, ...]) -> None:
        self.found.choices[name] = value
        self.found.spans[name], self.found.why[name] = span_of(self.statement, phrase), " ".join(phrase)

    def _cut(self) -> None:
        if not self.words.marks:
            return
        denied = UNCUT.search(self.statement.low) is not None
        for told in self.words.marks:
            phrase = None if denied else self.statement.first(told.phrases)
            if phrase:
                self._choose(told.name, told.value, phrase)
        if "cut" not in self.found.choices and self._has_cut_angle():
            self.found.choices["cut"] = "plane"
            self.found.doubts["cut"] = "an angle is given, so a cut is taken"
        if "cut" in self.found.choices:
            self.found.needs += ["cut_angle", "cut_height"]
            return
        self.found.choices["cut"] = "none"
        for claim in self.claims:
            if claim.slot.names[0] == "cut_height":
                self.found.taken.difference_update(id(one) for one in claim.quantities)
                self.late = [one for one in self.late if one.slot is not claim.slot]
                self.found.givens.pop("cut_height", None)

    def _has_cut_angle(self) -> bool:
        return "cut_angle" in self.found.givens or any(claim.slot.names[0] == "cut_angle" for claim in self.late)

    def _own_axes(self) -> None:
        """An axonometric picture needs the ratio of its scales."""
        if self.found.choices.get("drawn") == "axonometric":
            self.found.needs += SCALES_OF_AXES

    def _recede(self) -> None:
        """The angle at which an oblique picture recedes is a choice."""
        told = RECEDING.search(self.statement.low)
        if told and self.found.choices.get("drawn") in ("cabinet", "cavalier"):
            self.found.choices["receding"] = told[1] or told[2] or told[3]
            self.found.spans["receding"] = told.span()
            self.found.taken.update(
                id(one) for one in self.statement.quantities if one.kind == "angle" and one.value in (30, 45, 60)
            )

    # what is worked out

    def work_out(self) -> None:
        """Givens that follow from what was told and from others, once those are there."""
        for claim in list(self.late):
            slot = claim.slot
            if slot.kind == "list":
                for name, one in zip(slot.names, claim.quantities):
                    value = worked(slot.working, {"q": one.value})
                    if value is not None:
                        self._put(claim, name, one, value, said(slot.working, {"q": one.value}))
                self.late.remove(claim)
                continue
            one = claim.quantities[0]
            known = {**self.found.givens, "q": value_of(slot.form, one)}
            value = worked(slot.working, known)
            if value is None:
                continue
            for name in slot.names:
                if name not in self.found.givens:
                    self.sources[name] = names_in(slot.working) & {*self.found.givens}
                    self._put(claim, name, one, value, said(slot.working, known))
            self.late.remove(claim)

    def set_by_words(self) -> None:
        """Givens that words alone tell, such as *bisects the axis*."""
        for told in self.words.sets:
            phrase = self.statement.first(told.phrases)
            if phrase and not self.found.told(told.name):
                value = worked(told.value, self.found.givens)
                if value is not None:
                    number = told.value.replace(".", "").isdigit()
                    working = "" if number else said(told.value, self.found.givens)
                    self.found.put(told.name, value, span_of(self.statement, phrase), " ".join(phrase), working)

    # what is never silent

    def eliminate(self) -> None:
        """Where one given and one quantity of its kind remain, they belong together, and that is doubtful."""
        used = self.found.taken
        left = [
            one
            for one in self.statement.quantities
            if id(one) not in used and one.kind not in ("place", "ratio") and not one.is_count
        ]
        late = self.late[0].slot.names if self.late else ()
        for forms, kinds in (("A", ("angle",)), ("LDR", ("length", "number")), ("C", ("number",)), ("X", ("number",))):
            names = [
                name
                for name in self.found.needs
                if self.forms.get(name, "-") in forms
                and name not in self.found.givens
                and name not in self.found.conflicts
                and name not in late
            ]
            some = [one for one in left if one.kind in kinds and id(one) not in used]
            if len(names) == 1 and len(some) == 1 and (self.words.places is None or self.words.places[0] == "terms"):
                self._take_last(names[0], some[0], forms, kinds)

    def _take_last(self, name: str, one: Quantity, forms: str, kinds: tuple[str, ...]) -> None:
        slot = self._slot(name)
        said = affinity(self.statement, slot, one)
        if said is None or said[0] < -0.9:
            return
        self.found.put(name, value_of(slot.form, one), (one.start, one.end))
        self.found.taken.add(id(one))
        self.said += 0.5
        alike = [given for given in self.words.needs if self.forms.get(given, "-") in forms]
        several = [other for other in self.statement.quantities if other.kind in kinds and not other.spelled]
        if len(several) != 1 or len(alike) != 1 or one.measure:
            self.found.doubts[name] = ELIMINATED

    def _slot(self, name: str) -> Slot:
        return [slot for slot in self.words.slots if slot.names == (name,) and not slot.working][-1]

    def _told(self) -> Iterator[tuple[Claim, str, Quantity]]:
        """Every given that a claim tells, and the quantity that it is."""
        for claim in self.claims:
            for k, name in enumerate(claim.slot.names):
                if name in self.found.givens:
                    yield claim, name, claim.quantities[k if claim.slot.kind == "list" else 0]

    def doubt_modifiers(self) -> None:
        """A word beside a quantity that changes it, and that nobody used."""
        for claim, name, one in self._told():
            self._doubt_modifier(claim, name, one)
        used = {word for claim in self.claims for word in claim.phrase}
        for phrase in OTHERWISE:
            if self.statement.runs(phrase) and not used.issuperset(phrase):
                for name in {name for claim in self.claims for name in claim.slot.names} & self.found.givens.keys():
                    self.found.doubts.setdefault(name, f"words were not understood: {' '.join(phrase)}")

    def _doubt_modifier(self, claim: Claim, name: str, one: Quantity) -> None:
        tokens, at = self.statement.tokens, one.position
        ends = [
            k
            for k, token in enumerate(tokens[:at])
            if isinstance(token, Quantity) and not token.says or token.says in ("§.", "§;")
        ]
        before = [token.says for token in tokens[(ends[-1] if ends else -1) + 1 : at]]
        after = [self.statement.says(at + 1), self.statement.says(at + 2)]
        beside = MODIFIERS & {*before[-4:], *(after if after[0] and not after[0].startswith("§") else ())} - ROUGHLY
        if before and before[-1] in ROUGHLY and one.start - tokens[at - 1].end <= 1:
            beside |= {before[-1]}  # "about 60 mm", but not "about a circle of 60 mm"
        if "half" in before and claim.slot.form in ("L", "D") and not claim.slot.working:
            self.found.givens[name] *= 2
            self.found.workings[name] = f"2 × {one.value:g}"
            self.found.doubts[name] = "half of it is told"
        elif beside - set(claim.phrase) and self.found.why.get(name) not in MODIFIERS:
            words = ", ".join(sorted(beside))
            self.found.doubts.setdefault(name, f"a word beside it was not understood: {words}")

    def doubt_weak(self) -> None:
        """A weak word is no certainty, nor is a middling one where another of that kind was filled by elimination."""
        gone = {self.forms[name] for name, why in self.found.doubts.items() if why == ELIMINATED and name in self.forms}
        sizes = bool(set("DRL") & gone)
        rounds = {name for name, form in self.forms.items() if form in "DR"}
        for claim in self.claims:
            if claim.quantities[0].measure and {*claim.slot.names} == rounds:
                continue  # a diameter is told, and the figure has one
            for name in claim.slot.names:
                form = self.forms.get(name)
                if form is None:
                    continue
                middling = claim.score < CLEAR * len(claim.quantities)
                beside_guess = middling and (form in gone or sizes and form in "DRL")
                alone = claim.slot.kind == "one" and claim.score < SURE and claim.slot.form not in "AX"
                if beside_guess or alone:
                    self.found.doubts.setdefault(name, WEAK)

    def doubt_radii(self) -> None:
        """A size of a round body that no word calls a radius may be its diameter."""
        for claim in self.claims:
            unmeasured = claim.slot.form == "R" and not claim.slot.working and not claim.quantities[0].measure
            if unmeasured and ROUNDS & {*claim.phrase}:
                for name in claim.slot.names:
                    self.found.doubts.setdefault(name, ROUND)

    def doubt_numbers(self) -> None:
        """A number without a unit whose comma may part two of a row; a length without one beside others that have one
        other than mm, or told as a share, as *a ratio of 4/3* is."""
        others = any(one.kind == "length" and one.unit not in ("", "mm") for one in self.statement.quantities)
        for claim, name, one in self._told():
            told = self.statement.text[one.start : one.end]
            length = (self.forms.get(name) if claim.slot.kind == "list" else claim.slot.form) in ("L", "D", "R")
            if one.unit:
                continue
            if COMMA.search(told):
                self.found.doubts.setdefault(name, "its comma is taken for a decimal one")
            elif length and one.value < 2 and "/" in told:
                self.found.doubts.setdefault(name, "a share without a unit is hardly a length")
            elif length and others and not claim.slot.working:
                self.found.doubts.setdefault(name, "no unit is told, though others have one")

    def doubt_worked(self) -> None:
        """What is worked out of something doubtful is as doubtful."""
        for name, sources in self.sources.items():
            if sources & {*self.found.doubts}:
                self.found.doubts.setdefault(name, f"it is worked out of {', '.join(sorted(sources))}")

    def see_twice(self) -> None:
        """Quantities left over that are a second value for a given that has one."""
        for one in self.statement.quantities:
            if id(one) in self.found.taken or one.kind in ("place", "ratio") or one.ordinal:
                continue
            name, value = self._second(one)
            if name:
                self.found.clash(name, value)
                self.found.taken.add(id(one))

    def _second(self, one: Quantity) -> tuple[str, Any]:
        rounds = [s for s in self.words.slots if s.kind == "one" and s.form in "DR" and not s.working]
        givens = self.found.givens
        if one.measure and len({slot.names for slot in rounds}) == 1 and rounds[0].names[0] in givens:
            name, value = rounds[0].names[0], value_of(rounds[0].form, one)
            if abs(value - givens[name]) > 1e-6:
                return name, value
        scored = [
            (said[0], slot)
            for slot in self.words.slots
            if slot.kind == "one" and (said := affinity(self.statement, slot, one)) and said[1] and said[1] != ANY
        ]
        if scored:
            score, slot = max(scored, key=lambda each: each[0])
            name, value = slot.names[0], value_of(slot.form, one)
            counts = slot.form in "LDRA" or slot.form == "C" and score >= 2
            if score >= TWICE and name in givens and counts and not slot.working:
                held = givens[name]
                if isinstance(held, int | float) and abs(value - held) > 1e-6:
                    return name, value
        return "", None

    def finish(self) -> None:
        """What is missing, what was not used, what is meant where nothing is told, and the score of it all."""
        found, statement = self.found, self.statement
        for name, value in found.givens.items():
            if isinstance(value, float):
                found.givens[name] = round(value, 6) + 0.0
        for claim in self.late:
            for name in claim.slot.names:
                if not found.told(name):
                    one = claim.quantities[0]
                    found.pending[name] = (claim.slot.working, value_of(claim.slot.form, one))
                    found.spans[name] = told_from(statement, claim, one)
        found.missing = [name for name in found.needs if not found.told(name)]
        for name, meant in self.words.absent.items():
            known = {**found.defaults, **found.givens}
            value = meant if meant.isidentifier() else worked(meant, known)
            if not found.told(name) and value is not None:
                found.defaults[name] = value
                if name in self.words.assumed:
                    found.doubts[name] = "no word tells it"
        found.unused = [
            statement.text[one.start : one.end]
            for one in statement.quantities
            if id(one) not in found.taken and not one.is_count
        ]
        self._weigh_names()
        filled = sum(1 for name in found.needs if found.told(name))
        lost = 1.1 * len(found.missing) + len(found.unused) + 0.3 * len(found.doubts)
        found.score = found.named + 0.35 * self.said + 0.6 * filled - lost

    def _weigh_names(self) -> None:
        found, statement, words = self.found, self.statement, self.words
        if words.places and words.places[0] in ("points2", "points3", "pointsAB"):
            wide = 2 if words.places[0] == "points2" else 3
            many = sum(1 for one in statement.quantities if one.kind == "place" and len(one.place) == wide)
            found.named += 2.0 if many == len(words.places[1]) else -2.0 if many else 0.0
        for phrase, weight in words.names:
            if statement.has(phrase):
                found.named += weight
                found.strongest = max(found.strongest, weight)
        sure = any(surely for *_, surely in statement.polygons)
        found.has_must = (
            not words.must
            or any(statement.has(phrase) for phrase in words.must)
            or ("POLYGON",) in words.must and sure
        )  # fmt: skip
        found.named -= 0.0 if found.has_must else 3.0
