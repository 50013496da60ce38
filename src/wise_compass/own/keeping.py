"""A draft that keeps what its instruments are told."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.views import Views
from wise_compass.own.running import APART


class Kept(Draft):
    """A draft that keeps the operations of its method, each with what it was told and what it left."""

    def __init__(self) -> None:
        super().__init__()
        self.kept: list[tuple[str, dict[str, Any], Any]] = []
        self._within = 0

    def _keep(self, name: str, told: dict[str, Any], made: Callable[[], Any]) -> Any:
        outer, self._within = self._within, self._within + 1
        try:
            found = made()
        finally:
            self._within -= 1
        if not outer:
            self.kept.append((name, {**told, "phase": self._phase + APART * bool(self._apart)}, found))
        return found

    def take_views(self, views: Views) -> None:
        """Keep where they stand, and what is folded and carried in them."""
        super().take_views(views)
        self.kept.append(("views", {"front": views.front.origin, "top": views.top.origin}, views))
        for name, arguments in IN_VIEWS.items():
            setattr(views, name, self._kept_of(name, arguments, getattr(views, name)))

    def _kept_of(self, name: str, arguments: Sequence[str], real: Callable[..., Any]) -> Callable[..., Any]:
        def call(*values: Any, **more: Any) -> Any:
            return self._keep(name, {**dict(zip(arguments, values)), **more}, lambda: real(*values, **more))

        return call


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
    "project": ("name", "over", "level", "lift", "kind"),
    "measure_off": ("start", "by", "name", "says", "kind"),
    "mirror": ("spot", "centre", "name", "kind"),
    "crown": ("arc", "line", "side", "name"),
    "strip": ("long", "short", "says", "why"),
    "lay_strip": ("strip", "centre", "long_axis", "turn", "name", "slide", "says", "kind"),
    "in_space": ("name", "xyz"),
    "piece": ("row", "start", "end", "role"),
    "divide_arc": ("arc", "start", "end", "parts", "names", "says", "why"),
    "between": ("a", "b", "share", "name", "kind"),
    "step_round": ("circle", "start", "chord", "names", "clockwise", "says", "why", "kind"),
    "step_along": ("line", "start", "space", "count", "names", "says", "why", "kind"),
    "divide": ("a", "b", "parts", "names", "says", "why", "how", "aslant"),
    "divide_turn": ("centre",),
    "also": ("name", "found", "kind"),
    "on": ("line", "length", "name", "kind"),
    "line_in": ("spots", "closed", "says", "role"),
    "curve": ("spots", "closed", "says", "role", "why", "whole", "first"),
    "arc_in": ("centre", "radius", "start", "end", "says", "clockwise"),
    "circle_in": ("centre", "radius", "says", "why"),
}
IN_VIEWS: dict[str, tuple[str, ...]] = {
    "reference_line": ("start", "left", "right"),
    "fold_off": ("parent", "through", "line", "says", "square", "side", "room", "why"),
    "carry": ("letter", "into", "says"),
    "transfer": ("letter", "into", "says"),
}
for _name, _arguments in OPERATIONS.items():
    setattr(Kept, _name, _kept(_name, _arguments))
