"""Where the selected figure stands on its sheet: in its own place, or on a point of another figure there, and
turned."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from wise_compass.desk.parts.theme import px, show_refused
from wise_compass.desk.sentence.slots import ListSlot
from wise_compass.desk.session.session import Session
from wise_compass.drafting.givens import Angle
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import trim
from wise_compass.job.model import Entry
from wise_compass.job.standing import may_stand_on

TURNED = Angle(0, "how far it is turned", least=-360, most=360)


class StandsOn(QWidget):
    """A list of the points that the selected figure may stand on, and how far it is turned."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.list = ListSlot("on", "Where it stands on the sheet", [("", "in its own place")], "", True)
        self.turned = QLineEdit()
        self.turned.setObjectName("small")
        self.turned.setFixedWidth(px(52))
        self.turned.setAccessibleName("How far it is turned, in degrees")
        self.turned.setToolTip("How far it is turned, in degrees anticlockwise")
        inside = QHBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(self.list)
        inside.addWidget(self.turned)
        self._offered: list[tuple[str, str]] = []
        self.list.activated.connect(lambda _: session.set_wish("Stand on a point", on=self.list.currentData()))
        self.turned.editingFinished.connect(self._turn)

    def _turn(self) -> None:
        entry = self.session.entry
        if entry is None or not self.turned.isModified():
            return
        try:
            value = TURNED.read(self.turned.text() or "0")
            self.session.set_wish("Turn it on its place", turned=value)
        except Refused as refusal:
            show_refused(self.turned, True)
            self.session.said.emit(self.session.style.say(refusal.template))

    def refresh(self) -> None:
        """Bring the list up to the sheet; it is there where the sheet has other figures."""
        entry = self.session.entry
        offered = [("", "in its own place"), *self._points(entry)] if entry is not None else []
        self.setVisible(len(offered) > 1 or (entry is not None and bool(entry.on or entry.turned)))
        if entry is None:
            return
        if offered != self._offered:
            self._offered = offered
            self.list.blockSignals(True)
            self.list.clear()
            for id, words in offered:
                self.list.addItem(words, id)
            self.list.blockSignals(False)
        self.list.show_value(entry.on)
        self.turned.setVisible(bool(entry.on or entry.turned))
        if not self.turned.hasFocus() or not self.turned.isModified():
            self.turned.setText(f"{trim(entry.turned)}°")
            show_refused(self.turned, False)

    def _points(self, entry: Entry) -> list[tuple[str, str]]:
        """The points of the other figures of its sheet, but for those that stand on it."""
        at = self.session.job.find(entry.id)
        found: list[tuple[str, str]] = []
        for other in self.session.job.sheets[at[0]].entries if at else ():
            made = self.session.standing(other)
            if made is None or not may_stand_on(self.session.job, entry.id, other.id):
                continue
            for key, spot in made.spots.items():
                if spot.name and spot.kind not in ("plain", "label"):
                    found.append((f"{other.id}.{key}", f"on {other.title}.{self.session.style.lettered(spot.name)}"))
        return found
