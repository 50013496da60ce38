"""What a statement makes of one figure: its givens and choices, each with what told it and whether that is sure."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from wise_compass.words.lexicon import FigureWords

Span = tuple[int, int]
ELIMINATED = "no word tells it, it is what remains"
WEAK = "a weak word only"
ROUND = "it may be its diameter"


@dataclass
class Filled:
    """Givens by name, in mm and degrees as a figure takes them; ``spans`` are where in the text each was told, ``why``
    which words did, ``workings`` how it was worked out; ``doubts`` say why one is not sure, ``conflicts`` have the
    values of one that was told twice. ``taken`` are the quantities that were used, by identity."""

    words: FigureWords
    givens: dict[str, Any] = field(default_factory=dict)
    choices: dict[str, str] = field(default_factory=dict)
    method: str = ""
    doubts: dict[str, str] = field(default_factory=dict)
    conflicts: dict[str, list[Any]] = field(default_factory=dict)
    spans: dict[str, Span] = field(default_factory=dict)
    why: dict[str, str] = field(default_factory=dict)
    workings: dict[str, str] = field(default_factory=dict)
    pending: dict[str, tuple[str, float]] = field(default_factory=dict)
    """Givens that are told, but by something that waits for others: how each is worked out, and of which quantity q."""
    weights: dict[str, float] = field(default_factory=dict)
    """How well words tell each given that a quantity does; 0 where only light ones do."""
    defaults: dict[str, Any] = field(default_factory=dict)
    """Givens that are meant where they are not told: none, or nothing off the axis."""
    missing: list[str] = field(default_factory=list)
    unused: list[str] = field(default_factory=list)
    taken: set[int] = field(default_factory=set)
    needs: list[str] = field(default_factory=list)
    named: float = 0.0
    """What its names and the words against it count for."""
    strongest: float = 0.0
    has_must: bool = True
    score: float = 0.0

    @property
    def id(self) -> str:
        return self.words.id

    def told(self, name: str) -> bool:
        """Whether a given or a choice has been told, be it in conflict."""
        return name in self.givens or name in self.choices or name in self.conflicts

    def put(self, name: str, value: Any, span: Span | None = None, why: str = "", working: str = "") -> None:
        """Take a given's value, and what told it."""
        self.givens[name] = value
        if span is not None:
            self.spans[name] = span
        if why:
            self.why[name] = why
        if working:
            self.workings[name] = working

    def clash(self, name: str, value: Any) -> None:
        """A second value for what has one: neither is taken."""
        self.conflicts[name] = [self.givens.pop(name), value]
