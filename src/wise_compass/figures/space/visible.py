"""What is seen and what is hidden of an edge in a view: its pieces between the spots where it goes out of sight."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from wise_compass.drafting.draft import Draft
from wise_compass.drafting.marks import LineMark, Role, Spot
from wise_compass.drafting.views import View, Views
from wise_compass.figures.space.given_points import GivenPoints, is_point
from wise_compass.geometry.hidden import Span, crossings_with
from wise_compass.geometry.vectors import Array, along, distance

AXES = {"front": (0, 2), "top": (0, 1)}
"""The coordinates that a view shows, x first."""
SIGHT = {"front": np.array([0.0, 1.0, 0.0]), "top": np.array([0.0, 0.0, 1.0])}
"""Towards the eye in each view: from the front, and from above."""


class SeenEdges(NamedTuple):
    """A view while edges are lined in: ``line`` draws or gives an edge there, ``named`` are found points of space by
    name."""

    g: GivenPoints
    d: Draft
    views: Views
    view: View
    line: Callable[[str], LineMark]
    named: Mapping[str, Array]

    def ends(self, edge: str) -> tuple[Spot, Spot]:
        return self.views.spot(edge[0], self.view), self.views.spot(edge[1], self.view)

    def pieces(self, edge: str, hidden: Sequence[Span], others: Iterable[str]) -> tuple[list[tuple[Spot, Spot]], ...]:
        """What is seen of an edge and what is hidden, each from spot to spot; ``others`` are the edges that may cross
        it."""
        parts: tuple[list[tuple[Spot, Spot]], ...] = ([], [])
        if is_point(*self.ends(edge), self.g.same):
            return parts
        places = [0.0, *(place for piece in hidden for place in piece), 1.0]
        spots = [self._at(edge, share, others) for share in places]
        for k, pair in enumerate(zip(spots[:-1], spots[1:])):
            if pair[0] is not pair[1]:
                parts[k % 2].append(pair)
        return parts

    def _at(self, edge: str, share: float, others: Iterable[str]) -> Spot:
        """A place of an edge where it goes out of sight: an end, a named point, or where another edge crosses it in
        this view."""
        g, (p, q) = self.g, (self.g.place(letter) for letter in edge)
        room = 4 * g.same / max(float(distance(p, q)), g.same)
        if share <= room or share >= 1 - room:
            return self.ends(edge)[0 if share <= room else 1]
        at = along(p, q - p, share)
        for name, place in self.named.items():
            if float(distance(at, place)) <= 8 * g.same:
                return self.views.spot(name, self.view)
        k = list(AXES[self.view.id])

        def miss(other: str) -> float:
            ends = np.array([g.place(letter)[k] for letter in other])
            return min((abs(s - share) for s in crossings_with(p[k], q[k], ends, g.same)), default=2.0)

        crossing = min((one for one in others if not is_point(*self.ends(one), g.same)), key=miss)
        return self.d.meet(self.line(edge), self.line(crossing))

    def line_in(
        self, seen: Iterable[tuple[Spot, Spot]], behind: Sequence[tuple[Spot, Spot]], says: str, hides: str
    ) -> None:
        """What is seen as outline, what is not as hidden, in a step each."""
        with self.d.as_one("Straightedge", says):
            for pair in seen:
                self.d.line_in(pair)
        if behind:
            with self.d.as_one("Straightedge", hides):
                for pair in behind:
                    self.d.line_in(pair, role=Role.HIDDEN)
