"""How a polygon lies before the VP, as the turn of its first corner."""

from __future__ import annotations

from wise_compass.words.filled import Filled
from wise_compass.words.roles import span_of
from wise_compass.words.statement import Statement

SIDES = frozenset(("side", "face", "edge"))


def turn_faces(statement: Statement, found: Filled) -> None:
    """The turn that words tell: a side parallel or square to the VP, or at an angle to it; which side that is, or which
    way round, no word says, and that is put in doubt."""
    sides = found.givens.get("sides")
    if not sides:
        return
    step = 360.0 / sides
    for told in found.words.faces:
        phrase = statement.first(told.phrases)
        if not phrase or told.name in found.givens or told.value == "corner" and sides != 4:
            continue
        turn = {"side-parallel": 270 - step / 2, "side-square": -step / 2, "corner": 0.0}[told.value] % step
        found.put(told.name, turn, span_of(statement, phrase), " ".join(phrase), " ".join(phrase))
        if sides % 2:
            found.doubts[told.name] = "the nearer side is taken; say which"
    if found.words.faces and found.words.faces[0].name not in found.givens:
        _by_angle(statement, found, found.words.faces[0].name, step)


def _by_angle(statement: Statement, found: Filled, name: str, step: float) -> None:
    """A side *at 30° to the VP*."""
    for one in statement.quantities:
        at = one.position
        before = {*statement.words(max(at - 5, 0), at)}
        behind = [word for word in statement.words(at + 1, at + 3) if word != "to"]
        if one.kind == "angle" and id(one) not in found.taken and before & SIDES and behind[:1] == ["VP"]:
            found.taken.add(id(one))
            working = f"its side at {one.value:g}° to the VP"
            found.put(name, (270 - step / 2 + one.value) % step, (one.start, one.end), "side", working)
            found.doubts[name] = "which way it is turned is not told"
            return
