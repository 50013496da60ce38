"""A profile drawn up in words: a sentence a row with lists in it, below the board, which offers what a row could be."""

from __future__ import annotations

import re
from collections.abc import Sequence

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from wise_compass.desk.parts.labels import Words
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import px
from wise_compass.desk.sentence.offering import Offering
from wise_compass.desk.session.session import Session
from wise_compass.drafting.named_rows import FORMS, REFS
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.row_edits import Row, cell, choices, further, pasted, read, renamed, slots, typed, with_cell
from wise_compass.figures.catalogue import figure_named

ROW = re.compile(r"\bRow (\d+) of rows")
"""Which row a refusal is about."""
KINDS = {
    "circle": "A circle",
    "point": "A point",
    "line": "A line",
    "on": "A point on one",
    "tangent": "A tangent",
    "arc": "An arc",
    "cross": "A corner",
    "touch": "An arc that touches three",
    "mirror": "A mirrored half",
}
TALL = 236
"""Pixels of the strip, at the usual size of text: the board keeps the rest."""


class DrawnUp(QFrame):
    """The rows of the selected profile as sentences, and the path through them; what is typed is on the board at once,
    and what is refused is said below with the row and what would do. Where the cursor stands in a row, the board shows
    what that row could be: a click chooses among the arcs that would serve, or names the circle or line that is meant.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session, self.of = session, session.entry_id
        self.setObjectName("drawnup")
        self.setAccessibleName("Profile: rows and path")
        self.setFixedHeight(px(TALL))
        self.current, self.what = 0, ""
        self.rows: list[Row] = []
        self.path: list[str] = []
        self.lines = QVBoxLayout()
        self.lines.setSpacing(0)
        held = QWidget()
        held.setObjectName("drawnup")
        around = QVBoxLayout(held)
        around.setContentsMargins(4, 4, 4, 4)
        around.addLayout(self.lines)
        around.addStretch(1)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setWidget(held)
        self.way = QLineEdit()
        self.way.setObjectName("small")
        self.way.setAccessibleName("The names in the order of the path")
        self.way.editingFinished.connect(self._set_path)
        self.says = Words("What is refused, and what is left out")
        self.says.setObjectName("hint")
        inside = QVBoxLayout(self)
        inside.setContentsMargins(12, 6, 12, 8)
        inside.setSpacing(5)
        inside.addLayout(self._head())
        inside.addWidget(self.area, 1)
        foot = QHBoxLayout()
        foot.setSpacing(8)
        foot.addWidget(QLabel("The path runs"))
        foot.addWidget(self.way, 2)
        foot.addWidget(self.says, 3)
        inside.addLayout(foot)
        self._sending = False
        session.selected.connect(self._leave_another)
        session.drawn.connect(self._follow)

    def draw_up(self) -> None:
        """Take the rows of the selected profile as they stand, and show them."""
        self.of = self.session.entry_id
        self.rows, self.path = self._told()
        self.current, self.what = 0, ""
        self.show()
        self.fill()

    def _leave_another(self) -> None:
        if self.session.entry_id != self.of:
            self.hide()

    def _follow(self) -> None:
        """Rows that were changed elsewhere, by an undo or in the brief, stand here too; what says the same otherwise
        stays as it was typed."""
        if self._sending or not self.isVisible() or self.session.entry_id != self.of:
            return
        rows, path = self._told()
        if path != self.path or self._read(rows) != self._read(self.rows):
            self.rows, self.path = rows, path
            self.fill()

    def _read(self, rows: list[Row]) -> object:
        """Rows as the given reads them; as they are typed where it does not."""
        entry = self.session.entry
        assert entry is not None
        try:
            return figure_named(entry.figure).givens["rows"].read(typed(rows), self.session.style)
        except Refused:
            return typed(rows)

    def _told(self) -> tuple[list[Row], list[str]]:
        """What is typed, refused or not, or else what the job holds."""
        entry, style = self.session.entry, self.session.style
        assert entry is not None
        kind = figure_named(entry.figure)
        words = {}
        for name in ("rows", "path"):
            given = kind.givens[name]
            words[name] = entry.typed.get(name) or given.text(
                given.read(entry.givens.get(name, given.stored(given.default))), style
            )
        path = [name.strip() for name in words["path"].replace(";", ",").split(",") if name.strip()]
        return [row for row in read(words["rows"]) if row[0] in FORMS], path

    def _head(self) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(6)
        self.more = Pick()
        self.more.setObjectName("small")
        self.more.setAccessibleName("Add a row")
        self.more.addItem("Add …", "")
        for kind, words in KINDS.items():
            self.more.addItem(words, kind)
        self.more.activated.connect(lambda _: self._add())
        line.addWidget(self.more, 1)
        for words, do in (
            ("Remove", self.remove),
            ("Up", lambda: self.move_row(-1)),
            ("Down", lambda: self.move_row(1)),
            ("Copy rows", self.copy),
            ("Paste rows", self.paste),
            ("Close", self.hide),
        ):
            button = QPushButton(words)
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            button.clicked.connect(lambda _=False, do=do: do())
            line.addWidget(button)
        return line

    # the sentences

    def fill(self) -> None:
        """Every row anew as a sentence."""
        while self.lines.count():
            item = self.lines.takeAt(0)
            gone = item.widget() if item is not None else None
            if gone is not None:
                gone.hide()
                gone.deleteLater()
        for k in range(len(self.rows)):
            self.lines.addWidget(self._sentence(k))
        self.way.setText(", ".join(self.path))
        self.current = min(max(self.current, 0), len(self.rows) - 1)
        self._say()
        self._focus()
        self._ask()

    def _focus(self) -> None:
        """The cursor back into the slot that it was in, or that comes next."""
        for slot in self.findChildren(QWidget):
            if slot.isEnabled() and slot.property("slot") == [self.current, self.what] and not slot.isHidden():
                slot.setFocus()

    def _held(self, slot: QWidget, k: int, what: str) -> None:
        slot.setProperty("slot", [k, what])
        slot.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusIn:
            slot = watched.property("slot")
            if slot is not None and slot != [self.current, self.what]:
                self.current, self.what = slot
                self._ask()
        return False

    def _ask(self) -> None:
        """Have the board offer what the row could be that has the cursor."""
        self.session.ask(self._offering() if self.isVisible() and self.rows else None)

    def _offering(self) -> Offering | None:
        entry, k = self.session.entry, self.current
        if entry is None or self.session.entry_id != self.of:
            return None
        given = figure_named(entry.figure).givens["rows"]
        upto = k if self.what in REFS else k + 1
        try:
            rows = given.read(typed(self.rows[:upto]), self.session.style)
        except Refused:
            return None
        return Offering(rows, k, self.what, self.chosen)

    def chosen(self, words: dict[str, str]) -> None:
        """Take what was clicked on the board; the cursor goes on to the next name that the row needs."""
        for what, word in words.items():
            self.rows[self.current] = with_cell(self.rows[self.current], what, word)
        names = [what for what in FORMS[self.rows[self.current][0]][0] if what in REFS]
        if self.what in names:
            follows = names[names.index(self.what) + 1 :]
            self.what = follows[0] if follows else "side"
        self.send()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._ask()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.session.ask(None)

    def _sentence(self, k: int) -> QFrame:
        frame = QFrame()
        frame.setObjectName("rowline")
        line = QHBoxLayout(frame)
        line.setContentsMargins(8, 1, 8, 1)
        line.setSpacing(5)
        number = QLabel(str(k + 1))
        number.setObjectName("hint")
        number.setFixedWidth(22)
        line.addWidget(number)
        for word, what in slots(self.rows[k]):
            if not what:
                line.addWidget(QLabel(word))
            elif options := choices(self.rows, k, what):
                line.addWidget(self._list(k, what, options))
            else:
                line.addWidget(self._text(k, what))
        line.addStretch(1)
        return frame

    def _list(self, k: int, what: str, options: Sequence[str]) -> Pick:
        pick = Pick()
        pick.setObjectName("small")
        pick.setAccessibleName(f"{self.rows[k][1]}: {what}")
        words = cell(self.rows[k], what)
        for option in dict.fromkeys((*options, words)):
            pick.addItem(option or "—", option)
        pick.setCurrentIndex(pick.findData(words))
        pick.setMinimumWidth(pick.fontMetrics().horizontalAdvance(max(options, key=len) or "—") + 30)
        pick.activated.connect(lambda _: self.put(k, what, str(pick.currentData())))
        self._held(pick, k, what)
        return pick

    def _text(self, k: int, what: str) -> QLineEdit:
        text = QLineEdit(cell(self.rows[k], what))
        text.setObjectName("small")
        text.setAccessibleName(f"{self.rows[k][1]}: {what}")
        text.setFixedWidth(max(text.fontMetrics().horizontalAdvance(text.text()) + 18, 34 if what == "name" else 52))
        text.editingFinished.connect(lambda: self.put(k, what, text.text().strip()))
        self._held(text, k, what)
        return text

    # what is typed, and the job

    def put(self, k: int, what: str, words: str) -> None:
        """Fill a slot of a row; another name is taken wherever the row is named."""
        if k >= len(self.rows) or words == cell(self.rows[k], what):
            return
        self.current = k
        if what == "name":
            self.rows, self.path = renamed(self.rows, self.path, self.rows[k][1], words)
        else:
            self.rows[k] = with_cell(self.rows[k], what, words)
        self.send()

    def send(self) -> None:
        """Take rows and path into the job together, and show them as they stand; once another figure is at hand it
        closes, since its rows are not that one's."""
        if self.session.entry_id != self.of:
            self.hide()
            return
        self._sending = True
        try:
            self.session.set_givens({"rows": typed(self.rows), "path": ", ".join(self.path)})
        finally:
            self._sending = False
        self.fill()

    def _set_path(self) -> None:
        names = [name.strip() for name in self.way.text().replace(";", ",").split(",") if name.strip()]
        if names != self.path:
            self.path = names
            self.send()

    def _say(self) -> None:
        refusal = self.session.refusal
        unused = [row[1] for row in self.rows if row[1] not in self.path and row[0] not in ("circle", "point", "line")]
        aside = f" Not in the path: {', '.join(unused)}." if unused else ""
        said = f"! {refusal.words(self.session.style)}" if refusal else f"{len(self.rows)} rows.{aside}"
        self.says.setText(said)
        self.says.setProperty("refused", "true" if refusal else "false")
        self.says.style().polish(self.says)
        at = ROW.search(said) if refusal else None
        for k in range(self.lines.count()):
            item = self.lines.itemAt(k)
            frame = item.widget() if item is not None else None
            number = frame.findChild(QLabel, "hint") if frame is not None else None
            if number is not None:
                number.setProperty("refused", "true" if at is not None and int(at[1]) == k + 1 else "false")
                number.style().polish(number)

    # what the buttons do

    def _add(self) -> None:
        kind = str(self.more.currentData())
        self.more.setCurrentIndex(0)
        if kind:
            self.add(kind)

    def add(self, kind: str) -> None:
        """A row more at the end, to be put right."""
        self.rows.append(row := further(self.rows, kind))
        if kind == "mirror":
            self.path.append(row[1])
        self.current, self.what = len(self.rows) - 1, next((one for one in FORMS[kind][0] if one in REFS), "name")
        self.send()

    def at_hand(self) -> int:
        """The row whose slot has the cursor, or had it last."""
        focused = self.focusWidget()
        for k in range(self.lines.count()):
            item = self.lines.itemAt(k)
            frame = item.widget() if item is not None else None
            if frame is not None and focused is not None and frame.isAncestorOf(focused):
                return k
        return self.current

    def remove(self) -> None:
        at = self.at_hand()
        if len(self.rows) > 1:
            gone = self.rows.pop(at)
            self.path = [name for name in self.path if name != gone[1]]
            self.send()

    def move_row(self, by: int) -> None:
        at = self.at_hand()
        if 0 <= at + by < len(self.rows):
            self.rows.insert(at + by, self.rows.pop(at))
            self.current = at + by
            self.send()

    def copy(self) -> None:
        """The rows on the clipboard, a line each, as a table takes them."""
        QApplication.clipboard().setText("\n".join("\t".join(row) for row in self.rows))

    def paste(self) -> None:
        """Rows from a table or from another profile in place of all that stand."""
        try:
            self.rows = pasted(QApplication.clipboard().text())
        except Refused as problem:
            self.says.setText(f"! {problem}")
            return
        self.send()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.hide()
        elif event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            super().keyPressEvent(event)
