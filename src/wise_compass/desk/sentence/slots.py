"""The slots of the brief: text, rows and choices, and the sentence that flows round them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from PySide6.QtCore import QEvent, QPoint, QRect, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QFocusEvent, QFontMetrics, QHideEvent, QKeyEvent
from PySide6.QtWidgets import QComboBox, QLabel, QLayout, QLayoutItem, QLineEdit, QPushButton

from wise_compass.desk.parts.keys import PRESS, keep
from wise_compass.desk.parts.picks import Pick
from wise_compass.desk.parts.theme import font, px, show_refused
from wise_compass.desk.session.session import Session
from wise_compass.drafting.givens import Count, Given, Measure
from wise_compass.drafting.named_rows import NamedRows
from wise_compass.drafting.places import Lengths, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import INCH, PLAIN, Style, many


class FlowLayout(QLayout):
    """Words and slots in lines, as a sentence breaks."""

    def __init__(self, spacing: int = 6, line: int = 5) -> None:
        super().__init__()
        self.items: list[QLayoutItem] = []
        self.gap, self.line = spacing, line
        self._heights: dict[int, int] = {}

    def addItem(self, item: QLayoutItem) -> None:
        self.items.append(item)

    def count(self) -> int:
        return len(self.items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self.items[index] if 0 <= index < len(self.items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self.items.pop(index) if 0 <= index < len(self.items) else None

    def hasHeightForWidth(self) -> bool:
        return True

    def invalidate(self) -> None:
        self._heights.clear()
        super().invalidate()

    def heightForWidth(self, width: int) -> int:
        if width not in self._heights:
            self._heights[width] = self._arrange(QRect(0, 0, width, 0), place=False)
        return self._heights[width]

    def setGeometry(self, box: QRect) -> None:
        super().setGeometry(box)
        self._arrange(box, place=True)

    def sizeHint(self) -> QSize:
        return QSize(400, self.heightForWidth(max(self.geometry().width(), 400)))

    def minimumSize(self) -> QSize:
        return QSize(200, 34)

    def _arrange(self, box: QRect, place: bool) -> int:
        x, y, height = box.left(), box.top(), 0
        for item in self.items:
            size = item.sizeHint()
            if x > box.left() and x + size.width() > box.right():
                x, y, height = box.left(), y + height + self.line, 0
            # a comma or a full stop stays with the slot before it
            if x > box.left() and isinstance(word := item.widget(), Word) and word.tight:
                x -= self.gap - 1
            if place:
                item.setGeometry(QRect(QPoint(x, y), size))
            x += size.width() + self.gap
            height = max(height, size.height())
        return y + height - box.top()


class Word(QLabel):
    """A word of the sentence; ``tight`` is one that stands close to the slot before it."""

    def __init__(self, word: str) -> None:
        super().__init__(word)
        self.tight = word[0] in ",.;:-"
        self.setObjectName("word")
        self.setFixedHeight(px(32))
        self.setFont(font(18))


class TextSlot(QLineEdit):
    """A slot for a number or a point: follows typing live, and is nudged with Up and Down."""

    typed = Signal(str, str)
    entered = Signal(str)

    def __init__(self, given: Given[Any], words: str) -> None:
        super().__init__(words)
        self.given = given
        self.reading = PLAIN
        self.setObjectName("slot")
        self.setFont(font(18, True))
        self.setFixedHeight(px(32))
        self.setAccessibleName(given.says)
        self.setAccessibleDescription(bounds_words(given))
        self.setToolTip(f"{given.says} ({given.name})")
        self.textEdited.connect(self._edited)
        self._held = QTimer(self)
        """Runs out once all that a held key has sent is taken: a figure that takes longer than the key repeats is drawn
        with the last of it, and not once for each."""
        self._held.setSingleShot(True)
        self._held.timeout.connect(self._tell)
        self._fit()

    def _fit(self) -> None:
        width = max(self.fontMetrics().horizontalAdvance(self.text() or "0") + 26, 40)
        if width != self.width():
            self.setFixedWidth(width)

    def _edited(self, words: str) -> None:
        self._fit()
        self._tell()

    def _tell(self) -> None:
        """Tell what is typed."""
        self._held.stop()
        self.typed.emit(self.given.name, self.text())

    def show_text(self, words: str) -> None:
        """Take words from elsewhere, such as undo; not over what is about to be told."""
        if words != self.text() and not self._held.isActive():
            self.setText(words)
            self._fit()

    def set_refused(self, refused: bool) -> None:
        show_refused(self, refused)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        up = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()), 0)
        if not up or isinstance(self.given, Lengths):
            super().keyPressEvent(event)
            return
        mods = event.modifiers()
        factor = (
            10.0
            if mods & Qt.KeyboardModifier.ShiftModifier
            else (0.1 if mods & Qt.KeyboardModifier.AltModifier else 1.0)
        )
        if self._nudge(up, factor):
            if event.isAutoRepeat():
                self._held.start(0)
            else:
                self._tell()

    def _nudge(self, up: int, factor: float) -> bool:
        """Type the value that is so many steps on; False where what is typed is none."""
        given, style = self.given, self.reading
        try:
            value = float(given.read(self.text(), style))
        except Refused:
            return False
        if isinstance(given, Count):
            new: float = int(value) + up * given.multiple * (2 if factor > 1 else 1)
            words = given.text(min(max(int(new), given.least), given.most))
        elif given.kind == "length" and (style.units == "in" or "in" in self.text() or '"' in self.text()):
            inches = style._replace(units="in")
            words = given.text(value + up * factor * INCH / 16, inches)
        elif isinstance(given, Measure):
            words = given.text(round(value + up * given.step * factor, 9), style._replace(units="mm"))
        else:
            return False
        self.setText(words)
        self._fit()
        return True

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.entered.emit(self.given.name)
        if event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason):
            self.selectAll()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """What a held key has sent is told before another figure is chosen."""
        super().focusOutEvent(event)
        if self._held.isActive():
            self._tell()

    def hideEvent(self, event: QHideEvent) -> None:
        """A slot that has gone tells nothing: its figure is no more the chosen one."""
        self._held.stop()
        super().hideEvent(event)


class RowsSlot(QPushButton):
    """A slot that is a list: tells how many rows it has, and opens their table, or asks for a profile to be drawn
    up."""

    drawn_up = Signal()

    def __init__(self, given: Rows, session: Session) -> None:
        super().__init__()
        self.given, self.session = given, session
        self.setObjectName("slot")
        self.setFont(font(18, True))
        self.setFixedHeight(px(32))
        self.setAccessibleName(f"{given.says}: open their table")
        self.setToolTip(f"{given.says} ({given.name}); opens their table")
        keep(self, PRESS)
        self.clicked.connect(self.open_table)

    def show_rows(self, rows: Sequence[object]) -> None:
        words = f"{many(len(rows), 'row')} …"
        if words != self.text():
            self.setText(words)
            self.setFixedWidth(self.fontMetrics().horizontalAdvance(words) + 20)

    def open_table(self) -> None:
        if isinstance(self.given, NamedRows):
            self.drawn_up.emit()
            return
        from wise_compass.desk.sentence.rows import RowsEditor

        RowsEditor(self.window(), self.session, self.given.name).show()

    def set_refused(self, refused: bool) -> None:
        show_refused(self, refused)


class ListSlot(Pick):
    """A slot that is a choice."""

    def __init__(self, name: str, says: str, options: list[tuple[str, str]], current: str, small: bool = False) -> None:
        super().__init__()
        self.name = name
        self.setObjectName("small" if small else "slot")
        if not small:
            self.setFont(font(18, True))
            self.setFixedHeight(px(32))
        self.setAccessibleName(says)
        self.setToolTip(says)
        keep(self, PRESS)
        for id, words in options:
            self.addItem(words, id)
        self.show_value(current)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.currentIndexChanged.connect(lambda _: self.updateGeometry())

    def show_value(self, id: str) -> None:
        if self.currentData() == id:
            return
        self.blockSignals(True)
        self.setCurrentIndex(max(self.findData(id), 0))
        self.blockSignals(False)
        self.updateGeometry()

    def sizeHint(self) -> QSize:
        hint = super().sizeHint()
        metrics = QFontMetrics(self.font())
        return QSize(
            metrics.horizontalAdvance(self.currentText()) + (36 if self.objectName() == "slot" else 24), hint.height()
        )

    minimumSizeHint = sizeHint

    def wheelEvent(self, event: QEvent) -> None:
        event.ignore()


def bounds_words(given: Given[Any], style: Style = PLAIN) -> str:
    """The limits as one reads them, under the sentence."""
    if isinstance(given, Count):
        multiple = f", in steps of {given.multiple}" if given.multiple > 1 else ""
        return f"{given.says}: {given.least} to {given.most}{multiple}"
    if isinstance(given, Measure):
        words = {"least": "at least", "over": "over", "most": "at most", "under": "under"}
        parts = []
        for which, bound in given.limits.items():
            if isinstance(bound, str):
                parts.append(f"{words[which]} {bound}")
            elif isinstance(bound, (int, float)) and which in ("least", "over", "most", "under"):
                parts.append(f"{words[which]} {given.limit_text(which, float(bound))}")
        return style.say(f"{given.says}: {', '.join(parts)}")
    return given.says
