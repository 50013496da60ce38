"""A day: picked from a calendar, or typed."""

from __future__ import annotations

from datetime import date, datetime

from PySide6.QtCore import QDate, QPoint, Qt, Signal
from PySide6.QtWidgets import QCalendarWidget, QHBoxLayout, QLineEdit, QMenu, QPushButton, QWidget, QWidgetAction

from wise_compass.desk.parts.theme import show_refused


class DayField(QWidget):
    """``told`` tells that another day stands there. ``name`` is what a screen reader calls it."""

    told = Signal()

    def __init__(self, name: str, empty: str = "any day") -> None:
        super().__init__()
        self.field, self.open = QLineEdit(), QPushButton("…")
        self.field.setPlaceholderText(empty)
        self.field.setAccessibleName(f"{name}, a day such as 2026-11-25")
        self.open.setObjectName("switchbutton")
        self.open.setFixedWidth(34)
        self.open.setAutoDefault(False)
        self.open.setAccessibleName(f"{name}: a calendar to pick from")
        self.open.setToolTip("Pick it from a calendar")
        self.open.clicked.connect(self._pick)
        self.field.textChanged.connect(lambda _: self.told.emit())
        inside = QHBoxLayout(self)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.setSpacing(2)
        inside.addWidget(self.field, 1)
        inside.addWidget(self.open)
        self.setFocusProxy(self.field)
        self.calendar: QCalendarWidget | None = None

    def _pick(self) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.calendar = QCalendarWidget()
        self.calendar.setVerticalHeaderFormat(QCalendarWidget.VerticalHeaderFormat.NoVerticalHeader)
        self.calendar.setFirstDayOfWeek(Qt.DayOfWeek.Monday)
        self.calendar.setAccessibleName("Calendar")
        now = self.day()
        if now is not None:
            self.calendar.setSelectedDate(QDate(now.year, now.month, now.day))

        def take(day: QDate) -> None:
            self.set_day(date(day.year(), day.month(), day.day()))
            menu.close()

        self.calendar.clicked.connect(take)
        self.calendar.activated.connect(take)
        holder = QWidgetAction(menu)
        holder.setDefaultWidget(self.calendar)
        menu.addAction(holder)
        menu.popup(self.mapToGlobal(QPoint(0, self.height())))
        self.calendar.setFocus()

    def day(self) -> date | None:
        """The day that stands there, None for none or one that cannot be read."""
        try:
            return datetime.fromisoformat(self.field.text().strip()).date()
        except ValueError:
            return None

    def set_day(self, day: date) -> None:
        """Have a day stand there; a time of day behind it stays."""
        _, space, time = self.field.text().strip().partition(" ")
        self.field.setText(f"{day.isoformat()}{space}{time}")

    def refuse(self, refused: bool) -> None:
        """The look of what is refused, or not."""
        show_refused(self.field, refused)
