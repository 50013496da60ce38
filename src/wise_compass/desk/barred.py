"""The menu bar that comes by Alt, or stays; menus are made when they are first asked for, since start-up pays for each
class of the toolkit."""

from __future__ import annotations

from typing import TYPE_CHECKING, cast

from PySide6.QtCore import QEvent, Qt

from wise_compass.desk.commanding import Commanding
from wise_compass.job.person import change_person, person

if TYPE_CHECKING:
    from PySide6.QtGui import QKeyEvent

    from wise_compass.desk.places.column import Column
    from wise_compass.desk.session.session import Session


class Barred(Commanding):
    """A window whose menu bar comes by Alt, or stays."""

    column: Column

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._alt = False

    def _menu(self) -> None:
        from wise_compass.desk.menus import over_button

        if self._bar_there:
            self.menuBar().setFocus(Qt.FocusReason.MenuBarFocusReason)
            self.menuBar().setActiveAction(self.menuBar().actions()[0])
        else:
            over_button(self.column.menu, self.groups)

    @property
    def _bar_there(self) -> bool:
        bar = self.menuWidget()
        return bar is not None and bar.isVisible()

    def _settle_bar(self) -> None:
        """The menu bar is there where the person wants it always."""
        if person().bar == "always":
            self._show_bar(True)

    def _show_bar(self, shown: bool) -> None:
        if self.menuWidget() is None:
            if not shown:
                return
            from wise_compass.desk.menus import menus

            menus(self.menuBar(), self.groups)
        self.menuBar().setVisible(shown)

    def bar_always(self) -> None:
        """The menu bar stays, or comes by Alt alone from now on."""
        bar = "alt" if person().bar == "always" else "always"
        self.attempt(lambda: change_person(lambda now: now._replace(bar=bar)), "Not kept")
        self._show_bar(bar == "always")
        self.session.said.emit("The menu bar stays." if bar == "always" else "The menu bar comes by Alt.")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self._alt = event.key() == Qt.Key.Key_Alt and not event.isAutoRepeat()
        super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        """Alt alone shows the menu bar, or hides it."""
        if event.key() == Qt.Key.Key_Alt and self._alt:
            there = self._bar_there
            if person().bar != "always":
                self._show_bar(not there)
                if not there:
                    self.menuBar().setActiveAction(self.menuBar().actions()[0])
        self._alt = False
        super().keyReleaseEvent(event)

    def event(self, event: QEvent) -> bool:
        if event.type() == QEvent.Type.ShortcutOverride:
            self._alt = self._alt and cast("QKeyEvent", event).key() == Qt.Key.Key_Alt
        return super().event(event)
