"""Many hands at the selected figure, drawn beside the window, and whether their scatter is shown."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from wise_compass.desk.parts.work import Later
from wise_compass.desk.session.walking import Walking
from wise_compass.drafting.run import Run

if TYPE_CHECKING:
    from wise_compass.study.edges import Hands


class Scattering(Walking):
    """The session with many hands at the selected run."""

    scatter = False
    _hands: Hands | None = None
    _asked: tuple[Run, float] | None = None

    @cached_property
    def _drawing(self) -> Later:
        return Later(self)

    @property
    def scatters(self) -> bool:
        """Whether the selected figure has an auxiliary view, whose spots scatter."""
        made = self.run
        return made is not None and made.views is not None and bool(made.views.auxiliary)

    @property
    def hands(self) -> Hands | None:
        """Many hands at the selected run, drawn once; None until they are, and where nothing scatters."""
        made, scale = self.run, self.scale
        if made is None or not self.scatters:
            return None
        if self._asked != (made, scale):
            self._hands, self._asked = None, (made, scale)
            self._drawing.ask(lambda: _drawn(made, scale), self._take)
        return self._hands

    def settled_hands(self) -> Hands | None:
        """The same for who cannot go on without them."""
        if self.hands is None:
            self._drawing.settle()
        return self._hands

    def _take(self, hands: Hands) -> None:
        self._hands = hands
        self.lit.emit()


def _drawn(made: Run, scale: float) -> Hands:
    """Many hands, and what they come to, which takes a while."""
    from wise_compass.study.edges import Hands, ellipses

    hands = Hands(made, scale)
    ellipses(hands)
    return hands
