"""The problems that a person has in hand, kept from one day to the next: what was typed and revealed of each, how
long was drawn, and the mark."""

from __future__ import annotations

import fcntl
import json
from collections.abc import Collection, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from wise_compass.drafting.refusals import Refused
from wise_compass.logbook.store import ID
from wise_compass.outputs.files import own_folder, write_whole
from wise_compass.practice.problems import Problem, problem_of

MOST, MOST_BYTES, LONGEST = 60, 2_000_000, 2000
"""Problems that are kept, the newest first; bytes of their file; letters of what is kept of a field."""


@dataclass
class InHand:
    """A problem being worked on: what was typed of each measure, steps revealed, seconds drawn, and what came of it."""

    problem: Problem
    noted: str
    revealed: int = 0
    spent: float = 0.0
    typed: dict[str, str] = field(default_factory=dict)
    ticked: set[int] = field(default_factory=set)
    mark: str = ""
    why: str = ""
    running: bool = False
    pupil: str = ""
    """Whose drawing it is, where it is one of a class: it is not kept."""

    @property
    def state(self) -> str:
        """How it stands, in a few words."""
        return self.mark or ("at work" if self.typed or self.revealed or self.spent > 60 else "set")


def in_hand_file() -> Path:
    """Where they are kept (XDG state directory)."""
    return own_folder("XDG_STATE_HOME", ".local", "state") / "practice.json"


def read_in_hand(file: Path) -> list[InHand]:
    """What was in hand; what cannot be read of it is passed over."""
    try:
        if not file.is_file() or file.stat().st_size > MOST_BYTES:
            return []
        rows = json.loads(file.read_text("utf-8"))
    except (OSError, ValueError, RecursionError):
        return []
    found = [_read(row) for row in rows[:MOST] if isinstance(row, dict)] if isinstance(rows, list) else []
    return [one for one in found if one is not None]


def _read(row: Mapping[str, Any]) -> InHand | None:
    code, noted = row.get("problem"), row.get("noted")
    if not isinstance(code, str) or not isinstance(noted, str) or len(code) > 4 * LONGEST or not ID.fullmatch(noted):
        return None
    try:
        problem = problem_of(code)
    except Refused:
        return None
    revealed, spent, typed = row.get("revealed"), row.get("spent"), row.get("typed")
    made = InHand(problem, noted)
    made.revealed = revealed if type(revealed) is int and 0 <= revealed < 10_000 else 0
    made.spent = float(spent) if isinstance(spent, (int, float)) and 0 <= spent < 1e7 else 0.0
    if isinstance(typed, dict):
        made.typed = {name: text[:LONGEST] for name, text in typed.items() if isinstance(text, str)}
    ticked = row.get("ticked")
    made.ticked = {n for n in ticked if type(n) is int} if isinstance(ticked, list) else set()
    made.mark, made.why = (told[:LONGEST] if isinstance(told := row.get(name), str) else "" for name in ("mark", "why"))
    return made


def keep_in_hand(file: Path, problems: Sequence[InHand], known: Collection[str] = ()) -> None:
    """Keep them. ``known`` are the ids of all that this window has ever had in hand: what another window has kept
    beside them stays. A folder that cannot be written is no reason to stop the work."""
    with suppress(OSError, Refused):
        file.parent.mkdir(parents=True, exist_ok=True)
        with open(file.with_suffix(".lock"), "w", encoding="ascii") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            mine = [one for one in problems if not one.pupil]
            others = [one for one in read_in_hand(file) if one.noted not in {*known, *(own.noted for own in mine)}]
            rows = [_row(one) for one in [*mine, *others][:MOST]]
            write_whole(file, json.dumps(rows, ensure_ascii=False, indent=1) + "\n")


def _row(one: InHand) -> dict[str, Any]:
    return {
        "problem": one.problem.code,
        "noted": one.noted,
        "revealed": one.revealed,
        "spent": round(one.spent, 1),
        "typed": one.typed,
        "ticked": sorted(one.ticked),
        "mark": one.mark,
        "why": one.why,
    }
