"""A draft that keeps what its instruments are told."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from wise_compass.drafting.draft import Draft


class Kept(Draft):
    """A draft that keeps the operations of its method, each with what it was told and what it left."""

    def __init__(self) -> None:
        super().__init__()
        self.kept: list[tuple[str, dict[str, Any], Any]] = []
        self._within = 0
        self._phases: list[str] = []

    def _keep(self, name: str, told: dict[str, Any], made: Callable[[], Any]) -> Any:
        outer, self._within = self._within, self._within + 1
        try:
            found = made()
        finally:
            self._within -= 1
        if not outer:
            self.kept.append((name, {**told, "phase": self._phase}, found))
        return found


def _kept(name: str, arguments: Sequence[str]) -> Callable[..., Any]:
    """An operation that is kept with its arguments by their names."""
    real = getattr(Draft, name)

    def call(self: Kept, *values: Any, **more: Any) -> Any:
        told = {**dict(zip(arguments, values)), **more}
        return self._keep(name, told, lambda: real(self, *values, **more))

    return call


OPERATIONS: dict[str, tuple[str, ...]] = {
    "start_at": ("name", "x", "y", "says", "kind"),
    "plot": ("name", "x", "y", "says", "kind"),
    "rule": ("a", "b", "says", "role", "why", "beyond"),
    "ray": ("start", "angle", "says", "role", "why", "length", "instrument"),
    "level_from": ("start", "says", "role", "length", "why"),
    "upright_from": ("start", "says", "role", "length", "why"),
    "square_to": ("line", "start", "says", "role", "length", "why"),
    "parallel_to": ("line", "start", "says", "role", "length", "why"),
    "lay_off": ("line", "start", "length", "name", "says", "why", "kind", "way"),
    "compass": ("centre", "radius", "says", "why", "whole", "role"),
    "meet": ("one", "two", "name", "where", "near", "far", "kind"),
    "between": ("a", "b", "share", "name", "kind"),
    "step_round": ("circle", "start", "chord", "names", "clockwise", "says", "why", "kind"),
    "step_along": ("line", "start", "space", "count", "names", "says", "why", "kind"),
    "divide": ("a", "b", "parts", "names", "says", "why", "how", "aslant"),
    "divide_turn": ("centre",),
    "also": ("name", "found", "kind"),
    "on": ("line", "length", "name", "kind"),
    "line_in": ("spots", "closed", "says", "role"),
    "curve": ("spots", "closed", "says", "role"),
    "arc_in": ("centre", "radius", "start", "end"),
    "circle_in": ("centre", "radius", "says", "why"),
}
for _name, _arguments in OPERATIONS.items():
    setattr(Kept, _name, _kept(_name, _arguments))
