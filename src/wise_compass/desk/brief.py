"""The brief: the problem as a sentence, every given a slot in it."""

from __future__ import annotations

import re
from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, QSize, Qt, Signal
from PySide6.QtGui import QFocusEvent, QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLayout, QLayoutItem, QLineEdit, QPushButton, QVBoxLayout, QWidget

from wise_compass.desk.keys import PRESS, keep
from wise_compass.desk.session import Session
from wise_compass.desk.theme import TEAL, colour, font
from wise_compass.drafting.figure import figure_named
from wise_compass.drafting.givens import Choice, Count, Given, Lengths, Measure, Rows
from wise_compass.drafting.refusals import Refused
from wise_compass.drafting.wording import INCH, PLAIN, Style, scale_name
from wise_compass.job.build import style_of
from wise_compass.job.model import Entry
from wise_compass.sheet.paper import LIES, SCALES, SIZES


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
            if x > box.left() and getattr(item.widget(), "tight", False):
                x -= self.gap - 1
            if place:
                item.setGeometry(QRect(QPoint(x, y), size))
            x += size.width() + self.gap
            height = max(height, size.height())
        return y + height - box.top()


class TextSlot(QLineEdit):
    """A slot for a number or a point: follows typing live, and is nudged with Up and Down."""

    typed = Signal(str, str)
    entered = Signal(str)

    def __init__(self, given: Given, words: str) -> None:
        super().__init__(words)
        self.given = given
        self.style = PLAIN
        self.setObjectName("slot")
        self.setFont(font(18, True))
        self.setFixedHeight(32)
        self.setAccessibleName(given.says)
        self.setAccessibleDescription(_bounds_words(given))
        self.setToolTip(f"{given.says} ({given.name})")
        self.textEdited.connect(self._edited)
        self._fit()

    def _fit(self) -> None:
        width = max(self.fontMetrics().horizontalAdvance(self.text() or "0") + 26, 40)
        if width != self.width():
            self.setFixedWidth(width)

    def _edited(self, words: str) -> None:
        self._fit()
        self.typed.emit(self.given.name, words)

    def show_text(self, words: str) -> None:
        """Take words from elsewhere, such as undo."""
        if words != self.text():
            self.setText(words)
            self._fit()

    def set_refused(self, refused: bool) -> None:
        if self.property("refused") != refused:
            self.setProperty("refused", refused)
            self.style().polish(self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        up = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()), 0)
        if not up or isinstance(self.given, Lengths):
            super().keyPressEvent(event)
            return
        mods = event.modifiers()
        factor = 10.0 if mods & Qt.KeyboardModifier.ShiftModifier else (0.1 if mods & Qt.KeyboardModifier.AltModifier else 1.0)
        self._nudge(up, factor)

    def _nudge(self, up: int, factor: float) -> None:
        given, style = self.given, self.style
        try:
            value = float(given.read(self.text(), style))
        except Refused:
            return
        if isinstance(given, Count):
            new: float = int(value) + up * given.multiple * (2 if factor > 1 else 1)
            words = given.text(min(max(int(new), given.least), given.most))
        elif given.kind == "length" and (style.units == "in" or "in" in self.text() or '"' in self.text()):
            inches = style._replace(units="in")
            words = given.text(value + up * factor * INCH / 16, inches)
        else:
            words = given.text(round(value + up * given.step * factor, 9), style._replace(units="mm"))
        self.setText(words)
        self._fit()
        self.typed.emit(given.name, words)

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.entered.emit(self.given.name)
        if event.reason() in (Qt.FocusReason.TabFocusReason, Qt.FocusReason.BacktabFocusReason):
            self.selectAll()


class RowsSlot(QPushButton):
    """A slot that is a list: tells how many rows it has, and opens their table."""

    def __init__(self, given: Rows, session: Session) -> None:
        super().__init__()
        self.given, self.session = given, session
        self.setObjectName("slot")
        self.setFont(font(18, True))
        self.setFixedHeight(32)
        self.setAccessibleName(f"{given.says}: open their table")
        self.setToolTip(f"{given.says} ({given.name}); opens their table")
        keep(self, PRESS)
        self.clicked.connect(self.open_table)

    def show_rows(self, rows: Sequence[object]) -> None:
        words = f"{len(rows)} rows …"
        if words != self.text():
            self.setText(words)
            self.setFixedWidth(self.fontMetrics().horizontalAdvance(words) + 20)

    def open_table(self) -> None:
        from wise_compass.desk.rows import RowsEditor

        RowsEditor(self.window(), self.session).show()

    def set_refused(self, refused: bool) -> None:
        if self.property("refused") != refused:
            self.setProperty("refused", refused)
            self.style().polish(self)


class ListSlot(QComboBox):
    """A slot that is a choice."""

    def __init__(self, name: str, says: str, options: list[tuple[str, str]], current: str, small: bool = False) -> None:
        super().__init__()
        self.name = name
        self.setObjectName("small" if small else "slot")
        if not small:
            self.setFont(font(18, True))
            self.setFixedHeight(32)
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
        return QSize(metrics.horizontalAdvance(self.currentText()) + (36 if self.objectName() == "slot" else 24), hint.height())

    minimumSizeHint = sizeHint

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(TEAL), 1.4))
        x, y = self.width() - 13, self.height() / 2
        painter.drawPolyline([QPointF(x - 4, y - 2), QPointF(x, y + 2), QPointF(x + 4, y - 2)])
        painter.end()

    def wheelEvent(self, event: QEvent) -> None:
        event.ignore()


def _bounds_words(given: Given, style: Style = PLAIN) -> str:
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


class Brief(QWidget):
    """The sentence of the selected figure, what is wrong or what the limits are, and the room on the paper."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("brief")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAccessibleName("The brief")
        self.slots: dict[str, TextSlot | ListSlot | RowsSlot] = {}
        self.sentence = QWidget()
        self.hint = QLabel()
        self.hint.setObjectName("hint")
        self.hint.setWordWrap(True)
        self.room = QLabel()
        self.room.setObjectName("room")
        self._inside = QVBoxLayout(self)
        self._inside.setContentsMargins(20, 12, 16, 8)
        self._inside.setSpacing(6)
        self._inside.addWidget(self.sentence)
        line = QHBoxLayout()
        line.addWidget(self.hint, 1)
        self.paper_lists = {
            "scale": ListSlot("scale", "Scale", [("auto", "best"), *((scale_name(s),) * 2 for s in SCALES)], "auto", True),
            "paper": ListSlot("paper", "Paper", [("auto", "any paper"), *((s, s) for s in SIZES)], "A4", True),
            "lie": ListSlot("lie", "Lie of the paper", [("auto", "either"), *((s, s + " ") for s in LIES)], "auto", True),
        }
        for name, choice in self.paper_lists.items():
            choice.activated.connect(lambda _, n=name, c=choice: session.set_sheet(**{n: c.currentData()}))
        line.addWidget(self.room)
        for choice in self.paper_lists.values():
            line.addWidget(choice)
        self._inside.addLayout(line)
        self._focused = ""
        self._style: object = None
        self._built_for: tuple[str, ...] = ()
        session.selected.connect(self.rebuild)
        session.drawn.connect(self.refresh)
        self.rebuild()

    def rebuild(self) -> None:
        """Make the slots of the selected figure."""
        entry = self.session.entry
        wanted = self._wanted()
        if wanted != self._built_for:
            self._built_for = wanted
            self.slots.clear()
            self._focused = ""
            fresh = QWidget()
            flow = FlowLayout()
            fresh.setLayout(flow)
            if entry is not None:
                self._fill(flow, entry)
            self._inside.replaceWidget(self.sentence, fresh)
            self.sentence.hide()
            self.sentence.deleteLater()
            self.sentence = fresh
        self.refresh()

    def _wanted(self) -> tuple[str, ...]:
        """What the slots have to be made for: the figure, the entry, and the sentence that its givens call for."""
        entry = self.session.entry
        return (
            () if entry is None else (entry.figure, entry.id, figure_named(entry.figure).sentence(entry.givens, entry.method))
        )

    def _resay(self) -> None:
        """The same entry in other words, as a choice brings other slots; the focus stays where it was."""
        held = next((name for name, slot in self.slots.items() if slot.hasFocus()), "")
        self.rebuild()
        if held in self.slots:
            self.slots[held].setFocus()

    def _fill(self, flow: FlowLayout, entry: Entry) -> None:
        kind = figure_named(entry.figure)
        for part in re.split(r"(\{\w+\})", kind.sentence(entry.givens, entry.method)):
            if part.startswith("{"):
                slot = self._slot(part[1:-1], entry)
                self.slots[part[1:-1]] = slot
                flow.addWidget(slot)
                continue
            for word in part.split():
                label = QLabel(word)
                label.setObjectName("word")
                label.setFixedHeight(32)
                label.setFont(font(18))
                label.tight = word[0] in ",.;:-"
                flow.addWidget(label)

    def _slot(self, name: str, entry: Entry) -> TextSlot | ListSlot | RowsSlot:
        kind = figure_named(entry.figure)
        if name == "method":
            options = [(m.id, m.title + (" ≈" if m.approximate else "")) for m in kind.methods.values()]
            slot = ListSlot("method", "Method", options, entry.method or options[0][0])
            slot.activated.connect(lambda _: self._choose_method(slot))
            return slot
        given = kind.givens[name]
        if isinstance(given, Choice):
            slot = ListSlot(
                name, given.says, [(o, given.text(o)) for o in given.options], str(entry.givens.get(name, given.default))
            )
            slot.activated.connect(lambda _: self.session.set_given(name, slot.currentData()))
            return slot
        if isinstance(given, Rows):
            return RowsSlot(given, self.session)
        text = TextSlot(given, "")
        text.typed.connect(self.session.set_given)
        text.entered.connect(self._entered)
        return text

    def _choose_method(self, slot: ListSlot) -> None:
        wanted = slot.currentData()
        if not self.session.set_method(wanted):
            self.refresh()

    def _entered(self, name: str) -> None:
        self._focused = name
        self._say()

    def refresh(self) -> None:
        """Bring the slots' texts up to the job, and say what is wrong or how much room there is."""
        entry = self.session.entry
        if entry is None:
            self.hint.setText("")
            self.room.setText("")
            return
        if self._wanted() != self._built_for:
            if self._built_for == () or self._built_for[:2] != (entry.figure, self.session.entry_id):
                return
            self._resay()
        kind = figure_named(entry.figure)
        style = style_of(self.session.job.settings)
        for name, slot in self.slots.items():
            if name == "method":
                slot.show_value(entry.method or next(iter(kind.methods)))
            elif isinstance(slot, ListSlot):
                slot.show_value(str(entry.givens.get(name, kind.givens[name].default)))
            elif isinstance(slot, RowsSlot):
                slot.show_rows(entry.givens.get(name, slot.given.default))
                slot.set_refused(name in entry.typed)
            else:
                slot.style = style
                value = entry.givens.get(name, kind.givens[name].default)
                typed = entry.typed.get(name)
                if typed is not None:
                    slot.show_text(typed)
                elif not (slot.isModified() and style == self._style and self._means(slot, value, style)):
                    slot.show_text(kind.givens[name].text(value, style))
                slot.set_refused(typed is not None)
        self._style = style
        self._say()

    def _means(self, slot: TextSlot, value: object, style: object) -> bool:
        """Whether what stands in the slot already means the value: then it stays as it was typed."""
        try:
            read = slot.given.read(slot.text(), style)
            return read == value or (isinstance(read, tuple) and list(read) == list(value))
        except Refused:
            return False

    def _say(self) -> None:
        refusal = self.session.refusal
        refused = refusal is not None
        if refused:
            words = f"! {refusal.words(style_of(self.session.job.settings))}"
        else:
            entry = self.session.entry
            kind = figure_named(entry.figure)
            words = _bounds_words(kind.givens[self._focused], style_of(self.session.job.settings)) if self._focused in kind.givens else kind.summary
        caution = "" if refused or self.session.run is None else style_of(self.session.job.settings).say(" ".join(self.session.run.figure.cautions()))
        if caution:
            words, refused = f"Caution: {caution}", True
        self.hint.setText(words)
        if self.hint.property("refused") != refused:
            self.hint.setProperty("refused", refused)
            self.hint.style().polish(self.hint)
        sheet = self.session.sheet
        number = self.session.sheet_number
        if number >= 0:
            plan = self.session.job.sheets[number]
            for name, choice in self.paper_lists.items():
                choice.show_value(getattr(plan, name))
        if sheet is None:
            self.room.setText("")
            return
        now = {
            "scale": f"{scale_name(sheet.scale)}, the best",
            "paper": f"{sheet.paper.size}, smallest",
            "lie": f"{sheet.paper.lie}",
        }
        for name, choice in self.paper_lists.items():
            if choice.itemText(0) != now[name]:
                choice.setItemText(0, now[name])
                choice.updateGeometry()
        words = " ".join(sheet.warnings) or sheet.room_says
        self.room.setText(words[0].upper() + words[1:] + "   ")
