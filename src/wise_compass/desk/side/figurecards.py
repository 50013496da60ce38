"""The cards of a figure: its steps, folded by moves, its values and its proofs."""

from __future__ import annotations

from collections.abc import Sequence

from wise_compass.desk.parts.cards import Card
from wise_compass.desk.parts.theme import COPPER, TEAL
from wise_compass.drafting.lacks import Lack
from wise_compass.drafting.run import Run
from wise_compass.drafting.steps import Step
from wise_compass.drafting.truths import Proof
from wise_compass.drafting.wording import Style


class Folds:
    """Which moves stand open in the list of steps, and which step or move each row shows.

    The steps of a move, such as bisecting a line, fold under its name; walking into a move opens it.
    """

    def __init__(self) -> None:
        self.open: set[int] = set()
        self.rows: list[tuple[int, int]] = []

    def cards(self, run: Run, style: Style, current: int, scale: float, missing: Sequence[Lack] = ()) -> list[Card]:
        """A card a step or folded move, as they are done on a sheet at ``scale``; the phases head them.

        ``current`` is the step that the walk stands at, ``missing`` what the kit cannot do.
        """
        cards: list[Card] = []
        self.rows = []
        phase = None
        for group in _moves(run.steps):
            first, last = group[0], group[-1]
            heading = first.phase if first.phase != phase else ""
            phase = last.phase
            if len(group) > 1:
                unfolded = first.n in self.open or first.n <= current <= last.n
                cards.append(_move_card(group, heading, unfolded))
                self.rows.append((first.n, last.n))
                if not unfolded:
                    continue
                heading = ""
            for step in group:
                cards.append(_step_card(step, style, heading, scale, missing))
                heading = ""
                self.rows.append((step.n, step.n))
        return cards

    def row_of(self, step: int) -> int:
        """The row that shows a step; -1 where none does."""
        return next((k for k, (first, last) in enumerate(self.rows) if first == last == step), -1)

    def toggle(self, row: int) -> bool:
        """Open or fold the move of a row; False where the row is a plain step."""
        first, last = self.rows[row]
        if first == last:
            return False
        self.open ^= {first}
        return True


def _moves(steps: Sequence[Step]) -> list[list[Step]]:
    """Steps in groups: those of one move together, every other by itself."""
    groups: list[list[Step]] = []
    for step in steps:
        same = groups and step.heading and groups[-1][-1].heading == step.heading and groups[-1][-1].phase == step.phase
        if same:
            groups[-1].append(step)
        else:
            groups.append([step])
    return groups


def _move_card(group: Sequence[Step], heading: str, unfolded: bool) -> Card:
    names = tuple(spot.name for step in group for spot in step.spots if spot.name)
    sign = "–" if unfolded else "+"
    words = f"steps {group[0].n} to {group[-1].n}" + ("" if unfolded else "; open to see them")
    return Card(sign, group[0].heading, "", words, "", heading, names)


def _step_card(step: Step, style: Style, heading: str, scale: float, missing: Sequence[Lack] = ()) -> Card:
    note = step.reason(style)
    for lack in missing:
        if lack.step == step.n:
            note = f"{style.say(lack.says)}: {lack.way}" + (f"; {note}" if note else "")
    if true := step.true_setting(style, scale):
        note = f"true {true}" + (f"; {note}" if note else "")
    if step.keep:
        note = f"keep it set{'; ' + note if note else ''}"
    return Card(
        str(step.n),
        step.tool(scale),
        step.setting(style, scale),
        step.sentence(style, scale),
        note,
        heading,
        tuple(spot.name for spot in step.spots if spot.name),
    )


def step_cards(run: Run, style: Style, scale: float) -> list[Card]:
    """A card a step, the phases above them."""
    cards, phase = [], ""
    for step in run.steps:
        cards.append(_step_card(step, style, step.phase if step.phase != phase else "", scale))
        phase = step.phase
    return cards


def value_cards(run: Run, style: Style) -> list[Card]:
    """A card a value with its working; the drawn ones of an approximate method apart."""
    cards, group = [], None
    for value in run.values:
        heading = "As drawn by this method" if value.drawn else "The exact figure"
        shown, working = style.value(value.value, value.unit), f"= {style.say(value.working)}"
        many = isinstance(value.value, list)
        cards.append(
            Card(
                "",
                value.name.replace("_", " "),
                "" if many else shown,
                f"{shown}\n{working}" if many else working,
                "",
                heading if heading != group else "",
                value.marks,
                COPPER if value.drawn else TEAL,
            )
        )
        group = heading
    return cards


def proof_cards(run: Run, style: Style) -> list[Card]:
    """A card a truth: whether it holds, and the largest miss."""
    cards = [_proof_card(proof, style) for proof in run.proofs]
    if any(proof.by_design for proof in run.proofs):
        note = f"{run.method.about} Its misses above are honest: no hand, however steady, draws closer with it."
        cards.append(Card(body=note, heading="By design"))
    return cards


def _proof_card(proof: Proof, style: Style) -> Card:
    miss = (
        style.tiny(proof.miss, proof.unit)
        if proof.holds or proof.miss < 0.001
        else style.quantity(proof.miss, proof.unit)
    )
    state = "holds" if proof.holds else "≈ by design" if proof.by_design else "fails"
    return Card("", "largest miss", miss, style.say(proof.says), state, accent=TEAL if proof.holds else COPPER)
