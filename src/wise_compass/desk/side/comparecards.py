"""The cards of the methods side by side, imported when the comparison is first looked at."""

from __future__ import annotations

from wise_compass.desk.parts.cards import Card
from wise_compass.desk.parts.theme import COPPER, TEAL
from wise_compass.drafting.kit import Kit
from wise_compass.drafting.lacks import lacks
from wise_compass.drafting.run import Run
from wise_compass.drafting.wording import Style
from wise_compass.study.compare import Comparison, advice, both_ways, compare


def compare_cards(run: Run, style: Style, scale: float) -> list[Card]:
    """A card a method, under a sentence that says which suits and why."""
    rows = compare(run.figure, run.conventions, scale, run.method if run.method.proves is not None else None)
    kit = run.conventions.drafter.kit
    cards = [Card(heading="Which suits", body=advice(rows, style, scale))]
    for k, row in enumerate(rows):
        cards.append(
            _compare_card(row, style, scale, "All methods" if k == 0 else "", row.method.id == run.method.id, kit)
        )
    return cards


def _compare_card(row: Comparison, style: Style, scale: float, heading: str, current: bool, kit: Kit) -> Card:
    title = row.method.title + (" (now)" if current else "")
    if row.refusal:
        return Card("", title, "does not serve", style.say(row.refusal), "", heading, accent=COPPER)
    miss = "exact" if row.exact else f"≈ {style.quantity(row.miss, row.miss_unit)}"
    opened = f"compass up to {style.length(row.opening * scale)}" if row.opening else "no compass"
    body = f"{row.steps} steps, {row.settings} settings; {opened}. {row.method.source}."
    note = f"an unsteady hand stays within {both_ways(row.scatter, style, scale)} at the worst point, {row.worst}"
    if row.stray:
        note += f"; joined up by hand the curve strays to {style.length(row.stray)}"
    for lack in lacks(row.drawn, kit, scale)[:2]:
        note += f". Your kit: step {lack.step}, {style.say(lack.says)}"
    return Card("", title, miss, body, note, heading, accent=TEAL if row.exact else COPPER)
